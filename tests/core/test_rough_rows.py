"""Which row makes a table rough: the numbers behind it worked out again here by fits without each row, and SciPy's F distribution."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy.stats import f as fisher

from hobrel.core.checks.smooth import CHANCE, Looked, Plane, curves_through, find_rough
from hobrel.core.uncertainty.traced import Floats

X = np.arange(1.0, 11.0)
U = 0.01
NOISE = U * np.array([0.4, -0.7, 0.2, 0.9, -0.3, -0.8, 0.5, 0.1, -0.6, 0.3])


def straight(y: Floats, x: Floats = X, u: Floats | float = U) -> Plane:
    basis = np.vander((x - x.mean()) / np.ptp(x), 2, increasing=True)
    return Plane(basis, y, np.broadcast_to(np.asarray(u), y.shape), lambda z: z, is_line=True)


def chi2_of(x: Floats, y: Floats, degree: int, u: Floats | float = U) -> float:
    w = 1 / np.broadcast_to(np.asarray(u), y.shape)
    return float(np.sum(((np.polyval(np.polyfit(x, y, degree, w=w), x) - y) * w) ** 2))


def line(off: float = 0.0, row: int = 4) -> Floats:
    y: Floats = 2.0 + 0.5 * X + NOISE
    y[row] += off
    return y


class OnePlane(unittest.TestCase):
    def test_leaving_a_row_out_is_a_fit_without_it(self) -> None:
        y, u = line(0.2), np.linspace(0.01, 0.03, 10)
        looked = Looked(straight(y, u=u), 3.0)
        self.assertAlmostEqual(looked.chi2, chi2_of(X, y, 1, u), places=6)
        for row in range(10):
            rest = np.arange(10) != row
            self.assertAlmostEqual(float(looked.without[row]), chi2_of(X[rest], y[rest], 1, u[rest]), places=6)
            self.assertAlmostEqual(looked.scale_without(row), (chi2_of(X[rest], y[rest], 1, u[rest]) + 3) / (7 + 3), places=8)
        self.assertAlmostEqual(looked.left_over, looked.chi2 + 3, places=8)

    def test_without_repeats_a_variance_is_never_less_than_the_instrument_s(self) -> None:
        looked = Looked(straight(line()), 0.0)
        self.assertEqual((looked.scale(4.0, 8), looked.scale(12.0, 8)), (1.0, 1.5))
        self.assertEqual(Looked(straight(line()), 2.0).scale(3.0, 8), 0.5)

    def test_calm_up_to_twice_the_variance(self) -> None:
        for factor, calm in ((1.99, True), (2.01, False)):
            looked = Looked(straight(line()), 0.0)
            looked.chi2 = factor * looked.dof
            self.assertEqual(looked.is_calm, calm)
        looked.dof = 1
        looked.chi2 = 0.0
        self.assertFalse(looked.is_calm, "of one row too many nothing can be said")

    def test_where_no_repeats_say_what_to_expect_everything_is_smooth(self) -> None:
        alone, known = Looked(straight(line()), 0.0), Looked(straight(line()), 4.0)
        self.assertEqual([one.is_smooth(chi2, 8) for one in (alone, known) for chi2 in (48.0, 48.1)], [True, True, True, False])


class OneRow(unittest.TestCase):
    def check(self, y: Floats, row: int, dof: float, known: float) -> None:
        (found,) = [find_rough([straight(y)], dof)]
        rest = np.arange(10) != row
        chi2, whole = chi2_of(X[rest], y[rest], 1), chi2_of(X, y, 1)
        scale = (chi2 + known) / (7 + known) if known else max(chi2 / 7, 1.0)
        left = whole + known if known else max(whole / 8, 1.0) * 8
        expected = float(fisher.sf((left - scale * (7 + known)) / scale, 1, 7 + known)) * 1.5 * 10
        assert found is not None
        self.assertEqual(found.rows, (row,))
        self.assertAlmostEqual(found.chance / expected, 1, places=6)
        self.assertAlmostEqual(found.expected, float(np.polyval(np.polyfit(X[rest], y[rest], 1), X[row])), places=9)

    def test_of_a_plot_that_is_straight_but_for_it(self) -> None:
        self.check(line(0.25), 4, 20.0, 4.0)
        self.check(line(-0.25, 7), 7, 3.0, 3.0)
        self.check(line(0.9, 0), 0, 20.0, 4.0)

    def test_without_repeats(self) -> None:
        self.check(line(0.4), 4, 0.0, 0.0)

    def test_a_row_has_to_be_seven_of_its_own_uncertainties_off(self) -> None:
        plane = straight(line())
        off = Looked(plane, 4.0).rest / Looked(plane, 4.0).free
        for target, seen in ((7.05, True), (6.95, False)):
            y = line()
            y[4] += (target - off[4]) * U
            found = find_rough([straight(y)], 20.0)
            self.assertEqual(found is not None and found.rows == (4,) and found.chance < CHANCE, seen, target)

    def test_a_plot_that_scatters_without_it_too_is_not_the_one_to_judge_by(self) -> None:
        """χ²ν of what is left may be four."""
        for factor, seen in ((3.9, True), (4.1, False)):
            y = line(3.0)
            rest = np.arange(10) != 4
            grown = math.sqrt(factor * 7 / chi2_of(X[rest], (2.0 + 0.5 * X + NOISE)[rest], 1))
            y = 2.0 + 0.5 * X + grown * NOISE
            y[4] += 3.0
            self.assertEqual(find_rough([straight(y)], 20.0) is not None, seen)

    def test_clean_tables_are_left_alone_and_too_few_rows_say_nothing(self) -> None:
        self.assertIsNone(find_rough([straight(line()), *curves_through(X, line(), np.full(10, U))], 20.0))
        y = line(0.5)[3:7]
        self.assertIsNone(find_rough([straight(y[:3], X[3:6])], 20.0))

    def test_without_a_plan_s_plot_two_curves_have_to_say_so_and_an_end_is_nobody_s(self) -> None:
        y = 3.0 + 0.1 * X + NOISE
        middle, end = y.copy(), y.copy()
        middle[5] += 0.3
        end[9] += 0.3
        u = np.full(10, U)
        found = find_rough(list(curves_through(X, middle, u)), 20.0)
        assert found is not None
        self.assertEqual(found.rows, (5,))
        self.assertAlmostEqual(found.expected, 3.6, delta=0.02)
        at_the_end = find_rough(list(curves_through(X, end, u)), 20.0)
        self.assertTrue(at_the_end is None or at_the_end.rows != (9,))
        (alone, *_) = curves_through(X, middle, u)
        self.assertTrue((one := find_rough([alone], 20.0)) is None or len(one.rows) == 2)


class Exchanged(unittest.TestCase):
    def test_two_rows_and_how_often_chance_does_that(self) -> None:
        u = np.linspace(0.01, 0.02, 10)
        y = line()
        y[[3, 6]] = y[[6, 3]]
        found = find_rough([straight(y, u=u)], 20.0)
        order = np.arange(10)
        order[[3, 6]] = [6, 3]
        chi2, whole = chi2_of(X, y[order], 1, u[order]), chi2_of(X, y, 1, u)
        scale = (chi2 + 4) / (8 + 4)
        expected = float(fisher.sf((whole + 4 - scale * 12) / scale / 2, 2, 12)) * 45
        assert found is not None
        self.assertEqual(found.rows, (3, 6))
        self.assertAlmostEqual(found.chance / expected, 1, places=6)
        self.assertTrue(math.isnan(found.expected))

    def test_not_in_a_plane_where_a_row_is_more_than_its_y(self) -> None:
        y = line()
        y[[3, 6]] = y[[6, 3]]
        plane = straight(y)
        fixed = Plane(plane.basis, plane.z, plane.u, plane.back, plane.is_line, moves_with_y=False)
        found = find_rough([fixed], 20.0)
        self.assertTrue(found is None or len(found.rows) == 1)


class Curves(unittest.TestCase):
    def test_the_five_have_the_bars_that_go_with_them_and_a_way_back(self) -> None:
        y, u = 2.0 * X, 0.1 * X
        planes = list(curves_through(X, y, u))
        self.assertEqual(len(planes), 5)
        for plane, (z, bars) in zip(planes, ((y, u), (y, u), (np.log(y), u / y), (np.log(y), u / y), (1 / y, u / y**2)), strict=True):
            np.testing.assert_allclose(plane.z, z)
            np.testing.assert_allclose(plane.u, bars)
            assert plane.back is not None
            np.testing.assert_allclose([plane.back(v) for v in plane.z], y)
        across = [plane.basis[:, 1] for plane in planes]
        np.testing.assert_allclose(across[0], (X - 5.5) / 9)
        np.testing.assert_allclose(across[1], (np.log(X) - np.log(X).mean()) / math.log(10))

    def test_logarithms_and_inverses_need_what_is_above_nought(self) -> None:
        self.assertEqual(len(list(curves_through(X - 1, X, X))), 3)
        self.assertEqual(len(list(curves_through(X, X - 1, X))), 2)
        self.assertEqual(list(curves_through(np.ones(10), X, X)), [])
