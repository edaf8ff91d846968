"""What a class may choose of how fits get their ± and how verdicts are reached; documents that do not choose are as they were."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any
from unittest import TestCase

from hobrel.core.document.lab_book import Accepted, Convention, Finding, LabBook, read_lab_book, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.working import explain
from hobrel.core.sentences import told
from hobrel.core.statistics.comparison import Comparison, say_verdict
from tests.builders import lab_book
from tests.core.test_lab_book_jobs import examine

# y = 10 x with a scatter of a fifth, and readings that tell a twentieth: the points scatter more than their bars
SCATTERED = [("0.10", ["1.2"]), ("0.20", ["1.8"]), ("0.30", ["3.2"]), ("0.40", ["3.8"]), ("0.50", ["5.2"]), ("0.60", ["5.8"])]
# the same with a scatter of less than a hundredth: their bars are more
SMOOTH = [("0.10", ["1.01"]), ("0.20", ["2.00"]), ("0.30", ["3.00"]), ("0.40", ["4.00"]), ("0.50", ["5.00"]), ("0.60", ["6.00"])]


def with_convention(book: LabBook, **chosen: Any) -> LabBook:
    return replace(book, convention=replace(book.convention, **chosen))


class FitUncertainty(TestCase):
    """Absolute bars or residual scatter: the two differ by √χ²ν (for a weighted line; P. R. Bevington, common practice)."""

    def gradient(self, rows: list[tuple[str, list[str]]], which: str) -> tuple[float, float, str]:
        book = with_convention(lab_book(rows), fit_uncertainty=which)
        fit = examine(book)["fits"][0]
        return fit["parameters"][0]["u"], fit["reduced_chi2"], told(analyse(book).fits[0].method, "; ")

    def test_bars_scatter_and_the_larger_of_the_two(self) -> None:
        for rows, larger in ((SCATTERED, "scatter"), (SMOOTH, "bars")):
            with self.subTest(larger):
                (bars, reduced, said_bars), (scatter, _, said_scatter), (both, _, said) = (
                    self.gradient(rows, which) for which in ("bars", "scatter", "larger")
                )
                self.assertAlmostEqual(scatter, bars * math.sqrt(reduced), delta=1e-12)
                self.assertEqual(both, max(bars, scatter))
                self.assertEqual(reduced > 1, larger == "scatter")
                self.assertIn("the ± is from the bars, by the class’s convention", said_bars)
                self.assertIn("the ± is from how the points scatter, by the class’s convention", said_scatter)
                self.assertNotIn("convention", said)

    def test_exact_points_whose_scatter_is_asked_for_have_no_uncertainty(self) -> None:
        rows = [(x, [f"{2 * float(x) + 3:.2f}"]) for x, _ in SCATTERED]
        for which, u_is_known, agrees in (("larger", True, False), ("bars", True, False), ("scatter", False, None)):
            with self.subTest(which):
                book = with_convention(lab_book(rows), fit_uncertainty=which)
                fit = examine(book)["fits"][0]
                self.assertEqual((fit["parameters"][1]["u"] > 1e-6, fit["agrees_with_zero"]), (u_is_known, agrees))

    def test_a_finding_carries_what_was_chosen_and_verdicts_stay(self) -> None:
        finding = Finding("a", "a", "A", "s/m", "gradient", "f", Accepted("10.6", "0", "a table"))
        answers = {
            which: examine(with_convention(lab_book(SCATTERED, findings=[finding]), fit_uncertainty=which))["findings"][0]
            for which in ("bars", "scatter")
        }
        self.assertLess(answers["bars"]["u"], 0.6 * answers["scatter"]["u"])
        ps = [a["comparisons"][0]["p"] for a in answers.values()]
        self.assertEqual(ps[0], ps[1])
        self.assertLess(answers["scatter"]["comparisons"][0]["z"], answers["bars"]["comparisons"][0]["z"])


# spreads of 0.01, 0.02 and 0.06 about their means: half ranges, with standard deviations 0.01, 0.02 and 0.06
REPEATED = [("0.10", ["1.00", "1.01", "1.02"]), ("0.20", ["1.98", "2.00", "2.02"]), ("0.30", ["2.94", "3.00", "3.06"]), ("0.40", ["4.01"])]


class Bars(TestCase):
    def bars(self, **chosen: Any) -> list[float]:
        book = lab_book(REPEATED)
        bare = replace(book, quantities=tuple(replace(q, instrument=None) for q in book.quantities))
        columns = examine(with_convention(bare, **chosen))["runs"][0]["columns"]
        return list(next(c["u"] for c in columns if c["quantity"] == "y"))

    def test_each_settings_own_or_that_typical_of_the_column(self) -> None:
        """By hand: the mean of the half ranges is 0.03, the pooled standard deviation √((0.01² + 0.02² + 0.06²)/3) = 0.03697."""
        pooled = math.sqrt((0.01**2 + 0.02**2 + 0.06**2) / 3)
        for spread, own, typical in (
            ("half_range", [0.01, 0.02, 0.06], 0.03), ("largest_deviation", [0.01, 0.02, 0.06], 0.03),
            ("mean_abs_deviation", [0.02 / 3, 0.04 / 3, 0.04], 0.02),
            ("sd", [0.01, 0.02, 0.06], pooled), ("standard_error", [s / math.sqrt(3) for s in (0.01, 0.02, 0.06)], pooled / math.sqrt(3)),
        ):  # fmt: skip
            with self.subTest(spread):
                for found, wanted in ((self.bars(spread=spread), own), (self.bars(spread=spread, bars="typical"), [typical] * 3)):
                    # a single reading has no spread of its own, and no instrument here
                    for a, b in zip(found, [*wanted, 0.0], strict=True):
                        self.assertAlmostEqual(a, b, 12)

    def test_the_larger_of_it_and_the_instrument(self) -> None:
        book = with_convention(lab_book(REPEATED), bars="typical")
        u = next(c["u"] for c in examine(book)["runs"][0]["columns"] if c["quantity"] == "y")
        self.assertEqual(len(set(u[:3])), 1)
        self.assertGreaterEqual(u[0], 0.03)

    def test_a_coverage_widens_the_standard_error_alone(self) -> None:
        """JCGM 100:2008, table G.2: t of 95 % is 4.30 for 2 degrees of freedom and 2.45 for 6; of 68.27 %, 1.32 for 2."""
        for coverage, t, t_pooled in ((0.95, 4.30, 2.45), (0.6827, 1.32, 1.09)):
            with self.subTest(coverage):
                plain, wide = self.bars(spread="standard_error"), self.bars(spread="standard_error", coverage=coverage)
                self.assertEqual([round(b / a, 2) for a, b in zip(plain[:3], wide, strict=False)], [t] * 3)
                pooled, wide = (self.bars(spread="standard_error", bars="typical", coverage=c) for c in (None, coverage))
                self.assertEqual([round(b / a, 2) for a, b in zip(pooled[:3], wide, strict=False)], [t_pooled] * 3)
                self.assertEqual(self.bars(coverage=coverage), self.bars())

    def test_what_judges_does_not_depend_on_what_is_drawn(self) -> None:
        found = [examine(with_convention(lab_book(REPEATED), **chosen))["fits"][0] for chosen in ({}, {"bars": "typical"})]
        self.assertEqual(found[0]["sigmas"], found[1]["sigmas"])
        self.assertEqual(found[0]["p_value"], found[1]["p_value"])

    def test_the_working_and_the_convention_say_so(self) -> None:
        book = with_convention(lab_book(REPEATED), spread="standard_error", bars="typical", coverage=0.95)
        words = "the standard error of the mean, widened by Student’s t to hold 95 % (the one typical of its column)"
        self.assertIn(words, told(analyse(book).convention_words))
        spread = next(line for line in explain(compute(book), "cell:run1:s1:y").lines if told(line.words).startswith("Spread"))
        self.assertEqual(told(spread.words), f"Spread: {words}.")
        own = with_convention(book, bars="own")
        spread = next(line for line in explain(compute(own), "cell:run1:s1:y").lines if told(line.words).startswith("Spread"))
        self.assertIn(r"4.30 \times \tfrac{s}{\sqrt n}", spread.tex)

    def test_a_coverage_that_is_none_is_refused(self) -> None:
        for coverage in (0.0, 1.0, 95.0, -0.5, float("nan")):
            document = write_lab_book(lab_book(REPEATED))
            document["convention"]["coverage"] = coverage
            with self.subTest(coverage), self.assertRaisesRegex(CoreError, "between 0 and 1"):
                read_lab_book(document)


class VerdictRules(TestCase):
    def verdicts(self, accepted: str, rule: str) -> tuple[dict[str, Any], str]:
        finding = Finding("a", "a", "A", "s/m", "gradient", "f", Accepted(accepted, "0", "a table"))
        book = with_convention(lab_book(SCATTERED, findings=[finding]), verdict=rule)
        return examine(book)["findings"][0]["comparisons"][0], told(analyse(book).findings[0].comparison)

    def test_the_plain_rule_takes_one_and_two_combined_uncertainties(self) -> None:
        value, u = (examine(lab_book(SCATTERED))["fits"][0]["parameters"][0][key] for key in ("value", "u"))
        for z, plain, words in ((0.95, "agrees", "at most one"), (1.05, "near", "within two"), (1.95, "near", "within two"),
                                (2.05, "differs", "more than two")):  # fmt: skip
            with self.subTest(z):
                found, said = self.verdicts(f"{value + z * u:.12f}", "plain")
                self.assertEqual(found["verdict"], plain)
                self.assertAlmostEqual(found["z"], z, 6)
                self.assertTrue(said.startswith("By the class’s rule it "), said)
                self.assertIn(words, said)

    def test_by_chance_few_points_are_given_more_room(self) -> None:
        """Student's t with 4 degrees of freedom leaves 4.55 % beyond 2.87 (from the t distribution), where the plain rule ends at 2."""
        value, u = (examine(lab_book(SCATTERED))["fits"][0]["parameters"][0][key] for key in ("value", "u"))
        for z, verdict in ((2.5, "near"), (2.86, "near"), (2.88, "differs")):
            with self.subTest(z):
                found, said = self.verdicts(f"{value + z * u:.12f}", "chance")
                self.assertEqual(found["verdict"], verdict)
                self.assertNotIn("rule", said)

    def test_the_same_rule_for_an_intercept(self) -> None:
        """An intercept 2.4 of its u from zero: near by chance with four degrees of freedom behind it, by the plain rule it differs."""
        fit = examine(lab_book(SCATTERED))["fits"][0]
        c, u = fit["parameters"][1]["value"], fit["parameters"][1]["u"]
        moved = [(x, [f"{float(ys[0]) - c + 2.4 * u:.6f}"]) for x, ys in SCATTERED]
        found = {}
        for rule in ("chance", "plain"):
            book = with_convention(lab_book(moved), verdict=rule)
            answer = examine(book)["fits"][0]
            found[rule] = answer["agrees_with_zero"], told(analyse(book).fits[0].intercept_words)
        self.assertEqual([found["chance"][0], found["plain"][0]], [True, False])
        self.assertIn("It may be zero: it is 2.4 of its uncertainties from it, which happens by chance", found["chance"][1])
        self.assertIn("It is 2.4 of its uncertainties from zero", found["plain"][1])

    def test_of_a_line_that_does_not_fit_only_that_is_asked(self) -> None:
        """y = 10 x + 1 scatters as its bars say; y = 30 x² does not lie on a line at all, whatever that says at nought."""
        straight = [(x, [f"{float(ys[0]) + 1:.2f}"]) for x, ys in SMOOTH]
        bent = [(x, [f"{30 * float(x) ** 2:.2f}"]) for x, _ in SMOOTH]
        said = [told(analyse(lab_book(rows)).fits[0].intercept_words) for rows in (straight, bent)]
        self.assertIn("What does the relation say that it means?", said[0])
        self.assertIn("of its uncertainties from zero. But the line does not fit its points, so that this means little.", said[1])

    def test_words_of_each_verdict(self) -> None:
        for verdict in ("agree", "agree_within_two", "differ"):
            comparison = Comparison(1.0, 1.0, 1.0, None, 0.3, math.inf, verdict, "plain")  # type: ignore[arg-type]
            self.assertIn("By the class’s rule", say_verdict(comparison, "the accepted value").text)


class Documents(TestCase):
    def test_one_that_does_not_choose_is_as_it_was(self) -> None:
        written = write_lab_book(lab_book(SCATTERED))
        for name in ("verdict", "fit_uncertainty", "bars", "coverage"):
            written["convention"].pop(name)
        self.assertEqual(read_lab_book(written), lab_book(SCATTERED))
        self.assertEqual((Convention().verdict, Convention().fit_uncertainty), ("chance", "larger"))

    def test_the_convention_is_said_in_a_line(self) -> None:
        plain = told(analyse(lab_book(SCATTERED)).convention_words)
        chosen = told(analyse(with_convention(lab_book(SCATTERED), verdict="plain", fit_uncertainty="scatter")).convention_words)
        self.assertTrue(chosen.startswith(plain))
        self.assertIn("A fit takes its ± from how the points scatter about it.", chosen)
        self.assertIn("at most one combined ± apart", chosen)
