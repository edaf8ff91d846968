"""Known slips that make a result wrong: powers of ten from units, π, degrees, the number of swings, a gradient turned over, an offset."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

CauseCode = Literal["factor", "inverse", "offset"]
WITHIN = 2.5
"""Combined uncertainties within which a slip has to bring a value to the others."""
MOST_CAUSES = 3
_AS_LIKELY = 0.05
"""Share of the likelihood of the first that another cause must have to be named beside it (common practice)."""
ZERO_OFFSET = 273.15


@dataclass(frozen=True)
class Cause:
    """A slip that would explain a value.

    Attributes
    ----------
    code : {"factor", "inverse", "offset"}
    factor : float or None
        What the value has been multiplied with, by slip; None for the other codes.
    name : str
        ``10^-2``, ``4 pi^2``, ``1/v``, ``273.15``.
    put_right : float
        What the value would be without it.
    reason : str
        In words, without the numbers.
    """

    code: CauseCode
    factor: float | None
    name: str
    put_right: float
    reason: str


@dataclass(frozen=True)
class _Slip:
    name: str
    factor: float
    reason: str
    likely: float


def _powers_of_ten() -> list[_Slip]:
    words = {
        1: "as when a reading was not divided by ten, or a unit is off by one step",
        2: "as when the time of ten swings was not divided by ten before squaring, or cm stands for m",
        3: "as when one unit prefix is off (mm for m, g for kg)",
    }
    far = "a unit prefix is off, perhaps more than once"
    # how likely each is beside the others is common practice
    return [
        _Slip(f"10^{n}", 10.0**n, f"a power of ten: {words.get(abs(n), far)}", 1.0 if abs(n) <= 3 else 0.2) for n in range(-12, 13) if n
    ]


_OTHERS = (
    _Slip("2", 2.0, "a factor 2: perhaps a radius for a diameter, or half a swing for a whole one", 0.7),
    _Slip("4", 4.0, "a factor 4: perhaps a diameter for a radius, squared", 0.6),
    _Slip("8", 8.0, "a factor 8", 0.3),
    _Slip("16", 16.0, "a factor 16", 0.3),
    _Slip("60", 60.0, "a factor 60: perhaps minutes for seconds", 0.7),
    _Slip("3.6", 3.6, "a factor 3.6: perhaps km/h for m/s", 0.6),
    _Slip("pi", math.pi, "a factor π", 0.4),
    _Slip("2 pi", 2 * math.pi, "a factor 2π: perhaps turns for radians", 0.6),
    _Slip("4 pi^2", 4 * math.pi**2, "a factor 4π²", 0.6),
    _Slip("180/pi", 180 / math.pi, "a factor 180/π: perhaps degrees for radians", 0.6),
    _Slip("g", 9.80665, "a factor g: perhaps a mass for its weight", 0.6),
)


def _known_slips(constants: Mapping[str, float]) -> list[_Slip]:
    """All factors, each also turned over; `constants` are the practical's own numbers without unit, by symbol."""
    own = [
        _Slip(f"{symbol}^{power}" if power > 1 else symbol, abs(value) ** power, f"a factor {symbol}{'²' if power > 1 else ''}", 0.8)
        for symbol, value in constants.items()
        for power in (1, 2)
        if value and math.isfinite(value) and abs(value) != 1
    ]
    turned = [_Slip(f"1/({s.name})", 1 / s.factor, s.reason, s.likely) for s in (*_OTHERS, *own)]
    return [*_powers_of_ten(), *_OTHERS, *own, *turned]


def explain_distance(
    result: tuple[float, float], others: tuple[float, float], unit: str | None = None, constants: Mapping[str, float] | None = None
) -> tuple[Cause, ...]:
    """The known slips that bring a value to where the others are, likeliest first.

    Parameters
    ----------
    result : (float, float)
        The bench's value and u.
    others : (float, float)
        Value and u of the other benches, the scatter between them counted in.
    unit : str, optional
        An offset is looked for in K and °C only; where it is not given, in all.
    constants : mapping of symbol to number, optional
        The practical's own numbers without unit.
    """
    (value, u), (center, u_center) = result, others
    if unit in (None, "K", "°C"):
        for sign in (-1, 1):
            moved = value + sign * ZERO_OFFSET
            if abs(moved - center) <= WITHIN * math.hypot(u, u_center):
                reason = "a temperature in °C stands for one in K, or the other way"
                return (Cause("offset", None, "273.15", moved, reason),)
    found: list[tuple[float, Cause]] = []

    def weigh(put_right: float, u_right: float, likely: float, cause: Cause) -> None:
        z = abs(put_right - center) / math.hypot(u_right, u_center)
        if z <= WITHIN and all(abs(other.put_right - put_right) > 1e-6 * abs(put_right) for _, other in found):
            found.append((likely * math.exp(-z * z / 2), cause))

    for slip in _known_slips(constants or {}):
        right = value / slip.factor
        weigh(right, u / slip.factor, slip.likely, Cause("factor", slip.factor, slip.name, right, slip.reason))
    if value:
        reason = "one over what the others have: the gradient may be turned over (x and y exchanged)"
        weigh(1 / value, u / value**2, 0.8, Cause("inverse", None, "1/v", 1 / value, reason))
    found.sort(key=lambda entry: -entry[0])
    return tuple(cause for weight, cause in found[:MOST_CAUSES] if weight >= _AS_LIKELY * found[0][0])
