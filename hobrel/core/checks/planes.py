"""The planes in which a measured quantity should lie smoothly: those of the lab book's graphs, and curves of three parameters."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from scipy.special import fdtrc

from hobrel.core.checks.smooth import MOST_KNOWN, STRAIGHT, Looked, Plane, curves_through
from hobrel.core.document.lab_book import Graph, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.linearising.algebra import known_in
from hobrel.core.linearising.relation import find_straight_forms
from hobrel.core.pipeline.columns import Column, RunColumns, rederive
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, measured

LEAST = 4
"""Rows from which something can be said."""
CHANCE_OF_ROOTS = 0.01
SMALLEST_SHARE = 0.01
"""Of the largest reading's scatter, what a reading next to zero has at least."""
TIMES_SMOOTHER = 10.0
"""Variance about the plan's line that squares must have, over that of their roots."""


@dataclass(frozen=True)
class Measurement:
    """A measured quantity at the rows that count.

    Attributes
    ----------
    rows : ndarray of int
        Their places in the table; `x`, `y` and `u` are of these.
    u : ndarray
        Standard uncertainties of y, never 0.
    dof : float
        Behind these, by the repeats; 0 where there are none.
    """

    changed: Column
    column: Column
    rows: np.ndarray[tuple[int], np.dtype[np.intp]]
    x: Floats
    y: Floats
    u: Floats
    dof: float

    def by_share(self) -> Measurement:
        """The same with readings that scatter by a share of what is read, as much as the instrument says at the largest."""
        largest = float(np.max(np.abs(self.y))) or 1.0
        return replace(self, u=self.u * np.maximum(np.abs(self.y) / largest, SMALLEST_SHARE))

    @property
    def known(self) -> float:
        """For how much the repeats' scatter counts in what rows scatter by."""
        return min(self.dof, MOST_KNOWN)

    @classmethod
    def of(
        cls, columns: RunColumns, changed: Column, column: Column, out: np.ndarray[tuple[int], np.dtype[np.bool_]]
    ) -> Measurement | None:
        """The measurement without the rows that are left `out`; None for too few."""
        assert changed.averages is not None and column.averages is not None
        x, y = changed.averages.value, column.averages.value
        rows = np.flatnonzero(np.isfinite(x) & np.isfinite(y) & ~out)
        if rows.size < LEAST:
            return None
        repeats = float(sum(max(len([s for s in column.readings[row] if s.parsed]) - 1, 0) for row in rows))
        decimals = [s.parsed.decimals for row in rows for s in column.readings[row] if s.parsed]
        hidden = 10.0 ** -max(decimals, default=0) / math.sqrt(12)
        u = np.maximum(np.nan_to_num(column.averages.standard[rows]), hidden)
        return cls(changed, column, rows, x[rows], y[rows], u, repeats)


def planes_of(measurement: Measurement, columns: RunColumns, book: LabBook) -> list[Plane]:
    """All planes that can be formed: the plots of the graphs, that of the relation where none of these is straight, and the curves. None at
    all where a plot of the graphs is straight as it is: then no row makes the table rough.
    """
    lines: list[Plane] = []
    for graph in book.graphs:
        plane = _plane_of(graph, measurement, columns)
        if plane is not None:
            if Looked(plane, measurement.known).is_calm:
                return []
            lines.append(plane)
    if book.relation and not any(_is_straight_but_for_one(plane) for plane in lines):
        lines += _planes_of_relation(measurement, columns, book)
    return [*lines, *curves_through(measurement.x, measurement.y, measurement.u)]


def _is_straight_but_for_one(plane: Plane) -> bool:
    looked = Looked(plane, 0.0)
    return bool(looked.dof > 1 and looked.without.min() <= STRAIGHT * (looked.dof - 1))


def _planes_of_relation(measurement: Measurement, columns: RunColumns, book: LabBook) -> list[Plane]:
    """The simplest plot that the lab book's relation makes straight, of what is made of the two quantities alone."""
    known = known_in(book.relation, [*(q.symbol for q in book.quantities), *(f.symbol for f in book.findings)])
    mine, other = {measurement.column.quantity.id}, {measurement.changed.quantity.id}
    for x in columns.columns.values():
        for y in columns.columns.values():
            if x.traced is None or y.traced is None or _made_of(x.traced, columns) != other or _made_of(y.traced, columns) != mine:
                continue
            try:
                simplest = find_straight_forms(book.relation, x.quantity.symbol, y.quantity.symbol, known)[0]
                formed = [_in_form(text, column) for text, column in zip(simplest, (x, y), strict=True)]
            except CoreError:
                # the relation is about other quantities, or cannot be drawn with these values
                continue
            plane = _line_plane(formed[0], formed[1], measurement, columns.run.count)
            return [] if plane is None else [plane]
    return []


def _in_form(text: str, column: Column) -> Traced:
    assert column.traced is not None
    name = canonical_name(column.quantity.symbol)
    return evaluate(read_formula(text, {name}), {name: column.traced})


def _plane_of(graph: Graph, measurement: Measurement, columns: RunColumns) -> Plane | None:
    """A straight line in the plane of a graph that is made of this quantity and the changed one alone."""
    x, y = columns.columns.get(graph.x), columns.columns.get(graph.y)
    if x is None or y is None or x.traced is None or y.traced is None:
        return None
    mine, other = measurement.column.quantity.id, measurement.changed.quantity.id
    in_x, in_y = _made_of(x.traced, columns), _made_of(y.traced, columns)
    if in_x == {mine} and in_y == {other}:
        # drawn the other way round
        x, y, in_x, in_y = y, x, in_y, in_x
    if mine not in in_y or in_x != {other} or not in_y <= {mine, other}:
        return None
    assert x.traced is not None and y.traced is not None
    plane = _line_plane(x.traced, y.traced, measurement, columns.run.count)
    return plane and replace(plane, back=(lambda v: v) if graph.y == mine else None, moves_with_y=in_y == {mine})


def _line_plane(x: Traced, y: Traced, measurement: Measurement, count: int) -> Plane | None:
    """A straight line of y against x at the rows that count; None where it cannot be drawn there."""
    across, z, u = (np.broadcast_to(v, (count,))[measurement.rows] for v in (x.value, y.value, _bars(y)))
    if not (np.all(np.isfinite(across)) and np.all(np.isfinite(z)) and np.ptp(across) > 0):
        return None
    # what the last digit hides counts here as well as in y itself
    standard = measurement.column.averages.standard[measurement.rows] if measurement.column.averages else measurement.u
    u = u * measurement.u / np.where(standard > 0, standard, 1.0)
    if not (np.all(np.isfinite(u)) and np.all(u > 0)):
        return None
    basis = np.vander((across - across.mean()) / float(np.ptp(across)), 2, increasing=True)
    return Plane(basis, z, u, None, True)


def _bars(number: Traced) -> Floats:
    return combine_quadrature(number.judged(), shared=False)


def _made_of(number: Traced, columns: RunColumns) -> set[str]:
    """The quantities of this run that a column is made of, constants left out."""
    keys = {f"{columns.run.id}:{q}": q for q in columns.columns}
    return {keys.get(s.key, s.key) for s in number.slopes if not s.shared}


def is_squared(columns: RunColumns, book: LabBook, column: Column) -> bool:
    """Whether a plot that the plan counts on is bent, and straight with the roots of a column's numbers in the place of these.

    A plan counts on a plot with a line that a finding is made from; where there is none, on one that it has made of derived quantities and
    draws no curve through. Time against length may well be bent, and nobody has squared it.
    """
    changed = next((c for c in columns.columns.values() if c.quantity.kind == "changed" and c.averages is not None), None)
    if changed is None or column.averages is None:
        return False
    measurement = Measurement.of(columns, changed, column, np.array(columns.run.rows_aside(), dtype=bool))
    if measurement is None or np.any(measurement.y <= 0):
        return False
    rooted: RunColumns | None = None
    for form in _plots_counted_on(measurement, columns, book):
        plane = form(columns)
        if plane is None:
            continue
        known = measurement.known
        bent = Looked(plane, known)
        if known and bent.is_smooth(bent.chi2, bent.dof):
            # a plot that is as straight as it should be needs no roots
            return False
        if bent.dof < 2:
            continue
        rooted = rooted or _with_roots(columns, book, column)
        other = form(rooted)
        if other is None:
            continue
        straight = Looked(other, known)
        if straight.is_smooth(straight.chi2, bent.dof) and _is_much_smoother(bent, straight):
            return True
    return False


def _plots_counted_on(measurement: Measurement, columns: RunColumns, book: LabBook) -> Iterator[Callable[[RunColumns], Plane | None]]:
    """What forms them from columns: those of graphs, then that of the relation."""
    taken = {fit.graph for fit in book.fits if fit.shape == "line" and any(f.fit == fit.id for f in book.findings)}
    curved = {fit.graph for fit in book.fits if fit.shape != "line"}
    plain = {measurement.column.quantity.id, measurement.changed.quantity.id}
    for graph in book.graphs:
        if graph.id in taken or not (taken or graph.id in curved or {graph.x, graph.y} == plain):
            yield partial(_plane_of, graph, measurement)
    if book.relation:
        yield lambda of: next(iter(_planes_of_relation(measurement, of, book)), None)


def _is_much_smoother(bent: Looked, straight: Looked) -> bool:
    dof = bent.dof + bent.known
    ratio = (bent.chi2 + bent.known) / (straight.chi2 + bent.known)
    return ratio > TIMES_SMOOTHER and float(fdtrc(dof, dof, ratio)) < CHANCE_OF_ROOTS


def _with_roots(columns: RunColumns, book: LabBook, column: Column) -> RunColumns:
    assert column.averages is not None and column.traced is not None
    roots = np.sqrt(np.maximum(column.averages.value, 0.0))
    with np.errstate(divide="ignore", invalid="ignore"):
        u, standard = column.averages.u / (2 * roots), column.averages.standard / (2 * roots)
    key, unit = f"{columns.run.id}:{column.quantity.id}", column.traced.unit
    source = Source(key, column.quantity.symbol, u, unit, dof=column.averages.dof, standard=standard)
    return rederive(book, columns, {column.quantity.id: measured(source, roots)})
