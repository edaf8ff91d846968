"""On the graph itself: notes, a closer look, hidden series, the sketched expectation, several fits; and that the picture says the same."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import FloatRect, Locator, Page, Route, expect

from tests.browser.base import BrowserTest, cell, in_the_long_run, paste, saved, unfold
from tests.school import client_of, fill

OTHER = "\n".join(f"{0.3 + 0.05 * i:.3f}\t{t:.2f}\t{t + 0.04:.2f}\t{t - 0.03:.2f}" for i, t in enumerate((3.31, 4.14, 5.05, 6.04, 7.08)))


class Marks(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book)

    def begin(self, stage: str) -> Page:
        return self.open_book(self.school.students[0], stage)

    def test_a_note_is_pinned_moved_reworded_and_taken_away(self) -> None:
        page = self.begin("look")
        page.locator("[data-point]").first.focus()
        page.keyboard.press("Enter")
        bar = page.get_by_label("The chosen point")
        bar.get_by_role("button", name="Pin a note").click()
        page.keyboard.type("the clamp creaked here")
        page.keyboard.press("Enter")
        note = page.locator(".graph-note")
        expect(note).to_contain_text("the clamp creaked here")
        before, words = note.locator("text").bounding_box(), note.locator("text")
        places = [words.get_attribute(axis) or "" for axis in ("x", "y")]
        note.focus()
        page.keyboard.press("ArrowRight")
        page.locator(".graph-note").focus()
        page.keyboard.press("ArrowUp")
        saved(page)
        # it is drawn anew with what follows from the change
        for axis, place in zip(("x", "y"), places, strict=True):
            expect(words).not_to_have_attribute(axis, place)
        after = words.bounding_box()
        assert before is not None and after is not None
        self.assertGreater(after["x"], before["x"])
        self.assertLess(after["y"], before["y"])
        box = note.locator("text").bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 20, box["y"] + 8)
        page.mouse.down()
        page.mouse.move(box["x"] + 90, box["y"] + 48)
        page.mouse.up()
        saved(page)
        dragged = note.locator("text").bounding_box()
        assert dragged is not None
        self.assertAlmostEqual(dragged["x"] - box["x"], 70, delta=4)
        self.assertAlmostEqual(dragged["y"] - box["y"], 40, delta=4)
        words = page.get_by_label("Notes on this graph").get_by_label("Note")
        words.fill("the clamp creaked twice")
        page.keyboard.press("Enter")
        expect(note).to_contain_text("creaked twice")
        svg = client_of(self.school.students[0]).get(f"/api/books/{self.school.book.pk}/graphs/measured.svg").content.decode()
        self.assertIn("creaked twice", re.sub(r"<[^>]+>", " ", svg))
        page.get_by_role("button", name="Take away").click()
        expect(note).to_have_count(0)
        page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(note).to_have_count(1)

    @in_the_long_run
    def test_a_closer_look_by_wheel_by_dragging_and_by_keys(self) -> None:
        page = self.begin("look")
        # before anything waits for a moment of rest: what waits by the real clock, this one cannot stop
        page.clock.install()
        points, low = page.locator(".graph [data-point]"), page.get_by_label("x from")

        def axis() -> FloatRect:
            # a fresh page: no answer to what was done before is still to come
            page.reload()
            expect(points).to_have_count(8)
            unfold(page)
            box = page.locator(".graph-axis-grip.along").bounding_box()
            assert box is not None
            page.mouse.move(box["x"] + box["width"] * 0.2, box["y"] + 10)
            return box

        axis()
        for _ in range(4):
            page.mouse.wheel(0, -100)
        expect(points).not_to_have_count(8)
        # kept once it has stood for a moment, and all four turns of the wheel have come
        expect(low).to_have_value("0.3219")
        points.first.focus()
        page.keyboard.press("f")
        expect(low).to_have_value("")
        saved(page)
        box = axis()
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.7, box["y"] + 10, steps=4)
        page.mouse.up()
        # dragged by half of what is shown: left of where the points begin
        page.clock.run_for(1000)
        expect(low).to_have_value(re.compile(r"^0\.08"))
        # nothing on the page is selected by it, which would scroll it on
        self.assertEqual(page.evaluate("getSelection().toString()"), "")
        points.first.focus()
        page.keyboard.press("f")
        expect(low).to_have_value("")
        saved(page)
        box = axis()
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 10, steps=4)
        page.mouse.up()
        points.first.focus()
        page.keyboard.press("f")
        # what was dragged to is not kept after what was asked for since
        page.clock.run_for(1000)
        saved(page)
        expect(low).to_have_value("")
        expect(points).to_have_count(8)
        points.first.focus()
        page.keyboard.press("0")
        expect(page.get_by_label("show the origin")).to_be_checked()
        points.first.focus()
        page.keyboard.press("+")
        expect(page.get_by_label("y to")).not_to_have_value("")

    @in_the_long_run
    def test_an_answer_to_an_earlier_look_does_not_take_the_hand_back(self) -> None:
        page = self.begin("look")
        page.clock.install()
        page.reload()
        points, low = page.locator(".graph [data-point]"), page.get_by_label("x from")
        expect(points).to_have_count(8)
        unfold(page)
        held: list[Route] = []
        # what follows from an edit comes when the test lets it
        takes: Callable[[Route], None] = held.append
        page.route("**/view*", lambda route: takes(route))
        middle = page.locator('.graph [data-point$=":s5"]')

        def look_closer(presses: int) -> None:
            middle.focus()
            for _ in range(presses):
                page.keyboard.press("+")

        # the first look is asked for, and what follows from it is on its way; on a slow machine time has passed before it is made to
        with page.expect_request("**/view*"):
            look_closer(2)
            page.clock.run_for(400)
        look_closer(3)
        expect(points).to_have_count(3)
        place = middle.bounding_box()
        with page.expect_request("**/view*"):
            held.pop().continue_()
            # what it says is here: the rest is still to be asked for
            saved(page)
            self.assertEqual(middle.bounding_box(), place)
            page.clock.run_for(400)
        look_closer(1)
        self.assertNotEqual(middle.bounding_box(), place)
        page.keyboard.press("f")
        # all are asked for; the points come back with the answer to the last of it
        expect(low).to_have_value("")
        takes = Route.continue_
        held.pop().continue_()
        expect(points).to_have_count(8)
        saved(page)

    @in_the_long_run
    def test_the_focus_stays_in_a_graph_whose_point_is_zoomed_away(self) -> None:
        page = self.begin("look")
        points = page.locator(".graph [data-point]")
        focused = page.locator(".graph :focus")
        for presses, left in ((3, "data-point"), (20, "viewBox")):
            points.first.focus()
            expect(focused).to_have_attribute("data-point", re.compile("s1$"))
            for _ in range(presses):
                page.keyboard.press("+")
            # the nearest that is left, or the graph itself where none is
            expect(focused).to_have_attribute(left, re.compile("."))
            expect(points).not_to_have_count(8)
            page.keyboard.press("f")
            expect(points).to_have_count(8)
            expect(focused).to_have_count(1)
            saved(page)

    @in_the_long_run
    def test_a_stretch_by_keys_and_its_mean_in_a_finding(self) -> None:
        page = self.begin("look")
        page.locator("[data-point]").first.focus()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
        bar = page.get_by_label("The marked stretch")
        expect(bar).to_contain_text("4 points")
        bar.get_by_role("button", name="Use this mean in Find").click()
        expect(bar).to_contain_text("waits in Find")
        page.keyboard.press("Alt+7")
        form = page.get_by_role("form", name="A finding of your own")
        form.get_by_label("called").fill("period of the short ones")
        page.keyboard.press("Alt+6")
        page.get_by_role("button", name="Use the intercept in Find").click()
        # nothing of it is lost with the page
        page.reload()
        expect(page.locator(".line-card")).to_contain_text("waits in Find")
        page.keyboard.press("Alt+7")
        expect(form.get_by_label("called")).to_have_value("period of the short ones")
        expect(form.get_by_label("Its symbol in the formula")).to_have_count(2)
        form.get_by_role("button", name="Leave c_1 out").click()
        form.get_by_label("symbol", exact=True).fill("T_s")
        expect(form.locator(".find-preview")).to_contain_text(" s")
        page.keyboard.press("Enter")
        sheet = page.get_by_role("region", name="period of the short ones")
        expect(sheet).to_contain_text("mean of T, from 0.3 to 0.45 m (4 values)")
        expect(page.get_by_role("region", name="stiffness modulus")).to_be_visible()
        sheet.get_by_role("button", name="Remove").click()
        expect(sheet).to_have_count(0)

    @in_the_long_run
    def test_two_runs_on_one_graph_hidden_and_shown_each_with_its_line(self) -> None:
        page = self.begin("read")
        page.get_by_role("button", name="+ fresh readings").click()
        page.keyboard.type("Wet strip")
        page.keyboard.press("Enter")
        expect(page.get_by_role("tab", name="Wet strip")).to_have_attribute("aria-selected", "true")
        paste(page, cell(page, 0, 0), OTHER)
        saved(page)
        page.keyboard.press("Alt+6")
        expect(page.get_by_label("Line card")).to_contain_text("of 5 points")
        unfold(page)
        page.get_by_label("Fit something more").click()
        page.get_by_title("T² against L³, Beech strip").click()
        compared = page.get_by_label("Gradients compared")
        expect(compared).to_contain_text("combined uncertainties apart")
        expect(page.get_by_role("tab", name="T² against L³: Beech strip")).to_have_attribute("aria-selected", "true")
        expect(page.get_by_label("Line card")).to_contain_text("of 8 points")
        legend = page.locator(".graph-legend > span > [aria-pressed]")
        expect(page.locator("[data-point]")).to_have_count(13)
        legend.filter(has_text="Wet strip").click()
        expect(page.locator("[data-point]")).to_have_count(8)
        expect(compared).to_contain_text("Wet strip")
        legend.filter(has_text="Wet strip").click()
        expect(page.locator("[data-point]")).to_have_count(13)
        page.keyboard.press("Alt+7")
        page.get_by_text("The same from every run").click()
        expect(page.get_by_role("region", name="stiffness modulus")).to_contain_text("Beech strip: 1")
        page.get_by_text("What would help most?").click()
        expect(page.locator(".find-help").first).to_contain_text("Thickness of the strip (d) known twice as well", ignore_case=True)
        page.keyboard.press("Alt+6")
        page.get_by_role("tab", name="T² against L³: Beech strip").click()
        page.get_by_role("button", name="Remove this fit").click()
        expect(compared).to_have_count(0)

    @in_the_long_run
    def test_what_is_expected_is_sketched_and_comes_back(self) -> None:
        page = self.begin("ask")
        paper = page.locator(".sketch-paper").bounding_box()
        assert paper is not None
        for x, y in ((0.1, 0.9), (0.5, 0.6), (0.9, 0.1)):
            page.mouse.click(paper["x"] + x * paper["width"], paper["y"] + y * paper["height"])
        page.get_by_role("button", name="Add a place").click()
        places = page.locator(".sketch circle")
        expect(places).to_have_count(4)
        places.last.focus()
        page.keyboard.press("Delete")
        expect(places).to_have_count(3)
        saved(page)
        page.keyboard.press("Alt+4")
        expect(page.locator(".graph-sketch")).to_be_visible()
        page.get_by_role("button", name="T² against L³").click()
        expect(page.locator(".graph-sketch")).to_have_count(0)

    def test_the_picture_has_the_numbers_of_the_screen(self) -> None:
        page = self.begin("fit")
        on_screen = texts_of(page.locator(".fit-graph svg").first)
        with page.expect_download() as waiting:
            page.get_by_role("group", name="Take the picture out").get_by_role("link", name="SVG").click()
        svg = waiting.value.path().read_text(encoding="utf-8")
        drawn = [re.sub(r"<[^>]+>", "", t) for t in re.findall(r"<text[^>]*>(.*?)</text>", svg)]
        self.assertEqual(sorted(drawn), sorted(on_screen))
        page.get_by_role("button", name="to the clipboard").click()
        expect(page.locator(".picture-links [role=status]")).to_contain_text("on the clipboard")


def texts_of(svg: Locator) -> list[str]:
    found: list[str] = svg.evaluate("s => [...s.querySelectorAll('text')].map(t => t.textContent)")
    return found
