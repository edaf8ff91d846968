"""Lab books of one's own: begun from nothing, shared, and erased. See decision 31."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db.models import Q, QuerySet

from hobrel.classes.models import Person
from hobrel.classes.queries import mark_in_classes, sharing_classes
from hobrel.core.document.lab_book import LabBook, Run, Setting, write_lab_book
from hobrel.core.document.plans import ALL_FREE, write_with
from hobrel.labbooks.models import Book
from hobrel.plans.actions import forget_unused_versions
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

MOST_OWN, MOST_SHARED, FIRST_SETTINGS = 100, 12, 5
UNTITLED, UNTITLED_PLAN = "Untitled lab book", "Untitled plan"


def empty_document() -> LabBook:
    """A table with no headings yet, in which everything is free."""
    run = Run("run1", "Readings", tuple(Setting(f"s{i}") for i in range(1, FIRST_SETTINGS + 1)))
    return LabBook(UNTITLED, runs=(run,), freedoms=ALL_FREE)


def find_untouched(owner: Person) -> Book | None:
    """A lab book that somebody has begun and in which nothing has been written yet: who wants a new one has it."""
    document = _nothing_written(owner)
    return next((book for book in owner.own_books.filter(plan=None, revision=0, shared_with=None) if book.document == document), None)


def begin_book(owner: Person) -> Book:
    """Begin a lab book from nothing.

    Raises
    ------
    Problem
        422 ``too_large`` for somebody who has more than anybody looks at.
    """
    if owner.own_books.filter(plan=None).count() >= MOST_OWN:
        raise Problem(
            422, "too_large", f"You have {MOST_OWN} lab books of your own, and that is the most. Erase one that you need no more."
        )
    with writing():
        return Book.objects.create(owner=owner, document=_nothing_written(owner))


def _nothing_written(owner: Person) -> dict[str, Any]:
    return write_lab_book(write_with(empty_document(), mark_in_classes(owner)))


def books_of_own(person: Person) -> QuerySet[Book]:
    """The lab books that somebody has begun, and those that are shared with them; newest first."""
    return Book.objects.filter(Q(owner=person) | Q(shared_with=person), plan=None).distinct().select_related("owner").order_by("-pk")


def people_to_share_with(book: Book, person: Person) -> QuerySet[Person]:
    """Whom somebody may share with: who is on the list of such a class, and its teachers; a plan with colleagues only."""
    if book.plan_id is not None:
        return Person.objects.filter(role=Person.Role.TEACHER).exclude(pk=person.pk).order_by("shown_name", "pk")
    classes = sharing_classes(person)
    listed = Q(seats__school_class__in=classes, seats__off=None) | Q(taught_classes__in=classes)
    return Person.objects.filter(listed).exclude(pk=person.pk).distinct().order_by("shown_name", "pk")


def share_book(book: Book, owner: Person, person_id: int) -> None:
    """Let somebody else read it and write in it.

    Raises
    ------
    Problem
        404 for somebody whom the owner may not share with; 422 ``too_large``.
    """
    found = people_to_share_with(book, owner).filter(pk=person_id).first()
    if found is None:
        raise Problem(404, "not_found", "Nobody of this name is in a class of yours that allows sharing.")
    if book.shared_with.count() >= MOST_SHARED:
        raise Problem(422, "too_large", f"A lab book is shared with at most {MOST_SHARED} people.")
    with writing():
        book.shared_with.add(found)


def unshare_book(book: Book, person_id: int) -> None:
    """Shut the lab book to somebody again; what they wrote stays."""
    with writing():
        book.shared_with.remove(person_id)


def erase_book(book: Book) -> None:
    """Erase a lab book of one's own with all that is in it and was; with that of a plan the plan. Its versions stay where they are used."""
    with writing():
        if book.plan is not None:
            book.plan.delete()
            forget_unused_versions()
        else:
            book.delete()


def last_written(book: Book) -> datetime | None:
    """When something was last written; None where nothing was."""
    return book.edits.order_by("-revision").values_list("at", flat=True).first()
