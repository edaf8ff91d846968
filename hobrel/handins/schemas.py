"""What is sent and got of hand-ins, their answers and marks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from hobrel.core.document.plan_part import FactKind

Verdict = Literal["returned", "accepted"]


class AnswerOut(Schema):
    """What a teacher has said to a hand-in."""

    verdict: Verdict
    words: str
    by: str
    at: datetime


class GivenMark(Schema):
    """A mark as its bench reads it: the row of the grid, its level in words (empty: only words), and of how many it is which."""

    title: str
    level: str
    place: int
    of: int
    words: str


class HandInOut(Schema):
    """A hand-in as its bench and its teachers see it. `words`: whether there are files of it for word processors; `late` goes by the due
    date of today; `marks` are none until they are given back.
    """

    id: int
    number: int
    at: datetime
    by: str
    revision: int
    words: bool
    late: bool
    answer: AnswerOut | None
    marks: list[GivenMark]


class GridRowOut(Schema):
    """A row of the marking grid of a practical."""

    id: str
    title: str
    levels: list[str]
    facts: list[FactKind]


class QueuedHandIn(Schema):
    """A hand-in in the queue, with how many rows of the grid have a level."""

    id: int
    number: int
    at: datetime
    by: str
    late: bool
    answer: AnswerOut | None
    marked: int


class QueuedBench(Schema):
    """A bench in the queue with all its hand-ins, first to last; `changed_since` the last one."""

    book: int
    bench: str
    names: list[str]
    changed_since: bool
    hand_ins: list[QueuedHandIn]


class QueueOut(Schema):
    """What a practical's benches have handed in: those that wait for an answer first, then by when. `marks_back` is from when marks
    are seen.
    """

    title: str
    class_name: str
    due: datetime | None
    marks_back: datetime | None
    given_back: bool
    grid: list[GridRowOut]
    benches: list[QueuedBench]


class MarkOut(Schema):
    """A mark as its teachers have it."""

    row: str
    level: int | None
    words: str
    by: str
    at: datetime


class FactOut(Schema):
    """Something that can be seen of a hand-in."""

    kind: FactKind
    text: str


class MarkedHandIn(Schema):
    """A hand-in for who marks it: what can be seen of it, its marks, and those of the one before."""

    id: int
    book: int
    number: int
    bench: str
    revision_now: bool
    answer: AnswerOut | None
    marks: list[MarkOut]
    marks_before: list[MarkOut]
    facts: list[FactOut]


class MarksAndAnswer(Schema):
    """What teachers have said to a hand-in so far."""

    answer: AnswerOut | None
    marks: list[MarkOut]


class AnswerWas(Schema):
    """The answer that is written over."""

    verdict: Verdict
    words: str


class AnswerIn(Schema):
    """Return it or accept it, with words; `was` is the answer that is replaced."""

    verdict: Verdict
    words: Annotated[str, Field(max_length=2000)] = ""
    was: AnswerWas | None = None


class MarkWas(Schema):
    """The mark that is written over."""

    level: int | None
    words: str


class MarkIn(Schema):
    """A mark in a row of the grid; neither level nor words takes it away. `was` is what stood there when it was written."""

    row: Annotated[str, Field(min_length=1, max_length=40)]
    level: Annotated[int, Field(ge=0, le=7)] | None = None
    words: Annotated[str, Field(max_length=600)] = ""
    was: MarkWas | None = None


class MarksBackIn(Schema):
    """Give the marks back now, or take them back."""

    given_back: bool
