"""The pool of a practical: every bench's finding, brought together. Nothing here can change a lab book."""

from __future__ import annotations

from hobrel.classes.models import Person
from hobrel.classes.queries import bench_of, teaches
from hobrel.computing.asking import ask
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.errors import CoreError
from hobrel.core.presentation.pool import BenchShare, PoolResult, miss_share, present_pools, share_findings
from hobrel.labbooks.computed import ask_about
from hobrel.labbooks.models import Book
from hobrel.labbooks.queries import books_of
from hobrel.plans.models import Practical
from hobrel.plans.queries import find_practical
from hobrel.server.problems import Problem


def find_pool(person: Person, practical_id: int) -> Practical:
    """The practical whose pool this person may see.

    Raises
    ------
    Problem
        404 for other classes; 403 for students as long as the pool is not open.
    """
    practical = find_practical(person, practical_id)
    teacher = teaches(person, practical.school_class)
    if not teacher and bench_of(person) is None:
        raise Problem(403, "no_bench", "You do not sit at a bench yet. Ask your teacher.")
    if not teacher and not practical.pool_open:
        raise Problem(403, "pool_closed", "The pool is not open yet. Your teacher opens it when most benches have a finding.")
    return practical


def pool_of(practical: Practical) -> list[PoolResult]:
    """One pool for each finding of the practical. A lab book that cannot be worked out is a bench without a finding."""
    shares = tuple(_share_of(book) for book in books_of(practical))
    return list(ask(present_pools, read_lab_book(practical.document).findings, shares, deal=practical.pk))


def _share_of(book: Book) -> BenchShare:
    try:
        share: BenchShare = ask_about(book, "", share_findings, book.bench.name)
    except CoreError as trouble:
        return miss_share(book.bench.name, trouble)
    return share
