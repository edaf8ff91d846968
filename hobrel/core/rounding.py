"""Round once, on show: the uncertainty to one or two figures, the value to the same place.

Rounding is half away from zero on the decimal text (ISO 80000-1:2009, B.3, rule B), never on binary floats.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Context, Decimal
from typing import Literal

from hobrel.core.errors import CoreError

RoundingRule = Literal["one_or_two", "one", "two"]
PowerKind = Literal["auto", "none"]
SUPERSCRIPTS = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")
MINUS = "−"
_EVERY_DIGIT = Context(prec=2000)
# these stand close to a number, all other units after a space
ANGLE_SIGNS = frozenset({"°", "′", "″"})
"""Room for all digits between the largest and the smallest number there is: 10³⁰⁸ to the place of 10⁻³²⁴ and its own figures."""


@dataclass(frozen=True)
class RoundedResult:
    """A value with its uncertainty, rounded and written.

    Attributes
    ----------
    text : str
        ``(2.06 ± 0.05) × 10⁹ Pa`` or ``2.06 ± 0.05 GPa``.
    value_text, u_text : str
        The two numbers before a common power of ten, with equal decimals.
    power : int
        The shared power of ten; 0 for none.
    tex : str
    spoken : str
        For a screen reader: “2.06 plus or minus 0.05 times ten to the power 9, in Pa”.
    """

    text: str
    value_text: str
    u_text: str
    power: int
    tex: str
    spoken: str


def to_decimal(number: float | str | Decimal) -> Decimal:
    """The shortest decimal text of a number, exactly.

    Raises
    ------
    CoreError
        ``outside_domain`` for infinity and NaN, which are never written.
    """
    if isinstance(number, float) and not math.isfinite(number):
        raise CoreError("outside_domain", "The result is not a number that can be written.")
    return number if isinstance(number, Decimal) else Decimal(str(number) if isinstance(number, str) else repr(float(number)))


def quantize(number: Decimal, place: int) -> Decimal:
    """Round to 10^place, half away from zero."""
    if place <= 0:
        rounded = number.quantize(Decimal(1).scaleb(place), ROUND_HALF_UP, _EVERY_DIGIT)
    else:
        rounded = number.scaleb(-place, _EVERY_DIGIT).quantize(Decimal(1), ROUND_HALF_UP, _EVERY_DIGIT).scaleb(place, _EVERY_DIGIT)
    return rounded.copy_abs() if rounded == 0 else rounded


def place_of(u: Decimal, rule: RoundingRule) -> int:
    """The power of ten of the last figure that an uncertainty is rounded to."""
    leading = u.adjusted()
    digit = u.as_tuple().digits[0]
    figures = {"one": 1, "two": 2, "one_or_two": 2 if digit == 1 else 1}[rule]
    return leading - figures + 1


def write_fixed(number: Decimal) -> str:
    """Plain decimals with a real minus sign, never an exponent, never −0."""
    text = format(number, "f")
    return MINUS + text[1:] if text.startswith("-") else text


def round_result(
    value: float | str | Decimal,
    u: float | str | Decimal,
    rule: RoundingRule = "one_or_two",
    unit: str = "",
    power: PowerKind = "auto",
) -> RoundedResult:
    """Round a value with its uncertainty.

    Parameters
    ----------
    value, u : number, or its decimal text
        `u` above zero: a standard uncertainty or ±, in the unit of the value.
    rule : {"one_or_two", "one", "two"}
        Figures of the uncertainty; ``one_or_two`` keeps two when the leading digit is 1.
    unit : str
        Written behind, as given.
    power : {"auto", "none"}
        ``auto`` takes a common power of ten out where the numbers are large or small or trailing zeros would be noise.

    Raises
    ------
    CoreError
        ``bad_number`` when u is not above zero.
    """
    v, s = to_decimal(value), to_decimal(u)
    if not v.is_finite() or not s.is_finite() or s <= 0:
        raise CoreError("bad_number", "To round a result, its uncertainty must be a number above zero.")
    s = Decimal((0, s.normalize().as_tuple().digits, int(s.normalize().as_tuple().exponent)))
    place = place_of(s, rule)
    if rule == "one_or_two" and quantize(s, place).as_tuple().digits[0] != s.as_tuple().digits[0] == 1:
        # 0.0196 with two figures would be 0.020, which no longer begins with a 1: one figure, so that rounding again changes nothing
        place += 1
    if rule != "one_or_two" and quantize(s, place).adjusted() > s.adjusted():
        place += 1  # a carry keeps the rule: 0.0996 to one figure is 0.1, to two 0.10
    rounded_v, rounded_u = quantize(v, place), quantize(s, place)
    shift = _shared_power(rounded_v, rounded_u, place) if power == "auto" else 0
    value_text = write_fixed(_shifted(rounded_v, shift, place))
    u_text = write_fixed(_shifted(rounded_u, shift, place))
    return _write(value_text, u_text, shift, unit)


def _shifted(number: Decimal, shift: int, place: int) -> Decimal:
    return quantize(number.scaleb(-shift, _EVERY_DIGIT), min(0, place - shift))


def _shared_power(value: Decimal, u: Decimal, place: int) -> int:
    largest = max(value.adjusted() if value else u.adjusted(), u.adjusted())
    if place > 0 or largest >= 5 or largest <= -4:
        return largest
    return 0


def _write(value_text: str, u_text: str, power: int, unit: str) -> RoundedResult:
    pair = f"{value_text} ± {u_text}"
    tex_pair = rf"{value_text.replace(MINUS, '-')} \pm {u_text}"
    spoken = f"{value_text.replace(MINUS, 'minus ')} plus or minus {u_text}"
    if power:
        pair = f"({pair}) × 10{str(power).translate(SUPERSCRIPTS)}"
        tex_pair = rf"({tex_pair}) \times 10^{{{power}}}"
        spoken += f" times ten to the power {str(power).replace('-', 'minus ')}"
    elif unit:
        tex_pair = rf"({tex_pair})"
    if unit:
        return RoundedResult(
            text=with_unit(pair, unit),
            value_text=value_text,
            u_text=u_text,
            power=power,
            tex=tex_pair + ("" if unit in ANGLE_SIGNS else r"\ ") + rf"\text{{{unit}}}",
            spoken=f"{spoken}, in {unit}",
        )
    return RoundedResult(text=pair, value_text=value_text, u_text=u_text, power=power, tex=tex_pair, spoken=spoken)


def with_unit(number: str, unit: str) -> str:
    """A number as text with its unit: after a space, but a degree sign close to it.

    A ± is held together before such a sign: (10.0 ± 0.2)°. Source: ISO 80000-1:2009, 7.1.4.
    """
    if unit not in ANGLE_SIGNS:
        return f"{number} {unit}".strip()
    return f"({number}){unit}" if " ± " in number and number[0] != "(" else f"{number}{unit}"


def write_number(value: float, figures: int = 4) -> str:
    """Write a number that has no uncertainty beside it, to some significant figures (``0.0314``, ``2.41 × 10⁻⁷``)."""
    if value == 0:
        return "0"
    number = to_decimal(value)
    rounded = quantize(number, number.adjusted() - figures + 1)
    magnitude = rounded.adjusted()
    if magnitude > number.adjusted():
        # a carry (0.99996 to four figures) brings a figure that is not known
        rounded = quantize(rounded, magnitude - figures + 1)
    if -4 <= magnitude < max(figures, 5):
        return write_fixed(rounded)
    mantissa = rounded.scaleb(-magnitude)
    return f"{write_fixed(mantissa)} × 10{str(magnitude).translate(SUPERSCRIPTS)}"


def write_place(value: float, figures: int = 6) -> str:
    """A place that somebody has chosen, without figures that are only zeros: 60, 0.25, 1.2345."""
    text = write_number(value, figures)
    return text.rstrip("0").rstrip(".") if "." in text and "×" not in text else text


def write_figures(value: float, u: float, figures: int, scientific: bool = False) -> tuple[str, str]:
    """A value to some significant figures, with its ± to the same place; both to the first figure of the ± where it would vanish.

    Parameters
    ----------
    value, u : float
        `u` zero where there is none; it is then written as an empty text.
    scientific : bool
        As a number from 1 to 10 times a power of ten, which both share.
    """
    number = to_decimal(value)
    place = (number.adjusted() if number else 0) - figures + 1
    if u > 0:
        place = _place_that_keeps(u, place)
    rounded = quantize(number, place)
    if rounded.adjusted() > number.adjusted() and rounded and not u > 0:
        place += 1  # 9.996 to three figures is 10.0
        rounded = quantize(number, place)
    power = rounded.adjusted() if scientific and rounded else 0
    tail = f" × 10{str(power).translate(SUPERSCRIPTS)}" if power else ""
    value_text = write_fixed(_shifted(rounded, power, place)) + tail
    return value_text, write_fixed(_shifted(quantize(to_decimal(u), place), power, place)) + tail if u > 0 else ""


def _place_that_keeps(u: float, place: int) -> int:
    """A place, or that of the first figure of an uncertainty that would be nothing there."""
    number = to_decimal(u)
    return place if quantize(number, place) else number.adjusted()


def write_decimals(value: float, u: float, decimals: int) -> tuple[str, str]:
    """A value to a count of decimals, with its ± likewise (empty where there is none); both with more where the ± would vanish."""
    if not u > 0:
        return write_to_decimals(value, decimals), ""
    wanted = -_place_that_keeps(u, -decimals)
    return write_to_decimals(value, wanted), write_to_decimals(u, wanted)


def write_to_decimals(value: float, decimals: int) -> str:
    """Write a number to a given count of decimals."""
    return write_fixed(quantize(to_decimal(value), -decimals))
