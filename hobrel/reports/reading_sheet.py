"""A blank reading sheet for the bench: what is set and read, with room to write by hand, steps to tick and what stays the same."""

from __future__ import annotations

from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook, Quantity, Run
from hobrel.core.formulas.typeset import rich_symbol
from hobrel.core.pipeline.columns import rich_sign
from hobrel.reports import pandoc as p
from hobrel.reports.document import ReportDocument, rich

USUAL_ROWS, MOST_ROWS, WIDEST = 10, 24, 0.22
_ROOM = "\u00a0\n\u00a0"
"""A cell that is high enough for a hand."""


def build_reading_sheet(opened: OpenBook) -> ReportDocument:
    """The sheet of a lab book, or of a plan, for printing."""
    book = opened.document
    part = book.plan
    blocks: list[p.Block] = [
        p.heading(book.title, 1),
        p.paragraph(p.text("Names:\u2003_____________________________________\u2003\u2003Day:\u2003_______________")),
    ]
    if book.question:
        blocks.append(p.paragraph(p.text(book.question)))
    if part.safety:
        blocks.append(p.paragraph([p.strong(part.safety)]))
    steps = [step for stage in ("ask", "read") for step in part.steps.get(stage, ())]  # type: ignore[call-overload]
    if steps:
        blocks.append(p.bullets([p.text(f"☐\u00a0 {step.text}") for step in steps]))
    if part.kept_same:
        blocks.append(p.paragraph(p.text(f"Kept the same: {', '.join(part.kept_same)}.")))
    constants = [q for q in book.quantities if q.kind == "constant"]
    if constants:
        blocks.append(p.bullets([_constant(q) for q in constants]))
    for run in book.runs:
        if run.id not in part.given_runs and run.log is None:
            blocks += _table(book, run)
    return ReportDocument(f"{book.title} – reading sheet", p.document(blocks), {})


def _constant(quantity: Quantity) -> list[p.Inline]:
    value = f"{quantity.value} ± {quantity.u}" if quantity.u else quantity.value or "__________ ± ______"
    return [*p.text(f"{quantity.name}: "), *rich(rich_symbol(quantity.symbol)), *p.text(f" = {value} {quantity.unit}".rstrip())]


def _table(book: LabBook, run: Run) -> list[p.Block]:
    columns = book.table_of(run)
    if not columns:
        return []
    head: list[list[p.Inline]] = []
    for quantity in columns:
        unit = f" / {quantity.unit}" if quantity.unit and quantity.holds == "numbers" else ""
        for i in range(max(1, quantity.repeats)):
            number = f" ({i + 1})" if quantity.repeats > 1 else ""
            head.append([*rich(rich_sign(quantity)), *p.text(f"{unit}{number}")])
    wanted = book.plan.wanted.get(columns[0].id)
    rows = min(MOST_ROWS, (wanted.count if wanted and wanted.count else USUAL_ROWS) + 2)
    return [p.table(head, [[p.text(_ROOM) for _ in head] for _ in range(rows)], run.name, min(WIDEST, 1 / len(head)))]
