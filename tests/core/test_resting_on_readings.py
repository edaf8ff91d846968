"""What rests on readings by several ways counts each of them once: slopes of a curve beside the readings under it, and numbers that judge
the same readings by different estimates. Each reading is moved by itself, or the answer is in closed form.
"""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, Ingredient, LabBook, Quantity, Reading
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.uncertainty.traced import Traced, combine_quadrature, contributions, covary_rows, weigh_rows
from tests.builders import lab_book
from tests.core.test_one_number import X, found


class SlopesBesideTheirReadings(TestCase):
    """v is the slope of a curve through all readings of y, w = v/y rests on one of them besides. Each reading is moved by itself."""

    def book(self, formula: str = "v/y") -> LabBook:
        rows = [(f"{x:.1f}", [f"{y:.2f} ± {u}"]) for x, y, u in zip(X, (1.03, 1.22, 1.54, 1.91, 2.48, 3.10), (0.02, 0.05) * 3, strict=True)]
        v, other = (Quantity(key, "derived", key, key, tangent_of=fit) for key, fit in (("v", "q"), ("V", "p")))
        w = Quantity("w", "derived", "share", "w", formula=formula)
        book = lab_book(rows, [v, other, w], convention=Convention(fit_uncertainty="bars"))
        fits = Fit("q", "g", shape="quadratic", weights="y_bars"), Fit("p", "g", shape="exponential", weights="y_bars")
        return replace(book, graphs=(Graph("g", "", "x", "y"), Graph("gw", "", "y", "w")), fits=fits)

    def column(self, book: LabBook) -> Traced:
        traced = compute(book).columns["run1"].columns["w"].traced
        assert traced is not None
        return traced

    def by_readings(self, formula: str = "v/y") -> tuple[np.ndarray, np.ndarray]:
        """∂w/∂y, row by reading, and u of the readings."""
        book, slopes, us = self.book(formula), [], []
        for row, s in enumerate(book.runs[0].settings):
            value, _, u = (s.readings["y"][0] or Reading("")).text.partition(" ± ")
            ends = []
            for sign in (1, -1):
                text = Reading(f"{float(value) + sign * 1e-5:.10f} ± {u}")
                rows = tuple(
                    replace(t, readings={**t.readings, "y": (text,)}) if i == row else t for i, t in enumerate(book.runs[0].settings)
                )
                ends.append(self.column(replace(book, runs=(replace(book.runs[0], settings=rows),))).value)
            slopes.append((ends[0] - ends[1]) / 2e-5)
            us.append(float(u))
        return np.array(slopes).T, np.array(us)

    def test_bars_and_single_values(self) -> None:
        by, us = self.by_readings()
        expected = np.sqrt(((by * us) ** 2).sum(axis=1))
        column = self.column(self.book())
        np.testing.assert_allclose(combine_quadrature(column, shared=False), expected, rtol=1e-5)
        # the parts of one value add up to it: its own reading's, and the curve's as far as other readings make it
        for row in range(len(X)):
            alone = contributions(column.at_row(row))
            np.testing.assert_allclose(math.hypot(*(float(part) for part in alone.values())), expected[row], rtol=1e-5)
            own = next(abs(float(part)) for source, part in alone.items() if source.symbol == "y")
            np.testing.assert_allclose(own, abs(by[row, row]) * us[row], rtol=1e-5)

    def test_slopes_of_two_curves_through_the_same_readings(self) -> None:
        """The exponential is no straight thing in its parameters: first order is that much off."""
        for formula in ("v - V", "v y/V"):
            with self.subTest(formula):
                by, us = self.by_readings(formula)
                expected = np.sqrt(((by * us) ** 2).sum(axis=1))
                np.testing.assert_allclose(combine_quadrature(self.column(self.book(formula)), shared=False), expected, rtol=0.01)

    def test_numbers_made_of_them(self) -> None:
        by, us = self.by_readings()
        weights = np.array([0.5, -1.0, 0.0, 2.0, 0.3, -0.7])
        made = weigh_rows(self.column(self.book()), weights)
        np.testing.assert_allclose(float(combine_quadrature(made)), np.sqrt(((weights @ by * us) ** 2).sum()), rtol=1e-5)
        (source,) = (s for s in made.slopes if s.symbol == "y")
        np.testing.assert_allclose(made.slopes[source], weights @ by, rtol=1e-4, atol=1e-6)

    def test_verdicts_take_them_as_they_take_the_curve(self) -> None:
        """The gradient of the slopes of a parabola is twice its leading coefficient, for verdicts too: these points scatter by less."""
        book = self.book()
        slopes = Graph("gv", "", "x", "v"), Fit("s", "gv", weights="y_bars")
        fits = compute(replace(book, graphs=(*book.graphs, slopes[0]), fits=(*book.fits, slopes[1]))).fits
        curve, line = fits["q"], fits["s"]
        assert not isinstance(curve, CoreError) and not isinstance(line, CoreError)
        said, judged, by_slopes = (
            float(combine_quadrature(number)) for number in (curve.outputs["a"], curve.judged["a"], line.judged["gradient"])
        )
        self.assertAlmostEqual(by_slopes, 2 * judged, 9)
        self.assertLess(judged, 0.9 * said)

    def test_a_point_s_two_bars_know_of_each_other(self) -> None:
        """w against y: what the bars of each point have in common, by which it is weighed."""
        by, us = self.by_readings()
        y = compute(self.book()).columns["run1"].columns["y"].traced
        assert y is not None
        np.testing.assert_allclose(covary_rows(y, self.column(self.book()), shared=False), np.diagonal(by) * us**2, rtol=1e-5)
        np.testing.assert_allclose(covary_rows(self.column(self.book()), y, shared=False), np.diagonal(by) * us**2, rtol=1e-5)


class TwoEstimates(TestCase):
    """A mean is judged by how its values scatter, a gradient by the bars and the scatter about the line: the readings are the same."""

    def test_what_each_takes_the_readings_to_be_uncertain_by_is_its_own(self) -> None:
        """The mean of points that weigh alike and the gradient through them are uncorrelated (closed form)."""
        dice = np.random.default_rng(4)
        rows = [(f"{i}.000", [f"{5 + dice.normal(0, 0.3):.2f}" for _ in range(3)]) for i in range(1, 9)]
        uses = (Ingredient("m", "mean", "y"), Ingredient("g", "fit", "f", "gradient"))
        lever = Quantity("L", "constant", "lever", "L", "m", value="3")
        findings = [
            Finding(key, key, key, "s", formula, "", uses=uses)
            for key, formula in (("p", "m + L g"), ("q", "m - L g"), ("r", "m"), ("h", "L g"))
        ]
        book = lab_book(rows, [], [lever], findings, convention=Convention("half_range", "larger"))
        book = replace(book, quantities=tuple(replace(q, instrument=None) for q in book.quantities))
        by_sum, by_difference, mean, gradient = (float(combine_quadrature(found(book, key).judged)) for key in "pqrh")
        self.assertAlmostEqual(by_sum, math.hypot(mean, gradient), 6)
        self.assertAlmostEqual(by_difference, math.hypot(mean, gradient), 6)
        # and the two do take them differently
        in_mean, in_gradient = (next(s for s in found(book, key).judged.slopes if s.symbol == "y") for key in "rh")
        self.assertFalse(np.allclose(in_mean.u, in_gradient.u))


class MeansOfSlopes(TestCase):
    def test_how_slopes_scatter_about_their_mean_does_not_tell_how_well_a_curve_is_known(self) -> None:
        """y = 2 e^(x/4): v/y is a quarter at every x, and its mean is as uncertain as the exponent is."""
        dice = np.random.default_rng(11)
        values = []
        for _ in range(60):
            rows = [(f"{x:.2f}", [f"{2 * math.exp(x / 4) + dice.normal(0, 0.15):.2f}" for _ in range(3)]) for x in np.linspace(0.5, 8, 8)]
            v, w = Quantity("v", "derived", "slope", "v", tangent_of="q"), Quantity("w", "derived", "share", "w", formula="v/y")
            finding = Finding("m", "m", "m", "", "a", "", uses=(Ingredient("a", "mean", "w"),))
            book = lab_book(rows, [v, w], findings=[finding])
            made = found(replace(book, fits=(Fit("q", "g", shape="exponential"),)), "m").judged
            values.append((float(made.value), float(combine_quadrature(made))))
        off, u = np.array(values).T
        # with the scatter it was 1.5, and its own spread over so many classes is known to a tenth
        self.assertAlmostEqual(float(np.sqrt(np.mean(((off - 0.25) / u) ** 2))), 1.0, delta=0.3)
