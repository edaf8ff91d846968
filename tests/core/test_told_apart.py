"""What has to be told apart: a sine's equal descriptions, a bend and a worse plot, one table and another, what rows share. By paper."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.checks.rows import find_slips
from hobrel.core.document.lab_book import Fit, Graph, LabBook, Log, Quantity, Reading, Run, Setting, write_lab_book
from hobrel.core.document.plan_part import DryTruth, PlanPart
from hobrel.core.errors import CoreError
from hobrel.core.fitting.curve import fit_shape
from hobrel.core.fitting.polynomial import fit_multilinear, fit_polynomial
from hobrel.core.fitting.shapes import SHAPES
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.ways import Input, propagate
from hobrel.core.linearising.forms import Form, try_forms
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse, is_table_enough
from hobrel.core.questions.amendments import find_broken
from hobrel.core.questions.believed import believe
from hobrel.core.questions.board import look_at_board
from hobrel.core.readings.instruments import Instrument
from hobrel.core.uncertainty.traced import Source, combine_quadrature, contributions, measured
from tests.builders import lab_book

EXACT = [(f"{x}", (f"{2 * x}",)) for x in (1, 2, 3, 4, 5)]


class Sines(unittest.TestCase):
    """a sin(b x + c) + d is −a sin(−b x − c) + d is −a sin(b x + c + π) + d: the one with a and b above zero is told."""

    def test_one_description_of_all(self) -> None:
        x = np.linspace(0, 9, 40)
        for a, b, c in ((0.5, 0.7, 0.4), (3.0, 2.0, -2.5)):
            y = a * np.sin(b * x + c) + 1
            for start in ((a, b, c, 1), (-a, -b, -c, 1), (-a, b, c + math.pi, 1), (a, -b, math.pi - c, 1)):
                with self.subTest(start=start):
                    found = fit_shape(x, y, SHAPES["sine"], start=start).values
                    np.testing.assert_allclose(found, (a, b, c, 1), rtol=1e-6)


class Boards(unittest.TestCase):
    def test_how_much_a_square_bends_is_said_where_it_is_judged(self) -> None:
        book = lab_book([(f"{x}", (f"{x * x}.0",)) for x in range(1, 8)])
        squares = look_at_board(book, "x", "y").squares
        plain = next(s for s in squares if (s.x_form, s.y_form) == ("v", "v"))
        # 1, 4, 9 … 49 lie on a parabola but for rounding
        self.assertEqual(plain.curvature_t, "1.0 × 10⁶")
        straight = next(s for s in squares if (s.x_form, s.y_form) == ("v", "sqrt(v)"))
        self.assertEqual(straight.curvature_t, "0")
        unjudged = look_at_board(replace(book, bench_judges=True), "x", "y").squares
        self.assertEqual({s.curvature_t for s in unjudged}, {""})

    def test_verdicts_do_not_depend_on_the_unit_of_y(self) -> None:
        forms = [Form(f) for f in ("v", "v^2", "sqrt(v)", "1/v", "ln(v)")]
        for seed in range(6):
            dice = np.random.default_rng(seed)
            x = np.linspace(1, 5, 7)
            y = 0.3 * x ** dice.choice([0.5, 1, 2]) * (1 + 0.02 * dice.standard_normal(7))

            def verdicts(
                y: np.ndarray[tuple[int], np.dtype[np.float64]], x: np.ndarray[tuple[int], np.dtype[np.float64]] = x
            ) -> dict[tuple[str, str], str]:
                return {(p.x_form.text, p.y_form.text): p.verdict for p in try_forms(x, y, None, forms, forms)}

            with self.subTest(seed):
                self.assertEqual(verdicts(y * 1e-3), verdicts(y * 1e3))

    def test_without_bars_a_plot_that_leaves_far_more_than_another_is_not_called_straight(self) -> None:
        """Both in y itself, so that what they leave is in the same unit: with five degrees of freedom each, what leaves three times the
        least does so by chance in 13 of a hundred (F): too seldom to be called as straight as that.
        """
        forms = [Form(f) for f in ("v", "v^2", "sqrt(v)", "1/v", "ln(v)", "v^3")]
        verdicts = set()
        for seed in range(30):
            dice = np.random.default_rng(seed)
            x = np.sort(dice.uniform(1, 1.6, 7))
            y = 3 * x ** dice.choice([0.5, 1.0, 2.0]) * (1 + 0.01 * dice.standard_normal(7))
            plots = try_forms(x, y, None, forms, [Form("v")])
            # left in y itself: the sum of squares of the residuals of each line
            left = [float(np.sum(p.residuals.residuals**2)) for p in plots]
            verdicts |= {(p.verdict, much > 3 * min(left)) for p, much in zip(plots, left, strict=True)}
        self.assertNotIn(("straight", True), verdicts)
        self.assertIn(("unknown", True), verdicts)


class Tables(unittest.TestCase):
    """Two tables in one lab book, each with its headings."""

    def setUp(self) -> None:
        metre, second = Instrument("ruler", "scale", "0.1"), Instrument("watch", "display", "0.1")
        quantities = (
            Quantity("x", "changed", "length", "x", "m", metre), Quantity("y", "measured", "time", "y", "s", second),
            Quantity("u", "changed", "height", "u", "m", metre), Quantity("w", "measured", "wait", "w", "s", second),
            Quantity("v", "derived", "speed", "v", "", formula="u/w"),
        )  # fmt: skip

        def rows(a: str, b: str, factor: float) -> tuple[Setting, ...]:
            return tuple(
                Setting(f"{a}{i}", {a: (Reading(f"{i}.0"),), b: (Reading(f"{factor * i:.1f}"),)}) for i in range(1, 6)
            )  # fmt: skip

        self.book = LabBook(
            "Two tables", quantities=quantities,
            runs=(Run("one", "One", rows("x", "y", 2), headings=("x", "y")), Run("two", "Two", rows("u", "w", 3), headings=("u", "w"))),
            graphs=(Graph("g", "", "u", "w"), Graph("h", "", "x", "y")), fits=(Fit("f", "g"), Fit("i", "h")),
        )  # fmt: skip

    def test_a_graph_is_of_the_table_that_has_its_points(self) -> None:
        computation = compute(self.book)
        self.assertEqual([computation.series[g][0].run.id for g in ("g", "h")], ["two", "one"])
        found = analyse(self.book).fits
        self.assertEqual([f.gradient and f.gradient.value for f in found], [3.0, 2.0])

    def test_what_is_derived_stays_so_in_either(self) -> None:
        kinds = {run.id: {key: c.quantity.kind for key, c in compute(self.book).columns[run.id].columns.items()} for run in self.book.runs}
        self.assertEqual(kinds["two"], {"x": "measured", "y": "measured", "u": "changed", "w": "measured", "v": "derived"})
        self.assertEqual(kinds["one"]["x"], "changed")


class Slips(unittest.TestCase):
    """y and z rise with x; one setting is wrong."""

    def slips(self, x: list[float], y: list[float], z: list[float]) -> list[tuple[str, str, str]]:
        book = lab_book([(f"{a:.1f}", (f"{b:.1f}",)) for a, b in zip(x, y, strict=True)])
        (run,) = book.runs
        settings = tuple(replace(s, readings={**s.readings, "z": (Reading(f"{c:.1f}"),)}) for s, c in zip(run.settings, z, strict=True))
        third = Quantity("z", "measured", "mass", "z", "kg", Instrument("balance", "display", "0.1"))
        book = replace(book, quantities=(*book.quantities, third), runs=(replace(run, settings=settings),))
        return [
            (s.kind, s.quantity or "", s.message.code)
            for s in find_slips(compute(book).columns[run.id], book)
            if s.kind != "wrong_decimals"
        ]

    UNEVEN = [1.0, 2.0, 4.0, 7.0, 9.0, 12.0, 16.0, 21.0]

    def test_where_everything_is_off_it_is_what_was_set(self) -> None:
        typed = [*self.UNEVEN]
        typed[3] = 11.0
        found = self.slips(typed, [2 * x for x in self.UNEVEN], [30 * x for x in self.UNEVEN])
        # what it should have been is not known, for it was not set by even steps
        self.assertEqual(found, [("off_trend", "x", "off_trend")])

    def test_where_one_thing_is_off_it_is_that(self) -> None:
        y = [2 * x for x in self.UNEVEN]
        y[3] = 21.0
        self.assertEqual(self.slips(self.UNEVEN, y, [30 * x for x in self.UNEVEN]), [("off_trend", "y", "off_trend_expected")])


class Numbers(unittest.TestCase):
    def test_an_uncertain_exponent_of_nought(self) -> None:
        """d(2ᵖ)/dp = 2ᵖ ln 2, at p = 0: ln 2."""
        p = measured(Source("p", "p", np.asarray(0.1)), np.asarray(0.0))
        found = evaluate(read_formula("2^p", {"p"}), {"p": p})
        self.assertAlmostEqual(float(combine_quadrature(found)), 0.1 * math.log(2), places=12)

    def test_wholly_correlated_inputs(self) -> None:
        """ISO/IEC Guide 98-3, 5.2.2, note 1: with r = 1 the contributions are added, with their signs."""
        inputs = {"a": Input(5.0, 0.3), "b": Input(2.0, 0.2)}
        for formula, u in (("a + b", 0.5), ("a - b", 0.1)):
            found = propagate(read_formula(formula, inputs), inputs, "quadrature", {("a", "b"): 1.0})
            self.assertAlmostEqual(found.u, u, places=12)

    def test_as_many_points_as_parameters(self) -> None:
        found = fit_multilinear([[1.0, 2.0, 4.0], [1.0, 3.0, 2.0]], [4.0, 9.0, 9.0])
        # b₀ + b₁ x₁ + b₂ x₂ through three points: 0.2, 1.6 and 1.2 … put in again they give y
        b = found.coefficients
        for x1, x2, y in ((1, 1, 4), (2, 3, 9), (4, 2, 9)):
            self.assertAlmostEqual(float(b[0] + b[1] * x1 + b[2] * x2), y)
        self.assertEqual(found.residual_sd, 0.0)
        self.assertEqual(fit_polynomial([1.0, 2.0], [3.0, 5.0], 1).residual_sd, 0.0)

    def test_columns_of_other_lengths(self) -> None:
        for columns, y in (([[1.0, 2.0]], [1.0, 2.0, 3.0]), ([[[1.0, 2.0]]], [[1.0, 2.0]])):
            with self.subTest(columns), self.assertRaises(CoreError):
                fit_multilinear(columns, y)

    def test_what_is_the_same_on_both_axes_does_not_move_their_gradient(self) -> None:
        """X = k x and Y = k y: dY/dX is dy/dx whatever k is."""
        book = lab_book(
            EXACT, graph=("X", "Y"),
            constants=[Quantity("k", "constant", "factor", "k", "", value="2.0", u="0.2")],
            derived=[Quantity("X", "derived", "X", "X", "", formula="k x"), Quantity("Y", "derived", "Y", "Y", "", formula="k y")],
        )  # fmt: skip
        gradient = compute(book).fits["f"].gradient  # type: ignore[union-attr]
        self.assertAlmostEqual(float(gradient.value), 2.0)
        shared = contributions(gradient, shared=True)
        self.assertTrue(all(abs(float(part)) < 1e-6 for part in shared.values()), shared)


class Plans(unittest.TestCase):
    def test_settings_that_are_typed_are_those_of_a_dry_run(self) -> None:
        book = lab_book([(x, (None,)) for x in ("1", "2.5", "4")])
        plan = PlanPart(dry=DryTruth({"k": "2 s/m"}, {}, {}))
        world = believe(replace(book, relation="y = k x", plan=plan))
        self.assertEqual(world.tables[0].nominal, (1.0, 2.5, 4.0))

    def test_logs_of_an_amended_lab_book_are_its_own(self) -> None:
        book = lab_book(EXACT)
        log = Log(columns={"x": ("1.0", "2.0", "3.0"), "y": ("2.0", "4.0", "6.0")}, rows=3)
        book = replace(book, runs=(Run("run1", "Run", log=log),))
        bare = write_lab_book(book)
        bare["runs"][0]["log"]["columns"] = {}
        self.assertEqual(find_broken(book, bare), ())

    def test_only_readings_leave_the_table_enough(self) -> None:
        book = lab_book(EXACT)
        other = replace(book, runs=(replace(book.runs[0], settings=book.runs[0].settings[:-1]),))
        self.assertTrue(is_table_enough(other, book))
        self.assertFalse(is_table_enough(replace(other, title="another"), book))
        slope = Quantity("v", "derived", "slope", "v", "", tangent_of="f")
        self.assertFalse(
            is_table_enough(replace(other, quantities=(*book.quantities, slope)), replace(book, quantities=(*book.quantities, slope)))
        )


class Remarks(unittest.TestCase):
    def codes(self, used: int) -> set[str]:
        book = lab_book(EXACT)
        settings = tuple(replace(s, set_aside=None if i < used else "wet") for i, s in enumerate(book.runs[0].settings))
        return {r.code for r in analyse(replace(book, runs=(replace(book.runs[0], settings=settings),))).graphs[0].remarks}

    def test_too_few_for_a_line_are_some_but_not_none(self) -> None:
        self.assertEqual(["few_for_line" in self.codes(used) for used in (0, 1, 2, 3)], [False, True, True, False])
