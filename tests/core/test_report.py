"""The report's tree: readings as they were written, parts in the bench's order, own words, live values, and what is missing."""

from __future__ import annotations

import random
import re
import unittest
from collections.abc import Iterator
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from hobrel.core.document.lab_book import LabBook, Reading, read_lab_book, write_lab_book
from hobrel.core.document.plan_part import RigPart, Section
from hobrel.core.document.report_choices import OwnHeading, ReportChoices
from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.shares import share_findings
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.changes import find_changes
from hobrel.core.reporting.class_part import ClassShares
from hobrel.core.reporting.outline import plan_parts
from hobrel.core.reporting.own_text import Surroundings, read_own_text
from hobrel.core.reporting.tree import Block, Drawing, Equation, Items, LiveValue, Paragraph, Part, Report, Table, Words, plain_words
from hobrel.core.sentences import told
from hobrel.demo.written import write_practicals
from hobrel.shelf.clamped_strip import Story, make_plan, write_bench
from tests.reports import write_model

STORY = Story(tuple(round(0.3 + 0.05 * i, 3) for i in range(8)), formula="t_10/10")


def strip(**changes: object) -> LabBook:
    return replace(write_bench(make_plan(), STORY, random.Random(3)), **changes)


def report_of(book: LabBook) -> Report:
    computation = compute(book)
    return build_report(computation, present(computation), ReportFrame(("Bench Knot: Ann",), ("Ann: 3 changes",)))


def part(report: Report, key: str) -> Part:
    return next(p for p in report.parts if p.key == key)


def blocks(report: Report, kind: type[Block]) -> Iterator[Block]:
    return (b for p in report.printed for b in p.blocks if isinstance(b, kind))


def with_reading(book: LabBook, row: int, quantity: str, repeat: int, reading: Reading | None) -> LabBook:
    run = book.runs[0]
    setting = run.settings[row]
    readings = list(setting.readings[quantity])
    readings[repeat] = reading
    changed = replace(setting, readings=dict(setting.readings) | {quantity: tuple(readings)})
    return replace(book, runs=(replace(run, settings=(*run.settings[:row], changed, *run.settings[row + 1 :])), *book.runs[1:]))


class Readings(unittest.TestCase):
    def table(self, book: LabBook) -> Table:
        table = next(blocks(report_of(book), Table))
        assert isinstance(table, Table)
        return table

    def test_they_stand_as_they_were_written(self) -> None:
        table = self.table(with_reading(strip(), 0, "L", 0, Reading("0.3")))
        written = [[plain_words(cell) for cell in row] for row in table.rows]
        self.assertEqual([row[0] for row in written], ["0.3", "0.350", "0.400", "0.450", "0.500", "0.550", "0.600", "0.650"])
        self.assertEqual(written[0][1:4], ["3.58", "3.66", "3.50"])
        # the mean by hand: 10.74/3, and half the range
        self.assertEqual(written[0][4], "3.58 ± 0.08")
        self.assertEqual([plain_words(h) for h in table.head], ["L / m", "t10 / s (1)", "t10 / s (2)", "t10 / s (3)", "mean t10 / s"])
        self.assertIn("Each overhang is uncertain by 0.0005 m.", plain_words(table.caption))

    def test_what_is_made_of_constants_alone_stands_with_them_and_not_in_a_column(self) -> None:
        book = strip()
        second_moment = replace(book.quantities[-1], id="I", name="second moment", symbol="I", unit="", formula="b d^3/12")
        readings = part(report_of(replace(book, quantities=(*book.quantities, second_moment))), "readings:run1").blocks
        self.assertIn(
            "d = 3.00 ± 0.02 mm; I = 67.5 ± 1.4 mm⁴.", " ".join(plain_words(b.words) for b in readings if isinstance(b, Paragraph))
        )
        heads = [[plain_words(h) for h in b.head] for b in readings if isinstance(b, Table)]
        self.assertEqual(heads[1:], [["L / m", "T / s", "T2 / s²", "L3 / m³"]])

    def test_what_is_set_aside_is_struck_through_and_said_with_its_reason(self) -> None:
        book = with_reading(strip(), 2, "t10", 1, Reading("9.99", "somebody sneezed"))
        struck = [w.text for row in self.table(book).rows for cell in row for w in cell if isinstance(w, Words) and w.style == "struck"]
        self.assertEqual(struck, ["9.99"])
        run = book.runs[0]
        whole = replace(book, runs=(replace(run, settings=(replace(run.settings[0], set_aside="it slipped"), *run.settings[1:])),))
        (items,) = part(report_of(whole), "left_out").blocks
        assert isinstance(items, Items)
        self.assertEqual(
            [plain_words(i) for i in items.items],
            ["At L = 0.300 m, the whole setting: it slipped", "At L = 0.400 m, time of ten swings 9.99 s: somebody sneezed"],
        )
        struck = [w.text for cell in self.table(whole).rows[0] for w in cell if isinstance(w, Words) and w.style == "struck"]
        self.assertEqual(len(struck), 5)

    def test_a_blank_is_a_dash_and_an_empty_run_says_so(self) -> None:
        table = self.table(with_reading(strip(), 3, "t10", 2, None))
        self.assertEqual(plain_words(table.rows[3][3]), "–")
        empty = replace(strip(), runs=(replace(strip().runs[0], settings=()),))
        (constants, nothing) = part(report_of(empty), f"readings:{empty.runs[0].id}").blocks
        assert isinstance(constants, Paragraph) and isinstance(nothing, Paragraph)
        self.assertEqual(nothing.role, "note")


class Everything(unittest.TestCase):
    def test_every_book_of_the_demo_has_its_graphs_cards_and_findings(self) -> None:
        for practical in write_practicals():
            for bench, book in practical.books.items():
                with self.subTest(practical.draft.title, bench=bench):
                    report = report_of(book)
                    drawn = {b.key for b in blocks(report, Drawing) if isinstance(b, Drawing)}
                    analysis = present(compute(book))
                    self.assertLessEqual({f"graph-{g.graph}" for g in analysis.graphs if g.figure is not None}, drawn)
                    set_maths = {b.key for b in blocks(report, Equation) if isinstance(b, Equation)}
                    self.assertLessEqual({f"fit-{f.fit}" for f in analysis.fits if f.trouble is None}, set_maths)
                    self.assertLessEqual({f"finding-{f.finding}" for f in analysis.findings if f.value is not None}, set_maths)
                    self.assertEqual([p.key for p in report.parts if p.key.startswith("readings")], [f"readings:{r.id}" for r in book.runs])

    def test_simulated_apparatus_is_called_so(self) -> None:
        book = write_practicals()[0].books
        one = next(iter(book.values()))
        for key, said in (("", 0), ("no-such-rig", 0), ("winged-seed", 1)):
            report = report_of(replace(one, plan=replace(one.plan, rig=RigPart(key))))
            (items,) = [b for b in part(report, "sources").blocks if isinstance(b, Items)]
            found = [w for i in items.items if "is simulated: A winged seed" in (w := plain_words(i))]
            self.assertEqual(len(found), said)

    def test_a_curve_has_its_parameters(self) -> None:
        books = [book for practical in write_practicals() for book in practical.books.values() if any(f.shape != "line" for f in book.fits)]
        self.assertTrue(books)
        for book in books:
            fit = next(f for f in book.fits if f.shape != "line")
            card = next(f for f in present(compute(book)).fits if f.fit == fit.id)
            (items,) = [b for b in part(report_of(book), f"fit:{fit.id}").blocks if isinstance(b, Items)]
            said = " ".join(plain_words(i) for i in items.items)
            for parameter in card.parameters:
                assert parameter.value is not None
                self.assertIn(parameter.value.value_text, said)

    def test_a_model_stands_beside_its_points_with_what_was_given_and_found(self) -> None:
        report = report_of(write_model())
        blocks_of = part(report, "fit:m").blocks
        (equation,) = [b for b in blocks_of if isinstance(b, Equation)]
        self.assertIn(r"\frac{\mathrm{d}v}{\mathrm{d}t}", equation.tex)
        self.assertIn(r"\text{while}\ t \ge 0", equation.tex)
        (items,) = [b for b in blocks_of if isinstance(b, Items)]
        said = [plain_words(item) for item in items.items]
        # 9.0 is what the depths were made with
        found = re.search(r"k = \((\d\.\d+) ± (\d\.\d+)\) s", said[0])
        assert found is not None, said
        self.assertLess(abs(float(found[1]) - 9.0), 3 * float(found[2]))
        self.assertIn("Given: x = 0 m at t = 0 s.", said)
        self.assertIn("Given: b = 0.5 m.", said)
        # it is level where it begins, which is no turn
        self.assertFalse([words for words in said if "lowest" in words])
        self.assertTrue(
            any(words.startswith("In steps of 0.08 s, by the rate half-way along each step. Half the step moves") for words in said), said
        )
        (drawing,) = [b for b in part(report, "graph:g1").blocks if isinstance(b, Drawing)]
        kinds = [line.kind for line in drawing.figure.lines]
        self.assertLessEqual({"fit", "halved"}, set(kinds))
        self.assertEqual(kinds.count("fit"), 2)
        self.assertIn("half its step", plain_words(drawing.caption))

    def test_tables_and_figures_are_numbered_as_they_come_and_what_is_left_out_is_not(self) -> None:
        report = report_of(strip(report=ReportChoices(left_out=("graph:measured",))))
        self.assertEqual([b.number for b in blocks(report, Table) if isinstance(b, Table)], [1, 2])
        drawn = [(b.key, b.number) for b in blocks(report, Drawing) if isinstance(b, Drawing)]
        self.assertEqual(drawn, [("graph-straight", 1), ("finding-E-line", 2)])
        self.assertTrue(part(report, "graph:measured").left_out)

    def test_one_part_that_fails_leaves_the_others(self) -> None:
        broken = replace(strip(), findings=(replace(strip().findings[0], formula="16 pi^2 m/"),))
        report = report_of(broken)
        (note,) = part(report, "finding:E").blocks
        assert isinstance(note, Paragraph)
        self.assertEqual(note.role, "note")
        self.assertTrue(part(report, "graph:straight").blocks)

    def test_decisions_about_the_report_are_in_the_file(self) -> None:
        chosen = ReportChoices(("left_out",), ("workings",), (OwnHeading("s1", "Sources"),), (), {"method": {"12.4": "E"}})
        book = strip(report=chosen)
        self.assertEqual(read_lab_book(write_lab_book(book)).report, chosen)


class TheClass(unittest.TestCase):
    def report(self, bench: str, count: int = 5) -> Report:
        books = [write_bench(make_plan(), replace(STORY, modulus=12.0e9 + 0.1e9 * i), random.Random(i)) for i in range(count)]
        shares = tuple(share_findings(compute(book), f"Bench {i}") for i, book in enumerate(books))
        computation = compute(books[0])
        frame = ReportFrame(shares=ClassShares(books[0].findings, shares, bench))
        return build_report(computation, present(computation), frame)

    def test_its_value_and_where_this_bench_lies(self) -> None:
        report = self.report("Bench 0")
        words, drawing = part(report, "class").blocks
        assert isinstance(words, Paragraph) and isinstance(drawing, Drawing) and drawing.line is not None
        own = next(v.text for v in report.values if v.name == "E")
        said = plain_words(words.words)
        self.assertRegex(said, r"the class found E = 12\.\d+ ± 0\.\d+ GPa \([^.]+\), of \d+ benches(, without [^.]+)?\. This bench has ")
        self.assertIn(f"This bench has {own}.", said)
        self.assertEqual([m.name for m in drawing.line.marks], ["this bench", "the class", "accepted"])
        # no other bench is named
        self.assertNotIn("Bench 1", plain_words(words.words) + drawing.described)
        # they differ by 0.1 GPa from 12.0 on, each by chance some tenths more
        self.assertAlmostEqual(drawing.line.marks[1].value, 12.2, delta=0.3)

    def test_a_bench_without_a_finding_and_a_pool_that_is_closed(self) -> None:
        words = part(self.report("Bench 9"), "class").blocks[0]
        assert isinstance(words, Paragraph)
        self.assertIn("This bench has none.", plain_words(words.words))
        self.assertNotIn("class", [p.key for p in report_of(strip()).parts])


class Order(unittest.TestCase):
    def keys(self, **chosen: object) -> list[str]:
        return [p.key for p in plan_parts(strip(report=ReportChoices(**chosen)))]  # type: ignore[arg-type]

    def test_the_usual_one(self) -> None:
        usual = [
            "question",
            "text:expectation",
            "text:method",
            "readings:run1",
            "graph:measured",
            "graph:straight",
            "fit:line",
            "finding:E",
        ]
        self.assertEqual(self.keys()[:8], usual)
        self.assertEqual(self.keys()[8:], ["class", "left_out", "text:discussion", "text:conclusion", "workings", "sources", "history"])

    def test_what_is_named_stands_as_named_and_all_else_after_what_it_comes_after(self) -> None:
        keys = self.keys(order=("text:conclusion", "question"))
        self.assertLess(keys.index("text:conclusion"), keys.index("question"))
        # what follows the conclusion by itself follows it still
        self.assertEqual(keys[:4], ["text:conclusion", "workings", "sources", "history"])
        self.assertEqual(sorted(keys), sorted(self.keys()))

    def test_a_part_that_is_gone_means_nothing(self) -> None:
        self.assertEqual(self.keys(order=("graph:gone", "question")), self.keys())

    @given(st.lists(st.sampled_from(["question", "text:method", "graph:straight", "history", "x:y"]), max_size=8))
    def test_no_order_loses_or_doubles_a_part(self, order: list[str]) -> None:
        keys = self.keys(order=tuple(order))
        self.assertEqual(sorted(keys), sorted(self.keys()))
        named = [k for k in dict.fromkeys(order) if k in keys]
        self.assertEqual([k for k in keys if k in named], named)

    def test_sections_of_the_plan_and_of_the_bench(self) -> None:
        book = strip(report=ReportChoices(sections=(OwnHeading("own", "Sources"),)))
        book = replace(book, plan=replace(book.plan, sections=(Section("why", "Why so?", "Say why.", True, 50),)), texts={"why": "So."})
        section = part(report_of(book), "text:why").section
        assert section is not None
        self.assertEqual((section.words, section.fewest_words, section.own), (1, 50, False))
        own = part(report_of(book), "text:own").section
        assert own is not None
        self.assertTrue(own.own)


VALUES = {"E": LiveValue("E", (), "12.5 ± 0.3 GPa", "stiffness"), "E,relative": LiveValue("E,relative", (), "2.1 %", "")}


class OwnWords(unittest.TestCase):
    def read(self, text: str) -> tuple[Block, ...]:
        return read_own_text(text, "method", Surroundings(VALUES, {"graph-g"}, {"T", "t_10", "m", "b", "d"})).blocks

    def test_paragraphs_lists_and_headings(self) -> None:
        found = self.read("First\nline\n\n- one\n- two\n1. a\n2) b\n# Why\nSo.")
        self.assertEqual([type(b).__name__ for b in found], ["Paragraph", "Items", "Items", "Heading", "Paragraph"])
        first, bullets, numbered = found[:3]
        assert isinstance(first, Paragraph) and isinstance(bullets, Items) and isinstance(numbered, Items)
        self.assertEqual(plain_words(first.words), "First\nline")
        self.assertEqual(([plain_words(i) for i in bullets.items], bullets.numbered), (["one", "two"], False))
        self.assertEqual(([plain_words(i) for i in numbered.items], numbered.numbered), (["a", "b"], True))

    def lists(self, text: str) -> list[tuple[int, int] | str]:
        """Of each list the number of its first item, 0 where it has none, and how many they are; of anything else what it is."""
        return [(b.first if b.numbered else 0, len(b.items)) if isinstance(b, Items) else type(b).__name__ for b in self.read(text)]

    def test_numbers_stay_as_they_were_typed(self) -> None:
        self.assertEqual(self.lists("1. Set up\n\n2. Measure\n\n3. Plot"), [(1, 3)])
        self.assertEqual(self.lists("1. Set up\nwith care\n2. Measure\n3. Plot"), [(1, 1), "Paragraph", (2, 2)])
        self.assertEqual(self.lists("1. a\n3. c\n\n1. a\n1. b"), [(1, 1), (3, 1), (1, 1), (1, 1)])
        self.assertEqual(self.lists("- a\n\n1. b\n\n- c"), [(0, 1), (1, 1), (0, 1)])
        self.assertEqual(self.lists("0. a\n1. b"), [(0, 2)])

    def test_strokes_and_stars_before_items_and_a_minus_that_is_none(self) -> None:
        self.assertEqual(self.lists("* a\n* b\n- 5 c\n- 6 d"), [(0, 4)])
        self.assertEqual(self.styles("– 5 °C was the coldest."), [("– 5 °C was the coldest.", "plain")])
        self.assertEqual(self.lists("-5 °C\n\n- .5 V"), ["Paragraph", "Paragraph"])

    def styles(self, text: str) -> list[tuple[str, str]]:
        (paragraph,) = self.read(text)
        assert isinstance(paragraph, Paragraph)
        return [(w.text, w.style) for w in paragraph.words if isinstance(w, Words)]

    def test_emphasis_values_and_what_is_none(self) -> None:
        self.assertEqual(self.styles("so *very* true"), [("so ", "plain"), ("very", "italic"), (" true", "plain")])
        for product in ("2 * 3 * 4", "V = 4*pi*r", "T = 2*pi*sqrt(l/g)", "a*b", "x*(y)*z", "2**3**4", "(a)*b*(c)", "*", "** **", "5 *x*2"):
            with self.subTest(product):
                self.assertEqual(self.styles(product), [(product, "plain")])
        self.assertEqual(self.styles("**very**, (*so*)"), [("very", "italic"), (", (", "plain"), ("so", "italic"), (")", "plain")])
        self.assertEqual(self.styles("{E}, {E, relative}"), [("12.5 ± 0.3 GPa", "live"), (", ", "plain"), ("2.1 %", "live")])
        self.assertEqual(self.styles("{nothing}"), [("{nothing}", "gone")])
        self.assertEqual(self.styles("**{E}**"), [("**", "plain"), ("12.5 ± 0.3 GPa", "live"), ("**", "plain")])
        # a set, and not a name
        self.assertEqual(self.styles("{1, 2 and 3}"), [("{1, 2 and 3}", "plain")])
        self.assertEqual(read_own_text("{nothing} {E} {=1/}", "m", Surroundings(VALUES, (), ())).unknown, ("{nothing}", "{=1/}"))

    def test_mathematics_in_our_grammar(self) -> None:
        (alone,) = self.read("{= T = t_10/10}")
        assert isinstance(alone, Equation)
        self.assertEqual(alone.tex, r"T = \frac{t_{10}}{10}")
        self.assertEqual(plain_words(self.inline("so {= bd}")), "so b d")
        # letters that the lab book does not know are taken as they stand
        self.assertEqual(plain_words(self.inline("{= F = k x} holds")), "F = k x holds")

    def inline(self, text: str) -> tuple[object, ...]:
        (paragraph,) = self.read(text)
        assert isinstance(paragraph, Paragraph)
        return paragraph.words

    def test_a_pointer_gets_its_number(self) -> None:
        book = strip(texts={"discussion": "As {see:graph-straight} and {see:readings-run1} show; {see:finding-E}."})
        report = report_of(book)
        (paragraph,) = part(report, "text:discussion").blocks
        assert isinstance(paragraph, Paragraph)
        self.assertEqual(plain_words(paragraph.words), "As Figure 2 and Table 1 show; Equation 1.")
        numbered = [b.key for b in blocks(report, Equation) if isinstance(b, Equation) and b.number]
        self.assertEqual(numbered, ["finding-E"])
        hidden = replace(book, report=ReportChoices(left_out=("graph:straight",)))
        (paragraph,) = part(report_of(hidden), "text:discussion").blocks
        assert isinstance(paragraph, Paragraph)
        self.assertIn("a part that is left out", plain_words(paragraph.words))

    def test_words_are_counted(self) -> None:
        around = Surroundings(VALUES, (), ())
        self.assertEqual(read_own_text("It’s well-known: 3 cm.", "m", around).words, 4)
        self.assertEqual(read_own_text(" \n\n ", "m", around), read_own_text("", "m", around))

    @settings(max_examples=400)
    @given(st.text(alphabet="ab1{}=*-#. \n[]\\$^_π±,:é", max_size=120))
    def test_nothing_that_is_typed_is_lost_and_nothing_breaks(self, text: str) -> None:
        found = self.read(text)
        said = "".join(
            plain_words(b.words) if isinstance(b, Paragraph) or not isinstance(b, Items | Equation) else
            "".join(map(plain_words, b.items)) if isinstance(b, Items) else write_plainly(b.tex)
            for b in found
        )  # fmt: skip
        for letter in "é":
            self.assertEqual(said.count(letter), text.count(letter))


class Missing(unittest.TestCase):
    def codes(self, book: LabBook) -> list[tuple[str, str]]:
        return [(m.part, m.words.code) for m in report_of(book).missing]

    def test_sections_names_and_results(self) -> None:
        texts = {"expectation": "Longer is slower.", "method": "We timed it. {oops}", "discussion": "Well.", "conclusion": "Yes."}
        self.assertEqual(self.codes(strip(texts=texts)), [("text:method", "no_such_value")])
        self.assertIn(("text:conclusion", "section_empty"), self.codes(strip(texts=texts | {"conclusion": " "})))
        left_out = strip(texts=texts | {"conclusion": ""}, report=ReportChoices(left_out=("text:conclusion", "text:method")))
        self.assertEqual(self.codes(left_out), [])
        planned = strip(texts=texts)
        planned = replace(planned, plan=replace(planned.plan, sections=(Section("why", "Why?", "", True, 5),)))
        self.assertIn(("text:why", "section_empty"), self.codes(planned))
        self.assertIn(("text:why", "section_short"), self.codes(replace(planned, texts=texts | {"why": "It is so."})))
        enough = replace(planned, texts=texts | {"why": "It is so, I think."})
        self.assertNotIn("text:why", [key for key, _ in self.codes(enough)])

    def test_slips_and_findings(self) -> None:
        slip = with_reading(strip(), 4, "t10", 1, Reading("77.1"))
        self.assertIn(("", "slips_open"), self.codes(slip))
        unstated = strip(bench_rounds=True)
        self.assertIn(("finding:E", "finding_not_stated"), self.codes(unstated))
        self.assertIn(("", "nothing_found"), self.codes(replace(strip(), fits=(), findings=())))


class PlainMathematics(unittest.TestCase):
    def test_what_is_set_is_said(self) -> None:
        said = {
            r"E = \frac{16\,\pi^{2}\,m}{b\,d^{3}}": "E = (16 π² m)/(b d³)",
            r"(4.66 \pm 0.02)\ \mathrm{s}^{2}/\mathrm{m}^{3}": "(4.66 ± 0.02) s²/m³",
            r"u = \sqrt{(\underbrace{0.100 \times 0.080}_{t_{10}})^2}": "u = √((0.100 × 0.080)²)",
            r"\chi^2_\nu = 0.96": "χ²_ν = 0.96",
            r"a\,t^{b}": "a t^b",
            r"20\,^{\circ}\mathrm{C}": "20 °C",
            r"1.2 \times 10^{-5}": "1.2 × 10⁻⁵",
            r"\mathit{load}_{\mathrm{max}}": "load_max",
        }
        for tex, plain in said.items():
            with self.subTest(tex):
                self.assertEqual(write_plainly(tex), plain)


class Changes(unittest.TestCase):
    def between(self, before: LabBook, after: LabBook) -> dict[str, str]:
        return {c.title: told(c.words) for c in find_changes(report_of(before), report_of(after))}

    def test_nothing_has_changed(self) -> None:
        self.assertEqual(self.between(strip(), strip()), {})

    def test_a_reading_and_what_is_found_by_it(self) -> None:
        found = self.between(strip(), with_reading(strip(), 7, "t10", 0, Reading("12.90")))
        self.assertIn("0.650, t10 / s (1): 11.36 is now 12.90.", found["Readings"])
        self.assertRegex(
            found["Finding: stiffness modulus of the strip"], r"^Then: E = 12\.\d ± 0\.\d GPa\. Now: E = \d+\.\d ± \d\.\d GPa\.$"
        )
        self.assertIn("Now: Gradient: ", found["What the line says"])

    def test_set_aside_a_row_more_and_a_row_fewer(self) -> None:
        aside = with_reading(strip(), 2, "t10", 1, Reading("5.51", "somebody sneezed"))
        self.assertIn("5.51 is now 5.51 (set aside)", self.between(strip(), aside)["Readings"])
        run = strip().runs[0]
        fewer = replace(strip(), runs=(replace(run, settings=run.settings[:-1]),))
        self.assertEqual(self.between(strip(), fewer)["Readings"], "There were 8 rows; there are 7.")
        self.assertEqual(self.between(fewer, strip())["Readings"], "There were 7 rows; there are 8.")

    def test_words_then_and_now_and_parts_that_come_and_go(self) -> None:
        before, after = strip(texts={"method": "By hand."}), strip(texts={"method": "By *eye*.\n\n- twice", "discussion": "So."})
        found = {c.title: c for c in find_changes(report_of(before), report_of(after))}
        self.assertEqual((found["Method"].before, found["Method"].after), ("By hand.", "By eye.\n– twice"))
        self.assertEqual((told(found["Discussion"].words), found["Discussion"].after), ("It was not in the report before.", "So."))
        self.assertEqual(self.between(after, before)["Discussion"], "It is no longer in the report.")

    def test_many_changes_are_counted(self) -> None:
        many = strip()
        for row in range(8):
            for repeat in range(2):
                many = with_reading(many, row, "t10", repeat, Reading(f"{5 + row}.{repeat}1"))
        self.assertRegex(self.between(strip(), many)["Readings"], r"And \d+ more\.$")
