"""Is one value far from its fellows? Tests that point a value out; nothing is ever removed."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from scipy.special import stdtrit

from hobrel.core.errors import CoreError
from hobrel.core.statistics.spread import summarise

OutlierTest = Literal["grubbs", "dixon"]
# D. B. Rorabacher, Anal. Chem. 63, 139 (1991), table I: two-sided critical values of r10 for n = 3 … 10 (from memory)
_DIXON = {
    0.10: (0.941, 0.765, 0.642, 0.560, 0.507, 0.468, 0.437, 0.412),
    0.05: (0.970, 0.829, 0.710, 0.625, 0.568, 0.526, 0.493, 0.466),
    0.01: (0.994, 0.926, 0.821, 0.740, 0.680, 0.634, 0.598, 0.568),
}


@dataclass(frozen=True)
class OutlierCheck:
    """Statistic and critical value of a test; `suspect` is the index of the value pointed out, None where none is."""

    statistic: float
    critical: float
    suspect: int | None


def check_outlier(values: Sequence[float], test: OutlierTest = "grubbs", alpha: float = 0.05) -> OutlierCheck:
    """Test whether the value farthest from the others is farther than chance explains, values being normal.

    Parameters
    ----------
    values : sequence of float
    test : {"grubbs", "dixon"}
        G = max|x − x̄|/s, two-sided (F. E. Grubbs, Technometrics 11, 1 (1969)); Q = gap/range, two-sided, for 3 to 10 values
        (W. J. Dixon, Ann. Math. Stat. 22, 68 (1951)).
    alpha : float
        Chance of pointing out a value wrongly.

    Raises
    ------
    CoreError
        ``too_few_points``, ``too_large`` (Dixon beyond 10), ``outside_domain`` where all values are equal, ``bad_job``.
    """
    if len(values) < 3:
        raise CoreError("too_few_points", "An outlier test needs at least three values; there are {n}.", n=len(values))
    if not 0 < alpha < 1:
        raise CoreError("bad_job", "alpha lies between 0 and 1, as in 0.05.")
    if max(values) == min(values):
        raise CoreError("outside_domain", "All values are equal, so none can be an outlier.")
    statistic, critical, place = _grubbs(values, alpha) if test == "grubbs" else _dixon(values, alpha)
    return OutlierCheck(statistic, critical, place if statistic > critical else None)


def _grubbs(values: Sequence[float], alpha: float) -> tuple[float, float, int]:
    n, summary = len(values), summarise(values)
    assert summary.sd is not None
    place = max(range(n), key=lambda i: abs(values[i] - summary.mean))
    t = float(stdtrit(n - 2, 1 - alpha / (2 * n)))
    critical = (n - 1) / math.sqrt(n) * math.sqrt(t * t / (n - 2 + t * t))
    return abs(values[place] - summary.mean) / summary.sd, critical, place


def _dixon(values: Sequence[float], alpha: float) -> tuple[float, float, int]:
    n = len(values)
    if n > 10:
        raise CoreError("too_large", "Dixon’s test is for 3 to 10 values; use Grubbs’ test.")
    if alpha not in _DIXON:
        raise CoreError("bad_job", "Dixon’s test is tabulated for alpha 0.10, 0.05 and 0.01.")
    order = sorted(range(n), key=lambda i: values[i])
    span = values[order[-1]] - values[order[0]]
    low, high = (values[order[1]] - values[order[0]]) / span, (values[order[-1]] - values[order[-2]]) / span
    return (low, _DIXON[alpha][n - 3], order[0]) if low > high else (high, _DIXON[alpha][n - 3], order[-1])
