"""What is noticed in two hundred drawn tables: each kind of slip, material or just so, and clean ones. Kept in a line each."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import replace

from hobrel.core.checks.rows import find_slips
from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import LabBook
from hobrel.core.pipeline.columns import compute_columns
from tests.core.calibration.slipping import KINDS, Table, draw_slip, draw_table, make_book

OF_EACH, NEAR, CLEAN = 9, 60, 24


def _tables() -> Iterator[tuple[str, Table]]:
    for kind in KINDS:
        dice = random.Random(f"kept:{kind}")
        for i in range(OF_EACH):
            yield f"{kind} {i}", draw_slip(kind, dice)[0]
    dice = random.Random("kept:near")
    for i in range(NEAR):
        # off by as much as might be chance, so that every limit has tables on both of its sides
        table = draw_table(dice)
        row, repeat = dice.randrange(len(table.x)), dice.randrange(table.repeats)
        off = dice.choice((3, 4, 5, 6, 7, 8, 9, 10)) * table.sd(row) * dice.choice((-1, 1))
        texts = [list(texts) for texts in table.y]
        whole = dice.random() < 0.4
        for k in range(table.repeats) if whole else (repeat,):
            texts[row][k] = f"{float(texts[row][k]) + off:.{table.practical.y_decimals}f}"
        yield f"near {i}", replace(table, y=texts)
    dice = random.Random("kept:clean")
    for i in range(CLEAN):
        yield f"clean {i}", draw_table(dice)


def notice_all() -> dict[str, list[str]]:
    """By the name of each table, what is noticed in it, as it is said; under an even number with the plan's relation."""
    found = {}
    for n, (name, table) in enumerate(_tables()):
        book = make_book(table, relation=n % 2 == 0)
        found[name] = [f"{s.kind} {s.setting} {s.quantity} {s.repeat}: {s.message.text}" for s in _slips(book)]
    return found


def _slips(book: LabBook) -> tuple[Slip, ...]:
    return find_slips(compute_columns(book, book.runs[0]), book, True)
