"""The shapes that can be fitted: their formulas, and starting values found by straightening.

Every shape is written in the same grammar that users have for a formula of their own, so there is one way of computing,
differentiating and typesetting a model.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.plain import Steps, make_steps
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.tree import Node, symbols_in
from hobrel.core.rounding import write_place
from hobrel.core.uncertainty.traced import Floats, Source, Traced

Starts = Callable[[Floats, Floats], list[list[float]]]
MOST_PARAMETERS = 12


@dataclass(frozen=True)
class Shape:
    """A model y = f(x; parameters).

    Attributes
    ----------
    name, words : str
        Stable name, and the formula in words for a list to choose from.
    formula : str
        In our grammar, over ``x`` and the parameters.
    parameters : tuple of str
    needs : str
        What x must be: ``any``, ``positive``, ``not_zero`` or ``not_negative``.
    log_is_ln : bool
        As in `read_formula`.
    patience : int
        How often a long search looks at it at the most.
    """

    name: str
    words: str
    formula: str
    parameters: tuple[str, ...]
    needs: str = "any"
    log_is_ln: bool = False
    patience: int = 500

    def over(self, x: Floats) -> Model:
        """The shape as something that can be computed over x."""
        return Model(self, x)

    def starts(self, x: Floats, y: Floats) -> list[list[float]]:
        """Starting values of a named shape, by straightening it; empty for a formula of one's own."""
        start = _STARTS.get(self.name)
        return start(x, y) if start else []

    @property
    def sources(self) -> tuple[Source, ...]:
        """What the shape rests on that is uncertain by itself, besides its points; a formula of parameters on nothing."""
        return ()

    def moved(self, source: Source) -> Shape:
        """The shape where one of its `sources` is larger by its u."""
        return self

    def check_domain(self, x: Floats) -> None:
        """Refuse x for which the shape has no value.

        Raises
        ------
        CoreError
            ``outside_domain``, with the indices.
        """
        bad = {"any": np.zeros(x.shape, dtype=bool), "positive": x <= 0, "not_zero": x == 0, "not_negative": x < 0}[self.needs]
        if np.any(bad):
            wanted = {"positive": "above zero", "not_zero": "other than zero", "not_negative": "not below zero"}[self.needs]
            rows = [int(i) for i in np.flatnonzero(bad)]
            raise CoreError(
                "outside_domain",
                "{words} needs every x {wanted}; point {point} is at x = {x}.",
                words=self.words,
                wanted=wanted,
                point=rows[0] + 1,
                x=write_place(float(x[rows[0]])),
                rows=rows,
            )


SHAPES = {
    s.name: s
    for s in (
        Shape("proportional", "Proportional, y = a x", "a x", ("a",)),
        Shape("line", "Straight line, y = a x + b", "a x + b", ("a", "b")),
        Shape("quadratic", "Quadratic, y = a x² + b x + c", "a x^2 + b x + c", ("a", "b", "c")),
        Shape("cubic", "Cubic, y = a x³ + b x² + c x + d", "a x^3 + b x^2 + c x + d", ("a", "b", "c", "d")),
        Shape("power", "Power, y = a xⁿ", "a x^n", ("a", "n"), "positive"),
        Shape("exponential", "Exponential, y = a exp(b x)", "a exp(b x)", ("a", "b")),
        Shape("exponential_offset", "Exponential with offset, y = a exp(b x) + c", "a exp(b x) + c", ("a", "b", "c")),
        Shape("inverse", "Inverse, y = a/x", "a / x", ("a",), "not_zero"),
        Shape("inverse_offset", "Inverse with offset, y = a/x + c", "a / x + c", ("a", "c"), "not_zero"),
        Shape("inverse_square", "Inverse square, y = a/x²", "a / x^2", ("a",), "not_zero"),
        Shape("square_root", "Square root, y = a √x", "a sqrt(x)", ("a",), "not_negative"),
        Shape("logarithm", "Logarithm, y = a ln x + b", "a ln(x) + b", ("a", "b"), "positive"),
        Shape("sine", "Sine, y = a sin(b x + c) + d", "a sin(b x + c) + d", ("a", "b", "c", "d")),
        Shape("logistic", "Logistic, y = a/(1 + exp(−b (x − c)))", "a / (1 + exp(-b (x - c)))", ("a", "b", "c")),
        Shape("saturation", "Saturation, y = a x/(b + x)", "a x / (b + x)", ("a", "b")),
    )
}


def find_shape(name: str) -> Shape:
    """Look a shape up by its name; spaces do for underscores, and “+ c” for an offset.

    Raises
    ------
    CoreError
        ``bad_job`` with the names there are.
    """
    plain = name.strip().lower().replace("(+ c)", "offset").replace("+ c", "offset").replace("-", "_")
    plain = "_".join(plain.split())
    if plain not in SHAPES:
        raise CoreError("bad_job", "There is no shape called {name}. There are: {shapes}.", name=name, shapes=", ".join(SHAPES))
    return SHAPES[plain]


def own_shape(formula: str, parameters: tuple[str, ...], x_symbol: str = "x", log_is_ln: bool = False) -> Shape:
    """A shape from a formula of one's own in x; `x_symbol` is what its maker calls that.

    Raises
    ------
    CoreError
        ``bad_formula`` where the formula cannot be read, has no x, or does not use a parameter.
    """
    if not parameters or len(parameters) > MOST_PARAMETERS:
        raise CoreError("bad_job", "A formula of one’s own has between 1 and {most} parameters.", most=MOST_PARAMETERS)
    shape = Shape("own", "This formula", formula, tuple(parameters), log_is_ln=log_is_ln)
    used = symbols_in(shape_node(shape))
    if "x" not in used:
        raise CoreError("bad_formula", "A model needs {symbol} in its formula.", symbol=x_symbol)
    for name in parameters:
        if name not in used:
            raise CoreError("bad_formula", "The formula does not use {name}.", name=name)
    return shape


@lru_cache(maxsize=512)
def shape_node(shape: Shape) -> Node:
    """The formula of a shape, read."""
    return read_formula(shape.formula, {"x", *shape.parameters}, shape.log_is_ln)


@lru_cache(maxsize=512)
def _steps_of(shape: Shape) -> Steps | None:
    return make_steps(shape_node(shape), frozenset({"x", *shape.parameters}))


_ONE, _ZERO = np.asarray(1.0), np.asarray(0.0)


class Model:
    """A shape that can be computed over x for given parameters; NaN where it has no value."""

    def __init__(self, shape: Shape, x: Floats) -> None:
        self.shape, self.x, self.names = shape, x, shape.parameters
        self._by_parameter = _each_alone(self.names)

    @cached_property
    def _by_all(self) -> dict[str, Floats]:
        return _each_alone((*self.names, "x"))

    @cached_property
    def node(self) -> Node:
        """The formula, read."""
        return shape_node(self.shape)

    @cached_property
    def _steps(self) -> Steps | None:
        return _steps_of(self.shape)

    def values(self, p: Floats, x: Floats | None = None) -> Floats:
        """f(x; p), shape (N,)."""
        return self._work_out(p, self.x if x is None else x, {})[0]

    def with_jacobian(self, p: Floats, x: Floats | None = None) -> tuple[Floats, Floats]:
        """f and ∂f/∂p, shapes (N,) and (N, k)."""
        values, slopes = self._work_out(p, self.x if x is None else x, self._by_parameter)
        return values, np.array(slopes, dtype=np.float64).T

    def slope(self, p: Floats, x: Floats | None = None) -> Floats:
        """∂f/∂x at fixed parameters, shape (N,)."""
        _, slopes = self._work_out(p, self.x if x is None else x, {"x": np.ones((1, 1))})
        return slopes.reshape(-1)

    def slopes(self, sets: Floats) -> Floats:
        """∂f/∂x for several sets of parameters, shape (sets, k): shape (sets, N)."""
        n = self.x.size
        return self.slope(np.repeat(sets, n, axis=0).T, np.tile(self.x, len(sets))).reshape(len(sets), n)

    def with_all_slopes(self, p: Floats, x: Floats | None = None) -> tuple[Floats, Floats, Floats]:
        """f, ∂f/∂p and ∂f/∂x, shapes (N,), (N, k) and (N,): together they cost little more than one of them."""
        values, slopes = self._work_out(p, self.x if x is None else x, self._by_all)
        together = np.array(slopes, dtype=np.float64)
        return values, together[:-1].T, together[-1]

    def _work_out(self, p: Floats, x: Floats, sought: Mapping[str, Floats]) -> tuple[Floats, Floats]:
        """Values, shape (N,), and slopes by what is sought, shape (k, N)."""
        given = {"x": x, **dict(zip(self.names, p, strict=True))}
        if self._steps is None:
            return self._evaluate(given, x, sought)
        try:
            with np.errstate(divide="raise", over="raise", invalid="raise", under="ignore"):
                values, slopes = self._steps({name: (value, sought.get(name)) for name, value in given.items()})
        except FloatingPointError:
            # somewhere is no value: the other way keeps what there is
            return self._evaluate(given, x, sought)
        shape = (len(sought), *x.shape)
        return _spread(values, x.shape), np.zeros(shape) if slopes is None else _spread(slopes, shape)

    def _evaluate(self, given: Mapping[str, Floats], x: Floats, sought: Mapping[str, Floats]) -> tuple[Floats, Floats]:
        sources = {name: Source(name, name, _ONE) for name in sought}
        traced = {name: Traced(np.asarray(value), {sources[name]: _ONE} if name in sources else {}) for name, value in given.items()}
        shape = (len(sought), *x.shape)
        try:
            found = evaluate(self.node, traced)
        except CoreError as trouble:
            # a unit or an exponent that cannot be will not get better with other parameters
            if trouble.code != "outside_domain":
                raise
            return np.full(x.shape, np.nan), np.full(shape, np.nan)
        slopes = [_spread(found.slopes.get(source, _ZERO), x.shape) for source in sources.values()]
        return _spread(found.value, x.shape), np.array(slopes).reshape(shape)


def _each_alone(names: tuple[str, ...]) -> dict[str, Floats]:
    """How each of these changes with each of them: shape (k, 1)."""
    return dict(zip(names, np.eye(len(names))[:, :, None], strict=True))


def _spread(value: Floats, shape: tuple[int, ...]) -> Floats:
    return value if np.shape(value) == shape else np.broadcast_to(value, shape)


def _line(x: Floats, y: Floats) -> tuple[float, float]:
    """Gradient and intercept of a plain line, for starting values only."""
    if x.size < 2 or np.ptp(x) == 0:
        return 0.0, float(y.mean()) if y.size else 0.0
    m, c = np.polynomial.polynomial.polyfit(x, y, 1)[::-1]
    return float(m), float(c)


def _start_power(x: Floats, y: Floats) -> list[list[float]]:
    sign = 1.0 if np.median(y) >= 0 else -1.0
    kept = (sign * y > 0) & (x > 0)
    n, c = _line(np.log(x[kept]), np.log(sign * y[kept]))
    return [[sign * math.exp(min(c, 300.0)), n], [float(np.median(y)), 1.0]]


def _start_exponential(x: Floats, y: Floats) -> list[list[float]]:
    sign = 1.0 if np.median(y) >= 0 else -1.0
    kept = sign * y > 0
    b, c = _line(x[kept], np.log(sign * y[kept]))
    return [[sign * math.exp(max(min(c, 300.0), -300.0)), b]]


def _start_offset(x: Floats, y: Floats) -> list[list[float]]:
    """Rates of both signs over the range, each with its own best a and c."""
    found = []
    for rate in (-30.0, -10.0, -3.0, -1.0, -0.3, 0.3, 1.0, 3.0, 10.0):
        b = rate / float(np.ptp(x))
        top = np.max(b * x)
        m, c = _line(np.exp(b * x - top), y)
        found.append([m * math.exp(-top), b, c] if abs(top) < 300 else [0.0, b, c])
    return found


def _start_sine(x: Floats, y: Floats) -> list[list[float]]:
    """The frequencies at which a sine and a cosine together leave the least over, from half a turn to N/2 turns."""
    span = float(np.ptp(x)) or 1.0
    scored = []
    for turns in np.linspace(0.25, max(2.0, x.size / 2), 16 * max(8, min(x.size, 256))):
        b = 2 * math.pi * turns / span
        basis = np.column_stack([np.sin(b * x), np.cos(b * x), np.ones_like(x)])
        amounts, *_ = np.linalg.lstsq(basis, y, rcond=None)
        rest = y - basis @ amounts
        scored.append((float(rest @ rest), b, amounts))
    scored.sort(key=lambda entry: entry[0])
    return [[math.hypot(s, c), b, math.atan2(c, s), d] for _, b, (s, c, d) in scored[:6]]


def _start_logistic(x: Floats, y: Floats) -> list[list[float]]:
    found = []
    for factor in (1.02, 1.2, 2.0):
        top = factor * float(y[np.argmax(np.abs(y))])
        share = np.clip(y / top, 1e-3, 1 - 1e-3)
        m, c = _line(x, np.log(share / (1 - share)))
        found.append([top, m or 1 / (float(np.ptp(x)) or 1.0), -c / m if m else float(x.mean())])
    return found


def _start_saturation(x: Floats, y: Floats) -> list[list[float]]:
    """x/y against x is a line of gradient 1/a and intercept b/a."""
    kept = (y != 0) & (x != 0)
    m, c = _line(x[kept], x[kept] / y[kept])
    plain = [2 * float(np.max(np.abs(y))), float(np.median(np.abs(x)))]
    return [[1 / m, c / m], plain] if m else [plain]


_STARTS: dict[str, Starts] = {
    "power": _start_power,
    "exponential": _start_exponential,
    "exponential_offset": _start_offset,
    "sine": _start_sine,
    "logistic": _start_logistic,
    "saturation": _start_saturation,
}
