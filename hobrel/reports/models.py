"""What has been handed in, frozen."""

from __future__ import annotations

from typing import Any

from django.db import models

from hobrel.classes.models import Person
from hobrel.labbooks.models import Book


class HandIn(models.Model):
    """A lab book as it was handed in: document, analysis and rendered report together. Never changed afterwards, but for
    the names on it when somebody is erased (decision 32)."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="hand_ins")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    document = models.JSONField()
    analysis = models.JSONField()
    html = models.TextField()
    pdf = models.BinaryField()
    # none in what was handed in before there were any
    docx = models.BinaryField(default=b"")
    odt = models.BinaryField(default=b"")

    class Meta:
        db_table = "hand_in"
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["book", "number"], name="hand_ins_numbered")]

    def save(self, *args: Any, **kwargs: Any) -> None:
        if self.pk is not None:
            raise TypeError("What has been handed in is never changed.")
        super().save(*args, **kwargs)
