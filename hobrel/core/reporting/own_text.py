"""A bench's own words: plain text in which a few marks mean something, read into blocks. What cannot be read stays as it was typed.

Names in braces are live values; ``{see:graph1}`` points to something numbered, ``{= g = 4 pi^2 L/T^2}`` is mathematics. A line that begins
with ``- `` is an item, with ``1. `` a numbered one, with ``# `` a heading; ``*words*`` are emphasised.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass

from hobrel.core.errors import CoreError
from hobrel.core.formulas.evaluate import FUNCTION_RULES
from hobrel.core.formulas.reading import read_formula
from hobrel.core.formulas.typeset import formula_tex
from hobrel.core.reporting.tree import Block, Equation, Heading, Inlines, Items, LiveValue, Maths, Paragraph, Pointer, Words

_ITEM, _NUMBERED, _HEADING = re.compile(r"[-–•] +(.*)"), re.compile(r"\d{1,3}[.)] +(.*)"), re.compile(r"#+ +(.*)")
_MARKED = re.compile(r"\{([^{}\n]{1,200})\}|\*(?! )([^*\n]+?)(?<! )\*")
_NAME = re.compile(r"[^\W\d_]\w*")
_LOOKS_LIKE_A_NAME = re.compile(r"[^\s{}]{1,60}")


@dataclass(frozen=True)
class Surroundings:
    """What words can name: live values, numbered things by key, and the symbols that formulas may hold."""

    values: Mapping[str, LiveValue]
    numbered: Collection[str]
    symbols: Collection[str]


@dataclass(frozen=True)
class ReadWords:
    """What was read: blocks, how many words there are, and what stands in braces without being a name (as it was typed)."""

    blocks: tuple[Block, ...]
    words: int
    unknown: tuple[str, ...]


def read_own_text(text: str, section: str, around: Surroundings) -> ReadWords:
    """Read a bench's own words.

    Parameters
    ----------
    text : str
    section : str
        In which they stand: equations on a line of their own have keys by it.
    around : Surroundings
    """
    blocks: list[Block] = []
    unknown: list[str] = []
    for part in re.split(r"\n\s*\n", text.strip()):
        for lines in _of_one_kind(part.split("\n")):
            blocks += _read_lines(lines, f"{section}-{len(blocks)}", around, unknown)
    return ReadWords(tuple(blocks), len(re.findall(r"[^\W_]+(?:[’'-][^\W_]+)*", text)), tuple(dict.fromkeys(unknown)))


def _of_one_kind(lines: list[str]) -> Iterator[list[str]]:
    """Lines that belong together: the items of a list, a heading, the lines of a paragraph."""
    run: list[str] = []
    for line in lines:
        if run and (_kind(line) != _kind(run[0]) or _kind(line) == "heading"):
            yield run
            run = []
        run.append(line)
    if any(line.strip() for line in run):
        yield run


def _kind(line: str) -> str:
    for name, pattern in (("item", _ITEM), ("numbered", _NUMBERED), ("heading", _HEADING)):
        if pattern.fullmatch(line.strip()):
            return name
    return "words"


def _read_lines(lines: list[str], key: str, around: Surroundings, unknown: list[str]) -> list[Block]:
    kind = _kind(lines[0])
    patterns = {"item": _ITEM, "numbered": _NUMBERED, "heading": _HEADING}
    if kind in patterns:
        texts = [found[1] for line in lines if (found := patterns[kind].fullmatch(line.strip()))]
        read = tuple(_read_line(text, around, unknown) for text in texts)
        return [Heading(read[0])] if kind == "heading" else [Items(read, kind == "numbered")]
    whole = "\n".join(lines).strip()
    alone = re.fullmatch(r"\{=([^{}\n]+)\}", whole)
    if alone and (maths := _read_maths(alone[1], around)) is not None:
        return [Equation(key, maths.tex)]
    return [Paragraph(_read_line(whole, around, unknown))]


def _read_line(text: str, around: Surroundings, unknown: list[str]) -> Inlines:
    out: list[Words | Maths | Pointer] = []
    end = 0
    for mark in _MARKED.finditer(text):
        if mark.start() > end:
            out.append(Words(text[end : mark.start()]))
        if mark[2] is not None:
            out.append(Words(mark[2], "italic"))
        else:
            out.append(_read_braces(mark[1], around, unknown))
        end = mark.end()
    if end < len(text):
        out.append(Words(text[end:]))
    return tuple(out)


def _read_braces(inner: str, around: Surroundings, unknown: list[str]) -> Words | Maths | Pointer:
    if inner.startswith("=") and (maths := _read_maths(inner[1:], around)) is not None:
        return maths
    name = inner.strip().replace(", ", ",")
    if name in around.values:
        return Words(around.values[name].text, "live", name)
    if name.startswith("see:") and name[4:] in around.numbered:
        return Pointer(name[4:])
    if inner.startswith("=") or _LOOKS_LIKE_A_NAME.fullmatch(name):
        unknown.append(f"{{{inner}}}")
        return Words(f"{{{inner}}}", "gone", name)
    return Words(f"{{{inner}}}")


def _read_maths(text: str, around: Surroundings) -> Maths | None:
    """One formula, or several with equals signs between them; None for what is none."""
    # letters of the lab book's are told apart; others may stand there too, and are taken as they are written
    others = set(_NAME.findall(text)) - FUNCTION_RULES.keys() - {"pi"}
    for known in (around.symbols, {*around.symbols, *others}):
        try:
            return Maths(" = ".join(formula_tex(read_formula(side.strip(), known)) for side in text.split("=")))
        except CoreError:
            continue
    return None
