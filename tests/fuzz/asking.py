"""Every question that can be put to a lab book, with what a person might ask and what nobody should."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Sequence
from functools import cache
from typing import Any, get_type_hints

from pydantic import TypeAdapter

from hobrel.computing.shelf import OpenBook
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.pipeline.computation import Computation, compute
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.class_data import present_class
from hobrel.core.presentation.pool import present_pools
from hobrel.core.presentation.rows import look_at_rows
from hobrel.core.presentation.shares import share_findings
from hobrel.core.presentation.side_by_side import compare_gradients, compare_runs
from hobrel.core.presentation.working import explain
from hobrel.core.questions.board import draw_board_plot, look_at_board
from hobrel.core.questions.fits import find_pulls, read_off_fit, try_without
from hobrel.core.questions.graphs import find_steepest, preview_by_eye, summarise_marked
from hobrel.core.questions.improvements import find_improvements
from hobrel.core.questions.previews import compare_conventions, compare_ways_of, preview_formula
from hobrel.core.reporting.building import ReportFrame, build_report
from hobrel.core.reporting.facts import MarkingFact, Writer, gather_facts
from hobrel.interchange.every_reading import ReadingRow, list_readings
from tests.fuzz.cases import Case
from tests.fuzz.typing import demo_books, in_some_convention, slips_in_definitions, slips_in_readings

NUMBERS = (0.0, -0.0, 1.0, -1.0, 0.3, 12.5, 1e-300, 1e300, -1e300, 5e-324, 1e16, float("inf"), float("-inf"), float("nan"))
TEXTS = (
    "", "0", "1", "0.4", "1e400", "nan", "inf", "-1e99", "10**30", "1/0", "ln(0)", "sqrt(-1)", "2^400", "0.4 m", "3 s", "1 kg", "9" * 60,
    "(((", "e^e^e^e", "1×10⁻", "²", "√", "∞", "0.4±0.1", "x", "π", "sin(90°)",
)  # fmt: skip
FORMS = ("v", "v^2", "sqrt(v)", "1/v", "ln(v)", "v^99", "", "w", "exp(v)")


def ids_in(book: LabBook) -> dict[str, list[str]]:
    kinds = {
        "quantity": [q.id for q in book.quantities], "fit": [f.id for f in book.fits], "graph": [g.id for g in book.graphs],
        "finding": [f.id for f in book.findings], "run": [r.id for r in book.runs], "row": [s.id for r in book.runs for s in r.settings],
    }  # fmt: skip
    return {kind: [*ids, "", "nobody", "../etc"] for kind, ids in kinds.items()}


def questions(book: LabBook, dice: random.Random) -> tuple[Callable[..., Any], Sequence[Any]]:
    """One question with what is given to it, drawn at random."""
    ids = ids_in(book)

    def one(kind: str) -> str:
        # mostly something that is there
        return dice.choice(ids[kind][:-3] or ids[kind]) if dice.random() < 0.85 else dice.choice(ids[kind])

    number, text, form = (lambda: dice.choice(NUMBERS)), (lambda: dice.choice(TEXTS)), (lambda: dice.choice(FORMS))
    cell = f"cell:{one('run')}:0:{one('quantity')}"
    fit, finding, constant = f"fit:{one('fit')}", f"finding:{one('finding')}", f"constant:{one('quantity')}"
    target = dice.choice((finding, f"{fit}:gradient", f"{fit}:intercept", cell, constant, "cell:run1:99:T", "nothing", "cell", ":::"))
    return dice.choice((
        (look_at_board, (one("quantity"), one("quantity"))),
        (draw_board_plot, (one("quantity"), one("quantity"), form(), form())),
        (preview_by_eye, (one("fit"), number(), number())),
        (read_off_fit, (one("fit"), dice.choice(("forward", "back")), text(), dice.choice((1, 2, 100)))),
        (try_without, (one("fit"), one("row"), dice.choice((None, number())))),
        (find_pulls, (one("fit"),)),
        (summarise_marked, (one("graph"), (number(), number()), one("fit"), "")),
        (preview_formula, (one("quantity"), text())),
        (preview_formula, ("", text(), text())),
        (compare_conventions, (one("quantity"),)),
        (compare_ways_of, (one("quantity"),)),
        (explain, (target,)),
        (find_steepest, (one("graph"), dice.choice((1e-9, 0.5, 1.0, 10.0)))),
        (compare_gradients, (one("graph"),)),
        (compare_runs, (one("finding"),)),
        (find_improvements, (one("finding"),)),
        (look_at_rows, (one("run"), dice.choice((0, 5, 10**5)), dice.choice((1, 500)))),
    ))  # fmt: skip


@cache
def _adapter(question: Callable[..., Any]) -> TypeAdapter[Any]:
    return TypeAdapter(get_type_hints(question)["return"])


def put(question: Callable[..., Any], book: LabBook, given: Sequence[Any]) -> Any:
    """The answer as plain data.

    Raises
    ------
    CoreError
        The error that stands in its place.
    """
    first = next(iter(get_type_hints(question).values()))
    subject: LabBook | Computation = book if first is LabBook else compute(book)
    found = contain(question.__name__, question, subject, *given)
    if isinstance(found, CoreError):
        raise found
    return _adapter(question).dump_python(found)


def spoiled_books(dice: random.Random) -> Iterator[LabBook]:
    """Lab books of the demo, most of them with one slip in them."""
    whole = list(demo_books().values())
    slips = {i: [b for _, b in slips_in_readings(book)] + [b for _, b in slips_in_definitions(book)] for i, book in enumerate(whole)}
    while True:
        i = dice.randrange(len(whole))
        yield whole[i] if dice.random() < 0.2 else dice.choice(slips[i])


def cases(dice: random.Random, count: int) -> Iterator[Case]:
    books = spoiled_books(dice)
    for n in range(count):
        book = in_some_convention(next(books), dice)
        question, given = questions(book, dice)
        yield Case(f"{n}: {question.__name__}{given} of {book.title}", lambda q=question, b=book, g=given: put(q, b, g))


def pools(dice: random.Random, count: int) -> Iterator[Case]:
    """Pools in which some benches have slipped."""
    books = [b for b in demo_books().values() if b.title == next(iter(demo_books().values())).title]
    slips = [b for book in books for _, b in slips_in_readings(book)]
    adapters = [TypeAdapter(get_type_hints(function)["return"]) for function in (present_pools, present_class)]
    for n in range(count):
        class_books = [dice.choice(slips) if dice.random() < 0.4 else dice.choice(books) for _ in range(dice.randrange(1, 9))]

        def pool(class_books: list[LabBook] = class_books) -> Any:
            shares = [share_findings(compute(b), f"bench {i}") for i, b in enumerate(class_books)]
            brought = present_pools(class_books[0].findings, shares), present_class(class_books[0].findings, shares)
            return [adapter.dump_python(part) for adapter, part in zip(adapters, brought, strict=True)]

        yield Case(f"pool {n}", pool)


def handed(dice: random.Random, count: int) -> Iterator[Case]:
    """What can be seen of a lab book that is marked, and its readings one by one."""
    books = spoiled_books(dice)
    adapter = TypeAdapter(tuple[tuple[MarkingFact, ...], tuple[ReadingRow, ...]])
    for n in range(count):
        book = in_some_convention(next(books), dice)

        def see(book: LabBook = book) -> Any:
            computation = compute(book)
            analysis = present(computation)
            report = build_report(computation, analysis, ReportFrame())
            facts = gather_facts(book, analysis, report, dice.sample(["read", "fit", "find"], 2), [Writer("Ann", 3)])  # type: ignore[arg-type]
            return adapter.dump_python((facts, list_readings(OpenBook(book))))

        yield Case(f"handed {n}: {book.title}", see)
