"""Signing in: the first PIN is the one that counts, wrong tries are slowed, the demo's doors are shut elsewhere."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any

from django.test import Client, TestCase
from django.utils import timezone

from hobrel.classes.models import Seat, WrongTry
from tests.school import PASSWORD, PIN, client_of, make_school


class SignIn(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.client = Client()

    def post(self, which: str, **body: Any) -> Any:
        return self.client.post(f"/api/sign-in/{which}", json.dumps(body), content_type="application/json")

    def seat(self, name: str) -> int:
        return Seat.objects.get(name=name, school_class=self.school.school_class).pk

    def test_a_student_chooses_a_pin_once_and_needs_it_afterwards(self) -> None:
        listed = self.post("class", code="code11").json()
        self.assertEqual(
            [(s["name"], s["has_pin"]) for s in listed["seats"]], [("Ann", True), ("Bo", True), ("Cy", True), ("Newcomer", False)]
        )
        seat = self.seat("Newcomer")
        self.assertEqual(self.post("student", code="CODE11", seat=seat, pin="12").json()["code"], "bad_pin")
        me = self.post("student", code="CODE11", seat=seat, pin="8642").json()
        self.assertEqual((me["name"], me["role"], me["bench"]), ("Newcomer", "student", "Godwit"))
        self.client = Client()
        self.assertEqual(self.post("student", code="CODE11", seat=seat, pin="1111").json()["code"], "wrong_pin")
        self.assertEqual(self.post("student", code="CODE11", seat=seat, pin="8642").status_code, 200)

    def test_a_name_goes_only_with_its_own_class(self) -> None:
        other = make_school("two", "CODE22")
        seat = Seat.objects.filter(school_class=other.school_class).first()
        assert seat is not None
        self.assertEqual(self.post("student", code="CODE11", seat=seat.pk, pin=PIN).status_code, 404)

    def test_a_teacher_signs_in_by_password_and_a_student_not(self) -> None:
        self.assertEqual(self.post("teacher", name="teacher-one", password=PASSWORD).json()["role"], "teacher")
        self.client = Client()
        self.assertEqual(self.post("teacher", name="ann-one", password=PIN).status_code, 403)

    def test_wrong_tries_are_slowed_and_forgotten(self) -> None:
        cases: list[tuple[str, dict[str, Any], dict[str, Any]]] = [
            ("teacher", {"name": "teacher-one", "password": "wrong"}, {"name": "teacher-one", "password": PASSWORD}),
            (
                "student",
                {"code": "CODE11", "seat": self.seat("Ann"), "pin": "0000"},
                {"code": "CODE11", "seat": self.seat("Ann"), "pin": PIN},
            ),
            ("class", {"code": "GUESS1"}, {"code": "CODE11"}),
        ]
        for which, wrong, right in cases:
            with self.subTest(which):
                WrongTry.objects.all().delete()
                for _ in range(5):
                    self.assertIn(self.post(which, **wrong).status_code, (403, 404))
                slowed = self.post(which, **right)
                self.assertEqual(slowed.status_code, 429)
                self.assertGreaterEqual(int(slowed["Retry-After"]), 1)
                WrongTry.objects.update(at=timezone.now() - timedelta(minutes=16))
                self.assertEqual(self.post(which, **right).status_code, 200)

    def test_one_click_sign_ins_exist_on_the_demo_only(self) -> None:
        self.assertEqual(self.client.get("/api/me").json()["demo"], [])
        self.assertEqual(self.post("demo", key=f"teacher-{self.school.teacher.pk}").status_code, 404)
        with self.settings(DEMO=True):
            self.assertEqual(len(self.client.get("/api/me").json()["demo"]), 4)
            self.assertEqual(self.post("demo", key=f"teacher-{self.school.teacher.pk}").json()["role"], "teacher")

    def test_signing_out_ends_it(self) -> None:
        client = client_of(self.school.teacher)
        client.post("/api/sign-out")
        self.assertEqual(client.get("/api/classes").status_code, 401)
