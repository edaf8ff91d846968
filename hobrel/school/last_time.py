"""How a plan went when it was given out before: slips, minutes, the class's values, and what could be changed (decision 48)."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from hobrel.classes.models import Person
from hobrel.core.document.plan_part import StageName
from hobrel.core.presentation.last_time import Advice, SeenSlip, StationMinutes, advise, gather_minutes
from hobrel.core.presentation.needs import say_in_general
from hobrel.core.presentation.pool import PoolResult
from hobrel.core.sentences import Sentence
from hobrel.labbooks.models import Book, EditRecord, SlipSeen
from hobrel.plans.models import Plan, Practical
from hobrel.pools.queries import read_pools

MOST_EARLIER, MOST_SLIPS = 3, 6
LONGEST_PAUSE = timedelta(minutes=5)
"""Of a longer one nobody knows what was done in it."""
_STATIONS: dict[str, StageName] = {
    "runs": "read", "confirmed": "read", "quantities": "average", "convention": "average", "graphs": "look", "moments": "look",
    "looks": "straighten", "fits": "fit", "findings": "find", "report": "report", "sketch": "ask",
}  # fmt: skip
"""By what of a lab book was changed: where that is done."""


@dataclass(frozen=True)
class SlipBefore:
    """A kind of slip of a quantity (by its symbol), in general, and how many benches had it."""

    of: str
    words: Sentence
    benches: int


@dataclass(frozen=True)
class ValueBefore:
    """What a class found, and what is accepted (empty: nothing)."""

    name: str
    value: str
    accepted: str


@dataclass(frozen=True)
class EarlierTime:
    """How a plan went when it was given out before."""

    class_name: str
    year: str
    given_out: date
    benches: int
    slips: tuple[SlipBefore, ...]
    minutes: tuple[StationMinutes, ...]
    values: tuple[ValueBefore, ...]
    advice: tuple[Advice, ...]


def look_back(plan: Plan, teacher: Person) -> list[EarlierTime]:
    """The last times that a plan was worked on in classes of a teacher, latest first."""
    given = Practical.objects.filter(version__plan=plan, school_class__teachers=teacher).select_related("school_class", "version")
    found = []
    for practical in given.order_by("-given_out", "-pk"):
        books = {b.pk for b in Book.objects.filter(practical=practical, revision__gt=0).only("pk")}
        if books:
            found.append(_describe(practical, books))
        if len(found) == MOST_EARLIER:
            break
    return found


def _describe(practical: Practical, books: set[int]) -> EarlierTime:
    seen = Counter(SlipSeen.objects.filter(book__in=books).values_list("kind", "of"))
    slips = [SeenSlip(kind, of, n) for (kind, of), n in seen.most_common()]
    minutes = gather_minutes([m for book in books if (m := _minutes_of(book))])
    pools = read_pools(practical)
    return EarlierTime(
        class_name=practical.school_class.name,
        year=practical.school_class.year,
        given_out=practical.given_out,
        benches=len(books),
        slips=tuple(SlipBefore(s.of, say_in_general(s.kind, s.of), s.benches) for s in slips[:MOST_SLIPS]),
        minutes=minutes,
        values=tuple(_say_value(p) for p in pools if any(v.recommended for v in p.values)),
        advice=advise(slips, len(books), minutes, pools),
    )


def _say_value(pool: PoolResult) -> ValueBefore:
    quoted = next(v.value.text for v in pool.values if v.recommended)
    name = f"{pool.name}, {pool.condition}" if pool.condition else pool.name
    return ValueBefore(name, quoted, pool.accepted.text if pool.accepted else "")


def _minutes_of(book: int) -> dict[StageName, float]:
    """Minutes at each station: from one change to the next, at the station of the latter."""
    found: dict[StageName, float] = {}
    before: datetime | None = None
    for at, patches in EditRecord.objects.filter(book=book).order_by("revision").values_list("at", "patches").iterator():
        stage = _station_of(patches)
        if before is not None and stage is not None:
            found[stage] = found.get(stage, 0.0) + min(at - before, LONGEST_PAUSE).total_seconds() / 60
        before = at
    return found


def _station_of(patches: Iterable[dict[str, Any]]) -> StageName | None:
    place = next((patch["at"] for patch in patches if patch["at"]), None)
    if place is None:
        return None
    if place[0] == "texts":
        return "ask" if place[1:2] == ["expectation"] else "report"
    return _STATIONS.get(str(place[0]))
