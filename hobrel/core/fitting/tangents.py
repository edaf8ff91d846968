"""Slope of the tangent to a fitted curve."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.fitting.curve import CurveFit
from hobrel.core.uncertainty.traced import Floats


@dataclass(frozen=True)
class Tangents:
    """Slopes at `x` in unit of y per unit of x, with `u` from the covariance of the parameters.

    `by_parameters` is ∂slope/∂parameter, shape (places, parameters).
    """

    x: Floats
    slopes: Floats
    u: Floats
    by_parameters: Floats


def find_tangents(fit: CurveFit, at: ArrayLike) -> Tangents:
    """Slope of the fitted curve at given x, by its exact derivative; u² = gᵀ V g with g = ∂slope/∂parameters.

    Raises
    ------
    CoreError
        ``outside_domain`` where the curve has no slope.
    """
    places = np.atleast_1d(np.asarray(at, dtype=np.float64))
    model = fit.shape.over(places)
    slopes = model.slope(fit.values)
    columns = []
    for i, (value, u) in enumerate(zip(fit.values, fit.u, strict=True)):
        step = 1e-5 * max(abs(float(value)), float(u) if np.isfinite(u) else 0.0) or 1e-9
        ends = []
        for sign in (1, -1):
            moved = fit.values.copy()
            moved[i] += sign * step
            ends.append(model.slope(moved))
        columns.append((ends[0] - ends[1]) / (2 * step))
    by_parameters = np.array(columns).reshape(fit.values.size, places.size).T
    if not (np.all(np.isfinite(slopes)) and np.all(np.isfinite(by_parameters))):
        raise CoreError("outside_domain", "The curve has no slope at one of these places.")
    variance = np.einsum("ni,ij,nj->n", by_parameters, fit.covariance, by_parameters)
    return Tangents(places, np.asarray(slopes), np.sqrt(np.maximum(variance, 0.0)), by_parameters)
