"""How often an ideal experiment is told that something is wrong, and how often something wrong is noticed. Fixed seeds."""

from __future__ import annotations

import os
import random
from collections import Counter
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.special import chdtrc

from hobrel.core.document.choices import WeightKind
from hobrel.core.document.lab_book import Fit
from hobrel.core.errors import CoreError
from hobrel.core.fitting.line import fit_line
from hobrel.core.fitting.straightness import Bars, judge_points
from hobrel.core.linearising.forms import try_forms
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.findings import ComputedFinding
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.statistics.comparison import NEAR, chance_of
from hobrel.core.statistics.pool import BenchResult, pool_results
from hobrel.core.uncertainty.traced import combine_quadrature, effective_dof
from tests.core.calibration.experiments import (
    BY_SHARE,
    LIGHT,
    SPRING,
    Conditions,
    draw_conditions,
    make_book,
    make_calibration,
    make_two_ways,
    moved,
)

LONG = os.environ.get("HOBREL_LONG") == "1"
CLASSES = 3000 if LONG else 120
BOARDS = 3000 if LONG else 30


def found_in(conditions: Conditions, dice: random.Random) -> tuple[FittedLine, ComputedFinding]:
    return fitted_in(make_book(conditions, dice))


def fitted_in(book: object) -> tuple[FittedLine, ComputedFinding]:
    computation = compute(book)  # type: ignore[arg-type]
    fitted, found = computation.fits["f"], computation.findings["F"]
    assert isinstance(fitted, FittedLine) and isinstance(found, ComputedFinding) and found.comparison is not None
    return fitted, found


class Rates(TestCase):
    def at_most(self, told: float, count: int, share: float) -> None:
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

    def test_what_scatters_by_a_share_of_itself_is_left_in_peace(self) -> None:
        """Read once, so that the instrument alone says how the points should scatter, and its proportions are wrong; with other weights or
        none; and twice or more often, of which two tell little of their own spread.
        """
        dice = random.Random(30)
        for repeats in ("once", "often"):
            told: Counter[str] = Counter()
            for turn in range(CLASSES * 2):
                drawn = draw_conditions(dice)
                conditions = replace(drawn, experiment=BY_SHARE[turn % 3], repeats=1 if repeats == "once" else drawn.repeats)
                weights: WeightKind = "none" if turn % 4 == 3 and repeats == "once" else "both_bars"
                book = make_book(conditions, dice)
                fitted, found = fitted_in(replace(book, fits=(Fit("f", "g", weights=weights),)))
                assert found.comparison is not None
                told["differs"] += found.comparison.verdict == "differ"
                told["bends"] += fitted.bends == "bends"
                if repeats == "often":
                    told["scatters more"] += fitted.scatter == "more"
                    told["scatters less"] += fitted.scatter == "less"
            for words, share in (("differs", 0.08), ("bends", 0.07), ("scatters more", 0.08), ("scatters less", 0.08)):
                with self.subTest(words, repeats=repeats, rate=told[words] / CLASSES / 2):
                    self.at_most(told[words], CLASSES * 2, share)

    def test_one_point_far_out_does_not_carry_a_line_by_itself(self) -> None:
        """Light against 1/r², by a share of itself and without weights: the line goes through the point next to the lamp, whose scatter is
        then not seen in what it leaves. Seven of ten were told that they differ, and a quarter is.
        """
        differs, dice = 0, random.Random(31)
        for _ in range(CLASSES):
            conditions = replace(draw_conditions(dice), experiment=LIGHT, repeats=1)
            book = make_book(conditions, dice)
            _, found = fitted_in(replace(book, fits=(Fit("f", "g", weights="none"),)))
            assert found.comparison is not None
            differs += found.comparison.verdict == "differ"
        self.at_most(differs, CLASSES, 0.28)

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

    def test_an_unknown_read_from_a_line_is_left_in_peace(self) -> None:
        """Read once or a few times, as the settings were or not, by whatever weights."""
        told: Counter[str] = Counter()
        dice = random.Random(27)
        for _ in range(CLASSES * 2):
            book, kind = make_calibration(draw_conditions(dice), dice)
            found = compute(book).findings["F"]
            assert isinstance(found, ComputedFinding) and found.comparison is not None
            told[f"{kind} differs"] += found.comparison.verdict == "differ"
            told[kind] += 1
        for kind in ("once, bars", "once, no bars", "often, bars", "often, no bars"):
            with self.subTest(kind, of=told[kind], rate=told[f"{kind} differs"] / told[kind]):
                self.at_most(told[f"{kind} differs"], told[kind], 0.08)

    def test_two_numbers_made_of_the_same_readings_are_left_in_peace(self) -> None:
        """What both rest on is counted once, whichever ± each of them gives it: neither too often apart nor always together."""
        told: Counter[str] = Counter()
        dice = random.Random(28)
        for _ in range(CLASSES):
            found = compute(make_two_ways(draw_conditions(dice), dice)).findings["F"]
            assert isinstance(found, ComputedFinding) and not isinstance(found.compared[0].comparison, CoreError)
            told[found.compared[0].comparison.verdict] += 1
        self.at_most(told["differ"], CLASSES, 0.08)
        self.at_most(told["agree"], CLASSES, 0.80)
        self.at_least(told["agree"], CLASSES, 0.60)

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


BOARD_TRUTHS = (
    ("v", "v", lambda x: 2 * x + 1), ("v^2", "v", lambda x: 0.5 * x**2 + 0.2), ("sqrt(v)", "v", lambda x: 4 * np.sqrt(x)),
    ("1/v", "v", lambda x: 30 / x), ("v", "ln(v)", lambda x: 20 * np.exp(-x / 4)), ("ln(v)", "v", lambda x: 2 * np.log(x) + 3),
    ("v", "v^2", lambda x: np.sqrt(2 * x + 1)), ("1/v^2", "v", lambda x: 50 / x**2), ("ln(v)", "ln(v)", lambda x: 2 * x**1.37),
)  # fmt: skip


class Boards(Rates):
    """y of x with 1 or 3 % of noise, the same everywhere or a share of y: a square called straight does not miss its points."""

    def rates(self, with_bars: bool, seed: int) -> tuple[float, float]:
        """Of the squares called straight those that miss their points (χ² by the noise that there is, 1 %); of the true ones those that
        bend, but for y itself under a scatter that is a share of it.
        """
        dice, straight, missed, bends, boards = np.random.default_rng(seed), 0, 0, 0, 0
        while boards < BOARDS:
            x_form, y_form, truth = BOARD_TRUTHS[int(dice.integers(len(BOARD_TRUTHS)))]
            x = np.linspace(1, 10, int(dice.integers(6, 11)))
            y = truth(x)
            share = float(dice.choice([0.01, 0.03]))
            in_shares = dice.random() < 0.5
            sd = share * (np.abs(y) if in_shares else np.full(x.size, np.ptp(y)))
            y = y + dice.normal(0, 1, x.size) * sd
            if np.any(y <= 0):
                continue
            boards += 1
            bars = Bars(np.zeros(x.size), sd, np.zeros(x.size), np.inf) if with_bars else None
            for plot in try_forms(x, y, bars):
                bends += not (in_shares and y_form == "v") and (plot.x_form.text, plot.y_form.text, plot.verdict) == (
                    x_form,
                    y_form,
                    "bends",
                )
                if plot.verdict == "straight":
                    in_x, in_y = plot.x_form.apply(x), plot.y_form.apply(y, sd)
                    assert in_x is not None and in_y is not None
                    chi2 = fit_line(in_x.values, in_y.values, in_y.u).chi2
                    straight += 1
                    missed += chi2 is not None and float(chdtrc(x.size - 2, chi2)) < 0.01
        return missed / straight, bends / boards

    def test_with_bars(self) -> None:
        missed, bends = self.rates(True, 28)
        self.assertLessEqual(missed, 0.02)
        self.assertLessEqual(bends, 0.07)

    def test_without_bars(self) -> None:
        """Before points said anything of their scatter, nine green squares of ten were wrong.

        The true square itself misses, by this measure, in one board of a hundred. So few boards as in the sample decide with an allowance
        (a board's squares miss together: boards are the tries, not squares); the long run's decide without.
        """
        missed, bends = self.rates(False, 29)
        if LONG:
            self.assertLessEqual(missed, 0.02)
        else:
            self.at_most(missed * BOARDS, BOARDS, 0.02)
        self.assertLessEqual(bends, 0.07)
