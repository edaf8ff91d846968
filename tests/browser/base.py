"""Headless Chromium on the live server: people with a page each, and the few moves that every test makes."""

from __future__ import annotations

import os
import unittest
from collections.abc import Sequence
from typing import Any, ClassVar, Literal

from axe_playwright_python.sync_playwright import Axe
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, ElementHandle, Locator, Page, Playwright, expect, sync_playwright

from hobrel.classes.models import Person
from hobrel.labbooks.models import Book
from tests.browser.chromium import SIZE, launch
from tests.browser.chromium import cell as cell
from tests.school import School, client_of, make_school

# the driver runs an event loop in this thread, while the tests look into the database beside it
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
expect.set_options(timeout=30_000)


in_the_long_run = unittest.skipUnless(os.environ.get("HOBREL_LONG") == "1", "in ./run test --long; others of its kind are always done")


class BrowserTest(StaticLiveServerTestCase):
    """One browser for all classes of a process; each test has its own school and its own contexts."""

    workers: ClassVar[Literal["allow", "block"]] = "block"
    """Whether pages may keep themselves for when there is no network: what a test holds back or refuses would be answered otherwise."""
    rests: ClassVar[bool] = False
    """Whether pages fetch what may be wanted later; that is a fifth of what opening one costs, and hardly a test waits for it."""
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.playwright, cls.browser = _take_browser()

    def setUp(self) -> None:
        self.school: School = make_school()
        self.troubles: list[str] = []
        self.contexts: list[BrowserContext] = []

    def tearDown(self) -> None:
        for context in self.contexts:
            context.close()
        self.assertEqual(self.troubles, [], "the page reported errors")

    def page_of(self, person: Person | None, path: str = "/", size: Any = SIZE, touch: bool = False) -> Page:
        """A fresh browser window, signed in as somebody."""
        context = self.browser.new_context(
            viewport=size, accept_downloads=True, reduced_motion="reduce", has_touch=touch, is_mobile=touch, service_workers=self.workers
        )
        self.contexts.append(context)
        if not self.rests:
            context.add_init_script("Object.defineProperty(navigator, 'connection', {value: {saveData: true}})")
        context.grant_permissions(["clipboard-read", "clipboard-write"])
        if person is not None:
            cookie = client_of(person).cookies["sessionid"].value
            context.add_cookies([{"name": "sessionid", "value": cookie, "url": self.live_server_url}])
        page = context.new_page()
        page.on("pageerror", lambda error: self.troubles.append(str(error)))
        page.goto(self.live_server_url + path)
        return page

    def open_book(self, person: Person, stage: str = "read", book: Book | None = None, size: Any = SIZE, touch: bool = False) -> Page:
        page = self.page_of(person, f"/books/{(book or self.school.book).pk}/{stage}", size, touch)
        expect(page.locator("main h1").first).to_be_visible()
        return page

    def check_access(
        self, page: Page, *only: str, where: str = "", without: Sequence[str] = (), within: ElementHandle | None = None
    ) -> None:
        """Nothing on the page, or within a part of it, that an automatic check (or the rules of it that are named, or all without some)
        finds to be in somebody's way.
        """
        if not page.evaluate("'axe' in window"):
            page.evaluate(Axe().axe_script)
        # it fetches every style sheet once more for a rule that is not among the usual ones
        options = {"resultTypes": ["violations"], "preload": False, "rules": {rule: {"enabled": False} for rule in without}}
        if only:
            options["runOnly"] = list(only)
        found = page.evaluate(
            "([options, part]) => axe.run(part ?? document, options)"
            ".then(r => r.violations.map(v => [v.id, v.nodes.map(n => n.html.slice(0, 160))]))",
            [options, within],
        )
        self.assertEqual(found, [], where)
        # a telephone's keyboard would write T for t, and Mm for mm
        changed = "fields => fields.filter(f => f.autocapitalize !== 'none').map(f => f.outerHTML.slice(0, 160))"
        exact = page.locator("input.mono:not([readonly]), textarea.mono, .ruled input:not([inputmode=text])")
        self.assertEqual(exact.evaluate_all(changed), [], where)

    def texts(self, quantity: str, book: Book | None = None) -> list[list[str | None]]:
        """The readings of a quantity as the server has them."""
        document = Book.objects.get(pk=(book or self.school.book).pk).document
        return [[r and r["text"] for r in s["readings"].get(quantity, [])] for s in document["runs"][0]["settings"]]


_started: list[tuple[Playwright, Browser]] = []


def _take_browser() -> tuple[Playwright, Browser]:
    """The browser of this process, which a class before may have started: a start costs as much as a test. It ends with the process."""
    if not _started:
        driver = sync_playwright().start()
        _started.append((driver, launch(driver)))
    driver, browser = _started[0]
    if not browser.is_connected():
        _started[0] = driver, launch(driver)
    return _started[0]


def come_late(page: Page, ms: int) -> None:
    """Have every answer of the server come so many milliseconds late."""
    session = page.context.new_cdp_session(page)
    session.send("Network.enable")
    whole = {"offline": False, "latency": ms, "downloadThroughput": -1, "uploadThroughput": -1}
    session.send("Network.emulateNetworkConditions", whole)


def saved(page: Page) -> None:
    """Wait until the page says that everything is saved."""
    expect(page.get_by_role("status").filter(has_text="saved")).to_be_visible()


def describe_width(page: Page) -> None:
    """Describe a quantity of one's own, up to the press that adds it."""
    page.get_by_role("button", name="Quantities").click()
    page.get_by_role("button", name="Add a quantity").click()
    for label, text in (("called", "width"), ("symbol", "h"), ("unit", "mm")):
        page.get_by_label(label).fill(text)


def find_twice_the_mass(page: Page) -> None:
    """Write a finding of one's own and keep it."""
    page.get_by_role("button", name="A finding of your own").click()
    for label, text in (("called", "twice the mass"), ("symbol", "w"), ("w =", "2 m")):
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_role("button", name="Keep this finding").click()


def unfold(page: Page) -> None:
    """Unfold the line of choices over a graph, as who wants to choose something; what has been unfolded stays so."""
    line = page.locator(".choice-words")
    expect(line).to_be_visible()
    if line.get_attribute("aria-expanded") == "false":
        line.click()


def paste(page: Page, target: Locator, text: str) -> None:
    """Put text on the clipboard and paste it as a person would."""
    page.evaluate("text => navigator.clipboard.writeText(text)", text)
    target.click()
    page.keyboard.press("Control+V")
