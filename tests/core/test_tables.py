"""Tables of reference that formulas look things up in.

Right answers: straight lines between lines by hand; NumPy’s `interp` and slopes by SciPy’s spline of first degree as other implementations;
the surface tension of water by the formula of IAPWS R1-76(2014), σ = 235.8 mN/m τ^1.256 (1 − 0.625 τ), τ = 1 − T/647.096 K.
"""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.interpolate import make_interp_spline

from hobrel.core.document.lab_book import Convention, Finding, LabBook, Quantity, read_lab_book, write_lab_book
from hobrel.core.document.plan_part import PlanPart, ReferenceTable, TableLine
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.tree import spell, substitute, symbols_in, tables_in
from hobrel.core.formulas.typeset import formula_tex
from hobrel.core.formulas.ways import WayKind
from hobrel.core.pipeline.columns import Column
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.tables import read_tables
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.reference_tables import mark_table
from hobrel.core.presentation.working import explain
from hobrel.core.questions.plan_checks import check_plan
from hobrel.core.questions.previews import compare_ways_of, preview_formula
from hobrel.core.sentences import told
from hobrel.core.units.calculus import write_unit
from hobrel.shelf import falling_drops
from tests.builders import lab_book

ROWS = [(f"{x}", ["2.00"]) for x in ("0.1", "0.25", "0.4", "0.6")]
UX = 0.0005
LISTED = (("0.1", "10"), ("0.3", "14"), ("0.7", "30"))


def table(
    symbol: str = "rho", lines: tuple[tuple[str, str], ...] = LISTED, unit: str = "kg/m", of_unit: str = "m", u: str = ""
) -> ReferenceTable:
    written = tuple(TableLine(at, value) for at, value in lines)
    return ReferenceTable("t1", "thread", symbol, unit, "length", of_unit, written, u, "a handbook")


def book(formula: str, *tables: ReferenceTable, unit: str = "", way: WayKind = "quadrature") -> LabBook:
    derived = Quantity("z", "derived", "z", "z", unit, formula=formula)
    return replace(lab_book(ROWS, (derived,), convention=Convention(propagation=way)), plan=PlanPart(tables=tables))


def column(formula: str, *tables: ReferenceTable, unit: str = "", way: WayKind = "quadrature") -> Column:
    return compute(book(formula, *tables, unit=unit, way=way)).columns["run1"].columns["z"]


class Drawn(unittest.TestCase):
    def test_its_lines_as_points_in_the_units_of_the_table_straight_between_them(self) -> None:
        listed = (("20", "72.8 ± 0.2"), ("0", "75.6"), ("", ""), ("40", "69.6"))
        mark = mark_table(table("sigma", listed, "mN/m", "°C", "0.5"))
        figure = mark.figure
        assert figure is not None
        self.assertEqual([(p.x, p.y, p.uy) for p in figure.series[0].points], [(0.0, 75.6, 0.5), (20.0, 72.8, 0.2), (40.0, 69.6, 0.5)])
        self.assertEqual((figure.lines[0].x, figure.lines[0].y), ((0.0, 20.0, 40.0), (75.6, 72.8, 69.6)))
        self.assertEqual("".join(r.text for r in figure.x_axis.label), "length / °C")
        self.assertEqual("".join(r.text for r in figure.y_axis.label), "σ / (mN/m)")
        self.assertTrue(figure.y_axis.low < 69.1 and figure.y_axis.high > 76.1)
        self.assertEqual(figure.series[0].points[1].label, "length 20 °C: 72.8 ± 0.2 mN/m")
        self.assertEqual(told(figure.summary), "thread against length: 3 lines, straight between them.")

    def test_what_cannot_be_used_or_held_by_an_axis_is_not_drawn(self) -> None:
        for lines in ((("1", "2"),), (("1", "2"), ("1", "3")), (("a", "2"), ("1", "3"))):
            with self.subTest(lines):
                mark = mark_table(table(lines=lines))
                self.assertTrue(mark.trouble)
                self.assertIsNone(mark.figure)
        self.assertIsNone(mark_table(table(lines=(("1", "1e300"), ("2", "-1e300")))).figure)

    def test_one_without_a_symbol_says_what_is_wrong_with_its_lines_too(self) -> None:
        self.assertIsNotNone(mark_table(table("")).figure)
        for lines in ((), (("1", "2"),), (("a", "2"), ("1", "3")), (("", "2"), ("1", ""))):
            with self.subTest(lines):
                found = analyse(book("x", table("", lines=lines)))
                self.assertIsNone(found.trouble)
                self.assertEqual([(t.trouble and t.trouble.code, t.figure) for t in found.tables], [("bad_table", None)])


class LookingUp(unittest.TestCase):
    def test_straight_between_the_lines_in_any_order_with_the_slope_of_where_it_is(self) -> None:
        shuffled = (LISTED[2], LISTED[0], ("", " "), LISTED[1])
        found = column("rho(x)", table(lines=shuffled))
        assert found.traced is not None
        at = np.array([0.1, 0.25, 0.4, 0.6])
        np.testing.assert_allclose(found.traced.value, [10, 13, 18, 26], rtol=1e-14)
        np.testing.assert_allclose(found.traced.value, np.interp(at, [0.1, 0.3, 0.7], [10, 14, 30]), rtol=1e-14)
        slopes = make_interp_spline([0.1, 0.3, 0.7], [10, 14, 30], k=1).derivative()(at)
        np.testing.assert_allclose(found.u, slopes * UX, rtol=1e-9)
        np.testing.assert_allclose(found.u, np.array([20, 20, 40, 40]) * UX, rtol=1e-9)
        self.assertEqual(write_unit(found.traced.unit), "kg/m")

    def test_what_is_looked_up_in_another_unit_is_converted_and_its_ends_are_part_of_it(self) -> None:
        in_cm = (("10", "10"), ("60", "20"))
        found = column("rho(x)", table(lines=in_cm, of_unit="cm"))
        assert found.traced is not None
        # 60 cm are 0.6 m by no more than rounding
        np.testing.assert_allclose(found.traced.value, [10, 13, 16, 20], rtol=1e-12)
        self.assertFalse(found.without)

    def test_warmth_on_a_scale_on_either_side(self) -> None:
        """Water boils at 100.0 °C under 101.3 kPa and at 96.7 °C under 90 kPa (steam tables, from memory)."""
        boils = ReferenceTable(
            "b", "boiling", "theta", "°C", "pressure", "kPa", (TableLine("90", "96.7"), TableLine("101.3", "100.0")), "0.1"
        )
        tension = falling_drops.write_draft().plan.tables[0]
        constants = (
            Quantity("p", "constant", "p", "p", "kPa", value="95.65"),
            Quantity("w", "constant", "w", "w", "°C", value="22.5", u="2"),
        )
        derived = (
            Quantity("z", "derived", "z", "z", "°C", formula="theta(p)"), Quantity("k", "derived", "k", "k", "°C", formula="theta(p) - w"),
            Quantity("s", "derived", "s", "s", "mN/m", formula="sigma_w(w)"),
        )  # fmt: skip
        columns = compute(replace(lab_book(ROWS, derived, constants), plan=PlanPart(tables=(boils, tension)))).columns["run1"].columns
        values = {key: float(c.traced.value) for key, c in columns.items() if c.traced is not None and c.traced.value.ndim == 0}
        self.assertAlmostEqual(values["z"], 98.35, 10)
        self.assertAlmostEqual(values["k"], 98.35 - 22.5, 10)
        self.assertAlmostEqual(float(columns["z"].u_all), 0.1, 10)
        self.assertAlmostEqual(values["s"], (72.74 + 71.97) / 2, 10)
        # 0.154 mN/m for each kelvin: 2 K bring 0.308, and all of the table may be off by 0.4
        self.assertAlmostEqual(float(columns["s"].u_all), math.hypot(0.154 * 2, 0.4), 10)

    def test_the_listed_tension_of_water_is_that_of_its_formula(self) -> None:
        for at, value in falling_drops.LISTED:
            tau = 1 - (float(at) + 273.15) / 647.096
            self.assertEqual(f"{235.8 * tau**1.256 * (1 - 0.625 * tau):.2f}", value)

    def test_beyond_its_lines_there_is_nothing_and_the_other_rows_keep_theirs(self) -> None:
        found = column("2 rho(x)", table(lines=LISTED[1:]))
        assert found.traced is not None
        np.testing.assert_allclose(found.traced.value, [np.nan, np.nan, 36, 52])
        self.assertEqual(sorted(found.without), [0, 1])
        self.assertIn("the table rho goes from 0.3 to 0.7 m", told((found.without[0],)))

    def test_it_takes_part_in_whatever_stands_around_it(self) -> None:
        known, tables = ["x", "y"], read_tables((table(),))
        for text, tex in (
            ("y/rho(x)", r"\frac{y}{\rho\left(x\right)}"), ("2ρ(x) y", r"2\,\rho\left(x\right)\,y"),
            ("-rho (x)^2", r"-\rho\left(x\right)^{2}"),
            ("rho(x + x)", r"\rho\left(x + x\right)"), ("y rho(rho(x))", r"y\,\rho\left(\rho\left(x\right)\right)"),
        ):  # fmt: skip
            self.assertEqual(formula_tex(read_formula(text, known, tables=tables)), tex)
        node = read_formula("rho(x) + y", known, tables=tables)
        self.assertEqual((spell(node), symbols_in(node), list(tables_in(node))), ("(rho(x) + y)", {"x", "y"}, ["rho"]))
        self.assertEqual(spell(substitute(node, {"x": read_formula("y^2", known)})), "(rho(y^(2)) + y)")
        self.assertEqual(formula_tex(node, {"rho(x)": "13", "y": "2"}), "13 + 2")
        self.assertEqual(formula_tex(read_formula("2 rho(x)", known, tables=tables), {"rho(x)": "13"}), r"2 \times 13")
        # a name that is no table is a factor before its bracket, as ever
        self.assertEqual(spell(read_formula("y (x + 1)", known, tables=tables)), "(y * (x + 1))")

    def test_what_is_wrong_is_said_where_it_is_used(self) -> None:
        for formula, given, words in (
            ("rho x", table(), "rho is a table: say at what it is looked up, as in rho(T)."),
            ("rho(y)", table(), "The table rho is listed against m and cannot be looked up at s."),
            ("rho(x)", table(of_unit=""), "The table rho is listed against a pure number and cannot be looked up at m."),
            ("rho(x)", table(lines=(("0.1", "10"), ("0.2", "ten"))), "cannot be used yet: in line 2, “ten” is not a number."),
            ("rho(x)", table(lines=(("0.1", "10"),)), "cannot be used yet: a table has two lines or more."),
            ("rho(x)", table(lines=(*LISTED, ("0.3", "15"))), "cannot be used yet: two lines are listed at 0.3."),
            ("rho(x)", table(unit="quids"), "cannot be used yet: “quids”"),
        ):
            with self.subTest(words):
                found = column(formula, given)
                assert found.trouble is not None
                self.assertIn(words, found.trouble.message)
                self.assertEqual(found.traced, None)


class Uncertainty(unittest.TestCase):
    def test_a_table_is_off_as_a_whole_and_not_in_the_bars(self) -> None:
        found = column("rho(x)", table(lines=(("0.1", "10 ± 1"), ("0.3", "14"), ("0.7", "30")), u="0.5"))
        assert found.traced is not None
        np.testing.assert_allclose(found.u, np.array([20, 20, 40, 40]) * UX, rtol=1e-9)
        # its own ± of a line is its own; between two lines it goes over from one to the other
        np.testing.assert_allclose(found.u_all, np.hypot(found.u, [1, 0.5 + 0.5 * 0.25, 0.5, 0.5]), rtol=1e-9)

    def test_a_table_that_is_used_twice_is_off_once(self) -> None:
        found = column("rho(x)/rho(x)", table(u="0.5"))
        np.testing.assert_allclose(found.u_all, 0, atol=1e-12)
        twice = column("rho(x) + rho(x)", table(u="0.5"))
        np.testing.assert_allclose(twice.u_all, 2 * np.hypot(np.array([20, 20, 40, 40]) * UX, 0.5), rtol=1e-9)

    def test_by_every_way(self) -> None:
        bars = np.array([20, 20, 40, 40]) * UX
        off = 0.02
        for way, both in (("quadrature", np.hypot(bars, off)), ("sum", bars + off), ("extremes", None), ("monte_carlo", None)):
            with self.subTest(way):
                found = column("rho(x)", table(u="0.02"), way=way)  # type: ignore[arg-type]
                if way == "extremes":
                    # at the first line the corner to the left lies beyond the table
                    np.testing.assert_allclose(found.u_all[1:], (bars + off)[1:], rtol=1e-9)
                    self.assertEqual(found.u_all[0], np.inf)
                elif way == "monte_carlo":
                    np.testing.assert_allclose(found.u_all[1:], np.hypot(bars, off)[1:], rtol=0.03)
                else:
                    assert both is not None
                    np.testing.assert_allclose(found.u_all, both, rtol=1e-9)
        ways = {row.way: row.value for row in compare_ways_of(book("rho(x)", table(u="0.5")), "z").rows}
        self.assertEqual(ways["quadrature"], "18.0 ± 0.5 kg/m")
        self.assertEqual(ways["sum"], "18.0 ± 0.5 kg/m")
        self.assertEqual({w: text.split(" ± ")[1] for w, text in ways.items()}["extremes"], "0.5 kg/m")

    def test_a_finding_looks_things_up_and_its_budget_names_the_table(self) -> None:
        constant = Quantity("w", "constant", "warmth", "w", "m", value="0.4", u="0.01")
        finding = Finding("F", "found", "F", "kg/m", "2 rho(w)", "f")
        subject = replace(lab_book(ROWS, (), (constant,), (finding,)), plan=PlanPart(tables=(table(u="0.3"),)))
        found = compute(subject).findings["F"]
        assert isinstance(found, ComputedFinding)
        self.assertAlmostEqual(found.value, 36)
        self.assertAlmostEqual(found.u, 2 * math.hypot(40 * 0.01, 0.3))
        self.assertEqual([line.symbols for line in found.budget], [("w",), ("rho",)])
        self.assertAlmostEqual(found.budget[0].share, 0.64)
        shown = analyse(subject).findings[0].budget
        self.assertEqual(shown[1].words, "thread")


class Shown(unittest.TestCase):
    def test_the_working_says_what_was_looked_up_and_where(self) -> None:
        told_lines = [(told(line.words), line.tex) for line in explain(compute(book("y rho(x)", table())), "cell:run1:s2:z").lines]
        self.assertIn("From the table “thread” (a handbook), straight between its lines:", told_lines[1][0])
        self.assertEqual(told_lines[1][1], r"\rho\left(0.25\ \mathrm{m}\right) = 13.000\ \mathrm{kg}/\mathrm{m}")
        self.assertIn(r"13.000\ \mathrm{kg}", told_lines[2][1])

    def test_people_see_its_symbol_and_what_is_wrong_with_it(self) -> None:
        good, bad = analyse(book("rho(x)", table(), table("q_w", lines=()))).tables[0], analyse(book("x", table("q_w", lines=()))).tables[0]
        self.assertEqual((good.table, [r.text for r in good.symbol], good.trouble), ("t1", ["ρ"], None))
        assert bad.trouble is not None
        self.assertIn("two lines or more", bad.trouble.message)
        preview = preview_formula(book("x", table()), "z", "2 rho(x)")
        self.assertEqual((preview.unit, preview.trouble), ("kg/m", None))

    def test_a_document_with_tables_goes_out_and_in_and_has_bounds(self) -> None:
        one = book("rho(x)", table())
        self.assertEqual(read_lab_book(write_lab_book(one)), one)
        for tables, words in (
            ((table(), table("q")), "same id"),
            (tuple(replace(table(), id=f"t{i}") for i in range(9)), "at most 8 tables of reference"),
            ((replace(table(), lines=(TableLine("1", "1"),) * 501),), "at most 500 lines"),
        ):
            with self.assertRaises(CoreError) as raised:
                read_lab_book(write_lab_book(replace(one, plan=PlanPart(tables=tables))))
            self.assertIn(words, raised.exception.message)

    def test_a_plan_is_told_what_is_not_right_yet_with_its_tables(self) -> None:
        def said(given: ReferenceTable, **changed: object) -> list[tuple[str, str]]:
            plan = replace(book("x", given), **changed)  # type: ignore[arg-type]
            return [(n.stage, n.words.code) for n in check_plan(plan) if "table" in n.words.code]

        self.assertEqual(said(table()), [])
        self.assertEqual(said(table(lines=())), [("read", "bad_table")])
        self.assertEqual(said(table("")), [("read", "table_symbol")])
        self.assertEqual(said(table("2q")), [("read", "table_symbol")])
        self.assertEqual(said(table("y")), [("read", "table_symbol_taken")])
        self.assertEqual(said(table("ln")), [("read", "table_symbol_taken")])
        self.assertEqual(said(table(), relation="y = ρ (x)"), [("ask", "table_in_relation")])
        self.assertEqual(said(table("h"), relation="y = rho_h (x)"), [])
        wrong = [told((n.words,)) for n in check_plan(book("rho(y)", table()))]
        self.assertTrue(any("z: The table rho is listed against m" in words for words in wrong))

    def test_the_first_of_two_with_one_symbol_counts(self) -> None:
        twice = read_tables((table(), replace(table(lines=(("0", "1"), ("1", "2"))), id="t2"), table("")))
        self.assertEqual([(t.symbol, t.values) for t in twice], [("rho", (10, 14, 30))])
