"""A winged seed: the laws that its falls follow, and what goes wrong with them."""

from __future__ import annotations

import math
import unittest
from statistics import fmean, stdev

from hobrel.core.apparatus.winged_seed import AIR, CLIP, GATES, GRAVITY, PAPER, RULER, SCATTER, TAPE, TURNS, WINGED_SEED
from tests.rigs.hands import Hand


class Seed(unittest.TestCase):
    def hand(self, *without: str, seed: int = 2) -> Hand:
        return Hand(WINGED_SEED, seed, without=without)

    def falls(self, hand: Hand, wing: str, load: str, count: int = 60) -> list[tuple[float, int, float]]:
        hand.do("wing", wing)
        hand.do("load", load)
        found = []
        for _ in range(count):
            hand.do("drop", then=12)
            shown = hand.see().shown
            found.append((float(shown[GATES][0]), int(shown[TURNS][0]), float(shown[TAPE][0])))
        return found

    def test_the_weight_is_carried_by_the_disc_that_the_wing_sweeps(self) -> None:
        """m g = C ρ v²/2 · π L² (a disc in a stream, as for any rotor): speed by the root of the load, and by one over the wing."""
        truth = self.hand().truth
        for wing, load in (("40", "1"), ("100", "3")):
            speed, length = truth.speed(wing, load), truth.cuts[wing] / 1000
            weight = (PAPER + int(load) * CLIP) * GRAVITY
            self.assertAlmostEqual(truth.lift * AIR * speed**2 / 2 * math.pi * length**2, weight, delta=1e-9)
        self.assertAlmostEqual(truth.speed("70", "3") / truth.speed("70", "1"), math.sqrt((PAPER + 3 * CLIP) / (PAPER + CLIP)))
        self.assertTrue(0.4 < truth.speed("100", "1") < 2.0)

    def test_falls_scatter_about_it_and_turns_do_not_hang_on_the_load(self) -> None:
        one, three = (self.falls(self.hand("tumbles"), "70", load) for load in "13")
        truth = self.hand().truth
        times = [t for t, _, _ in one]
        self.assertAlmostEqual(fmean(times) * truth.speed("70", "1") / truth.height, 1, delta=0.01)
        self.assertAlmostEqual(stdev(times) / fmean(times), SCATTER, delta=0.006)
        expected = truth.ratio * truth.height / (2 * math.pi * truth.cuts["70"] / 1000)
        for falls in (one, three):
            self.assertAlmostEqual(fmean([n for _, n, _ in falls]), expected, delta=0.4)
        self.assertLess(fmean([t for t, _, _ in three]), 0.85 * fmean(times))

    def test_where_it_lands_is_chance(self) -> None:
        still, draughty = self.falls(self.hand("draught"), "100", "1"), self.falls(self.hand(), "100", "1")
        # the mean of a Rayleigh distribution is σ √(π/2)
        self.assertAlmostEqual(fmean([r for _, _, r in still]), 4 * math.sqrt(math.pi / 2), delta=1.5)
        self.assertGreater(fmean([r for _, _, r in draughty]), 2 * fmean([r for _, _, r in still]))

    def test_some_tumble_and_it_is_seen(self) -> None:
        hand = self.hand()
        tumbled, whole = [], []
        for _ in range(150):
            hand.do("drop", then=12)
            seen = hand.see()
            (tumbled if seen.looks.scene["tumbled"] else whole).append(float(seen.shown[GATES][0]))
            self.assertEqual("It tumbled." in seen.looks.words, bool(seen.looks.scene["tumbled"]))
        self.assertTrue(2 <= len(tumbled) <= 22)
        self.assertAlmostEqual(fmean(tumbled) / fmean(whole), 1 / 1.6, delta=0.03)

    def test_nothing_is_changed_while_it_falls(self) -> None:
        hand = self.hand("tumbles")
        hand.do("drop", then=0.3)
        self.assertEqual(hand.see().shown[TURNS][0], "")
        self.assertIn("It is falling.", hand.see().looks.words)
        for act in (("wing", "100"), ("load", "3"), ("drop", "")):
            hand.do(*act, then=0.1)
        self.assertEqual(hand.see().looks.scene["wing"], "70")
        hand.now += 10
        self.assertEqual([c.hindered for c in hand.see().controls if c.act == "drop"], [""])

    def test_wings_are_not_cut_to_the_millimetre(self) -> None:
        hand, off = self.hand("eye"), self.hand()
        lengths = {}
        for wing in ("40", "70", "100"):
            hand.do("wing", wing)
            off.do("wing", wing)
            lengths[wing] = hand.number(RULER)
            self.assertAlmostEqual(lengths[wing], hand.truth.cuts[wing], delta=0.006)
            self.assertAlmostEqual(off.number(RULER) - lengths[wing], off.truth.eye, delta=0.011)
        self.assertTrue(any(abs(v - float(w)) > 0.2 for w, v in lengths.items()))
        off.do("level")
        self.assertAlmostEqual(off.number(RULER), lengths["100"], delta=0.011)
