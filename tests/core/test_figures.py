"""Axes: ticks that people can read, whatever the range; and the figures that are made of them."""

from __future__ import annotations

import math
import random
import unittest
from dataclasses import replace
from itertools import pairwise

from hypothesis import example, given
from hypothesis import strategies as st

from hobrel.core.document.lab_book import Moment
from hobrel.core.formulas.typeset import RichRun, plain_text
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.equations import find_free_corner
from hobrel.core.presentation.figures import Figure, FigurePoint, ModelLine, make_axis, make_log_axis
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
        self.assertRegex(figure.series[0].points[0].label, r"^At L = 0.300 m: L³ = 0\.027\d* ± 0\.0\d+ m³, T² = ")

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


class WhatIsFittedOnThem(unittest.TestCase):
    """Equations on graphs, and fits that are not drawn."""

    def figure(self, **fit: object) -> Figure:
        story = Story(tuple(round(0.3 + 0.05 * i, 3) for i in range(8)), formula="t_10/10")
        book = write_bench(make_plan(), story, random.Random(3))
        book = replace(book, fits=(replace(book.fits[0], **fit),))  # type: ignore[arg-type]
        found = analyse(book)
        figure = next(g.figure for g in found.graphs if g.graph == book.fits[0].graph)
        assert figure is not None
        return figure

    def test_the_equation_has_the_numbers_of_the_card(self) -> None:
        self.assertEqual(self.figure().equations, ())
        figure = self.figure(show_equation=True)
        (equation,) = figure.equations
        self.assertRegex(plain_text(equation.text), r"^T² = \(\d\.\d\d s²/m³\) L³ [+−] 0\.\d+ s²$")
        self.assertIsNone(equation.look)
        # the points rise from the lower left to the upper right
        self.assertEqual(figure.corner, "top_left")
        power = self.figure(show_equation=True, shape="power").equations[0]
        self.assertRegex(plain_text(power.text), r"^T² = \(\d\.\d+ s²\) \(L³\)[⁰¹]\.[⁰¹²³⁴-⁹]+$")

    def test_what_falls_is_written_where_nothing_is(self) -> None:
        x = y = make_axis((), 0, 1)
        falling = [FigurePoint(str(i), i / 10, 1 - i / 10, 0, 0, "") for i in range(11)]
        self.assertEqual(find_free_corner(x, y, falling, (), False), "top_right")
        self.assertEqual(find_free_corner(x, y, falling, (ModelLine("fit", (0, 1), (1, 0)),), False), "top_right")
        rising = [replace(p, y=p.x) for p in falling]
        self.assertEqual(find_free_corner(x, y, rising, (), False), "top_left")
        self.assertEqual(find_free_corner(x, y, rising, (), True), "bottom_right")
        low = [replace(p, y=0.02) for p in falling]
        self.assertEqual(find_free_corner(x, y, low, (), True), "top_right")

    def test_a_hidden_fit_is_not_drawn_and_keeps_its_numbers(self) -> None:
        figure = self.figure(hidden=True, show_equation=True)
        self.assertEqual((figure.lines, figure.bands, figure.residual_axis, figure.equations), ((), (), None, ()))
        self.assertTrue(all(p.residual is None for s in figure.series for p in s.points))


class Strip(unittest.TestCase):
    def test_it_is_called_by_the_word_where_that_and_its_unit_have_room(self) -> None:
        rows = [("1", ["1.02"]), ("2", ["1.97"]), ("3", ["3.01"]), ("4", ["4.02"])]
        for unit, called in (("s", "residual / s"), ("", "residual"), ("kg m^2/s^2", "res. / (kg m²/s²)")):
            with self.subTest(unit):
                book = lab_book(rows)
                changed, measured = book.quantities
                book = replace(book, quantities=(changed, replace(measured, unit=unit, instrument=None)))
                figure = analyse(book).graphs[0].figure
                assert figure is not None and figure.residual_axis is not None
                self.assertEqual(plain_text(figure.residual_axis.label), called)


class Moments(unittest.TestCase):
    def test_stand_on_every_graph_that_has_their_quantity_along_x_and_room_for_them(self) -> None:
        book = lab_book([("1", ["1"]), ("2", ["2"]), ("3", ["3"])])
        first = book.graphs[0]
        other = replace(first, id="other", x=first.y, y=first.x)
        marked = (Moment("m", "release", first.x, 1.5), Moment("n", "long after", first.x, 300.0))
        figures = [g.figure for g in analyse(replace(book, graphs=(first, other), moments=marked)).graphs]
        shown = [[(m.id, m.name, m.x) for m in f.moments] for f in figures if f is not None]
        self.assertEqual(shown, [[("m", "release", 1.5)], []])


class Logarithmic(unittest.TestCase):
    """Equal lengths for equal factors."""

    def ticks(self, low: float, high: float) -> list[str]:
        return [t.text for t in make_log_axis((), low, high).ticks]

    def test_ticks_at_powers_of_ten_and_between_where_there_are_few(self) -> None:
        self.assertEqual(self.ticks(1, 1e4), ["1", "10", "100", "1000", "10000"])
        self.assertEqual(self.ticks(0.02, 3), ["0.03", "0.1", "0.3", "1", "3"])
        self.assertEqual(self.ticks(2, 40), ["3", "10", "30"])
        self.assertEqual(self.ticks(4, 21), ["5", "10", "20"])
        self.assertEqual(self.ticks(1e-7, 1e-2), ["10⁻⁷", "10⁻⁶", "10⁻⁵", "10⁻⁴", "0.001", "0.01"])
        self.assertEqual(self.ticks(3e5, 4e6), ["3×10⁵", "10⁶", "3×10⁶"])
        # 24 decades: every third or so
        self.assertLessEqual(len(self.ticks(1e-12, 1e12)), 13)
        # less than a decade: even steps
        self.assertEqual(self.ticks(40, 60), ["40", "45", "50", "55", "60"])
        # whose numbers are read with the power of ten that stands beside them
        large = make_log_axis((), 1.2e6, 1.9e6)
        self.assertEqual(plain_text(large.label).strip(), "×10⁶")
        self.assertEqual([float(t.text) * 1e6 for t in large.ticks], [round(t.value) for t in large.ticks])

    @given(st.floats(1e-9, 1e9), st.floats(1, 1e9))
    @example(1.0, 1.0000000000000002)
    @example(3.0, 1.0 + 2e-9)
    def test_all_within_and_in_order(self, low: float, factor: float) -> None:
        axis = make_log_axis((), low, low * factor)
        shares = [float(axis.share(t.value)) for t in axis.ticks]
        self.assertGreaterEqual(len(shares), 3)
        self.assertEqual(shares, sorted(shares))
        self.assertTrue(all(-1e-9 <= s <= 1 + 1e-9 for s in shares))
        self.assertTrue(0 < float(axis.share(low)) <= float(axis.share(low * factor)) < 1)
        self.assertEqual(float(axis.share(0.0)), -math.inf)
        self.assertEqual(float(axis.share(-3.0)), -math.inf)

    def test_halfway_is_the_geometric_mean(self) -> None:
        axis = make_log_axis((), 1, 10, fixed=(1, 100))
        self.assertEqual((axis.low, axis.high), (1, 100))
        self.assertAlmostEqual(float(axis.share(10.0)), 0.5)
        self.assertEqual([round(float(v), 6) for v in axis.places(0, 100, 3)], [1, 10, 100])
        # an end that is not above zero is none
        self.assertGreater(make_log_axis((), 1, 10, fixed=(-5, 100)).low, 0)

    def result(self, ys: list[str], **graph: object) -> GraphResult:
        book = lab_book([(f"{x}", (y,)) for x, y in enumerate(ys, 1)])
        return analyse(replace(book, graphs=(replace(book.graphs[0], **graph),))).graphs[0]  # type: ignore[arg-type]

    def test_an_exponential_is_straight_on_it_and_a_line_is_bent(self) -> None:
        result = self.result(["2", "4", "8", "16", "32"], y_log=True)
        figure = result.figure
        assert figure is not None
        self.assertTrue(figure.y_axis.log)
        self.assertFalse(figure.x_axis.log)
        shares = [float(figure.y_axis.share(p.y)) for p in figure.series[0].points]
        steps = [b - a for a, b in pairwise(shares)]
        self.assertAlmostEqual(max(steps), min(steps))
        line = next(model for model in figure.lines if model.kind == "fit")
        self.assertGreater(len(line.x), 60)
        self.assertTrue(all(y > 0 for y in line.y))

    def test_what_has_no_place_is_said(self) -> None:
        result = self.result(["0", "-1", "8", "16", "32"], y_log=True)
        assert result.figure is not None
        self.assertEqual(len(result.figure.series[0].points), 3)
        self.assertIn("2 points are not above zero", told(result.remarks))
        self.assertNotIn("outside", told(result.remarks))
        nothing = self.result(["-1", "-2", "-3"], y_log=True)
        assert nothing.figure is not None
        self.assertFalse(nothing.figure.y_axis.log)
        self.assertIn("Nothing along y is above zero", told(nothing.remarks))
        both = self.result(["1", "2", "3", "5"], x_log=True, y_log=True, origin=True)
        assert both.figure is not None
        self.assertGreater(both.figure.x_axis.low, 0)
