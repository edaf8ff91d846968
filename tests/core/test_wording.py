"""The class's word for how steep a line is: in everything that is told, and in nothing that somebody has written."""

from __future__ import annotations

import json
import random
import re
import unittest
from dataclasses import replace

from pydantic import TypeAdapter

from hobrel.core.document.lab_book import Convention, Finding, LabBook, Note, Quantity, write_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.results import Analysis
from hobrel.core.presentation.wording import reword, reword_error, reword_text
from hobrel.core.presentation.working import Working, explain
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.builders import lab_book

ROWS = [(f"0.{i}00", [f"{0.3 * i:.2f}"]) for i in range(1, 7)]
OURS = re.compile(r"gradient", re.IGNORECASE)
SLOPE, GRADIENT = Convention(slope_word="slope"), Convention()


def strip() -> LabBook:
    return write_bench(make_plan(), Story((0.3, 0.38, 0.5, 0.6, 0.65)), random.Random(1))


class Wording(unittest.TestCase):
    def test_nothing_that_is_told_keeps_our_word(self) -> None:
        written = TypeAdapter(Analysis).dump_python(reword(analyse(strip()), SLOPE), mode="json")
        # names by which programs know things are not told
        told = json.dumps(written, ensure_ascii=False)
        left = set(re.findall(r'"([^"]*gradient[^"]*)"', told))
        self.assertEqual({key for key in left if " " in key or "\\" in key}, set(), left)
        self.assertIn("slope", told)
        for key in ("fit:line:gradient", "finding:E"):
            working = TypeAdapter(Working).dump_json(reword(explain(compute(strip()), key), SLOPE)).decode()
            self.assertEqual([part for part in re.findall(r'"([^"]*)"', working) if OURS.search(part) and " " in part], [])

    def test_as_it_was_where_the_class_says_gradient(self) -> None:
        analysis = analyse(strip())
        self.assertIs(reword(analysis, GRADIENT), analysis)
        # what says nothing of it is the same thing afterwards, so that it need not be written again
        self.assertIs(reword(analysis, SLOPE).runs, analysis.runs)
        said = reword(analysis, SLOPE)
        self.assertIs(reword(said, SLOPE), said)
        self.assertRegex(TypeAdapter(Analysis).dump_json(analysis).decode(), "gradient")

    def test_what_somebody_has_written_stays(self) -> None:
        book = lab_book(ROWS, findings=[Finding("w", "my gradient", "w", "", "gradient", "f")])
        note = Note("n", "the gradient changes here", "point", of="s2")
        book = replace(book, graphs=(replace(book.graphs[0], notes=(note,)),))
        analysis = reword(analyse(book), SLOPE)
        figure = analysis.graphs[0].figure
        assert figure is not None
        self.assertEqual((figure.notes[0].text, analysis.findings[0].name), ("the gradient changes here", "my gradient"))
        self.assertIn("slope", analysis.findings[0].formula_tex)
        self.assertEqual(reword(book, SLOPE), book)

    def test_texts_and_errors(self) -> None:
        for ours, theirs in (
            ("Gradients and a gradient.", "Slopes and a slope."), ("gradient_2", "gradient_2"), ("retrogradient", "retrogradient"),
        ):  # fmt: skip
            self.assertEqual(reword_text(ours, SLOPE), theirs)
            self.assertEqual(reword_text(ours, GRADIENT), ours)
        trouble = reword_error(CoreError("bad_job", "This fit has no {part}; it has gradient.", part="{x}"), SLOPE)
        self.assertEqual(
            (trouble.code, trouble.message, trouble.fields), ("bad_job", "This fit has no {x}; it has slope.", {"part": "{x}"})
        )

    def test_both_words_are_understood_in_formulas_and_a_slope_of_one_s_own_comes_first(self) -> None:
        findings = [Finding(key, key, key, "", formula, "f") for key, formula in (("v", "gradient"), ("w", "2 slope"))]
        found = compute(lab_book(ROWS, findings=findings)).findings
        values = [f.value for f in found.values() if not isinstance(f, CoreError)]
        self.assertAlmostEqual(values[1], 2 * values[0])
        own = Quantity("s", "constant", "slope of the roof", "slope", "", value="7")
        found = compute(lab_book(ROWS, constants=[own], findings=findings)).findings
        self.assertEqual([f.value for f in found.values() if not isinstance(f, CoreError)][1], 14)

    def test_it_is_in_the_document(self) -> None:
        self.assertEqual(write_lab_book(strip())["convention"]["slope_word"], "gradient")
