"""How what was fitted rests on the points of a graph: traced to what these came from, for what is said and for what judges."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.document.lab_book import FitUncertainty
from hobrel.core.fitting.scattering import likelier_ways
from hobrel.core.fitting.straightness import Scatter, Used, bends_anyway
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.uncertainty.traced import Floats, Source, chain, combine_quadrature, weigh_rows, weigh_scatter

ROUNDING = 1e-12
"""Share of y below which a scatter is that of binary arithmetic."""


@dataclass(frozen=True)
class Influence:
    """How the parameters of a fit rest on its points.

    Attributes
    ----------
    by : ndarray, shape (parameters, points)
        How far each parameter moves for each unit that a point is off by.
    slopes : ndarray, shape (points,), or None
        Of what was fitted, at the points, where bars in x count too: a point is off by δy − slope δx.
    spread : ndarray, shape (points,)
        How far each point is off.
    dof, dof_of_bars : float
        Degrees of freedom behind that, and behind the bars of the points.
    reduced_chi2 : float or None
        None without bars.
    residuals : ndarray, shape (points,)
        Along y.
    bends : bool
        Whether the points bend away from what was fitted.
    """

    by: Floats
    slopes: Floats | None
    spread: Floats
    dof: float
    dof_of_bars: float
    reduced_chi2: float | None
    residuals: Floats
    bends: bool = False


def without_rounding(scatter: float, y: Floats) -> float:
    """A scatter, or none where it is only that of binary arithmetic: exact data have no ±."""
    return 0.0 if scatter <= ROUNDING * float(np.max(np.abs(y), initial=0.0)) else scatter


def scatter_in_bars(reduced_chi2: float | None, residual_sd: float, y: Floats) -> float | None:
    """χ²ν, or nothing where the scatter is only that of binary arithmetic; None without bars."""
    return reduced_chi2 if reduced_chi2 is None or without_rounding(residual_sd, y) else 0.0


def trace_twofold(
    points: GraphPoints, used: Used, influence: Influence, scatter: Scatter, which: FitUncertainty
) -> tuple[list[dict[Source, Floats]], list[dict[Source, Floats]]]:
    """`trace_to_points` for what is said of a fit and for what judges.

    Said is what comes from the bars or from how the points scatter about the fit, by the class's convention. Verdicts take the scatter, for
    a convention's factor falls out of it; but where points scatter less than chance lets them, the bars know more than that luck. Where
    they scatter more, something else than the bars moves them, and where there are none nobody says in which proportions: then whichever
    leaves a parameter most uncertain, of that by which it was weighed and the ways that are likelier.
    """
    reduced_chi2 = influence.reduced_chi2
    excess = math.sqrt(reduced_chi2) if reduced_chi2 is not None else 1.0
    found = trace_to_points(points, used, influence)
    together = _move_together(points)
    found_judged = trace_to_points(points, used, influence, judged=True) if together else found
    if scatter in ("more", "unknown") and excess > 0 and not together:
        spreads = _spread_otherwise(points, used, influence)
        otherwise = [trace_to_points(points, used, replace(influence, spread=spread / excess)) for spread in spreads]
        found_judged = [max(several, key=_size_of) for several in zip(found, *otherwise, strict=True)]

    def stretched(found: list[dict[Source, Floats]], by_scatter: bool) -> list[dict[Source, Floats]]:
        factor, dof = (excess, influence.dof) if by_scatter else (1.0, influence.dof_of_bars)
        return [{s if s.dof == dof else replace(s, dof=dof): by * factor for s, by in slopes.items()} for slopes in found]

    # slopes of one curve lie on a line together, however well they are known: that they do tells nothing
    scattered = is_by_scatter(reduced_chi2, "larger") if together else reduced_chi2 is None or scatter != "less"
    return stretched(found, is_by_scatter(reduced_chi2, which)), stretched(found_judged, scattered)


def _spread_otherwise(points: GraphPoints, used: Used, influence: Influence) -> list[Floats]:
    """What each point is off by if all are off alike, or in one of the other ways, by what they leave about what was fitted; of the ways
    that are likelier than that by which it was weighed.

    The residuals are M e of the errors e, M = 1 − J K with the influence K of the points on the parameters and the derivatives J by these,
    so that the mean of their sum of squares is the trace of M D² Mᵀ where the errors are independent and as large as D says (G. A. F. Seber
    and A. J. Lee, Linear Regression Analysis, 2nd ed. (2003), theorem 1.5; from memory). J comes from K = C Jᵀ W.
    """
    if not np.all(influence.spread > 0):
        return []
    # as many parameters as points leave nothing
    if influence.residuals.size <= np.count_nonzero(np.any(influence.by != 0, axis=1)):
        return []
    ways = points.ways_to_scatter(used)
    # what points that bend leave about a line is no scatter, and says nothing of its proportions
    if influence.bends and bends_anyway(points.x[used], points.y[used], influence.spread, ways):
        return []
    weighed = influence.by * influence.spread**2
    covariance = weighed @ influence.by.T
    unit = np.sqrt(np.diag(covariance))
    counts = unit > 0
    by, unit = influence.by[counts] / unit[counts, None], unit[counts]
    derivatives = np.linalg.pinv(covariance[np.ix_(counts, counts)] / np.outer(unit, unit)) @ (by * influence.spread**2)
    on_itself, gram = np.sum(derivatives * by, axis=0), derivatives @ derivatives.T
    found = []
    for way in likelier_ways(influence.residuals, derivatives, influence.spread, ways):
        whole = float(np.sum(way**2))
        left = whole - float(2 * np.sum(way**2 * on_itself) - np.sum(gram * ((by * way**2) @ by.T)))
        # where all that scatters lies in points that the fit goes through, nothing of it is seen
        if left > ROUNDING * whole:
            found.append(way * math.sqrt(float(influence.residuals @ influence.residuals) / left))
    return found


def _size_of(slopes: Mapping[Source, Floats]) -> float:
    return float(sum(np.sum((slope * source.u) ** 2) for source, slope in slopes.items()))


def is_by_scatter(reduced_chi2: float | None, which: FitUncertainty) -> bool:
    """Whether the ± of a fit is said by how its points scatter, and not by their bars."""
    return reduced_chi2 is None or which == "scatter" or (which == "larger" and reduced_chi2 > 1)


def which_says(points: GraphPoints, which: FitUncertainty) -> FitUncertainty:
    """By what the ± of a fit of these points is said. Slopes of one curve move together: that they lie on a line tells nothing of how well
    it is known, so that the scatter about it does not say it alone.
    """
    return "larger" if which == "scatter" and _move_together(points) else which


def _move_together(points: GraphPoints) -> bool:
    return any(column.traced is not None and column.traced.moves_together for column in (points.x_column, points.y_column))


def trace_to_points(points: GraphPoints, used: Used, influence: Influence, *, judged: bool = False) -> list[dict[Source, Floats]]:
    """For each parameter of a fit its derivatives by what the fitted points rest on, shared constants left out.

    Points whose errors are independent are off by what weighs and judges them; rows that move together with the parameters of a curve by
    what these are said to be uncertain by, or `judged` to be.
    """
    x, y = points.x_column.traced, points.y_column.traced
    assert x is not None and y is not None
    rows = np.array(points.rows, dtype=int)[used]

    def of_all(values: Floats) -> Floats:
        whole = np.zeros(y.value.shape)
        whole[rows] = values
        return whole

    off = y
    if influence.slopes is not None:
        slopes = of_all(influence.slopes)
        off = chain(y.value, ((y, lambda: np.asarray(1.0)), (x, lambda: -slopes)), y.unit)
    key = f"scatter:{points.run}:{points.x_column.quantity.id}:{points.y_column.quantity.id}"
    if off.moves_together:
        # stretched as a whole, where it is not the bars that say how far the points are off
        own = combine_quadrature(off.judged(), shared=False)[rows]
        stretch = float(np.median(influence.spread / np.where(own > 0, own, 1.0)))
        off = off.judged() if judged else off
        return [
            {
                replace(s, dof=influence.dof, estimate=key): v * stretch
                for s, v in weigh_rows(off, of_all(by)).slopes.items()
                if not s.shared
            }
            for by in influence.by
        ]
    own_source = Source(key, points.y_column.quantity.symbol, np.ones(y.value.shape), y.unit, dof=influence.dof)
    return [weigh_scatter(off, of_all(by), of_all(influence.spread), own_source) for by in influence.by]
