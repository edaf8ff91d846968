"""One uncertain number from readings to findings: what two numbers rest on together is counted once, and only that.

The answers are those of the uncertainties package, which follows every reading as a variable of its own, or of moving each reading by
itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.stats import ttest_ind
from uncertainties import correlated_values, ufloat

from hobrel.core.document.lab_book import Finding, Fit, Graph, Ingredient, LabBook, Quantity, Reading, Run, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.points import bars_of_used
from hobrel.core.presentation.working import explain
from hobrel.core.uncertainty.traced import (
    Source,
    chain,
    combine_quadrature,
    covariance_of,
    effective_dof,
    measured,
    weigh_rows,
)
from hobrel.core.units.calculus import write_unit
from tests.builders import lab_book, setting

X = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6]
Y = [1.03, 1.98, 3.05, 3.97, 5.02, 6.04]
# wide enough that no scatter about a line or a quadratic asks for more
ROWS = [(f"{x:.3f}", [f"{y:.2f} ± 0.08"]) for x, y in zip(X, Y, strict=True)]
GRAVITY = Quantity("k", "constant", "factor", "k", "", value="2.00", u="0.10")


def with_findings(*findings: Finding, book: LabBook | None = None, **more: object) -> LabBook:
    return replace(book or lab_book(ROWS), findings=findings, **more)  # type: ignore[arg-type]


def found(book: LabBook, finding: str) -> ComputedFinding:
    result = compute(book).findings[finding]
    assert isinstance(result, ComputedFinding), result
    return result


def moved(book: LabBook, finding: str) -> float:
    """u of a finding from the written ± alone: every reading of y is moved by itself, and the finding made again."""
    run, total = book.runs[0], 0.0
    for row, s in enumerate(run.settings):
        ends = []
        for sign in (1, -1):
            value, _, u = (s.readings["y"][0] or Reading("")).text.partition(" ± ")
            text = f"{float(value) + sign * 1e-4 * float(u):.10f} ± {u}"
            rows = tuple(replace(t, readings={**t.readings, "y": (Reading(text),)}) if i == row else t for i, t in enumerate(run.settings))
            ends.append(found(replace(book, runs=(replace(run, settings=rows),)), finding).value)
        total += ((ends[0] - ends[1]) / 2e-4) ** 2
    return math.sqrt(total)


class SameReadings(TestCase):
    """x has no ± here, so that moving y tells everything."""

    def book(self, *findings: Finding, fits: tuple[Fit, ...]) -> LabBook:
        book = lab_book(ROWS, findings=findings)
        return replace(book, quantities=tuple(replace(q, instrument=None) for q in book.quantities), fits=fits)

    def check(self, formula: str, *uses: Ingredient, fits: tuple[Fit, ...] = (Fit("f", "g"),)) -> None:
        book = self.book(Finding("d", "difference", "D", "", formula, "", uses=uses), fits=fits)
        self.assertAlmostEqual(found(book, "d").u, moved(book, "d"), delta=2e-4 * moved(book, "d"))

    def test_two_fits_of_the_same_points(self) -> None:
        both = (Fit("f", "g"), Fit("o", "g", through_origin=True))
        self.check("a - b", Ingredient("a", "fit", "f", "gradient"), Ingredient("b", "fit", "o", "gradient"), fits=both)

    def test_a_fit_of_a_stretch_and_one_of_all(self) -> None:
        both = (Fit("f", "g"), Fit("s", "g", low=0.25, high=0.55))
        self.check("a/b", Ingredient("a", "fit", "f", "gradient"), Ingredient("b", "fit", "s", "intercept"), fits=both)

    def test_gradient_and_intercept_hang_together(self) -> None:
        self.check("-b/a", Ingredient("a", "fit", "f", "gradient"), Ingredient("b", "fit", "f", "intercept"))

    def test_two_means_with_readings_in_common(self) -> None:
        """Level values, so that their own ± is what makes that of their means."""
        uses = (Ingredient("a", "mean", "y"), Ingredient("b", "mean", "y", low=0.25))
        level = [(x, [f"{3 + i % 2 / 100:.2f} ± 0.05"]) for i, (x, _) in enumerate(ROWS)]
        book = replace(self.book(Finding("d", "d", "D", "", "a - b", "", uses=uses), fits=()), runs=lab_book(level).runs)
        self.assertAlmostEqual(found(book, "d").u, 0.05 * math.sqrt(1 / 4 - 1 / 6), 6)

    def test_a_mean_and_a_line_through_the_same_points(self) -> None:
        """A line goes through the mean of its points, so that the two differ by nothing where all weigh alike."""
        uses = (Ingredient("a", "mean", "y"), Ingredient("b", "read_forward", "f", at="0.35"))
        level = [(x, [f"{3 + i % 2 / 100:.2f} ± 0.05"]) for i, (x, _) in enumerate(ROWS)]
        book = replace(self.book(Finding("d", "d", "D", "", "a - b", "", uses=uses), fits=(Fit("f", "g"),)), runs=lab_book(level).runs)
        self.assertAlmostEqual(found(book, "d").u, 0.0, 9)

    def test_two_read_offs_of_a_curve(self) -> None:
        curve = (Fit("f", "g", shape="quadratic"),)
        self.check("a - b", Ingredient("a", "read_forward", "f", at="0.33"), Ingredient("b", "read_forward", "f", at="0.34"), fits=curve)

    def test_two_tangents_of_a_curve(self) -> None:
        curve = (Fit("f", "g", shape="quadratic"),)
        self.check("a - b", Ingredient("a", "tangent", "f", at="0.2"), Ingredient("b", "tangent", "f", at="0.5"), fits=curve)

    def test_a_parameter_of_a_curve_and_what_is_read_off_it(self) -> None:
        curve = (Fit("f", "g", shape="quadratic"),)
        self.check("a/c", Ingredient("a", "read_forward", "f", at="0.3"), Ingredient("c", "fit", "f", "a"), fits=curve)

    def test_two_areas_with_points_in_common(self) -> None:
        self.check("a - b", Ingredient("a", "area", "g"), Ingredient("b", "area", "g", low=0.15, high=0.45))

    def test_the_steepest_rate_and_the_mean_rate(self) -> None:
        self.check("a - b", Ingredient("a", "steepest", "g", "rate"), Ingredient("b", "fit", "f", "gradient"))


class Other(TestCase):
    def two_runs(self, shift: float) -> LabBook:
        book = lab_book(ROWS)
        second = tuple(setting(f"t{i}", x, [f"{float(ys[0].split()[0]) + shift:.3f} ± 0.08"]) for i, (x, ys) in enumerate(ROWS, 1))
        return replace(book, runs=(*book.runs, Run("run2", "Second", second)), fits=(Fit("f", "g"), Fit("h", "g", run="run2")))

    def test_fits_of_two_runs_share_nothing(self) -> None:
        """Of two independent lines the difference of gradients has u √2 times that of one."""
        uses = (Ingredient("a", "fit", "f", "gradient"), Ingredient("b", "fit", "h", "gradient"))
        book = with_findings(Finding("d", "difference", "D", "", "a - b", "", uses=uses), book=self.two_runs(0.01))
        one = combine_quadrature(compute(book).fits["f"].outputs["gradient"])  # type: ignore[union-attr]
        self.assertAlmostEqual(found(book, "d").u, math.sqrt(2) * float(one), delta=0.002)

    def test_one_fit_seen_from_two_runs_shares_nothing_with_itself(self) -> None:
        finding = Finding("m", "gradient", "m", "", "gradient", "f")
        book = with_findings(finding, book=replace(self.two_runs(0.01), fits=(Fit("f", "g"),)))
        first = found(book, "m").traced
        second = found(replace(book, runs=tuple(reversed(book.runs))), "m").traced
        self.assertEqual(covariance_of(first, second), 0.0)

    def test_a_constant_is_shared_by_two_runs(self) -> None:
        finding = Finding("m", "gradient", "m", "", "k gradient", "f")
        book = self.two_runs(0.01)
        book = with_findings(finding, book=replace(book, quantities=(*book.quantities, GRAVITY), fits=(Fit("f", "g"),)))
        first = found(book, "m")
        second = found(replace(book, runs=tuple(reversed(book.runs))), "m")
        self.assertAlmostEqual(covariance_of(first.traced, second.traced), first.value * second.value * 0.05**2, 9)

    def test_two_unknowns_read_alike_are_two(self) -> None:
        """x = (y − c)/m: of two unknowns with the same text only the line is shared."""
        unknowns = (Unknown("u1", "A", ("3.00 ± 0.05",)[:1]), Unknown("u2", "B", ("3.00",)))
        unknowns = (replace(unknowns[0], readings=("3.00",)), unknowns[1])
        uses = (Ingredient("a", "unknown", "f", "u1"), Ingredient("b", "unknown", "f", "u2"))
        book = with_findings(Finding("d", "difference", "D", "", "a - b", "", uses=uses), fits=(Fit("f", "g", unknowns=unknowns),))
        gradient = compute(book).fits["f"].outputs["gradient"]  # type: ignore[union-attr]
        self.assertAlmostEqual(found(book, "d").u, math.sqrt(2) * 0.01 / float(gradient.value), 6)

    def test_the_same_unknown_twice_is_one(self) -> None:
        unknowns = (Unknown("u1", "A", ("3.00",)),)
        uses = (Ingredient("a", "unknown", "f", "u1"), Ingredient("b", "unknown", "f", "u1"))
        book = with_findings(Finding("d", "difference", "D", "", "a - b", "", uses=uses), fits=(Fit("f", "g", unknowns=unknowns),))
        self.assertAlmostEqual(found(book, "d").u, 0.0, 12)

    def test_constants_of_the_axes_are_in_read_offs_tangents_areas_and_steepest_rates(self) -> None:
        """z = k y with k uncertain by 5 %: everything that is read from z is uncertain by at least 5 %."""
        z = Quantity("z", "derived", "z", "z", formula="k y")
        book = lab_book(ROWS, [z], [GRAVITY], graph=("x", "z"))
        kinds: dict[str, Callable[[], Ingredient]] = {
            "read off a curve": lambda: Ingredient("v", "read_forward", "q", at="0.3"),
            "tangent": lambda: Ingredient("v", "tangent", "q", at="0.3"),
            "area": lambda: Ingredient("v", "area", "g"),
            "steepest rate": lambda: Ingredient("v", "steepest", "g", "rate"),
            "reading at half the place": lambda: Ingredient("v", "steepest", "g", "reading"),
        }
        for name, make in kinds.items():
            with self.subTest(name):
                whole = with_findings(
                    Finding("v", name, "V", "", "v", "", uses=(make(),)), book=book, fits=(Fit("q", "g", shape="quadratic"),)
                )
                shared = float(combine_quadrature(found(whole, "v").traced, shared=True))
                self.assertAlmostEqual(shared / abs(found(whole, "v").value), 0.05, 4)

    def test_a_constant_of_the_axis_goes_out_again_with_it(self) -> None:
        """z = k y: the parameters of its curve over k are those of y's, and as certain."""
        z = Quantity("z", "derived", "z", "z", formula="k y")
        book = lab_book(ROWS, [z], [GRAVITY], graph=("x", "z"))
        whole = with_findings(Finding("v", "v", "V", "", "a/k", "q"), book=book, fits=(Fit("q", "g", shape="quadratic"),))
        self.assertAlmostEqual(float(combine_quadrature(found(whole, "v").traced, shared=True)) / abs(found(whole, "v").value), 0.0, 4)

    def test_a_curve_has_the_degrees_of_freedom_of_its_points(self) -> None:
        """Three parameters through four points leave one, in whatever is said of them; through three, one is counted as one."""
        for count in (4, 3, 6):
            book = replace(lab_book(ROWS[:count]), fits=(Fit("q", "g", shape="quadratic", weights="none"),))
            outputs = compute(book).fits["q"].outputs  # type: ignore[union-attr]
            self.assertEqual({s.dof for s in outputs["a"].slopes}, {float(max(count - 3, 1))}, count)

    def test_a_gradient_s_budget_is_shown_where_something_else_has_a_part_in_it(self) -> None:
        z = Quantity("z", "derived", "z", "z", formula="k y")
        alone, with_k = lab_book(ROWS), lab_book(ROWS, [z], [GRAVITY], graph=("x", "z"))
        budgets = [explain(compute(book), "fit:f:gradient").budget for book in (alone, with_k)]
        self.assertEqual([[b.words for b in bars] for bars in budgets], [[], ["factor", "of the line"]])

    def test_bars_along_x_that_are_all_nought_are_none(self) -> None:
        book = lab_book(ROWS)
        exact_x = tuple(replace(q, instrument=None) if q.id == "x" else q for q in book.quantities)
        curves = [
            compute(replace(book, quantities=q, fits=(Fit("q", "g", shape="quadratic", weights="both_bars"),))).fits["q"]
            for q in (exact_x, book.quantities)
        ]
        self.assertEqual([c.curve.method for c in curves], ["weighted", "orthogonal_distance"])  # type: ignore[union-attr]

    def test_a_mean_over_a_stretch_of_another_quantity(self) -> None:
        """z = 10 x runs from 1 to 6: of z from 2.5 on there are four values."""
        z = Quantity("z", "derived", "z", "z", "m", formula="10 x")
        over = (Ingredient("a", "mean", "y", "z", low=2.5),)
        book = with_findings(Finding("d", "d", "D", "", "a", "", uses=over), book=lab_book(ROWS, [z]))
        self.assertAlmostEqual(found(book, "d").value, sum(Y[2:]) / 4, 12)
        self.assertIn("(4 values)", found(book, "d").words["a"])

    def test_a_symbol_stands_for_one_thing(self) -> None:
        uses = (Ingredient("k", "fit", "f", "gradient"),)
        book = with_findings(Finding("d", "d", "D", "", "k k", "", uses=uses), book=lab_book(ROWS, constants=[GRAVITY]))
        trouble = compute(book).findings["d"]
        assert isinstance(trouble, CoreError)
        self.assertIn("k_2", trouble.message)


class OneSourceOnBothAxes(TestCase):
    """A weight against its own mass, and a square of a distance against the distance: their errors are not independent."""

    def test_what_runs_along_the_line_weighs_nothing(self) -> None:
        """F = k x exactly, whatever x is off by: the line is exact, and has no ± but that of k."""
        force = Quantity("F", "derived", "F", "F", formula="k x")
        fitted = compute(lab_book(ROWS, [force], [GRAVITY], graph=("x", "F"))).fits["f"]
        assert not isinstance(fitted, CoreError)
        gradient = fitted.outputs["gradient"]
        self.assertAlmostEqual(float(gradient.value), 2.0, 12)
        self.assertEqual(float(combine_quadrature(gradient, shared=False)), 0.0)
        self.assertAlmostEqual(float(combine_quadrature(gradient)), 0.1, 12)
        self.assertEqual(float(fitted.outputs["intercept"].value), 0.0)

    def test_points_are_judged_by_what_is_left_of_their_common_error(self) -> None:
        """z = x² against x: off by δx, a point leaves the line by (2x − m) δx."""
        square = Quantity("z", "derived", "z", "z", formula="x^2")
        fitted = compute(lab_book([(f"{x:.3f}", ["1.00"]) for x in X], [square], graph=("x", "z"))).fits["f"]
        assert not isinstance(fitted, CoreError)
        m = fitted.line.gradient  # type: ignore[union-attr]
        np.testing.assert_allclose(fitted.residuals.sigmas, [abs(2 * x - m) * 0.0005 for x in X], rtol=1e-9)


class Covariances(TestCase):
    def test_parameters_have_the_fits_own_covariance(self) -> None:
        """What the points bring adds up to the covariance of the fit, with bars in one axis, in both, and in none."""
        for weights in ("both_bars", "y_bars", "none"):
            for shape in ("line", "quadratic", "power", "exponential"):
                with self.subTest(f"{weights} {shape}"):
                    fitted = compute(replace(lab_book(ROWS), fits=(Fit("f", "g", weights=weights, shape=shape),))).fits["f"]  # type: ignore[arg-type]
                    assert not isinstance(fitted, CoreError)
                    if shape == "line":
                        line = fitted.line  # type: ignore[union-attr]
                        expected = [[line.u_gradient**2, line.covariance], [line.covariance, line.u_intercept**2]]
                    else:
                        expected = fitted.curve.covariance.tolist()  # type: ignore[union-attr]
                    found = fitted.line if shape == "line" else fitted.curve  # type: ignore[union-attr]
                    # an exponential does not go through these points: then the scatter about it is what makes the ±
                    expected = np.array(expected) * max(1.0, found.reduced_chi2 or 0.0)
                    numbers = list(fitted.outputs.values())
                    got = [[covariance_of(a, b) for b in numbers] for a in numbers]
                    np.testing.assert_allclose(got, expected, rtol=2e-6)

    def test_a_slope_column_keeps_how_its_rows_hang_together(self) -> None:
        """v = dy/dx of a quadratic is a straight line: through its slopes there is one line, as uncertain as 2a is."""
        v = Quantity("v", "derived", "slope", "v", tangent_of="q")
        book = replace(
            lab_book(ROWS, [v]), graphs=(Graph("g", "", "x", "y"), Graph("gv", "", "x", "v")),
            fits=(Fit("q", "g", shape="quadratic", weights="y_bars"), Fit("s", "gv", weights="y_bars")),
        )  # fmt: skip
        for which in ("larger", "bars", "scatter"):
            with self.subTest(which):
                convention = replace(book.convention, fit_uncertainty=which)
                curve, line = (compute(replace(book, convention=convention)).fits[k] for k in ("q", "s"))
                a, *_ = correlated_values(curve.curve.values, curve.curve.covariance)  # type: ignore[union-attr]
                gradient = line.outputs["gradient"]  # type: ignore[union-attr]
                # the slopes lie on their line to the last digit, whatever they are known by: that is no scatter
                scatter = curve.curve.reduced_chi2  # type: ignore[union-attr]
                stretch = math.sqrt({"larger": max(1.0, scatter), "bars": 1.0, "scatter": scatter}[which])
                self.assertAlmostEqual(float(gradient.value), 2 * a.n, 9)
                self.assertAlmostEqual(float(combine_quadrature(gradient)), 2 * a.s * stretch, 9)

    def test_a_slope_column_moves_with_constants_and_is_in_the_unit_of_a_gradient(self) -> None:
        """k y in mm against x in cm: the slope at every setting is the gradient, a pure number, and moves with k as that does."""
        rows = [(f"{10 * i}.0", [f"{0.3 * i + 0.002 * (-1) ** i:.3f}"]) for i in range(1, 8)]
        k = Quantity("k", "constant", "factor", "k", value="2.00", u="0.05")
        twice = Quantity("D", "derived", "double", "D", formula="k y")
        v = Quantity("v", "derived", "slope", "v", tangent_of="q")
        for shape in ("line", "quadratic"):
            with self.subTest(shape):
                book = replace(
                    lab_book(rows, [twice, v], [k]), graphs=(Graph("g", "", "x", "D"),), fits=(Fit("q", "g", shape=shape, weights="none"),)
                )
                in_cm = tuple(replace(q, unit={"x": "cm", "y": "mm"}.get(q.id, q.unit)) for q in book.quantities)
                done = compute(replace(book, quantities=in_cm))
                column = done.columns["run1"].columns["v"]
                assert column.traced is not None
                # by hand: a chord of the readings, twice 0.3 mm for each 100 mm
                np.testing.assert_allclose(column.traced.value, 0.006, rtol=0.05)
                self.assertEqual(write_unit(column.traced.unit), "")
                by_factor = next(shift for source, shift in column.traced.slopes.items() if source.symbol == "k")
                # all of it is proportional to k
                np.testing.assert_allclose(np.asarray(by_factor) * 2.00, column.traced.value, rtol=1e-9)

    def test_a_slope_column_is_as_uncertain_as_its_fit_says_also_where_points_scatter_more_than_their_bars(self) -> None:
        rows = [(f"{0.1 * i:.3f}", [f"{2 * i + d + (0.4 if i % 2 else -0.4):.2f}" for d in (0.02, -0.03)]) for i in range(1, 8)]
        v = Quantity("v", "derived", "slope", "v", tangent_of="q")
        for shape, part in (("line", "gradient"), ("quadratic", "b")):
            book = replace(lab_book(rows, [v]), fits=(Fit("q", "g", shape=shape, weights="y_bars"),))
            computation = compute(book)
            fitted, column = computation.fits["q"], computation.columns["run1"].columns["v"]
            found = fitted.line if shape == "line" else fitted.curve  # type: ignore[union-attr]
            self.assertGreater(found.reduced_chi2, 4)
            self.assertEqual(fitted.scatter, "more")  # type: ignore[union-attr]
            assert column.traced is not None
            if shape == "line":
                self.assertAlmostEqual(float(column.u[0]), float(combine_quadrature(fitted.outputs[part])), 9)  # type: ignore[union-attr]
            else:
                # v = 2 a x + b: by the covariance of the fit, stretched as its parameters are
                by = np.array([[2 * float(x), 1.0, 0.0] for x, _ in rows])
                plain = np.sqrt(np.einsum("ij,jk,ik->i", by, found.covariance, by))
                np.testing.assert_allclose(column.u, plain * math.sqrt(found.reduced_chi2), rtol=1e-6)

    def test_degrees_of_freedom_behind_the_bars_are_those_of_the_points_fitted(self) -> None:
        """Each setting has its own spread (Cochran), a wild one is not among those fitted (JCGM 100, G.4)."""
        rows = [
            (f"{0.2 * i:.3f}", [f"{2 * i + d * s:.2f}" for d in (-1, 0, 1)])
            for i, s in enumerate((0.01, 0.05, 0.02, 0.05, 3.0, 0.03, 0.05, 0.02), 1)
        ]
        whole = compute(lab_book(rows))
        part = compute(replace(lab_book(rows), fits=(Fit("f", "g", high=0.81),)))
        points, _ = part.points_of_fit("f")
        used = part.fits["f"].fitted  # type: ignore[union-attr]
        variances = np.array([0.01, 0.05, 0.02, 0.05]) ** 2
        self.assertAlmostEqual(bars_of_used(points, used).dof, variances.sum() ** 2 / np.sum(variances**2 / 2), 6)
        self.assertLess(points.judged.dof, 2.1)
        self.assertEqual(bars_of_used(points, np.ones(8, dtype=bool)).dof, whole.points["g"].judged.dof)  # type: ignore[union-attr]


class DegreesOfFreedom(TestCase):
    def test_one_estimate_for_all_rows_is_one_part(self) -> None:
        pooled = measured(Source("a", "a", np.full(4, 0.1), dof=8.0), np.arange(4.0))
        each = measured(Source("b", "b", np.full(4, 0.1), dof=np.full(4, 2.0)), np.arange(4.0))
        weights = np.full(4, 0.25)
        self.assertAlmostEqual(effective_dof(weigh_rows(pooled, weights)), 8.0)
        self.assertAlmostEqual(effective_dof(weigh_rows(each, weights)), 8.0)
        self.assertTrue(math.isinf(effective_dof(weigh_rows(measured(Source("c", "c", np.full(4, 0.1)), np.arange(4.0)), weights))))

    def test_a_mean_of_four_rows_is_that_of_the_uncertainties_package(self) -> None:
        values = [ufloat(v, 0.1) for v in range(4)]
        mean = sum(values) / 4
        ours = weigh_rows(measured(Source("a", "a", np.full(4, 0.1)), np.arange(4.0)), np.full(4, 0.25))
        self.assertAlmostEqual(float(combine_quadrature(ours)), mean.s, 12)

    def test_means_of_two_stretches_of_one_column_each_bring_their_own(self) -> None:
        """Welch's degrees of freedom, by SciPy; the longer stretch named first or last."""
        values = [3.01, 3.05, 3.02, 4.10, 4.60, 4.20, 4.90, 4.00, 4.50, 4.30]
        rows = [(f"{i / 10:.1f}", [f"{v:.2f}"]) for i, v in enumerate(values)]
        bare = tuple(replace(q, instrument=None) for q in lab_book(ROWS).quantities)
        short, long = Ingredient("a", "mean", "y", low=-0.05, high=0.25), Ingredient("b", "mean", "y", low=0.25, high=0.95)
        for uses in ((short, long), (long, short)):
            book = replace(lab_book(rows, findings=(Finding("d", "d", "D", "", "a - b", "", uses=uses),)), quantities=bare, fits=())
            judged = found(book, "d").judged
            welch = ttest_ind(values[:3], values[3:], equal_var=False)
            self.assertAlmostEqual(effective_dof(judged), float(welch.df), 9)
            self.assertAlmostEqual(float(judged.value / combine_quadrature(judged)), float(welch.statistic), 9)

    def test_a_row_of_two_estimates_alone_has_that_of_its_own(self) -> None:
        a, b = Source("y", "y", np.ones(4), dof=2.0, estimate="first"), Source("y", "y", np.ones(4), dof=5.0, estimate="second")
        first, second = measured(a, np.arange(4.0)), measured(b, np.arange(4.0))
        only = [
            replace(n, slopes={s: by * keep for s, by in n.slopes.items()}) for n, keep in ((first, [1, 1, 0, 0]), (second, [0, 0, 1, 1]))
        ]
        both = chain(np.arange(4.0), tuple((n, lambda: np.asarray(1.0)) for n in only), first.unit)
        self.assertEqual([effective_dof(both.at_row(row)) for row in range(4)], [2.0, 2.0, 5.0, 5.0])

    def test_numbers_beyond_the_fourth_root_of_all_numbers(self) -> None:
        huge = measured(Source("a", "a", np.asarray(1e120), dof=3.0), 1.0)
        tiny = measured(Source("a", "a", np.asarray(1e-120), dof=3.0), 1.0)
        self.assertEqual([effective_dof(huge), effective_dof(tiny)], [3.0, 3.0])
