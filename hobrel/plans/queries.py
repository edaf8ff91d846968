"""Questions about practicals."""

from __future__ import annotations

from django.db.models import QuerySet

from hobrel.classes.models import Person, SchoolClass
from hobrel.classes.queries import classes_of, teaches
from hobrel.plans.models import Practical
from hobrel.server.problems import not_found


def practicals_of(school_class: SchoolClass) -> QuerySet[Practical]:
    return Practical.objects.filter(school_class=school_class)


def find_practical(person: Person, practical_id: int, as_teacher: bool = False) -> Practical:
    """A practical of one of the person's classes.

    Raises
    ------
    Problem
        404 for everybody else, and with `as_teacher` for students.
    """
    practical = Practical.objects.filter(pk=practical_id, school_class__in=classes_of(person)).select_related("school_class").first()
    if practical is None or (as_teacher and not teaches(person, practical.school_class)):
        raise not_found()
    return practical
