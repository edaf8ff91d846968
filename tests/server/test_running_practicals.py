"""Practicals while they run: what is open when, conditions that are dealt, the pool, and sheets for the bench."""

from __future__ import annotations

import json
import uuid
from datetime import date, datetime, timedelta
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile

from hobrel.classes.queries import local_now, say_weekday, say_when
from hobrel.core.reporting.reading_sheet import build_reading_sheet
from hobrel.core.reporting.tree import Table
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book, EditRecord
from hobrel.plans.models import Practical
from hobrel.school.conditions import enough_each
from tests.school import add_setting, client_of, reading, send_edit, send_step
from tests.server.test_own_books import post
from tests.server.test_plans import Plans


class Gates(Plans):
    """What is not open is not written, by whatever route; what is open goes on."""

    def setUp(self) -> None:
        super().setUp()
        self.practical = self.give()
        self.book = self.book_of(self.practical)
        send_edit(self.student, self.book, add_setting())
        self.book.refresh_from_db()
        self.now = local_now()

    def dates(self, **given: Any) -> Any:
        return post(self.teacher, f"/practicals/{self.practical.pk}/dates", given)

    def codes(self, *edits: dict[str, Any]) -> list[str]:
        found = []
        for edit in edits:
            self.book.refresh_from_db()
            sent = send_edit(self.student, self.book, edit)
            found.append("" if sent.status_code == 200 else str(sent.json()["code"]))
        return found

    def test_after_readings_have_closed_they_are_set_aside_and_no_more_written_nor_taken_back(self) -> None:
        self.assertEqual(self.codes(reading("3.50"), reading("3.60", repeat=1)), ["", ""])
        self.assertEqual(self.dates(readings_close=(self.now + timedelta(hours=1)).isoformat()).status_code, 200)
        self.assertEqual(self.codes(reading("3.55", was="3.50")), [""])
        Practical.objects.filter(pk=self.practical.pk).update(readings_close=self.now - timedelta(minutes=1))
        aside = {"type": "set_aside", "run": "run1", "setting": "a", "quantity": "t10", "repeat": 1, "reason": "late"}
        graph = {"type": "add_graph", "graph": "g9", "x": "L", "y": "T"}
        batch = {"type": "batch", "words": "pasted", "edits": [reading("1", repeat=2)]}
        closed = ["readings_closed"] * 3
        self.assertEqual(self.codes(reading("9", was="3.55"), add_setting("b"), batch, aside, graph), [*closed, "", ""])
        for _ in range(2):
            self.assertEqual(send_step(self.student, self.book, "undo").status_code, 200)
        refused = send_step(self.student, self.book, "undo")
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "readings_closed"))
        file = {
            "file": SimpleUploadedFile("a.csv", b"L\n0.3\n"),
            "choices": json.dumps({"client_id": str(uuid.uuid4()), "columns": [{"index": 0, "quantity": "L"}]}),
        }
        self.assertEqual(self.student.post(f"/api/books/{self.book.pk}/bring-in", file).json()["code"], "readings_closed")
        self.assertRegex(refused.json()["detail"], r"closed on \w+day \d+ \w+, \d\d:\d\d")

    def test_stations_open_as_the_lesson_goes(self) -> None:
        self.dates(open_to="read")
        formula = {"type": "define_formula", "quantity": "T", "formula": "t_10/10"}
        graph = {"type": "add_graph", "graph": "g9", "x": "L", "y": "T"}
        text = {"type": "write_text", "section": "method", "text": "We timed it.", "was": ""}
        self.assertEqual(self.codes(reading("3.50"), formula, graph, text), ["", *["not_open"] * 3])
        self.assertEqual(self.seen(self.book)["dates"]["open_to"], "read")
        self.dates(open_to="look")
        self.assertEqual(self.codes(formula, graph, text), ["", "", "not_open"])
        self.dates(open_to="")
        self.assertEqual(self.codes(text), [""])

    def test_what_a_colleague_has_set_meanwhile_stays(self) -> None:
        closes, due = ((self.now + timedelta(hours=h)).isoformat() for h in (1, 2))
        self.assertEqual(self.dates(readings_close=closes).status_code, 200)
        self.assertEqual(self.dates(due=due, late=False).status_code, 200)
        self.practical.refresh_from_db()
        kept = (self.practical.readings_close, self.practical.due, self.practical.late)
        self.assertEqual(kept, (datetime.fromisoformat(closes), datetime.fromisoformat(due), False))
        # they are looked at together
        self.assertEqual(self.dates(due=(self.now + timedelta(minutes=30)).isoformat()).json()["field"], "due")
        self.assertEqual(self.dates(readings_close=None).status_code, 200)
        self.practical.refresh_from_db()
        self.assertEqual((self.practical.readings_close, self.practical.due), (None, datetime.fromisoformat(due)))

    def test_nothing_but_ask_before_the_expectation_is_written(self) -> None:
        self.write(ask_first=True)
        self.book = self.book_of(self.give())
        expectation = {"type": "write_text", "section": "expectation", "text": "Slower.", "was": ""}
        sketch = {"type": "draw_sketch", "points": [{"x": 0.1, "y": 0.2}]}
        self.assertEqual(self.codes(add_setting(), sketch, expectation, add_setting()), ["not_open", "", "", ""])

    def test_what_was_due_is_late_or_too_late(self) -> None:
        Practical.objects.filter(pk=self.practical.pk).update(due=self.now - timedelta(minutes=5), late=False)
        refused = post(self.student, f"/books/{self.book.pk}/hand-in")
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "too_late"))
        Practical.objects.filter(pk=self.practical.pk).update(late=True)
        self.assertEqual(post(self.student, f"/books/{self.book.pk}/hand-in").status_code, 200)

    def test_a_moment_is_said_with_its_year_where_that_is_another(self) -> None:
        here = self.now.tzinfo
        with patch("hobrel.classes.queries.local_now", return_value=datetime(2026, 11, 30, 9, tzinfo=here)):
            self.assertEqual(say_when(datetime(2026, 12, 1, 10, 5, tzinfo=here)), "Tuesday 1 December, 10:05")
            self.assertEqual(say_when(datetime(2027, 1, 4, 8, 0, tzinfo=here)), "Monday 4 January 2027, 08:00")
            self.assertEqual(say_weekday(date(2025, 12, 1)), "Monday 1 December 2025")

    def test_the_pool_opens_by_itself_at_its_time(self) -> None:
        pool = f"/api/practicals/{self.practical.pk}/pool"
        opens = self.now + timedelta(hours=2)
        self.dates(pool_opens=opens.isoformat())
        refused = self.student.get(pool)
        self.assertEqual((refused.status_code, refused.json()["code"]), (403, "pool_closed"))
        # the year with it only where that is another, as on the last evening of one
        self.assertIn(f"opens on {say_when(opens)}", refused.json()["detail"])
        self.assertFalse(self.seen(self.book)["pool_open"])
        Practical.objects.filter(pk=self.practical.pk).update(pool_opens=self.now - timedelta(minutes=1))
        self.assertEqual(self.student.get(pool).status_code, 200)
        self.assertTrue(self.seen(self.book)["pool_open"])
        # closed by hand it stays closed
        post(self.teacher, pool.removeprefix("/api"), {"open": False})
        self.assertEqual(self.student.get(pool).status_code, 403)

    def test_dates_in_the_wrong_order_are_refused_where_they_stand(self) -> None:
        soon, later = ((self.now + timedelta(days=days)).isoformat() for days in (1, 2))
        for given, field in (
            ({"readings_close": later, "due": soon}, "due"),
            ({"readings_close": (self.now - timedelta(days=3)).isoformat()}, "readings_close"),
            ({"due": (self.now + timedelta(days=900)).isoformat()}, "day"),
            ({"pool_opens": (self.now - timedelta(days=3)).isoformat()}, "pool_opens"),
        ):
            answer = self.dates(**given)
            self.assertEqual((answer.status_code, answer.json()["code"], answer.json()["field"]), (422, "bad_day", field), given)
        self.assertEqual(self.dates(open_to="nowhere").status_code, 422)
        naive = (self.now + timedelta(days=1)).strftime("%Y-%m-%dT%H:%M")
        self.assertEqual(self.dates(due=naive).json()["dates"]["due"][:16], naive)


class Conditions(Plans):
    def setUp(self) -> None:
        super().setUp()
        names = (("bare", "Bare", 1), ("lid", "With a lid", 1), ("wool", "In wool", 0))
        self.write(conditions=[{"id": key, "name": name, "words": "", "trials": trials} for key, name, trials in names])
        self.practical = self.give()
        self.path = f"/practicals/{self.practical.pk}/turns"
        self.benches = [b.bench.pk for b in (self.school.book, self.school.other_book)]

    def runs(self, bench: int = 0) -> list[tuple[str, str]]:
        book = self.book_of(self.practical, bench)
        return [(run["name"], run["condition"]) for run in book.document["runs"]]

    def arrange(self, *turns: tuple[int, str]) -> Any:
        return post(self.teacher, self.path, {"turns": [{"bench": self.benches[i], "condition": c} for i, c in turns]})

    def test_dealt_so_that_each_is_done_and_named_in_the_lab_books_before_the_lesson(self) -> None:
        answer = post(self.teacher, f"{self.path}/deal", {"each": 2}).json()
        planned = {c["condition"]: c["planned"] for c in answer["coverage"]}
        self.assertEqual((sum(planned.values()), max(planned.values()) - min(planned.values()) <= 1), (4, True))
        self.assertGreaterEqual(min(planned["bare"], planned["lid"]), 1)
        for i in (0, 1):
            done = [t["condition"] for t in answer["benches"][i]["turns"]]
            self.assertEqual([condition for _, condition in self.runs(i)], done)
        self.assertEqual(post(self.teacher, f"{self.path}/deal", {"each": 4}).json()["code"], "bad_number")

    def test_so_many_each_are_enough(self) -> None:
        """Two trials are wanted, of three conditions."""
        self.assertEqual([enough_each(self.practical, benches) for benches in (0, 1, 2, 5)], [2, 2, 1, 1])
        self.assertEqual(self.teacher.get(f"/api{self.path}").json()["each"], 1)
        words = [c["words"] for c in self.teacher.get(f"/api{self.path}").json()["coverage"]]
        self.assertEqual(words, ["Bare: nobody does it", "With a lid: nobody does it", "In wool: nobody does it"])

    def test_the_bench_is_told_on_which_day_it_does_what(self) -> None:
        book = self.book_of(self.practical)
        news = book.news
        turns = [{"bench": self.benches[0], "condition": "lid", "day": "2026-12-01"}, {"bench": self.benches[1], "condition": "bare"}]
        post(self.teacher, self.path, {"turns": turns})
        beside = self.student.get(f"/api/books/{book.pk}/beside").json()
        self.assertEqual(beside["turns"], [{"condition": "lid", "day": "2026-12-01"}])
        self.assertGreater(beside["news"], news)

    def test_moved_by_hand_and_what_is_written_stays(self) -> None:
        self.arrange((0, "bare"))
        book = self.book_of(self.practical)
        for edit in (add_setting(), reading("3.50")):
            self.assertEqual(send_edit(self.student, book, edit).status_code, 200)
        answer = self.arrange((0, "lid"), (1, "lid"), (1, "wool")).json()
        self.assertEqual(self.runs(), [("Bare", "bare"), ("With a lid", "lid")])
        self.assertEqual(self.runs(1), [("With a lid", "lid"), ("In wool", "wool")])
        words = {c["condition"]: c["words"] for c in answer["coverage"]}
        self.assertEqual(
            words, {"bare": "Bare: 1 of 1 trials", "lid": "With a lid: 0 of 1 trials", "wool": "In wool: 0 of 1 benches have readings"}
        )
        self.assertEqual(answer["benches"][0]["done"], ["bare"])
        self.arrange((1, "wool"))
        self.assertEqual(self.runs(1), [("In wool", "wool")])
        self.arrange()
        self.assertEqual(len(self.runs(1)), 1)
        records = EditRecord.objects.filter(book=book, author=self.school.teacher)
        self.assertEqual([r.words for r in records], ["runs for: Bare", "runs for: With a lid", "runs for: no condition"])

    def test_a_turn_of_what_is_not_there_is_refused_and_changes_nothing(self) -> None:
        self.arrange((0, "bare"))
        for turns in ([(0, "nothing")], [(0, "bare"), (0, "bare")]):
            self.assertEqual(self.arrange(*turns).json()["code"], "bad_turn")
        other = post(self.teacher, self.path, {"turns": [{"bench": self.other.book.bench_id, "condition": "bare"}]})
        self.assertEqual(other.json()["code"], "bad_turn")
        self.assertEqual(self.runs(), [("Bare", "bare")])

    def test_a_bench_that_has_named_a_run_so_itself_keeps_it(self) -> None:
        book = self.book_of(self.practical)
        for edit in ({"type": "rename_run", "run": "run1", "name": "With a lid"}, add_setting(), reading("3.50")):
            self.assertEqual(send_edit(self.student, book, edit).status_code, 200)
        self.arrange((0, "lid"))
        self.assertEqual(self.runs(), [("With a lid", ""), ("With a lid 2", "lid")])


class Pool(Plans):
    def test_it_opens_when_all_have_handed_in_and_shows_numbers_where_the_plan_says_so(self) -> None:
        self.write(pool="all_in", pool_names=False)
        practical = self.give()
        books = [self.book_of(practical, i) for i in (0, 1)]
        clients = (self.student, client_of(self.school.other_bench))
        opened = []
        for client, book in zip(clients, books, strict=True):
            self.assertEqual(client.get(f"/api/practicals/{practical.pk}/pool").status_code, 403)
            self.assertEqual(post(client, f"/books/{book.pk}/hand-in").status_code, 200)
            practical.refresh_from_db()
            opened.append(practical.pool_open)
        self.assertEqual(opened, [False, True])
        rows = [
            [row["bench"] for row in c.get(f"/api/practicals/{practical.pk}/pool").json()["pools"][0]["rows"]]
            for c in (*clients, self.teacher)
        ]
        self.assertEqual(rows, [["Godwit", "Bench 2"], ["Bench 1", "Redshank"], ["Godwit", "Redshank"]])


class Sheets(Plans):
    def test_a_blank_sheet_has_room_for_what_is_wanted_and_names_what_is_given(self) -> None:
        self.write(safety="Goggles on.", kept_same=["the load"], own_values=["m"], steps={"read": [{"id": "a", "text": "Clamp it."}]})
        book = self.book_of(self.give())
        # a teacher prints it from the plan, where what benches measure has an example
        for of in (Book.objects.get(plan=self.plan), book):
            (part,) = ask_about(of, "", build_reading_sheet).parts
            words = repr(part)
            for said in ("Goggles", "Clamp", "load", "30.0"):
                self.assertIn(said, words)
            self.assertNotIn("0.300 ", words)
        (table,) = [b for b in part.blocks if isinstance(b, Table)]
        # eight are wanted and two to spare; an overhang and three times
        self.assertEqual((len(table.rows), {len(row) for row in table.rows}), (10, {4}))
        answer = self.student.get(f"/api/books/{book.pk}/reading-sheet.pdf")
        self.assertEqual((answer.status_code, answer.content[:5]), (200, b"%PDF-"))
