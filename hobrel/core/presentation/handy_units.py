"""Other units that people usually want for a quantity, for conversions at one press."""

from __future__ import annotations

import math
import re
from functools import lru_cache

from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.presentation.results import OtherUnit
from hobrel.core.units.calculus import Unit, dimension_of, factor_to_base, parse_unit, write_unit

_FAMILIES = (
    ("deg", "rad"), ("deg/s", "rad/s", "turn/s"), ("°C", "K"),
    ("nm", "µm", "mm", "cm", "m", "km"), ("mm²", "cm²", "m²"), ("ml", "l", "cm³", "m³"),
    ("mg", "g", "kg"), ("ms", "s", "min", "h"), ("cm/s", "m/s", "km/h"), ("Hz", "kHz", "MHz"),
    ("gf", "mN", "N", "kN"), ("Pa", "hPa", "kPa", "bar"), ("eV", "J", "kJ", "kWh"), ("mW", "W", "kW"),
    ("µA", "mA", "A"), ("mV", "V", "kV"), ("Ω", "kΩ", "MΩ"), ("nC", "µC", "C"),
)  # fmt: skip
_FARTHEST = 4.0
"""Powers of ten between two units that somebody might want side by side."""
_ANGLES = 2
"""The first families are of angles, which have no dimension to tell them by: a unit must be one of theirs by name, and of no other's."""
_ANGLE_UNITS = frozenset(("deg", "rad", "turn", "rev", "revolution", "rpm", "arcmin", "arcsec", "grad", "mrad"))


@lru_cache(maxsize=1024)
def find_other_units(unit: Unit) -> tuple[Unit, ...]:
    """The coherent SI unit and those near in size, from the family that a unit belongs to (common practice)."""
    for i, family in enumerate(_FAMILIES):
        members = [parse_unit(name) for name in family]
        of_angle = any(name in _ANGLE_UNITS for name, _ in unit.powers)
        if unit in members if i < _ANGLES else not of_angle and dimension_of(unit) == dimension_of(members[0]) != ():
            return tuple(m for m in members if m != unit and (is_basic(m) or _is_near(m, unit)))
    return ()


@lru_cache(maxsize=1024)
def suggest_conversions(symbol: str, unit: Unit) -> tuple[OtherUnit, ...]:
    """A quantity in other units, each with a name and a symbol of its own: θ in rad, called theta_rad."""
    found = []
    for other in find_other_units(unit):
        shown = write_unit(other)
        spelled = re.sub(r"[^A-Za-z0-9]", "", shown.replace("Ω", "ohm").replace("µ", "u").translate(_DIGITS).replace("/", "per"))
        name = f"{write_symbol(symbol)} in {shown}"
        found.append(OtherUnit(shown, f"{symbol}_{spelled}", name, is_basic(other)))
    return tuple(found)


def _is_near(a: Unit, b: Unit) -> bool:
    return abs(math.log10(factor_to_base(a) / factor_to_base(b))) <= _FARTHEST


def is_basic(unit: Unit) -> bool:
    """Whether a unit is the coherent one of the SI, with which formulas work out without factors."""
    return not unit.is_offset and abs(factor_to_base(unit) - 1) < 1e-12


_DIGITS = str.maketrans("²³", "23")
