"""Lab books for tests, without Django: small tables whose answers can be worked out on paper."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.readings.instruments import Instrument

RULER = Instrument("ruler", "scale", "0.001")
STOPWATCH = Instrument("stopwatch", "display", "0.01")


def setting(key: str, x: str, ys: Sequence[str | None], aside: str | None = None) -> Setting:
    """One row: x once, y with its repeats (None: blank)."""
    return Setting(key, {"x": (Reading(x),), "y": tuple(None if y is None else Reading(y) for y in ys)}, aside)


def lab_book(
    rows: Sequence[tuple[str, Sequence[str | None]]],
    derived: Sequence[Quantity] = (),
    constants: Sequence[Quantity] = (),
    findings: Sequence[Finding] = (),
    graph: tuple[str, str] = ("x", "y"),
    convention: Convention | None = None,
) -> LabBook:
    """A lab book with one changed quantity x in m, one measured y in s, a graph and a fit."""
    repeats = max((len(ys) for _, ys in rows), default=1)
    return LabBook(
        title="A test",
        convention=convention or Convention(),
        quantities=(
            Quantity("x", "changed", "length", "x", "m", RULER),
            Quantity("y", "measured", "time", "y", "s", STOPWATCH, repeats),
            *constants,
            *derived,
        ),
        runs=(Run("run1", "Run", tuple(setting(f"s{i}", x, ys) for i, (x, ys) in enumerate(rows, 1))),),
        graphs=(Graph("g", "", *graph),),
        fits=(Fit("f", "g"),),
        findings=tuple(findings),
    )


def with_aside(book: LabBook, row: int, reason: str) -> LabBook:
    """The same book with one setting set aside."""
    run = book.runs[0]
    settings = tuple(replace(s, set_aside=reason) if i == row else s for i, s in enumerate(run.settings))
    return replace(book, runs=(replace(run, settings=settings),))
