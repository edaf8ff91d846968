"""A lesson of ten minutes in less: benches sketch, read, fit, write their report and hand in, while three teachers walk round, leave
remarks and answer. Everything that was acknowledged is looked for afterwards.
"""

from __future__ import annotations

import json
import math
import random
import threading
import time
import unittest
import uuid
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from tests.bench.room import SEATS_AT_BENCH
from tests.bench.server import ALL, look_from, sign_everybody_in, walk_path
from tests.bench.server import Waits as SignIns
from tests.bench.serving import Server, Visitor
from tests.bench.timing import Row, ms, share_below

LESSON = 600.0
"""Seconds that the lesson would take."""
ROWS_EACH, REPEATS = 3, 3
POLL_EVERY, LOOK_EVERY, REMARK_EVERY = 2.0, 1.5, 40.0


@dataclass
class Diary:
    """What has happened in a lesson: waits in seconds by what was done, what went wrong, and what the server has said to have kept."""

    waits: dict[str, list[float]] = field(default_factory=dict)
    troubles: list[str] = field(default_factory=list)
    readings: dict[tuple[int, str, str, int], str] = field(default_factory=dict)
    texts: dict[tuple[int, str], str] = field(default_factory=dict)
    fits: set[tuple[int, str]] = field(default_factory=set)
    handed_in: set[int] = field(default_factory=set)
    remarks: int = 0
    answers: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, what: str, seconds: float) -> None:
        with self.lock:
            self.waits.setdefault(what, []).append(seconds)

    def trouble(self, words: str) -> None:
        with self.lock:
            self.troubles.append(words)


class Student:
    """Somebody at a bench: with rows, a fit and a paragraph of their own, so that six can write in one lab book."""

    def __init__(self, visitor: Visitor, number: int, diary: Diary, second: float) -> None:
        self.visitor, self.place, self.diary, self.second = visitor, number % SEATS_AT_BENCH, diary, second
        self.book, self.dice, self.name = visitor.book(), random.Random(number), f"s{number}"
        self.tag, self.heard = "", time.perf_counter()
        # lab books of the room are well advanced
        self.texts = json.loads(self.ask("open", f"/api/books/{self.book}"))["document"]["texts"]

    def live(self) -> None:
        try:
            for act in self.acts():
                act()
                self.think()
        except (OSError, RuntimeError, KeyError) as trouble:
            self.diary.trouble(f"student {self.name}: {trouble}")

    def acts(self) -> Iterator[Callable[[], None]]:
        if self.place == 0:
            yield lambda: self.send({"type": "draw_sketch", "points": [{"x": 0.1, "y": 0.1}, {"x": 0.5, "y": 0.3}, {"x": 0.9, "y": 0.9}]})
        if self.place == 1:
            yield lambda: self.write("expectation", "It gets slower as it gets longer, more than in proportion.")
        for row in range(ROWS_EACH):
            setting, length = f"{self.name}-{row}", 0.30 + 0.02 * (self.place + SEATS_AT_BENCH * row)
            yield lambda setting=setting: self.send({"type": "add_setting", "run": "run1", "setting": setting})  # type: ignore[misc]
            yield lambda setting=setting, length=length: self.read(setting, "L", 0, f"{length:.3f}")  # type: ignore[misc]
            for repeat in range(REPEATS):
                swings = 10 * math.sqrt(4.7 * length**3) + self.dice.gauss(0, 0.05)
                yield lambda s=setting, r=repeat, t=f"{swings:.2f}": self.read(s, "t10", r, t)  # type: ignore[misc]
        yield self.fit
        yield lambda: self.write(f"own{self.place}", f"We read {ROWS_EACH * REPEATS} times; {self.name}.")
        yield self.look_at_report
        if self.place == 0:
            # the others of the bench are done about now
            yield lambda: time.sleep(40 * self.second)
            yield self.hand_in

    def think(self) -> None:
        """What people do between two things; the page meanwhile asks for what others do."""
        until = time.perf_counter() + self.dice.uniform(8, 34) * self.second
        while (left := until - time.perf_counter()) > 0:
            time.sleep(min(left, POLL_EVERY))
            if time.perf_counter() - self.heard >= POLL_EVERY:
                self.ask("poll", f"/api/books/{self.book}/changes?place=cell")
                self.heard = time.perf_counter()

    def send(self, edit: dict[str, Any]) -> None:
        body = {"edits": [{"client_id": str(uuid.uuid4()), "edit": edit}], "place": ""}
        status, text, span = self.visitor.send("POST", f"/api/books/{self.book}/edits", body)
        if status != 200 or json.loads(text)["answers"][0]["refused"]:
            raise RuntimeError(f"{edit['type']}: {status} {text[:300].decode()}")
        self.diary.note("edit", span)
        self.tag = json.loads(self.ask("view", f"/api/books/{self.book}/view?have={self.tag}&table=true"))["tag"]

    def ask(self, what: str, path: str) -> bytes:
        status, text, span = self.visitor.send("GET", path)
        if status != 200:
            raise RuntimeError(f"{path}: {status} {text[:200].decode()}")
        self.diary.note(what, span)
        return text

    def read(self, setting: str, quantity: str, repeat: int, text: str) -> None:
        place = {"run": "run1", "setting": setting, "quantity": quantity, "repeat": repeat}
        self.send({"type": "set_reading", **place, "text": text, "was": ""})
        self.diary.readings[self.book, setting, quantity, repeat] = text

    def write(self, section: str, text: str) -> None:
        if section.startswith("own"):
            self.send({"type": "add_section", "section": section, "title": f"By {self.name}"})
        self.send({"type": "write_text", "section": section, "text": text, "was": self.texts.get(section, "")})
        self.diary.texts[self.book, section] = text

    def fit(self) -> None:
        fit = f"fit-{self.name}"
        self.send({"type": "add_fit", "fit": fit, "graph": "straight", "choice": {"low": 0.02 + 0.001 * self.place}})
        self.diary.fits.add((self.book, fit))

    def look_at_report(self) -> None:
        self.ask("report", f"/api/books/{self.book}/report")

    def hand_in(self) -> None:
        status, text, span = self.visitor.send("POST", f"/api/books/{self.book}/hand-in", {})
        if status != 200:
            raise RuntimeError(f"hand-in: {status} {text[:200].decode()}")
        self.diary.note("hand-in", span)
        self.diary.handed_in.add(self.book)


def _teach(teacher: Visitor, diary: Diary, second: float, over: threading.Event) -> None:
    """Walk round, leave a remark now and then, accept what is handed in."""
    path = walk_path(teacher)
    practical = path.split("/")[3]
    remarked, number = time.perf_counter(), 0
    try:
        while not over.is_set():
            status, text, span = teacher.send("GET", path)
            if status != 200:
                raise RuntimeError(f"walkround: {status} {text[:200].decode()}")
            diary.note("walkround", span)
            if time.perf_counter() - remarked > REMARK_EVERY * second:
                remarked, number = time.perf_counter(), number + 1
                tiles = json.loads(text)["tiles"]
                book = tiles[number % len(tiles)]["book"]
                teacher.ask("POST", f"/api/books/{book}/remarks", {"stage": "read", "text": f"Look again, {number}."})
                with diary.lock:
                    diary.remarks += 1
                _answer_one(teacher, practical, diary)
            over.wait(LOOK_EVERY)
    except (OSError, RuntimeError, KeyError) as trouble:
        diary.trouble(f"teacher: {trouble}")


def _answer_one(teacher: Visitor, practical: str, diary: Diary) -> None:
    queue = teacher.ask("GET", f"/api/practicals/{practical}/hand-ins")
    waiting = next((b["hand_ins"][-1] for b in queue["benches"] if b["hand_ins"] and b["hand_ins"][-1]["answer"] is None), None)
    if waiting is None:
        return
    status, text, _ = teacher.send("POST", f"/api/hand-ins/{waiting['id']}/answer", {"verdict": "accepted", "words": "Well done."})
    # a colleague may have been first
    if status == 200:
        with diary.lock:
            diary.answers += 1
    elif status != 409:
        diary.trouble(f"answer: {status} {text[:200].decode()}")


def hold_lesson(port: int, wall: float, most: int | None = None) -> Diary:
    """Hold a lesson in so many seconds of wall time, with the first `most` students of the room or all of them, and three teachers."""
    diary, second, signing = Diary(), wall / LESSON, SignIns()
    visitors = sign_everybody_in(port, signing, min(19.0, wall / 4), most)
    diary.troubles += signing.troubles
    teachers, over = look_from(port), threading.Event()
    students = [Student(visitor, number, diary, second) for number, visitor in enumerate(visitors)]
    threads = [threading.Thread(target=student.live) for student in students]
    watching = [threading.Thread(target=_teach, args=(teacher, diary, second, over)) for teacher in teachers]
    for thread in (*watching, *threads):
        thread.start()
    for thread in threads:
        thread.join()
    over.set()
    for thread in watching:
        thread.join()
    diary.troubles += list(_lost(teachers[0], diary, sorted({s.book for s in students})))
    return diary


def _lost(teacher: Visitor, diary: Diary, books: list[int]) -> Iterator[str]:
    """What was acknowledged and is not there."""
    for book in books:
        state = teacher.ask("GET", f"/api/books/{book}")
        document = state["document"]
        settings = {s["id"]: s["readings"] for s in document["runs"][0]["settings"]}
        for (of, setting, quantity, repeat), text in diary.readings.items():
            if of == book and (settings.get(setting, {}).get(quantity) or [None] * 9)[repeat] != {"text": text, "set_aside": None}:
                yield f"lost: {setting} {quantity} {repeat} {text}"
        yield from (f"lost: text {key}" for (of, key), text in diary.texts.items() if of == book and document["texts"].get(key) != text)
        fits = {fit["id"] for fit in document["fits"]}
        yield from (f"lost: {fit}" for of, fit in diary.fits if of == book and fit not in fits)
        if len(state["hand_ins"]) != (1 if book in diary.handed_in else 0):
            yield f"hand-ins of {book}: {len(state['hand_ins'])}"


def check_diary(test: unittest.TestCase, diary: Diary, benches: int) -> None:
    """That everybody at so many benches has done everything, nothing went wrong and nothing is lost."""
    test.assertEqual(diary.troubles, [])
    test.assertEqual(len(diary.handed_in), benches)
    test.assertEqual(len(diary.readings), benches * SEATS_AT_BENCH * ROWS_EACH * (1 + REPEATS))
    test.assertEqual((len(diary.fits), len(diary.texts)), (benches * SEATS_AT_BENCH, benches * (SEATS_AT_BENCH + 1)))


def lesson_rows() -> list[Row]:
    """The simulated lesson, as rows of the speed table: ten minutes in two and a half."""
    with Server() as server:
        before, begin = server.seconds(), time.perf_counter()
        diary = hold_lesson(server.port, 150.0)
        used = (server.seconds() - before) / (time.perf_counter() - begin)
    reach = "no error, nothing lost"
    counted = f"{len(diary.readings)} readings, {len(diary.handed_in)} hand-ins, {diary.remarks} remarks, {diary.answers} answers"
    rows = [
        Row(
            "a lesson of ten minutes in 150 s: 96 students, 3 teachers",
            f"{counted}; {len(diary.troubles)} troubles; {used:.2f} of 2 processors used",
            reach,
        )
    ]
    for what, found in sorted(diary.waits.items()):
        waits = ", ".join(ms(share_below(found, share)) for share in ALL)
        rows.append(Row(f"the same: {what}, {len(found)} times; median, 95 %, longest", waits, ""))
    for trouble in diary.troubles[:10]:
        print(trouble)
    return rows
