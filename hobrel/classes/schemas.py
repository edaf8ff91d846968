"""Shapes of what goes in and out about people and classes."""

from __future__ import annotations

from ninja import Schema


class Me(Schema):
    """Who is signed in (`role` empty and `id` 0: nobody), whether there is anybody who could be, and the demo's one-click sign-ins."""

    id: int
    name: str
    role: str
    is_head: bool
    has_begun: bool
    demo: list[DemoSignIn]


class DemoSignIn(Schema):
    key: str
    words: str


class TeacherSignIn(Schema):
    name: str
    password: str
    own_device: bool = False


class ClassCode(Schema):
    code: str


class SeatOut(Schema):
    id: int
    name: str
    has_pin: bool


class ClassList(Schema):
    name: str
    school: str
    seats: list[SeatOut]


class StudentSignIn(Schema):
    code: str
    seat: int
    pin: str
    own_device: bool = False


class DemoKey(Schema):
    key: str
