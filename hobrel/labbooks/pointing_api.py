"""Measuring on pictures and films over HTTP: places in pixels are sent, never a frame, and nothing changes. See decision 50."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router

from hobrel.classes import queries as classes
from hobrel.computing.asking import ask_json
from hobrel.core.apparatus.let_go import DrawnFilm
from hobrel.core.document.lab_book import convention_in
from hobrel.core.pointing.marks import Marks
from hobrel.core.questions.pointing import MarksView, draw_own_film, measure_marks
from hobrel.labbooks.edits.parts import EditModel
from hobrel.labbooks.rigs import seeds_of
from hobrel.server import policy
from hobrel.server.problems import ProblemOut

router = Router(tags=["pointing"])


class MarksAsked(EditModel):
    """What was pointed at on a picture or a film."""

    marks: Marks


@router.post("/books/{book_id}/measured", response={200: MarksView, 404: ProblemOut, 422: ProblemOut})
def measure_on_picture(request: HttpRequest, book_id: int, given: MarksAsked) -> HttpResponse:
    """Positions, angles, lengths and areas from what was pointed at, written as readings are."""
    book = policy.find_book(classes.who(request), book_id)
    found = ask_json(measure_marks, given.marks, deal=book.pk, convention=convention_in(book.document))
    return HttpResponse(found, content_type="application/json")


@router.get("/books/{book_id}/drawn-film", response={200: DrawnFilm, 404: ProblemOut})
def read_drawn_film(request: HttpRequest, book_id: int) -> HttpResponse:
    """The film that is drawn for this bench, of a motion that is known to teachers and to who practises alone."""
    person = classes.who(request)
    book = policy.find_book(person, book_id)
    tells = classes.is_teacher(person) or book.practical_id is None
    return HttpResponse(ask_json(draw_own_film, seeds_of(book).own, tells, deal=book.pk), content_type="application/json")
