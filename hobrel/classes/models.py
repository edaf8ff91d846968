"""Who there is: people, classes, benches, and the places on a class list."""

from __future__ import annotations

import re
import unicodedata
from typing import Any

from django.contrib.auth.models import AbstractUser
from django.db import models

NUMBER_LONG, KEY_LONG = 9, 120


class Person(AbstractUser):
    """Somebody who can sign in. Students have no name here but the one on their class list."""

    class Role(models.TextChoices):
        TEACHER = "teacher"
        STUDENT = "student"

    role = models.CharField(max_length=10, choices=Role.choices, default=Role.STUDENT)
    shown_name = models.CharField(max_length=80)
    is_head = models.BooleanField(default=False)
    """Head of department: a teacher who also lets others in."""

    class Meta:
        db_table = "person"


class School(models.Model):
    """The school whose server this is. One row, made with the first teacher."""

    class Paper(models.TextChoices):
        A4 = "a4"
        LETTER = "letter"

    name = models.CharField(max_length=80)
    time_zone = models.CharField(max_length=60)
    paper = models.CharField(max_length=10, choices=Paper.choices, default=Paper.A4)
    """What it prints on."""

    class Meta:
        db_table = "school"


class Invitation(models.Model):
    """A key that lets somebody in, once. Only its digest is kept; see decision 29."""

    class Kind(models.TextChoices):
        FIRST = "first"
        COLLEAGUE = "colleague"
        HEAD = "head"
        PASSWORD = "password"

    digest = models.CharField(max_length=64, unique=True)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    made_by = models.ForeignKey(Person, on_delete=models.CASCADE, null=True, blank=True, related_name="invitations")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, null=True, blank=True, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    expires = models.DateTimeField(null=True)
    used = models.DateTimeField(null=True)

    class Meta:
        db_table = "invitation"
        ordering = ["-made"]


class SchoolClass(models.Model):
    """A teacher's group of students in a year."""

    name = models.CharField(max_length=80)
    year = models.CharField(max_length=20, blank=True)
    school = models.CharField(max_length=80, blank=True)
    join_code = models.CharField(max_length=12, unique=True)
    teachers = models.ManyToManyField(Person, related_name="taught_classes")
    door_until = models.DateTimeField(null=True, blank=True)
    """Until when names without a PIN can be taken; see decision 30."""

    class Mark(models.TextChoices):
        OF_PLAN = "", "as each plan has it"
        POINT = "point"
        COMMA = "comma"

    decimal_mark = models.CharField(max_length=5, choices=Mark.choices, default=Mark.OF_PLAN, blank=True)
    """With which mark the numbers of its lab books are shown; see decision 60."""
    own_books = models.BooleanField(default=True)
    """Whether its students may begin lab books of their own; see decision 31."""
    room = models.JSONField(default=dict, blank=True)
    """Where its benches stand: column and row of each, by its key."""
    archived = models.DateTimeField(null=True, blank=True)
    """Since when its teachers only look at it, and nobody else comes in."""

    class Meta:
        db_table = "school_class"
        ordering = ["name"]


def natural_key(name: str) -> str:
    """What names are put in order by: numbers by their size, capitals and accents aside."""
    plain = "".join(s for s in unicodedata.normalize("NFKD", name.casefold()) if not unicodedata.combining(s))
    return re.sub(r"[0-9]+", lambda m: m[0].lstrip("0").zfill(NUMBER_LONG), plain)[:KEY_LONG]


class Named(models.Model):
    """Something with a name that lists are in order of."""

    name = models.CharField(max_length=80)
    order = models.CharField(max_length=KEY_LONG, editable=False, default="")

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        self.order = natural_key(self.name)
        super().save(*args, **kwargs)


class Bench(Named):
    """Two to four students who work together."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="benches")

    class Meta:
        db_table = "bench"
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="bench_name_once_in_class")]


class Seat(Named):
    """A name on a class list. It gets its person when somebody first signs in with it and chooses a PIN.

    `bench` is where it sits from the next practical on; where it sits in one is kept in a sitting (decision 30). `off` is since when it is
    off the list.
    """

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="seats")
    bench = models.ForeignKey(Bench, on_delete=models.SET_NULL, null=True, blank=True, related_name="seats")
    person = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, blank=True, related_name="seats")
    off = models.DateTimeField(null=True, blank=True)
    absent = models.DateField(null=True, blank=True)
    """The last day on which the teacher has marked it absent."""

    class Meta:
        db_table = "seat"
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="seat_name_once_in_class")]

    @property
    def has_pin(self) -> bool:
        """Whether somebody has chosen a PIN for this name, and nobody has freed it since."""
        return self.person is not None and self.person.has_usable_password()


class WrongTry(models.Model):
    """A try to sign in that is under way or went wrong, so that the next ones can be slowed."""

    key = models.CharField(max_length=120, db_index=True)
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, null=True, blank=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        db_table = "wrong_try"


class Receipt(models.Model):
    """That something was erased, when, by whom, and how much it was; it names nobody of whom it was."""

    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=80)
    words = models.CharField(max_length=300)

    class Meta:
        db_table = "receipt"
        ordering = ["-at"]
