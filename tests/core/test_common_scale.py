"""How well the scale of an instrument is known, in common for all its readings, against the `uncertainties` package and closed forms."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from uncertainties import ufloat

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Log, Quantity, Reading, Run, Setting
from hobrel.core.errors import CoreError
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.readings.instruments import Instrument, common_share
from hobrel.core.uncertainty.traced import combine_quadrature

FILM = Instrument("film", "rectangular", "0.001", common="2")
X, Y, T = [0.1, 0.2, 0.3, 0.4, 0.5], [0.52, 0.98, 1.51, 2.02, 2.49], [1.0, 2.0, 3.0, 4.0, 5.0]


def book(instrument: Instrument, way: WayKind = "quadrature", derived: str = "x*y") -> LabBook:
    settings = tuple(
        Setting(f"s{i}", {"t": (Reading(str(t)),), "x": (Reading(f"{x} ± 0.01"),), "y": (Reading(f"{y} ± 0.02"),)})
        for i, (t, x, y) in enumerate(zip(T, X, Y, strict=True))
    )
    quantities = (
        Quantity("t", "changed", "time", "t", "s"),
        Quantity("x", "measured", "across", "x", "m", instrument),
        Quantity("y", "measured", "up", "y", "m", instrument),
        Quantity("d", "derived", "product", "d", formula=derived),
    )
    return LabBook(
        "Film", quantities=quantities, runs=(Run("r", "Run", settings),), graphs=(Graph("g", "", "t", "y"), Graph("h", "", "x", "y")),
        fits=(Fit("f", "g"), Fit("k", "h")), convention=Convention(propagation=way),
        findings=(
            Finding("v", "speed", "v", "", "gradient", "f"),
            Finding("n", "slope", "n", "", "gradient", "k"),
        ),
    )  # fmt: skip


def finding(of: LabBook, key: str) -> ComputedFinding:
    found = compute(of).findings[key]
    assert isinstance(found, ComputedFinding), found
    return found


class CommonScale(TestCase):
    def test_it_enters_a_finding_once_and_no_bar(self) -> None:
        with_it, without = book(FILM), book(replace(FILM, common="0"))
        bars = [compute(b).columns["r"].columns["y"].u for b in (with_it, without)]
        np.testing.assert_array_equal(*bars)
        lines = [compute(b).fitted("f")[0] for b in (with_it, without)]
        assert isinstance(lines[0], FittedLine) and isinstance(lines[1], FittedLine)
        self.assertEqual(lines[0].line.gradient, lines[1].line.gradient)
        self.assertEqual(lines[0].line.u_gradient, lines[1].line.u_gradient)
        plain = finding(without, "v")
        # by hand: m (1 ± 0.02), whatever the points are
        expected = ufloat(plain.value, plain.u) * ufloat(1, 0.02)
        self.assertAlmostEqual(finding(with_it, "v").u, expected.std_dev, delta=1e-6 * expected.std_dev)

    def test_what_both_axes_share_cancels(self) -> None:
        self.assertAlmostEqual(finding(book(FILM), "n").u, finding(book(replace(FILM, common="0")), "n").u, delta=1e-6)

    def test_one_scale_for_all_that_was_read_with_it(self) -> None:
        column = compute(book(FILM)).columns["r"].columns["d"]
        assert column.traced is not None
        for x, y, u, u_all in zip(X, Y, column.u, combine_quadrature(column.traced), strict=True):
            a, b, scale = ufloat(x, 0.01), ufloat(y, 0.02), ufloat(1, 0.02)
            self.assertAlmostEqual(float(u), (a * b).std_dev, places=12)
            self.assertAlmostEqual(float(u_all), ((a * scale) * (b * scale)).std_dev, places=12)

    def test_in_every_way_of_the_class(self) -> None:
        """x·y at 0.1 ± 0.01 and 0.52 ± 0.02 m with one scale known to 2 %: closed forms of each way."""
        x, y = 0.1, 0.52
        expected: dict[WayKind, float] = {
            "sum": y * 0.01 + x * 0.02 + 2 * 0.02 * x * y,
            "extremes": ((x * 1.02 + 0.01) * (y * 1.02 + 0.02) - (x * 0.98 - 0.01) * (y * 0.98 - 0.02)) / 2,
            "monte_carlo": math.hypot(y * 0.01, x * 0.02, 2 * 0.02 * x * y),
        }
        for way, u_all in expected.items():
            with self.subTest(way=way):
                column = compute(book(FILM, way)).columns["r"].columns["d"]
                tolerance = 0.05 if way == "monte_carlo" else 1e-9
                self.assertAlmostEqual(float(column.u_all[0]), u_all, delta=tolerance * u_all)
                without = compute(book(replace(FILM, common="0"), way)).columns["r"].columns["d"]
                self.assertAlmostEqual(float(column.u[0]), float(without.u[0]), places=12)

    def test_two_instruments_are_two_scales(self) -> None:
        shown = book(FILM)
        other = replace(
            shown, quantities=tuple(replace(q, instrument=replace(FILM, name="other")) if q.id == "y" else q for q in shown.quantities)
        )
        column = compute(other).columns["r"].columns["d"]
        assert column.traced is not None
        expected = ufloat(X[0], 0.01) * ufloat(1, 0.02) * ufloat(Y[0], 0.02) * ufloat(1, 0.02)
        self.assertAlmostEqual(float(combine_quadrature(column.traced)[0]), expected.std_dev, places=12)

    def test_in_a_log_too(self) -> None:
        shown = book(FILM)
        columns = {"t": tuple(map(str, T)), "x": tuple(map(str, X)), "y": tuple(map(str, Y))}
        logged = replace(shown, runs=(Run("r", "Run", (), log=Log(5, columns, {"t": "s", "x": "m", "y": "m"})),))
        whole, plain = (finding(b, "v") for b in (logged, replace(logged, quantities=book(replace(FILM, common="0")).quantities)))
        self.assertAlmostEqual(whole.u, math.hypot(plain.u, 0.02 * plain.value), delta=1e-6)

    def test_it_is_said(self) -> None:
        shown = analyse(book(FILM))
        (run,) = shown.runs
        self.assertIn("all alike ± 2 %", next(c for c in run.columns if c.quantity == "y").instrument_text)
        (bars,) = [f.budget for f in shown.findings if f.finding == "v"]
        scale = next(bar for bar in bars if bar.shared)
        self.assertEqual("".join(run.text for run in scale.symbol), "film")
        self.assertIn("2 %", scale.words)

    def test_what_is_no_share_is_refused(self) -> None:
        for text in ("100", "-1", "two", ""):
            with self.subTest(text), self.assertRaises(CoreError):
                common_share(replace(FILM, common=text))
