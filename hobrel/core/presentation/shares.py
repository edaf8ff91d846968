"""What a bench brings to its class: findings, the points of its graph, the readings of every setting; under each condition that it does."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from decimal import Decimal

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Fit, LabBook, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import Column
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.figures import FigurePoint
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.thinning import thin_points
from hobrel.core.rounding import RoundingRule
from hobrel.core.sentences import NumberText, Sentence, said_by, say
from hobrel.core.units.calculus import Unit, tidy_unit, write_unit

MOST_SHARED_SETTINGS = 60
"""Settings of a table whose readings are brought; a longer one was not read by hand."""
MOST_SIZE = 1e100
"""Beyond it, and below its inverse, squares and weights leave floating point."""
NO_FINDING = say("no_finding_yet", "There is no finding yet.")


@dataclass(frozen=True)
class SharedFinding:
    """A bench's finding as it enters the pool: in the unit that the plan wants, or where it wants none in `unit`, which is the bench's."""

    value: float
    u: float
    unit: str = ""


@dataclass(frozen=True)
class SharedPoints:
    """The points of the graph that a bench's finding is made from, or its first fit, or of its first graph, with what stands on its axes;
    of kinds also these.

    `line` is what is fitted to them there, where that is a line.
    """

    axes: tuple[str, str]
    units: tuple[Unit, Unit]
    points: tuple[FigurePoint, ...]
    kinds: tuple[str, ...] = ()
    line: str = ""


@dataclass(frozen=True)
class SharedSetting:
    """The readings at one setting: what is set there, by value and as it was written."""

    key: str
    at: NumberText
    readings: tuple[float, ...]


@dataclass(frozen=True)
class SharedTable:
    """The readings of one quantity in its unit, setting by setting of another."""

    along: str
    along_unit: str
    symbol: str
    unit: str
    settings: tuple[SharedSetting, ...]


@dataclass(frozen=True)
class ConditionShare:
    """What a bench brings from its run under one condition."""

    findings: dict[str, SharedFinding | Sentence]
    points: SharedPoints | None
    tables: tuple[SharedTable, ...] = ()


@dataclass(frozen=True)
class BenchShare:
    """What one bench brings to the pool: its findings by id, each or the reason why there is none, its points and its tables.

    `missing` is said of a finding that the bench does not have. In a practical with conditions `conditions` has what it brings from the
    run under each that it does.
    """

    bench: str
    rule: RoundingRule
    findings: dict[str, SharedFinding | Sentence]
    points: SharedPoints | None
    missing: Sentence = NO_FINDING
    constants: dict[str, float] = field(default_factory=dict)
    """The practical's own numbers without unit, by symbol."""
    tables: tuple[SharedTable, ...] = ()
    conditions: dict[str, ConditionShare] = field(default_factory=dict)

    def under(self, condition: str) -> BenchShare | None:
        """What it brings from its run under one condition, as a share of its own; None where it does not do it. One of which nothing is
        known, yet or at all, says so under each.
        """
        if not self.conditions and not self.findings:
            return self
        found = self.conditions.get(condition)
        return None if found is None else replace(self, findings=found.findings, points=found.points, tables=found.tables)


def share_findings(computation: Computation, bench: str) -> BenchShare:
    """Take from a bench's lab book what it brings to the pool."""
    first = _share_run(computation)
    conditions = {}
    if computation.book.plan.conditions:
        for run in computation.book.runs:
            if run.condition and run.condition not in conditions:
                conditions[run.condition] = _share_condition(computation, run)
    return BenchShare(
        bench,
        computation.book.convention.rounding,
        first.findings,
        first.points,
        constants=pure_constants(computation),
        tables=first.tables,
        conditions=conditions,
    )


def _share_condition(computation: Computation, run: Run) -> ConditionShare:
    if run.id == computation.book.runs[0].id:
        return _share_run(computation)
    seen = contain(f"run {run.name}", compute, computation.book.seen_from(run.id), computation)
    return ConditionShare({}, None) if isinstance(seen, CoreError) else _share_run(seen)


def _share_run(computation: Computation) -> ConditionShare:
    shared: dict[str, SharedFinding | Sentence] = {}
    for key, found in computation.findings.items():
        if isinstance(found, CoreError):
            shared[key] = _say_missing(found)
        else:
            whole = MOST_SIZE > found.u > 1 / MOST_SIZE and abs(found.value) < MOST_SIZE
            own = "" if found.finding.unit.strip() else write_unit(found.traced.unit)
            shared[key] = SharedFinding(found.value, found.u, own) if whole else NO_FINDING
    return ConditionShare(shared, _share_points(computation), tuple(_share_tables(computation)))


def _say_missing(trouble: CoreError) -> Sentence:
    """What the others are told of a finding that there is none of: of its bench's own numbers only that they are lacking."""
    return say("no_fit_yet", "There is no fit yet.") if trouble.fields.get("lacks") == "fit" else said_by(trouble)


def pure_constants(computation: Computation) -> dict[str, float]:
    """The constants of a lab book that are plain numbers, by symbol."""
    found = ((c.quantity, c.traced) for c in computation.seen.columns.values() if c.quantity.kind == "constant")
    return {q.symbol: float(traced.value) for q, traced in found if traced is not None and traced.unit.is_number}


def miss_share(bench: str, error: CoreError) -> BenchShare:
    """The place of a bench whose lab book cannot be worked out."""
    return BenchShare(bench, "one_or_two", {}, None, said_by(error))


def leave_out_share(share: BenchShare, reason: str) -> BenchShare:
    """The place of a bench that has been left out of the pool: no finding of it counts, and nothing else of it is shown."""
    why = say("left_out_of_pool", "left out by the teacher: {reason}", reason=reason)
    conditions = {key: ConditionShare(dict.fromkeys(found.findings, why), None) for key, found in share.conditions.items()}
    return replace(share, findings=dict.fromkeys(share.findings, why), points=None, missing=why, tables=(), conditions=conditions)


def _share_tables(computation: Computation) -> Iterator[SharedTable]:
    """The readings that count, of every measured quantity of a table that was written by hand."""
    run = computation.book.runs[0]
    if run.log is not None or len(run.settings) > MOST_SHARED_SETTINGS:
        return
    columns = computation.seen.columns
    table = [columns[q.id] for q in computation.book.table_of(run) if q.id in columns]
    changed = next((c for c in table if c.quantity.kind == "changed"), None)
    if changed is None:
        return
    places = [_place_of(changed, i) for i in range(len(run.settings))]
    for column in table:
        if column.quantity.kind != "measured" or column.averages is None or column.words is not None:
            continue
        settings = [
            SharedSetting(*place, values)
            for place, setting, states in zip(places, run.settings, column.readings, strict=True)
            if place is not None
            and setting.set_aside is None
            and (values := tuple(float(s.parsed.value) for s in states if s.parsed is not None and s.set_aside is None))
        ]
        yield SharedTable(
            changed.quantity.symbol, _unit_of(changed.quantity), column.quantity.symbol, _unit_of(column.quantity), tuple(settings)
        )


def _unit_of(quantity: Quantity) -> str:
    return "" if quantity.holds == "words" else tidy_unit(quantity.unit)


def _place_of(changed: Column, row: int) -> tuple[str, str] | None:
    """What is set in a row, by value and as written; None where nothing is."""
    if changed.words is not None:
        word = changed.words[row]
        return (word.strip().casefold(), word) if word.strip() else None
    states = [s for s in changed.readings[row] if s.parsed is not None and s.set_aside is None] if changed.readings else []
    if len(states) != 1 or states[0].parsed is None:
        return None
    return _key_of(states[0].parsed.value), states[0].text


def _key_of(value: Decimal) -> str:
    """The same for 0.30 and 0.300."""
    return f"{value.normalize():f}"


def _find_shown(book: LabBook) -> Fit | None:
    """The fit that a finding is made from, or the first."""
    used = {finding.fit for finding in book.findings}
    return next((fit for fit in book.fits if fit.id in used), book.fits[0] if book.fits else None)


def _share_points(computation: Computation) -> SharedPoints | None:
    fit, graphs = _find_shown(computation.book), computation.book.graphs
    points = computation.points.get(fit.graph if fit else graphs[0].id if graphs else "")
    if not isinstance(points, GraphPoints) or not points.rows:
        return None
    x, y = points.x_column, points.y_column
    assert x.traced is not None and y.traced is not None
    run = computation.book.runs[0]
    ux, uy = np.nan_to_num(points.ux), np.nan_to_num(points.uy)
    shown = tuple(
        FigurePoint(key=run.row_id(points.rows[i]), x=float(points.x[i]), y=float(points.y[i]), ux=float(ux[i]), uy=float(uy[i]),
                    label=call_row(computation.book, run, points.rows[i]), set_aside=not bool(points.used[i]))
        for i in thin_points(points.x, points.y, 200)
    )  # fmt: skip
    along = x.quantity.name if x.kinds else x.quantity.symbol
    line = "" if fit is None or fit.shape != "line" or x.kinds else "origin" if fit.through_origin else "free"
    return SharedPoints((along, y.quantity.symbol), (x.traced.unit, y.traced.unit), shown, x.kinds, line)
