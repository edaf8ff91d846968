"""The running application: what people wait for, with many at once; what the first page weighs; the report."""

from __future__ import annotations

import gzip
import http.client
import json
import os
import re
import socket
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from dataclasses import dataclass, field
from pathlib import Path

from tests.bench.timing import Row, ms, share_below

ROOT = Path(__file__).resolve().parent.parent.parent
SECONDS, STUDENTS = 15, 32


@dataclass
class Visitor:
    """A signed-in connection to the demo server that keeps its cookies."""

    port: int
    cookies: dict[str, str] = field(default_factory=dict)

    def send(self, method: str, path: str, body: object = None) -> tuple[int, bytes, float]:
        start = time.perf_counter()
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Content-Type": "application/json"}
        if "csrftoken" in self.cookies:
            headers["X-CSRFToken"] = self.cookies["csrftoken"]
        connection.request(method, path, None if body is None else json.dumps(body), headers)
        answer = connection.getresponse()
        text = answer.read()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.partition(";")[0]
        connection.close()
        return answer.status, text, time.perf_counter() - start

    def enter(self, key: str) -> None:
        self.send("GET", "/")
        status, text, _ = self.send("POST", "/api/sign-in/demo", {"key": key})
        if status != 200:
            raise RuntimeError(text.decode())


class DemoServer:
    """A production server with a fresh demo, for as long as the block lasts."""

    def __enter__(self) -> int:
        self.folder = tempfile.TemporaryDirectory()
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        environment = os.environ | {"HOBREL_DATA": self.folder.name, "HOBREL_DEMO": "1", "DJANGO_SETTINGS_MODULE": "hobrel.server.settings"}
        for command in (["collectstatic", "--noinput", "-v0"], ["load_demo"]):
            subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=environment, check=True, capture_output=True)
        bind = ["--bind", f"127.0.0.1:{self.port}", "--workers", "2", "--threads", "8", "--log-level", "error"]
        self.process = subprocess.Popen(
            [sys.executable, "-m", "gunicorn", "hobrel.server.wsgi:application", *bind], cwd=ROOT, env=environment
        )
        for _ in range(100):
            try:
                Visitor(self.port).send("GET", "/api/me")
                return self.port
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait(10)
        self.folder.cleanup()


def reading_edit(book: int, setting: str, text: str, was: str) -> dict[str, object]:
    edit = {"type": "set_reading", "run": "run1", "setting": setting, "quantity": "t10", "repeat": 0, "text": text, "was": was}
    return {"client_id": str(uuid.uuid4()), "edit": edit}


def type_readings(visitor: Visitor, book: int, setting: str, was: str, spans: list[float], troubles: list[str]) -> None:
    """One person changing one reading a second."""
    for turn in range(SECONDS):
        text = f"{5 + turn / 100:.2f}"
        status, answer, span = visitor.send("POST", f"/api/books/{book}/edits", reading_edit(book, setting, text, was))
        if status == 200:
            was = text
        else:
            troubles.append(answer.decode()[:200])
        spans.append(span)
        time.sleep(max(0.0, 1 - span))


def watch(visitor: Visitor, spans: list[float]) -> None:
    for _ in range(SECONDS):
        spans.append(visitor.send("GET", "/api/classes")[2])
        time.sleep(1)


def crowd(port: int) -> tuple[list[float], list[float], list[str], int]:
    """32 people at six benches typing, and the teacher watching; each types into a setting of their own."""
    keys = [d["key"] for d in json.loads(Visitor(port).send("GET", "/api/me")[1])["demo"]]
    spans: list[float] = []
    watched: list[float] = []
    troubles: list[str] = []
    threads = []
    teacher = Visitor(port)
    teacher.enter(keys[0])
    sent = 0
    places: dict[int, int] = {}
    for i in range(STUDENTS):
        visitor = Visitor(port)
        visitor.enter(keys[1 + i % (len(keys) - 1)])
        book = json.loads(visitor.send("GET", "/api/classes")[1])[0]["practicals"][0]["benches"][0]["book"]
        places[book] = places.get(book, 0) + 1
        setting = f"new{places[book]}"
        visitor.send(
            "POST",
            f"/api/books/{book}/edits",
            {"client_id": str(uuid.uuid4()), "edit": {"type": "add_setting", "run": "run1", "setting": setting}},
        )
        threads.append(threading.Thread(target=type_readings, args=(visitor, book, setting, "", spans, troubles)))
        sent += SECONDS
    threads.append(threading.Thread(target=watch, args=(teacher, watched)))
    for thread in threads:
        thread.start()
        # people do not press Enter in step: their seconds begin one after the other
        time.sleep(1 / len(threads))
    for thread in threads:
        thread.join()
    return spans, watched, troubles, sent


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
    with DemoServer() as port:
        alone = Visitor(port)
        keys = [d["key"] for d in json.loads(alone.send("GET", "/api/me")[1])["demo"]]
        alone.enter(keys[1])
        book = json.loads(alone.send("GET", "/api/classes")[1])[0]["practicals"][0]["benches"][0]["book"]
        was, waits = "", []
        alone.send(
            "POST",
            f"/api/books/{book}/edits",
            {"client_id": str(uuid.uuid4()), "edit": {"type": "add_setting", "run": "run1", "setting": "solo"}},
        )
        for turn in range(60):
            text = f"{4 + turn / 100:.2f}"
            waits.append(alone.send("POST", f"/api/books/{book}/edits", reading_edit(book, "solo", text, was))[2])
            was = text
        report = [alone.send("GET", f"/api/books/{book}/report.pdf")[2] for _ in range(4)]
        spans, watched, troubles, sent = crowd(port)
    weight = first_page_weight()
    return [
        Row("an edit until its answer with the new analysis, one person: median, 95 %",
            f"{ms(share_below(waits, 0.5))}, {ms(share_below(waits, 0.95))}", "≤ 60 ms, ≤ 120 ms until on screen"),
        Row(f"{STUDENTS} students typing a reading a second, and the teacher’s live view: 95 %, errors",
            f"{ms(share_below(spans, 0.95))} (teacher {ms(share_below(watched, 0.95))}), {len(troubles)} of {sent}", "≤ 150 ms, 0"),
        Row("report to PDF, warm", ms(min(report[1:])), "≤ 1.5 s"),
        Row("script and style before the first table, gzipped", f"{weight / 1000:.0f} kB", "≤ 350 kB"),
    ]  # fmt: skip
