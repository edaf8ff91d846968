"""In which proportions points scatter, where nobody says it or they do not keep to what is said."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from hobrel.core.uncertainty.traced import Floats


def ways_to_scatter(slope: Floats, as_read: Floats) -> tuple[Floats, ...]:
    """What values made of readings are off by, but for a factor, where these scatter by the same everywhere, or by a share of themselves.

    Parameters
    ----------
    slope, as_read : ndarray, shape (N,)
        Derivatives of the values by the readings, and the readings. A way that leaves a value without scatter is none.
    """
    with np.errstate(over="ignore", invalid="ignore"):
        of_all, of_shares = np.abs(slope), np.abs(slope * as_read)
    return tuple(way for way in (of_all, of_shares) if np.all(np.isfinite(way)) and np.all(way > 0))


def likelier_ways(y: Floats, columns: Floats, own: Floats, ways: Sequence[Floats]) -> Iterator[Floats]:
    """Of all alike and the other ways those in which a sum of columns makes the values likelier than in their own, as asked for."""
    likelihood = find_log_likelihood(y, columns, own)
    return (way for way in (np.ones_like(own), *ways) if find_log_likelihood(y, columns, way) > likelihood)


def find_log_likelihood(y: Floats, columns: Floats, way: Floats) -> float:
    """Logarithm of how likely values are, but for a constant, if a sum of columns was meant and their errors are as large as a way says but
    for a factor.

    Restricted likelihood, its factor at its best (D. A. Harville, J. Am. Stat. Assoc. 72, 320 (1977); from memory). It is the same for a
    way that is so many times as large, and infinite for values that the columns make exactly.

    Parameters
    ----------
    y : ndarray, shape (N,)
    columns : ndarray, shape (p, N)
        What is fitted, or its derivatives by its parameters: then `y` may be what they leave.
    way : ndarray, shape (N,)
    """
    with np.errstate(over="ignore"):
        weighed, left = columns / way, y / way
        if not (np.all(np.isfinite(weighed)) and np.all(np.isfinite(left))):
            # so unlike one another that they weigh nothing
            return -math.inf
        solution, _, rank, sizes = np.linalg.lstsq(weighed.T, left)
        left = left - solution @ weighed
        squares, dof = float(left @ left), left.size - int(rank)
    if squares <= 0:
        return math.inf
    return -dof / 2 * math.log(squares) - float(np.sum(np.log(way)) + np.sum(np.log(sizes[:rank])))
