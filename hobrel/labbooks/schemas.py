"""Shapes of what goes in and out about lab books."""

from __future__ import annotations

import datetime
import uuid
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import Field

from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.plan_part import StageName
from hobrel.core.presentation.results import Analysis, StageMark
from hobrel.core.sentences import Sentences
from hobrel.handins.schemas import HandInOut
from hobrel.labbooks.edits.kinds import Edit
from hobrel.server.problems import ProblemOut


class PresentOut(Schema):
    name: str
    place: str


RemarkText = Annotated[str, Field(max_length=2000)]


class RemarkPlace(Schema):
    """What a remark is about: a `reading` (its setting is the `item`), a `setting`, or another item by its id."""

    kind: Literal["reading", "setting", "quantity", "graph", "fit", "finding", "section"]
    item: Annotated[str, Field(max_length=40)]
    run: Annotated[str, Field(max_length=40)] = ""
    quantity: Annotated[str, Field(max_length=40)] = ""
    repeat: Annotated[int, Field(ge=0, le=100)] = 0


class ReplyOut(Schema):
    author: str
    by_teacher: bool
    text: str
    at: datetime.datetime


class RemarkOut(Schema):
    """A remark with its thread. `was` is the reading that it was about, `stands` whether that is still so (`changed`, `gone`, or empty);
    `own` is whether the one who asks settles it.
    """

    id: int
    stage: str
    text: str
    author: str
    at: datetime.datetime
    place: RemarkPlace | None
    was: str
    stands: Literal["", "changed", "gone"]
    done: bool
    settled: bool
    own: bool
    replies: list[ReplyOut]


class RemarkIn(Schema):
    """A remark, in the margin of a stage, about a place if it has one."""

    stage: StageName
    text: RemarkText
    place: RemarkPlace | None = None


class ReplyIn(Schema):
    text: RemarkText


class DoneIn(Schema):
    done: bool


class OpenedIn(Schema):
    stage: StageName


class SettleIn(Schema):
    settled: bool


class BookProgress(Schema):
    """How many edits a lab book has had, and what this person can take back."""

    revision: int
    undo: str
    redo: str


class BookWork(Schema):
    """The document and its analysis, seen from one run, which comes first in both; `run_order` has the runs as the bench made them.

    Not `complete`: only the columns follow from the document; all else is as it was before somebody began to write.
    """

    document: LabBook
    analysis: Analysis
    relation_tex: str
    run_order: list[str]
    complete: bool


class ViewChange(Schema):
    """What stands at a place of a `BookWork` now; the place is named by fields, keys, and places in lists."""

    at: list[str | int]
    becomes: Any


class ViewAnswer(Schema):
    """A `BookWork` for somebody who may have had one: the whole, or the changes since that of the tag `since`.

    `tag` is what to ask with next. `undo` and `redo` are null for one who did not ask for `steps`, `news` and `present` for one who did not
    say a `place`.
    """

    revision: int
    undo: str | None
    redo: str | None

    news: int | None
    present: list[PresentOut] | None
    tag: str
    since: str
    whole: BookWork | None
    changes: list[ViewChange] | None


class Dates(Schema):
    """What the class decides of when: the last station that is open (empty: all), until when readings are written, when it is due, and
    whether later will do; from when the pool is open by itself, and marks are seen. All is open where there is no class.
    """

    open_to: str = ""
    readings_close: datetime.datetime | None = None
    due: datetime.datetime | None = None
    late: bool = True
    pool_opens: datetime.datetime | None = None
    marks_back: datetime.datetime | None = None


class TurnDay(Schema):
    """On which day a bench does a condition."""

    condition: str
    day: datetime.date


class HandIn(Schema):
    """Whether a hand is up."""

    up: bool


class BookBeside(Schema):
    """What stands beside a lab book. `news` counts its changes; `placed` marks the stations of which the class decides, and somebody of the
    bench has come to those that are `opened` (null: nobody counts); where there is no
    class, `pool_open` is null. `turns` are those of its conditions that have a day; `hand_up` is whether somebody has raised a hand.
    """

    dates: Dates
    turns: list[TurnDay]

    news: int
    remarks: list[RemarkOut]
    pool_open: bool | None
    hand_ins: list[HandInOut]
    placed: list[StageMark]
    opened: list[StageName] | None
    hand_up: bool


class BookAbout(BookBeside):
    """Whose lab book it is, who is here, and what stands beside it. One that somebody has begun has an `owner`, and no practical;
    that of a plan names the `plan`.
    """

    id: int
    practical: int | None
    owner: int | None
    plan: int | None
    class_name: str
    school: str
    bench: str
    names: list[str]
    can_edit: bool
    can_remark: bool
    present: list[PresentOut]


class BookState(BookAbout, BookProgress, BookWork):
    """A lab book as its readers need it; `tag` is what to ask with for what follows."""

    tag: str


class BookNews(Schema):
    """What one who has a lab book open asks again and again: whether there is something new, and who is here."""

    revision: int
    news: int
    present: list[PresentOut]


class EditIn(Schema):
    client_id: uuid.UUID
    edit: Edit


class EditsIn(Schema):
    """Edits in their order; each is made or refused by itself. `place` is where their author is by now."""

    edits: Annotated[list[EditIn], Field(min_length=1, max_length=20)]
    place: str | None = None


class EditOut(Schema):
    """What has come of one edit: the revision that it made, or why it was refused."""

    client_id: uuid.UUID
    revision: int | None
    refused: ProblemOut | None


class EditsOut(BookProgress):
    answers: list[EditOut]


class StepIn(Schema):
    client_id: uuid.UUID


class HistoryEntry(Schema):
    revision: int
    author: str
    at: datetime.datetime
    words: str


class PastBook(Schema):
    """A lab book as it once stood."""

    revision: int
    document: LabBook


class BenchSummary(Schema):
    """A bench on the teacher's page, or one's own: its trail in small, its finding, how many slips.

    `trouble` says why where it could not be worked out; `names` sit there now; `sits_here` is whether the one who asks does.
    """

    book: int
    bench: str
    names: list[str]
    sits_here: bool
    stages: list[StageMark]
    opened: list[StageName]
    finding: str
    slips: int
    handed_in: int
    returned: bool
    open_remarks: int
    trouble: Sentences


class PracticalOut(Schema):
    """A practical; one that is only `coming` shows its name and its day, one that is `earlier` no benches to teachers, but how many there
    are and how many have handed in.
    """

    id: int
    coming: bool
    earlier: bool
    title: str
    given_out: datetime.date
    closed: bool
    pool_open: bool
    question: str
    bench_count: int
    handed_in: int
    benches: list[BenchSummary]


class ClassOut(Schema):
    id: int
    name: str
    school: str
    year: str
    join_code: str
    practicals: list[PracticalOut]


class PersonOut(Schema):
    id: int
    name: str


class OwnBook(Schema):
    """A lab book that somebody has begun (`mine`), with the names that it is shared with; or one that is shared with them, and by whom."""

    id: int
    title: str
    mine: bool
    names: list[str]
    written: datetime.datetime | None
    finding: str
    trouble: Sentences


class OwnBooks(Schema):
    books: list[OwnBook]
    may_begin: bool


class BegunBook(Schema):
    id: int


class ShareIn(Schema):
    person: int
    shared: bool


class SharingOut(Schema):
    """Whom a lab book is shared with, and whom else it could be."""

    shared: list[PersonOut]
    others: list[PersonOut]


class PictureOut(Schema):
    """A picture that is kept: its key for edits that name it, its size in pixels."""

    key: str
    width: int
    height: int
