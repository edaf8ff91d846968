"""The line through the points of a graph as a traced result that a finding can be made from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import ByEye, Fit, FitUncertainty
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import Bend, measure_bend
from hobrel.core.fitting.by_eye import ByEyeLine, study_by_eye
from hobrel.core.fitting.extreme import ExtremeLines, find_extreme_lines
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import Residuals, study_pattern
from hobrel.core.fitting.straightness import (
    Scatter,
    Straightness,
    Used,
    judge_points,
    judge_scatter,
    judge_straight,
    measure_otherwise,
)
from hobrel.core.pipeline.influence import Influence, scatter_in_bars, trace_twofold, without_rounding
from hobrel.core.pipeline.points import GraphPoints, axis_units, bars_of_used, gradient_unit, points_to_fit, shared_shifts
from hobrel.core.uncertainty.traced import ONE_IN_KELVINS, ONE_ON_SCALE, Floats, Source, Traced


@dataclass(frozen=True)
class FittedLine:
    """A line with what it means: gradient and intercept, traced to the points that they came from and to the constants that these share.

    `judged` are the two as verdicts take them, uncertain by how the points scatter about the line. `fitted` marks those of the `points`
    that it was fitted to (not set aside, within the stretch); `spread` is what each of these is uncertain by along y, or what they scatter
    by where that is all there is, and `bend` how far they bend away from a straight line. `by_eye_extremes` are the steepest and the
    shallowest line that the bench has drawn.
    """

    line: LineFit
    gradient: Traced
    intercept: Traced
    judged: dict[str, Traced]
    scatter: Scatter
    bends: Straightness
    points: GraphPoints
    fitted: Used
    spread: Floats
    bend: Bend | None
    by_eye: ByEyeLine | None
    by_eye_extremes: tuple[ByEye, ...] = ()
    show_extremes: bool = False

    @property
    def outputs(self) -> dict[str, Traced]:
        """What a finding can be made of."""
        return {"gradient": self.gradient, "intercept": self.intercept}

    @property
    def n(self) -> int:
        """How many points were fitted."""
        return self.line.n

    @cached_property
    def residuals(self) -> Residuals:
        """What is left of the fitted points."""
        x, y = self.points.x[self.fitted], self.points.y[self.fitted]
        return study_pattern(x, y, y - self.line.at(x), self.spread, self.bend)

    @cached_property
    def extremes(self) -> ExtremeLines | CoreError | None:
        """The steepest and the shallowest line through the bars of the fitted points, or why there are none; None without bars."""
        x, y, ux, uy = (values[self.fitted] for values in (self.points.x, self.points.y, self.points.ux, self.points.uy))
        if not (np.any(uy > 0) or np.any(ux > 0)):
            return None
        try:
            return find_extreme_lines(x, y, uy, ux)
        except CoreError as trouble:
            return trouble.kept()

    def at(self, x: ArrayLike) -> Floats:
        """y of the line at x."""
        return self.line.at(x)

    def u_at(self, x: ArrayLike) -> Floats:
        """Standard uncertainty of the line at x, by the fit's own weights."""
        return self.line.u_at(x)

    def slope_at(self, x: ArrayLike) -> Floats:
        """Its gradient, for every x."""
        return np.full(np.shape(np.asarray(x)), self.line.gradient)


def fit_graph(points: GraphPoints, fit: Fit, which: FitUncertainty = "larger") -> FittedLine:
    """Fit a line to the points that are not set aside; `which` ± it is given.

    Shared constants in either axis move all points together, so they are no reason to weight; how much each would turn and
    lift the line is found by moving it by its own u and fitting again.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than three; as `points_to_fit` and `fit_line`.
    """
    used = points_to_fit(points, fit)
    x, y, ux, uy, bars = points.x[used], points.y[used], points.ux[used], points.uy[used], bars_of_used(points, used)
    both = fit.weights == "both_bars" and bool(np.any(bars.x > 0))
    if x.size < 3:
        raise CoreError(
            "too_few_points",
            "A line with its uncertainty needs three or more points and has {n}.",
            n=x.size,
        )
    plain = fit_line(x, y, through_origin=fit.through_origin)
    # where the error of each point runs along the line itself (F = m g against m; a level line and bars in x), there is nothing to weigh by
    slope = plain.gradient if without_rounding(abs(plain.gradient) * float(np.ptp(x)), y) else 0.0
    weighted = fit.weights != "none" and bool(np.any(bars.y > 0) or both) and not bars.run_along(slope)

    def run_fit(xs: Floats, ys: Floats) -> LineFit:
        if not weighted:
            return fit_line(xs, ys, through_origin=fit.through_origin)
        return fit_line(xs, ys, bars.y, bars.x if both else None, bars.correlation if both else None, through_origin=fit.through_origin)

    line = run_fit(x, y) if weighted else plain
    both = line.method == "york"
    sigma = bars.along_y(line.gradient) if both else bars.y
    bend = measure_bend(x, y, sigma if weighted else None)
    by = sigma if weighted else np.full_like(x, line.residual_sd)
    spread = sigma if weighted else np.full(x.size, without_rounding(line.residual_sd, y))
    scatter = judge_scatter(line.chi2, line.dof, bars.dof)
    if weighted and not line.through_origin:
        bends = judge_straight(bend, x.size, scatter, bars.dof, measure_otherwise(x, y, sigma, points.ways_to_bend(used)))
    else:
        bends = judge_points(x, y, bars if weighted else None, ways=points.ways_to_bend(used))
    influence = Influence(
        by=line.influence,
        slopes=np.full(x.size, line.gradient) if both else None,
        spread=spread,
        dof=line.dof,
        dof_of_bars=bars.dof,
        reduced_chi2=scatter_in_bars(line.reduced_chi2, line.residual_sd, y),
        residuals=y - line.at(x),
        bends=bends == "bends",
    )
    said, judged = trace_twofold(points, used, influence, scatter, which)
    for source, u, x_shift, y_shift in shared_shifts(points, used):
        moved = run_fit(x + x_shift, y + y_shift)
        for by_gradient, by_intercept in (said, judged):
            by_gradient[source] = np.asarray((moved.gradient - line.gradient) / u)
            by_intercept[source] = np.asarray((moved.intercept - line.intercept) / u)
    x_unit, y_unit = axis_units(points)
    unit, factor = gradient_unit(x_unit, y_unit)
    on_scale = ONE_ON_SCALE if y_unit.is_offset else ONE_IN_KELVINS

    at_zero = line.intercept if without_rounding(abs(line.intercept), y) else 0.0

    def as_outputs(by: list[dict[Source, Floats]]) -> tuple[Traced, Traced]:
        return Traced(np.asarray(line.gradient), by[0]).scaled(factor, unit), Traced(np.asarray(at_zero), by[1], y_unit, on_scale)

    gradient, intercept = as_outputs(said)
    by_eye = None if fit.by_eye is None else study_by_eye(x, y, ux, uy, fit.by_eye.gradient, intercept=fit.by_eye.intercept)
    return FittedLine(
        line=line,
        gradient=gradient,
        intercept=intercept,
        judged=dict(zip(("gradient", "intercept"), as_outputs(judged), strict=True)),
        scatter=scatter,
        # whatever is fitted, it is the points that are straight or not: a line through the origin says nothing of that
        bends=bends,
        points=points,
        fitted=used,
        spread=by,
        bend=bend,
        by_eye=by_eye,
        by_eye_extremes=tuple(line for line in (fit.steepest_by_eye, fit.shallowest_by_eye) if line is not None),
        show_extremes=fit.show_extremes,
    )
