"""A careful bench at “A ring on a turntable”: level eye, firm push, one drop logged, a second and a half fitted on each side."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.recording import CLOCK
from hobrel.core.apparatus.ring_on_turntable import BALANCE, ENCODER, RING_ON_TURNTABLE, RULER
from hobrel.core.document.lab_book import LabBook, Log
from hobrel.shelf.ring_on_a_turntable import write_draft
from tests.rigs.hands import Hand, bench_of


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with a log and the ring's own values, and what its findings (by id) truly are."""
    hand = Hand(RING_ON_TURNTABLE, seed, school_class or f"class {seed}")
    mass = hand.read(BALANCE)
    hand.do("level")
    outer, inner = (across(hand, which) for which in ("outer", "inner"))
    hand.do("push", "firm")
    hand.do("record", "100", then=2.5)
    hand.do("drop", then=2.5)
    hand.do("stop")
    record = RING_ON_TURNTABLE.read_record(hand.truth, hand.acts, hand.chance, hand.now)
    book = bench_of(write_draft())
    log = Log(record.rows, {"t": record.columns[CLOCK], "a": record.columns[ENCODER]}, {"t": "s", "a": "rad"})
    own = {"m": (mass, "0.1"), "o": (outer, "0.15"), "i": (inner, "0.15")}
    stretches = {"before": (-1.5, 0.0), "after": (0.06, 1.5)}
    lying = hand.truth.about_axle(hand.state().lies)
    truths = {
        "drop": 1000 * lying,
        "made": 1000 * hand.truth.ring,
        "kept": hand.truth.table / (hand.truth.table + lying),
    }
    return replace(
        book,
        runs=(replace(book.runs[0], log=log),),
        quantities=tuple(replace(q, value=own[q.id][0], u=own[q.id][1]) if q.id in own else q for q in book.quantities),
        fits=tuple(replace(f, low=stretches[f.id][0], high=stretches[f.id][1]) for f in book.fits),
    ), truths


def across(hand: Hand, which: str) -> str:
    """A diameter as a difference of two readings by eye, to a tenth of a millimetre."""
    read = []
    for side in ("left", "right"):
        hand.do("edge", f"{which}-{side}")
        read.append(hand.by_eye(RULER))
    return f"{read[1] - read[0]:.1f}"
