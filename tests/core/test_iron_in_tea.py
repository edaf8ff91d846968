"""A titration by millivolts: its equilibrium and its S, and a burette that is read between its marks."""

from __future__ import annotations

import math
import unittest
from statistics import fmean, stdev

from scipy.optimize import brentq

from hobrel.core.apparatus.iron_in_tea import (
    BUBBLE,
    BURETTE,
    BURETTE_FACE,
    CERIUM,
    ELECTRODE,
    IRON,
    IRON_IN_TEA,
    REFERENCE,
    SAMPLE,
    SETTLES,
    STIRRED,
    react,
)
from tests.rigs.hands import Hand


class Equilibrium(unittest.TestCase):
    def test_what_has_reacted_by_a_root_finder(self) -> None:
        """(a − ξ)(b − ξ) K = ξ², by SciPy's brentq."""
        for one, other, constant in ((1.0, 0.4, 50.0), (1.0, 1.0, 1e6), (0.3, 2.0, 1e13), (1.0, 1.0, 1.5), (0.1, 0.1, 1e13)):
            found = react(one, other, constant)
            root = brentq(lambda x, a=one, b=other, k=constant: (a - x) * (b - x) * k - x * x, 0.0, min(one, other), xtol=1e-15)
            self.assertAlmostEqual(found, root, delta=1e-9)
        self.assertEqual(react(1.0, 0.0, 9.0), 0.0)

    def potential(self, share: float) -> float:
        truth = Hand(IRON_IN_TEA, 1).truth
        return IRON_IN_TEA._potential(truth, share * truth.end)

    def test_the_s_by_nernst(self) -> None:
        """Half-way the potential is that of iron, at the end the mean of both, at twice the end that of cerium (any textbook)."""
        step = 1000 * 8.314462618 * 295.15 / 96485.33212
        self.assertAlmostEqual(self.potential(0.5), IRON - REFERENCE, delta=0.2)
        self.assertAlmostEqual(self.potential(1.0), (IRON + CERIUM) / 2 - REFERENCE, delta=0.2)
        self.assertAlmostEqual(self.potential(2.0), CERIUM - REFERENCE, delta=0.1)
        # ten times as much turned as left, and ten times as much left over
        self.assertAlmostEqual(self.potential(10 / 11) - self.potential(0.5), step * math.log(10), delta=0.2)
        self.assertAlmostEqual(self.potential(2.0) - self.potential(1.1), step * math.log(10), delta=0.2)


class Burette(unittest.TestCase):
    def hand(self, *without: str, seed: int = 1) -> Hand:
        return Hand(IRON_IN_TEA, seed, without=without)

    def added(self, hand: Hand) -> float:
        return float(hand.see().looks.scene["added"])

    def test_taps_run_and_the_tea_turns_when_the_iron_is_used_up(self) -> None:
        hand = self.hand("bubble", "stir")
        self.assertAlmostEqual(hand.truth.end, hand.truth.iron * SAMPLE / hand.truth.cerium)
        while self.added(hand) < hand.truth.end - 0.1:
            self.assertIn("The tea is pale green.", hand.see().looks.words)
            hand.do("open", "drop")
        self.assertLess(hand.number(ELECTRODE), 700)
        for _ in range(3):
            hand.do("open", "drop", then=30)
        self.assertGreater(hand.number(ELECTRODE), 1000)
        self.assertIn("The tea is yellow.", hand.see().looks.words)
        hand.do("fresh", then=60)
        self.assertEqual(self.added(hand), 0)
        self.assertLess(hand.number(ELECTRODE), 400)

    def test_air_in_the_tip_is_read_as_if_it_had_run(self) -> None:
        hand = self.hand()
        self.assertIn("There is air in the tip of the burette.", hand.see().looks.words)
        start = float(hand.see().looks.scene["level"])
        hand.do("open", "much")
        self.assertAlmostEqual(float(hand.see().looks.scene["level"]) - start - self.added(hand), BUBBLE, delta=0.006)
        hand.do("flush")
        level = float(hand.see().looks.scene["level"])
        self.assertTrue(0.0 < level < 1.0)
        before = self.added(hand)
        hand.do("open", "little")
        self.assertAlmostEqual(float(hand.see().looks.scene["level"]) - level, self.added(hand) - before, delta=0.011)

    def test_the_electrode_settles_sooner_where_it_is_stirred(self) -> None:
        for stirs, seconds in ((False, SETTLES), (True, STIRRED)):
            hand = self.hand("bubble")
            if stirs:
                hand.do("stir")
            hand.now += 100
            start = hand.number(ELECTRODE)
            hand.do("open", "much", then=seconds)
            part = hand.number(ELECTRODE)
            hand.now += 200
            end = hand.number(ELECTRODE)
            self.assertAlmostEqual((end - part) / (end - start), math.exp(-1), delta=0.03)

    def test_the_meniscus_is_misread_more_the_farther_from_the_eye(self) -> None:
        off = []
        for turns in (0, 5, 11):
            level, askew = self.hand(), self.hand()
            level.do("level")
            for hand in (level, askew):
                hand.now = 2.0
                for _ in range(turns):
                    hand.do("open", "much")
            off.append(askew.number(BURETTE_FACE) - level.number(BURETTE_FACE))
        eye = self.hand().truth.eye
        self.assertAlmostEqual(off[0], eye * (1 - 2 * 0.38 / BURETTE), delta=0.002)
        self.assertTrue(abs(off[1]) < 0.4 * abs(eye))
        self.assertLess(off[0] * off[2], 0)

    def test_an_empty_burette_gives_nothing(self) -> None:
        hand = self.hand("bubble")
        for _ in range(15):
            hand.do("open", "much")
        self.assertEqual(hand.see().looks.scene["level"], "25.00")
        self.assertEqual({c.hindered for c in hand.see().controls if c.act == "open"}, {"The burette is empty. Fill it again."})
        last = self.added(hand)
        hand.do("open", "much")
        self.assertEqual(self.added(hand), last)

    def test_two_drops_are_about_as_much_each_time(self) -> None:
        hand = self.hand("bubble")
        steps, last = [], 0.0
        for _ in range(80):
            hand.do("open", "drop")
            steps.append(hand.state().delivered - last)
            last = hand.state().delivered
        self.assertAlmostEqual(fmean(steps), 0.09, delta=0.003)
        self.assertAlmostEqual(stdev(steps), 0.006, delta=0.002)
