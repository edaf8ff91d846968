"""Names that look like a unit and are another, or none: hz, pa, Mm, Pas. They are asked about rather than read as what nobody meant."""

from __future__ import annotations

from collections.abc import Sequence

_SYMBOLS = (
    "g kg mg µg Mg m km dm cm mm µm nm s ms µs ns min h d N mN kN MN J mJ kJ MJ W mW kW MW V mV kV MV A mA µA K mK "
    "C mC µC nC Pa hPa kPa MPa GPa mPa Hz mHz kHz MHz GHz mol mmol l L ml mL dl dL cl cL T mT µT F mF µF nF pF H mH "
    "S mS µS M mM µM nM rad mrad lx lm cd bar mbar atm rpm eV keV MeV Wh kWh Bq kBq MBq Gy Sv mSv G mG D t u U mU Nm"
).split()
_KNOWN = frozenset(_SYMBOLS)
_BY_LETTERS: dict[str, list[str]] = {}
for _symbol in _SYMBOLS:
    _BY_LETTERS.setdefault(_symbol.casefold(), []).append(_symbol)
_PLURAL = frozenset({"Pa", "hPa", "kPa", "mPa", "eV", "keV", "MeV", "Hz", "kHz"})
"""Symbols of more than one letter, behind which an s is a second (common practice: a symbol has no plural)."""


def find_meant(name: str) -> list[str]:
    """What a name is likely to mean where it is no symbol as it stands; empty where it is one, or like none."""
    if name in _KNOWN:
        return []
    if name in _TWO_WAYS:
        return _TWO_WAYS[name]
    if name[-1:] == "s" and name[:-1] in _PLURAL:
        return [f"{name[:-1]} s"]
    return _BY_LETTERS.get(name.casefold(), [])


def is_no_unit(name: str, readings: Sequence[tuple[str, str, str]]) -> bool:
    """Whether a registry has a name only as a word, a measure of some trade, or what nobody takes a thousandth or a million of: units are
    no micronits to a student, and pins no billionths of an inch.

    Parameters
    ----------
    name : str
    readings : sequence of (prefix, name, suffix)
        As what the registry reads it, the likeliest first.
    """
    return name in _WORDS or any(prefix and not _is_taken(prefix, root) for prefix, root, _ in readings[:1])


def _is_taken(prefix: str, root: str) -> bool:
    if root in ("byte", "bit"):
        return True
    return (root in _PREFIXED and prefix in _PREFIXES) or (root in _LARGE and prefix in ("kilo", "mega", "giga"))


_WORDS = frozenset(
    "pk bu gi dr rd li cp Tj Ta Ne Tt BF Ly pp bp "
    "alpha alphas gamma gammas lambda lambdas sigma zeta gravity mass has point hand hands chain chains link links pole poles perch "
    "peck pecks fifth fifths quarter quarters shot shots section sections shake shakes blob blobs jig jigs bag bags fur furs den dens "
    "candle candles pica toe toes quad quads scruple scruples grades rod rods".split()
)
_PREFIXED = frozenset(
    "meter gram second ampere kelvin mole candela radian degree steradian hertz newton pascal joule watt coulomb volt farad ohm siemens "
    "weber tesla henry lumen lux becquerel gray sievert katal liter bar electron_volt molar watt_hour ampere_hour volt_ampere calorie "
    "gauss maxwell oersted galileo curie roentgen rem poise stokes dyne erg torr dalton count counts_per_second revolutions_per_minute "
    "pixel css_pixel meter_Hg enzyme_unit debye pound_force_per_square_inch degree_Celsius".split()
)
"""Units that are taken with prefixes (BIPM, SI brochure, 9th edition, tables 2, 4 and 8; the rest is common practice)."""
_LARGE = frozenset({"year", "metric_ton", "ton", "parsec"})
_PREFIXES = frozenset("exa peta tera giga mega kilo hecto deca deci centi milli micro nano pico femto atto zepto yocto zetta yotta".split())
_TWO_WAYS = {"Ns": ["N s", "ns"], "pct": ["%"], "mil": ["thou", "mrad"], "fps": ["ft/s", "1/s"], "ppt": ["‰"], "mb": ["mbar"]}
_COUNTED = "What is counted"
WITHOUT_UNIT = {
    "pH": "A pH", "absorbance": "An absorbance", "Absorbance": "An absorbance", "Abs": "An absorbance", "abs": "An absorbance",
    "OD": "An optical density", "unit": _COUNTED, "units": _COUNTED, "cells": _COUNTED, "divisions": _COUNTED, "steps": _COUNTED,
    "points": _COUNTED, "items": _COUNTED, "pieces": _COUNTED, "bubbles": _COUNTED, "seeds": _COUNTED, "number": _COUNTED,
}  # fmt: skip
"""What stands where a unit should, and is a number as it stands."""
_OHMS = {
    f"{prefix}{ohm}{length}": (f"{prefix}ohm", length)
    for prefix in ("", "m", "µ", "k", "M")
    for ohm in ("ohm", "\u03a9", "\u2126")
    for length in ("m", "cm", "mm")
}
JOINED = {
    **{f"{prefix}Nm": (f"{prefix}N", "m") for prefix in ("", "m", "µ", "k", "M")}, "Ncm": ("N", "cm"), "Nmm": ("N", "mm"), **_OHMS,
}  # fmt: skip
"""Torques and resistivities, which are written close (common practice)."""
