"""From one setting to the next: differences between neighbours and the middle between them, for formulas over whole tables."""

from __future__ import annotations

from typing import Literal

import numpy as np

from hobrel.core.uncertainty.traced import Floats, Source, Temperatures, Traced, combine_quadrature

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

    judged = values.judged()
    behind = "+".join(source.key for source in values.slopes if not source.shared)
    dof = min((float(np.min(s.dof)) for s in judged.slopes if not s.shared), default=np.inf)
    own = Source(f"{symbol} of {behind}", symbol, of_both(values), values.unit, dof=dof, standard=of_both(judged))
    held = values.temperatures if kind == "mid" else Temperatures()
    return Traced(combined(values.value), {**slopes, own: np.ones(values.value.shape)}, values.unit, held)
