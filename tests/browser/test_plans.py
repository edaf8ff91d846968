"""A plan in the browser: written from an empty page, tried dry, given out, worked in by a bench, put right while it runs."""

from __future__ import annotations

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from hobrel.plans.models import Practical
from tests.browser.base import BrowserTest, cell, saved


class Plans(BrowserTest):
    def check_access(self, page: Page) -> None:
        found = Axe().run(page).response["violations"]
        self.assertEqual([(v["id"], [n["target"] for n in v["nodes"]]) for v in found], [])

    def station(self, page: Page, name: str) -> None:
        page.get_by_role("link", name=f"{name},").click()
        expect(page.get_by_role("heading", name=f"The plan says at {name}")).to_be_visible()

    def write(self, page: Page, label: str, text: str) -> None:
        field = page.get_by_label(label)
        field.fill(text)
        field.press("Tab")

    def read_from(self, page: Page, quantity: str, device: str, division: str) -> None:
        page.get_by_role("row", name=quantity).get_by_role("button", name="Change").click()
        page.get_by_label("read from").fill(device)
        page.get_by_label("smallest division").fill(division)
        page.get_by_role("button", name="Change", exact=True).last.click()

    def derive(self, page: Page, name: str, symbol: str, formula: str) -> None:
        page.get_by_role("button", name="Add a quantity").click()
        page.get_by_text("derived by a formula").click()
        page.get_by_label("called").fill(name)
        page.get_by_label("symbol").fill(symbol)
        page.get_by_role("textbox", name="formula").fill(formula)
        page.get_by_role("button", name="Add", exact=True).click()

    def begin(self) -> Page:
        """A plan of a hanging bob, as far as its table and the relation."""
        page = self.page_of(self.school.teacher)
        page.get_by_role("button", name="New plan").click()
        expect(page.get_by_role("heading", name="The plan says at Ask")).to_be_visible()
        for label, text in (
            ("Title", "The hanging bob"),
            ("Question", "How does the time of a swing depend on the length?"),
            ("Relation that you expect, if there is one", "T = 2 pi sqrt(l/g)"),
            ("Prompt, in the benches’ margin", "Longer or shorter: which is slower?"),
        ):
            self.write(page, label, text)
        page.get_by_label("after the bench has written what it expects").check()
        self.station(page, "Read")
        page.get_by_label("First heading: what you set").fill("length l / m")
        page.keyboard.press("Enter")
        page.get_by_label("Second heading: what you measure").fill("time of ten swings t_10 / s")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Quantities").click()
        self.read_from(page, "length", "ruler", "0.001")
        self.read_from(page, "time of ten swings", "stopwatch", "0.01")
        self.derive(page, "period", "T", "t_10/10")
        page.get_by_role("button", name="Close").click()
        self.write(page, "Lowest length", "0.20")
        self.write(page, "Highest length", "0.90")
        self.write(page, "How many settings of length", "8")
        saved(page)
        return page

    def test_written_from_an_empty_page_tried_dry_and_given_to_a_bench(self) -> None:
        page = self.begin()
        self.check_access(page)
        self.station(page, "Fit")
        offer = page.get_by_role("region", name="What the relation offers").get_by_role("button", name="Take it").first
        offer.click()
        saved(page)
        page.get_by_role("button", name="Try it dry").click()
        dry = page.get_by_role("dialog")
        # nobody has said what g is believed to be
        expect(dry.get_by_role("alert")).to_contain_text("Say what this is believed to be, with its unit: g")
        self.write(page, "What g truly is", "9.81 m/s^2")
        expect(dry.locator(".dry-value")).to_contain_text("9.8", timeout=30_000)
        expect(dry).to_contain_text("of 100 benches would be told that it differs from what it truly is")
        self.check_access(page)
        page.get_by_role("button", name="Close").click()
        page.get_by_role("button", name="Fill it").click()
        # the trial readings make a line, and no bench gets them
        expect(page.locator(".fit-graph svg")).to_be_visible()
        page.get_by_text("benches see it", exact=True).click()
        expect(page.get_by_text("Nothing is kept here", exact=False)).to_be_visible()
        page.get_by_text("I write it").click()
        page.get_by_role("button", name="Give it out").click()
        page.get_by_role("combobox", name="Class").click()
        page.get_by_title(self.school.school_class.name).click()
        page.get_by_role("dialog").get_by_role("button", name="Give it out").click()
        expect(page.get_by_role("status").filter(has_text="has it now")).to_be_visible()

        student = self.page_of(self.school.students[0])
        student.locator("article").filter(has_text="The hanging bob").get_by_role("link", name="Open the lab book").click()
        student.get_by_role("link", name="Ask,").click()
        expect(student.get_by_text("The relation is shown when you have written what you expect.")).to_be_visible()
        expect(student.locator(".margin-prompt")).to_have_text("Longer or shorter: which is slower?")
        student.get_by_role("textbox", name="What do you expect?").fill("Longer is slower.")
        student.get_by_role("textbox", name="What do you expect?").press("Tab")
        expect(student.get_by_text("The relation to be tried:")).to_be_visible()
        student.get_by_role("link", name="Read,").click()
        expect(cell(student, 0, 0)).to_have_value("")
        self.check_access(student)

    def test_a_practical_is_amended_and_that_is_taken_back(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/read")
        self.write(page, "Prompt, in the benches’ margin", "Read at eye level.")
        saved(page)
        page.goto(f"{self.live_server_url}/classes/{self.school.school_class.pk}")
        page.get_by_role("button", name="Its plan has changed").click()
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("the prompt at Read")
        expect(sheet.get_by_role("row")).to_have_count(2)
        self.check_access(page)
        student = self.open_book(self.school.students[0], "read")
        sheet.get_by_role("button", name="Amend it").click()
        expect(student.locator(".margin-prompt")).to_have_text("Read at eye level.")
        page.get_by_role("button", name="Take the amendment back").click()
        expect(student.locator(".margin-prompt")).not_to_have_text("Read at eye level.")
        expect(page.get_by_role("button", name="Its plan has changed")).to_be_visible()

    def test_stations_open_one_after_the_other_and_readings_close(self) -> None:
        page = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        student = self.open_book(self.school.students[0], "fit")
        page.get_by_role("button", name="Dates and stations").click()
        page.get_by_role("combobox", name="Stations open up to").click()
        page.get_by_title("Read", exact=True).click()
        page.get_by_role("button", name="Set it so").click()
        expect(student.get_by_role("heading", name="Not open yet")).to_be_visible()
        expect(student.get_by_text("Fit opens when your teacher says so.")).to_be_visible()
        self.check_access(student)
        Practical.objects.filter(pk=self.school.practical.pk).update(open_to="", readings_close="2026-01-01T10:00:00Z")
        student.reload()
        student.get_by_role("link", name="Read,").click()
        expect(student.get_by_text("Readings closed on Thursday 1 January", exact=False)).to_be_visible()

    def test_a_plan_on_a_small_screen(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        page = self.page_of(self.school.teacher, f"/books/{plan.pk}/find", size={"width": 390, "height": 800})
        expect(page.get_by_role("heading", name="The plan says at Find")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.get_by_label("after the bench has stated its own").check()
        saved(page)
        page.get_by_role("button", name="Try it dry").click()
        expect(page.locator(".dry-value")).to_be_visible(timeout=30_000)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
