"""More of what has to be told apart, each by paper: corners and symbols, sides of a relation, what is level, what has no ± of its own."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from fractions import Fraction

import numpy as np
import statsmodels.api as sm

from hobrel.core.document.lab_book import (
    ByEye,
    Finding,
    Fit,
    Graph,
    LabBook,
    Quantity,
    Reading,
    Run,
    Setting,
    SketchPoint,
)
from hobrel.core.document.plan_part import PlanPart, WantedSettings
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import measure_bend
from hobrel.core.fitting.extreme import find_extreme_lines
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.polynomial import fit_polynomial
from hobrel.core.fitting.residuals import study_residuals
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.typeset import relation_tex, symbol_tex
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.equations import find_free_corner
from hobrel.core.presentation.figures import FigurePoint, ModelLine, make_axis
from hobrel.core.presentation.graphs import smooth_sketch
from hobrel.core.presentation.line_cards import present_fit, write_r2
from hobrel.core.presentation.showing import show_value
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.rounding import write_number
from tests.builders import lab_book

LINE = [(f"{x}", [f"{2 * x + (-1) ** x * 0.1:.1f}"]) for x in range(1, 7)]


class Texts(unittest.TestCase):
    def test_an_index_is_upright_where_it_is_a_word(self) -> None:
        self.assertEqual(symbol_tex("t_1"), "t_{1}")
        self.assertEqual(symbol_tex("t_10"), "t_{10}")
        self.assertEqual(symbol_tex("t_a"), "t_{a}")
        self.assertEqual(symbol_tex("t_max"), r"t_{\mathrm{max}}")

    def test_a_relation_has_two_sides(self) -> None:
        self.assertEqual(relation_tex("T = k", ("T", "k")), "T = k")
        for text in ("T", "T = k = 2", ""):
            self.assertEqual(relation_tex(text, ("T", "k")), "")

    def test_what_could_follow_is_named_to_the_last(self) -> None:
        with self.assertRaises(CoreError) as told:
            read_formula("2 +", ("t",))
        hint = str(told.exception.fields["hint"])
        *others, last = hint.split(" or ")
        self.assertEqual(len(others), 1)
        self.assertNotIn(last, others[0].split(", "))


class Sketches(unittest.TestCase):
    def test_of_two_places_are_the_line_between_them(self) -> None:
        curve = smooth_sketch([SketchPoint(0.2, 0.1), SketchPoint(0.8, 0.7)])
        assert curve is not None
        self.assertEqual((curve.x[0], curve.x[-1], len(curve.x)), (0.2, 0.8, 61))
        self.assertTrue(np.allclose(curve.y, np.array(curve.x) - 0.1))
        self.assertIsNone(smooth_sketch([SketchPoint(0.2, 0.1)]))


class Corners(unittest.TestCase):
    def test_a_line_counts_where_it_leads_and_not_at_its_end_alone(self) -> None:
        x, y = make_axis((), 0, 10), make_axis((), 0, 10)
        point = FigurePoint("a", 9.0, 9.0, 0, 0, "")
        # the line keeps to the left above, the point stands right above: below is nothing
        left = ModelLine("fit", (0.0, 3.0), (9.5, 9.5))
        self.assertIn(find_free_corner(x, y, [point], [left], several=False), ("bottom_left", "bottom_right"))
        below = [FigurePoint("b", place, 0.5, 0, 0, "") for place in (0.5, 1.0, 9.0, 9.5)]
        self.assertEqual(find_free_corner(x, y, [point, *below], [], several=False), "top_left")
        self.assertEqual(find_free_corner(x, y, [point, *below], [left], several=False), "top_right")


class Level(unittest.TestCase):
    def test_what_does_not_vary_has_no_share_explained(self) -> None:
        self.assertIsNone(fit_polynomial([1.0, 2.0, 3.0, 4.0], [5.0, 5.0, 5.0, 5.0], 1).r2)

    def test_a_bend_needs_four_places_not_four_points(self) -> None:
        self.assertIsNone(measure_bend([1, 1, 2, 2, 3], [1, 1.1, 2, 2.1, 9]))
        self.assertIsNone(measure_bend([1, 2, 3], [1, 2, 9]))
        self.assertIsNotNone(measure_bend([1, 2, 3, 4], [1, 2, 3.5, 4]))
        # four places of which one alone weighs anything
        self.assertIsNone(measure_bend([1, 2, 3, 4, 5], [1, 2, 3.5, 4, 5], [1e-160, 1, 1, 1, 1]))

    def test_it_is_that_of_exact_arithmetic_also_where_bars_are_of_very_different_sizes(self) -> None:
        """The coefficient of x² over its standard error by fractions (Cramer's rule), bars apart by a factor of a million."""
        x, y = [0, 1, 2, 3, 5, 8], ["0.1", "1.3", "1.9", "3.2", "4.7", "8.3"]
        u = ["0.000001", "0.5", "0.2", "1", "0.001", "0.3"]
        w = [1 / Fraction(t) ** 2 for t in u]
        s = [sum(wi * Fraction(xi) ** k for wi, xi in zip(w, x, strict=True)) for k in range(5)]
        r = [sum(wi * Fraction(yi) * Fraction(xi) ** k for wi, xi, yi in zip(w, x, y, strict=True)) for k in range(3)]
        minor = s[0] * s[2] - s[1] ** 2
        whole = s[0] * (s[2] * s[4] - s[3] ** 2) - s[1] * (s[1] * s[4] - s[2] * s[3]) + s[2] * (s[1] * s[3] - s[2] ** 2)
        top = r[2] * minor - r[1] * (s[0] * s[3] - s[1] * s[2]) + r[0] * (s[1] * s[3] - s[2] ** 2)
        found = measure_bend(x, [float(t) for t in y], [float(t) for t in u])
        assert found is not None and found.z is not None
        self.assertAlmostEqual(found.z / (float(top / whole) / math.sqrt(minor / whole)), 1, 8)
        # in another unit it is the same
        other = measure_bend(x, [float(t) * 1e9 for t in y], [float(t) * 1e9 for t in u])
        assert other is not None and other.z is not None
        self.assertAlmostEqual(other.z / found.z, 1, 12)
        self.assertAlmostEqual(other.t / found.t, 1, 7)
        self.assertAlmostEqual(other.sag / found.sag, 1, 12)


class Bars(unittest.TestCase):
    def test_errors_in_both_that_have_nothing_in_common_add_in_quadrature(self) -> None:
        x, y = np.array([1.0, 2.0, 3.0, 4.0]), np.array([2.1, 3.9, 6.2, 7.8])
        fit = fit_line(x, y)
        uy, ux = np.full(4, 0.3), np.full(4, 0.2)
        own, whole = study_residuals(x, y, fit, uy, ux), study_residuals(x, y, fit, uy, ux, correlation_xy=np.zeros(4))
        self.assertTrue(np.allclose(own.standardised, whole.standardised))
        self.assertTrue(np.allclose(own.standardised, own.residuals / np.hypot(0.3, fit.gradient * 0.2)))


class Series(unittest.TestCase):
    def test_on_one_axis_stands_what_is_in_its_unit(self) -> None:
        book = lab_book(LINE)
        graph = book.graphs[0]
        other = Quantity("z", "derived", "z", "z", formula=f"{book.quantity(graph.y).symbol}^2")
        drawn = replace(book, quantities=(*book.quantities, other), graphs=(replace(graph, also=("z",)),))
        shown = analyse(drawn).graphs[0]
        self.assertIn("bad_unit", {remark.code for remark in shown.remarks})
        assert shown.figure is not None
        self.assertEqual(len(shown.figure.series), 1)


class Findings(unittest.TestCase):
    def test_a_constant_is_shown_with_the_digits_that_were_typed(self) -> None:
        book = lab_book(LINE)
        constant = Quantity("c", "constant", "length", "b", "m", value="2.50", u="0.02")
        finding = Finding("q", "area", "A", "", "gradient b", book.fits[0].id)
        shown = analyse(replace(book, quantities=(*book.quantities, constant), findings=(finding,))).findings[0]
        self.assertIn("2.50", shown.numbers_tex)

    def test_what_has_no_uncertainty_hides_nothing_behind_it(self) -> None:
        book = lab_book(LINE)
        exact, vague = (Quantity(k, "constant", k, k, "m", value="2", u=u) for k, u in (("p", ""), ("r", "0.5")))
        finding = Finding("q", "q", "q", "", "p r gradient", book.fits[0].id)
        shown = analyse(replace(book, quantities=(*book.quantities, exact, vague), findings=(finding,))).findings[0]
        self.assertIn("r", ["".join(run.text for run in bar.symbol) for bar in shown.budget])


class Plans(unittest.TestCase):
    def test_every_range_is_looked_at_whatever_is_gone_before_it(self) -> None:
        book = lab_book(LINE)
        key = book.quantities[0].id
        wanted = {"gone": WantedSettings(3), key: WantedSettings(3, "5", "2")}
        codes = {note.words.code for note in check_plan(replace(book, plan=PlanPart(draft=True, wanted=wanted)))}
        self.assertLessEqual({"bad_range", "few_settings"}, codes)


if __name__ == "__main__":
    unittest.main()


class Cards(unittest.TestCase):
    def test_a_gradient_in_another_unit_than_y_per_x_has_all_its_uncertainties_in_it(self) -> None:
        """cm against m is a pure number, a hundredth of what is drawn; the rest by the `statsmodels` package."""
        x = np.arange(1.0, 7.0)
        y = np.array([2.03, 3.95, 6.04, 7.97, 10.02, 11.99])
        quantities = (
            Quantity("x", "changed", "length", "x", "m"),
            Quantity("y", "measured", "stretch", "y", "cm"),
        )
        texts = [(f"{a:g}", f"{b:.2f} ± 0.05") for a, b in zip(x, y, strict=True)]
        settings = tuple(Setting(f"s{i}", {"x": (Reading(a),), "y": (Reading(b),)}) for i, (a, b) in enumerate(texts))
        fit = Fit("f", "g", show_extremes=True, by_eye=ByEye(2.1, 0.0), steepest_by_eye=ByEye(2.2, 0.0), shallowest_by_eye=ByEye(1.9, 0.1))
        book = LabBook("Stretch", quantities=quantities, runs=(Run("r", "", settings),), graphs=(Graph("g", "", "x", "y"),), fits=(fit,))
        computation = compute(book)
        fitted, points = computation.fits["f"], computation.points["g"]
        assert isinstance(fitted, FittedLine) and isinstance(points, GraphPoints)
        card = present_fit(fit, fitted, points, book.convention, book.runs[0])
        plain = sm.OLS(y, sm.add_constant(x)).fit()
        weighted = sm.WLS(y, sm.add_constant(x), weights=np.full(6, 0.05**-2)).fit(cov_type="fixed scale")
        shown = [show_value(g / 100, u / 100, "", book.convention.rounding).text for g, u in (
            (weighted.params[1], weighted.bse[1]), (plain.params[1], plain.bse[1]))]  # fmt: skip
        self.assertEqual([u.text for u in card.uncertainties][:2], shown)
        # (2.2 − 1.9)/2 by eye
        self.assertEqual(card.uncertainties[-1].text, "0.0210 ± 0.0015")
        extremes = find_extreme_lines(x, y, 0.05)
        self.assertEqual(card.uncertainties[2].text, card.extremes and card.extremes.gradient and card.extremes.gradient.text)
        assert card.extremes is not None and card.by_eye is not None
        self.assertEqual(card.extremes.steepest, write_number(extremes.steepest.gradient / 100, 4))
        self.assertEqual(card.by_eye.gradient, "0.02100")

    def test_r2_has_the_figures_that_tell_it_from_one(self) -> None:
        self.assertEqual(
            [write_r2(v) for v in (0.9994, 0.9996, 0.99996, 0.999996, 0.9999996, 1.0, -0.25)],
            ["0.999", "0.9996", "0.99996", "0.999996", "1 (to six decimals)", "1 (to six decimals)", "−0.250"],
        )
