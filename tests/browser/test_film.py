"""Measuring on pictures and films: a motion that is known, measured by keys alone, becomes g; what leaves the device; what goes wrong."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import expect

from hobrel.labbooks.models import Book
from tests.browser.base import saved
from tests.browser.film_bench import FilmTest


class KnownMotion(FilmTest):
    """A film that Hobrel has made and written to a file, brought in like any other."""

    def test_from_a_file_to_positions_by_keys(self) -> None:
        film, page = self.film, self.at_the_film()
        bead, rule = film.bodies[0], film.rule
        with tempfile.TemporaryDirectory() as folder:
            self.bring(page, self.take_out(page, Path(folder) / "fall.webm"))
        self.point(page, rule.ax, rule.ay)
        self.point(page, rule.bx, rule.by)
        page.get_by_label("It is").fill(film.rule_length)
        page.get_by_label("±", exact=True).fill(film.rule_u)
        expect(page.get_by_text("A pixel is")).to_be_visible()
        self.choose(page, "Axes")
        page.get_by_text("through a place").click()
        self.point(page, bead.x[0], bead.y[0])
        self.point(page, bead.x[0] + rule.bx - rule.ax, bead.y[0] + rule.by - rule.ay)
        self.choose(page, "Follow")
        page.get_by_label("called").fill("bead")
        falls = [i for i in range(len(film.times)) if bead.y[0] + 8 < bead.y[i] < max(bead.y) - 1][::2]
        page.get_by_label("every").fill("2")
        frame = page.locator(".film-frame")
        frame.focus()
        for _ in range(falls[0] % 2):
            page.get_by_label("every").fill("1")
            frame.press("n")
            page.get_by_label("every").fill("2")
        while not page.locator(".film-place").inner_text().startswith(f"{falls[0] + 1} of"):
            frame.press("n")
        off: list[float] = []
        for i in falls:
            self.shown(page, i + 1)
            x, y = self.see_dark(page, bead.x[i], bead.y[i])
            off += [x - bead.x[i], y - bead.y[i]]
            self.point(page, x, y)
        self.assertLess(max(map(abs, off)), 0.5, "pixels between what is seen and what is true")
        page.get_by_role("button", name="Write them into the table").click()
        page.get_by_role("button", name="Write them", exact=True).click()
        saved(page)
        document = Book.objects.get(pk=self.book.pk).document
        print(document["runs"][0]["settings"][0], document["quantities"], max(map(abs, off)))
