"""Simulated apparatus: worked at by keys from the first reading to a finding and its report; what is kept, what fails, who sees what."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.ring_on_turntable import RING_ON_TURNTABLE
from hobrel.labbooks.models import Book
from hobrel.labbooks.rigs import seeds_of
from tests.browser.base import BrowserTest, in_the_long_run, saved, unfold
from tests.browser.planning import PlanTest
from tests.browser.rig_bench import RigTest


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
        for flask, spoons in enumerate(("h", "hh", "nh", "nn", "nnnh"), 1):
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
        self.found_within(page, 5, **{p: float(truth[f"salt of the {p} pool"].removesuffix(" g/L")) for p in ("upper", "lower")})

    @in_the_long_run
    def test_a_bench_is_as_it_was_left_and_another_person_has_their_own(self) -> None:
        page, other = self.at_the_rig(0), self.at_the_rig(1)
        self.press(page, "t", "n", "m")
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_be_visible()
        expect(other.get_by_role("button", name="flask 1", exact=True)).to_have_count(0)
        page.reload()
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_be_visible()
        page.get_by_role("button", name="Clear the bench").click()
        expect(page.get_by_role("button", name="flask 1", exact=True)).to_have_count(0)

    @in_the_long_run
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
        # what was done meanwhile counts: the balance was set to zero
        expect(self.glass(page, "balance")).to_have_text(re.compile(r"^[-−]?0\.00[0-4]"))

    @in_the_long_run
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
        # every now and then a bubble clings to it
        hangs = re.compile(r"The cell hangs in distilled water\.( A bubble clings to the cell\.)? The boat is empty\.")
        expect(page.locator(".rig").get_by_role("status")).to_contain_text(hangs)
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


class ReadingScales(RigTest):
    shelf = "iron-in-tea"

    def test_what_is_read_goes_into_the_table_and_the_class_sees_who_reads_to_the_mark(self) -> None:
        page = self.at_the_rig()
        for step in range(4):
            self.press(page, "g")
            entry = page.get_by_label("You read")
            entry.fill(f"{2 * step + 2.4:.1f}")
            entry.press("Enter")
            # back at the keys of the apparatus
            expect(page.locator(".rig")).to_be_focused()
            expect(page.locator(".rig").get_by_role("status")).to_contain_text(f"written down: burette, setting {step + 1}")
        saved(page)
        self.assertEqual([row[0] for row in self.texts("V", self.book)], ["2.4", "4.4", "6.4", "8.4"])
        teacher = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        row = teacher.get_by_role("row", name="Ann")
        expect(row.filter(has_text="reads to the mark only")).to_contain_text("4")
        self.check_access(teacher)


class Practising(BrowserTest):
    @in_the_long_run
    def test_a_student_practises_alone_and_looks_behind_it(self) -> None:
        page = self.page_of(self.school.students[0])
        page.get_by_role("button", name="Practise at an apparatus").click()
        page.get_by_role("menuitem", name="Iron in tea").click()
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        page.keyboard.press("Alt+b")
        page.keyboard.press("m")
        expect(page.locator("input[data-at='0:1']")).to_have_value(re.compile(r"^\d\d\d$"))
        page.get_by_text("What is true on this bench, for when you have found it yourself").click()
        expect(page.locator(".rig-truth")).to_contain_text("mmol/L")
        self.check_access(page)


class RigsInAPlan(PlanTest):
    @in_the_long_run
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

    @in_the_long_run
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

    @in_the_long_run
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
        self.found_within(page, 5, drop=hidden, made=hidden)

    def ring(self) -> float:
        seeds = seeds_of(Book.objects.get(pk=self.book.pk))
        return RING_ON_TURNTABLE.draw_truth(Chance(seeds.shared), Chance(seeds.own), ()).ring
