"""What the truth of the rig on a bench is drawn from. See decision 49."""

from __future__ import annotations

import hashlib
import hmac

from django.conf import settings

from hobrel.core.questions.apparatus import Seeds
from hobrel.labbooks.models import Book


def seeds_of(book: Book) -> Seeds:
    """Of a bench, and of the class that does this practical. They hold the server's secret, so that nobody can work out what is hidden."""
    of_class = f"practical {book.practical_id}" if book.practical_id is not None else f"book {book.pk}"
    return Seeds(_digest(of_class), _digest(f"bench {book.pk}"))


def _digest(name: str) -> str:
    return hmac.digest(settings.SECRET_KEY.encode(), f"rig {name}".encode(), hashlib.sha256).hex()
