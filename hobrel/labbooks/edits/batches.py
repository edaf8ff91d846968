"""Several edits that belong together."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, create_model

from hobrel.core.document.limits import MOST_SETTINGS
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel
from hobrel.labbooks.edits.registry import change_draft, kind, union_of
from hobrel.server import policy


class Together(EditModel):
    """Several edits that belong together, as a pasted block; all or none."""

    type: Literal["batch"] = "batch"
    words: Annotated[str, Field(max_length=200)]
    edits: list[Any]


Single = Annotated[union_of(in_batch=True), Field(discriminator="type")]
Batch = create_model(
    "Batch",
    __base__=Together,
    __doc__=Together.__doc__,
    edits=(Annotated[list[Single], Field(min_length=1, max_length=MOST_SETTINGS * 4)], ...),
)


@kind(policy.left_to_the_bench)
def make_batch(draft: Draft, edit: Batch) -> str:  # type: ignore[valid-type]
    for single in edit.edits:  # type: ignore[attr-defined]
        change_draft(draft, single)
    words: str = edit.words  # type: ignore[attr-defined]
    return words
