"""What a table seems to hold: headings, units, which column is which quantity."""

from __future__ import annotations

import re
from collections.abc import Sequence, Set
from dataclasses import dataclass, replace
from itertools import accumulate

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.readings.heading_units import LONGEST_HEADING, SplitHeading, split_heading
from hobrel.core.readings.headings import may_repeat, read_headings, uncertainty_of
from hobrel.core.readings.means_among import find_means
from hobrel.core.units.calculus import parse_unit, same_dimension
from hobrel.interchange.clock_columns import ClockColumn, are_days, is_time_of_day, read_clock, without_form
from hobrel.interchange.tables import Sheet

_BUT_HEADING = re.compile(r"^(?:1\s*/\s*[^\d\s]|\d+(?:st|nd|rd|th)\b|\d+\s+[^\W\d_]{4,})")
_NUMBER = re.compile(r"^\s*[+\-−–]?\s*(\d|[.,]\d)")
_SUBSCRIPTS, _TO_DIGITS = re.compile("[₀-₉]+"), str.maketrans("₀₁₂₃₄₅₆₇₈₉", "0123456789")
LOOKED_AT, SHOWN, _TOP = 2000, 8, 60


@dataclass(frozen=True)
class Target:
    """Where a column goes: a quantity of the lab book (by id) and which of its repeats, or with `is_u` the ± of its readings.

    ``new:3`` is a quantity that is not there yet, called as the heading of column 3 says.
    """

    quantity: str
    repeat: int = 0
    is_u: bool = False


NEW = "new:"


@dataclass(frozen=True)
class ColumnLook:
    """A column as it seems to be; `target` is a suggestion, `words` say what is made of its cells."""

    index: int
    heading: str
    unit: str
    numbers: int
    blanks: int
    texts: int
    first: tuple[str, ...]
    target: Target | None
    words: str = ""


@dataclass(frozen=True)
class SheetLook:
    """A table as it seems to be: which row its headings are in (None for none), and its columns."""

    name: str
    heading_row: int | None
    first_row: int
    rows: int
    columns: tuple[ColumnLook, ...]


def look_at(sheet: Sheet, book: LabBook) -> SheetLook:
    """Look a table over, and suggest which quantity each column is."""
    heading_row, first, heads, body = _part(sheet)
    clocks = _find_clocks(body[:LOOKED_AT], heads)
    read = [q for q in book.quantities if q.kind in ("changed", "measured")]
    heads = [(without_form(name), "s") if i in clocks else _as_meant(name, unit, read) for i, (name, unit) in enumerate(heads)]
    means = find_means([name for name, _ in heads], [[row[i] if i < len(row) else "" for row in body[:_TOP]] for i in range(len(heads))])
    filled = [i not in means and (i in clocks or _is_filled(body, i)) for i in range(len(heads))]
    targets = _suggest(heads, filled, book)
    columns = []
    for i, (name, unit) in enumerate(heads):
        cells = [r[i] if i < len(r) else "" for r in body[:LOOKED_AT]]
        numbers = sum(1 for c in (clocks[i].cells if i in clocks else cells) if _reads(c))
        blanks = sum(1 for c in cells if not c)
        texts = len(cells) - numbers - blanks
        words = clocks[i].words if i in clocks else _say_means([heads[k][0] for k in means[i]]) if i in means else ""
        columns.append(ColumnLook(i, name, unit, numbers, blanks, texts, tuple(cells[:SHOWN]), targets.get(i), words))
    return SheetLook(sheet.name, heading_row, first, len(body), tuple(columns))


def _say_means(names: Sequence[str]) -> str:
    return f"the means of {', '.join(names)}, which are worked out here"


def _part(sheet: Sheet) -> tuple[int | None, int, list[tuple[str, str]], list[list[str]]]:
    """A table in its parts: the row of headings, the first row of numbers, names and units, and the rows that are not empty."""
    heading_row, first = _find_body(sheet.rows)
    # what stands above the headings may be a sentence of many words
    width = max((len(r) for r in sheet.rows[first if heading_row is None else heading_row :]), default=0)
    body = [r for r in sheet.rows[first:] if any(c for c in r)]
    return heading_row, first, _carry_over(_headings(sheet.rows, heading_row, first, width), body), body


def _find_clocks(body: Sequence[Sequence[str]], heads: Sequence[tuple[str, str]]) -> dict[int, ClockColumn]:
    """The columns of a table that are times of day, or of a form that their heading says, in seconds."""
    columns = [[row[i] if i < len(row) else "" for row in body] for i in range(len(heads))]
    days = next((cells for cells in columns if are_days(cells)), None)
    clocks = {i: read_clock(cells, heads[i][0], days) for i, cells in enumerate(columns) if cells is not days}
    return {i: clock for i, clock in clocks.items() if clock is not None}


def count_seconds(sheet: Sheet, wanted: Set[int]) -> tuple[Sheet, frozenset[int]]:
    """The table with seconds in the place of the times of day in the wanted columns, and which of them hold some."""
    _, first, heads, body = _part(sheet)
    if not wanted & _find_clocks(body[:LOOKED_AT], heads).keys():
        return sheet, frozenset()
    clocks = {i: clock.cells for i, clock in _find_clocks(body, heads).items() if i in wanted}
    rows = [[clocks[i][k] if i in clocks else cell for i, cell in enumerate(row)] for k, row in enumerate(body)]
    return replace(sheet, rows=[*sheet.rows[:first], *rows]), frozenset(clocks)


_UNIT_BEHIND = re.compile(r"^(?P<name>.+?)[_ ](?:in[_ ])?(?P<unit>[^\W_]+|°[A-Z])$")
_DEGREES = {"C": "°C", "F": "°F"}


def _as_meant(name: str, unit: str, read: Sequence[Quantity]) -> tuple[str, str]:
    """A heading as programs and loggers write it, by what is read: T_degC, Time s; a temperature in C; a unit and no name."""
    called = [q for q in read if name.lower() in _names_of(q) or _shortens(name.lower(), q, read)]
    if unit:
        degrees = _DEGREES.get(unit, unit)
        is_temperature = bool(re.search(r"\btemp", name.lower())) or any(fits(degrees, q.unit) for q in called)
        return name, degrees if is_temperature else unit
    if called:
        return name, unit
    parts = _UNIT_BEHIND.match(name)
    if parts is not None:
        apart = _as_meant(parts["name"], parts["unit"], read)
        if any(fits(apart[1], q.unit) and apart[0].lower() in _names_of(q) for q in read):
            return apart
    is_unit = re.fullmatch(r"[^\W\d_]{2,}|°[A-Z]", name) and any(q.unit and fits(name, q.unit) for q in read)
    return (name, name) if is_unit else (name, unit)


def _names_of(quantity: Quantity) -> set[str]:
    names = {canonical_name(quantity.symbol).lower(), quantity.name.lower()}
    return names | {n.replace("_", "") for n in names}


def _reads(cell: str) -> bool:
    """Whether a cell begins like a reading, and is no time of day, which is none."""
    return bool(_NUMBER.match(cell)) and not is_time_of_day(cell)


def _find_body(rows: list[list[str]]) -> tuple[int | None, int]:
    """The row of headings and the first row of numbers: where numbers begin and go on."""
    for i, row in enumerate(rows[:_TOP]):
        filled = [c for c in row if c]
        numbers = [c for c in filled if _is_number(c)]
        if numbers and (len(numbers) >= len(filled) / 2 or _begins_below_headings(rows, i)) and not _is_about_the_file(rows, i):
            above = next((k for k in range(i - 1, -1, -1) if any(rows[k])), None)
            headed = above is not None and not any(_is_number(c) for c in rows[above] if c)
            if headed and above and _are_units(rows[above]) and len([c for c in rows[above - 1] if c]) == len(rows[above]):
                above -= 1
            goes_on = i + 1 < len(rows) and any(_is_number(c) for c in rows[i + 1])
            numbered = headed and above is not None and goes_on and _are_repeats(rows[above], row)
            return (above if headed else None), i + 1 if numbered else i
    return (0 if rows else None), min(1, len(rows))


def _is_about_the_file(rows: list[list[str]], i: int) -> bool:
    """Whether a row with numbers is of what a logger writes about itself (“Interval; 0.5 s”): headings come later, and where numbers stand
    below them there are words in this row.
    """
    for h in range(i + 1, min(i + _TOP, len(rows) - 1)):
        heads, below = rows[h], next((r for r in rows[h + 1 :] if any(r)), [])
        if len([c for c in heads if c]) < 2 or any(_is_number(c) for c in heads):
            continue
        counted = [k for k, c in enumerate(below) if _is_number(c)]
        if any(k < len(rows[i]) and rows[i][k] and not _is_number(rows[i][k]) for k in counted):
            return True
    return False


def _begins_below_headings(rows: list[list[str]], i: int) -> bool:
    """Whether a row with few numbers among words is the first below headings: as many cells stand above it, none of them a number, and its
    numbers go on below.
    """
    above, row, below = (rows[k] if 0 <= k < len(rows) else [] for k in (i - 1, i, i + 1))
    if any(_is_number(c) for c in above) or len([c for c in above if c]) < max(2, len([c for c in row if c])):
        return False
    return all(k >= len(below) or not below[k] or _is_number(below[k]) for k, c in enumerate(row) if _is_number(c))


def _is_number(cell: str) -> bool:
    """Whether a cell begins like a reading; 1/T, 2nd time and 10 swings (s) are headings."""
    return bool(_NUMBER.match(cell)) and not _BUT_HEADING.match(cell)


def _are_repeats(heads: list[str], below: list[str]) -> bool:
    """A row of the numbers of repeats, below names that stand over several columns."""
    numbers = [int(c) if re.fullmatch(r"[1-9]\d?", c) else 0 for c in below]
    over = [*heads, *[""] * (len(below) - len(heads))]
    if not any(c and not head for head, c in zip(over, below, strict=False)):
        return False
    begins = [n == 1 or (not head and n > 1 and n == before + 1) for head, n, before in zip(over, numbers, [0, *numbers], strict=False)]
    return all(begin or not c for begin, c in zip(begins, below, strict=True))


def _are_units(cells: list[str]) -> bool:
    """A row of units under the headings."""
    try:
        return all(parse_unit(c.strip("()[]")) for c in cells)
    except CoreError:
        return False


def _headings(rows: list[list[str]], heading_row: int | None, first: int, width: int) -> list[tuple[str, str]]:
    if heading_row is None:
        return [("", "")] * width
    cells = rows[heading_row] + [""] * (width - len(rows[heading_row]))
    # as in a pasted table: what is longer than a heading can be is cut, for it is tried word against word
    cells = [c.lstrip("#").strip()[:LONGEST_HEADING] for c in cells]
    heads = [split_heading(c) for c in cells]
    if heading_row + 1 < first:
        below = rows[heading_row + 1] + [""] * (width - len(rows[heading_row + 1]))
        if _are_repeats(cells, below):
            over = accumulate(heads, lambda before, head: head if head.name else before)
            numbered = zip(heads, over, below, strict=True)
            heads = [replace(of, name=f"{of.name} {number}") if number else head for head, of, number in numbered]
        else:
            units = [split_heading(f"x ({unit.strip('()[]/ ')})").unit for unit in below]
            heads = [replace(head, unit=head.unit or unit) for head, unit in zip(heads, units, strict=True)]
    return [(write_name(head), head.unit) for head in heads]


def write_name(head: SplitHeading) -> str:
    """The name in a heading, with the ± that it gives."""
    return f"{head.name} ± {head.u}" if head.u else head.name


def _carry_over(heads: list[tuple[str, str]], body: list[list[str]]) -> list[tuple[str, str]]:
    """The heading of a column that has none, where it may repeat the one before it: one name over several columns stands over the first."""
    found = list(heads)
    columns = [[row[i] if i < len(row) else "" for row in body[:LOOKED_AT]] for i in range(len(heads))]
    for i in range(2, len(heads)):
        name, unit = found[i - 1]
        if name and not heads[i][0] and uncertainty_of(write_heading(name, unit)) is None and may_repeat(columns[i - 1], columns[i]):
            found[i] = name, unit
    return found


def _is_filled(body: list[list[str]], i: int) -> bool:
    cells = [r[i] for r in body[:200] if i < len(r) and r[i]]
    return bool(cells) and sum(1 for c in cells if _reads(c)) >= len(cells) / 2


def _suggest(heads: Sequence[tuple[str, str]], filled: Sequence[bool], book: LabBook) -> dict[int, Target]:
    """By heading where there is one that fits; else, in a table without headings, in order."""
    read = [q for q in book.quantities if q.kind in ("changed", "measured")]
    found: dict[int, Target] = {}
    if not any(name for name, _ in heads):
        places = [Target(q.id, i) for q in read for i in range(q.repeats)]
        return dict(zip([i for i, full in enumerate(filled) if full], places, strict=False))
    taken: set[Target] = set()
    worded, read = [q for q in read if q.holds == "words"], [q for q in read if q.holds == "numbers"]
    for i, (name, unit) in enumerate(heads):
        target = _match(name, unit, read, taken) if filled[i] else _match(name, "", worded, taken)
        if target is not None:
            found[i] = target
            taken.add(target)
    found.update(_suggest_by_unit(heads, [full and i not in found for i, full in enumerate(filled)], read, taken))
    found.update(_suggest_u(heads, [full and i not in found for i, full in enumerate(filled)], read))
    if book.freedoms.plan:
        found.update(_suggest_new(heads, [full and i not in found for i, full in enumerate(filled)]))
    return found


def _suggest_by_unit(
    heads: Sequence[tuple[str, str]], left: Sequence[bool], read: Sequence[Quantity], taken: set[Target]
) -> dict[int, Target]:
    """A column that is called otherwise, where its unit leaves no choice: one column of its kind is left, and one quantity."""
    free = [q for q in read if q.unit and all(t.quantity != q.id for t in taken)]
    fitting = {i: [q for q in free if fits(heads[i][1], q.unit)] for i, unmatched in enumerate(left) if unmatched and heads[i][1]}
    found = {}
    for i, quantities in fitting.items():
        alike = [k for k, others in fitting.items() if others == quantities]
        if len(quantities) == 1 and alike == [i] and not uncertainty_of(write_heading(*heads[i])):
            found[i] = Target(quantities[0].id)
    return found


def _suggest_u(heads: Sequence[tuple[str, str]], left: Sequence[bool], read: Sequence[Quantity]) -> dict[int, Target]:
    """Columns that hold the ± of a quantity that is there."""
    found = {}
    for i in (i for i, free in enumerate(left) if free and heads[i][0]):
        of = uncertainty_of(write_heading(*heads[i]))
        target = _match((whose := split_heading(of)).name, whose.unit, read, set()) if of else None
        if target is not None:
            found[i] = Target(target.quantity, 0, is_u=True)
    return found


def _suggest_new(heads: Sequence[tuple[str, str]], left: Sequence[bool]) -> dict[int, Target]:
    """What columns that are none of the quantities there are could become: new ones, their repeats and their ±."""
    places = [i for i, free in enumerate(left) if free and heads[i][0]]
    try:
        block = read_headings([write_heading(*heads[i]) for i in places])
    except CoreError:
        return {i: Target(f"{NEW}{i}") for i in places}
    first: dict[int, int] = {}
    found = {}
    for i, column in zip(places, block.columns, strict=True):
        if column is not None:
            found[i] = Target(f"{NEW}{first.setdefault(column.quantity, i)}", column.repeat, column.is_u)
    return found


def write_heading(name: str, unit: str) -> str:
    """A heading of a name and a unit that were read from one."""
    return f"{name} ({unit})" if unit else name


def _match(name: str, unit: str, read: Sequence[Quantity], taken: set[Target]) -> Target | None:
    plain = _SUBSCRIPTS.sub(lambda m: "_" + m[0].translate(_TO_DIGITS), canonical_name(split_heading(name).name)).strip().lower()
    # “t_10 2”, “t 2”, “t2” is the second repeat of a quantity that has repeats
    base, _, number = re.match(r"^(.*?)([\s_#]*)(\d+)$", plain).groups() if re.match(r"^.*?\d+$", plain) else (plain, "", "")  # type: ignore[union-attr]
    for quantity in read:
        names = _names_of(quantity)
        if unit and not fits(unit, quantity.unit):
            continue
        candidates = []
        if plain in names or _shortens(plain, quantity, read):
            candidates = [Target(quantity.id, r) for r in range(quantity.repeats)]
        elif number and quantity.repeats > 1 and (base in names or any(n.startswith(base) for n in names if base)):
            candidates = [Target(quantity.id, int(number) - 1)] if 1 <= int(number) <= quantity.repeats else []
        for candidate in candidates:
            if candidate not in taken:
                return candidate
    return None


def _shortens(plain: str, quantity: Quantity, read: Sequence[Quantity]) -> bool:
    """Whether a heading is the beginning of the name of this quantity (Temp) and of no other."""
    begun = [q for q in read if len(plain) > 2 and (word := q.name.lower().split(" ")[0]).startswith(plain) and word != plain]
    return begun == [quantity] and not any(plain in _names_of(q) for q in read)


def fits(unit: str, wanted: str) -> bool:
    """Whether two units go together."""
    try:
        return same_dimension(parse_unit(unit), parse_unit(wanted))
    except CoreError:
        return False
