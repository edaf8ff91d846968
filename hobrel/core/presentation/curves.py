"""The card of a fitted shape that is not a line."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from hobrel.core.document.lab_book import Convention, Fit, Run
from hobrel.core.errors import CoreError
from hobrel.core.fitting.shapes import SHAPES, Shape, shape_node
from hobrel.core.formulas.typeset import formula_tex, plain_text, symbol_expression_tex, symbol_tex, write_symbol
from hobrel.core.pipeline.comparing import TwoFold, compare_with_known
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, axis_units, points_to_fit
from hobrel.core.pipeline.summits import find_summit
from hobrel.core.presentation.line_cards import METHODS, SCATTER_WORDS, far_settings, present_fit, source_words, within_words, write_r2
from hobrel.core.presentation.results import FitResult, ParameterResult, ShapeOffer, ShownValue, SummitResult
from hobrel.core.presentation.showing import show_number, show_value
from hobrel.core.presentation.stepped import present_steps, write_rates, write_rates_tex
from hobrel.core.rounding import MINUS, with_unit, write_number
from hobrel.core.sentences import Sentence, said_by, say
from hobrel.core.statistics.comparison import say_verdict
from hobrel.core.stepping.shape import SteppedShape
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import write_unit

WILD = 3
"""With fewer points than this for each parameter, a shape is offered with a word of caution (common practice)."""
_METHODS = METHODS | {
    "orthogonal_distance": say("orthogonal_distance", "by the shortest distance to the curve, in units of both error bars")
}


def present_card(fit: Fit, fitted: FittedLine | FittedCurve, points: GraphPoints, convention: Convention, run: Run) -> FitResult:
    """Write the card of a line or of another shape."""
    if isinstance(fitted, FittedCurve):
        return present_curve(fit, fitted, points, convention, run)
    return present_fit(fit, fitted, points, convention, run)


def present_curve(fit: Fit, fitted: FittedCurve, points: GraphPoints, convention: Convention, run: Run) -> FitResult:
    """Write the card of a shape."""
    curve = fitted.curve
    why = () if fitted.scatter == "unknown" else (source_words(points, curve.reduced_chi2, convention),)
    parameters = present_parameters(fitted, convention, fit)
    equation = _write_equation(curve.shape, parameters, points)
    assert points.y_column.traced is not None
    unit = write_unit(points.y_column.traced.unit)
    return FitResult(
        fit=fit.id,
        graph=fit.graph,
        method=(_METHODS[curve.method], *why),
        n=fitted.n,
        dof=curve.dof,
        equation_tex=equation[0],
        equation_text=equation[1],
        gradient=None,
        intercept=None,
        intercept_words=(),
        within=within_words(fitted, points),
        chi2="" if curve.chi2 is None else write_number(curve.chi2, 3),
        reduced_chi2="" if curve.reduced_chi2 is None else write_number(curve.reduced_chi2, 2),
        chi2_words=(SCATTER_WORDS[fitted.scatter],),
        r2="" if curve.r2 is None else write_r2(curve.r2),
        r2_words=(),
        residual_sd=with_unit(write_number(curve.residual_sd, 2), unit),
        pattern=None,
        far=far_settings(fitted, points, run),
        trouble=None,
        shape=curve.shape.name,
        shape_words=curve.shape.words,
        parameters=parameters,
        is_doubtful=fitted.scatter == "more",
        summit=_present_summit(fitted, points, convention),
        steps=None if fitted.steps is None else present_steps(fitted, fitted.steps, fit.steps, *axis_units(points)),
    )


def _write_equation(shape: Shape, parameters: Sequence[ParameterResult], points: GraphPoints) -> tuple[str, str]:
    """In TeX with the parameters put in, and in plain text with them after it; a step-by-step model has several."""
    text = ", ".join(f"{p.name} = {p.value.text}" for p in parameters if p.value is not None)
    if isinstance(shape, SteppedShape):
        return write_rates_tex(shape.system.equations), "; ".join(
            part for part in (plain_text(write_rates(shape.system.equations)), text) if part
        )
    x_symbol, y_symbol = (c.quantity.symbol for c in (points.x_column, points.y_column))
    numbers = {p.name: p.value.value_tex for p in parameters if p.value is not None}
    numbers["x"] = symbol_expression_tex(x_symbol)
    return f"{symbol_expression_tex(y_symbol)} = {formula_tex(shape_node(shape), numbers)}", f"{write_symbol(y_symbol)}: {text}"


def _present_summit(fitted: FittedCurve, points: GraphPoints, convention: Convention) -> SummitResult | None:
    """The summit of a curve that has one between its points, and no more."""
    try:
        found = find_summit(fitted, points)
    except CoreError:
        return None
    place, value = (show_number(number.said, convention.rounding) for number in (found.place, found.value))
    return SummitResult(found.is_highest, place, value)


def offer_shapes(points: GraphPoints, fit: Fit) -> tuple[ShapeOffer, ...]:
    """All shapes, the line first; those that have no value at some point, or no fewer parameters than there are points, with the reason."""
    used = points_to_fit(points, fit)
    x, n = points.x[used], int(np.count_nonzero(used))
    offers, forbidden = [ShapeOffer("line", SHAPES["line"].words)], []
    for shape in SHAPES.values():
        count = len(shape.parameters)
        if shape.name in ("line", "proportional"):
            continue
        try:
            shape.check_domain(x)
        except CoreError as trouble:
            forbidden.append(ShapeOffer(shape.name, shape.words, (), (said_by(trouble),)))
            continue
        if count >= n:
            few = say(
                "too_few_for_shape", "It needs {least} or more points and has {n}.", least=count + 1, n=n,
            )  # fmt: skip
            forbidden.append(ShapeOffer(shape.name, shape.words, (), (few,)))
            continue
        letters = " and ".join(shape.parameters[-2:])
        wild = say(
            "wild_shape", "only {n} points to find {parameters} from: it will seem to fit almost anything",
            n=n, parameters=", ".join([*shape.parameters[:-2], letters]),
        )  # fmt: skip
        offers.append(ShapeOffer(shape.name, shape.words, (wild,) if n < WILD * count else ()))
    return (*offers, *forbidden)


def read_expected(text: str) -> Fraction:
    """An expected exponent: ``3/2``, ``-2``, ``0.5``.

    Raises
    ------
    CoreError
        ``bad_number`` for anything else.
    """
    try:
        return Fraction(text.strip().replace(",", ".").replace("−", "-").replace(" ", ""))
    except (ValueError, ZeroDivisionError) as trouble:
        raise CoreError("bad_number", "An expected exponent is a number or a fraction, as 2, 0.5 or 3/2.") from trouble


def _compare_exponent(number: TwoFold, expected: str, convention: Convention) -> Sentence:
    try:
        found = compare_with_known(number, float(read_expected(expected)), convention.verdict)
    except CoreError as trouble:
        return said_by(trouble)
    return say_verdict(found, f"the expected {expected.strip().replace('-', MINUS)}", "of its uncertainties")


def present_parameters(fitted: FittedCurve, convention: Convention, fit: Fit) -> tuple[ParameterResult, ...]:
    """The parameters of a shape, in its order, each with what is to be said of it."""
    return tuple(_present_parameter(fitted, i, name, convention, fit) for i, name in enumerate(fitted.curve.shape.parameters))


def _present_parameter(fitted: FittedCurve, place: int, name: str, convention: Convention, fit: Fit) -> ParameterResult:
    traced = fitted.outputs[name]
    u = float(combine_quadrature(traced, shared=False)) if np.isfinite(fitted.curve.u[place]) else float("inf")
    if fitted.noise[place]:
        return ParameterResult(name, symbol_tex(name), _zero(write_unit(traced.unit)), (say("only_rounding", "It is only rounding."),))
    known = u if u < float("inf") else None
    shown = show_value(float(traced.value), known, traced.unit, convention.rounding)
    if fit.shape == "power" and name == "n" and fit.expected.strip() and known is not None:
        words = _compare_exponent(TwoFold(traced, fitted.judged[name]), fit.expected, convention)
        return ParameterResult(name, symbol_tex(name), shown, (words,))
    unknown = say("u_unknown", "There are as many points as parameters, so its uncertainty is not known.")
    return ParameterResult(name, symbol_tex(name), shown, () if known is not None else (unknown,))


def _zero(unit: str) -> ShownValue:
    return show_value(0.0, None, unit, "one_or_two")
