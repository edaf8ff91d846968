"""A marked range of x, summarised on its own."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.statistics.spread import Summary, summarise


@dataclass(frozen=True)
class Stretch:
    """What the points with low ≤ x ≤ high say: a summary of y, and a line of their own (None for fewer than three)."""

    low: float
    high: float
    summary: Summary
    line: LineFit | None


def summarise_stretch(x: ArrayLike, y: ArrayLike, low: float, high: float, uy: ArrayLike | None = None) -> Stretch:
    """Summarise a stretch.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    low, high : float
        Ends of the stretch, both included.
    uy : array_like, shape (N,), optional
        Weights the line.

    Raises
    ------
    CoreError
        ``too_few_points`` where there is no point in the stretch.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    low, high = min(low, high), max(low, high)
    inside = (xs >= low) & (xs <= high)
    if not np.any(inside):
        raise CoreError("too_few_points", f"There is no point between {low:g} and {high:g}.")
    line = None
    if np.count_nonzero(inside) >= 3 and np.ptp(xs[inside]) > 0:
        bars = None if uy is None else np.broadcast_to(np.asarray(uy, dtype=np.float64), xs.shape)[inside]
        line = fit_line(xs[inside], ys[inside], bars)
    return Stretch(low, high, summarise(ys[inside].tolist()), line)
