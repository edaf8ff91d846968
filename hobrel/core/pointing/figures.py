"""Lengths, angles and areas between places on a picture, with how they move when a place does."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.pointing.marks import Drawn, Place
from hobrel.core.uncertainty.traced import Floats


@dataclass(frozen=True)
class Figure:
    """A length in pixels, an angle in radians, or an area in square pixels.

    Attributes
    ----------
    value : float
    steepness : float
        √Σ(∂value/∂coordinate)²: times the ± of one coordinate it is the ± of the value, the places being pointed at one by one.
    power : {0, 1, 2}
        Of the length of a pixel that it is turned into a size by.
    """

    value: float
    steepness: float
    power: int


def measure_drawn(drawn: Drawn) -> Figure:
    """Measure what was drawn.

    Raises
    ------
    CoreError
        ``too_few_points``; ``outside_domain`` for an angle with no arm, for an outline that crosses itself, and where all is one place.
    """
    figure = {"length": _length, "angle": _angle, "area": _area}[drawn.kind](as_array(drawn.places))
    if not figure.steepness > 0:
        raise CoreError("outside_domain", "All of this is at one place. Point at it anew.")
    return figure


def as_array(places: Sequence[Place]) -> Floats:
    """Places as an array, shape (places, 2)."""
    return np.array([(p.x, p.y) for p in places], dtype=np.float64).reshape(-1, 2)


def _length(points: Floats) -> Figure:
    """Σ|pᵢ₊₁ − pᵢ|; where a stretch is nothing its direction is nothing, too.

    Raises
    ------
    CoreError
        As `measure_drawn`.
    """
    if len(points) < 2:
        raise CoreError("too_few_points", "A length goes from one place to another: point at the second.")
    steps = np.diff(points, axis=0)
    sizes = np.hypot(*steps.T)
    along = np.divide(steps, sizes[:, None], out=np.zeros_like(steps), where=sizes[:, None] > 0)
    slopes = np.zeros_like(points)
    slopes[1:] += along
    slopes[:-1] -= along
    return Figure(float(sizes.sum()), _size(slopes), 1)


def _angle(points: Floats) -> Figure:
    """The angle at the second place, from 0 to π.

    Raises
    ------
    CoreError
        As `measure_drawn`.
    """
    if len(points) < 3:
        raise CoreError("too_few_points", "An angle has three places: one arm, the corner, the other arm.")
    corner = points[1]
    arms = points[[0, 2]] - corner
    lengths = np.hypot(*arms.T)
    if not np.all(lengths > 0):
        raise CoreError("outside_domain", "An arm of this angle ends at its corner, so it has no direction.")
    (ax, ay), (bx, by) = arms
    value = math.atan2(abs(ax * by - ay * bx), ax * bx + ay * by)
    # an arm turns by what its end moves across it; the corner moves both against their ends
    across = np.array([(-ay, ax), (-by, bx)]) / lengths[:, None] ** 2
    slopes = np.array([-across[0], across[0] - across[1], across[1]])
    return Figure(value, _size(slopes), 0)


def _area(points: Floats) -> Figure:
    """The area of a polygon, ½|Σ xᵢyᵢ₊₁ − xᵢ₊₁yᵢ|.

    Raises
    ------
    CoreError
        As `measure_drawn`.
    """
    if len(points) < 3:
        raise CoreError("too_few_points", "An area has three corners or more.")
    if _crosses_itself(points):
        raise CoreError("outside_domain", "This outline crosses itself. Point at the corners one after the other, as they follow round it.")
    middle = points.mean(axis=0)
    x, y = (points - middle).T
    doubled = float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
    slopes = np.array([np.roll(y, -1) - np.roll(y, 1), np.roll(x, 1) - np.roll(x, -1)]) / 2
    return Figure(abs(doubled) / 2, _size(slopes), 2)


def _size(slopes: Floats) -> float:
    return float(np.sqrt(np.sum(slopes**2)))


def _crosses_itself(points: Floats) -> bool:
    sides = list(zip(points, np.roll(points, -1, axis=0), strict=True))
    apart = [(i, j) for i, j in itertools.combinations(range(len(sides)), 2) if j - i > 1 and (i, j) != (0, len(sides) - 1)]
    return any(_cross(*sides[i], *sides[j]) for i, j in apart)


def _cross(a: Floats, b: Floats, c: Floats, d: Floats) -> bool:
    """Whether the stretches ab and cd cross at an inner place of both."""

    def side(p: Floats, q: Floats, r: Floats) -> float:
        return float((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]))

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0
