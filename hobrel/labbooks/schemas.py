"""Shapes of what goes in and out about lab books."""

from __future__ import annotations

import datetime
import uuid

from ninja import Schema

from hobrel.core.document.lab_book import LabBook
from hobrel.core.presentation.results import Analysis, StageMark
from hobrel.labbooks.edits.kinds import Edit


class PresentOut(Schema):
    name: str
    place: str


class RemarkOut(Schema):
    id: int
    stage: str
    text: str
    author: str
    at: datetime.datetime
    settled: bool


class RemarkIn(Schema):
    stage: str
    text: str


class SettleIn(Schema):
    settled: bool


class HandInOut(Schema):
    id: int
    number: int
    at: datetime.datetime
    by: str
    revision: int


class BookProgress(Schema):
    """How far a lab book is: how many edits, its runs in the order in which the bench made them, and what this person can take back."""

    revision: int
    run_order: list[str]
    undo: str
    redo: str


class BookWork(BookProgress):
    """What an edit changes: the document after `revision` edits and its analysis, seen from one run, which comes first in both."""

    document: LabBook
    analysis: Analysis
    relation_tex: str


class BookAbout(Schema):
    """Whose lab book it is, who is here, and what stands beside it."""

    id: int
    practical: int
    class_name: str
    school: str
    bench: str
    names: list[str]
    can_edit: bool
    can_remark: bool
    present: list[PresentOut]
    remarks: list[RemarkOut]
    prompts: dict[str, str]
    pool_open: bool
    hand_ins: list[HandInOut]


class BookState(BookAbout, BookWork):
    """A lab book as its readers need it."""


class BookNews(Schema):
    """What changes beside the lab book itself."""

    present: list[PresentOut]
    remarks: list[RemarkOut]
    pool_open: bool


class BookChanges(BookNews):
    """What is new since a revision: `state` is null where nothing is."""

    state: BookState | None


class EditIn(Schema):
    client_id: uuid.UUID
    edit: Edit


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
    """A bench on the teacher's page: its trail in small, its finding, how many slips; `trouble` where it could not be worked out."""

    book: int
    bench: str
    names: list[str]
    stages: list[StageMark]
    finding: str
    slips: int
    handed_in: int
    open_remarks: int
    trouble: str


class PracticalOut(Schema):
    id: int
    title: str
    given_out: datetime.date
    pool_open: bool
    question: str
    benches: list[BenchSummary]


class ClassOut(Schema):
    id: int
    name: str
    school: str
    year: str
    join_code: str
    practicals: list[PracticalOut]
