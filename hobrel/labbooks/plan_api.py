"""Plans over HTTP while they are written: what is not right yet, how a bench will see them, and what would come of them."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router
from ninja.files import UploadedFile

from hobrel.classes.queries import who
from hobrel.core.questions.dry_tries import MOST_CLASSES, try_classes
from hobrel.core.questions.dry_words import ShownBetter, ShownDryRun, ShownPlanFor, show_better_plans, show_plan_for, show_tries
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.questions.plan_notes import PlanNote
from hobrel.core.questions.plan_offers import PlotOffer, offer_plots
from hobrel.labbooks.computed import ask_about, ask_in_parts, view_as_bench
from hobrel.labbooks.pictures import take_picture_in
from hobrel.labbooks.schemas import BookWork, PictureOut
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["plans"])
_REFUSALS = {404: ProblemOut, 422: ProblemOut}
Seed = Annotated[int, Query(ge=0, le=1_000_000)]


def _answer(request: HttpRequest, plan_id: int, question: Callable[..., Any], *given: object, heavy: bool = False) -> HttpResponse:
    """Put a question of the core to the lab book that a plan is written in."""
    book = policy.find_plan(who(request), plan_id).book
    return HttpResponse(ask_about(book, "", question, *given, as_json=True, heavy=heavy), content_type="application/json")


@router.get("/plans/{plan_id}/seen", response={200: BookWork, **_REFUSALS})
def see_as_bench(request: HttpRequest, plan_id: int, seed: Seed = 0) -> HttpResponse:
    """The plan as a bench will see it, empty, or with the readings of a dry run."""
    return _answer(request, plan_id, view_as_bench, seed)


@router.post("/plans/{plan_id}/pictures", response={200: PictureOut, **_REFUSALS})
def bring_picture_in(request: HttpRequest, plan_id: int, file: File[UploadedFile]) -> PictureOut:
    """Have a plan keep a picture. It is shown once an edit names it."""
    book = policy.find_plan(who(request), plan_id).book
    return PictureOut.model_validate(take_picture_in(book, file))


@router.get("/plans/{plan_id}/notes", response={200: list[PlanNote], **_REFUSALS})
def note_what_is_missing(request: HttpRequest, plan_id: int) -> HttpResponse:
    """What is to be looked at again in a plan."""
    return _answer(request, plan_id, check_plan)


@router.get("/plans/{plan_id}/offers", response={200: list[PlotOffer], **_REFUSALS})
def offer_from_relation(request: HttpRequest, plan_id: int) -> HttpResponse:
    """Plots that the relation makes straight, and what is found by their gradients."""
    return _answer(request, plan_id, offer_plots)


@router.get("/plans/{plan_id}/dry-run", response={200: ShownDryRun, **_REFUSALS})
def try_dry(
    request: HttpRequest, plan_id: int, seed: Seed = 1, classes: Annotated[int, Query(ge=1, le=MOST_CLASSES)] = 200
) -> HttpResponse:
    """What would come of a plan: many lab books with believable readings, worked out."""
    book, half = policy.find_plan(who(request), plan_id).book, classes // 2
    parts = [(seed, classes, first, end) for first, end in ((0, half), (half, classes))]
    return HttpResponse(ask_in_parts(book, try_classes, parts, show_tries), content_type="application/json")


@router.get("/plans/{plan_id}/dry-run/better", response={200: list[ShownBetter], **_REFUSALS})
def look_for_better(request: HttpRequest, plan_id: int, finding: str, seed: Seed = 1) -> HttpResponse:
    """What would make one of its findings better."""
    return _answer(request, plan_id, show_better_plans, finding, seed, heavy=True)


@router.get("/plans/{plan_id}/dry-run/for", response={200: ShownPlanFor, **_REFUSALS})
def look_for_way(
    request: HttpRequest, plan_id: int, finding: str, percent: Annotated[float, Query(gt=0, lt=100)], seed: Seed = 1
) -> HttpResponse:
    """What has to be done for a wanted ±, in per cent of the finding."""
    return _answer(request, plan_id, show_plan_for, finding, percent, seed, heavy=True)
