"""What holds where a limit is met exactly, where there is only one of something, and where something is nought. All by paper."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.checks.rows import find_slips
from hobrel.core.document.lab_book import Digits, Finding, Fit, LabBook, Log, Quantity, Reading, Run, Setting, Unknown
from hobrel.core.errors import CoreError
from hobrel.core.fitting.dimensions import find_exponents
from hobrel.core.fitting.polynomial import fit_polynomial, is_only_noise
from hobrel.core.fitting.residuals import study_pattern
from hobrel.core.formulas.evaluate import raise_to
from hobrel.core.formulas.neighbours import pair_neighbours
from hobrel.core.formulas.reading import read_formula
from hobrel.core.linearising.forms import read_form
from hobrel.core.pipeline.columns import compute_columns
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.influence import without_rounding
from hobrel.core.pipeline.ingredients import read_unknown
from hobrel.core.presentation.columns import present_column, write_pair_as
from hobrel.core.presentation.rows import look_at_rows
from hobrel.core.questions.board import look_at_board
from hobrel.core.questions.hands import find_scatter, read_by_hand
from hobrel.core.questions.plan_offers import offer_plots
from hobrel.core.readings.instruments import Instrument
from hobrel.core.uncertainty.traced import Source, measured
from tests.builders import lab_book

EXACT = [(f"{x}", (f"{2 * x}",)) for x in (1, 2, 3, 4, 5)]


class Numbers(unittest.TestCase):
    def test_whole_powers(self) -> None:
        for n in range(7):
            with self.subTest(n):
                self.assertEqual(raise_to(np.asarray([2.0, 3.0, -2.0]), n).tolist(), [2.0**n, 3.0**n, (-2.0) ** n])

    def test_what_has_no_spread_is_on_the_line(self) -> None:
        x = np.asarray([1.0, 2.0, 3.0])
        found = study_pattern(x, x, np.asarray([5.0, -5.0, 5.0]), np.zeros(3))
        self.assertEqual((found.within_1u, found.within_2u), (3, 3))

    def test_just_within_one_and_two(self) -> None:
        x = np.arange(4.0)
        found = study_pattern(x, x, np.asarray([1.0, -1.0, 2.0, -2.5]), np.ones(4))
        self.assertEqual((found.within_1u, found.within_2u), (2, 3))

    def test_scatter_that_is_rounding_is_none(self) -> None:
        y = np.asarray([1.0, -2.0])
        self.assertEqual(without_rounding(1e-15, y), 0.0)
        self.assertEqual(without_rounding(1e-6, y), 1e-6)
        self.assertEqual(without_rounding(0.0, np.zeros(2)), 0.0)

    def test_a_term_is_noise_by_the_size_of_y(self) -> None:
        """10⁻⁷·1 beside 1000 is below 10⁻⁹ of it, 10⁻⁵ is not; 10⁻⁷·2² is just below, of the second power."""
        self.assertEqual(is_only_noise([1.0, 1e-7, 1e-5], [1.0, 0.5], [1000.0, -3.0]), [False, True, False])
        self.assertEqual(is_only_noise([0.0, 0.0, 2.6e-7], [2.0], [1000.0]), [True, True, False])

    def test_coefficients_that_have_nothing_to_do_with_each_other(self) -> None:
        """About the middle of evenly spaced x the mean and the slope are independent: their covariance is nought."""
        found = fit_polynomial([-1.0, 0.0, 1.0, 2.0, -2.0], [1.0, 2.1, 2.9, 4.0, 0.1], 1)
        self.assertEqual((found.covariance[0][1], found.covariance[1][0]), (0.0, 0.0))

    def test_half_powers_have_dimensions(self) -> None:
        """y = a √x stays what it is where x is taken times s and a by √s."""
        names = ("a", "x")
        found = find_exponents(read_formula("a x^(1/2)", {*names}), names)
        self.assertEqual(found[0].tolist(), [-0.5, 1.0])

    def test_differences_are_known_as_badly_as_the_worst_of_what_they_are_made_of(self) -> None:
        source = Source("y", "y", np.full(4, 0.1), dof=np.asarray([5.0, 2.0, 9.0, 4.0]))
        shared = Source("c", "c", np.asarray(0.1), shared=True, dof=1.0)
        column = measured(source, np.asarray([1.0, 2.0, 4.0, 8.0]))
        column = replace(column, slopes={**column.slopes, shared: np.ones(4)})
        found = pair_neighbours(column, "Delta", np.arange(4), "Δy")
        self.assertEqual([float(s.dof) for s in found.slopes if not s.shared], [2.0])


class Forms(unittest.TestCase):
    def test_a_form_must_have_a_value_somewhere_near(self) -> None:
        self.assertEqual(read_form("ln v").text, "ln(v)")
        self.assertEqual(read_form("v^5").text, "v^5")
        with self.assertRaises(CoreError):
            read_form("ln(v - 1)")

    def test_a_board_is_judged_once_the_bench_has_judged(self) -> None:
        book = replace(lab_book([(f"{x}", (f"{x * x}.00",)) for x in range(1, 8)]), bench_judges=True)
        chosen = replace(book, texts={"choice": "x^2"})
        told = [{s.verdict for s in look_at_board(b, "x", "y").squares} for b in (book, chosen, replace(book, bench_judges=False))]
        self.assertEqual(len(told[0]), 1)
        self.assertEqual(told[1], told[2])
        self.assertGreater(len(told[1]), 1)

    def test_what_is_to_be_found_is_in_the_relation(self) -> None:
        book = replace(
            lab_book(EXACT, findings=(Finding("q", "something else", "Q", "", "1"), Finding("k", "stiffness", "k", "N/m", ""))),
            relation="y = x/k",
        )
        self.assertEqual({o.unknown for o in offer_plots(book)}, {"k"})


class Tables(unittest.TestCase):
    def slips(self, book: LabBook, finished: bool) -> list[tuple[str, str, int | None]]:
        return [(s.kind, s.setting, s.repeat) for s in find_slips(compute_columns(book, book.runs[0]), book, finished)]

    def test_a_blank_before_what_is_written_is_missed_in_the_last_row_too(self) -> None:
        rows = [(f"{x}.000", (f"{x}.10", f"{x}.12", f"{x}.11")) for x in range(1, 6)]
        between = lab_book([*rows, ("6.000", ("6.10", None, "6.11"))])
        still_writing = lab_book([*rows, ("6.000", ("6.10", "6.12", None))])
        self.assertIn(("missing_repeat", "s6", 1), self.slips(between, False))
        self.assertNotIn("missing_repeat", [kind for kind, _, _ in self.slips(still_writing, False)])
        self.assertIn(("missing_repeat", "s6", 2), self.slips(still_writing, True))

    def test_swapped_cells_are_noticed_between_any_two_columns(self) -> None:
        """Of three columns the first two are written alike; the first and the third have changed places in one row."""
        kinds = (("a", "0.1"), ("b", "0.1"), ("c", "0.001"))
        quantities = tuple(Quantity(k, "measured" if k != "a" else "changed", k, k, "m", Instrument("r", "display", d)) for k, d in kinds)
        texts = [[f"{i}.1", f"{i}.3", f"{i}.234"] for i in range(1, 7)]
        texts[3][0], texts[3][2] = texts[3][2], texts[3][0]
        settings = tuple(Setting(f"s{i}", {k: (Reading(t),) for (k, _), t in zip(kinds, row, strict=True)}) for i, row in enumerate(texts))
        book = LabBook("Three", quantities=quantities, runs=(Run("r", "R", settings),))
        self.assertIn(("swapped", "s3", 0), self.slips(book, True))

    def test_a_column_is_written_anew_for_another_convention(self) -> None:
        book = lab_book([("1.000", ("2.10", "2.31")), ("2.000", ("4.10", "4.33"))])
        column, run = compute_columns(book, book.runs[0]).columns["y"], book.runs[0]
        one, two = (present_column(column, run, replace(book.convention, rounding=rule)).cells[0] for rule in ("one", "two"))
        self.assertNotEqual(one.u_text, two.u_text)
        again = present_column(column, run, replace(book.convention, rounding="one"))
        self.assertIs(present_column(column, run, replace(book.convention, rounding="one")), again)

    def test_digits_that_were_chosen_without_a_pm(self) -> None:
        for u in (0.0, math.nan, math.inf):
            with self.subTest(u):
                self.assertEqual(write_pair_as(Digits("figures", 3), 1.23456, u, "one"), ("1.23", ""))
                self.assertEqual(write_pair_as(Digits("decimals", 1), 1.23456, u, "one"), ("1.2", ""))

    def test_of_a_log_only_what_varies_has_a_column(self) -> None:
        constant = Quantity("c", "constant", "c", "c", "m", value="2")
        derived = Quantity("d", "derived", "d", "d", "", formula="2 c"), Quantity("e", "derived", "e", "e", "", formula="2 x")
        book = lab_book(EXACT, derived=derived, constants=(constant,))
        log = Log(3, {"x": ("1", "2", "3"), "y": ("2", "4", "6")})
        book = replace(book, runs=(Run("run1", "Logged", log=log),))
        self.assertEqual([c.quantity for c in look_at_rows(compute(book), "run1", 0, 3).columns], ["x", "y", "e"])

    def test_an_unknown_at_the_end_of_the_points_is_within_them(self) -> None:
        book = replace(lab_book(EXACT), fits=(Fit("f", "g", unknowns=(Unknown("u", "it", ("2",)), Unknown("v", "far", ("1.9",)))),))
        ground = compute(book)
        outside = [read_unknown(ground, "f", unknown, "k").extrapolated for unknown in book.fits[0].unknowns]
        self.assertEqual(outside, [False, True])


class Hands(unittest.TestCase):
    def test_a_hand_scatters_by_half_the_smallest_step(self) -> None:
        for kind, division, wanted in (("scale", "0.2", 0.1), ("display", "0.01", 0.005), ("counted", "1", 0.0)):
            quantity = Quantity("y", "measured", "y", "y", "m", Instrument("i", kind, division))  # type: ignore[arg-type]
            with self.subTest(kind):
                self.assertAlmostEqual(find_scatter(quantity, lab_book(EXACT)).size, wanted, 12)
        self.assertEqual(find_scatter(Quantity("y", "measured", "y", "y", "m"), lab_book(EXACT)).size, 0.0)

    def test_a_makers_percent_is_one_share_for_a_whole_bench(self) -> None:
        """3 % as the half width of a rectangle: sd 3 %/√3 between benches, and none within one."""
        instrument = Instrument("meter", "maker", "0.0001", percent="3", digits="0")
        quantity = Quantity("y", "measured", "y", "y", "V", instrument)
        values = read_by_hand(quantity, np.full((4000, 2), 10.0), lab_book(EXACT), np.random.default_rng(8))[:, :, 0]
        self.assertAlmostEqual(float(np.std(values[:, 0])) / (10 * 0.03 / math.sqrt(3)), 1.0, delta=0.04)
        self.assertLess(float(np.max(np.abs(values[:, 0] - values[:, 1]))), 0.001)
