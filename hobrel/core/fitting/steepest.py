"""Where a curve is steepest: the end point of an S-shaped curve, refined, and the reading at a fraction of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.statistics.rates import find_rates, order_points

ROUNDING = 1e-12
"""Share of the largest y by which numbers of binary arithmetic are off at most."""


@dataclass(frozen=True)
class SteepestPoint:
    """The steepest point of a curve.

    Attributes
    ----------
    at, u : float
        Middle of the interval with the largest rate, ± half the interval (common practice).
    refined : float or None
        Where the second difference goes through zero, by interpolating between the two places around `at`; None where the
        steepest interval is the first or the last.
    rate : float
        In unit of y per unit of x, with its sign.
    fraction_x : float
        The wanted fraction of the (refined) place.
    fraction_y : float or None
        The reading there, interpolated between neighbours; None where there are no points around it.
    """

    at: float
    u: float
    refined: float | None
    rate: float
    fraction_x: float
    fraction_y: float | None


def find_steepest_point(x: ArrayLike, y: ArrayLike, fraction: float = 0.5) -> SteepestPoint:
    """Find the steepest point.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    fraction : float
        Of the steepest place, at which y is read: a half for the half-way point of a titration.

    Raises
    ------
    CoreError
        ``no_steepest`` where it is equally steep everywhere, but for rounding; as `order_points`.
    """
    xs, ys, _ = order_points(x, y, least=3)
    rates = find_rates(xs, ys)
    steep = np.abs(rates.rates)
    if np.ptp(steep) <= ROUNDING * np.max(np.abs(ys)) / np.min(np.diff(xs)):
        raise CoreError("no_steepest", "These points rise or fall equally steeply everywhere, so none of them stands where it is steepest.")
    k = int(np.argmax(steep))
    at, half = float(rates.x[k]), float(xs[k + 1] - xs[k]) / 2
    refined = None
    if 0 < k < rates.x.size - 1:
        second = np.diff(rates.rates) / np.diff(rates.x)
        places = (rates.x[1:] + rates.x[:-1]) / 2
        before, after = float(second[k - 1]), float(second[k])
        refined = float(places[k - 1]) + (float(places[k]) - float(places[k - 1])) * before / (before - after) if before != after else at
    place = fraction * (at if refined is None else refined)
    reading = float(np.interp(place, xs, ys)) if xs[0] <= place <= xs[-1] else None
    return SteepestPoint(at=at, u=half, refined=refined, rate=float(rates.rates[k]), fraction_x=place, fraction_y=reading)
