"""A row that is of quite another size than its neighbours, or of the other sign: a unit, a decimal point, whatever plot it goes into.

A value a hundred times too small has a bar beside which it weighs nothing once its logarithm or its inverse is drawn, and one a hundred
times too large draws every line through itself: in such plots nothing looks rough.
"""

from __future__ import annotations

import numpy as np

from hobrel.core.checks.smooth import LEAST_FAR, Rough
from hobrel.core.uncertainty.traced import Floats

LEAST_ROWS, MOST_CANDIDATES = 5, 5
"""A row that is off takes its neighbours with it; where more are, it is how the table runs."""
ANOTHER_SIZE, BEYOND_THE_END = 0.9, 1.5
"""Powers of ten by which a row is off that may be of another size (common practice): eight times; thirty times where a curve leads beyond
its last two rows.
"""
SAME_SIZE = 0.15
"""Powers of ten within which a row that is turned round is what its neighbours lead to, and they are what theirs do."""
SMOOTHER = 4.0
"""Times as far as any of the others that it has to be."""


def find_out_of_size(x: Floats, y: Floats, u: Floats) -> Rough | None:
    """The row whose y is many times what its neighbours lead to, or its opposite, where all others run smoothly among themselves.

    Parameters
    ----------
    x, y : ndarray, shape (rows,)
        y without noughts and of one sign but for one row at most, or nothing is said.
    u : ndarray, shape (rows,)
        Standard uncertainties of y: what is near nought is of any size and either sign.
    """
    turned = np.flatnonzero(np.sign(y) != np.sign(np.median(y)))
    if x.size < LEAST_ROWS or turned.size > 1 or not np.all(y):
        return None
    order = np.argsort(x, kind="stable")
    sizes, places = np.log10(np.abs(y[order])), x[order]
    off = _off_neighbours(places, sizes)
    candidates = np.flatnonzero(order == turned[0]) if turned.size else np.flatnonzero(np.abs(off) >= ANOTHER_SIZE)
    if not 0 < candidates.size <= MOST_CANDIDATES:
        return None
    # that one is of another size makes its neighbours look so too: it is the one without which all others are smoothest
    rest, row = min((float(np.max(np.abs(_off_neighbours(np.delete(places, i), np.delete(sizes, i))))), i) for i in candidates.tolist())
    at_end = row in (0, x.size - 1)
    if turned.size:
        # where a table crosses nought its last row has the other sign
        is_off = not at_end and max(abs(off[row]), rest) <= SAME_SIZE
    else:
        is_off = abs(off[row]) >= max(BEYOND_THE_END if at_end else ANOTHER_SIZE, SMOOTHER * rest)
        is_off = is_off and not (at_end and off[row] < 0 and _runs_down_to(row, places, np.abs(y[order])))
    expected = float(np.sign(np.median(y)) * 10.0 ** (sizes[row] - off[row]))
    if not (is_off and abs(y[order[row]] - expected) >= LEAST_FAR * float(np.median(u))):
        return None
    return Rough((int(order[row]),), expected, 0.0)


def _runs_down_to(end: int, places: Floats, values: Floats) -> bool:
    """Whether the first or last row may be as small as it is: the straight line through the two beside it comes near it, or to nought."""
    straight = values[end] - _off_neighbours(places, values)[end]
    return bool(straight < 10**BEYOND_THE_END * values[end])


def _off_neighbours(places: Floats, values: Floats) -> Floats:
    """By how much each row is off the straight line through the two beside it; the first and the last off that through the nearest two."""
    last = values.size - 1
    before, after = np.arange(-1, last), np.arange(1, last + 2)
    before[0], after[0], before[last], after[last] = 1, 2, last - 2, last - 1
    wide = places[after] - places[before]
    share = np.where(wide > 0, (places - places[before]) / np.where(wide > 0, wide, 1.0), 0.5)
    return values - (values[before] + share * (values[after] - values[before]))
