"""Other practicals taken to their finding: a stretch left out, an unknown read back, level stretches compared, slopes fitted in turn."""

from __future__ import annotations

import random

from playwright.sync_api import expect

from hobrel.shelf import draining_vessel, growth_in_a_flask, sound_through_felt, warm_bolt
from tests.browser.base import BrowserTest, in_the_long_run
from tests.school import give_another


class OtherPracticals(BrowserTest):
    def test_the_draining_vessel(self) -> None:
        plan = draining_vessel.make_plan()
        book = give_another(self.school, plan, draining_vessel.write_bench(plan, random.Random(5)))
        page = self.open_book(self.school.students[0], "straighten", book)
        large = page.get_by_role("region", name="Large").get_by_role("article")
        page.get_by_role("button", name="Show what Hobrel makes of them all").click()
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

    @in_the_long_run
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
        area = page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        page.mouse.move(area["x"] + area["width"] * 0.5, area["y"] + 30)
        expect(reading).to_contain_text("Under the pointer: y = 4.")
        page.mouse.down()
        page.mouse.up()
        expect(reading.get_by_role("listitem")).to_have_count(2)
        page.get_by_text("Unknowns to read back").click()
        page.get_by_label("called").last.fill("the thick stack")
        page.get_by_label("its ln(N), every reading").fill("ln(92) ln(89)")
        page.keyboard.press("Enter")
        expect(page.locator(".unknowns tbody tr")).to_contain_text("4.4")
        page.keyboard.press("Alt+7")
        expect(page.locator(".find")).to_contain_text("In full it is 2.0")
        page.get_by_label("Your own rounding").fill("2 +- 1")
        page.keyboard.press("Enter")
        expect(page.locator(".find")).to_contain_text("not the computed one")
        expect(page.locator(".find-statement")).to_contain_text("2.0")

    @in_the_long_run
    def test_the_warm_bolt(self) -> None:
        plan = warm_bolt.make_plan()
        book = give_another(self.school, plan, warm_bolt.write_bench(plan, random.Random(5)))
        page = self.open_book(self.school.students[0], "look", book)
        expect(page.locator(".graph-legend [aria-pressed]")).to_have_count(2)
        # the b of θ_b is lowered in legend, title and lists
        for place in (page.locator(".graph-legend"), page.locator(".look-title")):
            expect(place.locator("sub").filter(has_text="b")).to_be_visible()
            expect(place).not_to_contain_text("_")
        area = page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        page.mouse.move(area["x"] + area["width"] * 0.65, area["y"] + 20)
        page.mouse.down()
        page.mouse.move(area["x"] + area["width"] * 0.9, area["y"] + 20, steps=3)
        page.mouse.up()
        bar = page.get_by_label("The marked stretch")
        expect(bar).to_contain_text("mean 24.4")
        bar.get_by_label("Of which series").click()
        of_bolt = page.get_by_title("temperature of the bolt, θ_b").last
        expect(of_bolt.locator("sub")).to_have_text("b")
        of_bolt.click()
        expect(bar).to_contain_text("mean 24.4")
        page.keyboard.press("Alt+7")
        taken = page.get_by_role("region", name="heat taken by the water")
        expect(taken).to_contain_text("It agrees with heat given by the bolt")
        expect(taken).to_contain_text("mean of θw, from 180 to 300 s (61 values)")
        expect(page.get_by_role("region", name="heat given by the bolt")).to_contain_text("specific heat of steel")
        page.keyboard.press("Alt+9")
        expect(page.locator(".paper")).to_contain_text("It agrees with heat given by the bolt")

    @in_the_long_run
    def test_growth_in_a_flask(self) -> None:
        plan = growth_in_a_flask.make_plan()
        book = give_another(self.school, plan, growth_in_a_flask.write_bench(plan, random.Random(5)))
        page = self.open_book(self.school.students[0], "fit", book)
        expect(page.get_by_label("Card of the curve")).to_contain_text("Logistic")
        page.get_by_text("Where the points are steepest").click()
        expect(page.locator(".graph-spot")).to_have_count(1)
        page.get_by_label("Fraction of the steepest place").fill("0,5")
        expect(page.locator(".graph-more").filter(has_text="the reading at")).to_contain_text("of that place (2")
        page.get_by_role("tab", name="r/E against E").click()
        expect(page.get_by_label("Line card")).to_contain_text("h⁻¹")
        page.get_by_role("tab", name="E against t").click()
        page.get_by_text("Its slope at every setting").click()
        page.get_by_label("called").last.fill("growth again")
        page.get_by_label("symbol").last.fill("G")
        page.get_by_role("button", name="Make it a quantity").click()
        expect(page.get_by_label("Card of the curve")).to_contain_text("growth again, G")
        page.keyboard.press("Alt+7")
        slopes = page.get_by_role("region", name="doubling time by the slopes")
        expect(slopes).to_contain_text("agrees with doubling time with nothing in the way")
        expect(page.get_by_role("region", name="time of fastest growth")).to_contain_text("agrees with middle of the fitted S")
