"""Numbers made of a fit beside its parameters: values read off it and back, its tangent; each as it is said and as verdicts take it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from hobrel.core.fitting.read_back import find_place
from hobrel.core.fitting.read_off import Direction, read_off
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.comparing import TwoFold
from hobrel.core.pipeline.ground import Fitted
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, axis_units, gradient_unit
from hobrel.core.uncertainty.traced import Source, Traced, combine_numbers, measured
from hobrel.core.units.calculus import Unit


def carry_from_fit(fitted: Fitted, value: float, by: Mapping[str, float], unit: Unit, *more: tuple[float, Traced]) -> TwoFold:
    """A number made of a fit, by its derivatives by parameters and by what else it is made of: as said, and as verdicts take it."""

    def made_of(outputs: Mapping[str, Traced], others: Sequence[tuple[float, Traced]]) -> Traced:
        return combine_numbers(value, [*((slope, outputs[name]) for name, slope in by.items()), *others], unit)

    return TwoFold(made_of(fitted.outputs, more), made_of(fitted.judged, [(slope, number.judged()) for slope, number in more]))


def read_off_traced(fitted: Fitted, points: GraphPoints, direction: Direction, place: float, *, at: Source | None = None) -> TwoFold:
    """A value read off a fit.

    Parameters
    ----------
    fitted, points : the fit and the points that it took
    direction : {"forward", "back"}
    place : float
        x, or y to be read back.
    at : Source, optional
        What `place` was measured with.

    Raises
    ------
    CoreError
        As `read_off`; as `find_place` for a curve read back.
    """
    x_unit, y_unit = axis_units(points)
    read = () if at is None else (measured(at, place),)
    if not isinstance(fitted, FittedLine):
        used = points.x[fitted.fitted]
        x, slope = place, 0.0
        if direction == "back":
            x, slope = find_place(fitted.at, fitted.slope_at, float(used.min()), float(used.max()), place)
        values, by_parameters = fitted.curve.shape.over(np.array([x])).with_jacobian(fitted.curve.values)
        by = dict(zip(fitted.outputs, by_parameters[0].tolist(), strict=True))
        if direction == "forward":
            return carry_from_fit(fitted, float(values[0]), by, y_unit)
        # x moves against the curve: dx = −df/f′, and with what was read: dx = dy/f′
        return carry_from_fit(fitted, x, {name: -part / slope for name, part in by.items()}, x_unit, *((1 / slope, y) for y in read))
    _, factor = gradient_unit(x_unit, y_unit)
    value, m = read_off(fitted.line, (0.0, 0.0), direction, place).value, fitted.line.gradient
    by_gradient, by_intercept, by_place = (place, 1.0, m) if direction == "forward" else (-value / m, -1 / m, 1 / m)
    by = {"gradient": by_gradient / factor, "intercept": by_intercept}
    return carry_from_fit(fitted, value, by, y_unit if direction == "forward" else x_unit, *((by_place, number) for number in read))


def tangent_traced(fitted: Fitted, points: GraphPoints, place: float) -> TwoFold:
    """The slope of a fit at a place.

    Raises
    ------
    CoreError
        As `find_tangents`.
    """
    if isinstance(fitted, FittedLine):
        return TwoFold(fitted.outputs["gradient"], fitted.judged["gradient"])
    unit, factor = gradient_unit(*axis_units(points))
    found = find_tangents(fitted.curve, [place])
    by = {name: slope * factor for name, slope in zip(fitted.outputs, found.by_parameters[0].tolist(), strict=True)}
    return carry_from_fit(fitted, float(found.slopes[0]) * factor, by, unit)
