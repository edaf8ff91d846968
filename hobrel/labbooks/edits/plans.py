"""Edits of what a plan says beside what is measured, and of the class's convention; and steps that a bench ticks. See decision 33."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hobrel.core.document.lab_book import DecimalMark, FitUncertainty, SlopeWord
from hobrel.core.document.limits import (
    MOST_CONDITIONS,
    MOST_FINDINGS,
    MOST_FITS,
    MOST_GRID_ROWS,
    MOST_KEPT_SAME,
    MOST_PICTURES,
    MOST_QUANTITIES,
    MOST_RUNS,
    MOST_SECTIONS,
    MOST_STEPS,
    MOST_TABLE_LINES,
    MOST_TABLES,
)
from hobrel.core.document.plan_part import AcceptedShown, FactKind, PoolOpens, RelationShown, StageName
from hobrel.core.formulas.ways import WayKind
from hobrel.core.rounding import RoundingRule
from hobrel.core.statistics.comparison import VerdictRule
from hobrel.core.statistics.spread import CombineKind, SpreadKind
from hobrel.labbooks.edits.changing import PartEdit, change_part
from hobrel.labbooks.edits.draft import Draft
from hobrel.labbooks.edits.parts import EditModel, FormulaText, Key, Name, ReadingText, Symbol, UnitText
from hobrel.labbooks.edits.registry import kind
from hobrel.server import policy
from hobrel.server.problems import Problem

Prompt = Annotated[str, Field(max_length=600)]
Line = Annotated[str, Field(min_length=1, max_length=200)]
Title = Annotated[str, Field(min_length=1, max_length=120)]


class PlanStepIn(EditModel):
    id: Key
    text: Line


class PictureIn(EditModel):
    """A picture that has been sent before, by its digest."""

    id: Key
    key: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")]
    alt: Annotated[str, Field(max_length=300)] = ""
    caption: Annotated[str, Field(max_length=200)] = ""
    width: Annotated[int, Field(ge=0, le=4000)]
    height: Annotated[int, Field(ge=0, le=4000)]
    data: Literal[""] = ""


class WantedIn(EditModel):
    count: Annotated[int, Field(ge=0, le=200)] = 0
    low: ReadingText = ""
    high: ReadingText = ""


class SectionIn(EditModel):
    id: Key
    title: Title
    hint: Prompt = ""
    wanted: bool = True
    fewest_words: Annotated[int, Field(ge=0, le=5000)] = 0


class GridRowIn(EditModel):
    id: Key
    title: Line
    levels: Annotated[list[Line], Field(max_length=8)] = []
    facts: Annotated[list[FactKind], Field(max_length=10)] = []


class ConditionIn(EditModel):
    id: Key
    name: Name
    words: Prompt = ""
    trials: Annotated[int, Field(ge=0, le=200)] = 0


class TableLineIn(EditModel):
    at: ReadingText
    value: ReadingText


class ReferenceTableIn(EditModel):
    id: Key
    name: Line
    symbol: Annotated[str, Field(max_length=30)] = ""
    unit: UnitText = ""
    of_name: Annotated[str, Field(max_length=80)] = ""
    of_unit: UnitText = ""
    lines: Annotated[list[TableLineIn], Field(max_length=MOST_TABLE_LINES)] = []
    u: ReadingText = ""
    source: Annotated[str, Field(max_length=200)] = ""


class DryTruthIn(EditModel):
    truths: Annotated[dict[Symbol, ReadingText], Field(max_length=MOST_QUANTITIES)] = {}
    unknowns: Annotated[dict[Key, ReadingText], Field(max_length=MOST_FITS)] = {}
    formulas: Annotated[dict[Key, FormulaText], Field(max_length=MOST_QUANTITIES)] = {}
    scatter: Annotated[dict[Key, ReadingText], Field(max_length=MOST_QUANTITIES)] = {}
    seconds: Annotated[dict[Key, ReadingText], Field(max_length=MOST_QUANTITIES)] = {}


class RigPartIn(EditModel):
    key: Annotated[str, Field(max_length=40, pattern=r"^[a-z-]*$")] = ""
    without: Annotated[list[Key], Field(max_length=12)] = []
    writes: Annotated[dict[Key, Key], Field(max_length=8)] = {}
    writes_down: bool = True


class FreedomsIn(EditModel):
    own_quantities: bool = True
    repeats: bool = True
    instruments: bool = False
    units: bool = False
    spread: bool = False


class PlanFields(EditModel):
    """Fields of a plan's own part."""

    prompts: dict[StageName, Prompt] = {}
    steps: dict[StageName, Annotated[list[PlanStepIn], Field(max_length=MOST_STEPS)]] = {}
    pictures: dict[StageName, Annotated[list[PictureIn], Field(max_length=MOST_PICTURES)]] = {}
    safety: Prompt = ""
    kept_same: Annotated[list[Line], Field(max_length=MOST_KEPT_SAME)] = []
    ask_first: bool = False
    relation_shown: RelationShown = "at_once"
    accepted_shown: AcceptedShown = "at_once"
    freedoms: FreedomsIn = FreedomsIn()
    left_open: Annotated[list[Key], Field(max_length=MOST_QUANTITIES + MOST_FINDINGS)] = []
    own_values: Annotated[list[Key], Field(max_length=MOST_QUANTITIES)] = []
    given_runs: Annotated[list[Key], Field(max_length=MOST_RUNS)] = []
    wanted: Annotated[dict[Key, WantedIn], Field(max_length=MOST_QUANTITIES)] = {}
    pool: PoolOpens = "by_hand"
    pool_names: bool = True
    sections: Annotated[list[SectionIn], Field(max_length=MOST_SECTIONS)] = []
    grid: Annotated[list[GridRowIn], Field(max_length=MOST_GRID_ROWS)] = []
    conditions: Annotated[list[ConditionIn], Field(max_length=MOST_CONDITIONS)] = []
    tables: Annotated[list[ReferenceTableIn], Field(max_length=MOST_TABLES)] = []
    rig: RigPartIn = RigPartIn()
    notes: Annotated[str, Field(max_length=10_000)] = ""
    dry: DryTruthIn = DryTruthIn()


class WritePlan(PartEdit):
    """Write something anew of what a plan says."""

    type: Literal["write_plan"] = "write_plan"
    was: PlanFields
    becomes: PlanFields


_SAID: dict[str, str] = {
    "prompts": "a prompt",
    "steps": "the steps to tick",
    "pictures": "the pictures",
    "safety": "the sentence on safety",
    "kept_same": "what is kept the same",
    "ask_first": "whether Ask comes first",
    "relation_shown": "when the relation is shown",
    "accepted_shown": "when accepted values are shown",
    "freedoms": "what benches may change",
    "left_open": "what benches find by themselves",
    "own_values": "what each bench writes its own value of",
    "given_runs": "which readings are given",
    "wanted": "how many settings, over which range",
    "pool": "when the pool opens",
    "pool_names": "names or numbers in the pool",
    "sections": "the sections of the report",
    "grid": "the marking grid",
    "conditions": "the conditions",
    "tables": "the tables of reference",
    "rig": "the apparatus",
    "notes": "the teacher’s notes",
    "dry": "what a dry run believes",
}
assert set(_SAID) == set(PlanFields.model_fields)


@kind(policy.plan_draft)
def write_plan(draft: Draft, edit: WritePlan) -> str:
    part = draft.get("plan", {})
    now = {**PlanFields().model_dump(), **part}
    after = change_part(now, edit, "this part of the plan")
    draft["plan"] = {**part, **after}
    return "plan: " + " and ".join(_SAID[name] for name in after)


class ConventionPart(EditModel):
    """Fields of the convention, and whether the bench judges plots, draws lines and rounds findings before it is told."""

    spread: SpreadKind = "half_range"
    combine: CombineKind = "larger"
    display_half: bool = False
    rounding: RoundingRule = "one_or_two"
    verdict: VerdictRule = "chance"
    fit_uncertainty: FitUncertainty = "larger"
    bars: Literal["own", "typical"] = "own"
    coverage: Annotated[float, Field(gt=0.5, lt=1)] | None = None
    propagation: WayKind = "quadrature"
    slope_word: SlopeWord = "gradient"
    decimal_mark: DecimalMark = "point"
    bench_judges: bool = False
    bench_rounds: bool = False
    bench_draws: bool = False
    bench_foresees: bool = False


_OF_BOOK = ("bench_judges", "bench_rounds", "bench_draws", "bench_foresees")


class ChooseConvention(PartEdit):
    """Choose how uncertainties are made, combined and written, and what people judge before the machine does."""

    type: Literal["choose_convention"] = "choose_convention"
    was: ConventionPart
    becomes: ConventionPart


@kind(policy.convention)
def choose_convention(draft: Draft, edit: ChooseConvention) -> str:
    convention = draft.get("convention", {})
    now = {**ConventionPart().model_dump(), **convention, **{name: draft.get(name, False) for name in _OF_BOOK}}
    after = change_part(now, edit, "the convention")
    draft["convention"] = {**convention, **{name: value for name, value in after.items() if name not in _OF_BOOK}}
    draft.update({name: value for name, value in after.items() if name in _OF_BOOK})
    return "the convention: " + ", ".join(name.replace("_", " ") for name in after)


class TickStep(EditModel):
    """Tick a step as done, or take that back."""

    type: Literal["tick_step"] = "tick_step"
    step: Key
    done: bool


@kind(policy.left_to_the_bench)
def tick_step(draft: Draft, edit: TickStep) -> str:
    steps = [step for each in draft.get("plan", {}).get("steps", {}).values() for step in each]
    found = next((step for step in steps if step["id"] == edit.step), None)
    if found is None:
        raise Problem(409, "gone", "This step is no longer in the plan.")
    others = [step for step in draft.get("ticked", []) if step != edit.step]
    draft["ticked"] = [*others, edit.step] if edit.done else others
    return f"{'done' if edit.done else 'not done yet'}: {found['text'][:120]}"
