"""The life of a class: colleagues, archive, the next year, one student in two classes, lists from files; and what erasing leaves."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import date, timedelta
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase

from hobrel.classes.models import Bench, Person, Receipt, SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.labbooks.models import Book, EditRecord
from hobrel.labbooks.own import begin_book
from hobrel.labbooks.remarks import write_remark
from hobrel.plans.models import Plan, Practical
from hobrel.reports import actions as reports
from hobrel.reports.actions import hand_in
from hobrel.reports.export import ReportFiles
from hobrel.reports.models import HandIn
from hobrel.school.teachers import write_teacher
from tests.school import PASSWORD, PIN, add_setting, client_of, fill, make_school, send_edit


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/{path}", json.dumps(body), content_type="application/json")


class ClassLife(TestCase):
    def setUp(self) -> None:
        self.school, self.other = make_school(), make_school("two", "CODE22")
        self.ann, self.bo = self.school.students
        self.teacher = client_of(self.school.teacher)
        self.path = f"my-classes/{self.school.school_class.pk}"

    def seat(self, person: Person) -> Seat:
        return Seat.objects.get(person=person)

    def names(self, client: Client) -> list[str]:
        return [c["name"] for c in client.get("/api/classes").json()]


class Colleagues(ClassLife):
    def test_a_colleague_teaches_it_too_and_the_last_one_stays(self) -> None:
        colleague = client_of(self.other.teacher)
        self.assertEqual(colleague.get(f"/api/{self.path}").status_code, 404)
        told = post(self.teacher, f"{self.path}/teachers", person=self.other.teacher.pk, teaches=True).json()
        self.assertEqual([t["name"] for t in told["teachers"]], ["Teacher one", "Teacher two"])
        self.assertIn("Class one", self.names(colleague))
        self.assertEqual(colleague.get(f"/api/books/{self.school.book.pk}").status_code, 200)
        post(colleague, f"{self.path}/teachers", person=self.school.teacher.pk, teaches=False)
        self.assertNotIn("Class one", self.names(self.teacher))
        alone = post(colleague, f"{self.path}/teachers", person=self.other.teacher.pk, teaches=False)
        self.assertEqual((alone.status_code, alone.json()["code"]), (409, "last_teacher"))

    def test_a_student_is_no_colleague(self) -> None:
        self.assertEqual(post(self.teacher, f"{self.path}/teachers", person=self.ann.pk, teaches=True).status_code, 404)


class Years(ClassLife):
    def test_an_archived_class_is_looked_at_by_its_teacher_and_nobody_else_comes_in(self) -> None:
        ann = client_of(self.ann)
        post(self.teacher, f"{self.path}/archive", archived=True)
        self.assertEqual((self.names(ann), self.names(self.teacher)), ([], []))
        self.assertEqual([c["name"] for c in self.teacher.get("/api/archived-classes").json()], ["Class one"])
        self.assertEqual(post(Client(), "sign-in/class", code="CODE11").status_code, 404)
        self.assertEqual(ann.get(f"/api/books/{self.school.book.pk}").status_code, 404)
        self.assertEqual(send_edit(ann, self.school.book, add_setting()).status_code, 404)
        self.assertEqual(self.teacher.get(f"/api/books/{self.school.book.pk}").status_code, 200)
        post(self.teacher, f"{self.path}/archive", archived=False)
        self.assertEqual(send_edit(ann, self.school.book, add_setting()).status_code, 200)

    def test_the_next_year_has_the_plans_and_nobody_on_its_list(self) -> None:
        draft = Book.objects.get(plan=self.school.practical.version.plan)
        Book.objects.filter(pk=draft.pk).update(document=draft.document | {"title": "The strip, bettered"})
        made = post(self.teacher, f"{self.path}/next-year", name="Class one", year="2027/28").json()
        self.assertEqual((made["seats"], made["benches"], made["year"]), ([], [], "2027/28"))
        self.assertEqual([(p["title"], p["given_out"]) for p in made["practicals"]], [("The strip, bettered", "2027-09-30")])
        self.assertEqual(date(2027, 9, 30).weekday(), date(2026, 10, 1).weekday())
        self.assertEqual(self.school.school_class.seats.count(), 4, "nobody has left the old one")

    def test_who_is_listed_later_sits_in_what_was_given_out_before(self) -> None:
        """So that the walkround shows their benches, and conditions can be dealt, before anybody has come in."""
        made = post(self.teacher, f"{self.path}/next-year", name="Class one", year="2027/28").json()
        path, practical = f"my-classes/{made['id']}", made["practicals"][0]["id"]
        listed = post(self.teacher, f"{path}/list", text="Dee, Stint\nEd, Stint\nFay, Ruff\nGil", second="bench", practicals=[])
        self.assertEqual(listed.status_code, 200, listed.content)

        def benches() -> dict[str, list[str]]:
            tiles = self.teacher.get(f"/api/practicals/{practical}/walkround").json()["tiles"]
            return {tile["bench"]: sorted(tile["names"]) for tile in tiles}

        self.assertEqual(benches(), {"Stint": ["Dee", "Ed"], "Ruff": ["Fay"]})
        # somebody at no bench comes to one; who is moved from the next practical on only stays where they sit
        gil, fay = (Seat.objects.get(name=name, school_class=made["id"]) for name in ("Gil", "Fay"))
        for seat in (gil, fay):
            post(self.teacher, f"seats/{seat.pk}/move", bench="Dunlin", practicals=[])
        self.assertEqual(benches(), {"Stint": ["Dee", "Ed"], "Ruff": ["Fay"], "Dunlin": ["Gil"]})
        # what is over is not sat in any more
        Practical.objects.filter(pk=practical).update(closed=local_now())
        post(self.teacher, f"{path}/list", text="Hal, Knot", second="bench", practicals=[])
        self.assertNotIn("Knot", benches())

    def test_absent_is_for_a_day_and_nobody_deals_who_is_not_there(self) -> None:
        seat = self.seat(self.ann)
        told = post(self.teacher, f"seats/{seat.pk}/absent", absent=True).json()
        self.assertEqual([s["name"] for s in told["seats"] if s["absent"]], ["Ann"])
        dealt = post(self.teacher, f"{self.path}/deal", size=2, way="alphabet").json()
        self.assertNotIn(seat.pk, [key for bench in dealt for key in bench["seats"]])
        with patch("hobrel.school.classes_api.local_now", return_value=local_now() + timedelta(days=1)):
            self.assertFalse(any(s["absent"] for s in self.teacher.get(f"/api/{self.path}").json()["seats"]))

    def test_dealt_as_last_time(self) -> None:
        Seat.objects.filter(school_class=self.school.school_class).update(bench=None)
        dealt = post(self.teacher, f"{self.path}/deal", size=2, way="last").json()
        names = {b["name"]: [Seat.objects.get(pk=k).name for k in b["seats"]] for b in dealt}
        self.assertEqual(names, {"Godwit": ["Ann", "Bo", "Newcomer"], "Redshank": ["Cy"]})


class WaitingAtTheDoor(ClassLife):
    def try_pin(self, client: Client, pin: str) -> int:
        return int(post(client, "sign-in/student", code="CODE11", seat=self.seat(self.ann).pk, pin=pin).status_code)

    def test_the_teacher_sees_who_waits_and_lets_them_in(self) -> None:
        stranger = Client()
        for n in range(5):
            self.assertEqual(self.try_pin(stranger, f"000{n}"), 403)
        self.assertEqual(self.try_pin(stranger, PIN), 429)
        waiting = [s["name"] for s in self.teacher.get(f"/api/{self.path}").json()["seats"] if s["waiting"]]
        self.assertEqual(waiting, ["Ann"])
        told = post(self.teacher, f"seats/{self.seat(self.ann).pk}/let-in").json()
        self.assertFalse(any(s["waiting"] for s in told["seats"]))
        self.assertEqual(self.try_pin(stranger, PIN), 200)


class TwoClasses(ClassLife):
    def setUp(self) -> None:
        super().setUp()
        self.other.school_class.teachers.add(self.school.teacher)
        self.second = self.seat(self.other.students[0])

    def test_two_names_become_one_student_with_one_pin_and_nothing_is_lost(self) -> None:
        send_edit(client_of(self.second.person), self.other.book, add_setting())
        mine = begin_book(self.second.person)
        found = self.teacher.get(f"/api/seats/{self.second.pk}/elsewhere").json()
        self.assertEqual(found[0]["name"], "Ann", "who is called alike comes first")
        post(self.teacher, f"seats/{self.second.pk}/same-as", seat=found[0]["seat"])
        ann = client_of(self.ann)
        self.assertEqual(self.names(ann), ["Class one", "Class two"])
        self.assertEqual(send_edit(ann, self.other.book, add_setting("b")).status_code, 200)
        self.assertEqual({r.author for r in EditRecord.objects.filter(book=self.other.book)}, {self.ann})
        self.assertEqual(Book.objects.get(pk=mine.pk).owner, self.ann)
        again = post(self.teacher, f"seats/{self.second.pk}/same-as", seat=found[0]["seat"])
        self.assertEqual(again.json()["code"], "one_already")

    def test_not_within_one_class_and_not_with_nobody(self) -> None:
        within = post(self.teacher, f"seats/{self.seat(self.bo).pk}/same-as", seat=self.seat(self.ann).pk)
        self.assertEqual(within.json()["code"], "same_class")
        free = Seat.objects.get(name="Newcomer", school_class=self.school.school_class)
        nobody = post(self.teacher, f"seats/{self.second.pk}/same-as", seat=free.pk)
        self.assertEqual(nobody.json()["code"], "no_person")
        post(self.teacher, f"seats/{free.pk}/same-as", seat=self.second.pk)
        self.assertEqual(Seat.objects.get(pk=free.pk).person, self.second.person)


class Files(ClassLife):
    def read(self, *files: tuple[str, bytes]) -> Any:
        sent = [SimpleUploadedFile(name, content) for name, content in files]
        return self.teacher.post(f"/api/{self.path}/list/file", {"files": sent})

    def test_a_table_is_read_as_if_it_were_pasted(self) -> None:
        text = self.read(("list.csv", "Name;Bench\nAda Wren;Knot\nZoë Lind;Knot\n".encode())).json()["text"]
        look = post(self.teacher, f"{self.path}/list/look", text=text).json()
        self.assertEqual([(n["name"], n["bench"]) for n in look["new"]], [("Ada Wren", "Knot"), ("Zoë Lind", "Knot")])

    USERS = (
        b"sourcedId,status,enabledUser,givenName,familyName,role\n"
        b"u1,active,true,Ada,Wren,student\nu2,active,true,Tomas,Lind,student\nu3,active,true,Ms,Thorsby,teacher\nu4,active,false,Old,One,student\n"
    )
    ENROLLED = b"sourcedId,classSourcedId,userSourcedId,role\ne1,c1,u1,student\ne2,c1,u3,teacher\n"

    def test_the_pair_of_a_school_information_system(self) -> None:
        self.assertEqual(self.read(("users.csv", self.USERS)).json()["text"], "Ada Wren\nTomas Lind")
        both = self.read(("users.csv", self.USERS), ("enrollments.csv", self.ENROLLED))
        self.assertEqual(both.json()["text"], "Ada Wren")
        two = self.read(("users.csv", self.USERS), ("enrollments.csv", self.ENROLLED + b"e3,c2,u2,student\n"))
        self.assertEqual(two.json()["code"], "many_classes")

    def test_in_an_archive(self) -> None:
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("out/users.csv", self.USERS)
            archive.writestr("out/enrollments.csv", self.ENROLLED)
        self.assertEqual(self.read(("roster.zip", packed.getvalue())).json()["text"], "Ada Wren")

    def test_what_is_no_list_is_said(self) -> None:
        for name, content, code in (
            ("a.zip", b"PK no archive", "damaged"),
            ("a.png", b"\x89PNG\r\n\x1a\n\x00\x00\x00", "not_a_table"),
            ("a.csv", b"", "not_a_table"),
            ("users.csv", b"sourcedId,role\nu1,teacher\n", "not_a_list"),
        ):
            with self.subTest(name):
                answer = self.read((name, content))
                self.assertEqual((answer.status_code, answer.json()["code"]), (422, code))


class Erased(ClassLife):
    """Everything of a class or a student alone goes; what others wrote stays."""

    def setUp(self) -> None:
        super().setUp()
        fill(self.school.book)
        send_edit(client_of(self.ann), self.school.book, add_setting("x"))
        send_edit(client_of(self.bo), self.school.book, add_setting("y"))
        confirm = {"type": "confirm_slip", "kind": "outlier", "run": "run1", "setting": "x", "quantity": "t10"}
        send_edit(client_of(self.ann), self.school.book, confirm)
        self.school.book.refresh_from_db()
        write_remark(self.school.book, self.school.teacher, "read", "Look again.")
        hand_in(self.school.book, self.ann)

    def test_a_class_goes_whole_and_its_students_who_are_in_no_other(self) -> None:
        stays = Seat.objects.create(school_class=self.other.school_class, name="Bo of one", person=self.bo)
        begin_book(self.ann)
        self.assertEqual(post(self.teacher, f"{self.path}/erase", name="Class two").json()["field"], "name")
        self.assertTrue(SchoolClass.objects.filter(pk=self.school.school_class.pk).exists())
        told = post(self.teacher, f"{self.path}/erase", name="class  one").json()
        self.assertEqual(told["words"], "a class: 4 students, 1 practical, 2 lab books")
        for kind in (Bench, Seat, Practical):
            self.assertFalse(kind.objects.filter(school_class=self.school.school_class.pk).exists())
        self.assertFalse(Book.objects.filter(pk__in=[self.school.book.pk, self.school.other_book.pk]).exists())
        self.assertEqual((EditRecord.objects.count(), HandIn.objects.count()), (0, 0))
        self.assertFalse(Person.objects.filter(pk=self.ann.pk).exists())
        self.assertFalse(Book.objects.filter(owner=self.ann.pk).exists())
        self.assertEqual(Seat.objects.get(pk=stays.pk).person, self.bo)
        self.assertTrue(Person.objects.filter(pk=self.school.teacher.pk).exists())
        self.assertEqual(self.other.school_class.seats.count(), 5)
        self.assertNotIn("Ann", " ".join(Receipt.objects.values_list("words", flat=True)))

    def test_a_session_of_somebody_erased_is_over(self) -> None:
        ann = client_of(self.ann)
        post(self.teacher, f"{self.path}/erase", name="Class one")
        self.assertEqual(ann.get("/api/classes").status_code, 401)

    def test_a_student_leaves_what_was_written_with_others_without_a_name(self) -> None:
        seat = self.seat(self.ann)
        post(self.teacher, f"seats/{seat.pk}/rename", name="Anna Lind")
        self.assertEqual(post(self.teacher, f"seats/{seat.pk}/erase", name="Bo").status_code, 422)
        self.assertIn("Ann", HandIn.objects.get().html)
        self.assertEqual(post(self.teacher, f"seats/{seat.pk}/erase", name="Anna Lind").status_code, 200)
        bo = client_of(self.bo)
        history = bo.get(f"/api/books/{self.school.book.pk}/history").json()
        self.assertEqual([h["author"] for h in history], ["somebody who has left", "Bo", "somebody who has left"])
        everything = json.dumps([bo.get(f"/api/books/{self.school.book.pk}").json(), *Book.objects.values_list("document", flat=True)])
        everything += json.dumps([[r.change, r.patches, r.words] for r in EditRecord.objects.all()])
        found = HandIn.objects.get()
        self.assertEqual((found.html, *(bytes(file) for file in (found.pdf, found.docx, found.odt))), ("", b"", b"", b""), "gone at once")
        everything += json.dumps([found.document, found.analysis])
        self.assertFalse("Ann" in everything)
        # whoever looks first has it printed anew, in all its files
        self.assertEqual([h["words"] for h in bo.get(f"/api/books/{self.school.book.pk}").json()["hand_ins"]], [True])
        page = bo.get(f"/api/hand-ins/{found.pk}/page").content.decode()
        self.assertTrue("Bo" in page and "Ann" not in page)
        with patch("hobrel.reports.actions.export_report", side_effect=AssertionError("printed twice")):
            for ending in ("html", "pdf", "docx", "odt"):
                self.assertEqual(bo.get(f"/api/hand-ins/{found.pk}/report.{ending}").status_code, 200, ending)
        self.assertEqual(send_edit(bo, self.school.book, add_setting("z")).status_code, 200, "the bench goes on")

    def test_who_is_erased_while_the_bench_hands_in_is_not_in_what_is_handed_in(self) -> None:
        seat, bo = self.seat(self.ann), client_of(self.bo)
        send_edit(bo, self.school.book, add_setting("z"))

        def print_meanwhile(report: ReportFiles, print_all: Any = reports._write_all) -> Any:
            made = print_all(report)
            if Seat.objects.filter(pk=seat.pk).exists():
                self.assertEqual(post(self.teacher, f"seats/{seat.pk}/erase", name="Ann").status_code, 200)
            return made

        with patch("hobrel.reports.actions._write_all", side_effect=print_meanwhile):
            refused, again = (bo.post(f"/api/books/{self.school.book.pk}/hand-in") for _ in range(2))
        self.assertEqual((refused.status_code, refused.json()["code"], again.status_code), (409, "others_sit_here", 200))
        self.assertFalse(any("Ann" in handed.html for handed in HandIn.objects.all()))

    def test_where_nobody_else_has_sat_the_lab_book_goes(self) -> None:
        cy = self.seat(self.school.other_bench)
        post(self.teacher, f"seats/{cy.pk}/erase", name="Cy")
        self.assertFalse(Book.objects.filter(pk=self.school.other_book.pk).exists())
        self.assertTrue(Book.objects.filter(pk=self.school.book.pk).exists())

    def test_everything_is_taken_out_before(self) -> None:
        with zipfile.ZipFile(io.BytesIO(self.teacher.get(f"/api/{self.path}/export.zip").content)) as packed:
            names = packed.namelist()
            self.assertEqual(len([n for n in names if n.endswith(".json")]), 2)
            self.assertEqual(len([n for n in names if n.startswith("hand-ins/")]), 2)
            self.assertIn("Ann,Godwit", packed.read("list.csv").decode())
            own = next(n for n in names if n.startswith(f"lab-books/{self.school.book.pk}-") and n.endswith(".json"))
            self.assertEqual(json.loads(packed.read(own))["format"], "hobrel-lab-book")
        seat = self.seat(self.ann)
        begin_book(self.ann)
        with zipfile.ZipFile(io.BytesIO(self.teacher.get(f"/api/seats/{seat.pk}/export.zip").content)) as packed:
            self.assertEqual(len([n for n in packed.namelist() if n.endswith(".json")]), 2)

    def test_the_last_teacher_and_the_last_head_stay(self) -> None:
        head = write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        client = client_of(head)
        erase = lambda person, name: post(client, f"teachers/{person.pk}/erase", name=name)  # noqa: E731
        self.assertEqual(erase(head, "Head").json()["code"], "last_head")
        self.assertEqual(erase(self.school.teacher, "Teacher one").json()["code"], "teaches_alone")
        self.school.school_class.teachers.add(head)
        self.assertEqual(erase(self.school.teacher, "Teacher one").status_code, 200)
        self.assertTrue(Practical.objects.filter(pk=self.school.practical.pk).exists())
        self.assertEqual(Plan.objects.filter(owner=self.school.teacher.pk).count(), 0)
        self.assertEqual([r["words"] for r in client.get("/api/receipts").json()], ["a teacher: 1 plan, 0 lab books"])
        self.assertEqual(client_of(head).get(f"/api/books/{self.school.book.pk}").json()["remarks"][0]["author"], "somebody who has left")
