"""Forms of a variable (v², 1/v, ln v …), and which pair of forms makes the points straight.

Plots of different forms are judged by what is comparable between them: the pattern of the residuals (curvature, runs of sign) and,
where there are error bars, χ². Their RMS errors are in different units and say nothing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import LineFit, fit_line
from hobrel.core.fitting.residuals import Residuals, study_residuals
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.uncertainty.traced import Floats, Source, combine_quadrature, measured

STANDARD_FORMS = ("v", "v^2", "v^3", "sqrt(v)", "1/v", "1/v^2", "1/sqrt(v)", "ln(v)")
ROUNDING = 1e-12


@dataclass(frozen=True)
class Form:
    """A form of a variable, written in our grammar with ``v`` for the variable."""

    text: str

    def of(self, symbol: str) -> str:
        """The form of a symbol: ``T^2``."""
        return self.text.replace("v", symbol)

    def apply(self, values: Floats, u: Floats | None) -> tuple[Floats, Floats | None] | None:
        """Values in this form and their bars, propagated; None where some value has no such form."""
        source = Source("v", "v", np.zeros_like(values) if u is None else u)
        try:
            traced = evaluate(read_formula(self.text, {"v"}), {"v": measured(source, values)})
        except CoreError:
            return None
        return traced.value, None if u is None else combine_quadrature(traced)


@dataclass(frozen=True)
class StraightPlot:
    """A pair of forms and how straight the points lie in it.

    Attributes
    ----------
    strain : float
        How many standard deviations curvature, runs and χ² are together from what a straight line would show; the smaller, the
        straighter. Comparable between plots.
    verdict : {"straight", "bends", "unclear"}
        Bends: |curvature t| above 2 or runs improbably few; unclear: fewer than five points.
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
    verdict: str
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
    ux: ArrayLike | None = None,
    uy: ArrayLike | None = None,
    x_forms: Sequence[Form] | None = None,
    y_forms: Sequence[Form] | None = None,
) -> tuple[StraightPlot, ...]:
    """Try every pair of forms, straightest first (no bend, then little left over, then the smallest strain).

    Pairs in which a value has no form are left out.

    Parameters
    ----------
    x, y : array_like, shape (N,)
    ux, uy : array_like, shape (N,) or scalar, optional
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
        raise CoreError("too_few_points", f"To see whether points lie straight, at least four are needed; there are {xs.size}.")
    standard = [Form(text) for text in STANDARD_FORMS]
    bars = [None if u is None else np.broadcast_to(np.asarray(u, dtype=np.float64), xs.shape) for u in (ux, uy)]
    in_x = [(form, formed) for form in x_forms or standard if (formed := form.apply(xs, bars[0])) is not None]
    in_y = [(form, formed) for form in y_forms or standard if (formed := form.apply(ys, bars[1])) is not None]
    plots = [plot for fx, vx in in_x for fy, vy in in_y if (plot := _judge(fx, fy, vx, vy)) is not None]
    return tuple(sorted(plots, key=lambda p: (p.verdict == "bends", p.left, p.strain, len(p.x_form.text) + len(p.y_form.text))))


def _judge(x_form: Form, y_form: Form, x: tuple[Floats, Floats | None], y: tuple[Floats, Floats | None]) -> StraightPlot | None:
    (xs, ux), (ys, uy) = x, y
    weighted = uy is not None and bool(np.all(uy > 0))
    try:
        line = fit_line(xs, ys, uy if weighted else None, ux if weighted and ux is not None and np.any(ux) else None)
    except CoreError:
        return None
    study = study_residuals(xs, ys, line, uy if weighted else None, ux if weighted else None)
    if float(np.max(np.abs(study.residuals))) <= ROUNDING * float(np.max(np.abs(ys))):
        # on the line but for rounding: signs and curvature of rounding mean nothing
        return StraightPlot(x_form, y_form, line, study, 0.0, 0.0, "straight", -16)
    t = study.curvature_t or 0.0
    few_runs = _runs_z(study)
    excess = max(0.0, math.sqrt(2 * line.chi2) - math.sqrt(2 * line.dof - 1)) if line.chi2 is not None and line.dof else 0.0
    strain = math.sqrt(t * t + few_runs * few_runs + excess * excess)
    bends = abs(t) > 2 or few_runs > 2
    verdict = "bends" if bends else "straight" if xs.size > 4 else "unclear"
    left = max(-16, round(math.log10(max(1 - (line.r2 or 0.0), 1e-16))))
    return StraightPlot(x_form, y_form, line, study, study.curvature_t, strain, verdict, left)


def _runs_z(study: Residuals) -> float:
    """How many standard deviations too few runs there are (Wald–Wolfowitz); 0 where there are enough."""
    if study.expected_runs is None:
        return 0.0
    kept = study.signs.replace("0", "")
    n = len(kept)
    variance = (study.expected_runs - 1) * (study.expected_runs - 2) / (n - 1) if n > 1 else 0.0
    return max(0.0, (study.expected_runs - study.runs - 0.5) / math.sqrt(variance)) if variance > 0 else 0.0
