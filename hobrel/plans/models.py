"""What the teacher set: plans, and practicals that run in a class."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from hobrel.classes.models import Bench, Person, SchoolClass, Seat


class Plan(models.Model):
    """An investigation that somebody writes, in the lab book that is the plan's own; see decision 33."""

    owner = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="plans")

    class Meta:
        db_table = "plan"


class PlanVersion(models.Model):
    """A plan as it was given out: its document, for teachers, which never changes. It outlives its plan."""

    plan = models.ForeignKey(Plan, on_delete=models.SET_NULL, null=True, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    made = models.DateTimeField(default=timezone.now)

    class Meta:
        db_table = "plan_version"
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["plan", "number"], name="each_version_once")]


class Practical(models.Model):
    """A version of a plan running in a class."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="practicals")
    version = models.ForeignKey(PlanVersion, on_delete=models.PROTECT, related_name="practicals")
    title = models.CharField(max_length=120)
    given_out = models.DateField()
    """The day from which its class sees it."""
    closed = models.DateTimeField(null=True, blank=True)
    """Since when its lab books are only read."""
    readings_close = models.DateTimeField(null=True, blank=True)
    """From when readings can be set aside and no more be written."""
    due = models.DateTimeField(null=True, blank=True)
    late = models.BooleanField(default=True)
    """Whether it can be handed in after it was due."""
    open_to = models.CharField(max_length=12, blank=True, default="")
    """The last station of the trail that is open; all are where it is empty."""
    pool_open = models.BooleanField(default=False)
    """Whether the pool was opened, by hand or because all have handed in."""
    pool_opens = models.DateTimeField(null=True, blank=True)
    """From when it is open by itself."""
    marks_back = models.DateTimeField(null=True, blank=True)
    """From when its benches see their marks."""

    @property
    def is_pool_open(self) -> bool:
        """Whether the class may see the pool now."""
        return self.pool_open or (self.pool_opens is not None and self.pool_opens <= timezone.now())

    @property
    def marks_are_back(self) -> bool:
        """Whether its benches see their marks now."""
        return self.marks_back is not None and self.marks_back <= timezone.now()

    class Meta:
        db_table = "practical"
        ordering = ["-given_out", "title"]


class Amendment(models.Model):
    """A practical put right while it runs: from which version to which, by whom; and whether that has been taken back."""

    practical = models.ForeignKey(Practical, on_delete=models.CASCADE, related_name="amendments")
    before = models.ForeignKey(PlanVersion, on_delete=models.PROTECT, related_name="+")
    after = models.ForeignKey(PlanVersion, on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    taken_back = models.BooleanField(default=False)

    class Meta:
        db_table = "amendment"
        ordering = ["-pk"]


class Turn(models.Model):
    """That a bench does a condition of its practical, and perhaps on which day."""

    practical = models.ForeignKey(Practical, on_delete=models.CASCADE, related_name="turns")
    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="turns")
    condition = models.CharField(max_length=40)
    day = models.DateField(null=True, blank=True)

    class Meta:
        db_table = "turn"
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["practical", "bench", "condition"], name="each_turn_once")]


class Sitting(models.Model):
    """Who sits at which bench in a practical, and from when to when."""

    practical = models.ForeignKey(Practical, on_delete=models.CASCADE, related_name="sittings")
    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="sittings")
    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="sittings")
    since = models.DateTimeField(default=timezone.now)
    until = models.DateTimeField(null=True, blank=True)

    class Meta:
        db_table = "sitting"
        ordering = ["since"]
        constraints = [
            models.UniqueConstraint(fields=["practical", "seat"], condition=models.Q(until=None), name="at_one_bench_at_a_time"),
        ]
        indexes = [models.Index(fields=["practical", "bench"], name="sitting_by_bench")]
