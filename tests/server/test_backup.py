"""A copy while a class is typing; restoring one; what is refused; a database that cannot be written."""

from __future__ import annotations

import os
import sqlite3
import stat
import subprocess
import sys
import tempfile
import threading
import time
import unittest
import uuid
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from unittest.mock import patch

from django.db import connection
from django.test import Client, TransactionTestCase

from hobrel.classes.models import Seat
from hobrel.labbooks.models import Book, EditRecord
from hobrel.server.backup import Refused, restore_backup, save_backup
from tests.school import PIN, add_setting, client_of, make_school, reading, send_edit

ROOT = Path(__file__).resolve().parent.parent.parent


def migrations_in(path: Path) -> set[tuple[str, str]]:
    with closing(sqlite3.connect(path)) as database:
        return set(database.execute("SELECT app, name FROM django_migrations"))


class Backup(TransactionTestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.client = client_of(self.school.students[0])
        send_edit(self.client, self.school.book, add_setting())
        self.database = Path(str(connection.settings_dict["NAME"]))
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def restored(self, copy: Path) -> Path:
        target = self.folder / "restored.sqlite3"
        restore_backup(copy, target, migrations_in(copy))
        return target

    def test_a_copy_made_while_a_class_types_is_whole_and_holds_what_was_acknowledged_before(self) -> None:
        stop, sent = threading.Event(), []

        def type_on() -> None:
            client, was, n = client_of(self.school.students[0]), "", 0
            while not stop.is_set():
                n += 1
                text = f"{n}.00"
                if send_edit(client, self.school.book, reading(text, was)).status_code == 200:
                    was = text
                    sent.append(text)
            connection.close()

        typing = threading.Thread(target=type_on)
        typing.start()
        try:
            for i in range(5):
                while len(sent) < 3 * (i + 1):
                    stop.wait(0.01)
                before = len(sent)
                copy = self.folder / f"copy-{i}.sqlite3"
                save_backup(self.database, copy)
                with self.subTest(i), closing(sqlite3.connect(copy)) as looked_at:
                    revision = looked_at.execute("SELECT revision FROM book WHERE id = ?", [self.school.book.pk]).fetchone()[0]
                    edits = looked_at.execute("SELECT COUNT(*) FROM edit WHERE book_id = ?", [self.school.book.pk]).fetchone()[0]
                    self.assertEqual(revision, edits, "document and history are of one moment")
                    self.assertGreaterEqual(edits, before + 1)
                self.assertEqual(stat.S_IMODE(copy.stat().st_mode), 0o600)
        finally:
            stop.set()
            typing.join()

    def test_what_is_restored_is_what_was_copied_and_what_was_there_is_kept(self) -> None:
        copy = self.folder / "copy.sqlite3"
        save_backup(self.database, copy)
        target = self.restored(copy)
        with closing(sqlite3.connect(target)) as later:
            # as the server's own is
            later.execute("PRAGMA journal_mode=WAL")
            later.execute("UPDATE book SET revision = 99")
            later.commit()
        kept = restore_backup(copy, target, migrations_in(copy))
        assert kept is not None
        beside = {file.name for file in self.folder.iterdir()} - {copy.name, target.name}
        self.assertEqual(beside, {kept.name}, "a copy is one file")
        for path, revision in ((target, 1), (kept, 99)):
            with closing(sqlite3.connect(path)) as looked_at:
                self.assertEqual(looked_at.execute("SELECT revision FROM book WHERE id = ?", [self.school.book.pk]).fetchone()[0], revision)
        self.assertEqual(stat.S_IMODE(target.stat().st_mode), 0o600)

    def test_what_is_damaged_foreign_or_later_is_refused_and_changes_nothing(self) -> None:
        copy = self.folder / "copy.sqlite3"
        save_backup(self.database, copy)
        target = self.restored(copy)
        before = target.read_bytes()
        whole = copy.read_bytes()
        foreign = self.folder / "foreign.sqlite3"
        with closing(sqlite3.connect(foreign)) as other:
            other.execute("CREATE TABLE t (x)")
            other.commit()
        cases = {
            "half": whole[: len(whole) // 2],
            "no database": b"not a database at all" * 200,
            "empty": b"",
            "a page of noise": whole[:8192] + os.urandom(4096) * 3 + whole[20480:],
            "another program's": foreign.read_bytes(),
        }
        for what, data in cases.items():
            with self.subTest(what):
                bad = self.folder / "bad.sqlite3"
                bad.write_bytes(data)
                with self.assertRaisesRegex(Refused, "damaged|not a"):
                    restore_backup(bad, target, migrations_in(copy))
                self.assertEqual(target.read_bytes(), before)
        with self.subTest("a later version's"), self.assertRaisesRegex(Refused, "later version"):
            restore_backup(copy, target, migrations_in(copy) - {("labbooks", "0003_stamp")})
        self.assertEqual(target.read_bytes(), before)

    def test_a_copy_that_cannot_be_written_leaves_the_old_one(self) -> None:
        copy = self.folder / "copy.sqlite3"
        save_backup(self.database, copy)
        before = copy.read_bytes()
        with self.assertRaises(Refused):
            save_backup(self.database, self.folder / "nowhere" / "copy.sqlite3")
        with self.assertRaises(Refused):
            save_backup(self.folder / "nothing.sqlite3", copy)
        self.assertEqual(copy.read_bytes(), before)


class Unavailable(TransactionTestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.client = client_of(self.school.students[0])

    def test_an_edit_gives_up_soon_while_somebody_else_holds_the_database_and_is_kept_later(self) -> None:
        with closing(sqlite3.connect(str(connection.settings_dict["NAME"]), isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            same, since = str(uuid.uuid4()), time.monotonic()
            answer = send_edit(self.client, self.school.book, add_setting(), same)
            self.assertLess(time.monotonic() - since, 10, "a thread that waits answers nobody else")
            self.assertEqual((answer.status_code, answer.answer["Retry-After"]), (503, "2"))
            self.assertEqual(answer.json()["code"], "unavailable")
            other.execute("ROLLBACK")
        self.assertEqual(send_edit(self.client, self.school.book, add_setting(), same).status_code, 200)
        self.assertEqual(EditRecord.objects.count(), 1)

    def test_who_signs_in_waits_where_an_edit_gives_up_and_comes_again_by_itself(self) -> None:
        seat = Seat.objects.get(name="Newcomer")
        body = {"code": "CODE11", "seat": seat.pk, "pin": PIN}

        def come() -> int:
            try:
                return int(Client().post("/api/sign-in/student", body, content_type="application/json").status_code)
            finally:
                connection.close()

        with (
            patch("hobrel.labbooks.actions.SENT_AGAIN", 0.5),
            ThreadPoolExecutor() as pool,
            closing(sqlite3.connect(str(connection.settings_dict["NAME"]), isolation_level=None)) as other,
        ):
            other.execute("BEGIN IMMEDIATE")
            coming = pool.submit(come)
            for _ in range(2):  # half a second each
                self.assertEqual(send_edit(self.client, self.school.book, add_setting()).status_code, 503)
            other.execute("ROLLBACK")
            self.assertEqual(coming.result(), 200)
        seat.refresh_from_db()
        self.assertTrue(seat.has_pin)

    def test_on_a_full_disk_an_edit_is_refused_for_now_and_nothing_is_half_written(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("VACUUM")  # or what other tests have freed would be room enough
            cursor.execute("PRAGMA page_count")
            pages = cursor.fetchone()[0]
            cursor.execute(f"PRAGMA max_page_count={pages + 4}")
        try:
            codes = set()
            for i in range(200):
                answer = send_edit(self.client, self.school.book, add_setting(f"s{i}"))
                codes.add(answer.status_code)
                if answer.status_code == 503:
                    break
            self.assertEqual(codes, {200, 503})
            book = Book.objects.get(pk=self.school.book.pk)
            self.assertEqual(book.revision, EditRecord.objects.count())
            self.assertEqual(len(book.document["runs"][0]["settings"]), book.revision)
        finally:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA max_page_count=1073741823")
        self.assertEqual(send_edit(self.client, self.school.book, add_setting("later")).status_code, 200)


class FirstStart(unittest.TestCase):
    """What a first start leaves in the data folder."""

    def start(self, folder: str) -> str:
        environment = os.environ | {"HOBREL_DATA": folder, "DJANGO_SETTINGS_MODULE": "hobrel.server.settings"}
        command = [sys.executable, "-c", "from django.conf import settings; print(settings.SECRET_KEY)"]
        return subprocess.run(command, cwd=ROOT, env=environment, check=True, capture_output=True, text=True).stdout.strip()

    def test_the_secret_is_made_once_whole_and_private_and_so_is_the_database(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            secret = self.start(folder)
            self.assertGreater(len(secret), 50)
            self.assertEqual(self.start(folder), secret)
            for name in ("secret", "hobrel.sqlite3"):
                self.assertEqual(stat.S_IMODE((Path(folder) / name).stat().st_mode), 0o600, name)
            self.assertEqual([p.name for p in Path(folder).iterdir() if p.suffix == ".part"], [])

    def test_an_empty_secret_is_made_anew_and_an_open_database_closed_to_others(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "secret").write_text("")
            (Path(folder) / "hobrel.sqlite3").touch(mode=0o644)
            (Path(folder) / "hobrel.sqlite3").chmod(0o644)
            self.assertGreater(len(self.start(folder)), 50)
            self.assertEqual(stat.S_IMODE((Path(folder) / "hobrel.sqlite3").stat().st_mode), 0o600)
