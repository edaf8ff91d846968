"""What is said of kept lab books stays what it was, unless somebody has meant to change it: then ``python -m tests.core.said --write``."""

from __future__ import annotations

import math
import unittest
from typing import Any

from hobrel.shelf.clamped_strip import write_draft
from tests.core.said.books import write_books
from tests.core.said.keeping import read_kept
from tests.core.said.saying import say_all, say_plan, say_pool
from tests.core.said.tables import notice_all

SAME = 2e-6
"""Share by which numbers may be off that were kept to seven figures: another processor adds in another order."""


def differences(kept: Any, now: Any, place: str = "") -> list[str]:
    """Where two are not the same, in words."""
    if isinstance(kept, dict) and isinstance(now, dict):
        return [d for key in sorted({*kept, *now}) for d in differences(kept.get(key), now.get(key), f"{place} › {key}")]
    if isinstance(kept, list) and isinstance(now, list) and len(kept) == len(now):
        return [d for i, (a, b) in enumerate(zip(kept, now, strict=True)) for d in differences(a, b, f"{place} › {i}")]
    if isinstance(kept, float | int) and isinstance(now, float | int) and not isinstance(kept, bool) and not isinstance(now, bool):
        return [] if math.isclose(kept, now, rel_tol=SAME, abs_tol=1e-12) else [f"{place}: {kept} is now {now}"]
    return [] if kept == now else [f"{place}: {kept} is now {now}"]


class Said(unittest.TestCase):
    """Nothing is said otherwise than it was."""

    def check(self, chosen: str) -> None:
        kept = read_kept()
        for name, book in write_books():
            if name.startswith(chosen):
                with self.subTest(name):
                    self.assertEqual(differences(kept[name], say_all(book))[:12], [])

    def test_every_lab_book_is_kept_and_looked_at(self) -> None:
        names = {name for name, _ in write_books()}
        self.assertEqual({*read_kept()} - {"the class", "tables", "a plan"}, names)
        self.assertEqual(
            [n for n in names if not n.startswith((*self.DEMO, *self.CHOICES, *self.SHAPES, *self.SLIPS, *self.FEW, *self.OTHERS))], []
        )

    DEMO = ("The ", "A fan", "Sound", "Growth")
    CHOICES = ("convention",)
    SHAPES = ("shape",)
    SLIPS = ("slips",)
    FEW = ("few",)
    OTHERS = ("two runs", "calibration", "warm", "counts", "rates", "logged", "hardly anything", "broken", "drawn")

    def test_of_the_demo(self) -> None:
        for chosen in self.DEMO:
            self.check(chosen)

    def test_under_other_conventions(self) -> None:
        self.check(*self.CHOICES)

    def test_of_curves(self) -> None:
        self.check(*self.SHAPES)

    def test_of_slips_of_the_pen(self) -> None:
        self.check(*self.SLIPS)

    def test_of_one_row_to_eight(self) -> None:
        self.check(*self.FEW)

    def test_of_other_kinds_of_numbers(self) -> None:
        for chosen in self.OTHERS:
            self.check(chosen)

    def test_what_is_noticed_in_drawn_tables(self) -> None:
        kept, now = read_kept()["tables"], notice_all()
        self.assertEqual(sum(map(bool, now.values())) > 90, True)
        self.assertEqual([f"{name}: {kept.get(name)} is now {said}" for name, said in now.items() if kept.get(name) != said], [])

    def test_of_a_plan(self) -> None:
        self.assertEqual(differences(read_kept()["a plan"], say_plan(write_draft(), "E"))[:12], [])

    def test_of_a_class(self) -> None:
        books = {name: book for name, book in write_books() if name.startswith("The clamped strip")}
        pools = {str(i): pool for i, pool in enumerate(say_pool(books))}
        self.assertEqual(differences(read_kept()["the class"], pools)[:12], [])
