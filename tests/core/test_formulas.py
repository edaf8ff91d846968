"""Formulas as in a textbook: what they mean, what they say when they cannot be read, units, and propagation."""

from __future__ import annotations

import math
import re
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat, umath

import hobrel.core
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.letters import spell_symbol
from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import symbols_in
from hobrel.core.formulas.typeset import formula_tex, plain_text, rich_symbol, symbol_expression_tex, symbol_tex, write_symbol
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature, combine_sum, exact, measured
from hobrel.core.units.calculus import Unit, parse_unit, write_unit

VALUES = {"m": 2.0, "v": 3.0, "L": 0.5, "g": 9.81, "t_10": 7.0, "theta": 0.3, "N": 100.0, "x": 1.5}


def value_of(formula: str) -> float:
    return float(evaluate(read_formula(formula, VALUES), {k: exact(v) for k, v in VALUES.items()}).value)


def unit_of(formula: str, units: dict[str, Unit]) -> Unit:
    return evaluate(read_formula(formula, units), {name: exact(0.5, unit) for name, unit in units.items()}).unit


class Reading(unittest.TestCase):
    def test_meaning(self) -> None:
        cases = [
            ("m v^2 / 2", 9.0),
            ("1/2 m v²", 9.0),
            ("mv^2", 18.0),
            ("2 pi sqrt(L/g)", 2 * math.pi * math.sqrt(0.5 / 9.81)),
            ("2π√(L/g)", 2 * math.pi * math.sqrt(0.5 / 9.81)),
            ("t_10/10", 0.7),
            ("-x^2", -2.25),
            ("x^-2", 1 / 2.25),
            ("2^3^2", 512.0),
            ("sin^2 θ + cos(theta)^2", 1.0),
            ("sin² θ + cos²(theta)", 1.0),
            ("ln x^2 - 2 ln x", 0.0),
            ("sqrt 4 m", 4.0),
            ("ln(N) − ln N", 0.0),
            ("abs(-x)·m÷v", 1.0),
            ("exp(0)", 1.0),
            ("1e3 x", 1500.0),
            # as other tables and paper have it
            ("½ m v²", 9.0),
            ("2,5 x + ¾", 4.5),
            ("e^x", math.exp(1.5)),
            ("e^(-x/2)", math.exp(-0.75)),
            ("arcsin(x/3)", math.asin(0.5)),
            ("t₁₀/10", 0.7),
        ]
        for formula, value in cases:
            with self.subTest(formula):
                self.assertAlmostEqual(value_of(formula), value, places=12)

    def test_a_number_that_the_grammar_takes_for_a_product_is_asked_about(self) -> None:
        for formula, at, named in (
            ("1 000 x", 0, "1 000"), ("x/12 345.6", 2, "12 345.6"), ("1 000 000", 0, "1 000 000"), ("1.000.000 x", 0, "1.000.000"),
            ("1 1/2 x", 0, "1 1/2"), ("2 x + 3 3/4", 6, "3 3/4"), ("1½ x", 0, "1½"), ("2 ½", 0, "2 ½"), ("1\u202f000 x", 0, "1\u202f000"),
            ("1 000,5 x", 0, "1 000,5"),
        ):  # fmt: skip
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                read_formula(formula, VALUES)
            self.assertEqual((caught.exception.fields["at"], caught.exception.fields["text"]), (at, named))
        for formula, value in (
            ("3.5 10^-3 x", 0.00525), ("3.5 10⁻³ x", 0.00525), ("0.5 9.81 x^2", 11.03625), ("4 pi^2 0.25", math.pi**2), ("4 20 x", 120.0),
            ("2(3)", 6.0),
            ("4 2^(1/2) x", 6 * math.sqrt(2)), ("(2)(3) x", 9.0), ("2. x", 3.0), (".5 x", 0.75), ("½ x", 0.75), ("1000 x", 1500.0),
            ("10^3 x", 1500.0), ("10^3 100", 1e5), ("1e3 x", 1500.0), ("t_10 2", 14.0), ("t_10 1/2", 3.5), ("log10(100) 3", 6.0),
        ):  # fmt: skip
            with self.subTest(formula):
                self.assertAlmostEqual(value_of(formula), value, 12)

    def test_what_cannot_be_read_says_where_and_why(self) -> None:
        cases = [
            ("2*", 2, "stops too early"),
            ("(m", 2, "stops too early"),
            ("m)", 1, "cannot stand here"),
            ("V + 1", 0, "Did you mean v?"),
            ("EXP(x)", 0, "written small"),
            ("log(x)", 0, "in two ways"),
            ("m $ v", 2, "no meaning"),
            ("", 0, "no formula yet"),
            ("x^99", 2, "exponent"),
        ]
        for formula, at, words in cases:
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                value_of(formula)
            self.assertEqual(caught.exception.fields["at"], at)
            self.assertIn(words, caught.exception.message)

    def test_an_x_for_times_is_answered_where_there_is_none(self) -> None:
        for formula in ("m x g", "2 X m", "2xm", "m x 3", "mxg"):
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                read_formula(formula, ("m", "g"))
            self.assertIn("For times write * or ×", caught.exception.message)
        for formula, known, words in (
            ("m x g", ("m", "g", "X"), "Did you mean X?"),
            ("x g", ("x1", "g"), "Did you mean x1?"),
            ("mxq", ("m",), "called mxq"),
        ):
            with self.subTest(formula, known=known), self.assertRaises(CoreError) as caught:
                read_formula(formula, known)
            self.assertIn(words, caught.exception.message)
            self.assertNotIn("For times", caught.exception.message)

    def test_what_is_written_otherwise_elsewhere_is_answered(self) -> None:
        """Read where it can mean one thing only; where it can mean two, or nothing, the words say what to write."""
        for formula, words in (
            ("sin⁻¹(x)", "read in two ways"), ("tan^-1 x", "Write atan( )"), ("|x|", "Write abs( )"), ("=x", "right of it"),
            ("y = 2 x", "right of it"), ("cos 30°", "30 pi/180"), ("5 % x", "0.05"), ("mean(x)", "is the mean already"),
            ("x cm", "no units in it"), ("x₃", "no quantity called x₃"),
        ):  # fmt: skip
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                read_formula(formula, {"x"})
            self.assertIn(words, caught.exception.message)
        self.assertEqual(formula_tex(read_formula("∆x/Δt", {"x", "t"})), formula_tex(read_formula("Delta(x)/Delta(t)", {"x", "t"})))
        self.assertEqual(symbols_in(read_formula("Δx", {"x", "Deltax"})), {"Deltax"}, "a quantity that is called so comes first")
        self.assertEqual(formula_tex(read_formula("x₁ x₂", {"x_1", "x2"})), formula_tex(read_formula("x_1 x2", {"x_1", "x2"})))
        # a charge that is raised to a number stays one
        self.assertEqual(symbols_in(read_formula("e^2 x", {"x"})), {"e", "x"})
        self.assertEqual(symbols_in(read_formula("e^x", {"e", "x"})), {"e", "x"})

    def test_symbols_as_keyboards_and_papers_have_them(self) -> None:
        """The sign of a millionth for μ, that of ohms for Ω, an increment for Δ, lowered signs, braces, slanted letters."""
        for typed, name, shown, tex in (
            ("T₁", "T_1", "T₁", "T_{1}"), ("\u00b5", "mu", "μ", r"\mu"), ("\u2126", "Omega", "Ω", r"\Omega"),
            ("Δt", "Delta_t", "Δt", r"\Delta t"),
            ("∆θ", "Delta_theta", "Δθ", r"\Delta \theta"), ("ΔT_1", "Delta_T_1", "ΔT₁", r"\Delta T_{1}"),
            ("V_{rms}", "V_rms", "V_rms", r"V_{\mathrm{rms}}"),
            ("vₓ", "v_x", "v_x", "v_{x}"), ("t½", "t_half", "t_half", r"t_{\mathrm{half}}"),
            ("T_{1/2}", "T_half", "T_half", r"T_{\mathrm{half}}"),
            ("ℓ", "l", "l", "l"), ("𝑇", "T", "T", "T"), ("ε₀", "epsilon_0", "ε₀", r"\epsilon_{0}"), (" t_10 ", "t_10", "t₁₀", "t_{10}"),
        ):  # fmt: skip
            with self.subTest(typed):
                self.assertEqual(canonical_name(typed), name)
                self.assertEqual((write_symbol(typed), symbol_expression_tex(typed), symbol_tex(typed)), (shown, tex, tex))
                self.assertEqual(canonical_name(spell_symbol(typed)), name)
                if "½" not in typed and "/" not in typed:
                    self.assertEqual(symbols_in(read_formula(f"2 {typed.strip()} + 1", {typed})), {name})
        self.assertEqual(write_symbol("Delta"), "Δ")
        self.assertEqual(plain_text(rich_symbol("Δt/t₁^2")), "Δt/t₁²")

    def test_a_formula_may_be_sixty_deep_and_no_deeper(self) -> None:
        self.assertAlmostEqual(value_of("sqrt(" * 59 + "x" + ")" * 59), 1.0, places=12)
        with self.assertRaises(CoreError) as caught:
            value_of("sqrt(" * 60 + "x" + ")" * 60)
        self.assertIn("nested too deeply", caught.exception.message)

    def test_limits(self) -> None:
        for formula in ("x" * 401, "sqrt(" * 70 + "x" + ")" * 70):
            with self.subTest(len(formula)), self.assertRaises(CoreError):
                value_of(formula)

    @given(st.text(alphabet="xmvL0123456789.+-*/^() sqrtlnπ²", max_size=40))
    def test_any_text_is_a_formula_or_a_named_error(self, text: str) -> None:
        try:
            value_of(text)
        except CoreError as trouble:
            self.assertIn(trouble.code, ("bad_formula", "outside_domain", "bad_unit"))

    def test_typesetting(self) -> None:
        self.assertEqual(formula_tex(read_formula("16 pi^2 m/(L v)", VALUES)), r"\frac{16\,\pi^{2}\,m}{L\,v}")
        self.assertEqual(plain_text(rich_symbol("T^2")), "T²")
        self.assertEqual(plain_text(rich_symbol("t_10")), "t₁₀")
        # a power that is still being typed
        self.assertEqual(plain_text(rich_symbol("T^()")), "T^()")

    def test_no_sign_that_we_set_is_lost_in_plain_text(self) -> None:
        """Every command of TeX that stands in the core's own sources says something plainly, but for those that only set."""
        self.assertEqual(write_plainly(r"v = 0\ \text{while}\ t \ge 2.5\ \mathrm{s}"), "v = 0 while t ≥ 2.5 s")
        sources = "".join(path.read_text() for path in Path(hobrel.core.__file__).parent.rglob("*.py"))
        commands = set(re.findall(r"\\([A-Za-z]{2,})", sources)) - {
            "mathrm",
            "mathit",
            "text",
            "left",
            "right",
            "underbrace",
            "quad",
            "blog",
        }
        self.assertGreater(len(commands), 20)
        for command in sorted(commands):
            with self.subTest(command):
                self.assertNotEqual(write_plainly(rf"\{command}{{a}}{{b}}"), "ab")


class Units(unittest.TestCase):
    def test_units_are_worked_out(self) -> None:
        units = {"m": "kg", "b": "mm", "d": "mm", "k": "s^2/m^3", "L": "cm", "t": "s", "T": "°C"}
        cases = [
            ("t^2", "s²"),
            ("L^3", "cm³"),
            ("L/t", "cm/s"),
            ("sqrt(L^2)", "cm"),
            ("L + b", "cm"),
            ("1/T", "K⁻¹"),
            ("ln(t)", ""),
            ("L/b", ""),
        ]
        for formula, unit in cases:
            with self.subTest(formula):
                known = {k: parse_unit(u) for k, u in units.items()}
                self.assertEqual(write_unit(unit_of(formula, known)), unit)

    def test_what_does_not_fit_is_refused(self) -> None:
        known = {"L": parse_unit("m"), "t": parse_unit("s")}
        for formula in ("L + t", "exp(L)", "t^L", "sin(t)"):
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                unit_of(formula, known)
            self.assertEqual(caught.exception.code, "bad_unit")

    def test_celsius_takes_part_as_kelvin(self) -> None:
        source = Source("t", "t", np.asarray(0.5), parse_unit("°C"))
        result = evaluate(read_formula("1/t", ["t"]), {"t": measured(source, 25.0)})
        self.assertAlmostEqual(float(result.value), 1 / 298.15, places=15)
        self.assertAlmostEqual(float(combine_quadrature(result)), 0.5 / 298.15**2, places=15)


class Propagation(unittest.TestCase):
    """Against the `uncertainties` package (PyPI), an independent implementation of first-order propagation."""

    def test_it_agrees_with_an_independent_implementation(self) -> None:
        a, b, c = ufloat(2.0, 0.05), ufloat(3.0, 0.12), ufloat(0.4, 0.01)
        cases = [
            ("a b / c", a * b / c),
            ("a^2 - a b", a**2 - a * b),
            ("sqrt(a) ln(b)", umath.sqrt(a) * umath.log(b)),
            ("exp(-c) sin(c) + cos(c)^2", umath.exp(-c) * umath.sin(c) + umath.cos(c) ** 2),
            ("a/(a + b)", a / (a + b)),
            ("b^c", b**c),
            ("asin(c) + atan(a) - acos(c)", umath.asin(c) + umath.atan(a) - umath.acos(c)),
            ("log10(b/a) tan(c)", umath.log10(b / a) * umath.tan(c)),
        ]
        sources = {k: Source(k, k, np.asarray(v.s)) for k, v in (("a", a), ("b", b), ("c", c))}
        values = {"a": measured(sources["a"], 2.0), "b": measured(sources["b"], 3.0), "c": measured(sources["c"], 0.4)}
        for formula, expected in cases:
            with self.subTest(formula):
                got = evaluate(read_formula(formula, values), values)
                self.assertAlmostEqual(float(got.value), expected.n, places=12)
                self.assertAlmostEqual(float(combine_quadrature(got)), expected.s, places=12)

    def test_a_common_ancestor_is_counted_once(self) -> None:
        """q = (a + b) − (a − b) has nothing of a left in it."""
        sources = {k: Source(k, k, np.asarray([0.3, 0.4])) for k in "ab"}
        values: dict[str, Traced] = {k: measured(sources[k], np.asarray([1.0, 2.0])) for k in "ab"}
        values["p"] = evaluate(read_formula("a + b", values), values)
        values["q"] = evaluate(read_formula("a - b", values), values)
        result = evaluate(read_formula("p - q", values), values)
        np.testing.assert_allclose(combine_quadrature(result), [0.6, 0.8], rtol=1e-15)
        np.testing.assert_allclose(combine_sum(values["p"]), [0.6, 0.8], rtol=1e-15)

    def test_rows_without_a_value_stay_without_and_do_not_spoil_the_rest(self) -> None:
        result = evaluate(read_formula("1/x", ["x"]), {"x": Traced(np.asarray([2.0, np.nan, 4.0]), {})})
        np.testing.assert_array_equal(result.value, [0.5, np.nan, 0.25])

    def test_no_value_is_a_named_error(self) -> None:
        for formula, x in (("1/x", 0.0), ("ln(x)", -1.0), ("sqrt(x)", -1.0), ("asin(x)", 2.0)):
            with self.subTest(formula), self.assertRaises(CoreError) as caught:
                evaluate(read_formula(formula, ["x"]), {"x": Traced(np.asarray([1.0, x]), {})})
            self.assertEqual((caught.exception.code, caught.exception.fields["rows"]), ("outside_domain", [1]))

    def test_long_columns_are_as_short_ones(self) -> None:
        """Computed in blocks: values and derivatives are those of NumPy, and a message names the right setting."""
        random = np.random.default_rng(1)
        x, y = random.uniform(1, 2, 30_011), random.uniform(1, 2, 30_011)
        sources = {"x": Source("x", "x", np.full_like(x, 0.1))}
        values = {"x": measured(sources["x"], x), "y": Traced(y, {}), "k": exact(3.0)}
        result = evaluate(read_formula("k x^2/y + ln(y)", values), values)
        np.testing.assert_allclose(result.value, 3 * x**2 / y + np.log(y), rtol=1e-14)
        np.testing.assert_allclose(combine_quadrature(result), 0.1 * 6 * x / y, rtol=1e-13)
        np.testing.assert_array_equal(evaluate(read_formula("2 k", values), values).value, 6.0)
        y[20_000] = 0.0
        with self.assertRaises(CoreError) as caught:
            evaluate(read_formula("x/y", values), values)
        self.assertEqual(caught.exception.fields["rows"], [20_000])
        self.assertIn("setting 20001", caught.exception.message)


class SignsAndShapes(unittest.TestCase):
    """What changes with a single sign, factor or shape."""

    def test_the_size_of_a_negative_number_goes_the_other_way(self) -> None:
        x = measured(Source("x", "x", np.asarray(0.5), Unit()), np.asarray(-3.0))
        found = evaluate(read_formula("abs(x) + x", ["x"]), {"x": x})
        self.assertEqual((float(found.value), float(combine_quadrature(found))), (0.0, 0.0))
        self.assertEqual(float(combine_quadrature(evaluate(read_formula("abs(x)", ["x"]), {"x": x}))), 0.5)

    def test_what_cannot_be_taken_away_is_told_from_what_cannot_be_added(self) -> None:
        values = {s: measured(Source(s, s, np.asarray(0.1), parse_unit(u)), np.asarray(2.0)) for s, u in (("x", "m"), ("t", "s"))}
        for formula, words in (("x + t", "s cannot be added to m"), ("x - t", "s cannot be subtracted from m")):
            with self.subTest(formula), self.assertRaises(CoreError) as trouble:
                evaluate(read_formula(formula, values), values)
            self.assertIn(words, trouble.exception.message)

    def test_an_exponent_that_is_a_column_is_judged_by_its_largest(self) -> None:
        rows = np.array([1.0, 2.0, 101.0])
        exponent = exact(rows)
        with self.assertRaises(CoreError) as trouble:
            evaluate(read_formula("2^n", ["n"]), {"n": exponent})
        self.assertEqual(trouble.exception.code, "outside_domain")
        found = evaluate(read_formula("2^n", ["n"]), {"n": exact(rows[:2])})
        self.assertEqual(found.value.tolist(), [2.0, 4.0])

    def test_columns_of_no_uncertainty_are_not_written_over(self) -> None:
        x, one = np.arange(4.0), np.array([7.0])
        values = {"x": exact(x), "k": exact(np.asarray(3.0)), "z": exact(one)}
        found = evaluate(read_formula("(x + 1) + (x + 1) k", values), values)
        self.assertEqual(found.value.tolist(), [4.0, 8.0, 12.0, 16.0])
        self.assertEqual(x.tolist(), [0.0, 1.0, 2.0, 3.0])
        # a longer column is not written into a shorter one
        self.assertEqual(evaluate(read_formula("(z + 1) + x", values), values).value.tolist(), [8.0, 9.0, 10.0, 11.0])
