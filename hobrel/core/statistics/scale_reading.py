"""How somebody reads scales: to the mark only, or between the marks, and how far off."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

BY_CHANCE = 0.2
"""How often a tenth that is estimated is that of a mark: one in ten, and as often again by a liking for round numbers (common practice)."""
UNLIKELY = 0.01
FEWEST = 4
_ON = 1e-6

Habit = Literal["too_few", "to_the_mark", "between_marks"]


@dataclass(frozen=True)
class ScaleReading:
    """One reading of a scale.

    Attributes
    ----------
    off : float
        What was read less what stood there, in divisions.
    at_mark : bool
        Whether what was read is a mark.
    """

    off: float
    at_mark: bool


@dataclass(frozen=True)
class ReadingHabit:
    """What the readings of one person come to.

    Attributes
    ----------
    count, at_marks : int
    off : str
        Median of how far readings are off, without their signs, in divisions, as it is told; empty without readings.
    habit : {"too_few", "to_the_mark", "between_marks"}
        ``to_the_mark`` where so many marks would come by chance less than once in a hundred times.
    """

    count: int
    at_marks: int
    off: str
    habit: Habit


def judge_reading(value: float, stands: float, division: float) -> ScaleReading:
    """Compare what was read with what stood on a scale.

    Parameters
    ----------
    value, stands : float
        In the unit of the scale.
    division : float
        Between two marks, above zero.
    """
    marks = value / division
    return ScaleReading((value - stands) / division, math.isclose(marks, round(marks), rel_tol=0, abs_tol=_ON * max(1.0, abs(marks))))


def judge_habit(readings: Sequence[ScaleReading]) -> ReadingHabit:
    """Say whether somebody estimates between marks."""
    count, at_marks = len(readings), sum(reading.at_mark for reading in readings)
    off = _tell(median(abs(reading.off) for reading in readings)) if readings else ""
    if count < FEWEST:
        return ReadingHabit(count, at_marks, off, "too_few")
    # as many marks as this or more, of readings whose tenths are estimated
    chance = sum(math.comb(count, k) * BY_CHANCE**k * (1 - BY_CHANCE) ** (count - k) for k in range(at_marks, count + 1))
    return ReadingHabit(count, at_marks, off, "to_the_mark" if chance < UNLIKELY else "between_marks")


def _tell(off: float) -> str:
    return "under 0.1 of a division" if off < 0.05 else f"{off:.1f} of a division" if off < 1 else f"{off:.1f} divisions"
