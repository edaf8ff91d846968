"""A hand at one device, and what it has pressed and typed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.browser.base import cell

STATIONS = ("ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report")


@dataclass(frozen=True)
class Device:
    """What somebody works at: its name, its window, and whether fingers are what it is used with."""

    name: str
    size: dict[str, int]
    touch: bool


DEVICES = (
    Device("laptop", {"width": 1280, "height": 800}, False),
    Device("tablet", {"width": 820, "height": 1180}, True),
    Device("phone", {"width": 390, "height": 844}, True),
)


class Hand:
    """Counts what is pressed (a click, a tap, a drag, a file that is chosen) and the keys that are struck (a shortcut is one)."""

    def __init__(self, page: Page, device: Device) -> None:
        self.page, self.device = page, device
        self.presses = self.keys = 0

    def press(self, target: Locator) -> None:
        """Press something once it is there."""
        target = target.first
        expect(target).to_be_attached()
        if self.device.touch:
            target.tap()
        else:
            target.click()
        self.presses += 1

    def button(self, name: str, **more: Any) -> None:
        self.press(self.page.get_by_role("button", name=name, **more))

    def text(self, words: str, **more: Any) -> None:
        self.press(self.page.get_by_text(words, **more))

    def type(self, text: str) -> None:
        """Type into what has the focus."""
        self.page.keyboard.type(text)
        self.keys += len(text)

    def key(self, name: str) -> None:
        self.page.keyboard.press(name)
        self.keys += 1

    def write(self, target: Locator, text: str) -> None:
        """Press a field and write in it instead of what was there."""
        self.press(target)
        if target.first.input_value():
            self.key("Control+a")
        self.type(text)

    def cell(self, row: int, column: int) -> None:
        """Go to a cell of the table, unless the focus is there."""
        place = cell(self.page, row, column)
        expect(place).to_be_attached()
        if not place.evaluate("e => e === document.activeElement"):
            self.press(place)

    def paste(self, text: str) -> None:
        self.page.evaluate("text => navigator.clipboard.writeText(text)", text)
        self.key("Control+v")

    def drag(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Drag over the page; on a touch screen with the pointer all the same, as a finger would."""
        mouse = self.page.mouse
        mouse.move(*start)
        mouse.down()
        mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
        mouse.move(*end)
        mouse.up()
        self.presses += 1

    def go(self, stage: str) -> None:
        """To another station: by its keys where there is a keyboard, else along the trail."""
        if not self.device.touch:
            self.key(f"Alt+{STATIONS.index(stage) + 1}")
            return
        trail = self.page.get_by_role("navigation", name="Stages of the lab book")
        while not self.page.url.endswith(f"/{stage}"):
            here = STATIONS.index(self.page.url.rsplit("/", 1)[-1])
            links = trail.get_by_role("link")
            wanted = trail.locator(f'a[href$="/{stage}"]')
            if not wanted.is_visible():
                step = STATIONS[here + (1 if STATIONS.index(stage) > here else -1)]
                wanted = trail.locator(f'a[href$="/{step}"]')
            expect(links.first).to_be_visible()
            before = self.page.url
            self.press(wanted)
            expect(self.page).not_to_have_url(before)

    def choices(self) -> None:
        """Unfold the line of choices over a graph."""
        line = self.page.locator(".choice-words")
        expect(line).to_be_visible()
        if line.get_attribute("aria-expanded") == "false":
            self.press(line)

    def box(self, target: Locator) -> tuple[float, float, float, float]:
        target.first.scroll_into_view_if_needed()
        box = target.first.bounding_box()
        assert box is not None
        return box["x"], box["y"], box["width"], box["height"]

    def middle(self, target: Locator) -> tuple[float, float]:
        x, y, width, height = self.box(target)
        return x + width / 2, y + height / 2
