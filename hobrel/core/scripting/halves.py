"""Long work of a script in two halves at once, where the machine can: a script has no computing processes beside it."""

from __future__ import annotations

import os
import pickle
import threading
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")


def work_in_halves(work: Callable[[int, int], tuple[T, ...]], count: int) -> tuple[T, ...]:
    """What `work` gives from the first to the last of so many, the second half by a child of this process.

    The child is a copy of this process that only works, tells what came of it (by `pickle`, from itself to itself) and ends. Where there is
    one processor, no `fork`, or another thread whose locks a copy would take along, and where nothing comes of the child, all is done here.

    Parameters
    ----------
    work : callable
        Called with the first and the end of a part.
    count : int
    """
    middle = count // 2
    if middle < 1 or not hasattr(os, "fork") or (os.cpu_count() or 1) < 2 or threading.active_count() > 1:
        return work(0, count)
    reads, writes = os.pipe()
    child = os.fork()
    if child == 0:
        _tell(work, middle, count, writes)
    os.close(writes)
    try:
        with os.fdopen(reads, "rb") as told:
            first = work(0, middle)
            text = told.read()
    finally:
        _, status = os.waitpid(child, 0)
    second: tuple[T, ...] = pickle.loads(text) if status == 0 and text else work(middle, count)
    return first + second


def _tell(work: Callable[[int, int], tuple[T, ...]], first: int, end: int, writes: int) -> None:
    """Work, tell it, and end without anything that was copied being done twice: no clean-up, no output that waits to be written."""
    code = 1
    try:
        text = pickle.dumps(work(first, end))
        with os.fdopen(writes, "wb") as telling:
            telling.write(text)
        code = 0
    finally:
        os._exit(code)
