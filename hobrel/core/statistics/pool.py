"""A class value from the benches' values: plain, weighted, and with room for scatter between benches."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import chdtrc

from hobrel.core.errors import CoreError
from hobrel.core.rounding import write_number
from hobrel.core.sentences import Sentences, say
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.statistics.factors import Cause, explain_distance
from hobrel.core.statistics.spread import MAD_TO_SD
from hobrel.core.uncertainty.traced import Floats

Recommended = Literal["mean", "weighted", "mandel_paule", "median"]
POINT_OUT_BEYOND = 4.5
"""Combined uncertainties, with the scatter between the others, beyond which a bench is pointed out."""
_MOST_STEPS, _SETTLED = 100, 1e-14
TOO_FEW_TO_TELL = 3
"""So many benches at most agree by chance so often that their scatter says nothing: two with 1.6 each had 54.37 ± 0.03."""
COVERAGE = math.erf(math.sqrt(0.5))
"""That of one standard deviation of a normal law, which the class value is to have."""


@dataclass(frozen=True)
class BenchResult:
    """One bench's value with its standard uncertainty, in the unit common to the pool."""

    bench: str
    value: float
    u: float


@dataclass(frozen=True)
class WeightedMean:
    """Mean weighted with 1/u².

    Attributes
    ----------
    u_internal : float
        1/√Σw, from the benches' own uncertainties.
    u_external : float
        The same times the Birge ratio, from their scatter.
    birge_ratio : float
        √(χ²/(k−1)) (R. T. Birge, Phys. Rev. 40, 207 (1932)).
    """

    value: float
    u_internal: float
    u_external: float
    birge_ratio: float


@dataclass(frozen=True)
class RandomEffects:
    """Mean with a between-bench standard deviation `tau` added to every bench's own uncertainty."""

    value: float
    u: float
    tau: float


@dataclass(frozen=True)
class PointedOut:
    """A bench that is far from the others, with the likely causes, likeliest first, and these in words. It stays in the pool."""

    bench: str
    reason: Sentences
    causes: tuple[Cause, ...]
    distance: float

    @property
    def factor(self) -> str | None:
        """The name of the likeliest cause."""
        return self.causes[0].name if self.causes else None


@dataclass(frozen=True)
class Pool:
    """What the class found. All values and uncertainties in the common unit.

    `mad` is the median absolute deviation from the median, unscaled. `recommended` names which of the values to quote and
    `reason` says why.
    """

    n: int
    mean: float
    sd: float | None
    standard_error: float | None
    median: float
    mad: float
    weighted: WeightedMean
    dersimonian_laird: RandomEffects
    mandel_paule: RandomEffects
    chi2: float
    dof: int
    p_value: float | None
    recommended: Recommended
    reason: Sentences
    pointed_out: tuple[PointedOut, ...]

    recommended_value: tuple[float, float | None]
    """The value to quote, and its standard uncertainty."""


def pool_results(results: Sequence[BenchResult], unit: str | None = None, constants: Mapping[str, float] | None = None) -> Pool:
    """Pool the benches' results.

    Parameters
    ----------
    results : sequence of BenchResult
        At least one; every u above zero.
    unit : str, optional
        Of them all, for causes that only temperatures have.
    constants : mapping of symbol to number, optional
        The practical's own numbers without unit, which may have been forgotten or used twice.

    Raises
    ------
    CoreError
        ``too_few_points`` for an empty pool; ``bad_number`` for an uncertainty that is not above zero.
    """
    if not results:
        raise CoreError("too_few_points", "No bench has a result yet.")
    lacking = [r.bench for r in results if not (r.u > 0 and math.isfinite(r.u) and math.isfinite(r.value))]
    if lacking:
        raise CoreError(
            "bad_number", "Every result in the pool needs an uncertainty above zero; look at {lacking}.", lacking=", ".join(lacking)
        )
    v = np.array([r.value for r in results])
    u = np.array([r.u for r in results])
    k = v.size
    w = 1 / u**2
    center = _weigh(v, w)
    chi2 = float(np.sum(w * (v - center) ** 2))
    birge = math.sqrt(chi2 / (k - 1)) if k > 1 else 1.0
    u_internal = 1 / math.sqrt(float(np.sum(w)))
    sd = float(np.std(v, ddof=1)) if k > 1 else None
    median = float(np.median(v))
    p = float(chdtrc(k - 1, chi2)) if k > 1 else None
    pointed = _point_out(results, unit, constants)
    recommended, reason, value_to_quote = _recommend(results, p, pointed)
    return Pool(
        n=k,
        mean=float(np.mean(v)),
        sd=sd,
        standard_error=None if sd is None else sd / math.sqrt(k),
        median=median,
        mad=float(np.median(np.abs(v - median))),
        weighted=WeightedMean(center, u_internal, u_internal * birge, birge),
        dersimonian_laird=_dersimonian_laird(v, w, chi2),
        mandel_paule=_mandel_paule(v, u),
        chi2=chi2,
        dof=k - 1,
        p_value=p,
        recommended=recommended,
        reason=reason,
        pointed_out=pointed,
        recommended_value=value_to_quote,
    )


def _weigh(v: Floats, w: Floats) -> float:
    first = float(v[0])
    return first + float(np.sum(w * (v - first)) / np.sum(w))


def _random_effects(v: Floats, u: Floats, tau2: float) -> RandomEffects:
    w = 1 / (u**2 + tau2)
    return RandomEffects(_weigh(v, w), 1 / math.sqrt(float(np.sum(w))), math.sqrt(tau2))


def _dersimonian_laird(v: Floats, w: Floats, chi2: float) -> RandomEffects:
    """DerSimonian and Laird, Controlled Clinical Trials 7, 177 (1986), eq. 8 and 9."""
    spare = float(np.sum(w) - np.sum(w**2) / np.sum(w))
    tau2 = max(0.0, (chi2 - (v.size - 1)) / spare) if spare > 0 and v.size > 1 else 0.0
    return _random_effects(v, 1 / np.sqrt(w), tau2)


def _mandel_paule(v: Floats, u: Floats) -> RandomEffects:
    """Mandel and Paule, Anal. Chem. 42, 1194 (1970): τ² such that the weighted sum of squares Q equals k − 1.

    Newton's steps are made on 1/Q, which is a straight line in τ² where all u are the same; from τ² = 0 none goes past the root.
    """
    tau2, variances = 0.0, u * u
    for _ in range(_MOST_STEPS):
        total = variances + tau2
        least = float(total.min())
        # weights as shares of the largest: their squares stay numbers however small a u is
        w = least / total
        squares = (v - _weigh(v, w)) ** 2
        first, second = float(w @ squares), float((w * w) @ squares)
        spare = first / (v.size - 1) - least if v.size > 1 else 0.0
        if tau2 == 0 and spare <= 0:
            break
        step = first / second * spare
        tau2 += step
        if abs(step) <= _SETTLED * tau2:
            break
    return _random_effects(v, u, tau2)


def quote_class_value(v: Floats, u: Floats) -> tuple[float, float, float]:
    """Mandel and Paule's value, its u, and the scatter between benches.

    The u is that of Hartung and Knapp (Statistics in Medicine 20, 3875 (2001)) times Student's t for the coverage of one standard
    deviation, so that few benches hold the true value as often as many. Two or three benches that happen to agree tell nothing of how
    certain they are: their value is never more certain than their own u make it (after C. Röver, G. Knapp and T. Friede, BMC Medical
    Research Methodology 15, 99 (2015), from memory, who keep q from being less than 1).
    """
    found = _mandel_paule(v, u)
    if v.size < 2:
        return found.value, float(u[0]), 0.0
    w = 1 / (u**2 + found.tau**2)
    variance = float(np.sum(w * (v - found.value) ** 2) / ((v.size - 1) * np.sum(w)))
    u_seen = math.sqrt(variance) * coverage_factor(COVERAGE, v.size - 1)
    return found.value, max(u_seen, found.u) if v.size <= TOO_FEW_TO_TELL else u_seen, found.tau


def _point_out(results: Sequence[BenchResult], unit: str | None, constants: Mapping[str, float] | None) -> tuple[PointedOut, ...]:
    """Compare each bench with those that hang together, and look for slips that explain the distance."""
    if len(results) < 3:
        return ()
    v, u = (np.array([getattr(r, name) for r in results]) for name in ("value", "u"))
    together = _hang_together(v, u)
    found = []
    for index, bench in enumerate(results):
        others = together.copy()
        others[index] = False
        if np.count_nonzero(others) < 2:
            continue
        center, u_center, tau = quote_class_value(v[others], u[others])
        u_others = math.hypot(u_center, tau)
        distance = abs(bench.value - center) / math.hypot(bench.u, u_others)
        if distance <= POINT_OUT_BEYOND:
            continue
        near_zero = abs(center) <= POINT_OUT_BEYOND * u_center
        causes = () if near_zero else explain_distance((bench.value, bench.u), (center, u_others), unit, constants)
        found.append(PointedOut(bench.bench, _say_causes(bench, center, distance, causes), causes, distance))
    return tuple(found)


def _hang_together(v: Floats, u: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which benches are near the median, so that one that is far off does not stand for the others of another.

    The scatter is what benches are away beyond their own u: one with a large u says nothing of how far the others may be.
    """
    center = float(np.median(v))
    beyond = np.sqrt(np.maximum((v - center) ** 2 - u**2, 0.0))
    scatter = max(MAD_TO_SD * float(np.median(beyond)), float(np.median(u)))
    return np.abs(v - center) <= POINT_OUT_BEYOND * np.hypot(u, scatter)


def _say_causes(bench: BenchResult, center: float, distance: float, causes: tuple[Cause, ...]) -> Sentences:
    if not causes:
        return (say("bench_is_far", "{bench} is {z} combined uncertainties from the others.", bench=bench.bench, z=f"{distance:.1f}"),)
    first = causes[0]
    right = write_number(first.put_right, 3)
    if first.code == "offset":
        words = say("bench_off_by_zero", "It is 273.15 away: {cause}. Put right it would be {right}.", cause=first.reason, right=right)
    elif first.code == "inverse":
        words = say("bench_turned_over", "It is {cause}; turned over again it would be {right}.", cause=first.reason, right=right)
    else:
        assert first.factor is not None
        large = abs(first.factor) > 1
        size = first.factor if large else 1 / first.factor
        shown = f"{size:,.0f}".replace(",", "\u202f") if size >= 10 and first.name.startswith("10") else f"{size:.3g}"
        if large:
            words = say(
                "bench_too_large", "About {factor} times too large, {cause}. Divided by {factor} it would be {right}.",
                factor=shown, cause=first.reason, right=right,
            )  # fmt: skip
        else:
            words = say(
                "bench_too_small", "About {factor} times too small, {cause}. Multiplied by {factor} it would be {right}.",
                factor=shown, cause=first.reason, right=right,
            )  # fmt: skip
    if len(causes) == 1:
        return (words,)
    return words, say("bench_other_causes", "It may also be {causes}.", causes=", or ".join(c.reason for c in causes[1:]))


def _recommend(
    results: Sequence[BenchResult], p: float | None, pointed: tuple[PointedOut, ...]
) -> tuple[Recommended, Sentences, tuple[float, float | None]]:
    v, u = (np.array([getattr(r, name) for r in results]) for name in ("value", "u"))
    if v.size == 1 or p is None:
        return "weighted", (say("one_result", "There is one result only, so it stands as it is."),), (float(v[0]), float(u[0]))
    who = " and ".join(x.bench for x in pointed)
    verb = "is" if len(pointed) == 1 else "are"
    if any(not x.causes for x in pointed):
        reason = say(
            "median_for_unknown_cause", "{who} {verb} far from the others, and nobody knows why; the median is hardly moved by that.",
            who=who, verb=verb,
        )  # fmt: skip
        center = float(np.median(v))
        # for a normal sample u(median) ≈ 1.2533 · 1.4826 MAD/√n (ISO 13528:2015, C.2 and 7.7)
        return "median", (reason,), (center, 1.2533 * MAD_TO_SD * float(np.median(np.abs(v - center))) / math.sqrt(v.size) or None)
    off = {x.bench for x in pointed}
    kept = np.array([r.bench not in off for r in results])
    value, u_value, tau = quote_class_value(v[kept], u[kept])
    if tau == 0:
        agreeing = "The others" if pointed else "The benches"
        reason = say(
            "benches_agree", "{who} agree within their uncertainties, so the more certain ones count more.", who=agreeing
        )  # fmt: skip
    else:
        reason = say(
            "scatter_counted_in", "Scatter between benches is counted in, as much as their values show beyond their own uncertainties."
        )
    if not pointed:
        return "mandel_paule", (reason,), (value, u_value)
    without = say(
        "known_slip_left_out", "{who} {verb} off by a slip that is known, and not counted in until it is put right.", who=who, verb=verb
    )
    return "mandel_paule", (without, reason), (value, u_value)
