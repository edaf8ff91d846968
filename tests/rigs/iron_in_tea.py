"""A careful bench at “Iron in tea”: no air in the tip, a level eye, large steps first and single drops where it is steep."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.iron_in_tea import BURETTE_FACE, ELECTRODE, IRON_IN_TEA
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.iron_in_tea import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(IRON_IN_TEA, seed, school_class or f"class {seed}")
    hand.do("flush")
    hand.do("level")
    hand.do("stir")
    start = f"{hand.by_eye(BURETTE_FACE):.2f}"
    rows: list[dict[str, list[str]]] = []
    tap, after = "much", 0
    while len(rows) < 60:
        hand.do("open", tap, then=20)
        level, millivolts = f"{hand.by_eye(BURETTE_FACE):.2f}", hand.read(ELECTRODE)
        if rows and level == rows[-1]["V"][0]:
            continue  # a step that the eye does not see is no step
        rows.append({"V": [level], "E": [millivolts]})
        now = float(millivolts)
        # what a hand does that watches the display: smaller steps once it begins to climb
        tap = "much" if now < 505 else "little" if now < 545 else "drop"
        after += now > 800
        if after == 4:
            break
    end = next(float(r["V"][0]) for r in rows if float(r["E"][0]) > 800) - float(start)
    book = write_rows(bench_of(write_draft()), rows)
    truth = 1000 * hand.truth.iron
    return replace(
        book,
        quantities=tuple(replace(q, value=start, u="0.012") if q.id == "V0" else q for q in book.quantities),
        fits=tuple(replace(f, high=0.96 * end) for f in book.fits),
    ), {"steep": truth, "line": truth}
