"""Fit: lines by eye dragged, typed and moved with keys; extreme lines; stretches marked, fitted and set aside; shapes."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

from hobrel.labbooks.actions import load_document
from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, in_the_long_run, saved, unfold
from tests.school import fill


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    page.mouse.move(*end)
    page.mouse.up()


def middle(target: Locator) -> tuple[float, float]:
    box = target.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


class Fitting(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book)
        self.page = self.open_book(self.school.students[0], "fit")
        self.card = self.page.locator(".line-card")

    def fit(self) -> dict[str, object]:
        document: dict[str, list[dict[str, object]]] = Book.objects.get(pk=self.school.book.pk).document
        return document["fits"][0]

    def test_where_the_plan_wants_it_the_bench_draws_first(self) -> None:
        book = Book.objects.get(pk=self.school.book.pk)
        load_document(book, {**book.document, "bench_draws": True})
        self.page.reload()
        expect(self.page.get_by_text("Draw your own line through the points first.")).to_be_visible()
        expect(self.page.locator(".graph-line")).to_have_count(0)
        self.page.get_by_role("button", name="Draw a line by eye").click()
        x, y = middle(self.page.get_by_role("slider", name="Right handle of the line by eye"))
        drag(self.page, (x, y), (x, y - 120))
        expect(self.card).to_contain_text("gradient")
        self.page.get_by_role("link", name="Find,").click()
        expect(self.page.locator(".find-statement")).to_contain_text("GPa")

    def test_a_line_by_eye_is_dragged_typed_and_moved_with_keys(self) -> None:
        self.page.get_by_role("button", name="Draw a line by eye").click()
        tools = self.page.get_by_role("region", name="The line by eye")
        right = self.page.get_by_role("slider", name="Right handle of the line by eye")
        x, y = middle(right)
        drag(self.page, (x, y), (x, y - 120))
        expect(tools).to_contain_text("error bars.")
        saved(self.page)
        drawn = self.fit()["by_eye"]
        assert isinstance(drawn, dict)
        self.assertGreater(drawn["gradient"], 1)
        right.focus()
        self.page.keyboard.press("Shift+ArrowUp")
        saved(self.page)
        steeper = self.fit()["by_eye"]
        assert isinstance(steeper, dict)
        self.assertGreater(steeper["gradient"], drawn["gradient"])
        tools.get_by_label("Gradient of the line by eye").fill("4,7")
        tools.get_by_label("Intercept of the line by eye").fill("0")
        tools.get_by_role("button", name="Put it there").click()
        expect(tools).to_contain_text("gradient 4.700 s²/m³, intercept 0 s²")
        tools.get_by_role("button", name="Done").click()
        expect(self.page.locator(".graph-line.by_eye")).to_have_count(1)
        self.page.reload()
        expect(self.page.locator(".graph-line.by_eye")).to_have_count(1)

    @in_the_long_run
    def test_best_steepest_and_shallowest_by_eye_beside_the_computed_ones(self) -> None:
        unfold(self.page)
        self.page.get_by_text("draw steepest and shallowest").click()
        self.page.get_by_role("button", name="Draw a line by eye").click()
        tools = self.page.get_by_role("region", name="The line by eye")
        for kind, gradient in (("best", "4.7"), ("steepest", "4.9"), ("shallowest", "4.5")):
            tools.get_by_text(kind, exact=True).click()
            tools.get_by_label("Gradient of the line by eye").fill(gradient)
            tools.get_by_label("Intercept of the line by eye").fill("0")
            tools.get_by_role("button", name="Put it there").click()
            expect(tools).to_contain_text(f"gradient {gradient}00 s²/m³")
        self.card.get_by_text("How good is it?").click()
        self.card.get_by_text("The gradient’s ± in").click()
        expect(self.card).to_contain_text("4.7 ± 0.2 s²/m³")
        expect(self.card).to_contain_text("statistical")

    @in_the_long_run
    def test_what_if_a_point_were_lifted_or_left_out(self) -> None:
        gradient = self.card.locator('[data-working="fit:line:gradient"]')
        before, points = gradient.inner_text(), self.page.locator(".graph [data-point]")
        x, y = middle(points.last.locator(".graph-target"))
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x, y + 30)
        self.page.mouse.move(x, y + 60)
        expect(self.page.locator(".what-if")).to_contain_text("with a point lifted")
        expect(gradient).not_to_have_text(before)
        self.page.mouse.up()
        expect(gradient).to_have_text(before)
        self.card.get_by_text("How good is it?").click()
        self.card.get_by_text("Which points pull the line most?").click()
        self.card.get_by_role("button", name="L = 0.65").click()
        bar = self.page.get_by_role("region", name="The chosen point")
        bar.get_by_role("button", name="Without it for a moment").click()
        expect(self.card).to_contain_text("of 7 points")
        bar.get_by_role("button", name="Put it back").click()
        expect(self.card).to_contain_text("of 8 points")
        bar.get_by_role("button", name="Its readings").click()
        expect(self.page.locator('input[data-at="7:1"]')).to_be_focused()
        self.assertEqual(Book.objects.get(pk=self.school.book.pk).revision, 0)

    @in_the_long_run
    def test_values_are_read_off_both_ways(self) -> None:
        reading = self.page.get_by_role("region", name="Read off")
        reading.get_by_label("at L³ / m³ =").fill("0.15")
        self.page.keyboard.press("Enter")
        expect(reading.get_by_role("listitem")).to_contain_text("at 0.15 m³ with the ± of the line")
        reading.get_by_text("x at a y").click()
        reading.get_by_label("at T² / s² =").fill("5")
        self.page.keyboard.press("Enter")
        expect(reading.get_by_role("listitem").first).to_contain_text("it lies outside the points")
        reading.get_by_label("at T² / s² =").fill("3 kg")
        self.page.keyboard.press("Enter")
        expect(reading.get_by_role("alert")).to_contain_text("does not fit it")
        # a curve both ways too; what is read is shown where it is, with the tangent that touches it there
        unfold(self.page)
        self.page.get_by_label("What is fitted").click()
        self.page.get_by_text("Power, y = a xⁿ").click()
        expect(self.page.get_by_role("complementary", name="Card of the curve")).to_be_visible()
        reading.get_by_label("at T² / s² =").fill("0.6")
        self.page.keyboard.press("Enter")
        expect(reading.get_by_role("listitem").first).to_contain_text("at 0.6 s² with the ± of the curve")
        expect(self.page.locator(".graph-read")).to_have_count(1)
        expect(self.page.locator(".graph-tangent")).to_have_count(0)
        reading.get_by_text("y at an x").click()
        reading.get_by_label("at L³ / m³ =").fill("0.2")
        self.page.keyboard.press("Enter")
        expect(reading.get_by_role("listitem").first).to_contain_text("the tangent there is")
        expect(self.page.locator(".graph-tangent")).to_have_count(1)

    def test_a_stretch_is_marked_summarised_fitted_and_released(self) -> None:
        area = self.page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        y = area["y"] + 40
        drag(self.page, (area["x"] + 5, y), (area["x"] + area["width"] * 0.55, y))
        bar = self.page.get_by_role("region", name="The marked stretch")
        expect(bar).to_contain_text("points")
        expect(bar).to_contain_text("their own line: gradient")
        bar.get_by_role("button", name="Fit only here").click()
        expect(self.card).not_to_contain_text("of 8 points")
        bar.get_by_role("button", name="Unmark").click()
        expect(self.page.locator(".choice-words")).to_contain_text("counting both bars · x from")
        unfold(self.page)
        self.page.get_by_role("button", name="all points").click()
        expect(self.card).to_contain_text("of 8 points")
        self.page.get_by_label("All points. Or only from x =").fill("0.2")
        self.page.get_by_label("to", exact=True).fill("0.03")
        self.page.get_by_role("button", name="Fit this stretch").click()
        expect(self.page.get_by_text("The range ends before it begins")).to_be_visible()
        expect(self.page.get_by_label("to", exact=True)).to_have_value("0.03")
        self.page.get_by_label("All points. Or only from x =").fill("zero")
        expect(self.page.get_by_role("button", name="Fit this stretch")).to_be_disabled()

    @in_the_long_run
    def test_a_drag_ends_at_the_points_that_it_comes_near_and_its_mean_is_kept(self) -> None:
        boxes = [p.bounding_box() for p in self.page.locator(".graph [data-point] .graph-target").all()]
        places = sorted(box["x"] + box["width"] / 2 for box in boxes if box is not None)
        area = self.page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        y = area["y"] + 40
        # a little within the third and the sixth, which it therefore holds
        drag(self.page, (places[2] + 6, y), (places[5] - 6, y))
        bar = self.page.get_by_role("region", name="The marked stretch")
        expect(bar).to_contain_text("4 points at L³ =")
        # the x axis is a derived quantity, by whose values the mean is taken
        bar.get_by_role("button", name="Use this mean in Find").click()
        self.page.keyboard.press("Alt+7")
        form = self.page.get_by_role("form", name="A finding of your own")
        form.get_by_label("called").fill("middle")
        form.get_by_label("symbol", exact=True).fill("y_m")
        expect(form.locator(".find-preview")).to_contain_text("s²")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("region", name="middle")).to_contain_text("(4 values)")

    @in_the_long_run
    def test_words_of_the_trade_explain_themselves(self) -> None:
        self.page.get_by_text("How good is it?").click()
        word = self.page.get_by_role("button", name="χ²ν")
        word.click()
        note = self.page.get_by_role("note", name="χ²ν, reduced chi squared")
        expect(note).to_contain_text("Near 1 the bars explain it")
        expect(note.locator("svg")).to_be_visible()
        expect(note).to_be_in_viewport(ratio=1)
        self.check_access(self.page)
        self.page.keyboard.press("Escape")
        expect(note).to_have_count(0)
        expect(word).to_be_focused()

    @in_the_long_run
    def test_a_stretch_is_set_aside_with_a_reason(self) -> None:
        area = self.page.locator(".graph-mark-area").bounding_box()
        assert area is not None
        y = area["y"] + 40
        drag(self.page, (area["x"] + area["width"] * 0.9, y), (area["x"] + area["width"] - 2, y))
        bar = self.page.get_by_role("region", name="The marked stretch")
        expect(bar).to_contain_text("1 point")
        bar.get_by_label("Why is this stretch left out?").fill("the clamp slipped")
        self.page.keyboard.press("Enter")
        expect(self.card).to_contain_text("of 7 points")
        self.page.locator(".undo-bar").get_by_role("button", name="Undo").click()
        expect(self.card).to_contain_text("of 8 points")

    @in_the_long_run
    def test_an_equation_stands_on_the_graph_and_a_fit_need_not_be_drawn(self) -> None:
        unfold(self.page)
        lines, equation = self.page.locator(".graph-line.fit"), self.page.locator(".graph-equations text")
        expect(lines).to_have_count(1)
        self.page.get_by_role("checkbox", name="equation on the graph").check()
        expect(equation).to_contain_text("s²/m³")
        number = re.search(r"\d\.\d+", self.page.locator(".line-card dd").first.inner_text())
        assert number is not None
        expect(equation).to_contain_text(number.group())
        self.page.get_by_role("checkbox", name="draw it").uncheck()
        expect(lines).to_have_count(0)
        expect(equation).to_have_count(0)
        expect(self.page.locator(".choice-words")).to_contain_text("not drawn")
        expect(self.page.locator(".line-card")).to_contain_text("s2/m3")
        # any fit can be taken away, the first too
        self.page.get_by_role("button", name="Remove this fit").click()
        expect(self.page.get_by_role("alert").or_(self.page.locator(".undo-bar")).first).to_be_visible()

    @in_the_long_run
    def test_another_shape_and_a_formula_of_ones_own(self) -> None:
        unfold(self.page)
        self.page.get_by_label("What is fitted").click()
        self.page.get_by_text("Power, y = a xⁿ").click()
        curve = self.page.get_by_role("complementary", name="Card of the curve")
        expect(curve).to_contain_text("Power")
        expect(curve.locator("dt").nth(1)).to_contain_text("n")
        self.page.get_by_label("What is fitted").click()
        self.page.get_by_text("A formula of your own …").click()
        expect(self.page.locator(".fit-choices").last).to_contain_text("x is L³")
        self.page.get_by_label("T² =", exact=True).fill("a x + b x^2")
        self.page.get_by_label("with parameters").fill("a b")
        self.page.keyboard.press("Enter")
        expect(curve).to_contain_text("This formula")
        self.page.get_by_label("T² =", exact=True).fill("a x + ")
        self.page.keyboard.press("Enter")
        expect(self.page.locator(".fit .notice")).to_contain_text("stops too early")
        self.page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(curve).to_contain_text("This formula")
