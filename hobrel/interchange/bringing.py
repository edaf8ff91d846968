"""From the columns that somebody ticked to settings of a run."""

from __future__ import annotations

import re
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from hobrel.core.document.lab_book import LabBook, Quantity, write_lab_book
from hobrel.core.document.limits import LONGEST_WORDS, MOST_LOGGED, MOST_SETTINGS
from hobrel.core.errors import CoreError
from hobrel.core.readings.converting import convert_reading
from hobrel.core.readings.heading_units import split_heading
from hobrel.core.readings.headings import read_heading
from hobrel.interchange.sensing import NEW, Target, count_seconds, fits, look_at, write_heading, write_name
from hobrel.interchange.tables import Sheet
from hobrel.labbooks.edits.headings import FirstGraph
from hobrel.labbooks.edits.runs import AddRun, FillRun, LogIn, NewHeading
from hobrel.labbooks.places import count, write_u
from hobrel.server.problems import Problem

Into = Literal["new", "add", "replace"]
LONGEST_CELL = 60


@dataclass(frozen=True)
class Chosen:
    """A ticked column: its place in the table, the unit that it is in (empty: that of the quantity), and where it goes."""

    index: int
    unit: str
    target: Target


@dataclass(frozen=True)
class BroughtLog:
    """Columns of a logger, by quantity, with the unit that each was written in."""

    columns: dict[str, list[str]]
    units: dict[str, str]
    rows: int


def make_settings(sheet: Sheet, chosen: Sequence[Chosen], book: LabBook, every: int = 1) -> list[dict[str, Any]]:
    """Settings from the rows of a table; rows in which none of the columns has anything are left out.

    Raises
    ------
    Problem
        422 ``nothing_chosen``, ``twice``, ``too_large`` or ``bad_unit``.
    """
    quantities = _check_choice(chosen, book)
    settings: list[dict[str, Any]] = []
    for row in _rows_of(sheet, chosen, book, every):
        readings: dict[str, list[Any]] = {}
        # the ± of a reading stands with it, so its reading is read first
        for column in sorted(chosen, key=lambda c: c.target.is_u):
            quantity = quantities[column.target.quantity]
            text = _text_at(row, column, quantity)
            if not text:
                continue
            if column.target.is_u:
                _add_u(readings.get(column.target.quantity, []), _in_unit(text, column.unit, quantity.unit))
                continue
            cells = readings.setdefault(quantity.id, [])
            cells.extend([None] * (column.target.repeat + 1 - len(cells)))
            cells[column.target.repeat] = {"text": _as_held(text, column, quantity), "set_aside": None}
        settings.append({"id": f"b{uuid.uuid4().hex[:10]}", "readings": readings, "set_aside": None})
    if len(settings) > MOST_SETTINGS:
        raise Problem(
            422, "too_large",
            f"These are {len(settings):,} rows. More than {MOST_SETTINGS:,} are brought in as what a logger wrote, or every "
            f"{_ordinal(-(-len(settings) * every // MOST_SETTINGS))} row of them.",
        )  # fmt: skip
    return settings


def make_log(sheet: Sheet, chosen: Sequence[Chosen], book: LabBook, every: int = 1) -> BroughtLog:
    """Columns of a log from those of a table, as they were written.

    Raises
    ------
    Problem
        422 ``nothing_chosen``, ``twice``, ``too_large``, ``bad_unit``, or ``repeats`` where a column is a second repeat.
    """
    quantities = _check_choice(chosen, book)
    if any(c.target.is_u for c in chosen):
        raise Problem(422, "own_u", "What a logger wrote has no column of ±. Untick it, or bring it in as readings to work on.")
    if any(c.target.repeat for c in chosen):
        raise Problem(422, "repeats", "A logger writes one value of a quantity in each row, so there are no repeats. Choose one column.")
    rows = _rows_of(sheet, chosen, book, every)
    if len(rows) > MOST_LOGGED:
        need = _ordinal(-(-len(rows) * every // MOST_LOGGED))
        raise Problem(422, "too_large", f"These are {len(rows):,} rows; a run holds at most {MOST_LOGGED:,}. Take every {need} row.")
    columns, units = {}, {}
    for column in chosen:
        quantity = quantities[column.target.quantity]
        units[quantity.id] = column.unit or quantity.unit
        _in_unit("1", units[quantity.id], quantity.unit)
        columns[quantity.id] = [_text_at(row, column, quantity) for row in rows]
    return BroughtLog(columns, units, len(rows))


def with_seconds(sheet: Sheet, chosen: Sequence[Chosen], book: LabBook) -> tuple[Sheet, tuple[Chosen, ...]]:
    """The table and the choice where a ticked column of times of day goes to a time: in seconds since its first row."""
    times = {q.id for q in book.quantities if fits(q.unit, "s")}
    counted, found = count_seconds(sheet, {c.index for c in chosen if c.target.quantity in times})
    return counted, tuple(replace(c, unit="s") if c.index in found else c for c in chosen)


def _add_u(cells: list[Any], u: str) -> None:
    """Write a ± with each of the readings of a setting, unless one would be too long with it."""
    write_u(cells, u)
    too_long = next((cell["text"] for cell in cells if cell is not None and len(cell["text"]) > LONGEST_CELL), None)
    if too_long is not None:
        raise Problem(422, "too_long", f"{too_long[:20]}… with its ± is longer than the {LONGEST_CELL} signs of a reading.")


def name_new(chosen: Sequence[Chosen], sheet: Sheet, book: LabBook) -> tuple[tuple[Chosen, ...], LabBook, tuple[NewHeading, ...]]:
    """The choice with ids in the place of new quantities, the lab book with these in it, and their headings.

    Raises
    ------
    CoreError
        ``bad_heading`` or ``bad_unit`` for a column whose heading names no quantity.
    """
    heads = look_at(sheet, book).columns
    wanted = list(dict.fromkeys(c.target.quantity for c in chosen if c.target.quantity.startswith(NEW)))
    keys, made, new = {}, list(book.quantities), []
    for name in wanted:
        at = int(place) if (place := name.removeprefix(NEW)).isdecimal() else -1
        repeats = 1 + max(c.target.repeat for c in chosen if c.target.quantity == name)
        # numbered columns are one quantity, called by what they have in common
        text = write_heading(heads[at].heading, heads[at].unit) if 0 <= at < len(heads) else ""
        if repeats > 1:
            first = split_heading(text)
            text = write_heading(write_name(replace(first, name=re.sub(r"[\s_#]*1$", "", first.name))), first.unit)
        if repeats == 1 and 0 <= at < len(heads) and heads[at].texts and not heads[at].numbers:
            text = f"{text} (words)"
        heading = read_heading(text, [q.symbol for q in made])
        keys[name] = f"q{uuid.uuid4().hex[:8]}"
        kind: Literal["changed", "measured"] = "measured" if any(q.kind == "changed" for q in made) else "changed"
        made.append(
            Quantity(keys[name], kind, heading.name, heading.symbol, heading.unit, repeats=repeats, given=False, holds=heading.holds)
        )
        new.append(NewHeading(quantity=keys[name], text=text, repeats=repeats))
    named = tuple(replace(c, target=replace(c.target, quantity=keys.get(c.target.quantity, c.target.quantity))) for c in chosen)
    return named, replace(book, quantities=tuple(made)), tuple(new)


def _check_choice(chosen: Sequence[Chosen], book: LabBook) -> dict[str, Quantity]:
    if not chosen:
        raise Problem(422, "nothing_chosen", "Tick the columns that you want, and say which quantity each one is.")
    if len({c.target for c in chosen}) != len(chosen):
        raise Problem(422, "twice", "Two columns go to the same place. Choose another quantity or repeat for one of them.")
    quantities = {q.id: q for q in book.quantities if q.kind in ("changed", "measured")}
    for column in chosen:
        quantity = quantities.get(column.target.quantity)
        if quantity is None or not 0 <= column.target.repeat < quantity.repeats:
            raise Problem(422, "gone", "One of the chosen quantities or repeats is not in this lab book.")
    return quantities


def _rows_of(sheet: Sheet, chosen: Sequence[Chosen], book: LabBook, every: int) -> list[list[str]]:
    rows = [
        row
        for row in sheet.rows[look_at(sheet, book).first_row :][::every]
        if any(0 <= c.index < len(row) and row[c.index] for c in chosen)
    ]
    if not rows:
        raise Problem(422, "nothing_chosen", "The ticked columns are empty.")
    return rows


def _as_held(text: str, column: Chosen, quantity: Quantity) -> str:
    return text if quantity.holds == "words" else _in_unit(text, column.unit, quantity.unit)


def _text_at(row: list[str], column: Chosen, quantity: Quantity) -> str:
    text = row[column.index] if 0 <= column.index < len(row) else ""
    if len(text) > (LONGEST_WORDS if quantity.holds == "words" else LONGEST_CELL):
        message = f"A cell of a ticked column holds {len(text):,} signs, which begin “{text[:20]}…”. That is no reading; untick the column."
        raise Problem(422, "too_long", message)
    return text


def _ordinal(n: int) -> str:
    return {2: "second", 3: "third"}.get(n, f"{n}th")


def _in_unit(text: str, unit: str, wanted: str) -> str:
    if not unit or unit == wanted:
        return text
    try:
        return convert_reading(text, unit, wanted)
    except CoreError as trouble:
        raise Problem(
            422, "bad_unit", f"{unit} cannot be turned into {wanted or 'a pure number'}. Untick this column or choose another quantity."
        ) from trouble


def with_new(edit: AddRun | FillRun, new: Sequence[NewHeading]) -> AddRun | FillRun:
    """The edit that brings readings in, with the quantities that come with them."""
    if not new:
        return edit
    return edit.model_copy(update={"new": list(new), "first": FirstGraph(graph=f"g{uuid.uuid4().hex[:8]}", fit=f"f{uuid.uuid4().hex[:8]}")})


def make_edit(brought: list[dict[str, Any]] | LogIn, into: Into, run: str, name: str, book: LabBook, source: str) -> AddRun | FillRun:
    """The edit that brings readings in: as a new run, behind those of a run, or in their place (which the history keeps)."""
    log = brought if isinstance(brought, LogIn) else None
    settings = [] if isinstance(brought, LogIn) else brought
    words = f"brought {count(log.rows, 'logged row') if log else count(len(settings), 'setting')} in from {source}"
    if into == "new":
        return AddRun(run=f"r{uuid.uuid4().hex[:8]}", name=name.strip() or _free_name(source, book), settings=settings, log=log)
    target = next((r for r in book.runs if r.id == run), None)
    if target is None:
        raise Problem(409, "gone", "This run is no longer in the lab book.")
    if into == "replace":
        return FillRun(run=run, settings=settings, log=log, words=f"{words}, in place of {target.count}"[:200])
    written = next(r for r in write_lab_book(book)["runs"] if r["id"] == run)["settings"]
    if log or target.log or len(written) + len(settings) > MOST_SETTINGS:
        raise Problem(
            422, "too_large", f"Nothing is put below a log, and {MOST_SETTINGS:,} settings are the most. Bring these in as a new run."
        )
    return FillRun(run=run, settings=written + settings, words=words[:200])


def _free_name(source: str, book: LabBook) -> str:
    taken = {r.name.lower() for r in book.runs}
    base = source.rsplit(".", 1)[0][:60] or "Brought in"
    return next(n for n in (base, *(f"{base} {i}" for i in range(2, 100))) if n.lower() not in taken)
