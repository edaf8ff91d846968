"""What is true in the world of a plan: what it says of what nobody knows yet, and what is asked for where it does not."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.readings.parsing import parse_reading, split_unit
from hobrel.core.uncertainty.traced import ONE_IN_KELVINS, ONE_ON_SCALE, Floats, Traced
from hobrel.core.units.calculus import parse_unit, same_dimension
from hobrel.core.units.constants import constant_symbols, find_constant


def read_truths(book: LabBook) -> dict[str, Traced]:
    """What a plan believes of its unknowns, by symbol: the accepted value of a finding, or what is said for the dry run.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit``.
    """
    found: dict[str, Traced] = {}
    for finding in book.findings:
        if finding.accepted is not None and finding.accepted.value.strip():
            value = float(parse_reading(finding.accepted.value, finding.unit).value)
            found[canonical_name(finding.symbol)] = _as_single(value, finding.unit)
    for symbol, text in book.plan.dry.truths.items():
        if text.strip():
            number, unit = split_unit(text)
            found[canonical_name(symbol)] = _as_single(float(parse_reading(number).value), unit)
    return found


def refuse_unknown(book: LabBook, formulas: Iterable[Node], truths: Mapping[str, Traced]) -> None:
    """Ask for what formulas hold and nobody says.

    Raises
    ------
    CoreError
        ``unknown_value``.
    """
    natural = {symbol for symbol in constant_symbols() if not _is_found(symbol, book)}
    known = {canonical_name(q.symbol) for q in book.quantities} | set(truths) | natural
    unsaid = (symbol for formula in formulas for symbol in sorted(symbols_in(formula) - known - {"pi"}))
    trouble = next((ask_for_truth(symbol) for symbol in unsaid), None)
    if trouble is not None:
        raise trouble


def _is_found(symbol: str, book: LabBook) -> bool:
    """Whether a constant of nature's symbol stands for something else that is to be found: G for a shear modulus."""
    units = (parse_unit(f.unit) for f in book.findings if canonical_name(f.symbol) == symbol and f.unit.strip())
    return any(not same_dimension(unit, parse_unit(find_constant(symbol).unit)) for unit in units)


def ask_for_truth(symbol: str) -> CoreError:
    """That it is not said what a symbol is."""
    words = "Say what {symbol} is, with its unit: in the dry run, under “In truth”."
    return CoreError("unknown_value", words, symbol=write_symbol(symbol), field=symbol)


def as_column(values: Floats, unit: str) -> Traced:
    """Exact values in a unit."""
    known = parse_unit(unit)
    return Traced(values, {}, known, ONE_ON_SCALE if known.is_offset else ONE_IN_KELVINS)


def _as_single(value: float, unit: str) -> Traced:
    return as_column(np.asarray(value), unit)
