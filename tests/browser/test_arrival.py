"""How soon somebody can type: what is sent for before the first empty cell waits for its reading."""

from __future__ import annotations

import gzip
from pathlib import Path

from django.contrib.staticfiles import finders
from playwright.sync_api import expect

from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, cell, in_the_long_run
from tests.school import PIN


class Arriving(BrowserTest):
    rests = True

    def test_little_is_sent_for_before_the_first_reading(self) -> None:
        page = self.page_of(self.school.students[0], "/api/me")
        page.add_init_script(
            """addEventListener('focusin', (e) => {
              if (!e.target.matches('input[data-at]')) return;
              window.sentBefore ??= performance.getEntriesByType('resource').map((sent) => sent.name);
            })"""
        )
        arrivals = []
        for _ in range(3):
            page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read", wait_until="commit")
            expect(page.locator('input[data-at="0:0"]')).to_be_focused()
            arrivals.append(page.evaluate("window.sentBefore"))
        # a browser that is kept waiting by others may find time for what comes later
        sent = min(arrivals, key=len)
        # the page itself is the twelfth
        self.assertLessEqual(len(sent), 11, arrivals)
        code = [finders.find(url.rpartition("/static/")[2]) for url in sent if url.endswith((".js", ".css"))]
        # as a server sends it: its files are kept compressed beside themselves
        self.assertLessEqual(sum(len(gzip.compress(Path(str(path)).read_bytes())) for path in code), 350_000)
        asked = [url.removeprefix(self.live_server_url) for url in sent if "/api/" in url]
        self.assertEqual(asked[:2], ["/api/me", f"/api/books/{self.school.book.pk}?run="])
        self.assertEqual(len(set(asked)), len(asked), "nothing is asked for twice")

    @in_the_long_run
    def test_a_station_whose_code_is_here_is_drawn_without_a_word_before_it(self) -> None:
        page = self.page_of(self.school.students[0], "/api/me")
        page.add_init_script(
            """window.waited = new Set();
            new MutationObserver(() => {
              for (const main of document.querySelectorAll('.opening')) window.waited.add(main.textContent);
            }).observe(document, { childList: true, subtree: true });"""
        )
        # the other stations come one after another when there is nothing else to do
        with page.expect_request_finished(lambda sent: "/assets/Report-" in sent.url):
            page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read")
            expect(page.locator('input[data-at="0:0"]')).to_be_focused()
        self.assertIn("Opening", page.evaluate("[...window.waited]"))
        # what a station waits for it names; the whole page names nothing
        self.assertNotIn("Opening Read", page.evaluate("[...window.waited]"))
        page.keyboard.press("Alt+6")
        expect(page.get_by_role("heading", name="The line")).to_be_visible()
        self.assertNotIn("Opening Fit", page.evaluate("[...window.waited]"))

    @in_the_long_run
    def test_what_was_asked_for_too_early_is_asked_for_again(self) -> None:
        # nobody was signed in when the page sent for the lab book
        page = self.page_of(None, f"/books/{self.school.book.pk}/read")
        page.get_by_label("Class code, from your teacher").fill(self.school.school_class.join_code)
        page.get_by_role("button", name="Find my class").click()
        page.get_by_text("Ann", exact=True).click()
        page.get_by_label("Your PIN").fill(PIN)
        page.keyboard.press("Enter")
        expect(page.locator('input[data-at="0:0"]')).to_be_focused()
        cell(page, 0, 0).fill("0.30")
        page.keyboard.press("Tab")
        expect(page.get_by_role("status").filter(has_text="saved")).to_be_visible()
        self.assertEqual(Book.objects.get(pk=self.school.book.pk).document["runs"][0]["settings"][0]["readings"]["L"][0]["text"], "0.30")
