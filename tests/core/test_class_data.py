"""What a class shares: settings, the line of all, conditions beside each other; against SciPy, statsmodels and ideal classes."""

from __future__ import annotations

import os
import random
import unittest
import warnings
from dataclasses import replace

import numpy as np
import pandas as pd
from scipy import stats
from statsmodels.regression.mixed_linear_model import MixedLM
from statsmodels.stats.anova import AnovaRM

from hobrel.core.document.lab_book import Graph, LabBook
from hobrel.core.document.plan_part import Condition
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.class_data import present_class
from hobrel.core.presentation.pool import point_out, present_pools
from hobrel.core.presentation.shares import BenchShare, SharedFinding, leave_out_share, miss_share, share_findings
from hobrel.core.sentences import told
from hobrel.core.statistics.class_line import BenchPoints, fit_class_line
from hobrel.core.statistics.class_settings import pool_setting
from hobrel.core.statistics.conditions import compare_conditions
from hobrel.core.statistics.coverage import coverage_factor
from hobrel.core.statistics.pool import COVERAGE
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench

TRIES = 1500 if os.environ.get("HOBREL_LONG") == "1" else 60


def bench_points(rng: np.random.Generator, n: int, tau: tuple[float, float], s: float, through_origin: bool = False) -> BenchPoints:
    x = np.linspace(1, 4, n) + rng.normal(0, 0.05, n)
    intercept = 0.0 if through_origin else 2 + rng.normal(0, tau[0])
    return BenchPoints(x, intercept + (3 + rng.normal(0, tau[1])) * x + rng.normal(0, s, n), np.ones(n))


class Settings(unittest.TestCase):
    def test_by_hand(self) -> None:
        # means 10, 12, 14; within: each ±1 about it, so MS_within = 2; MS_between = 2·4 = 8; (8 − 2)/2 = 3
        found = pool_setting([[9.0, 11.0], [11.0, 13.0], [13.0, 15.0]])
        self.assertEqual((found.benches, found.readings, found.mean), (3, 6, 12.0))
        assert found.within is not None and found.between is not None
        self.assertAlmostEqual(found.within, 2**0.5, 12)
        self.assertAlmostEqual(found.between, 3**0.5, 12)
        # s of the means is 2; t for 68.27 % and two degrees of freedom is 1.32 (JCGM 100:2008, table G.2)
        self.assertAlmostEqual(found.u, 2 / 3**0.5 * 1.32, 2)

    def test_unequal_benches_against_scipy(self) -> None:
        groups = [[5.1, 5.3, 5.2], [5.6, 5.5], [4.9, 5.0, 5.1, 5.0]]
        found = pool_setting(groups)
        self.assertAlmostEqual(found.p_value or 0.0, float(stats.f_oneway(*groups).pvalue), 12)
        self.assertAlmostEqual(found.mean, float(np.mean([np.mean(g) for g in groups])), 12)

    def test_without_repeats_nothing_is_said_of_within_and_one_bench_is_no_class(self) -> None:
        found = pool_setting([[5.0], [6.0], []])
        self.assertEqual((found.benches, found.within, found.between, found.p_value), (2, None, None, None))
        with self.assertRaises(CoreError):
            pool_setting([[5.0, 6.0]])

    def test_alike_benches_have_no_part_between(self) -> None:
        found = pool_setting([[5.0, 7.0], [5.5, 6.5]])
        self.assertEqual(found.between, 0.0)


class Conditions(unittest.TestCase):
    def test_blocks_against_statsmodels_and_the_paired_t_test(self) -> None:
        rng = random.Random(3)
        values = {c: {b: 10 * i + shift + rng.gauss(0, 1) for i, b in enumerate("abcde")} for c, shift in (("x", 0), ("y", 1), ("z", 3))}
        found = compare_conditions(values)
        frame: dict[str, list[object]] = {"v": [], "c": [], "b": []}
        for c, by_bench in values.items():
            for b, v in by_bench.items():
                for key, item in zip("vcb", (v, c, b), strict=True):
                    frame[key].append(item)
        table = AnovaRM(pd.DataFrame(frame), "v", "b", within=["c"]).fit().anova_table
        self.assertEqual((found.layout, found.benches, found.dof_between, found.dof_within), ("blocks", 5, 2, 8))
        self.assertAlmostEqual(found.f or 0.0, float(table["F Value"].iloc[0]), 9)
        self.assertAlmostEqual(found.p_value or 0.0, float(table["Pr > F"].iloc[0]), 9)
        two = compare_conditions({c: values[c] for c in "xy"})
        paired = stats.ttest_rel(list(values["x"].values()), list(values["y"].values()))
        self.assertAlmostEqual(two.p_value or 0.0, float(paired.pvalue), 10)

    def test_groups_where_benches_have_done_different_ones(self) -> None:
        values = {"x": {"a": 1.0, "b": 1.3}, "y": {"b": 2.0, "c": 2.2, "d": 2.4}, "z": {}}
        found = compare_conditions(values)
        self.assertEqual((found.layout, found.benches), ("groups", 4))
        self.assertAlmostEqual(found.p_value or 0.0, float(stats.f_oneway([1.0, 1.3], [2.0, 2.2, 2.4]).pvalue), 12)

    def test_a_few_that_have_done_all_do_not_stand_for_the_others(self) -> None:
        whole = {"a": 1.0, "b": 1.2}
        values = {"x": whole | {"c": 1.1, "d": 0.9}, "y": {b: v + 1 for b, v in whole.items()}}
        self.assertEqual((compare_conditions(values).layout, compare_conditions(values).benches), ("blocks", 2))
        values["x"]["e"] = 1.3
        found = compare_conditions(values)
        self.assertEqual((found.layout, found.benches), ("groups", 5))
        self.assertAlmostEqual(found.p_value or 0.0, float(stats.f_oneway(*[list(v.values()) for v in values.values()]).pvalue), 12)

    def test_what_cannot_be_compared(self) -> None:
        for values in ({"x": {"a": 1.0}}, {"x": {"a": 1.0}, "y": {}}, {"x": {"a": 1.0}, "y": {"b": 2.0}}):
            with self.assertRaises(CoreError):
                compare_conditions(values)
        same = compare_conditions({"x": {"a": 1.0, "b": 2.0}, "y": {"a": 2.0, "b": 3.0}})
        self.assertEqual((same.f, same.p_value), (None, None))


class Line(unittest.TestCase):
    def test_against_statsmodels(self) -> None:
        rng = np.random.default_rng(5)
        for k, n, tau, s in ((6, 8, (0.3, 0.2), 0.1), (12, 6, (0.05, 0.4), 0.2), (5, 5, (1.0, 0.5), 0.1)):
            with self.subTest(benches=k):
                benches = [bench_points(rng, n, tau, s) for _ in range(k)]
                found = fit_class_line(benches)
                x, y = np.concatenate([b.x for b in benches]), np.concatenate([b.y for b in benches])
                design = np.column_stack([np.ones_like(x), x])
                with warnings.catch_warnings():
                    warnings.simplefilter("ignore")
                    judge = MixedLM(y, design, groups=np.repeat(np.arange(k), n), exog_re=design).fit(reml=True, method=["lbfgs", "powell"])
                t = coverage_factor(COVERAGE, k - 1)
                self.assertAlmostEqual(found.gradient, judge.params[1], 5)
                self.assertAlmostEqual(found.intercept or 0.0, judge.params[0], 5)
                self.assertAlmostEqual(found.u_gradient / t / judge.bse[1], 1.0, 3)
                self.assertAlmostEqual((found.u_intercept or 0.0) / t / judge.bse[0], 1.0, 2)
                self.assertAlmostEqual(found.tau_gradient / np.sqrt(judge.cov_re[1, 1]), 1.0, 3)
                self.assertAlmostEqual(found.within / np.sqrt(judge.scale), 1.0, 3)

    def test_through_the_origin_against_statsmodels(self) -> None:
        rng = np.random.default_rng(8)
        benches = [bench_points(rng, 6, (0, 0.3), 0.2, True) for _ in range(7)]
        found = fit_class_line(benches, through_origin=True)
        x, y = np.concatenate([b.x for b in benches])[:, None], np.concatenate([b.y for b in benches])
        judge = MixedLM(y, x, groups=np.repeat(np.arange(7), 6), exog_re=x).fit(reml=True)
        self.assertEqual((found.intercept, found.u_intercept, found.tau_intercept), (None, None, None))
        self.assertAlmostEqual(found.gradient, judge.params[0], 6)
        self.assertAlmostEqual(found.u_gradient / coverage_factor(COVERAGE, 6) / judge.bse[0], 1.0, 4)

    def test_bars_weigh_in_proportion_and_units_change_nothing(self) -> None:
        rng = np.random.default_rng(2)
        benches = [bench_points(rng, 6, (0.2, 0.2), 0.1) for _ in range(5)]
        plain = fit_class_line(benches)
        doubled = fit_class_line([replace(b, width=2 * b.width) for b in benches])
        for name, factor in (("gradient", 1), ("u_gradient", 1), ("tau_gradient", 1), ("within", 0.5)):
            self.assertAlmostEqual(getattr(doubled, name) / getattr(plain, name) / factor, 1.0, 4)
        scaled = fit_class_line([BenchPoints(1000 * b.x, 1e-3 * b.y, 1e-3 * b.width) for b in benches])
        for name, factor in (("gradient", 1e-6), ("u_gradient", 1e-6), ("intercept", 1e-3), ("tau_gradient", 1e-6)):
            self.assertAlmostEqual(getattr(scaled, name) / getattr(plain, name) / factor, 1.0, 4)
        # a point with a hundred times the width hardly counts
        wild = [replace(b, y=b.y + np.where(np.arange(6) == 2, 5.0, 0.0), width=np.where(np.arange(6) == 2, 100.0, 1.0)) for b in benches]
        without = [BenchPoints(*(np.delete(a, 2) for a in (b.x, b.y, b.width))) for b in benches]
        self.assertAlmostEqual(fit_class_line(wild).gradient, fit_class_line(without).gradient, 2)

    def test_holds_the_true_gradient_as_often_as_it_says(self) -> None:
        rng = np.random.default_rng(11)
        for k, tau in ((4, (0.3, 0.2)), (8, (0.3, 0.2)), (8, (0.0, 0.0))):
            held = 0
            for _ in range(TRIES):
                found = fit_class_line([bench_points(rng, 8, tau, 0.1) for _ in range(k)])
                held += abs(found.gradient - 3) <= found.u_gradient
            # 68.3 % with 3.5 standard deviations of so many tries, and never much less
            with self.subTest(benches=k, tau=tau):
                self.assertGreaterEqual(held / TRIES, 0.683 - 3.5 * (0.683 * 0.317 / TRIES) ** 0.5)
                self.assertLessEqual(held / TRIES, (0.683 if tau[1] else 0.80) + 0.04 + 3.5 * (0.683 * 0.317 / TRIES) ** 0.5)

    def test_what_has_no_line(self) -> None:
        rng = np.random.default_rng(1)
        two = [bench_points(rng, 6, (0, 0), 0.1) for _ in range(2)]
        short = bench_points(rng, 2, (0, 0), 0.1)
        one_place = BenchPoints(np.ones(4), np.arange(4.0), np.ones(4))
        for benches in (two, [*two, short], [one_place] * 3):
            with self.assertRaises(CoreError):
                fit_class_line(benches)
        # what floating point cannot tell
        wide = [bench_points(rng, 5, (0, 0), 0.1) for _ in range(3)]
        for spoilt in (replace(wide[0], width=np.full(5, 1e7)), replace(wide[0], y=wide[0].y * 1e200)):
            with self.assertRaises(CoreError) as caught:
                fit_class_line([spoilt, *wide[1:]])
            self.assertEqual(caught.exception.code, "no_line")
        # one bench at one place along x is carried by the others; exact points leave nothing within
        whole = fit_class_line([*two, one_place])
        self.assertEqual((whole.benches, whole.points), (3, 16))
        exact = [BenchPoints(np.arange(5.0), 2 + 3 * np.arange(5.0), np.ones(5)) for _ in range(3)]
        self.assertAlmostEqual(fit_class_line(exact).gradient, 3.0, 9)


COLD, WARM = Condition("cold", "cold water", trials=3), Condition("warm", "warm water")


def written(seed: int, stiff: float = 1.0, lengths: tuple[float, ...] = (0.3, 0.4, 0.5, 0.6)) -> LabBook:
    return write_bench(make_plan(), Story(lengths, modulus=12.4e9 * stiff), random.Random(seed))


def undivided() -> LabBook:
    """The period is not divided by ten."""
    book = written(7)
    return replace(book, quantities=tuple(replace(q, formula="t_10") if q.id == "T" else q for q in book.quantities))


def under_conditions(seed: int, done: dict[str, float]) -> BenchShare:
    """A bench with a run for each condition, the strip so much stiffer."""
    books = [written(seed * 10 + i, stiff) for i, stiff in enumerate(done.values())]
    runs = tuple(replace(b.runs[0], id=f"r-{c}", name=c, condition=c) for b, c in zip(books, done, strict=True))
    plan = replace(books[0].plan, conditions=(COLD, WARM))
    return share_findings(compute(replace(books[0], runs=runs, plan=plan)), f"bench {seed}")


class Presented(unittest.TestCase):
    def test_settings_of_the_class_are_those_where_the_same_is_set(self) -> None:
        shares = [share_findings(compute(written(i)), f"b{i}") for i in range(4)]
        shares.append(share_findings(compute(written(9, lengths=(0.3, 0.55, 0.6))), "b9"))
        data = present_class(make_plan().findings, shares)
        (table,) = data.tables
        self.assertEqual(
            [(r.at, r.benches, r.readings) for r in table.rows], [("0.300", 5, 15), ("0.400", 4, 12), ("0.500", 4, 12), ("0.600", 5, 15)]
        )
        readings = [r for s in shares for t in s.tables for x in t.settings if x.key == "0.3" for r in [x.readings]]
        self.assertAlmostEqual(table.rows[0].mean.value, float(np.mean([np.mean(r) for r in readings])), 12)
        self.assertEqual(data.conditions, ())

    def test_the_line_of_the_class_is_drawn_and_said_without_whoever_is_far_off(self) -> None:
        shares = [share_findings(compute(written(i)), f"b{i}") for i in range(5)]
        whole = present_class(make_plan().findings, shares)
        (line,) = whole.lines
        assert line.gradient is not None and whole.figure is not None
        self.assertEqual(whole.figure.lines[0].kind, "fit")
        self.assertIn("of 5 benches", told(line.words))
        far = share_findings(compute(undivided()), "far")
        with_far = present_class(make_plan().findings, [*shares, far])
        self.assertEqual(with_far.lines[0].gradient, line.gradient)
        self.assertEqual(with_far.tables, whole.tables)
        self.assertEqual(present_class(make_plan().findings, [*shares, leave_out_share(far, "no")]).lines[0].gradient, line.gradient)
        few = present_class(make_plan().findings, shares[:2])
        self.assertIsNone(few.lines[0].gradient)
        self.assertIn("three benches", told(few.lines[0].words))

    def test_the_points_are_of_the_graph_that_a_finding_is_made_from(self) -> None:
        book = written(1)
        plain = Graph("plain", "", "L", "t10")
        before = replace(book, graphs=(plain, *book.graphs), fits=(replace(book.fits[0], id="first", graph="plain"), *book.fits))
        points = [share_findings(compute(of), "b").points for of in (book, before)]
        assert points[0] is not None and points[1] is not None
        self.assertEqual(points[1].axes, points[0].axes)
        alone = share_findings(compute(replace(before, findings=())), "b").points
        assert alone is not None
        self.assertEqual(alone.axes, ("L", "t_10"))

    def test_a_line_of_the_class_that_its_points_bend_away_from_says_so(self) -> None:
        """T goes with the root of L³: t against L is bent, T² against L³ is not."""
        lengths = tuple(round(0.3 + 0.05 * i, 2) for i in range(8))
        for bent in (False, True):
            shares = []
            for i in range(6):
                book = written(i, lengths=lengths)
                if bent:
                    fit = replace(book.fits[0], graph="plain")
                    book = replace(book, graphs=(Graph("plain", "", "L", "t10"),), fits=(fit,), findings=())
                shares.append(share_findings(compute(book), f"b{i}"))
            (line,) = present_class((), shares).lines
            self.assertEqual("class_line_bends" in {s.code for s in line.words}, bent)

    def test_the_axes_are_those_of_most_and_what_cannot_be_drawn_says_why(self) -> None:
        shares = [share_findings(compute(written(i)), f"b{i}") for i in range(5)]
        points = shares[0].points
        assert points is not None
        other = replace(shares[0], bench="other", points=replace(points, axes=("L", "T")))
        data = present_class(make_plan().findings, [other, *shares[1:]])
        assert data.figure is not None
        self.assertEqual([s.name for s in data.figure.series], ["b1", "b2", "b3", "b4"])
        self.assertIn("of 4 benches", told(data.lines[0].words))
        mistyped = replace(points, points=(replace(points.points[0], y=1e250), *points.points[1:]))
        spoilt = present_class(make_plan().findings, [replace(shares[0], points=mistyped), *shares[1:]])
        self.assertIsNone(spoilt.figure)
        self.assertIn("mistyped", told(spoilt.undrawn))
        self.assertEqual(len(spoilt.tables), 1)

    def test_conditions_have_their_own_pools_and_stand_beside_each_other(self) -> None:
        shares = [under_conditions(i, {"cold": 1.0, "warm": 0.8}) for i in range(1, 5)]
        shares.append(under_conditions(7, {"cold": 1.0}))
        findings = make_plan().findings
        pools = present_pools(findings, shares, (COLD, WARM))
        self.assertEqual([(p.condition, len(p.rows)) for p in pools if p.finding == findings[0].id], [("cold water", 5), ("warm water", 4)])
        (beside, *_) = present_class(findings, shares, (COLD, WARM)).conditions
        self.assertEqual([told(r.coverage) for r in beside.rows], ["5 trials, 3 wanted", "4 benches"])
        self.assertIn("differ by more than", told(beside.words))
        self.assertIn("4 benches that have done all of them", told(beside.words))
        cold, warm = (r.value.value for r in beside.rows if r.value is not None)
        self.assertAlmostEqual(warm / cold, 0.8, delta=0.08)
        # what stands beside the others is what its own pool quotes, also where one is far off and nobody knows why
        (finding, *_) = findings
        odd = replace(
            shares[0],
            bench="odd",
            conditions={"cold": replace(shares[0].conditions["cold"], findings={finding.id: SharedFinding(17.3, 0.1)})},
        )
        for of in (shares, [*shares, odd]):
            table = present_class(findings, of, (COLD, WARM)).conditions[0]
            quoted = [next(v.value for v in p.values if v.recommended) for p in present_pools([finding], of, (COLD, WARM))]
            self.assertEqual([(r.value.value, r.value.u) for r in table.rows if r.value is not None], [(q.value, q.u) for q in quoted])
        # who is waited for is under each
        waited = miss_share("late", CoreError(NOT_WORKED_OUT, "not worked out yet."))
        for pool in present_pools(findings, [*shares, waited], (COLD, WARM)):
            self.assertEqual(told(next(r.missing for r in pool.rows if r.bench == "late")), "not worked out yet.")
        # who does another condition first is not far off for that
        turned = [*shares[:4], under_conditions(8, {"warm": 0.8}), under_conditions(9, {"warm": 0.8})]
        self.assertEqual(point_out(findings, turned, (COLD, WARM)), {})
        alike = present_class(findings, [under_conditions(i, {"cold": 1.0, "warm": 1.0}) for i in range(1, 5)], (COLD, WARM))
        self.assertIn("no more than", told(alike.conditions[0].words))
        figure = alike.figure
        assert figure is not None
        self.assertEqual([s.name for s in figure.series], ["cold water", "warm water"])

    def test_nobody_is_named_to_the_class_for_being_off(self) -> None:
        shares = [share_findings(compute(written(i)), f"b{i}") for i in range(5)]
        off = share_findings(compute(undivided()), "Knot")
        findings = make_plan().findings
        for told_to, named in ((None, True), ({"Knot"}, True), ({"b1"}, False)):
            pool = present_pools(findings, [*shares, off], (), told_to)[0]
            row = next(r for r in pool.rows if r.bench == "Knot")
            self.assertEqual(bool(row.pointed_out), named)
            said = told(pool.counted) + told(pool.reason)
            self.assertEqual("Knot" in said, named, said)
            self.assertIsNotNone(row.value)


if __name__ == "__main__":
    unittest.main()
