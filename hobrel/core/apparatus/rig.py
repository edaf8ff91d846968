"""What every rig has: acts that are done to it, instruments that show something, controls, and what goes wrong as in life.

A rig is seen at a time by `watch`: its truth, what has been done and the time give all that is shown. Nothing is kept between two looks.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, Literal, TypeVar

from hobrel.core.apparatus.chance import Chance
from hobrel.core.errors import CoreError
from hobrel.core.sentences import NumberText

MOST_ACTS = 400
LONGEST_TIME = 86_400.0
MOST_STEPS = 120
WAIT = "wait"
"""What every rig knows: to let it stand. The value of this act is how long, in seconds."""

FaceKind = Literal["display", "scale", "burette"]


@dataclass(frozen=True)
class Act:
    """Something done to a rig at a second of its time.

    Attributes
    ----------
    kind : str
        Which control; ``wait`` lets it stand.
    value : str
        Which of its positions; empty for a press.
    at : float
        Seconds since the bench was laid out, without what letting it stand has skipped.
    """

    kind: str
    value: str
    at: float


@dataclass(frozen=True)
class Face:
    """What an instrument shows something on.

    Attributes
    ----------
    id, name, unit
    kind : {"display", "scale", "burette"}
        A display writes what it shows; on a scale or a burette one reads by eye where an edge or a meniscus stands.
    key : str
        The key that writes down what a display shows, and reads a scale aloud to its nearest marks.
    division : float
        Of a scale, in its unit; 0 for a display.
    numbered : int
        At every how many marks of a scale a number stands.
    """

    id: str
    name: str
    unit: str
    kind: FaceKind
    key: str
    division: float = 0.0
    numbered: int = 10


@dataclass(frozen=True)
class Mishap:
    """Something that goes wrong as in life, which a plan can switch off."""

    id: str
    words: str


@dataclass(frozen=True)
class Control:
    """Something that can be done now.

    Attributes
    ----------
    act, value : str
        The act that it is.
    words : str
        On the control.
    key : str
        The key that does it.
    group : str
        What it stands together with.
    chosen : bool or None
        Whether it is the position in force; None for a press.
    hindered : str
        Why it cannot be done now; empty where it can.
    """

    act: str
    value: str
    words: str
    key: str
    group: str
    chosen: bool | None = None
    hindered: NumberText = ""


@dataclass(frozen=True)
class TruthLine:
    """Something that is hidden in a rig, written for a teacher."""

    name: str
    text: NumberText


@dataclass(frozen=True)
class Looks:
    """How a rig looks at a moment.

    Attributes
    ----------
    scene : mapping of str to str
        Where its parts are, for the drawing; names are the rig's own.
    words : tuple of str
        The same for whoever does not see it.
    """

    scene: Mapping[str, str]
    words: tuple[NumberText, ...]


@dataclass(frozen=True)
class RecordLook:
    """What a logger has written, or is writing, thinned for a drawing.

    Attributes
    ----------
    running : bool
    seconds, rate : float
        How long it has been recording until now, and how many rows it writes in a second.
    rows : int
        How many there are now.
    every : float
        How far apart points of the drawing are, in seconds; it begins at the first row.
    drawn : tuple of float
        Of what is logged, in its unit; while it is running also what is to come until the last step that is shown.
    marks : tuple of float
        What has happened during it, in seconds after its first row.
    name, unit : str
        Of what is logged.
    """

    running: bool
    seconds: float
    rate: float
    rows: int
    every: float
    drawn: tuple[float, ...]
    marks: tuple[float, ...]
    name: str
    unit: str


@dataclass(frozen=True)
class Watched:
    """What is seen of a rig over a stretch of time.

    Attributes
    ----------
    start, every : float
        When the first step is, and how far apart steps are, in seconds since the bench was laid out.
    shown : mapping of face id to texts
        One for each step: what a display shows, and where on a scale it stands, to a hundredth of a division.
    controls : tuple of Control
    looks : Looks
    record : RecordLook or None
        What is being recorded, or was last; None where nothing was.
    """

    start: float
    every: float
    shown: Mapping[str, tuple[str, ...]]
    controls: tuple[Control, ...]
    looks: Looks
    record: RecordLook | None = None


WAITS = (
    Control(WAIT, "60", "1 min", ",", "let it stand"),
    Control(WAIT, "600", "10 min", ".", "let it stand"),
)
T = TypeVar("T")
S = TypeVar("S")


@dataclass(frozen=True)
class Moment(Generic[S]):
    """From when on things stood so, in seconds with all that was skipped."""

    since: float
    state: S


@dataclass(frozen=True)
class Rig(ABC, Generic[T, S]):
    """A simulated apparatus with a truth of type T, whose parts are somewhere (S) at a time.

    Attributes
    ----------
    key, title, words : str
        `words` say what can be found with it.
    faces : tuple of Face
    mishaps : tuple of Mishap
    every : float
        How far apart steps of what is shown are, in seconds.
    waits : tuple of Control
        For how long it can be let stand.
    """

    key: str
    title: str
    words: str
    faces: tuple[Face, ...]
    mishaps: tuple[Mishap, ...] = field(default=())
    every: float = 0.4
    waits: tuple[Control, ...] = WAITS

    def face(self, face_id: str) -> Face:
        """An instrument by its id."""
        return next(face for face in self.faces if face.id == face_id)

    @abstractmethod
    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> T:
        """What is true of this bench: part of it the class's, part of it its own; nothing of the mishaps it is `without`."""

    @abstractmethod
    def tell_truth(self, truth: T) -> tuple[TruthLine, ...]:
        """The truth for a teacher."""

    @abstractmethod
    def lay_out(self, truth: T) -> S:
        """How things stand when the bench is laid out."""

    @abstractmethod
    def do(self, truth: T, state: S, act: Act, chance: Chance) -> S:
        """How things stand after an act, at its time; one that cannot be done changes nothing."""

    @abstractmethod
    def show(self, truth: T, state: S, time: float, chance: Chance) -> Mapping[str, str]:
        """What each face shows at a time."""

    @abstractmethod
    def offer(self, truth: T, state: S, time: float) -> tuple[Control, ...]:
        """What can be done."""

    @abstractmethod
    def look(self, truth: T, state: S, time: float) -> Looks:
        """Where everything is."""

    def look_at_record(self, truth: T, history: Sequence[Moment[S]], until: float, now: float) -> RecordLook | None:
        """What is being recorded, or was last, as far as it will be `until`; nothing of a rig that records nothing."""
        return None

    @abstractmethod
    def knows(self, act: Act) -> bool:
        """Whether there is such an act."""


def watch(rig: Rig[T, S], truth: T, acts: Sequence[Act], chance: Chance, *, start: float, steps: int) -> Watched:
    """See what a rig shows, from a time on.

    Parameters
    ----------
    rig : Rig
    truth : T
        As `Rig.draw_truth` gave it.
    acts : sequence of Act
        What has been done, in order; what comes after `start` is left out.
    chance : Chance
        Of this sitting: the scatter of repeats, the flicker of last digits.
    start : float
        In seconds since the bench was laid out.
    steps : int
        How many steps to see.

    Returns
    -------
    Watched

    Raises
    ------
    CoreError
        ``bad_job`` for acts that the rig does not know, out of order, or at times that are none; ``too_large`` for too many of them.
    """
    if not 1 <= steps <= MOST_STEPS:
        raise CoreError("bad_job", "A rig is watched for 1 to {most} steps.", most=MOST_STEPS)
    history, skipped = follow(rig, truth, acts, chance, start)
    state = history[-1].state
    times = [start + skipped + i * rig.every for i in range(steps)]
    seen = [rig.show(truth, state, time, chance) for time in times]
    return Watched(
        start=start,
        every=rig.every,
        shown={face.id: tuple(each[face.id] for each in seen) for face in rig.faces},
        controls=rig.offer(truth, state, times[0]) + rig.waits,
        looks=rig.look(truth, state, times[0]),
        record=rig.look_at_record(truth, history, times[-1], times[0]),
    )


def follow(rig: Rig[T, S], truth: T, acts: Sequence[Act], chance: Chance, start: float) -> tuple[list[Moment[S]], float]:
    """How things stood after each act until `start`, and how much time has been skipped by letting it stand.

    Raises
    ------
    CoreError
        As `watch`.
    """
    state, skipped = rig.lay_out(truth), 0.0
    history = [Moment(0.0, state)]
    for act in check_acts(rig, acts, start):
        if act.at > start:
            break
        if act.kind == WAIT:
            skipped += float(act.value)
            continue
        now = act.at + skipped
        state = rig.do(truth, state, Act(act.kind, act.value, now), chance)
        history.append(Moment(now, state))
    return history, skipped


def check_acts(rig: Rig[T, S], acts: Sequence[Act], start: float) -> Sequence[Act]:
    """The acts, where a rig can have had them done to it until `start`.

    Raises
    ------
    CoreError
        ``bad_job``, ``too_large``.
    """
    if len(acts) > MOST_ACTS:
        raise CoreError("too_large", "So much has been done here that the bench has to be cleared: at most {most} acts.", most=MOST_ACTS)
    before = 0.0
    for act in acts:
        if not (before <= act.at <= LONGEST_TIME):
            raise CoreError("bad_job", "What has been done to the rig is not in order of time.")
        known = act.value in {c.value for c in rig.waits} if act.kind == WAIT else rig.knows(act)
        if not known:
            raise CoreError("bad_job", "{title} knows no {kind} {value}.", title=rig.title, kind=act.kind, value=act.value)
        before = act.at
    if not 0 <= start <= LONGEST_TIME:
        raise CoreError("bad_job", "A rig stands for a day at the most; clear the bench.")
    return acts


def without_choices(rig: Rig[T, S], without: Sequence[str]) -> tuple[str, ...]:
    """Those of the mishaps that are switched off which the rig has."""
    return tuple(trouble.id for trouble in rig.mishaps if trouble.id in without)
