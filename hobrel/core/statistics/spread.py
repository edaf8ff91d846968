"""Mean and spread of repeat readings, and the ± that a convention makes of spread and instrument together."""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from hobrel.core.errors import CoreError
from hobrel.core.statistics.coverage import coverage_factor

SpreadKind = Literal["half_range", "mean_abs_deviation", "largest_deviation", "sd", "standard_error"]
CombineKind = Literal["larger", "quadrature"]

MAD_TO_SD = 1.4826
"""Standard deviation of a normal law over its median absolute deviation (ISO 13528:2015, C.2.1)."""


@dataclass(frozen=True)
class Summary:
    """What n repeats say.

    Attributes
    ----------
    n : int
    mean, min, max, median : float
    half_range : float
        (max − min)/2.
    mean_abs_deviation : float
        Σ|xᵢ − x̄|/n.
    largest_deviation : float
        max|xᵢ − x̄|.
    sd, standard_error : float or None
        s with n − 1, and s/√n (JCGM 100:2008, 4.2.2 and 4.2.3). None for a single value.
    """

    n: int
    mean: float
    min: float
    max: float
    median: float
    half_range: float
    mean_abs_deviation: float
    largest_deviation: float
    sd: float | None
    standard_error: float | None


@dataclass(frozen=True)
class MeanWithUncertainty:
    """A mean with its ±, and which part made it.

    Attributes
    ----------
    u : float
        The chosen spread combined with the reading uncertainty of the instrument.
    spread_u : float or None
        None for a single reading: it has no spread.
    instrument_u : float
    made_by : {"spread", "instrument", "both"}
    t : float or None
        Student's t that the standard error was multiplied with, where a coverage was asked for (JCGM 100:2008, G.3).
    is_typical : bool
        Whether `spread_u` is that of the column, and not of these readings alone.
    """

    summary: Summary
    u: float
    spread_u: float | None
    instrument_u: float
    made_by: Literal["spread", "instrument", "both"]
    t: float | None = None
    is_typical: bool = False


def summarise(values: Sequence[float]) -> Summary:
    """Summarise repeat readings (at least one).

    Sums are exact (math.fsum) and about the first value, so that many digits in common do not spoil the spread.

    Raises
    ------
    CoreError
        ``too_few_points`` for an empty list.
    """
    n = len(values)
    if n == 0:
        raise CoreError("too_few_points", "There is no reading to average.")
    if n == 1:
        (only,) = values
        return Summary(
            n=1,
            mean=only,
            min=only,
            max=only,
            median=only,
            half_range=0.0,
            mean_abs_deviation=0.0,
            largest_deviation=0.0,
            sd=None,
            standard_error=None,
        )
    shifted = deviations_from_first(values)
    middle = math.fsum(shifted) / n
    mean = values[0] + middle
    deviations = [v - middle for v in shifted]
    low, high = min(values), max(values)
    squares = math.fsum(d * d for d in deviations) - math.fsum(deviations) ** 2 / n
    sd = math.sqrt(max(squares, 0.0) / (n - 1))
    return Summary(
        n=n,
        mean=mean,
        min=low,
        max=high,
        median=float(statistics.median(values)),
        half_range=(max(shifted) - min(shifted)) / 2,
        mean_abs_deviation=math.fsum(abs(d) for d in deviations) / n,
        largest_deviation=max(abs(d) for d in deviations),
        sd=sd,
        standard_error=sd / math.sqrt(n),
    )


def deviations_from_first(values: Sequence[float]) -> list[float]:
    """Values less the first of them. Where they share most of their digits, the difference is that of their decimal texts."""
    first = values[0]
    if max(values) - min(values) > 1e-3 * abs(first):
        return [v - first for v in values]
    exact = Decimal(repr(float(first)))
    return [float(Decimal(repr(float(v))) - exact) for v in values]


def average(
    values: Sequence[float],
    instrument_u: float,
    spread: SpreadKind = "half_range",
    combine: CombineKind = "larger",
    coverage: float | None = None,
    *,
    typical: float | None = None,
) -> MeanWithUncertainty:
    """Average repeat readings under a convention.

    Parameters
    ----------
    values : sequence of float, in the unit of the quantity
    instrument_u : float
        Reading uncertainty of one reading.
    spread : which spread of the repeats counts
    combine : {"larger", "quadrature"}
        The larger of spread and instrument (school), or both in quadrature (JCGM 100:2008, 5.1.2).
    coverage : float, optional
        For the standard error: multiply with Student's t for this two-sided coverage and n − 1.
    typical : float, optional
        What counts in the place of these readings' own spread, from `find_typical_bars`.
    """
    summary = summarise(values)
    if summary.n == 1:
        return MeanWithUncertainty(summary, instrument_u, None, instrument_u, "instrument")
    spread_u = float(getattr(summary, spread))
    t = None
    if coverage is not None:
        t = coverage_factor(coverage, summary.n - 1)
        if spread == "standard_error":
            spread_u *= t
    if typical is not None:
        spread_u, t = typical, None
    made_by: Literal["spread", "instrument", "both"] = "spread" if spread_u > instrument_u else "instrument"
    u = max(spread_u, instrument_u)
    if combine == "quadrature":
        made_by, u = "both" if spread_u and instrument_u else made_by, math.hypot(spread_u, instrument_u)
    return MeanWithUncertainty(
        summary=summary, u=u, spread_u=spread_u, instrument_u=instrument_u, made_by=made_by, t=t, is_typical=typical is not None
    )


def find_typical_bars(groups: Sequence[Sequence[float]], spread: SpreadKind, coverage: float | None = None) -> list[float | None]:
    """The spread that is typical of a column, for each of its settings; None for one that has fewer than two readings.

    Standard deviations are pooled, Σ(nᵢ−1)sᵢ²/Σ(nᵢ−1), and divided by √n for the standard error; other spreads are averaged (common
    practice).

    Parameters
    ----------
    groups : sequence of sequences
        The readings of each setting that count.
    spread : which spread
    coverage : float, optional
        For the standard error: multiply with Student's t for this two-sided coverage and the pooled degrees of freedom.
    """
    summaries = [summarise(g) if len(g) > 1 else None for g in groups]
    repeated = [s for s in summaries if s is not None]
    if not repeated:
        return [None] * len(groups)
    if spread not in ("sd", "standard_error"):
        typical = math.fsum(float(getattr(s, spread)) for s in repeated) / len(repeated)
        return [None if s is None else typical for s in summaries]
    dof = sum(s.n - 1 for s in repeated)
    sd = math.sqrt(math.fsum((s.n - 1) * (s.sd or 0.0) ** 2 for s in repeated) / dof)
    if spread == "sd":
        return [None if s is None else sd for s in summaries]
    factor = 1.0 if coverage is None else coverage_factor(coverage, dof)
    return [None if s is None else factor * sd / math.sqrt(s.n) for s in summaries]
