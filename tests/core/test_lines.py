"""Properties that every fitted line has, whatever the data; the published values are in test_published."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy.optimize import minimize_scalar
from scipy.stats import linregress, norm

from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import Bend
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.residuals import Residuals, study_pattern, study_residuals

NUMBERS = st.floats(-100, 100).map(lambda v: round(v, 3))
BARS = st.floats(0.05, 5).map(lambda v: round(v, 3))


def points(n: int = 6) -> st.SearchStrategy[tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]]:
    xs = arrays(np.float64, n, elements=NUMBERS, unique=True).filter(lambda x: float(np.ptp(x)) > 10)
    return st.tuples(
        xs, arrays(np.float64, n, elements=NUMBERS), arrays(np.float64, n, elements=BARS), arrays(np.float64, n, elements=BARS)
    )


class Lines(unittest.TestCase):
    @given(points(), st.permutations(range(6)))
    def test_the_order_of_rows_does_not_matter(self, data: tuple[np.ndarray, ...], order: list[int]) -> None:
        x, y, uy, _ = data
        a, b = fit_line(x, y, uy), fit_line(x[order], y[order], uy[order])
        np.testing.assert_allclose([a.gradient, a.u_gradient, a.chi2], [b.gradient, b.u_gradient, b.chi2], rtol=1e-8, atol=1e-9)

    @given(points(), st.sampled_from([1e-3, 60.0, 1e3]), st.floats(-50, 50))
    def test_units_and_origin_change_it_as_they_should(self, data: tuple[np.ndarray, ...], scale: float, shift: float) -> None:
        x, y, uy, _ = data
        a = fit_line(x, y, uy)
        b = fit_line((x + shift) * scale, y, uy)
        np.testing.assert_allclose(b.gradient * scale, a.gradient, rtol=1e-7, atol=1e-9)
        np.testing.assert_allclose(b.u_gradient * scale, a.u_gradient, rtol=1e-7)
        np.testing.assert_allclose(b.intercept, a.intercept - a.gradient * shift, rtol=1e-6, atol=1e-6)

    @given(points())
    def test_vanishing_bars_in_x_give_the_weighted_line(self, data: tuple[np.ndarray, ...]) -> None:
        """The limit that York et al. 2004 name for u(x) → 0."""
        x, y, uy, _ = data
        a, b = fit_line(x, y, uy), fit_line(x, y, uy, np.full_like(x, 1e-9))
        np.testing.assert_allclose([a.gradient, a.intercept], [b.gradient, b.intercept], rtol=1e-5, atol=1e-6)

    def test_bars_in_x_that_make_yorks_iteration_swing_or_crawl_end_where_a_general_minimiser_does(self) -> None:
        """Against SciPy's bounded minimiser of χ² over the line's angle. By the plain iteration the first swings for ever between two
        gradients, and the second takes 284 steps.
        """
        swings = [2.3, 0.6, 5.4, 4.4, 0.3, 1.6], [2.8, 0.6, 1.2, 2.9, 0.5, 1.3], [2.4, 0.3, 0.4, 2.8, 2.1, 0.9]
        crawls = [6.7, 3.0, 9.0, 4.7, 7.7, 5.0], [0.6, 2.1, 1.6, 1.2, 1.4, 0.6], [2.0, 1.2, 1.3, 1.0, 1.3, 2.0]
        x = np.arange(1.0, 7.0)
        for name, data in (("swings", swings), ("crawls", crawls)):
            y, sx, sy = (np.array(values) for values in data)

            def misses(angle: float, y: np.ndarray = y, sx: np.ndarray = sx, sy: np.ndarray = sy) -> float:
                m = math.tan(angle)
                w = 1 / (sy**2 + m**2 * sx**2)
                c = float(np.sum(w * (y - m * x)) / np.sum(w))
                return float(np.sum(w * (y - m * x - c) ** 2))

            with self.subTest(name):
                found = fit_line(x, y, sy, sx)
                angle = math.atan(found.gradient)
                best = minimize_scalar(misses, bounds=(angle - 0.05, angle + 0.05), method="bounded", options={"xatol": 1e-12})
                self.assertAlmostEqual(math.tan(best.x), found.gradient, delta=1e-6 * abs(found.gradient))
                self.assertAlmostEqual(found.chi2 or 0.0, best.fun, delta=1e-9 * best.fun)

    def test_x_and_y_from_the_same_readings_are_refused_whatever_rounding_leaves(self) -> None:
        """y = 10 x by definition: 1/W is a difference of equal numbers, and its sign is rounding."""
        dice = np.random.default_rng(31)
        for _ in range(200):
            x = np.sort(dice.uniform(0.3, 1.2, 8))
            ux, factor = dice.uniform(1e-4, 1e-2, 8), 10.0 ** dice.integers(-3, 4)
            with self.assertRaises(CoreError) as caught:
                fit_line(x, factor * x, uy=factor * ux, ux=ux, correlation_xy=np.ones(8))
            self.assertEqual(caught.exception.code, "too_large")

    def test_through_the_origin_with_errors_that_hang_together(self) -> None:
        """χ² by its definition with each point's covariance matrix C, by SciPy's minimiser; its u from the places that generalised least
        squares puts the points at, (dᵀC⁻¹p)/(dᵀC⁻¹d) along d = (1, b).
        """
        x, y = np.array([1.0, 2.0, 3.0, 4.2, 5.1]), np.array([2.2, 3.7, 6.4, 8.1, 10.6])
        sx, sy, r = np.array([0.1, 0.3, 0.2, 0.4, 0.1]), np.array([0.3, 0.2, 0.5, 0.3, 0.4]), np.array([0.5, -0.6, 0.2, 0.8, -0.3])
        parts = list(zip(x, y, sx, sy, r, strict=True))

        def weight(b: float, sx: float, sy: float, r: float) -> float:
            return 1 / (sy**2 + (b * sx) ** 2 - 2 * b * r * sx * sy)

        chi2 = minimize_scalar(lambda b: sum(weight(b, *s) * (v - b * u) ** 2 for u, v, *s in parts), bounds=(1, 3), method="bounded",
                               options={"xatol": 1e-12})  # fmt: skip
        found = fit_line(x, y, sy, sx, r, through_origin=True)
        self.assertAlmostEqual(found.gradient, chi2.x, places=7)
        self.assertAlmostEqual(found.chi2 or 0, chi2.fun, places=9)
        information = 0.0
        along = np.array([1.0, chi2.x])
        for u, v, a, b, hang in parts:
            inverse = np.linalg.inv(np.array([[a * a, hang * a * b], [hang * a * b, b * b]]))
            place = along @ inverse @ np.array([u, v]) / (along @ inverse @ along)
            information += weight(chi2.x, a, b, hang) * place**2
        self.assertAlmostEqual(found.u_gradient, information**-0.5, places=7)
        np.testing.assert_allclose(found.u_at([0.0, 2.0, -4.0]), np.array([0.0, 2.0, 4.0]) * found.u_gradient)

    def test_r_of_the_points_and_one_point_through_the_origin(self) -> None:
        """Against SciPy's linregress."""
        x, y = np.array([1.0, 2.0, 4.0, 7.0]), np.array([3.0, 2.5, 5.0, 5.5])
        self.assertAlmostEqual(fit_line(x, y).r or 0, linregress(x, y).rvalue, places=12)
        self.assertAlmostEqual(fit_line(x, y, [1, 2, 1, 1]).r or 0, linregress(x, y).rvalue, places=12)
        alone = fit_line([4.0], [10.0], through_origin=True)
        self.assertEqual((alone.gradient, alone.dof, alone.u_gradient, alone.covariance), (2.5, 0, math.inf, 0.0))
        with self.assertRaises(CoreError):
            fit_line([4.0], [10.0])

    def test_what_is_no_list_of_points_is_refused(self) -> None:
        for x, y in (([1, 2, 3], [1, 2]), ([[1, 2], [3, 4]], [[1, 2], [3, 4]])):
            with self.assertRaises(CoreError) as refused:
                fit_line(x, y)
            self.assertEqual(refused.exception.code, "bad_job")

    def test_a_point_has_a_bar_in_one_axis_at_least(self) -> None:
        """With one of the two it counts as if the other had vanished."""
        x, y, sx, sy = [1.0, 2.0, 3.0, 4.2], [2.1, 3.9, 6.2, 8.1], np.array([0.0, 0.1, 0.1, 0.2]), np.array([0.3, 0.0, 0.2, 0.1])
        found, nearly = fit_line(x, y, sy, sx), fit_line(x, y, np.maximum(sy, 1e-9), np.maximum(sx, 1e-9))
        self.assertAlmostEqual(found.gradient, nearly.gradient, places=7)
        with self.assertRaises(CoreError) as refused:
            fit_line(x, y, sy, [0.1, 0, 0.1, 0])
        self.assertIn("(point 2)", refused.exception.message)
        with self.assertRaises(CoreError) as refused:
            fit_line(range(1, 9), range(1, 9), [0] * 7 + [0.1])
        self.assertIn("(point 1, 2, 3, 4, 5)", refused.exception.message)

    def test_points_without_bars_are_named_as_people_count(self) -> None:
        for fit in (
            lambda: fit_line([1, 2, 3, 4], [1, 2, 3, 4], [0.1, 0, 0.2, 0]),
            lambda: fit_line([1, 2, 3, 4], [1, 2, 3, 4], [0.1, -1, 0.2, math.nan]),
        ):
            with self.assertRaises(CoreError) as refused:
                fit()
            self.assertIn("(point 2, 4)", refused.exception.message)
            self.assertEqual(refused.exception.fields["indices"], [1, 3])

    def test_scaling_by_scatter_is_a_choice_that_leaves_the_line_where_it_is(self) -> None:
        x, y, uy = [1.0, 2, 3, 4], [1.1, 1.9, 3.2, 3.9], [0.02] * 4
        given_bars, scaled = fit_line(x, y, uy), fit_line(x, y, uy, scale="scatter")
        assert given_bars.reduced_chi2 is not None
        self.assertEqual(given_bars.gradient, scaled.gradient)
        self.assertAlmostEqual(scaled.u_gradient, given_bars.u_gradient * given_bars.reduced_chi2**0.5, places=15)


class Patterns(unittest.TestCase):
    def test_a_bend_is_seen_and_said(self) -> None:
        x = np.arange(1.0, 9.0)
        bent = study_residuals(x, x**2, fit_line(x, x**2))
        self.assertEqual(bent.signs, "+−−−−−−+".replace("−−−−−−", bent.signs[1:-1]))
        self.assertEqual((bent.signs[0], bent.signs[-1]), ("+", "+"))
        self.assertEqual((bent.sentence.code, bent.sentence.fields["side"]), ("bends_in_the_middle", "above"))
        self.assertIn("still bends", bent.sentence.text)
        self.assertEqual(bent.runs, 3)

    def test_exact_points_have_no_pattern(self) -> None:
        x = np.arange(5.0)
        study = study_residuals(x, 2 * x + 1, fit_line(x, 2 * x + 1))
        self.assertEqual((study.signs, study.sentence.text), ("00000", "Every point lies on the line."))

    def test_runs_by_hand(self) -> None:
        """+ + − − + −: n₁ = n₂ = 3, so 2·3·3/6 + 1 = 4 runs are expected (Wald and Wolfowitz 1940)."""
        x = np.arange(6.0)
        y = np.array([1.0, 1.0, -1.0, -1.0, 1.0, -1.0])
        flat = fit_line(x, y)
        study = study_residuals(x, y, flat)
        self.assertEqual(
            (study.runs, study.expected_runs), (len([s for i, s in enumerate(study.signs) if i == 0 or s != study.signs[i - 1]]), 4.0)
        )

    def pattern(self, signs: str, t: float | None = None) -> Residuals:
        """Residuals of these signs, all of one size."""
        off = np.array([{"+": 1.0, "-": -1.0, "0": 0.0}[sign] for sign in signs])
        x = np.arange(float(off.size))
        return study_pattern(x, 10 + off, off, np.ones_like(off), None if t is None else Bend(t, 0.0, None, 0.0))

    def test_how_many_runs_and_how_likely(self) -> None:
        """By the formulas of Wald and Wolfowitz on paper, with SciPy's normal distribution."""
        for signs, runs, longest, expected, z in (
            ("++--+-", 4, 2, 4.0, 0.0),
            ("+++++---", 2, 5, 4.75, (2.75 - 0.5) / math.sqrt(3.75 * 2.75 / 7)),
            ("+----", 2, 4, 2.6, 0.1 / math.sqrt(1.6 * 0.6 / 4)),
            ("+-+-+-+-", 8, 1, 5.0, 2.5 / math.sqrt(4 * 3 / 7)),
        ):
            with self.subTest(signs):
                found = self.pattern(signs)
                self.assertEqual((found.runs, found.longest_run, found.expected_runs), (runs, longest, expected))
                self.assertAlmostEqual(found.runs_p or 0, min(1.0, 2 * float(norm.sf(z))), places=12)
        for signs in ("++++", "+-", "0000"):
            self.assertIsNone(self.pattern(signs).runs_p)

    def test_what_is_said_of_a_pattern_and_from_how_many_points_on(self) -> None:
        for signs, t, code in (
            ("+---+", 9.0, "bends_in_the_middle"), ("+--+", 9.0, "no_pattern"), ("+---+", 1.0, "no_pattern"), ("++---", 9.0, "bends"),
            ("+++++-----", None, "long_run"), ("++++---", None, "no_pattern"), ("++++----", None, "long_run"),
            ("+++--+--", None, "no_pattern"), ("00000", 9.0, "on_the_line"),
        ):  # fmt: skip
            with self.subTest(signs, t=t):
                self.assertEqual(self.pattern(signs, t).sentence.code, code)
        self.assertEqual(self.pattern("+++++-----").sentence.fields["n"], 5)
        self.assertEqual(self.pattern("+---+", -9.0).sentence.fields["side"], "below")

    def test_how_many_lie_within_one_and_two_of_their_bars(self) -> None:
        off = np.array([0.5, -1.0, 1.5, 2.0, -2.5, 0.0])
        found = study_pattern(np.arange(6.0), off, off, np.array([1.0, 1.0, 1.0, 1.0, 1.0, 0.0]))
        self.assertEqual((found.within_1u, found.within_2u), (3, 5))
        np.testing.assert_array_equal(found.standardised, off)
