"""Line cards: the equation in the book's own symbols, and what the numbers say in words."""

from __future__ import annotations

import math

import numpy as np

from hobrel.core.document.lab_book import Convention, Fit, Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.bend import chance_of_bend, measure_bend
from hobrel.core.fitting.extreme import ExtremeLines
from hobrel.core.fitting.residuals import BENDS, studentise
from hobrel.core.fitting.straightness import LEAST_POINTS, Scatter
from hobrel.core.formulas.typeset import symbol_expression_tex, write_symbol
from hobrel.core.pipeline.columns import Column
from hobrel.core.pipeline.comparing import compare_intercept
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.ground import Ground
from hobrel.core.pipeline.influence import is_by_scatter, scatter_in_bars, which_says
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, bars_of_used
from hobrel.core.presentation.results import ByEyeResult, ExtremesResult, FitResult, GradientUncertainty, LinePattern, ShownValue
from hobrel.core.presentation.showing import show_trouble, show_value
from hobrel.core.presentation.thinning import thin_signs
from hobrel.core.rounding import MINUS, with_unit, write_number, write_place
from hobrel.core.sentences import Sentence, Sentences, said_by, say
from hobrel.core.statistics.comparison import chance_of
from hobrel.core.uncertainty.traced import Floats, Traced, combine_quadrature
from hobrel.core.units.calculus import Unit, write_unit


def _unit(column: Column) -> Unit:
    assert column.traced is not None
    return column.traced.unit


def present_pattern(graph_id: str, fitted: FittedLine) -> LinePattern:
    """How straight a graph is, in signs and words."""
    r = fitted.residuals
    return LinePattern(
        graph=graph_id,
        signs=thin_signs(r.signs),
        runs=r.runs,
        expected_runs="" if r.expected_runs is None else write_number(r.expected_runs, 2),
        curvature_t="" if r.curvature_t is None else write_number(r.curvature_t, 2),
        reduced_chi2="" if fitted.line.reduced_chi2 is None else write_number(fitted.line.reduced_chi2, 2),
        words=(say_pattern(fitted),),
        bends=fitted.bends == "bends",
        trouble=None,
        verdict=fitted.bends,
    )


def say_pattern(fitted: FittedLine | FittedCurve) -> Sentence:
    """The pattern of the residuals, of a line in words that go with its verdict."""
    if isinstance(fitted, FittedCurve):
        return fitted.residuals.sentence
    sentence = fitted.residuals.sentence
    bent = sentence.code in BENDS
    match fitted.bends:
        case "bends":
            return (
                sentence if bent else say("bends_beyond_chance", "The points bend away from a straight line by more than chance explains.")
            )
        case "straight":
            return say("no_bend", "The points scatter above and below the line; no bend is seen.") if bent else sentence
        case "unknown" if fitted.line.n < LEAST_POINTS:
            return say("too_few_for_bend", "There are too few points to tell a bend from scatter.")
        case "unknown" if fitted.scatter == "more":
            return say(
                "off_without_bend",
                "The points lie off the line by more than their bars say, with no clear bend: something is not in the bars.",
            )
        case "unknown" if fitted.line.reduced_chi2 is None:
            return say(
                "keeps_together",
                "Points that follow one another keep to one side of the line far more than chance explains, with no clear bend: "
                "a line may not be what they follow, or something slow may have changed.",
            )
    return say("bend_may_hide", "The bars are so wide that a clear bend would hide in them; whether it is straight cannot be told.")


def fail_pattern(graph_id: str, error: CoreError) -> LinePattern:
    """The pattern of a graph without a line, with the reason."""
    return LinePattern(
        graph=graph_id,
        signs="",
        runs=0,
        expected_runs="",
        curvature_t="",
        reduced_chi2="",
        words=(),
        bends=False,
        trouble=show_trouble(error),
    )


METHODS = {
    "ols": say("same_weights", "every point counts the same; the uncertainties come from the scatter"),
    "weighted": say("weighted_in_y", "weighted by the error bars in y"),
    "york": say("weighted_in_x_and_y", "weighted by the error bars in x and y"),
}


def present_fit(fit: Fit, fitted: FittedLine, points: GraphPoints, convention: Convention, run: Run) -> FitResult:
    """Write the line card."""
    line = fitted.line
    gradient, intercept = (show_number(number, convention) for number in (fitted.gradient, fitted.intercept))
    tex, text = _write_equation(points, fitted, gradient, intercept)
    method = [METHODS[line.method]]
    if fit.weights != "none" and not np.any(points.uy > 0):
        none = say("no_bars", "there are no error bars") if line.method == "ols" else say("no_bars_in_y", "there are none in y")
        method.append(none)
    if not gradient.u_text:
        method.append(say("exactly_on_it", "every point lies on it"))
    elif fitted.scatter != "unknown":
        method.append(source_words(points, line.reduced_chi2, convention))
    return FitResult(
        fit=fit.id,
        graph=fit.graph,
        method=tuple(method),
        n=line.n,
        dof=line.dof,
        equation_tex=tex,
        equation_text=text,
        gradient=gradient,
        intercept=intercept,
        intercept_words=_intercept_words(fitted, convention),
        within=within_words(fitted, points),
        chi2="" if line.chi2 is None else write_number(line.chi2, 3),
        reduced_chi2="" if line.reduced_chi2 is None else write_number(line.reduced_chi2, 2),
        chi2_words=(SCATTER_WORDS[fitted.scatter],),
        r2="" if line.r2 is None else write_r2(line.r2),
        r2_words=(_R2_AGAINST_ZERO,) if line.through_origin else (),
        residual_sd=with_unit(write_number(line.residual_sd, 2), write_unit(_unit(points.y_column))),
        pattern=present_pattern(fit.graph, fitted),
        far=far_settings(fitted, points, run),
        trouble=None,
        extremes=_present_extremes(fitted, points, convention, run),
        by_eye=_present_by_eye(fitted),
        uncertainties=_compare_uncertainties(fitted, convention),
        is_doubtful=_is_doubtful(fitted),
    )


_R2_AGAINST_ZERO = say("r2_against_zero", "against zero, not to be compared with that of a line with an intercept")


def show_number(number: Traced, convention: Convention) -> ShownValue:
    """A number of a fit with the ± of its points; that of constants that all share enters a finding once."""
    u = float(combine_quadrature(number, shared=False))
    return show_value(float(number.value), u if np.isfinite(u) and u > 0 else None, number.unit, convention.rounding)


def source_words(points: GraphPoints, reduced_chi2: float | None, convention: Convention) -> Sentence:
    """Which of the two the ± comes from, and why: the bars, or how the points scatter about what was fitted."""
    source, other = "how the points scatter", "their bars"
    which = which_says(points, convention.fit_uncertainty)
    if not is_by_scatter(reduced_chi2, which):
        source, other = "the bars", "how the points scatter"
    if which != "larger":
        return say("source_by_convention", "the ± is from {source}, by the class’s convention", source=source)
    return say("source_is_larger", "the ± is from {source}, which is more than from {other}", source=source, other=other)


CLEARLY_BENT = 0.01
"""Chance of as much curvature below which points do not follow their line (common practice)."""


def far_settings(fitted: FittedLine | FittedCurve, points: GraphPoints, run: Run) -> tuple[str, ...]:
    """Settings whose points lie beyond three of their uncertainties; in a log some do by chance alone, and none is named."""
    if run.log is not None:
        return ()
    standardised, x, y = np.abs(fitted.residuals.standardised), points.x[fitted.fitted], points.y[fitted.fitted]
    found = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    if fitted.scatter == "more":
        # the bars are wrong for all alike: by how the others scatter about what they lead to without it
        if found.dof < 2:
            return ()
        sizes, dof = studentise(standardised, found.leverages(x), found.dof), found.dof - 1.0
    else:
        sizes, dof = standardised, bars_of_used(points, fitted.fitted).dof
    # as rare among so many points as one in a hundred
    far = [i for i, size in enumerate(sizes.tolist()) if chance_of(size, dof) * x.size < 0.01]
    if fitted.scatter == "more" and isinstance(fitted, FittedLine):
        # a line that the others clearly do not follow either is no measure
        far = [i for i in far if not _are_clearly_bent(np.delete(x, i), np.delete(y, i))]
    return tuple(run.settings[points.rows[row]].id for row in np.flatnonzero(fitted.fitted)[far])


def _are_clearly_bent(x: Floats, y: Floats) -> bool:
    bend = measure_bend(x, y)
    return bend is not None and chance_of_bend(bend, x.size) < CLEARLY_BENT


def _present_extremes(fitted: FittedLine, points: GraphPoints, convention: Convention, run: Run) -> ExtremesResult | None:
    found = fitted.extremes
    if found is None:
        return None
    if isinstance(found, CoreError):
        places = found.fields.get("blocking")
        used = np.flatnonzero(fitted.fitted)
        blocking = tuple(run.row_id(points.rows[used[i]]) for i in places) if isinstance(places, list) else ()
        return ExtremesResult("", "", None, (said_by(found),), blocking)
    unit, factor = fitted.gradient.unit, _ratio(fitted)
    middle = (found.steepest.gradient + found.shallowest.gradient) / 2
    written = [with_unit(write_number(line.gradient * factor, 4), write_unit(unit)) for line in (found.steepest, found.shallowest)]
    shown = show_value(middle * factor, found.u_gradient * abs(factor) or None, unit, convention.rounding)
    words = say("extreme_lines", "Both pass through every error bar; half their difference is the gradient’s ±.")
    return ExtremesResult(written[0], written[1], shown, (words,), ())


def _present_by_eye(fitted: FittedLine) -> ByEyeResult | None:
    line = fitted.by_eye
    if line is None:
        return None
    gradient = with_unit(write_number(line.gradient * _ratio(fitted), 4), write_unit(fitted.gradient.unit))
    intercept = with_unit(write_number(line.intercept, 3), write_unit(fitted.intercept.unit))
    return ByEyeResult(gradient, intercept, (say_touched(line.touched, line.n),))


def say_touched(touched: int, n: int) -> Sentence:
    """How many bars a line drawn by eye passes through."""
    return say("bars_touched", "It touches {touched} of {n} error bars.", touched=touched, n=n)


def _compare_uncertainties(fitted: FittedLine, convention: Convention) -> tuple[GradientUncertainty, ...]:
    """The gradient's ± made in different ways, side by side; empty where there is only one."""
    ratio, unit, rule = _ratio(fitted), fitted.gradient.unit, convention.rounding

    def shown(gradient: float, u: float) -> str:
        return show_value(gradient * ratio, abs(u * ratio) or None, unit, rule).text

    line = fitted.line
    chi2 = scatter_in_bars(line.reduced_chi2, line.residual_sd, fitted.points.y[fitted.fitted])
    by_scatter = line.u_gradient * (1.0 if chi2 is None else math.sqrt(chi2))
    found = []
    if line.method != "ols":
        words = say("gradient_by_bars", "from the error bars of all points together: it shrinks as points are added")
        found.append(GradientUncertainty("statistical, from the bars", shown(line.gradient, line.u_gradient), (words,)))
    words = say("gradient_by_scatter", "from how the points scatter about the line: it shrinks as points are added")
    found.append(GradientUncertainty("statistical, from the scatter", shown(line.gradient, by_scatter), (words,)))
    if isinstance(fitted.extremes, ExtremeLines):
        steep, flat = fitted.extremes.steepest.gradient, fitted.extremes.shallowest.gradient
        words = say("gradient_by_extremes", "half the difference of the extreme lines: every bar is taken as a limit that must hold")
        found.append(GradientUncertainty("steepest and shallowest", shown((steep + flat) / 2, (steep - flat) / 2), (words,)))
    if len(fitted.by_eye_extremes) == 2:
        a, b = (drawn.gradient for drawn in fitted.by_eye_extremes)
        best = fitted.by_eye.gradient if fitted.by_eye else (a + b) / 2
        words = say("gradient_by_eye", "half the difference of your own two lines: it holds what you saw, and what you think of the bars")
        found.append(GradientUncertainty("by eye", shown(best, (a - b) / 2), (words,)))
    return tuple(found) if len(found) > 1 else ()


def _ratio(fitted: FittedLine) -> float:
    """Between the gradient in its unit and as plain y per x."""
    return float(fitted.gradient.value) / fitted.line.gradient if fitted.line.gradient else 1.0


def write_r2(r2: float) -> str:
    """Enough figures to tell it from 1."""
    for decimals in (3, 4, 5, 6):
        if round(r2, decimals) < 1:
            return f"{r2:.{decimals}f}".replace("-", MINUS)
    return "1 (to six decimals)"


def _write_equation(points: GraphPoints, fitted: FittedLine, gradient: ShownValue, intercept: ShownValue) -> tuple[str, str]:
    x_tex, y_tex = (symbol_expression_tex(c.quantity.symbol) for c in (points.x_column, points.y_column))
    x_text, y_text = (write_symbol(c.quantity.symbol) for c in (points.x_column, points.y_column))
    if any(sign in x_text for sign in "/+−· "):
        # one over L stands beside its factor, and so does a difference
        x_tex, x_text = rf"\left({x_tex}\right)", f"({x_text})"
    factor_tex, factor_text = gradient.value_tex, without_u(gradient)
    if factor_text != gradient.value_text:
        # what has a unit or a power of ten is held together before its letter
        factor_tex, factor_text = f"({factor_tex})", f"({factor_text})"
    tex, text = f"{y_tex} = {factor_tex}\\; {x_tex}", f"{y_text} = {factor_text} {x_text}"
    if not fitted.line.through_origin:
        sign = MINUS if intercept.value < 0 and intercept.value_text.startswith(MINUS) else "+"
        tex += f" {sign.replace(MINUS, '-')} {intercept.value_tex.removeprefix('-')}"
        text += f" {sign} {without_u(intercept).removeprefix(MINUS)}"
    return tex, text


def without_u(shown: ShownValue) -> str:
    """Value with unit, without the ±."""
    return shown.text.replace(f" ± {shown.u_text}", "").replace("(", "").replace(")", "") if shown.u_text else shown.text


FAR_FROM_ZERO = 12.0
"""Uncertainties from zero beyond which an intercept is hardly a slip any more (common practice)."""


def _say_harshly(differs: bool, z: str) -> Sentence:
    """Where points scatter much less than their ± says, it is by the scatter that an intercept is told from zero."""
    if differs:
        return say(
            "not_zero_by_small_scatter",
            "The ± alone would not tell it from zero: it is {z} of its uncertainties away. "
            "But the points scatter much less than that ±, and by their scatter it is not zero.",
            z=z,
        )
    return say(
        "zero_within_two_by_small_scatter",
        "The ± alone would say that it agrees with zero: it is {z} of its uncertainties away. "
        "But the points scatter much less than that ±, and by their scatter it agrees within two only.",
        z=z,
    )


def _intercept_words(fitted: FittedLine, convention: Convention) -> Sentences:
    line = fitted.line
    if line.through_origin:
        return (say("held_at_origin", "The line is held at the origin."),)
    found = compare_intercept(fitted, convention.verdict)
    if found is None or found.z is None:
        return ()
    z = f"{found.z:.1f}"
    if found.verdict == "agree" and found.excused_by is None:
        return (say("zero", "It agrees with zero within its uncertainty."),)
    if found.rule == "chance" and found.excused_by == "scatter":
        return (
            say("zero_by_scatter", "By how the points scatter it may be zero; by the ± alone it is {z} of its uncertainties from it.", z=z),
        )
    if found.rule == "chance" and found.excused_by == "few readings":
        return (
            say(
                "zero_for_few_points",
                "It may be zero: it is {z} of its uncertainties from it, which happens by chance where so few points stand behind the ±.",
                z=z,
            ),
        )
    if found.is_harsher:
        return (_say_harshly(found.verdict == "differ", z),)
    if found.verdict == "agree_within_two":
        return (say("zero_within_two", "It agrees with zero within two of its uncertainties ({z}).", z=z),)
    if found.z <= FAR_FROM_ZERO:
        off = say("not_zero", "It is {z} of its uncertainties from zero.", z=z)
        ask = say("ask_offset", "Is something added to every reading?")
    else:
        off = say("far_from_zero", "It is far from zero: the line does not begin at the origin.")
        ask = say("ask_meaning", "What does the relation say that it means?")
    # of a line that is not one nothing is asked but that
    if _is_doubtful(fitted):
        ask = say("doubt_the_line_first", "But the line does not fit its points, so that this means little.")
    return off, ask


def _is_doubtful(fitted: FittedLine) -> bool:
    return fitted.scatter == "more" or fitted.bends == "bends"


def within_words(fitted: FittedLine | FittedCurve, points: GraphPoints) -> Sentences:
    """How many residuals lie within the bars that are drawn; without bars, within the residual standard deviation, of which 68 % and 95 %
    are expected of normal scatter.
    """
    r, used = fitted.residuals, fitted.fitted
    n = r.residuals.size
    bars = np.hypot(points.uy[used], fitted.slope_at(points.x[used]) * points.ux[used])
    if not np.any(bars > 0):
        within = say(
            "within_scatter", "{within_1u} of {n} points within one residual standard deviation, {within_2u} within twice that",
            within_1u=r.within_1u, n=n, within_2u=r.within_2u,
        )  # fmt: skip
        expected = say(
            "within_expected", "about {expected_1u} and {expected_2u} are expected",
            expected_1u=round(0.68 * n), expected_2u=round(0.95 * n),
        )  # fmt: skip
        return within, expected
    within_1u, within_2u = (int(np.count_nonzero(np.abs(r.residuals) <= k * bars)) for k in (1, 2))
    within = say(
        "within_bars", "{within_1u} of {n} points within their bars, {within_2u} within twice that",
        within_1u=within_1u, n=n, within_2u=within_2u,
    )  # fmt: skip
    return (within,)


SCATTER_WORDS: dict[Scatter, Sentence] = {
    "unknown": say("no_chi2", "Without error bars there is no χ²."),
    "more": say(
        "scatter_more", "The points scatter more than readings and repeats lead to expect: bars too small, a slip, or not this shape."
    ),
    "less": say("scatter_less", "The points scatter less than readings and repeats lead to expect: the bars are generous."),
    "fits": say("scatter_fits", "The scatter fits the bars."),
}
"""What the scatter says of bars and shape."""


def fail_fit(fit: Fit, error: CoreError) -> FitResult:
    """The card of a fit that there is none of, with the reason."""
    return FitResult(
        fit=fit.id,
        graph=fit.graph,
        method=(),
        n=0,
        dof=0,
        equation_tex="",
        equation_text="",
        gradient=None,
        intercept=None,
        intercept_words=(),
        within=(),
        chi2="",
        reduced_chi2="",
        chi2_words=(),
        r2="",
        r2_words=(),
        residual_sd="",
        pattern=None,
        far=(),
        trouble=show_trouble(error),
    )


def name_fit(ground: Ground, fit_id: str) -> str:
    """What tells a fit from the others of its graph: its run and quantity where there are several, its stretch where it has one."""
    fit = ground.fit(fit_id)
    key = ground.series_key(fit)
    own = next((s for s in ground.series.get(fit.graph, ()) if s.key == key), None)
    name = own.name if own else ground.fit_points[fit_id][1].name
    if fit.low is None and fit.high is None:
        return name
    low = "start" if fit.low is None else write_place(fit.low)
    high = "end" if fit.high is None else write_place(fit.high)
    return f"{name}, {low} to {high}"
