"""Asking a fit: read-offs against a published calibration, what if, and which points pull."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
import statsmodels.api as sm

from hobrel.core.document.lab_book import Fit, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.fits import find_pulls, read_off_fit, try_without
from hobrel.core.sentences import told
from tests.builders import lab_book, with_aside

# J. N. Miller and J. C. Miller, Statistics and Chemometrics for Analytical Chemistry: fluorescence of standards (from memory)
STANDARDS = [("0", "2.1"), ("2", "5.0"), ("4", "9.0"), ("6", "12.6"), ("8", "17.3"), ("10", "21.0"), ("12", "24.7")]
X = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6]
Y = [1.02, 2.05, 2.91, 4.08, 4.95, 6.43]


def calibration() -> LabBook:
    made = lab_book([(x, [y]) for x, y in STANDARDS])
    return replace(made, fits=(Fit("f", "g", weights="none"),))


def pulled(**fit: object) -> LabBook:
    made = lab_book([(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X, Y, strict=True)])
    return replace(made, fits=(Fit("f", "g", weights="none", **fit),))  # type: ignore[arg-type]


class ReadOffs(TestCase):
    def test_an_unknown_is_read_back_as_published(self) -> None:
        """The book's three unknowns: 2.9, 13.5 and 23.0 read as 0.72, 6.21 and 11.13 with s = 0.26, 0.24 and 0.26."""
        computation = compute(calibration())
        for y, x, s in (("2.9", 0.72, 0.26), ("13.5", 6.21, 0.24), ("23.0", 11.13, 0.26)):
            found = read_off_fit(computation, "f", "back", y)
            self.assertEqual((round(found.value.value, 2), round(found.value.u or 0, 2)), (x, s))
        once = read_off_fit(computation, "f", "back", "13.5")
        self.assertEqual((once.extrapolated, told(once.words)), (False, "with the scatter of 1 reading of y"))
        self.assertLess(read_off_fit(computation, "f", "back", "13.5", 4).value.u or 1, once.value.u or 0)

    def test_forward_and_beyond_the_points(self) -> None:
        found = read_off_fit(compute(calibration()), "f", "forward", "15")
        self.assertTrue(found.extrapolated)
        self.assertIn("outside the points", told(found.words))
        self.assertEqual(found.at, "15 m")

    def test_a_unit_that_was_typed(self) -> None:
        computation = compute(pulled())
        self.assertEqual(read_off_fit(computation, "f", "forward", "25 cm").value, read_off_fit(computation, "f", "forward", "0.25").value)
        for text, value in (("sqrt(0.0625)", 0.25), ("1/4", 0.25), ("0.2 + 0.05", 0.25)):
            self.assertEqual(
                read_off_fit(computation, "f", "forward", text).value.value,
                read_off_fit(computation, "f", "forward", str(value)).value.value,
            )
        for text, code in (
            ("five", "bad_number"),
            ("3 kg", "bad_unit"),
            ("ln(", "bad_formula"),
            ("ln(-1)", "outside_domain"),
            ("c", "bad_number"),
        ):
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                read_off_fit(computation, "f", "forward", text)
            self.assertEqual(caught.exception.code, code)

    def test_a_curve_has_a_tangent_and_is_read_back(self) -> None:
        computation = compute(pulled(shape="quadratic"))
        found = read_off_fit(computation, "f", "forward", "0.35")
        (a, b, _), covariance = np.polyfit(X, Y, 2, cov=True)
        self.assertAlmostEqual(found.tangent.value if found.tangent else 0, 2 * a * 0.35 + b, 6)
        g = np.array([0.7, 1.0, 0.0])
        self.assertAlmostEqual((found.tangent.u if found.tangent else 0) or 0, float(np.sqrt(g @ covariance @ g)), 6)
        back = read_off_fit(computation, "f", "back", str(found.y))
        self.assertAlmostEqual(back.x, 0.35, 9)


class WhatIf(TestCase):
    def test_left_out_for_a_moment_is_like_set_aside(self) -> None:
        book = pulled()
        tried = try_without(compute(book), "f", "s6")
        self.assertEqual(tried.card.gradient, analyse(with_aside(book, 5, "late")).fits[0].gradient)
        self.assertEqual(len(tried.graph.figure.series[0].points) if tried.graph.figure else 0, 6)

    def test_lifted_to_another_place(self) -> None:
        tried = try_without(compute(pulled()), "f", "s6", 6.00)
        slope, _ = np.polyfit(X, [*Y[:-1], 6.00], 1)
        self.assertAlmostEqual(tried.card.gradient.value if tried.card.gradient else 0, slope, 9)

    def test_a_point_that_is_not_there(self) -> None:
        with self.assertRaises(CoreError):
            try_without(compute(pulled()), "f", "nowhere")


class Pulls(TestCase):
    def test_the_order_is_that_of_statsmodels(self) -> None:
        found = find_pulls(compute(pulled()), "f")
        influence = sm.OLS(Y, sm.add_constant(X)).fit().get_influence()
        order = np.argsort(-np.abs(influence.dfbetas[:, 1]))
        self.assertEqual(found[0].key, f"s{order[0] + 1}")
        self.assertEqual(found[0].name, "x = 0.600 m")
        without, _ = np.polyfit(X[:-1], Y[:-1], 1)
        self.assertAlmostEqual(found[0].gradient.value, without, 9)

    def test_where_pulls_say_nothing(self) -> None:
        with self.assertRaises(CoreError):
            find_pulls(compute(pulled(shape="quadratic")), "f")
        few = lab_book([("0.1", ["1.0"]), ("0.2", ["2.1"]), ("0.3", ["2.9"])])
        with self.assertRaises(CoreError):
            find_pulls(compute(few), "f")
