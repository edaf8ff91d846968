"""What the lesson's pages send and get."""

from __future__ import annotations

from typing import Annotated

from ninja import Schema
from pydantic import Field

from hobrel.core.document.plan_part import StageName
from hobrel.core.presentation.needs import CommonSlip, NeedKind
from hobrel.core.presentation.results import StageMark
from hobrel.core.presentation.walk_notes import SmallGraph

Place = tuple[Annotated[int, Field(ge=0, le=15)], Annotated[int, Field(ge=0, le=15)]]


class NeedOut(Schema):
    """What a bench needs, and where it can be seen: the station, of a slip also run and cell."""

    kind: NeedKind
    text: str
    stage: StageName
    run: str
    at: str


class Tile(Schema):
    """A bench on the walkround. `names` sit there, of whom those are `here` who have the lab book open now; `changed` is how many minutes
    ago it was last written in. `needs` begin with the most urgent.
    """

    book: int
    bench: str
    bench_id: int
    names: list[str]
    here: list[str]
    changed: int | None
    stages: list[StageMark]
    opened: list[StageName]
    finding: str
    slips: int
    open_remarks: int
    needs: list[NeedOut]
    graph: SmallGraph | None


class WalkroundOut(Schema):
    """All benches of a practical; `room` is where they stand (column and row by the key of the bench), `common` what several share."""

    title: str
    class_name: str
    class_id: int
    closed: bool
    room: dict[str, Place]
    tiles: list[Tile]
    common: list[CommonSlip]


class RoomIn(Schema):
    """Column and row of benches, by their keys."""

    places: Annotated[dict[Annotated[str, Field(pattern=r"^\d{1,12}$")], Place], Field(max_length=128)]


class RemarksIn(Schema):
    """One remark to the lab books (by their keys) of several benches."""

    books: Annotated[list[int], Field(min_length=1, max_length=128)]
    stage: StageName
    text: Annotated[str, Field(max_length=2000)]


class RemarksOut(Schema):
    """In how many lab books it stands now."""

    written: int
