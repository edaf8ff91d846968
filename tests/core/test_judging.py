"""Roundings by hand, judged; and readings that carry their own ±."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from unittest import TestCase

from hobrel.core.document.lab_book import Accepted, ByEye, Finding, Ingredient, Quantity
from hobrel.core.document.plan_part import PlanPart
from hobrel.core.errors import CoreError
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.judging import judge_rounding
from hobrel.core.readings.converting import convert_reading
from hobrel.core.readings.parsing import parse_written
from hobrel.core.sentences import told
from tests.builders import lab_book


class Judging(TestCase):
    """2.0634512 ± 0.0493 GPa is 2.06 ± 0.05 GPa (ISO 80000-1, B.3; one figure of the uncertainty)."""

    def test_right_ways_of_writing(self) -> None:
        for text in ("2.06 ± 0.05 GPa", "(2.06 ± 0.05) × 10^9 Pa", "2.06 +- 0.05", "2060 ± 50 MPa", "2,06+/-0,05", "(2.06 ± 0.05) GPa"):
            with self.subTest(text):
                self.assertTrue(judge_rounding(text, 2.0634512, 0.0493, "GPa", "one_or_two").right)

    def test_and_other_right_ways(self) -> None:
        for text in (
            "2.06(5) GPa", "E = 2.06 ± 0.05 GPa", "E = (2.06 ± 0.05) GPa", "2.06 GPa ± 0.05 GPa", "2.06 GPa ± 0.05", "2.06 ± 0.05 (GPa)",
            "2.06e9 ± 0.05e9 Pa", "2.06e9 Pa ± 0.05e9", "2.06 × 10⁹ ± 0.05 × 10⁹ Pa", "(2.06 ± 0.05)E9 Pa", "2060 MPa ± 50 MPa",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertTrue(judge_rounding(text, 2.0634512, 0.0493, "GPa", "one_or_two").right)

    def test_wrong_ones_are_told_where(self) -> None:
        cases = [
            ("2.063 ± 0.049", "has 2 figures; by the rule it has one figure"),
            ("2.1 ± 0.05", "fewer decimals than its uncertainty"),
            ("2.063 ± 0.05", "more decimals than its uncertainty"),
            ("2.07 ± 0.05", "The uncertainty is right. The value is not"),
            ("2.06 ± 0.06", "not the computed one rounded to one figure"),
            ("2.06 ± 0.4", "not the computed one rounded to one figure"),
            ("2.06 ± 0", "above zero"),
            ("2.060 ± 0.050", "has 2 figures; by the rule it has one figure"),
        ]
        for text, words in cases:
            with self.subTest(text):
                judged = judge_rounding(text, 2.0634512, 0.0493, "GPa", "one_or_two")
                self.assertFalse(judged.right)
                self.assertIn(words, told(judged.words))
        self.assertFalse(judge_rounding("2.060 ± 0.050", 2.0634512, 0.0493, "GPa", "two").right, "0.049 by two figures")
        self.assertTrue(judge_rounding("2.10 ± 0.10", 2.1, 0.0996, "m", "two").right, "a carry keeps the rule")
        fewer = judge_rounding("2.1 ± 0.1", 2.1, 0.0996, "m", "two")
        self.assertEqual((fewer.right, told(fewer.words)), (False, "The uncertainty has one figure; by the rule it has 2 figures here."))
        for text, code in (
            ("2.06", "bad_number"), ("a ± b", "bad_number"), ("2.06 ± 0.05 s", "bad_unit"), ("2.06 ± 2 %", "bad_number"),
            ("2.06e9 ± 0.05e8 Pa", "bad_number"), ("2.06 GPa ± 50 MPa", "bad_number"), ("2.06 GPa ± 2 %", "bad_number"),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(CoreError) as caught:
                judge_rounding(text, 2.0634512, 0.0493, "GPa", "one_or_two")
            self.assertEqual(caught.exception.code, code)

    def test_the_statement_waits_for_the_bench(self) -> None:
        rows = [(f"0.{i}00", [f"{0.3 * i:.2f}"]) for i in range(1, 7)]
        book = replace(lab_book(rows, findings=[Finding("w", "w", "w", "", "gradient", "f")]), bench_rounds=True)
        waiting = analyse(book)
        self.assertFalse(waiting.findings[0].said)
        self.assertEqual(next(told(s.words) for s in waiting.stages if s.stage == "find"), "round it yourself")
        right = waiting.findings[0].value
        assert right is not None
        for text, known in ((right.text, True), ("nonsense", False)):
            done = analyse(replace(book, findings=(replace(book.findings[0], rounded=text),))).findings[0]
            self.assertEqual(bool(done.rounding and done.rounding.right), known)
            self.assertEqual(done.said, known)
            self.assertEqual(bool(done.rounding_trouble), not known)
        # what nobody has asked for, or written, is not judged
        unasked = replace(book, bench_rounds=False, findings=(replace(book.findings[0], rounded="nonsense"),))
        for other in (unasked, replace(book, findings=(replace(book.findings[0], rounded="  "),))):
            found = analyse(other).findings[0]
            self.assertEqual((found.rounding, found.rounding_trouble), (None, None))

    def test_nothing_is_said_of_agreeing_before_the_bench_has_said_what_it_needs(self) -> None:
        rows = [(f"0.{i}00", [f"{0.3 * i:.2f}"]) for i in range(1, 7)]
        known = Finding("w", "w", "w", "", "gradient", "f", accepted=Accepted("3.2", "0.4", "somebody"), compare=("o",))
        other = Finding("o", "other", "o", "", "2 gradient", "f")
        book = replace(lab_book(rows, findings=[known, other]), bench_foresees=True)
        asked = analyse(book).findings[0]
        self.assertEqual((asked.awaits_needed, asked.verdict, asked.comparison, asked.number_line), (True, None, (), None))
        self.assertEqual([(c.verdict, c.words) for c in asked.compared], [(None, ())])
        self.assertEqual(next(told(s.words) for s in analyse(book).stages if s.stage == "find"), "say what you need")
        # it is compared with nothing, so there is nothing to foresee
        self.assertFalse(analyse(book).findings[1].awaits_needed)
        for free in (
            replace(book, findings=(replace(known, needed="bars that overlap"), other)),
            replace(book, bench_foresees=False),
            replace(book, plan=PlanPart(draft=True)),
        ):
            told_now = analyse(free).findings[0]
            self.assertEqual((told_now.awaits_needed, told_now.verdict), (False, "agree"))
            self.assertTrue(told_now.comparison and told_now.number_line and told_now.compared[0].words)
        self.assertEqual(analyse(replace(book, findings=(replace(known, needed=" "), other))).findings[0].verdict, None)

    def test_what_is_to_be_rounded_has_figures_beyond_its_uncertainty(self) -> None:
        """A value a hundred million times its ±: as many figures as the ± asks for, and four more."""
        known = Quantity("k", "constant", "wavenumber", "k", "1/m", value="10973731.568", u="0.012")
        book = replace(lab_book([("0.100", ["1.00"])], constants=[known], findings=[Finding("w", "w", "w", "", "k")]), bench_rounds=True)
        self.assertTrue(analyse(book).findings[0].in_full.startswith("10973731.56800, with ± 0.01200"))


class OwnBars(TestCase):
    def test_written_with_their_own(self) -> None:
        cases = [
            ("5.9 ± 0.1", "", "5.9", "0.1"),
            ("5.9+-0.1 cm", "m", "0.059", "0.001"),
            ("(5.9 ± 0.1) × 10^3", "", "5.9E+3", "1E+2"),
            ("25 ± 1 °C", "K", "298.15", "1"),
            ("−1,5 +/- 0,2", "", "-1.5", "0.2"),
        ]
        for text, unit, value, u in cases:
            with self.subTest(text):
                parsed = parse_written(text, unit)
                self.assertEqual((parsed.value, parsed.u), (Decimal(value), Decimal(u)))
        for text in ("5.9 ± 0", "± 3", "5 ± a", "5 ± 1 ± 2"):
            with self.subTest(text), self.assertRaises(CoreError):
                parse_written(text)

    def test_the_bar_follows_a_conversion(self) -> None:
        self.assertEqual(convert_reading("5.90 ± 0.10", "cm", "mm"), "59.0 ± 1")

    def test_decimals_are_not_asked_about_and_the_bar_is_the_written_one(self) -> None:
        rows = [(f"0.{i}00", [f"{0.3 * i:.1f} ± 0.2"]) for i in range(1, 7)]
        done = analyse(lab_book(rows))
        self.assertEqual([s for s in done.slips if s.kind == "wrong_decimals"], [])
        self.assertEqual({c.u for c in done.runs[0].columns[1].cells}, {0.2})


class DrawingFirst(TestCase):
    """Where the plan asks for it, the fitted line is shown beside one that the bench has drawn, and not before."""

    def test_line_and_finding_wait_for_the_line_by_eye(self) -> None:
        rows = [(f"0.{i}00", [f"{0.3 * i:.2f}"]) for i in range(1, 7)]
        finding = Finding("w", "w", "w", "", "gradient", "f")
        used = Finding("v", "v", "v", "", "g_1", uses=(Ingredient("g_1", "fit", "f", part="gradient"),))
        other = Finding("u", "u", "u", "", "2")
        book = replace(lab_book(rows, findings=[finding, used, other]), bench_draws=True)
        waiting = analyse(book)
        (card,) = waiting.fits
        assert card.trouble is not None and waiting.graphs[0].figure is not None
        self.assertEqual((card.trouble.code, waiting.graphs[0].figure.lines), ("draw_first", ()))
        self.assertEqual([f.trouble and f.trouble.code for f in waiting.findings], ["draw_first_at_fit"] * 2 + [None])
        marks = {s.stage: (s.state, told(s.words)) for s in waiting.stages}
        self.assertEqual(marks["fit"], ("in_progress", "draw your line first"))
        drawn = analyse(replace(book, fits=(replace(book.fits[0], by_eye=ByEye(3.0, 0.0)),)))
        self.assertEqual([f.trouble for f in (*drawn.fits, *drawn.findings)], [None] * 4)
        assert drawn.graphs[0].figure is not None
        self.assertGreater(len(drawn.graphs[0].figure.lines), 0)
        # who writes the plan sees it, and a curve is not drawn by hand
        self.assertIsNone(analyse(replace(book, plan=PlanPart(draft=True))).fits[0].trouble)
        self.assertIsNone(analyse(replace(book, fits=(replace(book.fits[0], shape="quadratic"),), findings=())).fits[0].trouble)
