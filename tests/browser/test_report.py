"""The report on its sheet: the same document as its files, written in, put in order, looked over and handed in."""

from __future__ import annotations

import re
from io import BytesIO

from PIL import Image
from playwright.sync_api import Page, expect

from hobrel.core.reporting.tree import Drawing
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book
from hobrel.reports.actions import frame_report, make_report
from hobrel.reports.models import HandIn
from tests.browser.base import BrowserTest, in_the_long_run, saved
from tests.school import client_of, fill, reading, send_edit
from tests.server.test_report_files import close, pieces


class Sheet(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book)

    def open_report(self, person: int = 0) -> Page:
        page = self.open_book(self.school.students[person], "report")
        expect(page.locator(".paper .paper-drawing svg")).to_have_count(3)
        return page

    def test_on_the_sheet_stands_what_is_in_the_tree_in_its_order(self) -> None:
        page = self.open_report()
        book = Book.objects.get(pk=self.school.book.pk)
        report = ask_about(book, "", make_report, frame_report(book))
        text = close(page.locator(".paper").evaluate("sheet => sheet.textContent"))
        at = 0
        for piece in pieces(report):
            found = text.find(close(piece), at)
            self.assertGreaterEqual(found, 0, f"{piece!r} is not after {text[max(0, at - 80) : at]!r}")
            at = found + len(close(piece))
        drawn = page.locator(".paper-drawing")
        described = [b.described for p in report.printed for b in p.blocks if isinstance(b, Drawing)]
        self.assertEqual([drawn.nth(i).get_attribute("aria-label") for i in range(drawn.count())], described)
        # what is drawn is cut off where its axes end: by a name that nothing else has
        named = page.locator(".paper").evaluate("sheet => [...sheet.querySelectorAll('[id]')].map(e => e.id)")
        self.assertGreater(len([name for name in named if name.endswith("-plot")]), 0)
        self.assertEqual(sorted(set(named)), sorted(named))
        self.check_access(page)

    @in_the_long_run
    def test_a_value_is_chosen_from_a_list_and_a_number_typed_by_hand_is_offered_as_one(self) -> None:
        page = self.open_report()
        conclusion = page.get_by_role("textbox", name="Conclusion", exact=True)
        conclusion.click()
        page.keyboard.type("We find {stiff")
        choices = page.get_by_role("listbox", name="Values that follow the readings")
        expect(choices.get_by_role("option").first).to_contain_text("stiffness modulus of the strip")
        self.check_access(page)
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Enter")
        expect(conclusion).to_have_value("We find {E}")
        expect(choices).to_have_count(0)
        page.keyboard.type(", near 12.4 GPa.")
        saved(page)
        printed = page.get_by_role("group", name="Conclusion, as it is printed")
        expect(printed.locator(".live-value")).to_contain_text("GPa")
        offer = page.locator(".offer").filter(has_text="12.4")
        expect(offer).to_contain_text("accepted value")
        offer.get_by_role("button", name="Yes, keep it live").click()
        expect(conclusion).to_have_value("We find {E}, near {accepted} GPa.")
        expect(offer).to_have_count(0)

    @in_the_long_run
    def test_a_number_left_as_typed_is_marked_when_it_has_become_another(self) -> None:
        page = self.open_report()
        found = page.locator(".report-part").filter(has_text="Finding:").locator("p b").first.inner_text()
        number = re.findall(r"\d+\.\d", found)[0]
        page.get_by_role("textbox", name="Discussion", exact=True).fill(f"It is {number} GPa.")
        page.locator(".offer").get_by_role("button", name="No, as typed").click()
        expect(page.locator(".offer")).to_have_count(0)
        saved(page)
        old = Book.objects.get(pk=self.school.book.pk).document["runs"][0]["settings"][7]["readings"]["t10"][0]["text"]
        changed = send_edit(client_of(self.school.students[1]), self.school.book, reading("13.90", old, "s8"))
        self.assertEqual(changed.status_code, 200)
        expect(page.locator(".report-part .notice").filter(has_text=f"{number} was")).to_contain_text("now that is")
        expect(page.locator(".still-missing summary")).to_contain_text("things to look at")

    @in_the_long_run
    def test_parts_are_moved_left_out_added_and_brought_back(self) -> None:
        page = self.open_report()
        titles = lambda: page.locator(".report-part > h2").all_inner_texts()  # noqa: E731
        before = titles()
        page.get_by_role("button", name="Move Method up").click()
        expect(page.locator(".report-part > h2").nth(1)).to_have_text("Method")
        page.get_by_role("button", name="Leave Graph: period against overhang out").click()
        expect(page.locator(".part-left-out")).to_contain_text("Graph: period against overhang")
        # what is not printed has no number
        expect(page.locator("figcaption").first).to_contain_text("Figure 1. Period squared")
        page.get_by_role("button", name="Put it in again").click()
        expect(page.locator("figcaption").first).to_contain_text("Figure 1. Period against")
        page.get_by_role("textbox", name="Heading of a new section").fill("Sources")
        page.keyboard.press("Enter")
        page.get_by_role("textbox", name="Sources", exact=True).fill("The school's handbook.")
        saved(page)
        self.assertEqual(Book.objects.get(pk=self.school.book.pk).document["report"]["sections"][0]["title"], "Sources")
        page.reload()
        expect(page.get_by_role("textbox", name="Sources", exact=True)).to_have_value("The school's handbook.")
        page.get_by_role("button", name="Remove Sources").click()
        expect(page.get_by_role("textbox", name="Sources", exact=True)).to_have_count(0)
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(page.get_by_role("textbox", name="Sources", exact=True)).to_have_value("The school's handbook.")
        self.assertEqual(sorted(titles()), sorted([*before, "Sources", "Appendix: who wrote when"]))

    @in_the_long_run
    def test_a_picture_is_brought_described_and_printed(self) -> None:
        page = self.open_report()
        sent = BytesIO()
        Image.new("RGB", (40, 30), "green").save(sent, "PNG")
        page.locator(".new-parts input[type=file]").set_input_files({"name": "a.png", "mimeType": "image/png", "buffer": sent.getvalue()})
        expect(page.locator(".paper img")).to_be_visible()
        page.get_by_role("textbox", name="Caption of the picture").fill("The strip in its clamp")
        page.get_by_role("textbox", name="What is to be seen on the picture").fill("A beech strip")
        page.keyboard.press("Tab")
        saved(page)
        expect(page.locator("figcaption").first).to_contain_text("Figure 1. The strip in its clamp")
        expect(page.locator(".paper img")).to_have_attribute("alt", "A beech strip")
        page.locator(".new-parts input[type=file]").set_input_files({"name": "b.png", "mimeType": "image/png", "buffer": b"no picture"})
        expect(page.get_by_role("alert")).to_contain_text("no picture that can be read")

    def test_what_is_missing_is_said_before_it_is_handed_in(self) -> None:
        page = self.open_report()
        page.locator(".still-missing summary").click()
        page.get_by_role("link", name="Method: nothing is written here yet.").click()
        expect(page.get_by_role("textbox", name="Method", exact=True)).to_be_focused()
        page.keyboard.type("We timed ten swings.")
        saved(page)
        expect(page.get_by_role("link", name="Method: nothing is written here yet.")).to_have_count(0)
        page.get_by_role("button", name="Hand in", exact=True).click()
        expect(page.get_by_role("alertdialog")).to_contain_text("You can hand it in all the same.")
        page.get_by_role("button", name="Hand in now").click()
        handed = page.get_by_role("list", name="What has been handed in")
        for ending in ("PDF", "HTML", "DOCX", "ODT"):
            expect(handed.get_by_role("link", name=ending, exact=True)).to_be_visible()
        self.assertTrue(bytes(HandIn.objects.get().docx).startswith(b"PK"))

    def test_two_write_in_one_report(self) -> None:
        ann, bo = self.open_report(0), self.open_report(1)
        ann.get_by_role("textbox", name="Method", exact=True).fill("We timed ten swings.")
        bo.get_by_role("textbox", name="Discussion", exact=True).fill("It agrees.")
        saved(ann)
        saved(bo)
        expect(bo.get_by_role("textbox", name="Method", exact=True)).to_have_value("We timed ten swings.")
        expect(ann.get_by_role("textbox", name="Discussion", exact=True)).to_have_value("It agrees.")

    @in_the_long_run
    def test_it_is_told_aloud_by_keys(self) -> None:
        page = self.open_report()
        page.get_by_role("button", name="Tell it aloud").click()
        telling = page.get_by_role("dialog", name="The report, told aloud")
        expect(telling.get_by_role("heading", name="The clamped strip")).to_be_visible()
        self.check_access(page)
        page.keyboard.press("ArrowRight")
        expect(telling.get_by_role("heading", name="Question")).to_be_visible()
        page.keyboard.press("End")
        expect(telling.get_by_role("heading", name="Conclusion").or_(telling.get_by_role("heading", name="Left out")).first).to_be_visible()
        page.keyboard.press("PageUp")
        page.keyboard.press("Home")
        expect(telling.get_by_text("1 of ")).to_be_visible()
        page.keyboard.press("Escape")
        expect(telling).to_have_count(0)

    @in_the_long_run
    def test_a_table_is_copied_as_text_and_as_a_table(self) -> None:
        page = self.open_report()
        page.get_by_role("button", name="Copy Table 1").click()
        expect(page.get_by_text("Copied.")).to_be_visible()
        kept = page.evaluate(
            """async () => {
                const [item] = await navigator.clipboard.read();
                return Promise.all(["text/plain", "text/html"].map(async (kind) => (await item.getType(kind)).text()));
            }"""
        )
        first, second = kept[0].split("\n")[:2]
        self.assertEqual((first.count("\t"), second.split("\t")[0]), (4, "0.300"))
        self.assertIn("<table", kept[1])
