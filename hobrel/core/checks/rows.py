"""Slips that show only when settings are seen together: factors of ten, blanks, settings twice, swapped cells, typing direction.

All limits are common practice; each slip is a question, and nothing is changed.
"""

from __future__ import annotations

import numpy as np

from hobrel.core.checks.table import Slip, look_over_cells, power_of_ten, say_factor
from hobrel.core.pipeline.columns import Column, RunColumns, plain_symbol
from hobrel.core.readings.instruments import expected_decimals
from hobrel.core.uncertainty.traced import Floats


def find_slips(columns: RunColumns) -> tuple[Slip, ...]:
    """All slips of one run's readings, in table order. A log is not asked about: nobody has written it."""
    if columns.run.log is not None:
        return ()
    swapped = _swapped_cells(columns)
    exchanged = {s.setting for s in swapped}
    found = [*swapped, *(s for s in look_over_cells(columns) if s.kind != "wrong_decimals" or s.setting not in exchanged)]
    # what is wrong with a cell by itself is said once
    known = {(s.setting, s.quantity) for s in found}
    for slip in (*_blank_cells(columns), *_twice_the_same(columns), *_off_neighbours(columns)):
        if (slip.setting, slip.quantity) not in known:
            found.append(slip)
            known.add((slip.setting, slip.quantity))
    found.extend(_typed_in_the_wrong_direction(columns))
    order = {s.id: i for i, s in enumerate(columns.run.settings)}
    return tuple(sorted(found, key=lambda s: order[s.setting]))


def _read_columns(columns: RunColumns) -> list[Column]:
    return [c for c in columns.columns.values() if c.averages is not None]


def _values(column: Column, columns: RunColumns) -> Floats:
    """Means setting by setting, NaN where there is none or the setting is set aside."""
    aside = np.array(columns.run.rows_aside(), dtype=bool)
    return np.where(aside, np.nan, column.averages.value) if column.averages else np.full(aside.size, np.nan)


def _blank_cells(columns: RunColumns) -> list[Slip]:
    """A quantity that was measured above and below, and not here, although the rest of the row is filled."""
    found = []
    read = _read_columns(columns)
    filled = {c.quantity.id: np.isfinite(_values(c, columns)) for c in read}
    for column in read:
        mine = filled[column.quantity.id]
        rest = np.logical_and.reduce([filled[c.quantity.id] for c in read if c is not column])
        inside = (np.cumsum(mine) > 0) & (np.cumsum(mine[::-1])[::-1] > 0)
        for row in np.flatnonzero(~mine & rest & inside):
            # a text that is no number is a slip of its own
            if not column.readings[row] and columns.run.settings[row].set_aside is None:
                message = f"{plain_symbol(column.quantity)} is blank here, and filled above and below. Blank means “not measured”."
                found.append(Slip("blank", columns.run.id, columns.run.settings[row].id, column.quantity.id, 0, message))
    return found


def _twice_the_same(columns: RunColumns) -> list[Slip]:
    found = []
    for column in _read_columns(columns):
        if column.quantity.kind != "changed":
            continue
        seen: dict[float, int] = {}
        for row, value in enumerate(_values(column, columns).tolist()):
            if np.isnan(value):
                continue
            if value in seen:
                message = (
                    f"{plain_symbol(column.quantity)} is the same as in setting {seen[value] + 1}. Repeats of a setting stand in one row."
                )
                found.append(Slip("duplicate_setting", columns.run.id, columns.run.settings[row].id, column.quantity.id, 0, message))
            else:
                seen[value] = row
    return found


def _swapped_cells(columns: RunColumns) -> list[Slip]:
    """Two cells of a row, each with the decimals of the other's instrument."""
    found = []
    single = [c for c in _read_columns(columns) if c.quantity.repeats == 1 and c.quantity.instrument is not None]
    for a, first in enumerate(single):
        for second in single[a + 1 :]:
            assert first.quantity.instrument is not None and second.quantity.instrument is not None
            wanted = expected_decimals(first.quantity.instrument), expected_decimals(second.quantity.instrument)
            if wanted[0] == wanted[1]:
                continue
            for row, setting in enumerate(columns.run.settings):
                states = (*first.readings[row], *second.readings[row])
                decimals = tuple(s.parsed.decimals for s in states if s.parsed is not None)
                if len(states) == 2 and decimals == wanted[::-1]:
                    message = f"{plain_symbol(first.quantity)} and {plain_symbol(second.quantity)} seem to have changed places here."
                    found.append(Slip("swapped", columns.run.id, setting.id, first.quantity.id, 0, message))
    return found


def _off_neighbours(columns: RunColumns) -> list[Slip]:
    """A setting off by a power of ten, or far off the smooth run of the others."""
    found: list[Slip] = []
    read = _read_columns(columns)
    changed = next((c for c in read if c.quantity.kind == "changed"), None)
    if changed is None:
        return found
    x = _values(changed, columns)
    found.extend(_factors(columns, changed, np.arange(x.size, dtype=np.float64), x))
    for column in read:
        if column is not changed:
            y = _values(column, columns)
            factors = _factors(columns, column, x, y)
            found.extend(factors or _far_from_trend(columns, column, x, y))
    return found


def _factors(columns: RunColumns, column: Column, x: Floats, y: Floats) -> list[Slip]:
    """Points that are a power of ten from what their two nearest neighbours suggest, where those agree with the rest."""
    rows = np.array([i for i in np.argsort(x, kind="stable") if np.isfinite(x[i]) and np.isfinite(y[i]) and y[i] != 0], dtype=int)
    if rows.size < 4 or np.unique(y[rows] > 0).size > 1:
        return []
    xs, logs = x[rows], np.log10(np.abs(y[rows]))
    places = np.arange(rows.size)
    before, after = places - 1, places + 1
    before[0], after[0] = 1, 2
    before[-1], after[-1] = rows.size - 3, rows.size - 2
    apart = xs[after] - xs[before]
    with np.errstate(invalid="ignore", divide="ignore"):
        expected = logs[before] + (logs[after] - logs[before]) * (xs - xs[before]) / apart
    sure = (apart != 0) & (np.abs(logs[after] - logs[before]) <= 0.6) & _run_smoothly(xs, logs)
    found = []
    for place in np.flatnonzero(sure & (np.abs(logs - expected) > 0.9)):
        k = power_of_ten(float(logs[place] - expected[place]))
        if k is not None:
            message = f"{plain_symbol(column.quantity)} is about {say_factor(k)} what its neighbours suggest. Look at the decimal point."
            found.append(Slip("factor", columns.run.id, columns.run.settings[rows[place]].id, column.quantity.id, 0, message))
    # one wrong point also spoils what its neighbours expect of each other, so more than one in four is no slip but a steep curve
    return found if len(found) <= max(1, rows.size // 4) else []


def _run_smoothly(x: Floats, logs: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """For each place whether its neighbours follow one another, so that they can say where the point between them should be."""
    smooth = np.ones(x.size, dtype=bool)
    inner = np.arange(2, x.size - 1)
    first, beside, next_one = inner - 2, inner - 1, inner + 1
    share = np.clip((x[beside] - x[first]) / np.where(x[next_one] > x[first], x[next_one] - x[first], 1.0), 0.0, 1.0)
    smooth[inner] = np.abs(logs[beside] - (logs[first] + (logs[next_one] - logs[first]) * share)) < 0.2
    return smooth


def _far_from_trend(columns: RunColumns, column: Column, x: Floats, y: Floats) -> list[Slip]:
    """The one point that a parabola through all the others misses by far more than it misses them.

    What a fit without a point would miss it by follows from the fit with it, by the leverages h (R. D. Cook and S. Weisberg,
    Residuals and Influence in Regression, 1982, section 2.2): r/(1 − h), against the scatter of the others.
    """
    rows = np.flatnonzero(np.isfinite(x) & np.isfinite(y))
    if rows.size < 7 or np.unique(x[rows]).size < 5:
        return []
    basis = np.vander((x[rows] - x[rows].mean()) / float(np.ptp(x[rows])), 3)
    q, _ = np.linalg.qr(basis)
    rest = y[rows] - q @ (q.T @ y[rows])
    free = np.maximum(1 - np.sum(q * q, axis=1), 1e-9)
    others = np.sqrt(np.maximum(float(rest @ rest) - rest**2 / free, 0.0) / (rows.size - 4))
    u = np.maximum(np.maximum(np.nan_to_num(column.u[rows]), float(np.nanmedian(column.u))), others)
    missed = np.abs(rest / free) / np.where(u > 0, u, np.inf)
    worst = int(np.argmax(missed))
    if missed[worst] < 8:
        return []
    message = f"{plain_symbol(column.quantity)} is far from where the other settings lead. Look at it again."
    return [Slip("off_trend", columns.run.id, columns.run.settings[int(rows[worst])].id, column.quantity.id, None, message)]


def _typed_in_the_wrong_direction(columns: RunColumns) -> list[Slip]:
    """Repeats that differ as settings should, until the table is read the other way."""
    found = []
    for column in _read_columns(columns):
        k = column.quantity.repeats
        rows = [r for r in column.readings if len([s for s in r if s.parsed]) == k]
        if k < 2 or len(rows) < 3 or len(rows) != sum(1 for r in column.readings if r):
            continue
        block = np.array([[float(s.parsed.value) for s in row if s.parsed] for row in rows])
        now = float(np.median(np.ptp(block, axis=1)))
        across, down = block.ravel("C").reshape(block.shape, order="F"), block.ravel("F").reshape(block.shape, order="C")
        other = min(float(np.median(np.ptp(turned, axis=1))) for turned in (across, down))
        if now > 0 and other < now / 5:
            message = (
                f"The repeats of {plain_symbol(column.quantity)} differ within a setting as much as between settings. "
                "Were they typed across instead of down, or down instead of across?"
            )
            first = next(i for i, r in enumerate(column.readings) if r)
            found.append(Slip("direction", columns.run.id, columns.run.settings[first].id, column.quantity.id, 0, message))
    return found
