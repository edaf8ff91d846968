"""Figure descriptions: everything that a drawing needs, in data units, so that screen, picture and report agree.

A figure is computed here once; the browser, the SVG writer and the report only map data to places on paper.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import RichRun, RichText, plain_text, rich_symbol
from hobrel.core.rounding import SUPERSCRIPTS, quantize, to_decimal, write_fixed
from hobrel.core.sentences import NumberText, Sentences, say
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import Unit, write_unit


@dataclass(frozen=True)
class Tick:
    """A mark on an axis with its number."""

    value: float
    text: NumberText


@dataclass(frozen=True)
class Axis:
    """One axis: label as rich text (“T² / s²”), shown range, ticks; what its quantity is called, where there is one, for who has room. On a
    logarithmic one equal lengths are equal factors, and `low` is above zero. Along a `named` one stand kinds, at 1, 2, 3 …: it has no range
    to choose.
    """

    label: RichText
    low: float
    high: float
    ticks: tuple[Tick, ...]
    name: str = ""
    log: bool = False
    named: bool = False

    def share(self, value: ArrayLike) -> Floats:
        """How far along the axis something lies, from 0 to 1; −∞ for what a logarithmic axis has no place for."""
        values = np.asarray(value, dtype=np.float64)
        if not self.log:
            return np.asarray((values - self.low) / (self.high - self.low))
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(np.log(np.maximum(values, 0.0) / self.low) / math.log(self.high / self.low))

    def places(self, low: float, high: float, count: int) -> Floats:
        """So many places from one to another, at equal lengths along the axis; on a logarithmic one from where it begins."""
        return np.geomspace(max(low, self.low), high, count) if self.log else np.linspace(low, high, count)

    def titled(self, width: float) -> RichText:
        """The label with the name before it, where so many widths of a letter hold both."""
        whole = (RichRun(f"{self.name}, "), *self.label)
        return whole if self.name and sum(len(run.text) for run in whole) <= width else self.label


@dataclass(frozen=True)
class FigurePoint:
    """One point with its bars (half lengths, 0 for none). `key` leads back to its setting; `words` stand beside it."""

    key: str
    x: float
    y: float
    ux: float
    uy: float
    label: NumberText
    set_aside: bool = False
    residual: float | None = None
    residual_u: float | None = None
    words: str = ""


@dataclass(frozen=True)
class PointSeries:
    """Points of one run, quantity or bench; `look` is the index of its colour and shape. One that is `hidden` has no points here."""

    name: str
    look: int
    points: tuple[FigurePoint, ...]
    key: str = ""
    hidden: bool = False


LineKind = Literal["fit", "beyond", "steepest", "shallowest", "by_eye", "by_eye_extreme", "halved"]


@dataclass(frozen=True)
class ModelLine:
    """A model drawn as a line: over the data (`fit`) or beyond them (`beyond`), an extreme line, one drawn by eye, or a step-by-step model
    with half its step (`halved`).

    `look` is that of its series where several series are fitted on one graph; None for the graph's only fit.
    """

    kind: LineKind
    x: tuple[float, ...]
    y: tuple[float, ...]
    look: int | None = None


@dataclass(frozen=True)
class Band:
    """Between `low` and `high`: the line with its standard uncertainty."""

    x: tuple[float, ...]
    low: tuple[float, ...]
    high: tuple[float, ...]


Corner = Literal["top_left", "top_right", "bottom_left", "bottom_right"]


@dataclass(frozen=True)
class FigureEquation:
    """The equation of what is fitted; `look` is that of its series where several series are fitted on one graph."""

    text: RichText
    look: int | None = None


@dataclass(frozen=True)
class FigureNote:
    """Words with a pointer to a place in data units, or to a stretch from `x` to `x_to`; `right` and `up` are shares of the plot."""

    id: str
    text: str
    x: float
    y: float
    x_to: float | None
    right: float
    up: float


@dataclass(frozen=True)
class FigureMoment:
    """Something that happened, as an upright line with its name."""

    id: str
    name: str
    x: float


@dataclass(frozen=True)
class SketchCurve:
    """The expected curve as it was sketched, smoothed, in shares of the plot (0 to 1 along x, and up)."""

    x: tuple[float, ...]
    y: tuple[float, ...]


@dataclass(frozen=True)
class Figure:
    """A graph.

    Attributes
    ----------
    title : str
    x_axis, y_axis : Axis
    series : tuple of PointSeries
    lines, bands
    residual_axis : Axis or None
        Of the strip under the graph; the sticks are the points' `residual`.
    summary : tuple of Sentence
        One or two sentences for somebody who cannot see it.
    notes : tuple of FigureNote
    moments : tuple of FigureMoment
    equations : tuple of FigureEquation
        Of what is fitted, as far as they are wanted, one below the other.
    corner : Corner
        Of the plot, where there is room for them.
    sketch : SketchCurve or None
        What was expected, to be drawn faintly behind everything.
    """

    title: str
    x_axis: Axis
    y_axis: Axis
    series: tuple[PointSeries, ...]
    lines: tuple[ModelLine, ...] = ()
    bands: tuple[Band, ...] = ()
    residual_axis: Axis | None = None
    summary: Sentences = ()
    notes: tuple[FigureNote, ...] = ()
    sketch: SketchCurve | None = None
    equations: tuple[FigureEquation, ...] = ()
    corner: Corner = "top_left"
    moments: tuple[FigureMoment, ...] = ()


def axis_label(symbols: Sequence[str], unit: Unit) -> RichText:
    """“T² / s²” as ISO 80000-1 writes it; a pure number has its symbol alone. A unit with a solidus goes in brackets. Several quantities
    on one axis are named one after the other: “θ₁, θ₂ / °C”.
    """
    label: RichText = ()
    for symbol in symbols:
        label = (*label, *((RichRun(", "),) if label else ()), *rich_symbol(symbol))
    shown = write_unit(unit)
    if not shown:
        return label
    return (*label, RichRun(" / (" + shown + ")" if "/" in shown or " " in shown else " / " + shown))


Ends = tuple[float | None, float | None]


SMALLEST_SPAN, LARGEST_SPAN = 1e-250, 1e250


def make_axis(label: RichText, low: float, high: float, wanted: int = 6, origin: bool = False, *, fixed: Ends = (None, None)) -> Axis:
    """An axis that holds [low, high] with a little room, with ticks at 1, 2 or 5 times a power of ten.

    Parameters
    ----------
    label : RichText
    low, high : float
        Of the data with their bars.
    wanted : int
        About how many ticks.
    origin : bool
        Bring 0 into the range.
    fixed : (float or None, float or None)
        Ends that somebody has chosen; they are kept exactly.

    Raises
    ------
    CoreError
        ``too_large`` for a range that no ticks can be counted out on.
    """
    if origin:
        low, high = min(low, 0.0), max(high, 0.0)
    if not high > low:
        reach = abs(high) * 0.1 or 1.0
        low, high = low - reach, high + reach
    room = 0.05 * (high - low)
    low = low if origin and low == 0 else low - room
    high = high if origin and high == 0 else high + room
    low = low if fixed[0] is None else fixed[0]
    high = high if fixed[1] is None else fixed[1]
    if not high > low:
        # one chosen end beyond the points: as much room as they take stays on its other side
        low, high = (low, low + 22 * room) if fixed[1] is None else (high - 22 * room, high)
    _check_span(low, high)
    step, first, last = _choose_ticks(low, high, wanted)
    exponent = math.floor(math.log10(step) + 1e-9)
    biggest = max(abs(first), abs(last)) * step
    power = math.floor(math.log10(biggest) + 1e-9) if biggest >= 1e5 or biggest < 1e-3 else 0
    ticks = tuple(Tick(i * step, _tick_text(i, step, exponent, power)) for i in range(first, last + 1))
    if power:
        label = (*label, RichRun("  ×10" + str(power).translate(SUPERSCRIPTS)))
    return Axis(label, low, high, ticks)


def make_log_axis(label: RichText, low: float, high: float, wanted: int = 6, *, fixed: Ends = (None, None)) -> Axis:
    """A logarithmic axis that holds [low, high], both above zero, with a little room. Ends that were chosen hold where they are above zero.

    Raises
    ------
    CoreError
        As `make_axis`.
    """
    # ends that differ by what a float rounds are one place
    room = (high / low) ** 0.05 if high / low > 1 + ONE_PLACE else 1.5
    low, high = low / room, high * room
    low = fixed[0] if fixed[0] is not None and fixed[0] > 0 else low
    high = fixed[1] if fixed[1] is not None and fixed[1] > 0 else high
    if not high / low > 1 + ONE_PLACE:
        low, high = (low, low * 10) if fixed[1] is None else (high / 10, high)
    _check_span(low, high)
    decades = range(math.floor(math.log10(low)), math.ceil(math.log10(high)) + 1)
    for within in ((1,), (1, 3), (1, 2, 5), (1, 2, 3, 5, 7)):
        ticks = [(d, f) for d in decades for f in within if low <= f * 10.0**d <= high]
        if len(ticks) >= LEAST_TICKS:
            every = math.ceil(len(ticks) / (2 * wanted))
            return Axis(label, low, high, tuple(Tick(f * 10.0**d, _power_text(f, d)) for d, f in ticks[::every]), log=True)
    # less than a decade: even ticks, which then lie closer and closer, with the power of ten that goes with them
    return replace(make_axis(label, low, high, wanted, fixed=(low, high)), log=True)


def make_named_axis(label: RichText, kinds: Sequence[str]) -> Axis:
    """An axis along which kinds stand, each with as much room as the others."""
    ticks = tuple(Tick(float(place), kind) for place, kind in enumerate(kinds, start=1))
    return Axis(label, 0.5, max(len(kinds), 1) + 0.5, ticks, named=True)


LEAST_TICKS = 3
ONE_PLACE = 1e-9
"""Share by which two ends of a logarithmic axis differ at the least."""


def _check_span(low: float, high: float) -> None:
    if not SMALLEST_SPAN < high - low < LARGEST_SPAN:
        raise CoreError("too_large", "This axis would be far longer or shorter than anything that is measured. Look for a mistyped number.")


def _power_text(factor: int, decade: int) -> str:
    if -3 <= decade <= 4:
        return write_fixed(quantize(to_decimal(factor).scaleb(decade), min(decade, 0)))
    power = "10" + str(decade).translate(SUPERSCRIPTS)
    return power if factor == 1 else f"{factor}×{power}"


def _choose_ticks(low: float, high: float, wanted: int) -> tuple[float, int, int]:
    """Step, and first and last tick as multiples of it; at least three ticks."""
    while True:
        step = _nice_step((high - low) / max(wanted - 1, 1))
        first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
        if last - first >= 2:
            return step, first, last
        wanted += 1


def _nice_step(rough: float) -> float:
    power = 10.0 ** math.floor(math.log10(rough))
    return min((f for f in (1.0, 2.0, 5.0, 10.0)), key=lambda f: abs(math.log(f * power / rough))) * power


def _tick_text(index: int, step: float, exponent: int, power: int) -> str:
    value = to_decimal(step) * index
    decimals = max(0, power - exponent)
    text = write_fixed(quantize(value.scaleb(-power), -decimals))
    return "0" if index == 0 else text


def describe_figure(x: RichText, y: RichText, count: int, pattern: Sentences) -> Sentences:
    """What a screen reader hears."""
    points = "1 point" if count == 1 else f"{count} points"
    return say("graph_of", "Graph of {y} against {x}, {points}.", y=plain_text(y), x=plain_text(x), points=points), *pattern
