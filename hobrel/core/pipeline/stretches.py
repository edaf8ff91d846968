"""The mean of a stretch that should be level, traced to the readings that it is made of."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.lab_book import Convention
from hobrel.core.statistics.spread import MeanWithUncertainty, average
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, weigh_rows, weigh_scatter

Rows = np.ndarray[tuple[int], np.dtype[np.intp]]


@dataclass(frozen=True)
class StretchMean:
    """The mean of a stretch that should be level, how its ± was made, the number itself, and the same as verdicts take it."""

    mean: MeanWithUncertainty
    traced: Traced
    judged: Traced


def average_stretch(column: Traced, rows: Rows, convention: Convention, key: str, symbol: str) -> StretchMean:
    """The mean of a stretch that should be level.

    Its values are taken as repeats, and the convention makes the ± of their spread and of what they carry: their independent parts go
    down with the number of values, √Σu²/n, and the constants that all share stay whole.

    Parameters
    ----------
    column : Traced, shape (rows of the run,)
    rows : ndarray of int
        Which of them are in the stretch.
    convention : Convention
    key, symbol : str
        For the spread, where the values have no ± of their own.
    """
    weights = np.zeros(column.value.shape)
    weights[rows] = 1 / rows.size
    carried = weigh_rows(column, weights)
    own = float(combine_quadrature(carried, shared=False))
    mean = average(column.value[rows].tolist(), own, convention.spread, convention.combine, convention.coverage)
    slopes = {s: by for s, by in carried.slopes.items() if s.shared}
    spread = Source(key, symbol, np.ones(column.value.shape), column.unit, dof=rows.size - 1)
    if mean.made_by == "instrument":
        slopes |= carried.slopes
    else:
        # as uncertain as the convention says
        slopes |= _lay_scatter(column, weights, mean.u, spread)
    value, judged = np.asarray(mean.summary.mean), weigh_rows(column.judged(), weights)
    by, scatter = judged.slopes, mean.summary.standard_error
    if scatter and not (column.moves_together and scatter < float(combine_quadrature(judged, shared=False))):
        # how its values scatter tells what their mean is good for, whatever their ± say; but not where they all move together
        by = _lay_scatter(column.judged(), weights, scatter, spread) | {s: v for s, v in by.items() if s.shared}
    return StretchMean(mean, replace(carried, value=value, slopes=slopes), replace(carried, value=value, slopes=by))


def _lay_scatter(column: Traced, weights: Floats, u: float, spread: Source) -> dict[Source, Floats]:
    """What a mean is uncertain by, laid on its rows: in proportion to their bars, and alike where some have none."""
    own = weigh_rows(column, weights).unshared()
    now = float(combine_quadrature(own))
    if not (now > 0 and np.all(combine_quadrature(column, shared=False)[weights != 0] > 0)):
        return weigh_scatter(column, weights, u * math.sqrt(np.count_nonzero(weights)), spread)
    return {replace(s, dof=spread.dof, standard=None, estimate=spread.key): by * (u / now) for s, by in own.slopes.items()}
