"""Where the focus is: never lost over stations, sign-in and hand-in; and at 200 % everything that is to be done is in sight."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, in_the_long_run, saved
from tests.school import PIN, fill

COVERED = """() => {
  const focused = document.activeElement, box = focused.getBoundingClientRect();
  if (focused === document.body || !box.width || !box.height) return null;
  const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
  const shown = document.elementFromPoint(x, y);
  const own = shown && (focused.contains(shown) || shown.contains(focused) || focused.parentElement.contains(shown)
    || [...(focused.labels ?? [])].some(label => label.contains(shown)));
  return own ? null : `${focused.tagName} ${focused.ariaLabel ?? focused.innerText} at ${Math.round(x)}, ${Math.round(y)}`;
}"""
"""What has the focus, where something else stands over its middle or it is out of sight; null where it is seen."""

STATIONS = ("Ask", "Read", "Average", "Look", "Straighten", "Fit", "Find", "Pool", "Report")


class Focus(BrowserTest):
    def check_held(self, page: Page, where: str) -> None:
        lost = page.evaluate("() => !document.activeElement || document.activeElement === document.body")
        self.assertFalse(lost, f"the focus is lost: {where}")

    @in_the_long_run
    def test_is_never_lost_from_sign_in_to_hand_in(self) -> None:
        fill(self.school.book)
        page = self.page_of(None)
        page.get_by_label("Class code").fill("CODE11")
        page.keyboard.press("Enter")
        # the first name; with the keys alone to the second and its PIN, and back to the first
        expect(page.get_by_role("radio", name="Ann")).to_be_focused()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("radio", name="Bo")).to_be_checked()
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Tab")
        expect(page.get_by_label("PIN", exact=False)).to_be_focused()
        page.keyboard.type(PIN)
        page.keyboard.press("Enter")
        book = page.get_by_role("link", name="Open the lab book").first
        expect(book).to_be_visible()
        self.check_held(page, "after signing in")
        book.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("textbox", name="What do you expect?")).to_be_visible()
        for place, station in enumerate(STATIONS, start=1):
            page.keyboard.press(f"Alt+{place}")
            expect(page.get_by_role("link", name=station, exact=False).first).to_have_attribute("aria-current", "page")
            expect(page.locator("main h1, main h2").first).to_be_visible()
            self.check_held(page, station)
            if station == "Pool":
                continue  # it is not open yet, and holds nothing to press
            # what comes next lies in the page, not in the trail before it
            page.keyboard.press("Tab")
            self.assertTrue(page.evaluate("() => document.querySelector('main').contains(document.activeElement)"), station)
        page.get_by_role("button", name="Hand in").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Hand in now")).to_be_focused()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Hand in", exact=True)).to_be_focused()
        page.keyboard.press("Enter")
        page.keyboard.press("Enter")
        expect(page.get_by_label("What has been handed in")).to_be_focused()

    def test_at_200_per_cent_the_task_is_in_sight_and_nothing_goes_sideways(self) -> None:
        """1280 × 800 at 200 % are 640 × 400 of the page's own pixels."""
        fill(self.school.book, 3)
        page = self.open_book(self.school.students[0], "read", size={"width": 640, "height": 400})
        saved(page)
        for station in STATIONS:
            page.keyboard.press(f"Alt+{STATIONS.index(station) + 1}")
            # at Read it is the cell that is written in next; its first words stand below the table
            task = "input:focus" if station == "Read" else "main :is(h1, h2, p):not(.hidden-but-heard)"
            expect(page.locator(task).first).to_be_in_viewport(ratio=1 if station == "Read" else 0)
            # a graph takes its width once it is there
            page.wait_for_function("() => document.documentElement.scrollWidth <= document.documentElement.clientWidth")
        page.keyboard.press("Alt+2")
        blank = page.locator("input:focus")
        expect(blank).to_be_in_viewport()

    def test_a_cell_is_never_under_what_stands_at_the_screens_edge(self) -> None:
        fill(self.school.book, 14)
        page = self.open_book(self.school.students[0], size={"width": 1280, "height": 620})
        bar = page.get_by_role("group", name="What can be done with")

        def check_in_sight(row: int) -> None:
            cell = page.locator(f'input[data-at="{row}:1"]')
            expect(cell).to_be_focused()
            expect(bar).to_be_visible()
            # where it stands is settled by the drawing that follows the focus
            page.wait_for_function(
                """at => {
                  const [cell, bar] = [`input[data-at="${at}"]`, '.row-bar'].map(s => document.querySelector(s).getBoundingClientRect());
                  return cell.top >= 0 && cell.bottom <= bar.top && bar.bottom <= innerHeight;
                }""",
                arg=f"{row}:1",
            )

        page.locator('input[data-at="0:1"]').click()
        for row in range(14):
            check_in_sight(row)
            page.keyboard.press("ArrowDown")
        for row in (9, 4, 0):
            with self.subTest("pressed at the lower edge", row=row):
                cell = page.locator(f'input[data-at="{row}:1"]')
                page.evaluate(
                    "at => scrollBy(0, document.querySelector(at).getBoundingClientRect().bottom - innerHeight)",
                    f'input[data-at="{row}:1"]',
                )
                box = cell.bounding_box()
                assert box is not None
                page.mouse.click(box["x"] + 40, min(box["y"] + 19, 600))
                check_in_sight(row)
        # who is elsewhere has the whole table before them
        page.get_by_role("button", name="Quantities").focus()
        expect(page.locator(".under-table")).to_have_css("position", "static")

    @in_the_long_run
    def test_nothing_has_the_focus_unseen_behind_a_sheet(self) -> None:
        fill(self.school.book)
        for width, height in ((1280, 800), (390, 780)):
            page = self.open_book(self.school.students[0], size={"width": width, "height": height})
            for station, sheet in (("Read", "Quantities"), ("Fit", "Keys")):
                page.keyboard.press(f"Alt+{STATIONS.index(station) + 1}")
                if sheet == "Keys":
                    expect(page.get_by_role("button", name="Draw a line by eye")).to_be_visible()
                    page.keyboard.press("?")
                else:
                    page.get_by_role("button", name=sheet).click()
                expect(page.get_by_role("dialog", name=sheet)).to_be_visible()
                seen = set()
                for _ in range(70):
                    page.keyboard.press("Tab")
                    self.assertIsNone(page.evaluate(COVERED), f"{station}, {width} wide")
                    seen.add(page.evaluate("() => document.activeElement.closest('main, .sheet-from-below, header, nav')?.className"))
                self.assertGreaterEqual(len(seen), 3, "the sheet, the page behind it and what stands above both")
                page.get_by_role("dialog", name=sheet).get_by_role("button", name="Close").click()
