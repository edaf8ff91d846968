"""How much of each thing a lab book holds at the most."""

from __future__ import annotations

from hobrel.core.errors import CoreError

MOST_REPEATS = 12
MOST_SETTINGS = 2000
MOST_LOGGED = 100_000
MOST_QUANTITIES = 40
MOST_RUNS = 24
MOST_GRAPHS = 12
MOST_FITS = 24
MOST_FINDINGS = 24
MOST_MOMENTS = 12
MOST_STEPS = 40
MOST_SECTIONS = 16
MOST_GRID_ROWS = 24
MOST_CONDITIONS = 12
MOST_KEPT_SAME = 20
MOST_TABLES = 8
MOST_PICTURES = 24
MOST_TABLE_LINES = 500
MOST_STATES = 8
MOST_NUMBERS = 12
MOST_STAGES = 6
LONGEST_WORDS = 200
_MOST = {
    "repeats": MOST_REPEATS, "settings": MOST_SETTINGS, "rows": MOST_LOGGED, "quantities": MOST_QUANTITIES, "runs": MOST_RUNS,
    "graphs": MOST_GRAPHS, "fits": MOST_FITS, "findings": MOST_FINDINGS, "moments": MOST_MOMENTS,
    "steps": MOST_STEPS, "sections": MOST_SECTIONS,
    "grid rows": MOST_GRID_ROWS, "conditions": MOST_CONDITIONS, "things that are kept the same": MOST_KEPT_SAME,
    "states of a model": MOST_STATES, "numbers of a model": MOST_NUMBERS, "stages of a rate": MOST_STAGES,
    "tables of reference": MOST_TABLES, "pictures": MOST_PICTURES, "lines in a table of reference": MOST_TABLE_LINES,
}  # fmt: skip


def check_count(what: str, count: int) -> None:
    """Refuse more than the most.

    Raises
    ------
    CoreError
        ``too_large``.
    """
    if count > _MOST[what]:
        raise CoreError(
            "too_large", "A lab book holds at most {most} {what}; here are {count}.", most=f"{_MOST[what]:,}", what=what, count=f"{count:,}"
        )
