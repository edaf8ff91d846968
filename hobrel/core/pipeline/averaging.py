"""The readings of one quantity, parsed and averaged setting by setting."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from hobrel.core.document.lab_book import Convention, Quantity, Reading
from hobrel.core.errors import CoreError
from hobrel.core.readings.instruments import Instrument, hidden_by_last_digit, reading_uncertainty
from hobrel.core.readings.parsing import ParsedReading, parse_written
from hobrel.core.statistics.spread import MeanWithUncertainty, average, find_typical_bars
from hobrel.core.statistics.typical import find_typical_spread
from hobrel.core.uncertainty.traced import Floats


@dataclass(frozen=True)
class ReadingState:
    """A reading after parsing: a number, or the trouble with it (both None for a blank)."""

    text: str
    parsed: ParsedReading | None
    trouble: CoreError | None
    set_aside: str | None


@dataclass(frozen=True, eq=False)
class Averages:
    """The readings of one quantity, averaged setting by setting.

    It is made once for the same readings (`average_readings`), so that what is written from it can be remembered by its identity.

    Attributes
    ----------
    readings : tuple per setting of tuples of ReadingState
        Blanks left out; `places` has the repeat of each, `widths` how many repeats there are with blanks.
    means : tuple of MeanWithUncertainty or None, per setting
    value, u : ndarray, shape (settings,), not to be written to
        NaN where there is no mean.
    standard : ndarray, shape (settings,)
        Standard uncertainties of the means, by which is judged: from the typical spread of the column's repeats.
    dof : float or ndarray, shape (settings,)
        Degrees of freedom of these.
    """

    readings: tuple[tuple[ReadingState, ...], ...]
    places: tuple[tuple[int, ...], ...]
    widths: tuple[int, ...]
    means: tuple[MeanWithUncertainty | None, ...]
    value: Floats
    u: Floats
    standard: Floats
    dof: Floats | float


def _read_state(reading: Reading, unit: str) -> ReadingState:
    try:
        return ReadingState(reading.text, parse_written(reading.text, unit), None, reading.set_aside)
    except CoreError as trouble:
        return ReadingState(reading.text, None, trouble.kept(), reading.set_aside)


@lru_cache(maxsize=1024)
def average_readings(
    rows: tuple[tuple[Reading | None, ...], ...], unit: str, instrument: Instrument | None, convention: Convention
) -> Averages:
    """Parse and average the readings of one quantity. An edit leaves most columns as they are, so they are remembered."""
    readings, places, carried, groups, own_bars = [], [], [], [], False
    for row in rows:
        kept = [(i, _read_state(r, unit)) for i, r in enumerate(row) if r is not None and r.text.strip()]
        readings.append(tuple(state for _, state in kept))
        places.append(tuple(i for i, _ in kept))
        counted = [s.parsed for _, s in kept if s.parsed is not None and s.set_aside is None]
        values = [float(p.value) for p in counted]
        groups.append(values)
        u = reading_uncertainty(instrument, convention.display_half, sum(values) / len(values)) if instrument and values else 0.0
        if any(p.u is not None for p in counted):
            own_bars = True
            u = sum(u if p.u is None else float(p.u) for p in counted) / len(counted)
        carried.append(u)
    spread, combine, coverage = convention.spread, convention.combine, convention.coverage
    typical = find_typical_bars(groups, spread, coverage) if convention.bars == "typical" else [None] * len(groups)
    means = [
        average(values, u, spread, combine, coverage, typical=bar) if values else None
        for values, u, bar in zip(groups, carried, typical, strict=True)
    ]
    value = np.array([np.nan if m is None else m.summary.mean for m in means], dtype=np.float64)
    us = np.array([np.nan if m is None else m.u for m in means], dtype=np.float64)
    standard, dof = (us, math.inf) if own_bars else judge_means(groups, us, instrument)
    value.flags.writeable = us.flags.writeable = standard.flags.writeable = False
    return Averages(
        readings=tuple(readings),
        places=tuple(places),
        widths=tuple(len(r) for r in rows),
        means=tuple(means),
        value=value,
        u=us,
        standard=standard,
        dof=dof,
    )


def judge_means(groups: Sequence[Sequence[float]], us: Floats, instrument: Instrument | None) -> tuple[Floats, Floats | float]:
    """Standard uncertainties of the means of repeats, and their degrees of freedom.

    From the typical spread, s/√n, but never less than what the last digit hides (a/√12: JCGM 100:2008, F.2.2.1). A lone reading has the
    ± that the convention gives it; things counted at random have √(N/n).

    Parameters
    ----------
    groups : sequence of sequences
        The readings of each setting.
    us : ndarray, shape (settings,)
        What the convention makes of each.
    instrument : Instrument or None
    """
    counts = np.array([len(g) for g in groups], dtype=np.float64)
    with np.errstate(invalid="ignore", divide="ignore"):
        if instrument is not None and instrument.kind == "counted_at_random":
            means = np.array([sum(g) / len(g) if g else np.nan for g in groups])
            return np.sqrt(np.maximum(means, 0.0) / counts), math.inf
        typical = find_typical_spread(groups)
        if typical is None:
            return us.copy(), math.inf
        hidden = hidden_by_last_digit(instrument) if instrument is not None else 0.0
        standard = np.maximum(typical.sd / np.sqrt(counts), hidden)
    unknown = ~np.isfinite(standard) & np.isfinite(us)
    dof = np.where(unknown, np.inf, typical.dof) if np.any(unknown) or isinstance(typical.dof, np.ndarray) else typical.dof
    return np.where(unknown, us, standard), dof


def judge_further(table: Averages, values: Sequence[float], count: int, instrument: Instrument | None) -> tuple[float, float] | None:
    """Standard uncertainty of the mean of further readings of a quantity, and its degrees of freedom: as if they were one more setting.

    Parameters
    ----------
    table : Averages
        Of the same quantity, read in the same way.
    values : sequence of float
        The further readings, or what stands for them.
    count : int
        How many readings their mean is of.
    instrument : Instrument or None

    Returns
    -------
    tuple of float, or None
        None where the table has no repeats, which tell by how much a single reading scatters, or readings with a ± of their own.
    """
    if instrument is not None and instrument.kind == "counted_at_random":
        return math.sqrt(max(sum(values) / len(values), 0.0) / count), math.inf
    counted = [[s.parsed for s in row if s.parsed is not None and s.set_aside is None] for row in table.readings]
    if any(reading.u is not None for row in counted for reading in row):
        return None
    groups = [[float(reading.value) for reading in row] for row in counted]
    typical = find_typical_spread([*groups, values]) if any(len(group) > 1 for group in groups) else None
    if typical is None or not math.isfinite(typical.sd[-1]):
        return None
    hidden = hidden_by_last_digit(instrument) if instrument is not None else 0.0
    dof = typical.dof if isinstance(typical.dof, float) else float(typical.dof[-1])
    return max(float(typical.sd[-1]) / math.sqrt(count), hidden), dof


def uncertainty_at(quantity: Quantity, convention: Convention, value: float) -> float:
    """Reading uncertainty of a quantity's instrument at a value; 0 without an instrument."""
    return reading_uncertainty(quantity.instrument, convention.display_half, value) if quantity.instrument else 0.0
