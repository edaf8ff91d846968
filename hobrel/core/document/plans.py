"""From a lab book to a plan: what it measures and works out, without what was written, drawn or decided in it."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.document.lab_book import Fit, Freedoms, LabBook, Run


def blank_plan(book: LabBook) -> LabBook:
    """The lab book as a plan: quantities, graphs, fits and findings, all of them given; no readings, texts, notes, lines by eye or ranges.

    What needs the readings of this lab book goes as well: runs but the first, stretches, unknowns, and series of another run.
    """
    run = book.runs[0].id if book.runs else "run1"
    graphs = tuple(replace(g, x_low=None, x_high=None, y_low=None, y_high=None, runs=(), hidden=(), notes=()) for g in book.graphs)
    unknown = {f.id for f in book.findings if any(i.kind == "unknown" for i in f.uses)}
    return replace(
        book,
        quantities=tuple(replace(q, given=True) for q in book.quantities),
        runs=(Run(run, "Readings"),),
        graphs=graphs,
        fits=tuple(_undrawn(f) for f in book.fits if f.run in ("", run)),
        findings=tuple(replace(f, given=True, rounded="") for f in book.findings if f.id not in unknown),
        texts={},
        confirmed=(),
        sketch=(),
        freedoms=Freedoms(),
    )


def _undrawn(fit: Fit) -> Fit:
    return replace(fit, low=None, high=None, by_eye=None, steepest_by_eye=None, shallowest_by_eye=None, unknowns=())
