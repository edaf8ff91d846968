"""Columns as people see them: means and ± to matching decimals, ranges, and what made the uncertainty."""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from functools import lru_cache
from weakref import WeakKeyDictionary

import numpy as np

from hobrel.core.document.lab_book import Convention, Digits, Log, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.tree import Symbol, goes_over_settings, spell
from hobrel.core.formulas.typeset import RichRun, formula_tex, plain_text, symbol_expression_tex, write_symbol
from hobrel.core.pipeline.averaging import Averages
from hobrel.core.pipeline.columns import Column, rich_sign
from hobrel.core.pipeline.typed_digits import typed_decimals
from hobrel.core.presentation.handy_units import suggest_conversions
from hobrel.core.presentation.results import Cell, ColumnResult, ReadingNote, ShownValue
from hobrel.core.presentation.showing import clean, show_trouble, show_typed, show_value, show_written
from hobrel.core.readings.instruments import Instrument, common_share, expected_decimals, reading_uncertainty
from hobrel.core.rounding import (
    RoundingRule,
    place_of,
    round_result,
    to_decimal,
    with_unit,
    write_decimals,
    write_figures,
    write_number,
    write_place,
    write_to_decimals,
)
from hobrel.core.sentences import Sentences, said_by, say
from hobrel.core.uncertainty.traced import Floats, Traced, contributions
from hobrel.core.units.calculus import parse_unit, tidy_unit, write_unit

ALIKE = 10
"""How many times the smallest ± of a column the largest may be for all to be written with the same decimals."""
MOST_DECIMALS, LARGEST_PLAIN = 6, 1e6
STANDS_OUT = 3.5
"""How many usual ± a ± must be to stand out (common practice)."""


_shown: WeakKeyDictionary[Column, tuple[tuple[str, ...], Convention, ColumnResult]] = WeakKeyDictionary()


def present_column(column: Column, run: Run, convention: Convention) -> ColumnResult:
    """Write one column for people. One that has been written before, for the same rows, is remembered: an edit leaves most as they are."""
    rows = tuple(setting.id for setting in run.settings)
    known = _shown.get(column)
    if known is not None and known[0] == rows and known[1] == convention:
        return known[2]
    result = _write_column(column, run, convention)
    _shown[column] = rows, convention, result
    return result


def _write_column(column: Column, run: Run, convention: Convention) -> ColumnResult:
    quantity, rule = column.quantity, convention.rounding
    instrument = None if quantity.holds == "words" else quantity.instrument
    worded = column.words is not None
    unit = column.traced.unit if column.traced is not None else parse_unit("" if worded else quantity.unit)
    constant = None
    if quantity.kind == "constant" and column.traced is not None:
        constant = show_typed(float(column.traced.value), float(column.u), (quantity.value, quantity.u), write_unit(unit), rule)
    elif column.traced is not None and column.is_same_everywhere:
        u = float(column.u_all)
        constant = show_value(float(column.traced.value), u or None, column.traced.unit, rule)
    # the rows of a log are shown as far as somebody looks at them (`look_at_rows`)
    cells: tuple[Cell, ...] = ()
    if column.words is not None and not run.log:
        cells = tuple(Cell(value_text=word) for word in column.words)
    elif not (run.log or constant):
        cells = _read_cells(column.averages, rule) if column.averages else _derived_cells(column, column.u, run, rule)
    return ColumnResult(
        quantity=quantity.id,
        symbol=rich_sign(quantity),
        symbol_tex="" if quantity.holds == "words" else symbol_expression_tex(quantity.symbol),
        unit=write_unit(unit),
        decimals=expected_decimals(instrument) if instrument else None,
        instrument_text=_describe_instrument(column, convention, write_unit(unit)) if instrument else "",
        formula_tex=formula_tex(column.node) if column.node is not None else "",
        cells=cells,
        notes=_notes(column.averages, run) if column.averages else _empty_rows(column, run),
        range_text="" if worded else _range_text(column, run, write_unit(unit)),
        largest=_largest(column),
        constant=constant,
        count=int(np.count_nonzero(column.filled)),
        trouble=show_trouble(column.trouble) if column.trouble and not worded else None,
        other_units=suggest_conversions(quantity.symbol, unit) if _has_a_name(column) else (),
    )


def fail_column(quantity: Quantity, run: Run, error: CoreError) -> ColumnResult:
    """A column that could not be written: its heading as it was typed, no values, and why."""
    cells = () if run.log or quantity.kind == "constant" else tuple(Cell() for _ in run.settings)
    symbol = (RichRun(quantity.symbol),)
    return ColumnResult(
        quantity=quantity.id,
        symbol=symbol,
        symbol_tex="",
        unit=tidy_unit(quantity.unit),
        decimals=None,
        instrument_text="",
        formula_tex="",
        cells=cells,
        notes=(),
        range_text="",
        largest="",
        constant=None,
        trouble=show_trouble(error),
    )


def _has_a_name(column: Column) -> bool:
    """A quantity with a symbol that formulas can use, and not itself another in another unit."""
    return column.words is None and column.quantity.symbol.replace("_", "").isalnum() and not isinstance(column.node, Symbol)


def describe_log(log: Log, columns: Sequence[ColumnResult]) -> Sentences:
    """What a logger wrote."""
    ranges = [f"{plain_text(c.symbol)} from {c.range_text}" for c in columns if c.quantity in log.units and c.range_text]
    rows = "1 row" if log.rows == 1 else f"{log.rows} rows"
    if not ranges:
        return (say("logged_rows", "A logger wrote {rows}.", rows=rows),)
    return (say("logged", "A logger wrote {rows}: {ranges}.", rows=rows, ranges=", ".join(ranges)),)


def _describe_instrument(column: Column, convention: Convention, unit: str) -> str:
    instrument = column.quantity.instrument
    if instrument is None:
        return ""
    common = f", all alike ± {instrument.common} %" if common_share(instrument) else ""
    return _describe_reading(instrument, convention, unit) + common


def _describe_reading(instrument: Instrument, convention: Convention, unit: str) -> str:
    if instrument.kind == "counted_at_random":
        return f"{instrument.name} ± √N"
    if instrument.kind == "maker":
        return f"{instrument.name} ± {_say_statement(instrument, unit)}"
    u = reading_uncertainty(instrument, convention.display_half)
    if u == 0:
        return instrument.name
    shown = write_number(u, 1 if convention.rounding == "one" else 2).rstrip("0").rstrip(".")
    return f"{instrument.name} ± {with_unit(shown, unit)}"


def _say_statement(instrument: Instrument, unit: str) -> str:
    """A maker's statement, without what is nought in it."""
    size = with_unit(instrument.division, unit)
    digits = size if float(instrument.digits) == 1 else f"{instrument.digits} × {size}"
    parts = [part for part, value in ((f"{instrument.percent} %", instrument.percent), (digits, instrument.digits)) if float(value)]
    return f"({' + '.join(parts)})" if len(parts) > 1 else "".join(parts) or with_unit("0", unit)


def _usual_u(averages: Averages) -> float:
    """The median ± of a column's means; infinite where there are too few to tell what is usual."""
    us = [m.u for m in averages.means if m is not None and m.spread_u is not None]
    return statistics.median(us) if len(us) >= 4 else math.inf


@lru_cache(maxsize=1024)
def _read_cells(averages: Averages, rule: RoundingRule) -> tuple[Cell, ...]:
    cells, usual = [], _usual_u(averages)
    texts = _write_means(averages, rule)
    rows = zip(averages.readings, averages.places, averages.widths, averages.means, texts, strict=True)
    for states, places, width, mean, (value_text, u_text) in rows:
        repeats: list[float | None] = [None] * width
        for place, state in zip(places, states, strict=True):
            repeats[place] = float(state.parsed.value) if state.parsed else None
        aside = sum(1 for s in states if s.set_aside is not None)
        if mean is None:
            cells.append(Cell(set_aside=aside, repeats=tuple(repeats)))
            continue
        wide = mean.u > STANDS_OUT * usual
        cells.append(
            Cell(
                value=mean.summary.mean,
                u=mean.u,
                value_text=value_text,
                u_text=u_text,
                kept=mean.summary.n,
                set_aside=aside,
                made_by=mean.made_by,
                repeats=tuple(repeats),
                wide=wide,
            )
        )
    return tuple(cells)


def _write_means(averages: Averages, rule: RoundingRule) -> list[tuple[str, str]]:
    """Means with the decimals that their ± ask for, all alike; without ± with the digits that were typed, a mean with one more at most."""
    typed = [max((s.parsed.decimals for s in states if s.parsed and s.set_aside is None), default=0) for states in averages.readings]
    pairs = [(math.nan, math.nan) if m is None else (m.summary.mean, m.u) for m in averages.means]
    lone = [m is not None and m.summary.n == 1 for m in averages.means]
    decimals = common_decimals([u for _, u in pairs], rule)
    found = []
    for (value, u), digits, alone in zip(pairs, typed, lone, strict=True):
        if not math.isfinite(value):
            found.append(("", ""))
        elif not u > 0:
            whole = alone or value == round(value, digits)
            found.append((write_to_decimals(float(clean(value)), digits if whole else digits + 1), ""))
        elif alone and decimals is not None and decimals > digits and to_decimal(u).adjusted() >= -digits:
            # one reading has no more decimals than it was written with, as far as its ± can be written with these
            found.append(_to_decimals(value, u, digits))
        else:
            found.append(_write_pair(value, u, rule) if decimals is None else _to_decimals(value, u, decimals))
    return found


def common_decimals(us: Sequence[float], rule: RoundingRule) -> int | None:
    """One number of decimals for a column, as most of its ± ask for; None where they differ by more than ten, or are no plain decimals."""
    known = [float(clean(u)) for u in us if u > 0 and math.isfinite(u)]
    if not known or max(known) > ALIKE * min(known):
        return None
    places = sorted(-place_of(to_decimal(u), rule) for u in known)
    usual = max(set(places), key=lambda place: (places.count(place), place))
    # the smallest keeps a figure
    decimals = max(usual, -to_decimal(min(known)).adjusted())
    return decimals if 0 <= decimals <= MOST_DECIMALS else None


def _to_decimals(value: float, u: float, decimals: int) -> tuple[str, str]:
    return write_to_decimals(float(clean(value)), decimals), write_to_decimals(float(clean(u)), decimals)


def _derived_cells(column: Column, us: Floats, run: Run, rule: RoundingRule) -> tuple[Cell, ...]:
    if column.traced is None or column.quantity.kind == "constant":
        return ()
    values = np.broadcast_to(column.traced.value, (run.count,)).tolist()
    us = np.broadcast_to(us, (run.count,)).tolist()
    automatic = column.quantity.digits.kind == "automatic"
    decimals = common_decimals([u for v, u in zip(values, us, strict=True) if math.isfinite(v)], rule) if automatic else None
    bare = _bare_decimals(values)
    cells = []
    for value, u in zip(values, us, strict=True):
        if not math.isfinite(value):
            cells.append(Cell())
            continue
        known = u > 0 and math.isfinite(u)
        if automatic and not known and bare is not None:
            value_text, u_text = write_to_decimals(float(clean(value)), bare), ""
        elif known and decimals is not None and abs(value) < LARGEST_PLAIN:
            value_text, u_text = _to_decimals(value, u, decimals)
        else:
            value_text, u_text = write_pair_as(column.quantity.digits, value, u, rule)
        cells.append(Cell(value, u if math.isfinite(u) else None, value_text, u_text, made_by="propagated"))
    return tuple(cells)


def _bare_decimals(values: Sequence[float]) -> int | None:
    """Decimals for values without ±: as many as the one that needs most, of those that four figures give; None for no plain decimals."""
    known = [abs(float(clean(v))) for v in values if math.isfinite(v) and v]
    if not known or max(known) >= LARGEST_PLAIN or min(known) < 1e-3:
        return 0 if not known else None
    texts = [write_place(v, 4) for v in known]
    return None if any("×" in text for text in texts) else max(len(text.partition(".")[2]) for text in texts)


def write_rows(column: Column, run: Run, convention: Convention) -> list[tuple[str, str]]:
    """Value and ± of every setting as they are shown; empty texts where there is no value."""
    if column.averages:
        return [(cell.value_text, cell.u_text) for cell in _read_cells(column.averages, convention.rounding)]
    return [(cell.value_text, cell.u_text) for cell in _derived_cells(column, column.u, run, convention.rounding)]


def traced_of(column: Column) -> Traced:
    """The values of a column with what they come from.

    Raises
    ------
    CoreError
        What is wrong with the column.
    """
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "There is no value here.")
    return column.traced


def show_cell(column: Column, run: Run, row: int, convention: Convention) -> ShownValue:
    """One value of a column as it stands in the table, with its unit; of a log, rounded with its own ±.

    Raises
    ------
    CoreError
        What is wrong with the column.
    """
    us = column.u_all if column.is_same_everywhere else column.u
    one, u = traced_of(column).at_row(row), float(np.broadcast_to(us, (run.count,))[row])
    if column.quantity.kind == "constant":
        return show_typed(float(one.value), u, (column.quantity.value, column.quantity.u), write_unit(one.unit), convention.rounding)
    if run.log or traced_of(column).value.ndim == 0:
        return show_value(float(one.value), u or None, one.unit, convention.rounding)
    value_text, u_text = write_rows(column, run, convention)[row]
    return show_written(float(one.value), u, value_text, u_text, write_unit(one.unit))


def write_pair_as(digits: Digits, value: float, u: float, rule: RoundingRule) -> tuple[str, str]:
    """A value and its ± (empty where there is none), with the digits that somebody has chosen."""
    known_u = float(clean(u)) if u > 0 and math.isfinite(u) else 0.0
    match digits.kind:
        case "decimals":
            return write_decimals(float(clean(value)), known_u, digits.count)
        case "figures" | "scientific" as kind:
            return write_figures(float(clean(value)), known_u, digits.count, kind == "scientific")
        case "automatic":
            return _write_pair(value, u, rule)


@lru_cache(maxsize=65536)
def _write_pair(value: float, u: float, rule: RoundingRule) -> tuple[str, str]:
    """Value and ± to matching decimals; very large or small ones each carry the shared power of ten."""
    if not (u > 0 and math.isfinite(u)):
        return write_number(value), ""
    plain = round_result(clean(value), clean(u), rule, power="none")
    if len(plain.value_text) <= 9 and len(plain.u_text) <= 8:
        return plain.value_text, plain.u_text
    rounded = round_result(clean(value), clean(u), rule)
    power = rounded.text.partition(")")[2]
    return rounded.value_text + power, rounded.u_text + power


def _notes(averages: Averages, run: Run) -> tuple[ReadingNote, ...]:
    return tuple(ReadingNote(run.settings[row].id, place, trouble, note) for row, place, trouble, note in _find_notes(averages))


def _empty_rows(column: Column, run: Run) -> tuple[ReadingNote, ...]:
    """Why a formula has no value at some settings; of a log they are too many to be told one by one."""
    return () if run.log else tuple(ReadingNote(run.row_id(row), 0, (words,), "") for row, words in sorted(column.without.items()))


@lru_cache(maxsize=1024)
def _find_notes(averages: Averages) -> tuple[tuple[int, int, Sentences, str], ...]:
    found = []
    for row, (states, places) in enumerate(zip(averages.readings, averages.places, strict=True)):
        for place, state in zip(places, states, strict=True):
            trouble, note = (said_by(state.trouble),) if state.trouble else (), state.parsed.note if state.parsed else ""
            if trouble or note:
                found.append((row, place, trouble, note))
    return tuple(found)


def _range_text(column: Column, run: Run, unit: str) -> str:
    """The smallest and the largest value, a reading with the digits that it was written with."""
    if column.traced is None or not np.any(np.isfinite(column.traced.value)):
        return ""
    values = np.atleast_1d(column.traced.value)
    finite = np.where(np.isfinite(values), values, np.nan)

    def written(row: int) -> str:
        decimals = typed_decimals(column.quantity, run, row)
        return write_number(float(values[row]), 3) if decimals is None else write_to_decimals(float(values[row]), decimals)

    low, high = written(int(np.nanargmin(finite))), written(int(np.nanargmax(finite)))
    return with_unit(f"{low} to {high}" if low != high else low, unit)


def _middle(values: Floats) -> float:
    """The median; of a dozen values much sooner than NumPy's own."""
    ordered, n = np.sort(values), values.size
    return float(ordered[(n - 1) // 2] + ordered[n // 2]) / 2


def _largest(column: Column) -> str:
    """Which source makes most of a derived quantity's ±, in its typical row."""
    if column.traced is None or column.quantity.kind != "derived" or not column.traced.slopes:
        return ""
    parts = {k: np.atleast_1d(v) ** 2 for k, v in contributions(column.traced, shared=False).items()}
    if not parts:
        return ""
    with np.errstate(invalid="ignore", divide="ignore"):
        total = np.sum(list(parts.values()), axis=0)
        shares = {k: p / total for k, p in parts.items()}
    typical = {k: _middle(known) for k, s in shares.items() if (known := s[np.isfinite(s)]).size}
    if not typical:
        return ""
    source = max(typical, key=lambda k: typical[k])
    if column.node is not None and goes_over_settings(column.node) and source.symbol == spell(column.node):
        # it stands on itself
        return ""
    return f"{write_symbol(source.symbol)}: {typical[source] * 100:.0f} %"
