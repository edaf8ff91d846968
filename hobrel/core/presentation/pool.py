"""The class's findings and points brought together, as people see them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Finding
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.formulas.typeset import RichRun, RichText, plain_text, rich_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.lines import GraphPoints
from hobrel.core.pipeline.worded import join_kinds, place_kinds
from hobrel.core.presentation.figures import Figure, FigurePoint, PointSeries, axis_label, describe_figure, make_axis, make_named_axis
from hobrel.core.presentation.results import LineMark, NumberLine, ShownValue
from hobrel.core.presentation.showing import draw_number_line, show_value
from hobrel.core.presentation.thinning import thin_points
from hobrel.core.readings.parsing import parse_difference, parse_reading
from hobrel.core.rounding import RoundingRule, write_number
from hobrel.core.sentences import Sentence, Sentences, said_by, say
from hobrel.core.statistics.pool import BenchResult, Pool, Recommended, pool_results
from hobrel.core.units.calculus import Unit

MOST_TOLD_APART = 8
"""Benches that have a colour and a shape each."""
NO_FINDING = say("no_finding_yet", "There is no finding yet.")


@dataclass(frozen=True)
class PoolRow:
    """One bench in the pool: its value, or why it has none yet; `pointed_out` says what seems to be off.

    `look` is the index of its colour and shape on the graph.
    """

    bench: str
    value: ShownValue | None
    missing: Sentences
    pointed_out: Sentences
    look: int


@dataclass(frozen=True)
class ClassValue:
    """One way of making a class value; `recommended` marks the one to quote."""

    kind: Recommended
    name: str
    value: ShownValue
    words: Sentences
    recommended: bool


@dataclass(frozen=True)
class PoolResult:
    """The pool of one finding. `counted` says of how many benches the value to quote is, and without whom."""

    name: str
    symbol: RichText
    unit: str
    rows: tuple[PoolRow, ...]
    values: tuple[ClassValue, ...]
    spread: Sentences
    reason: Sentences
    consistency: Sentences
    counted: Sentences
    number_line: NumberLine | None
    accepted: ShownValue | None
    figure: Figure | None


@dataclass(frozen=True)
class SharedFinding:
    """A bench's finding as it enters the pool, in the finding's own unit."""

    value: float
    u: float


@dataclass(frozen=True)
class SharedPoints:
    """The points of the graph that a bench's first fit is on, or of its first graph, with what stands on its axes; of kinds also these."""

    axes: tuple[str, str]
    units: tuple[Unit, Unit]
    points: tuple[FigurePoint, ...]
    kinds: tuple[str, ...] = ()


@dataclass(frozen=True)
class BenchShare:
    """What one bench brings to the pool: its findings by id, each or the reason why there is none, and its points.

    `missing` is said of a finding that the bench does not have.
    """

    bench: str
    rule: RoundingRule
    findings: dict[str, SharedFinding | Sentence]
    points: SharedPoints | None
    missing: Sentence = NO_FINDING
    constants: dict[str, float] = field(default_factory=dict)
    """The practical's own numbers without unit, by symbol."""


def share_findings(computation: Computation, bench: str) -> BenchShare:
    """Take from a bench's lab book what it brings to the pool."""
    shared: dict[str, SharedFinding | Sentence] = {}
    for key, found in computation.findings.items():
        if isinstance(found, CoreError):
            shared[key] = _say_missing(found)
        else:
            whole = found.u > 0 and math.isfinite(found.value) and math.isfinite(found.u)
            shared[key] = SharedFinding(found.value, found.u) if whole else NO_FINDING
    numbers = pure_constants(computation)
    return BenchShare(bench, computation.book.convention.rounding, shared, _share_points(computation), constants=numbers)


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
    """The place of a bench that has been left out of the pool: no finding of it counts, and none of its points is drawn."""
    why = say("left_out_of_pool", "left out by the teacher: {reason}", reason=reason)
    return replace(share, findings=dict.fromkeys(share.findings, why), points=None, missing=why)


def present_pools(findings: Sequence[Finding], shares: Sequence[BenchShare]) -> tuple[PoolResult, ...]:
    """Pool each finding over the benches; one that cannot be pooled says why and leaves the others."""

    def one(finding: Finding) -> PoolResult:
        pooled = contain(f"pool of {finding.symbol}", present_pool, finding, shares)
        if not isinstance(pooled, CoreError):
            return pooled
        rows = tuple(PoolRow(share.bench, None, (), (), look) for look, share in enumerate(shares))
        symbol = rich_symbol(finding.symbol)
        return PoolResult(
            name=finding.name,
            symbol=symbol,
            unit=finding.unit,
            rows=rows,
            values=(),
            spread=(),
            reason=(said_by(pooled),),
            consistency=(),
            counted=(),
            number_line=None,
            accepted=None,
            figure=None,
        )

    return tuple(one(finding) for finding in findings)


def _read_accepted(finding: Finding) -> tuple[float, float] | None:
    """The accepted value of a finding and its ±, in its unit; None where there is none that can be read."""
    written = finding.accepted
    if written is None or not written.value.strip():
        return None

    def read() -> tuple[float, float]:
        u = float(parse_difference(written.u, finding.unit)) if written.u.strip() else 0.0
        return float(parse_reading(written.value, finding.unit).value), u

    found = contain(f"accepted value of {finding.symbol}", read)
    return None if isinstance(found, CoreError) else found


def present_pool(finding: Finding, shares: Sequence[BenchShare]) -> PoolResult:
    """Pool one finding over the benches.

    Parameters
    ----------
    finding : Finding
        As the practical has it; every bench's finding of this id counts.
    shares : sequence of BenchShare
    """
    found, missing, pool = _bring_together(finding, shares)
    waiting = sum(words.code == NOT_WORKED_OUT for (words,) in missing.values())
    rule = shares[0].rule if shares else "one_or_two"
    pointed = {p.bench: p.reason for p in pool.pointed_out} if pool else {}
    values = {name: show_value(c.value, c.u, finding.unit, rule) for name, c in found}
    rows = tuple(PoolRow(s.bench, values.get(s.bench), missing.get(s.bench, ()), pointed.get(s.bench, ()), i) for i, s in enumerate(shares))
    accepted = _read_accepted(finding)
    marks = tuple(LineMark(name, c.value, c.u) for name, c in found)
    if accepted:
        marks = (*marks, LineMark("accepted", *accepted))
    return PoolResult(
        name=finding.name,
        symbol=rich_symbol(finding.symbol),
        unit=finding.unit,
        rows=rows,
        values=_class_values(pool, finding.unit) if pool else (),
        spread=(_spread(pool, finding.unit),) if pool else (),
        reason=pool.reason if pool else (_say_none(waiting),),
        consistency=_consistency(pool) if pool else (),
        counted=(_say_counted(pool), *_say_waiting(waiting)) if pool else (),
        number_line=draw_number_line(marks, finding.unit, {r.bench for r in rows if r.pointed_out}) if marks else None,
        accepted=show_value(accepted[0], accepted[1] or None, finding.unit, rule) if accepted else None,
        figure=_draw_points(shares),
    )


def _bring_together(
    finding: Finding, shares: Sequence[BenchShare]
) -> tuple[list[tuple[str, SharedFinding]], dict[str, tuple[Sentence]], Pool | None]:
    """The benches that have a finding, why the others have none, and the pool of the first."""
    found: list[tuple[str, SharedFinding]] = []
    missing: dict[str, tuple[Sentence]] = {}
    for share in shares:
        shared = share.findings.get(finding.id, share.missing)
        if isinstance(shared, SharedFinding):
            found.append((share.bench, shared))
        else:
            missing[share.bench] = (shared,)
    constants = next((share.constants for share in shares if share.constants), {})
    pool = pool_results([BenchResult(name, c.value, c.u) for name, c in found], finding.unit, constants) if found else None
    return found, missing, pool


def point_out(findings: Sequence[Finding], shares: Sequence[BenchShare]) -> dict[str, Sentences]:
    """What seems to be off at which bench, by its first finding that is; a finding that cannot be pooled points nobody out."""
    said: dict[str, Sentences] = {}
    for finding in findings:
        pooled = contain(f"pool of {finding.symbol}", _bring_together, finding, shares)
        if not isinstance(pooled, CoreError) and pooled[2] is not None:
            for odd in pooled[2].pointed_out:
                said.setdefault(odd.bench, odd.reason)
    return said


def _class_values(pool: Pool, unit: str) -> tuple[ClassValue, ...]:
    def one(kind: Recommended, name: str, value: float, u: float | None, words: Sentence) -> ClassValue:
        return ClassValue(kind, name, show_value(value, u, unit, "one_or_two"), (words,), pool.recommended == kind)

    median_u = pool.recommended_value[1] if pool.recommended == "median" else None
    class_value = pool.recommended_value if pool.recommended == "mandel_paule" else (pool.mandel_paule.value, pool.mandel_paule.u)
    values = [
        one("mean", "Mean", pool.mean, pool.standard_error, _MEAN_WORDS),
        one("weighted", "Weighted mean", pool.weighted.value, pool.weighted.u_internal, _WEIGHTED_WORDS),
    ]
    if pool.n > 1:
        values.append(one("mandel_paule", "With scatter between benches", *class_value, _SCATTER_WORDS))
        values.append(one("median", "Median", pool.median, median_u, _MEDIAN_WORDS))
    return tuple(values)


_MEAN_WORDS = say("class_mean", "every bench counts the same; ± is the standard error")
_WEIGHTED_WORDS = say("class_weighted", "benches with a smaller ± count more")
_SCATTER_WORDS = say("class_with_scatter", "weighted, with as much scatter between benches as the values show")
_MEDIAN_WORDS = say("class_median", "the middle one; hardly moved by one bench that is off")


def _say_counted(pool: Pool) -> Sentence:
    without = [p.bench for p in pool.pointed_out] if pool.recommended == "mandel_paule" else []
    count = pool.n - len(without)
    benches = f"{count} benches" if count > 1 else "one bench"
    if without:
        return say("counted_without", "of {benches}, without {without}", benches=benches, without=" and ".join(without))
    return say("counted_benches", "of {benches}", benches=benches)


def _say_none(waiting: int) -> Sentence:
    if waiting:
        return say("benches_waited_for", "The benches’ findings are being worked out. They come by themselves in a moment.")
    return say("no_bench_has_finding", "No bench has a finding yet.")


def _say_waiting(waiting: int) -> Sentences:
    """Of whom nobody knows yet whether they have a finding: what is quoted may be another in a moment."""
    if not waiting:
        return ()
    return (say("benches_waiting", "{n} more {verb} being worked out", n=waiting, verb="is" if waiting == 1 else "are"),)


def _spread(pool: Pool, unit: str) -> Sentence:
    if pool.sd is None:
        return say("one_bench", "One bench so far.")
    return say(
        "class_spread", "{n} benches; standard deviation between them {sd}, median absolute deviation {mad}.",
        n=pool.n, sd=f"{write_number(pool.sd, 2)} {unit}".rstrip(), mad=f"{write_number(pool.mad, 2)} {unit}".rstrip(),
    )  # fmt: skip


def _consistency(pool: Pool) -> Sentences:
    if pool.p_value is None:
        return ()
    chance = "less than 0.1" if pool.p_value < 0.001 else write_number(100 * pool.p_value, 2)
    verdict = "more than their own uncertainties say" if pool.p_value < 0.05 else "no more than their own uncertainties say"
    # with the bench that is off among them, whatever the class value makes of it
    who = "All benches together" if pool.pointed_out else "The benches"
    words = say(
        "class_consistency", "{who} differ by {verdict}: χ² = {chi2} for {dof}, which chance alone would exceed in {chance} % of cases.",
        who=who, verdict=verdict, chi2=write_number(pool.chi2, 3), dof=pool.dof, chance=chance,
    )  # fmt: skip
    return (words,)


def _draw_points(shares: Sequence[BenchShare]) -> Figure | None:
    """All benches' points of the graph that the first fit is on; benches whose axes differ are left out of the figure."""
    collected = [(look, share.bench, share.points) for look, share in enumerate(shares) if share.points is not None]
    if not collected:
        return None
    first = collected[0][2]
    same = [(look, name, shared) for look, name, shared in collected if (shared.axes, shared.units) == (first.axes, first.units)]
    kinds = join_kinds([shared.kinds for _, _, shared in same])
    series = tuple(
        PointSeries(name, look, tuple(replace(p, label=f"{name}, {p.label}") for p in _at_places(shared, kinds)))
        for look, name, shared in same
    )
    if len(series) > MOST_TOLD_APART:
        # more than can be told apart by shape and colour are one quiet cloud; each point still says whose it is
        series = (PointSeries(f"{len(series)} benches", 0, tuple(p for s in series for p in s.points)),)
    every = [p for s in series for p in s.points]
    x_label, y_label = (axis_label((symbol,), unit) for symbol, unit in zip(first.axes, first.units, strict=True))
    if kinds:
        x_label = (RichRun(first.axes[0]),)
        x_axis = make_named_axis(x_label, kinds)
    else:
        x_axis = make_axis(x_label, min(p.x - p.ux for p in every), max(p.x + p.ux for p in every), 7)
    y_axis = make_axis(y_label, min(p.y - p.uy for p in every), max(p.y + p.uy for p in every), 6)
    along = first.axes[0] if kinds else plain_text(rich_symbol(first.axes[0]))
    title = f"All benches: {plain_text(rich_symbol(first.axes[1]))} against {along}"
    origin = say("from_benches", "From {n} benches.", n=len(same))
    return Figure(title, x_axis, y_axis, series, summary=describe_figure(x_label, y_label, len(every), (origin,)))


def _at_places(shared: SharedPoints, kinds: Sequence[str]) -> tuple[FigurePoint, ...]:
    """A bench's points; kinds stand at the places of the class, not of the bench."""
    if not shared.kinds:
        return shared.points
    places = place_kinds(shared.kinds, kinds)
    return tuple(replace(p, x=float(places[int(p.x) - 1])) for p in shared.points)


def _share_points(computation: Computation) -> SharedPoints | None:
    fits, graphs = computation.book.fits, computation.book.graphs
    points = computation.points.get(fits[0].graph if fits else graphs[0].id if graphs else "")
    if not isinstance(points, GraphPoints) or not points.rows:
        return None
    x, y = points.x_column, points.y_column
    assert x.traced is not None and y.traced is not None
    run = computation.book.runs[0]
    ux, uy = np.nan_to_num(points.ux), np.nan_to_num(points.uy)
    shown = tuple(
        FigurePoint(key=run.row_id(points.rows[i]), x=float(points.x[i]), y=float(points.y[i]), ux=float(ux[i]), uy=float(uy[i]),
                    label=f"setting {points.rows[i] + 1}", set_aside=not bool(points.used[i]))
        for i in thin_points(points.x, points.y, 200)
    )  # fmt: skip
    along = x.quantity.name if x.kinds else x.quantity.symbol
    return SharedPoints((along, y.quantity.symbol), (x.traced.unit, y.traced.unit), shown, x.kinds)
