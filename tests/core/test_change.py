"""Rates, areas, stretches, the steepest point, and values read off a line."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat

from hobrel.core.errors import CoreError
from hobrel.core.fitting.area import find_area
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.read_off import Direction, read_off
from hobrel.core.fitting.steepest import find_steepest_point
from hobrel.core.fitting.stretch import summarise_stretch
from hobrel.core.statistics.rates import RateKind, find_rates

UNEVEN = np.array([0.0, 0.4, 1.0, 1.3, 2.5, 3.0, 4.2])


class Rates(unittest.TestCase):
    def test_centred_differences_agree_with_numpy(self) -> None:
        """`numpy.gradient` on uneven x is of second order inside and one-sided at the ends."""
        y = np.exp(0.7 * UNEVEN) - UNEVEN**2
        np.testing.assert_allclose(find_rates(UNEVEN, y, method="centred").rates, np.gradient(y, UNEVEN), rtol=1e-12)

    def test_a_parabola_is_followed_exactly(self) -> None:
        """Inside, three-point and smoothed differences are exact for y = 3x² − x; neighbours are exact at midpoints."""
        y = 3 * UNEVEN**2 - UNEVEN
        for method, places in (("neighbours", slice(None)), ("centred", slice(1, -1)), ("smoothed", slice(None))):
            with self.subTest(method):
                found = find_rates(UNEVEN, y, method=method)  # type: ignore[arg-type]
                np.testing.assert_allclose(found.rates[places], (6 * found.x - 1)[places], rtol=1e-10)

    def test_bars_are_carried_through(self) -> None:
        """Against the `uncertainties` package (PyPI), the same points written out."""
        x, y = [ufloat(v, 0.02) for v in (1.0, 1.5, 2.5)], [ufloat(v, 0.3) for v in (2.0, 4.0, 9.0)]
        found = find_rates([1.0, 1.5, 2.5], [2.0, 4.0, 9.0], 0.3, 0.02)
        assert found.u is not None
        for i in range(2):
            expected = (y[i + 1] - y[i]) / (x[i + 1] - x[i])
            self.assertAlmostEqual(found.rates[i], expected.n, places=12)
            self.assertAlmostEqual(found.u[i], expected.s, places=12)

    @given(st.permutations(range(7)), st.sampled_from(["neighbours", "centred", "smoothed"]))
    def test_the_order_of_rows_does_not_matter(self, order: list[int], method: RateKind) -> None:
        y, u = np.sin(UNEVEN), 0.1 + 0.01 * np.arange(7)
        a, b = find_rates(UNEVEN, y, u, method=method), find_rates(UNEVEN[order], y[order], u[order], method=method)
        np.testing.assert_allclose(a.rates, b.rates)
        assert a.u is not None and b.u is not None
        np.testing.assert_allclose(a.u, b.u)

    def test_two_points_at_one_x_have_no_rate(self) -> None:
        with self.assertRaises(CoreError) as caught:
            find_rates([1, 2, 2], [1, 2, 3])
        self.assertEqual(caught.exception.code, "outside_domain")


class SteepestPoints(unittest.TestCase):
    def test_a_titration_by_second_differences(self) -> None:
        """The usual hand calculation (common practice): rates 4, 14, 6 around 20.05 mL; second differences +100, −80 at 20.0, 20.1."""
        x, y = [19.8, 19.9, 20.0, 20.1, 20.2, 20.3], [6.0, 6.2, 6.6, 8.0, 8.6, 8.8]
        found = find_steepest_point(x, y)
        self.assertAlmostEqual(found.at, 20.05, places=10)
        self.assertAlmostEqual(found.u, 0.05, places=10)
        self.assertAlmostEqual(found.rate, 14.0, places=8)
        assert found.refined is not None
        self.assertAlmostEqual(found.refined, 20.0 + 0.1 * 100 / 180, places=8)
        self.assertIsNone(found.fraction_y)

    def test_the_reading_half_way(self) -> None:
        """A logistic curve is steepest at its centre, by symmetry."""
        x = np.arange(0.0, 10.5, 0.5)
        y = 3 + 8 / (1 + np.exp(-3 * (x - 6.2)))
        found = find_steepest_point(x, y)
        assert found.refined is not None
        self.assertAlmostEqual(found.refined, 6.2, delta=0.05)
        self.assertAlmostEqual(found.fraction_x, found.refined / 2, places=12)
        assert found.fraction_y is not None
        self.assertAlmostEqual(found.fraction_y, float(np.interp(found.refined / 2, x, y)), places=12)

    def test_at_the_edge_nothing_is_refined(self) -> None:
        self.assertIsNone(find_steepest_point([0.0, 1, 2, 3], [0.0, 9, 10, 10.5], 0.9).refined)
        self.assertIsNone(find_steepest_point([0.0, 1, 2, 3], [0.0, 0.5, 1, 9], 0.9).refined)

    def test_places_that_are_unevenly_apart_count_by_their_distance(self) -> None:
        """By hand: rates 1, 4, 2 at 0.5, 2, 4; second differences 3/1.5 = 2 at 1.25 and −2/2 = −1 at 3; nought two thirds of the way."""
        found = find_steepest_point([0.0, 1, 3, 5], [0.0, 1, 9, 13])
        assert found.refined is not None
        self.assertAlmostEqual(found.refined, 1.25 + 1.75 * 2 / 3, places=12)


class AreasAndStretches(unittest.TestCase):
    def test_area_agrees_with_numpy_and_carries_bars(self) -> None:
        y, u = np.cos(UNEVEN) + 2, np.linspace(0.1, 0.2, 7)
        found = find_area(UNEVEN, y, u)
        self.assertAlmostEqual(found.value, float(np.trapezoid(y, UNEVEN)), places=12)
        points = [ufloat(a, b) for a, b in zip(y, u, strict=True)]
        expected = sum((UNEVEN[i + 1] - UNEVEN[i]) * (points[i] + points[i + 1]) / 2 for i in range(6))
        assert found.u is not None
        self.assertAlmostEqual(found.u, expected.s, places=12)

    def test_a_stretch_is_summarised_on_its_own(self) -> None:
        y = [5.0, 1.0, 2.1, 2.9, 4.2, 99.0, 98.0]
        found = summarise_stretch(UNEVEN, y, 2.5, 0.4)
        self.assertEqual((found.low, found.high, found.summary.n, found.summary.min, found.summary.max), (0.4, 2.5, 4, 1.0, 4.2))
        with self.assertRaises(CoreError):
            summarise_stretch(UNEVEN, y, 10, 11)


class ReadOffs(unittest.TestCase):
    """Fluorescein standards of Miller and Miller (the published back-readings themselves are in the cases)."""

    X, Y = np.arange(0.0, 14, 2), np.array([2.1, 5.0, 9.0, 12.6, 17.3, 21.0, 24.7])

    def test_back_by_the_formula_of_the_handbooks(self) -> None:
        """(s/m) √(1/k + 1/N + (y₀ − ȳ)²/(m² Σ(x − x̄)²)): Eurachem/CITAC QUAM, E.4."""
        fit = fit_line(self.X, self.Y)
        for y0, k in ((2.9, 1), (13.5, 4), (23.0, 2)):
            got = read_off(fit, (0, 12), "back", y0, repeats=k)
            sxx = float(np.sum((self.X - self.X.mean()) ** 2))
            u = fit.residual_sd / fit.gradient * math.sqrt(1 / k + 1 / 7 + (y0 - self.Y.mean()) ** 2 / (fit.gradient**2 * sxx))
            self.assertAlmostEqual(got.u, u, places=12)

    def test_forth_and_back_meet(self) -> None:
        fit = fit_line(self.X, self.Y, 0.4)
        there = read_off(fit, (0, 12), "forward", 5.0)
        back = read_off(fit, (0, 12), "back", there.value)
        self.assertAlmostEqual(back.value, 5.0, places=12)
        self.assertAlmostEqual(back.u * fit.gradient, there.u, places=12)
        with_reading = read_off(fit, (0, 12), "back", there.value, u_at=0.3)
        self.assertAlmostEqual(with_reading.u * fit.gradient, math.hypot(there.u, 0.3), places=12)

    def test_extrapolation_is_flagged(self) -> None:
        fit = fit_line(self.X, self.Y)
        cases: list[tuple[Direction, float, bool]] = [
            ("forward", 12.0, False),
            ("forward", 12.1, True),
            ("back", 13.5, False),
            ("back", 40.0, True),
        ]
        for direction, at, expected in cases:
            with self.subTest(direction, at=at):
                self.assertEqual(read_off(fit, (0, 12), direction, at).extrapolated, expected)

    def test_what_cannot_be_read_off(self) -> None:
        with self.assertRaises(CoreError):
            read_off(fit_line([1, 2, 3], [5, 5, 5]), (1, 3), "back", 5.0)
        with self.assertRaises(CoreError):
            read_off(fit_line([1, 2], [5, 6]), (1, 2), "forward", 1.5)
