"""Laying the ground again and again, until slopes of curves and results of runs, which are columns too, are all found."""

from __future__ import annotations

import math

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.columns import Gathered, Tangent
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.ground import Ground, lay_once
from hobrel.core.pipeline.lines import FittedLine, axis_units, gradient_unit, is_by_scatter, scatter_in_bars, which_says
from hobrel.core.pipeline.of_runs import gather_results
from hobrel.core.uncertainty.traced import Floats, Source, Traced, effective_dof


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
    """Every row rests on every point, by way of the parameters: these are the sources here, turned so that they are independent."""
    fitted, points, run = ground.fitted(fit_id)
    unit, factor = gradient_unit(*axis_units(points))
    # as the parameters of the same fit: by the bars, or by how the points scatter about it
    of = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    reduced = scatter_in_bars(of.reduced_chi2, of.residual_sd, points.y[fitted.fitted])
    by_scatter = reduced is not None and is_by_scatter(reduced, which_says(points, ground.book.convention.fit_uncertainty))
    stretch = math.sqrt(reduced or 0.0) if by_scatter else 1.0
    dof = effective_dof(next(iter(fitted.outputs.values())))
    if isinstance(fitted, FittedLine):
        slopes, by = np.full(len(points.rows), fitted.line.gradient), np.full((len(points.rows), 1), fitted.line.u_gradient)
        moved = {s: np.full(len(points.rows), float(shift) / factor) for s, shift in fitted.gradient.slopes.items() if s.shared}
    else:
        found = find_tangents(fitted.curve, points.x)
        # columns of the square root of the covariance: what one standard step along each of its own directions does
        size, turned = np.linalg.eigh(fitted.curve.covariance)
        slopes, by = found.slopes, found.by_parameters @ (turned * np.sqrt(np.maximum(size, 0.0)))
        moved = _slope_shifts(fitted, found.by_parameters)
    rows = np.array(points.rows, dtype=int)

    def spread(values: Floats) -> Floats:
        whole = np.full(run.count, np.nan)
        whole[rows] = values * factor
        return whole

    steps = {
        Source(f"{fit_id}:step{i}", "curve", np.asarray(stretch), dof=dof): np.nan_to_num(spread(by[:, i])) for i in range(by.shape[1])
    }
    constants = {s: np.nan_to_num(spread(shift)) for s, shift in moved.items()}
    return Tangent(run.id, Traced(spread(slopes), {**steps, **constants}, unit))


def _slope_shifts(fitted: FittedCurve, by_parameters: Floats) -> dict[Source, Floats]:
    """How the slope at every point moves with each constant that the points share, by the parameters that move with it."""
    moved: dict[Source, Floats] = {}
    for i, number in enumerate(fitted.outputs.values()):
        for source, by in number.slopes.items():
            if source.shared:
                moved[source] = moved.get(source, np.zeros(len(by_parameters))) + by_parameters[:, i] * by
    return moved
