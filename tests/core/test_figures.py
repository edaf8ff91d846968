"""Axes: ticks that people can read, whatever the range; and the figures that are made of them."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from hobrel.core.formulas.typeset import RichRun, plain_text
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.figures import make_axis
from hobrel.core.presentation.results import GraphResult
from hobrel.core.rounding import MINUS
from hobrel.core.sentences import told
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book

RANGES = st.tuples(st.floats(-1e6, 1e6), st.floats(1e-9, 1e6)).filter(lambda r: r[1] > 1e-9 * abs(r[0]))


class Axes(unittest.TestCase):
    @given(RANGES, st.integers(3, 9), st.booleans())
    def test_ticks(self, span: tuple[float, float], wanted: int, origin: bool) -> None:
        low, high = span[0], span[0] + span[1]
        axis = make_axis((), low, high, wanted, origin)
        self.assertLessEqual(axis.low, low)
        self.assertGreaterEqual(axis.high, high)
        if origin:
            self.assertTrue(axis.low <= 0 <= axis.high)
        values, texts = [t.value for t in axis.ticks], [t.text for t in axis.ticks]
        self.assertTrue(3 <= len(values) <= 3 * wanted)
        self.assertEqual(values, sorted(values))
        self.assertEqual(len(set(texts)), len(texts), texts)
        room = 1e-9 * (axis.high - axis.low)
        self.assertTrue(all(axis.low - room <= v <= axis.high + room for v in values))
        self.assertTrue(all(len(t) <= 13 and "e" not in t and "-" not in t and t not in (f"{MINUS}0", f"{MINUS}0.0") for t in texts), texts)

    def test_the_name_stands_before_the_symbol_where_there_is_room(self) -> None:
        axis = replace(make_axis((RichRun("T", "italic"), RichRun(" / s")), 0, 4), name="period")
        self.assertEqual([plain_text(axis.titled(width)) for width in (13, 12.9)], ["period, T / s", "T / s"])
        self.assertEqual(plain_text(replace(axis, name="").titled(99)), "T / s")

    def test_a_common_power_of_ten_goes_into_the_label(self) -> None:
        self.assertIn("×10⁻⁵", plain_text(make_axis((), 1e-5, 6e-5).label))
        self.assertIn("×10⁶", plain_text(make_axis((), 0, 4.2e6).label))
        self.assertEqual(plain_text(make_axis((), 0, 40).label), "")

    def test_one_value_alone_has_an_axis_too(self) -> None:
        for value in (0.0, 5.0, -3e-7):
            axis = make_axis((), value, value)
            self.assertTrue(axis.low < value < axis.high)
        # a tenth to either side, and a twentieth of that as room
        axis = make_axis((), 50.0, 50.0)
        self.assertAlmostEqual(axis.low, 44.5)
        self.assertAlmostEqual(axis.high, 55.5)

    def test_an_end_chosen_where_the_axis_would_begin_or_end(self) -> None:
        """As much room as the points take stays on its other side."""
        axis = make_axis((), 0.0, 10.0, fixed=(10.5, None))
        self.assertEqual((axis.low, axis.high), (10.5, 21.5))
        axis = make_axis((), 0.0, 10.0, fixed=(None, -0.5))
        self.assertEqual((axis.low, axis.high), (-11.5, -0.5))


class Figures(unittest.TestCase):
    def test_what_a_screen_reader_hears(self) -> None:
        figure = analyse(write_bench(make_plan(), Story((0.3, 0.4, 0.5, 0.6, 0.65)), random.Random(2))).graphs[1].figure
        assert figure is not None
        self.assertRegex(told(figure.summary), r"^Graph of T² / s² against L³ / m³, 5 points\. .+\.$")
        alone = analyse(lab_book([("0.10", ["1.0"])])).graphs[0].figure
        assert alone is not None
        self.assertIn(", 1 point.", told(alone.summary))
        self.assertRegex(figure.series[0].points[0].label, r"^Setting 1: L³ = 0\.027\d* ± 0\.0\d+ m³, T² = ")

    def test_everything_drawn_lies_within_the_axes(self) -> None:
        for seed in range(5):
            for graph in analyse(write_bench(make_plan(), Story((0.3, 0.38, 0.5, 0.6, 0.65)), random.Random(seed))).graphs:
                figure = graph.figure
                assert figure is not None
                for p in figure.series[0].points:
                    self.assertTrue(figure.x_axis.low <= p.x - p.ux and p.x + p.ux <= figure.x_axis.high)
                    self.assertTrue(figure.y_axis.low <= p.y - p.uy and p.y + p.uy <= figure.y_axis.high)


class ChosenRanges(unittest.TestCase):
    """A range that somebody has chosen is kept exactly, and what it leaves out is said."""

    ROWS = [(f"0.{i}00", [f"{1.5 * i:.2f}"]) for i in range(1, 9)]

    def graph(self, **ends: float) -> GraphResult:
        book = lab_book(self.ROWS)
        return analyse(replace(book, graphs=(replace(book.graphs[0], **ends),))).graphs[0]  # type: ignore[arg-type]

    def test_the_ends_are_kept_and_points_outside_are_said(self) -> None:
        drawn = self.graph(x_low=0.0, x_high=0.55, y_low=0.0)
        assert drawn.figure is not None
        self.assertEqual((drawn.figure.x_axis.low, drawn.figure.x_axis.high, drawn.figure.y_axis.low), (0.0, 0.55, 0.0))
        self.assertEqual(len(drawn.figure.series[0].points), 5)
        self.assertEqual(drawn.remarks[0].text, "3 points lie outside what is shown. A fit uses them all the same.")
        self.assertTrue(all(0.0 <= t.value <= 0.55 for t in drawn.figure.x_axis.ticks))

    def test_one_end_beyond_all_points_still_gives_an_axis(self) -> None:
        drawn = self.graph(x_low=2.0)
        assert drawn.figure is not None
        self.assertGreater(drawn.figure.x_axis.high, 2.0)
        self.assertEqual(len(drawn.figure.series[0].points), 0)
