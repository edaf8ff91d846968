"""What an edit does to a lab book's document.

`apply_edit` is pure: a document and an edit in, a new document, what has changed and a sentence for the history out.
"""

from __future__ import annotations

import copy
from dataclasses import dataclass
from typing import Any

from hobrel.core.document.limits import MOST_SETTINGS
from hobrel.labbooks.edits import findings, graphs, quantities, runs
from hobrel.labbooks.edits.chosen_kinds import (
    AddFit,
    AddGraph,
    DrawSketch,
    PlaceFit,
    PlaceGraph,
    PutFinding,
    RemoveFinding,
    RemoveFit,
    RemoveGraph,
    WriteRounding,
)
from hobrel.labbooks.edits.kinds import (
    AddQuantity,
    AddRun,
    AddSetting,
    AddTangent,
    Batch,
    ChangeQuantity,
    ChooseDigits,
    ConfirmSlip,
    DefineFormula,
    Edit,
    FillRun,
    KeepPlot,
    MoveQuantity,
    RemoveQuantity,
    RemoveRun,
    RemoveSetting,
    RenameRun,
    SetAside,
    SetAsideFrom,
    SetAsideRows,
    SetReading,
    SetRepeats,
    WriteText,
)
from hobrel.labbooks.edits.patches import Patch, find_patches
from hobrel.labbooks.edits.places import Document, count, find, find_setting, freedoms_of, name_setting, settings_of, trim, write_symbol
from hobrel.server.problems import Problem


@dataclass(frozen=True)
class Applied:
    """The document after an edit, what that has changed, and a sentence for the history."""

    document: Document
    patches: list[Patch]
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
    words = _apply(fresh, edit)
    return Applied(fresh, find_patches(document, fresh), words)


def _apply(document: Document, edit: Edit) -> str:
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
        case ChooseDigits():
            return _choose_digits(document, edit)
        case PlaceGraph():
            return graphs.place_graph(document, edit)
        case AddGraph():
            return graphs.add_graph(document, edit)
        case RemoveGraph():
            return graphs.remove_graph(document, edit)
        case PlaceFit():
            return graphs.place_fit(document, edit)
        case AddFit():
            return graphs.add_fit(document, edit)
        case RemoveFit():
            return graphs.remove_fit(document, edit)
        case PutFinding():
            return findings.put_finding(document, edit)
        case RemoveFinding():
            return findings.remove_finding(document, edit)
        case WriteRounding():
            return findings.write_rounding(document, edit)
        case DrawSketch():
            document["sketch"] = edit.model_dump()["points"]
            return "sketched what to expect" if edit.points else "took the sketch away"
        case WriteText():
            current = document["texts"].get(edit.section, "")
            if current != edit.was:
                raise Problem(409, "clash", "Somebody at your bench has changed this paragraph meanwhile.", {"theirs": current})
            document["texts"][edit.section] = edit.text
            return f"wrote: {edit.section}"
        case SetAsideFrom():
            return _set_aside_from(document, edit)
        case ConfirmSlip():
            return _confirm_slip(document, edit)
        case AddRun() | RemoveRun() | RenameRun() | FillRun() | SetAsideRows():
            return runs.change_runs(document, edit)
        case AddQuantity() | ChangeQuantity() | RemoveQuantity() | MoveQuantity() | KeepPlot() | AddTangent():
            return quantities.change_quantities(document, edit)
        case Batch():
            for single in edit.edits:
                _apply(document, single)
            return edit.words


def _set_reading(document: Document, edit: SetReading) -> str:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] not in ("changed", "measured"):
        raise Problem(403, "given", f"{quantity['name']} is worked out or given, so it cannot be typed over.")
    place = name_setting(document, edit.run, edit.setting)
    row = find_setting(document, edit.run, edit.setting)
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
    trim(row, edit.quantity)
    what = write_symbol(quantity["symbol"]) + (f", repeat {edit.repeat + 1}" if quantity["repeats"] > 1 else "")
    return f"{place}, {what}: {text or 'blank'} → {edit.text or 'blank'}"


def _add_setting(document: Document, edit: AddSetting) -> str:
    rows = settings_of(document, edit.run)
    if any(row["id"] == edit.setting for row in rows):
        raise Problem(409, "gone", "This setting is in the lab book already.")
    if len(rows) >= MOST_SETTINGS:
        raise Problem(422, "too_large", f"A run holds at most {MOST_SETTINGS} settings.")
    (row,) = runs.checked_settings([{**(edit.content or {}), "id": edit.setting}])
    rows.insert(len(rows) if edit.at is None else edit.at, row)
    return "brought back a setting" if edit.content else "added a setting"


def _remove_setting(document: Document, edit: RemoveSetting) -> str:
    rows = settings_of(document, edit.run)
    row = find(rows, edit.setting, "setting")
    name = name_setting(document, edit.run, edit.setting)
    rows.remove(row)
    return f"removed {name} with its readings"


def _set_repeats(document: Document, edit: SetRepeats) -> str:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "measured":
        raise Problem(403, "given", f"{quantity['name']} has no repeats.")
    before = quantity["repeats"]
    if quantity["given"] and not freedoms_of(document).repeats:
        raise Problem(403, "given", f"The plan says how often {quantity['name']} is measured.")
    quantity["repeats"] = edit.repeats
    for run in document["runs"]:
        for row in run["settings"]:
            row["readings"][edit.quantity] = row["readings"].get(edit.quantity, [])[: edit.repeats]
            trim(row, edit.quantity)
    return f"{write_symbol(quantity['symbol'])}: {edit.repeats} repeat{'s' if edit.repeats > 1 else ''} (was {before})"


def _set_aside(document: Document, edit: SetAside) -> str:
    row = find_setting(document, edit.run, edit.setting)
    name = name_setting(document, edit.run, edit.setting)
    target: dict[str, Any] = row
    if edit.quantity is not None:
        readings = row["readings"].get(edit.quantity, [])
        repeat = edit.repeat or 0
        if repeat >= len(readings) or readings[repeat] is None:
            raise Problem(409, "gone", "There is no reading here any more.")
        target = readings[repeat]
        name += f", {target['text']}"
    target["set_aside"] = edit.reason
    return f"set aside {name}: {edit.reason}" if edit.reason else f"brought back {name}"


def _define_formula(document: Document, edit: DefineFormula) -> str:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "derived" or quantity["given"]:
        raise Problem(403, "given", f"{quantity['name']} is given by the plan.")
    quantity["formula"] = edit.formula
    return f"{write_symbol(quantity['symbol'])} = {edit.formula or '(nothing)'}"


def _choose_digits(document: Document, edit: ChooseDigits) -> str:
    quantity = find(document["quantities"], edit.quantity, "quantity")
    if quantity["kind"] != "derived":
        raise Problem(403, "given", f"{quantity['name']} is written with the digits of its readings.")
    quantity["digits"] = {"kind": edit.kind, "count": edit.count}
    chosen = {
        "automatic": "with the digits that its ± asks for",
        "decimals": f"to {count(edit.count, 'decimal')}",
        "figures": f"to {count(edit.count, 'significant figure')}",
        "scientific": f"to {count(edit.count, 'significant figure')}, as a power of ten",
    }[edit.kind]
    return f"{write_symbol(quantity['symbol'])} is written {chosen}"


def _set_aside_from(document: Document, edit: SetAsideFrom) -> str:
    """Every setting at or beyond this one's x; those that are set aside already keep their own reason."""
    limit = quantities.changed_value(document, edit.run, edit.setting)
    if limit is None:
        raise Problem(422, "bad_number", "This setting has no value of the changed quantity yet, so there is no “from here on”.")
    name, left_out = name_setting(document, edit.run, edit.setting), 0
    for row in settings_of(document, edit.run):
        value = quantities.changed_value(document, edit.run, row["id"])
        if value is not None and value >= limit and row["set_aside"] is None:
            row["set_aside"] = edit.reason
            left_out += 1
    if not left_out:
        raise Problem(422, "nothing", "Everything from here on is set aside already.")
    return f"set aside {count(left_out, 'setting')} from {name} on: {edit.reason}"


def _confirm_slip(document: Document, edit: ConfirmSlip) -> str:
    row = find_setting(document, edit.run, edit.setting)
    place = {"kind": edit.kind, "run": edit.run, "setting": edit.setting, "quantity": edit.quantity, "repeat": edit.repeat}
    others = [c for c in document.get("confirmed", []) if {k: c[k] for k in place} != place]
    if edit.right:
        others.append({**place, "texts": quantities.texts_at(row, edit.quantity, edit.repeat), "by": edit.by})
    document["confirmed"] = others
    name = name_setting(document, edit.run, edit.setting)
    return f"said that {name} is right" if edit.right else f"took back that {name} is right"
