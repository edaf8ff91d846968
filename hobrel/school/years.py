"""The life of a class: who else teaches it, what its students may begin, its archive, the next year; and one student in two classes."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.labbooks.models import Book, EditRecord, Remark, Reply
from hobrel.labbooks.plan_books import freeze
from hobrel.plans.actions import begin_practical
from hobrel.reports.models import HandIn
from hobrel.school.classes import make_class
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

A_YEAR = timedelta(weeks=52)
"""So that a practical falls on the same day of the week."""


def share_class(school_class: SchoolClass, colleague: Person, teaches: bool) -> None:
    """Let a colleague teach a class too, or no more.

    Raises
    ------
    Problem
        409 ``last_teacher``.
    """
    with writing():
        if teaches:
            school_class.teachers.add(colleague)
        elif not school_class.teachers.exclude(pk=colleague.pk).exists():
            raise Problem(409, "last_teacher", "A class has at least one teacher. Let a colleague in first, or archive the class.")
        else:
            school_class.teachers.remove(colleague)


def allow_own_books(school_class: SchoolClass, allowed: bool) -> None:
    """Let its students begin lab books of their own, or no new ones."""
    _set(school_class, own_books=allowed)


def archive_class(school_class: SchoolClass, archived: bool) -> None:
    """Put a class away: its teachers look at it, and nobody else comes in; or bring it back."""
    _set(school_class, archived=timezone.now() if archived else None, door_until=timezone.now())


def _set(school_class: SchoolClass, **fields: object) -> None:
    with writing():
        SchoolClass.objects.filter(pk=school_class.pk).update(**fields)


def copy_class(school_class: SchoolClass, teacher: Person, name: str, year: str) -> SchoolClass:
    """The class of the next year: its teachers and its practicals, each a year later, as their plans are now; nobody on its list."""
    copied = make_class(teacher, name, year)
    with writing():
        copied.teachers.set(school_class.teachers.all())
        SchoolClass.objects.filter(pk=copied.pk).update(own_books=school_class.own_books, decimal_mark=school_class.decimal_mark)
        for practical in school_class.practicals.select_related("version__plan"):
            # what was given out from a plan that is no more goes on as it was
            version = freeze(plan) if (plan := practical.version.plan) else practical.version
            begin_practical(version, copied, practical.given_out + A_YEAR)
    return copied


def mark_absent(seat: Seat, absent: bool) -> None:
    """Mark a name absent for today, or take that back."""
    with writing():
        Seat.objects.filter(pk=seat.pk).update(absent=local_now().date() if absent else None)


def make_one_person(seat: Seat, other: Seat) -> None:
    """Say that two names, in two classes, are one student: one PIN opens both, and what either wrote is theirs.

    Raises
    ------
    Problem
        409 ``same_class``, ``no_person`` or ``one_already``.
    """
    with writing():
        kept, gone = other.person, seat.person
        if seat.school_class_id == other.school_class_id:
            raise Problem(409, "same_class", "Two names of one class are two students.")
        if kept is None:
            raise Problem(409, "no_person", f"{other.name} has no PIN yet. Let them come in with either name first.")
        if gone is not None and gone.pk == kept.pk:
            raise Problem(409, "one_already", "These names are one student already.")
        if gone is None:
            Seat.objects.filter(pk=seat.pk).update(person=kept)
            return
        for rows, field in (
            (EditRecord, "author"),
            (Remark, "author"),
            (Reply, "author"),
            (HandIn, "by"),
            (Book, "owner"),
            (Seat, "person"),
        ):
            rows.objects.filter(**{field: gone}).update(**{field: kept})
        for book in gone.shared_books.all():
            book.shared_with.add(kept)
        gone.delete()
