"""Values taken from a fitted line: y at an x, or x at a y, as with a calibration line."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import LineFit

Direction = Literal["forward", "back"]


@dataclass(frozen=True)
class ReadOff:
    """A value read off a line with its standard uncertainty; `extrapolated` where it lies outside the points."""

    value: float
    u: float
    extrapolated: bool


def read_off(
    fit: LineFit,
    x_range: tuple[float, float],
    direction: Direction,
    at: float,
    u_at: float | None = None,
    *,
    repeats: int | None = None,
) -> ReadOff:
    """Read a value off a line.

    Parameters
    ----------
    fit : LineFit
    x_range : (float, float)
        Smallest and largest x of the points.
    direction : {"forward", "back"}
        y at x = `at`, or x at y = `at`.
    u_at : float, optional
        Standard uncertainty of `at`.
    repeats : int, optional
        Back: of how many readings `at` is the mean; an unweighted line then gives their scatter s/√k (Eurachem/CITAC QUAM,
        appendix E.4). Taken as 1 for an unweighted line when `u_at` is not given. Forward: the value of the mean of so many new
        readings, instead of the line itself.

    Returns
    -------
    ReadOff
        Back: u² = (s²/k + u(line)²)/m², which for an unweighted line is (s/m)²(1/k + 1/N + (y₀ − ȳ)²/(m² Σ(xᵢ − x̄)²)).

    Raises
    ------
    CoreError
        ``outside_domain`` for a level line read back; ``too_few_points`` where the line's own uncertainty is not known.
    """
    if repeats is not None and repeats < 1:
        raise CoreError("bad_job", "The number of repeats is at least 1.")
    if not math.isfinite(fit.u_gradient):
        raise CoreError("too_few_points", "With two points the line’s own uncertainty is not known, so nothing can be read off with one.")
    scatter = fit.residual_sd**2 / repeats if repeats is not None and fit.method == "ols" else 0.0
    if direction == "forward":
        value = float(fit.at(at))
        u = math.sqrt(float(fit.u_at(at)) ** 2 + (fit.gradient * (u_at or 0.0)) ** 2 + scatter)
        return ReadOff(value, u, not x_range[0] <= at <= x_range[1])
    if fit.gradient == 0:
        raise CoreError("outside_domain", "The line is level, so no x belongs to a y.")
    value = (at - fit.intercept) / fit.gradient
    if u_at is not None:
        scatter = u_at**2
    elif repeats is None and fit.method == "ols":
        scatter = fit.residual_sd**2
    u = math.sqrt(scatter + float(fit.u_at(value)) ** 2) / abs(fit.gradient)
    return ReadOff(value, u, not x_range[0] <= value <= x_range[1])
