"""Fewer points for a drawing than there are, with the extremes kept."""

from __future__ import annotations

import numpy as np

from hobrel.core.uncertainty.traced import Floats

MOST_DRAWN = 1200
MOST_SIGNS = 60


def thin_points(x: Floats, y: Floats, most: int = MOST_DRAWN) -> list[int]:
    """Which points to draw, in their own order: all of them, or the lowest and the highest of equally full stretches of x."""
    if x.size <= most:
        return list(range(x.size))
    order = np.argsort(x, kind="stable")
    kept: set[int] = set()
    for stretch in np.array_split(order, most // 2):
        kept.add(int(stretch[np.argmin(y[stretch])]))
        kept.add(int(stretch[np.argmax(y[stretch])]))
    return sorted(kept)


def thin_signs(signs: str, most: int = MOST_SIGNS) -> str:
    """Signs of residuals for a drawing: where there are many, the sign of most of each stretch."""
    if len(signs) <= most:
        return signs
    counts = np.array([1 if s == "+" else -1 if s == "−" else 0 for s in signs])
    return "".join("+" if part.sum() > 0 else "−" if part.sum() < 0 else "0" for part in np.array_split(counts, most))
