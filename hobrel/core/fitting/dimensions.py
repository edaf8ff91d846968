"""With which powers of the units of x and y the parameters of a formula go."""

from __future__ import annotations

import numpy as np

from hobrel.core.formulas.tree import Binary, Call, Negate, Node, Number, Power, Symbol, symbols_in
from hobrel.core.uncertainty.traced import Floats


def find_exponents(node: Node, names: tuple[str, ...]) -> Floats:
    """Exponents of the units of x and y for each parameter, from what is added to what.

    Parameters
    ----------
    node : Node
        The formula of y over ``x`` and the parameters.
    names : tuple of str
        The parameters.

    Returns
    -------
    ndarray, shape (k, 2)
        Contradictions (a number that hides a unit) and freedom (a product of two parameters) are settled by least squares. A
        power whose exponent is a parameter counts as a pure number, as is usual for y = a xⁿ (a is y at x = 1 unit).
    """
    units = _Dimensions(names)
    result = units.visit(node)
    units.equal(result, units.base("y"))
    return units.solve()


class _Dimensions:
    """Exponents of the units of x and y in every part of a formula, as linear forms in those of the parameters."""

    def __init__(self, names: tuple[str, ...]) -> None:
        self.names = names
        self.rows: list[Floats] = []

    def base(self, name: str) -> Floats:
        """A form: one row each for the exponents of x and y; columns for the parameters' own exponents and a constant."""
        form = np.zeros((2, 2 * len(self.names) + 1))
        if name in ("x", "y"):
            form[("x", "y").index(name), -1] = 1
        elif name in self.names:
            place = 2 * self.names.index(name)
            form[0, place] = form[1, place + 1] = 1
        return form

    def equal(self, a: Floats, b: Floats) -> None:
        self.rows.extend(a - b)

    def visit(self, node: Node) -> Floats:
        match node:
            case Number():
                return self.base("")
            case Symbol(name, _):
                return self.base(name)
            case Negate(of, _):
                return self.visit(of)
            case Binary("+" | "-", left, right, _):
                a, b = self.visit(left), self.visit(right)
                self.equal(a, b)
                return a
            case Binary(op, left, right, _):
                return self.visit(left) + (self.visit(right) if op == "*" else -self.visit(right))
            case Power(base, exponent, _):
                inner = self.visit(base)
                number = _constant(exponent)
                if number is not None:
                    return inner * number
                self.equal(self.visit(exponent), self.base(""))
                return self.base("")
            case Call("sqrt", of, _):
                return self.visit(of) / 2
            case Call("abs", of, _):
                return self.visit(of)
            case Call(_, of, _):
                self.equal(self.visit(of), self.base(""))
                return self.base("")
        raise AssertionError(node)  # no table stands in the formula of a shape

    def solve(self) -> Floats:
        system = np.array(self.rows)
        solution, *_ = np.linalg.lstsq(system[:, :-1], -system[:, -1], rcond=None)
        return np.round(solution, 6).reshape(-1, 2)


def _constant(node: Node) -> float | None:
    """The value of a part without symbols that is a plain or negated number."""
    match node:
        case Number():
            return node.value
        case Negate(of, _):
            inner = _constant(of)
            return None if inner is None else -inner
        case Binary("/", left, right, _):
            a, b = _constant(left), _constant(right)
            return a / b if a is not None and b else None
        case _:
            return None if symbols_in(node) else 1.0
