"""The unit that a result is usually given in: J for what comes out as V A s."""

from __future__ import annotations

import math
from functools import lru_cache

from hobrel.core.units.calculus import NUMBER, Unit, dimension_of, factor_to_base, parse_unit

_NAMED = ("N", "J", "W", "Pa", "C", "V", "Ω", "F", "H", "T", "Wb")
"""Of mechanics and electricity; others (Hz, lm, Bq …) share their dimension with what is something else."""
_PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G", 12: "T"}
_SPELLED = {"Ω": "ohm"}
_PLAIN = frozenset(("percent", "turn"))


@lru_cache(maxsize=4096)
def usual_unit(unit: Unit) -> Unit:
    """The named unit of a product of units, with the prefix that comes nearest; the unit as it stands where it has no name of its own.

    Common practice: newtons, joules, watts, pascals, coulombs, volts, ohms, farads, henries, teslas, webers.
    """
    if len(unit.powers) < 2:
        return unit
    for name in _NAMED:
        coherent = parse_unit(_SPELLED.get(name, name))
        if dimension_of(unit) == dimension_of(coherent):
            power = 3 * math.floor(round(math.log10(factor_to_base(unit) / factor_to_base(coherent)), 9) / 3 + 0.5)
            prefix = _PREFIXES[max(-12, min(12, power))]
            return parse_unit(prefix + _SPELLED.get(name, name))
    return unit


@lru_cache(maxsize=4096)
def without_plain_numbers(unit: Unit) -> tuple[Unit, float]:
    """A unit without percent and turns, which are numbers in a formula, and how many of it one of the unit is."""
    plain = Unit(tuple((name, power) for name, power in unit.powers if name in _PLAIN))
    if plain == NUMBER:
        return unit, 1.0
    return Unit(tuple((name, power) for name, power in unit.powers if name not in _PLAIN)), factor_to_base(plain)
