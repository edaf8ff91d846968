"""Who does which condition of a practical, and when: dealt or arranged by hand; the runs are in the lab books, named, before the lesson."""

from __future__ import annotations

import math
import uuid
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db.models import F

from hobrel.classes.models import Bench, Person
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.document.plan_part import Condition
from hobrel.core.presentation.class_data import say_trials
from hobrel.labbooks.actions import amend_book, open_book
from hobrel.labbooks.edits.patches import find_patches
from hobrel.plans.models import Practical, Sitting, Turn
from hobrel.server.problems import Problem
from hobrel.server.writing import writing


@dataclass(frozen=True)
class Wanted:
    """A turn as somebody wants it."""

    bench: int
    condition: str
    day: date | None = None


@dataclass(frozen=True)
class BenchTurns:
    """What a bench does: its conditions, each with its day, and those of which it has readings."""

    bench: int
    name: str
    turns: tuple[tuple[str, date | None], ...]
    done: tuple[str, ...]


@dataclass(frozen=True)
class Coverage:
    """A condition, how many benches are to do it, how many have readings of it, and whether that is enough, in words."""

    condition: str
    name: str
    planned: int
    done: int
    words: str


def conditions_of(practical: Practical) -> tuple[Condition, ...]:
    """The conditions of a practical, as its version has them."""
    return read_lab_book(practical.version.document).plan.conditions


def benches_of(practical: Practical) -> list[Bench]:
    """The benches where somebody sits in a practical."""
    at = Sitting.objects.filter(practical=practical, until=None).values("bench")
    return list(Bench.objects.filter(pk__in=at).order_by("order"))


def look_at_turns(practical: Practical) -> tuple[BenchTurns, ...]:
    """What each bench does, and what it has done."""
    turns = list(practical.turns.all())
    done = {book.bench_id: _conditions_read(book.document) for book in practical.books.all()}
    return tuple(
        BenchTurns(b.pk, b.name, tuple((t.condition, t.day) for t in turns if t.bench_id == b.pk), tuple(sorted(done.get(b.pk, ()))))
        for b in benches_of(practical)
    )


def cover(practical: Practical, turns: Sequence[BenchTurns]) -> tuple[Coverage, ...]:
    """For each condition whether it is done often enough."""
    # whoever has done it counts, also where it is somebody else's now
    planned = Counter(condition for bench in turns for condition in {*(c for c, _ in bench.turns), *bench.done})
    done = Counter(condition for bench in turns for condition in bench.done)
    return tuple(
        Coverage(c.id, c.name, planned[c.id], done[c.id], _say_coverage(c, planned[c.id], done[c.id])) for c in conditions_of(practical)
    )


def enough_each(practical: Practical, benches: int) -> int:
    """How many conditions each bench has to do at least, so that each is done as often as the plan wants."""
    conditions = conditions_of(practical)
    return max(1, min(len(conditions), math.ceil(sum(c.trials for c in conditions) / max(benches, 1))))


def deal_turns(practical: Practical, each: int, teacher: Person) -> None:
    """Give every bench so many conditions, so that all are done as often as one another, and those first that the plan wants most of.

    Raises
    ------
    Problem
        422 ``no_conditions`` or ``bad_number``.
    """
    conditions = conditions_of(practical)
    if not conditions:
        raise Problem(422, "no_conditions", "The plan of this practical has no conditions.")
    if not 1 <= each <= len(conditions):
        raise Problem(422, "bad_number", f"Each bench does between one and {len(conditions)} of the conditions.", {"field": "each"})
    given: Counter[str] = Counter()
    wanted = []
    for bench in benches_of(practical):
        # what lacks most of what is wanted comes first, then what has been given least
        order = sorted(conditions, key=lambda c: (given[c.id] >= c.trials > 0, given[c.id], conditions.index(c)))
        for condition in order[:each]:
            given[condition.id] += 1
            wanted.append(Wanted(bench.pk, condition.id))
    arrange_turns(practical, wanted, teacher)


def arrange_turns(practical: Practical, wanted: Sequence[Wanted], teacher: Person) -> None:
    """Let benches do these conditions and no others; a run that holds readings stays, whoever does it now.

    Raises
    ------
    Problem
        422 ``bad_turn`` for a bench or a condition that the practical does not have, or one twice.
    """
    conditions, benches = {c.id: c for c in conditions_of(practical)}, {b.pk: b for b in benches_of(practical)}
    places = [(w.bench, w.condition) for w in wanted]
    if len(set(places)) < len(places) or any(b not in benches or c not in conditions for b, c in places):
        raise Problem(422, "bad_turn", "This bench or this condition is not in the practical. Load the page anew.")
    with writing():
        practical.turns.all().delete()
        Turn.objects.bulk_create(Turn(practical=practical, bench_id=w.bench, condition=w.condition, day=w.day) for w in wanted)
        practical.books.update(news=F("news") + 1)
    for bench in benches.values():
        mine = [conditions[w.condition] for w in wanted if w.bench == bench.pk]
        book = open_book(practical, bench)
        after = {**book.document, "runs": _runs_for(book.document["runs"], mine)}
        patches = find_patches(book.document, after)
        if patches:
            amend_book(book, teacher, uuid.uuid4(), patches, f"runs for: {', '.join(c.name for c in mine) or 'no condition'}")


def _runs_for(runs: list[dict[str, Any]], mine: Sequence[Condition]) -> list[dict[str, Any]]:
    """Runs with one for each condition: those that are there are named, those that lack are added, empty ones of no use go."""
    ids = {c.id for c in mine}
    kept = [run for run in runs if _is_written(run) or not run.get("condition") or run["condition"] in ids]
    have = {run.get("condition", "") for run in kept}
    pattern = runs[0]
    for condition in mine:
        if condition.id in have:
            continue
        spare = next((i for i, run in enumerate(kept) if not run.get("condition") and not _is_written(run)), None)
        name = _free_name(condition.name, [r for i, r in enumerate(kept) if i != spare])
        if spare is not None:
            kept[spare] = {**kept[spare], "name": name, "condition": condition.id}
        else:
            blank = {"name": name, "settings": [], "log": None, "headings": pattern.get("headings"), "condition": condition.id}
            kept.append({"id": _free_id(f"c-{condition.id}", kept), **blank})
    # a lab book has at least one run
    return kept or [{**pattern, "name": "Readings", "condition": ""}]


def _free_name(name: str, runs: Collection[Mapping[str, Any]]) -> str:
    taken = {str(run["name"]).strip().lower() for run in runs}
    return next(n for n in (name, *(f"{name} {i}" for i in range(2, 40))) if n.strip().lower() not in taken)


def _free_id(key: str, runs: Collection[Mapping[str, Any]]) -> str:
    taken = {run["id"] for run in runs}
    return next(k for k in (key[:36], *(f"{key[:34]}-{i}" for i in range(2, 40))) if k not in taken)


def _is_written(run: Mapping[str, Any]) -> bool:
    return bool(run.get("log")) or any(setting["readings"] for setting in run["settings"])


def _conditions_read(document: Mapping[str, Any]) -> set[str]:
    return {run["condition"] for run in document["runs"] if run.get("condition") and _is_written(run)}


def _say_coverage(condition: Condition, planned: int, done: int) -> str:
    wanted = condition.trials
    if not planned:
        return f"{condition.name}: nobody does it"
    if not wanted:
        return f"{condition.name}: {done} of {planned} benches have readings"
    words = f"{condition.name}: {say_trials(done, wanted).text}"
    return f"{words}; only {planned} planned" if planned < wanted and done <= wanted else words
