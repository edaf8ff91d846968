"""What is begun in a form and not sent outlives another station, another page and a reload, and goes with what says so."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, Route, expect

from hobrel.labbooks.models import Book
from hobrel.school.classes import make_class
from tests.browser.base import BrowserTest, describe_width, find_twice_the_mass, in_the_long_run, saved
from tests.school import fill

LATER = "This is what you had begun to write."


class Begun(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 4)

    def back_at(self, page: Page, station: str, field: Locator, text: str) -> None:
        """It is there after another station, and after a reload."""
        page.keyboard.press("Alt+1")
        expect(field).to_have_count(0)
        page.get_by_role("link", name=station).click()
        expect(field).to_have_value(text)
        page.reload()
        expect(field).to_have_value(text)

    @in_the_long_run
    def test_words_that_are_begun_at_a_station(self) -> None:
        page = self.open_book(self.school.students[0], "average")
        formula = page.get_by_role("region", name="Derive more")
        formula.get_by_label("called").fill("ten times that")
        formula.get_by_label("symbol").fill("q")
        formula.get_by_label("=", exact=True).fill("10 t")
        self.back_at(page, "Average", formula.get_by_label("=", exact=True), "10 t")
        formula.get_by_role("button", name="Add").click()
        expect(page.get_by_role("main")).to_contain_text("ten times that")
        expect(formula.get_by_label("called")).to_have_value("")
        page.reload()
        expect(formula.get_by_label("called")).to_have_value("")
        with self.subTest("a heading of a report"):
            page.get_by_role("link", name="Report").click()
            heading = page.get_by_label("Heading of a new section")
            heading.fill("Sources")
            self.back_at(page, "Report", heading, "Sources")
            heading.press("Enter")
            expect(page.get_by_role("textbox", name="Sources", exact=True)).to_be_visible()
            expect(heading).to_have_value("")

    def test_a_change_that_is_begun_takes_back_nothing_that_came_meanwhile(self) -> None:
        ann, bo = (self.open_book(p, "find") for p in self.school.students)
        find_twice_the_mass(ann)
        bo.get_by_role("region", name="twice the mass").get_by_role("button", name="Change").click()
        called = bo.get_by_label("called", exact=True)
        with self.subTest("opened, and nothing written"):
            bo.keyboard.press("Alt+1")
            expect(called).to_have_count(0)
            bo.get_by_role("link", name="Find").click()
            expect(bo.get_by_role("region", name="twice the mass")).to_be_visible()
            expect(called).to_have_count(0)
        bo.get_by_role("region", name="twice the mass").get_by_role("button", name="Change").click()
        called.fill("two masses")
        bo.keyboard.press("Alt+1")
        expect(called).to_have_count(0)
        ann.get_by_role("region", name="twice the mass").get_by_role("button", name="Change").click()
        ann.get_by_label("w =", exact=True).fill("2 m + m")
        ann.get_by_role("button", name="Write it so").click()
        expect(ann.get_by_label("called", exact=True)).to_have_count(0)
        saved(ann)
        with bo.expect_response("**/view*"):
            pass
        bo.get_by_role("link", name="Find").click()
        expect(called).to_have_value("two masses")
        expect(bo.get_by_label("w =", exact=True)).to_have_value("2 m + m")
        expect(bo.get_by_text(LATER)).to_be_visible()
        bo.get_by_role("button", name="Write it so").click()
        expect(called).to_have_count(0)
        saved(bo)
        finding = next(f for f in Book.objects.get(pk=self.school.book.pk).document["findings"] if f["symbol"] == "w")
        self.assertEqual((finding["name"], finding["formula"]), ("two masses", "2 m + m"))
        bo.reload()
        expect(bo.get_by_role("region", name="two masses")).to_be_visible()
        expect(called).to_have_count(0)

    @in_the_long_run
    def test_a_change_of_a_quantity_goes_with_the_press_that_leaves_it(self) -> None:
        page = self.open_book(self.school.students[0])
        describe_width(page)
        page.keyboard.press("Enter")
        change = page.get_by_role("dialog").get_by_role("row", name="h / mm width").get_by_role("button", name="Change")
        change.click()
        page.get_by_label("called").fill("width of the strip")
        page.keyboard.press("Escape")
        expect(page.get_by_label("called")).to_have_count(0)
        page.reload()
        page.get_by_role("button", name="Quantities").click()
        change.click()
        expect(page.get_by_label("called")).to_have_value("width of the strip")
        expect(page.get_by_text(LATER)).to_be_visible()
        page.get_by_role("button", name="Leave it").click()
        change.click()
        expect(page.get_by_label("called")).to_have_value("width")
        expect(page.get_by_text(LATER)).to_have_count(0)

    @in_the_long_run
    def test_what_is_on_its_way_when_its_form_is_left_is_begun_no_more(self) -> None:
        page = self.open_book(self.school.students[0])
        held: list[Route] = []
        page.route("**/edits", lambda route: held.append(route))
        describe_width(page)
        with page.expect_request("**/edits"):
            page.keyboard.press("Enter")
        page.keyboard.press("Alt+7")
        expect(page.get_by_label("called", exact=True)).to_have_count(0)
        [route] = held
        route.continue_()
        page.unroute("**/edits")
        saved(page)
        page.keyboard.press("Alt+2")
        page.get_by_role("button", name="Quantities").click()
        expect(page.get_by_role("dialog").get_by_role("row", name="h / mm width")).to_be_visible()
        page.get_by_role("button", name="Add a quantity").click()
        expect(page.get_by_label("called")).to_have_value("")

    @in_the_long_run
    def test_a_class_list_that_is_begun(self) -> None:
        class_ = make_class(self.school.teacher, "9 C", "")
        page = self.page_of(self.school.teacher, f"/classes/{class_.pk}")
        field = page.get_by_label("The class list, a name a line")
        field.fill("Ada Wren\nTomas Lind")
        page.get_by_role("link", name="Hobrel").click()
        page.goto(f"{self.live_server_url}/classes/{class_.pk}")
        expect(field).to_have_value("Ada Wren\nTomas Lind")
        page.get_by_role("button", name="Keep the list").click()
        page.get_by_role("button", name="Paste a list").click()
        expect(field).to_have_value("")
