"""Readings of several parts: what a stopwatch, a sextant and a concise ± say, and what only looks like it."""

from __future__ import annotations

from decimal import Decimal
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_difference, parse_reading, parse_written

READ = (
    ("1:05.3", "s", "65.3", 1, "1:05.3 = 65.3 s"),
    ("0:01:05", "s", "65", 0, "0:01:05 = 65 s"),
    ("2:00:00", "h", "2", 4, "2:00:00 = 2.0000 h"),
    ("1:30.0", "min", "1.5", 3, "1:30.0 = 1.500 min"),
    ("1'23\"", "s", "83", 0, "1'23\" = 83 s"),
    ("1′ 05,25″", "s", "65.25", 2, "1′ 05,25″ = 65.25 s"),
    ("2 min 5 s", "s", "125", 0, "2 min 5 s = 125 s"),
    ("1h 5min", "min", "65", 0, "1h 5min = 65 min"),
    ("5 m 20.5 cm", "m", "5.205", 3, "5 m 20.5 cm = 5.205 m"),
    ("1 kg and 250 g", "g", "1250", 0, "1 kg and 250 g = 1250 g"),
    ("12°30'", "deg", "12.5", 2, "12°30' = 12.50 deg"),
    ("-12° 30′ 36″", "°", "-12.51", 4, "-12° 30′ 36″ = -12.5100°"),
)
REFUSED = (
    ("1:05.3", "m"), ("1:05.3", ""), ("1:65", "s"), ("1:5", "s"), ("12°30'", "s"), ("5 s 2 min", "s"), ("5 m 20 s", "m"), ("2 min 5", "s"),
    ("1:2:3:4", "s"), ("5 m 20 cm", "kg"), ("1 s 2 s", "s"), (":30", "s"),
)  # fmt: skip


class Parts(TestCase):
    def test_they_are_one_number_that_says_how_it_was_read(self) -> None:
        for text, unit, value, decimals, note in READ:
            with self.subTest(text, unit=unit):
                found = parse_reading(text, unit)
                self.assertEqual((found.value, found.decimals, found.note), (Decimal(value), decimals, note))

    def test_what_only_looks_like_it_is_refused_as_it_was_typed(self) -> None:
        for text, unit in REFUSED:
            with self.subTest(text, unit=unit), self.assertRaises(CoreError) as told:
                parse_reading(text, unit)
            self.assertTrue(text in str(told.exception) or told.exception.code == "bad_unit", told.exception)

    def test_a_colon_may_have_been_meant_for_a_point(self) -> None:
        for unit in ("s", "min"):
            with self.subTest(unit), self.assertRaises(CoreError) as told:
                parse_reading("3:57", unit)
            self.assertEqual(str(told.exception), "“3:57” can be 3.57 or 3 min 57 s. Write which.")
        with self.assertRaises(CoreError) as told:
            parse_reading("3:57", "m")
        self.assertIn("not one number", str(told.exception))

    def test_a_sixtieth_is_exact(self) -> None:
        """Thirty minutes are half an hour, and no 0.50000000000000004 of it."""
        self.assertEqual(parse_reading("30 min", "h").value, Decimal("0.5"))
        self.assertEqual(parse_reading("90 s", "min").value, Decimal("1.5"))

    def test_a_difference_can_be_written_so(self) -> None:
        self.assertEqual(parse_difference("0:01.5", "s"), Decimal("1.5"))
        self.assertEqual(parse_written("2:00.0 ± 0:00.5", "s").u, Decimal("0.5"))

    @given(st.integers(0, 99), st.integers(0, 59), st.integers(0, 99))
    def test_a_stopwatch(self, minutes: int, seconds: int, hundredths: int) -> None:
        found = parse_reading(f"{minutes}:{seconds:02}.{hundredths:02}", "s")
        self.assertEqual(found.value, 60 * minutes + seconds + Decimal(hundredths) / 100)
        self.assertEqual(found.decimals, 2)


class OwnUncertainties(TestCase):
    def test_concise(self) -> None:
        """“m_S = 100,021 47(35) g”: JCGM 100:2008, 7.2.2, where the digits in brackets are those of the last ones."""
        found = parse_written("100.02147(35)", "g")
        self.assertEqual((found.value, found.u, found.decimals), (Decimal("100.02147"), Decimal("0.00035"), 5))
        self.assertEqual(parse_written("12(3)", "g").u, 3)
        self.assertEqual(parse_written("5.32(0.12) cm", "mm").u, Decimal("1.2"))
        self.assertEqual(parse_written("1.602(3)e-19", "C").u, Decimal("3e-22"))
        for text in ("5.32 (12)", "(5)", "5.32()", "5(1)(2)", "5.32(0)"):
            with self.subTest(text), self.assertRaises(CoreError):
                parse_written(text, "g")

    def test_per_cent_are_of_the_reading(self) -> None:
        for unit in ("cm", "deg", ""):
            with self.subTest(unit):
                self.assertEqual(parse_written("5.0 ± 2 %", unit).u, Decimal("0.1"))
        self.assertEqual(parse_written("-5.0 ± 2%", "cm").u, Decimal("0.1"))
        # but where it is in per cent itself
        self.assertEqual(parse_written("50 ± 2 %", "%").u, 2)
        self.assertEqual(parse_written("50 % ± 2 %", "").u, Decimal("0.02"))
        with self.assertRaises(CoreError):
            parse_written("0 ± 2 %", "cm")

    def test_per_cent_are_no_angle(self) -> None:
        for unit in ("deg", "rad", "turn"):
            with self.subTest(unit), self.assertRaises(CoreError):
                parse_reading("5 %", unit)
        self.assertEqual(parse_reading("5 %").value, Decimal("0.05"))
