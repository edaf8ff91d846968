"""The class’s word for how steep a line is, and its decimal mark, put in the place of ours in all that is told of a lab book.

What people have written themselves, and the lab book, stay as they are: only sentences, typeset text, formulas, messages of ours and
fields that are declared to hold numbers as people read them are gone through. See decision 60.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import cache
from typing import Any, Literal, TypeVar, get_args, get_origin, get_type_hints

from hobrel.core.document.lab_book import Convention, LabBook
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import RichRun
from hobrel.core.presentation.results import Trouble
from hobrel.core.presentation.working_parts import Onward, Working
from hobrel.core.sentences import NUMBERS, Sentence

T = TypeVar("T")
_OURS = re.compile(r"\b(g|G)radient(s?)\b")
_OURS_OF: dict[type, tuple[str, ...]] = {Trouble: ("message",), Working: ("title", "result"), Onward: ("words",)}
"""Plain texts of ours, besides formulas, of which names end in tex."""
_POINT = re.compile(r"(?:\w+://|www\.|\b10\.\d{4,9}/)\S+|(?<![.,\d])(\d+)\.(?=\d+(?!\.?\d))")
"""The point of a number; one with two points (a day, a part of a part) is none, and an address or the number of a paper stays as it is."""
_TEXT_IN_TEX = re.compile(r"(\\text\{[^{}]*\})")
_BETWEEN_NUMBERS = re.compile(r"(\d,\d+), (?=[-+−]?\d)")


@dataclass(frozen=True)
class Wording:
    """What a class has in the place of ours."""

    slope: bool
    comma: bool

    def put_in(self, text: str) -> str:
        """A text of ours in the class's words."""
        if self.slope and _OURS.search(text):
            text = _OURS.sub(lambda m: f"{'S' if m[1] == 'G' else 's'}lope{m[2]}", text)
        return self.mark(text)

    def put_in_tex(self, tex: str) -> str:
        """The same in TeX, where a comma by itself would have a space behind it."""
        tex = Wording(self.slope, False).put_in(tex)
        if not self.comma or "." not in tex:
            return tex
        return "".join(_put_in_mark(part, "," if part.startswith(r"\text{") else "{,}") for part in _TEXT_IN_TEX.split(tex))

    def mark(self, text: str) -> str:
        """A text of numbers, with the class's mark and nothing else changed."""
        return _BETWEEN_NUMBERS.sub(r"\1; ", _put_in_mark(text, ",")) if self.comma and "." in text else text


def _put_in_mark(text: str, mark: str) -> str:
    return _POINT.sub(lambda found: found[0] if found[1] is None else found[1] + mark, text)


def wording_of(convention: Convention) -> Wording | None:
    """What a convention has in the place of ours; None for nothing."""
    wording = Wording(convention.slope_word == "slope", convention.decimal_mark == "comma")
    return wording if wording.slope or wording.comma else None


Places = frozenset[tuple[type, str]]


def reword(told: T, convention: Convention, also: Places = frozenset()) -> T:
    """What is told, in the class's words and with its decimal mark.

    Parameters
    ----------
    told : a result
        Of any kind; what is in it is gone through.
    convention : Convention
    also : set of (type, name of a field)
        Numbers are read in these too, here.
    """
    wording = wording_of(convention)
    return told if wording is None else _go_through(told, wording, also)


def reword_error(trouble: CoreError, convention: Convention) -> CoreError:
    """An error in the class's words."""
    return CoreError.told(trouble.code, reword_text(trouble.message, convention), trouble.fields)


def reword_text(text: str, convention: Convention) -> str:
    """A text of ours in the class's words."""
    wording = wording_of(convention)
    return text if wording is None else wording.put_in(text)


def _go_through(told: Any, wording: Wording, also: Places) -> Any:
    match told:
        case str() | int() | float() | None | LabBook():
            return told
        case Sentence() | RichRun() if wording.put_in(told.text) == told.text:
            return told
        case Sentence():
            put_in = {name: wording.put_in(value) if isinstance(value, str) else value for name, value in told.fields.items()}
            return Sentence(told.code, wording.put_in(told.text), put_in)
        case RichRun():
            return replace(told, text=wording.put_in(told.text))
        case tuple() | list():
            parts = [_go_through(part, wording, also) for part in told]
            return told if all(a is b for a, b in zip(parts, told, strict=True)) else type(told)(parts)
        case dict():
            values = {key: _go_through(value, wording, also) for key, value in told.items()}
            return told if all(values[key] is told[key] for key in told) else values
    if not is_dataclass(told) or isinstance(told, type):
        return told
    changed = {}
    for name, way in _ways_of(type(told), also):
        value = getattr(told, name)
        other = _go_through(value, wording, also) if way == "parts" else _change(value, getattr(wording, way))
        if other is not value and other != value:
            changed[name] = other
    return replace(told, **changed) if changed else told


def _change(value: Any, change: Any) -> Any:
    match value:
        case str():
            return change(value)
        case tuple() | list():
            return type(value)(_change(part, change) for part in value)
        case dict():
            return {key: _change(part, change) for key, part in value.items()}
    return value


@cache
def _ways_of(kind: type, also: Places) -> tuple[tuple[str, str], ...]:
    """How each field of a result is gone through: by what changes its texts, or part by part. What holds no text is left out."""
    hints = get_type_hints(kind, include_extras=True)
    ways = []
    for field in fields(kind):
        if _holds_no_text(hints[field.name]):
            continue
        if field.name in _OURS_OF.get(kind, ()):
            way = "put_in"
        elif field.name.endswith("tex"):
            way = "put_in_tex"
        else:
            way = "mark" if (kind, field.name) in also or _holds_numbers(hints[field.name]) else "parts"
        ways.append((field.name, way))
    return tuple(ways)


def _holds_no_text(hint: Any) -> bool:
    if get_origin(hint) is Literal:
        return True
    parts = [part for part in get_args(hint) if part is not Ellipsis]
    return all(_holds_no_text(part) for part in parts) if parts else hint in (bool, int, float, type(None))


def _holds_numbers(hint: Any) -> bool:
    return NUMBERS in getattr(hint, "__metadata__", ()) or any(_holds_numbers(part) for part in get_args(hint))
