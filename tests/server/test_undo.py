"""Two people at one bench: undo takes back one's own change, and nothing of the other's."""

from __future__ import annotations

import uuid
from typing import Any

from django.test import TestCase

from hobrel.labbooks.models import Book, EditRecord
from tests.placing import placing
from tests.school import add_setting, client_of, fill, make_school, reading, send_edit, send_step


class Undo(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        fill(self.book, 4)
        self.ann, self.bo = (client_of(p) for p in self.school.students)

    def make(self, client: Any, edit: dict[str, Any]) -> None:
        answer = send_edit(client, self.book, edit)
        self.assertEqual(answer.status_code, 200, answer.content[:200])

    def document(self) -> dict[str, Any]:
        document: dict[str, Any] = Book.objects.get(pk=self.book.pk).document
        return document

    def offers(self, client: Any) -> list[dict[str, Any]]:
        """What is offered instead of an undo that is refused."""
        answer = send_step(client, self.book, "undo")
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "built_on"))
        found: list[dict[str, Any]] = answer.json()["offers"]
        return found

    def text(self, setting: int, repeat: int) -> str:
        return str(self.document()["runs"][0]["settings"][setting]["readings"]["t10"][repeat]["text"])

    def refused(self, client: Any) -> str:
        before, count = self.document(), EditRecord.objects.count()
        answer = send_step(client, self.book, "undo")
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "built_on"))
        self.assertEqual((self.document(), EditRecord.objects.count()), (before, count))
        return str(answer.json()["detail"])

    def test_a_setting_that_a_bench_mate_has_written_in_stays(self) -> None:
        self.make(self.ann, add_setting("new"))
        self.make(self.bo, reading("2.50", "", "new"))
        said = self.refused(self.ann)
        self.assertIn("Bo has built on this since", said)
        self.assertIn("2.50", said)
        with self.subTest("and goes once the reading is gone"):
            self.assertEqual(send_step(self.bo, self.book, "undo").status_code, 200)
            self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)
            self.assertEqual(len(self.document()["runs"][0]["settings"]), 4)

    def test_what_may_be_wanted_instead_is_ready_to_be_sent(self) -> None:
        was = self.text(0, 0)
        self.make(self.ann, reading("9.99", was, "s1"))
        self.make(self.bo, reading("8.88", "9.99", "s1"))
        (offer,) = self.offers(self.ann)
        self.assertEqual(offer["words"], f"Put {was} back in place of 8.88")
        self.make(self.ann, offer["edit"])
        self.assertEqual(self.text(0, 0), was)
        with self.subTest("what is no longer so when it is sent asks again"):
            self.make(self.bo, reading("7.77", was, "s1"))
            self.assertEqual(send_edit(self.ann, self.book, offer["edit"]).json()["code"], "clash")

    def test_of_a_block_what_others_have_not_touched_can_be_taken_back(self) -> None:
        was = [self.text(0, 0), self.text(1, 0), self.text(2, 0)]
        block = [reading(f"9.0{i}", text, f"s{i + 1}") for i, text in enumerate(was)]
        for chosen, expected in ((0, [was[0], "9.01", "9.02"]), (1, ["8.88", was[1], was[2]])):
            self.make(self.ann, {"type": "batch", "words": "pasted", "edits": block})
            self.make(self.bo, reading("8.88", "9.00", "s1"))
            offers = self.offers(self.ann)
            self.assertEqual(
                [o["words"] for o in offers], [f"Put {was[0]} back in place of 8.88", "Take back the other 2, and leave theirs"]
            )
            self.make(self.ann, offers[chosen]["edit"])
            self.assertEqual([self.text(i, 0) for i in range(3)], expected)
            for i, text in enumerate(expected):
                self.make(self.ann, reading(was[i], text, f"s{i + 1}")) if text != was[i] else None

    def test_offers_for_settings_paragraphs_and_fields(self) -> None:
        self.make(self.ann, add_setting("new"))
        self.make(self.bo, reading("2.50", "", "new"))
        (offer,) = self.offers(self.ann)
        self.make(self.ann, offer["edit"])
        self.assertEqual(len(self.document()["runs"][0]["settings"]), 4)
        self.make(self.ann, {"type": "write_text", "section": "method", "text": "We timed it.", "was": ""})
        self.make(self.bo, {"type": "write_text", "section": "method", "text": "They timed it.", "was": "We timed it."})
        (offer,) = self.offers(self.ann)
        self.make(self.ann, offer["edit"])
        self.assertEqual(self.document()["texts"]["method"], "")
        self.make(self.ann, placing(self.document(), "place_graph", "straight", x_low=0.1))
        self.make(self.bo, placing(self.document(), "place_graph", "straight", x_low=0.2))
        (offer,) = self.offers(self.ann)
        self.make(self.ann, offer["edit"])
        self.assertIsNone(next(g for g in self.document()["graphs"] if g["id"] == "straight")["x_low"])

    def test_where_nothing_can_be_offered_the_history_is_named(self) -> None:
        self.make(self.ann, {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "mm"})
        self.make(self.bo, reading("0.5", "", "s1", "h"))
        self.assertEqual(self.offers(self.ann), [])
        self.assertIn("look at the history", self.refused(self.ann))

    def test_a_quantity_that_a_bench_mate_uses_stays(self) -> None:
        own = {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "mm"}
        uses: dict[str, dict[str, Any]] = {
            "a reading of it": reading("0.5", "", "s1", "h"),
            "a formula with it": {
                "type": "add_quantity", "quantity": "twice", "kind": "derived", "name": "double", "symbol": "D", "formula": "2 h",
            },
            "a graph of it": {"type": "add_graph", "graph": "g9", "x": "L", "y": "h"},
        }  # fmt: skip
        for what, edit in uses.items():
            with self.subTest(what):
                self.make(self.ann, own)
                self.make(self.bo, edit)
                self.refused(self.ann)
                self.assertEqual(send_step(self.bo, self.book, "undo").status_code, 200)
                self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)

    def test_what_others_did_elsewhere_stays(self) -> None:
        length = {"type": "change_quantity", "quantity": "L", "was": {"symbol": "L"}, "becomes": {"symbol": "X"}}
        Book.objects.filter(pk=self.book.pk).update(document=self.with_own_length())
        self.make(self.ann, length)
        self.make(self.bo, {"type": "add_quantity", "quantity": "own", "kind": "derived", "name": "rate", "symbol": "f", "formula": "1/T"})
        self.make(self.bo, {"type": "add_graph", "graph": "g9", "x": "L", "y": "own"})
        self.make(self.bo, reading("9.99", self.document()["runs"][0]["settings"][2]["readings"]["t10"][1]["text"], "s3", repeat=1))
        self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)
        document = self.document()
        self.assertEqual(next(q["symbol"] for q in document["quantities"] if q["id"] == "L"), "L")
        self.assertIn("own", [q["id"] for q in document["quantities"]])
        self.assertIn("g9", [g["id"] for g in document["graphs"]])
        self.assertEqual(document["runs"][0]["settings"][2]["readings"]["t10"][1]["text"], "9.99")

    def with_own_length(self) -> dict[str, Any]:
        document = self.document()
        for quantity in document["quantities"]:
            quantity["given"] = quantity["given"] and quantity["id"] != "L"
        return document

    def test_a_cell_that_a_bench_mate_has_written_over_stays_theirs(self) -> None:
        first = self.document()["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]
        self.make(self.ann, reading("2.00", first, "s1"))
        self.make(self.bo, reading("3.00", "2.00", "s1"))
        self.assertIn("2.00 → 3.00", self.refused(self.ann))

    def test_another_repeat_of_the_same_setting_is_another_place(self) -> None:
        texts = [r["text"] for r in self.document()["runs"][0]["settings"][0]["readings"]["t10"]]
        self.make(self.ann, reading("2.00", texts[0], "s1"))
        self.make(self.bo, reading("3.00", texts[2], "s1", repeat=2))
        self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)
        after = [r["text"] for r in self.document()["runs"][0]["settings"][0]["readings"]["t10"]]
        self.assertEqual(after, [texts[0], texts[1], "3.00"])

    def test_removed_settings_come_back_among_what_was_added_meanwhile(self) -> None:
        self.make(self.ann, {"type": "remove_setting", "run": "run1", "setting": "s2"})
        self.make(self.bo, {**add_setting("n1"), "at": 0})
        self.make(self.bo, add_setting("n2"))
        self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)
        self.assertEqual([s["id"] for s in self.document()["runs"][0]["settings"]], ["n1", "s1", "s2", "s3", "s4", "n2"])
        self.assertEqual(send_step(self.ann, self.book, "redo").status_code, 200)
        self.assertEqual([s["id"] for s in self.document()["runs"][0]["settings"]], ["n1", "s1", "s3", "s4", "n2"])

    def test_the_past_is_exact_through_undo_and_redo(self) -> None:
        documents = [self.document()]
        for client, act in (
            (self.ann, add_setting("n1")), (self.bo, reading("2.50", "", "n1")),
            (self.ann, {"type": "rename_run", "run": "run1", "name": "Wet"}), (self.ann, "undo"), (self.ann, "redo"), (self.bo, "undo"),
            (self.bo, {"type": "remove_setting", "run": "run1", "setting": "s1"}),
        ):  # fmt: skip
            answer = send_step(client, self.book, act) if isinstance(act, str) else send_edit(client, self.book, act)
            self.assertEqual(answer.status_code, 200)
            documents.append(self.document())
        for revision, document in enumerate(documents):
            past = self.ann.get(f"/api/books/{self.book.pk}/at/{revision}").json()["document"]
            self.assertEqual([s["id"] for s in past["runs"][0]["settings"]], [s["id"] for s in document["runs"][0]["settings"]])
            self.assertEqual(past["runs"][0]["name"], document["runs"][0]["name"])

    def test_another_change_under_an_id_that_was_used_is_not_taken_for_it(self) -> None:
        same = str(uuid.uuid4())
        self.assertEqual(send_edit(self.ann, self.book, add_setting("n1"), same).status_code, 200)
        self.assertEqual(send_edit(self.ann, self.book, add_setting("n1"), same).status_code, 200)
        answer = send_edit(self.ann, self.book, add_setting("n2"), same)
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "same_id"))
        self.assertEqual(EditRecord.objects.count(), 1)
