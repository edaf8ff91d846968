"""A careful bench at “A bead in syrup”: a hand that presses a fifth of a second late, some hundredths more or less, at both marks."""

from __future__ import annotations

from statistics import median

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.timed_things import MARKS, THINGS
from hobrel.core.apparatus.timing_by_hand import GAUGE, STOPWATCH, TIMING_BY_HAND
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.bead_in_syrup import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows

LATE, UNSTEADY = 0.20, 0.05
"""Seconds of reaction, and its standard deviation (common practice)."""


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(TIMING_BY_HAND, seed, school_class or f"class {seed}")
    rows = []
    for setting in THINGS["bead"]:
        hand.do("set", setting)
        times: list[str] = []
        while len(times) < 5:
            times.append(sink(hand))
            middle = median(float(t) for t in times)
            # who sees a bead touch the glass does not count it
            times = [t for t in times if float(t) < 1.15 * middle]
        rows.append({"d": [hand.read(GAUGE)], "t": times})
    return write_rows(bench_of(write_draft()), rows), {"eta": hand.truth.nature.viscosity}


def sink(hand: Hand) -> str:
    """One bead timed from mark to mark."""
    hand.do("reset")
    hand.do("go", then=0.0)
    gone, pace = hand.now, float(hand.see().looks.scene["sinks"])
    dice = Chance(f"reaction {hand.chance.seed}")
    for i, mark in enumerate(MARKS):
        hand.now = gone + mark / pace + LATE + UNSTEADY * dice.normal(i, round(gone * 1000))
        hand.do("press", then=0.0)
    hand.now += 2
    return hand.read(STOPWATCH)
