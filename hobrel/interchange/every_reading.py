"""Every reading of a lab book in a row of its own, for programs that want tables of one kind of row."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Run
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.averaging import uncertainty_at
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.presentation.rows import call_row
from hobrel.core.readings.parsing import parse_written

ReadingKey = tuple[str, str, str, int]
"""Run, setting, quantity, and place among the repeats."""


@dataclass(frozen=True)
class ReadingRow:
    """A reading: where, as written, and what it is worth.

    Attributes
    ----------
    key : ReadingKey
    run, condition, setting, quantity, symbol : str
        As people call them; of a setting, what was set there.
    repeat : int
        From 1.
    text : str
        As written.
    value, u : float or None
        In `unit`: the number, and its ± by what was written with it, or by the instrument. None for words, and for what is no number.
    set_aside : str or None
        Why it does not count, itself or with its whole setting.
    """

    key: ReadingKey
    run: str
    condition: str
    setting: str
    quantity: str
    symbol: str
    repeat: int
    text: str
    value: float | None
    unit: str
    u: float | None
    set_aside: str | None


def list_readings(opened: OpenBook) -> tuple[ReadingRow, ...]:
    """Every reading of a lab book, run by run and setting by setting."""
    book = opened.document
    conditions = {condition.id: condition.name for condition in book.plan.conditions}
    return tuple(row for run in book.runs for row in _of_run(book, run, conditions.get(run.condition, "")))


def _of_run(book: LabBook, run: Run, condition: str) -> Iterator[ReadingRow]:
    quantities = [q for q in book.table_of(run) if q.kind in ("changed", "measured")]
    if run.log is not None:
        yield from _of_log(book, run, condition, quantities)
        return
    for i, setting in enumerate(run.settings):
        place = call_row(book, run, i)
        for quantity in quantities:
            for repeat, reading in enumerate(setting.readings.get(quantity.id, ())):
                if reading is None or not reading.text.strip():
                    continue
                yield _row(book, run, condition, place, (run.id, setting.id, quantity.id, repeat), quantity, reading, setting.set_aside)


def _of_log(book: LabBook, run: Run, condition: str, quantities: list[Quantity]) -> Iterator[ReadingRow]:
    log = run.log
    assert log is not None
    reasons = {row: part.reason for part in log.aside for row in range(part.first, part.last + 1)}
    for quantity in quantities:
        logged_in = log.units.get(quantity.id, quantity.unit)
        for i, text in enumerate(log.columns.get(quantity.id, ())):
            if text.strip():
                key = (run.id, "", quantity.id, 0)
                yield _row(book, run, condition, f"row {i + 1}", key, quantity, Reading(text), reasons.get(i), logged_in)


def _row(
    book: LabBook,
    run: Run,
    condition: str,
    setting: str,
    key: ReadingKey,
    quantity: Quantity,
    reading: Reading,
    aside: str | None,
    written_in: str | None = None,
) -> ReadingRow:
    unit = quantity.unit if written_in is None else written_in
    value, u = (None, None) if quantity.holds == "words" else _worth(book, quantity, reading.text, unit, in_its_own=unit == quantity.unit)
    return ReadingRow(
        key=key,
        run=run.name,
        condition=condition,
        setting=setting,
        quantity=quantity.name,
        symbol=plain_symbol(quantity),
        repeat=key[3] + 1,
        text=reading.text,
        value=value,
        unit="" if quantity.holds == "words" else unit,
        u=u,
        set_aside=reading.set_aside if reading.set_aside is not None else aside,
    )


def _worth(book: LabBook, quantity: Quantity, text: str, unit: str, in_its_own: bool) -> tuple[float | None, float | None]:
    """The number and its ±. An instrument speaks in the unit of its quantity, so that of a log in another has none."""
    try:
        parsed = parse_written(text, unit)
        value = float(parsed.value)
        if parsed.u is not None:
            return value, float(parsed.u)
        u = uncertainty_at(quantity, book.convention, value) if in_its_own and quantity.instrument is not None else 0.0
    except CoreError:
        return None, None
    return (value if math.isfinite(value) else None), u or None
