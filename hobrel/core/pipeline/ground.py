"""The ground that findings stand on: a lab book's columns, the points of its graphs, and what is fitted to them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Convention, Fit, LabBook, Run
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import Gathered, RunColumns, compute_columns
from hobrel.core.pipeline.curves import FittedCurve, fit_curve
from hobrel.core.pipeline.influence import which_says
from hobrel.core.pipeline.lines import FittedLine, fit_graph
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.pipeline.series import Series, gather_series, points_for_fit

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


def lay_once(book: LabBook, gathered: Gathered, before: Ground | None, near: Ground | None) -> Ground:
    """The ground with the slopes and results that are known by now; fits of points that are as they were `before` are not made again."""
    columns = {run.id: compute_columns(book, run, gathered) for run in book.runs}
    series = gather_series(book, columns, before.columns if before else {}, before.series if before else {})
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
    return a is b or all(np.array_equal(getattr(a, k), getattr(b, k), equal_nan=True) for k in ("used", "x", "y", "ux", "uy"))


def fit_points_with(points: GraphPoints, fit: Fit, convention: Convention, near: Fitted | CoreError | None = None) -> Fitted:
    """Fit a line or another shape; the convention says which ± its numbers are given. A curve is begun at one that is known to be `near`.

    Raises
    ------
    CoreError
        As `fit_graph` and `fit_curve`.
    """
    which = which_says(points, convention.fit_uncertainty)
    if fit.shape == "line":
        return fit_graph(points, fit, which)
    start = near.curve.values.tolist() if isinstance(near, FittedCurve) else None
    return fit_curve(points, fit, which, start)


def _attempt_fit(points: GraphPoints | CoreError, fit: Fit, convention: Convention, near: Fitted | CoreError | None) -> Fitted | CoreError:
    """The fit, or why there is none."""
    return points if isinstance(points, CoreError) else contain(f"fit {fit.id}", fit_points_with, points, fit, convention, near)
