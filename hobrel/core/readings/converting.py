"""Turn written readings into another unit, with their figures kept honest."""

from __future__ import annotations

import math
from decimal import Decimal

from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_reading, parse_written, read_share, tidy
from hobrel.core.rounding import quantize
from hobrel.core.units.calculus import convert, convert_difference, parse_unit


def convert_reading(text: str, old: str, new: str) -> str:
    """A reading's text in another unit: 0.300 m is 30.0 cm, 25.3 cm is 0.253 m, 1.25 min is 75.0 s.

    Where the digits that were written would have to be rounded (5 min is 0.08333… h) it keeps them, with their unit. Text that is no
    number, or carries a unit of its own, stays as it was written.

    Raises
    ------
    CoreError
        ``bad_unit`` where the two units do not go together.
    """
    convert(0.0, parse_unit(old), parse_unit(new))
    try:
        parse_written(text)
        parsed = parse_written(f"{text.strip()} {old}".strip(), new)
    except CoreError:
        return text
    if not parsed.note:
        return text
    digits = quantize(parsed.value, -parsed.decimals)
    if not math.isclose(digits, parsed.value, rel_tol=1e-12):
        return f"{text.strip()} {old}"
    own = "" if parsed.u is None else f" ± {format(parsed.u.normalize(), 'f')}"
    return f"{digits:f}{own}"


def convert_written_u(text: str, old: str, new: str) -> str:
    """A written ± in another unit: a difference, without an offset. Text that is no number, or per cent, stays as it was written.

    Raises
    ------
    CoreError
        ``bad_unit`` where the two units do not go together.
    """
    factor = tidy(convert_difference(1.0, parse_unit(old), parse_unit(new)))
    try:
        u = parse_reading(text).value
        if read_share(text) is not None:
            return text
    except CoreError:
        return text
    return format((u * factor).normalize(), "f")


def convert_division(division: str, old: str, new: str) -> str:
    """Smallest division or last digit of an instrument in another unit (no offset)."""
    return format((Decimal(division) * tidy(convert_difference(1.0, parse_unit(old), parse_unit(new)))).normalize(), "f")
