"""Numbers that remember which measured things they came from, and how strongly.

A `Traced` carries, beside its value, the derivative by every independent source that it rests on. Arithmetic on traced numbers is the chain
rule, so a symbol used twice, or two derived quantities with a common ancestor, come out right by themselves. See decision 23.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, partial
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
    made_of : Direction or None
        Of what is no act of measuring itself, but one of the directions in which the parameters of a curve move.
    """

    key: str
    symbol: str
    u: Floats
    unit: Unit = NUMBER
    shared: bool = False
    dof: Floats | float = math.inf
    standard: Floats | None = None
    estimate: str | Names = ""
    made_of: Direction | None = None

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Source) and other.key == self.key

    def __hash__(self) -> int:
        return hash(self.key)


@dataclass(frozen=True, eq=False)
class Direction:
    """One of the independent directions in which the parameters of a curve move with the readings that it goes through.

    Attributes
    ----------
    curve : str
        Whose; those of one curve have nothing in common.
    shares : mapping of Source to ndarray
        How far one standard uncertainty of each reading goes along it, in its own: their squares add up to one.
    """

    curve: str
    shares: Mapping[Source, Floats]

    @cached_property
    def in_readings(self) -> Traced:
        """One standard step along it, by the readings that it is made of."""
        return Traced(np.asarray(0.0), {s: _share_out(share, s.u, share) for s, share in self.shares.items()})


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

    @property
    def moves_together(self) -> bool:
        """Whether the rows of a column rest on the parameters of a curve, which serve them all."""
        return any(s.made_of is not None for s in self.slopes)

    def unshared(self) -> Traced:
        """The same number without the constants that all rows share."""
        return replace(self, slopes={s: by for s, by in self.slopes.items() if not s.shared})

    def judged(self) -> Traced:
        """The same number with the standard uncertainties that judge in the place of what the convention says."""
        own = {s: by for s, by in self.slopes.items() if s.standard is None}
        other = {replace(s, u=s.standard, standard=None): by for s, by in self.slopes.items() if s.standard is not None}
        return replace(self, slopes={**own, **other}) if other else self

    def at_row(self, row: int) -> Traced:
        """One value of a column as a number by itself, its sources only as far as that row goes.

        Where it rests on a reading of its own beside a curve through all of them, what that reading does by way of the curve counts as
        the reading's; what is left of the curve is that of the others.
        """

        def at(values: Floats) -> Floats:
            return np.asarray(values if values.ndim == 0 else values[row])

        def alone(source: Source) -> Source:
            estimate = str(source.estimate[row]) if isinstance(source.estimate, np.ndarray) else source.estimate
            return replace(source, u=at(source.u), dof=at(np.asarray(source.dof)), standard=None, estimate=estimate)

        if not self.moves_together:
            return replace(self, value=at(self.value), slopes={alone(source): at(slope) for source, slope in self.slopes.items()})
        parts = {alone(source): at(part) for source, part in contributions(self).items()}
        return replace(self, value=at(self.value), slopes={s: np.asarray(part / s.u if s.u > 0 else 0.0) for s, part in parts.items()})


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
    with np.errstate(all="ignore"):
        for operand, derivative in terms:
            if not operand.slopes:
                continue
            slope = derivative()
            for source, inner in operand.slopes.items():
                step = slope * inner
                made[source.key] = _add(*made[source.key], source, step) if source.key in made else (source, step)
    return Traced(value, dict(made.values()), unit, temperatures)


def _add(a: Source, by_a: Floats, b: Source, by_b: Floats) -> tuple[Source, Floats]:
    """One source that two numbers rest on, and the slope by it of both together.

    Where the two take it for differently uncertain (a gradient by the bars, a mean by its scatter), what each is off by is laid on one u:
    that of the first, and where it has none that of the other.
    """
    source = _judged_by_both(a, by_a, b)
    if a.u is b.u or np.array_equal(a.u, b.u, equal_nan=True):
        return source, by_a + by_b
    u = np.where(a.u > 0, a.u, b.u)

    return replace(source, u=u, standard=None), _share_out(by_a * a.u, u, by_a) + _share_out(by_b * b.u, u, by_b)


def _share_out(part: Floats, u: Floats, by: Floats) -> Floats:
    """part / u where a row counts (`by` is not 0), which alone has a u."""
    return np.divide(part, u, out=np.zeros(np.shape(part)), where=(by != 0) & (u > 0))


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
    whole = Traced(np.asarray(np.sum(weighed(column.value))), slopes, column.unit, column.temperatures.times(float(np.sum(weights))))
    return _unfold(whole)


def _unfold(number: Traced) -> Traced:
    """A single number by way of what a curve's parameters stand on, so that it hangs together with all else that is made of that."""
    by_curves = {s: by for s, by in number.slopes.items() if s.made_of is not None}
    if not by_curves:
        return number
    others = replace(number, slopes={s: by for s, by in number.slopes.items() if s.made_of is None})
    steps = ((s.made_of.in_readings, partial(np.asarray, by * s.u)) for s, by in by_curves.items() if s.made_of is not None)
    return chain(number.value, ((others, partial(np.asarray, 1.0)), *steps), number.unit, number.temperatures)


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
    """Signed contribution ∂value/∂source · u(source) of every source (or only the shared, or only the others), row by row.

    What a row's own reading brings by way of a curve through all readings is the reading's; of the curve is left what the others bring.
    """
    parts, curves = _part_curves(_contribute(number, shared))
    if not curves:
        return parts
    left = _covary_curves(curves, curves, number.value.shape)
    for source in parts:
        brought = _bring(curves, source)
        if brought is not None:
            parts[source], left = parts[source] + brought, left - brought * brought
    first = next(iter(curves))
    parts[Source(f"{first.key}:others", first.symbol, np.asarray(1.0), number.unit, dof=first.dof)] = np.sqrt(np.maximum(left, 0.0))
    return parts


def _share_of(curve: Source, source: Source) -> Floats | None:
    return None if curve.made_of is None else curve.made_of.shares.get(source)


def _bring(curves: Mapping[Source, Floats], source: Source) -> Floats | None:
    """What the reading of each row brings to it by way of curves; None where none of them goes through such readings."""
    by_way = [part * share for curve, part in curves.items() if (share := _share_of(curve, source)) is not None]
    return np.asarray(sum(by_way)) if by_way else None


def _covary_curves(in_a: Mapping[Source, Floats], in_b: Mapping[Source, Floats], shape: tuple[int, ...]) -> Floats:
    """What two columns have in common by way of curves through the same readings, row by row."""
    total = np.zeros(shape)
    for a, part_a in in_a.items():
        for b, part_b in in_b.items():
            together = 1.0 if a == b else _have_in_common(a, b)
            if together:
                total = total + part_a * part_b * together
    return total


def _have_in_common(a: Source, b: Source) -> float:
    """Correlation of directions of two curves, by the readings that both go through."""
    if a.made_of is None or b.made_of is None or a.made_of.curve == b.made_of.curve:
        return 0.0
    both = ((share, _share_of(b, source)) for source, share in a.made_of.shares.items())
    return sum(float(np.dot(one, other)) for one, other in both if other is not None)


def _contribute(number: Traced, shared: bool | None) -> dict[Source, Floats]:
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
    return _covary(contributions(a, shared), contributions(b, shared))


def covary_all(numbers: Sequence[Traced], shared: bool | None = None) -> Floats:
    """`covariance_of` each of some single numbers and each, shape (k, k): what each rests on is gathered once."""
    parts = [contributions(number, shared) for number in numbers]
    return np.array([[_covary(a, b) for b in parts] for a in parts], dtype=np.float64).reshape(len(parts), len(parts))


def _covary(in_a: Mapping[Source, Floats], in_b: Mapping[Source, Floats]) -> float:
    return float(sum(np.sum(part * in_b[source]) for source, part in in_a.items() if source in in_b))


def covary_rows(a: Traced, b: Traced, shared: bool | None = None) -> Floats:
    """Covariance of two columns at every row, from the sources in both, and from readings in one that a curve in the other stands on.

    With `shared` only from the constants that all rows share, or only from the others.
    """
    (in_a, curves_a), (in_b, curves_b) = _part_curves(_contribute(a, shared)), _part_curves(_contribute(b, shared))
    total = _covary_curves(curves_a, curves_b, np.broadcast_shapes(a.value.shape, b.value.shape))
    for source, part in in_a.items():
        if source in in_b:
            total = total + part * in_b[source]
    for curves, others in ((curves_a, in_b), (curves_b, in_a)):
        for source, part in others.items():
            brought = _bring(curves, source)
            if brought is not None:
                total = total + brought * part
    return total


def _part_curves(parts: Mapping[Source, Floats]) -> tuple[dict[Source, Floats], dict[Source, Floats]]:
    """The same contributions in two: by acts of measuring, and by directions of curves."""
    return {s: p for s, p in parts.items() if s.made_of is None}, {s: p for s, p in parts.items() if s.made_of is not None}


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
