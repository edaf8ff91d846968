"""Numbers that remember which measured things they came from, and how strongly.

A `Traced` carries, beside its value, the derivative with respect to every independent source. Arithmetic on traced numbers
is the chain rule, so a symbol used twice, or two derived quantities with a common ancestor, come out right by themselves.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hobrel.core.units.calculus import NUMBER, Unit

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Source:
    """An independent thing that was measured.

    Attributes
    ----------
    key : str
        Unique in one lab book: ``run1:L``, ``constant:m``, ``fit1:gradient``.
    symbol : str
        What people call it.
    u : ndarray, shape (rows,) or ()
        Its standard uncertainty, or ± under a school convention, in `unit`.
    unit : Unit
    shared : bool
        True for a constant, measured once: it moves all rows together.
    """

    key: str
    symbol: str
    u: Floats
    unit: Unit = NUMBER
    shared: bool = False


@dataclass(frozen=True, slots=True)
class Traced:
    """Values with their unit and their derivative by each source.

    Attributes
    ----------
    value : ndarray, shape (rows,) or ()
        NaN where nothing was measured (inside the core only; never shown).
    slopes : mapping of source key to ndarray
        ∂value/∂source, in `unit` per unit of the source.
    unit : Unit
    """

    value: Floats
    slopes: Mapping[str, Floats]
    unit: Unit = NUMBER

    def scaled(self, factor: float, unit: Unit) -> Traced:
        """The same thing in another unit, `factor` of which make one of this."""
        if factor == 1.0 and unit == self.unit:
            return self
        return Traced(self.value * factor, {k: s * factor for k, s in self.slopes.items()}, unit)


def exact(value: float, unit: Unit = NUMBER) -> Traced:
    """A number without uncertainty."""
    return Traced(np.asarray(value, dtype=np.float64), {}, unit)


def measured(source: Source, value: Floats | float) -> Traced:
    """The values of one source."""
    values = np.asarray(value, dtype=np.float64)
    return Traced(values, {source.key: np.ones_like(values)}, source.unit)


def chain(value: Floats, terms: tuple[tuple[Traced, Callable[[], Floats]], ...], unit: Unit) -> Traced:
    """A new traced number whose derivative by each operand is known.

    Parameters
    ----------
    value : ndarray
    terms : tuple of (operand, function giving ∂value/∂operand)
        The function is called only for an operand that has sources, so that plain numbers cost no derivatives.
    unit : Unit
    """
    slopes: dict[str, Floats] = {}
    for operand, derivative in terms:
        if not operand.slopes:
            continue
        with np.errstate(all="ignore"):
            slope = derivative()
        for key, inner in operand.slopes.items():
            step = slope * inner
            slopes[key] = slopes[key] + step if key in slopes else step
    return Traced(value, slopes, unit)


def contributions(number: Traced, sources: Mapping[str, Source], shared: bool | None = None) -> dict[str, Floats]:
    """Signed contribution ∂value/∂source · u(source) of every source (or only the shared, or only the others)."""
    return {key: slope * sources[key].u for key, slope in number.slopes.items() if shared is None or sources[key].shared == shared}


def combine_quadrature(
    number: Traced,
    sources: Mapping[str, Source],
    shared: bool | None = None,
    correlations: Mapping[tuple[str, str], float] | None = None,
) -> Floats:
    """Combined uncertainty u² = Σ(∂f/∂xₖ)²u(xₖ)², with covariance terms where given (JCGM 100:2008, 5.1.2 and 5.2.2).

    Returns
    -------
    ndarray, shape of the value
        In the unit of `number`.
    """
    parts = contributions(number, sources, shared)
    total = np.zeros_like(number.value)
    for part in parts.values():
        total = total + part * part
    for (a, b), r in (correlations or {}).items():
        if a in parts and b in parts:
            total = total + 2 * r * parts[a] * parts[b]
    return np.asarray(np.sqrt(np.maximum(total, 0.0)))


def covariance_of(
    a: Traced, b: Traced, sources: Mapping[str, Source], correlations: Mapping[tuple[str, str], float] | None = None
) -> float:
    """Covariance of two single numbers, from the sources that they have in common and from those that hang together (JCGM 100:2008,
    F.1.2.3); in the product of their units.
    """
    in_a, in_b = contributions(a, sources), contributions(b, sources)
    total = sum(float(part) * float(in_b[key]) for key, part in in_a.items() if key in in_b)
    for (first, second), r in (correlations or {}).items():
        for one, other in ((first, second), (second, first)):
            if one in in_a and other in in_b:
                total += r * float(in_a[one]) * float(in_b[other])
    return total


def combine_sum(number: Traced, sources: Mapping[str, Source], shared: bool | None = None) -> Floats:
    """Largest possible combination Σ|∂f/∂xₖ|u(xₖ): “add the percentages” for products and powers (common practice)."""
    total = np.zeros_like(number.value)
    for part in contributions(number, sources, shared).values():
        total = total + np.abs(part)
    return np.asarray(total)
