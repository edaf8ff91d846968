"""Live values of a report: whole and in parts, typed by name, and offered for numbers typed by hand."""

from __future__ import annotations

import re
import unittest
from dataclasses import replace

from hobrel.core.document.lab_book import Reading
from hobrel.core.document.report_choices import ReportChoices
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.reporting.tree import Paragraph, Words
from tests.core.test_report import report_of, strip, with_reading


class LiveValues(unittest.TestCase):
    def value(self, name: str) -> str:
        return next(v.text for v in report_of(strip()).values if v.name == name)

    def test_a_value_whole_and_in_parts(self) -> None:
        whole = self.value("E")
        found = re.fullmatch(r"(\d+\.\d) ± (\d\.\d) GPa", whole)
        assert found
        self.assertEqual(self.value("E,value"), f"{found[1]} GPa")
        self.assertEqual(self.value("E,±"), f"{found[2]} GPa")
        finding = present(compute(strip())).findings[0].value
        assert finding is not None and finding.u is not None
        self.assertAlmostEqual(float(self.value("E,relative").removesuffix(" %")), 100 * finding.u / finding.value, places=1)
        self.assertIn("agrees", self.value("E:compared"))

    def test_of_every_fit_setting_and_constant(self) -> None:
        names = {v.name for v in report_of(strip()).values}
        self.assertLessEqual({"gradient", "gradient:line", "intercept", "m", "d", "accepted", "settings", "points", "χ²", "T@s1"}, names)
        self.assertEqual(self.value("T@s1"), "(0.358 ± 0.008) s")
        self.assertEqual(self.value("settings"), "8")

    def test_a_power_of_ten_belongs_to_the_value_and_to_its_u(self) -> None:
        book = strip()
        book = replace(book, findings=(replace(book.findings[0], unit="Pa", accepted=None),))
        values = {v.name: v.text for v in report_of(book).values}
        self.assertRegex(values["E"], r"^\(1\.2\d ± 0\.\d\d\) ?× ?10\S+ Pa$|^1\.2\d ± ")
        tail = values["E"].partition(")")[2]
        self.assertTrue(values["E,value"].endswith(tail) and values["E,±"].endswith(tail))

    def test_a_number_typed_by_hand_is_offered_and_marked_when_it_is_another(self) -> None:
        number = self.value("E,value").split()[0]
        book = strip(texts={"conclusion": f"We find {number} GPa in 12 tries."})
        (offered,) = report_of(book).offered
        self.assertEqual((offered.section, offered.typed, offered.name), ("conclusion", number, "E"))
        kept = replace(book, report=ReportChoices(typed={"conclusion": {number: "E"}}))
        self.assertEqual((report_of(kept).offered, report_of(kept).stale), ((), ()))
        later = with_reading(with_reading(kept, 7, "t10", 0, Reading("12.90")), 7, "t10", 1, Reading("12.95"))
        (stale,) = report_of(later).stale
        self.assertEqual((stale.typed, stale.name), (number, "E"))
        self.assertIn("typed_was", [m.words.code for m in report_of(later).missing])
        # and not where it is not written any more, or is one of braces
        self.assertEqual(report_of(replace(later, texts={"conclusion": "We find {E}."})).stale, ())

    def test_a_name_may_be_typed_as_formulas_have_it(self) -> None:
        def said(inner: str) -> list[str]:
            parts = report_of(strip(texts={"conclusion": inner})).parts
            [block] = next(p for p in parts if p.key == "text:conclusion").blocks
            assert isinstance(block, Paragraph)
            return [w.text for w in block.words if isinstance(w, Words) and w.style == "live"]

        for typed, listed in (("slope", "gradient"), ("Slope, +-", "gradient,±"), ("T^2@s1", "T²@s1"), ("t_10@s1", "t₁₀@s1"), (" m ", "m")):
            with self.subTest(typed):
                self.assertEqual(said(f"{{{typed}}}"), said(f"{{{listed}}}"))
                self.assertEqual(len(said(f"{{{typed}}}")), 1)
        self.assertEqual(said("{mu} {t_10} {slope:nothing}"), [])

    def test_a_part_of_a_number_is_none(self) -> None:
        for text in ("312.4", "12.45", "12.4.1", "a12.4", "{x12.4}"):
            with self.subTest(text):
                self.assertEqual([o.typed for o in report_of(strip(texts={"method": text})).offered if o.typed == "12.4"], [])
        self.assertEqual([o.name for o in report_of(strip(texts={"method": "(12.4)"})).offered], ["accepted"])
