"""The whole chain on lab books small enough to follow by hand, and the demo's finding by an independent calculation."""

from __future__ import annotations

import json
import math
import random
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import curve_fit
from uncertainties import ufloat

from hobrel.core.analysis import analyse, compute
from hobrel.core.documents import Accepted, Convention, Finding, LabBook, Quantity, read_lab_book, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.findings import ComputedFinding
from hobrel.core.lines import FittedLine
from hobrel.core.working import explain
from hobrel.demo.clamped_strip import LOAD, THICKNESS, WIDTH, Story, make_plan, write_bench
from tests.builders import lab_book, with_aside

ROWS = [
    ("0.100", ["1.02", "1.00", "1.01"]),
    ("0.200", ["2.03", "1.99", "2.00"]),
    ("0.300", ["2.98", "3.02", "3.00"]),
    ("0.400", ["4.00", "4.02", "3.97"]),
]


class Averages(unittest.TestCase):
    def test_mean_and_uncertainty_under_each_convention(self) -> None:
        # of 1.02, 1.00, 1.01 by hand: half range 0.01, s = 0.01, s/√3 = 0.00577; the display gives 0.01 or 0.005
        cases = [
            (Convention("half_range", "larger"), 0.01),
            (Convention("standard_error", "larger"), 0.01),
            (Convention("standard_error", "larger", display_half=True), 0.01 / math.sqrt(3)),
            (Convention("sd", "quadrature"), math.hypot(0.01, 0.01)),
            (Convention("mean_abs_deviation", "larger", display_half=True), 0.02 / 3),
            (Convention("largest_deviation", "larger", display_half=True), 0.01),
        ]
        for convention, u in cases:
            with self.subTest(convention):
                column = compute(lab_book(ROWS, convention=convention)).columns["run1"].columns["y"]
                mean = column.means[0]
                assert mean is not None
                self.assertAlmostEqual(mean.summary.mean, 1.01, places=14)
                self.assertAlmostEqual(mean.u, u, places=14)

    def test_blanks_and_wrong_text_break_nothing(self) -> None:
        result = analyse(lab_book([*ROWS, ("0.500", ["5.00", None, "five"]), ("", [None, None, None])]))
        column = result.runs[0].columns[1]
        self.assertEqual((column.cells[4].value_text, column.cells[4].u_text, column.cells[4].kept), ("5.000", "0.010", 1))
        self.assertIsNone(column.cells[5].value)
        self.assertEqual([n.repeat for n in column.notes], [2])
        self.assertIn("not a number", column.notes[0].trouble)
        self.assertIn("not_a_number", [s.kind for s in result.slips])

    def test_a_set_aside_setting_stays_on_the_page_and_out_of_the_line(self) -> None:
        book = lab_book([*ROWS, ("0.500", ["9.00", "9.01", "9.02"])])
        spoiled, mended = analyse(book), analyse(with_aside(book, 4, "the clamp slipped"))
        self.assertEqual((spoiled.fits[0].n, mended.fits[0].n), (5, 4))
        self.assertEqual(mended.runs[0].columns[1].cells[4].value_text, "9.010")
        figure = mended.graphs[0].figure
        assert figure is not None
        self.assertEqual([p.set_aside for p in figure.series[0].points], [False] * 4 + [True])

    def test_slips_are_pointed_out(self) -> None:
        rows = [*ROWS[:3], ("0.4000", ["4.00", "4.02", "7.39"])]
        found = {(s.kind, s.setting, s.repeat) for s in analyse(lab_book(rows)).slips}
        self.assertIn(("lone_repeat", "s4", 2), found)
        self.assertIn(("wrong_decimals", "s4", 0), found)


class Chain(unittest.TestCase):
    def test_a_broken_formula_leaves_the_rest_standing(self) -> None:
        derived = [
            Quantity("a", "derived", "a", "a", formula="y^2"),
            Quantity("b", "derived", "b", "b", formula="a +"),
            Quantity("c", "derived", "c", "c", formula="b x"),
        ]
        result = analyse(lab_book(ROWS, derived))
        troubles = {c.quantity: c.trouble for c in result.runs[0].columns}
        self.assertIsNone(troubles["a"])
        assert troubles["b"] is not None and troubles["c"] is not None
        self.assertEqual((troubles["b"].code, troubles["b"].at), ("bad_formula", 3))
        self.assertIn("c needs b", troubles["c"].message)
        self.assertIsNone(result.fits[0].trouble)

    def test_formulas_that_go_round_are_refused_by_name(self) -> None:
        derived = [Quantity("a", "derived", "a", "a", formula="b + 1"), Quantity("b", "derived", "b", "b", formula="a - 1")]
        trouble = analyse(lab_book(ROWS, derived)).runs[0].columns[2].trouble
        assert trouble is not None
        self.assertIn("round in a circle: a, b", trouble.message)

    def test_a_shared_constant_enters_the_finding_once_and_no_error_bar(self) -> None:
        """z = c y with c = 2.0 ± 0.2 has the gradient 2 dy/dx, uncertain by 10 % from c alone."""
        constant = Quantity("c", "constant", "factor", "c", "", value="2.0", u="0.2")
        derived = [Quantity("z", "derived", "z", "z", formula="c y")]
        finding = Finding("G", "gradient", "G", "s/m", "gradient", "f")
        computation = compute(lab_book(ROWS, derived, [constant], [finding], graph=("x", "z")))
        column, fitted, found = computation.columns["run1"].columns["z"], computation.fits["f"], computation.findings["G"]
        assert isinstance(fitted, FittedLine) and isinstance(found, ComputedFinding)
        self.assertAlmostEqual(float(column.u[0]), 2 * 0.01, places=12)
        by_constant = next(b.contribution for b in found.budget if b.key == "constant:c")
        self.assertAlmostEqual(by_constant / found.value, 0.1, places=5)
        self.assertAlmostEqual(found.u, math.hypot(fitted.line.u_gradient, by_constant), places=12)

    def test_too_few_points_is_said_not_computed(self) -> None:
        result = analyse(lab_book(ROWS[:2]))
        trouble = result.fits[0].trouble
        assert trouble is not None
        self.assertEqual(trouble.code, "too_few_points")
        self.assertIsNotNone(result.graphs[0].figure)

    def test_an_empty_book_is_analysed_too(self) -> None:
        for book in (LabBook(title="Nothing"), make_plan(), lab_book([])):
            with self.subTest(book.title):
                self.assertEqual(len(analyse(book).stages), 9)

    def test_nothing_that_is_not_a_number_reaches_the_page(self) -> None:
        """Every number of the analysis survives JSON without NaN."""
        from dataclasses import asdict

        books = [lab_book(ROWS), lab_book([("0", ["0", "0", "0"])] * 4), lab_book([(f"0.{i}00", ["1.00"]) for i in range(1, 5)])]
        for book in books:
            json.dumps(asdict(analyse(book)), allow_nan=False)


class Documents(unittest.TestCase):
    def test_round_trip_is_exact(self) -> None:
        book = with_aside(write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(1)), 1, "slipped")
        self.assertEqual(read_lab_book(json.loads(json.dumps(write_lab_book(book)))), book)

    def test_what_is_not_a_lab_book_says_where(self) -> None:
        with self.assertRaises(CoreError) as caught:
            read_lab_book({"title": "x", "runs": [{"id": 1}]})
        self.assertIn("runs › 0", caught.exception.message)


class Demo(unittest.TestCase):
    """E of a demo bench, by SciPy's curve_fit and the `uncertainties` package instead of our own fit and propagation."""

    def test_the_finding(self) -> None:
        plan = make_plan()
        book = write_bench(plan, Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(7))
        book = replace(book, fits=(replace(book.fits[0], weights="y_bars"),))
        found = compute(book).findings["E"]
        assert isinstance(found, ComputedFinding)
        x, y, uy = [], [], []
        for setting in book.runs[0].settings:
            times = [float(r.text) for r in setting.readings["t10"] if r]
            length = setting.readings["L"][0]
            assert length is not None
            period, u = np.mean(times) / 10, max((max(times) - min(times)) / 2, 0.01) / 10
            x.append(float(length.text) ** 3)
            y.append(period**2)
            uy.append(2 * period * u)
        best, covariance = curve_fit(lambda a, m, c: m * a + c, x, y, sigma=uy, absolute_sigma=True)
        gradient = ufloat(best[0], math.sqrt(covariance[0][0]))
        modulus = 16 * math.pi**2 * ufloat(LOAD, 0.001) / (ufloat(WIDTH, 0.0001) * ufloat(THICKNESS, 0.00002) ** 3 * gradient) / 1e9
        self.assertAlmostEqual(found.value, modulus.n, places=6)
        self.assertAlmostEqual(found.u, modulus.s, places=6)
        # the strip was made with 12.4 GPa: a believable bench comes within three of its own uncertainties
        self.assertLess(abs(found.value - 12.4), 3 * found.u)

    def test_the_comparison(self) -> None:
        book = write_bench(make_plan(), Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(7))
        book = replace(book, findings=(replace(book.findings[0], accepted=Accepted("24.8", "0.3", "elsewhere")),))
        result = analyse(book).findings[0]
        self.assertEqual(result.verdict, "differ")
        self.assertIn("% below", result.comparison)


class Workings(unittest.TestCase):
    def test_every_number_has_one_down_to_the_readings(self) -> None:
        book = write_bench(make_plan(), Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(7))
        computation = compute(book)
        for target in (
            "cell:run1:s3:L",
            "cell:run1:s3:t10",
            "cell:run1:s3:T2",
            "fit:line:gradient",
            "fit:line:intercept",
            "fit:line:chi2",
            "fit:line:r2",
            "fit:line:within",
        ):
            with self.subTest(target):
                working = explain(computation, target)
                self.assertTrue(working.lines)
                self.assertTrue(working.readings)
        finding = explain(computation, "finding:E")
        self.assertEqual([o.target for o in finding.onward], ["fit:line:gradient"])
        self.assertAlmostEqual(sum(b.share for b in finding.budget), 1.0)

    def test_the_mean_is_told_as_it_is_made(self) -> None:
        working = explain(compute(lab_book(ROWS)), "cell:run1:s1:y")
        self.assertIn(r"\frac{1.02 + 1.00 + 1.01}{3} = 1.010", working.lines[0].tex)
        self.assertEqual(working.result, "y = 1.010 ± 0.010 s")

    def test_what_is_gone_is_said(self) -> None:
        computation = compute(lab_book(ROWS))
        for target in ("cell:run1:gone:y", "cell:run1:s1:gone", "fit:gone:gradient", "fit:f:colour", "finding:gone", "nonsense"):
            with self.subTest(target), self.assertRaises(CoreError):
                explain(computation, target)
