"""Pieces of a pandoc document tree. Text of people only ever goes into text nodes, so markup in it stays text."""

from __future__ import annotations

import json
from typing import Any

Inline = dict[str, Any]
Block = dict[str, Any]
_NO_ATTRIBUTES: list[Any] = ["", [], []]
_API_VERSION = [1, 23, 1]


def text(words: str) -> list[Inline]:
    """Words with their spaces."""
    out: list[Inline] = []
    for i, line in enumerate(words.split("\n")):
        if i:
            out.append({"t": "LineBreak"})
        for j, word in enumerate(line.split(" ")):
            if j:
                out.append({"t": "Space"})
            if word:
                out.append({"t": "Str", "c": word})
    return out


def strong(words: str) -> Inline:
    return {"t": "Strong", "c": text(words)}


def emphasis(inlines: list[Inline]) -> Inline:
    return {"t": "Emph", "c": inlines}


def struck(words: str) -> Inline:
    return {"t": "Strikeout", "c": text(words)}


def math(tex: str, display: bool = False) -> Inline:
    """Mathematics that the core made; never text from a person."""
    return {"t": "Math", "c": [{"t": "DisplayMath" if display else "InlineMath"}, tex]}


def paragraph(inlines: list[Inline]) -> Block:
    return {"t": "Para", "c": inlines}


def heading(words: str, level: int = 2) -> Block:
    return {"t": "Header", "c": [level, _NO_ATTRIBUTES, text(words)]}


def bullets(items: list[list[Inline]]) -> Block:
    return {"t": "BulletList", "c": [[{"t": "Plain", "c": item}] for item in items]}


def picture(source: str, described: str, width: str) -> Block:
    return paragraph([{"t": "Image", "c": [["", [], [["width", width]]], text(described), [source, ""]]}])


def table(head: list[list[Inline]], rows: list[list[list[Inline]]], caption: str, width: float | None = None) -> Block:
    """A table with right-aligned columns, its caption above; `width` is that of a column, as a share of the page."""

    def cell(inlines: list[Inline]) -> list[Any]:
        return [_NO_ATTRIBUTES, {"t": "AlignDefault"}, 1, 1, [{"t": "Plain", "c": inlines}]]

    def row(cells: list[list[Inline]]) -> list[Any]:
        return [_NO_ATTRIBUTES, [cell(c) for c in cells]]

    wide = {"t": "ColWidthDefault"} if width is None else {"t": "ColWidth", "c": width}
    columns = [[{"t": "AlignRight"}, wide] for _ in head]
    body = [_NO_ATTRIBUTES, 0, [], [row(r) for r in rows]]
    caption_blocks = [None, [{"t": "Plain", "c": text(caption)}]] if caption else [None, []]
    return {"t": "Table", "c": [_NO_ATTRIBUTES, caption_blocks, columns, [_NO_ATTRIBUTES, [row(head)]], [body], [_NO_ATTRIBUTES, []]]}


def document(blocks: list[Block]) -> str:
    """The whole tree as the JSON that pandoc reads."""
    return json.dumps({"pandoc-api-version": _API_VERSION, "meta": {}, "blocks": blocks})
