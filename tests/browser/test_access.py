"""Nothing stands in anybody's way: every view, sheet and open list through an automatic check, in each form of the look."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from typing import Any

from playwright.sync_api import ElementHandle, Page, expect

from tests.browser.base import BrowserTest
from tests.browser.test_practical import fill

LOOKS: tuple[dict[str, Any], ...] = ({}, {"color_scheme": "dark"}, {"contrast": "more"})
"""As a system asks for them; nothing else is another but colours, so that only contrast is looked at again."""
AS_IT_IS: dict[str, Any] = {"color_scheme": "light", "contrast": "no-preference"}

# station → what is opened there, one after the other, each as (what is pressed, what then is seen)
STATIONS: dict[str, Sequence[Sequence[tuple[str, str]]]] = {
    "ask": [[]],
    "read": [
        [],
        [("button=Keys", "text=next cell, down or across")],
        [("button=Colours", "text=High contrast")],
        [("button=Quantities", "css=.quantity-form, .quantities, form")],
        [("button=Bring in", "css=.bring-drop")],
        [("button=Take out", "css=.ant-dropdown-menu")],
        [("css=input[data-at='2:1']", "css=.row-bar")],
        [("css=.number-link", "css=.sheet-from-below")],
    ],
    "average": [[], [("button=Compare conventions", "css=.chosen")], [("css=.ant-select", "css=.ant-select-dropdown")]],
    "look": [
        [],
        [("css=.choice-words", "css=.choice-words[aria-expanded='true']")],
        [("css=.graph-axis-label", "css=.graph-axis-menu")],
        [("css=[data-point]", "css=.look-point")],
    ],
    "straighten": [
        [],
        [("button=Show what Hobrel makes of them all", "css=.board-square.bends")],
        [("button=More forms", "css=.board-square")],
    ],
    "fit": [
        [],
        [("css=.choice-words", "css=.choice-words[aria-expanded='true']")],
        [("text=How good is it?", "css=details[open]")],
        [("text=Unknowns to read back", "css=details[open]")],
        [("button=Draw a line by eye", "css=.graph-eye")],
    ],
    "find": [[], [("button=A finding of your own", "css=form")], [("text=What would help most?", "css=details[open]")]],
    "pool": [[]],
    "report": [
        [],
        [("text=Other files", "css=.take-out[open]")],
        [("css=.still-missing summary", "css=.still-missing[open]")],
        [("button=Tell it aloud", "css=.telling[open]")],
    ],
}


FLOATING = {"css=.ant-dropdown-menu", "css=.ant-select-dropdown", "css=.sheet-from-below"}
SHOWN = {
    "ask": "textarea", "read": "table.ruled", "average": ".strips", "look": ".graph svg", "straighten": ".straighten-plot .graph svg",
    "fit": ".line-card", "find": ".number-line svg", "pool": "main h1", "report": ".paper-drawing svg",
}  # fmt: skip


LONG = os.environ.get("HOBREL_LONG") == "1"
CONTRAST = "color-contrast"
"""It takes four fifths of a look, and what is opened changes nothing of the rest of the page."""


def looks_for(opened: Sequence[tuple[str, str]], turn: int) -> Sequence[dict[str, Any]]:
    """What lies above the page has colours of its own; what opens within it has the page's. All are looked at in all colours when there is
    time; else, station by station in turn, in one of them, and what opens within a page in those of day.
    """
    floating = any(seen in FLOATING for _, seen in opened)
    if LONG:
        return LOOKS
    return [LOOKS[turn % len(LOOKS)]] if floating or not opened else LOOKS[:1]


class ForEverybody(BrowserTest):
    def test_nothing_at_a_bench_stands_in_anybodys_way(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "ask")
        for key, (stage, openings) in enumerate(STATIONS.items(), 1):
            # the station itself, and of what can be opened there every other: all of it when there is time
            for opened in openings if LONG else [openings[0], *openings[1::2]]:
                page.keyboard.press(f"Alt+{key}")
                expect(page).to_have_url(re.compile(f"/{stage}$"))
                expect(page.locator(SHOWN[stage]).first).to_be_visible()
                for press, seen in opened:
                    self.press(page, press)
                    expect(page.locator(seen).first).to_be_visible()
                at = None if LONG or not opened else page.locator(opened[-1][1]).first.element_handle()
                self.look_at(page, f"{stage}: {opened}", looks_for(opened, key), at)
                page.keyboard.press("Escape")
                # what was opened is closed by going away
                page.keyboard.press("Alt+8")
                expect(page).to_have_url(re.compile("/pool$"))

    def test_nothing_in_the_teachers_way(self) -> None:
        fill(self.school.book)
        page = self.page_of(self.school.teacher)
        expect(page.get_by_role("link", name="Godwit")).to_be_visible()
        self.look_at(page, "start")
        for path, seen in ((f"/classes/{self.school.school_class.pk}", "Deal benches"), ("/school", "Invite a colleague"),
                           (f"/practicals/{self.school.practical.pk}/pool", "Class value")):  # fmt: skip
            page.goto(self.live_server_url + path)
            expect(page.locator("main").get_by_text(seen).last).to_be_visible()
            self.look_at(page, path)
        first = self.page_of(None)
        expect(first.get_by_label("Class code, from your teacher")).to_be_visible()
        self.look_at(first, "sign-in")
        first.get_by_label("Class code, from your teacher").fill(self.school.school_class.join_code)
        first.keyboard.press("Enter")
        first.get_by_role("radio", name="Ann").check()
        expect(first.get_by_label("Your PIN")).to_be_visible()
        self.look_at(first, "sign-in, by name")

    def press(self, page: Page, what: str) -> None:
        kind, _, name = what.partition("=")
        if kind == "button":
            page.get_by_role("button", name=name).first.click()
        else:
            page.locator(what).first.click()

    def look_at(self, page: Page, name: str, looks: Sequence[dict[str, Any]] = LOOKS, opened: ElementHandle | None = None) -> None:
        """In these colours; of what has been opened the part alone, for what is around it has been looked at before it was."""
        self.check_access(page, where=name, without=[CONTRAST], within=opened)
        for look in looks:
            page.emulate_media(**(AS_IT_IS | look))
            self.check_access(page, CONTRAST, where=f"{name} {look}", within=opened)
        page.emulate_media(**AS_IT_IS)

    def test_nothing_on_a_phone(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "average", size={"width": 390, "height": 780}, touch=True)
        expect(page.locator(".strips").first).to_be_visible()
        self.look_at(page, "average", LOOKS[:1])
        page.get_by_role("button", name="Unfold the margin").click()
        expect(page.get_by_role("button", name="Fold the margin away")).to_be_visible()
        self.look_at(page, "margin", LOOKS[:1])
        page.goto(self.live_server_url + f"/books/{self.school.book.pk}/read")
        page.locator('input[data-at="2:1"]').tap()
        expect(page.locator(".keypad")).to_be_visible()
        self.look_at(page, "keypad")


class Colours(BrowserTest):
    """What is painted, by the system's wish and by one's own."""

    def painted(self, page: Page) -> dict[str, str]:
        result: dict[str, str] = page.evaluate(
            """() => ({
              page: getComputedStyle(document.body).backgroundColor,
              axis: getComputedStyle(document.querySelector('.graph-axes line')).stroke,
              point: getComputedStyle(document.querySelector('.graph [data-point] circle')).stroke,
            })"""
        )
        return result

    def test_dark_is_chosen_by_keyboard_stays_and_is_not_printed(self) -> None:
        fill(self.school.book)
        page = self.open_book(self.school.students[0], "look")
        points = page.locator(".graph [data-point]")
        expect(points).to_have_count(8)
        light = self.painted(page)
        self.assertEqual(light, {"page": "rgb(251, 247, 240)", "axis": "rgb(43, 34, 51)", "point": "rgb(0, 114, 178)"})
        page.get_by_role("button", name="Colours").press("Enter")
        expect(page.get_by_role("radio", name="As this device")).to_be_focused()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("radio", name="Dark")).to_be_checked()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Colours")).to_be_focused()
        dark = {"page": "rgb(25, 21, 29)", "axis": "rgb(239, 232, 241)", "point": "rgb(79, 159, 230)"}
        self.assertEqual(self.painted(page), dark)
        page.reload()
        expect(points).to_have_count(8)
        self.assertEqual(self.painted(page), dark)
        page.emulate_media(media="print")
        self.assertEqual(self.painted(page), light)
        # what is chosen goes before what the system asks for; the system's own few colours go before both
        page.emulate_media(media="screen", contrast="more")
        self.assertEqual(self.painted(page), dark)
        page.emulate_media(forced_colors="active", color_scheme="dark")
        self.assertEqual(self.painted(page), {"page": "rgb(0, 0, 0)", "axis": "rgb(255, 255, 255)", "point": "rgb(255, 255, 255)"})
