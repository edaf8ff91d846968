"""The life of a class over HTTP: colleagues, archive, next year, erasing; and what is done for one student beside where they sit."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes.models import Receipt, SchoolClass, Seat
from hobrel.classes.queries import local_now, who
from hobrel.classes.tries import let_in
from hobrel.core.statistics.scale_reading import ReadingHabit
from hobrel.labbooks.rigs import habits_of
from hobrel.school import erasing, years
from hobrel.school.classes_api import describe_class
from hobrel.school.decimal_mark import choose_decimal_mark
from hobrel.school.export import export_class, export_student
from hobrel.school.schemas import (
    AbsentIn,
    AllowIn,
    ArchivedClass,
    ArchiveIn,
    ClassIn,
    ClassPeople,
    DecimalMarkIn,
    ElsewhereOut,
    EraseIn,
    ReceiptOut,
    SameIn,
    TeachIn,
)
from hobrel.server import policy
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import ProblemOut

router = Router(tags=["classes"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


def _receipt(receipt: Receipt) -> ReceiptOut:
    return ReceiptOut(at=receipt.at, by=receipt.by, words=receipt.words)


@router.get("/archived-classes", response={200: list[ArchivedClass], 404: ProblemOut})
def list_archived(request: HttpRequest) -> list[ArchivedClass]:
    found = SchoolClass.objects.filter(teachers=policy.need_teacher(who(request))).exclude(archived=None)
    return [ArchivedClass(id=c.pk, name=c.name, year=c.year) for c in found]


@router.get("/receipts", response={200: list[ReceiptOut], **_REFUSALS})
def list_receipts(request: HttpRequest) -> list[ReceiptOut]:
    """What has been erased, newest first."""
    policy.need_head(who(request))
    return [_receipt(r) for r in Receipt.objects.all()[:200]]


@router.post("/my-classes/{class_id}/teachers", response={200: ClassPeople, **_REFUSALS})
def share_class(request: HttpRequest, class_id: int, given: TeachIn) -> ClassPeople:
    person = who(request)
    school_class = policy.find_class(person, class_id)
    years.share_class(school_class, policy.find_colleague(person, given.person), given.teaches)
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/own-books", response={200: ClassPeople, **_REFUSALS})
def allow_own_books(request: HttpRequest, class_id: int, given: AllowIn) -> ClassPeople:
    school_class = policy.find_class(who(request), class_id)
    years.allow_own_books(school_class, given.allowed)
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/decimal-mark", response={200: ClassPeople, **_REFUSALS})
def choose_mark(request: HttpRequest, class_id: int, given: DecimalMarkIn) -> ClassPeople:
    teacher = who(request)
    school_class = policy.find_class(teacher, class_id)
    choose_decimal_mark(school_class, teacher, given.mark)
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/archive", response={200: ClassPeople, **_REFUSALS})
def archive_class(request: HttpRequest, class_id: int, given: ArchiveIn) -> ClassPeople:
    school_class = policy.find_class(who(request), class_id)
    years.archive_class(school_class, given.archived)
    return describe_class(school_class)


@router.post("/my-classes/{class_id}/next-year", response={200: ClassPeople, **_REFUSALS})
def copy_class(request: HttpRequest, class_id: int, given: ClassIn) -> ClassPeople:
    teacher = who(request)
    return describe_class(years.copy_class(policy.find_class(teacher, class_id), teacher, given.name, given.year))


@dataclass(frozen=True)
class ScaleReader:
    """How somebody of a class reads scales."""

    seat: int
    name: str
    habit: ReadingHabit


@router.get("/my-classes/{class_id}/scales", response={200: list[ScaleReader], 404: ProblemOut})
def read_scale_readers(request: HttpRequest, class_id: int) -> list[ScaleReader]:
    """Who of the class has read scales of rigs, and who of them reads to the mark only."""
    school_class = policy.find_class(who(request), class_id)
    seats = [seat for seat in school_class.seats.filter(off=None).select_related("person").order_by("name", "pk") if seat.person]
    habits = habits_of(seat.person for seat in seats)
    return [ScaleReader(seat.pk, seat.name, habits[seat.person_id]) for seat in seats if seat.person_id in habits]


@router.get("/my-classes/{class_id}/export.zip", response={200: None, 404: ProblemOut})
def take_class_out(request: HttpRequest, class_id: int) -> HttpResponse:
    """All that the class holds."""
    school_class = policy.find_class(who(request), class_id)
    return send_file(export_class(school_class), "application/zip", file_name("zip", school_class.name, school_class.year))


@router.post("/my-classes/{class_id}/erase", response={200: ReceiptOut, **_REFUSALS})
def erase_class(request: HttpRequest, class_id: int, given: EraseIn) -> ReceiptOut:
    person = who(request)
    return _receipt(erasing.erase_class(policy.find_class(person, class_id), given.name, person))


@router.post("/seats/{seat_id}/absent", response={200: ClassPeople, **_REFUSALS})
def mark_absent(request: HttpRequest, seat_id: int, given: AbsentIn) -> ClassPeople:
    seat = policy.find_seat(who(request), seat_id)
    years.mark_absent(seat, given.absent)
    return describe_class(seat.school_class)


@router.post("/seats/{seat_id}/let-in", response={200: ClassPeople, **_REFUSALS})
def let_seat_in(request: HttpRequest, seat_id: int) -> ClassPeople:
    """Let somebody try again at once who waits after wrong tries."""
    seat = policy.find_seat(who(request), seat_id)
    let_in(seat.pk)
    return describe_class(seat.school_class)


@router.get("/seats/{seat_id}/elsewhere", response={200: list[ElsewhereOut], 404: ProblemOut})
def list_elsewhere(request: HttpRequest, seat_id: int) -> list[ElsewhereOut]:
    """Names in this teacher's other classes that could be the same student; those that are called alike come first."""
    teacher = who(request)
    seat = policy.find_seat(teacher, seat_id)
    others = Seat.objects.filter(school_class__teachers=teacher, school_class__archived=None, off=None)
    found = others.exclude(school_class=seat.school_class).select_related("school_class").order_by("order")
    listed = sorted(found, key=lambda other: other.order != seat.order)
    return [ElsewhereOut(seat=s.pk, name=s.name, class_name=s.school_class.name, same=s.person_id == seat.person_id) for s in listed]


@router.post("/seats/{seat_id}/same-as", response={200: ClassPeople, **_REFUSALS})
def make_one_person(request: HttpRequest, seat_id: int, given: SameIn) -> ClassPeople:
    teacher = who(request)
    seat = policy.find_seat(teacher, seat_id)
    years.make_one_person(seat, policy.find_seat(teacher, given.seat))
    return describe_class(seat.school_class)


@router.get("/seats/{seat_id}/export.zip", response={200: None, 404: ProblemOut})
def take_student_out(request: HttpRequest, seat_id: int) -> HttpResponse:
    """All that is kept of a student in a class."""
    seat = policy.find_seat(who(request), seat_id)
    return send_file(export_student(seat), "application/zip", file_name("zip", seat.name, f"{local_now():%Y-%m-%d}"))


@router.post("/seats/{seat_id}/erase", response={200: ReceiptOut, **_REFUSALS})
def erase_student(request: HttpRequest, seat_id: int, given: EraseIn) -> ReceiptOut:
    person = who(request)
    return _receipt(erasing.erase_student(policy.find_seat(person, seat_id), given.name, person))


@router.post("/teachers/{teacher_id}/erase", response={200: ReceiptOut, **_REFUSALS})
def erase_teacher(request: HttpRequest, teacher_id: int, given: EraseIn) -> ReceiptOut:
    head = policy.need_head(who(request))
    return _receipt(erasing.erase_teacher(policy.find_colleague(head, teacher_id), given.name, head))
