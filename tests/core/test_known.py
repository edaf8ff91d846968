"""Numbers that are known beforehand, as they are typed with their ±: constants, accepted values, reference tables."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import Accepted, Quantity
from hobrel.core.document.plan_part import ReferenceTable, TableLine
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.tables import read_table
from hobrel.core.presentation.showing import show_typed, write_constant
from hobrel.core.questions.believed import believe
from hobrel.core.questions.improvements import know_better
from hobrel.core.readings.converting import convert_written_u
from hobrel.core.readings.known import parse_known, parse_known_u
from tests.core.test_dry_run import spring

MASS = Quantity("m", "constant", "load", "m", "kg", value="0.300", u="0.001")


class Typed(TestCase):
    def test_a_value_and_its_pm_each_in_a_unit_of_its_own_or_per_cent(self) -> None:
        for value, u, unit, number, pm in (
            ("0.300", "0.001", "kg", "0.3", "0.001"),
            ("300 g", "1 g", "kg", "0.3", "0.001"),
            ("47", "5 %", "ohm", "47", "2.35"),
            ("-40", "5%", "V", "-40", "2"),
            ("0,300", "± 0,001", "kg", "0.3", "0.001"),
            ("20.0", "+/- 0.5 K", "°C", "20", "0.5"),
            ("0.25", "2 %", "%", "0.25", "2"),
            ("9.81", "", "m/s^2", "9.81", "0"),
            ("9.81", " ± ", "m/s^2", "9.81", "0"),
        ):
            with self.subTest(value=value, u=u):
                found = parse_known(value, u, unit)
                self.assertEqual((found.value, found.u), (Decimal(number), Decimal(pm)))

    def test_a_pm_that_stands_with_the_value_and_one_below_zero_are_refused(self) -> None:
        for value in ("0.300 ± 0.001", "0.300(1)", "(0.300 +/- 0.001) kg"):
            with self.subTest(value), self.assertRaises(CoreError) as told:
                parse_known(value, "", "kg")
            self.assertIn("Write the ± by itself", told.exception.message)
        for u in ("-0.001", "-2 %", "± -1"):
            with self.subTest(u), self.assertRaises(CoreError) as told:
                parse_known_u(u, "kg", Decimal("0.3"))
            self.assertIn("not below zero", told.exception.message)

    def test_per_cent_stay_per_cent_in_another_unit(self) -> None:
        self.assertEqual([convert_written_u(u, "kg", "g") for u in ("2 %", "0.001", "?")], ["2 %", "1", "?"])


class InUse(TestCase):
    def test_per_cent_of_an_accepted_value(self) -> None:
        """25 N/m ± 4 % is 25 ± 1 N/m."""
        book = spring()
        given = replace(book, findings=(replace(book.findings[0], accepted=Accepted("25 N/m", "4 %", "")),))
        (drawn,) = believe(given).draw(np.random.default_rng(1), 1)
        found = compute(drawn).findings["k"]
        assert not isinstance(found, CoreError)
        self.assertEqual(found.accepted, (25.0, 1.0))

    def test_a_constant_is_written_as_it_was_typed(self) -> None:
        for u, written in (
            ("0.001", "0.300 ± 0.001 kg"),
            ("± 0.001", "0.300 ± 0.001 kg"),
            ("1 %", "0.300 kg ± 1 %"),
            ("1 g", "0.300 kg ± 1 g"),
        ):
            with self.subTest(u):
                self.assertEqual(write_constant(replace(MASS, u=u)), written)
        self.assertEqual(show_typed(0.3, 0.001, ("0.300", "±0.001"), "kg", "one_or_two").text, "0.300 ± 0.001 kg")
        self.assertEqual(show_typed(0.3, 0.003, ("0.300", "1 %"), "kg", "one_or_two").text, "0.300 ± 0.003 kg")

    def test_half_of_a_pm_in_per_cent(self) -> None:
        self.assertEqual(Decimal(know_better(replace(MASS, u="2 %")).u), Decimal("0.003"))

    def test_lines_of_a_reference_table_are_uncertain_by_a_share_of_themselves(self) -> None:
        lines = (TableLine("20", "100"), TableLine("30", "200"), TableLine("40", "300 ± 1"))
        table = ReferenceTable("t", "density", "rho", "kg/m^3", "temperature", "°C", lines, u="5 %")
        self.assertEqual(read_table(table).us, (5.0, 10.0, 1.0))
