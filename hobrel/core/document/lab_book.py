"""The lab book as a document: what a bench has written down and chosen, and nothing that can be computed from it.

The same classes are the open file format: JSON with the field names below, versioned, read and written without loss.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from typing import TYPE_CHECKING, Any, Literal

from hobrel.core.document.choices import LOOKS as LOOKS
from hobrel.core.document.choices import Accepted as Accepted
from hobrel.core.document.choices import ByEye as ByEye
from hobrel.core.document.choices import Finding as Finding
from hobrel.core.document.choices import Fit as Fit
from hobrel.core.document.choices import Graph as Graph
from hobrel.core.document.choices import Ingredient as Ingredient
from hobrel.core.document.choices import Moment as Moment
from hobrel.core.document.choices import Note as Note
from hobrel.core.document.choices import ResultOf as ResultOf
from hobrel.core.document.choices import Unknown as Unknown
from hobrel.core.document.choices import WeightKind as WeightKind
from hobrel.core.document.limits import check_count
from hobrel.core.document.plan_part import Condition, GridRow, Picture, PlanPart, ReferenceTable, Section, Step
from hobrel.core.document.plan_part import Freedoms as Freedoms
from hobrel.core.document.report_choices import ReportChoices
from hobrel.core.errors import CoreError
from hobrel.core.formulas.ways import WayKind
from hobrel.core.readings.instruments import Instrument
from hobrel.core.rounding import RoundingRule
from hobrel.core.statistics.comparison import VerdictRule
from hobrel.core.statistics.coverage import check_coverage
from hobrel.core.statistics.spread import CombineKind, SpreadKind

if TYPE_CHECKING:
    from pydantic import TypeAdapter

QuantityKind = Literal["changed", "measured", "constant", "derived"]
Holds = Literal["numbers", "words"]
DigitsKind = Literal["automatic", "decimals", "figures", "scientific"]
DigitsCount = Literal[0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10]


@dataclass(frozen=True)
class Reading:
    """One value as it was written down; `set_aside` holds the reason where it is left out."""

    text: str
    set_aside: str | None = None


@dataclass(frozen=True)
class Setting:
    """One row: for each quantity (by id) its repeats, None where nothing was measured. In a table of runs it is about the run `of_run`."""

    id: str
    readings: Mapping[str, tuple[Reading | None, ...]] = field(default_factory=dict)
    set_aside: str | None = None
    of_run: str = ""


@dataclass(frozen=True)
class AsideRows:
    """Rows of a log that are left out, from `first` to `last` (counted from 0, both included), and why."""

    first: int
    last: int
    reason: str


@dataclass(frozen=True)
class Log:
    """What a logger wrote by itself: a text for each row and quantity, to be looked at but not edited value by value.

    Attributes
    ----------
    rows : int
    columns : mapping of quantity id to texts, one per row
        An empty text where nothing was logged. Where they are kept elsewhere, `kept` says by what name, and there are none here.
    units : mapping of quantity id to the unit that its column was logged in
    aside : tuple of AsideRows
    """

    rows: int
    columns: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    units: Mapping[str, str] = field(default_factory=dict)
    aside: tuple[AsideRows, ...] = ()
    kept: str = ""


@dataclass(frozen=True)
class Run:
    """One set of readings taken under one condition: settings that were written down, or a log.

    `headings` are the quantities that its table holds, the one that is set first; None where it holds all of the lab book's. `condition` is
    that of the plan (by id) under which it is done; empty where the plan has none.
    """

    id: str
    name: str
    settings: tuple[Setting, ...] = ()
    log: Log | None = None
    headings: tuple[str, ...] | None = None
    condition: str = ""

    @property
    def count(self) -> int:
        """How many rows there are."""
        return len(self.settings) if self.log is None else self.log.rows

    @property
    def is_of_runs(self) -> bool:
        """Whether its rows are about other runs."""
        return any(setting.of_run for setting in self.settings)

    def row_id(self, row: int) -> str:
        """The id by which a row is named: its setting's, or ``row7`` in a log."""
        return self.settings[row].id if self.log is None else f"row{row}"

    def row_of(self, row_id: str) -> int | None:
        """The row that an id names; None where there is none."""
        if self.log is None:
            return next((i for i, s in enumerate(self.settings) if s.id == row_id), None)
        number = row_id.removeprefix("row")
        return int(number) if number.isdecimal() and int(number) < self.log.rows else None

    def rows_aside(self) -> list[bool]:
        """For each row whether it is left out as a whole."""
        if self.log is None:
            return [s.set_aside is not None for s in self.settings]
        out = [False] * self.log.rows
        for part in self.log.aside:
            out[part.first : part.last + 1] = [True] * len(out[part.first : part.last + 1])
        return out


@dataclass(frozen=True)
class Digits:
    """How a derived quantity is written: as its ± asks, or to a count of decimals or significant figures (also as a power of ten)."""

    kind: DigitsKind = "automatic"
    count: DigitsCount = 3


@dataclass(frozen=True)
class Quantity:
    """A named measurable.

    Attributes
    ----------
    id, kind, name, symbol, unit
        A derived quantity may leave `unit` empty (it is worked out) or name the one wanted.
    instrument : Instrument or None
        For changed and measured quantities.
    repeats : int
        How many readings each setting has.
    formula : str
        Of a derived quantity.
    value, u, source : str
        Of a constant, as written; `u` is its ±, `source` where it is from.
    given : bool
        The teacher's; students cannot change its definition.
    digits : Digits
        Of a derived quantity: how its values are written.
    tangent_of : str
        The fit whose slope at every setting this derived quantity is; it then has no formula.
    holds : {"numbers", "words"}
        What its readings are. With words nothing is calculated; a changed quantity of words is a kind (decision 37).
    result_of : ResultOf or None
        What runs give to it in a table of runs (decision 38); it then has no formula.
    """

    id: str
    kind: QuantityKind
    name: str
    symbol: str
    unit: str = ""
    instrument: Instrument | None = None
    repeats: int = 1
    formula: str = ""
    value: str = ""
    u: str = ""
    source: str = ""
    given: bool = True
    digits: Digits = Digits()
    tangent_of: str = ""
    holds: Holds = "numbers"
    result_of: ResultOf | None = None

    @property
    def is_gathered(self) -> bool:
        """Whether this derived quantity rests on fits or runs, and has no formula."""
        return bool(self.tangent_of) or self.result_of is not None


@dataclass(frozen=True)
class SketchPoint:
    """A place of the sketched expectation, as shares of empty axes: 0 to 1 along x, and up."""

    x: float
    y: float


@dataclass(frozen=True)
class Confirmed:
    """What looked like a slip and was said to be right, by whom; it holds while the texts that it is about stay as they are."""

    kind: str
    run: str
    setting: str
    quantity: str
    repeat: int | None
    texts: tuple[str, ...]
    by: str = ""


FitUncertainty = Literal["larger", "bars", "scatter"]
SlopeWord = Literal["gradient", "slope"]
DecimalMark = Literal["point", "comma"]


@dataclass(frozen=True)
class Convention:
    """How the class makes, combines and writes uncertainties, and reaches verdicts.

    `fit_uncertainty` says which ± the numbers of a fit are given: that of the bars, that of how the points scatter about what is fitted, or
    the larger; where there are no bars it is always the scatter's. `bars` says whether repeats are given each setting's own spread or that
    typical of their column; with a `coverage` the standard error is widened by Student's t to hold so large a share. In the way of
    `propagation` ± are carried through formulas; verdicts are always reached by quadrature (decision 27). How steep a line is, is called
    by `slope_word`; numbers are shown with the `decimal_mark`, and read with either.
    """

    spread: SpreadKind = "half_range"
    combine: CombineKind = "larger"
    display_half: bool = False
    rounding: RoundingRule = "one_or_two"
    verdict: VerdictRule = "chance"
    fit_uncertainty: FitUncertainty = "larger"
    bars: Literal["own", "typical"] = "own"
    coverage: float | None = None
    propagation: WayKind = "quadrature"
    slope_word: SlopeWord = "gradient"
    decimal_mark: DecimalMark = "point"


@dataclass(frozen=True)
class LabBook:
    """A bench's work on one practical.

    `relation` is the expected relation as the plan writes it (may be empty); `texts` holds the bench's own paragraphs by section, and
    under ``choice`` which plot it thinks straight and why. With `bench_judges` the board says how straight each plot is only after that;
    with `bench_rounds` a finding is rounded by the bench first, with `bench_draws` a line is drawn by eye before it is fitted, with
    `bench_foresees` the bench writes what it would need to see before it is told whether a finding agrees. `sketch` is
    the curve that the bench expects, drawn before measuring.
    `looks` are colours with their shapes (0 to 6) that somebody has chosen for a series (``RUN:QUANTITY``), in whatever graph it stands.
    `plan` is what the plan says beside that, `ticked` are the steps (by id) that the bench has done, and `report` what it has decided
    about its report.
    """

    title: str
    question: str = ""
    relation: str = ""
    convention: Convention = Convention()
    quantities: tuple[Quantity, ...] = ()
    runs: tuple[Run, ...] = ()
    graphs: tuple[Graph, ...] = ()
    fits: tuple[Fit, ...] = ()
    findings: tuple[Finding, ...] = ()
    moments: tuple[Moment, ...] = ()
    texts: Mapping[str, str] = field(default_factory=dict)
    confirmed: tuple[Confirmed, ...] = ()
    freedoms: Freedoms = Freedoms()
    bench_judges: bool = False
    bench_rounds: bool = False
    bench_draws: bool = False
    bench_foresees: bool = False
    sketch: tuple[SketchPoint, ...] = ()
    looks: Mapping[str, int] = field(default_factory=dict)
    plan: PlanPart = PlanPart()
    ticked: tuple[str, ...] = ()
    report: ReportChoices = ReportChoices()
    format: Literal["hobrel-lab-book"] = "hobrel-lab-book"
    version: Literal[1] = 1

    def quantity(self, quantity_id: str) -> Quantity:
        """A quantity by its id.

        Raises
        ------
        CoreError
            ``bad_job`` where there is none.
        """
        for quantity in self.quantities:
            if quantity.id == quantity_id:
                return quantity
        raise CoreError("bad_job", "There is no quantity {quantity_id} in this lab book.", quantity_id=quantity_id)

    def table_of(self, run: Run) -> tuple[Quantity, ...]:
        """The quantities that are read in the table of a run. In one that names its headings the first of them is the changed one."""
        read = {q.id: q for q in self.quantities if q.kind in ("changed", "measured")}
        if run.headings is None:
            return tuple(read.values())
        there = [read[key] for key in run.headings if key in read]
        return tuple(replace(q, kind="measured" if i else "changed") for i, q in enumerate(there))

    def draws_first(self, fit: Fit) -> bool:
        """Whether the bench still has to draw this line by eye before it sees what is fitted; who writes a plan need not."""
        return self.bench_draws and fit.shape == "line" and fit.by_eye is None and not self.plan.draft

    def rounds_first(self, finding: Finding) -> bool:
        """Whether the bench states this finding, rounded, before anybody else does: where the plan asks for it, or shows an accepted value
        only then.
        """
        shown_later = self.plan.accepted_shown == "after_own" and not self.plan.draft
        return self.bench_rounds or (shown_later and (finding.accepted is not None or f"accepted:{finding.id}" in self.plan.withheld))

    def foresees_first(self, finding: Finding) -> bool:
        """Whether the bench still has to write what it would need to see before it is told whether this finding agrees."""
        return self.bench_foresees and not finding.needed.strip() and not self.plan.draft

    def seen_from(self, run_id: str) -> LabBook:
        """The lab book with this run first: graphs, fits and findings are of the first run. An unknown run changes nothing."""
        return replace(self, runs=tuple(sorted(self.runs, key=lambda r: r.id != run_id)))

    def run(self, run_id: str) -> Run:
        """A run by its id.

        Raises
        ------
        CoreError
            ``bad_job`` where there is none.
        """
        for run in self.runs:
            if run.id == run_id:
                return run
        raise CoreError("bad_job", "There is no run {run_id} in this lab book.", run_id=run_id)


@cache
def _adapter() -> TypeAdapter[LabBook]:
    # loaded when a file is first read, so that scripts that only compute do not wait for it
    from pydantic import TypeAdapter

    return TypeAdapter(LabBook)


@cache
def _convention_adapter() -> TypeAdapter[Convention]:
    from pydantic import TypeAdapter

    return TypeAdapter(Convention)


def read_lab_book(document: object) -> LabBook:
    """Read a lab book from parsed JSON.

    Raises
    ------
    CoreError
        ``bad_job``, naming the first place that does not fit the format.
    """
    from pydantic import ValidationError

    try:
        book = _adapter().validate_python(document)
    except ValidationError as trouble:
        first = trouble.errors()[0]
        place = " › ".join(str(p) for p in first["loc"]) or "the document"
        raise CoreError(
            "bad_job", "This is not a lab book that can be read: {place}: {first}.", place=place, first=first["msg"]
        ) from trouble
    check_limits(book)
    return book


def convention_in(document: Mapping[str, Any]) -> Convention:
    """The convention of a lab book that has been kept, of which nothing else is read."""
    return _convention_adapter().validate_python(document.get("convention", {}))


def check_limits(book: LabBook) -> None:
    """Refuse a lab book that holds more of something than anybody can look at.

    Raises
    ------
    CoreError
        ``too_large``, naming what there is too much of; ``bad_job`` for a log whose columns do not fit its rows, for two things of one
        id.
    """
    for what in ("quantities", "runs", "graphs", "fits", "findings", "moments"):
        items = getattr(book, what)
        check_count(what, len(items))
        _check_ids(what, [item.id for item in items])
    if any(not 0 <= share <= 1 for point in book.sketch for share in (point.x, point.y)):
        raise CoreError("bad_job", "The sketched expectation leaves its empty axes.")
    if any(not 0 <= look < LOOKS for look in book.looks.values()):
        raise CoreError("bad_job", "There are {looks} looks of a series, from 0.", looks=LOOKS)
    if book.convention.coverage is not None:
        check_coverage(book.convention.coverage)
    for quantity in book.quantities:
        check_count("repeats", quantity.repeats)
        if quantity.holds == "words" and (quantity.kind not in ("changed", "measured") or quantity.repeats > 1):
            raise CoreError("bad_job", "{name} holds words, which are written once at each setting.", name=quantity.name)
    for run in book.runs:
        check_count("settings", len(run.settings))
        check_count("quantities", len(run.headings or ()))
        _check_ids("settings", [setting.id for setting in run.settings])
        check_count("rows", run.log.rows if run.log else 0)
        if run.log and any(len(texts) != run.log.rows for texts in run.log.columns.values()):
            raise CoreError("bad_job", "The columns of the log {name} are not of one length.", name=run.name)
        for setting in run.settings:
            check_count("repeats", max(map(len, setting.readings.values()), default=0))
    _check_plan(book.plan)
    check_count("sections", len(book.report.sections))
    check_count("pictures", len(book.report.pictures))
    _check_ids("sections", [*(s.id for s in book.plan.sections), *(s.id for s in book.report.sections)])
    _check_ids("pictures", [picture.id for picture in book.report.pictures])


def _check_plan(part: PlanPart) -> None:
    steps = [step for each in part.steps.values() for step in each]
    named: dict[str, Sequence[Step | Picture | Section | GridRow | Condition | ReferenceTable]] = {
        "steps": steps,
        "pictures": [picture for each in part.pictures.values() for picture in each],
        "sections": part.sections,
        "grid rows": part.grid,
        "conditions": part.conditions,
        "tables of reference": part.tables,
    }
    for what, items in named.items():
        check_count(what, len(items))
        _check_ids(what, [item.id for item in items])
    for table in part.tables:
        check_count("lines in a table of reference", len(table.lines))
    check_count("things that are kept the same", len(part.kept_same))


def _check_ids(what: str, ids: Sequence[str]) -> None:
    if len(set(ids)) < len(ids):
        twice = next(i for n, i in enumerate(ids) if i in ids[:n])
        raise CoreError("bad_job", "Two {what} of this lab book have the same id, {twice}.", what=what, twice=twice)


def write_lab_book(book: LabBook) -> dict[str, Any]:
    """The lab book as JSON-ready data; `read_lab_book` gives the same book back."""
    data: dict[str, Any] = _adapter().dump_python(book, mode="json")
    return data


def lab_book_schema() -> dict[str, Any]:
    """JSON Schema of the file format."""
    return _adapter().json_schema()
