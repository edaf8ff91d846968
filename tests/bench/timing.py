"""Measuring: the best of several runs for what a machine can do, percentiles for what people wait."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    what: str
    measured: str
    reach: str


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
