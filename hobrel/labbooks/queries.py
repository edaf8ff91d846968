"""Questions about lab books: which there are, who is here, how they once stood, what was done to them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.db.models import Count
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.core.document.lab_book import LabBook, read_lab_book
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.edits.applying import apply_edit
from hobrel.labbooks.edits.kinds import any_edit_adapter
from hobrel.labbooks.models import Book, EditRecord, Presence, Remark
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
