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
    if before is not after:
        _compare(before, after, (), changes)
    return changes


def write_changes(changes: list[Change]) -> bytes:
    """As JSON, in the form in which results themselves are written."""
    return to_json(changes, inf_nan_mode="null")


@cache
def _names(kind: type) -> tuple[str, ...]:
    return tuple(field.name for field in fields(kind))


_PLAIN = (str, float, int, bool, type(None))


def _compare(before: Any, after: Any, place: Place, changes: list[Change]) -> bool:
    """Add what has changed at and below a place; whether all of it has, in one change. The two are not the same object."""
    parts = _parts(before, after)
    if parts is not None:
        first, wholly = len(changes), 0
        for step, old, new in parts:
            # what has not been worked out anew is mostly the same object, so that most of a comparison ends here
            if old is new:
                continue
            if type(new) not in _PLAIN:
                wholly += _compare(old, new, (*place, step), changes)
            elif type(old) is not type(new) or old != new:
                changes.append(Change((*place, step), new))
                wholly += 1
        if not place or 2 * wholly <= len(parts):
            return False
        # most of its parts: shorter to send as a whole
        del changes[first:]
    elif before == after:
        return False
    changes.append(Change(place, after))
    return True


def _parts(before: Any, after: Any) -> list[tuple[str | int, Any, Any]] | None:
    """What two things of one form are made of, side by side; None where they are of other forms, or have no parts."""
    kind = type(after)
    if kind is not type(before):
        return None
    if is_dataclass(kind):
        return [(name, getattr(before, name), getattr(after, name)) for name in _names(kind)]
    if isinstance(after, tuple | list) and len(before) == len(after):
        return list(zip(range(len(after)), before, after, strict=True))
    if isinstance(after, Mapping) and before.keys() == after.keys():
        return [(key, before[key], new) for key, new in after.items()]
    return None
