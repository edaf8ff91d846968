"""What stands behind a derived value: readings of its own setting, and of the one before where its formula goes from one to the next."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.neighbours import weigh_settings
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.formulas.tree import (
    NEIGHBOUR_FUNCTIONS,
    RATE_FUNCTIONS,
    Call,
    Lookup,
    Node,
    Rate,
    Symbol,
    children_of,
    spell,
    substitute,
    symbols_in,
    walk,
)
from hobrel.core.pipeline.columns import Column, RunColumns
from hobrel.core.uncertainty.traced import Traced, combine_quadrature
from hobrel.core.units.calculus import Unit


@dataclass(frozen=True)
class NeighbourPair:
    """The two values that Δ( ) or mid( ) works on at a setting, with their uncertainties (constants left out), in `unit`; `text` is the
    call as `spell` writes it, `of` what it works on.
    """

    text: str
    of: str
    function: str
    row: int
    before: int
    value: float
    u: float
    value_before: float
    u_before: float
    unit: Unit


def write_out(node: Node, columns: RunColumns) -> Node:
    """The formula with every derived quantity in it written out, down to what was measured."""
    names = _by_name(columns)
    while True:
        inner = {s: c.node for s in symbols_in(node) if (c := names.get(s)) is not None and c.node is not None}
        if not inner:
            return node
        node = substitute(node, inner)


def pairs_at(node: Node, columns: RunColumns, row: int) -> tuple[NeighbourPair, ...]:
    """The pairs of values behind every Δ( ) and mid( ) of a formula at a setting."""
    calls = [n for n in walk(node) if isinstance(n, Call) and n.function in NEIGHBOUR_FUNCTIONS]
    return tuple(pair for call in calls if (pair := _pair(call, columns, row)) is not None)


def places_behind(node: Node, columns: RunColumns, row: int) -> tuple[tuple[Column, int], ...]:
    """Columns with readings, and the rows of them, that a value rests on; `node` is written out."""
    found: dict[tuple[str, int], None] = {}
    names = _by_name(columns)
    waiting = [(node, row)]
    while waiting:
        current, at = waiting.pop(0)
        match current:
            case Symbol(name):
                found[name, at] = None
            case Call(function, of) if function in NEIGHBOUR_FUNCTIONS:
                pair = _pair(current, columns, at)
                waiting += [(of, pair.before), (of, at)] if pair else [(of, at)]
            case Rate(_, of, by):
                made = _rate(current, columns, at)
                rows = [point.row for point in made.points] if made else [at]
                waiting += [(part, r) for r in rows for part in (by, of)]
            case _:
                waiting += [(child, at) for child in children_of(current)]
    places = sorted(found, key=lambda place: place[1])
    return tuple((names[name], at) for name, at in places if name in names and names[name].quantity.kind in ("changed", "measured"))


def _pair(call: Call, columns: RunColumns, row: int) -> NeighbourPair | None:
    values = {name: c.traced for name, c in _by_name(columns).items() if c.traced is not None}
    inner = evaluate(call.of, values, columns.order)
    u = combine_quadrature(inner, shared=False)
    place = np.flatnonzero(columns.order == row)
    if place.size == 0 or place[0] == 0:
        return None
    before = int(columns.order[place[0] - 1])
    return NeighbourPair(
        text=spell(call),
        of=spell(call.of),
        function=call.function,
        row=row,
        before=before,
        value=float(inner.value[row]),
        u=float(u[row]),
        value_before=float(inner.value[before]),
        u_before=float(u[before]),
        unit=inner.unit,
    )


@dataclass(frozen=True)
class RatePoint:
    """A point that a rate is made of, with the uncertainties of its two values (constants left out)."""

    row: int
    x: float
    y: float
    ux: float
    uy: float


@dataclass(frozen=True)
class MadeRate:
    """A rate at a setting and the points that it is made of, in order of x; `text` is its node as `spell` writes it."""

    text: str
    node: Rate
    found: Traced
    points: tuple[RatePoint, ...]
    x_unit: Unit
    y_unit: Unit


def rates_at(node: Node, columns: RunColumns, row: int) -> tuple[MadeRate, ...]:
    """The rates in a formula at a setting, each once."""
    made = {spell(n): _rate(n, columns, row) for n in walk(node) if isinstance(n, Rate)}
    return tuple(rate for rate in made.values() if rate is not None)


def _rate(node: Rate, columns: RunColumns, row: int) -> MadeRate | None:
    values = {name: c.traced for name, c in _by_name(columns).items() if c.traced is not None}
    of, by = evaluate(node.of, values, columns.order), evaluate(node.by, values, columns.order)
    rows, made = weigh_settings(of, by, RATE_FUNCTIONS[node.function], columns.order)
    place = np.flatnonzero(rows == row)
    if place.size == 0:
        return None
    ux, uy = (combine_quadrature(number, shared=False) for number in (by, of))
    used = rows[made.points[place[0]][made.weights[place[0]] != 0]]
    return MadeRate(
        text=spell(node),
        node=node,
        found=evaluate(node, values, columns.order).at_row(row),
        points=tuple(RatePoint(int(r), float(by.value[r]), float(of.value[r]), float(ux[r]), float(uy[r])) for r in used),
        x_unit=by.unit,
        y_unit=of.unit,
    )


@dataclass(frozen=True)
class LookedUp:
    """What a table gives at a setting; `text` is the call `node` as `spell` writes it."""

    text: str
    symbol: str
    node: Node
    found: Traced


def lookups_at(node: Node, columns: RunColumns, row: int) -> tuple[LookedUp, ...]:
    """What a formula takes from tables at a setting, each once."""
    calls = {spell(n): n for n in walk(node) if isinstance(n, Lookup)}
    values = {name: c.traced for name, c in _by_name(columns).items() if c.traced is not None}
    found = {text: evaluate(call, values, columns.order, {}) for text, call in calls.items()}
    return tuple(
        LookedUp(text, call.table.symbol, call, found[text].at_row(row) if found[text].value.ndim else found[text])
        for text, call in calls.items()
    )


def _by_name(columns: RunColumns) -> dict[str, Column]:
    return {canonical_name(c.quantity.symbol): c for c in columns.columns.values()}
