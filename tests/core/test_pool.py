"""Pooling: the class value, the bench that is off, and the likely reason."""

from __future__ import annotations

import unittest

import numpy as np
from scipy import stats
from statsmodels.stats.meta_analysis import combine_effects

from hobrel.core.document.lab_book import Finding
from hobrel.core.errors import CoreError
from hobrel.core.presentation.pool import present_pool
from hobrel.core.presentation.shares import BenchShare, SharedFinding, miss_share
from hobrel.core.sentences import told
from hobrel.core.statistics.factors import explain_distance
from hobrel.core.statistics.pool import BenchResult, pool_results, quote_class_value

GOOD = [12.1, 12.5, 12.4, 12.2, 12.6]


def results(*values: float, u: float = 0.2) -> list[BenchResult]:
    return [BenchResult(f"bench {i}", v, u if v > 1 else v * u / 12) for i, v in enumerate(values, 1)]


class PointedOut(unittest.TestCase):
    def test_known_slips(self) -> None:
        cases = [
            (0.1238, "10^-2", "100 times too small"),
            (124.1, "10^1", "10 times too large, a power of ten: as when a reading was not divided by ten"),
            (1238.0, "10^2", "100 times too large, a power of ten: as when the time of ten swings was not divided"),
            (12380.0, "10^3", "1\u202f000 times too large, a power of ten: as when one unit prefix is off"),
            (12.35 * 57.2958, "180/pi", "degrees"),
            (1 / 12.38, "1/v", "turned over"),
        ]
        for value, factor, words in cases:
            with self.subTest(value):
                pool = pool_results([*results(*GOOD), BenchResult("off", value, abs(value) * 0.02)])
                self.assertEqual([(p.bench, p.factor) for p in pool.pointed_out], [("off", factor)])
                self.assertIn(words, told(pool.pointed_out[0].reason))
                self.assertEqual((pool.n, pool.recommended), (6, "mandel_paule"))
                self.assertAlmostEqual(pool.recommended_value[0], 12.36, delta=0.05)

    def test_the_standard_deviation_between_benches(self) -> None:
        """By hand: 1, 2 and 4 have a mean of 7/3 and Σd² = 14/3, so s = √(7/3) and s/√3 behind their mean."""
        pool = pool_results([BenchResult(str(i), v, 0.5) for i, v in enumerate((1.0, 2.0, 4.0))])
        self.assertAlmostEqual(pool.sd or 0.0, (7 / 3) ** 0.5, 12)
        self.assertAlmostEqual(pool.standard_error or 0.0, (7 / 9) ** 0.5, 12)
        # χ² = 4 · 14/3 for two degrees of freedom
        self.assertAlmostEqual(pool.weighted.birge_ratio, (28 / 3) ** 0.5, 12)
        self.assertIsNone(pool_results([BenchResult("alone", 1.0, 0.5)]).sd)

    def test_two_benches_have_a_value_of_their_own_scatter_and_one_its_own(self) -> None:
        """Two values 10 and 12 with u 0.1: by Hartung and Knapp their mean has s/√2 = 1, times t of 68.27 % for one degree of freedom, 1.84
        (JCGM 100:2008, table G.2).
        """
        value, u, tau = quote_class_value(np.array([10.0, 12.0]), np.array([0.1, 0.1]))
        self.assertAlmostEqual(value, 11.0, 12)
        self.assertAlmostEqual(u, 1.84, 2)
        self.assertAlmostEqual(tau, (2 - 0.1**2) ** 0.5, 6)
        self.assertEqual(quote_class_value(np.array([10.0]), np.array([0.1])), (10.0, 0.1, 0.0))

    def test_two_or_three_that_agree_by_chance_know_no_more_than_their_own_uncertainties(self) -> None:
        """By hand: 1/1.6² + 1/1.5² is 0.8351, whose root turned over is 1.0943; three of 0.3 make 0.3/√3; four speak for themselves."""
        _, u, tau = quote_class_value(np.array([54.39, 54.36]), np.array([1.6, 1.5]))
        self.assertEqual((round(u, 4), tau), (1.0943, 0.0))
        self.assertAlmostEqual(quote_class_value(np.full(3, 2.0), np.full(3, 0.3))[1], 0.3 / 3**0.5, 12)
        self.assertEqual(quote_class_value(np.full(4, 2.0), np.full(4, 0.3))[1], 0.0)

    def test_two_or_three_hold_the_truth_at_least_as_often_as_they_say(self) -> None:
        draw = np.random.default_rng(8)
        for k in (2, 3):
            for tau in (0.0, 2.0):
                held = 0
                for _ in range(1000):
                    us = draw.uniform(0.7, 1.5, k)
                    value, u, _ = quote_class_value(draw.normal(0.0, np.hypot(us, tau)), us)
                    held += abs(value) <= u
                # 68.3 % less two standard deviations of a count of 1000
                self.assertGreaterEqual(held / 1000, 0.653, (k, tau))

    def test_a_bench_with_a_wide_bar_still_hangs_together_with_the_others(self) -> None:
        """One that is four units off with a bar of three is no odd one; with a bar of a tenth it is."""
        for u, odd in ((3.0, 0), (0.1, 1)):
            with self.subTest(u):
                pool = pool_results([*results(*GOOD), BenchResult("wide", 16.4, u)])
                self.assertEqual(len(pool.pointed_out), odd)

    def test_an_inverse_is_put_right_as_it_is_said(self) -> None:
        found = explain_distance((1 / 12.38, 0.0005), (12.4, 0.1))
        inverse = next(c for c in found if c.code == "inverse")
        self.assertAlmostEqual(inverse.put_right, 12.38, 12)

    def test_an_inverse_has_the_inverse_s_own_uncertainty(self) -> None:
        """1/v of 0.0800 ± 0.0016 is 12.5 ± 0.25 (u/v²): 0.6 from 11.9 ± 0.01 is within 2.5 of them, 0.8 from 11.7 is not."""
        codes = [[c.code for c in explain_distance((0.08, 0.0016), (center, 0.01), "m")] for center in (11.9, 11.7)]
        self.assertEqual(["inverse" in found for found in codes], [True, False])

    def test_a_power_of_ten_is_likelier_than_a_gradient_turned_over(self) -> None:
        """Of √10, a tenth and one over it are the same."""
        found = explain_distance((3.1626, 0.003), (0.31623, 0.001), "m")
        self.assertEqual([c.name for c in found][:2], ["10^1", "1/v"])

    def test_constants_of_the_practical_are_factors_with_their_squares(self) -> None:
        """Seven swings, forgotten once, or squared; no factor is made of nought, one, or what is no number."""
        constants = {"n": 7.0, "a": 0.0, "b": 1.0, "c": float("inf"), "d": -1.0}
        for value, names in ((7.0 * 11, {"n"}), (49.0 * 11, {"n^2"}), (11 / 7.0, {"1/(n)"}), (11 / 49.0, {"1/(n^2)"})):
            with self.subTest(value):
                found = explain_distance((value, 1e-4 * value), (11.0, 1e-3), "m", constants)
                self.assertEqual({c.name for c in found}, names)
        self.assertEqual(explain_distance((11.0 * 14, 0.01), (11.0, 1e-3), "m", constants), ())

    def test_everyone_who_is_off_is_pointed_out(self) -> None:
        pool = pool_results([BenchResult("first", 1.24, 0.02), *results(*GOOD), BenchResult("last", 124.0, 2.0)])
        self.assertEqual([p.bench for p in pool.pointed_out], ["first", "last"])

    def test_the_median_where_nobody_knows_why_has_the_uncertainty_of_a_normal_sample_s(self) -> None:
        """12.4 with distances 0, 0.1, 0.2, 0.3 and 16.6: MAD 0.2, so 1.2533 · 1.4826 · 0.2/√5 (ISO 13528:2015, C.2 and 7.7)."""
        pool = pool_results(results(12.4, 12.3, 29.0, 12.7, 12.2))
        self.assertEqual(pool.recommended, "median")
        self.assertAlmostEqual(pool.recommended_value[0], 12.4, 12)
        self.assertAlmostEqual(pool.recommended_value[1] or 0, 0.16620, 5)

    def test_two_benches(self) -> None:
        """10 and 12 ± 0.5 each: χ² = (2/√0.5)² = 8 for one degree of freedom, p = 0.0047 (SciPy), Birge √8, u external 0.3536 · √8 = 1."""
        pool = pool_results([BenchResult("a", 10.0, 0.5), BenchResult("b", 12.0, 0.5)])
        self.assertAlmostEqual(pool.chi2, 8, 12)
        self.assertAlmostEqual(pool.p_value or 0, float(stats.chi2.sf(8, 1)), 12)
        self.assertAlmostEqual(pool.weighted.birge_ratio, 8**0.5, 12)
        self.assertAlmostEqual(pool.weighted.u_external, 1.0, 12)
        self.assertEqual((pool.dof, pool.recommended, pool.pointed_out), (1, "mandel_paule", ()))
        self.assertAlmostEqual(pool.sd or 0, 2**0.5, 12)
        # DerSimonian and Laird: τ² = (χ² − 1)/(Σw − Σw²/Σw) = 7/(8 − 4), in any unit
        for unit in (1.0, 100.0):
            pool = pool_results([BenchResult("a", 10.0 * unit, 0.5 * unit), BenchResult("b", 12.0 * unit, 0.5 * unit)])
            self.assertAlmostEqual(pool.dersimonian_laird.tau / unit, 1.75**0.5, 9)

    def test_of_three_the_odd_one_is_pointed_out_in_any_unit(self) -> None:
        for factor in (1e-3, 1.0, 1e3):
            benches = [BenchResult(n, v * factor, 0.02 * v * factor) for n, v in (("a", 12.4), ("b", 12.3), ("c", 0.124))]
            with self.subTest(factor):
                self.assertEqual([(p.bench, p.factor) for p in pool_results(benches).pointed_out], [("c", "10^-2")])

    def test_an_offset_is_put_right_whichever_way_it_went(self) -> None:
        for value, right in ((19.85, 293.0), (566.15, 293.0)):
            (cause,) = explain_distance((value, 0.2), (293.0, 0.3), "K")
            self.assertAlmostEqual(cause.put_right, right, 9)

    def test_the_likelier_of_two_slips_is_named_first(self) -> None:
        """π² and 10 are alike to 1.3 %: a power of ten is likelier, and so is 10 than a constant of the practical that is 9.9; of two that
        bring a value equally near, that of a far power of ten (0.2) is behind the practical's own number (0.8).
        """

        def first(value: float, constants: dict[str, float], unit: float = 1.0, u: float = 0.02) -> list[str]:
            found = explain_distance((value * unit, u * value * unit), (unit, u * unit), "m", constants)
            return [c.name for c in found]

        for unit in (1e-3, 1.0, 1e3):
            self.assertEqual(first(10.0, {"n": 9.9}, unit)[:2], ["10^1", "n"])
            self.assertEqual(first(1e3, {"n": 1.01e3}, unit)[:2], ["10^3", "n"])
            self.assertEqual(first(1e5, {"n": 1.01e5}, unit)[:2], ["n", "10^5"])
        # 0.99 is 0.75 of the bars from 1: a power of ten has e^(−0.75²/2) = 0.755 left of its 1, the number that fits has its 0.8
        self.assertEqual(first(9.9, {"n": 9.9}, u=0.0095)[:2], ["n", "10^1"])
        # at 0.45 of the bars it has 0.9
        self.assertEqual(first(9.9, {"n": 9.9}, u=0.0158)[:2], ["10^1", "n"])

    def test_all_likely_causes_are_said_and_what_it_would_be(self) -> None:
        pool = pool_results([*results(*GOOD), BenchResult("off", 123.5, 2.0)], "m", {"n": 9.9, "k": 10.1})
        (odd,) = pool.pointed_out
        self.assertEqual([c.name for c in odd.causes[:3]], ["10^1", "n", "k"])
        text = told(odd.reason)
        self.assertTrue(text.endswith("Divided by 10 it would be 12.4. It may also be a factor n, or a factor k."), text)
        (two,) = pool_results([*results(*GOOD), BenchResult("off", 12.35e5, 2e4)], "m", {"n": 1.01e5}).pointed_out
        self.assertEqual([c.name for c in two.causes], ["n", "10^5"])
        self.assertIn("It may also be a power of ten", told(two.reason))
        # a number of the practical that is ten is not another cause than ten
        same = pool_results([*results(*GOOD), BenchResult("off", 123.5, 2.0)], "m", {"n": 10.0}).pointed_out[0]
        self.assertEqual([c.name for c in same.causes].count("n"), 0)

    def test_the_limit_within_which_a_slip_explains_a_value(self) -> None:
        """2.5 combined uncertainties: √(0.02² + 0.0²) here."""
        for off, found in ((0.0499, 1), (0.0501, 0)):
            causes = explain_distance((1000 * (1 + off), 20.0), (1.0, 1e-9), "m")
            self.assertEqual(len([c for c in causes if c.name == "10^3"]), found)

    def test_scatter_of_the_others_is_theirs_by_the_median_deviation(self) -> None:
        """Deviations of 10 (MAD 10, σ 14.8) with bars of 1: they hang together all the same, so that one far from all stands alone."""
        for value, odd in ((140.0, []), (280.0, ["off"])):
            benches = [BenchResult(f"b{i}", v, 1.0) for i, v in enumerate((90.0, 110.0, 100.0, 90.0, 110.0))]
            pool = pool_results([*benches, BenchResult("off", value, 1.0)])
            with self.subTest(value):
                self.assertEqual([p.bench for p in pool.pointed_out], odd)

    def test_one_bench_has_no_scatter_to_scale_with(self) -> None:
        alone = pool_results([BenchResult("alone", 5.0, 0.5)]).weighted
        self.assertEqual((alone.birge_ratio, alone.u_external, alone.u_internal), (1.0, 0.5, 0.5))

    def test_an_offset_is_looked_for_in_temperatures_alone(self) -> None:
        for unit, codes in (("K", ["offset"]), ("°C", ["offset"]), (None, ["offset"]), ("m", []), ("", [])):
            with self.subTest(unit):
                self.assertEqual([c.code for c in explain_distance((19.85, 0.2), (293.0, 0.3), unit)], codes)

    def test_one_that_is_off_is_and_two_are(self) -> None:
        for odd, words in (([29.0], "bench 6 is far"), ([29.0, 31.0], "bench 6 and bench 7 are far")):
            self.assertIn(words, told(pool_results(results(*GOOD, *odd)).reason))

    def test_benches_that_agree_are_left_in_peace(self) -> None:
        pool = pool_results(results(*GOOD))
        self.assertEqual((pool.pointed_out, pool.recommended), ((), "mandel_paule"))

    def test_those_that_agree_are_the_others_where_one_is_off(self) -> None:
        pool = pool_results([*results(*GOOD, u=0.5), BenchResult("off", 0.1238, 0.003)])
        self.assertIn("not counted in until it is put right. The others agree within their uncertainties", told(pool.reason))
        self.assertTrue(told(pool_results(results(*GOOD, u=0.5)).reason).startswith("The benches agree within"))

    def test_of_how_many_benches_the_quoted_value_is(self) -> None:
        def said(*values: float) -> str:
            shares = [BenchShare(f"b{i}", "one_or_two", {"E": SharedFinding(v, 0.3 * v / 12)}, None) for i, v in enumerate(values)]
            finding = Finding("E", "stiffness", "E", "GPa", "", "")
            return told(present_pool(finding, [*shares, BenchShare("late", "one_or_two", {}, None)]).counted)

        self.assertEqual(said(12.4, 12.3, 12.7, 12.2), "of 4 benches")
        finding, waits = Finding("E", "stiffness", "E", "GPa", "", ""), CoreError("not_worked_out", "not yet")
        known = BenchShare("a", "one_or_two", {"E": SharedFinding(12.4, 0.3)}, None)
        pool = present_pool(finding, [known, miss_share("b", waits), miss_share("c", waits)])
        self.assertEqual(told(pool.counted, "; "), "of one bench; 2 more are being worked out")
        self.assertEqual(present_pool(finding, [miss_share("b", waits)]).reason[0].code, "benches_waited_for")
        self.assertEqual(said(12.4, 12.3, 0.124, 12.7, 12.2), "of 4 benches, without b2")
        # far off and nobody knows why: the median, of all
        self.assertEqual(said(12.4, 12.3, 29.0, 12.7, 12.2), "of 5 benches")
        self.assertEqual(said(12.4), "of one bench")

    def test_where_the_plan_wants_no_unit_it_is_that_of_the_first_and_the_others_are_converted(self) -> None:
        """9.79 m/s² and 982 cm/s² are two benches that agree."""
        given = {"a": SharedFinding(9.79, 0.04, "m/s²"), "b": SharedFinding(982.0, 4.0, "cm/s²"), "c": SharedFinding(2.0, 0.1, "s")}
        shares = [BenchShare(bench, "one_or_two", {"g": found}, None) for bench, found in given.items()]
        plain = Finding("g", "free fall", "g", "", "", "")
        pooled = present_pool(plain, shares)
        self.assertEqual([row.value and row.value.text for row in pooled.rows], ["9.79 ± 0.04 m/s²", "9.82 ± 0.04 m/s²", None])
        self.assertEqual([w.code for w in pooled.rows[2].missing], ["pool_other_unit"])
        self.assertEqual((pooled.unit, told(pooled.counted)), ("m/s²", "of 2 benches"))
        self.assertTrue(all("m/s²" in value.value.text for value in pooled.values))
        # one from before units were brought along is taken to be in that of the others
        earlier = [BenchShare("e", "one_or_two", {"g": SharedFinding(9.8, 0.1)}, None), *shares[:1]]
        self.assertEqual(
            [row.value and row.value.text for row in present_pool(plain, earlier).rows], ["9.80 ± 0.10 m/s²", "9.79 ± 0.04 m/s²"]
        )
        # a plan that wants one has it from the beginning
        wanted = present_pool(
            Finding("g", "free fall", "g", "cm/s^2", "", ""), [BenchShare("a", "one_or_two", {"g": SharedFinding(979.0, 4.0)}, None)]
        )
        self.assertEqual(wanted.rows[0].value and wanted.rows[0].value.text, "979 ± 4 cm/s²")

    def test_scatter_beyond_their_own_uncertainty_is_counted_in(self) -> None:
        pool = pool_results(results(12.1, 12.3, 12.6, 12.8, 12.4, u=0.1))
        self.assertEqual(pool.recommended, "mandel_paule")
        self.assertGreater(pool.mandel_paule.u, pool.weighted.u_internal)

    def test_empty_or_certain_results_are_refused(self) -> None:
        for entries, code in (([], "too_few_points"), ([BenchResult("a", 1.0, 0.0)], "bad_number")):
            with self.subTest(code), self.assertRaises(CoreError) as caught:
                pool_results(entries)
            self.assertEqual(caught.exception.code, code)


class ClassValue(unittest.TestCase):
    def test_it_is_that_of_the_statsmodels_package(self) -> None:
        """Paule and Mandel's scatter with the u of Hartung and Knapp (statsmodels `combine_effects`), times t for 68.27 % with k − 1."""
        for values, us in (([12.1, 12.9, 11.7, 12.6, 12.3], [0.2, 0.3, 0.25, 0.2, 0.4]), ([5.1, 5.9, 4.2], [0.1, 0.2, 0.3])):
            v, u = np.array(values), np.array(us)
            found = combine_effects(v, u**2, method_re="iterated", use_t=True)
            t = stats.t.ppf(0.5 + 0.6826894921370859 / 2, v.size - 1)
            value, value_u, tau = quote_class_value(v, u)
            self.assertAlmostEqual(value, found.mean_effect_re, 9)
            self.assertAlmostEqual(value_u, found.sd_eff_w_re_hksj * t, 9)
            self.assertAlmostEqual(tau**2, found.tau2, 8)

    def test_consistency_is_judged_by_chi2_with_one_degree_of_freedom_less_than_benches(self) -> None:
        v, u = np.array([12.1, 12.9, 11.7, 12.6, 12.3]), np.array([0.2, 0.3, 0.25, 0.2, 0.4])
        pool = pool_results([BenchResult(f"b{i}", a, b) for i, (a, b) in enumerate(zip(v.tolist(), u.tolist(), strict=True))])
        expected = combine_effects(v, u**2)
        self.assertAlmostEqual(pool.chi2, expected.q, 9)
        assert pool.p_value is not None
        self.assertAlmostEqual(pool.p_value, float(stats.chi2.sf(expected.q, 4)), 12)


class Causes(unittest.TestCase):
    def named(self, value: float, u: float, constants: dict[str, float] | None = None) -> list[tuple[str, float | None]]:
        return [(c.name, c.factor) for c in explain_distance((value, u), (12.4, 0.1), "GPa", constants)]

    def test_a_factor_turned_over_is_one_over_it(self) -> None:
        self.assertEqual(self.named(12.4 / 60, 0.001)[0], ("1/(60)", 1 / 60))
        self.assertEqual(self.named(12.4 * 60, 1.0)[0], ("60", 60.0))

    def test_a_counted_constant_of_the_practical_may_be_the_cause_but_not_one(self) -> None:
        self.assertEqual(self.named(12.4 * 7, 0.3, {"n": 7.0})[0], ("n", 7.0))
        self.assertEqual(self.named(12.4 * 7, 0.3, {"n": 1.0}), [])
        # two is no cause of its own where nobody counted two: it is among the known ones anyway
        self.assertEqual(self.named(12.4 * 4.5, 0.2, {"n": 4.5})[0], ("n", 4.5))

    def test_of_two_that_explain_it_only_those_nearly_as_likely_are_named(self) -> None:
        """10 and π² = 9.87: told apart by a precise value, both named by a coarse one."""
        precise, coarse = self.named(124.0, 0.2), self.named(123.0, 6.0)
        self.assertEqual(precise[0][1], 10.0)
        self.assertGreaterEqual(len(coarse), len(precise))
        self.assertLessEqual(len(coarse), 3)
