"""What a finding's formula may use besides constants: numbers of fits, means of stretches, read-offs, areas, other findings.

Each comes traced to its sources, so that what two of them have in common is counted once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from hobrel.core.document.lab_book import Convention, Ingredient, Run, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.pipeline.along_points import area_of_graph, steepest_of_graph
from hobrel.core.pipeline.averaging import judge_further, uncertainty_at
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.pipeline.from_fits import read_off_traced, tangent_traced
from hobrel.core.pipeline.ground import Fitted, Ground
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.pipeline.points import GraphPoints, axis_units, refuse_kinds
from hobrel.core.pipeline.stretches import Rows, average_stretch
from hobrel.core.pipeline.summits import find_farthest, find_summit
from hobrel.core.readings.typed_places import read_typed
from hobrel.core.rounding import with_unit, write_place
from hobrel.core.statistics.spread import average
from hobrel.core.uncertainty.traced import Source, Traced
from hobrel.core.units.calculus import write_unit


@dataclass(frozen=True)
class Gathered:
    """An ingredient, the same as verdicts take it, and in words what it is. `target` names its own working, where it has one."""

    traced: Traced
    judged: Traced
    words: str
    target: str = ""


def gather_ingredient(ground: Ground, ingredient: Ingredient, owner: str, finding_of: Callable[[str], Gathered]) -> Gathered:
    """Gather one ingredient.

    Parameters
    ----------
    ground : Ground
    ingredient : Ingredient
    owner : str
        Key of its place in a finding: what is typed there was read there.
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
            return _read(ground, ingredient, owner)
        case "unknown":
            unknown = next((u for u in ground.fit(ingredient.of).unknowns if u.id == ingredient.part), None)
            if unknown is None:
                raise CoreError(
                    "bad_job", "{symbol} was an unknown that is no longer in the list of its fit.", symbol=write_symbol(ingredient.symbol)
                )
            found = read_unknown(ground, ingredient.of, unknown, f"unknown:{ingredient.of}:{unknown.id}")
            fitted = "line" if ground.fit(ingredient.of).shape == "line" else "curve"
            return Gathered(found.traced, found.judged, f"{unknown.name}, read back from the {fitted}")
        case "summit":
            return _summit(ground, ingredient)
        case "largest" | "smallest":
            return _farthest(ground, ingredient, ingredient.kind)
        case "steepest":
            return _steepest(ground, ingredient)
        case "area":
            return _area(ground, ingredient)
        case "finding":
            return finding_of(ingredient.of)


def _from_fit(ground: Ground, ingredient: Ingredient) -> Gathered:
    fitted, _, run = ground.fitted(ingredient.of)
    traced = fitted.outputs.get(ingredient.part)
    if traced is None:
        names = " and ".join(fitted.outputs)
        raise CoreError("bad_job", "This fit has no {part}; it has {names}.", part=ingredient.part or "such number", names=names)
    words = f"{ingredient.part} of {_call(fitted, run, ground)}"
    return Gathered(traced, fitted.judged[ingredient.part], words, f"fit:{ingredient.of}:{ingredient.part}")


def _call(fitted: Fitted, run: Run, ground: Ground) -> str:
    """A fit as it is called among others: by its run where there are several."""
    kind = "the line" if isinstance(fitted, FittedLine) else "the curve"
    return f"{kind}, {run.name}" if len(ground.book.runs) > 1 and run.name else kind


def _stretch_words(ingredient: Ingredient, unit: str) -> str:
    if ingredient.low is None and ingredient.high is None:
        return "all points"
    low = "the start" if ingredient.low is None else write_place(ingredient.low)
    high = "the end" if ingredient.high is None else write_place(ingredient.high)
    return with_unit(f"from {low} to {high}", unit)


def _rows_in(columns: RunColumns, column: Column, along: Column | None, ingredient: Ingredient) -> Rows:
    """The settings whose value of `along` is in the stretch, both ends included.

    Raises
    ------
    CoreError
        ``bad_job``, ``too_few_points``.
    """
    symbol = plain_symbol(column.quantity)
    if column.traced is None:
        raise column.trouble or CoreError("bad_job", "{symbol} has no values.", symbol=symbol)
    if column.traced.value.ndim == 0:
        raise CoreError("bad_job", "{symbol} is the same for all settings, so it has no mean. Use it by its own symbol.", symbol=symbol)
    counts = ~np.array(columns.run.rows_aside(), dtype=bool) & np.isfinite(column.traced.value)
    if along is not None:
        if along.traced is None:
            raise along.trouble or CoreError("bad_job", "{symbol} has no values.", symbol=plain_symbol(along.quantity))
        low, high = (-np.inf if ingredient.low is None else ingredient.low), (np.inf if ingredient.high is None else ingredient.high)
        with np.errstate(invalid="ignore"):
            counts = counts & (along.traced.value >= low) & (along.traced.value <= high)
    rows = np.flatnonzero(counts)
    if not rows.size:
        raise CoreError("too_few_points", "There is no value of {symbol} in this stretch.", symbol=symbol)
    return rows


def _mean(ground: Ground, ingredient: Ingredient) -> Gathered:
    columns = ground.columns.get(ingredient.run) if ingredient.run else ground.seen
    if columns is None:
        raise CoreError("bad_job", "{symbol} is of a run that is no longer in the lab book.", symbol=write_symbol(ingredient.symbol))
    column = columns.columns.get(ingredient.of)
    if column is None:
        raise CoreError(
            "bad_job", "{symbol} is the mean of a quantity that is no longer in the lab book.", symbol=write_symbol(ingredient.symbol)
        )
    changed = next((c for c in columns.columns.values() if c.quantity.kind == "changed"), None)
    along = columns.columns.get(ingredient.part) if ingredient.part else changed
    if ingredient.part and along is None:
        raise CoreError(
            "bad_job",
            "{symbol} is the mean over a stretch of a quantity that is no longer in the lab book.",
            symbol=write_symbol(ingredient.symbol),
        )
    rows = _rows_in(columns, column, along, ingredient)
    assert column.traced is not None
    key = f"mean:{columns.run.id}:{ingredient.of}:{ingredient.part}:{ingredient.low}:{ingredient.high}"
    found = average_stretch(column.traced, rows, ground.book.convention, key, ingredient.symbol)
    unit = write_unit(along.traced.unit) if along is not None and along.traced is not None else ""
    words = f"mean of {plain_symbol(column.quantity)}, {_stretch_words(ingredient, unit)} ({rows.size} values)"
    if len(ground.book.runs) > 1:
        words += f", {columns.run.name}"
    return Gathered(found.traced, found.judged, words)


def _read(ground: Ground, ingredient: Ingredient, owner: str) -> Gathered:
    fitted, points, run = ground.fitted(ingredient.of)
    x_unit, y_unit = axis_units(points)
    x, y = (plain_symbol(column.quantity) for column in (points.x_column, points.y_column))
    of, asked = (y, y_unit) if ingredient.kind == "read_back" else (x, x_unit)
    place = read_typed(ingredient.at, write_unit(asked))
    where = f"at {of} = {with_unit(write_place(place), write_unit(asked))}"
    if ingredient.kind == "read_back":
        unknown = Unknown("", where, (ingredient.at,))
        back = read_unknown(ground, ingredient.of, unknown, owner, ingredient.repeats)
        return Gathered(back.traced, back.judged, f"{x} read back {where}")
    if ingredient.kind == "tangent":
        words = f"gradient of {_call(fitted, run, ground)}" if isinstance(fitted, FittedLine) else f"tangent {where}"
        tangent = tangent_traced(fitted, points, place)
        return Gathered(tangent.said, tangent.judged, words)
    read = read_off_traced(fitted, points, "forward", place)
    return Gathered(read.said, read.judged, f"{y} read off {where}")


@dataclass(frozen=True)
class ReadUnknown:
    """An unknown read back: the mean of its readings with its ±, and the x that belongs to it."""

    mean: float
    u_mean: float
    n: int
    traced: Traced
    judged: Traced
    extrapolated: bool


def read_unknown(ground: Ground, fit_id: str, unknown: Unknown, key: str, repeats: int | None = None) -> ReadUnknown:
    """Read an unknown back from a line, or from a curve that is only once at what was read.

    Without error bars the scatter s/√k of the line's own points is that of the mean of k readings (Eurachem/CITAC QUAM, appendix E.4), and
    s√(n/k) where each point is the mean of n, of which a single one scatters by s√n; with them, the ± is what the convention makes of the
    readings and their instrument. Verdicts take them as one more setting of the table, with the typical spread of its repeats; where it has
    none, by how much single readings scatter about the line.

    Parameters
    ----------
    ground : Ground
    fit_id : str
    unknown : Unknown
    key : str
        Of its readings, as a source.
    repeats : int, optional
        Of how many readings its one text is the mean.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` for a reading; as `read_off_traced`.
    """
    fitted, points, run = ground.fitted(fit_id)
    _, y_unit = axis_units(points)
    values = [read_typed(text, write_unit(y_unit)) for text in unknown.readings]
    if not values:
        raise CoreError("too_few_points", "Write at least one reading of {name}.", name=unknown.name or "it")
    k, convention = repeats or len(values), ground.book.convention
    instrument = _typical_u(points, convention, sum(values) / len(values))
    mean = average(values, instrument, convention.spread, convention.combine, convention.coverage)
    u, middle = mean.u, mean.summary.mean
    fit = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    if fit.method == "ols":
        u = fit.residual_sd * spread_of_further(points.y_column, ground.columns[run.id], k)
    elif repeats:
        u = mean.u / math.sqrt(repeats)
    standard, dof = _judge_unknown(ground, fit_id, values, k)
    reading = Source(key, unknown.name or "y", np.asarray(u), y_unit, dof=dof, standard=np.asarray(standard))
    read = read_off_traced(fitted, points, "back", middle, at=reading)
    used = points.x[fitted.fitted]
    outside = not float(used.min()) <= float(read.said.value) <= float(used.max())
    return ReadUnknown(mean=middle, u_mean=u, n=k, traced=read.said, judged=read.judged, extrapolated=outside)


def _judge_unknown(ground: Ground, fit_id: str, values: Sequence[float], count: int) -> tuple[float, float]:
    """Standard uncertainty of the mean of so many readings of an unknown, and its degrees of freedom."""
    fitted, points, run = ground.fitted(fit_id)
    column = points.y_column
    if column.averages is not None:
        further = judge_further(column.averages, values, count, column.quantity.instrument)
        if further is not None:
            return further
    fit = fitted.line if isinstance(fitted, FittedLine) else fitted.curve
    scatter = fit.residual_sd
    if fit.method != "ols" and fit.reduced_chi2 is not None:
        scatter = float(np.median(fitted.residuals.sigmas)) * math.sqrt(fit.reduced_chi2)
    return scatter * spread_of_further(column, ground.columns[run.id], count), max(fit.dof, 1)


def spread_of_further(column: Column, columns: RunColumns, count: int) -> float:
    """By how much the mean of so many further readings scatters, where each value of a column scatters by 1: √(n/count) of means of n.

    Where a column is made of several that were read so often and so often, by what each of them adds; typical of its rows.
    """
    together = single = np.zeros(1)
    for source, slope in (column.traced.slopes if column.traced is not None else {}).items():
        read = columns.columns.get(source.key.removeprefix(f"{columns.run.id}:"))
        if source.shared or read is None or read.averages is None:
            continue
        variance = (slope * (source.u if source.standard is None else source.standard)) ** 2
        together = together + variance
        single = single + variance * [
            max(sum(s.parsed is not None and s.set_aside is None for s in row), 1) for row in read.averages.readings
        ]
    told = together > 0
    behind = float(np.median(single[told] / together[told])) if np.any(told) else 1.0
    return math.sqrt(behind / count)


def _typical_u(points: GraphPoints, convention: Convention, value: float) -> float:
    """What one further reading of y is uncertain by: its instrument's ±, or for a derived y what the points have."""
    quantity = points.y_column.quantity
    if quantity.kind == "measured" and quantity.instrument is not None:
        return uncertainty_at(quantity, convention, value)
    return float(np.median(points.uy)) if points.uy.size else 0.0


def _steepest(ground: Ground, ingredient: Ingredient) -> Gathered:
    fraction = read_typed(ingredient.at or "0.5", "")
    found = steepest_of_graph(ground, ingredient.of, fraction)
    if ingredient.part == "reading":
        if found.reading is None:
            raise CoreError(
                "too_few_points", "There are no points around {fraction} of the steepest place.", fraction=write_place(fraction)
            )
        return Gathered(found.reading, found.reading.judged(), f"reading at {write_place(fraction)} of the steepest place")
    if ingredient.part == "rate":
        return Gathered(found.rate, found.rate.judged(), "largest rate of change")
    return Gathered(found.place, found.place.judged(), "place of the steepest point")


def _summit(ground: Ground, ingredient: Ingredient) -> Gathered:
    fitted, points, _ = ground.fitted(ingredient.of)
    found = find_summit(fitted, points, ingredient.low, ingredient.high)
    number, words = (found.place, "place of the ") if ingredient.part == "place" else (found.value, "")
    return Gathered(number.said, number.judged, f"{words}{'highest' if found.is_highest else 'lowest'} point of the curve")


def _farthest(ground: Ground, ingredient: Ingredient, which: Literal["largest", "smallest"]) -> Gathered:
    points, found = ground.drawn(ingredient.of), find_farthest(ground, ingredient.of, which, ingredient.low, ingredient.high)
    symbol, unit = plain_symbol(points.y_column.quantity), write_unit(axis_units(points)[0])
    if ingredient.part != "place":
        return Gathered(found.value, found.value.judged(), f"{which} {symbol}, {_stretch_words(ingredient, unit)}")
    refuse_kinds(points)
    return Gathered(found.place, found.place.judged(), f"where {symbol} is {which}, {_stretch_words(ingredient, unit)}")


def _area(ground: Ground, ingredient: Ingredient) -> Gathered:
    found = area_of_graph(ground, ingredient.of, ingredient.low, ingredient.high)
    x_unit, _ = axis_units(ground.drawn(ingredient.of))
    return Gathered(found.traced, found.traced.judged(), f"area under {found.n} points, {_stretch_words(ingredient, write_unit(x_unit))}")
