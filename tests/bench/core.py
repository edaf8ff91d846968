"""The core against the bare NumPy and SciPy calls for the same numbers."""

from __future__ import annotations

import random
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from scipy import odr, stats
from scipy.optimize import linprog

from hobrel.core.document.lab_book import Finding, Fit, Graph, LabBook, Log, Quantity, Reading, Run, Setting
from hobrel.core.formulas.evaluate import evaluate
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.ways import Input, propagate
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.class_data import present_class
from hobrel.core.presentation.pool import present_pool
from hobrel.core.presentation.shares import BenchShare, share_findings
from hobrel.core.readings.logged import read_logged
from hobrel.core.stepping.loops import Equations
from hobrel.core.stepping.solving import Beginning, step_along
from hobrel.core.uncertainty.traced import Floats, Traced
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.bench.timing import QUIET, Pace, Row, best_of, ms
from tests.builders import RULER, STOPWATCH


def usual_book(settings: int = 12, runs: int = 1, repeats: int = 3) -> LabBook:
    """Settings × repeats × three quantities, four derived, two graphs, two fits, one finding."""
    dice = random.Random(5)

    def setting(run: int, i: int) -> Setting:
        x = 0.2 + 0.6 * i / settings
        times = tuple(Reading(f"{10 * x**1.5 + dice.gauss(0, 0.03):.2f}") for _ in range(repeats))
        other = tuple(Reading(f"{5 * x + dice.gauss(0, 0.02):.2f}") for _ in range(repeats))
        return Setting(f"s{run}-{i}", {"x": (Reading(f"{x:.5f}"),), "y": times, "z": other})

    derived = [("p", "y/10"), ("q", "p^2"), ("r", "x^3"), ("w", "q/x + z^2/x")]
    return LabBook(
        title="bench",
        quantities=(
            Quantity("x", "changed", "length", "x", "m", RULER),
            Quantity("y", "measured", "time", "y", "s", STOPWATCH, repeats),
            Quantity("z", "measured", "second time", "z", "s", STOPWATCH, repeats),
            Quantity("k", "constant", "load", "k", "kg", value="0.300", u="0.001"),
            *(Quantity(name, "derived", name, name, formula=f) for name, f in derived),
        ),
        runs=tuple(Run(f"run{r}", f"Run {r}", tuple(setting(r, i) for i in range(settings))) for r in range(runs)),
        graphs=(Graph("a", "", "x", "p"), Graph("b", "", "r", "q")),
        fits=(Fit("fa", "a"), Fit("fb", "b")),
        findings=(Finding("E", "modulus", "E", "", "16 pi^2 k/gradient", "fb"),),
    )


def edited_books(count: int) -> Iterator[LabBook]:
    """The usual lab book after one edit after another: what an analysis has to deal with while somebody types."""
    book = usual_book()
    for i in range(count):
        run = book.runs[0]
        settings = list(run.settings)
        old = settings[i % 12]
        settings[i % 12] = replace(old, readings={**old.readings, "y": (Reading(f"{3 + i / 50:.2f}"), *old.readings["y"][1:])})
        book = replace(book, runs=(replace(run, settings=tuple(settings)),))
        yield book


def logged_book(rows: int, runs: int) -> LabBook:
    """The same with logs in place of what was written down."""
    written = usual_book(rows, runs, 1)

    def as_log(run: Run) -> Run:
        texts = {q: tuple(r.text for s in run.settings if (r := s.readings[q][0])) for q in ("x", "y", "z")}
        return Run(run.id, run.name, (), Log(rows, texts))

    quantities = tuple(replace(q, repeats=1) for q in written.quantities)
    return replace(written, quantities=quantities, runs=tuple(as_log(r) for r in written.runs))


def compute_afresh(book: LabBook) -> object:
    """Compute a lab book whose logs nobody has read yet."""
    read_logged.cache_clear()
    return compute(book)


def bare_line(x: Floats, y: Floats, ux: Floats, uy: Floats) -> float:
    """What a script calls for the numbers of one line card: both-axes fit, χ², curvature, steepest and shallowest line."""
    start = np.polyfit(x, y, 1)
    fit = odr.ODR(odr.RealData(x, y, ux, uy), odr.Model(lambda p, t: p[0] * t + p[1]), start, sstol=1e-14, partol=1e-14).run()
    m, c = fit.beta
    residuals = y - m * x - c
    chi2 = float(np.sum(residuals**2 / (uy**2 + (m * ux) ** 2)))
    _, covariance = np.polyfit(x, y, 2, w=1 / uy, cov=True)
    total = chi2 + float(stats.chi2.sf(chi2, x.size - 2)) + float(covariance[0, 0]) + float(np.corrcoef(x, y)[0, 1])
    for sign in (1.0, -1.0):
        above, below = np.column_stack([x - sign * ux, np.ones_like(x)]), -np.column_stack([x + sign * ux, np.ones_like(x)])
        bounds = [(0, None) if sign > 0 else (None, 0), (None, None)]
        for aim in (1.0, -1.0):
            found = linprog([-aim, 0], np.vstack([above, below]), np.concatenate([y + uy, uy - y]), bounds=bounds)
            total += float(found.x[0]) if found.status == 0 else 0.0
    return total


def bare(book: LabBook) -> float:
    """The same numbers as a script would compute them: parsed, averaged, derived, two lines with all on their cards, one result."""
    total = 0.0
    for run in book.runs:
        if run.log:
            x = np.array([float(t) for t in run.log.columns["x"]])
            blocks = [np.array([[float(t)] for t in run.log.columns[q]]) for q in ("y", "z")]
        else:
            x = np.array([float(s.readings["x"][0].text) for s in run.settings if s.readings["x"][0]])
            blocks = [np.array([[float(r.text) for r in s.readings[q] if r] for s in run.settings]) for q in ("y", "z")]
        y, z = (b.mean(axis=1) for b in blocks)
        uy, uz = (np.maximum(np.ptp(b, axis=1) / 2, 0.01) for b in blocks)
        ux = np.full_like(x, 0.0005)
        p, up = y / 10, uy / 10
        q, uq, r, ur = p**2, 2 * p * up, x**3, 3 * x**2 * ux
        w = q / x + z**2 / x
        uw = np.sqrt((uq / x) ** 2 + (2 * z * uz / x) ** 2 + (w / x * ux) ** 2)
        total += float(w.sum() + uw.sum())
        if run is book.runs[0]:
            total += bare_line(x, p, ux, up) + bare_line(r, q, ur, uq)
    return total


def import_seconds(statement: str) -> float:
    code = f"import time; import numpy, scipy.special, scipy.optimize; t = time.perf_counter(); {statement}; print(time.perf_counter() - t)"
    return min(float(subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout) for _ in range(3))


def core_rows() -> list[Row]:
    usual, logged, edits = usual_book(), logged_book(5000, 10), edited_books(40)
    analyse(usual)
    pace = Pace()
    ours, theirs = best_of(lambda: analyse(next(edits)), 30), best_of(lambda: bare(usual))
    pace.sample()
    many_ours, many_theirs = best_of(lambda: compute_afresh(logged), 3), best_of(lambda: bare(logged), 3)
    x, y = (np.random.default_rng(1).uniform(1, 2, 50_000) for _ in range(2))
    node = read_formula("4 pi^2 x/y^2 + ln(x) sqrt(y)", {"x", "y"})
    values = {"x": Traced(x, {}), "y": Traced(y, {})}
    formula = best_of(lambda: evaluate(node, values)), best_of(lambda: 4 * np.pi**2 * x / y**2 + np.log(x) * np.sqrt(y))
    inputs = {n: Input(v, 0.01 * v) for n, v in (("m", 0.3), ("b", 0.03), ("d", 0.003), ("k", 4.7))}
    four = read_formula("16 pi^2 m/(b d^3 k)", inputs)
    drawing = best_of(lambda: propagate(four, inputs, "monte_carlo"), 7)
    pace.sample()
    names = {"x", "v", "k", "m", "t"}
    swing = Equations(tuple(((None, read_formula(rate, names)),) for rate in ("v", "-k x / m")), ("x", "v"), ("k", "m"), "t")
    stepping = best_of(lambda: step_along(swing, Beginning(0.0, (1.0, 0.0), (4.0, 1.0)), 10.0, 1e-4, "fourth"), 7)
    pools = {n: best_of(lambda n=n: pool_of(n), 5) for n in (16, 64)}  # type: ignore[misc]
    importing = import_seconds("import hobrel.core.presentation.analysis")
    pace.sample()

    def quiet(seconds: float) -> str:
        # of the shortest of several runs by the quickest moment seen, so that nothing looks quicker than it is
        return ms(seconds * QUIET / min(pace.spans))

    return [
        Row(
            "`analyse()` of a usual lab book after an edit, against bare NumPy and SciPy",
            f"{ms(ours)}, {ours / theirs:.1f} ×",
            "≤ 15 ms, ≤ 3 ×",
            quiet(ours),
        ),
        Row("`compute()` of 10 runs of 5,000 logged rows against bare", f"{ms(many_ours)}, {many_ours / many_theirs:.1f} ×", "≤ 3 ×"),
        Row("a formula over 50,000 rows against NumPy", f"{ms(formula[0])}, {formula[0] / formula[1]:.2f} ×", "≤ 1.5 ×"),
        Row("Monte Carlo, 2·10⁵ draws of a four-symbol formula", ms(drawing), "≤ 100 ms", quiet(drawing)),
        Row("a model of two rates, 10⁵ steps of fourth order", ms(stepping), "≤ 100 ms", quiet(stepping)),
        Row("pool of 16 benches × 3 findings", ms(pools[16]), "≤ 50 ms", quiet(pools[16])),
        Row("pool of 64 benches × 3 findings, against 16", f"{ms(pools[64])}, {pools[64] / pools[16]:.1f} ×", "≤ 4 ×"),
        Row("importing the core, beyond NumPy and SciPy", ms(importing), "≤ 400 ms", quiet(importing)),
    ]


_POOLS: dict[int, list[BenchShare]] = {}


def pool_of(benches: int) -> object:
    """Three findings pooled over so many benches whose analyses are known."""
    if benches not in _POOLS:
        plan = make_plan()
        overhangs = tuple(0.3 + 0.05 * i for i in range(8))
        written = [write_bench(plan, Story(overhangs), random.Random(i)) for i in range(benches)]
        _POOLS[benches] = [share_findings(compute(book), f"bench {i}") for i, book in enumerate(written)]
    finding = make_plan().findings[0]
    return [present_pool(replace(finding), _POOLS[benches]) for _ in range(3)], present_class([finding], _POOLS[benches])
