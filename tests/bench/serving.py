"""A production server to be measured, with the processor time of all its processes; and visitors to it."""

from __future__ import annotations

import http.client
import json
import os
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tests.bench.timing import Pace

ROOT = Path(__file__).resolve().parent.parent.parent


@dataclass
class Visitor:
    """One browser's connection, which is kept open, with its cookies."""

    port: int
    cookies: dict[str, str] = field(default_factory=dict)
    connection: http.client.HTTPConnection | None = None

    def send(self, method: str, path: str, body: object = None) -> tuple[int, bytes, float]:
        start = time.perf_counter()
        content = None if body is None else json.dumps(body)
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Content-Type": "application/json"}
        if "csrftoken" in self.cookies:
            headers["X-CSRFToken"] = self.cookies["csrftoken"]
        for last in (False, True):
            if self.connection is None:
                self.connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
            try:
                self.connection.request(method, path, content, headers)
                answer = self.connection.getresponse()
                text = answer.read()
                break
            except (http.client.RemoteDisconnected, ConnectionError):
                # a server may close a connection that has rested; a browser opens another
                self.connection.close()
                self.connection = None
                if last:
                    raise
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.partition(";")[0]
        return answer.status, text, time.perf_counter() - start

    def ask(self, method: str, path: str, body: object = None) -> Any:
        """What a request gives that has to succeed."""
        status, text, _ = self.send(method, path, body)
        if status != 200:
            raise RuntimeError(f"{method} {path}: {status} {text[:300].decode()}")
        return json.loads(text)

    def enter(self, key: str) -> None:
        """Sign in as somebody of the demo."""
        self.send("GET", "/")
        self.ask("POST", "/api/sign-in/demo", {"key": key})

    def book(self, title: str = "") -> int:
        """The first lab book that this person sees, of the practical whose title begins so."""
        practicals = [p for c in self.ask("GET", "/api/classes") for p in c["practicals"] if p["title"].startswith(title)]
        return int(practicals[0]["benches"][0]["book"])


class Server:
    """A production server with a fresh demo and a room beside it, for as long as the block lasts."""

    port: int

    def __enter__(self) -> Server:
        self.folder = tempfile.TemporaryDirectory()
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        environment = os.environ | {"HOBREL_DATA": self.folder.name, "HOBREL_DEMO": "1", "DJANGO_SETTINGS_MODULE": "hobrel.server.settings"}
        fonts = Path(os.environ.get("HOBREL_DATA", ROOT / "var")) / "fonts"
        (Path(self.folder.name) / "fonts").symlink_to(fonts)
        for command in (["manage.py", "collectstatic", "--noinput", "-v0"], ["manage.py", "load_demo"], ["-m", "tests.bench.room"]):
            subprocess.run([sys.executable, *command], cwd=ROOT, env=environment, check=True, stdout=subprocess.DEVNULL)
        self.process = subprocess.Popen(
            [
                *[sys.executable, "-m", "gunicorn", "hobrel.server.wsgi:application", "--config", "python:hobrel.server.serving"],
                *["--bind", f"127.0.0.1:{self.port}", "--log-level", "error"],
            ],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
        )
        for _ in range(600):
            try:
                Visitor(self.port).send("GET", "/api/me")
                return self
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait(10)
        self.folder.cleanup()

    def demo(self, name: str) -> Visitor:
        """Somebody of the demo, signed in with one click."""
        visitor = Visitor(self.port)
        key = next(d["key"] for d in visitor.ask("GET", "/api/me")["demo"] if d["words"].startswith(name))
        visitor.enter(key)
        return visitor

    def seconds(self, but: str = "nothing") -> float:
        """Processor time that all processes of the server have used, but for those whose command line has this word."""
        parents: dict[int, int] = {}
        used: dict[int, float] = {}
        for stat in Path("/proc").glob("[0-9]*/stat"):
            pid = int(stat.parent.name)
            try:
                fields = stat.read_text().rpartition(")")[2].split()
                command = (stat.parent / "cmdline").read_text()
            except OSError:
                continue  # it has ended meanwhile
            if but in command:
                continue
            parents[pid], used[pid] = int(fields[1]), (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

        def is_ours(pid: int) -> bool:
            while pid and pid != self.process.pid:
                pid = parents.get(pid, 0)
            return pid != 0

        return sum(seconds for pid, seconds in used.items() if is_ours(pid))

    def cost(self, work: Callable[[int], object], times: int, but: str = "nothing") -> tuple[float, Pace]:
        """Processor seconds of the server for one of so many equal pieces of work, and the machine's pace meanwhile."""
        before, pace = self.seconds(but), Pace()
        for turn in range(times):
            work(turn)
            pace.sample()
        # what it does after its answers belongs to them, what is noted when people pause too
        time.sleep(3.0)
        return (self.seconds(but) - before) / times, pace
