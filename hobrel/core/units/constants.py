"""Constants of nature by symbol, with their CODATA values (the edition that SciPy ships).

Conventional values that CODATA lists as exact have u = 0.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache

from hobrel.core.errors import CoreError

_NAMES = {
    "c": "speed of light in vacuum",
    "h": "Planck constant",
    "hbar": "reduced Planck constant",
    "e": "elementary charge",
    "k_B": "Boltzmann constant",
    "N_A": "Avogadro constant",
    "R": "molar gas constant",
    "F": "Faraday constant",
    "G": "Newtonian constant of gravitation",
    "g_n": "standard acceleration of gravity",
    "m_e": "electron mass",
    "m_p": "proton mass",
    "m_n": "neutron mass",
    "m_u": "atomic mass constant",
    "epsilon_0": "vacuum electric permittivity",
    "mu_0": "vacuum mag. permeability",
    "sigma": "Stefan-Boltzmann constant",
    "R_inf": "Rydberg constant",
    "a_0": "Bohr radius",
    "alpha": "fine-structure constant",
}


@dataclass(frozen=True)
class NaturalConstant:
    """A constant of nature: value and standard uncertainty in `unit` (CODATA's own spelling), and where it comes from."""

    symbol: str
    name: str
    value: float
    u: float
    unit: str
    source: str


def constant_symbols() -> tuple[str, ...]:
    """Symbols that `find_constant` knows."""
    return tuple(_NAMES)


@cache
def _edition() -> str:
    import scipy.constants as table

    year = next((y for y in ("2022", "2018", "2014") if f"CODATA {y}" in (table.__doc__ or "") or f"{y}" in (table.__doc__ or "")), "")
    return f"CODATA {year}".strip()


@lru_cache(maxsize=64)
def find_constant(symbol: str) -> NaturalConstant:
    """Look a constant up by its usual symbol.

    Raises
    ------
    CoreError
        ``bad_formula`` when the symbol is not one of `constant_symbols`.
    """
    name = _NAMES.get(symbol)
    if name is None:
        raise CoreError("bad_formula", "There is no constant of nature called {symbol} here.", symbol=symbol)
    from scipy.constants import physical_constants

    value, unit, u = physical_constants[name]
    return NaturalConstant(symbol=symbol, name=name, value=float(value), u=float(u), unit=unit, source=_edition())
