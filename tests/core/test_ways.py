"""Four ways of propagation, against the worked examples of the GUM and its first supplement, and an independent package."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from uncertainties import ufloat

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.ways import Input, Propagation, WayKind, compare_ways, propagate
from hobrel.core.sentences import told
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.uncertainty.traced import Source, Traced, effective_dof
from hobrel.core.units.calculus import parse_unit, write_unit
from hobrel.core.units.constants import find_constant


def run(
    formula: str, way: WayKind = "quadrature", correlations: dict[tuple[str, str], float] | None = None, **inputs: Input
) -> Propagation:
    return propagate(read_formula(formula, inputs), inputs, way, correlations)


def rectangle(centre: float, half_width: float) -> Input:
    return Input(centre, half_width / math.sqrt(3), distribution="rectangular")


class WorkedExamples(unittest.TestCase):
    def test_resistance_and_reactance_measured_together(self) -> None:
        """JCGM 100:2008, H.2, tables H.2 and H.3: R = 127.732 ± 0.071, X = 219.847 ± 0.295, Z = 254.260 ± 0.236 ohm."""
        inputs = {"V": Input(4.9990, 0.0032), "I": Input(19.6610e-3, 0.0095e-3), "phi": Input(1.04446, 0.00075)}
        correlations = {("V", "I"): -0.355311, ("V", "phi"): 0.857624, ("I", "phi"): -0.645111}
        cases = [("V cos(phi)/I", 127.732, 0.071), ("V sin(phi)/I", 219.847, 0.295), ("V/I", 254.260, 0.236)]
        for formula, value, u in cases:
            used = {pair: r for pair, r in correlations.items() if all(name in formula for name in pair)}
            for way in ("quadrature", "monte_carlo"):
                with self.subTest(formula, way=way):
                    result = propagate(read_formula(formula, inputs), inputs, way, used)  # type: ignore[arg-type]
                    self.assertAlmostEqual(result.value, value, places=2)
                    self.assertAlmostEqual(result.u, u, places=2)

    def test_additive_models_by_monte_carlo(self) -> None:
        """JCGM 101:2008, 9.2.2 to 9.2.4: sums of four inputs; standard uncertainty and the middle 95 %."""
        normal = {n: Input(0.0, 1.0) for n in "abcd"}
        flat = {n: rectangle(0.0, math.sqrt(3)) for n in "abcd"}
        one_wide = flat | {"d": rectangle(0.0, 10 * math.sqrt(3))}
        for inputs, u, end in ((normal, 2.0, 3.92), (flat, 2.0, 3.88), (one_wide, 10.1, 17.0)):
            with self.subTest(end=end):
                result = propagate(read_formula("a + b + c + d", inputs), inputs, "monte_carlo")
                assert result.interval95 is not None
                self.assertAlmostEqual(result.u / u, 1, places=2)
                self.assertAlmostEqual(-result.interval95[0] / end, 1, places=1)
                self.assertAlmostEqual(result.interval95[1] / end, 1, places=1)

    def test_comparison_loss_where_first_order_fails(self) -> None:
        """JCGM 101:2008, 9.4, table 8 (from memory): at x₁ = x₂ = 0 first order gives no uncertainty, Monte Carlo 50 ± 50 (10⁻⁶).

        The middle 95 % end at 25·χ²₂(0.975) = 184.4 (the supplement's shortest interval, at 150).
        """
        inputs = {"x_1": Input(0.0, 0.005), "x_2": Input(0.0, 0.005)}
        node = read_formula("x_1^2 + x_2^2", inputs)
        first = propagate(node, inputs)
        self.assertEqual((first.value, first.u), (0.0, 0.0))
        self.assertIn("unsafe", told(first.warning))
        drawn = propagate(node, inputs, "monte_carlo")
        assert drawn.interval95 is not None
        self.assertAlmostEqual(drawn.value * 1e6, 50, delta=0.5)
        self.assertAlmostEqual(drawn.u * 1e6, 50, delta=0.5)
        self.assertAlmostEqual(drawn.interval95[1] * 1e6, 184.4, delta=1.5)

    def test_coverage_of_the_end_gauge(self) -> None:
        """JCGM 100:2008, H.1.6: contributions in nm with their degrees of freedom give ν = 16.7, t₉₉(16) = 2.92, U₉₉ = 93 nm."""
        contributions, dofs = [25, 9.7, 2.9, 16.6], [18, 25.6, 50, 2]
        parts = {
            Source(str(i), "", np.asarray(u), dof=dof): np.asarray(1.0) for i, (u, dof) in enumerate(zip(contributions, dofs, strict=True))
        }
        dof = effective_dof(Traced(np.asarray(0.0), parts))
        self.assertAlmostEqual(dof, 16.7, delta=0.3)
        self.assertEqual(round(coverage_factor(0.99, dof), 2), 2.92)
        self.assertEqual(round(32 * coverage_factor(0.99, dof)), 93)
        self.assertEqual(round(coverage_factor(0.95, math.inf), 3), 1.960)


class Ways(unittest.TestCase):
    def test_sums_of_percentages(self) -> None:
        """Common practice: for products and powers the percentages add, each times its power."""
        result = run("a b^2 / c", "sum", a=Input(2.0, 0.02), b=Input(3.0, 0.06), c=Input(4.0, 0.02))
        self.assertAlmostEqual(result.u / result.value, 0.01 + 2 * 0.02 + 0.005, places=12)
        self.assertAlmostEqual(sum(b.share for b in result.budget), 1, places=12)

    def test_extremes_are_the_corners(self) -> None:
        result = run("a/b", "extremes", a=Input(10.0, 1.0), b=Input(2.0, 0.5))
        self.assertAlmostEqual(result.u, (11 / 1.5 - 9 / 2.5) / 2, places=12)

    def test_extremes_are_not_visited_without_end(self) -> None:
        inputs = {f"x_{i}": Input(1.0, 0.1) for i in range(20)}
        with self.assertRaises(CoreError) as caught:
            propagate(read_formula(" + ".join(inputs), inputs), inputs, "extremes")
        self.assertEqual(caught.exception.code, "too_large")

    def test_units_go_through_every_way(self) -> None:
        inputs = {
            "L": Input(250.0, 1.0, parse_unit("mm")),
            "T": Input(1.003, 0.002, parse_unit("s")),
            "t": Input(20.0, 0.5, parse_unit("°C")),
        }
        for formula, value, unit in (("4 pi^2 L/T^2", 4 * math.pi**2 * 250 / 1.003**2, "mm/s²"), ("1/t", 1 / 293.15, "K⁻¹")):
            for result in compare_ways(read_formula(formula, inputs), inputs):
                with self.subTest(formula, way=result.way):
                    self.assertEqual(write_unit(result.unit), unit)
                    self.assertAlmostEqual(result.value / value, 1, places=4)

    def test_a_constant_of_nature_counts_with_its_published_uncertainty(self) -> None:
        """CODATA through SciPy: G is known to two parts in 10⁵, and that is all the uncertainty there is here."""
        result = run("G M", M=Input(2.0, 0.0, parse_unit("kg")))
        self.assertAlmostEqual(result.u / result.value, find_constant("G").u / find_constant("G").value, places=15)
        self.assertEqual(result.budget[0].symbol, "G")

    def test_what_cannot_be_is_refused(self) -> None:
        a, b, c = Input(1.0, 0.1), Input(2.0, 0.1), Input(3.0, 0.1)
        cases: list[dict[tuple[str, str], float]] = [
            {("a", "b"): 1.5},
            {("a", "z"): 0.5},
            {("a", "b"): 0.9, ("b", "c"): 0.9, ("a", "c"): -0.9},
        ]
        for correlations in cases:
            with self.subTest(correlations), self.assertRaises(CoreError) as caught:
                run("a + b + c", "quadrature", correlations, a=a, b=b, c=c)
            self.assertEqual(caught.exception.code, "bad_job")
        with self.assertRaises(CoreError):
            run("a + b", "monte_carlo", {("a", "b"): 0.5}, a=rectangle(1.0, 0.1), b=b)

    def test_the_warning_comes_only_where_it_should(self) -> None:
        self.assertEqual(run("a b", a=Input(2.0, 0.02), b=Input(3.0, 0.03)).warning, ())
        self.assertIn("unsafe", run("exp(a)", a=Input(1.0, 0.9)).warning[0].text)
        self.assertIn("no value", run("ln(a)", a=Input(0.1, 0.2)).warning[0].text)

    @settings(max_examples=25)
    @given(st.floats(1, 5), st.floats(1, 5), st.floats(0.001, 0.02), st.floats(0.001, 0.02))
    def test_monte_carlo_agrees_where_first_order_is_safe(self, a: float, b: float, relative_a: float, relative_b: float) -> None:
        """And both with the `uncertainties` package (PyPI)."""
        inputs = {"a": Input(a, a * relative_a), "b": Input(b, b * relative_b)}
        node = read_formula("a^2 sqrt(b) / (a + b)", inputs)
        first, drawn = propagate(node, inputs), propagate(node, inputs, "monte_carlo", draws=20_000)
        x, y = ufloat(a, a * relative_a), ufloat(b, b * relative_b)
        self.assertAlmostEqual(first.u / (x**2 * y**0.5 / (x + y)).s, 1, places=9)
        self.assertAlmostEqual(drawn.u / first.u, 1, delta=0.05)
        self.assertAlmostEqual(drawn.value / first.value, 1, delta=0.01)
