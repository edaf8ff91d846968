"""Films as they come from elsewhere: cut on a telephone, torn."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.base import in_the_long_run
from tests.browser.film_bench import FilmTest

FILMS = Path(__file__).parent / "films"
"""Forty frames, thirty a second, of a disc that moves by twelve pixels from frame to frame. `trimmed` begins within the twelfth, as where a
telephone has cut what was filmed; `torn` ends in the twenty-seventh, as after a copy that was broken off.
"""


class OtherFilms(FilmTest):
    """Which frame is seen is told by where the disc is."""

    def step_through(self, page: Page, count: int) -> list[int]:
        """Of each frame the number of the one that is seen."""
        found = []
        for i in range(count):
            if i:
                page.locator(".film-frame").press("n")
            self.shown(page, i + 1)
            found.append(round((self.see_dark(page, 320, 180, 320)[0] - 40) / 12))
        return found

    def test_of_a_trimmed_film_every_frame_is_its_own(self) -> None:
        """The browser leaves out the frame that the cut goes through and counts from the next: each was shown one too late."""
        page = self.at_the_film()
        self.bring(page, FILMS / "trimmed.mp4")
        expect(page.locator(".film-place")).to_have_text("1 of 29 0.000 s")
        self.assertEqual(self.step_through(page, 29), list(range(11, 40)))
        expect(page.locator(".film-place")).to_have_text("29 of 29 0.933 s")
        page.locator(".film-frame").press("Home")
        self.assertEqual(self.step_through(page, 3), [11, 12, 13])

    @in_the_long_run
    def test_also_where_the_browser_does_not_take_frames_out(self) -> None:
        """Over plain http. The frame that is left out is not counted then."""
        page = self.at_the_film()
        page.add_init_script("delete globalThis.VideoDecoder")
        page.reload()
        self.bring(page, FILMS / "trimmed.mp4")
        self.assertEqual(self.step_through(page, 28), list(range(12, 40)))

    @in_the_long_run
    def test_a_frame_that_is_not_there_cannot_be_pointed_at(self) -> None:
        page = self.at_the_film()
        self.bring(page, FILMS / "torn.mp4")
        page.locator(".film-frame").press("End")
        self.shown(page, 40)
        expect(page.locator(".film [role=alert]")).to_contain_text("The browser does not show this frame")
        expect(page.get_by_role("button", name="Point here")).to_be_disabled()
        seen = page.locator(".film-frame canvas").evaluate("c => c.getContext('2d').getImageData(0, 0, 640, 360).data.some(Boolean)")
        self.assertFalse(seen, "another frame stands in its place")
        page.locator(".film-frame").press("Home")
        self.assertEqual(self.step_through(page, 2), [0, 1])
