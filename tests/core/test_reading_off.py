"""Reading off a line, against the formulas of a calibration (Eurachem/CITAC QUAM, 3rd edition, appendix E.4) worked by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.read_off import read_off

X = np.array([0.0, 1.0, 2.0, 3.0, 4.0])
Y = np.array([0.1, 1.9, 4.2, 5.8, 8.0])
FIT = fit_line(X, Y)
RANGE = (0.0, 4.0)
# by hand: means 2 and 4; Sxx 10, Sxy 19.7; residuals 0.04, −0.13, 0.20, −0.17, 0.06; their squares sum to 0.091
SLOPE, CUT, S = 1.97, 0.06, math.sqrt(0.091 / 3)


def test_the_line_is_that_of_the_hand() -> None:
    assert (FIT.gradient, FIT.intercept) == pytest.approx((SLOPE, CUT))
    assert FIT.residual_sd == pytest.approx(S)


@pytest.mark.parametrize(("repeats", "share"), [(None, 1.0), (1, 1.0), (4, 0.25)])
def test_back_to_x_with_the_scatter_of_its_own_readings(repeats: int | None, share: float) -> None:
    found = read_off(FIT, RANGE, "back", 5.0, repeats=repeats)
    x = (5.0 - CUT) / SLOPE
    assert found.value == pytest.approx(x)
    assert found.u == pytest.approx(S / SLOPE * math.sqrt(share + 1 / 5 + (x - 2) ** 2 / 10))


def test_back_with_an_uncertainty_of_its_own() -> None:
    x = (5.0 - CUT) / SLOPE
    line = S**2 * (1 / 5 + (x - 2) ** 2 / 10)
    assert read_off(FIT, RANGE, "back", 5.0, u_at=0.3).u == pytest.approx(math.sqrt(0.3**2 + line) / SLOPE)


def test_forward_the_line_alone_or_a_further_reading() -> None:
    line = S**2 * (1 / 5 + (3.5 - 2) ** 2 / 10)
    assert read_off(FIT, RANGE, "forward", 3.5).u == pytest.approx(math.sqrt(line))
    assert read_off(FIT, RANGE, "forward", 3.5, repeats=2).u == pytest.approx(math.sqrt(line + S**2 / 2))
    assert read_off(FIT, RANGE, "forward", 3.5, u_at=0.1).u == pytest.approx(math.hypot(math.sqrt(line), SLOPE * 0.1))


@pytest.mark.parametrize(("at", "beyond"), [(0.0, False), (4.0, False), (-0.001, True), (4.001, True)])
def test_the_ends_of_the_data_are_not_beyond_them(at: float, beyond: bool) -> None:
    assert read_off(FIT, RANGE, "forward", at).extrapolated is beyond
    assert read_off(FIT, RANGE, "back", float(FIT.at(at))).extrapolated is beyond
