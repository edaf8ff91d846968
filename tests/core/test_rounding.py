"""Results are rounded on their decimal text, half away from zero (ISO 80000-1:2009, B.3, rule B)."""

from __future__ import annotations

import unittest
from decimal import ROUND_HALF_UP, Decimal

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.presentation.showing import show_value, show_written
from hobrel.core.rounding import MINUS, RoundingRule, round_result, with_unit, write_decimals, write_figures, write_number, write_place


class Rounding(unittest.TestCase):
    def test_results(self) -> None:
        cases: list[tuple[str, str, RoundingRule, str, str]] = [
            ("2.0634e9", "5.1e7", "one_or_two", "Pa", "(2.06 ± 0.05) × 10⁹ Pa"),
            ("2.0634", "0.051", "one_or_two", "GPa", "2.06 ± 0.05 GPa"),
            ("12.3456", "0.0142", "one_or_two", "", "12.346 ± 0.014"),
            ("12.3456", "0.0142", "one", "", "12.35 ± 0.01"),
            ("12.3456", "0.0542", "two", "", "12.346 ± 0.054"),
            # half away from zero, on the text: 0.125 would be below in binary for many such numbers
            ("0.125", "0.05", "one", "", "0.13 ± 0.05"),
            ("-0.125", "0.05", "one", "", f"{MINUS}0.13 ± 0.05"),
            ("1.005", "0.01", "one", "", "1.01 ± 0.01"),
            # never −0
            ("-0.0004", "0.03", "one_or_two", "s", "0.00 ± 0.03 s"),
            ("234", "31", "one_or_two", "mm", "(2.3 ± 0.3) × 10² mm"),
            ("0.0000123", "0.0000004", "one_or_two", "", "(1.23 ± 0.04) × 10⁻⁵"),
        ]
        for value, u, rule, unit, text in cases:
            with self.subTest(value, u=u):
                self.assertEqual(round_result(value, u, rule, unit).text, text)

    def test_a_place_has_no_figures_that_are_only_zeros(self) -> None:
        cases = (
            (60.0, "60"),
            (0.25, "0.25"),
            (1.2345, "1.2345"),
            (1200.0, "1200"),
            (1e9, "1.00000 × 10⁹"),
            (0.0, "0"),
            (-2.50, f"{MINUS}2.5"),
        )
        for value, text in cases:
            with self.subTest(value):
                self.assertEqual(write_place(value), text)

    def test_nought_is_written_with_as_many_places_as_figures(self) -> None:
        self.assertEqual([write_figures(0.0, 0.0, figures) for figures in (1, 2, 3)], [("0", ""), ("0.0", ""), ("0.00", "")])
        self.assertEqual(write_figures(0.0, 0.02, 3), ("0.00", "0.02"))

    def test_plain_decimals_where_no_power_is_wanted(self) -> None:
        rounded = round_result("234.5", "31", power="none")
        self.assertEqual((rounded.value_text, rounded.u_text), ("230", "30"))

    @given(st.decimals("-1e6", "1e6", places=6), st.decimals("0.000001", "1e4", places=6))
    def test_it_agrees_with_decimal(self, value: Decimal, u: Decimal) -> None:
        """The shown value is the decimal module's own rounding to the place of the shown uncertainty."""
        rounded = round_result(value, u, "one", power="none")
        place = Decimal(1).scaleb(u.adjusted())
        self.assertEqual(Decimal(rounded.value_text.replace(MINUS, "-")), (value / place).quantize(Decimal(1), ROUND_HALF_UP) * place)
        self.assertEqual(Decimal(rounded.u_text), (u / place).quantize(Decimal(1), ROUND_HALF_UP) * place)
        self.assertNotIn("E", rounded.value_text)

    @given(st.decimals("-1e6", "1e6", places=6), st.decimals("0.000001", "1e4", places=6), st.sampled_from(["one", "two", "one_or_two"]))
    def test_rounding_again_changes_nothing(self, value: Decimal, u: Decimal, rule: RoundingRule) -> None:
        first = round_result(value, u, rule, power="none")
        again = round_result(first.value_text.replace(MINUS, "-"), first.u_text, rule, power="none")
        if rule == "two" and len(first.u_text.replace(".", "").strip("0")) < 2 and "." not in first.u_text:
            return  # 10 of 1.0 × 10¹ and 10 of 10. cannot be told apart in plain decimals
        self.assertEqual((again.value_text, again.u_text), (first.value_text, first.u_text))

    def test_an_uncertainty_just_below_two_has_one_figure(self) -> None:
        self.assertEqual(round_result("12.3456", "0.0196").text, "12.35 ± 0.02")
        self.assertEqual(round_result("12.3456", "0.096").text, "12.35 ± 0.10")

    def test_what_is_no_number_is_refused(self) -> None:
        for value, u in (("1", "0"), ("1", "-0.1"), ("1", "NaN"), ("1", "Infinity"), ("NaN", "0.1"), ("-Infinity", "0.1")):
            with self.subTest(value, u=u), self.assertRaises(CoreError) as caught:
                round_result(value, u)
            self.assertEqual(caught.exception.code, "bad_number")

    def test_where_a_power_of_ten_is_shared(self) -> None:
        """From 10⁵ on and from 10⁻⁴ down, or where the ± has no figure in the units (common practice)."""
        cases = [("12345", "5", "12345 ± 5"), ("123456", "5", "(1.23456 ± 0.00005) × 10⁵"), ("1234", "50", "(1.23 ± 0.05) × 10³"),
                 ("0.00123", "0.00005", "0.00123 ± 0.00005"), ("0.000123", "0.000005", "(1.23 ± 0.05) × 10⁻⁴")]  # fmt: skip
        for value, u, text in cases:
            with self.subTest(value):
                self.assertEqual(round_result(value, u).text, text)

    def test_numbers_without_uncertainty(self) -> None:
        cases = [(0.0, 4, "0"), (3.14159, 3, "3.14"), (2.41e-7, 3, "2.41 × 10⁻⁷"), (-0.5, 2, f"{MINUS}0.50"), (123456.0, 3, "1.23 × 10⁵"),
                 (1.23e-4, 3, "0.000123"), (9.87e-5, 3, "9.87 × 10⁻⁵"), (12345.0, 3, "12300"), (123456.0, 6, "123456"),
                 (0.99996, 4, "1.000"), (99999.6, 5, "1.0000 × 10⁵")]  # fmt: skip
        for value, figures, text in cases:
            with self.subTest(value):
                self.assertEqual(write_number(value, figures), text)


class BesideItsUnit(unittest.TestCase):
    """ISO 80000-1:2009, 7.1.4: a space stands between number and unit, none before the raised signs of plane angle; °C is no such sign."""

    def test_a_degree_sign_is_close_to_its_number(self) -> None:
        self.assertEqual(
            [with_unit("10.0", u) for u in ("°", "′", "°C", "m/s", "%", "")], ["10.0°", "10.0′", "10.0 °C", "10.0 m/s", "10.0 %", "10.0"]
        )
        self.assertEqual(with_unit("", "m"), "m")

    def test_a_pair_is_held_together(self) -> None:
        self.assertEqual(with_unit("10.0 ± 0.2", "°"), "(10.0 ± 0.2)°")
        self.assertEqual(round_result(10.04, 0.21, unit="°").text, "(10.0 ± 0.2)°")
        self.assertEqual(round_result(2.5e6, 3e5, unit="°").text, "(2.5 ± 0.3) × 10⁶°")
        self.assertEqual(round_result(10.04, 0.21, unit="°").tex, r"(10.0 \pm 0.2)\text{°}")

    def test_in_formulas_too(self) -> None:
        shown = show_value(10.04, 0.21, "°", "one_or_two")
        self.assertEqual((shown.tex, shown.value_tex), (r"(10.0 \pm 0.2)^{\circ}", r"10.0^{\circ}"))
        # powers of ten as they were typed: one that both have is said once, two are two
        charge = show_written(1.6e-19, 1e-21, "1.60e-19", "0.01E-19", "C")
        self.assertEqual((charge.text, charge.tex), ("(1.60 ± 0.01) × 10⁻¹⁹ C", r"(1.60 \pm 0.01) \times 10^{-19}\ \mathrm{C}"))
        apart = show_written(1.6e-19, 2e-21, "1.60×10^-19", "2 × 10⁻²¹", "C")
        self.assertEqual(apart.tex, r"(1.60 \times 10^{-19} \pm 2 \times 10^{-21})\ \mathrm{C}")
        self.assertEqual(apart.value_tex, r"1.60 \times 10^{-19}\ \mathrm{C}")
        self.assertEqual(show_written(9.81, 0.0, "9.81", "0.00", "m/s²").text, "9.81 m/s²")
        self.assertEqual(show_written(5.0, 0.5, "5.0", "0.5", "°").tex, r"(5.0 \pm 0.5)^{\circ}")
        self.assertEqual(show_written(5.0, 0.5, "5.0", "0.5", "°C").tex, r"(5.0 \pm 0.5)\ ^{\circ}\mathrm{C}")


class Carries(unittest.TestCase):
    def test_a_carry_keeps_the_rule(self) -> None:
        for rule, expected in (("one", "1.2 ± 0.1"), ("two", "1.23 ± 0.10"), ("one_or_two", "1.23 ± 0.10")):
            with self.subTest(rule):
                self.assertEqual(round_result(1.2345, 0.0996, rule).text, expected)  # type: ignore[arg-type]


class ChosenDigits(unittest.TestCase):
    """How many digits somebody has asked for; rounding as in ISO 80000-1, B.3, rule B."""

    CASES = [
        # value, u, kind, count, written
        (9.996, 0.02, "figures", 3, ("10.00", "0.02")),
        (0.0012345, 0.00004, "figures", 3, ("0.00123", "0.00004")),
        (0.0012345, 0.00004, "scientific", 3, ("1.23 × 10⁻³", "0.04 × 10⁻³")),
        (123456.0, 300.0, "scientific", 2, ("1.235 × 10⁵", "0.003 × 10⁵")),
        (-4.5, 0.0, "decimals", 2, ("−4.50", "")),
        (2.345, 0.0125, "decimals", 2, ("2.35", "0.01")),
        (2.5, 0.5, "decimals", 0, ("3", "1")),
        (0.0, 0.1, "figures", 2, ("0.0", "0.1")),
    ]

    def test_value_and_uncertainty_match(self) -> None:
        for value, u, kind, count, written in self.CASES:
            with self.subTest(value=value, kind=kind):
                done = write_decimals(value, u, count) if kind == "decimals" else write_figures(value, u, count, kind == "scientific")
                self.assertEqual(done, written)

    def test_without_uncertainty_as_numpy_writes_it(self) -> None:
        for value in (3.14159, 0.000271828, 60221.4, 9.9951, -0.5):
            mantissa, _, power = np.format_float_scientific(value, 2, unique=False).partition("e")
            text, _ = write_figures(value, 0.0, 3, scientific=True)
            shown, _, raised = text.replace("−", "-").partition(" × 10")
            self.assertEqual((shown, int(raised.translate(str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻", "0123456789-")) or 0)), (mantissa, int(power)))
