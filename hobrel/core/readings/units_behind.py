"""A unit that stands behind a name with no sign of its own: “time s”, “Time, s”, “temp_C”, “density g/cm3”, “Sound dB”."""

from __future__ import annotations

import re

from hobrel.core.errors import CoreError
from hobrel.core.units.calculus import parse_unit, same_dimension

_LENGTHS = (
    "length", "height", "distance", "depth", "width", "displacement", "position", "extension", "radius", "diameter", "thickness",
    "wavelength", "dist", "pos",
)  # fmt: skip
_USUAL_UNITS = {
    **dict.fromkeys(_LENGTHS, "m"), **dict.fromkeys(("time", "period", "duration"), "s"), **dict.fromkeys(("temperature", "temp"), "K"),
    **dict.fromkeys(("speed", "velocity", "vel"), "m/s"), **dict.fromkeys(("acceleration", "acc"), "m/s^2"),
    **dict.fromkeys(("voltage", "potential", "volt"), "V"), **dict.fromkeys(("energy", "work"), "J"),
    **dict.fromkeys(("frequency", "freq"), "Hz"), "angle": "rad", "area": "m^2", "charge": "C", "current": "A", "density": "kg/m^3",
    "force": "N", "mass": "kg", "momentum": "kg m/s", "power": "W", "pressure": "Pa", "resistance": "ohm", "volume": "m^3",
}  # fmt: skip
"""A unit of each kind of quantity that is usually called so (common practice)."""
_USUAL_LETTERS = {
    **dict.fromkeys("Llhxyd", ("m",)), "t": ("s",), "T": ("s", "K"), "m": ("kg",), "I": ("A",), "F": ("N",), "f": ("Hz",), "R": ("ohm",),
}  # fmt: skip
_MISTAKEN = {
    "C": ("°C", ("temp",)), "F": ("°F", ("temp",)), "S": ("s", ("time", "period", "duration")), "M": ("m", _LENGTHS),
    "G": ("g", ("mass", "weight")),
}  # fmt: skip
"""Units that are written with another letter than is meant, in the heading of something that is never measured in them."""
_UNMISTAKABLE = frozenset(
    (
        "mm cm km nm µm um kg mg µg ml mL ms µs kHz Hz MHz Pa kPa hPa mbar mV mA µA kV kΩ Ω ohm ohms lux lx ppm ppb dB % ° °C degC mmol "
        "rpm bpm kJ eV keV MeV mT µT kN mN"
    ).split()
)
"""Units that are no words and no symbols; what begins with one is none either: mL/min, cm3."""
_OF_TWO_LETTERS = _UNMISTAKABLE | frozenset(
    "hr yr ns ps us in ft dm gm ug Kg cc cl dl Nm Wh mJ MJ mW kW MW nC pC µC mC nA uA kA µV MV nN MN °F".split()
)
"""Two letters may be a symbol (t_s, mass of Pt): these are not."""
_OPEN_WORDS = frozenset(("in", "of", "per", "the", "for", "to", "at", "and", "from"))
"""Words behind which something of the name is still to come."""
_PARTS = re.compile(r"[\s_]+")
_SIGN = re.compile(r"\s*,\s*|[\s_]+")
_FIRST_UNIT = re.compile(r"[^\s/·.^\d⁻⁰¹²³⁴-⁹-]+")
_EXPRESSION = re.compile(r"[/^*()=√²³]")


def find_meant_unit(name: str, unit: str) -> str:
    """The unit that somebody means who calls a quantity so: °C for a temperature in coulombs, s for a time in siemens; else as it is."""
    meant, words = _MISTAKEN.get(unit, ("", ()))
    return meant if any(word in name.lower() for word in words) else unit


def find_unit_behind(text: str) -> tuple[str, str] | None:
    """Name and unit, where what stands last in a heading is a unit by all that is known: one of those in which what is called so is
    measured, or one that is no word and no symbol; None where it may be either.
    """
    # the longest first: kg m-3 is one unit
    for place in _SIGN.finditer(text):
        name, written = text[: place.start()], text[place.end() :]
        unit = find_meant_unit(name, written)
        if text.isupper() and not is_unit(unit):
            unit = written.lower()
        if name and _is_behind(name, place[0].strip(), unit):
            return name, unit
    return None


def _is_behind(name: str, sign: str, unit: str) -> bool:
    words = _PARTS.split(name.lower().replace(",", " "))
    if words[-1] in _OPEN_WORDS or not name[-1].isalnum() or _EXPRESSION.search(name) or not is_unit(unit):
        return False
    match = _FIRST_UNIT.match(unit)
    first = match[0].replace("\u03bc", "\u00b5") if match else ""
    kinds = [_USUAL_UNITS[word] for word in words if word in _USUAL_UNITS]
    if not kinds:
        # t_s is a letter with an index
        letters = () if sign == "_" else _USUAL_LETTERS.get(name, ())
        return first in _UNMISTAKABLE or any(_goes_with(unit, usual) for usual in letters)
    # a “voltage V” may be in anything
    is_known = len(first) != 2 or first in _OF_TWO_LETTERS
    return is_known and _goes_with(unit, kinds[-1]) and first != "\u00b5" and (sign != "" or unit != "V")


def _goes_with(unit: str, other: str) -> bool:
    return same_dimension(parse_unit(unit), parse_unit(other))


def is_unit(text: str) -> bool:
    """Whether a text is a unit as it stands."""
    try:
        parse_unit(text)
    except CoreError:
        return False
    return True
