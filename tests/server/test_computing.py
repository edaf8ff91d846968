"""What computes on a lab book can be ended, and takes nothing else with it."""

from __future__ import annotations

import gc
import json
import os
import signal
import tempfile
import time
from pathlib import Path
from typing import Any
from unittest import TestCase as PlainTestCase

from django.test import TestCase

from hobrel.computing import asking
from hobrel.computing.asking import ask
from hobrel.computing.messages import CHILDREN
from hobrel.computing.sweeping import LEAST, MOST, REST, Sweeper
from hobrel.core.errors import CoreError
from hobrel.labbooks.actions import load_document
from hobrel.labbooks.computed import ask_in_parts
from hobrel.labbooks.models import Book
from tests.school import analysis_of, client_of, fill, keep_summaries, make_school, reading, send_edit
from tests.server import calls_that_go_wrong as calls
from tests.server.waiting import wait_until

PATIENCE = 20.0


def code_of(call: object, *given: object, deal: int = 0) -> str:
    try:
        ask(call, *given, deal=deal)  # type: ignore[arg-type]
    except CoreError as trouble:
        return trouble.code
    return "nothing"


def computing_processes() -> list[int]:
    """The processes that serve this database: other tests are done at the same time, each with its own."""
    found, folder = [], str(asking._folder()).encode()
    for entry in Path("/proc").iterdir():
        if entry.name.isdecimal():
            try:
                command = (entry / "cmdline").read_bytes()
            except OSError:
                continue
            if {b"hobrel.server.computing", folder} <= set(command.split(b"\0")):
                found.append(int(entry.name))
    return sorted(found)


def parent_of(processes: list[int]) -> int:
    """The one that none of the others has forked; numbers of processes begin again from the smallest."""
    forked_by = {p: int(Path(f"/proc/{p}/stat").read_text().rpartition(")")[2].split()[1]) for p in processes}
    return next(p for p in processes if forked_by[p] not in processes)


class Calls(PlainTestCase):
    def test_a_loop_without_an_end_is_ended_and_the_child_goes_on(self) -> None:
        before = computing_processes()
        self.assertEqual(code_of(calls.never_end), "too_long")
        self.assertEqual(ask(calls.add, 2, 3), 5)
        self.assertEqual([p for p in before if p not in computing_processes()], [])

    def test_each_item_has_its_own_time(self) -> None:
        began = time.monotonic()
        self.assertEqual(ask(calls.never_end_twice_then_add, 2, 3), ("too_long", "too_long", 5))
        self.assertLess(time.monotonic() - began, PATIENCE)

    def test_too_much_memory_is_a_named_error(self) -> None:
        self.assertEqual(code_of(calls.want_all_memory), "too_large")
        self.assertEqual(ask(calls.add, 2, 3), 5)

    def test_a_call_that_hears_no_signal_is_ended_by_the_kernel_and_not_tried_again(self) -> None:
        self.assertEqual(code_of(calls.never_answer_signals), "ended")
        began = time.monotonic()
        self.assertEqual(code_of(calls.never_answer_signals), "ended")
        self.assertLess(time.monotonic() - began, 1.0, "it is known from the first time")
        self.assertEqual(ask(calls.add, 2, 3), 5)

    def test_a_child_that_dies_is_followed_by_another_and_the_other_child_knows_nothing_of_it(self) -> None:
        self.assertEqual(code_of(calls.die, 1, deal=1), "ended")
        self.assertEqual(ask(calls.add, 2, 3, deal=0), 5)
        self.assertEqual(ask(calls.add, 2, 3, deal=1), 5)
        self.assertEqual(code_of(calls.die, 1, deal=1), "ended")

    def test_what_nobody_foresaw_fails_a_test(self) -> None:
        with self.assertRaisesRegex(RuntimeError, "nobody foresaw this"):
            ask(calls.stumble)

    def test_a_child_looks_for_circles_when_nobody_asks(self) -> None:
        for _ in range(LEAST + 1):
            ask(calls.leave_a_circle, deal=0)
        self.assertGreater(ask(calls.count_circles, deal=0), 0, "not while somebody asks")

        def swept() -> bool:
            time.sleep(1.5 * REST)
            return bool(ask(calls.count_circles, deal=0) == 0)

        wait_until(swept)

    def test_where_nobody_ever_rests_it_is_done_all_the_same(self) -> None:
        was = gc.get_threshold()
        self.addCleanup(gc.set_threshold, *was)
        sweeper = Sweeper()
        calls.leave_a_circle()
        for _ in range(LEAST - 1):
            sweeper.count()
        self.assertFalse(sweeper.is_due())
        for _ in range(MOST - LEAST):
            sweeper.count()
        self.assertTrue(sweeper.is_due())
        sweeper.count()
        self.assertFalse(sweeper.is_due())
        self.assertEqual(calls.count_circles(), 0)

    def test_where_all_are_gone_they_come_back_when_somebody_asks(self) -> None:
        self.assertEqual(ask(calls.add, 2, 3), 5)
        os.kill(parent_of(computing_processes()), signal.SIGKILL)
        self.wait_for(0, "children end with their parent")
        # a start takes longer than anybody is kept waiting for, on a machine that is busy
        wait_until(lambda: code_of(calls.add, 2, 4) == "nothing")
        self.wait_for(1 + 2 * CHILDREN, "a parent, and children for lab books and for what is heavy")

    def wait_for(self, count: int, what: str) -> None:
        until = time.monotonic() + PATIENCE
        while len(computing_processes()) != count:
            self.assertLess(time.monotonic(), until, what)
            time.sleep(0.02)


class SharedOut(TestCase):
    """One question about a lab book, asked in parts side by side."""

    def setUp(self) -> None:
        self.book = make_school().book
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = folder.name

    def meet(self, book: Book) -> list[tuple[str, int]]:
        found: list[list[Any]] = json.loads(ask_in_parts(book, calls.meet, [(self.folder, 1, 2), (self.folder, 2, 1)], calls.list_all))
        return [(title, met) for title, met in found]

    def test_all_are_worked_out_at_once_and_gathered_in_their_order(self) -> None:
        title = self.book.document["title"]
        self.assertEqual(self.meet(self.book), [(title, 2), (title, 1), (title, 2)])

    def test_what_has_changed_since_it_was_read_is_asked_about_as_it_is_now(self) -> None:
        """The lab book was read without its document, and is another by the time that children ask for that."""
        read = Book.objects.defer("document").get(pk=self.book.pk)
        load_document(self.book, self.book.document | {"title": "Another"})
        self.assertNotEqual(read.stamp, self.book.stamp)
        self.assertEqual({title for title, _ in self.meet(read)}, {"Another"})

    def test_one_that_ends_its_child_fails_all_and_the_next_question_is_answered(self) -> None:
        for victim in (0, 1):
            with self.assertRaises(CoreError) as caught:
                ask_in_parts(self.book, calls.die_as, [(0, victim), (1, victim)], calls.list_all)
            self.assertEqual(caught.exception.code, "ended")
        with self.assertRaises(CoreError) as caught:
            ask_in_parts(self.book, calls.die_as, [(0, 0), (1, 1)], calls.list_all)
        self.assertEqual(caught.exception.code, "ended", "both at once")
        self.assertEqual(len(self.meet(self.book)), 3)

    def test_benches_come_before_what_is_heavy(self) -> None:
        self.assertEqual([ask(os.nice, 0, heavy=heavy) for heavy in (False, True)], [os.nice(0), os.nice(0) + 5])


class Containment(TestCase):
    """Slips that used to take a lab book, the teacher's page and the pool down."""

    def setUp(self) -> None:
        self.school = make_school()
        self.book = self.school.book
        fill(self.book)
        fill(self.school.other_book, seed=4)
        self.ann, self.teacher = client_of(self.school.students[0]), client_of(self.school.teacher)

    def test_an_overhang_a_thousand_times_too_long_leaves_everything_standing(self) -> None:
        was = self.book.document["runs"][0]["settings"][0]["readings"]["L"][0]["text"]
        answer = send_edit(self.ann, self.book, reading("300", was, "s1", "L"))
        self.assertEqual(answer.status_code, 200)
        self.assertIsNone(answer.json()["analysis"]["trouble"])
        self.assertEqual(answer.json()["document"]["runs"][0]["settings"][0]["readings"]["L"][0]["text"], "300")
        self.assertEqual(self.teacher.get("/api/classes").status_code, 200)
        self.assertEqual(self.teacher.get(f"/api/practicals/{self.school.practical.pk}/pool").status_code, 200)

    def test_a_document_that_is_no_lab_book_any_more_is_one_tile_and_one_row(self) -> None:
        self.book.document = {"title": "torn", "runs": "gone"}
        self.book.stamp = "torn"
        self.book.save()
        keep_summaries(self.school.practical)
        benches = self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"]
        self.assertEqual([bool(b["trouble"]) for b in benches], [True, False])
        rows = self.teacher.get(f"/api/practicals/{self.school.practical.pk}/pool").json()["pools"][0]["rows"]
        self.assertEqual([bool(r["value"]) for r in rows], [False, True])
        self.assertEqual(self.ann.get(f"/api/books/{self.book.pk}").status_code, 422)

    def test_a_lab_book_that_cannot_be_read_is_one_tile_and_one_row(self) -> None:
        """Something has damaged a document behind our back."""
        self.book.document["quantities"][0]["instrument"]["division"] = "not a number"
        self.book.stamp = "damaged"
        self.book.save()
        keep_summaries(self.school.practical)
        with self.subTest("the bench sees its readings, and why nothing is worked out"):
            state = self.ann.get(f"/api/books/{self.book.pk}").json()
            self.assertEqual(len(state["document"]["runs"][0]["settings"]), 8)
            self.assertTrue(any(c["trouble"] for c in state["analysis"]["runs"][0]["columns"]))
        with self.subTest("the teacher sees the other bench as ever"):
            benches = self.teacher.get("/api/classes").json()[0]["practicals"][0]["benches"]
            whole = next(b for b in benches if b["book"] == self.school.other_book.pk)
            self.assertEqual(whole["finding"], analysis_of(self.school.other_book).findings[0].value.text)  # type: ignore[union-attr]
        with self.subTest("the pool has the other bench's finding"):
            rows = self.teacher.get(f"/api/practicals/{self.school.practical.pk}/pool").json()["pools"][0]["rows"]
            self.assertEqual([bool(r["value"]) for r in rows], [False, True])
