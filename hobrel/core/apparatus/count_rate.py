"""Count rate: a weak source, sheets before it, and a counter; counts come at random, and some come without the source."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices

SHEETS = tuple(str(n) for n in range(9))
SHEET, U_SHEET = 2.0, 0.06
"""Of a sheet, in mm, and how sheets differ."""
TIMES = ("10", "60", "300")
DEAD = 0.0004
"""Seconds for which the counter is blind after each count."""
COUNTER, TIMER, GAUGE = "counter", "timer", "gauge"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    source, background : float
        Counts a second of the source without a sheet, and without the source.
    absorbs : float
        Share of the rate that a millimetre takes, as the coefficient of an exponential, in 1/mm.
    sheets : tuple of float
        How thick each is, in mm.
    without : tuple of str
    """

    source: float
    background: float
    absorbs: float
    sheets: tuple[float, ...]
    without: tuple[str, ...]

    def rate(self, count: int, is_there: bool) -> float:
        """What the counter counts in a second behind so many sheets."""
        true = self.background + (self.source * math.exp(-self.absorbs * sum(self.sheets[:count])) if is_there else 0.0)
        return true if "dead" in self.without else true / (1 + true * DEAD)


@dataclass(frozen=True)
class Counting:
    """A count that was begun: when, for how long, at which rate, and the how-manieth it is."""

    begun: float
    seconds: int
    rate: float
    number: int


@dataclass(frozen=True)
class Bench:
    """How many sheets stand before the counter, whether the source does, and the last count."""

    sheets: str = "0"
    is_there: bool = True
    counting: Counting | None = None
    counts: int = 0


class CountRate(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            source=shared.between(38.0, 60.0, "source") * (1 + 0.02 * own.normal("source")),
            background=0.0 if "background" in off else own.between(0.4, 0.9, "background"),
            absorbs=shared.between(0.095, 0.135, "absorbs"),
            sheets=tuple(SHEET + U_SHEET * own.normal("sheet", n) for n in range(8)),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            TruthLine("absorption coefficient", f"{truth.absorbs:.5f} 1/mm"),
            TruthLine("counts a second of the source", f"{truth.source:.2f}"),
            TruthLine("counts a second without it", f"{truth.background:.3f}"),
            TruthLine("sheets", ", ".join(f"{thick:.2f}" for thick in truth.sheets) + " mm"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench()

    def knows(self, act: Act) -> bool:
        known: dict[str, Sequence[str]] = {"sheets": SHEETS, "count": TIMES, "source": ("",)}
        return act.value in known.get(act.kind, ())

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        if state.counting is not None and act.at < state.counting.begun + state.counting.seconds:
            return state
        match act.kind:
            case "sheets":
                return replace(state, sheets=act.value)
            case "source":
                return replace(state, is_there=not state.is_there)
            case _:
                rate = truth.rate(int(state.sheets), state.is_there)
                return replace(state, counting=Counting(act.at, int(act.value), rate, state.counts), counts=state.counts + 1)

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        counting = state.counting
        thick = f"{sum(truth.sheets[: int(state.sheets)]):.2f}"
        if counting is None:
            return {COUNTER: "0", TIMER: "0.0", GAUGE: thick}
        passed = min(time - counting.begun, float(counting.seconds))
        counts = _count_up(chance.seed, counting.number, counting.rate, counting.seconds)
        return {COUNTER: str(counts[int(passed + 1e-6)]), TIMER: f"{passed:.1f}", GAUGE: thick}

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        busy = "It is counting." if self._is_counting(state, time) else ""
        return (
            *(Control("sheets", n, n, n, "sheets before the counter", chosen=state.sheets == n, hindered=busy) for n in SHEETS),
            Control("source", "", "Source in its place", "q", "source", chosen=state.is_there, hindered=busy),
            *(
                Control("count", seconds, f"{seconds} s", key, "count for", hindered=busy)
                for seconds, key in zip(TIMES, "xcv", strict=True)
            ),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        words = [f"{state.sheets} sheets stand before the counter." if state.sheets != "1" else "One sheet stands before the counter."]
        words.append("The source is in its place." if state.is_there else "The source is locked away.")
        if state.counting is not None:
            words.append("It is counting." if self._is_counting(state, time) else "It has counted.")
        scene = {
            "sheets": state.sheets,
            "source": "yes" if state.is_there else "",
            "counting": "yes" if self._is_counting(state, time) else "",
            "rate": f"{truth.rate(int(state.sheets), state.is_there):.1f}" if self._is_counting(state, time) else "0",
        }
        return Looks(scene, tuple(words))

    def _is_counting(self, state: Bench, time: float) -> bool:
        return state.counting is not None and time < state.counting.begun + state.counting.seconds


@lru_cache(500)
def _count_up(seed: str, number: int, rate: float, seconds: int) -> tuple[int, ...]:
    """The counts after each second of a count, from none at its begin."""
    of, counts = Chance(seed), [0]
    for second in range(seconds):
        counts.append(counts[-1] + of.poisson(rate, "count", number, second))
    return tuple(counts)


COUNT_RATE = CountRate(
    key="count-rate",
    title="Behind sheets of lead",
    words="A weak source that is sealed in, sheets to put before it, a counter that counts for a chosen time, and a gauge for the sheets.",
    faces=(
        Face(COUNTER, "counter", "", "display", "n"),
        Face(TIMER, "timer", "s", "display", "t"),
        Face(GAUGE, "gauge", "mm", "display", "g"),
    ),
    mishaps=(
        Mishap("background", "it counts without the source too"),
        Mishap("dead", "the counter is blind for a moment after each count"),
    ),
    every=0.5,
)
