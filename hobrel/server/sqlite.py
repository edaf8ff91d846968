"""What is said to SQLite in its own words; another database is told nothing. With `settings` and `backup` all that knows which it is."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection

USUAL_PATIENCE = 20.0


def usual_patience() -> float:
    """Seconds that a write waits for those of other processes."""
    return float(connection.settings_dict["OPTIONS"].get("timeout", USUAL_PATIENCE))


@contextmanager
def waiting_at_most(seconds: float) -> Iterator[None]:
    """Within it a write waits so long for those of other processes."""
    if connection.vendor != "sqlite":
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute(f"PRAGMA busy_timeout = {round(seconds * 1000)}")
        try:
            yield
        finally:
            cursor.execute(f"PRAGMA busy_timeout = {round(usual_patience() * 1000)}")


def write_loosely(patience: float) -> None:
    """Have a process write what is worked out again where it is lost, and never wait for long."""
    if connection.vendor == "sqlite":
        options = connection.settings_dict["OPTIONS"]
        options |= {"timeout": patience, "init_command": options["init_command"] + " PRAGMA synchronous=NORMAL;"}
