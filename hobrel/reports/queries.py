"""Questions about what has been handed in."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import BooleanField, Count, ExpressionWrapper, Q

from hobrel.labbooks.models import Book
from hobrel.reports.models import HandIn


def hand_ins_of(book: Book) -> list[HandIn]:
    """All hand-ins of a lab book, first to last, without their heavy parts; `words` where there are files for word processors."""
    found = HandIn.objects.filter(book=book).select_related("by").annotate(words=ExpressionWrapper(~Q(docx=b""), BooleanField()))
    return list(found.defer("document", "analysis", "html", "pdf", "docx", "odt"))


def count_hand_ins(books: Iterable[Book]) -> dict[int, int]:
    """How often each lab book (by its key) has been handed in; those that have not are left out."""
    counted = HandIn.objects.filter(book__in=books).order_by().values_list("book").annotate(Count("pk"))
    return dict(counted)
