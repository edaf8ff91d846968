"""How well a solution of common salt conducts, by how much is in it and how warm it is."""

from __future__ import annotations

import math

MOLAR_MASS = 58.443
"""Of sodium chloride, in g/mol (standard atomic weights, 22.990 + 35.453)."""
LIMITING = 126.45
"""Molar conductivity of sodium chloride at infinite dilution and 25 °C, in S cm²/mol (handbook, from memory)."""
SLOWED_BY_IONS, SLOWED_BY_DRAG, CLOSENESS = 0.2300, 60.65, 1.3144
"""Of a salt of single charges in water at 25 °C: relaxation and electrophoresis (Onsager), in L^½/mol^½ and S cm² L^½/mol^{3/2}; and
the distance of closest approach by that of the ion cloud, in L^½/mol^½ (4 Å; Robinson and Stokes, Electrolyte Solutions, ch. 7, from
memory)."""
PER_KELVIN = 0.0202
"""By how much of its value at 25 °C a salt solution conducts better when it is a kelvin warmer (common practice: 2 % per kelvin)."""
WATER = 0.0018
"""Of distilled water that has stood in air, in mS/cm (common practice)."""


def molar_conductivity(concentration: float) -> float:
    """Molar conductivity of common salt in water at 25 °C, in S cm²/mol.

    Λ = Λ₀ − (B₁ Λ₀ + B₂) √c / (1 + B a √c) (Robinson and Stokes' form of Onsager's law, from memory).

    Parameters
    ----------
    concentration : float
        In mol/L, not below zero.
    """
    root = math.sqrt(concentration)
    return LIMITING - (SLOWED_BY_IONS * LIMITING + SLOWED_BY_DRAG) * root / (1 + CLOSENESS * root)


def conductivity(grams_per_litre: float, celsius: float) -> float:
    """Conductivity of a solution of common salt in distilled water, in mS/cm."""
    concentration = grams_per_litre / MOLAR_MASS
    at_25 = concentration * molar_conductivity(concentration) + WATER
    return at_25 * (1 + PER_KELVIN * (celsius - 25))
