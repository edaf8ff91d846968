"""The whole chain: a lab book in, its analysis out. A pure function; each item is a result or a named error."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import ParamSpec, TypeVar

from hobrel.core.checks.confirmed import leave_confirmed_out
from hobrel.core.checks.rows import find_slips
from hobrel.core.checks.table import Slip
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import plain_text
from hobrel.core.pipeline.columns import RunColumns, compute_columns, plain_symbol
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine, fit_graph
from hobrel.core.presentation.columns import describe_log, fail_column, present_column
from hobrel.core.presentation.curves import offer_shapes, present_card
from hobrel.core.presentation.findings import fail_finding, present_or_fail
from hobrel.core.presentation.graphs import DrawnFit, draw_graph, prepare_fit, smooth_sketch, words_beside
from hobrel.core.presentation.line_cards import fail_fit, fail_pattern, name_fit, present_pattern
from hobrel.core.presentation.reference_tables import mark_table
from hobrel.core.presentation.results import Analysis, FindingResult, FitResult, GraphResult, LinePattern, RunResult, TableMark, Trouble
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import convention_words, show_trouble
from hobrel.core.presentation.stages import mark_stages, unmarked_stages
from hobrel.core.presentation.unknowns import present_unknown
from hobrel.core.sentences import Sentences, say

P = ParamSpec("P")
T = TypeVar("T")


def analyse(book: LabBook, finished: bool = False) -> Analysis:
    """Analyse a lab book: compute it, and write every number as people will see it."""
    return present(compute(book), finished)


def present(computation: Computation, finished: bool = False) -> Analysis:
    """Write a computation for people.

    Parameters
    ----------
    computation : Computation
    finished : bool
        Whether nobody writes in the lab book any more, so that a blank at the end of a table is one.
    """
    book, troubles = computation.book, _Troubles()
    runs = tuple(_present_run(run, computation.columns[run.id], book.convention, troubles) for run in book.runs)
    graphs: list[GraphResult] = []
    patterns: list[LinePattern] = []
    for graph in book.graphs:
        line = _find_line(graph, computation)
        drawn = contain(f"graph {graph.id}", _draw, graph, computation, line)
        graphs.append(_fail_graph(graph, drawn) if isinstance(drawn, CoreError) else drawn)
        patterns.append(_judge_line(graph, line))
    fits = tuple(_present_or_fail_fit(f, computation) for f in book.fits)
    findings = tuple(present_or_fail(f, _drawn_first(f, computation), book) for f in book.findings)
    none: tuple[Slip, ...] = ()
    noticed = [
        s for run in book.runs for s in troubles.aside(none, f"slips of {run.id}", find_slips, computation.columns[run.id], book, finished)
    ]
    known = {(s.run, s.setting) for s in noticed}
    far = troubles.aside(none, "points far from a line", _far_points, fits, computation)
    # what is wrong with a row is said once, at its readings
    noticed += [s for s in far if (s.run, s.setting) not in known]
    slips = troubles.aside(tuple(noticed), "confirmed slips", leave_confirmed_out, noticed, book)
    stages = troubles.aside(
        unmarked_stages(), "trail", mark_stages, book, computation.columns, graphs, patterns, fits, findings=findings, slips=slips
    )  # fmt: skip
    tokens = troubles.aside(dict[str, str](), "live values", _tokens, book, runs, fits, findings)
    sketch = troubles.aside(None, "sketch", smooth_sketch, book.sketch)
    return Analysis(
        runs=runs,
        graphs=tuple(graphs),
        patterns=tuple(patterns),
        fits=fits,
        findings=findings,
        slips=slips,
        stages=stages,
        convention_words=convention_words(book.convention),
        tokens=tokens,
        sketch=sketch,
        tables=tuple(troubles.aside(TableMark(table.id, ()), f"table {table.id}", mark_table, table) for table in book.plan.tables),
        trouble=troubles.trouble,
    )


def _drawn_first(finding: Finding, computation: Computation) -> ComputedFinding | CoreError:
    """A finding, unless it is made of a line that the bench has still to draw."""
    used = {finding.fit, *(i.of for i in finding.uses)}
    if any(fit.id in used and computation.book.draws_first(fit) for fit in computation.book.fits):
        return CoreError("draw_first_at_fit", "Draw your own line through the points first, at Fit.")
    return computation.findings[finding.id]


def present_table(book: LabBook, before: LabBook, earlier: Analysis) -> Analysis:
    """An earlier analysis with the columns as they are now, and all else as it was.

    What seemed to be a slip at a setting that has been written in since is withdrawn until the whole is looked at again.

    Parameters
    ----------
    book : LabBook
    before : LabBook
        What `earlier` was made of; of which only readings may be others by now, and no column the slope of a curve (`is_table_enough`).
    earlier : Analysis
    """
    troubles = _Troubles()
    runs = tuple(_present_run(run, compute_columns(book, run), book.convention, troubles) for run in book.runs)
    old = {(run.id, setting.id): setting for run in before.runs for setting in run.settings}
    same = {(run.id, setting.id) for run in book.runs for setting in run.settings if setting == old.get((run.id, setting.id))}
    slips = tuple(s for s in earlier.slips if s.whole_column or (s.run, s.setting) in same)
    return replace(earlier, runs=runs, slips=slips, trouble=troubles.trouble)


def is_table_enough(book: LabBook, before: LabBook) -> bool:
    """Whether nothing but written readings has changed, so that for the time being the table can stand for the whole."""
    same_runs = [(r.id, r.log) for r in book.runs] == [(r.id, r.log) for r in before.runs]
    rests_on_fits = any(q.is_gathered for q in book.quantities)
    return same_runs and not rests_on_fits and replace(book, runs=()) == replace(before, runs=())


def present_failure(book: LabBook, error: CoreError) -> Analysis:
    """The analysis of a lab book of which nothing could be computed: the reason in the place of everything, and once for all of it."""
    names = {run.id: tuple(fail_column(q, run, error) for q in book.quantities) for run in book.runs}
    return Analysis(
        runs=tuple(RunResult(run.id, names[run.id]) for run in book.runs),
        graphs=tuple(_fail_graph(g, error) for g in book.graphs),
        patterns=tuple(fail_pattern(g.id, error) for g in book.graphs),
        fits=tuple(fail_fit(f, error) for f in book.fits),
        findings=tuple(fail_finding(f, error) for f in book.findings),
        slips=(),
        stages=unmarked_stages(),
        convention_words=convention_words(book.convention),
        tokens={},
        sketch=None,
        trouble=show_trouble(error),
    )


class _Troubles:
    """What went wrong with parts of an analysis that have no place of their own to say so; the first is kept."""

    trouble: Trouble | None = None

    def aside(self, instead: T, item: str, work: Callable[P, T], *args: P.args, **kwargs: P.kwargs) -> T:
        """What `work` gives, or else what stands in its place."""
        found = contain(item, work, *args, **kwargs)
        if not isinstance(found, CoreError):
            return found
        self.trouble = self.trouble or show_trouble(found)
        return instead


def _present_run(run: Run, columns: RunColumns, convention: Convention, troubles: _Troubles) -> RunResult:
    shown = []
    for column in columns.columns.values():
        is_written = column.averages is not None or column.words is not None
        if run.headings is not None and is_written and column.quantity.id not in run.headings:
            # of another table
            continue
        if column.quantity.result_of is not None and not run.is_of_runs:
            continue
        written = contain(f"writing of {column.quantity.symbol}", present_column, column, run, convention)
        shown.append(fail_column(column.quantity, run, written) if isinstance(written, CoreError) else written)
    nothing: Sentences = ()
    words = troubles.aside(nothing, "words of a log", describe_log, run.log, shown) if run.log else nothing
    return RunResult(run.id, tuple(shown), words)


def _draw(graph: Graph, computation: Computation, line: FittedLine | CoreError) -> GraphResult:
    """A graph with all that is fitted on it, or else with a line through its points. The sketched expectation lies behind what was asked:
    the graph of what was measured.
    """
    book = computation.book
    series = computation.series[graph.id]
    points = computation.points[graph.id]
    if isinstance(points, CoreError):
        return _fail_graph(graph, points)
    drawn = []
    for fit in book.fits:
        fitted = computation.fits[fit.id]
        if fit.graph == graph.id and not fit.hidden and not isinstance(fitted, CoreError) and not book.draws_first(fit):
            drawn.append(prepare_fit(computation, fit, fitted, computation.points_of_fit(fit.id)[0]))
    if not any(f.graph == graph.id for f in book.fits) and isinstance(line, FittedLine):
        drawn.append(DrawnFit("", series[0].key, line))
    asked = points.x_column.quantity.kind == "changed"
    return draw_graph(
        graph,
        series,
        drawn,
        partial(call_row, book),
        sketch=book.sketch if asked else (),
        words=words_beside(computation, graph),
        moments=book.moments,
        several=len(book.runs) > 1,
    )


def _find_line(graph: Graph, computation: Computation) -> FittedLine | CoreError:
    """The line by which it is judged how straight a graph is: its first fit if that is one, or a line of its own."""
    points = computation.points[graph.id]
    fitted = next((computation.fits[f.id] for f in computation.book.fits if f.graph == graph.id), None)
    if isinstance(fitted, FittedLine | CoreError):
        return fitted
    if isinstance(points, CoreError):
        return points
    return contain(f"line of {graph.id}", fit_graph, points, Fit("", graph.id))


def _fail_graph(graph: Graph, error: CoreError) -> GraphResult:
    return GraphResult(graph.id, None, (), show_trouble(error))


def _judge_line(graph: Graph, line: FittedLine | CoreError) -> LinePattern:
    found = line if isinstance(line, CoreError) else contain(f"pattern of {graph.id}", present_pattern, graph.id, line)
    return fail_pattern(graph.id, found) if isinstance(found, CoreError) else found


def _present_or_fail_fit(fit: Fit, computation: Computation) -> FitResult:
    found = contain(f"card of {fit.id}", _present_fit, fit, computation)
    return fail_fit(fit, found) if isinstance(found, CoreError) else found


def _present_fit(fit: Fit, computation: Computation) -> FitResult:
    fitted, (points, run) = computation.fits[fit.id], computation.fit_points[fit.id]
    if isinstance(points, CoreError):
        return fail_fit(fit, points)
    offers, name = offer_shapes(points, fit), name_fit(computation, fit.id)
    if computation.book.draws_first(fit):
        fitted = CoreError("draw_first", "Draw your own line through the points first. Then you see the fitted one beside it.")
    if isinstance(fitted, CoreError):
        return replace(fail_fit(fit, fitted), shapes=offers, name=name)
    card = present_card(fit, fitted, points, computation.book.convention, run)
    unknowns = tuple(present_unknown(computation, fit.id, u) for u in fit.unknowns)
    return replace(card, shapes=offers, name=name, unknowns=unknowns)


def _far_points(fits: tuple[FitResult, ...], computation: Computation) -> tuple[Slip, ...]:
    """Points beyond 3u of a line, as slips that lead to their setting; where many are, it is the line that does not fit."""
    found = []
    for result in fits:
        if len(result.far) > max(1, result.n // 5):
            continue
        points, run = computation.fit_points[result.fit]
        for key in result.far:
            if not isinstance(points, CoreError):
                symbol = plain_symbol(points.y_column.quantity)
                message = say(
                    "far_from_line", "This point lies more than three of its uncertainties from the line ({symbol}). "
                    "Look at its readings again.", symbol=symbol,
                )  # fmt: skip
                found.append(
                    Slip(kind="off_trend", run=run.id, setting=key, quantity=points.y_column.quantity.id, repeat=None, message=message)
                )
    # a point of two stretches is named once
    return tuple(dict.fromkeys(found))


def _tokens(book: LabBook, runs: tuple[RunResult, ...], fits: tuple[FitResult, ...], findings: tuple[FindingResult, ...]) -> dict[str, str]:
    """What a live value in a paragraph stands for: ``{E}``, ``{gradient}``, ``{m}``."""
    tokens: dict[str, str] = {}
    if runs:
        for column in runs[0].columns:
            if column.constant is not None:
                tokens[plain_text(column.symbol)] = column.constant.text
        tokens["settings"] = str(runs[0].columns[0].count if runs[0].columns else 0)
    # where several have a number of one name, that of the first is meant
    for fit in reversed(fits):
        if fit.gradient is not None and fit.intercept is not None:
            tokens["gradient"], tokens["intercept"] = fit.gradient.text, fit.intercept.text
        tokens.update((p.name, p.value.text) for p in fit.parameters if p.value is not None)
    for finding in reversed(findings):
        if finding.said and finding.value is not None:
            tokens[plain_text(finding.symbol)] = finding.value.text
        if finding.accepted is not None:
            tokens["accepted"] = finding.accepted.text
    return tokens
