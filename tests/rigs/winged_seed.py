"""A careful bench at “A winged seed”: level eye, four drops of each wing, what tumbled dropped again."""

from __future__ import annotations

from hobrel.core.apparatus.winged_seed import GATES, RULER, TAPE, TURNS, WINGED_SEED, WINGS
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.winged_seed import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(WINGED_SEED, seed, school_class or f"class {seed}")
    hand.do("level")
    rows = []
    for wing in WINGS:
        hand.do("wing", wing)
        length = f"{hand.by_eye(RULER):.1f}"
        falls: list[dict[str, str]] = []
        while len(falls) < 4:
            hand.do("drop", then=8)
            seen = hand.see()
            if not seen.looks.scene["tumbled"]:
                falls.append({face: seen.shown[face][0] for face in (GATES, TURNS, TAPE)})
        rows.append({"L": [length], **{q: [f[face] for f in falls] for q, face in (("t", GATES), ("N", TURNS), ("r", TAPE))}})
    truth = hand.truth
    return write_rows(bench_of(write_draft()), rows), {
        "speed": truth.speed("70", "1") * truth.cuts["70"] / 1000,
        "ratio": truth.ratio,
    }
