"""Results of runs as the rows of a further table: a parameter of a fit, or a mean, taken in every run. See decision 38."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Quantity, ResultOf, Run
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.columns import RunResults, plain_symbol
from hobrel.core.pipeline.comparing import TwoFold
from hobrel.core.pipeline.ground import Ground, fit_points_with
from hobrel.core.pipeline.series import points_for_fit
from hobrel.core.pipeline.stretches import average_stretch
from hobrel.core.sentences import Sentence, said_by, say
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature, effective_dof


def gather_results(ground: Ground, quantity: Quantity, table: Run) -> RunResults:
    """What each run that a table has a row of has given; where it has given nothing, why.

    What a run's own readings bring to its result is one source a row, with its degrees of freedom; constants that the runs share stay
    shared.
    """
    assert quantity.result_of is not None
    runs = {run.id: run for run in ground.book.runs if run is not table}
    found: list[TwoFold | None] = []
    without: dict[int, Sentence] = {}
    for row, setting in enumerate(table.settings):
        if not setting.of_run:
            found.append(None)
            continue
        if setting.of_run not in runs:
            without[row] = say("run_gone", "The run of this row is no longer in the lab book.")
            found.append(None)
            continue
        one = contain(f"result of {setting.of_run}", _result_in, ground, quantity.result_of, runs[setting.of_run])
        if isinstance(one, CoreError):
            without[row] = said_by(one)
        found.append(None if isinstance(one, CoreError) else one)
    known = [one for one in found if one is not None]
    if not known:
        return RunResults(None, without)
    unit = known[0].said.unit
    for row, result in enumerate(found):
        if result is not None and result.said.unit != unit:
            without[row] = say("result_other_unit", "What this run has given is in another unit.")
            found[row] = None
    return RunResults(_as_column(found, f"{table.id}:{quantity.id}", plain_symbol(quantity)), without)


def _as_column(found: Sequence[TwoFold | None], key: str, symbol: str) -> Traced:
    unit = next(one.said.unit for one in found if one is not None)

    def each(values: Sequence[float | None], blank: float) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
        return np.array([blank if v is None else v for v in values], dtype=np.float64)

    value = each([None if one is None else float(one.said.value) for one in found], np.nan)
    u = each([None if one is None else float(combine_quadrature(one.said, shared=False)) for one in found], np.nan)
    standard = each([None if one is None else float(combine_quadrature(one.judged, shared=False)) for one in found], np.nan)
    dof = each([None if one is None else effective_dof(one.judged) for one in found], np.inf)
    shared = dict.fromkeys(s for one in found if one is not None for s in one.said.slopes if s.shared)
    nothing = np.zeros(())
    slopes = {s: each([None if one is None else float(one.said.slopes.get(s, nothing)) for one in found], 0.0) for s in shared}
    return Traced(value, {Source(key, symbol, u, unit, dof=dof, standard=standard): np.ones_like(value), **slopes}, unit)


def _result_in(ground: Ground, wanted: ResultOf, run: Run) -> TwoFold:
    """A result in one run.

    Raises
    ------
    CoreError
        Where there is none, or the trouble of what it is made of.
    """
    return _mean_in(ground, wanted, run) if wanted.kind == "mean" else _parameter_in(ground, wanted, run)


def _mean_in(ground: Ground, wanted: ResultOf, run: Run) -> TwoFold:
    column = ground.columns[run.id].columns.get(wanted.of)
    if column is None:
        raise CoreError("bad_job", "The quantity that is averaged is no longer in the lab book.")
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "{symbol} has no values.", symbol=plain_symbol(column.quantity))
    counts = ~np.array(run.rows_aside(), dtype=bool) & np.isfinite(np.broadcast_to(column.traced.value, (run.count,)))
    rows = np.flatnonzero(counts)
    if column.traced.value.ndim == 0 or not rows.size:
        raise CoreError("too_few_points", "There is no value of {symbol} in {run}.", symbol=plain_symbol(column.quantity), run=run.name)
    mean = average_stretch(column.traced, rows, ground.book.convention, f"mean:{run.id}:{wanted.of}", plain_symbol(column.quantity))
    return TwoFold(mean.traced, mean.judged)


def _parameter_in(ground: Ground, wanted: ResultOf, run: Run) -> TwoFold:
    book, fit = ground.book, ground.fit(wanted.of)
    if book.draws_first(fit):
        raise CoreError("draw_first_at_fit", "Draw your own line through the points first, at Fit.")
    graph = next((g for g in book.graphs if g.id == fit.graph), None)
    if graph is None:
        raise CoreError("bad_job", "The graph of this fit is no longer in the lab book.")
    here = replace(fit, run=run.id)
    points, _ = points_for_fit(book, here, graph, ground.columns, ground.points[graph.id])
    if isinstance(points, CoreError):
        raise points
    fitted = fit_points_with(points, here, book.convention)
    if wanted.part not in fitted.outputs:
        names = " and ".join(fitted.outputs)
        raise CoreError("bad_job", "This fit has no {part}; it has {names}.", part=wanted.part or "such number", names=names)
    return TwoFold(fitted.outputs[wanted.part], fitted.judged[wanted.part])
