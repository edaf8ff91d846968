"""What stands in the report of every plan of the shelf, filled with believed readings: as a physics teacher would have it printed."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from unittest import TestCase

import numpy as np

from hobrel.core.document.lab_book import LabBook, Reading
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.questions.believed import believe
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.changes import find_changes
from hobrel.core.reporting.readings import texts_of
from hobrel.core.reporting.tree import (
    MOST_LETTERS,
    Block,
    Drawing,
    Equation,
    Heading,
    Items,
    Report,
    Table,
    letters_of,
    plain_words,
    words_in,
)
from hobrel.core.rounding import MINUS
from hobrel.core.sentences import told
from hobrel.shelf.plans import SHELF
from tests.reports import write_log


def believed(key: str) -> LabBook:
    _, write = SHELF[key]
    return next(iter(believe(write()).draw(np.random.default_rng(5), 1)))


def report_of(book: LabBook) -> Report:
    computation = compute(book)
    return build_report(computation, present(computation), ReportFrame())


def blocks(report: Report) -> Iterator[tuple[str, Block]]:
    return ((part.key, block) for part in report.printed for block in part.blocks)


class EveryPlan(TestCase):
    reports: dict[str, tuple[LabBook, Report]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.reports = {key: (book, report_of(book)) for key in SHELF for book in [believed(key)]}

    def test_what_is_called_by_its_symbol_keeps_it_and_is_called_once(self) -> None:
        """“G: g = 9.8” is another quantity."""
        book = believed("clamped-strip")
        named = book.findings[0].name
        for name, heading in (("E", "E = "), (named, f"{named[0].upper()}{named[1:]}: E = ")):
            report = report_of(replace(book, findings=(replace(book.findings[0], name=name),)))
            headings = [plain_words(block.words) for _, block in blocks(report) if isinstance(block, Heading)]
            self.assertEqual(sum(h.startswith(heading) for h in headings), 1, headings)

    def test_no_sentence_ends_twice_and_none_asks(self) -> None:
        for key, (_, report) in self.reports.items():
            for part, block in blocks(report):
                words = plain_words(words_in(block))
                with self.subTest(key, part=part):
                    self.assertNotRegex(words, r"[.?:;][.:;]")
                    self.assertTrue(part == "question" or "?" not in words, words)

    def test_units_signs_and_exact_numbers(self) -> None:
        for key, (_, report) in self.reports.items():
            for part, block in blocks(report):
                words = "".join(w.text for w in words_in(block) if w.kind == "words")
                with self.subTest(key, part=part):
                    self.assertNotIn("^", words)
                    self.assertNotRegex(words, r"(?<![\w-])-\d", "a minus")
                    self.assertNotRegex(words, r"± 0(?![.\d])", "what is exact has no ±")
                    self.assertNotRegex(words, r"(?<![\d.])0 %", "what makes nothing of a ± is not said")
                    self.assertNotRegex(words, r"\d [°′″](?!C)")

    def test_symbols_stand_as_symbols(self) -> None:
        for key, (_, report) in self.reports.items():
            for part, block in blocks(report):
                for words in words_in(block):
                    if words.kind == "words":
                        with self.subTest(key, part=part, words=words.text):
                            self.assertNotRegex(words.text, r"(?<!\w)[^\W\d_]_\w")

    def test_formulas_have_no_brackets_twice(self) -> None:
        for key, (_, report) in self.reports.items():
            for _, block in blocks(report):
                if isinstance(block, Equation):
                    with self.subTest(key, tex=block.tex):
                        self.assertNotRegex(block.tex, r"\\left\(\\left\([^()]*\\right\)\\right\)")
                        # of a single part there is no root to take
                        self.assertNotRegex(block.tex, r"\\sqrt\{\(\\underbrace(?!.*\+ \(\\underbrace)")

    def test_captions_are_sentences(self) -> None:
        for key, (_, report) in self.reports.items():
            for _, block in blocks(report):
                if isinstance(block, Table | Drawing):
                    caption = plain_words(block.caption)
                    with self.subTest(key, caption=caption):
                        # a symbol is no word: Θ is not θ
                        self.assertTrue(caption[:1] == caption[:1].upper() or block.caption[1].style == "sub", caption)
                        self.assertNotIn("Θ", caption)
                        self.assertTrue(caption.endswith("."))

    def test_every_reading_stands_there_as_it_was_written(self) -> None:
        for key, (book, report) in self.reports.items():
            tables = {block.key: block for _, block in blocks(report) if isinstance(block, Table)}
            for run in book.runs:
                written = [text.replace("-", MINUS) for s in run.settings for q in book.table_of(run) for text in texts_of(s, q.id)]
                of_run = [t for name, t in tables.items() if name.startswith(f"readings-{run.id}")]
                cells = [plain_words(cell) for table in of_run for row in table.rows for cell in row]
                with self.subTest(key, run=run.id):
                    self.assertEqual([text for text in written if text not in cells], [])

    def test_no_table_is_so_wide_that_a_number_breaks(self) -> None:
        """The winged seed is read twelve times a setting, in three quantities: one table of seventeen columns broke each ± in three."""
        for key, (_, report) in self.reports.items():
            tables = [block for _, block in blocks(report) if isinstance(block, Table)]
            for table in tables:
                letters = sum(letters_of(head, [row[i] for row in table.rows])[0] for i, head in enumerate(table.head))
                with self.subTest(key, table=table.key):
                    self.assertLessEqual(letters, MOST_LETTERS)
        _, seed = self.reports["winged-seed"]
        first, *more = [block for _, block in blocks(seed) if isinstance(block, Table) and block.key.startswith("readings-")]
        self.assertEqual([plain_words(t.caption) for t in more], ["At the same settings: distance from the mark."])
        self.assertEqual([plain_words(row[0]) for row in more[0].rows], [plain_words(row[0]) for row in first.rows])
        self.assertEqual([plain_words(t.head[0]) for t in (first, *more)], ["L / mm"] * 2)
        self.assertEqual([len(t.head) for t in (first, *more)], [11, 6])

    def test_constants_are_put_in_with_their_own_digits(self) -> None:
        """60.0 s and 0.00040 s were typed so; 60 s and 4.00 × 10⁻⁴ s were not."""
        _, report = self.reports["behind-sheets-of-lead"]
        formulas = " ".join(b.tex for part, b in blocks(report) if isinstance(b, Equation) and part == "workings")
        for number in ("60.0", "0.00040"):
            with self.subTest(number):
                self.assertRegex(formulas, rf"(?<![\d.]){re.escape(number)}\\")
                self.assertNotRegex(formulas, rf"(?<![\d.]){number.rstrip('0').rstrip('.')}\\ ")


class SingleOnes(TestCase):
    def test_an_instruments_half_division_is_said_whole(self) -> None:
        """Half of a division of 5 mL is 2.5 mL (common practice), also where a ± is rounded to one figure."""
        captions = [plain_words(b.caption) for _, b in blocks(report_of(believed("singing-bottle"))) if isinstance(b, Table)]
        self.assertIn("Each volume of air in the bottle is uncertain by 2.5 mL.", captions[0])

    def test_what_is_read_from_a_curve_is_not_said_to_be_from_a_line(self) -> None:
        for key, what in (("salt-in-rock-pools", "read back from the curve"), ("straw-balance", "read back from the line")):
            words = " ".join(plain_words(words_in(b)) for _, b in blocks(report_of(believed(key))))
            with self.subTest(key):
                self.assertIn(what, words)

    def test_two_fits_of_one_graph_are_told_apart(self) -> None:
        """By run and stretch, with the unit along the graph: in the titles, in the workings and in what was left out."""
        report = report_of(write_log())
        titles = [p.title for p in report.printed if p.key.startswith("fit:")]
        self.assertEqual(titles, [f"What the line says: {run} the lid, 35 s to 95 s" for run in ("Without", "With")])
        left_out = [plain_words(i) for p, b in blocks(report) if p == "left_out" and isinstance(b, Items) for i in b.items]
        self.assertEqual(
            [line.partition(":")[0] for line in left_out], ["With the lid, rows 201 to 240", "Without the lid", "With the lid"]
        )
        headings = [plain_words(b.words) for p, b in blocks(report) if p == "workings" and isinstance(b, Heading)]
        self.assertEqual(len(set(headings)), len(headings))
        self.assertTrue(headings[0].startswith("Gradient of the line, T against t, Without the lid, 35 s to 95 s: "), headings[0])

    def test_so_are_two_of_two_graphs(self) -> None:
        report = report_of(believed("winged-seed"))
        headings = [plain_words(b.words) for p, b in blocks(report) if p == "workings" and isinstance(b, Heading)]
        fits = [heading.partition(":")[0] for heading in headings if heading.startswith("Gradient")]
        self.assertEqual(fits, ["Gradient of the line, t against L", "Gradient of the line, N against 1/L"])

    def test_changes_are_found_in_every_table_and_rows_are_counted_once(self) -> None:
        seed, felt = believed("winged-seed"), believed("sound-through-felt")
        run = seed.runs[0]
        first = run.settings[0]
        other = replace(first, readings={**first.readings, "r": (Reading("77"), *first.readings["r"][1:])})
        changed = replace(seed, runs=(replace(run, settings=(other, *run.settings[1:])), *seed.runs[1:]))
        said = " ".join(told(change.words) for change in find_changes(report_of(seed), report_of(changed)))
        self.assertIn("r / cm (1)", said)
        self.assertIn("is now 77", said)
        # it has no constants: what follows from its readings is its second block, and was counted too
        shorter = replace(felt, runs=(replace(felt.runs[0], settings=felt.runs[0].settings[:-1]),))
        said = " ".join(told(change.words) for change in find_changes(report_of(felt), report_of(shorter)))
        self.assertIn("There were 10 rows; there are 9.", said)
