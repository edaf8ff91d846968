"""What is handed in: the queue, answers and marks of several teachers, what can be seen of it, and what goes out for other programs."""

from __future__ import annotations

import csv
import datetime
import io
import json
import zipfile
from typing import Any

from django.test import Client, TestCase
from django.utils import timezone
from openpyxl import load_workbook

from hobrel.classes.models import Bench, Person, Seat
from hobrel.plans.models import Practical
from hobrel.reports.actions import hand_in
from hobrel.reports.models import HandIn
from hobrel.school.teachers import write_teacher
from tests.school import PASSWORD, School, add_setting, client_of, fill, keep_summaries, make_school, send_edit

GRID = [
    {"id": "care", "title": "Readings are taken with care", "levels": ["not yet", "partly", "fully"], "facts": ["repeats", "decimals"]},
    {"id": "words", "title": "=The conclusion follows", "levels": ["no", "yes"], "facts": []},
]


class HandIns(TestCase):
    """A lab book that has been handed in once, and two teachers."""

    school: School
    other: Person
    first: HandIn

    @classmethod
    def setUpTestData(cls) -> None:
        cls.school = make_school()
        version = cls.school.practical.version
        version.document["plan"]["grid"] = GRID
        version.save()
        fill(cls.school.book)
        cls.other = write_teacher(shown_name="Colleague", name="colleague", password=PASSWORD, is_head=False)
        cls.school.school_class.teachers.add(cls.other)
        # its files take a second
        cls.first = hand_in(cls.school.book, cls.school.students[0])

    def setUp(self) -> None:
        self.practical, self.book = self.school.practical, self.school.book
        self.teacher, self.ann = client_of(self.school.teacher), client_of(self.school.students[0])
        self.colleague = client_of(self.other)

    def post(self, client: Client, path: str, body: object) -> Any:
        answer = client.post(f"/api{path}", json.dumps(body), content_type="application/json")
        self.status = answer.status_code
        return answer.json() if answer.content else None

    def get(self, client: Client, path: str) -> Any:
        return client.get(f"/api{path}").json()

    def change_something(self) -> None:
        send_edit(self.ann, self.book, add_setting(f"n{self.book.revision}"))
        self.book.refresh_from_db()

    def seen_by_bench(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.get(self.ann, f"/books/{self.book.pk}/beside")["hand_ins"]
        return found

    # the queue

    def benches(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.get(self.teacher, f"/practicals/{self.practical.pk}/hand-ins")["benches"]
        return found

    def test_what_waits_comes_first_and_says_what_it_is(self) -> None:
        godwit, redshank = self.benches()
        self.assertEqual((godwit["bench"], godwit["names"], godwit["changed_since"]), ("Godwit", ["Ann", "Bo", "Newcomer"], False))
        self.assertEqual((redshank["bench"], redshank["hand_ins"]), ("Redshank", []))
        self.change_something()
        self.assertTrue(self.benches()[0]["changed_since"])
        fill(self.school.other_book, seed=5)
        hand_in(self.school.other_book, self.school.other_bench)
        self.assertEqual([b["bench"] for b in self.benches()], ["Godwit", "Redshank"])
        self.post(self.teacher, f"/hand-ins/{self.first.pk}/answer", {"verdict": "accepted", "words": "Well done."})
        self.assertEqual([b["bench"] for b in self.benches()], ["Redshank", "Godwit"])
        self.assertEqual(self.benches()[1]["hand_ins"][0]["answer"]["words"], "Well done.")

    def test_late_goes_by_the_date_of_today(self) -> None:
        Practical.objects.filter(pk=self.practical.pk).update(due=timezone.now() - datetime.timedelta(hours=1))
        self.assertTrue(self.benches()[0]["hand_ins"][0]["late"])
        self.assertTrue(self.seen_by_bench()[0]["late"])
        Practical.objects.filter(pk=self.practical.pk).update(due=timezone.now() + datetime.timedelta(hours=1))
        self.assertFalse(self.benches()[0]["hand_ins"][0]["late"])

    def test_what_is_returned_can_be_handed_in_again_after_the_date_as_well(self) -> None:
        Practical.objects.filter(pk=self.practical.pk).update(due=timezone.now() - datetime.timedelta(hours=1), late=False)
        self.change_something()
        path = f"/books/{self.book.pk}/hand-in"
        self.assertEqual(self.post(self.ann, path, {})["code"], "too_late")
        self.post(self.teacher, f"/hand-ins/{self.first.pk}/answer", {"verdict": "accepted"})
        self.assertEqual(self.post(self.ann, path, {})["code"], "too_late")
        was = {"verdict": "accepted", "words": ""}
        news = self.get(self.ann, f"/books/{self.book.pk}/beside")["news"]
        self.post(self.teacher, f"/hand-ins/{self.first.pk}/answer", {"verdict": "returned", "words": "Say why.", "was": was})
        self.assertEqual(self.seen_by_bench()[0]["answer"]["words"], "Say why.")
        self.assertGreater(self.get(self.ann, f"/books/{self.book.pk}/beside")["news"], news)
        self.assertEqual([h["number"] for h in self.post(self.ann, path, {})], [1, 2])
        # the new one waits, so the way is shut again
        self.change_something()
        self.assertEqual(self.post(self.ann, path, {})["code"], "too_late")

    def state(self) -> list[tuple[bool, str]]:
        """Whether it was given back and what the report's station says: on the bench's start page, on the teacher's, at the bench and on a
        tile of the walkround.
        """

        def said(stages: list[dict[str, Any]]) -> str:
            return next(str(s["words"][0]["text"]) for s in stages if s["stage"] == "report")

        starts = [
            next(b for c in self.get(client, "/classes") for p in c["practicals"] for b in p["benches"] if b["book"] == self.book.pk)
            for client in (self.ann, self.teacher)
        ]
        tiles = self.get(self.teacher, f"/practicals/{self.practical.pk}/walkround")["tiles"]
        tile = next(t for t in tiles if t["book"] == self.book.pk)
        placed = self.get(self.ann, f"/books/{self.book.pk}/beside")["placed"]
        return [*((s["returned"], said(s["stages"])) for s in starts), (False, said(placed)), (False, said(tile["stages"]))]

    def test_where_it_stands_is_said_wherever_the_bench_is_seen(self) -> None:
        waits, back = (False, "handed in"), (False, "given back")
        self.assertEqual(self.state(), [waits] * 4)
        self.post(self.teacher, f"/hand-ins/{self.first.pk}/answer", {"verdict": "returned", "words": "Say why."})
        self.assertEqual(self.state(), [(True, "given back")] * 2 + [back] * 2)
        self.change_something()
        self.post(self.ann, f"/books/{self.book.pk}/hand-in", {})
        self.assertEqual(self.state(), [(False, "handed in 2 times")] * 4)

    # two teachers

    def mark(self, client: Client, level: int | None, words: str = "", was: object = None, row: str = "care") -> Any:
        return self.post(client, f"/hand-ins/{self.first.pk}/marks", {"row": row, "level": level, "words": words, "was": was})

    def test_a_mark_of_a_colleague_is_not_written_over_unseen(self) -> None:
        self.assertEqual(self.mark(self.teacher, 1)["marks"][0]["level"], 1)
        # sent twice it is content
        self.mark(self.teacher, 1)
        self.assertEqual(self.status, 200)
        refused = self.mark(self.colleague, 2, "All three.")
        self.assertEqual((self.status, refused["code"], refused["theirs"]), (409, "clash", "partly"))
        self.assertIn("Teacher one has written here meanwhile", refused["detail"])
        seen = self.mark(self.colleague, 2, "All three.", {"level": 1, "words": ""})["marks"]
        self.assertEqual([(m["level"], m["words"], m["by"]) for m in seen], [(2, "All three.", "Colleague")])
        # taken away, and nothing is left
        self.assertEqual(self.mark(self.teacher, None, "", {"level": 2, "words": "All three."})["marks"], [])
        self.assertEqual(self.mark(self.colleague, 2, "All three.", {"level": 2, "words": "All three."})["theirs"], "no mark any more")

    def test_an_answer_of_a_colleague_neither(self) -> None:
        path = f"/hand-ins/{self.first.pk}/answer"
        self.post(self.teacher, path, {"verdict": "returned", "words": "Why?"})
        self.assertEqual(self.post(self.colleague, path, {"verdict": "accepted"})["theirs"], "returned: Why?")
        was = {"verdict": "returned", "words": "Why?"}
        self.assertEqual(self.post(self.colleague, path, {"verdict": "accepted", "was": was})["answer"]["by"], "Colleague")

    def test_what_the_grid_does_not_have(self) -> None:
        self.assertEqual(self.mark(self.teacher, 3)["code"], "no_such_level")
        self.assertEqual(self.mark(self.teacher, 2, row="words")["code"], "no_such_level")
        self.assertEqual(self.mark(self.teacher, 1, row="gone")["code"], "no_such_row")
        self.assertEqual(self.mark(self.teacher, -1)["code"], "bad_request")
        self.assertEqual(self.mark(self.teacher, 1, "x" * 601)["code"], "bad_request")

    def test_marks_are_not_sent_before_they_are_given_back(self) -> None:
        self.mark(self.teacher, 1, "Two of the decimals differ.")
        back = f"/practicals/{self.practical.pk}/marks-back"
        self.assertEqual(self.seen_by_bench()[0]["marks"], [])
        Practical.objects.filter(pk=self.practical.pk).update(marks_back=timezone.now() + datetime.timedelta(minutes=5))
        self.assertEqual(self.seen_by_bench()[0]["marks"], [])
        self.assertTrue(self.post(self.teacher, back, {"given_back": True})["given_back"])
        wanted = {"title": "Readings are taken with care", "level": "partly", "place": 2, "of": 3, "words": "Two of the decimals differ."}
        self.assertEqual(self.seen_by_bench()[0]["marks"], [wanted])
        self.assertFalse(self.post(self.teacher, back, {"given_back": False})["given_back"])
        self.assertEqual(self.seen_by_bench()[0]["marks"], [])

    def test_the_second_is_marked_anew_beside_the_marks_of_the_first(self) -> None:
        self.mark(self.teacher, 1)
        self.change_something()
        second = hand_in(self.book, self.school.students[0])
        found = self.get(self.colleague, f"/hand-ins/{second.pk}")
        self.assertEqual((found["marks"], [m["level"] for m in found["marks_before"]]), ([], [1]))
        self.assertTrue(found["revision_now"])
        self.assertFalse(self.get(self.colleague, f"/hand-ins/{self.first.pk}")["revision_now"])

    # what is seen

    def test_what_can_be_seen_is_of_what_was_handed_in(self) -> None:
        send_edit(self.ann, self.book, {"type": "remove_setting", "run": "run1", "setting": "s3"})
        facts = self.get(self.teacher, f"/hand-ins/{self.first.pk}")["facts"]
        by_kind: dict[str, list[str]] = {}
        for fact in facts:
            by_kind.setdefault(fact["kind"], []).append(fact["text"])
        self.assertEqual(by_kind["readings"], ["Beech strip: 8 settings of L (8 are asked for), 0.300 to 0.650 m."])
        self.assertEqual(by_kind["repeats"], ["Beech strip: t₁₀ was read 3 times at every setting."])
        self.assertEqual(by_kind["set_aside"], ["Nothing is set aside."])
        self.assertEqual(by_kind["residuals"], ["Beech strip: 6 of 8 points within their bars, 8 within twice that."])

    def test_the_frozen_page_and_the_one_of_now_stand_in_frames_of_ours_alone(self) -> None:
        for path in (f"/hand-ins/{self.first.pk}/page", f"/books/{self.book.pk}/report-page"):
            answer = self.teacher.get(f"/api{path}")
            self.assertEqual(answer.headers["X-Frame-Options"], "SAMEORIGIN")
            policy = answer.headers["Content-Security-Policy"]
            self.assertIn("default-src 'none'", policy)
            self.assertIn("sandbox", policy)
            self.assertNotIn("script-src", policy)
            self.assertNotIn("Content-Disposition", answer.headers)
            self.assertIn("<h1", answer.content.decode())

    def test_any_two_are_compared(self) -> None:
        reading = {"type": "set_reading", "run": "run1", "setting": "s3", "quantity": "t10", "repeat": 1, "text": "9.99"}
        was = self.book.document["runs"][0]["settings"][2]["readings"]["t10"][1]["text"]
        send_edit(self.ann, self.book, reading | {"was": was})
        path = f"/hand-ins/{self.first.pk}/changes"
        found = [s["text"] for c in self.get(self.teacher, f"{path}?against=now") for s in c["words"]]
        self.assertTrue(any(f"{was} is now 9.99" in text for text in found), found)
        self.assertEqual(self.get(self.teacher, path), [])
        self.book.refresh_from_db()
        second = hand_in(self.book, self.school.students[0])
        for of, against in ((self.first, 2), (second, 1)):
            between = [s["text"] for c in self.get(self.teacher, f"/hand-ins/{of.pk}/changes?against={against}") for s in c["words"]]
            self.assertEqual(between, found)
        self.assertEqual(self.teacher.get(f"/api{path}?against=7").status_code, 404)
        self.assertEqual(self.teacher.get(f"/api{path}?against=x").status_code, 422)

    # what goes out

    def rows(self, path: str) -> list[dict[str, str]]:
        return list(
            csv.DictReader(io.StringIO(self.teacher.get(f"/api/practicals/{self.practical.pk}/{path}").content.decode("utf-8-sig")))
        )

    def test_marks_a_row_for_each_student(self) -> None:
        for level, words, row in ((2, "All.", "care"), (0, "-1 of it", "words")):
            self.post(self.teacher, f"/hand-ins/{self.first.pk}/marks", {"row": row, "level": level, "words": words})
        rows = self.rows("marks.csv")
        self.assertEqual([(r["bench"], r["student"]) for r in rows][:2], [("Godwit", "Ann"), ("Godwit", "Bo")])
        care = "Readings are taken with care"
        self.assertEqual([rows[0][c] for c in (care, f"{care}: level", f"{care}: words")], ["fully", "3", "All."])
        # what an office program would carry out is text
        self.assertEqual([rows[0][c] for c in ("'=The conclusion follows: words", "marks of", "late")], ["'-1 of it", "1", "false"])
        self.assertEqual((rows[-1]["student"], rows[-1]["hand-in"], rows[-1][care]), ("Cy", "", ""))
        sheet = load_workbook(io.BytesIO(self.teacher.get(f"/api/practicals/{self.practical.pk}/marks.xlsx").content)).active
        assert sheet is not None
        head = [c.value for c in sheet[1]]
        self.assertEqual(sheet.cell(2, head.index(f"{care}: level") + 1).value, 3)
        self.assertEqual(sheet.cell(2, head.index("=The conclusion follows: words") + 1).data_type, "s")

    def test_every_reading_with_who_wrote_it_and_what_it_is_worth(self) -> None:
        place = {"run": "run1", "setting": "s3", "quantity": "t10", "repeat": 1}
        was = self.book.document["runs"][0]["settings"][2]["readings"]["t10"][1]["text"]
        send_edit(self.ann, self.book, {"type": "set_reading", **place, "text": "9.99", "was": was})
        send_edit(self.ann, self.book, {"type": "set_aside", **place, "reason": "=the strip, slipped"})
        rows = self.rows("readings.csv")
        # eight lengths once and eight times three swings
        self.assertEqual(len([r for r in rows if r["bench"] == "Godwit"]), 8 + 24)
        one = next(r for r in rows if r["text"] == "9.99")
        about = ("class", "practical", "student", "setting", "symbol", "repeat", "value", "unit", "set aside", "reason")
        said = ["Class one", self.practical.title, "Ann", "L = 0.400 m", "t₁₀", "2", "9.99", "s", "true", "'=the strip, slipped"]
        self.assertEqual([one[c] for c in about], said)
        # half of the last digit of the watch, as the convention of the plan has it
        instrument = next(q for q in self.book.document["quantities"] if q["id"] == "t10")["instrument"]
        self.assertEqual(float(one["u"]), float(instrument["division"]) / (2 if self.book.document["convention"]["display_half"] else 1))
        self.assertEqual({r["student"] for r in rows if r["bench"] == "Godwit" and r is not one}, {""})

    def test_everything_in_one_archive_with_what_its_tables_mean(self) -> None:
        keep_summaries(self.practical)
        packed = zipfile.ZipFile(io.BytesIO(self.teacher.get(f"/api/practicals/{self.practical.pk}/archive.zip").content))
        names = packed.namelist()
        tables = [n for t in ("readings", "findings", "marks") for n in (f"{t}.csv", f"{t}.csv-metadata.json")]
        self.assertEqual(names[:6], tables)
        self.assertEqual(packed.read("reports/not-handed-in.txt").decode(), "Redshank\n")
        self.assertTrue(packed.read("reports/godwit-1.pdf").startswith(b"%PDF"))
        self.assertEqual(len([n for n in names if n.startswith("lab-books/")]), 2)
        for table in ("readings", "findings", "marks"):
            described = json.loads(packed.read(f"{table}.csv-metadata.json"))
            head, *rows = csv.reader(io.StringIO(packed.read(f"{table}.csv").decode("utf-8-sig")))
            columns = described["tableSchema"]["columns"]
            self.assertEqual((described["url"], [c["titles"] for c in columns]), (f"{table}.csv", [h.lstrip("'") for h in head]))
            reads: dict[str, Any] = {"number": float, "integer": int, "dateTime": datetime.datetime.fromisoformat, "string": str}
            reads["boolean"] = lambda text: {"true": True, "false": False}[text]
            for row in rows:
                for column, text in zip(columns, row, strict=True):
                    if text:
                        reads[column["datatype"]](text)

    def test_all_reports_in_one_archive_are_those_that_were_handed_in_last(self) -> None:
        self.change_something()
        second = hand_in(self.book, self.school.students[0])
        packed = zipfile.ZipFile(io.BytesIO(self.teacher.get(f"/api/practicals/{self.practical.pk}/reports.zip").content))
        self.assertEqual(packed.namelist(), ["godwit-2.pdf", "not-handed-in.txt"])
        self.assertEqual(packed.read("godwit-2.pdf"), bytes(HandIn.objects.get(pk=second.pk).pdf))

    def test_one_bench_whose_lab_book_cannot_be_worked_out_holds_nobody_else_up(self) -> None:
        other = Bench.objects.create(school_class=self.school.school_class, name="Avocet")
        Seat.objects.create(school_class=self.school.school_class, bench=other, name="Di")
        self.school.other_book.document = self.school.other_book.document | {"runs": "broken"}
        self.school.other_book.stamp = "broken"
        self.school.other_book.save()
        self.assertEqual({r["bench"] for r in self.rows("readings.csv")}, {"Godwit"})
