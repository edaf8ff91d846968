"""The ± of what formulas give, in the way that the class has chosen. See decision 27.

Quadrature is what traced numbers do by themselves; here are the other three, for the rows of a column and for a finding.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate, take_constant
from hobrel.core.formulas.tree import Node, goes_over_settings, symbols_in, tables_in
from hobrel.core.formulas.wanted import in_wanted_unit
from hobrel.core.formulas.ways import SEED, WayKind
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, combine_sum, covary_all
from hobrel.core.units.constants import constant_symbols

MOST_MOVING = 8
"""Quantities whose corners are visited; of more the sum is taken."""
DRAWS_IN_ALL, FEWEST_DRAWS, MOST_DRAWS = 120_000, 400, 10_000
"""Shared out over the rows of a column."""
MOST_ROWS = 5000
"""Rows of which one draws."""
DRAWS_OF_FINDING = 100_000


@dataclass(frozen=True)
class Step:
    """A formula on the way to a result: the symbol by which later ones use it, and the unit in which it is wanted."""

    symbol: str
    node: Node
    unit: str
    name: str


@dataclass(frozen=True, eq=False)
class Carried:
    """The ± of a column, without and with the constants that all rows share, and the way that has made them: another than was asked for
    where that one cannot be gone.
    """

    way: WayKind
    u: Floats
    u_all: Floats


def carry_rows(steps: Sequence[Step], inputs: Mapping[str, tuple[Traced, Floats]], result: Traced, way: WayKind) -> Carried:
    """Carry uncertainties through the formulas of a column, row by row.

    Parameters
    ----------
    steps : sequence of Step
        In the order of their dependence, the column's own last.
    inputs : mapping of symbol to (number, ±)
        What the steps are made of in the end: columns of what was measured, and constants.
    result : Traced
        The column.
    way : WayKind

    Returns
    -------
    Carried
        Infinite where a row's ± cannot be told: within its own ±, an input reaches where the formula has no value.
    """
    nature = {symbol: (number, combine_quadrature(number)) for symbol, number in _nature_in(steps, inputs).items()}
    moving = {
        s: (number, u) for s, (number, u) in {**inputs, **nature}.items() if _is_uncertain(u) or _is_uncertain(combine_quadrature(number))
    }
    from_row_to_row = any(goes_over_settings(step.node) for step in steps)
    if way == "quadrature" or (way == "monte_carlo" and (from_row_to_row or result.value.size > MOST_ROWS)):
        return Carried("quadrature", combine_quadrature(result, shared=False), combine_quadrature(result))
    if way == "sum" or (way == "extremes" and (from_row_to_row or len(moving) > MOST_MOVING)):
        return Carried("sum", combine_sum(result, shared=False), combine_sum(result))
    spread = _spread_of_corners if way == "extremes" else _spread_of_draws
    known = {symbol: number for symbol, (number, _) in {**inputs, **nature}.items()}
    moves = list(_moves_of(moving))
    own = [move for move, shared in moves if not shared]
    u = spread(steps, known, own, result)
    return Carried(way, u, u if len(own) == len(moves) else spread(steps, known, [move for move, _ in moves], result))


Move = Mapping[str, Floats]
"""By how much numbers, by their symbols, are off together where one thing is off by its ±."""


def _is_uncertain(u: Floats) -> bool:
    return bool(np.any(np.nan_to_num(u) > 0))


def _moves_of(moving: Mapping[str, tuple[Traced, Floats]]) -> Iterator[tuple[Move, bool]]:
    """What moves by itself, and whether all rows share it: each number's own ±, and each constant with all numbers that rest on it."""
    seen: set[Source] = set()
    for symbol, (number, u) in moving.items():
        shared = [source for source in number.slopes if source.shared]
        if len(shared) < len(number.slopes) and _is_uncertain(u):
            yield {symbol: u}, False
        for source in shared:
            if source not in seen and source.u > 0:
                seen.add(source)
                yield {s: n.slopes[source] * source.u for s, (n, _) in moving.items() if source in n.slopes}, True


def _nature_in(steps: Sequence[Step], inputs: Iterable[str]) -> dict[str, Traced]:
    """The constants of nature and the tables in formulas that are not exact."""
    names = {name for step in steps for name in symbols_in(step.node)} - {step.symbol for step in steps} - set(inputs)
    found = {name: take_constant(name) for name in sorted(names & set(constant_symbols()))}
    tables = {table.off_by: off for step in steps for table in tables_in(step.node).values() if (off := table.take_off()) is not None}
    return {name: number for name, number in found.items() if number.slopes} | tables


def _spread_of_corners(steps: Sequence[Step], known: Mapping[str, Traced], moves: Sequence[Move], result: Traced) -> Floats:
    """Half the difference between the largest and the smallest value at the corners x ± u (common practice)."""
    shape = result.value.shape
    ends = [np.broadcast_to(_follow(steps, corner), shape) for corner in _corners(known, moves)]
    return _as_known(np.ptp(np.array(ends), axis=0) / 2, result.value)


def _corners(known: Mapping[str, Traced], moves: Sequence[Move]) -> Iterator[dict[str, Traced]]:
    for signs in itertools.product((-1.0, 1.0), repeat=len(moves)):
        yield _all_moved(known, moves, signs)


def _all_moved(known: Mapping[str, Traced], moves: Sequence[Move], by: Sequence[float | Floats]) -> dict[str, Traced]:
    """The numbers where each thing that moves is so many of its ± off."""
    done = dict(known)
    for move, factor in zip(moves, by, strict=True):
        for symbol, step in move.items():
            done[symbol] = _moved(done[symbol], factor * step)
    return done


def _moved(number: Traced, by: Floats) -> Traced:
    return Traced(number.value + by, {}, number.unit, number.temperatures)


def _spread_of_draws(steps: Sequence[Step], known: Mapping[str, Traced], moves: Sequence[Move], result: Traced) -> Floats:
    """Standard deviation of draws (JCGM 101:2008), every input normal."""
    rows = result.value.size
    draws = min(max(DRAWS_IN_ALL // max(rows, 1), FEWEST_DRAWS), MOST_DRAWS)
    dice = np.random.default_rng(SEED)

    drawn = _all_moved(known, moves, [dice.standard_normal((draws, rows)) for _ in moves])

    def laid_out(number: Traced) -> Traced:
        values = number.value
        flat = np.broadcast_to(values, (draws, rows)).ravel() if values.ndim else values
        return Traced(flat, {}, number.unit, number.temperatures)

    laid = {symbol: laid_out(number) for symbol, number in drawn.items()}
    found = np.broadcast_to(_follow(steps, laid), (draws * rows,)).reshape(draws, rows)
    return _as_known(np.reshape(found.std(axis=0, ddof=1), result.value.shape), result.value)


def _follow(steps: Sequence[Step], values: Mapping[str, Traced]) -> Floats:
    """The last formula's values, NaN where there is none.

    Raises
    ------
    CoreError
        As `evaluate`, but for ``outside_domain``.
    """
    done = dict(values)
    for step in steps:
        try:
            done[step.symbol] = in_wanted_unit(evaluate(step.node, done, None, {}), step.unit, step.name)
        except CoreError as trouble:
            if trouble.code != "outside_domain":
                raise
            return np.asarray(np.nan)
    return done[steps[-1].symbol].value


def _as_known(u: Floats, value: Floats) -> Floats:
    """Infinite where a value has a ± that cannot be told, NaN where there is no value."""
    return np.where(np.isfinite(value), np.where(np.isfinite(u), u, np.inf), np.nan)


def carry_finding(step: Step, inputs: Mapping[str, Traced], result: Traced, way: WayKind, parts: Sequence[float]) -> float:
    """Carry uncertainties through the formula of a finding, from the numbers that it names and the constants behind them.

    Parameters
    ----------
    step : Step
    inputs : mapping of symbol to Traced
        Single numbers; those of one line hang together, which only draws and quadrature can take into account.
    result : Traced
    way : WayKind
    parts : sequence of float
        What each part brings to the result by itself.

    Returns
    -------
    float
        The ± in the unit of the result; infinite where it cannot be told.
    """
    if way == "quadrature":
        return float(combine_quadrature(result))
    whole = {**inputs, **_nature_in([step], inputs)}
    shared = list(dict.fromkeys(source for n in whole.values() for source in n.slopes if source.shared and source.u > 0))
    own = {s: u for s, n in whole.items() if (u := float(combine_quadrature(n, shared=False))) > 0}
    if way == "sum" or (way == "extremes" and len(own) + len(shared) > MOST_MOVING):
        return float(sum(parts))
    if way == "extremes":
        signs = np.array(list(itertools.product((-1.0, 1.0), repeat=len(own) + len(shared)))).T
        off = {s: u * signs[i] for i, (s, u) in enumerate(own.items())}
        common = dict(zip(shared, signs[len(own) :], strict=True))
    else:
        dice = np.random.default_rng(SEED)
        covariance = covary_all([whole[s] for s in own], shared=False)
        off = dict(zip(own, _root(covariance) @ dice.standard_normal((len(own), DRAWS_OF_FINDING)), strict=True))
        common = {source: dice.standard_normal(DRAWS_OF_FINDING) for source in shared}
    moved = {s: _moved(n, off.get(s, 0.0) + _by_shared(n, common)) for s, n in whole.items()}
    found = _follow([step], moved)
    u = float(np.ptp(found)) / 2 if way == "extremes" else float(np.std(found, ddof=1)) if found.ndim else 0.0
    return u if math.isfinite(u) else math.inf


def _root(covariance: Floats) -> Floats:
    """L with L Lᵀ = covariance, which may be singular."""
    sizes, turned = np.linalg.eigh(covariance)
    return np.asarray(turned * np.sqrt(np.maximum(sizes, 0.0)))


def _by_shared(number: Traced, common: Mapping[Source, Floats]) -> Floats:
    """What shared constants, so many of their ± off, move a number by."""
    moves = (float(slope) * float(source.u) * common[source] for source, slope in number.slopes.items() if source in common)
    return np.asarray(sum(moves, np.asarray(0.0)))


def stretch_to(number: Traced, u: float) -> Traced:
    """The same number with another combined ±: what it rests on counts for so much more or less.

    Where that is nothing in first order (x² at 0 ± 1), it stands on a source of its own.
    """
    now = float(combine_quadrature(number))
    if u == now:
        return number
    if now > 0 and math.isfinite(now) and math.isfinite(u):
        return Traced(number.value, {s: slope * (u / now) for s, slope in number.slopes.items()}, number.unit, number.temperatures)
    own = Source(f"carried:{','.join(sorted(s.key for s in number.slopes))}", "", np.asarray(u), number.unit)
    return Traced(number.value, {own: np.asarray(1.0)}, number.unit, number.temperatures)
