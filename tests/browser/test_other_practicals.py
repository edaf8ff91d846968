"""Other practicals taken to their finding: a stretch left out at the end, and an unknown read back."""

from __future__ import annotations

import random

from playwright.sync_api import expect

from hobrel.demo import draining_vessel, sound_through_felt
from tests.browser.base import BrowserTest
from tests.school import give_another


class OtherPracticals(BrowserTest):
    def test_the_draining_vessel(self) -> None:
        plan = draining_vessel.make_plan()
        book = give_another(self.school, plan, draining_vessel.write_bench(plan, random.Random(5)))
        page = self.open_book(self.school.students[0], "straighten", book)
        large = page.get_by_role("region", name="Large").get_by_role("article")
        expect(large.last).to_contain_text("If the relation holds, the gradient is")
        page.keyboard.press("Alt+6")
        expect(page.locator(".line-card")).to_contain_text("of 13 points")
        expect(page.get_by_role("complementary", name="Margin")).to_contain_text("three of its uncertainties")
        area = page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        y = area["y"] + 30
        page.mouse.move(area["x"] + area["width"] * 0.86, y)
        page.mouse.down()
        page.mouse.move(area["x"] + area["width"] * 0.95, y)
        page.mouse.move(area["x"] + area["width"] - 2, y)
        page.mouse.up()
        page.get_by_label("Why is this stretch left out?").fill("no jet any more")
        page.keyboard.press("Enter")
        expect(page.locator(".line-card")).to_contain_text("The scatter fits the bars.")
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).to_contain_text("mm²")
        expect(page.locator(".find")).to_contain_text("It agrees with the accepted value")
        page.keyboard.press("Alt+9")
        expect(page.locator(".paper")).to_contain_text("no jet any more")

    def test_sound_through_felt(self) -> None:
        plan = sound_through_felt.make_plan()
        book = give_another(self.school, plan, sound_through_felt.write_bench(plan, random.Random(5)))
        page = self.open_book(self.school.students[0], "fit", book)
        expect(page.locator(".line-card")).to_contain_text("ln")
        reading = page.get_by_role("region", name="Read off")
        reading.get_by_text("x at a y").click()
        reading.get_by_label("at ln(N) =").fill("4.5")
        page.keyboard.press("Enter")
        expect(reading.get_by_role("listitem")).to_contain_text("x = 4.")
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).to_contain_text("2.0")
