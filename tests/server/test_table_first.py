"""While somebody writes readings the table follows at once and the rest when they pause. See decision 25."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Any

from django.test import SimpleTestCase, TestCase

from hobrel.computing.changes import find_changes, write_changes
from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import Reading
from hobrel.labbooks.computed import BookView, view_book, view_table
from tests.fuzz.typing import demo_books
from tests.school import client_of, fill, make_school, reading, send_edit
from tests.server.test_following import lay_over, mistype


class TheTableFirst(SimpleTestCase):
    def test_its_columns_are_those_of_the_whole_and_the_rest_is_the_same_object_as_before(self) -> None:
        dice = random.Random(25)
        partly = 0
        for name, book in demo_books().items():
            before = view_book(OpenBook(book))
            if not book.runs[0].settings:
                continue
            for _ in range(3):
                book = mistype(book, dice)
                table, whole = view_table(OpenBook(book), before), view_book(OpenBook(book))
                with self.subTest(name):
                    self.assertEqual(table.analysis.runs, whole.analysis.runs)
                    self.assertEqual(table.document, whole.document)
                    if not table.complete:
                        partly += 1
                        for part in ("graphs", "patterns", "fits", "findings", "stages", "tokens"):
                            self.assertIs(getattr(table.analysis, part), getattr(before.analysis, part))
                        self.assertTrue(set(table.analysis.slips) <= set(before.analysis.slips))
                before = table
        self.assertGreater(partly, 20)

    def test_what_cannot_stand_for_the_whole_is_the_whole(self) -> None:
        book = next(iter(demo_books().values()))
        before = view_book(OpenBook(book))
        quantity, graph = book.quantities[0], book.graphs[0]
        others = {
            "a quantity": replace(book, quantities=(replace(quantity, unit=""), *book.quantities[1:])),
            "a graph": replace(book, graphs=(replace(graph, title="other"), *book.graphs[1:])),
            "a run more": replace(book, runs=(*book.runs, replace(book.runs[0], id="another"))),
            "the slope of a curve": replace(book, quantities=(replace(quantity, tangent_of="fit"), *book.quantities[1:])),
        }
        for what, other in others.items():
            with self.subTest(what):
                self.assertTrue(view_table(OpenBook(other), before).complete)
        with self.subTest("nothing earlier"):
            self.assertTrue(view_table(OpenBook(book), None).complete)
        with self.subTest("an earlier one that could not be worked out"):
            failed = replace(before, analysis=replace(before.analysis, trouble=object()))  # type: ignore[arg-type]
            self.assertTrue(view_table(OpenBook(book), failed).complete)

    def test_nobody_is_asked_about_a_row_that_is_being_written(self) -> None:
        name, book = next((n, b) for n, b in demo_books().items() if any(s.setting for s in view_book(OpenBook(b)).analysis.slips))
        before = view_book(OpenBook(book))
        slip = next(s for s in before.analysis.slips if s.setting)

        def written(setting: str) -> BookView:
            def touch(one: Any) -> Any:
                readings = {q: (Reading(f"{r[0].text}0" if r and r[0] else "1"), *r[1:]) for q, r in one.readings.items()}
                return replace(one, readings=readings) if one.id == setting else one

            runs = tuple(replace(r, settings=tuple(map(touch, r.settings))) if r.id == slip.run else r for r in book.runs)
            return view_table(OpenBook(replace(book, runs=runs)), before)

        other = next(s.id for r in book.runs if r.id == slip.run for s in r.settings if s.id != slip.setting)
        with self.subTest(name):
            self.assertNotIn(slip, written(slip.setting).analysis.slips)
            self.assertIn(slip, written(other).analysis.slips)


class Asked(TestCase):
    def test_a_table_lies_over_a_view_and_the_whole_over_the_table(self) -> None:
        school = make_school()
        fill(school.book)
        ann = client_of(school.students[0])
        path = f"/api/books/{school.book.pk}/view"
        was = school.book.document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]
        first = ann.get(path).json()
        send_edit(ann, school.book, reading(f"{float(was) + 0.03:.2f}", was, "s1"))
        table = ann.get(path, {"have": first["tag"], "table": True}).json()
        held = lay_over(first["whole"], table["changes"])
        self.assertEqual((held["complete"], table["since"], table["revision"]), (False, first["tag"], 1))
        self.assertNotEqual(held["analysis"]["runs"], first["whole"]["analysis"]["runs"])
        self.assertEqual(held["analysis"]["fits"], first["whole"]["analysis"]["fits"])
        with self.subTest("and the rest"):
            rest = ann.get(path, {"have": table["tag"]}).json()
            self.assertEqual((rest["since"], lay_over(held, rest["changes"])), (table["tag"], ann.get(path).json()["whole"]))
        with self.subTest("the table again"):
            self.assertEqual(ann.get(path, {"have": table["tag"], "table": True}).json()["changes"], [])
        with self.subTest("onto nothing, or what nobody knows"):
            for have in ("", "0" * 32):
                whole = ann.get(path, {"have": have, "table": True}).json()["whole"]
                self.assertTrue(whole["complete"])

    def test_changes_of_a_table_are_no_more_than_its_columns(self) -> None:
        book = next(b for b in demo_books().values() if b.runs[0].settings)
        before = view_book(OpenBook(book))
        after = view_table(OpenBook(mistype(book, random.Random(1))), before)
        places = {change.at[:2] for change in find_changes(before, after)}
        self.assertTrue(places <= {("complete",), ("document", "runs"), ("analysis", "runs"), ("analysis", "slips")}, places)
        self.assertLess(len(write_changes(find_changes(before, after))), 3000)
