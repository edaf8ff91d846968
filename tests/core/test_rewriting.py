"""Rewriting what people wrote: symbols renamed in formulas, readings turned into another unit with honest figures."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.readings.converting import convert_division, convert_reading
from hobrel.core.uncertainty.traced import exact

KNOWN = ["x", "k", "m", "v", "t_10", "theta", "T"]


class Renaming(unittest.TestCase):
    def test_every_use_and_nothing_else(self) -> None:
        cases = [
            ("x^2 + 3x", "x", "s", "s^2 + 3s"),
            ("kx", "x", "s", "k s"),
            ("mv^2/2", "v", "u", "m u^2/2"),
            ("exp(-x)", "x", "s", "exp(-s)"),
            ("t_10/10", "t_10", "t", "t/10"),
            ("T^2 + t_10", "T", "P", "P^2 + t_10"),
            ("sin(θ)", "theta", "phi", "sin(phi)"),
            ("max", "x", "s", "max"),
            ("2 x + (", "x", "s", "2 s + ("),
            ("", "x", "s", ""),
        ]
        for text, old, new, expected in cases:
            with self.subTest(text):
                self.assertEqual(rename_symbol(text, old, new, KNOWN), expected)

    @given(st.sampled_from(["kx", "x^2 - k x", "m v^2 / (2 x)", "sqrt(x m)", "x x x", "ln(x)/x"]), st.sampled_from(["s", "y_2", "omega"]))
    def test_the_value_stays_the_same(self, text: str, new: str) -> None:
        values = {name: 1.3 + 0.4 * i for i, name in enumerate(KNOWN)}
        renamed = {new if n == "x" else n: v for n, v in values.items()}
        before, after = (
            float(evaluate(read_formula(t, names), {n: exact(v) for n, v in names.items()}).value)
            for t, names in ((text, values), (rename_symbol(text, "x", new, KNOWN), renamed))
        )
        self.assertAlmostEqual(before, after, places=12)


class Converting(unittest.TestCase):
    def test_figures_stay_honest(self) -> None:
        cases = [
            ("0.300", "m", "cm", "30.0"),
            ("30.0", "cm", "m", "0.300"),
            ("25", "cm", "mm", "250"),
            ("2,50", "s", "ms", "2500"),
            ("1.25", "min", "s", "75.0"),
            ("20.0", "°C", "K", "20.0 °C"),
            ("5", "min", "h", "5 min"),
            ("five", "m", "cm", "five"),
            ("25.3 mm", "m", "cm", "25.3 mm"),
            ("0.300", "m", "m", "0.300"),
        ]
        for text, old, new, expected in cases:
            with self.subTest(text, unit=new):
                self.assertEqual(convert_reading(text, old, new), expected)
        self.assertEqual((convert_division("0.001", "m", "mm"), convert_division("0.5", "cm", "m")), ("1", "0.005"))
        with self.assertRaises(CoreError):
            convert_reading("2.5", "m", "s")
