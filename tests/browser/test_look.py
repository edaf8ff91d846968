"""Look: several graphs, what they show, and for whom."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.base import BrowserTest, in_the_long_run, saved, unfold
from tests.school import fill


class Looking(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book)
        self.page = self.open_book(self.school.students[0], "look")
        self.graphs = self.page.locator(".look-card")

    @in_the_long_run
    def test_another_graph_beside_the_others_and_removed_again(self) -> None:
        unfold(self.page)
        self.page.get_by_role("button", name="Another graph").click()
        tiles = self.page.get_by_role("group", name="Graphs of this lab book").get_by_role("button")
        expect(tiles).to_have_count(3)
        self.page.get_by_label("Quantity on the y axis").click()
        self.page.get_by_title("T² / s²").click()
        expect(self.graphs.first).to_contain_text("T² against L")
        self.page.get_by_text("all beside each other").click()
        expect(self.graphs).to_have_count(3)
        # those that share their x axis keep in step along it
        self.graphs.nth(2).locator("[data-point]").first.focus()
        self.page.keyboard.press("+")
        expect(self.graphs.nth(0).locator("[data-point]")).not_to_have_count(8)
        expect(self.graphs.nth(1).locator("[data-point]")).to_have_count(8)
        self.graphs.nth(2).locator("[data-point]").first.focus()
        self.page.keyboard.press("f")
        expect(self.graphs.nth(0).locator("[data-point]")).to_have_count(8)
        self.page.get_by_role("button", name="Remove this graph").click()
        expect(self.graphs).to_have_count(2)
        self.page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(self.graphs).to_have_count(3)
        tiles.nth(1).click()
        expect(self.page.get_by_role("button", name="Remove this graph")).to_have_count(0)

    def test_another_quantity_by_pressing_the_label_of_an_axis(self) -> None:
        self.page.get_by_role("button", name="T / s along y: put another quantity there").click()
        menu = self.page.get_by_role("menu")
        expect(menu.get_by_role("menuitemradio", name="T / s", exact=True)).to_be_focused()
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")
        expect(self.graphs).to_contain_text("T² against L")
        self.page.get_by_role("button", name="L / m along x").click()
        self.page.keyboard.press("Escape")
        expect(menu).to_have_count(0)

    def test_a_title_is_typed_where_it_stands_and_taken_back(self) -> None:
        title = self.graphs.first.get_by_role("heading")
        title.get_by_role("button", name="T against L").click()
        self.page.get_by_label("Title of the graph").fill("Longer strips swing slower")
        self.page.keyboard.press("Enter")
        expect(title).to_have_text("Longer strips swing slower")
        saved(self.page)
        self.page.reload()
        title.get_by_role("button").click()
        self.page.get_by_label("Title of the graph").fill("never mind")
        self.page.keyboard.press("Escape")
        expect(title).to_have_text("Longer strips swing slower")
        title.get_by_role("button").click()
        self.page.get_by_label("Title of the graph").fill("")
        self.page.keyboard.press("Enter")
        expect(title).to_have_text("T against L")

    @in_the_long_run
    def test_what_stands_on_the_other_axis_changes_places(self) -> None:
        self.page.get_by_role("button", name="T / s along y: put another quantity there").click()
        self.page.get_by_role("menuitemradio", name="L / m", exact=True).click()
        expect(self.graphs.first).to_contain_text("L against T")
        expect(self.page.locator(".graph [data-point]")).to_have_count(8)

    @in_the_long_run
    def test_choices_unfold_by_keyboard_and_stay_for_the_next_graph(self) -> None:
        line = self.page.locator(".choice-words")
        expect(line).to_have_text(re.compile("^T against L"))
        expect(self.page.get_by_label("show the origin")).to_have_count(0)
        line.focus()
        self.page.keyboard.press("Enter")
        self.page.get_by_label("show the origin").check()
        expect(line).to_contain_text("T against L · with the origin")
        self.page.get_by_role("group", name="Graphs of this lab book").get_by_role("button").nth(1).click()
        expect(line).to_have_text(re.compile("^T² against L³"))
        self.page.get_by_label("show the origin").focus()
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_label("show the origin")).to_have_count(0)
        expect(line).to_be_focused()

    @in_the_long_run
    def test_colour_and_shape_are_chosen_once_for_all_graphs(self) -> None:
        unfold(self.page)
        chooser = self.page.get_by_role("button", name="Colour and shape of")
        chooser.press("Enter")
        self.page.get_by_role("button", name="green triangle").press("Enter")
        expect(chooser).to_be_focused()
        triangles = self.page.locator(".graph [data-point] polygon")
        expect(triangles).to_have_count(8)
        chooser.press("Enter")
        self.page.get_by_role("button", name="as it comes").click()
        expect(triangles).to_have_count(0)
        expect(self.page.locator(".graph [data-point] circle[r='3.8'], .graph [data-point] circle[r='2']")).to_have_count(8)

    @in_the_long_run
    def test_equal_factors_stand_equally_far_apart_where_that_is_wanted(self) -> None:
        unfold(self.page)
        places = "gs => gs.map(g => Number(g.querySelector('circle').getAttribute('cy')))"
        points = self.page.locator(".graph [data-point]")
        even = points.evaluate_all(places)
        self.page.get_by_role("checkbox", name="logarithmic y").check()
        expect(self.page.locator(".graph-axes text").get_by_text("0.6", exact=True)).to_have_count(0)
        expect(points).to_have_count(8)
        logarithmic = points.evaluate_all(places)
        # small times stand farther from each other than before, long ones nearer
        self.assertGreater(logarithmic[0] - logarithmic[1], even[0] - even[1])
        self.assertLess(logarithmic[6] - logarithmic[7], even[6] - even[7])
        points.first.focus()
        self.page.keyboard.press("+")
        self.page.keyboard.press("+")
        expect(points).not_to_have_count(8)
        points.first.focus()
        self.page.keyboard.press("f")
        expect(points).to_have_count(8)
        picture = self.page.request.get(f"{self.live_server_url}/api/books/{self.school.book.pk}/graphs/measured.svg").text()
        self.assertNotIn(">0.6<", picture)

    @in_the_long_run
    def test_a_moment_is_marked_on_every_graph_with_this_x_and_taken_away(self) -> None:
        self.graphs.first.wait_for()
        unfold(self.page)
        self.page.get_by_role("button", name="Mark a moment").click()
        self.page.keyboard.type("clamp moved")
        self.page.get_by_label("at L", exact=False).fill("0,31 m")
        expect(self.page.get_by_role("button", name="Mark it")).to_be_disabled()
        self.page.get_by_label("at L", exact=False).fill("0,31")
        self.page.keyboard.press("Enter")
        marked = self.page.locator(".graph-moment")
        expect(marked.first).to_contain_text("clamp moved")
        saved(self.page)
        self.page.reload()
        expect(marked.first).to_contain_text("clamp moved")
        self.page.get_by_role("button", name="Take clamp moved away").click()
        expect(marked).to_have_count(0)
        self.page.get_by_role("button", name="Undo").last.click()
        expect(marked.first).to_contain_text("clamp moved")

    @in_the_long_run
    def test_the_steepest_place_needs_no_line(self) -> None:
        self.graphs.first.wait_for()
        self.page.get_by_text("Where the points are steepest").first.click()
        expect(self.page.get_by_text("there it changes by", exact=False)).to_be_visible()
        expect(self.page.locator(".graph-spot")).to_have_count(1)
        self.page.get_by_text("Where the points are steepest").first.click()
        expect(self.page.locator(".graph-spot")).to_have_count(0)

    @in_the_long_run
    def test_the_range_is_typed_and_given_back(self) -> None:
        unfold(self.page)
        self.page.get_by_label("x from").fill("0.4 m")
        expect(self.page.get_by_role("alert")).to_have_text("“0.4 m” is not one number. Write digits alone, such as 0.5.")
        self.page.get_by_label("x from").fill("-")
        expect(self.page.get_by_role("alert")).to_have_count(0)
        self.page.get_by_label("x from").fill("0,4")
        self.page.get_by_label("x to").fill("0.6")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("complementary", name="Margin")).to_contain_text("3 points lie outside what is shown.")
        expect(self.page.locator(".graph [data-point]")).to_have_count(5)
        self.page.reload()
        expect(self.page.get_by_label("x from")).to_have_value("0.4")
        self.page.get_by_label("x to").fill("0.2")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("The range ends before it begins")
        # what was typed is still there
        expect(self.page.get_by_label("x to")).to_have_value("0.2")
        self.page.get_by_role("button", name="as the points need it").click()
        saved(self.page)
        expect(self.page.locator(".graph [data-point]")).to_have_count(8)

    @in_the_long_run
    def test_large_for_the_room_and_without_rules(self) -> None:
        size = "getComputedStyle(document.querySelector('.graph svg')).fontSize"
        before = float(self.page.evaluate(size).removesuffix("px"))
        unfold(self.page)
        self.page.get_by_label("large, for the room").check()
        self.assertAlmostEqual(float(self.page.evaluate(size).removesuffix("px")), 1.5 * before)
        self.page.get_by_label("ruled").uncheck()
        expect(self.page.locator(".graph-rules").first).to_be_hidden()
