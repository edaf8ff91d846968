"""The points of a graph, and what each of them is weighed and judged with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property

import numpy as np

from hobrel.core.document.lab_book import Fit, Graph
from hobrel.core.errors import CoreError
from hobrel.core.fitting.scattering import ways_to_scatter
from hobrel.core.fitting.straightness import Bars, Used
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, covary_rows, effective_dof, weigh_rows
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit

_ALIKE = 1e-9
"""Share by which derivatives differ that are one."""


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
    readings : Column or None
        The one column of readings that y is made of; None where it rests on more than one.
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
    readings: Column | None = field(default=None, repr=False)
    constants: Mapping[str, Traced] = field(default_factory=dict, repr=False)

    @cached_property
    def ways(self) -> tuple[Floats, ...]:
        """What the points may be off by in y, each but for a factor, beside all alike, where bars do not say it."""
        if self.readings is None:
            return ()
        y, as_read, rows = self.y_column.traced, self.readings.traced, list(self.rows)
        assert y is not None and as_read is not None
        [slope] = (slope for source, slope in y.slopes.items() if not source.shared)
        return ways_to_scatter(np.broadcast_to(slope, y.value.shape)[rows], as_read.value[rows])

    def ways_to_scatter(self, used: Used) -> tuple[Floats, ...]:
        """`ways` of some of the points."""
        return tuple(way[used] for way in self.ways)

    def ways_to_bend(self, used: Used) -> tuple[Floats, ...]:
        """Of the ways those in which points have to bend besides: none where y is what was read, which scatters alike then."""
        ways = self.ways_to_scatter(used)
        return () if not ways or np.allclose(ways[0], ways[0][:1], rtol=_ALIKE, atol=0) else ways


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
        readings=_made_of(columns, y_column.traced) if rows.size else None,
        constants=columns.constants,
    )


def _made_of(columns: RunColumns, y: Traced) -> Column | None:
    own = [source for source in y.slopes if not source.shared]
    if len(own) != 1 or own[0].made_of is not None:
        return None
    column = columns.columns.get(own[0].key.removeprefix(f"{columns.run.id}:"))
    return column if column is not None and column.traced is not None else None


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
