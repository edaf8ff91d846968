"""Laying the ground again and again, until slopes of curves and results of runs, which are columns too, are all found."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.columns import Gathered, Tangent
from hobrel.core.pipeline.ground import Ground, lay_once
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.of_runs import gather_results
from hobrel.core.pipeline.points import axis_units, gradient_unit
from hobrel.core.uncertainty.traced import (
    Direction,
    Floats,
    Source,
    Traced,
    combine_numbers,
    combine_quadrature,
    contributions,
    covary_all,
    effective_dof,
)
from hobrel.core.units.calculus import NUMBER


def lay_ground(book: LabBook, near: Ground | None = None) -> Ground:
    """Compute a lab book up to its fits. Slopes of fitted curves become columns, which may be drawn and fitted in turn.

    Curves are looked for from many starts, but beside those of a lab book that is known to be `near` only from there.
    """
    known = Gathered()
    ground: Ground | None = None
    while True:
        ground = lay_once(book, known, ground, near)
        found = _gather(ground)
        more = found.count > known.count
        if not (more and found.lacks):
            # there is nothing else to be found; what there is none of gets its reason
            return lay_once(book, found, ground, near) if more or found.lacks else ground
        known = found


def _gather(ground: Ground) -> Gathered:
    book = ground.book
    tangents = {q.id: _find_tangent(ground, q.tangent_of) for q in book.quantities if q.tangent_of}
    tables, wanted = [run for run in book.runs if run.is_of_runs], [q for q in book.quantities if q.result_of is not None]
    results = {(q.id, table.id): gather_results(ground, q, table) for q in wanted for table in tables}
    return Gathered(tangents, results)


def _find_tangent(ground: Ground, fit_id: str) -> Tangent:
    found = contain(f"slopes of {fit_id}", _slope_everywhere, ground, fit_id)
    if isinstance(found, Tangent):
        return found
    return Tangent("", None, CoreError(found.code, "There is no curve yet: {trouble}", trouble=found.message))


def _slope_everywhere(ground: Ground, fit_id: str) -> Tangent:
    """Every row rests on every point, by way of the parameters: these are the sources here, turned so that they are independent; each
    knows the rows that it is made of.
    """
    fitted, points, run = ground.fitted(fit_id)
    unit, factor = gradient_unit(*axis_units(points))
    if isinstance(fitted, FittedLine):
        slopes, by_parameters = np.full(len(points.rows), fitted.line.gradient), np.full((len(points.rows), 1), 1 / factor)
        said, judged = [fitted.gradient], [fitted.judged["gradient"]]
    else:
        found = find_tangents(fitted.curve, points.x)
        slopes, by_parameters = found.slopes, found.by_parameters
        said, judged = list(fitted.outputs.values()), list(fitted.judged.values())
    rows = np.array(points.rows, dtype=int)

    def spread(values: Floats) -> Floats:
        whole = np.full(run.count, np.nan)
        whole[rows] = values * factor
        return whole

    steps = {source: np.nan_to_num(spread(by_parameters @ by)) for source, by in _turn_parameters(fit_id, said, judged)}
    constants = {s: np.nan_to_num(spread(shift)) for s, shift in _shift_slopes(said, by_parameters).items()}
    return Tangent(run.id, Traced(spread(slopes), {**steps, **constants}, unit))


def _turn_parameters(fit_id: str, said: Sequence[Traced], judged: Sequence[Traced]) -> list[tuple[Source, Floats]]:
    """Independent directions in which the parameters of a fit move with its points, and how far each parameter goes along one standard
    step of it; none of a model in which nothing is fitted.
    """
    if not said:
        return []
    covariance = covary_all(said, shared=False)
    units = np.sqrt(np.maximum(np.diagonal(covariance), 0.0))
    units[units == 0] = 1.0
    sizes, turned = np.linalg.eigh(covariance / np.outer(units, units))
    stretch = _stretch_of(said, judged)
    dof = effective_dof(judged[0])
    steps = []
    for i in np.flatnonzero(sizes > _NO_SIZE):
        along = [(turned[k, i] / (units[k] * math.sqrt(sizes[i])), n.unshared()) for k, n in enumerate(said)]
        made_of = Direction(fit_id, contributions(combine_numbers(0.0, along, NUMBER)))
        source = Source(f"{fit_id}:step{i}", "curve", np.asarray(1.0), dof=dof, standard=np.asarray(stretch), made_of=made_of)
        steps.append((source, np.asarray(units * turned[:, i] * math.sqrt(sizes[i]))))
    return steps


_NO_SIZE = 1e-13
"""Share of the largest below which a direction is one that the points say nothing of but rounding."""


def _stretch_of(said: Sequence[Traced], judged: Sequence[Traced]) -> float:
    """How much more uncertain the parameters are to verdicts than they are said to be: all by the same factor."""
    for a, b in zip(said, judged, strict=True):
        u = float(combine_quadrature(a, shared=False))
        if u > 0:
            return float(combine_quadrature(b, shared=False)) / u
    return 1.0


def _shift_slopes(parameters: Sequence[Traced], by_parameters: Floats) -> dict[Source, Floats]:
    """How the slope at every point moves with each constant that the points share, by the parameters that move with it."""
    moved: dict[Source, Floats] = {}
    for i, number in enumerate(parameters):
        for source, by in number.slopes.items():
            if source.shared:
                moved[source] = moved.get(source, np.zeros(len(by_parameters))) + by_parameters[:, i] * by
    return moved
