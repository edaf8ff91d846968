"""Units and ± as they stand in headings: “x (cm) ± 0.1 cm”, “m / 10⁻³ kg”, “T (°C) – cup A”; and the name without them."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from hobrel.core.formulas.tree import FUNCTIONS, OF_NUMBERS
from hobrel.core.readings.converting import convert_written_u
from hobrel.core.readings.units_behind import find_unit_behind, is_unit
from hobrel.core.units.calculus import Unit, convert_difference, keep_unit, parse_unit, same_dimension

LONGEST_HEADING = 120
"""A longer one is a text, in which nothing is looked for: what looks for units tries each place of it against each other."""
_BRACKETS = re.compile(r"^(?P<name>.*?)\s*[(\[]\s*(?P<unit>[^()\[\]]+?)\s*[)\]]\s*$")
_APART = re.compile(r"^(?P<name>(?:(?!\s/\s).)+?)\s+/\s+(?P<unit>(?:(?!\s/\s).)+)$")
"""A solidus that stands apart, and is the only one that does: 1/T / K-1."""
_INVERSE = re.compile(r"^(?P<name>1\s*/\s*[^/\s]+)\s*/\s*(?P<unit>[^/]+(?:/[^/]+)?)$")
_SOLIDUS = re.compile(r"^(?P<name>.*?)\s*/\s*(?P<unit>[^/]+(?:/[^/]+)?)$")
_IN = re.compile(r"^(?P<name>.+?)\s+in\s+(?P<unit>\S.*)$")
_TIMES = re.compile(r"^(?P<name>.+?)\s*(?P<unit>[×x*]\s*10\s*[\^⁻¹²³⁴⁵⁶⁷⁸⁹−–-].*)$")
_MIDDLE = re.compile(r"^(?P<name>[^()\[\]]*\S)\s*[(\[]\s*(?P<unit>[^()\[\]]+?)\s*[)\]]\s*[–:,-]?\s*(?P<rest>[^\W_][^()\[\]/=^*²³±]*)$")
_CONSTANT_U = re.compile(
    r"^(?P<name>.*?[^\s(\[,;])\s*[,;(\[]*\s*(?:±|\+/[-−])\s*(?P<u>\d{1,6}(?:[.,]\d{1,6})?)\s*(?P<percent>%?)\s*[/(\[]?\s*(?P<unit>[^\d()\[\]]*?)\s*[)\]]?$"
)
_POWER = re.compile(r"^[×x*]?\s*10\s*(?:\^|\*\*)?\s*\(?(?P<power>[-−–⁻]?[\d⁰¹²³⁴⁵⁶⁷⁸⁹]{1,2})\)?\s*(?P<unit>[^\W\d].*)$")
_OF_MASS = re.compile(r"mass|load|weigh|(?<![^\W_])[mM]$", re.IGNORECASE)
_COUNTED = frozenset("counts beats drops clicks pulses bubbles turns swings breaths".split())
"""What is counted over a time: counts/min are no counts in minutes."""
_PLAIN = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻−–", "0123456789---")
_PREFIXES = ("", "p", "n", "µ", "m", "c", "d", "k", "M", "G")


@dataclass(frozen=True)
class SplitHeading:
    """A heading without its unit, the unit, and the ± that it gives all readings: in that unit, or a share such as “5%”. Each empty for
    none.
    """

    name: str
    unit: str
    u: str


def split_heading(text: str) -> SplitHeading:
    """Name, unit and ± of a heading such as “t (s)”, “T / s”, “length [cm] ± 0.1”; what is no unit is part of the name."""
    text = text.strip()
    if len(text) > LONGEST_HEADING:
        return SplitHeading(text, "", "")
    match = _CONSTANT_U.match(text)
    if match:
        found, own = _split_unit(_closed(match["name"])), match["unit"].strip()
        percent = "" if "%" in (own, found[1]) else match["percent"]
        if not own or (is_unit(own) and not found[1]):
            return SplitHeading(found[0], found[1] or own, match["u"].replace(",", ".") + percent)
        if found[1] and is_unit(own) and same_dimension(parse_unit(own), parse_unit(found[1])):
            return SplitHeading(*found, convert_written_u(match["u"], own, found[1]))
    return SplitHeading(*_split_unit(text), "")


def _closed(name: str) -> str:
    """“Length (cm” of “Length (cm ± 0.1)”."""
    return f"{name})" if name.count("(") > name.count(")") else f"{name}]" if name.count("[") > name.count("]") else name


def _split_unit(text: str) -> tuple[str, str]:
    if not _BRACKETS.match(text) and (behind := find_unit_behind(text)) is not None:
        return behind[0], keep_unit(behind[1])
    for pattern in (_BRACKETS, _APART, _INVERSE, _SOLIDUS, _IN, _TIMES):
        match = pattern.match(text)
        if match and _is_name(match["name"], match["unit"], text) and not (pattern is _IN and match["unit"][0].isdecimal()):
            unit = _read_unit(match["unit"].strip("()"))
            if unit and match["name"].lower() in _COUNTED and "/" in text and same_dimension(parse_unit(unit), parse_unit("s")):
                unit = f"1/{unit}"
            if unit:
                return match["name"].rstrip("/ ").strip(), unit
    match = _MIDDLE.match(text)
    if match and _is_name(match["name"], match["unit"], text) and (unit := _read_unit(match["unit"])):
        return f"{match['name']} {match['rest']}".strip(), unit
    return text, ""


def _is_name(name: str, unit: str, heading: str) -> bool:
    """ln(N) is no ln in newtons, N(t) none in tonnes, the 1 of 1/T no name, and no more is the ln(k of ln(k / s-1); but a rate (s-1) is."""
    if name in ("", "1", *OF_NUMBERS) or name.count("(") != name.count(")"):
        return False
    is_of_a_time = heading == f"{name}(t)" and not _OF_MASS.search(name)
    return not is_of_a_time and not (name in FUNCTIONS and len(unit) == 1)


def _read_unit(text: str) -> str:
    """The unit as it was written, or as we spell it; that with a prefix which stands for it and a power of ten; empty for what is none."""
    match = _POWER.match(text)
    if match is None:
        return keep_unit(text) if is_unit(text) else ""
    plain, factor = match["unit"].strip(), 10.0 ** int(match["power"].translate(_PLAIN))
    if not is_unit(plain):
        return ""
    for unit in (f"{prefix}{stem}" for stem in (plain, plain[1:]) for prefix in _PREFIXES):
        if unit and is_unit(unit) and same_dimension(known := parse_unit(unit), parse_unit(plain)) and _is_so_many(known, plain, factor):
            return unit
    return ""


def _is_so_many(unit: Unit, plain: str, factor: float) -> bool:
    return math.isclose(convert_difference(1.0, unit, parse_unit(plain)), factor, rel_tol=1e-12)
