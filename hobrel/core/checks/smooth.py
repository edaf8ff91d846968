"""Which row of a table makes it rough: explanations of the whole table compared with one another.

A table of y against x is smooth where its plan's plot is straight, or where one of five curves of three parameters passes through it. For
each of these the table is also looked at without one row, and with two rows exchanged; an explanation is taken where it leaves so much
less unexplained that chance does not do that (F), and what it leaves is no more than the readings' own scatter leads to expect.
All limits are common practice, chosen so that at most three clean tables of a hundred are asked about (`tests/core/calibration`).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from scipy.special import fdtrc

from hobrel.core.uncertainty.traced import Floats

CHANCE = 0.006
"""How often a clean column may be asked about for one row."""
CHANCE_OF_TWO = 0.004
"""For two rows exchanged."""
MOST_KNOWN = 4.0
"""Degrees of freedom that the scatter within settings counts for at most: settings scatter among one another a little more."""
STILL_ROUGH = 6.0
"""χ²ν that an explanation may leave, where repeats say what to expect: more is a curve that none of ours follows."""
STRAIGHT = 4.0
"""χ²ν up to which the rest of a plan's plot is taken for straight."""
CHANCE_STRAIGHT = 0.15
"""Where no repeats say it: how often chance leaves so much more in a straight plot than in the best curve."""
LEAST_FAR = 7.0
"""Standard uncertainties of its own that a row must be off."""
CALM = 2.0
"""Variance about a plot, in units of the rows' own, up to which no row is looked for."""
MOST_EXCHANGED = 12
"""Rows that are tried in one another's places."""
PLAUSIBLE = 3.0
"""How many times the variance of the smoothest curve another may leave to have a say too."""
_FORMS: tuple[tuple[str, str], ...] = (("x", "y"), ("ln", "y"), ("x", "ln"), ("ln", "ln"), ("x", "1/y"))


@dataclass(frozen=True)
class Plane:
    """A way to look at the rows in which they should lie smoothly.

    Attributes
    ----------
    basis : ndarray, shape (rows, parameters)
    z, u : ndarray, shape (rows,)
        What should be a sum of the basis, and its standard uncertainty.
    back : callable or None
        From z to y; None where that is not known.
    is_line : bool
        Whether it is a plot of the lab book, which a plan may have made straight, or only a curve that passes through much.
    moves_with_y : bool
        Whether z of a row is a function of y of that row alone, so that it goes with it where rows are exchanged.
    """

    basis: Floats
    z: Floats
    u: Floats
    back: Callable[[float], float] | None
    is_line: bool = False
    moves_with_y: bool = True


@dataclass(frozen=True)
class Rough:
    """What is wrong with a table: the row that is off, with the value that the others lead to; or two rows exchanged.

    `chance` is how often a clean table shows as much.
    """

    rows: tuple[int, ...]
    expected: float
    chance: float


def curves_through(x: Floats, y: Floats, u: Floats) -> Iterator[Plane]:
    """The five curves of three parameters, as far as the values allow them."""
    for across, up in _FORMS:
        if (across == "ln" and np.any(x <= 0)) or (up != "y" and np.any(y <= 0)):
            continue
        t = np.log(x) if across == "ln" else x
        width = float(np.ptp(t))
        if not width > 0:
            continue
        basis = np.vander((t - t.mean()) / width, 3, increasing=True)
        if up == "ln":
            yield Plane(basis, np.log(y), u / y, math.exp)
        elif up == "1/y":
            yield Plane(basis, 1 / y, u / y**2, lambda z: 1 / z if z else math.inf)
        else:
            yield Plane(basis, y, u, lambda z: z)


def find_rough(planes: list[Plane], dof_of_repeats: float, leniency: float = 1.0) -> Rough | None:
    """The likeliest of all explanations of a table that is not smooth; None for one that is, or that none explains.

    Parameters
    ----------
    planes : list of Plane
        With more rows than parameters, all of the same rows.
    dof_of_repeats : float
        Behind the planes' uncertainties; 0 where these are only the instrument's, and the hand may scatter more.
    leniency : float
        How many times as often as usual a clean table may be asked about.
    """
    looked = [Looked(plane, min(dof_of_repeats, MOST_KNOWN)) for plane in planes if plane.z.size > plane.basis.shape[1] + 1]
    if not looked:
        return None
    smoothest = min(one.left_over for one in looked)
    single = _without_one(looked, smoothest)
    double = _with_two_exchanged(looked, smoothest)
    found = [r for r, most in ((single, CHANCE), (double, CHANCE_OF_TWO)) if r is not None and r.chance < most * leniency]
    return min(found, key=lambda r: r.chance, default=None)


class Looked:
    """A plane with what its best curve leaves over, whole and without each row.

    Leaving a row out need not be fitted again: by the leverages h, χ² falls by r²/(1 − h) (R. D. Cook and S. Weisberg, Residuals and
    Influence in Regression, 1982, section 2.2).
    """

    def __init__(self, plane: Plane, known: float) -> None:
        self.plane = plane
        self.known: float = known
        self.across = plane.basis[:, 1]
        self.q, _ = np.linalg.qr(plane.basis / plane.u[:, None])
        scaled = plane.z / plane.u
        self.rest = scaled - self.q @ (self.q.T @ scaled)
        self.free = np.maximum(1 - np.sum(self.q * self.q, axis=1), 1e-12)
        self.chi2 = float(self.rest @ self.rest)
        self.dof = int(plane.z.size - plane.basis.shape[1])
        self.without = np.maximum(self.chi2 - self.rest**2 / self.free, 0.0)

    @property
    def left_over(self) -> float:
        """χ² with what the repeats add to it."""
        return self.scale(self.chi2, self.dof) * (self.dof + self.known)

    def scale(self, chi2: float, dof: int) -> float:
        """Variance of a row about the curve in units of its own; never less than what the instrument alone would have."""
        found: float = (chi2 + self.known) / (dof + self.known)
        return found if self.known else max(found, 1.0)

    def scale_without(self, row: int) -> float:
        """The same without one row."""
        return self.scale(float(self.without[row]), self.dof - 1)

    @property
    def is_calm(self) -> bool:
        """Whether nothing sticks out: a row seven uncertainties off would leave more."""
        return self.dof > 1 and self.scale(self.chi2, self.dof) <= CALM

    def chance(self, gained: float, scale: float, dof: int, several: int = 1) -> float:
        """How often chance gains so much by leaving `several` rows out."""
        return float(fdtrc(several, dof + self.known, max(gained, 0.0) / scale / several))

    def is_smooth(self, chi2: float, dof: int) -> bool:
        """Whether no more is left than repeats lead to expect; without repeats nobody knows what to expect."""
        return not self.known or chi2 <= STILL_ROUGH * dof


def _without_one(looked: list[Looked], smoothest: float) -> Rough | None:
    """The row without which the table is smooth: in a plot that is straight without it, or else in every curve that is as good as the best.

    Of five curves one is always bent in just the way that makes a good row look bad; hardly ever all.
    """
    lines = [one for one in looked if one.plane.is_line and one.dof > 2]
    best: Rough | None = None
    ends = {int(np.argmin(looked[0].across)), int(np.argmax(looked[0].across))}
    for row in range(looked[0].plane.z.size):
        straight = [one for one in lines if _is_straight_without(one, row, looked)]
        having_a_say = straight or ([] if row in ends else _plausible(looked, row))
        if not straight and len(having_a_say) < 2:
            # where a curve leads beyond its last point, or one alone leads, nobody knows
            continue
        # a plan's plot need not be compared with curves that would take the row in
        chance, one = max(((_chance_of_row(one, row, one.left_over if straight else smoothest), one) for one in having_a_say), key=_first)
        if best is None or chance < best.chance:
            best = Rough((row,), _expected(one, row, looked), chance)
    return best


def _is_straight_without(one: Looked, row: int, looked: list[Looked]) -> bool:
    """Whether a plan's plot is straight but for one row: by what repeats lead to expect, or without any as much as the best curve is."""
    if one.known:
        return bool(one.without[row] <= STRAIGHT * (one.dof - 1))
    best = min((other for other in looked if other.dof > 1), key=lambda other: other.scale_without(row))
    ratio = one.scale_without(row) / best.scale_without(row)
    return float(fdtrc(one.dof - 1, best.dof - 1, ratio)) > CHANCE_STRAIGHT


def _plausible(looked: list[Looked], row: int) -> list[Looked]:
    scales = [one.scale_without(row) for one in looked]
    return [
        one
        for one, scale in zip(looked, scales, strict=True)
        if scale <= PLAUSIBLE * min(scales) and one.is_smooth(float(one.without[row]), one.dof - 1)
    ]


def _first(pair: tuple[float, Looked]) -> float:
    return pair[0]


def _chance_of_row(one: Looked, row: int, smoothest: float) -> float:
    """How often a clean table is so much smoother without some row, in one plane."""
    dof, chi2 = one.dof - 1, float(one.without[row])
    off = abs(float(one.rest[row] / one.free[row]))
    if not one.is_smooth(chi2, dof) or off < LEAST_FAR:
        return 1.0
    scale = one.scale(chi2, dof)
    gained = smoothest - scale * (dof + one.known)
    return one.chance(gained, scale, dof) * 1.5 * one.plane.z.size


def _expected(one: Looked, row: int, looked: list[Looked]) -> float:
    """y of a row as all others lead to it; NaN where it cannot be told. Where no way leads back, the best plane that agrees does it."""
    if one.plane.back is None:
        agreeing = [other for other in _plausible(looked, row) if other.plane.back is not None]
        one = min(agreeing, key=lambda other: other.scale_without(row), default=one)
    plane = one.plane
    z = float(plane.z[row] - plane.u[row] * one.rest[row] / one.free[row])
    if plane.back is None:
        return math.nan
    try:
        return plane.back(z)
    except OverflowError:
        return math.nan


def _with_two_exchanged(looked: list[Looked], smoothest: float) -> Rough | None:
    best: Rough | None = None
    for one in looked:
        plane = one.plane
        if not plane.moves_with_y:
            continue
        # of many rows those that stick out most
        sticking_out = np.sort(np.argsort(-np.abs(one.rest / one.free))[:MOST_EXCHANGED])
        pairs = np.array(list(combinations(sticking_out.tolist(), 2)))
        turned = np.tile(np.arange(plane.z.size), (len(pairs), 1))
        places = np.arange(len(pairs))
        turned[places, pairs[:, 0]], turned[places, pairs[:, 1]] = pairs[:, 1], pairs[:, 0]
        scaled = plane.z[turned] / plane.u
        chi2 = np.sum((scaled - (scaled @ one.q) @ one.q.T) ** 2, axis=1)
        # each with its own bars, once it is known which is the likeliest
        likely = int(np.argmin(chi2))
        order = turned[likely]
        again = Looked(replace(plane, z=plane.z[order], u=plane.u[order]), one.known)
        scale = again.scale(again.chi2, again.dof)
        gained = smoothest - scale * (again.dof + one.known)
        chance = one.chance(gained, scale, again.dof, 2) * len(pairs)
        if again.is_smooth(again.chi2, again.dof) and (best is None or chance < best.chance):
            best = Rough((int(pairs[likely][0]), int(pairs[likely][1])), math.nan, chance)
    return best
