"""The running application: what things cost it, as processor time of all its processes, and what people wait for with many at once."""

from __future__ import annotations

import gzip
import json
import random
import re
import threading
import time
import uuid
from dataclasses import dataclass, field
from pathlib import Path

from tests.bench.room import BENCHES, CODE, PASSWORD, SEATS_AT_BENCH, TEACHERS
from tests.bench.serving import ROOT, Server, Visitor
from tests.bench.timing import Row, ms, share_below

SECONDS, POLL_EVERY, LOOK_EVERY = 20, 2, 4
TIMES, IDLE_EVERY = 150, 5
STUDENTS = BENCHES * SEATS_AT_BENCH


@dataclass
class Waits:
    """What people have waited for, in seconds, and what went wrong."""

    edits: list[float] = field(default_factory=list)
    views: list[float] = field(default_factory=list)
    looks: list[float] = field(default_factory=list)
    sign_ins: list[float] = field(default_factory=list)
    troubles: list[str] = field(default_factory=list)


class Typist:
    """Somebody with a lab book open who writes one reading again and again, as the page would: sends, and asks for what follows."""

    def __init__(self, visitor: Visitor, book: int) -> None:
        self.visitor, self.book, self.setting = visitor, book, f"n{uuid.uuid4().hex[:8]}"
        self.was, self.tag, self.answer = "", "", b""
        self._send({"type": "add_setting", "run": "run1", "setting": self.setting})
        self.follow()

    def _send(self, edit: dict[str, object]) -> float:
        body = {"edits": [{"client_id": str(uuid.uuid4()), "edit": edit}]}
        status, text, span = self.visitor.send("POST", f"/api/books/{self.book}/edits", body)
        if status != 200 or json.loads(text)["answers"][0]["refused"]:
            raise RuntimeError(f"{status} {text[:300].decode()}")
        return span

    def write(self, text: str) -> float:
        """Write a reading; how long until it is kept."""
        place = {"run": "run1", "setting": self.setting, "quantity": "t10", "repeat": 0}
        span = self._send({"type": "set_reading", **place, "text": text, "was": self.was})
        self.was = text
        return span

    def follow(self) -> float:
        """Ask for what follows from what has been written."""
        status, self.answer, span = self.visitor.send("GET", f"/api/books/{self.book}/view?have={self.tag}")
        if status != 200:
            raise RuntimeError(self.answer[:300].decode())
        self.tag = json.loads(self.answer)["tag"]
        return span

    def poll(self) -> float:
        return self.visitor.send("GET", f"/api/books/{self.book}/changes?place=cell")[2]


def text_of(turn: int) -> str:
    """A reading that is another at every turn."""
    return f"{5 + turn % 300 / 100:.2f}"


def sign_everybody_in(server: Server, waits: Waits, over: float) -> list[Visitor]:
    """All students of the room, within so many seconds, each by class code and name, choosing a PIN."""
    seats = _stranger(server).ask("POST", "/api/sign-in/class", {"code": CODE})["seats"]
    visitors = [_stranger(server) for _ in seats]

    def enter(visitor: Visitor, seat: int) -> None:
        status, text, span = visitor.send("POST", "/api/sign-in/student", {"code": CODE, "seat": seat, "pin": f"{7000 + seat}"})
        waits.sign_ins.append(span)
        if status != 200:
            waits.troubles.append(text[:200].decode())

    threads = [threading.Thread(target=enter, args=(v, s["id"])) for v, s in zip(visitors, seats, strict=True)]
    for thread in threads:
        thread.start()
        time.sleep(over / len(threads))
    for thread in threads:
        thread.join()
    return visitors


def _stranger(server: Server) -> Visitor:
    visitor = Visitor(server.port)
    visitor.send("GET", "/")
    return visitor


def crowd(server: Server, waits: Waits) -> float:
    """The whole room typing a reading a second, and its teachers looking; the share of the processors that the server used."""
    typists = [Typist(v, v.book()) for v in sign_everybody_in(server, waits, 19)]
    teachers = [_stranger(server) for _ in range(TEACHERS)]
    for i, teacher in enumerate(teachers):
        teacher.ask("POST", "/api/sign-in/teacher", {"name": f"measure-{i}", "password": PASSWORD})
    threads = [threading.Thread(target=_type_on, args=(t, waits)) for t in typists]
    threads += [threading.Thread(target=_look_on, args=(t, waits)) for t in teachers]
    before, start = server.seconds(), time.perf_counter()
    for thread in threads:
        thread.start()
        # people do not press Enter in step: their seconds begin one after the other
        time.sleep(1 / len(threads))
    for thread in threads:
        thread.join()
    return (server.seconds() - before) / (time.perf_counter() - start)


def _type_on(typist: Typist, waits: Waits) -> None:
    for turn in range(SECONDS):
        begin = time.perf_counter()
        try:
            waits.edits.append(typist.write(text_of(turn)))
            waits.views.append(typist.follow())
            if turn % POLL_EVERY == 0:
                typist.poll()
        except (OSError, RuntimeError) as trouble:
            waits.troubles.append(str(trouble))
        time.sleep(max(0.0, 1 - (time.perf_counter() - begin)))


def _look_on(teacher: Visitor, waits: Waits) -> None:
    time.sleep(random.Random(id(teacher)).random() * LOOK_EVERY)
    for _ in range(SECONDS // LOOK_EVERY):
        status, text, span = teacher.send("GET", "/api/classes")
        waits.looks.append(span)
        if status != 200:
            waits.troubles.append(text[:200].decode())
        time.sleep(LOOK_EVERY)


def first_page_weight() -> int:
    """Script and style that the lab book's first table needs, gzipped: the entry and what it imports before Read."""
    folder = ROOT / "web" / "dist"
    page = (folder / "index.html").read_text(encoding="utf-8")
    wanted = {Path(p).name for p in re.findall(r'(?:src|href)="[^"]*?([\w.-]+\.(?:js|css))"', page)}
    manifest = json.loads((folder / ".vite" / "manifest.json").read_text(encoding="utf-8"))
    waiting = ["src/app/BookPage.tsx", "src/read/Read.tsx"]
    seen: set[str] = set()
    while waiting:
        entry = manifest.get(waiting.pop(), {})
        for key in entry.get("imports", []):
            if key not in seen:
                seen.add(key)
                waiting.append(key)
        wanted |= {Path(entry["file"]).name} if "file" in entry else set()
        wanted |= {Path(c).name for c in entry.get("css", [])}
    files = [f for f in folder.rglob("*") if f.name in wanted]
    return sum(len(gzip.compress(f.read_bytes(), 9)) for f in files)


def server_rows() -> list[Row]:
    with Server() as server:
        alone = server.demo("Ada Wren")
        typist = Typist(alone, alone.book())
        spans = [typist.write(text_of(turn)) + typist.follow() for turn in range(60)]
        whole = len(alone.send("GET", f"/api/books/{typist.book}")[1])
        typist.write("7.77")
        typist.follow()
        sent = len(typist.answer)
        # what follows is worked out at once, and counts with the analysis
        answer = server.cost(lambda turn: typist.write(text_of(turn)), TIMES, but="hobrel.server.computing")
        both = server.cost(lambda turn: (typist.write(text_of(turn)), typist.follow()), TIMES)
        poll = server.cost(lambda turn: typist.poll(), TIMES)
        teacher = _stranger(server)
        teacher.ask("POST", "/api/sign-in/teacher", {"name": "measure-0", "password": PASSWORD})
        for _ in range(20):
            teacher.ask("GET", "/api/classes")
        look = server.cost(lambda turn: teacher.ask("GET", "/api/classes"), TIMES)
        report = [alone.send("GET", f"/api/books/{typist.book}/report.pdf")[2] for _ in range(4)]
        waits = Waits()
        busy = crowd(server, waits)
    weight = first_page_weight()

    def told(spans: list[float]) -> str:
        return f"{ms(share_below(spans, 0.5))}, {ms(share_below(spans, 0.95))}, {ms(max(spans))}"

    return [
        Row("an edit’s answer, processor time", ms(answer), "≤ 6 ms"),
        Row("the same with the analysis that follows", ms(both), "≤ 14 ms"),
        Row("an edit and what follows, until both are here, one person: median, 95 %",
            f"{ms(share_below(spans, 0.5))}, {ms(share_below(spans, 0.95))}", "≤ 60 ms, ≤ 120 ms until on screen"),
        Row("what follows an edit, against the whole lab book, before compression", f"{sent / 1000:.1f} of {whole / 1000:.1f} kB", ""),
        Row(f"a look of the teacher’s page at {BENCHES} lab books, processor time", ms(look), "≤ 10 ms"),
        Row("a poll, processor time; an idle student’s second", f"{ms(poll)}; {ms(poll / IDLE_EVERY)}", "≤ 1 ms a second"),
        Row(f"{STUDENTS} students typing a reading a second, and {TEACHERS} teachers’ views: answer (median, 95 %, longest)",
            f"{told(waits.edits)}; {len(waits.troubles)} errors", "95 % ≤ 60 ms, none above 0.5 s"),
        Row("the same, what follows", told(waits.views), "none above 0.5 s"),
        Row("the same, teacher’s view", f"{told(waits.looks)}; {busy:.2f} of 2 processors used by the server", "95 % ≤ 60 ms"),
        Row(f"{STUDENTS} sign-ins within 19 s: median, 95 %, longest", told(waits.sign_ins), "within 20 s, none above 2 s"),
        Row("report to PDF, warm", ms(min(report[1:])), "≤ 1.5 s"),
        Row("script and style before the first table, gzipped", f"{weight / 1000:.0f} kB", "≤ 350 kB"),
    ]  # fmt: skip
