"""Turn written readings into another unit, with their figures kept honest."""

from __future__ import annotations

from decimal import Decimal

from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_written
from hobrel.core.units.calculus import convert, parse_unit


def convert_reading(text: str, old: str, new: str) -> str:
    """A reading's text in another unit: 0.300 m is 30.0 cm, 25.3 cm is 0.253 m, 1.25 min is 75.0 s.

    Text that is no number, or carries a unit of its own, stays as it was written.

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
    own = "" if parsed.u is None else f" ± {format(parsed.u.normalize(), 'f')}"
    return f"{parsed.value:.{parsed.decimals}f}{own}"


def convert_division(division: str, old: str, new: str) -> str:
    """Smallest division or last digit of an instrument in another unit (no offset)."""
    ratio = convert(1.0, parse_unit(old), parse_unit(new)) - convert(0.0, parse_unit(old), parse_unit(new))
    return format((Decimal(division) * Decimal(f"{ratio:.12g}")).normalize(), "f")
