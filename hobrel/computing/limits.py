"""How long an item, a call and a process may take, and how much memory. For the main thread of a computing child."""

from __future__ import annotations

import resource
import signal
import time
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

from hobrel.core.containment import OutOfTime, Watch
from hobrel.core.errors import CoreError

ITEM_SECONDS = 0.5
CALL_SECONDS = 2.0
"""For all items of a call together; those that come after have nothing left."""
SPARE_SECONDS = 1.0
"""For what a call does beside its items."""
LAST_SECONDS = 3
"""What the kernel allows a call beyond that, where it answers no signal."""
MORE_MEMORY = 1_500_000_000
HEAVY = 8.0
"""How many times as long a heavy call and its items may take."""
LEAST = 0.01
RINGS_AGAIN = 0.05


class TimedWatch(Watch):
    """Gives a call and each item in it their time; under `strict` the unforeseen is an error of the whole call."""

    def __init__(self, strict: bool = False) -> None:
        self.strict = strict
        self._scale = 1.0
        self._ends: list[float] = []
        """By when, in processor time, what is being worked out has to end: the call first, the innermost item last."""
        signal.signal(signal.SIGPROF, self._ring)

    def begin_call(self, heavy: bool) -> None:
        self._scale = HEAVY if heavy else 1.0
        self._ends.clear()

    @contextmanager
    def timed(self) -> Iterator[None]:
        now = time.process_time()
        if self._ends:
            # the call itself has a little more than its items, so that they can fail one by one
            end = min(now + ITEM_SECONDS * self._scale, self._ends[0] - SPARE_SECONDS, *self._ends[1:])
            if end - now < LEAST:
                raise OutOfTime
        else:
            end = now + CALL_SECONDS * self._scale + SPARE_SECONDS
        depth = len(self._ends)
        self._ends.append(end)
        signal.setitimer(signal.ITIMER_PROF, end - now, RINGS_AGAIN)
        try:
            yield
        finally:
            # first, so that a ring that is under way finds nobody to disturb
            del self._ends[depth:]
            left = max(self._ends[-1] - time.process_time(), LEAST) if self._ends else 0.0
            signal.setitimer(signal.ITIMER_PROF, left, RINGS_AGAIN if left else 0.0)

    def name_unforeseen(self, item: str, trouble: Exception) -> CoreError:
        if self.strict:
            raise trouble
        return super().name_unforeseen(item, trouble)

    def _ring(self, signum: int, frame: FrameType | None) -> None:
        # a module that is loaded half would be broken for all that come after; it rings again
        if self._ends and time.process_time() >= self._ends[-1] and not _is_loading(frame):
            raise OutOfTime


def _is_loading(frame: FrameType | None) -> bool:
    while frame is not None:
        if frame.f_code.co_filename.startswith("<frozen importlib"):
            return True
        frame = frame.f_back
    return False


def limit_memory() -> None:
    """Allow this process so much more than it has now."""
    with open("/proc/self/statm") as numbers:
        now = int(numbers.read().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (now + MORE_MEMORY, resource.getrlimit(resource.RLIMIT_AS)[1]))


@contextmanager
def last_limit(heavy: bool) -> Iterator[None]:
    """Let the kernel end this process where a call takes far longer than it may."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    own = CALL_SECONDS * (HEAVY if heavy else 1.0) + SPARE_SECONDS
    soft = int(used.ru_utime + used.ru_stime + own) + LAST_SECONDS
    hard = resource.getrlimit(resource.RLIMIT_CPU)[1]
    resource.setrlimit(resource.RLIMIT_CPU, (soft, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_CPU, (hard, hard))
