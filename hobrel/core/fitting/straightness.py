"""Whether points lie straight: one verdict for the card, the board and the trail."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import chdtrc, fdtr, fdtrc, ndtr, ndtri, stdtr

from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import Bend, chance_of_bend, measure_bend
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import along_y
from hobrel.core.fitting.scattering import likelier_ways
from hobrel.core.uncertainty.traced import Floats

Straightness = Literal["straight", "bends", "unknown"]
Scatter = Literal["fits", "more", "less", "unknown"]
EACH_SIDE = 0.025
"""Probability by chance below which scatter is too large, too small, or a bend is one, where bars can be trusted."""
WITHOUT_BARS = 0.05
WANDERS = 0.001
"""Probability by chance below which neighbours that lie so near to one another are none."""
ALIKE = 0.01
"""Probability by chance below which the bends of several are one."""
_LEAST_CHANCE = 1e-12
LEAST_POINTS = 6
"""Without bars, five points or fewer are too few to tell a bend from scatter."""
CLEAR_BEND = 0.03
"""Share of the rise of y that a clear bend leaves between a line and the points; bars that would hide it leave it open."""


ROUNDING = 1e-12
"""Share of the largest y up to which points lie on a line but for rounding."""
_ONE_SOURCE = 1 - 1e-9
_ALONG = 1e-6
"""Share of a point's bars that its error leaves across the line, below which it runs along it."""
Used = np.ndarray[tuple[int], np.dtype[np.bool_]]


@dataclass(frozen=True)
class Bars:
    """Standard uncertainties of points, the correlation of a point's x with its y where both come from the same readings, and the degrees
    of freedom behind them all.
    """

    x: Floats
    y: Floats
    correlation: Floats
    dof: float

    def at(self, used: Used) -> Bars:
        """Those of some of the points."""
        return Bars(self.x[used], self.y[used], self.correlation[used], self.dof)

    def scaled(self, x: float, y: float) -> Bars:
        """Those of points whose x and y are so many times as large."""
        return Bars(self.x * x, self.y * y, self.correlation, self.dof)

    def along_y(self, slope: ArrayLike) -> Floats:
        """What each point is uncertain by along y."""
        return along_y(self.y, self.x, self.correlation, slope)

    @property
    def are_one(self) -> bool:
        """Whether x and y of every point are made of the same readings: then errors run along the curve that the points lie on, and there
        is nothing to weigh or judge by.
        """
        return bool(np.all(np.abs(self.correlation) >= _ONE_SOURCE))

    def run_along(self, slope: float) -> bool:
        """Whether the error of every point runs along a line of this slope, so that there is nothing to weigh by (F = m g against m)."""
        whole = np.hypot(self.y, slope * self.x)
        return bool(np.all(self.along_y(slope) <= _ALONG * whole)) and bool(np.any(self.x > 0) or np.any(self.y > 0))


def judge_scatter(chi2: float | None, dof: int, dof_of_bars: float) -> Scatter:
    """Whether points scatter about what was fitted as their bars lead to expect: F against the degrees of freedom behind the bars.

    Parameters
    ----------
    chi2 : float or None
        None without bars.
    dof : int
        Of the fit.
    dof_of_bars : float
        Behind the bars; infinite where they are known (χ²).
    """
    if chi2 is None or dof < 1:
        return "unknown"
    if math.isfinite(dof_of_bars):
        above, below = float(fdtrc(dof, dof_of_bars, chi2 / dof)), float(fdtr(dof, dof_of_bars, chi2 / dof))
    else:
        above = float(chdtrc(dof, chi2))
        below = 1 - above
    return "more" if above < EACH_SIDE else "less" if below < EACH_SIDE else "fits"


def judge_straight(bend: Bend | None, n: int, scatter: Scatter, dof_of_bars: float, otherwise: Iterable[Bend | None] = ()) -> Straightness:
    """The verdict on one plot by itself.

    With bars that can be trusted: the scatter not too large, and the curvature within chance. Without: the curvature by Student's t with
    N − 3 degrees of freedom, whichever way the points scatter.

    Parameters
    ----------
    bend : Bend or None
        By the bars, or of points that scatter alike where there are none.
    n : int
    scatter : {"fits", "more", "less", "unknown"}
    dof_of_bars : float
    otherwise : iterable of Bend or None
        Of the same points, weighed in the other ways in which they may scatter where bars do not say it.
    """
    if bend is None:
        return "unknown"
    if bend.z is None or scatter == "more":
        # no bars, or bars that the points do not keep to
        if n < LEAST_POINTS and abs(bend.t) < 1e5:
            return "unknown"
        if all(chance_of_bend(way, n) < WITHOUT_BARS for way in chain((bend,), otherwise) if way is not None):
            return "bends"
        return "straight" if bend.z is None else "unknown"
    chance = 2 * float(stdtr(dof_of_bars, -abs(bend.z))) if math.isfinite(dof_of_bars) else 2 * float(ndtr(-abs(bend.z)))
    if chance < EACH_SIDE:
        return "bends"
    return "unknown" if bend.sag > CLEAR_BEND else "straight"


def measure_otherwise(x: Floats, y: Floats, sigma: Floats, ways: Sequence[Floats]) -> Iterator[Bend | None]:
    """The bend of points that do not keep to their bars: all alike and in each of the other ways, of those that are likelier than the bars'
    proportions (about a parabola: that points bend is not taken for scatter), one after the other as asked for.
    """
    if np.all(sigma > 0):
        along = (x - x.mean()) / np.ptp(x)
        columns = np.array([np.ones_like(x), along, along**2])
        yield from (measure_bend(x, y, way) for way in likelier_ways(y, columns, sigma, ways))


def bends_anyway(x: Floats, y: Floats, sigma: Floats, ways: Sequence[Floats]) -> bool:
    """Whether points that bend by their bars do so too in each of the ways to scatter that are likelier."""
    return all(chance_of_bend(bend, x.size) < WITHOUT_BARS for bend in measure_otherwise(x, y, sigma, ways) if bend is not None)


def judge_without_bars(bend: Bend | None, x: Floats, y: Floats, ways: Sequence[Floats] = ()) -> Straightness:
    """By the curvature alone, whichever of the ways the points scatter; but of what keeps to one side of a line and then to the other far
    beyond chance it cannot be told either.
    """
    verdict = judge_straight(bend, x.size, "unknown", math.inf, (measure_bend(x, y, way) for way in ways))
    return "unknown" if verdict == "straight" and _wanders(x, y) else verdict


def bend_together(bends: Sequence[tuple[Bend, int]]) -> bool:
    """Whether the points of several, each with so many, bend alike beyond chance, though none of them need show it alone.

    The sum of normal deviates over the root of their number (S. A. Stouffer and others, The American Soldier 1 (1949), p. 45, note; from
    memory), the deviates by Student's t with N − 3 degrees of freedom.
    """
    told = [(bend.t, n - 3) for bend, n in bends if n > 3]
    if not told:
        return False
    chances = [min(max(float(stdtr(dof, t)), _LEAST_CHANCE), 1 - _LEAST_CHANCE) for t, dof in told]
    together = sum(float(ndtri(chance)) for chance in chances) / math.sqrt(len(told))
    return 2 * float(ndtr(-abs(together))) < ALIKE


def _wanders(x: Floats, y: Floats) -> bool:
    """Whether points that follow one another lie much nearer to each other than to their line.

    The mean squared difference of neighbours over the mean square (J. von Neumann, Ann. Math. Stat. 12, 367 (1941); its mean and variance
    from memory), normal.
    """
    n, order = x.size, np.argsort(x, kind="stable")
    # as shares of the largest: their squares stay numbers
    along, up = x[order] / float(np.max(np.abs(x))), y[order] / float(np.max(np.abs(y), initial=np.finfo(np.float64).tiny))
    along, up = along - along.mean(), up - up.mean()
    left = up - float(along @ up) / float(along @ along) * along
    whole = float(left @ left)
    if whole <= n * ROUNDING**2:
        return False
    ratio = float(np.sum(np.diff(left) ** 2)) / whole
    return float(ndtr((ratio - 2) / math.sqrt(4 * (n - 2) / (n * n - 1)))) < WANDERS


def judge_points(x: Floats, y: Floats, bars: Bars | None, line: LineFit | None = None, ways: Sequence[Floats] = ()) -> Straightness:
    """The verdict on points by themselves: of a graph, whatever is fitted to it, and of a square of the board.

    Parameters
    ----------
    x, y : ndarray, shape (N,)
    bars : Bars or None
        By what the points are judged; None where they have none.
    line : LineFit, optional
        That through the points with these bars, where it is known.
    ways : sequence of ndarray, shape (N,)
        What the points may be off by in y, each but for a factor, beside all alike, where bars do not say it.
    """
    if bars is None or not (np.any(bars.y > 0) or np.any(bars.x > 0)):
        return judge_without_bars(measure_bend(x, y), x, y, ways)
    if bars.are_one:
        off = np.abs(y - fit_line(x, y).at(x))
        return "straight" if float(np.max(off)) <= ROUNDING * float(np.max(np.abs(y))) else "bends"
    try:
        if line is None:
            if bars.run_along(fit_line(x, y).gradient):
                return judge_without_bars(measure_bend(x, y), x, y, ways)
            line = fit_line(x, y, bars.y, bars.x if np.any(bars.x > 0) else None, bars.correlation)
    except CoreError:
        return "unknown"
    sigma = bars.along_y(line.gradient)
    scatter = judge_scatter(line.chi2, line.dof, bars.dof)
    return judge_straight(measure_bend(x, y, sigma), x.size, scatter, bars.dof, measure_otherwise(x, y, sigma, ways))
