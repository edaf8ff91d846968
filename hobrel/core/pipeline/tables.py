"""From a table of reference as it is written to one that formulas look things up in."""

from __future__ import annotations

from decimal import Decimal
from functools import lru_cache

from hobrel.core.document.plan_part import ReferenceTable
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tabulated import Tabulated
from hobrel.core.readings.known import parse_known_u
from hobrel.core.readings.parsing import ParsedReading, parse_written
from hobrel.core.rounding import with_unit
from hobrel.core.units.calculus import KELVIN, Unit, convert, convert_difference, parse_unit
from hobrel.core.units.naming import without_plain_numbers

FEWEST_LINES = 2


@lru_cache(maxsize=64)
def read_tables(tables: tuple[ReferenceTable, ...]) -> tuple[Tabulated, ...]:
    """The tables of a plan that have a symbol; one that cannot be read says why where it is used.

    Of two with one symbol the first counts.
    """
    found: dict[str, Tabulated] = {}
    for table in tables:
        symbol = canonical_name(table.symbol)
        if symbol and symbol not in found:
            found[symbol] = read_table(table)
    return tuple(found.values())


def read_table(table: ReferenceTable) -> Tabulated:
    """A table, whether it has a symbol yet or not; one that cannot be read says why where it is used."""
    symbol = canonical_name(table.symbol)
    try:
        return _read_table(table, symbol)
    except CoreError as trouble:
        words = "The table {symbol} cannot be used yet: {reason}"
        called = symbol or f"“{table.name}”"
        return Tabulated(symbol, trouble=CoreError("bad_table", words, symbol=called, reason=trouble.message))


def _read_table(table: ReferenceTable, symbol: str) -> Tabulated:
    lines = [_read_line(n, line.at, line.value, table) for n, line in enumerate(table.lines, 1) if line.at.strip() or line.value.strip()]
    if len(lines) < FEWEST_LINES:
        raise CoreError("bad_table", "a table has two lines or more.")
    at_written, written = parse_unit(table.of_unit), parse_unit(table.unit)
    at_unit, unit = _without_zero(at_written), _without_zero(written)
    at_plain, at_factor = without_plain_numbers(at_unit)
    plain, factor = without_plain_numbers(unit)
    lines.sort(key=lambda line: line[0].value)
    at = [float(place.value) for place, _ in lines]
    if len(set(at)) < len(at):
        raise CoreError("bad_table", "two lines are listed at {at}.", at=f"{next(a for n, a in enumerate(at) if a in at[:n]):g}")
    us = [float(u_of_line(value, table)) for _, value in lines]
    return Tabulated(
        symbol=symbol,
        at=tuple(convert(a, at_written, at_unit) * at_factor for a in at),
        values=tuple(convert(float(v.value), written, unit) * factor for _, v in lines),
        us=tuple(convert_difference(u, written, unit) * factor for u in us),
        at_unit=at_plain,
        unit=plain,
        against=table.of_unit or "a pure number",
        reach=with_unit(f"from {at[0]:g} to {at[-1]:g}", table.of_unit),
        on_scale=written.is_offset,
    )


def u_of_line(value: ParsedReading, table: ReferenceTable) -> Decimal:
    """The ± of a line: its own, or that of all.

    Raises
    ------
    CoreError
        As `parse_known_u`.
    """
    return parse_known_u(table.u, table.unit, value.value) if value.u is None else value.u


def _without_zero(unit: Unit) -> Unit:
    return KELVIN if unit.is_offset else unit


def _read_line(n: int, at: str, value: str, table: ReferenceTable) -> tuple[ParsedReading, ParsedReading]:
    """A line's two numbers.

    Raises
    ------
    CoreError
        ``bad_table``, naming the line.
    """
    try:
        return parse_written(at, table.of_unit), parse_written(value, table.unit)
    except CoreError as trouble:
        raise CoreError("bad_table", "in line {n}, {reason}", n=n, reason=trouble.message) from None
