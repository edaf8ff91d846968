"""The largest and the smallest: of the points themselves, and where a fitted curve turns between them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.read_back import find_places, name_places
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.comparing import TwoFold
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.from_fits import carry_from_fit, read_off_traced
from hobrel.core.pipeline.ground import Fitted, Ground
from hobrel.core.pipeline.influence import without_rounding
from hobrel.core.pipeline.points import GraphPoints, axis_units
from hobrel.core.rounding import write_place
from hobrel.core.uncertainty.traced import Traced, combine_quadrature, weigh_rows

VAGUE = 0.5
"""Of a stretch: a place that is more uncertain than this may lie anywhere in it (common practice)."""
STEP = 1e-4
"""Of the stretch that is looked at, over which the bend of a curve is measured at its summit."""


@dataclass(frozen=True)
class Summit:
    """Where a fitted curve is highest or lowest, and how high it is there; each as it is said and as verdicts take it."""

    is_highest: bool
    place: TwoFold
    value: TwoFold


@dataclass(frozen=True)
class FarthestPoint:
    """The largest or smallest of the points of a graph: its x and y, each as uncertain as it is itself, and its row in the run."""

    place: Traced
    value: Traced
    row: int


def find_summit(fitted: Fitted, points: GraphPoints, low: float | None = None, high: float | None = None) -> Summit:
    """Where a fitted curve turns, between its points.

    At the summit f′(x; p) = 0, so that a change of the parameters moves it by dx = −(∂f′/∂p / f″) dp, and its height by ∂f/∂p dp alone
    (JCGM 100:2008, 5.1 and 5.2, with the implicit function theorem).

    Parameters
    ----------
    fitted, points
        The fit and the points that it took.
    low, high : float, optional
        The stretch of x in which it is looked for.

    Raises
    ------
    CoreError
        ``no_summit`` for a line, where the curve does not turn, and where nothing tells at which place; ``several_summits``, naming them,
        where it turns more than once.
    """
    if not isinstance(fitted, FittedCurve):
        raise CoreError("no_summit", "A line does not turn, so it has no summit.")
    used = points.x[fitted.fitted]
    first = max(float(used.min()), -np.inf if low is None else low)
    last = min(float(used.max()), np.inf if high is None else high)
    reach = STEP * (last - first)
    # what is level where it begins or ends does not turn there
    places = [p for p in find_places(fitted.slope_at, first, last, 0.0) if first + reach < p < last - reach] if first < last else []
    if not places:
        raise CoreError("no_summit", "Between {low} and {high} the curve does not turn.", low=write_place(first), high=write_place(last))
    heights = np.asarray(fitted.at(np.array([first, *places, last])))
    if not without_rounding(float(np.ptp(heights)), points.y[fitted.fitted]):
        raise CoreError("no_summit", "The curve is so level that nothing tells where it turns.")
    if len(places) > 1:
        named = name_places(places)
        raise CoreError("several_summits", "The curve turns at {places}. Say from where to where the one lies that you mean.", places=named)
    place = places[0]
    before, after = (float(fitted.slope_at(np.array([place + side * reach]))[0]) for side in (-1, 1))
    bend = (after - before) / (2 * reach)
    by_slope = find_tangents(fitted.curve, [place]).by_parameters[0].tolist()
    moves = {name: -by / bend for name, by in zip(fitted.outputs, by_slope, strict=True)}
    at, up = carry_from_fit(fitted, place, moves, axis_units(points)[0]), read_off_traced(fitted, points, "forward", place)
    ends = np.asarray(fitted.at(np.array([first, last])))
    rises = without_rounding(float(np.max(np.abs(float(up.said.value) - ends))), points.y[fitted.fitted])
    if not rises or max(float(combine_quadrature(number)) for number in (at.said, at.judged)) > VAGUE * (last - first):
        raise CoreError("no_summit", "The curve is so level that nothing tells where it turns.")
    return Summit(is_highest=bend < 0, place=at, value=up)


def find_farthest(
    ground: Ground, graph_id: str, which: Literal["largest", "smallest"], low: float | None = None, high: float | None = None
) -> FarthestPoint:
    """The largest or smallest y of the points of a graph that count, in a stretch of x; of several alike the first along x.

    Raises
    ------
    CoreError
        ``too_few_points`` where there is none; as `Ground.drawn`.
    """
    points = ground.drawn(graph_id)
    inside = points.used & (points.x >= (-np.inf if low is None else low)) & (points.x <= (np.inf if high is None else high))
    places = np.flatnonzero(inside)
    if not places.size:
        raise CoreError("too_few_points", "There is no point in this stretch.")
    sign = 1.0 if which == "largest" else -1.0
    at = max(places.tolist(), key=lambda i: (sign * points.y[i], -points.x[i]))
    row = points.rows[at]
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    weights = np.zeros(y.value.shape)
    weights[row] = 1.0
    return FarthestPoint(place=weigh_rows(x, weights), value=weigh_rows(y, weights), row=row)
