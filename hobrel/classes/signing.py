"""Who a request is from: its session and its person, looked up at every request by questions that are prepared once."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.contrib.sessions.backends.db import SessionStore as DatabaseSessions
from django.contrib.sessions.models import Session
from django.utils import timezone

from hobrel.classes.models import Person
from hobrel.server.prepared import Select
from hobrel.server.writing import writing

_SESSION = Select(lambda key, now: Session.objects.filter(session_key=key, expire_date__gt=now), str, datetime)
_PERSON = Select(lambda key: Person.objects.filter(pk=key), int)


class SessionStore(DatabaseSessions):
    """Django's own sessions in the database, written in turn with everything else."""

    def save(self, must_create: bool = False) -> None:
        with writing():
            super().save(must_create)

    def _get_session_from_db(self) -> Session | None:
        found = _SESSION.first(self.session_key, timezone.now())
        if found is None:
            self._session_key = None
        return found


class PersonBackend(ModelBackend):
    """Django's own sign-in by name and password."""

    def get_user(self, user_id: Any) -> Person | None:
        person = _PERSON.first(int(user_id))
        return person if person is not None and self.user_can_authenticate(person) else None
