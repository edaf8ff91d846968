"""Derived quantities at a press, how they are written, and what the plan leaves to the bench."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from hobrel.labbooks.models import Book, new_stamp
from tests.browser.base import BrowserTest, cell, in_the_long_run, saved
from tests.school import fill


class Deriving(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 5)
        self.page = self.open_book(self.school.students[0], "average")
        self.table = self.page.locator(".average-table")
        # until mathematics is set what stands below it moves, and on a slow machine away from under a press
        expect(self.page.locator(".derived .katex").last).to_be_visible()

    @in_the_long_run
    def test_another_unit_at_one_press(self) -> None:
        self.page.get_by_role("button", name="b in m", exact=True).click()
        expect(self.page.locator(".derived").last).to_contain_text("width of the strip in m")
        expect(self.page.locator(".average-constants")).to_contain_text("0.03000 ± 0.00010 m")
        expect(self.page.get_by_role("button", name="b in m", exact=True)).to_have_count(0)
        self.page.get_by_role("button", name="another …").click()
        self.page.get_by_role("menuitem", name="L in mm").click()
        expect(self.table.get_by_role("columnheader", name="Lmm / mm")).to_be_visible()
        expect(self.table.locator("tbody tr").first).to_contain_text("300.0")

    @in_the_long_run
    def test_rates_and_differences_with_their_working(self) -> None:
        self.page.get_by_role("button", name="between two settings").click()
        expect(self.table.get_by_role("columnheader", name="Δt10/ΔL / (s/m)")).to_be_visible()
        first = self.table.locator("tbody tr").first.locator("td")
        expect(first.last).to_have_text("–")
        self.table.locator("tbody tr").nth(1).locator("td").last.get_by_role("button").click()
        working = self.page.get_by_role("dialog")
        expect(working).to_contain_text("rate of change of time of ten swings at L = ")
        expect(working).to_contain_text("before it: L = 0.3000 ± 0.0005 m")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="its differences").click()
        expect(self.page.get_by_role("button", name="its differences")).to_be_disabled()
        saved(self.page)

    @in_the_long_run
    def test_rates_at_each_setting_and_smoothed_with_their_working(self) -> None:
        """Of the five settings of the demo; by the slope of the parabola through three of them, and of the one closest to five."""
        self.page.get_by_role("button", name="at each setting").click()
        expect(self.table.get_by_role("columnheader", name="dt10/dL / (s/m)")).to_be_visible()
        self.page.get_by_role("button", name="smoothed").click()
        expect(self.table.get_by_role("columnheader", name="(dt10/dL)smoothed / (s/m)")).to_be_visible()
        row = self.table.locator("tbody tr").nth(1).locator("td")
        row.last.get_by_role("button").click()
        working = self.page.get_by_role("dialog")
        expect(working).to_contain_text("closest to 5 settings")
        expect(working.locator(".katex-error")).to_have_count(0)
        self.page.keyboard.press("Escape")
        for words in ("at each setting", "smoothed"):
            expect(self.page.get_by_role("button", name=words)).to_be_disabled()
        saved(self.page)

    @in_the_long_run
    def test_the_digits_are_chosen_and_taken_back(self) -> None:
        card = self.page.locator(".derived").nth(1)
        before = self.table.locator("tbody tr").first.locator("td").nth(2).inner_text()
        card.get_by_label("How the values of period squared are written").click()
        self.page.get_by_title("figures, power of ten").click()
        value = self.table.locator("tbody tr").first.locator("td").nth(2)
        expect(value).to_contain_text("× 10⁻¹")
        card.get_by_label("How many significant figures").fill("2")
        card.get_by_label("How many significant figures").press("Enter")
        expect(value).to_contain_text("1.3 × 10⁻¹")
        for _ in range(2):
            self.page.get_by_role("banner").get_by_role("button", name="Undo").click()
            saved(self.page)
        expect(value).to_have_text(before)

    def write_formula(self, called: str, symbol: str, formula: str) -> Locator:
        """Add a derived quantity by its formula; the form it was written in."""
        form = self.page.locator(".derive-more form")
        form.get_by_label("called").fill(called)
        form.get_by_label("symbol").fill(symbol)
        form.get_by_label("=").fill(formula)
        self.page.keyboard.press("Enter")
        return form

    def test_a_formula_of_ones_own(self) -> None:
        form = self.write_formula("frequency", "f", "1/T")
        card = self.page.locator(".derived").last
        expect(card).to_contain_text("s⁻¹")
        form.get_by_label("called").fill("again")
        form.get_by_label("symbol").fill("f")
        form.get_by_role("button", name="Add").click()
        expect(form.get_by_role("alert")).to_have_text("f stands for frequency already. Choose another symbol.")
        expect(form.get_by_label("called")).to_have_value("again")
        card.get_by_role("button", name="Remove").click()
        expect(self.page.locator(".derived")).to_have_count(3)

    def test_a_setting_without_a_value_leaves_the_others_theirs(self) -> None:
        """L is 0.300 m at the first setting, ten times the strip's width of 30.0 mm."""
        self.write_formula("odd", "q", "1/(L - 10 b)")
        expect(self.page.get_by_text("q, setting 1: The formula has no value here: divides by zero.")).to_be_visible()
        rows = self.table.locator("tbody tr")
        expect(rows.nth(0).locator("td").last).to_have_text("–")
        expect(rows.nth(1).locator("td").last).to_contain_text("20")


@in_the_long_run
class WhatThePlanLeaves(BrowserTest):
    def free(self, **freedoms: bool) -> None:
        book = Book.objects.get(pk=self.school.book.pk)
        everything = {"own_quantities": False, "repeats": False, "instruments": False, "units": False}
        book.document["freedoms"] = everything | freedoms
        book.stamp = new_stamp()
        book.save()

    def test_nothing(self) -> None:
        self.free()
        page = self.open_book(self.school.students[0])
        expect(page.locator(".ruled-repeats")).to_have_count(0)
        page.get_by_role("button", name="Quantities").click()
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("The plan says what is measured here, how often, and with what.")
        expect(sheet.get_by_role("button", name="Add a quantity")).to_have_count(0)
        page.keyboard.press("Escape")
        page.keyboard.press("Alt+3")
        expect(page.get_by_role("heading", name="Averages")).to_be_visible()
        expect(page.locator(".derive-more")).to_have_count(0)

    def test_the_instrument(self) -> None:
        fill(self.school.book, 3)
        self.free(instruments=True)
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        sheet = page.get_by_role("dialog")
        sheet.get_by_role("row", name="time of ten swings").get_by_role("button", name="Change").click()
        expect(sheet.get_by_label("symbol")).to_be_disabled()
        expect(sheet.get_by_label("unit")).to_be_disabled()
        sheet.get_by_label("read from").fill("light gate")
        sheet.get_by_label("last digit").fill("0.001")
        sheet.locator(".quantity-form").get_by_role("button", name="Change").click()
        page.keyboard.press("Escape")
        expect(page.locator("table.ruled thead")).to_contain_text("light gate ± 0.001 s")
        expect(page.locator("td.slipped").first).to_be_visible()
        expect(cell(page, 0, 1)).to_have_attribute("placeholder", "0.000")
