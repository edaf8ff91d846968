"""Units by quantity calculus: parsed once, multiplied and compared as small immutable objects.

pint knows what the units are; this module keeps the arithmetic of exponents out of the inner loops.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, cached_property, lru_cache
from typing import Any, NoReturn

from hobrel.core.errors import CoreError
from hobrel.core.units.lookalikes import JOINED, WITHOUT_UNIT, find_meant, is_no_unit
from hobrel.core.units.spelling import spell_unit

_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")
_TO_SUPERSCRIPTS = str.maketrans("0123456789-/", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻ᐟ")
_OFFSET_UNITS = {"°C", "°F"}
_SPELLING = {
    "degC": "°C", "celsius": "°C", "degF": "°F", "fahrenheit": "°F", "%": "percent", "°": "deg",
    "\u03bc": "µ", "\u03a9": "ohm", "\u2126": "ohm", "\u00c5": "angstrom", "\u212b": "angstrom", "‰": "permille",
}  # fmt: skip
_OF_ANOTHER_SYSTEM = {
    "gauss": ("G", "1e-4 tesla"), "maxwell": ("Mx", "1e-8 weber"), "oersted": ("Oe", f"{1e3 / (4 * math.pi)} ampere/meter"),
}  # fmt: skip
"""What the registry has in a system where a current is made of forces (BIPM, The International System of Units, 8th edition, table 9)."""
_OURS = {
    **{each: value for name, (symbol, value) in _OF_ANOTHER_SYSTEM.items() for each in (name, symbol)},
    **dict.fromkeys(("dB", "decibel", "decibels", "dBA", "dBm", "dBu", "Np", "neper", "nepers", "oct", "octave", "octaves"), "1"),
    **dict.fromkeys(("D", "dpt", "dioptre", "dioptres", "diopter", "diopters"), "1/meter"),
    "ppb": "1e-9", "px": "1 pixel", "nM": "1e-6 mol/meter**3", "mcd": "1e-3 candela", "dpi": "1/inch", "dpm": "1/minute",
    "R": "1 roentgen", "mR": "1e-3 roentgen", "µR": "1e-6 roentgen", "U": "1 enzyme_unit",
}  # fmt: skip
"""What the registry has otherwise: levels, which are numbers as they stand and no powers of ten; a pint of dry goods; pixels, which are as
long as their picture says; millicandelas, which were a millionth of a day; the constant of gases, which is no unit."""
LONGEST_UNIT = 80


@dataclass(frozen=True)
class Unit:
    """A product of powers of named units, in the order in which they were written.

    Attributes
    ----------
    powers : tuple of (str, Fraction)
        Short names with their exponents; empty for a pure number.
    """

    powers: tuple[tuple[str, Fraction], ...] = ()

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def _hash(self) -> int:
        # units are looked up more often than anything else, and a fraction works its hash out by a power each time
        return hash(self.powers)

    def __reduce__(self) -> tuple[type[Unit], tuple[object, ...]]:
        # another process has other hashes
        return Unit, (self.powers,)

    @property
    def is_number(self) -> bool:
        """True for a pure number."""
        return not self.powers

    @property
    def is_offset(self) -> bool:
        """True for a temperature scale whose zero is not absolute zero."""
        return len(self.powers) == 1 and self.powers[0][0] in _OFFSET_UNITS and self.powers[0][1] == 1


NUMBER = Unit()
KELVIN = Unit((("K", Fraction(1)),))


@cache
def _registry() -> Any:
    import pint

    registry: Any = pint.UnitRegistry(autoconvert_offset_to_baseunit=True, cache_folder=None, on_redefinition="ignore")
    registry.define("drop = count")
    for name, (symbol, value) in _OF_ANOTHER_SYSTEM.items():
        # for their thousandths; the names themselves the registry has worked out before
        registry.define(f"{name} = {value} = {symbol}")
    return registry


@lru_cache(maxsize=4096)
def _known(name: str) -> tuple[float, tuple[tuple[str, Fraction], ...]]:
    """Factor to base units and dimension of one named unit.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    if name in _OFFSET_UNITS:
        return (1.0 if name == "°C" else 5 / 9), (("[temperature]", Fraction(1)),)
    registry = _registry()
    try:
        own = _OURS.get(name)
        if own is None and is_no_unit(name, registry.parse_unit_name(name)):
            raise CoreError("bad_unit", "“{name}” is not a unit that is known here.", name=name)
        quantity = (registry.Quantity(1, registry.parse_units(name)) if own is None else registry.Quantity(own)).to_base_units()
    except Exception as trouble:  # pint raises many kinds on unknown text; each means the same to the reader
        raise CoreError("bad_unit", "“{name}” is not a unit that is known here.", name=name) from trouble
    dimension = tuple(sorted((str(k), Fraction(v).limit_denominator(100)) for k, v in quantity.dimensionality.items()))
    return float(quantity.magnitude), dimension


_ARBITRARY = re.compile(r"a\.\s?u\.?|arb(?:itrary|\.)?(?:\s*(?:units?|u\.?))?", re.IGNORECASE)
"""But for AU, which is an absorbance, and au, which is astronomical."""
_OF_A_CLOCK = re.compile(r"(?:h+:)?m+(?:in)?:s+(?:ec)?(?:[.,:]\w+)?", re.IGNORECASE)
_OF_WATER = re.compile(r"(?:[cm]?m|in)\s?H[2₂]O")
"""A gauge of two arms is read so. Water of 1 kg/L under standard gravity, 9.80665 m/s² (CODATA)."""


@lru_cache(maxsize=4096)
def parse_unit(text: str) -> Unit:
    """Parse ``m``, ``m/s^2``, ``kg m s⁻²``, ``s²/m³``, ``g/cm3``, ``m s-1``, ``°C`` or an empty text (a pure number).

    ``ms-1`` is refused: most mean m/s by it, and it reads as one over milliseconds.

    Raises
    ------
    CoreError
        ``bad_unit`` when a part is not known or the text cannot be read.
    """
    text = text.strip()
    if text in ("", "1"):
        return NUMBER
    if len(text) > LONGEST_UNIT:
        raise CoreError("bad_unit", "This is too long for a unit.")
    if _ARBITRARY.fullmatch(text):
        raise CoreError("bad_unit", "{what} is a number without a unit: leave that blank.", what="A reading in arbitrary units")
    if _OF_A_CLOCK.fullmatch(text):
        raise CoreError("bad_unit", "Write s or min here, and a time such as 1:23 as 1 min 23 s.")
    if _OF_WATER.search(text):
        raise CoreError("bad_unit", "Heights of water are no unit here: write Pa, mbar or mmHg. 1 cm of water is 98.0665 Pa.")
    text = spell_unit(text)
    unit, sign, position = NUMBER, 1, 0
    token = re.compile(
        r"\s*(?:(?P<op>[/·*⋅()])|(?P<name>°[CF]|[A-Za-z\u00b5\u03bc\u03a9\u2126\u00c5\u212b°%‰_]+)(?:\s*(?:\^|\*\*)\s*\(?(?P<power>[-−]?\d+(?:/\d+)?)\)?|(?P<sup>[⁰¹²³⁴⁵⁶⁷⁸⁹⁻]+)|(?P<plain>[-−]?[1-9](?!\d)))?|(?P<one>1))"
    )
    inside = False
    while position < len(text):
        match = token.match(text, position)
        if match is None:
            raise CoreError("bad_unit", "“{text}” cannot be read as a unit from “{rest}” on.", text=text, rest=text[position:])
        position = match.end()
        if match["op"] == "/":
            sign = -1
        elif match["op"] == "(":
            inside = True
        elif match["op"] == ")":
            inside, sign = False, 1
        elif match["name"]:
            name = match["name"]
            for spelled, ours in _SPELLING.items():
                name = ours if name == spelled else name.replace(spelled, ours) if spelled in "\u03bc\u03a9\u2126" else name
            parts = JOINED.get(name, (name,))
            if len(parts) == 1:
                _check_name(name, sign < 0 and not inside)
            written = (match["power"] or match["plain"] or (match["sup"] or "").translate(_SUPERSCRIPTS) or "1").replace("−", "-")
            if not any(letter.isdigit() for letter in written):
                raise CoreError("bad_unit", "“{text}” cannot be read as a unit: a sign stands where a power should.", text=text)
            power = Fraction(written)
            if name == "ms" and match["plain"] and power < 0:
                refuse_per_ms(match[0].strip(), -power)
            if len(parts) > 1 and power != 1:
                own = match[0].strip().removeprefix(name)
                raise CoreError(
                    "bad_unit", "“{text}” can be {first} or {second}. Write which.", text=match[0].strip(),
                    first=f"{parts[0]} {parts[1]}{own}", second=f"({parts[0]} {parts[1]}){own}",
                )  # fmt: skip
            unit = Unit(_merge(unit.powers, tuple((part, power * sign) for part in parts)))
            if not inside:
                sign = 1
    return unit


def refuse_per_ms(text: str, power: Fraction) -> NoReturn:
    """Ask about metres and seconds that are written close, which read as one over a power of milliseconds.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    over = str(power).translate(_TO_SUPERSCRIPTS) if power > 1 else ""
    raise CoreError("bad_unit", "“{text}” can be m/s{over} or 1/ms{over}. Write which.", text=text, over=over)


@lru_cache(maxsize=4096)
def keep_unit(text: str) -> str:
    """A unit as a lab book keeps it: as it was typed, but as we write it where that is only spelled otherwise (Kg, degrees C, Nm); beats a
    minute are called so. What is no unit stays as it is.
    """
    typed = text.strip()
    if spell_unit(typed) in (typed, "1/min") and typed not in JOINED:
        return typed
    try:
        return write_unit(parse_unit(typed))
    except CoreError:
        return typed


_OFTEN_JOINED = ("kg", "g", "m", "cm", "mm", "dm", "km", "s", "ms", "mol", "K", "J", "kJ", "N", "W", "kW", "V", "A", "C", "Pa", "rad")
"""Units that tables print close to one another: kgm⁻³."""
_MOST_JOINED = 4


def _check_name(name: str, is_divided: bool) -> None:
    """Refuse a name that is no unit, or is not likely to be the one that it reads as.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    if name in WITHOUT_UNIT:
        raise CoreError("bad_unit", "{what} is a number without a unit: leave that blank.", what=WITHOUT_UNIT[name])
    meant = find_meant(name)
    if meant:
        raise CoreError("bad_unit", "“{name}” is not a unit that is known here. Is it {meant}?", name=name, meant=" or ".join(meant))
    try:
        _known(name)
    except CoreError as trouble:
        raise _say_parts(name, is_divided) or trouble from None


def _say_parts(name: str, is_divided: bool) -> CoreError | None:
    """What is said of a name that is several units without a space between them; None where it is not."""
    ways = [" ".join(way) for way in _split(name)]
    if not ways:
        return None
    meant = " or ".join(f"({way})" if is_divided else way for way in ways)
    return CoreError("bad_unit", "“{name}” is not a unit that is known here. Is it {meant}, with a space between?", name=name, meant=meant)


def _split(name: str, most: int = _MOST_JOINED) -> list[tuple[str, ...]]:
    if not name:
        return [()]
    return [(part, *rest) for part in _OFTEN_JOINED if most and name.startswith(part) for rest in _split(name[len(part) :], most - 1)]


def _merge(a: tuple[tuple[str, Fraction], ...], b: tuple[tuple[str, Fraction], ...]) -> tuple[tuple[str, Fraction], ...]:
    powers = dict(a)
    for name, power in b:
        powers[name] = powers.get(name, Fraction(0)) + power
    return tuple((name, power) for name, power in powers.items() if power != 0)


@lru_cache(maxsize=4096)
def factor_to_base(unit: Unit) -> float:
    """How many coherent SI units one of this unit is (differences of temperature for °C)."""
    factor = 1.0
    for name, power in unit.powers:
        factor *= _known(name)[0] ** float(power)
    return factor


@lru_cache(maxsize=4096)
def dimension_of(unit: Unit) -> tuple[tuple[str, Fraction], ...]:
    """Dimension as sorted powers of the base dimensions."""
    total: dict[str, Fraction] = {}
    for name, power in unit.powers:
        for base, exponent in _known(name)[1]:
            total[base] = total.get(base, Fraction(0)) + exponent * power
    return tuple(sorted((base, power) for base, power in total.items() if power != 0))


def same_dimension(a: Unit, b: Unit) -> bool:
    """Whether one can be converted to the other."""
    return dimension_of(a) == dimension_of(b)


@lru_cache(maxsize=4096)
def multiply_units(a: Unit, b: Unit) -> tuple[Unit, float]:
    """Product of two units, with units of one dimension brought together.

    Returns
    -------
    unit, factor
        One a·b is `factor` of `unit`: m·mm gives m² and 0.001.
    """
    powers, factor = dict(a.powers), 1.0
    for name, power in b.powers:
        target = name
        if name not in powers:
            for known in powers:
                if _known(known)[1] == _known(name)[1]:
                    target = known
                    factor *= (_known(name)[0] / _known(known)[0]) ** float(power)
                    break
        powers[target] = powers.get(target, Fraction(0)) + power
    return Unit(tuple((n, p) for n, p in powers.items() if p != 0)), factor


@lru_cache(maxsize=4096)
def raise_unit(unit: Unit, power: Fraction) -> Unit:
    """A power of a unit."""
    return Unit(tuple((name, exponent * power) for name, exponent in unit.powers if exponent * power != 0))


def convert(value: float, source: Unit, target: Unit) -> float:
    """Convert a value; temperature scales with their offset.

    Raises
    ------
    CoreError
        ``bad_unit`` when the two differ in dimension.
    """
    if not same_dimension(source, target):
        raise CoreError(
            "bad_unit",
            "{source} cannot be converted to {target}.",
            source=write_unit(source) or "a pure number",
            target=write_unit(target) or "a pure number",
        )
    if source == target:
        return value
    return (value * factor_to_base(source) + _offset(source) - _offset(target)) / factor_to_base(target)


def convert_difference(value: float, source: Unit, target: Unit) -> float:
    """Convert a difference or an uncertainty: no offset."""
    convert(0.0, source, target)
    return value * factor_to_base(source) / factor_to_base(target)


def _offset(unit: Unit) -> float:
    if not unit.is_offset:
        return 0.0
    return 273.15 if unit.powers[0][0] == "°C" else 459.67 * 5 / 9


_SHOWN = {"percent": "%", "deg": "°"}


@lru_cache(maxsize=4096)
def tidy_unit(text: str) -> str:
    """A unit that was typed, as `write_unit` writes it (m/s^2 as m/s²); one that is not known stays as it is."""
    try:
        return write_unit(parse_unit(text))
    except CoreError:
        return text


def write_unit(unit: Unit) -> str:
    """Write a unit for people: ``s²/m³``, ``kg m/s²``, ``K⁻¹``; upright, with real superscripts."""

    def part(name: str, power: Fraction) -> str:
        shown = name.removesuffix("ohm") + "Ω" if name.endswith("ohm") else _SHOWN.get(name, name)
        if power == 1:
            return shown
        if power == Fraction(1, 2):
            return f"√{shown}"
        if power.denominator == 1:
            return shown + str(power.numerator).translate(_TO_SUPERSCRIPTS)
        return f"{shown}^({power})"

    above = [part(n, p) for n, p in unit.powers if p > 0]
    below = [part(n, -p) for n, p in unit.powers if p < 0]
    if not below:
        return " ".join(above)
    if not above:
        # “0.70 1/h” is read wrongly; 0.70 h⁻¹ is not
        return " ".join(part(n, p) for n, p in unit.powers)
    under = " ".join(below) if len(below) == 1 else "(" + " ".join(below) + ")"
    return f"{' '.join(above)}/{under}"


def short_form(unit: Unit) -> str:
    """A unit as pint writes it in short: ``m / s ** 2``; empty for a pure number."""
    product = _registry().Unit("")
    for name, power in unit.powers:
        product *= _registry().Unit(name) ** (int(power) if power.denominator == 1 else float(power))
    return f"{product:~}"
