"""Where fits begin: exact data lead to what they were made of, a start of one's own is only a start, and what nothing fixes is refused."""

from __future__ import annotations

import math
import unittest

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.curve import fit_shape
from hobrel.core.fitting.search import search_starts
from hobrel.core.fitting.shapes import SHAPES, Model, own_shape
from hobrel.core.uncertainty.traced import Floats

X = np.linspace(0.5, 6.0, 12)


def starts(shape: str, y: Floats, x: Floats = X) -> Floats:
    return np.array(SHAPES[shape].starts(x, y))


class Straightened(unittest.TestCase):
    """On exact data the straightened shape gives its parameters back, so that a first step can only be small."""

    def test_powers_and_exponentials_of_either_sign(self) -> None:
        for a in (1.7, -1.7, 4e-9, -4e9):
            np.testing.assert_allclose(starts("power", a * X**1.46)[0], [a, 1.46], rtol=1e-9)
            np.testing.assert_allclose(starts("exponential", a * np.exp(-0.7 * X))[0], [a, -0.7], rtol=1e-9)

    def test_values_of_the_other_sign_or_at_nought_do_not_count(self) -> None:
        x = np.array([-1.0, 0.0, *X])
        y = np.where(x > 0, 3 * np.abs(x) ** 0.5, -1.0)
        np.testing.assert_allclose(starts("power", y, x)[0], [3, 0.5], rtol=1e-9)
        np.testing.assert_allclose(starts("exponential", np.where(X > 1, 2 * np.exp(0.3 * X), -0.1))[0], [2, 0.3], rtol=1e-9)

    def test_all_alike_at_one_place_or_nowhere_is_level(self) -> None:
        self.assertEqual(starts("exponential", np.full(3, 5.0), np.full(3, 2.0))[0].tolist(), [math.exp(math.log(5.0)), 0.0])
        self.assertEqual(starts("power", np.array([-1.0, 2.0]), np.array([-2.0, -3.0]))[0].tolist(), [1.0, 0.0])

    def test_an_offset_for_every_rate_that_is_looked_at(self) -> None:
        """From three tenths of an e-folding over the range to thirty, either way: one of the starts is the truth."""
        for turn in (-30.0, -10.0, -3.0, -1.0, -0.3, 0.3, 1.0, 3.0, 10.0):
            b = turn / 5.5
            y = 2.0 * np.exp(b * (X - 6.0 if b > 0 else X)) + 1.5
            a = 2.0 * math.exp(-6.0 * b) if b > 0 else 2.0
            nearest = min(starts("exponential_offset", y).tolist(), key=lambda p, b=b: abs(p[1] - b))
            np.testing.assert_allclose(nearest, [a, b, 1.5], rtol=1e-6)

    def test_a_sine_s_frequency_is_found_to_a_hundredth_of_a_turn(self) -> None:
        for turns in (0.5, 1.3, 4.0):
            b = 2 * math.pi * turns / 5.5
            a, found, c, d = starts("sine", 1.5 * np.sin(b * X + 0.7) + 3.0)[0]
            self.assertAlmostEqual(found, b, delta=0.02 * b + 0.02)
            np.testing.assert_allclose([a, math.remainder(c - 0.7, 2 * math.pi), d], [1.5, 0.0, 3.0], atol=0.15)

    def test_a_logistic_whose_top_is_a_little_above_what_was_reached_or_far(self) -> None:
        for factor in (1.02, 1.2, 2.0):
            # the last point stands at 1/factor of the top: where b (x − c) is ln(1/(factor − 1))
            c = 6.0 + math.log(factor - 1) / 1.9
            for top in (8.0, -8.0):
                found = starts("logistic", top / (1 + np.exp(-1.9 * (X - c))), X)
                if np.min(1 / (1 + np.exp(-1.9 * (X - c)))) > 1e-3:
                    self.assertLess(np.min(np.max(np.abs(found / [top, 1.9, c] - 1), axis=1)), 1e-6, factor)
        near = starts("logistic", 8.0 / (1 + np.exp(-0.9 * (X - 5.0))))
        self.assertLess(np.min(np.abs(near[:, 2] - 5.0)), 1.5)

    def test_a_logistic_of_level_readings_is_as_steep_as_its_range_is_long(self) -> None:
        found = starts("logistic", np.full(12, 4.0))
        np.testing.assert_allclose(found[:, 0], [4.08, 4.8, 8.0])
        self.assertTrue(np.all(np.isfinite(found)))

    def test_a_saturation_is_a_line_of_x_over_y_against_x(self) -> None:
        found = starts("saturation", 7.0 * X / (2.0 + X))
        np.testing.assert_allclose(found[0], [7.0, 2.0], rtol=1e-9)
        np.testing.assert_allclose(found[1], [2 * 7.0 * 6.0 / 8.0, np.median(X)], rtol=1e-9)


class Searched(unittest.TestCase):
    def first(self, formula: str, names: tuple[str, ...], y: Floats, w: Floats | None = None) -> Floats:
        found: Floats = search_starts(Model(own_shape(formula, names), X), y, np.ones_like(X) if w is None else w)[0]
        return found

    def test_a_quotient_is_multiplied_out(self) -> None:
        y = (2.0 + 3.0 * X) / (1.0 + 0.4 * X)
        for w in (None, 1 / X):
            np.testing.assert_allclose(self.first("(a + b x)/(1 + c x)", ("a", "b", "c"), y, w), [2.0, 3.0, 0.4], rtol=1e-9)

    def test_what_is_linear_needs_no_looking_for(self) -> None:
        y = 2.0 + 3.0 * X - 0.5 * np.sin(X)
        for w in (None, np.linspace(1, 9, 12)):
            np.testing.assert_allclose(self.first("a + b x + c sin(x)", ("a", "b", "c"), y, w), [2.0, 3.0, -0.5], rtol=1e-9)

    def test_weights_decide_what_is_linear(self) -> None:
        """Two readings of one thing, ten times as sure of the second: their weighted mean, on paper (4·1 + 5·100)/101."""
        model = Model(own_shape("a + 0 x", ("a",)), np.array([1.0, 2.0]))
        (found,) = search_starts(model, np.array([4.0, 5.0]), np.array([1.0, 10.0]))
        self.assertAlmostEqual(float(found[0]), 504 / 101)

    def test_a_curve_whose_scale_nobody_knows_is_found(self) -> None:
        """Whatever the units are."""
        for size in (1e-6, 1.0, 1e5):
            for formula, names, y, truth in (
                ("a exp(-x/b) + c", ("a", "b", "c"), 4 * np.exp(-X / 1.7) + 1, (4, 1.7 * size, 1)),
                ("a exp(-((x - b)/c)^2)", ("a", "b", "c"), 4 * np.exp(-(((X - 2.6) / 0.9) ** 2)), (4, 2.6 * size, 0.9 * size)),
                ("a/(1 + (x/b)^n)", ("a", "b", "n"), 4 / (1 + (X / 2.2) ** 3), (4, 2.2 * size, 3)),
            ):
                with self.subTest(formula, size=size):
                    found = fit_shape(size * X, y, own_shape(formula, names)).values
                    np.testing.assert_allclose(np.abs(found), truth, rtol=1e-6)


class Begun(unittest.TestCase):
    """A start of one's own is tried beside the core's: the lowest of all is the answer, in either way of counting bars."""

    Y = 3.0 * np.sin(2.2 * X + 0.4) + 5.0
    FAR = (0.3, 0.4, 0.0, 5.0)

    def test_a_bad_start_changes_nothing(self) -> None:
        noisy = self.Y + np.random.default_rng(2).normal(0, 0.05, X.size)
        for bars in ({}, {"uy": 0.05}, {"uy": 0.05, "ux": 0.01}):
            with self.subTest(bars):
                fit = fit_shape(X, noisy, SHAPES["sine"], start=self.FAR, **bars)
                np.testing.assert_allclose(fit.values, [3.0, 2.2, 0.4, 5.0], atol=0.1)

    def test_a_start_in_a_hollow_that_is_hardly_higher_is_left_for_the_lowest(self) -> None:
        """b² − 1 is nought at both ends, and a tilt makes the one away from the start a little lower, or else higher."""
        shape = own_shape("(b^2 - 1) x^0 + 0.2 (b - 1) (x - 1) (3 - x)", ("b",))
        x = np.array([1.0, 2.0, 3.0])
        every = np.linspace(-2, 2, 4001)
        for high in (0.04, 0.1, 0.18):
            y = np.array([0.0, high, 0.0])
            left = [float(np.sum((Model(shape, x).values(np.array([b])) - y) ** 2)) for b in every]
            fit = fit_shape(x, y, shape, start=(-1.0,))
            self.assertAlmostEqual(float(fit.values[0]), float(every[int(np.argmin(left))]), delta=2e-3)

    def test_of_equal_descriptions_the_one_that_is_nearest_to_the_start(self) -> None:
        """Two decays that may change places."""
        y = 5 * np.exp(-0.3 * X) + 2 * np.exp(-1.5 * X)
        shape = own_shape("a exp(-b x) + c exp(-d x)", ("a", "b", "c", "d"))
        for start in ((4.0, 0.4, 2.5, 1.2), (2.5, 1.2, 4.0, 0.4)):
            fit = fit_shape(X, y, shape, start=start)
            truth = [5, 0.3, 2, 1.5] if start[0] == 4.0 else [2, 1.5, 5, 0.3]
            np.testing.assert_allclose(fit.values, truth, rtol=1e-5)

    def test_a_parameter_that_the_points_do_not_fix_is_refused_with_and_without_a_start(self) -> None:
        line = 2 * X
        for formula, names in (("a x + b (x - x)", ("a", "b")), ("(a + b) x", ("a", "b")), ("a b x + c", ("a", "b", "c"))):
            for start in (None, (1.0,) * len(names)):
                with self.subTest(formula, start=start), self.assertRaises(CoreError) as caught:
                    fit_shape(X, line, own_shape(formula, names), start=start)
                self.assertEqual(caught.exception.code, "did_not_converge")
