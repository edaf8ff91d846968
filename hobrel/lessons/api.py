"""The lesson over HTTP."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes.queries import who
from hobrel.labbooks.remarks import write_remarks
from hobrel.lessons import queries
from hobrel.lessons.actions import arrange_room
from hobrel.lessons.schemas import RemarksIn, RemarksOut, RoomIn, WalkroundOut
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["lesson"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 422: ProblemOut}


@router.get("/practicals/{practical_id}/walkround", response={200: WalkroundOut, 304: None, **_REFUSALS})
def look_round(request: HttpRequest, practical_id: int) -> HttpResponse:
    """Every bench of a practical in a few words. Who has the answer already is told so by its tag."""
    practical = policy.find_taught(who(request), practical_id)
    content, tag = queries.look_round(practical)
    if request.headers.get("If-None-Match") in (tag, f"W/{tag}"):
        answer = HttpResponse(status=304)
    else:
        answer = HttpResponse(content, content_type="application/json")
    answer["ETag"], answer["Cache-Control"] = tag, "private, no-cache"
    return answer


@router.post("/classes/{class_id}/room", response={204: None, **_REFUSALS})
def set_room(request: HttpRequest, class_id: int, given: RoomIn) -> tuple[int, None]:
    """Where the benches of a class stand."""
    arrange_room(policy.find_class(who(request), class_id), given.places)
    return 204, None


@router.post("/practicals/{practical_id}/remarks", response={200: RemarksOut, **_REFUSALS})
def remark_to_several(request: HttpRequest, practical_id: int, given: RemarksIn) -> RemarksOut:
    """One remark to several benches."""
    person = who(request)
    practical = policy.find_practical(person, practical_id, as_teacher=True)
    return RemarksOut(written=write_remarks(practical, given.books, person, given.stage, given.text))
