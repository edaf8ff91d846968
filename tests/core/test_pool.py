"""Pooling: the class value, the bench that is off, and the likely reason."""

from __future__ import annotations

import unittest

from hobrel.core.errors import CoreError
from hobrel.core.statistics.pool import BenchResult, pool_results

GOOD = [12.1, 12.5, 12.4, 12.2, 12.6]


def results(*values: float, u: float = 0.2) -> list[BenchResult]:
    return [BenchResult(f"bench {i}", v, u if v > 1 else v * u / 12) for i, v in enumerate(values, 1)]


class PointedOut(unittest.TestCase):
    def test_known_slips(self) -> None:
        cases = [
            (0.1238, "10^-2", "100 times too small"),
            (124.1, "10^1", "10 times too large"),
            (12380.0, "10^3", "1\u202f000 times too large"),
            (12.35 * 57.2958, "180/pi", "degrees"),
            (1 / 12.38, "1/v", "turned over"),
        ]
        for value, factor, words in cases:
            with self.subTest(value):
                pool = pool_results([*results(*GOOD), BenchResult("off", value, abs(value) * 0.02)])
                self.assertEqual([(p.bench, p.factor) for p in pool.pointed_out], [("off", factor)])
                self.assertIn(words, pool.pointed_out[0].reason)
                self.assertEqual((pool.n, pool.recommended), (6, "mandel_paule"))
                self.assertAlmostEqual(pool.recommended_value[0], 12.36, delta=0.05)

    def test_benches_that_agree_are_left_in_peace(self) -> None:
        pool = pool_results(results(*GOOD))
        self.assertEqual((pool.pointed_out, pool.recommended), ((), "mandel_paule"))

    def test_scatter_beyond_their_own_uncertainty_is_counted_in(self) -> None:
        pool = pool_results(results(12.1, 12.3, 12.6, 12.8, 12.4, u=0.1))
        self.assertEqual(pool.recommended, "mandel_paule")
        self.assertGreater(pool.mandel_paule.u, pool.weighted.u_internal)

    def test_empty_or_certain_results_are_refused(self) -> None:
        for entries, code in (([], "too_few_points"), ([BenchResult("a", 1.0, 0.0)], "bad_number")):
            with self.subTest(code), self.assertRaises(CoreError) as caught:
                pool_results(entries)
            self.assertEqual(caught.exception.code, code)
