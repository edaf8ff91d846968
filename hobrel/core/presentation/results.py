"""What `analyse` gives: the whole chain, with every number already rounded and written as people will see it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from hobrel.core.checks.table import Slip
from hobrel.core.document.plan_part import StageName as StageName
from hobrel.core.formulas.typeset import RichText
from hobrel.core.presentation.figures import Figure, SketchCurve, Tick
from hobrel.core.sentences import Field, NumberText, Sentences

StageState = Literal["not_opened", "in_progress", "done"]


@dataclass(frozen=True)
class Trouble:
    """A named error standing where a result would: stable code, sentence and fields, and the place in a formula's text if it has one."""

    code: str
    message: str
    at: int | None = None
    fields: dict[str, Field] = field(default_factory=dict, hash=False)


@dataclass(frozen=True)
class ShownValue:
    """A number as shown: rounded text with unit, TeX, spoken words; full precision beside it.

    `u` is None where there is no uncertainty; `value_tex` is the rounded value with its unit, without the ±.
    """

    value: float
    u: float | None
    value_text: NumberText
    u_text: NumberText
    text: NumberText
    tex: str
    spoken: str
    value_tex: str


@dataclass(frozen=True)
class Cell:
    """One quantity at one setting.

    `repeats` are the numbers of its readings in table order (None: not a number, or blank); `kept` counts those averaged; `wide` marks
    a ± that stands out among those of its column.
    """

    value: float | None = None
    u: float | None = None
    value_text: NumberText = ""
    u_text: NumberText = ""
    kept: int = 0
    set_aside: int = 0
    made_by: Literal["spread", "instrument", "both", "propagated"] | None = None
    repeats: tuple[float | None, ...] = ()
    wide: bool = False


@dataclass(frozen=True)
class ReadingNote:
    """How one reading was understood, where that differs from the text: trouble, or a converted unit."""

    setting: str
    repeat: int
    trouble: Sentences
    note: NumberText


@dataclass(frozen=True)
class OtherUnit:
    """A unit that a quantity could be converted to, with symbol and name for the converted one.

    `basic` marks the coherent SI unit, which formulas work out without factors.
    """

    unit: str
    symbol: str
    name: str
    basic: bool


@dataclass(frozen=True)
class ColumnResult:
    """One quantity of a run, setting by setting (no cells where the run is a log); `count` is how many values there are."""

    quantity: str
    symbol: RichText
    symbol_tex: str
    unit: str
    decimals: int | None
    instrument_text: NumberText
    formula_tex: str
    cells: tuple[Cell, ...]
    notes: tuple[ReadingNote, ...]
    range_text: NumberText
    largest: str
    constant: ShownValue | None
    trouble: Trouble | None
    count: int = 0
    other_units: tuple[OtherUnit, ...] = ()


@dataclass(frozen=True)
class RunResult:
    """All columns of a run; `logged` says what a log holds (nothing for readings that were written down)."""

    run: str
    columns: tuple[ColumnResult, ...]
    logged: Sentences = ()


@dataclass(frozen=True)
class GraphResult:
    """A graph: its figure, or why there is none; `remarks` is what a reader should know (bars hidden by their marker)."""

    graph: str
    figure: Figure | None
    remarks: Sentences
    trouble: Trouble | None


@dataclass(frozen=True)
class LinePattern:
    """How straight a graph is: signs of the residuals in order of x, runs, curvature, and what they say."""

    graph: str
    signs: str
    runs: int
    expected_runs: NumberText
    curvature_t: NumberText
    reduced_chi2: NumberText
    words: Sentences
    bends: bool
    trouble: Trouble | None
    verdict: Literal["straight", "bends", "unknown"] = "unknown"


@dataclass(frozen=True)
class ParameterResult:
    """A parameter of a fitted shape; `words` says what should be known about it (only rounding, at x = 1 m)."""

    name: str
    tex: str
    value: ShownValue | None
    words: Sentences


@dataclass(frozen=True)
class ExtremesResult:
    """Steepest and shallowest line, and half their difference as the gradient's ±; or why there are none, and which settings block."""

    steepest: NumberText
    shallowest: NumberText
    gradient: ShownValue | None
    words: Sentences
    blocking: tuple[str, ...]


@dataclass(frozen=True)
class ByEyeResult:
    """The bench's own line: numbers as drawn, with units, and how many bars it touches."""

    gradient: NumberText
    intercept: NumberText
    words: Sentences


@dataclass(frozen=True)
class GradientUncertainty:
    """One way of saying how uncertain a gradient is, beside the others, and what it rests on."""

    name: str
    text: NumberText
    words: Sentences


@dataclass(frozen=True)
class ShapeOffer:
    """A shape that could be fitted to these points; `caution` says why one might think twice, `forbidden` why it cannot be."""

    shape: str
    words: str
    caution: Sentences = ()
    forbidden: Sentences = ()


@dataclass(frozen=True)
class UnknownResult:
    """An unknown read back from a line: the mean of its readings, the x that belongs to it, and what should be known of it; or trouble."""

    unknown: str
    name: str
    mean: NumberText
    value: ShownValue | None
    words: Sentences
    extrapolated: bool


@dataclass(frozen=True)
class SummitResult:
    """Where a fitted curve turns between its points, and how high it is there."""

    is_highest: bool
    place: ShownValue
    value: ShownValue


@dataclass(frozen=True)
class StepsResult:
    """How a step-by-step model is stepped: the step, in which way, whether it was `chosen` here; and what a `check` of the steps says.

    `given` are its start values and numbers as far as they are not found from the points.
    """

    step: str
    way: Sentences
    chosen: Sentences
    check: Sentences
    given: tuple[RichText, ...]


@dataclass(frozen=True)
class FitResult:
    """The line card, or the card of another shape.

    `method` is told in clauses. A line has `gradient` and `intercept`; another shape has `parameters`. `uncertainties` are those of the
    gradient, statistical, by the extreme lines, and by eye, as far as there are more than one. `shapes` are those that have a value at
    every point. `summit` is where a curve turns, if it does so once; `steps` are those of
    a step-by-step model. `is_doubtful`: the points bend, or scatter more than their bars
    explain, so that its numbers are not to be taken at their word.
    """

    fit: str
    graph: str
    method: Sentences
    n: int
    dof: int
    equation_tex: str
    equation_text: NumberText
    gradient: ShownValue | None
    intercept: ShownValue | None
    intercept_words: Sentences
    within: Sentences
    chi2: NumberText
    reduced_chi2: NumberText
    chi2_words: Sentences
    r2: NumberText
    r2_words: Sentences
    residual_sd: NumberText
    pattern: LinePattern | None
    far: tuple[str, ...]
    trouble: Trouble | None
    shape: str = "line"
    shape_words: str = ""
    parameters: tuple[ParameterResult, ...] = ()
    extremes: ExtremesResult | None = None
    by_eye: ByEyeResult | None = None
    uncertainties: tuple[GradientUncertainty, ...] = ()
    shapes: tuple[ShapeOffer, ...] = ()
    unknowns: tuple[UnknownResult, ...] = ()
    name: str = ""
    is_doubtful: bool = False
    summit: SummitResult | None = None
    steps: StepsResult | None = None


@dataclass(frozen=True)
class BudgetBar:
    """A source's share of an uncertainty, as a bar: share from 0 to 1, and its contribution written with unit."""

    symbol: RichText
    words: NumberText
    share: float
    share_text: str
    contribution: NumberText
    shared: bool


@dataclass(frozen=True)
class LineMark:
    """A result on a number line."""

    name: str
    value: float
    u: float


@dataclass(frozen=True)
class NumberLine:
    """Two results on one axis: places and bars in the finding's unit."""

    axis_low: float
    axis_high: float
    ticks: tuple[Tick, ...]
    marks: tuple[LineMark, ...]
    unit: str


@dataclass(frozen=True)
class UsedNumber:
    """What a finding uses under a symbol (`name` as formulas spell it): its value, and in words what it is; `target` names its working
    (may be empty).
    """

    name: str
    symbol: RichText
    value: ShownValue
    words: NumberText
    target: str


@dataclass(frozen=True)
class ComparedFinding:
    """Another finding beside this one: its value in this one's unit, the verdict, and a sentence; or the trouble with comparing them."""

    finding: str
    name: str
    value: ShownValue
    verdict: Literal["agree", "agree_within_two", "differ"] | None
    words: Sentences


@dataclass(frozen=True)
class JudgedRounding:
    """Whether a rounding is right, and in words why or why not."""

    right: bool
    words: Sentences


@dataclass(frozen=True)
class FindingResult:
    """A named result with its chain, budget and comparisons.

    Where the bench rounds first, `in_full` holds value and ± with more figures than are kept, and `rounding` says how its own rounding
    stands (None as long as there is none). `needed` is what the bench has written that it would need to see before it says that this
    agrees; with `awaits_needed` it has still to be written, and nothing is said of agreeing until then.
    """

    finding: str
    name: str
    symbol: RichText
    unit: str
    value: ShownValue | None
    formula_tex: str
    numbers_tex: str
    statement: NumberText
    rounding_words: Sentences
    budget: tuple[BudgetBar, ...]
    accepted: ShownValue | None
    accepted_source: str
    verdict: Literal["agree", "agree_within_two", "differ"] | None
    comparison: Sentences
    number_line: NumberLine | None
    trouble: Trouble | None
    used: tuple[UsedNumber, ...] = ()
    compared: tuple[ComparedFinding, ...] = ()
    in_full: NumberText = ""
    rounding: JudgedRounding | None = None
    rounding_trouble: Trouble | None = None
    needed: str = ""
    awaits_needed: bool = False

    @property
    def said(self) -> bool:
        """Whether its rounded value may be shown: there is one, and the bench has rounded it first where it must."""
        return self.value is not None and not (self.in_full and self.rounding is None)


@dataclass(frozen=True)
class StageMark:
    """One station of the trail: state, count of slips, and a few words of what is in it."""

    stage: StageName
    state: StageState
    slips: int
    words: Sentences


@dataclass(frozen=True)
class TableMark:
    """A table of reference of the plan (by id) as people see it: its symbol, and why it cannot be used, or what it looks like."""

    table: str
    symbol: RichText
    trouble: Trouble | None = None
    figure: Figure | None = None


@dataclass(frozen=True)
class Analysis:
    """Everything computed from one lab book. Each item is a result or a named error; one broken item leaves the rest.

    `trouble` is the first of what has no place of its own to say so: slips, the trail, or the analysis as a whole.
    """

    runs: tuple[RunResult, ...]
    graphs: tuple[GraphResult, ...]
    patterns: tuple[LinePattern, ...]
    fits: tuple[FitResult, ...]
    findings: tuple[FindingResult, ...]
    slips: tuple[Slip, ...]
    stages: tuple[StageMark, ...]
    convention_words: Sentences
    tokens: dict[str, NumberText]
    sketch: SketchCurve | None = None
    tables: tuple[TableMark, ...] = ()
    trouble: Trouble | None = None
