"""The invented practicals: what went into their readings comes out of their analysis."""

from __future__ import annotations

import math
import random
from unittest import TestCase

from hobrel.core.document.lab_book import LabBook
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.board import make_board
from hobrel.shelf import draining_vessel, sound_through_felt

JET = "no jet any more"


class Practicals(TestCase):
    def check(self, book: LabBook, axes: tuple[str, str], straight: tuple[str, str], true: float) -> str | None:
        done = analyse(book)
        value = done.findings[0].value
        assert value is not None and value.u is not None
        self.assertLess(abs(value.value - true), 3 * value.u)
        self.assertEqual([s for s in done.slips if s.kind != "lone_repeat"], [])
        board = make_board(book, *axes, True)
        self.assertEqual([(e.x_form, e.y_form) for e in board.expected], [straight])
        return next(s.verdict for s in board.squares if (s.x_form, s.y_form) == straight)

    def test_what_went_in_comes_out(self) -> None:
        verdicts = []
        for seed in range(6):
            dice = random.Random(seed)
            with self.subTest(seed=seed):
                vessel = draining_vessel.write_bench(draining_vessel.make_plan(), dice, JET)
                verdicts.append(self.check(vessel, ("t", "h"), ("v", "sqrt(v)"), draining_vessel.HOLE * 1e6))
                felt = sound_through_felt.write_bench(sound_through_felt.make_plan(), dice)
                verdicts.append(self.check(felt, ("n", "N"), ("v", "ln(v)"), math.log(2) / sound_through_felt.PER_LAYER))

        # one straight line in twenty seems to bend by chance
        self.assertLessEqual(verdicts.count("bends"), 2)

    def test_bars_grow_where_the_logarithm_is_taken_of_little(self) -> None:
        book = sound_through_felt.write_bench(sound_through_felt.make_plan(), random.Random(2))
        logs = next(c for c in analyse(book).runs[0].columns if c.quantity == "lnN").cells
        self.assertGreater(logs[-1].u or 0, 5 * (logs[0].u or 1))
