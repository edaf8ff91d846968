"""A fan on a supply: its circuit and its laws, meters whose ranges matter, and air that comes unevenly."""

from __future__ import annotations

import math
import unittest
from statistics import fmean, stdev

from scipy.optimize import brentq

from hobrel.core.apparatus.fan_on_supply import AMMETER, FAN_ON_SUPPLY, GUSTS, KNOB, SPINS_UP, STICKS, VANE, VOLTMETER
from tests.rigs.hands import Hand


class Fan(unittest.TestCase):
    def hand(self, *without: str, seed: int = 3) -> Hand:
        return Hand(FAN_ON_SUPPLY, seed, without=without)

    def at(self, hand: Hand, knob: str, amperes: str = "2", volts: str = "20") -> Hand:
        hand.do("volts", volts)
        hand.do("amperes", amperes)
        hand.do("knob", knob, then=60)
        return hand

    def test_the_air_by_the_circuit(self) -> None:
        """U = k v + R c v² (what drives the winding is what the turning leaves of the voltage), by SciPy's brentq."""
        truth = self.hand().truth
        for volts in (0.5, 3.0, 12.0):
            root = brentq(lambda v, u=volts: truth.back * v + truth.winding * truth.drag * v * v - u, 0, 20, xtol=1e-14)
            self.assertAlmostEqual(truth.air(volts), root, places=10)
        self.assertEqual(truth.air(0.0), 0)

    def test_current_goes_with_the_square_of_the_air_and_power_with_its_cube(self) -> None:
        """The affinity laws of fans: torque as the square, power as the cube of the speed."""
        points = []
        for knob in ("4", "12"):
            hand = self.at(self.hand("gusts"), knob)
            volts, current, air = (hand.number(face) for face in (VOLTMETER, AMMETER, VANE))
            points.append((air, current, current * (volts - hand.truth.winding * current)))
        (v1, i1, p1), (v2, i2, p2) = points
        self.assertAlmostEqual(math.log(i2 / i1) / math.log(v2 / v1), 2, delta=0.03)
        self.assertAlmostEqual(math.log(p2 / p1) / math.log(v2 / v1), 3, delta=0.03)

    def test_it_spins_up_and_draws_more_until_then(self) -> None:
        hand = self.hand("gusts")
        hand.do("amperes", "10")
        hand.do("knob", "12", then=SPINS_UP)
        air = hand.number(VANE)
        early = hand.number(AMMETER)
        hand.now += 60
        self.assertAlmostEqual(1 - air / hand.number(VANE), math.exp(-1), delta=0.01)
        self.assertGreater(early, hand.number(AMMETER) + 0.3)

    def test_a_range_hides_digits_or_is_exceeded(self) -> None:
        hand = self.at(self.hand("fuse"), "12")
        for act, value, face, expected in (
            ("volts", "2", VOLTMETER, r"^over$"),
            ("volts", "20", VOLTMETER, r"^1\d\.\d\d$"),
            ("volts", "200", VOLTMETER, r"^1\d\.\d$"),
            ("amperes", "0.2", AMMETER, r"^over$"),
            ("amperes", "2", AMMETER, r"^0\.\d\d\d$"),
            ("amperes", "10", AMMETER, r"^0\.\d\d$"),
        ):
            hand.do(act, value)
            self.assertRegex(hand.read(face), expected)

    def test_too_small_a_range_blows_the_fuse(self) -> None:
        hand = self.at(self.hand(), "12", "0.2")
        self.assertEqual(hand.see().looks.scene["blown"], "yes")
        self.assertEqual((abs(hand.number(AMMETER)) < 0.001, hand.number(VANE)), (True, 0))
        hand.do("amperes", "2")
        self.assertEqual(hand.see().looks.scene["blown"], "yes")
        hand.do("fuse", then=60)
        self.assertGreater(hand.number(AMMETER), 0.2)
        # in the small range again it goes at once, and at a lower voltage it holds
        hand.do("amperes", "0.2")
        self.assertEqual(hand.see().looks.scene["blown"], "yes")
        low = self.at(self.hand(), "3", "0.2")
        self.assertEqual(low.see().looks.scene["blown"], "")

    def test_gusts_and_a_vane_that_sticks(self) -> None:
        hand = self.at(self.hand("sticks"), "10")
        speeds = []
        for _ in range(200):
            hand.now += 4
            speeds.append(hand.number(VANE))
        self.assertAlmostEqual(stdev(speeds) / fmean(speeds), GUSTS, delta=0.003)
        self.assertAlmostEqual(fmean(speeds), hand.truth.vane * hand.truth.air(hand.truth.knob["10"]), delta=0.01 * fmean(speeds))
        slow = [seed for seed in range(40) if self.hand(seed=seed).truth.air(self.hand(seed=seed).truth.knob["2"]) * 1.1 < STICKS]
        for seed in slow[:2]:
            self.assertEqual(self.at(self.hand("gusts", seed=seed), "2").number(VANE), 0)
            self.assertGreater(self.at(self.hand("gusts", "sticks", seed=seed), "2").number(VANE), 0.5)

    def test_the_knob_is_only_about_right(self) -> None:
        truth = self.hand().truth
        self.assertEqual(truth.knob["0"], 0)
        self.assertTrue(any(abs(truth.knob[at] - float(at)) > 0.02 for at in KNOB[1:]))
