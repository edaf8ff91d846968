"""Measuring on pictures and films over HTTP: what is told to whom, requests that no page makes, runs that bring their instrument."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from hobrel.classes.models import Person
from hobrel.core.document.lab_book import read_lab_book
from hobrel.labbooks import own
from hobrel.labbooks.models import Book
from tests.school import client_of, make_school

MARKS: dict[str, Any] = {
    "source": "film", "frames": [0, 1], "times": [0.0, 0.04], "within": "0.5", "things": [{"id": "b", "name": "ball"}],
    "known": {"ends": [{"x": 0, "y": 0}, {"x": 500, "y": 0}], "length": "1.000", "u": "0.002", "unit": "m"},
    "axes": {"origin": {"x": 0, "y": 300}},
    "marks": [{"thing": "b", "frame": n, "turn": 0, "place": {"x": 100 * n, "y": 200}} for n in (0, 1)],
}  # fmt: skip
FILM = {"name": "film", "kind": "steady", "division": "0.0001", "scatter": "0.001", "common": "0.24"}


class PointingTest(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = own.begin_book(self.school.teacher)

    def measure(self, person: Person, marks: object, book: Book | None = None) -> HttpResponse:
        address = f"/api/books/{(book or self.school.book).pk}/measured"
        answer: HttpResponse = client_of(person).post(address, json.dumps({"marks": marks}), content_type="application/json")
        return answer


class Measured(PointingTest):
    def test_positions_come_as_readings_are_written(self) -> None:
        answer = self.measure(self.school.students[0], MARKS)
        self.assertEqual(answer.status_code, 200, answer.content)
        view = answer.json()  # type: ignore[attr-defined]
        (track,) = view["tracks"]
        self.assertEqual(
            track["rows"][1] | {"angle": ""}, {"frame": 1, "t": "0.040", "x": "0.2000 ± 0.0010", "y": "0.2000 ± 0.0010", "angle": ""}
        )
        self.assertEqual(view["length"]["common"], "0.24")

    def test_requests_that_no_page_makes_are_refused(self) -> None:
        place = {"x": 1, "y": 1}
        for changed in (
            {"marks": [{"thing": "b", "frame": 0, "turn": 0, "place": {"x": "NaN", "y": 1}}]},
            {"marks": [{"thing": "b", "frame": 0, "turn": 0, "place": {"x": 1e9, "y": 1}}]},
            {"marks": [{"thing": "b", "frame": n, "turn": 0, "place": place} for n in range(4500)]},
            {"drawn": [{"id": "d", "kind": "volume", "places": []}]}, {"times": [0]}, {"within": "x" * 100},
            {"frames": [0], "times": [1e300]}, {"source": "x" * 5000}, {"marks": "none"}, {"within": "0"}, {"every": "-1"},
        ):  # fmt: skip
            with self.subTest(changed):
                answer = self.measure(self.school.students[0], MARKS | changed)
                self.assertEqual(answer.status_code, 422, answer.content[:300])
        body = json.dumps({"marks": MARKS}).replace('"x": 500', '"x": NaN')
        answer = client_of(self.school.students[0]).post(
            f"/api/books/{self.school.book.pk}/measured", body, content_type="application/json"
        )
        self.assertEqual(answer.status_code, 422, answer.content[:300])

    def test_a_bench_is_not_told_what_is_true_on_its_film(self) -> None:
        def film(person: Person, book: Book) -> Any:
            return client_of(person).get(f"/api/books/{book.pk}/drawn-film").json()

        student, teacher = (film(p, self.school.book) for p in (self.school.students[0], self.school.teacher))
        self.assertEqual(student["truth"], [])
        self.assertRegex(teacher["truth"][0]["text"], r"^9\.\d{3} m/s²$")
        self.assertEqual(student["bodies"], teacher["bodies"])
        self.assertNotEqual(student["bodies"], film(self.school.teacher, self.school.other_book)["bodies"])
        self.assertTrue(film(self.school.teacher, self.book)["truth"])


class BroughtIn(PointingTest):
    def send(self, edit: dict[str, Any]) -> Any:
        wanted = [{"client_id": str(uuid.uuid4()), "edit": edit}]
        answer = client_of(self.school.teacher).post(
            f"/api/books/{self.book.pk}/edits", json.dumps({"edits": wanted}), content_type="application/json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def test_new_quantities_come_with_what_they_are_read_from(self) -> None:
        rows = [{"id": f"s{n}", "readings": {"t": [{"text": f"0.0{n}"}], "y": [{"text": f"0.{n}12 ± 0.002"}]}} for n in (1, 2, 3)]
        new = [{"quantity": "t", "text": "time t / s"}, {"quantity": "y", "text": "height y / m", "instrument": FILM}]
        self.send({"type": "fill_run", "run": "run1", "settings": rows, "new": new, "first": {"graph": "g", "fit": "f"}})
        self.book.refresh_from_db()
        book = read_lab_book(self.book.document)
        by = {q.id: q for q in book.quantities}
        assert by["y"].instrument is not None
        self.assertEqual((by["t"].kind, by["y"].instrument.common, by["t"].instrument), ("changed", "0.24", None))
        self.assertEqual((book.graphs[0].x, book.graphs[0].y), ("t", "y"))
