"""The pool of a practical: every bench's finding, brought together. Nothing here can change a lab book."""

from __future__ import annotations

from dataclasses import replace

from hobrel.classes.models import Person
from hobrel.classes.queries import is_teacher
from hobrel.computing.asking import ask_json
from hobrel.core.document.lab_book import Finding, read_lab_book
from hobrel.core.document.plans import open_for_bench
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.presentation.pool import BenchShare, miss_share, present_pools
from hobrel.labbooks.models import Book
from hobrel.labbooks.queries import books_of
from hobrel.labbooks.summaries import shares_of
from hobrel.plans.models import Practical, Sitting

_WAITED_FOR = CoreError(NOT_WORKED_OUT, "not worked out yet; it comes by itself in a moment.")


def write_pools(practical: Practical, person: Person) -> bytes:
    """One pool for each finding of the practical, as JSON. A lab book that cannot be worked out is a bench without a finding."""
    books = books_of(practical)
    found = shares_of(books)
    shares = tuple(found.get(book.pk) or miss_share(book.bench.name, _WAITED_FOR) for book in books)
    for_teacher = is_teacher(person)
    if not for_teacher and not practical.version.document.get("plan", {}).get("pool_names", True):
        shares = _by_numbers(shares, books, practical, person)
    return ask_json(present_pools, _findings_of(practical, for_teacher), shares, deal=practical.pk)


def _by_numbers(shares: tuple[BenchShare, ...], books: list[Book], practical: Practical, person: Person) -> tuple[BenchShare, ...]:
    """Benches by numbers; somebody's own keeps its name."""
    own = set(Sitting.objects.filter(practical=practical, seat__person=person, until=None).values_list("bench", flat=True))
    numbered = enumerate(zip(shares, books, strict=True), 1)
    return tuple(share if book.bench_id in own else replace(share, bench=f"Bench {i}") for i, (share, book) in numbered)


def _findings_of(practical: Practical, for_teacher: bool) -> tuple[Finding, ...]:
    """What the practical asks for; the class is told no accepted value that its benches have still to earn, or that is for the teacher."""
    version = read_lab_book(practical.version.document)
    return version.findings if for_teacher else open_for_bench(version).findings
