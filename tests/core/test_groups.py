"""Groups and outliers, against SciPy, NIST's handbook and tabulated critical values."""

from __future__ import annotations

import unittest

import numpy as np
from scipy import stats

from hobrel.core.errors import CoreError
from hobrel.core.statistics.groups import compare_groups
from hobrel.core.statistics.outliers import check_outlier


class Groups(unittest.TestCase):
    def test_it_agrees_with_scipy(self) -> None:
        random = np.random.default_rng(4)
        groups = [random.normal(m, 0.4, n).tolist() for m, n in ((9.8, 5), (9.9, 8), (9.4, 6))]
        found, expected = compare_groups(groups), stats.f_oneway(*groups)
        assert found.f is not None and found.p_value is not None
        self.assertAlmostEqual(found.f, float(expected.statistic), places=10)
        self.assertAlmostEqual(found.p_value, float(expected.pvalue), places=12)
        self.assertAlmostEqual(found.grand_mean, float(np.mean(np.concatenate(groups))), places=12)
        np.testing.assert_allclose(found.means, [np.mean(g) for g in groups], rtol=1e-12)

    def test_thirteen_digits_in_common_cost_nothing(self) -> None:
        """As NIST StRD SmLs07 is built: the pattern 0.4 0.3 0.5 … on 10¹²; F and s are those of the pattern alone."""
        pattern = [[0.4 + shift] + [0.3 + shift, 0.5 + shift] * 10 for shift in (0.0, -0.1, 0.1, 0.0, -0.1)]
        plain = compare_groups([[round(v, 1) for v in g] for g in pattern])
        moved = compare_groups([[float(f"100000000000{round(v, 1)}".replace("0000.", "000.")) for v in g] for g in pattern])
        assert plain.f is not None and moved.f is not None
        self.assertAlmostEqual(moved.f / plain.f, 1, places=9)
        self.assertAlmostEqual(moved.pooled_sd / plain.pooled_sd, 1, places=9)

    def test_what_cannot_be_compared(self) -> None:
        for groups in ([[1.0, 2.0]], [[1.0], []], [[1.0], [2.0]]):
            with self.subTest(groups), self.assertRaises(CoreError):
                compare_groups(groups)

    def test_groups_without_any_scatter_have_no_f(self) -> None:
        found = compare_groups([[1.0, 1.0], [2.0, 2.0]])
        self.assertEqual((found.f, found.p_value, found.pooled_sd), (None, None, 0.0))

    def test_a_group_of_one_counts_between_the_groups(self) -> None:
        found = compare_groups([[1.0, 2.0, 4.0], [6.0]])
        self.assertEqual((found.dof_between, found.dof_within), (1, 2))
        self.assertAlmostEqual(found.f or 0, float(stats.f_oneway([1.0, 2.0, 4.0], [6.0]).statistic), 12)


class Outliers(unittest.TestCase):
    MASSES = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]

    def test_the_handbook_example(self) -> None:
        """NIST/SEMATECH e-Handbook, 1.3.5.17.1 (uranium isotope data of Tietjen and Moore): G = 2.4687651, the last value."""
        found = check_outlier(self.MASSES)
        self.assertAlmostEqual(found.statistic, 2.4687651, places=6)
        self.assertEqual(found.suspect, 7)

    def test_critical_values_of_grubbs(self) -> None:
        """Two-sided, 5 %, as tabulated in handbooks (from memory)."""
        for n, critical in ((3, 1.1543), (4, 1.4812), (5, 1.7150), (8, 2.1266), (10, 2.2900), (20, 2.7082)):
            self.assertAlmostEqual(check_outlier([float(i) for i in range(n)]).critical, critical, delta=6e-5)

    def test_dixon(self) -> None:
        """D. B. Rorabacher, Anal. Chem. 63, 139 (1991): Q = 0.455 of ten is beyond the 90 % limit and not beyond the 95 % one."""
        values = [0.189, 0.167, 0.187, 0.183, 0.186, 0.182, 0.181, 0.184, 0.181, 0.177]
        at_90, at_95 = (check_outlier(values, "dixon", alpha) for alpha in (0.10, 0.05))
        self.assertEqual((round(at_90.statistic, 3), at_90.critical, at_90.suspect), (0.455, 0.412, 1))
        self.assertEqual((at_95.critical, at_95.suspect), (0.466, None))

    def test_the_end_that_is_far_is_pointed_out(self) -> None:
        """Q = gap/range: 5/8 of 1, 2, 4, 9; 10/12 at the low end of −9, 1, 2, 3 and 27/29 at the high end of 1, 2, 3, 30;
        26/29 of five at either end.
        """
        for values, statistic, suspect in (
            ([1.0, 2.0, 4.0, 9.0], 5 / 8, None), ([1.0, -9.0, 2.0, 3.0], 10 / 12, 1), ([1.0, 30.0, 2.0, 3.0], 27 / 29, 1),
            ([1.0, 2.0, 30.0, 3.0, 4.0], 26 / 29, 2), ([29.0, 28.0, 1.0, 27.0, 30.0], 26 / 29, 2),
        ):  # fmt: skip
            found = check_outlier(values, "dixon", 0.05)
            self.assertAlmostEqual(found.statistic, statistic, 12)
            self.assertEqual(found.suspect, suspect)
        for values, suspect in (
            ([1.0, 1.1, 0.9, 1.0, 1.05, 5.0], 5), ([-5.0, 1.0, 1.1, 0.9, 1.0, 1.05], 0), ([9.9, 10.0, 2.0, 10.1, 9.95, 10.05], 2),
        ):  # fmt: skip
            self.assertEqual(check_outlier(values).suspect, suspect)

    def test_the_tables_agree_with_drawing(self) -> None:
        """10⁵ samples of seven normal values: the larger of the two gaps is beyond the 5 % limit of one chosen end in twice 2.5 %."""
        drawn = np.sort(np.random.default_rng(8).standard_normal((100_000, 7)), axis=1)
        span = drawn[:, -1] - drawn[:, 0]
        high, low = (drawn[:, -1] - drawn[:, -2]) / span, (drawn[:, 1] - drawn[:, 0]) / span
        limit = check_outlier([1.0, 2, 3, 4, 5, 6, 8], "dixon").critical
        self.assertAlmostEqual(float(np.mean(high > limit) + np.mean(low > limit)), 0.05, delta=0.004)

    def test_what_cannot_be_tested(self) -> None:
        cases: list[tuple[list[float], str, float, str]] = [
            ([1.0, 2.0], "grubbs", 0.05, "too_few_points"),
            ([2.0, 2.0, 2.0], "grubbs", 0.05, "outside_domain"),
            ([float(i) for i in range(12)], "dixon", 0.05, "too_large"),
            ([1.0, 2.0, 9.0], "dixon", 0.03, "bad_job"),
            ([1.0, 2.0, 9.0], "grubbs", 1.0, "bad_job"),
            ([1.0, 2.0, 9.0], "grubbs", 1.5, "bad_job"),
            ([1.0, 2.0, 9.0], "grubbs", 0.0, "bad_job"),
        ]
        for values, test, alpha, code in cases:
            with self.subTest(values, test=test), self.assertRaises(CoreError) as caught:
                check_outlier(values, test, alpha)  # type: ignore[arg-type]
            self.assertEqual(caught.exception.code, code)
