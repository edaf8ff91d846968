"""How hands read instruments in a dry run: with a scatter, to what the instrument shows, with the digits that are written down."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.readings.instruments import Instrument, expected_decimals, smallest_step
from hobrel.core.readings.parsing import parse_difference, parse_reading
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import parse_unit, same_dimension

BY_HAND = 0.1
"""Standard deviation in s of a time that is started and stopped by eye (common practice)."""


@dataclass(frozen=True)
class HandScatter:
    """By how much a hand's readings scatter (a standard deviation): in the unit of what is read, or as a share of what truly is."""

    size: float
    is_share: bool = False

    def at(self, true: Floats) -> Floats:
        """In the unit of what is read."""
        return self.size * np.abs(true) if self.is_share else np.full_like(true, self.size)


def hidden_half(instrument: Instrument | None) -> float:
    """By how much a quantity may be off from what it is set to: half of what can be told apart."""
    if instrument is None or instrument.kind in ("counted", "counted_at_random"):
        return 0.0
    return smallest_step(instrument) / 2


def write_down(values: Iterable[float], instrument: Instrument | None) -> list[str]:
    """Readings as they would be written down."""
    if instrument is None:
        return [f"{value:.4g}" for value in values]
    step, decimals = smallest_step(instrument), expected_decimals(instrument)
    return [f"{round(value / step) * step:.{decimals}f}" for value in values]


def read_by_hand(quantity: Quantity, true: Floats, book: LabBook, dice: np.random.Generator) -> Floats:
    """What each bench reads of a quantity that truly is so, before it is written down.

    Parameters
    ----------
    quantity : Quantity
    true : ndarray, shape (lab books, settings)
        In its unit.
    book : LabBook
        Whose plan says how hands scatter.
    dice : Generator

    Returns
    -------
    ndarray, shape (lab books, settings, repeats)
    """
    instrument = quantity.instrument
    values = np.repeat(true[:, :, None], max(1, quantity.repeats), axis=2)
    if instrument is not None and instrument.kind == "counted_at_random":
        values = dice.poisson(np.maximum(values, 0.0)).astype(np.float64)
    else:
        values = values + find_scatter(quantity, book).at(values) * dice.standard_normal(values.shape)
    if instrument is not None and instrument.kind == "maker":
        # the maker's statement holds for an instrument as a whole: every reading of a bench is off by the same share
        share = float(parse_reading(instrument.percent).value) / 100 / math.sqrt(3) * dice.standard_normal((len(true), 1, 1))
        values = values * (1 + share)
    return values


def find_scatter(quantity: Quantity, book: LabBook) -> HandScatter:
    """How a hand's readings of a quantity scatter: as the plan believes, or as is usual.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` where what the plan believes cannot be read.
    """
    written = book.plan.dry.scatter.get(quantity.id, "").strip()
    # of what is read in per cent they are its unit
    if written.endswith("%") and parse_unit(quantity.unit) != parse_unit("%"):
        return HandScatter(float(parse_reading(written[:-1]).value) / 100, is_share=True)
    if written:
        return HandScatter(float(parse_difference(written, quantity.unit)))
    instrument = quantity.instrument
    if instrument is None or instrument.kind in ("counted", "counted_at_random"):
        return HandScatter(0.0)
    if instrument.kind == "steady":
        return HandScatter(float(instrument.scatter))
    unit = parse_unit(quantity.unit)
    if instrument.kind == "display" and same_dimension(unit, parse_unit("s")) and quantity.repeats > 1:
        return HandScatter(float(parse_difference(f"{BY_HAND} s", quantity.unit)))
    return HandScatter(smallest_step(instrument) / 2)
