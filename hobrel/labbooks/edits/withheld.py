"""What a plan shows only later comes into a lab book with the edit that earns it. See decision 33."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.document.plans import bring_in, what_is_due
from hobrel.labbooks.edits.patches import find_patches
from hobrel.labbooks.edits.registry import Applied
from hobrel.labbooks.places import Document


def bring_in_what_is_due(before: Document, applied: Applied, version: Callable[[], dict[str, Any] | None]) -> Applied:
    """An edit with what its lab book has earned by it; `version` is asked for only where there is something."""
    document = applied.document
    if not document.get("plan", {}).get("withheld"):
        return applied
    book = read_lab_book(document)
    due = what_is_due(book)
    whole = version() if due else None
    if whole is None:
        return applied
    earned = bring_in(book, read_lab_book(whole), due)
    accepted = {f.id: asdict(f.accepted) if f.accepted else None for f in earned.findings}
    after = {
        **document,
        "relation": earned.relation,
        "findings": [{**finding, "accepted": accepted[finding["id"]]} for finding in document["findings"]],
        "plan": {**document["plan"], "withheld": list(earned.plan.withheld)},
    }
    return Applied(after, find_patches(before, after), applied.words)
