"""What people read has a code and fields: in what an analysis, a question or a working gives, and in the calls that write it."""

from __future__ import annotations

import ast
import re
import string
from collections import Counter
from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace
from pathlib import Path
from typing import Any
from unittest import TestCase

from hobrel.core.containment import StrictWatch, Watch, look_over
from hobrel.core.document.lab_book import Accepted, Convention, Finding, Ingredient, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import compute
from hobrel.core.presentation.analysis import analyse
from hobrel.core.presentation.pool import present_pools
from hobrel.core.presentation.results import Trouble
from hobrel.core.presentation.shares import share_findings
from hobrel.core.presentation.side_by_side import compare_gradients
from hobrel.core.presentation.working import explain
from hobrel.core.questions.board import look_at_board
from hobrel.core.questions.fits import find_pulls, read_off_fit
from hobrel.core.questions.graphs import find_steepest, preview_by_eye, summarise_marked
from hobrel.core.questions.improvements import find_improvements
from hobrel.core.questions.previews import compare_conventions, compare_ways_of
from hobrel.core.sentences import Sentence, said_by, say, told, with_capital
from tests.builders import lab_book
from tests.fuzz.typing import demo_books

CODE = Path(__file__).resolve().parents[2] / "hobrel"
LABELS = {
    # what something is called, or what a bench has written itself: names say nothing
    "Figure.title", "FigureNote.text", "FigurePoint.label", "PointSeries.name", "Working.title", "Onward.words", "UsedNumber.words",
    "BudgetBar.words", "ParameterResult.name", "FitResult.name", "FitResult.shape_words", "ShapeOffer.words", "FindingResult.name",
    "FindingResult.accepted_source", "ComparedFinding.name", "ComparedValue.name", "PoolResult.name", "PoolRow.bench", "ClassValue.name",
    "UnknownResult.name", "GradientUncertainty.name", "LineMark.name", "WayRow.words", "ConventionColumn.name", "ReadingRef.text",
    "OtherUnit.name", "Axis.name", "Pull.name", "ShownValue.spoken", "ColumnResult.instrument_text", "ColumnResult.symbol", "RichRun.text",
}  # fmt: skip
RUNNING = re.compile(r"[^\W\d_]{2,}( [^\W\d_]{2,}){3,}")
"""Four words of letters one after another: no number, unit, TeX or name of a symbol has them."""


def walk(item: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Every text of a result by the class and field that holds it, and every sentence and trouble."""
    if isinstance(item, str | Sentence | Trouble):
        yield path, item
    elif is_dataclass(item) and not isinstance(item, type):
        for one in fields(item):
            yield from walk(getattr(item, one.name), f"{type(item).__name__}.{one.name}")
    elif isinstance(item, dict):
        for value in item.values():
            yield from walk(value, path)
    elif isinstance(item, list | tuple):
        for value in item:
            yield from walk(value, path)


def ask(work: Any, *arguments: Any) -> Any:
    try:
        return work(*arguments)
    except CoreError as trouble:
        return said_by(trouble)


def everything(book: LabBook) -> Iterator[Any]:
    """All that people can be told of a lab book."""
    analysis, computation = analyse(book), compute(book)
    yield analysis
    run = book.runs[0]
    for column in analysis.runs[0].columns:
        yield ask(explain, computation, f"cell:{run.id}:{run.row_id(0) if run.count else 'gone'}:{column.quantity}")
        yield ask(compare_conventions, book, column.quantity)
        yield ask(compare_ways_of, book, column.quantity)
    for graph in book.graphs:
        yield ask(compare_gradients, computation, graph.id)
        yield ask(find_steepest, computation, graph.id, 0.5)
        yield ask(summarise_marked, computation, graph.id, (0.0, 100.0), book.fits[0].id if book.fits else "")
        yield ask(look_at_board, book, graph.x, graph.y)
    for fit in book.fits:
        for part in ("gradient", "intercept", "chi2", "r2", "within"):
            yield ask(explain, computation, f"fit:{fit.id}:{part}")
        for direction, at in (("forward", "0.2"), ("back", "0.2"), ("forward", "1000"), ("back", "nonsense")):
            yield ask(read_off_fit, computation, fit.id, direction, at)
        yield ask(preview_by_eye, computation, fit.id, 1.0, 0.0)
        yield ask(find_pulls, computation, fit.id)
    for finding in book.findings:
        yield ask(explain, computation, f"finding:{finding.id}")
        yield ask(find_improvements, computation, finding.id)
    yield present_pools(book.findings, [share_findings(computation, "Knot")])


def books() -> Iterator[LabBook]:
    """One of each practical of the demo, and some that are broken, bent, empty or judged by themselves."""
    yield from {book.title: book for book in demo_books().values()}.values()
    rows: list[tuple[str, list[str | None]]] = [(f"0.{i}00", [f"{i * i + 3}.00"]) for i in range(1, 8)]
    uses = (Ingredient("a", "mean", "y", low=0.1, high=0.4), Ingredient("b", "read_forward", "f", at="0.3"))
    made = [
        Finding("w", "w", "w", "", "gradient", "f", rounded="2 ± 0.3", accepted=Accepted("60", "1", "a table")),
        Finding("v", "v", "v", "", "a + b", "", uses=uses, compare=("w",)),
        Finding("u", "u", "u", "", "b + nothing", "", uses=uses),
    ]
    bent = lab_book(rows, findings=made)
    yield bent
    yield replace(bent, bench_rounds=True, bench_judges=True)
    yield replace(bent, convention=Convention(verdict="plain", fit_uncertainty="bars", propagation="sum", coverage=0.95))
    yield lab_book([("0.100", ["1.00", "10.10"]), ("0.100", ["x"]), ("o", [None]), ("0.300", ["3"])], findings=made)
    yield lab_book([], findings=made)


class Results(TestCase):
    reads_source = True
    """Wordings that stand in the code: nothing for a tree that has been changed on purpose."""
    maxDiff = None
    told: tuple[tuple[str, Any], ...]

    @classmethod
    def setUpClass(cls) -> None:
        look_over(StrictWatch())
        cls.addClassCleanup(look_over, Watch())
        cls.told = tuple(dict.fromkeys((path, item) for book in books() for result in everything(book) for path, item in walk(result)))

    def test_running_text_stands_in_sentences_only(self) -> None:
        bare = [(path, item) for path, item in self.told if isinstance(item, str) and path not in LABELS and not path.endswith("_tex")]
        self.assertEqual([f"{path}: {text}" for path, text in bare if RUNNING.search(text)], [])

    def test_each_has_a_code_and_what_is_shown_stands_in_its_fields(self) -> None:
        written = {code for _, code, _, _ in calls_of("say")}
        for path, item in self.told:
            if isinstance(item, str):
                continue
            text = item.text if isinstance(item, Sentence) else item.message
            self.assertTrue(item.code and text, path)
            self.assertNotRegex(text, r"\{\w*\}|None|nan")
            for value in item.fields.values() if item.code in written else ():
                self.assertIn(str(value), text)
        self.assertGreater(len({item.code for _, item in self.told if isinstance(item, Sentence)} & written), 60)

    def test_a_heading_begins_with_a_capital_unless_it_is_a_symbol(self) -> None:
        given = {
            "stiffness of the strip": "Stiffness of the strip",
            "a line": "A line",
            "g": "g",
            "t_20": "t_20",
            "θ": "θ",
            "": "",
            "É": "É",
        }
        self.assertEqual({words: with_capital(words) for words in given}, given)

    def test_fields_are_no_templates(self) -> None:
        self.assertEqual(say("c", "It is {what}.", what="{E} %s {0}").text, "It is {E} %s {0}.")
        self.assertEqual(told((say("a", "one"), say("b", "{n} two", n=2)), "; "), "one; 2 two")
        self.assertEqual(told(()), "")

    def test_an_error_in_the_place_of_a_sentence_keeps_its_code(self) -> None:
        trouble = CoreError("bad_unit", "no unit {unit}", at=3, unit="furlong", rows=[1, 2])
        self.assertEqual(said_by(trouble), Sentence("bad_unit", "no unit furlong", {"at": 3, "unit": "furlong"}))
        again = CoreError.told(trouble.code, trouble.message, trouble.fields)
        self.assertEqual((again.code, str(again), again.fields), ("bad_unit", "no unit furlong", trouble.fields))
        self.assertEqual(CoreError("bad_unit", "no unit {unit}", unit="{E}").message, "no unit {E}")


def calls_of(name: str) -> Iterator[tuple[str, str, ast.Call, str | None]]:
    """Calls of a writer of sentences: where, code, the call, and its wording (None where it is no literal)."""
    for path in sorted(CODE.rglob("*.py")):
        for call in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(call, ast.Call) and isinstance(call.func, ast.Name) and call.func.id == name:
                code, template = (a.value if isinstance(a, ast.Constant) else None for a in call.args[:2])
                yield f"{path.relative_to(CODE)}:{call.lineno}", str(code), call, template


class Calls(TestCase):
    reads_source = True

    def test_each_wording_has_a_code_of_its_own(self) -> None:
        wordings: dict[str, set[str]] = {}
        for where, code, _, template in calls_of("say"):
            self.assertIsNotNone(template, f"{where}: the wording is a literal")
            self.assertRegex(code, r"^[a-z][a-z0-9_]*$", where)
            wordings.setdefault(code, set()).add(template or "")
        self.assertGreater(len(wordings), 100)
        self.assertEqual({code: said for code, said in wordings.items() if len(said) > 1}, {})
        every = Counter(template for said in wordings.values() for template in said)
        self.assertEqual([template for template, count in every.items() if count > 1 and template != "{what}"], [])

    def test_an_error_is_a_wording_with_fields_too(self) -> None:
        for where, _, call, template in calls_of("CoreError"):
            self.assertNotIsInstance(call.args[1], ast.JoinedStr | ast.BinOp, f"{where}: fields are put into a wording")
            wanted = {name for _, name, _, _ in string.Formatter().parse(template or "") if name is not None}
            given = {k.arg for k in call.keywords}
            self.assertTrue(wanted <= given or None in given, where)
            # scripts give fields beside these two
            self.assertFalse(given & {"code", "message"}, where)

    def test_the_fields_are_those_of_the_wording(self) -> None:
        for where, _, call, template in calls_of("say"):
            given = {k.arg for k in call.keywords}
            wanted = {name for _, name, _, _ in string.Formatter().parse(template or "") if name is not None}
            if None not in given:
                self.assertEqual(given, wanted, where)
