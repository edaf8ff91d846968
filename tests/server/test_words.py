"""Edits of quantities that hold words, and bringing words in and taking them out."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.registry import apply_edit
from hobrel.labbooks.models import EditRecord
from tests.placing import placing
from tests.school import client_of, fill, send_edit
from tests.server.test_own_books import OwnBookTest, heading, table

KINDS = table(["material", "R / ohm", "look"], [["copper", "0.5", "red"], ["iron", "2.1", ""], ["", "3", "lost its label"]])


class WordsTest(OwnBookTest):
    def document(self) -> dict[str, Any]:
        self.book.refresh_from_db()
        found: dict[str, Any] = self.book.document
        return found

    def by_name(self, name: str) -> dict[str, Any]:
        return next(q for q in self.document()["quantities"] if q["name"] == name)

    def change(self, called: str, **fields: Any) -> Any:
        return self.edit(placing(self.document(), "change_quantity", self.by_name(called)["id"], "relabel", **fields))

    def test_a_pasted_column_without_a_number_is_words_and_a_kind_has_no_line(self) -> None:
        self.assertEqual(self.edit(KINDS).status_code, 200)
        document = self.document()
        self.assertEqual(
            [(q["kind"], q["name"], q["holds"], q["symbol"]) for q in document["quantities"]],
            [("changed", "material", "words", ""), ("measured", "resistance", "numbers", "R"), ("measured", "look", "words", "")],
        )
        self.assertEqual(
            [(g["x"], g["y"]) for g in document["graphs"]], [(self.by_name("material")["id"], self.by_name("resistance")["id"])]
        )
        self.assertEqual(document["fits"], [])
        self.assertIn("a table: material (words), resistance R / ohm, look (words)", EditRecord.objects.get(book=self.book).words)

    def test_the_report_has_the_words_and_the_kinds(self) -> None:
        self.edit(KINDS)
        self.edit(placing(self.document(), "place_graph", self.document()["graphs"][0]["id"], words_of=self.by_name("look")["id"]))
        page = self.client_.get(f"/api/books/{self.book.pk}/report.html")
        self.assertEqual(page.status_code, 200, page.content[:300])
        for words in ("copper", "iron", "red", "lost its label"):
            self.assertIn(words, page.content.decode())
        self.assertEqual(self.client_.get(f"/api/books/{self.book.pk}/report.pdf").status_code, 200)
        graph = self.document()["graphs"][0]["id"]
        picture = self.client_.get(f"/api/books/{self.book.pk}/graphs/{graph}.svg").content.decode()
        for words in (">copper<", ">iron<", ">red<"):
            self.assertIn(words, picture)

    def test_a_heading_says_words_and_says_numbers_again(self) -> None:
        self.edit(heading("metal (words)"))
        self.edit(heading("mass m / g", "q2"))
        self.assertEqual((self.by_name("metal")["holds"], self.by_name("metal")["kind"]), ("words", "changed"))
        self.assertEqual(self.edit(heading("metal M / kg", was="metal (words)")).status_code, 200)
        self.assertEqual((self.by_name("metal")["holds"], self.by_name("metal")["symbol"]), ("numbers", "M"))
        self.assertEqual(self.edit(heading("metal (words)", was="metal M / kg")).status_code, 200)
        self.assertEqual((self.by_name("metal")["holds"], self.by_name("metal")["symbol"]), ("words", "M"))
        self.assertEqual(self.edit(heading("alloy", was="metal M / kg")).status_code, 409)

    def test_what_is_worked_out_is_headed_by_no_words(self) -> None:
        self.edit(KINDS)
        self.edit({"type": "add_quantity", "quantity": "G", "kind": "derived", "name": "conductance", "symbol": "G", "formula": "1/R"})
        refused = self.edit(heading("conductance (words)", "G", was="conductance G"))
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "holds_words"))
        self.assertEqual(self.by_name("conductance")["holds"], "numbers")

    def test_turned_to_words_and_back_nothing_is_lost(self) -> None:
        self.edit(KINDS)
        self.assertEqual(self.change("resistance", holds="words").status_code, 200)
        self.assertEqual((self.by_name("resistance")["unit"], self.by_name("resistance")["symbol"]), ("ohm", "R"))
        self.assertEqual(self.state()["analysis"]["graphs"][0]["trouble"]["code"], "holds_words")
        self.assertEqual(self.change("resistance", holds="numbers").status_code, 200)
        self.assertIsNone(self.state()["analysis"]["graphs"][0]["trouble"])
        # without a symbol it cannot be a number
        refused = self.change("look", holds="numbers")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "bad_symbol"))
        self.assertEqual(self.change("look", holds="numbers", symbol="k").status_code, 200)

    def test_words_are_written_once_at_a_setting(self) -> None:
        self.edit(KINDS)
        quantity = self.by_name("look")["id"]
        refused = self.edit({"type": "set_repeats", "quantity": quantity, "repeats": 2})
        self.assertEqual((refused.status_code, refused.json()["code"]), (409, "repeats"))
        self.edit({"type": "set_repeats", "quantity": self.by_name("resistance")["id"], "repeats": 3})
        self.assertEqual(self.change("resistance", holds="words").json()["code"], "repeats")
        refused = self.edit(
            {"type": "add_quantity", "quantity": "k", "kind": "constant", "name": "k", "symbol": "", "holds": "words", "value": "3"}
        )
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "holds_words"))
        added = self.edit({"type": "add_quantity", "quantity": "s", "kind": "measured", "name": "smell", "symbol": "", "holds": "words"})
        self.assertEqual(added.status_code, 200)
        self.assertEqual(self.change("smell", name="odour").status_code, 200)

    def test_a_remark_is_as_long_as_two_lines_and_a_setting_is_called_by_its_kind(self) -> None:
        self.edit(KINDS)
        row = self.document()["runs"][0]["settings"][1]["id"]
        remark = {
            "type": "set_reading",
            "run": "run1",
            "setting": row,
            "quantity": self.by_name("look")["id"],
            "repeat": 0,
            "text": "x" * 200,
        }
        sent = self.edit(remark)
        self.assertEqual(sent.status_code, 200, sent.json())
        self.assertEqual(EditRecord.objects.filter(book=self.book).latest("pk").words[:18], "iron, look: blank ")
        self.assertEqual(self.edit({**remark, "text": "x" * 201, "was": "x" * 200}).status_code, 422)

    def test_words_of_a_file_are_new_words_and_come_out_again(self) -> None:
        data = b'metal,R (ohm),remark\ncopper,0.5,"red, warm"\niron,2.1,5 in a row\n'
        columns = [{"index": i, "unit": "", "quantity": f"new:{i}", "repeat": 0, "is_u": False} for i in range(3)]
        form = {
            "file": SimpleUploadedFile("metals.csv", data),
            "choices": json.dumps({"client_id": str(uuid.uuid4()), "sheet": 0, "into": "replace", "run": "run1", "columns": columns}),
        }
        answer = self.client_.post(f"/api/books/{self.book.pk}/bring-in", form)
        self.assertEqual(answer.status_code, 200, answer.content)
        # a remark that begins with a number makes its column one of numbers, as long as nobody says otherwise
        self.assertEqual([self.by_name(n)["holds"] for n in ("metal", "resistance", "remark")], ["words", "numbers", "numbers"])
        self.assertEqual(self.change("remark", holds="words").status_code, 200)
        taken = self.client_.get(f"/api/books/{self.book.pk}/take-out.csv")
        self.assertEqual(taken.status_code, 200, taken.content)
        self.assertIn('copper,0.5,"red, warm"', taken.content.decode())

    def test_of_a_given_quantity_what_it_holds_is_the_plans(self) -> None:
        book = self.school.book
        fill(book, 2)
        given = book.document["quantities"][1]["id"]
        refused = send_edit(client_of(self.ann), book, placing(book.document, "change_quantity", given, "relabel", holds="words"))
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "given"))

    def test_an_older_document_holds_numbers(self) -> None:
        self.edit(KINDS)
        document = self.document()
        for quantity in document["quantities"]:
            del quantity["holds"]
        edit = placing(document, "change_quantity", document["quantities"][1]["id"], "relabel", name="resistance")
        after = apply_edit(document, edit_adapter.validate_python(edit)).document
        self.assertEqual(after["quantities"][1]["holds"], "numbers")
