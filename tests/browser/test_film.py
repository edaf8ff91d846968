"""Measuring on pictures and films: a motion that is known, measured by keys alone, becomes g; what leaves the device; what goes wrong."""

from __future__ import annotations

import io
import math
import re
import tempfile
from dataclasses import replace
from pathlib import Path
from urllib.parse import urlsplit

from PIL import Image, ImageDraw
from playwright.sync_api import FilePayload, expect

from hobrel.core.document.lab_book import Finding, Fit, read_lab_book
from hobrel.core.pipeline.computation import compute
from hobrel.labbooks.models import Book
from tests.browser.base import cell, in_the_long_run, saved
from tests.browser.film_bench import FilmTest


@in_the_long_run
class KnownMotion(FilmTest):
    """A film that Hobrel has made and written to a file, brought in like any other."""

    def test_from_a_file_to_g_by_keys(self) -> None:
        film, page = self.film, self.at_the_film()
        bead, rule = film.bodies[0], film.rule
        with tempfile.TemporaryDirectory() as folder:
            self.bring(page, self.take_out(page, Path(folder) / "fall.webm"))
        self.set_scale(page, by_keys=True)
        self.choose(page, "Axes")
        page.get_by_text("through a place").click()
        self.point(page, bead.x[0], bead.y[0])
        self.point(page, bead.x[0] + rule.bx - rule.ax, bead.y[0] + rule.by - rule.ay)
        self.choose(page, "Follow")
        page.get_by_label("called").fill("bead")
        falls = [i for i in range(len(film.times)) if bead.y[0] + 8 < bead.y[i] < max(bead.y) - 1][::2]
        self.go_to(page, falls[0])
        page.get_by_label("every").fill("2")
        off: list[float] = []
        for turn in (0, 1):
            if turn:
                page.get_by_text("second time", exact=True).click()
                # what was pointed at first does not lead
                expect(page.locator(".film-frame svg circle")).to_have_count(3)
            for i in falls if not turn else falls[:4]:
                self.shown(page, i + 1)
                x, y = self.see_dark(page, bead.x[i], bead.y[i])
                off += [x - bead.x[i], y - bead.y[i]]
                # a hand that is not quite steady
                self.point(page, x + 0.4 * turn, y - 0.3 * turn)
        self.assertLess(max(map(abs, off)), 0.5, "pixels between what is seen and what is true")
        expect(page.get_by_text("by 4 frames pointed at twice")).to_be_visible()
        page.get_by_role("button", name="Write them into the table").click()
        page.get_by_role("button", name="Write them", exact=True).click()
        saved(page)
        expect(cell(page, 1, 2)).to_have_value(re.compile(r"^\d+\.\d+ ± 0\.00\d+$"))
        self.assertLessEqual({urlsplit(r.url).path.rsplit("/", 1)[-1] for r in self.sent}, {"measured", "edits", "opened"})
        self.assertLess(max(len(r.post_data or "") for r in self.sent), 20_000, "no frame leaves the device")

        book = read_lab_book(Book.objects.get(pk=self.book.pk).document)
        x = next(q for q in book.quantities if q.symbol == "x")
        assert x.instrument is not None
        t = next(q for q in book.quantities if q.symbol == "t")
        told = [s.readings[t.id][0] for s in book.runs[0].settings]
        # the file's own times, which a camera that is not punctual has given, and no rate
        self.assertEqual([reading and reading.text for reading in told], [f"{film.times[i]:.3f}" for i in falls])
        self.assertGreater(float(x.instrument.common), 0.1)
        with_fit = replace(
            book, fits=(Fit("f", book.graphs[0].id, shape="quadratic"),), findings=(Finding("G", "gravity", "g", "m/s^2", "2 a", "f"),)
        )
        found = compute(with_fit).finding("G")
        gravity = float(film.truth[0].text.split()[0])
        self.assertLess(abs(found.value - gravity), 2 * found.u, (found.value, found.u))
        self.assertLess(found.u, 0.1)


class OnTheBench(FilmTest):
    @in_the_long_run
    def test_marks_outlive_the_page_and_are_of_one_film(self) -> None:
        page = self.at_the_film()
        with tempfile.TemporaryDirectory() as folder:
            path = self.take_out(page, Path(folder) / "fall.webm")
            self.bring(page, path)
            self.set_scale(page)
            self.choose(page, "Follow")
            for x in (100.0, 104.5, 109.0):
                self.press_at(page, x, 90.0)
            expect(page.get_by_text("Follow 3")).to_be_visible()
            # another station and back: the film is still there
            page.keyboard.press("Alt+4")
            expect(page.locator(".film")).to_have_count(0)
            page.keyboard.press("Alt+2")
            self.shown(page, 3)
            page.reload()
            expect(page.get_by_text("There are 3 marks on fall.webm on this device")).to_be_visible()
            self.bring(page, path, 3)
            expect(page.get_by_text("Follow 3")).to_be_visible()
            expect(page.get_by_text("Scale ✓")).to_be_visible()
            page.get_by_role("button", name="Another one").click()
            other = Path(folder) / "another.webm"
            other.write_bytes(path.read_bytes())
            self.bring(page, other)
            expect(page.get_by_text("Follow 3")).to_have_count(0)

    def test_what_is_no_film_is_said_and_nothing_else_changes(self) -> None:
        page = self.at_the_film()
        for name, content in (("letter.mp4", b"Dear all, " * 400), ("nothing.webm", b""), ("cut.webm", self.webm()[:900])):
            page.get_by_label("A film on this device").set_input_files({"name": name, "mimeType": "video/mp4", "buffer": content})
            expect(page.locator(".film [role=alert]")).to_contain_text(re.compile("cannot play this film|cannot be read from this file"))
        page.get_by_label("Pictures on this device").set_input_files({"name": "a.png", "mimeType": "image/png", "buffer": b"none"})
        expect(page.locator(".film [role=alert]")).to_contain_text("no pictures that this browser can show")
        self.practise(page)
        expect(page.locator(".film [role=alert]")).to_have_count(0)

    def webm(self) -> bytes:
        return bytes.fromhex("1a45dfa3") + bytes(range(256)) * 8

    @in_the_long_run
    def test_two_things_are_two_runs(self) -> None:
        film, page = self.film, self.at_the_film()
        self.practise(page)
        self.set_scale(page)
        self.choose(page, "Follow")
        page.get_by_label("every").fill("10")
        for body, name in zip(film.bodies, ("bead", "cone"), strict=True):
            if name == "cone":
                page.get_by_role("button", name="+ another thing").click()
            page.get_by_label("called").fill(name)
            self.go_to(page, 0, 10)
            for i in (0, 10, 20):
                self.shown(page, i + 1)
                self.press_at(page, body.x[i], body.y[i])
        page.get_by_role("button", name="Write them into the table").click()
        expect(page.get_by_text("each further thing has one: bead, cone")).to_be_visible()
        page.get_by_role("button", name="Write them", exact=True).click()
        saved(page)
        document = Book.objects.get(pk=self.book.pk).document
        self.assertEqual([(r["name"], len(r["settings"])) for r in document["runs"]], [("Readings", 3), ("cone", 3)])
        keys = [set(s["readings"]) for r in document["runs"] for s in r["settings"]]
        self.assertTrue(all(key == keys[0] and len(key) == 3 for key in keys))
        # one undo takes the second run back, the next the first
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("tab", name="cone")).to_have_count(0)
        saved(page)
        self.assertEqual(len(Book.objects.get(pk=self.book.pk).document["runs"]), 1)

    @in_the_long_run
    def test_positions_go_into_columns_of_other_units(self) -> None:
        film = self.film
        headings = [
            {"quantity": "t", "text": "time t / ms"},
            {"quantity": "h", "text": "height h / cm"},
            {"quantity": "m", "text": "mass m / g"},
        ]
        self.send({"type": "fill_run", "run": "run1", "settings": [], "new": headings, "first": None})
        page = self.at_the_film()
        self.practise(page)
        self.set_scale(page)
        self.choose(page, "Axes")
        self.press_at(page, 10, film.height - 10)
        self.choose(page, "Follow")
        page.get_by_label("every").fill("30")
        for _ in (0, 1):
            self.press_at(page, 200, 300)
        page.get_by_role("button", name="Write them into the table").click()
        page.get_by_label("x is").click()
        page.get_by_title("left out").last.click()
        page.get_by_label("y is").click()
        page.get_by_title("h / cm, height").last.click()
        page.get_by_role("button", name="Write them", exact=True).click()
        saved(page)
        per_pixel = 100 / math.hypot(film.rule.bx - film.rule.ax, film.rule.by - film.rule.ay)
        for row in Book.objects.get(pk=self.book.pk).document["runs"][0]["settings"]:
            value = float(row["readings"]["h"][0]["text"].split(" ± ")[0])
            self.assertLess(abs(value - (film.height - 310) * per_pixel), 0.4, "centimetres")
        times = [row["readings"]["t"][0]["text"] for row in Book.objects.get(pk=self.book.pk).document["runs"][0]["settings"]]
        self.assertEqual(times, ["0", f"{1000 * film.times[30]:.0f}"])

    def test_pointing_goes_on_without_the_server(self) -> None:
        page = self.at_the_film()
        self.practise(page)
        self.set_scale(page)
        self.choose(page, "Follow")
        page.route("**/measured", lambda route: route.abort())
        for x in (100.0, 110.0):
            self.press_at(page, x, 90.0)
        expect(page.get_by_text("The server cannot be reached. Go on pointing")).to_be_visible()
        expect(page.get_by_text("Follow 2")).to_be_visible()
        page.unroute("**/measured")
        expect(page.locator(".film-rows tbody tr")).to_have_count(2)
        expect(page.get_by_text("The server cannot be reached. Go on pointing")).to_have_count(0)

    @in_the_long_run
    def test_what_is_typed_wrongly_is_said_and_takes_nothing_away(self) -> None:
        page = self.at_the_film()
        self.practise(page)
        self.set_scale(page)
        self.choose(page, "Follow")
        self.press_at(page, 100.0, 90.0)
        expect(page.locator(".film-rows tbody tr")).to_have_count(1)
        page.get_by_label("or as you judge, pixels").fill("few")
        expect(page.locator(".film-tool .notice")).to_be_visible()
        expect(page.locator(".film-rows tbody tr")).to_have_count(1)
        self.choose(page, "Scale")
        page.get_by_label("in", exact=True).fill("kg")
        self.choose(page, "Follow")
        page.get_by_label("or as you judge, pixels").fill("0.5")
        self.choose(page, "Scale")
        expect(page.get_by_text("The known length is in a unit of length")).to_be_visible()
        page.get_by_label("in", exact=True).fill("cm")
        expect(page.get_by_text("A pixel is")).to_be_visible()

    @in_the_long_run
    def test_an_angle_about_a_fixed_place(self) -> None:
        page = self.at_the_film()
        self.practise(page)
        self.choose(page, "Follow")
        page.get_by_label("also its angle").check()
        expect(page.get_by_text("Point at the fixed place.")).to_be_visible()
        self.press_at(page, 200, 300)
        for x, y in ((260.0, 300.0), (200.0, 240.0), (140.0, 300.0), (200.0, 360.0), (260.0, 300.0), (200.0, 240.0)):
            self.press_at(page, x, y)
        # no scale is needed for it, and it goes on past a full turn
        expect(page.locator(".film-rows tbody tr").first.locator("td").last).to_have_text(re.compile(r"^450\.0 ± "))

    def test_a_kept_frame_is_in_the_report_and_nothing_else_is_sent(self) -> None:
        film, page = self.film, self.at_the_film()
        self.practise(page)
        self.choose(page, "Axes")
        self.press_at(page, film.bodies[0].x[0], film.bodies[0].y[0])
        self.choose(page, "Follow")
        self.press_at(page, film.bodies[0].x[0], film.bodies[0].y[0])
        self.shown(page, 2)
        page.get_by_role("button", name="Keep for the report").click()
        expect(page.get_by_text("The frame is in your report now.")).to_be_visible()
        saved(page)
        pictures = [r for r in self.sent if urlsplit(r.url).path.endswith("/pictures")]
        self.assertEqual(len(pictures), 1)
        (picture,) = Book.objects.get(pk=self.book.pk).document["report"]["pictures"]
        self.assertEqual((picture["width"], picture["height"]), (film.width, film.height))
        self.assertIn("the places of A marked", picture["alt"])
        page.keyboard.press("Alt+9")
        shown = page.get_by_role("img", name=picture["alt"])
        expect(shown).to_be_visible()
        expect(shown).to_have_js_property("naturalWidth", film.width)

    @in_the_long_run
    def test_by_ear_and_by_touch(self) -> None:
        page = self.at_the_film()
        self.practise(page)
        self.set_scale(page)
        for tool in ("Axes", "Follow", "Measure", "Scale"):
            self.choose(page, tool)
            self.check_access(page, where=tool)
        page.locator(".film-frame").press("a")
        expect(page.get_by_role("status").filter(has_text="frame 1 of 64. The cross is at")).to_be_attached()
        small = self.page_of(self.school.teacher, f"/books/{self.book.pk}/read", {"width": 390, "height": 844}, touch=True)
        self.bring_out(small)
        self.practise(small)
        small.locator(".film-frame").tap(position={"x": 50, "y": 60})
        small.get_by_role("button", name="Point here").tap()
        expect(small.get_by_text("Now point at its other end.")).to_be_visible()
        self.assertEqual(small.evaluate("document.documentElement.scrollWidth"), 390)


class StandingStill(FilmTest):
    """Pictures: lengths, angles and areas on one, and several as frames of a typed time."""

    def picture(self, name: str, size: tuple[int, int] = (400, 300)) -> FilePayload:
        image = Image.new("RGB", size, "white")
        ImageDraw.Draw(image).rectangle((100, 100, 300, 200), fill="black")
        out = io.BytesIO()
        image.save(out, "PNG")
        return {"name": name, "mimeType": "image/png", "buffer": out.getvalue()}

    @in_the_long_run
    def test_sizes_on_one_picture_written_down(self) -> None:
        page = self.open_book(self.school.students[0])
        self.bring_out(page)
        page.get_by_label("Pictures on this device").set_input_files(self.picture("block.png"))
        expect(page.locator(".film-frame[aria-busy=false]")).to_be_visible()
        self.point(page, 100, 100)
        self.point(page, 300, 100)
        page.get_by_label("It is").fill("20.0")
        page.get_by_label("in", exact=True).fill("cm")
        expect(page.get_by_text("A pixel is 0.1000 cm")).to_be_visible()
        self.choose(page, "Measure")
        self.point(page, 100, 100)
        self.point(page, 100, 200)
        expect(page.get_by_text(re.compile(r"10\.0\d ± 0\.1\d cm"))).to_be_visible()
        page.locator(".film-tool").get_by_text("angle", exact=True).click()
        for place in ((300, 100), (100, 100), (100, 200)):
            self.point(page, *place)
        expect(page.get_by_text(re.compile(r"\(90\.0\d ± .*\)°"))).to_be_visible()
        page.locator(".film-tool").get_by_text("area", exact=True).click()
        for place in ((100, 100), (300, 100), (300, 200), (100, 200)):
            self.point(page, *place)
        expect(page.get_by_text(re.compile(r"200\.\d ± .* cm²"))).to_be_visible()
        page.get_by_role("button", name="write down").first.click()
        saved(page)
        written = [r for row in self.texts("L") for r in row if r and "±" in r]
        self.assertEqual(len(written), 1)
        self.assertRegex(written[0] or "", r"^\(10\.\d+ ± 0\.1\d\) cm$")

    @in_the_long_run
    def test_pictures_as_frames(self) -> None:
        page = self.at_the_film()
        page.get_by_label("Pictures on this device").set_input_files([self.picture(f"p{n}.png") for n in (10, 2, 1)])
        self.shown(page, 1)
        expect(page.get_by_role("heading", name="p1.png and 2 more")).to_be_visible()
        self.press_at(page, 100, 100)
        self.press_at(page, 300, 100)
        page.get_by_label("It is").fill("0.20")
        self.choose(page, "Axes")
        page.get_by_label("From frame to frame").fill("0.5")
        self.choose(page, "Follow")
        for n, x in enumerate((100, 150, 250)):
            self.shown(page, n + 1)
            self.press_at(page, x, 200)
        expect(page.locator(".film-rows tbody tr").first.locator("td").nth(1)).to_have_text("1.0")
        page.get_by_role("button", name="Another one").click()
        page.get_by_label("Pictures on this device").set_input_files([self.picture("a.png"), self.picture("b.png", (200, 300))])
        self.shown(page, 1)
        page.locator(".film-frame").press("n")
        expect(page.locator(".film [role=alert]")).to_contain_text("one scale does not fit both")
        expect(page.get_by_role("button", name="Point here")).to_be_disabled()


class InMotion(FilmTest):
    """What is fitted, over the film that it is of, and beside its graph."""

    def fall(self) -> None:
        """The bead's fall along the rule, with a curve through it, as if it had been measured."""
        film = self.film
        bead, rule = film.bodies[0], film.rule
        per_pixel = float(film.rule_length) / math.hypot(rule.bx - rule.ax, rule.by - rule.ay)
        # neither while it is held nor when it lies
        falls = [i for i in range(len(film.times)) if bead.y[0] + 1 < bead.y[i] < max(bead.y) - 1]
        rows = [
            {"id": f"s{i}", "readings": {"t": [{"text": f"{film.times[i]:.3f}"}],
             "x": [{"text": f"{per_pixel * math.hypot(bead.x[i] - bead.x[0], bead.y[i] - bead.y[0]):.4f} ± 0.0007"}]}}
            for i in falls
        ]  # fmt: skip
        new = [{"quantity": "t", "text": "time t / s"}, {"quantity": "x", "text": "fallen x / m"}]
        self.send({"type": "fill_run", "run": "run1", "settings": rows, "new": new, "first": {"graph": "g", "fit": "f"}})
        self.send({"type": "place_fit", "fit": "f", "was": {"shape": "line"}, "becomes": {"shape": "cubic"}})

    @in_the_long_run
    def test_a_fit_over_the_film(self) -> None:
        self.fall()
        film, page = self.film, self.at_the_film()
        bead, rule = film.bodies[0], film.rule
        self.practise(page)
        self.set_scale(page)
        self.choose(page, "Axes")
        page.get_by_text("through a place").click()
        self.press_at(page, bead.x[0], bead.y[0])
        self.press_at(page, bead.x[0] + rule.bx - rule.ax, bead.y[0] + rule.by - rule.ay)
        self.choose(page, "Follow")
        page.get_by_label("Laid over it along x:").click()
        page.get_by_title("x against t").click()
        page.get_by_label("every").fill("10")
        ring = page.locator(".film-model circle")
        page.locator(".film-frame").press("Home")
        self.shown(page, 1)
        for i in (10, 20):
            page.locator(".film-frame").press("n")
            self.shown(page, i + 1)
            at = [float(ring.get_attribute(part) or "nan") for part in ("cx", "cy")]
            self.assertLess(math.hypot(at[0] - bead.x[i], at[1] - bead.y[i]), 2, (i, at))

    @in_the_long_run
    def test_a_graph_over_time_plays_as_its_motion(self) -> None:
        self.fall()
        page = self.open_book(self.school.teacher, "fit", self.book)
        page.get_by_role("button", name="play", exact=True).click()
        motion = page.get_by_role("region", name="Motion of fallen")
        slider = motion.get_by_role("slider", name="Time")
        expect(motion.get_by_role("button", name="Hold")).to_be_visible()
        expect(motion.get_by_role("button", name="Play")).to_be_visible()
        # at the end what was measured is where what is fitted is, high on the rail where much has been fallen through
        body, ring = (motion.locator(f".motion-{kind}") for kind in ("body", "model"))
        ends = [float(mark.get_attribute("cy") or "nan") for mark in (body, ring)]
        self.assertLess(abs(ends[0] - ends[1]), 4)
        slider.press("Home")
        starts = [float(mark.get_attribute("cy") or "nan") for mark in (body, ring)]
        self.assertGreater(starts[0] - ends[0], 150)
        self.check_access(page)
        page.get_by_role("button", name="play", exact=True).click()
        expect(motion).to_have_count(0)
