"""The area under the points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.statistics.rates import order_points


@dataclass(frozen=True)
class Area:
    """Area in unit of y times unit of x; `u` from independent bars in y, None without them."""

    value: float
    u: float | None


def find_area(x: ArrayLike, y: ArrayLike, uy: ArrayLike | None = None) -> Area:
    """Area by the trapezium rule, with the bars carried through in quadrature.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    uy : array_like, shape (N,) or scalar, optional

    Raises
    ------
    CoreError
        As `order_points`.
    """
    xs, ys, order = order_points(x, y)
    steps = np.diff(xs)
    weights = np.zeros_like(xs)
    weights[:-1] += steps / 2
    weights[1:] += steps / 2
    u = None
    if uy is not None:
        bars = np.broadcast_to(np.asarray(uy, dtype=np.float64), xs.shape)[order]
        u = float(np.sqrt(np.sum((weights * bars) ** 2)))
    return Area(float(weights @ ys), u)
