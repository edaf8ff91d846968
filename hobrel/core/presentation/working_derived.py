"""The account of a derived value at a setting: its formula, the same with numbers put in, what is looked up, and how its ± came."""

from __future__ import annotations

import numpy as np

from hobrel.core.document.lab_book import Convention
from hobrel.core.document.plan_part import ReferenceTable
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import RATE_FUNCTIONS, Node, Rate, goes_over_settings, spell, symbols_in
from hobrel.core.formulas.typeset import formula_tex, symbol_expression_tex
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.behind import MadeRate, NeighbourPair, lookups_at, pairs_at, places_behind, rates_at, write_out
from hobrel.core.pipeline.budget import budget_by_source, share_linearly
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.columns import show_cell, traced_of
from hobrel.core.presentation.findings import present_budget
from hobrel.core.presentation.results import ShownValue
from hobrel.core.presentation.rows import call_row
from hobrel.core.presentation.showing import (
    CARRIED_WORDS,
    NATURAL_FIGURES,
    numbers_put_in,
    power_tex,
    show_value,
    tex_unit,
)
from hobrel.core.presentation.working_parts import FORMULA, NUMBERS_PUT_IN, Onward, Working, readings_at, step
from hobrel.core.readings.parsing import spell_number
from hobrel.core.rounding import RoundingRule, write_number, write_place
from hobrel.core.sentences import Sentence, say
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units.calculus import Unit, write_unit


def explain_derived(computation: Computation, columns: RunColumns, column: Column, row: int) -> Working:
    """Explain a derived value at a setting.

    Raises
    ------
    CoreError
        ``too_few_points`` where it has none; or what is wrong with its formula.
    """
    quantity, traced, convention = column.quantity, traced_of(column), computation.book.convention
    rule = convention.rounding
    one = traced.at_row(row)
    if not np.isfinite(one.value):
        raise CoreError("too_few_points", "There is no value here yet.")
    assert column.node is not None
    way = column.carried.way if column.carried else "quadrature"
    shown = show_cell(column, columns.run, row, convention)
    names = {canonical_name(c.quantity.symbol): c for c in columns.columns.values()}
    parts = [names[s] for s in sorted(symbols_in(column.node)) if s in names and s != canonical_name(quantity.symbol)]
    numbers: dict[str, str] = {}
    onward = []
    for part in parts:
        numbers[canonical_name(part.quantity.symbol)] = _put_in(part, columns, row, convention)
        if part.quantity.kind != "constant":
            text = show_cell(part, columns.run, row, convention).text
            onward.append(Onward(f"{plain_symbol(part.quantity)} = {text}",
                                 f"cell:{columns.run.id}:{columns.run.row_id(row)}:{part.quantity.id}"))  # fmt: skip
    pairs: dict[str, str] = {}
    for pair in pairs_at(column.node, columns, row):
        alone = names.get(pair.of)
        both = [_put_in(alone, columns, at, convention) for at in (pair.row, pair.before)] if alone else _show_pair(pair, rule)
        pairs[pair.text] = _pair_tex(pair, *both)
    full = write_out(column.node, columns)
    if goes_over_settings(full):
        onward += _onward_before(column.node, columns, row, parts, convention)
    symbol = symbol_expression_tex(quantity.symbol)
    behind = {canonical_name(p.quantity.symbol): traced_of(p).at_row(row) for p in parts}
    put_in = numbers_put_in(column.node, numbers, behind, rule) | pairs
    tables = {canonical_name(t.symbol): t for t in computation.book.plan.tables}
    found = [(looked_up, _found_tex(looked_up.found, rule)) for looked_up in lookups_at(column.node, columns, row)]
    rates = [(rate, _found_tex(rate.found, rule)) for rate in rates_at(column.node, columns, row)]
    from_elsewhere = {looked_up.text: tex for looked_up, tex in found} | {rate.text: tex for rate, tex in rates}
    with_numbers = f"{symbol} = {formula_tex(column.node, put_in | from_elsewhere)} = {shown.value_tex}"
    each = say("each_u", "Each uncertainty, {carried}:", carried=CARRIED_WORDS[way])
    # the constants that all settings share are no part of the bars, but all that there is of what is the same at every setting
    everywhere = column.is_same_everywhere
    # a difference or a rate stands on nothing but itself
    own = {source.symbol for source in one.slopes if not source.shared}
    of_itself = goes_over_settings(column.node) and own == {spell(column.node)}
    lines = (
        step(FORMULA, formula_tex(column.node) if quantity.symbol == quantity.formula else f"{symbol} = {formula_tex(column.node)}"),
        *(step(_say_looked_up(tables[looked_up.symbol]), f"{formula_tex(looked_up.node, put_in)} = {tex}") for looked_up, tex in found),
        *(step(_say_rate(rate, rule), f"{formula_tex(rate.node)} = {tex}") for rate, tex in rates),
        *([] if isinstance(column.node, Rate) else [step(NUMBERS_PUT_IN if everywhere else _OF_THIS_SETTING, with_numbers)]),
        step(_OF_SETTINGS) if of_itself else step(each, _propagation_tex(one, shown, way, shared=everywhere)),
    )
    readings = tuple(ref for part, at in places_behind(full, columns, row) for ref in readings_at(columns, [part], at))
    budget = budget_by_source(one, None if everywhere else False)
    budget = share_linearly(budget) if way in ("sum", "extremes") else budget
    return Working(
        title=quantity.name if everywhere else f"{quantity.name} at {call_row(computation.book, columns.run, row)}",
        result=f"{plain_symbol(quantity)} = {shown.text}",
        lines=lines,
        budget=() if of_itself else present_budget(budget, write_unit(one.unit), computation.book),
        readings=readings,
        onward=tuple(onward),
    )


_OF_THIS_SETTING = say("numbers_of_setting", "With the numbers of this setting:")
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


def _put_in(part: Column, columns: RunColumns, row: int, convention: Convention) -> str:
    """The number of a quantity at a setting, as it stands in the table; a single reading with the digits that were typed."""
    counted = [s for s in part.readings[row] if s.parsed is not None and s.set_aside is None] if part.readings else []
    typed = spell_number(counted[0].text) if len(counted) == 1 else None
    if typed is not None:
        return power_tex(typed) + tex_unit(write_unit(traced_of(part).unit))
    return show_cell(part, columns.run, row, convention).value_tex


def _show_pair(pair: NeighbourPair, rule: RoundingRule) -> list[str]:
    """The two values, where they are of no quantity of their own."""
    return [show_value(v, u or None, pair.unit, rule).value_tex for v, u in ((pair.value, pair.u), (pair.value_before, pair.u_before))]


def _pair_tex(pair: NeighbourPair, now: str, before: str) -> str:
    if pair.function == "mid":
        return rf"\tfrac12({before} + {now})"
    return rf"{now} - {rf'({before})' if before.startswith('-') else before}"


def _onward_before(node: Node, columns: RunColumns, row: int, parts: list[Column], convention: Convention) -> list[Onward]:
    """The same quantities at the settings before that a formula reaches back to."""
    found = []
    for before in sorted({pair.before for pair in pairs_at(node, columns, row)}):
        for part in parts:
            if part.quantity.kind != "constant":
                text = show_cell(part, columns.run, before, convention).text
                found.append(Onward(f"before it: {plain_symbol(part.quantity)} = {text}",
                                    f"cell:{columns.run.id}:{columns.run.row_id(before)}:{part.quantity.id}"))  # fmt: skip
    return found


def _propagation_tex(one: Traced, shown: ShownValue, way: WayKind, *, shared: bool) -> str:
    """√ of the sum of squares, or the sum, each term (sensitivity × u) with its symbol underneath; of the other ways what came of them.

    With `shared` also of the constants that all settings share.
    """
    if not shown.u_text:
        return ""
    # the ± shares the power of ten and the unit of its value
    result = power_tex(shown.u_text) + shown.value_tex.removeprefix(power_tex(shown.value_text))
    if way in ("extremes", "monte_carlo"):
        return f"u = {result}"
    terms = []
    for source, slope in one.slopes.items():
        if (shared or not source.shared) and source.u > 0:
            sensitivity, u = power_tex(write_number(abs(float(slope)), 3)), power_tex(write_number(float(source.u), 2))
            terms.append(rf"\underbrace{{{sensitivity} \times {u}}}_{{{symbol_expression_tex(source.symbol)}}}")
    if way == "sum" or len(terms) == 1:
        return f"u = {' + '.join(terms)} = {result}"
    return rf"u = \sqrt{{{' + '.join(f'({term})^2' for term in terms)}}} = {result}"
