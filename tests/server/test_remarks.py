"""Remarks: what they are about through edits around them, threads, and who settles them."""

from __future__ import annotations

import json
from typing import Any

from django.test import Client, TestCase

from hobrel.classes.models import Person
from hobrel.labbooks.models import Book, Remark
from hobrel.school.export import export_class
from tests.school import PASSWORD, add_setting, client_of, fill, make_school, send_edit


class Remarks(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        self.teacher, self.ann = client_of(self.school.teacher), client_of(self.school.students[0])
        self.book = self.school.book

    def post(self, client: Client, path: str, body: object) -> Any:
        answer = client.post(f"/api{path}", json.dumps(body), content_type="application/json")
        self.status = answer.status_code
        return answer.json() if answer.content else None

    def write(self, text: str = "Look again.", **place: Any) -> dict[str, Any]:
        body = {"stage": "read", "text": text, **({"place": place} if place else {})}
        found: dict[str, Any] = self.post(self.teacher, f"/books/{self.book.pk}/remarks", body)[-1]
        return found

    def now(self, client: Client | None = None) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = (client or self.ann).get(f"/api/books/{self.book.pk}/beside").json()["remarks"]
        return found

    def test_about_a_reading_it_outlives_rows_that_come_and_says_when_it_has_changed(self) -> None:
        first = self.book.document["runs"][0]["settings"][2]["readings"]["t10"][1]["text"]

        def write(text: str, was: str) -> dict[str, Any]:
            place = {"run": "run1", "setting": "s3", "quantity": "t10", "repeat": 1}
            return {"type": "set_reading", **place, "text": text, "was": was}

        remark = self.write(kind="reading", run="run1", item="s3", quantity="t10", repeat=1)
        self.assertEqual((remark["was"], remark["stands"]), (first, ""))
        send_edit(self.ann, self.book, add_setting("before"))
        self.assertEqual(self.now()[0]["stands"], "")
        send_edit(self.ann, self.book, write("5.99", first))
        self.assertEqual((self.now()[0]["stands"], self.now()[0]["was"]), ("changed", first))
        send_edit(self.ann, self.book, write(first, "5.99"))
        self.assertEqual(self.now()[0]["stands"], "")
        send_edit(self.ann, self.book, {"type": "remove_setting", "run": "run1", "setting": "s3"})
        self.assertEqual(self.now()[0]["stands"], "gone")

    def test_about_anything_else(self) -> None:
        for kind, item in (("fit", "line"), ("graph", "straight"), ("finding", "E"), ("quantity", "T"), ("section", "conclusion")):
            self.write(kind=kind, item=item)
        self.assertEqual([r["stands"] for r in self.now()], [""] * 5)
        send_edit(self.ann, self.book, {"type": "write_text", "section": "conclusion", "text": "It bends.", "was": ""})
        self.assertEqual([r["stands"] for r in self.now()], ["", "", "", "", "changed"])
        self.post(self.teacher, f"/books/{self.book.pk}/remarks", {"stage": "fit", "text": "x", "place": {"kind": "fit", "item": "none"}})
        self.assertEqual(self.status, 409)
        self.post(self.teacher, f"/books/{self.book.pk}/remarks", {"stage": "fit", "text": "x", "place": {"kind": "heap", "item": "line"}})
        self.assertEqual(self.status, 422)

    def test_only_who_wrote_it_settles_it(self) -> None:
        """A student once settled a teacher's remark."""
        remark = self.write()
        colleague = Person.objects.create_user(username="colleague", password=PASSWORD, role=Person.Role.TEACHER, shown_name="Colleague")
        self.school.school_class.teachers.add(colleague)
        for other in (self.ann, client_of(colleague)):
            self.post(other, f"/remarks/{remark['id']}/settle", {"settled": True})
            self.assertEqual(self.status, 403)
        self.assertFalse(Remark.objects.get().settled)
        self.assertEqual([r["own"] for client in (self.teacher, self.ann) for r in self.now(client)], [True, False])
        self.post(self.teacher, f"/remarks/{remark['id']}/settle", {"settled": True})
        self.assertTrue(Remark.objects.get().settled)
        # whose writer has left is everybody's
        Remark.objects.update(author=None, settled=False)
        self.post(client_of(colleague), f"/remarks/{remark['id']}/settle", {"settled": True})
        self.assertTrue(Remark.objects.get().settled)

    def test_a_thread_and_what_opens_it_again(self) -> None:
        remark = self.write()
        path = f"/remarks/{remark['id']}"
        self.post(self.ann, f"{path}/replies", {"text": " We measured it twice. "})
        self.post(self.ann, f"{path}/done", {"done": True})
        (found,) = self.now(self.teacher)
        self.assertEqual([(r["author"], r["by_teacher"], r["text"]) for r in found["replies"]], [("Ann", False, "We measured it twice.")])
        self.assertTrue(found["done"])
        self.post(self.teacher, f"{path}/settle", {"settled": True})
        self.post(self.teacher, f"{path}/replies", {"text": "And the third time?"})
        (found,) = self.now()
        self.assertEqual((found["done"], found["settled"], len(found["replies"])), (False, False, 2))
        self.post(self.ann, f"{path}/replies", {"text": "  "})
        self.assertEqual(self.status, 422)
        self.post(client_of(self.school.other_bench), f"{path}/replies", {"text": "Hello"})
        self.assertEqual(self.status, 404)

    def test_phrases_are_ones_own_each_once_the_newest_first(self) -> None:
        for text in ("One.", "Two.", "One.", *(f"{i}." for i in range(20))):
            self.write(text)
        self.write("One.")
        found = self.teacher.get("/api/phrases").json()
        self.assertEqual((found[0], len(found), len(set(found))), ("One.", 12, 12))
        self.assertEqual(self.ann.get("/api/phrases").status_code, 404)

    def test_a_thread_is_in_the_export_of_its_class(self) -> None:
        remark = self.write()
        self.post(self.ann, f"/remarks/{remark['id']}/replies", {"text": "We did."})
        self.assertIn(b"We did.", _unpacked(export_class(self.school.school_class)))
        self.assertEqual(Book.objects.get(pk=self.book.pk).revision, 0)


def _unpacked(archive: bytes) -> bytes:
    import io
    import zipfile

    with zipfile.ZipFile(io.BytesIO(archive)) as packed:
        return b"".join(packed.read(name) for name in packed.namelist() if "remark" in name)
