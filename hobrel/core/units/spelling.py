"""Units as people write them in tables and on instruments, in the spelling that they are read in: m per s, N.m, kOhm, degrees C, 10⁻³ m."""

from __future__ import annotations

import re

_WORDS = {
    "ohms": "ohm", "lux": "lux", "amps": "A", "volts": "V", "kelvin": "K", "kelvins": "K", "bpm": "1/min", "cpm": "1/min",
}  # fmt: skip
"""What is written with a capital as well (common practice); beats and counts are plain numbers, a minute."""
_WORD = re.compile(r"(?<![^\W_])(?:" + "|".join(_WORDS) + r")(?![^\W_])", re.IGNORECASE)
_DEGREES = re.compile(r"(?<![^\W_])(?:degrees?|deg|°)[\s_]*(?:C|Celsius|centigrade)(?![^\W_])|(?<![^\W_])Celsius(?![^\W_])", re.IGNORECASE)
_DEGREES_F = re.compile(r"(?<![^\W_])(?:degrees?|deg|°)[\s_]*(?:F|Fahrenheit)(?![^\W_])", re.IGNORECASE)
_OHMS = re.compile(r"(?<![^\W_])([kKMGmµμ]?)Ohms?(?![^\W_])")
_PER = re.compile(r"(?:^|(?<=\w)\s+)per\s+", re.IGNORECASE)
_POINT = re.compile(r"(?<=[^\W_])\s*\.\s*(?=[^\W\d_µμΩ]|[µμΩ°])")
_TRAILING_POINT = re.compile(r"(?<=[^\W\d_])\.$")


def spell_unit(text: str) -> str:
    """A unit in the spelling that `parse_unit` reads; a text that is none stays as it is, as far as nothing in it looks like one."""
    text = _DEGREES_F.sub("°F", _DEGREES.sub("°C", text.strip()))
    text = _OHMS.sub(lambda m: f"{m[1].replace('K', 'k')}ohm", text)
    text = _WORD.sub(lambda m: _WORDS[m[0].lower()], text)
    text = _PER.sub("/", text)
    return _POINT.sub("·", _TRAILING_POINT.sub("", text))
