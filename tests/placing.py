"""Edits that change some fields of a graph, a fit, a quantity or a finding, as the page makes them from what it shows."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from hobrel.core.document.lab_book import write_lab_book
from hobrel.labbooks.edits.findings import FindingPart
from hobrel.labbooks.edits.fits import FitChoice
from hobrel.labbooks.edits.graphs import GraphPart
from hobrel.labbooks.edits.kinds import edit_adapter
from hobrel.labbooks.edits.quantities import QuantityPart
from hobrel.labbooks.edits.registry import apply_edit
from tests.school import fill, make_school

_PLACES: dict[str, tuple[str, str, Any]] = {
    "place_graph": ("graphs", "graph", GraphPart()),
    "place_fit": ("fits", "fit", FitChoice()),
    "change_quantity": ("quantities", "quantity", QuantityPart()),
    "change_finding": ("findings", "finding", FindingPart()),
}


def placing(document: dict[str, Any], kind: str, key: str, readings: str = "", **becomes: Any) -> dict[str, Any]:
    """The edit of a kind that changes these fields of the item of this id."""
    items, of, defaults = _PLACES[kind]
    item = next((i for i in document[items] if i["id"] == key), {})
    now = {**defaults.model_dump(), **{k: v for k, v in item.items() if k in type(defaults).model_fields}}
    how = {"readings": readings} if readings else {}
    return {"type": kind, of: key, **how, "was": {name: now[name] for name in becomes}, "becomes": becomes}


class EditedDocument(TestCase):
    """The document of a bench's lab book, and what edits make of it."""

    def setUp(self) -> None:
        self.document = write_lab_book(fill(make_school().book, 4))

    def after(self, *edits: dict[str, Any]) -> dict[str, Any]:
        document = self.document
        for edit in edits:
            document = apply_edit(document, edit_adapter.validate_python(edit)).document
        return document
