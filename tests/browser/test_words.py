"""Words and kinds in the browser: a table of materials with a remark, its graph, what is refused, and turning numbers into words."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from hobrel.labbooks.own import begin_book
from tests.browser.base import BrowserTest, in_the_long_run, paste, saved, unfold

KINDS = "material\tresistance R (ohm)\tresistance R (ohm)\tlook\n" + "\n".join(
    ("copper\t0.51\t0.53\tbright red", "iron\t2.14\t2.20\trusty at one end", "brass\t1.12\t1.10\tyellow", "lead\t4.31\t4.35\t")
)


class Words(BrowserTest):
    def begin(self) -> tuple[Page, Book]:
        book = begin_book(self.school.students[0])
        page = self.page_of(self.school.students[0], f"/books/{book.pk}/read")
        expect(page.get_by_label("First heading: what you set")).to_be_focused()
        return page, book

    def test_a_pasted_table_of_materials_has_kinds_and_remarks(self) -> None:
        page, book = self.begin()
        paste(page, page.get_by_label("First heading: what you set"), KINDS)
        expect(page.get_by_label("material, setting 2, in words")).to_have_value("iron")
        expect(page.get_by_label("look, setting 2, in words")).to_have_value("rusty at one end")
        page.get_by_label("look, setting 4, in words").fill("soft enough to be bent by hand, and grey")
        page.keyboard.press("Enter")
        saved(page)
        self.check_access(page)
        page.keyboard.press("Alt+3")
        expect(page.get_by_text("copper").first).to_be_visible()
        page.keyboard.press("Alt+4")
        graph = page.locator("svg[data-graph]")
        for kind in ("copper", "iron", "brass", "lead"):
            expect(graph.locator(".graph-axes").get_by_text(kind)).to_be_visible()
        unfold(page)
        expect(page.get_by_label("logarithmic x")).to_have_count(0)
        page.get_by_role("combobox", name="Words that stand beside the points").click()
        page.get_by_title("look", exact=True).click()
        expect(graph.get_by_text("rusty at one end", exact=True)).to_be_visible()
        expect(page.locator(".ant-select-dropdown:visible")).to_have_count(0)
        self.check_access(page)
        page.keyboard.press("Alt+6")
        expect(page.get_by_text("Along x stand kinds, not numbers", exact=False)).to_be_visible()
        page.keyboard.press("Alt+5")
        expect(page.get_by_text("these are kinds, not numbers", exact=False).first).to_be_visible()
        page.keyboard.press("Alt+9")
        expect(page.get_by_text("rusty at one end").first).to_be_visible()
        book.refresh_from_db()
        self.assertEqual([q["holds"] for q in book.document["quantities"]], ["words", "numbers", "words"])
        self.assertEqual(book.document["fits"], [])

    @in_the_long_run
    def test_headings_typed_as_words(self) -> None:
        page, book = self.begin()
        page.keyboard.type("metal (words)")
        page.keyboard.press("Enter")
        page.keyboard.type("mass m / g")
        page.keyboard.press("Enter")
        expect(page.get_by_label("metal, setting 1, in words")).to_be_focused()
        page.keyboard.type("zinc")
        page.keyboard.press("Tab")
        page.keyboard.type("12.4")
        page.keyboard.press("Enter")
        saved(page)
        # what is called by its value is called by its word
        page.get_by_label("mass, setting 1, in g").focus()
        page.get_by_role("button", name="Quantities").click()
        page.get_by_role("row", name="metal").get_by_role("button", name="Change").click()
        page.get_by_text("numbers", exact=True).click()
        page.get_by_label("symbol").fill("k")
        page.get_by_role("button", name="Change", exact=True).last.click()
        expect(page.get_by_text("“zinc” is not a number", exact=False).first).to_be_attached()
        saved(page)
        book.refresh_from_db()
        self.assertEqual([(q["holds"], q["symbol"]) for q in book.document["quantities"]], [("numbers", "k"), ("numbers", "m")])

    def test_on_a_phone_words_are_typed_with_the_letters_of_the_device(self) -> None:
        book = begin_book(self.school.students[0])
        page = self.page_of(self.school.students[0], f"/books/{book.pk}/read", {"width": 390, "height": 700}, touch=True)
        page.get_by_label("First heading: what you set").fill("metal (words)")
        page.keyboard.press("Enter")
        page.get_by_label("Second heading: what you measure").fill("mass m / g")
        page.keyboard.press("Enter")
        cell = page.get_by_label("metal, setting 1, in words")
        expect(cell).to_have_attribute("inputmode", "text")
        cell.tap()
        expect(page.get_by_role("group", name="Keypad")).to_have_count(0)
        page.get_by_label("mass, setting 1, in g").tap()
        expect(page.get_by_role("group", name="Keypad")).to_be_visible()
