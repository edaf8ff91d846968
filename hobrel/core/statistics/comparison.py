"""Two results side by side: their difference, and how many combined uncertainties apart they are."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from hobrel.core.errors import CoreError

Verdict = Literal["agree", "agree_within_two", "differ"]


@dataclass(frozen=True)
class Comparison:
    """a against b, in their common unit.

    `u` is that of the difference, `z` = |difference|/u, `percent` the difference in percent of b (None where b is 0).
    """

    difference: float
    u: float
    z: float
    percent: float | None
    verdict: Verdict


def compare_values(a: float, u_a: float, b: float, u_b: float, shared: float = 0.0) -> Comparison:
    """Compare two values.

    Parameters
    ----------
    a, u_a, b, u_b : float
        Values and standard uncertainties in one unit.
    shared : float
        Covariance of a and b from sources they have in common, which are not counted twice.

    Raises
    ------
    CoreError
        ``bad_number`` when neither has an uncertainty.
    """
    variance = u_a * u_a + u_b * u_b - 2 * shared
    if not variance > 0:
        raise CoreError("bad_number", "To compare two values, at least one of them needs an uncertainty.")
    u, difference = math.sqrt(variance), a - b
    z = abs(difference) / u
    verdict: Verdict = "agree" if z <= 1 else "agree_within_two" if z <= 2 else "differ"
    return Comparison(difference, u, z, 100 * difference / b if b else None, verdict)


def say_verdict(comparison: Comparison, other: str) -> str:
    """The verdict in a sentence."""
    apart = f"{comparison.z:.1f} combined uncertainties apart"
    match comparison.verdict:
        case "agree":
            return f"It agrees with {other}: they are {apart}."
        case "agree_within_two":
            return f"It agrees with {other} within two: they are {apart}."
        case "differ":
            return f"It differs from {other}: they are {apart}."
