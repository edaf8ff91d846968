"""What a bench has said to be right is not asked again, while it stands as it did."""

from __future__ import annotations

from collections.abc import Sequence

from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import LabBook, Setting


def leave_confirmed_out(slips: Sequence[Slip], book: LabBook) -> tuple[Slip, ...]:
    """The slips that nobody has said to be right, or whose readings have changed since."""
    settings = {(run.id, s.id): s for run in book.runs for s in run.settings}
    right = {
        (c.kind, c.run, c.setting, c.quantity, c.repeat)
        for c in book.confirmed
        if (c.run, c.setting) in settings and texts_of(settings[c.run, c.setting], c.quantity, c.repeat) == c.texts
    }
    return tuple(s for s in slips if (s.kind, s.run, s.setting, s.quantity, s.repeat) not in right)


def texts_of(setting: Setting, quantity: str, repeat: int | None) -> tuple[str, ...]:
    """The texts that a slip is about: one reading, or all of a quantity at a setting."""
    readings = setting.readings.get(quantity, ())
    chosen = readings if repeat is None else readings[repeat : repeat + 1]
    return tuple("" if r is None else r.text for r in chosen)
