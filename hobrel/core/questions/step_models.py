"""Beginnings of a step-by-step model for the points of a graph: usual equations, with units and numbers of about the right size."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from hobrel.core.document.choices import ModelNumber, StateQuantity, StepModel
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name
from hobrel.core.pipeline.computation import Computation
from hobrel.core.pipeline.points import axis_units, points_to_fit
from hobrel.core.presentation.stepped import write_rates_tex
from hobrel.core.rounding import write_place
from hobrel.core.sentences import Sentence, say
from hobrel.core.stepping.system import build_system, is_model_symbol
from hobrel.core.units.calculus import Unit, multiply_units, raise_unit, write_unit


@dataclass(frozen=True)
class ModelOffer:
    """A model to begin with, what it is like, and its equations typeset."""

    words: Sentence
    model: StepModel
    tex: str


def offer_models(computation: Computation, fit_id: str) -> tuple[ModelOffer, ...]:
    """Models to begin with: pushed steadily, held back, swinging, dying away, growing towards a limit.

    Their numbers are guesses of the right size from the ranges of the points, to be fitted or changed; they are no results.

    Raises
    ------
    CoreError
        As `points_of_fit`; ``too_few_points`` for fewer than three.
    """
    points, _ = computation.points_of_fit(fit_id)
    used = points_to_fit(points, computation.fit(fit_id))
    if np.count_nonzero(used) < 3:
        raise CoreError("too_few_points", "A model is begun from three or more points, and has {n}.", n=int(np.count_nonzero(used)))
    x, y = points.x[used], points.y[used]
    span, rise = float(np.ptp(x)) or 1.0, float(np.ptp(y)) or 1.0
    first = float(y[np.argmin(x)])
    along, heading = points.x_column.quantity.symbol, points.y_column.quantity.symbol
    begins = write_place(min(0.0, float(x.min())), 3)
    letters = _Letters({canonical_name(heading), canonical_name(along), *points.constants})
    # what is headed by an expression needs a symbol of its own in the model
    symbol, drawn = (heading, "") if is_model_symbol(heading) else (letters.take("y"),) * 2
    x_unit, y_unit = axis_units(points)
    of_rate, of_second, of_growth = (_per(y_unit, x_unit, 1), _per(y_unit, x_unit, 2), _per(Unit(), x_unit, 1))
    unit, of_square = write_unit(y_unit), _per(Unit(), x_unit, 2)
    rate, push, limit, share, stiff = (letters.take(wanted) for wanted in ("v", "a", "K", "c", "b"))

    def state(key: str, name: str, in_unit: str, start: float, formula: str) -> StateQuantity:
        return StateQuantity(key, name, in_unit, write_place(start, 3), formula)

    def number(key: str, name: str, in_unit: str, value: float) -> ModelNumber:
        return ModelNumber(key, name, in_unit, write_place(value, 2))

    towards = math.copysign(1.0, float(y[np.argmax(x)]) - first) * 2 * rise / span**2
    pushed = (state("y", symbol, unit, first, rate), state("rate", rate, of_rate, 0.0, push))
    held = (pushed[0], state("rate", rate, of_rate, 0.0, f"{push} - {share} {rate}"))
    swinging = (state("y", symbol, unit, first, rate), state("rate", rate, of_rate, 0.0, f"-{stiff} {symbol}"))
    dying = (state("y", symbol, unit, first, f"-{share} {symbol}"),)
    growing = (state("y", symbol, unit, first or rise / 20, f"{share} {symbol} (1 - {symbol} / {limit})"),)

    def offer(words: Sentence, states: tuple[StateQuantity, ...], *numbers: ModelNumber) -> ModelOffer:
        model = StepModel(states, numbers, drawn=drawn, begins=begins)
        return ModelOffer(
            words, model, write_rates_tex(build_system(model, (along, x_unit), (heading, y_unit), points.constants).equations)
        )

    force, back = number("push", push, of_second, towards), number("share", share, of_growth, 2 / span)
    swing = number("stiff", stiff, of_square, (2 * math.pi * 1.5 / span) ** 2)
    growth, top = number("share", share, of_growth, 6 / span), number("limit", limit, unit, 1.1 * float(y.max()))
    return (
        offer(say("model_pushed", "pushed steadily"), pushed, force),
        offer(say("model_held", "pushed, and held back the more the faster"), held, force, back),
        offer(say("model_swinging", "drawn back the more the farther: swings"), swinging, swing),
        offer(say("model_dying", "dies away in proportion to itself"), dying, back),
        offer(say("model_growing", "grows towards a limit"), growing, growth, top),
    )


class _Letters:
    """Symbols that nothing else has."""

    def __init__(self, taken: set[str]) -> None:
        self.taken = taken

    def take(self, wanted: str) -> str:
        name = next(n for n in (wanted, *(f"{wanted}_{i}" for i in range(1, 99))) if n not in self.taken)
        self.taken.add(name)
        return name


def _per(unit: Unit, along: Unit, power: int) -> str:
    """A unit over that of x, once or more often, as it is written."""
    found = unit
    for _ in range(power):
        found, _ = multiply_units(found, raise_unit(along, Fraction(-1)))
    return write_unit(found)
