"""Ends, firsts and what is empty: each by paper, at the place itself and beside it."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
import statsmodels.api as sm
from statsmodels.sandbox.stats.runs import runstest_1samp

from hobrel.core.checks.rows import find_slips
from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import Convention, Finding, Fit, LabBook, Note, Quantity, SketchPoint, Unknown
from hobrel.core.document.plan_part import DryTruth, PlanPart
from hobrel.core.errors import CoreError
from hobrel.core.fitting.extreme import find_extreme_lines
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.residuals import study_residuals
from hobrel.core.fitting.steepest import find_steepest_point
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.ways import Input, propagate
from hobrel.core.linearising.forms import try_forms
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.figures import make_axis, make_log_axis
from hobrel.core.presentation.findings import shown_input
from hobrel.core.presentation.graph_remarks import find_outside
from hobrel.core.presentation.side_by_side import compare_runs
from hobrel.core.presentation.working import explain
from hobrel.core.questions.believed import believe
from hobrel.core.questions.board import make_board
from hobrel.core.questions.graphs import summarise_marked
from hobrel.core.questions.improvements import find_improvements, preview_finding
from hobrel.core.questions.previews import compare_conventions
from hobrel.core.readings.instruments import Instrument
from hobrel.core.sentences import told
from hobrel.core.statistics.rates import find_rates
from hobrel.core.uncertainty.traced import Traced, exact
from hobrel.core.units.calculus import parse_unit
from tests.builders import lab_book, with_aside

LINE = [(f"{x}.0", [f"{2 * x + (-1) ** x * 0.1:.1f}"]) for x in range(1, 8)]


class Bars(unittest.TestCase):
    def test_extreme_lines_do_not_depend_on_the_unit(self) -> None:
        """Bars that are touched count in any unit, and those that are missed by a millionth of one do not."""
        x = np.array([0.0, 1.0, 2.0])
        for size in (1e-9, 1.0, 1e9):
            # the middle bar just reaches down to where the two others end
            found = find_extreme_lines(x, np.array([0.0, 2.0, 0.0]) * size, np.array([1.0, 1.0, 1.0]) * size)
            self.assertAlmostEqual(found.steepest.gradient / size, 0.0, places=9)
            with self.assertRaises(CoreError) as caught:
                find_extreme_lines(x, np.array([0.0, 2.0 + 2e-6, 0.0]) * size, np.array([1.0, 1.0, 1.0]) * size)
            self.assertEqual(caught.exception.code, "no_line_through_bars")


class Rates(unittest.TestCase):
    def test_smoothed_is_the_slope_of_a_parabola_through_the_five_nearest(self) -> None:
        """By NumPy's polynomial fit, in the middle and at both ends."""
        x = np.array([0.0, 1.0, 1.5, 3.0, 4.0, 6.0, 7.0, 9.0])
        y = np.array([0.3, 1.2, 0.7, 2.9, 5.5, 4.1, 7.7, 9.0])
        found = find_rates(x, y, method="smoothed")
        for row, first in enumerate((0, 0, 0, 1, 2, 3, 3, 3)):
            near = slice(first, first + 5)
            self.assertAlmostEqual(float(found.rates[row]), float(np.polyfit(x[near] - x[row], y[near], 2)[1]), places=9)

    def test_the_reading_at_a_share_of_the_steepest_place_may_be_the_last_point(self) -> None:
        x = np.array([1.0, 2.0, 3.0, 4.0])
        y = np.array([1.0, 2.0, 3.0, 5.0])
        at = find_steepest_point(x, y).at
        self.assertEqual(find_steepest_point(x, y, fraction=4.0 / at).fraction_y, 5.0)
        self.assertIsNone(find_steepest_point(x, y, fraction=4.001 / at).fraction_y)
        self.assertEqual(find_steepest_point(x, y, fraction=1.0 / at).fraction_y, 1.0)


class Patterns(unittest.TestCase):
    def test_a_bend_is_named_by_where_its_ends_lie(self) -> None:
        x = np.arange(8.0)
        for sign, words in (
            (1.0, "The ends lie above the line and the middle below"),
            (-1.0, "The ends lie below the line and the middle above"),
        ):
            y = sign * (x - 3.5) ** 2
            study = study_residuals(x, y, fit_line(x, y))
            self.assertIn(words, study.sentence.text)


class Ranges(unittest.TestCase):
    def test_points_at_the_end_of_a_range_lie_within_it(self) -> None:
        points = compute(lab_book(LINE)).points["g"]
        assert isinstance(points, GraphPoints)
        x, y = points.x, points.y
        whole = make_axis((), 0, 1, fixed=(float(x.min()), float(x.max()))), make_axis((), 0, 1, fixed=(float(y.min()), float(y.max())))
        self.assertFalse(find_outside(points, *whole).any())
        beyond = replace(whole[0], low=float(x.min()) + 0.01), whole[1]
        self.assertEqual(find_outside(points, *beyond).tolist(), [True] + 6 * [False])
        self.assertEqual(find_outside(points, whole[0], replace(whole[1], high=float(y.max()) - 0.01)).sum(), 1)

    def test_ends_at_nought_are_none_of_a_logarithmic_axis(self) -> None:
        self.assertEqual(make_log_axis((), 1.0, 100.0, fixed=(None, 0.0)).high, make_log_axis((), 1.0, 100.0).high)
        self.assertEqual(make_log_axis((), 1.0, 100.0, fixed=(0.0, None)).low, make_log_axis((), 1.0, 100.0).low)


class Shown(unittest.TestCase):
    def test_a_note_stands_at_its_own_point_and_one_of_a_line_on_it(self) -> None:
        book = lab_book(LINE)
        notes = Note("p", "here", "point", "s3"), Note("l", "the line", "fit", "f", x=2.5), Note("gone", "nowhere", "point", "s99")
        book = replace(book, graphs=(replace(book.graphs[0], notes=notes),))
        (figure,) = [g.figure for g in analyse(book).graphs]
        assert figure is not None
        at = {note.id: (note.x, note.y) for note in figure.notes}
        self.assertEqual({*at}, {"p", "l"})
        self.assertEqual(at["p"], (3.0, 5.9))
        x, y = np.arange(1.0, 8.0), np.array([float(ys[0]) for _, ys in LINE])
        self.assertAlmostEqual(at["l"][1], float(np.polyval(np.polyfit(x, y, 1), 2.5)), delta=0.02)

    def test_a_curve_s_parameters_are_live_values(self) -> None:
        book = lab_book([(f"{x}.0", [f"{3 * x**2:.1f}"]) for x in range(1, 7)])
        tokens = analyse(replace(book, fits=(Fit("f", "g", shape="power"),))).tokens
        self.assertTrue(tokens["n"].startswith("2.0") or tokens["n"] == "2")
        self.assertIn("a", tokens)

    def test_of_two_values_there_is_a_spread(self) -> None:
        book = replace(lab_book(LINE), convention=Convention("half_range", "larger"))
        self.assertIn("half the range of these values", told(summarise_marked(compute(book), "g", (1.0, 2.0)).mean_rule))
        self.assertNotIn("half the range", told(summarise_marked(compute(book), "g", (1.0, 1.5)).mean_rule))

    def test_the_instrument_beside_the_spreads_is_that_at_the_mean(self) -> None:
        book = lab_book([("1.0", ["90", "110"]), ("2.0", ["400", "400"])])
        counted = replace(book.quantity("y"), instrument=Instrument("counter", "counted_at_random", "1"))
        table = compare_conventions(replace(book, quantities=(book.quantities[0], counted)), "y")
        # √100 and √400
        self.assertEqual(table.instrument, ("10", "20"))

    def test_what_is_certain_has_a_budget_of_nothing(self) -> None:
        exact = replace(lab_book(LINE).quantity("y"), instrument=None)
        constant = Quantity("c", "constant", "length", "c", "m", value="2")
        book = lab_book(LINE, constants=[constant], findings=[Finding("w", "w", "w", "", "2 c")])
        (found,) = analyse(replace(book, quantities=(book.quantities[0], exact, constant))).findings
        self.assertEqual([line.share for line in found.budget if line.share], [])

    def test_an_unknown_read_at_the_last_point_lies_within_what_was_measured(self) -> None:
        rows = [(f"{x}.0", [f"{2 * x}.0"]) for x in range(1, 7)]
        for reading, beyond in (("12.0", False), ("12.1", True), ("2.0", False), ("1.9", True)):
            fit = Fit("f", "g", weights="none", unknowns=(Unknown("u", "a sample", (reading,)),))
            (card,) = analyse(replace(lab_book(rows), fits=(fit,))).fits
            (unknown,) = card.unknowns
            self.assertEqual(unknown.extrapolated, beyond, reading)


def noticed(book: LabBook) -> tuple[Slip, ...]:
    return find_slips(compute(book).columns["run1"], book, finished=True)


class Seldom(unittest.TestCase):
    """What is seldom met, by paper."""

    def test_a_table_written_in_the_wrong_direction_is_one_slip_about_the_column(self) -> None:
        # the first column holds what belongs to the first setting, and so on
        right = [[1.02, 1.03, 1.01], [2.01, 2.03, 2.02], [3.03, 3.01, 3.02]]
        rows = [(f"{i + 1}.0", [f"{right[k][i]:.2f}" for k in range(3)]) for i in range(3)]
        slips = [s for s in noticed(lab_book(rows)) if s.kind == "direction"]
        self.assertEqual([(s.setting, s.quantity, s.whole_column) for s in slips], [("s1", "y", True)])

    def test_a_setting_that_is_there_twice_is_found_behind_one_that_is_blank(self) -> None:
        book = lab_book([("1.0", ["1.00"]), ("", ["1.50"]), ("2.0", ["2.00"]), ("2.0", ["2.10"])])
        twice = [s.setting for s in noticed(book) if s.kind == "duplicate_setting"]
        self.assertEqual(twice, ["s4"])

    def test_a_mean_of_readings_with_a_uncertainty_of_their_own_says_so(self) -> None:
        book = lab_book([("1.0", ["2.00 ± 0.05", "2.10 ± 0.05"]), ("2.0", ["4.0 ± 0.1", "4.2 ± 0.1"])])
        words = " ".join(told(line.words) for line in explain(compute(book), "cell:run1:s1:y").lines)
        self.assertIn("uncertain by 0.05", words)
        self.assertNotIn("stopwatch", words)

    def test_a_constant_without_uncertainty_in_a_finding_is_shown_without(self) -> None:
        mass = Quantity("m", "constant", "mass", "m", "kg", value="2.50")
        book = lab_book(LINE, constants=(mass,), findings=(Finding("F", "force", "F", "", "m gradient", "f"),))
        shown = shown_input("m", exact(2.5, parse_unit("kg")), compute(book).finding("F"), book)
        self.assertEqual((shown.text, shown.u), ("2.50 kg", None))
        self.assertIn("2.50", analyse(book).findings[0].numbers_tex)

    def test_sixteen_uncertain_quantities_have_corners_and_seventeen_too_many(self) -> None:
        def visited(count: int) -> float:
            names = [f"a_{i}" for i in range(count)]
            node = read_formula(" + ".join(names), names)
            return propagate(node, {name: Input(1.0, 0.5) for name in names}, "extremes").u

        self.assertAlmostEqual(visited(16), 8.0)
        with self.assertRaises(CoreError) as refused:
            visited(17)
        self.assertEqual(refused.exception.code, "too_large")

    def test_the_lines_of_the_board_go_through_their_dots_however_far_from_nought(self) -> None:
        rows = [(f"{x}.0", [f"{100 + 2 * x:.2f}"]) for x in range(1, 8)]
        plain = next(s for s in make_board(lab_book(rows), "x", "y", True).squares if (s.x_form, s.y_form) == ("v", "v"))
        self.assertAlmostEqual(plain.line_from, 0.0, 9)
        self.assertAlmostEqual(plain.line_to, 1.0, 9)

    def test_one_run_alone_is_not_drawn_beside_others(self) -> None:
        book = lab_book(LINE, findings=(Finding("F", "slope", "F", "", "gradient", "f"),))
        self.assertIsNone(compare_runs(compute(book), "F").number_line)
        other = replace(book, runs=(*book.runs, replace(book.runs[0], id="run2", name="Other")))
        self.assertIsNotNone(compare_runs(compute(other), "F").number_line)

    def test_a_blank_of_a_setting_that_is_set_aside_is_not_asked_about(self) -> None:
        rows: list[tuple[str, list[str | None]]] = [(f"{x}.0", [f"{x}.00", f"{x}.02"]) for x in range(1, 6)]
        rows[2] = ("3.0", ["3.00", None])
        for book, asked in ((lab_book(rows), ["s3"]), (with_aside(lab_book(rows), 2, "knocked"), [])):
            self.assertEqual([s.setting for s in noticed(book) if s.kind == "missing_repeat"], asked)

    def test_how_many_points_are_expected_within_the_scatter(self) -> None:
        """68 % and 95 % of ten (normal distribution), rounded."""
        rows = [(f"{x}.0", [f"{2 * x + 0.1 * (-1) ** x:.1f}"]) for x in range(1, 11)]
        bare = lab_book(rows)
        bare = replace(bare, quantities=tuple(replace(q, instrument=None) for q in bare.quantities))
        self.assertIn("about 7 and 10 are expected", told(analyse(bare).fits[0].within, "; "))

    def test_a_finding_that_is_still_being_written_is_shown_rounded(self) -> None:
        own = Finding("F", "slope", "F", "", "gradient", "f")
        book = replace(lab_book(LINE, findings=(own,)), bench_rounds=True)
        self.assertTrue(analyse(book).findings[0].in_full)
        self.assertEqual(preview_finding(compute(book), own).in_full, "")

    def test_numbers_squared_under_their_old_heading_are_one_slip_about_the_column(self) -> None:
        relation = [(f"{x}.0", [f"{(0.5 * x) ** 2:.3f}", f"{(0.5 * x) ** 2 + 0.002:.3f}"]) for x in range(1, 9)]
        book = replace(
            lab_book(relation),
            relation="y = k x",
            quantities=(*lab_book(relation).quantities, Quantity("k", "constant", "k", "k", "s/m", value="0.5")),
        )
        slips = [s for s in noticed(book) if s.kind == "squared"]
        self.assertEqual([(s.setting, s.quantity, s.whole_column) for s in slips], [("s1", "y", True)])

    def test_a_formula_that_begins_with_a_sign_that_cannot_stand_there_says_where(self) -> None:
        for text, at in (("* 2", 0), ("x * / 2", 4)):
            with self.subTest(text), self.assertRaises(CoreError) as refused:
                read_formula(text, ("x",))
            self.assertEqual(refused.exception.fields["at"], at)

    def test_two_settings_are_enough_to_try_a_plan_with_and_one_is_not(self) -> None:
        relation = replace(lab_book([("1.0", [None]), ("2.0", [None])]), relation="y = k x")
        believed = replace(relation, plan=PlanPart(draft=True, dry=DryTruth(truths={"k": "2 s/m"})))
        known = replace(believed, quantities=(*believed.quantities, Quantity("k", "constant", "k", "k", "s/m", value="2")))
        (drawn,) = believe(known).draw(np.random.default_rng(1), 1)
        self.assertEqual([s.readings["x"][0].text for s in drawn.runs[0].settings], ["1.000", "2.000"])  # type: ignore[union-attr]
        one = replace(known, runs=(replace(known.runs[0], settings=known.runs[0].settings[:1]),))
        with self.assertRaises(CoreError) as refused:
            believe(one)
        self.assertEqual(refused.exception.code, "no_settings")

    def test_a_sketch_is_not_drawn_where_one_axis_is_logarithmic(self) -> None:
        sketch = (SketchPoint(0.1, 0.1), SketchPoint(0.5, 0.6), SketchPoint(0.9, 0.7))
        for along, up in ((False, False), (True, False), (False, True), (True, True)):
            book = lab_book(LINE)
            book = replace(book, sketch=sketch, graphs=(replace(book.graphs[0], x_log=along, y_log=up),))
            figure = analyse(book).graphs[0].figure
            assert figure is not None
            self.assertEqual(figure.sketch is None, along or up)

    def test_a_constant_that_lifts_x_moves_the_parameters_of_a_curve_by_what_fitting_again_gives(self) -> None:
        zero = Quantity("x0", "constant", "zero error", "x_0", "m", value="0.10", u="0.05")
        true = Quantity("X", "derived", "true length", "X", formula="x - x_0")
        rows = [(f"{x / 10:.3f}", [f"{3 * (x / 10 - 0.1) ** 2 + 1:.4f}"]) for x in range(2, 10)]

        def fitted(value: str) -> Traced:
            book = lab_book(rows, (true,), (replace(zero, value=value),), graph=("X", "y"))
            found = compute(replace(book, fits=(Fit("f", "g", shape="quadratic", weights="none"),))).fits["f"]
            return found.outputs["b"]  # type: ignore[union-attr]

        here = fitted("0.10")
        by = next(slope for source, slope in here.slopes.items() if source.symbol == "x_0")
        self.assertAlmostEqual(float(by), float(fitted("0.15").value - here.value) / 0.05, 6)

    def test_a_repeated_quantity_is_repeated_in_its_own_run_alone(self) -> None:
        """With a second run beside it, what more repeats would bring is what it was."""
        rows = [(f"{x}.000", [f"{2 * x + d:.2f}" for d in (0.00, 0.06, -0.05)]) for x in range(1, 7)]
        book = lab_book(rows, findings=(Finding("F", "slope", "F", "", "gradient", "f"),))
        two = replace(
            book,
            runs=(*book.runs, replace(book.runs[0], id="run2", name="Other")),
            fits=(Fit("f", "g", run="run1"), Fit("o", "g", run="run2")),
        )
        both = [[(told(i.words), round(i.gain, 6)) for i in find_improvements(compute(b), "F")] for b in (book, two)]
        self.assertEqual(both[0], both[1])

    def test_strain_is_curvature_and_too_few_runs_together(self) -> None:
        """Both by statsmodels: Student's t of the quadratic term, and the runs test with its correction for continuity."""
        x = np.arange(1.0, 13.0)
        y = 2 * x + 0.02 * x**2 + np.array([0.1, 0.15, -0.02, 0.08, -0.2, -0.15, 0.03, -0.2, -0.12, 0.15, 0.2, 0.1])
        plain = next(p for p in try_forms(x, y) if (p.x_form.text, p.y_form.text) == ("v", "v"))
        t = float(sm.OLS(y, np.column_stack([np.ones_like(x), x, x**2])).fit().tvalues[2])
        residuals = y - np.polyval(np.polyfit(x, y, 1), x)
        z, _ = runstest_1samp(residuals, cutoff=0, correction=True)
        self.assertLess(z, -0.3)
        self.assertAlmostEqual(abs(plain.curvature_t or 0), abs(t), 6)
        self.assertAlmostEqual(plain.strain, float(np.hypot(t, z)), 6)
