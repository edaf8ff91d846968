"""Whose a lab book is, where it belongs, and who may write in it now: the same questions for a bench's and for one's own."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.classes.models import Person, School
from hobrel.classes.queries import is_teacher
from hobrel.labbooks.models import Book
from hobrel.plans.sittings import names_at, sits_at


@dataclass(frozen=True)
class BookFrame:
    """Where a lab book belongs.

    Attributes
    ----------
    school, class_name, bench : str
        Class and bench are empty for one's own.
    names : tuple of str
        Who sits there now; the owner, and whom it is shared with.
    """

    school: str
    class_name: str
    bench: str
    names: tuple[str, ...]


def frame_of(book: Book) -> BookFrame:
    """Where a lab book belongs."""
    practical = book.practical
    if practical is None:
        school = School.objects.first()
        names = (book.owner.shown_name, *book.shared_with.order_by("shown_name").values_list("shown_name", flat=True))
        return BookFrame(school.name if school else "", "", "", names)
    of = practical.school_class
    names = tuple(names_at(practical, book.bench))
    return BookFrame(of.school, of.name, book.bench.name, names)


def name_parts(book: Book) -> tuple[str, ...]:
    """What the names of its files are made of."""
    if book.practical is None:
        return (book.document["title"],)
    return book.practical.title, book.bench.name


def may_write(book: Book, person: Person) -> bool:
    """Whether somebody who may see a lab book may also write in it now."""
    practical = book.practical
    if practical is None:
        return True
    return not is_teacher(person) and practical.closed is None and sits_at(person, practical, book.bench)
