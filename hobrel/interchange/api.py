"""Bringing readings in and taking them out over HTTP."""

from __future__ import annotations

import uuid
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field, ValidationError

from hobrel.classes import queries as classes
from hobrel.interchange.bringing import Chosen, Into
from hobrel.interchange.files import Brought, Choice, FileLook, TakenOut, bring_file_in, look_over_file, take_file_out
from hobrel.interchange.sensing import Target
from hobrel.interchange.tables import MOST_BYTES
from hobrel.labbooks.actions import Wanted, edit_book
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.frames import name_parts
from hobrel.labbooks.pictures import put_pictures_in
from hobrel.server import policy
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import Problem, ProblemOut
from hobrel.server.texts import refuse_no_text

router = Router(tags=["bringing in and taking out"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


class ColumnChoice(Schema):
    index: int
    unit: str = ""
    quantity: str
    repeat: int = 0
    is_u: bool = False


class BringIn(Schema):
    """Which columns of which sheet, and where they go; `logged` as what a logger wrote, whose values are not edited."""

    client_id: uuid.UUID
    sheet: int = 0
    columns: list[ColumnChoice]
    into: Into = "new"
    run: str = ""
    name: str = ""
    every: Annotated[int, Field(ge=1, le=1000)] = 1
    logged: bool = False


class BroughtIn(Schema):
    """The run that holds what was brought in, and how many rows that was."""

    run: str
    settings: int


_KINDS = {
    "zip": "application/zip",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "json": "application/json",
}


def _read(upload: UploadedFile) -> tuple[bytes, str]:
    if (upload.size or 0) > MOST_BYTES:
        raise Problem(422, "too_large", f"This file is larger than {MOST_BYTES // 1_000_000} MB.")
    return upload.read(), upload.name or ""


@router.post("/books/{book_id}/bring-in/look", response={200: FileLook, **_REFUSALS})
def look_at_file(request: HttpRequest, book_id: int, file: File[UploadedFile]) -> FileLook:
    """Look a file over before anything is brought in. Changes nothing."""
    book = policy.find_book(classes.who(request), book_id, "edit")
    found: FileLook = ask_about(book, "", look_over_file, *_read(file), heavy=True)
    return found


@router.post("/books/{book_id}/bring-in", response={200: BroughtIn, **_REFUSALS})
def bring_in(request: HttpRequest, book_id: int, file: File[UploadedFile], choices: Form[str]) -> BroughtIn:
    """Bring the ticked columns in, as one change that can be undone. `choices` is a `BringIn` as JSON."""
    person = classes.who(request)
    book = policy.find_book(person, book_id, "edit")
    try:
        choice = BringIn.model_validate_json(choices)
    except ValidationError as trouble:
        raise Problem(422, "bad_request", "The choices do not fit.") from trouble
    refuse_no_text(choice.model_dump(mode="json"))
    chosen = tuple(Chosen(c.index, c.unit, Target(c.quantity, c.repeat, c.is_u)) for c in choice.columns)
    wanted = Choice(choice.sheet, chosen, choice.into, choice.run, choice.name, choice.every, choice.logged)
    brought: Brought = ask_about(book, "", bring_file_in, *_read(file), wanted, heavy=True)
    (outcome,), _ = edit_book(book, person, [Wanted(choice.client_id, brought.edit, brought.columns)])
    if outcome.refused is not None:
        raise outcome.refused
    return BroughtIn(run=brought.edit.run, settings=brought.rows)


@router.get("/books/{book_id}/take-out.{ending}", response={200: None, 404: ProblemOut})
def take_out(request: HttpRequest, book_id: int, ending: TakenOut, run: str = "") -> HttpResponse:
    """Readings and computed columns: CSV with metadata (zip), one run as CSV, spreadsheets with a sheet per run, the lab book file."""
    book = policy.find_book(classes.who(request), book_id)
    name = file_name(ending, *name_parts(book))
    content = ask_about(book, "", take_file_out, ending, run, name.removesuffix(f".{ending}"), heavy=True)
    if ending == "json":
        content = put_pictures_in(content, book)
    return send_file(content, _KINDS[ending], name)
