"""One line through the points of a whole class, whose benches each have a line of their own that scatters about it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize

from hobrel.core.errors import CoreError
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.statistics.pool import COVERAGE
from hobrel.core.uncertainty.traced import Floats

LEAST_BENCHES, LEAST_POINTS = 3, 3
FARTHEST = 1e6
"""Times that widths of points, or their sizes, may differ: beyond that one decides, and the others are rounding."""
_TOO_FAR_APART = "The points of the class differ so much in size that no line goes through them."
Square = NDArray[np.float64]


@dataclass(frozen=True)
class BenchPoints:
    """The points of one bench, and how wide each is along y in proportion to the others."""

    x: Floats
    y: Floats
    width: Floats


@dataclass(frozen=True)
class ClassLine:
    """A class's line ``y = intercept + gradient · x``; through the origin it has no intercept.

    Attributes
    ----------
    gradient, intercept : float
        Of the class; in the units of y/x and y.
    u_gradient, u_intercept : float
        Standard uncertainties times Student's t for the coverage of one standard deviation, with one degree of freedom less than benches.
    tau_gradient, tau_intercept : float
        Standard deviations between the benches' own lines.
    within : float
        What is left within benches, in widths of the points.
    """

    benches: int
    points: int
    gradient: float
    u_gradient: float
    intercept: float | None
    u_intercept: float | None
    tau_gradient: float
    tau_intercept: float | None
    within: float

    def at(self, x: float) -> float:
        """Where it is at a place along x."""
        return (self.intercept or 0.0) + self.gradient * x


@dataclass(frozen=True)
class _Scaled:
    """All benches in whitened form, bench by bench: XᵀX, Xᵀy; and the sum of yᵀy, and the number of points."""

    xx: Floats
    xy: Floats
    yy: float
    count: int


def fit_class_line(benches: Sequence[BenchPoints], through_origin: bool = False) -> ClassLine:
    """Fit a line with lines of benches that scatter about it, by restricted maximum likelihood.

    Laird and Ware, Biometrics 38, 963 (1982): gradient and intercept of a bench are those of the class plus its own, with a covariance
    that is estimated; what is left within benches has a variance that is estimated, in proportion to the points' widths.

    Parameters
    ----------
    benches : sequence of BenchPoints
    through_origin : bool

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than three benches with three points each; ``no_spread`` where all points have one x; ``no_line``
        where sizes or widths differ too much.
    """
    usable = [b for b in benches if b.x.size >= LEAST_POINTS]
    if len(usable) < LEAST_BENCHES:
        raise CoreError("too_few_points", "A line of the class needs three benches with three points each.")
    x_all = np.concatenate([b.x for b in usable])
    if float(np.ptp(x_all)) <= 1e-12 * float(np.max(np.abs(x_all)) or 1.0):
        raise CoreError("no_spread", "All points of the class are at one place along x.")
    widths = np.concatenate([b.width for b in usable])
    _check_sizes(x_all, np.concatenate([b.y for b in usable]), widths)
    # around the middle and in units of the spread, so that the two parameters are told apart as well as they can be
    middle, x_scale = (0.0, float(np.max(np.abs(x_all)))) if through_origin else (float(x_all.mean()), float(x_all.std()))
    width = float(np.exp(np.mean(np.log(widths)))) if bool(np.all(widths > 0)) else 0.0
    y_scale = _scale_of_residuals(usable, middle, x_scale, through_origin)
    scaled = _whiten(usable, (middle, x_scale, y_scale, width), through_origin)
    try:
        beta, covariance, sigma2, tau = _solve(_maximise(scaled), scaled)
    except (_Nowhere, np.linalg.LinAlgError):
        raise CoreError("no_line", _TOO_FAR_APART) from None
    factor = coverage_factor(COVERAGE, len(usable) - 1)
    back = np.array([[y_scale / x_scale]]) if through_origin else y_scale * np.array([[1.0, -middle / x_scale], [0.0, 1 / x_scale]])
    values, spread, between = back @ beta, back @ covariance @ back.T, back @ tau @ back.T
    u, t = np.sqrt(np.diag(spread)) * factor, np.sqrt(np.maximum(np.diag(between), 0.0))
    return ClassLine(
        benches=len(usable),
        points=int(x_all.size),
        gradient=float(values[-1]),
        u_gradient=float(u[-1]),
        intercept=None if through_origin else float(values[0]),
        u_intercept=None if through_origin else float(u[0]),
        tau_gradient=float(t[-1]),
        tau_intercept=None if through_origin else float(t[0]),
        within=math.sqrt(sigma2) * y_scale / (width or 1.0),
    )


def _check_sizes(x: Floats, y: Floats, widths: Floats) -> None:
    """Refuse what cannot be told in floating point.

    Raises
    ------
    CoreError
        ``no_line``.
    """
    sizes = np.concatenate([np.abs(x), np.abs(y)])
    whole = bool(np.all(np.isfinite(sizes)) and np.all(sizes < 1e100))
    if not whole or float(np.max(widths)) > FARTHEST * float(np.min(widths)):
        raise CoreError("no_line", _TOO_FAR_APART)


def _columns(x: Floats, middle: float, scale: float, through_origin: bool) -> Square:
    z = (x - middle) / scale
    return z[:, None] if through_origin else np.column_stack([np.ones_like(z), z])


def _scale_of_residuals(benches: Sequence[BenchPoints], middle: float, scale: float, through_origin: bool) -> float:
    """The standard deviation of what one common line leaves; of y itself where that is nothing."""
    design = np.concatenate([_columns(b.x, middle, scale, through_origin) for b in benches])
    y = np.concatenate([b.y for b in benches])
    left = y - design @ np.linalg.lstsq(design, y, rcond=None)[0]
    size = float(np.sqrt(np.mean(left**2)))
    return size if size > 1e-12 * float(np.max(np.abs(y))) else float(np.max(np.abs(y))) or 1.0


def _whiten(benches: Sequence[BenchPoints], frame: tuple[float, float, float, float], through_origin: bool) -> _Scaled:
    middle, x_scale, y_scale, width = frame
    xx, xy, yy = [], [], 0.0
    for b in benches:
        relative = b.width / width if width > 0 else np.ones_like(b.x)
        design = _columns(b.x, middle, x_scale, through_origin) / relative[:, None]
        y = b.y / y_scale / relative
        xx.append(design.T @ design)
        xy.append(design.T @ y)
        yy += float(y @ y)
    return _Scaled(np.array(xx), np.array(xy), yy, sum(b.x.size for b in benches))


def _factor(theta: Floats) -> Square:
    """The lower triangle whose square is the covariance between benches over the variance within."""
    if theta.size == 1:
        return np.array([[theta[0]]])
    return np.array([[theta[0], 0.0], [theta[1], theta[2]]])


class _Nowhere(Exception):
    """A place at which the likelihood cannot be told in floating point: so far out that no scatter of benches is there."""


@dataclass(frozen=True)
class _Profile:
    """Minus twice the restricted log likelihood with the variance within taken out, its slope by the factor, and what both are made of."""

    deviance: float
    slope: Floats
    beta: Floats
    information: Square
    sigma2: float


def _profile(theta: Floats, benches: _Scaled) -> _Profile:
    """With T = L Lᵀ, G = (T⁻¹ + XᵀX)⁻¹ and P = XᵀX − XᵀX G XᵀX of each bench (all within small matrices): V⁻¹ = I − X G Xᵀ and
    det V = det(I + Lᵀ XᵀX L). By dG = (I − G XᵀX) dT (I − XᵀX G), the slope by T is Σ P − Σ P M⁻¹ P − ν/S Σ e eᵀ, where M = Σ P.

    Raises
    ------
    _Nowhere
        Where it cannot be told in floating point.
    """
    lower = _factor(theta)
    size = lower.shape[0]
    inner = np.eye(size) + lower.T @ benches.xx @ lower
    volumes = np.linalg.det(inner)
    if not bool(np.all(np.isfinite(volumes) & (volumes > 0))):
        raise _Nowhere
    gain = lower @ np.linalg.inv(inner) @ lower.T
    weighed = benches.xx @ gain
    part = benches.xx - weighed @ benches.xx
    information = part.sum(axis=0)
    right = (benches.xy - np.einsum("kij,kj->ki", weighed, benches.xy)).sum(axis=0)
    square = benches.yy - float(np.einsum("ki,kij,kj->", benches.xy, gain, benches.xy))
    whole = float(np.linalg.det(information))
    if not (math.isfinite(whole) and whole > 0):
        raise _Nowhere
    beta = np.linalg.solve(information, right)
    dof = benches.count - size
    left = max(square - float(right @ beta), 1e-24 * max(square, 1.0))
    log_det = float(np.log(volumes).sum()) + math.log(whole)
    away = benches.xy - benches.xx @ beta
    error = away - np.einsum("kij,kj->ki", weighed, away)
    by_covariance = information - (part @ np.linalg.inv(information) @ part).sum(axis=0) - dof / left * error.T @ error
    slope = (2 * by_covariance @ lower)[np.tril_indices(size)]
    return _Profile(log_det + dof * math.log(left / dof), slope, beta, information, left / dof)


def _start(benches: _Scaled) -> Floats:
    """Where to begin: the covariance of the benches' own lines, less what their points explain of it."""
    # the points of a bench may all be at one place along x
    inverse = np.linalg.pinv(benches.xx, hermitian=True)
    own = np.einsum("kij,kj->ki", inverse, benches.xy)
    k, size = own.shape
    explained = float(np.einsum("ki,ki->", own, benches.xy))
    sigma2 = max(benches.yy - explained, 1e-12 * benches.yy) / max(benches.count - k * size, 1)
    scatter = np.atleast_2d(np.cov(own, rowvar=False)) / sigma2 - inverse.mean(axis=0)
    values, vectors = np.linalg.eigh(scatter)
    lower = np.linalg.cholesky((vectors * np.maximum(values, 0.01)) @ vectors.T)
    return lower[np.tril_indices(size)]


def _maximise(benches: _Scaled) -> Floats:
    def look(theta: Floats) -> tuple[float, Floats]:
        try:
            found = _profile(theta, benches)
        except _Nowhere:
            return math.inf, np.zeros_like(theta)
        return found.deviance, found.slope

    found = minimize(look, _start(benches), method="BFGS", jac=True, options={"gtol": 1e-5})
    none = np.zeros(found.x.size)
    # no scatter between benches lies at the edge, which a descent only comes near
    return none if _profile(none, benches).deviance <= float(found.fun) + 1e-9 else np.asarray(found.x, dtype=np.float64)


def _solve(theta: Floats, benches: _Scaled) -> tuple[Floats, Square, float, Square]:
    found, lower = _profile(theta, benches), _factor(theta)
    covariance: Square = found.sigma2 * np.asarray(np.linalg.inv(found.information), dtype=np.float64)
    return found.beta, covariance, found.sigma2, found.sigma2 * lower @ lower.T
