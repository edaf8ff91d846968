"""The readings of one setting over all benches: their mean, how they scatter within benches, and between them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from hobrel.core.errors import CoreError
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.statistics.groups import compare_groups
from hobrel.core.statistics.pool import COVERAGE


@dataclass(frozen=True)
class PooledSetting:
    """What the class has read at one setting, in the unit of its readings.

    Attributes
    ----------
    mean : float
        Of the benches' means, each of which counts the same.
    u : float
        Standard error of that, times Student's t for the coverage of one standard deviation.
    within : float or None
        Standard deviation of repeats within benches; None where no bench has repeats.
    between : float or None
        Standard deviation between benches beyond what repeats explain; None where there is nothing to tell it by.
    p_value : float or None
        Of the F test that benches differ no more than their repeats scatter.
    """

    benches: int
    readings: int
    mean: float
    u: float
    within: float | None
    between: float | None
    p_value: float | None


def pool_setting(groups: Sequence[Sequence[float]]) -> PooledSetting:
    """Pool the readings of one setting, bench by bench.

    The part between benches is that of ISO 5725-2:1994, 7.4.5: (MS_between − MS_within)/n₀ with n₀ = (N − Σn²/N)/(k − 1), nothing where
    that is below zero.

    Parameters
    ----------
    groups : sequence of sequences of float
        The readings of each bench.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than two benches with readings.
    """
    filled = [list(group) for group in groups if len(group)]
    if len(filled) < 2:
        raise CoreError("too_few_points", "Only one bench has readings at this setting.")
    k, sizes = len(filled), [len(group) for group in filled]
    total = sum(sizes)
    first = filled[0][0]
    means = [math.fsum(v - first for v in group) / len(group) for group in filled]
    center = math.fsum(means) / k
    sd = math.sqrt(math.fsum((m - center) ** 2 for m in means) / (k - 1))
    u = sd / math.sqrt(k) * coverage_factor(COVERAGE, k - 1)
    if total == k:
        return PooledSetting(
            benches=k, readings=total, mean=first + center, u=u, within=None, between=None, p_value=None,
        )  # fmt: skip
    found = compare_groups(filled)
    typical = (total - math.fsum(n * n for n in sizes) / total) / (k - 1)
    between = math.sqrt(max(0.0, found.ms_between - found.ms_within) / typical)
    return PooledSetting(
        benches=k, readings=total, mean=first + center, u=u, within=found.pooled_sd, between=between, p_value=found.p_value,
    )  # fmt: skip
