"""Lab books, the edits they are made of, who is looking, and remarks."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any

from django.db import models
from django.db.models.signals import post_delete
from django.dispatch import receiver

from hobrel.classes.models import Bench, Person
from hobrel.plans.models import Plan, PlanVersion, Practical


def new_stamp() -> str:
    return uuid.uuid4().hex


class Book(models.Model):
    """A bench's work on one practical, or one that somebody has begun by themselves: the document after `revision` edits. The latter has an
    owner, whom else it is `shared_with`, and neither practical nor bench (decision 31); that of a `plan` is one of these (decision 33).

    The `stamp` is another with each document, and goes with it into a backup: what has been computed is known by it. `news` counts what has
    happened beside the document: remarks, hand-ins, the pool opened.
    """

    practical = models.ForeignKey(Practical, on_delete=models.CASCADE, related_name="books", null=True, blank=True)
    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="books", null=True, blank=True)
    owner = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="own_books", null=True, blank=True)
    plan = models.OneToOneField(Plan, on_delete=models.CASCADE, related_name="book", null=True, blank=True)
    shared_with = models.ManyToManyField(Person, related_name="shared_books", blank=True)
    document = models.JSONField()
    revision = models.PositiveIntegerField(default=0)
    stamp = models.CharField(max_length=32, default=new_stamp)
    news = models.PositiveIntegerField(default=0)

    class Meta:
        db_table = "book"
        constraints = [
            models.UniqueConstraint(fields=["practical", "bench"], name="one_book_per_bench_and_practical"),
            models.CheckConstraint(
                condition=models.Q(practical__isnull=False, bench__isnull=False, owner=None, plan=None)
                | models.Q(practical=None, bench=None, owner__isnull=False),
                name="of_a_bench_or_of_somebody",
            ),
        ]

    def refresh_from_db(self, using: str | None = None, fields: Iterable[str] | None = None, from_queryset: Any = None) -> None:
        """A document that is read later than the rest brings its revision and stamp with it, so that the three are always of one moment."""
        if fields is not None and "document" in fields:
            fields = {*fields, "revision", "stamp"}
        super().refresh_from_db(using, fields, from_queryset)


class Summary(models.Model):
    """What a lab book says in a few words, and what it brings to the pool, as worked out from its document of a `stamp`.

    Written after the document; one whose stamp is not the lab book's is still of an earlier one.
    """

    book = models.OneToOneField(Book, on_delete=models.CASCADE, primary_key=True, related_name="summary")
    stamp = models.CharField(max_length=32)
    content = models.JSONField()
    share = models.JSONField()

    class Meta:
        db_table = "summary"


class SlipSeen(models.Model):
    """That something looked like a mistake in a lab book, once, of which kind and about which quantity (decision 48)."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="slips_seen")
    kind = models.CharField(max_length=40)
    of = models.CharField(max_length=80, blank=True)

    class Meta:
        db_table = "slip_seen"
        constraints = [models.UniqueConstraint(fields=["book", "kind", "of"], name="each_slip_seen_once")]


class ScaleRead(models.Model):
    """A reading of a scale of a rig: how many divisions it was `off`, and whether it was a mark."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="scales_read")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="scales_read")
    off = models.FloatField()
    at_mark = models.BooleanField()

    class Meta:
        db_table = "scale_read"


class KeptLog(models.Model):
    """Columns that a logger wrote, as texts by quantity. They never change; documents name them by `key`, their digest."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="logs")
    key = models.CharField(max_length=64)
    columns = models.JSONField()

    class Meta:
        db_table = "kept_log"
        constraints = [models.UniqueConstraint(fields=["book", "key"], name="each_log_once")]


class KeptPicture(models.Model):
    """A picture as it is shown, under the digest of its bytes; see decision 34."""

    class Kind(models.TextChoices):
        JPEG = "jpeg"
        PNG = "png"

    key = models.CharField(max_length=64, primary_key=True)
    kind = models.CharField(max_length=4, choices=Kind.choices)
    content = models.BinaryField()

    class Meta:
        db_table = "kept_picture"


class PictureUse(models.Model):
    """That a lab book or a version of a plan keeps a picture."""

    picture = models.ForeignKey(KeptPicture, on_delete=models.CASCADE, related_name="uses")
    book = models.ForeignKey(Book, on_delete=models.CASCADE, null=True, related_name="picture_uses")
    version = models.ForeignKey(PlanVersion, on_delete=models.CASCADE, null=True, related_name="picture_uses")

    class Meta:
        db_table = "picture_use"
        constraints = [
            models.UniqueConstraint(fields=["picture", "book"], name="each_picture_once_in_a_book"),
            models.UniqueConstraint(fields=["picture", "version"], name="each_picture_once_in_a_version"),
            models.CheckConstraint(
                condition=models.Q(book__isnull=False, version=None) | models.Q(book=None, version__isnull=False),
                name="of_a_book_or_a_version",
            ),
        ]


@receiver(post_delete, sender=PictureUse)
def _forget_unused(instance: PictureUse, **_: Any) -> None:
    """A picture goes with the last that keeps it, whatever was erased."""
    KeptPicture.objects.filter(pk=instance.picture_id, uses=None).delete()


class EditRecord(models.Model):
    """One change: who, when, what was asked for, and what that has changed (`patches`, which lead back as well).

    `client_id` is made by the browser, so that a change sent twice is made once. An undo or redo is a change of its own;
    `undoes` points to the one it took back, and `taken_back` marks one that is at present undone.
    """

    class Kind(models.TextChoices):
        DO = "do"
        UNDO = "undo"
        REDO = "redo"

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="edits")
    revision = models.PositiveIntegerField()
    client_id = models.UUIDField()
    author = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="edits")
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=4, choices=Kind.choices, default=Kind.DO)
    change = models.JSONField()
    patches = models.JSONField(default=list)
    words = models.CharField(max_length=300)
    undoes = models.ForeignKey("self", on_delete=models.CASCADE, null=True, blank=True, related_name="undone_by")
    taken_back = models.BooleanField(default=False)

    class Meta:
        db_table = "edit"
        ordering = ["revision"]
        constraints = [
            models.UniqueConstraint(fields=["book", "revision"], name="one_edit_per_revision"),
            models.UniqueConstraint(fields=["book", "client_id"], name="each_edit_once"),
        ]


class Presence(models.Model):
    """Who has a lab book open, and which cell they are in."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="presences")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    place = models.CharField(max_length=120, blank=True)
    seen = models.DateTimeField()

    class Meta:
        db_table = "presence"
        constraints = [models.UniqueConstraint(fields=["book", "person"], name="present_once")]


class Hand(models.Model):
    """A hand that somebody of the bench has raised over a lab book."""

    book = models.OneToOneField(Book, on_delete=models.CASCADE, primary_key=True, related_name="hand")
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        db_table = "hand"


class LeftOut(models.Model):
    """A bench that a teacher has left out of its class's pool, and why. Nothing of its lab book changes."""

    book = models.OneToOneField(Book, on_delete=models.CASCADE, primary_key=True, related_name="left_out")
    by = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    reason = models.CharField(max_length=300)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        db_table = "left_out"


class OpenedStage(models.Model):
    """A station of a lab book that somebody of its bench has opened (decision 35)."""

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="opened_stages")
    stage = models.CharField(max_length=12)

    class Meta:
        db_table = "opened_stage"
        constraints = [models.UniqueConstraint(fields=["book", "stage"], name="each_stage_opened_once")]


class Remark(models.Model):
    """A teacher's note in the margin of a stage, about a `place` in the lab book if it has one, and what stood there then (`was`).

    The bench says that it is `done`; who wrote it settles it (decision 45).
    """

    book = models.ForeignKey(Book, on_delete=models.CASCADE, related_name="remarks")
    author = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="remarks")
    stage = models.CharField(max_length=12)
    text = models.TextField(max_length=2000)
    at = models.DateTimeField(auto_now_add=True)
    place = models.JSONField(null=True)
    was = models.TextField(blank=True, default="")
    done = models.BooleanField(default=False)
    settled = models.BooleanField(default=False)

    class Meta:
        db_table = "remark"
        ordering = ["at"]


class Reply(models.Model):
    """A further word under a remark."""

    remark = models.ForeignKey(Remark, on_delete=models.CASCADE, related_name="replies")
    author = models.ForeignKey(Person, on_delete=models.SET_NULL, null=True, related_name="+")
    by_teacher = models.BooleanField()
    text = models.TextField(max_length=2000)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        db_table = "reply"
        ordering = ["pk"]
