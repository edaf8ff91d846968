"""Temperatures and their differences, readings with a unit of their own, and the units that results come in.

Conversions are those of the SI brochure (9th edition, 2.3.1 and table 8: T/K = t/°C + 273.15) and the international inch (25.4 mm).
"""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import pint

from hobrel.core.document.lab_book import Convention, Finding, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.formulas.kelvins import stand_in_kelvins
from hobrel.core.formulas.reading import read_formula
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.handy_units import suggest_conversions
from hobrel.core.presentation.judging import judge_rounding
from hobrel.core.presentation.working import explain
from hobrel.core.readings.converting import convert_written_u
from hobrel.core.sentences import told
from hobrel.core.units.calculus import parse_unit, write_unit
from hobrel.core.units.naming import usual_unit


def book(unit: str, texts: tuple[str, ...], *more: Quantity, findings: tuple[Finding, ...] = ()) -> LabBook:
    """One measured quantity T with these readings, beside others."""
    settings = tuple(Setting(f"s{i}", {"T": (Reading(text),)}) for i, text in enumerate(texts))
    return LabBook(
        "t", quantities=(Quantity("T", "measured", "temperature", "T", unit), *more), runs=(Run("r", "", settings),), findings=findings
    )


def derived(formula: str, unit: str = "") -> Quantity:
    return Quantity("d", "derived", "d", "d", unit, formula=formula)


def first(a_book: LabBook, quantity: str = "d") -> tuple[float, str]:
    traced = compute(a_book).columns["r"].columns[quantity].traced
    assert traced is not None
    return float(traced.value.flat[0]), write_unit(traced.unit)


class Differences(TestCase):
    OTHER = Quantity("T0", "constant", "room", "T_0", "°C", value="20.0", u="0.5")

    def test_a_difference_has_no_offset_in_any_unit(self) -> None:
        """45 °C − 20 °C is 25 °C, 25 K and 45 °F."""
        for formula in ("T - T_0", "-(T_0 - T)", "0.5 T - T_0/2 + T/2 - T_0/2", "abs(T_0 - T)", "T - mid_T", "2 (T - T_0)/2"):
            for unit, expected in (("°C", 25.0), ("K", 25.0), ("", 25.0), ("°F", 45.0)):
                more = (self.OTHER, Quantity("m", "derived", "m", "mid_T", formula="(T_0 + T_0)/2"), derived(formula, unit))
                with self.subTest(formula, unit=unit):
                    self.assertAlmostEqual(first(book("°C", ("45.0",), *more))[0], expected, 9)

    def test_a_temperature_keeps_its_offset(self) -> None:
        for formula, unit, expected in (
            ("T", "K", 318.15), ("T", "°F", 113.0), ("(T + T_0)/2", "°C", 32.5), ("T + T - T_0", "°C", 70.0),
            ("0.25 T + 0.75 T_0", "°C", 26.25),
            ("T + dT", "°C", 50.0), ("T - dT", "°C", 40.0), ("sqrt(T T)", "°C", 45.0),
        ):  # fmt: skip
            step = Quantity("dT", "constant", "step", "dT", "K", value="5.0", u="0.1")
            with self.subTest(formula, unit=unit):
                self.assertAlmostEqual(first(book("°C", ("45.0",), self.OTHER, step, derived(formula, unit)))[0], expected, 9)

    def test_a_difference_stays_one_in_the_next_formula(self) -> None:
        heat = Quantity("q", "derived", "heat", "Q", "J", formula="c d")
        capacity = Quantity("c", "constant", "heat capacity", "c", "J/K", value="4.00", u="0.01")
        for unit in ("°C", "K", "°F"):
            with self.subTest(unit):
                whole = book("°C", ("45.0",), self.OTHER, derived("T - T_0", unit), capacity, heat)
                self.assertAlmostEqual(first(whole, "q")[0], 100.0, 9)

    def test_differences_of_neighbours(self) -> None:
        changed = Quantity("t", "changed", "time", "t", "s")
        for unit, expected in (("°C", 2.5), ("K", 2.5), ("°F", 4.5)):
            whole = book("°C", ("20.0", "22.5"), changed, derived("Delta(T)", unit))
            timed = tuple(replace(s, readings={**s.readings, "t": (Reading(str(i)),)}) for i, s in enumerate(whole.runs[0].settings))
            traced = compute(replace(whole, runs=(replace(whole.runs[0], settings=timed),))).columns["r"].columns["d"].traced
            assert traced is not None
            self.assertAlmostEqual(float(traced.value[1]), expected, 9)

    def test_findings_that_differ_by_a_temperature(self) -> None:
        warm = Finding("w", "warm", "W", "°C", "T_1", compare=("c",))
        cold = Finding("c", "cold", "C", "K", "T_0")
        hot = Quantity("T1", "constant", "hot", "T_1", "°C", value="25.0", u="0.5")
        made = compute(book("°C", ("45.0",), self.OTHER, hot, findings=(warm, cold))).findings["w"]
        assert isinstance(made, ComputedFinding)
        comparison = made.compared[0].comparison
        self.assertAlmostEqual(comparison.difference, 5.0, 9)  # type: ignore[union-attr]
        self.assertAlmostEqual(made.u, 0.5, 12)


class OwnUnits(TestCase):
    def test_what_is_typed_with_a_unit_is_converted_exactly(self) -> None:
        for text, unit, expected, u in (
            ("1 in", "m", 0.0254, 0.0), ("5 min", "h", 5 / 60, 0.0), ("25.0 ± 0.1 °C", "K", 298.15, 0.1), ("25.3 cm", "m", 0.253, 0.0),
            ("1.0 °C ± 1 K", "K", 274.15, 1.0), ("10 ± 1 in", "cm", 25.4, 2.54),
        ):  # fmt: skip
            with self.subTest(text):
                column = compute(book(unit, (text,))).columns["r"].columns["T"]
                assert column.traced is not None
                self.assertAlmostEqual(float(column.traced.value[0]), expected, 13)
                self.assertAlmostEqual(float(column.u[0]), u, 13)

    def test_a_plus_minus_is_a_difference(self) -> None:
        """295 K with ± 1 °C is ± 1 K; 20 ± 0.5 °C is 293.15 ± 0.5 K."""
        for unit, value, u, expected in (("K", "295", "1 °C", 1.0), ("°C", "20", "0.9 °F", 0.5), ("m", "1.0", "1 cm", 0.01)):
            constant = Quantity("c", "constant", "c", "c", unit, value=value, u=u)
            with self.subTest(u, unit=unit):
                self.assertAlmostEqual(float(compute(book("m", ("1",), constant)).columns["r"].columns["c"].u), expected, 13)
        self.assertEqual(convert_written_u("0.5", "°C", "K"), "0.5")
        self.assertEqual(convert_written_u("0.5", "°C", "°F"), "0.9")
        accepted = Finding("w", "w", "W", "K", "c", accepted=None)
        kelvins = Quantity("c", "constant", "c", "c", "°C", value="20.0", u="0.5")
        made = compute(book("m", ("1",), kelvins, findings=(accepted,))).findings["w"]
        assert isinstance(made, ComputedFinding)
        self.assertAlmostEqual((made.value, made.u)[0], 293.15, 12)
        self.assertAlmostEqual(made.u, 0.5, 12)

    def test_a_rounding_is_right_in_another_unit_too(self) -> None:
        for text in ("1.2346 ± 0.0003 m", "123.46 ± 0.03 cm", "1234.6 ± 0.3 mm", "0.0012346 ± 0.0000003 km"):
            with self.subTest(text):
                self.assertTrue(judge_rounding(text, 1.23456, 0.0003, "m", "one").right)


class ResultsComeIn(TestCase):
    def test_the_named_unit_of_their_dimension(self) -> None:
        registry = pint.UnitRegistry()
        for unit, expected in (
            ("V/A", "Ω"), ("J/(Hz s)", "J"), ("kg m/s^2", "N"), ("g m/s^2", "mN"), ("kg m^2/s^2", "J"),
            ("N/m^2", "Pa"), ("V A s", "J"), ("A s", "C"),
            ("kg/(m s^2)", "Pa"), ("A s/V", "F"), ("V s/A", "H"), ("V s", "Wb"), ("N/(A m)", "T"), ("mV/A", "mΩ"),
            ("km/ms", "km/ms"), ("J", "J"),
            ("kW h", "MJ"), ("m/s", "m/s"), ("N/m", "N/m"), ("1/s", "s⁻¹"), ("C/s", "C/s"),
        ):  # fmt: skip
            with self.subTest(unit):
                self.assertEqual(write_unit(usual_unit(parse_unit(unit))), expected)
        for unit in ("N", "J", "W", "Pa", "C", "V", "ohm", "F", "H", "T", "Wb"):
            base = registry.Quantity(1, unit).to_base_units()
            spelled = (
                " ".join(f"{name}^{int(power)}" for name, power in base.units._units.items())
                .replace("kilogram", "kg")
                .replace("ampere", "A")
            )
            made = usual_unit(parse_unit(spelled.replace("meter", "m").replace("second", "s")))
            with self.subTest(spelled):
                self.assertEqual(made, parse_unit(unit))

    def test_the_number_goes_with_the_unit(self) -> None:
        current = Quantity("I", "constant", "current", "I", "mA", value="2.00", u="0.01")
        value, unit = first(book("V", ("3.00",), current, derived("T/I")))
        self.assertEqual((round(value, 9), unit), (1.5, "kΩ"))

    def test_percent_and_turns_are_numbers_in_formulas(self) -> None:
        self.assertEqual(first(book("%", ("12",), derived("T"))), (0.12, ""))
        value, unit = first(book("turn", ("2",), Quantity("t", "constant", "t", "t", "s", value="4"), derived("T/t")))
        self.assertEqual((round(value, 12), unit), (round(math.pi, 12), "s⁻¹"))
        self.assertEqual(first(book("%", ("12",), derived("T", "%")))[0], 12.0)

    def test_an_angles_rate_is_never_offered_as_a_frequency(self) -> None:
        for unit, offered in (("deg/s", ["rad/s", "turn/s"]), ("rad/s", ["deg/s", "turn/s"]), ("1/s", ["Hz", "kHz"]), ("deg/min", [])):
            with self.subTest(unit):
                self.assertEqual([o.unit.replace("°", "deg") for o in suggest_conversions("w", parse_unit(unit))], offered)

    def test_a_convention_without_settings_is_what_it_was(self) -> None:
        done = analyse(replace(book("°C", ("45.0",), derived("T", "K")), convention=Convention()))
        self.assertEqual(done.runs[0].columns[1].cells[0].value_text, "318.2")


class PutIn(TestCase):
    """What stands in a working in the place of a temperature: T/K = t/°C + 273.15 where it is multiplied, t where it is added."""

    def working(self, text: str, formula: str, *more: Quantity) -> str:
        made = explain(compute(book("°C", (text,), *more, derived(formula))), "cell:r:s0:d")
        return next(line.tex for line in made.lines if "setting" in told(line.words)).replace("\\ ", " ")

    def test_kelvins_where_it_is_multiplied(self) -> None:
        room = Quantity("T0", "constant", "room", "T_0", "°C", value="20.0", u="0.5")
        self.assertIn(r"{293.15 \mathrm{K}}", self.working("20", "1/T"))
        self.assertIn(r"{293.2 \mathrm{K}}", self.working("20.0 ± 0.5", "1/T"))
        self.assertIn(r"45 ^{\circ}\mathrm{C}", self.working("45", "T - T_0", room))
        self.assertIn(r"45 ^{\circ}\mathrm{C}", self.working("45", "ln((T + T_0)/2)", room))
        # 45 °C beside 20 °C, which stands in a sum as well
        both = self.working("45", "T_0 T/(T - T_0)", room)
        self.assertNotIn(r"\mathrm{K}", both.rpartition("=")[0])

    def test_where_a_symbol_stands_in_kelvins(self) -> None:
        for formula, names in (
            ("1/T", "T"), ("k T", "kT"), ("T^2", "T"), ("sqrt(T)", "T"), ("exp(-E/(R T))", "ERT"), ("-T", ""), ("T", ""), ("T - a", ""),
            ("(T + a)/2", ""), ("T/2 + a/2", ""), ("m c (T - a)", "mc"), ("abs(T)", ""), ("T (T - a)", ""), ("3 ln(T) + a", "T"),
        ):  # fmt: skip
            with self.subTest(formula):
                self.assertEqual(stand_in_kelvins(read_formula(formula, known=tuple("TakERmc"))), frozenset(names))


class Fahrenheit(TestCase):
    def test_its_zero_is_that_of_the_definition(self) -> None:
        """32 °F is the ice point, 273.15 K (NIST SP 811, appendix B.8: T/K = (t/°F + 459.67)/1.8)."""
        for text, kelvins in (("32", 273.15), ("212", 373.15), ("-459.67", 0.0)):
            with self.subTest(text):
                value, unit = first(book("°F", (text,), derived("1 T")))
                self.assertEqual(unit, "K")
                self.assertAlmostEqual(value, kelvins, places=9)

    def test_shared_out_by_nothing_it_stands_for_its_kelvins(self) -> None:
        value, unit = first(book("°C", ("20",), derived("0 T")))
        self.assertEqual((value, unit), (0.0, "K"))
