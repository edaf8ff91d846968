"""What was kept before there were versions of plans is read by what came after."""

from __future__ import annotations

import datetime
from typing import Any

from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

from hobrel.core.document.lab_book import read_lab_book
from hobrel.labbooks.models import Book, OpenedStage
from hobrel.plans.actions import bench_document
from hobrel.plans.models import Plan, Practical

BEFORE = [("plans", "0003_own_books"), ("labbooks", "0008_who_has_left"), ("reports", "0002_who_has_left"), ("classes", "0006_class_life")]


class PlansBecomeLabBooks(TransactionTestCase):
    def tearDown(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def test_plans_practicals_and_lab_books_of_benches(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate(BEFORE)
        old = executor.loader.project_state(BEFORE).apps
        kinds = (
            ("classes", "Person"),
            ("classes", "SchoolClass"),
            ("classes", "Bench"),
            ("plans", "Plan"),
            ("plans", "Practical"),
            ("labbooks", "Book"),
        )
        person, school_class, bench, plan, practical, book = (old.get_model(*kind) for kind in kinds)
        teacher = person.objects.create(username="t", role="teacher", shown_name="T")
        taught = school_class.objects.create(name="9", school="S", year="26", join_code="ABC123")
        sits = bench.objects.create(school_class=taught, name="Knot", order="knot")
        document: dict[str, Any] = {
            "title": "The strip", "relation": "T = k L", "freedoms": {"repeats": False},
            "quantities": [
                {"id": "L", "kind": "changed", "name": "overhang", "symbol": "L", "unit": "m", "given": True},
                {"id": "t", "kind": "measured", "name": "time", "symbol": "t", "unit": "s", "given": True},
                {"id": "T", "kind": "derived", "name": "period", "symbol": "T", "formula": "", "given": False},
            ],
            "runs": [{"id": "run1", "name": "Beech"}], "findings": [], "graphs": [], "fits": [],
        }  # fmt: skip
        prompts = {"read": "Look closely."}
        written = plan.objects.create(owner=teacher, title="The strip", document=document, prompts=prompts)
        day = datetime.date(2026, 10, 1)
        given = {"school_class": taught, "title": "The strip", "given_out": day, "prompts": prompts}
        first = practical.objects.create(plan=written, document=document, **given)
        again = practical.objects.create(plan=written, document=document, **given)
        other = practical.objects.create(plan=None, document=document | {"title": "Of nobody"}, **given)
        setting = {"id": "s", "readings": {"L": [{"text": "0.30"}]}}
        done = document | {"runs": [{"id": "run1", "name": "Beech", "settings": [setting]}]}
        of_bench = book.objects.create(practical=first, bench=sits, document=done, revision=4)

        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

        now = {p.pk: p for p in Practical.objects.all()}
        self.assertEqual((now[first.pk].version, now[first.pk].version.plan_id), (now[again.pk].version, written.pk))
        self.assertIsNone(now[other.pk].version.plan)
        begins = read_lab_book(bench_document(now[first.pk]))
        self.assertEqual([(q.id, q.given) for q in begins.quantities], [("L", True), ("t", True), ("T", False)])
        self.assertEqual((dict(begins.plan.prompts), begins.freedoms.repeats, begins.freedoms.plan), (prompts, False, False))
        draft = read_lab_book(Book.objects.get(plan=Plan.objects.get()).document)
        self.assertEqual((draft.plan.draft, draft.plan.left_open, draft.freedoms.plan, draft.title), (True, ("T",), True, "The strip"))
        kept = Book.objects.get(pk=of_bench.pk)
        self.assertEqual((kept.revision, kept.document["plan"]["prompts"]), (4, prompts))
        self.assertEqual(read_lab_book(kept.document).runs[0].settings[0].readings["L"][0].text, "0.30")  # type: ignore[union-attr]


class StationsCountFromNowOn(TransactionTestCase):
    def tearDown(self) -> None:
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def test_lab_books_from_before_count_as_opened_everywhere(self) -> None:
        executor = MigrationExecutor(connection)
        before = [("labbooks", "0011_pictures")]
        executor.migrate(before)
        old = executor.loader.project_state(before).apps
        owner = old.get_model("classes", "Person").objects.create(username="t", role="teacher", shown_name="T")
        book = old.get_model("labbooks", "Book").objects.create(owner=owner, document={})
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        self.assertEqual(OpenedStage.objects.filter(book_id=book.pk).count(), 9)
