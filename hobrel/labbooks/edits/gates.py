"""What of a lab book is open to its bench now: stations, and readings until they close. Judged by what an edit changes. See decision 33."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import get_args

from hobrel.core.document.plan_part import StageName
from hobrel.labbooks.edits.patches import Patch
from hobrel.labbooks.places import Document
from hobrel.server.problems import Problem

ORDER: tuple[StageName, ...] = get_args(StageName)
_OF_LISTS: dict[str, StageName] = {"runs": "read", "confirmed": "read", "graphs": "look", "fits": "fit", "findings": "find"}


@dataclass(frozen=True)
class Gate:
    """The last station that the class has opened (empty: all), and since when readings are closed, in words (empty: they are not)."""

    open_to: str = ""
    closed_since: str = ""


def check_gate(gate: Gate, document: Document, patches: Sequence[Patch]) -> None:
    """Refuse a change of what is not open.

    Parameters
    ----------
    gate : Gate
    document : as it is before the change
    patches : of the change

    Raises
    ------
    Problem
        403 ``not_open`` or ``readings_closed``.
    """
    if gate.closed_since and any(patch["at"][0] == "runs" and not only_sets_aside(patch) for patch in patches):
        words = f"Readings closed on {gate.closed_since}. They can be set aside with a reason, and all else goes on."
        raise Problem(403, "readings_closed", words)
    asks_first = document.get("plan", {}).get("ask_first") and not document.get("texts", {}).get("expectation", "").strip()
    last = "ask" if asks_first else gate.open_to
    for patch in patches if last else ():
        stage = stage_of(patch, document)
        if stage is not None and ORDER.index(stage) > ORDER.index(last):  # type: ignore[arg-type]
            when = "when you have written what you expect" if asks_first else "when your teacher says so"
            raise Problem(403, "not_open", f"{stage.title()} is not open yet. It opens {when}.")


def stage_of(patch: Patch, document: Document) -> StageName | None:
    """The station at which a change is made; None for what belongs to none."""
    match patch["at"]:
        case ["texts", "expectation"] | ["sketch", *_]:
            return "ask"
        case ["texts", "choice"]:
            return "straighten"
        case ["texts", _] | ["report", *_]:
            return "report"
        case ["quantities", *rest]:
            key = rest[0] if rest else patch.get("id")
            known = next((q for q in document["quantities"] if q["id"] == key), None) or patch.get("item") or {}
            return "average" if known.get("kind") == "derived" else "read"
        case [str(items), *_]:
            return _OF_LISTS.get(items)
    return None


def only_sets_aside(patch: Patch) -> bool:
    """Whether a change of a run leaves out or brings back, and changes no reading."""
    entries = [entry for entry in (patch.get("was"), patch.get("becomes")) if isinstance(entry, dict)]
    texts = [{name: value for name, value in entry.items() if name != "set_aside"} for entry in entries]
    same_reading = len(texts) == 2 and texts[0] == texts[1]
    return "set_aside" in patch["at"] or patch["at"][2:4] == ["log", "aside"] or same_reading
