"""Edits: what they do, that each can be taken back, and that nobody's typing is lost to another's."""

from __future__ import annotations

import json
import uuid
from functools import partial
from typing import Any

from django.test import TestCase
from pydantic import ValidationError

from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.core.presentation.analysis import analyse
from hobrel.labbooks.computed import write_view
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.patches import apply_patches, invert
from hobrel.labbooks.edits.registry import Applied, apply_edit
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.places import find
from hobrel.server.problems import Problem
from tests.placing import placing
from tests.school import School, add_setting, client_of, fill, make_school, reading, send_edit, send_step

NOTE = {"id": "n1", "text": "the clamp creaked", "anchor": "point", "of": "s2"}
OWN_FINDING = {
    "name": "middle period", "symbol": "T_m", "formula": "y_1", "uses": [{"symbol": "y_1", "kind": "mean", "of": "T", "low": 0.3}],
}  # fmt: skip


class EveryEdit(TestCase):
    """The patches of each kind of edit lead from the document before to the one after, and back."""

    def test_there_and_back(self) -> None:
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
            placing(document, "place_graph", "straight", x="L", origin=True),
            placing(document, "place_fit", "line", weights="none", through_origin=True),
            {"type": "write_text", "section": "method", "text": "We timed it.", "was": ""},
            {"type": "set_aside_from", "run": "run1", "setting": "s2", "reason": "the clamp slipped"},
            {"type": "confirm_slip", "kind": "lone_repeat", "run": "run1", "setting": "s1", "quantity": "t10", "repeat": 0},
            {"type": "add_run", "run": "run2", "name": "Fresh readings"},
            {"type": "rename_run", "run": "run1", "name": "Wet strip"},
            {"type": "fill_run", "run": "run1", "settings": [{"id": "b1", "readings": {"L": [{"text": "0.300"}]}}]},
            {"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "mm", "repeats": 2},
            {"type": "add_quantity", "quantity": "w", "kind": "derived", "name": "frequency", "symbol": "f", "formula": "1/T"},
            placing(document, "place_graph", "straight", x_low=0.0, x_high=0.2),
            {"type": "add_graph", "graph": "third", "x": "L", "y": "T2"},
            {"type": "remove_graph", "graph": "measured"},
            {"type": "choose_look", "series": "run1:T2", "look": 3},
            placing(document, "place_fit", "line", weights="none", shape="power", low=0.1),
            placing(document, "place_fit", "line", by_eye={"gradient": 4.7, "intercept": 0.0}, show_extremes=True),
            {
                "type": "keep_plot",
                "graph": "kept",
                "fit": "its",
                "x": "L",
                "y": "T",
                "x_form": "1/v",
                "y_form": "v^2",
                "x_new": "n1",
                "y_new": "n2",
            },
            {"type": "choose_digits", "quantity": "T", "kind": "decimals", "count": 2},
            placing(document, "place_graph", "straight", hidden=["run1:T2"], notes=[NOTE]),
            {"type": "add_fit", "fit": "second", "graph": "straight", "choice": {"shape": "power", "expected": "3/2"}},
            placing(document, "place_fit", "line", unknowns=[{"id": "u1", "name": "a strip", "readings": ["0.4", "0.5"]}]),
            {"type": "add_tangent", "quantity": "v", "fit": "line", "name": "slope", "symbol": "v"},
            {"type": "add_finding", "finding": "own", "content": OWN_FINDING},
            placing(document, "change_finding", "E", compare=["other"]),
            {"type": "write_rounding", "finding": "E", "text": "12.5 ± 0.3 GPa"},
            {"type": "write_needed", "finding": "E", "text": "their bars overlap"},
            {"type": "draw_sketch", "points": [{"x": 0.1, "y": 0.2}, {"x": 0.9, "y": 0.7}]},
            {"type": "batch", "words": "pasted", "edits": [add_setting("n1"), reading("2.50", "", "n1"), reading("1.1", first, "s1")]},
        ]
        for case in cases:
            with self.subTest(case["type"]):
                before = json.dumps(document, sort_keys=True)
                done = apply_edit(document, edit_adapter.validate_python(case))
                self.assertEqual(json.dumps(document, sort_keys=True), before)
                self.assertNotEqual(done.document, document)
                self.assertTrue(done.words)
                patches = json.loads(json.dumps(done.patches))
                self.assertTrue(patches)
                self.assertEqual(apply_patches(document, patches), done.document)
                self.assertEqual(apply_patches(done.document, invert(patches)), document)

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
            (placing(document, "change_finding", "E", formula="m"), "given"),
            (placing(document, "change_finding", "E", compare=["E"]), "itself"),
            (placing(document, "change_finding", "nothing", unit="m"), "gone"),
            ({"type": "add_finding", "finding": "E", "content": OWN_FINDING}, "gone"),
            ({"type": "add_finding", "finding": "own", "content": {**OWN_FINDING, "symbol": "L"}}, "symbol_taken"),
            ({"type": "add_finding", "finding": "own", "content": {**OWN_FINDING, "unit": "splods"}}, "bad_unit"),
            ({"type": "add_finding", "finding": "own", "content": {**OWN_FINDING, "compare": ["own"]}}, "itself"),
            ({"type": "add_finding", "finding": "own", "content": {**OWN_FINDING, "uses": OWN_FINDING["uses"] * 2}}, "symbol_taken"),
            ({"type": "remove_finding", "finding": "E"}, "given"),
            ({"type": "remove_fit", "fit": "line"}, "in_use"),
            ({"type": "add_fit", "fit": "line", "graph": "straight"}, "gone"),
            ({"type": "write_rounding", "finding": "E", "text": "1 ± 1", "was": "2 ± 1"}, "clash"),
            ({"type": "write_needed", "finding": "E", "text": "this", "was": "that"}, "clash"),
            ({"type": "define_formula", "quantity": "T", "formula": "t_10/20", "was": "t_10"}, "clash"),
            ({"type": "write_text", "section": "method", "text": "this", "was": "that"}, "clash"),
            ({"type": "add_tangent", "quantity": "v", "fit": "line", "name": "slope", "symbol": "T"}, "symbol_taken"),
        ]
        for case, code in cases:
            with self.subTest(case), self.assertRaises(Problem) as caught:
                apply_edit(document, edit_adapter.validate_python(case))
            self.assertEqual(caught.exception.code, code)

    def test_what_two_have_written_alike_is_no_clash(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        first, formula = (
            document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"],
            find(document["quantities"], "T", "quantity")["formula"],
        )
        document["texts"]["method"] = "We timed it."
        for case in (
            reading(str(first), "something else", "s1"),
            {"type": "define_formula", "quantity": "T", "formula": formula, "was": "t_10"},
            {"type": "write_text", "section": "method", "text": "We timed it.", "was": "We"},
        ):
            with self.subTest(case["type"]):
                self.assertEqual(apply_edit(document, edit_adapter.validate_python(case)).document, document)

    def test_of_a_picture_only_what_is_given_is_written(self) -> None:
        document = write_lab_book(fill(make_school().book, 2))
        document["report"]["pictures"] = [{"id": "p1", "caption": "The strip", "alt": "A strip in its clamp"}]
        done = apply_edit(
            document, edit_adapter.validate_python({"type": "describe_report_picture", "picture": "p1", "caption": "Our strip"})
        )
        self.assertEqual(done.document["report"]["pictures"], [{"id": "p1", "caption": "Our strip", "alt": "A strip in its clamp"}])


class Graphs(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.document = write_lab_book(fill(self.school.book, 5))

    def refuse(self, edit: dict[str, Any]) -> str:
        with self.assertRaises(Problem) as caught:
            apply_edit(self.document, edit_adapter.validate_python(edit))
        return caught.exception.code

    def test_what_cannot_be(self) -> None:
        place = partial(placing, self.document, "place_graph", "straight")
        self.assertEqual(self.refuse(place(y_low=3.0, y_high=1.0)), "bad_range")
        self.assertEqual(self.refuse(place(x_low=3.0, x_high=3.0)), "bad_range")
        stretch = partial(placing, self.document, "place_fit", "line")
        self.assertEqual(self.refuse(stretch(low=0.2, high=0.03)), "bad_range")
        apply_edit(self.document, edit_adapter.validate_python(stretch(low=0.2)))
        uses = [{"symbol": "m_1", "kind": "mean", "of": "L", "low": 0.6, "high": 0.3}]
        content = {"name": "a mean", "symbol": "M", "formula": "m_1", "uses": uses}
        self.assertEqual(self.refuse({"type": "add_finding", "finding": "own", "content": content}), "bad_range")
        self.assertEqual(self.refuse(place(x="nothing")), "gone")
        self.assertEqual(self.refuse(place(also=["nothing"])), "gone")
        self.assertEqual(self.refuse(place(notes=[{**NOTE, "id": f"n{i}"} for i in range(30)]) | {"graph": "nothing"}), "gone")
        self.assertEqual(self.refuse({"type": "remove_graph", "graph": "straight"}), "in_use")
        self.assertEqual(self.refuse({"type": "add_graph", "graph": "straight", "x": "L", "y": "T"}), "gone")
        self.assertEqual(self.refuse({"type": "add_graph", "graph": "g3", "x": "L", "y": "nothing"}), "gone")
        self.assertEqual(self.refuse(placing(self.document, "place_fit", "line", shape="spiral")), "bad_shape")

    def test_the_report_and_the_picture_draw_lines_by_eye_too(self) -> None:
        school, ann = self.school, client_of(self.school.students[0])
        lines = {f"{k}by_eye": {"gradient": g, "intercept": 0.0} for k, g in (("", 4.7), ("steepest_", 4.9), ("shallowest_", 4.5))}
        send_edit(ann, school.book, placing(self.document, "place_fit", "line", **lines))
        picture = ann.get(f"/api/books/{school.book.pk}/graphs/straight.svg?fitted=true").content.decode()
        self.assertEqual(picture.count("#C77F00"), 3)
        self.assertEqual(ann.get(f"/api/books/{school.book.pk}/report.html").status_code, 200)


class Structure(TestCase):
    """Runs and quantities: what follows a change, and that it is taken back exactly."""

    def setUp(self) -> None:
        self.document = write_lab_book(fill(make_school().book, 4))
        self.apply({"type": "add_quantity", "quantity": "h", "kind": "measured", "name": "sag", "symbol": "h", "unit": "m",
                    "instrument": {"name": "ruler", "kind": "scale", "division": "0.001"}})  # fmt: skip
        self.apply(
            {"type": "add_quantity", "quantity": "q", "kind": "derived", "name": "sag over period", "symbol": "h/T", "formula": "2h/T"}
        )
        for i, text in enumerate(("0.012", "0.0135", "wide", "1.5 cm"), 1):
            self.apply(reading(text, "", f"s{i}", "h"))

    def apply(self, edit: dict[str, Any]) -> Applied:
        done = apply_edit(self.document, edit_adapter.validate_python(edit))
        self.document = done.document
        return done

    def there_and_back(self, edit: dict[str, Any]) -> dict[str, Any]:
        """The document after an edit, with the assurance that its patches are exact both ways."""
        before = self.document
        done = self.apply(edit)
        self.assertEqual(apply_patches(before, done.patches), done.document)
        self.assertEqual(apply_patches(done.document, invert(done.patches)), before)
        return done.document

    def change(self, **changes: Any) -> dict[str, Any]:
        readings = changes.pop("readings", "")
        return placing(self.document, "change_quantity", "h", readings, **changes)

    def texts(self, document: dict[str, Any]) -> list[str]:
        return [s["readings"]["h"][0]["text"] for s in document["runs"][0]["settings"]]

    def test_a_new_symbol_is_followed_by_formulas_and_headings(self) -> None:
        after = self.there_and_back(self.change(symbol="s"))
        derived = next(q for q in after["quantities"] if q["id"] == "q")
        self.assertEqual((derived["symbol"], derived["formula"]), ("s/T", "2s/T"))
        read_lab_book(after)

    def test_a_new_unit_relabels_or_converts_with_honest_digits(self) -> None:
        relabelled = self.there_and_back(self.change(unit="cm"))
        self.assertEqual(self.texts(relabelled), ["0.012", "0.0135", "wide", "1.5 cm"])
        self.apply(self.change(unit="m"))
        converted = self.there_and_back(self.change(unit="mm", readings="convert"))
        self.assertEqual(self.texts(converted), ["12", "13.5", "wide", "1.5 cm"])
        self.assertEqual(next(q for q in converted["quantities"] if q["id"] == "h")["instrument"]["division"], "1")

    def test_the_scatter_of_a_steady_stretch_goes_with_the_unit(self) -> None:
        steady = {"name": "readings", "kind": "steady", "division": "0.001", "scatter": "0.0032"}
        self.apply(self.change(instrument=steady))
        converted = self.there_and_back(self.change(unit="mm", readings="convert"))
        instrument = next(q for q in converted["quantities"] if q["id"] == "h")["instrument"]
        self.assertEqual((instrument["division"], instrument["scatter"]), ("1", "3.2"))

    def test_an_instrument_from_before_it_could_have_a_scatter_is_converted(self) -> None:
        (known,) = (q for q in self.document["quantities"] if q["id"] == "h")
        known["instrument"].pop("scatter", None)
        converted = self.there_and_back(self.change(unit="mm", readings="convert"))
        self.assertEqual(next(q for q in converted["quantities"] if q["id"] == "h")["instrument"]["division"], "1")

    def test_removed_with_its_readings_and_brought_back(self) -> None:
        self.apply({"type": "remove_quantity", "quantity": "q"})
        after = self.there_and_back({"type": "remove_quantity", "quantity": "h"})
        self.assertTrue(all("h" not in s["readings"] for s in after["runs"][0]["settings"]))

    def test_moved_and_renamed(self) -> None:
        after = self.there_and_back({"type": "move_quantity", "quantity": "h", "to": 1})
        self.assertEqual([q["id"] for q in after["quantities"]][:3], ["L", "h", "t10"])

    def test_what_cannot_be(self) -> None:
        self.apply({"type": "add_run", "run": "run2", "name": "Fresh"})
        cases: list[tuple[dict[str, Any], str]] = [
            (placing(self.document, "change_quantity", "t10", name="ten swings"), "given"),
            ({"type": "remove_quantity", "quantity": "L"}, "given"),
            (self.change(symbol="m"), "symbol_taken"),
            (self.change(symbol="sin"), "bad_symbol"),
            (self.change(symbol="2a"), "bad_symbol"),
            (self.change(unit="cubits"), "bad_unit"),
            (self.change(unit="s", readings="convert"), "bad_unit"),
            ({"type": "add_run", "run": "run2", "name": "Other"}, "gone"),
            ({"type": "add_run", "run": "run3", "name": " fresh "}, "name_taken"),
            ({"type": "fill_run", "run": "run1", "settings": [{"id": "a"}, {"id": "a"}]}, "bad_settings"),
            ({"type": "move_quantity", "quantity": "L", "to": 3}, "first"),
        ]
        for edit, code in cases:
            with self.subTest(edit), self.assertRaises(Problem) as caught:
                apply_edit(self.document, edit_adapter.validate_python(edit))
            self.assertEqual(caught.exception.code, code)
        self.apply({"type": "remove_run", "run": "run2"})
        with self.assertRaises(Problem):
            self.apply({"type": "remove_run", "run": "run1"})

    def test_from_here_on_is_by_value_and_keeps_other_reasons(self) -> None:
        self.apply({"type": "set_aside", "run": "run1", "setting": "s4", "reason": "bumped"})
        after = self.there_and_back({"type": "set_aside_from", "run": "run1", "setting": "s3", "reason": "the clamp slipped"})
        self.assertEqual([s["set_aside"] for s in after["runs"][0]["settings"]], [None, None, "the clamp slipped", "bumped"])

    def test_what_is_right_is_not_asked_again_until_it_changes(self) -> None:
        self.apply(reading("93.00", self.document["runs"][0]["settings"][1]["readings"]["t10"][0]["text"], "s2"))
        (slip,) = (s for s in analyse(read_lab_book(self.document)).slips if s.kind == "lone_repeat")
        place = {"run": slip.run, "setting": slip.setting, "quantity": slip.quantity, "repeat": slip.repeat}
        self.apply({"type": "confirm_slip", "kind": slip.kind, **place})
        self.assertNotIn("lone_repeat", [s.kind for s in analyse(read_lab_book(self.document)).slips])
        self.apply(reading("94.00", "93.00", "s2"))
        self.assertIn("lone_repeat", [s.kind for s in analyse(read_lab_book(self.document)).slips])

    def test_a_put_back_is_not_for_browsers(self) -> None:
        with self.assertRaises(ValidationError):
            edit_adapter.validate_python({"type": "put_back", "quantities": [], "findings": [], "graphs": [], "readings": {}, "words": ""})


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
        self.assertEqual((entry["author"], entry["words"]), ("Ann", "setting 1, t₁₀, repeat 1: blank → 2.50"))

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
        self.assertIn("not a number", column["notes"][0]["trouble"][0]["text"])

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
        for bad in ({"type": "erase_everything"}, {**reading("1"), "colour": "red"}, {**reading("1"), "run": "../etc"}, reading("1" * 201)):
            with self.subTest(bad):
                self.assertEqual(send_edit(self.ann, self.book, bad).status_code, 422)

    def test_others_learn_of_changes_and_of_who_is_where(self) -> None:
        self.ann.get(f"/api/books/{self.book.pk}/changes?place=a:t10:0")
        send_edit(self.ann, self.book, reading("2.50"))
        news = self.bo.get(f"/api/books/{self.book.pk}/changes?place=").json()
        self.assertEqual(news, {"revision": 2, "news": 0, "present": [{"name": "Ann", "place": "a:t10:0"}]})

    def test_an_edit_and_a_view_say_what_a_poll_would(self) -> None:
        path = f"/api/books/{self.book.pk}"

        def write(text: str, was: str, place: str) -> Any:
            body = {"edits": [{"client_id": str(uuid.uuid4()), "edit": reading(text, was)}], "place": place}
            return self.ann.post(f"{path}/edits", json.dumps(body), content_type="application/json").json()["answers"][0]["refused"]

        def bo_sees(**asked: Any) -> Any:
            answer = self.bo.get(f"{path}/view", asked).json()
            return answer["news"], answer["present"]

        with self.subTest("one whom nobody has seen here is noted by their own poll or view"):
            self.assertIsNone(write("2.50", "", "a:t10:1"))
            self.assertEqual(bo_sees(place=""), (0, []))
            self.ann.get(f"{path}/view", {"place": "a:t10:0"})
            self.assertEqual(bo_sees(place=""), (0, [{"name": "Ann", "place": "a:t10:0"}]))
        with self.subTest("then by their edits; a place that is too long is cut, and no edit is lost for it"):
            self.assertIsNone(write("2.51", "2.50", "b" * 200))
            self.assertEqual(bo_sees(place="")[1], [{"name": "Ann", "place": "b" * 120}])
        with self.subTest("not asked"):
            self.assertEqual(bo_sees(), (None, None))

    def test_an_answer_belongs_to_the_revision_that_was_read_whatever_comes_after(self) -> None:
        """Two workers: one has read the lab book, the other changes it before the first has computed anything."""
        send_edit(self.ann, self.book, reading("2.50"))
        read = Book.objects.get(pk=self.book.pk)
        send_edit(self.bo, self.book, reading("9.99", "2.50"))
        views = [json.loads(write_view(book, "", "").whole or b"") for book in (read, Book.objects.get(pk=self.book.pk))]
        cells = [next(c for c in view["analysis"]["runs"][0]["columns"] if c["quantity"] == "t10")["cells"][0] for view in views]
        self.assertEqual([cell["value"] for cell in cells], [2.5, 9.99])
        texts = [view["document"]["runs"][0]["settings"][0]["readings"]["t10"][0]["text"] for view in views]
        self.assertEqual(texts, ["2.50", "9.99"])
