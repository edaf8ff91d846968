"""The rig of a lab book over HTTP: all that was done to it is sent, and what it shows comes back. Nothing here changes anything."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from hobrel.classes import queries as classes
from hobrel.core.apparatus.rig import LONGEST_TIME, MOST_ACTS, Act, Face, Mishap
from hobrel.core.apparatus.rigs import RIGS
from hobrel.core.questions.apparatus import RigView, Sitting, watch_rig
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.edits.parts import EditModel
from hobrel.labbooks.rigs import seeds_of
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["rigs"])
Second = Annotated[float, Field(ge=0, le=LONGEST_TIME, allow_inf_nan=False)]
Word = Annotated[str, Field(max_length=40, pattern=r"^[A-Za-z0-9_-]*$")]


class ActIn(EditModel):
    kind: Word
    value: Word = ""
    at: Second


class RigAsked(EditModel):
    """What has been done, by whose `hand`, and from when on it is looked at."""

    hand: Word
    acts: Annotated[list[ActIn], Field(max_length=MOST_ACTS)] = []
    start: Second


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
    """The rigs that there are, for who writes a plan."""
    policy.need_teacher(classes.who(request))
    return [RigOffer(rig.key, rig.title, rig.words, rig.faces, rig.mishaps) for rig in RIGS.values()]


@router.post("/books/{book_id}/rig", response={200: RigView, 404: ProblemOut, 422: ProblemOut})
def look_at_rig(request: HttpRequest, book_id: int, given: RigAsked) -> HttpResponse:
    """What the rig shows from a moment on, after all that was done to it."""
    person = classes.who(request)
    book = policy.find_book(person, book_id)
    sitting = Sitting(given.hand, tuple(Act(act.kind, act.value, act.at) for act in given.acts), given.start)
    content = ask_about(book, "", watch_rig, seeds_of(book), sitting, classes.is_teacher(person), as_json=True)
    return HttpResponse(content, content_type="application/json")
