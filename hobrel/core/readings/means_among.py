"""Columns of a table that hold the means of others: what somebody has worked out beside what was read."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from decimal import Decimal
from functools import cache

from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_written

_CALLED_MEAN = re.compile(r"(?:^|[^a-z])(?:mean|average|avg|ave|av)(?:$|[^a-z])", re.IGNORECASE)
_FEWEST_ROWS = 2
_MOST_COLUMNS = 12
"""That a mean is made of, and that stand between it and them."""
_OF_DOUBLES = Decimal("1e-12")
"""By how much of itself a mean with more digits than a double has is off."""


def find_means(headings: Sequence[str], columns: Sequence[Sequence[str]]) -> dict[int, tuple[int, ...]]:
    """The columns that are called means and are those of two or more columns beside one another before them.

    Parameters
    ----------
    headings : sequence of str, of length n
    columns : sequence of sequences of str, of length n
        Cells as they were written, as many in each.

    Returns
    -------
    dict of int to tuple of int
        For every column of means, by its place, the places of those that it is made of.
    """
    numbers = cache(lambda place: tuple(_read(cell) for cell in columns[place]))
    found = {}
    for place in (i for i, heading in enumerate(headings) if _CALLED_MEAN.search(heading)):
        made_of = next((run for run in _runs_before(place) if _are_means(numbers(place), [numbers(i) for i in run])), None)
        if made_of is not None:
            found[place] = made_of
    return found


def _runs_before(place: int) -> Iterator[tuple[int, ...]]:
    """Columns beside one another, the nearest first and of these the most."""
    for last in range(place, max(1, place - _MOST_COLUMNS), -1):
        for first in range(max(0, last - _MOST_COLUMNS), last - 1):
            yield tuple(range(first, last))


def _read(cell: str) -> Decimal | None:
    try:
        return parse_written(cell).value
    except CoreError:
        return None


def _are_means(means: Sequence[Decimal | None], columns: Sequence[Sequence[Decimal | None]]) -> bool:
    rows = [(mean, [n for n in row if n is not None]) for mean, *row in zip(means, *columns, strict=True) if mean is not None]
    return len(rows) >= _FEWEST_ROWS and all(row and _is_mean(mean, row) for mean, row in rows)


def _is_mean(mean: Decimal, row: Sequence[Decimal]) -> bool:
    """Whether it is the mean, rounded or cut off at its last place."""
    exact = sum(row, Decimal(0)) / len(row)
    place = Decimal(1).scaleb(int(mean.as_tuple().exponent))
    is_rounded = abs(mean - exact) <= max(place / 2, _OF_DOUBLES * abs(exact))
    return is_rounded or 0 <= abs(exact) - abs(mean) < place
