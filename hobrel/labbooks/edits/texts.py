"""Edits of what a bench writes and sketches."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, Key
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.edits.report import known_sections
from hobrel.server import policy
from hobrel.server.problems import Problem

Paragraph = Annotated[str, Field(max_length=20_000)]


class WriteText(EditModel):
    """Write one of the bench's paragraphs. `was` is what it replaces."""

    type: Literal["write_text"] = "write_text"
    section: Key
    text: Paragraph
    was: Paragraph = ""


@kind(policy.left_to_the_bench, in_batch=True)
def write_text(draft: Draft, edit: WriteText) -> str:
    if edit.section not in known_sections(draft):
        raise Problem(409, "gone", "This section is no longer in the report.")
    current = draft["texts"].get(edit.section, "")
    if current not in (edit.was, edit.text):
        raise Problem(409, "clash", "Somebody else has changed this paragraph meanwhile.", {"theirs": current})
    draft.own("texts")[edit.section] = edit.text
    return f"wrote: {edit.section}"


class SketchPointIn(EditModel):
    x: Annotated[float, Field(ge=0, le=1)]
    y: Annotated[float, Field(ge=0, le=1)]


class DrawSketch(EditModel):
    """Sketch the expected curve by a few places on empty axes."""

    type: Literal["draw_sketch"] = "draw_sketch"
    points: Annotated[list[SketchPointIn], Field(max_length=24)]


@kind(policy.left_to_the_bench)
def draw_sketch(draft: Draft, edit: DrawSketch) -> str:
    draft["sketch"] = edit.model_dump()["points"]
    return "sketched what to expect" if edit.points else "took the sketch away"
