"""Readings that are written in several parts: 1:05.3 and 2 min 5 s, 12°30′, 5 m 20 cm; and 5.32(12)."""

from __future__ import annotations

import math
import re
from decimal import Decimal
from itertools import pairwise

from hobrel.core.errors import CoreError
from hobrel.core.units.calculus import convert_difference, parse_unit, same_dimension

_CLOCK = re.compile(r"^\s*(?:(?P<h>\d{1,3}):)?(?P<min>\d{1,3}):(?P<s>[0-5]\d(?:[.,]\d{1,9})?)\s*$")
_PRIMES = re.compile(r"^\s*(?P<min>\d{1,3})\s*['′]\s*(?P<s>[0-5]?\d(?:[.,]\d{1,9})?)\s*(?:[\"″]|''|′′)\s*$")
_ANGLE = re.compile(
    r"^\s*(?P<sign>[-−–]?)(?P<deg>\d{1,3})\s*°\s*(?P<min>[0-5]?\d(?:[.,]\d{1,9})?)\s*['′](?:\s*(?P<s>[0-5]?\d(?:[.,]\d{1,9})?)\s*(?:[\"″]|''|′′))?\s*$"
)
_PART = r"\d{1,9}\s*[A-Za-zµμ°]{1,12}"
_LAST = r"\d{1,9}(?:[.,]\d{1,9})?\s*[A-Za-zµμ°]{1,12}"
_PARTS = re.compile(rf"^\s*(?:{_PART}\s*,?\s*(?:and\s+)?){{1,3}}{_LAST}\s*$")
_ONE = re.compile(r"(?P<number>\d+(?:[.,]\d+)?)\s*(?P<unit>[A-Za-zµμ°]+)")
_CONCISE = re.compile(r"^\s*(?P<value>[+\-−–]?\d+(?:[.,](?P<decimals>\d*))?)\((?P<u>\d{1,9}(?:[.,]\d{1,9})?)\)(?P<tail>[^()]*)$")


def spell_in_one(text: str, unit: str) -> str | None:
    """A reading of several parts as one number with a unit: ``1:05.3`` as ``65.3 s`` where times are read; None for any other text.

    Nothing is lost: the smallest part says how many digits were read.

    Raises
    ------
    CoreError
        ``bad_number`` for ``3:57`` where times are read, which is a time in minutes, or 3.57 with the wrong sign.
    """
    if not any(sign in text for sign in ":'′°") and not _PARTS.match(text):
        return None
    if match := _CLOCK.match(text) or _PRIMES.match(text):
        parts = match.groupdict()
        if match.re is _CLOCK and parts["h"] is None and not any(sign in parts["s"] for sign in ".,") and _is_time(unit):
            # a colon typed for the point is as likely
            words = "“{text}” can be {point} or {min} min {s} s. Write which."
            point = text.strip().replace(":", ".")
            raise CoreError("bad_number", words, text=text.strip(), point=point, min=parts["min"], s=parts["s"])
        return _add(((parts.get("h"), "h"), (parts["min"], "min"), (parts["s"], "s")), unit)
    if match := _ANGLE.match(text):
        found = _add(((match["deg"], "deg"), (match["min"], "arcmin"), (match["s"], "arcsec")), unit)
        return f"-{found}" if found and match["sign"] else found
    if _PARTS.match(text):
        written = [(one["number"], one["unit"]) for one in _ONE.finditer(text)]
        try:
            sizes = [convert_difference(1.0, parse_unit(name), parse_unit(written[-1][1])) for _, name in written]
        except CoreError:
            return None
        # each part is one of a smaller unit than the one before it
        return _add(written, unit) if all(a > b for a, b in pairwise(sizes)) else None
    return None


def spell_concise(text: str) -> str | None:
    """``5.32(12)`` as ``(5.32 ± 0.12)``: the digits in brackets are of the last ones (JCGM 100:2008, 7.2.2). None for any other text."""
    match = _CONCISE.match(text)
    if match is None:
        return None
    u = Decimal(match["u"].replace(",", "."))
    if not any(sign in match["u"] for sign in ".,"):
        u = u.scaleb(-len(match["decimals"] or ""))
    return f"({match['value']} ± {u:f}){match['tail']}"


def _is_time(unit: str) -> bool:
    return bool(unit) and same_dimension(parse_unit("s"), parse_unit(unit))


def _add(parts: tuple[tuple[str | None, str], ...] | list[tuple[str, str]], unit: str) -> str | None:
    """The sum of numbers with units, in the last one that is written; None where a column of this unit holds nothing of the kind."""
    written = [(Decimal(number.replace(",", ".")), name) for number, name in parts if number is not None]
    last = parse_unit(written[-1][1])
    if not unit or not same_dimension(last, parse_unit(unit)):
        return None
    total = Decimal(0)
    for number, name in written:
        factor = convert_difference(1.0, parse_unit(name), last)
        total += number * (Decimal(round(factor)) if math.isclose(factor, round(factor), rel_tol=1e-12) else Decimal(repr(factor)))
    return f"{total:f} {written[-1][1]}"
