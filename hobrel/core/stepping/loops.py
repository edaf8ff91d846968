"""One loop of plain arithmetic, made of the trees of all rates.

A hundred thousand steps in a tenth of a second leave a microsecond for each; walking trees takes ten. So the loop is written out as
Python and compiled. Its text is made of our own words alone: variables are called by their place (``s0``, ``c3``), numbers are written
from their value, functions are those of a fixed list, and nothing else is at hand where it runs. No text that a person has typed gets
into it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal, TypeAlias

from hobrel.core.errors import CoreError
from hobrel.core.formulas.tree import Binary, Call, Negate, Node, Number, Power, Symbol
from hobrel.core.stepping.conditions import Condition

StepWay: TypeAlias = Literal["simple", "half", "fourth"]
Stage: TypeAlias = tuple[Condition | None, Node]
"""A rate, and when it holds; the last stage of a rate holds otherwise."""
Loop: TypeAlias = Callable[..., None]

FUNCTIONS: Mapping[str, Callable[..., object]] = {
    "root": math.sqrt, "log": math.log, "log10": math.log10, "exp": math.exp, "sin": math.sin, "cos": math.cos, "tan": math.tan,
    "asin": math.asin, "acos": math.acos, "atan": math.atan, "size": math.fabs, "power": math.pow, "count": range,
}  # fmt: skip
"""All that is at hand where a loop runs."""
_CALLED = {"sqrt": "root", "ln": "log", "abs": "size"} | {
    name: name for name in ("log10", "exp", "sin", "cos", "tan", "asin", "acos", "atan")
}


@dataclass(frozen=True)
class Equations:
    """The rates of all states, in their order, over the names of states, of what does not change, and of what all goes along with."""

    rates: tuple[tuple[Stage, ...], ...]
    states: tuple[str, ...]
    constants: tuple[str, ...]
    along: str


@lru_cache(maxsize=128)
def make_loop(equations: Equations, way: StepWay) -> Loop:
    """A function of ``(start, h, count, *keep, *states, *constants)`` that takes `count` steps of `h`.

    `keep` are two functions for each state: they are told its value and its rate at the beginning and after each step.
    """
    return _make("loop", write_loop(equations, way))


@lru_cache(maxsize=128)
def make_rates(equations: Equations) -> Callable[..., tuple[float, ...]]:
    """A function of ``(along, *states, *constants)`` that gives all rates."""
    writing = _Writing(equations)
    rates = writing.rates("t", "s")
    states, constants = (_names(letter, count) for letter, count in (("s", len(equations.states)), ("c", len(equations.constants))))
    lines = [f"def rates({', '.join(['t', *states, *constants])}):", *writing.before, f"    return ({', '.join(rates)},)"]
    return _make("rates", "\n".join(lines))


def _make(name: str, text: str) -> Callable[..., Any]:
    """The function of a name that a text of our own words defines, with nothing else at hand."""
    space: dict[str, object] = {"__builtins__": {}, **FUNCTIONS}
    exec(compile(text, f"<{name}>", "exec"), space)  # our own words alone: see above
    made = space[name]
    assert callable(made)
    return made


def write_loop(equations: Equations, way: StepWay) -> str:
    """The text of the loop.

    Simple: Euler's step; half: by the rates in the middle of the step; fourth: Runge's and Kutta's four (E. Hairer, S. P. Nørsett,
    G. Wanner, *Solving Ordinary Differential Equations I*, 2nd ed., II.1, tables 1.1 and 1.2).
    """
    writing = _Writing(equations)
    some = range(len(equations.states))

    def all_of(text: str) -> list[str]:
        return [text.format(i=i) for i in some]

    def rates(into: str, along: str, states: str) -> list[str]:
        return [f"{into}{i} = {rate}" for i, rate in enumerate(writing.rates(along, states))]

    once = [*rates("k", "t", "s"), *all_of("value{i}(s{i})"), *all_of("rate{i}(k{i})")]
    middle = ["u = t + half", *all_of("m{i} = s{i} + half * k{i}"), *rates("l", "u", "m")]
    steps = {
        "simple": all_of("s{i} = s{i} + h * k{i}"),
        "half": [*middle, *all_of("s{i} = s{i} + h * l{i}")],
        "fourth": [
            *middle, *all_of("m{i} = s{i} + half * l{i}"), *rates("o", "u", "m"),
            "u = t + h", *all_of("m{i} = s{i} + h * o{i}"), *rates("w", "u", "m"),
            *all_of("s{i} = s{i} + sixth * (k{i} + 2.0 * (l{i} + o{i}) + w{i})"),
        ],
    }[way]  # fmt: skip
    keep = [name for i in some for name in (f"value{i}", f"rate{i}")]
    names = ["start", "h", "number", *keep, *_names("s", len(some)), *_names("c", len(equations.constants))]
    inside = [f"        {line}" for line in ("t = start + i * h", *once, *steps)]
    last = [f"    {line}" for line in ("t = start + number * h", *once)]
    head = [f"def loop({', '.join(names)}):", *writing.before, "    half, sixth = h / 2.0, h / 6.0", "    for i in count(number):"]
    return "\n".join([*head, *inside, *last])


def _names(letter: str, count: int) -> list[str]:
    return [f"{letter}{i}" for i in range(count)]


@dataclass(frozen=True)
class _Term:
    """A piece of arithmetic; `fixed`: it does not change from step to step; `bare`: a name or a number."""

    text: str
    fixed: bool
    bare: bool = False


class _Writing:
    """Trees as arithmetic. What does not change from step to step is worked out once, `before` the loop."""

    def __init__(self, equations: Equations) -> None:
        self.equations = equations
        self.once: dict[str, str] = {}

    @property
    def before(self) -> list[str]:
        return [f"    {name} = {text}" for text, name in self.once.items()]

    def rates(self, along: str, states: str) -> list[str]:
        """All rates, where `along` is what all goes along with and states are called by a letter and their place."""
        constants = zip(self.equations.constants, _names("c", len(self.equations.constants)), strict=True)
        names = {name: _Term(called, True, True) for name, called in constants}
        names |= {name: _Term(f"{states}{i}", False, True) for i, name in enumerate(self.equations.states)}
        names[self.equations.along] = _Term(along, False, True)
        return [self._stages(stages, names) for stages in self.equations.rates]

    def _stages(self, stages: Sequence[Stage], names: Mapping[str, _Term]) -> str:
        written = ""
        for condition, node in reversed(stages):
            rate = self._write(node, names).text
            if condition is None:
                written = rate
            else:
                left, right = (self._write(side, names).text for side in (condition.left, condition.right))
                written = f"({rate} if {left} {condition.sign} {right} else {written})"
        return written

    def _write(self, node: Node, names: Mapping[str, _Term]) -> _Term:
        match node:
            case Number():
                if not math.isfinite(node.value):
                    raise CoreError("bad_formula", "{number} is larger than any number here.", number=node.text, at=node.at)
                return _Term(repr(node.value), True, True)
            case Symbol(name) if name in names:
                return names[name]
            case Symbol("pi"):
                return _Term(repr(math.pi), True, True)
            case Negate(of):
                inner = self._write(of, names)
                return _Term(f"(-{inner.text})", inner.fixed)
            case Binary(op, left, right):
                return self._both("({} " + op + " {})", self._write(left, names), self._write(right, names))
            case Power(base, Number(text="2")) if (inner := self._write(base, names)).bare:
                return _Term(f"({inner.text} * {inner.text})", inner.fixed)
            case Power(base, exponent):
                return self._both("power({}, {})", self._write(base, names), self._write(exponent, names))
            case Call(function, of) if function in _CALLED:
                inner = self._write(of, names)
                return _Term(f"{_CALLED[function]}({inner.text})", inner.fixed)
        raise CoreError(
            "bad_formula",
            "A rate is made of what holds at one moment: no tables, and nothing that goes from setting to setting.",
            at=node.at,
        )

    def _both(self, form: str, left: _Term, right: _Term) -> _Term:
        if left.fixed != right.fixed:
            left, right = self._worked_out(left), self._worked_out(right)
        return _Term(form.format(left.text, right.text), left.fixed and right.fixed)

    def _worked_out(self, term: _Term) -> _Term:
        if not term.fixed or term.bare:
            return term
        return _Term(self.once.setdefault(term.text, f"q{len(self.once)}"), True, True)
