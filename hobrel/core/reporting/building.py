"""A report, made from a lab book: its parts one after the other, and everything that is numbered, numbered once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import Fit, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import relation_tex
from hobrel.core.pipeline.computation import Computation
from hobrel.core.presentation.analysis import present
from hobrel.core.presentation.results import Analysis
from hobrel.core.presentation.side_by_side import SideBySide, find_what_runs_differ_in, see_from_every_run
from hobrel.core.presentation.wording import reword
from hobrel.core.reporting.appendix import write_history, write_sources, write_workings
from hobrel.core.reporting.class_part import ClassShares, write_class
from hobrel.core.reporting.live_values import ValuesByName, find_typed, is_still, list_values, stands_in
from hobrel.core.reporting.missing import list_missing
from hobrel.core.reporting.outline import Planned, plan_parts
from hobrel.core.reporting.own_text import ReadWords, Surroundings, read_own_text
from hobrel.core.reporting.readings import list_left_out, write_constants, write_readings
from hobrel.core.reporting.results import write_finding, write_fit, write_graph
from hobrel.core.reporting.tree import (
    Block,
    Drawing,
    Equation,
    Heading,
    Inlines,
    Items,
    LiveValue,
    Offered,
    OwnSection,
    Paragraph,
    Part,
    Photo,
    Pointer,
    Report,
    Stale,
    Table,
    Words,
    say_words,
    words_in,
)

Numbered = TypeVar("Numbered", Table, Drawing, Photo, Equation)
_OWN = ("text", "picture", "question")
"""Parts that somebody has written, letter for letter."""
_OURS = frozenset({(Words, "text")})


@dataclass(frozen=True)
class ReportFrame:
    """What stands around a lab book in its report: the lines below the title; who has written in it, a line each; the class, once its
    pool is open.
    """

    byline: tuple[str, ...] = ()
    history: tuple[str, ...] = ()
    shares: ClassShares | None = None


def build_report(computation: Computation, analysis: Analysis, frame: ReportFrame) -> Report:
    """Make the report of a lab book. A part that cannot be made says why in its place; the others stand.

    Parameters
    ----------
    computation : Computation
    analysis : Analysis
        Of the same lab book.
    frame : ReportFrame
    """
    book = computation.book
    seen = see_from_every_run(computation)
    from_runs = find_what_runs_differ_in(seen)
    values = reword(list_values(book, analysis, from_runs), book.convention)
    planned = plan_parts(_name_runs(computation), from_runs)
    others = {p.run for p in planned}
    of_run = {run: (c, present(c)) for c in seen[1:] if (run := c.book.runs[0].id) in others}
    made = {p.key: _make(p, *of_run.get(p.run, (computation, analysis)), frame, from_runs) for p in planned if p.kind != "text"}
    numbered = [block.key for blocks in made.values() for block in blocks if isinstance(block, Table | Drawing | Photo | Equation)]
    around = Surroundings(ValuesByName(values, book, analysis), frozenset(numbered), frozenset(q.symbol for q in book.quantities))
    read = {p.key: read_own_text(book.texts.get(p.of, ""), p.of, around) for p in planned if p.kind == "text"}
    left_out = set(book.report.left_out)
    parts = [
        Part(p.key, p.title, read[p.key].blocks if p.kind == "text" else made[p.key], _section_of(p, read), p.key in left_out)
        for p in planned
        if p.kind == "text" or made[p.key]
    ]
    parts = _number(parts)
    stale = _find_stale(book, around.values)
    unknown = {key: words.unknown for key, words in read.items() if words.unknown and key not in left_out}
    return Report(
        title=book.title,
        byline=frame.byline,
        parts=tuple(parts),
        values=values,
        offered=_find_offered(book, planned, values),
        stale=stale,
        missing=list_missing(book, analysis, parts, unknown, stale),
    )


def _name_runs(computation: Computation) -> LabBook:
    """The lab book with fits that name their run where it is not the first: a table with other headings has graphs of its own."""
    book = computation.book

    def of_run(fit: Fit) -> str:
        of = computation.fit_points[fit.id][1].id
        return fit.run or (of if of != book.runs[0].id else "")

    return replace(book, fits=tuple(replace(fit, run=of_run(fit)) for fit in book.fits))


def _section_of(planned: Planned, read: Mapping[str, ReadWords]) -> OwnSection | None:
    if planned.kind != "text":
        return None
    words = read[planned.key].words
    return OwnSection(
        section=planned.of, hint=planned.hint, words=words, fewest_words=planned.fewest_words, wanted=planned.wanted, own=planned.own
    )


def _make(
    planned: Planned, computation: Computation, analysis: Analysis, frame: ReportFrame, from_runs: Mapping[str, SideBySide]
) -> tuple[Block, ...]:
    """The blocks of a part that is not the bench's own words."""
    blocks = contain(f"part {planned.key} of the report", _blocks_of, planned, computation, analysis, frame, from_runs)
    if isinstance(blocks, CoreError):
        blocks = (Paragraph(say_words(blocks.message), "note"),)
    return blocks if planned.kind in _OWN else reword(blocks, computation.book.convention, _OURS)


def _blocks_of(
    planned: Planned, computation: Computation, analysis: Analysis, frame: ReportFrame, from_runs: Mapping[str, SideBySide]
) -> tuple[Block, ...]:
    book = computation.book
    match planned.kind:
        case "question":
            tex = relation_tex(book.relation, frozenset(q.symbol for q in book.quantities)) if book.relation else ""
            asked = (Paragraph(say_words(book.question)),) if book.question else ()
            return (*asked, *((Equation("relation", tex),) if tex else ()))
        case "picture":
            picture = next(p for p in book.report.pictures if p.id == planned.of)
            photo = Photo(
                key=f"picture-{picture.id}",
                caption=say_words(picture.caption),
                described=picture.alt,
                picture=picture.key,
                width=picture.width,
                height=picture.height,
            )
            return (photo,)
        case "readings":
            first = book.runs[0].id == planned.of
            run, result = next((r, a) for r, a in zip(book.runs, analysis.runs, strict=True) if r.id == planned.of)
            return (*(write_constants(book, analysis) if first else ()), *write_readings(book, run, result))
        case "graph":
            if planned.run and not any(g.graph == planned.of and g.figure for g in analysis.graphs):
                return ()
            return write_graph(next(g for g in book.graphs if g.id == planned.of), computation, analysis, planned.block_key)
        case "fit":
            if planned.run and any(f.fit == planned.of and f.trouble for f in analysis.fits):
                return ()
            fit = next(f for f in book.fits if f.id == planned.of)
            return write_fit(fit, analysis, book.convention.slope_word, planned.block_key)
        case "finding":
            return write_finding(next(f for f in analysis.findings if f.finding == planned.of), from_runs.get(planned.of))
        case "class":
            return write_class(frame.shares)
        case "left_out":
            return list_left_out(_name_runs(computation))
        case "workings":
            return write_workings(computation, analysis)
        case "sources":
            return write_sources(book, analysis)
        case "history":
            return write_history(frame.history)
        case "text":
            return ()


def _find_offered(book: LabBook, planned: Sequence[Planned], values: Sequence[LiveValue]) -> tuple[Offered, ...]:
    found = []
    for part in planned:
        if part.kind == "text":
            kept = book.report.typed.get(part.of, {})
            typed = find_typed(book.texts.get(part.of, ""), values)
            found += [Offered(part.of, number, name) for number, name in typed.items() if number not in kept]
    return tuple(found)


def _find_stale(book: LabBook, values: Mapping[str, LiveValue]) -> tuple[Stale, ...]:
    """Numbers that were a value's when they were written, are still written, and are not that value's any more."""
    found = []
    for section, numbers in book.report.typed.items():
        for typed, name in numbers.items():
            value = values.get(name)
            if stands_in(typed, book.texts.get(section, "")) and (value is None or not is_still(typed, value)):
                found.append(Stale(section, typed, name, value.text if value is not None else "gone"))
    return tuple(found)


def _number(parts: Sequence[Part]) -> list[Part]:
    """Number tables, figures, and those equations that something points to, as they come; put the numbers where they are pointed to."""
    pointed = {w.to for part in parts if not part.left_out for block in part.blocks for w in words_in(block) if isinstance(w, Pointer)}
    counts = {"Table": 0, "Figure": 0, "Equation": 0}
    names: dict[str, str] = {}

    def count(block: Numbered, name: str) -> Numbered:
        counts[name] += 1
        names[block.key] = f"{name} {counts[name]}"
        return replace(block, number=counts[name])

    def number(block: Block) -> Block:
        match block:
            case Table():
                return count(block, "Table")
            case Drawing():
                return count(block, "Figure")
            case Photo():
                return count(block, "Figure")
            case Equation(key=key) if key in pointed:
                return count(block, "Equation")
        return block

    numbered = [part if part.left_out else replace(part, blocks=tuple(number(b) for b in part.blocks)) for part in parts]
    return [replace(part, blocks=tuple(_put_names_in(b, names) for b in part.blocks)) for part in numbered]


def _put_names_in(block: Block, names: Mapping[str, str]) -> Block:
    def named(words: Inlines) -> Inlines:
        return tuple(replace(w, text=names.get(w.to, "a part that is left out")) if isinstance(w, Pointer) else w for w in words)

    match block:
        case Paragraph() | Heading():
            return replace(block, words=named(block.words))
        case Items():
            return replace(block, items=tuple(named(item) for item in block.items))
    return block
