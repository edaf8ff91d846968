"""Questions about lab books: who may open one, what is in it, what has been computed from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any, Literal

from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.classes.queries import bench_of, teaches
from hobrel.core.analysis import Computation, compute, present
from hobrel.core.documents import LabBook, read_lab_book
from hobrel.core.formulas import typeset
from hobrel.core.results import Analysis
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.models import Book, Presence, Remark
from hobrel.plans.models import Practical
from hobrel.server.problems import Problem, not_found

Need = Literal["see", "edit", "remark"]


def find_book(person: Person, book_id: int, need: Need = "see") -> Book:
    """A lab book that this person may see, edit (its own bench) or remark on (the class's teachers).

    Raises
    ------
    Problem
        404 for who may not even see it; 403 for who may see but not do this.
    """
    book = Book.objects.select_related("practical__school_class", "bench").filter(pk=book_id).first()
    if book is None:
        raise not_found()
    teacher = teaches(person, book.practical.school_class)
    own = not teacher and bench_of(person) == book.bench
    if not (teacher or own):
        raise not_found()
    if need == "edit" and not own:
        raise Problem(403, "look_only", "You can look at this lab book and leave remarks; readings are changed by its bench.")
    if need == "remark" and not teacher:
        raise Problem(403, "teacher_only", "Remarks are left by the teacher.")
    return book


def find_remark(person: Person, remark_id: int) -> Remark:
    remark = Remark.objects.filter(pk=remark_id).first()
    if remark is None:
        raise not_found()
    find_book(person, remark.book_id)
    return remark


def books_of(practical: Practical) -> list[Book]:
    """All lab books of a practical, in the order of their benches."""
    return list(Book.objects.filter(practical=practical).select_related("bench").order_by("bench__name"))


@dataclass(frozen=True)
class _Revision:
    """A lab book after so many edits, seen from one of its runs. Its document never changes, so only these three are compared."""

    book: int
    number: int
    run: str
    document: Mapping[str, Any] = field(compare=False)


@lru_cache(maxsize=256)
def _computed(revision: _Revision) -> tuple[Computation, Analysis]:
    """Both sides of an analysis."""
    computation = compute(_seen_from(read_lab_book(revision.document), revision.run))
    return computation, present(computation)


def _seen_from(book: LabBook, run: str) -> LabBook:
    """The lab book with this run first: graphs, fits and findings are of the first run. An unknown run changes nothing."""
    return replace(book, runs=tuple(sorted(book.runs, key=lambda r: r.id != run)))


def computation_of(book: Book, run: str = "") -> Computation:
    """Everything computed, with graphs, fits and findings of the given run (of the first without one)."""
    return _fresh(book, run)[0]


def analysis_of(book: Book, run: str = "") -> Analysis:
    return _fresh(book, run)[1]


def _fresh(book: Book, run: str) -> tuple[Computation, Analysis]:
    return _computed(_Revision(book.pk, book.revision, run, book.document))


def forget_computed() -> None:
    """For tests and the demo loader, where books are made anew with the same numbers."""
    _computed.cache_clear()


def document_of(book: Book, run: str = "") -> LabBook:
    """The document, with the given run first."""
    return computation_of(book, run).book


def relation_tex(book: Book) -> str:
    """The expected relation of the plan, typeset."""
    document = document_of(book)
    finding_symbols = [f.symbol for f in document.findings]
    return typeset.relation_tex(document.relation, [*(q.symbol for q in document.quantities), *finding_symbols])


def present_at(book: Book, but: Person) -> list[Presence]:
    """Who else has this book open now."""
    since = timezone.now() - PRESENT_FOR
    return list(Presence.objects.filter(book=book, seen__gte=since).exclude(person=but).select_related("person"))
