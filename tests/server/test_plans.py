"""Plans: written like lab books, given out as versions, shown bit by bit, amended while they run."""

from __future__ import annotations

import json
import re
from dataclasses import replace
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from hobrel.classes.queries import local_now
from hobrel.core.document.lab_book import read_lab_book, write_lab_book
from hobrel.core.document.plan_part import PlanPart
from hobrel.core.document.plans import open_for_bench
from hobrel.labbooks.actions import load_document, open_book
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.plan_books import give_out, write_plan
from hobrel.plans.models import PlanVersion, Practical
from hobrel.shelf.clamped_strip import write_draft
from hobrel.shelf.plans import SHELF
from tests.school import add_setting, client_of, fill, make_school, reading, send_edit, send_step
from tests.server.test_own_books import post


class Plans(TestCase):
    """A teacher's plan of the strip, as it is changed by edits, and the lab book of a bench that gets it."""

    def setUp(self) -> None:
        self.school, self.other = make_school(), make_school("two", "CODE22")
        self.teacher, self.student = client_of(self.school.teacher), client_of(self.school.students[0])
        self.plan = write_plan(self.school.teacher, write_draft())

    def write(self, **becomes: Any) -> None:
        """Write something anew of the plan."""
        book = Book.objects.get(plan=self.plan)
        part = write_lab_book(read_lab_book(book.document))["plan"]
        was = {name: part[name] for name in becomes}
        self.assertEqual(self.edit({"type": "write_plan", "was": was, "becomes": becomes}), 200)

    def edit(self, edit: dict[str, Any]) -> int:
        return send_edit(self.teacher, Book.objects.get(plan=self.plan), edit).status_code

    def give(self) -> Practical:
        return give_out(self.plan, self.school.school_class, local_now().date())

    def book_of(self, practical: Practical, bench: int = 0) -> Book:
        return open_book(practical, (self.school.book, self.school.other_book)[bench].bench)

    def seen(self, book: Book) -> dict[str, Any]:
        state: dict[str, Any] = self.student.get(f"/api/books/{book.pk}").json()
        return state


class TheClassesWord(Plans):
    def test_slope_in_what_benches_are_told_and_in_their_report(self) -> None:
        edit = {"type": "choose_convention", "was": {"slope_word": "gradient"}, "becomes": {"slope_word": "slope"}}
        self.assertEqual(self.edit(edit), 200)
        book = self.book_of(self.give())
        convention = book.document["convention"]
        self.assertEqual(convention["slope_word"], "slope")
        fill(book)
        load_document(book, {**book.document, "convention": convention})
        seen = self.seen(book)
        self.assertIn("slope", json.dumps(seen["analysis"]["findings"]))
        working = self.student.get(f"/api/books/{book.pk}/working?of=finding:E").json()
        self.assertIn("slope", json.dumps(working))
        report = self.student.get(f"/api/books/{book.pk}/report.html").content.decode()
        self.assertIn("Slope:", report)
        self.assertNotIn("radient", report)


class GivenFindings(Plans):
    def test_where_in_its_own_readings_it_is_taken_is_the_bench_s_to_say_and_nothing_else(self) -> None:
        stretch = {"symbol": "y_1", "kind": "mean", "of": "t10", "part": "", "at": "", "low": 0.3, "high": 0.5, "run": "", "repeats": 1}
        content = {
            "name": "level",
            "symbol": "l",
            "unit": "s",
            "formula": "y_1",
            "fit": "",
            "accepted": None,
            "uses": [stretch],
            "compare": [],
        }
        self.assertEqual(self.edit({"type": "add_finding", "finding": "lev", "content": content}), 200)
        book = self.book_of(self.give())

        def change(**part: Any) -> int:
            becomes = {"uses": [{**stretch, **part}]}
            edit = {"type": "change_finding", "finding": "lev", "was": {"uses": [stretch]}, "becomes": becomes}
            return send_edit(self.student, book, edit).status_code

        self.assertEqual([change(of="L"), change(symbol="z"), change(kind="area", of="straight"), change(run="run1")], [403] * 4)
        self.assertEqual(change(low=0.4, high=None), 200)
        self.assertEqual(self.seen(book)["document"]["findings"][-1]["uses"][0]["low"], 0.4)


class Versions(Plans):
    def test_the_same_plan_given_out_twice_is_one_version_and_a_change_makes_another(self) -> None:
        first, second = self.give(), self.give()
        self.assertEqual((first.version, first.version.number), (second.version, 1))
        self.write(prompts={"read": "Look closely."})
        third = self.give()
        self.assertEqual((third.version.number, PlanVersion.objects.filter(plan=self.plan).count()), (2, 2))
        self.assertEqual(self.seen(self.book_of(third))["document"]["plan"]["prompts"], {"read": "Look closely."})
        self.assertIn("average", self.seen(self.book_of(first))["document"]["plan"]["prompts"])

    def test_a_bench_gets_no_trial_no_note_and_no_truth_and_what_is_left_open_is_empty(self) -> None:
        book = Book.objects.get(plan=self.plan)
        for edit in (add_setting(), reading("0.30", quantity="L")):
            self.edit(edit)
        self.write(notes="The glue needs an hour.", dry={"truths": {"E": "12.6 GPa"}})
        practical = self.give()
        got = self.book_of(practical)
        document = read_lab_book(got.document)
        self.assertEqual(
            (document.plan.notes, document.plan.dry.truths, document.plan.draft, document.runs[0].settings), ("", {}, False, ())
        )
        self.assertNotIn("glue", json.dumps(self.seen(got)))
        self.assertNotIn("12.6", json.dumps(self.seen(got)))
        self.assertEqual({q.id: (q.given, bool(q.formula)) for q in document.quantities if q.kind == "derived"}, {
            "T": (False, False), "T2": (True, True), "L3": (True, True),
        })  # fmt: skip
        book.refresh_from_db()
        self.assertEqual(len(book.document["runs"][0]["settings"]), 1, "the teacher’s own trial stays in the plan")

    def test_what_is_in_a_plan_is_not_for_a_bench_to_write_nor_for_another_teacher_to_see(self) -> None:
        book = self.book_of(self.give())
        refused = send_edit(self.student, book, {"type": "write_plan", "was": {"notes": ""}, "becomes": {"notes": "x"}})
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "given"))
        refused = send_edit(self.student, book, {"type": "choose_convention", "was": {"spread": "half_range"}, "becomes": {"spread": "sd"}})
        self.assertEqual(refused.json()["code"], "given")
        plan = Book.objects.get(plan=self.plan)
        for somebody in (self.student, client_of(self.other.teacher)):
            self.assertEqual(somebody.get(f"/api/books/{plan.pk}").status_code, 404)
        self.assertNotIn(plan.pk, [b["id"] for b in self.teacher.get("/api/own-books").json()["books"]])
        self.assertEqual([p["title"] for p in client_of(self.other.teacher).get("/api/plans").json()], ["The clamped strip"])

    def test_a_colleague_is_let_in_and_a_student_is_not(self) -> None:
        plan = Book.objects.get(plan=self.plan)
        others = self.teacher.get(f"/api/own-books/{plan.pk}/sharing").json()["others"]
        self.assertEqual([p["id"] for p in others], [self.other.teacher.pk])
        body = {"person": self.school.students[0].pk, "shared": True}
        self.assertEqual(post(self.teacher, f"/own-books/{plan.pk}/sharing", body).status_code, 404)
        post(self.teacher, f"/own-books/{plan.pk}/sharing", {"person": self.other.teacher.pk, "shared": True})
        colleague = client_of(self.other.teacher)
        self.assertEqual(colleague.get(f"/api/plans/{self.plan.pk}/notes").status_code, 200)
        self.assertEqual(
            send_edit(
                colleague, plan, {"type": "describe_book", "was": {"title": plan.document["title"]}, "becomes": {"title": "T"}}
            ).status_code,
            200,
        )

    def test_a_plan_is_erased_and_what_was_given_out_goes_on(self) -> None:
        practical = self.give()
        book = self.book_of(practical)
        self.teacher.delete(f"/api/own-books/{Book.objects.get(plan=self.plan).pk}")
        practical.refresh_from_db()
        self.assertIsNone(practical.version.plan)
        self.assertEqual(send_edit(self.student, book, add_setting()).status_code, 200)
        self.assertEqual(self.teacher.get(f"/api/practicals/{practical.pk}/amendment").json()["code"], "no_plan")
        self.teacher.delete(f"/api/practicals/{practical.pk}")

    def test_readings_that_are_given_are_set_aside_and_never_changed(self) -> None:
        for edit in (add_setting(), reading("0.300", quantity="L"), reading("3.52"), reading("3.61", repeat=1)):
            self.edit(edit)
        self.write(given_runs=["run1"])
        book = self.book_of(self.give())
        self.assertEqual(len(book.document["runs"][0]["settings"]), 1)
        aside = {"type": "set_aside", "run": "run1", "setting": "a", "quantity": "t10", "repeat": 1, "reason": "late"}
        self.assertEqual(send_edit(self.student, book, aside).status_code, 200)
        for edit in (reading("9", was="3.52"), {"type": "remove_setting", "run": "run1", "setting": "a"}, add_setting("b")):
            book.refresh_from_db()
            self.assertEqual(send_edit(self.student, book, edit).json()["code"], "given", edit)
        book.refresh_from_db()
        self.assertEqual(send_edit(self.student, book, {"type": "add_run", "run": "own", "name": "Ours"}).status_code, 200)

    def test_each_bench_writes_its_own_value_where_the_plan_says_so(self) -> None:
        self.write(own_values=["m"])
        book = self.book_of(self.give())
        self.assertEqual(next(q for q in book.document["quantities"] if q["id"] == "m")["value"], "")
        part = {"value": "", "u": ""}, {"value": "0.312", "u": "0.002"}
        own = {"type": "change_quantity", "quantity": "m", "was": part[0], "becomes": part[1]}
        self.assertEqual(send_edit(self.student, book, own).status_code, 200)
        book.refresh_from_db()
        self.assertEqual(
            send_edit(self.student, book, own | {"quantity": "b", "was": {"value": "30.0", "u": "0.1"}}).json()["code"], "given"
        )


class ShownLater(Plans):
    """What is shown later is nowhere before: not in the document, not in what follows from it, not in the history."""

    def start(self, **part: Any) -> Book:
        self.write(**part)
        return self.book_of(self.give())

    def test_the_relation_comes_with_the_expectation_and_goes_with_it(self) -> None:
        book = self.start(relation_shown="after_expectation")
        self.assertNotIn("sqrt", json.dumps(self.seen(book)))
        expectation = {"type": "write_text", "section": "expectation", "text": "Longer is slower.", "was": ""}
        self.assertEqual(send_edit(self.student, book, expectation).status_code, 200)
        state = self.seen(book)
        self.assertEqual((state["document"]["relation"], state["document"]["plan"]["withheld"]), ("T = 2 pi sqrt(4 m L^3/(E b d^3))", []))
        book.refresh_from_db()
        send_edit(self.student, book, expectation | {"text": "", "was": "Longer is slower."})
        self.assertTrue(self.seen(book)["document"]["relation"], "it has been seen")
        for _ in range(2):
            send_step(self.student, book, "undo")
        self.assertEqual(self.seen(book)["document"]["relation"], "")
        send_step(self.student, book, "redo")
        self.assertTrue(self.seen(book)["document"]["relation"])

    def test_the_accepted_value_comes_when_the_bench_has_stated_its_own(self) -> None:
        book = self.start(accepted_shown="after_own")
        self.assertNotIn("bending test", json.dumps(self.seen(book)))
        stated = {"type": "write_rounding", "finding": "E", "text": "12.1 ± 0.4 GPa", "was": ""}
        send_edit(self.student, book, stated)
        finding = self.seen(book)["document"]["findings"][0]
        self.assertEqual((finding["accepted"]["value"], finding["rounded"]), ("12.4", "12.1 ± 0.4 GPa"))

    def test_what_is_for_the_teacher_is_never_shown_to_a_bench_also_not_in_the_pool(self) -> None:
        book = self.start(accepted_shown="teacher", relation_shown="never")
        for edit in (
            {"type": "write_rounding", "finding": "E", "text": "12.1 ± 0.4 GPa", "was": ""},
            {"type": "write_text", "section": "expectation", "text": "x", "was": ""},
        ):
            send_edit(self.student, book, edit)
            book.refresh_from_db()
        self.assertEqual((book.document["findings"][0]["accepted"], book.document["relation"]), (None, ""))
        post(self.teacher, f"/practicals/{book.practical_id}/pool", {"open": True})
        self.assertNotIn("12.4", json.dumps(self.student.get(f"/api/practicals/{book.practical_id}/pool").json()))


class Nowhere(Plans):
    def test_what_is_withheld_is_in_no_answer_file_or_history(self) -> None:
        secrets = ("bending test", "12.4", "sqrt(4 m")
        self.write(
            relation_shown="after_expectation", accepted_shown="after_own", notes="bending test 12.4", dry={"truths": {"E": "12.4 GPa"}}
        )
        practical = self.give()
        book = self.book_of(practical)
        fill(book)
        document = read_lab_book(book.document)
        hidden = open_for_bench(read_lab_book(practical.version.document))
        load_document(book, write_lab_book(replace(hidden, runs=document.runs, quantities=document.quantities)))
        send_edit(self.student, book, add_setting("more"))
        post(self.student, f"/books/{book.pk}/hand-in")
        post(self.teacher, f"/practicals/{practical.pk}/pool", {"open": True})
        handed = self.student.get(f"/api/books/{book.pk}").json()["hand_ins"][0]["id"]
        paths = (
            *("", "/view", "/beside", "/history", "/at/0", "/at/1", "/working?of=finding:E", "/board?x=L&y=T", "/improvements?finding=E"),
            *(
                "/take-out.json",
                "/take-out.csv",
                "/report.html",
                "/conventions?quantity=t10",
                "/ways?quantity=T2",
                "/across-runs?finding=E",
            ),
            *("/board/plot?x=L&y=T&x_form=v^3&y_form=v^2", "/graphs/straight.svg", "/gradients?graph=straight"),
        )
        addresses = [f"/api/books/{book.pk}{path}" for path in paths]
        addresses += [f"/api/practicals/{practical.pk}/pool", "/api/classes", f"/api/hand-ins/{handed}/report.html"]
        for address in addresses:
            answer = self.student.get(address)
            self.assertEqual(answer.status_code, 200, address)
            # where something is drawn and when something was done is no secret, whatever number that may be
            content = re.sub(r'="[-\d., ]*"|\d{4}-\d\d-\d\dT[\d:.]+Z?', '=""', answer.content.decode())
            for secret in secrets:
                self.assertNotIn(secret, content, address)
        preview = post(self.student, f"/books/{book.pk}/finding-preview", {"name": "w", "symbol": "w", "formula": "m/b"})
        self.assertNotIn("12.4", preview.content.decode())


class Amending(Plans):
    def setUp(self) -> None:
        super().setUp()
        self.practical = self.give()
        self.first, self.second = self.book_of(self.practical), self.book_of(self.practical, 1)
        self.path = f"/practicals/{self.practical.pk}/amendment"

    def change(self, kind: str, key: str, of: str, was: dict[str, Any], becomes: dict[str, Any]) -> None:
        self.assertEqual(self.edit({"type": kind, of: key, "was": was, "becomes": becomes}), 200)

    def better_mass(self) -> None:
        self.change("change_quantity", "m", "quantity", {"value": "0.300"}, {"value": "0.305"})

    def mass_in(self, book: Book) -> str:
        book.refresh_from_db()
        return str(next(q for q in book.document["quantities"] if q["id"] == "m")["value"])

    def fates(self, answer: Any) -> dict[str, str]:
        return {b["bench"]: b["fate"] for b in answer.json()["books"]}

    def test_a_constant_a_prompt_and_an_accepted_value_are_put_right_in_every_lab_book_once(self) -> None:
        send_edit(self.student, self.first, add_setting())
        self.better_mass()
        self.write(prompts={"read": "Measure twice."})
        accepted = {"value": "12.4", "u": "0.3", "source": "bending test in the Tidewater workshop"}
        self.change("change_finding", "E", "finding", {"accepted": accepted}, {"accepted": accepted | {"value": "12.5"}})
        look = self.teacher.get(f"/api{self.path}")
        self.assertEqual(self.fates(look), {"Godwit": "takes", "Redshank": "takes"})
        self.assertTrue(any("0.300 → 0.305" in change for change in look.json()["changes"]), look.json()["changes"])
        self.assertEqual(self.mass_in(self.first), "0.300", "looking changes nothing")
        for _ in range(2):
            post(self.teacher, self.path, {})
        self.assertEqual([self.mass_in(book) for book in (self.first, self.second)], ["0.305", "0.305"])
        self.assertEqual(self.first.document["findings"][0]["accepted"]["value"], "12.5")
        self.assertEqual(self.first.document["plan"]["prompts"], {"read": "Measure twice."})
        self.assertEqual(len(self.first.document["runs"][0]["settings"]), 1, "what the bench wrote stays")
        records = EditRecord.objects.filter(book=self.first, author=self.school.teacher)
        self.assertEqual([r.words for r in records], ["amended, as the plan has been"])
        self.practical.refresh_from_db()
        self.assertEqual(self.practical.version.number, 2)

    def test_taken_back_in_one_step_but_for_what_has_been_built_on(self) -> None:
        graph = {"type": "add_graph", "graph": "extra", "x": "L", "y": "T2"}
        self.assertEqual(self.edit(graph), 200)
        post(self.teacher, self.path, {})
        self.second.refresh_from_db()
        place = {"type": "place_graph", "graph": "extra", "was": {"origin": False}, "becomes": {"origin": True}}
        self.assertEqual(send_edit(client_of(self.school.other_bench), self.second, place).status_code, 200)
        self.assertEqual(post(self.teacher, f"{self.path}/back").json(), {"benches": ["Redshank"]})
        graphs = []
        for book in (self.first, self.second):
            book.refresh_from_db()
            graphs.append([g["id"] for g in book.document["graphs"]])
        self.assertEqual(graphs, [["measured", "straight"], ["measured", "straight", "extra"]])
        self.practical.refresh_from_db()
        self.assertEqual(self.practical.version.number, 1)
        self.assertEqual(post(self.teacher, f"{self.path}/back").json()["code"], "nothing_to_undo")

    def test_where_a_bench_has_written_in_the_same_place_its_own_stays(self) -> None:
        self.write(own_values=["m"])
        practical = self.give()
        books = [self.book_of(practical, i) for i in (0, 1)]
        own = {"type": "change_quantity", "quantity": "m", "was": {"value": ""}, "becomes": {"value": "0.299"}}
        self.assertEqual(send_edit(self.student, books[0], own).status_code, 200)
        self.write(own_values=[])
        answer = post(self.teacher, f"/practicals/{practical.pk}/amendment", {})
        self.assertEqual(self.fates(answer), {"Godwit": "stands", "Redshank": "takes"})
        self.assertEqual([self.mass_in(book) for book in books], ["0.299", "0.300"])

    def test_where_a_formula_of_the_bench_would_break_it_is_named_and_left_out_unless_said_otherwise(self) -> None:
        mine = {"type": "add_quantity", "quantity": "w", "kind": "derived", "name": "weight", "symbol": "W", "formula": "m 9.81 N/kg"}
        self.assertEqual(send_edit(self.student, self.first, mine | {"formula": "m + m"}).status_code, 200)
        self.change("change_quantity", "m", "quantity", {"symbol": "m"}, {"symbol": "m_l"})
        look = self.teacher.get(f"/api{self.path}").json()
        fates = {b["bench"]: (b["fate"], b["words"]) for b in look["books"]}
        self.assertEqual(fates["Redshank"][0], "takes")
        self.assertEqual(fates["Godwit"][0], "breaks")
        self.assertIn("W", fates["Godwit"][1])
        post(self.teacher, self.path, {"anyway": []})
        self.first.refresh_from_db()
        self.assertEqual(next(q for q in self.first.document["quantities"] if q["id"] == "m")["symbol"], "m")

    def test_nothing_to_amend_and_another_teachers_practical(self) -> None:
        self.assertEqual(post(self.teacher, self.path, {}).json()["code"], "no_change")
        self.assertEqual(post(client_of(self.other.teacher), self.path, {}).status_code, 404)
        self.assertEqual(self.student.get(f"/api{self.path}").status_code, 404)

    def test_what_a_bench_has_earned_stays_shown(self) -> None:
        self.write(relation_shown="after_expectation")
        practical = self.give()
        book = self.book_of(practical)
        send_edit(self.student, book, {"type": "write_text", "section": "expectation", "text": "Slower.", "was": ""})
        self.better_mass()
        self.assertEqual(self.fates(post(self.teacher, f"/practicals/{practical.pk}/amendment", {}))["Godwit"], "takes")
        book.refresh_from_db()
        self.assertTrue(book.document["relation"])
        self.assertEqual(book.document["plan"]["withheld"], [])


class FromABench(Plans):
    def test_a_benchs_lab_book_is_the_pattern_of_a_plan(self) -> None:
        book = self.book_of(self.give())
        document = read_lab_book(book.document)
        load_document(book, write_lab_book(replace(document, plan=PlanPart(prompts={"read": "Read."}))))
        made = post(self.teacher, "/plans", {"book": book.pk}).json()["id"]
        plan = read_lab_book(Book.objects.get(pk=made).document)
        self.assertEqual((plan.plan.draft, plan.plan.left_open, dict(plan.plan.prompts)), (True, ("T",), {"read": "Read."}))
        self.assertEqual({q.given for q in plan.quantities}, {False})
        self.assertEqual(post(self.student, "/plans", {"book": book.pk}).status_code, 404)
        self.assertEqual(post(client_of(self.other.teacher), "/plans", {"book": book.pk}).status_code, 404)


class Shelf(Plans):
    def test_every_plan_of_the_shelf_is_taken_given_out_and_demonstrated(self) -> None:
        shelf = self.teacher.get("/api/shelf").json()
        self.assertEqual(len(shelf), len(SHELF))
        self.assertEqual({p["subject"] for p in shelf}, {"physics", "chemistry", "biology"})
        made = post(self.teacher, "/plans", {"shelf": "singing-bottle"}).json()["id"]
        plan = Book.objects.get(pk=made).plan
        assert plan is not None
        practical = give_out(plan, self.school.school_class, local_now().date())
        document = self.book_of(practical).document
        self.assertEqual(
            (document["title"], document["relation"], document["plan"]["withheld"]), ("The singing bottle", "", ["relation", "accepted:c"])
        )
        shown = Book.objects.get(pk=post(self.teacher, f"/plans/{plan.pk}/demonstration").json()["id"])
        self.assertEqual((shown.owner, shown.practical, shown.plan), (self.school.teacher, None, None))
        finding = self.teacher.get(f"/api/books/{shown.pk}").json()["analysis"]["findings"][0]["value"]
        # another truth: a quarter more than the speed of sound
        self.assertAlmostEqual(finding["value"] / (343.2 * 1.25), 1.0, delta=0.05)
        self.assertEqual(post(self.teacher, "/plans", {"shelf": "nothing"}).status_code, 404)

    def test_a_plan_goes_out_as_a_file_and_comes_in_without_loss(self) -> None:
        self.write(notes="For us.", conditions=[{"id": "c", "name": "Warm", "words": "", "trials": 2}])
        plan = Book.objects.get(plan=self.plan)
        content = self.teacher.get(f"/api/books/{plan.pk}/take-out.json").content
        file = SimpleUploadedFile("plan.json", content)
        made = Book.objects.get(pk=self.teacher.post("/api/plans/file", {"file": file}).json()["id"])
        self.assertEqual(read_lab_book(made.document), read_lab_book(plan.document))
        self.assertNotEqual(made.plan, plan.plan)
        for bad in (b"{", b"[]", b'{"title": 3}', b'{"title": "\\u0000"}', b"[" * 100_000, b"\xff\xfe"):
            answer = self.teacher.post("/api/plans/file", {"file": SimpleUploadedFile("plan.json", bad)})
            self.assertEqual(answer.status_code, 422, bad[:20])
