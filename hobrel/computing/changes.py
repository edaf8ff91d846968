"""What one result has that another has not, by place: so that an answer need hold no more than that."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, fields, is_dataclass
from functools import cache
from operator import attrgetter
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
def _fields(kind: type) -> tuple[tuple[str, ...], Callable[[Any], tuple[Any, ...]]] | None:
    """The names of a dataclass's fields, and what takes all of them out at once; None for what is no dataclass."""
    if not is_dataclass(kind):
        return None
    names = tuple(field.name for field in fields(kind))
    return names, attrgetter(*names) if len(names) > 1 else lambda item: (getattr(item, names[0]),)


_PLAIN = frozenset((str, float, int, bool, type(None)))


def _compare(before: Any, after: Any, place: Place, changes: list[Change]) -> bool:
    """Add what has changed at and below a place; whether all of it has, in one change. The two are not the same object."""
    parts = _parts(before, after)
    if parts is not None:
        first, wholly = len(changes), 0
        pairs, count = parts
        for step, old, new in pairs:
            # what has not been worked out anew is mostly the same object, so that most of a comparison ends here
            if old is new:
                continue
            if type(new) not in _PLAIN:
                wholly += _compare(old, new, (*place, step), changes)
            elif type(old) is not type(new) or old != new:
                changes.append(Change((*place, step), new))
                wholly += 1
        if not place or 2 * wholly <= count:
            return False
        # most of its parts: shorter to send as a whole
        del changes[first:]
    elif before == after:
        return False
    changes.append(Change(place, after))
    return True


def _parts(before: Any, after: Any) -> tuple[Iterable[tuple[str | int, Any, Any]], int] | None:
    """What two things of one form are made of, side by side, and how many parts that is; None where they have other forms, or no parts."""
    kind = type(after)
    if kind is not type(before):
        return None
    if (known := _fields(kind)) is not None:
        names, take = known
        return zip(names, take(before), take(after), strict=True), len(names)
    if isinstance(after, tuple | list) and len(before) == len(after):
        return zip(range(len(after)), before, after, strict=True), len(after)
    if isinstance(after, Mapping) and before.keys() == after.keys():
        return ((key, before[key], new) for key, new in after.items()), len(after)
    return None
