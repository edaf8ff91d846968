"""Forms of a variable (v², 1/v, ln v …), and which pair of forms makes the points straight.

Plots of different forms are judged by what is comparable between them: the pattern of the residuals (curvature, runs of sign) and,
where there are error bars, χ². Their RMS errors are in different units and say nothing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import fdtrc

from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import chance_of_bend, measure_bend
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import Residuals, study_residuals
from hobrel.core.fitting.scattering import ways_to_scatter
from hobrel.core.fitting.straightness import ROUNDING, Bars, Straightness, judge_points
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.uncertainty.traced import Floats, Source, combine_quadrature, measured

STANDARD_FORMS = ("v", "v^2", "v^3", "sqrt(v)", "1/v", "1/v^2", "1/sqrt(v)", "ln(v)")
ANGLE_FORMS = ("sin(v)", "cos(v)", "tan(v)", "sin(v)^2", "cos(v)^2")
"""Those of an angle, which only a relation asks for: it takes the sine, cosine or tangent of it."""
MORE_LEFT, DOUBTED = 0.3, 0.5
"""Probability by chance below which more is left over of y than the smoothest plot leaves; and that where it seems to bend besides."""


@dataclass(frozen=True)
class Form:
    """A form of a variable, written in our grammar with ``v`` for the variable."""

    text: str

    def of(self, symbol: str) -> str:
        """The form of a symbol: ``T^2``."""
        return self.text.replace("v", symbol)

    def apply(self, values: Floats, u: Floats | None = None) -> Formed | None:
        """Values in this form and their bars, propagated; None where some value has no such form."""
        source = Source("v", "v", np.zeros_like(values) if u is None else u)
        try:
            traced = evaluate(read_formula(self.text, {"v"}), {"v": measured(source, values)})
        except CoreError:
            return None
        return Formed(traced.value, combine_quadrature(traced), np.asarray(np.broadcast_to(traced.slopes[source], values.shape)))


@dataclass(frozen=True)
class Formed:
    """Values in a form, their bars (0 without any), and how they grow with the variable."""

    values: Floats
    u: Floats
    slope: Floats


@dataclass(frozen=True)
class StraightPlot:
    """A pair of forms and how straight the points lie in it.

    Attributes
    ----------
    strain : float
        How many standard deviations curvature, runs and χ² are together from what a straight line would show; the smaller, the
        straighter. Comparable between plots.
    verdict : {"straight", "bends", "unknown"}
        As `judge_points`.
    left : int
        Order of magnitude (power of ten) of what the line leaves of the variation of y, 1 − R². Pure numbers, and only their
        order counts: it tells a line with scatter from a cloud that has no bend because it has no trend.
    """

    x_form: Form
    y_form: Form
    line: LineFit
    residuals: Residuals
    curvature_t: float | None
    strain: float
    verdict: Straightness
    left: int


def read_form(text: str) -> Form:
    """A form from its text: ``v^2``, ``ln v``, ``x^2`` or ``1/y`` (any one letter stands for the variable).

    Raises
    ------
    CoreError
        ``bad_formula`` where it is not a formula of one variable.
    """
    plain = text.strip()
    for letter in ("x", "y"):
        if letter in plain.replace("exp", "") and "v" not in plain:
            plain = plain.replace("exp", "\0").replace(letter, "v").replace("\0", "exp")
    node = read_formula(plain, {"v"})
    compact = plain.replace(" ", "")
    known = {form.replace("(v)", "v"): form for form in STANDARD_FORMS}
    found = known.get(compact.replace("(v)", "v"))
    if found is None:
        evaluate(node, {"v": measured(Source("v", "v", np.asarray(0.0)), 0.5)})
    return Form(found or plain)


def try_forms(
    x: ArrayLike,
    y: ArrayLike,
    bars: Bars | None = None,
    x_forms: Sequence[Form] | None = None,
    y_forms: Sequence[Form] | None = None,
) -> tuple[StraightPlot, ...]:
    """Try every pair of forms, straightest first (no bend, then little left over, then the smallest strain).

    Pairs in which a value has no form are left out.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    bars : Bars, optional
        Carried through the forms.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than four points.
    """
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    if xs.shape != ys.shape or xs.ndim != 1:
        raise CoreError("bad_job", "x and y must be lists of the same length.")
    if xs.size < 4:
        raise CoreError("too_few_points", "To see whether points lie straight, at least four are needed; there are {n}.", n=xs.size)
    standard = [Form(text) for text in STANDARD_FORMS]
    known = bars or Bars(np.zeros_like(xs), np.zeros_like(ys), np.zeros_like(xs), math.inf)
    in_x = [(form, formed) for form in x_forms or standard if (formed := form.apply(xs, known.x)) is not None]
    in_y = [(form, formed) for form in y_forms or standard if (formed := form.apply(ys, known.y)) is not None]
    plots = [plot for x_of in in_x for y_of in in_y if (plot := _judge(x_of, y_of, ys, known)) is not None]
    if not (np.all(known.y > 0) or np.any(known.x > 0)):
        plots = _compare_what_is_left(plots, dict(in_x), dict(in_y), ys)
    return tuple(sorted(plots, key=lambda p: (p.verdict == "bends", p.left, p.strain, len(p.x_form.text) + len(p.y_form.text))))


def _judge(x_of: tuple[Form, Formed], y_of: tuple[Form, Formed], as_read: Floats, bars: Bars) -> StraightPlot | None:
    (x_form, x), (y_form, y) = x_of, y_of
    formed = Bars(x.u, y.u, bars.correlation * np.sign(x.slope * y.slope), bars.dof)
    has_bars = bool(np.all(y.u > 0)) or bool(np.any(x.u > 0))
    weighted = has_bars and not formed.are_one
    try:
        line = fit_line(x.values, y.values, y.u, x.u, formed.correlation) if weighted else fit_line(x.values, y.values)
    except CoreError:
        return None
    study = study_residuals(
        x.values, y.values, line, *((y.u, x.u) if weighted else ()), correlation_xy=formed.correlation if weighted else None
    )
    if float(np.max(np.abs(study.residuals))) <= ROUNDING * float(np.max(np.abs(y.values))):
        # on the line but for rounding: signs and curvature of rounding mean nothing
        return StraightPlot(
            x_form=x_form, y_form=y_form, line=line, residuals=study, curvature_t=0.0, strain=0.0, verdict="straight", left=-16
        )
    t = study.curvature_t or 0.0
    few_runs = _runs_z(study)
    excess = max(0.0, math.sqrt(2 * line.chi2) - math.sqrt(2 * line.dof - 1)) if line.chi2 is not None and line.dof else 0.0
    strain = math.sqrt(t * t + few_runs * few_runs + excess * excess)
    left = max(-16, round(math.log10(max(1 - (line.r2 or 0.0), 1e-16))))
    ways = ways_to_scatter(y.slope, as_read) if y_form.text != "v" else ()
    verdict = judge_points(x.values, y.values, formed if has_bars else None, ways=ways)
    return StraightPlot(
        x_form=x_form, y_form=y_form, line=line, residuals=study, curvature_t=study.curvature_t, strain=strain, verdict=verdict, left=left
    )


def _chance_of_bend(x: Formed, y: Formed, as_read: Floats) -> float:
    bends = [measure_bend(x.values, y.values, sigma) for sigma in ways_to_scatter(y.slope, as_read)]
    return max((chance_of_bend(bend, as_read.size) for bend in bends if bend is not None), default=1.0)


def _compare_what_is_left(
    plots: list[StraightPlot], in_x: dict[Form, Formed], in_y: dict[Form, Formed], as_read: Floats
) -> list[StraightPlot]:
    """Without bars the smoothest plot says how y scatters: one that leaves much more of y over than that cannot be told straight (F)."""
    left = np.array([_left_in_y(in_x[p.x_form], in_y[p.y_form], as_read) for p in plots])
    dof = as_read.size - 2
    if not plots or dof < 1:
        return plots
    least = np.maximum(np.nanmin(left, axis=0), ROUNDING**2 * np.sum(as_read**2))
    chances = fdtrc(dof, dof, left / least)
    found = []
    for plot, several in zip(plots, chances, strict=True):
        chance = float(np.nanmin(several)) if np.any(np.isfinite(several)) else math.nan
        doubtful = not chance >= MORE_LEFT
        if not doubtful and chance < DOUBTED:
            doubtful = _chance_of_bend(in_x[plot.x_form], in_y[plot.y_form], as_read) < DOUBTED
        cannot_tell = plot.verdict == "straight" and plot.left > -16 and doubtful
        found.append(replace(plot, verdict="unknown") if cannot_tell else plot)
    return found


def _left_in_y(x: Formed, y: Formed, as_read: Floats) -> tuple[float, float]:
    """Sum of squares that a line leaves of y, carried back from its form; of y itself, and of shares of it (NaN where it has none)."""
    found = []
    for sigma in ways_to_scatter(y.slope, as_read):
        try:
            line = fit_line(x.values, y.values, sigma)
        except CoreError:
            # scatters so unlike one another that they fix no line
            found.append(math.nan)
            continue
        found.append(float(np.sum(((y.values - line.at(x.values)) / sigma) ** 2)))
    return (found[0] if found else math.nan, found[1] if len(found) > 1 else math.nan)


def _runs_z(study: Residuals) -> float:
    """How many standard deviations too few runs there are (Wald–Wolfowitz); 0 where there are enough."""
    if study.expected_runs is None:
        return 0.0
    kept = study.signs.replace("0", "")
    n = len(kept)
    variance = (study.expected_runs - 1) * (study.expected_runs - 2) / (n - 1) if n > 1 else 0.0
    return max(0.0, (study.expected_runs - study.runs - 0.5) / math.sqrt(variance)) if variance > 0 else 0.0
