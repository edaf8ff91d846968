"""Things that are timed by hand, by their laws; and a stopwatch that shows what was pressed."""

from __future__ import annotations

import math
import unittest

import numpy as np
from scipy.integrate import solve_ivp

from hobrel.core.apparatus.timed_things import GRAVITY, MARKS, STEEL, STRIP_MASS, STRIP_THICK, STRIP_WIDTH, SYRUP, THINGS
from hobrel.core.apparatus.timing_by_hand import GAUGE, LAP, STOPWATCH, TIMING_BY_HAND, WARMTH
from tests.rigs.hands import Hand


class Laws(unittest.TestCase):
    def setUp(self) -> None:
        self.of = Hand(TIMING_BY_HAND, 1).truth.nature

    def test_a_bead_sinks_where_drag_and_weight_are_equal(self) -> None:
        """6π η r v = (4/3)π r³ (ρ − ρ') g (Stokes), and its Reynolds number is small enough for that."""
        radius, speed = self.of.sizes["bead", "3.0"] / 2000, self.of.sinks("3.0")
        weight = 4 / 3 * math.pi * radius**3 * (STEEL - SYRUP) * GRAVITY
        self.assertAlmostEqual(6 * math.pi * self.of.viscosity * radius * speed / weight, 1, places=12)
        self.assertLess(SYRUP * self.of.sinks("4.0") * 0.004 / self.of.viscosity, 0.3)

    def test_a_vessel_drains_by_the_solver(self) -> None:
        """Torricelli: dh/dt = −2 k √h, by SciPy's solver."""
        k = self.of.drains
        solved = solve_ivp(lambda _, h: -2 * k * np.sqrt(np.maximum(h, 0)), (0, 40), [0.4], t_eval=[10, 40], rtol=1e-10, atol=1e-12)
        for time, height in zip((10, 40), solved.y[0], strict=True):
            self.assertAlmostEqual(self.of.place("vessel", "400", time), height, places=8)
        self.assertEqual(self.of.place("vessel", "400", 1e4), 0)
        self.assertEqual(self.of.place("vessel", "400", -1), 0.4)

    def test_a_cup_cools_towards_the_room(self) -> None:
        excess = [self.of.place("cup", "85", t) - self.of.room for t in (0, 600, 1200)]
        self.assertAlmostEqual(excess[1] / excess[0], excess[2] / excess[1])
        self.assertAlmostEqual(excess[0], 85 - self.of.room)
        self.assertAlmostEqual(excess[1] / excess[0], math.exp(-600 * self.of.cools))

    def test_periods(self) -> None:
        """2π √(l/g), and for a light strip with a load T² = 16 π² m l³/(E b d³), E b d³/(4 l³) being its stiffness (any textbook)."""
        length = self.of.sizes["pendulum", "500"] / 1000
        self.assertAlmostEqual(self.of.period("pendulum", "500"), 2 * math.pi * math.sqrt(length / 9.81))
        stiffness = self.of.modulus * STRIP_WIDTH * STRIP_THICK**3 / (4 * (self.of.sizes["strip", "450"] / 1000) ** 3)
        self.assertAlmostEqual(self.of.period("strip", "450"), 2 * math.pi * math.sqrt(STRIP_MASS / stiffness))
        period = self.of.period("pendulum", "500")
        self.assertAlmostEqual(self.of.place("pendulum", "500", period), math.exp(-self.of.dies * period))
        self.assertAlmostEqual(self.of.place("pendulum", "500", period / 4), 0, places=12)


class Stopwatch(unittest.TestCase):
    def test_it_shows_what_was_pressed(self) -> None:
        hand = Hand(TIMING_BY_HAND, 1)
        hand.do("press", then=2.345)
        self.assertIn("The stopwatch runs.", hand.see().looks.words)
        hand.do("lap", then=1.0)
        hand.do("press", then=5.0)
        self.assertEqual((hand.read(STOPWATCH), hand.read(LAP)), ("3.35", "2.35"))
        hand.do("lap")
        self.assertEqual(hand.read(LAP), "2.35")
        # it goes on from where it stands
        hand.do("press", then=1.0)
        hand.do("press")
        self.assertIn(hand.read(STOPWATCH), ("4.34", "4.35"))
        hand.do("reset")
        self.assertEqual((hand.read(STOPWATCH), hand.read(LAP)), ("0.00", ""))

    def test_a_bead_passes_its_marks_when_it_should(self) -> None:
        hand = Hand(TIMING_BY_HAND, 1, without=("touches",))
        hand.do("set", "3.5")
        hand.do("go", then=0.0)
        pace = float(hand.see().looks.scene["sinks"])
        self.assertAlmostEqual(pace / hand.truth.nature.sinks("3.5"), 1, delta=0.025)
        self.assertEqual(hand.see().looks.scene["marks"], " ".join(f"{mark:.3f}" for mark in MARKS))

    def test_some_beads_touch_the_glass_and_it_is_seen(self) -> None:
        hand = Hand(TIMING_BY_HAND, 1)
        touched = 0
        for _ in range(100):
            hand.do("go")
            seen = hand.see().looks
            slow = float(seen.scene["sinks"]) < 0.85 * hand.truth.nature.sinks("3.0")
            self.assertEqual("It touches the glass." in seen.words, slow)
            touched += slow
        self.assertTrue(1 <= touched <= 14)

    def test_each_thing_has_its_settings_and_gauge(self) -> None:
        hand = Hand(TIMING_BY_HAND, 1)
        for thing, decimals in (("bead", 2), ("pendulum", 0), ("strip", 0), ("vessel", None), ("cup", None)):
            hand.do("thing", thing)
            offered = [c.value for c in hand.see().controls if c.act == "set"]
            self.assertEqual(tuple(offered), THINGS[thing])
            gauge = hand.read(GAUGE)
            self.assertEqual(gauge == "", decimals is None)
            if decimals is not None:
                self.assertEqual(len(gauge.partition(".")[2]), decimals)
        # a setting of another thing changes nothing
        before = hand.see().looks.scene["size"]
        hand.do("set", "3.0")
        self.assertEqual(hand.see().looks.scene["size"], before)
        hand.do("go", then=1200)
        self.assertLess(hand.number(WARMTH), 60)
