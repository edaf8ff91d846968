"""Headings as people write them. What they should say is common practice of school lab books; symbols and units of ISO 80000-1, 7.1.4."""

from __future__ import annotations

import time
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import FUNCTIONS
from hobrel.core.readings.heading_units import SplitHeading, split_heading
from hobrel.core.readings.headings import LONGEST_HEADING, HeadedColumn, read_heading, read_headings

READ = (
    ("t / s", "time", "t", "s"),
    ("time t (s)", "time", "t", "s"),
    ("time, t / s", "time", "t", "s"),
    ("x in cm", "x", "x", "cm"),
    ("# time", "time", "t", ""),
    ("Temperature (°C)", "Temperature", "T", "°C"),
    ("T / K", "temperature", "T", "K"),
    ("T / s", "period", "T", "s"),
    ("λ [nm]", "wavelength", "lambda", "nm"),
    ("length of the strip (m)", "length of the strip", "L", "m"),
    ("speed v / m/s", "speed", "v", "m/s"),
    ("potential difference (V)", "potential difference", "V", "V"),
    ("t_10 (s)", "t_10", "t_10", "s"),
    ("ψ₁ / V", "ψ₁", "psi_1", "V"),
    # what was worked out elsewhere is no longer what its letter stands for
    ("T²/s²", "T²", "T2", "s²"),
    ("1/T (1/K)", "1/T", "T_inv", "1/K"),
    ("ln(N)", "ln(N)", "lnN", ""),
    # m is a mass in kilograms only
    ("m / m", "m", "m", "m"),
    ("Number of turns", "Number of turns", "N", ""),
    ("log", "log", "l", ""),
    # of several known words the last is what is measured
    ("wire length temperature (K)", "wire length temperature", "T", "K"),
    ("time of fall", "time of fall", "t", ""),
    # what was worked out elsewhere, without brackets
    ("ln R", "ln R", "lnR", ""),
    ("sin θ", "sin θ", "sintheta", ""),
    ("√h / cm", "√h", "sqrth", "cm"),
    ("ΔT (K)", "ΔT", "Delta_T", "K"),
    ("pH", "pH", "pH", ""),
    # units as they are written on instruments, and behind what they are of
    ("R (kOhm)", "resistance", "R", "kΩ"),
    ("Pulse (bpm)", "Pulse", "P", "bpm"),
    ("T in degrees Celsius", "temperature", "T", "°C"),
    ("speed (m per s)", "speed", "v", "m/s"),
    ("Temperature (C)", "Temperature", "T", "°C"),
    ("charge (C)", "charge", "Q", "C"),
    # a telephone writes its first letter large
    ("Time (S)", "Time", "t", "s"),
    ("Length / M", "Length", "L", "m"),
    ("mass of the bob (Kg)", "mass of the bob", "m", "kg"),
    ("conductance (S)", "conductance", "c", "S"),
    ("Voltage (V) of the cell", "Voltage of the cell", "V", "V"),
    # a unit with no sign before it, where what is called so is measured in it
    ("time s", "time", "t", "s"),
    ("Time, s", "Time", "t", "s"),
    ("length l m", "length", "l", "m"),
    ("mass g", "mass", "m", "g"),
    ("current I A", "current", "I", "A"),
    ("density kg m-3", "density", "rho", "kg m-3"),
    ("speed m/s", "speed", "v", "m/s"),
    ("t s", "time", "t", "s"),
    ("T, K", "temperature", "T", "K"),
    ("TIME_S", "TIME", "t", "s"),
    ("temp_C", "temp", "t", "°C"),
    ("Temp F", "Temp", "T", "°F"),
    ("DIST_CM", "DIST", "D", "cm"),
    ("Voltage, V", "Voltage", "V", "V"),
    ("x cm", "x", "x", "cm"),
    ("Sound dB", "Sound", "S", "dB"),
    ("rate of flow mL/min", "rate of flow", "r", "mL/min"),
    # a letter is one, where it is no unit of what is called so, or may be either
    ("time t", "time", "t", ""),
    ("mass m", "mass", "m", ""),
    ("temperature T", "temperature", "T", ""),
    ("work W", "work", "W", ""),
    ("voltage V", "voltage", "V", ""),
    ("mass Mg", "mass Mg", "m", ""),
    ("mass Pt", "mass Pt", "m", ""),
    ("length \u03bcm", "length", "L", "\u03bcm"),
    ("thickness \u03bc", "thickness", "mu", ""),
    ("mass of g", "mass of", "g", ""),
    ("t_s", "t_s", "t_s", ""),
    ("time - s", "time", "s", ""),
    ("potential energy J", "potential energy", "E", "J"),
    # expressions
    ("10 T (s)", "10 T", "T", "s"),
    ("x − x0 (cm)", "x − x0", "x", "cm"),
    ("d sin θ", "d sin θ", "d", ""),
    ("Temperature (°C) – cup A", "Temperature cup", "A", "°C"),
    # a power of ten that a prefix stands for
    ("m / 10⁻³ kg", "mass", "m", "g"),
    ("Length (×10^-3 m)", "Length", "L", "mm"),
    ("Length ×10⁻² m", "Length", "L", "cm"),
    ("area (10^-6 m^2)", "area", "A", "mm^2"),
    ("pressure (10^5 Pa)", "pressure (10^5 Pa)", "p", ""),
    ("Bubbles in 1 min", "Bubbles in 1 min", "B", ""),
    # one over something, of which the second solidus is that of the unit
    ("1/T / K-1", "1/T", "T_inv", "K-1"),
    ("1/T/K⁻¹", "1/T", "T_inv", "K⁻¹"),
    ("1/[A] / dm3 mol-1", "1/[A]", "A_inv", "dm3 mol-1"),
    ("1 / T", "1 / T", "T_inv", ""),
    ("s/t / m/s", "s/t", "s", "m/s"),
    ("v / m / s", "speed", "v", "m / s"),
    ("10 swings T", "10 swings", "T", ""),
    ("1/d² (m^-2)", "1/d²", "d2_inv", "m^-2"),
    # a logarithm is a number, whatever was divided by its unit first
    ("ln(k / s-1)", "ln(k / s-1)", "lnks1", ""),
    ("log10(I/A)", "log10(I/A)", "l", ""),
    # of a time, and in tonnes
    ("N(t)", "N(t)", "Nt", ""),
    ("mass (t)", "mass", "m", "t"),
    ("M(t)", "M", "M", "t"),
    ("load / t", "load", "F", "t"),
    ("Delta T / K", "Delta T", "Delta_T", "K"),
    ("counts per 10 s", "counts per 10 s", "c", ""),
    ("flow per hour Q (mL)", "flow per hour", "Q", "mL"),
    # a rate is also a function here
    ("rate / mol dm-3 s-1", "rate", "r", "mol dm-3 s-1"),
    ("rate (s⁻¹)", "rate", "r", "s⁻¹"),
    ("rate(t)", "rate(t)", "ratet", ""),
    # what is counted over a time is not measured in it
    ("Counts/min", "Counts", "C", "1/min"),
    ("drops / s", "drops", "d", "1/s"),
    # words that a registry has as units with a prefix
    ("Intensity (a.u.)", "Intensity (a.u.)", "I", ""),
    ("Sample (mass)", "Sample (mass)", "S", ""),
    ("Salinity (ppt)", "Salinity (ppt)", "S", ""),
    ("resistivity / Ωm", "resistivity", "rho", "Ω m"),
)
WITH_U = (
    ("mass (g) ± 0.1", "mass", "g", "0.1"),
    ("x (cm) ±0.1 cm", "x", "cm", "0.1"),
    ("t / s (± 0.2 s)", "time", "s", "0.2"),
    ("Length (cm ± 0,05)", "Length", "cm", "0.05"),
    ("Length ± 0.05 (cm)", "Length", "cm", "0.05"),
    ("Time +/- 0.01 s", "Time", "s", "0.01"),
    ("Length (m) ±1 mm", "Length", "m", "0.001"),
    ("Temperature (°C) ± 0.5 K", "Temperature", "°C", "0.5"),
    ("F (N) ± 5 %", "force", "N", "5%"),
    ("humidity (%) ± 2%", "humidity", "%", "2"),
    ("mass (g) ± little", "mass (g) ± little", "", ""),
)
"""What a heading says of all its readings: name, unit, ±."""
WHOSE = (
    ("±x", "x", ""),
    ("± x / cm", "x", "cm"),
    ("u(x) / mm", "x", "mm"),
    ("x ± (mm)", "x", "mm"),
    ("uncertainty of x (s)", "x", "s"),
    ("+/-", "", ""),
    ("Uncertainty (s)", "", ""),
    ("absolute error in L / mm", "L", "mm"),
)
REFUSED = (
    ("", "bad_heading"),
    ("4", "bad_heading"),
    ("# ", "bad_heading"),
    ("x" * 200, "bad_heading"),
    ("t / wobbles", "bad_unit"),
    *((t, "bad_unit") for t in ("v / ms⁻¹", "a / ms^-2", "v (ms-1)", "speed ms⁻¹", "velocity ms-1", "k (Nm-1)", "N / cells")),
)
SIGNS = "tTxLmλθ_²₁ /()[]±+-#.,0123456789°%√·ÅΩµéß漢ע^*"


class One(TestCase):
    def test_a_heading_is_read(self) -> None:
        for text, *expected in READ:
            with self.subTest(text):
                found = read_heading(text)
                self.assertEqual([found.name, found.symbol, found.unit, found.of], [*expected, None])

    def test_a_heading_says_what_its_readings_are_uncertain_by(self) -> None:
        for text, *expected in WITH_U:
            with self.subTest(text):
                found = read_heading(text)
                self.assertEqual([found.name, found.unit, found.u], expected)

    def test_a_column_of_uncertainties_says_whose(self) -> None:
        for text, of, unit in WHOSE:
            with self.subTest(text):
                found = read_heading(text)
                self.assertEqual((found.of, found.unit), (of, unit))

    def test_what_names_no_quantity_is_refused(self) -> None:
        for text, code in REFUSED:
            with self.subTest(text), self.assertRaises(CoreError) as trouble:
                read_heading(text)
            self.assertEqual(trouble.exception.code, code)

    def test_a_symbol_that_is_taken_gets_a_number(self) -> None:
        self.assertEqual(read_heading("temperature (K)", ["T"]).symbol, "T_2")
        self.assertEqual(read_heading("temperature (K)", ["T", "T_2"]).symbol, "T_3")
        self.assertEqual(read_heading("t / s", ["t"]).symbol, "t", "one that was written is what was meant")

    def test_the_longest_heading_is_read(self) -> None:
        self.assertEqual(read_heading("x" + " y" * ((LONGEST_HEADING - 1) // 2)).symbol, "y")
        self.assertEqual(read_heading("x" * LONGEST_HEADING).name, "x" * LONGEST_HEADING)

    @given(st.text(SIGNS, max_size=30))
    def test_whatever_is_typed_is_read_or_refused(self, text: str) -> None:
        try:
            found = read_heading(text)
        except CoreError:
            return
        if found.of is None:
            self.assertTrue(found.name.strip())
            # formulas can be written with it
            self.assertNotIn(canonical_name(found.symbol), FUNCTIONS)
            self.assertTrue(read_formula(f"2 {found.symbol}", [found.symbol]))
            if found.unit:
                self.assertEqual(split_heading(f"x ({found.unit})"), SplitHeading("x", found.unit, ""))
            self.assertRegex(found.u, r"^(\d+(\.\d+)?%?)?$")


class Several(TestCase):
    def test_numbered_columns_are_repeats_and_others_are_not(self) -> None:
        found = read_headings(["L (m)", "T1 (s)", "T2 (s)", "T3 (s)"])
        self.assertEqual([(q.symbol, n) for q, n in zip(found.quantities, found.repeats, strict=True)], [("L", 1), ("T", 3)])
        self.assertEqual(found.columns[3], HeadedColumn(1, 2, is_u=False))
        self.assertEqual(read_headings(["T2 (s)", "T3 (s)"]).repeats, (1, 1), "they are not numbered from one on")
        self.assertEqual(read_headings(["T1 (s)", "T2 (m)"]).repeats, (1, 1), "of two units")
        self.assertEqual(read_headings(["A", "A"]).repeats, (2,))
        self.assertEqual(read_headings(["t1", "x", "t2"]).repeats, (2, 1))
        for texts in (["V (V) 1st", "V (V) 2nd"], ["V (V) trial 1", "V (V) trial 2"], ["V (V), 1", "2"], ["V / V run 1", "V / V run 2"]):
            with self.subTest(texts):
                found = read_headings(texts)
                self.assertEqual([(q.name, q.unit) for q in found.quantities], [("voltage", "V")])
                self.assertEqual(found.repeats, (2,))
        self.assertEqual(read_headings(["A 1", "2", "3", "B 1", "2"]).repeats, (3, 2))
        self.assertEqual(read_headings(["A 1", "3"]).repeats, (1, 1), "a three that follows no two")
        self.assertEqual(read_headings(["trial 1 (s)", "trial 2 (s)"]).quantities[0].name, "trial")

    def test_whose_uncertainty_a_column_is(self) -> None:
        found = read_headings(["x / cm", "±x", "y (cm)", "±"])
        self.assertEqual([c.quantity for c in found.columns if c and c.is_u], [0, 1])
        self.assertEqual(read_headings(["y", "x", "±y"]).columns[2], HeadedColumn(0, 0, is_u=True))
        found = read_headings(["Temperature (°C)", "Volume of gas (cm3)", "Uncertainty in volume (cm3)", "t / s", "Uncertainty / s"])
        self.assertEqual([c.quantity for c in found.columns if c and c.is_u], [1, 2])
        self.assertEqual(
            read_headings(["mass of a cup", "mass", "± mass"]).columns[2], HeadedColumn(1, 0, is_u=True), "the one called just so"
        )
        for texts in (["x", "±z"], ["±"], ["mass of a cup", "mass of a tin", "± mass"]):
            with self.subTest(texts), self.assertRaises(CoreError):
                read_headings(texts)

    def test_columns_without_a_heading_are_left_out(self) -> None:
        self.assertEqual(read_headings(["t", "", "#", "v"]).columns[1:3], (None, None))

    def test_metres_and_seconds_written_close_are_asked_about_as_they_were_typed(self) -> None:
        for text, words in (
            ("v / ms⁻¹", "“ms⁻¹” can be m/s or 1/ms."),
            ("a (ms^-2)", "“ms^-2” can be m/s² or 1/ms²."),
            ("a / ms-2", "“ms-2” can be"),
        ):
            with self.subTest(text), self.assertRaises(CoreError) as told:
                read_heading(text)
            self.assertIn(words, told.exception.message)

    def test_a_text_where_a_heading_should_be_is_read_in_time(self) -> None:
        for text in ("x / " * 5000, "x in " * 5000, "x ± 1" * 5000, "x" + " " * 9000 + "1", "x" + "_" * 9000 + "z1", "a (m " * 5000):
            with self.subTest(text[:6]):
                began = time.process_time()
                (found,) = read_headings([text]).quantities
                self.assertLess(time.process_time() - began, 2.0)
                self.assertTrue(text.startswith(found.name), found.name)

    def test_a_pasted_heading_with_a_strange_unit_keeps_it_in_its_name(self) -> None:
        self.assertEqual(read_headings(["t / wobbles"]).quantities[0].name, "t / wobbles")

    @given(st.lists(st.text(SIGNS, max_size=14), max_size=9))
    def test_whatever_is_pasted_is_read_or_refused(self, texts: list[str]) -> None:
        try:
            found = read_headings(texts)
        except CoreError as trouble:
            self.assertEqual(trouble.code, "bad_heading")
            return
        self.assertEqual(len(found.columns), len(texts))
        symbols = [canonical_name(q.symbol) for q in found.quantities]
        self.assertEqual(len(set(symbols)), len(symbols), "each has a symbol of its own")
        for quantity, count in enumerate(found.repeats):
            held = sorted(c.repeat for c in found.columns if c and c.quantity == quantity and not c.is_u)
            self.assertEqual(held, list(range(count)))
