"""Blocks of readings: chosen with keys, mouse and touch; copied, cut, filled, blanked, set aside; and the keypad under the thumbs."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved
from tests.school import fill

TABLET = {"width": 768, "height": 1024}


def clipboard(page: Page) -> str:
    text: str = page.evaluate("navigator.clipboard.readText()")
    return text


class Blocks(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.book = fill(self.school.book, 5)
        self.page = self.open_book(self.school.students[0])
        self.before = self.texts("t10")

    def choose(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(f"Shift+{key}")

    def test_chosen_with_keys_copied_and_pasted_elsewhere(self) -> None:
        cell(self.page, 1, 1).focus()
        self.choose("ArrowRight", "ArrowDown")
        expect(self.page.locator("td.chosen")).to_have_count(4)
        self.page.keyboard.press("Control+C")
        self.assertEqual(clipboard(self.page), "\n".join("\t".join(str(t) for t in row[:2]) for row in self.before[1:3]))
        self.page.keyboard.press("Escape")
        expect(self.page.locator("td.chosen")).to_have_count(0)
        cell(self.page, 5, 2).focus()
        self.page.keyboard.press("Control+V")
        saved(self.page)
        self.assertEqual([row[1:3] for row in self.texts("t10")[5:]], [row[:2] for row in self.before[1:3]])

    def test_chosen_with_the_mouse_and_cut(self) -> None:
        cell(self.page, 0, 1).hover()
        self.page.mouse.down()
        cell(self.page, 2, 2).hover()
        self.page.mouse.up()
        expect(self.page.locator(".block-bar")).to_contain_text("6 cells chosen")
        self.page.keyboard.press("Control+X")
        expect(cell(self.page, 2, 2)).to_have_value("")
        saved(self.page)
        self.assertEqual([row[:2] for row in self.texts("t10")[:3]], [[None, None]] * 3)
        self.page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(cell(self.page, 2, 2)).to_have_value(str(self.before[2][1]))
        self.assertEqual(self.texts("t10"), self.before)

    @in_the_long_run
    def test_filled_with_one_value_blanked_and_brought_back(self) -> None:
        cell(self.page, 0, 3).focus()
        self.choose("ArrowDown", "ArrowDown")
        self.page.keyboard.type("3.33")
        self.page.keyboard.press("Control+Enter")
        for row in range(3):
            expect(cell(self.page, row, 3)).to_have_value("3.33")
        self.page.keyboard.press("Delete")
        expect(cell(self.page, 2, 3)).to_have_value("")
        self.page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(cell(self.page, 2, 3)).to_have_value("3.33")
        saved(self.page)
        self.assertEqual([row[2] for row in self.texts("t10")[:4]], ["3.33"] * 3 + [self.before[3][2]])

    @in_the_long_run
    def test_one_value_pasted_fills_the_block(self) -> None:
        self.page.evaluate("navigator.clipboard.writeText('7,77')")
        cell(self.page, 0, 1).focus()
        self.choose("ArrowDown", "ArrowRight")
        self.page.keyboard.press("Control+V")
        expect(cell(self.page, 1, 2)).to_have_value("7,77")
        saved(self.page)
        self.assertEqual([row[:2] for row in self.texts("t10")[:2]], [["7,77", "7,77"]] * 2)

    @in_the_long_run
    def test_set_aside_together_with_one_reason(self) -> None:
        cell(self.page, 1, 1).focus()
        self.choose("ArrowRight")
        self.page.locator(".block-bar").get_by_role("button", name="set aside").click()
        self.page.get_by_label("Why are these 2 readings left out?").fill("the strip touched the table")
        self.page.keyboard.press("Enter")
        expect(self.page.locator("tr.aside-reason")).to_have_count(2)

    @in_the_long_run
    def test_pasted_headings_can_be_used_instead(self) -> None:
        paste(self.page, cell(self.page, 5, 0), "t3\tL (cm)\tt1\n3.9\t70.0\t3.8\n4.9\t75.0\t4.8\n")
        expect(self.page.locator(".notice")).to_contain_text("taken as headings and left out")
        self.page.get_by_role("button", name="Choose columns by their headings instead").click()
        expect(self.page.locator(".bring-column.ticked")).to_have_count(3)
        self.page.get_by_role("button", name="Bring in 3 columns").click()
        expect(cell(self.page, 0, 0)).to_have_value("0.700")
        expect(cell(self.page, 1, 3)).to_have_value("4.9")


class Touch(BrowserTest):
    def test_a_reading_is_typed_on_the_keypad(self) -> None:
        page = self.open_book(self.school.students[0], size=TABLET, touch=True)
        cell(page, 0, 0).tap()
        keypad = page.get_by_role("group", name="Keypad")
        expect(cell(page, 0, 0)).to_have_attribute("inputmode", "none")
        for key in ("0", "decimal point", "3", "1", "Take the last sign away", "0", "0", "The next cell"):
            keypad.get_by_role("button", name=key, exact=True).tap()
        expect(cell(page, 1, 0)).to_be_focused()
        for key in ("3", "5", "times ten to the power", "minus", "2", "The next cell"):
            keypad.get_by_role("button", name=key, exact=True).tap()
        expect(cell(page, 2, 0)).to_be_focused()
        saved(page)
        self.assertEqual(self.texts("L"), [["0.300"], ["35×10^−2"]])
