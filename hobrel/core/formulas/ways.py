"""Four ways of carrying uncertainties through a formula, comparable side by side.

Quadrature and sum are first order, by exact derivatives; extremes evaluates the corners; Monte Carlo draws (JCGM 101:2008).
Units go through all four alike, because all four compute the same formula with `evaluate`.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.tree import Node, symbols_in, tables_in
from hobrel.core.sentences import Sentences, say
from hobrel.core.uncertainty.traced import Floats, Source, Traced, combine_quadrature, combine_sum, measured
from hobrel.core.units.calculus import NUMBER, Unit, parse_unit
from hobrel.core.units.constants import find_constant

WayKind = Literal["quadrature", "sum", "extremes", "monte_carlo"]
DistributionKind = Literal["normal", "rectangular"]
DRAWS = 200_000
SEED = 101
MOST_CORNERS = 16


@dataclass(frozen=True)
class Input:
    """One input of a formula.

    Attributes
    ----------
    value, u : float
        Estimate and standard uncertainty, in `unit`. A rectangular input of half width a has u = a/√3 (JCGM 100:2008, 4.3.7).
    distribution : {"normal", "rectangular"}
        What Monte Carlo draws from.
    """

    value: float
    u: float
    unit: Unit = NUMBER
    distribution: DistributionKind = "normal"

    @property
    def half_width(self) -> float:
        """Of a rectangular distribution with this standard uncertainty."""
        return self.u * math.sqrt(3)


@dataclass(frozen=True)
class Contribution:
    """What one input brings to the uncertainty of the result.

    Attributes
    ----------
    sensitivity : float
        ∂f/∂x in unit of the result per unit of the input.
    contribution : float
        |∂f/∂x|·u(x), in the unit of the result (for extremes: half the difference over this input's ± alone).
    share : float
        Its square over the sum of squares; for the ways sum and extremes, itself over the sum.
    """

    symbol: str
    sensitivity: float
    contribution: float
    share: float


@dataclass(frozen=True)
class Propagation:
    """A result carried through a formula.

    Attributes
    ----------
    value, u : float
        In `unit`. For Monte Carlo the mean and standard deviation of the draws.
    budget : tuple of Contribution, largest first
    interval95 : (float, float) or None
        Monte Carlo: the middle 95 % of the draws (JCGM 101:2008, 7.7).
    warning : tuple of Sentence
        Not empty where first order is unsafe, with the reason.
    """

    value: float
    u: float
    unit: Unit
    way: WayKind
    budget: tuple[Contribution, ...]
    interval95: tuple[float, float] | None = None
    warning: Sentences = ()


Correlations = Mapping[tuple[str, str], float]


def propagate(
    node: Node,
    inputs: Mapping[str, Input],
    way: WayKind = "quadrature",
    correlations: Correlations | None = None,
    draws: int = DRAWS,
    *,
    seed: int = SEED,
) -> Propagation:
    """Carry uncertainties through a formula.

    Parameters
    ----------
    node : Node
        From `read_formula`. Constants of nature in it count as inputs with their published uncertainty.
    inputs : mapping of symbol to Input
    way : {"quadrature", "sum", "extremes", "monte_carlo"}
        JCGM 100:2008, 5.1.2 and 5.2.2; Σ|∂f/∂x|u (common practice); half the difference over the corners x ± u (common
        practice); JCGM 101:2008.
    correlations : mapping of (symbol, symbol) to coefficient
        For quadrature and Monte Carlo.
    draws, seed : int
        Of Monte Carlo.

    Raises
    ------
    CoreError
        As `evaluate`; ``bad_job`` for correlations that cannot be, ``too_large`` for more corners than can be visited.
    """
    inputs = _with_constants(node, inputs)
    matrix = _correlation_matrix(tuple(inputs), correlations or {})
    sources = {name: Source(name, name, np.asarray(given.u), given.unit) for name, given in inputs.items()}
    traced = evaluate(node, {name: measured(sources[name], given.value) for name, given in inputs.items()})
    budget = _budget(traced, inputs)
    warning = _warn_of_curvature(node, inputs, float(combine_quadrature(traced))) if way in ("quadrature", "sum") else ()
    value, interval = float(traced.value), None
    match way:
        case "quadrature":
            pairs = {(a, b): float(matrix[i, j]) for (i, a), (j, b) in itertools.combinations(enumerate(inputs), 2) if matrix[i, j]}
            u = float(combine_quadrature(traced, correlations=pairs))
        case "sum":
            u, budget = float(combine_sum(traced)), _share_linearly(budget)
        case "extremes":
            u, budget = _visit_corners(node, inputs, budget)
        case "monte_carlo":
            drawn = _draw(node, inputs, matrix, draws, seed)
            value, u = float(drawn.mean()), float(drawn.std(ddof=1))
            low, high = np.quantile(drawn, (0.025, 0.975))
            interval = (float(low), float(high))
    return Propagation(value=value, u=u, unit=traced.unit, way=way, budget=budget, interval95=interval, warning=warning)


def compare_ways(node: Node, inputs: Mapping[str, Input], correlations: Correlations | None = None) -> tuple[Propagation, ...]:
    """The same result by all four ways, for looking at side by side."""
    ways: tuple[WayKind, ...] = ("quadrature", "sum", "extremes", "monte_carlo")
    return tuple(propagate(node, inputs, way, correlations) for way in ways)


def _with_constants(node: Node, inputs: Mapping[str, Input]) -> dict[str, Input]:
    """The inputs that the formula uses, and the constants of nature and tables in it that are not exact."""
    used = {name: given for name, given in inputs.items() if name in symbols_in(node)}
    for name in sorted(symbols_in(node) - set(inputs) - {"pi"}):
        constant = find_constant(name)
        if constant.u:
            used[name] = Input(constant.value, constant.u, parse_unit(constant.unit))
    return used | {table.off_by: Input(0.0, 1.0) for table in tables_in(node).values() if any(table.us)}


def _budget(traced: Traced, inputs: Mapping[str, Input]) -> tuple[Contribution, ...]:
    slopes = dict.fromkeys(inputs, 0.0) | {source.symbol: float(slope) for source, slope in traced.slopes.items()}
    parts = {name: abs(slopes[name]) * inputs[name].u for name in inputs}
    total = sum(p * p for p in parts.values())
    lines = (Contribution(n, slopes[n], parts[n], parts[n] ** 2 / total if total else 0.0) for n in inputs)
    return tuple(sorted(lines, key=lambda line: -line.contribution))


def _share_linearly(budget: tuple[Contribution, ...]) -> tuple[Contribution, ...]:
    total = sum(line.contribution for line in budget)
    return tuple(
        Contribution(b.symbol, b.sensitivity, b.contribution, b.contribution / total if total else 0.0)
        for b in sorted(budget, key=lambda line: -line.contribution)
    )


def _at(node: Node, inputs: Mapping[str, Input], values: Mapping[str, Floats]) -> Floats:
    """The formula at given values, without derivatives; one number each where nothing varies."""
    plain = {name: Traced(np.asarray(values[name]), {}, given.unit) for name, given in inputs.items()}
    return evaluate(node, plain).value


def _one_at_a_time(node: Node, inputs: Mapping[str, Input]) -> tuple[Floats, Floats]:
    """f with each input in turn at x + u and x − u, the others at their estimates."""
    names = list(inputs)
    ends = []
    for sign in (1.0, -1.0):
        values = {
            name: given.value + sign * given.u * np.array([other == name for other in names], dtype=np.float64)
            for name, given in inputs.items()
        }
        ends.append(np.broadcast_to(_at(node, inputs, values), (len(names),)))
    return ends[0], ends[1]


def _visit_corners(node: Node, inputs: Mapping[str, Input], budget: tuple[Contribution, ...]) -> tuple[float, tuple[Contribution, ...]]:
    moving = [name for name, given in inputs.items() if given.u]
    if len(moving) > MOST_CORNERS:
        raise CoreError("too_large", "Extremes can be visited for at most {most} uncertain quantities.", most=MOST_CORNERS)
    signs = np.array(list(itertools.product((-1.0, 1.0), repeat=len(moving)))).T if moving else np.zeros((0, 1))
    values: dict[str, Floats] = {name: np.asarray(given.value) for name, given in inputs.items()}
    for name, row in zip(moving, signs, strict=True):
        values[name] = inputs[name].value + row * inputs[name].u
    corners = _at(node, inputs, values)
    if not inputs:
        return 0.0, budget
    above, below = _one_at_a_time(node, inputs)
    alone = dict(zip(inputs, np.abs(above - below) / 2, strict=True))
    moved = tuple(Contribution(b.symbol, b.sensitivity, float(alone[b.symbol]), 0.0) for b in budget)
    return float(np.max(corners) - np.min(corners)) / 2, _share_linearly(moved)


def _draw(node: Node, inputs: Mapping[str, Input], matrix: Floats, draws: int, seed: int) -> Floats:
    """Draw every input and compute the formula at each draw (JCGM 101:2008, 5.9 and 6.4).

    Raises
    ------
    CoreError
        ``bad_job``.
    """
    random = np.random.default_rng(seed)
    normal = random.standard_normal((len(inputs), draws))
    if np.any(matrix != np.eye(len(inputs))):
        tied = {name for i, name in enumerate(inputs) if np.count_nonzero(matrix[i]) > 1}
        if any(inputs[name].distribution != "normal" for name in tied):
            raise CoreError("bad_job", "Only normally distributed inputs can be drawn with a correlation.")
        normal = np.linalg.cholesky(matrix + 1e-14 * np.eye(len(inputs))) @ normal
    values: dict[str, Floats] = {}
    for row, (name, given) in zip(normal, inputs.items(), strict=True):
        if given.distribution == "rectangular":
            values[name] = random.uniform(given.value - given.half_width, given.value + given.half_width, draws)
        else:
            values[name] = given.value + given.u * row
    return np.broadcast_to(_at(node, inputs, values), (draws,))


def _correlation_matrix(names: Sequence[str], correlations: Correlations) -> Floats:
    matrix = np.eye(len(names))
    place = {name: i for i, name in enumerate(names)}
    for (a, b), r in correlations.items():
        if a not in place or b not in place or a == b:
            raise CoreError("bad_job", "The correlation between {a} and {b} is of a quantity that the formula does not use.", a=a, b=b)
        if not -1 <= r <= 1:
            raise CoreError("bad_job", "A correlation lies between −1 and 1; the one of {a} and {b} is {r}.", a=a, b=b, r=f"{r:g}")
        matrix[place[a], place[b]] = matrix[place[b], place[a]] = r
    if len(names) > 1 and float(np.linalg.eigvalsh(matrix)[0]) < -1e-12:
        raise CoreError("bad_job", "These correlations contradict one another.")
    return matrix


def _warn_of_curvature(node: Node, inputs: Mapping[str, Input], u: float) -> Sentences:
    """Whether a straight line is a fair picture of the formula over x ± u.

    Unsafe where the bend over the bars, ½|f(x+u) − 2f(x) + f(x−u)|, adds up to more than a tenth of u, or the half
    differences give a u that differs by more than a tenth (the limits are common practice).
    """
    if not inputs:
        return ()
    try:
        above, below = _one_at_a_time(node, inputs)
    except CoreError:
        return (
            say(
                "reaches_no_value", "Within its ±, an input reaches where the formula has no value: this uncertainty is not to be trusted."
            ),
        )
    centre = float(_at(node, inputs, {name: np.asarray(given.value) for name, given in inputs.items()}))
    bend = float(np.sum(np.abs(above - 2 * centre + below))) / 2
    stepped = float(np.sqrt(np.sum(((above - below) / 2) ** 2)))
    if bend > 0.1 * u or abs(stepped - u) > 0.1 * u:
        return (say("first_order_unsafe", "The formula bends so much within the ± that first order is unsafe. Compare with Monte Carlo."),)
    return ()
