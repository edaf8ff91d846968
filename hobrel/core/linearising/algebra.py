"""Between our formula trees and SymPy, which is used only to differentiate, simplify and solve trees that we built."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import TYPE_CHECKING, Any

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula, split_symbols
from hobrel.core.formulas.tree import FUNCTIONS, Binary, Call, Negate, Node, Number, Power, Symbol
from hobrel.core.units.constants import constant_symbols

if TYPE_CHECKING:
    import sympy

_NAME = re.compile(r"[A-Za-z\u0370-\u03ff]+[0-9]*(?:_[A-Za-z0-9]+)*")


def names_in(text: str) -> set[str]:
    """Names that a relation's text uses, functions and π apart; each name written together is one symbol."""
    return {canonical_name(n) for n in _NAME.findall(text)} - set(FUNCTIONS) - {"pi", "log"}


def known_in(text: str, known: Collection[str]) -> frozenset[str]:
    """The symbols of a lab book with those that only its relation has (h₀, µ); letters written together stay what they are."""
    names = {canonical_name(k) for k in known}
    own = {n for n in names_in(text) if n not in constant_symbols() and split_symbols(n, names | set(constant_symbols())) is None}
    return frozenset(names | own)


_PROPORTIONAL = re.compile(r"[∝~∼]|proportional", re.IGNORECASE)


def read_relation(text: str, known: set[str] | None = None) -> tuple[Node, Node]:
    """Read “left = right”.

    Parameters
    ----------
    text : str
    known : set of str, optional
        Symbols; those written in the relation where not given.

    Raises
    ------
    CoreError
        ``bad_formula`` where it is not one equation.
    """
    sides = text.split("=")
    if len(sides) == 1 and _PROPORTIONAL.search(text):
        words = "A proportionality becomes a relation with its factor: give that a letter of its own, as in T^2 = k L."
        raise CoreError("bad_formula", words)
    if len(sides) != 2:
        raise CoreError("bad_formula", "A relation has one equals sign, as in T = 2 pi sqrt(L/g).")
    symbols = names_in(text) if known is None else known
    left, right = (read_formula(side, symbols, log_is_ln=True) for side in sides)
    return left, right


def to_algebra(node: Node, symbols: Mapping[str, sympy.Symbol]) -> Any:
    """A tree as a SymPy expression of given (positive) symbols.

    Raises
    ------
    AssertionError
        For a kind of node that the grammar does not have.
    """
    import sympy

    match node:
        case Number(text, _):
            return sympy.Rational(text)
        case Symbol("pi", _):
            return sympy.pi
        case Symbol(name, _):
            return symbols[name]
        case Negate(of, _):
            return -to_algebra(of, symbols)
        case Binary(op, left, right, _):
            a, b = to_algebra(left, symbols), to_algebra(right, symbols)
            return a + b if op == "+" else a - b if op == "-" else a * b if op == "*" else a / b
        case Power(base, exponent, _):
            return to_algebra(base, symbols) ** to_algebra(exponent, symbols)
        case Call("log10", of, _):
            return sympy.log(to_algebra(of, symbols)) / sympy.log(10)
        case Call(function, of, _):
            name = {"ln": "log", "abs": "Abs"}.get(function, function)
            return getattr(sympy, name)(to_algebra(of, symbols))
    raise AssertionError(node)


def to_text(expression: Any) -> str:
    """A SymPy expression in our grammar: ``4 pi^2/g``."""
    import sympy

    text = sympy.sstr(expression, order="grevlex")
    text = text.replace("**", "^").replace("*", " ")
    return re.sub(r"\blog\(", "ln(", text)
