"""Instruments: what a quantity is read from, and how uncertain one reading is because of it."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from hobrel.core.errors import CoreError

InstrumentKind = Literal["scale", "display", "rectangular", "maker", "steady", "counted", "counted_at_random"]


@dataclass(frozen=True)
class Instrument:
    """An instrument of smallest division (scale) or last digit (display) `division`, in the unit of the quantity.

    Attributes
    ----------
    name : str
    kind : {"scale", "display", "rectangular", "maker", "steady", "counted", "counted_at_random"}
        ``maker``: the maker states `percent` of the reading plus `digits` of the last digit. ``steady``: `scatter` was seen where nothing
        changed. ``counted``: whole things, no
        uncertainty. ``counted_at_random``: events such as clicks, √N.
    division : str
        As written, so that its digits are kept: ``0.001``.
    readings : int
        How many scale readings make one value: 2 for a length between two marks.
    between_marks : bool
        True where tenths of a division are estimated.
    percent, digits : str
        Of a maker's statement, as written.
    scatter : str
        Standard deviation of readings of one and the same thing, as written, in the unit of the quantity.
    common : str
        Percentage, as written, by which all its readings may be too large or too small together: how well its scale is known. It is no
        part of what a single reading is uncertain by, and no repeating makes it less.
    """

    name: str
    kind: InstrumentKind
    division: str
    readings: int = 1
    between_marks: bool = False
    percent: str = "0"
    digits: str = "0"
    scatter: str = "0"
    common: str = "0"

    @property
    def depends_on_value(self) -> bool:
        """Whether a large reading is more uncertain than a small one."""
        return self.kind in ("maker", "counted_at_random")


MOST_READINGS = 100
_NUMBER = re.compile(r"\d{1,20}(\.\d{0,20})?|\.\d{1,20}")


def _number(instrument: Instrument, text: str) -> Decimal:
    """One of an instrument's numbers.

    Raises
    ------
    CoreError
        ``bad_number`` where it is none.
    """
    if not _NUMBER.fullmatch(text):
        raise CoreError("bad_number", "The instrument {name} has {text} where a plain number is needed.", name=instrument.name, text=text)
    return Decimal(text)


def reading_uncertainty(instrument: Instrument, display_half: bool = True, value: float = 0.0) -> float:
    """Uncertainty of a single reading, in the unit of the quantity.

    Half the smallest division of a scale; half or the whole of a display's last digit as the convention says (both common
    practice); a/√12 for rectangular (JCGM 100:2008, F.2.2.1); p % of the value + k digits for a maker's statement, taken as it
    stands; the standard deviation of a steady stretch, for each of its readings; √N for things counted at random (Poisson);
    nothing for other counted things. A difference of two scale readings counts it twice in quadrature.
    """
    if instrument.kind == "counted":
        return 0.0
    if instrument.kind == "counted_at_random":
        return math.sqrt(max(value, 0.0))
    if instrument.kind == "steady":
        return float(_number(instrument, instrument.scatter))
    division = float(_number(instrument, instrument.division))
    match instrument.kind:
        case "scale":
            single = division / 2
        case "display":
            single = division / 2 if display_half else division
        case "rectangular":
            single = division / math.sqrt(12)
        case "maker":
            single = abs(value) * float(_number(instrument, instrument.percent)) / 100 + division * float(
                _number(instrument, instrument.digits)
            )
    return single * _of_readings(instrument)


def _of_readings(instrument: Instrument) -> float:
    """√n for a difference of n readings of the scale.

    Raises
    ------
    CoreError
        ``bad_number``.
    """
    if not 1 <= instrument.readings <= MOST_READINGS:
        raise CoreError("bad_number", "A value is made of one reading of {name} or a few.", name=instrument.name)
    return math.sqrt(instrument.readings)


def common_share(instrument: Instrument) -> float:
    """By what share of themselves all readings of an instrument may be off together; a standard uncertainty.

    Raises
    ------
    CoreError
        ``bad_number`` where that is no number, or as much as the whole.
    """
    share = float(_number(instrument, instrument.common)) / 100
    if share >= 1:
        raise CoreError("bad_number", "The scale of {name} has to be known to less than 100 %.", name=instrument.name)
    return share


def hidden_by_last_digit(instrument: Instrument) -> float:
    """Standard uncertainty by what one last digit, or one division read to the nearest, hides: a/√12 (JCGM 100:2008, F.2.2.1)."""
    if instrument.kind in ("counted", "counted_at_random"):
        return 0.0
    step = float(_number(instrument, instrument.division)) / (10 if instrument.between_marks else 1)
    return step / math.sqrt(12) * _of_readings(instrument)


def smallest_step(instrument: Instrument) -> float:
    """By how much neighbouring readings differ: a division or last digit, a tenth of it where one estimates between the marks, one count.

    Raises
    ------
    CoreError
        ``bad_number`` for a division that is no number above zero.
    """
    if instrument.kind in ("counted", "counted_at_random"):
        return 1.0
    division = float(_number(instrument, instrument.division))
    if not division > 0:
        raise CoreError("bad_number", "The smallest division of {name} is a number above zero.", name=instrument.name)
    return division / (10 if instrument.between_marks else 1)


def expected_decimals(instrument: Instrument) -> int:
    """Decimals that a reading with this instrument is written with.

    As many as the division has; one more where the plan says that one estimates between the marks of the scale.
    """
    if instrument.kind in ("counted", "counted_at_random"):
        return 0
    exponent = int(_number(instrument, instrument.division).normalize().as_tuple().exponent)
    return max(0, -exponent) + (1 if instrument.between_marks else 0)
