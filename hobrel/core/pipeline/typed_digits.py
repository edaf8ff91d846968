"""The digits that a reading was written with."""

from __future__ import annotations

import re
from collections.abc import Iterable

from hobrel.core.document.lab_book import Quantity, Run

_PLAIN, _DIGIT = re.compile(r"\s*[+−-]?\d*(?:[.,](\d*))?\s*"), re.compile(r"\d")


def count_decimals(text: str) -> int | None:
    """How many decimals a plain number has; None for anything else, a power of ten and a unit of its own among it."""
    match = _PLAIN.fullmatch(text) if _DIGIT.search(text) else None
    return len(match[1] or "") if match else None


def most_decimals(texts: Iterable[str]) -> int | None:
    """How many decimals numbers have at most, what holds no digit aside; None where one of them is not written plainly."""
    found = [count_decimals(text) for text in texts if _DIGIT.search(text)]
    return None if None in found else max((decimals for decimals in found if decimals is not None), default=0)


def typed_decimals(quantity: Quantity, run: Run, row: int) -> int | None:
    """With how many decimals the reading in a row was written; None where that is not the number that counts: what is derived, read more
    than once, or written in another unit.
    """
    if quantity.kind not in ("changed", "measured") or quantity.repeats > 1:
        return None
    if run.log is None:
        read = run.settings[row].readings.get(quantity.id, ()) if row < len(run.settings) else ()
        return count_decimals(read[0].text) if read and read[0] is not None else None
    if run.log.units.get(quantity.id, quantity.unit) != quantity.unit or quantity.id not in run.log.columns:
        return None
    return count_decimals(run.log.columns[quantity.id][row])
