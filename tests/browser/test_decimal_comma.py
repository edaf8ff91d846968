"""A class that writes commas: chosen on its page, in every number that a bench is shown, and in what it types."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, cell, in_the_long_run, saved, unfold
from tests.school import fill

POINTED = r"""() => {
  const found = [];
  const walk = document.createTreeWalker(document.querySelector('main'), NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const { data, parentElement: at } = walk.currentNode;
    if (/\d\.\d/.test(data) && !at.closest('.katex-mathml, .margin-prompt, .find-note') && at.getClientRects().length) found.push(data);
  }
  for (const field of document.querySelectorAll('main input')) if (/\d\.\d/.test(field.value)) found.push(field.value);
  return found;
}"""
"""Numbers with a point in what is seen of a page, but in what people wrote."""


class DecimalComma(BrowserTest):
    def choose_comma(self) -> None:
        page = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        page.get_by_role("combobox", name="Numbers in its lab books are shown with").click()
        page.get_by_title("a comma: 12,4").click()
        expect(page.locator(".whole-class")).to_contain_text("a comma: 12,4")
        expect(page.locator(".ant-select-dropdown:visible")).to_have_count(0)
        self.check_access(page)

    def go(self, page: Page, key: int, wait: str) -> None:
        page.keyboard.press(f"Alt+{key}")
        expect(page.locator(wait).first).to_be_visible()
        expect(page.locator(".maths:empty")).to_have_count(0)

    def test_every_station_has_it_where_a_bench_is_at_work(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        expect(cell(page, 0, 0)).to_have_value("0.300")
        self.choose_comma()
        # who has the lab book open sees it without asking
        expect(cell(page, 0, 0)).to_have_value("0,300")
        stations = {1: "main h1", 3: ".strips", 4: ".graph-axes", 5: ".straighten-plot .graph-axes", 6: ".line-card", 7: ".find-statement"}
        for key, wait in stations.items():
            self.go(page, key, wait)
            self.assertEqual(page.evaluate(POINTED), [], f"station {key}")
        page.locator(".find-statement button").first.click()
        expect(page.locator(".working .katex").first).to_be_visible()
        expect(page.locator(".working")).to_contain_text(re.compile(r"\d,\d"))
        page.keyboard.press("Escape")
        self.go(page, 9, ".paper-drawing svg")
        self.assertEqual(page.evaluate(POINTED), [])

    def test_readings_are_typed_with_either_mark_and_kept_as_typed(self) -> None:
        self.choose_comma()
        page = self.open_book(self.school.students[0])
        cell(page, 0, 0).click()
        page.keyboard.type("0,305")
        page.keyboard.press("Enter")
        cell(page, 1, 0).click()
        page.keyboard.type("0.355")
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(self.texts("L")[:2], [["0,305"], ["0.355"]])
        expect(cell(page, 1, 0)).to_have_value("0,355")
        # gone through and left as it is, nothing is written
        revision = Book.objects.get(pk=self.school.book.pk).revision
        cell(page, 1, 0).click()
        page.keyboard.press("Enter")
        cell(page, 1, 0).click()
        page.keyboard.type("0,355")
        page.keyboard.press("Enter")
        saved(page)
        self.assertEqual(self.texts("L")[1], ["0.355"], "it says what it said")
        self.assertEqual(Book.objects.get(pk=self.school.book.pk).revision, revision)

    @in_the_long_run
    def test_what_is_copied_has_it_and_is_pasted_as_the_same(self) -> None:
        fill(self.school.book)
        self.choose_comma()
        page = self.open_book(self.school.students[0])
        cell(page, 0, 0).click()
        for key in ("Shift+ArrowDown", "Shift+ArrowRight", "Control+c"):
            page.keyboard.press(key)
        first, second = (self.texts(q) for q in ("L", "t10"))
        wanted = "\n".join(f"{first[row][0]}\t{second[row][0]}".replace(".", ",") for row in (0, 1))
        self.assertEqual(page.evaluate("navigator.clipboard.readText()").strip(), wanted)
        cell(page, 8, 0).click()
        page.keyboard.press("Control+v")
        expect(cell(page, 9, 0)).to_have_value("0,350")
        saved(page)
        self.assertEqual(self.texts("L")[8:10], [["0,300"], ["0,350"]])

    @in_the_long_run
    def test_a_stretch_and_a_line_by_eye_are_typed_with_it(self) -> None:
        fill(self.school.book)
        self.choose_comma()
        page = self.open_book(self.school.students[0], "fit")
        unfold(page)
        page.get_by_label("All points. Or only from x =").fill("0,03")
        page.get_by_label("to", exact=True).fill("0,2")
        page.get_by_role("button", name="Fit this stretch").click()
        expect(page.locator(".choice-words")).to_contain_text("x from 0,03 to 0,2")
        saved(page)
        fit = Book.objects.get(pk=self.school.book.pk).document["fits"][0]
        self.assertEqual((fit["low"], fit["high"]), (0.03, 0.2))

    def test_the_keypad_has_a_comma(self) -> None:
        self.choose_comma()
        page = self.open_book(self.school.students[0], size={"width": 390, "height": 844}, touch=True)
        cell(page, 0, 0).tap()
        for key in ("0", "decimal comma", "3"):
            page.get_by_role("group", name="Keypad").get_by_role("button", name=key, exact=True).tap()
        expect(cell(page, 0, 0)).to_have_value("0,3")
