"""Nothing computed is unexplained: every number of an analysis has a working that leads back to its readings."""

from __future__ import annotations

import random
import re
import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import Finding, Quantity
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.working import Working, explain
from hobrel.core.readings.instruments import Instrument
from hobrel.core.sentences import told
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book

OVERHANGS = (0.3, 0.35, 0.4, 0.45, 0.5, 0.55, 0.6)


def demo(shape: str = "line") -> Computation:
    book = write_bench(make_plan(), Story(OVERHANGS, set_aside=(2, 1, "9.99", "slipped")), random.Random(1))
    findings = book.findings if shape == "line" else ()
    return compute(replace(book, fits=(replace(book.fits[0], shape=shape),), findings=findings))


def targets(computation: Computation) -> list[str]:
    """Every number that a screen shows."""
    analysis = present(computation)
    found = [
        f"cell:{run.run}:{setting.id}:{column.quantity}"
        for run in analysis.runs for column in run.columns if column.constant is None
        for setting, cell in zip(computation.book.runs[0].settings, column.cells, strict=True) if cell.value is not None
    ]  # fmt: skip
    for fit in analysis.fits:
        parts = ["within", "chi2", "r2", *(p.name for p in fit.parameters)] + (["gradient", "intercept"] if fit.gradient else [])
        found += [f"fit:{fit.fit}:{part}" for part in parts]
    return found + [f"finding:{f.finding}" for f in analysis.findings if f.value]


class EveryNumber(unittest.TestCase):
    def check(self, working: Working) -> None:
        self.assertTrue(working.title and working.result and working.lines)
        for line in working.lines:
            self.assertEqual(line.tex.count("{"), line.tex.count("}"), line.tex)
            self.assertNotRegex(line.tex + told(line.words), r"nan|inf\b|e-\d|e\+\d|None|−0(?![.\d])")
        if working.budget:
            self.assertAlmostEqual(sum(b.share for b in working.budget), 1, places=9)

    def test_has_a_working(self) -> None:
        for shape in ("line", "power", "quadratic"):
            computation = demo(shape)
            for target in targets(computation):
                with self.subTest(target, shape=shape):
                    self.check(explain(computation, target))

    def test_leads_back_to_its_readings(self) -> None:
        computation = demo()
        mean = explain(computation, "cell:run1:s3:t10")
        self.assertEqual([r.set_aside for r in mean.readings], [False, True, False])
        self.assertEqual({(r.setting, r.quantity) for r in mean.readings}, {("s3", "t10")})
        period = explain(computation, "cell:run1:s1:T")
        self.assertEqual([o.target for o in period.onward], ["cell:run1:s1:t10"])
        gradient = explain(computation, "fit:line:gradient")
        self.assertEqual(len({r.setting for r in gradient.readings}), len(OVERHANGS))
        finding = explain(computation, "finding:E")
        self.assertEqual([o.target for o in finding.onward], ["fit:line:gradient"])
        self.assertIn("0.300", re.sub(r"\s", "", finding.lines[1].tex))

    def test_what_is_not_there_is_said_to_be(self) -> None:
        for target in (
            "cell:run1:s99:T",
            "cell:run9:s1:T",
            "cell:run1:s1:nothing",
            "fit:line:colour",
            "fit:none:gradient",
            "finding:none",
            "x",
        ):
            with self.subTest(target), self.assertRaises(CoreError) as caught:
                explain(demo(), target)
            self.assertEqual(caught.exception.code, "bad_job")

    def test_an_error_stands_where_its_number_would(self) -> None:
        broken = compute(write_bench(make_plan(), Story(OVERHANGS, formula="t_10 +"), random.Random(1)))
        for target in ("cell:run1:s1:T", "fit:line:gradient", "finding:E"):
            with self.subTest(target), self.assertRaises(CoreError):
                explain(broken, target)
        self.check(explain(broken, "cell:run1:s1:t10"))

    def test_the_u_under_a_heading_keeps_its_power_of_ten(self) -> None:
        rows = [(f"{0.1 * i:.3f}", [f"{2 * i + d:.2f}" for d in (0.02, -0.03)]) for i in range(1, 6)]
        for formula, behind in (
            ("2.06 10^9 y", r"0.05 \times 10^{9}\ \mathrm{s}"),
            ("1.3 10^-7 y", r"0.03 \times 10^{-7}\ \mathrm{s}"),
            ("3 y", r"0.08\ \mathrm{s}"),
        ):
            book = lab_book(rows, [Quantity("q", "derived", "made", "q", formula=formula)])
            *_, last = explain(compute(book), "cell:run1:s2:q").lines
            with self.subTest(formula):
                self.assertTrue(last.tex.endswith(f"= {behind}"), last.tex)

    def test_half_the_range_is_from_the_largest_to_the_least(self) -> None:
        for texts, tex in (
            (["9.8", "10.2", "10.0"], r"\frac{10.2 - 9.8}{2}"),
            (["-3.2", "-0.5", "-1.7"], r"\frac{-0.5 - (-3.2)}{2}"),
            (["2,5", "-1,5"], r"\frac{2,5 - (-1,5)}{2}"),
        ):
            book = lab_book([("0.1", texts), ("0.2", ["1.0"])])
            lines = explain(compute(book), "cell:run1:s1:y").lines
            with self.subTest(texts):
                self.assertTrue(any(line.tex.startswith(tex) for line in lines), [line.tex for line in lines])

    def test_each_term_is_its_slope_to_three_figures_times_its_u(self) -> None:
        rows = [(f"{0.1 * i:.3f}", [f"{2 * i:.2f}"]) for i in range(1, 6)]
        book = lab_book(rows, [Quantity("q", "derived", "made", "q", formula="y^3/7")])
        *_, last = explain(compute(book), "cell:run1:s2:q").lines
        # by hand: 3 · 4²/7 = 6.857…
        self.assertIn(r"\underbrace{6.86 \times", last.tex)

    def test_how_well_a_fit_goes_is_told_as_it_is_reckoned(self) -> None:
        """A line and a curve alike: χ² over its degrees of freedom; without bars the scatter takes their place."""
        for shape, slope in (("line", "m^2"), ("power", "f'(x_i)^2")):
            computation = demo(shape)
            card = present(computation).fits[0]
            chi2, within = (explain(computation, f"fit:line:{part}") for part in ("chi2", "within"))
            self.assertEqual((chi2.title, chi2.result), ("Reduced χ²", card.reduced_chi2))
            self.assertIn(rf"\frac{{{card.chi2}}}{{{card.dof}}} = {card.reduced_chi2}", "".join(line.tex for line in chi2.lines))
            fields = card.within[0].fields
            self.assertEqual((within.title, within.result), ("Points within their bars", f"{fields['within_1u']} of {fields['n']}"))
            self.assertIn(slope, within.lines[-2].tex)
        rows = [(f"0.{i}00", [f"{2 * i}.0{i % 3}"]) for i in range(1, 7)]
        book = lab_book(rows)
        bare = compute(replace(book, quantities=tuple(replace(q, instrument=None) for q in book.quantities)))
        within = explain(bare, "fit:f:within")
        self.assertEqual((within.title, within.lines[-3].tex), ("Points within the scatter", r"|r_i| \le s"))
        codes = [s.code for line in within.lines[-3:] for s in line.words]
        self.assertEqual(codes, ["within_scatter_is", "within_scatter", "within_expected"])
        with self.assertRaisesRegex(CoreError, "no χ²"):
            explain(bare, "fit:f:chi2")


class NumbersPutIn(unittest.TestCase):
    def test_a_constant_of_nature_is_its_number_unless_the_book_has_the_symbol(self) -> None:
        rows = [(f"0.{i}00", [f"{i}.00"]) for i in range(1, 6)]
        weight = Quantity("w", "derived", "weight", "w", formula="y g_n")
        book = lab_book(rows, [weight])
        self.assertIn(r"\left(9.80665\ \mathrm{m}/\mathrm{s}^{2}\right)", explain(compute(book), "cell:run1:s1:w").lines[1].tex)
        own = Quantity("g", "constant", "ours", "g_n", "m/s^2", value="9.7")
        hidden = explain(compute(lab_book(rows, [weight], [own])), "cell:run1:s1:w").lines[1].tex
        self.assertIn("9.7", hidden)
        self.assertNotIn("9.80665", hidden)

    def test_each_with_the_digits_it_was_written_with(self) -> None:
        """A single reading and a constant as they were typed, a mean as in the table; brackets where a factor or a power stands beside."""
        rows = [("0.300", ["1.02", "1.00", "1.01"]), ("0.400", ["2.02"]), ("0.500", ["3.01", "3.02", "3.03"])]
        made = Quantity("q", "derived", "made", "q", formula="k x^2 + ln(y) - c")
        constants = [
            Quantity("k", "constant", "factor", "k", "1/m^2", value="2.50", u="0.05"),
            Quantity("c", "constant", "offset", "c", "", value="-1.60e-2", u="0"),
        ]
        book = lab_book(rows, [made], constants)
        mean, lone = (explain(compute(book), f"cell:run1:s{row}:q") for row in (1, 2))
        put_in = (
            r"q = \left(2.50\ \mathrm{m}^{-2}\right) \times \left(0.300\ \mathrm{m}\right)^{2} + \ln\left(1.010\ \mathrm{s}\right) - \left("
        )
        self.assertTrue(mean.lines[1].tex.startswith(put_in), mean.lines[1].tex)
        self.assertIn(r"\left(-1.60 \times 10^{-2}\right) = ", mean.lines[1].tex)
        self.assertIn(r"\ln\left(2.02\ \mathrm{s}\right)", lone.lines[1].tex)
        self.assertEqual(lone.title, "made at x = 0.400 m")

    def test_what_is_the_same_at_every_setting_has_the_uncertainty_of_its_constants(self) -> None:
        """w h³/12: 1 % for each per cent of w, three of h; 0.0300 ± 0.0001 and 0.0050 ± 0.0001 make √(0.33² + 6²) % of 3.125 × 10⁻¹⁰."""
        constants = [
            Quantity(key, "constant", name, key, "m", value=value, u="0.0001")
            for key, name, value in (("w", "width", "0.0300"), ("h", "thickness", "0.0050"))
        ]
        second = Quantity("I", "derived", "second moment", "I", "m^4", formula="w h^3/12")
        book = lab_book([("0.1", ["1.0"])], [second], constants)
        working = explain(compute(book), "cell:run1:s1:I")
        self.assertEqual((working.title, working.result), ("second moment", "I = (3.13 ± 0.19) × 10⁻¹⁰ m⁴"))
        self.assertIn(r"0.19 \times 10^{-10}", working.lines[-1].tex)
        self.assertEqual([line.words for line in working.budget], ["thickness", "width"])

    def test_what_is_only_another_number_is_not_put_in_twice(self) -> None:
        rows = [(f"0.{i}00", [f"{2 * i}.0{i % 3}"]) for i in range(1, 7)]
        findings = (Finding("a", "a", "a", "", "gradient", "f"), Finding("b", "b", "b", "ms/cm", "gradient", "f"))
        same, other = (explain(compute(replace(lab_book(rows), findings=findings)), f"finding:{which}").lines[1].tex for which in "ab")
        self.assertEqual(same, r"a = \mathrm{gradient} = 19.99\ \mathrm{s}/\mathrm{m}")
        self.assertEqual(other, r"b = 19.99\ \mathrm{s}/\mathrm{m} = 199.9\ \mathrm{ms}/\mathrm{cm}")

    def test_a_count_has_no_instrument_to_be_uncertain_by(self) -> None:
        rows = [(f"0.{i}00", [str(100 * i), str(100 * i + 20)]) for i in range(1, 7)]
        for kind, code in (("counted", "u_of_counting"), ("counted_at_random", "u_of_random_count")):
            book = lab_book(rows)
            counter = Instrument("counted", kind, "1")
            book = replace(book, quantities=tuple(replace(q, instrument=counter) if q.id == "y" else q for q in book.quantities))
            lines = [line for line in explain(compute(book), "cell:run1:s1:y").lines if line.words]
            with self.subTest(kind):
                self.assertIn(code, [s.code for line in lines for s in line.words])
        # the root of the mean, 110
        self.assertIn("10", " ".join(s.text for line in lines for s in line.words if s.code == code))
