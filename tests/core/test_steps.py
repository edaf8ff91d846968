"""The step-by-step model: against closed forms, SciPy's own solvers and fits, and what it has to refuse."""

from __future__ import annotations

import math
import os
import re
import unittest
from collections.abc import Callable
from typing import Any, TypeAlias

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import curve_fit

from hobrel.core.document.choices import Fit, Graph, ModelNumber, RateStage, StateQuantity, StepModel
from hobrel.core.document.lab_book import LabBook, Quantity, Reading, Run, Setting
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import read_formula
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.presentation.analysis import analyse
from hobrel.core.stepping.conditions import read_condition
from hobrel.core.stepping.loops import Equations, StepWay, write_loop
from hobrel.core.stepping.shape import SteppedShape
from hobrel.core.stepping.solving import Beginning, step_along
from hobrel.core.uncertainty.traced import combine_quadrature

Floats = np.ndarray[Any, np.dtype[np.float64]]
Case: TypeAlias = tuple[Equations, tuple[float, ...], tuple[float, ...], Callable[[Floats], Floats]]
"""Equations, starts, constants, and what the first state then is."""
ORDERS: dict[StepWay, int] = {"simple": 1, "half": 2, "fourth": 4}


def equations(states: dict[str, str], constants: str = "", along: str = "t") -> Equations:
    names = (*states, *constants.split(), along)
    rates = tuple(((None, read_formula(rate, names)),) for rate in states.values())
    return Equations(rates, tuple(states), tuple(constants.split()), along)


def book(
    model: StepModel, x: Floats, y: Floats, symbols: str = "t x", units: str = "s m", extra: tuple[Quantity, ...] = (), **fit: Any
) -> LabBook:
    """A lab book with one graph whose fit is this model."""
    (along, up), (x_unit, y_unit) = symbols.split(), units.split()
    quantities = (
        Quantity("along", "changed", "along", along, "" if x_unit == "1" else x_unit),
        Quantity("up", "measured", "up", up, "" if y_unit == "1" else y_unit),
        *extra,
    )
    rows = tuple(
        Setting(f"s{i}", {"along": (Reading(repr(a)),), "up": (Reading(repr(b)),)})
        for i, (a, b) in enumerate(zip(x.tolist(), y.tolist(), strict=True))
    )
    fitted = Fit("F", "G", shape="steps", steps=model, **{"weights": "none", **fit})
    return LabBook("steps", quantities=quantities, runs=(Run("r", "run 1", rows),), graphs=(Graph("G", "", "along", "up"),), fits=(fitted,))


def fitted(of: LabBook) -> FittedCurve:
    found = compute(of).fits["F"]
    if isinstance(found, CoreError):
        raise found
    assert isinstance(found, FittedCurve)
    return found


def falling(fitted_k: bool = True, way: StepWay = "fourth", step: str = "", g: str = "g") -> StepModel:
    """A body that falls from rest, held back in proportion to its speed."""
    states = (StateQuantity("a", "x", "m", "0", "v"), StateQuantity("b", "v", "m/s", "0", f"{g} - k v"))
    return StepModel(states, (ModelNumber("c", "k", "1/s", "1.0", fitted_k),), way=way, step=step)


GRAVITY = Quantity("g", "constant", "gravity", "g", "m/s^2", value="9.81", u="0.03")
ONE = Quantity("a", "constant", "one", "a", "m/s^2", value="1")
T = np.linspace(0.0, 2.0, 21)


def fall(t: Floats, k: float, g: float = 9.81) -> Floats:
    """Its closed form: textbook, integrating dv/dt = g − k v twice."""
    return np.asarray(g / k * t - g / k**2 * (1 - np.exp(-k * t)))


class ClosedForms(unittest.TestCase):
    """Five textbook equations; every one's error falls with the order of the way."""

    def path_error(self, case: Case, way: StepWay, h: float) -> float:
        of, starts, constants, exact = case
        path = step_along(of, Beginning(0.0, starts, constants), 2.0, h, way)
        return float(np.max(np.abs(path.values[0] - exact(path.along))))

    CASES: dict[str, Case] = {
        "drag": (equations({"x": "v", "v": "g - k v"}, "g k"), (0.0, 0.0), (9.81, 1.3), lambda t: fall(t, 1.3)),
        "oscillator": (equations({"x": "v", "v": "-k x / m"}, "k m"), (0.1, 0.0), (4.0, 0.25), lambda t: 0.1 * np.cos(4 * t)),
        # Bateman's second member for λ₁ ≠ λ₂
        "decay chain": (
            equations({"B": "a A - b B", "A": "-a A"}, "a b"), (0.0, 100.0), (0.9, 0.4),
            lambda t: 90 / (0.4 - 0.9) * (np.exp(-0.9 * t) - np.exp(-0.4 * t)),
        ),
        "logistic": (equations({"N": "r N (1 - N / K)"}, "r K"), (10.0,), (1.5, 200.0), lambda t: 200 / (1 + 19 * np.exp(-1.5 * t))),
        "driven by time": (equations({"x": "a cos(t)"}, "a"), (1.0,), (2.0,), lambda t: 1 + 2 * np.sin(t)),
    }  # fmt: skip

    def test_errors_fall_with_the_order(self) -> None:
        for name, case in self.CASES.items():
            for way, order in ORDERS.items():
                with self.subTest(name, way=way):
                    coarse, fine = (self.path_error(case, way, h) for h in (0.02, 0.01))
                    self.assertAlmostEqual(math.log2(coarse / fine), order, delta=0.25)

    def test_fourth_order_is_close(self) -> None:
        for name, case in self.CASES.items():
            with self.subTest(name):
                self.assertLess(self.path_error(case, "fourth", 0.002), 1e-9 * max(case[1]) + 1e-10)

    def test_a_constant_force_is_exact_from_second_order_on(self) -> None:
        of = equations({"x": "v", "v": "F / m"}, "F m")
        case: Case = (of, (1.0, -2.0), (3.0, 1.5), lambda t: 1 - 2 * t + t**2)
        for way in ("half", "fourth"):
            self.assertLess(self.path_error(case, way, 0.1), 1e-13)
        # Euler's x lags by a t h / 2 (Hairer, Nørsett, Wanner, II.3)
        self.assertAlmostEqual(self.path_error(case, "simple", 0.1), 0.2, places=12)

    def test_what_no_closed_form_has_agrees_with_scipy(self) -> None:
        """Quadratic drag in two dimensions with a turning wind, by DOP853 to 10⁻¹²."""
        of = equations({"x": "u", "y": "v", "u": "-c u sqrt(u^2 + v^2)", "v": "-g - c v abs(v) + sin(3 t)"}, "c g")
        path = step_along(of, Beginning(0.0, (0.0, 1.0, 8.0, 6.0), (0.05, 9.81)), 1.5, 1e-3, "fourth")

        def slopes(t: float, s: Floats) -> list[float]:
            return [s[2], s[3], -0.05 * s[2] * math.hypot(s[2], s[3]), -9.81 - 0.05 * s[3] * abs(s[3]) + math.sin(3 * t)]

        found = solve_ivp(slopes, (0, 1.5), [0, 1, 8, 6], method="DOP853", t_eval=path.along[::150], rtol=1e-12, atol=1e-12)
        np.testing.assert_allclose(path.values[:, ::150], found.y, rtol=1e-9, atol=1e-9)

    def test_between_steps_a_cubic_keeps_the_order(self) -> None:
        path = step_along(self.CASES["oscillator"][0], Beginning(0.0, (0.1, 0.0), (4.0, 0.25)), 2.0, 0.02, "fourth")
        places = np.linspace(0, 2, 777)
        values, slopes = path.at(places)
        at_steps = float(np.max(np.abs(path.values[0] - 0.1 * np.cos(4 * path.along))))
        np.testing.assert_allclose(values[0], 0.1 * np.cos(4 * places), rtol=0, atol=1.3 * at_steps)
        np.testing.assert_allclose(slopes[0], -0.4 * np.sin(4 * places), rtol=0, atol=2e-5)
        self.assertTrue(np.all(np.isnan(path.at(np.array([-0.1, 2.1]))[0])))

    def test_backwards(self) -> None:
        path = step_along(equations({"N": "-a N"}, "a"), Beginning(1.0, (5.0,), (2.0,)), 0.0, 1e-3, "fourth")
        self.assertTrue(np.all(np.diff(path.along) > 0))
        np.testing.assert_allclose(path.at(np.array([0.0, 0.5]))[0][0], 5 * np.exp([2.0, 1.0]), rtol=1e-10)


class Fits(unittest.TestCase):
    def setUp(self) -> None:
        self.x = fall(T, 1.3) + np.random.default_rng(3).normal(0, 0.02, T.size)

    def test_a_number_is_fitted_as_scipy_fits_the_closed_form(self) -> None:
        found = fitted(book(falling(), T, self.x, extra=(GRAVITY,)))
        (k,), ((variance,),) = curve_fit(lambda t, k: fall(t, k), T, self.x, [1.0])
        self.assertAlmostEqual(float(found.curve.values[0]), k, places=7)
        self.assertAlmostEqual(float(found.curve.u[0]), math.sqrt(variance), places=7)

    def test_a_number_that_leads_nowhere_is_no_bad_beginning(self) -> None:
        """A vessel that would be empty half-way; a third of the number is tried as well."""
        t = np.linspace(0, 100, 11)
        height = (9 - 0.5 * 0.15 * t) ** 2
        model = StepModel((StateQuantity("a", "h", "cm", "81", "-c sqrt(h)"),), (ModelNumber("b", "c", "cm^(1/2)/s", "0.4", True),))
        self.assertAlmostEqual(float(fitted(book(model, t, height, "t h", "s cm")).curve.values[0]), 0.15, places=6)

    def test_a_start_and_a_number_at_once_with_bars(self) -> None:
        model = StepModel(
            (StateQuantity("a", "x", "m", "0.3", "v", fitted=True), StateQuantity("b", "v", "m/s", "0", "9.81 a - k v")),
            (ModelNumber("c", "k", "1/s", "1.0", True), ModelNumber("d", "a", "m/s^2", "1")),
        )
        of = book(model, T, self.x + 0.5, weights="y_bars")
        found = fitted(of)
        (start, k), covariance = curve_fit(lambda t, s, k: s + fall(t, k), T, self.x + 0.5, [0.3, 1.0])
        self.assertEqual(found.curve.shape.parameters, ("x_0", "k"))
        np.testing.assert_allclose(found.curve.values, [start, k], rtol=1e-6)
        # readings without an instrument have no bars, so the ± are those of the scatter
        np.testing.assert_allclose(found.curve.u, np.sqrt(np.diag(covariance)), rtol=1e-4)

    def test_the_plus_minus_of_a_constant_is_carried_into_what_is_fitted(self) -> None:
        found = fitted(book(falling(), T, self.x, extra=(GRAVITY,)))
        by = {source.key: float(slope) for source, slope in found.outputs["k"].slopes.items() if source.shared}
        more, less = (curve_fit(lambda t, k, g=g: fall(t, k, g), T, self.x, [1.0])[0][0] for g in (9.84, 9.81))
        self.assertAlmostEqual(by["constant:g"], (more - less) / 0.03, places=5)

    def test_coverage(self) -> None:
        """With bars that are true, k lies within its ± as often as it says: 68 % and 95 %, as far as so many tell."""
        tries = 200 if os.environ.get("HOBREL_LONG") == "1" else 80
        random, within = np.random.default_rng(11), []
        for _ in range(tries):
            x = fall(T, 1.3, 9.8) + random.normal(0, 0.02, T.size)
            found = fitted(book(falling(g="9.8 a"), T, x, extra=(ONE,)))
            within.append(abs(float(found.curve.values[0]) - 1.3) / float(found.curve.u[0]))
        for z, share in ((1, 0.683), (2, 0.954)):
            chance = math.sqrt(share * (1 - share) / tries)
            self.assertAlmostEqual(float(np.mean(np.array(within) < z)), share, delta=2.5 * chance)

    def test_with_nothing_fitted_it_is_laid_over_the_points(self) -> None:
        of = book(falling(fitted_k=False, g="9.81 a"), T, self.x, extra=(ONE,))
        found = fitted(of)
        residuals = self.x - fall(T, 1.0)
        np.testing.assert_allclose(found.curve.residuals, residuals, atol=1e-7)
        self.assertEqual((found.curve.dof, found.outputs), (T.size, {}))
        self.assertAlmostEqual(found.curve.residual_sd, math.sqrt(float(residuals @ residuals) / T.size), places=7)

    def test_places_and_numbers_that_are_none_have_no_value(self) -> None:
        shape = fitted(book(falling(), T, self.x, extra=(GRAVITY,))).curve.shape
        values = shape.over(np.array([0.5, np.nan, 1.0])).values(np.array([1.3]))
        np.testing.assert_allclose(values[[0, 2]], fall(np.array([0.5, 1.0]), 1.3), atol=1e-8)
        self.assertTrue(np.isnan(values[1]))
        self.assertTrue(np.all(np.isnan(shape.over(T).values(np.array([np.nan])))))

    def test_a_way_is_walked_once(self) -> None:
        """Also where rounding puts its last step a hair short of what was asked for."""
        for step in ("0.1", "0.03", "0.7", ""):
            shape = fitted(book(falling(step=step), T, fall(T, 1.3), extra=(GRAVITY,))).curve.shape
            assert isinstance(shape, SteppedShape)
            for end in (0.7, 1.1, 1.9, 2.1):
                p = np.array([1.0 + end])
                self.assertIs(shape.paths(p, 0.0, end)[-1], shape.paths(p, 0.0, end)[-1], (step, end))

    def test_slopes_are_those_of_the_model(self) -> None:
        found = fitted(book(falling(), T, fall(T, 1.3), extra=(GRAVITY,)))
        np.testing.assert_allclose(found.slope_at(T), 9.81 / 1.3 * (1 - np.exp(-1.3 * T)), atol=1e-5)

    def test_slopes_of_a_model_in_which_nothing_is_fitted_are_certain(self) -> None:
        """By the closed form again, (g/k)(1 − e^−kt), as a column that has no ± of its own."""
        speed = Quantity("w", "derived", "speed", "w", tangent_of="F")
        of = book(falling(fitted_k=False, g="9.81 a"), T, self.x, extra=(ONE, speed))
        traced = compute(of).columns["r"].columns["w"].traced
        assert traced is not None
        np.testing.assert_allclose(traced.value, 9.81 * (1 - np.exp(-T)), atol=1e-5)
        self.assertEqual(float(np.max(combine_quadrature(traced))), 0.0)

    def test_units_are_those_that_are_written(self) -> None:
        """The same fall in milliseconds and millimetres, k wanted per minute."""
        states = (StateQuantity("a", "x", "cm", "0", "v"), StateQuantity("b", "v", "km/h", "0", "g - k v"))
        model = StepModel(states, (ModelNumber("c", "k", "1/min", "60", True),))
        found = fitted(book(model, T * 1e3, self.x * 1e3, units="ms mm", extra=(GRAVITY,)))
        plain = fitted(book(falling(), T, self.x, extra=(GRAVITY,)))
        self.assertAlmostEqual(float(found.curve.values[0]), 60 * float(plain.curve.values[0]), places=4)
        shown = analyse(book(model, T * 1e3, self.x * 1e3, units="ms mm", extra=(GRAVITY,))).fits[0].parameters[0].value
        self.assertTrue(shown is not None and shown.text.endswith(" min⁻¹"), shown)

    # type: ignore[union-attr]

    def test_cooling_in_degrees(self) -> None:
        """Newton's law of cooling with both temperatures on their scale; °C have a zero of their own."""
        t = np.linspace(0, 600, 13)
        temperature = 21 + 59 * np.exp(-t / 250)
        states = (StateQuantity("a", "theta", "°C", "80", "-(theta - theta_a) / tau"),)
        model = StepModel(states, (ModelNumber("b", "theta_a", "°C", "21"), ModelNumber("c", "tau", "s", "200", True)))
        found = fitted(book(model, t, temperature, "t θ", "s °C"))
        self.assertAlmostEqual(float(found.curve.values[0]), 250, places=4)
        np.testing.assert_allclose(found.at(t), temperature, atol=1e-6)

    def test_what_is_drawn_may_be_made_of_states(self) -> None:
        energy = 0.5 * 2.0 * (9.81 / 1.3 * (1 - np.exp(-1.3 * T))) ** 2
        model = falling()
        mass = Quantity("m", "constant", "mass", "m", "kg", value="2.0")
        of = book(StepModel(model.states, model.numbers, drawn="m v^2 / 2"), T, energy, "t E", "s J", (GRAVITY, mass))
        self.assertAlmostEqual(float(fitted(of).curve.values[0]), 1.3, places=5)

    def test_stages(self) -> None:
        """A block slows by friction until it stands; then nothing moves it."""
        t = np.linspace(0, 3, 31)
        stop = 2.0 / (0.1 * 9.81)
        x = np.where(t < stop, 2 * t - 0.5 * 0.981 * t**2, 2 * stop - 0.5 * 0.981 * stop**2)
        states = (
            StateQuantity("a", "x", "m", "0", "0", stages=(RateStage("w", "v > 0", "v"),)),
            StateQuantity("b", "v", "m/s", "2", "0", stages=(RateStage("w", "v > 0", "-mu g"),)),
        )
        of = book(StepModel(states, (ModelNumber("c", "mu", "", "0.05", True),), step="0.005"), t, x, extra=(GRAVITY,))
        self.assertAlmostEqual(float(fitted(of).curve.values[0]), 0.1, delta=2e-4)
        self.assertIn(r"\text{while}", analyse(of).fits[0].equation_tex)


class Trust(unittest.TestCase):
    def refused(self, of: LabBook) -> CoreError:
        found = compute(of).fits["F"]
        self.assertIsInstance(found, CoreError, found)
        assert isinstance(found, CoreError)
        return found

    def decay(self, step: str, way: StepWay = "simple") -> LabBook:
        t = np.linspace(0, 10, 11)
        model = StepModel((StateQuantity("a", "N", "", "100", "-c N"),), (ModelNumber("b", "c", "1/s", "2"),), way=way, step=step)
        return book(model, t, 100 * np.exp(-2 * t), "t N", "s 1")

    def test_steps_that_run_away_are_not_drawn(self) -> None:
        """Euler's steps of a decay are stable up to 2/λ, here 1 s (Hairer, Wanner, Solving Ordinary Differential Equations II, IV.2)."""
        self.assertEqual(self.refused(self.decay("1.2")).code, "unstable_steps")
        self.assertEqual(analyse(self.decay("1.2")).graphs[0].figure.lines, ())  # type: ignore[union-attr]
        self.assertIn("Try steps of 0.", self.refused(self.decay("1.2")).message)
        self.assertIsInstance(compute(self.decay("0.02")).fits["F"], FittedCurve)

    def test_the_error_of_the_steps_is_said_and_half_the_step_drawn(self) -> None:
        of = self.decay("0.1")
        check = fitted(of).steps
        assert check is not None and check.from_closely is not None
        path = 100 * (1 - 0.2) ** np.arange(0, 101)
        exact = 100 * np.exp(-0.2 * np.arange(0, 101))
        self.assertAlmostEqual(check.from_closely, float(np.max(np.abs(path - exact))), delta=0.1)
        self.assertAlmostEqual(check.by_halving, check.from_closely / 2, delta=0.4)
        self.assertIn("halved", [line.kind for line in analyse(of).graphs[0].figure.lines])  # type: ignore[union-attr]
        fine = analyse(self.decay("0.01", "fourth"))
        self.assertNotIn("halved", [line.kind for line in fine.graphs[0].figure.lines])  # type: ignore[union-attr]

    def test_where_it_has_no_value_is_named(self) -> None:
        """A vessel is empty at t = 2 √h₀ / c (Torricelli's law), and then has no root."""
        t = np.linspace(0, 5, 11)
        model = StepModel((StateQuantity("a", "h", "cm", "100", "-c sqrt(h)"),), (ModelNumber("b", "c", "cm^(1/2)/s", "5"),))
        trouble = self.refused(book(model, t, np.maximum(10 - 2.5 * t, 0) ** 2, "t h", "s cm"))
        self.assertEqual(trouble.code, "steps_stopped")
        self.assertRegex(trouble.message, r"t = (3\.9|4)")

    def test_too_many_steps(self) -> None:
        self.assertEqual(self.refused(self.decay("0.00001")).code, "too_large")
        of = book(falling(step="0.0001"), T, fall(T, 1.3), extra=(GRAVITY,))
        self.assertIn("where something is fitted", self.refused(of).message)

    def test_a_sign_that_chatters_costs_no_more_than_a_step(self) -> None:
        t = np.linspace(0, 1, 6)
        model = StepModel((StateQuantity("a", "v", "m/s", "1", "-b v / abs(v)"),), (ModelNumber("b", "b", "m/s^2", "2"),))
        found = fitted(book(model, t, np.maximum(1 - 2 * t, 0), "t v", "s m/s"))
        self.assertLess(float(np.max(np.abs(found.curve.residuals))), 2 * 0.005)


class Refused(unittest.TestCase):
    def trouble(self, states: tuple[StateQuantity, ...], numbers: tuple[ModelNumber, ...] = (), **model: Any) -> CoreError:
        found = compute(book(StepModel(states, numbers, **model), T, fall(T, 1.3), extra=(GRAVITY,))).fits["F"]
        assert isinstance(found, CoreError), found
        return found

    def test_each_with_the_item_that_it_is_about(self) -> None:
        x, v = StateQuantity("a", "x", "m", "0", "v"), StateQuantity("b", "v", "m/s", "0", "g")
        cases: dict[str, tuple[str, str, tuple[StateQuantity, ...], tuple[ModelNumber, ...], dict[str, str]]] = {
            "rate in m": ("bad_unit", "b", (x, StateQuantity("b", "v", "m/s", "0", "x")), (), {}),
            "bare number": ("bad_unit", "b", (x, StateQuantity("b", "v", "m/s", "0", "9.81")), (), {}),
            "no rate": ("bad_formula", "b", (x, StateQuantity("b", "v", "m/s", "0", " ")), (), {}),
            "unknown symbol": ("bad_formula", "b", (x, StateQuantity("b", "v", "m/s", "0", "g - q")), (), {}),
            "start with letters": ("bad_formula", "b:start", (x, StateQuantity("b", "v", "m/s", "quick", "g")), (), {}),
            "start of another unit": ("bad_unit", "b:start", (x, StateQuantity("b", "v", "m/s", "g", "g")), (), {}),
            "stage compares m with m/s": (
                "bad_unit", "s", (x, StateQuantity("b", "v", "m/s", "0", "g", (RateStage("s", "x > v", "0"),))), (), {},
            ),
            "stage without a sign": (
                "bad_formula", "s", (x, StateQuantity("b", "v", "m/s", "0", "g", (RateStage("s", "v", "0"),))), (), {},
            ),
            "two of one name": ("bad_symbol", "c", (x, v, StateQuantity("c", "x", "m", "0", "v")), (), {}),
            "named as x": ("bad_symbol", "a", (StateQuantity("a", "t", "m", "0", "0"),), (), {}),
            "a number that is none": ("bad_number", "n", (x, v), (ModelNumber("n", "k", "1/s", "fast"),), {}),
            "a step of nothing": ("bad_number", "step", (x, v), (), {"step": "0"}),
            "logarithm of metres": ("bad_unit", "b", (x, StateQuantity("b", "v", "m/s", "0", "g ln(x)")), (), {}),
            "from setting to setting": ("bad_formula", "b", (x, StateQuantity("b", "v", "m/s", "0", "g Delta(x) / x")), (), {}),
            "a power that varies": ("bad_unit", "b", (x, StateQuantity("b", "v", "m/s", "0", "g^(x/x)")), (), {}),
            "drawn in m/s": ("bad_unit", "drawn", (x, v), (), {"drawn": "v"}),
        }  # fmt: skip
        for name, (code, item, states, numbers, model) in cases.items():
            with self.subTest(name):
                found = self.trouble(states, numbers, **model)
                self.assertEqual((found.code, found.fields.get("item")), (code, item), found.message)

    def test_a_graph_whose_y_is_not_in_the_model(self) -> None:
        found = self.trouble((StateQuantity("b", "v", "m/s", "0", "g"),))
        self.assertIn("On this graph stands x", found.message)

    def test_nothing_yet(self) -> None:
        self.assertEqual(self.trouble(()).code, "no_states")


class Loops(unittest.TestCase):
    """No text of a person gets into the loop."""

    ALLOWED = re.compile(
        r"(def|loop|for|i|in|count|start|number|half|sixth|if|else|t|u|h|[skmlowcq]\d+|value\d+|rate\d+|root|log|log10|exp|sin|cos|tan|asin|acos|atan|size|power|"
        r"\d+(\.\d+)?(e[-+]?\d+)?|[-+*/(),:=<> \n])*"
    )

    @given(st.recursive(st.sampled_from(["x", "v", "t", "k", "2", "0.5", "1e3", "pi"]), lambda inner: st.one_of(
        st.tuples(inner, st.sampled_from("+-*/^"), inner).map(lambda p: f"({p[0]} {p[1]} {p[2]})"),
        st.tuples(st.sampled_from(["sin", "sqrt", "ln", "abs", "exp"]), inner).map(lambda p: f"{p[0]}({p[1]})"),
    ), max_leaves=12), st.sampled_from(["simple", "half", "fourth"]))  # fmt: skip
    @settings(max_examples=150, deadline=None)
    def test_only_our_own_words(self, rate: str, way: StepWay) -> None:
        names = {"x", "v", "t", "k"}
        try:
            node = read_formula(rate, names)
        except CoreError:
            return
        of = Equations((((read_condition("v > 0", names), node), (None, node)), ((None, node),)), ("x", "v"), ("k",), "t")
        written = write_loop(of, way)
        self.assertIsNotNone(self.ALLOWED.fullmatch(written), written)
        compile(written, "<test>", "exec")

    def test_hostile_texts_are_no_formulas(self) -> None:
        for text in (
            "__import__('os')",
            "x.__class__",
            "x; import os",
            "(lambda: 0)()",
            "x if v else t",
            "[x for x in v]",
            "exec(x)",
            "x\nimport os",
        ):
            with self.subTest(text), self.assertRaises(CoreError):
                read_formula(text, {"x", "v", "t"})

    def test_a_loop_gives_what_the_formula_says(self) -> None:
        of = equations({"x": "k^3 sqrt(abs(x)) - ln(1 + x^2) / (2 k) + atan(x) acos(0.3) - 2^-x"}, "k")
        path = step_along(of, Beginning(0.0, (0.7,), (1.3,)), 0.1, 0.1, "simple")
        x, k = 0.7, 1.3
        rate = k**3 * math.sqrt(x) - math.log(1 + x * x) / (2 * k) + math.atan(x) * math.acos(0.3) - 2**-x
        self.assertAlmostEqual(float(path.rates[0, 0]), rate, places=14)
        self.assertAlmostEqual(float(path.values[0, 1]), x + 0.1 * rate, places=14)
