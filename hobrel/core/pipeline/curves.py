"""A shape fitted to the points of a graph, as traced results that a finding can be made from."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.document.lab_book import Fit
from hobrel.core.fitting.curve import CurveFit, fit_shape
from hobrel.core.fitting.dimensions import find_exponents
from hobrel.core.fitting.residuals import Residuals, study_pattern
from hobrel.core.fitting.shapes import Model, Shape, find_shape, own_shape, shape_node
from hobrel.core.pipeline.columns import RunColumns
from hobrel.core.pipeline.lines import GraphPoints, axis_units, points_to_fit, shared_shifts
from hobrel.core.uncertainty.traced import Floats, Source, Traced
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit


@dataclass(frozen=True)
class FittedCurve:
    """A curve with what it means: its parameters as sources of their own, with units, and the pull of shared constants.

    `fitted` marks the points that it was fitted to; `residuals` are of these. `noise` marks parameters that are only rounding.
    """

    curve: CurveFit
    residuals: Residuals
    outputs: dict[str, Traced]
    sources: dict[str, Source]
    correlations: dict[tuple[str, str], float]
    fitted: np.ndarray[tuple[int], np.dtype[np.bool_]]
    noise: tuple[bool, ...]

    @property
    def n(self) -> int:
        return int(self.curve.residuals.size)

    def at(self, x: ArrayLike) -> Floats:
        return self.curve.at(x)

    def u_at(self, x: ArrayLike) -> Floats:
        return self.curve.u_at(x)

    def slope_at(self, x: ArrayLike) -> Floats:
        places = np.atleast_1d(np.asarray(x, dtype=np.float64))
        return Model(self.curve.shape, places).slope(self.curve.values)


def shape_of(fit: Fit) -> Shape:
    """The shape that a fit names.

    Raises
    ------
    CoreError
        ``bad_job``, ``bad_formula`` as `find_shape` and `own_shape`.
    """
    return own_shape(fit.formula, fit.parameters) if fit.shape == "own" else find_shape(fit.shape)


def fit_curve(points: GraphPoints, fit: Fit, columns: RunColumns) -> FittedCurve:
    """Fit the shape of a fit to the points that are not set aside, as `fit_graph` does for a line.

    Raises
    ------
    CoreError
        As `fit_shape`.
    """
    shape, used = shape_of(fit), points_to_fit(points, fit)
    x, y, ux, uy = (values[used] for values in (points.x, points.y, points.ux, points.uy))
    weighted = fit.weights != "none" and bool(np.any(uy > 0))
    both = weighted and fit.weights == "both_bars" and bool(np.any(ux > 0))
    curve = fit_shape(x, y, shape, uy if weighted else None, ux if both else None)
    units = parameter_units(shape, *axis_units(points))
    keys = [f"{fit.id}:{name}" for name in shape.parameters]
    sources = dict(columns.sources)
    slopes: list[dict[str, Floats]] = []
    for key, name, u, unit in zip(keys, shape.parameters, curve.u.tolist(), units, strict=True):
        sources[key] = Source(key, name, np.asarray(u), unit)
        slopes.append({key: np.asarray(1.0)})
    for key, u, x_shift, y_shift in shared_shifts(points, columns, used):
        moved = fit_shape(x + x_shift, y + y_shift, shape, uy if weighted else None, ux if both else None, curve.values.tolist())
        for own, by in zip(slopes, (moved.values - curve.values) / u, strict=True):
            own[key] = np.asarray(by)
    spread = np.hypot(uy, Model(shape, x).slope(curve.values) * ux) if weighted else np.full_like(x, curve.residual_sd)
    outputs = {
        name: Traced(np.asarray(value), own, unit)
        for name, value, own, unit in zip(shape.parameters, curve.values.tolist(), slopes, units, strict=True)
    }
    return FittedCurve(
        curve, study_pattern(x, y, curve.residuals, spread), outputs, sources,
        columns.correlations | _correlations(curve, keys), used,
        tuple(curve.only_noise(x, y)),
    )  # fmt: skip


def parameter_units(shape: Shape, x_unit: Unit, y_unit: Unit) -> tuple[Unit, ...]:
    """Units of the parameters, from those of the axes."""
    found = []
    for along_x, along_y in find_exponents(shape_node(shape), shape.parameters).tolist():
        by_x, by_y = (raise_unit(u, Fraction(p).limit_denominator(12)) for u, p in ((x_unit, along_x), (y_unit, along_y)))
        unit, factor = multiply_units(by_y, by_x)
        # units of one dimension stay as they stand (mm/m): the value belongs to the axes as drawn
        found.append(unit if factor == 1.0 else Unit(by_y.powers + by_x.powers))
    return tuple(found)


def _correlations(curve: CurveFit, keys: list[str]) -> dict[tuple[str, str], float]:
    found = {}
    for i, a in enumerate(keys):
        for j in range(i + 1, len(keys)):
            spread = float(curve.u[i] * curve.u[j])
            if spread > 0 and np.isfinite(spread):
                found[a, keys[j]] = float(curve.covariance[i, j]) / spread
    return found
