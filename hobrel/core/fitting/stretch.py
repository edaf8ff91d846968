"""A marked range of x, summarised on its own."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.statistics.spread import Summary, summarise


@dataclass(frozen=True)
class Stretch:
    """What y of the points with low ≤ x ≤ high says."""

    low: float
    high: float
    summary: Summary


def summarise_stretch(x: ArrayLike, y: ArrayLike, low: float, high: float) -> Stretch:
    """Summarise a stretch.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    low, high : float
        Ends of the stretch, both included.

    Raises
    ------
    CoreError
        ``too_few_points`` where there is no point in the stretch.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    low, high = min(low, high), max(low, high)
    inside = (xs >= low) & (xs <= high)
    if not np.any(inside):
        raise CoreError("too_few_points", "There is no point between {low} and {high}.", low=f"{low:g}", high=f"{high:g}")
    return Stretch(low, high, summarise(ys[inside].tolist()))
