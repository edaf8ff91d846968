"""Findings of means, read-offs, slopes and one another, against the `uncertainties` package, NumPy and published values."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from uncertainties import ufloat

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, Ingredient, LabBook, Quantity, Reading, Run, Setting, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.comparing import compare_intercept
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding, compute_finding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.side_by_side import compare_gradients, compare_runs
from hobrel.core.questions.improvements import find_improvements, preview_finding
from hobrel.core.sentences import told
from hobrel.core.uncertainty.traced import combine_quadrature
from tests.builders import lab_book

SE = Convention("standard_error", "quadrature", display_half=True)
MASS = Quantity("m", "constant", "mass", "m", "kg", value="2.00", u="0.05")


def pairs(*rows: tuple[float, float]) -> list[tuple[str, list[str | None]]]:
    return [(f"{x:.3f}", [f"{y:.2f}"]) for x, y in rows]


def found(book: LabBook, finding: str) -> ComputedFinding:
    computed = compute(book).findings[finding]
    assert isinstance(computed, ComputedFinding), computed
    return computed


def written(x: list[float], y: list[float], ux: list[float] | None = None, uy: list[float] | None = None, **more: object) -> LabBook:
    """A lab book with each reading's own ± written with it, where given; no instruments and no units."""
    columns = [(x, ux), (y, uy)]
    texts = [[str(v) if us is None else f"{v} ± {us[i]}" for i, v in enumerate(vs)] for vs, us in columns]
    settings = tuple(Setting(f"s{i}", {"x": (Reading(a),), "y": (Reading(b),)}) for i, (a, b) in enumerate(zip(*texts, strict=True)))
    return replace(
        LabBook(
            "Written", quantities=(Quantity("x", "changed", "x", "x"), Quantity("y", "measured", "y", "y")),
            runs=(Run("r", "Run", settings),), graphs=(Graph("g", "", "x", "y"),), fits=(Fit("f", "g"),),
        ),
        **more,  # type: ignore[arg-type]
    )  # fmt: skip


class Means(TestCase):
    ROWS = pairs((0.1, 5.01), (0.2, 5.03), (0.3, 4.99), (0.4, 7.0), (0.5, 8.02), (0.6, 8.05), (0.7, 7.98))

    def book(self, *findings: Finding) -> LabBook:
        return lab_book(self.ROWS, constants=[MASS], findings=findings, convention=SE)

    def test_a_difference_of_two_stretches_with_what_they_share(self) -> None:
        """The mean of a stretch is made like that of repeats, what its values carry going down with their number; a shared constant is
        counted once in what is made of both.
        """
        level = [Ingredient("y_1", "mean", "y", high=0.3), Ingredient("y_2", "mean", "y", low=0.5)]
        rise = Finding("rise", "rise", "P", "kg s", "m (y_2 - y_1)", uses=tuple(level))
        whole = Finding("whole", "whole", "W", "kg s", "m y_2", uses=(level[1],), compare=("rise",))
        book = self.book(rise, whole)

        def stretch(*values: float) -> object:
            scatter = float(np.std(values, ddof=1)) / math.sqrt(len(values))
            return ufloat(float(np.mean(values)), math.hypot(scatter, 0.005 / math.sqrt(len(values))))

        m, before, after = ufloat(2.0, 0.05), stretch(5.01, 5.03, 4.99), stretch(8.02, 8.05, 7.98)
        expected = m * (after - before)  # type: ignore[operator]
        computed = found(book, "rise")
        self.assertAlmostEqual(computed.value, expected.n, 12)
        self.assertAlmostEqual(computed.u, expected.s, 12)
        beside = found(book, "whole").compared[0].comparison
        assert not isinstance(beside, CoreError)
        difference = m * after - expected  # type: ignore[operator]
        self.assertAlmostEqual(beside.difference, difference.n, 12)
        self.assertAlmostEqual(beside.u, difference.s, 12)
        self.assertIn("mean of y, from the start to 0.3 m (3 values)", [u.words for u in analyse(book).findings[0].used])

    def test_what_cannot_be_made_is_said(self) -> None:
        cases = [
            (Ingredient("q", "mean", "y", low=3.0), "no value of y in this stretch"),
            (Ingredient("q", "mean", "m"), "is the same for all settings"),
            (Ingredient("q", "mean", "gone"), "no longer in the lab book"),
            (Ingredient("q", "fit", "f", "slope"), "it has gradient and intercept"),
            (Ingredient("q", "fit", "gone", "gradient"), "fit is no longer"),
            (Ingredient("q", "read_forward", "f", at="far"), "not a number"),
            (Ingredient("q", "read_back", "f", at="5 m"), "does not fit it"),
            (Ingredient("q", "unknown", "f", "u9"), "no longer in the list"),
            (Ingredient("q", "area", "g", low=5.0), "needs 2 or more points"),
            (Ingredient("q", "finding", "w"), "go round in a circle"),
        ]
        for ingredient, message in cases:
            with self.subTest(message):
                result = analyse(self.book(Finding("w", "w", "w", "", "q", uses=(ingredient,)))).findings[0]
                self.assertIsNone(result.value)
                self.assertIn(message, result.trouble.message if result.trouble else "")

    def test_a_number_of_a_fit_that_none_is_named_for_is_asked_for(self) -> None:
        for name in ("gradient", "slope", "intercept"):
            with self.subTest(name):
                trouble = analyse(self.book(Finding("w", "w", "w", "", f"2 {name}"))).findings[0].trouble
                assert trouble is not None
                self.assertTrue(trouble.message.startswith(f"The {name} is a number of a fit. Add it"), trouble.message)
        named = Ingredient("slope", "fit", "f", "gradient")
        self.assertIsNotNone(analyse(self.book(Finding("w", "w", "w", "", "2 slope", uses=(named,)))).findings[0].value)
        self.assertIsNotNone(analyse(self.book(Finding("w", "w", "w", "", "2 slope", "f"))).findings[0].value)

    def test_a_draft_is_shown_and_the_book_stays(self) -> None:
        computation = compute(self.book())
        draft = Finding("draft", "this", "w", "", "m y_1", uses=(Ingredient("y_1", "mean", "y"),))
        shown = preview_finding(computation, draft)
        self.assertEqual(shown.unit, "kg s")
        self.assertEqual(computation.book.findings, ())


class ReadOffs(TestCase):
    X, Y = [1.0, 2.0, 3.0, 4.0, 5.0], [2.1, 3.9, 6.2, 7.8, 10.1]

    def test_forward_and_back_hang_together_with_gradient_and_intercept(self) -> None:
        """A value read off a line, less the same made from its gradient and intercept, is zero without any uncertainty."""
        uses = (
            Ingredient("r", "read_forward", "f", at="2.5"),
            Ingredient("m", "fit", "f", "gradient"),
            Ingredient("c", "fit", "f", "intercept"),
        )
        book = written(
            self.X, self.Y, findings=(Finding("w", "w", "w", "", "r - m 2.5 - c", uses=uses), Finding("r", "r", "r", "", "r", uses=uses))
        )
        self.assertAlmostEqual(found(book, "w").value, 0.0, 12)
        self.assertAlmostEqual(found(book, "w").u, 0.0, 9)
        slope, covariance = np.polyfit(self.X, self.Y, 1, cov=True)
        at = np.array([2.5, 1.0])
        self.assertAlmostEqual(found(book, "r").value, float(at @ slope), 12)
        self.assertAlmostEqual(found(book, "r").u, math.sqrt(float(at @ covariance @ at)), 9)

    def test_an_unknown_is_read_back_as_published(self) -> None:
        """J. N. Miller and J. C. Miller, Statistics for Analytical Chemistry, chapter 5 (from memory): 13.5 gives 6.21 ± 0.24, and
        ± 0.14 as the mean of four readings.
        """
        x, y = [0.0, 2.0, 4.0, 6.0, 8.0, 10.0, 12.0], [2.1, 5.0, 9.0, 12.6, 17.3, 21.0, 24.7]
        four = Unknown("u2", "four times", ("13.4", "13.5", "13.5", "13.6"))
        unknowns = (Unknown("u1", "once", ("13.5",)), four, Unknown("u3", "far", ("40",)), Unknown("u4", "odd", ("x",)))
        uses = (Ingredient("q", "unknown", "f", "u2"),)
        book = written(x, y, fits=(Fit("f", "g", unknowns=unknowns),), findings=(Finding("w", "w", "w", "", "2 q", uses=uses),))
        once, often, far, odd = analyse(book).fits[0].unknowns
        self.assertEqual(once.value and once.value.text, "6.2 ± 0.2")
        self.assertAlmostEqual((once.value and once.value.u) or 0, 0.23975422270299082, 9)
        self.assertAlmostEqual((often.value and often.value.u) or 0, 0.1406133618137565, 9)
        self.assertAlmostEqual(found(book, "w").u, 2 * 0.1406133618137565, 9)
        self.assertTrue(far.extrapolated)
        self.assertIn("not a number", told(odd.words))

    def test_with_bars_the_unknown_has_its_own(self) -> None:
        unknown = Unknown("u", "stack", ("6.0", "6.2"))
        book = written(self.X, self.Y, uy=[0.2] * 5, fits=(Fit("f", "g", unknowns=(unknown,)),), convention=SE)
        gradient, covariance = np.polyfit(self.X, self.Y, 1, w=[5.0] * 5, cov="unscaled")
        x0 = (6.1 - gradient[1]) / gradient[0]
        at = np.array([x0, 1.0])
        own = math.hypot(0.1, 0.2)
        expected = math.sqrt(own**2 + float(at @ covariance @ at)) / gradient[0]
        value = analyse(book).fits[0].unknowns[0].value
        assert value is not None and value.u is not None
        self.assertAlmostEqual(value.u, expected, 9)


class Slopes(TestCase):
    def test_slopes_of_a_curve_move_together(self) -> None:
        """A line through the slopes of a fitted parabola has twice its leading coefficient for a gradient, ± included (calculus)."""
        x = [0.5, 1.0, 1.5, 2.0, 2.5, 3.0]
        y = [1.30, 2.02, 3.28, 5.05, 7.21, 9.97]
        book = written(
            x, y, uy=[0.05] * 6,
            quantities=(
                Quantity("x", "changed", "time", "x"), Quantity("y", "measured", "place", "y"),
                Quantity("v", "derived", "speed", "v", tangent_of="f"), Quantity("v2", "derived", "speed doubled", "w", formula="2 v"),
            ),
            graphs=(Graph("g", "", "x", "y"), Graph("h", "", "x", "v2")), fits=(Fit("f", "g", shape="quadratic"), Fit("k", "h")),
            findings=(
                Finding("acc", "a", "a_1", "", "gradient/4", "k", compare=("lead",)), Finding("lead", "a", "a_2", "", "a", "f"),
            ),
        )  # fmt: skip
        (a, b, _), covariance = np.polyfit(x, y, 2, w=[20.0] * 6, cov="unscaled")
        slopes = next(c for c in analyse(book).runs[0].columns if c.quantity == "v").cells
        for place, cell in zip(x, slopes, strict=True):
            g = np.array([2 * place, 1.0, 0.0])
            self.assertAlmostEqual(cell.value or 0, 2 * a * place + b, 6)
            self.assertAlmostEqual(cell.u or 0, math.sqrt(float(g @ covariance @ g)), 6)
        acceleration = found(book, "acc")
        self.assertAlmostEqual(acceleration.value, a, 6)
        self.assertAlmostEqual(acceleration.u, math.sqrt(covariance[0, 0]), 5)
        self.assertLess(abs(acceleration.compared[0].value - acceleration.value), 1e-6)

    def test_a_slope_of_itself_is_refused(self) -> None:
        quantities = (
            Quantity("x", "changed", "x", "x"),
            Quantity("y", "measured", "y", "y"),
            Quantity("v", "derived", "v", "v", tangent_of="f"),
        )
        book = written([1, 2, 3, 4], [1, 2, 3, 5], quantities=quantities, graphs=(Graph("g", "", "x", "v"),))
        column = next(c for c in analyse(book).runs[0].columns if c.quantity == "v")
        self.assertIn("There is no curve yet", column.trouble.message if column.trouble else "")


class Written(TestCase):
    """York's data, K. Pearson's points with D. York's weights: D. York et al., Am. J. Phys. 72, 367 (2004), table II."""

    X, Y = [0.0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4], [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5]
    WX, WY = [1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1], [1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500]

    def test_readings_with_their_own_bars_give_yorks_line(self) -> None:
        ux, uy = ([round(1 / math.sqrt(w), 9) for w in ws] for ws in (self.WX, self.WY))
        card = analyse(written(self.X, self.Y, ux, uy)).fits[0]
        assert card.gradient is not None and card.intercept is not None
        self.assertAlmostEqual(card.gradient.value, -0.480533, 6)
        self.assertAlmostEqual(card.intercept.value, 5.479910, 5)
        # from the bars 0.057985, times √χ²ν = √1.4833 for how the points scatter about the line
        self.assertAlmostEqual(card.gradient.u or 0, 0.057985 * math.sqrt(1.4833), 4)
        self.assertAlmostEqual(card.intercept.u or 0, 0.294971 * math.sqrt(1.4833), 3)
        self.assertEqual(card.gradient.text, "−0.48 ± 0.07")
        self.assertIn("from how the points scatter", told(card.method))


class Improvements(TestCase):
    ROWS = pairs(*((0.1 * i, 0.2 * i + 0.01 * (-1) ** i) for i in range(1, 9)))

    def gains(self, book: LabBook, finding: str = "w") -> dict[str, float]:
        return {told(i.words): i.gain for i in find_improvements(compute(book), finding)}

    def test_what_would_help_is_computed_again(self) -> None:
        """With u only in y a line's gradient is uncertain as 1/(√N · range); half a constant's ± is half of its part."""
        rows = [(x, [f"{y[0]} ± 0.02"]) for x, y in self.ROWS]
        book = lab_book(rows, constants=[MASS], findings=[Finding("w", "w", "w", "", "m gradient", "f")])
        exact = replace(book, quantities=tuple(replace(q, instrument=None) for q in book.quantities))
        alone = replace(exact, findings=(Finding("w", "w", "w", "", "gradient", "f"),))
        gains = self.gains(alone)
        self.assertAlmostEqual(gains["twice as many settings over the same range"], 1 - 1 / math.sqrt(2), 9)
        self.assertAlmostEqual(gains["a range of x twice as long"], 0.5, 9)
        computed = found(exact, "w")
        parts = {line.symbols[0]: line.contribution for line in computed.budget}
        expected = 1 - math.hypot(parts["m"] / 2, parts["gradient"]) / computed.u
        self.assertAlmostEqual(self.gains(exact)["mass (m) known twice as well"], expected, 9)

    def test_a_class_that_draws_is_told_the_shares_of_first_order(self) -> None:
        """m times a gradient, m = 2.0 ± 0.3: each way's own ± less the share by which first order's shrinks when m is known better."""
        mass = replace(MASS, value="2.0", u="0.3")
        words = "mass (m) known twice as well"
        book = lab_book(self.ROWS, constants=[mass], findings=[Finding("w", "w", "w", "", "m gradient", "f")])
        ways: tuple[tuple[WayKind, WayKind], ...] = (("monte_carlo", "quadrature"), ("extremes", "sum"), ("sum", "sum"))
        for way, first_order in ways:
            with self.subTest(way):
                asked, plain = (replace(book, convention=replace(book.convention, propagation=w)) for w in (way, first_order))
                gains = self.gains(plain)
                self.assertEqual(self.gains(asked), gains)
                one = next(i for i in find_improvements(compute(asked), "w") if told(i.words) == words)
                self.assertAlmostEqual(one.value.u or 0, found(asked, "w").u * (1 - gains[words]), 12)

    def test_what_a_finding_does_not_rest_on_is_not_worked_out_for_it(self) -> None:
        """A fit that there is none of, and findings beside it, change nothing; one that it uses stays."""
        uses = (Ingredient("q", "finding", "v"),)
        findings = [Finding("w", "w", "w", "", "m q", "", uses=uses, compare=("z",)), Finding("v", "v", "v", "", "gradient", "f")]
        alone = lab_book(self.ROWS, constants=[MASS], findings=findings)
        failing = Fit("none", "g", shape="own", formula="a x +", parameters=("a",))
        beside = Finding("z", "z", "z", "", "3 gradient", "f")
        fuller = replace(alone, fits=(*alone.fits, failing), findings=(*alone.findings, beside))
        self.assertIsInstance(compute(fuller).fits["none"], CoreError)
        self.assertTrue(self.gains(alone))
        self.assertEqual(self.gains(fuller), self.gains(alone))
        with patch("hobrel.core.pipeline.findings.compute_finding", wraps=compute_finding) as computed:
            self.gains(fuller)
        # once in full, and then only the two
        self.assertEqual([call.args[0].id for call in computed.call_args_list].count("z"), 1)

    def test_more_repeats_help_whatever_the_bars_are(self) -> None:
        rows = [(x, [f"{float(y[0] or 0) + d:.2f}" for d in (-0.1, 0.0, 0.1)]) for x, y in self.ROWS]
        for spread, helps in (("standard_error", True), ("half_range", True)):
            book = lab_book(rows, findings=[Finding("w", "w", "w", "", "gradient", "f")], convention=replace(SE, spread=spread))
            self.assertEqual("twice as many repeats of y" in self.gains(book), helps)


class SideBySide(TestCase):
    def book(self) -> LabBook:
        first = lab_book(pairs(*((0.1 * i, 0.3 * i + 0.01 * (-1) ** i) for i in range(1, 8))), constants=[MASS], convention=SE)
        other = lab_book(pairs(*((0.15 * i, 0.5 * i + 0.01 * (-1) ** i) for i in range(1, 7)))).runs[0]
        weight = Quantity("F", "derived", "force", "F", formula="m y")
        return replace(
            first,
            runs=(*first.runs, replace(other, id="run2", name="Second")),
            quantities=(*first.quantities, weight),
            graphs=(Graph("g", "", "x", "F", runs=("run2",)),),
            fits=(Fit("f", "g"), Fit("f2", "g", run="run2")),
            findings=(Finding("w", "w", "w", "", "gradient", "f"),),
        )

    def test_two_runs_on_one_graph_each_with_its_fit(self) -> None:
        book = self.book()
        done, computation = analyse(book), compute(book)
        figure = done.graphs[0].figure
        assert figure is not None
        self.assertEqual([s.name for s in figure.series], ["Run", "Second"])
        self.assertEqual(len({s.look for s in figure.series}), 2)
        self.assertEqual({line.look for line in figure.lines if line.kind == "fit"}, {s.look for s in figure.series})
        side = compare_gradients(computation, "g")
        first, second = (computation.fits[f] for f in ("f", "f2"))
        assert not isinstance(first, CoreError) and not isinstance(second, CoreError)
        m = ufloat(2.0, 0.05)
        y = [
            ufloat(float(f.outputs["gradient"].value) / 2.0, float(combine_quadrature(f.outputs["gradient"], shared=False)) / 2.0)
            for f in (first, second)
        ]
        difference = m * y[1] - m * y[0]
        self.assertIn(f"{abs(difference.n) / difference.s:.1f} combined uncertainties apart", told(side.rows[1].words))

    def test_a_hidden_series_stays_fitted(self) -> None:
        book = self.book()
        hidden = replace(book, graphs=(replace(book.graphs[0], hidden=("run2:F",)),))
        figure = analyse(hidden).graphs[0].figure
        assert figure is not None
        self.assertEqual([(s.hidden, len(s.points)) for s in figure.series], [(False, 7), (True, 0)])
        self.assertEqual(analyse(hidden).fits[1].n, 6)

    def test_the_same_finding_from_every_run_follows_the_run_that_is_looked_at(self) -> None:
        rows = compare_runs(compute(self.book()), "w").rows
        self.assertEqual([r.name for r in rows], ["Run", "Second"])
        line = compare_runs(compute(self.book()), "w").number_line
        assert line is not None
        self.assertEqual([m.name for m in line.marks], ["Run", "Second"])
        turned = replace(self.book(), runs=tuple(reversed(self.book().runs)))
        self.assertEqual(compare_runs(compute(turned), "w").rows[0].value, rows[1].value)

    def test_each_of_three_runs_gives_its_own(self) -> None:
        book = self.book()
        third = replace(lab_book(pairs(*((0.1 * i, 0.9 * i) for i in range(1, 6)))).runs[0], id="run3", name="Third")
        three = replace(book, runs=(*book.runs, third))
        rows = compare_runs(compute(three), "w").rows
        # m times 3, 10/3 and 9 seconds a metre
        for row, slope in zip(rows, (3.0, 10 / 3, 9.0), strict=True):
            assert row.value is not None
            self.assertAlmostEqual(row.value.value, 2 * slope, delta=0.2)
        self.assertEqual(len({row.look for row in rows}), 3)

    def test_a_fit_without_its_graph_or_without_runs_says_so_and_costs_nobody_else_anything(self) -> None:
        book = self.book()
        done = compute(replace(book, fits=(*book.fits, Fit("lost", "nowhere"))))
        lost = done.fits["lost"]
        assert isinstance(lost, CoreError)
        self.assertEqual(lost.code, "bad_job")
        self.assertNotIsInstance(done.fits["f"], CoreError)
        bare = compute(replace(book, runs=())).fits["f"]
        assert isinstance(bare, CoreError)
        self.assertEqual(bare.code, "bad_job")

    def test_lines_of_another_graph_and_curves_are_left_out(self) -> None:
        book = self.book()
        elsewhere = replace(
            book,
            graphs=(*book.graphs, Graph("h", "", "x", "y")),
            fits=(Fit("curve", "g", shape="quadratic"), Fit("other", "h"), *book.fits, Fit("last", "h")),
        )
        side = compare_gradients(compute(elsewhere), "g")
        self.assertEqual([row.key for row in side.rows], ["f", "f2"])
        alone = compare_gradients(compute(replace(book, fits=book.fits[:1])), "g")
        self.assertIsNone(alone.number_line, "one is beside nothing")
        self.assertIsNotNone(side.number_line)


class Intercepts(TestCase):
    def test_one_without_an_uncertainty_is_not_judged(self) -> None:
        exact = compute(written([1.0, 2.0, 3.0, 4.0], [2.0, 4.0, 6.0, 8.0], fits=(Fit("f", "g", "none"),))).fits["f"]
        assert isinstance(exact, FittedLine)
        self.assertIsNone(compare_intercept(exact, "chance"))
        off = compute(written([1.0, 2.0, 3.0, 4.0], [3.0, 5.01, 7.0, 8.99], fits=(Fit("f", "g", "none"),))).fits["f"]
        assert isinstance(off, FittedLine)
        found = compare_intercept(off, "chance")
        assert found is not None
        # by hand: cut 1.005, its standard deviation 0.0087 on two degrees of freedom
        self.assertGreater(found.z, 50)


class Exponents(TestCase):
    def test_three_halves(self) -> None:
        """Made with the exponent 3/2 and a percent of scatter."""
        x = [1.0, 2.0, 3.0, 4.0, 5.0, 6.0]
        y = [round(2 * v**1.5 * (1 + 0.01 * (-1) ** i), 3) for i, v in enumerate(x)]
        for expected, word in (("3/2", "agrees"), ("2", "differs"), ("1,4", "differs"), ("x", "a number or a fraction")):
            book = written(x, y, fits=(Fit("f", "g", "none", shape="power", expected=expected),))
            a, n = analyse(book).fits[0].parameters
            self.assertIn(word, told(n.words))
            self.assertEqual((a.name, n.name, told(a.words)), ("a", "n", ""), "only an exponent is expected")
        for shape, asked in (("power", ""), ("quadratic", "2"), ("exponential", "2")):
            book = written(x, y, fits=(Fit("f", "g", "none", shape=shape, expected=asked),))
            self.assertEqual({told(p.words) for p in analyse(book).fits[0].parameters}, {""})
