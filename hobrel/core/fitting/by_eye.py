"""A line drawn by eye: what it touches and what it leaves, never corrected."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.uncertainty.traced import Floats


@dataclass(frozen=True)
class ByEyeLine:
    """A line as it was drawn.

    Attributes
    ----------
    gradient, intercept : float
        In the units of the axes.
    touched, n : int
        How many error bars it passes through, of how many points.
    residuals : ndarray, shape (n,)
        y − (m x + c).
    """

    gradient: float
    intercept: float
    touched: int
    n: int
    residuals: Floats


def study_by_eye(x: ArrayLike, y: ArrayLike, ux: ArrayLike, uy: ArrayLike, gradient: float, *, intercept: float) -> ByEyeLine:
    """Study a line drawn by eye.

    Parameters
    ----------
    x, y, ux, uy : array_like, shape (N,)
        Points and half lengths of their bars; a bar is passed where |y − (m x + c)| ≤ u(y) + |m| u(x), as for extreme lines.
    gradient, intercept : float
    """
    xs, ys, sx, sy = (np.asarray(v, dtype=np.float64) for v in (x, y, ux, uy))
    residuals = ys - (gradient * xs + intercept)
    reach = sy + abs(gradient) * sx
    touched = np.abs(residuals) <= reach + 1e-12 * np.max(np.abs(ys), initial=0.0)
    return ByEyeLine(gradient, intercept, int(np.count_nonzero(touched)), int(xs.size), residuals)
