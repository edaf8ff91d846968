"""Handing in over HTTP: the hand-in itself, the queue, answers and marks."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from hobrel.classes.queries import who
from hobrel.core.reporting.changes import PartChange
from hobrel.handins import actions, queries
from hobrel.handins.marks_table import list_marks
from hobrel.handins.schemas import (
    AnswerIn,
    FactOut,
    HandInOut,
    MarkedHandIn,
    MarkIn,
    MarksAndAnswer,
    MarksBackIn,
    QueueOut,
)
from hobrel.interchange.flat import SPREADSHEETS, SheetEnding, write_flat
from hobrel.labbooks.frames import name_parts
from hobrel.labbooks.queries import find_opened
from hobrel.reports.actions import compare_hand_ins, gather_facts, with_prints
from hobrel.reports.actions import hand_in as freeze
from hobrel.reports.export import MEDIA_TYPES, Ending
from hobrel.reports.models import HandIn
from hobrel.server import policy
from hobrel.server.files import file_name, send_file, show_in_frame
from hobrel.server.problems import ProblemOut, not_found

router = Router(tags=["hand-ins"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


@router.post("/books/{book_id}/hand-in", response={200: list[HandInOut], 403: ProblemOut, 404: ProblemOut, 409: ProblemOut})
def hand_in(request: HttpRequest, book_id: int) -> list[HandInOut]:
    """Freeze a lab book with its report, for its teachers.

    Raises
    ------
    Problem
        404 where it has no class.
    """
    person = who(request)
    book = policy.find_book(person, book_id, "edit")
    if book.practical is None:
        raise not_found()
    freeze(book, person)
    return queries.hand_ins_of(book)


@router.get("/hand-ins/{hand_in_id}/report.{ending}", response={200: None, 404: ProblemOut})
def take_out_hand_in(request: HttpRequest, hand_in_id: int, ending: Ending) -> HttpResponse:
    """A file of what was handed in, as it was made then.

    Raises
    ------
    Problem
        404 where there was no such file yet.
    """
    found = with_prints(policy.find_hand_in(who(request), hand_in_id))
    content = found.html.encode() if ending == "html" else bytes(getattr(found, ending))
    if not content:
        raise not_found()
    return send_file(content, MEDIA_TYPES[ending], file_name(ending, *name_parts(found.book), f" {found.number}"))


@router.get("/hand-ins/{hand_in_id}/page", response={200: None, 404: ProblemOut})
def show_hand_in(request: HttpRequest, hand_in_id: int) -> HttpResponse:
    """What was handed in, to be looked at in a frame of a page."""
    return show_in_frame(with_prints(policy.find_hand_in(who(request), hand_in_id)).html)


@router.get("/hand-ins/{hand_in_id}/changes", response={200: list[PartChange], 404: ProblemOut})
def read_changes(
    request: HttpRequest, hand_in_id: int, against: Annotated[str, Query(pattern=r"^(before|now|[0-9]{1,6})$")] = "before"
) -> list[PartChange]:
    """What has changed from the hand-in before to this one; from this one to `now`; or between it and the one of another number.

    Raises
    ------
    Problem
        404 where there is none of that number.
    """
    found = policy.find_hand_in(who(request), hand_in_id)
    if against == "now":
        return list(compare_hand_ins(found, found.book))
    if against == "before":
        other = queries.hand_in_before(found)
        return list(compare_hand_ins(other, found)) if other is not None else []
    other = HandIn.objects.filter(book=found.book_id, number=int(against)).first()
    if other is None:
        raise not_found()
    first, then = sorted((other, found), key=lambda h: h.number)
    return list(compare_hand_ins(first, then))


@router.get("/practicals/{practical_id}/hand-ins", response={200: QueueOut, 404: ProblemOut})
def read_queue(request: HttpRequest, practical_id: int) -> QueueOut:
    """What the benches of a practical have handed in, those that wait for an answer first."""
    return queries.queue_of(policy.find_practical(who(request), practical_id, as_teacher=True))


@router.get("/hand-ins/{hand_in_id}", response={200: MarkedHandIn, **_REFUSALS})
def read_hand_in(request: HttpRequest, hand_in_id: int) -> MarkedHandIn:
    """A hand-in for who marks it."""
    handed = policy.find_hand_in(who(request), hand_in_id, "remark")
    facts = gather_facts(handed, find_opened([handed.book]).get(handed.book_id, []))
    return MarkedHandIn(
        id=handed.pk,
        book=handed.book_id,
        number=handed.number,
        bench=handed.book.bench.name,
        revision_now=handed.book.revision == handed.revision,
        answer=queries.describe_answer(handed),
        marks=queries.describe_marks(handed),
        marks_before=queries.describe_marks(queries.hand_in_before(handed)),
        facts=[FactOut(kind=fact.kind, text=fact.words.text) for fact in facts],
    )


def _said(handed: HandIn) -> MarksAndAnswer:
    fresh = HandIn.objects.defer(*queries.HEAVY).get(pk=handed.pk)
    return MarksAndAnswer(answer=queries.describe_answer(fresh), marks=queries.describe_marks(fresh))


@router.post("/hand-ins/{hand_in_id}/answer", response={200: MarksAndAnswer, **_REFUSALS})
def answer(request: HttpRequest, hand_in_id: int, given: AnswerIn) -> MarksAndAnswer:
    """Return a hand-in to its bench, or accept it."""
    person = who(request)
    handed = policy.find_hand_in(person, hand_in_id, "remark")
    actions.answer_hand_in(handed, person, given.verdict, given.words, given.was)
    return _said(handed)


@router.post("/hand-ins/{hand_in_id}/marks", response={200: MarksAndAnswer, **_REFUSALS})
def mark(request: HttpRequest, hand_in_id: int, given: MarkIn) -> MarksAndAnswer:
    """Mark a row of the grid."""
    person = who(request)
    handed = policy.find_hand_in(person, hand_in_id, "remark")
    actions.mark_row(handed, person, given.row, level=given.level, words=given.words, was=given.was)
    return _said(handed)


@router.post("/practicals/{practical_id}/marks-back", response={200: QueueOut, 403: ProblemOut, 404: ProblemOut})
def give_marks_back(request: HttpRequest, practical_id: int, given: MarksBackIn) -> QueueOut:
    """Let the benches see their marks from now on, or not any more."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    actions.give_marks_back(practical, given.given_back)
    return queries.queue_of(practical)


@router.get("/practicals/{practical_id}/marks.{ending}", response={200: None, 404: ProblemOut})
def take_marks_out(request: HttpRequest, practical_id: int, ending: SheetEnding) -> HttpResponse:
    """A row for each student: bench, hand-in, answer, and each row of the grid with level and words."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return send_file(write_flat(list_marks(practical), ending), SPREADSHEETS[ending], file_name(ending, practical.title, " marks"))
