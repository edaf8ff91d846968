"""Long tables: hundreds of settings to type into, and what a logger wrote."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved

COUNT = 400
LOG = "n;L / m;t10 (s);lamp\n" + "".join(f"{i};{0.2 + i / 20_000:.5f};{2 + i / 5000:.4f};on\n" for i in range(8000))


def setting(i: int) -> str:
    return f"{0.2 + i / 1000:.3f}\t{2 + i / 100:.2f}\t{2.01 + i / 100:.2f}\t{1.99 + i / 100:.2f}"


class LongTable(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.open_book(self.school.students[0])
        paste(self.page, cell(self.page, 0, 0), "\n".join(setting(i) for i in range(COUNT)))
        saved(self.page)

    @in_the_long_run
    def test_only_what_is_in_sight_is_in_the_page_and_all_of_it_is_saved(self) -> None:
        self.assertEqual(len(self.texts("L")), COUNT)
        self.assertLess(self.page.locator("table.ruled tbody tr").count(), 80)
        cell(self.page, 1, 1).focus()
        self.page.keyboard.press("Control+End")
        expect(cell(self.page, COUNT - 1, 1)).to_be_focused()
        expect(cell(self.page, COUNT - 1, 1)).to_have_value("5.99")
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("6.00")
        self.page.keyboard.press("Enter")
        expect(cell(self.page, COUNT + 1, 1)).to_be_focused()
        saved(self.page)
        self.assertEqual(self.texts("t10")[COUNT], ["6.00"])

    def test_what_is_being_typed_stays_while_the_table_is_scrolled_away(self) -> None:
        cell(self.page, 2, 2).focus()
        self.page.keyboard.type("8.88")
        scroller = self.page.locator(".ruled-scroll")
        scroller.evaluate("e => e.scrollTo(0, e.scrollHeight)")
        expect(cell(self.page, COUNT - 1, 0)).to_be_visible()
        expect(cell(self.page, 2, 2)).to_have_value("8.88")
        self.page.keyboard.press("Enter")
        expect(cell(self.page, 3, 2)).to_be_focused()
        saved(self.page)
        self.assertEqual(self.texts("t10")[2][1], "8.88")

    @in_the_long_run
    def test_a_slip_far_down_is_led_to(self) -> None:
        cell(self.page, 1, 1).focus()
        self.page.keyboard.press("Control+End")
        self.page.keyboard.type("oops")
        self.page.keyboard.press("Enter")
        self.page.locator(".ruled-scroll").evaluate("e => e.scrollTo(0, 0)")
        cell(self.page, 0, 0).focus()
        self.page.get_by_role("complementary", name="Margin").get_by_role("button").filter(has_text="is not a number").click()
        expect(cell(self.page, COUNT - 1, 1)).to_be_focused()


class Logger(BrowserTest):
    def bring(self) -> Page:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Bring in").click()
        page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
            {"name": "swings.csv", "mimeType": "text/csv", "buffer": LOG.encode()}
        )
        expect(page.get_by_role("dialog")).to_contain_text("8000 rows")
        expect(page.get_by_text("what a logger wrote")).to_be_visible()
        page.get_by_role("button", name="Bring in 2 columns").click()
        # in the table in which nothing stood yet
        expect(page.locator(".log-words")).to_contain_text("8000 rows")
        expect(page.get_by_role("tab")).to_have_count(1)
        return page

    @in_the_long_run
    def test_rows_are_scrolled_through_set_aside_and_fitted(self) -> None:
        page = self.bring()
        expect(page.locator(".log-words")).to_contain_text("8000 rows")
        rows = page.locator(".log tbody tr[aria-rowindex]")
        expect(rows.first).to_contain_text("0.20000")
        self.assertLess(rows.count(), 80)
        page.locator(".log").focus()
        page.keyboard.press("End")
        expect(page.locator(".log tr.chosen")).to_contain_text("0.59995")
        page.keyboard.press("Shift+PageUp")
        page.get_by_label("Rows 7980 to 8000: why left out?").fill("the strip was stopped")
        page.keyboard.press("Enter")
        expect(page.locator(".notice")).to_contain_text("Rows 7980 to 8000 set aside: the strip was stopped")
        saved(page)
        page.keyboard.press("Alt+6")
        expect(page.locator(".line-card")).to_contain_text("of 7979 points")
        expect(page.get_by_role("complementary", name="Margin")).to_contain_text("Of 8000 points 1200 are drawn")

    @in_the_long_run
    def test_on_a_phone_it_stays_a_table_whose_columns_stand_under_their_headings(self) -> None:
        page = self.bring()
        page.set_viewport_size({"width": 390, "height": 800})
        rows = page.locator(".logged tbody tr[aria-rowindex]")
        expect(rows.nth(9)).to_contain_text("0.20045")
        heading = page.locator(".logged thead th").last.bounding_box()
        values = [rows.nth(i).locator(".log-value").last.bounding_box() for i in (0, 9)]
        assert heading
        self.assertEqual([(v["x"], v["width"]) for v in values if v], [(heading["x"], heading["width"])] * 2)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    @in_the_long_run
    def test_brought_back_and_the_whole_log_undone(self) -> None:
        page = self.bring()
        page.locator(".log tbody tr[aria-rowindex]").nth(3).click()
        page.get_by_label("Row 4: why left out?").fill("a knock")
        page.keyboard.press("Enter")
        back = page.get_by_role("button", name="bring them back")
        back.click()
        expect(page.locator(".notice")).to_have_count(0)
        # each is seen before the next is taken back
        undo = page.get_by_role("banner").get_by_role("button", name="Undo")
        undo.click()
        expect(back).to_be_visible()
        undo.click()
        expect(back).to_have_count(0)
        undo.click()
        expect(page.locator(".log-words")).to_have_count(0)
        expect(cell(page, 0, 0)).to_have_value("")
