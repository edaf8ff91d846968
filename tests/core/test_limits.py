"""On which side of its limit a word changes: straightness, scatter, axes and their ticks, corners, a class's consistency, a rounding."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.stats import chi2 as chi_squared
from scipy.stats import f as fisher
from scipy.stats import norm
from scipy.stats import t as student

from hobrel.core.document.lab_book import Accepted, Finding
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import Bend, chance_of_bend, swings
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.straightness import Bars, judge_points, judge_scatter, judge_straight
from hobrel.core.presentation.equations import find_free_corner
from hobrel.core.presentation.figures import Axis, FigurePoint, ModelLine, make_axis, make_log_axis, make_named_axis
from hobrel.core.presentation.judging import judge_rounding
from hobrel.core.presentation.pool import present_pool
from hobrel.core.presentation.shares import BenchShare, SharedFinding

TIGHT = 1e-6


def bend(t: float = 0.0, z: float | None = None, sag: float = 0.0) -> Bend:
    return Bend(t, 0.0, z, sag)


class Scatter(unittest.TestCase):
    def test_of_known_bars_by_chi_squared_two_and_a_half_per_cent_on_each_side(self) -> None:
        for dof in (1, 4, 9):
            high, low = float(chi_squared.isf(0.025, dof)), float(chi_squared.ppf(0.025, dof))
            said = [judge_scatter(v, dof, math.inf) for v in (high * (1 + TIGHT), high * (1 - TIGHT), low * (1 + TIGHT), low * (1 - TIGHT))]
            self.assertEqual(said, ["more", "fits", "fits", "less"])

    def test_of_bars_from_repeats_by_f(self) -> None:
        for dof, behind in ((4, 10.0), (7, 3.5)):
            high, low = (dof * float(fisher.ppf(p, dof, behind)) for p in (0.975, 0.025))
            said = [judge_scatter(v, dof, behind) for v in (high * (1 + TIGHT), high * (1 - TIGHT), low * (1 + TIGHT), low * (1 - TIGHT))]
            self.assertEqual(said, ["more", "fits", "fits", "less"])

    def test_without_bars_or_points_to_spare_nobody_knows(self) -> None:
        self.assertEqual([judge_scatter(None, 5, math.inf), judge_scatter(3.0, 0, math.inf)], ["unknown", "unknown"])
        self.assertEqual(judge_scatter(1.0, 1, math.inf), "fits")


class Straightness(unittest.TestCase):
    def test_chance_of_a_bend_is_student_s_on_both_sides(self) -> None:
        for t, n in ((2.3, 6), (-1.1, 12)):
            self.assertAlmostEqual(chance_of_bend(bend(t), n), 2 * float(student.sf(abs(t), n - 3)), places=12)

    def test_a_bend_both_ways_counts_where_it_is_ten_times_less_likely(self) -> None:
        for n in (8, 30):
            limit = float(student.isf(0.0025, n - 4))
            both = [Bend(0.0, s * limit * (1 + off), None, 0.0) for s in (1, -1) for off in (TIGHT, -TIGHT)]
            self.assertEqual([judge_straight(b, n, "unknown", math.inf) for b in both], ["bends", "straight"] * 2)
            self.assertEqual([swings(b, n) for b in both], [True] * 4)
        one_way = Bend(9.0, 4.0, None, 0.0)
        self.assertEqual((swings(one_way, 20), chance_of_bend(one_way, 20)), (False, chance_of_bend(bend(9.0), 20)))

    def test_points_that_bend_both_ways_are_told_from_eight_on(self) -> None:
        for n, said in ((7, "straight"), (8, "bends"), (1200, "bends")):
            x = np.linspace(-1, 1, n)
            self.assertEqual(judge_points(x, x + 0.2 * (x**3 - x), None), said)
            self.assertEqual(judge_points(x, x - 0.2 * (x**3 - x), None), said)
            self.assertEqual(judge_points(x, 3 * x + 1, None), "straight")

    def test_neighbours_that_keep_together_leave_it_open(self) -> None:
        """Von Neumann's ratio, one in a thousand: 2 − 3.09 √(4 (n − 2)/(n² − 1)). Waves bend as often one way as the other."""
        x = np.arange(400.0)
        limit = 2 - float(norm.isf(0.001)) * math.sqrt(4 * 398 / (400**2 - 1))
        for ratio, said in ((limit * 1.01, "straight"), (limit * 0.99, "unknown")):
            # neighbours of a cosine differ by 2 (1 − cos ω) of its mean square
            wave = np.cos(math.acos(1 - ratio / 2) * (x - x.mean()))
            self.assertEqual(judge_points(x, 0.01 * x + wave, None), said)
            self.assertEqual(judge_points(x[::-1], 0.01 * x + wave, None), said)

    def test_without_bars_from_six_points_by_five_per_cent(self) -> None:
        for n in (6, 11):
            limit = float(student.isf(0.025, n - 3))
            said = [judge_straight(bend(s * limit * (1 + off)), n, "unknown", math.inf) for s in (1, -1) for off in (TIGHT, -TIGHT)]
            self.assertEqual(said, ["bends", "straight", "bends", "straight"])
        self.assertEqual([judge_straight(bend(t), 5, "unknown", math.inf) for t in (50.0, -50.0, 1e6)], ["unknown", "unknown", "bends"])
        self.assertEqual(judge_straight(None, 9, "fits", math.inf), "unknown")

    def test_with_bars_by_what_they_hide(self) -> None:
        limit = float(norm.isf(0.0125))
        said = [judge_straight(bend(z=s * limit * (1 + off)), 8, "fits", math.inf) for s in (1, -1) for off in (TIGHT, -TIGHT)]
        self.assertEqual(said, ["bends", "straight", "bends", "straight"])
        limit = float(student.isf(0.0125, 6.0))
        self.assertEqual([judge_straight(bend(z=limit * (1 + off)), 4, "less", 6.0) for off in (TIGHT, -TIGHT)], ["bends", "straight"])
        self.assertEqual([judge_straight(bend(z=0.0, sag=s), 8, "fits", math.inf) for s in (0.0299, 0.0301)], ["straight", "unknown"])

    def test_bars_that_the_points_do_not_keep_to_say_nothing_but_a_clear_bend_does(self) -> None:
        self.assertEqual([judge_straight(bend(t, 9.0), 8, "more", math.inf) for t in (0.5, 9.0)], ["unknown", "bends"])

    def test_points_of_one_source_are_straight_where_they_lie_on_a_line_but_for_rounding(self) -> None:
        x = np.arange(1.0, 8.0)
        one = Bars(0.1 * np.ones(7), 0.2 * np.ones(7), np.ones(7), math.inf)
        self.assertEqual([judge_points(x, y, one) for y in (2 * x, 2 * x + 1e-9 * x**2, x**2)], ["straight", "bends", "bends"])
        self.assertEqual(judge_points(x, 2 * x, replace(one, correlation=-np.ones(7))), "straight")

    def test_errors_that_run_along_the_line_are_nothing_to_weigh_by(self) -> None:
        x = np.arange(1.0, 8.0)
        nearly = Bars(np.full(7, 0.1), np.full(7, 0.2), np.full(7, 1 - 1e-13), math.inf)
        self.assertTrue(nearly.run_along(2.0))
        self.assertFalse(nearly.run_along(2.1))
        self.assertFalse(nearly.run_along(-2.0))
        self.assertFalse(Bars(np.zeros(7), np.zeros(7), np.zeros(7), math.inf).run_along(1.0), "no bars do not run anywhere")
        self.assertFalse(replace(nearly, x=np.zeros(7)).run_along(2.0))
        np.testing.assert_allclose(Bars(0.3 * np.ones(7), 0.4 * np.ones(7), np.zeros(7), 1.0).along_y(1.0), 0.5)
        np.testing.assert_allclose(fit_line(x, 2 * x).gradient, 2)

    def test_bars_in_x_alone_count(self) -> None:
        x = np.arange(1.0, 8.0)
        wide = Bars(np.full(7, 0.5), np.zeros(7), np.zeros(7), math.inf)
        bent = x + 0.05 * (x - 4) ** 2
        self.assertEqual(judge_points(x, bent, None), "bends")
        self.assertNotEqual(judge_points(x, bent, wide), "bends")
        self.assertEqual(judge_points(x, bent, replace(wide, x=np.zeros(7))), "bends")


class Axes(unittest.TestCase):
    def ends(self, axis: Axis) -> tuple[float, float]:
        return round(axis.low, 9), round(axis.high, 9)

    def test_a_twentieth_of_room_on_either_side_unless_the_origin_or_an_end_is_wanted(self) -> None:
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0)), (1.9, 4.1))
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0, origin=True)), (0.0, 4.2))
        self.assertEqual(self.ends(make_axis((), -4.0, -2.0, origin=True)), (-4.2, 0.0))
        self.assertEqual(self.ends(make_axis((), -1.0, 3.0, origin=True)), (-1.2, 3.2))
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0, fixed=(0.0, None))), (0.0, 4.1))
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0, fixed=(None, 5.0))), (1.9, 5.0))

    def test_one_value_has_a_tenth_of_itself_around_it_and_nought_one(self) -> None:
        self.assertEqual(self.ends(make_axis((), 5.0, 5.0)), (4.45, 5.55))
        self.assertEqual(self.ends(make_axis((), -5.0, -5.0)), (-5.55, -4.45))
        self.assertEqual(self.ends(make_axis((), 0.0, 0.0)), (-1.1, 1.1))

    def test_an_end_beyond_the_points_keeps_as_much_room_on_its_other_side(self) -> None:
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0, fixed=(6.0, None))), (6.0, 8.2))
        self.assertEqual(self.ends(make_axis((), 2.0, 4.0, fixed=(None, 1.0))), (-1.2, 1.0))

    def test_ticks_are_at_one_two_or_five_and_say_no_more_than_they_need(self) -> None:
        self.assertEqual([t.text for t in make_axis((), 0.0, 1.0, fixed=(0.0, 1.0)).ticks], ["0", "0.2", "0.4", "0.6", "0.8", "1.0"])
        self.assertEqual([t.text for t in make_axis((), 0.0, 99.0, fixed=(0.0, 99.0)).ticks], ["0", "20", "40", "60", "80"])
        self.assertEqual([t.text for t in make_axis((), 10.0, 11.0, 3).ticks], ["10.0", "10.5", "11.0"])
        self.assertEqual([t.value for t in make_axis((), -1.0, 1.0, 3, fixed=(-1.0, 1.0)).ticks], [-1.0, 0.0, 1.0])
        self.assertEqual(len(make_axis((), 0.0, 0.9, 1, fixed=(0.0, 0.9)).ticks), 5)

    def test_a_power_of_ten_from_a_hundred_thousand_up_and_below_a_thousandth(self) -> None:
        def power(high: float) -> str:
            return "".join(r.text for r in make_axis((), 0.0, high, fixed=(0.0, high)).label).strip()

        self.assertEqual([power(v) for v in (99_000.0, 100_000.0, 2.5e6, 0.001, 0.0009)], ["", "×10⁵", "×10⁶", "", "×10⁻⁴"])

    def test_a_range_that_no_ticks_can_be_counted_out_on(self) -> None:
        for low, high in ((0.0, 1e260), (0.0, 1e-260)):
            with self.assertRaises(CoreError):
                make_axis((), low, high)

    def test_logarithmic_ends_and_ticks(self) -> None:
        axis = make_log_axis((), 1.0, 100.0)
        self.assertEqual(self.ends(axis), (round(100**-0.05, 9), round(100**1.05, 9)))
        self.assertEqual(self.ends(make_log_axis((), 3.0, 3.0)), (2.0, 4.5))
        self.assertEqual(self.ends(make_log_axis((), 3.0, 300.0, fixed=(1.0, 1000.0))), (1.0, 1000.0))
        self.assertEqual(self.ends(make_log_axis((), 3.0, 3.0, fixed=(0.0, -1.0))), (2.0, 4.5))
        self.assertEqual(self.ends(make_log_axis((), 1.0, 2.0, fixed=(5.0, None))), (5.0, 50.0))
        self.assertEqual(self.ends(make_log_axis((), 1.0, 2.0, fixed=(None, 0.5))), (0.05, 0.5))
        self.assertEqual(
            [t.text for t in make_log_axis((), 1e-5, 1e6, 3, fixed=(1e-5, 1e6)).ticks], ["10⁻⁵", "0.001", "0.1", "10", "1000", "10⁵"]
        )
        self.assertEqual([t.value for t in make_log_axis((), 1.0, 30.0, fixed=(1.0, 30.0)).ticks], [1.0, 3.0, 10.0, 30.0])
        self.assertTrue(make_log_axis((), 41.0, 43.0).log)

    def test_kinds_have_as_much_room_each(self) -> None:
        axis = make_named_axis((), ["a", "b", "c"])
        self.assertEqual((axis.low, axis.high, [t.value for t in axis.ticks]), (0.5, 3.5, [1.0, 2.0, 3.0]))
        self.assertEqual(make_named_axis((), []).high, 1.5)


class Corners(unittest.TestCase):
    X = Y = make_axis((), 0.0, 1.0, fixed=(0.0, 1.0))

    def corner(self, *places: tuple[float, float], several: bool = False, lines: tuple[ModelLine, ...] = ()) -> str:
        points = [FigurePoint(str(i), x, y, 0, 0, "") for i, (x, y) in enumerate(places)]
        return find_free_corner(self.X, self.Y, points, lines, several)

    def test_upper_left_unless_something_stands_there(self) -> None:
        self.assertEqual(self.corner(), "top_left")
        taken = [(0.25, 0.9), (0.49, 0.9), (0.0, 0.81), (0.0, 1.0)]
        self.assertEqual([self.corner(place) for place in taken], ["bottom_right"] * 4)
        self.assertEqual([self.corner(place) for place in ((0.25, 0.79), (0.51, 0.9), (0.25, 1.01), (0.25, 0.1))], ["top_left"] * 4)

    def test_each_of_the_others_in_turn(self) -> None:
        low_right, high_right, low_left = (0.75, 0.1), (0.75, 0.9), (0.25, 0.1)
        self.assertEqual(self.corner((0.25, 0.9), low_right), "top_right")
        self.assertEqual(self.corner((0.25, 0.9), low_right, high_right), "bottom_left")
        self.assertEqual(self.corner((0.25, 0.9), (0.25, 0.9), low_right, low_left, high_right), "bottom_right")
        # just not in the way: above a fifth, left of the middle, below the plot
        for free in ((0.75, 0.21), (0.49, 0.1), (0.75, -0.01)):
            self.assertEqual(self.corner((0.25, 0.9), free), "bottom_right", free)
        for taken in ((0.75, 0.19), (0.51, 0.1), (0.75, 0.0)):
            self.assertEqual(self.corner((0.25, 0.9), taken), "top_right", taken)
        self.assertEqual(self.corner(several=True), "bottom_right")

    def test_a_point_weighs_as_much_as_three_places_of_a_line(self) -> None:
        """A line of forty pieces: of one from side to side half of its places stand in a corner."""
        high = ModelLine("fit", (0.0, 1.0), (0.9, 0.9))
        others = [(x, 0.1) for x in (0.25, 0.75)]
        self.assertEqual(self.corner(*(others * 6), lines=(high,)), "bottom_right")
        self.assertEqual(self.corner(*(others * 7), lines=(high,)), "top_left")


def pooled(values: tuple[tuple[float, float], ...], accepted: Accepted | None = None) -> Any:
    finding = Finding("k", "stiffness", "k", "N/m", "gradient", "f", accepted)
    shares = [BenchShare(f"b{i}", "one_or_two", {"k": SharedFinding(v, u)}, None) for i, (v, u) in enumerate(values)]
    return present_pool(finding, shares)


class Pools(unittest.TestCase):
    def test_consistency_in_words_on_both_sides_of_one_in_twenty_and_one_in_a_thousand(self) -> None:
        """Two benches d apart with ± 1 each: χ² = d²/2 with one degree of freedom."""
        for p, words in ((0.051, "no more than"), (0.049, "more than their own")):
            apart = math.sqrt(2 * float(chi_squared.isf(p, 1)))
            (said,) = pooled(((20.0, 1.0), (20.0 + apart, 1.0))).consistency
            self.assertIn(words, said.text)
            self.assertIn(f"exceed in {100 * p:.1f} % of cases", said.text)
        texts = []
        for p in (0.0011, 0.0009):
            apart = math.sqrt(2 * float(chi_squared.isf(p, 1)))
            (said,) = pooled(((20.0, 1.0), (20.0 + apart, 1.0))).consistency
            texts.append(said.text.split("exceed in ")[1])
        self.assertEqual(texts, ["0.11 % of cases.", "less than 0.1 % of cases."])

    def test_two_benches_have_more_class_values_than_one(self) -> None:
        one, two = pooled(((20.0, 1.0),)), pooled(((20.0, 1.0), (21.0, 1.0)))
        # a mean of one value would have no ±, and digits of its own
        self.assertEqual([(v.name, v.value.text, v.recommended) for v in one.values], [("The finding", "20.0 ± 1.0 N/m", True)])
        self.assertEqual([v.kind for v in two.values], ["mean", "weighted", "mandel_paule", "median"])
        self.assertEqual((one.consistency, one.spread[0].text, one.counted[0].text), ((), "One bench so far.", "of one bench"))
        self.assertEqual(two.counted[0].text, "of 2 benches")

    def test_an_accepted_value_with_and_without_its_uncertainty(self) -> None:
        both = pooled(((20.0, 1.0),), Accepted("2.05", "0.04", "a table"))
        self.assertEqual((both.accepted.value, both.accepted.u, both.number_line.marks[-1].u), (2.05, 0.04, 0.04))
        bare = pooled(((20.0, 1.0),), Accepted("20500 mN/m", "", ""))
        self.assertEqual((bare.accepted.value, bare.accepted.u, bare.number_line.marks[-1].u), (20.5, None, 0.0))
        for missing in (None, Accepted(" ", "", ""), Accepted("many", "", "")):
            self.assertIsNone(pooled(((20.0, 1.0),), missing).accepted)


RIGHT = "Right: the uncertainty to one figure, and the value to the same place."


class Rounding(unittest.TestCase):
    def judged(self, text: str, value: float = 12.43, u: float = 0.31, unit: str = "m") -> str:
        found = judge_rounding(text, value, u, unit, "one")
        return found.words[0].text if found.right else found.words[0].code

    def test_figures_are_counted_as_they_are_meant(self) -> None:
        self.assertEqual(self.judged("12.4 ± 0.3"), RIGHT)
        # thirty and three hundred have one figure that counts, 1.0 has two
        self.assertEqual(self.judged("1240 ± 30", 1243.0, 31.0), RIGHT)
        self.assertEqual(self.judged("12 ± 3", 12.43, 3.1), RIGHT)
        self.assertEqual(self.judged("12400 ± 300", 12430.0, 310.0), RIGHT)

    def test_what_is_wrong_is_named(self) -> None:
        for text, code in (
            ("12.43 ± 0.31", "rounding_u_figures"),
            ("12.43 ± 0.3", "rounding_places"),
            ("12 ± 0.3", "rounding_places"),
            ("12.5 ± 0.3", "rounding_value_wrong"),
            ("12.4 ± 0.2", "rounding_u_wrong"),
            ("12.4 ± 0", "rounding_u_not_positive"),
            ("12.4 ± 0.46", "rounding_u_wrong"),
        ):
            self.assertEqual(self.judged(text), code, text)

    def test_powers_and_units(self) -> None:
        for text in (
            "1240 ± 30 cm",
            "(1.24 ± 0.03) × 10^1",
            "(1.24 ± 0.03) x 10¹ m",
            "(124 ± 3) × 10⁻¹ m",
            "(124 ± 3)*10^(-1)",
            "12,4 +- 0,3",
        ):
            self.assertEqual(self.judged(text), RIGHT, text)
