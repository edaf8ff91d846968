"""The school over HTTP: its beginning, who teaches at it, and who is invited to."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes.actions import sign_in
from hobrel.classes.api import describe_me, open_to_strangers
from hobrel.classes.models import Invitation, Person, School
from hobrel.classes.queries import who
from hobrel.classes.schemas import Me
from hobrel.classes.tries import counted, know_device, limits_of_key
from hobrel.school import invitations, teachers
from hobrel.school.schemas import (
    AcceptIn,
    BeginIn,
    ChooseIn,
    Colleague,
    InvitationOut,
    InviteIn,
    KeyIn,
    NewKey,
    OpenInvitation,
    SchoolIn,
    SchoolOut,
)
from hobrel.server import policy
from hobrel.server.problems import Problem, ProblemOut

router = Router(tags=["school"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 410: ProblemOut, 422: ProblemOut, 429: ProblemOut}


def _let_in(request: HttpRequest, response: HttpResponse, person: Person) -> Me:
    sign_in(request, person, own_device=False)
    know_device(request, response)
    return describe_me(request)


@router.post("/begin", response={200: Me, **_REFUSALS}, auth=open_to_strangers)
def begin_school(request: HttpRequest, response: HttpResponse, given: BeginIn) -> Me:
    with counted(limits_of_key(request)):
        person = teachers.begin_school(**given.dict())
    return _let_in(request, response, person)


@router.post("/invitation/look", response={200: InvitationOut, **_REFUSALS}, auth=open_to_strangers)
def look_at_invitation(request: HttpRequest, given: KeyIn) -> InvitationOut:
    """What a key is for, before it is used."""
    with counted(limits_of_key(request)):
        found = invitations.find_invitation(given.key)
    school = School.objects.first()
    return InvitationOut(
        kind=found.kind,
        school=school.name if school else "",
        by=found.made_by.shown_name if found.made_by else "",
        name=found.person.username if found.person else "",
    )


@router.post("/invitation/accept", response={200: Me, **_REFUSALS}, auth=open_to_strangers)
def accept_invitation(request: HttpRequest, response: HttpResponse, given: AcceptIn) -> Me:
    with counted(limits_of_key(request)):
        person = teachers.accept_invitation(**given.dict())
    return _let_in(request, response, person)


@router.post("/invitation/password", response={200: Me, **_REFUSALS}, auth=open_to_strangers)
def choose_password(request: HttpRequest, response: HttpResponse, given: ChooseIn) -> Me:
    with counted(limits_of_key(request)):
        person = teachers.choose_password(given.key, given.password)
    return _let_in(request, response, person)


@router.get("/school", response={200: SchoolOut, 404: ProblemOut})
def read_school(request: HttpRequest) -> SchoolOut:
    person = policy.need_teacher(who(request))
    school = School.objects.first() or School(name="", time_zone=settings.TIME_ZONE)
    return SchoolOut(
        name=school.name,
        time_zone=school.time_zone,
        paper=school.paper,
        address=settings.ADDRESS,
        colleagues=[
            Colleague(id=p.pk, name=p.shown_name, sign_in=p.username, is_head=p.is_head)
            for p in Person.objects.filter(role=Person.Role.TEACHER).order_by("shown_name")
        ],
        invitations=[
            OpenInvitation(
                id=i.pk,
                kind=i.kind,
                by=i.made_by.shown_name if i.made_by else "",
                person=i.person.shown_name if i.person else "",
                made=i.made,
                expires=i.expires,
            )
            for i in policy.invitations_of(person)
        ],
    )


@router.post("/school", response={200: SchoolOut, **_REFUSALS})
def write_school(request: HttpRequest, given: SchoolIn) -> SchoolOut:
    policy.need_head(who(request))
    teachers.write_school(given.name, given.time_zone, given.paper)
    return read_school(request)


@router.post("/invitations", response={200: NewKey, **_REFUSALS})
def invite(request: HttpRequest, given: InviteIn) -> NewKey:
    kind = Invitation.Kind(given.kind)
    person = policy.need_teacher(who(request)) if kind is Invitation.Kind.COLLEAGUE else policy.need_head(who(request))
    if (kind is Invitation.Kind.PASSWORD) != (given.person is not None):
        raise Problem(422, "bad_request", "A link for a new password is for one colleague, and an invitation for nobody yet.")
    colleague = None if given.person is None else policy.find_colleague(person, given.person)
    made = invitations.make_key(kind, person, colleague)
    return NewKey(key=made.key, expires=made.expires)


@router.delete("/invitations/{invitation_id}", response={200: SchoolOut, **_REFUSALS})
def call_back(request: HttpRequest, invitation_id: int) -> SchoolOut:
    """Call an invitation back. One that is gone or has been used is no mistake: it lets nobody in any more."""
    policy.invitations_of(who(request)).filter(pk=invitation_id).delete()
    return read_school(request)
