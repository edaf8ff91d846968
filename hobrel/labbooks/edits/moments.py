"""Edits of moments: what happened at a value of a quantity, drawn as an upright line on every graph that has it along x."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.core.document.limits import MOST_MOMENTS
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, Finite, Key
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import call, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem


class AddMoment(EditModel):
    """Mark a moment, `at` a value of the quantity `of`, in its unit."""

    type: Literal["add_moment"] = "add_moment"
    moment: Key
    name: Annotated[str, Field(min_length=1, max_length=40)]
    of: Key
    at: Finite


@kind(policy.left_to_the_bench)
def add_moment(draft: Draft, edit: AddMoment) -> str:
    quantity, moments = find(draft["quantities"], edit.of, "quantity"), draft.get("moments", [])
    if has(moments, edit.moment):
        raise Problem(409, "gone", "This moment is in the lab book already.")
    if len(moments) >= MOST_MOMENTS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_MOMENTS} moments.")
    draft["moments"] = [*moments, {"id": edit.moment, "name": edit.name, "of": edit.of, "at": edit.at}]
    return f"marked {edit.name} at {call(quantity)} = {edit.at:g} {quantity['unit']}".rstrip()


class RemoveMoment(EditModel):
    type: Literal["remove_moment"] = "remove_moment"
    moment: Key


@kind(policy.left_to_the_bench)
def remove_moment(draft: Draft, edit: RemoveMoment) -> str:
    moment = find(draft.get("moments", []), edit.moment, "moment")
    draft.own("moments").remove(moment)
    return f"took {moment['name']} away, which was marked at {moment['at']:g}"
