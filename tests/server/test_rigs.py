"""Rigs over HTTP: who is told the truth, what a class shares, and requests that nobody's page makes."""

from __future__ import annotations

import datetime
import io
import json
import uuid
import zipfile
from dataclasses import replace
from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from hobrel.classes.models import Person
from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import MOST_ACTS, Act, watch
from hobrel.core.apparatus.rigs import RIGS
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.presentation.analysis import analyse
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import Book, KeptLog, ScaleRead
from hobrel.labbooks.rig_api import ActIn
from hobrel.labbooks.rigs import seeds_of
from hobrel.school.giving_out import plan_from_shelf, start_practical
from tests.school import client_of, make_school


class RigTest(TestCase):
    shelf = "salt-in-rock-pools"

    def setUp(self) -> None:
        self.school = make_school()
        self.plan = plan_from_shelf(self.school.teacher, self.shelf)
        practical = start_practical(self.plan, self.school.school_class, datetime.date.today())
        self.book, self.other = (open_book(practical, b) for b in (self.school.book.bench, self.school.other_book.bench))

    def ask(self, person: Person, book: Book, path: str = "rig", **body: Any) -> HttpResponse:
        sent = json.dumps({"hand": "h1", "start": 0} | body)
        answer: HttpResponse = client_of(person).post(f"/api/books/{book.pk}/{path}", sent, content_type="application/json")
        return answer


class Rigs(RigTest):
    def test_the_truth_is_the_teacher_s_alone(self) -> None:
        student, teacher = (self.ask(p, self.book) for p in (self.school.students[0], self.school.teacher))
        self.assertEqual((student.status_code, student.json()["truth"]), (200, []))
        told = {line["name"]: line["text"] for line in teacher.json()["truth"]}
        self.assertRegex(told["salt of the upper pool"], r"^\d\d\.\d\d g/L$")
        self.assertNotIn(told["salt of the upper pool"].split()[0].encode(), student.content)

    def test_benches_of_a_class_share_a_seed_and_have_their_own(self) -> None:
        one, two, plan = seeds_of(self.book), seeds_of(self.other), seeds_of(self.plan.book)
        self.assertEqual(one.shared, two.shared)
        self.assertEqual(len({one.own, two.own, one.shared, plan.shared, plan.own}), 5)
        with self.settings(SECRET_KEY="another"):
            self.assertNotEqual(seeds_of(self.book), one)

    def test_whatever_a_rig_offers_can_be_sent(self) -> None:
        for key, rig in RIGS.items():
            acts: list[Act] = []
            truth = rig.draw_truth(Chance("a"), Chance("b"), ())
            for _ in range(3):
                for control in watch(rig, truth, acts, Chance("c"), start=float(len(acts)), steps=1).controls:
                    acts.append(Act(control.act, control.value, float(len(acts))))
                    with self.subTest(key, act=control.act, value=control.value):
                        ActIn(kind=control.act, value=control.value, at=0)

    def test_what_nobody_s_page_sends_is_refused(self) -> None:
        act = {"kind": "rinse", "value": "", "at": 0}
        for body in (
            {"start": -1},
            {"start": 1e9},
            {"start": "soon"},
            {"hand": "x" * 41},
            {"hand": "<b>"},
            {"acts": [act] * (2 * MOST_ACTS + 1)},
            {"acts": [act | {"kind": "fly"}]},
            {"acts": [act | {"at": -2}]},
            {"acts": [act | {"value": "upper"}]},
            {"acts": [act | {"more": 1}]},
            {"acts": [act | {"at": 5}, act], "start": 9},
        ):
            with self.subTest(body=str(body)[:60]):
                self.assertEqual(self.ask(self.school.students[0], self.book, **body).status_code, 422)
        self.assertEqual(self.ask(self.school.students[0], self.book, acts=[act] * MOST_ACTS).status_code, 200)
        for body, words in (
            ({"acts": [act] * (MOST_ACTS + 1)}, "So much has been done here that the bench has to be cleared: at most 400 acts."),
            ({"start": 90_000}, "A rig stands for a day at the most; clear the bench."),
        ):
            self.assertEqual(self.ask(self.school.students[0], self.book, **body).json()["detail"], words)
        # a practical without a rig says so
        self.assertEqual(self.ask(self.school.students[0], self.school.book).json()["detail"], "There is no rig here.")


class Records(RigTest):
    shelf = "ring-on-a-turntable"
    acts = [
        {"kind": "push", "value": "firm", "at": 1},
        {"kind": "record", "value": "100", "at": 2},
        {"kind": "drop", "value": "", "at": 3},
        {"kind": "stop", "value": "", "at": 5},
    ]

    def keep(self, run: str = "run1", person: int = 0, **body: Any) -> HttpResponse:
        sent = {"acts": self.acts, "start": 6, "run": run, "client_id": str(uuid.uuid4())} | body
        return self.ask(self.school.students[person], self.book, "rig/record", **sent)

    def runs(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = Book.objects.get(pk=self.book.pk).document["runs"]
        return found

    def test_a_record_is_kept_once_and_the_next_is_a_run_of_its_own(self) -> None:
        self.assertEqual(self.keep().json(), {"run": "run1", "rows": 301})
        (run,) = self.runs()
        self.assertEqual((run["log"]["rows"], run["log"]["units"], run["settings"]), (301, {"t": "s", "a": "rad"}, []))
        columns = KeptLog.objects.get(book=self.book).columns
        self.assertEqual((columns["t"][0], columns["t"][100], columns["t"][-1]), ("-1.000", "0.000", "2.000"))
        # what was lost on its way is sent again, also by another request
        self.assertEqual(self.keep().json(), {"run": "run1", "rows": 301})
        self.assertEqual(len(self.runs()), 1)
        # somebody else at the bench, or another drop, is another record
        other = self.keep(person=1, hand="h2").json()
        self.assertNotEqual(other["run"], "run1")
        self.assertEqual([r["name"] for r in self.runs()], ["First drop", "Record 2"])
        self.assertEqual(self.ask(self.school.students[0], self.book, "undo", client_id=str(uuid.uuid4())).status_code, 200)
        self.assertIsNone(self.runs()[0]["log"])

    def test_the_same_analysis_is_made_of_the_next_record(self) -> None:
        self.keep()
        again = [{**act, "at": act["at"] + 10} for act in self.acts]
        second = self.keep(acts=[*self.acts, {"kind": "lift", "value": "", "at": 7}, *again], start=20).json()["run"]
        document = read_lab_book(Book.objects.get(pk=self.book.pk).document)
        whole = replace(
            document,
            fits=tuple(replace(f, low=-1.0 if f.id == "before" else 0.06, high=0.0 if f.id == "before" else 1.0) for f in document.fits),
            runs=tuple(replace(r, log=replace(r.log, columns=self.columns(r.log.kept))) for r in document.runs if r.log),
        )
        kept = [next(f for f in analyse(whole.seen_from(run)).findings if f.finding == "kept").value for run in ("run1", second)]
        assert kept[0] is not None and kept[1] is not None
        # two drops on one table, each somewhat beside the axle
        self.assertNotEqual(kept[0].value, kept[1].value)
        self.assertAlmostEqual(kept[0].value / kept[1].value, 1, delta=0.03)

    def columns(self, key: str) -> dict[str, tuple[str, ...]]:
        return {q: tuple(texts) for q, texts in KeptLog.objects.get(book=self.book, key=key).columns.items()}

    def test_what_cannot_be_kept_is_said(self) -> None:
        self.assertEqual(self.keep(acts=self.acts[:2], start=2).json()["detail"], "Nothing has been recorded to its end yet.")
        self.assertEqual(self.keep(acts=[]).json()["code"], "nothing")
        self.assertEqual(self.keep(run="no-such").status_code, 409)
        Book.objects.filter(pk=self.book.pk).update(
            document=self.book.document | {"plan": self.book.document["plan"] | {"rig": {"key": "ring-on-turntable"}}}, stamp="other"
        )
        self.assertEqual(self.keep().json()["detail"], "The plan does not say yet which quantities are logged.")
        self.assertEqual(len(self.runs()), 1)


class Scales(RigTest):
    shelf = "winged-seed"

    def read(self, text: str, person: int = 0, **body: Any) -> HttpResponse:
        return self.ask(self.school.students[person], self.book, "rig/reading", **({"face": "ruler", "text": text} | body))

    def readers(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = client_of(self.school.teacher).get(f"/api/my-classes/{self.school.school_class.pk}/scales").json()
        return found

    def test_a_class_sees_who_reads_to_the_mark_only(self) -> None:
        self.assertEqual(self.readers(), [])
        for tenth in range(5):
            self.assertEqual(self.read("70").status_code, 204)
            self.assertEqual(self.read(f"70.{2 * tenth + 1}", person=1).status_code, 204)
        told = {r["name"]: (r["habit"]["count"], r["habit"]["at_marks"], r["habit"]["habit"]) for r in self.readers()}
        self.assertEqual(told, {"Ann": (5, 5, "to_the_mark"), "Bo": (5, 0, "between_marks")})
        # only the last hundred count, and they go with whoever read them
        ScaleRead.objects.bulk_create(ScaleRead(book=self.book, person=self.school.students[1], off=0, at_mark=False) for _ in range(130))
        self.read("70.5", person=1)
        self.assertEqual(ScaleRead.objects.filter(person=self.school.students[1]).count(), 100)
        self.school.students[1].delete()
        self.assertEqual([r["name"] for r in self.readers()], ["Ann"])

    def test_what_is_kept_of_how_somebody_reads_is_taken_out_with_the_rest(self) -> None:
        self.read("70")
        self.read("70.5", person=1)
        seat = self.school.school_class.seats.get(person=self.school.students[0])
        for path, names in (
            (f"my-classes/{self.school.school_class.pk}/export.zip", {"Ann", "Bo"}), (f"seats/{seat.pk}/export.zip", {"Ann"}),
        ):  # fmt: skip
            answer = client_of(self.school.teacher).get(f"/api/{path}")
            with zipfile.ZipFile(io.BytesIO(answer.content)) as packed:
                (told,) = [packed.read(name).decode() for name in packed.namelist() if name.endswith("-scales.csv")]
            lines = told.splitlines()[1:]
            self.assertEqual({line.split(",")[0] for line in lines}, names)
            self.assertRegex(lines[0], r"^Ann,-?\d\.\d\d,a mark$")

    def test_what_is_no_reading_of_a_scale_is_refused(self) -> None:
        for text, body in (("high", {}), ("", {}), ("70", {"face": "gates"}), ("70", {"face": "no"}), ("7" * 61, {})):
            self.assertEqual(self.read(text, **body).status_code, 422)
        self.assertEqual(ScaleRead.objects.count(), 0)


class Practising(RigTest):
    def practise(self, person: Person, rig: str = "iron-in-tea") -> HttpResponse:
        answer: HttpResponse = client_of(person).post("/api/practise", json.dumps({"rig": rig}), content_type="application/json")
        return answer

    def test_whoever_may_begin_a_lab_book_may_practise_and_look_behind_it(self) -> None:
        student = self.school.students[0]
        book = Book.objects.get(pk=self.practise(student).json()["id"])
        document = read_lab_book(book.document)
        self.assertEqual(
            (document.plan.rig.key, book.owner, document.plan.withheld, document.plan.draft), ("iron-in-tea", student, (), False)
        )
        self.assertTrue(document.freedoms.plan and not any(q.given for q in document.quantities))
        self.assertTrue(self.ask(student, book).json()["truth"])
        # another truth than that of the class
        self.assertNotIn(seeds_of(book).shared, (seeds_of(self.book).shared, seeds_of(self.other).shared))
        self.assertEqual(self.ask(self.school.students[1], book).status_code, 404)

    def test_every_rig_can_be_practised_on_and_nothing_else(self) -> None:
        for key in RIGS:
            self.assertEqual(self.practise(self.school.teacher, key).status_code, 200)
        for key in ("", "teapot", "x" * 41):
            self.assertIn(self.practise(self.school.teacher, key).status_code, (404, 422))
        self.school.school_class.own_books = False
        self.school.school_class.save()
        self.assertEqual(self.practise(self.school.students[0]).status_code, 403)
