"""Which stations a bench has come to: counted once, told to the others, and of nobody but the bench (decision 35)."""

from __future__ import annotations

from typing import Any

from django.test import TestCase
from django.utils import timezone

from hobrel.labbooks.models import Book, OpenedStage
from tests.school import client_of, fill, make_school


class Opened(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        OpenedStage.objects.all().delete()
        self.ann, self.teacher = client_of(self.school.students[0]), client_of(self.school.teacher)

    def come(self, stage: str, client: Any = None) -> int:
        sent = (client or self.ann).post(f"/api/books/{self.book.pk}/opened", {"stage": stage}, content_type="application/json")
        return int(sent.status_code)

    def opened(self) -> Any:
        return self.ann.get(f"/api/books/{self.book.pk}").json()["opened"]

    def news(self) -> int:
        return Book.objects.get(pk=self.book.pk).news

    def test_each_once_and_the_others_are_told_of_the_first_time_alone(self) -> None:
        self.assertEqual(self.opened(), [])
        before = self.news()
        self.assertEqual([self.come("ask"), self.come("fit"), self.come("fit")], [204, 204, 204])
        self.assertEqual(self.opened(), ["ask", "fit"])
        self.assertEqual(self.news(), before + 2)
        beside = self.ann.get(f"/api/books/{self.book.pk}/beside").json()
        self.assertEqual((beside["opened"], beside["news"]), (["ask", "fit"], before + 2))

    def test_the_class_page_knows_them(self) -> None:
        self.come("look")
        benches = {b["bench"]: b["opened"] for c in self.teacher.get("/api/classes").json() for p in c["practicals"] for b in p["benches"]}
        self.assertEqual(benches[self.book.bench.name], ["look"])

    def test_a_teacher_who_looks_and_what_is_no_station_do_not_count(self) -> None:
        self.assertEqual(self.come("fit", self.teacher), 403)
        self.assertEqual(self.come("kitchen"), 422)
        self.assertEqual(self.opened(), [])
        self.assertEqual(self.come("fit", client_of(None)), 401)

    def test_after_the_end_nothing_is_counted(self) -> None:
        self.school.practical.closed = timezone.now()
        self.school.practical.save()
        self.assertEqual(self.come("fit"), 403)
        self.assertFalse(OpenedStage.objects.exists())

    def test_what_comes_with_its_content_has_been_worked_in(self) -> None:
        fill(self.book, 5)
        self.assertEqual(set(self.opened()), {"ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report"})
        self.assertEqual(self.come("fit"), 204)

    def test_they_are_no_part_of_the_work(self) -> None:
        """Coming to a station is no edit: neither the revision nor what can be undone knows of it."""
        before = self.ann.get(f"/api/books/{self.book.pk}").json()
        self.come("fit")
        after = self.ann.get(f"/api/books/{self.book.pk}").json()
        self.assertEqual((after["revision"], after["undo"], after["document"]), (before["revision"], before["undo"], before["document"]))
