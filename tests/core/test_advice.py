"""What is advised of a plan, by a ± that is known on paper: that of n settings read r times is √(c² + s²/(n r))."""

from __future__ import annotations

import math
import unittest
from dataclasses import replace
from typing import Any
from unittest.mock import patch

from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.document.limits import MOST_REPEATS
from hobrel.core.errors import CoreError
from hobrel.core.questions.believed import believe
from hobrel.core.questions.dry_advice import BetterPlan, PlanFor, find_better_plans, plan_for
from hobrel.core.questions.dry_run import BudgetShare, DryRun, FindingSpread, FitVerdicts
from hobrel.core.questions.dry_words import show_dry_run
from hobrel.core.readings.instruments import Instrument
from tests.core.test_dry_run import spring

VALUE = 25.0


def spread(**more: Any) -> FindingSpread:
    known: dict[str, Any] = {
        "finding": "k", "name": "stiffness", "symbol": "k", "unit": "N/m", "perfect": VALUE, "believed": VALUE, "count": 10, "failed": 0,
        "mean": VALUE, "sd": 1.0, "u": 1.0, "u_constants": 0.0, "verdicts": {"agrees": 1.0, "near": 0.0, "differs": 0.0}, "budget": (),
    }  # fmt: skip
    return FindingSpread(**known | more)


class World:
    """Answers dry runs by the formula above, and remembers what was asked."""

    def __init__(self, scatter: float, constant: float = 0.0, shares: tuple[BudgetShare, ...] = ()) -> None:
        self.scatter, self.constant, self.shares = scatter, constant, shares
        self.asked: list[LabBook] = []

    def __call__(self, book: LabBook, seed: int, classes: int) -> DryRun:
        self.asked.append(book)
        table = believe(book).tables[0]
        readings = len(table.nominal) * max(q.repeats for q in table.measured)
        u = math.hypot(self.constant, self.scatter / math.sqrt(readings))
        return DryRun(classes, (spread(u=u, u_constants=self.constant, budget=self.shares),), (), 60.0 * readings)


def plan(world: World, wanted: float, book: LabBook | None = None) -> PlanFor:
    with patch("hobrel.core.questions.dry_advice.dry_run", world):
        return plan_for(book or spring(), "k", wanted, 1)


class Wanted(unittest.TestCase):
    def test_the_fewest_readings_that_reach_it(self) -> None:
        """Eight settings once leave 1; a half of it takes thirty-two readings, of which 8 × 4 comes before 16 × 2."""
        world = World(math.sqrt(8.0))
        half = plan(world, 0.5 / VALUE * 1.0000001)
        self.assertEqual((half.reached, half.settings, half.repeats), (True, 8, 4))
        assert half.u is not None and half.relative is not None
        self.assertAlmostEqual(half.u, 0.5)
        self.assertAlmostEqual(half.relative, 0.02)
        self.assertEqual((half.seconds, half.words.text), (60.0 * 32, "8 settings, each read 4 times"))

    def test_fewer_settings_read_more_often_where_that_is_less(self) -> None:
        # thirty: 6 × 5 or 10 × 3, the first with fewer settings
        once = plan(World(1.0), 1 / math.sqrt(30) / VALUE * 1.0000001)
        self.assertEqual((once.settings, once.repeats), (6, 5))
        self.assertEqual(plan(World(1.0), 1 / math.sqrt(6) / VALUE * 1.0000001).words.text, "6 settings, each read once")

    def test_the_plan_s_own_number_of_settings_is_one_of_those_tried(self) -> None:
        book = spring()
        seven = replace(book, plan=replace(book.plan, wanted={"F": replace(book.plan.wanted["F"], count=7)}))
        found = plan(World(1.0), 1 / math.sqrt(7) / VALUE * 1.0000001, seven)
        self.assertEqual((found.settings, found.repeats), (7, 1))

    def test_as_many_repeats_as_there_can_be(self) -> None:
        most = 20 * MOST_REPEATS
        found = plan(World(1.0), 1 / math.sqrt(most) / VALUE * 1.0000001)
        self.assertEqual((found.reached, found.settings, found.repeats), (True, 20, MOST_REPEATS))
        self.assertEqual(plan(World(1.0), 1 / math.sqrt(1.3 * most) / VALUE).words.code, "instruments_limit")

    def test_what_constants_leave_is_not_measured_away(self) -> None:
        """0.6 of constants and 0.8 of points make 1: for 0.75 the points may leave 0.45, which takes 8 (0.8/0.45)² = 25.3 readings."""
        world = World(0.8 * math.sqrt(8.0), 0.6, (BudgetShare("d", 0.2, True), BudgetShare("m", 0.5, True), BudgetShare("s", 0.3, False)))
        found = plan(world, 0.75 / VALUE)
        assert found.settings and found.repeats
        self.assertEqual(found.settings * found.repeats, 30)
        # what is tried first may fall short by a tenth, no more: 24 readings are tried, 20 are not
        tried = [len(believe(b).tables[0].nominal) * b.quantity("s").repeats for b in world.asked[1:]]
        self.assertEqual(min(tried), 24)
        stopped = plan(world, 0.6 / VALUE)
        self.assertEqual((stopped.reached, stopped.words.code), (False, "constants_limit"))
        self.assertIn("the constants leave ± 2.4 %, most of it m", stopped.words.text)

    def test_no_more_than_six_are_tried_and_the_largest(self) -> None:
        class Stubborn(World):
            def __call__(self, book: LabBook, seed: int, classes: int) -> DryRun:
                found = super().__call__(book, seed, classes)
                return replace(found, findings=(replace(found.findings[0], u=1.0),))

        world = Stubborn(math.sqrt(8.0))
        self.assertEqual(plan(world, 0.9 / VALUE).words.code, "instruments_limit")
        self.assertEqual(len(world.asked), 1 + 6 + 2)  # and the two largest tables

    def test_shares_that_are_none(self) -> None:
        for wanted in (0.0, 1.0, -0.1):
            with self.assertRaises(CoreError):
                plan(World(1.0), wanted)


class Better(unittest.TestCase):
    def found(self, book: LabBook, u_of: Any) -> tuple[list[LabBook], tuple[BetterPlan, ...]]:
        asked: list[LabBook] = []

        def run(tried: LabBook, seed: int, classes: int) -> DryRun:
            asked.append(tried)
            return DryRun(classes, (spread(u=u_of(len(asked) - 1), perfect=-VALUE),), (), 100.0 * len(asked))

        with patch("hobrel.core.questions.dry_advice.dry_run", run):
            return asked, find_better_plans(book, "k", 1)

    def test_one_thing_at_a_time_is_made_better_by_two(self) -> None:
        book = spring(repeats=2)
        more = (
            *book.quantities,
            Quantity("c", "constant", "zero", "z", "cm", value="1.0", u="0.1"),
            Quantity("n", "constant", "", "n", ""),
        )
        asked, _ = self.found(replace(book, quantities=more), lambda i: 1.0)
        plain, repeats, finer, settings, longer, constant = asked
        self.assertEqual(repeats.quantity("s").repeats, 4)
        instrument = finer.quantity("s").instrument
        assert instrument is not None
        self.assertEqual((instrument.division, finer.quantity("s").repeats), ("0.05", 2))
        wanted = [(b.plan.wanted["F"].count, float(b.plan.wanted["F"].low), float(b.plan.wanted["F"].high)) for b in (settings, longer)]
        self.assertEqual(wanted, [(16, 1.0, 8.0), (8, 1.0, 15.0)])
        self.assertEqual((constant.quantity("c").u, plain.quantity("c").u), ("0.05", "0.1"))

    def test_what_gains_less_than_three_per_cent_is_left_out_and_the_best_is_first(self) -> None:
        _, found = self.found(spring(repeats=2), lambda i: (1.0, 0.98, 0.5, 0.96, 1.2)[i])
        self.assertEqual([(round(b.u, 3), round(b.gain, 3), round(b.relative, 4), b.seconds) for b in found],
                         [(0.5, 0.5, 0.02, 300.0), (0.96, 0.04, 0.0384, 400.0)])  # fmt: skip

    def test_repeats_have_an_end_and_counts_no_finer_instrument(self) -> None:
        most = spring(repeats=MOST_REPEATS // 2 + 1)
        counted = replace(most, quantities=(most.quantities[0], replace(most.quantities[1], instrument=Instrument("eye", "counted", "1"))))
        asked, _ = self.found(counted, lambda i: 1.0)
        self.assertEqual(len(asked), 3)
        at_the_end, _ = self.found(spring(repeats=MOST_REPEATS // 2), lambda i: 1.0)
        self.assertEqual(at_the_end[1].quantity("s").repeats, 2 * (MOST_REPEATS // 2))

    def test_a_finding_of_nothing_has_no_shares(self) -> None:
        for middle in ({"perfect": 0.0}, {"perfect": None, "mean": None}, {"u": None}):
            run = DryRun(1, (spread(**middle),), (), 1.0)
            with patch("hobrel.core.questions.dry_advice.dry_run", return_value=run), self.assertRaises(CoreError) as caught:
                find_better_plans(spring(), "k", 1)
            self.assertEqual(caught.exception.code, "no_finding")


class Told(unittest.TestCase):
    """The words of a dry run, on both sides of each of their limits."""

    def words(self, **more: Any) -> list[str]:
        run = DryRun(200, (spread(**more),), (), 90.0)
        (shown,) = show_dry_run(spring(), run).findings
        return [w.code for w in shown.words if w.code != "dry_verdicts"]

    def test_a_stated_uncertainty_that_is_not_what_benches_scatter_by(self) -> None:
        self.assertEqual([self.words(sd=sd) for sd in (0.5, 0.49, 1.0, 1.5, 1.51)], [[], ["dry_too_large"], [], [], ["dry_too_small"]])
        self.assertEqual(self.words(sd=3.0, u=2.0), [])

    def test_a_finding_that_misses_what_is_believed_by_more_than_a_fiftieth_of_its_uncertainty(self) -> None:
        self.assertEqual([self.words(believed=VALUE + off) for off in (0.0199, 0.0201, -0.0201)], [[], ["dry_off"], ["dry_off"]])
        self.assertEqual([self.words(believed=VALUE + off, u=1e-9, sd=1e-9) for off in (2e-5, 3e-5)], [[], ["dry_off"]])
        self.assertEqual([self.words(failed=n) for n in (0, 1)], [[], ["dry_failed"]])

    def test_verdicts_are_of_a_hundred_benches(self) -> None:
        run = DryRun(200, (spread(verdicts={"agrees": 0.9, "near": 0.084, "differs": 0.016}),), (), 90.0)
        none = DryRun(200, (spread(verdicts={"agrees": 0.996, "near": 0.0, "differs": 0.004}, count=0),), (), 90.0)
        shown = [show_dry_run(spring(), found) for found in (run, none)]
        self.assertEqual(
            [[w.text for w in s.findings[0].words] for s in shown],
            [["2 of 100 benches would be told that it differs from what it truly is; 8 that it is near."], []],
        )

    def test_what_is_told_of_points_is_said_from_nine_of_a_hundred(self) -> None:
        def said(**more: Any) -> list[str]:
            known: dict[str, Any] = {"is_line": True, "scatter": {"more": 0.0}, "bends": {"bends": 0.0}, "zero_doubted": None} | more
            return [w.code for w in show_dry_run(spring(), DryRun(1, (), (FitVerdicts("f", **known),), 1.0)).fits]

        self.assertEqual([said(bends={"bends": share}) for share in (0.08, 0.0849, 0.0851)], [[], [], ["dry_bends"]])
        self.assertEqual([said(scatter={"more": share}) for share in (0.08, 0.09)], [[], ["dry_scatter"]])
        self.assertEqual([said(zero_doubted=share) for share in (0.08, 0.09)], [[], ["dry_zero"]])
        self.assertEqual(said(is_line=False, bends={"bends": 1.0}), [])
        verdicts = FitVerdicts("f", is_line=True, scatter={"more": 0.5}, bends={"bends": 0.3}, zero_doubted=0.2)
        told = " ".join(w.text for w in show_dry_run(spring(), DryRun(1, (), (verdicts,), 1.0)).fits)
        for part in ("30 of 100", "s against F bends.", "50 of 100", "s against F scatters", "20 of 100", "the line of s against F misses"):
            self.assertIn(part, told)

    def test_shares_and_times_as_they_are_written(self) -> None:
        run = DryRun(1, (spread(u=0.25, budget=(BudgetShare("s", 0.99, False), BudgetShare("z", 0.0099, True))),), (), 0.0)
        texts = []
        for seconds in (0.0, 89.0, 91.0, 89.4 * 60, 89.6 * 60, 9000.0):
            shown = show_dry_run(spring(), replace(run, seconds=seconds))
            texts.append(shown.duration)
        self.assertEqual(texts, ["about 1 min", "about 1 min", "about 2 min", "about 89 min", "about 1.5 h", "about 2.5 h"])
        self.assertEqual([b.text for b in shown.findings[0].budget], ["99 %", "under 1 %"])
        self.assertEqual(shown.findings[0].percent, "± 1.0 %")
