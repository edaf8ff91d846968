"""Numbers that remember which measured things they came from, and how strongly.

A `Traced` carries, beside its value, the derivative by every independent source that it rests on. Arithmetic on traced numbers is the chain
rule, so a symbol used twice, or two derived quantities with a common ancestor, come out right by themselves. See decision 23.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import TypeGuard

import numpy as np
from numpy.typing import NDArray

from hobrel.core.units.calculus import NUMBER, Unit

Floats = NDArray[np.float64]
Names = NDArray[np.object_]


@dataclass(frozen=True, eq=False)
class Source:
    """One act of measuring, independent of every other. Two sources are the same where their keys are.

    Attributes
    ----------
    key : str
        Unique in one lab book: ``run1:L``, ``constant:m``, ``reading:fit1:u2``.
    symbol : str
        What people call it.
    u : ndarray, shape (rows,) or ()
        Its standard uncertainty, or ± under a school convention, in `unit`. With rows: each row was measured by itself.
    unit : Unit
    shared : bool
        True for a constant, measured once: it moves all rows together, and is no part of their error bars.
    dof : float or ndarray, shape (rows,)
        Degrees of freedom of what judges: one for all rows where one estimate serves them all, infinite where it is taken as known.
    estimate : str, or ndarray of str, shape (rows,)
        Names what `dof` are of, where one estimate serves several sources (the scatter about a line); empty for the source's own. Row by
        row where some rows were judged by one estimate and some by another (the means of two stretches of one column).
    standard : ndarray or None
        Standard uncertainty by which verdicts are reached, where it is another than `u`: a convention's ± need not be one, and that of two
        readings is known to half of it only.
    """

    key: str
    symbol: str
    u: Floats
    unit: Unit = NUMBER
    shared: bool = False
    dof: Floats | float = math.inf
    standard: Floats | None = None
    estimate: str | Names = ""

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Source) and other.key == self.key

    def __hash__(self) -> int:
        return hash(self.key)


@dataclass(frozen=True, slots=True)
class Temperatures:
    """How many temperatures a sum of them holds: those read on a scale with a zero of its own (°C), and those in kelvins.

    A difference holds none on balance. What stands in kelvins beside a scale is taken for a difference itself, unless it is what a scale's
    temperature is taken from.
    """

    on_scale: float = 0.0
    in_kelvins: float = 0.0

    @property
    def is_difference(self) -> bool:
        """Whether no temperature is left on balance."""
        balanced = abs(self.on_scale + self.in_kelvins) < _BALANCED
        return balanced and (abs(self.on_scale) < _BALANCED or self.on_scale < 0)

    def plus(self, other: Temperatures, sign: float) -> Temperatures:
        """What a sum holds, or with sign −1 a difference."""
        return Temperatures(self.on_scale + sign * other.on_scale, self.in_kelvins + sign * other.in_kelvins)

    def times(self, factor: float) -> Temperatures:
        """What a multiple holds."""
        return Temperatures(self.on_scale * factor, self.in_kelvins * factor)


ONE_ON_SCALE, ONE_IN_KELVINS = Temperatures(on_scale=1.0), Temperatures(in_kelvins=1.0)
_BALANCED = 1e-9


@dataclass(frozen=True, slots=True)
class Traced:
    """Values with their unit and their derivative by each source: a column with a value for each row, or a single number.

    Attributes
    ----------
    value : ndarray, shape (rows,) or ()
        NaN where nothing was measured (inside the core only; never shown).
    slopes : mapping of Source to ndarray
        ∂value/∂source, in `unit` per unit of the source. Of a column, row by row. Of a single number, by each row of a source that has
        rows (0 where it does not rest on that row), or by the one thing that the source is.
    unit : Unit
    temperatures : Temperatures
        Of what has the dimension of a temperature: whether it is one, with an offset on a scale like °C, or a difference, without.
    """

    value: Floats
    slopes: Mapping[Source, Floats]
    unit: Unit = NUMBER
    temperatures: Temperatures = ONE_IN_KELVINS

    def scaled(self, factor: float, unit: Unit) -> Traced:
        """The same thing in another unit, `factor` of which make one of this."""
        if factor == 1.0 and unit == self.unit:
            return self
        return Traced(self.value * factor, {k: s * factor for k, s in self.slopes.items()}, unit, self.temperatures)

    def judged(self) -> Traced:
        """The same number with the standard uncertainties that judge in the place of what the convention says."""
        own = {s: by for s, by in self.slopes.items() if s.standard is None}
        other = {replace(s, u=s.standard, standard=None): by for s, by in self.slopes.items() if s.standard is not None}
        return replace(self, slopes={**own, **other}) if other else self

    def at_row(self, row: int) -> Traced:
        """One value of a column as a number by itself, its sources only as far as that row goes."""

        def at(values: Floats) -> Floats:
            return np.asarray(values if values.ndim == 0 else values[row])

        def alone(source: Source) -> Source:
            estimate = str(source.estimate[row]) if isinstance(source.estimate, np.ndarray) else source.estimate
            return replace(source, u=at(source.u), dof=at(np.asarray(source.dof)), standard=None, estimate=estimate)

        own = {source: alone(source) for source in self.slopes}
        return replace(self, value=at(self.value), slopes={own[source]: at(slope) for source, slope in self.slopes.items()})


def exact(value: float, unit: Unit = NUMBER) -> Traced:
    """A number without uncertainty."""
    return Traced(np.asarray(value, dtype=np.float64), {}, unit)


def measured(source: Source, value: Floats | float) -> Traced:
    """The values of one source."""
    values = np.asarray(value, dtype=np.float64)
    on_scale = ONE_ON_SCALE if source.unit.is_offset else ONE_IN_KELVINS
    return Traced(values, {source: np.ones_like(values)}, source.unit, on_scale)


def chain(
    value: Floats,
    terms: tuple[tuple[Traced, Callable[[], Floats]], ...],
    unit: Unit,
    temperatures: Temperatures = ONE_IN_KELVINS,
) -> Traced:
    """A new traced number whose derivative by each operand is known.

    Parameters
    ----------
    value : ndarray
    terms : tuple of (operand, function giving ∂value/∂operand)
        The function is called only for an operand that has sources, so that plain numbers cost no derivatives.
    unit : Unit
    temperatures : Temperatures
        Of the result.
    """
    made: dict[str, tuple[Source, Floats]] = {}
    for operand, derivative in terms:
        if not operand.slopes:
            continue
        with np.errstate(all="ignore"):
            slope = derivative()
        for source, inner in operand.slopes.items():
            step = slope * inner
            if source.key in made:
                before, so_far = made[source.key]
                made[source.key] = _judged_by_both(before, so_far, source), so_far + step
            else:
                made[source.key] = source, step
    return Traced(value, dict(made.values()), unit, temperatures)


def _judged_by_both(a: Source, rests_on: Floats, b: Source) -> Source:
    """One source that two numbers rest on: where the two judge it by different estimates, its rows go by that of the number that rests on
    them, and by the first's where both do.
    """
    if a is b or not a.u.ndim or (_is_same(a.estimate, b.estimate) and _is_same(a.dof, b.dof)):
        return a
    rows = np.broadcast_to(rests_on != 0, a.u.shape)
    return replace(a, dof=np.where(rows, a.dof, b.dof), estimate=np.where(rows, _name_estimate(a), _name_estimate(b)))


def _is_same(a: object, b: object) -> bool:
    return a is b or (not isinstance(a, np.ndarray) and not isinstance(b, np.ndarray) and a == b)


def _name_estimate(source: Source) -> Names:
    """What a source's degrees of freedom are of; nothing for rows of which each has an estimate of its own."""
    if isinstance(source.estimate, np.ndarray):
        return source.estimate
    return np.asarray("" if _is_by_row(source.dof) else source.estimate or source.key, dtype=np.object_)


def combine_numbers(value: float, terms: Sequence[tuple[float, Traced]], unit: Unit) -> Traced:
    """A single number whose derivatives by other single numbers are known: (∂value/∂number, number)."""
    return chain(np.asarray(value), tuple((number, partial(np.asarray, by)) for by, number in terms), unit)


def weigh_rows(column: Traced, weights: Floats) -> Traced:
    """The single number Σ wᵢ vᵢ of a column: its mean, an area under it, a parameter of a line through it.

    Parameters
    ----------
    column : Traced, shape (rows,)
    weights : ndarray, shape (rows,)
        0 where a row does not count; such a row may hold NaN.
    """
    counts = weights != 0
    all_count = bool(counts.all())

    def weighed(values: Floats) -> Floats:
        return weights * values if all_count else np.where(counts, weights * np.where(counts, values, 0.0), 0.0)

    slopes = {s: weighed(slope) if s.u.ndim else np.asarray(np.sum(weighed(slope))) for s, slope in column.slopes.items()}
    return Traced(np.asarray(np.sum(weighed(column.value))), slopes, column.unit, column.temperatures.times(float(np.sum(weights))))


def weigh_scatter(column: Traced, weights: Floats, sd: Floats | float, own: Source) -> dict[Source, Floats]:
    """Derivatives of Σ wᵢ vᵢ where the rows are off by `sd` (all alike, or each by its own), whatever their sources say.

    What each row is off by is laid on the sources that it has, so that what two numbers made of one row have in common is counted once.
    Where a row has none of its own, all stand on `own`, which has u = 1 for every row.
    """
    counts = weights != 0
    parts = {s: np.broadcast_to(slope * s.u, weights.shape) for s, slope in column.slopes.items() if not s.shared}
    with np.errstate(invalid="ignore"):
        spread = np.sqrt(sum((part * part for part in parts.values()), np.zeros(weights.shape)))
    if not parts or any(s.u.ndim == 0 for s in parts) or not np.all(spread[counts] > 0):
        return {own: np.where(counts, weights * sd, 0.0)}
    stretch = np.where(counts, weights * sd / np.where(counts, spread, 1.0), 0.0)
    return {
        replace(s, dof=own.dof, standard=None, estimate=own.key): np.where(
            counts, stretch * np.where(counts, np.broadcast_to(column.slopes[s], weights.shape), 0.0), 0.0
        )
        for s in parts
    }


def contributions(number: Traced, shared: bool | None = None) -> dict[Source, Floats]:
    """Signed contribution ∂value/∂source · u(source) of every source (or only the shared, or only the others), row by row."""
    parts = _multiply_by_u(number, shared)
    for source, part in parts.items():
        # what is known exactly brings nothing however steep (√x at x = 0); nor does a row that does not count, which may have no u
        if not np.isfinite(part).all():
            parts[source] = np.where((number.slopes[source] == 0) | (source.u == 0), 0.0, part)
    return parts


def _multiply_by_u(number: Traced, shared: bool | None) -> dict[Source, Floats]:
    with np.errstate(invalid="ignore"):
        return {s: np.asarray(slope * s.u) for s, slope in number.slopes.items() if shared is None or s.shared == shared}


def _squares(number: Traced, shared: bool | None = None) -> dict[Source, float]:
    """Sum over the rows of the squared `contributions` of every source of a single number."""
    parts = _multiply_by_u(number, shared)
    squares = {source: float((part * part).sum()) for source, part in parts.items()}
    if math.isfinite(sum(squares.values())):
        return squares
    return {source: float((part * part).sum()) for source, part in contributions(number, shared).items()}


def combine_quadrature(number: Traced, shared: bool | None = None, correlations: Mapping[tuple[str, str], float] | None = None) -> Floats:
    """Combined uncertainty u² = Σ(∂f/∂xₖ)²u(xₖ)², with covariance terms where given (JCGM 100:2008, 5.1.2 and 5.2.2).

    Parameters
    ----------
    number : Traced
    shared : bool, optional
        Only the constants that all rows share, or only what is not shared.
    correlations : mapping of (key, key) to coefficient, optional
        Of sources that hang together; of a number whose sources have no rows.

    Returns
    -------
    ndarray, shape of the value
        In the unit of `number`.
    """
    if not number.value.ndim and not correlations:
        return np.asarray(math.sqrt(sum(_squares(number, shared).values())))
    parts = contributions(number, shared)
    total = np.zeros_like(number.value)
    for part in parts.values():
        total = total + (part * part if number.value.ndim else (part * part).sum())
    if correlations:
        by_key = {source.key: part for source, part in parts.items()}
        for (a, b), r in correlations.items():
            if a in by_key and b in by_key:
                total = total + 2 * r * by_key[a] * by_key[b]
    return np.asarray(np.sqrt(np.maximum(total, 0.0)))


def covariance_of(a: Traced, b: Traced, shared: bool | None = None) -> float:
    """Covariance of two single numbers, from the sources in both (JCGM 100:2008, F.1.2.3); in the product of their units.

    With `shared` only from the constants that all rows share, or only from the others.
    """
    in_a, in_b = contributions(a, shared), contributions(b, shared)
    return float(sum(np.sum(part * in_b[source]) for source, part in in_a.items() if source in in_b))


def effective_dof(number: Traced) -> float:
    """Degrees of freedom of a single number's u: u⁴ / Σ(uₖ⁴/νₖ) over its independent parts (JCGM 100:2008, G.4.1).

    A source with one estimate for all its rows is one part; one whose rows have estimates of their own is as many. Infinite where every
    part is taken as known.
    """
    if all(not _is_by_row(s.dof) and s.dof == math.inf for s in number.slopes):
        return math.inf
    parts = contributions(number)
    sizes = {source: float((part * part).sum()) for source, part in parts.items()}
    total = sum(sizes.values())
    if not 0 < total < math.inf:
        return math.inf
    # as shares of the whole, so that no fourth power overflows or vanishes
    below = 0.0
    estimates: dict[str, tuple[float, float]] = {}
    for source, size in sizes.items():
        if _is_by_row(source.dof):
            shares = parts[source] ** 2 / total
            names = np.broadcast_to(_name_estimate(source), shares.shape)
            for name in set(names.tolist()):
                rows = names == name
                if not name:
                    below += float(np.sum(shares[rows] ** 2 / source.dof[rows]))
                elif np.any(shares[rows]):
                    estimates[name] = estimates.get(name, (0.0, 0.0))[0] + float(np.sum(shares[rows])), float(source.dof[rows][0])
        else:
            name = str(source.estimate or source.key)
            estimates[name] = estimates.get(name, (0.0, 0.0))[0] + size / total, float(source.dof)
    below += sum(share**2 / dof for share, dof in estimates.values())
    return 1 / below if below > 0 else math.inf


def _is_by_row(dof: Floats | float) -> TypeGuard[Floats]:
    return isinstance(dof, np.ndarray) and dof.ndim > 0


def combine_sum(number: Traced, shared: bool | None = None) -> Floats:
    """Largest possible combination Σ|∂f/∂xₖ|u(xₖ): “add the percentages” for products and powers (common practice)."""
    total = np.zeros_like(number.value)
    for part in contributions(number, shared).values():
        total = total + np.abs(part)
    return np.asarray(total)
