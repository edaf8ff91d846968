"""One writer at a time in a process: those who wait are woken in a moment, where the database would have them ask again and again."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import OperationalError, transaction

from hobrel.server.sqlite import usual_patience, waiting_at_most

_writer = threading.RLock()
SENT_AGAIN = 3.0
"""Seconds for what is sent again by itself when it has been refused: a thread that waits answers nobody else meanwhile."""


@contextmanager
def writing(patience: float | None = None) -> Iterator[None]:
    """A transaction that writes. Work that can be done before it should be: others wait meanwhile.

    Parameters
    ----------
    patience
        How many seconds others may go before; without it as long as one waits for the database, for somebody who has pressed a button
        and would have to press it again.

    Raises
    ------
    OperationalError
        Where others have written for that long.
    """
    usual = usual_patience()
    patience = usual if patience is None else min(patience, usual)
    if not _writer.acquire(timeout=patience):
        raise OperationalError("others have been writing for too long")
    try:
        if patience == usual:
            with transaction.atomic():
                yield
        else:
            with waiting_at_most(patience), transaction.atomic():
                yield
    finally:
        _writer.release()
