"""From a lab book to a plan: what it measures and works out, without what was written, drawn or decided in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from hobrel.core.document.lab_book import Fit, Freedoms, LabBook, Run


def blank_plan(book: LabBook) -> LabBook:
    """The lab book as a plan: quantities, graphs, fits and findings, all of them given; no readings, texts, notes, lines by eye or ranges.

    What needs the readings of this lab book goes as well: runs but the first of each table, stretches, unknowns, and series of another run.
    """
    tables = _blank_tables(book.runs)
    ids = {run.id for run in tables}
    graphs = tuple(replace(g, x_low=None, x_high=None, y_low=None, y_high=None, runs=(), hidden=(), notes=()) for g in book.graphs)
    unknown = {f.id for f in book.findings if any(i.kind == "unknown" for i in f.uses)}
    return replace(
        book,
        quantities=tuple(replace(q, given=True) for q in book.quantities),
        runs=tables,
        graphs=graphs,
        fits=tuple(_undrawn(f) for f in book.fits if f.run in ("", *ids)),
        findings=tuple(replace(f, given=True, rounded="") for f in book.findings if f.id not in unknown),
        texts={},
        confirmed=(),
        sketch=(),
        freedoms=Freedoms(),
    )


def _blank_tables(runs: Sequence[Run]) -> tuple[Run, ...]:
    """The tables to write in: one for each set of headings, or the one of a lab book that has a single table."""
    first: dict[tuple[str, ...], Run] = {}
    for run in runs:
        if run.headings:
            first.setdefault(run.headings, run)
    if not first:
        return (Run(runs[0].id if runs else "run1", "Readings"),)
    return tuple(Run(run.id, run.name, headings=headings) for headings, run in first.items())


def _undrawn(fit: Fit) -> Fit:
    return replace(fit, low=None, high=None, by_eye=None, steepest_by_eye=None, shallowest_by_eye=None, unknowns=())
