"""Plans begun from nothing or from lab books, and practicals that are given out to classes, dated, closed, taken back. See decision 33."""

from __future__ import annotations

import json
import secrets
from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from datetime import date, datetime, timedelta
from typing import Any

from django.db.models import F
from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass
from hobrel.classes.queries import local_now, mark_in_classes
from hobrel.core.document.lab_book import LabBook, read_lab_book, write_lab_book
from hobrel.core.document.plans import ALL_FREE, begin_plan, write_with
from hobrel.core.errors import CoreError
from hobrel.core.questions.dry_run import demonstrate
from hobrel.labbooks.actions import load_document
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book
from hobrel.labbooks.own import UNTITLED, UNTITLED_PLAN, begin_book, empty_document
from hobrel.labbooks.pictures import hand_pictures_on, take_pictures_out
from hobrel.labbooks.plan_books import give_out, write_plan
from hobrel.plans.actions import bench_document, forget_unused_versions
from hobrel.plans.models import Plan, Practical
from hobrel.server.problems import Problem, not_found
from hobrel.server.texts import refuse_no_text
from hobrel.server.writing import writing
from hobrel.shelf.plans import SHELF

FARTHEST = timedelta(days=400)
MOST_PLANS = 300


def new_plan(teacher: Person, of: Book | None) -> Plan:
    """A plan to be written: an empty one, or one that a lab book or another plan is the pattern of, without its readings.

    Raises
    ------
    Problem
        422 ``too_large``.
    """
    _check_room(teacher)
    pattern = read_lab_book(of.document) if of else write_with(replace(empty_document(), title=UNTITLED_PLAN), mark_in_classes(teacher))
    return write_plan(teacher, begin_plan(pattern), of)


def plan_from_shelf(teacher: Person, key: str) -> Plan:
    """A plan of the shelf, to be made one's own.

    Raises
    ------
    Problem
        404 where there is none of this key; 422 ``too_large``.
    """
    if key not in SHELF:
        raise not_found()
    _check_room(teacher)
    return write_plan(teacher, write_with(SHELF[key][1](), mark_in_classes(teacher)))


def plan_from_file(teacher: Person, content: bytes) -> Plan:
    """A plan from a file: one that was taken out, as it was; any other lab book as the pattern of one.

    Raises
    ------
    Problem
        422 ``bad_file`` for what is no lab book; ``too_large``.
    """
    _check_room(teacher)
    try:
        found = json.loads(content)
        refuse_no_text(found)
        document, pictures = take_pictures_out(read_lab_book(found))
    except (UnicodeDecodeError, ValueError, RecursionError) as trouble:
        raise Problem(422, "bad_file", "This is not a plan that was taken out of Hobrel: it is no JSON.") from trouble
    except CoreError as trouble:
        raise Problem(422, "bad_file", trouble.message) from trouble
    return write_plan(teacher, document if document.plan.draft else begin_plan(document), pictures=pictures)


def begin_demonstration(teacher: Person, plan: Plan) -> Book:
    """A lab book of the teacher's own with believable readings of another truth, which no class pools.

    Raises
    ------
    Problem
        422 ``too_large``.
    CoreError
        As `believe`.
    """
    shown: LabBook = ask_about(plan.book, "", demonstrate, secrets.randbelow(1000) + 1, heavy=True)
    book = begin_book(teacher)
    document = write_lab_book(replace(shown, freedoms=ALL_FREE))
    load_document(book, document)
    hand_pictures_on(document, plan.book, book)
    return book


def _check_room(teacher: Person) -> None:
    if teacher.plans.count() >= MOST_PLANS:
        raise Problem(422, "too_large", f"You have {MOST_PLANS} plans, and that is the most.")


def start_practical(plan: Plan, school_class: SchoolClass, day: date) -> Practical:
    """Give a plan out to a class, to be seen from a day on.

    Raises
    ------
    Problem
        422 ``no_benches`` where nobody sits at a bench yet; ``bad_day`` for one that is too far away; ``no_quantities`` or ``no_title`` for
        a plan that lacks these.
    """
    _check_day(day)
    document = read_lab_book(plan.book.document)
    if not any(q.kind == "changed" for q in document.quantities) or not any(q.kind == "measured" for q in document.quantities):
        raise Problem(422, "no_quantities", "A plan has something to set and something to measure. Write two headings in its table first.")
    if document.title.strip() in ("", UNTITLED, UNTITLED_PLAN):
        raise Problem(422, "no_title", "Give this plan a title first: students will see it.")
    if not school_class.seats.filter(off=None).exclude(bench=None).exists():
        raise Problem(422, "no_benches", "Nobody in this class sits at a bench yet. Paste its list and deal benches first.")
    return give_out(plan, school_class, day)


def move_practical(practical: Practical, day: date) -> Practical:
    """Let the class see it from another day on.

    Raises
    ------
    Problem
        409 ``begun`` where a bench has it open already and would lose sight of it; 422 ``bad_day``.
    """
    _check_day(day)
    if day > local_now().date() and _has_begun(practical):
        raise Problem(409, "begun", "A bench has written in it already, so it cannot be hidden again. Close it to stop the writing.")
    practical.given_out = day
    with writing():
        practical.save(update_fields=["given_out"])
    return practical


@dataclass(frozen=True)
class NewDates:
    """When readings close, when it is due, whether later will do; from when the pool is open by itself; from when marks are seen;
    the last station that is open.
    """

    readings_close: datetime | None
    due: datetime | None
    late: bool
    pool_opens: datetime | None
    marks_back: datetime | None
    open_to: str


def set_dates(practical: Practical, **changed: Any) -> Practical:
    """Set when what of a practical is open: the `changed` fields of `NewDates`, whatever a colleague has set of the others.

    Raises
    ------
    Problem
        422 ``bad_day`` for a time before the class sees it, or that is too far away; for a day on which it is due before readings close.
    """
    wanted = NewDates(**{field.name: getattr(practical, field.name) for field in fields(NewDates)} | changed)
    close = _by_the_clocks(wanted.readings_close, practical, "readings_close", "Readings would close")
    due = _by_the_clocks(wanted.due, practical, "due", "It would be due")
    opens = _by_the_clocks(wanted.pool_opens, practical, "pool_opens", "The pool would open")
    back = _by_the_clocks(wanted.marks_back, practical, "marks_back", "Marks would be given back")
    if close is not None and due is not None and due < close:
        raise Problem(422, "bad_day", "It would be due before readings close.", {"field": "due"})
    practical.readings_close, practical.due, practical.late = close, due, wanted.late
    practical.pool_opens, practical.marks_back, practical.open_to = opens, back, wanted.open_to
    with writing():
        practical.save(update_fields=["readings_close", "due", "late", "pool_opens", "marks_back", "open_to"])
        practical.books.update(news=F("news") + 1)
    return practical


def _by_the_clocks(moment: datetime | None, practical: Practical, field: str, what: str) -> datetime | None:
    """A moment; one without a zone is by the school's clocks.

    Raises
    ------
    Problem
        422 ``bad_day``.
    """
    if moment is None:
        return None
    here = local_now().tzinfo
    at = moment if moment.tzinfo else moment.replace(tzinfo=here)
    _check_day(at.astimezone(here).date())
    if at.astimezone(here).date() < practical.given_out:
        raise Problem(422, "bad_day", f"{what} before the class sees it.", {"field": field})
    return at


def close_practical(practical: Practical, closed: bool) -> Practical:
    """Let the lab books of a practical only be read, or be written in again."""
    practical.closed = timezone.now() if closed else None
    with writing():
        practical.save(update_fields=["closed"])
    return practical


def take_back(practical: Practical) -> None:
    """Take a practical back that nobody has written in.

    Raises
    ------
    Problem
        409 ``begun``.
    """
    with writing():
        if _has_begun(practical):
            raise Problem(409, "begun", "A bench has written in it already, so it stays. Close it to stop the writing.")
        Practical.objects.filter(pk=practical.pk).delete()
        forget_unused_versions()


def _has_begun(practical: Practical) -> bool:
    """Whether a bench has written something, or a lab book was brought in with something in it."""
    begins = _unlogged(bench_document(practical))
    return any(book.revision > 0 or _unlogged(book.document) != begins for book in practical.books.all())


def _unlogged(document: Mapping[str, Any]) -> dict[str, Any]:
    """A document without its logs, which lab books keep elsewhere."""
    return {**document, "runs": [{**run, "log": None} for run in document["runs"]]}


def _check_day(day: date) -> None:
    if abs(day - local_now().date()) > FARTHEST:
        raise Problem(422, "bad_day", "This day is more than a year away.", {"field": "day"})
