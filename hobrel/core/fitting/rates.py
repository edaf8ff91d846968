"""Rates of change from the points themselves: neighbour differences, centred differences, a smoothed local quadratic."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Floats

RateKind = Literal["neighbours", "centred", "smoothed"]
WINDOW = 5


@dataclass(frozen=True)
class Rates:
    """Rates in unit of y per unit of x, at `x`; `u` from the bars of the points they are made of (None without bars)."""

    x: Floats
    rates: Floats
    u: Floats | None
    method: RateKind


def find_rates(
    x: ArrayLike, y: ArrayLike, uy: ArrayLike | None = None, ux: ArrayLike | None = None, method: RateKind = "neighbours"
) -> Rates:
    """Rates of change along the points, in order of x.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    uy, ux : array_like, shape (N,) or scalar, optional
        Standard uncertainties, independent between points.
    method : {"neighbours", "centred", "smoothed"}
        (y₂ − y₁)/(x₂ − x₁) at the midpoint; the three-point difference that is of second order on uneven x, one-sided at the
        ends; the slope of a least-squares quadratic through five neighbours.

    Raises
    ------
    CoreError
        ``too_few_points``; ``outside_domain`` where two points stand at one x.
    """
    xs, ys, order = order_points(x, y)
    if method == "neighbours":
        weights, places = _neighbour_weights(xs), (xs[1:] + xs[:-1]) / 2
    elif method == "centred":
        weights, places = _centred_weights(xs), xs
    else:
        weights, places = _smoothed_weights(xs), xs
    rates = weights @ ys
    if uy is None and ux is None:
        return Rates(places, rates, None, method)
    sy, sx = (np.broadcast_to(np.asarray(0.0 if u is None else u, dtype=np.float64), xs.shape)[order] for u in (uy, ux))
    # a shift of one x works like the opposite shift of its y along the local slope
    local = _centred_weights(xs) @ ys if xs.size > 2 else np.full(xs.shape, rates[0])
    slopes = np.broadcast_to(rates[:, None], weights.shape) if method == "neighbours" else np.broadcast_to(local, weights.shape)
    variance = np.sum(weights**2 * (sy**2 + (slopes * sx) ** 2), axis=1)
    return Rates(places, rates, np.sqrt(variance), method)


def order_points(x: ArrayLike, y: ArrayLike, least: int = 2) -> tuple[Floats, Floats, np.ndarray[tuple[int], np.dtype[np.intp]]]:
    """Points in order of x, with the order.

    Raises
    ------
    CoreError
        ``bad_job`` for lists that differ in length, ``too_few_points``, ``outside_domain`` for two points at one x.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if xs.shape != ys.shape or xs.ndim != 1:
        raise CoreError("bad_job", "x and y must be lists of the same length.")
    if xs.size < least:
        raise CoreError("too_few_points", "This needs {least} or more points and has {n}.", least=least, n=xs.size)
    order = np.argsort(xs, kind="stable")
    xs, ys = xs[order], ys[order]
    same = np.flatnonzero(np.diff(xs) == 0)
    if same.size:
        raise CoreError("outside_domain", "Two points stand at x = {x}, so there is no rate of change between them.", x=f"{xs[same[0]]:g}")
    return xs, ys, order


def _neighbour_weights(x: Floats) -> Floats:
    steps = np.diff(x)
    weights = np.zeros((x.size - 1, x.size))
    rows = np.arange(x.size - 1)
    weights[rows, rows], weights[rows, rows + 1] = -1 / steps, 1 / steps
    return weights


def _centred_weights(x: Floats) -> Floats:
    """Derivative of the parabola through three neighbours, at the middle one (B. Fornberg, Math. Comp. 51, 699 (1988)).

    Raises
    ------
    CoreError
        ``too_few_points``.
    """
    if x.size < 2:
        raise CoreError("too_few_points", "A rate needs at least two points.")
    weights = np.zeros((x.size, x.size))
    before, after = np.diff(x)[:-1], np.diff(x)[1:]
    rows = np.arange(1, x.size - 1)
    weights[rows, rows - 1] = -after / (before * (before + after))
    weights[rows, rows] = (after - before) / (before * after)
    weights[rows, rows + 1] = before / (after * (before + after))
    weights[0, :2] = np.array([-1, 1]) / (x[1] - x[0])
    weights[-1, -2:] = np.array([-1, 1]) / (x[-1] - x[-2])
    return weights


def _smoothed_weights(x: Floats) -> Floats:
    """Slope at each x of a quadratic through the nearest five points (A. Savitzky, M. Golay, Anal. Chem. 36, 1627 (1964)).

    Raises
    ------
    CoreError
        ``too_few_points``.
    """
    if x.size < WINDOW:
        raise CoreError("too_few_points", "A smoothed rate needs {least} or more points and has {n}.", least=WINDOW, n=x.size)
    weights = np.zeros((x.size, x.size))
    for row in range(x.size):
        first = min(max(row - WINDOW // 2, 0), x.size - WINDOW)
        t = x[first : first + WINDOW] - x[row]
        basis = np.column_stack([np.ones_like(t), t, t * t])
        weights[row, first : first + WINDOW] = np.linalg.pinv(basis)[1]
    return weights
