"""Writing plans in the browser, giving them out, and opening what a bench gets."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from hobrel.classes.models import Person
from tests.browser.base import BrowserTest


class PlanTest(BrowserTest):
    """What every plan is written with. `presses` counts them, a field that is filled as one."""

    presses = 0

    def press(self, target: Locator) -> None:
        target.click()
        self.presses += 1

    def station(self, page: Page, name: str) -> None:
        self.press(page.get_by_role("link", name=f"{name},"))
        expect(page.get_by_role("heading", name=f"The plan says at {name}")).to_be_visible()

    def write(self, page: Page, label: str, text: str) -> None:
        field = page.get_by_label(label)
        field.fill(text)
        field.press("Tab")
        self.presses += 1

    def read_from(self, page: Page, quantity: str, device: str, division: str) -> None:
        self.press(page.get_by_role("row", name=quantity).get_by_role("button", name="Change"))
        page.get_by_label("read from").fill(device)
        page.get_by_label("smallest division").fill(division)
        self.press(page.get_by_role("button", name="Change", exact=True).last)
        self.presses += 2

    def derive(self, page: Page, name: str, symbol: str, formula: str) -> None:
        self.press(page.get_by_role("button", name="Add a quantity"))
        self.press(page.get_by_text("derived by a formula"))
        page.get_by_label("called").fill(name)
        page.get_by_label("symbol").fill(symbol)
        page.get_by_role("textbox", name="formula").fill(formula)
        # checked while it is typed
        expect(page.locator(".derived-preview .katex").first).to_be_visible()
        self.press(page.get_by_role("button", name="Add", exact=True))
        self.presses += 3

    def begin_plan(self, title: str, question: str, relation: str = "", prompt: str = "") -> Page:
        """A new plan, as far as what it says at Ask."""
        page = self.page_of(self.school.teacher)
        self.press(page.get_by_role("button", name="New plan"))
        expect(page.get_by_role("heading", name="The plan says at Ask")).to_be_visible()
        for label, text in (
            ("Title", title),
            ("Question", question),
            ("Relation that you expect, if there is one", relation),
            ("Prompt, in the benches’ margin", prompt),
        ):
            if text:
                self.write(page, label, text)
        return page

    def head_table(self, page: Page, first: str, second: str) -> None:
        """Type the two headings of the plan's table."""
        self.station(page, "Read")
        for label, text in (("First heading: what you set", first), ("Second heading: what you measure", second)):
            page.get_by_label(label).fill(text)
            page.keyboard.press("Enter")
            self.presses += 1

    def set_range(self, page: Page, quantity: str, low: str, high: str, settings: int) -> None:
        self.write(page, f"Lowest {quantity}", low)
        self.write(page, f"Highest {quantity}", high)
        self.write(page, f"How many settings of {quantity}", str(settings))

    def believe(self, page: Page, quantity: str, formula: str) -> None:
        """Say what a quantity follows from, and fill the table with such readings."""
        self.press(page.get_by_role("button", name="Try it dry"))
        self.write(page, f"What {quantity} follows from", formula)
        expect(page.get_by_role("dialog")).to_contain_text("There is no finding in this plan yet.")
        self.press(page.get_by_role("button", name="Close"))
        self.press(page.get_by_role("button", name="Fill it"))

    def give_out(self, page: Page) -> None:
        self.press(page.get_by_role("button", name="Give it out"))
        # who teaches one class need not choose it
        expect(page.get_by_role("dialog")).to_contain_text(self.school.school_class.name)
        self.press(page.get_by_role("dialog").get_by_role("button", name="Give it out"))
        expect(page.get_by_role("status").filter(has_text="has it now")).to_be_visible()

    def open_practical(self, person: Person, title: str) -> Page:
        student = self.page_of(person)
        student.locator("article").filter(has_text=title).get_by_role("link", name="Open the lab book").click()
        expect(student.locator("main h1").first).to_be_visible()
        student.get_by_role("link", name=re.compile("^Read,")).click()
        return student
