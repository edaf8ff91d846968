"""In which proportions points scatter: likelihoods beside SciPy's densities, and what verdicts make of them."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy.linalg import null_space
from scipy.stats import multivariate_normal

from hobrel.core.fitting.scattering import find_log_likelihood, ways_to_scatter
from hobrel.core.fitting.straightness import Bars, judge_points
from hobrel.core.uncertainty.traced import Floats


def density_of_contrasts(y: Floats, columns: Floats, way: Floats) -> float:
    """The same the long way: the density of what no sum of the columns can explain, by SciPy, with the best factor."""
    contrasts = null_space(columns)
    seen = contrasts.T @ y
    covariance = contrasts.T @ np.diag(way**2) @ contrasts
    factor = float(seen @ np.linalg.solve(covariance, seen)) / seen.size
    return float(multivariate_normal(cov=factor * covariance).logpdf(seen))


class Likelihoods(TestCase):
    def test_they_are_those_of_the_contrasts(self) -> None:
        dice = np.random.default_rng(1)
        for n in (5, 7, 12):
            x = dice.uniform(1, 9, n)
            columns = np.array([np.ones(n), x, x**2])
            y = 3 + x + dice.normal(0, 1, n) * np.exp(-x / 3)
            ways = [np.ones(n), np.exp(-x / 3), x]
            ours = [find_log_likelihood(y, columns, way) for way in ways]
            theirs = [density_of_contrasts(y, columns, way) for way in ways]
            np.testing.assert_allclose(np.diff(ours), np.diff(theirs), rtol=1e-9, atol=1e-12)

    def test_neither_the_unit_nor_what_was_fitted_before_matters(self) -> None:
        x, y, way = np.arange(1.0, 7), np.array([1.0, 2.2, 2.7, 4.4, 4.9, 6.3]), np.arange(1.0, 7)
        columns = np.array([np.ones(6), x])
        ours = find_log_likelihood(y, columns, way)
        self.assertAlmostEqual(find_log_likelihood(y, columns, 1e-3 * way), ours, places=9)
        self.assertAlmostEqual(find_log_likelihood(y - 4 + 2 * x, columns, way), ours, places=9)
        self.assertEqual(find_log_likelihood(np.zeros(6), columns, way), math.inf)


class Ways(TestCase):
    def test_the_same_everywhere_or_a_share(self) -> None:
        """ln v of v off by u is off by u/v, of v off by a share s by s."""
        v = np.array([1.0, 2.0, -4.0])
        all_alike, shares = ways_to_scatter(1 / v, v)
        np.testing.assert_allclose(all_alike, [1, 0.5, 0.25])
        np.testing.assert_allclose(shares, 1)

    def test_a_way_that_leaves_no_scatter_is_none(self) -> None:
        self.assertEqual(len(ways_to_scatter(np.ones(3), np.array([0.0, 1.0, 2.0]))), 1)
        self.assertEqual(ways_to_scatter(np.array([0.0, 1.0, 2.0]), np.ones(3)), ())
        self.assertEqual(ways_to_scatter(np.array([np.inf, 1.0, 2.0]), np.ones(3)), ())


class Verdicts(TestCase):
    def test_bars_in_the_wrong_proportions_do_not_bend_points(self) -> None:
        """Three of eight bars are small and none is kept to: the three lie on a bend, the others as far off everywhere."""
        x = np.arange(8.0)
        y = x + np.array([0.0, 0.02, 0.0, 0.3, -0.35, 0.3, -0.3, 0.35])
        bars = Bars(np.zeros(8), 1e-3 * np.exp(0.35 * x), np.zeros(8), math.inf)
        self.assertEqual(judge_points(x, y, bars), "unknown")
        # that all are off alike is what makes the difference: off as their bars say they do bend
        bent = x + 0.01 * x**2 + 1e-2 * np.exp(0.35 * x) * np.array([1, -1, 1, -1, -1, 1, -1, 1]) * 0.3
        self.assertEqual(judge_points(x, bent, bars), "bends")

    def test_without_bars_all_ways_must_show_it(self) -> None:
        x = np.linspace(1, 8, 8)
        y = x + 0.04 * (x - 4.5) ** 2 + np.array([0.1, -0.1, 0.1, -0.1, 0.1, -0.1, 0.1, -0.1])
        self.assertEqual(judge_points(x, y, None), "bends")
        heavy = np.where(x < 7, 10.0, 1e-3)
        self.assertEqual(judge_points(x, y, None, ways=(np.ones(8),)), "bends")
        self.assertEqual(judge_points(x, y, None, ways=(np.ones(8), heavy)), "straight")
