"""Polynomials and several predictors, without losing digits.

A polynomial is fitted in polynomials that are orthogonal on the points themselves (three-term recurrence, G. E. Forsythe,
J. SIAM 5, 74 (1957)), which keeps its full precision where the normal equations in powers of x lose all of it. Sums run in
the machine's extended precision.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import bars_of, weights_of
from hobrel.core.uncertainty.traced import Floats

HIGHEST_DEGREE = 12
NOISE = 1e-9
_Long = NDArray[np.longdouble]


@dataclass(frozen=True)
class LinearFit:
    """Coefficients of a model that is linear in them.

    Attributes
    ----------
    coefficients, u : ndarray, shape (k,)
        Constant term first. Without bars, `u` comes from the residual scatter with N − k degrees of freedom; with bars it
        comes from them ("absolute").
    covariance : ndarray, shape (k, k)
    residuals : ndarray, shape (N,)
    residual_sd : float
        √(Σr²/dof), in unit of y; 0 where dof is 0.
    r2 : float or None
        Through the origin against zero; None where it has no meaning.
    chi2 : float or None
        Where bars were given.
    """

    coefficients: Floats
    u: Floats
    covariance: Floats
    residuals: Floats
    residual_sd: float
    r2: float | None
    dof: int
    chi2: float | None
    through_origin: bool


def fit_polynomial(x: ArrayLike, y: ArrayLike, degree: int, uy: ArrayLike | None = None, through_origin: bool = False) -> LinearFit:
    """Fit a polynomial by least squares, weighted with 1/u² where bars are given.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    degree : int, 1 to 12
    uy : array_like, shape (N,) or scalar, optional
    through_origin : bool
        Leave the constant term out; it is given as 0 with u = 0.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer different x than coefficients; ``bad_job`` for a degree out of reach or bars that are missing.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if not 1 <= degree <= HIGHEST_DEGREE:
        raise CoreError("bad_job", "The degree of a polynomial lies between 1 and {highest}.", highest=HIGHEST_DEGREE)
    if xs.shape != ys.shape or xs.ndim != 1:
        raise CoreError("bad_job", "x and y must be lists of the same length.")
    count = degree if through_origin else degree + 1
    places = np.unique(xs[xs != 0] if through_origin else xs).size
    if places < count:
        raise CoreError(
            "too_few_points", "{count} coefficients need at least {count} different x; there are {places}.", count=count, places=places
        )
    bars = bars_of(uy, xs, "y")
    w = np.ones_like(xs) if bars is None else weights_of(bars, "y")
    basis, coefficients = _orthogonal_basis(xs, w, degree, through_origin)
    root = np.sqrt(w.astype(np.longdouble))
    return _solve(basis, coefficients, root, ys, bars is not None, through_origin=through_origin)


def _orthogonal_basis(x: Floats, w: Floats, degree: int, through_origin: bool) -> tuple[_Long, _Long]:
    """Orthonormal polynomials on the weighted points, at the points and as coefficients of powers of x, one a row."""
    long_x, root = x.astype(np.longdouble), np.sqrt(w.astype(np.longdouble))
    scale = np.longdouble(np.max(np.abs(x)))
    t = long_x / scale
    values: list[_Long] = []
    powers: list[_Long] = []
    current = root * t if through_origin else root.copy()
    power = np.zeros(degree + 1, dtype=np.longdouble)
    power[1 if through_origin else 0] = 1
    for _ in range(degree if through_origin else degree + 1):
        # orthogonalised twice: the second pass takes out what rounding left
        for _pass in range(2):
            for q, p in zip(values, powers, strict=True):
                overlap = q @ current
                current, power = current - overlap * q, power - overlap * p
        norm = np.sqrt(current @ current)
        values.append(current / norm)
        powers.append(power / norm)
        current = t * values[-1]
        power = np.concatenate(([np.longdouble(0)], powers[-1][:-1]))
    rescale = scale ** -np.arange(degree + 1)
    return np.array(values), np.array(powers) * rescale


def fit_multilinear(columns: Sequence[ArrayLike], y: ArrayLike) -> LinearFit:
    """Fit y = b₀ + b₁x₁ + b₂x₂ + … by ordinary least squares.

    Parameters
    ----------
    columns : sequence of array_like, shape (N,) each
    y : array_like, shape (N,)

    Raises
    ------
    CoreError
        ``too_few_points``; ``bad_job`` where one column is made of the others.
    """
    ys = np.asarray(y, dtype=np.float64)
    raw = [np.asarray(c, dtype=np.float64) for c in columns]
    if any(c.shape != ys.shape for c in raw) or ys.ndim != 1:
        raise CoreError("bad_job", "All lists must be of the same length.")
    count = len(raw) + 1
    if ys.size < count:
        raise CoreError("too_few_points", "{count} coefficients need at least {count} settings; there are {n}.", count=count, n=ys.size)
    values: list[_Long] = []
    powers: list[_Long] = []
    for place, column in enumerate([np.ones_like(ys), *raw]):
        current, combination = column.astype(np.longdouble), np.zeros(count, dtype=np.longdouble)
        combination[place] = 1
        size = np.sqrt(current @ current)
        for _pass in range(2):
            for q, p in zip(values, powers, strict=True):
                overlap = q @ current
                current, combination = current - overlap * q, combination - overlap * p
        norm = np.sqrt(current @ current)
        if not norm > 1e-13 * size:
            raise CoreError(
                "bad_job", "Column {place} is made of the other columns, so its coefficient is not fixed by the data.", place=place
            )
        values.append(current / norm)
        powers.append(combination / norm)
    return _solve(np.array(values), np.array(powers), np.ones(ys.size, dtype=np.longdouble), ys, False, through_origin=False)


def _solve(basis: _Long, powers: _Long, root: _Long, y: Floats, weighted: bool, *, through_origin: bool) -> LinearFit:
    """Project on an orthonormal basis, and write the result in the coefficients that the basis is made of."""
    long_y = y.astype(np.longdouble) * root
    rest = long_y.copy()
    amounts = np.zeros(len(basis), dtype=np.longdouble)
    for _pass in range(2):
        step = basis @ rest
        amounts, rest = amounts + step, rest - step @ basis
    dof = y.size - len(basis)
    ss = float(rest @ rest)
    plain = np.asarray(rest / root, dtype=np.float64)
    plain_ss = float(plain @ plain)
    factor = 1.0 if weighted else (ss / dof if dof else math.inf)
    spread = np.asarray(np.sum(powers**2, axis=0), dtype=np.float64)
    covariance = np.asarray(powers.T @ powers, dtype=np.float64)
    centre = np.longdouble(0) if through_origin else (root @ long_y) / (root @ root)
    total = float(np.sum((long_y - centre * root) ** 2))
    with np.errstate(invalid="ignore"):
        u = np.where(spread > 0, np.sqrt(spread * factor), 0.0)
        covariance = np.where(covariance != 0, covariance * factor, 0.0)
    return LinearFit(
        coefficients=np.asarray(amounts @ powers, dtype=np.float64),
        u=u,
        covariance=covariance,
        residuals=plain,
        residual_sd=math.sqrt(plain_ss / dof) if dof else 0.0,
        r2=1 - ss / total if total > 0 else None,
        dof=dof,
        chi2=ss if weighted else None,
        through_origin=through_origin,
    )


def is_only_noise(coefficients: ArrayLike, x: ArrayLike, y: ArrayLike) -> list[bool]:
    """Which coefficients of a polynomial are only rounding: their term stays below 10⁻⁹ of the size of y for all x."""
    xs, size = np.max(np.abs(np.asarray(x, dtype=np.float64))), np.max(np.abs(np.asarray(y, dtype=np.float64)))
    return [bool(abs(c) * xs**k <= NOISE * size) for k, c in enumerate(np.asarray(coefficients, dtype=np.float64))]
