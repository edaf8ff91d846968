"""Reports over HTTP: look, take out, hand in."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes.queries import paper_here, who
from hobrel.core.reporting.tree import Report
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.frames import name_parts
from hobrel.labbooks.models import Book
from hobrel.reports import actions
from hobrel.reports.drawing import Rules, WantedPicture, draw_graph
from hobrel.reports.export import MEDIA_TYPES, Ending, archive_pictures, export_report, make_pictures, print_drawing
from hobrel.reports.papers import Paper
from hobrel.server import policy
from hobrel.server.files import file_name, send_file, show_in_frame
from hobrel.server.problems import ProblemOut, not_found

router = Router(tags=["reports"])


def _file_name(book: Book, ending: str, more: str = "") -> str:
    return file_name(ending, *name_parts(book), more)


@router.get("/books/{book_id}/report", response={200: Report, 404: ProblemOut, 422: ProblemOut})
def read_report(request: HttpRequest, book_id: int) -> HttpResponse:
    """The report as it is now, block by block."""
    book = policy.find_book(who(request), book_id)
    content = ask_about(book, "", actions.look_at_report, actions.frame_report(book), as_json=True)
    return HttpResponse(content, content_type="application/json")


@router.get("/books/{book_id}/report-page", response={200: None, 404: ProblemOut})
def show_report(request: HttpRequest, book_id: int) -> HttpResponse:
    """The report as it would be handed in now, to be looked at in a frame of a page."""
    book = policy.find_book(who(request), book_id)
    return show_in_frame(export_report(actions.write_report(book), "html", paper_here()))


@router.get("/books/{book_id}/report/drawings/{drawing}.svg", response={200: None, 404: ProblemOut})
def draw_in_report(request: HttpRequest, book_id: int, drawing: str) -> HttpResponse:
    """A drawing of the report, as all its files have it."""
    book = policy.find_book(who(request), book_id)
    svg = ask_about(book, "", actions.draw_in_report, actions.frame_report(book), drawing)
    if svg is None:
        raise not_found()
    return HttpResponse(svg, content_type="image/svg+xml")


@router.get("/books/{book_id}/report/tables/{table}.pdf", response={200: None, 404: ProblemOut})
def print_table(request: HttpRequest, book_id: int, table: str, paper: Paper | None = None) -> HttpResponse:
    """A table of the report alone on a page."""
    book = policy.find_book(who(request), book_id)
    alone = actions.write_table(book, table)
    return send_file(export_report(alone, "pdf", paper or paper_here()), MEDIA_TYPES["pdf"], _file_name(book, "pdf", f" {table}"))


@router.get("/books/{book_id}/report.{ending}", response={200: None, 404: ProblemOut})
def take_out_report(request: HttpRequest, book_id: int, ending: Ending, paper: Paper | None = None) -> HttpResponse:
    book = policy.find_book(who(request), book_id)
    content = export_report(actions.write_report(book), ending, paper or paper_here())
    return send_file(content, MEDIA_TYPES[ending], _file_name(book, ending))


@router.get("/books/{book_id}/report/pictures.zip", response={200: None, 404: ProblemOut})
def take_out_pictures(request: HttpRequest, book_id: int) -> HttpResponse:
    """All pictures of the report in one archive: drawings as SVG and of 300 dots to the inch, and photos."""
    book = policy.find_book(who(request), book_id)
    return send_file(archive_pictures(actions.write_report(book)), "application/zip", _file_name(book, "zip", " pictures"))


@router.get("/books/{book_id}/reading-sheet.pdf", response={200: None, 404: ProblemOut})
def take_out_reading_sheet(request: HttpRequest, book_id: int, paper: Paper | None = None) -> HttpResponse:
    """A blank sheet to write readings on by hand."""
    book = policy.find_book(who(request), book_id)
    sheet = export_report(actions.write_reading_sheet(book), "pdf", paper or paper_here())
    return send_file(sheet, "application/pdf", _file_name(book, "pdf", " reading sheet"))


_PICTURES = {"svg": "image/svg+xml", "png": "image/png", "pdf": "application/pdf"}


@router.get("/books/{book_id}/graphs/{graph_id}.{ending}", response={200: None, 404: ProblemOut})
def take_out_graph(
    request: HttpRequest,
    book_id: int,
    graph_id: str,
    ending: Literal["svg", "png", "pdf"],
    run: str = "",
    fitted: bool = False,
    rules: Rules = "ticks",
    empty: bool = False,
    clear: bool = False,
) -> HttpResponse:
    """A graph as a drawing, as a picture of 300 dots to the inch (on white, or clear), or alone on a page.

    With `fitted` it has what is fitted and the residual strip, as the Fit stage shows it; without, as the Look stage does. `empty` are its
    axes alone, to draw on by hand.
    """
    book = policy.find_book(who(request), book_id)
    svg = ask_about(book, run, draw_graph, graph_id, WantedPicture(fitted, rules, empty))
    if svg is None:
        raise not_found()
    content = svg if ending == "svg" else print_drawing(svg, paper_here()) if ending == "pdf" else make_pictures([svg], clear)[0]
    return send_file(content, _PICTURES[ending], _file_name(book, ending, f" {graph_id}"))
