"""A lab book that begins with typing, in the browser: headings, a pasted table, what is refused, no network, two people, a plan of it."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from hobrel.classes.models import Receipt, SchoolClass
from hobrel.labbooks.models import Book
from hobrel.labbooks.own import begin_book
from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved, unfold
from tests.school import make_school

TABLE = "t (s)\tx / m\n" + "\n".join(
    f"{t:.2f}\t{x:.2f}"
    for t, x in zip((0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8), (0.21, 0.39, 0.62, 0.80, 1.01, 1.18, 1.42, 1.60), strict=True)
)


class OwnBooks(BrowserTest):
    def begin(self, page: Page) -> Book:
        page.get_by_role("button", name="New lab book").click()
        expect(page.get_by_label("First heading: what you set")).to_be_focused()
        return Book.objects.exclude(owner=None).latest("pk")

    def test_from_first_sight_to_a_reading_in_sixteen_presses(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)  # 1
        self.check_access(page)
        page.keyboard.type("t / s")  # 5
        page.keyboard.press("Enter")  # 1
        expect(page.get_by_label("Second heading: what you measure")).to_be_focused()
        page.keyboard.type("x / m")  # 5
        page.keyboard.press("Enter")  # 1
        first = page.get_by_label("time, setting 1, in s")
        expect(first).to_be_focused()
        page.keyboard.type("0.1")  # 3
        page.keyboard.press("Enter")
        saved(page)
        book.refresh_from_db()
        key = book.document["quantities"][0]["id"]
        self.assertEqual(self.texts(key, book)[0], ["0.1"])
        self.check_access(page)

    def test_headings_may_be_left_by_tab_or_by_a_press(self) -> None:
        """What is left is written and goes from its place, while the focus is on its way to the next."""
        page = self.page_of(self.school.students[0])
        for leave in ("tab", "press"):
            book = self.begin(page)
            second = page.get_by_label("Second heading: what you measure")
            page.keyboard.type("length l / m")
            page.keyboard.press("Tab") if leave == "tab" else second.click()
            expect(page.get_by_role("columnheader", name="length")).to_be_visible()
            expect(second).to_be_focused()
            page.keyboard.type("time t / s")
            page.keyboard.press("Tab") if leave == "tab" else page.get_by_label("length, setting 1, in m").click()
            expect(page.get_by_role("columnheader", name="time")).to_be_visible()
            expect(page.get_by_label("length, setting 1, in m")).to_be_focused()
            page.keyboard.type("0.25")
            page.keyboard.press("Enter")
            saved(page)
            book.refresh_from_db()
            self.assertEqual([q["name"] for q in book.document["quantities"]], ["length", "time"])
            page.goto(self.live_server_url)

    def test_readings_typed_before_the_server_has_answered_go_into_the_first_cells(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)
        page.keyboard.type("t / s")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Second heading: what you measure")).to_be_focused()
        saved(page)
        held: list[Route] = []
        page.route("**/edits", lambda route: held.append(route))
        page.keyboard.type("x / m")
        with page.expect_request("**/edits"):
            page.keyboard.press("Tab")
        for key in ("0", ".", "1", "6", "Backspace", "5", "Enter", "0", ".", "2"):
            page.keyboard.press(key)
        held[0].continue_()
        page.unroute("**/edits")
        second = page.get_by_label("time, setting 2, in s")
        expect(second).to_have_value("0.2")
        expect(second).to_be_focused()
        page.keyboard.type("5")
        page.keyboard.press("Enter")
        saved(page)
        book.refresh_from_db()
        self.assertEqual(self.texts(book.document["quantities"][0]["id"], book), [["0.15"], ["0.25"], [], [], []])

    def test_a_pasted_table_is_a_line_with_its_uncertainty_in_three_presses(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)  # 1
        paste(page, page.get_by_label("First heading: what you set"), TABLE)  # 2
        expect(page.get_by_label("x, setting 8, in m")).to_have_value("1.60")
        page.get_by_role("link", name="Fit").click()  # 3
        # by hand: the gradient of these eight points is 2.00 m/s, its standard deviation from the scatter 0.02 m/s
        expect(page.get_by_role("button", name="2.00 plus or minus 0.02", exact=False)).to_be_visible()
        expect(page.get_by_role("link", name="Pool", exact=False)).to_have_count(0)
        self.check_access(page)

    @in_the_long_run
    def test_means_in_a_pasted_table_are_left_out_and_its_conventions_chosen(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        table = "length L (m)\tt 1 (s)\tt 2 (s)\tmean t (s)\n0.30\t3.5\t3.7\t3.6\n0.40\t4.4\t4.8\t4.6\n"
        paste(page, page.get_by_label("First heading: what you set"), table)
        sheet = page.get_by_role("dialog", name="Bring readings in")
        expect(sheet).to_contain_text("the means of t 1, t 2, which are worked out here")
        sheet.get_by_role("button", name="Bring in 3 columns").click()
        expect(cell(page, 1, 2)).to_have_value("4.8")
        expect(page.locator("thead")).not_to_contain_text("mean t")
        page.get_by_role("link", name="Average,").click()
        expect(page.get_by_role("button", name="4.60 ± 0.20")).to_be_visible()
        page.get_by_role("button", name="Compare conventions").click()
        page.get_by_role("radio", name="a comma: 12,4").check()
        expect(page.get_by_role("button", name="4,60 ± 0,20")).to_be_visible()
        page.get_by_role("button", name="Use the standard error of the mean").click()
        expect(page.locator("main")).to_contain_text("± is the standard error")
        self.check_access(page)

    @in_the_long_run
    def test_each_station_of_an_empty_one_has_a_title_and_nothing_in_the_way(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        titles = {
            1: "What is it about?", 3: "Averages", 4: "There is no graph yet", 5: "Is it a line?", 6: "Nothing is fitted yet",
            7: "There is no finding yet", 9: "Untitled lab book",
        }  # fmt: skip
        for number, title in titles.items():
            page.keyboard.press(f"Alt+{number}")
            expect(page.locator("main h1").first).to_have_text(title)
            self.check_access(page, where=f"station {number}")
        page.keyboard.press("Alt+7")
        page.get_by_role("button", name="A finding of your own").click()
        expect(page.get_by_role("heading", name="A finding of your own", level=1)).to_be_visible()
        self.check_access(page)

    @in_the_long_run
    def test_the_scatter_where_nothing_changed_is_the_uncertainty_of_each_reading(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        volts = ("3.62", "3.58", "3.61", "3.57", "3.66", "9.10", "14.8")
        pasted = "t (s)\tU (V)\n" + "\n".join(f"{i}\t{u}" for i, u in enumerate(volts))
        paste(page, page.get_by_label("First heading: what you set"), pasted)
        page.get_by_role("link", name="Look").click()
        page.locator("[data-point]").first.focus()
        for _ in range(4):
            page.keyboard.press("Shift+ArrowRight")
        bar = page.get_by_label("The marked stretch")
        # statistics.stdev of the first five
        expect(bar).to_contain_text("a reading of U is as uncertain as these scatter: ± 0.036 V")
        bar.get_by_role("button", name="Take this as its ±").click()
        expect(bar).to_contain_text("that is its ± now")
        page.get_by_role("link", name="Read").click()
        expect(page.locator(".ruled-instrument").filter(has_text="readings ± 0.036 V")).to_be_visible()
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(page.locator(".ruled-instrument").filter(has_text="± 0.036")).to_have_count(0)

    @in_the_long_run
    def test_a_curve_that_turns_says_where_and_the_finding_says_it_too(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        heights = ("0.11", "4.92", "8.10", "9.02", "7.93", "5.10", "-0.08")
        paste(
            page, page.get_by_label("First heading: what you set"), "t (s)\th (m)\n" + "\n".join(f"{i}\t{h}" for i, h in enumerate(heights))
        )
        page.get_by_role("link", name="Fit").click()
        unfold(page)
        page.get_by_role("combobox", name="What is fitted").click()
        page.locator(".ant-select-item-option").filter(has_text="Quadratic").click()
        card = page.get_by_label("Card of the curve")
        # by paper: 9 − (t − 3)² is highest at 3, with 9
        expect(card.locator(".line-summit")).to_contain_text(re.compile(r"Highest at 2\.99\d ± 0\.01\d s.*: 9\.0\d ± 0\.0\d m"))
        card.get_by_role("button", name="Use this place in Find").click()
        page.keyboard.press("Alt+7")
        form = page.get_by_role("form", name="A finding of your own")
        form.get_by_label("called").fill("time at the top")
        form.get_by_label("symbol", exact=True).fill("t_m")
        form.get_by_label("From where", exact=False).or_(form.get_by_label("from t =")).first.wait_for()
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="time at the top")).to_contain_text("place of the highest point of the curve")

    @in_the_long_run
    def test_what_each_run_gives_is_plotted_against_what_was_set_for_it(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)
        paste(page, page.get_by_label("First heading: what you set"), TABLE)
        saved(page)
        for name, factor in (("two blocks", 2), ("three blocks", 3)):
            page.get_by_role("button", name="+ fresh readings").click()
            page.get_by_label("Fresh readings, taken under").fill(name)
            page.get_by_label("Fresh readings, taken under").press("Enter")
            expect(page.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")
            rows = [line.split("\t") for line in TABLE.splitlines()[1:]]
            paste(page, page.get_by_label("time, setting 1, in s"), "\n".join(f"{t}\t{factor * float(x):.2f}" for t, x in rows))
            saved(page)
        page.get_by_role("button", name="+ table of the runs").click()
        page.get_by_label("against").fill("blocks n")
        page.get_by_label("against").press("Enter")
        expect(page.get_by_role("tab", name="Table of runs")).to_have_attribute("aria-selected", "true")
        expect(page.get_by_label("run, setting 3, in words")).to_have_value("three blocks")
        for i in (1, 2, 3):
            page.get_by_label(f"blocks, setting {i}", exact=True).fill(str(i))
        page.keyboard.press("Enter")
        saved(page)
        # by hand: the gradients are those of the first run, 2.00 m/s, twice and three times
        table = page.locator("table.ruled")
        for gradient in ("2.00", "3.99", "5.99"):
            expect(table.locator(".ruled-derived").filter(has_text=gradient).first).to_be_visible()
        self.check_access(page)
        page.keyboard.press("Alt+4")
        page.get_by_role("button", name="k against n: Table of runs", exact=True).click()
        expect(page.locator(".graph-words").filter(has_text="three blocks")).to_be_visible()
        page.keyboard.press("Alt+6")
        page.get_by_role("tab", name="k against n", exact=False).click()
        expect(page.get_by_role("button", name="2.00 plus or minus", exact=False).first).to_be_visible()
        page.keyboard.press("Alt+2")
        expect(page.get_by_role("button", name="+ fresh readings")).to_have_count(0)
        page.get_by_role("tab", name="three blocks").click()
        page.get_by_role("button", name="+ fresh readings").click()
        page.get_by_label("Fresh readings, taken under").fill("four blocks")
        page.get_by_label("Fresh readings, taken under").press("Enter")
        expect(page.get_by_role("tab", name="four blocks")).to_have_attribute("aria-selected", "true")
        page.get_by_role("tab", name="Table of runs").click()
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_label("run, setting 4, in words")).to_have_value("four blocks")
        book.refresh_from_db()
        self.assertEqual(len(book.document["runs"]), 4 + 1)

    @in_the_long_run
    def test_a_heading_that_cannot_be_read_stays_where_it_was_typed(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        page.keyboard.type("t / s")
        page.keyboard.press("Enter")
        page.keyboard.type("x / wobbles")
        page.keyboard.press("Enter")
        refused = page.get_by_label("Heading that was not kept")
        expect(refused).to_have_value("x / wobbles")
        expect(refused).to_be_focused()
        expect(page.get_by_text("“wobbles” is not a unit that is known here.")).to_be_visible()
        page.reload()
        expect(refused).to_have_value("x / wobbles")
        refused.fill("x / cm")
        page.keyboard.press("Enter")
        expect(page.get_by_label("x, setting 1, in cm")).to_be_visible()
        expect(page.get_by_role("status").filter(has_text="saved")).to_be_visible()

    @in_the_long_run
    def test_readings_typed_behind_a_heading_that_is_refused_are_not_lost(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)
        page.keyboard.type("t / s")
        page.keyboard.press("Enter")
        saved(page)
        held: list[Route] = []
        page.route("**/edits", lambda route: held.append(route))
        page.keyboard.type("x / wobbles")
        with page.expect_request("**/edits"):
            page.keyboard.press("Tab")
        for key in ("0", ".", "1", "5"):
            page.keyboard.press(key)
        held[0].continue_()
        page.unroute("**/edits")
        refused = page.get_by_label("Heading that was not kept")
        expect(refused).to_have_value("x / wobbles")
        refused.fill("x / cm")
        page.keyboard.press("Enter")
        expect(page.get_by_label("time, setting 1, in s")).to_have_value("0.15")
        page.keyboard.press("Enter")
        saved(page)
        book.refresh_from_db()
        self.assertEqual(self.texts(book.document["quantities"][0]["id"], book)[0], ["0.15"])

    @in_the_long_run
    def test_a_heading_typed_without_the_network_is_there_when_it_is_back(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)
        page.context.set_offline(True)
        page.keyboard.type("t / s")
        page.keyboard.press("Enter")
        expect(page.locator(".ruled thead")).to_contain_text("t / s")
        page.context.set_offline(False)
        expect(page.get_by_label("time, setting 1, in s")).to_be_visible()
        book.refresh_from_db()
        self.assertEqual(len(book.document["quantities"]), 1)

    @in_the_long_run
    def test_a_heading_is_typed_anew_and_columns_change_places(self) -> None:
        page = self.page_of(self.school.students[0])
        book = self.begin(page)
        paste(page, page.get_by_label("First heading: what you set"), TABLE)
        page.get_by_title("Type this heading anew").nth(1).click()
        page.get_by_label("Heading of x").fill("distance d (m)")
        page.keyboard.press("Enter")
        expect(page.get_by_label("distance, setting 1, in m")).to_have_value("0.21")
        page.get_by_role("button", name="Quantities").click()
        page.get_by_role("button", name="Swap with the first").click()
        saved(page)
        book.refresh_from_db()
        self.assertEqual([(q["kind"], q["symbol"]) for q in book.document["quantities"]], [("changed", "d"), ("measured", "t")])

    @in_the_long_run
    def test_two_write_in_one_that_is_shared(self) -> None:
        ann, bo = self.school.students
        book = begin_book(ann)
        first = self.page_of(ann, f"/books/{book.pk}/ask")
        first.get_by_role("combobox", name="Share it with").click()
        first.get_by_title("Bo", exact=True).click()
        expect(first.get_by_role("button", name="Share it with Bo no more")).to_be_visible()
        second = self.page_of(bo)
        second.get_by_role("link", name="Untitled lab book").click()
        second.get_by_label("First heading: what you set").fill("t / s")
        second.keyboard.press("Enter")
        first.get_by_label("Title").fill("Rolling marbles")
        first.keyboard.press("Enter")
        expect(second.get_by_text("Rolling marbles")).to_be_visible()
        first.get_by_role("link", name="Read").click()
        expect(first.get_by_label("time, setting 1, in s")).to_be_visible()
        self.check_access(first)

    @in_the_long_run
    def test_a_graph_and_a_line_are_taken_away_and_made_again(self) -> None:
        page = self.page_of(self.school.students[0])
        self.begin(page)
        paste(page, page.get_by_label("First heading: what you set"), TABLE)
        expect(page.get_by_label("x, setting 8, in m")).to_have_value("1.60")
        page.get_by_role("link", name="Fit").click()
        unfold(page)
        page.get_by_role("button", name="Remove this fit").click()
        expect(page.get_by_role("heading", name="Nothing is fitted yet")).to_be_visible()
        page.get_by_role("link", name="Look").click()
        unfold(page)
        page.get_by_role("button", name="Remove this graph").click()
        page.get_by_role("button", name="Draw x against t").click()
        expect(page.get_by_role("heading", name="Look at the points")).to_be_visible()
        page.get_by_role("link", name="Fit").click()
        page.get_by_role("combobox", name="Fit something more").click()
        page.get_by_role("option", name="x against t").click()
        expect(page.get_by_role("button", name="2.00 plus or minus 0.02", exact=False)).to_be_visible()

    @in_the_long_run
    def test_it_becomes_a_plan_that_a_class_gets(self) -> None:
        # who teaches two classes chooses
        make_school("two", "CODE22").school_class.teachers.add(self.school.teacher)
        page = self.page_of(self.school.teacher)
        self.begin(page)
        paste(page, page.get_by_label("First heading: what you set"), TABLE)
        expect(page.get_by_label("x, setting 8, in m")).to_have_value("1.60")
        page.get_by_role("link", name="Ask").click()
        page.get_by_role("button", name="Make a plan of it").click()
        expect(page.get_by_role("heading", name="The plan says at Ask")).to_be_visible()
        give = page.get_by_role("button", name="Give it out")
        give.click()
        page.get_by_role("combobox", name="Class").click()
        page.get_by_title(self.school.school_class.name).click()
        give.last.click()
        expect(page.get_by_text("Give this plan a title first", exact=False)).to_be_visible()
        page.get_by_role("button", name="Close").click()
        page.get_by_label("Title").fill("Rolling marbles")
        page.get_by_label("Title").press("Enter")
        saved(page)
        page.goto(f"{self.live_server_url}/classes/{self.school.school_class.pk}")
        expect(page.get_by_role("combobox", name="Plan to give out")).to_be_visible()
        self.check_access(page)
        page.get_by_role("combobox", name="Plan to give out").click()
        page.get_by_title("Rolling marbles").click()
        page.get_by_role("button", name="Give it out").click()
        expect(page.locator(".practical-lines li").first).to_contain_text("Rolling marbles")
        student = self.page_of(self.school.students[0])
        student.locator("article").filter(has_text="Rolling marbles").get_by_role("link", name="Open the lab book").click()
        student.get_by_role("link", name=re.compile("^Read,")).click()
        student.get_by_label("time, setting 1, in s").fill("0.1")
        student.keyboard.press("Enter")
        saved(student)
        page.get_by_role("button", name="Close it").first.click()
        expect(page.get_by_text("closed: it can be read")).to_be_visible()
        student.reload()
        expect(student.get_by_text("You are looking at this bench’s readings.", exact=False)).to_be_visible()

    @in_the_long_run
    def test_a_class_is_erased_by_typing_its_name(self) -> None:
        page = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        page.get_by_role("button", name="Erase this class…").click()
        typed = page.get_by_label("To erase it, type Class one")
        typed.fill("Class two")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Type the name as it is written", exact=False)).to_be_visible()
        self.assertTrue(SchoolClass.objects.exists())
        typed.fill("Class one")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="There are three things to begin with", exact=False)).to_be_visible()
        self.assertFalse(SchoolClass.objects.exists())
        self.assertEqual(Receipt.objects.count(), 1)

    @in_the_long_run
    def test_a_name_is_dragged_to_another_bench(self) -> None:
        page = self.page_of(self.school.teacher, f"/classes/{self.school.school_class.pk}")
        benches = page.locator(".bench-cards > li")
        benches.first.get_by_text("Bo", exact=True).drag_to(benches.nth(1))
        expect(benches.nth(1)).to_contain_text("Bo")
        expect(benches.first).not_to_contain_text("Bo")
