"""How scales are read: how far off, at a mark or between, and who reads to the mark only."""

from __future__ import annotations

import unittest

from hobrel.core.errors import CoreError
from hobrel.core.questions.apparatus import Seeds, Sitting, read_scale
from hobrel.core.statistics.scale_reading import ScaleReading, judge_habit, judge_reading
from hobrel.shelf.iron_in_tea import write_draft
from tests.rigs.hands import bench_of


class Scales(unittest.TestCase):
    def test_a_reading_is_off_by_so_many_divisions(self) -> None:
        for value, stands, division, off, at_mark in (
            (21.3, 21.34, 0.1, -0.4, True),
            (21.34, 21.34, 0.1, 0.0, False),
            (48.0, 47.3, 1.0, 0.7, True),
            (-3.0, -2.5, 0.5, -1.0, True),
            (1234.56, 1234.5, 0.02, 3.0, True),
            (0.05, 0.0, 0.1, 0.5, False),
        ):
            found = judge_reading(value, stands, division)
            self.assertAlmostEqual(found.off, off)
            self.assertEqual(found.at_mark, at_mark, (value, division))

    def habit(self, marks: int, between: int, off: float = 0.3) -> str:
        habit = judge_habit([ScaleReading(off, True)] * marks + [ScaleReading(-off, False)] * between)
        self.assertEqual((habit.count, habit.at_marks), (marks + between, marks))
        return habit.habit

    def test_who_reads_to_the_mark_only(self) -> None:
        """By the binomial distribution with a fifth: 4 of 4 come by chance in 0.0016, 3 of 4 in 0.027, 5 of 7 in 0.0047."""
        self.assertEqual(self.habit(3, 0), "too_few")
        self.assertEqual(self.habit(4, 0), "to_the_mark")
        self.assertEqual(self.habit(3, 1), "between_marks")
        self.assertEqual(self.habit(5, 2), "to_the_mark")
        self.assertEqual(self.habit(4, 16), "between_marks")
        self.assertEqual(self.habit(0, 9), "between_marks")

    def test_how_far_off_is_told(self) -> None:
        for off, words in ((0.04, "under 0.1 of a division"), (0.31, "0.3 of a division"), (2.04, "2.0 divisions")):
            self.assertEqual(judge_habit([ScaleReading(off, True), ScaleReading(-off, False), ScaleReading(9, True)]).off, words)
        self.assertEqual(judge_habit([]).off, "")

    def test_what_is_read_on_a_rig(self) -> None:
        book, seeds, sitting = bench_of(write_draft()), Seeds("class", "bench"), Sitting("h", (), 1.0)
        self.assertTrue(abs(read_scale(book, seeds, sitting, "burette", "0.4").off) < 1.5)
        self.assertTrue(read_scale(book, seeds, sitting, "burette", "0.40 mL").at_mark)
        self.assertAlmostEqual(
            read_scale(book, seeds, sitting, "burette", "0.52").off - read_scale(book, seeds, sitting, "burette", "0.4").off, 1.2
        )
        for face, text in (("electrode", "325"), ("nothing", "1"), ("burette", "high"), ("burette", "")):
            with self.subTest(face, text=text), self.assertRaises(CoreError):
                read_scale(book, seeds, sitting, face, text)
