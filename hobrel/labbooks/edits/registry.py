"""The kinds of edits, each registered where it is written: its shape, the rule that it is under, and what it does.

From here come the API's union of edits, the history's sentences, and the one way in, `apply_edit`. A new kind touches the file it is in.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar, Union, get_type_hints

from hobrel.core.errors import CoreError
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.gates import only_sets_aside
from hobrel.labbooks.edits.parts import EditModel
from hobrel.labbooks.edits.patches import Patch, check_sizes, find_patches, place_of
from hobrel.labbooks.places import Document
from hobrel.server.problems import Problem

E = TypeVar("E", bound=EditModel)
Rule = Callable[[Document, Any], None]
Change = Callable[[Draft, Any], str]


@dataclass(frozen=True)
class Kind:
    """A kind of edit.

    Attributes
    ----------
    model : the shape of its edits
    rule : of the policy; raises 403 for what this lab book's plan does not leave to the bench
    change : makes the change in a draft, and says it in a sentence; raises 409 or 422 where it cannot be made
    in_batch : whether it may be one of several that belong together
    """

    model: type[EditModel]
    rule: Rule
    change: Change
    in_batch: bool


KINDS: dict[str, Kind] = {}


def kind(rule: Rule, in_batch: bool = False) -> Callable[[Callable[[Draft, E], str]], Callable[[Draft, E], str]]:
    """Register a kind of edit; the model is the second parameter of the function that makes the change."""

    def register(change: Callable[[Draft, E], str]) -> Callable[[Draft, E], str]:
        model = list(get_type_hints(change).values())[1]
        KINDS[model.model_fields["type"].default] = Kind(model, rule, change, in_batch)
        return change

    return register


def union_of(in_batch: bool = False) -> Any:
    """The shapes of all kinds, or of those that can be one of several, told apart by their `type`."""
    return Union[tuple(k.model for k in KINDS.values() if k.in_batch or not in_batch)]  # noqa: UP007  made when all are known


@dataclass(frozen=True)
class Applied:
    """The document after an edit, what that has changed, and a sentence for the history."""

    document: Document
    patches: list[Patch]
    words: str


def apply_edit(document: Document, edit: EditModel) -> Applied:
    """Apply an edit to a lab book document, which is left as it is.

    Raises
    ------
    Problem
        409 ``clash`` when a place no longer holds what the edit replaces (with `theirs`), 409 ``gone`` when it is no longer there, 403
        ``given`` for what the plan has fixed, 422 where there is too much of something, or what the core refuses to read.
    """
    draft = Draft(document)
    words = change_draft(draft, edit)
    after = dict(draft)
    patches = find_patches(document, after)
    check_sizes(patches)
    _keep_given_readings(document, patches)
    return Applied(after, patches, words)


def _keep_given_readings(document: Document, patches: Sequence[Patch]) -> None:
    """Readings that the plan gives may be set aside; they are not changed, and stay.

    Raises
    ------
    Problem
        403 ``given``.
    """
    part = document.get("plan", {})
    given = part.get("given_runs", ()) if not part.get("draft") else ()
    for patch in patches if given else ():
        place = place_of(patch)
        if place[0] != "runs" or place[1] not in given or only_sets_aside(patch):
            continue
        raise Problem(
            403, "given", "These readings are given by the plan. They can be set aside with a reason; your own go into another run."
        )


def change_draft(draft: Draft, edit: EditModel) -> str:
    """Make one change in a draft, if the policy lets the bench, and say it in a sentence."""
    known = KINDS[edit.type]  # type: ignore[attr-defined]
    known.rule(draft, edit)
    try:
        return known.change(draft, edit)
    except CoreError as trouble:
        raise Problem(422, trouble.code, trouble.message) from trouble
