"""A counter behind sheets: what absorbs, what is counted without the source, and counts that come at random."""

from __future__ import annotations

import math
import unittest
from statistics import fmean, pvariance

from hobrel.core.apparatus.count_rate import COUNT_RATE, COUNTER, DEAD, GAUGE, TIMER
from tests.rigs.hands import Hand


class Counter(unittest.TestCase):
    def hand(self, *without: str, seed: int = 5) -> Hand:
        return Hand(COUNT_RATE, seed, without=without)

    def counts(self, hand: Hand, turns: int, seconds: str = "10") -> list[int]:
        found = []
        for _ in range(turns):
            hand.do("count", seconds, then=float(seconds) + 1)
            found.append(int(hand.read(COUNTER)))
        return found

    def test_counts_come_at_random(self) -> None:
        """Variance and mean of a Poisson variable are equal."""
        hand = self.hand("dead")
        counts = self.counts(hand, 180)
        expected = 10 * (hand.truth.source + hand.truth.background)
        self.assertAlmostEqual(fmean(counts) / expected, 1, delta=4 / math.sqrt(180 * expected))
        self.assertAlmostEqual(pvariance(counts) / fmean(counts), 1, delta=0.4)

    def test_sheets_absorb_and_the_background_stays(self) -> None:
        """I = I₀ exp(−μx) (Lambert), and what comes without the source."""
        truth = self.hand("dead").truth
        thick = sum(truth.sheets[:4])
        self.assertAlmostEqual(truth.rate(4, True) - truth.background, truth.source * math.exp(-truth.absorbs * thick))
        self.assertEqual(truth.rate(4, False), truth.background)
        self.assertEqual(self.hand("background").truth.background, 0)
        hand = self.hand()
        hand.do("source")
        self.assertTrue(0.2 < fmean(self.counts(hand, 60)) / 10 < 1.1)

    def test_a_counter_that_is_blind_for_a_moment_misses_some(self) -> None:
        """m = n/(1 + nτ) for a counter that each count makes blind (non-paralysable; Knoll, ch. 4, from memory)."""
        blind, seeing = self.hand().truth, self.hand("dead").truth
        true = seeing.rate(0, True)
        self.assertAlmostEqual(blind.rate(0, True), true / (1 + true * DEAD))

    def test_it_counts_up_for_as_long_as_was_chosen(self) -> None:
        hand = self.hand()
        hand.do("count", "60", then=30.2)
        half = int(hand.read(COUNTER))
        self.assertEqual(hand.read(TIMER), "30.2")
        for act in (("sheets", "8"), ("source", ""), ("count", "10")):
            hand.do(*act, then=0.1)
        self.assertIn("It is counting.", hand.see().looks.words)
        hand.now += 60
        end = int(hand.read(COUNTER))
        self.assertEqual(hand.read(TIMER), "60.0")
        self.assertTrue(0.35 * end < half < 0.65 * end)
        hand.now += 500
        self.assertEqual(int(hand.read(COUNTER)), end)
        self.assertEqual(hand.see().looks.scene["sheets"], "0")

    def test_the_gauge_shows_all_sheets_together(self) -> None:
        hand = self.hand()
        self.assertEqual(hand.read(GAUGE), "0.00")
        hand.do("sheets", "3")
        self.assertEqual(hand.read(GAUGE), f"{sum(hand.truth.sheets[:3]):.2f}")
