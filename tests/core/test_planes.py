"""The planes in which a measured quantity should lie smoothly, looked at by themselves: what is y in them, what x, when there are none."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.checks.planes import Measurement, is_squared, planes_of
from hobrel.core.checks.smooth import Plane
from hobrel.core.document.lab_book import Finding, Fit, Graph, LabBook, Quantity
from hobrel.core.pipeline.columns import RunColumns, compute_columns
from tests.builders import lab_book

# y² = 9 x³ with the last digits of a hand on a stopwatch
X = [0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9]
REPEATS = (-0.01, 0.0, 0.01)
SQUARED = Quantity("y2", "derived", "square", "y_2", formula="y^2")
CUBED = Quantity("x3", "derived", "cube", "x_3", formula="x^3")


def table(power: float = 1.5, repeats: tuple[float, ...] = REPEATS, **graph: str) -> LabBook:
    rows = [(f"{x:.3f}", [f"{3 * x**power + d:.2f}" for d in repeats]) for x in X]
    book = lab_book(rows, derived=(SQUARED, CUBED), graph=(graph.get("x", "x3"), graph.get("y", "y2")))
    return replace(book, relation="y^2 = k x^3")


def seen(book: LabBook) -> tuple[Measurement, RunColumns]:
    columns = compute_columns(book, book.runs[0])
    found = Measurement.of(columns, columns.columns["x"], columns.columns["y"], np.zeros(len(X), dtype=bool))
    assert found is not None
    return found, columns


def line(plane: Plane) -> np.ndarray:
    """The gradient and intercept that its basis gives z, along the second column."""
    return np.linalg.lstsq(plane.basis, plane.z, rcond=None)[0]


class Planes(unittest.TestCase):
    def test_a_graph_that_is_straight_leaves_nothing_to_look_for(self) -> None:
        self.assertEqual(planes_of(*seen(table()), table()), [])

    def test_a_plot_of_the_graphs_is_what_is_drawn_up_against_what_is_drawn_along(self) -> None:
        book = table(x="x", y="y2")
        measurement, columns = seen(book)
        plane = planes_of(measurement, columns, book)[0]
        np.testing.assert_allclose(plane.z, columns.columns["y2"].traced.value)  # type: ignore[union-attr]
        x = np.array(X)
        np.testing.assert_allclose(plane.basis, np.column_stack([np.ones(8), (x - x.mean()) / np.ptp(x)]))
        self.assertTrue(plane.is_line and plane.moves_with_y)
        self.assertIsNone(plane.back, "nothing leads from y² back to y")
        # u(y²) = 2 y u(y), by hand
        np.testing.assert_allclose(plane.u, 2 * measurement.y * measurement.u, rtol=1e-6)

    def test_a_plot_of_y_itself_leads_back_to_it_and_may_be_drawn_the_other_way_round(self) -> None:
        for graph in ({"x": "x", "y": "y"}, {"x": "y", "y": "x"}):
            with self.subTest(graph):
                book = table(**graph)
                plane = planes_of(*seen(book), book)[0]
                np.testing.assert_allclose(plane.z, seen(book)[0].y)
                self.assertEqual(plane.back is not None, graph["y"] == "y")

    def test_where_no_graph_is_straight_the_relation_says_which_plot_would_be(self) -> None:
        book = replace(table(x="x", y="y"), relation="y^2 = k x^3")
        measurement, columns = seen(book)
        found = [p for p in planes_of(measurement, columns, book) if p.is_line]
        self.assertEqual(len(found), 2)
        np.testing.assert_allclose(found[1].z, measurement.y**2, rtol=1e-6)
        across, cubed = found[1].basis[:, 1], np.array(X) ** 3
        np.testing.assert_allclose(across, (cubed - cubed.mean()) / np.ptp(cubed), rtol=1e-6)
        self.assertAlmostEqual(float(line(found[1])[1] / np.ptp(cubed)), 9.0, places=2)

    def test_without_a_relation_there_is_none(self) -> None:
        book = replace(table(x="x", y="y"), relation="")
        self.assertEqual(len([p for p in planes_of(*seen(book), book) if p.is_line]), 1)

    def test_a_plot_that_cannot_be_drawn_is_left_out(self) -> None:
        """One row of a derived quantity has no value; nothing along it has a width."""
        broken = Quantity("y2", "derived", "root", "y_2", formula="sqrt(y - 2)")
        book = replace(table(x="x", y="y2"), relation="")
        book = replace(book, quantities=tuple(broken if q.id == "y2" else q for q in book.quantities))
        self.assertEqual([p for p in planes_of(*seen(book), book) if p.is_line], [])
        flat = replace(table(x="x3", y="y"), relation="")
        level = Quantity("x3", "derived", "level", "x_3", formula="x/x")
        flat = replace(flat, quantities=tuple(level if q.id == "x3" else q for q in flat.quantities))
        self.assertEqual([p for p in planes_of(*seen(flat), flat) if p.is_line], [])


class Squared(unittest.TestCase):
    def squared(self, book: LabBook) -> bool:
        measurement, columns = seen(book)
        return is_squared(columns, book, measurement.column)

    def test_numbers_whose_roots_make_the_plan_straight_are_squared(self) -> None:
        self.assertTrue(self.squared(table(power=3.0)))

    def test_numbers_that_are_straight_or_bent_otherwise_are_not(self) -> None:
        for repeats in (REPEATS, (0.0,)):
            self.assertFalse(self.squared(table(repeats=repeats)), repeats)
        self.assertFalse(self.squared(table(power=0.7)))

    def test_one_straight_plot_clears_the_column_whatever_another_shows(self) -> None:
        book = table(power=3.0, x="x3", y="y")
        self.assertFalse(self.squared(replace(book, graphs=(*book.graphs, Graph("h", "", "x3", "y2")))))

    def test_a_curve_is_not_counted_on_to_be_straight(self) -> None:
        """y = 3 x² is a power, and a finding is its exponent; its roots would be straight."""
        power = (Finding("n", "exponent", "n", "", "n", "f"),)
        book = replace(table(power=2.0, x="x", y="y"), relation="", findings=power)
        self.assertFalse(self.squared(replace(book, fits=(Fit("f", "g", shape="power"),))))
        self.assertTrue(self.squared(replace(book, findings=(replace(power[0], formula="gradient"),))))
        made = replace(table(power=2.0, x="x", y="y2"), relation="")
        self.assertFalse(self.squared(replace(made, fits=(Fit("f", "g", shape="power"),))), "nor of a derived quantity")

    def test_where_a_finding_is_made_from_a_line_only_that_plot_is_counted_on(self) -> None:
        """The first look, half of y against x, is bent in life; with roots of y it would be straight."""
        half = Quantity("h", "derived", "half", "h", "s", formula="y/2")
        found = (Finding("k", "k", "k", "", "gradient", "f"),)
        book = replace(table(power=2.0), relation="", findings=found, graphs=(Graph("first", "", "x", "h"), Graph("g", "", "x3", "y2")))
        book = replace(book, quantities=(*book.quantities, half), fits=(Fit("f", "first"),))
        self.assertTrue(self.squared(book))
        self.assertFalse(self.squared(replace(book, fits=(Fit("f", "g"),))))

    def test_units_of_headings_stay(self) -> None:
        book = table(power=3.0)
        named = tuple(replace(q, unit="s^2") if q.id == "y2" else q for q in book.quantities)
        self.assertTrue(self.squared(replace(book, quantities=named)))

    def test_a_plot_that_cannot_be_judged_does_not_end_the_search(self) -> None:
        """The first graph is of other quantities; the second shows it."""
        book = table(power=3.0)
        other = replace(book.graphs[0], id="other", x="x", y="x3")
        self.assertTrue(self.squared(replace(book, graphs=(other, *book.graphs))))


if __name__ == "__main__":
    unittest.main()
