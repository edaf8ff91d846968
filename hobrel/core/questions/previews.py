"""Looking before choosing: a formula while it is typed, and what other conventions and ways would give."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.lab_book import LabBook, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import Node, goes_over_settings, symbols_in
from hobrel.core.formulas.ways import Input, WayKind, compare_ways
from hobrel.core.pipeline.averaging import uncertainty_at
from hobrel.core.pipeline.behind import write_out
from hobrel.core.pipeline.columns import RunColumns, compute_columns
from hobrel.core.presentation.columns import present_column
from hobrel.core.presentation.results import ColumnResult
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import SPREAD_WORDS, show_value
from hobrel.core.rounding import write_number
from hobrel.core.sentences import NumberText, Sentences
from hobrel.core.statistics.spread import SpreadKind, average
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import write_unit

WAY_WORDS: dict[WayKind, str] = {
    "quadrature": "in quadrature: squares added (standard)",
    "sum": "straight sum: the largest it could add up to",
    "extremes": "extremes: every input moved by its ±",
    "monte_carlo": "drawn 200 000 times",
}


@dataclass(frozen=True)
class ConventionColumn:
    """What one kind of spread gives for each setting, without the instrument; empty where there is one reading only."""

    kind: SpreadKind
    name: str
    values: tuple[NumberText, ...]
    chosen: bool


@dataclass(frozen=True)
class ConventionTable:
    """The spreads of one measured quantity side by side, and the ± that its instrument has."""

    settings: tuple[NumberText, ...]
    columns: tuple[ConventionColumn, ...]
    instrument: tuple[NumberText, ...]
    unit: str


@dataclass(frozen=True)
class WayRow:
    """One derived value carried through in one way."""

    way: WayKind
    words: str
    value: NumberText
    chosen: bool


@dataclass(frozen=True)
class WayTable:
    """The four ways for one derived quantity at its middle setting."""

    setting: NumberText
    rows: tuple[WayRow, ...]
    warning: Sentences


def preview_formula(book: LabBook, quantity_id: str, formula: str, symbol: str = "") -> ColumnResult:
    """The column of a derived quantity as it would be with another formula; nothing is changed.

    Parameters
    ----------
    book : LabBook
    quantity_id : str
        Empty for one that is still to be added.
    formula : str
    symbol : str, optional
        Of the one that is to be added.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such derived quantity. What is wrong with the formula is in the column's `trouble`.
    """
    if not quantity_id:
        book = replace(book, quantities=(*book.quantities, Quantity("", "derived", symbol, symbol, "")))
    quantity = book.quantity(quantity_id)
    if quantity.kind != "derived":
        raise CoreError("bad_job", "{name} is not worked out by a formula.", name=quantity.name)
    changed = replace(book, quantities=tuple(replace(q, formula=formula) if q.id == quantity_id else q for q in book.quantities))
    run = changed.runs[0] if changed.runs else Run("", "")
    columns = compute_columns(changed, run)
    return present_column(columns.columns[quantity_id], run, book.convention)


def compare_conventions(book: LabBook, quantity_id: str) -> ConventionTable:
    """All spreads of one measured quantity of the first run, setting by setting.

    Raises
    ------
    CoreError
        ``bad_job`` where the quantity has no readings.
    """
    run = book.runs[0]
    column = compute_columns(book, run).columns.get(quantity_id)
    if column is None or column.traced is None or not column.readings:
        raise CoreError("bad_job", "There are no readings of this quantity.")
    shown = [i for i, m in enumerate(column.means) if m is not None]
    kept = [[float(s.parsed.value) for s in column.readings[i] if s.parsed and s.set_aside is None] for i in shown]

    def spread(kind: SpreadKind, values: list[float]) -> str:
        u = average(values, 0.0, kind).spread_u
        return "" if u is None else write_number(u, 2)

    columns = tuple(
        ConventionColumn(kind, words, tuple(spread(kind, v) for v in kept), kind == book.convention.spread)
        for kind, words in SPREAD_WORDS.items()
    )
    instrument = tuple(write_number(uncertainty_at(column.quantity, book.convention, sum(v) / len(v)), 2) for v in kept)
    return ConventionTable(tuple(call_row(book, run, i) for i in shown), columns, instrument, write_unit(column.traced.unit))


def compare_ways_of(book: LabBook, quantity_id: str) -> WayTable:
    """The four ways of carrying uncertainties through, for a derived quantity at the middle one of its settings.

    Constants count here with their ±, as everything that the value rests on does.

    Raises
    ------
    CoreError
        ``bad_job`` where the quantity has no value yet; or as `propagate`.
    """
    run = book.runs[0]
    columns = compute_columns(book, run)
    column = columns.columns.get(quantity_id)
    if column is None or column.node is None or column.traced is None:
        raise CoreError("bad_job", "This quantity has no value yet.")
    values = np.broadcast_to(column.traced.value, (run.count,))
    rows = np.flatnonzero(np.isfinite(values))
    if not rows.size:
        raise CoreError("bad_job", "This quantity has no value yet.")
    row = int(rows[rows.size // 2])
    node = write_out(column.node, columns)
    if goes_over_settings(node):
        raise CoreError("bad_job", "This quantity goes from one setting to the next; the four ways are compared for values of one setting.")
    found = compare_ways(node, _inputs_at(node, columns, row))
    rule = book.convention.rounding
    shown = tuple(
        WayRow(p.way, WAY_WORDS[p.way], show_value(p.value, p.u or None, p.unit, rule).text, p.way == book.convention.propagation)
        for p in found
    )
    return WayTable(call_row(book, run, row), shown, found[0].warning)


def _inputs_at(node: Node, columns: RunColumns, row: int) -> dict[str, Input]:
    found = {}
    for column in columns.columns.values():
        name = canonical_name(column.quantity.symbol)
        if name in symbols_in(node) and column.traced is not None:
            value, u = _at(column.traced.value, row), _at(column.u, row)
            found[name] = Input(value, u if np.isfinite(u) else 0.0, column.traced.unit)
    return found


def _at(values: Floats, row: int) -> float:
    return float(values if values.ndim == 0 else values[row])
