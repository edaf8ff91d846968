"""Questions about what has been handed in."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import Count

from hobrel.classes.models import Person
from hobrel.labbooks.models import Book
from hobrel.labbooks.policy import find_book
from hobrel.reports.models import HandIn
from hobrel.server.problems import not_found


def hand_ins_of(book: Book) -> list[HandIn]:
    """All hand-ins of a lab book, first to last, without their heavy parts."""
    return list(HandIn.objects.filter(book=book).select_related("by").defer("document", "analysis", "html", "pdf"))


def count_hand_ins(books: Iterable[Book]) -> dict[int, int]:
    """How often each lab book (by its key) has been handed in; those that have not are left out."""
    counted = HandIn.objects.filter(book__in=books).order_by().values_list("book").annotate(Count("pk"))
    return dict(counted)


def find_hand_in(person: Person, hand_in_id: int) -> HandIn:
    """A hand-in of a lab book that this person may see."""
    hand_in = HandIn.objects.filter(pk=hand_in_id).first()
    if hand_in is None:
        raise not_found()
    find_book(person, hand_in.book_id)
    return hand_in
