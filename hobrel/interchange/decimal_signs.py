"""Which sign is the decimal sign in a table of text, where cells or thousands are parted by one that could be it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import dropwhile

from hobrel.server.problems import Problem

_DIGITS = re.compile(r"[+\-−–]?\d+")
# a decimal sign for certain: what is behind it, or before it, cannot be a group of three
_POINT = re.compile(r"[+\-−–]?(?:\d+\.(?:\d{1,2}|\d{4,})|0\.\d+|\d{4,}\.\d*|\.\d+)(?:[eE][+-]?\d+)?|[+\-−–]?\d{1,3}(?:,\d{3})+\.\d*")
_COMMA = re.compile(r"[+\-−–]?(?:\d+,(?:\d{1,2}|\d{4,})|0,\d+|\d{4,},\d*|,\d+)(?:[eE][+-]?\d+)?|[+\-−–]?\d{1,3}(?:\.\d{3})+,\d*")
_GROUPED_BY_COMMA = re.compile(r"[+\-−–]?[1-9]\d{0,2}(?:,\d{3})+(?:\.\d*)?")
_GROUPED_BY_POINT = re.compile(r"[+\-−–]?[1-9]\d{0,2}(?:\.\d{3})+(?:,\d*)?")
_LOOKED_AT, _BELOW = 2000, 20


def join_decimal_commas(rows: Sequence[Sequence[str]]) -> list[list[str]] | None:
    """A table whose cells are parted by commas, and whose numbers have decimal commas too: each two cells below a heading are one number.

    None where there is nothing to join.

    Raises
    ------
    Problem
        422 ``not_a_table`` where only some numbers have decimals, so that nobody can tell which cells belong together.
    """
    # from below: what stands under the numbers is no heading
    upwards = list(dropwhile(_are_words, (row for row in reversed(rows) if any(row))))
    below = upwards[:_BELOW]
    width = len(below[0]) if below else 0
    if any(len(row) != width or not all(_DIGITS.fullmatch(c) for c in row) for row in below if not _are_words(row)):
        return None
    heads = next(filter(_are_words, upwards), None)
    if heads is None or len(heads) >= width or any(not c.isdecimal() for row in below if not _are_words(row) for c in row[1::2]):
        return None
    if width != 2 * len(heads):
        raise Problem(
            422,
            "not_a_table",
            f"There are {len(heads)} headings, and {width} numbers in each row: commas seem to part the cells and to be decimal signs too. "
            "Save it with semicolons between the cells, or with decimal points.",
        )
    return [[f"{a},{b}" for a, b in zip(row[::2], row[1::2], strict=True)] if len(row) == width else list(row) for row in rows]


def _are_words(row: Sequence[str]) -> bool:
    return not any(_DIGITS.fullmatch(c) for c in row) and all(row)


def take_out_thousands(rows: list[list[str]]) -> tuple[list[list[str]], bool]:
    """A table without the signs that part thousands, where other cells show which sign is the decimal one; and whether there were any."""
    seen = [cell for row in rows[:_LOOKED_AT] for cell in row]
    points, commas = any(_POINT.fullmatch(c) for c in seen), any(_COMMA.fullmatch(c) for c in seen)
    if points == commas:
        return rows, False
    grouped, sign = (_GROUPED_BY_COMMA, ",") if points else (_GROUPED_BY_POINT, ".")
    if not any(sign in c and grouped.fullmatch(c) for row in rows for c in row):
        return rows, False
    return [[c.replace(sign, "") if sign in c and grouped.fullmatch(c) else c for c in row] for row in rows], True
