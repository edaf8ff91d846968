"""The mean of a stretch that should be level, traced to the readings that it is made of."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.lab_book import Convention
from hobrel.core.statistics.spread import MeanWithUncertainty, average
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature, weigh_rows, weigh_scatter

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
    if mean.made_by == "instrument":
        slopes |= carried.slopes
    else:
        # as uncertain as the convention says, laid on the rows that it is the mean of
        spread = Source(key, symbol, np.ones(column.value.shape), column.unit, dof=rows.size - 1)
        slopes |= weigh_scatter(column, weights, mean.u * math.sqrt(rows.size), spread)
    value, judged = np.asarray(mean.summary.mean), column.judged()
    by = weigh_rows(judged, weights).slopes
    if mean.summary.standard_error:
        # how its values scatter tells what their mean is good for, whatever their ± say
        own_source = Source(key, symbol, np.ones(column.value.shape), column.unit, dof=rows.size - 1)
        by = weigh_scatter(judged, weights, mean.summary.standard_error * math.sqrt(rows.size), own_source) | {
            s: v for s, v in by.items() if s.shared
        }
    return StretchMean(mean, replace(carried, value=value, slopes=slopes), replace(carried, value=value, slopes=by))
