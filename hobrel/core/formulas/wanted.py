"""The unit in which the result of a formula is wanted."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Traced
from hobrel.core.units.calculus import convert, factor_to_base, parse_unit, same_dimension, write_unit
from hobrel.core.units.naming import usual_unit


def in_wanted_unit(traced: Traced, unit: str, symbol: str) -> Traced:
    """Convert a computed quantity to the unit the plan wants (without one to that which is usual), and refuse one of another kind.

    Raises
    ------
    CoreError
        ``bad_unit`` when the formula's unit and the wanted one differ in dimension.
    """
    if not unit.strip():
        usual = usual_unit(traced.unit)
        return traced.scaled(factor_to_base(traced.unit) / factor_to_base(usual), usual)
    wanted = parse_unit(unit)
    if not same_dimension(traced.unit, wanted):
        has = write_unit(traced.unit) or "no unit"
        raise CoreError(
            "bad_unit",
            "The formula for {symbol} gives {has}, but {unit} is wanted. Look at the formula again.",
            symbol=symbol,
            has=has,
            unit=unit,
        )
    factor = factor_to_base(traced.unit) / factor_to_base(wanted)
    shift = 0.0 if traced.temperatures.is_difference else convert(0.0, traced.unit, wanted)
    scaled = traced.scaled(factor, wanted)
    return replace(scaled, value=scaled.value + shift) if shift else scaled
