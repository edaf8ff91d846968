"""The pool over HTTP: every bench once, the one that is off pointed out, nobody's book changed."""

from __future__ import annotations

from django.test import TestCase

from hobrel.classes.models import Bench
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import Book, OpenedStage
from hobrel.plans.actions import open_pool
from hobrel.reports.actions import hand_in
from tests.school import School, add_setting, client_of, fill, keep_summaries, make_school, send_edit


class Pools(TestCase):
    def test_the_bench_that_forgot_to_divide_by_ten_is_pointed_out(self) -> None:
        school = make_school()
        fill(school.book)
        fill(school.other_book, formula="t_10", seed=4)
        third = make_third(school)
        keep_summaries(school.practical)
        before = {b.pk: b.document for b in Book.objects.all()}
        whole = client_of(school.teacher).get(f"/api/practicals/{school.practical.pk}/pool").json()
        pool = whole["pools"][0]
        pointed = {r["bench"]: r["pointed_out"] for r in pool["rows"] if r["pointed_out"]}
        self.assertEqual(list(pointed), ["Redshank"])
        self.assertIn("100 times too small", pointed["Redshank"][0]["text"])
        self.assertEqual(len(whole["shared"]["figure"]["series"]), 3)
        self.assertEqual({b.pk: b.document for b in Book.objects.all()}, before)
        self.assertIn(third.bench.name, [r["bench"] for r in pool["rows"]])

    def test_the_cause_is_told_to_its_bench_and_the_teacher_alone(self) -> None:
        school = make_school()
        fill(school.book)
        fill(school.other_book, formula="t_10", seed=4)
        make_third(school)
        keep_summaries(school.practical)
        open_pool(school.practical, True)
        for person, told in ((school.teacher, True), (school.other_bench, True), (school.students[0], False)):
            answer = client_of(person).get(f"/api/practicals/{school.practical.pk}/pool")
            self.assertEqual(b"times too small" in answer.content, told)
            (row,) = [r for r in answer.json()["pools"][0]["rows"] if r["bench"] == "Redshank"]
            self.assertEqual((bool(row["pointed_out"]), row["value"] is not None), (told, True))
            self.assertEqual("without Redshank" in answer.json()["pools"][0]["counted"][0]["text"], told)

    def test_who_has_opened_and_handed_in_stands_beside_the_bench(self) -> None:
        school = make_school()
        fill(school.book)
        make_third(school)
        send_edit(client_of(school.students[0]), school.book, add_setting("n"))
        hand_in(Book.objects.get(pk=school.book.pk), school.students[0])
        OpenedStage.objects.filter(book=school.other_book).delete()
        benches = client_of(school.teacher).get(f"/api/practicals/{school.practical.pk}/pool").json()["benches"]
        self.assertEqual(
            [(b["bench"], b["opened"], b["handed_in"]) for b in benches],
            [("Godwit", True, True), ("Redshank", False, False), ("Whimbrel", True, False)],
        )

    def test_a_pool_without_findings_says_so(self) -> None:
        """And of a bench that nobody has worked out yet it says that, which is another thing."""
        school = make_school()
        for keep, code, reason in (
            (False, "not_worked_out", "benches_waited_for"), (True, "no_fit_yet", "no_bench_has_finding"),
        ):  # fmt: skip
            if keep:
                keep_summaries(school.practical)
            pool = client_of(school.teacher).get(f"/api/practicals/{school.practical.pk}/pool").json()["pools"][0]
            self.assertEqual((pool["values"], [s["code"] for s in pool["reason"]]), ([], [reason]))
            self.assertEqual({s["code"] for r in pool["rows"] for s in r["missing"]}, {code})


def make_third(school: School) -> Book:
    """A third bench, whose numbers are right."""
    book = open_book(school.practical, Bench.objects.create(school_class=school.school_class, name="Whimbrel"))
    fill(book, seed=5)
    return book
