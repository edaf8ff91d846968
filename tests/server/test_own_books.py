"""Lab books of one's own: begun from nothing, headings that are typed or pasted, shared, erased, made a plan of, given out."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import IntegrityError, transaction
from django.test import Client, TestCase

from hobrel.classes.models import SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.labbooks.models import Book, EditRecord
from tests.school import Sent, client_of, make_school, reading, send_edit, send_step


def post(client: Client, path: str, body: dict[str, Any] | None = None, method: str = "post") -> Any:
    return getattr(client, method)(f"/api{path}", json.dumps(body or {}), content_type="application/json")


def heading(text: str, quantity: str = "q1", was: str = "", run: str = "run1") -> dict[str, Any]:
    return {"type": "write_heading", "run": run, "quantity": quantity, "text": text, "was": was, "graph": "g1", "fit": "f1"}


def table(headings: list[str], rows: list[list[str]]) -> dict[str, Any]:
    return {"type": "paste_table", "run": "run1", "headings": headings, "rows": rows, "graph": "g1", "fit": "f1"}


class OwnBookTest(TestCase):
    def setUp(self) -> None:
        self.school, self.other = make_school(), make_school("two", "CODE22")
        self.ann, self.bo = self.school.students
        self.client_ = client_of(self.ann)
        self.book = self.begin(self.client_)

    def begin(self, client: Client) -> Book:
        answer = post(client, "/own-books")
        self.assertEqual(answer.status_code, 200, answer.content)
        return Book.objects.get(pk=answer.json()["id"])

    def edit(self, edit: dict[str, Any], client: Client | None = None) -> Sent:
        self.book.refresh_from_db()
        return send_edit(client or self.client_, self.book, edit)

    def state(self) -> dict[str, Any]:
        found: dict[str, Any] = self.client_.get(f"/api/books/{self.book.pk}").json()
        return found

    def quantities(self) -> list[tuple[str, str, str, str]]:
        return [(q["kind"], q["name"], q["symbol"], q["unit"]) for q in self.state()["document"]["quantities"]]


class Beginning(OwnBookTest):
    def test_from_nothing_to_a_line_with_its_uncertainty(self) -> None:
        self.assertEqual(self.state()["document"]["quantities"], [])
        rows = [["0.10", "0.21"], ["0.20", "0.39"], ["0.30", "0.62"], ["0.40", "0.80"], ["0.50", "1.01"]]
        sent = self.edit(table(["t (s)", "x / m"], rows))
        self.assertEqual(sent.status_code, 200)
        state = self.state()
        self.assertEqual(self.quantities(), [("changed", "time", "t", "s"), ("measured", "x", "x", "m")])
        self.assertEqual(state["document"]["runs"][0]["settings"][0]["readings"].popitem()[1][0]["text"], "0.21")
        card = state["analysis"]["fits"][0]
        # gradient by hand: sum of (t - 0.3)(x - 0.606) = 0.201 over sum of (t - 0.3)² = 0.1
        self.assertIn("2.01", card["gradient"]["text"])
        self.assertIn("±", card["gradient"]["text"])

    def test_a_table_as_it_is_copied(self) -> None:
        """One heading over three columns of times and a ± that holds for all of a column: bars come from it, and the times are repeats."""
        rows = [["20.0", "0.90", "0.92", "0.89", "17.1"], ["40.0", "1.27", "1.25", "1.28", "31.0"], ["60.0", "1.55", "1.56", "", "48.9"]]
        self.edit(table(["Length (cm) ± 0.1 cm", "Time (s)", "", "", ""], rows))
        length, time, other = self.state()["document"]["quantities"]
        self.assertEqual((length["name"], length["unit"]), ("Length", "cm"))
        self.assertEqual(self.state()["analysis"]["runs"][0]["columns"][0]["instrument_text"], "as the heading says ± 0.1 cm")
        self.assertEqual((time["repeats"], time["instrument"], other["repeats"], other["symbol"]), (3, None, 1, "x"))
        self.assertEqual([point["ux"] for point in self.state()["analysis"]["graphs"][0]["figure"]["series"][0]["points"]], [0.1] * 3)

    def test_what_a_heading_says_of_its_readings_can_be_typed(self) -> None:
        self.edit(heading("I (mA)"))
        self.edit(heading("I (mA) ± 2 %", was="current I / mA"))
        (current,) = self.state()["document"]["quantities"]
        self.assertEqual((current["unit"], current["instrument"]["percent"]), ("mA", "2"))
        self.assertEqual(self.state()["analysis"]["runs"][0]["columns"][0]["instrument_text"], "as the heading says ± 2 %")
        self.edit(heading("I (mA)", was="current I / mA"))
        self.assertEqual(self.state()["document"]["quantities"][0]["instrument"]["percent"], "2", "it is not unsaid by saying nothing")

    def test_headings_are_typed_one_after_the_other(self) -> None:
        self.edit(heading("time t (s)"))
        self.assertEqual(self.state()["document"]["graphs"], [])
        self.edit(heading("T / s", "q2"))
        document = self.state()["document"]
        self.assertEqual([(g["id"], g["x"], g["y"]) for g in document["graphs"]], [("g1", "q1", "q2")])
        self.assertEqual([(f["id"], f["graph"]) for f in document["fits"]], [("f1", "g1")])
        self.edit(heading("mass in kg", "q3") | {"graph": "g2", "fit": "f2"})
        self.assertEqual(self.quantities()[2], ("measured", "mass", "m", "kg"))
        self.assertEqual(len(self.state()["document"]["graphs"]), 1)

    def test_what_one_sets_by_counting_is_counted_and_what_is_measured_may_come_at_random(self) -> None:
        self.edit(heading("number of sheets n"))
        self.edit(heading("number of clicks N", "q2"))
        read_from = [q["instrument"] and q["instrument"]["kind"] for q in self.state()["document"]["quantities"]]
        self.assertEqual(read_from, ["counted", None])

    def test_a_number_of_something_with_a_unit_is_not_counted(self) -> None:
        self.edit(heading("number of drops V / mL"))
        self.assertIsNone(self.state()["document"]["quantities"][0]["instrument"])

    def test_one_undo_takes_the_first_graph_with_the_heading_that_brought_it(self) -> None:
        self.edit(heading("t / s"))
        self.edit(heading("x / m", "q2"))
        send_step(self.client_, self.book, "undo")
        document = self.state()["document"]
        self.assertEqual((len(document["quantities"]), document["graphs"], document["fits"]), (1, [], []))

    def test_a_heading_is_changed_where_it_stands_and_formulas_follow(self) -> None:
        self.edit(heading("t / s"))
        self.edit(heading("x / m", "q2"))
        self.edit({"type": "add_quantity", "quantity": "v", "kind": "derived", "name": "speed", "symbol": "v", "formula": "x/t"})
        sent = self.edit(heading("distance d (cm)", "q2", "x / m"))
        self.assertEqual(sent.status_code, 200, sent.content)
        found = {q["id"]: q for q in self.state()["document"]["quantities"]}
        self.assertEqual((found["q2"]["name"], found["q2"]["symbol"], found["q2"]["unit"]), ("distance", "d", "cm"))
        self.assertEqual(found["v"]["formula"], "d/t")
        self.assertEqual(self.edit(heading("y / m", "q2", "x / m")).json()["theirs"], "distance d / cm")

    def test_what_no_heading_says_is_refused_with_a_sentence(self) -> None:
        self.edit(heading("t / s"))
        for text, code in (
            ("4", "bad_heading"),
            ("", "bad_heading"),
            ("speed / wobbles", "bad_unit"),
            ("±t", "bad_heading"),
            ("t / s", "symbol_taken"),
        ):
            with self.subTest(text):
                sent = self.edit(heading(text, "q2"))
                self.assertEqual((sent.status_code, sent.json()["code"]), (422, code))

    def test_columns_change_places_with_the_axes(self) -> None:
        self.edit(table(["t (s)", "x / m"], [["1", "2"], ["2", "4"]]))
        second = self.state()["document"]["quantities"][1]["id"]
        self.edit({"type": "exchange_columns", "run": "run1", "quantity": second})
        document = self.state()["document"]
        self.assertEqual([(q["kind"], q["symbol"]) for q in document["quantities"]], [("changed", "x"), ("measured", "t")])
        self.assertEqual(document["graphs"][0]["x"], second)

    def test_a_pasted_table_has_repeats_and_its_own_uncertainties(self) -> None:
        self.edit(table(["L (m)", "±L", "T1 (s)", "T2 (s)"], [["0.40", "0.01", "1.20", "1.22"], ["0.50", "", "1.40", ""]]))
        document = self.state()["document"]
        self.assertEqual([(q["symbol"], q["repeats"]) for q in document["quantities"]], [("L", 1), ("T", 2)])
        first, second = (
            {q["symbol"]: [r and r["text"] for r in s["readings"].get(q["id"], [])] for q in document["quantities"]}
            for s in document["runs"][0]["settings"]
        )
        self.assertEqual(first, {"L": ["0.40 ± 0.01"], "T": ["1.20", "1.22"]})
        self.assertEqual(second, {"L": ["0.50"], "T": ["1.40"]})

    def test_columns_without_a_heading_are_called_by_letters_and_none_is_left_out(self) -> None:
        self.edit(table(["t (s)"], [["1", "2"], ["2", "4", "", "9"]]))
        self.assertEqual([q[1:] for q in self.quantities()], [("time", "t", "s"), ("x", "x", ""), ("y", "y", "")])
        settings = self.state()["document"]["runs"][0]["settings"]
        self.assertEqual(sorted(r[0]["text"] for r in settings[1]["readings"].values()), ["2", "4", "9"])

    def test_a_block_of_numbers_alone(self) -> None:
        self.edit(table([""], [["1", "2"], ["2", "4"]]))
        self.assertEqual([q[2] for q in self.quantities()], ["x", "y"])

    def test_a_block_is_not_pasted_over_what_stands_there(self) -> None:
        self.edit(heading("t / s"))
        self.assertEqual(self.edit(table(["a", "b"], [["1", "2"]])).json()["code"], "not_empty")
        self.assertEqual(len(self.quantities()), 1)

    def test_what_it_is_about_is_written_by_its_owner(self) -> None:
        same = {"question": "", "relation": ""}
        becomes = {"title": "Rolling marbles", "question": "How far?", "relation": "x = v t"}
        sent = self.edit({"type": "describe_book", "was": {"title": "Untitled lab book", **same}, "becomes": becomes})
        self.assertEqual(sent.status_code, 200, sent.content)
        self.assertEqual(self.state()["document"]["title"], "Rolling marbles")
        self.assertIn("rolling-marbles.json", self.client_.get(f"/api/books/{self.book.pk}/take-out.json")["Content-Disposition"])

    def test_the_edits_of_a_plan_stay_the_plans(self) -> None:
        for edit in (
            heading("t / s", "L", "overhang L / m"),
            table(["a"], [["1"]]),
            {"type": "exchange_columns", "run": "run1", "quantity": "t10"},
        ):
            with self.subTest(edit["type"]):
                self.assertEqual(send_edit(self.client_, self.school.book, edit).status_code, 403)

    def test_there_is_a_report_and_nothing_to_hand_in_to(self) -> None:
        self.edit(table(["t (s)", "x / m"], [["1", "2"], ["2", "4"], ["3", "6.1"]]))
        page = self.client_.get(f"/api/books/{self.book.pk}/report.html").content.decode()
        self.assertIn("Ann", page)
        self.assertNotIn("Bench", page)
        self.assertEqual(post(self.client_, f"/books/{self.book.pk}/hand-in").status_code, 404)


class SeveralTables(OwnBookTest):
    """Tables with other headings in one lab book, each with a graph and a line of its own."""

    def setUp(self) -> None:
        super().setUp()
        self.edit(table(["t (s)", "x / m"], [["1", "2.0"], ["2", "4.1"], ["3", "5.9"]]))
        self.edit({"type": "add_run", "run": "r2", "name": "Cooling", "headings": []})

    def cool(self) -> None:
        second = table(["time t (s)", "temperature (°C)"], [["0", "80"], ["60", "71"], ["120", "63"], ["180", "56"]])
        self.assertEqual(self.edit(second | {"run": "r2", "graph": "g2", "fit": "f2"}).status_code, 200)

    def headings(self) -> dict[str, list[str]]:
        document = self.state()["document"]
        symbols = {q["id"]: q["symbol"] for q in document["quantities"]}
        return {r["id"]: [symbols[key] for key in r["headings"]] for r in document["runs"]}

    def test_each_has_its_own_headings_and_shares_what_is_the_same(self) -> None:
        self.cool()
        self.assertEqual(self.headings(), {"run1": ["t", "x"], "r2": ["t", "T"]})
        self.assertEqual(len(self.quantities()), 3, "t is one quantity of both")

    def test_each_is_drawn_and_fitted_from_wherever_it_is_seen(self) -> None:
        self.cool()
        for run in ("run1", "r2"):
            analysis = self.client_.get(f"/api/books/{self.book.pk}?run={run}").json()["analysis"]
            gradients = {f["fit"]: f["gradient"]["text"] for f in analysis["fits"]}
            # by hand: (5.9 - 2.0)/2, and the sum of (t - 90)(T - 67.5) = -2400 over 18000
            self.assertIn("1.95 ± 0.0", gradients["f1"], run)
            self.assertIn("−0.133", gradients["f2"], run)
            shown = {r["run"]: [c["quantity"] for c in r["columns"]] for r in analysis["runs"]}
            self.assertEqual([len(shown["run1"]), len(shown["r2"])], [2, 2])

    def test_what_is_set_differs_between_them(self) -> None:
        second = table(["temperature (°C)", "t (s)"], [["80", "0"], ["70", "66"]])
        self.edit(second | {"run": "r2", "graph": "g2", "fit": "f2"})
        self.assertEqual(self.headings()["r2"], ["T", "t"])
        document = self.state()["document"]
        t = next(q["id"] for q in document["quantities"] if q["symbol"] == "t")
        setting = document["runs"][1]["settings"][0]["id"]
        sent = self.edit(reading("1", "0", setting, t) | {"run": "r2"})
        words = EditRecord.objects.get(book=self.book, revision=sent.json()["revision"]).words
        self.assertEqual(words, "T = 80 °C, t: 0 → 1")

    def test_taken_back_it_is_one_table_again(self) -> None:
        send_step(self.client_, self.book, "undo")
        self.assertEqual([r.get("headings") for r in self.state()["document"]["runs"]], [None])

    def test_a_bench_with_a_plan_has_no_table_of_its_own(self) -> None:
        edit = {"type": "add_run", "run": "r2", "name": "Mine", "headings": []}
        self.assertEqual(send_edit(self.client_, self.school.book, edit).status_code, 403)

    def test_the_first_column_can_be_removed_when_nothing_is_drawn_of_it(self) -> None:
        t = self.state()["document"]["quantities"][0]["id"]
        remove = {"type": "remove_quantity", "quantity": t}
        self.assertEqual(self.edit(remove).json()["code"], "in_use")
        self.edit({"type": "remove_fit", "fit": "f1"})
        self.edit({"type": "remove_graph", "graph": "g1"})
        self.assertEqual(self.edit(remove).status_code, 200)
        self.assertEqual(self.quantities(), [("changed", "x", "x", "m")])
        self.assertEqual(self.headings()["run1"], ["x"])


class Whose(OwnBookTest):
    def test_nobody_else_opens_it_until_it_is_shared(self) -> None:
        address = f"/books/{self.book.pk}"
        others = {"bo": self.bo, "teacher": self.school.teacher, "other": self.other.students[0]}
        self.assertEqual({client_of(p).get(f"/api{address}").status_code for p in others.values()}, {404})
        answer = post(self.client_, f"/own-books/{self.book.pk}/sharing", {"person": self.bo.pk, "shared": True})
        self.assertEqual([p["name"] for p in answer.json()["shared"]], ["Bo"])
        bo = client_of(self.bo)
        self.assertEqual(self.edit(heading("t / s"), bo).status_code, 200)
        self.assertEqual(self.state()["names"], ["Ann", "Bo"])
        listed = bo.get("/api/own-books").json()["books"]
        self.assertEqual([(b["id"], b["mine"], b["names"]) for b in listed], [(self.book.pk, False, ["Ann"])])
        post(self.client_, f"/own-books/{self.book.pk}/sharing", {"person": self.bo.pk, "shared": False})
        self.assertEqual(bo.get(f"/api{address}").status_code, 404)
        self.assertEqual(self.edit(heading("x / m", "q2"), bo).status_code, 404)
        self.assertEqual(len(self.quantities()), 1)

    def test_undo_takes_back_ones_own_and_not_the_others(self) -> None:
        post(self.client_, f"/own-books/{self.book.pk}/sharing", {"person": self.bo.pk, "shared": True})
        self.edit(heading("t / s"))
        self.edit(heading("x / m", "q2"), client_of(self.bo))
        self.assertEqual(send_step(self.client_, self.book, "undo").json()["code"], "built_on")

    def test_it_is_shared_with_ones_classes_alone_and_by_its_owner_alone(self) -> None:
        address = f"/own-books/{self.book.pk}/sharing"
        self.assertEqual(post(self.client_, address, {"person": self.other.students[0].pk, "shared": True}).status_code, 404)
        post(self.client_, address, {"person": self.bo.pk, "shared": True})
        bo = client_of(self.bo)
        self.assertEqual(post(bo, address, {"person": self.school.other_bench.pk, "shared": True}).status_code, 403)
        self.assertEqual(bo.delete(f"/api/own-books/{self.book.pk}").status_code, 403)
        self.assertEqual(client_of(self.school.teacher).get(f"/api{address}").status_code, 404)

    def test_an_untouched_one_is_begun_once(self) -> None:
        self.assertEqual(self.begin(self.client_), self.book)
        practised = post(self.client_, "/practise", {"rig": "iron-in-tea"}).json()["id"]
        self.assertNotEqual(practised, self.book.pk)
        self.assertEqual(self.begin(self.client_), self.book)
        self.assertNotEqual(self.begin(client_of(self.bo)), self.book)
        self.edit(heading("t / s"))
        second = self.begin(self.client_)
        self.assertNotIn(second.pk, (self.book.pk, practised))
        # one that others were let into is theirs too
        post(self.client_, f"/own-books/{second.pk}/sharing", {"person": self.bo.pk, "shared": True})
        self.assertNotEqual(self.begin(self.client_), second)

    def test_a_class_that_allows_none(self) -> None:
        SchoolClass.objects.filter(pk=self.school.school_class.pk).update(own_books=False)
        self.assertFalse(self.client_.get("/api/own-books").json()["may_begin"])
        self.assertEqual(post(self.client_, "/own-books").status_code, 403)
        self.assertEqual(self.client_.get(f"/api/books/{self.book.pk}").status_code, 200, "what there is stays")
        self.assertEqual(post(client_of(self.school.teacher), "/own-books").status_code, 200)

    def test_somebody_off_the_list_begins_none(self) -> None:
        Seat.objects.filter(person=self.ann).update(off=local_now())
        self.assertEqual(post(self.client_, "/own-books").status_code, 403)

    def test_erased_with_all_that_was_in_it(self) -> None:
        self.edit(heading("t / s"))
        left = self.client_.delete(f"/api/own-books/{self.book.pk}").json()
        self.assertEqual(left["books"], [])
        self.assertFalse(EditRecord.objects.filter(book=self.book.pk).exists())

    def test_no_book_is_half_a_benchs(self) -> None:
        for fields in ({}, {"practical": self.school.practical}, {"owner": self.ann, "practical": self.school.practical, "bench": None}):
            with self.subTest(fields), self.assertRaises(IntegrityError), transaction.atomic():
                Book.objects.create(document={}, **fields)


class Doubled(OwnBookTest):
    def test_the_same_paste_twice_is_one(self) -> None:
        key = str(uuid.uuid4())
        for _ in range(2):
            self.book.refresh_from_db()
            send_edit(self.client_, self.book, table(["t (s)", "x / m"], [["1", "2"]]), key)
        self.assertEqual(len(self.quantities()), 2)

    def test_two_first_headings_at_once_are_both_kept(self) -> None:
        post(self.client_, f"/own-books/{self.book.pk}/sharing", {"person": self.bo.pk, "shared": True})
        self.edit(heading("t / s", "qa"))
        self.edit(heading("x / m", "qb") | {"graph": "g2", "fit": "f2"}, client_of(self.bo))
        self.edit(heading("y / m", "qc") | {"graph": "g3", "fit": "f3"})
        self.assertEqual([q[0] for q in self.quantities()], ["changed", "measured", "measured"])
        self.assertEqual(len(self.state()["document"]["graphs"]), 1)


class BringingIn(OwnBookTest):
    """A file into an empty lab book: each column a new quantity, a repeat, or the ± of another."""

    FILE = b"# L (m),u(L) (m),T1 (s),T2 (s),note\n0.40,0.01,1.20,1.22,a\n0.50,0.01,1.40,1.39,b\n0.60,0.01,1.55,1.56,c\n"

    def look(self, content: bytes = FILE) -> Any:
        form = {"file": SimpleUploadedFile("swing.csv", content)}
        return self.client_.post(f"/api/books/{self.book.pk}/bring-in/look", form).json()["sheets"][0]["columns"]

    def bring(self, columns: list[dict[str, Any]], content: bytes = FILE, **more: Any) -> Any:
        choices = {"client_id": str(uuid.uuid4()), "columns": columns, "into": "replace", "run": "run1", **more}
        form = {"file": SimpleUploadedFile("swing.csv", content), "choices": json.dumps(choices)}
        return self.client_.post(f"/api/books/{self.book.pk}/bring-in", form)

    def suggested(self) -> list[dict[str, Any]]:
        return [{"index": c["index"], "unit": c["unit"], **c["target"]} for c in self.look() if c["target"]]

    def test_what_the_headings_say_is_suggested_and_brought_in(self) -> None:
        targets = [c["target"] for c in self.look()]
        self.assertEqual(targets[0], {"quantity": "new:0", "repeat": 0, "is_u": False})
        self.assertEqual(targets[1], {"quantity": "new:0", "repeat": 0, "is_u": True})
        self.assertEqual([t["repeat"] for t in targets[2:4]], [0, 1])
        self.assertIsNone(targets[4], "words are no readings")
        self.assertEqual(self.bring(self.suggested()).status_code, 200)
        document = self.state()["document"]
        self.assertEqual([(q["kind"], q["name"], q["unit"], q["repeats"]) for q in document["quantities"]],
                         [("changed", "length", "m", 1), ("measured", "period", "s", 2)])  # fmt: skip
        first = document["runs"][0]["settings"][0]["readings"]
        texts = [[r["text"] for r in first[q["id"]]] for q in document["quantities"]]
        self.assertEqual(texts, [["0.40 ± 0.01"], ["1.20", "1.22"]])
        self.assertEqual((len(document["graphs"]), len(document["fits"])), (1, 1))
        send_step(self.client_, self.book, "undo")
        self.assertEqual(self.quantities(), [])

    def test_a_second_file_goes_to_the_quantities_that_are_there(self) -> None:
        self.bring(self.suggested())
        again = self.bring(self.suggested(), into="new", name="Second day")
        self.assertEqual(again.status_code, 200)
        document = self.state()["document"]
        self.assertEqual((len(document["quantities"]), len(document["runs"])), (2, 2))

    def test_as_what_a_logger_wrote(self) -> None:
        logged = [c for c in self.suggested() if c["index"] in (0, 2)]
        self.assertEqual(self.bring(logged, logged=True).status_code, 200)
        self.assertEqual(self.state()["document"]["runs"][0]["log"]["rows"], 3)
        self.assertEqual(self.bring(self.suggested(), logged=True).json()["code"], "own_u")

    def test_a_bench_whose_plan_names_the_quantities_adds_none(self) -> None:
        document = self.school.book.document
        document["freedoms"] = {**document["freedoms"], "own_quantities": False}
        Book.objects.filter(pk=self.school.book.pk).update(document=document)
        self.book = self.school.book
        answer = self.bring([{"index": 2, "quantity": "new:2"}], into="new", name="x")
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "given"))

    def test_a_column_without_a_heading_or_far_away_makes_nothing(self) -> None:
        for quantity in ("new:9", "new:", "new:-1", "new:x"):
            with self.subTest(quantity):
                self.assertEqual(self.bring([{"index": 0, "quantity": quantity}]).json()["code"], "bad_heading")
