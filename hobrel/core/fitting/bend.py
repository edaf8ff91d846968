"""How much points bend: what is left when x² is added to the line, and x³ after it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import stdtr

from hobrel.core.uncertainty.traced import Floats

_ROUNDING = 1e-9
"""Standard errors below which a bend is none: where readings happen to lie about a line without bending at all, rounding is left."""
_NOTHING_LEFT = 1e-28
"""Of x² over a range of one, less its best line: with less the points that weigh stand at three places, and the rest is rounding."""
LEAST_FOR_SWING = 8
"""Points from which one bend and another the other way can be told from scatter."""
_SELDOM = 0.1
"""A bend both ways counts where it is so many times less likely by chance than one that goes one way: that bends are looked for in two ways
must not make more of them.
"""


@dataclass(frozen=True)
class Bend:
    """The quadratic coefficient when x² is added to the line, over its standard error.

    Attributes
    ----------
    t : float
        With the standard error from the scatter about the parabola.
    swing : float
        The same of the cubic coefficient when x³ is added as well: points that bend one way and then the other. 0 where points are too few.
    z : float or None
        With the one from the bars; None without bars.
    sag : float
        Half the largest distance between line and parabola that the bars would hide (2 u), as a share of the range of y; 0 without bars.
    """

    t: float
    swing: float
    z: float | None
    sag: float


def measure_bend(x: ArrayLike, y: ArrayLike, sigma: ArrayLike | None = None) -> Bend | None:
    """The bend of points; None for fewer than four places that weigh anything.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    sigma : array_like, shape (N,), optional
        What each point is uncertain by, along y: it weighs where none is zero.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if not _stand_at_four_places(xs):
        return None
    bars = None if sigma is None or np.any(np.asarray(sigma) <= 0) else np.asarray(sigma, dtype=np.float64)
    # as shares of the smallest bar: their squares stay numbers whatever the unit
    unit = 1.0 if bars is None else float(bars.min())
    root_w = np.ones_like(xs) if bars is None else unit / bars
    line, parabola, cubic = _build_columns((xs - xs.mean()) / np.ptp(xs), root_w)
    size = float(parabola @ parabola)
    if size <= _NOTHING_LEFT:
        return None
    left = ys * root_w
    scale = float(np.abs(left).max())
    left = left - float(root_w @ left) / float(root_w @ root_w) * root_w
    left = left - float(line @ left) / float(line @ line) * line
    bend, own = float(parabola @ left) / size, 1 / math.sqrt(size)
    z = None if bars is None else bend / own / unit
    # a parabola of unit coefficient over unit range departs by an eighth from the line through its ends, half of that from the best line
    rise = float(np.ptp(ys))
    sag = 2 * own * unit / 8 / rise if bars is not None and rise > 0 else 0.0
    left = left - bend * parabola
    t = _count_errors(bend, size, left, 3, scale)
    size = float(cubic @ cubic)
    if xs.size < LEAST_FOR_SWING or size <= _NOTHING_LEFT:
        return Bend(t, 0.0, z, sag)
    swing = float(cubic @ left) / size
    return Bend(t, _count_errors(swing, size, left - swing * cubic, 4, scale), z, sag)


def _count_errors(coefficient: float, size: float, left: Floats, numbers: int, scale: float) -> float:
    """A coefficient over its standard error from the scatter of what is left when so many numbers have been found."""
    scatter = math.sqrt(float(left @ left) / max(left.size - numbers, 1))
    if scatter <= 1e-13 * scale:
        # exact data: bent if the coefficient is more than rounding (the largest weight is one), straight otherwise
        return 0.0 if abs(coefficient) <= 1e-11 * scale else math.copysign(1e6, coefficient)
    t = coefficient * math.sqrt(size) / scatter
    return t if abs(t) > _ROUNDING else 0.0


def _stand_at_four_places(x: Floats) -> bool:
    # of a long log the first rows mostly tell
    return x.size >= 4 and (len(set(x[:64].tolist())) >= 4 or np.unique(x).size >= 4)


def _build_columns(x: Floats, root_w: Floats) -> tuple[Floats, Floats, Floats]:
    """x, x² and x³ times the roots of the weights, each less what those before it explain.

    Done twice, so that weights of other sizes cost no digits (Gram and Schmidt; L. Giraud, J. Langou and M. Rozložník, Comput. Math.
    Appl. 50, 1069 (2005), from memory).
    """
    found = [root_w]
    column = root_w
    for _ in range(3):
        column = left = x * column
        for before in (*found, *found):
            length = float(before @ before)
            left = left - float(before @ left) / length * before if length > _NOTHING_LEFT else np.zeros_like(left)
        found.append(left)
    return found[1], found[2], found[3]


def chance_of_bend(bend: Bend, n: int) -> float:
    """Two-sided probability of a bend at least this large by chance, by Student's t with N − 3 degrees of freedom; or of one that goes both
    ways, with N − 4, where that is much less likely.
    """
    return min(_chances(bend, n))


def swings(bend: Bend, n: int) -> bool:
    """Whether points bend one way and then the other, rather than one way."""
    one_way, both_ways = _chances(bend, n)
    return both_ways < one_way


def _chances(bend: Bend, n: int) -> tuple[float, float]:
    """Of a bend one way, and of one that goes both ways as it counts beside it."""
    one_way = 2 * float(stdtr(n - 3, -abs(bend.t)))
    return one_way, 2 * float(stdtr(n - 4, -abs(bend.swing))) / _SELDOM if bend.swing else 1.0
