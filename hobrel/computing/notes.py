"""What a computing child does when nobody waits for it: notes are worked out, and what came of them is written, several at once."""

from __future__ import annotations

import logging
import math
import time
from collections.abc import Callable

from hobrel.computing.messages import Answer, Ask, Note, Subject, Worked
from hobrel.core.errors import CoreError

PAUSE = 1.5
"""Seconds without a newer note of the same key after which one is worked out: while somebody writes, what is noted is old in a second."""
LONGEST_PAUSE = 12.0
"""Seconds after which it is worked out all the same; by then a page mostly has asked for the same."""
REST = 0.3
"""Seconds without anything new after which results are written."""
LONGEST_REST = 1.5
LONGEST_WAIT = 2.0
"""Seconds that a note may wait behind people."""
MOST_TRIES = 5
_log = logging.getLogger(__name__)


class Notes:
    """The notes of a child, and the results that are not written yet."""

    def __init__(self, carry_out: Callable[[Ask], Answer], pause: float = PAUSE, rest: float = REST) -> None:
        self._carry_out, self._pause, self._rest = carry_out, pause, rest
        self._waiting: dict[str, tuple[float, float, Note]] = {}
        """By key: since when something is noted under it, by when it is to be worked out, and the newest note."""
        self._worked: dict[str, tuple[Note, Worked]] = {}
        self._first = self._write_at = 0.0
        self._tries = 0

    def take(self, note: Note) -> None:
        """Keep a note, in the place of an older one that has the same key."""
        now = time.monotonic()
        since = self._waiting[note.key][0] if note.key in self._waiting else now
        self._waiting[note.key] = (since, min(now + self._pause, since + LONGEST_PAUSE), note)

    def hurry(self, is_known: Callable[[Subject], bool]) -> None:
        """Let what costs nothing any more be written soon: somebody has just asked for what it is made of."""
        now = time.monotonic()
        for key, (since, at, note) in self._waiting.items():
            if at > now and is_known(note.subject):
                self._waiting[key] = since, now, note

    def wait(self) -> float | None:
        """Seconds until there is something to do; None where there is nothing."""
        due = [at for _, at, _ in self._waiting.values()] + ([self._write_at] if self._worked else [])
        return max(0.0, min(due) - time.monotonic()) if due else None

    def is_overdue(self) -> bool:
        """Whether people have kept a note waiting for too long."""
        return time.monotonic() - self._next_due() > LONGEST_WAIT

    def _next_due(self) -> float:
        return min((at for _, at, _ in self._waiting.values()), default=math.inf)

    def work(self) -> None:
        """Do the next thing: work one note out, or write what has come of them."""
        now = time.monotonic()
        if self._next_due() <= now:
            _, _, note = self._waiting.pop(min(self._waiting, key=lambda key: self._waiting[key][1]))
            worked = self._work_out(note)
            if worked is not None:
                if not self._worked:
                    self._first, self._tries = now, 0
                self._worked[note.key] = (note, worked)
                self._write_at = min(now + self._rest, self._first + LONGEST_REST)
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
            except Exception:  # noqa: BLE001  whatever a database may say; a look of the teacher's page notes it again
                _log.exception("what a note lacks could not be read")
                return None
        if answer.kind == "trouble":
            return Worked(note.about, None, CoreError.told(*answer.content))
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
