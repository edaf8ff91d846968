"""Questions about lab books: which there are, who is here, how they once stood, what was done to them."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import Count
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.core.document.lab_book import LabBook, read_lab_book
from hobrel.labbooks.actions import PRESENT_FOR
from hobrel.labbooks.edits.patches import Patch, apply_patches, invert, place_of
from hobrel.labbooks.models import Book, EditRecord, OpenedStage, Presence, Remark
from hobrel.plans.models import Practical
from hobrel.server.problems import not_found

MOST_EDITS_SHOWN, MOST_EDITS_LOOKED_AT = 500, 5000


def books_of(practical: Practical) -> list[Book]:
    """The lab books of a practical without their documents, in the order of their benches."""
    found = list(Book.objects.filter(practical=practical).defer("document").select_related("bench").order_by("bench__order"))
    for book in found:
        book.practical = practical
    return found


def count_open_remarks(books: Iterable[Book]) -> dict[int, int]:
    """How many remarks wait on each lab book (by its key); those without any are left out."""
    return dict(Remark.objects.filter(book__in=books, settled=False).order_by().values_list("book").annotate(Count("pk")))


def find_opened(books: Iterable[Book]) -> dict[int, list[str]]:
    """Which stations somebody of its bench has opened, by the key of each lab book."""
    found: dict[int, list[str]] = {}
    for book, stage in OpenedStage.objects.filter(book__in=books).order_by("pk").values_list("book", "stage"):
        found.setdefault(book, []).append(stage)
    return found


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
        document = apply_patches(document, invert(record.patches))
    return read_lab_book(document)


def edits_of(book: Book, cell: tuple[str, str, int] | None = None) -> list[EditRecord]:
    """The newest edits first; with a cell (setting, quantity, repeat) only those that wrote or moved it."""
    records = book.edits.select_related("author").order_by("-revision")
    if cell is None:
        return list(records[:MOST_EDITS_SHOWN])
    return [r for r in records[:MOST_EDITS_LOOKED_AT] if any(_touches(patch, cell) for patch in r.patches)]


def _touches(patch: Patch, cell: tuple[str, str, int]) -> bool:
    """Whether a patch has changed a cell, its setting as a whole, or its quantity."""
    setting, quantity, repeat = cell
    place = place_of(patch)
    if place[0] == "quantities":
        return place[1:2] == [quantity]
    wanted = [setting, "readings", quantity, repeat]
    return place[2:3] == ["settings"] and all(a == b for a, b in zip(place[3:], wanted, strict=False))
