"""From the first page to the report: students and teacher doing the whole practical in the running application."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from hobrel.classes.models import Bench
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import OpenedStage
from hobrel.reports.models import HandIn
from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved, unfold
from tests.school import fill

OWN_TABLE = """L (m)  t1  t2  t3
0.300  2.34  2.27  2.31
0.350  2.88  2.95  2.91
0.400  3.58  3.51  3.55
0.450  4.22  4.29  4.20
0.500  4.95  4.99  4.90
0.550  5.70  5.77  5.73
0.600  6.52  6.55  6.61
"""


class WholePractical(BrowserTest):
    def test_by_keyboard_alone(self) -> None:
        """A student who has never been here: class code, name, PIN, expectation, readings, formula, finding, report, hand-in."""
        page = self.page_of(None)
        expect(page.get_by_label("Class code, from your teacher")).to_be_focused()
        page.keyboard.type("code11")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Newcomer")).to_be_visible()
        page.keyboard.press("Tab")
        page.get_by_label("Ann").focus()
        for _ in range(3):
            page.keyboard.press("ArrowDown")
        expect(page.get_by_label("Newcomer")).to_be_checked()
        page.get_by_label("Choose a PIN").focus()
        page.keyboard.type("8642")
        page.keyboard.press("Enter")
        self.tab_to(page, "Open the lab book")
        page.keyboard.press("Enter")
        page.get_by_role("textbox", name="What do you expect?").focus()
        page.keyboard.type("Longer is slower.")
        page.keyboard.press("Alt+2")
        self.tab_to_cell(page)
        for row in (line.split() for line in OWN_TABLE.splitlines()[1:]):
            for text in row:
                page.keyboard.type(text)
                page.keyboard.press("Tab")
        saved(page)
        self.assertEqual(len(self.texts("t10")), 7)

        page.evaluate("window.scrollTo(0, 300)")
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).to_contain_text("GPa")
        # a station begins at its top, and the next Tab is in it
        self.assertEqual(page.evaluate("window.scrollY"), 0)
        expect(page.locator("main#page")).to_be_focused()
        statement = page.locator(".find-statement").inner_text()
        page.locator(".find-statement button").focus()
        page.keyboard.press("w")
        expect(page.get_by_role("dialog")).to_contain_text("With the numbers put in")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)

        page.keyboard.press("Alt+9")
        page.get_by_role("textbox", name="Conclusion").focus()
        page.keyboard.type("We found {E}.")
        number = statement.split("=")[1].strip()
        expect(page.locator(".own-text-read .live-value")).to_have_text(number)
        page.keyboard.press("Tab")
        saved(page)
        page.get_by_role("button", name="Hand in").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Hand in now")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_text("by Newcomer")).to_be_visible()
        self.assertIn(number, HandIn.objects.get().html)

    def tab_to(self, page: Page, name: str) -> None:
        """Press Tab until the link of this name has the focus."""
        expect(page.get_by_role("link", name=name).first).to_be_visible()
        for _ in range(5):
            page.keyboard.press("Tab")
            if name in page.evaluate("document.activeElement.textContent"):
                return
        self.fail(f"{name} cannot be reached with Tab")

    def tab_to_cell(self, page: Page) -> None:
        expect(page.locator("table.ruled")).to_be_visible()
        for _ in range(60):
            if page.evaluate("document.activeElement.dataset.at || ''") == "0:0":
                return
            page.keyboard.press("Tab")
        self.fail("the first cell cannot be reached with Tab")

    def test_pasted_from_a_text_file_through_to_a_pdf(self) -> None:
        page = self.open_book(self.school.students[0])
        paste(page, cell(page, 0, 0), OWN_TABLE)
        expect(cell(page, 6, 3)).to_have_value("6.61")
        saved(page)
        page.keyboard.press("Alt+9")
        with page.expect_download() as download:
            page.get_by_role("link", name="Take out PDF").click()
        path = download.value.path()
        self.assertEqual(download.value.suggested_filename, "the-clamped-strip-godwit.pdf")
        self.assertGreater(path.stat().st_size, 20_000)
        self.assertTrue(path.read_bytes().startswith(b"%PDF-"))

    def test_a_formula_with_a_mistake_is_shown_at_its_place_and_mended(self) -> None:
        fill(self.school.book, formula="")
        page = self.open_book(self.school.students[0], "average")
        field = page.get_by_label("T =")
        field.fill("t_11 / 10")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("There is no quantity called t_11 here. Did you mean t_10?")
        expect(field).to_have_value("t_11 / 10")
        field.fill("t_10 / 10")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_have_count(0)
        page.keyboard.press("Alt+7")
        expect(page.locator(".find-statement")).to_contain_text("GPa")

    def test_what_is_prepared_is_ready_until_somebody_comes_and_the_lab_book_opens_where_it_was_left(self) -> None:
        fill(self.school.book)
        OpenedStage.objects.all().delete()
        ann, bo = self.school.students[:2]
        page = self.page_of(ann)
        page.get_by_role("link", name="Open the lab book").click()
        expect(page).to_have_url(re.compile("/ask$"))
        trail = page.get_by_role("navigation", name="Stages of the lab book")
        expect(trail.get_by_role("link", name="Fit, ready: ready")).to_be_visible()
        expect(trail.get_by_role("link", name="Find, ready: ready")).to_be_visible()
        expect(trail.get_by_role("link", name="Look, ready: 2 graphs")).to_be_visible()
        other = self.open_book(bo, "read")
        expect(other.get_by_role("link", name="Fit, ready: ready")).to_be_visible()
        trail.get_by_role("link", name="Fit, ready").click()
        expect(trail.get_by_role("link", name="Fit, done: line fitted")).to_be_visible()
        # the other at the bench sees it too, and Find keeps its answer
        expect(other.get_by_role("link", name="Fit, done: line fitted")).to_be_visible()
        expect(other.get_by_role("link", name="Find, ready: ready")).to_be_visible()
        page.goto(self.live_server_url)
        page.get_by_role("link", name="Open the lab book").click()
        expect(page).to_have_url(re.compile("/fit$"))

    @in_the_long_run
    def test_weights_axes_and_the_walk_along_the_points(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "fit")
        page.get_by_text("How good is it?").click()
        unfold(page)
        expect(page.get_by_text("weighted by the error bars in x and y")).to_be_visible()
        page.get_by_text("all the same").click()
        expect(page.get_by_text("the uncertainties come from the scatter")).to_be_visible()
        page.get_by_label("through the origin").check()
        expect(page.get_by_text("The line is held at the origin.")).to_be_visible()
        first = page.locator(".graph [data-point]").first
        first.focus()
        page.keyboard.press("ArrowRight")
        expect(page.locator(".graph-readout")).to_contain_text("At L = 0.350 m: L³ = 0.04288 ± 0.00018 m³")
        page.keyboard.press("Alt+5")
        page.get_by_role("button", name="Show what Hobrel makes of them all").click()
        plots = page.get_by_role("region", name="Large").get_by_role("article")
        expect(plots.first).to_contain_text("still bends")
        expect(plots.last).to_contain_text("no pattern")

    def test_a_changed_reading_moves_everything_downstream(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        station = page.get_by_role("link", name=re.compile("^Find"))
        before = station.get_attribute("aria-label")
        for column in (1, 2, 3):
            cell(page, 7, column).fill("9.00")
            page.keyboard.press("Tab")
        saved(page)
        expect(station).not_to_have_attribute("aria-label", before or "")

    def test_the_working_leads_back_to_the_reading(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "average")
        page.locator('[data-working="cell:run1:s3:T2"]').click()
        sheet = page.get_by_role("dialog")
        expect(sheet).to_contain_text("period squared at L = ")
        expect(sheet).to_contain_text("What makes the uncertainty")
        text = self.texts("t10")[2][1]
        sheet.get_by_role("button", name=text, exact=True).click()
        expect(page.locator("input:focus")).to_have_value(text or "")


class Teacher(BrowserTest):
    @in_the_long_run
    def test_looks_leaves_a_remark_and_changes_no_reading(self) -> None:
        fill(self.school.book)
        page = self.page_of(self.school.teacher)
        expect(page.get_by_text("Class code")).to_contain_text("CODE11")
        page.get_by_role("link", name="Godwit").click()
        expect(cell(page, 0, 1)).not_to_be_editable()
        expect(page.get_by_role("button", name="remove setting")).to_have_count(0)
        cell(page, 2, 1).focus()
        words = page.get_by_label("A remark for the bench")
        words.fill("Look at this again.")
        page.get_by_role("link", name="Look,").click()
        expect(words).to_have_value("")
        page.reload()
        page.get_by_role("link", name="Read,").click()
        expect(words).to_have_value("Look at this again.")
        # pressed twice, it is left once
        page.get_by_role("button", name="Leave remark").dblclick()
        expect(words).to_have_value("")
        expect(page.locator(".remark")).to_contain_text("t₁₀ at L = 0.400 m, repeat 1")
        student = self.open_book(self.school.students[0])
        remark = student.locator(".remark")
        expect(remark).to_contain_text("Look at this again.")
        expect(remark.get_by_role("button", name="settle")).to_have_count(0)
        remark.get_by_role("button", name="t₁₀ at L = 0.400 m, repeat 1").click()
        expect(cell(student, 2, 1)).to_be_focused()
        before = cell(student, 2, 1).input_value()
        student.keyboard.type("5.77")
        student.keyboard.press("Enter")
        expect(remark).to_contain_text(f"has changed: it was {before}")
        # on graphs its point has a pin, and says what it is
        for stage in ("look", "fit"):
            graph = self.open_book(self.school.students[1], stage)
            expect(graph.locator(".graph-pin")).to_have_count(1)
            expect(graph.get_by_role("img", name="with a remark: Look at this again.")).to_have_count(1)
            if stage == "fit":
                self.check_access(graph)
        remark.get_by_role("button", name="answer").click()
        remark.get_by_label("The answer").fill("We had written it wrongly.")
        student.reload()
        expect(remark.get_by_label("The answer")).to_have_value("We had written it wrongly.")
        remark.get_by_role("button", name="Send the answer").click()
        remark.get_by_role("button", name="done").click()
        expect(page.locator(".remark.answered")).to_contain_text("We had written it wrongly.")
        expect(page.locator(".remark")).to_contain_text("the bench says done")
        page.locator(".remark").get_by_role("button", name="settle").click()
        expect(student.locator(".remark.settled")).to_have_count(1)
        expect(page.locator(".remark.settled")).to_have_count(1)
        expect(graph.locator(".graph-pin")).to_have_count(0)

    @in_the_long_run
    def test_opens_the_pool_and_the_bench_that_is_off_is_pointed_out(self) -> None:
        fill(self.school.book)
        fill(self.school.other_book, formula="t_10", seed=4)
        third = Bench.objects.create(school_class=self.school.school_class, name="Whimbrel")
        fill(open_book(self.school.practical, third), seed=5)
        student = self.open_book(self.school.students[0], "pool")
        expect(student.get_by_text("The pool is not open yet.")).to_be_visible()
        page = self.page_of(self.school.teacher, f"/practicals/{self.school.practical.pk}/pool")
        page.get_by_role("button", name="Open the pool to students").click()
        odd = page.locator(".pool-odd")
        expect(odd).to_contain_text("Redshank")
        expect(odd).to_contain_text("100 times too small")
        # its bench is told, and nobody else
        theirs = self.open_book(self.school.other_bench, "pool", self.school.other_book)
        expect(theirs.locator(".pool-odd")).to_contain_text("100 times too small")
        expect(student.locator(".pool-quoted")).to_contain_text("without 1 that is far off")
        expect(student.locator(".pool-odd")).to_have_count(0)
        line = student.get_by_role("img", name=re.compile("Godwit: .*GPa"))
        expect(line).to_be_visible()
        # an arrow at the edge, and the others as far from each other as they can be
        expect(line.get_by_text(re.compile(r"^0\.\d+ ± 0\.\d+ GPa$"))).to_have_count(1)
        godwit, whimbrel = (
            line.locator(f"g:has(title:text-is('{name}'))").locator("circle, polygon").bounding_box() for name in ("Godwit", "Whimbrel")
        )
        assert godwit and whimbrel
        self.assertGreater(abs(godwit["x"] - whimbrel["x"]), 40)


class ForEverybody(BrowserTest):
    @in_the_long_run
    def test_no_view_scrolls_sideways_on_a_small_screen(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        shown = {"average": ".strips", "look": ".graph svg", "straighten": ".straighten-plot .graph svg", "fit": ".line-card",
                 "find": ".number-line svg", "report": ".paper"}  # fmt: skip
        for key, stage in enumerate(("ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report"), 1):
            page.keyboard.press(f"Alt+{key}")
            expect(page).to_have_url(re.compile(f"/{stage}$"))
            expect(page.locator(shown.get(stage, "main h1")).first).to_be_visible()
            for width in (1024, 768, 390, 360):
                page.set_viewport_size({"width": width, "height": 800})
                with self.subTest(f"{stage} at {width}"):
                    page.wait_for_function("width => document.documentElement.scrollWidth <= width", arg=width)

    @in_the_long_run
    def test_a_graph_pegged_beside_the_readings_moves_as_one_types(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "look")
        expect(page.locator(".graph [data-point]")).to_have_count(8)
        page.keyboard.press("Alt+2")
        expect(page.locator("table.ruled")).to_be_visible()
        page.keyboard.press("Alt+p")
        pegged = page.get_by_role("region", name="Look, pegged beside it")
        points = pegged.locator(".graph [data-point]")
        expect(points).to_have_count(8)
        # writing goes on where it stopped, and every reading is seen as a point
        place = page.locator('input[data-at="8:0"]')
        place.click()
        for text in ("0.70", "12.9", "12.8", "12.9"):
            page.keyboard.type(text)
            page.keyboard.press("Tab")
        expect(points).to_have_count(9)
        self.check_access(page)
        # a repeat that is pointed at lights its point, a point its repeats, and nothing else
        page.locator('input[data-at="2:1"]').focus()
        lit = pegged.locator("[data-point][data-lit]")
        expect(lit).to_have_count(1)
        expect(lit).to_have_attribute("aria-label", re.compile("L = 0.4000"))
        page.locator(".graph-readout").first.click()
        points.nth(5).hover()
        expect(page.locator("table.ruled input[data-lit]")).to_have_count(4)
        expect(page.locator("table.ruled input[data-lit]").first).to_have_value("0.550")
        page.reload()
        expect(points).to_have_count(9)
        expect(page.locator('input[data-at="9:0"]')).to_be_focused()
        # the pegged station itself is not seen twice, and comes back beside another
        page.keyboard.press("Alt+4")
        expect(pegged).to_have_count(0)
        page.keyboard.press("Alt+6")
        expect(points).to_have_count(9)
        page.get_by_role("button", name="Peg Look beside this").click()
        expect(pegged).to_have_count(0)
        page.reload()
        expect(page.locator(".line-card")).to_be_visible()
        expect(pegged).to_have_count(0)

    @in_the_long_run
    def test_a_link_leads_past_the_trail(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "average")
        link = page.get_by_role("link", name="Past the trail, to the page")
        link.focus()
        self.assertGreaterEqual((link.bounding_box() or {"x": -1})["x"], 0)
        page.keyboard.press("Enter")
        expect(page.locator("main")).to_be_focused()
        page.keyboard.press("Tab")
        self.assertTrue(page.evaluate("document.querySelector('main').contains(document.activeElement)"))

    @in_the_long_run
    def test_on_a_phone_the_trail_is_one_line_and_the_margin_a_tab(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "average", size={"width": 390, "height": 800})
        trail = page.get_by_role("navigation", name="Stages of the lab book")
        self.assertLessEqual((trail.bounding_box() or {"height": 999})["height"], 45)
        expect(trail.get_by_role("link")).to_have_count(3)
        trail.get_by_role("link", name="Look").click()
        expect(page).to_have_url(re.compile("/look$"))
        trail.get_by_role("link", name="Average").click()
        expect(page).to_have_url(re.compile("/average$"))
        page.get_by_role("button", name="Unfold the margin").click()
        expect(page.get_by_role("complementary", name="Margin")).to_be_visible()
        self.check_access(page)
        page.get_by_role("button", name="Fold the margin away").click()
