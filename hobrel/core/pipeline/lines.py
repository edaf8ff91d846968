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
from hobrel.core.uncertainty.traced import Floats, Source, Traced, contributions
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit


@dataclass(frozen=True)
class GraphPoints:
    """The points of one run on one pair of axes.

    Attributes
    ----------
    rows : tuple of int
        Settings that have both values, in table order; `used` marks those not set aside.
    x, y, ux, uy, correlation : ndarray, shape (len(rows),)
        Values, bars (without shared constants), and the correlation of a point's x with its y where both come from the same
        readings.
    """

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
    """A line with what it means: gradient and intercept as sources of their own, and the pull of shared constants.

    `fitted` marks the points that it was fitted to (not set aside, within the stretch); `residuals` are of these. `extremes` are the
    steepest and shallowest line through their bars, or why there are none; None without bars. `by_eye_extremes` are those that the bench
    has drawn.
    """

    line: LineFit
    residuals: Residuals
    gradient: Traced
    intercept: Traced
    sources: dict[str, Source]
    correlations: dict[tuple[str, str], float]
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
    in_y = contributions(y_column.traced, columns.sources, shared=False)
    for key, part in contributions(x_column.traced, columns.sources, shared=False).items():
        if key in in_y:
            product = product + part[rows] * in_y[key][rows]
    with np.errstate(invalid="ignore", divide="ignore"):
        correlation = np.where((ux > 0) & (uy > 0), product / (ux * uy), 0.0)
    return GraphPoints(x_column, y_column, tuple(int(i) for i in rows), used, x_all[rows], y_all[rows], ux, uy, np.clip(correlation, -1, 1))


def points_to_fit(points: GraphPoints, fit: Fit) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which points a fit uses: not set aside, and within its stretch."""
    low, high = (-np.inf if fit.low is None else fit.low), (np.inf if fit.high is None else fit.high)
    return points.used & (points.x >= min(low, high)) & (points.x <= max(low, high))


def fit_graph(points: GraphPoints, fit: Fit, columns: RunColumns, extremes: bool = True) -> FittedLine:
    """Fit a line to the points that are not set aside; `extremes` asks for the steepest and the shallowest too.

    Shared constants in either axis move all points together, so they are no reason to weight; how much each would turn and
    lift the line is found by moving it by its own u and fitting again.
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
    keys = (f"{fit.id}:gradient", f"{fit.id}:intercept")
    sources = dict(columns.sources)
    sources[keys[0]] = Source(keys[0], "gradient", np.asarray(line.u_gradient * factor), unit)
    sources[keys[1]] = Source(keys[1], "intercept", np.asarray(line.u_intercept), y_unit)
    gradient_slopes: dict[str, Floats] = {keys[0]: np.asarray(1.0)}
    intercept_slopes: dict[str, Floats] = {keys[1]: np.asarray(1.0)}
    for key, u, x_shift, y_shift in shared_shifts(points, columns, used):
        moved = run_fit(x + x_shift, y + y_shift)
        gradient_slopes[key] = np.asarray((moved.gradient - line.gradient) * factor / u)
        intercept_slopes[key] = np.asarray((moved.intercept - line.intercept) / u)
    spread = line.u_gradient * line.u_intercept
    correlations = columns.correlations | ({keys: line.covariance / spread} if spread else {})
    study = study_residuals(x, y, line, uy if weighted and np.any(uy > 0) else None, ux if both else None)
    by_eye = None if fit.by_eye is None else study_by_eye(x, y, ux, uy, fit.by_eye.gradient, fit.by_eye.intercept)
    return FittedLine(
        line, study,
        Traced(np.asarray(line.gradient * factor), gradient_slopes, unit),
        Traced(np.asarray(line.intercept), intercept_slopes, y_unit),
        sources, correlations, used, _attempt_extremes(x, y, ux, uy) if extremes else None, by_eye,
        tuple(line for line in (fit.steepest_by_eye, fit.shallowest_by_eye) if line is not None), fit.show_extremes,
    )  # fmt: skip


def _attempt_extremes(x: Floats, y: Floats, ux: Floats, uy: Floats) -> ExtremeLines | CoreError | None:
    if not (np.any(uy > 0) or np.any(ux > 0)):
        return None
    try:
        return find_extreme_lines(x, y, uy, ux)
    except CoreError as trouble:
        return trouble


def shared_shifts(
    points: GraphPoints, columns: RunColumns, used: np.ndarray[tuple[int], np.dtype[np.bool_]]
) -> list[tuple[str, float, Floats, Floats]]:
    """How the points would move if each constant that they share were larger by its u: key, u, shifts of x and of y."""
    rows = np.array(points.rows, dtype=int)[used]
    moving = [(key, float(columns.sources[key].u)) for key in _shared_keys(points, columns)]
    return [(key, u, _shift(points.x_column, key, u, rows), _shift(points.y_column, key, u, rows)) for key, u in moving if u > 0]


def axis_units(points: GraphPoints) -> tuple[Unit, Unit]:
    """Units of x and of y."""
    assert points.x_column.traced is not None and points.y_column.traced is not None
    return points.x_column.traced.unit, points.y_column.traced.unit


def gradient_unit(x_unit: Unit, y_unit: Unit) -> tuple[Unit, float]:
    """Unit of Δy/Δx, and the factor that units of one dimension bring (mm/m)."""
    return multiply_units(y_unit, raise_unit(x_unit, Fraction(-1)))


def _shared_keys(points: GraphPoints, columns: RunColumns) -> list[str]:
    keys: dict[str, None] = {}
    sources = columns.sources  # gathered anew at each asking
    for column in (points.x_column, points.y_column):
        assert column.traced is not None
        keys.update((k, None) for k in column.traced.slopes if sources[k].shared)
    return list(keys)


def _shift(column: Column, key: str, u: float, rows: np.ndarray[tuple[int], np.dtype[np.int_]]) -> Floats:
    assert column.traced is not None
    slope = column.traced.slopes.get(key)
    if slope is None:
        return np.zeros(rows.size)
    return np.asarray(np.broadcast_to(slope, column.traced.value.shape)[rows] * u)
