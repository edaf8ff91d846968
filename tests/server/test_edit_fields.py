"""Changes of single fields and items by two who see the same page; and that nothing becomes longer than it could have been typed."""

from __future__ import annotations

import json
from typing import Any

from django.test import TestCase
from pydantic import ValidationError

from hobrel.core.document.lab_book import write_lab_book
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.registry import apply_edit
from hobrel.server.problems import Problem
from tests.placing import EditedDocument, placing
from tests.school import fill, make_school, reading
from tests.server.test_edits import NOTE, OWN_FINDING


class OfOneGraph(EditedDocument):
    """Changes of one graph, fit or finding by two who see the same page: fields, and items of lists, by themselves."""

    def straight(self, *edits: dict[str, Any]) -> dict[str, Any]:
        return next(g for g in self.after(*edits)["graphs"] if g["id"] == "straight")

    def place(self, **becomes: Any) -> dict[str, Any]:
        return placing(self.document, "place_graph", "straight", **becomes)

    def test_notes_that_two_pin_both_stay(self) -> None:
        anns, bos = ({**NOTE, "id": name, "text": name} for name in ("ann", "bo"))
        graph = self.straight(self.place(notes=[anns]), self.place(notes=[bos]))
        self.assertEqual({n["text"] for n in graph["notes"]}, {"ann", "bo"})
        with self.subTest("one moves a note while the other takes another away"):
            self.document = self.after(self.place(notes=[anns, bos]))
            moved = self.place(notes=[{**anns, "up": 0.5}, bos])
            taken = self.place(notes=[anns])
            graph = self.straight(moved, taken)
            self.assertEqual([(n["id"], n["up"]) for n in graph["notes"]], [("ann", 0.5)])

    def test_a_range_and_what_is_hidden_are_fields_apart(self) -> None:
        graph = self.straight(self.place(x_low=0.1), self.place(hidden=["run1:T2"]), self.place(hidden=["run2:T2"]))
        self.assertEqual((graph["x_low"], set(graph["hidden"])), (0.1, {"run1:T2", "run2:T2"}))

    def test_the_same_field_asks_and_says_what_is_there_now(self) -> None:
        with self.assertRaises(Problem) as caught:
            self.after(self.place(x_low=0.1, x_high=0.9), self.place(x_low=0.2, origin=True))
        problem = caught.exception
        self.assertEqual((problem.status, problem.code, str(problem)), (409, "clash", "Somebody else has changed this graph meanwhile."))
        self.assertEqual(json.loads(str(problem.fields["theirs"])), {"x_low": 0.1, "origin": False})
        with self.subTest("what the other has chosen as well is no clash"):
            self.assertEqual(self.straight(self.place(x_low=0.1), self.place(x_low=0.1))["x_low"], 0.1)

    def test_unknowns_and_ingredients_are_items_too(self) -> None:
        one, two = ({"id": i, "name": i, "readings": ["0.4"]} for i in ("one", "two"))
        fit = placing(self.document, "place_fit", "line", unknowns=[one]), placing(self.document, "place_fit", "line", unknowns=[two])
        self.assertEqual({u["id"] for u in self.after(*fit)["fits"][0]["unknowns"]}, {"one", "two"})
        self.document = self.after({"type": "add_finding", "finding": "own", "content": OWN_FINDING})
        first, other = OWN_FINDING["uses"][0], {"symbol": "y_2", "kind": "mean", "of": "t10"}
        changed = placing(self.document, "change_finding", "own", uses=[{**first, "low": 0.4}])
        added = placing(self.document, "change_finding", "own", uses=[*self.document["findings"][-1]["uses"], other])
        uses = self.after(changed, added)["findings"][-1]["uses"]
        self.assertEqual([(u["symbol"], u["low"]) for u in uses], [("y_1", 0.4), ("y_2", None)])

    def test_a_limit_holds_for_what_two_have_added(self) -> None:
        notes = [{**NOTE, "id": f"n{i}"} for i in range(30)]
        with self.assertRaises(Problem) as caught:
            self.after(self.place(notes=notes), self.place(notes=[{**NOTE, "id": "more"}]))
        self.assertEqual(caught.exception.code, "too_large")

    def test_fields_are_named_with_what_they_were(self) -> None:
        good = self.place(x_low=0.1)
        for bad in ({"was": {}}, {"was": {"x_high": None}}, {"becomes": {}, "was": {}}, {"becomes": {"colour": 1}, "was": {"colour": 2}}):
            with self.subTest(bad), self.assertRaises(ValidationError):
                edit_adapter.validate_python(good | bad)


class Sizes(TestCase):
    """Nothing becomes longer than it could have been typed, whichever way."""

    def refused(self, document: dict[str, Any], edit: dict[str, Any]) -> str:
        with self.assertRaises(Problem) as caught:
            apply_edit(document, edit_adapter.validate_python(edit))
        return caught.exception.code

    def test_by_a_symbol_that_formulas_follow(self) -> None:
        document = write_lab_book(fill(make_school().book, 3))
        for edit in (
            {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "m"},
            {"type": "add_quantity", "quantity": "k", "kind": "derived", "name": "k", "symbol": "k", "formula": "h" + " + h" * 99},
        ):
            document = apply_edit(document, edit_adapter.validate_python(edit)).document
        self.assertEqual(self.refused(document, placing(document, "change_quantity", "h", symbol="h_2")), "too_long")

    def test_by_readings_that_come_as_a_whole(self) -> None:
        for bad in (
            {"L": [{"text": "3" * 201}]},
            {"L": [{"text": "3", "set_aside": "x" * 301}]},
            {"L": [{"text": ""}]},
            {"a b": []},
            {"L": [None] * 99},
            3,
        ):
            for edit in (
                {"type": "fill_run", "run": "run1", "settings": [{"id": "a", "readings": bad}]},
                {"type": "add_setting", "run": "run1", "setting": "a", "content": {"id": "a", "readings": bad}},
            ):
                with self.subTest(edit), self.assertRaises(ValidationError):
                    edit_adapter.validate_python(edit)

    def test_an_edit_of_a_long_run_copies_its_own_path_only(self) -> None:
        document = write_lab_book(fill(make_school().book, 5))
        rows = document["runs"][0]["settings"]
        done = apply_edit(document, edit_adapter.validate_python(reading("9.99", rows[2]["readings"]["t10"][0]["text"], "s3")))
        after = done.document["runs"][0]["settings"]
        self.assertEqual([a is b for a, b in zip(after, rows, strict=True)], [True, True, False, True, True])
        self.assertIs(after[2]["readings"]["L"], rows[2]["readings"]["L"])
        self.assertIs(done.document["quantities"], document["quantities"])
