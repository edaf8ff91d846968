"""From one setting to the next: differences between neighbours, the middle between them, and rates, for formulas over whole tables."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction
from typing import Literal

import numpy as np

from hobrel.core.statistics.rates import RateKind, RateWeights, order_points, weigh_rates
from hobrel.core.uncertainty.traced import Floats, Source, Temperatures, Traced, combine_quadrature, contributions
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit

NeighbourKind = Literal["Delta", "mid"]
Order = np.ndarray[tuple[int], np.dtype[np.intp]]


def order_settings(changed: Floats, counts: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> Order:
    """Rows in order of the changed quantity; those without a value of it, or that do not count, are left out."""
    rows = np.flatnonzero(np.isfinite(changed) & counts)
    return rows[np.argsort(changed[rows], kind="stable")]


def pair_neighbours(values: Traced, kind: NeighbourKind, order: Order, symbol: str) -> Traced:
    """The difference from the neighbour before (``Delta``), or the middle between the two (``mid``).

    Neighbours are the same for every quantity of a table, so that Δy/Δx and mid(x) belong together: where one of two neighbours has no
    value, there is none. A setting that is to be passed over is set aside. The first has none before it.

    Parameters
    ----------
    values : Traced, shape (settings,)
        Temperatures as absolute ones.
    order : ndarray of int
        Rows in the order in which they are neighbours.
    symbol : str
        Of the source that the result stands on: a row that has two readings behind it is not one reading any more, so the two
        are combined in quadrature as independent (common practice) and carried on as one. Shared constants keep their own derivative.

    Returns
    -------
    Traced, shape (settings,)
    """
    after, before = order[1:], order[:-1]
    half = 0.5 if kind == "mid" else 1.0
    sign = 1.0 if kind == "mid" else -1.0

    def combined(column: Floats) -> Floats:
        whole = np.broadcast_to(column, values.value.shape)
        out = np.full(values.value.shape, np.nan)
        out[after] = half * (whole[after] + sign * whole[before])
        return out

    slopes: dict[Source, Floats] = {s: combined(slope) for s, slope in values.slopes.items() if s.shared}

    def of_both(number: Traced) -> Floats:
        single = combine_quadrature(number, shared=False)
        u = np.full(values.value.shape, np.nan)
        u[after] = half * np.hypot(single[after], single[before])
        return u

    own = _stand_on_one(symbol, (values,), of_both(values), of_both(values.judged()), values.unit)
    held = values.temperatures if kind == "mid" else Temperatures()
    return Traced(combined(values.value), {**slopes, own: np.ones(values.value.shape)}, values.unit, held)


def rate_over_settings(of: Traced, by: Traced, kind: RateKind, order: Order, symbol: str) -> Traced:
    """How fast one quantity changes with another at every setting where both have a value.

    Parameters
    ----------
    of, by : Traced, shape (settings,)
        Temperatures as absolute ones.
    kind : {"centred", "smoothed"}
        As `find_rates` has it.
    order : ndarray of int
        Rows that count.
    symbol : str
        Of the source that the result stands on, as of `pair_neighbours`: what settings have in common with their neighbours is not carried
        on (common practice).

    Returns
    -------
    Traced, shape (settings,)
        In the unit of `of` per unit of `by`.

    Raises
    ------
    CoreError
        As `weigh_settings`.
    """
    settings = of.value.shape
    rows, made = weigh_settings(of, by, kind, order)

    def laid_out(values: Floats) -> Floats:
        out = np.full(settings, np.nan)
        out[rows] = values
        return out

    def both(in_of: Mapping[Source, Floats], in_by: Mapping[Source, Floats]) -> Iterator[tuple[Source, Floats, Floats]]:
        nothing = np.zeros(settings)
        for source in dict.fromkeys([*in_of, *in_by]):
            of_source, by_source = (np.broadcast_to(part.get(source, nothing), settings)[rows] for part in (in_of, in_by))
            yield source, of_source, by_source

    def combined(of: Traced, by: Traced) -> Floats:
        parts = both(contributions(of, shared=False), contributions(by, shared=False))
        return laid_out(np.sqrt(sum((made.variance(in_of, in_by) for _, in_of, in_by in parts), np.zeros(rows.size))))

    unit, factor = multiply_units(of.unit, raise_unit(by.unit, Fraction(-1)))
    own = _stand_on_one(symbol, (of, by), combined(of, by), combined(of.judged(), by.judged()), unit)
    slopes = {source: laid_out(made.shift(in_of, in_by)) for source, in_of, in_by in both(of.slopes, by.slopes) if source.shared}
    return Traced(laid_out(made.weigh(of.value[rows])), {**slopes, own: np.ones(settings)}, unit, Temperatures()).scaled(factor, unit)


def weigh_settings(of: Traced, by: Traced, kind: RateKind, order: Order) -> tuple[Order, RateWeights]:
    """The rows that have a value of both, in order of `by`, and how the rates at them are made of these.

    Raises
    ------
    CoreError
        As `order_points` and `weigh_rates`.
    """
    rows = order[np.isfinite(of.value[order]) & np.isfinite(by.value[order])]
    x, y, turn = order_points(by.value[rows], of.value[rows])
    return rows[turn], weigh_rates(x, y, kind)


def _stand_on_one(symbol: str, numbers: tuple[Traced, ...], u: Floats, judged: Floats, unit: Unit) -> Source:
    """What a value that several settings have made stands on, as one act of measuring."""
    behind = "+".join(source.key for number in numbers for source in number.slopes if not source.shared)
    dof = min((float(np.min(s.dof)) for number in numbers for s in number.judged().slopes if not s.shared), default=np.inf)
    return Source(f"{symbol} of {behind}", symbol, u, unit, dof=dof, standard=judged)
