"""A shape fitted to the points of a graph, as traced results that a finding can be made from."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from typing import TypeAlias

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import Fit, FitUncertainty
from hobrel.core.errors import CoreError
from hobrel.core.fitting.curve import CurveFit, fit_shape
from hobrel.core.fitting.dimensions import find_exponents
from hobrel.core.fitting.residuals import Residuals, study_pattern
from hobrel.core.fitting.shapes import Shape, find_shape, own_shape, shape_node
from hobrel.core.fitting.straightness import Bars, Scatter, Straightness, Used, judge_points, judge_scatter
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.renaming import rename_symbol
from hobrel.core.pipeline.influence import Influence, scatter_in_bars, trace_twofold, without_rounding
from hobrel.core.pipeline.points import GraphPoints, axis_units, bars_of_used, points_to_fit, shared_shifts
from hobrel.core.stepping.shape import StepCheck, SteppedShape, check_steps, make_stepped
from hobrel.core.stepping.system import build_system
from hobrel.core.uncertainty.traced import Floats, Source, Traced
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit

_FitTo: TypeAlias = Callable[[Floats, Floats, Shape, Sequence[float] | None], CurveFit]


@dataclass(frozen=True)
class FittedCurve:
    """A curve with what it means: its parameters with units, traced to the points that they came from and to the constants these share.

    `judged` are the parameters as verdicts take them. `fitted` marks those of the `points` that it was fitted to, by their `bars` where it
    was weighed by these; `spread` is what each of them is uncertain by along y, or what they scatter by where that is all there is. `steps`
    are those of a step-by-step model.
    """

    curve: CurveFit
    outputs: dict[str, Traced]
    judged: dict[str, Traced]
    scatter: Scatter
    points: GraphPoints
    fitted: Used
    bars: Bars | None
    spread: Floats
    steps: StepCheck | None = None

    @property
    def n(self) -> int:
        """How many points were fitted."""
        return int(self.curve.residuals.size)

    @cached_property
    def residuals(self) -> Residuals:
        """What is left of the fitted points."""
        return study_pattern(*self._places, self.curve.residuals, self.spread)

    @cached_property
    def bends(self) -> Straightness:
        """Whether the fitted points lie straight by themselves."""
        return judge_points(*self._places, self.bars, ways=self.points.ways_to_bend(self.fitted))

    @cached_property
    def noise(self) -> tuple[bool, ...]:
        """Which parameters are only rounding."""
        return tuple(self.curve.only_noise(*self._places))

    @property
    def _places(self) -> tuple[Floats, Floats]:
        return self.points.x[self.fitted], self.points.y[self.fitted]

    def at(self, x: ArrayLike) -> Floats:
        """y of the curve at x."""
        return self.curve.at(x)

    def u_at(self, x: ArrayLike) -> Floats:
        """Standard uncertainty of the curve at x, by the fit's own weights."""
        return self.curve.u_at(x)

    def slope_at(self, x: ArrayLike) -> Floats:
        """Slope of the curve at x."""
        places = np.atleast_1d(np.asarray(x, dtype=np.float64))
        return self.curve.shape.over(places).slope(self.curve.values)


def shape_of(fit: Fit, x_symbol: str = "x") -> Shape:
    """The shape that a fit names; in a formula of a bench's own x may be called by its symbol.

    Raises
    ------
    CoreError
        ``bad_job``, ``bad_formula`` as `find_shape` and `own_shape`.
    """
    if fit.shape != "own":
        return find_shape(fit.shape)
    if not (x_symbol.replace("_", "").isalnum() and canonical_name(x_symbol) not in {"x", *map(canonical_name, fit.parameters)}):
        return own_shape(fit.formula, fit.parameters)
    # what a bench calls t is x to a shape; an x of its own would be neither
    formula = rename_symbol(fit.formula, x_symbol, "x", {x_symbol, "x", *fit.parameters})
    return own_shape(formula, fit.parameters, x_symbol)


def fit_curve(points: GraphPoints, fit: Fit, which: FitUncertainty = "larger", near: Sequence[float] | None = None) -> FittedCurve:
    """Fit the shape of a fit to the points that are not set aside, as `fit_graph` does for a line; `near` as `fit_shape` has it.

    Raises
    ------
    CoreError
        As `points_to_fit` and `fit_shape`.
    """
    used = points_to_fit(points, fit)
    shape = step_shape(points, fit, used) if fit.shape == "steps" else shape_of(fit, points.x_column.quantity.symbol)
    x, y, bars = points.x[used], points.y[used], bars_of_used(points, used)
    weighted = fit.weights != "none" and bool(np.any(bars.y > 0))
    both = weighted and fit.weights == "both_bars" and bool(np.any(bars.x > 0))
    uy, ux = (bars.y if weighted else None), (bars.x if both else None)

    def fit_to(xs: Floats, ys: Floats, to: Shape, start: Sequence[float] | None) -> CurveFit:
        return fit_shape(xs, ys, to, uy, ux, near=start)

    curve, steps = _fit_in_steps(x, y, shape, fit_to, near) if isinstance(shape, SteppedShape) else (fit_to(x, y, shape, near), None)
    if weighted:
        spread = bars.along_y(shape.over(x).slope(curve.values) if curve.slopes is None else curve.slopes) if both else bars.y
    else:
        spread = np.full_like(x, without_rounding(curve.residual_sd, y))
    scatter = judge_scatter(curve.chi2, curve.dof, bars.dof)
    influence = Influence(
        by=curve.influence,
        slopes=curve.slopes,
        spread=spread,
        dof=max(curve.dof, 1),
        dof_of_bars=bars.dof,
        reduced_chi2=scatter_in_bars(curve.reduced_chi2, curve.residual_sd, y),
        residuals=curve.residuals,
    )
    said, judged = trace_twofold(points, used, influence, scatter, which)
    shifts = {source: (u, x_shift, y_shift) for source, u, x_shift, y_shift in shared_shifts(points, used)}
    for source in dict.fromkeys((*shifts, *shape.sources)):
        u, x_shift, y_shift = shifts.get(source, (float(source.u), 0.0, 0.0))
        moved = fit_to(x + x_shift, y + y_shift, shape.moved(source), curve.values.tolist())
        for slopes in (said, judged):
            for of, by in zip(slopes, (moved.values - curve.values) / u, strict=True):
                of[source] = np.asarray(by)
    units = (
        tuple(u for _, u, _ in shape.system.parameters) if isinstance(shape, SteppedShape) else parameter_units(shape, *axis_units(points))
    )

    def as_outputs(slopes: list[dict[Source, Floats]]) -> dict[str, Traced]:
        parts = zip(shape.parameters, curve.values.tolist(), slopes, units, strict=True)
        return {name: Traced(np.asarray(value), own, unit) for name, value, own, unit in parts}

    return FittedCurve(
        curve=curve,
        outputs=as_outputs(said),
        judged=as_outputs(judged),
        scatter=scatter,
        points=points,
        fitted=used,
        bars=bars if weighted else None,
        spread=spread,
        steps=steps,
    )


def step_shape(points: GraphPoints, fit: Fit, used: Used) -> SteppedShape:
    """The step-by-step model of a fit, as a shape over its points.

    Raises
    ------
    CoreError
        As `build_system` and `make_stepped`; ``too_few_points`` where there is no point yet.
    """
    x, y = ((column.quantity.symbol, unit) for column, unit in zip((points.x_column, points.y_column), axis_units(points), strict=True))
    if not np.any(used):
        raise CoreError("too_few_points", "A model is laid over points, and there is none here yet.")
    reach = float(points.x[used].min()), float(points.x[used].max())
    return make_stepped(build_system(fit.steps, x, y, points.constants), fit.steps.way, reach)


def _fit_in_steps(x: Floats, y: Floats, shape: SteppedShape, fit_to: _FitTo, near: Sequence[float] | None) -> tuple[CurveFit, StepCheck]:
    """The model fitted, or only laid over, and how far it is from its own equations.

    Raises
    ------
    CoreError
        As `fit_shape` and `check_steps`.
    """
    reach, written = (float(x.min()), float(x.max())), shape.starts(x, y)[0]
    if not written:
        check_steps(shape, np.zeros(0), *reach)
    try:
        curve = fit_to(x, y, shape, written if near is None else near)
    except CoreError as trouble:
        if trouble.code == "did_not_converge":
            # what is wrong with the model itself says more
            check_steps(shape, np.asarray(written), *reach)
        raise
    return curve, check_steps(shape, curve.values, *reach)


@lru_cache(maxsize=512)
def parameter_units(shape: Shape, x_unit: Unit, y_unit: Unit) -> tuple[Unit, ...]:
    """Units of the parameters, from those of the axes."""
    found = []
    for along_x, along_y in find_exponents(shape_node(shape), shape.parameters).tolist():
        by_x, by_y = (raise_unit(u, Fraction(p).limit_denominator(12)) for u, p in ((x_unit, along_x), (y_unit, along_y)))
        unit, factor = multiply_units(by_y, by_x)
        # units of one dimension stay as they stand (mm/m): the value belongs to the axes as drawn
        found.append(unit if factor == 1.0 else Unit(by_y.powers + by_x.powers))
    return tuple(found)
