"""What somebody may want instead, whose change cannot be taken back by itself because somebody else's stands on it: ready edits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches
from hobrel.labbooks.places import Document

_PART_KINDS = {"graphs": ("place_graph", "graph"), "fits": ("place_fit", "fit")}


@dataclass(frozen=True)
class Offer:
    """An edit that is ready to be sent, and what it would do, in words for its button."""

    words: str
    edit: dict[str, Any]


def find_offers(document: Document, back: Sequence[Patch]) -> list[Offer]:
    """At most two: to put back what was there over what others have written since, or to take back only the rest.

    Parameters
    ----------
    document : as it is now
    back : the patches that would take the change back, of which at least one stands in the way
    """
    over: list[Offer | None] = []
    rest: list[Offer | None] = []
    for patch in back:
        try:
            apply_patches(document, [patch])
        except Stands:
            over.append(_ready(document, patch))
        else:
            rest.append(_ready(document, patch))
    put_back = over[0] if len(over) == 1 else _together(over, f"Put these {len(over)} back, over what others have written")
    found = [put_back, _together(rest, f"Take back the other {len(rest)}, and leave theirs")]
    return [offer for offer in found if offer is not None]


def _together(offers: list[Offer | None], words: str) -> Offer | None:
    """One edit of all; none where one of them cannot be made of edits."""
    ready = [offer for offer in offers if offer is not None]
    if not ready or len(ready) < len(offers):
        return None
    return Offer(words, {"type": "batch", "words": words[0].lower() + words[1:], "edits": [offer.edit for offer in ready]})


def _ready(document: Document, patch: Patch) -> Offer | None:
    """The edit that makes a place what a patch wants it to be, whatever is there now."""
    match patch["form"], *patch["at"]:
        case "set", "runs", run, "settings", setting, "readings", quantity, int(repeat):
            entries = _at(document, "runs", run, "settings", setting, "readings").get(quantity, [])
            now = _text(entries[repeat] if repeat < len(entries) else None)
            wanted = patch.get("becomes")
            place = {"run": run, "setting": setting, "quantity": quantity, "repeat": repeat}
            aside = {"set_aside": wanted["set_aside"]} if wanted else {}
            edit = {"type": "set_reading", **place, "text": _text(wanted), "was": now, **aside}
            return Offer(f"Put {_text(wanted) or 'the blank'} back in place of {now or 'the blank'}", edit)
        case "set", "texts", section:
            edit = {"type": "write_text", "section": section, "text": patch.get("becomes", ""), "was": document["texts"].get(section, "")}
            return Offer("Put the paragraph back as it was before you wrote", edit)
        case "set", ("graphs" | "fits") as items, key, str(field):
            kind, of = _PART_KINDS[items]
            now = {field: _at(document, items, key).get(field)}
            return Offer("Put it back all the same", {"type": kind, of: key, "was": now, "becomes": {field: patch.get("becomes")}})
        case "remove", "runs", run, "settings":
            return Offer(
                "Remove it all the same, with what others have written in it",
                {"type": "remove_setting", "run": run, "setting": patch["id"]},
            )
    return None


def _at(document: Any, *path: Any) -> dict[str, Any]:
    """What is at a path, or nothing where it is gone."""
    for step in path:
        found = next((i for i in document if i["id"] == step), {}) if isinstance(document, list) else document.get(step, {})
        document = found
    return dict(document)


def _text(reading: Any) -> str:
    return str(reading["text"]) if reading else ""
