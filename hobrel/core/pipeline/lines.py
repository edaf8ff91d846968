"""The points of a graph, and the line through them as a traced result that a finding can be made from."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import ByEye, Fit, FitUncertainty, Graph
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import measure_bend
from hobrel.core.fitting.by_eye import ByEyeLine, study_by_eye
from hobrel.core.fitting.extreme import ExtremeLines, find_extreme_lines
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import Residuals, study_pattern
from hobrel.core.fitting.straightness import (
    Bars,
    Scatter,
    Straightness,
    Used,
    judge_points,
    judge_scatter,
    judge_straight,
    judge_without_bars,
)
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.uncertainty.traced import (
    ONE_IN_KELVINS,
    ONE_ON_SCALE,
    Floats,
    Source,
    Traced,
    chain,
    combine_quadrature,
    covary_rows,
    effective_dof,
    weigh_rows,
    weigh_scatter,
)
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit


@dataclass(frozen=True)
class GraphPoints:
    """The points of one run on one pair of axes.

    Attributes
    ----------
    run : str
        The id of their run.
    rows : tuple of int
        Settings that have both values, in table order; `used` marks those not set aside.
    x, y, ux, uy : ndarray, shape (len(rows),)
        Values, and the bars that are drawn (without shared constants).
    judged : Bars
        What each point is weighed and judged with.
    constants : mapping of symbol to Traced
        Single numbers of the lab book, which a model may use.
    """

    run: str
    x_column: Column
    y_column: Column
    rows: tuple[int, ...]
    used: Used
    x: Floats
    y: Floats
    ux: Floats
    uy: Floats
    judged: Bars
    constants: Mapping[str, Traced] = field(default_factory=dict, repr=False)


@dataclass(frozen=True)
class FittedLine:
    """A line with what it means: gradient and intercept, traced to the points that they came from and to the constants that these share.

    `judged` are the two as verdicts take them, uncertain by how the points scatter about the line. `fitted` marks those of the `points`
    that it was fitted to (not set aside, within the stretch); `residuals` are of these. `by_eye_extremes` are the steepest and the
    shallowest line that the bench has drawn.
    """

    line: LineFit
    residuals: Residuals
    gradient: Traced
    intercept: Traced
    judged: dict[str, Traced]
    scatter: Scatter
    bends: Straightness
    points: GraphPoints
    fitted: Used
    by_eye: ByEyeLine | None
    by_eye_extremes: tuple[ByEye, ...] = ()
    show_extremes: bool = False

    @property
    def outputs(self) -> dict[str, Traced]:
        """What a finding can be made of."""
        return {"gradient": self.gradient, "intercept": self.intercept}

    @property
    def n(self) -> int:
        """How many points were fitted."""
        return self.line.n

    @cached_property
    def extremes(self) -> ExtremeLines | CoreError | None:
        """The steepest and the shallowest line through the bars of the fitted points, or why there are none; None without bars."""
        x, y, ux, uy = (values[self.fitted] for values in (self.points.x, self.points.y, self.points.ux, self.points.uy))
        if not (np.any(uy > 0) or np.any(ux > 0)):
            return None
        try:
            return find_extreme_lines(x, y, uy, ux)
        except CoreError as trouble:
            return trouble.kept()

    def at(self, x: ArrayLike) -> Floats:
        """y of the line at x."""
        return self.line.at(x)

    def u_at(self, x: ArrayLike) -> Floats:
        """Standard uncertainty of the line at x, by the fit's own weights."""
        return self.line.u_at(x)

    def slope_at(self, x: ArrayLike) -> Floats:
        """Its gradient, for every x."""
        return np.full(np.shape(np.asarray(x)), self.line.gradient)


def gather_points(columns: RunColumns, graph: Graph) -> GraphPoints:
    """Collect the points of a graph.

    Raises
    ------
    CoreError
        The trouble of a column that cannot be computed; ``bad_job`` for a quantity that does not vary; ``kinds_along_x`` for kinds
        along y.
    """
    pair = []
    for quantity_id in (graph.x, graph.y):
        column = columns.columns.get(quantity_id)
        if column is None:
            raise CoreError("bad_job", "The graph needs a quantity that is no longer in the lab book. Choose another at its axis.")
        if column.traced is None:
            assert column.trouble is not None
            if column.words is not None:
                raise column.trouble
            raise CoreError(
                column.trouble.code,
                "{symbol} cannot be drawn yet: {trouble}",
                symbol=plain_symbol(column.quantity),
                trouble=column.trouble.message,
            )
        if column.words is not None and quantity_id == graph.y:
            raise CoreError(
                "kinds_along_x", "{name} are kinds: they stand along x. Choose another at this axis.", name=column.quantity.name
            )
        if column.traced.value.ndim == 0:
            raise CoreError("bad_job", "{symbol} is the same for all settings, so it makes no axis.", symbol=plain_symbol(column.quantity))
        pair.append(column)
    x_column, y_column = pair
    assert x_column.traced is not None and y_column.traced is not None
    x_all, y_all = x_column.traced.value, y_column.traced.value
    rows = np.flatnonzero(np.isfinite(x_all) & np.isfinite(y_all))
    used = ~np.array(columns.run.rows_aside(), dtype=bool)[rows]
    ux, uy = x_column.u[rows], y_column.u[rows]
    x_judged, y_judged = x_column.traced.judged(), y_column.traced.judged()
    sx, sy = (combine_quadrature(number, shared=False)[rows] for number in (x_judged, y_judged))
    product = covary_rows(x_judged, y_judged, shared=False)[rows]
    with np.errstate(invalid="ignore", divide="ignore"):
        correlation = np.where((sx > 0) & (sy > 0), product / (sx * sy), 0.0)
    judged = Bars(sx, sy, np.clip(correlation, -1, 1), min(_dof_behind(x_judged, rows), _dof_behind(y_judged, rows)))
    return GraphPoints(
        run=columns.run.id,
        x_column=x_column,
        y_column=y_column,
        rows=tuple(rows.tolist()),
        used=used,
        x=x_all[rows],
        y=y_all[rows],
        ux=ux,
        uy=uy,
        judged=judged,
        constants=columns.constants,
    )


def bars_of_used(points: GraphPoints, used: Used) -> Bars:
    """The bars that weigh and judge some of the points, with the degrees of freedom behind these."""
    bars = points.judged.at(used)
    if bool(np.all(used)):
        return bars
    rows = np.array(points.rows, dtype=np.intp)[used]
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    return replace(bars, dof=min(_dof_behind(x.judged(), rows), _dof_behind(y.judged(), rows)))


def _dof_behind(column: Traced, rows: np.ndarray[tuple[int], np.dtype[np.intp]]) -> float:
    """Degrees of freedom behind the bars of a column's rows, as if all of it were added up."""
    weights = np.zeros(column.value.shape)
    weights[rows] = 1.0
    return effective_dof(weigh_rows(column, weights).unshared())


def refuse_kinds(points: GraphPoints) -> None:
    """Refuse what takes places along x for numbers.

    Raises
    ------
    CoreError
        ``kinds_not_fitted`` where kinds stand there.
    """
    if points.x_column.kinds:
        name = points.x_column.quantity.name
        raise CoreError("kinds_not_fitted", "{name}: these are kinds, not numbers. No line or curve goes through them.", name=name)


def points_to_fit(points: GraphPoints, fit: Fit) -> Used:
    """Which points a fit uses: not set aside, and within its stretch.

    Raises
    ------
    CoreError
        As `refuse_kinds`.
    """
    refuse_kinds(points)
    low, high = (-np.inf if fit.low is None else fit.low), (np.inf if fit.high is None else fit.high)
    return points.used & (points.x >= min(low, high)) & (points.x <= max(low, high))


def fit_graph(points: GraphPoints, fit: Fit, which: FitUncertainty = "larger") -> FittedLine:
    """Fit a line to the points that are not set aside; `which` ± it is given.

    Shared constants in either axis move all points together, so they are no reason to weight; how much each would turn and
    lift the line is found by moving it by its own u and fitting again.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than three; as `points_to_fit` and `fit_line`.
    """
    used = points_to_fit(points, fit)
    x, y, ux, uy, bars = points.x[used], points.y[used], points.ux[used], points.uy[used], bars_of_used(points, used)
    both = fit.weights == "both_bars" and bool(np.any(bars.x > 0))
    if x.size < 3:
        raise CoreError(
            "too_few_points",
            "A line with its uncertainty needs three or more points and has {n}.",
            n=x.size,
        )
    plain = fit_line(x, y, through_origin=fit.through_origin)
    # where the error of each point runs along the line itself (F = m g against m; a level line and bars in x), there is nothing to weigh by
    slope = plain.gradient if without_rounding(abs(plain.gradient) * float(np.ptp(x)), y) else 0.0
    weighted = fit.weights != "none" and bool(np.any(bars.y > 0) or both) and not bars.run_along(slope)

    def run_fit(xs: Floats, ys: Floats) -> LineFit:
        if not weighted:
            return fit_line(xs, ys, through_origin=fit.through_origin)
        return fit_line(xs, ys, bars.y, bars.x if both else None, bars.correlation if both else None, through_origin=fit.through_origin)

    line = run_fit(x, y) if weighted else plain
    both = line.method == "york"
    sigma = bars.along_y(line.gradient) if both else bars.y
    bend = measure_bend(x, y, sigma if weighted else None)
    by = sigma if weighted else np.full_like(x, line.residual_sd)
    study = study_pattern(x, y, y - line.at(x), by, bend)
    spread = sigma if weighted else np.full(x.size, without_rounding(line.residual_sd, y))
    scatter = judge_scatter(line.chi2, line.dof, bars.dof)
    if weighted:
        bends = judge_points(x, y, bars) if line.through_origin else judge_straight(bend, x.size, scatter, bars.dof)
    else:
        bends = judge_without_bars(bend, x, y)
    influence = Influence(
        by=line.influence,
        slopes=np.full(x.size, line.gradient) if both else None,
        spread=spread,
        dof=line.dof,
        dof_of_bars=bars.dof,
        reduced_chi2=scatter_in_bars(line.reduced_chi2, line.residual_sd, y),
    )
    said, judged = trace_twofold(points, used, influence, scatter, which)
    for source, u, x_shift, y_shift in shared_shifts(points, used):
        moved = run_fit(x + x_shift, y + y_shift)
        for by_gradient, by_intercept in (said, judged):
            by_gradient[source] = np.asarray((moved.gradient - line.gradient) / u)
            by_intercept[source] = np.asarray((moved.intercept - line.intercept) / u)
    x_unit, y_unit = axis_units(points)
    unit, factor = gradient_unit(x_unit, y_unit)
    on_scale = ONE_ON_SCALE if y_unit.is_offset else ONE_IN_KELVINS

    at_zero = line.intercept if without_rounding(abs(line.intercept), y) else 0.0

    def as_outputs(by: list[dict[Source, Floats]]) -> tuple[Traced, Traced]:
        return Traced(np.asarray(line.gradient), by[0]).scaled(factor, unit), Traced(np.asarray(at_zero), by[1], y_unit, on_scale)

    gradient, intercept = as_outputs(said)
    by_eye = None if fit.by_eye is None else study_by_eye(x, y, ux, uy, fit.by_eye.gradient, intercept=fit.by_eye.intercept)
    return FittedLine(
        line=line,
        residuals=study,
        gradient=gradient,
        intercept=intercept,
        judged=dict(zip(("gradient", "intercept"), as_outputs(judged), strict=True)),
        scatter=scatter,
        # whatever is fitted, it is the points that are straight or not: a line through the origin says nothing of that
        bends=bends,
        points=points,
        fitted=used,
        by_eye=by_eye,
        by_eye_extremes=tuple(line for line in (fit.steepest_by_eye, fit.shallowest_by_eye) if line is not None),
        show_extremes=fit.show_extremes,
    )


ROUNDING = 1e-12
"""Share of y below which a scatter is that of binary arithmetic."""


@dataclass(frozen=True)
class Influence:
    """How the parameters of a fit rest on its points.

    Attributes
    ----------
    by : ndarray, shape (parameters, points)
        How far each parameter moves for each unit that a point is off by.
    slopes : ndarray, shape (points,), or None
        Of what was fitted, at the points, where bars in x count too: a point is off by δy − slope δx.
    spread : ndarray, shape (points,)
        How far each point is off.
    dof, dof_of_bars : float
        Degrees of freedom behind that, and behind the bars of the points.
    reduced_chi2 : float or None
        None without bars.
    """

    by: Floats
    slopes: Floats | None
    spread: Floats
    dof: float
    dof_of_bars: float
    reduced_chi2: float | None


def without_rounding(scatter: float, y: Floats) -> float:
    """A scatter, or none where it is only that of binary arithmetic: exact data have no ±."""
    return 0.0 if scatter <= ROUNDING * float(np.max(np.abs(y), initial=0.0)) else scatter


def scatter_in_bars(reduced_chi2: float | None, residual_sd: float, y: Floats) -> float | None:
    """χ²ν, or nothing where the scatter is only that of binary arithmetic; None without bars."""
    return reduced_chi2 if reduced_chi2 is None or without_rounding(residual_sd, y) else 0.0


def trace_twofold(
    points: GraphPoints, used: Used, influence: Influence, scatter: Scatter, which: FitUncertainty
) -> tuple[list[dict[Source, Floats]], list[dict[Source, Floats]]]:
    """`trace_to_points` for what is said of a fit and for what judges.

    Said is what comes from the bars or from how the points scatter about the fit, by the class's convention. Verdicts take the scatter, for
    a convention's factor falls out of it; but where points scatter less than chance lets them, the bars know more than that luck.
    """
    reduced_chi2 = influence.reduced_chi2
    excess = math.sqrt(reduced_chi2) if reduced_chi2 is not None else 1.0
    found = trace_to_points(points, used, influence)
    together = _move_together(points)
    found_judged = trace_to_points(points, used, influence, judged=True) if together else found

    def stretched(found: list[dict[Source, Floats]], by_scatter: bool) -> list[dict[Source, Floats]]:
        factor, dof = (excess, influence.dof) if by_scatter else (1.0, influence.dof_of_bars)
        return [{s if s.dof == dof else replace(s, dof=dof): by * factor for s, by in slopes.items()} for slopes in found]

    # slopes of one curve lie on a line together, however well they are known: that they do tells nothing
    scattered = is_by_scatter(reduced_chi2, "larger") if together else reduced_chi2 is None or scatter != "less"
    return stretched(found, is_by_scatter(reduced_chi2, which)), stretched(found_judged, scattered)


def is_by_scatter(reduced_chi2: float | None, which: FitUncertainty) -> bool:
    """Whether the ± of a fit is said by how its points scatter, and not by their bars."""
    return reduced_chi2 is None or which == "scatter" or (which == "larger" and reduced_chi2 > 1)


def which_says(points: GraphPoints, which: FitUncertainty) -> FitUncertainty:
    """By what the ± of a fit of these points is said. Slopes of one curve move together: that they lie on a line tells nothing of how well
    it is known, so that the scatter about it does not say it alone.
    """
    return "larger" if which == "scatter" and _move_together(points) else which


def _move_together(points: GraphPoints) -> bool:
    return any(column.traced is not None and column.traced.moves_together for column in (points.x_column, points.y_column))


def trace_to_points(points: GraphPoints, used: Used, influence: Influence, *, judged: bool = False) -> list[dict[Source, Floats]]:
    """For each parameter of a fit its derivatives by what the fitted points rest on, shared constants left out.

    Points whose errors are independent are off by what weighs and judges them; rows that move together with the parameters of a curve by
    what these are said to be uncertain by, or `judged` to be.
    """
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    rows = np.array(points.rows, dtype=int)[used]

    def of_all(values: Floats) -> Floats:
        whole = np.zeros(y.value.shape)
        whole[rows] = values
        return whole

    off = y
    if influence.slopes is not None:
        slopes = of_all(influence.slopes)
        off = chain(y.value, ((y, lambda: np.asarray(1.0)), (x, lambda: -slopes)), y.unit)
    key = f"scatter:{points.run}:{points.x_column.quantity.id}:{points.y_column.quantity.id}"
    if off.moves_together:
        # stretched as a whole, where it is not the bars that say how far the points are off
        own = combine_quadrature(off.judged(), shared=False)[rows]
        stretch = float(np.median(influence.spread / np.where(own > 0, own, 1.0)))
        off = off.judged() if judged else off
        return [
            {
                replace(s, dof=influence.dof, estimate=key): v * stretch
                for s, v in weigh_rows(off, of_all(by)).slopes.items()
                if not s.shared
            }
            for by in influence.by
        ]
    own_source = Source(key, points.y_column.quantity.symbol, np.ones(y.value.shape), y.unit, dof=influence.dof)
    return [weigh_scatter(off, of_all(by), of_all(influence.spread), own_source) for by in influence.by]


def shared_shifts(points: GraphPoints, used: Used) -> list[tuple[Source, float, Floats, Floats]]:
    """How the points would move if each constant that they share were larger by its u: source, u, shifts of x and of y."""
    rows = np.array(points.rows, dtype=int)[used]
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    moving = [(s, float(s.u)) for s in dict.fromkeys([*x.slopes, *y.slopes]) if s.shared]
    return [(source, u, _shift(x, source, u, rows), _shift(y, source, u, rows)) for source, u in moving if u > 0]


def _shift(column: Traced, source: Source, u: float, rows: np.ndarray[tuple[int], np.dtype[np.int_]]) -> Floats:
    slope = column.slopes.get(source)
    if slope is None:
        return np.zeros(rows.size)
    return np.asarray(np.broadcast_to(slope, column.value.shape)[rows] * u)


def axis_units(points: GraphPoints) -> tuple[Unit, Unit]:
    """Units of x and of y."""
    assert points.x_column.traced is not None and points.y_column.traced is not None
    return points.x_column.traced.unit, points.y_column.traced.unit


def gradient_unit(x_unit: Unit, y_unit: Unit) -> tuple[Unit, float]:
    """Unit of Δy/Δx, and the factor that units of one dimension bring (mm/m)."""
    return multiply_units(y_unit, raise_unit(x_unit, Fraction(-1)))
