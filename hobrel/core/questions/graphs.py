"""Asking a graph: what a line drawn by eye touches while it is moved, what a marked stretch says, which shapes make sense."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Fit, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.by_eye import study_by_eye
from hobrel.core.fitting.stretch import summarise_stretch
from hobrel.core.pipeline.along_points import area_of_graph, steepest_of_graph
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.lines import FittedLine, fit_graph
from hobrel.core.pipeline.points import GraphPoints, axis_units, gradient_unit, points_to_fit
from hobrel.core.pipeline.stretches import average_stretch
from hobrel.core.pipeline.typed_digits import most_typed_decimals
from hobrel.core.presentation.line_cards import say_touched
from hobrel.core.presentation.results import ShownValue
from hobrel.core.presentation.showing import say_mean_rule, show_number
from hobrel.core.presentation.thinning import thin_points
from hobrel.core.readings.typed_places import check_place
from hobrel.core.rounding import quantize, to_decimal, with_unit, write_number, write_place, write_to_decimals
from hobrel.core.sentences import NumberText, Sentences, say
from hobrel.core.units.calculus import write_unit


@dataclass(frozen=True)
class PointResidual:
    """What a line leaves of one point (by the id of its setting), in the unit of y."""

    key: str
    residual: float


@dataclass(frozen=True)
class ByEyePreview:
    """What a line drawn by eye touches and leaves; `gradient` and `intercept` as they would be written."""

    gradient: NumberText
    intercept: NumberText
    words: Sentences
    residuals: tuple[PointResidual, ...]


@dataclass(frozen=True)
class RiseOverRun:
    """The triangle under a fit between the ends of a stretch: its corners on the fit (axis units), both sides, and their ratio."""

    from_x: float
    from_y: float
    to_x: float
    to_y: float
    rise: NumberText
    run: NumberText
    ratio: NumberText


@dataclass(frozen=True)
class SteepestResult:
    """The steepest point of a graph: where, how steep, and the reading at a fraction of its place (empty where there is none).

    `x` and `y` are where it is drawn.
    """

    place: ShownValue
    refined: Sentences
    rate: ShownValue
    fraction_place: NumberText
    reading: ShownValue | None
    x: float
    y: float


@dataclass(frozen=True)
class StretchSummary:
    """What the points of a stretch say: their y summarised, and the gradient of a line of their own (None for fewer than three).

    `x_range` goes from the first of them to the last; `mean_rule` says what the ± of the mean is made of; `keys` are their settings.
    `scatter` is what a single reading scatters by, and `last_digit` what the readings end with, both as an instrument's numbers are
    written; empty where y is not read, once at each setting.
    """

    n: int
    x_range: NumberText
    mean: ShownValue
    mean_rule: Sentences
    smallest: NumberText
    largest: NumberText
    half_range: NumberText
    sd: NumberText
    standard_error: NumberText
    gradient: ShownValue | None
    keys: tuple[str, ...]
    area: ShownValue | None = None
    rise: RiseOverRun | None = None
    scatter: NumberText = ""
    last_digit: NumberText = ""


def preview_by_eye(computation: Computation, fit_id: str, gradient: float, intercept: float) -> ByEyePreview:
    """Study a line while it is being moved; nothing is changed.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such fit; the trouble of its graph.
    """
    gradient, intercept = check_place(gradient), check_place(intercept)
    fit = computation.fit(fit_id)
    points, run = computation.points_of_fit(fit_id)
    used = points_to_fit(points, fit)
    x, y, ux, uy = (v[used] for v in (points.x, points.y, points.ux, points.uy))
    study = study_by_eye(x, y, ux, uy, gradient, intercept=intercept)
    rows = np.array(points.rows)[used]
    residuals = tuple(PointResidual(run.row_id(int(rows[i])), float(study.residuals[i])) for i in thin_points(x, y))
    unit, factor, y_unit = _units(points)
    return ByEyePreview(
        with_unit(write_number(gradient * factor, 4), unit), with_unit(write_number(intercept, 3), y_unit),
        (say_touched(study.touched, study.n),), residuals,
    )  # fmt: skip


def summarise_marked(
    computation: Computation, graph_id: str, ends: tuple[float, float], fit_id: str = "", series_key: str = ""
) -> StretchSummary:
    """Summarise the points of a graph between two places on its x axis; those set aside do not count. With a fit, rise over run of it;
    `series_key` names another series than the first.

    Raises
    ------
    CoreError
        ``bad_job``, ``too_few_points``.
    """
    low, high = (check_place(end) for end in ends)
    points, run = computation.drawn_series(graph_id, series_key)
    x, y = points.x[points.used], points.y[points.used]
    stretch = summarise_stretch(x, y, low, high)
    rule = computation.book.convention.rounding
    inside = np.flatnonzero(points.used & (points.x >= stretch.low) & (points.x <= stretch.high))
    y_unit = _units(points)[2]
    assert points.x_column.traced is not None
    assert points.y_column.traced is not None
    rows = np.array(points.rows)[inside]
    mean = average_stretch(points.y_column.traced, rows, computation.book.convention, "stretch", points.y_column.quantity.symbol)
    x_unit, summary = write_unit(points.x_column.traced.unit), stretch.summary

    def written(value: float | None) -> str:
        return "" if value is None else with_unit(write_number(value, 3), y_unit)

    typed = _count_decimals(points.y_column.quantity, run)
    own = Fit("", graph_id, weights="y_bars", low=stretch.low, high=stretch.high)
    # the line that "fit only here" would give, by the bars or by the scatter as there
    line = contain("line of a stretch", fit_graph, points, own)
    gradient = show_number(line.gradient, rule) if isinstance(line, FittedLine) else None
    kinds, ends_inside = points.x_column.kinds, (float(points.x[inside].min()), float(points.x[inside].max()))
    written_ends = [kinds[int(v) - 1] if kinds else write_place(v, 4) for v in ends_inside]
    area = _area_shown(computation, graph_id, stretch.low, stretch.high) if points is computation.points[graph_id] else None
    rise = _rise(computation, fit_id, stretch.low, stretch.high) if fit_id else None
    return StretchSummary(
        n=summary.n,
        x_range=with_unit(" to ".join(dict.fromkeys(written_ends)), x_unit),
        mean=show_number(mean.traced, rule),
        mean_rule=(say_mean_rule(mean.mean, computation.book.convention),),
        smallest=with_unit(_write_end(summary.min, typed, summary.sd), y_unit),
        largest=with_unit(_write_end(summary.max, typed, summary.sd), y_unit),
        half_range=with_unit(_write_half(summary.half_range, typed), y_unit),
        sd=written(summary.sd),
        standard_error=written(summary.standard_error),
        gradient=gradient,
        keys=tuple(run.row_id(points.rows[i]) for i in inside),
        area=area,
        rise=rise,
        **_as_instrument(points.y_column.quantity, run, summary.sd),
    )


def _as_instrument(quantity: Quantity, run: Run, sd: float | None) -> dict[str, str]:
    """A scatter and a last digit as an instrument has them; nothing for what is not read, or read more than once at a setting."""
    decimals = _count_decimals(quantity, run)
    if decimals is None or not sd:
        return {}
    whole = to_decimal(sd)
    return {"scatter": format(quantize(whole, whole.adjusted() - 1), "f"), "last_digit": format(Decimal(1).scaleb(-decimals), "f")}


def _count_decimals(quantity: Quantity, run: Run) -> int | None:
    """With how many decimals measured readings were written; None for others, as `most_typed_decimals`."""
    return most_typed_decimals(quantity, run) if quantity.kind == "measured" else None


def _write_end(value: float, typed: int | None, sd: float | None) -> str:
    """A reading as it was typed; anything else as far as such values scatter, three figures at least."""
    if typed is not None:
        return write_to_decimals(value, typed)
    known = to_decimal(value).adjusted() - to_decimal(sd).adjusted() + 1 if value and sd else 0
    return write_number(value, max(3, known))


def _write_half(value: float, typed: int | None) -> str:
    """Half of a range of readings has one decimal more, where it needs it."""
    if typed is None or value == 0:
        return write_number(value, 3)
    exact = to_decimal(value)
    return write_to_decimals(value, typed + (quantize(exact, -typed - 1) != quantize(exact, -typed)))


def _area_shown(computation: Computation, graph_id: str, low: float, high: float) -> ShownValue | None:
    try:
        return show_number(area_of_graph(computation, graph_id, low, high).traced, computation.book.convention.rounding)
    except CoreError:
        return None  # one point, or two at one x: there is no area, and nobody has asked for one


def _rise(computation: Computation, fit_id: str, low: float, high: float) -> RiseOverRun | None:
    fitted, points, _ = computation.fitted(fit_id)
    start, stop = (float(np.atleast_1d(fitted.at(x))[0]) for x in (low, high))
    if not (np.isfinite(start) and np.isfinite(stop) and high > low):
        return None
    unit, factor, y_unit = _units(points)
    x_unit = write_unit(axis_units(points)[0])
    ratio = (stop - start) / (high - low) * factor
    return RiseOverRun(
        from_x=low,
        from_y=start,
        to_x=high,
        to_y=stop,
        rise=with_unit(write_number(stop - start, 4), y_unit),
        run=with_unit(write_number(high - low, 4), x_unit),
        ratio=with_unit(write_number(ratio, 4), unit),
    )


def find_steepest(computation: Computation, graph_id: str, fraction: float) -> SteepestResult:
    """The steepest point of a graph, and the reading at a fraction of its place.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such graph; as `steepest_of_graph`.
    """
    numbers = steepest_of_graph(computation, graph_id, fraction)
    found, points = numbers.found, numbers.points
    rule, (x_unit, _) = computation.book.convention.rounding, axis_units(points)
    refined = (
        say("refined", "refined where the second difference goes through zero")
        if found.refined is not None
        else say("at_the_end", "it is at the end of the points")
    )
    x, y = points.x[points.used], points.y[points.used]
    order = np.argsort(x, kind="stable")
    place = float(numbers.place.value)
    return SteepestResult(
        place=show_number(numbers.place, rule),
        refined=(refined,),
        rate=show_number(numbers.rate, rule),
        fraction_place=with_unit(write_place(found.fraction_x), write_unit(x_unit)),
        reading=None if numbers.reading is None else show_number(numbers.reading, rule),
        x=place,
        y=float(np.interp(place, x[order], y[order])),
    )


def _units(points: GraphPoints) -> tuple[str, float, str]:
    """Unit of a gradient, the factor from plain y per x to it, and the unit of y."""
    x_unit, y_unit = axis_units(points)
    unit, factor = gradient_unit(x_unit, y_unit)
    return write_unit(unit), factor, write_unit(y_unit)
