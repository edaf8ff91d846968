"""What has changed between two reports of one lab book: what was found then and now, which readings are others, what is written anew."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.reporting.tree import Block, Drawing, Equation, Heading, Inlines, Items, Paragraph, Part, Photo, Report, Table, plain_words
from hobrel.core.sentences import Sentence, say

MOST_CELLS = 12
"""So many readings are named one by one; further ones are counted."""


@dataclass(frozen=True)
class PartChange:
    """A part of a report that is another: what is to be said of it; `before` and `after` are its own words, where it has any."""

    title: str
    words: tuple[Sentence, ...]
    before: str = ""
    after: str = ""


def find_changes(before: Report, after: Report) -> tuple[PartChange, ...]:
    """The parts that are printed in one of two reports and not alike in both, in the order of the later one.

    What follows from the same readings by itself (drawings, workings, who wrote when) is left out.
    """
    old, new = ({part.key: part for part in report.printed} for report in (before, after))
    found = [_compare(old.get(key), part) for key, part in new.items() if not part.is_appendix and not key.startswith("graph:")]
    gone = [PartChange(part.title, (say("part_gone", "It is no longer in the report."),)) for key, part in old.items() if key not in new]
    return (*(change for change in found if change is not None), *gone)


def _compare(before: Part | None, after: Part) -> PartChange | None:
    if before is None:
        return PartChange(after.title, (say("part_new", "It was not in the report before."),), after=_own_words(after))
    if before.blocks == after.blocks:
        return None
    if after.section is not None:
        return PartChange(after.title, (say("part_rewritten", "It is written anew."),), _own_words(before), _own_words(after))
    cells = list(_changed_cells(before, after))
    if any(isinstance(b, Table) for b in after.blocks):
        named = tuple(
            say("cell_changed", "{where}: {before} is now {after}.", where=w, before=b, after=a) for w, b, a in cells[:MOST_CELLS]
        )
        more = (say("more_cells", "And {count} more.", count=len(cells) - MOST_CELLS),) if len(cells) > MOST_CELLS else ()
        return PartChange(after.title, (*named, *more)) if named else _rows_changed(before, after)
    first, then = _main_words(before), _main_words(after)
    if first == then:
        return None
    return PartChange(after.title, (say("result_changed", "Then: {before} Now: {after}", before=first, after=then),))


def _rows_changed(before: Part, after: Part) -> PartChange | None:
    counts = [max((len(b.rows) for b in part.blocks if isinstance(b, Table)), default=0) for part in (before, after)]
    if counts[0] == counts[1]:
        return None
    return PartChange(
        after.title, (say("rows_changed", "There were {before} rows; there are {after}.", before=counts[0], after=counts[1]),)
    )


def _changed_cells(before: Part, after: Part) -> Iterator[tuple[str, str, str]]:
    """Cells of what was written down that are others, each by what was set in its row and its heading."""
    earlier = {b.key: b for b in before.blocks if isinstance(b, Table)}
    for table in after.blocks:
        if isinstance(table, Table) and table.key.startswith("readings-"):
            yield from _changed_in(earlier.get(table.key), table)


def _changed_in(old: Table | None, new: Table) -> Iterator[tuple[str, str, str]]:
    if old is None or old.head != new.head:
        return
    rows = {_key(row): row for row in old.rows}
    for number, row in enumerate(new.rows):
        was = rows.get(_key(row)) or (old.rows[number] if number < len(old.rows) and len(old.rows) == len(new.rows) else None)
        for head, cell, earlier in zip(new.head, row, was or (), strict=False):
            if cell != earlier:
                yield f"{_key(row)}, {plain_words(head)}", _written(earlier), _written(cell)


def _key(row: tuple[Inlines, ...]) -> str:
    return plain_words(row[0]) if row else ""


def _written(cell: Inlines) -> str:
    struck = any(getattr(word, "style", "") == "struck" for word in cell)
    return f"{plain_words(cell)} (set aside)" if struck else plain_words(cell)


def _main_words(part: Part) -> str:
    """What a result says first: the sentence of a finding with its number, the numbers of a card."""
    for block in part.blocks:
        if isinstance(block, Items):
            return " ".join(plain_words(item) for item in block.items[:2])
        if isinstance(block, Paragraph) and "=" in plain_words(block.words):
            return plain_words(block.words).partition(". ")[0] + "."
    return " ".join(_plain(block) for block in part.blocks)


def _own_words(part: Part) -> str:
    return "\n".join(_plain(block) for block in part.blocks)


def _plain(block: Block) -> str:
    match block:
        case Paragraph() | Heading():
            return plain_words(block.words)
        case Items():
            marks = (f"{n}." if block.numbered else "–" for n, _ in enumerate(block.items, block.first))
            return "\n".join(f"{mark} {plain_words(item)}" for mark, item in zip(marks, block.items, strict=True))
        case Equation():
            return write_plainly(block.tex)
        case Table() | Drawing() | Photo():
            return plain_words(block.caption)
