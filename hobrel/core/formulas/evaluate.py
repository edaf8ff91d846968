"""Compute a formula over whole columns: values, units and derivatives in one pass.

Units follow quantity calculus. A temperature in °C takes part as an absolute temperature (T/K = t/°C + 273.15). The
argument of ln and log10 may carry a unit and is taken as the number of that unit (ln(N/unit)); exp and the trigonometric
functions need a pure number or an angle.

A column that was not measured somewhere has NaN there, which goes through quietly. An operation that makes something of
numbers that is not a number (a division by zero) is noticed by the processor's own flags, which costs nothing while all is well.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction
from functools import lru_cache
from typing import NoReturn

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.neighbours import NeighbourKind, Order, pair_neighbours, rate_over_settings
from hobrel.core.formulas.tabulated import Tabulated
from hobrel.core.formulas.tree import (
    LARGEST_EXPONENT,
    RATE_FUNCTIONS,
    Binary,
    Call,
    Lookup,
    Negate,
    Node,
    Number,
    Power,
    Rate,
    Symbol,
    spell,
)
from hobrel.core.sentences import Sentence, say
from hobrel.core.uncertainty.traced import ONE_IN_KELVINS, ONE_ON_SCALE, Floats, Source, Temperatures, Traced, chain, exact, measured
from hobrel.core.units.calculus import (
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
from hobrel.core.units.constants import find_constant
from hobrel.core.units.naming import without_plain_numbers


def evaluate(node: Node, values: Mapping[str, Traced], order: Order | None = None, without: dict[int, Sentence] | None = None) -> Traced:
    """Compute a formula.

    Parameters
    ----------
    node : Node
        From `read_formula`.
    values : mapping of symbol to Traced
        The lab book's quantities; rows must agree in length, scalars go with all.
    order : ndarray of int, optional
        Rows in the order in which settings are neighbours; formulas with Δ( ) and mid( ) need it.
    without : dict, optional
        Takes for each row that has no value although its operands have the reason, so that the other rows keep theirs. Without it, or where
        no row is left, such a row is an error.

    Returns
    -------
    Traced
        NaN in rows where an operand is missing.

    Raises
    ------
    CoreError
        ``bad_unit`` (adding metres to seconds), ``outside_domain`` (the logarithm of a negative number, a division by zero, an
        exponent out of reach).
    """
    try:
        with np.errstate(divide="raise", over="raise", invalid="raise", under="ignore"):
            return _Evaluation(values, order, True, None).visit(node)
    except FloatingPointError:
        # somewhere is no value: once more with every intermediate result kept, so that the message can name the setting
        return _Evaluation(values, order, False, without).visit(node)


def take_constant(symbol: str) -> Traced:
    """A constant of nature as a number that all rows share; one that is not exact rests on a source of its own.

    Raises
    ------
    CoreError
        ``bad_formula`` where there is none of this symbol.
    """
    constant = find_constant(symbol)
    unit = parse_unit(constant.unit)
    if constant.u == 0.0:
        return exact(constant.value, unit)
    return measured(Source(f"nature:{symbol}", symbol, np.asarray(constant.u), unit, shared=True), constant.value)


class _Evaluation:
    """One walk over the tree.

    With `reuse`, an intermediate column that nothing refers to any more takes the next result in its place, which spares the
    machine fetching new memory; a value that is no number then ends the walk with FloatingPointError.
    """

    def __init__(self, values: Mapping[str, Traced], order: Order | None, reuse: bool, without: dict[int, Sentence] | None) -> None:
        self.values = values
        self.order = order
        self.reuse = reuse
        self.without = without

    def visit(self, node: Node) -> Traced:
        match node:
            case Number():
                return _number(node)
            case Symbol():
                return self._symbol(node)
            case Negate(of, _):
                inner = self.visit(of)
                return chain(-inner.value, ((inner, lambda: np.asarray(-1.0)),), inner.unit, inner.temperatures.times(-1.0))
            case Binary(op, left, right, at):
                a, b = self.visit(left), self.visit(right)
                spare = self._spare(left, right, a, b)
                return self._add(a, b, 1 if op == "+" else -1, at, spare) if op in "+-" else self._multiply(a, b, op == "/", at, spare)
            case Power(base, exponent, at):
                return self._power(self.visit(base), self.visit(exponent), at)
            case Call("Delta" | "mid" as kind, of, at):
                return self._over_neighbours(kind, of, at)
            case Call(function, of, at):
                return self._apply(function, self.visit(of), at)
            case Lookup(table, of, at):
                return self._look_up(table, self.visit(of), at)
            case Rate():
                return self._rate(node)

    def _spare(self, left: Node, right: Node, a: Traced, b: Traced) -> Floats | None:
        """A column that may be written over: of the result's shape, made on this walk, and in nobody's derivative."""
        if not self.reuse or a.slopes or b.slopes:
            return None
        for node, operand, other in ((left, a, b), (right, b, a)):
            fits = operand.value.ndim and (not other.value.ndim or other.value.shape == operand.value.shape)
            if fits and not isinstance(node, Symbol | Number):
                return operand.value
        return None

    def _symbol(self, node: Symbol) -> Traced:
        if node.name in self.values:
            value = self.values[node.name]
            if value.unit.is_offset:
                factor = factor_to_base(value.unit)
                zero = 273.15 if value.unit.powers[0][0] == "°C" else 459.67 * 5 / 9
                kelvins = value.scaled(factor, KELVIN)
                # a difference of temperatures has the same kelvins whichever scale it is written on
                offset = 0.0 if value.temperatures.is_difference else zero
                return Traced(kelvins.value + offset, kelvins.slopes, KELVIN, value.temperatures)
            unit, factor = without_plain_numbers(value.unit)
            return value.scaled(factor, unit)
        if node.name == "pi":
            return _PI
        return take_constant(node.name)

    def _power(self, base: Traced, exponent: Traced, at: int) -> Traced:
        exponent = _pure(exponent, at, "An exponent")
        largest = abs(float(exponent.value)) if exponent.value.ndim == 0 else float(np.max(np.abs(exponent.value), initial=0.0))
        if largest > LARGEST_EXPONENT:
            raise CoreError("outside_domain", "The exponent becomes larger than {largest}.", largest=LARGEST_EXPONENT, at=at)
        if exponent.value.ndim == 0 and not exponent.slopes:
            n = float(exponent.value)
            value = self._compute(lambda: raise_to(base.value, n), (base,), at, f"has no power {n:g}")

            def slope() -> Floats:
                if n == 0:
                    return np.zeros_like(base.value)
                # without limit at the zero of a root: what is uncertain there has no ± that is known
                return np.asarray(n * base.value ** (n - 1))

            return chain(value, ((base, slope),), _raised(base.unit, n))
        base = _pure(base, at, "With an exponent that varies, the base")
        value = self._compute(lambda: np.asarray(base.value**exponent.value), (base, exponent), at, "has no such power")
        return chain(
            value,
            (
                (base, lambda: np.asarray(exponent.value * base.value ** (exponent.value - 1))),
                (exponent, lambda: np.asarray(np.where(value == 0, 0.0, value * np.log(base.value)))),
            ),
            NUMBER,
        )

    def _compute(self, operation: Callable[[], Floats], operands: tuple[Traced, ...], at: int, reason: str) -> Floats:
        """Carry an operation out, and refuse values that are not numbers although all operands were."""
        if self.reuse:
            return np.asarray(operation())
        with np.errstate(all="ignore"):
            value = np.asarray(operation())
        return _leave_out_bad(value, operands, at, reason, self.without)

    def _add(self, a: Traced, b: Traced, sign: int, at: int, spare: Floats | None) -> Traced:
        if a.unit != b.unit:
            if dimension_of(a.unit) != dimension_of(b.unit):
                _refuse_sum(a.unit, b.unit, sign, at)
            b = b.scaled(factor_to_base(b.unit) / factor_to_base(a.unit), a.unit)
        right = b.value
        value = self._compute(
            lambda: (np.add if sign > 0 else np.subtract)(a.value, right, out=spare), (a, b), at, "grows beyond all numbers"
        )
        of_sum = a.temperatures.plus(b.temperatures, sign) if _is_temperature(a.unit) else ONE_IN_KELVINS
        return chain(value, ((a, lambda: np.asarray(1.0)), (b, lambda: np.asarray(float(sign)))), a.unit, of_sum)

    def _multiply(self, a: Traced, b: Traced, divide: bool, at: int, spare: Floats | None) -> Traced:
        unit, factor = a.unit, 1.0
        if b.unit.powers:
            unit, factor = multiply_units(a.unit, raise_unit(b.unit, _INVERSE) if divide else b.unit)

        def scaled(number: Floats) -> Floats:
            return number if factor == 1.0 else np.asarray(number * factor)

        if divide:
            quotient = self._compute(lambda: np.divide(a.value, b.value, out=spare), (a, b), at, "divides by zero")
            return chain(
                scaled(quotient),
                ((a, lambda: scaled(np.asarray(1.0 / b.value))), (b, lambda: scaled(np.asarray(-quotient / b.value)))),
                unit,
                _shared_out(a, b, divide=True),
            )
        product = self._compute(lambda: np.multiply(a.value, b.value, out=spare), (a, b), at, "grows beyond all numbers")
        held = _shared_out(b, a) if a.unit.is_number else _shared_out(a, b)
        return chain(scaled(product), ((a, lambda: scaled(b.value)), (b, lambda: scaled(a.value))), unit, held)

    def _rate(self, node: Rate) -> Traced:
        of, by = self.visit(node.of), self.visit(node.by)
        order = self._order_for(node.function, (of, by), node.at)
        return rate_over_settings(of, by, RATE_FUNCTIONS[node.function], order, spell(node))

    def _order_for(self, kind: str, operands: tuple[Traced, ...], at: int) -> Order:
        """The order in which settings are neighbours, for what goes from one to the next.

        Raises
        ------
        CoreError
            ``bad_formula`` where there is none, or a quantity has one value for all settings.
        """
        if self.order is None or any(of.value.ndim == 0 for of in operands):
            raise CoreError(
                "bad_formula",
                "{kind}( ) goes from one setting to the next, so it needs a quantity that has a value at every setting.",
                kind=kind,
                at=at,
            )
        return self.order

    def _over_neighbours(self, kind: NeighbourKind, node: Node, at: int) -> Traced:
        of = self.visit(node)
        return pair_neighbours(of, kind, self._order_for(kind, (of,), at), f"{kind}({spell(node)})")

    def _look_up(self, table: Tabulated, of: Traced, at: int) -> Traced:
        if table.trouble is not None:
            raise table.trouble
        if dimension_of(of.unit) != dimension_of(table.at_unit):
            raise CoreError(
                "bad_unit",
                "The table {symbol} is listed against {wanted} and cannot be looked up at {has}.",
                symbol=table.symbol,
                wanted=table.against,
                has=write_unit(of.unit) or "a pure number",
                at=at,
            )
        where = of.scaled(factor_to_base(of.unit) / factor_to_base(table.at_unit), table.at_unit)
        listed, us, slope = table.look_up(where.value)
        if self.reuse and np.any(np.isfinite(where.value) & ~np.isfinite(listed)):
            raise FloatingPointError
        value = self._compute(lambda: listed, (where,), at, f"the table {table.symbol} goes {table.reach}")
        off = self.values.get(table.off_by) or table.take_off()
        terms: tuple[tuple[Traced, Callable[[], Floats]], ...] = ((where, lambda: slope),)
        if off is not None:
            value, terms = value + us * off.value, (*terms, (off, lambda: us))
        return chain(value, terms, table.unit, ONE_ON_SCALE if table.on_scale else ONE_IN_KELVINS)

    def _apply(self, function: str, of: Traced, at: int) -> Traced:
        if function == "sqrt":
            value = self._compute(lambda: np.asarray(np.sqrt(of.value)), (of,), at, "a square root needs a number that is not negative")
            return chain(value, ((of, lambda: np.asarray(0.5 / value)),), raise_unit(of.unit, Fraction(1, 2)))
        if function == "abs":
            return chain(np.abs(of.value), ((of, lambda: np.where(of.value < 0, -1.0, 1.0)),), of.unit, of.temperatures)
        argument = of if function in ("ln", "log10") else _pure(of, at, f"The argument of {function}")
        compute, derivative, reason = FUNCTION_RULES[function]
        value = self._compute(lambda: np.asarray(compute(argument.value)), (of,), at, reason)
        unit = parse_unit("rad") if function in ("asin", "acos", "atan") else NUMBER
        return chain(value, ((argument, lambda: np.asarray(derivative(argument.value))),), unit)


@lru_cache(maxsize=4096)
def _number(node: Number) -> Traced:
    return exact(node.value)


_PI = exact(float(np.pi))


@lru_cache(maxsize=4096)
def _is_temperature(unit: Unit) -> bool:
    return dimension_of(unit) == dimension_of(KELVIN)


def _shared_out(number: Traced, by: Traced, divide: bool = False) -> Temperatures:
    """A share of a temperature, as in the mean of two; multiplied with anything that varies or has a unit it stands for its kelvins."""
    if by.value.ndim or not by.unit.is_number or not by.value or not _is_temperature(number.unit):
        return ONE_IN_KELVINS
    return number.temperatures.times(1 / float(by.value) if divide else float(by.value))


def _raised(unit: Unit, n: float) -> Unit:
    return raise_unit(unit, Fraction(n).limit_denominator(1000)) if unit.powers else unit


def raise_to(value: Floats, n: float) -> Floats:
    """A power; whole ones up to four by multiplying, which is faster and rounds less."""
    if n == 2:
        return np.asarray(value * value)
    if n == 3:
        return np.asarray(value * value * value)
    if n == 4:
        square = value * value
        return np.asarray(square * square)
    return np.asarray(value**n)


def _leave_out_bad(value: Floats, operands: tuple[Traced, ...], at: int, reason: str, without: dict[int, Sentence] | None) -> Floats:
    known = np.ones(value.shape, dtype=bool)
    for operand in operands:
        known &= np.isfinite(operand.value)
    bad = known & ~np.isfinite(value)
    if without is not None and value.ndim and np.any(known & ~bad):
        for row in np.flatnonzero(bad).tolist():
            without[row] = say("no_value_here", "The formula has no value here: {reason}.", reason=reason)
        return np.where(bad, np.nan, value)
    if np.any(bad):
        rows = [int(i) for i in np.flatnonzero(np.atleast_1d(bad))]
        where = f" (setting {rows[0] + 1})" if value.ndim else ""
        raise CoreError("outside_domain", "The formula has no value here{where}: {reason}.", where=where, reason=reason, at=at, rows=rows)
    return value


def _refuse_sum(a: Unit, b: Unit, sign: int, at: int) -> NoReturn:
    verb = "added to" if sign > 0 else "subtracted from"
    first, second = (write_unit(u) or "a pure number" for u in (b, a))
    raise CoreError(
        "bad_unit", "{first} cannot be {verb} {second}. Look at the formula or at the units.", first=first, verb=verb, second=second, at=at
    )


_INVERSE = Fraction(-1)
FUNCTION_RULES: dict[str, tuple[Callable[[Floats], Floats], Callable[[Floats], Floats], str]] = {
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


def _pure(number: Traced, at: int, what: str) -> Traced:
    """A pure number: angles become radians, percent a fraction.

    Raises
    ------
    CoreError
        ``bad_unit``.
    """
    if number.unit.is_number:
        return number
    if dimension_of(number.unit):
        raise CoreError("bad_unit", "{what} must be a pure number, but its unit is {unit}.", what=what, unit=write_unit(number.unit), at=at)
    return number.scaled(factor_to_base(number.unit), NUMBER)
