"""Putting a practical right while it runs: the plan's changes, shown for each lab book, made as one edit in each, taken back in one step.

What leads from the practical's version to the plan as it is now is applied to each lab book by patches. See decision 33.
"""

from __future__ import annotations

import uuid
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from hobrel.classes.models import Person
from hobrel.core.document.lab_book import LabBook, read_lab_book, write_lab_book
from hobrel.core.document.plans import bring_in, open_for_bench
from hobrel.core.errors import CoreError
from hobrel.core.formulas.typeset import write_symbol
from hobrel.core.questions.amendments import find_broken
from hobrel.labbooks.actions import amend_book, take_amendment_back
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.edits.patches import Patch, Stands, apply_patches, find_patches, find_reference
from hobrel.labbooks.models import Book
from hobrel.labbooks.pictures import hand_pictures_on
from hobrel.labbooks.places import Document
from hobrel.labbooks.plan_books import freeze, frozen
from hobrel.plans.actions import wanted_in, written_for
from hobrel.plans.models import Amendment, Practical
from hobrel.server.problems import Problem
from hobrel.server.writing import writing

Fate = Literal["takes", "same", "stands", "breaks"]
MOST_SAID = 12


@dataclass(frozen=True)
class BookFate:
    """What an amendment would do to a lab book: it takes it, has nothing to take, or it would not do; and why."""

    book: int
    bench: str
    fate: Fate
    words: str


@dataclass(frozen=True)
class AmendmentLook:
    """What has changed in the plan since the practical was given out, in words, and what that would do to each lab book."""

    changes: tuple[str, ...]
    books: tuple[BookFate, ...]


def look_at_amendment(practical: Practical) -> AmendmentLook:
    """What amending would do. Changes nothing.

    Raises
    ------
    Problem
        409 ``no_plan`` where its plan has been erased.
    """
    old, new = _versions(practical)
    whole = find_patches(write_lab_book(open_for_bench(old)), write_lab_book(open_for_bench(new)))
    fates = [_fate_of(book, old, new) for book in _books(practical)]
    return AmendmentLook(tuple(dict.fromkeys(_say(patch, write_lab_book(new)) for patch in whole))[:MOST_SAID], tuple(f for f, _ in fates))


def amend_practical(practical: Practical, teacher: Person, anyway: Collection[int]) -> tuple[BookFate, ...]:
    """Make the changes of the plan in every lab book that takes them; where something would break, if the teacher says so (`anyway`).

    Raises
    ------
    Problem
        409 ``no_plan``; ``no_change`` where there is nothing to amend.
    """
    old, new = _versions(practical)
    plan = practical.version.plan
    assert plan is not None
    after = freeze(plan)
    if after.pk == practical.version_id:
        raise Problem(409, "no_change", "The plan has not changed since this was given out.")
    with writing():
        amendment = Amendment.objects.create(practical=practical, before=practical.version, after=after, by=teacher)
        Practical.objects.filter(pk=practical.pk).update(version=after, title=after.document["title"])
    fates = []
    for book in _books(practical):
        fate, patches = _fate_of(book, old, new)
        if fate.fate == "takes" or (fate.fate == "breaks" and book.pk in anyway):
            try:
                hand_pictures_on(after.document, after, book)
                amend_book(book, teacher, _edit_id(amendment, book, "amend"), patches, "amended, as the plan has been")
                fate = BookFate(book.pk, book.bench.name, "takes", "")
            except Stands:
                fate = BookFate(book.pk, book.bench.name, "stands", "somebody has just changed the same place")
        fates.append(fate)
    practical.refresh_from_db()
    return tuple(fates)


def take_back_amendment(practical: Practical, teacher: Person) -> tuple[str, ...]:
    """Take the last amendment back in every lab book that took it; the benches of those where somebody has built on it since.

    Raises
    ------
    Problem
        409 ``nothing_to_undo``.
    """
    amendment = practical.amendments.filter(taken_back=False).first()
    if amendment is None or amendment.after_id != practical.version_id:
        raise Problem(409, "nothing_to_undo", "There is no amendment to take back.")
    kept = []
    for book in _books(practical):
        ids = (_edit_id(amendment, book, name) for name in ("amend", "back"))
        if not take_amendment_back(book, teacher, *ids):
            kept.append(book.bench.name)
    with writing():
        Amendment.objects.filter(pk=amendment.pk).update(taken_back=True)
        Practical.objects.filter(pk=practical.pk).update(version=amendment.before, title=amendment.before.document["title"])
    practical.refresh_from_db()
    return tuple(kept)


def is_behind(practical: Practical) -> bool:
    """Whether the plan has been changed since the practical was given out."""
    plan = practical.version.plan
    return plan is not None and frozen(plan) != practical.version.document


def _versions(practical: Practical) -> tuple[LabBook, LabBook]:
    plan = practical.version.plan
    if plan is None:
        raise Problem(409, "no_plan", "The plan of this practical has been erased, so there is nothing to amend it from.")
    return wanted_in(practical), written_for(practical.school_class, read_lab_book(frozen(plan)))


def _books(practical: Practical) -> list[Book]:
    return list(Book.objects.filter(practical=practical).select_related("bench").order_by("bench__order"))


def _edit_id(amendment: Amendment, book: Book, name: str) -> uuid.UUID:
    """The same id for the same amendment of the same lab book, so that it is made once."""
    return uuid.uuid5(uuid.UUID(int=amendment.pk), f"{name}:{book.pk}:{amendment.at.isoformat()}")


def _fate_of(book: Book, old: LabBook, new: LabBook) -> tuple[BookFate, Sequence[Patch]]:
    """What the changes would do to a lab book, and the patches that make them. What it has earned already it is shown in the new version
    as well.
    """
    earned = set(open_for_bench(old).plan.withheld) - set(book.document.get("plan", {}).get("withheld", ()))
    forms = [write_lab_book(bring_in(open_for_bench(version), version, tuple(earned))) for version in (old, new)]
    patches = [p for p in find_patches(*forms) if not _is_there(book.document, p)]

    def fate(name: Fate, words: str = "") -> tuple[BookFate, Sequence[Patch]]:
        return BookFate(book.pk, book.bench.name, name, words), patches

    if not patches:
        return fate("same")
    try:
        after = apply_patches(book.document, patches)
    except Stands as trouble:
        return fate("stands", f"has changed it itself: {_say(trouble.patch, book.document)}")
    if (used := find_reference(after, patches)) is not None:
        return fate("stands", f"still uses what the plan no longer has: {_say(used, book.document)}")
    try:
        broken: tuple[str, ...] = ask_about(book, "", find_broken, after)
    except CoreError as trouble:
        return fate("breaks", trouble.message)
    return fate("breaks", f"this would stop working: {', '.join(broken[:5])}") if broken else fate("takes")


def _is_there(document: Document, patch: Patch) -> bool:
    """Whether a document is as a patch would make it already."""
    try:
        return apply_patches(document, [patch]) == document
    except Stands:
        return False


_NAMED = {"quantities": "quantity", "graphs": "graph", "fits": "fit", "findings": "finding", "runs": "run"}
_FIELDS = {
    "relation": "the relation",
    "question": "the question",
    "title": "the title",
    "convention": "the convention",
    "pictures": "the pictures",
    "safety": "the sentence on safety",
    "kept_same": "what is kept the same",
    "conditions": "the conditions",
    "sections": "the sections of the report",
    "grid": "the marking grid",
    "freedoms": "what benches may change",
    "wanted": "which settings are wanted",
    "relation_shown": "when the relation is shown",
    "accepted_shown": "when accepted values are shown",
    "withheld": "what is shown later",
    "left_open": "what benches find by themselves",
    "bench_judges": "who judges first",
    "bench_rounds": "who rounds first",
    "bench_draws": "who draws first",
    "bench_foresees": "who says first what would have to be seen",
    "pool": "the pool",
    "pool_names": "names in the pool",
    "own_values": "what each bench writes its own value of",
    "given_runs": "the readings that are given",
    "rig": "the apparatus",
}


def _say(patch: Patch, document: Document) -> str:
    """A change of a plan in a few words."""
    match patch["at"]:
        case ["plan", "prompts", *rest]:
            return f"the prompt at {str(rest[0]).title()}" if rest else "the prompts"
        case ["plan", "steps", *rest]:
            return f"the steps at {str(rest[0]).title()}" if rest else "the steps"
        case ["plan", str(name), *_]:
            return _FIELDS.get(name, name)
        case [str(items), *rest] if items in _NAMED:
            what = _NAMED[items]
            key = rest[0] if rest else patch.get("id")
            found = next((i for i in document[items] if i["id"] == key), None) or patch.get("item") or {}
            name = found.get("name") or found.get("title") or write_symbol(str(found.get("symbol", "")))
            verb = {"insert": "a new ", "remove": "no more the ", "move": "another place for the ", "set": "the "}[patch["form"]]
            return f"{verb}{what} {name}".strip() + (f": {_text(patch)}" if patch["form"] == "set" and len(rest) > 1 else "")
        case [str(name), *_]:
            return _FIELDS.get(name, name)
    return "something"


def _text(patch: Patch) -> str:
    """Which field has become what."""
    was, becomes = (_short(patch.get(name)) for name in ("was", "becomes"))
    return f"{str(patch['at'][-1]).replace('_', ' ')} {was} → {becomes}"


def _short(value: Any) -> str:
    return "nothing" if value in (None, "", [], {}) else str(value)[:40] if isinstance(value, str | int | float) else "…"
