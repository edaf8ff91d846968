"""A change of some fields of a graph, fit, finding or quantity: each field with what it was and what it becomes.

Fields that the edit does not name are not touched, and of lists whose items have ids only those that it adds, moves, changes or removes:
two people who pin notes on one graph both keep theirs.
"""

from __future__ import annotations

import json
from typing import Any

from pydantic import model_validator

from hobrel.core.formulas.letters import spell_symbol
from hobrel.core.units.calculus import keep_unit
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel
from hobrel.labbooks.edits.patches import Stands, apply_patches, find_patches
from hobrel.server.problems import Problem

Part = dict[str, Any]


class PartEdit(EditModel):
    """`was` and `becomes` hold the same fields."""

    @model_validator(mode="after")
    def _hold_the_same_fields(self) -> PartEdit:
        was, becomes = (getattr(self, name).model_fields_set for name in ("was", "becomes"))
        if was != becomes or not becomes:
            raise ValueError("was and becomes have to name the same fields, and at least one")
        return self


def given_fields(part: EditModel) -> Part:
    """The fields that a part names."""
    whole = part.model_dump()
    return {name: whole[name] for name in part.model_fields_set}


def change_part(now: Part, edit: Any, what: str) -> Part:
    """The fields that an edit names as they are after it, where `now` are all fields as they are.

    Raises
    ------
    Problem
        409 ``clash`` where somebody has changed one of them meanwhile, with all of them as they are now.
    """
    was, becomes = given_fields(edit.was), given_fields(edit.becomes)
    # older lab books hold symbols and units as they were typed; an edit names them as they are kept
    now = {**now, **{name: keep(now[name]) for name, keep in (("symbol", spell_symbol), ("unit", keep_unit)) if name in now}}
    after: Part = {}
    for name, wanted in becomes.items():
        if now.get(name) == wanted:
            after[name] = wanted
            continue
        try:
            after[name] = apply_patches({name: now.get(name)}, find_patches({name: was[name]}, {name: wanted}))[name]
        except Stands as trouble:
            theirs = json.dumps({field: now.get(field) for field in becomes})
            words = f"Somebody else has changed {what} meanwhile."
            raise Problem(409, "clash", words, {"theirs": theirs}) from trouble
    return after


def change_item(draft: Draft, items: str, edit: Any, key: str, defaults: EditModel, what: str) -> Part:
    """Make the change in an item of a list of the document; the fields that have changed, as they are now."""
    item = draft.own(items, key)
    now = {**defaults.model_dump(), **item}
    after = {name: value for name, value in change_part(now, edit, what).items() if value != now.get(name)}
    item.update(after)
    return after
