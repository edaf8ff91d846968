"""Looking before choosing: nothing is changed, and what is shown is what would be."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace

from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.previews import compare_conventions, compare_ways_of, preview_formula
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book

BOOK = write_bench(make_plan(), Story((0.3, 0.4, 0.5, 0.6)), random.Random(1))


class Previews(unittest.TestCase):
    def test_a_formula_as_it_would_be(self) -> None:
        column = preview_formula(BOOK, "T", "t_10/20")
        self.assertEqual((column.unit, column.trouble), ("s", None))
        unwanted = preview_formula(BOOK, "T", "t_10^2").trouble
        assert unwanted is not None
        self.assertIn("gives s², but s is wanted", unwanted.message)
        wrong = preview_formula(BOOK, "T", "t_10 + L").trouble
        assert wrong is not None
        self.assertEqual((wrong.code, wrong.at), ("bad_unit", 0))
        same = next(c for c in analyse(BOOK).runs[0].columns if c.quantity == "T")
        self.assertEqual(preview_formula(BOOK, "T", "t_10/10"), same)
        with self.assertRaises(CoreError):
            preview_formula(BOOK, "L", "t_10")

    def test_one_that_is_still_to_be_added(self) -> None:
        column = preview_formula(BOOK, "", "t_10/20", "T_2")
        self.assertEqual((column.symbol_tex, column.unit, column.trouble), ("T_{2}", "s", None))
        self.assertEqual(column.range_text, preview_formula(BOOK, "T", "t_10/20").range_text)
        wrong = preview_formula(BOOK, "", "t_11/20", "T_2").trouble
        assert wrong is not None
        self.assertEqual((wrong.code, wrong.at), ("bad_formula", 0))
        self.assertIsNotNone(preview_formula(BOOK, "", "2 (", "").trouble)

    def test_spreads_by_hand(self) -> None:
        """1.02, 1.00, 1.01: half range 0.010, mean deviation 0.0067, largest 0.010, s 0.010, s/√3 0.0058; a display of 0.01."""
        table = compare_conventions(lab_book([("0.100", ["1.02", "1.00", "1.01"]), ("0.200", ["2.00", None, None])]), "y")
        self.assertEqual([c.values[0] for c in table.columns], ["0.010", "0.0067", "0.010", "0.010", "0.0058"])
        self.assertEqual([c.values[1] for c in table.columns], [""] * 5)
        self.assertEqual(table.settings, ("x = 0.100 m", "x = 0.200 m"))
        self.assertEqual((table.instrument, table.unit, [c.chosen for c in table.columns][:2]), (("0.010", "0.010"), "s", [True, False]))

    def test_four_ways_down_to_the_readings(self) -> None:
        """L³ at 0.500 m ± 0.5 mm: 3 · 0.25 m² · 0.0005 m = 0.000375 m³, in every way alike."""
        table = compare_ways_of(BOOK, "L3")
        self.assertEqual(table.setting, "L = 0.500 m")
        self.assertEqual([r.way for r in table.rows], ["quadrature", "sum", "extremes", "monte_carlo"])
        self.assertEqual({r.value for r in table.rows}, {"0.1250 ± 0.0004 m³"})
        self.assertEqual([r.way for r in table.rows if r.chosen], ["quadrature"])
        by_sum = replace(BOOK, convention=replace(BOOK.convention, propagation="sum"))
        self.assertEqual([r.way for r in compare_ways_of(by_sum, "L3").rows if r.chosen], ["sum"])
        self.assertEqual(compare_ways_of(BOOK, "T2").rows[0].value.split()[-1], "s²")
        with self.assertRaises(CoreError):
            compare_ways_of(BOOK, "t10")

    def test_only_a_range_that_stands_out_is_marked(self) -> None:
        rows = [(f"{0.1 * i:.3f}", [f"{i:.2f}", f"{i + 0.03:.2f}"]) for i in range(1, 6)]
        self.assertFalse(any(c.wide for c in analyse(lab_book(rows)).runs[0].columns[1].cells))
        rows[2] = ("0.300", ["3.00", "3.90"])
        self.assertEqual([c.wide for c in analyse(lab_book(rows)).runs[0].columns[1].cells], [False, False, True, False, False])
