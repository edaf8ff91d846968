"""Writing readings down: by keyboard, by pasting, two at once, with the network gone; wrong entries, undo, setting aside."""

from __future__ import annotations

import io
import time

from PIL import Image
from playwright.sync_api import Route, expect

from hobrel.labbooks.models import EditRecord
from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved
from tests.school import fill

TABLE = [
    ("0.300", "2.31", "2.28", "2.35"),
    ("0.350", "2.93", "2.90", "2.97"),
    ("0.400", "3.52", "3.60", "3.57"),
    ("0.450", "4.27", "4.21", "4.25"),
    ("0.500", "4.98", "4.91", "4.95"),
]


class Typing(BrowserTest):
    def test_a_whole_table_across_by_keyboard(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_text("→ across").click()
        cell(page, 0, 0).focus()
        for row in TABLE:
            for text in row:
                page.keyboard.type(text)
                page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(self.texts("L"), [[row[0]] for row in TABLE])
        self.assertEqual(self.texts("t10"), [list(row[1:]) for row in TABLE])
        # 2.31, 2.28, 2.35: mean 2.3133, half range 0.035
        expect(page.get_by_role("button", name="mean 2.31 plus or minus 0.04")).to_be_visible()
        expect(page.get_by_role("link", name="Find, in progress").or_(page.get_by_role("link", name="Find, done"))).to_contain_text("GPa")
        page.reload()
        expect(cell(page, 4, 3)).to_have_value("4.95")

    def test_down_a_column_with_arrows_tab_and_escape(self) -> None:
        page = self.open_book(self.school.students[0])
        cell(page, 0, 0).focus()
        for row in TABLE:
            page.keyboard.type(row[0])
            page.keyboard.press("Enter")
        expect(cell(page, 5, 0)).to_be_focused()
        cell(page, 0, 1).focus()
        page.keyboard.type("2.50")
        page.keyboard.press("ArrowDown")
        expect(cell(page, 1, 1)).to_be_focused()
        page.keyboard.type("2.99")
        page.keyboard.press("Escape")
        expect(cell(page, 1, 1)).to_have_value("")
        page.keyboard.type("3.00")
        page.keyboard.press("Tab")
        expect(cell(page, 1, 2)).to_be_focused()
        page.keyboard.press("ArrowLeft")
        expect(cell(page, 1, 1)).to_be_focused()
        page.keyboard.press("Shift+Enter")
        expect(cell(page, 0, 1)).to_be_focused()
        saved(page)
        self.assertEqual([r[0] if r else None for r in self.texts("t10")[:2]], ["2.50", "3.00"])
        # one reading is one change, however it was left
        self.assertEqual(EditRecord.objects.filter(words__contains="2.50").count(), 1)

    @in_the_long_run
    def test_tab_passes_the_mean_by_even_when_it_is_there_already(self) -> None:
        page = self.open_book(self.school.students[0])
        cell(page, 0, 0).focus()
        for text in TABLE[0][:3]:
            page.keyboard.type(text)
            page.keyboard.press("Tab")
        expect(page.locator(".ruled-mean:not(.ruled-derived) button")).to_be_visible()
        page.keyboard.type(TABLE[0][3])
        page.keyboard.press("Tab")
        expect(cell(page, 1, 0)).to_be_focused()
        page.keyboard.type(TABLE[1][0])
        page.keyboard.press("Shift+Tab")
        expect(cell(page, 0, 3)).to_be_focused()

    @in_the_long_run
    def test_home_and_end_walk_the_table_until_the_caret_is_in_a_reading(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        cell(page, 2, 2).focus()
        for key, (row, column) in {"Home": (2, 0), "End": (2, 3), "Control+Home": (0, 3), "Control+End": (7, 3)}.items():
            page.keyboard.press(key)
            expect(cell(page, row, column)).to_be_focused()
        changed = f"5{cell(page, 7, 3).input_value()[1:-1]}1"
        for key in ("F2", "Home", "Delete", "5", "End", "Backspace", "1", "Enter"):
            page.keyboard.press(key)
        saved(page)
        self.assertEqual(self.texts("t10")[7][2], changed)

    def test_a_wrong_entry_is_shown_as_wrong_and_kept(self) -> None:
        fill(self.school.book, 3)
        page = self.open_book(self.school.students[0])
        cell(page, 0, 1).fill("two point three")
        page.keyboard.press("Enter")
        expect(page.locator("td.reading.trouble")).to_have_count(1)
        expect(cell(page, 0, 1)).to_have_attribute("aria-invalid", "true")
        expect(page.get_by_role("complementary", name="Margin")).to_contain_text("is not a number")
        saved(page)
        page.reload()
        expect(cell(page, 0, 1)).to_have_value("two point three")

    @in_the_long_run
    def test_a_lone_repeat_is_pointed_out_and_leads_to_its_cell(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        cell(page, 4, 2).fill("9.54")
        page.keyboard.press("Enter")
        page.goto(self.live_server_url + f"/books/{self.school.book.pk}/fit")
        page.get_by_role("button", name="L = 0.500 m, repeat 2").click()
        expect(cell(page, 4, 2)).to_be_focused()


class Pasting(BrowserTest):
    def test_a_block_with_headings_from_a_text_file(self) -> None:
        page = self.open_book(self.school.students[0])
        lines = ["L / m\tt1 / s\tt2 / s\tt3 / s", *("\t".join(row) for row in TABLE)]
        paste(page, cell(page, 0, 0), "\r\n".join(lines) + "\r\n")
        expect(page.get_by_text("was taken as headings and left out")).to_be_visible()
        expect(cell(page, 4, 3)).to_have_value("4.95")
        saved(page)
        self.assertEqual(self.texts("t10"), [list(row[1:]) for row in TABLE])
        # the whole block is one step
        page.get_by_role("button", name="Undo", exact=True).first.click()
        expect(cell(page, 0, 0)).to_have_value("")
        self.assertEqual(self.texts("L"), [])

    def test_other_separators_and_what_does_not_fit(self) -> None:
        page = self.open_book(self.school.students[0])
        paste(page, cell(page, 0, 0), "0,300;2,31;2,28;2,35;9,99\n0,350;2,93;;2,97;9,99")
        expect(page.get_by_text("2 values did not fit")).to_be_visible()
        saved(page)
        self.assertEqual(self.texts("t10"), [["2,31", "2,28", "2,35"], ["2,93", None, "2,97"]])
        expect(page.get_by_role("button", name="mean 2.31 plus or minus 0.04")).to_be_visible()


class Changing(BrowserTest):
    def test_set_aside_with_a_reason_bring_back_undo_redo(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        cell(page, 2, 1).focus()
        page.keyboard.press("Alt+s")
        page.get_by_label("left out?").fill("the clamp slipped")
        page.keyboard.press("Enter")
        expect(page.locator("td.reading.aside")).to_have_count(1)
        expect(page.get_by_text("set aside: the clamp slipped")).to_be_visible()
        cell(page, 2, 1).focus()
        page.keyboard.press("Alt+s")
        expect(page.locator("td.reading.aside")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(page.locator("td.reading.aside")).to_have_count(1)
        page.keyboard.press("Control+Shift+z")
        expect(page.locator("td.reading.aside")).to_have_count(0)

    @in_the_long_run
    def test_writing_in_the_other_direction_is_noticed_and_turned_round_in_one_press(self) -> None:
        page = self.open_book(self.school.students[0])
        for column, text in enumerate(("0.3", "3.45", "3.56", "3.46")):
            cell(page, 0, column).click()
            page.keyboard.type(text)
            page.keyboard.press("Enter")
        notice = page.get_by_role("status").filter(has_text="along the rows")
        notice.get_by_role("button", name="Let Enter go across").click()
        expect(notice).to_have_count(0)
        cell(page, 1, 0).click()
        page.keyboard.type("0.35")
        page.keyboard.press("Enter")
        expect(cell(page, 1, 1)).to_be_focused()
        page.keyboard.type("4.45")
        page.keyboard.press("Enter")
        expect(cell(page, 1, 2)).to_be_focused()
        expect(notice).to_have_count(0)

    @in_the_long_run
    def test_who_comes_goes_on_writing_where_it_stops_and_what_follows_is_filled_in_beside_it(self) -> None:
        fill(self.school.book, 4)
        page = self.open_book(self.school.students[0])
        expect(cell(page, 4, 0)).to_be_focused()
        table = page.locator("table.ruled")
        expect(table.locator("thead")).to_contain_text("period squared")
        bounds = table.bounding_box()
        page.keyboard.type("0.5")
        page.keyboard.press("Tab")
        page.keyboard.type("7.5")
        page.keyboard.press("Tab")
        derived = table.locator("tbody").nth(4).locator(".ruled-derived")
        expect(derived).to_have_count(3)
        expect(derived.nth(0)).to_contain_text("0.750")
        expect(derived.nth(2)).to_contain_text("0.125")
        # what can be done with the setting stands under the table, which is no wider for it
        expect(page.get_by_role("group", name="What can be done with L = 0.5 m")).to_be_visible()
        assert bounds is not None
        self.assertEqual((table.bounding_box() or {}).get("width"), bounds["width"])
        page.keyboard.press("Alt+Shift+Delete")
        expect(page.locator(".undo-bar")).to_contain_text("L = 0.5 m was removed")
        expect(cell(page, 4, 0)).to_have_value("")

    def test_a_setting_is_removed_at_once_and_brought_back_from_the_bar(self) -> None:
        fill(self.school.book, 4)
        before = self.texts("t10")
        page = self.open_book(self.school.students[0])
        cell(page, 1, 1).click()
        means = page.locator("td.ruled-mean:not(.ruled-derived) button")
        page.get_by_role("group", name="What can be done with L = 0.350 m").get_by_role("button", name="remove setting").click()
        expect(means).to_have_count(3)
        expect(page.locator(".undo-bar")).to_contain_text("L = 0.350 m was removed with its readings.")
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(means).to_have_count(4)
        self.assertEqual(self.texts("t10"), before)

    @in_the_long_run
    def test_a_photo_of_the_page_is_pinned_above_what_is_typed(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], size={"width": 390, "height": 700}, touch=True)
        sheet = Image.new("RGB", (600, 800), "white")
        held = io.BytesIO()
        sheet.save(held, "PNG")
        page.get_by_label("A photo of the page in the paper lab book").set_input_files(
            {"name": "page.png", "mimeType": "image/png", "buffer": held.getvalue()}
        )
        photo = page.get_by_role("region", name="Photo of the page")
        expect(photo.get_by_alt_text("The page of the paper lab book")).to_be_visible()
        photo.get_by_role("button", name="Larger").tap()
        # the cell lies between the photo and the keys, whichever it is
        for at in ("7:3", "0:1"):
            place = page.locator(f'input[data-at="{at}"]')
            place.tap()
            expect(page.locator(".keypad")).to_be_visible()
            page.wait_for_function(
                """at => {
                  const box = (found) => document.querySelector(found).getBoundingClientRect();
                  const cell = box(`input[data-at="${at}"]`);
                  return cell.top >= box('.paper-photo').bottom - 1 && cell.bottom <= box('.keypad').top + 1;
                }""",
                arg=at,
            )
        self.check_access(page)
        page.keyboard.press("Alt+3")
        expect(page.locator(".strips")).to_be_visible()
        page.keyboard.press("Alt+2")
        expect(photo).to_be_visible()
        photo.get_by_role("button", name="put away").tap()
        expect(photo).to_have_count(0)
        page.get_by_label("A photo of the page in the paper lab book").set_input_files(
            {"name": "notes.txt", "mimeType": "image/png", "buffer": b"no picture"}
        )
        expect(photo.get_by_role("alert")).to_contain_text("no picture that can be shown")

    def test_on_a_phone_every_setting_is_a_card_that_is_written_through_by_its_keys(self) -> None:
        page = self.open_book(self.school.students[0], size={"width": 360, "height": 740}, touch=True)
        place = page.locator('input[data-at="0:0"]')
        place.tap()
        keys = page.locator(".keypad")
        for text in ("0.300", "3.57", "3.61", "3.55"):
            for sign in text:
                keys.get_by_text(sign, exact=True).tap()
            keys.get_by_role("button", name="next").tap()
        # from the last repeat to what the next setting is called by
        expect(page.locator('input[data-at="1:0"]')).to_be_focused()
        saved(page)
        self.assertEqual((self.texts("L")[0], self.texts("t10")[0]), (["0.300"], ["3.57", "3.61", "3.55"]))
        card = page.locator("table.ruled tbody").first
        mean = card.locator(".ruled-mean").first
        expect(mean).to_contain_text("3.58")
        inside = "e => { const box = e.getBoundingClientRect(); return box.left >= 0 && box.right <= innerWidth; }"
        for part in (card, mean, card.locator(".ruled-mean").last, page.locator('input[data-at="0:3"]')):
            self.assertTrue(part.evaluate(inside))
        words = "e => getComputedStyle(e, '::before').content"
        self.assertEqual(page.locator('td:has(input[data-at="0:2"])').evaluate(words), '"t₁₀, repeat 2"')
        self.check_access(page)

    @in_the_long_run
    def test_even_settings_are_laid_out_at_once(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Lay out even settings").press("Enter")
        form = page.get_by_role("form", name="Even settings of overhang")
        expect(form.get_by_label("from")).to_be_focused()
        for text in ("0.30", "0.65", "0.05"):
            page.keyboard.type(text)
            page.keyboard.press("Tab")
        expect(form).to_contain_text("8 settings: 0.30, 0.35, 0.40 … 0.65")
        form.get_by_label("in steps of").press("Enter")
        expect(cell(page, 7, 0)).to_have_value("0.65")
        expect(cell(page, 0, 1)).to_be_focused()
        saved(page)
        self.assertEqual([row[0] for row in self.texts("L")], ["0.30", "0.35", "0.40", "0.45", "0.50", "0.55", "0.60", "0.65"])
        page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(cell(page, 0, 0)).to_have_value("")
        page.get_by_role("button", name="Lay out even settings").click()
        form.get_by_label("from").fill("0")
        form.get_by_label("to", exact=True).fill("1000")
        form.get_by_label("in steps of").fill("0.01")
        expect(form).to_contain_text("at most 200")
        expect(form.get_by_role("button", name="Lay them out")).to_be_disabled()
        page.keyboard.press("Escape")
        expect(form).to_have_count(0)

    @in_the_long_run
    def test_a_repeat_is_added_and_removed_at_the_tables_edge(self) -> None:
        fill(self.school.book, 3)
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="One repeat more").click()
        cell(page, 0, 4).fill("2.30")
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(self.texts("t10")[0][3], "2.30")
        page.get_by_role("button", name="One repeat fewer").click()
        expect(cell(page, 0, 4)).to_have_count(0)
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(cell(page, 0, 4)).to_have_value("2.30")


class Together(BrowserTest):
    def test_two_at_one_bench_see_each_other(self) -> None:
        fill(self.school.book, 3)
        ann, bo = (self.open_book(p) for p in self.school.students)
        cell(ann, 1, 2).focus()
        expect(bo.locator("td.reading.other .reading-other")).to_have_text("Ann")
        expect(bo.get_by_label("Also here: Ann")).to_be_visible()
        cell(ann, 1, 2).fill("2.77")
        ann.keyboard.press("Enter")
        saved(ann)
        asked: list[str] = []
        bo.on("response", lambda answer: asked.append(answer.url) if "/changes" in answer.url else None)
        expect(cell(bo, 1, 2)).to_have_value("2.77")
        # one that was on its way already, and the next: a page asks every two seconds
        self.assertLessEqual(len(asked), 2)

    def test_a_cell_changed_by_both_asks(self) -> None:
        fill(self.school.book, 3)
        ann, bo = (self.open_book(p) for p in self.school.students)
        # Bo's page does not hear of Ann's change before Bo has written
        bo.route("**/changes*", lambda route: route.abort())
        cell(ann, 0, 1).fill("2.11")
        ann.keyboard.press("Enter")
        saved(ann)
        cell(bo, 0, 1).fill("2.22")
        bo.keyboard.press("Enter")
        alert = bo.get_by_role("alert").filter(has_text="meanwhile")
        expect(alert).to_contain_text("2.11")
        expect(alert).to_contain_text("2.22")
        self.assertEqual(self.texts("t10")[0][0], "2.11")
        bo.unroute("**/changes*")
        alert.get_by_role("button", name="Write 2.22").click()
        expect(alert).to_have_count(0)
        expect(cell(ann, 0, 1)).to_have_value("2.22")
        self.assertEqual(self.texts("t10")[0][0], "2.22")

    @in_the_long_run
    def test_whoever_writes_is_not_polled_for_and_hears_and_is_seen_all_the_same(self) -> None:
        """A page polls every two seconds; what a poll would say comes with what follows from each reading instead."""
        fill(self.school.book, 3)
        ann, bo = (self.open_book(p) for p in self.school.students)
        cell(bo, 2, 3).focus()
        polls: list[str] = []
        ann.on("request", lambda request: polls.append(request.url) if "/changes" in request.url else None)
        began, turn, slow = time.monotonic(), 0, 0
        while time.monotonic() - began < 6:
            turn, since = turn + 1, time.monotonic()
            cell(ann, 0, 1).fill(f"2.{turn % 90 + 10}")
            ann.keyboard.press("Enter")
            saved(ann)
            # on a machine that takes so long somebody rests in between
            slow += int((time.monotonic() - since) / 2)
        self.assertGreater(turn, 3 - slow)
        self.assertLessEqual(len(polls), 1 + slow)
        expect(ann.get_by_label("Also here: Bo")).to_be_visible()
        # Enter has led one down
        expect(bo.locator("tbody tr").nth(1).locator(".reading-other")).to_have_text("Ann")
        expect(cell(bo, 0, 1)).to_have_value(f"2.{turn % 90 + 10}")


class Network(BrowserTest):
    def test_typing_goes_on_without_a_network_and_is_sent_once_it_is_back(self) -> None:
        fill(self.school.book, 3)
        page = self.open_book(self.school.students[0])
        page.context.set_offline(True)
        cell(page, 0, 1).fill("2.01")
        page.keyboard.press("Enter")
        page.keyboard.type("2.02")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").filter(has_text="2 changes waiting")).to_be_visible()
        expect(cell(page, 0, 1)).to_have_value("2.01")
        page.context.set_offline(False)
        saved(page)
        self.assertEqual([row[0] for row in self.texts("t10")[:2]], ["2.01", "2.02"])

    def test_what_waits_survives_a_reload(self) -> None:
        fill(self.school.book, 3)
        page = self.open_book(self.school.students[0])

        def refuse(route: Route) -> None:
            route.abort()

        page.route("**/edits*", refuse)
        cell(page, 0, 1).fill("2.01")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").filter(has_text="1 change waiting")).to_be_visible()
        page.reload()
        expect(cell(page, 0, 1)).to_have_value("2.01")
        page.unroute("**/edits*", refuse)
        saved(page)
        self.assertEqual(self.texts("t10")[0][0], "2.01")
        self.assertEqual(EditRecord.objects.count(), 1)
