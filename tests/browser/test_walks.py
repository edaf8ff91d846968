"""Practicals that no demo has, from an empty page as their teacher to what two benches find and the class pools."""

from __future__ import annotations

import io
import re

from PIL import Image
from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from tests.browser.base import cell, paste, saved
from tests.browser.planning import PlanTest

MOST_PRESSES = 60
"""For a practical of one's own, from the empty page to the class: at eight seconds each that is eight minutes."""


class ACalibration(PlanTest):
    """How salty is the broth? A line through standards, and an unknown that is read back from it."""

    def test_from_an_empty_page_to_two_benches_and_the_pool(self) -> None:
        page = self.write_plan()
        found = []
        for person, broth in ((self.school.students[0], "17.0 17.2"), (self.school.other_bench, "17,1; 16,9")):
            student = self.open_practical(person, "How salty is the broth?")
            self.measure(student, broth)
            found.append(student)
        self.assertIn("4.4", found[0].locator(".find-statement").inner_text())
        # a reading is put right where it stands, and what rests on it follows
        found[0].keyboard.press("Alt+6")
        readings = found[0].get_by_label("Every reading of the broth")
        readings.fill("20.4 20.5")
        readings.press("Enter")
        expect(found[0].locator(".unknowns tbody tr")).to_contain_text("5.4")
        book = Book.objects.get(practical__title="How salty is the broth?", bench=self.school.book.bench)
        page.goto(f"{self.live_server_url}/practicals/{book.practical_id}/pool")
        expect(page.get_by_role("img", name=re.compile(r"Godwit: 5\.4.*Redshank: 4\.3"))).to_be_visible()

    def write_plan(self) -> Page:
        question = "How much salt is in a litre of the broth?"
        page = self.begin_plan("How salty is the broth?", question, prompt="What does more salt do to the current?")
        self.bring_picture(page)
        self.head_table(page, "salt in a litre c / g/L", "current I / mA")
        self.press(page.get_by_role("button", name="Quantities"))
        self.read_from(page, "salt in a litre", "balance", "0.1")
        self.read_from(page, "current", "meter", "0.1")
        self.press(page.get_by_role("button", name="Close"))
        self.set_range(page, "salt in a litre", "0", "8", 9)
        self.press(page.get_by_role("button", name="Try it dry"))
        # between the numbers of the headings, for nothing else is known
        self.write(page, "What current follows from", "2.1 + 3.4 c")
        expect(page.get_by_role("dialog")).to_contain_text("There is no finding in this plan yet.", timeout=30_000)
        self.press(page.get_by_role("button", name="Close"))
        self.press(page.get_by_role("button", name="Fill it"))
        self.station(page, "Fit")
        self.press(page.get_by_text("Unknowns to read back"))
        page.get_by_label("called").last.fill("the broth")
        page.keyboard.press("Enter")
        expect(page.locator(".unknowns tbody tr")).to_contain_text("Write at least one reading of the broth.")
        self.press(page.get_by_role("button", name="Use the broth in Find"))
        self.station(page, "Find")
        page.get_by_label("called").first.fill("salt in the broth")
        page.get_by_label("symbol").first.fill("c_b")
        self.press(page.get_by_role("button", name="Keep this finding"))
        self.presses += 3
        self.press(page.get_by_role("button", name="Try it dry"))
        self.write(page, "What the broth truly is", "4.4")
        expect(page.locator(".dry-value")).to_contain_text("4.4", timeout=30_000)
        self.check_access(page)
        self.press(page.get_by_role("button", name="Close"))
        self.give_out(page)
        self.assertLessEqual(self.presses, MOST_PRESSES)
        return page

    def bring_picture(self, page: Page) -> None:
        out = io.BytesIO()
        Image.new("RGB", (300, 200), "teal").save(out, "PNG")
        page.get_by_label("Picture files").set_input_files({"name": "p.txt", "mimeType": "text/plain", "buffer": b"no picture"})
        expect(page.get_by_role("alert")).to_contain_text("This is no picture.")
        page.get_by_label("Picture files").set_input_files({"name": "p.png", "mimeType": "image/png", "buffer": out.getvalue()})
        expect(page.get_by_text("A picture has no words for those who do not see it.", exact=False)).to_be_visible()
        self.write(page, "What is to be seen on picture 1", "Two plates in a beaker of broth, a battery and a meter")
        self.presses += 2

    def measure(self, student: Page, broth: str) -> None:
        student.get_by_role("link", name="Ask,").click()
        picture = student.get_by_role("img", name="Two plates in a beaker of broth, a battery and a meter")
        expect(picture).to_be_visible()
        expect(picture).to_have_js_property("naturalWidth", 300)
        student.keyboard.press("Alt+2")
        paste(student, cell(student, 0, 0), "\n".join(f"{c}.0\t{2.1 + 3.4 * c + (0.1, -0.1, 0.0)[c % 3]:.1f}" for c in range(9)))
        saved(student)
        student.keyboard.press("Alt+6")
        readings = student.get_by_label("Every reading of the broth")
        readings.fill(broth)
        readings.press("Enter")
        expect(student.locator(".unknowns tbody tr")).to_contain_text("2 readings")
        student.keyboard.press("Alt+7")
        expect(student.locator(".find-statement")).to_contain_text("g/L")
        saved(student)
