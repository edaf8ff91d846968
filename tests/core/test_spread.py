"""Repeats averaged: every spread by hand, both ways of combining, the typical spread of a column."""

from __future__ import annotations

import math
from unittest import TestCase

from scipy import stats

from hobrel.core.errors import CoreError
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.statistics.spread import SpreadKind, Summary, average, find_typical_bars, summarise

# mean 4, deviations −3, −2, 0, 5: Σd² = 38, s² = 38/3
REPEATS = [1.0, 2.0, 4.0, 9.0]
SD = math.sqrt(38 / 3)
SPREADS: dict[SpreadKind, float] = {
    "half_range": 4.0, "mean_abs_deviation": 2.5, "largest_deviation": 5.0, "sd": SD, "standard_error": SD / 2,
}  # fmt: skip


class Repeats(TestCase):
    def test_a_summary(self) -> None:
        found = summarise(REPEATS)
        self.assertEqual((found.n, found.mean, found.min, found.max, found.median), (4, 4.0, 1.0, 9.0, 3.0))
        for kind, value in SPREADS.items():
            self.assertAlmostEqual(getattr(found, kind), value, 12)
        self.assertEqual(summarise([2.5]), Summary(1, 2.5, 2.5, 2.5, 2.5, 0.0, 0.0, 0.0, None, None))
        with self.assertRaises(CoreError) as caught:
            summarise([])
        self.assertEqual(caught.exception.code, "too_few_points")

    def test_many_digits_in_common_do_not_spoil_the_spread(self) -> None:
        """1 000 000.1 to 1 000 000.4, as decimal texts (the idea of NIST's NumAcc sets): s = 0.1290994…"""
        self.assertAlmostEqual(summarise([1e6 + 0.1, 1e6 + 0.2, 1e6 + 0.3, 1e6 + 0.4]).sd or 0, math.sqrt(0.05 / 3), 15)

    def test_every_spread_combined_with_the_instrument(self) -> None:
        for kind, value in SPREADS.items():
            for instrument in (0.0, 0.5, 6.0):
                with self.subTest(kind, instrument=instrument):
                    larger, both = average(REPEATS, instrument, kind), average(REPEATS, instrument, kind, "quadrature")
                    self.assertAlmostEqual(larger.u, max(value, instrument), 12)
                    self.assertAlmostEqual(both.u, math.hypot(value, instrument), 12)
                    self.assertEqual(larger.made_by, "spread" if value > instrument else "instrument")
                    self.assertEqual(both.made_by, "both" if instrument else "spread")
                    self.assertEqual((larger.t, larger.is_typical), (None, False))

    def test_one_reading_has_the_instrument_s(self) -> None:
        found = average([3.0], 0.2, "sd", "quadrature", 0.95)
        self.assertEqual((found.u, found.spread_u, found.made_by, found.t), (0.2, None, "instrument", None))

    def test_a_coverage_widens_the_standard_error_alone(self) -> None:
        t = float(stats.t.ppf(0.975, 3))
        self.assertAlmostEqual(average(REPEATS, 0.0, "standard_error", coverage=0.95).u, t * SD / 2, 12)
        self.assertAlmostEqual(average(REPEATS, 0.0, "sd", coverage=0.95).u, SD, 12)

    def test_degrees_of_freedom_are_cut_to_whole_ones(self) -> None:
        """JCGM 100:2008, table G.2: 2.13 for 95.45 %… here by SciPy; less than one is too few."""
        self.assertAlmostEqual(coverage_factor(0.95, 4.9), float(stats.t.ppf(0.975, 4)), 12)
        self.assertAlmostEqual(coverage_factor(0.95, math.inf), float(stats.norm.ppf(0.975)), 9)
        self.assertAlmostEqual(coverage_factor(0.95, 1), float(stats.t.ppf(0.975, 1)), 9)
        for coverage, dof, code in ((0.95, 0.9, "too_few_points"), (0.0, 3, "bad_job"), (1.0, 3, "bad_job")):
            with self.assertRaises(CoreError) as caught:
                coverage_factor(coverage, dof)
            self.assertEqual(caught.exception.code, code)


class TypicalBars(TestCase):
    GROUPS = (REPEATS, [1.0, 3.0], [5.0], [])

    def test_of_every_spread(self) -> None:
        """Of [1, 3]: half range 1, mean deviation 1, largest 1, s² = 2; pooled s² = (38 + 2)/4 = 10."""
        expected: dict[SpreadKind, list[float | None]] = {
            "half_range": [2.5, 2.5, None, None], "mean_abs_deviation": [1.75, 1.75, None, None], "largest_deviation": [3, 3, None, None],
            "sd": [math.sqrt(10)] * 2 + [None] * 2, "standard_error": [math.sqrt(10) / 2, math.sqrt(5), None, None],
        }  # fmt: skip
        for kind, bars in expected.items():
            with self.subTest(kind):
                for found, bar in zip(find_typical_bars(self.GROUPS, kind), bars, strict=True):
                    self.assertEqual(found is None, bar is None)
                    self.assertAlmostEqual(found or 0, bar or 0, 12)

    def test_a_coverage_by_the_pooled_degrees_of_freedom(self) -> None:
        found = find_typical_bars(self.GROUPS, "standard_error", 0.95)
        self.assertAlmostEqual(found[0] or 0, float(stats.t.ppf(0.975, 4)) * math.sqrt(10) / 2, 12)
        self.assertEqual(find_typical_bars([[1.0], []], "sd"), [None, None])
