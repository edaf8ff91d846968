"""From an expected relation to the plots that it makes straight, to what their gradient and intercept mean, and to the unknown.

A pair of forms is straight for a relation y = f(x) when the form of y, written as a function of the form of x, has a second
derivative of zero. That is decided by numbers at places of no significance; the algebra (SymPy) then gives the gradient.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, TypeVar

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import canonical_name, read_formula
from hobrel.core.formulas.tree import Call, Symbol, symbols_in, walk
from hobrel.core.linearising.algebra import names_in, read_relation, to_algebra, to_text
from hobrel.core.linearising.forms import ANGLE_FORMS, STANDARD_FORMS, Form

T = TypeVar("T")
# simplest first; those of the board, then powers that only a relation asks for
_FORMS = (*STANDARD_FORMS, "v^(3/2)", "v^4", "1/v^3", "v^(-3/2)", "v^(2/3)", "v^(1/3)", *ANGLE_FORMS)
# numbers of no significance; x stays small beside the constants, so that differences keep their sign
_PLACES = np.array([0.04, 0.09, 0.16, 0.23, 0.31])
_MOST_SHOWN = 6


@dataclass(frozen=True)
class RelationPlot:
    """A plot that the relation makes straight.

    Attributes
    ----------
    x_form, y_form : str
        In the relation's symbols: ``L``, ``T^2``.
    gradient_means, intercept_means : str
        Formulas in the relation's symbols; the intercept may be ``0``.
    unknown_from_gradient : str
        The unknown as a formula over ``gradient`` and the other symbols; empty where the gradient does not hold it.
    unknown_from_intercept : str
        The same over ``intercept``.
    """

    x_form: str
    y_form: str
    gradient_means: str
    intercept_means: str
    unknown_from_gradient: str
    unknown_from_intercept: str


@dataclass(frozen=True)
class _Straight:
    """A relation solved for y, its symbols by their canonical names, and the pairs of forms in which it is straight, simplest first."""

    x: str
    y: str
    unknown: str
    solved: Any
    symbols: Mapping[str, Any]
    pairs: tuple[tuple[str, str], ...]


def find_straight_plots(relation: str, x: str, y: str, unknown: str = "", known: frozenset[str] | None = None) -> tuple[RelationPlot, ...]:
    """Find the plots of y against x that a relation makes straight, simplest first.

    Parameters
    ----------
    relation : str
        “T = 2 pi sqrt(L/g)”; either side may hold x and y. All symbols are taken to be positive.
    x, y : str
        Symbols of the changed and the measured quantity.
    unknown : str
        Symbol wanted; may be empty.
    known : frozenset of str, optional
        All symbols of the lab book, where letters written together are to be split into them.

    Raises
    ------
    CoreError
        ``bad_formula`` where the relation cannot be read or does not hold x and y; ``outside_domain`` where it cannot be solved
        for y; ``did_not_converge`` where no pair of the forms makes it straight.
    """
    return _raised(_explain_plots(relation, x, y, unknown, known))


def find_straight_forms(relation: str, x: str, y: str, known: frozenset[str] | None = None) -> tuple[tuple[str, str], ...]:
    """Find the forms of x and of y in which a relation is straight: `find_straight_plots` in a fifth of its time, without what they mean.

    Returns
    -------
    Pairs in the relation's symbols, simplest first: ``("L", "T^2")``.
    """
    straight = _raised(_find_straight(relation, x, y, "", known))
    return tuple((Form(x_form).of(straight.x), Form(y_form).of(straight.y)) for x_form, y_form in straight.pairs)


def _raised(found: T | CoreError) -> T:
    """What was found and kept; troubles are kept as well, for they take as long to find."""
    if isinstance(found, CoreError):
        raise found.kept()
    return found


@lru_cache(maxsize=256)
def _explain_plots(relation: str, x: str, y: str, unknown: str, known: frozenset[str] | None) -> tuple[RelationPlot, ...] | CoreError:
    straight = _find_straight(relation, x, y, unknown, known)
    if isinstance(straight, CoreError):
        return straight
    plots = [plot for pair in straight.pairs[:_MOST_SHOWN] if (plot := _plot(straight, *pair)) is not None]
    if not plots:
        return _no_straight_line()
    ranked = sorted(plots, key=lambda entry: entry[0])
    return tuple(plot for _, plot in ranked)


@lru_cache(maxsize=256)
def _find_straight(relation: str, x: str, y: str, unknown: str, known: frozenset[str] | None) -> _Straight | CoreError:
    try:
        return _solve_straight(relation, x, y, unknown, known)
    except CoreError as trouble:
        return trouble.kept()


def _no_straight_line() -> CoreError:
    return CoreError("did_not_converge", "None of the usual forms makes this relation a straight line.")


def _solve_straight(relation: str, x: str, y: str, unknown: str, known: frozenset[str] | None) -> _Straight:
    import sympy

    x, y, unknown = (canonical_name(s) for s in (x, y, unknown))
    left, right = read_relation(relation, None if known is None else {canonical_name(k) for k in known})
    names = names_in(relation) if known is None else {canonical_name(k) for k in known}
    # constants of nature are symbols of the relation too
    written = (symbols_in(left) | symbols_in(right)) - {"pi"}
    symbols = {name: sympy.Symbol(name, positive=True) for name in sorted(names | written | {x, y})}
    equation = to_algebra(left, symbols) - to_algebra(right, symbols)
    for needed in (x, y, *([unknown] if unknown else [])):
        if needed not in symbols or not equation.has(symbols[needed]):
            raise CoreError("bad_formula", "The relation does not hold {needed}.", needed=needed)
    solved = _solve(equation, symbols[y])
    if solved is None:
        raise CoreError("outside_domain", "The relation cannot be solved for {y}.", y=y)
    asked = {(n.function, n.of.name) for side in (left, right) for n in walk(side) if isinstance(n, Call) and isinstance(n.of, Symbol)}
    forms = (tuple(f for f in _FORMS if f not in ANGLE_FORMS or (f[:3], name) in asked) for name in (x, y))
    pairs = sorted(_straight_pairs(solved, symbols, x, *forms), key=lambda pair: _place(*pair))
    if not pairs:
        raise _no_straight_line()
    return _Straight(x=x, y=y, unknown=unknown, solved=solved, symbols=symbols, pairs=tuple(pairs))


def _place(x_form: str, y_form: str) -> tuple[int, int]:
    """Where a pair stands among those that are straight: simple forms first, and then the simpler one upwards."""
    return _FORMS.index(x_form) + _FORMS.index(y_form), _FORMS.index(y_form)


def _numbers(symbols: Mapping[str, Any], x: str) -> dict[Any, float]:
    return {s: 0.9 + 0.11 * i for i, s in enumerate(symbols.values()) if s != symbols[x]}


def _straight_pairs(
    solved: Any, symbols: Mapping[str, Any], x: str, x_forms: tuple[str, ...], y_forms: tuple[str, ...]
) -> list[tuple[str, str]]:
    """Pairs of forms in which the relation is straight, decided by numbers at a few places."""
    others = _numbers(symbols, x)
    try:
        y_values = np.array([complex(solved.subs({symbols[x]: place, **others}).evalf()) for place in _PLACES])
    except (TypeError, ValueError):
        return []
    if np.any(np.abs(y_values.imag) > 1e-12 * np.abs(y_values)):
        return []
    in_x = {form: formed.values for form in x_forms if (formed := Form(form).apply(_PLACES)) is not None}
    in_y = {form: formed.values for form in y_forms if (formed := Form(form).apply(y_values.real)) is not None}
    pairs = []
    for x_form, xs in in_x.items():
        for y_form, ys in in_y.items():
            slopes = np.diff(ys) / np.diff(xs)
            if np.all(np.abs(slopes - slopes[0]) <= 1e-9 * np.max(np.abs(ys)) / np.ptp(xs)):
                pairs.append((x_form, y_form))
    return pairs


def _plot(straight: _Straight, x_form: str, y_form: str) -> tuple[tuple[bool, int, int], RelationPlot] | None:
    import sympy

    solved, symbols, unknown = straight.solved, straight.symbols, straight.unknown
    variable = symbols[straight.x]
    in_x = _apply(x_form, variable)
    numbers = {**_numbers(symbols, straight.x), variable: _PLACES[2]}
    formed = sympy.powdenest(sympy.expand_log(_apply(y_form, solved), force=True), force=True)
    formed = formed.replace(sympy.Abs, lambda inner: inner if inner.subs(numbers).evalf() > 0 else -inner)
    gradient = _tidy(sympy.diff(formed, variable) / sympy.diff(in_x, variable))
    intercept = sympy.simplify(formed - gradient * sympy.expand_log(in_x, force=True))
    if gradient.has(variable) or intercept.has(variable) or gradient == 0:
        return None
    by_gradient, by_intercept = ("" if not unknown else _unknown_from(part, symbols[unknown], word) for part, word in
                                 ((gradient, "gradient"), (intercept, "intercept")))  # fmt: skip
    plot = RelationPlot(
        x_form=Form(x_form).of(straight.x),
        y_form=Form(y_form).of(straight.y),
        gradient_means=to_text(gradient),
        intercept_means=to_text(_tidy(intercept)),
        unknown_from_gradient=by_gradient,
        unknown_from_intercept=by_intercept,
    )
    missing = bool(unknown) and not by_gradient
    return (missing, *_place(x_form, y_form)), plot


def _unknown_from(expression: Any, unknown: Any, word: str) -> str:
    import sympy

    if not expression.has(unknown):
        return ""
    number, opposite = sympy.Symbol(word, real=True), sympy.Symbol("opposite", positive=True)
    solved = _solve(expression - number, unknown)
    if solved is None:
        return ""
    tidy = _tidy(solved)
    if tidy.has(sympy.I):
        # the root of a gradient that is below zero is that of its opposite; of the two signs the positive one is meant
        turned = _tidy(tidy.subs(number, -opposite))
        tidy = (turned if _at_ones(turned) > 0 else -turned).subs(opposite, -number)
    return "" if tidy.has(sympy.I) else to_text(tidy)


def _solve(equation: Any, unknown: Any) -> Any:
    """The positive solution, or None."""
    import sympy

    # SymPy drops solutions that it cannot show to be positive, so the unknown is solved for without its sign
    plain = sympy.Symbol(unknown.name, real=True)
    try:
        # its own check and its simplifying take most of the time; numbers check as well, and what is kept is made tidy later
        solutions = sympy.solve(equation.subs(unknown, plain), plain, simplify=False, check=False)
    except NotImplementedError:
        return None
    solutions = [s for s in solutions if not s.has(sympy.I)]
    if not solutions:
        return None
    holding = [s for s in solutions if abs(_at_ones(equation.subs(unknown, s))) < 1e-9]
    best = max(holding or solutions, key=_at_ones)
    return best.subs(plain, unknown)


def _at_ones(expression: Any) -> float:
    """Its value with every symbol near one; −∞ where that is not real."""
    value = expression.subs({s: 0.9 + 0.21 * i for i, s in enumerate(sorted(expression.free_symbols, key=str))}).evalf()
    return float(value) if value.is_real else -np.inf


def _tidy(expression: Any) -> Any:
    import sympy

    return sympy.powdenest(sympy.simplify(sympy.expand_log(expression, force=True)), force=True)


@lru_cache(maxsize=64)
def _as_algebra(form: str) -> tuple[Any, Any]:
    """The letter v as a positive symbol, and a form as an expression of it."""
    import sympy

    v = sympy.Symbol("v", positive=True)
    return v, to_algebra(read_formula(form, {"v"}), {"v": v})


def _apply(form: str, to: Any) -> Any:
    v, expression = _as_algebra(form)
    return expression.subs(v, to)
