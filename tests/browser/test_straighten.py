"""The board of forms: looking, comparing two large, keeping one, and judging before the board does."""

from __future__ import annotations

from playwright.sync_api import expect

from hobrel.labbooks.models import Book, new_stamp
from tests.browser.base import BrowserTest, saved
from tests.school import fill


class TheBoard(BrowserTest):
    def test_the_straight_one_is_found_compared_and_kept(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "straighten")
        large = page.get_by_role("region", name="Large").get_by_role("article")
        expect(large).to_have_count(1)
        expect(large.first).to_contain_text("T against L")
        # nothing is said of it before the bench has said something, and then of this one alone
        squares = page.locator(".board-square")
        expect(squares).to_have_count(9)
        expect(page.locator(".straighten-judgement, .board-square.straight, .board-square.bends, .board-star")).to_have_count(0)
        large.first.get_by_role("button", name="straight", exact=True).click()
        expect(large.first).to_contain_text("You said: straight.")
        expect(large.first).to_contain_text("it still bends")
        expect(page.locator(".board-square.bends")).to_have_count(0)
        page.get_by_role("button", name="Show what Hobrel makes of them all").click()
        expect(page.locator(".board-square.bends").first).to_be_visible()
        expect(large).to_have_count(2)
        page.get_by_role("button", name="More forms").click()
        self.assertGreater(squares.count(), 70)
        expect(page.locator(".board-square.straight").first).to_be_visible()
        page.get_by_role("button", name="ln(T) against ln(L).").click()
        expect(large.last).to_contain_text("ln(T) against ln(L)")
        expect(large.last).to_contain_text("If the relation holds, the gradient is")
        large.last.get_by_role("button", name="Keep this one").click()
        expect(large.last.get_by_role("link", name="its line is in Fit")).to_be_visible()
        saved(page)
        large.last.get_by_role("link", name="its line is in Fit").click()
        expect(page.locator(".line-card")).to_contain_text("= 1.483")
        page.get_by_role("banner").get_by_role("button", name="Undo").click()
        expect(page.locator(".line-card")).to_contain_text("s2/m3")

    def test_the_bench_judges_first_where_the_plan_wants_it(self) -> None:
        fill(self.school.book)
        book = Book.objects.get(pk=self.school.book.pk)
        book.document["bench_judges"] = True
        book.stamp = new_stamp()
        book.save()
        page = self.open_book(self.school.students[0], "straighten")
        expect(page.locator(".board-square.unjudged").first).to_be_visible()
        expect(page.locator(".straighten-judgement")).to_have_count(0)
        choice = page.get_by_label("Which is straight, and how do you tell?")
        choice.fill("T² against L³: its residuals change sign without a pattern.")
        choice.blur()
        page.get_by_role("button", name="Show what Hobrel makes of them all").click()
        expect(page.locator(".board-square.bends").first).to_be_visible()
        expect(page.locator(".straighten-judgement").first).to_be_visible()

    def test_too_few_settings_are_said(self) -> None:
        fill(self.school.book, 2)
        page = self.open_book(self.school.students[0], "straighten")
        expect(page.locator(".notice")).to_contain_text("at least four are needed; there are 2")
