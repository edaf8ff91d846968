"""Signing in: the first PIN is the one that counts, wrong tries are slowed, the demo's doors are shut elsewhere."""

from __future__ import annotations

import json
import threading
from datetime import datetime, timedelta
from io import StringIO
from typing import Any
from unittest.mock import patch

from django.core.management import CommandError, call_command
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase
from django.utils import timezone

from hobrel.classes.models import Person, Seat, WrongTry
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
        self.assertEqual((me["name"], me["role"]), ("Newcomer", "student"))
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

    def known(self) -> Client:
        """A device where somebody has signed in before."""
        client = Client()
        body = json.dumps({"code": "CODE11", "seat": self.seat("Bo"), "pin": PIN})
        client.post("/api/sign-in/student", body, content_type="application/json")
        client.post("/api/sign-out")
        return client

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
                self.client = self.known()
                WrongTry.objects.all().delete()
                for _ in range(5):
                    self.assertIn(self.post(which, **wrong).status_code, (403, 404))
                slowed = self.post(which, **right)
                self.assertEqual(slowed.status_code, 429)
                self.assertEqual(slowed["Retry-After"], "5")
                WrongTry.objects.update(at=timezone.now() - timedelta(minutes=16))
                self.assertEqual(self.post(which, **right).status_code, 200)

    def test_each_wrong_try_more_doubles_the_wait_up_to_a_limit(self) -> None:
        self.client = self.known()
        waits = []
        for _ in range(12):
            WrongTry.objects.update(at=timezone.now() - timedelta(seconds=301))
            answer = self.post("class", code="GUESS1")
            if answer.status_code == 404 and len(waits) < 8:
                slowed = self.post("class", code="GUESS1")
                if slowed.status_code == 429:
                    waits.append(int(slowed["Retry-After"]))
        self.assertEqual(waits, [5, 10, 20, 40, 80, 160, 300, 300])

    def test_wrong_codes_from_one_address_stop_nobody_behind_it_for_long(self) -> None:
        """A classmate who guesses, and a class that has not been here before."""
        for _ in range(60):
            self.assertEqual(Client().post("/api/sign-in/class", '{"code": "GUESS1"}', content_type="application/json").status_code, 404)
        slowed = self.post("class", code="CODE11")
        self.assertEqual(slowed.status_code, 429)
        self.assertLessEqual(int(slowed["Retry-After"]), 5)
        with self.subTest("whoever has signed in on their device before does not wait at all"):
            WrongTry.objects.all().delete()
            device = self.known()
            WrongTry.objects.bulk_create(WrongTry(key=k) for k in self.keys_of_sixty_guesses())
            self.client = device
            self.assertEqual(self.post("class", code="CODE11").status_code, 200)

    def keys_of_sixty_guesses(self) -> list[str]:
        before = set(WrongTry.objects.values_list("pk", flat=True))
        Client().post("/api/sign-in/class", '{"code": "GUESS1"}', content_type="application/json")
        made = WrongTry.objects.exclude(pk__in=before).get()
        return [made.key] * 60

    def test_a_try_is_counted_before_it_is_made(self) -> None:
        seen: list[int] = []

        def check(*_: object) -> bool:
            seen.append(WrongTry.objects.count())
            return False

        with patch("hobrel.classes.models.Person.check_password", check):
            self.post("student", code="CODE11", seat=self.seat("Ann"), pin="0000")
        self.assertGreaterEqual(seen[0], 1)

    def test_a_right_one_takes_its_count_away(self) -> None:
        self.client = self.known()
        WrongTry.objects.all().delete()
        for _ in range(4):
            self.post("student", code="CODE11", seat=self.seat("Ann"), pin="0000")
        self.assertEqual(self.post("student", code="CODE11", seat=self.seat("Ann"), pin=PIN).status_code, 200)
        for _ in range(5):
            self.assertEqual(self.post("student", code="CODE11", seat=self.seat("Ann"), pin="0001").status_code, 403)

    def test_the_same_pin_tried_over_many_names_is_noticed(self) -> None:
        names = [f"N{i}" for i in range(7)]
        for name in names:
            person = Person.objects.create(username=name.lower(), role=Person.Role.STUDENT, shown_name=name)
            person.set_password("975318")
            person.save()
            Seat.objects.create(school_class=self.school.school_class, name=name, person=person)
        codes = [self.post("student", code="CODE11", seat=self.seat(name), pin="1234").status_code for name in names]
        self.assertEqual(codes, [403] * 5 + [429] * 2)

    def test_a_wrong_pin_at_one_name_does_not_stop_another_name(self) -> None:
        for pin in ("0000", "0001", "0002", "0003", "0004"):
            self.post("student", code="CODE11", seat=self.seat("Ann"), pin=pin)
        self.assertEqual(self.post("student", code="CODE11", seat=self.seat("Ann"), pin=PIN).status_code, 429)
        self.assertEqual(self.post("student", code="CODE11", seat=self.seat("Bo"), pin=PIN).status_code, 200)

    def test_a_name_of_three_hundred_letters_is_a_wrong_name_and_no_failure(self) -> None:
        self.assertEqual(self.post("teacher", name="x" * 300, password="y" * 300).status_code, 403)

    def test_a_session_ends_after_the_school_day_unless_the_device_is_ones_own(self) -> None:
        for now, own, hours in (
            (datetime(2026, 11, 26, 9, 0), False, 11.0),
            (datetime(2026, 11, 26, 19, 0), False, 3.0),
            (datetime(2026, 11, 26, 23, 30), False, 3.0),
            (datetime(2026, 11, 26, 9, 0), True, 60 * 24.0),
        ):
            with self.subTest(now=now, own=own), patch("hobrel.classes.actions.local_now", lambda n=now: timezone.make_aware(n)):
                self.client = Client()
                self.post("student", code="CODE11", seat=self.seat("Ann"), pin=PIN, own_device=own)
                self.assertAlmostEqual(self.client.session.get_expiry_age() / 3600, hours, delta=0.01)

    def test_a_name_that_is_freed_gets_a_new_pin_keeps_its_work_and_loses_its_sessions(self) -> None:
        old = client_of(self.school.students[0])
        self.assertEqual(old.get("/api/me").json()["name"], "Ann")
        call_command("seat", "code11", "ann", reset=True, stdout=StringIO())
        self.assertEqual(old.get("/api/me").json()["name"], "")
        listed = self.post("class", code="CODE11").json()["seats"]
        self.assertEqual([s["has_pin"] for s in listed if s["name"] == "Ann"], [False])
        me = self.post("student", code="CODE11", seat=self.seat("Ann"), pin="11223344").json()
        self.assertEqual(me["id"], self.school.students[0].pk)
        with self.assertRaises(CommandError):
            call_command("seat", "CODE11", "Nobody")

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


class AtOnce(TransactionTestCase):
    def test_many_wrong_tries_at_the_same_moment_are_many_tries(self) -> None:
        school = make_school()
        seat = Seat.objects.get(name="Ann", school_class=school.school_class)
        codes: list[int] = []
        start = threading.Barrier(24)

        def guess(pin: int) -> None:
            body = json.dumps({"code": "CODE11", "seat": seat.pk, "pin": f"{pin:04d}"})
            start.wait()
            codes.append(Client().post("/api/sign-in/student", body, content_type="application/json").status_code)
            connection.close()

        guessers = [threading.Thread(target=guess, args=(pin,)) for pin in range(24)]
        for guesser in guessers:
            guesser.start()
        for guesser in guessers:
            guesser.join()
        self.assertEqual(codes.count(403), 5, codes)
        self.assertEqual(set(codes) - {403, 429, 503}, set())
