"""Numbers taken from the points of a graph themselves, without a fit: the steepest point, and the area under them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hobrel.core.fitting.area import find_area
from hobrel.core.fitting.steepest import SteepestPoint, find_steepest_point
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.points import GraphPoints, axis_units, gradient_unit, refuse_kinds
from hobrel.core.statistics.rates import order_points
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_numbers, weigh_rows
from hobrel.core.units.calculus import Unit, multiply_units


@dataclass(frozen=True)
class SteepestNumbers:
    """The steepest point of a graph, and its numbers traced to the points.

    `place` is the refined place where there is one, uncertain by half the interval; `reading` is that at the wanted fraction of it, None
    where there are no points around.
    """

    found: SteepestPoint
    place: Traced
    rate: Traced
    reading: Traced | None
    points: GraphPoints


@dataclass(frozen=True)
class AreaNumber:
    """The area under the points of a graph, and of how many."""

    traced: Traced
    n: int


def steepest_of_graph(ground: Ground, graph_id: str, fraction: float) -> SteepestNumbers:
    """The steepest point of a graph.

    Raises
    ------
    CoreError
        As `refuse_kinds` and `find_steepest_point`.
    """
    points = ground.drawn(graph_id)
    refuse_kinds(points)
    x, y, order = order_points(points.x[points.used], points.y[points.used], least=3)
    found = find_steepest_point(x, y, fraction)
    x_unit, y_unit = axis_units(points)
    rate_unit, factor = gradient_unit(x_unit, y_unit)
    k = int(np.argmin(np.abs((x[1:] + x[:-1]) / 2 - found.at)))
    step = np.zeros(x.size)
    step[k + 1], step[k] = 1.0, -1.0
    wide = x[k + 1] - x[k]
    rate = _from_points(points, order, found.rate * factor, step * factor / wide, -found.rate * factor * step / wide, unit=rate_unit)
    middle = _from_points(points, order, found.at, None, np.abs(step) / 2, unit=x_unit)
    half = Source(f"steepest:{points.run}:{graph_id}", "half the interval", np.asarray(found.u), x_unit)
    # within its interval it may be anywhere; what all rows share moves it as a whole
    moved = {s: by for s, by in middle.slopes.items() if s.shared}
    place = Traced(np.asarray(found.at if found.refined is None else found.refined), {half: np.asarray(1.0), **moved}, x_unit)
    reading = None
    if found.fraction_y is not None:
        after = int(np.clip(np.searchsorted(x, found.fraction_x), 1, x.size - 1))
        share = (found.fraction_x - x[after - 1]) / (x[after] - x[after - 1])
        local = float((y[after] - y[after - 1]) / (x[after] - x[after - 1]))
        between = np.zeros(x.size)
        between[after - 1], between[after] = 1 - share, share
        there = _from_points(points, order, found.fraction_y, between, -local * between, unit=y_unit)
        reading = combine_numbers(found.fraction_y, [(1.0, there), (local * fraction, place)], y_unit)
    return SteepestNumbers(found, place, rate, reading, points)


def area_of_graph(ground: Ground, graph_id: str, low: float | None, high: float | None) -> AreaNumber:
    """Area under the points of a graph within a stretch, by the trapezium rule.

    Raises
    ------
    CoreError
        As `refuse_kinds` and `order_points`.
    """
    points = ground.drawn(graph_id)
    refuse_kinds(points)
    inside = points.used & (points.x >= (-np.inf if low is None else low)) & (points.x <= (np.inf if high is None else high))
    x, y, order = order_points(points.x[inside], points.y[inside])
    unit, factor = multiply_units(*reversed(axis_units(points)))
    padded_x, padded_y = np.pad(x, 1, mode="edge"), np.pad(y, 1, mode="edge")
    by_y = (padded_x[2:] - padded_x[:-2]) / 2
    by_x = (padded_y[:-2] - padded_y[2:]) / 2
    # the ends move the edge of the area itself
    by_x[0] -= y[0]
    by_x[-1] += y[-1]
    value = find_area(x, y).value * factor
    traced = _from_points(points, order, value, by_y * factor, by_x * factor, unit=unit, used=inside)
    return AreaNumber(traced, int(np.count_nonzero(inside)))


def _from_points(
    points: GraphPoints, order: np.ndarray[tuple[int], np.dtype[np.intp]], value: float, by_y: Floats | None, by_x: Floats, *, unit: Unit,
    used: np.ndarray[tuple[int], np.dtype[np.bool_]] | None = None,
) -> Traced:  # fmt: skip
    """A number whose derivatives by the used points are known, in order of x."""
    rows = np.array(points.rows, dtype=int)[points.used if used is None else used][order]
    terms = []
    for column, by in ((points.y_column.traced, by_y), (points.x_column.traced, by_x)):
        if column is None or by is None:
            continue
        weights = np.zeros(column.value.shape)
        weights[rows] = by
        terms.append((1.0, weigh_rows(column, weights)))
    return combine_numbers(value, terms, unit)
