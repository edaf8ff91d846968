"""What follows an edit: the acknowledgement computes nothing, a view holds what has changed, summaries come after. See decision 22."""

from __future__ import annotations

import copy
import json
import random
import uuid
from dataclasses import replace
from datetime import timedelta
from typing import Any
from unittest.mock import patch

from django.db import OperationalError, connection
from django.test import Client, SimpleTestCase, TestCase, TransactionTestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from pydantic import TypeAdapter

from hobrel.classes.models import Bench
from hobrel.classes.queries import local_now
from hobrel.computing.calls import writer_of
from hobrel.computing.changes import find_changes, write_changes
from hobrel.computing.messages import Answer, Ask, Note, Subject, Worked
from hobrel.computing.notes import Notes
from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook, Reading
from hobrel.core.sentences import told
from hobrel.labbooks import computed
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.computed import view_book
from hobrel.labbooks.models import Book, EditRecord, Summary
from hobrel.labbooks.plan_books import give_out
from hobrel.labbooks.schemas import ClassOut
from hobrel.labbooks.summaries import Noted, write_summaries
from hobrel.plans.models import Practical
from hobrel.reports.models import HandIn
from tests.fuzz.typing import demo_books
from tests.school import add_setting, analysis_of, client_of, fill, keep_summaries, make_school, post_edits, reading, send_edit, send_step
from tests.server.test_own_books import post
from tests.server.waiting import wait_until


def lay_over(whole: Any, changes: list[dict[str, Any]]) -> Any:
    """What a page does with changes."""
    whole = {"": copy.deepcopy(whole)}
    for change in changes:
        place, steps = whole, ["", *change["at"]]
        for step in steps[:-1]:
            place = place[step]
        place[steps[-1]] = change["becomes"]
    return whole[""]


def mistype(book: LabBook, dice: random.Random) -> LabBook:
    """The lab book with one reading another, blank, or a row more."""
    run = book.runs[0]
    settings = list(run.settings)
    at = dice.randrange(len(settings))
    readings = dict(settings[at].readings)
    quantity = dice.choice(sorted(readings))
    entries = list(readings[quantity])
    entries[dice.randrange(len(entries))] = dice.choice([None, Reading("7"), Reading("300"), Reading("five"), Reading("0.41")])
    readings[quantity] = tuple(entries)
    if dice.random() < 0.2:
        settings.append(replace(settings[at], id=f"n{dice.random()}"))
    settings[at] = replace(settings[at], readings=readings)
    return replace(book, runs=(replace(run, settings=tuple(settings)), *book.runs[1:]))


class Changes(SimpleTestCase):
    def test_changes_laid_over_what_was_there_are_what_is_there_in_every_demo_book(self) -> None:
        dice = random.Random(22)
        writer = writer_of(view_book)
        for name, book in demo_books().items():
            if not book.runs[0].settings:
                continue
            before = view_book(OpenBook(book))
            for _ in range(3):
                book = mistype(book, dice)
                after = view_book(OpenBook(book))
                changes = json.loads(write_changes(find_changes(before, after)))
                with self.subTest(name):
                    self.assertEqual(lay_over(json.loads(writer.dump_json(before)), changes), json.loads(writer.dump_json(after)))
                before = after

    def test_what_has_changed_in_most_of_its_parts_is_one_change(self) -> None:
        before, after = ({"points": tuple({"x": i, "y": i * k, "u": k} for i in range(9)), "name": "n"} for k in (2, 3))
        (found,) = find_changes(before, after)
        self.assertEqual((found.at, len(found.becomes)), (("points",), 9))

    def test_the_same_has_no_changes_and_another_kind_is_changed_as_a_whole(self) -> None:
        book = next(iter(demo_books().values()))
        self.assertEqual(find_changes(view_book(OpenBook(book)), view_book(OpenBook(book))), [])
        found = find_changes({"a": (1, 2), "b": None, "c": {"x": 1}}, {"a": (1, 2, 3), "b": "now", "c": {"y": 1}})
        self.assertEqual([(c.at, c.becomes) for c in found], [(("a",), (1, 2, 3)), (("b",), "now"), (("c",), {"y": 1})])


class Following(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        fill(self.book)
        self.ann, self.bo, self.teacher = (client_of(p) for p in (*self.school.students[:2], self.school.teacher))
        self.was = self.book.document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]

    def view(self, have: str = "", steps: bool = False) -> dict[str, Any]:
        return self.ann.get(f"/api/books/{self.book.pk}/view", {"have": have, "steps": steps}).json()

    def test_an_answer_to_edits_computes_nothing(self) -> None:
        with patch("hobrel.computing.asking._ask", side_effect=AssertionError("computed")):
            answer = post_edits(self.ann, self.book, (str(uuid.uuid4()), reading("9.99", self.was, "s1")))
        self.assertEqual(sorted(answer.json()), ["answers", "redo", "revision", "undo"])
        self.assertEqual(answer.json()["answers"][0]["revision"], 1)

    def test_a_view_holds_what_has_changed_since_the_one_before(self) -> None:
        first = self.view()
        self.assertEqual((first["since"], first["changes"], first["revision"]), ("", None, 0))
        send_edit(self.ann, self.book, reading(f"{float(self.was) + 0.01:.2f}", self.was, "s1"))
        second = self.view(first["tag"])
        self.assertEqual((second["since"], second["whole"], second["revision"]), (first["tag"], None, 1))
        whole = self.view()["whole"]
        self.assertEqual(lay_over(first["whole"], second["changes"]), whole)
        self.assertLess(len(json.dumps(second["changes"])), len(json.dumps(whole)) / 3)
        with self.subTest("nothing new"):
            self.assertEqual(self.view(second["tag"])["changes"], [])
        with self.subTest("a tag that nobody knows any more"):
            again = self.view("0" * 32)
            self.assertEqual((again["since"], again["changes"], again["whole"]), ("", None, whole))

    def test_a_view_from_another_run_can_follow_one_from_this(self) -> None:
        send_edit(self.ann, self.book, {"type": "add_run", "run": "two", "name": "Two"})
        here = self.view()
        there = self.ann.get(f"/api/books/{self.book.pk}/view", {"have": here["tag"], "run": "two"}).json()
        whole = self.ann.get(f"/api/books/{self.book.pk}/view", {"run": "two"}).json()["whole"]
        self.assertEqual(lay_over(here["whole"], there["changes"]), whole)
        self.assertEqual((whole["document"]["runs"][0]["id"], whole["run_order"]), ("two", ["run1", "two"]))

    def test_a_view_says_what_can_be_taken_back_only_to_who_asks(self) -> None:
        send_edit(self.ann, self.book, add_setting())
        self.assertEqual((self.view()["undo"], self.view(steps=True)["undo"]), (None, "added a setting"))

    def test_where_nothing_can_be_worked_out_there_is_no_tag(self) -> None:
        gone = computed.not_worked_out()
        with patch("hobrel.labbooks.computed.ask_book", side_effect=gone):
            answer = self.view("tag")
        self.assertEqual((answer["tag"], answer["changes"], answer["whole"]["analysis"]["trouble"]["code"]), ("", None, "not_worked_out"))

    def test_a_poll_is_small_and_computes_nothing(self) -> None:
        self.ann.get(f"/api/books/{self.book.pk}/changes")
        with patch("hobrel.computing.asking._ask", side_effect=AssertionError("computed")), CaptureQueriesContext(connection) as asked:
            answer = self.ann.get(f"/api/books/{self.book.pk}/changes")
        self.assertEqual(answer.json(), {"revision": 0, "news": 0, "present": []})
        self.assertLessEqual(len(asked), 4)

    def test_what_happens_beside_a_lab_book_is_told(self) -> None:
        def news() -> int:
            return int(self.ann.get(f"/api/books/{self.book.pk}/changes").json()["news"])

        def beside() -> dict[str, Any]:
            return self.ann.get(f"/api/books/{self.book.pk}/beside").json()

        address = f"/api/books/{self.book.pk}/remarks"
        remark = self.teacher.post(address, json.dumps({"stage": "read", "text": "Look."}), content_type="application/json").json()[0]
        self.assertEqual((news(), [r["text"] for r in beside()["remarks"]]), (1, ["Look."]))
        self.ann.post(f"/api/remarks/{remark['id']}/done", json.dumps({"done": True}), content_type="application/json")
        self.assertEqual((news(), beside()["remarks"][0]["done"]), (2, True))
        pool = f"/api/practicals/{self.school.practical.pk}/pool"
        self.teacher.post(pool, json.dumps({"open": True}), content_type="application/json")
        self.assertEqual((news(), beside()["placed"][0]["words"][0]["text"]), (3, "open to the class"))
        self.ann.post(f"/api/books/{self.book.pk}/hand-in", content_type="application/json")
        self.assertEqual((news(), [m["words"][0]["text"] for m in beside()["placed"]]), (4, ["open to the class", "handed in"]))


class SeveralAtOnce(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        self.ann, self.bo = (client_of(p) for p in self.school.students[:2])

    def post(self, *edits: tuple[str, dict[str, Any]]) -> list[Any]:
        answers = post_edits(self.ann, self.book, *edits).json()["answers"]
        return [a["revision"] or a["refused"]["code"] for a in answers]

    def test_each_is_made_or_refused_by_itself_in_its_order(self) -> None:
        edits = [add_setting(), reading("5.01"), reading("5.02", "4.00"), reading("5.03", setting="nowhere"), reading("5.04", "5.01")]
        self.assertEqual(self.post(*((str(uuid.uuid4()), e) for e in edits)), [1, 2, "clash", "gone", 3])
        self.assertEqual([r.revision for r in EditRecord.objects.order_by("revision")], [1, 2, 3])
        self.book.refresh_from_db()
        self.assertEqual((self.book.revision, self.book.document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]), (3, "5.04"))

    def test_sent_again_each_is_answered_with_its_own_revision_and_nothing_is_done_twice(self) -> None:
        edits = [(str(uuid.uuid4()), e) for e in (add_setting(), reading("5.01"), add_setting("b"))]
        self.assertEqual(self.post(*edits), [1, 2, 3])
        send_edit(self.bo, self.book, reading("6.00", "5.01"))
        self.assertEqual(self.post(*edits), [1, 2, 3])
        self.assertEqual(self.post(*edits, (str(uuid.uuid4()), add_setting("c"))), [1, 2, 3, 5])
        self.assertEqual(EditRecord.objects.count(), 5)

    def test_another_edit_under_a_known_id_is_refused_also_within_one_request(self) -> None:
        same = str(uuid.uuid4())
        self.assertEqual(self.post((same, add_setting()), (same, add_setting("b")), (same, add_setting())), [1, "same_id", 1])
        self.assertEqual(self.post((same, add_setting("b"))), ["same_id"])

    def test_none_and_too_many_are_refused_whole(self) -> None:
        many = [(str(uuid.uuid4()), add_setting(f"n{i}")) for i in range(21)]
        self.assertEqual([post_edits(self.ann, self.book, *edits).status_code for edits in ([], many, many[:20])], [422, 422, 200])

    def test_undo_takes_back_the_last_of_them(self) -> None:
        self.post(*((str(uuid.uuid4()), e) for e in (add_setting(), reading("5.01"))))
        self.assertEqual(send_step(self.ann, self.book, "undo").json()["undo"], "added a setting")

    def test_what_somebody_else_writes_in_between_is_seen(self) -> None:
        """Between the reading of the document and the writing of the next: it is worked out once more on the newest."""
        self.post((str(uuid.uuid4()), add_setting()))
        stale = Book.objects.get(pk=self.book.pk)
        send_edit(self.bo, self.book, reading("6.00"))
        with patch("hobrel.server.policy.find_book", return_value=stale):
            self.assertEqual(self.post((str(uuid.uuid4()), reading("5.01")), (str(uuid.uuid4()), add_setting("b"))), ["clash", 3])
        self.book.refresh_from_db()
        rows = self.book.document["runs"][0]["settings"]
        self.assertEqual([r["id"] for r in rows], ["a", "b"])
        self.assertEqual(rows[0]["readings"]["t10"][0]["text"], "6.00")


class Looks(TestCase):
    """The teacher's page."""

    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        fill(self.school.other_book, seed=4)
        self.teacher = client_of(self.school.teacher)

    def test_a_look_computes_nothing_and_asks_as_much_of_many_lab_books_as_of_few(self) -> None:
        keep_summaries(self.school.practical)
        with patch("hobrel.computing.asking._ask", side_effect=AssertionError("computed")):
            with CaptureQueriesContext(connection) as few:
                self.teacher.get("/api/classes")
            for i in range(5):
                open_book(self.school.practical, Bench.objects.create(school_class=self.school.school_class, name=f"Bench {i}"))
            keep = [Summary(book=b, stamp=b.stamp, content=_content(), share={}) for b in Book.objects.filter(summary=None)]
            Summary.objects.bulk_create(keep)
            with CaptureQueriesContext(connection) as many:
                answer = self.teacher.get("/api/classes")
        self.assertEqual(len(many), len(few))
        self.assertLessEqual(len(few), 10)
        (found,) = TypeAdapter(list[ClassOut]).validate_json(answer.content)
        self.assertEqual(len(found.practicals[0].benches), 7)

    def test_what_is_earlier_is_counted_for_teachers_and_a_student_s_own_for_students(self) -> None:
        first, today = self.school.practical, local_now().date()
        ann = client_of(self.school.students[0])

        def earlier(client: Client) -> list[bool]:
            return [p["earlier"] for p in sorted(client.get("/api/classes").json()[0]["practicals"], key=lambda p: p["id"])]

        def dated(practical: Practical, days: int, **more: Any) -> None:
            Practical.objects.filter(pk=practical.pk).update(given_out=today - timedelta(days=days), **more)

        dated(first, 100)
        self.assertEqual(earlier(self.teacher), [False], "the last is whole, however old")
        second = give_out(first.version.plan, self.school.school_class, today)
        for days, more, expected in (
            (20, {}, False),
            (23, {}, True),
            (23, {"due": timezone.now() + timedelta(hours=1)}, False),
            (23, {"due": timezone.now() - timedelta(hours=1)}, True),
            (1, {"closed": timezone.now()}, True),
        ):
            with self.subTest(days=days, **more):
                dated(first, days, **{"due": None, "closed": None} | more)
                self.assertEqual((earlier(self.teacher), earlier(ann)), ([expected, False], [expected, False]))
        self.assertEqual(post(ann, f"/books/{self.school.book.pk}/hand-in").status_code, 403, "it is closed")
        HandIn.objects.create(book=self.school.book, number=1, revision=1, document={}, analysis={}, html="", pdf=b"")
        HandIn.objects.create(book=self.school.book, number=2, revision=2, document={}, analysis={}, html="", pdf=b"")
        (of_first,) = (p for p in self.teacher.get("/api/classes").json()[0]["practicals"] if p["id"] == first.pk)
        self.assertEqual((of_first["benches"], of_first["bench_count"], of_first["handed_in"]), ([], 2, 1))
        (own,) = (p for p in ann.get("/api/classes").json()[0]["practicals"] if p["id"] == first.pk)
        self.assertEqual([(b["book"], b["handed_in"]) for b in own["benches"]], [(self.school.book.pk, 2)])
        dated(second, 0, closed=timezone.now())
        self.assertEqual(earlier(self.teacher), [True, False], "one that is closed is whole until another comes")

    def test_every_answer_says_of_which_form_it_is_and_pages_do_not(self) -> None:
        form = self.teacher.get("/api/classes")["Hobrel-Form"]
        self.assertRegex(form, "^[0-9a-f]{12}$")
        self.assertEqual(self.teacher.get("/api/books/999999")["Hobrel-Form"], form)
        self.assertNotIn("Hobrel-Form", self.teacher.get("/").headers)

    def test_a_summary_says_what_the_analysis_says(self) -> None:
        keep_summaries(self.school.practical)
        (bench,) = (b for b in self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"] if b["book"] == self.school.book.pk)
        analysis = analysis_of(self.school.book)
        self.assertEqual((bench["finding"], bench["slips"]), (analysis.findings[0].value.text, len(analysis.slips)))  # type: ignore[union-attr]
        inside = {m.stage: told(m.words) for m in analysis.stages} | {"pool": "not open yet"}
        self.assertEqual({m["stage"]: m["words"][0]["text"] for m in bench["stages"]}, inside)

    def test_a_lab_book_that_nobody_has_worked_out_yet_is_a_tile_all_the_same(self) -> None:
        Book.objects.filter(pk=self.school.book.pk).update(revision=1)
        Book.objects.filter(pk=self.school.other_book.pk).update(revision=0)
        benches = self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"]
        said = {b["bench"]: (b["finding"], b["trouble"][0]["code"], {m["state"] for m in b["stages"]}) for b in benches}
        empty = {"not_opened"}
        self.assertEqual(said, {"Godwit": ("", "not_worked_out", empty), "Redshank": ("", "not_begun", empty)})

    def test_a_summary_is_written_only_while_its_lab_book_is_still_so(self) -> None:
        keep_summaries(self.school.practical)
        before = Summary.objects.get(pk=self.school.book.pk).stamp
        send_edit(client_of(self.school.students[0]), self.school.book, add_setting("late"))
        write_summaries([Worked(Noted(self.school.book.pk, "another stamp"), None, computed.not_worked_out())])
        self.assertEqual(Summary.objects.get(pk=self.school.book.pk).stamp, before)


def _content() -> dict[str, Any]:
    return {"stages": [], "finding": "", "slips": 0, "trouble": []}


class SummariesCome(TransactionTestCase):
    """The computing process writes them by itself."""

    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        self.ann, self.teacher = client_of(self.school.students[0]), client_of(self.school.teacher)
        self.ann.get(f"/api/books/{self.school.book.pk}")  # so that there is a computing process

    def is_new(self) -> bool:
        row = Summary.objects.filter(pk=self.school.book.pk).first()
        return row is not None and row.stamp == Book.objects.get(pk=self.school.book.pk).stamp

    def test_after_an_edit_although_nobody_asks(self) -> None:
        send_edit(self.ann, self.school.book, add_setting("s1b"))
        wait_until(self.is_new)
        (bench, _) = self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"]
        self.assertIn("±", bench["finding"])

    def test_what_was_never_worked_out_says_so_and_is_at_the_first_look(self) -> None:
        Book.objects.filter(pk=self.school.book.pk).update(revision=1)
        bench = self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"][0]
        self.assertEqual((bench["finding"], bench["trouble"][0]["code"]), ("", "not_worked_out"))
        wait_until(self.is_new)

    def test_a_note_that_was_lost_is_made_up_for_by_a_look(self) -> None:
        keep_summaries(self.school.practical)
        with patch("hobrel.labbooks.summaries.note_book"):
            send_edit(self.ann, self.school.book, add_setting("s1b"))
        self.assertFalse(self.is_new())
        clock = iter([0.0, 4.0, 14.9])
        with patch("hobrel.labbooks.summaries.time.monotonic", lambda: next(clock)), patch("hobrel.labbooks.summaries.note_book") as noted:
            for _ in range(3):
                self.teacher.get("/api/classes")
            noted.assert_not_called()
        with patch("hobrel.labbooks.summaries.time.monotonic", lambda: 15.1):
            self.teacher.get("/api/classes")
        wait_until(self.is_new)


class NotesOfAChild(SimpleTestCase):
    """What a child does when nobody waits."""

    def setUp(self) -> None:
        self.written: list[list[Worked]] = []
        self.now = 0.0
        clock = patch("hobrel.computing.notes.time.monotonic", side_effect=lambda: self.now)
        clock.start()
        self.addCleanup(clock.stop)

    def notes(self, *answers: Any) -> Notes:
        waiting = list(answers)
        return Notes(lambda ask: waiting.pop(0) if waiting else Answer("result", ask.call.decode()))

    def note(self, key: str, content: str, write: Any = None) -> Note:
        return Note(key, Ask(content.encode()), Subject(content), write or self.written.append, key, lambda name, about: {})

    def drain(self, notes: Notes, turns: int = 12) -> None:
        for _ in range(turns):
            self.now += 1.0
            notes.work()

    def test_a_newer_note_takes_the_place_of_an_older_one_and_all_are_written_together(self) -> None:
        notes = self.notes()
        for key, content in (("a", "old"), ("b", "other"), ("a", "new")):
            notes.take(self.note(key, content))
        self.drain(notes)
        self.assertEqual([sorted((w.about, w.result) for w in one) for one in self.written], [[("a", "new"), ("b", "other")]])
        self.assertIsNone(notes.wait())

    def test_while_somebody_writes_a_note_waits_for_the_newest_but_not_for_ever(self) -> None:
        notes = self.notes()
        for second in range(16):
            self.now = float(second)
            notes.take(self.note("a", f"after {second} s"))
            notes.work()
            if notes.wait() == 0.0:
                notes.work()
        self.drain(notes, 1)
        self.assertEqual([[w.result for w in one] for one in self.written], [["after 12 s"]])
        self.drain(notes, 5)
        self.assertEqual([w.result for w in self.written[-1]], ["after 15 s"])

    def test_what_somebody_has_just_asked_for_is_written_at_once(self) -> None:
        notes = self.notes()
        for key in ("a", "b"):
            notes.take(self.note(key, f"of {key}"))
        notes.hurry(lambda subject: subject == Subject("of b"))
        self.assertEqual(notes.wait(), 0.0)
        notes.work()
        self.now = 0.4
        notes.work()
        self.assertEqual([[w.result for w in one] for one in self.written], [["of b"]])

    def test_what_cannot_be_written_is_tried_again_and_then_left(self) -> None:
        tries: list[int] = []

        def locked(worked: list[Worked]) -> None:
            tries.append(1)
            raise OSError("locked")

        notes = self.notes()
        notes.take(self.note("a", "x", locked))
        with self.assertLogs("hobrel.computing.notes", "ERROR"):
            self.drain(notes, 40)
        self.assertEqual((len(tries), notes.wait()), (5, None))

    def test_trouble_is_written_in_the_place_of_a_result(self) -> None:
        notes = self.notes(Answer("trouble", ("too_long", "It took too long.", {})))
        notes.take(self.note("a", "x"))
        self.drain(notes)
        self.assertEqual([(w.about, w.trouble.code) for w in self.written[0] if w.trouble], [("a", "too_long")])

    def test_a_note_whose_lab_book_is_gone_is_dropped(self) -> None:
        def gone(name: str, about: Any) -> Any:
            raise LookupError(name)

        notes = self.notes(Answer("lacks", ("log:1",)))
        notes.take(replace(self.note("a", "x"), supply=gone))
        self.drain(notes)
        self.assertEqual((self.written, notes.wait()), ([], None))

    def test_a_database_that_cannot_be_read_does_not_end_the_child(self) -> None:
        def locked(name: str, about: Any) -> Any:
            raise OperationalError("locked")

        notes = self.notes(Answer("lacks", ("log:1",)))
        notes.take(replace(self.note("a", "x"), supply=locked))
        with self.assertLogs("hobrel.computing.notes", "ERROR"):
            self.drain(notes)
        self.assertEqual((self.written, notes.wait()), ([], None))
