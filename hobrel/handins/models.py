"""What teachers say to what has been handed in: an answer, and marks (decision 46)."""

from __future__ import annotations

from django.db import models

from hobrel.classes.models import Person
from hobrel.reports.models import HandIn


class Answer(models.Model):
    """That a hand-in was returned or accepted, with words."""

    class Verdict(models.TextChoices):
        RETURNED = "returned"
        ACCEPTED = "accepted"

    hand_in = models.OneToOneField(HandIn, on_delete=models.CASCADE, primary_key=True, related_name="answer")
    verdict = models.CharField(max_length=8, choices=Verdict.choices)
    words = models.CharField(max_length=2000, blank=True)
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        db_table = "answer"


class Mark(models.Model):
    """What somebody has marked in a row of the grid: its level, counted from the lowest (none yet: only words)."""

    hand_in = models.ForeignKey(HandIn, on_delete=models.CASCADE, related_name="marks")
    row = models.CharField(max_length=40)
    level = models.PositiveSmallIntegerField(null=True, blank=True)
    words = models.CharField(max_length=600, blank=True)
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        db_table = "mark"
        constraints = [models.UniqueConstraint(fields=["hand_in", "row"], name="each_row_marked_once")]
