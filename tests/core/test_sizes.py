"""Rows of another size or sign than their neighbours: what anybody sees in the table, whatever it is drawn as."""

from __future__ import annotations

import unittest

import numpy as np

from hobrel.core.checks.sizes import find_out_of_size
from hobrel.core.checks.smooth import Rough

X = np.array([0.0, 10.0, 20.0, 30.0, 40.0, 50.0, 60.0])
DECAY = 8.0 * np.exp(-0.023 * X)
LENS = np.array([0.600, 0.357, 0.287, 0.257, 0.229, 0.219, 0.201])


class Sizes(unittest.TestCase):
    def look(self, y: np.ndarray, u: float = 0.01, x: np.ndarray = X) -> Rough | None:
        return find_out_of_size(x, y, np.full(y.size, u))

    def changed(self, y: np.ndarray, row: int, factor: float) -> np.ndarray:
        return np.where(np.arange(y.size) == row, y * factor, y)

    def test_another_unit_is_seen_where_its_logarithm_or_inverse_would_hide_it(self) -> None:
        for y in (DECAY, LENS):
            for row in range(y.size):
                for factor in (100.0, 0.01, 1000.0, 0.001, *(() if row in (0, 6) else (10.0, 0.1))):
                    found = self.look(self.changed(y, row, factor), 1e-4)
                    with self.subTest(row=row, factor=factor):
                        assert found is not None
                        self.assertEqual((found.rows, found.chance), ((row,), 0.0))
                        self.assertAlmostEqual(np.log10(found.expected / y[row]), 0, delta=0.2)

    def test_in_whatever_order_and_of_whatever_sign(self) -> None:
        turned = np.array([3, 0, 6, 1, 5, 2, 4])
        found = self.look(-self.changed(DECAY, 4, 0.01)[turned], x=X[turned])
        assert found is not None
        self.assertEqual(found.rows, (6,))
        self.assertAlmostEqual(found.expected, -DECAY[4], delta=0.01)

    def test_one_sign_among_others(self) -> None:
        found = self.look(self.changed(DECAY, 3, -1.0))
        assert found is not None
        self.assertEqual(found.rows, (3,))
        self.assertAlmostEqual(found.expected, DECAY[3], delta=0.01)
        self.assertIsNone(self.look(self.changed(DECAY, 6, -1.0)), "a table may cross nought at its end")
        self.assertIsNone(self.look(self.changed(self.changed(DECAY, 3, -1.0), 2, -1.0)))
        self.assertIsNone(self.look(np.array([52.0, 22.5, 4.4, -3.0, 0.7, 9.0, 21.0])), "or dip below it")

    def test_what_grows_or_peaks_is_left_in_peace(self) -> None:
        peak = 1 / (1 + ((X - 30) / 8) ** 2)
        for y in (DECAY, LENS, X**3 + 1, 0.02 + X, (X**3 + 1)[::-1], np.exp(0.2 * X), peak, 14 - X / 5, 6.01 - X / 10):
            self.assertIsNone(self.look(y))
        self.assertIsNotNone(self.look(self.changed(DECAY, 3, 7.95)), "eight times")
        self.assertIsNone(self.look(self.changed(DECAY, 3, 7.90)))
        self.assertIsNone(self.look(self.changed(DECAY, 0, 20.0)), "beyond the last two rows nobody knows so well")
        steep = np.array([1.0, 3.0, 9.0, 2.0, 9.0, 30.0, 90.0])
        self.assertIsNone(self.look(self.changed(steep, 3, 20.0)), "where others jump by as much")

    def test_near_nought_any_size_is_chance(self) -> None:
        y = np.array([0.9, 0.7, 0.5, 0.002, 0.05, 0.04, 0.03])
        self.assertIsNone(self.look(self.changed(LENS, 3, 0.01), 0.04))
        self.assertIsNone(self.look(y, 0.05))
        self.assertIsNone(self.look(self.changed(DECAY, 3, 0.0)), "nought is no size")

    def test_four_rows_are_too_few(self) -> None:
        self.assertIsNone(self.look(self.changed(DECAY, 2, 0.01)[:4], x=X[:4]))
        self.assertIsNotNone(self.look(self.changed(DECAY, 2, 0.01)[:5], x=X[:5]))


if __name__ == "__main__":
    unittest.main()
