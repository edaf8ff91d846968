"""Reading off a line, against the formulas of a calibration (Eurachem/CITAC QUAM, 3rd edition, appendix E.4) worked by hand."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import Fit, LabBook, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.read_back import find_place, find_places
from hobrel.core.fitting.read_off import read_off
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.ingredients import read_unknown
from hobrel.core.questions.fits import read_off_fit
from hobrel.core.uncertainty.traced import Floats, combine_quadrature
from tests.builders import lab_book

FIT = fit_line(np.array([0.0, 1.0, 2.0, 3.0, 4.0]), np.array([0.1, 1.9, 4.2, 5.8, 8.0]))
RANGE = (0.0, 4.0)
# by hand: means 2 and 4; Sxx 10, Sxy 19.7; residuals 0.04, −0.13, 0.20, −0.17, 0.06; their squares sum to 0.091
SLOPE, CUT, S = 1.97, 0.06, math.sqrt(0.091 / 3)


class ReadingOff(TestCase):
    def test_the_line_is_that_of_the_hand(self) -> None:
        self.assertAlmostEqual(FIT.gradient, SLOPE)
        self.assertAlmostEqual(FIT.intercept, CUT)
        self.assertAlmostEqual(FIT.residual_sd, S)

    def test_back_to_x_with_the_scatter_of_its_own_readings(self) -> None:
        x = (5.0 - CUT) / SLOPE
        for repeats, share in ((None, 1.0), (1, 1.0), (4, 0.25)):
            with self.subTest(repeats):
                found = read_off(FIT, RANGE, "back", 5.0, repeats=repeats)
                self.assertAlmostEqual(found.value, x)
                self.assertAlmostEqual(found.u, S / SLOPE * math.sqrt(share + 1 / 5 + (x - 2) ** 2 / 10))

    def test_back_with_an_uncertainty_of_its_own(self) -> None:
        x = (5.0 - CUT) / SLOPE
        line = S**2 * (1 / 5 + (x - 2) ** 2 / 10)
        self.assertAlmostEqual(read_off(FIT, RANGE, "back", 5.0, u_at=0.3).u, math.sqrt(0.3**2 + line) / SLOPE)

    def test_forward_the_line_alone_or_a_further_reading(self) -> None:
        line = S**2 * (1 / 5 + (3.5 - 2) ** 2 / 10)
        self.assertAlmostEqual(read_off(FIT, RANGE, "forward", 3.5).u, math.sqrt(line))
        self.assertAlmostEqual(read_off(FIT, RANGE, "forward", 3.5, repeats=2).u, math.sqrt(line + S**2 / 2))
        self.assertAlmostEqual(read_off(FIT, RANGE, "forward", 3.5, u_at=0.1).u, math.hypot(math.sqrt(line), SLOPE * 0.1))

    def test_the_ends_of_the_data_are_not_beyond_them(self) -> None:
        for at, beyond in ((0.0, False), (4.0, False), (-0.001, True), (4.001, True)):
            with self.subTest(at):
                self.assertIs(read_off(FIT, RANGE, "forward", at).extrapolated, beyond)
        # read back from a little inside and a little beyond: between them a computed end is either
        for at, beyond in ((1e-9, False), (4 - 1e-9, False), (-1e-9, True), (4 + 1e-9, True)):
            with self.subTest(back=at):
                self.assertIs(read_off(FIT, RANGE, "back", float(FIT.at(at))).extrapolated, beyond)


class BackFromACurve(TestCase):
    """y = 8 e^(−0.5 x): x = ln(8/y)/0.5, and dx = dy/(0.5 y)."""

    XS = (0.5, 1.0, 1.5, 2.0, 3.0, 4.0, 5.0, 6.0)

    def book(self, shape: str = "exponential", y: Callable[[float], float] = lambda x: 8 * math.exp(-0.5 * x)) -> LabBook:
        book = lab_book([(f"{x}", (f"{y(x):.4f}",)) for x in self.XS])
        unknown = Unknown("u", "the parcel", ("2.00",))
        return replace(book, fits=(Fit("f", "g", shape=shape, unknowns=(unknown,)),))

    def test_one_x_with_the_u_of_curve_and_reading(self) -> None:
        computation = compute(self.book())
        found = read_off_fit(computation, "f", "back", "2.0")
        self.assertAlmostEqual(found.x, math.log(4) / 0.5, places=3)
        self.assertEqual(found.y, 2.0)
        fitted = computation.fitted("f")[0]
        of_curve = float(fitted.u_at(found.x)[0])
        assert found.value.u is not None
        self.assertAlmostEqual(found.value.u / (of_curve / (0.5 * 2.0)), 1, places=3)
        read = read_unknown(computation, "f", self.book().fits[0].unknowns[0], "key")
        self.assertAlmostEqual(float(read.traced.value), found.x, places=9)
        whole = math.hypot(of_curve, read.u_mean) / (0.5 * 2.0)
        self.assertAlmostEqual(float(combine_quadrature(read.traced)) / whole, 1, places=2)
        self.assertGreater(read.u_mean, 0)
        self.assertFalse(read.extrapolated)

    def test_where_the_curve_does_not_go(self) -> None:
        with self.assertRaises(CoreError) as caught:
            read_off_fit(compute(self.book()), "f", "back", "50")
        self.assertEqual(caught.exception.code, "outside_domain")

    def test_where_it_goes_twice(self) -> None:
        book = self.book("quadratic", lambda x: (x - 3) ** 2)
        with self.assertRaises(CoreError) as caught:
            read_off_fit(compute(book), "f", "back", "1")
        self.assertIn("at 2.00 and 4.00", str(caught.exception))
        once = read_off_fit(compute(book), "f", "back", "7.84")
        # 6.25 at the left end: only the right arm is that high
        self.assertAlmostEqual(once.x, 5.8, places=2)
        self.assertAlmostEqual(once.slope, 5.6, places=1)

    def test_ends_and_turns(self) -> None:
        def parabola(x: Floats) -> Floats:
            return np.asarray((np.asarray(x) - 1) ** 2)

        self.assertEqual(find_places(parabola, 0, 2, 1.0), (0.0, 2.0))
        self.assertEqual(find_places(parabola, 0, 2, 0.0), (1.0,))
        with self.assertRaises(CoreError) as caught:
            find_place(parabola, lambda x: np.array([2 * (x - 1)]), 0, 2, 0.0)
        self.assertIn("turns", str(caught.exception))
        self.assertEqual(find_places(parabola, 0, 2, 5.0), ())

    def test_a_tangent_is_drawn_by_its_slope(self) -> None:
        found = read_off_fit(compute(self.book()), "f", "forward", "2")
        self.assertAlmostEqual(found.y, 8 * math.exp(-1), places=3)
        self.assertAlmostEqual(found.slope, -4 * math.exp(-1), places=2)
        self.assertIsNotNone(found.tangent)
