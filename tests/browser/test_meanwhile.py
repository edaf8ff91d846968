"""Two people in one field: what each writes is seen, and a person chooses; what nobody has changed is nobody's to take back."""

from __future__ import annotations

import random
import re
from typing import Any

from playwright.sync_api import Locator, Page, expect

from hobrel.classes.models import Person
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.own import begin_book, share_book
from tests.browser.base import BrowserTest, cell, come_late, describe_width, find_twice_the_mass, in_the_long_run, saved
from tests.school import fill

LOOK = """
window.shown = {};
setInterval(() => document.querySelectorAll('textarea[aria-label], input[data-cell]').forEach(field => {
  (window.shown[field.dataset.cell ?? field.ariaLabel.toLowerCase()] ??= []).push(field.value);
}), 10);"""
"""Note every text that is ever shown in a field."""
MINE = "We timed ten swings, and then once more."


def quantity(page: Page, name: str) -> Locator:
    return page.get_by_role("dialog").get_by_role("row", name=name)


class Meanwhile(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book, 3)

    def test_a_reading_that_came_while_another_was_typed_is_asked_about(self) -> None:
        ann, bo = (self.open_book(p) for p in self.school.students)
        cell(bo, 0, 1).fill("2.22")
        cell(ann, 0, 1).fill("2.11")
        ann.keyboard.press("Enter")
        saved(ann)
        # Bo's page has heard of it, and shows what Bo types
        with bo.expect_response("**/view*"):
            pass
        expect(cell(bo, 0, 1)).to_have_value("2.22")
        bo.keyboard.press("Enter")
        alert = bo.get_by_role("alert").filter(has_text="meanwhile")
        expect(alert).to_contain_text("2.11")
        self.assertEqual(self.texts("t10")[0][0], "2.11")
        # typed anew, it is asked about still
        cell(bo, 0, 1).fill("2.23")
        bo.keyboard.press("Enter")
        alert.get_by_role("button", name="Write 2.23").click()
        expect(cell(ann, 0, 1)).to_have_value("2.23")

    @in_the_long_run
    def test_a_paragraph_that_somebody_only_stands_in_takes_nothing_back(self) -> None:
        ann, bo = (self.open_book(p, "report") for p in self.school.students)
        [first, second] = [page.get_by_role("textbox", name="Method", exact=True) for page in (ann, bo)]
        second.fill("We timed ten swings.")
        saved(bo)
        expect(first).to_have_value("We timed ten swings.")
        expect(second).to_be_focused()
        first.fill("We timed ten swings, twice.")
        saved(ann)
        expect(second).to_have_value("We timed ten swings, twice.")

    @in_the_long_run
    def test_a_paragraph_that_two_write_at_once_is_asked_about_where_it_stands(self) -> None:
        ann, bo = (self.open_book(p, "report") for p in self.school.students)
        [first, second] = [page.get_by_role("textbox", name="Method", exact=True) for page in (ann, bo)]
        second.fill("We timed ten")
        first.fill("The strip was clamped.")
        first.press("Tab")
        saved(ann)
        # longer than a page waits before it asks: Ann's is there, and is not what Bo has begun to write over
        second.press_sequentially(" swings, and then once more", delay=150)
        their = bo.get_by_role("alert").filter(has_text="Somebody else wrote here")
        expect(their).to_contain_text("The strip was clamped.")
        # what is typed on is still mine, and no answer
        second.press_sequentially(".")
        second.press("Tab")
        expect(their).to_contain_text("The strip was clamped.")
        self.assertEqual(self.method(), "The strip was clamped.")
        self.check_access(bo)
        bo.reload()
        expect(second).to_have_value(MINE)
        their.get_by_role("button", name="Write mine instead").click()
        expect(first).to_have_value(MINE)
        saved(bo)
        self.assertEqual(self.method(), MINE)

    def method(self) -> str:
        return str(Book.objects.get(pk=self.school.book.pk).document["texts"]["method"])

    @in_the_long_run
    def test_a_form_takes_back_nothing_that_somebody_else_has_changed_meanwhile(self) -> None:
        ann, bo = self.school.students
        book = begin_book(ann)
        share_book(book, ann, bo.pk)
        first, second = (self.page_of(p, f"/books/{book.pk}/read") for p in (ann, bo))
        for page, label, text in ((first, "First heading: what you set", "d / m"), (second, "Second heading: what you measure", "t / s")):
            page.get_by_label(label).fill(text)
            page.keyboard.press("Enter")
            saved(page)
        for page in (first, second):
            page.get_by_role("button", name="Quantities").click()
            quantity(page, "t / s").get_by_role("button", name="Change").click()
        first.get_by_label("read from").fill("stop clock")
        first.get_by_label("smallest division").fill("0.2")
        first.keyboard.press("Enter")
        expect(quantity(second, "t / s")).to_contain_text("stop clock")
        second.get_by_label("called").fill("time of ten swings")
        second.keyboard.press("Enter")
        for page in (first, second):
            expect(quantity(page, "time of ten swings")).to_contain_text("stop clock")
        with self.subTest("of the same, one is asked"):
            for page in (first, second):
                quantity(page, "t / s").get_by_role("button", name="Change").click()
            first.get_by_label("called").fill("time")
            first.keyboard.press("Enter")
            expect(quantity(second, "t / s time measured")).to_be_visible()
            second.get_by_label("called").fill("period")
            second.keyboard.press("Enter")
            second.get_by_text("1 not kept").click()
            sheet = second.get_by_role("dialog", name="Not kept yet")
            expect(sheet).to_contain_text("There stands now: time")
            sheet.get_by_role("button", name="Write mine").click()
            expect(quantity(first, "t / s period")).to_contain_text("stop clock")

    @in_the_long_run
    def test_a_quantity_that_is_gone_meanwhile_leaves_what_was_typed_in_its_form(self) -> None:
        page = self.open_book(self.school.students[0])
        describe_width(page)
        page.keyboard.press("Enter")
        quantity(page, "h / mm width").get_by_role("button", name="Change").click()
        page.get_by_label("called").fill("width of the strip")
        other = self.open_book(self.school.students[1])
        other.get_by_role("button", name="Quantities").click()
        quantity(other, "h / mm width").get_by_role("button", name="Remove").click()
        expect(quantity(page, "h / mm width")).to_have_count(0)
        expect(page.get_by_label("called")).to_have_value("width of the strip")
        page.get_by_label("called").press("Enter")
        expect(page.locator(".quantity-form").get_by_role("alert")).to_contain_text("no longer")
        expect(page.get_by_label("called")).to_have_value("width of the strip")

    @in_the_long_run
    def test_a_setting_that_is_taken_away_comes_back_with_what_was_being_typed_in_it(self) -> None:
        ann, bo = (self.open_book(p) for p in self.school.students)
        cell(bo, 1, 1).fill("2.22")
        cell(ann, 1, 1).focus()
        ann.get_by_role("button", name="remove setting").click()
        expect(cell(bo, 1, 1)).not_to_have_value("2.22")
        expect(cell(bo, 2, 1)).to_have_value("2.22")
        saved(bo)
        expect(cell(ann, 2, 1)).to_have_value("2.22")

    @in_the_long_run
    def test_a_section_that_is_taken_away_leaves_what_was_being_typed_among_what_is_not_kept(self) -> None:
        ann, bo = (self.open_book(p, "report") for p in self.school.students)
        ann.get_by_label("Heading of a new section").fill("Sources")
        ann.keyboard.press("Enter")
        sources = bo.get_by_role("textbox", name="Sources", exact=True)
        sources.fill("The school's handbook.")
        ann.get_by_role("button", name="Remove Sources").click()
        expect(sources).to_have_count(0)
        bo.get_by_text("1 not kept").click()
        expect(bo.get_by_role("dialog", name="Not kept yet")).to_contain_text("The school's handbook.")

    @in_the_long_run
    def test_a_finding_that_is_taken_away_stays_as_it_is_being_written(self) -> None:
        ann, bo = (self.open_book(p, "find") for p in self.school.students)
        find_twice_the_mass(ann)
        bo.get_by_role("region", name="twice the mass").get_by_role("button", name="Change").click()
        bo.get_by_label("called", exact=True).fill("two masses")
        kept = ann.get_by_role("region", name="twice the mass")
        kept.get_by_role("button", name="Remove").click()
        expect(kept).to_have_count(0)
        saved(ann)
        bo.get_by_role("button", name="Write it so").click()
        expect(bo.get_by_role("alert")).to_contain_text("no longer")
        expect(bo.get_by_label("called", exact=True)).to_have_value("two masses")

    @in_the_long_run
    def test_nobody_writes_over_what_they_have_not_seen(self) -> None:
        """Two type at random into the same fields, answers coming late: what each edit replaces has stood before its author."""
        dice = random.Random(20261201)
        for station, fields in (
            ("read", "input[data-cell^='s1:t10'], input[data-cell^='s2:t10']"),
            ("report", "textarea[aria-label=Method], textarea[aria-label=Discussion]"),
        ):
            pages = [self.open_book(person, station) for person in self.school.students[:2]]
            for page in pages:
                come_late(page, 150)
                expect(page.locator(fields).first).to_be_visible()
                page.evaluate(LOOK)
            for turn in range(90):
                page = dice.choice(pages)
                if dice.random() < 0.3:
                    dice.choice(page.locator(fields).all()).click()
                elif dice.random() < 0.2:
                    page.keyboard.press(dice.choice(("Tab", "Shift+Tab")))
                elif page.evaluate("fields => document.activeElement.matches(fields)", fields):
                    page.keyboard.type(f"{turn} ")
                # as long as people take: past the pause after which a paragraph is sent, too
                page.wait_for_timeout(dice.choice((0, 0, 0, 60, 250, 1300)))
            for page, person in zip(pages, self.school.students, strict=False):
                page.keyboard.press("Tab")
                expect(page.get_by_role("status").filter(has_text=re.compile("saved|not kept"))).to_be_visible()
                shown = page.evaluate("window.shown")
                for edit in self.edits_of(person):
                    if edit["type"] == "set_reading" and station == "read":
                        self.assertIn(edit["was"], shown[f"{edit['setting']}:{edit['quantity']}:{edit['repeat']}"])
                    elif edit["type"] == "write_text":
                        self.assertIn(edit["was"], shown[edit["section"]])
        self.assertGreater(EditRecord.objects.count(), 10)

    def edits_of(self, person: Person) -> list[dict[str, Any]]:
        changes = EditRecord.objects.filter(author=person).values_list("change", flat=True)
        return [edit for change in changes for edit in (change["edits"] if change["type"] == "batch" else [change])]
