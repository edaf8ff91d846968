"""Columns of words: what was written row by row, and the places of kinds along an axis. See decision 37."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Run
from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Floats


def words_of(quantity: Quantity, run: Run) -> tuple[str, ...]:
    """The words of a quantity at every row of a run; empty where there are none, or where they are set aside."""
    if run.log is not None:
        return run.log.columns.get(quantity.id, ("",) * run.log.rows)
    return tuple(_word(setting.readings.get(quantity.id, ())) for setting in run.settings)


def _word(readings: Sequence[Reading | None]) -> str:
    return next((r.text.strip() for r in readings if r is not None and r.set_aside is None), "")


def find_kinds(book: LabBook, quantity: Quantity) -> tuple[str, ...]:
    """The distinct words of a kind, in the order in which they were written, those of the run that is looked at first."""
    return join_kinds([words_of(quantity, run) for run in book.runs])


def join_kinds(columns: Sequence[Sequence[str]]) -> tuple[str, ...]:
    """The distinct kinds of some columns of words, each as it was first written."""
    kinds: dict[str, str] = {}
    for word in (word for words in columns for word in words if word):
        kinds.setdefault(_fold(word), word)
    return tuple(kinds.values())


def place_kinds(words: Sequence[str], kinds: Sequence[str]) -> Floats:
    """For every row the place (from 1) of its kind, as if it were a number; NaN for a blank."""
    places = {_fold(kind): place for place, kind in enumerate(kinds, start=1)}
    return np.array([places.get(_fold(word), np.nan) for word in words], dtype=np.float64)


def _fold(word: str) -> str:
    """Two spellings that differ in capitals or spaces mean one kind."""
    return " ".join(word.split()).casefold()


def refuse_words(quantity: Quantity) -> CoreError:
    """Why nothing is calculated with a quantity of words."""
    return CoreError("holds_words", "{name} holds words, and nothing is calculated with words.", name=quantity.name)
