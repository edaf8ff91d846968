"""Rows as somebody looks at them: what a setting is called, and of a log what was logged and what has been computed from it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hobrel.core.document.lab_book import Convention, LabBook, Log, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.pipeline.columns import Column, RunColumns
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.columns import write_pair_as
from hobrel.core.readings.converting import convert_reading
from hobrel.core.rounding import with_unit
from hobrel.core.sentences import NumberText
from hobrel.core.units.calculus import tidy_unit


@dataclass(frozen=True)
class LogColumn:
    """Texts of one quantity, for the rows that were asked for; with ± in `us` where it was computed."""

    quantity: str
    texts: tuple[NumberText, ...]
    us: tuple[str, ...]


@dataclass(frozen=True)
class LogRows:
    """Rows `first` to `first` + n of a log that has `rows` in all; `aside` has the reason where a row is left out."""

    first: int
    rows: int
    columns: tuple[LogColumn, ...]
    aside: tuple[str, ...]


def call_row(book: LabBook, run: Run, row: int) -> str:
    """A setting by what was set there, as it was written: “L = 0.45 m”; by its number where nothing was; a row of a log too."""
    if run.log:
        return f"row {row + 1}"
    changed = next((q for q in book.table_of(run) if q.kind == "changed"), None)
    written = run.settings[row].readings.get(changed.id, ()) if changed else ()
    if changed is None or not written or written[0] is None:
        return f"setting {row + 1}"
    if changed.holds == "words":
        return written[0].text
    return f"{write_symbol(changed.symbol)} = {with_unit(written[0].text, tidy_unit(changed.unit))}"


def look_at_rows(computation: Computation, run: str, first: int, count: int) -> LogRows:
    """Rows of the log that a run is.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such run, or it is no log.
    """
    columns, convention = computation.columns[computation.book.run(run).id], computation.book.convention
    log = columns.run.log
    if log is None:
        raise CoreError("bad_job", "This run was written down, not logged.")
    first = min(first, log.rows)
    last = min(first + count, log.rows)
    shown = [
        LogColumn(c.quantity.id, write_logged(c, log, first, last), ()) if c.node is None else _computed(c, convention, first, last)
        for c in _varying(columns)
    ]
    aside = ["" for _ in range(first, last)]
    for part in log.aside:
        for row in range(max(part.first, first), min(part.last + 1, last)):
            aside[row - first] = part.reason
    return LogRows(first, log.rows, tuple(shown), tuple(aside))


def _varying(columns: RunColumns) -> list[Column]:
    """What differs from row to row: what was logged, and what is computed from it."""

    def varies(column: Column) -> bool:
        computed = column.node is not None and column.traced is not None and column.traced.value.ndim > 0
        return computed or column.quantity.kind in ("changed", "measured")

    return [c for c in columns.columns.values() if varies(c)]


def write_logged(column: Column, log: Log, first: int, last: int) -> tuple[str, ...]:
    """What was logged in some rows, in the unit of the quantity; empty texts where nothing was."""
    quantity = column.quantity
    texts = log.columns.get(quantity.id, ())[first:last]
    unit = log.units.get(quantity.id, quantity.unit)
    shown = texts if unit == quantity.unit else tuple(convert_reading(t, unit, quantity.unit) for t in texts)
    return shown or ("",) * (last - first)


def _computed(column: Column, convention: Convention, first: int, last: int) -> LogColumn:
    assert column.traced is not None
    values, us = (np.atleast_1d(a)[first:last].tolist() for a in np.broadcast_arrays(column.traced.value, column.u))
    pairs = [
        write_pair_as(column.quantity.digits, v, u, convention.rounding) if np.isfinite(v) else ("", "")
        for v, u in zip(values, us, strict=True)
    ]
    return LogColumn(column.quantity.id, tuple(v for v, _ in pairs), tuple(u for _, u in pairs))
