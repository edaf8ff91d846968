"""Names that look like a unit and are another, or none: hz, pa, Mm, Pas. They are asked about rather than read as what nobody meant."""

from __future__ import annotations

_SYMBOLS = (
    "g kg mg µg Mg m km dm cm mm µm nm s ms µs ns min h d N mN kN MN J mJ kJ MJ W mW kW MW V mV kV MV A mA µA K mK "
    "C mC µC nC Pa hPa kPa MPa GPa mPa Hz mHz kHz MHz GHz mol mmol l L ml mL dl dL cl cL T mT µT F mF µF nF pF H mH "
    "S mS µS M mM µM nM rad mrad lx lm cd bar mbar atm eV keV MeV Wh kWh Bq kBq MBq Gy Sv mSv G mG D t u Nm"
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


_TWO_WAYS = {"Ns": ["N s", "ns"]}
JOINED = {f"{prefix}Nm": (f"{prefix}N", "m") for prefix in ("", "m", "µ", "k", "M")} | {"Ncm": ("N", "cm"), "Nmm": ("N", "mm")}
"""Torques, which are written close (common practice)."""
