"""Nobody in who does not belong: every route of the API, as seven kinds of people. A route without a rule fails."""

from __future__ import annotations

import json
import re
import uuid
from contextlib import ExitStack
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase

from hobrel.classes.models import Person, Seat, WrongTry
from hobrel.labbooks.actions import write_remark
from hobrel.reports.actions import hand_in
from hobrel.school.teachers import write_teacher
from hobrel.server import policy
from hobrel.server.api import api
from tests.school import PASSWORD, add_setting, client_of, fill, make_school, send_edit

ROLES = ("stranger", "other class", "other bench", "own bench", "other teacher", "own teacher", "head")
OPEN = (200,) * 7
SEE = (401, 404, 404, 200, 404, 200, 404)
EDIT = (401, 404, 404, 200, 404, 403, 404)
TEACHER = (401, 404, 404, 404, 200, 200, 200)
OWN_TEACHER = (401, 404, 404, 404, 404, 200, 404)
HEAD = (401, 404, 404, 404, 403, 403, 200)
# what each role gets, in the order of ROLES; sign-in routes answer everybody, with a refusal of their own where nothing fits
RULES: dict[tuple[str, str], tuple[int, ...]] = {
    ("GET", "/me"): OPEN,
    ("POST", "/sign-in/teacher"): (403,) * 7,
    ("POST", "/sign-in/class"): (404,) * 7,
    ("POST", "/sign-in/student"): (404,) * 7,
    ("POST", "/sign-in/demo"): (404,) * 7,
    ("POST", "/begin"): (409,) * 7,
    ("POST", "/invitation/look"): (404,) * 7,
    ("POST", "/invitation/accept"): (404,) * 7,
    ("POST", "/invitation/password"): (404,) * 7,
    ("POST", "/sign-out"): (401, 200, 200, 200, 200, 200, 200),
    ("GET", "/classes"): (401, 200, 200, 200, 200, 200, 200),
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
    ("POST", "/seats/{seat_id}/move"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/rename"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/forget-pin"): OWN_TEACHER,
    ("POST", "/seats/{seat_id}/take-off"): OWN_TEACHER,
    ("GET", "/books/{book_id}"): SEE,
    ("GET", "/books/{book_id}/view"): SEE,
    ("GET", "/books/{book_id}/changes"): SEE,
    ("GET", "/books/{book_id}/beside"): SEE,
    ("POST", "/books/{book_id}/edits"): EDIT,
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
    ("GET", "/books/{book_id}/pulls"): SEE,
    ("GET", "/books/{book_id}/stretch"): SEE,
    ("GET", "/books/{book_id}/steepest"): SEE,
    ("GET", "/books/{book_id}/gradients"): SEE,
    ("GET", "/books/{book_id}/across-runs"): SEE,
    ("GET", "/books/{book_id}/improvements"): SEE,
    ("POST", "/books/{book_id}/finding-preview"): SEE,
    ("GET", "/books/{book_id}/preview"): SEE,
    ("GET", "/books/{book_id}/conventions"): SEE,
    ("GET", "/books/{book_id}/ways"): SEE,
    ("POST", "/books/{book_id}/remarks"): (401, 404, 404, 403, 404, 200, 404),
    ("POST", "/remarks/{remark_id}/settle"): SEE,
    ("GET", "/practicals/{practical_id}/pool"): (401, 404, 403, 403, 404, 200, 404),
    ("POST", "/practicals/{practical_id}/pool"): (401, 404, 404, 404, 404, 200, 404),
    ("GET", "/books/{book_id}/report.{ending}"): SEE,
    ("GET", "/books/{book_id}/graphs/{graph_id}.{ending}"): SEE,
    ("GET", "/books/{book_id}/take-out.{ending}"): SEE,
    ("POST", "/books/{book_id}/bring-in/look"): EDIT,
    ("POST", "/books/{book_id}/bring-in"): EDIT,
    ("POST", "/books/{book_id}/hand-in"): EDIT,
    ("GET", "/hand-ins/{hand_in_id}/report.{ending}"): SEE,
}


FINDERS = (
    "find_book",
    "find_remark",
    "find_hand_in",
    "find_practical",
    "find_pool",
    "need_teacher",
    "need_head",
    "invitations_of",
    "find_class",
    "find_seat",
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


class Matrix(TestCase):
    def setUp(self) -> None:
        self.school, self.other = make_school(), make_school("two", "CODE22")
        self.head = write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        fill(self.school.book)
        own = client_of(self.school.students[0])
        send_edit(own, self.school.book, add_setting("before"))
        choices = {"client_id": str(uuid.uuid4()), "columns": [{"index": 0, "quantity": "L"}], "logged": True}
        form = {"file": SimpleUploadedFile("a.csv", b"L\n0.3\n"), "choices": json.dumps(choices)}
        self.logged = own.post(f"/api/books/{self.school.book.pk}/bring-in", form).json()["run"]
        self.school.book.refresh_from_db()
        self.newcomer = Seat.objects.get(name="Newcomer", school_class=self.school.school_class).pk
        self.remark = write_remark(self.school.book, self.school.teacher, "read", "Look at setting 3.")
        self.hand_in = hand_in(self.school.book, self.school.students[0])

    def person(self, role: str) -> Person | None:
        school, other = self.school, self.other
        return dict(
            zip(
                ROLES,
                (None, other.students[0], school.other_bench, school.students[0], other.teacher, school.teacher, self.head),
                strict=True,
            )
        )[role]

    def ask(self, client: Client, method: str, path: str) -> int:
        places = {
            "book_id": self.school.book.pk, "practical_id": self.school.practical.pk, "remark_id": self.remark.pk,
            "hand_in_id": self.hand_in.pk, "graph_id": "straight", "ending": "html", "revision": 0, "invitation_id": 0,
            "class_id": self.school.school_class.pk, "seat_id": self.newcomer,
        }  # fmt: skip
        address = "/api" + re.sub(r"\{(\w+)\}", lambda m: str(places[m[1]]), path)
        if "bring-in" in path:
            choices = {"client_id": str(uuid.uuid4()), "columns": [{"index": 0, "quantity": "L"}], "name": "From a file"}
            return client.post(address, {"file": SimpleUploadedFile("a.csv", b"L\n0.3\n"), "choices": json.dumps(choices)}).status_code
        if "take-out" in path:
            address = address.replace(".html", ".csv")
        if "/graphs/" in path:
            address = address.replace(".html", ".svg")
        if method == "DELETE":
            return client.delete(address).status_code
        if method == "GET":
            query = {
                "changes": "?since=0",
                "working": "?of=finding:E",
                "preview": "?quantity=T&formula=t_10/10",
                "conventions": "?quantity=t10",
                "ways": "?quantity=T2",
                "board": "?x=L&y=T",
                "read-off": "?fit=line&direction=forward&at=0.1",
                "what-if": "?fit=line&key=s3",
                "pulls": "?fit=line",
                "by-eye": "?fit=line&gradient=4.7&intercept=0",
                "stretch": "?graph=straight&low=0&high=1",
                "steepest": "?graph=measured",
                "gradients": "?graph=straight",
                "across-runs": "?finding=E",
                "improvements": "?finding=E",
                "plot": "?x=L&y=T&x_form=v^3&y_form=v^2",
                "rows": f"?run={self.logged}",
            }.get(path.rsplit("/", 1)[-1], "")
            return client.get(address + query).status_code
        bodies: dict[str, Any] = {
            "teacher": {"name": "nobody", "password": "wrong"}, "class": {"code": "NOSUCH"}, "demo": {"key": "teacher-1"},
            "student": {"code": "NOSUCH", "seat": 1, "pin": "0000"}, "edits": {"edits": [wanted("n")]},
            "undo": {"client_id": str(uuid.uuid4())}, "redo": {"client_id": str(uuid.uuid4())}, "settle": {"settled": True},
            "finding-preview": {"name": "w", "symbol": "w", "formula": "m/b"},
            "remarks": {"stage": "read", "text": "Well done."}, "pool": {"open": False},
            "begin": {"key": "A", "school": "S", "time_zone": "UTC", "shown_name": "N", "name": "n", "password": "p"},
            "look": {"key": "A", "text": "Ann"}, "accept": {"key": "A", "shown_name": "N", "name": "n", "password": "p"},
            "password": {"key": "A", "password": "p"}, "school": {"name": "Tidewater", "time_zone": "UTC"}, "invitations": {"kind": "head"},
            "my-classes": {"name": "9A"}, "list": {"text": "Ann\nBo\nCy\nNewcomer"}, "deal": {"size": 2, "way": "random"},
            "benches": {"benches": []}, "door": {"open": True}, "move": {"bench": ""}, "rename": {"name": "Newcomer"},
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
                    self.assertEqual(self.ask(client_of(self.person(role)), method, path), expected)

    def test_every_route_asks_the_policy(self) -> None:
        """But for those that show somebody only what is their own, or let them in and out."""
        own = ("/me", "/classes", "/sign-in/", "/sign-out", "/begin", "/invitation/")
        for method, path in all_routes():
            if path.startswith(own):
                continue
            rule = RULES[method, path]
            person = self.head if rule is HEAD else self.school.teacher if rule[5] == 200 else self.school.students[0]
            with self.subTest(f"{method} {path}"), ExitStack() as watched:
                asked = [watched.enter_context(patch.object(policy, name, wraps=getattr(policy, name))) for name in FINDERS]
                self.ask(client_of(person), method, path)
                self.assertTrue(any(finder.called for finder in asked))

    def test_the_pool_opens_for_the_class_and_for_nobody_else(self) -> None:
        address = f"/api/practicals/{self.school.practical.pk}/pool"
        client_of(self.school.teacher).post(address, json.dumps({"open": True}), content_type="application/json")
        got = {role: client_of(self.person(role)).get(address).status_code for role in ROLES}
        self.assertEqual(got, dict(zip(ROLES, (401, 404, 200, 200, 404, 200, 404), strict=True)))

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
