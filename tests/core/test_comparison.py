"""Two values compared: numbers by hand, probabilities by SciPy, limits at their edges."""

from __future__ import annotations

import math
from dataclasses import replace
from unittest import TestCase

from scipy import stats

from hobrel.core.statistics.comparison import Comparison, chance_of, compare_values, judge_p, judge_plainly, say_verdict


class Numbers(TestCase):
    def test_difference_uncertainty_and_percent(self) -> None:
        """9.9 ± 0.3 against 10.4 ± 0.4: −0.5 ± 0.5, one combined uncertainty, −4.8 %."""
        found = compare_values(9.9, 0.3, 10.4, 0.4)
        self.assertAlmostEqual(found.difference, -0.5, 12)
        self.assertAlmostEqual(found.u, 0.5, 12)
        self.assertAlmostEqual(found.z or 0, 1.0, 12)
        self.assertAlmostEqual(found.percent or 0, -100 * 0.5 / 10.4, 12)
        self.assertAlmostEqual(found.p or 0, 2 * float(stats.norm.sf(1.0)), 12)
        self.assertIsNone(compare_values(1.0, 0.1, 0.0, 0.1).percent)

    def test_what_both_share_is_counted_once(self) -> None:
        """u² = 0.3² + 0.4² − 2 · 0.12 = 0.01."""
        self.assertAlmostEqual(compare_values(9.9, 0.3, 10.4, 0.4, 0.12).u, 0.1, 12)

    def test_few_degrees_of_freedom_make_a_difference_likelier(self) -> None:
        for dof in (1.0, 3.0, 10.0):
            with self.subTest(dof):
                self.assertAlmostEqual(chance_of(2.5, dof), 2 * float(stats.t.sf(2.5, dof)), 12)
                self.assertAlmostEqual(compare_values(0.0, 1.0, 2.5, 0.0, dof=dof).p or 0, 2 * float(stats.t.sf(2.5, dof)), 12)

    def test_without_any_uncertainty_nothing_is_said(self) -> None:
        found = compare_values(1.0, 0.0, 2.0, 0.0)
        self.assertEqual((found.verdict, found.p, found.z, found.u, found.difference), ("unknown", None, None, 0.0, -1.0))
        self.assertEqual([compare_values(1.0, a, 2.0, b).z for a, b in ((0.5, 0.0), (0.0, 0.5))], [2.0, 2.0])
        self.assertIn("nothing can be said", say_verdict(found, "the other").text)

    def test_where_all_that_is_uncertain_is_in_both(self) -> None:
        """One number twice is the same; two that are surely apart differ."""
        same, apart = compare_values(3.0, 0.5, 3.0, 0.5, 0.25), compare_values(3.0, 0.5, 4.0, 0.5, 0.25)
        self.assertEqual((same.p, same.verdict, same.u, same.z), (1.0, "agree", 0.0, None))
        self.assertEqual((apart.p, apart.verdict, apart.u, apart.z), (0.0, "differ", 0.0, None))
        self.assertEqual(say_verdict(same, "the other").text, "It is the same number as the other.")
        self.assertIn("what is uncertain is in both", say_verdict(apart, "the other").text)
        # alike but for rounding, whatever their size
        for size in (1e-6, 1.0, 1e6):
            found = compare_values(size, 0.1 * size, size * (1 + 1e-13), 0.1 * size, shared=(0.1 * size) ** 2)
            self.assertEqual(found.verdict, "agree")


class Words(TestCase):
    def test_limits_belong_to_the_kinder_word(self) -> None:
        """One and two standard deviations of the normal law: 31.73 and 4.55 %."""
        cases = [(0.3173, "agree"), (0.31729, "agree_within_two"), (0.0455, "agree_within_two"), (0.04549, "differ"), (0.0, "differ")]
        for p, word in cases:
            with self.subTest(p):
                self.assertEqual(judge_p(p), word)
        for z, word in ((0.0, "agree"), (1.0, "agree"), (1.0001, "agree_within_two"), (2.0, "agree_within_two"), (2.0001, "differ")):
            with self.subTest(z):
                self.assertEqual(judge_plainly(z), word)

    def test_sentences(self) -> None:
        cases = [
            (compare_values(10.0, 0.3, 10.2, 0.4), "It agrees with g: they are 0.4 combined uncertainties apart."),
            (compare_values(10.0, 0.3, 10.7, 0.4), "It agrees with g within two: they are 1.4 combined uncertainties apart."),
            (compare_values(10.0, 0.3, 12.0, 0.4), "It differs from g: they are 4.0 combined uncertainties apart."),
        ]
        for found, words in cases:
            self.assertEqual(say_verdict(found, "g").text, words)
        # with two degrees of freedom 2.8 happens once in ten times
        few = compare_values(10.0, 0.3, 11.4, 0.4, dof=2)
        self.assertEqual(few.verdict, "agree_within_two")
        self.assertIn("happens by chance where so few readings stand behind", say_verdict(few, "g").text)
        self.assertNotIn("by chance", say_verdict(compare_values(10.0, 0.3, 10.4, 0.4, dof=2), "g").text)
        for apart, dof, verdict, code in (
            (0.6, 2, "agree", "agrees_for_few_readings"), (1.4, 2, "agree_within_two", "agrees_within_two_for_few_readings"),
            (0.4, 2, "agree", "agrees"), (0.7, 1000, "agree_within_two", "agrees_within_two"), (4.0, 3, "differ", "differs"),
        ):  # fmt: skip
            found = compare_values(10.0, 0.3, 10.0 + apart, 0.4, dof=dof)
            with self.subTest(apart, dof=dof):
                self.assertEqual((found.verdict, say_verdict(found, "g").code), (verdict, code))
        self.assertTrue(math.isinf(compare_values(10.0, 0.3, 10.2, 0.4).dof))

    def test_a_verdict_that_is_kinder_than_the_distance_says_why(self) -> None:
        """z by the ± said, z by the ± that judges, degrees of freedom; the normal law and Student's t (JCGM 100:2008, table G.2)."""
        for z, judged, dof, reason in (
            (1.0, 0.4, math.inf, None), (1.01, 0.4, math.inf, "scatter"), (3.0, 1.9, math.inf, "scatter"), (3.0, 3.0, 2, "few readings"),
            (61.1, 2.7, 1, "scatter"), (4.4, 2.2, 3, "few readings"), (4.41, 2.2, 3, "scatter"), (1.9, 1.9, math.inf, None),
            (2.5, 2.5, math.inf, None), (0.5, 2.5, math.inf, None),
        ):  # fmt: skip
            p = chance_of(judged, dof)
            found = Comparison(
                difference=z, u=1.0, z=z, percent=None, p=p, dof=dof, verdict=judge_p(p), z_judged=None if judged == z else judged
            )
            with self.subTest(z, judged=judged, dof=dof):
                self.assertEqual(found.excused_by, reason)
                code = say_verdict(found, "g").code
                self.assertEqual(
                    (code.endswith("_by_scatter"), code.endswith("_for_few_readings")), (reason == "scatter", reason == "few readings")
                )
                self.assertEqual(code.endswith("_by_small_scatter"), z == 0.5)

    def test_a_verdict_that_is_harsher_than_the_distance_says_why(self) -> None:
        """Readings that scatter much less than their ± say: judged by the scatter, told apart from what the ± alone would say."""
        for z, judged, verdict, code in (
            (1.3, 4.6, "differ", "differs_by_small_scatter"), (0.9, 1.5, "agree_within_two", "agrees_within_two_by_small_scatter"),
            (1.3, 1.9, "agree_within_two", "agrees_within_two"), (2.1, 4.6, "differ", "differs"), (0.9, 0.99, "agree", "agrees"),
        ):  # fmt: skip
            p = chance_of(judged)
            found = Comparison(difference=z, u=1.0, z=z, percent=None, p=p, dof=math.inf, verdict=judge_p(p), z_judged=judged)
            with self.subTest(z, judged=judged):
                self.assertEqual((found.verdict, say_verdict(found, "g").code), (verdict, code))
        self.assertFalse(replace(found, z=1.0, verdict="differ", rule="plain").is_harsher)
