"""Look over a table of readings for what seems to be a slip. Nothing is dropped or changed; each slip leads to its cell."""

from __future__ import annotations

import math
import statistics
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from hobrel.core.document.lab_book import Quantity
from hobrel.core.pipeline.columns import Averages, Column, RunColumns
from hobrel.core.readings.instruments import Instrument, expected_decimals, reading_uncertainty
from hobrel.core.rounding import write_to_decimals
from hobrel.core.units.calculus import parse_unit, write_unit

SlipKind = Literal[
    "not_a_number", "wrong_decimals", "lone_repeat", "missing_repeat", "off_trend",
    "factor", "duplicate_setting", "blank", "swapped", "direction",
]  # fmt: skip


@dataclass(frozen=True)
class Slip:
    """Something that looks like a mistake, and where: run, setting and quantity by id, repeat by index (None: the whole setting)."""

    kind: SlipKind
    run: str
    setting: str
    quantity: str
    repeat: int | None
    message: str


def look_over_cells(columns: RunColumns) -> list[Slip]:
    """Slips that show in a cell and its fellows: text, decimals, a lone repeat, a blank repeat."""
    return [
        slip
        for column in columns.columns.values()
        if column.quantity.kind in ("changed", "measured")
        for slip in _slips_of_column(columns, column)
    ]


def _slips_of_column(columns: RunColumns, column: Column) -> list[Slip]:
    if column.averages is None:
        return []
    run, aside = columns.run, tuple(columns.run.rows_aside())
    found = _look_over(column.averages, column.quantity, aside)
    return [Slip(kind, run.id, run.settings[row].id, column.quantity.id, repeat, message) for kind, row, repeat, message in found]


@lru_cache(maxsize=1024)
def _look_over(averages: Averages, quantity: Quantity, aside: tuple[bool, ...]) -> tuple[tuple[SlipKind, int, int, str], ...]:
    """Kind, row, repeat and message of each slip; remembered for columns that an edit has not touched."""
    found: list[tuple[SlipKind, int, int, str]] = []
    instrument, unit = quantity.instrument, write_unit(parse_unit(quantity.unit))
    wanted = None if instrument is None else expected_decimals(instrument)
    typical = _typical_spread(averages, instrument)
    for row, (states, places) in enumerate(zip(averages.readings, averages.places, strict=True)):
        if aside[row]:
            continue
        for repeat, state in zip(places, states, strict=True):
            if state.set_aside is not None:
                continue
            if state.parsed is None:
                found.append(("not_a_number", row, repeat, state.trouble.message if state.trouble else ""))
            elif instrument is not None and state.parsed.u is None and state.parsed.decimals != wanted:
                few = "fewer" if state.parsed.decimals < (wanted or 0) else "more"
                message = f"{state.text} has {few} decimals than the {instrument.name} gives ({wanted})."
                found.append(("wrong_decimals", row, repeat, message))
        kept = [(i, float(s.parsed.value)) for i, s in zip(places, states, strict=True) if s.parsed and s.set_aside is None]
        lone = _find_lone(kept, typical)
        if lone is not None:
            found.append(("lone_repeat", row, lone[0], _say_lone(kept, lone[0], lone[1], wanted, unit)))
        if places and len(places) < quantity.repeats and row != len(aside) - 1:
            blank = next(i for i in range(quantity.repeats) if i not in places)
            found.append(("missing_repeat", row, blank, "One repeat is blank here, while others are filled."))
    return tuple(found)


def _say_lone(kept: list[tuple[int, float]], place: int, distance: float, decimals: int | None, unit: str) -> str:
    value = next(v for i, v in kept if i == place)
    fellows = statistics.fmean(v for i, v in kept if i != place)
    others = "the other two" if len(kept) == 3 else "the others"
    factor = power_of_ten_between(value, fellows)
    if factor is not None:
        return f"One repeat is about {say_factor(factor)} {others}. Is the decimal point in the right place?"
    apart = write_to_decimals(distance, decimals if decimals is not None else 3)
    return f"One repeat is {apart} {unit}".rstrip() + f" from {others}. Look at it again, or set it aside with a reason."


def power_of_ten_between(value: float, expected: float) -> int | None:
    """k where a value is about 10ᵏ times what is expected (k from −3 to 3, not 0; within a quarter), or None."""
    if value == 0 or expected == 0 or (value > 0) != (expected > 0):
        return None
    return power_of_ten(math.log10(abs(value)) - math.log10(abs(expected)))


def power_of_ten(power: float) -> int | None:
    """The whole power of ten that a logarithm is close to (from −3 to 3, not 0; within a quarter of the value), or None."""
    if not abs(power) < 4:
        return None
    k = round(power)
    return k if 1 <= abs(k) <= 3 and abs(power - k) < 0.1 else None


def say_factor(k: int) -> str:
    """“10 times” or “a hundredth of”."""
    return f"{10**k} times" if k > 0 else {1: "a tenth of", 2: "a hundredth of", 3: "a thousandth of"}[-k]


def _typical_spread(averages: Averages, instrument: Instrument | None) -> float:
    """Median half range of the settings, at least the reading uncertainty: what repeats of this column usually differ by."""
    spreads = [m.summary.half_range for m in averages.means if m is not None and m.summary.n > 1]
    return max(statistics.median(spreads) if spreads else 0.0, reading_uncertainty(instrument) if instrument else 0.0)


def _find_lone(kept: list[tuple[int, float]], typical: float) -> tuple[int, float] | None:
    """The one repeat that is far from its fellows, which agree among themselves (place, distance); common practice.

    Far: more than six times the usual spread of the column and than the spread of the fellows.
    """
    if len(kept) < 3:
        return None
    middle = statistics.median(v for _, v in kept)
    place, value = max(kept, key=lambda entry: abs(entry[1] - middle))
    fellows = [v for i, v in kept if i != place]
    distance = abs(value - statistics.fmean(fellows))
    half_range = (max(fellows) - min(fellows)) / 2
    return (place, distance) if typical > 0 and distance > 6 * max(typical, half_range) else None
