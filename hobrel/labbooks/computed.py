"""What has been worked out from a lab book, asked of the computing process; and what stands in its place where that fails."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from hobrel.computing.asking import ask_book
from hobrel.computing.calls import writer_of
from hobrel.computing.messages import Subject
from hobrel.computing.shelf import OpenBook, see_from
from hobrel.core.document.lab_book import LabBook, read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import relation_tex
from hobrel.core.linearising.algebra import known_in
from hobrel.core.presentation.analysis import present_failure
from hobrel.core.presentation.results import Analysis, StageMark
from hobrel.core.presentation.stages import unmarked_stages
from hobrel.labbooks.models import Book, KeptLog


def ask_about(book: Book, run: str, function: Callable[..., Any], *arguments: Any, as_json: bool = False, heavy: bool = False) -> Any:
    """Have a function carried out on a lab book as it is now, seen from a run (the first without one).

    Raises
    ------
    CoreError, Problem
        As `hobrel.computing.asking.ask`.
    """
    if "document" in book.get_deferred_fields():
        # stamp and document have to be of the same moment
        book.refresh_from_db(fields=["document", "stamp", "revision"])

    def supply(name: str) -> Any:
        kind, _, key = name.partition(":")
        return book.document if kind == "book" else KeptLog.objects.get(book=book, key=key).columns

    return ask_book(Subject(book.stamp, run), supply, book.pk, function, *arguments, as_json=as_json, heavy=heavy)


@dataclass(frozen=True)
class Standing:
    """What the lab book alone cannot know of its trail: whether the pool is open, and how often the report was handed in."""

    pool_open: bool
    handed_in: int


@dataclass(frozen=True)
class BookView:
    """A lab book as its readers see it: the document seen from a run, without the columns of logs, and all that follows from it."""

    document: LabBook
    analysis: Analysis
    relation_tex: str


@dataclass(frozen=True)
class BookSummary:
    """A lab book in a few words; `trouble` says why where it could not be worked out."""

    stages: tuple[StageMark, ...]
    finding: str
    slips: int
    trouble: str


def view_book(book: OpenBook, standing: Standing) -> BookView:
    """What readers see."""
    return _view(book.document, book.analysis, standing)


def _view(document: LabBook, analysis: Analysis, standing: Standing) -> BookView:
    symbols = [*(q.symbol for q in document.quantities), *(f.symbol for f in document.findings)]
    tex = relation_tex(document.relation, known_in(document.relation, symbols))
    return BookView(without_columns(document), replace(analysis, stages=_place(analysis.stages, standing)), tex)


def summarise_book(book: OpenBook, standing: Standing) -> BookSummary:
    """The trail, the first finding, and how many slips wait."""
    analysis = book.analysis
    found = next((f.value.text for f in analysis.findings if f.value and f.said), "")
    trouble = analysis.trouble.message if analysis.trouble else ""
    return BookSummary(_place(analysis.stages, standing), found, len(analysis.slips), trouble)


def analysis_in(book: OpenBook) -> Analysis:
    return book.analysis


def write_view(book: Book, run: str, standing: Standing) -> bytes:
    """A `BookView` as JSON; where nothing can be worked out, with the reason in the place of everything."""
    try:
        written: bytes = ask_about(book, run, view_book, standing, as_json=True)
    except CoreError as trouble:
        document = see_from(read_lab_book(book.document), run)
        return writer_of(view_book).dump_json(_view(document, present_failure(document, trouble), standing))
    return written


def summary_of(book: Book, standing: Standing) -> BookSummary:
    """A `BookSummary`, whatever is the matter with the lab book."""
    try:
        found: BookSummary = ask_about(book, "", summarise_book, standing)
    except CoreError as trouble:
        return BookSummary(_place(unmarked_stages(), standing), "", 0, trouble.message)
    return found


def without_columns(document: LabBook) -> LabBook:
    """The lab book without the columns of its logs, for those who look at them a few rows at a time."""
    return replace(document, runs=tuple(replace(r, log=replace(r.log, columns={})) if r.log else r for r in document.runs))


def _place(stages: tuple[StageMark, ...], standing: Standing) -> tuple[StageMark, ...]:
    """The trail with what the class knows of it."""
    placed = []
    for mark in stages:
        if mark.stage == "pool" and standing.pool_open:
            mark = replace(mark, state="in_progress", words="open to the class")
        elif mark.stage == "pool":
            mark = replace(mark, words="not open yet")
        elif mark.stage == "report" and standing.handed_in:
            words = "handed in" if standing.handed_in == 1 else f"handed in {standing.handed_in} times"
            mark = replace(mark, state="done", words=words)
        placed.append(mark)
    return tuple(placed)
