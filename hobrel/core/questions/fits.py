"""Asking a fit: what is read off it, which points pull it most, and what it would be without a point, or with one elsewhere."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from hobrel.core.document.choices import Fit
from hobrel.core.document.lab_book import Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.read_back import find_place
from hobrel.core.fitting.read_off import Direction, read_off
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.ground import fit_points_with
from hobrel.core.pipeline.ingredients import spread_of_further
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, axis_units, gradient_unit
from hobrel.core.presentation.curves import present_card
from hobrel.core.presentation.graphs import draw_graph, prepare_fit, words_beside
from hobrel.core.presentation.results import FitResult, GraphResult, ShownValue
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import show_value
from hobrel.core.readings.typed_places import check_place, read_typed
from hobrel.core.rounding import RoundingRule, with_unit, write_number, write_place
from hobrel.core.sentences import NumberText, Sentence, Sentences, say
from hobrel.core.units.calculus import Unit, write_unit

MOST_TRIED = 60
"""For more points than this, leaving each out in turn takes long and says little."""


@dataclass(frozen=True)
class ReadValue:
    """A value read off a fit: y at an x (`forward`) or x at a y (`back`), with what should be known of it.

    `x`, `y` and the `slope` there are for drawing, in the units of the axes.
    """

    direction: Direction
    at: NumberText
    x: float
    y: float
    slope: float
    value: ShownValue
    tangent: ShownValue | None
    extrapolated: bool
    words: Sentences


@dataclass(frozen=True)
class WhatIf:
    """The graph and the card as they would be; nothing is changed."""

    graph: GraphResult
    card: FitResult


@dataclass(frozen=True)
class Pull:
    """How far one point (by the id of its setting) moves the gradient: by so many of its uncertainties when it is left out."""

    key: str
    name: NumberText
    gradient: ShownValue
    pull: NumberText


def read_off_fit(computation: Computation, fit_id: str, direction: Direction, at: str, repeats: int = 1) -> ReadValue:
    """Read a value off the fit of a graph.

    Parameters
    ----------
    computation : Computation
    fit_id : str
    direction : {"forward", "back"}
    at : str
        As typed, with a unit or in that of its axis.
    repeats : int
        Back: of how many readings `at` is the mean, for a line without error bars.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` for what was typed; as `read_off`; as `find_place` for a curve read back.
    """
    fitted, points, run = computation.fitted(fit_id)
    x_unit, y_unit = axis_units(points)
    asked, answered = (x_unit, y_unit) if direction == "forward" else (y_unit, x_unit)
    place = read_typed(at, write_unit(asked))
    used = points.x[fitted.fitted]
    ends, rule = (float(used.min()), float(used.max())), computation.book.convention.rounding
    shown_at = with_unit(write_place(place), write_unit(asked))
    tangent = None
    if isinstance(fitted, FittedLine):
        by_scatter = direction == "back" and fitted.line.method == "ols"
        spread = spread_of_further(points.y_column, computation.columns[run.id], repeats) if by_scatter else 0.0
        found = read_off(fitted.line, ends, direction, place, fitted.line.residual_sd * spread)
        other, u, outside, slope = found.value, found.u, found.extrapolated, fitted.line.gradient
        words = _say_source(repeats if by_scatter else 0)
    elif direction == "back":
        other, slope = find_place(fitted.at, fitted.slope_at, *ends, place)
        u, outside, words = float(fitted.u_at(other)[0]) / abs(slope), False, _OF_CURVE
    else:
        other, u, words = float(fitted.at(place)[0]), float(fitted.u_at(place)[0]), _OF_CURVE
        outside = not ends[0] <= place <= ends[1]
        touching = find_tangents(fitted.curve, [place])
        slope = float(touching.slopes[0])
        tangent = _show_slope(slope, float(touching.u[0]), gradient_unit(x_unit, y_unit), rule)
    x, y = (place, other) if direction == "forward" else (other, place)
    return ReadValue(
        direction=direction,
        at=shown_at,
        x=x,
        y=y,
        slope=slope,
        value=show_value(other, u if np.isfinite(u) and u > 0 else None, answered, rule),
        tangent=tangent,
        extrapolated=outside,
        words=(words, *_outside(outside)),
    )


def _show_slope(slope: float, u: float, unit: tuple[Unit, float], rule: RoundingRule) -> ShownValue:
    written, factor = unit
    known = u * abs(factor)
    return show_value(slope * factor, known if np.isfinite(known) and known > 0 else None, written, rule)


_OF_CURVE = say("u_of_curve", "with the ± of the curve")


def _say_source(repeats: int) -> Sentence:
    """Where the ± of what was read off a line is from: the line (0), or the scatter of so many readings."""
    if not repeats:
        return say("u_of_line", "with the ± of the line")
    return say("u_of_scatter", "with the scatter of {readings} of y", readings="1 reading" if repeats == 1 else f"{repeats} readings")


def _outside(outside: bool) -> Sentences:
    return (say("outside_points", "it lies outside the points, where nobody has looked"),) if outside else ()


def try_without(computation: Computation, fit_id: str, key: str, y: float | None = None) -> WhatIf:
    """The fit with one point left out, or moved to another y.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such point; as the fit.
    """
    fit = computation.fit(fit_id)
    points, run = computation.points_of_fit(fit_id)
    row = run.row_of(key)
    if row is None or row not in points.rows:
        raise CoreError("bad_job", "This point is no longer on the graph.")
    place = points.rows.index(row)
    if y is None:
        used = points.used.copy()
        used[place] = False
        changed = replace(points, used=used)
    else:
        moved = points.y.copy()
        moved[place] = check_place(y)
        changed = replace(points, y=moved)
    return _draw_what_if(computation, fit, changed, run)


def suppose(computation: Computation, fit_id: str, item: str, value: str) -> WhatIf:
    """A step-by-step model where one of its start values or numbers (by id) is another, as long as that is not fitted.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such thing; as the fit.
    """
    fit = computation.fit(fit_id)
    points, run = computation.points_of_fit(fit_id)
    model = fit.steps
    if item not in {*(state.id for state in model.states), *(number.id for number in model.numbers)}:
        raise CoreError("bad_job", "This is no longer in the model.")
    states = tuple(replace(s, start=value, fitted=False) if s.id == item else s for s in model.states)
    numbers = tuple(replace(n, value=value, fitted=False) if n.id == item else n for n in model.numbers)
    return _draw_what_if(computation, replace(fit, steps=replace(model, states=states, numbers=numbers)), points, run)


def _draw_what_if(computation: Computation, fit: Fit, points: GraphPoints, run: Run) -> WhatIf:
    """The graph and the card of a fit as they would be with these points."""
    fitted = fit_points_with(points, fit, computation.book.convention)
    graph = next(g for g in computation.book.graphs if g.id == fit.graph)
    key_of = computation.series_key(fit)
    series = tuple(replace(s, points=points) if s.key == key_of else s for s in computation.series[graph.id])
    card = present_card(fit, fitted, points, computation.book.convention, run)
    drawn = draw_graph(
        graph,
        series,
        (prepare_fit(computation, fit, fitted, points),),
        partial(call_row, computation.book),
        words=words_beside(computation, graph),
        moments=computation.book.moments,
        several=len(computation.book.runs) > 1,
    )
    return WhatIf(drawn, card)


def find_pulls(computation: Computation, fit_id: str) -> tuple[Pull, ...]:
    """The points of a line by how far each moves its gradient when it is left out, farthest first.

    The measure is that of leaving one out (R. D. Cook and S. Weisberg, Residuals and Influence in Regression, 1982, chapter 3), in units
    of the gradient's own uncertainty.

    Raises
    ------
    CoreError
        ``bad_job`` for a curve or too many points; ``too_few_points``.
    """
    whole, points, run = computation.fitted(fit_id)
    fit = computation.fit(fit_id)
    if not isinstance(whole, FittedLine):
        raise CoreError("bad_job", "Pulls are worked out for straight lines.")
    places = np.flatnonzero(whole.fitted)
    if places.size > MOST_TRIED:
        raise CoreError("bad_job", "With {n} points no single one pulls the line far.", n=places.size)
    if places.size < 4:
        raise CoreError("too_few_points", "With fewer than four points, a line without one of them says nothing.")
    if not whole.line.u_gradient > 0:
        raise CoreError("bad_job", "Every point lies on the line, so none of them pulls it.")
    rule, found = computation.book.convention.rounding, []
    factor = float(whole.gradient.value) / whole.line.gradient if whole.line.gradient else 1.0
    for place in places.tolist():
        used = points.used.copy()
        used[place] = False
        line = fit_points_with(replace(points, used=used), fit, computation.book.convention)
        assert isinstance(line, FittedLine)
        change = (line.line.gradient - whole.line.gradient) / whole.line.u_gradient
        shown = show_value(line.line.gradient * factor, line.line.u_gradient * abs(factor) or None, whole.gradient.unit, rule)
        row = points.rows[place]
        found.append((abs(change), Pull(run.row_id(row), call_row(computation.book, run, row), shown, f"{write_number(change, 2)}")))
    return tuple(pull for _, pull in sorted(found, key=lambda entry: -entry[0]))
