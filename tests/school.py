"""Two invented schools in the database, and people who act in them, for server and browser tests."""

from __future__ import annotations

import datetime
import json
import random
import uuid
from dataclasses import dataclass
from functools import cache
from typing import Any

from django.contrib.auth.hashers import make_password
from django.http import HttpResponse
from django.test import Client

from hobrel.classes.models import Bench, Person, SchoolClass, Seat
from hobrel.computing.messages import Worked
from hobrel.core.document.lab_book import LabBook, read_lab_book, write_lab_book
from hobrel.core.document.plans import begin_plan
from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.results import Analysis
from hobrel.labbooks.actions import load_document, open_book
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book
from hobrel.labbooks.plan_books import give_out, write_plan
from hobrel.labbooks.queries import books_of
from hobrel.labbooks.summaries import Noted, summarise_book, write_summaries
from hobrel.plans.models import Practical
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench, write_draft

OPEN_UNTIL = datetime.datetime(2100, 1, 1, tzinfo=datetime.UTC)
PIN, PASSWORD = "1357", "a-long-enough-word"


@dataclass(frozen=True)
class School:
    """One class: its teacher, two benches with two students at the first, an empty lab book for each, and a free name."""

    teacher: Person
    school_class: SchoolClass
    practical: Practical
    book: Book
    other_book: Book
    students: tuple[Person, Person]
    other_bench: Person


def make_school(name: str = "one", code: str = "CODE11") -> School:
    """Write a school. Lab books are empty; the period's formula is already written."""
    teacher = _person(f"teacher-{name}", Person.Role.TEACHER, f"Teacher {name}", PASSWORD)
    school_class = SchoolClass.objects.create(
        name=f"Class {name}", school="Tidewater College", year="2026/27", join_code=code, door_until=OPEN_UNTIL
    )
    school_class.door_until = OPEN_UNTIL
    school_class.save(update_fields=["door_until"])
    school_class.teachers.add(teacher)
    seats: list[Person] = []
    benches = []
    for bench_name, students in (("Godwit", ("Ann", "Bo")), ("Redshank", ("Cy",))):
        bench = Bench.objects.create(school_class=school_class, name=bench_name)
        benches.append(bench)
        for student in students:
            person = _person(f"{student}-{name}".lower(), Person.Role.STUDENT, student, PIN)
            Seat.objects.create(school_class=school_class, bench=bench, name=student, person=person)
            seats.append(person)
    Seat.objects.create(school_class=school_class, bench=benches[0], name="Newcomer")
    practical = give_out(write_plan(teacher, write_draft()), school_class, datetime.date(2026, 10, 1))
    books = [open_book(practical, bench) for bench in benches]
    for book in books:
        load_document(
            book, book.document | {"quantities": [q | {"formula": "t_10/10"} if q["id"] == "T" else q for q in book.document["quantities"]]}
        )
    return School(teacher, school_class, practical, books[0], books[1], (seats[0], seats[1]), seats[2])


@cache
def _hashed(secret: str) -> str:
    """Hashing is slow on purpose, so each secret is hashed once."""
    return make_password(secret)


def _person(username: str, role: str, shown: str, secret: str) -> Person:
    return Person.objects.create(username=username, role=role, shown_name=shown, password=_hashed(secret))


def fill(book: Book, count: int = 8, formula: str = "t_10/10", seed: int = 3) -> LabBook:
    """Put believable readings into a new book."""
    story = Story(tuple(round(0.3 + 0.05 * i, 3) for i in range(count)), formula=formula)
    document = write_bench(make_plan(), story, random.Random(seed))
    load_document(book, write_lab_book(document))
    return document


def analysis_of(book: Book) -> Analysis:
    """The analysis of a lab book as it is held here, worked out in this process."""
    return analyse(read_lab_book(book.document))


def keep_summaries(practical: Practical) -> None:
    """What the computing process does after each change, at once: in a test's transaction it would wait for its end."""
    for book in books_of(practical):
        try:
            result, trouble = ask_about(book, "", summarise_book), None
        except CoreError as error:
            result, trouble = None, error
        write_summaries([Worked(Noted(book.pk, book.stamp), result, trouble)])


def give_another(school: School, plan: LabBook, document: LabBook) -> Book:
    """Another practical for the class, with the lab book of its first bench already written."""
    practical = give_out(write_plan(school.teacher, begin_plan(plan)), school.school_class, datetime.date(2026, 9, 1))
    book = open_book(practical, school.book.bench)
    load_document(book, write_lab_book(document))
    return book


def client_of(person: Person | None) -> Client:
    """A browser that this person is signed in with, CSRF checks on."""
    client = Client()
    if person is not None:
        client.force_login(person)
    return client


class Sent:
    """What has come of one change: as its own status, and either the problem or the lab book as it is then."""

    def __init__(self, client: Client, book: Book, answer: HttpResponse) -> None:
        self._client, self._book, self.answer = client, book, answer
        self._said = answer.json()
        refused = next((a["refused"] for a in self._said.get("answers", ())), None)
        self.status_code = refused["status"] if refused else answer.status_code
        self._problem = refused or (self._said if self.status_code != 200 else None)

    @property
    def content(self) -> bytes:
        return self.answer.content

    def json(self) -> dict[str, Any]:
        return self._problem or {**self._client.get(f"/api/books/{self._book.pk}").json(), **self._said}


def post_edits(client: Client, book: Book, *edits: tuple[str, dict[str, Any]]) -> HttpResponse:
    """Send several edits at once, each with its id."""
    body = {"edits": [{"client_id": key, "edit": edit} for key, edit in edits]}
    return client.post(f"/api/books/{book.pk}/edits", json.dumps(body), content_type="application/json")


def send_edit(client: Client, book: Book, edit: dict[str, Any], client_id: str | None = None) -> Sent:
    return Sent(client, book, post_edits(client, book, (client_id or str(uuid.uuid4()), edit)))


def send_step(client: Client, book: Book, which: str) -> Sent:
    body = json.dumps({"client_id": str(uuid.uuid4())})
    return Sent(client, book, client.post(f"/api/books/{book.pk}/{which}", body, content_type="application/json"))


def reading(text: str, was: str = "", setting: str = "a", quantity: str = "t10", repeat: int = 0) -> dict[str, Any]:
    return {"type": "set_reading", "run": "run1", "setting": setting, "quantity": quantity, "repeat": repeat, "text": text, "was": was}


def add_setting(setting: str = "a") -> dict[str, Any]:
    return {"type": "add_setting", "run": "run1", "setting": setting}
