"""The rig on a bench: what it shows now, and for half a minute to come. See decision 49."""

from __future__ import annotations

from dataclasses import dataclass

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import Act, Face, TruthLine, Watched, watch
from hobrel.core.apparatus.rigs import find_rig
from hobrel.core.document.lab_book import LabBook

STEPS = 75
"""Half a minute of a display that changes five times in two seconds."""


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
    """

    title: str
    words: str
    faces: tuple[Face, ...]
    watched: Watched
    truth: tuple[TruthLine, ...]


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
    truth = rig.draw_truth(Chance(seeds.shared), Chance(seeds.own), book.plan.rig.without)
    seen = watch(rig, truth, sitting.acts, Chance(seeds.own).named(sitting.hand), start=sitting.start, steps=STEPS)
    return RigView(rig.title, rig.words, rig.faces, seen, rig.tell_truth(truth) if tells else ())
