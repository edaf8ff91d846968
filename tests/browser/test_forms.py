"""A form that is refused stays open, says why, and has what was typed; one that cannot be sent closes, and its edit is kept."""

from __future__ import annotations

from playwright.sync_api import Page, Route, expect

from tests.browser.base import BrowserTest, come_late, in_the_long_run, saved
from tests.browser.planning import PlanTest
from tests.school import fill


class Forms(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 4)

    def describe(self, page: Page, symbol: str) -> None:
        page.get_by_role("button", name="Add a quantity").click()
        page.get_by_label("called").fill("sag of the tip")
        page.get_by_label("symbol").fill(symbol)
        page.get_by_label("unit").fill("mm")
        page.keyboard.press("Enter")

    @in_the_long_run
    def test_a_symbol_that_is_taken_is_said_in_the_form(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        self.describe(page, "L")
        form = page.locator(".quantity-form")
        expect(form.get_by_role("alert")).to_have_text("L stands for overhang already. Choose another symbol.")
        expect(form.get_by_label("called")).to_have_value("sag of the tip")
        # said there and nowhere else, and nothing is waiting to be decided
        expect(page.get_by_role("alert")).to_have_count(1)
        expect(page.get_by_text("not kept")).to_have_count(0)
        form.get_by_label("symbol").fill("h")
        form.get_by_label("symbol").press("Enter")
        expect(page.get_by_role("dialog").get_by_role("row", name="h / mm sag of the tip")).to_be_visible()
        expect(page.get_by_role("button", name="Add a quantity")).to_be_focused()
        page.reload()
        expect(page.get_by_text("not kept")).to_have_count(0)

    def test_a_number_that_is_none_is_said_before_it_is_sent(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        self.describe(page, "")
        form = page.locator(".quantity-form")
        form.get_by_label("symbol").fill("h")
        form.get_by_label("read from").fill("ruler")
        form.get_by_role("button", name="Add").click()
        expect(form.get_by_role("alert")).to_contain_text("smallest division")
        form.get_by_label("What kind of instrument").click()
        page.get_by_text("a meter, ± as its maker states").click()
        form.get_by_label("% of the reading").fill("0,5")
        form.get_by_label("how many digits").fill("2")
        form.get_by_label("last digit").fill("0.1")
        form.get_by_role("button", name="Add").click()
        expect(page.get_by_role("dialog").get_by_role("row", name="h / mm sag of the tip")).to_contain_text("ruler ± (0.5 % + 2 × 0.1 mm)")

    @in_the_long_run
    def test_a_quantity_that_is_begun_outlives_its_form(self) -> None:
        page = self.open_book(self.school.students[0])
        for leave in ("Escape", "Alt+4"):
            page.get_by_role("button", name="Quantities").click()
            page.get_by_role("button", name="Add a quantity").click()
            page.get_by_label("called").fill(f"sag of the tip, {leave}")
            page.get_by_label("read from").fill("ruler")
            page.get_by_label("read from").press(leave)
            expect(page.get_by_label("called")).to_have_count(0)
            page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read")
            page.get_by_role("button", name="Quantities").click()
            page.get_by_role("button", name="Add a quantity").click()
            expect(page.get_by_label("called")).to_have_value(f"sag of the tip, {leave}")
            expect(page.get_by_label("read from")).to_have_value("ruler")
            page.keyboard.press("Escape")
        page.get_by_role("button", name="Quantities").click()
        page.get_by_role("button", name="Add a quantity").click()
        # it is left by the press that says so
        page.get_by_role("button", name="Leave it").click()
        page.get_by_role("button", name="Add a quantity").click()
        expect(page.get_by_label("called")).to_have_value("")

    @in_the_long_run
    def test_a_name_that_another_run_has(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="+ fresh readings").click()
        page.keyboard.type("beech STRIP")
        page.keyboard.press("Enter")
        expect(page.locator(".run-naming").get_by_role("alert")).to_contain_text("There is a run called beech STRIP already.")
        expect(page.get_by_label("Fresh readings, taken under")).to_have_value("beech STRIP")
        page.get_by_label("Fresh readings, taken under").fill("wet strip")
        page.keyboard.press("Enter")
        expect(page.get_by_role("tab", name="wet strip")).to_have_attribute("aria-selected", "true")
        expect(page.locator(".run-naming")).to_have_count(0)

    @in_the_long_run
    def test_one_that_is_left_on_its_way_is_not_refused_in_silence(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        held: list[Route] = []
        page.route("**/edits", lambda route: held.append(route))
        with page.expect_request("**/edits"):
            self.describe(page, "L")
        page.keyboard.press("Escape")
        expect(page.locator(".quantity-form")).to_have_count(0)
        held[0].continue_()
        page.get_by_text("1 not kept").click()
        expect(page.get_by_role("dialog")).to_contain_text("add quantity: sag of the tip · L · mm")

    def test_without_a_server_it_closes_and_is_kept_later(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        page.context.set_offline(True)
        self.describe(page, "h")
        expect(page.locator(".quantity-form")).to_have_count(0)
        page.context.set_offline(False)
        expect(page.get_by_role("dialog").get_by_role("row", name="h / mm sag of the tip")).to_be_visible()
        saved(page)


@in_the_long_run
class InAPlan(PlanTest):
    def test_what_is_written_next_has_the_focus(self) -> None:
        page = self.page_of(self.school.teacher)
        # what is asked for may be quicker than what it is about
        come_late(page, 150)
        page.get_by_role("button", name="New plan").click()
        expect(page.get_by_label("Title")).to_be_focused()
        page.keyboard.type("Gas from yeast")
        self.head_table(page, "temperature T (°C)", "time t (s)")
        page.get_by_role("button", name="Add a condition").click()
        expect(page.get_by_label("Name of condition 1")).to_be_focused()
        # the name that it was given is written over
        page.keyboard.type("cane sugar")
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Add a condition").click()
        expect(page.get_by_label("Name of condition 2")).to_be_focused()
        expect(page.get_by_label("Name of condition 1")).to_have_value("cane sugar")
        # what cannot be left empty is as it was
        page.get_by_label("Name of condition 1").fill("")
        page.keyboard.press("Tab")
        expect(page.get_by_label("Name of condition 1")).to_have_value("cane sugar")
        page.get_by_role("button", name="Take number 2 of “Conditions” away").click()
        expect(page.get_by_role("button", name="Add a condition")).to_be_focused()
        # a quantity that is read from nothing yet is come to for that
        for quantity in ("temperature", "time"):
            page.locator(".plan-note", has_text=quantity).get_by_role("link").click()
            expect(page.get_by_label("read from")).to_be_focused()
            # the sheet of the one is open as the other's takes its place
            page.keyboard.type("a scale")
            page.get_by_label("smallest division").fill("1")
            page.keyboard.press("Enter")
            expect(page.locator(".plan-note", has_text=f"Say what {quantity}")).to_have_count(0)

    def test_the_focus_is_not_lost_with_what_had_it(self) -> None:
        page = self.begin_plan("A plan", "Why?")
        self.head_table(page, "length l / m", "time t / s")
        page.get_by_role("button", name="Quantities").click()
        sheet = page.get_by_role("dialog")
        self.derive(page, "speed", "v", "l/t")
        expect(page.get_by_role("button", name="Add a quantity")).to_be_focused()
        speed = sheet.get_by_role("row", name="speed derived")
        speed.get_by_role("button", name="Remove").click()
        expect(speed).to_have_count(0)
        expect(sheet).to_be_focused()
        page.keyboard.press("Escape")
        expect(sheet).to_have_count(0)
        page.goto(f"{page.url.rsplit('/', 1)[0]}/find")
        expect(page.locator("#page")).to_be_focused()
        page.get_by_role("button", name="A finding of your own").click()
        page.get_by_role("button", name="Leave it").click()
        expect(page.get_by_role("button", name="A finding of your own")).to_be_visible()
        expect(page.locator("#page")).to_be_focused()

    def test_what_the_dry_run_lacks_is_a_press_away(self) -> None:
        page = self.begin_plan("Gas from yeast", "Does it matter how warm it is?", "k = k_0 exp(-E_a / (R T))")
        self.head_table(page, "temperature T (°C)", "time t (s)")
        page.get_by_role("button", name="Quantities").click()
        self.derive(page, "rate", "k", "1/t")
        page.get_by_role("button", name="Close").click()
        self.set_range(page, "temperature", "20", "45", 6)
        for symbol, value in (("E_a", "55 kJ/mol"), ("k_0", "5e8 1/s")):
            note = page.locator(".plan-note", has_text="It cannot be tried dry yet")
            note.get_by_role("button", name="Say it there").click()
            expect(page.get_by_label(f"What {symbol} truly is")).to_be_focused()
            page.keyboard.type(value)
            page.keyboard.press("Enter")
            page.get_by_role("button", name="Close").click()
        expect(page.locator(".plan-note", has_text="It cannot be tried dry yet")).to_have_count(0)
