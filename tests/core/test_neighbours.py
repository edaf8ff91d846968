"""Differences and rates between neighbouring settings, as derived quantities."""

from __future__ import annotations

from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.signal import savgol_filter
from uncertainties import ufloat

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.neighbours import rate_over_settings
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.formulas.tree import spell
from hobrel.core.formulas.typeset import formula_tex, plain_text, rich_symbol
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.questions.previews import compare_ways_of
from hobrel.core.sentences import told
from hobrel.core.statistics.rates import RateKind
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature, exact, measured
from hobrel.core.units.calculus import parse_unit, write_unit
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
        self.assertIn(r"9.00\ \mathrm{s} - 4.10\ \mathrm{s}", numbers)
        self.assertIn(r"0.300\ \mathrm{m} - 0.200\ \mathrm{m}", numbers)
        self.assertEqual({r.setting for r in working.readings}, {"s1", "s3"})
        self.assertIn("before it: y = 4.10 ± 0.01 s", [o.words for o in working.onward])

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


class Rates(TestCase):
    """rate( ) and smooth_rate( ), of x and y of uneven settings that are not in order."""

    X = np.array([0.1, 0.25, 0.3, 0.5, 0.8, 0.9])
    Y = np.array([1.0, 2.4, 3.1, 6.2, 12.5, 14.1])
    ROWS = [("0.300", ["3.10"]), ("0.100", ["1.00"]), ("0.900", ["14.10"]), ("0.250", ["2.40"]), ("0.800", ["12.50"]), ("0.500", ["6.20"])]
    CENTRED = Quantity("r", "derived", "rate", "r", formula="rate(y, x)")
    SMOOTHED = Quantity("s", "derived", "smoothed", "w", formula="smooth_rate(y, x)")

    def rates(self, quantity: Quantity, rows: list[tuple[str, list[str | None]]] | None = None) -> tuple[np.ndarray, np.ndarray]:
        """Values and ±, in order of x."""
        a_book = lab_book(rows or self.ROWS, (quantity,))
        values, us = column(a_book, quantity.id)
        order = np.argsort([float(s.readings["x"][0].text) for s in a_book.runs[0].settings])  # type: ignore[union-attr]
        return np.array(values, dtype=float)[order], np.array(us, dtype=float)[order]

    def test_centred_against_numpy_and_the_uncertainties_package(self) -> None:
        values, us = self.rates(self.CENTRED)
        np.testing.assert_allclose(values, np.gradient(self.Y, self.X), rtol=1e-12)
        xs, ys = [ufloat(v, 0.0005) for v in self.X], [ufloat(v, 0.01) for v in self.Y]
        first, last = (ys[1] - ys[0]) / (xs[1] - xs[0]), (ys[5] - ys[4]) / (xs[5] - xs[4])
        # within a tenth of a percent: that a shift of x works along the local slope is so for short steps
        np.testing.assert_allclose(us[[0, 5]], [first.std_dev, last.std_dev], rtol=5e-2)
        exact_x = tuple(replace(q, instrument=None) if q.id == "x" else q for q in lab_book(self.ROWS, (self.CENTRED,)).quantities)
        _, only_y = column(replace(lab_book(self.ROWS, (self.CENTRED,)), quantities=exact_x), "r")
        before, after = 0.05, 0.2
        middle = (
            -after / (before * (before + after)) * ys[1]
            + (after - before) / (before * after) * ys[2]
            + before / (after * (before + after)) * ys[3]
        )
        self.assertAlmostEqual(only_y[0] or 0, middle.std_dev, 9)

    def test_smoothed_against_numpy_and_scipy(self) -> None:
        values, _ = self.rates(self.SMOOTHED)
        for i, first in enumerate((0, 0, 0, 1, 1, 1)):
            part = slice(first, first + 5)
            slope = np.polyder(np.poly1d(np.polyfit(self.X[part], self.Y[part], 2)))(self.X[i])
            self.assertAlmostEqual(values[i], slope, 9)
        even = np.arange(9) / 10
        y = np.round(np.sin(3 * even) * 10, 2)
        values, us = self.rates(self.SMOOTHED, [(f"{a:.3f}", [f"{b:.2f}"]) for a, b in zip(even, y, strict=True)])
        np.testing.assert_allclose(values, savgol_filter(y, 5, 2, deriv=1, delta=0.1, mode="interp"), rtol=1e-9)
        # in the middle (−2, −1, 0, 1, 2)/10 of the step: √10/10 of 0.01 for a step of 0.1
        local = np.gradient(y, even)[2:7]
        weights = np.array([-2, -1, 0, 1, 2]) / 10 / 0.1
        self.assertAlmostEqual(us[4], float(np.sqrt(np.sum(weights**2 * (0.01**2 + (local * 0.0005) ** 2)))), 12)

    def test_a_setting_without_a_value_or_set_aside_is_nobodys_neighbour(self) -> None:
        rows: list[tuple[str, list[str | None]]] = [("0.100", ["1.00"]), ("0.200", [None]), ("0.300", ["2.00"]), ("0.500", ["7.00"])]
        values, _ = self.rates(self.CENTRED, rows)
        self.assertTrue(np.isnan(values[1]))
        np.testing.assert_allclose(values[[0, 2, 3]], np.gradient([1.0, 2.0, 7.0], [0.1, 0.3, 0.5]), rtol=1e-12)
        aside = with_aside(lab_book([*rows, ("0.400", ["99.00"])], (self.CENTRED,)), 4, "slipped")
        np.testing.assert_allclose(np.array(column(aside, "r")[0], dtype=float)[[0, 2, 3]], values[[0, 2, 3]])

    def test_what_it_hangs_together_with(self) -> None:
        """What changes with itself does so exactly; a zero error falls out, a scale moves all."""
        same = Quantity("n", "derived", "itself", "n", formula="rate(y, y)")
        np.testing.assert_allclose(self.rates(same)[0], 1.0, rtol=1e-12)
        np.testing.assert_allclose(self.rates(same)[1], 0.0, atol=1e-12)
        shared = (
            Quantity("y0", "constant", "zero error", "y_0", "s", value="0.40", u="0.05"),
            Quantity("k", "constant", "scale", "k", "", value="2.00", u="0.10"),
        )
        shifted = Quantity("d", "derived", "rate", "d", formula="rate(k (y - y_0), x)")
        traced = compute(lab_book(self.ROWS, (shifted,), shared)).columns["run1"].columns["d"].traced
        assert traced is not None
        by = {source.symbol: slope for source, slope in traced.slopes.items() if source.shared}
        np.testing.assert_allclose(by["y_0"], 0.0, atol=1e-12)
        np.testing.assert_allclose(by["k"], traced.value / 2.0, rtol=1e-12)

    def test_units(self) -> None:
        order = np.arange(3)
        warm = measured(Source("T", "T", np.full(3, 0.1), parse_unit("°C")), np.array([20.0, 21.0, 23.0]))
        minutes = measured(Source("t", "t", np.zeros(3), parse_unit("min")), np.arange(3.0))
        cooling = evaluate(read_formula("rate(T, t)", "Tt"), {"T": warm, "t": minutes}, order)
        np.testing.assert_allclose(in_wanted_unit(cooling, "°C/min", "c").value, [1.0, 1.5, 2.0])
        np.testing.assert_allclose(
            combine_quadrature(in_wanted_unit(cooling, "K/h", "c")), [60 * 0.1 * 2**0.5, 60 * 0.05 * 2**0.5, 60 * 0.1 * 2**0.5]
        )
        depth = measured(Source("h", "h", np.full(3, 0.5), parse_unit("mm")), np.array([0.0, 2.0, 4.0]))
        along = measured(Source("x", "x", np.zeros(3), parse_unit("m")), np.arange(3.0))
        slope = evaluate(read_formula("rate(h, x)", "hx"), {"h": depth, "x": along}, order)
        np.testing.assert_allclose(slope.value, 0.002)
        self.assertEqual(write_unit(slope.unit), "")

    def test_its_working_lists_the_points(self) -> None:
        computation = compute(lab_book(self.ROWS, (self.CENTRED, self.SMOOTHED)))
        working = explain(computation, "cell:run1:s1:r")
        self.assertIn("a parabola", told(working.lines[1].words))
        self.assertIn("(0.2500 ± 0.0005 m; 2.400 ± 0.010 s), (0.3000", told(working.lines[1].words))
        self.assertEqual((len(working.lines), working.budget), (3, ()))
        self.assertEqual({r.setting for r in working.readings}, {"s1", "s4", "s6"})
        self.assertIn("one side only", told(explain(computation, "cell:run1:s2:r").lines[1].words))
        smoothed = explain(computation, "cell:run1:s1:s")
        self.assertIn("closest to 5 settings", told(smoothed.lines[1].words))
        self.assertEqual({r.setting for r in smoothed.readings}, {"s1", "s2", "s4", "s5", "s6"})

    def test_where_it_has_no_meaning(self) -> None:
        x, y = exact(2.0), exact(3.0)
        for formula in ("rate(x)", "rate(x, y)", "rate x", "rate(x, )", "rate(x, y, x)", "smooth_rate(y)"):
            with self.subTest(formula), self.assertRaises(CoreError) as refused:
                evaluate(read_formula(formula, ("x", "y")), {"x": x, "y": y})
            self.assertEqual(refused.exception.code, "bad_formula")
        for quantity, rows, code in (
            (self.SMOOTHED, self.ROWS[:4], "too_few_points"),
            (self.CENTRED, [("0.100", ["1.00"]), ("0.100", ["2.00"]), ("0.200", ["3.00"])], "outside_domain"),
            (self.CENTRED, self.ROWS[:1], "too_few_points"),
        ):
            trouble = compute(lab_book(rows, (quantity,))).columns["run1"].columns[quantity.id].trouble
            self.assertEqual(trouble and trouble.code, code)
        # a quantity that is called rate is one, also before a bracket
        product = evaluate(read_formula("rate(x + y)", ("x", "y", "rate")), {"x": x, "y": y, "rate": exact(4.0)})
        self.assertEqual(float(product.value), 20.0)

    def test_how_it_is_written(self) -> None:
        self.assertEqual(plain_text(rich_symbol("rate(v_1, t)")), "dv₁/dt")
        self.assertEqual(plain_text(rich_symbol("smooth_rate(v, theta)")), "(dv/dθ)_smoothed")
        self.assertEqual(formula_tex(read_formula("rate(v^2, t)", ("v", "t"))), r"\frac{\mathrm{d} v^{2}}{\mathrm{d} t}")
        self.assertEqual(formula_tex(read_formula("2 rate(u + v, t)^2", ("u", "v", "t"))),
                         r"2\,\left(\frac{\mathrm{d} \left(u + v\right)}{\mathrm{d} t}\right)^{2}")  # fmt: skip
        self.assertEqual(rename_symbol("rate(v, t)", "v", "s", ["v", "t"]), "rate(s, t)")
        self.assertEqual(spell(read_formula(spell(read_formula("rate(a + b, t)", "abt")), "abt")), "rate(a + b, t)")

    def test_a_hundred_thousand_logged_rows(self) -> None:
        x = np.linspace(0.0, 10.0, 100_001)
        order = np.arange(x.size)
        kinds: tuple[RateKind, ...] = ("centred", "smoothed")
        for kind in kinds:
            y = measured(Source("y", "y", np.full(x.size, 0.01)), np.sin(x))
            found = rate_over_settings(y, Traced(x, {}), kind, order, "r")
            np.testing.assert_allclose(found.value[5:-5], np.cos(x)[5:-5], atol=1e-6)
