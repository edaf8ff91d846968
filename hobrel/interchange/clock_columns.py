"""Columns of times of day, with or without their date, as loggers write them: what counts is the seconds since the first row."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from itertools import pairwise

_CLOCK = r"(?P<h>\d{1,2}):(?P<min>\d\d)(?::(?P<s>\d\d)(?:[.,](?P<part>\d{1,9}))?)?(?:\s*(?P<half>[AaPp])\.?\s?[Mm]\.?)?"
_DATE = r"(?P<a>\d{1,4})(?P<mark>[-/.])(?P<b>\d{1,2})(?P=mark)(?P<c>\d{2,4})"
_ZONE = r"\s*(?P<zone>Z|[+-]\d\d:?\d\d)?"
_TIME = re.compile(_CLOCK)
_DAY = re.compile(_DATE)
_MOMENT = re.compile(rf"{_DATE}(?:[T\s]\s*|,\s*){_CLOCK}{_ZONE}")
_MINUTES = re.compile(r"(?P<min>\d{1,4}):(?P<s>\d\d(?:[.,]\d{1,9})?)")
_FORM = re.compile(r"\s*[(\[]\s*(?P<form>h{1,2}:m{2}(?::s{2})?|m{1,2}:s{2})(?:[.,:][a-z0-9]+)?\s*[)\]]\s*$", re.IGNORECASE)
_DAY_SECONDS = 86_400
_MOST = 0.9
"""The share of a column's cells that are times where it is one of times: below it something else may be written."""
# in which order a date has its year, month and day
_ORDERS = (("a", "b", "c"), ("c", "b", "a"), ("c", "a", "b"))


@dataclass(frozen=True)
class ClockColumn:
    """A column of times: its cells in seconds, with the decimals that they were written with, and what the seconds are counted from; empty
    where a stopwatch has counted them. What is no time stands as it was.
    """

    cells: tuple[str, ...]
    since: str

    @property
    def words(self) -> str:
        """What its cells are made into, for whoever ticks it."""
        return f"seconds since {self.since}" if self.since else "in seconds"


def without_form(heading: str) -> str:
    """A heading without the form in which its times are written: “Time” for “Time (mm:ss)”."""
    return _FORM.sub("", heading)


def read_clock(cells: Sequence[str], heading: str, days: Sequence[str] | None) -> ClockColumn | None:
    """A column as times in seconds; None for one that is none, or whose times are read as they stand (a stopwatch's 0:01:05.2).

    Parameters
    ----------
    cells : sequence of str
        Those below the heading.
    heading : str
        As it is written; a form in it says what minutes and seconds are.
    days : sequence of str or None
        The cells of the column of dates that the table has beside it.
    """
    if form := _FORM.search(heading):
        return _by_form(cells, form["form"].lower())
    written = [f"{day} {cell}" if cell else "" for day, cell in zip(days, cells, strict=True)] if days is not None else list(cells)
    for pattern in (_MOMENT, _TIME):
        if found := _find_most(pattern, written):
            return _since_first(cells, found, dated=pattern is _MOMENT)
    return None


def are_days(cells: Sequence[str]) -> bool:
    """Whether a column holds dates."""
    return _find_most(_DAY, cells) is not None


def is_time_of_day(cell: str) -> bool:
    """Whether a cell is a date, or a time with one or with its half of the day, which is no reading by itself."""
    clock = _TIME.fullmatch(cell)
    return bool(_DAY.fullmatch(cell) or _MOMENT.fullmatch(cell) or (clock and clock["half"]))


def _find_most(pattern: re.Pattern[str], cells: Sequence[str]) -> list[re.Match[str] | None] | None:
    """What is found in each cell, where it is found in the first that is filled and in most of them."""
    if not pattern.fullmatch(next(filter(None, cells), "")):
        return None
    found = [pattern.fullmatch(cell) for cell in cells]
    filled = sum(1 for cell in cells if cell)
    return found if sum(1 for match in found if match) >= _MOST * filled else None


def _by_form(cells: Sequence[str], form: str) -> ClockColumn | None:
    """Times that their heading says how to read: (mm:ss), (hh:mm); of (hh:mm:ss) they say it themselves."""
    if form.count(":") > 1:
        return None
    found = _find_most(_MINUTES, cells)
    if found is None:
        return None
    of_first = 3600 if form.startswith("h") else 60

    def seconds(match: re.Match[str]) -> Decimal:
        return Decimal(match["min"]) * of_first + Decimal(match["s"].replace(",", ".")) * (of_first // 60)

    return ClockColumn(tuple(f"{seconds(match):f}" if match else cell for match, cell in zip(found, cells, strict=True)), "")


def _since_first(cells: Sequence[str], found: Sequence[re.Match[str] | None], dated: bool) -> ClockColumn | None:
    moments = [match for match in found if match is not None]
    seconds = _seconds_of_dates(moments) if dated else _seconds_of_day(moments)
    if seconds is None:
        return None
    passed = iter([second - seconds[0] for second in seconds])
    first = next(cell for cell, match in zip(cells, found, strict=True) if match)
    return ClockColumn(tuple(cell if match is None else f"{next(passed):f}" for cell, match in zip(cells, found, strict=True)), first)


def _seconds_of_day(moments: Sequence[re.Match[str]]) -> list[Decimal] | None:
    """Times of day, behind midnight those of the next; None for what a stopwatch may have counted."""
    seconds = [_second_of_day(moment) for moment in moments]
    if any(s is None or (moment["s"] is None and moment["half"] is None) for s, moment in zip(seconds, moments, strict=True)):
        return None
    known = [s for s in seconds if s is not None]
    nights = [later < earlier for earlier, later in pairwise(known)]
    is_night = [earlier >= 23 * 3600 and later < 3600 for earlier, later in pairwise(known)]
    if not all(moment["half"] for moment in moments) and not (any(nights) and nights == is_night):
        return None
    days = 0
    passed = [known[0]]
    for late, second in zip(is_night, known[1:], strict=True):
        days += late
        passed.append(second + days * _DAY_SECONDS)
    return passed


def _second_of_day(moment: re.Match[str]) -> Decimal | None:
    hours, minutes, whole = int(moment["h"]), int(moment["min"]), int(moment["s"] or 0)
    if moment["half"]:
        if not 1 <= hours <= 12:
            return None
        hours = hours % 12 + (12 if moment["half"].lower() == "p" else 0)
    if hours > 23 or minutes > 59 or whole > 59:
        return None
    return Decimal(f"{hours * 3600 + minutes * 60 + whole}.{moment['part']}" if moment["part"] else hours * 3600 + minutes * 60 + whole)


def _seconds_of_dates(moments: Sequence[re.Match[str]]) -> list[Decimal] | None:
    """Dates with times. Of those whose day and month could be exchanged it is the order by which least time has passed."""
    ways = [seconds for order in _ORDERS if (seconds := _in_order(moments, order)) is not None]
    forward = [w for w in ways if all(a <= b for a, b in pairwise(w))]
    return min(forward or ways, key=lambda w: max(w) - min(w), default=None)


def _in_order(moments: Sequence[re.Match[str]], order: tuple[str, str, str]) -> list[Decimal] | None:
    seconds = []
    for moment in moments:
        day, second = _day_of(moment, order), _second_of_day(moment)
        if day is None or second is None:
            return None
        seconds.append(day.toordinal() * _DAY_SECONDS + second - _ahead(moment["zone"]))
    return seconds


def _day_of(moment: re.Match[str], order: tuple[str, str, str]) -> date | None:
    year, month, day = (moment[part] for part in order)
    if len(year) not in (2, 4):
        return None
    try:
        return date(int(year) + (2000 if len(year) == 2 else 0), int(month), int(day))
    except ValueError:
        return None


def _ahead(zone: str | None) -> int:
    """Seconds by which a zone's clocks are ahead."""
    if not zone or zone == "Z":
        return 0
    return (int(zone[1:3]) * 3600 + int(zone[-2:]) * 60) * (-1 if zone[0] == "-" else 1)
