"""The edits of what a bench draws, fits and finds: graphs with their notes, fits, findings, the sketched expectation."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.core.document.choices import IngredientKind, NoteAnchor, WeightKind
from hobrel.labbooks.edits.parts import EditModel, Key, Name, Symbol, UnitText

Finite = Annotated[float, Field(allow_inf_nan=False)]
End = Finite | None
Share = Annotated[float, Field(allow_inf_nan=False, ge=-1, le=1)]


class NoteIn(EditModel):
    id: Key
    text: Annotated[str, Field(min_length=1, max_length=300)]
    anchor: NoteAnchor
    of: Annotated[str, Field(max_length=40)] = ""
    x: Finite = 0.0
    x_high: End = None
    right: Share = 0.06
    up: Share = 0.12


class GraphLook(EditModel):
    """What a graph shows besides the quantities of its axes."""

    origin: bool = False
    x_low: End = None
    x_high: End = None
    y_low: End = None
    y_high: End = None
    also: Annotated[list[Key], Field(max_length=5)] = []
    runs: Annotated[list[Key], Field(max_length=11)] = []
    hidden: Annotated[list[Annotated[str, Field(max_length=90)]], Field(max_length=72)] = []
    notes: Annotated[list[NoteIn], Field(max_length=30)] = []


class PlaceGraph(GraphLook):
    """Choose what is on the axes of a graph, which runs and further quantities are drawn, the range that is shown, and its notes."""

    type: Literal["place_graph"] = "place_graph"
    graph: Key
    x: Key
    y: Key


class TitledLook(GraphLook):
    title: Annotated[str, Field(max_length=200)] = ""


class AddGraph(EditModel):
    """Add a graph; `at` is its place (at the end without one)."""

    type: Literal["add_graph"] = "add_graph"
    graph: Key
    x: Key
    y: Key
    at: Annotated[int, Field(ge=0)] | None = None
    look: TitledLook = TitledLook()


class RemoveGraph(EditModel):
    type: Literal["remove_graph"] = "remove_graph"
    graph: Key


class ByEyeIn(EditModel):
    gradient: Finite
    intercept: Finite


class UnknownIn(EditModel):
    id: Key
    name: Name
    readings: Annotated[list[Annotated[str, Field(min_length=1, max_length=60)]], Field(min_length=1, max_length=20)]


class FitChoice(EditModel):
    """What is fitted, and how; lines drawn by eye beside it, and unknowns that are read back from it."""

    weights: WeightKind = "both_bars"
    through_origin: bool = False
    shape: Annotated[str, Field(max_length=30, pattern=r"^[a-z_]+$")] = "line"
    formula: Annotated[str, Field(max_length=400)] = ""
    parameters: Annotated[list[Symbol], Field(max_length=12)] = []
    low: End = None
    high: End = None
    by_eye: ByEyeIn | None = None
    steepest_by_eye: ByEyeIn | None = None
    shallowest_by_eye: ByEyeIn | None = None
    show_extremes: bool = False
    run: Annotated[str, Field(max_length=40)] = ""
    y: Annotated[str, Field(max_length=40)] = ""
    expected: Annotated[str, Field(max_length=20)] = ""
    unknowns: Annotated[list[UnknownIn], Field(max_length=40)] = []


class PlaceFit(FitChoice):
    """Choose what is fitted to a graph and how, and the lines drawn by eye beside it."""

    type: Literal["place_fit"] = "place_fit"
    fit: Key


class AddFit(EditModel):
    """Fit something more on a graph."""

    type: Literal["add_fit"] = "add_fit"
    fit: Key
    graph: Key
    choice: FitChoice = FitChoice()
    at: Annotated[int, Field(ge=0)] | None = None


class RemoveFit(EditModel):
    type: Literal["remove_fit"] = "remove_fit"
    fit: Key


class IngredientIn(EditModel):
    symbol: Symbol
    kind: IngredientKind
    of: Key
    part: Annotated[str, Field(max_length=40)] = ""
    at: Annotated[str, Field(max_length=60)] = ""
    low: End = None
    high: End = None
    run: Annotated[str, Field(max_length=40)] = ""
    repeats: Annotated[int, Field(ge=1, le=100)] = 1


class AcceptedIn(EditModel):
    value: Annotated[str, Field(min_length=1, max_length=60)]
    u: Annotated[str, Field(max_length=60)] = ""
    source: Annotated[str, Field(max_length=200)] = ""


class FindingIn(EditModel):
    name: Name
    symbol: Symbol
    unit: UnitText = ""
    formula: Annotated[str, Field(max_length=400)]
    fit: Annotated[str, Field(max_length=40)] = ""
    accepted: AcceptedIn | None = None
    uses: Annotated[list[IngredientIn], Field(max_length=12)] = []
    compare: Annotated[list[Key], Field(max_length=8)] = []


class PutFinding(EditModel):
    """Add a finding of the bench's own, or write it anew; of one that the plan gives, only what it is compared with changes."""

    type: Literal["put_finding"] = "put_finding"
    finding: Key
    content: FindingIn
    at: Annotated[int, Field(ge=0)] | None = None
    rounded: Annotated[str, Field(max_length=80)] = ""


class RemoveFinding(EditModel):
    type: Literal["remove_finding"] = "remove_finding"
    finding: Key


class WriteRounding(EditModel):
    """Write a finding rounded by hand. `was` is what it replaces."""

    type: Literal["write_rounding"] = "write_rounding"
    finding: Key
    text: Annotated[str, Field(max_length=80)]
    was: Annotated[str, Field(max_length=80)] = ""


class SketchPointIn(EditModel):
    x: Annotated[float, Field(ge=0, le=1)]
    y: Annotated[float, Field(ge=0, le=1)]


class DrawSketch(EditModel):
    """Sketch the expected curve by a few places on empty axes."""

    type: Literal["draw_sketch"] = "draw_sketch"
    points: Annotated[list[SketchPointIn], Field(max_length=24)]
