"""Conversions at one press: what is offered for a unit, and that pint converts to the same number."""

from __future__ import annotations

from unittest import TestCase

import pint

from hobrel.core.document.lab_book import Quantity, QuantityKind, Reading, Run, Setting
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.handy_units import suggest_conversions
from hobrel.core.units.calculus import parse_unit
from tests.builders import lab_book

CASES = [
    # unit, reading, what is offered, the basic one among them
    ("deg", "30.0", ["rad"], "rad"),
    ("°C", "21.5", ["K"], "K"),
    ("nm", "589.3", ["µm", "m"], "m"),
    ("gf", "102.0", ["mN", "N"], "N"),
    ("percent", "12", [], None),
    ("kWh", "0.20", ["J", "kJ"], "J"),
    ("m/s", "3.5", ["cm/s", "km/h"], None),
    ("", "3", [], None),
    ("1/K", "3", [], None),
]  # fmt: skip


class OtherUnits(TestCase):
    def test_what_is_offered(self) -> None:
        for unit, _, offered, basic in CASES:
            with self.subTest(unit):
                found = suggest_conversions("a", parse_unit(unit))
                self.assertEqual([o.unit for o in found], offered)
                self.assertEqual([o.unit for o in found if o.basic], [] if basic is None else [basic])
                self.assertEqual(len({canonical_name(o.symbol) for o in found}), len(found))

    def test_what_is_the_same_at_every_setting_is_shown_once_with_its_own_uncertainty(self) -> None:
        width = Quantity("b", "constant", "width", "b", "mm", value="30.0", u="0.1")
        twice = Quantity("w", "derived", "twice the width", "w", "m", formula="2 b")
        column = analyse(lab_book([("0.1", ["1.0"])], (twice,), (width,))).runs[0].columns[-1]
        self.assertEqual((column.constant.text if column.constant else "", column.cells), ("0.0600 ± 0.0002 m", ()))

    def test_each_gives_what_pint_gives(self) -> None:
        registry = pint.UnitRegistry()
        for unit, text, _, _ in CASES:
            kind: QuantityKind = "measured"
            given = Quantity("a", kind, "a thing", "a", unit)
            offered = suggest_conversions(given.symbol, parse_unit(unit))
            derived = tuple(Quantity(f"d{i}", "derived", o.name, o.symbol, o.unit, formula="a") for i, o in enumerate(offered))
            book = lab_book([])
            run = Run("run1", "", (Setting("s", {"a": (Reading(text),)}),))
            columns = analyse(type(book)("t", quantities=(given, *derived), runs=(run,))).runs[0].columns
            spelled = unit.replace("°C", "degC")
            for column, other in zip(columns[1:], offered, strict=True):
                with self.subTest(unit, to=other.unit):
                    wanted = registry.Quantity(float(text), spelled).to(other.unit).magnitude
                    self.assertIsNone(column.trouble)
                    self.assertAlmostEqual((column.cells[0].value or 0) / wanted, 1.0, 12)
