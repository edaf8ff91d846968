"""Reading off a line, against the formulas of a calibration (Eurachem/CITAC QUAM, 3rd edition, appendix E.4) worked by hand."""

from __future__ import annotations

import math
from unittest import TestCase

import numpy as np

from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.read_off import read_off

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
