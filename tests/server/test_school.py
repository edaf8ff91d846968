"""From an empty server to teachers who are in: the first key, invitations, new passwords; each works once, and for whom it is meant."""

from __future__ import annotations

import io
import json
import tempfile
import threading
from contextlib import redirect_stdout
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from django.utils import timezone

from hobrel.classes.models import Invitation, Person, School
from hobrel.classes.queries import local_now
from hobrel.school.invitations import make_key
from hobrel.school.teachers import make_first_key, write_school, write_teacher
from hobrel.server.backup import main as restore
from hobrel.server.own_settings import WrongSetting, read_settings
from hobrel.server.problems import Problem
from tests.school import PASSWORD, client_of, make_school

BEGINNING = {
    "school": "Tidewater College", "time_zone": "Europe/Lisbon", "shown_name": "Ms Thorsby", "name": "Thorsby", "password": PASSWORD,
}  # fmt: skip
ACCEPTED = {"shown_name": "Mr Gale", "name": "gale", "password": PASSWORD}
Kind = Invitation.Kind


def post(client: Client, path: str, **body: Any) -> Any:
    return client.post(f"/api/{path}", json.dumps(body), content_type="application/json")


def refusal(answer: Any) -> tuple[int, str]:
    return answer.status_code, answer.json()["code"]


class Beginning(TestCase):
    def begin(self, key: str | None, **other: str) -> Any:
        return post(Client(), "begin", key=key, **(BEGINNING | other))

    def test_the_first_key_makes_the_school_and_its_head_once(self) -> None:
        self.assertFalse(Client().get("/api/me").json()["has_begun"])
        key = make_first_key()
        client = Client()
        me = post(client, "begin", key=key, **BEGINNING).json()
        self.assertEqual((me["name"], me["role"], me["is_head"], me["has_begun"]), ("Ms Thorsby", "teacher", True, True))
        self.assertEqual(client.get("/api/me").json()["id"], me["id"])
        school = School.objects.get()
        self.assertEqual((school.name, school.time_zone), ("Tidewater College", "Europe/Lisbon"))
        self.assertEqual(refusal(self.begin(key, name="second")), (409, "has_begun"))
        self.assertIsNone(make_first_key())
        self.assertEqual(post(Client(), "sign-in/teacher", name=" THORSBY ", password=PASSWORD).status_code, 200)

    def test_a_key_is_read_however_it_was_copied_and_no_other_is(self) -> None:
        early, key = make_first_key(), make_first_key()
        assert early and key
        self.assertEqual(refusal(self.begin(early)), (404, "no_such_key"))
        for wrong in ("", "AAAA-AAAA", key[:-1], key + "2"):
            self.assertEqual(refusal(self.begin(wrong)), (404, "no_such_key"), wrong)
        self.assertEqual(self.begin(f" {key.lower().replace('-', ' ')} ").status_code, 200)

    def test_a_field_that_is_wrong_is_named_and_the_key_stays_good(self) -> None:
        key = make_first_key()
        wrong = {
            "school": ["", "  ", "…", "x" * 81], "time_zone": ["", "Europe/Atlantis", "../etc/passwd"], "shown_name": ["", "\u200b"],
            "name": ["", "a", "two words", "x" * 61, "a/b", "<b>"], "password": ["short-one", "1234567890", ""],
        }  # fmt: skip
        for field, values in wrong.items():
            for value in values:
                with self.subTest(field, value=value):
                    answer = self.begin(key, **{field: value})
                    self.assertEqual(refusal(answer), (422, "bad_field"))
                    self.assertEqual(answer.json()["field"], field)
        self.assertFalse(Person.objects.exists() or School.objects.exists())
        self.assertEqual(self.begin(key, name="Ödön-9", shown_name="Фёдор 李").status_code, 200)

    def test_a_server_with_a_teacher_has_no_first_key_any_more(self) -> None:
        key = make_first_key()
        with patch("sys.stdin", io.StringIO(PASSWORD + "\n")):
            call_command("teacher", "Gale", "--shown", "Mr Gale", "--school", "Tidewater", stdout=io.StringIO())
        self.assertEqual(refusal(self.begin(key)), (409, "has_begun"))
        self.assertTrue(Person.objects.get(username="gale").is_head)
        self.assertEqual(School.objects.get().name, "Tidewater")

    def test_what_is_printed_opens_the_server(self) -> None:
        printed = io.StringIO()
        with override_settings(ADDRESS="https://hobrel.example.org"):
            call_command("open_school", stdout=printed)
        key = printed.getvalue().partition("https://hobrel.example.org/begin#")[2].split()[0]
        self.assertEqual(self.begin(key).status_code, 200)
        printed = io.StringIO()
        call_command("open_school", stdout=printed)
        self.assertNotIn("begin", printed.getvalue())


class Invitations(TestCase):
    def setUp(self) -> None:
        write_school("Tidewater", "Europe/Lisbon")
        self.head = write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        self.plain = write_teacher(shown_name="Plain", name="plain", password=PASSWORD, is_head=False)

    def invite(self, by: Person, kind: str, **of: Any) -> Any:
        return post(client_of(by), "invitations", kind=kind, **of)

    def test_a_colleague_comes_in_once_by_a_link_that_says_what_it_is_for(self) -> None:
        made = self.invite(self.plain, "colleague").json()
        self.assertAlmostEqual(
            datetime.fromisoformat(made["expires"]).timestamp(), (timezone.now() + timedelta(days=7)).timestamp(), delta=60
        )
        look = post(Client(), "invitation/look", key=made["key"]).json()
        self.assertEqual(look, {"kind": "colleague", "school": "Tidewater", "by": "Plain", "name": ""})
        client = Client()
        me = post(client, "invitation/accept", key=made["key"], **ACCEPTED).json()
        self.assertEqual((me["name"], me["role"], me["is_head"]), ("Mr Gale", "teacher", False))
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=made["key"], **ACCEPTED)), (409, "key_used"))
        self.assertEqual(refusal(post(Client(), "invitation/look", key=made["key"])), (409, "key_used"))

    def test_only_a_head_lets_heads_in_and_gives_passwords_anew(self) -> None:
        self.assertEqual(refusal(self.invite(self.plain, "head")), (403, "head_only"))
        self.assertEqual(refusal(self.invite(self.plain, "password", person=self.head.pk)), (403, "head_only"))
        key = self.invite(self.head, "head").json()["key"]
        self.assertTrue(post(Client(), "invitation/accept", key=key, **ACCEPTED).json()["is_head"])
        for body in ({"kind": "password"}, {"kind": "head", "person": self.plain.pk}):
            self.assertEqual(self.invite(self.head, **body).status_code, 422)
        student = make_school().students[0]
        self.assertEqual(self.invite(self.head, "password", person=student.pk).status_code, 404)

    def test_a_link_is_over_after_its_days_or_when_its_maker_may_not_invite_any_more(self) -> None:
        key = self.invite(self.plain, "colleague").json()["key"]
        with patch("django.utils.timezone.now", return_value=timezone.now() + timedelta(days=7, seconds=1)):
            self.assertEqual(refusal(post(Client(), "invitation/accept", key=key, **ACCEPTED)), (410, "key_over"))
        with patch("django.utils.timezone.now", return_value=timezone.now() + timedelta(days=6, hours=23)):
            self.assertEqual(post(Client(), "invitation/look", key=key).status_code, 200)
        heads = self.invite(self.head, "head").json()["key"]
        Person.objects.filter(pk=self.head.pk).update(is_head=False)
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=heads, **ACCEPTED)), (410, "key_over"))
        Person.objects.filter(pk=self.plain.pk).update(is_active=False)
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=key, **ACCEPTED)), (410, "key_over"))

    def test_another_password_ends_open_sessions_and_the_links_before(self) -> None:
        open_session = client_of(self.plain)
        early = self.invite(self.head, "password", person=self.plain.pk).json()["key"]
        key = self.invite(self.head, "password", person=self.plain.pk).json()["key"]
        self.assertEqual(refusal(post(Client(), "invitation/password", key=early, password="another-long-word")), (404, "no_such_key"))
        self.assertEqual(post(Client(), "invitation/look", key=key).json()["name"], "plain")
        self.assertEqual(refusal(post(Client(), "invitation/password", key=key, password="short")), (422, "bad_field"))
        self.assertEqual(post(Client(), "invitation/password", key=key, password="another-long-word").json()["name"], "Plain")
        self.assertEqual(open_session.get("/api/me").json()["role"], "")
        self.assertEqual(post(Client(), "sign-in/teacher", name="plain", password=PASSWORD).status_code, 403)
        self.assertEqual(post(Client(), "sign-in/teacher", name="plain", password="another-long-word").status_code, 200)

    def test_a_key_opens_only_what_it_was_made_for(self) -> None:
        colleague = self.invite(self.plain, "colleague").json()["key"]
        password = self.invite(self.head, "password", person=self.plain.pk).json()["key"]
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=password, **ACCEPTED)), (409, "other_key"))
        self.assertEqual(refusal(post(Client(), "invitation/password", key=colleague, password=PASSWORD)), (409, "other_key"))
        self.assertEqual(refusal(post(Client(), "begin", key=colleague, **BEGINNING)), (409, "has_begun"))

    def test_a_name_that_is_taken_leaves_the_key_good(self) -> None:
        key = self.invite(self.plain, "colleague").json()["key"]
        answer = post(Client(), "invitation/accept", key=key, **(ACCEPTED | {"name": "HEAD"}))
        self.assertEqual((refusal(answer), answer.json()["field"]), ((409, "name_taken"), "name"))
        self.assertEqual(post(Client(), "invitation/accept", key=key, **ACCEPTED).status_code, 200)

    def test_what_is_open_is_listed_for_its_maker_and_a_head_and_called_back(self) -> None:
        key = self.invite(self.plain, "colleague").json()["key"]
        self.invite(self.head, "head")
        make_key(Kind.FIRST)
        listed = {p: client_of(p).get("/api/school").json() for p in (self.plain, self.head)}
        self.assertEqual([[i["by"] for i in of["invitations"]] for of in listed.values()], [["Plain"], ["Head", "Plain"]])
        self.assertNotIn(key, json.dumps(listed[self.head]))
        heads, own = (i["id"] for i in listed[self.head]["invitations"])
        left = client_of(self.plain).delete(f"/api/invitations/{heads}").json()["invitations"]
        self.assertEqual([i["id"] for i in left], [own])
        self.assertTrue(Invitation.objects.filter(pk=heads).exists())
        for _ in range(2):
            self.assertEqual(client_of(self.plain).delete(f"/api/invitations/{own}").json()["invitations"], [])
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=key, **ACCEPTED)), (404, "no_such_key"))

    def test_after_a_restore_no_key_from_before_is_good(self) -> None:
        key = self.invite(self.plain, "colleague").json()["key"]
        printed = io.StringIO()
        with patch("hobrel.server.backup.restore_backup", return_value=None), redirect_stdout(printed):
            self.assertEqual(restore(["restore", "copy.sqlite3"]), 0)
        self.assertIn("1 open invitation is called back", printed.getvalue())
        self.assertEqual(refusal(post(Client(), "invitation/accept", key=key, **ACCEPTED)), (404, "no_such_key"))

    def test_the_command_prints_a_link_for_a_new_password(self) -> None:
        printed = io.StringIO()
        call_command("teacher", "PLAIN", "--reset", stdout=printed)
        key = printed.getvalue().partition("/invitation#")[2].strip()
        self.assertEqual(post(Client(), "invitation/password", key=key, password="another-long-word").status_code, 200)
        for words in (["nobody", "--reset"], ["head"]):
            with self.assertRaises(CommandError), patch("sys.stdin", io.StringIO(PASSWORD + "\n")):
                call_command("teacher", *words, stdout=io.StringIO())

    def test_the_school_is_renamed_by_its_head_and_its_clock_ends_the_day(self) -> None:
        body = {"name": "Tidewater School", "time_zone": "Pacific/Auckland"}
        self.assertEqual(refusal(post(client_of(self.plain), "school", **body)), (403, "head_only"))
        self.assertEqual(post(client_of(self.head), "school", **body).json()["name"], "Tidewater School")
        self.assertEqual(local_now().tzinfo.key, "Pacific/Auckland")  # type: ignore[union-attr]
        # 09:00 on a summer's day over there: the session ends at their 20:00
        with patch("django.utils.timezone.now", return_value=datetime(2026, 12, 1, 20, 0, tzinfo=UTC)):
            client = Client()
            post(client, "sign-in/teacher", name="head", password=PASSWORD)
            self.assertEqual(client.session.get_expiry_age(), 11 * 3600)
        with override_settings(OWN_TIME_ZONE="Europe/Lisbon"):
            self.assertEqual(local_now().tzinfo.key, "Europe/Lisbon")  # type: ignore[union-attr]


class AtOnce(TransactionTestCase):
    def test_of_eight_with_one_key_one_is_in(self) -> None:
        write_teacher(shown_name="Head", name="head", password=PASSWORD, is_head=True)
        key = make_key(Kind.COLLEAGUE, Person.objects.get()).key
        answers: list[int] = []

        def accept(n: int) -> None:
            answers.append(post(Client(), "invitation/accept", key=key, **(ACCEPTED | {"name": f"gale{n}"})).status_code)
            connection.close()

        threads = [threading.Thread(target=accept, args=(n,)) for n in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(answers), [200] + [409] * 7)
        self.assertEqual(Person.objects.count(), 2)


class OwnSettings(TestCase):
    def read(self, text: str, **environment: str) -> Any:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "hobrel.env"
            file.write_text(text, encoding="utf-8")
            return read_settings(file, environment)

    def test_the_address_sets_hosts_origins_and_cookies_together(self) -> None:
        found = self.read("# ours\n\nHOBREL_URL = 'https://hobrel.example.org/'\nHOBREL_HOSTS=lab, lab.local\nHOBREL_BIND=0.0.0.0\n")
        self.assertEqual((found.address, found.is_secure, found.bind), ("https://hobrel.example.org", True, "0.0.0.0:8765"))
        self.assertEqual(found.hosts, ("127.0.0.1", "localhost", "[::1]", "hobrel.example.org", "lab", "lab.local"))
        self.assertEqual(found.origins, ("https://hobrel.example.org",))
        plain = self.read("HOBREL_URL=http://10.1.2.3:8765\n", HOBREL_PORT="9000", PATH="/bin")
        self.assertEqual((plain.is_secure, plain.hosts[-1], plain.bind), (False, "10.1.2.3", "127.0.0.1:9000"))
        self.assertEqual(read_settings(Path("/nowhere/hobrel.env"), {}).address, "")

    def test_the_environment_goes_before_the_file(self) -> None:
        self.assertEqual(self.read("HOBREL_TIME_ZONE=Europe/Lisbon\n", HOBREL_TIME_ZONE="Asia/Tokyo").time_zone, "Asia/Tokyo")

    def test_what_cannot_be_meant_is_said_at_the_start(self) -> None:
        for text in (
            "HOBREL_ULR=https://hobrel.example.org", "nonsense", "HOBREL_URL=hobrel.example.org", "HOBREL_URL=https://a.org/path",
            "HOBREL_URL=ftp://a.org", "HOBREL_TIME_ZONE=GMT+25", "HOBREL_PORT=99999", "HOBREL_PORT=eight", "HOBREL_URL=https://",
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(WrongSetting):
                self.read(text)

    @override_settings(BEHIND_PROXY=True)
    def test_behind_a_proxy_each_address_is_slowed_for_itself(self) -> None:
        def guess(address: str) -> int:
            client = Client(REMOTE_ADDR="127.0.0.1", headers={"x-forwarded-for": f"203.0.113.9, {address}"})
            return post(client, "invitation/look", key="AAAA").status_code

        self.assertEqual({guess("198.51.100.1") for _ in range(20)}, {404})
        self.assertEqual(guess("198.51.100.1"), 429)
        self.assertEqual(guess("198.51.100.2"), 404)

    def test_tests_are_no_demo_and_no_proxy(self) -> None:
        self.assertFalse(settings.BEHIND_PROXY)
        with self.assertRaises(Problem):
            write_school("", "UTC")
