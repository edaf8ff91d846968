"""One writer at a time: those who wait are woken in a moment, where the database would have them ask again less and less often.

In a process threads take turns; processes of one data folder take turns by a lock on a file beside the database. Whoever does not know of it
(a backup, a server of another version) is still kept apart by the database itself.
"""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.db import OperationalError, connection, transaction

try:
    import fcntl
except ImportError:  # there are no such locks on this system; the database keeps writers apart
    fcntl = None  # type: ignore[assignment]

ASK_AGAIN = 0.001
"""Seconds after which a process asks again for its turn."""
_writer = threading.RLock()
_inside = 0
"""How deep the one who writes is inside `writing`: only the outermost takes and gives back the turn of this process."""
_files: dict[tuple[int, str], int] = {}
"""The lock file of a database, opened anew in each process: a lock that is inherited would be shared."""


@contextmanager
def writing() -> Iterator[None]:
    """A transaction that writes. Work that can be done before it should be: others wait meanwhile.

    Raises
    ------
    OperationalError
        Where others have written for as long as one waits for the database.
    """
    global _inside
    until = time.monotonic() + connection.settings_dict["OPTIONS"].get("timeout", 5)
    if not _writer.acquire(timeout=max(0.0, until - time.monotonic())):
        raise OperationalError("others have been writing for too long")
    file = None
    try:
        file = _take_turn(until) if not _inside else None
        _inside += 1
        try:
            with transaction.atomic():
                yield
        finally:
            _inside -= 1
    finally:
        if file is not None:
            fcntl.flock(file, fcntl.LOCK_UN)
        _writer.release()


def _take_turn(until: float) -> int | None:
    """Wait until no other process writes; None where there is nothing to wait by."""
    file = _lock_file()
    while file is not None:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return file
        except BlockingIOError:
            if time.monotonic() > until:
                raise OperationalError("another process has been writing for too long") from None
            time.sleep(ASK_AGAIN)
        except OSError:
            return None
    return None


def _lock_file() -> int | None:
    name = str(connection.settings_dict["NAME"])
    if fcntl is None or not Path(name).is_file():
        return None
    key = os.getpid(), name
    if key not in _files:
        try:
            _files[key] = os.open(f"{name}.writer", os.O_CREAT | os.O_RDWR, 0o600)
        except OSError:
            return None
    return _files[key]
