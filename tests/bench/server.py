"""The running application: what things cost it, as processor time of all its processes, and what people wait for with many at once."""

from __future__ import annotations

import gzip
import json
import random
import re
import threading
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from tests.bench.room import BENCHES, CODE, PASSWORD, SEATS_AT_BENCH, TEACHERS
from tests.bench.serving import ROOT, Server, Visitor
from tests.bench.timing import Pace, Row, ms, paced

SECONDS, HEARD_EVERY, LOOK_EVERY, LONGEST_BEHIND = 20, 2, 4, 10
TIMES, IDLE_EVERY, AFTER_OPENING = 150, 5, 10.0
ALL = (0.5, 0.95, 1.0)
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
        self.was, self.tag, self.answer, self.place = "", "", b"", ""
        # people open their lab books one after another, so that what they ask now and then does not fall into the same second
        self.phase = random.Random(self.setting).randrange(LONGEST_BEHIND)
        self._send({"type": "add_setting", "run": "run1", "setting": self.setting})
        self.follow()

    def _send(self, edit: dict[str, object]) -> float:
        body = {"edits": [{"client_id": str(uuid.uuid4()), "edit": edit}], "place": self.place}
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

    def follow(self, table: bool = False, heard: bool = True) -> float:
        """Ask for what follows from what has been written: all of it, or what the table needs; also who is here, if not heard lately."""
        only = ("&table=true" if table else "") + ("" if heard else f"&place={self.place}")
        status, self.answer, span = self.visitor.send("GET", f"/api/books/{self.book}/view?have={self.tag}{only}")
        if status != 200:
            raise RuntimeError(self.answer[:300].decode())
        self.tag = json.loads(self.answer)["tag"]
        return span

    def go_on(self, second: int) -> tuple[float, float]:
        """A second of somebody who writes at *Read*: a reading and what the table needs; every other time who else is here, every tenth
        time the rest. How long until the reading is kept, and until its mean is here.
        """
        at = second + self.phase
        self.place = f"{self.setting}:t10:{at % 3}"
        kept, here = self.write(text_of(second)), self.follow(True, at % HEARD_EVERY != 0)
        if at % LONGEST_BEHIND == 0:
            self.follow()
        return kept, here

    def poll(self) -> float:
        return self.visitor.send("GET", f"/api/books/{self.book}/changes?place=cell")[2]


def _in_a_second(work: Callable[[], object]) -> None:
    begin = time.perf_counter()
    work()
    time.sleep(max(0.0, 1.0 - (time.perf_counter() - begin)))


def text_of(turn: int) -> str:
    """A reading that is another at every turn."""
    return f"{5 + turn % 300 / 100:.2f}"


def sign_everybody_in(port: int, waits: Waits, over: float, most: int | None = None) -> list[Visitor]:
    """All students of the room or the first of them, within so many seconds, each by class code and name, choosing a PIN."""
    seats = _stranger(port).ask("POST", "/api/sign-in/class", {"code": CODE})["seats"][:most]
    visitors = [_stranger(port) for _ in seats]

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


def look_from(port: int) -> list[Visitor]:
    """The room's teachers, signed in."""
    teachers = [_stranger(port) for _ in range(TEACHERS)]
    for i, teacher in enumerate(teachers):
        teacher.ask("POST", "/api/sign-in/teacher", {"name": f"measure-{i}", "password": PASSWORD})
    return teachers


def _stranger(port: int) -> Visitor:
    visitor = Visitor(port)
    visitor.send("GET", "/")
    return visitor


def crowd(server: Server, typists: list[Typist], teachers: list[Visitor], second: float) -> tuple[Waits, float]:
    """The whole room typing a reading a second, and its teachers looking; and the share of the processors that the server used.

    On a machine that is twice as slow a second of two seconds asks as much of it as a second asks of one that is not.
    """
    waits = Waits()
    threads = [threading.Thread(target=_type_on, args=(t, waits, second)) for t in typists]
    threads += [threading.Thread(target=_look_on, args=(t, waits, second)) for t in teachers]
    before, start = server.seconds(), time.perf_counter()
    for thread in threads:
        thread.start()
        # people do not press Enter in step: their seconds begin one after the other
        time.sleep(second / len(threads))
    for thread in threads:
        thread.join()
    return waits, (server.seconds() - before) / (time.perf_counter() - start)


def _type_on(typist: Typist, waits: Waits, second: float) -> None:
    for turn in range(SECONDS):
        begin = time.perf_counter()
        try:
            kept, here = typist.go_on(turn)
            waits.edits.append(kept)
            waits.views.append(here)
        except (OSError, RuntimeError) as trouble:
            waits.troubles.append(str(trouble))
        time.sleep(max(0.0, second - (time.perf_counter() - begin)))


def walk_path(teacher: Visitor) -> str:
    """Where a teacher sees all lab books of the room at once."""
    (practical,) = (p for c in teacher.ask("GET", "/api/classes") for p in c["practicals"])
    return f"/api/practicals/{practical['id']}/walkround"


def _look_on(teacher: Visitor, waits: Waits, second: float) -> None:
    path = walk_path(teacher)
    time.sleep(random.Random(id(teacher)).random() * LOOK_EVERY * second)
    for _ in range(SECONDS // LOOK_EVERY):
        status, text, span = teacher.send("GET", path)
        waits.looks.append(span)
        if status != 200:
            waits.troubles.append(text[:200].decode())
        time.sleep(LOOK_EVERY * second)


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


def _pace_of_now() -> Pace:
    pace = Pace()
    for _ in range(30):
        pace.sample()
    return pace


def _crowd_rows(server: Server) -> list[Row]:
    """Everybody signing in, then typing at the machine's own pace, then in seconds as long as the machine is slow."""
    entering, before = Waits(), _pace_of_now()
    students = sign_everybody_in(server.port, entering, 19)
    teachers = look_from(server.port)
    typists = [Typist(v, v.book()) for v in students]
    # a class does not open its lab books in the second in which it begins to write: what comes of that is worked out first
    time.sleep(AFTER_OPENING)
    rows = [paced(f"{STUDENTS} sign-ins within 19 s: median, 95 %, longest", entering.sign_ins, "within 20 s, none above 2 s", before, ALL)]
    for stretched in (False, True):
        pace = _pace_of_now()
        waits, busy = crowd(server, typists, teachers, max(1.0, pace.slowness) if stretched else 1.0)
        pace.spans += _pace_of_now().spans
        second = "a second as long as the machine is slow" if stretched else "a second"
        about = f"{len(waits.troubles)} errors, {busy:.2f} of 2 processors used"
        title = f"{STUDENTS} students typing a reading {second}, {TEACHERS} teachers’ views ({about}): answer (median, 95 %, longest)"
        rows.append(paced(title, waits.edits, "95 % ≤ 60 ms, none above 0.5 s", pace, ALL))
        rows.append(paced("the same, what follows", waits.views, "none above 0.5 s", pace, ALL))
        rows.append(paced("the same, teacher’s view", waits.looks, "95 % ≤ 60 ms", pace, ALL))
    return rows


def server_rows() -> list[Row]:
    with Server() as server:
        alone = server.demo("Ada Wren")
        typist, alone_pace = Typist(alone, alone.book()), Pace()
        spans = []
        for turn in range(60):
            spans.append(typist.write(text_of(turn)) + typist.follow(table=True))
            alone_pace.sample()
        whole = len(alone.send("GET", f"/api/books/{typist.book}")[1])
        typist.write("7.77")
        typist.follow()
        sent = len(typist.answer)

        def cost(what: str, reach: str, work: Callable[[int], object], but: str = "nothing", parts: int = 1, times: int = TIMES) -> Row:
            found, pace = server.cost(work, times, but)
            return Row(what, ms(found / parts), reach, ms(found / parts / pace.slowness))

        teacher = look_from(server.port)[0]
        walk = walk_path(teacher)
        for _ in range(20):
            teacher.ask("GET", "/api/classes")
        rows = [
            # what follows from it counts with the analysis
            cost("an edit’s answer, processor time", "≤ 6 ms", lambda turn: typist.write(text_of(turn)), "hobrel.server.computing"),
            cost("a reading a second: each with all that comes of it", "≤ 14 ms", lambda turn: _in_a_second(lambda: typist.go_on(turn)),
                 times=40),
            cost("an edit with the whole analysis asked for at once", "", lambda turn: (typist.write(text_of(turn)), typist.follow())),
            paced("an edit and what follows, until both are here, one person: median, 95 %", spans,
                  "≤ 60 ms, ≤ 120 ms until on screen", alone_pace),
            Row("what follows an edit, against the whole lab book, before compression", f"{sent / 1000:.1f} of {whole / 1000:.1f} kB", ""),
            cost(f"a look of the teacher’s start page at {BENCHES} lab books, processor time", "≤ 10 ms",
                 lambda turn: teacher.ask("GET", "/api/classes")),
            cost(f"a look of the walkround at {BENCHES} lab books while nothing has happened, processor time", "",
                 lambda turn: teacher.ask("GET", walk)),
            cost("an idle student’s second, processor time", "≤ 1 ms", lambda turn: typist.poll(), parts=IDLE_EVERY),
        ]  # fmt: skip
        report, report_pace = [alone.send("GET", f"/api/books/{typist.book}/report.pdf")[2] for _ in range(4)], _pace_of_now()
        rows += _crowd_rows(server)
    return [
        *rows,
        paced("report to PDF, warm", report[1:], "≤ 1.5 s", report_pace, (0.5,)),
        Row("script and style before the first table, gzipped", f"{first_page_weight() / 1000:.0f} kB", "≤ 350 kB"),
    ]
