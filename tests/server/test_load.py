"""A whole department at once: 96 students sign in and write a reading a second while three teachers look on."""

from __future__ import annotations

import os
import unittest

from tests.bench.lesson import check_diary, hold_lesson
from tests.bench.room import BENCHES
from tests.bench.server import SECONDS, STUDENTS, Typist, Waits, crowd, look_from, sign_everybody_in
from tests.bench.serving import Server, Visitor
from tests.bench.timing import Pace

LONGEST_SIGN_IN, LONGEST_ANSWER = 2.0, 2.0
"""Seconds at the pace that the limits are for. What is asserted is that nobody is turned away and nothing is lost; `./run bench` tells how
long people wait on a machine that does nothing else.
"""


@unittest.skipUnless(os.environ.get("HOBREL_LONG") == "1", "it takes two minutes; see ./run test --long")
class Department(unittest.TestCase):
    def test_everybody_gets_in_and_every_reading_is_kept(self) -> None:
        with Server() as server:
            waits, pace = Waits(), Pace()
            students = sign_everybody_in(server.port, waits, 19)
            self.assertEqual((waits.troubles, len(waits.sign_ins)), ([], STUDENTS))
            teachers = look_from(server.port)
            for _ in range(30):
                pace.sample()
            slow = max(1.0, pace.slowness)
            typists = [Typist(student, student.book()) for student in students]
            before = self.revisions(teachers[0])
            crowd_waits, _ = crowd(server, typists, teachers, slow)
            self.assertEqual(crowd_waits.troubles, [])
            self.assertEqual(len(crowd_waits.edits), STUDENTS * SECONDS)
            self.assertLess(max(waits.sign_ins), LONGEST_SIGN_IN * slow)
            self.assertLess(max(crowd_waits.edits), LONGEST_ANSWER * slow)
            after = self.revisions(teachers[0])
            made = {book: after[book] - before[book] for book in after}
            self.assertEqual(set(made.values()), {STUDENTS // len(made) * SECONDS})

    def revisions(self, teacher: Visitor) -> dict[int, int]:
        books = [b["book"] for c in teacher.ask("GET", "/api/classes") for p in c["practicals"] for b in p["benches"] if b["book"]]
        return {book: teacher.ask("GET", f"/api/books/{book}")["revision"] for book in books}


@unittest.skipUnless(os.environ.get("HOBREL_LONG") == "1", "it takes three minutes; see ./run test --long")
class Lesson(unittest.TestCase):
    """A lesson compressed; with one bench it is among the tests in the browser (`test_lesson`)."""

    def test_a_lesson_of_a_whole_department_loses_nothing(self) -> None:
        with Server() as server:
            diary = hold_lesson(server.port, 150.0)
        check_diary(self, diary, BENCHES)
        self.assertGreater(min(diary.remarks, diary.answers), 0)
