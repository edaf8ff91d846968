"""What a change has done to a document: found by comparing, applied, inverted. Written once for all kinds of edits. See decision 21."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Sequence
from typing import Any, Literal, NotRequired, TypedDict

from hobrel.core.document.limits import LONGEST_WORDS
from hobrel.labbooks.places import Document, trim
from hobrel.server.problems import Problem

Step = str | int
Path = list[Step]


_NAME = re.compile(r"[A-Za-z\u0370-\u03ff]+[0-9]*(?:_[A-Za-z0-9]+)*")


class Patch(TypedDict):
    """One change at one place. See decision 21 for the four forms."""

    form: Literal["set", "insert", "remove", "move"]
    at: Path
    id: NotRequired[str]
    was: NotRequired[Any]
    becomes: NotRequired[Any]
    item: NotRequired[Any]
    after: NotRequired[str | None]


class Stands(Exception):
    """A patch cannot be applied, because its place is not as the patch knows it."""

    def __init__(self, patch: Patch) -> None:
        super().__init__(patch["at"])
        self.patch = patch


def find_patches(before: Document, after: Document) -> list[Patch]:
    """The patches that lead from one document to another."""
    patches: list[Patch] = []
    _compare(before, after, [], patches)
    return patches


def invert(patches: Sequence[Patch]) -> list[Patch]:
    """The patches that lead back."""
    return [_inverted(patch) for patch in reversed(patches)]


def apply_patches(document: Document, patches: Sequence[Patch]) -> Document:
    """The document with the patches applied; only the paths that they change are copied, and the given one is left as it is.

    Raises
    ------
    Stands
        At the first patch whose place is not as it knows it.
    """
    fresh = document
    for patch in patches:
        fresh = _at(fresh, patch["at"], patch)
    return fresh


def find_reference(document: Document, patches: Sequence[Patch]) -> Patch | None:
    """The first of the patches that has taken away what the document still refers to: by id, in readings, or by symbol in a formula."""
    for patch in patches:
        if patch["form"] == "remove" and len(patch["at"]) == 1:
            symbol = str(patch["item"].get("symbol", ""))
            if _refers(document, patch["id"], symbol if symbol.replace("_", "").isalnum() else ""):
                return patch
    return None


_OWN_WORDS = {"id", "text", "texts", "title", "question", "name", "symbol", "unit", "set_aside", "words", "kept"}


def _refers(value: Any, key: str, symbol: str) -> bool:
    if isinstance(value, dict):
        for name, inner in value.items():
            if name in _OWN_WORDS:
                continue
            if name == key or (name == "formula" and symbol and symbol in _NAME.findall(str(inner))) or _refers(inner, key, symbol):
                return True
        return False
    return any(_refers(inner, key, symbol) for inner in value) if isinstance(value, list) else bool(value == key)


def place_of(patch: Patch) -> Path:
    """Where a patch has changed something: an item of a list by its own path."""
    return [*patch["at"], patch["id"]] if "id" in patch else patch["at"]


def touches(patch: Patch, path: Sequence[Step]) -> bool:
    """Whether a patch has changed something at, above or below a place."""
    return all(a == b for a, b in zip(place_of(patch), path, strict=False))


def _inverted(patch: Patch) -> Patch:
    back = Patch(**patch)
    match patch["form"]:
        case "insert":
            back["form"] = "remove"
        case "remove":
            back["form"] = "insert"
        case "move":
            back["was"], back["after"] = patch["after"], patch["was"]
        case "set":
            for key in ("was", "becomes"):
                back.pop(key, None)
            if "was" in patch:
                back["becomes"] = patch["was"]
            if "becomes" in patch:
                back["was"] = patch["becomes"]
    return back


_SLIP = ("kind", "run", "setting", "quantity", "repeat")


def _key(item: Any) -> str | None:
    """What an item of a list is called by: its id; what a finding uses by its symbol, a slip by its place, a text by itself. None where
    the list is a value as a whole.
    """
    if isinstance(item, str):
        return item
    if not isinstance(item, dict):
        return None
    if "id" in item:
        return str(item["id"])
    if "texts" in item:
        return ":".join(str(item.get(part)) for part in _SLIP)
    return item.get("symbol")


def _is_named(items: Any) -> bool:
    if not isinstance(items, list) or not items:
        return False
    keys = {_key(item) for item in items}
    return None not in keys and len(keys) == len(items)


def _are_repeats(path: Path) -> bool:
    """Readings of a quantity at a setting, which are called by their place."""
    return len(path) == 6 and path[0] == "runs" and path[2] == "settings" and path[4] == "readings"


def _compare(before: Any, after: Any, path: Path, patches: list[Patch]) -> None:
    # parts that an edit has not touched are the same objects, so that comparing costs no more than changing
    if before is after or before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict) and _key(before) == _key(after):
        for name in [*before, *(n for n in after if n not in before)]:
            if name not in after or name not in before:
                if _are_repeats([*path, name]):
                    _compare_repeats(before.get(name, []), after.get(name, []), [*path, name], patches)
                else:
                    patches.append(_set(path, name, before, after))
            else:
                _compare(before[name], after[name], [*path, name], patches)
    elif _are_repeats(path):
        _compare_repeats(before, after, path, patches)
    elif (_is_named(before) or before == []) and (_is_named(after) or after == []) and isinstance(before, list):
        _compare_items(before, after, path, patches)
    else:
        patches.append(Patch(form="set", at=path, was=before, becomes=after))


def _set(path: Path, name: str, before: dict[str, Any], after: dict[str, Any]) -> Patch:
    patch = Patch(form="set", at=[*path, name])
    if name in before:
        patch["was"] = before[name]
    if name in after:
        patch["becomes"] = after[name]
    return patch


def _compare_repeats(before: list[Any], after: list[Any], path: Path, patches: list[Patch]) -> None:
    for i in range(max(len(before), len(after))):
        was, becomes = (items[i] if i < len(items) else None for items in (before, after))
        if was != becomes:
            patches.append(Patch(form="set", at=[*path, i], was=was, becomes=becomes))


def _compare_items(before: list[Any], after: list[Any], path: Path, patches: list[Patch]) -> None:
    if len(before) == len(after) and all(old is new or _key(old) == _key(new) for old, new in zip(before, after, strict=True)):
        for old, new in zip(before, after, strict=True):
            if old is not new:
                _compare_item(old, new, path, patches)
        return
    ids = [_key(item) for item in after]
    kept = set(ids)
    rest: list[Any] = list(before)
    for i in range(len(before) - 1, -1, -1):
        if _key(before[i]) not in kept:
            previous = _key(before[i - 1]) if i else None
            patches.append(Patch(form="remove", at=path, id=str(_key(before[i])), item=before[i], after=previous))
            del rest[i]
    known = {_key(item): item for item in rest}
    staying = _longest_in_order([_key(item) for item in rest], ids)
    order = [_key(item) for item in rest]
    for i, key in enumerate(ids):
        previous = ids[i - 1] if i else None
        if key not in known:
            patches.append(Patch(form="insert", at=path, id=str(key), item=after[i], after=previous))
            order.insert(order.index(previous) + 1 if i else 0, key)
        elif key not in staying:
            old = order.index(key)
            was = order[old - 1] if old else None
            order.pop(old)
            order.insert(order.index(previous) + 1 if i else 0, key)
            patches.append(Patch(form="move", at=path, id=str(key), was=was, after=previous))
    for item in after:
        if (key := _key(item)) in known:
            _compare_item(known[key], item, path, patches)


def _compare_item(before: Any, after: Any, path: Path, patches: list[Patch]) -> None:
    _compare(before, after, [*path, str(_key(after))], patches)


_LONGEST = 20_000
_LIMITS = {
    "readings": LONGEST_WORDS,
    "value": 60, "u": 60, "at": 60, "rounded": 80, "symbol": 30, "name": 80, "unit": 80, "units": 80, "title": 200,
    "source": 200, "notes": 300, "set_aside": 300, "needed": 300, "reason": 300, "formula": 400,
}  # fmt: skip
"""How long the texts under these names may be; what an edit has made longer than it could have been typed is refused."""


def check_sizes(patches: Sequence[Patch]) -> None:
    """Refuse an edit that makes a text longer than it may be: by a conversion, say, or by a symbol that formulas follow.

    Raises
    ------
    Problem
        422 ``too_long``.
    """
    for patch in patches:
        _check_texts(patch.get("becomes", patch.get("item") if patch["form"] == "insert" else None), patch["at"])


def _check_texts(value: Any, path: Path) -> None:
    if isinstance(value, str):
        limit = next((_LIMITS[step] for step in reversed(path) if step in _LIMITS), _LONGEST)
        if len(value) > limit:
            raise Problem(422, "too_long", f"This would make “{value[:20]}…” longer than the {limit} signs that fit there.")
    elif isinstance(value, dict):
        for name, inner in value.items():
            _check_texts(inner, [*path, name])
    elif isinstance(value, list):
        for inner in value:
            _check_texts(inner, path)


def _longest_in_order(before: list[str | None], after: list[str | None]) -> set[str | None]:
    """As many as possible that need not be moved."""
    place = {key: i for i, key in enumerate(after)}
    tails: list[int] = []
    chains: list[list[str | None]] = []
    for key in before:
        at = place[key]
        i = bisect_left(tails, at)
        chain = [*(chains[i - 1] if i else []), key]
        if i == len(tails):
            tails.append(at)
            chains.append(chain)
        else:
            tails[i], chains[i] = at, chain
    return set(chains[-1]) if chains else set()


def _at(value: Any, path: Sequence[Step], patch: Patch) -> Any:
    """The value with the patch applied at what is left of its path; parts beside the path are shared with the old one."""
    if not path:
        return _change_items(value, patch) if patch["form"] != "set" else _replace(value, patch)
    step, rest = path[0], path[1:]
    if isinstance(value, list) and isinstance(step, str):
        place = next((i for i, item in enumerate(value) if _key(item) == step), None)
        if place is None:
            raise Stands(patch)
        return [*value[:place], _at(value[place], rest, patch), *value[place + 1 :]]
    if isinstance(value, list):
        return _set_repeat(value, int(step), patch)
    if not isinstance(value, dict):
        raise Stands(patch)
    if rest:
        whole = {**value, step: _at(value.get(str(step), []), rest, patch)}
        if _are_repeats(patch["at"][:-1]) and patch["at"][-2] == step:
            trim({"readings": whole}, str(step))
        return whole
    if patch["form"] != "set":
        return {**value, step: _change_items(value.get(str(step), []), patch)}
    return _set_name(value, str(step), patch)


def _replace(value: Any, patch: Patch) -> Any:
    if value != patch.get("was"):
        raise Stands(patch)
    return patch.get("becomes")


def _set_name(value: dict[str, Any], name: str, patch: Patch) -> dict[str, Any]:
    if (name in value) != ("was" in patch) or value.get(name) != patch.get("was"):
        raise Stands(patch)
    if "becomes" in patch:
        return {**value, name: patch["becomes"]}
    return {n: v for n, v in value.items() if n != name}


def _set_repeat(value: list[Any], place: int, patch: Patch) -> list[Any]:
    if (value[place] if place < len(value) else None) != patch.get("was"):
        raise Stands(patch)
    longer = [*value, *[None] * (place + 1 - len(value))]
    longer[place] = patch.get("becomes")
    return longer


def _change_items(items: list[Any], patch: Patch) -> list[Any]:
    key = patch["id"]
    place = next((i for i, item in enumerate(items) if _key(item) == key), None)
    if (place is None) != (patch["form"] == "insert"):
        raise Stands(patch)
    item = patch["item"] if place is None else items[place]
    if patch["form"] == "remove" and item != patch["item"]:
        raise Stands(patch)
    others = [other for other in items if _key(other) != key]
    if patch["form"] == "remove":
        return others
    after = patch.get("after")
    behind = next((i for i, other in enumerate(others) if _key(other) == after), len(others) - 1) + 1 if after is not None else 0
    return [*others[:behind], item, *others[behind:]]
