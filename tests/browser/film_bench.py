"""A film on the bench of a lab book of one's own, pointed at by keys as somebody does who looks at the loupe."""

from __future__ import annotations

import json
import math
import uuid
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, Request, expect

from hobrel.core.apparatus.let_go import DrawnFilm
from hobrel.core.questions.pointing import draw_own_film
from hobrel.labbooks import own
from hobrel.labbooks.rigs import seeds_of
from tests.browser.base import BrowserTest
from tests.school import client_of

# the middle of what is as dark as lead around a place of the frame that is shown, as an eye sees it
_MIDDLE_OF_DARK = """(canvas, [x, y, reach]) => {
  const pen = canvas.getContext('2d');
  const left = Math.max(0, Math.floor(x - reach)), top = Math.max(0, Math.floor(y - reach));
  const across = Math.min(2 * reach, canvas.width - left), down = Math.min(2 * reach, canvas.height - top);
  const { data, width, height } = pen.getImageData(left, top, across, down);
  let sum = 0, sx = 0, sy = 0;
  for (let j = 0; j < height; j++) for (let i = 0; i < width; i++) {
    const dark = Math.max(0, 150 - data[4 * (j * width + i)]);
    sum += dark; sx += dark * (i + 0.5); sy += dark * (j + 0.5);
  }
  return sum ? [left + sx / sum, top + sy / sum] : null;
}"""


class FilmTest(BrowserTest):
    """A teacher with a lab book of their own, and what leaves their device."""

    def setUp(self) -> None:
        super().setUp()
        self.book = own.begin_book(self.school.teacher)
        self.sent: list[Request] = []

    @property
    def film(self) -> DrawnFilm:
        return draw_own_film(seeds_of(self.book).own, True)

    def send(self, edit: dict[str, object]) -> None:
        wanted = [{"client_id": str(uuid.uuid4()), "edit": edit}]
        address = f"/api/books/{self.book.pk}/edits"
        answer = client_of(self.school.teacher).post(address, json.dumps({"edits": wanted}), content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)

    def at_the_film(self) -> Page:
        page = self.open_book(self.school.teacher, "read", self.book)
        page.on("request", lambda request: self.sent.append(request) if request.method != "GET" else None)
        self.bring_out(page)
        return page

    def bring_out(self, page: Page) -> None:
        page.get_by_role("button", name="Pictures", exact=True).click()
        page.get_by_role("menuitem", name="Measure on a picture or a film").click()

    def bring(self, page: Page, path: Path, number: int = 1) -> None:
        page.get_by_label("A film on this device").set_input_files(path)
        self.shown(page, number)

    def practise(self, page: Page) -> None:
        page.get_by_role("button", name="A film to practise on").click()
        self.shown(page, 1)

    def take_out(self, page: Page, to: Path) -> Path:
        """The film that is drawn, as a file."""
        self.practise(page)
        with page.expect_download() as download:
            page.get_by_role("button", name="Take it out as a file").click()
        download.value.save_as(to)
        page.get_by_role("button", name="Another one").click()
        return to

    def shown(self, page: Page, number: int) -> None:
        """Wait until this frame is seen."""
        expect(page.locator(".film-place")).to_contain_text(f"{number} of ")
        expect(page.locator(".film-frame[aria-busy=false]")).to_be_visible()

    def aim(self, page: Page, x: float, y: float) -> None:
        """Bring the cross to a place by the arrow keys, ten pixels, one and a tenth at a time."""
        frame = page.locator(".film-frame")
        frame.focus()
        at = [float(part) for part in page.locator(".film-aim .mono").inner_text().removesuffix(" px").split(", ")]
        for size in (10.0, 1.0, 0.1):
            self.step_by(page, size)
            for axis, (goal, keys) in enumerate(((x, ("ArrowLeft", "ArrowRight")), (y, ("ArrowUp", "ArrowDown")))):
                count = round((goal - at[axis]) / size) if size < 1 else math.trunc((goal - at[axis]) / size)
                for _ in range(abs(count)):
                    page.keyboard.press(keys[count > 0])
                at[axis] += count * size
        expect(page.locator(".film-aim .mono")).to_have_text(f"{x:.1f}, {y:.1f} px")

    def step_by(self, page: Page, size: float) -> None:
        hint = page.locator(".film-hint")
        while f"move by {size:g} px" not in hint.inner_text():
            page.keyboard.press("z")

    def point(self, page: Page, x: float, y: float) -> None:
        self.aim(page, round(x, 1), round(y, 1))
        page.keyboard.press("Enter")

    def press_at(self, page: Page, x: float, y: float) -> None:
        """Point by a press of the mouse, as nearly as the screen allows."""
        frame = page.locator(".film-frame")
        expect(page.locator(".film-frame[aria-busy=false]")).to_be_visible()
        scale = frame.evaluate("frame => frame.clientWidth / frame.querySelector('canvas').width")
        frame.click(position={"x": x * scale, "y": y * scale})

    def see_dark(self, page: Page, x: float, y: float, reach: int = 12) -> tuple[float, float]:
        """Where the middle of something dark is on the frame that is shown."""
        found: Any = page.locator(".film-frame canvas").evaluate(_MIDDLE_OF_DARK, [x, y, reach])
        self.assertIsNotNone(found, "there is nothing dark here")
        return found[0], found[1]

    def choose(self, page: Page, tool: str) -> None:
        page.get_by_role("radiogroup", name="What is pointed at").get_by_text(tool).click()

    def set_scale(self, page: Page, by_keys: bool = False) -> None:
        """By the rule of the film that is drawn."""
        rule = self.film.rule
        point = self.point if by_keys else self.press_at
        point(page, rule.ax, rule.ay)
        point(page, rule.bx, rule.by)
        page.get_by_label("It is").fill(self.film.rule_length)
        page.get_by_label("±", exact=True).fill(self.film.rule_u)
        expect(page.get_by_text("A pixel is")).to_be_visible()

    def go_to(self, page: Page, index: int, step: int = 1) -> None:
        """Step to a frame from the first."""
        frame = page.locator(".film-frame")
        frame.press("Home")
        for i in range(0, index, step):
            frame.press("n")
            self.shown(page, i + step + 1)
        self.shown(page, index + 1)
