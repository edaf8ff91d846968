"""The pool of a practical: every bench's finding, brought together. Nothing here can change a lab book."""

from __future__ import annotations

import time
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

from pydantic import TypeAdapter

from hobrel.classes.models import Person
from hobrel.classes.queries import is_teacher
from hobrel.computing.asking import ask_json
from hobrel.core.document.lab_book import Finding, LabBook
from hobrel.core.document.plan_part import Condition
from hobrel.core.document.plans import open_for_bench
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.presentation.class_data import ClassData, present_class
from hobrel.core.presentation.pool import PoolResult, point_out, present_pools, split_by_condition
from hobrel.core.presentation.shares import BenchShare, SharedFinding, miss_share
from hobrel.core.sentences import Sentences
from hobrel.handins.queries import find_handed_in
from hobrel.interchange.flat import FlatCell, FlatColumn, FlatTable
from hobrel.labbooks.models import Book, LeftOut
from hobrel.labbooks.queries import books_of, find_opened
from hobrel.labbooks.summaries import shares_of
from hobrel.plans.actions import wanted_in
from hobrel.plans.models import Practical, Sitting

_WAITED_FOR = CoreError(NOT_WORKED_OUT, "not worked out yet; it comes by itself in a moment.")


def write_pools(practical: Practical, person: Person) -> bytes:
    """One pool for each finding of the practical, as JSON. A lab book that cannot be worked out is a bench without a finding."""
    books = books_of(practical)
    shares, for_teacher = _shares_of_all(books), is_teacher(person)
    own = None if for_teacher else {book.bench.name for book in books if book.bench_id in _own_benches(practical, person)}
    if not for_teacher and not shows_names(practical):
        shares = _by_numbers(shares, books, practical, person)
    version = _version_of(practical, for_teacher)
    asked = (version.findings, shares, version.plan.conditions, own)
    return ask_json(present_everything, *asked, deal=practical.pk, convention=version.convention)


def read_pools(practical: Practical) -> list[PoolResult]:
    """The pools of a practical as its teachers see them."""
    shares, version = _shares_of_all(books_of(practical)), _version_of(practical, True)
    asked = ask_json(present_pools, version.findings, shares, version.plan.conditions, deal=practical.pk, convention=version.convention)
    return _pools_reader.validate_json(asked)


_pools_reader: TypeAdapter[list[PoolResult]] = TypeAdapter(list[PoolResult])


def _shares_of_all(books: list[Book]) -> tuple[BenchShare, ...]:
    """What each bench brings, in their order; one of which nothing is known yet says so."""
    found = shares_of(books)
    return tuple(found.get(book.pk) or miss_share(book.bench.name, _WAITED_FOR) for book in books)


@dataclass(frozen=True)
class WholePool:
    """The pools of a practical, and what its class shares beside them."""

    pools: tuple[PoolResult, ...]
    shared: ClassData


def present_everything(
    findings: tuple[Finding, ...], shares: tuple[BenchShare, ...], conditions: tuple[Condition, ...], told_to: set[str] | None
) -> WholePool:
    """Everything that the page of a pool shows."""
    return WholePool(present_pools(findings, shares, conditions, told_to), present_class(findings, shares, conditions))


def list_benches(practical: Practical, person: Person) -> list[dict[str, object]]:
    """The benches of a pool; to its teachers also their lab books, and why one is left out. By numbers as the pool is."""
    books = books_of(practical)
    reasons = dict(LeftOut.objects.filter(book__in=books).values_list("book", "reason"))
    handed, opened = find_handed_in(books), find_opened(books)
    shares = tuple(miss_share(b.bench.name, _WAITED_FOR) for b in books)
    for_teacher = is_teacher(person)
    named = shares if for_teacher or shows_names(practical) else _by_numbers(shares, books, practical, person)
    return [
        {
            "book": b.pk if for_teacher else None,
            "bench": s.bench,
            "left_out": reasons.get(b.pk, "") if for_teacher else "",
            "opened": b.pk in opened or b.revision > 0,
            "handed_in": b.pk in handed,
        }
        for b, s in zip(books, named, strict=True)
    ]


def shows_names(practical: Practical) -> bool:
    """Whether the class sees which bench is which."""
    return bool(practical.version.document.get("plan", {}).get("pool_names", True))


def list_findings(practical: Practical) -> FlatTable:
    """A row for every finding of every bench, under each condition that it does: value and ± in full precision, or why there is none."""
    shares, version = _shares_of_all(books_of(practical)), _version_of(practical, True)
    rows = [
        [share.bench, finding.name, finding.symbol, condition or None, *_numbers_of(share, finding)]
        for finding in version.findings
        for condition, of in split_by_condition(shares, version.plan.conditions)
        for share in of
    ]
    return FlatTable(f"{practical.title}: findings", _FINDING_COLUMNS, rows)


def _numbers_of(share: BenchShare, finding: Finding) -> list[FlatCell]:
    found = share.findings.get(finding.id, share.missing)
    if isinstance(found, SharedFinding):
        return [finding.unit or found.unit, found.value, found.u, None]
    return [finding.unit, None, None, found.text]


_FINDING_COLUMNS = (
    FlatColumn("bench"),
    FlatColumn("finding"),
    FlatColumn("symbol"),
    FlatColumn("condition"),
    FlatColumn("unit"),
    FlatColumn("value", "number", "in the unit of its row"),
    FlatColumn("u", "number", "its standard uncertainty, in the same unit"),
    FlatColumn("why none"),
)


ODD_EVERY = 3.0
"""Seconds for which what has been pointed out holds while benches go on writing: the pool of all of them is not made at every reading."""


class _Odd(NamedTuple):
    """For which shares (stamps by lab book) and benches left out something was pointed out, when, and what."""

    stamps: dict[int, str]
    left_out: frozenset[int]
    at: float
    found: dict[str, Sentences]


_ODD: dict[int, _Odd] = {}
"""By practical."""


def find_odd(practical: Practical, books: list[Book], stamps: Mapping[int, str]) -> dict[str, Sentences]:
    """What seems to be off at which bench (by its name), for a teacher; worked out anew when what a bench brings has changed, though not
    more often than every few seconds.

    `stamps` are those of the summaries that there are, by the keys of lab books.
    """
    left_out = frozenset(LeftOut.objects.filter(book__practical=practical).values_list("book", flat=True))
    before, now = _ODD.get(practical.pk), time.monotonic()
    same = before is not None and before.left_out == left_out and before.stamps.keys() == stamps.keys()
    if before is not None and same and (before.stamps == stamps or now - before.at < ODD_EVERY):
        return before.found
    shares = tuple(shares_of(books).values())
    version = _version_of(practical, True)
    asked = ask_json(point_out, version.findings, shares, version.plan.conditions, deal=practical.pk, convention=version.convention)
    found = _odd_reader.validate_json(asked)
    _ODD[practical.pk] = _Odd(dict(stamps), left_out, now, found)
    return found


_odd_reader: TypeAdapter[dict[str, Sentences]] = TypeAdapter(dict[str, Sentences])


def _by_numbers(shares: tuple[BenchShare, ...], books: list[Book], practical: Practical, person: Person) -> tuple[BenchShare, ...]:
    """Benches by numbers; somebody's own keeps its name."""
    own = _own_benches(practical, person)
    numbered = enumerate(zip(shares, books, strict=True), 1)
    return tuple(share if book.bench_id in own else replace(share, bench=f"Bench {i}") for i, (share, book) in numbered)


def _own_benches(practical: Practical, person: Person) -> set[int]:
    return set(Sitting.objects.filter(practical=practical, seat__person=person, until=None).values_list("bench", flat=True))


def _version_of(practical: Practical, for_teacher: bool) -> LabBook:
    """What the practical asks for; the class is told no accepted value that its benches have still to earn, or that is for the teacher."""
    version = wanted_in(practical)
    return version if for_teacher else open_for_bench(version)
