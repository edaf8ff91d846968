"""Units: conversions against SciPy's table of conversion factors, arithmetic of exponents, and the units of a school."""

from __future__ import annotations

import math
import pickle
import unittest
from fractions import Fraction

import numpy as np
import scipy.constants as table
from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.uncertainty.traced import Source, measured
from hobrel.core.units.calculus import (
    convert,
    convert_difference,
    dimension_of,
    factor_to_base,
    keep_unit,
    multiply_units,
    parse_unit,
    raise_unit,
    same_dimension,
    short_form,
    write_unit,
)
from hobrel.core.units.constants import constant_symbols, find_constant

NAMES = st.sampled_from(["m", "mm", "s", "ms", "kg", "g", "N", "mN", "V", "mA", "ohm", "K", "mol", "J", "Pa", "Hz", "min", "rad"])
UNITS = st.lists(st.tuples(NAMES, st.integers(-3, 3).filter(bool)), min_size=1, max_size=3, unique_by=lambda p: p[0])


def spelled(parts: list[tuple[str, int]]) -> str:
    return " ".join(f"{name}^{power}" for name, power in parts)


class Spelling(unittest.TestCase):
    def test_units_are_read_as_instruments_and_tables_have_them(self) -> None:
        for written, meant in (
            ("m per s", "m/s"), ("per min", "1/min"), ("J per kg per K", "J/(kg K)"), ("m.s-1", "m/s"), ("mol.dm^-3", "mol/dm^3"),
            ("N.m", "N m"), ("kOhm", "kohm"), ("Ohms", "ohm"), ("MOhm", "Mohm"), ("bpm", "1/min"), ("Lux", "lux"), ("Kelvin", "K"),
            ("degrees C", "°C"), ("deg Celsius", "°C"), ("° C", "°C"), ("Celsius", "°C"), ("deg F", "°F"), ("min.", "min"), ("C", "C"),
        ):  # fmt: skip
            with self.subTest(written):
                self.assertEqual(convert_difference(1.0, parse_unit(written), parse_unit(meant)), 1.0)
                self.assertEqual(parse_unit(written).is_offset, meant in ("°C", "°F"))

    def test_units_are_read_as_people_write_them(self) -> None:
        for written, meant in (
            ("Seconds", "s"), ("Newtons", "N"), ("KiloJoules", "kJ"), ("Metres", "m"), ("Grams per Litre", "g/L"), ("Hrs", "h"),
            ("Kg", "kg"),
            ("KN", "kN"), ("Km/h", "km/h"), ("kgs", "kg"), ("gms", "g"), ("cms", "cm"), ("mls", "mL"),
            ("rev/min", "turn/min"), ("rads", "rad"),
            ("ºC", "°C"), ("˚C", "°C"), ("º C", "°C"), ("oC", "°C"), ("degrees celcius", "°C"), ("°K", "K"), ("kg s", "kg s"),
        ):  # fmt: skip
            with self.subTest(written):
                self.assertEqual(convert_difference(1.0, parse_unit(written), parse_unit(meant)), 1.0)
                self.assertEqual(parse_unit(written).is_offset, meant == "°C")

    def test_a_torque_is_in_newton_metres(self) -> None:
        """Dimensions of energy (SI Brochure, 9th ed., table 5); the registry takes Nm for a measure of yarns."""
        for close, apart in (
            ("Nm", "N m"),
            ("kNm", "kN m"),
            ("mNm", "mN m"),
            ("Ncm", "N cm"),
            ("rad/Nm", "rad/(N m)"),
            ("Nm/rad", "N m/rad"),
        ):
            with self.subTest(close):
                self.assertEqual(parse_unit(close), parse_unit(apart))
        self.assertEqual(convert_difference(1.0, parse_unit("Nm"), parse_unit("J")), 1.0)
        with self.assertRaises(CoreError) as told:
            parse_unit("Nm^-2")
        self.assertEqual(told.exception.message, "“Nm^-2” can be N m^-2 or (N m)^-2. Write which.")

    def test_levels_are_numbers_as_they_stand(self) -> None:
        """60 dB are ten to the six times as strong (ISO 80000-8, 8-22); the registry takes 1 dB for the number 1.26 itself."""
        for name in ("dB", "decibels", "dBm", "Np", "neper", "octaves"):
            self.assertEqual(convert(60.0, parse_unit(name), parse_unit("")), 60.0)
        level = measured(Source("L", "L", np.asarray(0.5), parse_unit("dB")), 60.0)
        strength = evaluate(read_formula("10^(L/10)", {"L"}), {"L": level})
        self.assertAlmostEqual(float(strength.value), 1e6, delta=1e-3)
        quieter = evaluate(read_formula("L - 3", {"L"}), {"L": level})
        self.assertEqual((float(quieter.value), write_unit(quieter.unit)), (57.0, "dB"))

    def test_what_the_registry_has_otherwise(self) -> None:
        """1 G = 10⁻⁴ T (SI Brochure, 8th ed., table 9); a dioptre is one over a metre."""
        for written, meant, factor in (
            ("G", "T", 1e-4),
            ("mG", "µT", 0.1),
            ("D", "1/m", 1.0),
            ("dpt", "1/m", 1.0),
            ("Å", "nm", 0.1),
            ("ppb", "", 1e-9),
            # another registry, of astronomers (astropy 7), has these as the same table; 2.58e-4 C/kg are a roentgen there (table 8)
            ("milligauss", "T", 1e-7),
            ("kilogauss", "T", 0.1),
            ("Mx", "Wb", 1e-8),
            ("Oe", "A/m", 1e3 / (4 * math.pi)),
            ("kOe", "A/m", 1e6 / (4 * math.pi)),
            ("mcd", "cd", 1e-3),
            ("R", "C/kg", 2.58e-4),
            ("mR/h", "C/(kg h)", 2.58e-7),
            ("dpi", "1/in", 1.0),
            ("dpm", "1/min", 1.0),
            ("U", "µmol/min", 1.0),
            ("U/mL", "mU/µL", 1.0),
        ):
            with self.subTest(written):
                self.assertAlmostEqual(convert(1.0, parse_unit(written), parse_unit(meant)) / factor, 1.0, places=12)
        self.assertFalse(same_dimension(parse_unit("px"), parse_unit("m")), "how long a pixel is the picture says")

    def test_what_has_no_unit_is_said_to_have_none(self) -> None:
        for written, what in (
            ("pH", "A pH"), ("Abs", "An absorbance"), ("units", "What is counted"), ("cells", "What is counted"),
            *((text, "A reading in arbitrary units") for text in ("a.u.", "A.U.", "arb. units", "arbitrary units", "arb")),
        ):  # fmt: skip
            with self.subTest(written), self.assertRaises(CoreError) as told:
                parse_unit(written)
            self.assertEqual(told.exception.message, f"{what} is a number without a unit: leave that blank.")

    def test_words_are_no_units_with_a_prefix(self) -> None:
        """The registry reads them as micronits, billionths of inches, trillionths of pints, thousandths of technical atmospheres."""
        words = "units pins ppt mat fps mb rat hat tin nt cat fat ramp mass alpha points hands section Em/units app din dad mud"
        for word in words.split():
            with self.subTest(word), self.assertRaises(CoreError):
                parse_unit(word)
        for written, meant, factor in (
            ("kyr", "yr", 1e3), ("mmHg", "Pa", 133.322387415), ("kcal", "J", 4184.0), ("nkat", "mol/s", 1e-9),
            ("GiB", "B", 2.0**30), ("cSt", "mm²/s", 1.0), ("mrem", "µSv", 10.0), ("daN", "N", 10.0), ("kDa", "u", 1000.0),
        ):  # fmt: skip
            with self.subTest(written):
                self.assertAlmostEqual(convert(1.0, parse_unit(written), parse_unit(meant)) / factor, 1.0, places=8)

    def test_what_a_gauge_and_a_clock_are_headed_with_is_led_to_a_unit(self) -> None:
        for written, words in (
            ("cmH2O", f"1 cm of water is {0.01 * 1000 * table.g:.4f} Pa"),
            ("mm H₂O", "write Pa"),
            ("g H2O", "“O” is not a unit"),
            ("min:s", "1 min 23 s"),
            ("hh:mm:ss", "s or min"),
        ):
            with self.subTest(written), self.assertRaises(CoreError) as told:
                parse_unit(written)
            self.assertIn(words, told.exception.message)

    def test_a_resistivity_is_written_close(self) -> None:
        for written, meant in (("Ωm", "Ω m"), ("ohmm", "Ω m"), ("µΩcm", "µΩ cm"), ("kΩm", "kΩ m")):
            with self.subTest(written):
                self.assertEqual(keep_unit(written), meant)
                self.assertEqual(parse_unit(written), parse_unit(meant))

    def test_what_is_likely_to_be_another_is_asked_about(self) -> None:
        for written, words in (
            ("hz", "Is it Hz?"), ("pa", "Is it Pa?"), ("kn", "Is it kN?"), ("Mm", "Is it mm or mM?"), ("mhz", "Is it mHz or MHz?"),
            ("ma", "Is it mA?"),
            ("Ns", "Is it N s or ns?"), ("Pas", "Is it Pa s?"), ("eVs", "Is it eV s?"), ("Gpa", "Is it GPa?"), ("KG", "Is it kg?"),
            ("kgs^-1", "Is it kg s, with a space between?"),
        ):  # fmt: skip
            with self.subTest(written), self.assertRaises(CoreError) as told:
                parse_unit(written)
            self.assertTrue(told.exception.message.endswith(words), told.exception.message)
        for known in ("mHz", "MHz", "mPa", "MV", "S", "s", "M", "T", "t", "h", "H", "mL", "ml", "kWh"):
            self.assertEqual(len(parse_unit(known).powers), 1, known)

    def test_no_thousandth_of_a_constant_of_nature_and_no_measure_of_a_trade_is_a_unit(self) -> None:
        for text in ("nk", "kR", "fc", "Ek", "zc", "ke", "pk", "Ta", "cp", "bp", "rd"):
            with self.subTest(text), self.assertRaisesRegex(CoreError, f"“{text}” is not a unit that is known here"):
                parse_unit(text)
        for text, meant in (("pct", "%"), ("mil", "thou or mrad")):
            with self.subTest(text), self.assertRaisesRegex(CoreError, f"Is it {meant}\\?"):
                parse_unit(text)
        self.assertAlmostEqual(convert(1.0, parse_unit("e"), parse_unit("C")), 1.602176634e-19, 27)

    def test_what_only_looks_like_one_is_refused(self) -> None:
        for text in ("1.5", "superb", "cooper", "arb.units", "Lux2x"):
            with self.subTest(text), self.assertRaises(CoreError):
                parse_unit(text)


class Conversions(unittest.TestCase):
    def test_what_has_no_unit_is_called_so_where_it_cannot_be_converted(self) -> None:
        for source, target, words in (
            ("m", "", "m cannot be converted to a pure number."),
            ("", "s", "a pure number cannot be converted to s."),
        ):
            with self.assertRaises(CoreError) as caught:
                convert(1.0, parse_unit(source), parse_unit(target))
            self.assertEqual((caught.exception.code, caught.exception.message), ("bad_unit", words))

    def test_factors_agree_with_scipy(self) -> None:
        cases = [
            ("min", "s", table.minute),
            ("hour", "s", table.hour),
            ("deg", "rad", table.degree),
            ("inch", "m", table.inch),
            ("gf", "N", table.g * table.gram),
            ("kgf", "N", table.kilogram_force),
            ("eV", "J", table.eV),
            ("bar", "Pa", table.bar),
            ("atm", "Pa", table.atm),
            ("mmHg", "Pa", table.mmHg),
            ("litre", "m^3", table.litre),
            ("cal", "J", table.calorie),
            ("km/hour", "m/s", table.kmh),
            ("kWh", "J", 3.6e6),
            ("turn", "rad", table.pi * 2),
            ("nm", "m", table.nano),
            ("cm^2", "m^2", 1e-4),
            ("%", "", 0.01),
        ]
        for source, target, factor in cases:
            with self.subTest(source):
                self.assertAlmostEqual(convert(1.0, parse_unit(source), parse_unit(target)) / factor, 1, places=5)

    def test_temperatures_have_offsets_and_differences_have_none(self) -> None:
        """0 °C = 273.15 K and 32 °F = 0 °C by definition."""
        cases = [("°C", "K", 0.0, 273.15), ("°F", "°C", 212.0, 100.0), ("K", "°C", 0.0, -273.15), ("°C", "°F", -40.0, -40.0)]
        for source, target, value, expected in cases:
            with self.subTest(source, to=target):
                self.assertAlmostEqual(convert(value, parse_unit(source), parse_unit(target)), expected, places=9)
        self.assertAlmostEqual(convert_difference(9.0, parse_unit("°F"), parse_unit("°C")), 5.0, places=12)

    @given(UNITS, st.floats(-1e3, 1e3))
    def test_there_and_back_is_where_one_was(self, parts: list[tuple[str, int]], value: float) -> None:
        unit = parse_unit(spelled(parts))
        base = parse_unit(spelled([({"mm": "m", "ms": "s", "g": "kg", "mN": "N", "mA": "A", "min": "s"}.get(n, n), p) for n, p in parts]))
        if same_dimension(unit, base):
            self.assertAlmostEqual(convert(convert(value, unit, base), base, unit), value, delta=1e-9 * max(1, abs(value)))

    def test_what_does_not_fit_or_is_not_known(self) -> None:
        for source, target in (("m", "s"), ("kg", "N"), ("", "m")):
            with self.subTest(source), self.assertRaises(CoreError) as caught:
                convert(1.0, parse_unit(source), parse_unit(target))
            self.assertEqual(caught.exception.code, "bad_unit")
        for text in ("cubit", "m^^2", "m/", "5 m", "m" * 90, "m;drop"):
            with self.subTest(text):
                try:
                    parse_unit(text)
                except CoreError as trouble:
                    self.assertEqual(trouble.code, "bad_unit")


class Algebra(unittest.TestCase):
    @given(UNITS)
    def test_what_is_written_can_be_read(self, parts: list[tuple[str, int]]) -> None:
        unit = parse_unit(spelled(parts))
        again = parse_unit(write_unit(unit))
        self.assertEqual(dimension_of(again), dimension_of(unit))
        self.assertAlmostEqual(factor_to_base(again) / factor_to_base(unit), 1, places=12)

    @given(UNITS, UNITS)
    def test_products_keep_size_and_dimension(self, a: list[tuple[str, int]], b: list[tuple[str, int]]) -> None:
        first, second = parse_unit(spelled(a)), parse_unit(spelled(b))
        product, factor = multiply_units(first, second)
        self.assertAlmostEqual(factor * factor_to_base(product) / (factor_to_base(first) * factor_to_base(second)), 1, places=9)
        back, _ = multiply_units(product, raise_unit(second, Fraction(-1)))
        self.assertEqual(dimension_of(back), dimension_of(first))

    def test_a_power_that_could_be_meant_otherwise_is_asked_about(self) -> None:
        """Of ms-1 nobody knows whether it is m/s or a thousand times that over a second squared; m12 is no power that anybody means."""
        for text in ("ms-1", "kg ms-2", "m12", "m 2", "m-", "m-0"):
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                parse_unit(text)
            self.assertEqual(caught.exception.code, "bad_unit")
        self.assertEqual(write_unit(parse_unit("ms^-1")), "ms⁻¹")
        self.assertEqual(self.said("ms-1"), "“ms-1” can be m/s or 1/ms. Write which.")
        self.assertEqual(self.said("ms-2"), "“ms-2” can be m/s² or 1/ms². Write which.")

    def said(self, text: str) -> str:
        with self.assertRaises(CoreError) as caught:
            parse_unit(text)
        return caught.exception.message

    def test_units_printed_close_to_one_another_are_parted(self) -> None:
        for text, meant in (
            ("kgm-3", "kg m"), ("gcm^-3", "g cm"), ("Jkg-1 K-1", "J kg"), ("Wm-2", "W m"), ("moldm-3", "mol dm"),
            ("J/kgK", "(kg K)"), ("J/(kgK)", "kg K"), ("kgms-1", "kg m s or kg ms"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertIn(f"Is it {meant}, with a space between?", self.said(text))
        for text in ("foo2", "kgx", "sheets", "kgmsmKJ"):
            with self.subTest(text):
                self.assertNotIn("space", self.said(text))

    def test_a_hash_stays_in_its_process(self) -> None:
        """Hashes of texts differ from process to process: one that was kept must not go along."""
        unit = parse_unit("m/s^2")
        hash(unit)
        self.assertEqual(vars(pickle.loads(pickle.dumps(unit))), {"powers": unit.powers})

    def test_spellings(self) -> None:
        for text, shown in (
            ("kg m s^-2", "kg m/s²"),
            ("m/s/s", "m/s²"),
            ("s²/m³", "s²/m³"),
            ("1/K", "K⁻¹"),
            ("W/(m^2 K)", "W/(m² K)"),
            ("Ω", "Ω"),
            # as a table without raised letters has it
            ("g/cm3", "g/cm³"),
            ("m s-2", "m/s²"),
            ("kg m−3", "kg/m³"),
            ("W m-2 K-1", "W/(m² K)"),
            ("ms2", "ms²"),
        ):
            with self.subTest(text):
                self.assertEqual(write_unit(parse_unit(text)), shown)
        self.assertEqual(short_form(parse_unit("kg m/s^2")), "kg * m / s ** 2")
        self.assertEqual(short_form(parse_unit("")), "")


class Constants(unittest.TestCase):
    def test_each_is_the_published_one(self) -> None:
        """CODATA as SciPy ships it; exact since the revision of the SI: u = 0."""
        exact = {"c": 299792458.0, "h": 6.62607015e-34, "e": 1.602176634e-19, "k_B": 1.380649e-23, "N_A": 6.02214076e23, "g_n": 9.80665}
        for symbol, value in exact.items():
            found = find_constant(symbol)
            self.assertEqual((found.value, found.u), (value, 0.0), symbol)
        self.assertEqual(find_constant("R").value, table.R)
        self.assertGreater(find_constant("G").u, 0)

    def test_every_unit_can_be_used_in_formulas(self) -> None:
        for symbol in constant_symbols():
            with self.subTest(symbol):
                parse_unit(find_constant(symbol).unit)
