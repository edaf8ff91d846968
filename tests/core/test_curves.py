"""Shapes: exact data give exact parameters, noisy data agree with independent fits, NIST's sets settle from our own starts."""

from __future__ import annotations

import json
import math
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from scipy.optimize import curve_fit

from hobrel.core.errors import CoreError
from hobrel.core.fitting.curve import fit_shape
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.shapes import SHAPES, Shape, find_shape, own_shape
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.uncertainty.traced import Floats

CASES = json.loads((Path(__file__).parent.parent / "reference" / "cases.json").read_text(encoding="utf-8"))
X = np.linspace(0.4, 6.0, 14)
PARAMETERS = {
    "proportional": [2.5],
    "line": [2.5, -1.0],
    "quadratic": [0.5, -2.0, 3.0],
    "cubic": [0.1, -0.5, 2.0, 1.0],
    "power": [1.7, 1.46],
    "exponential": [5.0, -0.4],
    "exponential_offset": [5.0, -0.8, 1.5],
    "inverse": [4.0],
    "inverse_offset": [4.0, 0.3],
    "inverse_square": [4.0],
    "square_root": [1.2],
    "logarithm": [2.0, -0.5],
    "sine": [1.5, 2.2, 0.7, 3.0],
    "logistic": [8.0, 1.9, 3.1],
    "saturation": [7.0, 2.0],
}


def values(shape: Shape, p: list[float], x: Floats = X) -> Floats:
    """The shapes written out in NumPy, beside our grammar."""
    written = {
        "proportional": lambda: p[0] * x,
        "line": lambda: p[0] * x + p[1],
        "quadratic": lambda: np.polyval(p, x),
        "cubic": lambda: np.polyval(p, x),
        "power": lambda: p[0] * x ** p[1],
        "exponential": lambda: p[0] * np.exp(p[1] * x),
        "exponential_offset": lambda: p[0] * np.exp(p[1] * x) + p[2],
        "inverse": lambda: p[0] / x,
        "inverse_offset": lambda: p[0] / x + p[1],
        "inverse_square": lambda: p[0] / x**2,
        "square_root": lambda: p[0] * np.sqrt(x),
        "logarithm": lambda: p[0] * np.log(x) + p[1],
        "sine": lambda: p[0] * np.sin(p[1] * x + p[2]) + p[3],
        "logistic": lambda: p[0] / (1 + np.exp(-p[1] * (x - p[2]))),
        "saturation": lambda: p[0] * x / (p[1] + x),
    }
    return np.asarray(written[shape.name]())


class NamedShapes(unittest.TestCase):
    def test_every_shape_is_tried_here(self) -> None:
        self.assertEqual(set(PARAMETERS), set(SHAPES))

    def test_exact_data_give_the_parameters_back(self) -> None:
        for name, expected in PARAMETERS.items():
            with self.subTest(name):
                fit = fit_shape(X, values(SHAPES[name], expected), SHAPES[name])
                np.testing.assert_allclose(fit.values, expected, rtol=1e-9)
                self.assertLess(fit.residual_sd, 1e-12)

    def test_noisy_data_agree_with_an_independent_fit(self) -> None:
        """SciPy's `curve_fit` with numerical derivatives, started at the truth, bars taken at their word."""
        random = np.random.default_rng(5)
        u = np.linspace(0.02, 0.08, X.size)
        for name, truth in PARAMETERS.items():
            shape = SHAPES[name]
            y = values(shape, truth) + u * random.normal(size=X.size)
            with self.subTest(name):
                expected, covariance = curve_fit(lambda x, *p, s=shape: values(s, list(p), x), X, y, truth, u, absolute_sigma=True)
                fit = fit_shape(X, y, shape, u)
                np.testing.assert_allclose(fit.values, expected, rtol=2e-5, atol=1e-6)
                np.testing.assert_allclose(fit.u, np.sqrt(np.diag(covariance)), rtol=2e-3)

    def test_x_outside_the_shape_is_named(self) -> None:
        for name, x in (("power", -1.0), ("logarithm", 0.0), ("inverse", 0.0), ("square_root", -2.0)):
            with self.subTest(name), self.assertRaises(CoreError) as caught:
                fit_shape([1.0, 2.0, x], [1.0, 2.0, 3.0], SHAPES[name])
            self.assertEqual((caught.exception.code, caught.exception.fields["rows"]), ("outside_domain", [2]))

    def test_a_start_that_is_rounding_holds_nothing_fast(self) -> None:
        """What begins with 10⁻¹⁷ ends where what begins beside the answer does; by hand the points are off the curve by 0.01 s at most."""
        x = np.linspace(-1, 1, 9)
        y = 0.5 + 2 * x + 0.3 * x**2 + 0.01 * np.array([1, -1, 0, 1, 0, -1, 1, 0, -1])
        ends = [
            fit_shape(x, y, find_shape("quadratic"), 0.01, 0.003, near=(a, 2.0, c)) for a, c in ((1e-17, 1e-17), (1e-12, 0.0), (0.3, 0.5))
        ]
        for end in ends:
            np.testing.assert_allclose(end.values, ends[-1].values, rtol=1e-7)
            self.assertLess(end.chi2 or np.inf, 6.0)

    def test_both_bars_of_a_line_agree_with_york(self) -> None:
        """Orthogonal distance and the unified equations of York et al. 2004 are the same minimum for a straight line."""
        for case in CASES:
            job = case["job"]
            if case["id"].startswith("xy_") and "correlation_xy" not in job:
                with self.subTest(case["id"]):
                    fit, line = (
                        fit_shape(job["x"], job["y"], SHAPES["line"], job["uy"], job["ux"]),
                        fit_line(job["x"], job["y"], job["uy"], job["ux"]),
                    )
                    np.testing.assert_allclose(fit.values, [line.gradient, line.intercept], rtol=1e-6)
                    np.testing.assert_allclose(fit.u, [line.u_gradient, line.u_intercept], rtol=1e-6)
                    assert fit.chi2 is not None and line.chi2 is not None
                    self.assertAlmostEqual(fit.chi2 / line.chi2, 1, places=8)

    def test_a_shape_without_parameters_is_laid_over_its_points_also_beside_a_known_one(self) -> None:
        """y = 2 x: off by −0.1, 0.1 and 0, each uncertain by √(0.1² + (2·0.2)²)."""
        shape, x, y = Shape("given", "This", "2 x", ()), [1.0, 2.0, 3.0], [1.9, 4.1, 6.0]
        for near in (None, []):
            fit = fit_shape(x, y, shape, 0.1, 0.2, near=near)
            np.testing.assert_allclose(fit.residuals, [-0.1, 0.1, 0.0], atol=1e-12)
            self.assertAlmostEqual(fit.chi2 or 0.0, 0.02 / 0.17, 12)

    def test_scaling_by_scatter_is_a_choice(self) -> None:
        y = values(SHAPES["exponential"], [5.0, -0.4]) + 0.05 * np.cos(9 * X)
        word, scaled = (fit_shape(X, y, SHAPES["exponential"], 0.01, scale=s) for s in ("absolute", "scatter"))
        assert word.reduced_chi2 is not None
        np.testing.assert_allclose(scaled.u, word.u * math.sqrt(word.reduced_chi2), rtol=1e-12)

    def test_only_noise(self) -> None:
        fit = fit_shape(X, 3 * X**2, SHAPES["quadratic"])
        self.assertEqual(fit.only_noise(X, 3 * X**2), [False, True, True])


class OwnFormulas(unittest.TestCase):
    def test_certified_sets_settle_from_our_own_starting_values(self) -> None:
        """NIST StRD sets of lower and average difficulty, no start given: residual sd and sorted parameters to six digits."""
        for case in CASES:
            job = case["job"]
            if not case["id"].endswith("_near") or not ("Lower" in case["source"] or "Average" in case["source"]):
                continue
            with self.subTest(case["id"]):
                fit = fit_shape(job["x"], job["y"], own_shape(job["formula"], tuple(job["parameters"]), log_is_ln=True))
                expected = case["expect"]["parameters"].values()
                self.assertLessEqual(abs(fit.residual_sd - case["expect"]["residual_sd"]), 1e-4 * case["expect"]["residual_sd"] + 1e-16)
                np.testing.assert_allclose(np.sort(np.abs(fit.values)), np.sort([abs(e["value"]) for e in expected]), rtol=1e-5)

    def test_a_wrong_answer_never_comes_back(self) -> None:
        cases: list[tuple[str, tuple[str, ...], list[float], list[float]]] = [
            ("a b x", ("a", "b"), [1, 2, 3, 4], [2, 4, 6, 8.1]),  # only the product is fixed
            ("a exp(b x) + c exp(d x)", ("a", "b", "c", "d"), [1, 2, 3, 4, 5], [1, 1, 1, 1, 1]),
            ("a + b (x + c)", ("a", "b", "c"), [1, 2, 3, 4], [2, 4.2, 6, 8.1]),
        ]
        for formula, names, x, y in cases:
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                fit_shape(x, y, own_shape(formula, names))
            self.assertEqual(caught.exception.code, "did_not_converge")

    def test_near_a_known_one_it_is_the_same_one(self) -> None:
        """Beside a known curve nothing else is tried; from where nothing settles, everything is."""
        noise = np.random.default_rng(8).normal(0, 0.05, X.size)
        for name, true in PARAMETERS.items():
            shape = find_shape(name)
            y = values(shape, true) + noise
            whole = fit_shape(X, y, shape)
            for start in (true, [1e9] * len(true)):
                with self.subTest(name, start=start):
                    near = fit_shape(X, y, shape, near=start)
                    np.testing.assert_allclose(near.values, whole.values, rtol=1e-7)

    def test_what_cannot_be_fitted_is_named(self) -> None:
        cases: list[tuple[str, tuple[str, ...], str]] = [
            ("a x + ", ("a",), "bad_formula"),
            ("a + b", ("a", "b"), "bad_formula"),
            ("a x", ("a", "b"), "bad_formula"),
            ("a x + q", ("a",), "bad_formula"),
            ("a x", (), "bad_job"),
            ("a x^2 + b x + c", ("a", "b", "c"), "too_few_points"),
        ]
        for formula, names, code in cases:
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                fit_shape([1.0, 2.0], [1.0, 2.0], own_shape(formula, names))
            self.assertEqual(caught.exception.code, code)
        with self.assertRaises(CoreError):
            find_shape("spiral")
        self.assertEqual(find_shape("Exponential + c").name, "exponential_offset")


class Slopes(unittest.TestCase):
    def test_tangents_of_a_parabola(self) -> None:
        """slope = 2 a x + b, u² = 4x²V(a) + 4x cov(a, b) + V(b), written out."""
        random = np.random.default_rng(2)
        fit = fit_shape(X, values(SHAPES["quadratic"], [0.5, -2.0, 3.0]) + 0.1 * random.normal(size=X.size), SHAPES["quadratic"])
        a, b, _ = fit.values
        found: Any = find_tangents(fit, [1.0, 4.0])
        for x, slope, u in zip((1.0, 4.0), found.slopes, found.u, strict=True):
            v = fit.covariance
            self.assertAlmostEqual(slope, 2 * a * x + b, places=10)
            self.assertAlmostEqual(u, math.sqrt(4 * x * x * v[0, 0] + 4 * x * v[0, 1] + v[1, 1]), places=8)
