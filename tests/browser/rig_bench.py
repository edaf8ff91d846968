"""A class that does a plan of the shelf with its rig, worked at as a student does it."""

from __future__ import annotations

import datetime
import re
from typing import ClassVar

from playwright.sync_api import Locator, Page, expect

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rigs import find_rig
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.computed import analysis_in, ask_about
from hobrel.labbooks.models import Book
from hobrel.labbooks.rigs import seeds_of
from hobrel.school.giving_out import plan_from_shelf, start_practical
from tests.browser.base import BrowserTest


class RigTest(BrowserTest):
    """A class that does a plan of the shelf with its rig."""

    shelf: ClassVar[str]

    def setUp(self) -> None:
        super().setUp()
        plan = plan_from_shelf(self.school.teacher, self.shelf)
        practical = start_practical(plan, self.school.school_class, datetime.date.today())
        self.book = open_book(practical, self.school.book.bench)

    def at_the_rig(self, student: int = 0) -> Page:
        page = self.open_book(self.school.students[student], "read", self.book)
        expect(page.locator(".rig-bench[aria-busy=false]")).to_be_visible()
        page.keyboard.press("Alt+b")
        return page

    def press(self, page: Page, *keys: str) -> None:
        for key in keys:
            page.keyboard.press(key)
            expect(page.locator(".rig-bench[aria-busy=false]")).to_have_count(1)

    def shows(self, page: Page, face: str) -> str:
        return self.glass(page, face).inner_text().replace("−", "-")

    def glass(self, page: Page, face: str) -> Locator:
        return page.get_by_role("group", name=face, exact=True).locator(".face-glass > span").first

    def by_ear(self, page: Page, key: str = "r", face: str = "ruler") -> float:
        """Where something stands on a scale as it is told: between which marks, and nearer to which."""
        page.keyboard.press(key)
        status = page.locator(".rig").get_by_role("status")
        expect(status).to_have_text(re.compile(rf"{face} (at|between) -?\d+"))
        words = status.inner_text()
        expect(page.get_by_role("group", name=face).get_by_role("img")).to_have_accessible_name(words.removeprefix(f"{face} "))
        marks = [float(mark) for mark in re.findall(r"-?\d+(?:\.\d+)?", words)]
        part = next((part for told, part in (("lower", 0.25), ("upper", 0.75), ("middle", 0.5)) if told in words), 0.0)
        return marks[0] + part * (marks[-1] - marks[0])

    def found_within(self, page: Page, most: float, **truths: float) -> None:
        """Findings hold what is hidden within so many ±, and stand at Find and in the report."""
        found = {f.finding: f.value for f in ask_about(Book.objects.get(pk=self.book.pk), "", analysis_in).findings}
        page.keyboard.press("Alt+7")
        for finding, hidden in truths.items():
            value = found[finding]
            assert value is not None and value.u, finding
            self.assertLess(abs(value.value - hidden), most * value.u, (finding, value.text, hidden))
            self.assertLess(value.u / abs(value.value), 0.1)
            expect(page.locator("#page")).to_contain_text(value.value_text)
        page.keyboard.press("Alt+9")
        for finding in truths:
            value = found[finding]
            assert value is not None
            expect(page.locator(".paper")).to_contain_text(value.value_text)

    def write_value(self, page: Page, name: str, value: str, u: str) -> None:
        page.get_by_role("row", name=name).get_by_role("button", name="Change").click()
        page.get_by_role("textbox", name="value").fill(value)
        page.get_by_role("textbox", name="±").fill(u)
        page.get_by_role("button", name="Change", exact=True).last.click()
        expect(page.get_by_role("row", name=name)).to_contain_text(value)

    def truth(self) -> dict[str, str]:
        book = Book.objects.get(pk=self.book.pk)
        seeds, rig = seeds_of(book), find_rig(book.document["plan"]["rig"]["key"])
        return {line.name: line.text for line in rig.tell_truth(rig.draw_truth(Chance(seeds.shared), Chance(seeds.own), ()))}
