"""Asking a lab book over HTTP: rows of a log, the board, lines by eye, read-offs, what-ifs, workings. Nothing here changes anything."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router

from hobrel.classes import queries as classes
from hobrel.core.document.limits import MOST_LOGGED
from hobrel.core.fitting.read_off import Direction
from hobrel.core.presentation.results import ColumnResult, FindingResult
from hobrel.core.presentation.rows import LogRows, look_at_rows
from hobrel.core.presentation.side_by_side import SideBySide, compare_gradients, compare_runs
from hobrel.core.presentation.working import Working, explain
from hobrel.core.questions.board import Board, BoardPlot, draw_board_plot, look_at_board
from hobrel.core.questions.fits import Pull, ReadValue, WhatIf, find_pulls, read_off_fit, suppose, try_without
from hobrel.core.questions.graphs import ByEyePreview, SteepestResult, StretchSummary, find_steepest, preview_by_eye, summarise_marked
from hobrel.core.questions.improvements import Improvement, find_improvements, preview_finding
from hobrel.core.questions.previews import ConventionTable, WayTable, compare_conventions, compare_ways_of, preview_formula
from hobrel.core.questions.step_models import ModelOffer, offer_models
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.edits.findings import FindingIn, draft_finding
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["lab books"])
Row = Annotated[int, Query(ge=0, le=MOST_LOGGED)]
Repeats = Annotated[int, Query(ge=1, le=100)]
Symbol = Annotated[str, Query(max_length=30)]
Supposed = Annotated[str, Query(max_length=60)]
RowCount = Annotated[int, Query(ge=1, le=500)]
Fraction = Annotated[float, Query(gt=0, le=10)]


def _answer(request: HttpRequest, book_id: int, run: str, question: Callable[..., Any], *given: object) -> HttpResponse:
    """Put a question of the core to a lab book, seen from one of its runs."""
    book = policy.find_book(classes.who(request), book_id)
    return HttpResponse(ask_about(book, run, question, *given, as_json=True), content_type="application/json")


@router.get("/books/{book_id}/rows", response={200: LogRows, 404: ProblemOut, 422: ProblemOut})
def read_rows(request: HttpRequest, book_id: int, run: str, first: Row = 0, count: RowCount = 200) -> HttpResponse:
    """Some rows of a log."""
    return _answer(request, book_id, run, look_at_rows, run, first, count)


@router.get("/books/{book_id}/board", response={200: Board, 404: ProblemOut, 422: ProblemOut})
def read_board(request: HttpRequest, book_id: int, x: str, y: str, run: str = "") -> HttpResponse:
    """Every form of y against every form of x, with how straight each is once the bench may know."""
    return _answer(request, book_id, run, look_at_board, x, y)


@router.get("/books/{book_id}/board/plot", response={200: BoardPlot, 404: ProblemOut, 422: ProblemOut})
def read_board_plot(request: HttpRequest, book_id: int, x: str, y: str, x_form: str, y_form: str, run: str = "") -> HttpResponse:
    return _answer(request, book_id, run, draw_board_plot, x, y, x_form, y_form)


@router.get("/books/{book_id}/by-eye", response={200: ByEyePreview, 404: ProblemOut, 422: ProblemOut})
def preview_line(request: HttpRequest, book_id: int, fit: str, gradient: float, intercept: float, run: str = "") -> HttpResponse:
    """What a line that is being drawn by eye touches and leaves. Changes nothing."""
    return _answer(request, book_id, run, preview_by_eye, fit, gradient, intercept)


@router.get("/books/{book_id}/read-off", response={200: ReadValue, 404: ProblemOut, 422: ProblemOut})
def read_value(
    request: HttpRequest, book_id: int, fit: str, direction: Direction, at: str, repeats: Repeats = 1, run: str = ""
) -> HttpResponse:
    """A value read off a fit, forward or back."""
    return _answer(request, book_id, run, read_off_fit, fit, direction, at, repeats)


@router.get("/books/{book_id}/what-if", response={200: WhatIf, 404: ProblemOut, 422: ProblemOut})
def what_if(request: HttpRequest, book_id: int, fit: str, key: str, y: float | None = None, run: str = "") -> HttpResponse:
    """The fit with one point left out, or moved to another y. Changes nothing."""
    return _answer(request, book_id, run, try_without, fit, key, y)


@router.get("/books/{book_id}/suppose", response={200: WhatIf, 404: ProblemOut, 422: ProblemOut})
def suppose_number(request: HttpRequest, book_id: int, fit: str, item: str, value: Supposed, run: str = "") -> HttpResponse:
    """A step-by-step model with another start value or number. Changes nothing."""
    return _answer(request, book_id, run, suppose, fit, item, value)


@router.get("/books/{book_id}/step-models", response={200: list[ModelOffer], 404: ProblemOut, 422: ProblemOut})
def read_step_models(request: HttpRequest, book_id: int, fit: str, run: str = "") -> HttpResponse:
    """Step-by-step models to begin with, for the points of a fit."""
    return _answer(request, book_id, run, offer_models, fit)


@router.get("/books/{book_id}/pulls", response={200: list[Pull], 404: ProblemOut, 422: ProblemOut})
def read_pulls(request: HttpRequest, book_id: int, fit: str, run: str = "") -> HttpResponse:
    """The points by how far each pulls a line."""
    return _answer(request, book_id, run, find_pulls, fit)


@router.get("/books/{book_id}/stretch", response={200: StretchSummary, 404: ProblemOut, 422: ProblemOut})
def read_stretch(
    request: HttpRequest, book_id: int, graph: str, low: float, high: float, fit: str = "", series: str = "", run: str = ""
) -> HttpResponse:
    """What the points of a marked stretch say (of another series than the first, where named), and rise over run of a fit there."""
    return _answer(request, book_id, run, summarise_marked, graph, (low, high), fit, series)


@router.get("/books/{book_id}/preview", response={200: ColumnResult, 404: ProblemOut, 422: ProblemOut})
def preview(request: HttpRequest, book_id: int, formula: str, quantity: str = "", symbol: Symbol = "", run: str = "") -> HttpResponse:
    """A derived quantity with the formula that is being typed, also where it is still to be added. Changes nothing."""
    return _answer(request, book_id, run, preview_formula, quantity, formula, symbol)


@router.get("/books/{book_id}/conventions", response={200: ConventionTable, 404: ProblemOut, 422: ProblemOut})
def read_conventions(request: HttpRequest, book_id: int, quantity: str, run: str = "") -> HttpResponse:
    return _answer(request, book_id, run, compare_conventions, quantity)


@router.get("/books/{book_id}/ways", response={200: WayTable, 404: ProblemOut, 422: ProblemOut})
def read_ways(request: HttpRequest, book_id: int, quantity: str, run: str = "") -> HttpResponse:
    return _answer(request, book_id, run, compare_ways_of, quantity)


@router.get("/books/{book_id}/working", response={200: Working, 404: ProblemOut, 422: ProblemOut})
def read_working(request: HttpRequest, book_id: int, of: str, run: str = "") -> HttpResponse:
    return _answer(request, book_id, run, explain, of)


@router.get("/books/{book_id}/steepest", response={200: SteepestResult, 404: ProblemOut, 422: ProblemOut})
def read_steepest(request: HttpRequest, book_id: int, graph: str, fraction: Fraction = 0.5, run: str = "") -> HttpResponse:
    """The steepest point of a graph, and the reading at a fraction of its place."""
    return _answer(request, book_id, run, find_steepest, graph, fraction)


@router.get("/books/{book_id}/gradients", response={200: SideBySide, 404: ProblemOut, 422: ProblemOut})
def read_gradients(request: HttpRequest, book_id: int, graph: str, run: str = "") -> HttpResponse:
    """The gradients of all lines on a graph, each against the first."""
    return _answer(request, book_id, run, compare_gradients, graph)


@router.get("/books/{book_id}/across-runs", response={200: SideBySide, 404: ProblemOut, 422: ProblemOut})
def read_across_runs(request: HttpRequest, book_id: int, finding: str, run: str = "") -> HttpResponse:
    """A finding made from every run in turn."""
    return _answer(request, book_id, run, compare_runs, finding)


@router.get("/books/{book_id}/improvements", response={200: list[Improvement], 404: ProblemOut, 422: ProblemOut})
def read_improvements(request: HttpRequest, book_id: int, finding: str, run: str = "") -> HttpResponse:
    """What would make a finding's ± smaller, best first."""
    return _answer(request, book_id, run, find_improvements, finding)


@router.post("/books/{book_id}/finding-preview", response={200: FindingResult, 404: ProblemOut, 422: ProblemOut})
def read_finding_preview(request: HttpRequest, book_id: int, given: FindingIn, run: str = "") -> HttpResponse:
    """A finding as it is being written. Changes nothing."""
    return _answer(request, book_id, run, preview_finding, draft_finding(given))
