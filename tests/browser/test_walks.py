"""Practicals that no demo has, from an empty page as their teacher to what two benches find and the class pools."""

from __future__ import annotations

import io
import math
import random
import re

from PIL import Image
from playwright.sync_api import Page, expect

from hobrel.labbooks.models import Book
from tests.browser.base import cell, in_the_long_run, paste, saved
from tests.browser.planning import PlanTest

MOST_PRESSES = 60
"""For a practical of one's own, from the empty page to the class: at eight seconds each that is eight minutes."""


@in_the_long_run
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
        self.believe(page, "current", "2.1 + 3.4 c")
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
        expect(page.locator(".dry-value")).to_contain_text("4.4")
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


def log_of(seed: int, drop: float, start: float, at: int) -> bytes:
    """What a logger wrote of a wet cloth on which a fan is turned: every two seconds, with decimal commas, under names of its own."""
    dice = random.Random(seed)
    rows = ["Time (s);Temperature (°C)"]
    for t in range(0, 301, 2):
        degrees = start - (drop * (1 - math.exp((at - t) / 22)) if t > at else 0) + dice.gauss(0, 0.06)
        rows.append(f"{t};{degrees:.1f}".replace(".", ","))
    return "\n".join(rows).encode()


@in_the_long_run
class ALogBeforeAndAfter(PlanTest):
    """How much colder does a wet cloth become in the wind? A logged file, and the means of two level stretches."""

    def test_from_an_empty_page_to_two_benches_and_the_pool(self) -> None:
        self.write_plan()
        for person, log, ends, found in (
            (self.school.students[0], log_of(2, 5.2, 23.9, 110), ("10", "106", "240", "300"), r"5\.[12]"),
            (self.school.other_bench, log_of(3, 4.2, 24.4, 60), ("0", "58", "200", "300"), r"4\.[12]"),
        ):
            student = self.open_practical(person, "A wet cloth in the wind")
            self.bring(student, log)
            expect(student.get_by_role("tab")).to_have_count(1)
            student.keyboard.press("Alt+7")
            # where the wind began, only the bench knows
            for symbol, low, high in (("theta_1", *ends[:2]), ("theta_2", *ends[2:])):
                group = student.get_by_role("group", name=f"Where {symbol} is taken")
                group.get_by_label("from t =").fill(low)
                group.get_by_label("to").fill(high)
                group.get_by_label("to").press("Tab")
                saved(student)
            expect(student.locator(".find-statement")).to_have_text(re.compile(found))
            student.reload()
            expect(student.get_by_role("group", name="Where theta_2 is taken").get_by_label("from t =")).to_have_value(ends[2])

    def bring(self, page: Page, log: bytes) -> None:
        page.get_by_role("button", name="Bring in").click()
        page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
            {"name": "cloth.csv", "mimeType": "text/csv", "buffer": log}
        )
        expect(page.get_by_role("dialog")).to_contain_text("151 rows")
        page.get_by_role("button", name="Bring in 2 columns").click()
        expect(page.locator(".log-words")).to_contain_text("151 rows")
        saved(page)

    def mark(self, page: Page, low: float, high: float) -> None:
        """Drag across a share of the graph, and keep the mean of the stretch for a finding."""
        area = page.locator(".graph-mark-area")
        area.scroll_into_view_if_needed()
        box = area.bounding_box()
        assert box is not None
        middle = box["y"] + box["height"] / 2
        page.mouse.move(box["x"] + box["width"] * low, middle)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * high, middle, steps=4)
        page.mouse.up()
        self.press(page.get_by_label("The marked stretch").get_by_role("button", name="Use this mean in Find"))
        self.press(page.get_by_label("The marked stretch").get_by_role("button", name="Unmark"))
        self.presses += 1

    def write_plan(self) -> None:
        question = "How much colder does a wet cloth become in the wind of a fan?"
        page = self.begin_plan("A wet cloth in the wind", question, prompt="What makes it colder: the wind, or the water that goes?")
        self.head_table(page, "time t / s", "temperature of the cloth theta / °C")
        self.press(page.get_by_role("button", name="Quantities"))
        self.read_from(page, "time", "logger", "0.1")
        self.read_from(page, "temperature of the cloth", "probe", "0.1")
        self.press(page.get_by_role("button", name="Close"))
        # a trial of the teacher's own
        self.bring(page, log_of(1, 5.0, 24.3, 90))
        self.presses += 3
        self.station(page, "Look")
        self.mark(page, 0.06, 0.25)
        self.mark(page, 0.75, 0.98)
        self.station(page, "Find")
        page.get_by_label("called").first.fill("how much colder")
        page.get_by_label("symbol").first.fill("D")
        page.get_by_label("D =").fill("theta_1 - theta_2")
        self.presses += 3
        self.press(page.get_by_role("button", name="Keep this finding"))
        expect(page.locator(".find-statement")).to_contain_text("4.99 ± 0.14 K")
        self.check_access(page)
        self.give_out(page)
        self.assertLessEqual(self.presses, MOST_PRESSES)


@in_the_long_run
class Conditions(PlanTest):
    """How fast does sugar go in warm water, still and stirred? Two conditions, dealt, their runs in the lab books."""

    def test_from_an_empty_page_to_two_benches_and_the_pool(self) -> None:
        page = self.write_plan()
        page.goto(f"{self.live_server_url}/classes/{self.school.school_class.pk}")
        page.get_by_role("listitem").filter(has_text="Sugar in warm water").get_by_role("button", name="Conditions").click()
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("Still: nobody does it")
        sheet.get_by_label("each bench does").fill("2")
        sheet.get_by_role("button", name="Deal them").click()
        expect(sheet.get_by_role("checkbox", checked=True)).to_have_count(4)
        sheet.get_by_label("Day on which Godwit does Stirred").fill("2026-12-01")
        self.check_access(page)
        for person, faster in ((self.school.students[0], 3.0), (self.school.other_bench, 2.8)):
            student = self.open_practical(person, "Sugar in warm water")
            for run, factor in (("Still", 1.0), ("Stirred", faster)):
                student.get_by_role("tab", name=run).click()
                expect(student.get_by_role("tab", name=run)).to_have_attribute("aria-selected", "true")
                words = "Nobody touches the glass." if run == "Still" else "Stir once a second."
                expect(student.locator(".run-condition")).to_contain_text(words)
                rows = [(20 + 8 * i, 120 * math.exp(-0.028 * 8 * i) / factor * (1.03, 0.98, 1.01)[i % 3]) for i in range(7)]
                paste(student, cell(student, 0, 0), "\n".join(f"{theta}.0\t{t:.0f}" for theta, t in rows))
                saved(student)
            student.keyboard.press("Alt+7")
            expect(student.locator(".find-statement")).to_contain_text("s⁻¹ °C⁻¹")
            student.get_by_text("The same from every run").click()
            expect(student.locator(".find-help").filter(has_text="The same from every run")).to_contain_text("differs")
        expect(self.open_practical(self.school.students[0], "Sugar in warm water").locator(".run-condition")).to_be_visible()
        page.reload()
        page.get_by_role("listitem").filter(has_text="Sugar in warm water").get_by_role("button", name="Conditions").click()
        expect(page.get_by_role("dialog")).to_contain_text("Stirred: 2 of 2 trials")

    def write_plan(self) -> Page:
        question = "How fast does sugar go in warm water, still and stirred?"
        page = self.begin_plan("Sugar in warm water", question, prompt="Which helps more: warmth, or stirring?")
        self.head_table(page, "warmth of the water theta / °C", "time until all is gone t / s")
        self.press(page.get_by_role("button", name="Quantities"))
        self.read_from(page, "warmth of the water", "thermometer", "0.5")
        self.read_from(page, "time until all is gone", "stopwatch", "1")
        self.derive(page, "how fast it goes", "v", "1/t")
        self.press(page.get_by_role("button", name="Close"))
        self.set_range(page, "warmth of the water", "20", "68", 7)
        for i, (name, words) in enumerate((("Still", "Nobody touches the glass."), ("Stirred", "Stir once a second.")), 1):
            self.press(page.get_by_role("button", name="Add a condition"))
            self.write(page, f"Name of condition {i}", name)
            self.write(page, f"How condition {i} is done", words)
            self.write(page, f"How many trials of condition {i}", "2")
        self.believe(page, "time until all is gone", "120 exp(-0.028 (theta - 20))")
        self.station(page, "Look")
        self.press(page.locator(".choice-words"))
        self.press(page.get_by_role("combobox", name="Quantity on the y axis"))
        self.press(page.locator(".ant-select-item-option").filter(has_text=re.compile("^v")))
        self.station(page, "Fit")
        self.press(page.get_by_role("button", name="Use the gradient in Find"))
        self.station(page, "Find")
        page.get_by_label("called").first.fill("faster by each degree")
        page.get_by_label("symbol").first.fill("k")
        self.presses += 2
        self.press(page.get_by_role("button", name="Keep this finding"))
        expect(page.locator(".find-statement")).to_be_visible()
        self.check_access(page)
        self.give_out(page)
        self.assertLessEqual(self.presses, 70)
        return page
