"""Units as people write them in tables and on instruments, in the spelling that they are read in: m per s, N.m, kOhm, Kg, degrees C."""

from __future__ import annotations

import re

_WORDS = {
    "ohms": "ohm", "lux": "lux", "amps": "A", "volts": "V", "kelvin": "K", "kelvins": "K", "bpm": "1/min", "cpm": "1/min",
}  # fmt: skip
"""What is written with a capital as well (common practice); beats and counts are plain numbers, a minute."""
_BEGINS, _ENDS = r"(?<![^\W_])", r"(?![^\W_])"
_WORD = re.compile(_BEGINS + "(?:" + "|".join(_WORDS) + ")" + _ENDS, re.IGNORECASE)
_NAMES = (
    "met(?:re|er)s?|seconds?|secs?|minutes?|mins?|hours?|hrs?|grams?|lit(?:re|er)s?|newtons?|joules?|watts?|volts?|amp(?:ere)?s?|pascals?|hertz"
    "|coulombs?|farads?|henrys?|siemens|teslas?|webers?|moles?|radians?|degrees?|percent|turns?|counts?"
)
_NAME = re.compile(_BEGINS + "(?:kilo|mega|giga|milli|micro|nano|centi|deci|hecto)?(?:" + _NAMES + ")" + _ENDS, re.IGNORECASE)
_SHORT = {
    "kgs": "kg", "gm": "g", "gms": "g", "mgs": "mg", "cms": "cm", "mms": "mm", "kms": "km", "mls": "mL", "mtr": "m", "mtrs": "m",
    "ltr": "L", "ltrs": "L", "rads": "rad", "rev": "turn", "revs": "turn", "oC": "°C",
    "kmh": "km/h", "kmph": "km/h", "Torr": "torr",
}  # fmt: skip
"""What stands for a unit where no power follows: with one, kgs is kg s."""
_SHORTENED = re.compile(_BEGINS + "(" + "|".join(_SHORT) + r")(?![^\W_]|\s*(?:\^|\*\*)|[⁰¹²³⁴⁵⁶⁷⁸⁹⁻−-])")
_KILO = re.compile(_BEGINS + "K(?=(?:g|m|N|J|W|V|A|Pa|Hz|mol|[lL]|eV|Bq)" + _ENDS + ")")
_RING = re.compile(r"[º˚]")
_ON_SCALE = re.compile(r"°\s*K" + _ENDS)
_CELSIUS = "C|Cel[sc]ius|centigrade"
_DEGREES = re.compile(_BEGINS + rf"(?:degrees?|deg|°)[\s_]*(?:{_CELSIUS}){_ENDS}|{_BEGINS}Cel[sc]ius{_ENDS}", re.IGNORECASE)
_DEGREES_F = re.compile(_BEGINS + r"(?:degrees?|deg|°)[\s_]*(?:F|Fahrenheit)" + _ENDS, re.IGNORECASE)
_OHMS = re.compile(_BEGINS + r"([kKMGmµμ]?)Ohms?" + _ENDS)
_PER = re.compile(r"(?:^|(?<=\w)\s+)per\s+", re.IGNORECASE)
_POINT = re.compile(r"(?<=[^\W_])\s*\.\s*(?=[^\W\d_µμΩ]|[µμΩ°])")
_TRAILING_POINT = re.compile(r"(?<=[^\W\d_])\.$")


def spell_unit(text: str) -> str:
    """A unit in the spelling that `parse_unit` reads; a text that is none stays as it is, as far as nothing in it looks like one."""
    text = _ON_SCALE.sub("K", _RING.sub("°", text.strip()))
    text = _DEGREES_F.sub("°F", _DEGREES.sub("°C", text))
    text = _OHMS.sub(lambda m: f"{m[1].replace('K', 'k')}ohm", text)
    text = _WORD.sub(lambda m: _WORDS[m[0].lower()], text)
    text = _NAME.sub(lambda m: m[0].lower(), text)
    text = _KILO.sub("k", _SHORTENED.sub(lambda m: _SHORT[m[0]], text))
    text = _PER.sub("/", text)
    return _POINT.sub("·", _TRAILING_POINT.sub("", text))
