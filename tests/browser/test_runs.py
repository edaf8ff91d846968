"""Several runs in one lab book, quantities of one's own, files in and out, and what is done about a slip."""

from __future__ import annotations

import io
import tempfile
import zipfile
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, Route, expect

from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved
from tests.school import client_of, fill, send_edit

TABLE = "L (cm);t1;t2;t3;note\n30,0;3,77;3,71;3,70;ok\n35,0;4,70;4,62;4,75;\n40,0;5,71;5,80;5,75;wind\n45,0;6,82;6,90;6,79;\n"


class Runs(BrowserTest):
    def document(self) -> dict[str, list[dict[str, Any]]]:
        document: dict[str, list[dict[str, Any]]] = Book.objects.get(pk=self.school.book.pk).document
        return document

    def add_run(self, page: Page, name: str) -> None:
        page.get_by_role("button", name="+ fresh readings").click()
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")

    def test_fresh_readings_carry_the_whole_analysis_over(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        self.add_run(page, "Wet strip")
        expect(cell(page, 0, 0)).to_have_value("")
        paste(page, cell(page, 0, 0), "0.300\t3.9\t3.8\t3.9\n0.350\t4.9\t4.8\t4.9\n0.400\t6.0\t6.1\t6.0\n0.450\t7.2\t7.1\t7.2\n")
        saved(page)
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).to_contain_text("GPa")
        wet = page.locator(".find-statement").inner_text()
        page.reload()
        expect(page.locator(".find-statement")).to_have_text(wet)
        page.keyboard.press("Alt+2")
        page.get_by_role("tab", name="Beech strip").click()
        expect(cell(page, 7, 0)).to_have_value("0.650")
        # a station's own key leaves the hand where it is
        cell(page, 7, 0).focus()
        page.keyboard.press("Alt+2")
        expect(cell(page, 7, 0)).to_be_focused()
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).not_to_have_text(wet)
        # of which run it is can be chosen where it is read
        page.get_by_role("tab", name="Wet strip").click()
        expect(page.locator(".find-statement")).to_have_text(wet)

    @in_the_long_run
    def test_two_runs_beside_each_other_and_one_removed_and_brought_back(self) -> None:
        fill(self.school.book, 4)
        page = self.open_book(self.school.students[0])
        self.add_run(page, "Wet strip")
        page.get_by_label("Another run beside this one").click()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.locator("table.ruled")).to_have_count(2)
        page.get_by_role("button", name="rename", exact=True).click()
        page.get_by_label("The run is called").fill("Soaked strip")
        page.keyboard.press("Enter")
        expect(page.get_by_role("tab", name="Soaked strip")).to_be_visible()
        page.get_by_role("button", name="Remove run").click()
        expect(page.get_by_role("tab")).to_have_count(1)
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(page.get_by_role("tab", name="Soaked strip")).to_be_visible()

    def test_a_second_run_of_the_same_name_is_refused_where_it_happened(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="+ fresh readings").click()
        page.keyboard.type("beech strip")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("There is a run called beech strip already")
        expect(page.get_by_role("tab")).to_have_count(1)

    def test_a_file_is_looked_over_ticked_and_brought_in(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Bring in").click()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "wet.csv"
            path.write_text(TABLE, encoding="utf-8")
            page.get_by_role("dialog").locator('input[type="file"]').set_input_files(path)
            expect(page.locator(".bring-column.ticked")).to_have_count(4)
            expect(page.get_by_role("dialog")).to_contain_text("separated by semicolons")
            page.get_by_role("button", name="Bring in 4 columns").click()
            # the table in which nothing stood yet is filled
            expect(cell(page, 0, 0)).to_have_value("0.300")
            expect(cell(page, 2, 2)).to_have_value("5,80")
            saved(page)
            self.assertEqual(len(self.document()["runs"]), 1)
            page.get_by_role("button", name="Bring in").click()
            page.get_by_role("dialog").locator('input[type="file"]').set_input_files(path)
            page.get_by_role("button", name="Bring in 4 columns").click()
            expect(page.get_by_role("tab", name="wet")).to_have_attribute("aria-selected", "true")
        self.assertEqual(len(self.document()["runs"]), 2)

    def test_the_wrong_file_is_swapped_without_harm(self) -> None:
        fill(self.school.book, 5)
        page = self.open_book(self.school.students[0])
        before = cell(page, 0, 1).input_value()
        page.get_by_role("button", name="Bring in").click()
        page.get_by_label("or paste a table").fill(TABLE)
        page.get_by_role("button", name="Look it over").click()
        page.get_by_text("in place of this run", exact=True).click()
        page.get_by_role("button", name="Bring in 4 columns").click()
        expect(cell(page, 3, 0)).to_have_value("0.450")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(cell(page, 0, 1)).to_have_value(before)

    def test_times_of_day_are_seconds_since_the_first_row(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Bring in").click()
        page.get_by_label("or paste a table").fill("Logger: A1\nL (m),t1\n0.300,11:59:58 AM\n0.350,12:00:02 PM\n")
        page.get_by_role("button", name="Look it over").click()
        expect(page.locator(".bring-column.ticked").nth(1)).to_contain_text("2 numbers, seconds since 11:59:58 AM")
        page.get_by_role("button", name="Bring in 2 columns").click()
        expect(cell(page, 1, 1)).to_have_value("4")
        expect(cell(page, 0, 1)).to_have_value("0")

    def test_what_cannot_be_read_is_said_and_changes_nothing(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Bring in").click()
        page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
            {"name": "photo.png", "mimeType": "image/png", "buffer": b"\x89PNG\r\n\x1a\n" + bytes(range(256)) * 9}
        )
        expect(page.get_by_role("alert")).to_contain_text("not a text file with a table")
        self.assertEqual(len(self.document()["runs"]), 1)

    @in_the_long_run
    def test_taken_out_and_brought_in_again_in_each_format(self) -> None:
        fill(self.school.book, 5)
        page = self.open_book(self.school.students[0])
        for words, ending, exact in (
            ("Hobrel lab book", "json", True),
            ("XLSX", "xlsx", False),
            ("ODS", "ods", False),
            ("CSV with metadata", "zip", True),
        ):
            with self.subTest(words):
                page.get_by_role("button", name="Take out").click()
                with page.expect_download() as download:
                    page.get_by_role("link", name=words).click()
                data = Path(download.value.path()).read_bytes()
                if ending == "zip":
                    with zipfile.ZipFile(io.BytesIO(data)) as packed:
                        ending, data = "csv", packed.read(next(n for n in packed.namelist() if n.endswith(".csv")))
                page.get_by_role("button", name="Bring in").click()
                page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
                    {"name": f"as {ending}.{ending}", "mimeType": "", "buffer": data}
                )
                page.get_by_role("button", name="Bring in 4 columns").click()
                expect(page.get_by_role("tab", name=f"as {ending}")).to_have_attribute("aria-selected", "true")
                page.get_by_role("tab", name="Beech strip").click()
                expect(page.get_by_role("tab", name="Beech strip")).to_have_attribute("aria-selected", "true")
                first, *_, last = (self.numbers(r, as_written=exact) for r in self.document()["runs"])
                self.assertEqual(last, first)

    @in_the_long_run
    def test_a_file_of_a_format_that_came_before_is_taken_as_then_and_what_takes_long_is_named(self) -> None:
        page = self.open_book(self.school.students[0])
        held: list[Route] = []
        text = "No;ch 1;ch 2;ch 3\n1;0.31;{0};9\n2;0.35;4.1;9\n3;0.41;4.4;9\n"

        def bring(name: str, first: str) -> None:
            page.get_by_role("button", name="Bring in").click()
            page.get_by_role("dialog").locator('input[type="file"]').set_input_files(
                {"name": f"{name}.csv", "mimeType": "", "buffer": text.format(first).encode()}
            )

        page.route("**/bring-in/look", lambda route: held.append(route))
        bring("first", "3.9")
        # nothing of work that has only begun
        expect(page.get_by_text("Looking the file over")).to_be_visible()
        held[0].continue_()
        page.unroute("**/bring-in/look")
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("checkbox", name="No")).to_be_visible()
        expect(page.get_by_text("Looking the file over")).to_have_count(0)
        expect(page.get_by_text("was brought in on this device before")).to_have_count(0)
        for place, (column, target) in enumerate((("No", ""), ("ch 1", "L overhang"), ("ch 2", ", repeat 2"), ("ch 3", "")), 1):
            box = sheet.get_by_role("checkbox", name=column)
            if not target:
                box.uncheck()
                continue
            sheet.get_by_role("combobox", name=f"What column {place} is").click()
            page.locator(".ant-select-item-option:visible").filter(has_text=target).click()
        sheet.get_by_text("into a new run").click()
        page.get_by_role("button", name="Bring in 2 columns").click()
        expect(page.get_by_role("tab", name="first")).to_have_attribute("aria-selected", "true")
        bring("second", "7.7")
        expect(sheet.get_by_role("note")).to_contain_text("was brought in on this device before")
        page.get_by_role("button", name="Bring in 2 columns").click()
        expect(page.get_by_role("tab", name="second")).to_have_attribute("aria-selected", "true")
        (row, *_) = self.document()["runs"][-1]["settings"]
        self.assertEqual(
            {q: [r and r["text"] for r in found] for q, found in row["readings"].items()}, {"L": ["0.31"], "t10": [None, "7.7"]}
        )
        bring("third", "1.0")
        page.get_by_role("button", name="Choose anew").click()
        expect(sheet.get_by_role("note")).to_have_count(0)
        expect(sheet.get_by_role("checkbox", name="ch 3")).to_be_visible()

    def numbers(self, run: dict[str, Any], as_written: bool) -> list[dict[str, list[Any]]]:
        """The readings of a run: their texts, or their numbers, where a format keeps decimals as the look of a cell only."""
        return [
            {q: [r["text"] if as_written else float(r["text"]) for r in readings] for q, readings in s["readings"].items()}
            for s in run["settings"]
        ]


class Quantities(BrowserTest):
    @in_the_long_run
    def test_a_quantity_is_added_changed_and_followed(self) -> None:
        fill(self.school.book, 4)
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        page.get_by_role("button", name="Add a quantity").click()
        page.get_by_label("called").fill("sag of the tip")
        page.get_by_label("symbol").fill("h")
        page.get_by_label("unit").fill("mm")
        page.get_by_label("read from").fill("ruler")
        page.get_by_label("smallest division").fill("0.5")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("dialog").get_by_role("row", name="h / mm sag of the tip")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator("table.ruled th").filter(has_text="sag of the tip")).to_contain_text("ruler ± 0.25 mm")
        cell(page, 0, 4).fill("2.5")
        page.keyboard.press("Enter")
        saved(page)
        page.get_by_role("button", name="Quantities").click()
        page.get_by_role("dialog").get_by_role("row", name="sag of the tip").get_by_role("button", name="Change", exact=True).click()
        page.get_by_label("unit").fill("cm")
        page.get_by_text("turn every reading from mm into cm").click()
        page.locator(".quantity-form").get_by_role("button", name="Change").click()
        expect(page.get_by_role("dialog").get_by_role("row", name="h / cm sag of the tip")).to_be_visible()
        page.keyboard.press("Escape")
        expect(cell(page, 0, 4)).to_have_value("0.25")

    def test_what_the_plan_gave_is_locked(self) -> None:
        page = self.open_book(self.school.students[0])
        page.get_by_role("button", name="Quantities").click()
        row = page.get_by_role("row", name="overhang changed")
        expect(row).to_contain_text("given by the plan")
        expect(row.get_by_role("button")).to_have_count(0)


class AboutASlip(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.document = fill(self.school.book, 6)
        first = self.document.runs[0].settings[2].readings["t10"][1]
        assert first is not None
        edit = {"type": "set_reading", "run": "run1", "setting": "s3", "quantity": "t10", "repeat": 1, "text": "9.99", "was": first.text}
        send_edit(client_of(self.school.students[1]), self.school.book, edit)
        self.page = self.open_book(self.school.students[0])
        expect(self.page.locator(".slip")).to_have_count(1)

    def test_it_is_right_with_who_said_so(self) -> None:
        self.page.get_by_role("button", name="it is right").click()
        expect(self.page.locator(".slip")).to_have_count(0)
        saved(self.page)
        self.assertEqual(Book.objects.get(pk=self.school.book.pk).document["confirmed"][0]["by"], "Ann")
        self.page.locator(".saved").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("said that L = 0.400 m is right")

    def test_set_aside_from_the_margin_with_a_reason(self) -> None:
        self.page.get_by_role("button", name="set aside", exact=True).click()
        self.page.get_by_label("Why is it left out?").fill("counted eleven swings")
        self.page.keyboard.press("Enter")
        expect(self.page.locator(".slip")).to_have_count(0)
        expect(self.page.locator("table.ruled")).to_contain_text("9.99 set aside: counted eleven swings")

    def test_everything_from_here_on(self) -> None:
        self.page.locator('input[data-at="4:0"]').focus()
        self.page.keyboard.press("Alt+Shift+s")
        self.page.get_by_label("Why is L = 0.500 m left out?").fill("the clamp slipped")
        self.page.get_by_label("and everything from here on").check()
        self.page.get_by_role("button", name="Set aside", exact=True).click()
        expect(self.page.locator("tr.aside-reason")).to_have_count(2)
