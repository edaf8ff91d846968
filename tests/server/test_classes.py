"""A class from a pasted list: the difference before it is kept, benches dealt and moved, the door, and what is done for one name."""

from __future__ import annotations

import json
from collections import Counter
from datetime import datetime, timedelta
from typing import Any
from unittest.mock import patch

from django.test import Client, TestCase
from django.utils import timezone

from hobrel.classes.models import Bench, SchoolClass, Seat
from hobrel.plans.models import Sitting
from hobrel.school.teachers import write_school, write_teacher
from tests.school import PASSWORD, PIN, client_of, fill, make_school

NAMES = [
    f"{given} {family}" for family in ("Wren", "Lind", "Sall", "Quill") for given in ("Ada", "Tomas", "Mira", "Joss", "Iris", "Obi", "Noor")
]


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/{path}", json.dumps(body), content_type="application/json")


class NewClass(TestCase):
    def setUp(self) -> None:
        write_school("Tidewater", "Europe/Lisbon")
        self.teacher = write_teacher(shown_name="Ms Thorsby", name="thorsby", password=PASSWORD, is_head=True)
        self.client = client_of(self.teacher)
        self.made = post(self.client, "my-classes", name="Physics 11B", year="2026/27").json()
        self.path = f"my-classes/{self.made['id']}"

    def keep(self, text: str, **more: Any) -> Any:
        return post(self.client, f"{self.path}/list", text=text, **more)

    def benches(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for seat in self.client.get(f"/api/{self.path}").json()["seats"]:
            found.setdefault(seat["bench"], []).append(seat["name"])
        return found

    def test_twenty_eight_names_are_a_class_that_can_come_in(self) -> None:
        self.assertEqual(
            (self.made["name"], self.made["school"], [t["name"] for t in self.made["teachers"]]),
            ("Physics 11B", "Tidewater", ["Ms Thorsby"]),
        )
        look = post(self.client, f"{self.path}/list/look", text="\n".join(NAMES)).json()
        self.assertEqual((len(look["new"]), look["same"], look["gone"], look["troubles"]), (28, 0, [], []))
        self.assertEqual(SchoolClass.objects.get().seats.count(), 0, "looking keeps nothing")
        self.assertEqual(len(self.keep("\n".join(NAMES)).json()["seats"]), 28)
        listed = post(Client(), "sign-in/class", code=self.made["join_code"].lower()).json()["seats"]
        self.assertEqual(len(listed), 28)
        me = post(Client(), "sign-in/student", code=self.made["join_code"], seat=listed[0]["id"], pin=PIN).json()
        self.assertEqual(me["role"], "student")

    def test_the_same_list_again_changes_nothing_and_another_shows_what_it_would(self) -> None:
        self.keep("Ada Wren\tCurlew\nTomas Lind\tCurlew\nMira Sall\tKnot")
        again = post(self.client, f"{self.path}/list/look", text="mira  sall\nAda Wren\tcurlew\nTomas Lind").json()
        self.assertEqual((again["new"], again["moved"], again["same"], again["gone"]), ([], [], 3, []))
        text = "Ada Wren\tKnot\nMira Sall\nJoss Aldane\tBench 10"
        look = post(self.client, f"{self.path}/list/look", text=text).json()
        self.assertEqual(look["new"], [{"name": "Joss Aldane", "bench": "Bench 10"}])
        self.assertEqual(look["moved"], [{"name": "Ada Wren", "bench": "Knot", "was": "Curlew"}])
        self.assertEqual((look["same"], look["gone"]), (1, ["Tomas Lind"]))
        self.keep(text)
        self.assertEqual(self.benches(), {"Knot": ["Ada Wren", "Mira Sall"], "Bench 10": ["Joss Aldane"], "Curlew": ["Tomas Lind"]})
        seat = Seat.objects.get(name="Tomas Lind")
        self.keep(text, without_gone=True)
        self.assertNotIn("Curlew", self.benches())
        self.keep(text + "\nTomas Lind")
        self.assertIsNone(Seat.objects.get(pk=seat.pk).off, "who comes back is who they were")

    def test_a_list_that_cannot_be_kept_changes_nothing(self) -> None:
        for text, code in (("", "empty_list"), ("Ada\nAda", "name_twice"), ("Ada\n123", "no_name"), ("\n".join(NAMES * 15), "long_list")):
            answer = self.keep(text)
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, code))
        self.assertEqual(Seat.objects.count(), 0)
        self.assertEqual(post(self.client, f"{self.path}/list", text="Ada\x00Wren").status_code, 422)

    def test_benches_are_dealt_evenly_and_otherwise_than_last_time(self) -> None:
        self.keep("\n".join(NAMES))
        for size, sizes in ((2, {2: 14}), (3, {3: 8, 4: 1}), (4, {4: 7}), (8, {9: 2, 10: 1})):
            dealt = post(self.client, f"{self.path}/deal", size=size, way="random").json()
            self.assertEqual(sorted(s for bench in dealt for s in bench["seats"]), sorted(Seat.objects.values_list("pk", flat=True)))
            self.assertEqual(Counter(len(bench["seats"]) for bench in dealt), sizes)
        self.assertEqual(self.benches(), {"": sorted(NAMES)}, "dealing keeps nothing")
        alphabet = post(self.client, f"{self.path}/deal", size=2, way="alphabet").json()
        self.assertEqual([alphabet[i]["name"] for i in (0, 1, 9)], ["Bench 1", "Bench 2", "Bench 10"])
        post(self.client, f"{self.path}/benches", benches=alphabet)
        self.assertEqual(self.benches()["Bench 1"], sorted(NAMES)[:2])
        others = post(self.client, f"{self.path}/deal", size=2, way="others").json()
        sat = {frozenset(bench["seats"]) for bench in alphabet}
        self.assertEqual([bench for bench in others if frozenset(bench["seats"]) in sat], [])
        for size in (0, 9, -1):
            self.assertEqual(post(self.client, f"{self.path}/deal", size=size, way="random").status_code, 422)

    def test_an_arrangement_is_kept_whole_or_not_at_all(self) -> None:
        self.keep("Ada\tOld\nTomas\nMira")
        ada, tomas, mira = (Seat.objects.get(name=name).pk for name in ("Ada", "Tomas", "Mira"))
        wrong = [
            [{"name": "A", "seats": [ada]}, {"name": "B", "seats": [ada]}],
            [{"name": "A", "seats": [ada, 999]}],
            [{"name": "A", "seats": [ada]}, {"name": "  ", "seats": [tomas]}],
        ]
        for benches in wrong:
            self.assertIn(post(self.client, f"{self.path}/benches", benches=benches).status_code, (409, 422))
        self.assertEqual(self.benches(), {"Old": ["Ada"], "": ["Mira", "Tomas"]})
        post(self.client, f"{self.path}/benches", benches=[{"name": "A", "seats": [ada, mira]}])
        self.assertEqual(self.benches(), {"A": ["Ada", "Mira"], "": ["Tomas"]})
        self.assertEqual([b.name for b in Bench.objects.all()], ["A"], "a bench that nobody has sat at goes")

    def test_names_without_a_pin_are_taken_only_while_the_door_is_open(self) -> None:
        self.keep("Ada\nTomas")
        code, (ada, tomas) = self.made["join_code"], Seat.objects.order_by("name")
        self.assertEqual(post(Client(), "sign-in/student", code=code, seat=ada.pk, pin=PIN).status_code, 200)
        closed = post(self.client, f"{self.path}/door", open=False).json()
        self.assertIsNone(closed["door_until"])
        answer = post(Client(), "sign-in/student", code=code, seat=tomas.pk, pin=PIN)
        self.assertEqual((answer.status_code, answer.json()["code"]), (403, "door_closed"))
        self.assertEqual(post(Client(), "sign-in/student", code=code, seat=ada.pk, pin=PIN).status_code, 200, "who has a PIN needs no door")
        until = datetime.fromisoformat(post(self.client, f"{self.path}/door", open=True).json()["door_until"])
        self.assertGreater(until, timezone.now() + timedelta(minutes=55))
        self.assertLess(until, timezone.now() + timedelta(hours=21))
        with patch("django.utils.timezone.now", return_value=until + timedelta(seconds=1)):
            self.assertEqual(post(Client(), "sign-in/student", code=code, seat=tomas.pk, pin=PIN).json()["code"], "door_closed")
        self.assertEqual(post(Client(), "sign-in/student", code=code, seat=tomas.pk, pin=PIN).status_code, 200)

    def test_one_who_forgot_the_pin_chooses_another_and_one_off_the_list_is_not_let_in(self) -> None:
        self.keep("Ada\nTomas")
        code, (ada, _) = self.made["join_code"], Seat.objects.order_by("name")
        signed_in = Client()
        post(signed_in, "sign-in/student", code=code, seat=ada.pk, pin=PIN)
        post(self.client, f"{self.path}/door", open=False)
        self.assertFalse(next(s for s in post(self.client, f"seats/{ada.pk}/forget-pin").json()["seats"] if s["id"] == ada.pk)["has_pin"])
        self.assertEqual(signed_in.get("/api/me").json()["role"], "")
        self.assertEqual(post(Client(), "sign-in/student", code=code, seat=ada.pk, pin="99887766").status_code, 200)
        post(self.client, f"seats/{ada.pk}/take-off")
        self.assertEqual([s["name"] for s in post(Client(), "sign-in/class", code=code).json()["seats"]], ["Tomas"])
        self.assertEqual(post(Client(), "sign-in/student", code=code, seat=ada.pk, pin="99887766").status_code, 404)

    def test_a_name_is_written_otherwise_wherever_it_stands(self) -> None:
        self.keep("Ada\nTomas")
        ada = Seat.objects.get(name="Ada")
        post(Client(), "sign-in/student", code=self.made["join_code"], seat=ada.pk, pin=PIN)
        self.assertEqual(post(self.client, f"seats/{ada.pk}/rename", name="  tomas").json()["code"], "name_taken")
        self.assertEqual(post(self.client, f"seats/{ada.pk}/rename", name="").json()["field"], "name")
        post(self.client, f"seats/{ada.pk}/rename", name="Ada  Wren")
        ada.refresh_from_db()
        assert ada.person is not None
        self.assertEqual((ada.name, ada.person.shown_name), ("Ada Wren", "Ada Wren"))

    def test_a_class_needs_a_name(self) -> None:
        for name in ("", "  ", "…", "x" * 81):
            answer = post(self.client, "my-classes", name=name)
            self.assertEqual((answer.status_code, answer.json()["field"]), (422, "name"))


class RunningClass(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        fill(self.school.book)
        self.client = client_of(self.school.teacher)
        self.ann = Seat.objects.get(person=self.school.students[0])

    def test_a_move_reaches_the_practicals_that_are_named(self) -> None:
        for practicals, sat in (([], "Godwit"), ([self.school.practical.pk], "Redshank")):
            post(self.client, f"seats/{self.ann.pk}/move", bench="Redshank", practicals=practicals)
            self.assertEqual(Sitting.objects.get(seat=self.ann, until=None).bench.name, sat)
        answer = post(self.client, f"seats/{self.ann.pk}/move", bench="New bench", practicals=[self.school.practical.pk])
        self.assertIn("New bench", answer.json()["benches"])
        own = client_of(self.school.students[0]).get("/api/classes").json()[0]["practicals"][0]["benches"]
        self.assertEqual(
            [(b["bench"], b["sits_here"]) for b in own][:1], [("New bench", True)], "their lab book there is made when they come"
        )

    def test_one_who_is_listed_again_sits_where_the_list_says(self) -> None:
        path = f"my-classes/{self.school.school_class.pk}/list"
        post(self.client, path, text="Bo\nCy\nNewcomer", without_gone=True)
        self.assertFalse(Sitting.objects.filter(seat=self.ann, until=None).exists())
        post(self.client, path, text="Ann\tRedshank\nBo\nCy\nNewcomer", practicals=[self.school.practical.pk])
        self.assertEqual(Sitting.objects.get(seat=self.ann, until=None).bench.name, "Redshank")

    def test_another_s_practical_is_not_reached(self) -> None:
        other = make_school("two", "CODE22")
        post(self.client, f"seats/{self.ann.pk}/move", bench="Redshank", practicals=[other.practical.pk])
        self.assertEqual(Sitting.objects.filter(seat=self.ann).count(), 1)

    def test_a_bench_with_a_lab_book_stays_when_everybody_sits_elsewhere(self) -> None:
        path = f"my-classes/{self.school.school_class.pk}"
        keys = list(Seat.objects.filter(school_class=self.school.school_class).values_list("pk", flat=True))
        post(self.client, f"{path}/benches", benches=[{"name": "All", "seats": keys}], practicals=[self.school.practical.pk])
        self.assertEqual([b.name for b in Bench.objects.all()], ["All", "Godwit", "Redshank"])
        self.assertEqual(self.client.get(f"/api/books/{self.school.book.pk}").status_code, 200)
