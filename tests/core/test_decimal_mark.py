"""The class's decimal mark: in every number that is told of a lab book, and in nothing that somebody has written."""

from __future__ import annotations

import random
import re
import unittest
from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from typing import Any

from hobrel.core.document.lab_book import Accepted, Convention, LabBook
from hobrel.core.document.plans import freeze_plan, open_for_bench, write_with
from hobrel.core.errors import CoreError
from hobrel.core.formulas.reading import read_formula
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.wording import reword, reword_error, reword_text
from hobrel.core.presentation.working import explain
from hobrel.core.questions.board import make_board
from hobrel.core.questions.dry_run import dry_run
from hobrel.core.questions.dry_words import show_dry_run
from hobrel.core.questions.fits import read_off_fit
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.reading_sheet import build_reading_sheet
from hobrel.core.reporting.tree import Report, Words, words_in
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from hobrel.shelf.plans import SHELF
from tests.builders import lab_book
from tests.core.said.books import write_books

COMMA = Convention(decimal_mark="comma")
POINTED = re.compile(r"\d\.\d")
LEFT = {"ShownValue.spoken", "SharedSetting.key", "FindingResult.accepted_source", "Words.text own"}
"""Where a number keeps its point: what a voice reads, a name that only programs know, and what people wrote themselves."""


def strip(**changed: Any) -> LabBook:
    return replace(write_with(write_bench(make_plan(), Story((0.3, 0.38, 0.5, 0.6, 0.65)), random.Random(1)), "comma"), **changed)


def told(book: LabBook) -> Iterator[Any]:
    """What is told of a lab book, as it goes out."""
    computation = compute(book)
    analysis = reword(present(computation, finished=True), book.convention)
    yield analysis
    yield reword(build_report(computation, analysis, ReportFrame()), book.convention)
    for key in (*(f"fit:{f.id}:gradient" for f in book.fits[:1]), *(f"finding:{f.id}" for f in book.findings[:1])):
        try:
            yield reword(explain(computation, key), book.convention)
        except CoreError as trouble:
            yield reword_error(trouble, book.convention).message


def pointed(told: Any, place: str = "") -> Iterator[tuple[str, str]]:
    """Texts with a point within a number, with the field that they are in."""
    match told:
        case str():
            if POINTED.search(told):
                yield place, told
        case LabBook():
            return
        case list() | tuple():
            for part in told:
                yield from pointed(part, place)
        case dict():
            for part in told.values():
                yield from pointed(part, place)
        case Report():
            for part in told.parts:
                own = part.section is not None or part.key in ("question", "picture")
                for block in part.blocks:
                    yield from (
                        (f"Words.text{' own' if own else ''}", t) for w in words_in(block) for _, t in pointed(getattr(w, "text", ""))
                    )
            yield from pointed(replace(told, parts=()).values)
        case _ if is_dataclass(told):
            for field in fields(told):
                yield from pointed(getattr(told, field.name), f"{type(told).__name__}.{field.name}")


class EverywhereInWhatIsTold(unittest.TestCase):
    def test_no_number_keeps_its_point_but_where_it_is_meant_to(self) -> None:
        found: dict[str, str] = {}
        for _, book in list(write_books())[::3]:
            for one in told(write_with(book, "comma")):
                found |= {place: text for place, text in pointed(one) if place not in LEFT}
        self.assertEqual(found, {})

    def test_nor_in_what_is_told_of_a_plan(self) -> None:
        for key in ("clamped-strip", "growth-in-a-flask", "iron-in-tea"):
            plan = write_with(SHELF[key][1](), "comma")
            shown = reword(show_dry_run(plan, dry_run(plan, 3, 6)), plan.convention)
            sheet = reword(build_reading_sheet(open_for_bench(freeze_plan(plan))), plan.convention)
            found = {place: text for one in (shown, sheet) for place, text in pointed(one) if place not in LEFT}
            self.assertEqual(found, {}, key)
            self.assertIn(",", shown.findings[0].value.text if shown.findings[0].value else "")

    def test_it_is_the_same_number_with_another_mark(self) -> None:
        book = strip()
        computation = compute(book)
        ours = present(computation)
        theirs = reword(ours, book.convention)
        for a, b in zip(ours.runs[0].columns, theirs.runs[0].columns, strict=True):
            self.assertEqual([c.value_text.replace(".", ",") for c in a.cells], [c.value_text for c in b.cells])
            self.assertEqual([c.value for c in a.cells], [c.value for c in b.cells])
        first = theirs.findings[0].value
        assert first is not None and ours.findings[0].value is not None
        self.assertEqual(first.text.replace(",", "."), ours.findings[0].value.text)
        self.assertEqual(first.tex.replace("{,}", "."), ours.findings[0].value.tex)
        self.assertEqual(first.spoken, ours.findings[0].value.spoken)
        figure = theirs.graphs[0].figure
        assert figure is not None
        self.assertTrue(any("," in tick.text for tick in figure.x_axis.ticks))
        # what is told with the mark is told with it once
        self.assertIs(reword(theirs, book.convention), theirs)
        self.assertIs(reword(ours, Convention()), ours)

    def test_answers_to_questions_have_it(self) -> None:
        computation = compute(strip())
        read = reword(read_off_fit(computation, "line", "forward", "0,05"), COMMA)
        self.assertRegex(f"{read.at} {read.value.text}", r"^0,05 m³ 0,\d+ ± 0,\d+ s²$")
        board = reword(make_board(strip(), "L", "T", True), COMMA)
        self.assertEqual({place for place, _ in pointed(board)} - LEFT, set())


class Texts(unittest.TestCase):
    def test_numbers_and_what_is_none(self) -> None:
        for ours, theirs in (
            ("12.4 ± 0.3 GPa", "12,4 ± 0,3 GPa"),
            ("It is −0.5 of them.", "It is −0,5 of them."),
            ("from 1.0 to 2.0.", "from 1,0 to 2,0."),
            ("(1.2, 3.4) and 5.6, 7 or x = 1.5, y = 2", "(1,2; 3,4) and 5,6; 7 or x = 1,5, y = 2"),
            ("of 12 benches, 3 differ", "of 12 benches, 3 differ"),
            ("1.5 × 10⁻³ in 2.50 s", "1,5 × 10⁻³ in 2,50 s"),
            ("12 345.6 m", "12 345,6 m"),
            ("1,234.5 as it was logged", "1,234.5 as it was logged"),
            ("on 12.5.2027, step 1.2.3", "on 12.5.2027, step 1.2.3"),
            ("https://example.org/v1.2 says 1.5", "https://example.org/v1.2 says 1,5"),
            ("10.1103/PhysRev.93.15 has 0.25", "10.1103/PhysRev.93.15 has 0,25"),
            ("The end.", "The end."),
        ):  # fmt: skip
            self.assertEqual(reword_text(ours, COMMA), theirs)
            self.assertEqual(reword_text(ours, Convention()), ours)

    def test_with_the_word_for_the_gradient_too(self) -> None:
        both = Convention(slope_word="slope", decimal_mark="comma")
        self.assertEqual(reword_text("The gradient is 1.5.", both), "The slope is 1,5.")
        self.assertEqual(reword_error(CoreError("bad_job", "A gradient of 1.5."), both).message, "A slope of 1,5.")

    def test_what_it_writes_is_read_as_the_same(self) -> None:
        for text, unit in (("12.4", ""), ("1.5e-3", "m"), ("25.0 °C", "K")):
            again, before = (parse_reading(t, unit) for t in (reword_text(text, COMMA), text))
            self.assertEqual((again.value, again.decimals), (before.value, before.decimals))
        self.assertEqual(read_formula("0,5*x", ["x"]), read_formula("0.5*x", ["x"]))


class WhatPeopleWrote(unittest.TestCase):
    def test_own_words_stay_and_values_in_them_follow(self) -> None:
        words = "We saw 12.5 of them at 0.3 m: {E}. It is known to {E,relative}."
        report = build_and_reword(strip(texts={"conclusion": words}, question="What is 0.5 of it?"))
        own = [w.text for p in report.parts for b in p.blocks for w in words_in(b) if isinstance(w, Words) and "saw" in w.text]
        self.assertEqual(own, ["We saw 12.5 of them at 0.3 m: "])
        live = [w.text for p in report.parts for b in p.blocks for w in words_in(b) if isinstance(w, Words) and w.style == "live"]
        self.assertRegex(live[0], r"^\d+,\d+ ± \d,\d+ GPa$")
        self.assertRegex(live[1], r"^\d,\d+ %$")
        self.assertIn("What is 0.5 of it?", [w.text for p in report.parts for b in p.blocks for w in words_in(b) if isinstance(w, Words)])

    def test_a_number_typed_with_either_mark_is_found_as_a_value(self) -> None:
        shown = next(v.text for v in build_and_reword(strip()).values if v.name == "E,value").split(" ")[0]
        for typed in (shown, shown.replace(",", ".")):
            offered = build_and_reword(strip(texts={"conclusion": f"It is {typed} GPa, and 3,333 others."})).offered
            self.assertEqual([(o.typed, o.name) for o in offered], [(typed, "E")])

    def test_readings_are_kept_as_typed_and_shown_with_the_mark(self) -> None:
        book = write_with(lab_book([("0.10", ["1.5"]), ("0,20", ["3.0"]), ("1,234.5", ["4.5"])]), "comma")
        before = book.runs
        report = build_and_reword(book)
        texts = [w.text for p in report.parts for b in p.blocks for w in words_in(b) if isinstance(w, Words)]
        for shown in ("0,10", "0,20", "1,234.5", "1,5"):
            self.assertIn(shown, texts)
        self.assertEqual(book.runs, before)

    def test_how_uncertain_readings_are_is_said_whole(self) -> None:
        said = [w.text for p in build_and_reword(strip()).parts for b in p.blocks for w in words_in(b) if isinstance(w, Words)]
        self.assertTrue(any("Each overhang is uncertain by 0,0005 m." in text for text in said), said)

    def test_no_number_in_mathematics_has_a_comma_that_parts(self) -> None:
        blocks = [b for p in build_and_reword(strip()).parts for b in p.blocks]
        texs = [getattr(w, "tex", "") for b in blocks for w in words_in(b)] + [getattr(b, "tex", "") for b in blocks]
        self.assertTrue(any(r"\chi^2_\nu = " in tex for tex in texs))
        self.assertEqual([tex for tex in texs if re.search(r"\d,\d", tex)], [])

    def test_sources_of_accepted_values_stay(self) -> None:
        accepted = Accepted("12.5", "0.1", "table 3.2 of doi 10.1103/PhysRev.93.15")
        book = strip()
        book = replace(book, findings=tuple(replace(f, accepted=accepted) for f in book.findings))
        found = reword(present(compute(book)), book.convention).findings[0]
        self.assertEqual(found.accepted_source, accepted.source)
        self.assertEqual(found.accepted and found.accepted.text, "12,5 ± 0,1 GPa")


def build_and_reword(book: LabBook) -> Report:
    computation = compute(book)
    analysis = reword(present(computation, finished=True), book.convention)
    return reword(build_report(computation, analysis, ReportFrame()), book.convention)
