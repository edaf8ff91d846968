"""Asking a lab book over HTTP: rows of a log, the board, lines by eye, read-offs, what-ifs, workings. Nothing here changes anything."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router

from hobrel.classes import queries as classes
from hobrel.core.fitting.read_off import Direction
from hobrel.core.presentation.results import ColumnResult, FindingResult
from hobrel.core.presentation.rows import LogRows, look_at_rows
from hobrel.core.presentation.working import Working, explain
from hobrel.core.questions.board import Board, BoardPlot, draw_board_plot
from hobrel.core.questions.fits import Pull, ReadValue, WhatIf, find_pulls, read_off_fit, try_without
from hobrel.core.questions.graphs import ByEyePreview, SteepestResult, StretchSummary, find_steepest, preview_by_eye, summarise_marked
from hobrel.core.questions.improvements import Improvement, find_improvements, preview_finding
from hobrel.core.questions.previews import ConventionTable, WayTable, compare_conventions, compare_ways_of, preview_formula
from hobrel.core.questions.side_by_side import SideBySide, compare_gradients, compare_runs
from hobrel.labbooks import queries
from hobrel.labbooks.edits.chosen_kinds import FindingIn
from hobrel.labbooks.edits.findings import draft_finding
from hobrel.labbooks.edits.parts import MOST_LOGGED
from hobrel.labbooks.policy import find_book
from hobrel.server.problems import ProblemOut

router = Router(tags=["lab books"])
Row = Annotated[int, Query(ge=0, le=MOST_LOGGED)]
Repeats = Annotated[int, Query(ge=1, le=100)]
RowCount = Annotated[int, Query(ge=1, le=500)]
Fraction = Annotated[float, Query(gt=0, le=10)]


@router.get("/books/{book_id}/rows", response={200: LogRows, 404: ProblemOut, 422: ProblemOut})
def read_rows(request: HttpRequest, book_id: int, run: str, first: Row = 0, count: RowCount = 200) -> LogRows:
    """Some rows of a log."""
    computation = queries.computation_of(find_book(classes.who(request), book_id), run)
    return look_at_rows(computation.columns[computation.book.run(run).id], computation.book.convention, first, count)


@router.get("/books/{book_id}/board", response={200: Board, 404: ProblemOut, 422: ProblemOut})
def read_board(request: HttpRequest, book_id: int, x: str, y: str, run: str = "") -> Board:
    """Every form of y against every form of x, with how straight each is once the bench may know."""
    book = find_book(classes.who(request), book_id)
    return queries.board_of(book, run, x, y)


@router.get("/books/{book_id}/board/plot", response={200: BoardPlot, 404: ProblemOut, 422: ProblemOut})
def read_board_plot(request: HttpRequest, book_id: int, x: str, y: str, x_form: str, y_form: str, run: str = "") -> BoardPlot:
    book = find_book(classes.who(request), book_id)
    return draw_board_plot(queries.document_of(book, run), x, y, x_form, y_form)


@router.get("/books/{book_id}/by-eye", response={200: ByEyePreview, 404: ProblemOut, 422: ProblemOut})
def preview_line(request: HttpRequest, book_id: int, fit: str, gradient: float, intercept: float, run: str = "") -> ByEyePreview:
    """What a line that is being drawn by eye touches and leaves. Changes nothing."""
    book = find_book(classes.who(request), book_id)
    return preview_by_eye(queries.computation_of(book, run), fit, gradient, intercept)


@router.get("/books/{book_id}/read-off", response={200: ReadValue, 404: ProblemOut, 422: ProblemOut})
def read_value(
    request: HttpRequest, book_id: int, fit: str, direction: Direction, at: str, repeats: Repeats = 1, run: str = ""
) -> ReadValue:
    """A value read off a fit, forward or back."""
    book = find_book(classes.who(request), book_id)
    return read_off_fit(queries.computation_of(book, run), fit, direction, at, repeats)


@router.get("/books/{book_id}/what-if", response={200: WhatIf, 404: ProblemOut, 422: ProblemOut})
def what_if(request: HttpRequest, book_id: int, fit: str, key: str, y: float | None = None, run: str = "") -> WhatIf:
    """The fit with one point left out, or moved to another y. Changes nothing."""
    book = find_book(classes.who(request), book_id)
    return try_without(queries.computation_of(book, run), fit, key, y)


@router.get("/books/{book_id}/pulls", response={200: list[Pull], 404: ProblemOut, 422: ProblemOut})
def read_pulls(request: HttpRequest, book_id: int, fit: str, run: str = "") -> list[Pull]:
    """The points by how far each pulls a line."""
    book = find_book(classes.who(request), book_id)
    return list(find_pulls(queries.computation_of(book, run), fit))


@router.get("/books/{book_id}/stretch", response={200: StretchSummary, 404: ProblemOut, 422: ProblemOut})
def read_stretch(
    request: HttpRequest, book_id: int, graph: str, low: float, high: float, fit: str = "", series: str = "", run: str = ""
) -> StretchSummary:
    """What the points of a marked stretch say (of another series than the first, where named), and rise over run of a fit there."""
    book = find_book(classes.who(request), book_id)
    return summarise_marked(queries.computation_of(book, run), graph, low, high, fit, series)


@router.get("/books/{book_id}/preview", response={200: ColumnResult, 404: ProblemOut, 422: ProblemOut})
def preview(request: HttpRequest, book_id: int, quantity: str, formula: str, run: str = "") -> ColumnResult:
    """A derived quantity with the formula that is being typed. Changes nothing."""
    book = find_book(classes.who(request), book_id)
    return preview_formula(queries.document_of(book, run), quantity, formula)


@router.get("/books/{book_id}/conventions", response={200: ConventionTable, 404: ProblemOut, 422: ProblemOut})
def read_conventions(request: HttpRequest, book_id: int, quantity: str, run: str = "") -> ConventionTable:
    book = find_book(classes.who(request), book_id)
    return compare_conventions(queries.document_of(book, run), quantity)


@router.get("/books/{book_id}/ways", response={200: WayTable, 404: ProblemOut, 422: ProblemOut})
def read_ways(request: HttpRequest, book_id: int, quantity: str, run: str = "") -> WayTable:
    book = find_book(classes.who(request), book_id)
    return compare_ways_of(queries.document_of(book, run), quantity)


@router.get("/books/{book_id}/working", response={200: Working, 404: ProblemOut, 422: ProblemOut})
def read_working(request: HttpRequest, book_id: int, of: str, run: str = "") -> Working:
    book = find_book(classes.who(request), book_id)
    return explain(queries.computation_of(book, run), of)


@router.get("/books/{book_id}/steepest", response={200: SteepestResult, 404: ProblemOut, 422: ProblemOut})
def read_steepest(request: HttpRequest, book_id: int, graph: str, fraction: Fraction = 0.5, run: str = "") -> SteepestResult:
    """The steepest point of a graph, and the reading at a fraction of its place."""
    book = find_book(classes.who(request), book_id)
    return find_steepest(queries.computation_of(book, run), graph, fraction)


@router.get("/books/{book_id}/gradients", response={200: SideBySide, 404: ProblemOut, 422: ProblemOut})
def read_gradients(request: HttpRequest, book_id: int, graph: str, run: str = "") -> SideBySide:
    """The gradients of all lines on a graph, each against the first."""
    book = find_book(classes.who(request), book_id)
    return compare_gradients(queries.computation_of(book, run), graph)


@router.get("/books/{book_id}/across-runs", response={200: SideBySide, 404: ProblemOut, 422: ProblemOut})
def read_across_runs(request: HttpRequest, book_id: int, finding: str, run: str = "") -> SideBySide:
    """A finding made from every run in turn."""
    book = find_book(classes.who(request), book_id)
    return compare_runs(queries.computation_of(book, run), finding)


@router.get("/books/{book_id}/improvements", response={200: list[Improvement], 404: ProblemOut, 422: ProblemOut})
def read_improvements(request: HttpRequest, book_id: int, finding: str, run: str = "") -> list[Improvement]:
    """What would make a finding's ± smaller, best first."""
    book = find_book(classes.who(request), book_id)
    return list(find_improvements(queries.computation_of(book, run), finding))


@router.post("/books/{book_id}/finding-preview", response={200: FindingResult, 404: ProblemOut, 422: ProblemOut})
def read_finding_preview(request: HttpRequest, book_id: int, given: FindingIn, run: str = "") -> FindingResult:
    """A finding as it is being written. Changes nothing."""
    book = find_book(classes.who(request), book_id)
    return preview_finding(queries.computation_of(book, run), draft_finding(given))
