"""The conductivity cell: the law that it follows, and what goes wrong with it as in life."""

from __future__ import annotations

import unittest

from hobrel.core.apparatus.conductivity import WATER, conductivity, molar_conductivity
from hobrel.core.apparatus.salt_in_pools import BALANCE, DILUTION, METER, POOLS, SALT_IN_POOLS, U_DILUTION, U_SAMPLE, WARMTH
from tests.rigs.hands import Hand
from tests.rigs.salt_in_pools import dip, weigh


class Law(unittest.TestCase):
    def test_molar_conductivity_of_common_salt(self) -> None:
        """Λ of NaCl in water at 25 °C in S cm²/mol, CRC Handbook, “Equivalent conductivity of electrolytes” (from memory)."""
        for concentration, listed in (
            (0.0005, 124.44),
            (0.001, 123.68),
            (0.005, 120.59),
            (0.01, 118.45),
            (0.02, 115.70),
            (0.05, 111.01),
            (0.1, 106.69),
        ):
            self.assertAlmostEqual(molar_conductivity(concentration) / listed, 1, delta=0.003)
        # Onsager's limiting slope, 60.2 + 0.229 Λ₀ (Atkins, Physical Chemistry, table 21.6, from memory)
        slope = (molar_conductivity(0) - molar_conductivity(1e-10)) / 1e-5
        self.assertAlmostEqual(slope, 60.2 + 0.229 * 126.45, delta=0.01 * slope)

    def test_warmth_and_bend(self) -> None:
        self.assertAlmostEqual(conductivity(5.8443, 25), 10.67, delta=0.04)  # 0.1 mol/L, the same handbook
        self.assertAlmostEqual(conductivity(2, 26) / conductivity(2, 25), 1.02, delta=0.001)
        self.assertAlmostEqual(conductivity(0, 25), WATER)
        self.assertLess(conductivity(4, 25), 2 * conductivity(2, 25))


class Bench(unittest.TestCase):
    def hand(self, *without: str, seed: int = 3) -> Hand:
        return Hand(SALT_IN_POOLS, seed, without=without)

    def made_up(self, hand: Hand, *grams: float) -> None:
        hand.do("range", "20")
        for each in grams:
            weigh(hand, each)
            hand.do("make")

    def settled(self, hand: Hand, liquid: str) -> float:
        return float(dip(hand, liquid))

    def expected(self, hand: Hand, liquid: float) -> float:
        return float(hand.truth.gain * conductivity(liquid, hand.truth.room))

    def test_it_shows_something_of_nothing_until_it_is_zeroed_in_water(self) -> None:
        hand = self.hand("bubbles")
        hand.do("range", "2")
        self.assertAlmostEqual(self.settled(hand, "water"), hand.truth.offset + self.expected(hand, 0), delta=0.003)
        hand.do("zero")
        self.assertAlmostEqual(hand.number(METER), 0, delta=0.003)
        self.assertGreater(abs(hand.truth.offset), 0.03)
        self.assertEqual(self.hand("offset").truth.offset, 0)

    def test_a_flask_reads_what_was_weighed_in(self) -> None:
        hand = self.hand("bubbles", "carry")
        self.made_up(hand, 0.25, 0.5)
        dip(hand, "water")
        hand.do("zero")
        salt = [0.0]
        for flask in (1, 2):
            shown = self.settled(hand, f"flask-{flask}")
            state_salt = hand.state().flasks[flask - 1]
            self.assertAlmostEqual(shown / self.expected(hand, state_salt), 1, delta=0.02)
            salt.append(state_salt)
        self.assertAlmostEqual(salt[1], 0.25 / 0.25, delta=0.15)

    def test_it_settles_by_e_in_five_seconds(self) -> None:
        hand = self.hand("bubbles", "carry")
        self.made_up(hand, 0.8)
        hand.do("rinse", then=60)
        hand.do("hang", "flask-1", then=0)
        start = float(hand.read(METER))
        hand.now += 5
        five = float(hand.read(METER))
        hand.now += 60
        end = float(hand.read(METER))
        self.assertAlmostEqual((end - five) / (end - start), 0.3679, delta=0.02)

    def test_a_cell_that_is_not_rinsed_carries_drops_over(self) -> None:
        for without, expected in (((), 0.02), (("carry",), 0.0)):
            hand = self.hand("bubbles", "offset", *without)
            hand.do("range", "20")
            dip(hand, "upper")
            hand.do("hang", "water", then=60)
            carried = hand.number(METER) - self.expected(hand, 0)
            undiluted = self.expected(hand, expected * hand.truth.salt["upper"])
            self.assertAlmostEqual(carried, undiluted if expected else 0, delta=0.03 * undiluted + 0.02)

    def test_a_bubble_takes_some_of_it_until_it_is_tapped(self) -> None:
        hand = self.hand("carry", "offset")
        hand.do("range", "20")
        hand.do("dilute", "upper")
        hand.do("wait", "600")
        hand.do("wait", "600")
        trapped = 0
        for _ in range(40):
            hand.do("rinse")
            hand.do("hang", "diluted-upper", then=40)
            if hand.see().looks.scene["bubble"]:
                trapped += 1
                with_bubble = hand.number(METER)
                hand.do("tap", then=40)
                self.assertTrue(0.88 < with_bubble / hand.number(METER) < 0.97)
                self.assertFalse(hand.see().looks.scene["bubble"])
        self.assertTrue(1 <= trapped <= 10)

    def test_water_from_the_shore_is_cold_and_conducts_less(self) -> None:
        hand = self.hand("bubbles", "carry", "offset")
        hand.do("range", "200")
        hand.do("hang", "upper", then=30)
        cold, at = hand.number(METER), hand.number(WARMTH)
        self.assertAlmostEqual(at, hand.truth.shore, delta=0.5)
        for _ in range(20):
            hand.do("wait", "600")
        self.assertAlmostEqual(hand.number(WARMTH), hand.truth.room, delta=0.2)
        self.assertAlmostEqual(hand.number(METER) / cold, conductivity(45, hand.truth.room) / conductivity(45, at), delta=0.01)
        warm = self.hand("warmth")
        warm.do("hang", "upper")
        self.assertAlmostEqual(warm.number(WARMTH), warm.truth.room, delta=0.2)

    def test_pools_are_diluted_about_twenty_times(self) -> None:
        """By pipettes that are the class's, and a little otherwise each time."""
        pipettes, samples = [], []
        for seed in range(60):
            hand = Hand(SALT_IN_POOLS, seed, f"class {seed}", ("warmth",))
            pipettes.append(hand.truth.dilution / DILUTION - 1)
            hand.do("dilute", "lower")
            samples.append(hand.truth.dilution * hand.state().salt_of("diluted-lower", hand.truth) / hand.truth.salt["lower"] - 1)
        self.assertAlmostEqual(sum(x * x for x in pipettes) / 60 / U_DILUTION**2, 1, delta=0.5)
        self.assertAlmostEqual(sum(x * x for x in samples) / 60 / U_SAMPLE**2, 1, delta=0.5)
        one, other = self.hand(seed=1), self.hand(seed=2)
        self.assertEqual((one.truth.dilution, one.truth.flask), (other.truth.dilution, other.truth.flask))

    def test_a_range_hides_digits_or_is_exceeded(self) -> None:
        hand = self.hand("bubbles")
        hand.do("hang", "lower", then=60)
        for range_, expected in (("2", r"^over$"), ("20", r"^over$"), ("200", r"^\d\d\.\d$")):
            hand.do("range", range_)
            self.assertRegex(hand.read(METER), expected)

    def test_what_cannot_be_done_changes_nothing(self) -> None:
        hand = self.hand()
        before = hand.see().looks
        for act in ("make", "tap"):
            hand.do(act)
        hand.do("hang", "flask-3")
        hand.do("hang", "diluted-upper")
        self.assertEqual(hand.see().looks, before)
        self.assertIn("There is no salt in the boat.", [c.hindered for c in hand.see().controls])
        self.made_up(hand, *[0.02] * 9)
        seen = hand.see()
        self.assertEqual(seen.looks.scene["flasks"], "8")
        self.assertEqual([c.hindered for c in seen.controls if c.act == "make"], ["There are no more flasks."])

    def test_the_balance_shows_the_boat_until_it_is_tared(self) -> None:
        hand = self.hand()
        self.assertAlmostEqual(hand.number(BALANCE), hand.truth.boat, delta=0.002)
        hand.do("tare")
        hand.do("add", "lot")
        self.assertTrue(0.1 < hand.number(BALANCE) < 0.7)
        hand.do("empty")
        self.assertAlmostEqual(hand.number(BALANCE), 0, delta=0.002)

    def test_a_class_has_the_same_pools(self) -> None:
        first, second = self.hand(seed=1), self.hand(seed=2)
        self.assertEqual(first.truth.salt, second.truth.salt)
        self.assertNotEqual(first.truth.gain, second.truth.gain)
        self.assertEqual(set(first.truth.salt), set(POOLS))
