"""Where a fitted curve has a given y: a curve may have it nowhere, once, or several times."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from scipy.optimize import brentq

from hobrel.core.errors import CoreError
from hobrel.core.rounding import write_number, write_place
from hobrel.core.uncertainty.traced import Floats

_STEPS = 400
_MOST_NAMED = 6


def find_places(curve: Callable[[Floats], Floats], low: float, high: float, y: float) -> tuple[float, ...]:
    """Every x from `low` to `high` at which a curve is y, in order. What turns twice within a 400th of that is not seen."""
    xs = np.linspace(low, high, _STEPS + 1)
    above = np.asarray(curve(xs)) - y
    crossed = np.isfinite(above[:-1]) & np.isfinite(above[1:]) & (above[:-1] * above[1:] < 0)

    def off(x: float) -> float:
        return float(np.asarray(curve(np.array([x])))[0]) - y

    found = [float(brentq(off, xs[i], xs[i + 1], xtol=1e-15 * (high - low))) for i in np.flatnonzero(crossed)]
    found += [float(x) for x in xs[above == 0]]
    return tuple(sorted(found))


def name_places(places: Sequence[float]) -> str:
    """Places in words, for people to choose one: the first few, and how many more there are."""
    named = [write_number(place, 3) for place in places[:_MOST_NAMED]]
    more = len(places) - len(named)
    return " and ".join([*named, f"{more} more places"] if more else named)


def find_place(
    curve: Callable[[Floats], Floats], slope: Callable[[float], Floats], low: float, high: float, y: float
) -> tuple[float, float]:
    """The one x at which a curve is y, and its slope there.

    Raises
    ------
    CoreError
        ``outside_domain`` where it is that nowhere between the points; ``bad_job`` where it is that at several places, which are named, or
        turns there.
    """
    places = find_places(curve, low, high, y)
    if not places:
        raise CoreError(
            "outside_domain", "Between its points, from {low} to {high}, the curve is nowhere at {y}.",
            low=write_place(low), high=write_place(high), y=write_place(y),
        )  # fmt: skip
    if len(places) > 1:
        raise CoreError(
            "bad_job", "The curve is at {y} more than once: at {places}. Read y at the one that you mean.",
            y=write_place(y), places=name_places(places),
        )  # fmt: skip
    rises = float(slope(places[0])[0])
    if rises == 0:
        raise CoreError("bad_job", "The curve turns at {y}, so that nothing tells where it is that.", y=write_place(y))
    return places[0], rises
