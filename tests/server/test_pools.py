"""The pool over HTTP: every bench once, the one that is off pointed out, nobody's book changed."""

from __future__ import annotations

from django.test import TestCase

from hobrel.classes.models import Bench
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import Book
from tests.school import School, client_of, fill, keep_summaries, make_school


class Pools(TestCase):
    def test_the_bench_that_forgot_to_divide_by_ten_is_pointed_out(self) -> None:
        school = make_school()
        fill(school.book)
        fill(school.other_book, formula="t_10", seed=4)
        third = make_third(school)
        keep_summaries(school.practical)
        before = {b.pk: b.document for b in Book.objects.all()}
        pool = client_of(school.teacher).get(f"/api/practicals/{school.practical.pk}/pool").json()["pools"][0]
        pointed = {r["bench"]: r["pointed_out"] for r in pool["rows"] if r["pointed_out"]}
        self.assertEqual(list(pointed), ["Redshank"])
        self.assertIn("100 times too small", pointed["Redshank"][0]["text"])
        self.assertEqual(len(pool["figure"]["series"]), 3)
        self.assertEqual({b.pk: b.document for b in Book.objects.all()}, before)
        self.assertIn(third.bench.name, [r["bench"] for r in pool["rows"]])

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
