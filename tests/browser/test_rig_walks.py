"""Every further rig from its first reading to a finding that holds what is hidden, and to its report."""

from __future__ import annotations

import math
import os
import re
import unittest

from playwright.sync_api import Page, expect

from hobrel.core.apparatus.timed_things import MARKS
from tests.browser.base import saved, unfold
from tests.browser.rig_bench import RigTest

WALK = unittest.skipUnless(
    os.environ.get("HOBREL_LONG") == "1", "every rig is walked through in ./run test --long; the first two always are, see test_rigs"
)


@WALK
class WingedSeed(RigTest):
    shelf = "winged-seed"

    def test_from_the_first_drop_to_the_report(self) -> None:
        page = self.at_the_rig()
        self.press(page, "e")
        for row, wing in enumerate("12345"):
            page.locator(".rig").focus()
            self.press(page, wing)
            length = self.by_ear(page)
            drops = 0
            while drops < 4:
                self.press(page, "d", ",")
                expect(page.locator(".rig").get_by_role("status")).to_contain_text(re.compile("landed|tumbled"))
                if "landed" in page.locator(".rig").get_by_role("status").inner_text():
                    self.press(page, "g", "t", "f")
                    drops += 1
            page.locator(f"input[data-at='{row}:0']").fill(f"{length:.1f}")
            page.locator(f"input[data-at='{row}:0']").press("Enter")
        saved(page)
        truth = self.truth()
        self.found_within(
            page,
            4,
            speed=float(truth["speed times wing, with one clip"].split()[0]),
            ratio=float(truth["the tip’s speed by that of the fall"]),
        )


@WALK
class IronInTea(RigTest):
    shelf = "iron-in-tea"

    def test_from_the_first_drop_to_the_report(self) -> None:
        page = self.at_the_rig()
        self.press(page, "w", "e", "s")
        start = self.by_ear(page, "r", "burette")
        after = row = 0
        while after < 4:
            shown = int(self.shows(page, "electrode"))
            self.press(page, "g" if shown < 505 else "f" if shown < 545 else "d", ",", "m")
            level = self.by_ear(page, "r", "burette")
            page.locator(f"input[data-at='{row}:0']").fill(f"{level:.3f}")
            page.locator(f"input[data-at='{row}:0']").press("Enter")
            page.locator(".rig").focus()
            after += int(self.shows(page, "electrode")) > 800
            row += 1
        saved(page)
        end = next(
            float(v[0] or "")
            for v, e in zip(self.texts("V", self.book), self.texts("E", self.book), strict=True)
            if float(e[0] or "") > 800
        )
        page.get_by_role("button", name="Quantities").click()
        self.write_value(page, "burette at the start", f"{start:.3f}", "0.03")
        page.get_by_role("button", name="Close").click()
        page.keyboard.press("Alt+6")
        unfold(page)
        page.get_by_label("Or only from x =").fill("")
        page.get_by_label("to", exact=True).fill(f"{0.95 * (end - start):.2f}")
        page.get_by_role("button", name="Fit this stretch").click()
        saved(page)
        iron = float(self.truth()["iron in the tea"].split()[0])
        self.found_within(page, 4, steep=iron, line=iron)


@WALK
class FanOnASupply(RigTest):
    shelf = "fan-on-a-supply"

    def test_from_the_first_range_to_the_report(self) -> None:
        page = self.at_the_rig()
        self.press(page, "c", "t")
        for knob in "234567":
            self.press(page, knob, ",", "u", "i")
            for _ in range(4):
                self.press(page, "o", ",")
        saved(page)
        self.assertEqual([len(row) for row in self.texts("v", self.book)], [4] * 6)
        self.found_within(page, 4, p=3.0, q=2.0)


@WALK
class BeadInSyrup(RigTest):
    shelf = "bead-in-syrup"

    def passes(self, page: Page, depth: float) -> None:
        """Wait, as an eye at the mark does, until the bead is there."""
        page.wait_for_function(f"() => Number(document.querySelector('.scene .ring-mark').getAttribute('cy')) >= {34 + 460 * depth}")
        page.keyboard.press("s")

    def test_beads_are_timed_by_hand_from_mark_to_mark(self) -> None:
        page = self.at_the_rig()
        for bead in "345":
            self.press(page, bead, "h")
            timed = 0
            while timed < 5:
                self.press(page, "z", "g")
                for mark in MARKS:
                    self.passes(page, mark)
                expect(page.locator(".rig-bench[aria-busy=false]")).to_have_count(1)
                if "touches" not in page.locator(".rig").get_by_role("status").inner_text():
                    self.press(page, "d")
                    timed += 1
        saved(page)
        self.found_within(page, 6, eta=float(self.truth()["viscosity of the syrup"].split()[0]))

    def test_a_pendulum_swings_while_the_watch_runs(self) -> None:
        page = self.at_the_rig()
        self.press(page, "b", "1", "g", "s")
        bob = page.locator(".scene .ring-mark")
        before = bob.get_attribute("cx")
        page.wait_for_function(f"() => document.querySelector('.scene .ring-mark').getAttribute('cx') !== '{before}'")
        self.press(page, "s")
        self.assertGreater(float(self.shows(page, "stopwatch")), 0)
        for key, words in (("n", "clamped strip"), ("m", "draining vessel"), ("c", "cooling cup")):
            self.press(page, key)
            expect(page.locator(".rig").get_by_role("status")).to_contain_text(words)


@WALK
class BehindSheetsOfLead(RigTest):
    shelf = "behind-sheets-of-lead"

    def test_from_the_background_to_the_report(self) -> None:
        page = self.at_the_rig()
        self.press(page, "q", "v", ".")
        background = float(self.shows(page, "counter"))
        self.press(page, "q")
        for sheets in "012345678":
            self.press(page, sheets, "g", "c", ",", "n")
        saved(page)
        self.assertEqual(len(self.texts("N", self.book)), 9)
        page.get_by_role("button", name="Quantities").click()
        self.write_value(page, "counts in five minutes without the source", f"{background:.0f}", f"{background**0.5:.1f}")
        page.get_by_role("button", name="Close").click()
        mu = float(self.truth()["absorption coefficient"].split()[0])
        self.found_within(page, 4, mu=mu, half=math.log(2) / mu)


@WALK
class AnElasticBand(RigTest):
    shelf = "elastic-band"

    def test_from_the_first_disc_to_the_report(self) -> None:
        page = self.at_the_rig()
        self.press(page, "e", "b", ",")
        empty = self.by_ear(page)
        for row in range(8):
            page.locator(".rig").focus()
            self.press(page, "n", ",", "h")
            length = self.by_ear(page)
            page.locator(f"input[data-at='{row}:1']").fill(f"{length:.2f}")
            page.locator(f"input[data-at='{row}:1']").press("Enter")
        saved(page)
        page.get_by_role("button", name="Quantities").click()
        self.write_value(page, "length without a load", f"{empty:.2f}", "0.15")
        page.get_by_role("button", name="Close").click()
        self.found_within(page, 5, G=float(self.truth()["stiffness, warm"].split()[0]))
