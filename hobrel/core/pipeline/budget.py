"""What made an uncertainty, as shares that add up to one: by the sources of a number, or by the numbers that it was made of."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from hobrel.core.uncertainty.traced import Floats, Source, Traced, contributions

_TOGETHER = 1e-9
"""Share of their own that two parts must have in common before they are said together."""


ROUNDING_NOISE = 1e-9
"""What is smaller than this share of the largest has cancelled out: a factor of all points, in the gradient of their logarithms."""


@dataclass(frozen=True)
class BudgetLine:
    """What one part contributes to an uncertainty.

    `contribution` is |∂f/∂x|·u(x) in the unit of the result, `share` its square over the sum of squares; `shared` marks a
    constant measured once. `symbols` are more than one where parts rest on the same readings, so that only their common share is known.
    """

    symbols: tuple[str, ...]
    contribution: float
    share: float
    shared: bool


def budget_by_source(number: Traced, shared: bool | None = None) -> tuple[BudgetLine, ...]:
    """The contributions of the sources of a single number (or only of the shared, or only of the others), largest first."""
    parts = contributions(number, shared)
    return _as_shares(((s.symbol,), _size(part), s.shared) for s, part in parts.items())


def budget_by_part(parts: Mapping[str, tuple[float, Traced]]) -> tuple[BudgetLine, ...]:
    """The contributions of the single numbers that a result is made of, largest first; each constant that they share by itself.

    Parameters
    ----------
    parts : mapping of symbol to (∂result/∂number, number)
    """
    constants: dict[Source, float] = {}
    own: dict[str, dict[Source, Floats]] = {}
    for symbol, (by, number) in parts.items():
        for source, part in contributions(number, shared=True).items():
            constants[source] = constants.get(source, 0.0) + by * float(part)
        own[symbol] = {source: by * part for source, part in contributions(number, shared=False).items()}
    lines = [(symbols, _size_together([own[s] for s in symbols]), False) for symbols in _which_hang_together(own)]
    return _as_shares([*lines, *(((s.symbol,), abs(size), True) for s, size in constants.items())])


def share_linearly(lines: Iterable[BudgetLine]) -> tuple[BudgetLine, ...]:
    """The same contributions where they add up as they are, not their squares."""
    known = list(lines)
    total = sum(line.contribution for line in known)
    return tuple(replace(line, share=line.contribution / total if total else 0.0) for line in known)


def _size(part: Floats) -> float:
    # by shares of the largest, so that no square overflows or vanishes
    largest = float(np.max(np.abs(part), initial=0.0))
    return largest * math.sqrt(float(np.sum((part / largest) ** 2))) if largest else 0.0


def _size_together(parts: list[dict[Source, Floats]]) -> float:
    total: dict[Source, Floats] = {}
    for part in parts:
        for source, of_source in part.items():
            total[source] = total[source] + of_source if source in total else of_source
    return math.hypot(*(_size(part) for part in total.values()))


def _which_hang_together(parts: Mapping[str, dict[Source, Floats]]) -> list[tuple[str, ...]]:
    """The symbols in groups, those that rest on the same readings in one."""
    groups: list[tuple[str, ...]] = []
    for symbol, part in parts.items():
        if not any(np.any(p) for p in part.values()):
            continue  # it has no ± of its own
        touching = [g for g in groups if any(_have_in_common(parts[other], part) for other in g)]
        groups = [g for g in groups if g not in touching] + [(*(s for g in touching for s in g), symbol)]
    return groups


def _have_in_common(a: dict[Source, Floats], b: dict[Source, Floats]) -> bool:
    common = sum(float(np.sum(part * b[source])) for source, part in a.items() if source in b)
    return abs(common) > _TOGETHER * _size_together([a]) * _size_together([b])


def _as_shares(lines: Iterable[tuple[tuple[str, ...], float, bool]]) -> tuple[BudgetLine, ...]:
    found = list(lines)
    largest = max((size for _, size, _ in found), default=0.0)
    known = [(symbols, size if size > ROUNDING_NOISE * largest else 0.0, shared) for symbols, size, shared in found]
    # as shares of the largest, so that their squares neither overflow nor vanish
    squares = [(size / largest) ** 2 if largest else 0.0 for _, size, _ in known]
    total = sum(squares)
    shares = [
        BudgetLine(symbols, size, square / total if total else 0.0, shared)
        for (symbols, size, shared), square in zip(known, squares, strict=True)
    ]
    return tuple(sorted(shares, key=lambda line: -line.share))
