"""Where in a formula a temperature stands for its kelvins: in products, quotients, powers and functions, not in sums."""

from __future__ import annotations

from hobrel.core.formulas.tree import Binary, Call, Lookup, Negate, Node, Number, Power, Rate, Symbol


def stand_in_kelvins(node: Node) -> frozenset[str]:
    """Names of the symbols that nowhere stand by themselves or in a sum.

    There a temperature in °C is put in as so many kelvins, for 1/20 °C is no number that anybody could check; in a sum or a difference
    it stays on its scale (T/K = t/°C + 273.15: SI brochure, 9th edition, 2.3.1).
    """
    summed: set[str] = set()
    multiplied: set[str] = set()
    _sort(node, summed, multiplied, alone=True)
    return frozenset(multiplied - summed)


def _sort(node: Node, summed: set[str], multiplied: set[str], alone: bool) -> None:
    match node:
        case Symbol(name):
            (summed if alone else multiplied).add(name)
        case Negate(of):
            _sort(of, summed, multiplied, alone)
        case Binary("+" | "-", left, right):
            for part in (left, right):
                _sort(part, summed, multiplied, alone=True)
        case Binary(op, left, right):
            # a share of a temperature is one, as in the mean of two
            share = alone and (isinstance(right, Number) or (op == "*" and isinstance(left, Number)))
            for part in (left, right):
                _sort(part, summed, multiplied, alone=share)
        case Power(base, exponent):
            for part in (base, exponent):
                _sort(part, summed, multiplied, alone=False)
        case Call(function, of):
            _sort(of, summed, multiplied, alone=function in ("Delta", "mid", "abs"))
        case Lookup(_, of):
            _sort(of, summed, multiplied, alone=True)
        case Rate(_, of, by):
            for part in (of, by):
                _sort(part, summed, multiplied, alone=True)
        case Number():
            pass
