"""Fewer points and signs for a drawing: none is lost where there is room, and the extremes never are."""

from __future__ import annotations

from unittest import TestCase

import numpy as np

from hobrel.core.presentation.results import LineMark
from hobrel.core.presentation.showing import draw_number_line
from hobrel.core.presentation.thinning import thin_points, thin_signs


class Thinned(TestCase):
    def test_as_many_as_there_is_room_for_are_all_drawn(self) -> None:
        x = np.arange(6.0)
        # flat but for the ends, so that thinning would leave the middle out
        self.assertEqual(thin_points(x, np.zeros(6), most=6), [0, 1, 2, 3, 4, 5])
        self.assertLess(len(thin_points(x, np.zeros(6), most=4)), 6)

    def test_the_lowest_and_the_highest_of_each_stretch_stay(self) -> None:
        y = np.array([0.0, 5.0, 1.0, 1.0, -3.0, 1.0, 2.0, 1.0])
        self.assertEqual(thin_points(np.arange(8.0), y, most=4), [0, 1, 4, 6])
        # an odd number of places makes one stretch fewer
        self.assertEqual(thin_points(np.arange(8.0), y, most=5), [0, 1, 4, 6])

    def test_signs_are_all_drawn_where_there_is_room_and_the_majority_where_there_is_none(self) -> None:
        for signs, most, expected in (
            ("+−+−", 4, "+−+−"),
            ("+−−+−", 1, "−"),
            ("+−+−", 2, "00"),
            ("++−−", 2, "+−"),
            ("++−−−−", 1, "−"),
            ("+−0−++", 2, "0+"),
            ("−−+00+", 2, "−+"),
        ):
            with self.subTest(signs, most=most):
                self.assertEqual(thin_signs(signs, most), expected)

    def test_a_number_line_holds_every_mark_with_its_bar_and_little_more(self) -> None:
        line = draw_number_line((LineMark("a", 10.0, 0.1), LineMark("b", 10.2, 3.0)), "m")
        self.assertLessEqual(line.axis_low, 7.2)
        self.assertGreaterEqual(line.axis_high, 13.2)
        self.assertLess(line.axis_high - line.axis_low, 12)
        self.assertEqual([tick.value for tick in line.ticks], [7, 8, 9, 10, 11, 12, 13])

    def test_one_that_is_far_off_does_not_flatten_the_others(self) -> None:
        marks = (LineMark("a", 12.3, 0.1), LineMark("b", 12.5, 0.1), LineMark("off", 0.124, 0.001))
        line = draw_number_line(marks, "GPa", {"off"})
        self.assertGreater(line.axis_low, 12)
        self.assertEqual(line.marks, marks)
        alone = draw_number_line(marks[2:], "GPa", {"off"})
        self.assertLess(alone.axis_low, 0.124)
        self.assertGreater(alone.axis_high, 0.124)
