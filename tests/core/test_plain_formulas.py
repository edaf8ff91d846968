"""A model's values and slopes in plain steps: against SymPy's derivatives, and against the evaluation that they stand in for."""

from __future__ import annotations

import random
import unittest
import warnings

import numpy as np
import sympy

from hobrel.core.errors import CoreError
from hobrel.core.fitting.shapes import Model, own_shape
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.plain import make_steps
from hobrel.core.formulas.reading import read_formula
from hobrel.core.uncertainty.traced import Floats, Source, Traced

X = np.array([0.31, 0.8, 1.7, 2.9])
NAMES = ("a", "b", "c")
FUNCTIONS = ("sqrt", "ln", "log10", "exp", "sin", "cos", "tan", "asin", "acos", "atan", "abs")


def draw(random: random.Random, depth: int) -> str:
    if depth == 0 or random.random() < 0.15:
        return random.choice(["x", *NAMES, "pi", "2", "0.7", "3"])
    kind = random.randrange(8)
    first = draw(random, depth - 1)
    if kind < 4:
        return f"({first}) {'+-*/'[kind]} ({draw(random, depth - 1)})"
    if kind == 4:
        return f"({first})^{random.choice(['2', '3', '4', '0.5', '(-1)', '0', '(b)'])}"
    if kind == 5:
        return f"-({first})"
    return f"{random.choice(FUNCTIONS)}({first})"


def by_sympy(formula: str, p: Floats, used: tuple[str, ...]) -> tuple[Floats, Floats]:
    """Values, and slopes by each parameter and by x."""
    known = {name: sympy.Symbol(name, real=True) for name in ("x", *NAMES)}
    names = {**known, "ln": sympy.log, "log10": lambda of: sympy.log(of, 10)}
    written = sympy.sympify(formula.replace("^", "**"), names)
    wanted = [written, *(sympy.diff(written, known[s]) for s in (*used, "x"))]
    found = np.array(
        [
            [float(w.subs({**{known[n]: v for n, v in zip(NAMES, p.tolist(), strict=True)}, known["x"]: x}).evalf(20)) for x in X.tolist()]
            for w in wanted
        ]
    )
    return found[0], found[1:]


class PlainSteps(unittest.TestCase):
    def test_every_rule_against_sympy(self) -> None:
        p = np.array([0.83, 1.9, -0.6])
        formulas = {
            "a + b - c*x": "abc", "a*x/b": "ab", "a/(b*x)": "ab", "(a*x)^3": "a", "(x/b)^2": "b", "(b*x)^4": "b", "x^a": "a", "b^x": "b",
            "(a*x)^(c + x)": "ac", "a*x^0": "a", "-(a*x)^0.7": "a", "a*sqrt(b*x)": "ab", "a*ln(b*x)": "ab", "log10(b*x)*a": "ab",
            "a*exp(c*x)": "ac", "sin(a*x)": "a", "cos(a*x)": "a", "tan(a*x/3)": "a", "asin(a*x/3)": "a", "acos(a*x/3)": "a",
            "atan(a*x)": "a", "abs(c*x + a)": "ac", "pi*a*x": "a", "x/(a - x)": "a", "a/x^2": "a",
        }  # fmt: skip
        for formula, used in formulas.items():
            own = p[[NAMES.index(n) for n in used]]
            with self.subTest(formula):
                model = Model(own_shape(formula, tuple(used)), X)
                values, jacobian = model.with_jacobian(own)
                whole, slopes = by_sympy(formula.replace("abs", "Abs"), p, tuple(used))
                np.testing.assert_allclose(values, whole, rtol=1e-13)
                np.testing.assert_allclose(jacobian.T, slopes[:-1], rtol=1e-12, atol=1e-14)
                np.testing.assert_allclose(model.slope(own), slopes[-1], rtol=1e-12, atol=1e-14)

    def test_as_the_evaluation_with_units_has_it(self) -> None:
        """Six hundred drawn formulas, those without a value somewhere among them."""
        drawn, nowhere = random.Random(5), 0
        names = frozenset(("x", *NAMES))
        for _ in range(600):
            formula = draw(drawn, 4)
            node = read_formula(formula, set(names))
            steps = make_steps(node, names)
            assert steps is not None
            p = np.array([drawn.uniform(-2, 3) for _ in NAMES])
            sources = [Source(n, n, np.asarray(1.0)) for n in NAMES]
            seeds = np.eye(3)[:, :, None]
            with warnings.catch_warnings(), np.errstate(divide="raise", over="raise", invalid="raise", under="ignore"):
                warnings.simplefilter("ignore")
                try:
                    values, slopes = steps({"x": (X, None), **{n: (v, s) for n, v, s in zip(NAMES, p, seeds, strict=True)}})
                except FloatingPointError:
                    nowhere += 1
                    continue
            with self.subTest(formula), warnings.catch_warnings():
                warnings.simplefilter("ignore")
                whole = evaluate(
                    node, {"x": Traced(X, {}), **{s.key: Traced(np.asarray(v), {s: s.u}) for s, v in zip(sources, p, strict=True)}}
                )
                np.testing.assert_allclose(values, whole.value, rtol=1e-12)
                for i, source in enumerate(sources):
                    mine = 0.0 if slopes is None else slopes[i]
                    np.testing.assert_allclose(
                        np.broadcast_to(mine, 4), np.broadcast_to(whole.slopes.get(source, 0.0), 4), rtol=1e-9, atol=1e-9
                    )
        self.assertTrue(60 < nowhere < 450, nowhere)

    def test_no_value_somewhere(self) -> None:
        model = Model(own_shape("a sqrt(x - b)", ("a", "b")), X)
        self.assertTrue(np.isnan(model.values(np.array([1.0, 1.0]))).all())
        self.assertTrue(np.isnan(model.with_jacobian(np.array([1.0, 1.0]))[1]).all())
        # on the edge there is a value, and the others keep their slopes
        values, jacobian = model.with_jacobian(np.array([2.0, 0.31]))
        np.testing.assert_allclose(values, 2 * np.sqrt(X - 0.31))
        np.testing.assert_allclose(jacobian[1:, 0], np.sqrt(X - 0.31)[1:])
        beyond = Model(own_shape("x^a", ("a",)), X)
        self.assertTrue(np.isnan(beyond.values(np.array([50.5]))).all())
        self.assertTrue(np.isfinite(beyond.values(np.array([50.0]))).all())

    def test_a_constant_of_nature_has_a_unit(self) -> None:
        """What is no pure number is left to the evaluation with units."""
        self.assertIsNone(make_steps(read_formula("a x + N_A", {"a", "x"}), frozenset(("a", "x"))))
        with self.assertRaises(CoreError) as trouble:
            Model(own_shape("a x + N_A", ("a",)), X).values(np.array([1.0]))
        self.assertEqual(trouble.exception.code, "bad_unit")
