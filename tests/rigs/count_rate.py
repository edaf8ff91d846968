"""A careful bench at “Behind sheets of lead”: five minutes without the source, then a minute behind each number of sheets."""

from __future__ import annotations

import math
from dataclasses import replace

from hobrel.core.apparatus.count_rate import COUNT_RATE, COUNTER, GAUGE, SHEETS
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.behind_sheets_of_lead import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(COUNT_RATE, seed, school_class or f"class {seed}")
    hand.do("source")
    hand.do("count", "300", then=301)
    without = hand.read(COUNTER)
    hand.do("source")
    rows = []
    for sheets in SHEETS:
        hand.do("sheets", sheets)
        hand.do("count", "60", then=61)
        rows.append({"x": [hand.read(GAUGE)], "N": [hand.read(COUNTER)]})
    book = write_rows(bench_of(write_draft()), rows)
    own = {"value": without, "u": f"{math.sqrt(float(without)):.1f}"}
    mu = hand.truth.absorbs
    return replace(book, quantities=tuple(replace(q, **own) if q.id == "B" else q for q in book.quantities)), {
        "mu": mu,
        "half": math.log(2) / mu,
    }
