"""Whatever is thrown inside an item stays in it, under a name; and no search goes on without an end."""

from __future__ import annotations

import gc
import json
import math
import re
import unittest
from dataclasses import replace
from unittest.mock import patch

import numpy as np
from pydantic import TypeAdapter
from scipy.optimize import linprog

from hobrel.core.containment import OutOfTime, StrictWatch, Watch, contain, look_over
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.fitting.extreme import find_extreme_lines
from hobrel.core.fitting.line import fit_line
from hobrel.core.formulas.reading import read_formula, split_symbols
from hobrel.core.formulas.tree import symbols_in
from hobrel.core.formulas.typeset import plain_text, rich_symbol, symbol_expression_tex
from hobrel.core.linearising.forms import try_forms
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse, present_failure
from hobrel.core.presentation.results import Analysis
from hobrel.core.presentation.showing import tex_unit
from hobrel.core.questions.fits import find_pulls
from hobrel.core.questions.improvements import find_improvements
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.rounding import round_result, write_decimals, write_number
from hobrel.core.sentences import told
from tests.builders import lab_book
from tests.fuzz.typing import demo_books, with_reading

PLACES = {
    # where something is thrown → where its name stands: path in the analysis, whether every such item is struck
    "hobrel.core.pipeline.columns._average_column": "runs.columns",
    "hobrel.core.pipeline.columns._constant_column": "runs.columns",
    "hobrel.core.pipeline.columns._derive_column": "runs.columns",
    "hobrel.core.pipeline.columns.read_formula": "runs.columns",
    "hobrel.core.pipeline.series.gather_points": "graphs",
    "hobrel.core.pipeline.ground.fit_graph": "fits",
    "hobrel.core.pipeline.findings.compute_finding": "findings",
    "hobrel.core.presentation.analysis.present_column": "runs.columns",
    "hobrel.core.presentation.analysis.draw_graph": "graphs",
    "hobrel.core.presentation.analysis.present_pattern": "patterns",
    "hobrel.core.presentation.analysis.present_card": "fits",
    "hobrel.core.presentation.findings.present_finding": "findings",
    "hobrel.core.presentation.analysis.find_slips": "",
    "hobrel.core.presentation.analysis.mark_stages": "",
    "hobrel.core.presentation.analysis.leave_confirmed_out": "",
    "hobrel.core.presentation.analysis.smooth_sketch": "",
}
PLAIN = TypeAdapter(Analysis)


def strip() -> LabBook:
    return next(iter(demo_books().values()))


def items_at(analysis: Analysis, path: str) -> list[object]:
    items: list[object] = [analysis]
    for name in filter(None, path.split(".")):
        items = [inner for item in items for inner in getattr(item, name)]
    return items


def codes_at(analysis: Analysis, path: str) -> set[str]:
    return {trouble.code for item in items_at(analysis, path) if (trouble := getattr(item, "trouble", None))}


class Containment(unittest.TestCase):
    def setUp(self) -> None:
        look_over(Watch())
        self.addCleanup(look_over, Watch())

    def test_each_item_fails_for_itself_and_by_name(self) -> None:
        whole = PLAIN.dump_python(analyse(strip()))
        for place, path in PLACES.items():
            with (
                self.subTest(place),
                patch(place, side_effect=RuntimeError("nobody foresaw this")),
                self.assertLogs("hobrel.core", "ERROR") as log,
            ):
                analysis = analyse(strip())
                self.assertIn("unforeseen", codes_at(analysis, path))
                reference = re.findall(r"unforeseen ([0-9a-f]{8})", log.output[0])[0]
                self.assertIn(reference, json.dumps(PLAIN.dump_python(analysis, mode="json")))
                self.assertIn("nobody foresaw this", log.output[0], "the traceback stands in the log")
                # what does not rest on it is as it was
                shown = PLAIN.dump_python(analysis)
                self.assertEqual(shown["convention_words"], whole["convention_words"])
                self.assertEqual(len(shown["runs"][0]["columns"]), len(whole["runs"][0]["columns"]))
                if not path.startswith("runs"):
                    self.assertEqual(shown["runs"], whole["runs"])

    def test_one_cause_has_one_reference(self) -> None:
        with self.assertLogs("hobrel.core", "ERROR"):
            first, second = (contain("it", lambda: [][0]) for _ in range(2))
        assert isinstance(first, CoreError) and isinstance(second, CoreError)
        self.assertEqual(first.fields, second.fields)

    def test_what_is_thrown_has_its_name(self) -> None:
        def throw(what: BaseException) -> object:
            raise what

        for thrown, code in (
            (CoreError("bad_unit", "no"), "bad_unit"), (ZeroDivisionError(), "too_large"), (OverflowError(), "too_large"),
            (MemoryError(), "too_large"), (np.linalg.LinAlgError("singular"), "too_large"), (OutOfTime(), "too_long"),
        ):  # fmt: skip
            with self.subTest(type(thrown).__name__):
                found = contain("it", throw, thrown)
                assert isinstance(found, CoreError)
                self.assertEqual(found.code, code)

    def test_a_search_does_not_take_the_end_of_its_time_for_a_failed_start(self) -> None:
        self.assertFalse(issubclass(OutOfTime, Exception))

    def test_in_tests_the_unforeseen_is_a_failure(self) -> None:
        look_over(StrictWatch())
        with self.assertRaises(LookupError):
            contain("it", lambda: [][0])

    def test_an_analysis_of_which_nothing_could_be_computed_has_a_place_for_everything(self) -> None:
        book = strip()
        failed = present_failure(book, CoreError("ended", "It was ended."))
        self.assertEqual((failed.trouble and failed.trouble.code, len(failed.stages)), ("ended", 9))
        for path, count in (
            ("runs.columns", len(book.quantities)), ("graphs", len(book.graphs)), ("fits", len(book.fits)),
            ("findings", len(book.findings)),
        ):  # fmt: skip
            self.assertEqual((len(items_at(failed, path)), codes_at(failed, path)), (count, {"ended"}))
        self.assertEqual(len(failed.runs[0].columns[0].cells), len(book.runs[0].settings))


class Ends(unittest.TestCase):
    """Slips that used to go on for ever, or to fall over."""

    def setUp(self) -> None:
        look_over(StrictWatch())
        self.addCleanup(look_over, Watch())
        self.enterContext(np.errstate(all="ignore"))

    def test_an_overhang_of_300_in_place_of_0_300(self) -> None:
        books = demo_books()
        for bench, text in (("Plover", "300"), ("Curlew", "50"), ("Knot", "310")):
            book = next(b for name, b in books.items() if name.endswith(bench) and name.startswith(strip().title[:14]))
            with self.subTest(bench):
                analysis = analyse(with_reading(book, 0, 0, "L", 0, text))
                self.assertIsNone(analysis.trouble)
                self.assertEqual(codes_at(analysis, "runs.columns"), set())

    def test_extreme_lines_of_points_far_apart_are_those_of_a_linear_programme(self) -> None:
        dice = np.random.default_rng(4)
        for _ in range(60):
            n = int(dice.integers(3, 9))
            x = np.sort(dice.uniform(0.2, 0.7, n)) * 10.0 ** dice.integers(-3, 4, n)
            y = 2.0 * x + 0.3
            uy, ux = 0.01 * np.abs(y) + 0.001, 0.001 * np.abs(x)
            found = find_extreme_lines(x, y, uy, ux)
            # all bars held for m ≥ 0: m x + c ≤ y + uy + m ux, and ≥ y − uy − m ux (SciPy's linprog, HiGHS)
            above = np.column_stack([x - ux, np.ones(n)])
            below = -np.column_stack([x + ux, np.ones(n)])
            best = [
                linprog([sign, 0.0], np.vstack([above, below]), np.concatenate([y + uy, -(y - uy)]), bounds=[(0, None), (None, None)]).x[0]
                for sign in (-1.0, 1.0)
            ]
            np.testing.assert_allclose([found.steepest.gradient, found.shallowest.gradient], best, rtol=1e-6)

    def test_joined_symbols_are_parted_in_time(self) -> None:
        self.assertIsNone(split_symbols("p" * 200 + "q", {"p", "pp", "ppp"}))
        self.assertEqual(split_symbols("ppppp", {"p", "pp", "ppp"}), ["ppp", "pp"])
        self.assertEqual(symbols_in(read_formula("mvp", {"m", "v", "p"})), {"m", "v", "p"})

    def test_numbers_of_many_digits_are_written(self) -> None:
        self.assertEqual(round_result(1e30, 1.0, power="none").value_text, "1" + "0" * 30 + ".0")
        self.assertEqual(write_decimals(1e40, 0.5, 3)[0], "1" + "0" * 40 + ".000")
        with self.assertRaises(CoreError):
            write_number(math.nan)

    def test_exponents_that_are_none_and_numbers_beyond_measure(self) -> None:
        for text in ("2×10²⁻", "2×10⁻", "1e400", "1e101", "9" * 55 + "e60"):
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                parse_reading(text, "m")
            self.assertEqual(caught.exception.code, "bad_number")
        self.assertEqual(float(parse_reading("2×10⁻²", "m").value), 0.02)

    def test_points_that_all_lie_on_the_line_pull_nothing(self) -> None:
        exact = lab_book([(str(i), [str(2 * i)]) for i in range(1, 7)])
        exact = replace(exact, quantities=tuple(replace(q, instrument=None) for q in exact.quantities))
        fit = compute(exact).book.fits[0].id
        with self.assertRaisesRegex(CoreError, "lies on the line"):
            find_pulls(compute(exact), fit)

    def test_a_constant_whose_u_is_a_power_of_ten_can_be_known_better(self) -> None:
        book = strip()
        thick = next(q for q in book.quantities if q.kind == "constant" and q.u.strip())
        written = f"{float(thick.u) * 100:g}×10^-2"
        changed = replace(book, quantities=tuple(replace(q, u=written) if q.id == thick.id else q for q in book.quantities))
        words = [[told(i.words) for i in find_improvements(compute(b), book.findings[0].id)] for b in (book, changed)]
        self.assertEqual(*words)

    def test_an_error_that_is_kept_lets_go_of_what_was_being_worked_out(self) -> None:
        """Or a cache of mistyped readings would hold every lab book that has had one."""
        book = with_reading(strip(), 0, 2, "t10", 0, "6l57")
        broken = replace(book, quantities=tuple(replace(q, formula="t_10 +") if q.id == "T" else q for q in book.quantities))
        analyse(broken)
        done = compute(broken)
        columns = done.seen.columns.values()
        states = [s for c in columns for row in c.readings for s in row]
        kept: list[object] = [s.trouble for s in states] + [c.trouble for c in columns]
        kept += [*done.points.values(), *done.fits.values(), *done.findings.values()]
        errors = [e for e in kept if isinstance(e, CoreError)]
        self.assertGreater(len(errors), 5)
        self.assertEqual([e for e in errors if e.__traceback__ or e.__context__ or e.__cause__], [])

    def test_nothing_is_left_that_only_a_circle_keeps(self) -> None:
        for book in (strip(), with_reading(strip(), 0, 2, "t10", 0, "6l57")):
            analyse(book)
            gc.collect()
            gc.disable()
            try:
                analyse(book)
                self.assertLess(gc.collect(), 20)
            finally:
                gc.enable()

    def test_x_and_y_from_the_same_readings_are_no_line(self) -> None:
        x = np.array([1.0, 2.0, 3.0, 4.0])
        with self.assertRaises(CoreError) as caught:
            fit_line(x, x, np.full(4, 0.1), np.full(4, 0.1), np.ones(4))
        self.assertEqual(caught.exception.code, "too_large")

    def test_a_form_whose_squares_are_beyond_computing_is_no_plot(self) -> None:
        x, y = np.arange(1.0, 8.0), np.array([1.0, 2.1, 2.9, 6e120, 5.1, 5.8, 7.2])
        with self.assertRaises(CoreError) as caught:
            fit_line(x, y**1.5)
        self.assertEqual(caught.exception.code, "too_large")
        plots = try_forms(x, y)
        self.assertTrue(plots)
        self.assertNotIn("v^2", {p.y_form.text for p in plots})

    def test_functions_in_headings_stand_upright_and_signs_stay(self) -> None:
        for text, tex in (
            ("sin(i)", r"\sin (i)"), ("cos(a)^2", r"\cos (a)^{2}"), ("ln(N)", r"\ln (N)"), ("log10(p)", r"\log_{10} (p)"),
            ("T_2-T_1", r"T_{2}-T_{1}"), ("exp(-x)", r"\exp (-x)"),
            # one sign has one subscript, or nothing sets it
            ("V_t_m3^2", r"V_{\mathrm{t,m3}}^{2}"), ("mid(t_10)", r"t_{\mathrm{10,mid}}"), ("x_1 y_2", "x_{1} y_{2}"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(symbol_expression_tex(text), tex)
        self.assertEqual(plain_text(rich_symbol("V_t_m3")), "V_t_m3", "as it is typed between braces")

    def test_no_tex_has_a_bare_root_sign(self) -> None:
        for text, tex in (
            ("sqrt(h)", r"\sqrt{h}"), ("sqrt(h_0/g)", r"\sqrt{h_{0}/g}"), ("1/sqrt(T)", r"1/\sqrt{T}"),
            ("sqrt(h) + sqrt(a", r"\sqrt{h} + \sqrt{(}a"),
            ("sqrt(sqrt(x))", r"\sqrt{\sqrt{x}}"), ("√h", r"\sqrt{h}"),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(symbol_expression_tex(text), tex)
        self.assertEqual(tex_unit("√m/s"), r"\ \sqrt{\mathrm{m}}/\mathrm{s}")
        for name, book in demo_books().items():
            with self.subTest(name):
                self.assertNotIn("surd", json.dumps(PLAIN.dump_python(analyse(book), mode="json")))
