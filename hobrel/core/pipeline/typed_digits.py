"""The digits that a reading was written with."""

from __future__ import annotations

import re

from hobrel.core.document.lab_book import Quantity, Run

_PLAIN, _DIGIT = re.compile(r"\s*[+−-]?\d*(?:[.,](\d*))?\s*"), re.compile(r"\d")


def count_decimals(text: str) -> int | None:
    """How many decimals a plain number has; None for anything else, a power of ten and a unit of its own among it."""
    match = _PLAIN.fullmatch(text) if _DIGIT.search(text) else None
    return len(match[1] or "") if match else None


def most_typed_decimals(quantity: Quantity, run: Run) -> int | None:
    """With how many decimals at most readings of a quantity were written, what holds no digit aside; None where they are not the numbers
    that count, or one is not written plainly.
    """
    if not _stand_as_typed(quantity, run):
        return None
    texts = run.log.columns[quantity.id] if run.log else (r.text for s in run.settings for r in s.readings.get(quantity.id, ()) if r)
    found = [count_decimals(text) for text in texts if _DIGIT.search(text)]
    return None if None in found else max((decimals for decimals in found if decimals is not None), default=0)


def typed_decimals(quantity: Quantity, run: Run, row: int) -> int | None:
    """With how many decimals the reading in a row was written; None where that is not the number that counts."""
    if not _stand_as_typed(quantity, run):
        return None
    if run.log is not None:
        return count_decimals(run.log.columns[quantity.id][row])
    read = run.settings[row].readings.get(quantity.id, ()) if row < len(run.settings) else ()
    return count_decimals(read[0].text) if read and read[0] is not None else None


def _stand_as_typed(quantity: Quantity, run: Run) -> bool:
    """Whether readings are the numbers that count: not what is derived, read more than once, or logged in another unit."""
    if quantity.kind not in ("changed", "measured") or quantity.repeats > 1:
        return False
    return run.log is None or (quantity.id in run.log.columns and run.log.units.get(quantity.id, quantity.unit) == quantity.unit)
