"""Rigs over HTTP: who is told the truth, what a class shares, and requests that nobody's page makes."""

from __future__ import annotations

import datetime
import json
from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from hobrel.classes.models import Person
from hobrel.core.apparatus.rig import MOST_ACTS
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import Book
from hobrel.labbooks.rigs import seeds_of
from hobrel.school.giving_out import plan_from_shelf, start_practical
from tests.school import client_of, make_school


class Rigs(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.plan = plan_from_shelf(self.school.teacher, "salt-in-rock-pools")
        practical = start_practical(self.plan, self.school.school_class, datetime.date.today())
        self.book, self.other = (open_book(practical, b) for b in (self.school.book.bench, self.school.other_book.bench))

    def ask(self, person: Person, book: Book, **body: Any) -> HttpResponse:
        sent = json.dumps({"hand": "h1", "start": 0} | body)
        answer: HttpResponse = client_of(person).post(f"/api/books/{book.pk}/rig", sent, content_type="application/json")
        return answer

    def test_the_truth_is_the_teacher_s_alone(self) -> None:
        student, teacher = (self.ask(p, self.book) for p in (self.school.students[0], self.school.teacher))
        self.assertEqual((student.status_code, student.json()["truth"]), (200, []))
        told = {line["name"]: line["text"] for line in teacher.json()["truth"]}
        self.assertRegex(told["salt of the upper pool"], r"^\d\d\.\d\d g/L$")
        self.assertNotIn(told["salt of the upper pool"].split()[0].encode(), student.content)

    def test_benches_of_a_class_share_a_seed_and_have_their_own(self) -> None:
        one, two, plan = seeds_of(self.book), seeds_of(self.other), seeds_of(self.plan.book)
        self.assertEqual(one.shared, two.shared)
        self.assertEqual(len({one.own, two.own, one.shared, plan.shared, plan.own}), 5)
        with self.settings(SECRET_KEY="another"):
            self.assertNotEqual(seeds_of(self.book), one)

    def test_what_nobody_s_page_sends_is_refused(self) -> None:
        act = {"kind": "rinse", "value": "", "at": 0}
        for body in (
            {"start": -1},
            {"start": 1e9},
            {"start": "soon"},
            {"hand": "x" * 41},
            {"hand": "<b>"},
            {"acts": [act] * (MOST_ACTS + 1)},
            {"acts": [act | {"kind": "fly"}]},
            {"acts": [act | {"at": -2}]},
            {"acts": [act | {"value": "upper"}]},
            {"acts": [act | {"more": 1}]},
            {"acts": [act | {"at": 5}, act], "start": 9},
        ):
            with self.subTest(body=str(body)[:60]):
                self.assertEqual(self.ask(self.school.students[0], self.book, **body).status_code, 422)
        self.assertEqual(self.ask(self.school.students[0], self.book, acts=[act] * MOST_ACTS).status_code, 200)
        # a practical without a rig says so
        self.assertEqual(self.ask(self.school.students[0], self.school.book).json()["detail"], "There is no rig here.")
