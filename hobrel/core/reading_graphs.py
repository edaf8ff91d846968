"""Asking a graph: what a line drawn by eye touches while it is moved, what a marked stretch says, which shapes make sense."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hobrel.core.analysis import Computation
from hobrel.core.change.stretch import summarise_stretch
from hobrel.core.documents import Fit, Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.by_eye import study_by_eye
from hobrel.core.lines import GraphPoints, gradient_unit, points_to_fit
from hobrel.core.presenting.graphs import say_touched
from hobrel.core.presenting.thinning import thin_points
from hobrel.core.results import ShownValue
from hobrel.core.rounding import write_number
from hobrel.core.showing import show_value
from hobrel.core.units import write_unit


@dataclass(frozen=True)
class PointResidual:
    """What a line leaves of one point (by the id of its setting), in the unit of y."""

    key: str
    residual: float


@dataclass(frozen=True)
class ByEyePreview:
    """What a line drawn by eye touches and leaves; `gradient` and `intercept` as they would be written."""

    gradient: str
    intercept: str
    words: str
    residuals: tuple[PointResidual, ...]


@dataclass(frozen=True)
class StretchSummary:
    """What the points of a stretch say: their y summarised, and the gradient of a line of their own (None for fewer than three).

    `keys` are their settings.
    """

    n: int
    x_range: str
    mean: ShownValue
    smallest: str
    largest: str
    half_range: str
    sd: str
    standard_error: str
    gradient: ShownValue | None
    keys: tuple[str, ...]


def preview_by_eye(computation: Computation, fit_id: str, gradient: float, intercept: float) -> ByEyePreview:
    """Study a line while it is being moved; nothing is changed.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such fit; the trouble of its graph.
    """
    fit, points = fit_with_points(computation, fit_id)
    used = points_to_fit(points, fit)
    x, y, ux, uy = (v[used] for v in (points.x, points.y, points.ux, points.uy))
    study = study_by_eye(x, y, ux, uy, gradient, intercept)
    rows = np.array(points.rows)[used]
    run = _run(computation)
    residuals = tuple(PointResidual(run.row_id(int(rows[i])), float(study.residuals[i])) for i in thin_points(x, y))
    unit, factor, y_unit = _units(points)
    return ByEyePreview(
        f"{write_number(gradient * factor, 4)} {unit}".rstrip(), f"{write_number(intercept, 3)} {y_unit}".rstrip(),
        say_touched(study.touched, study.n), residuals,
    )  # fmt: skip


def summarise_marked(computation: Computation, graph_id: str, low: float, high: float) -> StretchSummary:
    """Summarise the points of a graph between two places on its x axis; those set aside do not count.

    Raises
    ------
    CoreError
        ``bad_job``, ``too_few_points``.
    """
    points = points_of_graph(computation, graph_id)
    x, y, uy = (v[points.used] for v in (points.x, points.y, points.uy))
    weighted = bool(x.size) and bool(np.all(uy > 0))
    stretch = summarise_stretch(x, y, low, high, uy if weighted else None)
    run, rule = _run(computation), computation.book.convention.rounding
    inside = np.flatnonzero(points.used & (points.x >= stretch.low) & (points.x <= stretch.high))
    unit, factor, y_unit = _units(points)
    assert points.x_column.traced is not None
    x_unit, summary = write_unit(points.x_column.traced.unit), stretch.summary

    def written(value: float | None) -> str:
        return "" if value is None else f"{write_number(value, 3)} {y_unit}".rstrip()

    gradient = None
    if stretch.line is not None:
        u = stretch.line.u_gradient * abs(factor)
        gradient = show_value(stretch.line.gradient * factor, u if np.isfinite(u) and u > 0 else None, unit, rule)
    return StretchSummary(
        summary.n, f"{write_number(stretch.low, 4)} to {write_number(stretch.high, 4)} {x_unit}".rstrip(),
        show_value(summary.mean, summary.standard_error or None, y_unit, rule), written(summary.min), written(summary.max),
        written(summary.half_range), written(summary.sd), written(summary.standard_error), gradient,
        tuple(run.row_id(points.rows[i]) for i in inside),
    )  # fmt: skip


def fit_with_points(computation: Computation, fit_id: str) -> tuple[Fit, GraphPoints]:
    """A fit and the points of its graph.

    Raises
    ------
    CoreError
        ``bad_job`` where it is not there; the trouble of its graph.
    """
    fit = next((f for f in computation.book.fits if f.id == fit_id), None)
    if fit is None:
        raise CoreError("bad_job", "This fit is no longer in the lab book.")
    return fit, points_of_graph(computation, fit.graph)


def points_of_graph(computation: Computation, graph_id: str) -> GraphPoints:
    """The points of a graph, or its trouble raised."""
    points = computation.points.get(graph_id)
    if points is None:
        raise CoreError("bad_job", "This graph is no longer in the lab book.")
    if isinstance(points, CoreError):
        raise points
    return points


def _run(computation: Computation) -> Run:
    return computation.book.runs[0]


def _units(points: GraphPoints) -> tuple[str, float, str]:
    """Unit of a gradient, the factor from plain y per x to it, and the unit of y."""
    assert points.x_column.traced is not None and points.y_column.traced is not None
    unit, factor = gradient_unit(points.x_column.traced.unit, points.y_column.traced.unit)
    return write_unit(unit), factor, write_unit(points.y_column.traced.unit)
