"""The board: what is straight on it, what the relation says, and what is kept from the eye until the bench has judged."""

from __future__ import annotations

import math
import random
from dataclasses import replace
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.board import draw_board_plot, make_board, same_form
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book

# F. J. Anscombe, “Graphs in Statistical Analysis”, The American Statistician 27, 17 (1973)
X = "10 8 13 9 11 14 6 4 12 7 5".split()
ANSCOMBE = {
    "I": (X, "8.04 6.95 7.58 8.81 8.33 9.96 7.24 4.26 10.84 4.82 5.68".split()),
    "II": (X, "9.14 8.14 8.74 8.77 9.26 8.10 6.13 3.10 9.13 7.26 4.74".split()),
    "III": (X, "7.46 6.77 12.74 7.11 7.81 8.84 6.08 5.39 8.15 6.42 5.73".split()),
    "IV": (["8"] * 7 + ["19"] + ["8"] * 3, "6.58 5.76 7.71 8.84 8.47 7.04 5.25 12.50 5.56 7.91 6.89".split()),
}


def strip() -> LabBook:
    return write_bench(make_plan(), Story(tuple(0.3 + 0.05 * i for i in range(8))), random.Random(3))


class TheBoard(TestCase):
    def test_the_relation_is_found_and_lies_straight(self) -> None:
        board = make_board(strip(), "L", "T", True)
        self.assertEqual((len(board.x_heads), len(board.y_heads)), (9, 8))
        best = board.squares[:3]
        self.assertTrue(all(s.expected and s.verdict == "straight" for s in best))
        meant = {(e.x_form, e.y_form): e for e in board.expected}
        self.assertEqual(meant["v^3", "v^2"].gradient_tex, r"\frac{16\,\pi^{2}\,m}{E\,b\,d^{3}}")
        self.assertEqual(meant["v^3", "v^2"].intercept_tex, "0")
        plain = next(s for s in board.squares if (s.x_form, s.y_form) == ("v", "v"))
        self.assertEqual(plain.verdict, "bends")
        self.assertTrue(all(0 <= d.x <= 1 and 0 <= d.y <= 1 for s in board.squares for d in s.dots))

    def test_two_quantities_of_the_same_readings_are_straight_where_they_are_one_by_definition_and_nowhere_else(self) -> None:
        """z = y²: exact, so what is no line bends; the card of the same axes says the same."""
        rows = [(f"0.{i}00", [f"{1 + 0.37 * i:.2f}"]) for i in range(1, 9)]
        book = lab_book(rows, [Quantity("z", "derived", "z", "z", formula="y^2")], graph=("y", "z"))
        board = make_board(book, "y", "z", True)
        straight = {(s.x_form, s.y_form) for s in board.squares if s.verdict == "straight"}
        self.assertEqual(straight, {("v^2", "v"), ("v", "sqrt(v)"), ("1/v^2", "1/v"), ("1/v", "1/sqrt(v)"), ("ln(v)", "ln(v)")})
        self.assertEqual({s.verdict for s in board.squares}, {"straight", "bends"})
        self.assertEqual(analyse(book).patterns[0].verdict, "bends")

    def test_a_record_that_rises_between_two_levels_and_waves_are_not_called_straight(self) -> None:
        """Without bars: card, square and trail say the same. The middle of such a record lies on its line, and so does that of waves."""
        dice = np.random.default_rng(8)
        t = np.arange(120.0)
        step = 21.3 + np.clip((t - 40) / 40, 0, 1)
        for y, code, stage in (
            (step, "bends_both_ways", "still_bends"), (20 + np.sin(t / 2), "keeps_together", "bend_unknown"),
            (20 + 0.01 * t, "no_pattern", "no_bend_seen"),
        ):  # fmt: skip
            made = lab_book([(f"{at:.0f}", [f"{v:.2f}"]) for at, v in zip(t, y + dice.normal(0, 0.03, t.size), strict=True)])
            book = replace(made, quantities=tuple(replace(q, instrument=None) for q in made.quantities))
            with self.subTest(code):
                shown = analyse(book)
                self.assertEqual([w.code for w in shown.patterns[0].words], [code])
                (straighten,) = [s for s in shown.stages if s.stage == "straighten"]
                self.assertEqual([w.code for w in straighten.words], [stage])
                plain = next(s for s in make_board(book, "x", "y", True).squares if (s.x_form, s.y_form) == ("v", "v"))
                # of a straight one others leave as little
                self.assertEqual(plain.verdict, "bends" if stage == "still_bends" else "unclear")

    def test_an_angle_in_degrees_is_straight_by_its_sine(self) -> None:
        """Refraction, sin i = 1.5 sin r, read to half a degree; against metres there is no sine."""
        angles = [(i, math.degrees(math.asin(math.sin(math.radians(i)) / 1.5))) for i in range(10, 85, 10)]
        made = lab_book([(f"{i}.000", [f"{r + d:.2f}" for d in (-0.3, 0.0, 0.3)]) for i, r in angles])
        x, y = made.quantities
        book = replace(
            made,
            quantities=(replace(x, symbol="i", unit="°"), replace(y, symbol="r", unit="°")),
            relation="sin(i) = n sin(r)",
        )
        board = make_board(book, "x", "y", True)
        squares = {(s.x_form, s.y_form): s for s in board.squares}
        self.assertEqual((squares["sin(v)", "sin(v)"].verdict, squares["sin(v)", "sin(v)"].expected), ("straight", True))
        self.assertEqual(squares["v", "v"].verdict, "bends")
        self.assertIn(r"\sin", next(e for e in board.expected if (e.x_form, e.y_form) == ("sin(v)", "sin(v)")).axes_tex)
        plot = draw_board_plot(book, "x", "y", "sin(v)", "sin(v)")
        figure = plot.graph.figure
        assert figure is not None
        self.assertLess(max(p.x for p in figure.series[0].points), 1.0)
        self.assertEqual(plot.pattern.verdict, "straight")
        of_lengths = replace(book, quantities=(replace(x, symbol="i"), replace(y, symbol="r", unit="m")))
        self.assertNotIn("sin(v)", {s.x_form for s in make_board(of_lengths, "x", "y", True).squares})

    def test_nothing_is_judged_before_the_bench_has(self) -> None:
        board = make_board(strip(), "L", "T", False)
        self.assertEqual({(s.verdict, s.curvature_t, s.reduced_chi2) for s in board.squares}, {(None, "", "")})
        self.assertTrue(all(s.signs for s in board.squares))

    def test_large_it_says_what_the_line_of_the_graph_says(self) -> None:
        book = strip()
        plot, kept = draw_board_plot(book, "L", "T", "v^3", "v^2"), analyse(book)
        pattern = next(p for p in kept.patterns if p.graph == "straight")
        self.assertEqual(
            (plot.pattern.signs, plot.pattern.curvature_t, plot.pattern.reduced_chi2),
            (pattern.signs, pattern.curvature_t, pattern.reduced_chi2),
        )
        drawn = draw_board_plot(book, "L", "T", "1/v", "ln(v)").graph.figure
        assert drawn is not None
        self.assertEqual("".join(r.text for r in drawn.y_axis.label), "ln(T)")
        self.assertEqual("".join(r.text for r in drawn.x_axis.label), "1/L / m⁻¹")

    def test_what_is_there_already_is_used(self) -> None:
        book = strip()
        found = same_form(book, book.quantity("L"), "v^3")
        self.assertEqual(found.id if found else "", "L3")
        self.assertIsNone(same_form(book, book.quantity("L"), "ln(v)"))

    def test_what_has_no_board(self) -> None:
        few = lab_book([("0.100", ["1.0"]), ("0.200", ["2.0"]), ("0.300", ["3.0"])])
        with self.assertRaises(CoreError) as caught:
            make_board(few, "x", "y", True)
        self.assertEqual(caught.exception.code, "too_few_points")
        with self.assertRaises(CoreError):
            draw_board_plot(strip(), "L", "T", "v^7", "v")

    def test_values_below_zero_have_no_logarithm_and_no_root(self) -> None:
        rows = [(f"{x:.3f}", [f"{y:.2f}"]) for x, y in ((0.1, -2.0), (0.2, -1.0), (0.3, 0.0), (0.4, 1.1), (0.5, 2.0))]
        board = make_board(lab_book(rows), "x", "y", True)
        self.assertEqual([h.form for h in board.y_heads], ["v", "v^2", "v^3"])


class Anscombe(TestCase):
    """Four sets with one and the same r², which look nothing alike on the board."""

    def test_the_same_r2_and_four_different_patterns(self) -> None:
        judged = {}
        for name, (x, y) in ANSCOMBE.items():
            book = lab_book([(a, [b]) for a, b in zip(x, y, strict=True)])
            plot = draw_board_plot(book, "x", "y", "v", "v")
            r = np.corrcoef([float(a) for a in x], [float(b) for b in y])[0, 1]
            self.assertAlmostEqual(r**2, 0.67, 2)
            judged[name] = (plot.pattern.signs, plot.pattern.bends)
        self.assertTrue(judged["II"][1])
        self.assertFalse(judged["I"][1])
        self.assertEqual(len({signs for signs, _ in judged.values()}), 4)
