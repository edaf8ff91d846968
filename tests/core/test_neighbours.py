"""Differences and rates between neighbouring settings, as derived quantities."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from uncertainties import ufloat

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.formulas.typeset import plain_text, rich_symbol
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.questions.previews import compare_ways_of
from hobrel.core.uncertainty.traced import exact
from tests.builders import lab_book, with_aside

# not in order of x, with a blank y: neighbours are found by x, and a blank has no difference on either side
ROWS = [("0.300", ["9.00"]), ("0.100", ["1.00"]), ("0.200", ["4.10"]), ("0.400", [None]), ("0.600", ["36.50"])]
RATE = Quantity("rate", "derived", "rate", "r", formula="Δ(y)/Delta(x)")
MIDDLE = Quantity("mid", "derived", "middle", "x_m", formula="mid(x)")
DIFFERENCE = Quantity("diff", "derived", "difference", "Delta(y)", formula="Delta(y)")


def book(*derived: Quantity) -> LabBook:
    return lab_book(ROWS, derived or (RATE, MIDDLE, DIFFERENCE))


def column(a_book: LabBook, key: str) -> tuple[list[float | None], list[float | None]]:
    cells = next(c for c in analyse(a_book).runs[0].columns if c.quantity == key).cells
    return [c.value for c in cells], [c.u for c in cells]


class Neighbours(TestCase):
    def test_differences_and_their_uncertainty_against_numpy_and_the_uncertainties_package(self) -> None:
        x = np.array([0.1, 0.2, 0.3])
        y = np.array([1.00, 4.10, 9.00])
        steps = np.diff(y) / np.diff(x)
        values, us = column(book(), "rate")
        self.assertEqual([values[1], values[3], values[4]], [None, None, None])
        np.testing.assert_allclose([values[2], values[0]], steps, rtol=1e-12)
        # half a millimetre of the ruler, a hundredth of the stopwatch
        xs, ys = [ufloat(v, 0.0005) for v in x], [ufloat(v, 0.01) for v in y]
        wanted = [((ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i])).std_dev for i in range(2)]
        np.testing.assert_allclose([us[2], us[0]], wanted, rtol=1e-9)

    def test_the_middle_belongs_to_the_same_two_neighbours(self) -> None:
        middle, us = column(book(), "mid")
        np.testing.assert_allclose([middle[2], middle[0], middle[3], middle[4]], [0.15, 0.25, 0.35, 0.5], rtol=1e-12)
        np.testing.assert_allclose(us[2], ((ufloat(0.1, 0.0005) + ufloat(0.2, 0.0005)) / 2).std_dev, rtol=1e-12)

    def test_a_blank_that_is_set_aside_is_passed_over(self) -> None:
        difference, _ = column(with_aside(book(), 3, "not measured"), "diff")
        self.assertAlmostEqual(difference[4] or 0, 27.5)

    def test_a_setting_that_is_set_aside_is_nobodys_neighbour(self) -> None:
        values, _ = column(with_aside(book(), 2, "wind"), "diff")
        self.assertIsNone(values[2])
        self.assertAlmostEqual(values[0] or 0, 8.0)

    def test_a_shared_constant_moves_both_and_falls_out_of_the_difference(self) -> None:
        offset = Quantity("y0", "constant", "zero error", "y_0", "s", value="0.40", u="0.05")
        shifted = Quantity("d", "derived", "difference", "d", formula="Delta(y - y_0)")
        a_book = lab_book(ROWS, (shifted,), (offset,))
        traced = compute(a_book).columns["run1"].columns["d"].traced
        assert traced is not None
        np.testing.assert_allclose(next(by for source, by in traced.slopes.items() if source.shared)[[0, 2]], 0.0, atol=1e-15)

    def test_the_same_difference_twice_is_one_source(self) -> None:
        nothing = Quantity("n", "derived", "nothing", "n", formula="Delta(y) - Delta(y)")
        values, us = column(book(DIFFERENCE, nothing), "n")
        self.assertEqual((values[0], us[0]), (0.0, 0.0))

    def test_its_working_puts_both_settings_in(self) -> None:
        working = explain(compute(book()), "cell:run1:s1:rate")
        numbers = working.lines[1].tex
        self.assertIn(r"9.000\ \mathrm{s} - 4.100\ \mathrm{s}", numbers)
        self.assertIn(r"0.3000\ \mathrm{m} - 0.2000\ \mathrm{m}", numbers)
        self.assertEqual({r.setting for r in working.readings}, {"s1", "s3"})
        self.assertIn("before it: y = 4.100 ± 0.010 s", [o.words for o in working.onward])

    def test_where_it_has_no_meaning(self) -> None:
        for formula, values in (("Delta(c)", {}), ("mid(x)", {"x": exact(2.0)})):
            with self.subTest(formula), self.assertRaises(CoreError) as refused:
                evaluate(read_formula(formula, values), values)
            self.assertEqual(refused.exception.code, "bad_formula")
        with self.assertRaises(CoreError):
            compare_ways_of(book(), "rate")

    def test_how_it_is_written(self) -> None:
        self.assertEqual(plain_text(rich_symbol("Delta(t_10)")), "Δt₁₀")
        self.assertEqual(rename_symbol("Delta(h)/Delta(t)", "h", "y", ["D", "e", "l", "t", "a", "h"]), "Delta(y)/Delta(t)")
        named = replace(DIFFERENCE, symbol="ΔT", formula="2 y")
        doubled = Quantity("q", "derived", "twice", "q", formula="ΔT/2")
        self.assertEqual(column(book(named, doubled), "q")[0][0], 9.0)
