"""The tree that a formula is read into. Every node knows where in the text it stands, for messages."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal, TypeAlias

from hobrel.core.formulas.tabulated import Tabulated

LARGEST_EXPONENT = 50
NEIGHBOUR_FUNCTIONS = ("Delta", "mid")
"""From one setting to the next: the difference from the one before, and the middle between the two."""
RATE_FUNCTIONS: dict[str, Literal["centred", "smoothed"]] = {"rate": "centred", "smooth_rate": "smoothed"}
"""How fast one thing changes with another at each setting: from the two neighbours, or smoothed over five settings."""
OF_NUMBERS = ("sqrt", "ln", "log10", "exp", "sin", "cos", "tan", "asin", "acos", "atan", "abs")
FUNCTIONS = (*OF_NUMBERS, *NEIGHBOUR_FUNCTIONS, *RATE_FUNCTIONS)


@dataclass(frozen=True)
class Number:
    """A number as it was written."""

    text: str
    at: int

    @property
    def value(self) -> float:
        """The number itself."""
        return float(self.text)


@dataclass(frozen=True)
class Symbol:
    """A quantity, a fitted parameter or a constant of nature, by its canonical name (Greek letters spelled out)."""

    name: str
    at: int


@dataclass(frozen=True)
class Binary:
    """A sum, difference, product or quotient; `at` is the place of its sign in the text."""

    op: Literal["+", "-", "*", "/"]
    left: Node
    right: Node
    at: int


@dataclass(frozen=True)
class Power:
    """A base with its exponent."""

    base: Node
    exponent: Node
    at: int


@dataclass(frozen=True)
class Negate:
    """The opposite of something."""

    of: Node
    at: int


@dataclass(frozen=True)
class Call:
    """A function of something."""

    function: str
    of: Node
    at: int


@dataclass(frozen=True)
class Lookup:
    """What a table of reference lists at something."""

    table: Tabulated
    of: Node
    at: int


@dataclass(frozen=True)
class Rate:
    """How fast something changes with something else, over the settings of a table; `function` is one of RATE_FUNCTIONS."""

    function: str
    of: Node
    by: Node
    at: int


Node: TypeAlias = Number | Symbol | Binary | Power | Negate | Call | Lookup | Rate


def children_of(node: Node) -> tuple[Node, ...]:
    """What a node is made of."""
    match node:
        case Binary(_, left, right) | Rate(_, left, right):
            return (left, right)
        case Power(base, exponent):
            return (base, exponent)
        case Negate(of) | Call(_, of) | Lookup(_, of):
            return (of,)
        case _:
            return ()


def without_sign(node: Node) -> Node | None:
    """A product or quotient that begins with a minus, without it; None where it does not."""
    match node:
        case Negate(of, _):
            return of
        case Binary("*" | "/" as op, left, right, at):
            bare = without_sign(left)
            return None if bare is None else Binary(op, bare, right, at)
    return None


def walk(node: Node) -> Iterator[Node]:
    """Every node of the tree, without recursion."""
    waiting = [node]
    while waiting:
        current = waiting.pop()
        yield current
        waiting.extend(children_of(current))


def goes_over_settings(node: Node) -> bool:
    """Whether a formula takes values from more than one setting."""
    return any(isinstance(n, Rate) or (isinstance(n, Call) and n.function in NEIGHBOUR_FUNCTIONS) for n in walk(node))


def symbols_in(node: Node) -> frozenset[str]:
    """Names of all symbols a formula uses."""
    return frozenset(n.name for n in walk(node) if isinstance(n, Symbol))


def tables_in(node: Node) -> dict[str, Tabulated]:
    """The tables that a formula looks something up in, by symbol."""
    return {n.table.symbol: n.table for n in walk(node) if isinstance(n, Lookup)}


def spell(node: Node) -> str:
    """The tree as a formula's text, the same for the same tree wherever it stood."""
    match node:
        case Number(text):
            return text
        case Symbol(name):
            return name
        case Binary(op, left, right):
            return f"({spell(left)} {op} {spell(right)})"
        case Power(base, exponent):
            return f"{spell(base)}^({spell(exponent)})"
        case Negate(of):
            return f"(-{spell(of)})"
        case Call(function, of):
            return f"{function}({_inside(of)})"
        case Lookup(table, of):
            return f"{table.symbol}({_inside(of)})"
        case Rate(function, of, by):
            return f"{function}({_inside(of)}, {_inside(by)})"


def _inside(node: Node) -> str:
    return spell(node)[1:-1] if isinstance(node, Binary) else spell(node)


def substitute(node: Node, inner: Mapping[str, Node]) -> Node:
    """The tree with some symbols replaced by trees of their own."""
    match node:
        case Symbol(name):
            return inner.get(name, node)
        case Binary(op, left, right, at):
            return Binary(op, substitute(left, inner), substitute(right, inner), at)
        case Power(base, exponent, at):
            return Power(substitute(base, inner), substitute(exponent, inner), at)
        case Negate(of, at):
            return Negate(substitute(of, inner), at)
        case Call(function, of, at):
            return Call(function, substitute(of, inner), at)
        case Lookup(table, of, at):
            return Lookup(table, substitute(of, inner), at)
        case Rate(function, of, by, at):
            return Rate(function, substitute(of, inner), substitute(by, inner), at)
        case _:
            return node
