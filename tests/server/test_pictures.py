"""Pictures of plans: taken in as pixels alone, kept once, seen by whom the lab book is open to, and gone with the last that keeps them."""

from __future__ import annotations

import hashlib
import io
import json
import random
import struct
import zlib
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from PIL import Image, ImageDraw

from hobrel.labbooks import pictures
from hobrel.labbooks.models import Book, KeptPicture, PictureUse
from hobrel.labbooks.own import erase_book
from hobrel.labbooks.pictures import make_picture
from hobrel.plans.models import Plan, Practical
from hobrel.school.amending import amend_practical
from hobrel.school.erasing import erase_class
from hobrel.school.giving_out import begin_demonstration, new_plan
from hobrel.server.problems import Problem
from tests.school import client_of, send_step
from tests.server.test_plans import Plans

GPS, TURNED = 0x8825, 0x112


def draw(form: str = "PNG", size: tuple[int, int] = (60, 40), colour: str = "red", **options: Any) -> bytes:
    picture = Image.new("RGB", size, "white")
    ImageDraw.Draw(picture).rectangle((0, 0, size[0] // 2, size[1]), fill=colour)
    out = io.BytesIO()
    picture.save(out, form, **options)
    return out.getvalue()


def bomb(width: int, height: int) -> bytes:
    """A PNG whose header says so many pixels."""

    def part(kind: bytes, content: bytes) -> bytes:
        return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + part(b"IHDR", header) + part(b"IDAT", zlib.compress(b"\0" * 1000)) + part(b"IEND", b"")


class Making(Plans):
    """What is left of a picture that is sent."""

    def test_pixels_and_nothing_else(self) -> None:
        exif = Image.Exif()
        exif[TURNED], exif[GPS] = 6, {1: "N", 2: (50.0, 4.0, 12.0)}
        sent = draw("JPEG", exif=exif, comment=b"made at the shore")
        self.assertIn(b"made at the shore", sent)
        made = make_picture(sent)
        self.assertEqual((made.kind, made.width, made.height), ("jpeg", 40, 60))
        with Image.open(io.BytesIO(made.content)) as opened:
            self.assertEqual(dict(opened.getexif()), {})
            # upright: what was at the left is on top
            top, bottom = opened.getpixel((20, 10)), opened.getpixel((20, 50))
        self.assertLess(top[1], 60)
        self.assertGreater(bottom[1], 200)
        self.assertNotIn(b"shore", made.content)
        self.assertEqual(made.key, hashlib.sha256(made.content).hexdigest())

    def test_long_ones_are_made_shorter_and_clear_ones_are_on_white(self) -> None:
        made = make_picture(draw(size=(5000, 50)))
        self.assertEqual((made.width, made.height, made.kind), (2000, 20, "png"))
        out = io.BytesIO()
        Image.new("RGBA", (10, 10), (0, 0, 0, 0)).save(out, "PNG")
        with Image.open(io.BytesIO(make_picture(out.getvalue()).content)) as opened:
            self.assertEqual(opened.convert("RGB").getpixel((5, 5)), (255, 255, 255))

    def test_a_drawing_keeps_its_edges_and_a_photograph_is_no_png(self) -> None:
        noise = Image.frombytes("RGB", (600, 600), random.Random(1).randbytes(600 * 600 * 3))
        out = io.BytesIO()
        noise.save(out, "PNG")
        self.assertEqual((make_picture(draw()).kind, make_picture(out.getvalue()).kind), ("png", "jpeg"))

    def test_what_is_refused(self) -> None:
        page = b"<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>"
        for sent, code in (
            (page, "bad_picture"), (draw("GIF"), "bad_picture"), (draw("BMP"), "bad_picture"), (b"", "bad_picture"),
            (draw()[:60], "bad_picture"), (draw("JPEG")[:200], "bad_picture"), (bomb(8000, 5001), "too_large"),
            (bomb(60_000, 60_000), "bad_picture"), (bomb(8000, 5000), "bad_picture"), (b"\xff" * (pictures.MOST_BYTES + 1), "too_large"),
        ):  # fmt: skip
            with self.subTest(sent[:20], size=len(sent)), self.assertRaises(Problem) as refused:
                make_picture(sent)
            self.assertEqual(refused.exception.code, code)

    def test_whatever_is_sent_is_a_picture_or_refused(self) -> None:
        """Eight hundred spoiled files."""
        dice = random.Random(4)
        whole = [draw(form) for form in ("JPEG", "PNG", "WEBP")]
        for _ in range(800):
            sent = bytearray(dice.choice(whole))
            for _ in range(dice.choice([1, 3, 12])):
                place = dice.randrange(len(sent))
                sent[place : place + dice.randrange(3)] = dice.randbytes(dice.randrange(1, 4))
            try:
                make_picture(bytes(sent))
            except Problem as refused:
                self.assertIn(refused.code, ("bad_picture", "too_large"))


class Keeping(Plans):
    """A picture from the plan to the bench, and its end."""

    def send(self, content: bytes) -> HttpResponse:
        return self.teacher.post(f"/api/plans/{self.plan.pk}/pictures", {"file": SimpleUploadedFile("set-up.png", content)})  # type: ignore[return-value]

    def place(self, content: bytes, stage: str = "ask") -> str:
        """Send a picture and name it in the plan."""
        sent = self.send(content)
        self.assertEqual(sent.status_code, 200, sent.content)
        found = json.loads(sent.content)
        self.write(pictures={stage: [{"id": "p1", "alt": "A strip held by a clamp", "caption": "", "data": "", **found}]})
        return str(found["key"])

    def look(self, book: Book, key: str, who: Any = None) -> HttpResponse:
        return (who or self.student).get(f"/api/books/{book.pk}/pictures/{key}")  # type: ignore[no-any-return]

    def test_from_the_plan_to_the_bench_and_to_nobody_else(self) -> None:
        key = self.place(draw())
        book = self.book_of(self.give())
        seen = self.look(book, key)
        self.assertEqual((seen.status_code, seen["Content-Type"], seen["X-Content-Type-Options"]), (200, "image/png", "nosniff"))
        self.assertIn("private", seen["Cache-Control"])
        self.assertEqual(hashlib.sha256(seen.content).hexdigest(), key)
        self.assertEqual(self.look(book, key, client_of(self.other.students[0])).status_code, 404)
        # another lab book does not keep it, whatever its document names
        self.assertEqual(self.look(self.school.book, key).status_code, 404)
        self.assertEqual(self.look(book, "0" * 64).status_code, 404)

    def test_the_same_is_kept_once_and_not_more_than_there_may_be(self) -> None:
        first, second = self.send(draw()), self.send(draw())
        self.assertEqual(first.content, second.content)
        self.assertEqual((KeptPicture.objects.count(), PictureUse.objects.count()), (1, 1))
        with patch.object(pictures, "MOST_KEPT", 1):
            self.assertEqual(json.loads(self.send(draw(colour="blue")).content)["code"], "too_large")
            self.assertEqual(self.send(draw()).status_code, 200)

    def test_taken_out_of_the_plan_and_back_again(self) -> None:
        key = self.place(draw())
        self.write(pictures={})
        plan_book = Book.objects.get(plan=self.plan)
        self.assertEqual(self.look(plan_book, key, self.teacher).status_code, 200)
        self.assertEqual(send_step(self.teacher, plan_book, "undo").status_code, 200)
        self.assertEqual(Book.objects.get(plan=self.plan).document["plan"]["pictures"]["ask"][0]["key"], key)

    def test_every_way_that_a_document_takes(self) -> None:
        key = self.place(draw())
        plan_book = Book.objects.get(plan=self.plan)
        copied = new_plan(self.school.teacher, plan_book)
        self.assertEqual(self.look(copied.book, key, self.teacher).status_code, 200)
        shown = begin_demonstration(self.school.teacher, Plan.objects.get(pk=self.plan.pk))
        self.assertEqual(self.look(shown, key, self.teacher).status_code, 200)
        file = self.teacher.get(f"/api/books/{plan_book.pk}/take-out.json").content
        brought = self.teacher.post("/api/plans/file", {"file": SimpleUploadedFile("plan.json", file)}).json()
        other = Book.objects.get(pk=brought["id"])
        (picture,) = other.document["plan"]["pictures"]["ask"]
        self.assertEqual((picture["key"], picture["data"], picture["alt"]), (key, "", "A strip held by a clamp"))
        self.assertEqual(self.look(other, key, self.teacher).status_code, 200)

    def test_a_file_cannot_name_what_it_does_not_hold(self) -> None:
        """Nor hold what is no picture: its words stay."""
        key = self.place(draw())
        file = json.loads(self.teacher.get(f"/api/books/{Book.objects.get(plan=self.plan).pk}/take-out.json").content)
        for data in ("", "no base64", "bm8gcGljdHVyZQ=="):
            file["plan"]["pictures"]["ask"][0]["data"] = data
            stranger = client_of(self.other.teacher)
            brought = stranger.post("/api/plans/file", {"file": SimpleUploadedFile("plan.json", json.dumps(file).encode())}).json()
            (picture,) = Book.objects.get(pk=brought["id"]).document["plan"]["pictures"]["ask"]
            self.assertEqual((picture["key"], picture["data"], picture["alt"]), ("", "", "A strip held by a clamp"))
            self.assertEqual(self.look(Book.objects.get(pk=brought["id"]), key, stranger).status_code, 404)

    def test_an_amendment_brings_a_new_one(self) -> None:
        self.place(draw())
        practical = self.give()
        book = self.book_of(practical)
        key = self.place(draw(colour="blue"))
        (fate, *_) = amend_practical(Practical.objects.get(pk=practical.pk), self.school.teacher, ())
        self.assertEqual(fate.fate, "takes")
        book.refresh_from_db()
        self.assertEqual(book.document["plan"]["pictures"]["ask"][0]["key"], key)
        self.assertEqual(self.look(book, key).status_code, 200)

    def test_it_goes_with_the_last_that_keeps_it(self) -> None:
        key = self.place(draw())
        practical = self.give()
        book = self.book_of(practical)
        erase_book(Book.objects.get(plan=self.plan))
        self.assertEqual(self.look(book, key).status_code, 200)
        erase_class(self.school.school_class, self.school.school_class.name, self.school.teacher)
        self.assertEqual((KeptPicture.objects.count(), PictureUse.objects.count()), (0, 0))

    def test_an_edit_names_a_digest_and_nothing_else(self) -> None:
        picture = {"id": "p1", "alt": "", "caption": "", "data": "", "key": "../../etc/passwd", "width": 10, "height": 10}
        was = {"pictures": {}}
        self.assertEqual(self.edit({"type": "write_plan", "was": was, "becomes": {"pictures": {"ask": [picture]}}}), 422)
        holds = {**picture, "key": "0" * 64, "data": "AAAA"}
        self.assertEqual(self.edit({"type": "write_plan", "was": was, "becomes": {"pictures": {"ask": [holds]}}}), 422)

    def test_a_student_sends_none(self) -> None:
        sent = self.student.post(f"/api/plans/{self.plan.pk}/pictures", {"file": SimpleUploadedFile("a.png", draw())})
        self.assertEqual(sent.status_code, 404)
