"""What a bench has said to be right is asked no more, as long as it stands as it did; and small things beside a line and a budget."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.checks.confirmed import leave_confirmed_out, texts_of
from hobrel.core.checks.table import Slip, power_of_ten_between, say_factor
from hobrel.core.document.lab_book import Confirmed, Finding, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.fitting.by_eye import study_by_eye
from hobrel.core.fitting.shapes import SHAPES
from hobrel.core.pipeline.budget import budget_by_part, budget_by_source
from hobrel.core.pipeline.curves import parameter_units
from hobrel.core.presentation.analysis import analyse
from hobrel.core.sentences import say
from hobrel.core.statistics.pool import BenchResult, pool_results
from hobrel.core.uncertainty.traced import Source, Traced, measured
from hobrel.core.units.calculus import parse_unit, write_unit
from tests.builders import lab_book

SETTING = Setting("s", {"y": (Reading("1.2"), None, Reading("9.9"))})


def slip(repeat: int | None = 2, setting: str = "s", kind: str = "lone_repeat") -> Slip:
    return Slip(kind=kind, run="r", setting=setting, quantity="y", repeat=repeat, message=say("check", "Look at it."))


class Confirming(unittest.TestCase):
    def book(self, *confirmed: Confirmed) -> LabBook:
        return LabBook("A", runs=(Run("r", "", (SETTING,)),), confirmed=confirmed)

    def test_the_texts_that_a_slip_is_about(self) -> None:
        self.assertEqual(texts_of(SETTING, "y", None), ("1.2", "", "9.9"))
        self.assertEqual([texts_of(SETTING, "y", i) for i in (0, 1, 2, 3)], [("1.2",), ("",), ("9.9",), ()])
        self.assertEqual(texts_of(SETTING, "z", None), ())

    def test_what_was_said_to_be_right_goes_and_all_else_stays(self) -> None:
        right = Confirmed("lone_repeat", "r", "s", "y", 2, ("9.9",))
        slips = (slip(), slip(0), slip(None), slip(kind="factor"), slip(setting="gone"))
        self.assertEqual(leave_confirmed_out(slips, self.book(right)), slips[1:])
        whole = replace(right, repeat=None, texts=("1.2", "", "9.9"))
        self.assertEqual(leave_confirmed_out(slips, self.book(whole)), (slips[0], slips[1], *slips[3:]))

    def test_another_text_is_asked_about_again(self) -> None:
        for other in (
            Confirmed("lone_repeat", "r", "s", "y", 2, ("9.8",)),
            Confirmed("lone_repeat", "r", "gone", "y", 2, ("9.9",)),
            Confirmed("lone_repeat", "q", "s", "y", 2, ("9.9",)),
        ):
            self.assertEqual(leave_confirmed_out((slip(),), self.book(other)), (slip(),))


class SmallThings(unittest.TestCase):
    def test_a_line_that_just_meets_a_bar_touches_it(self) -> None:
        """By hand: y = x passes 0.1 below a point whose bar is 0.1 long, in sixteenths to be exact; and a hair further it does not."""
        found = study_by_eye([1.0, 2.0], [1.125, 2.25], [0.0, 0.0], [0.125, 0.125], 1.0, intercept=0.0)
        self.assertEqual(found.touched, 1)
        slanted = study_by_eye([1.0], [1.5], [0.25], [0.25], 1.0, intercept=0.0)
        self.assertEqual(slanted.touched, 1)
        self.assertEqual(study_by_eye([1.0], [1.5001], [0.25], [0.25], 1.0, intercept=0.0).touched, 0)

    def test_units_of_a_curves_parameters(self) -> None:
        """By hand: in y = a xⁿ with y in N and x in m the a of a root has no unit of its own; y = a x + b has N/m and N."""
        self.assertEqual([write_unit(u) for u in parameter_units(SHAPES["line"], parse_unit("m"), parse_unit("N"))], ["N/m", "N"])
        self.assertEqual(
            [write_unit(u) for u in parameter_units(SHAPES["quadratic"], parse_unit("s"), parse_unit("m"))], ["m/s²", "m/s", "m"]
        )
        # units of one dimension stay as they stand: the value belongs to the axes as drawn
        mixed = [write_unit(u) for u in parameter_units(SHAPES["line"], parse_unit("m"), parse_unit("mm"))]
        self.assertEqual(mixed, ["mm/m", "mm"])

    def test_what_has_cancelled_out_has_no_part(self) -> None:
        """By hand: a factor of all values moves the logarithms together, and so not their gradient."""
        rows = [(f"{x:.2f}", [f"{10 * math.exp(3 * x):.2f}"]) for x in (0.1, 0.2, 0.3, 0.4, 0.5, 0.6)]
        factor = Quantity("v", "constant", "volume", "V", "mL", value="10.0", u="0.2")
        derived = [Quantity("k", "derived", "rate", "k", formula="V/y"), Quantity("l", "derived", "log", "ln(k)", formula="ln(k)")]
        finding = Finding("w", "w", "w", "", "-gradient", "f")
        book = lab_book(rows, derived, [factor], [finding], ("x", "l"))
        budget = {bar.symbol[0].text: (bar.share_text, bar.contribution[:2]) for bar in analyse(book).findings[0].budget}
        self.assertEqual(budget["V"], ("0 %", "0 "))
        self.assertEqual(budget["gradient"][0], "100 %")

    def test_shares_of_parts_too_small_to_be_squared(self) -> None:
        parts = {Source(k, k, np.asarray(u)): np.asarray(1.0) for k, u in (("a", 3e-200), ("b", 4e-200))}
        shares = {line.symbols[0]: line.share for line in budget_by_source(Traced(np.asarray(1.0), parts))}
        self.assertAlmostEqual(shares["a"], 9 / 25)
        self.assertAlmostEqual(shares["b"], 16 / 25)

    def test_parts_that_rest_on_the_same_readings_are_said_together(self) -> None:
        """Two numbers of one reading are one part; two of different readings are two, however small or large."""
        for size in (1e-6, 1.0, 1e6):
            one, other = (measured(Source(k, k, np.asarray(size)), 1.0) for k in "pq")
            self.assertEqual([line.symbols for line in budget_by_part({"x": (1.0, one), "y": (2.0, one)})], [("x", "y")], size)
            apart = {line.symbols: line.share for line in budget_by_part({"x": (1.0, one), "y": (2.0, other)})}
            self.assertEqual({s: round(v, 9) for s, v in apart.items()}, {("y",): 0.8, ("x",): 0.2}, size)

    def test_twice_too_large_and_half_as_large_are_told_so(self) -> None:
        good = [BenchResult(f"b{i}", v, 0.02) for i, v in enumerate((10.0, 10.02, 9.98, 10.01, 9.99))]
        for value, code in ((20.0, "bench_too_large"), (5.0, "bench_too_small"), (10.0 * math.pi, "bench_too_large")):
            (far,) = pool_results([*good, BenchResult("off", value, 0.02)]).pointed_out
            self.assertEqual(far.reason[0].code, code)
            self.assertIn("10.0", far.reason[0].text)

    def test_powers_of_ten_that_are_told(self) -> None:
        """By hand: a tenth of a power is a factor of 1.259; beyond a thousand nobody has misplaced a point."""
        values = (10.0, 0.1, 1000.0, 0.001, 10_000.0, 0.0001, 1.0, 12.5, 12.6, -10.0, 0.0)
        self.assertEqual([power_of_ten_between(v, 1.0) for v in values], [1, -1, 3, -3, None, None, None, 1, None, None, None])
        self.assertEqual(
            [say_factor(k) for k in (1, 3, -1, -2, -3)], ["10 times", "1000 times", "a tenth of", "a hundredth of", "a thousandth of"]
        )

    def test_one_bench_alone_is_the_class(self) -> None:
        pool = pool_results([BenchResult("only", 12.4, 0.3)])
        self.assertEqual((pool.recommended_value, pool.n, pool.sd, pool.pointed_out), ((12.4, 0.3), 1, None, ()))
