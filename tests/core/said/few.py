"""Lab books of one row to eight, of every number of repeats: each limit that counts rows has books on both of its sides."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from hobrel.core.document.lab_book import (
    Accepted,
    ByEye,
    Convention,
    Finding,
    Fit,
    Graph,
    Ingredient,
    LabBook,
    Log,
    Quantity,
    Reading,
    Run,
    Setting,
)
from hobrel.core.readings.instruments import Instrument

MOST = 8
FEW_TITLE = "Few rows"
PATTERNS: dict[str, Callable[[int, int], float]] = {
    "exact": lambda i, n: 2.0 * i,
    "to and fro": lambda i, n: 2.0 * i + 0.04 * (-1) ** i,
    "last one off": lambda i, n: 2.0 * i + (0.4 if i == n else 0.0),
    "middle one off": lambda i, n: 2.0 * i - (0.3 if i == (n + 1) // 2 else 0.0),
    "bent": lambda i, n: 0.3 * i * i,
    "level": lambda i, n: 4.0,
    "through zero": lambda i, n: 1.5 * (i - 2),
    "one turn": lambda i, n: 2.0 * i + (0.06 if 2 * i > n else -0.06),
}
INSTRUMENTS = (None, Instrument("meter", "scale", "0.1"), Instrument("meter", "display", "0.01", percent="1", digits="1"))
OFF = (0.0, 0.02, -0.02, 0.01, -0.04)


def write_few_books() -> Iterator[tuple[str, LabBook]]:
    """Each with its name."""
    for n in range(1, MOST + 1):
        for p, pattern in enumerate(PATTERNS):
            repeats = (1, 2, 3, 5)[(n + p) % 4]
            yield f"few: {n} rows, {repeats} readings, {pattern}", _write(n, repeats, p, PATTERNS[pattern])


def _write(n: int, repeats: int, p: int, y: Callable[[int, int], float]) -> LabBook:
    instrument = INSTRUMENTS[(n + 2 * p) % 3]
    apart = 0.0 if p == 0 else 1.0
    settings = tuple(
        Setting(
            f"s{i}",
            {"x": (Reading(f"{i - 2 if p == 6 else i}"),), "y": tuple(Reading(f"{y(i, n) + apart * o:.2f}") for o in OFF[:repeats])},
        )
        for i in range(1, n + 1)
    )
    runs: tuple[Run, ...] = (Run("r", "First", settings),)
    if p % 3 == 1:
        runs += (Run("q", "Second", settings[: n // 2 + 1]),)
    if p == 5:
        texts = {q: tuple(s.readings[q][0].text for s in settings if (s.readings[q][0])) for q in ("x", "y")}
        runs = (Run("r", "Logged", log=Log(n, texts, {})),)
    quantities = (
        Quantity("x", "changed", "distance", "x", "m", Instrument("ruler", "scale", "0.01") if p % 2 else None),
        Quantity("y", "measured", "force", "y", "N", instrument, repeats),
        Quantity("d", "derived", "share", "d", "", formula="y/x" if p % 2 else "Δ(y)/Δ(x)"),
    )
    eye = ByEye(2.1, -0.1) if n % 2 else None
    fits = (
        Fit("line", "g", show_extremes=n % 2 == 0, by_eye=eye, through_origin=p in (0, 4) and n % 2 == 0),
        Fit("curve", "g", shape="quadratic" if p % 2 else "power", expected="2" if p == 4 else ""),
        Fit("part", "g", low=2.0, high=5.0),
    )
    mean = Ingredient("a", "mean", "y", low=2.0, high=4.0)
    findings = (
        Finding("k", "stiffness", "k", "N/m", "gradient", "line", Accepted("2.0", ("", "0.01")[n % 2], "a table"), compare=("K",)),
        Finding("K", "other", "K", "N/m", "a/x_0", uses=(mean, Ingredient("x_0", "read_back", "line", at="3.0"))),
    )
    graphs = Graph("g", "", "x", "y", origin=p % 2 == 0, runs=tuple(r.id for r in runs[1:])), Graph("h", "", "x", "d")
    more: dict[str, Any] = {"relation": "y = k x"} if p % 2 else {}
    convention = Convention(bars=("own", "typical")[n % 2], fit_uncertainty=("larger", "bars", "scatter")[(n + p) % 3])
    return LabBook(FEW_TITLE, quantities=quantities, runs=runs, graphs=graphs, fits=fits, findings=findings, convention=convention, **more)
