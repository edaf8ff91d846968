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
    steps = 1e-5 * np.maximum(np.abs(fit.values), np.where(np.isfinite(fit.u), fit.u, 0.0))
    steps[steps == 0] = 1e-9
    moved = np.diag(steps)
    slopes, *ends = fit.shape.over(places).slopes(np.vstack([fit.values, fit.values + moved, fit.values - moved]))
    above, below = np.array(ends).reshape(2, fit.values.size, places.size)
    by_parameters = ((above - below) / (2 * steps[:, None])).T
    if not (np.all(np.isfinite(slopes)) and np.all(np.isfinite(by_parameters))):
        raise CoreError("outside_domain", "The curve has no slope at one of these places.")
    variance = np.einsum("ni,ij,nj->n", by_parameters, fit.covariance, by_parameters)
    return Tangents(places, np.asarray(slopes), np.sqrt(np.maximum(variance, 0.0)), by_parameters)
