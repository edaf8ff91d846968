"""Bringing readings in and taking them out over HTTP."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field, ValidationError

from hobrel.classes import queries as classes
from hobrel.interchange import taking
from hobrel.interchange.bringing import Chosen, Into, make_edit, make_log, make_settings
from hobrel.interchange.sensing import SheetLook, Target, look_at
from hobrel.interchange.tables import MOST_BYTES, Sheet, read_tables
from hobrel.labbooks.actions import digest_log, edit_book
from hobrel.labbooks.edits.kinds import LogIn
from hobrel.labbooks.policy import find_book
from hobrel.labbooks.queries import computation_of, document_of
from hobrel.server.files import file_name, send_file
from hobrel.server.problems import Problem, ProblemOut

router = Router(tags=["bringing in and taking out"])
_REFUSALS = {403: ProblemOut, 404: ProblemOut, 409: ProblemOut, 422: ProblemOut}


class FileLook(Schema):
    """A file as it seems to be."""

    words: str
    sheets: list[SheetLook]


class ColumnChoice(Schema):
    index: int
    unit: str = ""
    quantity: str
    repeat: int = 0


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


def _read(upload: UploadedFile) -> tuple[tuple[Sheet, ...], str]:
    if (upload.size or 0) > MOST_BYTES:
        raise Problem(422, "too_large", f"This file is larger than {MOST_BYTES // 1_000_000} MB.")
    tables = read_tables(upload.read(), upload.name or "")
    return tables.sheets, tables.words


@router.post("/books/{book_id}/bring-in/look", response={200: FileLook, **_REFUSALS})
def look_at_file(request: HttpRequest, book_id: int, file: File[UploadedFile]) -> FileLook:
    """Look a file over before anything is brought in. Changes nothing."""
    book = find_book(classes.who(request), book_id, "edit")
    sheets, words = _read(file)
    document = document_of(book)
    return FileLook(words=words, sheets=[look_at(s, document) for s in sheets])


@router.post("/books/{book_id}/bring-in", response={200: BroughtIn, **_REFUSALS})
def bring_in(request: HttpRequest, book_id: int, file: File[UploadedFile], choices: Form[str]) -> BroughtIn:
    """Bring the ticked columns in, as one change that can be undone. `choices` is a `BringIn` as JSON."""
    person = classes.who(request)
    book = find_book(person, book_id, "edit")
    try:
        choice = BringIn.model_validate_json(choices)
    except ValidationError as trouble:
        raise Problem(422, "bad_request", "The choices do not fit.") from trouble
    sheets, _ = _read(file)
    if not 0 <= choice.sheet < len(sheets):
        raise Problem(422, "gone", "This sheet is not in the file.")
    document = document_of(book)
    chosen = [Chosen(c.index, c.unit, Target(c.quantity, c.repeat)) for c in choice.columns]
    sheet, source = sheets[choice.sheet], (file.name or "a file")[:80]
    if choice.logged:
        log = make_log(sheet, chosen, document, choice.every)
        named = LogIn(kept=digest_log(log.columns), rows=log.rows, units=log.units)
        edit = make_edit(named, choice.into, choice.run, choice.name, document, source)
        edit_book(book, person, edit, choice.client_id, log.columns)
        return BroughtIn(run=edit.run, settings=log.rows)
    settings = make_settings(sheet, chosen, document, choice.every)
    edit = make_edit(settings, choice.into, choice.run, choice.name, document, source)
    edit_book(book, person, edit, choice.client_id)
    return BroughtIn(run=edit.run, settings=len(settings))


@router.get("/books/{book_id}/take-out.{ending}", response={200: None, 404: ProblemOut})
def take_out(request: HttpRequest, book_id: int, ending: Literal["zip", "csv", "xlsx", "ods", "json"], run: str = "") -> HttpResponse:
    """Readings and computed columns: CSV with metadata (zip), one run as CSV, spreadsheets with a sheet per run, the lab book file."""
    book = find_book(classes.who(request), book_id)
    computation = computation_of(book)
    runs = list(computation.book.runs)
    name = file_name(ending, book.practical.title, book.bench.name)
    match ending:
        case "zip":
            return send_file(taking.pack_csv(computation, runs, name.removesuffix(".zip")), "application/zip", name)
        case "csv":
            one = next((r for r in runs if r.id == run), runs[0])
            return send_file("\ufeff" + taking.write_csv(taking.run_table(computation, one.id)), "text/csv; charset=utf-8", name)
        case "xlsx":
            kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
            return send_file(taking.write_xlsx(computation, runs), kind, name)
        case "ods":
            return send_file(taking.write_ods(computation, runs), "application/vnd.oasis.opendocument.spreadsheet", name)
        case "json":
            return send_file(taking.write_json(computation.book), "application/json", name)
