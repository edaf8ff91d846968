"""One writer at a time in a process: those who wait are woken in a moment, where the database would have them ask again and again."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import OperationalError, connection, transaction

_writer = threading.RLock()


@contextmanager
def writing() -> Iterator[None]:
    """A transaction that writes. Work that can be done before it should be: others wait meanwhile.

    Raises
    ------
    OperationalError
        Where others have written for as long as one waits for the database.
    """
    patience = connection.settings_dict["OPTIONS"].get("timeout", 5)
    if not _writer.acquire(timeout=patience):
        raise OperationalError("others have been writing for too long")
    try:
        with transaction.atomic():
            yield
    finally:
        _writer.release()
