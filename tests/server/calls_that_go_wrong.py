"""Calls for the computing process that no lab book should ever make. They are found there by their names."""

from __future__ import annotations

import os
import signal
import time
import weakref
from pathlib import Path

from hobrel.core.containment import contain
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError


def add(a: int, b: int) -> int:
    return a + b


def never_end() -> None:
    while True:
        pass


def never_end_twice_then_add(a: int, b: int) -> tuple[str, str, int]:
    """Two items without an end beside one that is well."""
    first, second = contain("first", never_end), contain("second", never_end)
    assert isinstance(first, CoreError) and isinstance(second, CoreError)
    return first.code, second.code, a + b


def never_answer_signals() -> int:
    """One long call of C, in which no signal is heard."""
    return sum(range(10**12))


def want_all_memory() -> int:
    return len(bytearray(4_000_000_000))


def die(mark: int) -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def die_as(book: LabBook, me: int, victim: int) -> tuple[int]:
    """One of several that are asked side by side ends its child."""
    if me == victim:
        die(me)
    return (me,)


def meet(book: LabBook, folder: str, me: int, other: int) -> tuple[tuple[str, int]]:
    """Wait until the other one has begun too; the title, and who was met."""
    (Path(folder) / str(me)).touch()
    until = time.monotonic() + 10
    while not (Path(folder) / str(other)).exists():
        if time.monotonic() > until:
            return ((book.title, -1),)
        time.sleep(0.005)
    return ((book.title, other),)


def list_all(book: LabBook, given: tuple[tuple[str, int], ...]) -> list[tuple[str, int]]:
    return [*given, (book.title, len(given))]


class Circle:
    def __init__(self) -> None:
        self.itself = self


_circles: list[weakref.ref[Circle]] = []


def leave_a_circle() -> None:
    _circles.append(weakref.ref(Circle()))


def count_circles() -> int:
    return sum(circle() is not None for circle in _circles)


def stumble() -> None:
    raise LookupError("nobody foresaw this")
