"""Two numbers beside each other, each as it is said and as verdicts take it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.statistics.comparison import Comparison, VerdictRule, compare_values, judge_plainly
from hobrel.core.uncertainty.traced import Traced, combine_numbers, combine_quadrature, covariance_of, effective_dof, exact


@dataclass(frozen=True)
class TwoFold:
    """A single number as it is said, with the class's ±, and as verdicts take it, with standard uncertainties and degrees of freedom."""

    said: Traced
    judged: Traced


def compare_numbers(a: TwoFold, b: TwoFold, rule: VerdictRule) -> Comparison:
    """Compare two numbers of one unit: what is said of both is shown, what judges gives the verdict; what both rest on is counted once.
    Under the plain rule what is said gives the verdict too.
    """
    said = compare_values(float(a.said.value), _u(a.said), float(b.said.value), _u(b.said), covariance_of(a.said, b.said))
    apart = combine_numbers(said.difference, [(1.0, a.judged), (-1.0, b.judged)], a.said.unit)
    judged = compare_values(said.difference, _u(apart), 0.0, 0.0, dof=effective_dof(apart))
    if said.verdict == "unknown" or judged.p is None:
        return said
    verdict = judge_plainly(said.z) if rule == "plain" and said.z is not None else judged.verdict
    return replace(said, p=judged.p, dof=judged.dof, verdict=verdict, rule=rule, z_judged=judged.z)


def compare_with_known(number: TwoFold, value: float, rule: VerdictRule) -> Comparison:
    """Compare a number with one that has no ±: zero, an expected exponent."""
    known = exact(value, number.said.unit)
    return compare_numbers(number, TwoFold(known, known), rule)


def compare_intercept(line: FittedLine, rule: VerdictRule) -> Comparison | None:
    """Compare a line's intercept with zero; None where it is held there, or has no ± to judge by."""
    judged = line.judged["intercept"]
    if line.line.through_origin or not _u(judged) > 0:
        return None
    return compare_with_known(TwoFold(line.intercept, judged), 0.0, rule)


def _u(number: Traced) -> float:
    return float(combine_quadrature(number))
