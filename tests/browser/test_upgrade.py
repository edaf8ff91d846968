"""The server is replaced by a newer one while people type: what waits is sent to it, and open pages go on."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

from playwright.sync_api import expect, sync_playwright

from tests.browser.base import saved
from tests.browser.chromium import SIZE, cell, launch
from tests.server.production import Server, free_port

STATION = "Report"


@unittest.skipUnless(os.environ.get("HOBREL_LONG") == "1", "it starts three servers; see ./run test --long")
class Upgrade(unittest.TestCase):
    def test_what_waits_is_sent_to_the_new_server_and_the_open_page_goes_on(self) -> None:
        with tempfile.TemporaryDirectory() as folder, sync_playwright() as driver:
            server = Server(folder, free_port())
            server.manage("collectstatic", "--noinput", "-v0")
            server.load_demo()
            server.start()
            browser = launch(driver)
            try:
                page = browser.new_context(viewport=SIZE, reduced_motion="reduce").new_page()
                # a station that this page has not loaded when the upgrade comes
                page.route(f"**/assets/{STATION}-*.js", lambda route: route.abort())
                page.goto(f"http://127.0.0.1:{server.port}/")
                page.get_by_role("button", name="Ada Wren").click()
                page.get_by_text("Open the lab book").first.click()
                page.locator('.trail a[href$="/read"]').click()
                expect(cell(page, 0, 1)).to_be_visible(timeout=40_000)
                server.kill()
                cell(page, 0, 1).fill("4.44")
                page.keyboard.press("Enter")
                expect(page.get_by_role("status").filter(has_text="1 change waiting")).to_be_visible()
                # the newer one has other files
                (old,) = Path(folder, "static", "assets").glob(f"{STATION}-*.js")
                new = old.rename(old.with_suffix(".new"))
                server.start()
                saved(page)
                page.unroute(f"**/assets/{STATION}-*.js")
                page.locator('.trail a[href$="/report"]').click()
                expect(page.get_by_role("heading", name="Report is not here yet")).to_be_visible()
                expect(page.get_by_text("The server has been renewed")).to_be_visible(timeout=40_000)
                server.kill()
                new.rename(old)
                server.start()
                page.get_by_role("button", name="Load the page anew").click()
                expect(page.get_by_role("article", name="Report")).to_be_visible(timeout=40_000)
                page.locator('.trail a[href$="/read"]').click()
                expect(cell(page, 0, 1)).to_have_value("4.44")
            finally:
                browser.close()
                server.kill()
