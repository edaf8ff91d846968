"""A report as a typst document: tagged pages with everything that can be named, named. Text of people only ever goes into strings."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.reporting.tree import (
    Block,
    Drawing,
    Equation,
    Heading,
    Inline,
    Inlines,
    Items,
    Maths,
    Paragraph,
    Part,
    Photo,
    Pointer,
    Report,
    Table,
    Words,
)
from hobrel.reports.papers import TYPST_NAMES, Paper
from hobrel.reports.printable import make_printable

HERE = Path(__file__).parent
KEPT_WHOLE = 28
"""Rows of a table that fit on one page with what stands around them; a longer one goes on, with its heading again."""
_STYLES = {"italic": "emph", "bold": "strong", "sup": "super", "sub": "sub", "struck": "strike", "live": "strong", "gone": "highlight"}
SHORT_LIST = 8


@dataclass(frozen=True)
class Pages:
    """How pages are set: the paper, and what mathematics in TeX is in typst's own grammar (empty where it could not be made)."""

    paper: Paper
    maths: Mapping[str, str]
    files: Mapping[str, str]
    """The names of the files of drawings and photos, by key."""


def write_typst(report: Report, pages: Pages) -> str:
    """The source of a document."""
    top = report.byline[0] if report.byline else ""
    head = (HERE / "report.typ").read_text(encoding="utf-8")
    out = [
        f"#let hobrel-title = {quote(report.title)}",
        f"#let hobrel-top = {quote(top)}",
        f"#let hobrel-paper = {quote(TYPST_NAMES[pages.paper])}",
        head,
    ]
    out.append(f"#heading(level: 1)[#{quote(report.title)}]")
    if report.byline:
        out.append(f"#byline[{' #linebreak() '.join(f'#{quote(line)}' for line in report.byline)}]")
    for part in report.printed:
        out += _part(part, pages)
    return "\n\n".join(out) + "\n"


def quote(text: str) -> str:
    """Text as a string of typst: nothing in it has a meaning."""
    return json.dumps(make_printable(text), ensure_ascii=False)


def _part(part: Part, pages: Pages) -> list[str]:
    out = [f"#heading(level: 2)[#{quote(part.title)}]"] if part.title else []
    for block, following in zip(part.blocks, (*part.blocks[1:], None), strict=True):
        # what leads to an equation or a list is not left alone at the foot of a page
        leads = isinstance(block, Paragraph | Equation) and isinstance(following, Equation | Items | Table)
        made = _WRITERS[type(block)](block, pages)
        out.append(f"#block(sticky: true)[{made}]" if leads else made)
    return ["#[#set text(size: 9pt)", "#set par(spacing: 0.8em)", *out, "]"] if part.is_appendix else out


def _heading(block: Heading, pages: Pages) -> str:
    return f"#heading(level: 3)[{_words(block.words, pages)}]"


def _paragraph(block: Paragraph, pages: Pages) -> str:
    words = _words(block.words, pages)
    return words if block.role == "plain" else f"#{block.role}[{words}]"


def _items(block: Items, pages: Pages) -> str:
    kind = f"enum(start: {block.first}, " if block.numbered else "list("
    made = f"#{kind}{', '.join(f'[{_words(item, pages)}]' for item in block.items)})"
    # a short list is not torn apart
    return f"#block(breakable: false)[{made}]" if len(block.items) <= SHORT_LIST else made


def _equation(block: Equation, pages: Pages) -> str:
    set_maths = _maths(block.tex, pages, alone=True)
    if not block.number:
        return f"#block(breakable: false)[{set_maths}]"
    return f"#grid(columns: (1fr, auto), align: horizon, [{set_maths}], [({block.number})]) <{block.key}>"


def _table(block: Table, pages: Pages) -> str:
    if block.blank:
        columns = ", ".join("1fr" for _ in block.head)
        rows = f"rows: (auto, {', '.join('9mm' for _ in block.rows)})"
    else:
        columns, rows = ", ".join("auto" for _ in block.head), ""
    align = ", ".join("left" if worded else "right" for worded in block.worded)
    head = ", ".join(f"[{_words(cell, pages)}]" for cell in block.head)
    cells = ", ".join(f"[{_words(cell, pages)}]" for row in block.rows for cell in row)
    table = f"table(columns: ({columns},), align: ({align},), {rows + ', ' if rows else ''}table.header({head}), {cells})"
    whole = "false" if len(block.rows) <= KEPT_WHOLE else "true"
    return _figure(table, "table", block.caption, "Table", block.number, block.key, pages, breakable=whole)


def _drawing(block: Drawing, pages: Pages) -> str:
    width = "74%" if block.figure is not None else "70%"
    picture = f"image({quote(pages.files[block.key])}, alt: {quote(block.described)}, width: {width})"
    return _figure(picture, "image", block.caption, "Figure", block.number, block.key, pages)


def _photo(block: Photo, pages: Pages) -> str:
    if block.key not in pages.files:
        return f"#note[#{quote('This picture is no longer here.')}]"
    tall = block.height > block.width
    size = "height: 90mm" if tall else "width: 70%"
    picture = f"image({quote(pages.files[block.key])}, alt: {quote(block.described or 'A picture.')}, {size})"
    return _figure(picture, "image", block.caption, "Figure", block.number, block.key, pages)


def _figure(inner: str, kind: str, caption: Inlines, name: str, number: int, key: str, pages: Pages, breakable: str = "false") -> str:
    numbered = f"#strong[{name} {number}.] " if number else ""
    words = f"{numbered}{_words(caption, pages)}"
    return f"#[#show figure: set block(breakable: {breakable})\n#figure({inner}, kind: {kind}, caption: [{words}]) <{key}>]"


def _words(words: Inlines, pages: Pages) -> str:
    return "".join(_inline(word, pages) for word in words)


def _inline(word: Inline, pages: Pages) -> str:
    match word:
        case Maths(tex=tex):
            return _maths(tex, pages, alone=False)
        case Pointer(to=to, text=text):
            return f"#link(<{to}>)[#{quote(text)}]"
        case Words(text=text, style=style):
            lines = [f"#{quote(line)}" if line else "" for line in text.split("\n")]
            plain = " #linebreak() ".join(lines)
            return f"#{_STYLES[style]}[{plain}]" if style in _STYLES else plain
    raise TypeError(word)


def _maths(tex: str, pages: Pages, alone: bool) -> str:
    """Mathematics with what it says for whoever hears it; as that alone where typst cannot set it."""
    plain, made = write_plainly(tex), pages.maths.get(tex, "")
    if not made:
        return f"#emph[#{quote(plain)}]"
    return f"#math.equation(block: {'true' if alone else 'false'}, alt: {quote(plain)}, {made})"


_WRITERS: Mapping[type[Block], Callable[..., str]] = {
    Heading: _heading,
    Paragraph: _paragraph,
    Items: _items,
    Equation: _equation,
    Table: _table,
    Drawing: _drawing,
    Photo: _photo,
}
