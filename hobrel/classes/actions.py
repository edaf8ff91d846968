"""Signing in and out: the only writers of people and wrong tries."""

from __future__ import annotations

import secrets
from datetime import timedelta

from django.contrib.auth import authenticate, login, logout
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass, Seat, WrongTry
from hobrel.server.problems import Problem

FREE_TRIES = 5
REMEMBERED = timedelta(minutes=15)
LONGEST_WAIT = 300


def slow_down(key: str) -> None:
    """Refuse for a while after several wrong tries with the same key; each further one doubles the wait.

    Raises
    ------
    Problem
        429 with the seconds to wait.
    """
    since = timezone.now() - REMEMBERED
    tries = WrongTry.objects.filter(key=key, at__gte=since).order_by("-at")
    count = tries.count()
    if count < FREE_TRIES:
        return
    wait = min(LONGEST_WAIT, 5 * 2 ** (count - FREE_TRIES))
    left = wait - (timezone.now() - tries[0].at).total_seconds()
    if left > 0:
        raise Problem(
            429,
            "too_many_tries",
            f"Several tries went wrong. Wait {int(left) + 1} seconds, then try again.",
            {"retry_after": int(left) + 1},
        )


def note_wrong_try(*keys: str) -> None:
    WrongTry.objects.filter(at__lt=timezone.now() - 4 * REMEMBERED).delete()
    WrongTry.objects.bulk_create(WrongTry(key=key) for key in keys)


def _address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))


def sign_in_teacher(request: HttpRequest, name: str, password: str) -> Person:
    """Sign a teacher in by name and password."""
    # the name alone would let anybody lock a teacher out, so the address counts with it; the name has its own, wider limit
    keys = (f"teacher:{name.lower()}:{_address(request)}",)
    for key in keys:
        slow_down(key)
    person = authenticate(request, username=name, password=password)
    if not isinstance(person, Person) or person.role != Person.Role.TEACHER:
        note_wrong_try(*keys)
        raise Problem(403, "wrong_sign_in", "This name and password do not go together. Look at both again.")
    login(request, person)
    return person


def find_class(request: HttpRequest, code: str) -> SchoolClass:
    """The class with this join code; guessing is slowed by address."""
    key = f"code:{_address(request)}"
    slow_down(key)
    found = SchoolClass.objects.filter(join_code=code.strip().upper()).first()
    if found is None:
        note_wrong_try(key)
        raise Problem(404, "no_such_class", "There is no class with this code. Ask your teacher to show it again.")
    return found


def sign_in_student(request: HttpRequest, code: str, seat_id: int, pin: str) -> Person:
    """Sign a student in; the first time, the PIN they choose becomes theirs."""
    school_class = find_class(request, code)
    seat = Seat.objects.filter(school_class=school_class, pk=seat_id).select_related("person").first()
    if seat is None:
        raise Problem(404, "no_such_seat", "This name is no longer on the class list. Ask your teacher.")
    if not (pin.isdigit() and 4 <= len(pin) <= 8):
        raise Problem(422, "bad_pin", "A PIN is four to eight digits.")
    key = f"seat:{seat.pk}"
    slow_down(key)
    if seat.person is None:
        person = _give_person(seat.pk, pin)
    elif seat.person.check_password(pin):
        person = seat.person
    else:
        note_wrong_try(key)
        raise Problem(403, "wrong_pin", "This is not the PIN that was chosen for this name. If you forgot it, ask your teacher.")
    login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    return person


def _give_person(seat_id: int, pin: str) -> Person:
    with transaction.atomic():
        seat = Seat.objects.select_for_update().get(pk=seat_id)
        if seat.person is not None:
            raise Problem(403, "wrong_pin", "Somebody has just chosen a PIN for this name. If it was not you, tell your teacher.")
        person = Person(username=f"student-{secrets.token_hex(8)}", role=Person.Role.STUDENT, shown_name=seat.name)
        person.set_password(pin)
        person.save()
        seat.person = person
        seat.save(update_fields=["person"])
    return person


def sign_in_demo(request: HttpRequest, person: Person) -> Person:
    """Sign in on the demo server without a password; the caller has checked that this is one."""
    login(request, person, backend="django.contrib.auth.backends.ModelBackend")
    return person


def sign_out(request: HttpRequest) -> None:
    logout(request)
