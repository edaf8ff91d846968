"""A repeat far from its fellows, against a second derivation: SciPy's F distribution on sums of squares by NumPy."""

from __future__ import annotations

import random
from unittest import TestCase

import numpy as np
from scipy import stats

from hobrel.core.checks.repeats import CHANCE, find_lone_repeats

GROUPS = [[1.00, 1.02, 1.01], [2.00, 2.03, 2.01], [3.02, 3.00, 3.01], [4.00, 4.02, 4.60]]


def chance_of(groups: list[list[float]], row: int, digit: float) -> float:
    """Extra sum of squares of the farthest reading against what is pooled over the other settings and its fellows."""
    group = np.array(groups[row])
    place = int(np.argmin([np.var(np.delete(group, i)) for i in range(group.size)]))
    fellows = np.delete(group, place)
    gained = group.size * np.var(group) - fellows.size * np.var(fellows)
    others = [np.array(g) for i, g in enumerate(groups) if i != row and len(g) > 1]
    free = sum(g.size - 1 for g in others)
    same = sum(g.size * np.var(g) for g in others)
    shares = sum(g.size * np.var(g) / np.mean(g) ** 2 for g in others if np.mean(g))
    hidden = digit**2 / 12
    dof = free + fellows.size - 1
    found = []
    level = np.mean(fellows) if group.size > 2 else np.min(np.abs(group))
    for variance in (max(same / free, hidden), max(shares / free * level**2, hidden)):
        rest = variance * free + fellows.size * np.var(fellows)
        found.append(stats.f.sf(gained / (rest / dof), 1, dof))
    return float(max(found)) * sum(len(g) for g in groups)


class LoneRepeats(TestCase):
    def check(self, groups: list[list[float]], row: int, place: int | None, distance: float, digit: float = 0.01) -> None:
        (found,) = find_lone_repeats(groups, digit)
        self.assertEqual((found.row, found.place), (row, place))
        self.assertAlmostEqual(found.distance, distance)
        self.assertAlmostEqual(found.chance / chance_of(groups, row, digit), 1, 9)
        self.assertLess(found.chance, CHANCE)

    def test_one_of_three(self) -> None:
        self.check(GROUPS, 3, 2, 0.59)

    def test_of_two_nobody_can_tell_which(self) -> None:
        self.check([[1.00, 1.02], [2.00, 2.03], [3.02, 3.00], [4.00, 4.02], [5.0, 5.9]], 4, None, 0.9)

    def test_of_two_the_smaller_says_what_is_in_proportion(self) -> None:
        """Currents read to 1 mA, the first of little more: 1.150 for 0.115 is ten times too large, however uncertain small ones are."""
        pairs = [[0.010, 0.004], [0.029, 0.027], [0.045, 0.042], [0.065, 0.064], [0.081, 0.078], [0.099, 0.096]]
        for wrong in ([0.114, 1.150], [1.150, 0.114], [0.114, 0.0115]):
            self.check([*pairs, wrong], 6, None, abs(wrong[0] - wrong[1]), digit=0.001)

    def test_three_degrees_of_freedom_of_the_others_are_enough_and_two_are_not(self) -> None:
        groups = [[1.00, 1.01], [2.00, 2.01], [3.00, 3.01], [4.00, 9.00]]
        self.check(groups, 3, None, 5.0)
        self.assertEqual(find_lone_repeats(groups[1:], 0.01), [])

    def test_no_spread_is_smaller_than_what_the_last_digit_hides(self) -> None:
        groups = [[1.0, 1.0, 1.0], [2.0, 2.0, 2.0], [3.0, 3.0, 3.0], [4.0, 4.0, 6.0]]
        self.check(groups, 3, 2, 2.0, digit=0.3)
        self.assertEqual(find_lone_repeats(groups, 3.0), [])

    def test_settings_without_readings_and_readings_about_nought(self) -> None:
        groups = [[], [0.01, -0.01, 0.0], [0.52], [0.50, 0.51, 0.49], [0.30, 0.31, 0.29], [0.21, 0.20, 0.90]]
        self.check(groups, 5, 2, 0.695)

    def test_in_proportion_where_the_scatter_grows_with_the_value(self) -> None:
        # two per cent everywhere: the widest of them is no stranger
        groups = [[v * 0.98, v, v * 1.02] for v in (0.01, 0.1, 1.0, 10.0, 100.0)]
        self.assertEqual(find_lone_repeats(groups, 0.0001), [])
        self.check([*groups[:-1], [98.0, 102.0, 180.0]], 4, 2, 80.0, digit=0.0001)

    def test_a_clean_table_is_left_in_peace(self) -> None:
        self.assertEqual(find_lone_repeats(GROUPS[:3], 0.01), [])

    def test_one_that_is_ten_times_too_small_hides_no_other(self) -> None:
        """With the first left out the rest scatter by 0.08 s, beside which 2.5 s are 30 standard deviations."""
        dice = random.Random(8)
        groups = [[level + dice.gauss(0, 0.08) for _ in range(3)] for level in (4.6, 5.2, 5.9, 6.5, 7.2, 7.9, 8.7, 9.5)]
        groups[1][0] /= 10
        groups[6][2] += 2.5
        found = find_lone_repeats(groups, 0.01)
        self.assertEqual([(lone.row, lone.place) for lone in found], [(1, 0), (6, 2)])
