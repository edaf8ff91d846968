"""The lab report as a document tree: question, expectation, method, readings, graph, line, finding, what was set aside, texts."""

from __future__ import annotations

import base64
import datetime
import re
from dataclasses import dataclass
from typing import Literal

from hobrel.computing.shelf import OpenBook
from hobrel.core.document.lab_book import LabBook, Run, SlopeWord
from hobrel.core.formulas.typeset import RichText
from hobrel.core.presentation.figures import Figure
from hobrel.core.presentation.results import Analysis, ColumnResult, FindingResult, FitResult
from hobrel.core.sentences import told
from hobrel.reports import pandoc as p
from hobrel.reports.drawing import draw_svg
from hobrel.reports.tokens import split_tokens


@dataclass(frozen=True)
class ReportFrame:
    """What a report says beside the lab book: where, who, and when."""

    school: str
    class_name: str
    bench: str
    names: tuple[str, ...]
    day: datetime.date


@dataclass(frozen=True)
class ReportMatter:
    """All that a report is made from."""

    book: LabBook
    analysis: Analysis
    frame: ReportFrame


@dataclass(frozen=True)
class ReportDocument:
    """A report: its title, pandoc's JSON tree, and the figures that it refers to by file name (empty where they are inside it)."""

    title: str
    tree: str
    figures: dict[str, str]


def build_report(opened: OpenBook, frame: ReportFrame, pictures: Literal["inside", "beside"]) -> ReportDocument:
    """Build the report of a lab book.

    Parameters
    ----------
    opened : OpenBook
    frame : ReportFrame
    pictures : {"inside", "beside"}
        Figures as data addresses (HTML), or as files beside the document (PDF).
    """
    book, analysis = opened.document, opened.analysis
    matter = ReportMatter(book, analysis, frame)
    figures: dict[str, str] = {}

    def place(figure: Figure) -> p.Block:
        svg = draw_svg(figure)
        if pictures == "inside":
            return p.picture("data:image/svg+xml;base64," + base64.b64encode(svg.encode()).decode(), told(figure.summary), "100%")
        name = f"figure-{len(figures) + 1}.svg"
        figures[name] = svg
        return p.picture(name, told(figure.summary), "88%")

    blocks: list[p.Block] = [p.heading(book.title, 1), _heading_line(matter)]
    if book.question:
        blocks += [p.heading("Question"), p.paragraph(p.text(book.question))]
    blocks += _own_text(matter, "expectation", "What we expected")
    blocks += _own_text(matter, "method", "Method")
    blocks += _readings(matter)
    for graph in analysis.graphs:
        if graph.figure is not None and any(f.graph == graph.graph for f in analysis.fits):
            blocks += [p.heading("Graph"), place(graph.figure)]
    for fit in analysis.fits:
        blocks += _line(fit, book.convention.slope_word)
    for finding in analysis.findings:
        blocks += _finding(finding)
    blocks += _set_aside(matter)
    blocks += _own_text(matter, "discussion", "Discussion")
    blocks += _own_text(matter, "conclusion", "Conclusion")
    return ReportDocument(" – ".join(x for x in (book.title, name_bench(frame.bench, "bench")) if x), p.document(blocks), figures)


def name_bench(name: str, start: str) -> str:
    """A bench as it is called in a sentence: “bench Knot”, but “Bench 2” where that is its name; empty for none."""
    return name if not name or re.match(r"(bench|table|group|team)\b", name, re.IGNORECASE) else f"{start} {name}"


def _heading_line(matter: ReportMatter) -> p.Block:
    who = ": ".join(x for x in (name_bench(matter.frame.bench, "Bench"), ", ".join(matter.frame.names)) if x)
    where = ", ".join(x for x in (matter.frame.school, matter.frame.class_name) if x)
    return p.paragraph([p.emphasis(p.text(f"{who}\n{where} · {matter.frame.day.day} {matter.frame.day:%B %Y}"))])


def _own_text(matter: ReportMatter, section: str, title: str) -> list[p.Block]:
    words = matter.book.texts.get(section, "").strip()
    if not words:
        return []
    blocks = [p.heading(title)]
    for part in words.split("\n\n"):
        inlines: list[p.Inline] = []
        for piece, live in split_tokens(part.strip(), matter.analysis.tokens):
            inlines += [p.strong(piece)] if live else p.text(piece)
        blocks.append(p.paragraph(inlines))
    return blocks


def rich(label: RichText) -> list[p.Inline]:
    """Styled runs as pandoc inlines."""
    out: list[p.Inline] = []
    for run in label:
        inner = p.text(run.text)
        kind = {"italic": "Emph", "sup": "Superscript", "sub": "Subscript", "bold": "Strong"}.get(run.style)
        out += [{"t": kind, "c": inner}] if kind else inner
    return out


def _head(column: ColumnResult) -> list[p.Inline]:
    unit = f" / ({column.unit})" if "/" in column.unit or " " in column.unit else f" / {column.unit}" if column.unit else ""
    return rich(column.symbol) + p.text(unit)


def _readings(matter: ReportMatter) -> list[p.Block]:
    blocks: list[p.Block] = [p.heading("Readings")]
    constants = [c.constant for run in matter.analysis.runs[:1] for c in run.columns if c.constant]
    columns = matter.analysis.runs[0].columns if matter.analysis.runs else ()
    if constants:
        named = [rich(c.symbol) + p.text(f" = {c.constant.text}") for c in columns if c.constant]
        joined: list[p.Inline] = p.text("The same at all settings: ")
        for i, one in enumerate(named):
            joined += (p.text("; ") if i else []) + one
        blocks.append(p.paragraph(joined))
    kinds = {q.id: q.kind for q in matter.book.quantities}
    for run, result in zip(matter.book.runs, matter.analysis.runs, strict=True):
        shown = [c for c in result.columns if c.constant is None and kinds[c.quantity] != "constant" and c.trouble is None]
        read = [c for c in shown if kinds[c.quantity] != "derived"]
        derived = [c for c in shown if kinds[c.quantity] == "derived"]
        if result.logged:
            blocks.append(p.paragraph(p.text(f"{run.name}: {told(result.logged)}")))
            continue
        blocks += _table(matter, run, read, run.name)
        if derived:
            blocks += _table(matter, run, [c for c in read if kinds[c.quantity] == "changed"] + derived, "What follows from them")
    blocks.append(p.paragraph([p.emphasis(p.text(told(matter.analysis.convention_words)))]))
    return blocks


def _table(matter: ReportMatter, run: Run, columns: list[ColumnResult], caption: str) -> list[p.Block]:
    """One row per setting that has a value; repeats side by side with their mean, what is set aside struck through."""
    repeats = {q.id: q.repeats for q in matter.book.quantities}
    worded = {q.id for q in matter.book.quantities if q.holds == "words"}
    head: list[list[p.Inline]] = []
    for column in columns:
        if repeats[column.quantity] > 1:
            head += [_head(column) + p.text(f" ({i + 1})") for i in range(repeats[column.quantity])]
            head.append(p.text("mean ") + _head(column))
        else:
            head.append(_head(column))
    rows = []
    for row, setting in enumerate(run.settings):
        if not any(c.cells[row].value is not None for c in columns):
            continue
        cells: list[list[p.Inline]] = []
        for column in columns:
            count, cell = repeats[column.quantity], column.cells[row]
            if count > 1:
                readings = [*setting.readings.get(column.quantity, ()), *[None] * count][:count]
                cells += [_written(r.text if r else "", bool(r and r.set_aside) or setting.set_aside is not None) for r in readings]
            pair = f"{cell.value_text} ± {cell.u_text}" if cell.u_text else cell.value_text
            cells.append(_written(pair, setting.set_aside is not None, breaks=column.quantity in worded))
        rows.append(cells)
    return [p.table(head, rows, caption)] if rows else []


def _written(words: str, aside: bool, breaks: bool = False) -> list[p.Inline]:
    """A cell, which only words break across lines; a dash for nothing."""
    words = (words if breaks else words.replace(" ", "\u00a0")) or "–"
    return [p.struck(words)] if aside else p.text(words)


def _line(fit: FitResult, word: SlopeWord) -> list[p.Block]:
    if fit.gradient is None or fit.intercept is None:
        return []
    items = [
        [*p.text(f"{word.capitalize()}: "), p.math(fit.gradient.tex)],
        [*p.text("Intercept: "), p.math(fit.intercept.tex), *p.text(f". {told(fit.intercept_words)}")],
        p.text(f"{told(fit.within, '; ')}."),
    ]
    if fit.reduced_chi2:
        items.append([p.math(r"\chi^2_\nu = " + fit.reduced_chi2), *p.text(f" for {fit.dof} degrees of freedom. {told(fit.chi2_words)}")])
    if fit.pattern is not None:
        items.append(p.text(told(fit.pattern.words)))
    return [
        p.paragraph(p.text(f"A line through {fit.n} points, {told(fit.method, '; ')}:")),
        p.paragraph([p.math(fit.equation_tex, display=True)]),
        p.bullets(items),
    ]


def _finding(finding: FindingResult) -> list[p.Block]:
    if finding.value is None:
        return []
    blocks = [p.heading(f"Finding: {finding.name}"), p.paragraph([p.math(finding.formula_tex, display=True)])]
    used = [rich(u.symbol) + p.text(f" = {u.value.text}, {u.words}") for u in finding.used]
    if not finding.said:
        blocks.append(p.paragraph([p.math(finding.numbers_tex, display=True)]))
        return [*blocks, *([p.bullets(used)] if used else []), p.paragraph(p.text("The bench has not stated its rounded value yet."))]
    blocks.append(p.paragraph([p.math(f"{finding.numbers_tex} = {finding.value.value_tex}", display=True)]))
    if used:
        blocks.append(p.bullets(used))
    blocks.append(p.paragraph([p.strong(finding.statement), *p.text(f". {told(finding.rounding_words)}")]))
    shares: list[p.Inline] = p.text("Where the uncertainty comes from: ")
    for i, bar in enumerate(finding.budget):
        shares += p.text(", " if i else "") + rich(bar.symbol) + p.text(f" {bar.share_text}")
    blocks.append(p.paragraph(shares + p.text(".")))
    if finding.needed:
        blocks.append(p.paragraph(p.text(f"What would have to be seen to say that it agrees, written before: {finding.needed}")))
    if finding.awaits_needed:
        blocks.append(p.paragraph(p.text("The bench has not written yet what it would need to see before it says that this agrees.")))
    elif finding.accepted is not None:
        blocks.append(
            p.paragraph(p.text(f"Accepted value: {finding.accepted.text} ({finding.accepted_source}). {told(finding.comparison)}"))
        )
    blocks += [p.paragraph(p.text(told(c.words))) for c in finding.compared if c.words]
    return blocks


def _set_aside(matter: ReportMatter) -> list[p.Block]:
    items: list[list[p.Inline]] = []
    quantities = {q.id: q for q in matter.book.quantities}
    for run in matter.book.runs:
        rows = run.log.aside if run.log else ()
        items += [p.text(f"{run.name}, rows {part.first + 1} to {part.last + 1}: {part.reason}") for part in rows]
        for number, setting in enumerate(run.settings, 1):
            if setting.set_aside:
                items.append(p.text(f"Setting {number}: {setting.set_aside}"))
            for key, readings in setting.readings.items():
                for reading in readings:
                    if reading is not None and reading.set_aside and key in quantities:
                        where = f"Setting {number}, {quantities[key].name}, {reading.text} {quantities[key].unit}"
                        items.append(p.text(f"{where}: {reading.set_aside}"))
    return [p.heading("Left out, and why"), p.bullets(items)] if items else []
