"""Signing in and out: the only writers of people."""

from __future__ import annotations

import secrets
import unicodedata
from datetime import datetime, time, timedelta

from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.hashers import make_password
from django.http import HttpRequest
from django.utils import timezone

from hobrel.classes.models import Person, SchoolClass, Seat
from hobrel.classes.queries import local_now
from hobrel.classes.tries import counted, limits_of_code, limits_of_password, limits_of_pin
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

DAY_ENDS = time(20)
LEAST_SESSION = timedelta(hours=3)
OWN_DEVICE_FOR = timedelta(days=60)


def sign_in_name(typed: str) -> str:
    """A teacher's name for signing in, however it was typed: capitals and blanks around it do not matter."""
    return unicodedata.normalize("NFKC", typed).strip().casefold()


def end_of_day(now: datetime, at_least: timedelta) -> datetime:
    """When the school day ends, or so much later than now where that is soon or over."""
    return max(datetime.combine(now.date(), DAY_ENDS, now.tzinfo), now + at_least)


def sign_in(request: HttpRequest, person: Person, own_device: bool) -> Person:
    """Begin a session that ends after the school day, or much later on somebody's own device."""
    with writing():  # the session and the day of it in one go: a whole class comes at once
        login(request, person)
    now = local_now()
    request.session.set_expiry(OWN_DEVICE_FOR if own_device else end_of_day(now, LEAST_SESSION) - now)
    return person


def sign_in_teacher(request: HttpRequest, name: str, password: str, own_device: bool = False) -> Person:
    """Sign a teacher in by name and password.

    Raises
    ------
    Problem
        403 ``wrong_sign_in``; 429 after several of these.
    """
    name = sign_in_name(name)
    with counted(limits_of_password(request, name)):
        person = authenticate(request, username=name, password=password)
        if not isinstance(person, Person) or person.role != Person.Role.TEACHER:
            raise Problem(403, "wrong_sign_in", "This name and password do not go together. Look at both again.")
    return sign_in(request, person, own_device)


def find_class(request: HttpRequest, code: str) -> SchoolClass:
    """The class with this join code; guessing is slowed.

    Raises
    ------
    Problem
        404 ``no_such_class``; 429 after several of these.
    """
    with counted(limits_of_code(request)):
        found = SchoolClass.objects.filter(join_code=code.strip().upper(), archived=None).first()
        if found is None:
            raise Problem(404, "no_such_class", "There is no class with this code. Ask your teacher to show it again.")
    return found


def sign_in_student(request: HttpRequest, code: str, seat_id: int, pin: str, own_device: bool = False) -> Person:
    """Sign a student in; the first time, or after the teacher has freed it, the PIN they choose becomes theirs.

    Raises
    ------
    Problem
        404, 422 ``bad_pin``, 403 ``wrong_pin``; 429 after several of these.
    """
    school_class = find_class(request, code)
    seat = Seat.objects.filter(school_class=school_class, pk=seat_id, off=None).select_related("person").first()
    if seat is None:
        raise Problem(404, "no_such_seat", "This name is no longer on the class list. Ask your teacher.")
    if not (pin.isascii() and pin.isdigit() and 4 <= len(pin) <= 8):
        raise Problem(422, "bad_pin", "A PIN is four to eight digits.")
    if not seat.has_pin:
        if school_class.door_until is None or school_class.door_until <= timezone.now():
            raise Problem(403, "door_closed", "The class is not open for new PINs just now. Ask your teacher to open its door.")
        return sign_in(request, _choose_pin(seat.pk, pin), own_device)
    assert seat.person is not None
    with counted(limits_of_pin(request, seat.pk, school_class.pk, pin)):
        if not seat.person.check_password(pin):
            raise Problem(403, "wrong_pin", "This is not the PIN that was chosen for this name. If you forgot it, ask your teacher.")
    return sign_in(request, seat.person, own_device)


def _choose_pin(seat_id: int, pin: str) -> Person:
    hashed = make_password(pin)  # slow on purpose: nobody else's writing waits for it
    with writing():
        seat = Seat.objects.select_for_update().get(pk=seat_id)
        if seat.has_pin:
            raise Problem(403, "wrong_pin", "Somebody has just chosen a PIN for this name. If it was not you, tell your teacher.")
        person = seat.person or Person(username=f"student-{secrets.token_hex(8)}", role=Person.Role.STUDENT, shown_name=seat.name)
        person.password = hashed
        person.save()
        seat.person = person
        seat.save(update_fields=["person"])
    return person


def free_seat(seat: Seat) -> None:
    """Let whoever signs in next with this name choose a new PIN. What was written stays theirs; open sessions of it end."""
    if seat.person is not None:
        # a session is bound to the password it began with
        seat.person.set_unusable_password()
        seat.person.save(update_fields=["password"])


def sign_in_demo(request: HttpRequest, person: Person) -> Person:
    """Sign in on the demo server without a password; the caller has checked that this is one."""
    return sign_in(request, person, own_device=False)


def sign_out(request: HttpRequest) -> None:
    logout(request)
