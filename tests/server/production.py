"""A production server on a folder of its own, which can be killed."""

from __future__ import annotations

import fcntl
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from contextlib import closing
from functools import lru_cache
from pathlib import Path

from tests.bench.serving import Visitor

SHARED = "HOBREL_SHARED_BY_TESTS"
"""Names the folder in which processes of one run leave what costs much and is the same for all."""
ROOT = Path(__file__).resolve().parent.parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@lru_cache(1)
def _demo_database() -> bytes:
    """The demo's database, made once for all processes of a test run."""
    shared = os.environ.get(SHARED)
    if shared is None:
        return _make_demo()
    with (Path(shared) / "demo.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        kept = Path(shared) / "demo.sqlite3"
        if not kept.exists():
            kept.write_bytes(_make_demo())
        return kept.read_bytes()


def _make_demo() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        Server(folder, 0).manage("load_demo")
        with closing(sqlite3.connect(Path(folder) / "hobrel.sqlite3")) as database:
            return database.serialize()


class Server:
    """A production server on a folder of its own."""

    def __init__(self, folder: str, port: int) -> None:
        self.port = port
        self.environment = os.environ | {"HOBREL_DATA": folder, "HOBREL_DEMO": "1", "HOBREL_JOURNAL": "WAL"}
        self.environment["DJANGO_SETTINGS_MODULE"] = "hobrel.server.settings"
        self.process: subprocess.Popen[bytes] | None = None

    def manage(self, *command: str) -> None:
        subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=self.environment, check=True, capture_output=True)

    def load_demo(self) -> None:
        (Path(self.environment["HOBREL_DATA"]) / "hobrel.sqlite3").write_bytes(_demo_database())

    def start(self) -> None:
        options = ["--config", "python:hobrel.server.serving", "--bind", f"127.0.0.1:{self.port}", "--log-level", "critical"]
        command = [sys.executable, "-m", "gunicorn", "hobrel.server.wsgi:application", *options]
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.environment, start_new_session=True)
        until = time.monotonic() + 120
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
