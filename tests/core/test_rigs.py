"""Rigs: what is true of all of them, and that a careful bench finds what is hidden as often as its ± claims."""

from __future__ import annotations

import math
import os
import unittest
from collections.abc import Callable
from dataclasses import replace
from statistics import fmean, pvariance
from typing import Any

from scipy import stats

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import FLICKER, OVER, write_display
from hobrel.core.apparatus.rig import LONGEST_TIME, MOST_ACTS, MOST_STEPS, Act, Rig, watch, without_choices
from hobrel.core.apparatus.rigs import RIGS, find_rig
from hobrel.core.document.lab_book import LabBook, Quantity
from hobrel.core.document.plan_part import RigPart
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.pool import present_pools
from hobrel.core.presentation.shares import share_findings
from hobrel.core.questions.apparatus import Seeds, Sitting, watch_rig
from hobrel.core.questions.rig_checks import check_rig
from hobrel.shelf.plans import SHELF
from tests.rigs import count_rate, elastic_band, fan_on_supply, iron_in_tea, ring_on_turntable, salt_in_pools, timing_by_hand, winged_seed
from tests.rigs.hands import bench_of

LONG = os.environ.get("HOBREL_LONG") == "1"
SEEDS = 200 if LONG else 16
BENCHES: dict[str, Callable[[int], tuple[LabBook, dict[str, float]]]] = {
    "salt-in-pools": salt_in_pools.measure,
    "ring-on-turntable": ring_on_turntable.measure,
    "winged-seed": winged_seed.measure,
    "iron-in-tea": iron_in_tea.measure,
    "fan-on-supply": fan_on_supply.measure,
    "timing-by-hand": timing_by_hand.measure,
    "count-rate": count_rate.measure,
    "elastic-band": elastic_band.measure,
}


BOUNDS = {("iron-in-tea", "steep")}
"""Findings whose ± is half an interval, which holds the truth more often than a standard uncertainty does (common practice)."""


class Coverage(unittest.TestCase):
    """What a careful bench finds, over many benches: within ± in 68 %, within twice that in 95 % (JCGM 100:2008, table G.1)."""

    def test_every_rig_has_its_careful_bench_and_a_plan_of_the_shelf(self) -> None:
        self.assertEqual(set(BENCHES), set(RIGS))
        on_shelf = {write().plan.rig.key for _, write in SHELF.values()}
        self.assertEqual(on_shelf - {""}, set(RIGS))

    def test_findings_hold_the_hidden_truth_as_often_as_they_claim(self) -> None:
        for key, measure in BENCHES.items():
            off: dict[str, list[float]] = {}
            for seed in range(SEEDS):
                book, truths = measure(seed)
                for finding in present(compute(book)).findings:
                    assert finding.value is not None and finding.value.u, (key, seed, finding.trouble)
                    off.setdefault(finding.finding, []).append((finding.value.value - truths[finding.finding]) / finding.value.u)
            for finding_id, scores in off.items():
                with self.subTest(key, finding=finding_id):
                    within = sum(abs(z) <= 1 for z in scores)
                    # limits that a binomial of these shares leaves once in a thousand times on a side
                    low, high = stats.binom.ppf((0.001, 0.999), len(scores), stats.norm.cdf(1) - stats.norm.cdf(-1))
                    self.assertTrue(low <= within <= (len(scores) if (key, finding_id) in BOUNDS else high), (within, len(scores)))
                    self.assertGreaterEqual(sum(abs(z) <= 2 for z in scores), stats.binom.ppf(0.001, len(scores), 0.954))
                    self.assertLess(abs(fmean(scores)) * math.sqrt(len(scores)), 3.3)


OWN_THINGS = {"ring-on-turntable", "elastic-band"}
"""Rigs where each bench has a thing of its own, so that a class's findings truly differ."""


class Classes(unittest.TestCase):
    """A class that measures one and the same thing well is not told that its benches differ, but for as often as chance has it."""

    @unittest.skipUnless(LONG, "eight benches of many classes: ./run test --long")
    def test_good_classes_are_told_that_they_agree(self) -> None:
        told: dict[tuple[str, str], list[bool]] = {}
        for key, measure in BENCHES.items():
            for school_class in range(10 if key not in OWN_THINGS else 0):
                shares = []
                for bench in range(8):
                    book, _ = measure(100 * school_class + bench, f"class {school_class}")
                    shares.append(share_findings(compute(book), f"bench {bench}"))
                for pooled in present_pools(book.findings, shares):
                    (said,) = pooled.consistency
                    told.setdefault((key, pooled.finding), []).append(said.fields["verdict"] == "no more than their own uncertainties say")
        for finding, agreed in told.items():
            with self.subTest(finding):
                self.assertGreaterEqual(sum(agreed), stats.binom.ppf(0.001, len(agreed), 0.95))


class AnyRig(unittest.TestCase):
    def look(self, rig: Rig[Any, Any], acts: list[Act], start: float, steps: int = 5) -> Any:
        truth = rig.draw_truth(Chance("class"), Chance("bench"), ())
        return watch(rig, truth, acts, Chance("hand"), start=start, steps=steps)

    def test_it_looks_the_same_whenever_it_is_asked(self) -> None:
        for key, rig in RIGS.items():
            with self.subTest(key):
                acts = self.everything(rig)
                whole = self.look(rig, acts, acts[-1].at, 60)
                self.assertEqual(self.look(rig, acts, acts[-1].at, 60), whole)
                # and what is to come is what will be shown
                later = self.look(rig, acts, acts[-1].at + 20 * rig.every, 40)
                self.assertEqual({f: texts[20:] for f, texts in whole.shown.items()}, later.shown)
                # what is done after a look is not seen in it
                self.assertEqual(self.look(rig, acts, acts[5].at), self.look(rig, acts[:6], acts[5].at))

    def everything(self, rig: Rig[Any, Any]) -> list[Act]:
        """Whatever the rig offers, twice over, as it comes to be offered."""
        acts: list[Act] = []
        for turn in range(2):
            for control in self.look(rig, acts, 3.0 * len(acts) + 1000 * turn).controls:
                acts.append(Act(control.act, control.value, 3.0 * len(acts) + 1000 * turn))
        return acts

    def test_controls_have_keys_of_their_own_and_say_where_they_stand(self) -> None:
        for key, rig in RIGS.items():
            acts = self.everything(rig)
            for n in range(len(acts)):
                seen = self.look(rig, acts[:n], acts[n].at)
                keys = [c.key for c in seen.controls] + [f.key for f in rig.faces]
                self.assertEqual(len(keys), len(set(keys)), (key, sorted(keys)))
                self.assertTrue(all(len(k) == 1 for k in keys) and "a" not in keys)
                for group in {c.group for c in seen.controls if c.chosen is not None}:
                    self.assertLessEqual(sum(bool(c.chosen) for c in seen.controls if c.group == group), 1)
                self.assertTrue(seen.looks.words)
                self.assertEqual(set(seen.shown), {f.id for f in rig.faces})
                for control in seen.controls:
                    # whatever is offered is known
                    self.look(rig, [*acts[:n], Act(control.act, control.value, acts[n].at)], acts[n].at)

    def test_benches_differ_and_a_class_shares_what_is_common_to_it(self) -> None:
        for key, rig in RIGS.items():
            with self.subTest(key):
                told = [rig.tell_truth(rig.draw_truth(Chance(c), Chance(b), ())) for c, b in (("a", "1"), ("a", "2"), ("b", "1"))]
                self.assertNotEqual(told[0], told[1])
                self.assertNotEqual(told[0], told[2])

    def test_what_goes_wrong_can_be_switched_off(self) -> None:
        for rig in RIGS.values():
            named = [m.id for m in rig.mishaps]
            self.assertEqual(without_choices(rig, [*named[:1], "other"]), tuple(named[:1]))

    def test_time_and_acts_have_their_limits(self) -> None:
        for key, rig in RIGS.items():
            known = self.everything(rig)[0]
            many = [Act(known.kind, known.value, float(i)) for i in range(MOST_ACTS + 1)]
            for acts, start, steps, code in (
                (many, 1000.0, 1, "too_large"),
                ([Act("fly", "", 0.0)], 1.0, 1, "bad_job"),
                ([Act(known.kind, "elsewhere", 0.0)], 1.0, 1, "bad_job"),
                ([Act("wait", "61", 0.0)], 1.0, 1, "bad_job"),
                ([Act("wait", "60", 2.0), Act("wait", "60", 1.0)], 3.0, 1, "bad_job"),
                ([Act("wait", "60", -1.0)], 3.0, 1, "bad_job"),
                ([Act("wait", "60", math.nan)], 3.0, 1, "bad_job"),
                ([], LONGEST_TIME + 1, 1, "bad_job"),
                ([], -1.0, 1, "bad_job"),
                ([], 0.0, 0, "bad_job"),
                ([], 0.0, MOST_STEPS + 1, "bad_job"),
            ):
                with self.subTest(key, acts=acts[:2], start=start), self.assertRaises(CoreError) as raised:
                    self.look(rig, acts, start, steps)
                self.assertEqual(raised.exception.code, code)
            self.look(rig, many[:-1], LONGEST_TIME, MOST_STEPS)

    def test_the_truth_is_told_to_teachers_only(self) -> None:
        plans = {write().plan.rig.key: write() for _, write in SHELF.values()}
        for key in RIGS:
            book, seeds = bench_of(plans[key]), Seeds("class", "bench")
            self.assertEqual(watch_rig(book, seeds, Sitting("h", (), 0.0), False).truth, ())
            self.assertTrue(watch_rig(book, seeds, Sitting("h", (), 0.0), True).truth)
        with self.assertRaises(CoreError):
            watch_rig(bench_of(plans[""]), Seeds("class", "bench"), Sitting("h", (), 0.0), False)
        with self.assertRaises(CoreError):
            find_rig("teapot")


class RigOfAPlan(unittest.TestCase):
    def notes(self, rig: RigPart, *quantities: Quantity) -> list[str]:
        plan = SHELF["salt-in-rock-pools"][1]()
        others = {q.id: q for q in quantities}
        book = replace(plan, quantities=tuple(others.get(q.id, q) for q in plan.quantities), plan=replace(plan.plan, rig=rig))
        return [note.words.text for note in check_rig(book)]

    def test_what_is_read_from_it_is_looked_at(self) -> None:
        kappa = SHELF["salt-in-rock-pools"][1]().quantity("k")
        part = RigPart("salt-in-pools", writes={"meter": "k"})
        self.assertEqual(self.notes(part), [])
        self.assertEqual(self.notes(RigPart()), [])
        self.assertEqual(self.notes(part, replace(kappa, unit="uS/cm")), ["The meter shows mS/cm, and conductivity is written in uS/cm."])
        self.assertEqual(self.notes(part, replace(kappa, unit="")), ["The meter shows mS/cm, and conductivity is written without a unit."])
        # one that is the same under another name, and one that is none, which is said elsewhere
        self.assertEqual(self.notes(part, replace(kappa, unit="mS cm^-1")), [])
        self.assertEqual(self.notes(part, replace(kappa, unit="splods")), [])
        nothing = ["Say what is read from which instrument of “Salt in rock pools”."]
        self.assertEqual(self.notes(RigPart("salt-in-pools")), nothing)
        self.assertEqual(self.notes(RigPart("salt-in-pools", writes={"meter": "V"})), nothing)
        self.assertEqual(self.notes(RigPart("teapot")), ["There is no rig teapot."])


class Draws(unittest.TestCase):
    def test_shares_are_even_and_names_independent(self) -> None:
        """Kolmogorov–Smirnov against SciPy's uniform and normal distributions."""
        chance = Chance("a seed")
        self.assertGreater(stats.kstest([chance.share("x", i) for i in range(4000)], "uniform").pvalue, 0.001)
        normals = [chance.normal("x", i) for i in range(4000)]
        self.assertGreater(stats.kstest(normals, "norm").pvalue, 0.001)
        others = [chance.named("other").normal("x", i) for i in range(4000)]
        self.assertLess(abs(stats.pearsonr(normals, others).statistic), 0.05)
        self.assertEqual(chance.between(2, 4, "x", 1), 2 + 2 * chance.share("x", 1))

    def test_counts_are_poisson(self) -> None:
        """Means, variances and shares by SciPy's Poisson distribution, small and large."""
        for mean in (0.0, 0.3, 4.0, 49.9, 50.1, 170.0):
            counts = [Chance("c").poisson(mean, i) for i in range(3000)]
            tolerance = 4 * math.sqrt(max(mean, 1e-9) / 3000)
            self.assertAlmostEqual(fmean(counts), mean, delta=tolerance)
            self.assertAlmostEqual(pvariance(counts), mean, delta=4 * math.sqrt(2 * mean**2 / 3000 + mean / 3000) + 1e-9)
            median = stats.poisson.median(mean)
            self.assertAlmostEqual(sum(c <= median for c in counts) / 3000, stats.poisson.cdf(median, mean), delta=0.04)
        for bad in (-1.0, math.inf, math.nan):
            with self.assertRaises(ValueError):
                Chance("c").poisson(bad)


class Displays(unittest.TestCase):
    def test_the_last_digit_flickers_and_the_range_ends(self) -> None:
        texts = [write_display(3.4142, 2, 19.99, Chance("d"), i) for i in range(2000)]
        self.assertEqual(set(texts) - {"3.40", "3.41", "3.42", "3.43"}, set())
        # the flicker, and what rounding adds to it: a²/12
        self.assertAlmostEqual(pvariance([100 * float(t) for t in texts]), FLICKER**2 + 1 / 12, delta=0.03)
        self.assertEqual(write_display(20.1, 2, 19.99, Chance("d"), 1), OVER)
        self.assertEqual(write_display(-20.1, 2, 19.99, Chance("d"), 1), OVER)
        self.assertEqual({write_display(0.0, 1, 9.9, Chance("d"), i) for i in range(50)} & {"-0.0"}, set())
        self.assertTrue(any(write_display(0.0, 1, 9.9, Chance("d"), i) == "0.0" for i in range(50)))
        self.assertEqual(write_display(-12.34, 0, 99, Chance("e"), 1)[0], "-")
