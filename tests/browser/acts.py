"""Somebody who acts at random on a page, and looks for what nobody should ever see there."""

from __future__ import annotations

import random
from collections.abc import Callable

from playwright.sync_api import Error, Locator, Page, Request, Response

STATIONS = ("ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report")
TEXTS = (
    *("1.25", "0", "-3", "1e5", "abc", "", "2,5", "25.3 cm", "T^2", "1/0", "ln(T)", "x_2", "±", "{", "<b>", "9" * 40, "x^x^x"),
    *("0.300", "é", "T = 3", "1.2.3", "=2", "a b", "∞", "10^400"),
)
KEYS = (
    *("Enter", "Tab", "Shift+Tab", "ArrowDown", "ArrowUp", "ArrowLeft", "ArrowRight", "Escape", "Control+z", "Control+Shift+z"),
    *("Delete", "Backspace", "+", "-", "f", "0", "s", "w", "/", "?", "Home", "End", "Space", "Control+a"),
    *(f"Alt+{n}" for n in (1, 3, 4, 5, 6, 7, 9)),
)
TABLES = ("1\t2\t3\n4\t5\t6", "L/m\tT/s\n1\t2\n3\t4", "a,b\n1,2", "1\n2\n3\n4\n5")
PRESSED = ", ".join(
    f"{what}:visible"
    for what in (
        *("button", "a", "[role=button]", "[role=radio]", "[role=switch]", "[role=tab]", "[role=option]", "[role=menuitem]"),
        *("summary", ".ant-select", "[data-point]", "label"),
    )
)
WRITTEN = "input:visible:not([type=file]), textarea:visible, [contenteditable=true]:visible"
NEVER_PRESSED = ("sign out", "hand in", "erase")
"""What would end the acts of everybody; each has tests of its own."""
NEVER_SHOWN = ("Something went wrong", "NaN", "undefined", "[object", "\\frac", "\\mathrm", "Infinity", "null ")
LATE = (
    "Timeout",
    "not attached",
    "Execution context",
    "Element is not",
    "cannot be filled",
    "ERR_ABORTED",
    "not focused",
    "strict mode",
    "outside of the viewport",
)
"""What Playwright says where the page has changed under the hand."""
OF_THE_BROWSER = ("Failed to load resource", "Service Worker registration blocked", "The specified value")
"""What it says by itself: of a refused request, as bad input deserves; of a worker that tests do without; of a date that is none."""
NO_NUMBER = """
const set = Element.prototype.setAttribute;
Element.prototype.setAttribute = function (name, value) {
  // what is drawn by chance may spell it
  if (name !== 'nonce' && /NaN|Infinity/.test(String(value))) console.error('no number: ' + name + ' of ' + this.outerHTML.slice(0, 80));
  return set.call(this, name, value);
};"""


def is_late(trouble: Error) -> bool:
    """Whether only the page has changed under the hand."""
    return any(word.lower() in trouble.message.lower() for word in LATE)


class Hand:
    """One person's hand on a page; `acts` are what it has done, `found` what should not be, each with what went before."""

    def __init__(self, page: Page, dice: random.Random, places: list[str]) -> None:
        self.page, self.dice, self.places = page, dice, places
        self.acts: list[str] = []
        self.found: list[str] = []
        page.set_default_timeout(1500)
        page.set_default_navigation_timeout(30_000)
        page.add_init_script(NO_NUMBER)
        page.on("pageerror", lambda error: self.tell(f"error on the page: {error}"))
        page.on("console", lambda said: self._hear(said.type, said.text))
        page.on("response", self._look_at_answer)
        page.on("dialog", lambda dialog: dialog.dismiss())

    def tell(self, what: str) -> None:
        self.found.append(f"{what[:400]}\n    at {self.page.url} after: {' > '.join(self.acts[-8:])}")

    def act(self) -> None:
        """One act, whatever it is; one that the page has moved away from under the hand is none."""
        ways: list[tuple[float, Callable[[], None]]] = [
            *((3, self.go_elsewhere), (37, self.press_something), (20, self.write_somewhere), (30, self.press_keys)),
            *((4, self.drag_graph), (3, self.paste_table), (3, self.go_back)),
        ]
        (way,) = self.dice.choices([w for _, w in ways], [share for share, _ in ways])
        try:
            way()
        except Error as trouble:
            if not is_late(trouble):
                self.tell(f"an act failed: {trouble.message}")

    def go_elsewhere(self) -> None:
        place = self.dice.choice(self.places)
        self.acts.append(f"open {place}")
        self.page.goto(place)

    def press_something(self) -> None:
        thing = self._one_of(PRESSED)
        if thing is None:
            return
        name = (thing.get_attribute("aria-label") or thing.text_content() or "")[:40].replace("\n", " ")
        away = (thing.get_attribute("href") or "").startswith(("/api", "http"))
        if away or any(word in name.lower() for word in NEVER_PRESSED):
            return
        self.acts.append(f"press “{name}”")
        thing.click(timeout=800, force=self.dice.random() < 0.2)

    def write_somewhere(self) -> None:
        field = self._one_of(WRITTEN)
        if field is None:
            return
        text = self.dice.choice(TEXTS)
        name = field.get_attribute("aria-label") or field.evaluate("e => e.closest('label')?.textContent || e.id || e.className")
        self.acts.append(f"write {text!r} in “{name[:40]}”")
        field.fill(text, timeout=800)
        if self.dice.random() < 0.7:
            self.page.keyboard.press(self.dice.choice(("Enter", "Tab")))

    def press_keys(self) -> None:
        for key in self.dice.choices(KEYS, k=self.dice.randrange(1, 5)):
            focused = str(self.page.evaluate("document.activeElement?.textContent ?? ''")).lower()
            if key in ("Enter", "Space") and any(word in focused[:60] for word in NEVER_PRESSED):
                continue
            self.acts.append(key)
            self.page.keyboard.press(key)

    def drag_graph(self) -> None:
        box = self.page.locator(".graph svg").first.bounding_box(timeout=300)
        if box is None:
            return
        (x1, y1), (x2, y2) = (
            (box["x"] + box["width"] * self.dice.random(), box["y"] + box["height"] * self.dice.random()) for _ in range(2)
        )
        self.acts.append("drag over the graph")
        self.page.mouse.move(x1, y1)
        self.page.mouse.down()
        self.page.mouse.move(x2, y2, steps=3)
        self.page.mouse.up()

    def paste_table(self) -> None:
        text = self.dice.choice(TABLES)
        self.acts.append(f"paste {text!r}")
        self.page.evaluate("text => navigator.clipboard.writeText(text)", text)
        self.page.keyboard.press("Control+V")

    def go_back(self) -> None:
        self.acts.append("back or reload")
        if self.dice.random() < 0.5:
            self.page.go_back()
        else:
            self.page.reload()

    def look(self) -> None:
        """Whether the page is whole: something on it, no wider than the window, no word on it that nobody should see."""
        if not self.page.url.startswith("http"):
            self.page.goto(self.places[0])
        try:
            wide, window, parts = self.page.evaluate(
                "[document.documentElement.scrollWidth, innerWidth, document.querySelector('#root')?.children.length ?? -1]"
            )
            text = self.page.locator("body").inner_text()
        except Error as trouble:
            if not is_late(trouble):
                self.tell(f"it cannot be looked at: {trouble.message}")
            return
        if wide > window + 1:
            self.tell(f"the page is {wide} wide in a window of {window}")
        if parts == 0:
            self.tell("the page is blank")
        for word in NEVER_SHOWN:
            if word in text:
                place = text.index(word)
                self.tell(f"the page says {text[max(0, place - 60) : place + 60]!r}")

    def _one_of(self, selector: str) -> Locator | None:
        things = self.page.locator(selector)
        count = things.count()
        return things.nth(self.dice.randrange(count)) if count else None

    def _hear(self, kind: str, text: str) -> None:
        if kind in ("error", "warning") and not text.startswith(OF_THE_BROWSER):
            self.tell(f"the console says: {text}")

    def _look_at_answer(self, answer: Response) -> None:
        if answer.status >= 500:
            asked: Request = answer.request
            self.tell(f"{answer.status} to {asked.method} {asked.url} {(asked.post_data or '')[:300]}")
