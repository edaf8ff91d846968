"""Two results side by side: their difference, and how likely chance alone makes one at least as large."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from scipy.special import ndtr, stdtr

from hobrel.core.sentences import Field, Sentence, say

Verdict = Literal["agree", "agree_within_two", "differ", "unknown"]
VerdictRule = Literal["chance", "plain"]
"""By the probability that chance alone makes such a difference; or by the number of combined uncertainties, at most one and at most two."""
AGREE, NEAR = 0.3173, 0.0455
"""Probabilities that a normal law leaves outside one and outside two standard deviations (common practice for words of agreement)."""
MUCH = 2.0
"""Times that the readings scatter more than the ± says, from which that is the reason, however few they are."""
_SAME = 1e-12


@dataclass(frozen=True)
class Comparison:
    """a against b, in their common unit.

    Attributes
    ----------
    difference, u : float
        a − b, and its uncertainty; what both share is not counted twice.
    z : float or None
        |difference|/u; None where there is no u.
    percent : float or None
        The difference in percent of b; None where b is 0.
    p : float or None
        Two-sided probability of a difference at least this large by chance, from what judges; None where nothing can be said.
    dof : float
        Degrees of freedom behind p; infinite where uncertainties are taken as known.
    z_judged : float or None
        |difference| by the ± that judges, where that is another than is said: p is from it; None where they are one.
    verdict : {"agree", "agree_within_two", "differ", "unknown"}
        By the `rule`; unknown where neither has an uncertainty.
    rule : {"chance", "plain"}
    """

    difference: float
    u: float
    z: float | None
    percent: float | None
    p: float | None
    dof: float
    verdict: Verdict
    rule: VerdictRule = "chance"
    z_judged: float | None = None

    @property
    def excused_by(self) -> Literal["scatter", "few readings"] | None:
        """Why the verdict is kinder than the number of uncertainties sounds: what the readings scatter, or how few stand behind the ±."""
        if self.z is None or self.z <= 1 or not _kinder(self.verdict, judge_p(chance_of(self.z))):
            return None
        judged = self.z if self.z_judged is None else self.z_judged
        by_scatter = not _kinder(self.verdict, judge_p(chance_of(judged))) or judged * MUCH < self.z
        return "scatter" if by_scatter else "few readings"

    @property
    def is_harsher(self) -> bool:
        """Whether the verdict is harsher than the number of uncertainties sounds: the ± that judges is much smaller than what is said."""
        return self.z is not None and self.rule == "chance" and _kinder(judge_p(chance_of(self.z)), self.verdict)


def compare_values(a: float, u_a: float, b: float, u_b: float, shared: float = 0.0, *, dof: float = math.inf) -> Comparison:
    """Compare two values.

    Parameters
    ----------
    a, u_a, b, u_b : float
        Values and standard uncertainties in one unit.
    shared : float
        Covariance of a and b from sources they have in common, which are not counted twice.
    dof : float
        Degrees of freedom of the difference's uncertainty (JCGM 100:2008, G.4): Student's t judges, the normal law where infinite.
    """
    u, difference = math.sqrt(max(u_a * u_a + u_b * u_b - 2 * shared, 0.0)), a - b
    percent = 100 * difference / b if b else None
    if not (u_a > 0 or u_b > 0):
        return Comparison(difference=difference, u=0.0, z=None, percent=percent, p=None, dof=dof, verdict="unknown")
    if not u > _SAME * max(u_a, u_b):
        # all that is uncertain is in both: they are one number, or surely two
        p = 1.0 if abs(difference) <= _SAME * max(abs(a), abs(b)) else 0.0
        return Comparison(difference=difference, u=0.0, z=None, percent=percent, p=p, dof=dof, verdict=judge_p(p))
    z = abs(difference) / u
    p = chance_of(z, dof)
    return Comparison(difference=difference, u=u, z=z, percent=percent, p=p, dof=dof, verdict=judge_p(p))


def chance_of(z: float, dof: float = math.inf) -> float:
    """Two-sided probability of at least z standard uncertainties by chance."""
    return 2 * float(stdtr(dof, -z)) if math.isfinite(dof) else 2 * float(ndtr(-z))


def judge_p(p: float) -> Verdict:
    """The word for a probability."""
    return "agree" if p >= AGREE else "agree_within_two" if p >= NEAR else "differ"


def _kinder(verdict: Verdict, than: Verdict) -> bool:
    order: tuple[Verdict, ...] = ("agree", "agree_within_two", "differ")
    return order.index(verdict) < order.index(than)


def judge_plainly(z: float) -> Verdict:
    """The word for a number of combined uncertainties, by a class's plain rule (common practice)."""
    return "agree" if z <= 1 else "agree_within_two" if z <= 2 else "differ"


def say_verdict(comparison: Comparison, other: str, measure: str = "combined uncertainties") -> Sentence:
    """The verdict in a sentence.

    Parameters
    ----------
    comparison : Comparison
    other : str
        What it is compared with, as it stands in a sentence.
    measure : str
        What the distance is counted in.
    """
    if comparison.verdict == "unknown":
        return say(
            "agreement_unknown", "Neither it nor {other} has a ±, so nothing can be said about whether they agree.", other=other
        )  # fmt: skip
    if comparison.z is None:
        if comparison.verdict == "agree":
            return say("same_number", "It is the same number as {other}.", other=other)
        return say("surely_differs", "It differs from {other}: what is uncertain is in both.", other=other)
    words: dict[str, Field] = {"other": other, "z": f"{comparison.z:.1f}", "measure": measure}
    if comparison.rule == "plain":
        return _say_plainly(comparison, words)
    if comparison.is_harsher:
        return _say_harshly(comparison, words)
    match comparison.verdict, comparison.excused_by:
        case "agree", None:
            return say("agrees", "It agrees with {other}: they are {z} {measure} apart.", **words)
        case "agree", "scatter":
            return say(
                "agrees_by_scatter",
                "By how the readings scatter it agrees with {other}; by the ± alone they would be {z} {measure} apart.",
                **words,
            )
        case "agree", _:
            return say(
                "agrees_for_few_readings",
                "It agrees with {other}: they are {z} {measure} apart, which happens by chance where so few readings stand behind the ±.",
                **words,
            )
        case "agree_within_two", None:
            return say("agrees_within_two", "It agrees with {other} within two: they are {z} {measure} apart.", **words)
        case "agree_within_two", "scatter":
            return say(
                "agrees_within_two_by_scatter",
                "By how the readings scatter it agrees with {other} within two; by the ± alone they would be {z} {measure} apart.",
                **words,
            )
        case "agree_within_two", _:
            return say(
                "agrees_within_two_for_few_readings",
                "It agrees with {other} within two: they are {z} {measure} apart, "
                "which happens by chance where so few readings stand behind the ±.",
                **words,
            )
    return say("differs", "It differs from {other}: they are {z} {measure} apart.", **words)


def _say_harshly(comparison: Comparison, words: dict[str, Field]) -> Sentence:
    """Where readings scatter much less than their ± says, it is by the scatter that two values are told apart."""
    if comparison.verdict == "agree_within_two":
        return say(
            "agrees_within_two_by_small_scatter",
            "The ± alone would say that it agrees with {other}: they are {z} {measure} apart. "
            "But the readings scatter much less than that ±, and by their scatter it agrees within two only.",
            **words,
        )
    return say(
        "differs_by_small_scatter",
        "The ± alone would not tell it from {other}: they are {z} {measure} apart. "
        "But the readings scatter much less than that ±, and by their scatter it differs.",
        **words,
    )


def _say_plainly(comparison: Comparison, words: dict[str, Field]) -> Sentence:
    """By the class's rule, which knows no chance: with few readings behind a ± it finds differences where there are none."""
    match comparison.verdict:
        case "agree":
            return say("agrees_by_rule", "By the class’s rule it agrees with {other}: they are {z} {measure} apart, at most one.", **words)
        case "agree_within_two":
            return say(
                "agrees_within_two_by_rule", "By the class’s rule it agrees with {other} within two: they are {z} {measure} apart.", **words
            )
    return say("differs_by_rule", "By the class’s rule it differs from {other}: they are {z} {measure} apart, more than two.", **words)
