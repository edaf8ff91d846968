"""Which plot is straight: by trying forms on points, and by the algebra of a relation."""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.straightness import Bars
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.linearising.algebra import names_in, read_relation
from hobrel.core.linearising.forms import Form, read_form, try_forms
from hobrel.core.linearising.relation import find_straight_forms, find_straight_plots
from hobrel.core.uncertainty.traced import Traced, exact

X = np.array([0.30, 0.35, 0.42, 0.50, 0.58, 0.66, 0.75, 0.90])

# relation, x, y, unknown, and the simplest plot: y form, x form, gradient, intercept, unknown from the gradient (textbook results)
RELATIONS = [
    ("T = 2 pi sqrt(L/g)", "L", "T", "g", "T^2", "L", "4 pi^2/g", "0", "4 pi^2/gradient"),
    ("T = 2 pi sqrt(4 m L^3/(E b d^3))", "L", "T", "E", "T^2", "L^3", "16 pi^2 m/(E b d^3)", "0", "16 pi^2 m/(b d^3 gradient)"),
    ("N = N_0 exp(-t/tau)", "t", "N", "tau", "ln(N)", "t", "-1/tau", "ln(N_0)", "-1/gradient"),
    ("k = A exp(-E/(R T))", "T", "k", "E", "ln(k)", "1/T", "-E/R", "ln(A)", "-R gradient"),
    ("sqrt(h) = sqrt(h_0) - c t", "t", "h", "c", "sqrt(h)", "t", "-c", "sqrt(h_0)", "-gradient"),
    ("V = E - I r", "I", "V", "r", "V", "I", "-r", "E", "-gradient"),
    ("1/f = 1/u + 1/v", "u", "v", "f", "1/v", "1/u", "-1", "1/f", ""),
    ("T = 2 pi sqrt((m + M)/k)", "m", "T", "k", "T^2", "m", "4 pi^2/k", "4 pi^2 M/k", "4 pi^2/gradient"),
    ("y = a x^n", "x", "y", "n", "ln(y)", "ln(x)", "n", "ln(a)", "gradient"),
    # angles: refraction, an incline, two polarisers, a grating, a compass
    ("sin(i) = n sin(r)", "r", "i", "n", "sin(i)", "sin(r)", "n", "0", "gradient"),
    ("a = g sin(theta)", "theta", "a", "g", "a", "sin(theta)", "g", "0", "gradient"),
    ("I = I_0 cos(a)^2", "a", "I", "I_0", "I", "cos(a)^2", "I_0", "0", "gradient"),
    ("sin(a) = m lambda/d", "m", "a", "d", "sin(a)", "m", "lambda/d", "0", "lambda/gradient"),
    ("I = I_1/tan(a)", "a", "I", "I_1", "1/I", "tan(a)", "1/I_1", "0", "1/gradient"),
    # (√y − a x)(√y + z) = 0: y = z² squares to a solution and is none, though it is the larger
    ("y + (z - a x) sqrt(y) = a z x", "x", "y", "a", "y", "x^2", "a^2", "0", "sqrt(gradient)"),
]


def number(formula: str, values: dict[str, float]) -> float:
    return float(evaluate(read_formula(formula, values), {k: exact(v) for k, v in values.items()}).value)


class Relations(unittest.TestCase):
    def test_the_simplest_straight_plot_and_what_it_means(self) -> None:
        for relation, x, y, unknown, y_form, x_form, gradient, intercept, solved in RELATIONS:
            with self.subTest(relation):
                plot = find_straight_plots(relation, x, y, unknown)[0]
                self.assertEqual((plot.y_form, plot.x_form), (y_form, x_form))
                values = {name: 0.6 + 0.13 * i for i, name in enumerate(sorted(names_in(relation) | {"gradient"}))}
                for got, expected in (
                    (plot.gradient_means, gradient),
                    (plot.intercept_means, intercept),
                    (plot.unknown_from_gradient, solved),
                ):
                    if expected:
                        self.assertAlmostEqual(number(got, values), number(expected, values), places=10)
                    else:
                        self.assertEqual(got, "")

    def test_every_plot_offered_is_straight_and_gives_the_unknown_back(self) -> None:
        """Points made from the relation lie on a line whose gradient leads to the value that they were made with."""
        fixed = {"g": 9.81, "m": 0.4, "E": 2.1, "b": 0.7, "d": 0.9}
        truths: list[tuple[str, str, Callable[[np.ndarray], np.ndarray]]] = [
            ("T = 2 pi sqrt(L/g)", "g", lambda x: 2 * np.pi * np.sqrt(x / fixed["g"])),
            ("T = 2 pi sqrt(4 m L^3/(E b d^3))", "E", lambda x: 2 * np.pi * np.sqrt(4 * 0.4 * x**3 / (2.1 * 0.7 * 0.9**3))),
        ]
        for relation, unknown, make in truths:
            for plot in find_straight_plots(relation, "L", "T", unknown):
                with self.subTest(plot.y_form, against=plot.x_form):
                    xs, ys = (
                        evaluate(read_formula(f, {"L", "T"}), {"L": Traced(X, {}), "T": Traced(make(X), {})}).value
                        for f in (plot.x_form, plot.y_form)
                    )
                    slopes = np.diff(ys) / np.diff(xs)
                    np.testing.assert_allclose(slopes, slopes[0], rtol=1e-8)
                    self.assertAlmostEqual(number(plot.gradient_means, fixed) / slopes[0], 1, places=8)
                    if plot.unknown_from_gradient:
                        known = fixed | {"gradient": float(slopes[0])}
                        self.assertAlmostEqual(number(plot.unknown_from_gradient, known) / fixed[unknown], 1, places=8)

    def test_of_a_gradient_below_zero_the_root_is_that_of_its_opposite(self) -> None:
        """An ellipse: y² = b² − (b/a)² x², so a = b/√(−gradient)."""
        (plot,) = find_straight_plots("x^2/a^2 + y^2/b^2 = 1", "x", "y", "a")
        self.assertEqual((plot.x_form, plot.y_form), ("x^2", "y^2"))
        self.assertAlmostEqual(number(plot.unknown_from_gradient, {"gradient": -0.25, "b": 1.5}), 3.0)

    def test_functions_of_an_angle_are_tried_where_the_relation_takes_them_and_nowhere_else(self) -> None:
        for relation, x, y in (("T = 2 pi sqrt(L/g)", "L", "T"), ("sin(i) = n sin(r)", "r", "i"), ("y = x tan(a)", "x", "y")):
            found = {form for pair in find_straight_forms(relation, x, y) for form in pair}
            asked = (
                {f"{name}({s}){power}" for name, s in (("sin", "i"), ("sin", "r")) for power in ("", "^2")} if "sin" in relation else set()
            )
            self.assertEqual({f for f in found if f[:3] in ("sin", "cos", "tan")}, asked, relation)

    def test_the_forms_alone_are_those_of_the_plots(self) -> None:
        for relation, x, y, *_ in RELATIONS:
            with self.subTest(relation):
                plot = find_straight_plots(relation, x, y)[0]
                self.assertEqual(find_straight_forms(relation, x, y)[0], (plot.x_form, plot.y_form))

    def test_what_cannot_be_straightened_says_so(self) -> None:
        cases = [
            ("T = 2 pi sqrt(L/g)", "L", "T", "q", "bad_formula"),
            ("T + 1", "L", "T", "", "bad_formula"),
            ("T = L +", "L", "T", "", "bad_formula"),
            ("s = v_0 t + g t^2/2", "t", "s", "g", "did_not_converge"),
        ]
        for relation, x, y, unknown, code in cases:
            # the second time from what was kept of the first
            for _ in range(2):
                with self.subTest(relation), self.assertRaises(CoreError) as caught:
                    find_straight_plots(relation, x, y, unknown)
                self.assertEqual(caught.exception.code, code)

    def test_letters_written_together_are_one_symbol_unless_the_lab_book_knows_better(self) -> None:
        self.assertEqual(names_in("F = kx + sin(2 pi t)"), {"F", "kx", "t"})
        _, right = read_relation("F = kx", {"F", "k", "x"})
        self.assertAlmostEqual(float(evaluate(right, {"k": exact(2.0), "x": exact(3.0)}).value), 6.0)


class Boards(unittest.TestCase):
    def test_noisy_points_lie_straightest_where_they_should(self) -> None:
        random = np.random.default_rng(11)
        cases: list[tuple[np.ndarray, str, str]] = [
            (2 * np.pi * np.sqrt(X / 9.81), "x", "y^2"),
            (3.0 / X, "1/x", "y"),
            (5 * np.exp(-3 * X), "x", "ln(y)"),
            (0.4 * X**3, "x^3", "y"),
        ]
        for y, x_form, y_form in cases:
            with self.subTest(y_form, against=x_form):
                noisy = y * (1 + 0.002 * random.normal(size=X.size))
                plots = {
                    (p.x_form.of("x"), p.y_form.of("y")): p
                    for p in try_forms(X, noisy, Bars(np.zeros_like(y), 0.002 * y, np.zeros_like(y), math.inf))
                }
                right, raw = plots[x_form, y_form], plots["x", "y"]
                self.assertEqual((right.verdict, raw.verdict), ("straight", "bends"))
                self.assertLess(right.strain, raw.strain)

    def test_exact_points_come_first_with_the_simplest_form(self) -> None:
        best = try_forms(X, X**2)[0]
        self.assertEqual((best.x_form.text, best.y_form.text, best.strain), ("v^2", "v", 0.0))

    def test_bars_go_through_the_form(self) -> None:
        """u(ln v) = u/v and u(v²) = 2 v u: first order (JCGM 100:2008, 5.1.2)."""
        values, u = np.array([2.0, 5.0]), np.array([0.1, 0.2])
        for form, expected in (("ln(v)", u / values), ("v^2", 2 * values * u), ("1/v", u / values**2)):
            formed = Form(form).apply(values, u)
            assert formed is not None
            np.testing.assert_allclose(formed.u, expected)
            self.assertEqual(set(np.sign(formed.slope).tolist()), {-1.0 if form == "1/v" else 1.0})

    def test_forms_that_some_value_does_not_have_are_left_out(self) -> None:
        forms = {p.y_form.text for p in try_forms(X, np.linspace(-1, 1, X.size))}
        self.assertEqual(forms, {"v", "v^2", "v^3", "1/v", "1/v^2"})

    def test_forms_are_read_with_any_letter(self) -> None:
        for text, form in (("x^2", "v^2"), ("ln y", "ln(v)"), ("1/sqrt(v)", "1/sqrt(v)"), ("exp(-x)", "exp(-v)")):
            self.assertEqual(read_form(text).text, form)
        with self.assertRaises(CoreError):
            read_form("v +")
        with self.assertRaises(CoreError):
            try_forms([1, 2, 3], [1, 2, 3])
