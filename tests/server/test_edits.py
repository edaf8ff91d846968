"""Edits: what they do, that each can be taken back, and that nobody's typing is lost to another's."""

from __future__ import annotations

import json
import uuid

from django.test import TestCase

from hobrel.core.documents import Reading, write_lab_book
from hobrel.labbooks.edits import apply_edit, edit_adapter
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.queries import analysis_of, document_of
from hobrel.server.problems import Problem
from tests.school import School, add_setting, client_of, fill, make_school, reading, send_edit, send_step


class EveryEdit(TestCase):
    """Each kind of edit followed by its inverse gives the same document again."""

    def test_inverse(self) -> None:
        document = write_lab_book(fill(make_school().book, 4))
        first = document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]
        cases = [
            reading("9.99", first, "s1"),
            reading("", first, "s1"),
            add_setting("new"),
            {"type": "remove_setting", "run": "run1", "setting": "s2"},
            {"type": "set_repeats", "quantity": "t10", "repeats": 4},
            {"type": "set_repeats", "quantity": "t10", "repeats": 1},
            {"type": "set_aside", "run": "run1", "setting": "s1", "reason": "slipped"},
            {"type": "set_aside", "run": "run1", "setting": "s1", "quantity": "t10", "repeat": 2, "reason": "late"},
            {"type": "define_formula", "quantity": "T", "formula": "t_10 / 20"},
            {"type": "place_graph", "graph": "straight", "x": "L", "y": "T2", "origin": True},
            {"type": "place_fit", "fit": "line", "weights": "none", "through_origin": True},
            {"type": "write_text", "section": "method", "text": "We timed it.", "was": ""},
            {"type": "batch", "words": "pasted", "edits": [add_setting("n1"), reading("2.50", "", "n1"), reading("1.1", first, "s1")]},
        ]
        for case in cases:
            with self.subTest(case["type"]):
                before = json.dumps(document, sort_keys=True)
                done = apply_edit(document, edit_adapter.validate_python(case))
                self.assertEqual(json.dumps(document, sort_keys=True), before)
                self.assertNotEqual(done.document, document)
                self.assertTrue(done.words)
                back = apply_edit(done.document, done.inverse).document
                self.assertEqual(
                    back, document if case["type"] != "write_text" else {**document, "texts": {**document["texts"], "method": ""}}
                )

    def test_what_the_plan_gives_cannot_be_typed_over(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        cases = [
            ({"type": "define_formula", "quantity": "T2", "formula": "T^3"}, "given"),
            ({"type": "define_formula", "quantity": "m", "formula": "1"}, "given"),
            (reading("1", "", "s1", "m"), "given"),
            (reading("1", "", "s1", "T"), "given"),
            ({"type": "set_repeats", "quantity": "L", "repeats": 2}, "given"),
            (reading("1", "", "nowhere"), "gone"),
            (reading("1", "", "s1", "t10", 7), "gone"),
            (add_setting("s1"), "gone"),
            ({"type": "set_aside", "run": "run1", "setting": "s1", "quantity": "L", "repeat": 3, "reason": "x"}, "gone"),
        ]
        for case, code in cases:
            with self.subTest(case), self.assertRaises(Problem) as caught:
                apply_edit(document, edit_adapter.validate_python(case))
            self.assertEqual(caught.exception.code, code)


class Together(TestCase):
    """Two students at one bench."""

    def setUp(self) -> None:
        self.school: School = make_school()
        self.book = self.school.book
        self.ann, self.bo = (client_of(p) for p in self.school.students)
        send_edit(self.ann, self.book, add_setting())

    def text(self) -> str | None:
        entry = Book.objects.get(pk=self.book.pk).document["runs"][0]["settings"][0]["readings"].get("t10", [None])[0]
        return entry["text"] if entry else None

    def test_a_reading_is_kept_as_typed_with_who_and_when(self) -> None:
        state = send_edit(self.ann, self.book, reading("2.50")).json()
        self.assertEqual(state["revision"], 2)
        self.assertEqual(self.text(), "2.50")
        entry = self.bo.get(f"/api/books/{self.book.pk}/history").json()[0]
        self.assertEqual((entry["author"], entry["words"]), ("Ann", "setting 1, t_10, repeat 1: blank → 2.50"))

    def test_the_same_cell_changed_by_both_asks_with_both_values(self) -> None:
        send_edit(self.ann, self.book, reading("2.50"))
        answer = send_edit(self.bo, self.book, reading("2.60"))
        self.assertEqual((answer.status_code, answer.json()["code"], answer.json()["theirs"]), (409, "clash", "2.50"))
        self.assertEqual(self.text(), "2.50")
        self.assertEqual(send_edit(self.bo, self.book, reading("2.60", "2.50")).status_code, 200)

    def test_both_writing_the_same_value_is_no_clash(self) -> None:
        send_edit(self.ann, self.book, reading("2.50"))
        self.assertEqual(send_edit(self.bo, self.book, reading("2.50")).status_code, 200)

    def test_what_is_sent_twice_is_done_once(self) -> None:
        same = str(uuid.uuid4())
        for _ in range(3):
            self.assertEqual(send_edit(self.ann, self.book, reading("2.50"), same).status_code, 200)
        self.assertEqual(Book.objects.get(pk=self.book.pk).revision, 2)

    def test_a_wrong_entry_is_kept_and_marked(self) -> None:
        state = send_edit(self.ann, self.book, reading("two")).json()
        self.assertEqual(self.text(), "two")
        column = next(c for c in state["analysis"]["runs"][0]["columns"] if c["quantity"] == "t10")
        self.assertIn("not a number", column["notes"][0]["trouble"])

    def test_undo_takes_back_ones_own_change_whatever_others_did_since(self) -> None:
        send_edit(self.ann, self.book, reading("2.50"))
        send_edit(self.bo, self.book, reading("7.77", "", "a", "t10", 1))
        send_step(self.ann, self.book, "undo")
        readings = Book.objects.get(pk=self.book.pk).document["runs"][0]["settings"][0]["readings"]["t10"]
        self.assertEqual([r and r["text"] for r in readings], [None, "7.77"])
        send_step(self.ann, self.book, "redo")
        self.assertEqual(self.text(), "2.50")

    def test_undo_and_redo_walk_through_several_changes_and_back(self) -> None:
        texts = ["1.00", "2.00", "3.00"]
        for was, text in zip(["", *texts], texts, strict=False):
            send_edit(self.ann, self.book, reading(text, was))
        walked = []
        for which in ("undo", "undo", "undo", "redo", "redo", "undo", "redo", "redo"):
            self.assertEqual(send_step(self.ann, self.book, which).status_code, 200)
            walked.append(self.text())
        self.assertEqual(walked, ["2.00", "1.00", None, "1.00", "2.00", "1.00", "2.00", "3.00"])
        self.assertEqual(send_step(self.ann, self.book, "redo").status_code, 409)

    def test_a_new_change_ends_redoing(self) -> None:
        send_edit(self.ann, self.book, reading("1.00"))
        send_step(self.ann, self.book, "undo")
        send_edit(self.ann, self.book, reading("5.00"))
        self.assertEqual(send_step(self.ann, self.book, "redo").json()["code"], "nothing_to_undo")

    def test_undo_of_what_another_has_changed_is_refused_and_loses_nothing(self) -> None:
        send_edit(self.ann, self.book, reading("2.50"))
        send_edit(self.bo, self.book, reading("2.60", "2.50"))
        answer = send_step(self.ann, self.book, "undo")
        self.assertEqual((answer.status_code, self.text()), (409, "2.60"))

    def test_a_batch_is_all_or_nothing(self) -> None:
        batch = {"type": "batch", "words": "pasted", "edits": [reading("1.00"), reading("1", "", "nowhere")]}
        self.assertEqual(send_edit(self.ann, self.book, batch).status_code, 409)
        self.assertIsNone(self.text())
        self.assertEqual(EditRecord.objects.filter(book=self.book).count(), 1)

    def test_edits_that_are_none_are_refused(self) -> None:
        for bad in ({"type": "erase_everything"}, {**reading("1"), "colour": "red"}, {**reading("1"), "run": "../etc"}, reading("1" * 61)):
            with self.subTest(bad):
                self.assertEqual(send_edit(self.ann, self.book, bad).status_code, 422)

    def test_others_learn_of_changes_and_of_who_is_where(self) -> None:
        self.ann.get(f"/api/books/{self.book.pk}/changes?since=1&place=a:t10:0")
        send_edit(self.ann, self.book, reading("2.50"))
        news = self.bo.get(f"/api/books/{self.book.pk}/changes?since=1&place=").json()
        self.assertEqual(news["state"]["revision"], 2)
        self.assertEqual(news["present"], [{"name": "Ann", "place": "a:t10:0"}])
        self.assertIsNone(self.bo.get(f"/api/books/{self.book.pk}/changes?since=2&place=").json()["state"])

    def test_an_answer_belongs_to_the_revision_that_was_read_whatever_comes_after(self) -> None:
        """Two workers: one has read the lab book, the other changes it before the first has computed anything."""
        send_edit(self.ann, self.book, reading("2.50"))
        read = Book.objects.get(pk=self.book.pk)
        send_edit(self.bo, self.book, reading("9.99", "2.50"))
        cell = next(c for c in analysis_of(read).runs[0].columns if c.quantity == "t10").cells[0]
        newest = next(c for c in analysis_of(Book.objects.get(pk=self.book.pk)).runs[0].columns if c.quantity == "t10").cells[0]
        self.assertEqual((cell.value, newest.value), (2.5, 9.99))
        self.assertEqual(document_of(read).runs[0].settings[0].readings["t10"], (Reading("2.50"),))
