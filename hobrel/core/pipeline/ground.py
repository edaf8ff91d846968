"""The ground that findings stand on: a lab book's columns, the points of its graphs, and what is fitted to them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Convention, Fit, LabBook, Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.columns import RunColumns, Tangent, compute_columns
from hobrel.core.pipeline.curves import FittedCurve, fit_curve
from hobrel.core.pipeline.lines import FittedLine, GraphPoints, axis_units, fit_graph, gradient_unit, is_by_scatter, scatter_in_bars
from hobrel.core.pipeline.series import Series, gather_series, points_for_fit
from hobrel.core.uncertainty.traced import Floats, Source, Traced, effective_dof

Fitted: TypeAlias = FittedLine | FittedCurve


@dataclass(frozen=True)
class Ground:
    """The numbers up to the fits, in full precision. Each is a result or the `CoreError` that stands in its place.

    Attributes
    ----------
    book : LabBook
    columns : mapping of run id
    points : mapping of graph id
        Of the graph's own y in the run that is looked at (the first).
    series : mapping of graph id
        All that is drawn on a graph, those points first.
    fits : mapping of fit id
    fit_points : mapping of fit id
        The points that a fit takes, and the run they are of.
    """

    book: LabBook
    columns: dict[str, RunColumns]
    points: dict[str, GraphPoints | CoreError]
    series: dict[str, tuple[Series, ...]]
    fits: dict[str, Fitted | CoreError]
    fit_points: dict[str, tuple[GraphPoints | CoreError, Run]]

    @property
    def seen(self) -> RunColumns:
        """The columns of the run that is looked at."""
        return self.columns[self.book.runs[0].id] if self.book.runs else compute_columns(self.book, Run("", ""))

    def fit(self, fit_id: str) -> Fit:
        """A fit of the lab book.

        Raises
        ------
        CoreError
            ``bad_job`` where it is not there.
        """
        for fit in self.book.fits:
            if fit.id == fit_id:
                return fit
        raise CoreError("bad_job", "This fit is no longer in the lab book.")

    def fitted(self, fit_id: str) -> tuple[Fitted, GraphPoints, Run]:
        """What a fit has found, the points that it took, and their run.

        Raises
        ------
        CoreError
            Where there is no fit, or what stands in its place.
        """
        found = self.fits.get(self.fit(fit_id).id)
        points, run = self.points_of_fit(fit_id)
        if found is None or isinstance(found, CoreError):
            raise found or CoreError("bad_job", "This fit is no longer in the lab book.")
        return found, points, run

    def points_of_fit(self, fit_id: str) -> tuple[GraphPoints, Run]:
        """The points that a fit takes, and their run, whether or not something could be fitted to them.

        Raises
        ------
        CoreError
            What stands in their place.
        """
        points, run = self.fit_points[fit_id]
        if isinstance(points, CoreError):
            raise points
        return points, run

    def series_key(self, fit: Fit) -> str:
        """The series (by its key) whose points a fit takes."""
        y = fit.y or next((g.y for g in self.book.graphs if g.id == fit.graph), "")
        return f"{self.fit_points[fit.id][1].id}:{y}"

    def drawn(self, graph_id: str) -> GraphPoints:
        """The points of a graph's own y in the run that is looked at.

        Raises
        ------
        CoreError
            Where there is no graph, or what stands in its place.
        """
        points = self.points.get(graph_id)
        if points is None:
            raise CoreError("bad_job", "This graph is no longer in the lab book.")
        if isinstance(points, CoreError):
            raise points
        return points

    def drawn_series(self, graph_id: str, key: str = "") -> tuple[GraphPoints, Run]:
        """The points of one series of a graph (the first without a key), and their run.

        Raises
        ------
        CoreError
            Where it is not there, or what stands in its place.
        """
        if not key:
            return self.drawn(graph_id), self.series[graph_id][0].run
        series = next((s for s in self.series.get(graph_id, ()) if s.key == key), None)
        if series is None:
            raise CoreError("bad_job", "This series is no longer on the graph.")
        if isinstance(series.points, CoreError):
            raise series.points
        return series.points, series.run


def lay_ground(book: LabBook, near: Ground | None = None) -> Ground:
    """Compute a lab book up to its fits. Slopes of fitted curves become columns, which may be drawn and fitted in turn.

    Curves are looked for from many starts, but beside those of a lab book that is known to be `near` only from there.
    """
    tangents: dict[str, Tangent] = {}
    ground: Ground | None = None
    while True:
        ground = _lay(book, tangents, ground, near)
        found = {q.id: _find_tangent(ground, q.tangent_of) for q in book.quantities if q.tangent_of}
        if _known(found) <= _known(tangents):
            # those that there are none of get their reason
            return _lay(book, found, ground, near) if _known(found) < len(found) else ground
        tangents = found


def _known(tangents: dict[str, Tangent]) -> int:
    return sum(t.traced is not None for t in tangents.values())


def _lay(book: LabBook, tangents: dict[str, Tangent], before: Ground | None, near: Ground | None) -> Ground:
    """The ground with the slopes that are known by now; fits of points that are as they were `before` are not made again."""
    columns = {run.id: compute_columns(book, run, tangents) for run in book.runs}
    series = gather_series(book, columns)
    nothing = CoreError("too_few_points", "There is nothing to draw yet. Write down the first readings.")
    points: dict[str, GraphPoints | CoreError] = {key: found[0].points if found else nothing for key, found in series.items()}
    fit_points: dict[str, tuple[GraphPoints | CoreError, Run]] = {}
    graphs = {g.id: g for g in book.graphs}
    for fit in book.fits:
        graph = graphs.get(fit.graph)
        if graph is None or not book.runs:
            fit_points[fit.id] = CoreError("bad_job", "The graph of this fit is no longer in the lab book."), Run("", "")
        else:
            fit_points[fit.id] = points_for_fit(book, fit, graph, columns, points[graph.id])
    fits = {
        f.id: before.fits[f.id]
        if before and _same_points(before.fit_points[f.id][0], fit_points[f.id][0])
        else _attempt_fit(fit_points[f.id][0], f, book.convention, None if near is None else near.fits.get(f.id))
        for f in book.fits
    }
    return Ground(book=book, columns=columns, points=points, series=series, fits=fits, fit_points=fit_points)


def _same_points(a: GraphPoints | CoreError, b: GraphPoints | CoreError) -> bool:
    """Whether nothing has changed points since they were fitted. What they rest on has not either: a slope that was not known then was
    no number then.
    """
    if isinstance(a, CoreError) or isinstance(b, CoreError):
        return False
    return all(np.array_equal(getattr(a, k), getattr(b, k), equal_nan=True) for k in ("used", "x", "y", "ux", "uy"))


def fit_points_with(points: GraphPoints, fit: Fit, convention: Convention, near: Fitted | CoreError | None = None) -> Fitted:
    """Fit a line or another shape; the convention says which ± its numbers are given. A curve is begun at one that is known to be `near`.

    Raises
    ------
    CoreError
        As `fit_graph` and `fit_curve`.
    """
    if fit.shape == "line":
        return fit_graph(points, fit, convention.fit_uncertainty)
    start = near.curve.values.tolist() if isinstance(near, FittedCurve) else None
    return fit_curve(points, fit, convention.fit_uncertainty, start)


def _attempt_fit(points: GraphPoints | CoreError, fit: Fit, convention: Convention, near: Fitted | CoreError | None) -> Fitted | CoreError:
    """The fit, or why there is none."""
    return points if isinstance(points, CoreError) else contain(f"fit {fit.id}", fit_points_with, points, fit, convention, near)


def _find_tangent(ground: Ground, fit_id: str) -> Tangent:
    found = contain(f"slopes of {fit_id}", _slope_everywhere, ground, fit_id)
    if isinstance(found, Tangent):
        return found
    return Tangent("", None, CoreError(found.code, "There is no curve yet: {trouble}", trouble=found.message))


def _slope_everywhere(ground: Ground, fit_id: str) -> Tangent:
    """Every row rests on every point, by way of the parameters: these are the sources here, turned so that they are independent."""
    fitted, points, run = ground.fitted(fit_id)
    unit, factor = gradient_unit(*axis_units(points))
    # as the parameters of the same fit: by the bars, or by how the points scatter about it
    of = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    reduced = scatter_in_bars(of.reduced_chi2, of.residual_sd, points.y[fitted.fitted])
    by_scatter = reduced is not None and is_by_scatter(reduced, ground.book.convention.fit_uncertainty)
    stretch = math.sqrt(reduced or 0.0) if by_scatter else 1.0
    dof = effective_dof(next(iter(fitted.outputs.values())))
    if isinstance(fitted, FittedLine):
        slopes, by = np.full(len(points.rows), fitted.line.gradient), np.full((len(points.rows), 1), fitted.line.u_gradient)
        moved = {s: np.full(len(points.rows), float(shift) / factor) for s, shift in fitted.gradient.slopes.items() if s.shared}
    else:
        found = find_tangents(fitted.curve, points.x)
        # columns of the square root of the covariance: what one standard step along each of its own directions does
        size, turned = np.linalg.eigh(fitted.curve.covariance)
        slopes, by = found.slopes, found.by_parameters @ (turned * np.sqrt(np.maximum(size, 0.0)))
        moved = _slope_shifts(fitted, found.by_parameters)
    rows = np.array(points.rows, dtype=int)

    def spread(values: Floats) -> Floats:
        whole = np.full(run.count, np.nan)
        whole[rows] = values * factor
        return whole

    steps = {
        Source(f"{fit_id}:step{i}", "curve", np.asarray(stretch), dof=dof): np.nan_to_num(spread(by[:, i])) for i in range(by.shape[1])
    }
    constants = {s: np.nan_to_num(spread(shift)) for s, shift in moved.items()}
    return Tangent(run.id, Traced(spread(slopes), {**steps, **constants}, unit))


def _slope_shifts(fitted: FittedCurve, by_parameters: Floats) -> dict[Source, Floats]:
    """How the slope at every point moves with each constant that the points share, by the parameters that move with it."""
    moved: dict[Source, Floats] = {}
    for i, number in enumerate(fitted.outputs.values()):
        for source, by in number.slopes.items():
            if source.shared:
                moved[source] = moved.get(source, np.zeros(len(by_parameters))) + by_parameters[:, i] * by
    return moved
