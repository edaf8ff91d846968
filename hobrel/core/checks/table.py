"""What shows in single cells: a text that is no number, decimals that an instrument does not give, blanks. Nothing is changed."""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from hobrel.core.document.lab_book import Quantity
from hobrel.core.pipeline.averaging import Averages
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.readings.instruments import expected_decimals
from hobrel.core.sentences import Sentence, said_by, say

SlipKind = Literal[
    "not_a_number", "wrong_decimals", "lone_repeat", "missing_repeat", "off_trend",
    "factor", "duplicate_setting", "blank", "swapped", "direction", "exchanged", "squared",
]  # fmt: skip
ALIKE, LEAST_ALIKE = 0.6, 3
"""Share and number of a column's readings whose decimals are wrong alike, from which it is the column that is asked about."""


@dataclass(frozen=True)
class Slip:
    """Something that looks like a mistake, and where: run, setting and quantity by id, repeat by index (None: the whole setting).

    With `whole_column` it is about all of the quantity, and leads to its first setting.
    """

    kind: SlipKind
    run: str
    setting: str
    quantity: str
    repeat: int | None
    message: Sentence
    whole_column: bool = False


def look_over_cells(columns: RunColumns, finished: bool) -> list[Slip]:
    """Slips that show in a cell by itself.

    Parameters
    ----------
    columns : RunColumns
    finished : bool
        Whether a blank at the end of the table is one, or only not written yet.
    """
    run = columns.run
    aside = tuple(run.rows_aside())
    found = []
    for column in columns.columns.values():
        if column.averages is None:
            continue
        for kind, row, repeat, message, whole in _look_over(column.averages, column.quantity, aside):
            found.append(
                Slip(
                    kind=kind,
                    run=run.id,
                    setting=run.settings[row].id,
                    quantity=column.quantity.id,
                    repeat=repeat,
                    message=message,
                    whole_column=whole,
                )
            )
    return found + _blanks(columns, finished)


_Found = tuple[SlipKind, int, int, Sentence, bool]


@lru_cache(maxsize=1024)
def _look_over(averages: Averages, quantity: Quantity, aside: tuple[bool, ...]) -> tuple[_Found, ...]:
    """Each slip, and whether it is the whole column's; remembered for columns that an edit has not touched."""
    texts: list[_Found] = []
    decimals: list[_Found] = []
    instrument = quantity.instrument
    wanted = None if instrument is None else expected_decimals(instrument)
    wrong: Counter[int] = Counter()
    count = 0
    for row, (states, places) in enumerate(zip(averages.readings, averages.places, strict=True)):
        if aside[row]:
            continue
        for repeat, state in zip(places, states, strict=True):
            if state.set_aside is not None:
                continue
            count += 1
            if state.parsed is None:
                assert state.trouble is not None, "what was not read has a trouble"
                texts.append(("not_a_number", row, repeat, said_by(state.trouble), False))
            elif instrument is not None and wanted is not None and state.parsed.u is None and state.parsed.decimals != wanted:
                wrong[state.parsed.decimals] += 1
                few = "fewer" if state.parsed.decimals < wanted else "more"
                message = say(
                    "wrong_decimals", "{reading} has {few} decimals than the {instrument} gives ({wanted}).",
                    reading=state.text, few=few, instrument=instrument.name, wanted=wanted,
                )  # fmt: skip
                if all(known[1] != row for known in decimals):
                    decimals.append(("wrong_decimals", row, repeat, message, False))
    if instrument is not None and wrong and wrong.most_common(1)[0][1] >= max(LEAST_ALIKE, ALIKE * count):
        has = wrong.most_common(1)[0][0]
        message = say(
            "wrong_decimals_everywhere", "{symbol} is written with {decimals}; the {instrument} gives {wanted}. Is it another instrument?",
            symbol=plain_symbol(quantity), decimals=_decimals(has), instrument=instrument.name, wanted=wanted or 0,
        )  # fmt: skip
        decimals = [("wrong_decimals", decimals[0][1], decimals[0][2], message, True)]
    return tuple(texts + decimals)


def _decimals(count: int) -> str:
    return {0: "no decimals", 1: "one decimal"}.get(count, f"{count} decimals")


def _blanks(columns: RunColumns, finished: bool) -> list[Slip]:
    """A repeat that is missing, and a quantity that is, where the rest of the row is written."""
    run = columns.run
    read = read_columns(columns)
    aside = run.rows_aside()
    written = [[bool(c.readings[row]) for c in read] for row in range(run.count)]
    last = max((row for row in range(run.count) if any(written[row])), default=-1)
    usual = [sum(row[k] for row in written) >= 2 / 3 * max(1, sum(any(row) for row in written) - 1) for k in range(len(read))]
    found = []
    for row in range(last + 1):
        if aside[row] or not any(written[row]):
            continue
        for k, column in enumerate(read):
            assert column.averages is not None
            places, left = column.averages.places[row], finished or row < last or any(written[row][k + 1 :])
            if places:
                blank = next((i for i in range(column.quantity.repeats) if i not in places), None)
                if blank is not None and (left or blank < places[-1]):
                    message = say("missing_repeat", "One repeat is blank here, while others are filled.")
                    found.append(
                        Slip(
                            kind="missing_repeat",
                            run=run.id,
                            setting=run.settings[row].id,
                            quantity=column.quantity.id,
                            repeat=blank,
                            message=message,
                        )
                    )
            elif left and usual[k]:
                message = say(
                    "blank", "{symbol} is blank here, and filled in the other settings. Blank means “not measured”.",
                    symbol=plain_symbol(column.quantity),
                )  # fmt: skip
                found.append(
                    Slip(kind="blank", run=run.id, setting=run.settings[row].id, quantity=column.quantity.id, repeat=0, message=message)
                )
    return found


def power_of_ten_between(value: float, expected: float) -> int | None:
    """k where a value is about 10ᵏ times what is expected (k from −3 to 3, not 0; within a quarter), or None."""
    if value == 0 or expected == 0 or (value > 0) != (expected > 0) or not math.isfinite(expected):
        return None
    power = math.log10(abs(value)) - math.log10(abs(expected))
    if not abs(power) < 4:
        return None
    k = round(power)
    return k if 1 <= abs(k) <= 3 and abs(power - k) < 0.1 else None


def say_factor(k: int) -> str:
    """“10 times” or “a hundredth of”."""
    return f"{10**k} times" if k > 0 else {1: "a tenth of", 2: "a hundredth of", 3: "a thousandth of"}[-k]


def read_columns(columns: RunColumns) -> list[Column]:
    """The columns of written readings."""
    return [c for c in columns.columns.values() if c.averages is not None]
