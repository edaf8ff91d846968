"""What the teacher set: plans, and practicals that run in a class."""

from __future__ import annotations

from django.db import models

from hobrel.classes.models import Person, SchoolClass


class Plan(models.Model):
    """An investigation: `document` is a lab book with no readings, `prompts` a sentence for the margin of each stage."""

    owner = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="plans")
    title = models.CharField(max_length=120)
    document = models.JSONField()
    prompts = models.JSONField(default=dict)

    class Meta:
        db_table = "plan"
        ordering = ["title"]


class Practical(models.Model):
    """A plan running in a class. Its title, document and prompts are the plan's at the time it was given out."""

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="practicals")
    plan = models.ForeignKey(Plan, on_delete=models.SET_NULL, null=True, related_name="practicals")
    title = models.CharField(max_length=120)
    document = models.JSONField()
    prompts = models.JSONField(default=dict)
    given_out = models.DateField()
    pool_open = models.BooleanField(default=False)

    class Meta:
        db_table = "practical"
        ordering = ["-given_out", "title"]
