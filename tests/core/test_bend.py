"""The bend of points and what is said of it, at the limits; and the digits that readings were typed with."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy.special import ndtri, stdtrit

from hobrel.core.document.lab_book import Quantity, Reading, Run, Setting
from hobrel.core.fitting.bend import Bend, measure_bend
from hobrel.core.fitting.straightness import ALIKE, WANDERS, Bars, bend_together, judge_points, judge_without_bars
from hobrel.core.pipeline.typed_digits import most_typed_decimals, typed_decimals


class Limits(unittest.TestCase):
    def test_neighbours_of_thirty_points_at_von_neumann_s_limit(self) -> None:
        """The mean of the ratio is 2 and its variance 4 (n − 2)/(n² − 1) (J. von Neumann, 1941; from memory)."""
        n = 30
        limit = 2 + float(ndtri(WANDERS)) * math.sqrt(4 * (n - 2) / (n**2 - 1))
        x = np.arange(n, dtype=np.float64)
        # orthogonal to line, parabola and cubic, so that nothing bends: a slow wave and a quick one
        within, _ = np.linalg.qr(np.column_stack([np.vander(x / n, 5, increasing=True), np.cos(np.pi * x)]))
        slow, quick = within[:, 4], within[:, 5]

        def ratio(share: float) -> float:
            y = slow + share * quick
            return float(np.sum(np.diff(y) ** 2) / np.sum(y**2))

        low, high = 0.0, 1.0
        while high - low > 1e-9:
            low, high = ((low + high) / 2, high) if ratio((low + high) / 2) < limit else (low, (low + high) / 2)
        for share, verdict in ((low - 2e-4, "unknown"), (high + 2e-4, "straight")):
            y = 3 + 2 * x + slow + share * quick
            self.assertLess(abs(ratio(share) - limit), 1e-3)
            self.assertEqual(judge_without_bars(measure_bend(x, y), x, y), verdict)

    def test_a_bend_of_exact_data_is_one_beyond_rounding_whatever_their_size(self) -> None:
        x = np.linspace(0, 1, 9)
        for size in (1000.0, 1e-6):
            for curve, bent in ((1e-12, False), (1e-10, True)):
                found = measure_bend(x, size * (1 + curve * x**2))
                assert found is not None
                self.assertEqual(abs(found.t) > 1e5, bent, (size, curve))

    def test_seven_points_are_too_few_to_bend_both_ways(self) -> None:
        for n, swings in ((7, False), (8, True)):
            x = np.linspace(-1, 1, n)
            found = measure_bend(x, x**3 + 0.001 * np.cos(9 * x))
            assert found is not None
            self.assertEqual(found.swing != 0.0, swings)

    def test_of_a_long_log_all_rows_tell_at_how_many_places_it_stands(self) -> None:
        late = np.concatenate([np.zeros(64), np.arange(1.0, 7.0)])
        self.assertIsNotNone(measure_bend(late, late**2))
        self.assertIsNone(measure_bend(np.concatenate([np.zeros(64), [1.0, 2.0]]), np.arange(66.0)))

    def test_bars_of_nothing_are_none(self) -> None:
        x = np.linspace(0, 1, 12)
        y = x + 0.01 * np.cos(40 * x)
        nothing = np.zeros(12)
        self.assertEqual(judge_points(x, y, Bars(nothing, nothing, nothing, math.inf)), judge_points(x, y, None))


class Together(unittest.TestCase):
    def bends(self, t: float, n: int, count: int) -> bool:
        return bend_together([(Bend(t, 0.0, None, 0.0), n)] * count)

    def test_at_the_limit_by_hand(self) -> None:
        """Four deviates z each sum to 2 z after the root of four: the limit of one in a hundred is 2.576/2 each, in Student's t."""
        limit = float(stdtrit(5, 1 - _upper(-float(ndtri(ALIKE / 2)) / 2)))
        for t, alike in ((0.999 * limit, False), (1.001 * limit, True), (-1.001 * limit, True)):
            self.assertEqual(self.bends(t, 8, 4), alike)
        self.assertFalse(bend_together([(Bend(9.0, 0.0, None, 0.0), 8), (Bend(-9.0, 0.0, None, 0.0), 8)]))

    def test_three_points_say_nothing_and_exact_ones_stay_numbers(self) -> None:
        self.assertFalse(self.bends(1e6, 3, 5))
        self.assertFalse(bend_together([]))
        self.assertTrue(self.bends(1e6, 9, 1))
        # one whose points are exact counts for seven deviates, not for all the others together
        level = (Bend(0.0, 0.0, None, 0.0), 9)
        self.assertEqual([bend_together([(Bend(t, 0.0, None, 0.0), 9), *[level] * 9]) for t in (1e6, -1e6)], [False, False])

    def test_straight_benches_are_told_so_as_often_as_they_should_be(self) -> None:
        """200 classes of six benches without a bend: one in a hundred is told that they bend."""
        dice, x = np.random.default_rng(5), np.arange(8.0)
        told = 0
        for _ in range(200):
            found = [(b, 8) for _ in range(6) if (b := measure_bend(x, 2 * x + dice.normal(0, 1, 8))) is not None]
            told += bend_together(found)
        self.assertLessEqual(told, 6)


def _upper(z: float) -> float:
    return 0.5 * math.erfc(z / math.sqrt(2))


class Typed(unittest.TestCase):
    def test_a_row_that_is_not_there_or_blank_has_none(self) -> None:
        read = Quantity("y", "measured", "y", "y", "m")
        run = Run("r", "", (Setting("a", {"y": (Reading("1.20"),)}), Setting("b", {"y": (None,)}), Setting("c", {})))
        self.assertEqual([typed_decimals(read, run, row) for row in range(4)], [2, None, None, None])
        self.assertEqual(most_typed_decimals(read, run), 2)
        self.assertEqual(most_typed_decimals(read, Run("r", "", (Setting("c", {}),))), 0)
