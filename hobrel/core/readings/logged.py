"""Columns that a logger wrote: thousands of texts at once, understood like single readings."""

from __future__ import annotations

import math
import re
from functools import lru_cache

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.readings.instruments import Instrument, reading_uncertainty
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import convert, parse_unit

_THOUSANDS = re.compile(r"[+-]?\d{1,3}(,\d{3})+\.\d+")


@lru_cache(maxsize=128)
def read_logged(
    texts: tuple[str, ...], logged_in: str, unit: str, instrument: Instrument | None, display_half: bool
) -> tuple[Floats, Floats]:
    """Values of a logged column with their reading uncertainty.

    Edits elsewhere in a lab book leave its logs as they are, so what has been read is remembered.

    Parameters
    ----------
    texts : tuple of str
        As logged; what is no number has no value.
    logged_in, unit : str
        The unit that the logger wrote in, and that of the quantity.
    instrument : Instrument or None
        In the unit of the quantity.
    display_half : bool
        Of the convention.

    Returns
    -------
    value, u : ndarray, shape (rows,), not to be written to
        NaN where there is no number.

    Raises
    ------
    CoreError
        ``bad_unit`` where the two units do not go together.
    """
    values = np.array([_number(text, logged_in) for text in texts], dtype=np.float64)
    if logged_in != unit:
        old, new = parse_unit(logged_in), parse_unit(unit)
        zero = convert(0.0, old, new)
        values = zero + values * (convert(1.0, old, new) - zero)
    if instrument is None:
        u = np.zeros(values.size)
    elif instrument.depends_on_value:
        u = np.array([reading_uncertainty(instrument, display_half, v) for v in values.tolist()], dtype=np.float64)
    else:
        u = np.full(values.size, reading_uncertainty(instrument, display_half))
    u = np.where(np.isfinite(values), u, np.nan)
    values.flags.writeable = u.flags.writeable = False
    return values, u


def _number(text: str, unit: str) -> float:
    try:
        # what loggers write; everything else is understood as a typed reading is, with the same exactness
        value = float(text)
        return value if math.isfinite(value) and "_" not in text else math.nan
    except ValueError:
        pass
    if _THOUSANDS.fullmatch(text.strip()):
        # a comma in threes with a point after them is told apart from a decimal comma
        return float(text.replace(",", ""))
    try:
        return float(parse_reading(text, unit).value) if text.strip() else math.nan
    except CoreError:
        return math.nan
