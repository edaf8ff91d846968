"""Looking back, looking ahead, and looking sideways: history, a formula while it is typed, other conventions."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.base import BrowserTest, cell, in_the_long_run, saved
from tests.school import client_of, fill, send_edit


class History(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.document = fill(self.school.book, 5)
        first = self.document.runs[0].settings[1].readings["t10"][0]
        assert first is not None
        self.before = first.text
        edit = {"type": "set_reading", "run": "run1", "setting": "s2", "quantity": "t10", "repeat": 0, "text": "4.44", "was": first.text}
        send_edit(client_of(self.school.students[1]), self.school.book, edit)
        self.page = self.open_book(self.school.students[0])

    @in_the_long_run
    def test_any_moment_can_be_looked_at_and_brought_back(self) -> None:
        cell(self.page, 3, 0).fill("0.999")
        self.page.keyboard.press("Enter")
        saved(self.page)
        self.page.locator(".saved").click()
        sheet = self.page.get_by_role("dialog")
        expect(sheet.get_by_role("listitem")).to_have_count(2)
        sheet.get_by_role("listitem").nth(1).get_by_role("button").click()
        past = sheet.locator(".past-table")
        expect(past).to_contain_text("4.44")
        expect(past.locator(".other-now")).to_have_count(1)
        past.get_by_role("button", name="Bring the run back to this").click()
        expect(cell(self.page, 3, 0)).to_have_value("0.450")
        expect(cell(self.page, 1, 1)).to_have_value("4.44")
        self.page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(cell(self.page, 3, 0)).to_have_value("0.999")

    def test_one_reading_or_one_setting_is_brought_back(self) -> None:
        for row, column, text in ((1, 1, "4.99"), (3, 0, "0.999"), (3, 2, "9.99")):
            cell(self.page, row, column).fill(text)
            self.page.keyboard.press("Enter")
        cell(self.page, 4, 0).click()
        self.page.get_by_role("button", name="remove setting").click()
        saved(self.page)
        self.page.locator(".saved").click()
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_role("listitem").last.get_by_role("button").click()
        past = sheet.locator(".past-table")
        past.get_by_role("button", name="Bring 4.44 back, in place of 4.99").click()
        expect(cell(self.page, 1, 1)).to_have_value("4.44")
        expect(cell(self.page, 3, 0)).to_have_value("0.999")
        past.locator("tbody tr").nth(3).get_by_role("button", name="bring back", exact=True).click()
        expect(cell(self.page, 3, 0)).to_have_value("0.450")
        expect(cell(self.page, 3, 2)).not_to_have_value("9.99")
        past.locator("tbody tr").nth(4).get_by_role("button", name="bring back", exact=True).click()
        expect(cell(self.page, 4, 0)).to_have_value("0.500")
        saved(self.page)
        expect(past.locator(".other-now")).to_have_count(0)
        self.assertEqual(self.texts("t10")[1][0], "4.44")
        self.assertEqual(len(self.texts("t10")), 5)

    @in_the_long_run
    def test_one_reading_has_its_own_history(self) -> None:
        cell(self.page, 1, 1).focus()
        self.page.keyboard.press("Alt+H")
        sheet = self.page.get_by_role("dialog")
        expect(sheet).to_contain_text("History of one reading: time of ten swings")
        expect(sheet.get_by_role("listitem")).to_have_count(1)
        expect(sheet).to_contain_text(f"Bo · L = 0.350 m, t₁₀, repeat 1: {self.before} → 4.44")
        self.page.keyboard.press("Escape")
        expect(cell(self.page, 1, 1)).to_be_focused()


@in_the_long_run
class LookingAhead(BrowserTest):
    def test_a_formula_is_shown_while_it_is_typed_and_saved_only_when_written(self) -> None:
        fill(self.school.book, 5)
        page = self.open_book(self.school.students[0], "average")
        field = page.get_by_label("T =")
        expect(field).to_have_value("t_10/10")
        field.fill("t_10/20")
        preview = page.locator(".derived-preview")
        expect(preview).to_contain_text("s; 0.")
        field.fill("t_10 + L")
        expect(page.get_by_role("alert")).to_contain_text("cannot be added to")
        field.fill("t_10/")
        page.locator(".symbol-picks").get_by_role("button", name="gn", exact=True).click()
        expect(field).to_have_value("t_10/g_n")
        expect(page.get_by_role("alert")).to_contain_text("gives s³/m, but s is wanted")
        page.keyboard.press("Escape")
        expect(field).to_have_value("t_10/10")
        expect(preview).to_have_count(0)

    def test_conventions_and_ways_side_by_side(self) -> None:
        fill(self.school.book, 5)
        page = self.open_book(self.school.students[0], "average")
        page.get_by_role("button", name="Compare conventions").click()
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("columnheader", name="half the range of the repeats")).to_have_class("chosen")
        expect(sheet.locator(".conventions-table").first.locator("tbody tr")).to_have_count(5)
        page.get_by_label("Derived quantity").click()
        page.get_by_title("L³ overhang cubed").click()
        rows = sheet.locator(".conventions-table").nth(1).locator("tbody tr")
        expect(rows).to_have_count(4)
        expect(rows.nth(0)).to_contain_text("m³")
