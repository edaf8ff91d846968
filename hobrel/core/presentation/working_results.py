"""The accounts of what is made of all settings: numbers of a fit, and findings."""

from __future__ import annotations

from hobrel.core.document.lab_book import Fit, Run
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import plain_text, rich_symbol, symbol_expression_tex, symbol_tex
from hobrel.core.pipeline.budget import budget_by_part
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.curves import FittedCurve
from hobrel.core.pipeline.lines import FittedLine, GraphPoints
from hobrel.core.presentation.curves import present_curve
from hobrel.core.presentation.findings import name_symbol, present_budget, present_finding, shown_input
from hobrel.core.presentation.line_cards import present_fit
from hobrel.core.presentation.results import BudgetBar
from hobrel.core.presentation.showing import CARRIED_WORDS, power_tex
from hobrel.core.presentation.working_parts import Onward, ReadingRef, Working, WorkingLine, readings_at
from hobrel.core.rounding import write_number
from hobrel.core.units.calculus import write_unit


def explain_fit(computation: Computation, fit_id: str, part: str) -> Working:
    """Explain a number of a fit.

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    fitted, points, run = computation.fitted(fit_id)
    fit = computation.fit(fit_id)
    if isinstance(fitted, FittedCurve):
        return _explain_curve(computation, fit, fitted, points, run, part=part)
    card = present_fit(fit, fitted, points, computation.book.convention, run)
    assert card.gradient is not None and card.intercept is not None
    shown = {
        "gradient": card.gradient.text,
        "intercept": card.intercept.text,
        "chi2": card.reduced_chi2,
        "r2": card.r2,
        "within": card.within,
    }
    if part not in shown:
        raise CoreError("bad_job", "There is no working for this.")
    lines = _fit_lines(fitted, part, card.gradient.tex, card.intercept.tex)
    words = {
        "gradient": "Gradient of the line",
        "intercept": "Intercept of the line",
        "chi2": "Reduced χ²",
        "r2": "R²",
        "within": "Points within their bars",
    }
    budget: tuple[BudgetBar, ...] = ()
    if part in ("gradient", "intercept"):
        traced = fitted.gradient if part == "gradient" else fitted.intercept
        if len(traced.slopes) > 1:
            budget = present_budget(budget_by_part({part: (1.0, traced)}), write_unit(traced.unit), computation.book)
    refs, onward = _behind_fit(computation, fitted, points, run)
    return Working(
        words[part],
        shown[part],
        (WorkingLine(f"A line through {card.n} points, {card.method}.", card.equation_tex), *lines),
        budget,
        refs,
        onward,
    )


def _behind_fit(
    computation: Computation, fitted: FittedLine | FittedCurve, points: GraphPoints, run: Run
) -> tuple[tuple[ReadingRef, ...], tuple[Onward, ...]]:
    """The readings behind a fit, and the means and derived values of its points; a log has too many to name."""
    if run.log is not None:
        return (), ()
    columns = computation.columns[run.id]
    rows = [row for row, used in zip(points.rows, fitted.fitted, strict=True) if used]
    onward = tuple(
        Onward(f"Setting {row + 1}: {plain_text(rich_symbol(c.quantity.symbol))}", f"cell:{run.id}:{run.row_id(row)}:{c.quantity.id}")
        for row in rows for c in (points.x_column, points.y_column)
    )  # fmt: skip
    behind = [c for c in columns.columns.values() if c.readings]
    return tuple(r for row in rows for r in readings_at(columns, behind, row)), onward


def _explain_curve(computation: Computation, fit: Fit, fitted: FittedCurve, points: GraphPoints, run: Run, *, part: str) -> Working:
    card = present_curve(fit, fitted, points, computation.book.convention, run)
    shown = {p.name: (p.value.text if p.value else "", rf"{p.tex} = {p.value.tex}" if p.value else "") for p in card.parameters}
    shown |= {
        "chi2": (card.reduced_chi2, rf"\chi^2_\nu = {card.reduced_chi2}"),
        "r2": (card.r2, rf"R^2 = {card.r2}"),
        "within": (card.within, ""),
    }
    if part not in shown:
        raise CoreError("bad_job", "There is no working for this.")
    text, tex = shown[part]
    lines = (
        WorkingLine(f"{card.shape_words}, through {card.n} points, {card.method}.", card.equation_tex),
        WorkingLine("The values that make the (weighted) squares of the residuals smallest:", tex),
    )
    refs, onward = _behind_fit(computation, fitted, points, run)
    budget: tuple[BudgetBar, ...] = ()
    traced = fitted.outputs.get(part)
    if traced is not None and len(traced.slopes) > 1:
        budget = present_budget(budget_by_part({part: (1.0, traced)}), write_unit(traced.unit), computation.book)
    return Working(part, text, lines, budget, refs, onward)


def _fit_lines(fitted: FittedLine, part: str, gradient_tex: str, intercept_tex: str) -> list[WorkingLine]:
    line = fitted.line
    weights = {
        "ols": WorkingLine("Every point counts the same.", r"w_i = 1"),
        "weighted": WorkingLine("Points with long bars count less.", r"w_i = \frac{1}{u(y_i)^2}"),
        "york": WorkingLine("Points with long bars count less, in x and in y.", r"w_i = \frac{1}{u(y_i)^2 + m^2\,u(x_i)^2}"),
    }[line.method]
    lines = [weights]
    if part == "gradient":
        lines.append(
            WorkingLine("The line that makes the weighted squares of the residuals smallest has the gradient", rf"m = {gradient_tex}")
        )
    elif part == "intercept":
        lines.append(WorkingLine("It meets the y axis (x = 0) at", rf"c = {intercept_tex}"))
        lines.append(WorkingLine("Gradient and intercept hang together: a steeper line starts lower.",
                                 rf"\mathrm{{cov}}(m, c) = {power_tex(write_number(line.covariance, 3))}"))  # fmt: skip
    elif part == "chi2" and line.chi2 is not None:
        lines.append(WorkingLine(
            f"Squares of the residuals, each in units of its own bar, added and shared among {line.dof} degrees of freedom:",
            rf"\chi^2_\nu = \frac{{{write_number(line.chi2, 3)}}}{{{line.dof}}} = {write_number(line.chi2 / line.dof, 2)}"))  # fmt: skip
        if line.p_value is not None:
            lines.append(WorkingLine(f"Chance alone gives at least this much in {100 * line.p_value:.0f} % of cases.", ""))
    elif part == "r2":
        lines.append(WorkingLine("The share of the variation in y that goes with x. It is near 1 for bent data too: look at the residuals.",
                                 r"R^2 = 1 - \frac{\sum w_i r_i^2}{\sum w_i (y_i-\bar y)^2}"))  # fmt: skip
    else:
        lines.append(WorkingLine("A residual counts as within its bar when it is not longer than the bar, both bars taken along y.",
                                 r"|r_i| \le \sqrt{u(y_i)^2 + m^2\,u(x_i)^2}"))  # fmt: skip
    return lines


def explain_finding(computation: Computation, finding_id: str) -> Working:
    """Explain a finding."""
    computed = computation.finding(finding_id)
    result = present_finding(computed, computation.book)
    assert result.value is not None
    lines = (
        WorkingLine("The formula:", result.formula_tex),
        WorkingLine("With the numbers put in:", f"{result.numbers_tex} = {result.value.value_tex}"),
        *(
            WorkingLine(computed.words.get(name, ""), rf"{symbol_tex(name)} = {shown_input(name, t, computed, computation.book).tex}")
            for name, t in computed.inputs.items()
        ),
        WorkingLine(
            f"Each uncertainty is {CARRIED_WORDS[computation.book.convention.propagation]}; a constant shared by all settings enters once, "
            "here. " + result.rounding_words,
            rf"{symbol_expression_tex(computed.finding.symbol)} = {result.value.tex}",
        ),
    )
    onward = tuple(
        Onward(f"{plain_text(name_symbol(n))} = {shown_input(n, computed.inputs[n], computed, computation.book).text}", target)
        for n, target in computed.targets.items()
    )
    return Working(result.name, result.statement, lines, result.budget, (), onward)
