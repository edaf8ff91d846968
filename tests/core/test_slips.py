"""Slips: each kind of mistake put into believable tables is noticed at its place, and clean tables are left in peace."""

from __future__ import annotations

import random
import unittest
from collections.abc import Sequence

from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.checks.table import Slip
from hobrel.core.document.lab_book import LabBook
from hobrel.core.presentation.analysis import analyse
from hobrel.shelf.clamped_strip import Story, make_plan, true_period, write_bench
from tests.builders import lab_book

Row = tuple[str, Sequence[str | None]]
OVERHANGS = tuple(round(0.30 + 0.05 * i, 3) for i in range(8))
CURVES = {
    "straight": [(f"{0.1 * i:.3f}", [f"{0.3 + 0.9 * i:.2f}"]) for i in range(1, 10)],
    "falling": [(f"{0.1 * i:.3f}", [f"{8 * 0.55**i:.2f}"]) for i in range(9)],
    "steep": [(f"{0.1 * i:.3f}", [f"{0.02 * i**4:.2f}"]) for i in range(1, 10)],
    "waves": [(f"{0.1 * i:.3f}", [f"{5 + 3 * ((i % 4) - 1.5):.2f}"]) for i in range(1, 10)],
}


def slips_of(rows: Sequence[Row]) -> tuple[Slip, ...]:
    return analyse(lab_book(rows)).slips


def kinds(rows: Sequence[Row]) -> set[tuple[str, str, int | None]]:
    return {(s.kind, s.setting, s.repeat) for s in slips_of(rows)}


def demo_book(seed: int) -> LabBook:
    return write_bench(make_plan(), Story(OVERHANGS), random.Random(seed))


class Clean(unittest.TestCase):
    def test_tables_without_a_mistake_are_left_in_peace(self) -> None:
        for name, rows in CURVES.items():
            with self.subTest(name):
                self.assertEqual([s for s in slips_of(rows) if s.kind not in ("off_trend",)], [])

    def test_hand_timing_is_left_in_peace(self) -> None:
        """A hundred benches with the scatter of hand timing: hardly any is asked to look again."""
        asked = sum(bool(analyse(demo_book(seed)).slips) for seed in range(100))
        self.assertLessEqual(asked, 5)


class Mistakes(unittest.TestCase):
    def test_each_is_noticed_at_its_place(self) -> None:
        rows: list[Row] = [*CURVES["straight"]]
        cases: list[tuple[str, int, Row, tuple[str, int | None]]] = [
            ("text", 3, ("0.400", ["four"]), ("not_a_number", 0)),
            ("decimals", 3, ("0.400", ["3.9"]), ("wrong_decimals", 0)),
            ("ten times", 3, ("0.400", ["39.00"]), ("factor", 0)),
            ("a hundredth", 4, ("0.500", ["0.05"]), ("factor", 0)),
            ("first, ten times", 0, ("0.100", ["12.00"]), ("factor", 0)),
            ("changed, a tenth", 4, ("0.050", ["4.80"]), ("factor", 0)),
            ("blank", 4, ("0.500", [None]), ("blank", 0)),
            ("twice", 5, ("0.500", ["4.80"]), ("duplicate_setting", 0)),
            ("swapped", 5, ("5.70", ["0.600"]), ("swapped", 0)),
            ("off the trend", 5, ("0.600", ["3.70"]), ("off_trend", None)),
        ]
        for name, place, wrong, (kind, repeat) in cases:
            with self.subTest(name):
                found = kinds([*rows[:place], wrong, *rows[place + 1 :]])
                self.assertIn((kind, f"s{place + 1}", repeat), found)

    def test_a_repeat_off_by_ten_is_said_to_be(self) -> None:
        rows: list[Row] = [(f"{0.1 * i:.3f}", [f"{i + d:.2f}" for d in (0, 0.01, -0.02)]) for i in range(1, 7)]
        rows[2] = ("0.300", ["3.00", "30.10", "2.98"])
        (slip,) = (s for s in slips_of(rows) if s.setting == "s3")
        self.assertEqual((slip.kind, slip.repeat), ("lone_repeat", 1))
        self.assertIn("10 times the other two", slip.message.text)

    def test_a_table_typed_in_the_wrong_direction(self) -> None:
        """Eight settings of three repeats, meant to go down the columns and typed across."""
        meant = [[f"{10 * true_period(x) + d:.2f}" for x in OVERHANGS] for d in (0.0, 0.03, -0.04)]
        stream = [text for column in meant for text in column]
        rows = [(f"{x:.3f}", stream[3 * i : 3 * i + 3]) for i, x in enumerate(OVERHANGS)]
        self.assertIn(("direction", "s1", None), kinds(rows))
        right = [(f"{x:.3f}", [column[i] for column in meant]) for i, x in enumerate(OVERHANGS)]
        self.assertNotIn("direction", {k for k, _, _ in kinds(right)})

    @settings(max_examples=40)
    @given(st.integers(0, 1000), st.integers(0, 7), st.integers(0, 2), st.sampled_from([1, -1, 2]))
    def test_a_decimal_point_in_the_wrong_place_is_always_noticed(self, seed: int, row: int, repeat: int, k: int) -> None:
        run = demo_book(seed).runs[0]
        rows: list[Row] = []
        for i, setting in enumerate(run.settings):
            x, times = (setting.readings[q] for q in ("L", "t10"))
            texts = [t.text for t in times if t]
            if i == row:
                texts[repeat] = f"{float(texts[repeat]) * 10**k:.2f}"
            assert x[0] is not None
            rows.append((x[0].text, texts))
        self.assertIn((f"s{row + 1}", repeat), {(s.setting, s.repeat) for s in slips_of(rows)})
