"""The rig of a lab book over HTTP: all that was done to it is sent, and what it shows comes back. Nothing here changes anything."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from hobrel.classes import queries as classes
from hobrel.core.apparatus.recording import Record
from hobrel.core.apparatus.rig import LONGEST_TIME, MOST_ACTS, Act, Face, Mishap
from hobrel.core.apparatus.rigs import RIGS
from hobrel.core.questions.apparatus import RigView, Sitting, read_record, read_scale, watch_rig
from hobrel.core.statistics.scale_reading import ScaleReading
from hobrel.labbooks.actions import Wanted, edit_book
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.edits.parts import EditModel, Key, ReadingText
from hobrel.labbooks.rigs import keep_record, note_scale_read, seeds_of
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["rigs"])
# what is somewhat too long is refused by the core, which says what to do about it
Second = Annotated[float, Field(ge=0, le=1000 * LONGEST_TIME, allow_inf_nan=False)]
Word = Annotated[str, Field(max_length=40, pattern=r"^[A-Za-z0-9_.-]*$")]


class ActIn(EditModel):
    kind: Word
    value: Word = ""
    at: Second


class RigAsked(EditModel):
    """What has been done, by whose `hand`, and from when on it is looked at."""

    hand: Word
    acts: Annotated[list[ActIn], Field(max_length=2 * MOST_ACTS)] = []
    start: Second

    def sitting(self) -> Sitting:
        return Sitting(self.hand, tuple(Act(act.kind, act.value, act.at) for act in self.acts), self.start)


class RecordKept(RigAsked):
    """The last recording, to be kept: in the run that is looked at where nothing is in it, else as a run of its own."""

    client_id: UUID
    run: Key


class ScaleAsked(RigAsked):
    """What was read on a scale."""

    face: Word
    text: ReadingText


class KeptIn(EditModel):
    """The run that a recording was kept in."""

    run: str
    rows: int


@dataclass(frozen=True)
class RigOffer:
    """A rig that a plan can have."""

    key: str
    title: str
    words: str
    faces: tuple[Face, ...]
    mishaps: tuple[Mishap, ...]


@router.get("/rigs", response={200: list[RigOffer], 403: ProblemOut})
def read_rigs(request: HttpRequest) -> list[RigOffer]:
    """The rigs that there are, for who writes a plan or may practise."""
    policy.need_beginner(classes.who(request))
    return [RigOffer(rig.key, rig.title, rig.words, rig.faces, rig.mishaps) for rig in RIGS.values()]


@router.post("/books/{book_id}/rig", response={200: RigView, 404: ProblemOut, 422: ProblemOut})
def look_at_rig(request: HttpRequest, book_id: int, given: RigAsked) -> HttpResponse:
    """What the rig shows from a moment on, after all that was done to it."""
    person = classes.who(request)
    book = policy.find_book(person, book_id)
    # who practises alone may look behind it
    tells = classes.is_teacher(person) or book.practical_id is None
    content = ask_about(book, "", watch_rig, seeds_of(book), given.sitting(), tells, as_json=True)
    return HttpResponse(content, content_type="application/json")


@router.post("/books/{book_id}/rig/record", response={200: KeptIn, 403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut})
def keep_rig_record(request: HttpRequest, book_id: int, given: RecordKept) -> KeptIn:
    """Keep what the logger has written, as one change that can be undone."""
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    record: Record = ask_about(book, "", read_record, seeds_of(book), given.sitting(), heavy=True)
    keeping = keep_record(book, record, given.run)
    if keeping.edit is not None:
        (outcome,), _ = edit_book(book, person, [Wanted(given.client_id, keeping.edit, keeping.columns)])
        if outcome.refused is not None:
            raise outcome.refused
    return KeptIn(run=keeping.run, rows=record.rows)


@router.post("/books/{book_id}/rig/reading", response={204: None, 403: ProblemOut, 404: ProblemOut, 422: ProblemOut})
def note_reading(request: HttpRequest, book_id: int, given: ScaleAsked) -> tuple[int, None]:
    """Note how a scale was read. The reading itself is written into the table by an edit, as any other."""
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    read: ScaleReading = ask_about(book, "", read_scale, seeds_of(book), given.sitting(), given.face, given.text)
    note_scale_read(book, person, read)
    return 204, None
