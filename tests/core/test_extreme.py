"""Steepest and shallowest lines, against SciPy's linear programming, and by trying all removals."""

from __future__ import annotations

import itertools
import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from scipy.optimize import linprog

from hobrel.core.errors import CoreError
from hobrel.core.fitting.extreme import ExtremeLines, find_extreme_lines
from hobrel.core.uncertainty.traced import Floats

Cloud = tuple[Floats, Floats, Floats, Floats]


def clouds(n: int = 6) -> st.SearchStrategy[Cloud]:
    """Points near some line, with bars of both kinds."""

    def near(parts: tuple[Floats, float, Floats, Floats, Floats]) -> Cloud:
        x, m, noise, uy, ux = parts
        return x, m * x + noise, uy, ux

    grid = st.integers(0, 400).map(lambda v: v / 20)
    return st.tuples(
        arrays(np.float64, n, elements=grid, unique=True).filter(lambda x: float(np.ptp(x)) > 5), st.floats(-3, 3),
        arrays(np.float64, n, elements=st.floats(-1, 1)), arrays(np.float64, n, elements=st.floats(0.2, 1.5)),
        arrays(np.float64, n, elements=st.floats(0, 0.3)),
    ).map(near)  # fmt: skip


def by_linear_programming(cloud: Cloud) -> tuple[float, float] | None:
    """Smallest and largest gradient by HiGHS, one programme per sign of the gradient."""
    x, y, uy, ux = cloud
    found = []
    for sign, aim in itertools.product((1, -1), (1, -1)):
        above = np.column_stack([x - sign * ux, np.ones_like(x)])
        below = -np.column_stack([x + sign * ux, np.ones_like(x)])
        bounds = [(0, None) if sign > 0 else (None, 0), (None, None)]
        answer = linprog([-aim, 0], np.vstack([above, below]), np.concatenate([y + uy, uy - y]), bounds=bounds)
        if answer.status == 0:
            found.append(float(answer.x[0]))
    return (min(found), max(found)) if found else None


def misses(lines: ExtremeLines, cloud: Cloud) -> float:
    """By how much the two lines miss the bar they miss most."""
    x, y, uy, ux = cloud
    both = (lines.steepest, lines.shallowest)
    return max(float(np.max(np.abs(y - line.gradient * x - line.intercept) - uy - abs(line.gradient) * ux)) for line in both)


class ExtremeLineCases(unittest.TestCase):
    def test_by_hand(self) -> None:
        """Two bars: from the bottom of one to the top of the other, and the other way round."""
        lines = find_extreme_lines([1.0, 3.0], [2.0, 6.0], [0.5, 0.5])
        self.assertEqual((lines.steepest.gradient, lines.shallowest.gradient, lines.u_gradient), (2.5, 1.5, 0.5))
        self.assertEqual((lines.steepest.intercept, lines.shallowest.intercept, lines.u_intercept), (-1.0, 1.0, 1.0))

    def test_a_bar_touched_exactly_counts_as_passed(self) -> None:
        lines = find_extreme_lines([0.0, 1.0, 2.0], [0.0, 0.1, 0.0], [0.05, 0.05, 0.05])
        self.assertAlmostEqual(lines.steepest.gradient, 0.0, places=12)
        self.assertAlmostEqual(lines.u_gradient, 0.0, places=12)

    def test_falling_lines_keep_their_signs(self) -> None:
        lines = find_extreme_lines([0.0, 1.0, 2.0, 3.0], [9.0, 7.1, 4.9, 3.0], 0.3)
        self.assertLess(lines.steepest.gradient, lines.shallowest.gradient)
        self.assertLess(lines.shallowest.gradient, 0)

    def test_bars_that_fix_nothing_are_refused(self) -> None:
        cases = [
            ([1.0], [1.0], 0.1, None),
            ([1.0, 1.0], [1.0, 2.0], 0.1, None),
            ([1.0, 2.0], [1.0, 2.0], 0.0, None),
            ([1.0, 2.0], [1.0, 5.0], 0.1, 0.6),
        ]
        for x, y, uy, ux in cases:
            with self.subTest(x), self.assertRaises(CoreError) as caught:
                find_extreme_lines(x, y, uy, ux)
            self.assertIn(caught.exception.code, ("too_few_points", "bad_job"))

    @settings(max_examples=150)
    @given(clouds(), st.booleans())
    def test_it_agrees_with_linear_programming_and_misses_no_bar(self, cloud: Cloud, with_x: bool) -> None:
        cloud = cloud if with_x else (*cloud[:3], np.zeros_like(cloud[0]))
        expected = by_linear_programming(cloud)
        try:
            lines = find_extreme_lines(*cloud)
        except CoreError as trouble:
            self.assertEqual(trouble.code, "no_line_through_bars")
            self.assertIsNone(expected)
            return
        assert expected is not None
        gradients = sorted((lines.steepest.gradient, lines.shallowest.gradient))
        np.testing.assert_allclose(gradients, expected, rtol=1e-6, atol=1e-6)
        self.assertLessEqual(misses(lines, cloud), 1e-9)

    def test_what_blocks_is_named_as_the_table_counts_and_looked_for_no_further_than_asked(self) -> None:
        for y, which in (([0.0, 1, 2, 9, 4, 5], "point 4 were"), ([0.0, 1, 2, 9, 4, -5], "points 4, 6 were")):
            with self.assertRaises(CoreError) as caught:
                find_extreme_lines(range(6), y, 0.1)
            self.assertIn(f"One would if {which} left out.", caught.exception.message)
        with self.assertRaises(CoreError) as caught:
            find_extreme_lines(range(6), [0.0, 1, 2, 9, 4, -5], 0.1, most_removed=1)
        self.assertEqual(caught.exception.fields["blocking"], [])
        self.assertIn("more than 1 points", caught.exception.message)

    def test_what_is_left_may_stand_on_one_upright_line(self) -> None:
        """Without point 1 the line y = 1 passes; so would an upright one through all but the last."""
        x, y = [0.0, 0.05, 0.1, 0.15, 0.2, 5.05], [0.0, 1.0, 1.0, 1.0, 1.0, 1.0]
        with self.assertRaises(CoreError) as caught:
            find_extreme_lines(x, y, 0.25, 0.25)
        self.assertEqual(caught.exception.fields["blocking"], [0])

    @settings(max_examples=25)
    @given(clouds())
    def test_the_fewest_points_that_block(self, cloud: Cloud) -> None:
        """Against trying every removal."""
        x, y, uy, ux = cloud
        uy = uy / 4
        try:
            find_extreme_lines(x, y, uy, ux, most_removed=4)
        except CoreError as trouble:
            blocking = trouble.fields["blocking"]
            assert isinstance(blocking, list)
            self.assertTrue(blocking)
        else:
            assume(False)
        left = [i for i in range(x.size) if i not in blocking]
        find_extreme_lines(x[left], y[left], uy[left], ux[left])
        for fewer in itertools.combinations(range(x.size), len(blocking) - 1):
            kept = [i for i in range(x.size) if i not in fewer]
            self.assertIsNone(by_linear_programming((x[kept], y[kept], uy[kept], ux[kept])), fewer)
