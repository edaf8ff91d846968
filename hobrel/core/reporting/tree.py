"""What a report is made of: parts, blocks, and runs of words."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from hobrel.core.formulas.plain_tex import write_plainly
from hobrel.core.formulas.typeset import RichText, rich_sentence
from hobrel.core.presentation.figures import Figure
from hobrel.core.presentation.results import NumberLine
from hobrel.core.sentences import NumberText, Sentence

WordsStyle = Literal["plain", "italic", "bold", "sup", "sub", "struck", "live", "gone"]


@dataclass(frozen=True)
class Words:
    """Words in one style. `live` is a value that follows the analysis, by its `name`; `gone` is a name in braces that is none."""

    text: str
    style: WordsStyle = "plain"
    name: str = ""
    kind: Literal["words"] = "words"


@dataclass(frozen=True)
class Maths:
    """Mathematics in a line: TeX of our own making."""

    tex: str
    kind: Literal["maths"] = "maths"


@dataclass(frozen=True)
class Pointer:
    """“Table 1”: the name of a numbered block (by its key), put in when all are numbered."""

    to: str
    text: str = ""
    kind: Literal["pointer"] = "pointer"


Inline = Words | Maths | Pointer
Inlines = tuple[Inline, ...]


@dataclass(frozen=True)
class Heading:
    """A heading inside a part, below the part's own title."""

    words: Inlines
    kind: Literal["heading"] = "heading"


@dataclass(frozen=True)
class Paragraph:
    """Sentences that belong together; `quiet` ones are about how, `note` says that something is still missing."""

    words: Inlines
    role: Literal["plain", "quiet", "note"] = "plain"
    kind: Literal["paragraph"] = "paragraph"


@dataclass(frozen=True)
class Items:
    """A list; of a numbered one, `first` is the number that it begins with."""

    items: tuple[Inlines, ...]
    numbered: bool = False
    first: int = 1
    kind: Literal["items"] = "items"


@dataclass(frozen=True)
class Equation:
    """Mathematics on a line of its own; `number` is 0 where nothing refers to it."""

    key: str
    tex: str
    number: int = 0
    kind: Literal["equation"] = "equation"


@dataclass(frozen=True)
class Table:
    """A table with its number and caption; columns of numbers are aligned right, those of words left. One that is `blank` is for writing
    by hand: its rows are high, and it has no number.
    """

    key: str
    caption: Inlines
    head: tuple[Inlines, ...]
    rows: tuple[tuple[Inlines, ...], ...]
    worded: tuple[bool, ...]
    number: int = 0
    blank: bool = False
    kind: Literal["table"] = "table"


@dataclass(frozen=True)
class Drawing:
    """A graph of the lab book or a number line, with its number, its caption, and what is to be seen for whoever does not see it."""

    key: str
    caption: Inlines
    described: NumberText
    figure: Figure | None = None
    line: NumberLine | None = None
    number: int = 0
    kind: Literal["drawing"] = "drawing"


@dataclass(frozen=True)
class Photo:
    """A picture that the bench has brought, by the digest that it is kept under; numbered with the drawings."""

    key: str
    caption: Inlines
    described: str
    picture: str
    width: int
    height: int
    number: int = 0
    kind: Literal["photo"] = "photo"


Block = Heading | Paragraph | Items | Equation | Table | Drawing | Photo


@dataclass(frozen=True)
class Offered:
    """A number typed by hand in a section that is a live value's: `typed` in it, and the `name` that would keep it so."""

    section: str
    typed: str
    name: str


@dataclass(frozen=True)
class Stale:
    """A number typed by hand that was a live value's when it was written, and is not any more: what that value is `now`."""

    section: str
    typed: str
    name: str
    now: NumberText


@dataclass(frozen=True)
class OwnSection:
    """A part of the bench's own words: by which key they are kept, what belongs there, how many words there are and are wanted."""

    section: str
    hint: str
    words: int
    fewest_words: int
    wanted: bool
    own: bool
    """Whether the bench has added it."""


@dataclass(frozen=True)
class Part:
    """A part of the report; one that is `left_out` is still here, without being printed. Without a title it has no heading."""

    key: str
    title: str
    blocks: tuple[Block, ...]
    section: OwnSection | None = None
    left_out: bool = False

    @property
    def is_appendix(self) -> bool:
        """Whether it is what stands behind the report, and is printed smaller."""
        return self.title.startswith("Appendix")


@dataclass(frozen=True)
class Missing:
    """Something that is not as it should be before a report is handed in, and the part in which to mend it (empty: another station)."""

    part: str
    words: Sentence


@dataclass(frozen=True)
class LiveValue:
    """A value that words can hold by its name in braces: its symbol, its text now, and what it is, in words."""

    name: str
    symbol: RichText
    text: NumberText
    words: NumberText


@dataclass(frozen=True)
class Report:
    """A report: title, the line below it, parts in order, values to write with, and what is missing."""

    title: str
    byline: tuple[str, ...]
    parts: tuple[Part, ...]
    values: tuple[LiveValue, ...] = ()
    offered: tuple[Offered, ...] = ()
    stale: tuple[Stale, ...] = ()
    missing: tuple[Missing, ...] = ()

    @property
    def printed(self) -> tuple[Part, ...]:
        """The parts that are not left out, without those of own words in which nothing is written."""
        return tuple(part for part in self.parts if part.blocks and not part.left_out)


def plain_words(words: Inlines) -> str:
    """Words without their styles."""
    return "".join(write_plainly(w.tex) if isinstance(w, Maths) else w.text for w in words)


MOST_LETTERS = 88
"""About so many letters stand in a line of a table."""


def letters_of(head: Inlines, cells: Iterable[Inlines]) -> tuple[int, int]:
    """How many letters a column needs so that no number breaks in the middle, and how many so that its heading does not either."""
    longest, heading = max((len(plain_words(cell)) for cell in cells), default=0), plain_words(head)
    return max(longest, *(len(word) for word in heading.split()), 1) + 2, max(longest, len(heading) + 1) + 2


def words_in(block: Block) -> Inlines:
    """All runs of words in a block, in their order."""
    match block:
        case Paragraph() | Heading():
            return block.words
        case Items():
            return tuple(word for item in block.items for word in item)
        case Table():
            return (*block.caption, *(word for row in (block.head, *block.rows) for cell in row for word in cell))
        case Drawing() | Photo():
            return block.caption
        case Equation():
            return ()


def say_words(text: str, style: WordsStyle = "plain") -> tuple[Words, ...]:
    """One run of words; none for none."""
    return (Words(text, style),) if text else ()


def set_symbols(text: str) -> Inlines:
    """A sentence of ours in which symbols stand as they do everywhere."""
    return rich_words(rich_sentence(text))


def rich_words(rich: RichText) -> tuple[Words, ...]:
    """Styled runs of a symbol or label as words."""
    styles: dict[str, WordsStyle] = {"italic": "italic", "sup": "sup", "sub": "sub", "bold": "bold"}
    return tuple(Words(run.text, styles.get(run.style, "plain")) for run in rich)
