"""The accounts of what is made of all settings: numbers of a fit, and findings."""

from __future__ import annotations

from hobrel.core.document.lab_book import Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import plain_text, symbol_expression_tex, symbol_tex
from hobrel.core.pipeline.budget import budget_by_part
from hobrel.core.pipeline.columns import plain_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints
from hobrel.core.presentation.curves import present_card
from hobrel.core.presentation.findings import name_symbol, present_budget, present_finding, shown_input
from hobrel.core.presentation.results import BudgetBar, FitResult, ShownValue
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import CARRIED_WORDS, power_tex
from hobrel.core.presentation.working_parts import FORMULA, NUMBERS_PUT_IN, Onward, ReadingRef, Working, WorkingLine, readings_at, step
from hobrel.core.rounding import write_number
from hobrel.core.sentences import Sentence, Sentences, say, told
from hobrel.core.units.calculus import write_unit


def explain_fit(computation: Computation, fit_id: str, part: str) -> Working:
    """Explain a number of a fit.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    fitted, points, run = computation.fitted(fit_id)
    card = present_card(computation.fit(fit_id), fitted, points, computation.book.convention, run)
    goodness = {"chi2": card.reduced_chi2, "r2": card.r2, "within": _count_within(card)}
    steps = _explain_goodness(fitted, card, part) if part in goodness else _explain_parameter(fitted, card, part)
    shown = goodness[part] if part in goodness else _value_of(card, part).text
    method = told(card.method, "; ")
    first_lines: tuple[WorkingLine, ...]
    if isinstance(fitted, FittedLine):
        first = step(say("line_through", "A line through {n} points, {method}.", n=card.n, method=method), card.equation_tex)
        first_lines = (first, _WEIGHTS[fitted.line.method])
    else:
        words = say("curve_through", "{shape}, through {n} points, {method}.", shape=card.shape_words, n=card.n, method=method)
        first_lines = (step(words, card.equation_tex),)
    budget: tuple[BudgetBar, ...] = ()
    traced = fitted.outputs.get(part)
    if traced is not None:
        parts = present_budget(budget_by_part({part: (1.0, traced)}), write_unit(traced.unit), computation.book)
        # that all of it comes from the line is no news
        budget = parts if len(parts) > 1 else ()
    refs, onward = _behind_fit(computation, fitted, points, run)
    return Working(title=_title(card, part), result=shown, lines=(*first_lines, *steps), budget=budget, readings=refs, onward=onward)


def _title(card: FitResult, part: str) -> str:
    titles = {"gradient": "Gradient of the line", "intercept": "Intercept of the line", "chi2": "Reduced χ²", "r2": "R²"}
    within = "Points within their bars" if card.within[0].code == "within_bars" else "Points within the scatter"
    return titles.get(part, within if part == "within" else f"{part} of the fitted curve")


def _count_within(card: FitResult) -> str:
    fields = card.within[0].fields
    return f"{fields['within_1u']} of {fields['n']}"


def _value_of(card: FitResult, part: str) -> ShownValue:
    """A parameter of a line or a curve.

    Raises
    ------
    CoreError
        ``bad_job`` where it has none of this name.
    """
    found = {"gradient": card.gradient, "intercept": card.intercept} | {p.name: p.value for p in card.parameters}
    value = found.get(part)
    if value is None:
        raise CoreError("bad_job", "There is no working for this.")
    return value


def _behind_fit(
    computation: Computation, fitted: FittedLine | FittedCurve, points: GraphPoints, run: Run
) -> tuple[tuple[ReadingRef, ...], tuple[Onward, ...]]:
    """The readings behind a fit, and the means and derived values of its points; a log has too many to name."""
    if run.log is not None:
        return (), ()
    columns = computation.columns[run.id]
    rows = [row for row, used in zip(points.rows, fitted.fitted, strict=True) if used]
    onward = tuple(
        Onward(f"{plain_symbol(c.quantity)} at {call_row(computation.book, run, row)}", f"cell:{run.id}:{run.row_id(row)}:{c.quantity.id}")
        for row in rows for c in (points.x_column, points.y_column)
    )  # fmt: skip
    behind = [c for c in columns.columns.values() if c.readings]
    return tuple(r for row in rows for r in readings_at(columns, behind, row)), onward


def _explain_parameter(fitted: FittedLine | FittedCurve, card: FitResult, part: str) -> list[WorkingLine]:
    value = _value_of(card, part)
    if isinstance(fitted, FittedCurve):
        return [step(_LEAST_SQUARES, rf"{symbol_tex(part)} = {value.tex}")]
    if part == "gradient":
        return [step(_GRADIENT, rf"m = {value.tex}")]
    covariance = power_tex(write_number(fitted.line.covariance, 3))
    meets = step(say("intercept_is", "It meets the y axis (x = 0) at"), rf"c = {value.tex}")
    return [meets, step(_HANG_TOGETHER, rf"\mathrm{{cov}}(m, c) = {covariance}")]


def _explain_goodness(fitted: FittedLine | FittedCurve, card: FitResult, part: str) -> list[WorkingLine]:
    found = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    slope = "m" if isinstance(fitted, FittedLine) else r"f'(x_i)"
    if part == "r2":
        return [step(_R2, r"R^2 = 1 - \frac{\sum w_i r_i^2}{\sum w_i (y_i-\bar y)^2}")]
    if part == "within":
        bare = card.within[0].code == "within_scatter"
        limit = "s" if bare else rf"\sqrt{{u(y_i)^2 + {slope}^2\,u(x_i)^2}}"
        return [step(_WITHIN_SCATTER if bare else _WITHIN, rf"|r_i| \le {limit}"), *(step(words) for words in card.within)]
    if found.chi2 is None:
        raise CoreError("bad_job", "Without error bars there is no χ².")
    chi2, reduced = write_number(found.chi2, 3), write_number(found.chi2 / found.dof, 2)
    lines = [step(_say_chi2(found.dof), rf"\chi^2_\nu = \frac{{{chi2}}}{{{found.dof}}} = {reduced}")]
    if found.p_value is not None:
        percent = f"{100 * found.p_value:.0f}"
        lines.append(step(say("chi2_chance", "Chance alone gives at least this much in {percent} % of cases.", percent=percent)))
    return lines


def _say_chi2(dof: int) -> Sentence:
    return say(
        "chi2_is", "Squares of the residuals, each in units of its own bar, added and shared among {dof} degrees of freedom:", dof=dof
    )


_WEIGHTS = {
    "ols": step(say("weights_alike", "Every point counts the same."), r"w_i = 1"),
    "weighted": step(say("weights_in_y", "Points with long bars count less."), r"w_i = \frac{1}{u(y_i)^2}"),
    "york": step(
        say("weights_in_x_and_y", "Points with long bars count less, in x and in y."), r"w_i = \frac{1}{u(y_i)^2 + m^2\,u(x_i)^2}"
    ),
}
_GRADIENT = say("gradient_is", "The line that makes the weighted squares of the residuals smallest has the gradient")
_HANG_TOGETHER = say("hang_together", "Gradient and intercept hang together: a steeper line starts lower.")
_LEAST_SQUARES = say("least_squares", "The values that make the (weighted) squares of the residuals smallest:")
_R2 = say("r2_is", "The share of the variation in y that goes with x. It is near 1 for bent data too: look at the residuals.")
_WITHIN = say("within_is", "A residual counts as within its bar when it is not longer than the bar, both bars taken along y.")
_WITHIN_SCATTER = say(
    "within_scatter_is",
    "Without error bars a residual is set beside the standard deviation of all of them, and counts as within when not longer.",
)


def explain_finding(computation: Computation, finding_id: str) -> Working:
    """Explain a finding."""
    computed = computation.finding(finding_id)
    result = present_finding(computed, computation.book)
    assert result.value is not None
    lines = (
        step(FORMULA, result.formula_tex),
        step(NUMBERS_PUT_IN, f"{result.numbers_tex} = {result.value.value_tex}"),
        *(
            WorkingLine(
                _name_input(computed.words.get(name, "")), rf"{symbol_tex(name)} = {shown_input(name, t, computed, computation.book).tex}"
            )
            for name, t in computed.inputs.items()
        ),
        WorkingLine(
            (
                _say_carried(computed, computation),
                *result.rounding_words,
            ),
            rf"{symbol_expression_tex(computed.finding.symbol)} = {result.value.tex}",
        ),
    )
    onward = tuple(
        Onward(f"{plain_text(name_symbol(n))} = {shown_input(n, computed.inputs[n], computed, computation.book).text}", target)
        for n, target in computed.targets.items()
    )
    return Working(title=result.name, result=result.statement, lines=lines, budget=result.budget, readings=(), onward=onward)


def _say_carried(computed: ComputedFinding, computation: Computation) -> Sentence:
    if not computed.u:
        return say("finding_exact", "Nothing that it is made of has a ±, so it has none.")
    carried = CARRIED_WORDS[computation.book.convention.propagation]
    return say("finding_u", "Each uncertainty is {carried}; a constant shared by all settings enters once, here.", carried=carried)


def _name_input(words: str) -> Sentences:
    """What a number that is put in is, where it is more than its symbol."""
    return (say("input_is", "{what}", what=words),) if words else ()
