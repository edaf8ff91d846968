"""Prepared questions answer as the ORM would."""

from __future__ import annotations

import json
import re
import uuid
from datetime import datetime, timedelta
from pathlib import Path
from unittest.mock import patch

from django.contrib.sessions.models import Session
from django.db import connection
from django.test import TestCase
from django.utils import timezone

import hobrel
from hobrel.classes.models import Person
from hobrel.labbooks.models import Book, EditRecord, Presence
from hobrel.server.prepared import Select, Update
from tests.school import client_of, make_school


class Prepared(TestCase):
    def setUp(self) -> None:
        self.school = make_school()
        self.book, (self.ann, self.bo) = self.school.book, self.school.students[:2]

    def test_models_are_read_whole_with_what_is_selected_beside_them(self) -> None:
        now = timezone.now()
        for person in (self.ann, self.bo):
            Presence.objects.create(book=self.book, person=person, place="s1", seen=now)
        beside = Select(lambda book: Presence.objects.filter(book=book).select_related("person"), int)
        with self.assertNumQueries(1):
            found = beside.all(self.book.pk)
            names = [p.person.shown_name for p in found]
        self.assertEqual(names, [self.ann.shown_name, self.bo.shown_name])
        self.assertEqual((found[0].seen, found[0].place), (now, "s1"))
        self.assertEqual(beside.all(self.book.pk + 999), [])
        # an address may hold any number
        for key in (2**63, -(2**70), 10**30):
            self.assertEqual(beside.all(key), [])

    def test_a_document_is_read_as_one_and_what_is_deferred_later(self) -> None:
        whole = Select(lambda book: Book.objects.filter(pk=book), int).first(self.book.pk)
        part = Select(lambda book: Book.objects.defer("document").filter(pk=book), int).first(self.book.pk)
        assert whole is not None and part is not None
        self.assertEqual((whole.document, whole, whole._state.adding), (self.book.document, self.book, False))
        with self.assertNumQueries(1):
            self.assertEqual(part.document, self.book.document)

    def test_values_of_every_kind_reach_the_database_in_its_form(self) -> None:
        now, client = timezone.now(), uuid.uuid4()
        EditRecord.objects.create(book=self.book, revision=1, client_id=client, author=self.ann, change={}, words="w")
        for name, days, expected in (("a", 1, 1), ("b", -1, 0)):
            Session.objects.create(session_key=name, session_data="", expire_date=now + timedelta(days=days))
            sessions = Select(lambda key, at: Session.objects.filter(session_key=key, expire_date__gt=at), str, datetime)
            self.assertEqual(len(sessions.all(name, now)), expected)
        edits = Select(lambda book, key: EditRecord.objects.filter(book=book, client_id=key), int, uuid.UUID)
        self.assertEqual([e.words for e in edits.all(self.book.pk, client)], ["w"])
        self.assertEqual(edits.all(self.book.pk, uuid.uuid4()), [])

    def test_an_update_writes_what_it_is_given_where_it_is_told(self) -> None:
        write = Update(lambda book, was, document: (Book.objects.filter(pk=book, stamp=was), {"document": document}), int, str, dict)
        document = {"title": 'it\'s \u00e5 "test" 100 %'}
        self.assertEqual(write.run(self.book.pk, "another", document), 0)
        self.assertEqual(write.run(self.book.pk, self.book.stamp, document), 1)
        self.assertEqual(Book.objects.get(pk=self.book.pk).document, document)
        self.assertEqual(Book.objects.filter(document=document).count(), 1)

    def test_a_document_may_be_wrapped_on_its_way_into_another_database(self) -> None:
        class Wrapped:
            def __init__(self, obj: object) -> None:
                self.obj = obj

            def __conform__(self, protocol: object) -> str:
                return json.dumps(self.obj)

        write = Update(lambda book, document: (Book.objects.filter(pk=book), {"document": document}), int, dict)
        with patch.object(connection.ops, "adapt_json_value", lambda value, encoder: Wrapped(value)):
            self.assertEqual(write.run(self.book.pk, {"title": "wrapped"}), 1)
        self.assertEqual(Book.objects.get(pk=self.book.pk).document, {"title": "wrapped"})

    def test_few_places_know_which_database_it_is(self) -> None:
        root = Path(hobrel.__file__).parent
        known = {"server/settings.py", "server/backup.py", "server/sqlite.py"}
        knowing = {
            str(p.relative_to(root)) for p in root.rglob("*.py") if re.search(r"pragma |sqlite3|sqlite_master", p.read_text().lower())
        }
        self.assertEqual(knowing, known)

    def test_a_value_of_another_kind_or_one_without_a_place_is_refused(self) -> None:
        people = Select(lambda key: Person.objects.filter(pk=key), int)
        for wrong in (None, "1"):
            with self.assertRaises(TypeError):
                people.all(wrong)
        with self.assertRaises(AssertionError):
            Select(lambda key, name: Person.objects.filter(pk=key), int, str).all(1, "x")

    def test_a_key_that_no_database_holds_is_nobodys(self) -> None:
        ann = client_of(self.ann)
        for path in ("/books/{}", "/books/{}/changes?place=x", "/practicals/{}/walkround", "/hand-ins/{}/page", "/practicals/{}/pool"):
            self.assertEqual(ann.get("/api" + path.format(10**30)).status_code, 404, path)
