"""Results beside each other: the gradients of the fits on a graph, and one finding over the runs of a lab book."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.comparing import TwoFold, compare_numbers
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.findings import ComputedFinding, compare_findings
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.line_cards import name_fit
from hobrel.core.presentation.results import LineMark, NumberLine, ShownValue
from hobrel.core.presentation.showing import draw_number_line, show_value
from hobrel.core.rounding import write_number
from hobrel.core.sentences import Sentences, said_by, say
from hobrel.core.statistics.comparison import VerdictRule, say_verdict
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import write_unit

MOST_RUNS = 12


@dataclass(frozen=True)
class ComparedValue:
    """One of several results, with what sets it beside the first of them (`words` is empty for the first)."""

    key: str
    name: str
    value: ShownValue | None
    look: int
    words: Sentences


@dataclass(frozen=True)
class SideBySide:
    """Results of one kind beside each other, on a number line."""

    rows: tuple[ComparedValue, ...]
    number_line: NumberLine | None


def compare_gradients(computation: Computation, graph_id: str) -> SideBySide:
    """The gradients of all lines on a graph, each against the first; constants that they share are not counted twice.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such graph.
    """
    if graph_id not in computation.series:
        raise CoreError("bad_job", "This graph is no longer in the lab book.")
    rule = computation.book.convention.rounding
    looks = {s.key: s.look for s in computation.series[graph_id]}
    rows, marks = [], []
    first: FittedLine | None = None
    for fit in computation.book.fits:
        fitted = computation.fits[fit.id]
        if fit.graph != graph_id or not isinstance(fitted, FittedLine):
            continue
        u = float(combine_quadrature(fitted.gradient))
        value, name = float(fitted.gradient.value), name_fit(computation, fit.id)
        words: Sentences = ()
        if first is None:
            first = fitted
        else:
            words = _apart(first, fitted, computation.book.convention.verdict)
        shown = show_value(value, u or None, fitted.gradient.unit, rule)
        rows.append(ComparedValue(fit.id, name, shown, looks.get(computation.series_key(fit), 0), words))
        marks.append(LineMark(name, value, u))
    line = draw_number_line(tuple(marks), write_unit(first.gradient.unit)) if first and len(marks) > 1 else None
    return SideBySide(tuple(rows), line)


def _apart(a: FittedLine, b: FittedLine, rule: VerdictRule) -> Sentences:
    if a.gradient.unit != b.gradient.unit:
        return (say("other_unit", "in another unit, so the two cannot be compared"),)
    one, first = (TwoFold(line.gradient, line.judged["gradient"]) for line in (b, a))
    found = compare_numbers(one, first, rule)
    verdict = say_verdict(found, "the first")
    if not a.gradient.value:
        return (verdict,)
    ratio = write_number(float(b.gradient.value) / float(a.gradient.value), 3)
    return verdict, say("times_the_first", "It is {ratio} times the first.", ratio=ratio)


def compare_runs(computation: Computation, finding_id: str) -> SideBySide:
    """A finding made from every run in turn, each against that of the run that is looked at.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such finding, or more runs than can be compared.
    """
    if len(computation.book.runs) > MOST_RUNS:
        raise CoreError("bad_job", "At most {most} runs are compared at once.", most=MOST_RUNS)
    if finding_id not in computation.findings:
        raise CoreError("bad_job", "This finding is no longer in the lab book.")
    return _set_side_by_side(computation.book, finding_id, see_from_every_run(computation))


def find_what_runs_differ_in(seen: Sequence[Computation]) -> dict[str, SideBySide]:
    """The findings that come out otherwise from other runs, by id, as far as there are any.

    One that the first run does not give yet is among them as soon as another gives it, unless the bench has to state its own first.

    Parameters
    ----------
    seen : sequence of Computation
        A lab book from every run, as by `see_from_every_run`.
    """
    book = seen[0].book
    found: dict[str, SideBySide] = {}
    if len(seen) < 2:
        return found
    for finding in book.findings:
        beside = _set_side_by_side(book, finding.id, seen)
        values = {(r.value.value, r.value.u) for r in beside.rows if r.value}
        waits = book.rounds_first(finding) or book.foresees_first(finding)
        if len(values) > 1 or (values and beside.rows[0].value is None and not waits):
            found[finding.id] = beside
    return found


def see_from_every_run(computation: Computation) -> list[Computation]:
    """A lab book from each of its runs, the first as it is; from that alone where nothing is found, or runs are too many to be compared."""
    book = computation.book
    if len(book.runs) > MOST_RUNS or not book.findings:
        return [computation]
    others = (replace(book, runs=(run, *(r for r in book.runs if r is not run))) for run in book.runs[1:])
    return [computation, *(compute(other) for other in others)]


def _set_side_by_side(book: LabBook, finding_id: str, seen: Sequence[Computation]) -> SideBySide:
    first: ComputedFinding | None = None
    first_name = ""
    rows, marks = [], []
    looks = {run: i for i, run in enumerate(sorted(r.id for r in book.runs))}
    for run, of_run in zip(book.runs, seen, strict=True):
        found = of_run.findings[finding_id]
        if isinstance(found, CoreError):
            rows.append(ComparedValue(run.id, run.name, None, looks[run.id], (said_by(found),)))
            continue
        words: Sentences = ()
        if first is None:
            first, first_name = found, run.name
        else:
            comparison = compare_findings(found, first, book.convention.verdict).comparison
            other = f"that of {first_name}"
            words = (said_by(comparison) if isinstance(comparison, CoreError) else say_verdict(comparison, other),)
        shown = show_value(found.value, found.u or None, found.traced.unit, book.convention.rounding)
        rows.append(ComparedValue(run.id, run.name, shown, looks[run.id], words))
        marks.append(LineMark(run.name, found.value, found.u))
    line = draw_number_line(tuple(marks), write_unit(first.traced.unit)) if first and len(marks) > 1 else None
    return SideBySide(tuple(rows), line)
