"""The typical spread of repeats: two or three readings tell their own spread only to half of it, all settings together tell it well."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import fdtri

from hobrel.core.statistics.spread import summarise
from hobrel.core.uncertainty.traced import Floats

UNLIKE = 0.01
"""Probability by chance below which the settings' spreads are taken to differ."""
GROWS = 0.05
"""Share of tables, at most, whose settings scatter alike and that are taken to scatter by a share of their values all the same."""


@dataclass(frozen=True)
class TypicalSpread:
    """Standard deviation of one reading at each setting, as well as it is known.

    Attributes
    ----------
    sd : ndarray, shape (settings,)
        NaN where nothing is known of it: a lone reading beside settings of which each has its own. Where a setting's readings are all alike
        that of all settings stands for its own.
    dof : float or ndarray, shape (settings,)
        Degrees of freedom: of the one estimate for all settings, or of each.
    kind : {"same", "proportional", "own"}
        One spread for all; one share of the value for all; each its own, where they differ by more than chance explains.
    """

    sd: Floats
    dof: Floats | float
    kind: str


def find_typical_spread(groups: Sequence[Sequence[float]]) -> TypicalSpread | None:
    """Pool the spread of the repeats over the settings: Σ(nᵢ−1)sᵢ²/Σ(nᵢ−1), unless Cochran's test tells them apart, or they are plainly
    likelier to be one share of the value.

    W. G. Cochran, Annals of Eugenics 11, 47 (1941); the critical value by the F distribution as in ISO 5725-2:1994, 7.3.3, of settings with
    as many repeats as they have on average. Of two repeats Cochran's test sees little, however far the values are apart: the likelihood of
    one share over that of one spread, each at its best, is above k in at most one table of k that has one spread (Markov's inequality; both
    leave the same degrees of freedom, so that what does not depend on the unit has this ratio too).

    Parameters
    ----------
    groups : sequence of sequences
        The readings of each setting; empty where there are none.

    Returns
    -------
    TypicalSpread or None
        None where no setting has two readings.
    """
    summaries = [summarise(g) if g else None for g in groups]
    dofs = np.array([s.n - 1 if s else 0 for s in summaries], dtype=np.float64)
    sds = np.array([s.sd if s and s.sd is not None else 0.0 for s in summaries])
    repeated = dofs > 0
    total = float(dofs.sum())
    if total == 0:
        return None
    pooled = math.sqrt(float(np.sum(dofs * sds**2)) / total)
    differ = _differ(sds[repeated], dofs[repeated])
    means = np.array([abs(s.mean) if s else 0.0 for s in summaries])
    if np.all(means[repeated] > 0):
        shares = sds[repeated] / means[repeated]
        share = math.sqrt(float(np.sum(dofs[repeated] * shares**2)) / total)
        evidence = total * math.log(pooled / share) - float(dofs[repeated] @ np.log(means[repeated])) if share > 0 else 0.0
        if (differ or evidence > -math.log(GROWS)) and not _differ(shares, dofs[repeated]):
            return TypicalSpread(share * means, total, "proportional")
    if not differ:
        return TypicalSpread(np.full(sds.size, pooled), total, "same")
    # two readings that are alike by chance do not know their place exactly
    own = np.where(sds > 0, sds, pooled)
    return TypicalSpread(np.where(repeated, own, np.nan), np.where(repeated, dofs, np.nan), "own")


def _differ(sds: Floats, dofs: Floats) -> bool:
    """Whether the largest of some variances is too large a part of their sum for chance."""
    count, largest = sds.size, float(np.max(sds, initial=0.0))
    if count < 2 or largest == 0:
        return False
    share = 1 / float(np.sum((sds / largest) ** 2))
    dof = float(np.mean(dofs))
    critical = 1 / (1 + (count - 1) / float(fdtri(dof, (count - 1) * dof, 1 - UNLIKE / count)))
    return share > critical
