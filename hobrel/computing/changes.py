"""What one result has that another has not, by place: so that an answer need hold no more than that."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, is_dataclass
from functools import cache
from typing import Any

from pydantic_core import to_json

Place = tuple[str | int, ...]


@dataclass(frozen=True)
class Change:
    """What stands at a place now. A place is named by fields of objects, keys, and places in lists."""

    at: Place
    becomes: Any


def find_changes(before: Any, after: Any) -> list[Change]:
    """The changes that make `after` of `before`. Lists of other lengths and keys that come or go are changed as a whole."""
    changes: list[Change] = []
    _compare(before, after, (), changes)
    return changes


def write_changes(changes: list[Change]) -> bytes:
    """As JSON, in the form in which results themselves are written."""
    return to_json(changes, inf_nan_mode="null")


@cache
def _names(kind: type) -> tuple[str, ...]:
    return tuple(field.name for field in fields(kind))


def _compare(before: Any, after: Any, place: Place, changes: list[Change]) -> bool:
    """Add what has changed at and below a place; whether all of it has, in one change."""
    # what has not been worked out anew is mostly the same object, so that most of a comparison ends here
    if before is after:
        return False
    kind, first = type(after), len(changes)
    if kind is not type(before):
        pairs = None
    elif is_dataclass(kind):
        pairs = [(name, getattr(before, name), getattr(after, name)) for name in _names(kind)]
    elif isinstance(after, tuple | list) and len(before) == len(after):
        pairs = [(i, old, new) for i, (old, new) in enumerate(zip(before, after, strict=True))]
    elif isinstance(after, Mapping) and before.keys() == after.keys():
        pairs = [(key, before[key], new) for key, new in after.items()]
    else:
        pairs = None
    if pairs is not None:
        wholly = sum(_compare(old, new, (*place, name), changes) for name, old, new in pairs)
        if not place or 2 * wholly <= len(pairs):
            return False
        # most of its parts: shorter to send as a whole
        del changes[first:]
    elif before == after:
        return False
    changes.append(Change(place, after))
    return True
