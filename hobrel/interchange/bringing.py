"""From the columns that somebody ticked to settings of a run."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from hobrel.core.documents import LabBook, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.readings.converting import convert_reading
from hobrel.interchange.sensing import Target, look_at
from hobrel.interchange.tables import Sheet
from hobrel.labbooks.edit_kinds import MOST_SETTINGS, AddRun, FillRun
from hobrel.labbooks.places import count
from hobrel.server.problems import Problem

Into = Literal["new", "add", "replace"]
LONGEST_CELL = 60


@dataclass(frozen=True)
class Chosen:
    """A ticked column: its place in the table, the unit that it is in (empty: that of the quantity), and where it goes."""

    index: int
    unit: str
    target: Target


def make_settings(sheet: Sheet, chosen: Sequence[Chosen], book: LabBook, every: int = 1) -> list[dict[str, Any]]:
    """Settings from the rows of a table; rows in which none of the columns has anything are left out.

    Raises
    ------
    Problem
        422 ``nothing_chosen``, ``twice``, ``too_large`` or ``bad_unit``.
    """
    if not chosen:
        raise Problem(422, "nothing_chosen", "Tick the columns that you want, and say which quantity each one is.")
    if len({c.target for c in chosen}) != len(chosen):
        raise Problem(422, "twice", "Two columns go to the same place. Choose another quantity or repeat for one of them.")
    quantities = {q.id: q for q in book.quantities if q.kind in ("changed", "measured")}
    for column in chosen:
        quantity = quantities.get(column.target.quantity)
        if quantity is None or not 0 <= column.target.repeat < quantity.repeats:
            raise Problem(422, "gone", "One of the chosen quantities or repeats is not in this lab book.")
    settings: list[dict[str, Any]] = []
    rows = sheet.rows[look_at(sheet, book).first_row :][::every]
    for row in rows:
        readings: dict[str, list[Any]] = {}
        for column in chosen:
            text = row[column.index][:LONGEST_CELL] if column.index < len(row) else ""
            if not text:
                continue
            quantity = quantities[column.target.quantity]
            cells = readings.setdefault(quantity.id, [])
            cells.extend([None] * (column.target.repeat + 1 - len(cells)))
            cells[column.target.repeat] = {"text": _in_unit(text, column.unit, quantity.unit), "set_aside": None}
        if readings:
            settings.append({"id": f"b{uuid.uuid4().hex[:10]}", "readings": readings, "set_aside": None})
    if len(settings) > MOST_SETTINGS:
        need = -(-len(settings) * every // MOST_SETTINGS)
        raise Problem(
            422, "too_large", f"A run holds at most {MOST_SETTINGS:,} settings; these are {len(settings):,}. Take every {need}th row."
        )
    if not settings:
        raise Problem(422, "nothing_chosen", "The ticked columns are empty.")
    return settings


def _in_unit(text: str, unit: str, wanted: str) -> str:
    if not unit or unit == wanted:
        return text
    try:
        return convert_reading(text, unit, wanted)
    except CoreError as trouble:
        raise Problem(
            422, "bad_unit", f"{unit} cannot be turned into {wanted or 'a pure number'}. Untick this column or choose another quantity."
        ) from trouble


def make_edit(settings: list[dict[str, Any]], into: Into, run: str, name: str, book: LabBook, source: str) -> AddRun | FillRun:
    """The edit that brings settings in: as a new run, behind those of a run, or in their place (which the history keeps)."""
    brought = f"brought {count(len(settings), 'setting')} in from {source}"
    if into == "new":
        return AddRun(run=f"r{uuid.uuid4().hex[:8]}", name=name.strip() or _free_name(source, book), settings=settings)
    target = next((r for r in book.runs if r.id == run), None)
    if target is None:
        raise Problem(409, "gone", "This run is no longer in the lab book.")
    if into == "replace":
        return FillRun(run=run, settings=settings, words=f"{brought}, in place of {len(target.settings)}"[:200])
    written = next(r for r in write_lab_book(book)["runs"] if r["id"] == run)["settings"]
    if len(written) + len(settings) > MOST_SETTINGS:
        raise Problem(422, "too_large", f"A run holds at most {MOST_SETTINGS:,} settings. Bring these in as a new run.")
    return FillRun(run=run, settings=written + settings, words=brought[:200])


def _free_name(source: str, book: LabBook) -> str:
    taken = {r.name.lower() for r in book.runs}
    base = source.rsplit(".", 1)[0][:60] or "Brought in"
    return next(n for n in (base, *(f"{base} {i}" for i in range(2, 100))) if n.lower() not in taken)
