"""Rigs with a logger: it writes down by itself, so many times a second, from when it is started until it is stopped."""

from __future__ import annotations

from abc import abstractmethod
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import Act, Moment, RecordLook, Rig, follow
from hobrel.core.errors import CoreError

MOST_ROWS = 20_000
LONGEST_RECORD = 60.0
DRAWN_EVERY = 0.02
"""Seconds between points of the drawing; a logger may write more often."""
RATES = ("10", "100", "1000")


@dataclass(frozen=True)
class Recording:
    """A recording of a logger.

    Attributes
    ----------
    started : float
        When, in seconds of the rig.
    rate : float
        Rows in a second.
    stopped : float or None
        None while it runs.
    zero : float or None
        From when the clock of its rows counts, where that is not its start: something happened that the logger waits for.
    """

    started: float
    rate: float
    stopped: float | None = None
    zero: float | None = None

    @property
    def ends(self) -> float:
        """When it ends at the latest: the logger is full."""
        full = self.started + min(LONGEST_RECORD, MOST_ROWS / self.rate)
        return full if self.stopped is None else min(self.stopped, full)

    @property
    def origin(self) -> float:
        """When its clock stands at zero."""
        return self.started if self.zero is None else self.zero

    def runs_at(self, time: float) -> bool:
        """Whether it writes at a time."""
        return self.stopped is None and time < self.ends

    def rows(self, until: float) -> int:
        """How many rows there are at a time."""
        return int((min(until, self.ends) - self.started) * self.rate + 1e-6) + 1


@dataclass(frozen=True)
class Record:
    """What a logger has written.

    Attributes
    ----------
    columns : mapping of face id to texts
        Of one length; the clock is one of them.
    units : mapping of face id to unit
    """

    columns: dict[str, tuple[str, ...]]
    units: dict[str, str]

    @property
    def rows(self) -> int:
        """How many rows there are."""
        return len(next(iter(self.columns.values())))


@dataclass(frozen=True)
class Recorded:
    """What a state of a rig with a logger has beside its own: the last recording."""

    recording: Recording | None = None


T = TypeVar("T")
S = TypeVar("S", bound=Recorded)
CLOCK = "clock"


@dataclass(frozen=True)
class RecordingRig(Rig[T, S], Generic[T, S]):
    """A rig whose logger writes one thing (`logged`, by the id of its face) against its clock.

    Attributes
    ----------
    logged : str
    """

    logged: str = ""

    @abstractmethod
    def value_at(self, truth: T, state: S, time: float) -> float:
        """What is logged as it truly is, in the unit of its face."""

    @abstractmethod
    def write_row(self, truth: T, value: float, chance: Chance, row: int) -> str:
        """What the logger writes of it."""

    def look_at_record(self, truth: T, history: Sequence[Moment[S]], until: float, now: float) -> RecordLook | None:
        """The last recording, thinned; see `Rig.look_at_record`."""
        recording = history[-1].state.recording
        if recording is None:
            return None
        running = recording.runs_at(now)
        last = min(until if running else recording.ends, recording.ends)
        count = int((last - recording.started) / DRAWN_EVERY + 1e-6) + 1
        times = [recording.started + i * DRAWN_EVERY for i in range(count)]
        face = self.face(self.logged)
        return RecordLook(
            running=running,
            seconds=min(now, recording.ends) - recording.started,
            rate=recording.rate,
            rows=recording.rows(now),
            every=DRAWN_EVERY,
            drawn=tuple(round(self._sampled(truth, history, time), 4) for time in times),
            marks=() if recording.zero is None else (recording.zero - recording.started,),
            name=face.name,
            unit=face.unit,
        )

    def read_record(self, truth: T, acts: Sequence[Act], chance: Chance, start: float) -> Record:
        """All rows of the last recording, which has ended.

        Raises
        ------
        CoreError
            ``nothing`` where nothing was recorded, or it still is.
        """
        history, skipped = follow(self, truth, acts, chance, start)
        recording = history[-1].state.recording
        if recording is None or recording.runs_at(start + skipped):
            raise CoreError("nothing", "Nothing has been recorded to its end yet.")
        count = recording.rows(recording.ends)
        decimals = max(2, len(str(int(recording.rate))))
        times = [recording.started + i / recording.rate for i in range(count)]
        of = chance.named(f"record {round(recording.started * 1000)}")
        clock = tuple(f"{time - recording.origin:.{decimals}f}" for time in times)
        values = tuple(self.write_row(truth, self._sampled(truth, history, time), of, i) for i, time in enumerate(times))
        return Record({CLOCK: clock, self.logged: values}, {CLOCK: self.face(CLOCK).unit, self.logged: self.face(self.logged).unit})

    def _sampled(self, truth: T, history: Sequence[Moment[S]], time: float) -> float:
        at = bisect_right(history, time, key=lambda moment: moment.since) - 1
        return self.value_at(truth, history[max(at, 0)].state, time)
