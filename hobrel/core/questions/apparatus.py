"""The rig on a bench: what it shows now, and for half a minute to come. See decision 49."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.recording import Record, RecordingRig
from hobrel.core.apparatus.rig import Act, Face, Rig, TruthLine, Watched, watch
from hobrel.core.apparatus.rigs import find_rig
from hobrel.core.document.lab_book import LabBook
from hobrel.core.errors import CoreError
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.statistics.scale_reading import ScaleReading, judge_reading

STEPS = 75
"""Half a minute of a display that changes five times in two seconds; less of one that is quicker."""


@dataclass(frozen=True)
class Seeds:
    """What the truth of a bench's rig is drawn from: what its class shares, and what is its own."""

    shared: str
    own: str


@dataclass(frozen=True)
class RigView:
    """A rig as the page shows it.

    Attributes
    ----------
    title, words : str
    faces : tuple of Face
    watched : Watched
    truth : tuple of TruthLine
        Nothing for a bench.
    logs : bool
        Whether a logger writes down what it shows.
    """

    title: str
    words: str
    faces: tuple[Face, ...]
    watched: Watched
    truth: tuple[TruthLine, ...]
    logs: bool


@dataclass(frozen=True)
class Sitting:
    """What somebody has done to a rig until they look at it.

    Attributes
    ----------
    hand : str
        Whose sitting it is: two people at one bench scatter differently.
    acts : tuple of Act
    start : float
        When it is looked at, in seconds since this bench was laid out.
    """

    hand: str
    acts: tuple[Act, ...]
    start: float


def watch_rig(book: LabBook, seeds: Seeds, sitting: Sitting, tells: bool) -> RigView:
    """See the rig of a lab book's plan.

    Parameters
    ----------
    book : LabBook
    seeds : Seeds
    sitting : Sitting
    tells : bool
        Whether who asks may know the truth.

    Raises
    ------
    CoreError
        ``bad_job`` where there is no rig, or such acts cannot have been done to it; ``too_large``.
    """
    rig = find_rig(book.plan.rig.key)
    truth = _draw_truth(book, rig, seeds)
    seen = watch(rig, truth, sitting.acts, _scatter(seeds, sitting), start=sitting.start, steps=STEPS)
    return RigView(
        title=rig.title,
        words=rig.words,
        faces=rig.faces,
        watched=seen,
        truth=rig.tell_truth(truth) if tells else (),
        logs=isinstance(rig, RecordingRig),
    )


def read_record(book: LabBook, seeds: Seeds, sitting: Sitting) -> Record:
    """What the logger of a lab book's rig has written, under the quantities (by id) that the plan reads from it.

    Raises
    ------
    CoreError
        As `watch_rig`; ``nothing`` where nothing was recorded to its end; ``bad_job`` for a rig without a logger, or a plan that does not
        say what is read from its clock and from what it logs.
    """
    rig = find_rig(book.plan.rig.key)
    if not isinstance(rig, RecordingRig):
        raise CoreError("bad_job", "{title} has no logger.", title=rig.title)
    record = rig.read_record(_draw_truth(book, rig, seeds), sitting.acts, _scatter(seeds, sitting), sitting.start)
    to = {face: book.plan.rig.writes.get(face, "") for face in record.columns}
    read = {q.id for q in book.quantities if q.kind in ("changed", "measured")}
    if not set(to.values()) <= read or len(set(to.values())) < len(to):
        raise CoreError("bad_job", "The plan does not say yet which quantities are logged.")
    return Record({to[f]: texts for f, texts in record.columns.items()}, {to[f]: unit for f, unit in record.units.items()})


def read_scale(book: LabBook, seeds: Seeds, sitting: Sitting, face: str, text: str) -> ScaleReading:
    """What somebody read on a scale of a lab book's rig, beside what stood there as it was seen.

    Raises
    ------
    CoreError
        As `watch_rig`; ``bad_job`` for what is no scale; ``bad_number`` for what is no number.
    """
    rig = find_rig(book.plan.rig.key)
    scale = next((f for f in rig.faces if f.id == face and f.kind != "display"), None)
    if scale is None:
        raise CoreError("bad_job", "{title} has no such scale.", title=rig.title)
    seen = watch(rig, _draw_truth(book, rig, seeds), sitting.acts, _scatter(seeds, sitting), start=sitting.start, steps=1)
    return judge_reading(float(parse_reading(text, scale.unit).value), float(seen.shown[face][0]), scale.division)


def _draw_truth(book: LabBook, rig: Rig[Any, Any], seeds: Seeds) -> Any:
    return rig.draw_truth(Chance(seeds.shared), Chance(seeds.own), book.plan.rig.without)


def _scatter(seeds: Seeds, sitting: Sitting) -> Chance:
    """Of one sitting at a bench."""
    return Chance(seeds.own).named(sitting.hand)
