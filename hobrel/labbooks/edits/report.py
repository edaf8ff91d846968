"""Edits of what a bench decides about its report: order of parts, what is left out, sections and pictures. See decision 42."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.limits import MOST_PICTURES, MOST_SECTIONS
from hobrel.core.presentation.stages import REPORT_SECTIONS
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, Key
from hobrel.labbooks.edits.plans import PictureIn, Title
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import find, has
from hobrel.server import policy
from hobrel.server.problems import Problem

PartKey = Annotated[str, Field(max_length=120, pattern=r"^[a-z_]+(:[A-Za-z0-9_-]+(\.[A-Za-z0-9_-]+)?)?$")]
MOST_PARTS = 120
_OWN_SECTIONS = (*REPORT_SECTIONS, "choice")


def known_sections(document: Any) -> set[str]:
    """The keys of all paragraphs that a lab book has room for."""
    planned, own = document.get("plan", {}).get("sections", []), document.get("report", {}).get("sections", [])
    return {*_OWN_SECTIONS, *(s["id"] for s in planned), *(s["id"] for s in own)}


def _own(draft: Draft, *path: str) -> Any:
    """A part of what has been decided, for changing; a lab book that was written before there was any has none."""
    draft["report"] = {"order": [], "left_out": [], "sections": [], "pictures": [], "typed": {}} | draft.get("report", {})
    return draft.own("report", *path)


class ArrangeReport(EditModel):
    """Put the parts of the report in an order."""

    type: Literal["arrange_report"] = "arrange_report"
    order: Annotated[list[PartKey], Field(max_length=MOST_PARTS)]


@kind(policy.left_to_the_bench, in_batch=True)
def arrange_report(draft: Draft, edit: ArrangeReport) -> str:
    _own(draft)["order"] = list(dict.fromkeys(edit.order))
    return "moved a part of the report"


class LeavePartOut(EditModel):
    """Leave a part out of the report, or have it in again."""

    type: Literal["leave_part_out"] = "leave_part_out"
    part: PartKey
    title: Annotated[str, Field(max_length=200)]
    out: bool


@kind(policy.left_to_the_bench, in_batch=True)
def leave_part_out(draft: Draft, edit: LeavePartOut) -> str:
    listed = [key for key in _own(draft)["left_out"] if key != edit.part]
    if len(listed) >= MOST_PARTS:
        raise Problem(422, "too_large", f"A report holds at most {MOST_PARTS} parts.")
    _own(draft)["left_out"] = [*listed, edit.part] if edit.out else listed
    return f"left {edit.title} out of the report" if edit.out else f"put {edit.title} into the report again"


class AddSection(EditModel):
    """Add a section to the report."""

    type: Literal["add_section"] = "add_section"
    section: Key
    title: Title


@kind(policy.left_to_the_bench, in_batch=True)
def add_section(draft: Draft, edit: AddSection) -> str:
    if edit.section in known_sections(draft):
        raise Problem(409, "gone", "This section is in the report already.")
    sections = _own(draft)["sections"]
    if len(sections) >= MOST_SECTIONS:
        raise Problem(422, "too_large", f"A report holds at most {MOST_SECTIONS} sections of one’s own.")
    _own(draft)["sections"] = [*sections, {"id": edit.section, "title": edit.title}]
    return f"added the section {edit.title}"


class NameSection(EditModel):
    """Call a section of one's own something else."""

    type: Literal["name_section"] = "name_section"
    section: Key
    title: Title


@kind(policy.left_to_the_bench, in_batch=True)
def name_section(draft: Draft, edit: NameSection) -> str:
    before = find(_own(draft)["sections"], edit.section, "section")["title"]
    _own(draft, "sections", edit.section)["title"] = edit.title
    return f"called the section {before} {edit.title}"


class RemoveSection(EditModel):
    """Take a section of one's own away, with what is written in it."""

    type: Literal["remove_section"] = "remove_section"
    section: Key


@kind(policy.left_to_the_bench, in_batch=True)
def remove_section(draft: Draft, edit: RemoveSection) -> str:
    section = find(_own(draft)["sections"], edit.section, "section")
    _own(draft, "sections").remove(section)
    if edit.section in draft["texts"]:
        del draft.own("texts")[edit.section]
    return f"removed the section {section['title']}"


class AddReportPicture(EditModel):
    """Put a picture that has been sent before into the report."""

    type: Literal["add_report_picture"] = "add_report_picture"
    picture: PictureIn


@kind(policy.left_to_the_bench, in_batch=True)
def add_report_picture(draft: Draft, edit: AddReportPicture) -> str:
    pictures = _own(draft)["pictures"]
    if has(pictures, edit.picture.id):
        raise Problem(409, "gone", "This picture is in the report already.")
    if len(pictures) >= MOST_PICTURES:
        raise Problem(422, "too_large", f"A report holds at most {MOST_PICTURES} pictures.")
    _own(draft)["pictures"] = [*pictures, edit.picture.model_dump()]
    return ": ".join(x for x in ("put a picture into the report", edit.picture.caption) if x)


class DescribeReportPicture(EditModel):
    """Write what is said below a picture, or what is to be seen on it; what is not given stays."""

    type: Literal["describe_report_picture"] = "describe_report_picture"
    picture: Key
    caption: Annotated[str, Field(max_length=200)] | None = None
    alt: Annotated[str, Field(max_length=300)] | None = None


@kind(policy.left_to_the_bench, in_batch=True)
def describe_report_picture(draft: Draft, edit: DescribeReportPicture) -> str:
    find(_own(draft)["pictures"], edit.picture, "picture")
    said = {name: words for name, words in (("caption", edit.caption), ("alt", edit.alt)) if words is not None}
    _own(draft, "pictures", edit.picture).update(said)
    return f"described a picture: {edit.caption or edit.alt or 'nothing'}"


class RemoveReportPicture(EditModel):
    type: Literal["remove_report_picture"] = "remove_report_picture"
    picture: Key


@kind(policy.left_to_the_bench, in_batch=True)
def remove_report_picture(draft: Draft, edit: RemoveReportPicture) -> str:
    picture = find(_own(draft)["pictures"], edit.picture, "picture")
    _own(draft, "pictures").remove(picture)
    return ": ".join(x for x in ("took a picture out of the report", picture["caption"]) if x)


class KeepTyped(EditModel):
    """Keep a number as it was typed by hand, with the name of the live value that it is now."""

    type: Literal["keep_typed"] = "keep_typed"
    section: Key
    typed: Annotated[str, Field(min_length=1, max_length=40)]
    name: Annotated[str, Field(min_length=1, max_length=80)]


@kind(policy.left_to_the_bench, in_batch=True)
def keep_typed(draft: Draft, edit: KeepTyped) -> str:
    kept = _own(draft)["typed"]
    if len(kept.get(edit.section, {})) >= MOST_PARTS or len(kept) >= MOST_PARTS:
        raise Problem(422, "too_large", "There are too many numbers in this section.")
    _own(draft)["typed"] = kept | {edit.section: kept.get(edit.section, {}) | {edit.typed: edit.name}}
    return f"left {edit.typed} as typed"
