"""Measuring: the best of several runs for what a machine can do, percentiles for what people wait, and the pace of the machine meanwhile.

A shared machine is several times slower in some hours than in others. Times therefore stand in the table twice: as they were, and as they
would be at the pace that the limits are for, a million additions in 50 ms. A ratio of two things measured together needs no such thing.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

QUIET = 0.05
"""Seconds of a million additions at the pace that the limits are for."""


@dataclass(frozen=True)
class Row:
    what: str
    measured: str
    reach: str
    at_quiet: str = ""
    """The same at the pace that the limits are for."""


@dataclass
class Pace:
    """How slow the machine is, told by a small piece of work done again and again between what is measured."""

    spans: list[float] = field(default_factory=list)

    def sample(self) -> None:
        start = time.perf_counter()
        total = 0
        for i in range(100_000):
            total += i
        self.spans.append(10 * (time.perf_counter() - start))

    @property
    def slowness(self) -> float:
        """Times slower than the pace that the limits are for."""
        return sum(self.spans) / len(self.spans) / QUIET


def paced(what: str, spans: Sequence[float], reach: str, pace: Pace, shares: Sequence[float] = (0.5, 0.95)) -> Row:
    """A row of percentiles of times (1: the longest), as they were and at the pace that the limits are for."""
    found = [share_below(spans, share) for share in shares]
    return Row(what, ", ".join(map(ms, found)), reach, ", ".join(ms(f / pace.slowness) for f in found))


def best_of(work: Callable[[], object], times: int = 15) -> float:
    """Shortest of several runs, in seconds."""
    spans = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spans.append(time.perf_counter() - start)
    return min(spans)


def share_below(spans: Sequence[float], share: float) -> float:
    """A percentile of waiting times, in seconds."""
    return sorted(spans)[min(len(spans) - 1, int(share * len(spans)))]


def ms(seconds: float) -> str:
    return f"{1000 * seconds:.1f} ms" if seconds < 10 else f"{seconds:.1f} s"
