"""How many slips of the pen are noticed, at their place and once, and how many clean tables are asked about. Fixed seeds, no allowance."""

from __future__ import annotations

import math
import os
import random
from dataclasses import replace
from unittest import TestCase

from hobrel.core.checks.rows import find_slips
from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import LabBook
from hobrel.core.pipeline.columns import compute_columns
from hobrel.core.presentation.analysis import analyse
from tests.core.calibration import slipping
from tests.core.calibration.slipping import KINDS, Place, Practical, Table, draw_slip, draw_table, make_book

LONG = os.environ.get("HOBREL_LONG") == "1"
TABLES = 1000 if LONG else 60
BENT = (
    Practical("sine", 0, 10, 2, lambda v: 5 + 3 * math.sin(v * 0.6), 0.05, 0, 2, "y", "x"),
    Practical("growth", 0, 12, 1, lambda v: 0.05 + 2 / (1 + math.exp(-(v - 6) / 1.2)), 0.01, 0, 3, "y", "x"),
    Practical("cooling", 0, 20, 1, lambda v: 21 + 60 * math.exp(-v / 6), 0.2, 0, 1, "y", "x"),
    Practical("saturation", 1, 50, 1, lambda v: 9 * v / (4 + v), 0.05, 0, 2, "y", "x"),
    Practical("a step", 0, 10, 1, lambda v: 2.0 if v < 5 else 8.0, 0.05, 0, 2, "y", "x"),
    Practical("diode", 0.1, 0.8, 2, lambda v: 0.001 * math.exp(v / 0.08), 0.05, 0.01, 2, "ln(y)", "x"),
)
BY_SHARE = (
    Practical("sheets of tissue", 0, 7, 1, lambda v: 840 * math.exp(-0.42 * v), 0, 0.03, 0, "ln(y)", "x"),
    Practical("leak", 0, 60, 0, lambda v: 9 * math.exp(-v / 15), 0, 0.02, 2, "ln(y)", "x"),
    Practical("area of a leaf", 1, 10, 1, lambda v: 3 * v**2.5, 0, 0.03, 1, "ln(y)", "ln(x)", True),
    Practical("lamp far off", 0.1, 1, 2, lambda v: 40 / v**2, 0, 0.04, 1, "y", "1/x^2"),
)
"""Readings that scatter by a share of what is read, far more than their instrument says."""


def slips_of(book: LabBook) -> tuple[Slip, ...]:
    return find_slips(compute_columns(book, book.runs[0]), book, finished=True)


def is_caught(slips: tuple[Slip, ...], places: set[Place]) -> bool:
    found = {(None if s.whole_column else s.setting, s.quantity) for s in slips}
    # a whole column is found where its quantity is, at whichever setting
    return bool(found & places) or any(setting is None and any(q == quantity for _, q in found) for setting, quantity in places)


class Caught(TestCase):
    def test_of_every_kind_as_many_as_there_should_be_and_said_once(self) -> None:
        caught = once = 0
        for kind, (_, least) in KINDS.items():
            dice, found = random.Random(f"slips {kind}"), 0
            for _ in range(TABLES):
                table, places = draw_slip(kind, dice)
                slips = slips_of(make_book(table))
                hit = is_caught(slips, places)
                found, once = found + hit, once + (hit and len(slips) == 1)
            caught += found
            with self.subTest(kind, rate=found / TABLES):
                self.assertGreaterEqual(found / TABLES, least)
        self.assertGreaterEqual(once / caught, 0.90)


class Clean(TestCase):
    def asked(self, count: int, seed: int, between: float = 0.0) -> float:
        """The share of clean tables that are asked about; settings may scatter among one another by more than their repeats say."""
        dice, asked = random.Random(seed), 0
        for _ in range(count):
            table = draw_table(dice)
            if between:
                table = replace(table, y=[self.shifted(table, row, dice.gauss(0, between)) for row in range(len(table.y))])
            asked += bool(analyse(make_book(table), finished=True).slips)
        return asked / count

    def shifted(self, table: Table, row: int, by: float) -> list[str]:
        off = by * table.sd(row) / math.sqrt(table.repeats)
        return [f"{float(text) + off:.{table.practical.y_decimals}f}" for text in table.y[row]]

    def test_clean_tables_are_left_in_peace(self) -> None:
        self.assertLessEqual(self.asked(2 * TABLES, 31), 0.03)

    def test_also_where_settings_scatter_among_one_another(self) -> None:
        for between in (1.0, 2.0):
            with self.subTest(between):
                self.assertLessEqual(self.asked(TABLES, 32, between), 0.05)

    def test_a_curve_that_none_of_ours_follows_is_no_slip(self) -> None:
        known = slipping.PRACTICALS
        slipping.PRACTICALS = BENT
        self.addCleanup(setattr, slipping, "PRACTICALS", known)
        self.assertLessEqual(self.asked(2 * TABLES, 33), 0.03)


class Single(TestCase):
    """Tables without repeats: nobody knows what a reading scatters by but from the table itself."""

    def drawn(self, kind: str, dice: random.Random) -> tuple[Table, set[Place]]:
        while True:
            table, places = draw_slip(kind, dice)
            if table.repeats == 1:
                return table, places

    def test_most_slips_are_noticed(self) -> None:
        for kind, least in (("×10", 0.85), ("digits swapped", 0.80), ("row + 30 %", 0.75), ("rows exchanged", 0.90)):
            dice = random.Random(f"single {kind}")
            found = sum(is_caught(slips_of(make_book(table)), places) for table, places in (self.drawn(kind, dice) for _ in range(TABLES)))
            with self.subTest(kind, rate=found / TABLES):
                self.assertGreaterEqual(found / TABLES, least)

    def test_clean_tables_are_left_in_peace_straight_or_bent(self) -> None:
        known = slipping.PRACTICALS
        self.addCleanup(setattr, slipping, "PRACTICALS", known)
        for practicals, relation, most in ((known, True, 0.03), (known, False, 0.03), (BENT, False, 0.03), (BY_SHARE, True, 0.03)):
            slipping.PRACTICALS = practicals
            dice, asked, count = random.Random(34), 0, 0
            while count < 2 * TABLES:
                table = draw_table(dice)
                if table.repeats == 1:
                    count += 1
                    asked += bool(slips_of(make_book(table, relation)))
            with self.subTest(relation=relation, rate=asked / count):
                self.assertLessEqual(asked / count, most)


class Said(TestCase):
    def table(self, y: list[list[str]]) -> LabBook:
        spring = next(p for p in slipping.PRACTICALS if p.name == "spring")
        return make_book(Table(spring, ["0.100", "0.200", "0.300", "0.400", "0.500", "0.600"], y, len(y[0])))

    def test_two_settings_that_changed_places_are_both_named(self) -> None:
        y = [["3.9", "4.0"], ["7.9", "7.8"], ["15.7", "15.6"], ["11.8", "11.7"], ["19.6", "19.7"], ["23.5", "23.6"]]
        (slip,) = slips_of(self.table(y))
        self.assertEqual((slip.kind, slip.setting, slip.quantity), ("exchanged", "s2", "y"))
        self.assertIn("settings 3 and 4", slip.message.text)

    def test_two_digits_that_changed_places_are_put_back(self) -> None:
        y = [["3.9", "4.0", "3.9"], ["7.9", "7.8", "7.8"], ["11.7", "17.1", "11.8"], ["15.7", "15.6", "15.7"], ["19.6"] * 3, ["23.5"] * 3]
        (slip,) = slips_of(self.table(y))
        self.assertEqual((slip.kind, slip.setting, slip.repeat), ("lone_repeat", "s2", 1))
        self.assertIn("Should 17.1 be 11.7?", slip.message.text)

    def test_a_row_of_a_bent_graph_is_put_right_by_the_plot_that_is_straight(self) -> None:
        """A vessel that drains, √h = √h₀ (1 − t/T), 0.161 m written 0.116: h against t is bent, and has no say."""
        heights = ["0.299", "0.261", "0.226", "0.191", "0.116", "0.132", "0.109", "0.085", "0.066", "0.048", "0.034", "0.021"]
        vessel = Practical("vessel", 0, 220, 0, lambda t: 0.3 * (1 - t / 300) ** 2, 0.0006, 0, 3, "sqrt(y)", "x")
        (slip,) = slips_of(make_book(Table(vessel, [str(20 * i) for i in range(12)], [[h] for h in heights], 1)))
        self.assertEqual((slip.kind, slip.setting, slip.quantity), ("off_trend", "s4", "y"))
        self.assertIn("Should it be 0.161?", slip.message.text)

    def test_a_column_in_another_instrument_s_decimals_is_asked_about_once(self) -> None:
        y = [[f"{3.924 * i + d:.2f}" for d in (0.01, -0.02)] for i in range(1, 7)]
        (slip,) = slips_of(self.table(y))
        self.assertEqual((slip.kind, slip.whole_column), ("wrong_decimals", True))
        self.assertIn("2 decimals; the display gives 1", slip.message.text)

    def test_a_changed_quantity_out_of_its_even_steps_is_to_blame(self) -> None:
        book = self.table([["3.9", "4.0"], ["7.9", "7.8"], ["11.7", "11.8"], ["15.7", "15.6"], ["19.6", "19.5"], ["23.5", "23.6"]])
        run = book.runs[0]
        wrong = replace(run.settings[3], readings={**run.settings[3].readings, "x": (slipping.Reading("0.040"),)})
        (slip,) = slips_of(replace(book, runs=(replace(run, settings=(*run.settings[:3], wrong, *run.settings[4:])),)))
        self.assertEqual((slip.kind, slip.setting, slip.quantity), ("factor", "s3", "x"))
        self.assertIn("a tenth of", slip.message.text)

    def test_a_blank_at_the_end_is_one_when_nobody_writes_any_more(self) -> None:
        book = self.table([["3.9", "4.0"], ["7.9", "7.8"], ["11.7", "11.8"], ["15.7", "15.6"], ["19.6", "19.5"], ["23.5", ""]])
        run = book.runs[0]
        last = run.settings[5]
        blank = replace(last, readings={**last.readings, "y": (last.readings["y"][0], None)})
        book = replace(book, runs=(replace(run, settings=(*run.settings[:5], blank)),))
        columns = compute_columns(book, book.runs[0])
        self.assertEqual(find_slips(columns, book), ())
        self.assertEqual([(s.kind, s.repeat) for s in find_slips(columns, book, finished=True)], [("missing_repeat", 1)])
