"""A room to measure in: three classes at one practical, with 16 benches and 96 names in all, beside the demo.

Run as ``python -m tests.bench.room`` in the environment of the server that is to be measured.
"""

from __future__ import annotations

import os

TEACHERS, BENCHES, SEATS_AT_BENCH = 3, 16, 6
PASSWORD, CODE = "a-room-to-measure-in", "BENCH9"
BOOK_OF = "Curlew"


def make_room() -> None:
    """One class, so that every teacher's page shows all 16 lab books; each is a copy of one that is well advanced."""
    from django.contrib.auth.hashers import make_password
    from django.db import transaction

    from hobrel.classes.models import Bench, Person, SchoolClass, Seat
    from hobrel.classes.queries import local_now
    from hobrel.core.document.lab_book import write_lab_book
    from hobrel.demo.written import write_practicals
    from hobrel.labbooks.actions import load_document, open_book
    from hobrel.labbooks.plan_books import give_out, write_plan
    from hobrel.school.classes import open_door

    secret = make_password(PASSWORD)
    with transaction.atomic():
        room = SchoolClass.objects.create(name="Room", year="2026/27", school="Tidewater College", join_code=CODE)
        for i in range(TEACHERS):
            teacher = Person.objects.create(username=f"measure-{i}", role=Person.Role.TEACHER, shown_name=f"T. {i}", password=secret)
            room.teachers.add(teacher)
        open_door(room, True)
        benches = [Bench.objects.create(school_class=room, name=f"Bench {b}") for b in range(BENCHES)]
        for b, bench in enumerate(benches):
            for s in range(SEATS_AT_BENCH):
                Seat.objects.create(school_class=room, bench=bench, name=f"S {b} {s}")
        written = write_practicals()[0]
        practical = give_out(write_plan(teacher, written.draft), room, local_now().date())
        for bench in benches:
            load_document(open_book(practical, bench), write_lab_book(written.books[BOOK_OF]))


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hobrel.server.settings")
    import django

    django.setup()
    make_room()
