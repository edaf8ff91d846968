"""Benches left out of the pool with a reason and taken in again; the pool as a table."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from django.test import Client, TestCase

from hobrel.classes.models import Bench
from hobrel.labbooks.models import Book, LeftOut
from hobrel.plans.actions import open_pool
from tests.lesson import make_lesson
from tests.school import client_of, keep_summaries


class Choices(TestCase):
    def setUp(self) -> None:
        self.lesson = make_lesson(8)
        self.practical = self.lesson.school.practical
        self.teacher, self.student = client_of(self.lesson.school.teacher), client_of(self.lesson.school.students[0])
        self.knot = self.lesson.books["Knot"]

    def pool(self, client: Client | None = None) -> dict[str, Any]:
        self.whole = (client or self.teacher).get(f"/api/practicals/{self.practical.pk}/pool").json()
        found: dict[str, Any] = self.whole["pools"][0]
        return found

    def row(self, bench: str, client: Client | None = None) -> dict[str, Any]:
        return next(r for r in self.pool(client)["rows"] if r["bench"] == bench)

    def leave_out(self, book: Book, reason: str, client: Client | None = None) -> int:
        path = f"/api/books/{book.pk}/left-out"
        return (client or self.teacher).post(path, json.dumps({"reason": reason}), content_type="application/json").status_code

    def test_one_that_is_left_out_does_not_count_and_is_said_to_be(self) -> None:
        before = self.pool()
        self.assertIsNotNone(self.row("Curlew")["value"])
        self.assertEqual(self.leave_out(self.lesson.books["Curlew"], " the clamp slipped "), 204)
        after = self.pool()
        row = self.row("Curlew")
        self.assertEqual((row["value"], row["missing"][0]["text"]), (None, "left out by the teacher: the clamp slipped"))
        others = [r["value"]["value"] for r in before["rows"] if r["value"] and r["bench"] != "Curlew"]
        self.assertAlmostEqual(after["values"][0]["value"]["value"], sum(others) / len(others), places=9)
        self.assertEqual([b["left_out"] for b in self.whole["benches"] if b["bench"] == "Curlew"], ["the clamp slipped"])
        self.assertEqual(Book.objects.get(pk=self.lesson.books["Curlew"].pk).revision, 0)
        # the class reads it, and nobody of it opens anybody's lab book from there
        open_pool(self.practical, True)
        self.assertIn("the clamp slipped", self.row("Curlew", self.student)["missing"][0]["text"])
        self.assertEqual({b["book"] for b in self.whole["benches"]}, {None})

    def test_it_is_taken_in_again(self) -> None:
        before = self.row("Curlew")
        self.leave_out(self.lesson.books["Curlew"], "wrong strip")
        self.leave_out(self.lesson.books["Curlew"], "another reason")
        self.assertEqual(LeftOut.objects.get().reason, "another reason")
        self.leave_out(self.lesson.books["Curlew"], "  ")
        self.assertEqual((self.row("Curlew"), LeftOut.objects.count()), (before, 0))
        self.assertEqual(self.leave_out(self.lesson.books["Curlew"], "x" * 301), 422)
        self.assertEqual(self.leave_out(self.lesson.books["Curlew"], "no", self.student), 404)

    def test_the_walkround_does_not_point_out_who_is_left_out(self) -> None:
        def kinds() -> list[str]:
            tiles = self.teacher.get(f"/api/practicals/{self.practical.pk}/walkround").json()["tiles"]
            return [n["kind"] for n in next(t for t in tiles if t["bench"] == "Knot")["needs"]]

        self.assertIn("factor", kinds())
        self.leave_out(self.knot, "they know")
        self.assertNotIn("factor", kinds())

    def test_the_table_has_a_row_for_every_bench_and_nothing_that_an_office_program_would_run(self) -> None:
        Bench.objects.filter(pk=self.knot.bench_id).update(name="=1+1")
        self.leave_out(self.knot, "they know")
        answer = self.teacher.get(f"/api/practicals/{self.practical.pk}/pool.csv")
        rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
        self.assertEqual(len(rows), 8)
        by_bench = {row["bench"]: row for row in rows}
        self.assertEqual(by_bench["'=1+1"]["why none"], "left out by the teacher: they know")
        self.assertAlmostEqual(float(by_bench["Redshank"]["value"]), 12.387484024249257, places=9)
        self.assertEqual((by_bench["Redshank"]["unit"], by_bench["Plover"]["value"]), ("GPa", ""))

    def test_more_than_eight_are_one_quiet_cloud(self) -> None:
        self.pool()
        names = [s["name"] for s in self.whole["shared"]["figure"]["series"]]
        self.assertGreater(len(names), 5)
        for i in range(4):
            bench = Bench.objects.create(school_class=self.lesson.school.school_class, name=f"More {i}")
            Book.objects.create(practical=self.practical, bench=bench, document=self.lesson.books["Redshank"].document)
        keep_summaries(self.practical)
        self.pool()
        (cloud,) = self.whole["shared"]["figure"]["series"]
        self.assertRegex(cloud["name"], r"^\d+ benches$")
        self.assertTrue(cloud["points"][0]["label"].startswith("Avocet"))
