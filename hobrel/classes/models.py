"""Who there is: people, classes, benches, and the places on a class list."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


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

    name = models.CharField(max_length=80)
    time_zone = models.CharField(max_length=60)

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

    class Meta:
        db_table = "school_class"
        ordering = ["name"]


class Bench(models.Model):
    """Two to four students who work together."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="benches")
    name = models.CharField(max_length=40)

    class Meta:
        db_table = "bench"
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="bench_name_once_in_class")]


class Seat(models.Model):
    """A name on a class list. It gets its person when somebody first signs in with it and chooses a PIN."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="seats")
    name = models.CharField(max_length=80)
    bench = models.ForeignKey(Bench, on_delete=models.SET_NULL, null=True, blank=True, related_name="seats")
    person = models.OneToOneField(Person, on_delete=models.SET_NULL, null=True, blank=True, related_name="seat")

    class Meta:
        db_table = "seat"
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["school_class", "name"], name="seat_name_once_in_class")]

    @property
    def has_pin(self) -> bool:
        """Whether somebody has chosen a PIN for this name, and nobody has freed it since."""
        return self.person is not None and self.person.has_usable_password()


class WrongTry(models.Model):
    """A try to sign in that is under way or went wrong, so that the next ones can be slowed."""

    key = models.CharField(max_length=120, db_index=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        db_table = "wrong_try"
