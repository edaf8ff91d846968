"""Slips of a table: what is wrong is looked for in whole columns first, then in repeats, then in rows, and said once for one cause.

All limits are common practice; each slip is a question, and nothing is changed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from hobrel.core.checks.planes import Measurement, is_squared, planes_of
from hobrel.core.checks.repeats import Lone, find_lone_repeats
from hobrel.core.checks.sizes import find_out_of_size
from hobrel.core.checks.smooth import Rough, find_rough
from hobrel.core.checks.table import Slip, look_over_cells, power_of_ten_between, read_columns, say_factor
from hobrel.core.document.lab_book import LabBook
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.readings.instruments import expected_decimals
from hobrel.core.rounding import with_unit, write_number, write_to_decimals
from hobrel.core.sentences import Sentence, say
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import tidy_unit

BY_SHARE = 10.0
"""How many times as likely by chance what is noticed may be, where readings scatter by a share of what is read."""
STEADY = 0.02
"""Share of a step by which evenly set values may miss their places."""


def find_slips(columns: RunColumns, book: LabBook, finished: bool = False) -> tuple[Slip, ...]:
    """All slips of one run's readings, in table order. A log is not asked about: nobody has written it.

    Parameters
    ----------
    columns : RunColumns
    book : LabBook
        Its graphs say in which plots the table should be straight.
    finished : bool
        Whether nobody writes any more, so that a blank at the end is one.
    """
    if columns.run.log is not None:
        return ()
    cells = look_over_cells(columns, finished)
    whole = _whole_columns(columns, book)
    of_columns = {s.quantity for s in whole}
    found = [*whole, *(s for s in cells if s.quantity not in of_columns or s.kind != "wrong_decimals")]
    swapped = _swapped_cells(columns)
    found += [*swapped, *_twice_the_same(columns)]
    lone = [] if "direction" in {s.kind for s in whole} else _lone_repeats(columns)
    found += lone
    # a row of which something is said already would be rough for that reason
    known = {s.setting for s in found if not s.whole_column}
    if not whole:
        found += _rough_rows(columns, book, known)
    order = {s.id: i for i, s in enumerate(columns.run.settings)}
    return tuple(sorted(_once_for_one_cause(found), key=lambda s: order[s.setting]))


def _once_for_one_cause(found: Sequence[Slip]) -> list[Slip]:
    """Of what is said of one setting that which says most: decimals are wrong because two cells are swapped, or a point is misplaced."""
    explained = {(s.setting, s.quantity) for s in found if s.kind in ("lone_repeat", "factor", "off_trend")}
    exchanged = {s.setting for s in found if s.kind == "swapped"}
    kept = []
    for slip in found:
        place = (slip.setting, slip.quantity)
        if slip.kind == "wrong_decimals" and not slip.whole_column and (place in explained or slip.setting in exchanged):
            continue
        if slip.kind in ("lone_repeat", "factor", "off_trend") and slip.setting in exchanged:
            continue
        kept.append(slip)
    return kept


def _whole_columns(columns: RunColumns, book: LabBook) -> list[Slip]:
    """Columns typed in the wrong direction, and squared by hand under their old heading."""
    found = []
    for column in read_columns(columns):
        first = next((i for i, r in enumerate(column.readings) if r), None)
        if first is None:
            continue
        place = columns.run.id, columns.run.settings[first].id, column.quantity.id, None
        if _is_typed_in_the_wrong_direction(column):
            message = say(
                "direction", "The repeats of {symbol} differ within a setting as much as between settings. "
                "Were they typed across instead of down, or down instead of across?", symbol=plain_symbol(column.quantity),
            )  # fmt: skip
            found.append(Slip("direction", *place, message, True))
        elif column.quantity.kind == "measured" and is_squared(columns, book, column):
            message = say(
                "squared", "With the roots of these numbers the plot would be straight. "
                "Is this {symbol} squared already, under the heading {symbol}?", symbol=plain_symbol(column.quantity),
            )  # fmt: skip
            found.append(Slip("squared", *place, message, True))
    return found


def _lone_repeats(columns: RunColumns) -> list[Slip]:
    found = []
    aside = columns.run.rows_aside()
    for column in read_columns(columns):
        if column.quantity.repeats < 2 or column.averages is None:
            continue
        counted = [
            []
            if out
            else [(place, s.text, float(s.parsed.value)) for place, s in zip(places, states, strict=True) if s.parsed and not s.set_aside]
            for out, states, places in zip(aside, column.averages.readings, column.averages.places, strict=True)
        ]
        groups = [[value for _, _, value in row] for row in counted]
        decimals = _decimals_of(column)
        for lone in find_lone_repeats(groups, 10.0**-decimals):
            row = counted[lone.row]
            place = _which_of_two(row) if lone.place is None else lone.place
            setting = columns.run.settings[lone.row].id
            message = _say_lone(row, place, lone, decimals, column)
            found.append(
                Slip(
                    kind="lone_repeat",
                    run=columns.run.id,
                    setting=setting,
                    quantity=column.quantity.id,
                    repeat=row[place][0],
                    message=message,
                )
            )
    return found


def _decimals_of(column: Column) -> int:
    """Decimals of the instrument, or of most readings."""
    if column.quantity.instrument is not None:
        return expected_decimals(column.quantity.instrument) or 0
    return max((s.parsed.decimals for row in column.readings for s in row if s.parsed), default=0)


def _which_of_two(row: Sequence[tuple[int, str, float]]) -> int:
    """Of two repeats that differ the one that is written otherwise, or else the second."""
    return 0 if len(row[0][1]) > len(row[1][1]) else 1


def _say_lone(row: Sequence[tuple[int, str, float]], place: int, lone: Lone, decimals: int, column: Column) -> Sentence:
    value = row[place][2]
    fellows = [v for i, (_, _, v) in enumerate(row) if i != place]
    level = sum(fellows) / len(fellows)
    others = {1: "the other", 2: "the other two"}.get(len(fellows), "the others")
    factor = power_of_ten_between(value, level)
    if factor is not None:
        return say(
            "lone_repeat_factor", "One repeat is about {factor} {others}. Is the decimal point in the right place?",
            factor=say_factor(factor), others=others,
        )  # fmt: skip
    apart = with_unit(write_to_decimals(lone.distance, decimals), tidy_unit(column.quantity.unit))
    turned = _turned_digits(row[place][1], level, lone.distance / 10)
    if turned:
        return say(
            "lone_repeat_turned", "One repeat is {apart} from {others}. Should {reading} be {turned}?",
            apart=apart, others=others, reading=row[place][1], turned=turned,
        )  # fmt: skip
    return say(
        "lone_repeat", "One repeat is {apart} from {others}. Look at it again, or set it aside with a reason.", apart=apart, others=others
    )


def _turned_digits(text: str, expected: float, near: float) -> str:
    """The text with two neighbouring digits exchanged, where that brings it near what is expected."""
    digits = [i for i, letter in enumerate(text) if letter.isdigit()]
    for a, b in pairwise(digits):
        turned = list(text)
        turned[a], turned[b] = text[b], text[a]
        other = "".join(turned)
        try:
            if text[a] != text[b] and abs(float(other.replace(",", ".")) - expected) <= near:
                return other
        except ValueError:
            return ""
    return ""


def _rough_rows(columns: RunColumns, book: LabBook, known: set[str]) -> list[Slip]:
    """The row of which the table is rough, or two that have changed places."""
    read = read_columns(columns)
    changed = next((c for c in read if c.quantity.kind == "changed"), None)
    if changed is None:
        return []
    out = np.array(columns.run.rows_aside(), dtype=bool) | np.array([s.id in known for s in columns.run.settings], dtype=bool)
    rough: list[tuple[Measurement, Rough]] = []
    for column in read:
        if column is changed:
            continue
        measurement = Measurement.of(columns, changed, column, out)
        if measurement is None:
            continue
        found = find_out_of_size(measurement.x, measurement.y, measurement.u) or _find_rough(measurement, columns, book)
        if found is not None:
            rough.append((measurement, found))
    if not rough:
        return []
    measurement, found = min(rough, key=lambda pair: pair[1].chance)
    rows = [int(measurement.rows[i]) for i in found.rows]
    settings = [columns.run.settings[row].id for row in rows]
    if len(rows) == 2:
        message = say(
            "exchanged", "{symbol} of settings {one} and {other} seem to have changed places: the other way round the table runs smoothly.",
            symbol=plain_symbol(measurement.column.quantity), one=rows[0] + 1, other=rows[1] + 1,
        )  # fmt: skip
        return [
            Slip(
                kind="exchanged",
                run=columns.run.id,
                setting=settings[0],
                quantity=measurement.column.quantity.id,
                repeat=None,
                message=message,
            )
        ]
    several = sum(int(m.rows[f.rows[0]]) == rows[0] for m, f in rough) > 1
    x_expected = _out_of_step(changed, rows[0], out, several)
    if x_expected is not None:
        assert changed.averages is not None
        return [_row_slip(columns, changed, rows[0], float(changed.averages.value[rows[0]]), x_expected)]
    return [_row_slip(columns, measurement.column, rows[0], float(measurement.y[found.rows[0]]), found.expected)]


def _find_rough(measurement: Measurement, columns: RunColumns, book: LabBook) -> Rough | None:
    """As `find_rough`; where no repeats say how readings scatter, only what is as rough when they scatter by a share of what is read."""
    found = find_rough(planes_of(measurement, columns, book), measurement.dof)
    if found is None or measurement.dof:
        return found
    other = find_rough(planes_of(measurement.by_share(), columns, book), 0.0, BY_SHARE)
    if other is None or other.rows != found.rows:
        return None
    return max(found, other, key=lambda rough: rough.chance)


def _row_slip(columns: RunColumns, column: Column, row: int, value: float, expected: float) -> Slip:
    symbol, setting = plain_symbol(column.quantity), columns.run.settings[row].id
    lone = len(column.readings[row]) == 1
    factor = power_of_ten_between(value, expected)
    if factor is not None:
        message = say(
            "factor", "{symbol} is about {factor} what the other settings lead to. Look at the decimal point and the unit.",
            symbol=symbol, factor=say_factor(factor),
        )  # fmt: skip
        return Slip(
            kind="factor", run=columns.run.id, setting=setting, quantity=column.quantity.id, repeat=0 if lone else None, message=message
        )
    turned = _turned_digits(column.readings[row][0].text, expected, abs(value - expected) / 10) if lone else ""
    return Slip(
        kind="off_trend",
        run=columns.run.id,
        setting=setting,
        quantity=column.quantity.id,
        repeat=None,
        message=_say_off_trend(symbol, expected, turned),
    )


def _say_off_trend(symbol: str, expected: float, turned: str) -> Sentence:
    if not turned and not (math.isfinite(expected) and expected):
        return say("off_trend", "{symbol} is far from where the other settings lead. Look at it again.", symbol=symbol)
    about = write_number(expected, 3)
    if turned:
        return say(
            "off_trend_turned", "{symbol} is far from where the other settings lead (about {expected}). Should it be {turned}?",
            symbol=symbol, expected=about, turned=turned,
        )  # fmt: skip
    return say(
        "off_trend_expected", "{symbol} is far from where the other settings lead (about {expected}). Look at it again.",
        symbol=symbol, expected=about,
    )  # fmt: skip


def _out_of_step(changed: Column, row: int, out: np.ndarray[tuple[int], np.dtype[np.bool_]], several: bool) -> float | None:
    """What the changed quantity should be at a row, where all others are set by even steps, or steps of an even factor, and it is not; or
    where several measured quantities are off at the row. NaN where it is only known to be wrong.
    """
    assert changed.averages is not None
    values = changed.averages.value
    places = np.flatnonzero(np.isfinite(values) & ~out)
    others = places[places != row]
    for up, down in ((np.asarray, float), (np.log, math.exp)) if np.all(values[places] > 0) else ((np.asarray, float),):
        if others.size < 4:
            break
        steps = up(values[others])
        slope, at_zero = np.polyfit(others, steps, 1)
        if np.max(np.abs(steps - (slope * others + at_zero))) <= STEADY * abs(slope):
            expected = down(slope * row + at_zero)
            if abs(float(up(values[row])) - (slope * row + at_zero)) > 5 * STEADY * abs(slope):
                return float(expected)
            return math.nan if several else None
    return math.nan if several else None


def _values(column: Column, columns: RunColumns) -> Floats:
    """Means setting by setting, NaN where there is none or the setting is set aside."""
    aside = np.array(columns.run.rows_aside(), dtype=bool)
    return np.where(aside, np.nan, column.averages.value) if column.averages else np.full(aside.size, np.nan)


def _twice_the_same(columns: RunColumns) -> list[Slip]:
    found = []
    for column in read_columns(columns):
        if column.quantity.kind != "changed":
            continue
        seen: dict[float, int] = {}
        for row, value in enumerate(_values(column, columns).tolist()):
            if np.isnan(value):
                continue
            if value in seen:
                message = say(
                    "duplicate_setting", "{symbol} is the same as in setting {setting}. Repeats of a setting stand in one row.",
                    symbol=plain_symbol(column.quantity), setting=seen[value] + 1,
                )  # fmt: skip
                found.append(
                    Slip(
                        kind="duplicate_setting",
                        run=columns.run.id,
                        setting=columns.run.settings[row].id,
                        quantity=column.quantity.id,
                        repeat=0,
                        message=message,
                    )
                )
            else:
                seen[value] = row
    return found


def _swapped_cells(columns: RunColumns) -> list[Slip]:
    """Two cells of a row, each with the decimals of the other's instrument."""
    found = []
    single = [c for c in read_columns(columns) if c.quantity.repeats == 1 and c.quantity.instrument is not None]
    for a, first in enumerate(single):
        for second in single[a + 1 :]:
            assert first.quantity.instrument is not None and second.quantity.instrument is not None
            wanted = expected_decimals(first.quantity.instrument), expected_decimals(second.quantity.instrument)
            if wanted[0] == wanted[1]:
                continue
            for row, setting in enumerate(columns.run.settings):
                states = (*first.readings[row], *second.readings[row])
                decimals = tuple(s.parsed.decimals for s in states if s.parsed is not None)
                if len(states) == 2 and decimals == wanted[::-1]:
                    message = say(
                        "swapped", "{one} and {other} seem to have changed places here.",
                        one=plain_symbol(first.quantity), other=plain_symbol(second.quantity),
                    )  # fmt: skip
                    found.append(
                        Slip(kind="swapped", run=columns.run.id, setting=setting.id, quantity=first.quantity.id, repeat=0, message=message)
                    )
    return found


def _is_typed_in_the_wrong_direction(column: Column) -> bool:
    """Repeats that differ as settings should, until the table is read the other way."""
    k = column.quantity.repeats
    rows = [r for r in column.readings if len([s for s in r if s.parsed]) == k]
    if k < 2 or len(rows) < 3 or len(rows) != sum(1 for r in column.readings if r):
        return False
    block = np.array([[float(s.parsed.value) for s in row if s.parsed] for row in rows])
    now = float(np.median(np.ptp(block, axis=1)))
    across, down = block.ravel("C").reshape(block.shape, order="F"), block.ravel("F").reshape(block.shape, order="C")
    other = min(float(np.median(np.ptp(turned, axis=1))) for turned in (across, down))
    return now > 0 and other < now / 5
