"""What somebody has pointed at on a picture or a film: places in pixels, from the upper left corner, y downwards."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from hobrel.core.errors import CoreError

MOST_FRAMES = 20_000
MOST_MARKS = 4000
MOST_THINGS = 12
MOST_DRAWN = 100
MOST_CORNERS = 60
MOST_COLUMNS = 60
FARTHEST = 100_000.0
"""Pixels beyond which nothing is pointed at."""
LONGEST_FILM = 86_400.0
"""Seconds."""
LONGEST_TEXT = 80

DrawnKind = Literal["length", "angle", "area"]


@dataclass(frozen=True)
class Place:
    """A place on a picture, in pixels."""

    x: float
    y: float


@dataclass(frozen=True)
class KnownLength:
    """A length of known size between two places: as it was typed, with its ± (empty for none), in `unit`."""

    ends: tuple[Place, Place]
    length: str
    u: str
    unit: str


@dataclass(frozen=True)
class Axes:
    """Where positions count from and along.

    Attributes
    ----------
    origin : Place
    along : Place or None
        A place on the x axis, on its positive side; None for an axis along the lower edge of the picture, to the right.
    y_down : bool
        Whether y counts downwards: to the right of x, as one looks along it, instead of to its left.
    """

    origin: Place
    along: Place | None = None
    y_down: bool = False


@dataclass(frozen=True)
class Thing:
    """Something that is followed from frame to frame; with a `pivot` by the angle about that fixed place, too."""

    id: str
    name: str
    pivot: Place | None = None


@dataclass(frozen=True)
class Mark:
    """Where a thing is in a frame; `turn` counts how often it has been pointed at before."""

    thing: str
    frame: int
    turn: int
    place: Place


@dataclass(frozen=True)
class Drawn:
    """A length along places, an angle at the second of three, or an area between places."""

    id: str
    kind: DrawnKind
    places: tuple[Place, ...]


@dataclass(frozen=True)
class Marks:
    """All that was pointed at.

    Attributes
    ----------
    source : str
        What they are on, as it is called: a name for its scale and its clock.
    frames, times : tuple of int, tuple of float
        Frames and their times, in seconds, as the film has them; empty for pictures without.
    every : str
        The time from one frame to the next, as it was typed, in seconds; empty for that of the film.
    start : int
        The frame from which time counts.
    within : str
        To how many pixels one points, as it was judged.
    length_unit, time_unit, angle_unit : str
        In which it is wanted; an empty unit of length is that of the known length.
    columns : tuple of str
        Units of the columns that a length, an angle or an area could be written into.
    """

    source: str = "film"
    frames: tuple[int, ...] = ()
    times: tuple[float, ...] = ()
    every: str = ""
    start: int = 0
    within: str = "1"
    known: KnownLength | None = None
    axes: Axes | None = None
    things: tuple[Thing, ...] = ()
    marks: tuple[Mark, ...] = ()
    drawn: tuple[Drawn, ...] = ()
    length_unit: str = ""
    time_unit: str = "s"
    angle_unit: str = "deg"
    columns: tuple[str, ...] = ()


def check_marks(marks: Marks) -> None:
    """Refuse more than anybody points at, and what is nowhere on a picture.

    Raises
    ------
    CoreError
        ``too_large``, ``bad_number``, ``bad_job``.
    """
    counts = (
        ("frames", len(marks.frames), MOST_FRAMES), ("marks", len(marks.marks), MOST_MARKS), ("things", len(marks.things), MOST_THINGS),
        ("lengths, angles and areas", len(marks.drawn), MOST_DRAWN),
        ("columns", len(marks.columns), MOST_COLUMNS),
        ("places", max((len(d.places) for d in marks.drawn), default=0), MOST_CORNERS),
    )  # fmt: skip
    for what, count, most in counts:
        if count > most:
            raise CoreError(
                "too_large", "There are {count} {what} here; {most} can be measured at once.", count=count, what=what, most=most
            )
    texts = (
        marks.source,
        marks.every,
        marks.within,
        marks.length_unit,
        marks.time_unit,
        marks.angle_unit,
        *(t.name for t in marks.things),
        *marks.columns,
    )
    known = (marks.known.length, marks.known.u, marks.known.unit) if marks.known else ()
    if any(len(text) > LONGEST_TEXT for text in (*texts, *known)):
        raise CoreError("too_large", "What is typed here has at most {most} signs.", most=LONGEST_TEXT)
    if len(marks.times) != len(marks.frames):
        raise CoreError("bad_job", "Every frame has one time.")
    if not all(math.isfinite(time) and abs(time) <= LONGEST_FILM for time in marks.times):
        raise CoreError("bad_number", "The times of this film are no times of a day.")
    if not all(abs(c) <= FARTHEST for place in _places_in(marks) for c in (place.x, place.y)):
        raise CoreError("bad_number", "One of these places is on no picture.")
    if len({(m.thing, m.frame, m.turn) for m in marks.marks}) < len(marks.marks):
        raise CoreError("bad_job", "A thing is at one place in a frame each time that it is pointed at.")


def _places_in(marks: Marks) -> Iterator[Place]:
    if marks.known is not None:
        yield from marks.known.ends
    if marks.axes is not None:
        yield marks.axes.origin
        if marks.axes.along is not None:
            yield marks.axes.along
    yield from (thing.pivot for thing in marks.things if thing.pivot is not None)
    yield from (mark.place for mark in marks.marks)
    for drawn in marks.drawn:
        yield from drawn.places
