"""How soon somebody can type: what is sent for before the first empty cell waits for its reading."""

from __future__ import annotations

import gzip

from playwright.sync_api import Response, expect

from hobrel.labbooks.models import Book
from tests.browser.base import BrowserTest, cell
from tests.school import PIN


class Arriving(BrowserTest):
    def test_little_is_sent_for_before_the_first_reading(self) -> None:
        page = self.page_of(self.school.students[0], "/api/me")
        answers: list[Response] = []
        page.on("response", lambda answer: answers.append(answer))
        page.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read", wait_until="commit")
        expect(page.locator('input[data-at="0:0"]')).to_be_focused()
        sent = [a for a in answers if a.url.startswith(self.live_server_url)]
        self.assertLessEqual(len(sent), 12, [a.url for a in sent])
        code = [a for a in sent if a.request.resource_type in ("script", "stylesheet")]
        # as a server sends it: its files are kept compressed beside themselves
        self.assertLessEqual(sum(len(gzip.compress(a.body())) for a in code), 350_000)
        self.assertEqual([a.url for a in sent if "/api/" in a.url and a.url.split("/api/")[1].startswith(("me", "books"))],
                         [f"{self.live_server_url}/api/me", f"{self.live_server_url}/api/books/{self.school.book.pk}?run="])  # fmt: skip

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
