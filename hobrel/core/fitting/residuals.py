"""What is left of the points when the line is taken away, and what its pattern says."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import ndtr

from hobrel.core.fitting.bend import Bend, chance_of_bend, measure_bend, swings
from hobrel.core.fitting.line import LineFit
from hobrel.core.sentences import Sentence, say
from hobrel.core.uncertainty.traced import Floats


@dataclass(frozen=True)
class Residuals:
    """Residuals of a line, in the order of x.

    Attributes
    ----------
    residuals : ndarray, shape (N,)
        y − (m x + c), in the order of the points given.
    sigmas : ndarray, shape (N,)
        By what each is judged: the uncertainty of its point along y, or the residual sd where there are no bars.
    standardised : ndarray, shape (N,)
        Divided by these.
    signs : str
        ``++−−+`` in order of x; ``0`` for a residual that is nothing but rounding.
    runs, expected_runs, runs_p : number of runs of sign, its expectation under chance, two-sided probability
        Wald–Wolfowitz, normal approximation with continuity correction. None where all signs agree or are too few.
    curvature_t : float or None
        Quadratic coefficient over its standard error when x² is added to the line. None for fewer than four points.
    within_1u, within_2u : int
        How many |standardised| are at most 1 and 2.
    longest_run : int
    sentence : Sentence
        What the pattern says, in plain words.
    """

    residuals: Floats
    sigmas: Floats
    standardised: Floats
    signs: str
    runs: int
    expected_runs: float | None
    runs_p: float | None
    curvature_t: float | None
    within_1u: int
    within_2u: int
    longest_run: int
    sentence: Sentence


def studentise(standardised: Floats, leverages: Floats, dof: int) -> Floats:
    """Residuals in units of what all other points scatter by when each is left out: Student's t with one degree of freedom less.

    By the leverages h nothing need be fitted again: χ² falls by r²/(1 − h), and the point is r/(1 − h) off what the others lead to (R. D.
    Cook and S. Weisberg, Residuals and Influence in Regression, 1982, section 2.2).

    Parameters
    ----------
    standardised : ndarray, shape (N,)
        Of a fit, each by its own standard deviation or a multiple of it that is the same for all.
    leverages : ndarray, shape (N,)
    dof : int
        Of the fit; two or more.
    """
    free = np.maximum(1.0 - leverages, 1e-12)
    squares = standardised**2 / free
    others = np.maximum(float(np.sum(standardised**2)) - squares, 0.0) / (dof - 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(squares > 0, np.sqrt(squares / others), 0.0)


def study_residuals(
    x: ArrayLike,
    y: ArrayLike,
    fit: LineFit,
    uy: ArrayLike | None = None,
    ux: ArrayLike | None = None,
    *,
    correlation_xy: ArrayLike | None = None,
) -> Residuals:
    """Study the residuals of a line.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    fit : LineFit
    uy, ux, correlation_xy : array_like, optional
        The error bars by which residuals are judged, along y: σ² = u(y)² + m² u(x)² − 2 m r u(x) u(y).
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    spread = np.full_like(xs, fit.residual_sd)
    if uy is not None:
        spread = along_y(uy, 0.0 if ux is None else ux, 0.0 if correlation_xy is None else correlation_xy, fit.gradient)
    bend = measure_bend(xs, ys, uy)
    return study_pattern(xs, ys, ys - fit.at(xs), spread, bend)


def along_y(uy: ArrayLike, ux: ArrayLike, correlation_xy: ArrayLike, slope: ArrayLike) -> Floats:
    """What a point is uncertain by along y, its error in x carried over by the slope of what was fitted."""
    sy, sx, r, m = (np.asarray(v, dtype=np.float64) for v in (uy, ux, correlation_xy, slope))
    return np.asarray(np.sqrt(np.maximum(sy**2 + (m * sx) ** 2 - 2 * m * r * sx * sy, 0.0)))


def study_pattern(x: Floats, y: Floats, residuals: Floats, spread: Floats, bend: Bend | None = None) -> Residuals:
    """Study residuals of any model.

    Parameters
    ----------
    x, y, residuals : ndarray, shape (N,)
    spread : ndarray, shape (N,)
        By what each residual is judged: its bars along y, or the residual sd.
    bend : Bend, optional
        Of the points about a straight line.
    """
    standardised = np.where(spread > 0, residuals / np.where(spread > 0, spread, 1.0), 0.0)
    order = np.argsort(x, kind="stable")
    noise = 1e-12 * float(np.max(np.abs(y), initial=0.0))
    signs = "".join("0" if abs(r) <= noise else "+" if r > 0 else "−" for r in residuals[order])
    kept = signs.replace("0", "")
    runs, longest = _count_runs(kept)
    expected, runs_p = _expect_runs(kept, runs)
    return Residuals(
        residuals=residuals,
        sigmas=spread,
        standardised=standardised,
        signs=signs,
        runs=runs,
        expected_runs=expected,
        runs_p=runs_p,
        curvature_t=None if bend is None else bend.t,
        within_1u=int(np.sum(np.abs(standardised) <= 1)),
        within_2u=int(np.sum(np.abs(standardised) <= 2)),
        longest_run=longest,
        sentence=_describe(kept, x.size, runs, expected, longest, bend=bend),
    )


def _count_runs(signs: str) -> tuple[int, int]:
    runs = longest = current = 0
    previous = ""
    for sign in signs:
        current = current + 1 if sign == previous else 1
        runs += sign != previous
        longest, previous = max(longest, current), sign
    return runs, longest


def _expect_runs(signs: str, runs: int) -> tuple[float | None, float | None]:
    """Wald and Wolfowitz, Ann. Math. Stat. 11, 147 (1940)."""
    above, below = signs.count("+"), signs.count("−")
    n = above + below
    if above == 0 or below == 0:
        return None, None
    expected = 2 * above * below / n + 1
    variance = (expected - 1) * (expected - 2) / (n - 1) if n > 1 else 0.0
    if variance <= 0:
        return expected, None
    distance = max(abs(runs - expected) - 0.5, 0.0)
    return expected, min(1.0, 2 * float(ndtr(-distance / math.sqrt(variance))))


BENDS = ("bends_in_the_middle", "bends_both_ways", "bends")
"""Codes of the sentences that call the points bent."""


def _describe(signs: str, n: int, runs: int, expected: float | None, longest: int, *, bend: Bend | None) -> Sentence:
    if not signs:
        return say("on_the_line", "Every point lies on the line.")
    if bend is not None and n >= 5 and chance_of_bend(bend, n) < 0.05:
        if swings(bend, n):
            return say("bends_both_ways", "The points bend away from a straight line, first one way and then the other.")
        ends = signs[0] == signs[-1] and signs.count(signs[0]) < len(signs)
        above = bend.t > 0
        if ends:
            side, middle = ("above", "below") if above else ("below", "above")
            return say(
                "bends_in_the_middle", "The ends lie {side} the line and the middle {middle}: it still bends.", side=side, middle=middle
            )
        return say("bends", "The points bend away from a straight line.")
    if expected is not None and n >= 8 and runs <= expected / 2:
        return say("long_run", "{n} points in a row lie on one side of the line: something slow may have changed.", n=longest)
    return say("no_pattern", "The points scatter above and below the line with no pattern.")
