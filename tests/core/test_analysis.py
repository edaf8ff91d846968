"""The whole chain on lab books small enough to follow by hand, and the demo's finding by an independent calculation."""

from __future__ import annotations

import json
import math
import random
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from scipy.optimize import curve_fit
from uncertainties import ufloat

from hobrel.core.document.lab_book import (
    Accepted,
    ByEye,
    Convention,
    Finding,
    Fit,
    Graph,
    LabBook,
    Quantity,
    Reading,
    Run,
    Setting,
    lab_book_schema,
    read_lab_book,
    write_lab_book,
)
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.sentences import told
from hobrel.shelf.clamped_strip import LOAD, THICKNESS, WIDTH, Story, make_plan, write_bench
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
        self.assertEqual((column.cells[4].value_text, column.cells[4].u_text, column.cells[4].kept), ("5.00", "0.01", 1))
        self.assertIsNone(column.cells[5].value)
        self.assertEqual([n.repeat for n in column.notes], [2])
        self.assertIn("not a number", told(column.notes[0].trouble))
        self.assertIn("not_a_number", [s.kind for s in result.slips])

    def test_a_set_aside_setting_stays_on_the_page_and_out_of_the_line(self) -> None:
        book = lab_book([*ROWS, ("0.500", ["9.00", "9.01", "9.02"])])
        spoiled, mended = analyse(book), analyse(with_aside(book, 4, "the clamp slipped"))
        self.assertEqual((spoiled.fits[0].n, mended.fits[0].n), (5, 4))
        self.assertEqual(mended.runs[0].columns[1].cells[4].value_text, "9.01")
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
        by_constant = next(b.contribution for b in found.budget if b.symbols == ("c",))
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

    def test_a_station_counts_troubles_not_what_is_still_to_come(self) -> None:
        """Nothing before the first reading, nothing for a formula that is to be written, and what needs a broken quantity is no second."""
        waiting = [Quantity("a", "derived", "a", "a", formula=""), Quantity("b", "derived", "b", "b", formula="a^2")]
        broken = [Quantity("c", "derived", "c", "c", formula="x + y"), Quantity("d", "derived", "d", "d", formula="2 c")]
        for rows, derived, state, count in (
            ([], broken, "not_opened", 0),
            (ROWS, waiting, "in_progress", 0),
            (ROWS, broken, "in_progress", 1),
            ([*ROWS, ("0.500", ["5.00"])], [], "done", 0),
        ):
            with self.subTest(count=count, derived=derived):
                average = next(m for m in analyse(lab_book(rows, derived)).stages if m.stage == "average")
                self.assertEqual((average.state, average.slips), (state, count))

    def test_what_hinders_a_line_is_no_lack_of_points(self) -> None:
        """Five points of which one alone has a ±: the card says why, and the station that there is no line yet."""
        quantities = (Quantity("x", "changed", "x", "x", "m"), Quantity("y", "measured", "y", "y", "s"))
        texts = ("1.0", "2.1", "2.9", "4.0 ± 0.1", "5.1")
        settings = tuple(Setting(f"s{i}", {"x": (Reading(str(i)),), "y": (Reading(text),)}) for i, text in enumerate(texts))
        book = LabBook("", quantities=quantities, runs=(Run("r", "", settings),), graphs=(Graph("g", "", "x", "y"),), fits=(Fit("f", "g"),))
        for few, words in ((5, "no line yet"), (2, "needs points")):
            runs = (replace(book.runs[0], settings=settings[-few:]),)
            fit = next(m for m in analyse(replace(book, runs=runs)).stages if m.stage == "fit")
            self.assertEqual([w.text for w in fit.words], [words])

    def test_a_finding_stands_in_one_line_of_its_station(self) -> None:
        """With its ± where there is room; a power of ten is not cut off."""
        finding = Finding("A", "A", "A", "s/m", "k gradient", "f")
        for k, words in (("1", r"^A = [\d.]+ ± [\d.]+ s/m$"), ("70000", r"^A = [\d.]+ × 10⁵ s/m$")):
            with self.subTest(k):
                constant = Quantity("k", "constant", "factor", "k", "", value=k)
                stations = analyse(lab_book(ROWS, [], [constant], [finding])).stages
                self.assertRegex(next(told(m.words) for m in stations if m.stage == "find"), words)

    def test_nothing_that_is_not_a_number_reaches_the_page(self) -> None:
        """Every number of the analysis survives JSON without NaN."""
        from dataclasses import asdict

        books = [lab_book(ROWS), lab_book([("0", ["0", "0", "0"])] * 4), lab_book([(f"0.{i}00", ["1.00"]) for i in range(1, 5)])]
        for book in books:
            json.dumps(asdict(analyse(book)), allow_nan=False)


class Demo(unittest.TestCase):
    """E of a demo bench, by SciPy's curve_fit and the `uncertainties` package instead of our own fit and propagation."""

    def test_the_finding(self) -> None:
        plan = make_plan()
        book = write_bench(plan, Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(7))
        book = replace(book, fits=(replace(book.fits[0], weights="y_bars"),))
        found = compute(book).findings["E"]
        assert isinstance(found, ComputedFinding)
        # weighed by the spread that all settings show together: of three repeats one by one it is known to half of itself only
        spread = math.sqrt(np.mean([np.var([float(r.text) for r in s.readings["t10"] if r], ddof=1) for s in book.runs[0].settings]))
        x, y, uy = [], [], []
        for setting in book.runs[0].settings:
            times = [float(r.text) for r in setting.readings["t10"] if r]
            length = setting.readings["L"][0]
            assert length is not None
            period, u = np.mean(times) / 10, spread / math.sqrt(3) / 10
            x.append(float(length.text) ** 3)
            y.append(period**2)
            uy.append(2 * period * u)
        best, covariance = curve_fit(lambda a, m, c: m * a + c, x, y, sigma=uy, absolute_sigma=True)
        left = (np.array(y) - best[0] * np.array(x) - best[1]) / np.array(uy)
        gradient = ufloat(best[0], math.sqrt(covariance[0][0] * max(1.0, float(left @ left) / (len(x) - 2))))
        modulus = 16 * math.pi**2 * ufloat(LOAD, 0.001) / (ufloat(WIDTH, 0.0001) * ufloat(THICKNESS, 0.00002) ** 3 * gradient) / 1e9
        self.assertAlmostEqual(found.value, modulus.n, places=5)
        self.assertAlmostEqual(found.u, modulus.s, places=6)
        # the strip was made with 12.4 GPa: a believable bench comes within three of its own uncertainties
        self.assertLess(abs(found.value - 12.4), 3 * found.u)

    def test_the_comparison(self) -> None:
        book = write_bench(make_plan(), Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(7))
        book = replace(book, findings=(replace(book.findings[0], accepted=Accepted("24.8", "0.3", "elsewhere")),))
        result = analyse(book).findings[0]
        self.assertEqual(result.verdict, "differ")
        self.assertIn("% below", told(result.comparison))


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
        self.assertIn(r"\frac{1.02 + 1.00 + 1.01}{3} = 1.01\ ", working.lines[0].tex)
        self.assertEqual(working.result, "y = 1.01 ± 0.01 s")

    def test_what_is_gone_is_said(self) -> None:
        computation = compute(lab_book(ROWS))
        for target in ("cell:run1:gone:y", "cell:run1:s1:gone", "fit:gone:gradient", "fit:f:colour", "finding:gone", "nonsense"):
            with self.subTest(target), self.assertRaises(CoreError):
                explain(computation, target)


class Shapes(unittest.TestCase):
    """Fits that are not a line, extreme lines and a line by eye, through the whole chain."""

    def power_book(self, **fit: object) -> LabBook:
        """y = 3 s/m^1.5 · x^1.5 to two decimals."""
        rows = [(f"{x:.3f}", [f"{3 * x**1.5 + d:.2f}" for d in (0.0, 0.01, -0.01)]) for x in (0.5, 0.8, 1.1, 1.4, 1.7, 2.0, 2.4)]
        book = lab_book(rows, findings=[Finding("n", "exponent", "n", "", "n", "f", Accepted("1.5", "0", "theory"))])
        return replace(book, fits=(replace(book.fits[0], **fit),))  # type: ignore[arg-type]

    def test_a_power_fit_gives_its_exponent_as_a_finding(self) -> None:
        result = analyse(self.power_book(shape="power"))
        card, finding = result.fits[0], result.findings[0]
        self.assertEqual([p.name for p in card.parameters], ["a", "n"])
        values = [p.value for p in card.parameters]
        assert values[0] is not None and values[1] is not None and finding.value is not None
        self.assertAlmostEqual(values[0].value, 3.0, delta=0.02)
        self.assertEqual(values[0].text.split()[-1], "s")
        self.assertEqual(finding.verdict, "agree")
        self.assertEqual(result.tokens["n"], finding.value.text)
        figure = result.graphs[0].figure
        assert figure is not None
        self.assertGreater(len(figure.lines[0].x), 100)
        self.assertIn("Power", explain(compute(self.power_book(shape="power")), "fit:f:n").lines[0].words[0].text)

    def test_parameters_have_units(self) -> None:
        cases = [
            ("quadratic", ["s/m²", "s/m", "s"]),
            ("exponential", ["s", "m⁻¹"]),
            ("square_root", ["s/√m"]),
            ("saturation", ["s", "m"]),
        ]
        for shape, units in cases:
            with self.subTest(shape):
                found = analyse(self.power_book(shape=shape)).fits[0].parameters
                self.assertEqual([p.value.text.split(" ")[-1] for p in found if p.value], units)

    def test_a_fit_that_does_not_fit_is_marked_doubtful(self) -> None:
        straight = lab_book([(f"{x:.3f}", [f"{2 * x + d:.2f}" for d in (0.03, -0.03)]) for x in (0.5, 1.0, 1.5, 2.0, 2.5, 3.0)])
        self.assertFalse(analyse(straight).fits[0].is_doubtful)
        self.assertTrue(analyse(self.power_book()).fits[0].is_doubtful)
        self.assertFalse(analyse(self.power_book(shape="power")).fits[0].is_doubtful)

    def test_an_own_formula_and_what_is_wrong_with_one(self) -> None:
        own = analyse(self.power_book(shape="own", formula="a x sqrt(x)", parameters=("a",))).fits[0]
        self.assertIsNone(own.trouble)
        wrong = analyse(self.power_book(shape="own", formula="a x +", parameters=("a",)))
        assert wrong.fits[0].trouble is not None
        self.assertEqual(wrong.fits[0].trouble.code, "bad_formula")
        self.assertIsNotNone(wrong.graphs[0].figure)

    def test_a_stretch_limits_the_fit_and_not_the_graph(self) -> None:
        result = analyse(self.power_book(low=0.7, high=1.8))
        figure = result.graphs[0].figure
        assert figure is not None
        self.assertEqual(result.fits[0].n, 4)
        self.assertEqual([p.residual is not None for p in figure.series[0].points], [False, True, True, True, True, False, False])

    def test_extreme_lines_are_on_the_card_or_say_what_blocks(self) -> None:
        straight = lab_book([(f"{x:.3f}", [f"{2 * x + d:.2f}" for d in (0.03, -0.03)]) for x in (0.5, 1.0, 1.5, 2.0, 2.5)])
        shown = analyse(replace(straight, fits=(replace(straight.fits[0], show_extremes=True),)))
        card, figure = shown.fits[0].extremes, shown.graphs[0].figure
        assert card is not None and card.gradient is not None and figure is not None
        # by hand: ±0.03 at both ends of 2.0 m (and ±0.0005 m · 2 in x) turn the line by 0.06/2 = 0.03, to one figure
        self.assertEqual((card.gradient.value_text, card.gradient.u_text), ("2.00", "0.03"))
        self.assertEqual([line.kind for line in figure.lines][-2:], ["steepest", "shallowest"])
        bent = analyse(self.power_book()).fits[0].extremes
        assert bent is not None
        self.assertIsNone(bent.gradient)
        self.assertIn("No line passes", told(bent.words))

    def test_a_line_by_eye_is_counted_and_never_corrected(self) -> None:
        rows = [(f"{x:.3f}", [f"{2 * x + d:.2f}" for d in (0.03, -0.03)]) for x in (0.5, 1.0, 1.5, 2.0)]
        book = lab_book(rows)
        book = replace(book, fits=(replace(book.fits[0], by_eye=ByEye(2.0, 0.05)),))
        card = analyse(book).fits[0].by_eye
        assert card is not None
        self.assertEqual((card.gradient, card.intercept, told(card.words)), ("2.000 s/m", "0.0500 s", "It touches 0 of 4 error bars."))

    def test_a_coefficient_that_is_only_rounding_reads_as_zero(self) -> None:
        exact = lab_book([(f"{x:.3f}", [f"{3 * x * x:.2f}"]) for x in (1.0, 2.0, 3.0, 4.0, 5.0)])
        found = analyse(replace(exact, fits=(replace(exact.fits[0], shape="quadratic", weights="none"),))).fits[0].parameters
        self.assertEqual([p.value.value_text for p in found if p.value][1:], ["0", "0"])
        self.assertEqual(told(found[1].words), "It is only rounding.")


class Documents(unittest.TestCase):
    def test_the_file_format_is_published_and_goes_round_exactly(self) -> None:
        """Through JSON text and back, twice; and the demo's books fit the JSON Schema that is published."""
        schema = lab_book_schema()
        self.assertEqual(schema["properties"]["version"]["const"], 1)
        self.assertEqual(json.loads((Path(__file__).parents[2] / "docs" / "lab-book.schema.json").read_text(encoding="utf-8")), schema)
        for seed in range(3):
            book = write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(seed))
            text = json.dumps(write_lab_book(book))
            self.assertEqual(read_lab_book(json.loads(text)), book)
            self.assertEqual(json.dumps(write_lab_book(read_lab_book(json.loads(text)))), text)

    def test_what_is_no_lab_book_is_refused_with_its_place(self) -> None:
        good = write_lab_book(make_plan())
        for change, place in (({"version": 2}, "version"), ({"quantities": 3}, "quantities"), ({"runs": [{"id": "a"}]}, "runs")):
            with self.subTest(place), self.assertRaises(CoreError) as caught:
                read_lab_book(good | change)
            self.assertIn(place, caught.exception.message)

    def test_two_of_one_id_are_refused(self) -> None:
        good = write_lab_book(write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(1)))
        for what in ("quantities", "graphs", "fits", "findings", "runs"):
            with self.subTest(what), self.assertRaisesRegex(CoreError, "same id"):
                read_lab_book(good | {what: [*good[what], good[what][0]]})
        run = good["runs"][0]
        with self.assertRaisesRegex(CoreError, "Two settings"):
            read_lab_book(good | {"runs": [run | {"settings": [*run["settings"], run["settings"][0]]}]})

    def test_an_instrument_without_a_number_costs_its_column(self) -> None:
        book = write_bench(make_plan(), Story((0.3, 0.4, 0.5)), random.Random(1))
        for text in ("nan", "", "1e400", "-1", "1_0"):
            broken = tuple(
                replace(q, instrument=replace(q.instrument, division=text)) if q.instrument and q.kind == "measured" else q
                for q in book.quantities
            )
            columns = {c.quantity: c for c in analyse(replace(book, quantities=broken)).runs[0].columns}
            with self.subTest(text):
                trouble = columns["t10"].trouble
                self.assertEqual(trouble.code if trouble else "", "bad_number")
                self.assertIsNone(columns["L"].trouble)
