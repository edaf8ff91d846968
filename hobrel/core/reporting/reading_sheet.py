"""A blank reading sheet for the bench: what is set and read, with room to write by hand, steps to tick and what stays the same."""

from __future__ import annotations

from hobrel.core.document.lab_book import Convention, LabBook, Quantity, Run
from hobrel.core.formulas.typeset import rich_symbol
from hobrel.core.pipeline.columns import rich_sign
from hobrel.core.presentation.showing import write_constant
from hobrel.core.presentation.wording import reword_text
from hobrel.core.reporting.readings import over_unit
from hobrel.core.reporting.tree import Block, Inlines, Items, Paragraph, Part, Report, Table, rich_words, say_words
from hobrel.core.rounding import with_unit
from hobrel.core.units.calculus import tidy_unit

USUAL_ROWS, MOST_ROWS = 10, 24
_NAMES = "Names:\u2003_____________________________________\u2003\u2003Day:\u2003_______________"


def build_reading_sheet(book: LabBook) -> Report:
    """The sheet of a lab book, or of a plan, for printing."""
    plan = book.plan
    blocks: list[Block] = [Paragraph(say_words(_NAMES))]
    if book.question:
        blocks.append(Paragraph(say_words(book.question)))
    if plan.safety:
        blocks.append(Paragraph(say_words(plan.safety, "bold")))
    steps = [step for stage in ("ask", "read") for step in plan.steps.get(stage, ())]
    if steps:
        blocks.append(Items(tuple(say_words(f"☐\u00a0 {step.text}") for step in steps)))
    if plan.kept_same:
        blocks.append(Paragraph(say_words(f"Kept the same: {', '.join(plan.kept_same)}.")))
    constants = [q for q in book.quantities if q.kind == "constant"]
    if constants:
        blocks.append(Items(tuple(_constant(q, q.id in plan.own_values, book.convention) for q in constants)))
    runs = [run for run in book.runs if run.id not in plan.given_runs and run.log is None and book.table_of(run)]
    blocks += [_table(book, run) for run in runs]
    return Report(f"{book.title} – reading sheet", (), (Part("sheet", "", tuple(blocks)),))


def _constant(quantity: Quantity, theirs: bool, convention: Convention) -> Inlines:
    """What is measured once; with room to write where benches measure it, whatever a plan has there as an example."""
    written = write_constant(quantity) if quantity.value and not theirs else with_unit("__________ ± ______", tidy_unit(quantity.unit))
    symbol = rich_words(rich_symbol(quantity.symbol))
    return (*say_words(f"{quantity.name}: "), *symbol, *say_words(f" = {reword_text(written, convention)}"))


def _table(book: LabBook, run: Run) -> Table:
    columns = book.table_of(run)
    head: list[Inlines] = []
    worded: list[bool] = []
    for quantity in columns:
        unit = over_unit(tidy_unit(quantity.unit)) if quantity.holds == "numbers" else ""
        for i in range(max(1, quantity.repeats)):
            number = f" ({i + 1})" if quantity.repeats > 1 else ""
            head.append((*rich_words(rich_sign(quantity)), *say_words(f"{unit}{number}")))
            worded.append(quantity.holds == "words")
    wanted = book.plan.wanted.get(columns[0].id)
    rows = min(MOST_ROWS, (wanted.count if wanted and wanted.count else USUAL_ROWS) + 2)
    empty: tuple[Inlines, ...] = tuple(() for _ in head)
    return Table(f"sheet-{run.id}", say_words(run.name), tuple(head), (empty,) * rows, tuple(worded), blank=True)
