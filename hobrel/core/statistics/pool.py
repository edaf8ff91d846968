"""A class value from the benches' values: plain, weighted, and with room for scatter between benches."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import chdtrc

from hobrel.core.errors import CoreError
from hobrel.core.statistics.factors import Factor, explain_factor
from hobrel.core.uncertainty.traced import Floats

Recommended = Literal["mean", "weighted", "mandel_paule", "median"]
POINT_OUT_BEYOND = 3.0


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
    """A bench that is far from the others, with the likely reason. It stays in the pool."""

    bench: str
    reason: str
    factor: str | None
    distance: float


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
    reason: str
    pointed_out: tuple[PointedOut, ...]

    @property
    def recommended_value(self) -> tuple[float, float | None]:
        """The value to quote, and its standard uncertainty."""
        match self.recommended:
            case "mean":
                return self.mean, self.standard_error
            case "weighted":
                return self.weighted.value, self.weighted.u_internal
            case "mandel_paule":
                return self.mandel_paule.value, self.mandel_paule.u
            case "median":
                # for a normal sample u(median) ≈ 1.2533 · 1.4826 MAD/√n (ISO 13528:2015, C.2 and 7.7)
                return self.median, 1.2533 * 1.4826 * self.mad / math.sqrt(self.n) or self.standard_error


def pool_results(results: Sequence[BenchResult]) -> Pool:
    """Pool the benches' results.

    Parameters
    ----------
    results : sequence of BenchResult
        At least one; every u above zero.

    Raises
    ------
    CoreError
        ``too_few_points`` for an empty pool; ``bad_number`` for an uncertainty that is not above zero.
    """
    if not results:
        raise CoreError("too_few_points", "No bench has a result yet.")
    lacking = [r.bench for r in results if not (r.u > 0 and math.isfinite(r.u) and math.isfinite(r.value))]
    if lacking:
        raise CoreError("bad_number", f"Every result in the pool needs an uncertainty above zero; look at {', '.join(lacking)}.")
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
    pointed = _point_out(results)
    recommended, reason = _recommend(k, p, pointed)
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
    """Mandel and Paule, Anal. Chem. 42, 1194 (1970): τ² such that the weighted sum of squares equals k − 1."""

    def excess(tau2: float) -> float:
        w = 1 / (u**2 + tau2)
        return float(np.sum(w * (v - _weigh(v, w)) ** 2)) - (v.size - 1)

    if v.size < 2 or excess(0.0) <= 0:
        return _random_effects(v, u, 0.0)
    low, high = 0.0, float(np.var(v, ddof=1))
    while excess(high) > 0:
        high *= 2
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if excess(middle) > 0 else (low, middle)
        if high - low <= 1e-15 * high:
            break
    return _random_effects(v, u, (low + high) / 2)


def _point_out(results: Sequence[BenchResult]) -> tuple[PointedOut, ...]:
    """Compare each bench with the robust centre of the others, and look for a slip that explains the distance."""
    if len(results) < 3:
        return ()
    found = []
    for index, bench in enumerate(results):
        others = [r for i, r in enumerate(results) if i != index]
        center, u_center = _robust_center(others)
        combined = math.hypot(bench.u, u_center)
        distance = abs(bench.value - center) / combined
        if distance <= POINT_OUT_BEYOND:
            continue
        factor: Factor | None = explain_factor(bench.value, bench.u, center, u_center)
        reason = factor.reason if factor else f"{bench.bench} is {distance:.1f} combined uncertainties from the others."
        found.append(PointedOut(bench.bench, reason, factor.name if factor else None, distance))
    return tuple(found)


def _robust_center(results: Sequence[BenchResult]) -> tuple[float, float]:
    """Median of the others, and its uncertainty: their typical own u or their scatter, whichever is larger, over √n."""
    v = np.array([r.value for r in results])
    center = float(np.median(v))
    scatter = 1.4826 * float(np.median(np.abs(v - center)))
    typical = float(np.median([r.u for r in results]))
    return center, 1.2533 * max(scatter, typical) / math.sqrt(v.size)


def _recommend(k: int, p: float | None, pointed: tuple[PointedOut, ...]) -> tuple[Recommended, str]:
    if k == 1 or p is None:
        return "weighted", "There is one result only, so it stands as it is."
    if pointed:
        who = " and ".join(x.bench for x in pointed)
        verb = "is" if len(pointed) == 1 else "are"
        return "median", f"{who} {verb} far from the others; the median is hardly moved by that. Look at the slip first."
    if p < 0.05:
        return "mandel_paule", "The benches scatter more than their own uncertainties say, so scatter between benches is counted in."
    return "weighted", "The benches agree within their uncertainties, so the more certain ones may count more."
