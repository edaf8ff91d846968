"""The pool over HTTP."""

from __future__ import annotations

import json
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from hobrel.classes.queries import who
from hobrel.core.presentation.class_data import ClassData
from hobrel.core.presentation.pool import PoolResult
from hobrel.interchange.flat import SPREADSHEETS, SheetEnding, write_flat
from hobrel.labbooks.beside import leave_out_of_pool
from hobrel.plans.actions import open_pool
from hobrel.pools import queries
from hobrel.server import policy
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import ProblemOut

router = Router(tags=["pool"])


class PoolBench(Schema):
    """A bench in the pool, with its lab book for who may open it; `left_out` is the reason where a teacher has left it out. `opened`:
    whether somebody has opened it; `handed_in`: whether it has been handed in.
    """

    book: int | None
    bench: str
    left_out: str
    opened: bool
    handed_in: bool


class PoolOut(Schema):
    """The pool of every finding of a practical, the benches that are in it, and what they share beside; `shows_names`: whether the class
    sees who is who.
    """

    title: str
    class_name: str
    pool_open: bool
    shows_names: bool
    benches: list[PoolBench]
    pools: list[PoolResult]
    shared: ClassData


class LeaveOutIn(Schema):
    """Why a bench is left out; empty to take it in again."""

    reason: Annotated[str, Field(max_length=300)]


class OpenIn(Schema):
    open: bool


@router.get("/practicals/{practical_id}/pool", response={200: PoolOut, 403: ProblemOut, 404: ProblemOut})
def read_pool(request: HttpRequest, practical_id: int) -> HttpResponse:
    person = who(request)
    practical = policy.find_pool(person, practical_id)
    about = {"title": practical.title, "class_name": practical.school_class.name, "pool_open": practical.is_pool_open}
    about["shows_names"] = queries.shows_names(practical)
    about["benches"] = queries.list_benches(practical, person)
    # what the computing process has written is not read again here
    whole = json.dumps(about).encode()[:-1] + b"," + queries.write_pools(practical, person)[1:]
    return HttpResponse(whole, content_type="application/json")


@router.post("/practicals/{practical_id}/pool", response={200: PoolOut, 403: ProblemOut, 404: ProblemOut})
def set_pool_open(request: HttpRequest, practical_id: int, given: OpenIn) -> HttpResponse:
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    open_pool(practical, given.open)
    return read_pool(request, practical_id)


@router.post("/books/{book_id}/left-out", response={204: None, 403: ProblemOut, 404: ProblemOut, 422: ProblemOut})
def leave_out(request: HttpRequest, book_id: int, given: LeaveOutIn) -> tuple[int, None]:
    """Leave a bench out of its class's pool, with a reason, or take it in again."""
    person = who(request)
    leave_out_of_pool(policy.find_book(person, book_id, "remark"), person, given.reason)
    return 204, None


@router.get("/practicals/{practical_id}/pool.{ending}", response={200: None, 403: ProblemOut, 404: ProblemOut})
def take_pool_out(request: HttpRequest, practical_id: int, ending: SheetEnding) -> HttpResponse:
    """The findings of all benches as a table, for a teacher."""
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    content = write_flat(queries.list_findings(practical), ending)
    return send_file(content, SPREADSHEETS[ending], file_name(ending, practical.title, " findings"))
