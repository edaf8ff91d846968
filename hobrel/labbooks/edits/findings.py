"""Edits of findings: the bench's own, what they are compared with, and how they are rounded by hand."""

from __future__ import annotations

from typing import Any

from hobrel.core.document.lab_book import Finding, read_lab_book
from hobrel.core.document.limits import MOST_FINDINGS
from hobrel.core.formulas.reading import canonical_name
from hobrel.labbooks.edits.chosen_kinds import FindingIn, PutFinding, RemoveFinding, WriteRounding
from hobrel.labbooks.edits.places import Document, check_symbol, check_unit, find, write_symbol
from hobrel.server.problems import Problem


def put_finding(document: Document, edit: PutFinding) -> str:
    findings = document["findings"]
    old = next((f for f in findings if f["id"] == edit.finding), None)
    new = edit.content.model_dump()
    if old is not None and old.get("given", True):
        if any(new[k] != _content(old)[k] for k in new if k != "compare"):
            raise Problem(403, "given", f"{old['name']} is given by the plan. What it is compared with is yours to choose.")
    else:
        _check(document, edit)
    if edit.finding in edit.content.compare:
        raise Problem(422, "itself", "A finding is compared with another one, not with itself.")
    if old is None:
        if len(findings) >= MOST_FINDINGS:
            raise Problem(422, "too_large", f"A lab book holds at most {MOST_FINDINGS} findings.")
        finding = {**new, "id": edit.finding, "given": False, "rounded": edit.rounded}
        findings.insert(len(findings) if edit.at is None else edit.at, finding)
        return f"new finding: {_say(new)}"
    old.update(new)
    return f"finding: {_say(new)}"


def remove_finding(document: Document, edit: RemoveFinding) -> str:
    findings = document["findings"]
    finding = find(findings, edit.finding, "finding")
    if finding.get("given", True):
        raise Problem(403, "given", f"{finding['name']} is asked for by the plan.")
    for other in findings:
        if edit.finding in other.get("compare", ()) or any(
            i["kind"] == "finding" and i["of"] == edit.finding for i in other.get("uses", ())
        ):
            raise Problem(409, "in_use", f"{other['name']} uses this finding or is compared with it. Change that first.")
    findings.remove(finding)
    return f"removed the finding {_say(finding)}"


def write_rounding(document: Document, edit: WriteRounding) -> str:
    finding = find(document["findings"], edit.finding, "finding")
    current = finding.get("rounded", "")
    if current != edit.was:
        raise Problem(409, "clash", "Somebody at your bench has rounded this meanwhile.", {"theirs": current})
    finding["rounded"] = edit.text
    return f"rounded {write_symbol(finding['symbol'])}: {edit.text or 'nothing'}"


def draft_finding(content: FindingIn) -> Finding:
    """A finding that is still being written, as the core knows it."""
    book = read_lab_book({"title": "", "findings": [{**content.model_dump(), "id": "draft", "given": False}]})
    return book.findings[0]


def _content(finding: dict[str, Any]) -> dict[str, Any]:
    return FindingIn(**{k: v for k, v in finding.items() if k in FindingIn.model_fields}).model_dump()


def _say(content: dict[str, Any]) -> str:
    return f"{content['name']}, {write_symbol(content['symbol'])} = {content['formula']}"


def _check(document: Document, edit: PutFinding) -> None:
    content = edit.content
    check_unit(content.unit)
    others = [f for f in document["findings"] if f["id"] != edit.finding]
    check_symbol([*document["quantities"], *others], content.symbol, "derived")
    named: list[dict[str, Any]] = []
    for ingredient in content.uses:
        check_symbol(named, ingredient.symbol, "measured")
        named.append({"symbol": ingredient.symbol, "name": "something else that this finding uses"})
    if any(canonical_name(n["symbol"]) == canonical_name(content.symbol) for n in named):
        raise Problem(422, "symbol_taken", f"{content.symbol} is the finding itself. Give what it uses another symbol.")
