"""An elastic band: the theory that it follows, its way back, and what warmth does."""

from __future__ import annotations

import math
import unittest

from scipy.optimize import brentq

from hobrel.core.apparatus.elastic_band import BATHS, ELASTIC_BAND, GRAVITY, HANGER, MOST_DISCS, RULER, SETTLES, WARMTH, stretch
from tests.rigs.hands import Hand


class Rubber(unittest.TestCase):
    def test_the_stretch_by_a_root_finder(self) -> None:
        """F = G (λ − 1/λ²) (Treloar), by SciPy's brentq."""
        for pull in (0.0, 1e-6, 0.3, 1.0, 2.7, 40.0):
            root = brentq(lambda x, p=pull: x - 1 / x**2 - p, 1 - 1e-9, pull + 2, xtol=1e-14)
            self.assertAlmostEqual(stretch(pull), root, places=9)
        # small stretches go by Young's modulus, three times the shear modulus
        self.assertAlmostEqual((stretch(3e-4) - 1) / 1e-4, 1, delta=1e-3)

    def hand(self, *without: str, seed: int = 2) -> Hand:
        hand = Hand(ELASTIC_BAND, seed, without=without)
        hand.do("level")
        return hand

    def loaded(self, hand: Hand, discs: int) -> float:
        for _ in range(discs):
            hand.do("add", then=60)
        return hand.number(RULER)

    def test_a_load_stretches_it_and_a_warm_band_pulls_harder(self) -> None:
        lengths = {}
        for bath in BATHS:
            hand = self.hand()
            hand.do("bath", bath, then=60)
            lengths[bath] = self.loaded(hand, 6)
            ratio = lengths[bath] / hand.truth.length
            pull = GRAVITY * sum(hand.truth.discs[:6])
            self.assertAlmostEqual(hand.truth.stiffness(bath) * (ratio - ratio**-2) / pull, 1, delta=2e-4)
            self.assertAlmostEqual(hand.number(WARMTH), BATHS[bath] - 273.15, delta=0.2)
        self.assertLess(lengths["warm"], lengths["room"])
        self.assertLess(lengths["room"], lengths["cold"])
        truth = self.hand().truth
        # entropy: the pull goes with the absolute temperature
        self.assertAlmostEqual(truth.stiffness("warm") / truth.stiffness("cold"), 318 / 278)

    def test_the_way_back_is_longer(self) -> None:
        hand, none = self.hand(), self.hand("lags")
        there = self.loaded(hand, 4)
        self.loaded(hand, MOST_DISCS - 4)
        for _ in range(4):
            hand.do("take", then=60)
        back = hand.number(RULER)
        self.assertIn("It is on its way back.", hand.see().looks.words)
        self.assertTrue(3 < back - there < 12)
        for _ in range(4):
            hand.do("take", then=60)
        self.assertAlmostEqual(hand.number(RULER), hand.truth.length, delta=0.02)
        self.loaded(none, MOST_DISCS)
        for _ in range(4):
            none.do("take", then=60)
        self.assertAlmostEqual(none.number(RULER), there, delta=0.02)
        # one that has rested goes the way there again
        hand.do("fresh", then=60)
        self.assertAlmostEqual(self.loaded(hand, 4), there, delta=0.02)

    def test_it_settles_by_e_in_five_seconds(self) -> None:
        hand = self.hand()
        hand.now = 100
        start = hand.number(RULER)
        for _ in range(3):
            hand.do("add", then=0.0)
        hand.now += SETTLES
        part = hand.number(RULER)
        hand.now += 100
        end = hand.number(RULER)
        self.assertAlmostEqual((end - part) / (end - start), math.exp(-1), delta=0.002)

    def test_an_eye_that_is_not_level(self) -> None:
        askew = Hand(ELASTIC_BAND, 2)
        self.assertAlmostEqual(askew.number(RULER) - self.hand().number(RULER), askew.truth.eye, delta=0.011)
        self.assertTrue(0.5 < abs(askew.truth.eye) < 1.6)

    def test_there_are_eight_discs(self) -> None:
        hand = self.hand()
        hand.do("take")
        self.assertEqual(hand.read(HANGER), "0")
        self.loaded(hand, MOST_DISCS + 1)
        self.assertEqual(hand.read(HANGER), "400")
        self.assertIn("All discs hang.", [c.hindered for c in hand.see().controls])
