"""Fits with bars along both axes, beside ODRPACK95 (ACM TOMS 676) by itself and with derivatives of its own."""

from __future__ import annotations

import unittest
from types import SimpleNamespace
from unittest.mock import patch

import numpy as np
from odrpack import odr_fit

from hobrel.core.errors import CoreError
from hobrel.core.fitting.least_distance import LeastDistance, find_least_distance
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.shapes import SHAPES, find_shape, own_shape
from hobrel.core.uncertainty.traced import Floats
from tests.core.test_curves import PARAMETERS, X, values

NO_LIBRARY = patch("odrpack.odr_fit", side_effect=AssertionError("the library was asked"))


def points_of(name: str, size: float = 1.0) -> tuple[Floats, Floats, Floats, Floats]:
    """x, y and their bars; every fourth x is known exactly."""
    dice = np.random.default_rng(11)
    u_x = size * np.where(np.arange(X.size) % 4 == 3, 0.0, np.linspace(0.02, 0.06, X.size))
    exact = values(SHAPES[name], PARAMETERS[name])
    u_y = size * np.linspace(0.03, 0.01, X.size) * np.ptp(exact)
    return X + u_x * dice.normal(size=X.size), exact + u_y * dice.normal(size=X.size), u_x, u_y


def ask_library(name: str, begin: list[float], x: Floats, y: Floats, u_x: Floats, u_y: Floats) -> LeastDistance:
    found = odr_fit(
        lambda x, p: values(SHAPES[name], list(p), x),
        x,
        y,
        np.array(begin),
        weight_x=1 / np.where(u_x > 0, u_x, 1.0) ** 2,
        weight_y=1 / u_y**2,
        fix_x=u_x == 0,
        diff_scheme="central",
        sstol=1e-15,
        partol=1e-15,
    )
    return LeastDistance(found.beta, found.xplusd)


class LeastDistances(unittest.TestCase):
    def test_every_shape_comes_as_near_as_the_reference_library_brings_it(self) -> None:
        for name, truth in PARAMETERS.items():
            x, y, u_x, u_y = points_of(name)
            begin = [1.1 * p for p in truth] if name != "sine" else truth
            with self.subTest(name):
                expected = ask_library(name, truth, x, y, u_x, u_y)
                with NO_LIBRARY:
                    found = find_least_distance(SHAPES[name].over(x), y, np.array(begin), u_x, u_y)
                np.testing.assert_allclose(found.parameters, expected.parameters, rtol=1e-5)
                np.testing.assert_allclose(found.x, expected.x, atol=1e-6)
                self.assertTrue(np.array_equal(found.x[u_x == 0], x[u_x == 0]))

    def test_from_the_best_fit_by_bars_along_y(self) -> None:
        """With equal bars its first step is nothing; York's equations (see `fit_line`) and the library lead further."""
        x, u_x, u_y = np.arange(1.0, 5.0), np.full(4, 0.05), np.full(4, 0.02)
        y = 2 * x + 0.04 * np.array([-1, 1, -1, 1])
        for name, begin in (("line", np.polyfit(x, y, 1)), ("quadratic", np.array([0.0, *np.polyfit(x, y, 1)]))):
            with self.subTest(name), NO_LIBRARY:
                found = find_least_distance(SHAPES[name].over(x), y, begin, u_x, u_y)
                york = fit_line(x, y, u_y, u_x)
                np.testing.assert_allclose(found.parameters[-2:], [york.gradient, york.intercept], rtol=1e-9)
            self.assertGreater(abs(york.gradient - begin[-2]), 1e-5)
            np.testing.assert_allclose(found.parameters, ask_library(name, begin.tolist(), x, y, u_x, u_y).parameters, atol=1e-5)

    def test_nothing_nearby_is_nearer(self) -> None:
        """The sum of squares, written out here, is larger wherever one parameter or one x is moved by a hundredth of its ±."""
        for name in ("exponential_offset", "sine", "saturation", "power"):
            x, y, u_x, u_y = points_of(name)
            with NO_LIBRARY:
                found = find_least_distance(SHAPES[name].over(x), y, np.array(PARAMETERS[name]), u_x, u_y)
            free = u_x > 0

            def miss(
                p: Floats, places: Floats, name: str = name, x: Floats = x, y: Floats = y, u_x: Floats = u_x, u_y: Floats = u_y
            ) -> float:
                off, along = (y - values(SHAPES[name], list(p), places)) / u_y, (x - places)[u_x > 0] / u_x[u_x > 0]
                return float(off @ off + along @ along)

            least = miss(found.parameters, found.x)
            for sign in (1, -1):
                for i in range(found.parameters.size):
                    moved = found.parameters * np.where(np.arange(found.parameters.size) == i, 1 + sign * 1e-3, 1)
                    self.assertGreater(miss(moved, found.x), least, (name, i, sign))
                for i in np.flatnonzero(free):
                    places = found.x + np.where(np.arange(x.size) == i, sign * 0.01 * u_x, 0.0)
                    self.assertGreater(miss(found.parameters, places), least, (name, "x", i, sign))

    def test_from_afar_the_library_takes_over(self) -> None:
        x, y, u_x, u_y = points_of("logistic")
        near, far = (find_least_distance(SHAPES["logistic"].over(x), y, np.array(p), u_x, u_y) for p in ([8.0, 1.9, 3.1], [10.0, 2.5, 4.0]))
        np.testing.assert_allclose(far.parameters, near.parameters, rtol=1e-6)
        with NO_LIBRARY, self.assertRaisesRegex(AssertionError, "the library was asked"):
            find_least_distance(SHAPES["logistic"].over(x), y, np.array([10.0, 2.5, 4.0]), u_x, u_y)

    def test_exact_points_are_met(self) -> None:
        for name, truth in PARAMETERS.items():
            shape = find_shape(name)
            with self.subTest(name):
                found = find_least_distance(
                    shape.over(X), values(shape, truth), np.array(truth) * 1.05, np.full(X.size, 0.01), np.full(X.size, 0.01)
                )
                np.testing.assert_allclose(found.parameters, truth, rtol=1e-9)
                np.testing.assert_allclose(found.x, X, rtol=1e-9)

    def test_bars_of_almost_nothing_are_only_bars(self) -> None:
        """A frequency known to 10⁻¹⁰ of itself is no reason to look elsewhere: steps end in rounding there."""
        for name in ("sine", "exponential", "cubic"):
            x, y, u_x, u_y = points_of(name, size=1e-9)
            with self.subTest(name), NO_LIBRARY:
                found = find_least_distance(SHAPES[name].over(x), y, np.array(PARAMETERS[name]), u_x, u_y)
                np.testing.assert_allclose(found.parameters, PARAMETERS[name], rtol=1e-8)
                self.assertFalse(np.array_equal(found.parameters, PARAMETERS[name]))

    def test_the_library_is_not_held_by_a_beginning_that_is_rounding(self) -> None:
        for along, up in ((1.0, 1.0), (0.01, 1e-3), (100.0, 1e6)):
            x = along * np.linspace(-1, 1, 9)
            y = up * (0.5 + 2 * x / along + 0.3 * (x / along) ** 2 + 0.01 * np.array([1, -1, 0, 1, 0, -1, 1, 0, -1]))
            u_x, u_y, model = np.full(9, 0.003 * along), np.full(9, 0.01 * up), SHAPES["quadratic"].over(x)
            near = find_least_distance(model, y, up * np.array([0.3 / along**2, 2.0 / along, 0.5]), u_x, u_y)
            with patch("hobrel.core.fitting.least_distance._step_down", return_value=None):
                for a, c in ((1e-17, 1e-17), (1e-12, 0.0), (1e-3, 1.0)):
                    found = find_least_distance(model, y, up * np.array([a / along**2, 2.0 / along, c]), u_x, u_y)
                    np.testing.assert_allclose(found.parameters, near.parameters, rtol=1e-6, err_msg=f"{along} {a}")

    def test_how_the_library_stopped_is_in_the_last_digit(self) -> None:
        x, y, u_x, u_y = points_of("logistic")
        for info, settled in ((1, True), (2, True), (3, True), (1001, True), (4, False), (5, False), (14, False), (10000, False)):
            stopped = SimpleNamespace(info=info, beta=[8.0, 1.9, 3.1], xplusd=x)
            with self.subTest(info), patch("odrpack.odr_fit", return_value=stopped):
                try:
                    found = find_least_distance(SHAPES["logistic"].over(x), y, np.array([10.0, 2.5, 4.0]), u_x, u_y)
                except CoreError as trouble:
                    self.assertEqual((trouble.code, settled), ("did_not_converge", False))
                else:
                    self.assertTrue(settled and np.array_equal(found.x, x))

    def test_a_beginning_at_which_a_parameter_does_nothing(self) -> None:
        """a exp(b x) from a = 0, and two parameters of which only the sum counts: no step can be worked out, and the library is asked."""
        x, y, u_x, u_y = points_of("exponential")
        near, from_nothing = (find_least_distance(SHAPES["exponential"].over(x), y, np.array([a, -0.4]), u_x, u_y) for a in (5.0, 0.0))
        np.testing.assert_allclose(from_nothing.parameters, near.parameters, rtol=1e-6)
        twice = own_shape("a x + b x", ("a", "b"))
        with patch("odrpack.odr_fit", return_value=SimpleNamespace(info=1, beta=[1.0, 2.0], xplusd=x)) as asked:
            find_least_distance(twice.over(x), y, np.array([1.0, 2.0]), u_x, u_y)
        asked.assert_called_once()

    def test_what_does_not_settle_is_said(self) -> None:
        with self.assertRaises(CoreError) as caught:
            find_least_distance(
                SHAPES["power"].over(X),
                np.where(np.arange(X.size) % 2, 1e9, -1e9),
                np.array([1e-300, 900.0]),
                X / 100,
                np.full(X.size, 0.1),
            )
        self.assertEqual(caught.exception.code, "did_not_converge")
