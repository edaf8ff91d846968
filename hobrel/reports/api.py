"""Reports over HTTP: look, take out, hand in."""

from __future__ import annotations

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes.queries import name_of, who
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.frames import name_parts
from hobrel.labbooks.models import Book
from hobrel.labbooks.schemas import HandInOut
from hobrel.reports import actions, queries
from hobrel.reports.drawing import draw_graph
from hobrel.reports.export import export_html, export_pdf, export_picture
from hobrel.reports.reading_sheet import build_reading_sheet
from hobrel.server import policy
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import ProblemOut, not_found

router = Router(tags=["reports"])


def _file_name(book: Book, ending: str, more: str = "") -> str:
    return file_name(ending, *name_parts(book), more)


def _send_report(ending: Literal["html", "pdf"], html: str, pdf: bytes, name: str) -> HttpResponse:
    return send_file(pdf, "application/pdf", name) if ending == "pdf" else send_file(html, "text/html; charset=utf-8", name)


@router.get("/books/{book_id}/report.{ending}", response={200: None, 404: ProblemOut})
def take_out_report(request: HttpRequest, book_id: int, ending: Literal["html", "pdf"]) -> HttpResponse:
    book = policy.find_book(who(request), book_id)
    report = actions.write_report(book, "inside" if ending == "html" else "beside")
    name = _file_name(book, ending)
    return _send_report(ending, export_html(report) if ending == "html" else "", export_pdf(report) if ending == "pdf" else b"", name)


@router.get("/books/{book_id}/reading-sheet.pdf", response={200: None, 404: ProblemOut})
def take_out_reading_sheet(request: HttpRequest, book_id: int) -> HttpResponse:
    """A blank sheet to write readings on by hand."""
    book = policy.find_book(who(request), book_id)
    return send_file(export_pdf(ask_about(book, "", build_reading_sheet)), "application/pdf", _file_name(book, "pdf", " reading sheet"))


_PICTURES = {"svg": "image/svg+xml", "png": "image/png", "pdf": "application/pdf"}


@router.get("/books/{book_id}/graphs/{graph_id}.{ending}", response={200: None, 404: ProblemOut})
def take_out_graph(
    request: HttpRequest,
    book_id: int,
    graph_id: str,
    ending: Literal["svg", "png", "pdf"],
    run: str = "",
    fitted: bool = False,
    ruled: bool = True,
    clear: bool = False,
) -> HttpResponse:
    """A graph as a drawing, as a picture of 300 dots to the inch (on white, or clear), or alone on a page.

    With `fitted` it has what is fitted and the residual strip, as the Fit stage shows it; without, as the Look stage does.
    """
    book = policy.find_book(who(request), book_id)
    svg = ask_about(book, run, draw_graph, graph_id, fitted, ruled)
    if svg is None:
        raise not_found()
    content = svg if ending == "svg" else export_picture(svg, ending, clear)
    return send_file(content, _PICTURES[ending], _file_name(book, ending, f" {graph_id}"))


@router.post("/books/{book_id}/hand-in", response={200: list[HandInOut], 403: ProblemOut, 404: ProblemOut, 409: ProblemOut})
def hand_in(request: HttpRequest, book_id: int) -> list[HandInOut]:
    person = who(request)
    book = policy.find_book(person, book_id, "edit")
    if book.practical is None:
        raise not_found()
    actions.hand_in(book, person)
    return [HandInOut(id=h.pk, number=h.number, at=h.at, by=name_of(h.by), revision=h.revision) for h in queries.hand_ins_of(book)]


@router.get("/hand-ins/{hand_in_id}/report.{ending}", response={200: None, 404: ProblemOut})
def take_out_hand_in(request: HttpRequest, hand_in_id: int, ending: Literal["html", "pdf"]) -> HttpResponse:
    found = policy.find_hand_in(who(request), hand_in_id)
    name = _file_name(found.book, ending, f" {found.number}")
    return _send_report(ending, found.html, bytes(found.pdf), name)
