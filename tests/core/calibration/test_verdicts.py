"""How often an ideal experiment is told that something is wrong, and how often something wrong is noticed. Fixed seeds."""

from __future__ import annotations

import os
import random
from collections import Counter
from unittest import TestCase

import numpy as np

from hobrel.core.fitting.straightness import Bars, judge_points
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.statistics.comparison import NEAR, chance_of
from hobrel.core.statistics.pool import BenchResult, pool_results
from hobrel.core.uncertainty.traced import combine_quadrature, effective_dof
from tests.core.calibration.experiments import SPRING, Conditions, draw_conditions, make_book, moved

LONG = os.environ.get("HOBREL_LONG") == "1"
CLASSES = 3000 if LONG else 200


def found_in(conditions: Conditions, dice: random.Random) -> tuple[FittedLine, ComputedFinding]:
    return fitted_in(make_book(conditions, dice))


def fitted_in(book: object) -> tuple[FittedLine, ComputedFinding]:
    computation = compute(book)  # type: ignore[arg-type]
    fitted, found = computation.fits["f"], computation.findings["F"]
    assert isinstance(fitted, FittedLine) and isinstance(found, ComputedFinding) and found.comparison is not None
    return fitted, found


class Rates(TestCase):
    def at_most(self, told: int, count: int, share: float) -> None:
        """No more than a share, with three standard deviations of so many tries."""
        self.assertLessEqual(told / count, share + 3 * (share * (1 - share) / count) ** 0.5)

    def at_least(self, told: int, count: int, share: float) -> None:
        self.assertGreaterEqual(told / count, share - 3 * (share * (1 - share) / count) ** 0.5)


class IdealExperiments(Rates):
    """Any convention, 2 to 5 repeats, 5 to 10 settings."""

    def test_they_are_left_in_peace(self) -> None:
        told: Counter[str] = Counter()
        dice = random.Random(20)
        for _ in range(CLASSES):
            fitted, found = found_in(draw_conditions(dice), dice)
            assert found.comparison is not None
            told["differs"] += found.comparison.verdict == "differ"
            told["scatters more"] += fitted.scatter == "more"
            told["bends"] += fitted.bends == "bends"
        for words, share in (("differs", 0.08), ("scatters more", 0.08), ("bends", 0.07)):
            with self.subTest(words, rate=told[words] / CLASSES):
                self.at_most(told[words], CLASSES, share)

    def test_an_intercept_of_zero_is_not_doubted(self) -> None:
        doubted, dice = 0, random.Random(21)
        for _ in range(CLASSES):
            conditions = draw_conditions(dice)
            fitted, _ = found_in(Conditions(SPRING, conditions.count, conditions.repeats, conditions.convention), dice)
            judged = fitted.judged["intercept"]
            doubted += chance_of(abs(float(judged.value)) / float(combine_quadrature(judged)), effective_dof(judged)) < NEAR
        self.at_most(doubted, CLASSES, 0.08)

    def test_a_truth_five_uncertainties_away_differs(self) -> None:
        noticed, dice = 0, random.Random(22)
        for _ in range(CLASSES):
            book = make_book(draw_conditions(dice), dice)
            u = fitted_in(book)[1].u
            comparison = fitted_in(moved(book, dice.choice((-5, 5)) * u))[1].comparison
            noticed += comparison is not None and comparison.verdict == "differ"
        self.at_least(noticed, CLASSES, 0.90)

    def test_clean_tables_have_no_slips(self) -> None:
        count = CLASSES // 2
        dice = random.Random(23)
        asked = sum(bool(analyse(make_book(draw_conditions(dice), dice)).slips) for _ in range(count))
        self.at_most(asked, count, 0.03)


class Straightness(Rates):
    """y = x, and a bent y, with 3 % noise."""

    def rates(self, bend: float, with_bars: bool, n_from: int = 6) -> Counter[str]:
        dice, told = np.random.default_rng(24), Counter[str]()
        for _ in range(CLASSES * 3):
            n = int(dice.integers(n_from, 11))
            x = np.linspace(1, 10, n)
            truth = x + bend * (x - 1) * (x - 10)
            sd = 0.03 * float(np.ptp(truth))
            y = truth + dice.normal(0, sd, n)
            bars = Bars(np.zeros(n), np.full(n, sd), np.zeros(n), np.inf) if with_bars else None
            told[judge_points(x, y, bars)] += 1
        return told

    def test_straight_points_do_not_bend(self) -> None:
        for with_bars in (True, False):
            with self.subTest(with_bars=with_bars):
                self.at_most(self.rates(0.0, with_bars)["bends"], CLASSES * 3, 0.07)

    def test_bent_points_are_not_called_straight(self) -> None:
        """A sag of a tenth of the range: as y = x² over a factor of two, and more."""
        for with_bars in (True, False):
            with self.subTest(with_bars=with_bars):
                self.at_most(self.rates(0.06, with_bars)["straight"], CLASSES * 3, 0.12)

    def test_five_points_without_bars_are_too_few(self) -> None:
        dice = np.random.default_rng(25)
        x = np.linspace(1, 10, 5)
        told = {judge_points(x, x**2 + dice.normal(0, 3, 5), None) for _ in range(100)}
        self.assertLessEqual(told, {"unknown", "bends"})


class Pools(Rates):
    def results(self, dice: np.random.Generator, benches: int, between: float) -> list[BenchResult]:
        """Benches that find 12.4, each with its own u, and as much scatter between them as wanted."""
        us = dice.uniform(0.15, 0.45, benches)
        values = 12.4 + dice.normal(0, np.hypot(us, between))
        return [BenchResult(f"b{i}", float(v), float(u)) for i, (v, u) in enumerate(zip(values, us, strict=True))]

    def test_the_class_value_covers_what_it_says(self) -> None:
        for between in (0.0, 0.4):
            dice, once, twice = np.random.default_rng(26), 0, 0
            for _ in range(CLASSES * 2):
                value, u = pool_results(self.results(dice, int(dice.integers(4, 13)), between)).recommended_value
                once += u is not None and abs(value - 12.4) <= u
                twice += u is not None and abs(value - 12.4) <= 2 * u
            with self.subTest(between=between):
                self.at_least(once, CLASSES * 2, 0.63)
                self.at_least(twice, CLASSES * 2, 0.92)

    def test_the_innocent_are_not_accused_and_the_cause_is_named(self) -> None:
        factors = [10.0, 0.1, 100.0, 0.001, 2.0, 0.5, 60.0, 2 * np.pi, 4 * np.pi**2, 16.0, 3.6, 180 / np.pi]
        for between in (0.0, 0.4):
            dice, accused, named, innocents = np.random.default_rng(27), 0, 0, 0
            for turn in range(CLASSES):
                results = self.results(dice, int(dice.integers(5, 13)), between)
                factor = factors[turn % len(factors)]
                off = results[0]
                results[0] = BenchResult(off.bench, off.value * factor, off.u * factor)
                pointed = {p.bench: p for p in pool_results(results).pointed_out}
                accused += len(set(pointed) - {off.bench})
                innocents += len(results) - 1
                causes = pointed[off.bench].causes if off.bench in pointed else ()
                named += any(c.factor is not None and abs(c.factor / factor - 1) < 1e-6 for c in causes)
            with self.subTest(between=between):
                self.at_least(named, CLASSES, 0.93)
                self.at_most(accused, innocents, 0.01)
