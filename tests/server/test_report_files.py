"""One tree in five writings: what stands in it is read back from page, HTML, PDF, DOCX and ODT, block by block and in order."""

from __future__ import annotations

import io
import os
import random
import re
import shutil
import subprocess
import tempfile
import unittest
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from html import unescape
from pathlib import Path
from xml.etree import ElementTree

from django.test import override_settings
from pypdf import PdfReader

from hobrel.core.document.lab_book import LabBook
from hobrel.core.document.report_choices import OwnHeading
from hobrel.core.errors import CoreError
from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.typeset import formula_tex
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.showing import tex_unit
from hobrel.core.presentation.wording import Wording
from hobrel.core.questions.dry_run import draw_example
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.tree import Block, Drawing, Equation, Heading, Inlines, Items, Maths, Paragraph, Part, Report, Table, Words
from hobrel.demo.written import write_practicals
from hobrel.reports.document import Sheets, write_document
from hobrel.reports.export import Ending, ReportFiles, export_report
from hobrel.reports.mathematics import convert_maths, maths_in, run_pandoc
from hobrel.reports.templates import make_template
from hobrel.shelf.plans import SHELF
from tests.reports import JUDGED, write_line

LONG = os.environ.get("HOBREL_LONG") == "1"
ENDINGS: tuple[Ending, ...] = ("html", "pdf", "docx", "odt")
W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"
FRAME = ReportFrame(
    ("Bench Knot: Ann Wren, Bo Lind", "Tidewater College, 11B · 29 November 2026"), ("Ann Wren: 3 changes, on 29 November 2026",)
)


@cache
def demo_books() -> dict[str, LabBook]:
    return {f"{p.draft.title}, {bench}": book for p in write_practicals() for bench, book in p.books.items()}


@cache
def shelf_books() -> dict[str, LabBook]:
    return {name: draw_example(write(), 7) for name, (_, write) in SHELF.items()}


def report_of(book: LabBook) -> Report:
    computation = compute(book)
    return build_report(computation, present(computation), FRAME)


def sample() -> Iterator[tuple[str, LabBook]]:
    """A line with bars both ways, a curve, and a log with several stretches; everything in the long run."""
    yield from ((name, write()) for name, write in JUDGED.items())
    if LONG:
        yield from demo_books().items()
        yield from shelf_books().items()


def words_in(words: Inlines) -> Iterator[str]:
    return (piece for w in words if not isinstance(w, Maths) for piece in w.text.split("\n"))


def pieces_of(block: Block) -> Iterator[str]:
    match block:
        case Paragraph() | Heading():
            yield from words_in(block.words)
        case Items():
            for item in block.items:
                yield from words_in(item)
        case Table():
            yield f"Table {block.number}."
            yield from words_in(block.caption)
            for row in (block.head, *block.rows):
                for cell in row:
                    yield from words_in(cell)
        case Drawing():
            yield f"Figure {block.number}."
            yield from words_in(block.caption)


def pieces(report: Report) -> Iterator[str]:
    yield report.title
    yield from report.byline
    for part in report.printed:
        yield part.title
        for block in part.blocks:
            yield from pieces_of(block)


def close(text: str) -> str:
    return re.sub(r"\s+", "", text)


def text_of(content: bytes, ending: Ending) -> str:
    """All that is written in a file, in its order, without blanks."""
    if ending == "html":
        body = content.decode().partition("<main>")[2]
        body = re.sub(r"<svg.*?</svg>|<math.*?</math>", "", body, flags=re.DOTALL)
        return close(unescape(re.sub(r"<[^>]+>", "", body)))
    if ending == "pdf":
        pages = [page.extract_text() for page in PdfReader(io.BytesIO(content)).pages]
        top = close(FRAME.byline[0])
        texts = [close(re.sub(r"\n?\d+ of \d+\s*$", "", page)) for page in pages]
        # the running head stands at the top of all pages but the first
        return texts[0] + "".join(text.partition(top)[2] if top in text[:120] else text for text in texts[1:])
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        if ending == "docx":
            tree = ElementTree.fromstring(archive.read("word/document.xml"))
            return close("".join(e.text or "" for e in tree.iter(f"{W}t")))
        return close("".join(ElementTree.fromstring(archive.read("content.xml")).itertext()))


class Writings(unittest.TestCase):
    def test_every_block_stands_in_every_file_in_its_order(self) -> None:
        for name, book in sample():
            report = report_of(book)
            for ending in ENDINGS:
                with self.subTest(name, ending=ending), self.assertNoLogs("hobrel.reports", "WARNING"):
                    text, at = text_of(export_report(ReportFiles(report), ending, "a4"), ending), 0
                    for piece in pieces(report):
                        found = text.find(close(piece), at)
                        self.assertGreaterEqual(found, 0, f"{piece!r} is not after {text[max(0, at - 80) : at]!r}")
                        at = found + len(close(piece))

    def test_mathematics_is_native_and_counted(self) -> None:
        report = report_of(write_line())
        wanted = len(list(maths_in(report)))
        self.assertGreater(wanted, 30)
        self.assertEqual(export_report(ReportFiles(report), "html", "a4").decode().count("<math "), wanted)
        with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "docx", "a4"))) as archive:
            self.assertEqual(archive.read("word/document.xml").decode().count("<m:oMath>"), wanted)
        with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "odt", "a4"))) as archive:
            self.assertEqual(sum(bool(re.fullmatch(r"Formula-\d+/content\.xml", n)) for n in archive.namelist()), wanted)

    def test_what_a_word_processor_needs_is_there(self) -> None:
        report = report_of(demo_books()["The clamped strip, Sanderling"])
        with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "docx", "a4"))) as archive:
            document, core = archive.read("word/document.xml").decode(), archive.read("docProps/core.xml").decode()
        for style in ("Title", "Author", "Heading1", "TableCaption", "ImageCaption", "Quiet" if "Quiet" in document else "BodyText"):
            self.assertIn(f'<w:pStyle w:val="{style}"', document)
        self.assertEqual((document.count("<w:tbl>"), document.count("<w:tblHeader"), document.count("<pic:pic>")), (2, 2, 3))
        described = re.findall(r'<wp:docPr[^>]*descr="([^"]*)"', document)
        self.assertEqual([d for d in described if d.startswith("Graph of")], [d for d in described if "bar" not in d[:9]][:2])
        self.assertIn("<dc:title>The clamped strip</dc:title>", core)
        self.assertIn("Bench Knot: Ann Wren, Bo Lind", core)

    def test_a_school_s_own_template_gives_the_look(self) -> None:
        report = Report("Own", (), (Part("a", "A", (Paragraph((Words("So."),)),)),))
        with tempfile.TemporaryDirectory() as folder, override_settings(DATA=Path(folder)):
            own = io.BytesIO()
            with zipfile.ZipFile(io.BytesIO(make_template("docx", "a4"))) as ours, zipfile.ZipFile(own, "w") as theirs:
                for name in ours.namelist():
                    theirs.writestr(name, ours.read(name).replace(b"5B2A5E", b"00AA00"))
            Path(folder, "report-template.docx").write_bytes(own.getvalue())
            with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "docx", "a4"))) as archive:
                styles = archive.read("word/styles.xml")
        self.assertIn(b"00AA00", styles)
        self.assertNotIn(b"5B2A5E", styles)

    def test_pages_can_be_read_aloud_and_are_bookmarked(self) -> None:
        report = report_of(demo_books()["The clamped strip, Sanderling"])
        content = export_report(ReportFiles(report), "pdf", "a4")
        self.assertIn(b"pdfuaid:part", content)
        reader = PdfReader(io.BytesIO(content))
        root = reader.trailer["/Root"]
        self.assertTrue(root["/MarkInfo"]["/Marked"])
        self.assertEqual((root["/Lang"], reader.metadata.title), ("en-GB", "The clamped strip"))
        (whole,) = [entry for entry in reader.outline if not isinstance(entry, list)]
        self.assertEqual(whole.title, "The clamped strip")
        (parts,) = [entry for entry in reader.outline if isinstance(entry, list)]
        titles = [entry.title for entry in parts if not isinstance(entry, list)]
        self.assertEqual(titles, [part.title for part in report.printed])
        fonts = {str(f["/BaseFont"]) for page in reader.pages for f in (o.get_object() for o in page["/Resources"]["/Font"].values())}
        self.assertTrue(any("HobrelPrint" in font.replace("-", "") for font in fonts), fonts)
        self.assertGreater(len(reader.pages), 2)
        letter = PdfReader(io.BytesIO(export_report(ReportFiles(report), "pdf", "letter")))
        self.assertEqual([round(float(v)) for v in letter.pages[0].mediabox[2:]], [612, 792])
        self.assertEqual([round(float(v)) for v in reader.pages[0].mediabox[2:]], [595, 842])

    def test_word_processors_get_the_paper_that_is_wanted(self) -> None:
        """ISO 216: 210 mm × 297 mm; letter is 8.5 in × 11 in (12240 × 15840 twentieths of a point)."""
        report = Report("Short", (), (Part("a", "A", (Paragraph((Words("Words."),)),)),))
        wanted = {"a4": (["11906", "16838"], ["21.0cm", "29.7cm"]), "letter": (["12240", "15840"], ["21.59cm", "27.94cm"])}
        for paper, (twips, lengths) in wanted.items():
            with self.subTest(paper):
                with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "docx", paper))) as archive:  # type: ignore[arg-type]
                    size = re.search(r"<w:pgSz [^>]*>", archive.read("word/document.xml").decode())
                assert size is not None
                self.assertEqual([re.findall(rf'w:{side}="(\d+)"', size[0])[0] for side in "wh"], twips)
                with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "odt", paper))) as archive:  # type: ignore[arg-type]
                    styles = archive.read("styles.xml").decode()
                self.assertEqual([re.findall(rf'fo:page-{side}="([^"]*)"', styles)[0] for side in ("width", "height")], lengths)

    def test_mathematics_that_cannot_be_read_is_written_plainly(self) -> None:
        odd = r"\unheardof{x} = 3"
        report = Report("Odd", (), (Part("a", "A", (Paragraph((Words("So "), Maths(odd))), Equation("e", odd))),))
        for ending in ENDINGS:
            with self.subTest(ending), self.assertLogs("hobrel.reports", "ERROR") if ending == "html" else self.subTest(ending):
                text = text_of(export_report(ReportFiles(report), ending, "a4"), ending)
                self.assertIn(close(write_plainly(odd)), text)
                self.assertNotIn("unheardof", text)


@unittest.skipUnless(LONG and shutil.which("soffice"), "a free office program opens them, in ./run test --long")
class Office(unittest.TestCase):
    def test_it_opens_them_and_prints_what_stands_in_the_tree(self) -> None:
        for name, write in JUDGED.items():
            report = report_of(write())
            for ending in ("docx", "odt"):
                with self.subTest(name, ending=ending), tempfile.TemporaryDirectory() as place:
                    file = Path(place) / f"report.{ending}"
                    file.write_bytes(export_report(ReportFiles(report), ending, "a4"))  # type: ignore[arg-type]
                    command = [
                        "soffice",
                        "--headless",
                        f"-env:UserInstallation=file://{place}/home",
                        "--convert-to",
                        "pdf",
                        "--outdir",
                        place,
                    ]
                    subprocess.run([*command, str(file)], check=True, capture_output=True, timeout=180)
                    pages = PdfReader(Path(place) / "report.pdf").pages
                    text = close("".join(page.extract_text() for page in pages))
                    for part in report.printed:
                        self.assertIn(close(part.title), text)
                    self.assertFalse(re.search(r"\\[a-z]+|¿", text), "mathematics that was not understood")


ODD = (
    "#import $x$ [a](b) <b> </w:t> &amp; \\frac{ ``` @ref <label> /* // ~~ ![](x) <!-- ]]> javascript: \u202e 😀 漢字 e\u0301 \x01 \x0b "
    "\u2028 {E, {,} {=} {= 1/} {= ((((} ^ == -- || \u00a0 <script>alert(1)</script> " + "a" * 400
)


class Names(unittest.TestCase):
    """Names of other languages are in letters of one cut with the rest, not in those of whatever font the server has."""

    NAME = "Łukasz, Ágnes, Şebnem, Dvořák and Ólafur"

    def setUp(self) -> None:
        self.report = report_of(replace(next(iter(JUDGED.values()))(), title=self.NAME))

    def test_on_paper(self) -> None:
        reader = PdfReader(io.BytesIO(export_report(ReportFiles(self.report), "pdf", "a4")))
        self.assertIn(self.NAME, " ".join(reader.pages[0].extract_text().split()))
        fonts = [str(f.get_object()["/BaseFont"]) for f in reader.pages[0]["/Resources"]["/Font"].values()]
        self.assertTrue(any("HobrelPrintExtended-Bold" in font for font in fonts), fonts)
        self.assertFalse(any("Libertinus" in font and "Bold" in font for font in fonts), fonts)

    def test_in_a_page_of_its_own(self) -> None:
        """The letters come along where there are any, and only there."""
        plain = report_of(next(iter(JUDGED.values()))())
        for report, faces in ((self.report, 6), (plain, 3)):
            self.assertEqual(export_report(ReportFiles(report), "html", "a4").count(b"@font-face"), faces)


class OddTexts(unittest.TestCase):
    def test_whatever_is_written_every_file_is_made_and_holds_it(self) -> None:
        for name, write in JUDGED.items():
            book = write()
            sections = tuple(OwnHeading(f"s{i}", f"{word}"[:120]) for i, word in enumerate(ODD.split()))
            book = replace(
                book,
                title=ODD[:120],
                texts={s.id: f"{word}\n\n- {word}\n{word} kept" for s, word in zip(sections, ODD.split(), strict=True)},
                report=replace(book.report, sections=sections),
                runs=tuple(replace(run, name=ODD[:40]) for run in book.runs),
                graphs=tuple(replace(graph, title=ODD) for graph in book.graphs),
                quantities=tuple(replace(quantity, name=ODD[60:120]) for quantity in book.quantities),
            )
            report = report_of(book)
            for ending in ENDINGS:
                with self.subTest(name, ending=ending):
                    content = export_report(ReportFiles(report), ending, "a4")
                    text = text_of(content, ending)
                    # one of them turns its line round, on pages for good
                    self.assertEqual(text.count("kept") + text.count("tpek"), len(sections))
                    if ending == "html":
                        self.assertNotIn(b"<script", content.lower())


def make_formula(dice: random.Random, depth: int = 0) -> str:
    if depth > 3 or dice.random() < 0.25:
        return dice.choice(["x", "theta_0", "t_10", "m_max", "pi", "2", "0.50", "1.2e-5", "Omega", "lambda", "v_xy"])
    inner = lambda: make_formula(dice, depth + 1)  # noqa: E731
    return dice.choice(
        [
            lambda: f"({inner()} + {inner()})", lambda: f"{inner()} {inner()}", lambda: f"({inner()})/({inner()})",
            lambda: f"({inner()})^2",
            lambda: f"sqrt({inner()})", lambda: f"ln({inner()})", lambda: f"abs({inner()})", lambda: f"-({inner()})",
            lambda: f"exp(-{inner()})", lambda: f"({inner()})^(1/3)", lambda: f"sin({inner()})",
        ]
    )()  # fmt: skip


UNITS = "m|s²|m/s²|°C|%|Ω m|√Hz|kg m² s⁻²|µm|GPa|N/m|s²/m³|J/(kg K)|mol/dm³|°|rad/s|counts|1/s|m³ s⁻¹".split("|")


class Mathematics(unittest.TestCase):
    def texs(self) -> list[str]:
        dice, found = random.Random(14), []
        while len(found) < (2000 if LONG else 400):
            try:
                found.append(formula_tex(read_formula(make_formula(dice), {"x", "theta_0", "t_10", "m_max", "Omega", "lambda", "v_xy"})))
            except CoreError:
                continue  # deeper than a formula may be
        found += [f"1.2{tex_unit(unit)}" for unit in UNITS]
        # a third of them as a class has them that writes commas
        comma = Wording(False, True)
        return list(dict.fromkeys((*found, *(comma.put_in_tex(tex) for tex in found[::3]))))

    def test_a_number_with_a_comma_is_one_number_in_every_file(self) -> None:
        tex = Wording(False, True).put_in_tex(r"v = \frac{(4.79 \pm 0.04)\ \mathrm{m}}{1.50\ \mathrm{s}} \times 10^{-3}")
        report = Report("One", (), (Part("a", "A", (Equation("e", tex),)),))
        for number in ("4,79", "0,04", "1,50"):
            self.assertIn(f'"{number}"', convert_maths([tex], "typst")[tex])
            self.assertRegex(convert_maths([tex], "html")[tex], rf"<m\w[^>]*>{number}</m")
        signs = {r"(-0{,}001 \pm 0{,}003)": '-"0,001"', r"y = -1{,}5": '-"1,5"', r"-1{,}5": '-"1,5"', r"a - 1{,}5": '- "1,5"'}
        for one, set_so in signs.items():
            self.assertIn(set_so, convert_maths([one], "typst")[one])
        with zipfile.ZipFile(io.BytesIO(export_report(ReportFiles(report), "docx", "a4"))) as archive:
            self.assertEqual(re.findall(r"<m:t>(\d,\d+)</m:t>", archive.read("word/document.xml").decode()), ["4,79", "0,04", "1,50"])
        self.assertEqual(write_plainly(tex), "v = ((4,79 ± 0,04) m)/(1,50 s) × 10⁻³")
        self.assertEqual(Wording(False, True).put_in_tex(r"\text{wire of 0.5 mm} = 0.5"), r"\text{wire of 0,5 mm} = 0{,}5")

    def test_formulas_and_units_go_through_every_writer_without_a_warning(self) -> None:
        texs = self.texs()
        with self.assertNoLogs("hobrel.reports", "WARNING"):
            for target in ("html", "typst"):
                made = convert_maths(texs, target)
                self.assertEqual([tex for tex in texs if not made[tex]], [])
            report = Report("All", (), (Part("a", "A", tuple(Equation(f"e{i}", tex) for i, tex in enumerate(texs))),))
            for target in ("docx", "odt"):
                _, warnings = run_pandoc(write_document(report, Sheets(target, {})), target, "--output=-")
                self.assertEqual(warnings, "")
            export_report(ReportFiles(report), "pdf", "a4")
        for tex in texs:
            plain = write_plainly(tex)
            self.assertFalse(re.search(r"[\\{}]", plain), f"{tex} becomes {plain}")

    def test_so_does_all_that_is_set_of_the_demo_and_the_shelf(self) -> None:
        reports = [report_of(book) for book in (*demo_books().values(), *shelf_books().values())]
        texs = list(dict.fromkeys(tex for report in reports for tex in maths_in(report)))
        self.assertGreater(len(texs), 300)
        with self.assertNoLogs("hobrel.reports", "WARNING"):
            for target in ("html", "typst"):
                self.assertEqual([tex for tex, made in convert_maths(texs, target).items() if not made], [])
            whole = Report("All", (), (Part("a", "A", tuple(Equation(f"e{i}", tex) for i, tex in enumerate(texs))),))
            for target in ("docx", "odt"):
                self.assertEqual(run_pandoc(write_document(whole, Sheets(target, {})), target, "--output=-")[1], "")
        for tex in texs:
            self.assertFalse(re.search(r"[\\{}]", write_plainly(tex)), tex)
