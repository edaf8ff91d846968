"""The walkround: planted faults, each on its tile; hands, the room, remarks to several; what a look costs."""

from __future__ import annotations

import json
from datetime import timedelta
from unittest.mock import patch

from django.db import connection
from django.db.models import F
from django.test import Client, TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from hobrel.classes.models import Bench
from hobrel.labbooks.models import Book, EditRecord, Hand, Presence, Remark
from hobrel.reports.models import HandIn
from hobrel.school.erasing import erase_student
from tests.lesson import PLANTED, make_lesson
from tests.school import add_setting, client_of, keep_summaries, send_edit

# a slip of the finger is found as what it looks like
SEEN_AS = {"factor of ten": {"lone_repeat"}, "swapped": {"swapped", "lone_repeat"}, "off_trend": {"off_trend", "exchanged", "lone_repeat"}}


class Walkround(TestCase):
    def setUp(self) -> None:
        self.lesson = make_lesson(8)
        self.school = self.lesson.school
        self.teacher, self.student = client_of(self.school.teacher), client_of(self.school.students[0])
        self.address = f"/api/practicals/{self.school.practical.pk}/walkround"

    def look(self, client: Client | None = None) -> dict[str, dict[str, object]]:
        answer = (client or self.teacher).get(self.address)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.whole = answer.json()
        return {tile["bench"]: tile for tile in self.whole["tiles"]}

    def post(self, client: Client, path: str, body: object) -> int:
        self.answer = client.post(path, json.dumps(body), content_type="application/json")
        return self.answer.status_code

    def test_every_planted_fault_is_on_its_tile_and_nothing_on_the_others(self) -> None:
        tiles = self.look()
        slips = {name: {s["kind"] for s in self.notes(name)} for name in tiles}
        for name, faults in PLANTED.items():
            kinds = [need["kind"] for need in tiles[name]["needs"]]  # type: ignore[index]
            for fault in faults:
                with self.subTest(f"{fault} at {name}"):
                    if fault in ("factor", "failed"):
                        self.assertIn(fault, kinds)
                    else:
                        self.assertTrue(slips[name] & SEEN_AS.get(fault, {fault}), slips[name])
            self.assertGreaterEqual(len(kinds), len(faults), "each by itself")
            self.assertLessEqual(len(kinds), len(faults) + 1, "at most one false alarm a table")
        self.assertEqual([n["kind"] for n in tiles["Plover"]["needs"]], ["not_opened"])  # type: ignore[index]

    def notes(self, name: str) -> list[dict[str, str]]:
        book = Book.objects.get(pk=self.lesson.books[name].pk)
        found: list[dict[str, str]] = book.summary.content["note"]["slips"]
        return found

    def test_a_slip_leads_to_its_cell(self) -> None:
        needs = self.look()["Curlew"]["needs"]
        (letters,) = [n for n in needs if "not a number" in n["text"]]  # type: ignore[index, attr-defined]
        self.assertEqual((letters["stage"], letters["run"], letters["at"]), ("read", "run1", "s8:t10:1"))

    def test_what_several_have_in_common_is_said_without_their_numbers(self) -> None:
        self.look()
        common = {(c["kind"], c["of"]): c for c in self.whole["common"]}
        self.assertEqual(len(common["wrong_decimals", "t₁₀"]["books"]), 3)
        self.assertEqual(len(common["pool", ""]["books"]), 2)
        self.assertIn("not divided by ten", common["pool", ""]["general"]["text"])

    def test_a_hand_goes_up_and_is_first_and_comes_down(self) -> None:
        path = f"/api/books/{self.school.book.pk}/hand"
        self.assertEqual(self.post(self.student, path, {"up": True}), 204)
        first = Hand.objects.get().at
        self.assertEqual(self.post(client_of(self.school.students[1]), path, {"up": True}), 204)
        self.assertEqual(Hand.objects.get().at, first, "raised twice it is up since the first time")
        self.assertTrue(self.student.get(f"/api/books/{self.school.book.pk}/beside").json()["hand_up"])
        self.assertEqual(self.look()["Godwit"]["needs"][0]["kind"], "hand")  # type: ignore[index]
        self.assertEqual(self.post(self.teacher, path, {"up": True}), 403)
        self.assertEqual(self.post(self.teacher, path, {"up": False}), 204)
        self.assertNotIn("hand", [n["kind"] for n in self.look()["Godwit"]["needs"]])  # type: ignore[attr-defined]

    def test_who_is_there_stuck_and_handed_in(self) -> None:
        book = self.school.book
        Presence.objects.create(book=book, person=self.school.students[0], seen=timezone.now())
        Presence.objects.create(book=book, person=self.school.teacher, seen=timezone.now())
        self.assertEqual(self.look()["Godwit"]["here"], ["Ann"])
        send_edit(self.student, book, add_setting("later"))
        self.assertEqual(self.look()["Godwit"]["changed"], 0)
        EditRecord.objects.filter(book=book).update(at=timezone.now() - timedelta(minutes=7))
        Book.objects.filter(pk=book.pk).update(news=99)
        tile = self.look()["Godwit"]
        self.assertEqual((tile["changed"], [n["kind"] for n in tile["needs"]][-1]), (7, "stuck"))  # type: ignore[attr-defined]
        HandIn.objects.create(book=book, number=1, revision=0, document={}, analysis={}, html="", pdf=b"")
        Book.objects.filter(pk=book.pk).update(news=100)
        self.assertEqual([n["kind"] for n in self.look()["Godwit"]["needs"]][-1], "changed_since")  # type: ignore[attr-defined]

    def test_a_look_is_the_same_until_something_has_happened(self) -> None:
        first = self.teacher.get(self.address)
        self.assertEqual(self.teacher.get(self.address, headers={"If-None-Match": first["ETag"]}).status_code, 304)
        with self.assertNumQueries(7):
            # session, person, practical; lab books, summaries, who is here, who sits where
            self.teacher.get(self.address)
        send_edit(self.student, self.school.book, add_setting("more"))
        keep_summaries(self.school.practical)
        again = self.teacher.get(self.address, headers={"If-None-Match": first["ETag"]})
        self.assertEqual(again.status_code, 200)
        self.assertNotEqual(again["ETag"], first["ETag"])

    def test_who_has_been_erased_is_in_no_answer_any_more(self) -> None:
        self.assertIn("Ann", self.look()["Godwit"]["names"])
        erase_student(self.school.students[0].seats.get(), "Ann", self.school.teacher)
        self.assertNotIn("Ann", json.dumps(self.look()))

    # another test of this process may have waited for the summary of a lab book that had the same key
    @patch.dict("hobrel.labbooks.summaries._late", clear=True)
    @patch.dict("hobrel.pools.queries._ODD", clear=True)
    def test_sixteen_benches_ask_the_database_no_more_than_eight(self) -> None:
        def count() -> int:
            self.look()
            Book.objects.filter(pk=self.school.book.pk).update(news=F("news") + 1)
            with CaptureQueriesContext(connection) as asked:
                self.look()
            return len(asked)

        few = count()
        for i in range(8):
            bench = Bench.objects.create(school_class=self.school.school_class, name=f"More {i}")
            Book.objects.create(practical=self.school.practical, bench=bench, document=self.school.book.document)
        self.assertEqual(count(), few)

    def test_the_room_is_kept_and_other_benches_are_left_out(self) -> None:
        benches = dict(Bench.objects.filter(school_class=self.school.school_class).values_list("name", "pk"))
        path = f"/api/classes/{self.school.school_class.pk}/room"
        self.assertEqual(self.post(self.teacher, path, {"places": {str(benches["Knot"]): [3, 1], "999999": [0, 0]}}), 204)
        self.look()
        self.assertEqual(self.whole["room"], {str(benches["Knot"]): [3, 1]})
        for wrong in ({"x": [0, 0]}, {"1": [16, 0]}, {"1": [-1, 0]}, {"1": [1]}, {"1": "far"}):
            self.assertEqual(self.post(self.teacher, path, {"places": wrong}), 422, wrong)

    def test_one_remark_to_several_and_to_nobody_elses(self) -> None:
        path = f"/api/practicals/{self.school.practical.pk}/remarks"
        wanted = [self.lesson.books["Knot"].pk, self.lesson.books["Avocet"].pk, 10**9]
        self.assertEqual(self.post(self.teacher, path, {"books": wanted, "stage": "read", "text": " Two decimals. "}), 200)
        self.assertEqual(self.answer.json(), {"written": 2})
        self.assertEqual(set(Remark.objects.values_list("book", "text")), {(wanted[0], "Two decimals."), (wanted[1], "Two decimals.")})
        self.assertEqual(self.post(self.teacher, path, {"books": wanted, "stage": "read", "text": "  "}), 422)
        self.assertEqual(Remark.objects.count(), 2)
        self.assertEqual(self.look()["Knot"]["open_remarks"], 1)
