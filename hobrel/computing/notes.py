"""What a computing child does when nobody waits for it: notes are worked out, and what came of them is written, several at once."""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from collections.abc import Callable

from hobrel.computing.messages import Answer, Ask, Note, Worked
from hobrel.core.errors import CoreError

REST = 0.3
"""Seconds without anything new after which results are written."""
LONGEST_REST = 1.5
LONGEST_WAIT = 2.0
"""Seconds that a note may wait behind people."""
MOST_TRIES = 5
_log = logging.getLogger(__name__)


class Notes:
    """The notes of a child, and the results that are not written yet."""

    def __init__(self, carry_out: Callable[[Ask], Answer]) -> None:
        self._carry_out = carry_out
        self._waiting: OrderedDict[str, tuple[float, Note]] = OrderedDict()
        self._worked: dict[str, tuple[Note, Worked]] = {}
        self._first = self._write_at = 0.0
        self._tries = 0

    def take(self, note: Note) -> None:
        """Keep a note, in the place of an older one that has the same key."""
        since, _ = self._waiting.get(note.key, (time.monotonic(), None))
        self._waiting[note.key] = (since, note)

    def wait(self) -> float | None:
        """Seconds until there is something to do; None where there is nothing."""
        if self._waiting:
            return 0.0
        return max(0.0, self._write_at - time.monotonic()) if self._worked else None

    def is_overdue(self) -> bool:
        """Whether people have kept a note waiting for too long."""
        return bool(self._waiting) and time.monotonic() - next(iter(self._waiting.values()))[0] > LONGEST_WAIT

    def work(self) -> None:
        """Do the next thing: work one note out, or write what has come of them."""
        now = time.monotonic()
        if self._waiting:
            _, (_, note) = self._waiting.popitem(last=False)
            worked = self._work_out(note)
            if worked is not None:
                if not self._worked:
                    self._first, self._tries = now, 0
                self._worked[note.key] = (note, worked)
                self._write_at = min(now + REST, self._first + LONGEST_REST)
        elif self._worked and now >= self._write_at:
            self._write(now)

    def _work_out(self, note: Note) -> Worked | None:
        ask = note.ask
        for _ in range(2):
            answer = self._carry_out(ask)
            if answer.kind != "lacks":
                break
            try:
                ask = Ask(ask.call, {name: note.supply(name, note.about) for name in answer.content})
            except LookupError:
                return None  # the lab book is another by now, or gone: a newer note is on its way
        if answer.kind == "trouble":
            return Worked(note.about, None, CoreError(*answer.content))
        return Worked(note.about, answer.content, None) if answer.kind == "result" else None

    def _write(self, now: float) -> None:
        notes = [note for note, _ in self._worked.values()]
        try:
            for write in dict.fromkeys(note.write for note in notes):
                write([worked for note, worked in self._worked.values() if note.write == write])
        except Exception:  # noqa: BLE001  whatever a database may say; a look of the teacher's page notes it again
            self._tries += 1
            self._write_at = now + 1.0
            if self._tries < MOST_TRIES:
                return
            _log.exception("what was worked out could not be written")
        self._worked.clear()
