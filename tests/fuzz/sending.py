"""What a hostile client sends: edits, documents, formulas, files and jobs, each mutated from one that is right."""

from __future__ import annotations

import io
import json
import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from openpyxl import Workbook

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.core.scripting.jobs import run_jobs
from hobrel.interchange.sensing import look_at
from hobrel.interchange.tables import read_tables
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.registry import apply_edit
from tests.fuzz.cases import Case
from tests.fuzz.typing import analyse_to_json, demo_books

CASES = json.loads((Path(__file__).parent.parent / "reference" / "cases.json").read_text(encoding="utf-8"))
STRANGE: tuple[Any, ...] = (
    None, True, 0, -1, 1, 10**30, 1e308, -1e308, 1e-308, "", " ", "x", "L", "1e400", "nan", "𝛼", "a" * 300, "<b>", "\u202e", "T^2", "1/0",
    "line", "run1", "s1", [], {}, ["x"], {"x": 1}, "ln(T)", "m", "°C", "0.0000001", "(((((((", "-", "e^e^e^e^e", "p" * 60,
)  # fmt: skip


def mutated(value: Any, dice: random.Random, chance: float) -> Any:
    """A copy in which each part is with this chance another, left out, doubled or exchanged."""
    if dice.random() < chance:
        return dice.choice(STRANGE)
    if isinstance(value, dict):
        kept = {k: mutated(v, dice, chance) for k, v in value.items() if dice.random() >= chance / 2}
        if kept and dice.random() < chance:
            a, b = dice.choice(list(kept)), dice.choice(list(kept))
            kept[a], kept[b] = kept[b], kept[a]
        return kept
    if isinstance(value, list):
        items = [mutated(v, dice, chance) for v in value if dice.random() >= chance / 2]
        return items * 2 if items and dice.random() < chance / 2 else items
    if isinstance(value, str) and value and dice.random() < 2 * chance:
        i = dice.randrange(len(value))
        return value[:i] + dice.choice("0123456789.,-+*/^()eE°μ²⁻√ ±%xπ\u00a0") + value[i + dice.randrange(2) :]
    return value


def documents(dice: random.Random, count: int) -> Iterator[Case]:
    written = [write_lab_book(book) for book in demo_books().values()]
    for n in range(count):
        document = mutated(dice.choice(written), dice, dice.choice((0.002, 0.01)))
        yield Case(f"document {n}", lambda d=document: analyse_to_json(read_lab_book(d)))


EDITS: tuple[dict[str, Any], ...] = (
    {"type": "set_reading", "run": "run1", "setting": "s1", "quantity": "t10", "repeat": 0, "text": "2.5", "was": ""},
    {"type": "add_setting", "run": "run1", "setting": "new"},
    {"type": "remove_setting", "run": "run1", "setting": "s2"},
    {"type": "set_repeats", "quantity": "t10", "repeats": 2},
    {"type": "set_aside", "run": "run1", "setting": "s1", "quantity": "t10", "repeat": 0, "reason": "slipped"},
    {"type": "set_aside_from", "run": "run1", "setting": "s3", "reason": "slipped"},
    {"type": "define_formula", "quantity": "T", "formula": "t_10/10"},
    {"type": "choose_digits", "quantity": "T", "kind": "figures", "count": 3},
    {"type": "write_text", "section": "method", "text": "words", "was": ""},
    {"type": "confirm_slip", "kind": "factor", "run": "run1", "setting": "s1", "quantity": "L", "repeat": 0},
    {"type": "add_run", "run": "r2", "name": "second", "settings": [{"id": "a", "readings": {"L": [{"text": "0.3", "set_aside": None}]}}]},
    {"type": "add_quantity", "quantity": "q9", "kind": "derived", "name": "nine", "symbol": "n_9", "formula": "T^2"},
    {"type": "change_quantity", "quantity": "L", "readings": "convert", "was": {"unit": "m"}, "becomes": {"unit": "cm"}},
    {"type": "change_quantity", "quantity": "L", "was": {"symbol": "L"}, "becomes": {"symbol": "X_9"}},
    {"type": "remove_quantity", "quantity": "T"},
    {"type": "move_quantity", "quantity": "T", "to": 1},
    {"type": "keep_plot", "graph": "k", "fit": "its", "x": "L", "y": "T", "x_form": "v^3", "y_form": "v^2", "x_new": "qx", "y_new": "qy"},
    {"type": "place_graph", "graph": "straight", "was": {"x_low": None, "x_high": None}, "becomes": {"x_low": 0.1, "x_high": 0.9}},
    {"type": "place_graph", "graph": "straight", "was": {"notes": []}, "becomes": {"notes": [{"id": "n", "text": "a", "anchor": "fit"}]}},
    {"type": "add_graph", "graph": "g9", "x": "L", "y": "t10"},
    {"type": "place_fit", "fit": "line", "was": {"shape": "line"}, "becomes": {"shape": "power"}},
    {"type": "add_fit", "fit": "f9", "graph": "straight", "choice": {"shape": "own", "formula": "a x^2 + b", "parameters": ["a", "b"]}},
    {"type": "add_finding", "finding": "o1", "content": {"name": "own", "symbol": "z", "formula": "gradient", "fit": "line"}},
    {"type": "change_finding", "finding": "E", "was": {"compare": []}, "becomes": {"compare": ["o1"]}},
    {"type": "draw_sketch", "points": [{"x": 0.1, "y": 0.1}, {"x": 0.9, "y": 0.8}]},
)  # fmt: skip


def _send(document: dict[str, Any], edits: list[Any]) -> Any:
    for edit in edits:
        document = apply_edit(document, edit_adapter.validate_python(edit)).document
    return analyse_to_json(read_lab_book(document))


def edits(dice: random.Random, count: int) -> Iterator[Case]:
    written = [write_lab_book(book) for book in demo_books().values()]
    for n in range(count):
        sent = [mutated(dice.choice(EDITS), dice, dice.choice((0.0, 0.05, 0.2))) for _ in range(dice.randrange(1, 4))]
        document = dice.choice(written)
        yield Case(f"edits {n}: {json.dumps(sent, default=str)[:160]}", lambda d=document, s=sent: _send(d, s))


def _table(dice: random.Random) -> tuple[str, bytes]:
    separator, comma = dice.choice(("\t", ";", ",", " ", "|")), dice.random() < 0.3
    rows = [["t (s)", "x / m", "remark"]] + [
        [str(i), f"{dice.gauss(0, 9):.3f}", dice.choice(("", "ok", "1,5"))] for i in range(dice.randrange(40))
    ]
    kind = dice.choice(("csv", "xlsx", "json"))
    if kind == "xlsx":
        book, out = Workbook(), io.BytesIO()
        assert book.active is not None
        for row in rows:
            book.active.append(row)
        book.save(out)
        return "a.xlsx", out.getvalue()
    if kind == "json":
        return "a.json", json.dumps(mutated(write_lab_book(dice.choice(list(demo_books().values()))), dice, 0.01), default=str).encode()
    text = "\n".join(separator.join(row) for row in rows)
    return "a.csv", (text.replace(".", ",") if comma else text).encode(dice.choice(("utf-8", "utf-8-sig", "utf-16", "cp1252")))


def files(dice: random.Random, count: int) -> Iterator[Case]:
    book = next(iter(demo_books().values()))

    def look(name: str, data: bytes) -> Any:
        return [repr(look_at(sheet, book))[:0] for sheet in read_tables(data, name).sheets]

    for n in range(count):
        name, data = _table(dice)
        spoiled = bytearray(data)
        for _ in range(dice.choice((0, 0, 1, 3, 30))):
            if spoiled:
                at = dice.randrange(len(spoiled))
                spoiled[at : at + dice.randrange(3)] = bytes(dice.randrange(256) for _ in range(dice.randrange(4)))
        whole = bytes(spoiled[: dice.randrange(len(spoiled) + 1)]) if dice.random() < 0.2 else bytes(spoiled)
        yield Case(f"file {n}: {name}", lambda n=name, d=whole: look(n, d))


def jobs(dice: random.Random, count: int) -> Iterator[Case]:
    published = [case["job"] for case in CASES]
    for n in range(count):
        job = mutated(dice.choice(published), dice, dice.choice((0.01, 0.05)))
        yield Case(f"job {n}: {json.dumps(job, default=str)[:160]}", lambda j=job: run_jobs([j]))
