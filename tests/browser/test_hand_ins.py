"""Handing in and answering in the browser: a bench hands in, two teachers mark and answer, the bench reads it and hands in again."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from hobrel.handins.models import Answer, Mark
from hobrel.reports.actions import hand_in
from hobrel.school.teachers import write_teacher
from tests.browser.base import BrowserTest, in_the_long_run
from tests.school import PASSWORD, add_setting, client_of, fill, make_school, send_edit

GRID = [
    {"id": "care", "title": "Readings are taken with care", "levels": ["not yet", "partly", "fully"], "facts": ["repeats"]},
    {"id": "follows", "title": "The conclusion follows", "levels": ["no", "yes"], "facts": []},
]


class HandIns(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.class_ = make_school("three", "CODE33")
        version = self.class_.practical.version
        version.document["plan"]["grid"] = GRID
        version.save()
        self.book = self.class_.book
        fill(self.book)
        self.address = f"/practicals/{self.class_.practical.pk}/hand-ins"

    def mark(self, page: Page, row: str, level: str) -> None:
        page.get_by_role("group", name=f"Level of {row}").get_by_role("button", name=level, exact=True).click()

    def test_from_handing_in_to_marks_and_back_again(self) -> None:
        page = self.page_of(self.class_.teacher, self.address)
        expect(page.locator("main")).to_contain_text("Nothing has been handed in yet")
        bench = self.open_book(self.class_.students[0], "report", self.book)
        bench.get_by_role("button", name="Hand in", exact=True).click()
        bench.get_by_role("button", name="Hand in now").click()
        expect(bench.get_by_role("list", name="What has been handed in")).to_contain_text("by Ann")
        # it stands in the queue by itself, and is opened
        expect(page.get_by_role("list", name="Benches")).to_contain_text("Godwit waits")
        paper = page.frame_locator("iframe").first
        expect(paper.locator("h1")).to_have_text("The clamped strip")
        expect(page.get_by_role("complementary")).to_contain_text("t₁₀ was read 3 times at every setting.")
        self.mark(page, "Readings are taken with care", "partly")
        page.get_by_role("textbox", name="Words to The conclusion follows").fill("Say what the ± means.")
        page.get_by_role("textbox", name="Words to the bench").fill("Look at your third setting.")
        expect(page.get_by_role("list", name="Benches")).to_contain_text("1 of 2 marked")
        page.get_by_role("button", name="Return to the bench").click()
        expect(page.get_by_role("list", name="Benches")).to_contain_text("returned")
        self.check_access(page)
        # the bench is told at once, of marks only when they are given back
        expect(bench.get_by_role("status").filter(has_text="Given back to you")).to_contain_text("Look at your third setting.")
        expect(bench.get_by_role("table", name="Marks")).to_have_count(0)
        page.get_by_role("button", name="Give the marks back now").click()
        marks = bench.get_by_role("table", name="Marks")
        expect(marks).to_contain_text("partly level 2 of 3")
        expect(marks).to_contain_text("Say what the ± means.")
        # it goes on, and both are compared
        send_edit(client_of(self.class_.students[1]), self.book, add_setting("later"))
        bench.get_by_role("button", name="Hand in again").click()
        bench.get_by_role("button", name="Hand in now").click()
        expect(page.get_by_role("list", name="Benches")).to_contain_text("hand-in 2")
        page.get_by_role("link", name=re.compile("Godwit")).click()
        expect(page.get_by_role("complementary")).to_contain_text("Before: partly")
        page.get_by_text("beside hand-in 1").click()
        expect(page.frame_locator("iframe").nth(1).locator("h1")).to_have_text("The clamped strip")
        page.get_by_role("button", name="Accept").click()
        expect(bench.get_by_role("status").filter(has_text="Accepted.")).to_be_visible()
        self.assertEqual(list(Answer.objects.order_by("pk").values_list("verdict", flat=True)), ["returned", "accepted"])

    @in_the_long_run
    def test_two_teachers_at_one_row_and_a_failed_request_lose_nothing(self) -> None:
        hand_in(self.book, self.class_.students[0])
        other = write_teacher(shown_name="Colleague", name="colleague", password=PASSWORD, is_head=False)
        self.class_.school_class.teachers.add(other)
        page, theirs = self.page_of(self.class_.teacher, self.address), self.page_of(other, self.address)
        row = "Readings are taken with care"
        expect(theirs.get_by_role("group", name=f"Level of {row}")).to_be_visible()
        self.mark(page, row, "partly")
        expect(page.get_by_role("list", name="Benches")).to_contain_text("1 of 2 marked")
        self.mark(theirs, row, "fully")
        expect(theirs.get_by_role("alert")).to_contain_text("Teacher three has written here meanwhile: partly")
        with theirs.expect_response(lambda answer: answer.url.endswith("/marks") and answer.ok):
            theirs.get_by_role("button", name="Keep mine instead").click()
        expect(theirs.get_by_role("alert")).to_have_count(0)
        self.assertEqual(Mark.objects.get().level, 2)
        # words and a level at once are one after the other, not two people
        page.get_by_role("textbox", name="Words to The conclusion follows").fill("It does.")
        self.mark(page, "The conclusion follows", "yes")
        expect(page.get_by_role("list", name="Benches")).to_contain_text("2 of 2 marked")
        expect(page.get_by_role("alert")).to_have_count(0)
        kept = Mark.objects.get(row="follows")
        self.assertEqual((kept.level, kept.words), (1, "It does."))
        # without a network what was typed stays in its field, and goes when it is there again
        page.reload()
        words = page.get_by_role("textbox", name=f"Words to {row}")
        expect(words).to_be_visible()
        page.context.set_offline(True)
        words.fill("All three of them.")
        words.blur()
        expect(page.get_by_role("button", name="Try again")).to_be_visible()
        expect(words).to_have_value("All three of them.")
        page.context.set_offline(False)
        with page.expect_response(lambda answer: answer.url.endswith("/marks") and answer.ok):
            page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("button", name="Try again")).to_have_count(0)
        self.assertEqual(Mark.objects.get(row="care").words, "All three of them.")
        # a colleague's words that came with another row's are not written over by what could not be sent before
        theirs.reload()
        line = theirs.get_by_role("textbox", name="Words to The conclusion follows")
        expect(line).to_have_value("It does.")
        theirs.context.set_offline(True)
        line.fill("It does not.")
        line.blur()
        expect(theirs.get_by_role("button", name="Try again")).to_be_visible()
        page.get_by_role("textbox", name="Words to The conclusion follows").fill("It does, at last.")
        with page.expect_response(lambda answer: answer.url.endswith("/marks") and answer.ok):
            page.keyboard.press("Tab")
        theirs.context.set_offline(False)
        with theirs.expect_response(lambda answer: answer.url.endswith("/marks") and answer.ok):
            self.mark(theirs, row, "partly")
        theirs.get_by_role("button", name="Try again").click()
        expect(theirs.get_by_role("alert")).to_contain_text("Teacher three has written here meanwhile: yes: It does, at last.")
        with theirs.expect_response(lambda answer: answer.url.endswith("/marks") and answer.ok):
            theirs.get_by_role("button", name="Keep mine instead").click()
        self.assertEqual(Mark.objects.get(row="follows").words, "It does not.")

    @in_the_long_run
    def test_what_is_written_and_not_sent_outlives_going_away(self) -> None:
        fill(self.class_.other_book, seed=4)
        for book, person in ((self.book, self.class_.students[0]), (self.class_.other_book, self.class_.other_bench)):
            hand_in(book, person)
        page = self.page_of(self.class_.teacher, self.address)
        words = page.get_by_role("textbox", name="Words to the bench")
        words.fill("Not ready to be sent.")
        page.get_by_role("link", name=re.compile("Redshank")).click()
        expect(page.get_by_role("complementary", name="Marks of Redshank")).to_be_visible()
        expect(words).to_have_value("")
        page.reload()
        page.get_by_role("link", name=re.compile("Godwit")).click()
        expect(words).to_have_value("Not ready to be sent.")
        page.get_by_role("button", name="Accept").click()
        expect(page.get_by_role("list", name="Benches")).to_contain_text("accepted")
        self.assertEqual(Answer.objects.get().words, "Not ready to be sent.")
        # nobody who comes next at this tab finds it
        words.fill("For nobody else.")
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_label("Class code")).to_be_visible()
        expect(page).to_have_url(f"{self.live_server_url}/")
        expect(page.get_by_text("You are not signed in")).to_have_count(0)
        page.goto(self.address if self.address.startswith("http") else self.live_server_url + self.address)
        expect(page.get_by_text("You are not signed in. Sign in, and this page opens")).to_be_visible()
        self.assertEqual(page.evaluate("Object.keys(sessionStorage).filter(k => k.startsWith('draft')).length"), 0)

    @in_the_long_run
    def test_on_a_phone_nothing_hangs_over_the_edge(self) -> None:
        hand_in(self.book, self.class_.students[0])
        page = self.page_of(self.class_.teacher, self.address, size={"width": 390, "height": 844})
        expect(page.get_by_role("button", name="Accept")).to_be_visible()
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
