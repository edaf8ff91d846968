"""What a class shares beside its findings: all points with its line, every setting, conditions beside each other (decision 47)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding
from hobrel.core.document.plan_part import Condition
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import measure_bend
from hobrel.core.fitting.straightness import bend_together
from hobrel.core.formulas.typeset import RichRun, RichText, rich_symbol, write_symbol
from hobrel.core.pipeline.worded import join_kinds, place_kinds
from hobrel.core.presentation.figures import (
    Figure,
    FigurePoint,
    ModelLine,
    PointSeries,
    axis_label,
    describe_figure,
    make_axis,
    make_named_axis,
)
from hobrel.core.presentation.pool import bring_together, point_out, split_by_condition
from hobrel.core.presentation.results import ShownValue
from hobrel.core.presentation.shares import BenchShare, SharedFinding, SharedPoints, SharedTable
from hobrel.core.presentation.showing import show_value
from hobrel.core.rounding import with_unit, write_number
from hobrel.core.sentences import NumberText, Sentence, Sentences, said_by, say
from hobrel.core.statistics.class_line import BenchPoints, ClassLine, fit_class_line
from hobrel.core.statistics.class_settings import PooledSetting, pool_setting
from hobrel.core.statistics.conditions import ConditionComparison, compare_conditions
from hobrel.core.statistics.pool import Pool
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit, write_unit

MOST_TOLD_APART = 8
"""Benches that have a colour and a shape each."""
CHANCE = 0.05


@dataclass(frozen=True)
class SettingRow:
    """The class at one setting: of how many benches and readings, their mean, the standard deviations within and between benches."""

    at: NumberText
    benches: int
    readings: int
    mean: ShownValue
    within: NumberText
    between: NumberText
    words: Sentences


@dataclass(frozen=True)
class SettingTable:
    """Every setting at which two benches or more have read a quantity, under one condition (empty where there are none)."""

    condition: str
    along: RichText
    along_unit: str
    symbol: RichText
    unit: str
    rows: tuple[SettingRow, ...]


@dataclass(frozen=True)
class ClassLineResult:
    """The class's line under one condition: its parameters, what is said of them; or why there is none."""

    condition: str
    gradient: ShownValue | None
    intercept: ShownValue | None
    words: Sentences


@dataclass(frozen=True)
class BenchValue:
    """What a bench has found, as it is written."""

    bench: str
    text: NumberText


@dataclass(frozen=True)
class ConditionRow:
    """A condition of a finding: how often it has been done, its class value, and the benches' values."""

    condition: str
    coverage: Sentences
    value: ShownValue | None
    benches: tuple[BenchValue, ...]


@dataclass(frozen=True)
class ConditionTable:
    """A finding under all conditions, beside each other; `words` say whether they differ by more than benches scatter."""

    name: str
    symbol: RichText
    rows: tuple[ConditionRow, ...]
    words: Sentences


@dataclass(frozen=True)
class ClassData:
    """What a class shares beside its findings; `undrawn` says why its points are not drawn, where they cannot be."""

    figure: Figure | None
    undrawn: Sentences
    lines: tuple[ClassLineResult, ...]
    tables: tuple[SettingTable, ...]
    conditions: tuple[ConditionTable, ...]


def present_class(findings: Sequence[Finding], shares: Sequence[BenchShare], conditions: Sequence[Condition] = ()) -> ClassData:
    """Bring together what benches share beside their findings.

    Parameters
    ----------
    findings : sequence of Finding
        As the practical has them.
    shares : sequence of BenchShare
    conditions : sequence of Condition
        Of the plan; empty where it has none.
    """
    by_condition = split_by_condition(shares, conditions)
    # a table that is a hundred times too large says nothing of scatter
    whole = [(name, _without(of, point_out(findings, of))) for name, of in by_condition]
    axes = _common_axes(share for _, of in by_condition for share in of)
    lines = [found for name, of in whole if axes is not None and (found := _line_of(name, of, axes)) is not None]
    by_name = {result.condition: line for result, line in lines if line is not None}
    drawn = None if axes is None else contain("points of the class", draw_class, by_condition, axes, by_name)
    return ClassData(
        figure=None if isinstance(drawn, CoreError) else drawn,
        undrawn=(said_by(drawn),) if isinstance(drawn, CoreError) else (),
        lines=tuple(result for result, _ in lines),
        tables=tuple(table for name, of in whole for table in _tables_of(name, of)),
        conditions=tuple(_beside(f, conditions, by_condition) for f in findings) if conditions else (),
    )


def _without(shares: Sequence[BenchShare], odd: Collection[str]) -> list[BenchShare]:
    return [share for share in shares if share.bench not in odd]


Axes = tuple[tuple[str, str], tuple[Unit, Unit]]


def _common_axes(shares: Iterable[BenchShare]) -> Axes | None:
    """What most benches have plotted; of several as often, what comes first."""
    counted = Counter((share.points.axes, share.points.units) for share in shares if share.points is not None)
    return max(counted, key=lambda axes: counted[axes]) if counted else None


def _on_axes(shares: Sequence[BenchShare], axes: Axes) -> list[tuple[int, str, SharedPoints]]:
    """The benches whose points are on these axes, with their places."""
    have = [(look, share.bench, share.points) for look, share in enumerate(shares) if share.points is not None]
    return [(look, name, p) for look, name, p in have if (p.axes, p.units) == axes]


def _line_of(condition: str, shares: Sequence[BenchShare], axes: Axes) -> tuple[ClassLineResult, ClassLine | None] | None:
    """The class's line on these axes; None where benches do not fit one."""
    of = [points for _, _, points in _on_axes(shares, axes)]
    kind = of[0].line if of else ""
    if not kind:
        return None
    benches = [_as_bench(points) for points in of if points.line == kind]
    found = contain("line of the class", fit_class_line, benches, kind == "origin")
    if isinstance(found, CoreError):
        return ClassLineResult(condition, None, None, (said_by(found),)), None
    x_unit, y_unit = of[0].units
    unit, factor = multiply_units(y_unit, raise_unit(x_unit, Fraction(-1)))
    gradient_unit, intercept_unit = write_unit(unit), write_unit(y_unit)
    tau = with_unit(write_number(factor * found.tau_gradient, 2), gradient_unit)
    said = say(
        "class_line",
        "Of {points} points of {benches} benches. The benches’ own gradients scatter about it with a standard deviation of {tau}.",
        points=found.points,
        benches=found.benches,
        tau=tau,
    )
    if found.tau_gradient < 0.1 * found.u_gradient:
        said = say(
            "class_line_one", "Of {points} points of {benches} benches. Their own lines differ no more than their points scatter.",
            points=found.points, benches=found.benches,
        )  # fmt: skip
    curved = [(bend, each.x.size) for each in benches if (bend := measure_bend(each.x, each.y)) is not None]
    words: Sentences = (said,)
    if bend_together(curved):
        words += (say("class_line_bends", "But the benches’ points bend away from a line, all alike: look for a plot that is straight."),)
    rule = shares[0].rule
    intercept = None if found.intercept is None else show_value(found.intercept, found.u_intercept, intercept_unit, rule)
    gradient = show_value(factor * found.gradient, factor * found.u_gradient, gradient_unit, rule)
    return ClassLineResult(condition, gradient, intercept, words), found


def _as_bench(points: SharedPoints) -> BenchPoints:
    counted = [p for p in points.points if not p.set_aside]
    x, y, width = (np.array([getattr(p, name) for p in counted], dtype=np.float64) for name in ("x", "y", "uy"))
    # where a bar is lacking, none is counted
    return BenchPoints(x, y, width if width.size and bool(np.all(width > 0)) else np.ones_like(y))


def draw_class(by_condition: Sequence[tuple[str, Sequence[BenchShare]]], axes: Axes, lines: Mapping[str, ClassLine]) -> Figure:
    """All benches' points of the graph that the first fit is on, with the class's lines; benches whose axes differ are left out. Conditions
    have a colour and a shape each where there are several, benches otherwise.
    """
    groups = [(name, _on_axes(of, axes)) for name, of in by_condition]
    same = [(name, of) for name, of in groups if of]
    first = same[0][1][0][2]
    kinds = join_kinds([shared.kinds for _, of in same for _, _, shared in of])
    series: tuple[PointSeries, ...] = ()
    for place, (name, of) in enumerate(same):
        own = tuple(
            PointSeries(
                bench, look, tuple(replace(p, key=f"{bench}:{p.key}", label=f"{bench}, {p.label}") for p in _at_places(shared, kinds))
            )
            for look, bench, shared in of
        )
        if len(same) > 1:
            series += (PointSeries(name, place, tuple(p for s in own for p in s.points)),)
        elif len(own) > MOST_TOLD_APART:
            # more than can be told apart by shape and colour are one quiet cloud; each point still says whose it is
            series = (PointSeries(f"{len(own)} benches", 0, tuple(p for s in own for p in s.points)),)
        else:
            series = own
    every = [p for s in series for p in s.points]
    x_label, y_label = (axis_label((symbol,), unit) for symbol, unit in zip(first.axes, first.units, strict=True))
    if kinds:
        x_label = (RichRun(first.axes[0]),)
        x_axis = make_named_axis(x_label, kinds)
    else:
        x_axis = make_axis(x_label, min(p.x - p.ux for p in every), max(p.x + p.ux for p in every), 7)
    y_axis = make_axis(y_label, min(p.y - p.uy for p in every), max(p.y + p.uy for p in every), 6)
    along = first.axes[0] if kinds else write_symbol(first.axes[0])
    title = f"All benches: {write_symbol(first.axes[1])} against {along}"
    benches = len({bench for _, of in same for _, bench, _ in of})
    origin = say("from_benches", "From {n} benches.", n=benches)
    drawn = tuple(
        _draw_line(lines[name], series[place].points, place) if len(same) > 1 else _draw_line(lines[name], every, None)
        for place, (name, _) in enumerate(same)
        if name in lines
    )
    return Figure(title, x_axis, y_axis, series, lines=drawn, summary=describe_figure(x_label, y_label, len(every), (origin,)))


def _draw_line(line: ClassLine, points: Sequence[FigurePoint], look: int | None) -> ModelLine:
    ends = (min(p.x for p in points), max(p.x for p in points))
    return ModelLine("fit", ends, (line.at(ends[0]), line.at(ends[1])), look)


def _at_places(shared: SharedPoints, kinds: Sequence[str]) -> tuple[FigurePoint, ...]:
    """A bench's points; kinds stand at the places of the class, not of the bench."""
    if not shared.kinds:
        return shared.points
    places = place_kinds(shared.kinds, kinds)
    return tuple(replace(p, x=float(places[int(p.x) - 1])) for p in shared.points)


def _tables_of(condition: str, shares: Sequence[BenchShare]) -> list[SettingTable]:
    """A table for each quantity that was read, in the order of the first bench that has it; benches with other units are left out."""
    by_quantity: dict[tuple[str, str], list[SharedTable]] = {}
    for share in shares:
        for table in share.tables:
            by_quantity.setdefault((table.along, table.symbol), []).append(table)
    found = [_table(condition, tables) for tables in by_quantity.values()]
    return [table for table in found if table.rows]


def _table(condition: str, tables: Sequence[SharedTable]) -> SettingTable:
    first = tables[0]
    groups: dict[str, list[tuple[float, ...]]] = {}
    written: dict[str, str] = {}
    for table in tables:
        if (table.along_unit, table.unit) != (first.along_unit, first.unit):
            continue
        for setting in table.settings:
            written.setdefault(setting.key, setting.at)
            groups.setdefault(setting.key, []).append(setting.readings)
    rows = []
    for key in sorted(groups, key=_by_value):
        pooled = contain(f"setting {key}", pool_setting, groups[key])
        if not isinstance(pooled, CoreError):
            rows.append(_row(written[key], pooled, first.unit))
    return SettingTable(
        condition=condition,
        along=rich_symbol(first.along),
        along_unit=first.along_unit,
        symbol=rich_symbol(first.symbol),
        unit=first.unit,
        rows=tuple(rows),
    )


def _by_value(key: str) -> tuple[int, float, str]:
    try:
        return 0, float(key), ""
    except ValueError:
        return 1, 0.0, key


def _row(at: str, pooled: PooledSetting, unit: str) -> SettingRow:
    if pooled.p_value is None:
        said: Sentences = ()
    elif pooled.p_value < CHANCE:
        said = (say("setting_differs", "benches differ more than their repeats"),)
    else:
        said = (say("setting_alike", "benches differ no more than their repeats"),)
    within, between = ("" if sd is None else with_unit(write_number(sd, 2), unit) for sd in (pooled.within, pooled.between))
    return SettingRow(
        at=at,
        benches=pooled.benches,
        readings=pooled.readings,
        mean=show_value(pooled.mean, pooled.u or None, unit, "one_or_two"),
        within=within,
        between=between,
        words=said,
    )


def _beside(finding: Finding, conditions: Sequence[Condition], by_condition: Sequence[tuple[str, Sequence[BenchShare]]]) -> ConditionTable:
    rows, values = [], {}
    for condition, (name, shares) in zip(conditions, by_condition, strict=True):
        brought = contain(f"pool of {finding.symbol}", bring_together, finding, shares)
        finding, found, _, pool = (finding, [], {}, None) if isinstance(brought, CoreError) else brought
        odd = {p.bench for p in pool.pointed_out} if pool else set()
        values[name] = {bench: shared.value for bench, shared in found if bench not in odd}
        rows.append(_condition_row(finding, condition, found, pool))
    compared = contain(f"conditions of {finding.symbol}", compare_conditions, values)
    words = () if isinstance(compared, CoreError) else (_say_compared(compared),)
    return ConditionTable(finding.name, rich_symbol(finding.symbol), tuple(rows), words)


def say_trials(done: int, wanted: int) -> Sentence:
    """How often a condition has been done, of how often that is wanted."""
    if done > wanted:
        return say("condition_exceeded", "{done} trials, {wanted} wanted", done=done, wanted=wanted)
    return say("condition_covered", "{done} of {wanted} trials", done=done, wanted=wanted)


def _condition_row(finding: Finding, condition: Condition, found: Sequence[tuple[str, SharedFinding]], pool: Pool | None) -> ConditionRow:
    """A condition with the value that its pool quotes."""
    done, wanted = len(found), condition.trials
    if wanted:
        coverage = say_trials(done, wanted)
    elif done:
        coverage = say("condition_done", "{done} {noun}", done=done, noun="bench" if done == 1 else "benches")
    else:
        coverage = say("condition_not_done", "nobody yet")
    value = show_value(*pool.recommended_value, finding.unit, "one_or_two") if pool else None
    benches = tuple(BenchValue(bench, show_value(shared.value, shared.u, finding.unit, "one_or_two").text) for bench, shared in found)
    return ConditionRow(condition.name, (coverage,), value, benches)


def _say_compared(found: ConditionComparison) -> Sentence:
    among = f"of {found.benches} benches that have done all of them" if found.layout == "blocks" else f"of {found.benches} benches"
    if found.p_value is None:
        return say("conditions_without_scatter", "Nothing scatters beside the conditions, so there is nothing to compare them with.")
    chance = "less than 0.1" if found.p_value < 0.001 else write_number(100 * found.p_value, 2)
    in_chance = f"chance alone would do that in {chance} % of cases"
    if found.p_value < CHANCE:
        return say(
            "conditions_differ", "The conditions differ by more than the values {among} scatter: {in_chance}.",
            among=among, in_chance=in_chance,
        )  # fmt: skip
    return say(
        "conditions_alike", "The conditions differ by no more than the values {among} scatter: {in_chance}.",
        among=among, in_chance=in_chance,
    )  # fmt: skip
