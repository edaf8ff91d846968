"""A report as pandoc's document tree, for browsers and word processors. Text of people only ever goes into text nodes."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.reporting.tree import (
    MOST_LETTERS,
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
    letters_of,
)
from hobrel.reports.printable import make_printable, quoteattr

Node = dict[str, Any]
API_VERSION = [1, 23, 1]
_NO_ATTRIBUTES: list[Any] = ["", [], []]
_STYLES = {
    "italic": "Emph",
    "bold": "Strong",
    "sup": "Superscript",
    "sub": "Subscript",
    "struck": "Strikeout",
    "live": "Strong",
    "gone": "Underline",
}
_RAISED_BRACKET = re.compile(r"(?<!\\left)\(([^()]*)\)\^")
_WITH_COMMA = re.compile(r"(\d+)\{,\}(\d+)")
_NAMED_BRACE = re.compile(r"\\underbrace\{([^{}]*)\}_\{((?:[^{}]|\{[^{}]*\})*)\}")
Target = Literal["html", "docx", "odt"]


@dataclass(frozen=True)
class Sheets:
    """What a document is written for.

    Attributes
    ----------
    target : {"html", "docx", "odt"}
    pictures : mapping of key to a data address, or in HTML to a drawing itself
    unset : TeX that pandoc cannot read, which is written plainly
    """

    target: Target
    pictures: Mapping[str, str]
    unset: frozenset[str] = field(default_factory=frozenset)


def write_document(report: Report, sheets: Sheets) -> str:
    """The whole tree as the JSON that pandoc reads."""
    meta, blocks = {}, []
    if sheets.target == "html":
        blocks.append(_header(1, (Words(report.title),), sheets))
        if report.byline:
            blocks.append(_styled("Byline", [_para((Words("\n".join(report.byline)),), sheets)], sheets))
    else:
        # in word processors they have styles of their own, and are what the file says of itself
        meta = {"title": _meta(report.title), "lang": _meta("en-GB")}
        meta["author"] = {"t": "MetaList", "c": [_meta(line) for line in report.byline]}
    for part in report.printed:
        blocks += _part(part, sheets)
    return json.dumps({"pandoc-api-version": API_VERSION, "meta": meta, "blocks": blocks})


def _meta(words: str) -> Node:
    return {"t": "MetaInlines", "c": write_words(words)}


def _part(part: Part, sheets: Sheets) -> list[Node]:
    out = [_header(2, (Words(part.title),), sheets)] if part.title else []
    for block, following in zip(part.blocks, (*part.blocks[1:], None), strict=True):
        made = _WRITERS[type(block)](block, sheets)
        # what leads to an equation or a list is not left alone at the foot of a page
        leads = isinstance(block, Paragraph) and block.role == "plain" and isinstance(following, Equation | Items | Table)
        out += [_styled("Lead", made, sheets)] if leads and sheets.target != "html" else made
    return out


def _header(level: int, words: Sequence[Inline], sheets: Sheets) -> Node:
    """A heading; where the title is none, those of parts are the first level."""
    return {"t": "Header", "c": [level if sheets.target == "html" else level - 1, _NO_ATTRIBUTES, _inlines(words, sheets)]}


def _para(words: Sequence[Inline], sheets: Sheets) -> Node:
    return {"t": "Para", "c": _inlines(words, sheets)}


def _styled(style: str, blocks: list[Node], sheets: Sheets) -> Node:
    """Blocks under a style by its name, which a school's own template may set as it likes."""
    return {"t": "Div", "c": [["", [style.lower()], [["custom-style", style]]], blocks]}


def _heading(block: Heading, sheets: Sheets) -> list[Node]:
    return [_header(3, block.words, sheets)]


def _paragraph(block: Paragraph, sheets: Sheets) -> list[Node]:
    made = _para(block.words, sheets)
    return [made] if block.role == "plain" else [_styled(block.role.capitalize(), [made], sheets)]


def _items(block: Items, sheets: Sheets) -> list[Node]:
    items = [[{"t": "Plain", "c": _inlines(item, sheets)}] for item in block.items]
    if block.numbered:
        return [{"t": "OrderedList", "c": [[block.first, {"t": "Decimal"}, {"t": "Period"}], items]}]
    return [{"t": "BulletList", "c": items}]


def _equation(block: Equation, sheets: Sheets) -> list[Node]:
    alone = _maths(block.tex, sheets, display=not block.number)
    if not block.number:
        return [{"t": "Para", "c": [alone]}]
    numbered = [alone, *write_words(f"\u2003\u2003({block.number})")]
    return [{"t": "Div", "c": [[block.key, ["numbered"], []], [{"t": "Para", "c": numbered}]]}]


def _table(block: Table, sheets: Sheets) -> list[Node]:
    def cell(words: Inlines) -> list[Any]:
        return [_NO_ATTRIBUTES, {"t": "AlignDefault"}, 1, 1, [{"t": "Plain", "c": _inlines(words, sheets)}]]

    def row(cells: Sequence[Inlines]) -> list[Any]:
        return [_NO_ATTRIBUTES, [cell(c) for c in cells]]

    columns = [
        [{"t": "AlignLeft" if worded else "AlignRight"}, width]
        for worded, width in zip(block.worded, _widths(block, sheets.target), strict=True)
    ]
    body = [_NO_ATTRIBUTES, 0, [], [row(r) for r in block.rows]]
    caption = [None, [{"t": "Plain", "c": _caption("Table", block.number, block.caption, sheets)}]]
    attributes = [block.key, [], []]
    return [{"t": "Table", "c": [attributes, caption, columns, [_NO_ATTRIBUTES, [row(block.head)]], [body], [_NO_ATTRIBUTES, []]]}]


def _widths(block: Table, target: Target) -> list[Node]:
    """In word processors columns are as wide as their longest cell needs, or numbers break in the middle."""
    if target == "html":
        return [{"t": "ColWidthDefault"} for _ in block.head]
    needed = [letters_of(head, (row[i] for row in block.rows)) for i, head in enumerate(block.head)]
    least, most = (sum(letters) for letters in zip(*needed, strict=True))
    # where not all headings can stand on one line, each column has what its numbers need, and of the rest its share
    share = 1.0 if most <= MOST_LETTERS or most == least else max(0.0, (MOST_LETTERS - least) / (most - least))
    letters = [few + share * (many - few) for few, many in needed]
    whole = max(sum(letters), MOST_LETTERS)
    return [{"t": "ColWidth", "c": length / whole} for length in letters]


def _drawing(block: Drawing, sheets: Sheets) -> list[Node]:
    width = "74%" if block.figure is not None else "70%"
    return _figure(block.key, block.described, width, _caption("Figure", block.number, block.caption, sheets), sheets)


def _photo(block: Photo, sheets: Sheets) -> list[Node]:
    if block.key not in sheets.pictures:
        return _paragraph(Paragraph((Words("This picture is no longer here."),), "note"), sheets)
    width = "45%" if block.height > block.width else "70%"
    return _figure(block.key, block.described, width, _caption("Figure", block.number, block.caption, sheets), sheets)


def _figure(key: str, described: str, width: str, caption: list[Node], sheets: Sheets) -> list[Node]:
    image = _image(sheets.pictures[key], described, width)
    return [{"t": "Figure", "c": [[key, [], []], [None, [{"t": "Plain", "c": caption}]], [{"t": "Plain", "c": [image]}]]}]


def _image(picture: str, described: str, width: str) -> Node:
    if picture.startswith("<svg"):
        # a drawing of our own, whose words are in the page's fonts only as a part of it
        opened = f'<svg role="img" aria-label={quoteattr(described)} class="drawing"'
        return {"t": "RawInline", "c": ["html", picture.replace("<svg", opened, 1)]}
    return {"t": "Image", "c": [["", [], [["width", width]]], write_words(described), [picture, ""]]}


def _caption(name: str, number: int, caption: Inlines, sheets: Sheets) -> list[Node]:
    numbered = [{"t": "Strong", "c": write_words(f"{name} {number}.")}, {"t": "Space"}] if number else []
    return [*numbered, *_inlines(caption, sheets)]


def _inlines(words: Sequence[Inline], sheets: Sheets) -> list[Node]:
    return [node for word in words for node in _inline(word, sheets)]


def _inline(word: Inline, sheets: Sheets) -> list[Node]:
    match word:
        case Maths(tex=tex):
            return [_maths(tex, sheets, display=False)]
        case Pointer(to=to, text=text):
            return [{"t": "Link", "c": [_NO_ATTRIBUTES, write_words(text), [f"#{to}", ""]]}]
        case Words(text=text, style=style):
            inner = write_words(text)
            return [{"t": _STYLES[style], "c": inner}] if style in _STYLES else inner
    raise TypeError(word)


def _maths(tex: str, sheets: Sheets, display: bool) -> Node:
    """Mathematics that the core made, never text from a person; as plain text where it cannot be read."""
    if tex in sheets.unset:
        return {"t": "Emph", "c": write_words(write_plainly(tex))}
    whole = keep_whole(tex)
    readable = whole if sheets.target == "html" else _for_word_processors(whole)
    return {"t": "Math", "c": [{"t": "DisplayMath" if display else "InlineMath"}, readable]}


def keep_whole(tex: str) -> str:
    """Numbers with a decimal comma as one piece each: pandoc would set 4{,}79 as a list of two numbers, with a space between them."""
    return _WITH_COMMA.sub(r"\\operatorname{\1,\2}", tex)


def _for_word_processors(tex: str) -> str:
    """The same as they understand it: a bracket that is raised is one with what stands in it, and a name stands below without a brace."""
    return _RAISED_BRACKET.sub(r"\\left(\1\\right)^", _NAMED_BRACE.sub(r"\\underset{\2}{\1}", tex))


def write_words(text: str) -> list[Node]:
    """Words with their spaces and ends of lines."""
    out: list[Node] = []
    for i, line in enumerate(make_printable(text).split("\n")):
        if i:
            out.append({"t": "LineBreak"})
        for j, word in enumerate(line.split(" ")):
            if j:
                out.append({"t": "Space"})
            if word:
                out.append({"t": "Str", "c": word})
    return out


_WRITERS: Mapping[type[Block], Callable[..., list[Node]]] = {
    Heading: _heading,
    Paragraph: _paragraph,
    Items: _items,
    Equation: _equation,
    Table: _table,
    Drawing: _drawing,
    Photo: _photo,
}
