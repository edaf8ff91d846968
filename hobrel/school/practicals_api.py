"""Plans and practicals over HTTP: a plan from a lab book, giving it out, its day, closing it, taking it back."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from hobrel.classes.models import Person
from hobrel.classes.queries import who
from hobrel.interchange.flat import SPREADSHEETS, SheetEnding, write_flat
from hobrel.labbooks.api import describe_dates
from hobrel.labbooks.plan_books import plans_of
from hobrel.labbooks.schemas import BegunBook
from hobrel.plans.models import Practical
from hobrel.school import amending, conditions, giving_out, last_time, practical_export
from hobrel.school.practising import begin_practising
from hobrel.school.schemas import (
    AmendIn,
    AmendmentOut,
    BenchTurnsOut,
    BookFateOut,
    CloseIn,
    CoverageOut,
    DatesIn,
    DayIn,
    DealTurnsIn,
    GiveOutIn,
    KeptBenches,
    NewPlanIn,
    PlanLine,
    RunningPractical,
    ShelfLine,
    TurnOut,
    TurnsIn,
    TurnsOut,
)
from hobrel.server import policy
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import Problem, ProblemOut
from hobrel.shelf.plans import SHELF

MOST_BYTES = 4_000_000
router = Router(tags=["plans and practicals"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def _plans(teacher: Person) -> list[PlanLine]:
    return [
        PlanLine(id=p.pk, book=p.book.pk, title=p.title, mine=p.owner_id == teacher.pk) for p in plans_of(teacher).select_related("book")
    ]


def describe_practical(practical: Practical) -> RunningPractical:
    amended = practical.amendments.filter(taken_back=False).first()
    return RunningPractical(
        id=practical.pk,
        title=practical.title,
        given_out=practical.given_out,
        closed=practical.closed is not None,
        behind=amending.is_behind(practical),
        dates=describe_dates(practical),
        conditions=len(practical.version.document["plan"].get("conditions", ())),
        amended=amended.at if amended and amended.after_id == practical.version_id else None,
    )


@router.get("/plans", response={200: list[PlanLine], 404: ProblemOut})
def list_plans(request: HttpRequest) -> list[PlanLine]:
    return _plans(policy.need_teacher(who(request)))


@router.post("/plans", response={200: BegunBook, **_REFUSALS})
def begin_plan(request: HttpRequest, given: NewPlanIn) -> BegunBook:
    """Begin a plan: from nothing, the shelf, or a lab book that this teacher may look at: one's own, one of a bench, another plan.
    Answers with the lab book that it is written in.
    """
    teacher = policy.need_teacher(who(request))
    if given.shelf is not None:
        return BegunBook(id=giving_out.plan_from_shelf(teacher, given.shelf).book.pk)
    plan = giving_out.new_plan(teacher, policy.find_book(teacher, given.book) if given.book is not None else None)
    return BegunBook(id=plan.book.pk)


@router.post("/plans/file", response={200: BegunBook, **_REFUSALS})
def bring_plan_in(request: HttpRequest, file: File[UploadedFile]) -> BegunBook:
    """A plan from a file that was taken out."""
    teacher = policy.need_teacher(who(request))
    if (file.size or 0) > MOST_BYTES:
        raise Problem(422, "too_large", f"This file is larger than {MOST_BYTES // 1_000_000} MB.")
    return BegunBook(id=giving_out.plan_from_file(teacher, file.read()).book.pk)


class PractiseIn(Schema):
    """At which simulated apparatus."""

    rig: Annotated[str, Field(max_length=40)]


@router.post("/practise", response={200: BegunBook, 403: ProblemOut, 404: ProblemOut, 422: ProblemOut})
def practise(request: HttpRequest, given: PractiseIn) -> BegunBook:
    """Begin a lab book of one's own at a simulated apparatus."""
    return BegunBook(id=begin_practising(policy.need_beginner(who(request)), given.rig).pk)


@router.get("/shelf", response={200: list[ShelfLine], 404: ProblemOut})
def look_at_shelf(request: HttpRequest) -> list[ShelfLine]:
    """The plans that ship with the product."""
    policy.need_teacher(who(request))
    found = [(key, subject, write()) for key, (subject, write) in SHELF.items()]
    return [ShelfLine(key=key, subject=subject, title=plan.title, question=plan.question) for key, subject, plan in found]


@router.post("/plans/{plan_id}/demonstration", response={200: BegunBook, **_REFUSALS})
def demonstrate_plan(request: HttpRequest, plan_id: int) -> BegunBook:
    """A lab book of one's own with believable readings of another truth."""
    teacher = who(request)
    return BegunBook(id=giving_out.begin_demonstration(teacher, policy.find_plan(teacher, plan_id)).pk)


@router.post("/my-classes/{class_id}/practicals", response={200: RunningPractical, **_REFUSALS})
def give_out(request: HttpRequest, class_id: int, given: GiveOutIn) -> RunningPractical:
    teacher = who(request)
    school_class = policy.find_class(teacher, class_id)
    return describe_practical(giving_out.start_practical(policy.find_plan(teacher, given.plan), school_class, given.day))


@router.post("/practicals/{practical_id}/day", response={200: RunningPractical, **_REFUSALS})
def move_practical(request: HttpRequest, practical_id: int, given: DayIn) -> RunningPractical:
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return describe_practical(giving_out.move_practical(practical, given.day))


@router.post("/practicals/{practical_id}/dates", response={200: RunningPractical, **_REFUSALS})
def set_dates(request: HttpRequest, practical_id: int, given: DatesIn) -> RunningPractical:
    """When readings close and when it is due; and which stations are open."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return describe_practical(giving_out.set_dates(practical, **given.dict(exclude_unset=True)))


def _turns(practical: Practical) -> TurnsOut:
    found = conditions.look_at_turns(practical)
    benches = [
        BenchTurnsOut(bench=b.bench, name=b.name, turns=[TurnOut(condition=c, day=d) for c, d in b.turns], done=list(b.done)) for b in found
    ]
    coverage = [CoverageOut(**asdict(c)) for c in conditions.cover(practical, found)]
    return TurnsOut(benches=benches, coverage=coverage, each=conditions.enough_each(practical, len(found)))


@router.get("/practicals/{practical_id}/turns", response={200: TurnsOut, **_REFUSALS})
def look_at_turns(request: HttpRequest, practical_id: int) -> TurnsOut:
    """Who does which condition, and how often each has been done."""
    return _turns(policy.find_practical(who(request), practical_id, as_teacher=True))


@router.post("/practicals/{practical_id}/turns", response={200: TurnsOut, **_REFUSALS})
def arrange_turns(request: HttpRequest, practical_id: int, given: TurnsIn) -> TurnsOut:
    """Let benches do these conditions; the runs are in their lab books, named."""
    teacher = who(request)
    practical = policy.find_practical(teacher, practical_id, as_teacher=True)
    conditions.arrange_turns(practical, [conditions.Wanted(t.bench, t.condition, t.day) for t in given.turns], teacher)
    return _turns(practical)


@router.post("/practicals/{practical_id}/turns/deal", response={200: TurnsOut, **_REFUSALS})
def deal_turns(request: HttpRequest, practical_id: int, given: DealTurnsIn) -> TurnsOut:
    """Deal the conditions, so that each is done as often as the others."""
    teacher = who(request)
    practical = policy.find_practical(teacher, practical_id, as_teacher=True)
    conditions.deal_turns(practical, given.each, teacher)
    return _turns(practical)


@router.post("/practicals/{practical_id}/close", response={200: RunningPractical, **_REFUSALS})
def close_practical(request: HttpRequest, practical_id: int, given: CloseIn) -> RunningPractical:
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return describe_practical(giving_out.close_practical(practical, given.closed))


@router.get("/practicals/{practical_id}/amendment", response={200: AmendmentOut, **_REFUSALS})
def look_at_amendment(request: HttpRequest, practical_id: int) -> AmendmentOut:
    """What has changed in the plan since, and what that would do to each lab book. Changes nothing."""
    found = amending.look_at_amendment(policy.find_practical(who(request), practical_id, as_teacher=True))
    return AmendmentOut(changes=list(found.changes), books=[BookFateOut(**asdict(f)) for f in found.books])


@router.post("/practicals/{practical_id}/amendment", response={200: AmendmentOut, **_REFUSALS})
def amend(request: HttpRequest, practical_id: int, given: AmendIn) -> AmendmentOut:
    """Make the plan's changes in the lab books, as one edit of the teacher in each."""
    teacher = who(request)
    practical = policy.find_practical(teacher, practical_id, as_teacher=True)
    fates = amending.amend_practical(practical, teacher, given.anyway)
    return AmendmentOut(changes=[], books=[BookFateOut(**asdict(f)) for f in fates])


@router.post("/practicals/{practical_id}/amendment/back", response={200: KeptBenches, **_REFUSALS})
def take_amendment_back(request: HttpRequest, practical_id: int) -> KeptBenches:
    """Take the last amendment back in every lab book; answers with the benches that have built on it since, whose lab books keep it."""
    teacher = who(request)
    practical = policy.find_practical(teacher, practical_id, as_teacher=True)
    return KeptBenches(benches=list(amending.take_back_amendment(practical, teacher)))


@router.delete("/practicals/{practical_id}", response={200: None, **_REFUSALS})
def take_back(request: HttpRequest, practical_id: int) -> None:
    giving_out.take_back(policy.find_practical(who(request), practical_id, as_teacher=True))


@router.get("/plans/{plan_id}/last-time", response={200: list[last_time.EarlierTime], 404: ProblemOut})
def look_back(request: HttpRequest, plan_id: int) -> list[last_time.EarlierTime]:
    """How the plan went before, in classes of this teacher."""
    teacher = who(request)
    return last_time.look_back(policy.find_plan(teacher, plan_id), teacher)


@router.get("/practicals/{practical_id}/readings.{ending}", response={200: None, 404: ProblemOut})
def take_readings_out(request: HttpRequest, practical_id: int, ending: SheetEnding) -> HttpResponse:
    """A row for every reading of every bench."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    content = write_flat(practical_export.list_all_readings([practical]), ending)
    return send_file(content, SPREADSHEETS[ending], file_name(ending, practical.title, " readings"))


@router.get("/practicals/{practical_id}/reports.zip", response={200: None, 404: ProblemOut})
def take_reports_out(request: HttpRequest, practical_id: int) -> HttpResponse:
    """The report that each bench has handed in last, as PDF."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return send_file(practical_export.pack_reports(practical), "application/zip", file_name("zip", practical.title, " reports"))


@router.get("/practicals/{practical_id}/archive.zip", response={200: None, 404: ProblemOut})
def take_practical_out(request: HttpRequest, practical_id: int) -> HttpResponse:
    """Tables of readings, findings and marks with their metadata, reports, and lab books as files."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    return send_file(practical_export.pack_practical(practical), "application/zip", file_name("zip", practical.title))
