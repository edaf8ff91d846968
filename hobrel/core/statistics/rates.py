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
"""Points that a smoothed rate is taken from."""


@dataclass(frozen=True)
class RateWeights:
    """How rates are made of their points: each of a few that stand beside one another, times its weight.

    Attributes
    ----------
    at : ndarray, shape (M,)
        The places that the rates belong to.
    points : ndarray of int, shape (M, k)
        Which points each is made of, by their order along x.
    weights : ndarray, shape (M, k)
    slopes : ndarray, shape (M, k)
        Along which a shift of a point's x works like the opposite shift of its y.
    """

    at: Floats
    points: np.ndarray[tuple[int, int], np.dtype[np.intp]]
    weights: Floats
    slopes: Floats

    def weigh(self, values: Floats) -> Floats:
        """Σ wᵢ vᵢ for every rate."""
        return np.asarray(np.sum(self.weights * values[self.points], axis=1))

    def variance(self, off_y: Floats, off_x: Floats) -> Floats:
        """Of every rate, where each point is off by so much in y and in x at once, and independently of the others."""
        return np.asarray(np.sum((self.weights * (off_y[self.points] - self.slopes * off_x[self.points])) ** 2, axis=1))

    def shift(self, by_y: Floats, by_x: Floats) -> Floats:
        """How far every rate moves where all points move together, each by so much in y and in x."""
        return np.asarray(np.sum(self.weights * (by_y[self.points] - self.slopes * by_x[self.points]), axis=1))


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
        As `weigh_rates`.
    """
    xs, ys, order = order_points(x, y)
    made = weigh_rates(xs, ys, method)
    rates = made.weigh(ys)
    if uy is None and ux is None:
        return Rates(made.at, rates, None, method)
    sy, sx = (np.broadcast_to(np.asarray(0.0 if u is None else u, dtype=np.float64), xs.shape)[order] for u in (uy, ux))
    nothing = np.zeros_like(xs)
    return Rates(made.at, rates, np.sqrt(made.variance(sy, nothing) + made.variance(nothing, sx)), method)


def weigh_rates(x: Floats, y: Floats, method: RateKind) -> RateWeights:
    """How the rates along points, which are in order of x, are made of them.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than two, or than a smoothed rate needs.
    """
    if x.size < 2:
        raise CoreError("too_few_points", "A rate needs at least two points.")
    steps = np.arange(x.size - 1)
    pairs, by_pair = np.stack([steps, steps + 1], axis=1), np.stack([-1 / np.diff(x), 1 / np.diff(x)], axis=1)
    between = np.asarray(np.sum(by_pair * y[pairs], axis=1))
    if method == "neighbours":
        return RateWeights((x[1:] + x[:-1]) / 2, pairs, by_pair, np.stack([between, between], axis=1))
    if x.size == 2:
        return RateWeights(x, pairs[[0, 0]], by_pair[[0, 0]], np.full((2, 2), between[0]))
    points, weights = _centred(x)
    local = np.asarray(np.sum(weights * y[points], axis=1))
    if method == "smoothed":
        points, weights = _smoothed(x)
    return RateWeights(x, points, weights, local[points])


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


def _windows(count: int, width: int) -> np.ndarray[tuple[int, int], np.dtype[np.intp]]:
    """For every point the `width` that stand nearest in order, itself in the middle where it can be."""
    first = np.clip(np.arange(count) - width // 2, 0, count - width)
    return np.asarray(first[:, None] + np.arange(width))


def _centred(x: Floats) -> tuple[np.ndarray[tuple[int, int], np.dtype[np.intp]], Floats]:
    """Derivative of the parabola through three neighbours, at the middle one (B. Fornberg, Math. Comp. 51, 699 (1988))."""
    weights = np.zeros((x.size, 3))
    before, after = np.diff(x)[:-1], np.diff(x)[1:]
    weights[1:-1] = np.stack(
        [-after / (before * (before + after)), (after - before) / (before * after), before / (after * (before + after))], axis=1
    )
    weights[0, :2] = np.array([-1, 1]) / (x[1] - x[0])
    weights[-1, 1:] = np.array([-1, 1]) / (x[-1] - x[-2])
    return _windows(x.size, 3), weights


def _smoothed(x: Floats) -> tuple[np.ndarray[tuple[int, int], np.dtype[np.intp]], Floats]:
    """Slope at each x of a quadratic through the nearest five points (A. Savitzky, M. Golay, Anal. Chem. 36, 1627 (1964)).

    Raises
    ------
    CoreError
        ``too_few_points``.
    """
    if x.size < WINDOW:
        raise CoreError("too_few_points", "A smoothed rate needs {least} or more points and has {n}.", least=WINDOW, n=x.size)
    made = _windows(x.size, WINDOW)
    t = x[made] - x[:, None]
    # in widths of the window, so that the columns are of one size
    width = np.max(np.abs(t), axis=1, keepdims=True)
    t = t / width
    return made, np.asarray(np.linalg.pinv(np.stack([np.ones_like(t), t, t * t], axis=2))[:, 1] / width)
