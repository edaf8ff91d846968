"""The way in which a class carries ± through formulas: in derived columns, in findings, and nowhere else.

Right answers are by hand (the definitions of 5.1.2 and F.1.2 of JCGM 100:2008 for quadrature, common practice for sum and extremes) and,
for draws, by the moments of normal variables.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any
from unittest import TestCase

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Ingredient, LabBook, Quantity, read_lab_book, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.columns import Column
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.sentences import told
from tests.builders import lab_book
from tests.core.test_lab_book_jobs import examine

# x ± 0.0005 m by the ruler, y ± 0.01 s by the stopwatch
ROWS = [(f"0.{i}00", [f"{i}.00"]) for i in range(1, 7)]
UX, UY = 0.0005, 0.01
WAYS: tuple[WayKind, ...] = ("quadrature", "sum", "extremes", "monte_carlo")


def derived(symbol: str, formula: str, unit: str = "") -> Quantity:
    return Quantity(symbol, "derived", symbol, symbol, unit, formula=formula)


def column(way: WayKind, *quantities: Quantity, constants: tuple[Quantity, ...] = (), rows: Any = ROWS) -> Column:
    """The last of some derived quantities."""
    book = lab_book(rows, quantities, constants, convention=Convention(propagation=way))
    return compute(book).columns["run1"].columns[quantities[-1].id]


class Columns(TestCase):
    def test_a_product_by_each_way(self) -> None:
        """x y at 0.3 m and 3 s: parts y u(x) = 0.0015 and x u(y) = 0.003; the corners are (x ± u)(y ± u)."""
        expected = {"quadrature": math.hypot(0.0015, 0.003), "sum": 0.0045, "extremes": 0.0045}
        for way, u in expected.items():
            self.assertAlmostEqual(float(column(way, derived("z", "x y")).u[2]), u, 12)
        # var(XY) = x²u(y)² + y²u(x)² + u(x)²u(y)² (independent normal variables)
        drawn = math.sqrt(0.0015**2 + 0.003**2 + (UX * UY) ** 2)
        self.assertAlmostEqual(float(column("monte_carlo", derived("z", "x y")).u[2]) / drawn, 1, delta=0.02)

    def test_a_bent_formula_shows_where_first_order_ends(self) -> None:
        """y² at y = 1 with u = 0.5 (one written ±): sum 1.0, corners (2.25 − 0.25)/2 = 1.0; y⁴: sum 2.0, corners (5.0625 − 0.0625)/2 = 2.5;
        draws of y²: √(4y²u² + 2u⁴)."""
        rows = [(x, ["1.0 ± 0.5"]) for x, _ in ROWS]
        for formula, way, u in (
            ("y^2", "sum", 1.0), ("y^2", "extremes", 1.0), ("y^4", "sum", 2.0), ("y^4", "extremes", 2.5),
        ):  # fmt: skip
            with self.subTest(formula, way=way):
                self.assertAlmostEqual(float(column(way, derived("z", formula), rows=rows).u[0]), u, 12)
        drawn = float(column("monte_carlo", derived("z", "y^2"), rows=rows).u[0])
        self.assertAlmostEqual(drawn / math.sqrt(4 * 0.25 + 2 * 0.0625), 1, delta=0.03)

    def test_what_rests_on_the_same_readings_is_followed_down(self) -> None:
        """a = 2 y, b = a − y is y; c = a − 2 y is nothing. A sum of the parts of a and y by themselves would be 3 u and 4 u."""
        for way in WAYS:
            with self.subTest(way):
                a = derived("a", "2 y")
                close = 1e-12 if way != "monte_carlo" else 0.0004
                self.assertAlmostEqual(float(column(way, a, derived("b", "a - y")).u[0]), UY, delta=close)
                self.assertAlmostEqual(float(column(way, a, derived("c", "a - 2 y")).u[0]), 0.0, delta=1e-12)

    def test_a_wanted_unit_and_temperatures(self) -> None:
        for way in WAYS:
            with self.subTest(way):
                found = column(way, derived("d", "2 x", "cm"), derived("e", "d + x", "mm"))
                self.assertAlmostEqual(float(found.u[0]) / 1.5, 1, delta=1e-9 if way != "monte_carlo" else 0.03)

    def test_a_shared_constant_is_no_part_of_the_bars(self) -> None:
        """c y with c = 2.0 ± 0.2 at y = 3: bars 0.02; with the constant 0.6 more by sum, √(0.6² + 0.02²) in quadrature."""
        constant = (Quantity("c", "constant", "c", "c", "", value="2.0", u="0.2"),)
        whole = {"quadrature": math.hypot(0.6, 0.02), "sum": 0.62, "extremes": 0.62, "monte_carlo": math.hypot(0.6, 0.02)}
        for way, u_all in whole.items():
            with self.subTest(way):
                found = column(way, derived("z", "c y"), constants=constant)  # type: ignore[arg-type]
                close = 1e-9 if way != "monte_carlo" else 0.03
                self.assertAlmostEqual(float(found.u[2]) / 0.02, 1, delta=close)
                self.assertAlmostEqual(float(found.u_all[2]) / u_all, 1, delta=close)

    def test_a_constant_of_nature_is_a_part_too(self) -> None:
        """G y: 6.67430(15)·10⁻¹¹ (CODATA 2018 and 2022), a relative 2.247·10⁻⁵."""
        found = column("sum", derived("z", "G y"))
        self.assertAlmostEqual(float(found.u_all[2] / found.u[2]), 1 + 3 * 1.5e-15 / (6.6743e-11 * 0.01), 6)
        self.assertAlmostEqual(float(column("extremes", derived("z", "G y")).u_all[2] / found.u_all[2]), 1, 6)

    def test_where_a_corner_has_no_value_the_uncertainty_is_not_known(self) -> None:
        rows = [("0.100", ["0.2 ± 0.3"]), ("0.200", ["2.0 ± 0.3"])]
        for way in ("extremes", "monte_carlo"):
            with self.subTest(way):
                found = column(way, derived("z", "ln(y)"), rows=rows)  # type: ignore[arg-type]
                self.assertEqual((math.isinf(found.u[0]), math.isfinite(found.u[1])), (True, True))
                book = lab_book(rows, [derived("z", "ln(y)")], convention=Convention(propagation=way))  # type: ignore[arg-type]
                told = next(c for c in examine(book)["runs"][0]["columns"] if c["quantity"] == "z")
                self.assertIsNone(told["u"][0])
                self.assertEqual(told["u_texts"][0], "")

    def test_from_setting_to_setting_first_order_is_gone_and_said(self) -> None:
        """Δy between neighbours is √2 u of two readings; added to x's it is a sum or a square."""
        parts = math.sqrt(2) * UY, 2 * UX
        for way, u, gone in (
            ("sum", sum(parts), "sum"),
            ("extremes", sum(parts), "sum"),
            ("monte_carlo", math.hypot(*parts), "quadrature"),
        ):
            with self.subTest(way):
                found = column(way, derived("z", "Delta(y) + 2 x v"), constants=(Quantity("v", "constant", "v", "v", "s/m", value="1"),))
                assert found.carried is not None
                self.assertEqual(found.carried.way, gone)
                self.assertAlmostEqual(float(found.u[2]), u, 12)

    def test_a_blank_leaves_the_others(self) -> None:
        for way in WAYS:
            rows = [*ROWS[:3], ("0.400", [None]), *ROWS[4:]]
            found = column(way, derived("z", "y^2"), rows=rows)
            self.assertEqual([bool(v) for v in (found.u > 0)], [True, True, True, False, True, True])

    def test_bars_on_graphs_are_those_of_the_way_and_lines_stay(self) -> None:
        book = lab_book(ROWS, [derived("z", "x y")], graph=("x", "z"))
        told = {way: examine(replace(book, convention=Convention(propagation=way))) for way in ("quadrature", "sum")}
        bars = {way: found["graphs"][0]["points"][2]["uy"] for way, found in told.items()}
        self.assertAlmostEqual(bars["sum"], 0.0045, 12)
        self.assertAlmostEqual(bars["quadrature"], math.hypot(0.0015, 0.003), 12)
        self.assertEqual(told["sum"]["fits"], told["quadrature"]["fits"])


class Findings(TestCase):
    book = lab_book(
        ROWS,
        constants=[Quantity("c", "constant", "factor", "c", "", value="2.0", u="0.1")],
        findings=[
            Finding("F", "first", "F", "s/m", "c gradient", "f", Accepted("20.5", "0.4", "a table")),
            Finding("S", "second", "S", "s/m", "F/2", "", uses=(Ingredient("F", "finding", of="F"),)),
        ],
    )

    def found(self, way: WayKind, key: str = "F") -> ComputedFinding:
        found = compute(replace(self.book, convention=Convention(propagation=way))).findings[key]
        assert isinstance(found, ComputedFinding)
        return found

    def test_a_gradient_and_a_constant_by_each_way(self) -> None:
        """F = c m with m = 10 s/m: parts 0.1 · 10 = 1 and 2 u(m)."""
        quadrature = self.found("quadrature")
        own = math.sqrt(quadrature.u**2 - 1)
        self.assertAlmostEqual(self.found("sum").u, 1 + own, 9)
        self.assertAlmostEqual(self.found("extremes").u, 1 + own, 9)
        self.assertAlmostEqual(self.found("monte_carlo").u / quadrature.u, 1, delta=0.01)
        self.assertGreater(own, 0.005)

    def test_shares_are_of_what_adds_up(self) -> None:
        shares = {b.symbols[0]: b.share for b in self.found("sum").budget}
        self.assertAlmostEqual(shares["c"], 1 / self.found("sum").u, 9)
        self.assertAlmostEqual(sum(shares.values()), 1, 12)

    def test_in_another_finding_no_part_is_added_twice(self) -> None:
        for way in WAYS:
            with self.subTest(way):
                self.assertAlmostEqual(self.found(way, "S").u, self.found(way).u / 2, delta=1e-9 if way != "monte_carlo" else 0.003)

    def test_verdicts_do_not_go_by_the_way(self) -> None:
        said = {}
        for way in WAYS:
            told = examine(replace(self.book, convention=Convention(propagation=way)))["findings"][0]
            (comparison,) = told["comparisons"]
            said[way] = comparison["p"], comparison["verdict"]
            self.assertAlmostEqual(comparison["u_difference"], math.hypot(told["u"], 0.4), 9)
        self.assertEqual(len(set(said.values())), 1)

    def test_gradient_and_intercept_drawn_together(self) -> None:
        """c + 0.35 m is the middle of the points, known much better than its two parts are: they are drawn with their covariance."""
        middle = Finding("M", "middle", "M", "s", "intercept + 0.35 gradient x_0", "f")
        known = Quantity("x_0", "constant", "unit", "x_0", "m", value="1")
        book = lab_book(ROWS, constants=[known], findings=[middle])
        quadrature, drawn = (
            compute(replace(book, convention=Convention(propagation=way))).findings["M"] for way in ("quadrature", "monte_carlo")
        )
        if isinstance(quadrature, CoreError) or isinstance(drawn, CoreError):
            self.fail((quadrature, drawn))
        self.assertAlmostEqual(drawn.u / quadrature.u, 1, delta=0.01)

    def test_where_first_order_is_nothing(self) -> None:
        """d² at d = 0 ± 0.1: both corners 0.01, nothing between them; draws √2 · 0.01 (χ² with ν = 1 has variance 2)."""
        zero = Quantity("d", "constant", "d", "d", "", value="0.0", u="0.1")
        expected = (("quadrature", 0.0), ("extremes", 0.0), ("monte_carlo", math.sqrt(2) * 0.01))
        for way, u in expected:
            book = lab_book(
                ROWS, constants=[zero], findings=[Finding("Q", "Q", "Q", "", "d^2", "")], convention=Convention(propagation=way)
            )  # type: ignore[arg-type]
            found = compute(book).findings["Q"]
            assert isinstance(found, ComputedFinding)
            with self.subTest(way):
                self.assertAlmostEqual(found.u, u, delta=1e-12 if way != "monte_carlo" else 0.0005)


class Said(TestCase):
    def test_the_convention_and_the_workings_say_which(self) -> None:
        words = {
            "quadrature": ("carried through formulas in quadrature", "carried through in quadrature", r"\sqrt{"),
            "sum": ("what each ± brings to a formula is added up", "carried through and added up", r"\underbrace"),
            "extremes": ("half the difference between its extremes", "put in at both its ends", "u = 0.005"),
            "monte_carlo": ("that of many random draws", "drawn at random", "u = 0.003"),
        }
        for way, (convention, working, tex) in words.items():
            with self.subTest(way):
                book = lab_book(ROWS, [derived("z", "x y")], convention=Convention(propagation=way))  # type: ignore[arg-type]
                self.assertIn(convention, told(analyse(book).convention_words))
                line = explain(compute(book), "cell:run1:s3:z").lines[2]
                self.assertIn(working, told(line.words))
                self.assertIn(tex, line.tex)

    def test_it_goes_out_and_in_and_old_documents_have_quadrature(self) -> None:
        book: LabBook = lab_book(ROWS, convention=Convention(propagation="extremes"))
        written = write_lab_book(book)
        self.assertEqual(read_lab_book(written), book)
        del written["convention"]["propagation"]
        self.assertEqual(read_lab_book(written).convention.propagation, "quadrature")
        written["convention"]["propagation"] = "guess"
        with self.assertRaises(CoreError):
            read_lab_book(written)
