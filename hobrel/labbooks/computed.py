"""What has been worked out from a lab book, asked of the computing process; and what stands in its place where that fails."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import chain
from typing import Any, TypeVar

from hobrel.computing.asking import Supply, ask_book, ask_book_in_parts, not_worked_out
from hobrel.computing.calls import writer_of
from hobrel.computing.messages import Earlier, Since, Subject
from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook, read_lab_book
from hobrel.core.document.plans import freeze_plan, open_for_bench
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import relation_tex
from hobrel.core.linearising.algebra import known_in
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import is_table_enough, present, present_failure, present_table
from hobrel.core.presentation.results import Analysis
from hobrel.core.questions.dry_run import draw_example
from hobrel.labbooks.models import Book, KeptLog
from hobrel.server.problems import not_found

T = TypeVar("T")
MOST_TURNS = 4


class _Moved(Exception):
    """The lab book is another than the one that was asked about."""


def ask_about(
    book: Book,
    run: str,
    function: Callable[..., Any],
    *arguments: Any,
    as_json: bool = False,
    heavy: bool = False,
    have: str | None = None,
) -> Any:
    """Have a function carried out on a lab book as it is now, seen from a run (the first without one).

    `book` may have been read without its document, which is read when the computing process lacks it. `book` is then of the same moment.

    Raises
    ------
    CoreError, Problem
        As `hobrel.computing.asking.ask_book`.
    """

    def put(supply: Supply) -> Any:
        return ask_book(Subject(book.stamp, run), supply, book.pk, function, *arguments, as_json=as_json, heavy=heavy, have=have)

    return _as_it_is_now(book, put)


def ask_in_parts(book: Book, function: Callable[..., Any], parts: Sequence[tuple[Any, ...]], gather: Callable[..., Any]) -> bytes:
    """Have a function carried out on a lab book for each of `parts` side by side, and what `gather` makes of what they give (decision 51).

    What a function gives is a tuple; `gather` is given one that has all of them in their order, and its result comes as JSON.

    Raises
    ------
    CoreError, Problem
        As `hobrel.computing.asking.ask_book`.
    """

    def put(supply: Supply) -> bytes:
        about = Subject(book.stamp)
        given = tuple(chain.from_iterable(ask_book_in_parts(about, supply, book.pk, function, parts)))
        written: bytes = ask_book(about, supply, book.pk, gather, given, as_json=True, heavy=True)
        return written

    return _as_it_is_now(book, put)


def _as_it_is_now(book: Book, put: Callable[[Supply], T]) -> T:
    """What `put` gives, again where the lab book has become another meanwhile."""

    def supply(name: str) -> Any:
        kind, _, key = name.partition(":")
        if kind == "log":
            return KeptLog.objects.get(book=book, key=key).columns
        try:
            document = book.document
        except Book.DoesNotExist as trouble:
            raise not_found() from trouble  # it was erased meanwhile
        if book.stamp != key:
            raise _Moved
        return document

    for _ in range(MOST_TURNS):
        with suppress(_Moved):
            return put(supply)
    raise not_worked_out()


@dataclass(frozen=True)
class BookView:
    """A lab book as its readers see it: the document seen from a run, without the columns of logs, and all that follows from it.

    `run_order` holds its runs in the order in which the bench made them. Not `complete`: only the columns are as the document is now, all
    else as it was when somebody began to write (decision 25).
    """

    document: LabBook
    analysis: Analysis
    relation_tex: str
    run_order: tuple[str, ...]
    complete: bool = True


def view_book(book: OpenBook) -> BookView:
    """What readers see."""
    return _view(book.document, book.analysis, book.run_order)


def view_table(book: OpenBook, earlier: BookView | None) -> BookView:
    """The same, with no more worked out than the table needs, as far as an earlier view can stand for all else."""
    document = without_columns(book.document)
    if earlier is None or earlier.analysis.trouble or not is_table_enough(document, earlier.document):
        return view_book(book)
    return replace(earlier, document=document, analysis=present_table(book.document, earlier.document, earlier.analysis), complete=False)


def view_as_bench(book: OpenBook, seed: int) -> BookView:
    """A plan as a bench will see it: empty, or with the readings of a dry run (a `seed` above 0) and all formulas found."""
    version = freeze_plan(book.document)
    document = open_for_bench(replace(version, plan=replace(version.plan, left_open=())) if seed else version)
    if seed:
        drawn = draw_example(book.document, seed)
        runs, unknowns = {run.id: run for run in drawn.runs}, {fit.id: fit.unknowns for fit in drawn.fits}
        document = replace(
            document,
            runs=tuple(runs.get(run.id, run) for run in document.runs),
            fits=tuple(replace(fit, unknowns=unknowns.get(fit.id, ())) for fit in document.fits),
        )
    return _view(document, present(compute(document)), tuple(r.id for r in document.runs))


def _view(document: LabBook, analysis: Analysis, run_order: tuple[str, ...]) -> BookView:
    symbols = (*(q.symbol for q in document.quantities), *(f.symbol for f in document.findings))
    return BookView(without_columns(document), analysis, _relation_tex(document.relation, symbols), run_order)


@lru_cache(200)
def _relation_tex(relation: str, symbols: tuple[str, ...]) -> str:
    return relation_tex(relation, known_in(relation, list(symbols)))


def analysis_in(book: OpenBook) -> Analysis:
    return book.analysis


def write_view(book: Book, run: str, have: str, table: bool = False) -> Since:
    """A `BookView` as JSON, or what has changed in it since the view of the tag `have`; with `table` no more of it than the table needs.

    Where nothing can be worked out, the reason stands in the place of everything, and there is no tag.
    """
    try:
        since: Since = (
            ask_about(book, run, view_table, Earlier(have), as_json=True, have=have)
            if table and have
            else ask_about(book, run, view_book, as_json=True, have=have)
        )
    except CoreError as trouble:
        whole = read_lab_book(book.document)
        document = whole.seen_from(run)
        view = _view(document, present_failure(document, trouble), tuple(r.id for r in whole.runs))
        return Since("", writer_of(view_book).dump_json(view), None)
    return since


def without_columns(document: LabBook) -> LabBook:
    """The lab book without the columns of its logs, for those who look at them a few rows at a time."""
    return replace(document, runs=tuple(replace(r, log=replace(r.log, columns={})) if r.log else r for r in document.runs))
