"""Do groups differ? One-way analysis of variance."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import fdtrc

from hobrel.core.errors import CoreError
from hobrel.core.statistics.spread import deviations_from_first


@dataclass(frozen=True)
class GroupComparison:
    """One-way analysis of variance.

    Attributes
    ----------
    ms_between, ms_within : float
        Mean squares, in unit of the values squared.
    f, p_value : float or None
        None where nothing varies within the groups.
    pooled_sd : float
        √ms_within.
    means, grand_mean : in unit of the values; the grand mean is of all values.
    """

    dof_between: int
    dof_within: int
    ms_between: float
    ms_within: float
    f: float | None
    p_value: float | None
    pooled_sd: float
    means: tuple[float, ...]
    grand_mean: float


def compare_groups(groups: Sequence[Sequence[float]]) -> GroupComparison:
    """Compare the means of groups by the F test (R. A. Fisher; NIST StRD notation).

    Values are taken as their decimal text says and subtracted exactly, so that many leading digits in common cost nothing.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than two groups, an empty one, or no more values than groups.
    """
    if len(groups) < 2 or any(len(g) == 0 for g in groups):
        raise CoreError("too_few_points", "To compare groups, at least two are needed, each with at least one value.")
    sizes = [len(g) for g in groups]
    total = sum(sizes)
    if total <= len(groups):
        raise CoreError("too_few_points", "With one value in each group there is no scatter within them to compare with.")
    every = deviations_from_first([v for g in groups for v in g])
    parts, start = [], 0
    for size in sizes:
        parts.append(every[start : start + size])
        start += size
    means = [math.fsum(p) / len(p) for p in parts]
    grand = math.fsum(every) / total
    between = math.fsum(n * (m - grand) ** 2 for n, m in zip(sizes, means, strict=True))
    within = math.fsum((v - m) ** 2 for p, m in zip(parts, means, strict=True) for v in p)
    dof_between, dof_within = len(groups) - 1, total - len(groups)
    ms_between, ms_within = between / dof_between, within / dof_within
    f = ms_between / ms_within if ms_within > 0 else None
    base = float(groups[0][0])
    return GroupComparison(
        dof_between=dof_between,
        dof_within=dof_within,
        ms_between=ms_between,
        ms_within=ms_within,
        f=f,
        p_value=None if f is None else float(fdtrc(dof_between, dof_within, f)),
        pooled_sd=math.sqrt(ms_within),
        means=tuple(base + m for m in means),
        grand_mean=base + grand,
    )
