"""Fit a shape that need not be a line: least squares with one or two error bars, from starting values found here.

The Levenberg–Marquardt steps are MINPACK's. A result counts only when a further Gauss–Newton step would change nothing
against the parameters' own uncertainty (after D. M. Bates and D. G. Watts, Technometrics 23, 179 (1981)), when the data fix every
parameter, and when no other start led lower; otherwise the answer is a named error, never a wrong number.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import leastsq
from scipy.special import chdtrc

from hobrel.core.errors import CoreError
from hobrel.core.fitting.least_distance import NOISE, SINGULAR, find_least_distance
from hobrel.core.fitting.line import ScaleKind, bars_of, weights_of
from hobrel.core.fitting.search import search_starts
from hobrel.core.fitting.shapes import Model, Shape
from hobrel.core.uncertainty.traced import Floats

_HUGE = 1e120
_SHORT, _PROMISING = 25, 5


@dataclass(frozen=True)
class CurveFit:
    """A fitted shape.

    Attributes
    ----------
    values, u : ndarray, shape (k,)
        Parameters and their standard uncertainties, in the order of `shape.parameters`. From the scatter without bars;
        from the bars at their word with them, unless `scale` is ``scatter``. Infinite where there are no degrees of freedom left.
    covariance : ndarray, shape (k, k)
    residuals : ndarray, shape (N,)
    residual_ss : float
        Σ(y − f)², unweighted.
    residual_sd : float
        √(residual_ss/dof).
    chi2, reduced_chi2, p_value : float or None
        Where bars were given.
    r2 : float or None
    method : {"ols", "weighted", "orthogonal_distance"}
    influence : ndarray, shape (k, N)
        How far each parameter moves for each unit that a point is off the curve by: with the points' variances it makes the covariance.
    slopes : ndarray, shape (N,), or None
        Of the curve at the (adjusted) points, where bars in x count.
    """

    shape: Shape
    values: Floats
    u: Floats
    covariance: Floats
    residuals: Floats
    residual_ss: float
    residual_sd: float
    dof: int
    chi2: float | None
    reduced_chi2: float | None
    p_value: float | None
    r2: float | None
    method: str
    scale: ScaleKind
    influence: Floats = field(repr=False, compare=False)
    slopes: Floats | None = field(default=None, repr=False, compare=False)

    def at(self, x: ArrayLike) -> Floats:
        """f at x."""
        places = np.atleast_1d(np.asarray(x, dtype=np.float64))
        return self.shape.over(places).values(self.values)

    def u_at(self, x: ArrayLike) -> Floats:
        """Standard uncertainty of the curve at x, from the covariance."""
        places = np.atleast_1d(np.asarray(x, dtype=np.float64))
        _, jacobian = self.shape.over(places).with_jacobian(self.values)
        return np.asarray(np.sqrt(np.maximum(np.einsum("ni,ij,nj->n", jacobian, self.covariance, jacobian), 0.0)))

    def leverages(self, x: ArrayLike) -> Floats:
        """How much each of the points that it was fitted to, at x, moves the curve where it stands: 1 for one that it cannot miss."""
        _, jacobian = self.shape.over(np.asarray(x, dtype=np.float64)).with_jacobian(self.values)
        return np.asarray(np.einsum("nk,kn->n", jacobian, self.influence))

    def only_noise(self, x: ArrayLike, y: ArrayLike) -> list[bool]:
        """Which parameters are only rounding: leaving them out changes y by less than 10⁻⁹ of its size."""
        model = self.shape.over(np.asarray(x, dtype=np.float64))
        size = float(np.max(np.abs(np.asarray(y, dtype=np.float64))))
        whole = model.values(self.values)
        found = []
        for i in range(self.values.size):
            without = self.values.copy()
            without[i] = 0.0
            change = np.abs(model.values(without) - whole)
            found.append(bool(np.all(np.isfinite(change)) and np.max(change) <= NOISE * size))
        return found


def fit_shape(
    x: ArrayLike,
    y: ArrayLike,
    shape: Shape,
    uy: ArrayLike | None = None,
    ux: ArrayLike | None = None,
    *,
    start: Sequence[float] | None = None,
    near: Sequence[float] | None = None,
    scale: ScaleKind = "absolute",
) -> CurveFit:
    """Fit a shape.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    shape : Shape
        From `find_shape` or `own_shape`.
    uy, ux : array_like, shape (N,) or scalar, optional
        Standard uncertainties. With both, the orthogonal distance is minimised.
    start : sequence of float, optional
        Where to begin. The core looks from places of its own as well, and takes the best.
    near : sequence of float, optional
        The same, of a place that is known to be near: places of its own only where nothing settles from there.

    Raises
    ------
    CoreError
        ``too_few_points``, ``outside_domain``, ``did_not_converge``, ``bad_job`` for bars that are missing.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if xs.shape != ys.shape or xs.ndim != 1:
        raise CoreError("bad_job", "x and y must be lists of the same length.")
    count = len(shape.parameters)
    if xs.size < count:
        raise CoreError("too_few_points", "{words} needs {count} or more points and has {n}.", words=shape.words, count=count, n=xs.size)
    shape.check_domain(xs)
    sy, sx = bars_of(uy, xs, "y"), bars_of(ux, xs, "x")
    if sx is not None and sy is None:
        raise CoreError("bad_job", "Error bars in x alone cannot weight a fit. Give the error bars in y too.")
    w = np.ones_like(xs) if sy is None else np.sqrt(weights_of(sy, "y"))
    given = start if near is None else near
    if given is not None and len(given) != count:
        raise CoreError("bad_job", "There are {count} parameters, and {n} starting values.", count=count, n=len(given))
    model, begin = shape.over(xs), None if given is None else np.asarray(given, dtype=np.float64)
    if count and near is not None and begin is not None and sx is not None and sy is not None:
        with suppress(CoreError):
            return _fit_both_axes(model, ys, begin, sx, sy, scale=scale)
    best = _settle(model, ys, w, begin, near is not None) if count else np.zeros(0)
    if sx is None or sy is None:
        values, jacobian = model.with_jacobian(best)
        return _describe(
            shape, xs, ys, best, jacobian, w=w, rest=w * (ys - values), method="ols" if sy is None else "weighted", scale=scale
        )
    if not count:
        return _lay_over(model, ys, sx, sy, scale=scale)
    return _fit_both_axes(model, ys, best, sx, sy, scale=scale)


@dataclass(frozen=True)
class _Run:
    """Where a descent ended: sum of squares, parameters, and whether they have settled."""

    ss: float
    p: Floats
    settled: bool


def _settle(model: Model, y: Floats, w: Floats, start: Floats | None, near: bool) -> Floats:
    """The best minimum over all starts: a short descent from each, then to the end from the most promising; or what is settled in near.

    Raises
    ------
    CoreError
        ``did_not_converge``.
    """
    runs = [] if start is None or (run := _descend(model, y, w, start, model.shape.patience)) is None else [run]
    if near and runs and runs[0].settled:
        return _canonical(model.shape, runs[0].p)
    named = [np.asarray(s, dtype=np.float64) for s in model.shape.starts(model.x, y)]
    own = named or search_starts(model, y, w)
    short = [run for s in own if (run := _descend(model, y, w, s, _SHORT)) is not None]
    promising = _different(short, 2 if named else _PROMISING)
    runs.extend(run for other in promising if (run := _descend(model, y, w, other.p, model.shape.patience)) is not None)
    if not runs:
        raise CoreError("did_not_converge", "{words}: no values were found for which it comes near the points.", words=model.shape.words)
    least = min(run.ss for run in runs)
    floor = (1e-15 * float(np.max(np.abs(w * y)))) ** 2 * y.size
    lowest = [run for run in runs if run.settled and run.ss <= least * (1 + 1e-7) + floor]
    if not lowest:
        raise CoreError(
            "did_not_converge",
            "{words}: the fit did not settle, because the points do not fix all its parameters. "
            "Try a simpler shape, or more points where it bends.",
            words=model.shape.words,
        )
    if start is not None:
        # equal descriptions (two terms that may change places): the one that the start is nearest to
        lowest.sort(key=lambda run: float(np.sum(((run.p - start) / (np.abs(run.p) + np.abs(start) + 1e-300)) ** 2)))
    return _canonical(model.shape, lowest[0].p)


def _different(runs: list[_Run], most: int) -> list[_Run]:
    """The lowest few, without those that ended in the same place."""
    chosen: list[_Run] = []
    for run in sorted(runs, key=lambda r: r.ss):
        if all(abs(run.ss - other.ss) > 1e-6 * other.ss for other in chosen):
            chosen.append(run)
        if len(chosen) == most:
            break
    return chosen


def _descend(model: Model, y: Floats, w: Floats, start: Floats, steps: int) -> _Run | None:
    """Levenberg–Marquardt from one start; None where it leads nowhere."""

    # slopes are asked for where residuals were asked for last, and both together cost little more than one of them
    slopes: dict[bytes, Floats] = {}

    def residuals(p: Floats) -> Floats:
        values, j = model.with_jacobian(p)
        slopes.clear()
        slopes[p.tobytes()] = np.where(np.isfinite(j), j, 0.0) * w[:, None]
        return np.where(np.isfinite(values), w * (values - y), _HUGE)

    def jacobian(p: Floats) -> Floats:
        if p.tobytes() not in slopes:
            residuals(p)
        return slopes[p.tobytes()]

    if not np.all(np.isfinite(model.values(start))):
        return None
    with np.errstate(all="ignore"):
        p, *_ = leastsq(residuals, start, Dfun=jacobian, ftol=1e-13, xtol=1e-13, gtol=0.0, maxfev=steps, full_output=True)
    p = np.asarray(p, dtype=np.float64)
    if not np.all(np.isfinite(p)):
        return None
    if steps == model.shape.patience:
        return _polish(model, y, w, p)
    with np.errstate(over="ignore"):
        ss = float(np.sum(residuals(p) ** 2))
    return _Run(ss, p, False) if ss < _HUGE else None


def _polish(model: Model, y: Floats, w: Floats, p: Floats) -> _Run | None:
    """Gauss–Newton steps by QR until they are lost in rounding; then whether the last one was negligible."""
    best: _Run | None = None
    exact_x, exact_y = as_written(model.x), as_written(y)
    reach = math.sqrt(float(np.sum((w * y) ** 2)))
    for _ in range(12):
        _, jacobian = model.with_jacobian(p)
        values = model.values(p, exact_x)
        if not (np.all(np.isfinite(values)) and np.all(np.isfinite(jacobian))):
            return best
        rest, columns = np.asarray(w * (exact_y - values), dtype=np.float64), jacobian * w[:, None]
        with np.errstate(over="ignore"):
            ss = float(np.sum(rest**2))
        if not ss < _HUGE:
            return best
        if best is not None and ss >= best.ss:
            return best
        size = np.sqrt(np.sum(columns**2, axis=0))
        if not np.all(size > 0):
            return _Run(ss, p, False)
        _, singular, turned = np.linalg.svd(columns / size, full_matrices=False)
        if singular[-1] < SINGULAR * singular[0]:
            return _Run(ss, p, False)
        step = np.linalg.lstsq(columns / size, rest, rcond=None)[0] / size
        spread = np.sqrt(np.sum((turned / singular[:, None]) ** 2, axis=0)) / size
        u = spread * math.sqrt(ss / max(y.size - p.size, 1))
        # negligible: against the parameter, against its uncertainty, or in what it changes of y
        small = (np.abs(step) <= np.maximum(1e-8 * np.abs(p), 1e-5 * u)) | (np.abs(step) * size <= 1e-13 * reach)
        best = _Run(ss, p, bool(np.all(small)))
        p = p + step
    return best


def as_written(values: Floats) -> Floats:
    """Numbers as their shortest decimal text says, in extended precision: residuals near rounding then keep their digits."""
    return np.array([np.longdouble(repr(v)) for v in values.tolist()])


def _canonical(shape: Shape, p: Floats) -> Floats:
    """Of a sine's equal descriptions, the one with positive amplitude and frequency and a phase within half a turn."""
    if shape.name != "sine":
        return p
    a, b, c, d = p
    if b < 0:
        a, b, c = -a, -b, -c
    if a < 0:
        a, c = -a, c + math.pi
    return np.array([a, b, math.remainder(c, 2 * math.pi), d])


def _describe(
    shape: Shape, x: Floats, y: Floats, p: Floats, jacobian: Floats, *, w: Floats, rest: Floats, method: str, scale: ScaleKind,
) -> CurveFit:  # fmt: skip
    columns = jacobian * w[:, None]
    dof = y.size - p.size
    residuals = np.asarray(as_written(y) - shape.over(x).values(p, as_written(x)), dtype=np.float64)
    ss = float(residuals @ residuals)
    chi2 = reduced = probability = None
    factor = ss / dof if dof else math.inf
    if method != "ols":
        chi2 = float(rest @ rest)
        factor = 1.0
        if dof:
            reduced, probability = chi2 / dof, float(chdtrc(dof, chi2))
        if scale == "scatter":
            factor = math.inf if reduced is None else reduced
    size = np.sqrt(np.sum(columns**2, axis=0))
    _, singular, turned = np.linalg.svd(columns / size, full_matrices=False)
    root = (turned / singular[:, None]) / size
    unscaled = root.T @ root
    covariance = np.full_like(unscaled, math.inf) if math.isinf(factor) else unscaled * factor
    total = float(np.sum((y - y.mean()) ** 2))
    return CurveFit(
        shape=shape,
        values=p,
        u=np.sqrt(np.diag(covariance)),
        covariance=covariance,
        residuals=residuals,
        residual_ss=ss,
        residual_sd=math.sqrt(ss / dof) if dof else 0.0,
        dof=dof,
        chi2=chi2,
        reduced_chi2=reduced,
        p_value=probability,
        r2=1 - ss / total if total else None,
        method=method,
        scale="scatter" if method == "ols" else scale,
        influence=unscaled @ columns.T * w,
    )


def _lay_over(model: Model, y: Floats, ux: Floats, uy: Floats, *, scale: ScaleKind) -> CurveFit:
    """A shape without parameters beside points with bars along both axes: a bar along x counts by the slope of the curve there."""
    p, slope = np.zeros(0), model.slope(np.zeros(0))
    values, jacobian = model.with_jacobian(p)
    effective = np.hypot(uy, slope * ux)
    found = _describe(model.shape, model.x, y, p, jacobian, w=1 / effective, rest=(y - values) / effective, method="weighted", scale=scale)
    return replace(found, slopes=slope)


def _fit_both_axes(model: Model, y: Floats, p: Floats, ux: Floats, uy: Floats, *, scale: ScaleKind) -> CurveFit:
    """By the least distance, in bars; u at the adjusted points, unscaled.

    Raises
    ------
    CoreError
        ``did_not_converge``.
    """
    nearest = find_least_distance(model, y, p, ux, uy)
    fitted, jacobian, slope = model.with_all_slopes(nearest.parameters, nearest.x)
    if not (np.all(np.isfinite(jacobian)) and np.all(np.isfinite(slope))):
        raise CoreError("did_not_converge", "The fit with error bars in both axes did not settle. Fit with the bars in y only.")
    effective, free = np.hypot(uy, slope * ux), ux > 0
    distance = np.hypot((y - fitted) / uy, np.where(free, (model.x - nearest.x) / np.where(free, ux, 1.0), 0.0))
    found = _describe(
        model.shape,
        model.x,
        y,
        _canonical(model.shape, nearest.parameters),
        jacobian,
        w=1 / effective,
        rest=distance,
        method="orthogonal_distance",
        scale=scale,
    )
    return replace(found, slopes=slope)
