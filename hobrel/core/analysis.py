"""The whole chain: a lab book in, its analysis out. A pure function; each item is a result or a named error."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeAlias

from hobrel.core.columns import RunColumns, compute_columns
from hobrel.core.curves import FittedCurve, fit_curve
from hobrel.core.documents import Finding, Fit, Graph, LabBook, Run
from hobrel.core.errors import CoreError
from hobrel.core.findings import ComputedFinding, compute_finding
from hobrel.core.formulas.typeset import plain_text, rich_symbol
from hobrel.core.lines import FittedLine, GraphPoints, fit_graph, gather_points
from hobrel.core.presenting.columns import describe_log, present_column
from hobrel.core.presenting.curves import offer_shapes, present_curve
from hobrel.core.presenting.findings import fail_finding, present_finding
from hobrel.core.presenting.graphs import draw_graph, fail_fit, fail_pattern, present_fit, present_pattern
from hobrel.core.presenting.stages import mark_stages
from hobrel.core.results import Analysis, FindingResult, FitResult, GraphResult, LinePattern, RunResult
from hobrel.core.showing import convention_words, show_trouble
from hobrel.core.slips.confirmed import leave_confirmed_out
from hobrel.core.slips.rows import find_slips
from hobrel.core.slips.table import Slip

Fitted: TypeAlias = FittedLine | FittedCurve


@dataclass(frozen=True)
class Computation:
    """The numbers behind an analysis, in full precision, for workings and for the pool.

    Each value is a result or the `CoreError` that stands in its place.
    """

    book: LabBook
    columns: dict[str, RunColumns]
    points: dict[str, GraphPoints | CoreError]
    fits: dict[str, Fitted | CoreError]
    findings: dict[str, ComputedFinding | CoreError]


def compute(book: LabBook) -> Computation:
    """Compute everything in a lab book. Graphs, fits and findings are of its first run."""
    columns = {run.id: compute_columns(book, run) for run in book.runs}
    first = columns[book.runs[0].id] if book.runs else compute_columns(book, Run("", ""))
    points: dict[str, GraphPoints | CoreError] = {g.id: _attempt_points(first, g) for g in book.graphs}
    fits: dict[str, Fitted | CoreError] = {f.id: _attempt_fit(first, points.get(f.graph), f) for f in book.fits}
    findings = {f.id: _attempt_finding(f, fits.get(f.fit), first) for f in book.findings}
    return Computation(book, columns, points, fits, findings)


def _attempt_points(columns: RunColumns, graph: Graph) -> GraphPoints | CoreError:
    try:
        return gather_points(columns, graph)
    except CoreError as trouble:
        return trouble


def _attempt_fit(columns: RunColumns, points: GraphPoints | CoreError | None, fit: Fit) -> Fitted | CoreError:
    if points is None:
        return CoreError("bad_job", "The graph of this fit is no longer in the lab book.")
    if isinstance(points, CoreError):
        return points
    try:
        return fit_graph(points, fit, columns) if fit.shape == "line" else fit_curve(points, fit, columns)
    except CoreError as trouble:
        return trouble


def _attempt_finding(finding: Finding, fitted: Fitted | CoreError | None, columns: RunColumns) -> ComputedFinding | CoreError:
    if fitted is None:
        return CoreError("bad_job", "The fit of this finding is no longer in the lab book.")
    if isinstance(fitted, CoreError):
        return CoreError(fitted.code, f"There is no fit yet: {fitted.message}")
    try:
        return compute_finding(finding, fitted, columns)
    except CoreError as trouble:
        return trouble


def analyse(book: LabBook) -> Analysis:
    """Analyse a lab book: compute it, and write every number as people will see it."""
    return present(compute(book))


def present(computation: Computation) -> Analysis:
    """Write a computation for people."""
    book = computation.book
    runs = tuple(_present_run(run, computation) for run in book.runs)
    fit_of_graph = {f.graph: computation.fits[f.id] for f in book.fits}
    graphs: list[GraphResult] = []
    patterns: list[LinePattern] = []
    for graph in book.graphs:
        points = computation.points[graph.id]
        if isinstance(points, CoreError):
            graphs.append(GraphResult(graph.id, None, (), show_trouble(points)))
            patterns.append(fail_pattern(graph.id, points))
            continue
        fitted = fit_of_graph.get(graph.id)
        line = fitted
        if line is None or isinstance(line, FittedCurve):
            line = _attempt_fit(computation.columns[book.runs[0].id], points, Fit("", graph.id))
        drawn = line if fitted is None else fitted
        graphs.append(draw_graph(graph, points, None if isinstance(drawn, CoreError) else drawn, book.runs[0]))
        patterns.append(present_pattern(graph.id, line) if isinstance(line, FittedLine) else fail_pattern(graph.id, _no_line(line)))
    fits = tuple(_present_fit(f, computation) for f in book.fits)
    findings = tuple(_present_finding(f, computation) for f in book.findings)
    noticed = tuple(s for run in book.runs for s in find_slips(computation.columns[run.id])) + _far_points(fits, computation)
    slips = leave_confirmed_out(noticed, book)
    return Analysis(
        runs, tuple(graphs), tuple(patterns), fits, findings, slips,
        mark_stages(book, computation.columns, graphs, patterns, fits, findings, slips),
        convention_words(book.convention),
        _tokens(book, runs, fits, findings),
    )  # fmt: skip


def _present_run(run: Run, computation: Computation) -> RunResult:
    columns, convention = computation.columns[run.id], computation.book.convention
    shown = tuple(present_column(c, run, columns, convention) for c in columns.columns.values())
    return RunResult(run.id, shown, describe_log(run.log, shown) if run.log else "")


def _no_line(line: FittedCurve | CoreError) -> CoreError:
    return line if isinstance(line, CoreError) else CoreError("bad_job", "There is no line.")


def _present_fit(fit: Fit, computation: Computation) -> FitResult:
    fitted, points = computation.fits[fit.id], computation.points.get(fit.graph)
    if not isinstance(points, GraphPoints):
        return fail_fit(fit, fitted if isinstance(fitted, CoreError) else CoreError("bad_job", "There is no graph."))
    offers = offer_shapes(points, fit)
    if isinstance(fitted, CoreError):
        return replace(fail_fit(fit, fitted), shapes=offers)
    run, convention = computation.book.runs[0], computation.book.convention
    if isinstance(fitted, FittedCurve):
        return replace(present_curve(fit, fitted, points, convention, run), shapes=offers)
    return replace(present_fit(fit, fitted, points, convention, run), shapes=offers)


def _present_finding(finding: Finding, computation: Computation) -> FindingResult:
    computed = computation.findings[finding.id]
    if isinstance(computed, CoreError):
        return fail_finding(finding, computed)
    return present_finding(computed, computation.book)


def _far_points(fits: tuple[FitResult, ...], computation: Computation) -> tuple[Slip, ...]:
    """Points beyond 3u of a line, as slips that lead to their setting; where many are, it is the line that does not fit."""
    book = computation.book
    found = []
    for result in fits:
        if len(result.far) > max(1, result.n // 5):
            continue
        points = computation.points.get(result.graph)
        for key in result.far:
            if isinstance(points, GraphPoints):
                symbol = plain_text(rich_symbol(points.y_column.quantity.symbol))
                message = f"This point lies more than three of its uncertainties from the line ({symbol}). Look at its readings again."
                found.append(Slip("off_trend", book.runs[0].id, key, points.y_column.quantity.id, None, message))
    return tuple(found)


def _tokens(book: LabBook, runs: tuple[RunResult, ...], fits: tuple[FitResult, ...], findings: tuple[FindingResult, ...]) -> dict[str, str]:
    """What a live value in a paragraph stands for: ``{E}``, ``{gradient}``, ``{m}``."""
    tokens: dict[str, str] = {}
    if runs:
        for column in runs[0].columns:
            if column.constant is not None:
                tokens[plain_text(column.symbol)] = column.constant.text
        tokens["settings"] = str(runs[0].columns[0].count if runs[0].columns else 0)
    for fit in fits:
        if fit.gradient is not None and fit.intercept is not None:
            tokens["gradient"], tokens["intercept"] = fit.gradient.text, fit.intercept.text
        tokens.update((p.name, p.value.text) for p in fit.parameters if p.value is not None)
    for finding in findings:
        if finding.value is not None:
            tokens[plain_text(finding.symbol)] = finding.value.text
        if finding.accepted is not None:
            tokens["accepted"] = finding.accepted.text
    return tokens
