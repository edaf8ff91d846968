"""The class's word for how steep a line is, put in the place of ours in all that is told of a lab book.

What people have written themselves, and the lab book, stay as they are: only sentences, runs of typeset text, formulas and messages of ours
are gone through.
"""

from __future__ import annotations

import re
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

from hobrel.core.document.lab_book import LabBook, SlopeWord
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import RichRun
from hobrel.core.presentation.results import Trouble
from hobrel.core.presentation.working_parts import Onward, Working
from hobrel.core.sentences import Sentence

T = TypeVar("T")
_OURS = re.compile(r"\b(g|G)radient(s?)\b")
_OURS_OF: dict[type, tuple[str, ...]] = {Trouble: ("message",), Working: ("title", "result"), Onward: ("words",)}
"""Plain texts of ours, besides formulas, of which names end in tex."""


def reword(told: T, word: SlopeWord) -> T:
    """What is told, in the class's words."""
    return told if word == "gradient" else _go_through(told)


def reword_error(trouble: CoreError, word: SlopeWord) -> CoreError:
    """An error in the class's words."""
    return CoreError.told(trouble.code, reword_text(trouble.message, word), trouble.fields)


def reword_text(text: str, word: SlopeWord) -> str:
    """A text of ours in the class's words."""
    return text if word == "gradient" else _OURS.sub(lambda m: f"{'S' if m[1] == 'G' else 's'}lope{m[2]}", text)


def _go_through(told: Any) -> Any:
    match told:
        case Sentence() | RichRun() if not _OURS.search(told.text):
            return told
        case Sentence():
            put_in = {name: reword_text(value, "slope") if isinstance(value, str) else value for name, value in told.fields.items()}
            return Sentence(told.code, reword_text(told.text, "slope"), put_in)
        case RichRun():
            return replace(told, text=reword_text(told.text, "slope"))
        case LabBook():
            return told
        case tuple() | list():
            parts = [_go_through(part) for part in told]
            return told if all(a is b for a, b in zip(parts, told, strict=True)) else type(told)(parts)
        case dict():
            values = {key: _go_through(value) for key, value in told.items()}
            return told if all(values[key] is told[key] for key in told) else values
    if not is_dataclass(told) or isinstance(told, type):
        return told
    changed = {}
    for field in fields(told):
        value = getattr(told, field.name)
        is_ours = isinstance(value, str) and (field.name.endswith("tex") or field.name in _OURS_OF.get(type(told), ()))
        other = reword_text(value, "slope") if is_ours else _go_through(value)
        if other is not value:
            changed[field.name] = other
    return replace(told, **changed) if changed else told
