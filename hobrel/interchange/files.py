"""What is done with a file that somebody brings in, or takes out. Carried out where it can be ended: a file may be anything."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook
from hobrel.interchange import taking
from hobrel.interchange.bringing import Chosen, Into, make_edit, make_log, make_settings, name_new, with_new, with_seconds
from hobrel.interchange.sensing import SheetLook, look_at
from hobrel.interchange.tables import read_tables
from hobrel.labbooks.actions import digest_log
from hobrel.labbooks.edits.runs import AddRun, FillRun, LogIn
from hobrel.server.problems import Problem

TakenOut = Literal["zip", "csv", "xlsx", "ods", "json"]


@dataclass(frozen=True)
class FileLook:
    """A file as it seems to be."""

    words: str
    sheets: tuple[SheetLook, ...]


@dataclass(frozen=True)
class Choice:
    """Which columns of which sheet, and where they go; `logged` as what a logger wrote, whose values are not edited."""

    sheet: int
    columns: tuple[Chosen, ...]
    into: Into
    run: str
    name: str
    every: int
    logged: bool


@dataclass(frozen=True)
class Brought:
    """The edit that brings readings in, with the columns of a log where it is one, and how many rows that was."""

    edit: AddRun | FillRun
    columns: dict[str, list[str]] | None
    rows: int


def look_over_file(book: LabBook, data: bytes, name: str) -> FileLook:
    """Look a file over before anything is brought in.

    Raises
    ------
    Problem
        As `read_tables`.
    """
    tables = read_tables(data, name)
    return FileLook(tables.words, tuple(look_at(sheet, book) for sheet in tables.sheets))


def bring_file_in(book: LabBook, data: bytes, name: str, choice: Choice) -> Brought:
    """Make the edit that brings the chosen columns in.

    Raises
    ------
    Problem
        As `read_tables`, `make_settings` and `make_log`; 422 ``gone`` for a sheet that is not there.
    """
    sheets, source = read_tables(data, name).sheets, (name or "a file")[:80]
    if not 0 <= choice.sheet < len(sheets):
        raise Problem(422, "gone", "This sheet is not in the file.")
    sheet = sheets[choice.sheet]
    chosen, book, new = name_new(choice.columns, sheet, book)
    sheet, chosen = with_seconds(sheet, chosen, book)
    log = make_log(sheet, chosen, book, choice.every) if choice.logged else None
    settings = [] if log else make_settings(sheet, chosen, book, choice.every)
    brought = LogIn(kept=digest_log(log.columns), rows=log.rows, units=log.units) if log else settings
    edit = with_new(make_edit(brought, choice.into, choice.run, choice.name, book, source), new)
    return Brought(edit, log.columns if log else None, log.rows if log else len(settings))


def take_file_out(book: OpenBook, ending: TakenOut, run: str, stem: str) -> bytes:
    """Readings and computed columns: CSV with metadata (zip), one run as CSV, spreadsheets with a sheet per run, the lab book file."""
    computation = book.computation
    runs = list(computation.book.runs)
    match ending:
        case "zip":
            return taking.pack_csv(computation, runs, stem)
        case "csv":
            one = next((r for r in runs if r.id == run), runs[0])
            return ("\ufeff" + taking.write_csv(taking.run_table(computation, one.id))).encode()
        case "xlsx":
            return taking.write_xlsx(computation, runs)
        case "ods":
            return taking.write_ods(computation, runs)
        case "json":
            return taking.write_json(computation.book).encode()
