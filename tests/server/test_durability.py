"""Nothing acknowledged is lost: the production server is killed while people type, and what it had answered is still there."""

from __future__ import annotations

import http.client
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import uuid
from pathlib import Path

from tests.bench.serving import Visitor
from tests.school import reading

ROOT = Path(__file__).resolve().parent.parent.parent


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
        assert self.process is not None
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait(10)


class Killed(unittest.TestCase):
    def test_every_acknowledged_reading_survives_sigkill(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            server = Server(folder, 18_000 + os.getpid() % 2000)
            server.manage("collectstatic", "--noinput", "-v0")
            server.manage("load_demo")
            server.start()
            acknowledged: dict[tuple[int, str], str] = {}
            try:
                for round_ in range(60 if os.environ.get("HOBREL_LONG") == "1" else 3):
                    self.type_until_killed(server, acknowledged, round_)
                    server.start()
                    self.assert_all_there(server, acknowledged)
            finally:
                server.kill()
            self.assertGreater(len(acknowledged), 5)

    def type_until_killed(self, server: Server, acknowledged: dict[tuple[int, str], str], round_: int) -> None:
        """Three people type as fast as they can; the server goes down between two keystrokes."""
        typists = [threading.Thread(target=self.type_on, args=(server.port, i, round_, acknowledged)) for i in range(3)]
        for typist in typists:
            typist.start()
        until = time.monotonic() + 20
        before = len(acknowledged)
        while len(acknowledged) < before + 6 and time.monotonic() < until:
            time.sleep(0.01)
        server.kill()
        for typist in typists:
            typist.join()

    def type_on(self, port: int, who: int, round_: int, acknowledged: dict[tuple[int, str], str]) -> None:
        try:
            visitor = Visitor(port)
            visitor.enter(visitor.ask("GET", "/api/me")["demo"][1 + 2 * who]["key"])
            book = visitor.book()
            for turn in range(200):
                setting, text = f"r{round_}w{who}t{turn}", f"{5 + turn / 100:.2f}"
                add = {"type": "add_setting", "run": "run1", "setting": setting}
                write = reading(text, setting=setting)
                edits = [{"client_id": str(uuid.uuid4()), "edit": edit} for edit in (add, write)]
                status, said, _ = visitor.send("POST", f"/api/books/{book}/edits", {"edits": edits})
                if status == 200 and json.loads(said)["answers"][1]["revision"]:
                    acknowledged[book, setting] = text
        except (OSError, ValueError, RuntimeError, http.client.HTTPException):
            return  # the server has been killed, perhaps in the middle of its answer

    def assert_all_there(self, server: Server, acknowledged: dict[tuple[int, str], str]) -> None:
        teacher = Visitor(server.port)
        teacher.enter(teacher.ask("GET", "/api/me")["demo"][0]["key"])
        for book in {b for b, _ in acknowledged}:
            state = json.loads(teacher.send("GET", f"/api/books/{book}")[1])
            there = {s["id"]: s["readings"].get("t10", [None])[0] for s in state["document"]["runs"][0]["settings"]}
            for (where, setting), text in acknowledged.items():
                if where == book:
                    self.assertEqual((there.get(setting) or {}).get("text"), text, setting)
            history = json.loads(teacher.send("GET", f"/api/books/{book}/history")[1])
            self.assertEqual(len({h["revision"] for h in history}), len(history))
