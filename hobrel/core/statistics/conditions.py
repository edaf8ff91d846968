"""Whether conditions differ by more than the benches that did them scatter."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import fdtrc

from hobrel.core.errors import CoreError
from hobrel.core.statistics.groups import compare_groups


@dataclass(frozen=True)
class ConditionComparison:
    """An F test between conditions.

    Attributes
    ----------
    layout : {"blocks", "groups"}
        ``blocks``: only benches that have done all conditions count, each against itself; ``groups``: bench values within conditions.
    benches : int
        How many benches count.
    f, p_value : float or None
        None where nothing varies beside the conditions.
    """

    layout: Literal["blocks", "groups"]
    benches: int
    dof_between: int
    dof_within: int
    f: float | None
    p_value: float | None


def compare_conditions(values: Mapping[str, Mapping[str, float]]) -> ConditionComparison:
    """Compare conditions by the values that benches found in each.

    Where two benches or more, and half of all, have done all conditions, their own offsets fall out (randomised blocks: R. A. Fisher, The
    Design of Experiments (1935), ch. IV); else by one-way analysis of variance.

    Parameters
    ----------
    values : mapping of condition to values by bench
        In one unit.

    Raises
    ------
    CoreError
        ``too_few_points`` for fewer than two conditions with values, or no scatter to compare with.
    """
    filled = {name: dict(found) for name, found in values.items() if found}
    if len(filled) < 2:
        raise CoreError("too_few_points", "To compare conditions, at least two of them need a value.")
    all_of_them = sorted(set.intersection(*(set(found) for found in filled.values())))
    every = {bench for found in filled.values() for bench in found}
    if len(all_of_them) >= 2 and 2 * len(all_of_them) >= len(every):
        table = np.array([[found[bench] for bench in all_of_them] for found in filled.values()], dtype=np.float64)
        return _compare_blocks(table)
    groups = [list(found.values()) for found in filled.values()]
    found = compare_groups(groups)
    return ConditionComparison(
        layout="groups", benches=len(every), dof_between=found.dof_between, dof_within=found.dof_within, f=found.f, p_value=found.p_value,
    )  # fmt: skip


def _compare_blocks(table: np.ndarray[tuple[int, int], np.dtype[np.float64]]) -> ConditionComparison:
    conditions, benches = table.shape
    shifted = table - table[0, 0]
    grand = float(shifted.mean())
    of_condition, of_bench = shifted.mean(axis=1), shifted.mean(axis=0)
    between = benches * math.fsum((of_condition - grand) ** 2)
    left = shifted - of_condition[:, None] - of_bench[None, :] + grand
    within = math.fsum((left**2).ravel())
    dof_between, dof_within = conditions - 1, (conditions - 1) * (benches - 1)
    # what is left of equal differences is rounding
    nothing = within <= 1e-24 * math.fsum((shifted**2).ravel())
    f = None if nothing else (between / dof_between) / (within / dof_within)
    p = None if f is None else float(fdtrc(dof_between, dof_within, f))
    return ConditionComparison(layout="blocks", benches=benches, dof_between=dof_between, dof_within=dof_within, f=f, p_value=p)
