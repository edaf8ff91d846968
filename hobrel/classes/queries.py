"""Who may see what: the questions that every other app asks here."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal, cast
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db.models import Q, QuerySet
from django.http import HttpRequest
from django.utils import timezone

from hobrel.classes.models import Bench, Invitation, Person, School, SchoolClass
from hobrel.core.document.lab_book import DecimalMark


def who(request: HttpRequest) -> Person:
    """The signed-in person of a request that has passed authentication."""
    return cast(Person, request.user)


def is_teacher(person: Person) -> bool:
    return person.role == Person.Role.TEACHER


def teaches(person: Person, school_class: SchoolClass) -> bool:
    return is_teacher(person) and school_class.teachers.filter(pk=person.pk).exists()


def classes_of(person: Person) -> QuerySet[SchoolClass]:
    """The classes somebody teaches, or is on the list of."""
    if is_teacher(person):
        return SchoolClass.objects.filter(teachers=person)
    return SchoolClass.objects.filter(seats__in=person.seats.filter(off=None), archived=None)


def sharing_classes(person: Person) -> QuerySet[SchoolClass]:
    """The classes in which somebody may begin lab books of their own, and share them."""
    if is_teacher(person):
        return SchoolClass.objects.filter(teachers=person, archived=None)
    return SchoolClass.objects.filter(own_books=True, archived=None, seats__person=person, seats__off=None)


def mark_in_classes(person: Person) -> DecimalMark:
    """The decimal mark of all classes that somebody teaches or is in, where they agree on the comma."""
    marks = set(classes_of(person).filter(archived=None).order_by().values_list("decimal_mark", flat=True))
    return "comma" if marks == {"comma"} else "point"


def name_of(person: Person | None) -> str:
    """What somebody is called who wrote something: also one who has been erased."""
    return person.shown_name if person else "somebody who has left"


def local_now() -> datetime:
    """Now, by the clocks of the school."""
    school = School.objects.first()
    return timezone.now().astimezone(ZoneInfo(settings.OWN_TIME_ZONE or (school.time_zone if school else settings.TIME_ZONE)))


Paper = Literal["a4", "letter"]


def paper_here() -> Paper:
    """What the school prints on."""
    return "letter" if School.objects.filter(paper=School.Paper.LETTER).exists() else "a4"


def say_when(moment: datetime) -> str:
    """A moment by the clocks of the school: “Tuesday 1 December, 10:00”, as `say_weekday`."""
    here = moment.astimezone(local_now().tzinfo)
    return f"{say_weekday(here)}, {here:%H:%M}"


def say_weekday(day: date) -> str:
    """A day at the school: “Tuesday 1 December”, with its year where that is another."""
    year = "" if day.year == local_now().year else f" {day.year}"
    return f"{day:%A} {day.day} {day:%B}{year}"


def has_begun() -> bool:
    """Whether there is a teacher, so that anybody can be let in."""
    return Person.objects.filter(role=Person.Role.TEACHER).exists()


def open_invitations() -> QuerySet[Invitation]:
    """Invitations that still let somebody in."""
    return Invitation.objects.filter(Q(expires=None) | Q(expires__gt=timezone.now()), used=None).select_related("made_by", "person")


def demo_people() -> list[tuple[str, str, Person]]:
    """One-click sign-ins of the demo server: (key, words, person)."""
    teachers = Person.objects.filter(role=Person.Role.TEACHER).order_by("pk")
    found = [(f"teacher-{t.pk}", f"{t.shown_name}, teacher", t) for t in teachers]
    for bench in Bench.objects.order_by("school_class__pk", "pk").prefetch_related("seats__person"):
        found += [(f"seat-{s.pk}", f"{s.name}, bench {bench.name}", s.person) for s in bench.seats.all() if s.person is not None]
    return found
