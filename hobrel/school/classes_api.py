"""Classes over HTTP: making them, their lists, benches and doors, and what is done for one name."""

from __future__ import annotations

from typing import cast

from django.http import HttpRequest
from django.utils import timezone
from ninja import File, Router
from ninja.files import UploadedFile

from hobrel.classes.models import SchoolClass
from hobrel.classes.queries import local_now, who
from hobrel.classes.tries import waiting_seats
from hobrel.computing.asking import ask
from hobrel.core.document.lab_book import DecimalMark
from hobrel.labbooks.schemas import PersonOut
from hobrel.plans.models import Practical
from hobrel.plans.sittings import take_off
from hobrel.school import classes
from hobrel.school.list_files import read_list_files
from hobrel.school.lists import ReadList, read_list
from hobrel.school.practicals_api import describe_practical
from hobrel.school.schemas import (
    BenchOf,
    ClassIn,
    ClassPeople,
    DealIn,
    DoorIn,
    KeepListIn,
    ListIn,
    ListLooked,
    ListText,
    MovedName,
    MoveIn,
    NameAndBench,
    RenameIn,
    SeatAllIn,
    SeatLine,
)
from hobrel.server import policy
from hobrel.server.problems import Problem, ProblemOut

router = Router(tags=["classes"])
MOST_LIST_BYTES = 4_000_000
_REFUSALS = {404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def describe_class(school_class: SchoolClass) -> ClassPeople:
    """A class as its teachers arrange it."""
    found = SchoolClass.objects.get(pk=school_class.pk)
    seats, today = list(found.seats.filter(off=None).select_related("bench", "person")), local_now().date()
    waiting = waiting_seats(s.pk for s in seats)
    door = found.door_until if found.door_until and found.door_until > timezone.now() else None
    return ClassPeople(
        id=found.pk,
        name=found.name,
        year=found.year,
        school=found.school,
        join_code=found.join_code,
        door_until=door,
        own_books=found.own_books,
        decimal_mark=cast(DecimalMark, found.decimal_mark) or None,
        archived=found.archived is not None,
        teachers=[PersonOut(id=t.pk, name=t.shown_name) for t in found.teachers.order_by("shown_name")],
        benches=[bench.name for bench in found.benches.all()],
        seats=[
            SeatLine(
                id=s.pk,
                name=s.name,
                bench=s.bench.name if s.bench else "",
                has_pin=s.has_pin,
                absent=s.absent == today,
                waiting=s.pk in waiting,
            )
            for s in seats
        ],
        practicals=[describe_practical(p) for p in _practicals(found)],
    )


def _practicals(school_class: SchoolClass, keys: list[int] | None = None) -> list[Practical]:
    """The practicals of a class, newest first; with keys those of them."""
    found = school_class.practicals.order_by("-given_out", "-pk")
    return list(found if keys is None else found.filter(pk__in=keys))


@router.post("/my-classes", response={200: ClassPeople, **_REFUSALS})
def make_class(request: HttpRequest, given: ClassIn) -> ClassPeople:
    return describe_class(classes.make_class(policy.need_teacher(who(request)), given.name, given.year))


@router.get("/my-classes/{class_id}", response={200: ClassPeople, 404: ProblemOut})
def read_class(request: HttpRequest, class_id: int) -> ClassPeople:
    return describe_class(policy.find_class(who(request), class_id))


def _read_list(school_class: SchoolClass, given: ListIn) -> ReadList:
    return read_list(given.text, given.second, [bench.name for bench in school_class.benches.all()])


@router.post("/my-classes/{class_id}/list/look", response={200: ListLooked, **_REFUSALS})
def look_at_list(request: HttpRequest, class_id: int, given: ListIn) -> ListLooked:
    """What a list would change, before it is kept."""
    school_class = policy.find_class(who(request), class_id)
    found = _read_list(school_class, given)
    difference = classes.compare_list(school_class, found.names)
    return ListLooked(
        second=found.second,
        troubles=list(found.troubles),
        left=list(found.left),
        new=[NameAndBench(name=one.name, bench=one.bench) for one in difference.new],
        moved=[MovedName(name=s.name, was=s.bench.name if s.bench else "", bench=bench) for s, bench in difference.moved],
        same=len(difference.same),
        gone=[seat.name for seat in difference.gone],
    )


@router.post("/my-classes/{class_id}/list/file", response={200: ListText, **_REFUSALS})
def read_list_file(request: HttpRequest, class_id: int, files: File[list[UploadedFile]]) -> ListText:
    """A list from a file, as it could have been pasted; nothing is kept."""
    policy.find_class(who(request), class_id)
    if sum(file.size or 0 for file in files) > MOST_LIST_BYTES:
        raise Problem(422, "too_large", f"A list is smaller than {MOST_LIST_BYTES // 1_000_000} MB.", {"field": "text"})
    return ListText(text=ask(read_list_files, [(file.name or "", file.read()) for file in files], heavy=True))


@router.post("/my-classes/{class_id}/list", response={200: ClassPeople, **_REFUSALS})
def keep_list(request: HttpRequest, class_id: int, given: KeepListIn) -> ClassPeople:
    school_class = policy.find_class(who(request), class_id)
    found = _read_list(school_class, given)
    if found.troubles:
        raise Problem(422, found.troubles[0].code, found.troubles[0].text, {"field": "text"})
    classes.keep_list(school_class, found.names, given.without_gone, _practicals(school_class, given.practicals))
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/deal", response={200: list[BenchOf], **_REFUSALS})
def deal_benches(request: HttpRequest, class_id: int, given: DealIn) -> list[BenchOf]:
    """How everybody could sit; nothing is kept."""
    school_class = policy.find_class(who(request), class_id)
    if given.way == "last":
        return [BenchOf(name=name, seats=[s.pk for s in seats]) for name, seats in classes.sat_last(school_class).items()]
    dealt = classes.deal_benches(school_class, given.size, given.way)
    named = [bench.name for bench in school_class.benches.all()]
    further = (name for n in range(1, len(dealt) + len(named) + 1) if (name := f"Bench {n}") not in named)
    names = [*named[: len(dealt)], *(next(further) for _ in range(len(dealt) - len(named)))]
    return [BenchOf(name=name, seats=[seat.pk for seat in seats]) for name, seats in zip(names, dealt, strict=True)]


@router.post("/my-classes/{class_id}/benches", response={200: ClassPeople, **_REFUSALS})
def seat_all(request: HttpRequest, class_id: int, given: SeatAllIn) -> ClassPeople:
    school_class = policy.find_class(who(request), class_id)
    at: dict[str, list[int]] = {}
    for bench in given.benches:
        at.setdefault(bench.name, []).extend(bench.seats)
    classes.seat_all(school_class, at, _practicals(school_class, given.practicals))
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/door", response={200: ClassPeople, **_REFUSALS})
def open_door(request: HttpRequest, class_id: int, given: DoorIn) -> ClassPeople:
    school_class = policy.find_class(who(request), class_id)
    classes.open_door(school_class, given.open)
    return describe_class(school_class)


@router.post("/seats/{seat_id}/move", response={200: ClassPeople, **_REFUSALS})
def move_seat(request: HttpRequest, seat_id: int, given: MoveIn) -> ClassPeople:
    seat = policy.find_seat(who(request), seat_id)
    classes.move_one(seat, given.bench, _practicals(seat.school_class, given.practicals))
    return describe_class(seat.school_class)


@router.post("/seats/{seat_id}/rename", response={200: ClassPeople, **_REFUSALS})
def rename_seat(request: HttpRequest, seat_id: int, given: RenameIn) -> ClassPeople:
    seat = policy.find_seat(who(request), seat_id)
    classes.rename_seat(seat, given.name)
    return describe_class(seat.school_class)


@router.post("/seats/{seat_id}/forget-pin", response={200: ClassPeople, **_REFUSALS})
def forget_pin(request: HttpRequest, seat_id: int) -> ClassPeople:
    seat = policy.find_seat(who(request), seat_id)
    classes.forget_pin(seat)
    return describe_class(seat.school_class)


@router.post("/seats/{seat_id}/take-off", response={200: ClassPeople, **_REFUSALS})
def take_seat_off(request: HttpRequest, seat_id: int) -> ClassPeople:
    seat = policy.find_seat(who(request), seat_id)
    take_off(seat)
    return describe_class(seat.school_class)
