"""When a process looks for what only goes round in circles and keeps itself alive: not while somebody waits.

To look through everything takes as long as there are objects, half a second where many lab books are open, and falls into whatever is being
worked out. What is loaded at the start stays, so it is left out of the search (`keep_loaded`); a computing child searches when nobody asks.
"""

from __future__ import annotations

import gc

REST = 0.2
"""Seconds without a call after which a child has time."""
LEAST, MOST = 50, 2000
"""Calls after which it is worth searching, and after which it is done whoever waits."""
_NEVER = 1 << 30


def keep_loaded() -> None:
    """Take what is there now for what stays. Called once, with everything loaded, before processes are forked."""
    gc.collect()
    gc.freeze()


class Sweeper:
    """Counts calls, and searches between them."""

    def __init__(self) -> None:
        young, middle, _ = gc.get_threshold()
        gc.set_threshold(young, middle, _NEVER)
        self._calls = 0

    def count(self) -> None:
        """A call has been carried out."""
        self._calls += 1
        if self._calls >= MOST:
            self.sweep()

    def is_due(self) -> bool:
        """Whether there is reason to search as soon as there is time."""
        return self._calls >= LEAST

    def sweep(self) -> None:
        """Search everything that is not kept."""
        self._calls = 0
        gc.collect()
