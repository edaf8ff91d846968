"""From a lab book to a plan, from a plan to the version that is given out, and from that to what a bench gets. See decision 33."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from hobrel.core.document.lab_book import DecimalMark, Finding, Fit, Freedoms, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart

ALL_FREE = Freedoms(own_quantities=True, repeats=True, instruments=True, units=True, spread=True, plan=True)
RELATION, ACCEPTED = "relation", "accepted:"
READINGS = "Readings"


def begin_plan(book: LabBook) -> LabBook:
    """A lab book as a plan that is being written: what it measures and works out, without what was written, drawn or decided in it.

    What a bench had found by itself, beside a plan, is left open in this one.
    """
    blank = freeze_plan(book)
    open_already = () if book.freedoms.plan else tuple(q.id for q in book.quantities if q.kind == "derived" and not q.given)
    part = replace(book.plan, draft=True, withheld=(), left_open=open_already)
    if not book.freedoms.plan and not book.plan.draft:
        part = replace(part, freedoms=book.freedoms)
    # the name of what somebody has done with it is theirs
    done = len(blank.runs) == 1 and any(run.count for run in book.runs)
    runs = tuple(replace(run, name=READINGS) for run in blank.runs) if done else blank.runs
    return replace(
        blank,
        runs=runs,
        quantities=tuple(replace(q, given=False) for q in blank.quantities),
        findings=tuple(replace(f, given=False) for f in blank.findings),
        freedoms=ALL_FREE,
        plan=part,
    )


def freeze_plan(book: LabBook) -> LabBook:
    """A plan as it is given out, for its teachers: without readings but those that are given, without texts, notes, lines by eye or ranges.

    What needs the readings of this lab book goes as well: runs but the first of each table, stretches, and series of another run. Unknowns
    stay by name, for benches to read.
    """
    tables = _blank_tables(book.runs, book.plan.given_runs)
    ids = {run.id for run in tables}
    graphs = tuple(replace(g, x_low=None, x_high=None, y_low=None, y_high=None, runs=(), hidden=(), notes=()) for g in book.graphs)
    return replace(
        book,
        runs=tables,
        graphs=graphs,
        fits=tuple(_undrawn(f) for f in book.fits if f.run in ("", *ids)),
        findings=tuple(replace(f, rounded="", needed="") for f in book.findings),
        texts={},
        confirmed=(),
        sketch=(),
        ticked=(),
    )


def write_with(book: LabBook, mark: DecimalMark) -> LabBook:
    """A lab book, or a plan, of which the numbers are shown with this decimal mark."""
    return replace(book, convention=replace(book.convention, decimal_mark=mark))


def open_for_bench(version: LabBook) -> LabBook:
    """What a bench gets of a version: all of it given but what is left open, without what is withheld or for teachers only."""
    part = version.plan
    later = tuple(f"{ACCEPTED}{f.id}" for f in version.findings if f.accepted is not None and part.accepted_shown == "after_own")
    withheld = ((RELATION,) if version.relation and part.relation_shown == "after_expectation" else ()) + later
    return replace(
        version,
        relation=version.relation if part.relation_shown == "at_once" else "",
        quantities=tuple(_give_quantity(q, part) for q in version.quantities),
        findings=tuple(_give_finding(f, part) for f in version.findings),
        freedoms=part.freedoms,
        plan=replace(part, draft=False, withheld=withheld, notes="", dry=DryTruth()),
    )


def what_is_due(book: LabBook) -> tuple[str, ...]:
    """Of what is withheld in a bench's lab book, what it has earned: the relation by an expectation, an accepted value by its own."""
    stated = {f"{ACCEPTED}{f.id}" for f in book.findings if f.rounded.strip()}
    earned = stated | ({RELATION} if book.texts.get("expectation", "").strip() else set())
    return tuple(name for name in book.plan.withheld if name in earned)


def bring_in(book: LabBook, version: LabBook, names: Sequence[str]) -> LabBook:
    """The lab book with what was withheld under these names, as its version has it."""
    accepted = {f"{ACCEPTED}{f.id}": f.accepted for f in version.findings}
    return replace(
        book,
        relation=version.relation if RELATION in names else book.relation,
        findings=tuple(
            replace(f, accepted=accepted.get(f"{ACCEPTED}{f.id}")) if f"{ACCEPTED}{f.id}" in names else f for f in book.findings
        ),
        plan=replace(book.plan, withheld=tuple(name for name in book.plan.withheld if name not in names)),
    )


def _give_quantity(quantity: Quantity, part: PlanPart) -> Quantity:
    left_open = quantity.id in part.left_open and quantity.kind == "derived"
    own_value = quantity.id in part.own_values and quantity.kind == "constant"
    return replace(
        quantity,
        given=not left_open,
        formula="" if left_open else quantity.formula,
        value="" if own_value else quantity.value,
        u="" if own_value else quantity.u,
    )


def _give_finding(finding: Finding, part: PlanPart) -> Finding:
    left_open = finding.id in part.left_open
    return replace(
        finding,
        given=not left_open,
        formula="" if left_open else finding.formula,
        accepted=finding.accepted if part.accepted_shown == "at_once" else None,
    )


def _blank_tables(runs: Sequence[Run], given: Sequence[str]) -> tuple[Run, ...]:
    """The tables to write in, one for each set of headings, or the one of a lab book that has a single table; and runs that are given."""
    first: dict[tuple[str, ...] | None, str] = {}
    for run in runs:
        if run.id not in given and (run.headings is None or run.headings):
            first.setdefault(run.headings, run.id)
    blank = {run.id: Run(run.id, run.name, headings=run.headings) for run in runs if run.id in first.values()}
    kept = tuple(blank.get(run.id, run) for run in runs if run.id in given or run.id in blank)
    return kept or (Run(runs[0].id if runs else "run1", READINGS),)


def _undrawn(fit: Fit) -> Fit:
    named = tuple(replace(u, readings=()) for u in fit.unknowns)
    return replace(fit, low=None, high=None, by_eye=None, steepest_by_eye=None, shallowest_by_eye=None, unknowns=named)
