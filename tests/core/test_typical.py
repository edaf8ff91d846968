"""The typical spread of a column: pooled, proportional, or each setting's own; Cochran's critical values by table and by drawing."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np
from scipy.stats import chi2

from hobrel.core.statistics.typical import GROWS, find_typical_spread


class Kinds(TestCase):
    def test_alike_settings_are_pooled(self) -> None:
        """Σ(nᵢ−1)sᵢ²/Σ(nᵢ−1): variances 2 and 8 of two readings each, 1 of three."""
        found = find_typical_spread([[1.0, 3.0], [4.0, 8.0], [5.0, 6.0, 7.0], [9.0], []])
        assert found is not None
        self.assertEqual((found.kind, found.dof), ("same", 4.0))
        np.testing.assert_allclose(found.sd, math.sqrt((2 + 8 + 2) / 4))

    def test_nothing_is_known_of_lone_readings(self) -> None:
        self.assertIsNone(find_typical_spread([[1.0], [2.0], []]))

    def test_a_share_of_the_value(self) -> None:
        dice = np.random.default_rng(3)
        groups = [(v * (1 + 0.03 * dice.standard_normal(5))).tolist() for v in (1.0, 10.0, 100.0, 1000.0)]
        found = find_typical_spread(groups)
        assert found is not None
        self.assertEqual((found.kind, found.dof), ("proportional", 16.0))
        np.testing.assert_allclose(found.sd / [np.mean(g) for g in groups], found.sd[0] / np.mean(groups[0]))
        # the root mean square of the settings' own coefficients of variation
        np.testing.assert_allclose(
            found.sd[0] / np.mean(groups[0]), np.sqrt(np.mean([(np.std(g, ddof=1) / np.mean(g)) ** 2 for g in groups]))
        )

    def test_two_readings_a_setting_tell_a_share_by_their_likelihood(self) -> None:
        """Variances are drawn from χ² with one degree of freedom: their density (SciPy's) under one spread and under one share,
        each at its best. Cochran's test sees nothing in either.
        """
        values = np.array([1.0, 2.0, 4.0, 8.0, 16.0, 32.0])
        for off, kind in (((0.03, 0.05, 0.17, 0.2, 0.5, 0.45), "proportional"), ((0.3, 0.4, 0.2, 0.3, 0.5, 0.45), "same")):
            found = find_typical_spread([[v - d, v + d] for v, d in zip(values, off, strict=True)])
            assert found is not None
            variances = 2 * np.array(off) ** 2
            same, share = (np.full(6, np.mean(variances)), np.mean(variances / values**2) * values**2)
            ratio = np.prod(chi2.pdf(variances / share, 1) / share) / np.prod(chi2.pdf(variances / same, 1) / same)
            self.assertEqual(ratio > 1 / GROWS, kind == "proportional")
            self.assertLess(float(np.max(variances) / np.sum(variances)), 0.78, "Cochran's critical value of six with one, 5 %: 0.7808")
            self.assertEqual(found.kind, kind)

    def test_it_is_a_share_where_that_is_twenty_times_likelier(self) -> None:
        """Of two settings, 1 ± a and r ± b: L₂/L₁ = ((a² + b²)/(a² + b²/r²))/r."""
        for ratio, kind in ((20.1, "proportional"), (19.9, "same")):
            # b = r a: one share; (1 + r²)/2r is then the ratio of likelihoods
            r = ratio + math.sqrt(ratio**2 - 1)
            found = find_typical_spread([[1 - 0.01, 1 + 0.01], [r * 0.99, r * 1.01]])
            assert found is not None
            self.assertEqual(found.kind, kind)

    def test_each_its_own_and_none_is_nothing(self) -> None:
        found = find_typical_spread([[10.0, 10.01, 9.99], [10.0, 10.0, 10.0], [10.0, 13.0, 7.0], [10.02, 10.0, 9.98], [10.0]])
        assert found is not None
        self.assertEqual(found.kind, "own")
        # the one whose readings are alike has that of all: Σ 2 sᵢ² / 8
        pooled = math.sqrt((0.01**2 + 0 + 3**2 + 0.02**2) / 4)
        np.testing.assert_allclose(found.sd[:4], [0.01, pooled, 3.0, 0.02], rtol=1e-9)
        np.testing.assert_array_equal(np.asarray(found.dof)[:4], 2.0)
        self.assertTrue(math.isnan(float(found.sd[4])))

    def test_two_readings_a_setting_are_enough_to_be_told_apart(self) -> None:
        """Nine settings that read ±1 about nothing, and one that reads ±1000: 10⁶ of 10⁶ + 9 is more than Cochran's 0.72 of ten (1 %)."""
        found = find_typical_spread([*[[1.0, -1.0]] * 9, [1000.0, -1000.0]])
        assert found is not None
        self.assertEqual(found.kind, "own")
        np.testing.assert_allclose(found.sd, [*[math.sqrt(2)] * 9, 1000 * math.sqrt(2)])

    def test_the_unit_does_not_matter(self) -> None:
        for unit in (1e-3, 1.0, 1e3):
            found = find_typical_spread([*[[-1e-3 * unit, 0.0, 1e-3 * unit]] * 9, [-unit, 0.0, unit]])
            assert found is not None
            self.assertEqual(found.kind, "own")

    def test_readings_that_are_all_alike_are_of_one_kind(self) -> None:
        found = find_typical_spread([[1.0, 1.0], [2.0, 2.0], [3.0, 3.0]])
        assert found is not None
        self.assertEqual((found.kind, found.sd.tolist()), ("same", [0.0, 0.0, 0.0]))

    def test_two_settings_are_enough_to_be_told_apart(self) -> None:
        found = find_typical_spread([[1.0, -1.0] * 5, [1000.0, -1000.0] * 5])
        assert found is not None
        self.assertEqual(found.kind, "own")


class Cochran(TestCase):
    def test_its_critical_value(self) -> None:
        """C of 6 variances with 2 degrees of freedom at 1 %: 0.722 (ISO 5725-2:1994, table 4, n = 3, from memory): just below and above."""
        for share, kind in ((0.71, "same"), (0.73, "own")):
            variances = [share, *[(1 - share) / 5] * 5]
            # about a mean of nothing no spread is a share of the value
            groups = [[-math.sqrt(v), 0.0, math.sqrt(v)] for v in variances]
            found = find_typical_spread(groups)
            assert found is not None
            with self.subTest(share):
                self.assertEqual(found.kind, kind)

    def test_alike_settings_are_told_apart_as_rarely_as_it_says(self) -> None:
        dice, told = np.random.default_rng(4), 0
        for _ in range(2000):
            found = find_typical_spread(dice.normal(5, 0.1, (8, 3)).tolist())
            assert found is not None
            told += found.kind != "same"
        self.assertLessEqual(told / 2000, 0.02)
