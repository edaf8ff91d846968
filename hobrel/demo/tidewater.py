"""Tidewater College: an invented school with one teacher, one class and six benches named after shore birds."""

from __future__ import annotations

import datetime
from collections.abc import Mapping

from django.contrib.auth.hashers import make_password
from django.db import transaction

from hobrel.classes.models import Bench, Person, SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.core.document.lab_book import write_lab_book
from hobrel.demo.written import WrittenPractical, write_practicals
from hobrel.labbooks.actions import load_document, open_book
from hobrel.labbooks.models import Book
from hobrel.labbooks.plan_books import give_out, write_plan
from hobrel.labbooks.remarks import write_remark
from hobrel.plans.actions import open_pool
from hobrel.reports.actions import hand_in
from hobrel.school.teachers import write_school

TEACHER_NAME, TEACHER_PASSWORD = "thorsby", "low-tide-at-nine"
DOOR_UNTIL = datetime.datetime(2100, 1, 1, tzinfo=datetime.UTC)
JOIN_CODE, PIN = "SHORE7", "2468"

BENCHES = {
    "Curlew": ("Ada Wren", "Tomas Lind"),
    "Dunlin": ("Mira Sall", "Joss Aldane", "Peter Quill"),
    "Knot": ("Hanne Voss", "Obi Marsh"),
    "Plover": ("Lena Firth", "Sami Brook"),
    "Sanderling": ("Iris Dune", "Noor Hale"),
    "Turnstone": ("Callum Reed", "Yuki Sands"),
}


@transaction.atomic
def load_tidewater() -> None:
    """Write the school, its people and their lab books. The numbers come from a fixed seed."""
    teacher = Person(username=TEACHER_NAME, role=Person.Role.TEACHER, shown_name="M. Thorsby", is_head=True)
    teacher.set_password(TEACHER_PASSWORD)
    teacher.save()
    write_school("Tidewater College", "UTC")
    school_class = SchoolClass.objects.create(
        name="Physics 11B", year="2026/27", school="Tidewater College", join_code=JOIN_CODE, door_until=DOOR_UNTIL
    )
    school_class.door_until = DOOR_UNTIL
    school_class.save(update_fields=["door_until"])
    school_class.teachers.add(teacher)
    pin_hash = make_password(PIN)  # slow on purpose, so made once for all
    benches: dict[str, Bench] = {}
    for name, students in BENCHES.items():
        benches[name] = Bench.objects.create(school_class=school_class, name=name)
        for student in students:
            _seat(school_class, benches[name], student, pin_hash)
    running, *earlier = write_practicals()
    books = _give_out(running, teacher, school_class, benches)
    open_pool(books["Curlew"].practical, True)
    write_remark(books["Knot"], teacher, "average", "Look at your T again: what did the stopwatch show, ten swings or one?")
    first = Person.objects.get(seats__name=BENCHES["Sanderling"][0])
    hand_in(books["Sanderling"], first)
    write_remark(books["Sanderling"], teacher, "report", "Well argued. Which measurement would you improve first, and by how much?")
    for practical in earlier:
        _give_out(practical, teacher, school_class, benches)


def _give_out(written: WrittenPractical, teacher: Person, school_class: SchoolClass, benches: Mapping[str, Bench]) -> dict[str, Book]:
    """Give a practical out, and let its benches have done it."""
    day = local_now().date() - datetime.timedelta(days=written.days_ago)
    practical = give_out(write_plan(teacher, written.draft), school_class, day)
    books = {}
    for name, document in written.books.items():
        books[name] = open_book(practical, benches[name])
        load_document(books[name], write_lab_book(document))
    return books


def _seat(school_class: SchoolClass, bench: Bench, name: str, pin_hash: str) -> None:
    person = Person(username=f"student-{name.lower().replace(' ', '-')}", role=Person.Role.STUDENT, shown_name=name)
    person.password = pin_hash
    person.save()
    Seat.objects.create(school_class=school_class, bench=bench, name=name, person=person)
