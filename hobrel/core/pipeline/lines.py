"""The points of a graph, and the line through them as a traced result that a finding can be made from."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import ByEye, Fit, Graph
from hobrel.core.errors import CoreError
from hobrel.core.fitting.by_eye import ByEyeLine, study_by_eye
from hobrel.core.fitting.extreme import ExtremeLines, find_extreme_lines
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import Residuals, study_residuals
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.uncertainty.traced import Floats, Source, Traced, chain, contributions, weigh_rows, weigh_scatter
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
    x, y, ux, uy, correlation : ndarray, shape (len(rows),)
        Values, bars (without shared constants), and the correlation of a point's x with its y where both come from the same
        readings.
    """

    run: str
    x_column: Column
    y_column: Column
    rows: tuple[int, ...]
    used: np.ndarray[tuple[int], np.dtype[np.bool_]]
    x: Floats
    y: Floats
    ux: Floats
    uy: Floats
    correlation: Floats


@dataclass(frozen=True)
class FittedLine:
    """A line with what it means: gradient and intercept, traced to the points that they came from and to the constants that these share.

    `fitted` marks the points that it was fitted to (not set aside, within the stretch); `residuals` are of these. `extremes` are the
    steepest and shallowest line through their bars, or why there are none; None without bars. `by_eye_extremes` are those that the bench
    has drawn.
    """

    line: LineFit
    residuals: Residuals
    gradient: Traced
    intercept: Traced
    fitted: np.ndarray[tuple[int], np.dtype[np.bool_]]
    extremes: ExtremeLines | CoreError | None
    by_eye: ByEyeLine | None
    by_eye_extremes: tuple[ByEye, ...] = ()
    show_extremes: bool = False

    @property
    def outputs(self) -> dict[str, Traced]:
        """What a finding can be made of."""
        return {"gradient": self.gradient, "intercept": self.intercept}

    @property
    def n(self) -> int:
        return self.line.n

    def at(self, x: ArrayLike) -> Floats:
        return self.line.at(x)

    def u_at(self, x: ArrayLike) -> Floats:
        return self.line.u_at(x)

    def slope_at(self, x: ArrayLike) -> Floats:
        return np.full(np.shape(np.asarray(x)), self.line.gradient)


def gather_points(columns: RunColumns, graph: Graph) -> GraphPoints:
    """Collect the points of a graph.

    Raises
    ------
    CoreError
        The trouble of a column that cannot be computed; ``bad_job`` for a quantity that does not vary.
    """
    pair = []
    for quantity_id in (graph.x, graph.y):
        column = columns.columns.get(quantity_id)
        if column is None:
            raise CoreError("bad_job", "The graph needs a quantity that is no longer in the lab book. Choose another at its axis.")
        if column.traced is None:
            assert column.trouble is not None
            raise CoreError(column.trouble.code, f"{plain_symbol(column.quantity)} cannot be drawn yet: {column.trouble.message}")
        if column.traced.value.ndim == 0:
            raise CoreError("bad_job", f"{plain_symbol(column.quantity)} is the same for all settings, so it makes no axis.")
        pair.append(column)
    x_column, y_column = pair
    assert x_column.traced is not None and y_column.traced is not None
    x_all, y_all = x_column.traced.value, y_column.traced.value
    rows = np.flatnonzero(np.isfinite(x_all) & np.isfinite(y_all))
    used = ~np.array(columns.run.rows_aside(), dtype=bool)[rows]
    ux, uy = x_column.u[rows], y_column.u[rows]
    product = np.zeros(rows.size)
    in_y = contributions(y_column.traced, shared=False)
    for source, part in contributions(x_column.traced, shared=False).items():
        if source in in_y:
            product = product + part[rows] * in_y[source][rows]
    with np.errstate(invalid="ignore", divide="ignore"):
        correlation = np.where((ux > 0) & (uy > 0), product / (ux * uy), 0.0)
    return GraphPoints(
        columns.run.id, x_column, y_column, tuple(rows.tolist()), used, x_all[rows], y_all[rows], ux, uy, np.clip(correlation, -1, 1)
    )


def points_to_fit(points: GraphPoints, fit: Fit) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which points a fit uses: not set aside, and within its stretch."""
    low, high = (-np.inf if fit.low is None else fit.low), (np.inf if fit.high is None else fit.high)
    return points.used & (points.x >= min(low, high)) & (points.x <= max(low, high))


def fit_graph(points: GraphPoints, fit: Fit, extremes: bool = True) -> FittedLine:
    """Fit a line to the points that are not set aside; `extremes` asks for the steepest and the shallowest too.

    Shared constants in either axis move all points together, so they are no reason to weight; how much each would turn and
    lift the line is found by moving it by its own u and fitting again.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than three; as `fit_line`.
    """
    used = points_to_fit(points, fit)
    x, y = points.x[used], points.y[used]
    ux, uy, r = points.ux[used], points.uy[used], points.correlation[used]
    weighted = fit.weights != "none"
    both = fit.weights == "both_bars"

    def run_fit(xs: Floats, ys: Floats) -> LineFit:
        return fit_line(xs, ys, uy if weighted else None, ux if both and np.any(uy > 0) else None, r if both else None, fit.through_origin)

    if x.size < 3:
        raise CoreError(
            "too_few_points", f"A line with its uncertainty needs at least three points; there {'is' if x.size == 1 else 'are'} {x.size}."
        )
    line = run_fit(x, y)
    x_unit, y_unit = axis_units(points)
    unit, factor = gradient_unit(x_unit, y_unit)
    by_gradient, by_intercept = trace_to_points(
        points, used, line.influence, np.full(x.size, line.gradient) if line.method == "york" else None,
        line.residual_sd if line.method == "ols" else None, line.dof,
    )  # fmt: skip
    for source, u, x_shift, y_shift in shared_shifts(points, used):
        moved = run_fit(x + x_shift, y + y_shift)
        by_gradient[source] = np.asarray((moved.gradient - line.gradient) / u)
        by_intercept[source] = np.asarray((moved.intercept - line.intercept) / u)
    study = study_residuals(x, y, line, uy if weighted and np.any(uy > 0) else None, ux if both else None)
    by_eye = None if fit.by_eye is None else study_by_eye(x, y, ux, uy, fit.by_eye.gradient, fit.by_eye.intercept)
    return FittedLine(
        line, study,
        Traced(np.asarray(line.gradient), by_gradient).scaled(factor, unit),
        Traced(np.asarray(line.intercept), by_intercept, y_unit),
        used, _attempt_extremes(x, y, ux, uy) if extremes else None, by_eye,
        tuple(line for line in (fit.steepest_by_eye, fit.shallowest_by_eye) if line is not None), fit.show_extremes,
    )  # fmt: skip


def trace_to_points(
    points: GraphPoints,
    used: np.ndarray[tuple[int], np.dtype[np.bool_]],
    influence: Floats,
    slopes: Floats | None,
    scatter: float | None,
    dof: int,
) -> list[dict[Source, Floats]]:
    """For each parameter of a fit its derivatives by what the points rest on, shared constants left out.

    Parameters
    ----------
    points : GraphPoints
    used : ndarray of bool
        Which of them were fitted.
    influence : ndarray, shape (parameters, used)
        How far each parameter moves for each unit that a point is off by.
    slopes : ndarray, shape (used,), or None
        Of what was fitted, at the points, where bars in x count too: a point is off by δy − slope δx.
    scatter : float or None
        How far points are off where that is told by their scatter (with `dof`) and not by their bars.
    dof : int
    """
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    rows = np.array(points.rows, dtype=int)[used]

    def of_all(values: Floats) -> Floats:
        whole = np.zeros(y.value.shape)
        whole[rows] = values
        return whole

    off = y if slopes is None else chain(y.value, ((y, lambda: np.asarray(1.0)), (x, lambda: -of_all(slopes))), y.unit)
    if scatter is None:
        return [{s: v for s, v in weigh_rows(off, of_all(by)).slopes.items() if not s.shared} for by in influence]
    key = f"scatter:{points.run}:{points.x_column.quantity.id}:{points.y_column.quantity.id}"
    own = Source(key, points.y_column.quantity.symbol, np.ones(y.value.shape), y.unit, dof=dof)
    return [weigh_scatter(off, of_all(by), scatter, own) for by in influence]


def _attempt_extremes(x: Floats, y: Floats, ux: Floats, uy: Floats) -> ExtremeLines | CoreError | None:
    if not (np.any(uy > 0) or np.any(ux > 0)):
        return None
    try:
        return find_extreme_lines(x, y, uy, ux)
    except CoreError as trouble:
        return trouble


def shared_shifts(points: GraphPoints, used: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> list[tuple[Source, float, Floats, Floats]]:
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
