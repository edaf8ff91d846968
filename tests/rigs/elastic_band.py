"""A careful bench at “An elastic band”: one condition, a level eye, disc after disc there and back."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.elastic_band import BATHS, ELASTIC_BAND, HANGER, MOST_DISCS, RULER
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.elastic_band import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows

LEVEL_EYE = 0.1
"""Standard deviation of estimating tenths of a division, in mm (common practice)."""


def measure(seed: int) -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its finding (by id) truly is."""
    hand = Hand(ELASTIC_BAND, seed, f"class {seed}")
    bath = list(BATHS)[seed % 3]
    hand.do("level")
    hand.do("bath", bath, then=60)
    empty = read(hand)
    rows = []
    for _ in range(MOST_DISCS):
        hand.do("add", then=60)
        rows.append({"m": [hand.read(HANGER)], "L": [read(hand)]})
    for row in reversed(rows):
        row["K"] = [read(hand)]
        hand.do("take", then=60)
    book = write_rows(bench_of(write_draft()), rows)
    own = {"value": empty, "u": "0.12"}
    return replace(book, quantities=tuple(replace(q, **own) if q.id == "L0" else q for q in book.quantities)), {
        "G": hand.truth.stiffness(bath)
    }


def read(hand: Hand) -> str:
    """The ruler to a tenth of a millimetre."""
    return f"{hand.number(RULER) + LEVEL_EYE * Chance(f'eye {hand.chance.seed}').normal(round(hand.now)):.1f}"
