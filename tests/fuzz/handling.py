"""Rigs handled by whoever presses anything: what they offer, in any order and at any time, and what nobody offers."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from hobrel.core.apparatus.rig import Act, Control
from hobrel.core.apparatus.rigs import RIGS
from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.plan_part import RigPart
from hobrel.core.questions.apparatus import Seeds, Sitting, watch_rig
from tests.fuzz.cases import Case

WEIRD = ("", "fly", "flask-99", "flask--1", "flask-", "wait", "diluted-", "1e9", "nan", "../etc", "-1")


def sittings(dice: random.Random, count: int) -> Iterator[Case]:
    """Each a list of acts, and a look at what comes of it."""
    for i in range(count):
        key = dice.choice(list(RIGS))
        rig = RIGS[key]
        mishaps = [m.id for m in rig.mishaps]
        without = tuple(dice.sample(mishaps, dice.randint(0, len(mishaps))))
        book = LabBook("A rig", plan=replace(LabBook("").plan, rig=RigPart(key, without)))
        seeds = Seeds(f"class {dice.random()}", f"bench {dice.random()}")
        acts: list[Act] = []
        now, offered = 0.0, _offered(book, seeds, acts)
        for _ in range(dice.randint(0, 40)):
            now += dice.choice((0.0, 0.001, 0.4, 3.0, 1000.0))
            control = dice.choice(offered)
            acts.append(Act(control.act, control.value, now))
            if dice.random() < 0.3:
                offered = _offered(book, seeds, acts)
        if dice.random() < 0.3:
            spoiled = Act(dice.choice((*WEIRD, offered[0].act)), dice.choice(WEIRD), dice.choice((now, -1.0, 1e9, float("nan"))))
            acts.insert(dice.randint(0, len(acts)), spoiled)
        start = dice.choice((now, now + 0.4, now + 5000, 0.0, 86_400.0, float("inf")))
        yield Case(f"sitting {i} at {key}", partial(watch_rig, book, seeds, Sitting("h", tuple(acts), start), True))


def _offered(book: LabBook, seeds: Seeds, acts: list[Act]) -> tuple[Control, ...]:
    start = acts[-1].at if acts else 0.0
    return watch_rig(book, seeds, Sitting("h", tuple(acts), start), False).watched.controls
