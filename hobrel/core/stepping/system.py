"""A model of a lab book put together: symbols read, units checked, everything in base units."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TypeVar

import numpy as np

from hobrel.core.document.choices import ModelNumber, StateQuantity, StepModel
from hobrel.core.document.limits import check_count
from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate, take_constant
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import FUNCTIONS, Call, Node, Number, Symbol, symbols_in, walk
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.stepping.conditions import Condition, read_condition
from hobrel.core.stepping.loops import Equations, Stage
from hobrel.core.uncertainty.traced import ONE_IN_KELVINS, ONE_ON_SCALE, Source, Traced
from hobrel.core.units.calculus import (
    KELVIN,
    Unit,
    convert,
    dimension_of,
    factor_to_base,
    multiply_units,
    parse_unit,
    raise_unit,
    write_unit,
)

_NAME = re.compile(r"[A-Za-z]+[0-9]*(_[A-Za-z0-9]+)*")
_ANY = Source("any", "any", np.asarray(0.0))
T = TypeVar("T")


@dataclass(frozen=True)
class Scale:
    """How numbers of a unit become base units: times `factor`, plus `offset`."""

    factor: float
    offset: float

    def to_base(self, value: float) -> float:
        """In base units."""
        return value * self.factor + self.offset


def scale_of(unit: Unit) -> Scale:
    """The scale of a unit; that of °C has an offset."""
    return Scale(factor_to_base(unit), convert(0.0, unit, KELVIN) if unit.is_offset else 0.0)


@dataclass(frozen=True)
class Slot:
    """A start value or a constant of a model.

    Attributes
    ----------
    name : str
        Its symbol, canonically spelled.
    value : Traced
        As it is written, with what it rests on.
    parameter : int or None
        Which parameter of the fit it is.
    """

    name: str
    value: Traced
    parameter: int | None = None

    def moved(self, source: Source) -> Slot:
        """The same where a constant is larger by its u."""
        by = self.value.slopes.get(source)
        return self if by is None else replace(self, value=replace(self.value, value=self.value.value + by * source.u))

    def in_base(self, parameters: np.ndarray[tuple[int], np.dtype[np.float64]]) -> float:
        """Its value in base units."""
        own = float(self.value.value) if self.parameter is None else float(parameters[self.parameter])
        return scale_of(self.value.unit).to_base(own)


@dataclass(frozen=True, eq=False)
class System:
    """What a model is made of.

    Attributes
    ----------
    equations : Equations
    starts, constants : tuple of Slot
        In the order of the states and of the constants in `equations`.
    along : Scale
        Of the unit of x.
    begins, step : float or None
        In the unit of x; no step where none is written.
    drawn : Node
        What stands along y, over states, constants and x.
    y : Scale
        Of its axis.
    parameters : tuple of (str, Unit, float)
        Those of the fit: symbol, unit, value that is written.
    """

    equations: Equations
    starts: tuple[Slot, ...]
    constants: tuple[Slot, ...]
    along: Scale
    begins: float
    step: float | None
    drawn: Node
    y: Scale
    parameters: tuple[tuple[str, Unit, float], ...]

    @property
    def sources(self) -> tuple[Source, ...]:
        """What the model rests on that is uncertain by itself: constants with their ±."""
        found = dict.fromkeys(s for slot in (*self.starts, *self.constants) if slot.parameter is None for s in slot.value.slopes)
        return tuple(s for s in found if float(s.u) > 0)

    def moved(self, source: Source) -> System:
        """The same system where a constant is larger by its u."""
        starts, constants = (tuple(slot.moved(source) for slot in slots) for slots in (self.starts, self.constants))
        return replace(self, starts=starts, constants=constants)


def build_system(model: StepModel, x: tuple[str, Unit], y: tuple[str, Unit], known: Mapping[str, Traced]) -> System:
    """Put a model together.

    Parameters
    ----------
    model : StepModel
    x, y : (str, Unit)
        Symbol and unit of what stands along the axes.
    known : mapping of symbol to Traced
        Constants of the lab book, single numbers.

    Raises
    ------
    CoreError
        ``bad_formula``, ``bad_unit``, ``bad_number``, ``bad_job``: what is wrong with it, its field ``item`` the id of the state, stage or
        number that it is about (``ID:start`` for the start of a state), ``drawn`` or ``step``.
    """
    check_count("states of a model", len(model.states))
    check_count("numbers of a model", len(model.numbers))
    if not model.states:
        raise CoreError("no_states", "A step-by-step model needs something that changes, and how fast it does. Begin with one below.")
    along, x_unit = canonical_name(x[0]), x[1]
    names = _name_all(model, along)
    units = {along: x_unit}
    numbers = {names[n.id]: (n, _about(n.id, parse_unit, n.unit)) for n in model.numbers}
    states = {names[s.id]: (s, _about(s.id, parse_unit, s.unit)) for s in model.states}
    units |= {name: unit for name, (_, unit) in (*numbers.items(), *states.items())}
    book = {name: value for name, value in known.items() if name not in units}
    allowed = frozenset({*units, *book})
    samples = {name: _sample(unit) for name, unit in units.items()} | {name: _sample(v.unit) for name, v in book.items()}

    def rates_of(state: StateQuantity, unit: Unit) -> tuple[Stage, ...]:
        check_count("stages of a rate", len(state.stages))
        wanted, _ = multiply_units(KELVIN if unit.is_offset else unit, raise_unit(KELVIN if x_unit.is_offset else x_unit, Fraction(-1)))
        stages: list[Stage] = []
        for stage in state.stages:
            condition = _about(stage.id, lambda stage=stage: _read_stage(stage.when, allowed, samples))
            stages.append((condition, _about(stage.id, lambda stage=stage: _read_rate(stage.rate, state.symbol, wanted, allowed, samples))))
        return (*stages, (None, _about(state.id, lambda: _read_rate(state.rate, state.symbol, wanted, allowed, samples))))

    rates = tuple(rates_of(state, unit) for state, unit in states.values())
    shown = model.drawn.strip() or y[0]
    drawn = _read_drawn(shown, y, states, allowed, samples)
    parameters: list[tuple[str, Unit, float]] = []

    def slot(name: str, value: Traced, parameter: str) -> Slot:
        if not parameter:
            return Slot(name, value)
        parameters.append((parameter, value.unit, float(value.value)))
        return Slot(name, value, len(parameters) - 1)

    starts = tuple(
        slot(name, _about(f"{s.id}:start", _read_start, s, unit, book), _start_name(s.symbol, names) if s.fitted else "")
        for name, (s, unit) in states.items()
    )
    constants = [slot(name, _about(n.id, _read_number, n, unit), n.symbol if n.fitted else "") for name, (n, unit) in numbers.items()]
    used = {s for stages in rates for c, node in stages for tree in (node, *((c.left, c.right) if c else ())) for s in symbols_in(tree)}
    others = sorted((used | symbols_in(drawn)) - {*units, "pi"})
    constants.extend(Slot(name, book[name] if name in book else take_constant(name)) for name in others)
    equations = Equations(rates, tuple(states), tuple(slot.name for slot in constants), along)
    begins = float(parse_reading(model.begins.strip() or "0", write_unit(x_unit)).value)
    return System(
        equations=equations,
        starts=starts,
        constants=tuple(constants),
        along=scale_of(x_unit),
        begins=begins,
        step=_read_step(model.step, x_unit),
        drawn=drawn,
        y=scale_of(y[1]),
        parameters=tuple(parameters),
    )


def is_model_symbol(symbol: str) -> bool:
    """Whether formulas can read this as the symbol of one thing."""
    name = canonical_name(symbol)
    return _NAME.fullmatch(name) is not None and name not in FUNCTIONS and name != "pi"


def _about(item: str, make: Callable[..., T], *given: object) -> T:
    """What is made of an item; what is wrong with it says which it is about.

    Raises
    ------
    CoreError
        What is wrong, with the field ``item``.
    """
    try:
        return make(*given)
    except CoreError as trouble:
        named = CoreError.told(trouble.code, trouble.message, {"item": item, **trouble.fields})
        raise named from trouble


def _name_all(model: StepModel, along: str) -> dict[str, str]:
    """Canonical names by id; each once, and none that of x.

    Raises
    ------
    CoreError
        ``bad_symbol``.
    """
    names: dict[str, str] = {}
    parts: tuple[StateQuantity | ModelNumber, ...] = (*model.states, *model.numbers)
    for part in parts:
        name = canonical_name(part.symbol)
        if not is_model_symbol(part.symbol):
            raise CoreError("bad_symbol", "“{symbol}” cannot be the symbol of something in a model.", symbol=part.symbol, item=part.id)
        if name == along or name in names.values():
            raise CoreError(
                "bad_symbol",
                "There are two {symbol} in this model. Give one of them an index.",
                symbol=write_symbol(part.symbol),
                item=part.id,
            )
        names[part.id] = name
    return names


def _start_name(symbol: str, names: Mapping[str, str]) -> str:
    """What the start of a state is called where it is a parameter: that of v is v₀, that of v_x is v_x0.

    Raises
    ------
    CoreError
        ``bad_symbol`` where that is something else.
    """
    name = f"{symbol}0" if "_" in symbol else f"{symbol}_0"
    if canonical_name(name) in names.values():
        raise CoreError("bad_symbol", "The start of {symbol} is called {name}, and that is something else here.", symbol=symbol, name=name)
    return name


def _sample(unit: Unit) -> Traced:
    """Something of a unit, for finding out what unit a formula has: no number, so that no operation lacks a value; it varies, so that it is
    no exponent of what has a unit.
    """
    return Traced(np.asarray(math.nan), {_ANY: np.asarray(1.0)}, unit, ONE_ON_SCALE if unit.is_offset else ONE_IN_KELVINS)


def _find_unit(node: Node, samples: Mapping[str, Traced]) -> Unit:
    """The unit of a formula; a logarithm in it needs a pure number, because what is stepped is in base units.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    for part in walk(node):
        if isinstance(part, Call) and part.function in ("ln", "log10") and dimension_of(inner := evaluate(part.of, samples).unit):
            words = "{function} needs a pure number here, and this is in {unit}. Divide by something of the same unit."
            raise CoreError("bad_unit", words, function=part.function, unit=write_unit(inner), at=part.at)
    return evaluate(node, samples).unit


def _read_rate(text: str, symbol: str, wanted: Unit, allowed: frozenset[str], samples: Mapping[str, Traced]) -> Node:
    if not text.strip():
        raise CoreError("bad_formula", "How fast does {symbol} change? Write its rate.", symbol=symbol, at=0)
    node = read_formula(text, allowed)
    if isinstance(node, Number) and node.value == 0:
        return node
    unit = _find_unit(node, samples)
    if dimension_of(unit) != dimension_of(wanted):
        raise CoreError(
            "bad_unit", "The rate of {symbol} is in {unit} here; it has to be in {wanted}.",
            symbol=symbol, unit=write_unit(unit) or "no unit", wanted=write_unit(wanted) or "no unit",
        )  # fmt: skip
    return node


def _read_stage(text: str, allowed: frozenset[str], samples: Mapping[str, Traced]) -> Condition:
    condition = read_condition(text, allowed)
    sides = (condition.left, condition.right)
    units = [_find_unit(side, samples) for side in sides if not (isinstance(side, Number) and side.value == 0)]
    if len(units) == 2 and dimension_of(units[0]) != dimension_of(units[1]):
        a, b = (write_unit(unit) or "no unit" for unit in units)
        raise CoreError("bad_unit", "{a} cannot be compared with {b}.", a=a, b=b)
    return condition


def _read_drawn(
    text: str, y: tuple[str, Unit], states: Mapping[str, object], allowed: frozenset[str], samples: Mapping[str, Traced]
) -> Node:
    if text == y[0] and canonical_name(text) not in states:
        words = "On this graph stands {symbol}. Give a state of the model that symbol, or write what of the model stands there."
        raise CoreError("bad_formula", words, symbol=text, item="drawn")
    node = _about("drawn", read_formula, text, allowed)
    unit = _about("drawn", _find_unit, node, samples)
    if not any(symbol in states for symbol in symbols_in(node)):
        raise CoreError("bad_formula", "What is drawn has to be made of what the model carries along.", item="drawn")
    if dimension_of(unit) != dimension_of(y[1]):
        raise CoreError(
            "bad_unit", "What is drawn is in {unit}, and the axis in {axis}.",
            unit=write_unit(unit) or "no unit", axis=write_unit(y[1]) or "no unit", item="drawn",
        )  # fmt: skip
    return node


def _read_number(number: ModelNumber, unit: Unit) -> Traced:
    return Traced(np.asarray(float(parse_reading(number.value, write_unit(unit)).value)), {}, unit)


def _read_start(state: StateQuantity, unit: Unit, book: Mapping[str, Traced]) -> Traced:
    """A number in the state's unit, or a formula over constants, which then brings their ± with it.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_formula``, ``bad_unit``.
    """
    try:
        return Traced(np.asarray(float(parse_reading(state.start, write_unit(unit)).value)), {}, unit)
    except CoreError as trouble:
        if not any(letter.isalpha() for letter in state.start):
            raise trouble.kept() from None
    node = read_formula(state.start, book)
    found = evaluate(node, book)
    if state.fitted and not isinstance(node, Symbol):
        raise CoreError(
            "bad_number", "A start that is fitted begins at a number: write one for {symbol}.", symbol=write_symbol(state.symbol)
        )
    scale, value = scale_of(unit), found.value
    if dimension_of(found.unit) != dimension_of(unit):
        raise CoreError(
            "bad_unit", "{symbol} begins with what is in {unit}; it has to be in {wanted}.",
            symbol=write_symbol(state.symbol), unit=write_unit(found.unit) or "no unit", wanted=write_unit(unit) or "no unit",
        )  # fmt: skip
    base = scale_of(found.unit)
    factor = base.factor / scale.factor
    return Traced(
        np.asarray((base.to_base(float(value)) - scale.offset) / scale.factor), {s: by * factor for s, by in found.slopes.items()}, unit
    )


def _read_step(text: str, unit: Unit) -> float | None:
    if not text.strip():
        return None
    step = float(parse_reading(text, write_unit(unit)).value)
    if not step > 0:
        raise CoreError("bad_number", "A step has a length above zero.", item="step")
    return step
