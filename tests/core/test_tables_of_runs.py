"""A table of runs: what each run gives, against what was set for it, with its ±, plotted and fitted in turn."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.document.lab_book import (
    Fit,
    Graph,
    Instrument,
    LabBook,
    Quantity,
    Reading,
    ResultOf,
    Run,
    Setting,
    read_lab_book,
    write_lab_book,
)
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.ground import Ground
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.uncertainty.traced import combine_quadrature

OFF = (0.01, -0.02, 0.01, 0.02, -0.01)
SLOPES = {"a": 2.0, "b": 3.1, "c": 3.9, "d": 5.0}
X = Quantity("x", "changed", "extension", "x", "m")
Y = Quantity("y", "measured", "force", "F", "N", Instrument("meter", "display", "0.01"))
M = Quantity("m", "changed", "thickness", "d", "mm")
N = Quantity("n", "measured", "run", "", holds="words")
K = Quantity("k", "derived", "stiffness", "k", result_of=ResultOf("fit", "f", "gradient"))


def run(key: str, slope: float) -> Run:
    def setting(i: int, x: int, off: float) -> Setting:
        return Setting(f"{key}{i}", {"x": (Reading(str(x)),), "y": (Reading(f"{slope * x + off:.2f}"),)})

    rows = tuple(setting(i, x, off) for i, (x, off) in enumerate(zip((1, 2, 3, 4, 5), OFF, strict=True)))
    return Run(key, key, rows, headings=("x", "y"))


def table(*of: str) -> Run:
    rows = tuple(Setting(f"T{i}", {"m": (Reading(f"{i + 1}"),), "n": (Reading(key),)}, of_run=key) for i, key in enumerate(of))
    return Run("T", "Table of runs", rows, headings=("m", "n"))


def book(*quantities: Quantity, of: tuple[str, ...] = ("a", "b", "c", "d")) -> LabBook:
    return LabBook(
        "stiffness",
        quantities=(X, Y, M, N, *(quantities or (K,))),
        runs=(*(run(key, slope) for key, slope in SLOPES.items()), table(*of)),
        graphs=(Graph("g", "", "x", "y"), Graph("h", "", "m", "k")),
        fits=(Fit("f", "g"), Fit("l", "h")),
    )


def values(ground: Ground, quantity: str = "k") -> list[float]:
    traced = ground.columns["T"].columns[quantity].traced
    assert traced is not None
    found: list[float] = traced.value.tolist()
    return found


class TablesOfRuns(unittest.TestCase):
    def test_each_row_is_what_its_run_gives_when_it_is_looked_at_itself(self) -> None:
        ground = compute(book())
        column = ground.columns["T"].columns["k"]
        assert column.traced is not None
        for row, key in enumerate(SLOPES):
            alone = compute(book().seen_from(key)).fitted("f")[0].outputs["gradient"]
            self.assertAlmostEqual(float(column.traced.value[row]), float(alone.value), places=12)
            self.assertAlmostEqual(float(column.u[row]), float(combine_quadrature(alone)), places=12)
        # by paper: the least squares gradient of 2 x + off over 1 to 5 is 2 + Σ (x − 3) off / 10
        self.assertAlmostEqual(values(ground)[0], 2 + np.dot(np.arange(-2, 3), OFF) / 10, places=9)

    def test_the_table_is_fitted_in_turn(self) -> None:
        shown = analyse(book())
        points = shown.graphs[1].figure
        assert points is not None
        self.assertEqual([round(p.y, 2) for p in points.series[0].points], [2.0, 3.1, 3.9, 5.0])
        gradient = shown.fits[1].gradient
        assert gradient is not None
        # by paper, with equal weights: Σ (d − 2.5) k / 5 = (−1.5 × 2 − 0.5 × 3.1 + 0.5 × 3.9 + 1.5 × 5) / 5 per mm
        self.assertAlmostEqual(gradient.value, 980, places=6)
        self.assertEqual(shown.slips, ())

    def test_a_reading_that_changes_moves_its_row_alone(self) -> None:
        before = values(compute(book()))
        runs = list(book().runs)
        first = runs[1].settings[0]
        runs[1] = replace(runs[1], settings=(replace(first, readings={**first.readings, "y": (Reading("3.50"),)}), *runs[1].settings[1:]))
        after = values(compute(replace(book(), runs=tuple(runs))))
        self.assertEqual([a == b for a, b in zip(after, before, strict=True)], [True, False, True, True])

    def test_means_of_runs(self) -> None:
        mean = Quantity("k", "derived", "mean force", "F_m", result_of=ResultOf("mean", "y"))
        # by paper: the mean of slope × 3 and of what is off, 0.002
        self.assertTrue(np.allclose(values(compute(book(mean))), [3 * s + 0.002 for s in SLOPES.values()]))

    def test_what_all_runs_share_stays_shared(self) -> None:
        whole = (
            replace(X, id="x0", symbol="x_0", name="place", unit="m"),
            Quantity("c", "constant", "zero", "x_z", "m", value="0", u="0.1"),
            Quantity("s", "constant", "scale", "s", "", value="1", u="0.05"),
            Quantity("x", "derived", "extension", "x", formula="s x_0"),
        )
        shared = replace(
            book(),
            quantities=(*whole, Y, M, N, K),
            runs=tuple(
                replace(
                    r,
                    headings=("x0", "y") if r.id != "T" else r.headings,
                    settings=tuple(replace(s, readings={("x0" if q == "x" else q): v for q, v in s.readings.items()}) for s in r.settings),
                )
                for r in book().runs
            ),
        )
        column = compute(shared).columns["T"].columns["k"]
        assert column.traced is not None
        scale = next(s for s in column.traced.slopes if s.symbol == "s")
        self.assertTrue(scale.shared)
        # k = F / (s x): 5 % more of s make 1/1.05 of every k, as it is found by moving s by its u; it is no part of a bar
        self.assertTrue(np.allclose(column.traced.slopes[scale], [-k / 1.05 for k in values(compute(shared))], rtol=1e-6))
        self.assertTrue(np.all(column.u < 0.01))
        self.assertTrue(np.all(column.u_all > 0.047 * np.array(values(compute(shared)))))

    def test_a_run_without_a_result_leaves_its_row_with_the_reason(self) -> None:
        runs = list(book(of=("a", "gone", "c", "T")).runs)
        runs[2] = replace(runs[2], settings=runs[2].settings[:2])
        ground = compute(replace(book(of=("a", "gone", "c", "T")), runs=tuple(runs)))
        self.assertEqual(np.isfinite(values(ground)).tolist(), [True, False, False, False])
        why = {row: words.code for row, words in ground.columns["T"].columns["k"].without.items()}
        self.assertEqual(why, {1: "run_gone", 2: "too_few_points", 3: "run_gone"})

    def test_where_no_run_has_given_anything(self) -> None:
        for result, code in (
            (ResultOf("fit", "nowhere", "gradient"), "too_few_points"),
            (ResultOf("fit", "f", "amplitude"), "too_few_points"),
            (ResultOf("mean", "nowhere"), "too_few_points"),
        ):
            trouble = compute(book(replace(K, result_of=result))).columns["T"].columns["k"].trouble
            assert trouble is not None
            self.assertEqual(trouble.code, code)

    def test_the_bench_draws_first(self) -> None:
        waits = replace(book(), bench_draws=True)
        self.assertEqual({w.code for w in compute(waits).columns["T"].columns["k"].without.values()}, set())
        trouble = compute(waits).columns["T"].columns["k"].trouble
        assert trouble is not None

    def test_in_tables_of_readings_there_is_nothing_of_it(self) -> None:
        shown = {r.run: [c.quantity for c in r.columns] for r in analyse(book()).runs}
        self.assertEqual(shown["a"], ["x", "y"])
        self.assertEqual(shown["T"], ["m", "n", "k"])

    def test_two_tables_that_name_each_other_stay_empty(self) -> None:
        other = replace(table("T"), id="U", name="other")
        circle = replace(
            book(replace(K, result_of=ResultOf("mean", "k"))), runs=(*(run(k, s) for k, s in SLOPES.items()), table("U"), other)
        )
        self.assertIsNone(compute(circle).columns["T"].columns["k"].traced)

    def test_a_number_of_it_says_where_it_is_from(self) -> None:
        found = explain(compute(book()), "cell:T:T1:k")
        self.assertEqual(found.title, "stiffness, b")
        self.assertIn("3.100 ± 0.006", found.result)
        with self.assertRaises(CoreError):
            explain(compute(book(of=("a", "gone"))), "cell:T:T1:k")

    def test_is_kept_as_it_is(self) -> None:
        written = write_lab_book(book())
        self.assertEqual(write_lab_book(read_lab_book(written)), written)


if __name__ == "__main__":
    unittest.main()
