"""How a number came about: the formula, the same with numbers put in, what made its uncertainty, and the readings behind it."""

from __future__ import annotations

import re

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import symbol_expression_tex, symbol_tex
from hobrel.core.pipeline.averaging import uncertainty_at
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.columns import show_cell, traced_of
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import (
    power_tex,
    say_spread,
    show_number,
    show_value,
    tex_unit,
)
from hobrel.core.presentation.working_derived import explain_derived
from hobrel.core.presentation.working_parts import Onward, Working, readings_at, step
from hobrel.core.presentation.working_results import explain_finding, explain_fit
from hobrel.core.readings.instruments import common_share
from hobrel.core.rounding import with_unit, write_number
from hobrel.core.sentences import Sentence, say
from hobrel.core.statistics.spread import MeanWithUncertainty
from hobrel.core.uncertainty.traced import combine_quadrature
from hobrel.core.units.calculus import write_unit


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
    return explain_derived(computation, columns, column, row)


def _explain_mean(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    quantity, mean = column.quantity, column.means[row]
    if mean is None:
        raise CoreError("too_few_points", "There is no reading here to average.")
    convention, unit = computation.book.convention, write_unit(traced_of(column).unit)
    shown = show_cell(column, columns.run, row, convention)
    symbol = symbol_tex(quantity.symbol)
    counted = [s for s in column.readings[row] if s.parsed is not None and s.set_aside is None]
    kept = [re.split(r"±|\+/?-", s.text)[0].strip(" (") for s in counted]
    in_order = [text for _, text in sorted(zip((float(s.parsed.value) for s in counted if s.parsed), kept, strict=True))]
    n = mean.summary.n
    if n > 1:
        base, *index = symbol.partition("_")
        sum_tex = rf"\bar{{{base}}}{''.join(index)} = \frac{{{' + '.join(kept)}}}{{{n}}} = {shown.value_tex}"
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
        u_own = with_unit(write_number(mean.instrument_u, 2), unit)
        lines.append(step(say("u_as_written", "One reading is uncertain by {u}, as it was written with it.", u=u_own)))
    elif quantity.instrument is not None and quantity.instrument.kind == "counted":
        lines.append(step(say("u_of_counting", "It was counted, and a count has no reading uncertainty.")))
    elif quantity.instrument is not None and quantity.instrument.kind == "counted_at_random":
        root = write_number(uncertainty_at(quantity, convention, mean.summary.mean), 2)
        lines.append(step(say("u_of_random_count", "What comes at random is uncertain by the root of its count: {u}.", u=root)))
    elif quantity.instrument is not None:
        u = with_unit(write_number(uncertainty_at(quantity, convention, mean.summary.mean), 2), unit)
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
    return Working(
        title=f"{quantity.name} at {call_row(computation.book, columns.run, row)}",
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
    one, fit = traced_of(column).at_row(row), column.quantity.tangent_of
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
    return Working(
        title=f"{column.quantity.name} at {call_row(computation.book, columns.run, row)}",
        result=f"{plain_symbol(column.quantity)} = {shown.text}",
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
    one, wanted, setting = traced_of(column).at_row(row), column.quantity.result_of, columns.run.settings[row]
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
    one = traced_of(column).at_row(row)
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
