"""The pool over HTTP."""

from __future__ import annotations

import json

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from hobrel.classes.queries import who
from hobrel.core.presentation.pool import PoolResult
from hobrel.plans.actions import open_pool
from hobrel.pools import queries
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["pool"])


class PoolOut(Schema):
    title: str
    class_name: str
    pool_open: bool
    pools: list[PoolResult]


class OpenIn(Schema):
    open: bool


@router.get("/practicals/{practical_id}/pool", response={200: PoolOut, 403: ProblemOut, 404: ProblemOut})
def read_pool(request: HttpRequest, practical_id: int) -> HttpResponse:
    person = who(request)
    practical = policy.find_pool(person, practical_id)
    about = {"title": practical.title, "class_name": practical.school_class.name, "pool_open": practical.is_pool_open}
    # what the computing process has written is not read again here
    whole = json.dumps(about).encode()[:-1] + b',"pools":' + queries.write_pools(practical, person) + b"}"
    return HttpResponse(whole, content_type="application/json")


@router.post("/practicals/{practical_id}/pool", response={200: PoolOut, 403: ProblemOut, 404: ProblemOut})
def set_pool_open(request: HttpRequest, practical_id: int, given: OpenIn) -> HttpResponse:
    practical = policy.find_practical(who(request), practical_id, as_teacher=True)
    open_pool(practical, given.open)
    return read_pool(request, practical_id)
