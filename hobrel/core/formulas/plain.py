"""Formulas of pure numbers, made into steps once: for fits, which ask for values and slopes a thousand times.

What comes out is what `evaluate` gives, without units and without sources. Wherever the processor notices that something has no value,
FloatingPointError leaves it to `evaluate` to say what and where.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TypeAlias

import numpy as np

from hobrel.core.formulas.evaluate import FUNCTION_RULES, raise_to
from hobrel.core.formulas.tree import LARGEST_EXPONENT, Binary, Call, Negate, Node, Number, Power, Symbol
from hobrel.core.uncertainty.traced import Floats

Sloped: TypeAlias = tuple[Floats, Floats | None]
"""A value, and its slopes by what is sought: shape (k, N) or (k, 1); None where it depends on nothing that is sought."""
Steps: TypeAlias = Callable[[Mapping[str, Sloped]], Sloped]
_Combine: TypeAlias = Callable[[Floats, Floats | None, Floats, Floats | None], Sloped]


def make_steps(node: Node, names: frozenset[str]) -> Steps | None:
    """The steps of a formula whose symbols are all pure numbers called `names`; None where it has anything else in it."""
    match node:
        case Number():
            number = np.asarray(node.value)
            return lambda _: (number, None)
        case Symbol("pi", _) if "pi" not in names:
            return lambda _: (_PI, None)
        case Symbol(name, _) if name in names:
            return lambda given: given[name]
        case Negate(of, _):
            return _through(make_steps(of, names), np.negative, lambda x, value: _MINUS)
        case Binary(op, left, right, _):
            return _both(make_steps(left, names), make_steps(right, names), _COMBINED[op])
        case Power(base, Number() as n, _) if abs(n.value) <= LARGEST_EXPONENT:
            return _to_power(make_steps(base, names), n.value)
        case Power(base, Negate(Number() as n, _), _) if abs(n.value) <= LARGEST_EXPONENT:
            return _to_power(make_steps(base, names), -n.value)
        case Power(base, exponent, _):
            return _both(make_steps(base, names), make_steps(exponent, names), _power)
        case Call("sqrt", of, _):
            return _through(make_steps(of, names), np.sqrt, lambda x, value: 0.5 / value)
        case Call("abs", of, _):
            return _through(make_steps(of, names), np.abs, lambda x, value: np.where(x < 0, -1.0, 1.0))
        case Call(function, of, _) if function in FUNCTION_RULES:
            compute, slope, _reason = FUNCTION_RULES[function]
            return _through(make_steps(of, names), compute, lambda x, value: slope(x))
        case _:
            return None


_PI, _MINUS, _NOTHING = np.asarray(np.pi), np.asarray(-1.0), np.asarray(0.0)


def _through(inner: Steps | None, compute: Callable[[Floats], Floats], slope: Callable[[Floats, Floats], Floats]) -> Steps | None:
    if inner is None:
        return None

    def step(given: Mapping[str, Sloped]) -> Sloped:
        x, slopes = inner(given)
        value = compute(x)
        return value, None if slopes is None else slope(x, value) * slopes

    return step


def _to_power(base: Steps | None, n: float) -> Steps | None:
    return _through(base, lambda x: raise_to(x, n), lambda x, value: _slope_of_power(x, n))


def _slope_of_power(x: Floats, n: float) -> Floats:
    return n * x ** (n - 1) if n else _NOTHING


def _both(left: Steps | None, right: Steps | None, combine: _Combine) -> Steps | None:
    if left is None or right is None:
        return None

    def step(given: Mapping[str, Sloped]) -> Sloped:
        a, of_a = left(given)
        b, of_b = right(given)
        return combine(a, of_a, b, of_b)

    return step


def _plus(a: Floats | None, b: Floats | None) -> Floats | None:
    if a is None or b is None:
        return b if a is None else a
    return a + b


def _times(slopes: Floats | None, factor: Floats) -> Floats | None:
    return None if slopes is None else slopes * factor


def _add(a: Floats, of_a: Floats | None, b: Floats, of_b: Floats | None) -> Sloped:
    return a + b, _plus(of_a, of_b)


def _subtract(a: Floats, of_a: Floats | None, b: Floats, of_b: Floats | None) -> Sloped:
    return a - b, _plus(of_a, None if of_b is None else -of_b)


def _multiply(a: Floats, of_a: Floats | None, b: Floats, of_b: Floats | None) -> Sloped:
    return a * b, _plus(_times(of_a, b), _times(of_b, a))


def _divide(a: Floats, of_a: Floats | None, b: Floats, of_b: Floats | None) -> Sloped:
    quotient = a / b
    return quotient, _plus(None if of_a is None else of_a / b, None if of_b is None else of_b * (-quotient / b))


def _power(base: Floats, of_base: Floats | None, exponent: Floats, of_exponent: Floats | None) -> Sloped:
    if np.abs(exponent).max() > LARGEST_EXPONENT:
        raise FloatingPointError
    if of_exponent is None and not np.ndim(exponent):
        n = float(exponent)
        return raise_to(base, n), None if of_base is None else of_base * _slope_of_power(base, n)
    value = base**exponent
    by_base = None if of_base is None else of_base * (exponent * base ** (exponent - 1))
    return value, _plus(by_base, None if of_exponent is None else of_exponent * (value * np.log(base)))


_COMBINED = {"+": _add, "-": _subtract, "*": _multiply, "/": _divide}
