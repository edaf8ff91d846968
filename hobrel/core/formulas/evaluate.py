"""Compute a formula over whole columns: values, units and derivatives in one pass.

Units follow quantity calculus. A temperature in °C takes part as an absolute temperature (T/K = t/°C + 273.15). The
argument of ln and log10 may carry a unit and is taken as the number of that unit (ln(N/unit)); exp and the trigonometric
functions need a pure number or an angle.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction

import numpy as np

from hobrel.core.constants import find_constant
from hobrel.core.errors import CoreError
from hobrel.core.formulas.tree import Binary, Call, Negate, Node, Number, Power, Symbol
from hobrel.core.uncertainty.traced import Floats, Source, Traced, chain, exact
from hobrel.core.units import (
    KELVIN,
    NUMBER,
    Unit,
    dimension_of,
    factor_to_base,
    multiply_units,
    parse_unit,
    raise_unit,
    write_unit,
)

LARGEST_EXPONENT = 50


def evaluate(node: Node, values: Mapping[str, Traced], sources: dict[str, Source] | None = None) -> Traced:
    """Compute a formula.

    Parameters
    ----------
    node : Node
        From `read_formula`.
    values : mapping of symbol to Traced
        The lab book's quantities; rows must agree in length, scalars go with all.
    sources : dict, optional
        Register of sources. A constant of nature with an uncertainty is added to it as a shared source.

    Returns
    -------
    Traced
        NaN in rows where an operand is missing.

    Raises
    ------
    CoreError
        ``bad_unit`` (adding metres to seconds), ``outside_domain`` (the logarithm of a negative number, a division by zero),
        ``bad_formula`` (an exponent out of reach).
    """
    return _Evaluation(values, sources if sources is not None else {}).visit(node)


class _Evaluation:
    def __init__(self, values: Mapping[str, Traced], sources: dict[str, Source]) -> None:
        self.values = values
        self.sources = sources

    def visit(self, node: Node) -> Traced:
        match node:
            case Number():
                return exact(node.value)
            case Symbol():
                return self._symbol(node)
            case Negate(of, _):
                inner = self.visit(of)
                return chain(-inner.value, ((inner, np.asarray(-1.0)),), inner.unit)
            case Binary(op, left, right, at):
                a, b = self.visit(left), self.visit(right)
                with np.errstate(all="ignore"):
                    result = _add(a, b, 1 if op == "+" else -1, at) if op in "+-" else _multiply(a, b, op == "/")
                return _checked(result, (a, b), at, "divides by zero" if op == "/" else "grows beyond all numbers")
            case Power(base, exponent, at):
                return self._power(self.visit(base), self.visit(exponent), at)
            case Call(function, of, at):
                return _apply(function, self.visit(of), at)

    def _symbol(self, node: Symbol) -> Traced:
        if node.name in self.values:
            value = self.values[node.name]
            if value.unit.is_offset:
                factor = factor_to_base(value.unit)
                zero = 273.15 if value.unit.powers[0][0] == "°C" else 459.67 * 5 / 9
                kelvins = value.scaled(factor, KELVIN)
                return Traced(kelvins.value + zero, kelvins.slopes, KELVIN)
            return value
        if node.name == "pi":
            return exact(float(np.pi))
        constant = find_constant(node.name)
        unit = parse_unit(constant.unit)
        key = f"nature:{node.name}"
        constant_value = np.asarray(constant.value)
        if constant.u == 0.0:
            return Traced(constant_value, {}, unit)
        self.sources[key] = Source(key, node.name, np.asarray(constant.u), unit, shared=True)
        return Traced(constant_value, {key: np.asarray(1.0)}, unit)

    def _power(self, base: Traced, exponent: Traced, at: int) -> Traced:
        exponent = _pure(exponent, at, "An exponent")
        if np.any(np.abs(exponent.value) > LARGEST_EXPONENT):
            raise CoreError("bad_formula", f"The exponent is larger than {LARGEST_EXPONENT}.", {"at": at})
        if exponent.value.ndim == 0 and not exponent.slopes:
            n = float(exponent.value)
            with np.errstate(all="ignore"):
                value = np.asarray(base.value**n)
                slope = np.asarray(n * base.value ** (n - 1)) if n != 0 else np.zeros_like(base.value)
            slope = np.where(np.isfinite(slope), slope, 0.0) if n > 0 else slope
            result = chain(value, ((base, slope),), raise_unit(base.unit, Fraction(n).limit_denominator(1000)))
            return _checked(result, (base,), at, f"has no power {n:g}")
        base = _pure(base, at, "With an exponent that varies, the base")
        with np.errstate(all="ignore"):
            value = np.asarray(base.value**exponent.value)
            by_base = np.asarray(exponent.value * base.value ** (exponent.value - 1))
            by_exponent = np.asarray(value * np.log(base.value))
        return _checked(chain(value, ((base, by_base), (exponent, by_exponent)), NUMBER), (base, exponent), at, "has no such power")


def _add(a: Traced, b: Traced, sign: int, at: int) -> Traced:
    if a.unit != b.unit:
        if dimension_of(a.unit) != dimension_of(b.unit):
            verb = "added to" if sign > 0 else "subtracted from"
            first, second = (write_unit(u) or "a pure number" for u in (b.unit, a.unit))
            raise CoreError("bad_unit", f"{first} cannot be {verb} {second}. Look at the formula or at the units.", {"at": at})
        b = b.scaled(factor_to_base(b.unit) / factor_to_base(a.unit), a.unit)
    return chain(a.value + sign * b.value, ((a, np.asarray(1.0)), (b, np.asarray(float(sign)))), a.unit)


def _multiply(a: Traced, b: Traced, divide: bool) -> Traced:
    unit, factor = multiply_units(a.unit, raise_unit(b.unit, Fraction(-1)) if divide else b.unit)
    if divide:
        value, by_a = a.value / b.value, 1.0 / b.value
        by_b = -value / b.value
    else:
        value, by_a, by_b = a.value * b.value, b.value, a.value
    return chain(np.asarray(value * factor), ((a, np.asarray(by_a * factor)), (b, np.asarray(by_b * factor))), unit)


_FUNCTIONS: dict[str, tuple[Callable[[Floats], Floats], Callable[[Floats], Floats], str]] = {
    "ln": (np.log, lambda x: 1 / x, "a logarithm needs a number above zero"),
    "log10": (np.log10, lambda x: 1 / (x * np.log(10.0)), "a logarithm needs a number above zero"),
    "exp": (np.exp, np.exp, "the exponential grows beyond all numbers"),
    "sin": (np.sin, np.cos, "the sine has no value there"),
    "cos": (np.cos, lambda x: -np.sin(x), "the cosine has no value there"),
    "tan": (np.tan, lambda x: 1 / np.cos(x) ** 2, "the tangent has no value there"),
    "asin": (np.arcsin, lambda x: 1 / np.sqrt(1 - x * x), "an arcsine needs a number from −1 to 1"),
    "acos": (np.arccos, lambda x: -1 / np.sqrt(1 - x * x), "an arccosine needs a number from −1 to 1"),
    "atan": (np.arctan, lambda x: 1 / (1 + x * x), "the arctangent has no value there"),
}


def _apply(function: str, of: Traced, at: int) -> Traced:
    with np.errstate(all="ignore"):
        if function == "sqrt":
            value = np.sqrt(of.value)
            result = chain(value, ((of, np.where(value > 0, 0.5 / value, 0.0)),), raise_unit(of.unit, Fraction(1, 2)))
            return _checked(result, (of,), at, "a square root needs a number that is not negative")
        if function == "abs":
            return chain(np.abs(of.value), ((of, np.sign(of.value)),), of.unit)
        argument = of if function in ("ln", "log10") else _pure(of, at, f"The argument of {function}")
        compute, derivative, reason = _FUNCTIONS[function]
        value = np.asarray(compute(argument.value))
        unit = parse_unit("rad") if function in ("asin", "acos", "atan") else NUMBER
        return _checked(chain(value, ((argument, np.asarray(derivative(argument.value))),), unit), (of,), at, reason)


def _pure(number: Traced, at: int, what: str) -> Traced:
    """A pure number: angles become radians, percent a fraction."""
    if number.unit.is_number:
        return number
    if dimension_of(number.unit):
        raise CoreError("bad_unit", f"{what} must be a pure number, but its unit is {write_unit(number.unit)}.", {"at": at})
    return number.scaled(factor_to_base(number.unit), NUMBER)


def _checked(result: Traced, operands: tuple[Traced, ...], at: int, reason: str) -> Traced:
    """Refuse values that are not numbers although all operands were."""
    if np.all(np.isfinite(result.value)):
        return result
    known = np.ones(result.value.shape, dtype=bool)
    for operand in operands:
        known &= np.isfinite(operand.value)
    bad = known & ~np.isfinite(result.value)
    if np.any(bad):
        rows = [int(i) for i in np.flatnonzero(np.atleast_1d(bad))]
        where = f" (setting {rows[0] + 1})" if result.value.ndim else ""
        raise CoreError("outside_domain", f"The formula has no value here{where}: {reason}.", {"at": at, "rows": rows})
    return result


def unit_of_result(node: Node, units: Mapping[str, Unit]) -> Unit:
    """The unit that a formula's result has, worked out from the units of its symbols."""
    ones = {name: Traced(np.asarray(0.5), {}, unit) for name, unit in units.items()}
    return evaluate(node, ones).unit
