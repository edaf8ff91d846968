"""Nobody in who does not belong: every route of the API, as ten kinds of people. A route without a rule fails."""

from __future__ import annotations

import json
import re
import uuid
from contextlib import ExitStack
from typing import Any
from unittest.mock import patch

from django.contrib.auth.hashers import make_password
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase

from hobrel.classes.models import Person, Seat, WrongTry
from hobrel.labbooks.models import KeptPicture, PictureUse
from hobrel.labbooks.own import begin_book
from hobrel.labbooks.remarks import write_remark
from hobrel.plans.models import Sitting
from hobrel.plans.sittings import move_seat, take_off
from hobrel.reports.actions import hand_in
from hobrel.school.teachers import write_teacher
from hobrel.server import policy
from hobrel.server.api import api
from tests.placing import placing
from tests.school import PASSWORD, add_setting, client_of, fill, make_school, send_edit

ROLES = (
    *("stranger", "other class", "other bench", "own bench", "moved away", "off the list"),
    *("other teacher", "own teacher", "colleague", "head"),
)
OPEN = (200,) * 10
SEE = (401, 404, 404, 200, 200, 404, 404, 200, 200, 404)
EDIT = (401, 404, 404, 200, 403, 404, 404, 403, 403, 404)
TEACHER = (401, *(404,) * 5, 200, 200, 200, 200)
OWN_TEACHER = (401, *(404,) * 6, 200, 200, 404)
HEAD = (401, *(404,) * 5, 403, 403, 403, 200)
REMARK = (401, 404, 404, 403, 403, 404, 404, 200, 200, 404)
OWNER = (401, 404, 404, 200, 404, 404, 404, 404, 404, 404)
ANYBODY = (401, *(200,) * 9)
# what each role gets, in the order of ROLES; sign-in routes answer everybody, with a refusal of their own where nothing fits
RULES: dict[tuple[str, str], tuple[int, ...]] = {
    ("GET", "/me"): OPEN,
    ("POST", "/sign-in/teacher"): (403,) * 10,
    ("POST", "/sign-in/class"): (404,) * 10,
    ("POST", "/sign-in/student"): (404,) * 10,
    ("POST", "/sign-in/demo"): (404,) * 10,
    ("POST", "/begin"): (409,) * 10,
    ("POST", "/invitation/look"): (404,) * 10,
    ("POST", "/invitation/accept"): (404,) * 10,
    ("POST", "/invitation/password"): (404,) * 10,
    ("POST", "/sign-out"): ANYBODY,
    ("GET", "/classes"): ANYBODY,
    ("GET", "/school"): TEACHER,
    ("POST", "/school"): HEAD,
    ("POST", "/invitations"): HEAD,
    ("DELETE", "/invitations/{invitation_id}"): TEACHER,
    ("POST", "/my-classes"): TEACHER,
    ("GET", "/my-classes/{class_id}"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/list/look"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/list"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/deal"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/benches"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/door"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/list/file"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/teachers"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/own-books"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/decimal-mark"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/archive"): OWN_TEACHER,
    ("POST", "/my-classes/{class_id}/next-year"): OWN_TEACHER,
    ("GET", "/my-classes/{class_id}/export.zip"): OWN_TEACHER,
    ("GET", "/my-classes/{class_id}/scales"): OWN_TEACHER,
    # with another name than the class's, so that it stays
    ("POST", "/my-classes/{class_id}/erase"): (401, *(404,) * 6, 422, 422, 404),
    # nobody but the owner of a plan gives it out
    ("POST", "/my-classes/{class_id}/practicals"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/archived-classes"): TEACHER,
    ("GET", "/receipts"): HEAD,
    ("GET", "/plans"): TEACHER,
    ("POST", "/plans"): TEACHER,
    ("POST", "/plans/file"): (401, *(404,) * 5, 422, 422, 422, 422),
    ("GET", "/shelf"): TEACHER,
    ("GET", "/rigs"): (401, 200, 200, 200, 200, 403, 200, 200, 200, 200),
    ("POST", "/practise"): (401, 200, 200, 200, 200, 403, 200, 200, 200, 200),
    ("POST", "/plans/{plan_id}/demonstration"): (401, *(404,) * 6, 200, 404, 404),
    # whoever writes it, alone or with its owner
    ("GET", "/plans/{plan_id}/seen"): (401, *(404,) * 6, 200, 404, 404),
    ("POST", "/plans/{plan_id}/pictures"): (401, *(404,) * 6, 422, 404, 404),
    ("GET", "/books/{book_id}/pictures/{key}"): SEE,
    ("GET", "/plans/{plan_id}/last-time"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/plans/{plan_id}/notes"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/plans/{plan_id}/offers"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/plans/{plan_id}/dry-run"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/plans/{plan_id}/dry-run/better"): (401, *(404,) * 6, 200, 404, 404),
    ("GET", "/plans/{plan_id}/dry-run/for"): (401, *(404,) * 6, 200, 404, 404),
    ("POST", "/practicals/{practical_id}/day"): OWN_TEACHER,
    ("POST", "/practicals/{practical_id}/close"): OWN_TEACHER,
    ("POST", "/practicals/{practical_id}/dates"): OWN_TEACHER,
    ("GET", "/practicals/{practical_id}/turns"): OWN_TEACHER,
    ("POST", "/practicals/{practical_id}/turns"): OWN_TEACHER,
    # the plan of the strip has no conditions
    ("POST", "/practicals/{practical_id}/turns/deal"): (401, *(404,) * 6, 422, 422, 404),
    ("GET", "/practicals/{practical_id}/amendment"): OWN_TEACHER,
    # nothing has changed in the plan, and nothing has been amended
    ("POST", "/practicals/{practical_id}/amendment"): (401, *(404,) * 6, 409, 409, 404),
    ("POST", "/practicals/{practical_id}/amendment/back"): (401, *(404,) * 6, 409, 409, 404),
    ("DELETE", "/practicals/{practical_id}"): (401, *(404,) * 6, 409, 409, 404),
    ("GET", "/own-books"): ANYBODY,
    ("POST", "/own-books"): (401, 200, 200, 200, 200, 403, 200, 200, 200, 200),
    ("GET", "/own-books/{book_id}/sharing"): OWNER,
    ("POST", "/own-books/{book_id}/sharing"): OWNER,
    ("DELETE", "/own-books/{book_id}"): OWNER,
    ("POST", "/teachers/{teacher_id}/erase"): (401, *(404,) * 5, 403, 403, 403, 422),
    ("POST", "/seats/{seat_id}/absent"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/let-in"): OWN_TEACHER,
    ("GET", "/seats/{seat_id}/elsewhere"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/same-as"): (401, *(404,) * 6, 409, 409, 404),
    ("GET", "/seats/{seat_id}/export.zip"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/erase"): (401, *(404,) * 6, 422, 422, 404),
    ("POST", "/seats/{seat_id}/move"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/rename"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/forget-pin"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/take-off"): OWN_TEACHER,
    ("GET", "/books/{book_id}"): SEE,
    ("GET", "/books/{book_id}/view"): SEE,
    ("GET", "/books/{book_id}/changes"): SEE,
    ("GET", "/books/{book_id}/beside"): SEE,
    ("POST", "/books/{book_id}/edits"): EDIT,
    ("POST", "/books/{book_id}/left-out"): (401, 404, 404, 403, 403, 404, 404, 204, 204, 404),
    ("GET", "/practicals/{practical_id}/pool.{ending}"): OWN_TEACHER,
    ("POST", "/books/{book_id}/hand"): (401, 404, 404, 204, 403, 404, 404, 204, 204, 404),
    ("GET", "/practicals/{practical_id}/walkround"): OWN_TEACHER,
    ("POST", "/practicals/{practical_id}/remarks"): OWN_TEACHER,
    ("POST", "/classes/{class_id}/room"): tuple(204 if status == 200 else status for status in OWN_TEACHER),
    ("POST", "/books/{book_id}/opened"): tuple(204 if status == 200 else status for status in EDIT),
    ("POST", "/books/{book_id}/undo"): EDIT,
    ("POST", "/books/{book_id}/redo"): EDIT,
    ("GET", "/books/{book_id}/history"): SEE,
    ("GET", "/books/{book_id}/working"): SEE,
    ("GET", "/books/{book_id}/at/{revision}"): SEE,
    ("GET", "/books/{book_id}/rows"): SEE,
    ("GET", "/books/{book_id}/board"): SEE,
    ("GET", "/books/{book_id}/board/plot"): SEE,
    ("GET", "/books/{book_id}/by-eye"): SEE,
    ("GET", "/books/{book_id}/read-off"): SEE,
    ("GET", "/books/{book_id}/what-if"): SEE,
    ("GET", "/books/{book_id}/suppose"): SEE,
    ("GET", "/books/{book_id}/step-models"): SEE,
    ("GET", "/books/{book_id}/pulls"): SEE,
    ("GET", "/books/{book_id}/stretch"): SEE,
    ("GET", "/books/{book_id}/steepest"): SEE,
    ("GET", "/books/{book_id}/gradients"): SEE,
    ("GET", "/books/{book_id}/across-runs"): SEE,
    ("GET", "/books/{book_id}/improvements"): SEE,
    ("POST", "/books/{book_id}/finding-preview"): SEE,
    # the plan of the strip has no rig
    ("POST", "/books/{book_id}/rig/reading"): tuple(422 if status == 200 else status for status in EDIT),
    ("POST", "/books/{book_id}/rig/record"): tuple(422 if status == 200 else status for status in EDIT),
    ("POST", "/books/{book_id}/measured"): SEE,
    ("GET", "/books/{book_id}/drawn-film"): SEE,
    ("POST", "/books/{book_id}/rig"): tuple(422 if status == 200 else status for status in SEE),
    ("GET", "/books/{book_id}/preview"): SEE,
    ("GET", "/books/{book_id}/conventions"): SEE,
    ("GET", "/books/{book_id}/ways"): SEE,
    ("POST", "/books/{book_id}/remarks"): (401, 404, 404, 403, 403, 404, 404, 200, 200, 404),
    ("POST", "/remarks/{remark_id}/settle"): (401, 404, 404, 403, 403, 404, 404, 200, 403, 404),
    ("POST", "/remarks/{remark_id}/replies"): (401, 404, 404, 200, 403, 404, 404, 200, 200, 404),
    ("POST", "/remarks/{remark_id}/done"): EDIT,
    ("GET", "/phrases"): TEACHER,
    ("GET", "/practicals/{practical_id}/pool"): (401, 404, 403, 403, 403, 404, 404, 200, 200, 404),
    ("POST", "/practicals/{practical_id}/pool"): OWN_TEACHER,
    ("GET", "/books/{book_id}/report"): SEE,
    ("GET", "/books/{book_id}/report/drawings/{drawing}.svg"): SEE,
    ("GET", "/books/{book_id}/report/pictures.zip"): SEE,
    ("GET", "/books/{book_id}/report/tables/{table}.pdf"): SEE,
    ("POST", "/books/{book_id}/pictures"): tuple(422 if status == 200 else status for status in EDIT),
    ("GET", "/books/{book_id}/report.{ending}"): SEE,
    ("GET", "/books/{book_id}/graphs/{graph_id}.{ending}"): SEE,
    ("GET", "/books/{book_id}/take-out.{ending}"): SEE,
    ("GET", "/books/{book_id}/reading-sheet.pdf"): SEE,
    ("POST", "/books/{book_id}/bring-in/look"): EDIT,
    ("POST", "/books/{book_id}/bring-in"): EDIT,
    ("POST", "/books/{book_id}/hand-in"): EDIT,
    ("GET", "/hand-ins/{hand_in_id}/report.{ending}"): SEE,
    ("GET", "/hand-ins/{hand_in_id}/changes"): SEE,
    ("GET", "/hand-ins/{hand_in_id}/page"): SEE,
    ("GET", "/books/{book_id}/report-page"): SEE,
    ("GET", "/hand-ins/{hand_in_id}"): REMARK,
    ("POST", "/hand-ins/{hand_in_id}/answer"): REMARK,
    # its teachers are told that there is no such row
    ("POST", "/hand-ins/{hand_in_id}/marks"): tuple(422 if code == 200 else code for code in REMARK),
    ("GET", "/practicals/{practical_id}/hand-ins"): OWN_TEACHER,
    ("POST", "/practicals/{practical_id}/marks-back"): OWN_TEACHER,
    ("GET", "/practicals/{practical_id}/marks.{ending}"): OWN_TEACHER,
    ("GET", "/practicals/{practical_id}/readings.{ending}"): OWN_TEACHER,
    ("GET", "/practicals/{practical_id}/reports.zip"): OWN_TEACHER,
    ("GET", "/practicals/{practical_id}/archive.zip"): OWN_TEACHER,
}


FINDERS = (
    "find_book",
    "find_remark",
    "find_hand_in",
    "find_practical",
    "find_pool",
    "find_taught",
    "need_teacher",
    "need_head",
    "invitations_of",
    "find_class",
    "find_seat",
    "find_plan",
    "find_own_book",
    "need_beginner",
)


def wanted(setting: str) -> dict[str, Any]:
    return {"client_id": str(uuid.uuid4()), "edit": add_setting(setting)}


def all_routes() -> list[tuple[str, str]]:
    """Every method and path that the API answers to."""
    routes = []
    for prefix, router in api._routers:
        for path, view in router.path_operations.items():
            routes += [(method, prefix + path) for operation in view.operations for method in operation.methods]
    return routes


STAYS_IN = ("/books/", "/plans", "/practicals/", "/remarks/", "/hand-ins/", "/own-books", "/practise")


class Matrix(TestCase):
    def setUp(self) -> None:
        files = ("reports.api.export_report", "reports.actions.export_report", "reports.api.archive_pictures", "reports.api.print_drawing")
        for name in (*files, "labbooks.plan_api.ask_about", "labbooks.plan_api.ask_in_parts"):  # what is in it does not decide who has it
            self.enterContext(patch(f"hobrel.{name}", return_value=b"made"))
        self.signed_in: dict[str, Client] = {}
        self.school, self.other = make_school(), make_school("two", "CODE22")
        self.head = write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        fill(self.school.book)
        own = client_of(self.school.students[0])
        send_edit(own, self.school.book, add_setting("before"))
        number = {"id": "a", "symbol": "k", "unit": "", "value": "1", "fitted": False}
        self.school.book.refresh_from_db()
        send_edit(own, self.school.book, placing(self.school.book.document, "place_fit", "line", steps={"numbers": [number]}))
        choices = {"client_id": str(uuid.uuid4()), "columns": [{"index": 0, "quantity": "L"}], "logged": True}
        form = {"file": SimpleUploadedFile("a.csv", b"L\n0.3\n"), "choices": json.dumps(choices)}
        self.logged = own.post(f"/api/books/{self.school.book.pk}/bring-in", form).json()["run"]
        self.school.book.refresh_from_db()
        self.anns = self.school.students[0].seats.get().pk
        self.newcomer = Seat.objects.get(name="Newcomer", school_class=self.school.school_class).pk
        self.remark = write_remark(self.school.book, self.school.teacher, "read", "Look at setting 3.")
        self.hand_in = hand_in(self.school.book, self.school.students[0])
        self.plan = self.school.practical.version.plan
        self.moved, self.off = self.sit("Moved"), self.sit("Off")
        move_seat(Seat.objects.get(person=self.moved), None, [self.school.practical])
        take_off(Seat.objects.get(person=self.off))
        self.colleague = write_teacher(shown_name="Colleague", name="colleague", password=PASSWORD, is_head=False)
        self.school.school_class.teachers.add(self.colleague)
        self.own = begin_book(self.school.students[0])
        self.picture = "0" * 64
        PictureUse.objects.create(picture=KeptPicture.objects.create(key=self.picture, kind="png", content=b""), book=self.school.book)

    def sit(self, name: str) -> Person:
        """Somebody else at the bench of the lab book."""
        person = Person.objects.create(username=name, role=Person.Role.STUDENT, shown_name=name, password=make_password("x"))
        seat = Seat.objects.create(school_class=self.school.school_class, bench=self.school.book.bench, name=name, person=person)
        Sitting.objects.create(practical=self.school.practical, seat=seat, bench=self.school.book.bench)
        return person

    def person(self, role: str) -> Person | None:
        school, other = self.school, self.other
        return dict(
            zip(
                ROLES,
                (
                    *(None, other.students[0], school.other_bench, school.students[0], self.moved, self.off),
                    *(other.teacher, school.teacher, self.colleague, self.head),
                ),
                strict=True,
            )
        )[role]

    def client_for(self, role: str, method: str, path: str) -> Client:
        if method != "GET" and not path.startswith(STAYS_IN):  # somebody may be out after it
            self.signed_in.clear()
            return client_of(self.person(role))
        return self.signed_in.get(role) or self.signed_in.setdefault(role, client_of(self.person(role)))

    def ask(self, client: Client, method: str, path: str) -> int:
        places = {
            "book_id": self.school.book.pk, "practical_id": self.school.practical.pk, "remark_id": self.remark.pk,
            "hand_in_id": self.hand_in.pk, "graph_id": "straight", "ending": "html", "revision": 0, "invitation_id": 0,
            "class_id": self.school.school_class.pk, "seat_id": self.newcomer, "teacher_id": self.colleague.pk, "plan_id": self.plan.pk,
            "key": self.picture, "drawing": "graph-straight", "table": "readings-run1",
        }  # fmt: skip
        if path.startswith("/own-books/"):
            places["book_id"] = self.own.pk
        address = "/api" + re.sub(r"\{(\w+)\}", lambda m: str(places[m[1]]), path)
        if "bring-in" in path:
            choices = {"client_id": str(uuid.uuid4()), "columns": [{"index": 0, "quantity": "L"}], "name": "From a file"}
            return client.post(address, {"file": SimpleUploadedFile("a.csv", b"L\n0.3\n"), "choices": json.dumps(choices)}).status_code
        if "take-out" in path or path.startswith("/practicals/"):
            address = address.replace(".html", ".csv")
        if "/graphs/" in path:
            address = address.replace(".html", ".svg")
        if path == "/plans/file":
            return client.post(address, {"file": SimpleUploadedFile("plan.json", b"no plan")}).status_code
        if path.endswith("/pictures"):
            return client.post(address, {"file": SimpleUploadedFile("a.png", b"no picture")}).status_code
        if path.endswith("list/file"):
            return client.post(address, {"files": SimpleUploadedFile("list.csv", b"name\nAnn\n")}).status_code
        if path.startswith("/own-books/") and method == "DELETE":
            # each time another, for this one is to stay
            self.own = self.own if not client.session.get("_auth_user_id") else begin_book(self.school.students[0])
            address = f"/api/own-books/{self.own.pk}"
        if method == "DELETE":
            return client.delete(address).status_code
        if method == "GET":
            query = {
                "changes": "?since=0&against=now",
                "working": "?of=finding:E",
                "preview": "?quantity=T&formula=t_10/10",
                "conventions": "?quantity=t10",
                "ways": "?quantity=T2",
                "board": "?x=L&y=T",
                "read-off": "?fit=line&direction=forward&at=0.1",
                "what-if": "?fit=line&key=s3",
                "suppose": "?fit=line&item=a&value=1",
                "step-models": "?fit=line",
                "pulls": "?fit=line",
                "by-eye": "?fit=line&gradient=4.7&intercept=0",
                "stretch": "?graph=straight&low=0&high=1",
                "steepest": "?graph=measured",
                "gradients": "?graph=straight",
                "across-runs": "?finding=E",
                "improvements": "?finding=E",
                "better": "?finding=E",
                "for": "?finding=E&percent=3",
                "plot": "?x=L&y=T&x_form=v^3&y_form=v^2",
                "rows": f"?run={self.logged}",
            }.get(path.rsplit("/", 1)[-1], "")
            return client.get(address + query).status_code
        bodies: dict[str, Any] = {
            "teacher": {"name": "nobody", "password": "wrong"}, "class": {"code": "NOSUCH"}, "demo": {"key": "teacher-1"},
            "student": {"code": "NOSUCH", "seat": 1, "pin": "0000"}, "edits": {"edits": [wanted("n")]},
            "undo": {"client_id": str(uuid.uuid4())}, "redo": {"client_id": str(uuid.uuid4())}, "settle": {"settled": True},
            "practise": {"rig": "iron-in-tea"},
            "reading": {"hand": "h", "start": 0, "face": "ruler", "text": "1.0"},
            "record": {"hand": "h", "start": 0, "run": "run1", "client_id": str(uuid.uuid4())},
            "rig": {"hand": "h", "start": 0},
            "measured": {"marks": {}},
            "finding-preview": {"name": "w", "symbol": "w", "formula": "m/b"},
            "hand": {"up": False}, "left-out": {"reason": ""}, "replies": {"text": "We did."}, "done": {"done": True},
            "room": {"places": {}},
            "remarks": {"stage": "read", "text": "Well done.", "books": [self.school.book.pk]}, "opened": {"stage": "fit"},
            "pool": {"open": False}, "marks-back": {"given_back": False},
            "answer": {"verdict": "accepted"}, "marks": {"row": "no such row"},
            "begin": {"key": "A", "school": "S", "time_zone": "UTC", "shown_name": "N", "name": "n", "password": "p"},
            "look": {"key": "A", "text": "Ann"}, "accept": {"key": "A", "shown_name": "N", "name": "n", "password": "p"},
            "password": {"key": "A", "password": "p"}, "school": {"name": "Tidewater", "time_zone": "UTC"}, "invitations": {"kind": "head"},
            "my-classes": {"name": "9A"}, "list": {"text": "Ann\nBo\nCy\nNewcomer"}, "deal": {"size": 2, "way": "random", "each": 1},
            "benches": {"benches": [{"name": "Godwit", "seats": [self.anns]}]},
            "door": {"open": True}, "move": {"bench": "Godwit"}, "rename": {"name": "Newcomer"}, "decimal-mark": {"mark": "comma"},
            "teachers": {"person": self.head.pk, "teaches": False}, "own-books": {"allowed": True}, "archive": {"archived": False},
            "next-year": {"name": "Next", "year": ""}, "erase": {"name": "another"}, "absent": {"absent": False},
            "same-as": {"seat": self.newcomer}, "practicals": {"plan": self.plan.pk, "day": "2026-10-01"}, "day": {"day": "2026-10-01"},
            "close": {"closed": False}, "turns": {"turns": []}, "sharing": {"person": self.school.students[1].pk, "shared": True},
        }  # fmt: skip
        return client.post(address, json.dumps(bodies.get(path.rsplit("/", 1)[-1], {})), content_type="application/json").status_code

    def test_every_route_for_everybody(self) -> None:
        routes = all_routes()
        self.assertEqual(sorted(routes), sorted(RULES), "each route needs a rule here")
        for method, path in routes:
            # undo before redo, so that there is something to do again
            for role, expected in zip(ROLES, RULES[method, path], strict=True):
                WrongTry.objects.all().delete()
                with self.subTest(f"{method} {path} as {role}"):
                    self.assertEqual(self.ask(self.client_for(role, method, path), method, path), expected)

    def test_every_route_asks_the_policy(self) -> None:
        """But for those that show somebody only what is their own, or let them in and out."""
        own = ("/me", "/classes", "/sign-in/", "/sign-out", "/begin", "/invitation/")
        only_lists = ("GET", "/own-books")
        for method, path in all_routes():
            if path.startswith(own) or (method, path) == only_lists:
                continue
            rule = RULES[method, path]
            person = self.school.students[0] if rule[3] == 200 else self.school.teacher if rule[7] != 403 else self.head
            with self.subTest(f"{method} {path}"), ExitStack() as watched:
                asked = [watched.enter_context(patch.object(policy, name, wraps=getattr(policy, name))) for name in FINDERS]
                self.ask(client_of(person), method, path)
                self.assertTrue(any(finder.called for finder in asked))

    def test_the_pool_opens_for_the_class_and_for_nobody_else(self) -> None:
        address = f"/api/practicals/{self.school.practical.pk}/pool"
        client_of(self.school.teacher).post(address, json.dumps({"open": True}), content_type="application/json")
        got = {role: client_of(self.person(role)).get(address).status_code for role in ROLES}
        self.assertEqual(got, dict(zip(ROLES, (401, 404, 200, 200, 403, 404, 404, 200, 200, 404), strict=True)))

    def test_a_list_shows_only_what_is_ones_own(self) -> None:
        def books(person: Person) -> list[int]:
            classes = client_of(person).get("/api/classes").json()
            return [b["book"] for c in classes for p in c["practicals"] for b in p["benches"]]

        self.assertEqual(books(self.school.students[0]), [self.school.book.pk])
        self.assertEqual(books(self.school.teacher), [self.school.book.pk, self.school.other_book.pk])
        self.assertNotIn(
            "join_code", [k for c in client_of(self.school.students[0]).get("/api/classes").json() for k in c if c["join_code"]]
        )

    def test_unsafe_requests_need_our_own_page(self) -> None:
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.school.students[0])
        body = json.dumps({"edits": [wanted("n")]})
        self.assertEqual(client.post(f"/api/books/{self.school.book.pk}/edits", body, content_type="application/json").status_code, 403)
        stranger = Client(enforce_csrf_checks=True)
        answer = stranger.post("/api/sign-in/teacher", json.dumps({"name": "a", "password": "b"}), content_type="application/json")
        self.assertEqual(answer.status_code, 403)
        self.assertNotIn("wrong_sign_in", answer.content.decode())
