"""A finding while it is being written; and what would make one better: the same lab book with more repeats, more settings, a longer
range, finer instruments or constants known better, computed again.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import partial

import numpy as np

from hobrel.core.document.lab_book import Finding, LabBook, Quantity, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.pipeline.findings import ComputedFinding, compute_findings
from hobrel.core.pipeline.ground import fit_points_with
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.findings import present_or_fail
from hobrel.core.presentation.results import FindingResult, ShownValue
from hobrel.core.presentation.showing import show_value
from hobrel.core.readings.known import parse_known
from hobrel.core.sentences import NumberText, Sentence, Sentences, say
from hobrel.core.units.calculus import write_unit

LEAST_GAIN = 0.01
"""A change of less than this share of the ± is none worth naming."""
FIRST_ORDER: dict[WayKind, WayKind] = {"monte_carlo": "quadrature", "extremes": "sum"}
"""What draws and corners come to where bars are small, without working a lab book out thousands of times over; see decision 27."""


@dataclass(frozen=True)
class Improvement:
    """One way of measuring better, and what the finding would be with it; `gain` is the share by which its ± shrinks."""

    words: Sentences
    value: ShownValue
    gain: float
    gain_text: NumberText


def find_improvements(computation: Computation, finding_id: str) -> tuple[Improvement, ...]:
    """What would help a finding most, best first; what would not help is left out.

    Repeats, settings and instruments are those of the run that is looked at. Twice as many repeats or settings are the present ones
    counted twice; a range twice as long keeps every point's place relative to the others, its bar and its residual. By what share a
    ± shrinks is worked out in first order; the ± itself is the class's own, made smaller by that share.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no such finding; the trouble that stands in its place.
    """
    found = computation.finding(finding_id)
    computation = _in_first_order(_only_for(computation, finding_id))
    now = computation.finding(finding_id)
    improvements = []
    for words, better in _ways(computation, now):
        other = better()
        if isinstance(other, CoreError) or not other.u < now.u * (1 - LEAST_GAIN):
            continue
        gain = 1 - other.u / now.u
        # two figures, or a small gain would not be seen
        shown = show_value(found.value, found.u * (1 - gain), write_unit(found.traced.unit), "two")
        improvements.append(Improvement((words,), shown, gain, f"{100 * gain:.0f} % less"))
    return tuple(sorted(improvements, key=lambda i: -i.gain))


def _only_for(computation: Computation, finding_id: str) -> Computation:
    """Without fits that there are none of, on which no finding that there is can rest, and without findings that this one does not use:
    what is worked out again and again is what it takes.
    """
    book = computation.book
    known = {f.id: f for f in book.findings}
    wanted, waiting = set[str](), [finding_id]
    while waiting:
        key = waiting.pop()
        if key in known and key not in wanted:
            wanted.add(key)
            waiting += [i.of for i in known[key].uses if i.kind == "finding"]
    findings = tuple(replace(f, compare=()) for f in book.findings if f.id in wanted)
    fits = tuple(f for f in book.fits if not isinstance(computation.fits.get(f.id), CoreError))
    return replace(computation, book=replace(book, fits=fits, findings=findings))


def _in_first_order(computation: Computation) -> Computation:
    convention = computation.book.convention
    way = FIRST_ORDER.get(convention.propagation)
    if way is None:
        return computation
    return compute(replace(computation.book, convention=replace(convention, propagation=way)))


def preview_finding(computation: Computation, finding: Finding) -> FindingResult:
    """A finding as it would be, beside those of the lab book; what is wrong with it is in its `trouble`."""
    book = computation.book
    more = replace(computation, book=replace(book, findings=(*(f for f in book.findings if f.id != finding.id), finding)))
    found = compute_findings(more)[finding.id]
    # whoever is still writing it has nothing to round yet
    return present_or_fail(finding, found, replace(book, bench_rounds=False))


def _ways(computation: Computation, found: ComputedFinding) -> Iterator[tuple[Sentence, Callable[[], ComputedFinding | CoreError]]]:
    book, key = computation.book, found.finding.id

    def again(other: LabBook) -> Callable[[], ComputedFinding | CoreError]:
        return lambda: compute(other).findings[key]

    run = book.runs[0]
    for quantity in book.quantities:
        symbol = plain_symbol(quantity)
        if quantity.kind == "constant" and quantity.u.strip():
            yield say_known_better(quantity), again(_with(book, know_better(quantity)))
        if quantity.instrument is not None and quantity.instrument.kind in ("scale", "display"):
            yield say_finer(quantity), again(_with(book, read_finer(quantity)))
        if quantity.kind == "measured" and quantity.repeats > 1 and run.log is None:
            yield say("more_repeats", "twice as many repeats of {symbol}", symbol=symbol), again(_repeated(book, run, quantity))
    if run.log is None and run.settings:
        doubled = replace(run, settings=(*run.settings, *(replace(s, id=f"{s.id}-again") for s in run.settings)))
        yield say("more_settings", "twice as many settings over the same range"), again(replace(book, runs=(doubled, *book.runs[1:])))
    fits = {found.finding.fit, *(i.of for i in found.finding.uses if i.kind == "fit")} - {""}
    for fit in fits:
        if isinstance(computation.fits.get(fit), FittedLine):
            x = plain_symbol(computation.fitted(fit)[1].x_column.quantity)
            yield say("longer_range", "a range of {x} twice as long", x=x), partial(_stretched, computation, key, fit)


def say_known_better(quantity: Quantity) -> Sentence:
    """That a constant is known better."""
    return say("known_better", "{name} ({symbol}) known twice as well", name=quantity.name, symbol=plain_symbol(quantity))


def say_finer(quantity: Quantity) -> Sentence:
    """That a quantity is read from a finer instrument."""
    name = quantity.instrument.name if quantity.instrument else ""
    return say("finer", "{instrument} for {symbol} twice as fine", instrument=name, symbol=plain_symbol(quantity))


def know_better(quantity: Quantity) -> Quantity:
    """A constant with half its ±."""
    known = parse_known(quantity.value, quantity.u, quantity.unit)
    return replace(quantity, u=format(known.u / 2, "f"))


def read_finer(quantity: Quantity) -> Quantity:
    """A quantity that is read from an instrument twice as fine."""
    instrument = quantity.instrument
    assert instrument is not None
    return replace(quantity, instrument=replace(instrument, division=format(Decimal(instrument.division) / 2, "f")))


def _with(book: LabBook, quantity: Quantity) -> LabBook:
    return replace(book, quantities=tuple(quantity if q.id == quantity.id else q for q in book.quantities))


def _repeated(book: LabBook, run: Run, quantity: Quantity) -> LabBook:
    settings = tuple(replace(s, readings={**s.readings, quantity.id: s.readings.get(quantity.id, ()) * 2}) for s in run.settings)
    more = _with(book, replace(quantity, repeats=quantity.repeats * 2))
    return replace(more, runs=(replace(run, settings=settings), *book.runs[1:]))


def _stretched(computation: Computation, finding_id: str, fit_id: str) -> ComputedFinding | CoreError:
    """The finding with its line's points drawn out to twice their range."""
    fitted, points, _ = computation.fitted(fit_id)
    assert isinstance(fitted, FittedLine)
    used = points.x[fitted.fitted]
    # what is longer begins where it began: overhangs, loads and times grow, they do not become negative
    x = float(used.min()) + 2 * (points.x - float(used.min()))
    y = fitted.line.at(x) + (points.y - fitted.line.at(points.x))
    longer = replace(points, x=np.asarray(x), y=np.asarray(y), used=fitted.fitted)
    whole = replace(computation.fit(fit_id), low=None, high=None)
    changed = fit_points_with(longer, whole, computation.book.convention)
    return compute_findings(replace(computation, fits={**computation.fits, fit_id: changed}))[finding_id]
