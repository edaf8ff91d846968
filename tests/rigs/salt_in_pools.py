"""A careful bench at “Salt in rock pools”: zeroes, rinses, waits, looks for bubbles, lets the pools get warm."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.salt_in_pools import BALANCE, METER, POOLS, SALT_IN_POOLS
from hobrel.core.document.lab_book import LabBook
from hobrel.shelf.salt_in_rock_pools import write_draft
from tests.rigs.hands import Hand, bench_of, write_rows

WANTED = (0.10, 0.25, 0.40, 0.55, 0.70, 0.85)


def measure(seed: int, school_class: str = "") -> tuple[LabBook, dict[str, float]]:
    """A lab book with all readings, and what its findings (by id) truly are."""
    hand = Hand(SALT_IN_POOLS, seed, school_class or f"class {seed}")
    hand.do("range", "20")
    for pool in POOLS:
        hand.do("dilute", pool)
    dip(hand, "water")
    hand.do("zero")
    rows = []
    for number, wanted in enumerate(WANTED, 1):
        mass = weigh(hand, wanted)
        hand.do("make")
        rows.append({"m": [mass], "k": [dip(hand, f"flask-{number}") for _ in range(3)]})
    hand.do("wait", "600")
    hand.do("wait", "600")
    read = {pool: tuple(dip(hand, f"diluted-{pool}") for _ in range(3)) for pool in POOLS}
    book = write_rows(bench_of(write_draft()), rows)
    fits = tuple(replace(f, unknowns=tuple(replace(u, readings=read[u.id]) for u in f.unknowns)) for f in book.fits)
    return replace(book, fits=fits), dict(hand.truth.salt)


def weigh(hand: Hand, wanted: float) -> str:
    hand.do("tare")
    while (lacks := wanted - hand.number(BALANCE)) > 0:
        hand.do("add", "lot" if lacks > 0.3 else "little" if lacks > 0.06 else "grains")
    return hand.read(BALANCE)


def dip(hand: Hand, liquid: str) -> str:
    hand.do("rinse")
    hand.do("hang", liquid, then=2)
    if hand.see().looks.scene["bubble"]:
        hand.do("tap")
    hand.now += 35
    return hand.read(METER)
