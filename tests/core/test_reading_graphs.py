"""Asking a graph: a line by eye while it moves, marked stretches, the gradient's ± in several ways, shapes that are offered."""

from __future__ import annotations

import statistics
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import stats

from hobrel.core.document.lab_book import ByEye, Convention, Finding, Fit, Ingredient, LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.results import FitResult
from hobrel.core.questions.graphs import find_steepest, preview_by_eye, summarise_marked
from hobrel.core.readings.instruments import Instrument, expected_decimals
from hobrel.core.sentences import told
from tests.builders import lab_book, with_aside

X = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6]
Y = [1.02, 2.05, 2.91, 4.08, 4.95, 6.03]


def book(**fit: object) -> LabBook:
    made = lab_book([(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X, Y, strict=True)])
    return replace(made, fits=(Fit("f", "g", **fit),))  # type: ignore[arg-type]


class ByEyeLines(TestCase):
    def test_what_a_moving_line_touches_and_leaves(self) -> None:
        preview = preview_by_eye(compute(book()), "f", 10.0, 0.0)
        np.testing.assert_allclose([r.residual for r in preview.residuals], np.array(Y) - 10 * np.array(X), atol=1e-12)
        self.assertEqual((preview.gradient, preview.intercept), ("10.00 s/m", "0 s"))
        # bars: 0.01 of the stopwatch and 10 × 0.0005 of the ruler
        touched = int(np.sum(np.abs(np.array(Y) - 10 * np.array(X)) <= 0.015))
        self.assertEqual(told(preview.words), f"It touches {touched} of 6 error bars.")
        with self.assertRaises(CoreError):
            preview_by_eye(compute(book()), "nowhere", 1.0, 0.0)

    def test_own_lines_give_an_uncertainty_of_their_own(self) -> None:
        drawn = book(by_eye=ByEye(10.0, 0.0), steepest_by_eye=ByEye(10.4, -0.1), shallowest_by_eye=ByEye(9.6, 0.1))
        done = analyse(drawn)
        ways = {u.name: u.text for u in done.fits[0].uncertainties}
        self.assertEqual(ways["by eye"], "10.0 ± 0.4 s/m")
        self.assertLessEqual({"statistical, from the bars", "statistical, from the scatter"}, set(ways))
        figure = done.graphs[0].figure
        assert figure is not None
        self.assertEqual([line.kind for line in figure.lines].count("by_eye_extreme"), 2)


class RiseOverRuns(TestCase):
    """Between two places of a line and of a curve, by hand."""

    def test_of_a_line(self) -> None:
        done = compute(book(weights="none"))
        found = summarise_marked(done, "g", (0.2, 0.5), "f").rise
        assert found is not None
        slope, cut = np.polyfit(X, Y, 1)
        self.assertAlmostEqual(found.from_y, slope * 0.2 + cut)
        self.assertAlmostEqual(found.to_y, slope * 0.5 + cut)
        self.assertEqual((found.from_x, found.to_x), (0.2, 0.5))
        self.assertEqual((found.rise, found.run, found.ratio), (f"{slope * 0.3:.3f} s", "0.3000 m", f"{slope:.3f} s/m"))

    def test_of_a_curve_it_is_that_between_the_ends(self) -> None:
        rows = [(f"{x:.3f}", [f"{4 * x**2:.3f}"]) for x in (0.1, 0.2, 0.4, 0.6, 0.8)]
        done = compute(replace(lab_book(rows), fits=(Fit("f", "g", shape="power", weights="none"),)))
        found = summarise_marked(done, "g", (0.2, 0.8), "f").rise
        assert found is not None
        # 4 (0.64 - 0.04) over 0.6
        self.assertEqual((found.rise, found.ratio), ("2.400 s", "4.000 s/m"))

    def test_of_no_width_or_where_the_curve_has_no_value_there_is_none(self) -> None:
        rows = [(f"{x:.3f}", [f"{2 * np.log(x) + 9:.3f}"]) for x in (0.1, 0.2, 0.4, 0.6, 0.8)]
        done = compute(replace(lab_book(rows), fits=(Fit("f", "g", shape="logarithm", weights="none"),)))
        self.assertIsNone(summarise_marked(done, "g", (0.2, 0.2), "f").rise)
        self.assertIsNone(summarise_marked(done, "g", (-1.0, 0.8), "f").rise)

    def test_readings_of_a_stretch_keep_their_digits(self) -> None:
        """21.23 °C logged was said to be 21.2, and half of a range of 0.16 to be 0.0800."""
        rows = [(f"{x}.0", [y]) for x, y in enumerate(("21.30", "21.23", "21.39", "21.31", "21.28"), 1)]
        found = summarise_marked(compute(lab_book(rows)), "g", (1.0, 5.0))
        self.assertEqual((found.smallest, found.largest, found.half_range), ("21.23 s", "21.39 s", "0.08 s"))
        odd = summarise_marked(compute(lab_book([*rows, ("6.0", ["21.38"])])), "g", (1.0, 2.0))
        self.assertEqual((odd.smallest, odd.half_range), ("21.23 s", "0.035 s"))
        # with a power of ten, or another unit, nobody's decimals are those of the column; nor are those of means: 10.12 to 10.52
        tens = [(f"{x}.0", [f"{x}.50e-5"]) for x in range(1, 6)]
        self.assertEqual(summarise_marked(compute(lab_book(tens)), "g", (1.0, 5.0)).smallest, "1.50 × 10⁻⁵ s")
        means = [(f"{x}.0", [f"{10 + x / 10:.2f}", f"{10.04 + x / 10:.2f}"]) for x in range(1, 6)]
        said = summarise_marked(compute(lab_book(means)), "g", (1.0, 5.0))
        self.assertEqual((said.smallest, said.largest), ("10.1 s", "10.5 s"))
        few = [(f"{x}.0", [f"{10 + x / 100:.3f}", f"{10.004 + x / 100:.3f}"]) for x in range(1, 6)]
        self.assertEqual(summarise_marked(compute(lab_book(few)), "g", (1.0, 5.0)).smallest, "10.01 s")

    def test_the_ends_of_a_stretch_belong_to_it_and_are_written_with_four_figures(self) -> None:
        done = compute(book())
        self.assertEqual(summarise_marked(done, "g", (0.2, 0.5)).keys, ("s2", "s3", "s4", "s5"))
        thirds = compute(lab_book([(f"{1 + i / 3:.6f}", [f"{i}.00"]) for i in range(5)]))
        self.assertEqual(summarise_marked(thirds, "g", (1.2, 2.1)).x_range, "1.333 to 2 m")

    def test_a_series_that_is_not_there_is_said(self) -> None:
        done = compute(book())
        self.assertEqual(summarise_marked(done, "g", (0.2, 0.5), "", "run1:y").n, 4)
        with self.assertRaises(CoreError) as trouble:
            summarise_marked(done, "g", (0.2, 0.5), "", "run1:nothing")
        self.assertEqual(trouble.exception.code, "bad_job")


class Stretches(TestCase):
    def test_agrees_with_scipy(self) -> None:
        stretch = Ingredient("y_1", "mean", "y", low=0.19, high=0.51)
        own = replace(
            book(weights="none"), convention=Convention("standard_error"), findings=(Finding("w", "w", "w", "", "y_1", uses=(stretch,)),)
        )
        found = summarise_marked(compute(own), "g", (0.19, 0.51))
        y = np.array(Y[1:5])
        self.assertEqual((found.n, found.x_range, found.keys), (4, "0.2 to 0.5 m", ("s2", "s3", "s4", "s5")))
        self.assertEqual(found.mean, analyse(own).findings[0].value, "a finding says the same of it")
        self.assertAlmostEqual(found.mean.value, float(y.mean()))
        self.assertAlmostEqual(found.mean.u or 0, float(stats.sem(y)))
        slope = stats.linregress(X[1:5], y)
        self.assertAlmostEqual(found.gradient.value if found.gradient else 0, slope.slope, 9)

    def test_its_line_is_that_of_a_fit_there_and_its_ends_are_the_points(self) -> None:
        """Points that scatter far more than their bars: the ± is from how they scatter, as on the card of the fit."""
        rows: list[tuple[str, list[str | None]]] = [(f"{0.1 * i:.3f}", [f"{2 * i + (0.5 if i % 2 else -0.5):.2f}"]) for i in range(1, 9)]
        book = lab_book(rows)
        found = summarise_marked(compute(book), "g", (0.19, 0.72))
        card = analyse(replace(book, fits=(Fit("f", "g", weights="y_bars", low=0.19, high=0.72),))).fits[0]
        assert found.gradient is not None and card.gradient is not None
        self.assertEqual((found.gradient.text, found.n), (card.gradient.text, card.n))
        self.assertEqual(found.x_range, "0.2 to 0.7 m")

    def test_it_is_said_what_the_u_of_a_mean_is_made_of(self) -> None:
        def rule(convention: Convention) -> str:
            return told(summarise_marked(compute(replace(book(), convention=convention)), "g", (0.0, 1.0)).mean_rule)

        self.assertEqual(
            rule(Convention("half_range", "larger")),
            "its ± is half the range of these values, which is larger than what they carry themselves (√Σu²/n)",
        )
        self.assertEqual(
            rule(Convention("standard_error", "quadrature")),
            "its ± is the standard error of the mean and what they carry themselves (√Σu²/n), in quadrature",
        )

    def test_what_single_readings_scatter_by_can_become_their_uncertainty(self) -> None:
        """With the n − 1 of `statistics.stdev`, to two figures; a reading carries it, and a mean's weight is one over its square."""
        ys = ("3.62", "3.58", "3.61", "3.57", "3.66", "9.10")
        steady = lab_book([(f"{0.1 * i:.1f}", [y]) for i, y in enumerate(ys, 1)])
        found = summarise_marked(compute(steady), "g", (0.0, 0.5))
        self.assertEqual((found.scatter, found.last_digit), ("0.036", "0.01"))
        self.assertEqual(found.scatter, f"{statistics.stdev(float(y) for y in ys[:5]):.2g}")
        y = steady.quantity("y")
        taken = replace(y, instrument=Instrument("meter", "steady", found.last_digit, scatter=found.scatter))
        column = compute(replace(steady, quantities=(steady.quantities[0], taken))).seen.columns["y"]
        np.testing.assert_allclose(column.u, 0.036)
        assert column.averages is not None
        np.testing.assert_allclose(column.averages.standard, 0.036)
        # the readings still end with hundredths
        self.assertEqual(expected_decimals(taken.instrument) if taken.instrument else None, 2)

    def test_repeats_means_and_what_is_worked_out_have_no_scatter_of_single_readings(self) -> None:
        twice = lab_book([(f"{i}.0", [f"{i}.1", f"{i}.3"]) for i in range(1, 6)])
        level = lab_book([(f"{i}.0", ["2.0"]) for i in range(1, 6)])
        one = lab_book([("1.0", ["2.0"]), ("5.0", ["2.5"])])
        double = Quantity("d", "derived", "d", "d", formula="2 y")
        derived = lab_book([(f"{i}.0", [f"{i}.1"]) for i in range(1, 6)], derived=[double], graph=("x", "d"))
        for book, ends in ((twice, (0.0, 9.0)), (level, (0.0, 9.0)), (one, (0.0, 2.0)), (derived, (0.0, 9.0))):
            found = summarise_marked(compute(book), "g", ends)
            self.assertEqual((found.scatter, found.last_digit), ("", ""))

    def test_what_is_set_aside_does_not_count(self) -> None:
        spoilt = with_aside(book(), 2, "late")
        self.assertEqual(summarise_marked(compute(spoilt), "g", (0.0, 1.0)).n, 5)

    def test_an_empty_stretch_is_said(self) -> None:
        with self.assertRaises(CoreError) as caught:
            summarise_marked(compute(book()), "g", (0.41, 0.49))
        self.assertEqual(caught.exception.code, "too_few_points")

    def test_a_fit_of_the_stretch_uses_only_its_points(self) -> None:
        self.assertEqual(analyse(book(low=0.19, high=0.51)).fits[0].n, 4)


class SteepestPoints(TestCase):
    """Of a titration by hand: readings every 1 m, the steepest rise between 3 and 4."""

    def test_place_rate_and_the_reading_at_half_of_it(self) -> None:
        heights = ("2.00", "2.50", "3.00", "4.00", "8.00", "9.00", "9.20")
        rows: list[tuple[str, list[str | None]]] = [(f"{x}.000", [y]) for x, y in enumerate(heights)]
        found = find_steepest(compute(lab_book(rows)), "g", 0.5)
        self.assertAlmostEqual(found.rate.value, 4.0)
        self.assertTrue(3 < found.place.value < 4)
        assert found.reading is not None
        # half of about 3.5 lies between the readings 2.50 and 3.00
        self.assertAlmostEqual(found.reading.value, 2.5 + 0.5 * (found.place.value / 2 - 1), places=6)
        self.assertAlmostEqual(found.y, 4 + 4 * (found.place.value - 3), places=6)

    def test_where_the_fraction_lies_before_the_first_point_there_is_no_reading(self) -> None:
        heights = ("1.00", "2.00", "8.00", "9.00", "9.20")
        rows: list[tuple[str, list[str | None]]] = [(f"{x}.000", [y]) for x, y in zip(range(8, 13), heights, strict=True)]
        self.assertIsNone(find_steepest(compute(lab_book(rows)), "g", 0.5).reading)

    def test_where_it_is_equally_steep_there_is_none(self) -> None:
        """Steps of 0.1 are not all the same in binary numbers: one of them was the steepest."""
        for heights in (("0.1", "0.2", "0.3", "0.4", "0.5"), ("2.0", "2.0", "2.0", "2.0"), ("1.5", "1.4", "1.3")):
            rows: list[tuple[str, list[str | None]]] = [(f"{x}.000", [y]) for x, y in enumerate(heights, 1)]
            with self.assertRaises(CoreError) as caught:
                find_steepest(compute(lab_book(rows)), "g", 0.5)
            self.assertEqual(caught.exception.code, "no_steepest")
        nearly: list[tuple[str, list[str | None]]] = [("1.000", ["1.00"]), ("2.000", ["2.00"]), ("3.000", ["3.01"])]
        self.assertEqual(find_steepest(compute(lab_book(nearly)), "g", 0.5).place.value, 2.5)


class Shapes(TestCase):
    def offered(self, rows: list[tuple[str, list[str | None]]]) -> dict[str, str]:
        return {o.shape: told(o.caution) for o in analyse(lab_book(rows)).fits[0].shapes if not o.forbidden}

    def test_only_those_that_have_a_value_everywhere(self) -> None:
        positive = self.offered([(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X, Y, strict=True)])
        self.assertTrue({"line", "power", "logarithm", "inverse", "quadratic"} <= set(positive))
        with_zero = self.offered([(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip([0.0, *X[1:]], Y, strict=True)])
        self.assertEqual(set(positive) - set(with_zero), {"power", "logarithm", "inverse", "inverse_offset", "inverse_square"})

    def test_one_that_the_data_forbid_says_why(self) -> None:
        rows: list[tuple[str, list[str | None]]] = [(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip([0.0, *X[1:4]], Y[:4], strict=True)]
        forbidden = {o.shape: told(o.forbidden) for o in analyse(lab_book(rows)).fits[0].shapes if o.forbidden}
        self.assertEqual(forbidden["power"], "Power, y = a xⁿ needs every x above zero; point 1 is at x = 0.")
        self.assertEqual(forbidden["sine"], "It needs 5 or more points and has 4.")
        self.assertNotIn("quadratic", forbidden)

    def test_a_formula_of_one_s_own_is_in_the_symbols_of_the_lab_book(self) -> None:
        rows: list[tuple[str, list[str | None]]] = [(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X, Y, strict=True)]
        book = lab_book(rows)
        timed = replace(book, quantities=(replace(book.quantities[0], symbol="t"), *book.quantities[1:]))

        def fitted(formula: str, names: tuple[str, ...] = ("a", "b")) -> FitResult:
            return analyse(replace(timed, fits=(Fit("f", "g", shape="own", formula=formula, parameters=names),))).fits[0]

        here, there = fitted("a t^b"), fitted("a x^b")
        self.assertEqual([p.value for p in here.parameters], [p.value for p in there.parameters])
        self.assertIn("t^{", here.equation_tex)
        trouble = fitted("a 2^b").trouble
        assert trouble is not None
        self.assertEqual(trouble.message, "A model needs t in its formula.")
        with self.subTest("a parameter may be called as the axis: then x is x"):
            self.assertIsNone(fitted("t x^b", ("t", "b")).trouble)

    def test_wild_shapes_come_with_a_word(self) -> None:
        few = self.offered([(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X[:5], Y[:5], strict=True)])
        self.assertEqual(few["sine"], "only 5 points to find a, b, c and d from: it will seem to fit almost anything")
        self.assertEqual((few["line"], few["inverse"]), ("", ""))
        # three points for each parameter are no longer wild
        nine = [(f"{0.1 * i:.3f}", [f"{i + 0.01 * (i % 3):.2f}"]) for i in range(1, 10)]
        self.assertEqual(self.offered(nine)["quadratic"], "")
        self.assertIn("only 8 points to find a, b and c from", self.offered(nine[:8])["quadratic"])

    def test_the_equation_of_a_curve_in_a_power_of_x_can_be_typeset(self) -> None:
        square = Quantity("x2", "derived", "square", "x^2", formula="x^2")
        rows: list[tuple[str, list[str | None]]] = [(f"{x:.3f}", [f"{y:.2f}"]) for x, y in zip(X, Y, strict=True)]
        made = lab_book(rows, (square,), graph=("x2", "y"))
        card = analyse(replace(made, fits=(Fit("f", "g", shape="power"),))).fits[0]
        self.assertIn(r"\left(x^{2}\right)^{", card.equation_tex)
