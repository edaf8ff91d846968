"""The lab books of which is kept what is said: those of the demo, and others for every convention, shape, slip and kind of number."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from hobrel.core.document.lab_book import (
    Accepted,
    ByEye,
    Convention,
    Digits,
    Finding,
    Fit,
    Graph,
    Ingredient,
    LabBook,
    Log,
    Note,
    Quantity,
    Reading,
    Run,
    Setting,
    Unknown,
)
from hobrel.core.readings.instruments import Instrument
from hobrel.demo.written import write_practicals
from tests.core.calibration.slipping import draw_table, make_book
from tests.core.said.few import write_few_books

SHAPES: tuple[tuple[str, Callable[[float], float]], ...] = (
    ("quadratic", lambda x: 1.2 + 0.8 * x + 0.5 * x * x),
    ("power", lambda x: 2.1 * x**1.5),
    ("exponential", lambda x: 9.0 * math.exp(-0.4 * x)),
    ("inverse", lambda x: 12.0 / x + 0.5),
    ("logarithm", lambda x: 2.0 + 3.0 * math.log(x)),
    ("sine", lambda x: 3.0 * math.sin(1.3 * x + 0.4) + 5.0),
    ("logistic", lambda x: 8.0 / (1 + math.exp(-1.6 * (x - 3.5)))),
)
METRE = Instrument("ruler", "scale", "0.01")
CONVENTIONS: tuple[dict[str, Any], ...] = (
    {"spread": "mean_abs_deviation", "combine": "quadrature", "rounding": "one", "propagation": "sum"},
    {"spread": "largest_deviation", "combine": "larger", "rounding": "two", "propagation": "extremes", "bars": "typical"},
    {"spread": "sd", "combine": "quadrature", "display_half": True, "verdict": "plain", "fit_uncertainty": "bars"},
    {"spread": "standard_error", "combine": "quadrature", "coverage": 0.95, "fit_uncertainty": "scatter", "bars": "typical"},
    {"spread": "standard_error", "combine": "larger", "propagation": "monte_carlo", "rounding": "two"},
)


def write_books() -> Iterator[tuple[str, LabBook]]:
    """Each lab book with its name."""
    for practical in write_practicals():
        for bench, book in practical.books.items():
            yield f"{practical.draft.title}, {bench}", book
    strip = write_practicals()[0].books["Sanderling"]
    for i, convention in enumerate(CONVENTIONS):
        yield f"convention {i}", replace(strip, convention=Convention(**convention))
    for name, y in SHAPES:
        yield f"shape {name}", _curve(name, y)
    dice = random.Random(20)
    for i in range(14):
        yield f"slips {i}", _slipped(dice, i)
    yield "two runs", _two_runs()
    yield "calibration", _calibration()
    yield "warm", _temperatures()
    yield "counts", _counts()
    yield "rates", _rates()
    yield "logged", _logged()
    yield "hardly anything", _hardly_anything()
    for i in range(6):
        yield f"drawn {i}", _drawn(i)
    yield "broken", _broken()
    yield from write_few_books()


def _settings(xs: list[float], ys: list[list[str]], decimals: int = 2) -> tuple[Setting, ...]:
    return tuple(
        Setting(f"s{i}", {"x": (Reading(f"{x:.{decimals}f}"),), "y": tuple(Reading(t) if t else None for t in texts)})
        for i, (x, texts) in enumerate(zip(xs, ys, strict=True), 1)
    )


def _book(settings: tuple[Setting, ...], **more: Any) -> LabBook:
    repeats = max(len(s.readings["y"]) for s in settings)
    first = Quantity("x", "changed", "distance", "x", "m", METRE), Quantity("y", "measured", "force", "y", "N", None, repeats)
    quantities = (*first, *more.pop("quantities", ()))
    runs = more.pop("runs", (Run("r", "First", settings),))
    graphs = more.pop("graphs", (Graph("g", "", "x", "y"),))
    return LabBook(title="Kept", quantities=quantities, runs=runs, graphs=graphs, **more)


def _curve(shape: str, y: Callable[[float], float]) -> LabBook:
    dice = random.Random(shape)
    xs = [0.5 + 0.5 * i for i in range(12)]
    ys = [[f"{y(x) + dice.gauss(0, 0.05):.2f}" for _ in range(2)] for x in xs]
    fits = (
        Fit(
            "f",
            "g",
            shape=shape,
            show_equation=True,
            unknowns=(Unknown("u", "a sample", ("4.5", "4.7")),),
            expected="3/2" if shape == "power" else "",
        ),
        Fit("part", "g", low=1.0, high=3.0),
    )
    findings = (
        Finding("at", "value there", "w", "N", "y_1", uses=(Ingredient("y_1", "read_forward", "f", at="2.25"),)),
        Finding("slope", "slope there", "s", "", "v_1", uses=(Ingredient("v_1", "tangent", "f", at="2.0"),)),
        Finding("work", "work", "W", "J", "A_1", uses=(Ingredient("A_1", "area", "g", low=1.0, high=4.0),), compare=("slope",)),
    )
    slope = Quantity("v", "derived", "slope", "v", "", tangent_of="f")
    return _book(
        _settings(xs, ys), fits=fits, findings=findings, quantities=(slope,), graphs=(Graph("g", "", "x", "y"), Graph("h", "", "x", "v"))
    )


def _slipped(dice: random.Random, i: int) -> LabBook:
    """A table with one slip of the pen, of each kind in turn."""
    table = draw_table(dice)
    row, repeat = len(table.x) // 2, table.repeats - 1
    text = table.y[row][repeat]
    match i % 7:
        case 0:
            table.y[row][repeat] = f"{float(text) * 10:g}"
        case 1:
            table.y[row][repeat] = ""
        case 2:
            table.y[row] = [f"{float(t) * 1.3:.3g}" for t in table.y[row]]
        case 3:
            table.y[row], table.y[row + 1] = table.y[row + 1], table.y[row]
        case 4:
            table.y[row][repeat] = text + " kg"
        case 5:
            table.y[row][repeat] = text.replace(".", ",") + "0"
        case 6:
            table.x[row] = table.x[row - 1]
    return make_book(table, relation=i % 2 == 0)


def _two_runs() -> LabBook:
    dice = random.Random(5)
    xs = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6]
    runs = tuple(
        Run(key, key.title(), _settings(xs, [[f"{k * x + dice.gauss(0, 0.02):.2f}" for _ in range(3)] for x in xs]))
        for key, k in (("cold", 2.4), ("warm", 2.9))
    )
    fits = (
        Fit("line", "g", through_origin=True, show_extremes=True, show_equation=True, by_eye=ByEye(2.45, 0.0)),
        Fit(
            "other",
            "g",
            run="warm",
            show_equation=True,
            weights="none",
            steepest_by_eye=ByEye(3.0, -0.02),
            shallowest_by_eye=ByEye(2.8, 0.03),
        ),
    )
    findings = (
        Finding("k", "stiffness", "k", "N/m", "gradient", "line", Accepted("2.5", "0.1", "a table"), compare=("k2",)),
        Finding("k2", "other stiffness", "k_2", "N/m", "gradient", "other"),
        Finding("m", "middle", "M", "N", "a_1 - b_1", uses=(
            Ingredient("a_1", "mean", "y", low=0.2, high=0.5), Ingredient("b_1", "mean", "y", run="warm"))),
    )  # fmt: skip
    graph = Graph("g", "Both", "x", "y", origin=True, runs=("warm",), notes=(Note("n", "a draught", "point", "s3"),))
    aside = replace(runs[0].settings[1], set_aside="the clamp slipped")
    runs = (replace(runs[0], settings=(runs[0].settings[0], aside, *runs[0].settings[2:])), runs[1])
    return _book(runs[0].settings, runs=runs, fits=fits, findings=findings, graphs=(graph,), bench_rounds=True)


def _calibration() -> LabBook:
    xs = [0.0, 1.0, 2.0, 3.0, 4.0, 5.0]
    ys = [["0.02"], ["0.41"], ["0.79"], ["1.22"], ["1.60"], ["1.98"]]
    unknowns = (Unknown("a", "pool A", ("0.95", "0.97", "0.96")), Unknown("b", "pool B", ("2.40",)), Unknown("c", "pool C", ("x",)))
    uses = (Ingredient("x_a", "unknown", "line", "a"), Ingredient("x_b", "read_back", "line", at="1.00", repeats=2))
    findings = (Finding("d", "difference", "D", "m", "x_b - x_a", uses=uses),)
    return _book(_settings(xs, ys), fits=(Fit("line", "g", unknowns=unknowns),), findings=findings)


def _temperatures() -> LabBook:
    xs, ys = [10.0, 20.0, 30.0, 40.0, 50.0], [["295"], ["25.0 ± 0.5"], ["28.1"], ["31.2"], ["86 °F"]]
    quantities = (
        Quantity("x", "changed", "time", "t", "s", Instrument("clock", "counted", "1")),
        Quantity("y", "measured", "temperature", "theta", "°C", Instrument("probe", "maker", "0.1", percent="0.5", digits="2")),
        Quantity("c", "constant", "room", "theta_0", "°C", value="20", u="0.5"),
        Quantity("d", "derived", "lead", "D", "K", formula="theta - theta_0", digits=Digits("decimals", 1)),
        Quantity("l", "derived", "log", "ln(D)", "", formula="ln(D)"),
        Quantity("f", "derived", "in F", "F", "°F", formula="theta", digits=Digits("scientific", 3)),
    )
    run = Run("r", "Cooling", _settings(xs, ys, 0))
    return LabBook(
        "Warm", "How fast?", "theta = theta_0 + D_0 exp(-k t)", quantities=quantities, runs=(run,),
        graphs=(Graph("g", "", "x", "d"), Graph("h", "", "x", "l")), fits=(Fit("f", "h"),),
        findings=(
            Finding("k", "pace", "k", "1/min", "-gradient", "f"),
            Finding("h", "half time", "t_h", "s", "ln(2)/k_1", uses=(Ingredient("k_1", "finding", "k"),)),
        ),
    )  # fmt: skip


def _counts() -> LabBook:
    dice = random.Random(9)
    xs = [1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0]
    ys = [[str(round(dice.gauss(4000 / x**2 + 30, math.sqrt(4000 / x**2 + 30)))) for _ in range(2)] for x in xs]
    quantities = (
        Quantity("x", "changed", "distance", "d", "cm", Instrument("ruler", "scale", "0.5", readings=2, between_marks=True)),
        Quantity("y", "measured", "counts", "N", "", Instrument("counter", "counted_at_random", "1"), 2),
        Quantity("b", "constant", "background", "N_0", "", value="30", u="5"),
        Quantity("n", "derived", "net", "n", "", formula="N - N_0"),
        Quantity("i", "derived", "inverse root", "1/sqrt(n)", "", formula="1/sqrt(n)", digits=Digits("figures", 2)),
    )
    return LabBook(
        "Counts", "", "n = k/d^2", quantities=quantities, runs=(Run("r", "Counts", _settings(xs, ys, 1)),),
        graphs=(Graph("g", "", "x", "y"), Graph("h", "", "x", "i")), fits=(Fit("f", "h"), Fit("p", "g", shape="power", expected="-2")),
        findings=(Finding("k", "strength", "k", "", "1/gradient^2", "f", Accepted("4000", "", "the maker")),), bench_judges=True,
    )  # fmt: skip


def _rates() -> LabBook:
    xs = [0.1 * i for i in range(11)]
    ys = [[f"{4.9 * x * x + 0.2 * x:.3f}"] for x in xs]
    rate = Quantity("v", "derived", "speed", "v", "", formula="Δ(y)/Δ(x)")
    middle = Quantity("m", "derived", "middle", "x_m", "", formula="mid(x)")
    graphs = Graph("g", "", "x", "y"), Graph("h", "", "m", "v")
    findings = (
        Finding("a", "half acceleration", "a", "", "gradient/2", "f", Accepted("4.9", "0.05", "")),
        Finding("s", "steepest", "S", "", "p_1", uses=(Ingredient("p_1", "steepest", "g", "rate", "0.5"),)),
    )
    return _book(_settings(xs, ys), quantities=(rate, middle), graphs=graphs, fits=(Fit("f", "h"),), findings=findings)


def _logged() -> LabBook:
    dice = random.Random(3)
    t = [0.5 * i for i in range(240)]
    columns = {
        "x": tuple(f"{v:.1f}" for v in t),
        "y": tuple(f"{(0 if v < 60 else 3.2) + dice.gauss(0, 0.04):.2f}" if v != 33 else "" for v in t),
    }
    log = Log(240, columns, {"x": "m", "y": "N"})
    ends = (Ingredient("y_1", "mean", "y", low=0.0, high=55.0), Ingredient("y_2", "mean", "y", low=65.0, high=120.0))
    book = _book(
        _settings([0.0], [["0"]]),
        findings=(Finding("j", "jump", "J", "N", "y_2 - y_1", uses=ends),),
        fits=(Fit("f", "g", low=65.0, high=119.0),),
    )
    return replace(book, runs=(Run("r", "Logged", log=log),))


def _drawn(i: int) -> LabBook:
    """Graphs with ranges set by hand, numbers of every size, points alike, notes of every kind, a line through the origin."""
    size = (1.0, 3e5, 2e-5, 1e-3, 1e5, 40.0)[i]
    xs = [1.0, 2.0, 3.0, 4.0, 5.0, 6.0]
    ys = [[f"{size * (x if i != 5 else 1) + size * off:.6g}"] for x, off in zip(xs, (0.02, -0.03, 0.0, 0.04, -0.01, 0.02), strict=True)]
    ranges: dict[str, Any] = (
        {},
        {"x_low": 0.5},
        {"x_high": 4.5},
        {"y_low": 0.0, "y_high": 2.0},
        {"x_low": 2.0, "x_high": 5.0},
        {"origin": True},
    )[i]
    notes = (
        Note("p", "a point", "point", "s2"),
        Note("s", "a stretch", "stretch", x=3.0, x_high=5.0),
        Note("o", "one place", "stretch", x=4.0),
        Note("f", "the line", "fit", "f", x=2.5),
        Note("n", "nowhere", "point", "gone"),
    )
    graph = Graph("g", "Drawn", "x", "y", notes=notes, **ranges)
    eye = ByEye(size, 0.1 * size)
    fit = Fit("f", "g", through_origin=i == 2, by_eye=eye, show_extremes=True, steepest_by_eye=ByEye(1.1 * size, 0.0))
    instrument = Instrument("meter", "display", ("0.05", "1", "0.0000001", "0.0001", "100", "5")[i])
    book = _book(_settings(xs, ys), graphs=(graph, Graph("bare", "", "y", "x")), fits=(fit,))
    return replace(book, quantities=(book.quantities[0], replace(book.quantities[1], instrument=instrument)))


def _hardly_anything() -> LabBook:
    book = _book(
        _settings([0.1, 0.2], [["1.0", ""], ["", "2,1"]]), fits=(Fit("f", "g"),), findings=(Finding("k", "k", "k", "", "gradient", "f"),)
    )
    return replace(book, texts={"expectation": "It grows.", "method": "We pulled."})


def _broken() -> LabBook:
    quantities = (
        Quantity("p", "derived", "p", "p", "", formula="q + 1"),
        Quantity("q", "derived", "q", "q", "", formula="p - 1"),
        Quantity("s", "derived", "sum", "s", "", formula="x + y"),
        Quantity("i", "derived", "inverse", "1/(x-0.2)", "", formula="1/(x - 0.2 m)"),
        Quantity("r", "derived", "log", "ln(y)", "", formula="ln(y)"),
    )
    ys = [["1.0"], ["0"], ["-2"], ["three"], ["5.0"], ["6.1"]]
    findings = (Finding("a", "a", "a", "s", "gradient", "f"), Finding("b", "b", "b", "", "c_1", uses=(Ingredient("c_1", "finding", "b"),)))
    graphs = Graph("g", "", "x", "r"), Graph("h", "", "x", "p")
    return _book(
        _settings([0.1, 0.2, 0.3, 0.4, 0.5, 0.6], ys),
        quantities=quantities,
        graphs=graphs,
        fits=(Fit("f", "g"), Fit("z", "h")),
        findings=findings,
    )
