"""Simulated apparatus: worked at by keys from the first reading to a finding and its report; what is kept, what fails, who sees what."""

from __future__ import annotations

import datetime
import math
import os
import re
import unittest
from typing import ClassVar

from playwright.sync_api import Page, Route, expect

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rigs import find_rig
from hobrel.core.apparatus.ring_on_turntable import RING_ON_TURNTABLE
from hobrel.core.apparatus.timed_things import MARKS
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.computed import analysis_in, ask_about
from hobrel.labbooks.models import Book
from hobrel.labbooks.rigs import seeds_of
from hobrel.school.giving_out import plan_from_shelf, start_practical
from tests.browser.base import BrowserTest, saved, unfold
from tests.browser.planning import PlanTest

LONG = os.environ.get("HOBREL_LONG") == "1"
WALK = unittest.skipUnless(LONG, "every rig is walked through in ./run test --long; the first two always are")


class RigTest(BrowserTest):
    """A class that does a plan of the shelf with its rig."""

    shelf: ClassVar[str]

    def setUp(self) -> None:
        super().setUp()
        plan = plan_from_shelf(self.school.teacher, self.shelf)
        practical = start_practical(plan, self.school.school_class, datetime.date.today())
        self.book = open_book(practical, self.school.book.bench)

    def at_the_rig(self, student: int = 0) -> Page:
        page = self.open_book(self.school.students[student], "read", self.book)
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        page.keyboard.press("Alt+b")
        return page

    def press(self, page: Page, *keys: str) -> None:
        for key in keys:
            page.keyboard.press(key)
            expect(page.locator(".rig-bench[aria-busy=false]")).to_have_count(1)

    def shows(self, page: Page, face: str) -> str:
        text = page.get_by_role("group", name=face, exact=True).locator(".face-glass > span").first.inner_text()
        return text.replace("−", "-")

    def by_ear(self, page: Page, key: str = "r", face: str = "ruler") -> float:
        """Where something stands on a scale as it is told: between which marks, and nearer to which."""
        page.keyboard.press(key)
        status = page.locator(".rig").get_by_role("status")
        expect(status).to_have_text(re.compile(rf"{face} (at|between) -?\d+"))
        words = status.inner_text()
        expect(page.get_by_role("group", name=face).get_by_role("img")).to_have_accessible_name(words.removeprefix(f"{face} "))
        marks = [float(mark) for mark in re.findall(r"-?\d+(?:\.\d+)?", words)]
        part = next((part for told, part in (("lower", 0.25), ("upper", 0.75), ("middle", 0.5)) if told in words), 0.0)
        return marks[0] + part * (marks[-1] - marks[0])

    def found_within(self, page: Page, most: float, **truths: float) -> None:
        """Findings hold what is hidden within so many ±, and stand at Find and in the report."""
        found = {f.finding: f.value for f in ask_about(Book.objects.get(pk=self.book.pk), "", analysis_in).findings}
        page.keyboard.press("Alt+7")
        for finding, hidden in truths.items():
            value = found[finding]
            assert value is not None and value.u, finding
            self.assertLess(abs(value.value - hidden), most * value.u, (finding, value.text, hidden))
            self.assertLess(value.u / abs(value.value), 0.1)
            expect(page.locator("#page")).to_contain_text(value.value_text)
        page.keyboard.press("Alt+9")
        for finding in truths:
            value = found[finding]
            assert value is not None
            expect(page.locator(".paper")).to_contain_text(value.value_text)

    def write_value(self, page: Page, name: str, value: str, u: str) -> None:
        page.get_by_role("row", name=name).get_by_role("button", name="Change").click()
        page.get_by_role("textbox", name="value").fill(value)
        page.get_by_role("textbox", name="±").fill(u)
        page.get_by_role("button", name="Change", exact=True).last.click()
        expect(page.get_by_role("row", name=name)).to_contain_text(value)

    def truth(self) -> dict[str, str]:
        book = Book.objects.get(pk=self.book.pk)
        seeds, rig = seeds_of(book), find_rig(book.document["plan"]["rig"]["key"])
        return {line.name: line.text for line in rig.tell_truth(rig.draw_truth(Chance(seeds.shared), Chance(seeds.own), ()))}


class SaltInRockPools(RigTest):
    shelf = "salt-in-rock-pools"

    def dip(self, page: Page, key: str) -> None:
        self.press(page, "r", key)
        if page.locator(".scene-bubble").count():
            self.press(page, "b")
        self.press(page, ",")

    def test_from_the_first_reading_to_the_report_with_the_keyboard_alone(self) -> None:
        page = self.at_the_rig()
        self.press(page, "c", "p", "q")
        self.dip(page, "w")
        self.press(page, "z", *".." * 2)
        for flask, spoons in enumerate(("h", "hh", "nh", "nn", "nnh"), 1):
            self.press(page, "t", *spoons, "s", "m")
            for _ in range(3):
                self.dip(page, str(flask))
                self.press(page, "d")
        saved(page)
        texts = self.texts("k", self.book)
        self.assertEqual([len(row) for row in texts], [3] * 5)
        masses = [float(row[0] or "") for row in self.texts("m", self.book)]
        self.assertEqual(len(masses), 5)
        # what is dipped into is read into the row that it was weighed in for
        ratios = [float(row[0] or "") / mass for row, mass in zip(texts, masses, strict=True)]
        self.assertTrue(all(6 < r < 10 for r in ratios), ratios)
        page.keyboard.press("Alt+6")
        page.get_by_role("button", name="Bring it out").press("Enter")
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        for pool, key in (("upper", "j"), ("lower", "k")):
            read = []
            for _ in range(3):
                page.locator(".rig").focus()
                self.dip(page, key)
                read.append(self.shows(page, "meter"))
            page.get_by_label(f"Every reading of {pool} pool, diluted").focus()
            page.keyboard.type(" ".join(read))
            page.keyboard.press("Enter")
            expect(page.locator(".unknowns tbody tr").filter(has_text=f"{pool} pool")).to_contain_text("3 readings")
        saved(page)
        truth = self.truth()
        self.found_within(page, 4, **{p: float(truth[f"salt of the {p} pool"].removesuffix(" g/L")) for p in ("upper", "lower")})

    def test_a_bench_is_as_it_was_left_and_another_person_has_their_own(self) -> None:
        page, other = self.at_the_rig(0), self.at_the_rig(1)
        self.press(page, "t", "n", "m")
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_be_visible()
        expect(other.get_by_role("button", name="flask 1", exact=True)).to_have_count(0)
        page.reload()
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_be_visible()
        page.get_by_role("button", name="Clear the bench").click()
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_have_count(0)

    def test_the_cell_that_one_has_come_to_is_where_it_is_written(self) -> None:
        page, other = self.at_the_rig(0), self.at_the_rig(1)
        self.press(page, "c", "s", "s")
        saved(page)
        page.locator("input[data-at='1:2']").click()
        expect(page.locator(".face-write").first).to_contain_text("κ, setting 2, repeat 2")
        page.keyboard.press("Alt+b")
        self.press(page, "w", ",", "d")
        saved(page)
        self.assertIsNone(self.texts("k", self.book)[1][0])
        self.assertRegex(self.texts("k", self.book)[1][1] or "", r"^-?0\.\d\d$")
        # and what the other at the bench has written is not written over
        expect(other.locator("input[data-at='1:2']")).to_have_value(self.texts("k", self.book)[1][1] or "")
        self.press(other, "c", "w", ",", "d", "d")
        saved(other)
        self.assertEqual([[bool(t) for t in row] for row in self.texts("k", self.book)], [[True, True], [False, True]])
        # Alt+B leads back to where one came from
        page.keyboard.press("Alt+b")
        expect(page.locator("input[data-at='1:2']")).to_be_focused()

    def test_a_server_that_is_away_holds_the_rig_and_not_the_table(self) -> None:
        page = self.at_the_rig()
        away = re.compile(r"/api/books/\d+/rig$")

        def refuse(route: Route) -> None:
            route.abort()

        page.route(away, refuse)
        page.keyboard.press("t")
        expect(page.get_by_role("alert")).to_contain_text("The apparatus stands still, for the server cannot be reached.")
        page.locator("input[data-at='0:0']").click()
        page.keyboard.type("0.25")
        page.keyboard.press("Enter")
        saved(page)
        page.unroute(away)
        expect(page.get_by_role("alert")).to_have_count(0)
        self.assertLess(abs(float(self.shows(page, "balance"))), 0.005)

    def test_a_list_of_acts_that_does_not_fit_is_cleared_by_a_press(self) -> None:
        page = self.at_the_rig()
        page.evaluate(
            """() => { const key = Object.keys(sessionStorage).find(k => k.startsWith('hobrel:rig:'));
                sessionStorage.setItem(key, JSON.stringify({hand: 'h', begun: Date.now(), acts: [{kind: 'fly', value: '', at: 0}]})) }"""
        )
        page.reload()
        expect(page.get_by_role("alert")).to_contain_text("Salt in rock pools knows no fly")
        page.get_by_role("alert").get_by_role("button", name="Clear the bench").click()
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()

    def test_only_teachers_are_told_the_truth_and_it_can_be_used_by_ear(self) -> None:
        page = self.at_the_rig()
        expect(page.locator(".rig")).not_to_contain_text("What is true")
        self.press(page, "w")
        expect(page.locator(".rig").get_by_role("status")).to_contain_text("The cell hangs in distilled water. The boat is empty.")
        page.keyboard.press("a")
        expect(page.locator(".rig").get_by_role("status")).to_contain_text(re.compile(r"meter shows .*mS/cm\. balance shows \d\.\d+ g\."))
        page.keyboard.press("m")
        expect(page.locator(".rig").get_by_role("status")).to_have_text("There is no salt in the boat.")
        self.check_access(page)
        teacher = self.open_book(self.school.teacher, "read", self.book)
        teacher.get_by_text("What is true on this bench").click()
        for name, text in self.truth().items():
            expect(teacher.locator(".rig-truth")).to_contain_text(f"{name}{text}")
        expect(teacher.locator(".face-write")).to_have_count(0)


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


class RigsInAPlan(PlanTest):
    def test_a_teacher_puts_a_rig_on_every_bench_and_switches_off_what_goes_wrong(self) -> None:
        page = self.begin_plan("Brackish water", "How salty is the estuary?")
        self.head_table(page, "salt weighed in m (g)", "conductivity k (uS/cm)")
        self.press(page.get_by_role("combobox", name="Simulated apparatus"))
        self.press(page.get_by_title("Salt in rock pools"))
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        self.press(page.get_by_role("combobox", name="What is read from the meter"))
        self.press(page.get_by_title("conductivity").last)
        expect(page.get_by_text("The meter shows mS/cm, and conductivity is written in uS/cm.")).to_be_visible()
        self.press(page.get_by_role("checkbox", name="now and then a bubble clings to the cell"))
        self.press(page.get_by_role("checkbox", name="a press writes down what an instrument shows"))
        expect(page.locator(".face-write")).to_have_count(0)
        saved(page)
        part = next(b.document for b in Book.objects.exclude(plan=None) if b.document["title"] == "Brackish water")["plan"]["rig"]
        self.assertEqual(part["without"], ["bubbles"])
        self.assertEqual((part["key"], list(part["writes"]), part["writes_down"]), ("salt-in-pools", ["meter"], False))


class RingOnATurntable(RigTest):
    shelf = "ring-on-a-turntable"

    def drop(self, page: Page) -> None:
        """Record until the ring has turned on for a while, and stop."""
        self.press(page, "2")
        expect(page.get_by_role("group", name="logger’s clock", exact=True)).to_contain_text(re.compile(r"1\.\d\d"))
        self.press(page, "d")
        expect(page.get_by_role("group", name="logger’s clock", exact=True)).to_contain_text(re.compile(r"1\.\d\d"))
        self.press(page, "s")

    def test_two_drops_are_logged_drawn_as_they_come_and_kept(self) -> None:
        page = self.at_the_rig()
        self.press(page, "f", "2")
        # the curve is uncovered as time passes
        cover = page.locator("#strip-uncovered rect")
        page.wait_for_function("() => Number(document.querySelector('#strip-uncovered rect').getAttribute('width')) > 20")
        self.press(page, "s")
        stopped = cover.get_attribute("width")
        self.drop(page)
        self.assertNotEqual(cover.get_attribute("width"), stopped)
        page.keyboard.press("k")
        expect(page.locator(".rig").get_by_role("status")).to_have_text(re.compile(r"\d\d\d rows are kept in the lab book\."))
        expect(page.get_by_role("tab", selected=True)).to_contain_text("First drop")
        expect(page.get_by_text("A logger wrote these")).to_be_visible()
        page.locator(".rig").focus()
        self.press(page, "l", "f")
        self.drop(page)
        page.get_by_role("button", name="Keep it in the lab book").click()
        expect(page.get_by_role("tab", selected=True)).to_contain_text("Record 2")
        self.check_access(page)
        document = Book.objects.get(pk=self.book.pk).document
        self.assertEqual([run["name"] for run in document["runs"]], ["First drop", "Record 2"])
        self.assertTrue(all(200 < run["log"]["rows"] < 900 for run in document["runs"]))
        page.keyboard.press("Alt+4")
        expect(page.get_by_text("the ring lands")).to_be_visible()

    def test_from_the_ruler_and_a_record_to_findings_and_the_report(self) -> None:
        page = self.at_the_rig()
        mass = self.shows(page, "hook balance")
        self.press(page, "e")
        edges = {}
        for edge in "uiop":
            self.press(page, edge)
            edges[edge] = self.by_ear(page)
        outer, inner = edges["p"] - edges["u"], edges["o"] - edges["i"]
        self.press(page, "f")
        self.drop(page)
        page.keyboard.press("k")
        expect(page.get_by_text("A logger wrote these")).to_be_visible()
        page.get_by_role("button", name="Quantities").click()
        self.write_value(page, "mass of the ring", mass, "0.1")
        self.write_value(page, "diameter of the ring, outside", f"{outer:.2f}", "0.3")
        self.write_value(page, "diameter of the ring, inside", f"{inner:.2f}", "0.3")
        page.get_by_role("button", name="Close").click()
        page.keyboard.press("Alt+6")
        unfold(page)
        for tab, low, high in ((0, "", "0"), (1, "0.06", "")):
            page.get_by_role("tablist", name="Fits").get_by_role("tab").nth(tab).click()
            page.get_by_label("Or only from x =").fill(low)
            page.get_by_label("to", exact=True).fill(high)
            page.get_by_role("button", name="Fit this stretch").click()
            saved(page)
            expect(page.get_by_label("Only from x =")).to_be_visible()
        hidden = 1000 * self.ring()
        self.found_within(page, 4, drop=hidden, made=hidden)

    def ring(self) -> float:
        seeds = seeds_of(Book.objects.get(pk=self.book.pk))
        return RING_ON_TURNTABLE.draw_truth(Chance(seeds.shared), Chance(seeds.own), ()).ring
