"""The pool of a practical: every bench's finding, brought together. Nothing here can change a lab book."""

from __future__ import annotations

from hobrel.computing.asking import ask_json
from hobrel.core.document.lab_book import read_lab_book
from hobrel.core.errors import NOT_WORKED_OUT, CoreError
from hobrel.core.presentation.pool import miss_share, present_pools
from hobrel.labbooks.queries import books_of
from hobrel.labbooks.summaries import shares_of
from hobrel.plans.models import Practical

_WAITED_FOR = CoreError(NOT_WORKED_OUT, "not worked out yet; it comes by itself in a moment.")


def write_pools(practical: Practical) -> bytes:
    """One pool for each finding of the practical, as JSON. A lab book that cannot be worked out is a bench without a finding."""
    books = books_of(practical)
    found = shares_of(books)
    shares = tuple(found.get(book.pk) or miss_share(book.bench.name, _WAITED_FOR) for book in books)
    return ask_json(present_pools, read_lab_book(practical.document).findings, shares, deal=practical.pk)
