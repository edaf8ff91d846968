"""A careful bench at “A fan on a supply”: ranges that are never exceeded, air that has come up to speed, four readings of the vane."""

from __future__ import annotations

from hobrel.core.apparatus.fan_on_supply import AMMETER, FAN_ON_SUPPLY, KNOB, VANE, VOLTMETER
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.fan_on_a_supply import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(FAN_ON_SUPPLY, seed, school_class or f"class {seed}")
    hand.do("volts", "20")
    hand.do("amperes", "2")
    rows = []
    for at in KNOB[2:]:
        hand.do("knob", at, then=40)
        speeds = []
        for _ in range(4):
            hand.now += 5
            speeds.append(hand.read(VANE))
        rows.append({"U": [hand.read(VOLTMETER)], "I": [hand.read(AMMETER)], "v": speeds})
    return write_rows(bench_of(write_draft()), rows), {"p": 3.0, "q": 2.0}
