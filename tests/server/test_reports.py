"""Reports and hand-ins: the numbers of the analysis, text that stays text, and what is handed in stays as it was."""

from __future__ import annotations

import io
import re
import struct
import zipfile
import zlib

from django.test import TestCase
from pypdf import PdfReader

from hobrel.reports.actions import frame_report, set_apart
from hobrel.reports.models import HandIn
from hobrel.school.teachers import write_school
from tests.placing import placing
from tests.school import add_setting, analysis_of, client_of, fill, keep_summaries, make_school, reading, send_edit

HOSTILE = '<script>alert(1)</script> #import "x" $\\phantom{\\text{#panic()}}$ {E} {nothing} {"t":"RawBlock"}'


def look_at_png(picture: bytes) -> tuple[int, tuple[int, ...]]:
    """Width in pixels, and the first pixel with its opacity (in the first row, filters have nothing to add it to)."""
    width, _, depth, colours = struct.unpack(">IIBB", picture[16:26])
    assert (depth, colours) == (8, 6), "eight bits of red, green, blue and opacity"
    data, at = b"", 8
    while at < len(picture):
        length, kind = struct.unpack(">I4s", picture[at : at + 8])
        data += picture[at + 8 : at + 8 + length] if kind == b"IDAT" else b""
        at += 12 + length
    return width, tuple(zlib.decompress(data)[1:5])


class Reports(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        self.client = client_of(self.school.students[0])
        self.address = f"/api/books/{self.school.book.pk}"

    def test_a_name_from_right_to_left_takes_no_number_along(self) -> None:
        """U+2068 and U+2069 keep what stands between them apart (Unicode Standard Annex 9, 2.4)."""
        student = self.school.students[0]
        student.shown_name = "فاطمة الزهراء"
        student.save()
        self.assertEqual(send_edit(self.client, self.school.book, add_setting("more")).status_code, 200)
        (line,) = frame_report(self.school.book).history
        self.assertRegex(line, "^\u2068فاطمة الزهراء\u2069: \\d+ changes?, on ")
        self.assertEqual([set_apart(name) for name in ("Ada Wren", "Þóra", "李 小龙", "")], ["Ada Wren", "Þóra", "李 小龙", ""])

    def write(self, section: str, text: str) -> None:
        edit = {"type": "write_text", "section": section, "text": text, "was": ""}
        self.assertEqual(send_edit(self.client, self.school.book, edit).status_code, 200)

    def test_the_page_holds_what_was_done(self) -> None:
        self.write("conclusion", "We found {E}.")
        send_edit(self.client, self.school.book, {"type": "set_aside", "run": "run1", "setting": "s2", "reason": "the clamp slipped"})
        self.school.book.refresh_from_db()
        finding = analysis_of(self.school.book).findings[0].value
        assert finding is not None
        page = self.client.get(self.address + "/report.html").content.decode()
        text = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", "", page.partition("<main>")[2]))
        for words in ("The clamped strip", "Bench Godwit: Ann, Bo", f"We found {finding.text}.",
                      "At L = 0.350 m, the whole setting: the clamp slipped",
                      "Left out, and why", finding.text, "bending test in the Tidewater workshop"):  # fmt: skip
            with self.subTest(words):
                self.assertIn(words, text)
        self.assertEqual(page.count("<svg role="), 3)  # two graphs and the number line
        self.assertIn("<math", page)
        # a lab report that can be read without a network: nothing is fetched from anywhere
        self.assertEqual(re.findall(r'(?:src|href)="(?!data:|#)[^"]*"', page), [])

    def test_what_the_bench_needed_to_see_stands_before_the_verdict(self) -> None:
        book = self.school.book
        book.document = book.document | {"bench_foresees": True}
        book.save()
        before = " ".join(self.client.get(self.address + "/report.html").content.decode().split())
        self.assertIn("The bench has not written yet what it would need to see", before)
        self.assertNotIn("the accepted value: they are", before)
        edit = {"type": "write_needed", "finding": "E", "text": "bars that <b>overlap</b>"}
        self.assertEqual(send_edit(self.client, book, edit).status_code, 200)
        after = " ".join(self.client.get(self.address + "/report.html").content.decode().split())
        self.assertIn("written before: bars that &lt;b&gt;overlap&lt;/b&gt;", after)
        self.assertLess(after.index("written before:"), after.index("the accepted value: they are"))

    def test_markup_in_any_text_stays_text(self) -> None:
        self.write("discussion", HOSTILE)
        page = self.client.get(self.address + "/report.html").content.decode()
        self.assertNotIn("<script", page)
        self.assertIn("&lt;script&gt;alert(1)&lt;/script&gt;", page)
        self.assertIn("{nothing}", page)
        self.assertTrue(self.client.get(self.address + "/report.pdf").content.startswith(b"%PDF-"))

    def test_what_is_handed_in_stays_and_can_be_handed_in_again(self) -> None:
        self.assertEqual(len(self.client.post(self.address + "/hand-in").json()), 1)
        self.assertEqual(self.client.post(self.address + "/hand-in").json()["code"], "handed_in")
        first = HandIn.objects.get()
        before = self.client.get(f"/api/hand-ins/{first.pk}/report.pdf").content
        old = self.school.book.document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]
        send_edit(self.client, self.school.book, reading("2.99", old, "s1"))
        self.assertEqual(self.client.get(f"/api/hand-ins/{first.pk}/report.pdf").content, before)
        self.assertEqual([h["number"] for h in self.client.post(self.address + "/hand-in").json()], [1, 2])
        with self.assertRaises(TypeError):
            first.save()

    def test_an_unfinished_book_makes_a_report_too(self) -> None:
        empty = client_of(self.school.other_bench)
        for ending in ("html", "pdf", "docx", "odt"):
            with self.subTest(ending):
                self.assertEqual(empty.get(f"/api/books/{self.school.other_book.pk}/report.{ending}").status_code, 200)

    def test_what_has_changed_between_two_hand_ins_is_said(self) -> None:
        self.client.post(self.address + "/hand-in")
        old = self.school.book.document["runs"][0]["settings"][0]["readings"]["t10"][0]["text"]
        send_edit(self.client, self.school.book, reading("2.99", old, "s1"))
        self.write("method", "We timed it.")
        self.client.post(self.address + "/hand-in")
        first, second = HandIn.objects.order_by("number")
        self.assertEqual(self.client.get(f"/api/hand-ins/{first.pk}/changes").json(), [])
        for client in (self.client, client_of(self.school.teacher)):
            found = {c["title"]: c for c in client.get(f"/api/hand-ins/{second.pk}/changes").json()}
            self.assertIn(f"{old} is now 2.99", " ".join(w["text"] for w in found["Readings"]["words"]))
            self.assertEqual(found["Method"]["after"], "We timed it.")

    def test_every_drawing_of_the_report_can_be_had_those_of_the_class_too(self) -> None:
        address = f"/api/practicals/{self.school.practical.pk}/pool"
        client_of(self.school.teacher).post(address, {"open": True}, content_type="application/json")
        keep_summaries(self.school.practical)
        blocks = [b for part in self.client.get(self.address + "/report").json()["parts"] for b in part["blocks"]]
        keys = [b["key"] for b in blocks if b["kind"] == "drawing"]
        self.assertIn("class-E", keys)
        for key in keys:
            self.assertEqual(self.client.get(f"{self.address}/report/drawings/{key}.svg").status_code, 200, key)

    def test_on_fine_squares_and_as_empty_axes(self) -> None:
        fine = self.client.get(self.address + "/graphs/straight.svg?rules=fine").content.decode()
        ruled = self.client.get(self.address + "/graphs/straight.svg").content.decode()
        plain = self.client.get(self.address + "/graphs/straight.svg?rules=none").content.decode()
        ticks = ruled.count("<line") - plain.count("<line")
        # ten or five to a tick, and on to the edges
        self.assertGreater(fine.count("<line") - ruled.count("<line"), 5 * (ticks - 2))
        empty = self.client.get(self.address + "/graphs/straight.svg?rules=fine&empty=true&fitted=true").content.decode()
        self.assertEqual(empty.count("<circle") + empty.count("<polyline"), 0)
        self.assertIn("overhang cubed", empty)
        self.assertTrue(self.client.get(self.address + "/graphs/straight.pdf?rules=fine&empty=true").content.startswith(b"%PDF-"))

    def test_a_table_alone_and_all_pictures_in_one_archive(self) -> None:
        self.assertTrue(self.client.get(self.address + "/report/tables/readings-run1.pdf").content.startswith(b"%PDF-"))
        self.assertEqual(self.client.get(self.address + "/report/tables/nothing.pdf").status_code, 404)
        self.assertEqual(self.client.get(self.address + "/report/drawings/nothing.svg").status_code, 404)
        with zipfile.ZipFile(io.BytesIO(self.client.get(self.address + "/report/pictures.zip").content)) as archive:
            self.assertEqual(sorted(archive.namelist()), [f"Figure {i}.{kind}" for i in (1, 2, 3) for kind in ("png", "svg")])
            self.assertEqual(archive.testzip(), None)

    def test_everything_is_printed_on_the_paper_of_the_school_unless_another_is_asked_for(self) -> None:
        """Letter is 8.5 in × 11 in, of 72 points each; A4 is 595 × 842."""
        write_school("Tidewater", "UTC", "letter")
        self.client.post(self.address + "/hand-in")
        a4, letter, turned = (595, 842), (612, 792), (792, 612)
        sheets = {
            "/report.pdf": letter, "/report.pdf?paper=a4": a4, "/report/tables/readings-run1.pdf": letter, "/graphs/straight.pdf": turned,
        }  # fmt: skip
        for sheet, size in sheets.items():
            with self.subTest(sheet):
                self.assertEqual(self.size_of(self.client.get(self.address + sheet).content), size)
        self.assertEqual(self.size_of(self.client.get(f"/api/hand-ins/{HandIn.objects.get().pk}/report.pdf").content), letter)
        write_school("Tidewater College", "UTC")
        self.assertEqual(self.size_of(self.client.get(self.address + "/report.pdf").content), letter)
        write_school("Tidewater", "UTC", "a4")
        self.assertEqual(self.size_of(self.client.get(self.address + "/report.pdf").content), a4)

    def size_of(self, pdf: bytes) -> tuple[int, ...]:
        return tuple(round(float(length)) for length in PdfReader(io.BytesIO(pdf)).pages[0].mediabox[2:])

    def test_the_drawing_is_the_figure(self) -> None:
        svg = self.client.get(self.address + "/graphs/straight.svg?fitted=true").content.decode()
        self.assertEqual(svg.count("<circle"), 16)  # eight points, and eight residuals
        self.assertIn("<desc>Graph of T² / s² against L³ / m³, 8 points.", svg)
        plain = self.client.get(self.address + "/graphs/straight.svg?rules=none").content.decode()
        self.assertEqual((plain.count("<circle"), plain.count("#E4DACB")), (8, 0))

    def test_an_equation_stands_in_every_picture_that_shows_its_line(self) -> None:
        picture = self.address + "/graphs/straight.svg?fitted="
        self.assertNotIn("s²/m³)", self.client.get(picture + "true").content.decode())
        document = self.school.book.document
        sent = send_edit(self.client, self.school.book, placing(document, "place_fit", "line", show_equation=True))
        self.assertEqual(sent.status_code, 200)
        self.assertRegex(self.client.get(picture + "true").content.decode(), r">\(\d\.\d\d s²/m³\) </tspan>")
        self.assertNotIn("s²/m³)", self.client.get(picture + "false").content.decode())

    def test_pictures_on_white_on_clear_and_on_a_page(self) -> None:
        """300 dots to the inch of a drawing 17 cm wide; the corner is white, or nothing at all."""
        white, clear = (self.client.get(f"{self.address}/graphs/straight.png?fitted=true&clear={c}").content for c in ("false", "true"))
        for picture, corner in ((white, (255, 255, 255, 255)), (clear, (0, 0, 0, 0))):
            width, found = look_at_png(picture)
            self.assertAlmostEqual(width, 17 / 2.54 * 300, delta=2)
            self.assertEqual(found, corner)
        self.assertTrue(self.client.get(self.address + "/graphs/straight.pdf").content.startswith(b"%PDF-"))

    def test_a_note_and_hidden_points_are_as_on_screen(self) -> None:
        note = {"id": "n1", "text": "<b>the clamp</b> creaked", "anchor": "point", "of": "s2"}
        send_edit(self.client, self.school.book, placing(self.school.book.document, "place_graph", "straight", notes=[note]))
        svg = self.client.get(self.address + "/graphs/straight.svg").content.decode()
        self.assertIn("&lt;b&gt;the clamp&lt;/b&gt;", svg)
        send_edit(self.client, self.school.book, placing(self.school.book.document, "place_graph", "straight", hidden=["run1:T2"]))
        self.assertEqual(self.client.get(self.address + "/graphs/straight.svg").content.decode().count("<circle"), 0)


class Page(TestCase):
    def test_the_policy_allows_nothing_inline_and_nothing_from_elsewhere(self) -> None:
        response = self.client.get("/books/1/read")
        policy = response["Content-Security-Policy"]
        nonce = re.search(r"'nonce-([^']+)'", policy)
        assert nonce is not None
        self.assertIn("script-src 'self';", policy)
        self.assertIn(f'nonce="{nonce[1]}"', response.content.decode())
        self.assertNotIn("__CSP_NONCE__", response.content.decode())
        self.assertNotEqual(self.client.get("/")["Content-Security-Policy"], policy)
