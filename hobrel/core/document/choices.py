"""What a bench has chosen to draw, fit and find: graphs with their notes, fits with what is read off them, findings with what they use.

Parts of the lab book's document; nothing here is computed.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

WeightKind = Literal["both_bars", "y_bars", "none"]
NoteAnchor = Literal["point", "stretch", "fit"]
IngredientKind = Literal[
    "fit", "mean", "read_forward", "read_back", "unknown", "tangent", "summit", "steepest", "area", "largest", "smallest", "finding"
]  # fmt: skip
OF_FIT = frozenset({"fit", "read_forward", "read_back", "unknown", "tangent", "summit"})
"""Kinds of ingredients that are made of a fit."""
OF_GRAPH = frozenset({"steepest", "area", "largest", "smallest"})
"""Kinds of ingredients that are made of the points of a graph."""


@dataclass(frozen=True)
class Note:
    """A few words pinned to a graph, with a pointer to what they are about.

    Attributes
    ----------
    anchor : {"point", "stretch", "fit"}
        A point (`of` is its setting), the middle of a stretch of x from `x` to `x_high`, or a fit (`of`) at `x`.
    right, up : float
        Where the words stand, from the place that they point to, as shares of the plot's width and height.
    """

    id: str
    text: str
    anchor: NoteAnchor
    of: str = ""
    x: float = 0.0
    x_high: float | None = None
    right: float = 0.06
    up: float = 0.12


@dataclass(frozen=True)
class ResultOf:
    """What each run gives to a table of runs: a parameter (`part`) of a fit, or the mean of a quantity (`of`, by id)."""

    kind: Literal["fit", "mean"]
    of: str
    part: str = ""


@dataclass(frozen=True)
class Moment:
    """Something that happened `at` a value of a quantity (`of`, by id), in its unit: an upright line on every graph with it along x."""

    id: str
    name: str
    of: str
    at: float


LOOKS = 7
"""Colours of series, each with a shape of its own."""


@dataclass(frozen=True)
class Graph:
    """Which quantity (by id) is on which axis, and the range that is shown (None: as the points need it), in the unit of the axis.

    Attributes
    ----------
    x_log, y_log : bool
        Whether an axis is logarithmic; it then has no origin, and no place for what is not above zero.
    also : tuple of quantity ids
        Further quantities of y's unit, drawn on the same axis.
    runs : tuple of run ids
        Further runs that are drawn beside the one that is looked at.
    hidden : tuple of str
        Series (``RUN:QUANTITY``) that are not drawn for now; nothing of them is deleted or left out.
    notes : tuple of Note
    words_of : str
        A quantity of words that stands beside the points; empty for none.
    """

    id: str
    title: str
    x: str
    y: str
    origin: bool = False
    x_low: float | None = None
    x_high: float | None = None
    y_low: float | None = None
    y_high: float | None = None
    x_log: bool = False
    y_log: bool = False
    also: tuple[str, ...] = ()
    runs: tuple[str, ...] = ()
    hidden: tuple[str, ...] = ()
    notes: tuple[Note, ...] = ()
    words_of: str = ""


@dataclass(frozen=True)
class ByEye:
    """A line that the bench has drawn by eye, in the units of the axes."""

    gradient: float
    intercept: float


@dataclass(frozen=True)
class Unknown:
    """Something whose x is wanted: its y as it was read, once or several times (never yet, in a plan), to be read back from the fit."""

    id: str
    name: str
    readings: tuple[str, ...]


@dataclass(frozen=True)
class RateStage:
    """A rate that holds only while a condition does: ``v > 0``."""

    id: str
    when: str
    rate: str


@dataclass(frozen=True)
class StateQuantity:
    """What a step-by-step model carries along.

    Attributes
    ----------
    symbol, unit
    start : str
        A number in that unit, or a formula over constants.
    rate : str
        How fast it changes with what is along x, over states, numbers and constants; where there are `stages`, while none of them holds.
    stages : tuple of RateStage
        The first whose condition holds counts.
    fitted : bool
        Its start is a parameter of the fit, begun at the number that is written.
    """

    id: str
    symbol: str
    unit: str
    start: str
    rate: str
    stages: tuple[RateStage, ...] = ()
    fitted: bool = False


@dataclass(frozen=True)
class ModelNumber:
    """A number of a model's own, which may be supposed to be another; a parameter of the fit where it is `fitted`."""

    id: str
    symbol: str
    unit: str
    value: str
    fitted: bool = False


@dataclass(frozen=True)
class StepModel:
    """A model that is computed step by step along what is along x of its graph (decision 43).

    Attributes
    ----------
    states : tuple of StateQuantity
    numbers : tuple of ModelNumber
    drawn : str
        What stands along y, a formula over states; empty for the state that has the symbol of that quantity.
    begins, step : str
        Where the start values hold, and how long a step is, in the unit of x; an empty step is chosen by the product.
    way : {"simple", "half", "fourth"}
    """

    states: tuple[StateQuantity, ...] = ()
    numbers: tuple[ModelNumber, ...] = ()
    drawn: str = ""
    begins: str = "0"
    step: str = ""
    way: Literal["simple", "half", "fourth"] = "fourth"


@dataclass(frozen=True)
class Fit:
    """A model through the points of a graph.

    Attributes
    ----------
    shape : str
        ``line``, the name of a shape, ``own`` with `formula` in x and its `parameters`, or ``steps`` with what is in `steps`.
    low, high : float or None
        Ends of the stretch of x that is fitted, in the unit of the axis; None for no limit.
    by_eye, steepest_by_eye, shallowest_by_eye : ByEye or None
        Kept beside the computed line, never corrected.
    show_extremes : bool
        Draw the steepest and the shallowest line.
    run, y : str
        The run and the quantity whose points are fitted; empty for the run that is looked at and the graph's own y.
    hidden : bool
        Not drawn for now; its numbers stay.
    show_equation : bool
        Write its equation on the graph.
    expected : str
        The exponent that is expected of a power: ``3/2``, ``-2``, ``0.5``; may be empty.
    unknowns : tuple of Unknown
    """

    id: str
    graph: str
    weights: WeightKind = "both_bars"
    through_origin: bool = False
    shape: str = "line"
    formula: str = ""
    parameters: tuple[str, ...] = ()
    low: float | None = None
    high: float | None = None
    by_eye: ByEye | None = None
    steepest_by_eye: ByEye | None = None
    shallowest_by_eye: ByEye | None = None
    show_extremes: bool = False
    hidden: bool = False
    show_equation: bool = False
    run: str = ""
    y: str = ""
    expected: str = ""
    unknowns: tuple[Unknown, ...] = ()
    steps: StepModel = StepModel()


@dataclass(frozen=True)
class Accepted:
    """A value to compare with, in the finding's unit."""

    value: str
    u: str
    source: str


@dataclass(frozen=True)
class Ingredient:
    """A number of the lab book that a finding's formula uses under a symbol of its own.

    Attributes
    ----------
    symbol : str
    kind : str
        ``fit``: a gradient, an intercept or another parameter (`part`) of a fit; ``mean``: of a quantity over a stretch of the changed
        quantity, or of another (`part`); ``read_forward`` and ``read_back``: off a fit at `at`; ``unknown``: one (`part`) of a fit's
        unknowns; ``tangent``: the slope of a fit at `at`; ``summit``: the `part` (place, value) of a curve's turn, in a stretch;
        ``largest`` and ``smallest``: the `part` (place, value) of that point of a graph, in a stretch; ``steepest``: the `part` (place,
        reading, rate) of a graph's steepest point, the reading taken at the fraction `at` of the place; ``area``: under the points of a
        graph; ``finding``: another finding.
    of : str
        The id of the fit, quantity, graph or finding.
    low, high : float or None
        Of a stretch, in the unit of the changed quantity or of the graph's x axis; both ends belong to it.
    run : str
        Of a mean: the run; empty for the one that is looked at.
    repeats : int
        Of ``read_back``: of how many readings `at` is the mean.
    """

    symbol: str
    kind: IngredientKind
    of: str
    part: str = ""
    at: str = ""
    low: float | None = None
    high: float | None = None
    run: str = ""
    repeats: int = 1


@dataclass(frozen=True)
class Finding:
    """A named result: a formula over constants, what it `uses`, and `gradient` and `intercept` (or the parameters) of its `fit`.

    Attributes
    ----------
    fit : str
        May be empty where the formula needs none.
    given : bool
        The plan's; a bench only adds findings of its own.
    compare : tuple of finding ids
        What it is compared with, besides an accepted value.
    rounded : str
        How the bench itself has rounded it, where the plan asks for that.
    needed : str
        What the bench would need to see before it says that this agrees with what it is compared with, where the plan asks for that.
    """

    id: str
    name: str
    symbol: str
    unit: str
    formula: str
    fit: str = ""
    accepted: Accepted | None = None
    uses: tuple[Ingredient, ...] = ()
    given: bool = True
    compare: tuple[str, ...] = ()
    rounded: str = ""
    needed: str = ""
