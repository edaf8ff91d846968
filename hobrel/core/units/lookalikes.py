"""Names that look like a unit and are another, or none: hz, pa, Mm, Pas. They are asked about rather than read as what nobody meant."""

from __future__ import annotations

from collections.abc import Sequence

_SYMBOLS = (
    "g kg mg µg Mg m km dm cm mm µm nm s ms µs ns min h d N mN kN MN J mJ kJ MJ W mW kW MW V mV kV MV A mA µA K mK "
    "C mC µC nC Pa hPa kPa MPa GPa mPa Hz mHz kHz MHz GHz mol mmol l L ml mL dl dL cl cL T mT µT F mF µF nF pF H mH "
    "S mS µS M mM µM nM rad mrad lx lm cd bar mbar atm eV keV MeV Wh kWh Bq kBq MBq Gy Sv mSv G mG D t u U mU Nm"
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
    """Whether a registry has a name only as a measure of some trade, or as a thousandth of a constant of nature.

    Parameters
    ----------
    name : str
    readings : sequence of (prefix, name, suffix)
        As what the registry reads it, the likeliest first.
    """
    return name in _OF_TRADES or any(prefix and root in _CONSTANTS for prefix, root, _ in readings[:1])


_OF_TRADES = frozenset("pk bu gi dr rd li cp Tj Ta Ne Tt BF Ly pp bp".split())
_CONSTANTS = frozenset(
    "boltzmann_constant molar_gas_constant speed_of_light planck_constant dirac_constant elementary_charge avogadro_constant "
    "avogadro_number faraday_constant pi eulers_number electron_mass proton_mass neutron_mass vacuum_permittivity vacuum_permeability "
    "stefan_boltzmann_constant newtonian_constant_of_gravitation rydberg_constant zeta tansec ln10".split()
)
_TWO_WAYS = {"Ns": ["N s", "ns"], "pct": ["%"], "mil": ["thou", "mrad"]}
JOINED = {f"{prefix}Nm": (f"{prefix}N", "m") for prefix in ("", "m", "µ", "k", "M")} | {"Ncm": ("N", "cm"), "Nmm": ("N", "mm")}
"""Torques, which are written close (common practice)."""
