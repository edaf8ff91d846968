"""Nothing acknowledged is lost: the production server is killed while people type, and what it had answered is still there."""

from __future__ import annotations

import http.client
import json
import os
import tempfile
import threading
import time
import unittest
import uuid
from pathlib import Path

from hobrel.computing.messages import CHILDREN
from tests.bench.serving import Visitor
from tests.school import add_setting, reading
from tests.server.production import Server, free_port


class Killed(unittest.TestCase):
    def test_every_acknowledged_reading_survives_sigkill(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            server = Server(folder, free_port())
            server.load_demo()
            server.start()
            acknowledged: dict[tuple[int, str], str] = {}
            try:
                for round_ in range(60 if os.environ.get("HOBREL_LONG") == "1" else 1):
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


class TwoServers(unittest.TestCase):
    def test_two_servers_on_one_folder_take_turns_and_lose_nothing(self) -> None:
        """Somebody has started it twice: both write, each sees what the other has kept, and one process computes for both."""
        with tempfile.TemporaryDirectory() as folder:
            servers = [Server(folder, free_port()) for _ in range(2)]
            servers[0].load_demo()
            try:
                for server in servers:
                    server.start()
                visitors = [Visitor(s.port) for s in servers]
                for visitor in visitors:
                    visitor.enter(visitor.ask("GET", "/api/me")["demo"][1]["key"])
                book = visitors[0].book()
                answers: list[list[int]] = [[], []]

                def type_on(who: int) -> None:
                    for turn in range(30):
                        add = {"client_id": str(uuid.uuid4()), "edit": add_setting(f"w{who}t{turn}")}
                        done = visitors[who].ask("POST", f"/api/books/{book}/edits", {"edits": [add]})
                        answers[who].append(done["answers"][0]["revision"])
                        visitors[who].ask("GET", f"/api/books/{book}/view")

                people = [threading.Thread(target=type_on, args=(who,)) for who in range(2)]
                for person in people:
                    person.start()
                for person in people:
                    person.join()
                self.assertEqual(sorted(answers[0] + answers[1]), list(range(1, 61)))
                for visitor in visitors:
                    view = visitor.ask("GET", f"/api/books/{book}/view")
                    ids = {s["id"] for s in view["whole"]["document"]["runs"][0]["settings"]}
                    self.assertLessEqual({f"w{who}t{turn}" for who in range(2) for turn in range(30)}, ids)
                    self.assertIsNone(view["whole"]["analysis"]["trouble"])
                parents = [p for p in Path("/proc").glob("[0-9]*/cmdline") if folder.encode() in _read(p)]
                # the parent and its children, once
                self.assertEqual(len(parents), 1 + 2 * CHILDREN)
            finally:
                for server in servers:
                    server.kill()


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:
        return b""  # it has ended meanwhile
