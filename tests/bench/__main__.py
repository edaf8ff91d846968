"""``./run bench``: the speed table. Ratios are of two things measured in one run; nothing here is asserted.

Usage: python -m tests.bench [core|server|lesson|browser] [--write]   (--write puts the table into docs/methods/speed.md)
"""

from __future__ import annotations

import platform
import sys
from pathlib import Path

from tests.bench.browser import browser_rows
from tests.bench.core import core_rows
from tests.bench.lesson import lesson_rows
from tests.bench.server import server_rows
from tests.bench.timing import QUIET, Row, ms

TARGET = Path(__file__).resolve().parent.parent.parent / "docs" / "methods" / "speed.md"


def describe_machine() -> str:
    import os

    import numpy
    import scipy

    model = next(
        (r.split(":")[1].strip() for r in Path("/proc/cpuinfo").read_text().splitlines() if r.startswith("model name")), platform.machine()
    )
    versions = f"Python {platform.python_version()}, NumPy {numpy.__version__}, SciPy {scipy.__version__}"
    return f"{os.cpu_count()} cores ({model}), {platform.system()}, {versions}"


def write_table(rows: list[Row]) -> str:
    lines = ["| what | measured | at the pace of the limits | reach |", "|---|---|---|---|"]
    lines += [f"| {row.what} | {row.measured} | {row.at_quiet} | {row.reach} |" for row in rows]
    return "\n".join(lines)


def main() -> None:
    wanted = [a for a in sys.argv[1:] if not a.startswith("-")]
    rows: list[Row] = []
    for name, measure in (("core", core_rows), ("server", server_rows), ("lesson", lesson_rows), ("browser", browser_rows)):
        if not wanted or name in wanted:
            found = measure()
            # what is measured is said at once: the next may take minutes
            print(write_table(found), flush=True)
            rows += found
    table = write_table(rows)
    if "--write" in sys.argv:
        pace = (
            f"The limits are for a pace of a million additions in {ms(QUIET)}; a machine that others share is mostly slower. The pace "
            "was measured between the measurements, and the third column is the second at that pace."
        )
        text = (
            "# Speed\n\nMade by `./run bench --write`. Ratios compare two things measured in the same run.\n\n"
            f"Machine: {describe_machine()}. {pace}\n\n{table}\n"
        )
        TARGET.write_text(text, encoding="utf-8")


main()
