"""Shapes of what goes in and out about the school and its teachers."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from hobrel.classes.queries import Paper
from hobrel.core.document.lab_book import DecimalMark
from hobrel.labbooks.schemas import Dates, PersonOut, Sentences


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
    """`paper` is what it prints on; as it was where nothing is said."""

    name: str
    time_zone: str
    paper: Paper | None = None


class SchoolOut(SchoolIn):
    """The school, who teaches at it, who has been invited, and where people find the server."""

    paper: Paper
    address: str
    colleagues: list[Colleague]
    invitations: list[OpenInvitation]


class ClassIn(Schema):
    name: str
    year: str = ""


class SeatLine(Schema):
    """A name on a list, its bench (empty for none), and whether a PIN has been chosen for it."""

    id: int
    name: str
    bench: str
    has_pin: bool
    absent: bool
    waiting: bool


class RunningPractical(Schema):
    """A practical of a class, from which day it is seen, and whether its lab books are only read by now; whether its plan has been changed
    since, and when it was last amended.
    """

    id: int
    title: str
    given_out: date
    closed: bool
    behind: bool
    amended: datetime | None
    dates: Dates
    conditions: int


class PlanLine(Schema):
    """A plan, the lab book that it is written in, and whether it is one's own or a colleague shares it."""

    id: int
    book: int
    title: str
    mine: bool


class NewPlanIn(Schema):
    """Of which lab book or plan of the shelf it is to be made; of none, an empty one."""

    book: int | None = None
    shelf: Annotated[str, Field(max_length=40)] | None = None


class ShelfLine(Schema):
    """A plan of the shelf."""

    key: str
    subject: str
    title: str
    question: str


class BookFateOut(Schema):
    """What an amendment does to a lab book."""

    book: int
    bench: str
    fate: Literal["takes", "same", "stands", "breaks"]
    words: str


class AmendmentOut(Schema):
    """What has changed in a plan, in words, and what that does to each lab book."""

    changes: list[str]
    books: list[BookFateOut]


class AmendIn(Schema):
    """Lab books that are amended although something of their own stops working."""

    anyway: list[int] = []


class KeptBenches(Schema):
    benches: list[str]


class TurnOut(Schema):
    condition: str
    day: date | None


class BenchTurnsOut(Schema):
    """A bench, what it does when, and of which conditions it has readings."""

    bench: int
    name: str
    turns: list[TurnOut]
    done: list[str]


class CoverageOut(Schema):
    """A condition, how many benches do it and have done it, and whether that is enough, in words."""

    condition: str
    name: str
    planned: int
    done: int
    words: str


class TurnsOut(Schema):
    """`each`: how many conditions a bench has to do for all to be done as often as the plan wants."""

    benches: list[BenchTurnsOut]
    coverage: list[CoverageOut]
    each: int


class TurnIn(Schema):
    bench: int
    condition: Annotated[str, Field(max_length=40)]
    day: date | None = None


class TurnsIn(Schema):
    turns: Annotated[list[TurnIn], Field(max_length=800)]


class DealTurnsIn(Schema):
    """How many of the conditions each bench does."""

    each: int


class GiveOutIn(Schema):
    plan: int
    day: date


class DatesIn(Schema):
    """When readings close, when it is due, whether later will do, from when the pool is open by itself and marks are
    seen, and the last station that is open (empty: all). Times without a zone are those of the school's clocks. What is
    not named stays as it is.
    """

    readings_close: datetime | None = None
    due: datetime | None = None
    late: bool = True
    pool_opens: datetime | None = None
    marks_back: datetime | None = None
    open_to: Literal["", "ask", "read", "average", "look", "straighten", "fit", "find", "pool", "report"] = ""


class DayIn(Schema):
    day: date


class CloseIn(Schema):
    closed: bool


class DecimalMarkIn(Schema):
    """With which decimal mark a class writes; none: as each plan has it."""

    mark: DecimalMark | None


class ClassPeople(Schema):
    """A class as its teachers arrange it. `door_until` is empty while the door is closed; `practicals` are the newest first."""

    id: int
    name: str
    year: str
    school: str
    join_code: str
    door_until: datetime | None
    own_books: bool
    decimal_mark: DecimalMark | None
    archived: bool
    teachers: list[PersonOut]
    benches: list[str]
    seats: list[SeatLine]
    practicals: list[RunningPractical]


class ListIn(Schema):
    """A list as it was pasted; `second` where somebody has said what stands behind a comma or a tab."""

    text: str
    second: Literal["given", "family", "bench"] | None = None


class KeepListIn(ListIn):
    """`without_gone`: names that are not on this list any more are taken off; `practicals` are those in which people move at once."""

    without_gone: bool = False
    practicals: list[int] = []


class NameAndBench(Schema):
    name: str
    bench: str


class MovedName(NameAndBench):
    was: str


class ListLooked(Schema):
    """What a list would change; with `troubles` it cannot be kept. `left` are lines about the list, with no name in them."""

    second: Literal["given", "family", "bench"] | None
    troubles: Sentences
    left: list[str]
    new: list[NameAndBench]
    moved: list[MovedName]
    same: int
    gone: list[str]


class DealIn(Schema):
    size: int
    way: Literal["random", "alphabet", "others", "last"]


class BenchOf(Schema):
    """Who would sit at a bench, by their keys."""

    name: str
    seats: list[int]


class SeatAllIn(Schema):
    benches: list[BenchOf]
    practicals: list[int] = []


class DoorIn(Schema):
    open: bool


class MoveIn(Schema):
    bench: str
    practicals: list[int] = []


class RenameIn(Schema):
    name: str


class ListText(Schema):
    """A list as it could have been pasted."""

    text: str


class ArchivedClass(Schema):
    id: int
    name: str
    year: str


class ReceiptOut(Schema):
    """That something was erased: when, by whom, how much."""

    at: datetime
    by: str
    words: str


class TeachIn(Schema):
    person: int
    teaches: bool


class AllowIn(Schema):
    allowed: bool


class ArchiveIn(Schema):
    archived: bool


class EraseIn(Schema):
    """The name of what is to be erased, typed."""

    name: str


class AbsentIn(Schema):
    absent: bool


class ElsewhereOut(Schema):
    """A name in another class of this teacher; `same` where it is this student already."""

    seat: int
    name: str
    class_name: str
    same: bool


class SameIn(Schema):
    seat: int
