"""Shapes of what goes in and out about the school and its teachers."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from ninja import Schema


class BeginIn(Schema):
    """The school and its first teacher; `name` is what they sign in with."""

    key: str
    school: str
    time_zone: str
    shown_name: str
    name: str
    password: str


class KeyIn(Schema):
    key: str


class AcceptIn(Schema):
    key: str
    shown_name: str
    name: str
    password: str


class ChooseIn(Schema):
    key: str
    password: str


class InvitationOut(Schema):
    """What a key is for: `by` has invited; `name` signs in with the password that may be chosen."""

    kind: str
    school: str
    by: str
    name: str


class InviteIn(Schema):
    """`person` for a password."""

    kind: Literal["colleague", "head", "password"]
    person: int | None = None


class NewKey(Schema):
    key: str
    expires: datetime | None


class OpenInvitation(Schema):
    """An invitation that has not been used; its key is known to nobody but who was given it."""

    id: int
    kind: str
    by: str
    person: str
    made: datetime
    expires: datetime | None


class Colleague(Schema):
    id: int
    name: str
    sign_in: str
    is_head: bool


class SchoolIn(Schema):
    name: str
    time_zone: str


class SchoolOut(SchoolIn):
    """The school, who teaches at it, who has been invited, and where people find the server."""

    address: str
    colleagues: list[Colleague]
    invitations: list[OpenInvitation]
