"""What people read, told so that programs can tell it apart: a stable code, and what is put in. See decision 28."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Annotated

from hobrel.core.errors import CoreError

Field = str | int

NUMBERS = "numbers as people read them"
NumberText = Annotated[str, NUMBERS]
"""A text in which people read numbers: what declares a field so is shown with the class's decimal mark. See decision 60."""


@dataclass(frozen=True)
class Sentence:
    """A sentence, or a clause of one.

    Attributes
    ----------
    code : str
        Stable, one for each wording.
    text : str
        As it is read.
    fields : dict of name to text or whole number
        What is put into the wording, as it is shown.
    """

    code: str
    text: str
    fields: dict[str, Field] = field(default_factory=dict, hash=False)


Sentences = tuple[Sentence, ...]
"""What is said at one place; nothing is the empty one."""


def say(code: str, template: str, **fields: Field) -> Sentence:
    """Put fields into a wording.

    Parameters
    ----------
    code, template : str
        Literals, so that every wording can be found: the names of fields stand in braces.
    **fields : str or int
    """
    return Sentence(code, template.format(**fields), fields)


def said_by(trouble: CoreError) -> Sentence:
    """The sentence of an error, where one stands in the place of a result."""
    return Sentence(trouble.code, trouble.message, scalar_fields(trouble))


def scalar_fields(trouble: CoreError) -> dict[str, Field]:
    """What an error says beside its message, as far as it is text or a whole number."""
    return {name: value for name, value in trouble.fields.items() if isinstance(value, str | int)}


def with_capital(words: str) -> str:
    """Words as a sentence or a heading begins; a symbol by itself (g, t_20) stays the symbol that it is."""
    first = words.split(" ", 1)[0]
    return words if words == first and (len(first) == 1 or "_" in first) else words[:1].upper() + words[1:]


def told(sentences: Iterable[Sentence], between: str = " ") -> str:
    """The text of what is said at one place."""
    return between.join(sentence.text for sentence in sentences)
