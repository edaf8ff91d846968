"""One repeat far from its fellows, by what the repeats of the other settings differ by."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import fdtrc

CHANCE = 0.012
"""How often a clean column may be asked about for a repeat (common practice)."""
LEAST_OTHERS = 3
"""Degrees of freedom that the other settings must have to say what is usual."""


@dataclass(frozen=True)
class Lone:
    """A repeat that is far from its fellows: its setting (by place), its place among those that count, or None of two that cannot be told
    apart; how far; how often chance does that.
    """

    row: int
    place: int | None
    distance: float
    chance: float


def find_lone_repeats(groups: Sequence[Sequence[float]], last_digit: float) -> list[Lone]:
    """Repeats that are far from their fellows.

    Against the spread pooled over the other settings, taken the same for all and as a share of the value: whichever sees less in it (F,
    for as many readings as there are). One that is found is left out of what is usual, and the rest looked at again.

    Parameters
    ----------
    groups : sequence of sequences
        The readings that count of each setting.
    last_digit : float
        What the last digit is worth: no spread is smaller than what it hides.
    """
    found: dict[int, Lone] = {}
    while fresh := _look_once(groups, found, last_digit):
        # what is known to be off no longer hides what else is
        found.update((lone.row, lone) for lone in fresh)
    return [found[row] for row in sorted(found)]


def _look_once(groups: Sequence[Sequence[float]], known: Mapping[int, Lone], last_digit: float) -> list[Lone]:
    """Repeats that are far from their fellows, where of settings with one that is `known` only its fellows say what is usual."""
    usual_of = [_farthest(group)[1] if row in known else group for row, group in enumerate(groups)]
    counts = np.array([len(g) for g in usual_of])
    means = np.array([abs(sum(g) / len(g)) if g else 0.0 for g in usual_of])
    squares = np.array([_sum_of_squares(g) for g in usual_of])
    dofs = np.maximum(counts - 1, 0)
    shares = squares / np.where(means > 0, means, np.inf) ** 2
    found = []
    for row, group in enumerate(groups):
        others = float(dofs.sum() - dofs[row])
        if row in known or len(group) < 2 or others < LEAST_OTHERS:
            continue
        hidden = last_digit**2 / 12
        usual = max(float(squares.sum() - squares[row]) / others, hidden)
        # in proportion to the fellows, for the one that is off spoils the mean; of two nobody knows which that is
        place, fellows, gained = _farthest(group)
        level = abs(sum(fellows) / len(fellows)) if len(group) > 2 else min(map(abs, group))
        in_proportion = max(float(shares.sum() - shares[row]) / others * level**2, hidden)
        rest, dof = _sum_of_squares(fellows), others + len(fellows) - 1
        chance = max(
            float(fdtrc(1, dof, gained / ((variance * others + rest) / dof))) for variance in (usual, in_proportion)
        ) * float(sum(map(len, groups)))  # fmt: skip
        if chance < CHANCE:
            distance = abs(group[place] - sum(fellows) / len(fellows))
            found.append(Lone(row, place if len(group) > 2 else None, distance, chance))
    return found


def _sum_of_squares(values: Sequence[float]) -> float:
    if len(values) < 2:
        return 0.0
    mean = sum(values) / len(values)
    return sum((v - mean) ** 2 for v in values)


def _farthest(values: Sequence[float]) -> tuple[int, list[float], float]:
    """The one without which the others agree best, these others, and by how much the sum of squares falls."""
    whole = _sum_of_squares(values)
    others = [[v for k, v in enumerate(values) if k != i] for i in range(len(values))]
    place = min(range(len(values)), key=lambda i: _sum_of_squares(others[i]))
    return place, others[place], whole - _sum_of_squares(others[place])
