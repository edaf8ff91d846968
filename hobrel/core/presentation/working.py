"""How a number came about: the formula, the same with numbers put in, what made its uncertainty, and the readings behind it."""

from __future__ import annotations

import re

import numpy as np

from hobrel.core.document.plan_part import ReferenceTable
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import RATE_FUNCTIONS, Node, Rate, goes_over_settings, spell, symbols_in
from hobrel.core.formulas.typeset import formula_tex, symbol_expression_tex, symbol_tex
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.averaging import uncertainty_at
from hobrel.core.pipeline.behind import MadeRate, NeighbourPair, lookups_at, pairs_at, places_behind, rates_at, write_out
from hobrel.core.pipeline.budget import budget_by_source, share_linearly
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.findings import present_budget
from hobrel.core.presentation.results import ShownValue
from hobrel.core.presentation.showing import (
    CARRIED_WORDS,
    NATURAL_FIGURES,
    numbers_put_in,
    power_tex,
    say_spread,
    show_number,
    show_value,
    tex_unit,
)
from hobrel.core.presentation.working_parts import FORMULA, Onward, Working, readings_at, step
from hobrel.core.presentation.working_results import explain_finding, explain_fit
from hobrel.core.readings.instruments import common_share
from hobrel.core.rounding import MINUS, RoundingRule, write_number, write_place
from hobrel.core.sentences import Sentence, say
from hobrel.core.statistics.spread import MeanWithUncertainty
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units.calculus import Unit, write_unit


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
            return explain_fit(computation, fit, part)
        case ["finding", finding]:
            return explain_finding(computation, finding)
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
    if column.words is not None:
        raise CoreError("bad_job", "These words were written down; there is no working behind them.")
    if column.trouble is not None:
        raise column.trouble
    if column.quantity.kind in ("changed", "measured"):
        return _explain_logged(computation, columns, column, row)
    if column.quantity.tangent_of:
        return _explain_tangent(computation, columns, column, row)
    if column.quantity.result_of is not None:
        return _explain_result(computation, columns, column, row)
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
    counted = [s for s in column.readings[row] if s.parsed is not None and s.set_aside is None]
    kept = [re.split(r"±|\+/?-", s.text)[0].strip(" (") for s in counted]
    in_order = [text for _, text in sorted(zip((float(s.parsed.value) for s in counted if s.parsed), kept, strict=True))]
    n = mean.summary.n
    if n > 1:
        sum_tex = rf"\bar{{{symbol}}} = \frac{{{' + '.join(kept)}}}{{{n}}} = {shown.value_tex}"
        lines = [step(say("mean_of_readings", "The mean of the readings that count:"), sum_tex)]
    else:
        lines = [step(say("one_reading", "There is one reading, so it is its own mean."), rf"{symbol} = {shown.value_tex}")]
    if mean.spread_u is not None:
        shown_spread = power_tex(write_number(mean.spread_u, 2)) + tex_unit(unit)
        how = "" if mean.is_typical else _spread_tex(convention.spread, in_order, mean.t)
        lines.append(
            step(say("spread_is", "Spread: {spread}.", spread=say_spread(convention)), f"{how} = {shown_spread}" if how else shown_spread)
        )
    own = any(s.parsed is not None and s.parsed.u is not None for s in counted)
    if own:
        u_own = f"{write_number(mean.instrument_u, 2)} {unit}".rstrip()
        lines.append(step(say("u_as_written", "One reading is uncertain by {u}, as it was written with it.", u=u_own)))
    elif quantity.instrument is not None:
        u = f"{write_number(uncertainty_at(quantity, convention, mean.summary.mean), 2)} {unit}".rstrip()
        lines.append(
            step(
                say(
                    "u_of_instrument", "Instrument: one reading of the {instrument} is uncertain by {u}.",
                    instrument=quantity.instrument.name, u=u,
                )
            )
        )  # fmt: skip
    lines.append(step(_say_made(mean, own), rf"{symbol} = {shown.tex}"))
    if quantity.instrument is not None and common_share(quantity.instrument):
        lines.append(
            step(
                say(
                    "common_to_all",
                    "The scale of the {instrument} is known to {percent} %. All its readings are off by that together, so it is in no bar "
                    "and in no weight, and is counted once in a finding.",
                    instrument=quantity.instrument.name, percent=quantity.instrument.common,
                )
            )
        )  # fmt: skip
    name = f"{quantity.name}, setting {row + 1}"
    return Working(
        title=name,
        result=f"{plain_symbol(quantity)} = {shown.text}",
        lines=tuple(lines),
        budget=(),
        readings=readings_at(columns, [column], row),
        onward=(),
    )


def _say_made(mean: MeanWithUncertainty, own: bool) -> Sentence:
    """Which of the two made the ±; `own`: the readings were written with one."""
    if mean.summary.n == 1:
        source = "what was written with it" if own else "the instrument’s"
        return say("no_spread", "One reading has no spread, so the ± is {source}.", source=source)
    if mean.made_by == "both":
        return say("added_in_quadrature", "The two are added in quadrature.")
    source = "The spread" if mean.made_by == "spread" else "The ± that was written" if own else "The instrument’s ±"
    return say("larger_is_the_u", "{source} is the larger, so it is the ±.", source=source)


def _explain_tangent(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    one, fit = _traced(column).at_row(row), column.quantity.tangent_of
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "The curve has no point here.")
    fitted, points, _ = computation.fitted(fit)
    u = float(combine_quadrature(one))
    shown = show_value(float(one.value), u or None, one.unit, computation.book.convention.rounding)
    x, y = (symbol_expression_tex(c.quantity.symbol) for c in (points.x_column, points.y_column))
    lines = (
        step(
            say("slope_here", "The slope of the fitted curve at this setting:"),
            rf"{symbol_tex(column.quantity.symbol)} = \frac{{d\,{y}}}{{d\,{x}}}",
        ),
        step(say("slope_u", "Its ± comes from those of the curve’s parameters, which all slopes share."), rf"= {shown.tex}"),
    )
    onward = tuple(Onward(name, f"fit:{fit}:{name}") for name in fitted.outputs)
    name, symbol = f"{column.quantity.name}, setting {row + 1}", plain_symbol(column.quantity)
    return Working(
        title=name,
        result=f"{symbol} = {shown.text}",
        lines=lines,
        budget=(),
        readings=readings_at(columns, [points.x_column], row),
        onward=onward,
    )


def _explain_result(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    """What a run has given; how it came about is seen where that run is looked at.

    Raises
    ------
    CoreError
        ``too_few_points`` where it has given nothing.
    """
    one, wanted, setting = _traced(column).at_row(row), column.quantity.result_of, columns.run.settings[row]
    if wanted is None or not np.isfinite(one.value):
        raise CoreError("too_few_points", "This run has not given this yet.")
    shown = show_number(one, computation.book.convention.rounding)
    run = next((r.name for r in computation.book.runs if r.id == setting.of_run), "")
    what = f"the {wanted.part} of a fit" if wanted.kind == "fit" else "a mean"
    lines = (
        step(say("result_of_run", "It is {what}, made of the readings of the run “{run}” alone.", what=what, run=run), ""),
        step(say("result_u", "Its ± is that of this run; what all runs share is kept apart and enters once."), f"= {shown.tex}"),
    )
    return Working(
        title=f"{column.quantity.name}, {run}",
        result=f"{plain_symbol(column.quantity)} = {shown.text}",
        lines=lines,
        budget=(),
        readings=(),
        onward=(),
    )


def _explain_logged(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    one = _traced(column).at_row(row)
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "Nothing was logged here.")
    shown = show_value(float(one.value), float(column.u[row]) or None, one.unit, computation.book.convention.rounding)
    words = say("logged_reading", "It was logged, so it is one reading; its ± is that of the instrument.")
    line = step(words, rf"{symbol_tex(column.quantity.symbol)} = {shown.tex}")
    name, symbol = f"{column.quantity.name}, row {row + 1}", plain_symbol(column.quantity)
    return Working(
        title=name, result=f"{symbol} = {shown.text}", lines=(line,), budget=(), readings=readings_at(columns, [column], row), onward=()
    )


def _spread_tex(kind: str, in_order: list[str], t: float | None) -> str:
    if kind == "half_range" and len(in_order) > 1:
        least = in_order[0] if in_order[0][:1].isdigit() else f"({in_order[0]})"
        return rf"\frac{{{in_order[-1]} - {least}}}{{2}}"
    forms = {"half_range": r"\tfrac12(\max-\min)", "mean_abs_deviation": r"\frac1n\sum|x_i-\bar x|",
             "largest_deviation": r"\max|x_i-\bar x|",
             "sd": r"\sqrt{\tfrac{1}{n-1}\sum(x_i-\bar x)^2}", "standard_error": r"\tfrac{s}{\sqrt n}"}  # fmt: skip
    return rf"{write_number(t, 3)} \times {forms[kind]}" if t is not None and kind == "standard_error" else forms[kind]


def _explain_derived(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    quantity, traced, rule = column.quantity, _traced(column), computation.book.convention.rounding
    one = traced.at_row(row)
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "There is no value here yet.")
    assert column.node is not None
    way = column.carried.way if column.carried else "quadrature"
    u = float(np.broadcast_to(column.u, (columns.run.count,))[row])
    shown = show_value(float(one.value), u or None, one.unit, rule)
    names = {canonical_name(c.quantity.symbol): c for c in columns.columns.values()}
    parts = [names[s] for s in sorted(symbols_in(column.node)) if s in names and s != canonical_name(quantity.symbol)]
    numbers: dict[str, str] = {}
    onward = []
    for part in parts:
        inner = _traced(part).at_row(row)
        part_u = float(np.broadcast_to(part.u, (columns.run.count,))[row])
        inner_shown = show_value(float(inner.value), part_u or None, inner.unit, rule)
        numbers[canonical_name(part.quantity.symbol)] = inner_shown.value_tex
        if part.quantity.kind != "constant":
            onward.append(Onward(f"{plain_symbol(part.quantity)} = {inner_shown.text}",
                                 f"cell:{columns.run.id}:{columns.run.row_id(row)}:{part.quantity.id}"))  # fmt: skip
    pairs: dict[str, str] = {}
    for pair in pairs_at(column.node, columns, row):
        pairs[pair.text] = _pair_tex(pair, rule)
    full = write_out(column.node, columns)
    if goes_over_settings(full):
        onward += _onward_before(column.node, columns, row, parts, rule)
    symbol = symbol_expression_tex(quantity.symbol)
    put_in = numbers_put_in(column.node, numbers) | pairs
    tables = {canonical_name(t.symbol): t for t in computation.book.plan.tables}
    found = [(looked_up, _found_tex(looked_up.found, rule)) for looked_up in lookups_at(column.node, columns, row)]
    rates = [(rate, _found_tex(rate.found, rule)) for rate in rates_at(column.node, columns, row)]
    from_elsewhere = {looked_up.text: tex for looked_up, tex in found} | {rate.text: tex for rate, tex in rates}
    with_numbers = f"{symbol} = {formula_tex(column.node, put_in | from_elsewhere)} = {shown.value_tex}"
    each = say("each_u", "Each uncertainty, {carried}:", carried=CARRIED_WORDS[way])
    # a difference or a rate stands on nothing but itself
    own = {source.symbol for source in one.slopes if not source.shared}
    of_itself = goes_over_settings(column.node) and own == {spell(column.node)}
    lines = (
        step(FORMULA, formula_tex(column.node) if quantity.symbol == quantity.formula else f"{symbol} = {formula_tex(column.node)}"),
        *(step(_say_looked_up(tables[looked_up.symbol]), f"{formula_tex(looked_up.node, put_in)} = {tex}") for looked_up, tex in found),
        *(step(_say_rate(rate, rule), f"{formula_tex(rate.node)} = {tex}") for rate, tex in rates),
        *([] if isinstance(column.node, Rate) else [step(say("numbers_of_setting", "With the numbers of this setting:"), with_numbers)]),
        step(_OF_SETTINGS) if of_itself else step(each, _propagation_tex(one, shown, way)),
    )
    behind = tuple(ref for part, at in places_behind(full, columns, row) for ref in readings_at(columns, [part], at))
    budget = budget_by_source(one, shared=False)
    budget = share_linearly(budget) if way in ("sum", "extremes") else budget
    return Working(
        title=f"{quantity.name}, setting {row + 1}",
        result=f"{plain_symbol(quantity)} = {shown.text}",
        lines=lines,
        budget=() if of_itself else present_budget(budget, write_unit(one.unit), computation.book),
        readings=behind,
        onward=tuple(onward),
    )


_OF_SETTINGS = say("u_of_settings", "Its ± is made of those of the settings that it is taken from, combined in quadrature.")


def _say_looked_up(table: ReferenceTable) -> Sentence:
    source = f" ({table.source})" if table.source else ""
    return say("looked_up", "From the table “{name}”{source}, straight between its lines:", name=table.name, source=source)


def _say_rate(rate: MadeRate, rule: RoundingRule) -> Sentence:
    def written(value: float, u: float, unit: Unit) -> str:
        return show_value(value, u or None, unit, rule).text

    points = ", ".join(f"({written(p.x, p.ux, rate.x_unit)}; {written(p.y, p.uy, rate.y_unit)})" for p in rate.points)
    if RATE_FUNCTIONS[rate.node.function] == "smoothed":
        return say(
            "rate_smoothed",
            "The slope here of the quadratic curve that lies closest to {n} settings, {points}:",
            n=len(rate.points),
            points=points,
        )
    if len(rate.points) == 2:
        return say("rate_at_end", "At the end there is a neighbour on one side only; the slope between the two, {points}:", points=points)
    return say(
        "rate_centred", "The slope here of the curve (a parabola) through this setting and its two neighbours, {points}:", points=points
    )


def _found_tex(number: Traced, rule: RoundingRule) -> str:
    u = float(combine_quadrature(number))
    value, unit = float(number.value), number.unit
    if u > 0:
        return show_value(value, u, unit, rule).value_tex
    return power_tex(write_place(value, NATURAL_FIGURES)) + tex_unit(write_unit(unit))


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
                inner = _traced(part).at_row(before)
                u = float(np.broadcast_to(part.u, (columns.run.count,))[before])
                text = show_value(float(inner.value), u or None, inner.unit, rule).text
                found.append(Onward(f"before it: {plain_symbol(part.quantity)} = {text}",
                                    f"cell:{columns.run.id}:{columns.run.row_id(before)}:{part.quantity.id}"))  # fmt: skip
    return found


def _propagation_tex(one: Traced, shown: ShownValue, way: WayKind) -> str:
    """√ of the sum of squares, or the sum, each term (sensitivity × u) with its symbol underneath; of the other ways what came of them."""
    if not shown.u_text:
        return ""
    # the ± shares the power of ten and the unit of its value
    result = f"{shown.u_text}{shown.value_tex.removeprefix(shown.value_text.replace(MINUS, '-'))}"
    if way in ("extremes", "monte_carlo"):
        return f"u = {result}"
    terms = []
    for source, slope in one.slopes.items():
        if not source.shared:
            sensitivity, u = power_tex(write_number(abs(float(slope)), 3)), power_tex(write_number(float(source.u), 2))
            terms.append(rf"\underbrace{{{sensitivity} \times {u}}}_{{{symbol_expression_tex(source.symbol)}}}")
    if way == "sum":
        return f"u = {' + '.join(terms)} = {result}"
    return rf"u = \sqrt{{{' + '.join(f'({term})^2' for term in terms)}}} = {result}"


def _traced(column: Column) -> Traced:
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "There is no value here.")
    return column.traced
