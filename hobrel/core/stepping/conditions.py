"""When a stage of a rate holds: ``v > 0``, ``t < t_1``, ``x >= L/2``."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal, TypeAlias, cast

from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.tree import Node

Comparison: TypeAlias = Literal["<", "<=", ">", ">="]
_SIGN = re.compile(r"<=|>=|≤|≥|<|>")
_SPELLED = {"≤": "<=", "≥": ">="}


@dataclass(frozen=True)
class Condition:
    """Two formulas, and which of them has to be the larger."""

    left: Node
    sign: Comparison
    right: Node


def read_condition(text: str, known: Collection[str]) -> Condition:
    """Read a condition over the symbols of a model.

    Raises
    ------
    CoreError
        ``bad_formula`` where it does not hold exactly one of < > ≤ ≥, or where a side cannot be read.
    """
    signs = list(_SIGN.finditer(text))
    if len(signs) != 1:
        raise CoreError("bad_formula", "A stage holds while something is larger than something else: write one < or >, as in v > 0.", at=0)
    sign = signs[0]
    spelled = cast(Comparison, _SPELLED.get(sign[0], sign[0]))
    return Condition(read_formula(text[: sign.start()], known), spelled, read_formula(text[sign.end() :], known))
