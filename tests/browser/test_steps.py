"""Fit: a model computed step by step: begun, its units checked, supposed with a slider, found from the points, reported."""

from __future__ import annotations

import random

from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from hobrel.shelf import draining_vessel
from tests.browser.base import BrowserTest, in_the_long_run, saved, unfold
from tests.school import give_another


def keep(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


class Steps(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        plan = draining_vessel.make_plan()
        self.book = give_another(self.school, plan, draining_vessel.write_bench(plan, random.Random(5)))

    def begin(self) -> Page:
        """A step-by-step model of the height against time, as nothing is in it yet."""
        page = self.open_book(self.school.students[0], "fit", self.book)
        unfold(page)
        page.get_by_label("Fit something more").click()
        page.locator(".ant-select-item-option").filter(has_text="h against t").first.click()
        expect(page.get_by_role("tab", selected=True)).to_contain_text("h against t")
        page.get_by_label("What is fitted").click()
        page.locator(".ant-select-item-option").filter(has_text="Step by step").click()
        return page

    def steps(self) -> dict[str, object]:
        fits: list[dict[str, dict[str, object]]] = Book.objects.get(pk=self.book.pk).document["fits"]
        return fits[-1]["steps"]

    def test_from_a_usual_beginning_to_what_the_report_says(self) -> None:
        page = self.begin()
        page.get_by_role("button", name="dies away in proportion to itself").click()
        sheet, card = page.get_by_role("region", name="The step-by-step model"), page.locator(".line-card")
        expect(page.locator(".graph-line.fit")).to_have_count(1)
        keep(page, "How fast h changes with t", "-c sqrt(h)")
        # Torricelli's law: the number needs another unit than that of a decay
        expect(sheet).to_contain_text("The rate of h is in √m/s here; it has to be in m/s.")
        expect(page.locator(".graph-line.fit")).to_have_count(0)
        keep(page, "Unit of c", "m^(1/2)/s")
        expect(page.locator(".fit")).to_contain_text("the model has no value: a root or a logarithm of what has none.")
        keep(page, "Value of c", "0.004")
        expect(page.locator(".graph-line.fit")).to_have_count(1)
        expect(card).to_contain_text("more than")
        before = card.inner_text()
        slider = sheet.get_by_role("slider", name="Suppose another value of c")
        slider.focus()
        page.keyboard.press("ArrowLeft")
        expect(page.locator(".what-if")).to_contain_text("Suppose c = ")
        expect(card).not_to_have_text(before)
        page.keyboard.press("Enter")
        expect(page.locator(".what-if")).to_have_count(0)
        saved(page)
        sheet.get_by_text("find it from the points").click()
        expect(card).to_contain_text("√m/s")
        expect(sheet).to_contain_text("The steps are short enough")
        # the last points are of an empty vessel: longer steps would go below nothing
        sheet.get_by_role("button", name="+ a stage").click()
        keep(page, "Stage 1 of the rate of h holds while", "h > 0")
        keep(page, "Rate of h otherwise", "0")
        sheet.get_by_text("simple steps", exact=True).click()
        keep(page, "Length of a step", "20")
        expect(sheet).to_contain_text("Half the step moves the model by")
        expect(page.locator(".graph-line.halved")).to_have_count(1)
        self.check_access(page)
        saved(page)
        self.assertEqual((self.steps()["way"], self.steps()["step"]), ("simple", "20"))
        page.reload()
        expect(page.get_by_label("Length of a step")).to_have_value("20")
        page.keyboard.press("Alt+9")
        expect(page.locator(".paper")).to_contain_text("A model computed step by step through")
        expect(page.locator(".paper")).to_contain_text("In steps of 20 s, by simple steps.")
        expect(page.locator(".paper")).to_contain_text("The dotted line is the model with half its step")

    @in_the_long_run
    def test_stages_and_what_is_wrong_in_them(self) -> None:
        page = self.begin()
        page.get_by_role("button", name="pushed steadily").click()
        sheet = page.get_by_role("region", name="The step-by-step model")
        sheet.get_by_role("listitem", name="v", exact=True).get_by_role("button", name="+ a stage").click()
        keep(page, "Stage 1 of the rate of v holds while", "v > h")
        expect(sheet).to_contain_text("m/s cannot be compared with m.")
        keep(page, "Stage 1 of the rate of v holds while", "v < 0")
        expect(page.locator(".graph-line.fit")).to_have_count(1)
        expect(page.locator(".line-equation")).to_contain_text("while")
        sheet.get_by_role("button", name="Remove stage 1 of the rate of v").click()
        expect(page.locator(".line-equation")).not_to_contain_text("while")
        keep(page, "Length of a step", "0.0001")
        expect(sheet).to_contain_text("Take a longer step.")

    @in_the_long_run
    def test_two_change_different_parts_at_once(self) -> None:
        page = self.begin()
        page.get_by_role("button", name="pushed, and held back").click()
        saved(page)
        other = self.page_of(self.school.students[1], page.url.removeprefix(self.live_server_url))
        expect(other.get_by_label("Value of a", exact=True)).to_be_visible()
        keep(other, "Value of a", "0.5")
        keep(page, "Start of v", "0.1")
        saved(page)
        saved(other)
        for each in (page, other):
            expect(each.get_by_label("Value of a", exact=True)).to_have_value("0.5")
            expect(each.get_by_label("Start of v", exact=True)).to_have_value("0.1")
