"""Edits of what is fitted to a graph, and how."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from hobrel.core.document.choices import OF_FIT, WeightKind
from hobrel.core.document.limits import MOST_FITS, MOST_NUMBERS, MOST_STAGES, MOST_STATES
from hobrel.core.fitting.shapes import SHAPES
from hobrel.core.stepping.loops import StepWay
from hobrel.labbooks.edits.changing import PartEdit, change_item
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.graphs import refuse_in_use, say_axes
from hobrel.labbooks.edits.parts import EditModel, End, Finite, FormulaText, Key, Name, ReadingText, Symbol, UnitText, check_range
from hobrel.labbooks.edits.registry import kind
from hobrel.labbooks.places import find, has
from hobrel.server import policy
from hobrel.server.problems import Problem


class ByEyeIn(EditModel):
    gradient: Finite
    intercept: Finite


class UnknownIn(EditModel):
    id: Key
    name: Name
    readings: Annotated[list[Annotated[str, Field(min_length=1, max_length=60)]], Field(max_length=20)] = []


class RateStageIn(EditModel):
    id: Key
    when: FormulaText
    rate: FormulaText


class StateIn(EditModel):
    """What a step-by-step model carries along, its start and how fast it changes."""

    id: Key
    symbol: Symbol
    unit: UnitText = ""
    start: Annotated[str, Field(max_length=60)] = "0"
    rate: FormulaText = ""
    stages: Annotated[list[RateStageIn], Field(max_length=MOST_STAGES)] = []
    fitted: bool = False


class ModelNumberIn(EditModel):
    id: Key
    symbol: Symbol
    unit: UnitText = ""
    value: ReadingText
    fitted: bool = False


class StepModelIn(EditModel):
    """A model that is computed step by step along x."""

    states: Annotated[list[StateIn], Field(max_length=MOST_STATES)] = []
    numbers: Annotated[list[ModelNumberIn], Field(max_length=MOST_NUMBERS)] = []
    drawn: FormulaText = ""
    begins: ReadingText = "0"
    step: ReadingText = ""
    way: StepWay = "fourth"


class FitChoice(EditModel):
    """What is fitted, and how; lines drawn by eye beside it, and unknowns that are read back from it."""

    weights: WeightKind = "both_bars"
    through_origin: bool = False
    shape: Annotated[str, Field(max_length=30, pattern=r"^[a-z_]+$")] = "line"
    formula: FormulaText = ""
    parameters: Annotated[list[Symbol], Field(max_length=12)] = []
    low: End = None
    high: End = None
    by_eye: ByEyeIn | None = None
    steepest_by_eye: ByEyeIn | None = None
    shallowest_by_eye: ByEyeIn | None = None
    show_extremes: bool = False
    hidden: bool = False
    show_equation: bool = False
    run: Annotated[str, Field(max_length=40)] = ""
    y: Annotated[str, Field(max_length=40)] = ""
    expected: Annotated[str, Field(max_length=20)] = ""
    unknowns: Annotated[list[UnknownIn], Field(max_length=40)] = []
    steps: StepModelIn = StepModelIn()


_MOST_UNKNOWNS = 40


class PlaceFit(PartEdit):
    """Choose something anew of what is fitted to a graph, and how."""

    type: Literal["place_fit"] = "place_fit"
    fit: Key
    was: FitChoice
    becomes: FitChoice


@kind(policy.left_to_the_bench, in_batch=True)
def place_fit(draft: Draft, edit: PlaceFit) -> str:
    find(draft["fits"], edit.fit, "fit")
    _check_shape(edit.becomes.shape)
    changed = change_item(draft, "fits", edit, edit.fit, FitChoice(), "this fit")
    fit = {**FitChoice().model_dump(), **find(draft["fits"], edit.fit, "fit")}
    check_range(fit["low"], fit["high"])
    if len(fit["unknowns"]) > _MOST_UNKNOWNS:
        raise Problem(422, "too_large", f"A fit holds at most {_MOST_UNKNOWNS} unknowns.")
    # two people may have added at once
    for most, what, items in (
        (MOST_STATES, "states", fit["steps"]["states"]),
        (MOST_NUMBERS, "numbers", fit["steps"]["numbers"]),
        *((MOST_STAGES, "stages of a rate", state["stages"]) for state in fit["steps"]["states"]),
    ):
        if len(items) > most:
            raise Problem(422, "too_large", f"A step-by-step model holds at most {most} {what}.")
    return _say_fit(fit, changed)


def _check_shape(shape: str) -> None:
    if shape not in ("own", "steps", *SHAPES):
        raise Problem(422, "bad_shape", f"There is no shape called {shape}.")


def _say_fit(fit: dict[str, Any], changed: dict[str, Any]) -> str:
    """What has been chosen anew, in words."""
    weights = {"both_bars": "weighted by both bars", "y_bars": "weighted by the bars in y", "none": "not weighted"}[fit["weights"]]
    kind = {"own": "own formula", "steps": "a step-by-step model"}.get(fit["shape"], fit["shape"].replace("_", " "))
    words = {
        "weights": weights,
        "through_origin": "through the origin" if fit["through_origin"] else "with an intercept",
        "shape": kind,
        "formula": f"y = {fit['formula']}",
        "low": "all points" if fit["low"] is None and fit["high"] is None else f"from {_end(fit['low'])} to {_end(fit['high'])}",
        "by_eye": "a line by eye" if fit["by_eye"] else "no line by eye",
        "steepest_by_eye": "steepest by eye" if fit["steepest_by_eye"] else "no steepest by eye",
        "shallowest_by_eye": "shallowest by eye" if fit["shallowest_by_eye"] else "no shallowest by eye",
        "run": "another run",
        "y": "another quantity",
        "expected": f"exponent {fit['expected']} expected" if fit["expected"] else "no exponent expected",
        "unknowns": "its unknowns",
        "steps": "its step-by-step model",
        "show_extremes": "steepest and shallowest drawn" if fit["show_extremes"] else "steepest and shallowest not drawn",
        "hidden": "not drawn" if fit["hidden"] else "drawn",
        "show_equation": "its equation on the graph" if fit["show_equation"] else "no equation on the graph",
    }
    said = [words[k] for k in words if k in changed or (k == "low" and "high" in changed)]
    return f"fit: {', '.join(said) or weights}"


def _end(value: float | None) -> str:
    return "the end" if value is None else f"{value:.4g}"


class AddFit(EditModel):
    """Fit something more on a graph."""

    type: Literal["add_fit"] = "add_fit"
    fit: Key
    graph: Key
    choice: FitChoice = FitChoice()


@kind(policy.left_to_the_bench)
def add_fit(draft: Draft, edit: AddFit) -> str:
    if has(draft["fits"], edit.fit):
        raise Problem(409, "gone", "This fit is in the lab book already.")
    if len(draft["fits"]) >= MOST_FITS:
        raise Problem(422, "too_large", f"A lab book holds at most {MOST_FITS} fits.")
    _check_shape(edit.choice.shape)
    graph = find(draft["graphs"], edit.graph, "graph")
    draft.own("fits").append({**edit.choice.model_dump(), "id": edit.fit, "graph": edit.graph})
    return f"fitted something more: {say_axes(draft, graph['x'], edit.choice.y or graph['y'])}"


class RemoveFit(EditModel):
    type: Literal["remove_fit"] = "remove_fit"
    fit: Key


@kind(policy.left_to_the_bench)
def remove_fit(draft: Draft, edit: RemoveFit) -> str:
    fit = find(draft["fits"], edit.fit, "fit")
    refuse_in_use(draft, OF_FIT, edit.fit, "This fit")
    slope = next((q for q in draft["quantities"] if q.get("tangent_of") == edit.fit), None)
    if slope:
        raise Problem(409, "in_use", f"{slope['name']} is the slope of this fit. Remove that quantity first.")
    result = next((q for q in draft["quantities"] if (q.get("result_of") or {}).get("of") == edit.fit), None)
    if result:
        raise Problem(409, "in_use", f"{result['name']} is what this fit gives in every run. Remove that quantity first.")
    draft.own("fits").remove(fit)
    return "removed a fit"
