"""Where a curve comes nearest to points with bars along both axes: the parameters, and the x at which each point is nearest to it.

What is least is Σ((y − f(ξ))/u_y)² + ((x − ξ)/u_x)² over the parameters and one ξ for each point. Each step of Gauss and Newton is worked
out for the parameters alone, since a ξ moves only its own point (P. T. Boggs, R. H. Byrd and R. B. Schnabel, SIAM J. Sci. Stat. Comput. 8,
1052 (1987), section 3): it is a weighted line through what is left, with the bars along both axes together as its weights. Where these
steps do not settle, ODRPACK95 (ACM TOMS 676) takes over from the same beginning.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.shapes import Model
from hobrel.core.uncertainty.traced import Floats

NOISE = 1e-9
SINGULAR = 1e-13
_MOST_STEPS = 30
_LEAST_STEP, _ROUNDING = 1e-9, 1e-14
"""Of a ±, and of what a point is: a step shorter than the first is seen by nobody, one shorter than the second is rounding."""


@dataclass(frozen=True)
class LeastDistance:
    """Where a curve is nearest to its points.

    Attributes
    ----------
    parameters : ndarray, shape (k,)
    x : ndarray, shape (N,)
        Where each point is nearest to the curve; its own x where that has no bar.
    """

    parameters: Floats
    x: Floats


def find_least_distance(model: Model, y: Floats, begin: Floats, ux: Floats, uy: Floats) -> LeastDistance:
    """The parameters at which the distance, measured in bars, is least, from a beginning that is near.

    Parameters
    ----------
    model : Model
        Over the points' x, shape (N,).
    y, ux, uy : ndarray, shape (N,)
        A point whose `ux` is 0 keeps its x.
    begin : ndarray, shape (k,)

    Raises
    ------
    CoreError
        ``did_not_converge``.
    """
    found = _step_down(model, y, begin, ux, uy)
    return _search_longer(model, y, begin, ux, uy) if found is None else found


def _step_down(model: Model, y: Floats, begin: Floats, ux: Floats, uy: Floats) -> LeastDistance | None:
    """Steps of Gauss and Newton until they are lost; None where they do not lead down, or not far enough."""
    p, x, last = begin, model.x, math.inf
    bars_along = np.where(ux > 0, ux, 1.0)
    for _ in range(_MOST_STEPS):
        values, jacobian, slope = model.with_all_slopes(p, x)
        off, along = y - values, model.x - x
        with np.errstate(all="ignore"):
            distance = float(((off / uy) ** 2 + (along / bars_along) ** 2).sum())
            effective = np.hypot(uy, slope * ux)
            columns = jacobian / effective[:, None]
            size = np.sqrt((columns**2).sum(axis=0))
            scaled = columns / size
        if not (distance <= last * (1 + _LEAST_STEP) and np.isfinite(scaled).all()):
            return None
        left, singular, turned = np.linalg.svd(scaled, full_matrices=False)
        if singular[-1] < SINGULAR * singular[0]:
            return None
        rest = off - slope * along
        # along each of the independent directions in which the parameters move, in its own standard uncertainty
        lengths = left.T @ (rest / effective)
        step = turned.T @ (lengths / singular) / size
        nearest = model.x + slope * (ux / effective) ** 2 * (rest - jacobian @ step)
        lost = max(_LEAST_STEP, _ROUNDING * float(np.abs(y / effective).max()))
        # from the best fit with bars along y the first step of the parameters may be nothing: then only the points' own x have moved
        settled = np.abs(lengths).max() <= lost and (np.abs(nearest - x) <= np.maximum(_LEAST_STEP * ux, _ROUNDING * np.abs(x))).all()
        p, x, last = p + step, nearest, distance
        if settled:
            return LeastDistance(p, x)
    return None


def _search_longer(model: Model, y: Floats, begin: Floats, ux: Floats, uy: Floats) -> LeastDistance:
    """By ODRPACK95, its tolerances tightened.

    Raises
    ------
    CoreError
        ``did_not_converge``.
    """
    from odrpack import odr_fit

    def values(x: Floats, beta: Floats) -> Floats:
        return model.values(beta, x)

    def by_parameters(x: Floats, beta: Floats) -> Floats:
        return model.with_jacobian(beta, x)[1].T

    def by_x(x: Floats, beta: Floats) -> Floats:
        return model.slope(beta, x)

    free = ux > 0
    # ODRPACK takes its steps in the measure of what it begins with: rounding would be a measure that it never gets away from
    reach = np.max(np.abs(by_parameters(model.x, begin)), axis=1)
    start = np.where(np.abs(begin) * reach <= NOISE * np.max(np.abs(y)), 0.0, begin)
    result = odr_fit(
        values, model.x, y, start, weight_x=np.where(free, 1.0 / np.where(free, ux, 1.0) ** 2, 1.0), weight_y=1.0 / uy**2,
        fix_x=~free, jac_beta=by_parameters, jac_x=by_x, sstol=1e-15, partol=1e-15, maxit=200,
    )  # fmt: skip
    # the last digit of ODRPACK's info says how it stopped: 1 to 3 are convergence; higher digits only tell of its own check of
    # derivatives by differences, which is unsure where they are exact
    if result.info % 10 not in (1, 2, 3):
        raise CoreError("did_not_converge", "The fit with error bars in both axes did not settle. Fit with the bars in y only.")
    return LeastDistance(np.asarray(result.beta, dtype=np.float64), np.asarray(result.xplusd, dtype=np.float64))
