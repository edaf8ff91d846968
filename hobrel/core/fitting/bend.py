"""How much points bend: what is left when x² is added to the line."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import stdtr


@dataclass(frozen=True)
class Bend:
    """The quadratic coefficient when x² is added to the line, over its standard error.

    Attributes
    ----------
    t : float
        With the standard error from the scatter about the parabola.
    z : float or None
        With the one from the bars; None without bars.
    sag : float
        Half the largest distance between line and parabola that the bars would hide (2 u), as a share of the range of y; 0 without bars.
    """

    t: float
    z: float | None
    sag: float


def measure_bend(x: ArrayLike, y: ArrayLike, sigma: ArrayLike | None = None) -> Bend | None:
    """The bend of points; None for fewer than four places.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    sigma : array_like, shape (N,), optional
        What each point is uncertain by, along y: it weighs where none is zero.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if xs.size < 4 or np.unique(xs).size < 4:
        return None
    bars = None if sigma is None or np.any(np.asarray(sigma) <= 0) else np.asarray(sigma, dtype=np.float64)
    root_w = np.ones_like(xs) if bars is None else 1.0 / bars
    powers = np.vander((xs - xs.mean()) / np.ptp(xs), 3, increasing=True) * root_w[:, None]
    q, upper = np.linalg.qr(powers)
    coefficients = np.linalg.solve(upper, q.T @ (ys * root_w))
    bend, own = float(coefficients[2]), 1 / abs(float(upper[2, 2]))
    z = None if bars is None else bend / own
    # a parabola of unit coefficient over unit range departs by an eighth from the line through its ends, half of that from the best line
    rise = float(np.ptp(ys))
    sag = 2 * own / 8 / rise if bars is not None and rise > 0 else 0.0
    left = ys * root_w - powers @ coefficients
    scatter = math.sqrt(float(left @ left) / max(xs.size - 3, 1))
    scale = float(np.max(np.abs(ys * root_w), initial=0.0))
    if scatter <= 1e-13 * scale:
        # exact data: bent if the coefficient is more than rounding, straight otherwise
        return Bend(0.0 if abs(bend) * float(root_w.max()) <= 1e-11 * scale else math.copysign(1e6, bend), z, sag)
    return Bend(bend / (own * scatter), z, sag)


def chance_of_bend(t: float, n: int) -> float:
    """Two-sided probability of a bend at least this large by chance, by Student's t with N − 3 degrees of freedom."""
    return 2 * float(stdtr(n - 3, -abs(t)))
