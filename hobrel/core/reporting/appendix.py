"""What stands behind a report: one working of each kind, where numbers are from, and who wrote when."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from hobrel.core.apparatus.rigs import RIGS
from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import rich_symbol, write_symbol
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.results import Analysis
from hobrel.core.presentation.showing import write_constant
from hobrel.core.presentation.wording import reword
from hobrel.core.presentation.working import explain
from hobrel.core.presentation.working_parts import Working
from hobrel.core.reporting.outline import name_fit
from hobrel.core.reporting.tree import Block, Equation, Heading, Inlines, Items, Maths, Paragraph, Words, rich_words, say_words, set_symbols
from hobrel.core.sentences import told, with_capital


def write_workings(computation: Computation, analysis: Analysis) -> tuple[Block, ...]:
    """One working of each mean and each derived quantity (at the first setting that has it), each fit's first number, each finding."""
    blocks: list[Block] = []
    for number, target in enumerate(_targets(computation, analysis)):
        working = contain(f"working of {target}", explain, computation, target)
        if not isinstance(working, CoreError):
            named = reword(working, computation.book.convention)
            blocks += _write_working(replace(named, title=_tell_apart(computation.book, target, named.title)), f"working-{number}")
    return tuple(blocks)


def _tell_apart(book: LabBook, target: str, title: str) -> str:
    """The title of a fit's working where there are several: with its axes, and with what tells it from others of its graph."""
    fit = next((f for f in book.fits if target.startswith(f"fit:{f.id}:")), None)
    graph = next((g for g in book.graphs if fit is not None and g.id == fit.graph), None)
    if fit is None or graph is None or len(book.fits) < 2:
        return title
    symbols = {q.id: write_symbol(q.symbol) for q in book.quantities}
    y, x = (symbols.get(key, "") for key in (fit.y or graph.y, graph.x))
    among = name_fit(book, fit) if sum(f.graph == fit.graph for f in book.fits) > 1 else ()
    return ", ".join((f"{title}, {y} against {x}", *among))


def _targets(computation: Computation, analysis: Analysis) -> Iterator[str]:
    book = computation.book
    repeated = {q.id for q in book.quantities if q.repeats > 1}
    derived = {q.id for q in book.quantities if q.kind == "derived"}
    for run, result in list(zip(book.runs, analysis.runs, strict=True))[:1]:
        for column in result.columns:
            row = next((i for i, cell in enumerate(column.cells) if cell.value is not None and i < run.count), None)
            if row is not None and column.quantity in repeated | derived and column.trouble is None:
                yield f"cell:{run.id}:{run.row_id(row)}:{column.quantity}"
    for fit in analysis.fits:
        if fit.trouble is None:
            part = "gradient" if fit.gradient is not None else next((p.name for p in fit.parameters), "")
            if part:
                yield f"fit:{fit.fit}:{part}"
    yield from (f"finding:{f.finding}" for f in analysis.findings if f.said)


def _write_working(working: Working, key: str) -> Iterator[Block]:
    symbol, equals, value = working.result.partition(" = ")
    named = rich_words(rich_symbol(symbol)) if equals and symbol.isascii() else set_symbols(symbol)
    title = with_capital(working.title)
    # what is called by its symbol is not called so twice
    called = "" if working.title == symbol else f"{title}: " if working.result else title
    yield Heading((*set_symbols(called), *named, *say_words(equals + value)))
    for number, line in enumerate(working.lines):
        if line.words:
            yield Paragraph(set_symbols(told(line.words)))
        if line.tex:
            yield Equation(f"{key}-{number}", line.tex)


def write_sources(book: LabBook, analysis: Analysis) -> tuple[Block, ...]:
    """Conventions in words; instruments with what they were read to; constants with ± and where they are from; formulas; tables."""
    columns = {c.quantity: c for run in analysis.runs[:1] for c in run.columns}
    items: list[Inlines] = []
    for quantity in book.quantities:
        column = columns.get(quantity.id)
        symbol = (*say_words(f"{quantity.name} "), *rich_words(rich_symbol(quantity.symbol)))
        if quantity.kind == "constant":
            written = column.constant.text if column is not None and column.constant is not None else write_constant(quantity)
            items.append((*symbol, Words(f" = {written}" + (f": {quantity.source}" if quantity.source else ""))))
        elif quantity.kind == "derived" and column is not None and column.formula_tex:
            items.append((*symbol, Words(": "), Maths(column.formula_tex)))
        elif column is not None and column.instrument_text:
            items.append((*symbol, Words(f": {column.instrument_text}")))
    rig = RIGS.get(book.plan.rig.key)
    if rig is not None:
        items.append(say_words(f"The apparatus of this practical is simulated: {rig.title}"))
    for table in book.plan.tables:
        source = f", {table.source}" if table.source else ""
        items.append(say_words(f"Table of reference: {table.name} against {table.of_name}{source}"))
    items.extend(
        (*say_words("accepted value of "), *rich_words(f.symbol), *say_words(f": {f.accepted.text}, {f.accepted_source}"))
        for f in analysis.findings
        if f.accepted is not None and f.accepted_source
    )
    return (Paragraph(say_words(told(analysis.convention_words))), *((Items(tuple(items)),) if items else ()))


def write_history(written: Sequence[str]) -> tuple[Block, ...]:
    """A line for everybody who has written in the lab book."""
    return (Items(tuple(say_words(line) for line in written)),) if written else ()
