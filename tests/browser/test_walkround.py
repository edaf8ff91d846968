"""The walkround in the browser: live, by keys, in the room, on the projector, one remark to several, a hand up."""

from __future__ import annotations

import re
from typing import Any

from playwright.sync_api import Locator, Page, Route, expect

from hobrel.classes.models import SchoolClass
from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, in_the_long_run, saved
from tests.lesson import make_lesson
from tests.school import keep_summaries


class Walkround(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.lesson = make_lesson(8)
        self.class_ = self.lesson.school
        self.address = f"/practicals/{self.class_.practical.pk}/walkround"

    def look(self, **how: Any) -> Page:
        page = self.page_of(self.class_.teacher, self.address, **how)
        expect(page.locator(".tile")).to_have_count(8)
        return page

    def tile(self, page: Page, bench: str) -> Locator:
        return page.locator(".tile").filter(has=page.get_by_role("link", name=bench, exact=True))

    def test_planted_faults_are_in_sight_at_once_those_in_need_first(self) -> None:
        page = self.look()
        self.assertTrue(
            page.evaluate("[...document.querySelectorAll('.tile')].every(t => t.getBoundingClientRect().bottom <= innerHeight)")
        )
        order = page.locator(".tile-head a").all_inner_texts()
        self.assertEqual(set(order[:2]), {"Godwit", "Knot"})
        self.assertEqual(order[-1], "Plover")
        for bench, words in (
            ("Godwit", "About 100 times too small"),
            ("Dunlin", "m cannot be added to s"),
            ("Curlew", "is not a number"),
            ("Redshank", "about a tenth"),
            ("Avocet", "L is blank here"),
            ("Knot", "the same as in setting 4"),
            ("Plover", "Nobody has opened it"),
        ):
            expect(self.tile(page, bench)).to_contain_text(words)
        self.check_access(page)
        # whoever comes for a slip is led to it
        self.tile(page, "Curlew").get_by_role("link", name=re.compile("is not a number")).click()
        expect(page.locator('input[data-at="7:2"]')).to_be_focused()

    def test_what_a_bench_writes_and_asks_is_on_its_tile_and_a_remark_at_the_bench(self) -> None:
        page = self.look()
        student = self.open_book(self.class_.students[0], "read", self.class_.book)
        expect(self.tile(page, "Godwit")).to_contain_text("1 here")
        student.get_by_role("button", name="Hand up").click()
        expect(student.get_by_role("button", name="Hand is up")).to_have_attribute("aria-pressed", "true")
        expect(page.locator(".tile-head a").first).to_have_text("Godwit")
        expect(self.tile(page, "Godwit")).to_contain_text("A hand is up")
        self.tile(page, "Godwit").get_by_role("button", name="I have been there").click()
        expect(student.get_by_role("button", name="Hand up")).to_have_attribute("aria-pressed", "false")
        student.locator('input[data-at="2:2"]').fill("5.53")
        student.keyboard.press("Enter")
        saved(student)
        expect(self.tile(page, "Godwit")).to_contain_text("just now")
        expect(self.tile(page, "Godwit")).not_to_contain_text("fewer decimals")
        common = page.get_by_role("region", name="Common slips").get_by_role("listitem").filter(has_text="not divided by ten")
        common.get_by_role("button", name="One remark to these 2").click()
        common.get_by_label("The remark").fill("Is that the time of ten swings?")
        # it is there after a look at a bench, and where no two benches have it any more
        self.tile(page, "Godwit").get_by_role("link", name="Godwit", exact=True).click()
        expect(common).to_have_count(0)
        page.route("**/api/practicals/*/walkround", lambda route: route.fulfill(json={**route.fetch().json(), "common": []}))
        page.goto(self.live_server_url + self.address)
        expect(page.locator(".common-slips li")).to_have_count(1)
        expect(common.get_by_label("The remark")).to_have_value("Is that the time of ten swings?")
        page.unroute_all(behavior="wait")
        common.get_by_role("button", name="Leave it at all of them").click()
        expect(common).to_contain_text("It stands in the margin of 2 benches.")
        expect(student.get_by_role("complementary", name="Margin")).to_contain_text("More remarks: Find")

    @in_the_long_run
    def test_by_keys_filtered_and_on_the_projector(self) -> None:
        page = self.look()
        page.keyboard.press("n")
        first = page.locator(".tile-head a").first
        expect(first).to_be_focused()
        page.keyboard.press("ArrowRight")
        expect(page.locator(".tile-head a").nth(1)).to_be_focused()
        page.keyboard.press("ArrowDown")
        expect(page.locator(".tile-head a").nth(5)).to_be_focused()
        page.get_by_text("to look at 7").click()
        expect(page.locator(".tile")).to_have_count(7)
        page.get_by_text(re.compile("^all 8")).click()
        page.locator("h1").click()
        page.keyboard.press("p")
        expect(page.locator("main")).not_to_contain_text("times too small")
        expect(page.locator("main")).not_to_contain_text("GPa")
        expect(page.locator("main")).not_to_contain_text("Ann")
        self.assertEqual(page.locator(".tile-head a").all_inner_texts(), sorted(self.lesson.books))
        page.get_by_role("button", name="Stop the lesson").click()
        stopped = page.get_by_role("dialog")
        expect(stopped.get_by_role("listitem")).to_have_count(3)
        expect(stopped).not_to_contain_text("Godwit")
        page.keyboard.press("Escape")
        expect(stopped).to_have_count(0)

    @in_the_long_run
    def test_the_room_is_arranged_by_hand_and_by_keys_and_kept(self) -> None:
        page = self.look()
        page.get_by_text("as the room stands").click()
        page.get_by_role("button", name="Arrange").click()
        avocet, place = page.locator(".tile").first, page.locator(".tile-place.column-2.row-2")
        avocet.drag_to(place)
        expect(page.locator(".column-2.row-2").get_by_role("link", name="Avocet", exact=True)).to_be_visible()
        page.get_by_role("link", name="Knot", exact=True).focus()
        page.keyboard.press("Alt+ArrowRight")
        page.get_by_role("button", name="It stands so").click()
        page.reload()
        expect(page.locator(".column-2.row-2").get_by_role("link", name="Avocet", exact=True)).to_be_visible()
        room = SchoolClass.objects.get(pk=self.class_.school_class.pk).room
        self.assertEqual(room[str(self.lesson.books["Avocet"].bench_id)], [2, 2])
        self.assertEqual(len({tuple(place) for place in room.values()}), 8)

    @in_the_long_run
    def test_a_bench_is_left_out_of_the_pool_with_a_reason_and_taken_in_again(self) -> None:
        page = self.page_of(self.class_.teacher, f"/practicals/{self.class_.practical.pk}/pool")
        page.get_by_text("All benches, and who counts").click()
        row = page.get_by_role("row").filter(has=page.get_by_role("link", name="Curlew", exact=True))
        row.get_by_role("button", name="leave out").click()
        row.get_by_label("Why is Curlew left out?").fill("rows exchanged")
        page.keyboard.press("Enter")
        expect(row).to_contain_text("left out by the teacher: rows exchanged")
        expect(page.locator("main")).to_contain_text("Curlew: left out by the teacher: rows exchanged")
        self.check_access(page)
        row.get_by_role("button", name="take in again").click()
        expect(row).to_contain_text("GPa")

    @in_the_long_run
    def test_where_the_server_is_away_it_says_since_when(self) -> None:
        page = self.look()
        page.route("**/api/practicals/*/walkround", lambda route: route.abort() if "/api/" in route.request.url else route.continue_())
        expect(page.locator("main")).to_contain_text("the server does not answer")
        expect(page.locator(".tile")).to_have_count(8)

    @in_the_long_run
    def test_a_summary_that_is_late_comes(self) -> None:
        page = self.look(size={"width": 390, "height": 844})
        Book.objects.filter(pk=self.class_.book.pk).update(news=5)
        keep_summaries(self.class_.practical)
        expect(page.locator(".tile")).to_have_count(8)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    @in_the_long_run
    def test_a_remark_that_is_begun_while_another_is_on_its_way_stays(self) -> None:
        page = self.page_of(self.class_.teacher)

        def answer(route: Route) -> None:
            found = route.fetch().json()
            route.fulfill(json={**found, "common": [*found["common"], {**found["common"][0], "of": "another"}]})

        page.route("**/api/practicals/*/walkround", answer)
        held: list[Route] = []
        page.route("**/api/practicals/*/remarks", lambda route: held.append(route))
        page.goto(self.live_server_url + self.address)
        slips = page.locator(".common-slips li")
        first, second = slips.first, slips.last
        first.get_by_role("button", name="One remark to these").click()
        with page.expect_request("**/remarks"):
            first.get_by_role("button", name="Leave it at all of them").click()
        second.get_by_role("button", name="One remark to these").click()
        second.get_by_label("The remark").fill("Look at your units.")
        held[0].continue_()
        expect(first).to_contain_text("It stands in the margin")
        expect(second.get_by_label("The remark")).to_have_value("Look at your units.")
        page.unroute_all(behavior="wait")
