"""Other units that people usually want for a quantity, for conversions at one press."""

from __future__ import annotations

import re
from functools import lru_cache

from hobrel.core.documents import Quantity
from hobrel.core.formulas.typeset import plain_text, rich_symbol
from hobrel.core.results import OtherUnit
from hobrel.core.units import Unit, dimension_of, factor_to_base, parse_unit, write_unit

_FAMILIES = (
    ("deg", "rad"), ("°C", "K"),
    ("nm", "µm", "mm", "cm", "m", "km"), ("mm²", "cm²", "m²"), ("ml", "l", "cm³", "m³"),
    ("mg", "g", "kg"), ("ms", "s", "min", "h"), ("cm/s", "m/s", "km/h"), ("Hz", "kHz", "MHz"),
    ("gf", "mN", "N", "kN"), ("Pa", "hPa", "kPa", "bar"), ("eV", "J", "kJ", "kWh"), ("mW", "W", "kW"),
    ("µA", "mA", "A"), ("mV", "V", "kV"), ("Ω", "kΩ", "MΩ"), ("nC", "µC", "C"),
)  # fmt: skip
_NO_DIMENSION = 1
"""The first family has no dimension to tell it by; a unit must be one of its by name."""


@lru_cache(maxsize=1024)
def find_other_units(unit: Unit) -> tuple[Unit, ...]:
    """The other members of the family that a unit belongs to; none where it belongs to no family (common practice)."""
    for i, family in enumerate(_FAMILIES):
        members = [parse_unit(name) for name in family]
        if unit in members if i < _NO_DIMENSION else dimension_of(unit) == dimension_of(members[0]) != ():
            return tuple(m for m in members if m != unit)
    return ()


def suggest_conversions(quantity: Quantity, unit: Unit) -> tuple[OtherUnit, ...]:
    """A quantity in other units, each with a name and a symbol of its own: θ in rad, called theta_rad."""
    found = []
    for other in find_other_units(unit):
        shown = write_unit(other)
        spelled = re.sub(r"[^A-Za-z0-9]", "", shown.replace("Ω", "ohm").replace("µ", "u").translate(_DIGITS).replace("/", "per"))
        symbol = f"{quantity.symbol}_{spelled}"
        found.append(OtherUnit(shown, symbol, f"{plain_text(rich_symbol(quantity.symbol))} in {shown}", _is_basic(other)))
    return tuple(found)


def _is_basic(unit: Unit) -> bool:
    return not unit.is_offset and abs(factor_to_base(unit) - 1) < 1e-12


_DIGITS = str.maketrans("²³", "23")
