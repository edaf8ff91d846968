"""A number that is known beforehand, typed with its ± beside it: a constant, an accepted value, the length of a picture's scale."""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal

from hobrel.core.errors import CoreError
from hobrel.core.readings.composed import spell_concise
from hobrel.core.readings.parsing import OWN_U, is_percent, parse_difference, parse_reading, read_share
from hobrel.core.units.calculus import parse_unit

_SIGN = re.compile(r"^\s*(?:±|\+/?[-−–])\s*")


@dataclass(frozen=True)
class KnownNumber:
    """A value and its ±, in the unit that was asked for; 0 where none is typed."""

    value: Decimal
    u: Decimal


def parse_known(value: str, u: str, unit: str) -> KnownNumber:
    """Parse a number and its ±, each as typed: ``0.300`` and ``0.001``, ``300 g`` and ``1 g``, ``47`` and ``5 %``.

    Raises
    ------
    CoreError
        As `parse_reading` and `parse_known_u`; ``bad_number`` where the ± stands with the value.
    """
    if OWN_U.match(value) or spell_concise(value) is not None:
        raise CoreError("bad_number", "“{text}” is a number with its ±. Write the ± by itself, in the field beside it.", text=value.strip())
    number = parse_reading(value, unit).value
    return KnownNumber(number, parse_known_u(u, unit, number))


def parse_known_u(text: str, unit: str, of: Decimal) -> Decimal:
    """Parse a ± by itself: as a difference, with its sign (``± 0.1``) or without; per cent are of the number that it belongs to, but where
    that is in per cent itself. Nothing typed is 0.

    Raises
    ------
    CoreError
        As `parse_difference`; ``bad_number`` for one below zero.
    """
    bare = without_plus_minus(text)
    if not bare:
        return Decimal(0)
    share = None if is_percent(parse_unit(unit)) else read_share(bare)
    u = parse_difference(bare, unit) if share is None else abs(of) * share
    if u < 0:
        raise CoreError("bad_number", "A ± is not below zero: it says how far the number may be off, either way.")
    return u


def without_plus_minus(text: str) -> str:
    """A ± as it was typed, without the sign that stands before it."""
    return _SIGN.sub("", text).strip()
