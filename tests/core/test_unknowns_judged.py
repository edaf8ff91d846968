"""An unknown read back from a line: by what verdicts on it are reached. It is one more setting, read as all others were."""

from __future__ import annotations

import math
import statistics
import unittest
from dataclasses import replace

import numpy as np

from hobrel.core.document.lab_book import Fit, LabBook, Quantity, Reading, Unknown
from hobrel.core.pipeline.computation import compute
from hobrel.core.pipeline.ingredients import ReadUnknown, read_unknown
from hobrel.core.pipeline.lines import FittedLine
from hobrel.core.presentation.analysis import analyse
from hobrel.core.questions.fits import read_off_fit
from hobrel.core.readings.instruments import Instrument
from hobrel.core.uncertainty.traced import combine_quadrature
from tests.builders import lab_book

# y = 2 x + 1 with what hands add, three readings each; and the first of these alone
READ = [
    ("1", (3.05, 2.94, 3.01)),
    ("2", (5.02, 4.95, 5.07)),
    ("3", (6.93, 7.01, 7.06)),
    ("4", (9.04, 8.97, 8.93)),
    ("5", (11.0, 10.92, 11.08)),
]
THRICE = [(x, [f"{y:.2f}" for y in ys]) for x, ys in READ]
ONCE = [(x, [f"{ys[0]:.2f}"]) for x, ys in READ]
POOLED = math.sqrt(sum(statistics.variance(ys) for _, ys in READ) / len(READ))


def judged(book: LabBook, readings: tuple[str, ...], repeats: int | None = None) -> tuple[float, float, FittedLine, ReadUnknown]:
    """What verdicts take the mean of its readings to be uncertain by, and its degrees of freedom."""
    ground = compute(book)
    line, found = ground.fits["f"], read_unknown(ground, "f", Unknown("u", "it", readings), "k", repeats)
    assert isinstance(line, FittedLine)
    (reading,) = (source for source in found.judged.slopes if source.key == "k")
    # dx = dy/m
    assert math.isclose(float(found.judged.slopes[reading]), 1 / line.line.gradient, rel_tol=1e-12)
    return float(reading.u), float(reading.dof), line, found  # type: ignore[arg-type]


class Judged(unittest.TestCase):
    def test_as_one_more_setting_by_the_typical_spread_of_the_repeats(self) -> None:
        """Σ(nᵢ−1)sᵢ²/Σ(nᵢ−1), of which ten degrees of freedom; an unknown's own repeats count among them."""
        u, dof, _, found = judged(lab_book(THRICE), ("7.02",))
        self.assertAlmostEqual(u, POOLED)
        self.assertEqual(dof, 10)
        own = (7.02, 6.93, 7.10, 6.97)
        u, dof, _, _ = judged(lab_book(THRICE), tuple(f"{y:.2f}" for y in own))
        variance = (sum(2 * statistics.variance(ys) for _, ys in READ) + 3 * statistics.variance(own)) / 13
        self.assertAlmostEqual(u, math.sqrt(variance / 4))
        self.assertEqual(dof, 13)
        self.assertAlmostEqual(judged(lab_book(THRICE), ("7.02",), 4)[0], POOLED / 2)
        said = next(source for source in found.traced.slopes if source.key == "k")
        self.assertAlmostEqual(float(said.u), 0.01, msg="what is said is the convention’s: a lone reading has its display’s last digit")

    def test_what_is_said_tells_where_readings_scatter_by_more(self) -> None:
        """One reading of a display, 7.02 s, is 0.01 s off; by how readings scatter here x is ± POOLED/2 and what the line adds."""
        book = replace(lab_book(THRICE), fits=(Fit("f", "g", unknowns=(Unknown("once", "it", ("7.02",)),)),))
        (shown,) = analyse(book).fits[0].unknowns
        assert shown.value is not None
        self.assertEqual(shown.value.u_text, "0.010")
        self.assertEqual([w.code for w in shown.words], ["unknown_by_readings", "unknown_scatters"])
        self.assertIn("± 0.03 m: read it", shown.words[1].text)
        often = replace(book.fits[0], unknowns=(Unknown("often", "it", tuple(f"{7 + d / 100:.2f}" for d in (-6, 6, 5, -4))),))
        self.assertEqual([w.code for w in analyse(replace(book, fits=(often,))).fits[0].unknowns[0].words], ["unknown_by_readings"])

    def test_never_less_than_what_the_last_digit_hides(self) -> None:
        alike = [(x, [texts[0]] * 3) for x, texts in THRICE]
        self.assertAlmostEqual(judged(lab_book(alike), ("7.02",))[0], 0.01 / math.sqrt(12))

    def test_single_readings_by_their_scatter_about_the_line(self) -> None:
        plain = replace(lab_book(ONCE), fits=(Fit("f", "g", weights="none"),))
        u, dof, line, _ = judged(plain, ("7.02", "6.98"))
        self.assertAlmostEqual(u, line.line.residual_sd / math.sqrt(2))
        self.assertEqual(dof, 3)
        u, dof, line, _ = judged(lab_book(ONCE), ("7.02", "6.98"))
        assert line.line.reduced_chi2 is not None
        self.assertGreater(line.line.reduced_chi2, 4, "hands scatter by more than a display’s last digit")
        self.assertAlmostEqual(u, statistics.median(line.residuals.sigmas.tolist()) * math.sqrt(line.line.reduced_chi2 / 2))
        self.assertEqual(dof, 3)

    def test_what_is_made_of_means_scatters_less_than_one_reading(self) -> None:
        double = (Quantity("z", "derived", "double", "z", "s", formula="2*y"),)
        book = replace(lab_book(THRICE, derived=double, graph=("x", "z")), fits=(Fit("f", "g", weights="none"),))
        u, _, line, _ = judged(book, ("14.0",))
        self.assertAlmostEqual(u, line.line.residual_sd * math.sqrt(3))

    def test_a_blank_and_what_is_set_aside_are_behind_no_mean(self) -> None:
        double = (Quantity("z", "derived", "double", "z", "s", formula="2*y"),)
        book = lab_book([(x, [*ys[:2], None]) for x, ys in THRICE], derived=double, graph=("x", "z"))
        aside = tuple(
            replace(s, readings={**s.readings, "y": (*s.readings["y"][:2], Reading("9.99", "slipped"))}) for s in book.runs[0].settings
        )
        for rows in (book.runs[0].settings, aside):
            u, _, line, _ = judged(
                replace(book, runs=(replace(book.runs[0], settings=rows),), fits=(Fit("f", "g", weights="none"),)), ("14.0",)
            )
            self.assertAlmostEqual(u, line.line.residual_sd * math.sqrt(2))

    def test_by_what_scatters_most_where_some_were_read_once_and_some_often(self) -> None:
        double = (Quantity("z", "derived", "product", "z", "s^2", formula="y*w"),)
        made = lab_book(THRICE, derived=double, graph=("x", "z"))
        once = Quantity("w", "measured", "width", "w", "s", Instrument("clock", "display", "0.01"))
        for own, behind in (("0.0001", 3.0), ("40", 1.0)):
            rows = tuple(replace(s, readings={**s.readings, "w": (Reading(f"2.00 ± {own}"),)}) for s in made.runs[0].settings)
            quantities = (*made.quantities[:2], once, *made.quantities[2:])
            book = replace(made, quantities=quantities, runs=(replace(made.runs[0], settings=rows),), fits=(Fit("f", "g", weights="none"),))
            with self.subTest(own):
                u, _, line, _ = judged(book, ("14.0",))
                self.assertAlmostEqual(u / line.line.residual_sd, math.sqrt(behind), places=3)

    def test_what_is_said_beside_means_is_of_single_readings_too(self) -> None:
        """(s/m)²(n/k + 1/N + (y₀ − ȳ)²/(m²Σ(xᵢ − x̄)²)), s the scatter of means of n about their line (Eurachem/CITAC QUAM, E.4)."""
        book = replace(lab_book(THRICE), fits=(Fit("f", "g", weights="none"),))
        found = judged(book, ("9.02", "8.98"))[3]
        x = np.array([float(x) for x, _ in READ])
        y = np.array([statistics.mean(ys) for _, ys in READ])
        m, c = np.polyfit(x, y, 1)
        s = math.sqrt(sum((y - m * x - c) ** 2) / 3)
        for n, k, of in ((3, 2, found), (3, 4, judged(book, ("9.00",), 4)[3])):
            expected = s / m * math.sqrt(n / k + 1 / 5 + (9 - y.mean()) ** 2 / (m**2 * sum((x - x.mean()) ** 2)))
            self.assertAlmostEqual(float(combine_quadrature(of.traced)), expected)
            asked = read_off_fit(compute(book), "f", "back", "9.00", k).value
            self.assertAlmostEqual(asked.u or 0, expected)

    def test_where_readings_bring_their_own_uncertainty_by_the_scatter_of_the_means(self) -> None:
        own = lab_book([(x, [f"{y:.2f} ± 0.05" for y in ys]) for x, ys in READ])
        u, dof, line, _ = judged(own, ("7.02",))
        assert line.line.reduced_chi2 is not None
        self.assertAlmostEqual(u, statistics.median(line.residuals.sigmas.tolist()) * math.sqrt(3 * line.line.reduced_chi2))
        self.assertEqual(dof, 3)

    def test_things_counted_at_random_by_their_number(self) -> None:
        counted = lab_book([(x, [f"{100 * y:.0f}" for y in ys]) for x, ys in READ])
        counter = Instrument("counter", "counted_at_random", "1")
        counted = replace(
            counted, quantities=tuple(replace(q, unit="", instrument=counter) if q.id == "y" else q for q in counted.quantities)
        )
        u, dof, _, _ = judged(counted, ("700", "730"))
        self.assertAlmostEqual(u, math.sqrt(715 / 2))
        self.assertEqual(dof, math.inf)


if __name__ == "__main__":
    unittest.main()
