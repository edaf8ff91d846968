"""What a bench needs of its teacher, from what is known of its lab book, most urgent first; and slips that several benches share."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from hobrel.core.document.plan_part import StageName
from hobrel.core.presentation.walk_notes import WalkNote
from hobrel.core.sentences import Sentence, Sentences, say

NeedKind = Literal[
    "hand", "not_worked_out", "factor", "far", "failed", "slip", "stuck", "answered", "changed_since", "not_opened", "handed_in"
]
ORDER: tuple[NeedKind, ...] = get_args(NeedKind)
STUCK_AFTER = 5.0
"""Minutes without a change, while somebody is there, after which a bench is called stuck (common practice)."""


@dataclass(frozen=True)
class BenchFacts:
    """What is known of a bench's lab book, beside what is in it. Times are minutes from now; None for never.

    `pointed_out` is what the pool says of its findings, `has_cause` whether it names one;
    `answered` counts remarks that the bench has answered.
    """

    hand_up: float | None
    present: int
    opened: bool
    changed: float | None
    handed_in: int
    changed_since_hand_in: bool
    trouble: Sentences
    pointed_out: Sentences
    has_cause: bool
    answered: int = 0


@dataclass(frozen=True)
class Need:
    """One thing that a bench needs, or that is to be known of it, and where it can be seen: the station, of a slip also run and cell."""

    kind: NeedKind
    words: Sentence
    stage: StageName = "read"
    run: str = ""
    at: str = ""


def find_needs(facts: BenchFacts, note: WalkNote) -> tuple[Need, ...]:
    """All needs of a bench, most urgent first."""
    return tuple(sorted(_needs(facts, note), key=lambda need: ORDER.index(need.kind)))


def _needs(facts: BenchFacts, note: WalkNote) -> Iterable[Need]:
    if facts.hand_up is not None:
        yield Need("hand", say("hand_up", "A hand is up, for {minutes} min.", minutes=int(facts.hand_up)))
    if facts.trouble:
        yield Need("not_worked_out", facts.trouble[0])
    if facts.pointed_out:
        yield Need("factor" if facts.has_cause else "far", facts.pointed_out[0], "find")
    if note.failed is not None:
        yield Need("failed", note.failed, "average")
    for slip in note.slips:
        yield Need("slip", slip.words, run=slip.run, at=slip.at)
    idle = facts.changed is not None and facts.changed >= STUCK_AFTER
    if facts.present and facts.opened and not facts.handed_in and (idle or facts.changed is None):
        since = "since it was opened" if facts.changed is None else f"for {int(facts.changed)} min"
        yield Need("stuck", say("nothing_written", "Nothing has been written {since}.", since=since))
    if facts.answered:
        words = "A remark is answered." if facts.answered == 1 else f"{facts.answered} remarks are answered."
        yield Need("answered", say("remarks_answered", "{words}", words=words))
    if facts.handed_in and facts.changed_since_hand_in:
        yield Need("changed_since", say("changed_since_hand_in", "It has changed since it was handed in."), "report")
    elif facts.handed_in:
        yield Need("handed_in", say("is_handed_in", "Their report can be read."), "report")
    if not facts.opened and not facts.handed_in:
        yield Need("not_opened", say("nobody_opened", "Nobody has opened it."))


_GENERAL: dict[str, Sentence] = {
    "not_a_number": say("common_not_a_number", "Something that was written down is no number."),
    "wrong_decimals": say("common_wrong_decimals", "Readings of one instrument have one number of decimals."),
    "lone_repeat": say("common_lone_repeat", "One repeat is far from its fellows: look at it again, or set it aside with a reason."),
    "missing_repeat": say("common_missing_repeat", "A repeat is missing."),
    "off_trend": say("common_off_trend", "One setting lies far off the pattern of the others."),
    "factor": say("common_factor", "A reading seems to be ten times too large or too small."),
    "duplicate_setting": say("common_duplicate_setting", "One setting stands twice in the table."),
    "blank": say("common_blank", "Something that should have been measured is blank."),
    "swapped": say("common_swapped", "Two digits of a reading seem to have changed places."),
    "direction": say("common_direction", "Readings seem to have been typed in the other direction."),
    "exchanged": say("common_exchanged", "Two rows seem to have changed places."),
    "squared": say("common_squared", "A column seems to hold squares under its old heading."),
}
"""What is wrong where a slip of this kind is, without the numbers of anybody."""


@dataclass(frozen=True)
class CommonSlip:
    """The same in several lab books (by key): what it is in general, of which quantity (by its symbol), what it is like in the first."""

    kind: str
    of: str
    general: Sentence
    words: Sentence
    books: tuple[int, ...]


def gather_common(notes: Mapping[int, WalkNote], causes: Mapping[int, Sentence]) -> tuple[CommonSlip, ...]:
    """What two or more lab books have in common, that of most first: slips of one kind about one quantity, and causes that the pool names.

    Parameters
    ----------
    notes : mapping of lab book to WalkNote
    causes : mapping of lab book to Sentence
        What the pool says of those that a cause was found for.
    """
    found: dict[tuple[str, str], dict[int, Sentence]] = {}
    for book, note in notes.items():
        for slip in note.slips:
            found.setdefault((slip.kind, slip.of), {}).setdefault(book, slip.words)
    for book, words in causes.items():
        # of one cause the reason is the same, whatever the numbers are
        found.setdefault(("pool", str(words.fields.get("cause", words.code))), {}).setdefault(book, words)
    common = [
        CommonSlip(kind, of if kind in _GENERAL else "", say_in_general(kind, of), next(iter(books.values())), tuple(books))
        for (kind, of), books in found.items()
        if len(books) > 1
    ]
    return tuple(sorted(common, key=lambda slip: (-len(slip.books), slip.kind != "pool")))


def say_in_general(kind: str, of: str) -> Sentence:
    """A kind of slip without anybody's numbers; of another kind, `of` is what the pool says of its cause."""
    return _GENERAL.get(kind) or say("common_cause", "The result is off by a factor: {cause}.", cause=of)
