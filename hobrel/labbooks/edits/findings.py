"""Edits of findings: the bench's own, what they are compared with, and how they are rounded by hand."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.choices import IngredientKind
from hobrel.core.document.lab_book import Finding, read_lab_book
from hobrel.core.document.limits import MOST_FINDINGS
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.typeset import write_symbol
from hobrel.labbooks.edits.changing import PartEdit, change_item
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, End, FormulaText, Key, Name, ReadingText, Symbol, UnitText, check_range
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import Document, check_known, check_symbol, check_unit, find, has
from hobrel.server import policy
from hobrel.server.problems import Problem


class IngredientIn(EditModel):
    symbol: Symbol
    kind: IngredientKind
    of: Key
    part: Annotated[str, Field(max_length=40)] = ""
    at: ReadingText = ""
    low: End = None
    high: End = None
    run: Annotated[str, Field(max_length=40)] = ""
    repeats: Annotated[int, Field(ge=1, le=100)] = 1


class AcceptedIn(EditModel):
    value: Annotated[str, Field(min_length=1, max_length=60)]
    u: ReadingText = ""
    source: Annotated[str, Field(max_length=200)] = ""


class FindingIn(EditModel):
    name: Name
    symbol: Symbol
    unit: UnitText = ""
    formula: FormulaText
    fit: Annotated[str, Field(max_length=40)] = ""
    accepted: AcceptedIn | None = None
    uses: Annotated[list[IngredientIn], Field(max_length=12)] = []
    compare: Annotated[list[Key], Field(max_length=8)] = []


class FindingPart(FindingIn):
    """Fields of a finding."""

    name: Name = "this"
    symbol: Symbol = "w"
    formula: FormulaText = ""


class AddFinding(EditModel):
    """Add a finding of the bench's own."""

    type: Literal["add_finding"] = "add_finding"
    finding: Key
    content: FindingIn


@kind(policy.left_to_the_bench)
def add_finding(draft: Draft, edit: AddFinding) -> str:
    if has(draft["findings"], edit.finding):
        raise Problem(409, "gone", "This finding is in the lab book already.")
    if len(draft["findings"]) >= MOST_FINDINGS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_FINDINGS} findings.")
    content = edit.content.model_dump()
    _check(draft, edit.finding, content)
    _check_accepted(content)
    draft.own("findings").append({**content, "id": edit.finding, "given": False, "rounded": "", "needed": ""})
    return f"new finding: {_say(content)}"


class ChangeFinding(PartEdit):
    """Write something anew of a finding; of one that the plan gives, only what it is compared with changes."""

    type: Literal["change_finding"] = "change_finding"
    finding: Key
    was: FindingPart
    becomes: FindingPart


@kind(policy.finding)
def change_finding(draft: Draft, edit: ChangeFinding) -> str:
    find(draft["findings"], edit.finding, "finding")
    change_item(draft, "findings", edit, edit.finding, FindingPart(), "this finding")
    content = {**FindingPart().model_dump(), **find(draft["findings"], edit.finding, "finding")}
    # what the plan has written is not the bench's to put right
    _check(draft, edit.finding, content, own=not content.get("given", True))
    if edit.becomes.model_fields_set & {"accepted", "unit"}:
        _check_accepted(content)
    return f"finding: {_say(content)}"


class RemoveFinding(EditModel):
    type: Literal["remove_finding"] = "remove_finding"
    finding: Key


@kind(policy.own_finding)
def remove_finding(draft: Draft, edit: RemoveFinding) -> str:
    finding = find(draft["findings"], edit.finding, "finding")
    for other in draft["findings"]:
        if edit.finding in other.get("compare", ()) or any(
            i["kind"] == "finding" and i["of"] == edit.finding for i in other.get("uses", ())
        ):
            raise Problem(409, "in_use", f"{other['name']} uses this finding or is compared with it. Change that first.")
    draft.own("findings").remove(finding)
    return f"removed the finding {_say(finding)}"


Rounding = Annotated[str, Field(max_length=80)]
Needed = Annotated[str, Field(max_length=300)]


class WriteRounding(EditModel):
    """Write a finding rounded by hand. `was` is what it replaces."""

    type: Literal["write_rounding"] = "write_rounding"
    finding: Key
    text: Rounding
    was: Rounding = ""


@kind(policy.left_to_the_bench)
def write_rounding(draft: Draft, edit: WriteRounding) -> str:
    return f"rounded {_write_own(draft, edit, 'rounded', 'rounded this')}: {edit.text or 'nothing'}"


class WriteNeeded(EditModel):
    """Write what the bench would need to see before it says that a finding agrees. `was` is what it replaces."""

    type: Literal["write_needed"] = "write_needed"
    finding: Key
    text: Needed
    was: Needed = ""


@kind(policy.left_to_the_bench)
def write_needed(draft: Draft, edit: WriteNeeded) -> str:
    return f"wrote what would have to be seen of {_write_own(draft, edit, 'needed', 'written this')}: {edit.text or 'nothing'}"


def _write_own(draft: Draft, edit: WriteRounding | WriteNeeded, part: str, done: str) -> str:
    """Write the bench's own words about a finding; its symbol."""
    finding = find(draft["findings"], edit.finding, "finding")
    current = finding.get(part, "")
    if current != edit.was:
        raise Problem(409, "clash", f"Somebody else has {done} meanwhile.", {"theirs": current})
    draft.own("findings", edit.finding)[part] = edit.text
    return write_symbol(finding["symbol"])


def draft_finding(content: FindingIn) -> Finding:
    """A finding that is still being written, as the core knows it."""
    book = read_lab_book({"title": "", "findings": [{**content.model_dump(), "id": "draft", "given": False}]})
    return book.findings[0]


def _say(content: dict[str, Any]) -> str:
    return f"{content['name']}, {write_symbol(content['symbol'])} = {content['formula']}"


def _check_accepted(content: dict[str, Any]) -> None:
    if accepted := content["accepted"]:
        check_known(accepted["value"], accepted["u"], content["unit"])


def _check(document: Document, key: str, content: dict[str, Any], own: bool = True) -> None:
    """Refuse a finding that cannot be read in formulas, uses one name twice, or is compared with itself."""
    if key in content["compare"]:
        raise Problem(422, "itself", "A finding is compared with another one, not with itself.")
    if not own:
        return
    if len(content["uses"]) > _MOST_USED or len(content["compare"]) > _MOST_COMPARED:
        raise Problem(422, "too_large", f"A finding uses at most {_MOST_USED} numbers and is compared with {_MOST_COMPARED} others.")
    check_unit(content["unit"])
    others = [f for f in document["findings"] if f["id"] != key]
    check_symbol([*document["quantities"], *others], content["symbol"], "derived")
    named: list[dict[str, Any]] = []
    for ingredient in content["uses"]:
        check_range(ingredient["low"], ingredient["high"])
        check_symbol(named, ingredient["symbol"], "measured")
        named.append({"symbol": ingredient["symbol"], "name": "something else that this finding uses"})
    if any(canonical_name(n["symbol"]) == canonical_name(content["symbol"]) for n in named):
        raise Problem(422, "symbol_taken", f"{content['symbol']} is the finding itself. Give what it uses another symbol.")


_MOST_USED, _MOST_COMPARED = 12, 8
