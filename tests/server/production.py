"""A production server on a folder of its own, which can be killed."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

from tests.bench.serving import Visitor

ROOT = Path(__file__).resolve().parent.parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Server:
    """A production server on a folder of its own."""

    def __init__(self, folder: str, port: int) -> None:
        self.port = port
        self.environment = os.environ | {"HOBREL_DATA": folder, "HOBREL_DEMO": "1", "HOBREL_JOURNAL": "WAL"}
        self.environment["DJANGO_SETTINGS_MODULE"] = "hobrel.server.settings"
        self.process: subprocess.Popen[bytes] | None = None

    def manage(self, *command: str) -> None:
        subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=self.environment, check=True, capture_output=True)

    def start(self) -> None:
        bind = ["--bind", f"127.0.0.1:{self.port}", "--workers", "2", "--threads", "4", "--log-level", "critical"]
        command = [sys.executable, "-m", "gunicorn", "hobrel.server.wsgi:application", *bind]
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.environment, start_new_session=True)
        until = time.monotonic() + 30
        while time.monotonic() < until:
            try:
                Visitor(self.port).send("GET", "/api/me")
                return
            except OSError:
                time.sleep(0.05)
        raise AssertionError("the server did not start")

    def kill(self) -> None:
        """SIGKILL to every process of the server at once."""
        if self.process is not None and self.process.poll() is None:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait(10)
