"""How a number came about: the formula, the same with numbers put in, what made its uncertainty, and the readings behind it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.analysis import Computation
from hobrel.core.behind import NeighbourPair, goes_to_neighbours, pairs_at, places_behind, write_out
from hobrel.core.columns import Column, RunColumns, uncertainty_at
from hobrel.core.curves import FittedCurve
from hobrel.core.documents import Fit
from hobrel.core.errors import CoreError
from hobrel.core.findings import make_budget
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.formulas.typeset import formula_tex, plain_text, rich_symbol, symbol_expression_tex, symbol_tex
from hobrel.core.lines import FittedLine, GraphPoints
from hobrel.core.presenting.curves import present_curve
from hobrel.core.presenting.findings import name_symbol, present_budget, present_finding, shown_input
from hobrel.core.presenting.graphs import present_fit
from hobrel.core.results import BudgetBar
from hobrel.core.rounding import RoundingRule, write_number
from hobrel.core.showing import SPREAD_WORDS, power_tex, show_value, tex_unit
from hobrel.core.uncertainty.traced import Source, Traced, combine_quadrature
from hobrel.core.units import write_unit


@dataclass(frozen=True)
class WorkingLine:
    """A step: words, and mathematics as TeX (either may be empty)."""

    words: str
    tex: str


@dataclass(frozen=True)
class ReadingRef:
    """A reading behind a number, leading back to its cell."""

    run: str
    setting: str
    quantity: str
    repeat: int
    text: str
    set_aside: bool


@dataclass(frozen=True)
class Onward:
    """A further number that this one rests on: what it says, and its own target."""

    words: str
    target: str


@dataclass(frozen=True)
class Working:
    """The full account of one number; `onward` names further numbers that it rests on."""

    title: str
    result: str
    lines: tuple[WorkingLine, ...]
    budget: tuple[BudgetBar, ...]
    readings: tuple[ReadingRef, ...]
    onward: tuple[Onward, ...]


def explain(computation: Computation, target: str) -> Working:
    """Explain one number.

    Parameters
    ----------
    computation : Computation
    target : str
        ``cell:RUN:SETTING:QUANTITY``, ``fit:FIT:gradient`` (or intercept, within, chi2, r2), ``finding:FINDING``.

    Raises
    ------
    CoreError
        ``bad_job`` when there is no such number; or the error that stands in its place.
    """
    match target.split(":"):
        case ["cell", run, setting, quantity]:
            return _explain_cell(computation, run, setting, quantity)
        case ["fit", fit, part]:
            return _explain_fit(computation, fit, part)
        case ["finding", finding]:
            return _explain_finding(computation, finding)
    raise CoreError("bad_job", "There is no working for this.")


def _explain_cell(computation: Computation, run_id: str, setting_id: str, quantity_id: str) -> Working:
    columns = computation.columns.get(run_id)
    column = columns.columns.get(quantity_id) if columns else None
    if columns is None or column is None:
        raise CoreError("bad_job", "This number is no longer in the lab book.")
    row = columns.run.row_of(setting_id)
    if row is None:
        raise CoreError("bad_job", "This setting is no longer in the lab book.")
    if column.readings:
        return _explain_mean(computation, columns, column, row)
    if column.trouble is not None:
        raise column.trouble
    if column.quantity.kind in ("changed", "measured"):
        return _explain_logged(computation, columns, column, row)
    if column.node is None:
        raise CoreError("bad_job", "This number was written down; there is no working behind it.")
    return _explain_derived(computation, columns, column, row)


def _explain_mean(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    quantity, mean = column.quantity, column.means[row]
    if mean is None:
        raise CoreError("too_few_points", "There is no reading here to average.")
    convention, unit = computation.book.convention, write_unit(_traced(column).unit)
    shown = show_value(mean.summary.mean, mean.u, _traced(column).unit, convention.rounding)
    symbol = symbol_tex(quantity.symbol)
    kept = [s.text.strip() for s in column.readings[row] if s.parsed is not None and s.set_aside is None]
    n = mean.summary.n
    lines = [
        WorkingLine("The mean of the readings that count:", rf"\bar{{{symbol}}} = \frac{{{' + '.join(kept)}}}{{{n}}} = {shown.value_tex}")
        if n > 1 else WorkingLine("There is one reading, so it is its own mean.", rf"{symbol} = {shown.value_tex}")
    ]  # fmt: skip
    if mean.spread_u is not None:
        lines.append(WorkingLine(f"Spread: {SPREAD_WORDS[convention.spread]}.", _spread_tex(convention.spread, mean.spread_u, kept, unit)))
    if quantity.instrument is not None:
        u = uncertainty_at(quantity, convention, mean.summary.mean)
        lines.append(
            WorkingLine(f"Instrument: one reading of the {quantity.instrument.name} is uncertain by {write_number(u, 2)} {unit}.", "")
        )
    made = {"spread": "The spread is the larger, so it is the ±.", "instrument": "The instrument’s ± is the larger, so it is the ±.",
            "both": "The two are added in quadrature."}[mean.made_by]  # fmt: skip
    lines.append(WorkingLine(made if n > 1 else "One reading has no spread, so the ± is the instrument’s.", rf"{symbol} = {shown.tex}"))
    name = f"{quantity.name}, setting {row + 1}"
    return Working(
        name, f"{plain_text(rich_symbol(quantity.symbol))} = {shown.text}", tuple(lines), (), _readings_at(columns, [column], row), ()
    )


def _explain_logged(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    one = _row_of(_traced(column), row)
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "Nothing was logged here.")
    shown = show_value(float(one.value), float(column.u[row]) or None, one.unit, computation.book.convention.rounding)
    words = "It was logged, so it is one reading; its ± is that of the instrument."
    line = WorkingLine(words, rf"{symbol_tex(column.quantity.symbol)} = {shown.tex}")
    name, symbol = f"{column.quantity.name}, row {row + 1}", plain_text(rich_symbol(column.quantity.symbol))
    return Working(name, f"{symbol} = {shown.text}", (line,), (), _readings_at(columns, [column], row), ())


def _spread_tex(kind: str, spread: float, kept: list[str], unit: str) -> str:
    value = power_tex(write_number(spread, 2)) + tex_unit(unit)
    numbers = sorted(kept, key=lambda t: float(t.replace(",", ".").split()[0]) if t[0].isdigit() else 0.0)
    if kind == "half_range" and len(numbers) > 1:
        return rf"\frac{{{numbers[-1]} - {numbers[0]}}}{{2}} = {value}"
    forms = {"half_range": r"\tfrac12(\max-\min)", "mean_abs_deviation": r"\frac1n\sum|x_i-\bar x|",
             "largest_deviation": r"\max|x_i-\bar x|",
             "sd": r"\sqrt{\tfrac{1}{n-1}\sum(x_i-\bar x)^2}", "standard_error": r"\tfrac{s}{\sqrt n}"}  # fmt: skip
    return f"{forms[kind]} = {value}"


def _explain_derived(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    quantity, traced, rule = column.quantity, _traced(column), computation.book.convention.rounding
    one = _row_of(traced, row)
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "There is no value here yet.")
    assert column.node is not None
    sources = {k: s if s.u.ndim == 0 else replace(s, u=np.asarray(s.u[row])) for k, s in columns.sources.items()}
    u = float(combine_quadrature(one, sources, shared=False))
    shown = show_value(float(one.value), u or None, one.unit, rule)
    names = {canonical_name(c.quantity.symbol): c for c in columns.columns.values()}
    parts = [names[s] for s in sorted(symbols_in(column.node)) if s in names and s != canonical_name(quantity.symbol)]
    numbers: dict[str, str] = {}
    onward = []
    for part in parts:
        inner = _row_of(_traced(part), row)
        part_u = float(np.broadcast_to(part.u, (columns.run.count,))[row])
        inner_shown = show_value(float(inner.value), part_u or None, inner.unit, rule)
        numbers[canonical_name(part.quantity.symbol)] = rf"\left({inner_shown.value_tex}\right)"
        if part.quantity.kind != "constant":
            onward.append(Onward(f"{plain_text(rich_symbol(part.quantity.symbol))} = {inner_shown.text}",
                                 f"cell:{columns.run.id}:{columns.run.row_id(row)}:{part.quantity.id}"))  # fmt: skip
    for pair in pairs_at(column.node, columns, row):
        numbers[pair.text] = _pair_tex(pair, rule)
    full = write_out(column.node, columns)
    if goes_to_neighbours(full):
        onward += _onward_before(column.node, columns, row, parts, rule)
    symbol = symbol_expression_tex(quantity.symbol)
    lines = (
        WorkingLine("The formula:", f"{symbol} = {formula_tex(column.node)}"),
        WorkingLine("With the numbers of this setting:", f"{symbol} = {formula_tex(column.node, numbers)} = {shown.value_tex}"),
        WorkingLine("Each uncertainty, carried through in quadrature:", _propagation_tex(one, sources, shown.u_text, write_unit(one.unit))),
    )
    budget = tuple(b for b in make_budget(one, sources) if not b.shared)
    behind = tuple(ref for part, at in places_behind(full, columns, row) for ref in _readings_at(columns, [part], at))
    return Working(
        f"{quantity.name}, setting {row + 1}", f"{plain_text(rich_symbol(quantity.symbol))} = {shown.text}", lines,
        present_budget(budget, write_unit(one.unit), computation.book), behind, tuple(onward),
    )  # fmt: skip


def _pair_tex(pair: NeighbourPair, rule: RoundingRule) -> str:
    """The two values that a difference or a middle is made of, put in."""
    shown = (show_value(v, u or None, pair.unit, rule) for v, u in ((pair.value, pair.u), (pair.value_before, pair.u_before)))
    now, before = (value.value_tex for value in shown)
    if pair.function == "mid":
        return rf"\left(\tfrac12({before} + {now})\right)"
    return rf"\left({now} - {rf'({before})' if pair.value_before < 0 else before}\right)"


def _onward_before(node: Node, columns: RunColumns, row: int, parts: list[Column], rule: RoundingRule) -> list[Onward]:
    """The same quantities at the settings before that a formula reaches back to."""
    found = []
    for before in sorted({pair.before for pair in pairs_at(node, columns, row)}):
        for part in parts:
            if part.quantity.kind != "constant":
                inner = _row_of(_traced(part), before)
                u = float(np.broadcast_to(part.u, (columns.run.count,))[before])
                text = show_value(float(inner.value), u or None, inner.unit, rule).text
                found.append(Onward(f"before it: {plain_text(rich_symbol(part.quantity.symbol))} = {text}",
                                    f"cell:{columns.run.id}:{columns.run.row_id(before)}:{part.quantity.id}"))  # fmt: skip
    return found


def _propagation_tex(one: Traced, sources: Mapping[str, Source], u_text: str, unit: str) -> str:
    """√ of the sum of squares, each term (sensitivity × u) with its symbol underneath."""
    if not u_text:
        return ""
    terms = []
    for key, slope in one.slopes.items():
        source = sources[key]
        if not source.shared:
            sensitivity, u = power_tex(write_number(abs(float(slope)), 3)), power_tex(write_number(float(source.u), 2))
            terms.append(rf"(\underbrace{{{sensitivity} \times {u}}}_{{{symbol_expression_tex(source.symbol)}}})^2")
    return rf"u = \sqrt{{{' + '.join(terms)}}} = {u_text}{tex_unit(unit)}"


def _explain_fit(computation: Computation, fit_id: str, part: str) -> Working:
    fitted, fit = computation.fits.get(fit_id), next((f for f in computation.book.fits if f.id == fit_id), None)
    if fitted is None or fit is None:
        raise CoreError("bad_job", "This fit is no longer in the lab book.")
    if isinstance(fitted, CoreError):
        raise fitted
    points = computation.points[fit.graph]
    assert isinstance(points, GraphPoints)
    run = computation.book.runs[0]
    if isinstance(fitted, FittedCurve):
        return _explain_curve(computation, fit, fitted, points, part)
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
            budget = present_budget(make_budget(traced, fitted.sources), write_unit(traced.unit), computation.book)
    refs, onward = _behind_fit(computation, fitted, points)
    return Working(
        words[part],
        shown[part],
        (WorkingLine(f"A line through {card.n} points, {card.method}.", card.equation_tex), *lines),
        budget,
        refs,
        onward,
    )


def _behind_fit(
    computation: Computation, fitted: FittedLine | FittedCurve, points: GraphPoints
) -> tuple[tuple[ReadingRef, ...], tuple[Onward, ...]]:
    """The readings behind a fit, and the means and derived values of its points; a log has too many to name."""
    if computation.book.runs[0].log is not None:
        return (), ()
    run = computation.book.runs[0]
    columns = computation.columns[run.id]
    rows = [row for row, used in zip(points.rows, fitted.fitted, strict=True) if used]
    onward = tuple(
        Onward(f"Setting {row + 1}: {plain_text(rich_symbol(c.quantity.symbol))}", f"cell:{run.id}:{run.row_id(row)}:{c.quantity.id}")
        for row in rows for c in (points.x_column, points.y_column)
    )  # fmt: skip
    behind = [c for c in columns.columns.values() if c.readings]
    return tuple(r for row in rows for r in _readings_at(columns, behind, row)), onward


def _explain_curve(computation: Computation, fit: Fit, fitted: FittedCurve, points: GraphPoints, part: str) -> Working:
    card = present_curve(fit, fitted, points, computation.book.convention, computation.book.runs[0])
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
    refs, onward = _behind_fit(computation, fitted, points)
    budget: tuple[BudgetBar, ...] = ()
    traced = fitted.outputs.get(part)
    if traced is not None and len(traced.slopes) > 1:
        budget = present_budget(make_budget(traced, fitted.sources), write_unit(traced.unit), computation.book)
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


def _explain_finding(computation: Computation, finding_id: str) -> Working:
    computed = computation.findings.get(finding_id)
    if computed is None:
        raise CoreError("bad_job", "This finding is no longer in the lab book.")
    if isinstance(computed, CoreError):
        raise computed
    result = present_finding(computed, computation.book)
    assert result.value is not None
    lines = (
        WorkingLine("The formula:", result.formula_tex),
        WorkingLine("With the numbers put in:", f"{result.numbers_tex} = {result.value.value_tex}"),
        *(
            WorkingLine("", rf"{symbol_tex(name)} = {shown_input(name, t, computed, computation.book).tex}")
            for name, t in computed.inputs.items()
        ),
        WorkingLine(
            "Each uncertainty is carried through in quadrature; a constant shared by all settings enters once, here. "
            + result.rounding_words,
            rf"{symbol_expression_tex(computed.finding.symbol)} = {result.value.tex}",
        ),
    )
    fit = computed.finding.fit
    constants = {canonical_name(q.symbol) for q in computation.book.quantities if q.kind == "constant"}
    used = [n for n in computed.inputs if n not in constants]
    onward = tuple(
        Onward(f"{plain_text(name_symbol(n))} = {shown_input(n, computed.inputs[n], computed, computation.book).text}", f"fit:{fit}:{n}")
        for n in used
    )
    return Working(result.name, result.statement, lines, result.budget, (), onward)


def _traced(column: Column) -> Traced:
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "There is no value here.")
    return column.traced


def _row_of(traced: Traced, row: int) -> Traced:
    def at(a: np.ndarray[tuple[int, ...], np.dtype[np.float64]]) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
        return np.asarray(a if a.ndim == 0 else a[row])

    return Traced(at(traced.value), {k: at(s) for k, s in traced.slopes.items()}, traced.unit)


def _readings_at(columns: RunColumns, behind: list[Column], row: int) -> tuple[ReadingRef, ...]:
    log = columns.run.log
    if log is not None:
        texts = {c.quantity.id: log.columns[c.quantity.id][row] for c in behind if c.quantity.id in log.columns}
        return tuple(ReadingRef(columns.run.id, columns.run.row_id(row), key, 0, text, False) for key, text in texts.items() if text)
    setting = columns.run.settings[row]
    return tuple(
        ReadingRef(columns.run.id, setting.id, c.quantity.id, i, r.text, r.set_aside is not None)
        for c in behind for i, r in enumerate(setting.readings.get(c.quantity.id, ())) if r is not None and r.text.strip()
    )  # fmt: skip
