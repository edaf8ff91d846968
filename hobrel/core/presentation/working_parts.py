"""What the account of a number is made of."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.core.pipeline.columns import Column, RunColumns
from hobrel.core.presentation.results import BudgetBar
from hobrel.core.sentences import NumberText, Sentence, Sentences, say


@dataclass(frozen=True)
class WorkingLine:
    """A step: words, and mathematics as TeX (either may be empty)."""

    words: Sentences
    tex: str


FORMULA = say("formula", "The formula:")
NUMBERS_PUT_IN = say("numbers_put_in", "With the numbers put in:")


def step(words: Sentence, tex: str = "") -> WorkingLine:
    """A step that is told in one sentence."""
    return WorkingLine((words,), tex)


@dataclass(frozen=True)
class ReadingRef:
    """A reading behind a number, leading back to its cell."""

    run: str
    setting: str
    quantity: str
    repeat: int
    text: NumberText
    set_aside: bool


@dataclass(frozen=True)
class Onward:
    """A further number that this one rests on: what it says, and its own target."""

    words: str
    target: str


@dataclass(frozen=True)
class Working:
    """The full account of one number; `onward` names further numbers that it rests on."""

    title: str
    result: str
    lines: tuple[WorkingLine, ...]
    budget: tuple[BudgetBar, ...]
    readings: tuple[ReadingRef, ...]
    onward: tuple[Onward, ...]


def readings_at(columns: RunColumns, behind: list[Column], row: int) -> tuple[ReadingRef, ...]:
    """The readings of some columns at a setting."""
    log = columns.run.log
    if log is not None:
        texts = {c.quantity.id: log.columns[c.quantity.id][row] for c in behind if c.quantity.id in log.columns}
        return tuple(
            ReadingRef(run=columns.run.id, setting=columns.run.row_id(row), quantity=key, repeat=0, text=text, set_aside=False)
            for key, text in texts.items()
            if text
        )
    setting = columns.run.settings[row]
    return tuple(
        ReadingRef(run=columns.run.id, setting=setting.id, quantity=c.quantity.id, repeat=i, text=r.text, set_aside=r.set_aside is not None)
        for c in behind for i, r in enumerate(setting.readings.get(c.quantity.id, ())) if r is not None and r.text.strip()
    )  # fmt: skip
