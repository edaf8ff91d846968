"""The class's findings and points brought together, as people see them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hobrel.core.document.lab_book import Finding
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import RichText, plain_text, rich_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import GraphPoints
from hobrel.core.presentation.figures import Figure, FigurePoint, PointSeries, axis_label, describe_figure, make_axis
from hobrel.core.presentation.results import LineMark, NumberLine, ShownValue
from hobrel.core.presentation.showing import draw_number_line, show_value
from hobrel.core.presentation.thinning import thin_points
from hobrel.core.rounding import write_number
from hobrel.core.statistics.pool import BenchResult, Pool, Recommended, pool_results


@dataclass(frozen=True)
class PoolRow:
    """One bench in the pool: its value, or why it has none yet; `pointed_out` says what seems to be off.

    `look` is the index of its colour and shape on the graph.
    """

    bench: str
    value: ShownValue | None
    missing: str
    pointed_out: str
    look: int


@dataclass(frozen=True)
class ClassValue:
    """One way of making a class value; `recommended` marks the one to quote."""

    kind: Recommended
    name: str
    value: ShownValue
    words: str
    recommended: bool


@dataclass(frozen=True)
class PoolResult:
    """The pool of one finding."""

    name: str
    symbol: RichText
    unit: str
    rows: tuple[PoolRow, ...]
    values: tuple[ClassValue, ...]
    spread: str
    reason: str
    consistency: str
    number_line: NumberLine | None
    accepted: ShownValue | None
    figure: Figure | None


def present_pool(finding: Finding, benches: Sequence[tuple[str, Computation]]) -> PoolResult:
    """Pool one finding over the benches.

    Parameters
    ----------
    finding : Finding
        As the practical has it; every bench's finding of this id counts.
    benches : sequence of (name, Computation)
    """
    found: list[tuple[str, ComputedFinding]] = []
    missing: dict[str, str] = {}
    for name, computation in benches:
        computed = computation.findings.get(finding.id)
        if isinstance(computed, ComputedFinding) and computed.u > 0:
            found.append((name, computed))
        else:
            missing[name] = computed.message if isinstance(computed, CoreError) else "There is no finding yet."
    rule = benches[0][1].book.convention.rounding if benches else "one_or_two"
    pool = pool_results([BenchResult(name, c.value, c.u) for name, c in found]) if found else None
    pointed = {p.bench: p.reason for p in pool.pointed_out} if pool else {}
    values = {name: show_value(c.value, c.u, finding.unit, rule) for name, c in found}
    rows = tuple(PoolRow(name, values.get(name), missing.get(name, ""), pointed.get(name, ""), i) for i, (name, _) in enumerate(benches))
    accepted = next((c.accepted for _, c in found if c.accepted), None)
    marks = tuple(LineMark(name, c.value, c.u) for name, c in found)
    if accepted:
        marks = (*marks, LineMark("accepted", *accepted))
    return PoolResult(
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=finding.unit,
        rows=rows,
        values=_class_values(pool, finding.unit) if pool else (),
        spread=_spread(pool, finding.unit) if pool else "",
        reason=pool.reason if pool else "No bench has a finding yet.",
        consistency=_consistency(pool) if pool else "",
        number_line=draw_number_line(marks, finding.unit) if marks else None,
        accepted=show_value(accepted[0], accepted[1] or None, finding.unit, rule) if accepted else None,
        figure=_draw_points(benches),
    )


def _class_values(pool: Pool, unit: str) -> tuple[ClassValue, ...]:
    def one(kind: Recommended, name: str, value: float, u: float | None, words: str) -> ClassValue:
        return ClassValue(kind, name, show_value(value, u, unit, "one_or_two"), words, pool.recommended == kind)

    median_u = pool.recommended_value[1] if pool.recommended == "median" else None
    values = [
        one("mean", "Mean", pool.mean, pool.standard_error, "every bench counts the same; ± is the standard error"),
        one("weighted", "Weighted mean", pool.weighted.value, pool.weighted.u_internal, "benches with a smaller ± count more"),
    ]
    if pool.n > 1:
        values.append(one("mandel_paule", "With scatter between benches", pool.mandel_paule.value, pool.mandel_paule.u,
                          "weighted, with as much scatter between benches as the values show"))  # fmt: skip
        values.append(one("median", "Median", pool.median, median_u, "the middle one; hardly moved by one bench that is off"))
    return tuple(values)


def _spread(pool: Pool, unit: str) -> str:
    if pool.sd is None:
        return "One bench so far."
    sd, mad = write_number(pool.sd, 2), write_number(pool.mad, 2)
    return f"{pool.n} benches; standard deviation between them {sd} {unit}, median absolute deviation {mad} {unit}."


def _consistency(pool: Pool) -> str:
    if pool.p_value is None:
        return ""
    chance = "less than 0.1" if pool.p_value < 0.001 else write_number(100 * pool.p_value, 2)
    verdict = "more than their own uncertainties say" if pool.p_value < 0.05 else "no more than their own uncertainties say"
    chi2 = f"χ² = {write_number(pool.chi2, 3)} for {pool.dof}"
    return f"The benches differ by {verdict}: {chi2}, which chance alone would exceed in {chance} % of cases."


def _draw_points(benches: Sequence[tuple[str, Computation]]) -> Figure | None:
    """All benches' points of the graph that the first fit is on; benches whose axes differ are left out of the figure."""
    collected: list[tuple[int, str, GraphPoints, Computation]] = []
    for look, (name, computation) in enumerate(benches):
        fits = computation.book.fits
        points = computation.points.get(fits[0].graph) if fits else None
        if isinstance(points, GraphPoints) and points.rows:
            collected.append((look, name, points, computation))
    if not collected:
        return None
    first = collected[0][2]
    axes = [(p.x_column.quantity.symbol, p.y_column.quantity.symbol, _unit(p)) for _, _, p, _ in collected]
    same = [c for c, a in zip(collected, axes, strict=True) if a == axes[0]]
    series = tuple(_bench_series(look, name, points, computation) for look, name, points, computation in same)
    every = [p for s in series for p in s.points]
    assert first.x_column.traced is not None and first.y_column.traced is not None
    x_label = axis_label((first.x_column.quantity.symbol,), first.x_column.traced.unit)
    y_label = axis_label((first.y_column.quantity.symbol,), first.y_column.traced.unit)
    x_axis = make_axis(x_label, min(p.x - p.ux for p in every), max(p.x + p.ux for p in every), 7)
    y_axis = make_axis(y_label, min(p.y - p.uy for p in every), max(p.y + p.uy for p in every), 6)
    title = f"All benches: {plain_text(rich_symbol(axes[0][1]))} against {plain_text(rich_symbol(axes[0][0]))}"
    return Figure(title, x_axis, y_axis, series, summary=describe_figure(x_label, y_label, len(every), f"From {len(series)} benches."))


def _unit(points: GraphPoints) -> tuple[object, object]:
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    return x.unit, y.unit


def _bench_series(look: int, name: str, points: GraphPoints, computation: Computation) -> PointSeries:
    run = computation.book.runs[0]
    ux, uy = np.nan_to_num(points.ux), np.nan_to_num(points.uy)
    return PointSeries(
        name, look,
        tuple(
            FigurePoint(run.row_id(points.rows[i]), float(points.x[i]), float(points.y[i]), float(ux[i]), float(uy[i]),
                        f"{name}, setting {points.rows[i] + 1}", not bool(points.used[i]))
            for i in thin_points(points.x, points.y, 200)
        ),
    )  # fmt: skip
