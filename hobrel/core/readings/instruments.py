"""What a quantity is read from, and the uncertainty that the reading itself has."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

InstrumentKind = Literal["scale", "display", "rectangular", "counted"]


@dataclass(frozen=True)
class Instrument:
    """An instrument of smallest division (scale) or last digit (display) `division`, in the unit of the quantity.

    Attributes
    ----------
    name : str
    kind : {"scale", "display", "rectangular", "counted"}
    division : str
        As written, so that its digits are kept: ``0.001``.
    readings : int
        How many scale readings make one value: 2 for a length between two marks.
    between_marks : bool
        True where tenths of a division are estimated.
    """

    name: str
    kind: InstrumentKind
    division: str
    readings: int = 1
    between_marks: bool = False


def reading_uncertainty(instrument: Instrument, display_half: bool = True) -> float:
    """Uncertainty of a single reading, in the unit of the quantity.

    Half the smallest division of a scale; half or the whole of a display's last digit as the convention says (both common
    practice); a/√12 for rectangular (JCGM 100:2008, F.2.2.1); nothing for counted things. A difference of two scale
    readings counts it twice in quadrature.
    """
    division = float(Decimal(instrument.division)) if instrument.kind != "counted" else 0.0
    single = {
        "scale": division / 2,
        "display": division / 2 if display_half else division,
        "rectangular": division / math.sqrt(12),
        "counted": 0.0,
    }[instrument.kind]
    return single * math.sqrt(instrument.readings)


def expected_decimals(instrument: Instrument) -> int:
    """Decimals that a reading with this instrument is written with.

    As many as the division has; one more where the plan says that one estimates between the marks of the scale.
    """
    exponent = int(Decimal(instrument.division).normalize().as_tuple().exponent)
    return max(0, -exponent) + (1 if instrument.between_marks else 0)
