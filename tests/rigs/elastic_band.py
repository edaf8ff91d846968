"""A careful bench at “An elastic band”: one condition, a level eye, disc after disc there and back."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.elastic_band import BATHS, ELASTIC_BAND, HANGER, MOST_DISCS, RULER
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.elastic_band import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its finding (by id) truly is."""
    hand = Hand(ELASTIC_BAND, seed, school_class or f"class {seed}")
    bath = list(BATHS)[seed % 3]
    hand.do("level")
    hand.do("bath", bath, then=60)
    empty = f"{hand.by_eye(RULER):.1f}"
    rows = []
    for _ in range(MOST_DISCS):
        hand.do("add", then=60)
        rows.append({"m": [hand.read(HANGER)], "L": [f"{hand.by_eye(RULER):.1f}"]})
    for row in reversed(rows):
        row["K"] = [f"{hand.by_eye(RULER):.1f}"]
        hand.do("take", then=60)
    book = write_rows(bench_of(write_draft()), rows)
    own = {"value": empty, "u": "0.12"}
    return replace(book, quantities=tuple(replace(q, **own) if q.id == "L0" else q for q in book.quantities)), {
        "G": hand.truth.stiffness(bath)
    }
