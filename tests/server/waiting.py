"""Waiting for what another process does."""

from __future__ import annotations

import time
from collections.abc import Callable

PATIENCE = 60.0


def wait_until(happened: Callable[[], bool]) -> None:
    """Return as soon as it has happened.

    Raises
    ------
    AssertionError
        Where it does not.
    """
    until = time.monotonic() + PATIENCE
    while not happened():
        if time.monotonic() > until:
            raise AssertionError("it has not happened")
        time.sleep(0.02)
