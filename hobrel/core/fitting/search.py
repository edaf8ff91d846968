"""Starting values for a formula of one's own, from the data and the formula alone.

Three ideas: parameters in which the formula is linear need no start, they follow from the others by linear least squares
(G. H. Golub and V. Pereyra, SIAM J. Numer. Anal. 10, 413 (1973)); the size of the others follows from what they stand beside,
since a term that is added to 1 has no unit and b x has the unit of what it is added to; a quotient of two sums is linear
after multiplying out (C. K. Sanathanan and J. Koerner, IEEE Trans. Autom. Control 8, 56 (1963)).
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np

from hobrel.core.fitting.dimensions import find_exponents
from hobrel.core.fitting.shapes import Model, Shape
from hobrel.core.formulas.tree import Binary, Call, Negate, Node, Power, Symbol
from hobrel.core.uncertainty.traced import Floats

# samples drawn, and starts kept, by the number of parameters that are not linear
SAMPLES = (1, 150, 300, 600, 900)
KEPT = (1, 6, 12, 24, 40)
SEED = 7


def search_starts(model: Model, y: Floats, w: Floats) -> list[Floats]:
    """Good starting points, best first.

    Parameters
    ----------
    model : Model
    y, w : ndarray, shape (N,)
        `w` multiplies residuals: 1/u, or ones.
    """
    random = np.random.default_rng(SEED)
    scales = _scales(model.node, model.names, model.x, y)
    linear = _linear_parameters(model, scales.sizes, random)
    free = [i for i in range(len(model.names)) if i not in linear]
    starts = _multiply_out(model, y, w)
    candidates = [np.zeros(0)] if not free else _sample(model, free, scales, random)
    scored: list[tuple[float, Floats]] = []
    for z in candidates:
        p = np.ones(len(model.names))
        p[free] = z
        projected = _project(model, p, linear, y, w)
        if projected is not None:
            scored.append(projected)
    scored.sort(key=lambda entry: entry[0])
    return starts + [p for _, p in scored[: KEPT[min(len(free), 4)]]]


def _project(model: Model, p: Floats, linear: tuple[int, ...], y: Floats, w: Floats) -> tuple[float, Floats] | None:
    """Sum of squares with the linear parameters at their best for the given others."""
    values, jacobian = model.with_jacobian(p)
    if not (np.all(np.isfinite(values)) and np.all(np.isfinite(jacobian))):
        return None
    best = p.copy()
    rest = y - values
    if linear:
        columns = jacobian[:, linear] * w[:, None]
        size = np.sqrt(np.sum(columns**2, axis=0))
        if not np.all(size > 0) or not np.all(np.isfinite(size)):
            return None
        step, *_ = np.linalg.lstsq(columns / size, rest * w, rcond=1e-12)
        best[list(linear)] += step / size
        rest = rest - jacobian[:, linear] @ (step / size)
    ss = float(np.sum((w * rest) ** 2))
    return (ss, best) if np.isfinite(ss) else None


def _sample(model: Model, free: list[int], scales: _Scales, random: np.random.Generator) -> list[Floats]:
    """Points for the parameters that are not linear: of either sign and of sizes around their scale, or within the range of x.

    Features are as long as the range of x or shorter, so lengths are drawn below it and rates above its inverse; every third
    sample reaches wider.
    """
    low, high = float(model.x.min()), float(model.x.max())
    places = [at for at, i in enumerate(free) if model.names[i] in _location_parameters(model.node)]
    along_x = scales.along_x[free]
    drawn = []
    for turn in range(SAMPLES[min(len(free), 4)]):
        if turn % 3:
            shift = np.where(along_x != 0, along_x * random.uniform(-2.0, 0.5, len(free)), random.uniform(-1.0, 1.0, len(free)))
        else:
            shift = random.uniform(-2.5, 2.5, len(free))
        z = random.choice((-1.0, 1.0), len(free)) * scales.sizes[free] * 10**shift
        if turn % 2:
            for at in places:
                z[at] = random.uniform(low - 0.2 * (high - low), high + 0.2 * (high - low))
        drawn.append(z)
    return drawn


def _linear_parameters(model: Model, sizes: Floats, random: np.random.Generator) -> tuple[int, ...]:
    """The largest set of parameters in which the formula is linear together: derivatives by one do not depend on another."""
    count = len(model.names)
    depends = np.zeros((count, count), dtype=bool)
    known = False
    for _ in range(12):
        p = sizes * random.uniform(0.3, 1.2, count)
        _, before = model.with_jacobian(p)
        for j in range(count):
            moved = p.copy()
            moved[j] *= 1.37
            _, after = model.with_jacobian(moved)
            if not (np.all(np.isfinite(before)) and np.all(np.isfinite(after))):
                continue
            known = True
            size = np.max(np.abs(before), axis=0) + np.max(np.abs(after), axis=0)
            depends[:, j] |= np.max(np.abs(after - before), axis=0) > 1e-9 * size
    if not known:
        return ()
    depends |= depends.T
    for size in range(count, 0, -1):
        for chosen in itertools.combinations(range(count), size):
            if not depends[np.ix_(chosen, chosen)].any():
                return chosen
    return ()


def _multiply_out(model: Model, y: Floats, w: Floats) -> list[Floats]:
    """Starts for a quotient of two expressions that are linear in all parameters: top − y·bottom = 0, reweighted a few times."""
    node = model.node
    if not (isinstance(node, Binary) and node.op == "/"):
        return []
    top, bottom = (_Part(model, part) for part in (node.left, node.right))
    zero = np.zeros(len(model.names))
    parts = [part.with_jacobian(zero) for part in (top, bottom)]
    elsewhere = [part.with_jacobian(np.linspace(0.5, 1.5, len(model.names)))[1] for part in (top, bottom)]
    if not all(np.allclose(a[1], b, rtol=1e-9, atol=0) for a, b in zip(parts, elsewhere, strict=True)):
        return []
    (t0, t), (b0, b) = parts
    p, weight = zero, np.ones_like(y)
    found: list[Floats] = []
    for _ in range(8):
        matrix = (t - y[:, None] * b) * (w * weight)[:, None]
        size = np.sqrt(np.sum(matrix**2, axis=0))
        if not np.all(size > 0):
            return found
        p = np.linalg.lstsq(matrix / size, (y * b0 - t0) * w * weight, rcond=1e-14)[0] / size
        below = b0 + b @ p
        if np.any(below == 0):
            return found
        weight = 1 / np.abs(below)
        found.append(p)
    return found[::-1]


class _Part(Model):
    """A part of a model's formula, as a model of the same parameters."""

    def __init__(self, whole: Model, node: Node) -> None:
        super().__init__(Shape("own", "", whole.shape.formula, whole.names), whole.x)
        # the steps are those of the whole formula
        self.node, self._steps = node, None


def _location_parameters(node: Node) -> set[str]:
    """Parameters that x is compared with, as b in (x − b)."""
    found: set[str] = set()
    waiting = [node]
    while waiting:
        match waiting.pop():
            case Binary("+" | "-", left, right):
                names = {n.name for n in (left, right) if isinstance(n, Symbol)}
                if "x" in names:
                    found |= names - {"x"}
                waiting += [left, right]
            case Binary(_, left, right) | Power(left, right):
                waiting += [left, right]
            case Negate(of) | Call(_, of):
                waiting.append(of)
    return found


@dataclass(frozen=True)
class _Scales:
    """Sizes of the parameters, and with which power of x they go."""

    sizes: Floats
    along_x: Floats


def _scales(node: Node, names: tuple[str, ...], x: Floats, y: Floats) -> _Scales:
    """Sizes of the parameters from dimensional analysis, with x and y as the two base units."""
    solved = find_exponents(node, names)
    x_size, y_size = float(np.max(np.abs(x))) or 1.0, float(np.max(np.abs(y))) or 1.0
    return _Scales(np.array([x_size**a * y_size**b for a, b in solved]), solved[:, 0])
