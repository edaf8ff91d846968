"""Readings keep what was written; units behind a number are understood; nothing else is guessed."""

from __future__ import annotations

import math
import unittest
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.readings.instruments import Instrument, expected_decimals, hidden_by_last_digit, reading_uncertainty
from hobrel.core.readings.parsing import count_significant_figures, parse_reading, parse_written, split_unit, tidy
from hobrel.core.readings.typed_places import check_place, read_typed


class Parsing(unittest.TestCase):
    def test_what_is_understood(self) -> None:
        # text, unit of the column, value, decimals, significant figures
        cases = [
            ("2.50", "", "2.50", 2, 3),
            ("2,50", "", "2.50", 2, 3),
            (" −0.3 ", "", "-0.3", 1, 1),
            ("1200", "", "1200", 0, None),
            ("1200.", "", "1200", 0, None),
            ("0.0250", "", "0.0250", 4, 3),
            ("2.5e-3", "", "0.0025", 4, 2),
            ("3.10×10^4", "", "31000", 0, 3),
            ("3.1·10⁻⁴", "", "0.00031", 5, 2),
            ("25.3 cm", "m", "0.253", 3, 3),
            ("0.253 m", "m", "0.253", 3, 3),
            ("12 ms", "s", "0.012", 3, 2),
        ]
        for text, unit, value, decimals, figures in cases:
            with self.subTest(text):
                reading = parse_reading(text, unit)
                self.assertEqual(reading.value, Decimal(value))
                self.assertEqual((reading.decimals, reading.significant_figures), (decimals, figures))
        self.assertEqual(parse_reading("25.3 cm", "m").note, "25.3 cm = 0.253 m")

    def test_what_is_refused_and_how(self) -> None:
        cases = [
            ("1,234.5", "", "bad_number"),
            ("1 234", "", "bad_number"),
            ("two", "", "bad_number"),
            ("2.5.1", "", "bad_number"),
            ("--2", "", "bad_number"),
            ("2.5 kg", "m", "bad_unit"),
            ("2.5 cm", "", "bad_unit"),
            ("1e999", "", "bad_number"),
            ("9" * 61, "", "bad_number"),
        ]
        for text, unit, code in cases:
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                parse_reading(text, unit)
            self.assertEqual(caught.exception.code, code)

    def test_a_number_and_its_unit_part_as_far_as_a_reading_may_be_long(self) -> None:
        self.assertEqual(split_unit("12.40 GPa"), ("12.40", "GPa"))
        self.assertEqual(split_unit("9" * 58 + " m"), ("9" * 58, "m"))
        for text in ("9" * 59 + " m", "far", ""):
            with self.subTest(text), self.assertRaises(CoreError):
                split_unit(text)

    def test_a_reading_with_its_own_uncertainty(self) -> None:
        for text, unit, value, u in (
            ("2.50 ± 0.05", "s", "2.50", "0.05"),
            ("25.3 ± 0.2 cm", "m", "0.253", "0.002"),
            ("2.5+-0.1", "", "2.5", "0.1"),
        ):
            with self.subTest(text):
                found = parse_written(text, unit)
                self.assertEqual((found.value, found.u), (Decimal(value), Decimal(u)))
        self.assertIsNone(parse_written("2.50", "s").u)
        for text in ("2.50 ± 0", "2.50 ± -0.1"):
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                parse_written(text, "s")
            self.assertEqual(caught.exception.code, "bad_number")

    @given(st.text(max_size=30), st.sampled_from(["", "m", "s", "°C"]))
    def test_any_text_is_a_reading_or_a_named_error(self, text: str, unit: str) -> None:
        try:
            parse_reading(text, unit)
        except CoreError as trouble:
            self.assertIn(trouble.code, ("bad_number", "bad_unit"))


class OwnUnits(unittest.TestCase):
    def test_a_reading_in_another_unit_is_exact(self) -> None:
        for text, unit, value in (("25.0 °C", "K", "298.15"), ("298.15 K", "°C", "25.00"), ("5 min", "h", None), ("1 in", "m", "0.0254")):
            with self.subTest(text):
                found = parse_reading(text, unit).value
                self.assertEqual(found, Decimal(value) if value else found)
                self.assertAlmostEqual(float(found), float(value) if value else 5 / 60, 15)

    def test_it_has_the_decimals_that_its_place_has_there(self) -> None:
        for text, unit, decimals in (("5 km", "m", 0), ("5.0 km", "m", 0), ("0.3001 km", "m", 1), ("300 mm", "m", 3), ("30.5 cm", "m", 3)):
            with self.subTest(text):
                self.assertEqual(parse_reading(text, unit).decimals, decimals)


class Factors(unittest.TestCase):
    def test_a_factor_is_without_the_noise_of_binary_arithmetic_and_no_digit_less(self) -> None:
        self.assertEqual(tidy(0.30479999999999996), Decimal("0.3048"))
        self.assertEqual(tidy(1 / 3), Decimal("0.3333333333333333"))


class Figures(unittest.TestCase):
    def test_noughts_without_a_point_are_one_figure_or_nobody_knows(self) -> None:
        for text, figures in (("0", 1), ("000", 1), ("7", 1), ("0.00", 2), ("0.0250", 3), ("1200", None), ("120.", 3)):
            with self.subTest(text):
                self.assertEqual(count_significant_figures(text), figures)


class Places(unittest.TestCase):
    def test_a_place_is_a_number_with_its_unit_or_a_formula_of_numbers(self) -> None:
        for text, unit, value in (("0.25", "m", 0.25), ("25 cm", "m", 0.25), ("0.3^3", "m^3", 0.027), ("ln(2)", "", math.log(2))):
            with self.subTest(text):
                self.assertAlmostEqual(read_typed(text, unit), value, 12)
        # a product is written as one; what reads as a number with its ± is none
        for text, value in (("2*0.25", 0.5), ("2 ln(3)", 2 * math.log(3)), ("2(3)*4", 24.0), ("log10(100)", 2.0), ("2.5 10^-2", 0.025)):
            self.assertAlmostEqual(read_typed(text, ""), value, 12)
        for text, words in (
            ("0.1 0.2", "is not one number"), ("1 000", "thousands"), ("0.1(1)", "with its ±"), ("5.32(12)", "with its ±"),
            ("0.1 ± 0.01", "with its ±"), ("0,1 +/- 0,01", "with its ±"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaisesRegex(CoreError, words):
                read_typed(text, "")
        for text, code in (
            ("g_n^2", "bad_number"),
            ("x", "bad_number"),
            ("ln(0)", "outside_domain"),
            ("25 kg", "bad_unit"),
        ):
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                read_typed(text, "m")
            self.assertEqual(caught.exception.code, code)

    def test_a_place_on_a_graph_is_a_number_that_can_be_squared(self) -> None:
        for value in (0.0, -2.5, 1e100, -1e100):
            self.assertEqual(check_place(value), value)
        for value in (1.1e100, -1e101, math.inf, -math.inf, math.nan):
            with self.subTest(value), self.assertRaisesRegex(CoreError, "ordinary size"):
                check_place(value)


class Instruments(unittest.TestCase):
    def test_reading_uncertainty(self) -> None:
        # common practice for scale and display; a/√12 is JCGM 100:2008, F.2.2.1 (there: δx² / 12)
        cases = [
            (Instrument("ruler", "scale", "0.001"), True, 0.0005),
            (Instrument("watch", "display", "0.01"), True, 0.005),
            (Instrument("watch", "display", "0.01"), False, 0.01),
            (Instrument("meter", "rectangular", "0.1"), True, 0.028867513459481),
            (Instrument("ruler, both ends", "scale", "0.001", readings=2), True, 0.000707106781187),
            (Instrument("count", "counted", "1"), True, 0.0),
        ]
        for instrument, half, u in cases:
            with self.subTest(instrument.name, half=half):
                self.assertAlmostEqual(reading_uncertainty(instrument, half), u, places=14)

    def test_uncertainty_that_grows_with_the_reading(self) -> None:
        """A maker’s statement “0.5 % + 2 digits” of a display ending in 0.01, and √N of counts (both by definition)."""
        meter = Instrument("meter", "maker", "0.01", percent="0.5", digits="2")
        clicks = Instrument("counter", "counted_at_random", "1")
        self.assertAlmostEqual(reading_uncertainty(meter, value=-12.0), 0.06 + 0.02, places=14)
        self.assertAlmostEqual(reading_uncertainty(clicks, value=400.0), 20.0, places=14)
        self.assertEqual((meter.depends_on_value, expected_decimals(clicks)), (True, 0))

    def test_a_scale_may_be_read_between_its_marks(self) -> None:
        self.assertEqual(expected_decimals(Instrument("ruler", "scale", "0.001")), 3)
        self.assertEqual([expected_decimals(Instrument("drum", "scale", division)) for division in ("1", "10", "5")], [0, 0, 0])
        self.assertEqual(expected_decimals(Instrument("tube", "scale", "0.1", between_marks=True)), 2)

    def test_what_a_last_digit_hides(self) -> None:
        """a/√12 (JCGM 100:2008, F.2.2.1): of a tenth of a division where one reads between the marks, √2 of it for a length between two."""
        cases = [
            (Instrument("ruler", "scale", "0.5"), 0.5),
            (Instrument("tube", "scale", "0.5", between_marks=True), 0.05),
            (Instrument("ruler, both ends", "scale", "0.5", readings=2), 0.5 * math.sqrt(2)),
            (Instrument("watch", "display", "0.01"), 0.01),
            (Instrument("count", "counted", "1"), 0.0),
            (Instrument("clicks", "counted_at_random", "1"), 0.0),
        ]
        for instrument, width in cases:
            with self.subTest(instrument.name):
                self.assertAlmostEqual(hidden_by_last_digit(instrument), width / math.sqrt(12), 15)

    def test_a_difference_of_no_readings_is_refused(self) -> None:
        for readings in (0, -2, 101, 10**400):
            for work in (reading_uncertainty, hidden_by_last_digit):
                with self.subTest(readings), self.assertRaises(CoreError) as caught:
                    work(Instrument("ruler", "scale", "0.001", readings=readings))
                self.assertEqual(caught.exception.code, "bad_number")
        self.assertAlmostEqual(reading_uncertainty(Instrument("ruler", "scale", "0.2", readings=100)), 1.0, 12)
