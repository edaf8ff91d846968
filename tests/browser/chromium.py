"""How Chromium is started, and where the cells of the ruled table are; no part of the server is needed for it."""

from __future__ import annotations

import os
import shutil

from playwright.sync_api import Browser, Locator, Page, Playwright

ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-sync"]
SIZE = {"width": 1280, "height": 800}


def launch(driver: Playwright, *more: str) -> Browser:
    """Headless Chromium: the one that HOBREL_CHROMIUM names, or the one that is installed."""
    found = os.environ.get("HOBREL_CHROMIUM") or shutil.which("chromium-headless-shell") or shutil.which("chromium")
    return driver.chromium.launch(executable_path=found, args=[*ARGUMENTS, *more])


def cell(page: Page, row: int, column: int) -> Locator:
    """A cell of the ruled table by place, from 0."""
    return page.locator(f'input[data-at="{row}:{column}"]')
