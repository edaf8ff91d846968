"""A bench's own words: plain text in which a few marks mean something, read into blocks. What cannot be read stays as it was typed.

Names in braces are live values; ``{see:graph1}`` points to something numbered, ``{= g = 4 pi^2 L/T^2}`` is mathematics. A line that begins
with ``- `` or ``* `` is an item, with ``1. `` a numbered one that keeps its number, with ``# `` a heading; ``*words*`` and ``**words**``
are emphasised, but not what stands between signs of multiplication (4*pi*r).
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

_ITEM, _NUMBERED, _HEADING = re.compile(r"[-–•*] +(.*)"), re.compile(r"(\d{1,3})[.)] +(.*)"), re.compile(r"#+ +(.*)")
_MARKED = re.compile(r"\{([^{}\n]{1,200})\}|(?<![\w)\]}*])(\*\*?)(?![\s*])([^*{}\n]+?)(?<!\s)\2(?![\w(\[{*])")
_MAY_BE_MINUS = re.compile(r"[-–] +[\d.]")
"""Of a single line: a list of one that begins with a number looks the same as what is below zero."""
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
            for block in _read_lines(lines, f"{section}-{len(blocks)}", around, unknown):
                if (one := _go_on(blocks, block)) is not None:
                    blocks[-1] = one
                else:
                    blocks.append(block)
    return ReadWords(tuple(blocks), len(re.findall(r"[^\W_]+(?:[’'-][^\W_]+)*", text)), tuple(dict.fromkeys(unknown)))


def _go_on(blocks: list[Block], block: Block) -> Items | None:
    """A numbered list together with the one before it, whose numbers it goes on with behind an empty line."""
    before = blocks[-1] if blocks else None
    if not (isinstance(before, Items) and isinstance(block, Items) and before.numbered and block.numbered):
        return None
    goes_on = block.first == before.first + len(before.items)
    return Items((*before.items, *block.items), True, before.first) if goes_on else None


def _of_one_kind(lines: list[str]) -> Iterator[list[str]]:
    """Lines that belong together: the items of a list, a heading, the lines of a paragraph."""
    run: list[str] = []
    for line in lines:
        if run and (_kind(line) != _kind(run[0]) or _kind(line) == "heading" or not _counts_on(run[-1], line)):
            yield run
            run = []
        run.append(line)
    if any(line.strip() for line in run):
        yield run


def _counts_on(line: str, following: str) -> bool:
    """Whether the number of an item is the next one; lines without numbers go on in any case."""
    before, after = _NUMBERED.fullmatch(line.strip()), _NUMBERED.fullmatch(following.strip())
    return before is None or after is None or int(after[1]) == int(before[1]) + 1


def _kind(line: str) -> str:
    for name, pattern in (("item", _ITEM), ("numbered", _NUMBERED), ("heading", _HEADING)):
        if pattern.fullmatch(line.strip()):
            return name
    return "words"


def _read_lines(lines: list[str], key: str, around: Surroundings, unknown: list[str]) -> list[Block]:
    kind = "words" if len(lines) == 1 and _MAY_BE_MINUS.match(lines[0].strip()) else _kind(lines[0])
    patterns = {"item": _ITEM, "numbered": _NUMBERED, "heading": _HEADING}
    if kind in patterns:
        found = [match for line in lines if (match := patterns[kind].fullmatch(line.strip()))]
        read = tuple(_read_line(match[match.re.groups], around, unknown) for match in found)
        if kind == "numbered":
            return [Items(read, numbered=True, first=int(found[0][1]))]
        return [Heading(read[0])] if kind == "heading" else [Items(read)]
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
        if mark[3] is not None:
            out.append(Words(mark[3], "italic"))
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
