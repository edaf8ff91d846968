"""A step-by-step model as a shape that can be fitted: what is ticked are its parameters, x and y are those of the axes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.fitting.shapes import Model, Shape
from hobrel.core.formulas.plain import Sloped, Steps, make_steps
from hobrel.core.rounding import write_place
from hobrel.core.stepping.loops import StepWay
from hobrel.core.stepping.solving import MOST_STEPS_ALONG, Beginning, Path, solve_closely, step_along
from hobrel.core.stepping.system import System
from hobrel.core.uncertainty.traced import Floats, Source

MOST_STEPS_FITTED = 9_000
"""Of one look of a fit, which goes along once and twice more for each parameter."""
UNSTABLE = 0.1
"""Share of what y covers by which a model may miss its own equations and still be drawn."""
_USUAL_STEPS = 200
_PLACES = 201
_NUDGE = 6e-6
"""About the cube root of the smallest share that numbers can differ by: where central differences are best (common practice)."""
_MOST_KEPT = 8
_PATIENCE = 60
_TRIED = (1.0, 0.3, 3.0, 0.1)


@dataclass(frozen=True, eq=False)
class SteppedShape(Shape):
    """A model, with the step (in the unit of x) and the way it is walked along."""

    system: System = field(kw_only=True, repr=False)
    step: float = field(kw_only=True)
    way: StepWay = field(kw_only=True)
    drawn: Steps = field(kw_only=True, repr=False)
    kept: dict[bytes, Path] = field(default_factory=dict, kw_only=True, repr=False)

    def over(self, x: Floats) -> Model:
        """The model as something that can be computed over x."""
        return SteppedModel(self, x)

    def starts(self, x: Floats, y: Floats) -> list[list[float]]:
        """The values that are written; and others of their kind, for where these lead nowhere."""
        return [[factor * value for _, _, value in self.system.parameters] for factor in _TRIED]

    @property
    def sources(self) -> tuple[Source, ...]:
        """Constants with their ±, as far as they are in the model."""
        return self.system.sources

    def moved(self, source: Source) -> SteppedShape:
        """The same model where a constant is larger by its u."""
        return replace(self, system=self.system.moved(source), kept={})

    def halved(self) -> SteppedShape:
        """The same model with half the step."""
        return replace(self, step=self.step / 2, kept={})

    def begin(self, p: Floats) -> Beginning:
        """Where it begins, in base units."""
        system = self.system
        starts, constants = (tuple(slot.in_base(p) for slot in slots) for slots in (system.starts, system.constants))
        return Beginning(system.along.to_base(system.begins), starts, constants)

    def paths(self, p: Floats, low: float, high: float) -> tuple[Path, ...]:
        """The way to the left of where it begins and the way to the right, at least as far as these x; what has been walked is kept."""
        found = []
        for side, end in ((-1, low), (1, high)):
            reach = min(side * (end - self.system.begins), self.step * MOST_STEPS_ALONG)
            if reach < 0 or (reach == 0 and side < 0):
                continue
            key = bytes([side + 1]) + p.tobytes()
            path = self.kept.get(key)
            to = self.system.along.to_base(self.system.begins + side * max(reach, self.step))
            if path is None or not path.reaches(to):
                path = step_along(self.system.equations, self.begin(p), to, self.step * self.system.along.factor, self.way)
                if len(self.kept) >= _MOST_KEPT:
                    self.kept.clear()
                self.kept[key] = path
            found.append(path)
        return tuple(found)

    def show(self, states: Floats, slopes: Floats | None, x: Floats, p: Floats) -> tuple[Floats, Floats]:
        """What is drawn of states at x, and its slope; both in the units of the axes."""
        system = self.system
        given: dict[str, Sloped] = {
            name: (value, None if slopes is None else slopes[i : i + 1])
            for i, (name, value) in enumerate(zip(system.equations.states, states, strict=True))
        }
        given[system.equations.along] = (system.along.factor * x + system.along.offset, None if slopes is None else np.ones((1, 1)))
        given |= {slot.name: (np.asarray(slot.in_base(p)), None) for slot in system.constants}
        with np.errstate(all="ignore"):
            value, slope = self.drawn(given)
        shown = np.broadcast_to((value - system.y.offset) / system.y.factor, x.shape)
        return shown, np.zeros(x.shape) if slope is None else np.broadcast_to(slope[0] * system.along.factor / system.y.factor, x.shape)


class SteppedModel(Model):
    """A step-by-step model over x for given parameters; NaN where it has no value."""

    def __init__(self, shape: SteppedShape, x: Floats) -> None:
        super().__init__(shape, x)
        self.stepped = shape

    def slopes(self, sets: Floats) -> Floats:
        """∂f/∂x for several sets of parameters: each is a path of its own."""
        return np.array([self.slope(p) for p in sets])

    def _work_out(self, p: Floats, x: Floats, sought: Mapping[str, Floats]) -> tuple[Floats, Floats]:
        x, p = np.asarray(x, dtype=np.float64), np.asarray(p, dtype=np.float64)
        values, slopes = self._shown(p, x)
        by = [slopes if name == "x" else self._by(p, x, self.names.index(name)) for name in sought]
        return values, np.array(by).reshape(len(sought), x.size)

    def _by(self, p: Floats, x: Floats, i: int) -> Floats:
        nudge = _NUDGE * (abs(float(p[i])) or abs(self.stepped.system.parameters[i][2]) or 1.0)
        either = []
        for sign in (1.0, -1.0):
            moved = p.copy()
            moved[i] += sign * nudge
            either.append(self._shown(moved, x)[0])
        return np.asarray((either[0] - either[1]) / (2 * nudge))

    def _shown(self, p: Floats, x: Floats) -> tuple[Floats, Floats]:
        count = len(self.stepped.system.equations.states)
        states, slopes = np.full((count, x.size), math.nan), np.full((count, x.size), math.nan)
        known = x[np.isfinite(x)]
        # while it looks for the best, a fit asks for places and numbers that are none
        if known.size and np.all(np.isfinite(p)):
            along = self.stepped.system.along
            places = along.factor * x + along.offset
            for path in self.stepped.paths(p, float(known.min()), float(known.max())):
                values, by = path.at(places)
                there = np.isfinite(values[0]) & ~np.isfinite(states[0])
                states[:, there], slopes[:, there] = values[:, there], by[:, there]
        return self.stepped.show(states, slopes, x, p)


def make_stepped(system: System, way: StepWay, reach: tuple[float, float]) -> SteppedShape:
    """A system as a shape, for points whose x lie within a reach.

    Raises
    ------
    CoreError
        ``too_large`` for more steps than anybody waits for; ``bad_formula`` where what is drawn cannot be worked out at one moment.
    """
    names = frozenset({*system.equations.states, *system.equations.constants, system.equations.along})
    drawn = make_steps(system.drawn, names)
    if drawn is None:
        raise CoreError("bad_formula", "What is drawn is made of what holds at one moment.", item="drawn")
    longest = max(abs(end - system.begins) for end in reach)
    step = system.step or _choose_step(longest)
    most = MOST_STEPS_FITTED // (2 * len(system.parameters) + 1) if system.parameters else MOST_STEPS_ALONG
    if longest / step > most * (1 + 1e-9):
        words = "That would be {count} steps; {most} are the most{when}. Take a longer step."
        count, when = f"{math.ceil(longest / step):,}", " where something is fitted" if system.parameters else ""
        raise CoreError("too_large", words, count=count, most=f"{most:,}", when=when, item="step")
    return SteppedShape(
        "steps",
        "Step by step",
        "",
        tuple(name for name, _, _ in system.parameters),
        patience=_PATIENCE,
        system=system,
        step=step,
        way=way,
        drawn=drawn,
    )


def _choose_step(reach: float) -> float:
    """A round step, of which about two hundred reach all points."""
    if not reach > 0:
        return 1.0
    rough = reach / _USUAL_STEPS
    power = 10.0 ** math.floor(math.log10(rough))
    return float(f"{max(f for f in (1, 2, 5) if f * power <= rough * (1 + 1e-9)) * power:.1g}")


@dataclass(frozen=True)
class StepCheck:
    """How far a model is from its own equations, over all points and from where it begins.

    Attributes
    ----------
    shape : SteppedShape
    x : ndarray, shape (N,)
    halved : ndarray, shape (N,)
        y with half the step.
    by_halving, from_closely : float
        How far y moves at most when the step is halved, and how far it is from what SciPy's solver finds (None where that gives up).
    covers : float
        What y covers, by the best of the three.
    """

    shape: SteppedShape
    x: Floats
    halved: Floats
    by_halving: float
    from_closely: float | None
    covers: float

    @property
    def is_unstable(self) -> bool:
        """Whether the steps have lost what the equations say."""
        worst = self.by_halving if self.from_closely is None else self.from_closely
        return worst > UNSTABLE * self.covers and worst > 0


def check_steps(shape: SteppedShape, p: Floats, low: float, high: float) -> StepCheck:
    """Hold a model against half the step and against the adaptive solver.

    Raises
    ------
    CoreError
        ``steps_stopped`` where it has no value at some place that is wanted, ``unstable_steps`` where it has lost its own equations.
    """
    low, high = min(low, shape.system.begins), max(high, shape.system.begins)
    x = np.linspace(low, high, _PLACES)
    values = shape.over(x).values(p)
    if not np.all(np.isfinite(values)):
        paths = shape.paths(p, low, high)
        why = next((path.stopped for path in paths if path.stopped), "a number that is none")
        place = x[~np.isfinite(values)]
        nearest = float(place[np.argmin(np.abs(place - shape.system.begins))])
        words = "From about {symbol} = {x} on the model has no value: {why}."
        raise CoreError("steps_stopped", words, symbol=shape.system.equations.along, x=write_place(nearest), why=why)
    halved = shape.halved().over(x).values(p)
    closely = _shown_closely(shape, p, x)
    best = halved if closely is None else closely
    covers = float(np.ptp(best)) if np.all(np.isfinite(best)) else 0.0
    check = StepCheck(
        shape=shape,
        x=x,
        halved=halved,
        by_halving=_farthest(values, halved),
        from_closely=None if closely is None else _farthest(values, closely),
        covers=covers,
    )
    if check.is_unstable:
        raise CoreError(
            "unstable_steps",
            "With steps of {step} the model runs away from its own equations: y would be wrong by up to {off}, where it covers {covers}. "
            "Try steps of {smaller}.",
            step=write_place(shape.step), off=write_place(check.by_halving if check.from_closely is None else check.from_closely),
            covers=write_place(covers), smaller=write_place(_choose_step(shape.step * _USUAL_STEPS / 4)), item="step",
        )  # fmt: skip
    return check


def _farthest(a: Floats, b: Floats) -> float:
    with np.errstate(all="ignore"):
        return float(np.max(np.abs(a - b))) if np.all(np.isfinite(b)) else math.inf


def _shown_closely(shape: SteppedShape, p: Floats, x: Floats) -> Floats | None:
    system, beginning = shape.system, shape.begin(p)
    states = np.array([[start] * x.size for start in beginning.starts])
    sizes = np.max(np.abs([path.values for path in shape.paths(p, float(x[0]), float(x[-1]))][-1]), axis=1)
    for side in (-1, 1):
        there = side * (x - system.begins) > 0
        if not np.any(there):
            continue
        places = (system.along.factor * x[there] + system.along.offset)[::side]
        found = solve_closely(system.equations, beginning, places, sizes)
        if found is None:
            return None
        states[:, there] = found[:, ::side]
    return shape.show(states, None, x, p)[0]
