"""What a finding's formula may use besides constants: numbers of fits, means of stretches, read-offs, areas, other findings.

Each comes traced to its sources, so that what two of them have in common is counted once.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from hobrel.core.document.lab_book import Convention, Ingredient, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.fitting.area import find_area
from hobrel.core.fitting.rates import find_rates
from hobrel.core.fitting.read_off import Direction, read_off
from hobrel.core.fitting.steepest import SteepestPoint, find_steepest_point
from hobrel.core.fitting.tangents import find_tangents
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol, uncertainty_at
from hobrel.core.pipeline.ground import Fitted, Ground
from hobrel.core.pipeline.lines import FittedLine, GraphPoints, axis_units, gradient_unit
from hobrel.core.readings.typed_places import read_typed
from hobrel.core.rounding import write_place
from hobrel.core.statistics.spread import MeanWithUncertainty, average
from hobrel.core.uncertainty.traced import Floats, Source, Traced, chain, measured
from hobrel.core.units.calculus import Unit, multiply_units, write_unit


@dataclass(frozen=True)
class Gathered:
    """An ingredient, with the sources that it brings, how they hang together, and in words what it is.

    `target` names its own working, where it has one.
    """

    traced: Traced
    sources: dict[str, Source]
    correlations: dict[tuple[str, str], float]
    words: str
    target: str = ""


def gather_ingredient(ground: Ground, ingredient: Ingredient, finding_of: Callable[[str], Gathered]) -> Gathered:
    """Gather one ingredient.

    Parameters
    ----------
    ground : Ground
    ingredient : Ingredient
    finding_of : callable
        Gives another finding by its id, or raises.

    Raises
    ------
    CoreError
        Where what it is made of is not there, or the trouble of that; ``bad_number`` and ``bad_unit`` for what was typed.
    """
    match ingredient.kind:
        case "fit":
            return _from_fit(ground, ingredient)
        case "mean":
            return _mean(ground, ingredient)
        case "read_forward" | "read_back" | "tangent":
            return _read(ground, ingredient)
        case "unknown":
            unknown = next((u for u in ground.fit(ingredient.of).unknowns if u.id == ingredient.part), None)
            if unknown is None:
                raise CoreError("bad_job", f"{ingredient.symbol} was an unknown that is no longer in the list of its fit.")
            found = read_unknown(ground, ingredient.of, unknown, ingredient.symbol)
            return Gathered(found.traced, found.sources, found.correlations, f"{unknown.name}, read back from the line")
        case "steepest":
            return _steepest(ground, ingredient)
        case "area":
            return _area(ground, ingredient)
        case "finding":
            return finding_of(ingredient.of)


def _from_fit(ground: Ground, ingredient: Ingredient) -> Gathered:
    fitted, _, _ = ground.fitted(ingredient.of)
    traced = fitted.outputs.get(ingredient.part)
    if traced is None:
        names = " and ".join(fitted.outputs)
        raise CoreError("bad_job", f"This fit has no {ingredient.part or 'such number'}; it has {names}.")
    sources = _renamed(fitted.sources, traced, ingredient)
    return Gathered(traced, sources, fitted.correlations, f"{ingredient.part} of a fit", f"fit:{ingredient.of}:{ingredient.part}")


def _renamed(sources: dict[str, Source], traced: Traced, ingredient: Ingredient) -> dict[str, Source]:
    """The fit's own source under the ingredient's symbol, so that two gradients can be told apart in a budget."""
    own = f"{ingredient.of}:{ingredient.part}"
    if own not in traced.slopes:
        return sources
    source = sources[own]
    return sources | {own: Source(source.key, ingredient.symbol, source.u, source.unit)}


def _stretch_words(ingredient: Ingredient, unit: str) -> str:
    if ingredient.low is None and ingredient.high is None:
        return "all points"
    low = "the start" if ingredient.low is None else write_place(ingredient.low)
    high = "the end" if ingredient.high is None else write_place(ingredient.high)
    return f"from {low} to {high} {unit}".rstrip()


def average_stretch(values: Floats, us: Floats, convention: Convention) -> MeanWithUncertainty:
    """The mean of a stretch that should be level: its values are taken as repeats, each as uncertain as they are on average, and the
    convention makes the ±.
    """
    return average(values.tolist(), float(np.mean(us)), convention.spread, convention.combine)


def _rows_in(columns: RunColumns, column: Column, low: float | None, high: float | None) -> np.ndarray[tuple[int], np.dtype[np.intp]]:
    symbol = plain_symbol(column.quantity)
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", f"{symbol} has no values.")
    if column.traced.value.ndim == 0:
        raise CoreError("bad_job", f"{symbol} is the same for all settings, so it has no mean. Use it by its own symbol.")
    changed = next((c.traced for c in columns.columns.values() if c.quantity.kind == "changed"), None)
    counts = ~np.array(columns.run.rows_aside(), dtype=bool) & np.isfinite(column.traced.value)
    if changed is not None:
        with np.errstate(invalid="ignore"):
            counts &= (changed.value >= (-np.inf if low is None else low)) & (changed.value <= (np.inf if high is None else high))
    rows = np.flatnonzero(counts)
    if not rows.size:
        raise CoreError("too_few_points", f"There is no value of {symbol} in this stretch.")
    return rows


def _mean(ground: Ground, ingredient: Ingredient) -> Gathered:
    columns = ground.columns.get(ingredient.run) if ingredient.run else ground.seen
    if columns is None:
        raise CoreError("bad_job", f"{ingredient.symbol} is of a run that is no longer in the lab book.")
    column = columns.columns.get(ingredient.of)
    if column is None:
        raise CoreError("bad_job", f"{ingredient.symbol} is the mean of a quantity that is no longer in the lab book.")
    low, high = ingredient.low, ingredient.high
    rows = _rows_in(columns, column, low, high)
    traced = column.traced
    assert traced is not None
    mean = average_stretch(traced.value[rows], column.u[rows], ground.book.convention)
    key = f"mean:{columns.run.id}:{ingredient.of}:{low}:{high}"
    source = Source(key, ingredient.symbol, np.asarray(mean.u), traced.unit)
    shared = {
        k: np.asarray(np.mean(np.broadcast_to(s, traced.value.shape)[rows])) for k, s in traced.slopes.items() if columns.sources[k].shared
    }
    changed = next((c.quantity.unit for c in columns.columns.values() if c.quantity.kind == "changed"), "")
    words = f"mean of {plain_symbol(column.quantity)}, {_stretch_words(ingredient, changed)} ({mean.summary.n} values)"
    if len(ground.book.runs) > 1:
        words += f", {columns.run.name}"
    number = Traced(np.asarray(mean.summary.mean), {key: np.asarray(1.0), **shared}, traced.unit)
    return Gathered(number, columns.sources | {key: source}, {}, words)


def read_off_traced(
    fitted: Fitted, points: GraphPoints, direction: Direction, place: float, at: Source | None, key: str, symbol: str
) -> tuple[Traced, dict[str, Source]]:
    """A value read off a fit, traced to gradient and intercept (of a curve: to a source of its own).

    Parameters
    ----------
    fitted, points : the fit and the points that it took
    direction : {"forward", "back"}
    place : float
        x, or y to be read back.
    at : Source or None
        What `place` was measured with.
    key, symbol : str
        For the source of a value that is read off a curve.

    Raises
    ------
    CoreError
        As `read_off`; ``bad_job`` for a curve read back.
    """
    x_unit, y_unit = axis_units(points)
    if not isinstance(fitted, FittedLine):
        if direction == "back":
            raise CoreError("bad_job", "Only a straight line is read back: a curve may have several x for one y, or none.")
        source = Source(key, symbol, np.asarray(float(fitted.u_at(place)[0])), y_unit)
        return measured(source, float(fitted.at(place)[0])), fitted.sources | {key: source}
    line, sources = fitted.line, dict(fitted.sources)
    _, factor = gradient_unit(x_unit, y_unit)
    value = read_off(line, (0.0, 0.0), direction, place).value
    m = line.gradient
    by_gradient, by_intercept, by_place = (place, 1.0, m) if direction == "forward" else (-value / m, -1 / m, 1 / m)
    terms: list[tuple[Traced, Callable[[], Floats]]] = [
        (fitted.gradient, lambda: np.asarray(by_gradient / factor)),
        (fitted.intercept, lambda: np.asarray(by_intercept)),
    ]
    if at is not None:
        sources[at.key] = at
        terms.append((measured(at, place), lambda: np.asarray(by_place)))
    return chain(np.asarray(value), tuple(terms), y_unit if direction == "forward" else x_unit), sources


def _read(ground: Ground, ingredient: Ingredient) -> Gathered:
    fitted, points, _ = ground.fitted(ingredient.of)
    x_unit, y_unit = axis_units(points)
    asked = y_unit if ingredient.kind == "read_back" else x_unit
    place = read_typed(ingredient.at, write_unit(asked))
    where = f"at {write_place(place)} {write_unit(asked)}".rstrip()
    key = f"{ingredient.kind}:{ingredient.of}:{place!r}"
    if ingredient.kind == "read_back":
        unknown = Unknown("", where, (ingredient.at,))
        found = read_unknown(ground, ingredient.of, unknown, ingredient.symbol, ingredient.repeats)
        return Gathered(found.traced, found.sources, found.correlations, f"x read back {where}")
    if ingredient.kind == "tangent":
        if isinstance(fitted, FittedLine):
            return Gathered(fitted.gradient, fitted.sources, fitted.correlations, "gradient of a fit")
        unit, factor = gradient_unit(x_unit, y_unit)
        slope = find_tangents(fitted.curve, [place])
        source = Source(key, ingredient.symbol, np.asarray(float(slope.u[0]) * abs(factor)), unit)
        return Gathered(measured(source, float(slope.slopes[0]) * factor), fitted.sources | {key: source}, {}, f"tangent {where}")
    traced, sources = read_off_traced(fitted, points, "forward", place, None, key, ingredient.symbol)
    return Gathered(traced, sources, fitted.correlations, f"y read off {where}")


@dataclass(frozen=True)
class ReadUnknown:
    """An unknown read back: the mean of its readings with its ±, and the x that belongs to it."""

    mean: float
    u_mean: float
    n: int
    traced: Traced
    sources: dict[str, Source]
    correlations: dict[tuple[str, str], float]
    extrapolated: bool


def read_unknown(ground: Ground, fit_id: str, unknown: Unknown, symbol: str, repeats: int | None = None) -> ReadUnknown:
    """Read an unknown back from a line.

    Without error bars the scatter s/√k of the line's own points is that of the mean of k readings (Eurachem/CITAC QUAM, appendix E.4);
    with them, the ± is what the convention makes of the readings and their instrument.

    Parameters
    ----------
    ground : Ground
    fit_id : str
    unknown : Unknown
    symbol : str
    repeats : int, optional
        Of how many readings its one text is the mean.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` for a reading; ``bad_job`` for a curve; as `read_off`.
    """
    fitted, points, _ = ground.fitted(fit_id)
    _, y_unit = axis_units(points)
    values = [read_typed(text, write_unit(y_unit)) for text in unknown.readings]
    if not values:
        raise CoreError("too_few_points", "Write at least one reading of it.")
    k, convention = repeats or len(values), ground.book.convention
    mean = average(values, _typical_u(points, convention, sum(values) / len(values)), convention.spread, convention.combine)
    u, middle = mean.u, mean.summary.mean
    if isinstance(fitted, FittedLine) and fitted.line.method == "ols":
        u = fitted.line.residual_sd / float(np.sqrt(k))
    elif repeats:
        u = mean.u / float(np.sqrt(repeats))
    source = Source(f"reading:{fit_id}:{','.join(unknown.readings)}:{k}", symbol, np.asarray(u), y_unit)
    traced, sources = read_off_traced(fitted, points, "back", middle, source, "", symbol)
    used = points.x[fitted.fitted]
    outside = not float(used.min()) <= float(traced.value) <= float(used.max())
    return ReadUnknown(middle, u, k, traced, sources, fitted.correlations, outside)


def _typical_u(points: GraphPoints, convention: Convention, value: float) -> float:
    """What one further reading of y is uncertain by: its instrument's ±, or for a derived y what the points have."""
    quantity = points.y_column.quantity
    if quantity.kind == "measured" and quantity.instrument is not None:
        return uncertainty_at(quantity, convention, value)
    return float(np.median(points.uy)) if points.uy.size else 0.0


def find_steepest_of(ground: Ground, graph_id: str, fraction: float) -> tuple[SteepestPoint, float, float, GraphPoints]:
    """The steepest point of a graph, with the u of its rate and of the reading at the fraction (both in the units of the axes).

    Raises
    ------
    CoreError
        As `find_steepest_point`.
    """
    points = ground.drawn(graph_id)
    x, y, uy, ux = (v[points.used] for v in (points.x, points.y, points.uy, points.ux))
    found = find_steepest_point(x, y, fraction)
    rates = find_rates(x, y, np.nan_to_num(uy), np.nan_to_num(ux))
    at = int(np.argmin(np.abs(rates.x - found.at)))
    u_rate = float(rates.u[at]) if rates.u is not None else 0.0
    order = np.argsort(x, kind="stable")
    near = float(np.interp(found.fraction_x, x[order], uy[order]))
    step = int(np.clip(np.searchsorted(x[order], found.fraction_x), 1, x.size - 1))
    local = float((y[order][step] - y[order][step - 1]) / (x[order][step] - x[order][step - 1]))
    return found, u_rate, float(np.hypot(near, local * fraction * found.u)), points


def _steepest(ground: Ground, ingredient: Ingredient) -> Gathered:
    fraction = read_typed(ingredient.at or "0.5", "")
    found, u_rate, u_reading, points = find_steepest_of(ground, ingredient.of, fraction)
    x_unit, y_unit = axis_units(points)
    place = found.at if found.refined is None else found.refined
    value, u, unit, words = place, found.u, x_unit, "place of the steepest point"
    if ingredient.part == "reading":
        if found.fraction_y is None:
            raise CoreError("too_few_points", f"There are no points around {write_place(fraction)} of the steepest place.")
        value, u, unit, words = found.fraction_y, u_reading, y_unit, f"reading at {write_place(fraction)} of the steepest place"
    elif ingredient.part == "rate":
        unit, factor = gradient_unit(x_unit, y_unit)
        value, u, words = found.rate * factor, u_rate * abs(factor), "largest rate of change"
    return _own(f"steepest:{ingredient.of}:{ingredient.part}:{fraction!r}", ingredient, value, u, unit, words, ground.seen)


def area_of_graph(ground: Ground, graph_id: str, low: float | None, high: float | None) -> tuple[float, float, Unit, int]:
    """Area under the points of a graph within a stretch, its u, its unit, and how many points it is of.

    Raises
    ------
    CoreError
        As `find_area`.
    """
    points = ground.drawn(graph_id)
    inside = points.used & (points.x >= (-np.inf if low is None else low)) & (points.x <= (np.inf if high is None else high))
    found = find_area(points.x[inside], points.y[inside], np.nan_to_num(points.uy[inside]))
    x_unit, y_unit = axis_units(points)
    unit, factor = multiply_units(y_unit, x_unit)
    return found.value * factor, (found.u or 0.0) * abs(factor), unit, int(np.count_nonzero(inside))


def _area(ground: Ground, ingredient: Ingredient) -> Gathered:
    value, u, unit, n = area_of_graph(ground, ingredient.of, ingredient.low, ingredient.high)
    x_unit, _ = axis_units(ground.drawn(ingredient.of))
    words = f"area under {n} points, {_stretch_words(ingredient, write_unit(x_unit))}"
    return _own(f"area:{ingredient.of}:{ingredient.low}:{ingredient.high}", ingredient, value, u, unit, words, ground.seen)


def _own(key: str, ingredient: Ingredient, value: float, u: float, unit: Unit, words: str, columns: RunColumns) -> Gathered:
    """A number that is a source of its own."""
    source = Source(key, ingredient.symbol, np.asarray(u), unit)
    return Gathered(measured(source, value), columns.sources | {key: source}, {}, words)
