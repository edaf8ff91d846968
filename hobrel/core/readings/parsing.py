"""Turn the text of a reading into a number without losing the digits that were written."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import lru_cache

from hobrel.core.errors import CoreError
from hobrel.core.readings.composed import spell_concise, spell_in_one
from hobrel.core.rounding import MINUS, SUPERSCRIPTS, quantize, with_unit
from hobrel.core.units.calculus import Unit, convert, convert_difference, parse_unit

_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺", "0123456789-+")
_NUMBER = re.compile(
    r"""^\s*(?P<sign>[+\-−–]?)\s*
    (?P<digits>\d+(?:[.,]\d*)?|[.,]\d+)
    (?:\s*(?:[eE]\s*(?P<e>[+\-−]?\d+)
        |[×x*·]\s*10\s*(?:\^\s*\(?(?P<caret>[+\-−]?\d+)\)?|(?P<sup>[⁻⁺]?[⁰¹²³⁴⁵⁶⁷⁸⁹]+))))?
    \s*(?P<unit>\S.*?)?\s*$""",
    re.VERBOSE,
)
_THOUSANDS = re.compile(r"\d[.,]\d{3}[.,]\d|\d[ '\u00a0\u202f]\d{3}(?!\d)|,\d+,|\.\d+\.")
LONGEST_READING = 60
LARGEST_EXPONENT = 100
"""Powers of ten beyond which nothing is measured, and squares of which can still be computed with (common practice)."""
_ENDS_WITH_UNIT = re.compile(r"[A-Za-zµμ°Ω%²³]\s*$")
OWN_U = re.compile(r"^\s*(?P<open>\(?)\s*(?P<value>[^()±]+?)\s*(?:±|\+/-|\+-)\s*(?P<u>[^()±\s]+)\s*(?P<close>\)?)(?P<tail>.*)$")
"""A number with its ± behind it."""
_SHARE = re.compile(r"^\s*([^%\s]+)\s*%\s*$")


@dataclass(frozen=True)
class ParsedReading:
    """One reading, understood.

    Attributes
    ----------
    value : Decimal
        The number, in the unit of its column; one that was typed with another unit is converted exactly.
    decimals : int
        Digits written after the decimal sign; with a power of ten, as if it were written out (2.5×10⁻³ has 4), never below 0. Of a
        converted one, as many as the typed digits are good for.
    significant_figures : int or None
        None where trailing zeros of a whole number leave it open (1200).
    note : str
        What was done to the text, if a unit after the number was converted; empty otherwise.
    u : Decimal or None
        The ± that was written with it (``5.9 ± 0.1``), in the unit of the column.
    """

    value: Decimal
    decimals: int
    significant_figures: int | None
    note: str = ""
    u: Decimal | None = None


def count_significant_figures(mantissa: str) -> int | None:
    """Count the figures of a mantissa such as ``0.0250`` (3) or ``1200`` (None: 2, 3 or 4)."""
    if "." in mantissa:
        digits = mantissa.replace(".", "").lstrip("0")
        # a written zero such as 0.00 has no figure but the ones after the point
        return len(digits) if digits else len(mantissa.split(".")[1])
    digits = mantissa.lstrip("0")
    if digits.endswith("0"):
        return None
    return len(digits) if digits else 1


@lru_cache(maxsize=16384)
def parse_reading(text: str, unit: str = "") -> ParsedReading:
    """Parse one reading.

    Parameters
    ----------
    text : str
        As typed: ``2.50``, ``2,50``, ``-3.1×10^-4``, ``1.2e5``, ``25.3 cm``, ``1:05.3``.
    unit : str, optional
        The unit of the column. A unit after the number is accepted if it converts to this one.

    Raises
    ------
    CoreError
        ``bad_number`` when the text is not one number; ``bad_unit`` when a unit after it does not fit the column.
    """
    if len(text) > LONGEST_READING:
        raise CoreError("bad_number", "This is too long for one reading.")
    if (in_one := spell_in_one(text, unit)) is not None:
        number = parse_reading(in_one, unit)
        return replace(number, note=f"{text.strip()} = {number.note.rpartition(' = ')[2] or in_one}")
    if _THOUSANDS.search(text):
        raise CoreError(
            "bad_number",
            "“{text}” seems to have thousands separators. Write the number without them, with one decimal sign.",
            text=text.strip(),
        )
    match = _NUMBER.match(text)
    if match is None:
        raise CoreError("bad_number", "“{text}” is not a number. Write digits, with one decimal sign, as in 2.50.", text=text.strip())
    mantissa = match["digits"].replace(",", ".")
    if mantissa.endswith("."):
        mantissa = mantissa[:-1]
    if mantissa.startswith("."):
        mantissa = "0" + mantissa
    exponent_text = match["e"] or match["caret"] or (match["sup"] or "").translate(_SUPERSCRIPTS) or "0"
    exponent = int(exponent_text.replace("−", "-"))
    if abs(exponent) > LARGEST_EXPONENT:
        raise CoreError("bad_number", "The power of ten is larger than any measurement needs. Look at the exponent again.")
    value = Decimal(mantissa).scaleb(exponent)
    if value and abs(value.adjusted()) > LARGEST_EXPONENT:
        raise CoreError("bad_number", "This number is larger or smaller than any measurement is. Look at its digits again.")
    if match["sign"] in ("-", "−", "–"):
        value = -value
    written_decimals = len(mantissa.split(".")[1]) if "." in mantissa else 0
    decimals = max(0, written_decimals - exponent)
    figures = count_significant_figures(mantissa)
    given_unit = match["unit"]
    if not given_unit:
        return ParsedReading(value, decimals, figures)
    if not re.match(r"[A-Za-zµμ°Ω%]", given_unit):
        raise CoreError("bad_number", "“{text}” is not one number. Write digits, with one decimal sign, as in 2.50.", text=text.strip())
    return _in_unit_of_column(value, decimals, figures, given_unit, unit)


def spell_number(text: str) -> str | None:
    """A number with the digits that were typed, its minus and its power of ten as we write them: 1.60e-19 as 1.60 × 10⁻¹⁹.

    None where a unit stands behind it, or it is no number.
    """
    match = _NUMBER.match(text)
    if match is None or match["unit"]:
        return None
    written = ("" if match["sign"] in ("", "+") else MINUS) + match["digits"]
    power = match["e"] or match["caret"] or (match["sup"] or "").translate(_SUPERSCRIPTS)
    return f"{written} × 10{power.replace('−', '-').removeprefix('+').translate(SUPERSCRIPTS)}" if power else written


def parse_written(text: str, unit: str = "") -> ParsedReading:
    """Parse a reading that may have its own ± written with it: ``5.9 ± 0.1``, ``5.9 +- 0.1 cm``, ``(5.9 ± 0.1) × 10^3``, ``5.9 ± 2 %``,
    ``5.90(12)``. Per cent are of the reading, but where it is in per cent itself.

    Raises
    ------
    CoreError
        As `parse_reading`; ``bad_number`` for a ± that is not above zero.
    """
    if len(text) <= LONGEST_READING and (concise := spell_concise(text)) is not None:
        text = concise
    match = OWN_U.match(text)
    if match is None:
        return parse_reading(text, unit)
    tail = match["tail"]
    if "%" not in match["value"] and not is_percent(parse_unit(unit)) and (share := read_share(match["u"] + tail)) is not None:
        number = parse_reading(match["value"], unit)
        return replace(number, u=_above_zero(abs(number.value) * share))
    value = (
        parse_reading(match["value"] + tail, unit) if not _ENDS_WITH_UNIT.search(match["value"]) else parse_reading(match["value"], unit)
    )
    return replace(value, u=_above_zero(parse_difference(match["u"] + tail, unit)))


def _above_zero(u: Decimal) -> Decimal:
    if u <= 0:
        raise CoreError("bad_number", "The ± of a reading is a number above zero.")
    return u


def parse_difference(text: str, unit: str = "") -> Decimal:
    """Parse a ± or another difference: as `parse_reading`, but on a scale like °C its zero is nothing (± 1 °C is ± 1 K).

    Raises
    ------
    CoreError
        As `parse_reading`.
    """
    text = spell_in_one(text, unit) or text
    number = parse_reading(text, unit)
    if not number.note:
        return number.value
    match = _NUMBER.match(text)
    assert match is not None and match["unit"]  # only a unit of its own is noted
    bare = parse_reading(text[: match.start("unit")])
    return bare.value * tidy(convert_difference(1.0, parse_unit(match["unit"]), parse_unit(unit)))


def split_unit(text: str) -> tuple[str, str]:
    """A number as it was typed, and the unit behind it: ``12.4 GPa``. The unit may be empty.

    Raises
    ------
    CoreError
        ``bad_number`` when the text does not begin with one number.
    """
    match = _NUMBER.match(text)
    if match is None or len(text) > LONGEST_READING:
        raise CoreError("bad_number", "“{text}” is not a number. Write digits, with one decimal sign, as in 2.50.", text=text.strip()[:40])
    unit = match["unit"] or ""
    return (text[: match.start("unit")] if unit else text).strip(), unit


def read_share(text: str) -> Decimal | None:
    """``5 %`` as 0.05; None for what is not in per cent.

    Raises
    ------
    CoreError
        As `parse_reading`.
    """
    match = _SHARE.match(text)
    return None if match is None else parse_reading(match[1]).value / 100


def is_percent(unit: Unit) -> bool:
    """Whether something is counted in per cent."""
    return any(name in ("%", "percent") for name, _ in unit.powers)


def tidy(factor: float) -> Decimal:
    """A factor between units as a decimal, without the noise of binary arithmetic: 0.3048, not 0.30479999999999996."""
    short = Decimal(f"{factor:.15g}")
    return short if math.isclose(short, factor, rel_tol=5e-16) else Decimal(repr(factor))


def _in_unit_of_column(value: Decimal, decimals: int, figures: int | None, given_unit: str, unit: str) -> ParsedReading:
    """Convert a reading that carries its own unit, keeping its figures honest.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit``.
    """
    try:
        given, column = parse_unit(given_unit), parse_unit(unit)
        zero, ratio = convert(0.0, given, column), convert_difference(1.0, given, column)
        if is_percent(given) and not (column.is_number or is_percent(column)):
            # degrees and turns are numbers too, and per cent of none of them
            raise CoreError("bad_unit", "Per cent are no angle.")
    except CoreError as trouble:
        where = f"in {unit}" if unit else "without a unit"
        raise CoreError("bad_unit", "This is {where}; “{given_unit}” does not fit it.", where=where, given_unit=given_unit) from trouble
    if given == column:
        return ParsedReading(value, decimals, figures)
    factor = tidy(ratio)
    new_decimals = max(0, decimals - factor.adjusted())
    parts = round(1 / ratio) if ratio < 1 else 1
    # a sixtieth is no decimal
    exact = (value / parts if parts > 1 and math.isclose(parts * ratio, 1, rel_tol=1e-12) else value * factor) + tidy(zero)
    note = f"{with_unit(str(value), given_unit)} = {with_unit(str(quantize(exact, -new_decimals)), unit)}"
    return ParsedReading(exact, new_decimals, figures, note=note)
