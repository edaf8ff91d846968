"""The equation of a fit as it stands on its graph, and where there is room for it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from hobrel.core.document.lab_book import Convention, Fit
from hobrel.core.fitting.shapes import SHAPES, shape_node
from hobrel.core.formulas.one_line import write_on_one_line
from hobrel.core.formulas.typeset import RichRun, RichText, rich_symbol
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.curves import present_parameters
from hobrel.core.presentation.figures import Axis, Corner, FigurePoint, ModelLine
from hobrel.core.presentation.line_cards import show_number, without_u
from hobrel.core.presentation.stepped import write_rates
from hobrel.core.stepping.shape import SteppedShape

_CORNERS: tuple[Corner, ...] = ("top_left", "bottom_right", "top_right", "bottom_left")
_WIDE, _HIGH = 0.5, 0.2
"""What a corner takes, as shares of the plot."""


def write_equation(fit: Fit, fitted: FittedLine | FittedCurve, points: GraphPoints, convention: Convention) -> RichText:
    """“T² = (4.79 s²/m³) L³ + 0.000 s²”: the graph's own symbols, the parameters as their card has them, without their ±."""
    x, y = (c.quantity.symbol for c in (points.x_column, points.y_column))
    if isinstance(fitted, FittedCurve):
        shape = fitted.curve.shape
        if isinstance(shape, SteppedShape):
            return write_rates(shape.system.equations)
        values = {p.name: without_u(p.value) for p in present_parameters(fitted, convention, fit) if p.value is not None}
    else:
        shape = SHAPES["proportional" if fitted.line.through_origin else "line"]
        values = {"a": without_u(show_number(fitted.gradient, convention)), "b": without_u(show_number(fitted.intercept, convention))}
    return (*rich_symbol(y), RichRun(" = "), *write_on_one_line(shape_node(shape), values, {"x": x}))


def find_free_corner(x: Axis, y: Axis, points: Sequence[FigurePoint], lines: Sequence[ModelLine], several: bool) -> Corner:
    """The corner in which least is drawn, the first of the best; with several series the upper left one is the legend's."""
    corners = _CORNERS[1:] if several else _CORNERS
    # a point weighs more than the line that leads past it
    drawn = [np.array([[p.x, p.y, 3.0] for p in points]).reshape(-1, 3)]
    for line in lines:
        along = np.linspace(0, 1, 41)
        at = np.linspace(0, 1, len(line.x))
        drawn.append(np.column_stack([np.interp(along, at, line.x), np.interp(along, at, line.y), np.ones(along.size)]))
    places = np.vstack(drawn)
    right, up = x.share(places[:, 0]), y.share(places[:, 1])

    def weight(corner: Corner) -> float:
        level, side = corner.split("_")
        beside = right > 1 - _WIDE if side == "right" else right < _WIDE
        above = (up > 1 - _HIGH) & (up <= 1) if level == "top" else (up < _HIGH) & (up >= 0)
        return float(places[beside & above, 2].sum())

    return min(corners, key=weight)
