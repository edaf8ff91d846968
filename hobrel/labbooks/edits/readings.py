"""Edits of readings and settings."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.checks.confirmed import texts_of
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.document.limits import MOST_REPEATS, MOST_SETTINGS
from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_reading
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, Key, Reason, Repeat, SettingIn, WrittenText
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import Document, call, changed_in, count, find, find_setting, has, name_setting, settings_of, trim
from hobrel.server import policy
from hobrel.server.problems import Problem


class SetReading(EditModel):
    """Write a reading. `was` is the text it replaces (empty for a blank); an empty `text` makes it blank."""

    type: Literal["set_reading"] = "set_reading"
    run: Key
    setting: Key
    quantity: Key
    repeat: Repeat
    text: WrittenText
    was: WrittenText = ""
    set_aside: Reason | None = None


@kind(policy.readings, in_batch=True)
def set_reading(draft: Draft, edit: SetReading) -> str:
    quantity = find(draft["quantities"], edit.quantity, "quantity")
    place = name_setting(draft, edit.run, edit.setting)
    row = own_setting(draft, edit.run, edit.setting)
    if edit.repeat >= quantity["repeats"] and edit.text:
        raise Problem(409, "gone", "This repeat is no longer in the table. Add it again from the table’s edge.")
    row["readings"].setdefault(edit.quantity, [])
    readings = draft.own("runs", edit.run, "settings", edit.setting, "readings", edit.quantity)
    while len(readings) <= edit.repeat:
        readings.append(None)
    current = readings[edit.repeat]
    text = current["text"] if current else ""
    if text != edit.was and text != edit.text:
        raise Problem(409, "clash", "Somebody else has changed this reading meanwhile.", {"theirs": text})
    readings[edit.repeat] = {"text": edit.text, "set_aside": edit.set_aside} if edit.text else None
    trim(row, edit.quantity)
    what = call(quantity) + (f", repeat {edit.repeat + 1}" if quantity["repeats"] > 1 else "")
    return f"{place}, {what}: {text or 'blank'} → {edit.text or 'blank'}"


def own_setting(draft: Draft, run: str, setting: str) -> Document:
    """A setting whose readings may be changed."""
    find_setting(draft, run, setting)
    row: Document = draft.own("runs", run, "settings", setting)
    draft.own("runs", run, "settings", setting, "readings")
    return row


class AddSetting(EditModel):
    """Add a row; `at` is its place (at the end without one). `content` brings one back from the past with its readings."""

    type: Literal["add_setting"] = "add_setting"
    run: Key
    setting: Key
    at: Annotated[int, Field(ge=0)] | None = None
    content: SettingIn | None = None


@kind(policy.left_to_the_bench, in_batch=True)
def add_setting(draft: Draft, edit: AddSetting) -> str:
    rows = settings_of(draft, edit.run)
    if has(rows, edit.setting):
        raise Problem(409, "gone", "This setting is in the lab book already.")
    if len(rows) >= MOST_SETTINGS:
        raise Problem(422, "too_large", f"A run holds at most {MOST_SETTINGS} settings.")
    row = edit.content.model_dump() if edit.content else {"readings": {}, "set_aside": None}
    draft.own("runs", edit.run, "settings").insert(len(rows) if edit.at is None else edit.at, {**row, "id": edit.setting})
    return "brought back a setting" if edit.content else "added a setting"


class RemoveSetting(EditModel):
    type: Literal["remove_setting"] = "remove_setting"
    run: Key
    setting: Key


@kind(policy.left_to_the_bench, in_batch=True)
def remove_setting(draft: Draft, edit: RemoveSetting) -> str:
    row = find_setting(draft, edit.run, edit.setting)
    name = name_setting(draft, edit.run, edit.setting)
    draft.own("runs", edit.run, "settings").remove(row)
    return f"removed {name} with its readings"


class SetRepeats(EditModel):
    """How many repeats a measured quantity has."""

    type: Literal["set_repeats"] = "set_repeats"
    quantity: Key
    repeats: Annotated[int, Field(ge=1, le=MOST_REPEATS)]


@kind(policy.repeats, in_batch=True)
def set_repeats(draft: Draft, edit: SetRepeats) -> str:
    quantity = draft.own("quantities", edit.quantity)
    if quantity.get("holds") == "words" and edit.repeats > 1:
        raise Problem(409, "repeats", f"{quantity['name']} holds words, which are written once at a setting.")
    before, quantity["repeats"] = quantity["repeats"], edit.repeats
    for run in draft["runs"]:
        for row in run["settings"]:
            if len(row["readings"].get(edit.quantity, ())) > edit.repeats:
                fewer = own_setting(draft, run["id"], row["id"])
                fewer["readings"][edit.quantity] = row["readings"][edit.quantity][: edit.repeats]
                trim(fewer, edit.quantity)
    return f"{call(quantity)}: {edit.repeats} repeat{'s' if edit.repeats > 1 else ''} (was {before})"


class SetAside(EditModel):
    """Leave a reading (with `quantity` and `repeat`) or a whole setting out, with a reason; no reason brings it back."""

    type: Literal["set_aside"] = "set_aside"
    run: Key
    setting: Key
    quantity: Key | None = None
    repeat: Repeat | None = None
    reason: Reason | None


@kind(policy.left_to_the_bench, in_batch=True)
def set_aside(draft: Draft, edit: SetAside) -> str:
    row = find_setting(draft, edit.run, edit.setting)
    name = name_setting(draft, edit.run, edit.setting)
    path: tuple[str | int, ...] = ("runs", edit.run, "settings", edit.setting)
    if edit.quantity is not None:
        readings, repeat = row["readings"].get(edit.quantity, []), edit.repeat or 0
        if repeat >= len(readings) or readings[repeat] is None:
            raise Problem(409, "gone", "There is no reading here any more.")
        path = (*path, "readings", edit.quantity, repeat)
        name += f", {readings[repeat]['text']}"
    draft.own(*path)["set_aside"] = edit.reason
    return f"set aside {name}: {edit.reason}" if edit.reason else f"brought back {name}"


class SetAsideFrom(EditModel):
    """Leave out every setting whose changed quantity is at or beyond that of this one, with a reason."""

    type: Literal["set_aside_from"] = "set_aside_from"
    run: Key
    setting: Key
    reason: Reason


@kind(policy.left_to_the_bench)
def set_aside_from(draft: Draft, edit: SetAsideFrom) -> str:
    """Those that are set aside already keep their own reason."""
    limit = _changed_value(draft, edit.run, find_setting(draft, edit.run, edit.setting))
    if limit is None:
        raise Problem(422, "bad_number", "This setting has no value of the changed quantity yet, so there is no “from here on”.")
    name, left_out = name_setting(draft, edit.run, edit.setting), 0
    for row in settings_of(draft, edit.run):
        value = _changed_value(draft, edit.run, row)
        if value is not None and value >= limit and row["set_aside"] is None:
            draft.own("runs", edit.run, "settings", row["id"])["set_aside"] = edit.reason
            left_out += 1
    if not left_out:
        raise Problem(422, "nothing", "Everything from here on is set aside already.")
    return f"set aside {count(left_out, 'setting')} from {name} on: {edit.reason}"


def _changed_value(document: Document, run: str, row: Document) -> float | None:
    """The changed quantity at a setting, as a number; None where it is blank or no number."""
    changed = changed_in(document, run)
    readings = row["readings"].get(changed["id"], []) if changed else []
    if not changed or not readings or readings[0] is None:
        return None
    try:
        return float(parse_reading(readings[0]["text"], changed["unit"]).value)
    except CoreError:
        return None


class ConfirmSlip(EditModel):
    """Say that what looks like a slip is right, or take that back. It holds for the text that stands there now."""

    type: Literal["confirm_slip"] = "confirm_slip"
    kind: Annotated[str, Field(max_length=30, pattern=r"^[a-z_]+$")]
    run: Key
    setting: Key
    quantity: Key
    repeat: Repeat | None = None
    right: bool = True
    by: Annotated[str, Field(max_length=120)] = ""

    def signed(self, author: str) -> ConfirmSlip:
        return self.model_copy(update={"by": author})


@kind(policy.left_to_the_bench)
def confirm_slip(draft: Draft, edit: ConfirmSlip) -> str:
    row = find_setting(draft, edit.run, edit.setting)
    place = {"kind": edit.kind, "run": edit.run, "setting": edit.setting, "quantity": edit.quantity, "repeat": edit.repeat}
    others = [c for c in draft.get("confirmed", []) if {k: c[k] for k in place} != place]
    if edit.right:
        others.append({**place, "texts": _texts_at(row, edit.quantity, edit.repeat), "by": edit.by})
    draft["confirmed"] = others
    name = name_setting(draft, edit.run, edit.setting)
    return f"said that {name} is right" if edit.right else f"took back that {name} is right"


def _texts_at(row: dict[str, Any], quantity: str, repeat: int | None) -> list[str]:
    """The texts that a slip at this place is about."""
    book = read_lab_book({"title": "", "runs": [{"id": "r", "name": "", "settings": [row]}]})
    return list(texts_of(book.runs[0].settings[0], quantity, repeat))
