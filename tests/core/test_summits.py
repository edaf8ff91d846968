"""The largest and the smallest, of points and of fitted curves: a parabola by paper, and by the `uncertainties` package."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from uncertainties import correlated_values

from hobrel.core.document.lab_book import Finding, Fit, Ingredient, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.fitting.read_back import name_places
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.pipeline.summits import find_farthest, find_summit
from hobrel.core.presentation.analysis import analyse
from hobrel.core.uncertainty.traced import combine_quadrature
from tests.builders import lab_book

# y = 9 − (x − 3)², each reading off by a little
HILL = [("0", ["0.1"]), ("1", ["4.9"]), ("2", ["8.1"]), ("3", ["9.0"]), ("4", ["7.9"]), ("5", ["5.1"]), ("6", ["-0.1"])]


def hill(shape: str = "quadratic", rows: list[tuple[str, list[str]]] | None = None) -> LabBook:
    book = lab_book(rows or HILL)
    return replace(book, fits=(Fit("f", book.graphs[0].id, shape=shape),))


def fitted(book: LabBook) -> tuple[Ground, FittedCurve, GraphPoints]:
    ground = compute(book)
    curve, points, _ = ground.fitted("f")
    assert isinstance(curve, FittedCurve)
    return ground, curve, points


class Summits(unittest.TestCase):
    def test_of_a_parabola_are_where_and_as_uncertain_as_its_parameters_say(self) -> None:
        _, curve, points = fitted(hill())
        summit = find_summit(curve, points)
        # the points scatter more than their bars say, so that verdicts take the scatter
        assert curve.curve.reduced_chi2 is not None and curve.curve.reduced_chi2 > 1
        a, b, c = correlated_values(curve.curve.values, curve.curve.covariance * curve.curve.reduced_chi2)
        # a x² + b x + c
        place = -b / (2 * a)
        height = a * place**2 + b * place + c
        self.assertTrue(summit.is_highest)
        self.assertAlmostEqual(float(summit.place.said.value), 3.0, delta=0.05)
        self.assertAlmostEqual(float(summit.place.said.value), place.n, places=9)
        self.assertAlmostEqual(float(summit.value.said.value), height.n, places=9)
        self.assertAlmostEqual(float(combine_quadrature(summit.place.judged)) / place.s, 1.0, places=5)
        self.assertAlmostEqual(float(combine_quadrature(summit.value.judged)) / height.s, 1.0, places=5)

    def test_of_a_valley_are_its_lowest(self) -> None:
        _, curve, points = fitted(hill(rows=[(x, [str(-float(y[0]))]) for x, y in HILL]))
        self.assertFalse(find_summit(curve, points).is_highest)

    def test_are_looked_for_between_the_points_alone(self) -> None:
        for rows in (HILL[:3], HILL[4:]):
            more = [*rows, ("1.5" if rows is HILL else "0.5", ["2.7"])] if rows == HILL[:3] else [*rows, ("4.5", ["6.7"])]
            _, curve, points = fitted(hill(rows=more))
            with self.assertRaises(CoreError) as told:
                find_summit(curve, points)
            self.assertEqual(told.exception.code, "no_summit")
        _, curve, points = fitted(hill())
        for low, high in ((None, 2.5), (3.5, None), (5.0, 4.0)):
            with self.assertRaises(CoreError) as told:
                find_summit(curve, points, low, high)
            self.assertEqual(told.exception.code, "no_summit")
        self.assertAlmostEqual(float(find_summit(curve, points, 2.0, 4.0).place.said.value), 3.0, delta=0.05)

    def test_that_are_several_are_named(self) -> None:
        xs = np.linspace(0, 12, 25)
        rows = [(f"{x:.2f}", [f"{np.sin(x) + 0.01 * (-1) ** i:.3f}"]) for i, x in enumerate(xs)]
        _, curve, points = fitted(hill("sine", rows))
        with self.assertRaises(CoreError) as told:
            find_summit(curve, points)
        self.assertEqual(told.exception.code, "several_summits")
        self.assertRegex(told.exception.message, r"1\.5\d and 4\.7\d and 7\.8\d and 11\.0")
        # by paper: a sine is highest at 5π/2
        second = find_summit(curve, points, 7.0, 9.0)
        self.assertTrue(second.is_highest)
        self.assertAlmostEqual(float(second.place.said.value), 5 * np.pi / 2, delta=0.02)
        self.assertIsNone(analyse(hill("sine", rows)).fits[0].summit)

    def test_of_what_is_level_nothing_tells_the_place(self) -> None:
        level = [(str(x), ["4.00"]) for x in range(7)]
        wavering = [(str(x), [y]) for x, y in enumerate(("4.00", "4.02", "3.99", "4.01", "3.98", "4.03", "4.00"))]
        for rows in (level, wavering):
            _, curve, points = fitted(hill(rows=rows))
            with self.assertRaises(CoreError) as told:
                find_summit(curve, points)
            self.assertEqual(told.exception.code, "no_summit")
            self.assertIsNone(analyse(hill(rows=rows)).fits[0].summit)

    def test_many_places_are_not_all_named(self) -> None:
        self.assertEqual(name_places([1.0, 2.0]), "1.00 and 2.00")
        self.assertEqual(name_places([float(n) for n in range(1, 7)])[-8:], "and 6.00")
        self.assertEqual(name_places([float(n) for n in range(1, 402)])[-24:], "6.00 and 395 more places")

    def test_of_a_line_there_is_none(self) -> None:
        ground = compute(hill("line"))
        line, points, _ = ground.fitted("f")
        with self.assertRaisesRegex(CoreError, "A line does not turn"):
            find_summit(line, points)

    def test_stand_on_the_card(self) -> None:
        summit = analyse(hill()).fits[0].summit
        assert summit is not None
        self.assertTrue(summit.is_highest)
        self.assertEqual((summit.place.text, summit.value.text[:8]), ("2.993 ± 0.011 m", "9.00 ± 0"))
        self.assertIsNone(analyse(hill("line")).fits[0].summit)


class Farthest(unittest.TestCase):
    def test_of_the_points_with_what_they_are_uncertain_by(self) -> None:
        book = hill()
        ground, graph = compute(book), book.graphs[0].id
        for which, row in (("largest", 3), ("smallest", 6)):
            found = find_farthest(ground, graph, which)  # type: ignore[arg-type]
            points = ground.drawn(graph)
            self.assertEqual((found.row, float(found.place.value), float(found.value.value)), (row, points.x[row], points.y[row]))
            self.assertEqual(float(combine_quadrature(found.value)), float(points.uy[row]))

    def test_within_a_stretch_and_of_what_counts(self) -> None:
        book = hill()
        ground, graph = compute(book), book.graphs[0].id
        self.assertEqual(find_farthest(ground, graph, "largest", 4.0, None).row, 4)
        self.assertEqual(find_farthest(ground, graph, "smallest", 1.0, 5.0).row, 1)
        with self.assertRaisesRegex(CoreError, "no point in this stretch"):
            find_farthest(ground, graph, "largest", 8.0, 9.0)
        run = book.runs[0]
        aside = replace(run, settings=tuple(replace(s, set_aside="bumped") if i == 3 else s for i, s in enumerate(run.settings)))
        self.assertEqual(find_farthest(compute(replace(book, runs=(aside,))), graph, "largest").row, 2)

    def test_of_several_alike_the_first_along_x(self) -> None:
        book = hill(rows=[("5", ["2"]), ("1", ["2"]), ("3", ["1"]), ("4", ["1.5"]), ("2", ["1.2"])])
        self.assertEqual(float(find_farthest(compute(book), book.graphs[0].id, "largest").place.value), 1.0)


class InFindings(unittest.TestCase):
    def found(self, kind: str, part: str, of: str, **more: float) -> ComputedFinding | CoreError:
        book = hill()
        use = Ingredient("w_1", kind, book.graphs[0].id if of == "graph" else of, part, **more)  # type: ignore[arg-type]
        finding = Finding("q", "q", "q", "", "w_1", uses=(use,))
        return compute(replace(book, findings=(finding,))).findings["q"]

    def test_each_is_a_number_with_its_words(self) -> None:
        for kind, part, of, value, words in (
            ("summit", "place", "f", 3.0, "place of the highest point of the curve"),
            ("summit", "value", "f", 9.0, "highest point of the curve"),
            ("largest", "value", "graph", 9.0, "largest"),
            ("smallest", "place", "graph", 6.0, "is smallest, all points"),
        ):
            found = self.found(kind, part, of)
            assert isinstance(found, ComputedFinding), found
            self.assertAlmostEqual(found.value, value, delta=0.1)
            self.assertIn(words, found.words["w_1"])


if __name__ == "__main__":
    unittest.main()
