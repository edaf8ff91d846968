"""Hands that work at a rig as a careful student does: they look, wait, and write down what is shown."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import Act, Rig, Watched, follow, watch
from hobrel.core.document.lab_book import LabBook, Reading, Setting
from hobrel.core.document.plans import freeze_plan, open_for_bench

EYE = 0.1
"""Standard deviation of estimating tenths, in divisions (common practice)."""


class Hand:
    """Somebody at a bench. Benches of one `school_class` share what is common to them."""

    def __init__(self, rig: Rig[Any, Any], seed: int, school_class: str = "class", without: Sequence[str] = ()) -> None:
        self.rig = rig
        self.truth = rig.draw_truth(Chance(school_class), Chance(f"bench {seed}"), without)
        self.chance = Chance(f"hand {seed}")
        self.acts: list[Act] = []
        self.now = 1.0

    def do(self, kind: str, value: str = "", then: float = 1.0) -> None:
        """Do something, and let some seconds pass."""
        self.acts.append(Act(kind, value, self.now))
        self.now += then

    def see(self, steps: int = 1) -> Watched:
        return watch(self.rig, self.truth, self.acts, self.chance, start=self.now, steps=steps)

    def read(self, face: str) -> str:
        return self.see().shown[face][0]

    def state(self) -> Any:
        """Where everything is now."""
        history, _ = follow(self.rig, self.truth, self.acts, self.chance, self.now)
        return history[-1].state

    def by_eye(self, face: str) -> float:
        """A scale as a level eye reads it, to a tenth of a division."""
        division = self.rig.face(face).division
        seen = self.number(face) + EYE * division * self.chance.named("eye").normal(face, round(1000 * self.now))
        return round(seen / (division / 10)) * (division / 10)

    def number(self, face: str) -> float:
        return float(self.read(face))


def bench_of(plan: LabBook) -> LabBook:
    """The empty lab book that a bench gets of a plan."""
    return open_for_bench(freeze_plan(plan))


def write_rows(book: LabBook, rows: Sequence[dict[str, Sequence[str]]]) -> LabBook:
    """The first run with these readings, one mapping of quantity to its repeats for each setting."""
    settings = tuple(Setting(f"s{i}", {key: tuple(map(Reading, texts)) for key, texts in row.items()}) for i, row in enumerate(rows))
    return replace(book, runs=(replace(book.runs[0], settings=settings), *book.runs[1:]))
