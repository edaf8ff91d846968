"""Two numbers beside each other, each as it is said and as verdicts take it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from hobrel.core.statistics.comparison import Comparison, compare_values
from hobrel.core.uncertainty.traced import Traced, combine_numbers, combine_quadrature, covariance_of, effective_dof


@dataclass(frozen=True)
class TwoFold:
    """A single number as it is said, with the class's ±, and as verdicts take it, with standard uncertainties and degrees of freedom."""

    said: Traced
    judged: Traced


def compare_numbers(a: TwoFold, b: TwoFold) -> Comparison:
    """Compare two numbers of one unit: what is said of both is shown, what judges gives the verdict; what both rest on is counted once."""
    said = compare_values(float(a.said.value), _u(a.said), float(b.said.value), _u(b.said), covariance_of(a.said, b.said))
    apart = combine_numbers(said.difference, [(1.0, a.judged), (-1.0, b.judged)], a.said.unit)
    judged = compare_values(said.difference, _u(apart), 0.0, 0.0, dof=effective_dof(apart))
    if said.verdict == "unknown" or judged.p is None:
        return said
    return replace(said, p=judged.p, dof=judged.dof, verdict=judged.verdict)


def _u(number: Traced) -> float:
    return float(combine_quadrature(number))
