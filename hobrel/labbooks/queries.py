"""Questions about lab books: who may open one, what is in it, what has been computed from it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

from django.db.models import Count
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.core.document.lab_book import LabBook, Run, read_lab_book
from hobrel.core.formulas import typeset
from hobrel.core.linearising.algebra import known_in
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.results import Analysis
from hobrel.core.questions.board import Board, make_board
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.edits.applying import apply_edit
from hobrel.labbooks.edits.kinds import any_edit_adapter
from hobrel.labbooks.models import Book, EditRecord, KeptLog, Presence, Remark
from hobrel.plans.models import Practical
from hobrel.server.problems import not_found

MOST_EDITS_SHOWN, MOST_EDITS_LOOKED_AT = 500, 5000


def books_of(practical: Practical) -> list[Book]:
    """All lab books of a practical, in the order of their benches."""
    books = Book.objects.filter(practical=practical).select_related("practical", "bench").prefetch_related("bench__seats")
    return list(books.order_by("bench__name"))


def count_open_remarks(books: Iterable[Book]) -> dict[int, int]:
    """How many remarks wait on each lab book (by its key); those without any are left out."""
    return dict(Remark.objects.filter(book__in=books, settled=False).order_by().values_list("book").annotate(Count("pk")))


@dataclass(frozen=True)
class _Revision:
    """A lab book after so many edits, seen from one of its runs. Its document never changes, so only the first three are compared."""

    book: int
    number: int
    run: str
    document: Mapping[str, Any] = field(compare=False)
    checked: LabBook | None = field(compare=False)


@lru_cache(maxsize=256)
def _computed(revision: _Revision) -> tuple[Computation, Analysis]:
    """Both sides of an analysis."""
    computation = compute(_seen_from(_with_logs(revision.checked or read_lab_book(revision.document), revision.book), revision.run))
    return computation, present(computation)


@lru_cache(maxsize=64)
def _kept_columns(book: int, key: str) -> dict[str, tuple[str, ...]]:
    """The columns of a log, which never change."""
    columns = KeptLog.objects.get(book_id=book, key=key).columns
    return {quantity: tuple(texts) for quantity, texts in columns.items()}


def _with_logs(document: LabBook, book: int) -> LabBook:
    """The lab book with the columns of its logs, which are kept beside it."""

    def filled(run: Run) -> Run:
        if run.log is None or not run.log.kept:
            return run
        columns = _kept_columns(book, run.log.kept)
        return replace(run, log=replace(run.log, columns=columns, rows=max(map(len, columns.values()), default=0)))

    return replace(document, runs=tuple(filled(r) for r in document.runs))


def without_columns(document: LabBook) -> LabBook:
    """The lab book without the columns of its logs, for those who look at them a few rows at a time."""
    return replace(document, runs=tuple(replace(r, log=replace(r.log, columns={})) if r.log else r for r in document.runs))


def _seen_from(book: LabBook, run: str) -> LabBook:
    """The lab book with this run first: graphs, fits and findings are of the first run. An unknown run changes nothing."""
    return replace(book, runs=tuple(sorted(book.runs, key=lambda r: r.id != run)))


def computation_of(book: Book, run: str = "") -> Computation:
    """Everything computed, with graphs, fits and findings of the given run (of the first without one)."""
    return _fresh(book, run)[0]


def analysis_of(book: Book, run: str = "") -> Analysis:
    return _fresh(book, run)[1]


def _fresh(book: Book, run: str) -> tuple[Computation, Analysis]:
    return _computed(_Revision(book.pk, book.revision, run, book.document, book.checked))


def forget_computed() -> None:
    """For tests and the demo loader, where books are made anew with the same numbers."""
    _computed.cache_clear()
    _kept_columns.cache_clear()
    _board.cache_clear()


def document_of(book: Book, run: str = "") -> LabBook:
    """The document, with the given run first."""
    return computation_of(book, run).book


@lru_cache(maxsize=256)
def _board(revision: _Revision, x: str, y: str) -> Board:
    document = _computed(revision)[0].book
    return make_board(document, x, y, not document.bench_judges or bool(document.texts.get("choice", "").strip()))


def board_of(book: Book, run: str, x: str, y: str) -> Board:
    """The board of two quantities, seen from a run."""
    return _board(_Revision(book.pk, book.revision, run, book.document, book.checked), x, y)


def relation_tex(book: Book) -> str:
    """The expected relation of the plan, typeset."""
    document = document_of(book)
    symbols = [*(q.symbol for q in document.quantities), *(f.symbol for f in document.findings)]
    return typeset.relation_tex(document.relation, known_in(document.relation, symbols))


def present_at(book: Book, but: Person) -> list[Presence]:
    """Who else has this book open now."""
    since = timezone.now() - PRESENT_FOR
    return list(Presence.objects.filter(book=book, seen__gte=since).exclude(person=but).select_related("person"))


def document_at(book: Book, revision: int) -> LabBook:
    """The lab book as it stood after `revision` edits: everything since is taken back, newest first.

    Raises
    ------
    Problem
        404 for a revision that there has not been.
    """
    if not 0 <= revision <= book.revision:
        raise not_found()
    document = book.document
    for record in book.edits.filter(revision__gt=revision, revision__lte=book.revision).order_by("-revision").iterator():
        document = apply_edit(document, any_edit_adapter.validate_python(record.inverse)).document
    return read_lab_book(document)


def edits_of(book: Book, cell: tuple[str, str, int] | None = None) -> list[EditRecord]:
    """The newest edits first; with a cell (setting, quantity, repeat) only those that wrote or moved it."""
    records = book.edits.select_related("author").order_by("-revision")
    if cell is None:
        return list(records[:MOST_EDITS_SHOWN])
    return [r for r in records[:MOST_EDITS_LOOKED_AT] if _touches(r.change, cell)]


def _touches(change: Mapping[str, Any], cell: tuple[str, str, int]) -> bool:
    setting, quantity, repeat = cell
    match change.get("type"):
        case "batch":
            return any(_touches(inner, cell) for inner in change["edits"])
        case "set_reading":
            return (change["setting"], change["quantity"], change["repeat"]) == cell
        case "set_aside" | "confirm_slip":
            return change["setting"] == setting and change["quantity"] in (None, quantity) and change["repeat"] in (None, repeat)
        case "change_quantity" | "set_repeats":
            return bool(change["quantity"] == quantity)
        case "add_setting" | "remove_setting":
            return bool(change["setting"] == setting)
        case _:
            return False
