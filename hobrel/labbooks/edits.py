"""The edits that a lab book is changed by: what each may look like, and what it does to the document.

`apply_edit` is pure: a document and an edit in, a new document, the inverse edit and a sentence for the history out.
"""

from __future__ import annotations

import copy
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from hobrel.core.documents import WeightKind
from hobrel.core.presenting.stages import REPORT_SECTIONS
from hobrel.server.problems import Problem

Document = dict[str, Any]
Key = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9_-]+$")]
Reason = Annotated[str, Field(min_length=1, max_length=300)]
MOST_SETTINGS = 2000
MOST_REPEATS = 12


class _Edit(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class SetReading(_Edit):
    """Write a reading. `was` is the text it replaces (empty for a blank); an empty `text` makes it blank."""

    type: Literal["set_reading"] = "set_reading"
    run: Key
    setting: Key
    quantity: Key
    repeat: Annotated[int, Field(ge=0, lt=MOST_REPEATS)]
    text: Annotated[str, Field(max_length=60)]
    was: Annotated[str, Field(max_length=60)] = ""
    set_aside: Reason | None = None


class AddSetting(_Edit):
    """Add a row; `at` is its place (at the end without one). `content` brings one back with its readings."""

    type: Literal["add_setting"] = "add_setting"
    run: Key
    setting: Key
    at: Annotated[int, Field(ge=0)] | None = None
    content: dict[str, Any] | None = None


class RemoveSetting(_Edit):
    type: Literal["remove_setting"] = "remove_setting"
    run: Key
    setting: Key


class SetRepeats(_Edit):
    """How many repeats a measured quantity has. `content` brings removed readings back, by run and setting."""

    type: Literal["set_repeats"] = "set_repeats"
    quantity: Key
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)]
    content: dict[str, dict[str, list[Any]]] | None = None


class SetAside(_Edit):
    """Leave a reading (with `quantity` and `repeat`) or a whole setting out, with a reason; no reason brings it back."""

    type: Literal["set_aside"] = "set_aside"
    run: Key
    setting: Key
    quantity: Key | None = None
    repeat: Annotated[int, Field(ge=0, lt=MOST_REPEATS)] | None = None
    reason: Reason | None


class DefineFormula(_Edit):
    """Write the formula of a derived quantity that the plan leaves to the bench."""

    type: Literal["define_formula"] = "define_formula"
    quantity: Key
    formula: Annotated[str, Field(max_length=400)]


class PlaceGraph(_Edit):
    """Choose what is on the axes of a graph."""

    type: Literal["place_graph"] = "place_graph"
    graph: Key
    x: Key
    y: Key
    origin: bool = False


class PlaceFit(_Edit):
    """Choose how the line of a graph is found."""

    type: Literal["place_fit"] = "place_fit"
    fit: Key
    weights: WeightKind
    through_origin: bool


class WriteText(_Edit):
    """Write one of the bench's paragraphs. `was` is what it replaces."""

    type: Literal["write_text"] = "write_text"
    section: Literal["expectation", "method", "discussion", "conclusion"]
    text: Annotated[str, Field(max_length=20_000)]
    was: Annotated[str, Field(max_length=20_000)] = ""


SingleEdit = Annotated[
    SetReading | AddSetting | RemoveSetting | SetRepeats | SetAside | DefineFormula | PlaceGraph | PlaceFit | WriteText,
    Field(discriminator="type"),
]


class Batch(_Edit):
    """Several edits that belong together, as a pasted block; all or none."""

    type: Literal["batch"] = "batch"
    words: Annotated[str, Field(max_length=200)]
    edits: Annotated[list[SingleEdit], Field(min_length=1, max_length=MOST_SETTINGS * 4)]


Edit = Annotated[
    SetReading | AddSetting | RemoveSetting | SetRepeats | SetAside | DefineFormula | PlaceGraph | PlaceFit | WriteText | Batch,
    Field(discriminator="type"),
]
edit_adapter: TypeAdapter[Edit] = TypeAdapter(Edit)
assert set(WriteText.model_fields["section"].annotation.__args__) == set(REPORT_SECTIONS)  # type: ignore[union-attr]


@dataclass(frozen=True)
class Applied:
    """The document after an edit, the edit that takes it back, and a sentence for the history."""

    document: Document
    inverse: Edit
    words: str


def apply_edit(document: Document, edit: Edit) -> Applied:
    """Apply an edit to a lab book document, which is left as it is.

    Raises
    ------
    Problem
        409 ``clash`` when a cell or paragraph no longer holds what the edit replaces (with `theirs`), 409 ``gone`` when its
        place is no longer there, 403 ``given`` for what the plan has fixed, 422 where there is too much of something.
    """
    fresh = copy.deepcopy(document)
    inverse, words = _apply(fresh, edit)
    return Applied(fresh, inverse, words)


def _apply(document: Document, edit: Edit) -> tuple[Edit, str]:
    match edit:
        case SetReading():
            return _set_reading(document, edit)
        case AddSetting():
            return _add_setting(document, edit)
        case RemoveSetting():
            return _remove_setting(document, edit)
        case SetRepeats():
            return _set_repeats(document, edit)
        case SetAside():
            return _set_aside(document, edit)
        case DefineFormula():
            return _define_formula(document, edit)
        case PlaceGraph():
            graph = _find(document["graphs"], edit.graph, "graph")
            old = PlaceGraph(graph=edit.graph, x=graph["x"], y=graph["y"], origin=graph["origin"])
            x, y = (_find(document["quantities"], k, "quantity") for k in (edit.x, edit.y))
            graph.update(x=edit.x, y=edit.y, origin=edit.origin)
            return old, f"graph: {y['symbol']} against {x['symbol']}"
        case PlaceFit():
            fit = _find(document["fits"], edit.fit, "fit")
            old_fit = PlaceFit(fit=edit.fit, weights=fit["weights"], through_origin=fit["through_origin"])
            fit.update(weights=edit.weights, through_origin=edit.through_origin)
            words = {"both_bars": "weighted by both bars", "y_bars": "weighted by the bars in y", "none": "not weighted"}[edit.weights]
            return old_fit, f"line: {words}{', through the origin' if edit.through_origin else ''}"
        case WriteText():
            current = document["texts"].get(edit.section, "")
            if current != edit.was:
                raise Problem(409, "clash", "Somebody at your bench has changed this paragraph meanwhile.", {"theirs": current})
            document["texts"][edit.section] = edit.text
            return WriteText(section=edit.section, text=current, was=edit.text), f"wrote: {edit.section}"
        case Batch():
            inverses: list[Any] = []
            for single in edit.edits:
                inverse, _ = _apply(document, single)
                inverses.insert(0, inverse)
            return Batch(words=edit.words, edits=inverses), edit.words


def _find(items: list[dict[str, Any]], key: str, what: str) -> dict[str, Any]:
    for item in items:
        if item["id"] == key:
            return item
    raise Problem(409, "gone", f"This {what} is no longer in the lab book. Somebody at your bench may have removed it.")


def _setting(document: Document, run: str, setting: str) -> dict[str, Any]:
    return _find(_find(document["runs"], run, "run")["settings"], setting, "setting")


def _name(document: Document, run: str, setting: str) -> str:
    """A setting as people call it: L = 0.24 m, or its place where it has no value yet."""
    rows = _find(document["runs"], run, "run")["settings"]
    changed = next((q for q in document["quantities"] if q["kind"] == "changed"), None)
    row = _find(rows, setting, "setting")
    reading = next((r for r in row["readings"].get(changed["id"], []) if r), None) if changed else None
    if changed and reading and reading["text"].strip():
        return f"{changed['symbol']} = {reading['text']} {changed['unit']}".strip()
    return f"setting {rows.index(row) + 1}"


def _set_reading(document: Document, edit: SetReading) -> tuple[Edit, str]:
    quantity = _find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] not in ("changed", "measured"):
        raise Problem(403, "given", f"{quantity['name']} is worked out or given, so it cannot be typed over.")
    place = _name(document, edit.run, edit.setting)
    row = _setting(document, edit.run, edit.setting)
    readings = row["readings"].setdefault(edit.quantity, [])
    if edit.repeat >= quantity["repeats"] and edit.text:
        raise Problem(409, "gone", "This repeat is no longer in the table. Add it again from the table’s edge.")
    while len(readings) <= edit.repeat:
        readings.append(None)
    current = readings[edit.repeat]
    text = current["text"] if current else ""
    if text != edit.was and text != edit.text:
        raise Problem(409, "clash", "Somebody at your bench has changed this reading meanwhile.", {"theirs": text})
    readings[edit.repeat] = {"text": edit.text, "set_aside": edit.set_aside} if edit.text else None
    _trim(row, edit.quantity)
    inverse = edit.model_copy(update={"text": text, "was": edit.text, "set_aside": current["set_aside"] if current else None})
    what = quantity["symbol"] + (f", repeat {edit.repeat + 1}" if quantity["repeats"] > 1 else "")
    return inverse, f"{place}, {what}: {text or 'blank'} → {edit.text or 'blank'}"


def _trim(row: dict[str, Any], quantity: str) -> None:
    """Blanks behind the last reading are not kept, so that equal tables are equal documents."""
    readings = row["readings"].get(quantity, [])
    while readings and readings[-1] is None:
        readings.pop()
    if not readings:
        row["readings"].pop(quantity, None)


def _add_setting(document: Document, edit: AddSetting) -> tuple[Edit, str]:
    rows = _find(document["runs"], edit.run, "run")["settings"]
    if any(row["id"] == edit.setting for row in rows):
        raise Problem(409, "gone", "This setting is in the lab book already.")
    if len(rows) >= MOST_SETTINGS:
        raise Problem(422, "too_large", f"A run holds at most {MOST_SETTINGS} settings.")
    content = edit.content or {}
    row = {"id": edit.setting, "readings": content.get("readings", {}), "set_aside": content.get("set_aside")}
    rows.insert(len(rows) if edit.at is None else edit.at, row)
    return RemoveSetting(run=edit.run, setting=edit.setting), "brought back a setting" if edit.content else "added a setting"


def _remove_setting(document: Document, edit: RemoveSetting) -> tuple[Edit, str]:
    rows = _find(document["runs"], edit.run, "run")["settings"]
    row = _find(rows, edit.setting, "setting")
    name, place = _name(document, edit.run, edit.setting), rows.index(row)
    rows.remove(row)
    content = {"readings": row["readings"], "set_aside": row["set_aside"]}
    return AddSetting(run=edit.run, setting=edit.setting, at=place, content=content), f"removed {name} with its readings"


def _set_repeats(document: Document, edit: SetRepeats) -> tuple[Edit, str]:
    quantity = _find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "measured":
        raise Problem(403, "given", f"{quantity['name']} has no repeats.")
    before, removed = quantity["repeats"], {}
    quantity["repeats"] = edit.repeats
    for run in document["runs"]:
        for row in run["settings"]:
            readings = row["readings"].get(edit.quantity, [])
            if any(r is not None for r in readings[edit.repeats :]):
                removed.setdefault(run["id"], {})[row["id"]] = readings[edit.repeats :]
            row["readings"][edit.quantity] = readings[: edit.repeats]
            for reading in (edit.content or {}).get(run["id"], {}).get(row["id"], []):
                kept = row["readings"][edit.quantity]
                kept.extend([None] * (before - len(kept)))
                kept.append(reading)
            _trim(row, edit.quantity)
    return (
        SetRepeats(quantity=edit.quantity, repeats=before, content=removed or None),
        f"{quantity['symbol']}: {edit.repeats} repeat{'s' if edit.repeats > 1 else ''} (was {before})",
    )


def _set_aside(document: Document, edit: SetAside) -> tuple[Edit, str]:
    row = _setting(document, edit.run, edit.setting)
    name = _name(document, edit.run, edit.setting)
    target: dict[str, Any] = row
    if edit.quantity is not None:
        readings = row["readings"].get(edit.quantity, [])
        repeat = edit.repeat or 0
        if repeat >= len(readings) or readings[repeat] is None:
            raise Problem(409, "gone", "There is no reading here any more.")
        target = readings[repeat]
        name += f", {target['text']}"
    before = target["set_aside"]
    target["set_aside"] = edit.reason
    return edit.model_copy(update={"reason": before}), f"set aside {name}: {edit.reason}" if edit.reason else f"brought back {name}"


def _define_formula(document: Document, edit: DefineFormula) -> tuple[Edit, str]:
    quantity = _find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "derived" or quantity["given"]:
        raise Problem(403, "given", f"{quantity['name']} is given by the plan.")
    before = quantity["formula"]
    quantity["formula"] = edit.formula
    return DefineFormula(quantity=edit.quantity, formula=before), f"{quantity['symbol']} = {edit.formula or '(nothing)'}"
