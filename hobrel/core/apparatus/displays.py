"""What a display writes of a value: to its last digit, which flickers, and nothing beyond its range."""

from __future__ import annotations

from decimal import ROUND_HALF_EVEN, Decimal

from hobrel.core.apparatus.chance import Chance

OVER = "over"
"""What stands on a display whose range is exceeded."""
FLICKER = 0.4
"""Standard deviation of the flicker of a last digit, in last digits; common practice puts it at less than one."""
_STEP = 0.4


def write_display(value: float, decimals: int, most: float, chance: Chance, *names: str | int) -> str:
    """The text on a display.

    Parameters
    ----------
    value : float
        In the unit of the display.
    decimals : int
        Of its last digit.
    most : float
        The largest value of its range; a larger one, or one as far below zero, is over.
    chance : Chance
    *names : str or int
        Of this moment.
    """
    digit = 10.0**-decimals
    flickering = value + FLICKER * digit * chance.normal(*names)
    if abs(flickering) > most:
        return OVER
    text = str(Decimal(flickering).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_EVEN))
    return text.removeprefix("-") if not text.strip("-0.") else text


def moment(time: float) -> int:
    """Which flicker of a display a time falls into."""
    return int(time / _STEP + 1e-6)
