"""The series of a graph: which runs and quantities are drawn on it, and whose points a fit takes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Fit, Graph, LabBook, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import RunColumns, plain_symbol
from hobrel.core.pipeline.points import GraphPoints, gather_points
from hobrel.core.units.calculus import same_dimension, write_unit


@dataclass(frozen=True)
class Series:
    """The points of one run and one quantity on a graph.

    Attributes
    ----------
    key : str
        ``RUN:QUANTITY``.
    run : Run
    name : str
        What tells it from the others of the graph.
    look : int
        Its colour and shape; the same whichever run is looked at.
    points : GraphPoints or CoreError
    hidden : bool
        Not drawn for now.
    """

    key: str
    run: Run
    name: str
    look: int
    points: GraphPoints | CoreError
    hidden: bool


@dataclass(frozen=True)
class _Drawn:
    """What is drawn on a graph: runs, that which is looked at first, and quantities, the graph's own first."""

    runs: tuple[Run, ...]
    quantities: tuple[Quantity, ...]

    @property
    def keys(self) -> list[str]:
        return sorted(f"{run.id}:{q.id}" for run in self.runs for q in self.quantities)


def gather_series(
    book: LabBook, columns: Mapping[str, RunColumns], before: Mapping[str, RunColumns], series_before: Mapping[str, Sequence[Series]]
) -> dict[str, tuple[Series, ...]]:
    """All series of every graph (by id), that of the run that is looked at and of the graph's own y first. Points are those of `before`
    where their columns are.
    """
    drawn = {g.id: _find_drawn(book, g, columns) for g in book.graphs}
    looks = assign_looks([d.keys for d in drawn.values()], book.looks)
    found = {}
    for graph in book.graphs:
        runs, quantities = drawn[graph.id].runs, drawn[graph.id].quantities
        series = []
        for run in runs:
            for quantity in quantities:
                key = f"{run.id}:{quantity.id}"
                known = next((s.points for s in series_before.get(graph.id, ()) if s.key == key), None)
                same = known is not None and _are_same(columns[run.id], before[run.id], (graph.x, quantity.id, graph.y))
                points = known if known is not None and same else _attempt(columns[run.id], replace(graph, y=quantity.id), graph.y)
                name = _name(run, quantity, len(runs) > 1, len(quantities) > 1)
                series.append(Series(key=key, run=run, name=name, look=looks[key], points=points, hidden=key in graph.hidden))
        found[graph.id] = tuple(series)
    return found


def _are_same(columns: RunColumns, before: RunColumns, quantities: Iterable[str]) -> bool:
    return all(columns.columns.get(key) is before.columns.get(key) for key in quantities)


def _find_drawn(book: LabBook, graph: Graph, columns: Mapping[str, RunColumns]) -> _Drawn:
    # what is fitted on a graph is drawn on it
    fits = [f for f in book.fits if f.graph == graph.id]
    wanted = {*graph.runs, *(f.run for f in fits)}
    home = find_home(book, graph, columns) if book.runs else None
    runs = [home, *(r for r in book.runs if r is not home and r.id in wanted)] if home else []
    known = {q.id: q for q in book.quantities}
    quantities = [known[q] for q in dict.fromkeys((graph.y, *graph.also, *(f.y for f in fits))) if q in known]
    return _Drawn(tuple(runs), tuple(quantities))


def assign_looks(graphs: Sequence[Sequence[str]], chosen: Mapping[str, int]) -> dict[str, int]:
    """The look of every series: one for all graphs that it stands on, another than that of any series that it shares a graph with.

    Parameters
    ----------
    graphs : sequence of sequences of series
        In the order of the lab book; what comes first keeps its look when more is drawn.
    chosen : mapping of series to look
        By a person. They hold whatever else has the same.
    """
    looks: dict[str, int] = {}
    for series in (s for keys in graphs for s in keys):
        if series in looks:
            continue
        beside = {other for keys in graphs if series in keys for other in keys if other != series}
        taken = {chosen.get(other, looks.get(other)) for other in beside}
        looks[series] = chosen[series] if series in chosen else next(look for look in count() if look not in taken)
    return looks


def find_home(book: LabBook, graph: Graph, columns: Mapping[str, RunColumns]) -> Run:
    """The run that a graph is of: the one that is looked at. In a lab book of several tables the first, beginning there, whose table has
    points of it.
    """
    seen = book.runs[0]
    if all(run.headings is None for run in book.runs):
        return seen
    return next((run for run in book.runs if _has_points(columns[run.id], graph)), seen)


def _has_points(columns: RunColumns, graph: Graph) -> bool:
    x, y = (columns.columns.get(key) for key in (graph.x, graph.y))
    if x is None or y is None or x.traced is None or y.traced is None:
        return False
    return bool(np.any(np.isfinite(x.traced.value) & np.isfinite(y.traced.value)))


def _name(run: Run, quantity: Quantity, of_many_runs: bool, of_many_quantities: bool) -> str:
    symbol = f"{quantity.name}, {plain_symbol(quantity)}"
    if not of_many_quantities:
        return run.name
    return f"{symbol} ({run.name})" if of_many_runs else symbol


def _attempt(columns: RunColumns, graph: Graph, own_y: str) -> GraphPoints | CoreError:
    return contain(f"points of {graph.id}", _gather, columns, graph, own_y)


def _gather(columns: RunColumns, graph: Graph, own_y: str) -> GraphPoints:
    points = gather_points(columns, graph)
    own = columns.columns.get(own_y)
    if own is None or own.traced is None or points.y_column.traced is None or points.y_column.traced.unit == own.traced.unit:
        return points
    name, unit = plain_symbol(points.y_column.quantity), write_unit(points.y_column.traced.unit) or "no unit"
    axis = write_unit(own.traced.unit) or "no unit"
    if same_dimension(points.y_column.traced.unit, own.traced.unit):
        raise CoreError(
            "bad_unit",
            "{name} is in {unit}, the axis in {axis}. Convert it first, then both can stand on one axis.",
            name=name,
            unit=unit,
            axis=axis,
        )
    raise CoreError("bad_unit", "{name} is in {unit}; on this axis stands what is in {axis}.", name=name, unit=unit, axis=axis)


def points_for_fit(
    book: LabBook, fit: Fit, graph: Graph, columns: Mapping[str, RunColumns], own: GraphPoints | CoreError
) -> tuple[GraphPoints | CoreError, Run]:
    """The points that a fit takes, and their run; `own` are those of the graph's own y in its own run."""
    home = find_home(book, graph, columns)
    run = next((r for r in book.runs if r.id == fit.run), home)
    if fit.run and run.id != fit.run:
        return CoreError("bad_job", "The run of this fit is no longer in the lab book."), run
    y = fit.y or graph.y
    if run is home and y == graph.y:
        return own, run
    return _attempt(columns[run.id], replace(graph, y=y), graph.y), run
