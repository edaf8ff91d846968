"""The page without a network: it opens again with what was typed, and nothing of it stays for the next person."""

from __future__ import annotations

from hashlib import blake2b
from typing import ClassVar, Literal
from unittest.mock import patch

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, cell, in_the_long_run, saved
from tests.school import fill

KEPT = """async () => {
  const names = await caches.keys();
  const answers = names.find((n) => n.startsWith('hobrel-answers-'));
  const files = names.find((n) => n.startsWith('hobrel-files-'));
  const paths = async (n) => n ? (await (await caches.open(n)).keys()).map((r) => new URL(r.url).pathname) : [];
  return {answers: await paths(answers), files: await paths(files), stores: names.filter((n) => n.startsWith('hobrel-answers-')).length};
}"""


class NoNetwork(BrowserTest):
    workers: ClassVar[Literal["allow", "block"]] = "allow"

    def keep(self) -> Page:
        """A lab book on a page that has kept itself."""
        fill(self.school.book)
        page = self.open_book(self.school.students[0])
        expect(cell(page, 7, 3)).to_be_visible()
        # all that the page has used, the typesetter too, which comes last
        used = (
            "performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname).filter((p) => p.startsWith('/static/assets/'))"
        )
        files = f"['/', ...{used}].every((p) => kept.files.includes(p)) && kept.files.some((p) => p.includes('katex-'))"
        self.wait_until(page, f"{files} && kept.answers.includes('/api/books/{self.school.book.pk}')")
        return page

    def wait_until(self, page: Page, condition: str) -> None:
        """Wait until what is kept on the device meets a condition."""
        met = page.evaluate(
            f"""async () => {{
              for (const begun = Date.now(); Date.now() - begun < 60000; await new Promise((done) => setTimeout(done, 50))) {{
                const kept = await ({KEPT})();
                if ({condition}) return true;
              }}
              return false;
            }}"""
        )
        self.assertTrue(met, f"{condition}: {page.evaluate(KEPT)}")

    def test_a_lab_book_opens_again_and_what_was_typed_is_sent_when_it_is_back(self) -> None:
        page = self.keep()
        before = cell(page, 0, 1).input_value()
        page.context.set_offline(True)
        page.reload()
        expect(cell(page, 0, 1)).to_have_value(before)
        cell(page, 1, 1).fill("9.99")
        cell(page, 1, 1).press("Enter")
        expect(page.get_by_role("status").filter(has_text="1 change waiting")).to_be_visible()
        page.reload()
        expect(cell(page, 1, 1)).to_have_value("9.99")
        self.assertNotEqual(self.texts("t10")[1][0], "9.99")
        page.context.set_offline(False)
        saved(page)
        self.assertEqual(self.texts("t10")[1][0], "9.99")

    @in_the_long_run
    def test_with_a_network_everything_comes_from_the_server(self) -> None:
        page = self.keep()
        page.reload()
        cell(page, 2, 1).fill("8.88")
        cell(page, 2, 1).press("Enter")
        saved(page)
        page.reload()
        expect(cell(page, 2, 1)).to_have_value("8.88")

    @in_the_long_run
    def test_nothing_stays_for_the_next_person(self) -> None:
        page = self.keep()
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_label("Class code, from your teacher")).to_be_visible()
        self.wait_until(page, "kept.stores === 0")
        # nor of what is asked for while nobody is signed in
        page.reload()
        expect(page.get_by_label("Class code, from your teacher")).to_be_visible()
        self.assertEqual(page.evaluate(KEPT)["answers"], [])

    @in_the_long_run
    def test_a_new_build_brings_a_worker_that_waits_until_no_page_is_open(self) -> None:
        page = self.keep()
        with patch("hobrel.server.urls.blake2b", lambda content, digest_size: blake2b(content + b"new", digest_size=digest_size)):
            page.evaluate("navigator.serviceWorker.ready.then((known) => known.update())")
            self.wait_until(page, "(await navigator.serviceWorker.getRegistration()).waiting !== null")
            # as often as the page is loaded; without a network too
            for is_offline in (False, True):
                page.context.set_offline(is_offline)
                page.reload()
                expect(cell(page, 0, 1)).to_be_visible()
            self.assertTrue(page.evaluate("navigator.serviceWorker.getRegistration().then((known) => known.waiting !== null)"))
        # the new one has kept no page of its own yet, and shows the one before; who opens a page at once may be before it
        again, waiting = page, True
        for _ in range(5):
            again.close()
            again = page.context.new_page()
            again.goto(f"{self.live_server_url}/books/{self.school.book.pk}/read")
            expect(cell(again, 0, 1)).to_be_visible()
            waiting = again.evaluate("navigator.serviceWorker.getRegistration().then((known) => known.waiting !== null)")
            if not waiting:
                break
        self.assertFalse(waiting)
        again.context.set_offline(False)
        again.reload()
        self.wait_until(again, "(await caches.keys()).filter((n) => n.startsWith('hobrel-files-')).length === 2")

    @in_the_long_run
    def test_an_answer_that_a_newer_page_cannot_read_is_dropped(self) -> None:
        page = self.keep()
        old = """async () => {
          const store = await caches.open((await caches.keys()).find((n) => n.startsWith('hobrel-answers-')));
          await store.put('/api/books/777', new Response('{}', {headers: {'Hobrel-Form': 'of before'}}));
        }"""
        page.evaluate(old)
        page.reload()
        self.wait_until(page, f"!kept.answers.includes('/api/books/777') && kept.answers.includes('/api/books/{self.school.book.pk}')")
