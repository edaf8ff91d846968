"""A place on an axis as somebody types it: a number, with its unit if wanted, or worked out from numbers as ``ln(92)``."""

from __future__ import annotations

import re

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.readings.parsing import parse_reading

_WITH_U = re.compile(r"±|\+/?-|(?<!\w)[\d.,]+\(\d+\)(?!\s*[\d.(*/^])")

_TWO_NUMBERS = re.compile(r"(?<!\w)[\d.,]+\s+[.,]?\d+(?![\w.,]*\s*[\^⁰¹²³⁴⁵⁶⁷⁸⁹⁻])")
"""Two readings and no product, but of a power of ten."""


def read_typed(text: str, unit: str) -> float:
    """Read a typed place.

    Parameters
    ----------
    text : str
        ``0.25``, ``25 cm``, or a formula of numbers alone, whose value is then meant in `unit`: for a straightened axis, where what
        was measured is not what stands there.
    unit : str
        Of the axis.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` as `parse_reading`; ``outside_domain`` for a formula without a value.
    """
    if _WITH_U.search(text):
        words = "“{text}” is a number with its ±. Write the number alone: here no ± is taken."
        raise CoreError("bad_number", words, text=text.strip())
    try:
        return float(parse_reading(text, unit).value)
    except CoreError as trouble:
        # a function behind a number (2 ln(3)) reads as its unit
        if trouble.code != "bad_number" and "(" not in text:
            raise
        if _TWO_NUMBERS.search(text):
            raise
        try:
            worked_out = evaluate(read_formula(text, ()), {})
        except CoreError as other:
            # somebody who has typed letters meant a formula; what is wrong with that is then the better answer
            raise (other if "(" in text and trouble.code == "bad_number" else trouble) from other
        if worked_out.value.ndim or worked_out.slopes or not worked_out.unit.is_number:
            raise
        return check_place(float(worked_out.value))


FARTHEST = 1e100
"""Beyond this squares and products of places would have no finite value."""


def check_place(value: float) -> float:
    """The same number, if it is one that can be reckoned with.

    Raises
    ------
    CoreError
        ``bad_number`` for infinity and NaN, and for what is beyond `FARTHEST`.
    """
    if not abs(value) <= FARTHEST:
        raise CoreError("bad_number", "A place on a graph is a number of ordinary size.")
    return value
