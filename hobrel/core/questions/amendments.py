"""What would stop working in a lab book that is changed as its plan has changed."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from typing import Any

from hobrel.core.document.lab_book import LabBook, read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.pipeline.computation import Computation, compute


def find_broken(book: LabBook, after: Mapping[str, Any]) -> tuple[str, ...]:
    """Names of what could be worked out and no longer can, and of what says something else is wrong with it than before.

    Parameters
    ----------
    book : LabBook
        As it is.
    after : mapping
        The document as it would be; logs may lack their columns, which are those of `book`.

    Raises
    ------
    CoreError
        ``bad_job`` where that would be no lab book.
    """
    changed = read_lab_book(after)
    logs = {run.id: run.log for run in book.runs}
    runs = tuple(replace(run, log=logs.get(run.id) or run.log) if run.log else run for run in changed.runs)
    before, now = _troubles(compute(book)), _troubles(compute(replace(changed, runs=runs)))
    return tuple(dict.fromkeys(name for key, (name, code) in now.items() if code and before.get(key, ("", ""))[1] != code))


def _troubles(computation: Computation) -> dict[tuple[str, ...], tuple[str, str]]:
    return {key: (name, code) for key, name, code in _each(computation)}


def _each(computation: Computation) -> Iterator[tuple[tuple[str, ...], str, str]]:
    """Everything that is worked out, by its name, and the code of what is wrong with it (empty: nothing)."""
    for run, columns in computation.columns.items():
        for key, column in columns.columns.items():
            if column.quantity.kind == "derived" and column.quantity.formula.strip():
                yield ("column", run, key), plain_symbol(column.quantity), column.trouble.code if column.trouble else ""
    for finding in computation.book.findings:
        found = computation.findings[finding.id]
        yield ("finding", finding.id), finding.name, found.code if isinstance(found, CoreError) else ""
