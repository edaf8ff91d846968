"""Signing in and out."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.security import APIKeyCookie

from hobrel.classes import actions, queries
from hobrel.classes.models import Person
from hobrel.classes.schemas import ClassCode, ClassList, DemoKey, DemoSignIn, Me, SeatOut, StudentSignIn, TeacherSignIn
from hobrel.classes.tries import know_device
from hobrel.server.problems import ProblemOut, not_found

router = Router(tags=["classes"])


class OpenToStrangers(APIKeyCookie):
    """Nobody needs to be signed in, but the request must come from our own page (CSRF)."""

    def authenticate(self, request: HttpRequest, key: str | None) -> bool:
        return True


open_to_strangers = OpenToStrangers()


def describe_me(request: HttpRequest) -> Me:
    demo = [DemoSignIn(key=k, words=w) for k, w, _ in queries.demo_people()] if settings.DEMO else []
    if not request.user.is_authenticated:
        return Me(id=0, name="", role="", is_head=False, has_begun=queries.has_begun(), demo=demo)
    person = queries.who(request)
    return Me(
        id=person.pk,
        name=person.shown_name,
        role=person.role,
        is_head=person.is_head,
        has_begun=True,
        demo=demo,
    )


@router.get("/me", response=Me, auth=None)
def read_me(request: HttpRequest) -> Me:
    return describe_me(request)


@router.post("/sign-in/teacher", response={200: Me, 403: ProblemOut, 429: ProblemOut}, auth=open_to_strangers)
def sign_in_teacher(request: HttpRequest, response: HttpResponse, given: TeacherSignIn) -> Me:
    actions.sign_in_teacher(request, given.name, given.password, given.own_device)
    know_device(request, response)
    return describe_me(request)


@router.post("/sign-in/class", response={200: ClassList, 404: ProblemOut, 429: ProblemOut}, auth=open_to_strangers)
def read_class_list(request: HttpRequest, given: ClassCode) -> ClassList:
    found = actions.find_class(request, given.code)
    seats = [SeatOut(id=s.pk, name=s.name, has_pin=s.has_pin) for s in found.seats.filter(off=None).select_related("person")]
    return ClassList(name=found.name, school=found.school, seats=seats)


@router.post(
    "/sign-in/student", response={200: Me, 403: ProblemOut, 404: ProblemOut, 422: ProblemOut, 429: ProblemOut}, auth=open_to_strangers
)
def sign_in_student(request: HttpRequest, response: HttpResponse, given: StudentSignIn) -> Me:
    actions.sign_in_student(request, given.code, given.seat, given.pin, given.own_device)
    know_device(request, response)
    return describe_me(request)


@router.post("/sign-in/demo", response={200: Me, 404: ProblemOut}, auth=open_to_strangers)
def sign_in_demo(request: HttpRequest, given: DemoKey) -> Me:
    person: Person | None = next((p for k, _, p in queries.demo_people() if k == given.key), None) if settings.DEMO else None
    if person is None:
        raise not_found()
    actions.sign_in_demo(request, person)
    return describe_me(request)


@router.post("/sign-out", response=Me)
def sign_out(request: HttpRequest) -> Me:
    actions.sign_out(request)
    return describe_me(request)
