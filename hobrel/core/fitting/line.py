"""Straight lines y = m x + c through points, with none, one or two error bars each.

Three methods: ordinary least squares; least squares weighted with 1/u(y)²; and the unified equations of York, Evensen,
López Martínez and De Basabe Delgado, Am. J. Phys. 72, 367 (2004), for uncertainties in both x and y.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import chdtrc

from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Floats

LineMethod = Literal["ols", "weighted", "york"]
ScaleKind = Literal["absolute", "scatter"]


@dataclass(frozen=True)
class LineFit:
    """A fitted line.

    Attributes
    ----------
    gradient, intercept : float
        m in unit of y per unit of x, c in unit of y. The intercept is 0 for a line through the origin.
    u_gradient, u_intercept : float
        Standard uncertainties. From the scatter for ``ols``; from the given error bars otherwise ("absolute"), unless
        `scale` is ``scatter``, which multiplies them with √χ²ν. Infinite where they would come from a scatter that is not
        known, with no more points than parameters.
    covariance : float
        cov(m, c).
    dof : int
        N − 2, or N − 1 through the origin.
    chi2, reduced_chi2, p_value : float or None
        Only where error bars were given.
    r, r2 : float or None
        None where all y are equal. Through the origin r2 is 1 − Σr²/Σy² (against zero), and r is None.
    residual_sd : float
        √(Σr²/dof), in unit of y.
    method : {"ols", "weighted", "york"}
    scale : {"absolute", "scatter"}
    n : int
    influence : ndarray, shape (2, N)
        How far gradient and intercept move for each unit that a point is off the line by: with the points' variances it makes their
        covariance (for ``york`` at the adjusted points).
    """

    gradient: float
    intercept: float
    u_gradient: float
    u_intercept: float
    covariance: float
    dof: int
    chi2: float | None
    reduced_chi2: float | None
    p_value: float | None
    r: float | None
    r2: float | None
    residual_sd: float
    method: LineMethod
    scale: ScaleKind
    n: int
    influence: Floats = field(repr=False, compare=False)
    through_origin: bool = False

    def at(self, x: ArrayLike) -> Floats:
        """y of the line at x."""
        return np.asarray(self.gradient * np.asarray(x, dtype=np.float64) + self.intercept)

    def leverages(self, x: ArrayLike) -> Floats:
        """How much each of the points that it was fitted to, at x, moves the line where it stands: 1 for one that it cannot miss."""
        by_gradient, by_intercept = self.influence
        return np.asarray(by_gradient * np.asarray(x, dtype=np.float64) + by_intercept)

    def u_at(self, x: ArrayLike) -> Floats:
        """Standard uncertainty of the line at x, from the covariance."""
        place = np.asarray(x, dtype=np.float64)
        variance = (place * self.u_gradient) ** 2 + 2 * place * self.covariance + self.u_intercept**2
        return np.asarray(np.sqrt(np.maximum(variance, 0.0)))


@dataclass(frozen=True)
class _Solution:
    gradient: float
    intercept: float
    var_gradient: float
    var_intercept: float
    covariance: float
    influence: Floats


def fit_line(
    x: ArrayLike,
    y: ArrayLike,
    uy: ArrayLike | None = None,
    ux: ArrayLike | None = None,
    correlation_xy: ArrayLike | None = None,
    *,
    through_origin: bool = False,
    scale: ScaleKind = "absolute",
) -> LineFit:
    """Fit a straight line.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    uy, ux : array_like, shape (N,) or scalar, optional
        Standard uncertainties. With `uy` the points are weighted; with `ux` as well, York's equations are used.
    correlation_xy : array_like, optional
        Correlation coefficient of the errors of each point's x and y.
    through_origin : bool
        One parameter only: c = 0.
    scale : {"absolute", "scatter"}
        Whether given error bars are taken at their word.

    Raises
    ------
    CoreError
        ``too_few_points``; ``bad_job`` for error bars that are zero or missing; ``did_not_converge`` (York); ``too_large`` where the
        numbers are beyond what a line can be computed from.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    _check_points(xs, ys, through_origin)
    sy = bars_of(uy, xs, "y")
    sx = bars_of(ux, xs, "x")
    if sx is not None and sy is None:
        if uy is None:
            raise CoreError("bad_job", "Error bars in x alone cannot weight a line. Give the error bars in y too, if only as zeros.")
        sy = np.zeros_like(xs)
    method: LineMethod = "ols"
    weights = np.ones_like(xs)
    if sy is None:
        solution = _solve(xs, ys, weights, through_origin)
    elif sx is None:
        method, weights = "weighted", weights_of(sy, "y")
        solution = _solve(xs, ys, weights, through_origin)
    else:
        method = "york"
        r = np.zeros_like(xs) if correlation_xy is None else np.broadcast_to(np.asarray(correlation_xy, dtype=np.float64), xs.shape)
        solution, weights = _solve_york(xs, ys, sx, sy, r, through_origin=through_origin)
    return _describe(xs, ys, _check_solution(solution, weights), weights, method, through_origin=through_origin, scale=scale)


def _check_points(x: Floats, y: Floats, through_origin: bool) -> None:
    if x.shape != y.shape or x.ndim != 1:
        raise CoreError("bad_job", "x and y must be lists of the same length.")
    least = 1 if through_origin else 2
    if x.size < least:
        raise CoreError("too_few_points", "A line needs {least} or more points and has {n}.", least=least, n=x.size)
    if np.ptp(x) == 0 and not through_origin:
        raise CoreError("too_few_points", "All points stand at the same x, so no line can be drawn through them.")
    if through_origin and not np.any(x):
        raise CoreError("too_few_points", "All points stand at x = 0, so no line through the origin is fixed by them.")


def bars_of(u: ArrayLike | None, x: Floats, axis: str) -> Floats | None:
    """Error bars as one for each point; None where there are none.

    Raises
    ------
    CoreError
        ``bad_job`` for bars that are not known or negative, with the ``indices`` of their points.
    """
    if u is None:
        return None
    bars = np.array(np.broadcast_to(np.asarray(u, dtype=np.float64), x.shape))
    bad = np.flatnonzero(~np.isfinite(bars) | (bars < 0)).tolist()
    if bad:
        places = ", ".join(str(i + 1) for i in bad[:5])
        raise CoreError(
            "bad_job",
            "Some error bars in {axis} are not known or negative (point {places}). Leave these points out, or fit without weights.",
            axis=axis,
            places=places,
            indices=bad,
        )
    if not np.any(bars):
        return None
    return bars


def weights_of(u: Floats, axis: str) -> Floats:
    """Weights 1/u².

    Raises
    ------
    CoreError
        ``bad_job`` where some points have no bar, with their ``indices``.
    """
    zero = np.flatnonzero(u == 0)
    if zero.size:
        places = ", ".join(str(int(i) + 1) for i in zero[:5])
        raise CoreError(
            "bad_job",
            "Some points have an error bar in {axis} and others have none (point {places}). "
            "Give every point its ±, or fit without weights.",
            axis=axis,
            places=places,
            indices=[int(i) for i in zero],
        )
    return np.asarray(1.0 / u**2)


def _solve(x: Floats, y: Floats, w: Floats, through_origin: bool) -> _Solution:
    """Weighted normal equations, centred on the weighted mean so that digits are not lost."""
    if through_origin:
        sxx = float(np.sum(w * x * x))
        m = float(np.sum(w * x * y)) / sxx
        m += float(np.sum(w * x * (y - m * x))) / sxx
        return _Solution(
            gradient=m, intercept=0.0, var_gradient=1 / sxx, var_intercept=0.0, covariance=0.0, influence=_influence_through_origin(w, x)
        )
    total = float(np.sum(w))
    x_mean, y_mean = float(np.sum(w * x)) / total, float(np.sum(w * y)) / total
    dx, dy = x - x_mean, y - y_mean
    dx = dx - float(np.sum(w * dx)) / total
    sxx = float(np.sum(w * dx * dx))
    m = float(np.sum(w * dx * dy)) / sxx
    m += float(np.sum(w * dx * (dy - m * dx))) / sxx
    c = y_mean - m * x_mean
    return _Solution(
        gradient=m,
        intercept=c,
        var_gradient=1 / sxx,
        var_intercept=1 / total + x_mean**2 / sxx,
        covariance=-x_mean / sxx,
        influence=_influence(w, dx, x_mean),
    )


def _influence(w: Floats, dx: Floats, x_mean: float) -> Floats:
    """∂(m, c)/∂y of a weighted line, from the places about their weighted mean."""
    by_gradient = w * dx / np.sum(w * dx * dx)
    return np.array([by_gradient, w / np.sum(w) - x_mean * by_gradient])


def _influence_through_origin(w: Floats, x: Floats) -> Floats:
    return np.array([w * x / np.sum(w * x * x), np.zeros_like(x)])


def _solve_york(x: Floats, y: Floats, sx: Floats, sy: Floats, r: Floats, *, through_origin: bool) -> tuple[_Solution, Floats]:
    """York et al. 2004, section III, steps (1) to (11); u from their equations at the adjusted points.

    Points with a zero bar in one axis are allowed as long as W stays finite. Through the origin, the centroid is held at 0.

    Raises
    ------
    CoreError
        ``did_not_converge``; ``too_large`` where x and y are the same readings.
    """
    if np.any((sx == 0) & (sy == 0)):
        weights_of(np.hypot(sx, sy), "x and y")
    vx, vy, cross = sx**2, sy**2, r * sx * sy

    def weigh(b: float) -> tuple[Floats, Floats, Floats]:
        """W, U and V for a gradient."""
        w = np.asarray(1.0 / (vy + b * b * vx - 2 * b * cross))
        if through_origin:
            return w, x, y
        # no products of vectors, whose last digit goes by where in memory they lie
        total = w.sum()
        return w, x - (w * x).sum() / total, y - (w * y).sum() / total

    def improve(b: float) -> float:
        w, u, v = weigh(b)
        weighed = w * w * (u * vy + b * v * vx - (b * u + v) * cross)
        return float((weighed * v).sum() / (weighed * u).sum())

    def misses(b: float) -> float:
        """χ² of the best line of this gradient."""
        w, u, v = weigh(b)
        off = v - b * u
        return float((w * off * off).sum())

    b = _settle(improve, misses, _solve(x, y, np.ones_like(x), through_origin).gradient)
    if not math.isfinite(b):
        raise CoreError("did_not_converge", "The fit with error bars in both axes found no line. Look at the error bars again.")
    w, u, v = weigh(b)
    # of x and y from the same readings nothing is left to weigh with but rounding, of either sign
    if np.any(np.abs(w) * (vy + b * b * vx) * SAME_READINGS >= 1):
        raise CoreError("too_large", _NOT_FIXED)
    if through_origin:
        adjusted = w * (x * vy + b * y * vx - (b * x + y) * cross)
        return _Solution(
            gradient=b,
            intercept=0.0,
            var_gradient=1 / float(np.sum(w * adjusted**2)),
            var_intercept=0.0,
            covariance=0.0,
            influence=_influence_through_origin(w, adjusted),
        ), w
    x_mean, y_mean = float(np.sum(w * x) / np.sum(w)), float(np.sum(w * y) / np.sum(w))
    beta = w * (u * vy + b * v * vx - (b * u + v) * cross)
    adjusted = x_mean + beta
    adjusted_mean = float(np.sum(w * adjusted) / np.sum(w))
    about_mean = adjusted - adjusted_mean
    var_b = 1.0 / float(np.sum(w * about_mean**2))
    var_a = 1.0 / float(np.sum(w)) + adjusted_mean**2 * var_b
    return _Solution(
        gradient=b,
        intercept=y_mean - b * x_mean,
        var_gradient=var_b,
        var_intercept=var_a,
        covariance=-adjusted_mean * var_b,
        influence=_influence(w, about_mean, adjusted_mean),
    ), w


SAME_READINGS = 1e-12
"""Share of the two bars' variance of which no more than this is left where a bar in x and a bar in y are one."""
MOST_STEPS, PLAIN_STEPS = 500, 20
SETTLED = 1e-13
"""Share of a gradient within which steps that no longer shrink are rounding."""


def _settle(improve: Callable[[float], float], misses: Callable[[float], float], start: float) -> float:
    """Where York's iteration comes to rest, or leaves the numbers: its weights are without measure there.

    It converges slowly where bars in x say most, and swings between two gradients where the steps are too long. So when it has had time to
    come near a minimum, after every two steps Aitken's Δ² process (A. C. Aitken, Proc. R. Soc. Edinburgh 46, 289 (1926)) says where they
    lead to; that is taken unless χ² is larger there.

    Raises
    ------
    CoreError
        ``did_not_converge``.
    """
    b, last = start, math.inf
    for turn in range(MOST_STEPS // 2):
        first = improve(b)
        second = improve(first) if math.isfinite(first) else first
        if not math.isfinite(second):
            return b
        moved = abs(second - first)
        if moved <= 4e-16 * abs(second) or (moved <= SETTLED * abs(second) and moved >= last):
            return second
        last = moved
        bend = second - 2 * first + b
        further = second - (second - first) ** 2 / bend if bend and 2 * turn > PLAIN_STEPS else math.nan
        b = further if math.isfinite(further) and misses(further) <= misses(second) * (1 + 1e-12) else second
    if last > 1e-11 * abs(b):
        raise CoreError("did_not_converge", "The fit with error bars in both axes did not settle. Fit with the bars in y only.")
    return b


def _check_solution(s: _Solution, weights: Floats) -> _Solution:
    """Refuse a line that the numbers do not fix: weights without measure (bars of almost nothing, or x and y from the same readings).

    Raises
    ------
    CoreError
        ``too_large``.
    """
    numbers = np.array([s.gradient, s.intercept, s.var_gradient, s.var_intercept, s.covariance])
    if not (np.all(np.isfinite(numbers)) and np.all(np.isfinite(weights))):
        raise CoreError("too_large", _NOT_FIXED)
    return s


_NOT_FIXED = (
    "These points and their bars do not fix a line: a bar is far too small or too large, or x and y are the same readings. "
    "Look for a mistyped number, or fit without weights."
)


def _describe(x: Floats, y: Floats, s: _Solution, w: Floats, method: LineMethod, *, through_origin: bool, scale: ScaleKind) -> LineFit:
    residuals = y - (s.gradient * x + s.intercept)
    dof = x.size - (1 if through_origin else 2)
    ss = float(residuals @ residuals)
    if not math.isfinite(ss):
        raise CoreError("too_large", "The numbers are too large for a line to be computed from them. Look for a mistyped one.")
    # as many points as parameters: the line goes through them, and their scatter is not known
    variance = ss / dof if dof else math.inf
    chi2 = reduced = p = None
    factor = variance if method == "ols" else 1.0
    if method != "ols":
        chi2 = float(np.sum(w * residuals**2))
        if dof:
            reduced, p = chi2 / dof, float(chdtrc(dof, chi2))
        if scale == "scatter":
            factor = math.inf if reduced is None else reduced
    r, r2 = _correlation(x, y, ss if method == "ols" else None, through_origin, residuals, w=w)
    return LineFit(
        gradient=s.gradient,
        intercept=s.intercept,
        u_gradient=math.sqrt(s.var_gradient * factor),
        u_intercept=math.sqrt(s.var_intercept * factor),
        covariance=s.covariance * factor if s.covariance else 0.0,
        dof=dof,
        chi2=chi2,
        reduced_chi2=reduced,
        p_value=p,
        r=r,
        r2=r2,
        residual_sd=math.sqrt(variance) if dof else 0.0,
        method=method,
        scale="scatter" if method == "ols" else scale,
        n=int(x.size),
        influence=s.influence,
        through_origin=through_origin,
    )


def _correlation(
    x: Floats, y: Floats, ss: float | None, through_origin: bool, residuals: Floats, *, w: Floats
) -> tuple[float | None, float | None]:
    """r of the points; R² of the line: unweighted for ordinary, weighted where the fit was weighted."""
    if through_origin:
        against_zero = float(np.sum(w * y * y))
        return None, 1 - float(np.sum(w * residuals**2)) / against_zero if against_zero else None
    mean = float(np.sum(w * y) / np.sum(w))
    total = float(np.sum(w * (y - mean) ** 2))
    if total == 0:
        return None, None
    dx, dy = x - x.mean(), y - y.mean()
    spread = math.sqrt(float(dx @ dx) * float(dy @ dy))
    r = float(dx @ dy) / spread if spread else None
    return r, 1 - (ss if ss is not None else float(np.sum(w * residuals**2))) / total
