"""A table of reference as numbers: what a handbook lists of one quantity against another, looked up between its lines."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.uncertainty.traced import Floats, Source, Traced, measured
from hobrel.core.units.calculus import NUMBER, Unit

_AT_THE_END = 1e-9
"""Share of a table's reach by which what is converted to its unit may miss its ends by rounding."""


@dataclass(frozen=True)
class Tabulated:
    """What is listed, in units without a zero of their own (kelvins for °C).

    Attributes
    ----------
    symbol : str
        By which formulas name it, in canonical spelling.
    at, values, us : tuple of float
        Of each line, rising in `at`: where, what is listed there, and its ±.
    at_unit, unit : Unit
    against, reach : str
        In what unit its places are written, and from where to where they go, for people.
    on_scale : bool
        Whether what is listed are temperatures on a scale.
    trouble : CoreError or None
        Why it cannot be used; it then has no lines.
    """

    symbol: str
    at: tuple[float, ...] = ()
    values: tuple[float, ...] = ()
    us: tuple[float, ...] = ()
    at_unit: Unit = NUMBER
    unit: Unit = NUMBER
    against: str = ""
    reach: str = ""
    on_scale: bool = False
    trouble: CoreError | None = None

    @property
    def off_by(self) -> str:
        """The name of how many of its ± the whole table is off by: no symbol that anybody can write."""
        return f"{self.symbol}(±)"

    def take_off(self) -> Traced | None:
        """By how many of its ± the table is off, 0 ± 1, one for all its lines; None where it has no ±.

        The lines of a handbook come from one laboratory and are off together, which is the careful assumption (common practice).
        """
        if not any(self.us):
            return None
        return measured(Source(f"table:{self.symbol}", self.symbol, np.asarray(1.0), shared=True), 0.0)

    def look_up(self, where: Floats) -> tuple[Floats, Floats, Floats]:
        """What is listed, its ± and its slope at places in `at_unit`, straight between the lines; NaN beyond them."""
        at, values, us = (np.array(numbers) for numbers in (self.at, self.values, self.us))
        slack = _AT_THE_END * (at[-1] - at[0])
        with np.errstate(invalid="ignore"):
            inside = (where >= at[0] - slack) & (where <= at[-1] + slack)
        known = np.where(inside, where, at[0])
        slopes = np.diff(values) / np.diff(at)
        interval = np.clip(np.searchsorted(at, known, side="right") - 1, 0, slopes.size - 1)
        found = (np.interp(known, at, values), np.interp(known, at, us), slopes[interval])
        return tuple(np.where(inside, each, np.nan) for each in found)  # type: ignore[return-value]
