"""Formulas on one line, as rich text, with values put in: for a graph, where there is no room for fractions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from hobrel.core.formulas.tree import Binary, Call, Lookup, Negate, Node, Number, Power, Rate, Symbol, without_sign
from hobrel.core.formulas.typeset import RichRun, RichText, plain_text, rich_symbol
from hobrel.core.rounding import MINUS

_SUM, _VALUE, _PRODUCT, _POWER, _ATOM = range(1, 6)
_FUNCTIONS = {"sqrt": "√", "log10": "log₁₀"}


def write_on_one_line(node: Node, values: Mapping[str, str], expressions: Mapping[str, str]) -> RichText:
    """Write a formula with numbers in it.

    Parameters
    ----------
    node : Node
    values : mapping of symbol to text
        Numbers as they are shown, with their units, in place of their symbols. One with a unit, or below zero, gets brackets where it
        is multiplied or raised.
    expressions : mapping of symbol to symbol
        What else stands for a symbol, as the heading of a column does for x; it may be an expression such as ``L^3``.
    """
    runs: list[RichRun] = []
    for run in _Writer(values, expressions).write(node).text:
        if runs and runs[-1].style == run.style:
            runs[-1] = RichRun(runs[-1].text + run.text, run.style)
        else:
            runs.append(run)
    return tuple(runs)


@dataclass(frozen=True)
class _Piece:
    text: RichText
    level: int

    def within(self, level: int) -> RichText:
        return self.text if self.level >= level else (RichRun("("), *self.text, RichRun(")"))

    @property
    def positive(self) -> RichText | None:
        """Without the minus sign that it begins with; None where it has none."""
        first = self.text[0]
        return (RichRun(first.text[1:], first.style), *self.text[1:]) if first.text.startswith(MINUS) else None


class _Writer:
    def __init__(self, values: Mapping[str, str], expressions: Mapping[str, str]) -> None:
        self.values, self.expressions = values, expressions

    def write(self, node: Node) -> _Piece:
        match node:
            case Number(text, _):
                return _Piece((RichRun(text.replace("-", MINUS)),), _ATOM)
            case Symbol(name, _):
                return self._symbol(name)
            case Negate(of, _):
                return self._opposite(of)
            case Binary("*" | "/") if (bare := without_sign(node)) is not None:
                return self._opposite(bare)
            case Binary("+" | "-" as op, left, right, _):
                last = self.write(right)
                turned = last.positive
                plus = (op == "+") == (turned is None)
                after = turned if turned is not None else last.within(_VALUE if op == "-" else _SUM)
                return _Piece((*self.write(left).text, RichRun(" + " if plus else f" {MINUS} "), *after), _SUM)
            case Binary("/", left, right, _):
                return _Piece((*self.write(left).within(_PRODUCT), RichRun("/"), *self.write(right).within(_POWER)), _PRODUCT)
            case Binary(_, left, right, _):
                return _Piece((*self.write(left).within(_PRODUCT), RichRun(" "), *self.write(right).within(_PRODUCT)), _PRODUCT)
            case Power(base, exponent, _):
                return _Piece((*self.write(base).within(_ATOM), RichRun(plain_text(self.write(exponent).text), "sup")), _POWER)
            case Call("abs", of, _):
                return _Piece((RichRun("|"), *self.write(of).text, RichRun("|")), _ATOM)
            case Call(function, of, _):
                return _Piece((RichRun(_FUNCTIONS.get(function, function)), RichRun("("), *self.write(of).text, RichRun(")")), _ATOM)
            case Lookup(table, of, _):
                return _Piece((*rich_symbol(table.symbol), RichRun("("), *self.write(of).text, RichRun(")")), _ATOM)
            case Rate(function, of, by, _):
                both = (*self.write(of).text, RichRun(", "), *self.write(by).text)
                return _Piece((RichRun(function.replace("_", " ")), RichRun("("), *both, RichRun(")")), _ATOM)

    def _opposite(self, node: Node) -> _Piece:
        inner = self.write(node)
        turned = inner.positive
        return _Piece((RichRun(MINUS), *inner.within(_PRODUCT)), _SUM) if turned is None else _Piece(turned, inner.level)

    def _symbol(self, name: str) -> _Piece:
        if name in self.values:
            text = self.values[name]
            return _Piece((RichRun(text),), _VALUE if " " in text or text.startswith(MINUS) else _ATOM)
        written = self.expressions.get(name, name)
        plain = written.replace("_", "").isalnum()
        raised = written.replace("_", "").replace("^", "").isalnum()
        return _Piece(rich_symbol(written), _ATOM if plain else _POWER if raised else _SUM)
