"""Teachers, and the school that the first of them makes: the only writers of both."""

from __future__ import annotations

import re
import unicodedata
from zoneinfo import available_timezones

from django.contrib.auth.hashers import make_password
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from hobrel.classes.actions import sign_in_name
from hobrel.classes.models import Invitation, Person, School
from hobrel.classes.queries import has_begun
from hobrel.school.invitations import find_invitation, make_key, use_invitation
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

Kind = Invitation.Kind
LONGEST_NAME, LONGEST_SIGN_IN = 80, 60


def begin_school(key: str, *, school: str, time_zone: str, shown_name: str, name: str, password: str) -> Person:
    """Make the school and its first teacher, who is head of department, with the key that the server has printed.

    Raises
    ------
    Problem
        409 ``has_begun`` where there is a teacher already; 404, 409 as `find_invitation`; 422 with the `field` that is wrong.
    """
    _refuse_second_beginning()
    invitation = _find(key, Kind.FIRST)
    written = _describe_school(school, time_zone)
    person = _new_teacher(shown_name, name, password, is_head=True)
    with writing():
        _refuse_second_beginning()
        use_invitation(invitation)
        written.save()
        _save_new(person)
    return person


def accept_invitation(key: str, *, shown_name: str, name: str, password: str) -> Person:
    """Make the teacher whom an invitation lets in.

    Raises
    ------
    Problem
        404, 409, 410 as `find_invitation`; 409 ``name_taken``; 422 with the `field` that is wrong.
    """
    invitation = _find(key, Kind.COLLEAGUE, Kind.HEAD)
    person = _new_teacher(shown_name, name, password, is_head=invitation.kind == Kind.HEAD)
    with writing():
        use_invitation(invitation)
        _save_new(person)
    return person


def choose_password(key: str, password: str) -> Person:
    """Give a teacher who has forgotten it another password. Open sessions end, for they are bound to the one before.

    Raises
    ------
    Problem
        404, 409, 410 as `find_invitation`; 422.
    """
    invitation = _find(key, Kind.PASSWORD)
    person = invitation.person
    assert person is not None
    person.password = _hash_password(password, person)
    with writing():
        use_invitation(invitation)
        person.save(update_fields=["password"])
    return person


def write_teacher(*, shown_name: str, name: str, password: str, is_head: bool) -> Person:
    """Make a teacher without a key: for whoever has the server itself."""
    person = _new_teacher(shown_name, name, password, is_head=is_head)
    with writing():
        _save_new(person)
    return person


def write_school(name: str, time_zone: str, paper: str | None = None) -> School:
    """Give the school another name or time zone, or other paper."""
    school = _describe_school(name, time_zone, paper)
    with writing():
        school.save()
    return school


def _describe_school(name: str, time_zone: str, paper: str | None = None) -> School:
    school = School.objects.first() or School()
    school.paper = paper or school.paper
    school.name, school.time_zone = read_words(name, "school", "the school's name"), read_time_zone(time_zone)
    return school


def make_first_key() -> str | None:
    """Another first key, the one before being dead; none where there is a teacher."""
    return None if has_begun() else make_key(Kind.FIRST).key


def read_words(typed: str, field: str, what: str, longest: int = LONGEST_NAME) -> str:
    """A name as it is kept.

    Raises
    ------
    Problem
        422 where nothing is left of it, or too much.
    """
    kept = " ".join(unicodedata.normalize("NFC", typed).split())
    if not kept or not any(s.isalnum() for s in kept):
        raise Problem(422, "bad_field", f"Write {what} here.", {"field": field})
    if len(kept) > longest:
        raise Problem(422, "bad_field", f"This is longer than the {longest} signs that fit here.", {"field": field})
    return kept


def read_time_zone(name: str) -> str:
    if name not in available_timezones():
        raise Problem(422, "bad_field", "There is no time zone of this name. Choose one of the list.", {"field": "time_zone"})
    return name


def _find(key: str, *kinds: Invitation.Kind) -> Invitation:
    found = find_invitation(key)
    if found.kind not in kinds:
        raise Problem(409, "other_key", "This key is for something else. Open its link as you were given it.")
    return found


def _refuse_second_beginning() -> None:
    if has_begun():
        raise Problem(409, "has_begun", "This server has its school already. Sign in, or ask a colleague for an invitation.")


def _new_teacher(shown_name: str, name: str, password: str, *, is_head: bool) -> Person:
    kept = sign_in_name(name)
    if not re.fullmatch(r"[\w.@+-]+", kept) or not 2 <= len(kept) <= LONGEST_SIGN_IN:
        words = f"A name to sign in with has 2 to {LONGEST_SIGN_IN} letters, digits and . - _ @ +, without blanks."
        raise Problem(422, "bad_field", words, {"field": "name"})
    shown = read_words(shown_name, "shown_name", "your name as students know it")
    person = Person(username=kept, role=Person.Role.TEACHER, shown_name=shown, is_head=is_head)
    _refuse_taken(kept)
    person.password = _hash_password(password, person)
    return person


def _save_new(person: Person) -> None:
    _refuse_taken(person.username)
    person.save()


def _refuse_taken(name: str) -> None:
    if Person.objects.filter(username=name).exists():
        raise Problem(409, "name_taken", "Somebody signs in with this name already. Choose another.", {"field": "name"})


def _hash_password(password: str, person: Person) -> str:
    """Slow on purpose, so done while nobody waits to write."""
    try:
        validate_password(password, person)
    except ValidationError as trouble:
        raise Problem(422, "bad_field", " ".join(trouble.messages), {"field": "password"}) from trouble
    return make_password(password)
