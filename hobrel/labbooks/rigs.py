"""What the truth of the rig on a bench is drawn from, keeping what its logger has written, and who reads scales how. See decision 49."""

from __future__ import annotations

import hashlib
import hmac
import uuid
from collections.abc import Iterable
from dataclasses import dataclass

from django.conf import settings

from hobrel.classes.models import Person
from hobrel.core.apparatus.recording import Record
from hobrel.core.questions.apparatus import Seeds
from hobrel.core.statistics.scale_reading import ReadingHabit, ScaleReading, judge_habit
from hobrel.labbooks.actions import digest_log
from hobrel.labbooks.edits.runs import AddRun, FillRun, LogIn
from hobrel.labbooks.models import Book, ScaleRead
from hobrel.labbooks.places import find
from hobrel.server.writing import writing

MOST_READ = 100


def seeds_of(book: Book) -> Seeds:
    """Of a bench, and of the class that does this practical. They hold the server's secret, so that nobody can work out what is hidden."""
    of_class = f"practical {book.practical_id}" if book.practical_id is not None else f"book {book.pk}"
    return Seeds(_digest(of_class), _digest(f"bench {book.pk}"))


def _digest(name: str) -> str:
    return hmac.digest(settings.SECRET_KEY.encode(), f"rig {name}".encode(), hashlib.sha256).hex()


@dataclass(frozen=True)
class Keeping:
    """The run that a record is kept in, and the edit that puts it there with its columns; no edit where it is there already."""

    run: str
    edit: AddRun | FillRun | None
    columns: dict[str, list[str]]


def keep_record(book: Book, record: Record, run: str) -> Keeping:
    """Keep a record in a run that holds nothing yet, else as the next run; the same record is kept once, however often it is sent.

    Raises
    ------
    Problem
        409 ``gone`` where there is no such run any more.
    """
    columns = {quantity: list(texts) for quantity, texts in record.columns.items()}
    log = LogIn(kept=digest_log(columns), rows=record.rows, units=record.units)
    runs = book.document["runs"]
    there = next((each["id"] for each in runs if each["log"] is not None and each["log"]["kept"] == log.kept), None)
    if there is not None:
        return Keeping(there, None, columns)
    target = find(runs, run, "run")
    if target["log"] is None and not any(setting["readings"] for setting in target["settings"]):
        words = f"logged {record.rows:,} rows at the apparatus"
        return Keeping(run, FillRun(run=run, settings=[], log=log, words=words), columns)
    taken = {each["name"].strip().lower() for each in runs}
    name = next(n for n in (f"Record {i}" for i in range(2, 100)) if n.lower() not in taken)
    made = f"r{uuid.uuid4().hex[:8]}"
    return Keeping(made, AddRun(run=made, name=name, log=log, headings=target.get("headings")), columns)


def note_scale_read(book: Book, person: Person, reading: ScaleReading) -> None:
    """Note how somebody read a scale; the oldest beyond the last hundred go."""
    with writing():
        ScaleRead.objects.create(book=book, person=person, off=reading.off, at_mark=reading.at_mark)
        old = ScaleRead.objects.filter(person=person).order_by("-pk").values_list("pk", flat=True)[MOST_READ:]
        ScaleRead.objects.filter(pk__in=list(old)).delete()


def habits_of(people: Iterable[Person]) -> dict[int, ReadingHabit]:
    """How people (by id) read scales, those who have read one."""
    read: dict[int, list[ScaleReading]] = {}
    for each in ScaleRead.objects.filter(person__in=people).order_by("pk"):
        read.setdefault(each.person_id, []).append(ScaleReading(each.off, each.at_mark))
    return {person: judge_habit(readings) for person, readings in read.items()}
