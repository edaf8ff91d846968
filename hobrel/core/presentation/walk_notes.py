"""A lab book as who walks round sees it: what looks wrong in a sentence, what cannot be worked out, and its last graph in small."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.presentation.figures import Axis, Figure
from hobrel.core.presentation.results import Analysis
from hobrel.core.sentences import Sentence, say

MOST_DOTS = 40
MOST_SLIPS = 12
FINE = 1000
"""Into how many places each axis of a small graph is divided."""


@dataclass(frozen=True)
class NotedSlip:
    """A slip of some kind about a quantity (by its symbol); `run` and `at` lead to its cell, which is ``SETTING:QUANTITY:REPEAT``."""

    kind: str
    of: str
    words: Sentence
    run: str
    at: str


@dataclass(frozen=True)
class SmallGraph:
    """A graph in thousandths of its axes: dots one after the other (x, y, x, y …), and what is fitted as a line of such places."""

    dots: tuple[int, ...]
    line: tuple[int, ...]
    y: str
    x: str


@dataclass(frozen=True)
class WalkNote:
    """What a tile of the walkround shows of what is in a lab book."""

    slips: tuple[NotedSlip, ...] = ()
    failed: Sentence | None = None
    graph: SmallGraph | None = None


def note_analysis(analysis: Analysis, book: LabBook) -> WalkNote:
    """A lab book in small, as it is worked out."""
    quantities = {q.id: q for q in book.quantities}
    return WalkNote(_note_slips(analysis, quantities), next(_find_failures(analysis, quantities), None), _draw_small(analysis))


def _note_slips(analysis: Analysis, quantities: Mapping[str, Quantity]) -> tuple[NotedSlip, ...]:
    noted = []
    for slip in analysis.slips[:MOST_SLIPS]:
        of = plain_symbol(quantities[slip.quantity]) if slip.quantity in quantities else ""
        at = f"{slip.setting}:{slip.quantity}:{slip.repeat or 0}"
        noted.append(NotedSlip(kind=slip.kind, of=of, words=slip.message, run=slip.run, at=at))
    return tuple(noted)


def _find_failures(analysis: Analysis, quantities: Mapping[str, Quantity]) -> Iterator[Sentence]:
    """What somebody has written that cannot be worked out: formulas of columns, then those of findings."""
    for column in (c for run in analysis.runs for c in run.columns):
        quantity, trouble = quantities[column.quantity], column.trouble
        written = quantity.formula.strip() or quantity.kind == "constant"
        # what only needs another that is not there has not failed itself
        if trouble is not None and trouble.code in _WRITTEN and written and "needed" not in trouble.fields:
            yield say("column_failed", "{symbol}: {trouble}", symbol=plain_symbol(quantity), trouble=trouble.message)
    for finding in analysis.findings:
        if finding.trouble is not None and finding.trouble.code in _WRITTEN and "lacks" not in finding.trouble.fields:
            yield say("finding_failed", "{name}: {trouble}", name=finding.name, trouble=finding.trouble.message)


_WRITTEN = frozenset({"bad_formula", "bad_unit", "outside_domain", "bad_symbol", "bad_number"})
"""Troubles of what somebody has written, not of what is not there yet."""


def _draw_small(analysis: Analysis) -> SmallGraph | None:
    """The last graph that has points."""
    figures = [g.figure for g in analysis.graphs if g.figure is not None and any(s.points for s in g.figure.series)]
    return _shrink(figures[-1]) if figures else None


def _shrink(figure: Figure) -> SmallGraph:
    points = [p for series in figure.series for p in series.points if not p.set_aside]
    every = max(1, -(-len(points) // MOST_DOTS))
    kept = points[::every]
    line = next((line for line in figure.lines if line.kind == "fit"), None)
    places = [] if line is None else [(line.x[i], line.y[i]) for i in np.unique(np.linspace(0, len(line.x) - 1, 12).astype(int)).tolist()]
    return SmallGraph(
        dots=_places(figure, [p.x for p in kept], [p.y for p in kept]),
        line=_places(figure, [x for x, _ in places], [y for _, y in places]),
        x=figure.x_axis.name or "",
        y=figure.y_axis.name or "",
    )


def _places(figure: Figure, x: ArrayLike, y: ArrayLike) -> tuple[int, ...]:
    def thousandths(axis: Axis, values: ArrayLike) -> list[int]:
        shares = np.clip(np.nan_to_num(axis.share(np.asarray(values, dtype=np.float64))), 0.0, 1.0)
        return [round(FINE * share) for share in shares.tolist()]

    pairs = zip(thousandths(figure.x_axis, x), thousandths(figure.y_axis, y), strict=True)
    return tuple(place for pair in pairs for place in pair)
