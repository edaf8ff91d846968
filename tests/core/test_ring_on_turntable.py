"""A turntable that is slowed by friction, a ring that lands on it, and the logger that writes both down."""

from __future__ import annotations

import unittest
from statistics import pstdev
from typing import Any

import numpy as np
from scipy.integrate import solve_ivp

from hobrel.core.apparatus.recording import CLOCK, LONGEST_RECORD, MOST_ROWS
from hobrel.core.apparatus.ring_on_turntable import (
    BALANCE,
    COUNT,
    ENCODER,
    JITTER,
    RING_ON_TURNTABLE,
    RULER,
    SLIPS,
    TABLE_MASS,
    TABLE_RADIUS,
)
from hobrel.core.apparatus.turning import Turning
from hobrel.core.errors import CoreError
from tests.rigs.hands import Hand


class Motion(unittest.TestCase):
    def test_friction_by_the_solver(self) -> None:
        """I dω/dt = −τ − k ω, by SciPy's solver to 1e-9."""
        for steady, growing in ((0.1, 0.02), (0.1, 0.0), (0.0, 0.3), (0.5, 1e-9), (1.0, 2.0), (0.3, 2e-5), (0.3, 1.5e-4)):
            turning = Turning(2.0, 1.0, 3.0, steady, growing)
            end = min(turning.rests, 8.0)
            times = np.linspace(2.0, end, 7)
            solved = solve_ivp(
                lambda _, y, s=steady, g=growing: (y[1], -s - g * y[1]), (2.0, end), (1.0, 3.0), t_eval=times, rtol=1e-11, atol=1e-12
            )
            for time, angle, speed in zip(times, *solved.y, strict=True):
                self.assertAlmostEqual(turning.at(float(time))[0], angle, delta=2e-8)
                self.assertAlmostEqual(turning.at(float(time))[1], speed, delta=2e-8)

    def slow(self, steady: float, growing: float, _: float, y: Any) -> tuple[float, float]:
        return y[1], -steady - growing * y[1]

    def test_it_comes_to_rest_and_stays(self) -> None:
        turning = Turning(0.0, 0.0, 3.0, 0.5, 0.0)
        self.assertEqual(turning.rests, 6.0)
        self.assertEqual(turning.at(6.0), turning.at(600.0))
        self.assertAlmostEqual(turning.at(600.0)[0], 9.0)  # v²/2a
        self.assertEqual(Turning(0.0, 1.0, 0.0, 0.5, 0.1).at(9.0), (1.0, 0.0))
        self.assertEqual(Turning(0.0, 0.0, 2.0, 0.0, 0.0).at(5.0), (10.0, 2.0))


class Bench_(unittest.TestCase):
    def hand(self, *without: str, seed: int = 4) -> Hand:
        return Hand(RING_ON_TURNTABLE, seed, without=without)

    def record(self, hand: Hand) -> tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]:
        record = RING_ON_TURNTABLE.read_record(hand.truth, hand.acts, hand.chance, hand.now)
        return np.array(record.columns[CLOCK], dtype=float), np.array(record.columns[ENCODER], dtype=float)

    def dropped(self, *without: str, rate: str = "1000", seed: int = 4) -> Hand:
        hand = self.hand(*without, seed=seed)
        hand.do("push", "firm")
        hand.do("record", rate, then=1.5)
        hand.do("drop", then=1.5)
        hand.do("stop")
        return hand

    def test_angular_momentum_stays_and_energy_does_not(self) -> None:
        hand = self.dropped("drag", "beside", "jitter")
        t, a = self.record(hand)
        before = np.polyfit(t[t < 0], a[t < 0], 1)[0]
        after = np.polyfit(t[t > SLIPS], a[t > SLIPS], 1)[0]
        ring = hand.truth.mass * (hand.truth.outer**2 + hand.truth.inner**2) / 8  # a hollow cylinder about its axis, any textbook
        self.assertAlmostEqual(after * (hand.truth.table + ring) / (before * hand.truth.table), 1, delta=2e-4)
        self.assertAlmostEqual(hand.truth.table, TABLE_MASS * TABLE_RADIUS**2 / 2, delta=0.02 * hand.truth.table)
        self.assertLess((hand.truth.table + ring) * after**2, hand.truth.table * before**2)
        # while it slips the angle goes on smoothly, and the speed from one to the other
        slipping = (t > 0) & (t < SLIPS)
        self.assertLess(np.max(np.abs(np.diff(a))), 1.2 * before / 1000 + 2 * COUNT)
        self.assertAlmostEqual(float(np.gradient(a[slipping], t[slipping]).mean()), (before + after) / 2, delta=0.05 * before)

    def test_it_lands_beside_the_axle_with_more_inertia(self) -> None:
        beside = [self.dropped(seed=seed).state().lies or 0.0 for seed in range(80)]
        # the mean of |N(0, σ)| is σ √(2/π)
        self.assertAlmostEqual(sum(beside) / 80, 0.004 * (2 / np.pi) ** 0.5, delta=0.0011)
        truth = self.hand().truth
        self.assertAlmostEqual(truth.about_axle(0.01), truth.ring + truth.mass * 1e-4)
        self.assertEqual(self.dropped("beside").state().lies, 0.0)

    def test_the_logger_counts_from_the_landing(self) -> None:
        t, _ = self.record(self.dropped(rate="100"))
        self.assertEqual((len(t), t[0], t[-1]), (301, -1.5, 1.5))
        hand = self.hand()
        hand.do("push", "gentle")
        hand.do("record", "10", then=2.05)
        hand.do("stop")
        t, a = self.record(hand)
        self.assertEqual(list(t), [round(0.1 * i, 1) for i in range(21)])
        self.assertTrue(all(np.diff(a) > 0))

    def test_rows_are_counted_in_steps_of_the_encoder_and_jitter(self) -> None:
        hand = self.hand("drag")
        hand.do("record", "1000", then=2)
        hand.do("stop")
        _, a = self.record(hand)
        self.assertTrue(all(abs(v / COUNT - round(v / COUNT)) < 1e-9 for v in a))
        # rounding adds a²/12 to what jitters; a step is twice the jitter, so that this holds roughly
        self.assertAlmostEqual(pstdev(a), (JITTER**2 + COUNT**2 / 12) ** 0.5, delta=0.0002)
        still = self.hand("drag", "jitter")
        still.do("record", "100", then=2)
        still.do("stop")
        self.assertEqual(set(self.record(still)[1]), {0.0})

    def test_a_logger_is_full_in_the_end(self) -> None:
        for rate, seconds in (("10", LONGEST_RECORD), ("1000", MOST_ROWS / 1000)):
            hand = self.hand()
            hand.do("record", rate)
            with self.assertRaises(CoreError) as raised:
                self.record(hand)
            self.assertEqual(raised.exception.code, "nothing")
            look = hand.see().record
            assert look is not None
            self.assertTrue(look.running)
            hand.now += 200
            look = hand.see().record
            assert look is not None
            self.assertEqual((look.running, look.seconds), (False, seconds))
            self.assertEqual(len(self.record(hand)[0]), look.rows)
            self.assertEqual(look.rows, round(seconds * float(rate)) + 1)
        with self.assertRaises(CoreError):
            self.record(self.hand())

    def test_what_is_drawn_while_it_comes_is_what_was(self) -> None:
        hand = self.hand()
        hand.do("push", "firm")
        hand.do("record", "100", then=1.0)
        early = hand.see(60).record
        hand.do("drop", then=1.0)
        hand.do("stop", then=3.0)
        late = hand.see().record
        assert early is not None and late is not None
        self.assertEqual(early.drawn[:50], late.drawn[:50])
        self.assertEqual(len(early.drawn), round((1.0 + 5.9) / 0.02) + 1)
        self.assertEqual((len(late.drawn), late.marks, late.rows), (101, (1.0,), 201))
        self.assertNotEqual(early.drawn[60:100], late.drawn[60:100])

    def test_a_hand_spins_holds_and_lifts(self) -> None:
        hand = self.hand()
        hand.do("lift")
        hand.do("stop")
        self.assertEqual(hand.state(), RING_ON_TURNTABLE.lay_out(hand.truth))
        hand.do("push", "gentle")
        self.assertTrue(2.5 < float(hand.see().looks.scene["speed"]) < 4.5)
        hand.do("drop")
        slow = float(hand.see().looks.scene["speed"])
        hand.do("lift")
        self.assertAlmostEqual(float(hand.see().looks.scene["speed"]), slow, delta=0.3)
        hand.do("hold")
        self.assertEqual(float(hand.see().looks.scene["speed"]), 0)
        self.assertEqual(hand.number(BALANCE) > 900, True)

    def test_the_ruler_is_read_at_four_edges_and_misread_by_an_eye_that_is_not_level(self) -> None:
        hand, off = self.hand("eye"), self.hand()
        read = {}
        for edge in ("outer-left", "inner-left", "inner-right", "outer-right"):
            hand.do("edge", edge)
            off.do("edge", edge)
            read[edge] = hand.number(RULER)
            self.assertAlmostEqual(off.number(RULER) - read[edge], off.truth.eye, delta=0.011)
        self.assertAlmostEqual(read["outer-right"] - read["outer-left"], 1000 * hand.truth.outer, delta=0.02)
        self.assertAlmostEqual(read["inner-right"] - read["inner-left"], 1000 * hand.truth.inner, delta=0.02)
        self.assertEqual(sorted(read.values()), list(read.values()))
        self.assertTrue(0.5 < abs(off.truth.eye) < 1.6)
        off.do("level")
        self.assertAlmostEqual(off.number(RULER), read["outer-right"], delta=0.011)
