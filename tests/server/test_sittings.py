"""Who sits where: a practical keeps it, one who is moved goes on elsewhere and can read what they wrote, and nobody else comes in."""

from __future__ import annotations

import datetime
import json
from typing import Any

from django.db import IntegrityError, transaction
from django.test import TestCase

from hobrel.classes.models import Bench, Person, Seat, natural_key
from hobrel.labbooks.models import Book
from hobrel.labbooks.plan_books import give_out
from hobrel.plans.actions import open_pool
from hobrel.plans.models import Sitting
from hobrel.plans.sittings import move_seat, names_at, take_off
from tests.school import add_setting, client_of, fill, make_school, send_edit


class Sittings(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.practical, self.book, self.other_book = self.school.practical, self.school.book, self.school.other_book
        fill(self.book)
        self.ann, self.bo = self.school.students
        self.seat = Seat.objects.get(person=self.ann)
        self.godwit, self.redshank = self.book.bench, self.other_book.bench

    def status(self, person: Person, book: Book, how: str = "see") -> int:
        if how == "see":
            return client_of(person).get(f"/api/books/{book.pk}").status_code
        return send_edit(client_of(person), book, add_setting(f"n{Sitting.objects.count()}{person.pk}")).status_code

    def own(self, person: Person) -> list[tuple[str, bool]]:
        classes: list[dict[str, Any]] = client_of(person).get("/api/classes").json()
        return [(b["bench"], b["sits_here"]) for c in classes for p in c["practicals"] for b in p["benches"]]

    def test_one_who_is_moved_writes_elsewhere_and_can_still_read(self) -> None:
        self.assertEqual([self.status(self.ann, b, "edit") for b in (self.book, self.other_book)], [200, 404])
        move_seat(self.seat, self.redshank, [self.practical])
        self.assertEqual([self.status(self.ann, b) for b in (self.book, self.other_book)], [200, 200])
        refused = send_edit(client_of(self.ann), self.book, add_setting("late"))
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "sits_elsewhere"))
        self.assertEqual(self.status(self.ann, self.other_book, "edit"), 200)
        may_edit = [client_of(self.ann).get(f"/api/books/{b.pk}").json()["can_edit"] for b in (self.book, self.other_book)]
        self.assertEqual(may_edit, [False, True])
        self.assertEqual(self.own(self.ann), [("Redshank", True), ("Godwit", False)])
        self.assertEqual(self.own(self.bo), [("Godwit", True)])
        self.assertEqual(
            (names_at(self.practical, self.godwit), names_at(self.practical, self.redshank)), (["Bo", "Newcomer"], ["Ann", "Cy"])
        )
        history = client_of(self.school.teacher).get(f"/api/books/{self.book.pk}/history").json()
        self.assertIn("Ann", {entry["author"] for entry in history})

    def test_one_who_was_moved_and_back_sits_once(self) -> None:
        for bench in (self.redshank, self.godwit, self.godwit):
            move_seat(self.seat, bench, [self.practical])
        self.assertEqual([s.bench for s in Sitting.objects.filter(seat=self.seat)], [self.godwit, self.redshank, self.godwit])
        self.assertEqual(self.own(self.ann), [("Godwit", True), ("Redshank", False)])
        self.assertEqual(names_at(self.practical, self.godwit), ["Ann", "Bo", "Newcomer"])
        self.assertEqual(self.status(self.ann, self.book, "edit"), 200)

    def test_a_move_is_for_the_practicals_it_names_and_for_those_that_come(self) -> None:
        plan = self.practical.version.plan
        assert plan is not None
        before = give_out(plan, self.school.school_class, datetime.date(2026, 9, 1))
        move_seat(self.seat, self.redshank, [self.practical])
        after = give_out(plan, self.school.school_class, datetime.date(2026, 11, 1))
        at = {p: Sitting.objects.get(practical=p, seat=self.seat, until=None).bench for p in (before, self.practical, after)}
        self.assertEqual(at, {before: self.godwit, self.practical: self.redshank, after: self.redshank})

    def test_one_at_no_bench_has_no_lab_book_and_no_pool(self) -> None:
        move_seat(self.seat, None, [self.practical])
        open_pool(self.practical, True)
        pool = client_of(self.ann).get(f"/api/practicals/{self.practical.pk}/pool")
        self.assertEqual((pool.status_code, pool.json()["code"]), (403, "no_bench"))
        self.assertEqual(self.own(self.ann), [("Godwit", False)])
        self.assertEqual(self.status(self.ann, self.book, "edit"), 403)

    def test_one_who_comes_late_sits_where_the_class_sits_by_then(self) -> None:
        late = Person.objects.create(username="late", role=Person.Role.STUDENT, shown_name="Late")
        seat = Seat.objects.create(school_class=self.school.school_class, name="Late", person=late)
        self.assertEqual(self.own(late), [])
        Seat.objects.filter(pk=seat.pk).update(bench=self.redshank)
        self.assertEqual(self.own(late), [("Redshank", True)])
        self.assertEqual(self.own(late), [("Redshank", True)])
        self.assertEqual(Sitting.objects.filter(seat=seat).count(), 1)
        self.assertEqual(self.status(late, self.other_book, "edit"), 200)

    def test_one_off_the_list_sees_and_writes_nothing_more(self) -> None:
        take_off(self.seat)
        self.assertEqual([self.status(self.ann, self.book, how) for how in ("see", "edit")], [404, 404])
        self.assertEqual(client_of(self.ann).get("/api/classes").json(), [])
        self.assertEqual(names_at(self.practical, self.godwit), ["Bo", "Newcomer"])

    def test_somebody_in_two_classes_has_both_and_each_for_itself(self) -> None:
        other = make_school("two", "CODE22")
        Seat.objects.create(school_class=other.school_class, name="Ann W", person=self.ann, bench=other.other_book.bench)
        classes = client_of(self.ann).get("/api/classes").json()
        found = {c["name"]: [b["bench"] for p in c["practicals"] for b in p["benches"]] for c in classes}
        self.assertEqual(found, {"Class one": ["Godwit"], "Class two": ["Redshank"]})
        self.assertEqual([self.status(self.ann, b, "edit") for b in (self.book, other.other_book, other.book)], [200, 200, 404])

    def test_at_one_bench_at_a_time(self) -> None:
        with self.assertRaises(IntegrityError), transaction.atomic():
            Sitting.objects.create(practical=self.practical, seat=self.seat, bench=self.redshank)

    def test_a_teacher_sees_each_bench_with_who_sits_there_now(self) -> None:
        move_seat(self.seat, self.redshank, [self.practical])
        benches = client_of(self.school.teacher).get("/api/classes").json()[0]["practicals"][0]["benches"]
        self.assertEqual({b["bench"]: b["names"] for b in benches}, {"Godwit": ["Bo", "Newcomer"], "Redshank": ["Ann", "Cy"]})
        about = json.loads(client_of(self.school.teacher).get(f"/api/books/{self.other_book.pk}").content)
        self.assertEqual(about["names"], ["Ann", "Cy"])


class Order(TestCase):
    def test_numbers_by_their_size_capitals_and_accents_aside(self) -> None:
        names = ["bench 10", "Bench 2", "Bench 2b", "Émile", "emma", "Zoë", "007 b", "7 a", "Bench 1"]
        expected = ["7 a", "007 b", "Bench 1", "Bench 2", "Bench 2b", "bench 10", "Émile", "emma", "Zoë"]
        self.assertEqual(sorted(names, key=natural_key), expected)
        school = make_school()
        for name in ("Bench 10", "bench 9", "Bench 1"):
            Bench.objects.create(school_class=school.school_class, name=name)
        listed = list(Bench.objects.filter(school_class=school.school_class).values_list("name", flat=True))
        self.assertEqual(listed, ["Bench 1", "bench 9", "Bench 10", "Godwit", "Redshank"])
