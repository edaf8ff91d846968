"""Formulas on one line, as they stand on a graph: brackets, signs and raised exponents, worked out by hand."""

from __future__ import annotations

import unittest

from hobrel.core.formulas.one_line import write_on_one_line
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.typeset import plain_text


def written(formula: str, x: str = "t", **values: str) -> str:
    node = read_formula(formula, {"x", *values})
    return plain_text(write_on_one_line(node, values, {"x": x}))


class OnOneLine(unittest.TestCase):
    def test_numbers_with_units_get_brackets_where_they_are_multiplied(self) -> None:
        self.assertEqual(written("a x + b", x="L^3", a="4.79 s²/m³", b="0.002 s²"), "(4.79 s²/m³) L³ + 0.002 s²")
        self.assertEqual(written("a x + b", a="4.79", b="3"), "4.79 t + 3")

    def test_a_minus_sign_is_said_once(self) -> None:
        self.assertEqual(written("a x + b", a="−2.0 m/s", b="−0.5 m"), "(−2.0 m/s) t − 0.5 m")
        self.assertEqual(written("a - b", a="1 m", b="2 m"), "1 m − 2 m")
        self.assertEqual(written("a - b", a="1 m", b="−2 m"), "1 m + 2 m")
        self.assertEqual(written("-a", a="−2 m"), "2 m")
        self.assertEqual(written("-a", a="2 m"), "−(2 m)")

    def test_brackets_that_matter_stay(self) -> None:
        self.assertEqual(written("a x / (b + x)", a="9.1 mL", b="3"), "(9.1 mL) t/(3 + t)")
        self.assertEqual(written("a / (1 + exp(-b (x - c)))", a="7", b="0.70 1/h", c="6 h"), "7/(1 + exp(−(0.70 1/h) (t − 6 h)))")
        self.assertEqual(written("a / (b x)", a="7", b="2"), "7/(2 t)")
        self.assertEqual(written("a - (b - x)", a="7", b="2"), "7 − (2 − t)")
        self.assertEqual(written("abs(x) sqrt(x)"), "|t| √(t)")

    def test_powers(self) -> None:
        self.assertEqual(written("a x^n", a="2.0", n="1.5"), "2.0 t_1.5".replace("_1.5", "¹.⁵"))
        self.assertEqual(written("a x^2", x="L^3", a="2"), "2 (L³)²")
        self.assertEqual(written("x", x="1/theta"), "1/θ")
        self.assertEqual(written("a x", x="1/theta", a="2"), "2 (1/θ)")
        self.assertEqual(written("a^2", a="2 m"), "(2 m)²")
