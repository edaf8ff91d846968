"""The decimal mark of a class: chosen once, in all its lab books, files and pages; and what stays as it was."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Iterator
from datetime import date
from typing import Any

from django.test import Client, TestCase
from pypdf import PdfReader

from hobrel.classes.models import SchoolClass
from hobrel.labbooks.actions import open_book
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.own import begin_book
from hobrel.labbooks.plan_books import give_out, write_plan
from hobrel.plans.models import Practical
from hobrel.pools.queries import read_pools
from hobrel.reports.actions import compare_hand_ins, hand_in
from hobrel.reports.models import HandIn
from hobrel.school.amending import amend_practical, look_at_amendment, take_back_amendment
from hobrel.school.giving_out import plan_from_shelf
from hobrel.school.practising import begin_practising
from hobrel.shelf.clamped_strip import write_draft
from tests.school import add_setting, client_of, fill, keep_summaries, make_school, reading, send_edit, send_step

DAY = date(2026, 10, 2)


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/{path}", json.dumps(body), content_type="application/json")


def texts_in(told: Any) -> Iterator[str]:
    """Texts that are shown, of JSON: not those that are spoken, nor names that only programs know."""
    match told:
        case str():
            yield told
        case list():
            for part in told:
                yield from texts_in(part)
        case dict():
            for name, part in told.items():
                if name not in ("spoken", "key"):
                    yield from texts_in(part)


def mark_of(book: Book) -> str:
    return str(Book.objects.get(pk=book.pk).document["convention"]["decimal_mark"])


class DecimalMark(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.teacher, self.ann = client_of(self.school.teacher), client_of(self.school.students[0])
        self.book, self.other = self.school.book, self.school.other_book

    def choose(self, mark: str | None) -> Any:
        return post(self.teacher, f"my-classes/{self.school.school_class.pk}/decimal-mark", mark=mark)

    def shown(self, book: Book) -> dict[str, Any]:
        found: dict[str, Any] = self.teacher.get(f"/api/books/{book.pk}").json()
        return found


class Choosing(DecimalMark):
    def test_all_lab_books_of_the_class_get_it_as_one_edit_of_the_teacher(self) -> None:
        self.assertEqual(self.teacher.get(f"/api/my-classes/{self.school.school_class.pk}").json()["decimal_mark"], None)
        self.assertEqual(self.choose("comma").json()["decimal_mark"], "comma")
        for book in (self.book, self.other):
            self.assertEqual(mark_of(book), "comma")
            edits = EditRecord.objects.filter(book=book)
            self.assertEqual(
                [(e.author_id, e.words) for e in edits], [(self.school.teacher.pk, "numbers with a comma, as the class writes them")]
            )
        # chosen again there is nothing to change, and nobody's history grows
        self.choose("comma")
        self.assertEqual(EditRecord.objects.filter(book=self.book).count(), 1)
        # as each plan has it: this one has a point
        self.assertEqual(self.choose(None).json()["decimal_mark"], None)
        self.assertEqual([mark_of(self.book), mark_of(self.other)], ["point", "point"])

    def test_what_is_told_has_it_and_readings_stay_as_typed(self) -> None:
        fill(self.book)
        before = Book.objects.get(pk=self.book.pk).document["runs"]
        self.choose("comma")
        state = self.shown(self.book)
        self.assertEqual(Book.objects.get(pk=self.book.pk).document["runs"], before)
        column = next(c for c in state["analysis"]["runs"][0]["columns"] if c["quantity"] == "L")
        self.assertEqual(column["cells"][0]["value_text"], "0,3000")
        self.assertRegex(state["analysis"]["findings"][0]["value"]["text"], r"^\d+,\d+ ± 0,\d+ GPa$")
        self.assertEqual(
            state["document"]["runs"][0]["settings"][0]["readings"]["L"][0]["text"], before[0]["settings"][0]["readings"]["L"][0]["text"]
        )

    def test_a_bench_does_not_choose_and_does_not_undo_it(self) -> None:
        send_edit(self.ann, self.book, add_setting())
        self.choose("comma")
        self.assertEqual(send_step(self.ann, self.book, "undo").status_code, 200)
        self.assertEqual(mark_of(self.book), "comma")
        edit = {"type": "choose_convention", "was": {"decimal_mark": "comma"}, "becomes": {"decimal_mark": "point"}}
        self.assertEqual(send_edit(self.ann, self.book, edit).status_code, 403)

    def test_a_reading_that_is_on_its_way_is_kept(self) -> None:
        send_edit(self.ann, self.book, add_setting())
        self.choose("comma")
        self.assertEqual(send_edit(self.ann, self.book, reading("7.62")).status_code, 200)
        self.assertEqual(send_edit(self.ann, self.book, reading("7,63", was="7.62")).status_code, 200)

    def test_a_refusal_names_numbers_as_the_class_writes_them(self) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        edit = {"type": "choose_convention", "was": {"decimal_mark": "point"}, "becomes": {"decimal_mark": "comma"}}
        self.assertEqual(send_edit(self.teacher, plan, edit).status_code, 200)
        b = {"type": "change_quantity", "quantity": "b", "was": {"value": "30.0"}, "becomes": {"value": "three"}}
        self.assertRegex(send_edit(self.teacher, plan, b).json()["detail"], r"as in \d+,\d+")

    def test_only_a_teacher_of_the_class_and_only_a_mark(self) -> None:
        path = f"my-classes/{self.school.school_class.pk}/decimal-mark"
        self.assertEqual(post(self.ann, path, mark="comma").status_code, 404)
        self.assertEqual(post(client_of(make_school("two", "CODE22").teacher), path, mark="comma").status_code, 404)
        self.assertEqual(post(self.teacher, path, mark="apostrophe").status_code, 422)
        self.assertEqual(mark_of(self.book), "point")

    def test_the_pool_and_the_walkround_have_it(self) -> None:
        for book in (self.book, self.other):
            fill(book, seed=book.pk)
        self.choose("comma")
        keep_summaries(self.school.practical)
        for part in ("pool", "walkround"):
            found = self.teacher.get(f"/api/practicals/{self.school.practical.pk}/{part}").json()
            texts = list(texts_in(found))
            self.assertEqual([text for text in texts if re.search(r"\d\.\d", text)], [], part)
            self.assertTrue(any(re.search(r"\d,\d", text) for text in texts), part)
        # and so has what a plan's author is told of the last time
        value = next(v.value.text for pool in read_pools(Practical.objects.get(pk=self.school.practical.pk)) for v in pool.values)
        self.assertRegex(value, r"\d+,\d+")


class Beginning(DecimalMark):
    def test_what_is_given_out_later_begins_with_it(self) -> None:
        self.choose("comma")
        practical = give_out(write_plan(self.school.teacher, write_draft()), SchoolClass.objects.get(pk=self.school.school_class.pk), DAY)
        self.assertEqual(mark_of(open_book(practical, self.book.bench)), "comma")
        # the plan's version is everybody's, and has its own
        self.assertEqual(practical.version.document["convention"]["decimal_mark"], "point")

    def test_what_somebody_begins_has_the_mark_of_all_their_classes(self) -> None:
        ann, teacher = self.school.students[0], self.school.teacher
        self.assertEqual(mark_of(begin_book(ann)), "point")
        self.choose("comma")
        for book in (begin_book(ann), begin_practising(ann, "iron-in-tea"), plan_from_shelf(teacher, "cooling-cups").book):
            self.assertEqual(mark_of(book), "comma")
        begun = post(self.teacher, "plans", book=None).json()["id"]
        self.assertEqual(mark_of(Book.objects.get(pk=begun)), "comma")
        other = SchoolClass.objects.create(name="another", join_code="CODE33")
        other.teachers.add(teacher)
        self.assertEqual(mark_of(begin_book(teacher)), "point", "the classes do not agree")

    def test_next_year_s_class_writes_as_this_one(self) -> None:
        self.choose("comma")
        made = post(self.teacher, f"my-classes/{self.school.school_class.pk}/next-year", name="one", year="2027/28").json()
        self.assertEqual(made["decimal_mark"], "comma")

    def test_a_lab_book_from_before_is_read_with_a_point(self) -> None:
        document = Book.objects.get(pk=self.book.pk).document
        del document["convention"]["decimal_mark"]
        Book.objects.filter(pk=self.book.pk).update(document=document)
        self.assertEqual(self.shown(self.book)["document"]["convention"]["decimal_mark"], "point")
        self.choose("comma")
        self.assertEqual(mark_of(self.book), "comma")


class PuttingRight(DecimalMark):
    def write_plan_with(self, **becomes: Any) -> None:
        plan = Book.objects.get(plan=self.school.practical.version.plan)
        was = {name: plan.document["convention"][name] for name in becomes}
        self.assertEqual(send_edit(self.teacher, plan, {"type": "choose_convention", "was": was, "becomes": becomes}).status_code, 200)

    def test_an_amendment_leaves_what_the_class_has_chosen(self) -> None:
        self.choose("comma")
        self.write_plan_with(slope_word="slope")
        self.assertEqual([b.fate for b in look_at_amendment(self.school.practical).books], ["takes", "takes"])
        amend_practical(self.school.practical, self.school.teacher, ())
        self.assertEqual(mark_of(self.book), "comma")
        take_back_amendment(Practical.objects.get(pk=self.school.practical.pk), self.school.teacher)
        self.assertEqual(mark_of(self.book), "comma")

    def test_the_plan_s_own_mark_comes_with_an_amendment_where_the_class_has_chosen_none(self) -> None:
        self.write_plan_with(decimal_mark="comma")
        amend_practical(self.school.practical, self.school.teacher, ())
        self.assertEqual([mark_of(self.book), mark_of(self.other)], ["comma", "comma"])

    def test_it_says_that_there_is_nothing_to_change_where_the_class_has_chosen(self) -> None:
        self.choose("point")
        self.write_plan_with(decimal_mark="comma")
        look = look_at_amendment(Practical.objects.get(pk=self.school.practical.pk))
        self.assertEqual((look.changes, [b.fate for b in look.books]), ((), ["same", "same"]))


class OnPaper(DecimalMark):
    def test_all_files_have_it_and_own_words_stay(self) -> None:
        fill(self.book)
        Book.objects.filter(pk=self.book.pk).update(
            document=Book.objects.get(pk=self.book.pk).document | {"texts": {"conclusion": "We counted 12.5 in all: {E}."}}
        )
        self.choose("comma")
        self.book.refresh_from_db()
        hand_in(self.book, self.school.students[0])
        handed = HandIn.objects.get(book=self.book)
        with zipfile.ZipFile(io.BytesIO(bytes(handed.docx))) as archive:
            docx = archive.read("word/document.xml").decode()
        with zipfile.ZipFile(io.BytesIO(bytes(handed.odt))) as archive:
            odt = archive.read("content.xml").decode()
        pdf = "".join(page.extract_text() for page in PdfReader(io.BytesIO(bytes(handed.pdf))).pages)
        html = re.sub(r"(?s)<style.*?</style>|<(svg|math|annotation)\b.*?</\1>", "", handed.html)
        for name, text in (("docx", docx), ("odt", odt), ("pdf", pdf), ("html", html)):
            words = re.sub(r"<[^>]+>", " ", text)
            left = set(re.findall(r"\d+\.\d+", words)) - {"12.5"}
            self.assertEqual(left, set(), name)
            self.assertRegex(words, r"\d+,\d+ ± 0,\d+", name)
            self.assertIn("12.5", words, name)
        drawings = re.findall(r"(?s)<svg.*?</svg>", handed.html)
        self.assertEqual([t for d in drawings for t in re.findall(r"<text[^>]*>(?:<tspan[^>]*>)?([^<]*\d\.\d[^<]*)", d)], [])

    def test_a_change_of_the_mark_is_none_of_the_bench_s(self) -> None:
        fill(self.book)
        first = hand_in(Book.objects.get(pk=self.book.pk), self.school.students[0])
        self.choose("comma")
        now = Book.objects.get(pk=self.book.pk)
        self.assertEqual(compare_hand_ins(first, now), ())
        self.assertIn("0.3", HandIn.objects.get(pk=first.pk).html, "what was handed in stays")

    def test_files_for_other_programs_keep_the_point(self) -> None:
        fill(self.book)
        self.choose("comma")
        csv = self.teacher.get(f"/api/books/{self.book.pk}/take-out.csv")
        self.assertEqual(csv.status_code, 200)
        self.assertIn("0.3", csv.content.decode())
        self.assertNotRegex(csv.content.decode(), r"\d,\d+;")
