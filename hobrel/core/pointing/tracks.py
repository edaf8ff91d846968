"""From places that were pointed at to a scale, positions and angles, each with its ±."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from hobrel.core.errors import CoreError
from hobrel.core.pointing.figures import as_array, measure_drawn
from hobrel.core.pointing.marks import Axes, Drawn, KnownLength, Mark, Place, Thing
from hobrel.core.readings.known import parse_known
from hobrel.core.readings.parsing import parse_reading
from hobrel.core.uncertainty.traced import Floats
from hobrel.core.units.calculus import parse_unit, same_dimension

FEWEST_DOF = 6
"""Three frames pointed at twice: with fewer, what one judges says more (common practice)."""
ROUGHEST = 0.5
COARSE, FINE = 1e-3, 1e-4
"""Seconds to which the times of a film are kept: to a thousandth in many files."""
_ON = 1e-7


@dataclass(frozen=True)
class Pointing:
    """How well one points.

    Attributes
    ----------
    u : float
        Standard uncertainty of one coordinate of one pointing, in pixels.
    dof : int
        Degrees of freedom where it was seen; 0 where it was judged.
    frames : int
        How many frames were pointed at more than once.
    """

    u: float
    dof: int
    frames: int


@dataclass(frozen=True)
class Scale:
    """The length of a pixel, in the unit of the known length, and by what share it may be off; a standard uncertainty."""

    per_pixel: float
    u_share: float


@dataclass(frozen=True, eq=False)
class Track:
    """Where a thing is, frame by frame.

    Attributes
    ----------
    frames : tuple of int
        Those that it was pointed at in, in order.
    x, y : ndarray, shape (frames,)
        In pixels along the axes, from the origin.
    u : ndarray, shape (frames,)
        Standard uncertainty of each coordinate by pointing alone, in pixels.
    angle, u_angle : ndarray, shape (frames,), or None
        About the pivot from the x axis towards the y axis, in radians, past full turns.
    leaps : tuple of int
        Frames to which it has turned by so much that it may have been the other way round.
    """

    frames: tuple[int, ...]
    x: Floats
    y: Floats
    u: Floats
    angle: Floats | None = None
    u_angle: Floats | None = None
    leaps: tuple[int, ...] = ()


def find_pointing(marks: Sequence[Mark], within: str) -> Pointing:
    """How well somebody points: from what was pointed at twice, else as it was judged.

    s² = Σᵢⱼ(pᵢⱼ − p̄ᵢ)² / Σ(nᵢ − 1) over all frames and both coordinates: the repeatability standard deviation of ISO 5725-2:2019, 7.4;
    for pairs Σd²/2n (from memory).

    Raises
    ------
    CoreError
        ``bad_number`` where what was judged is not a number of pixels above zero.
    """
    judged = float(parse_reading(within.strip() or "1").value)
    if not 0 < judged <= 1000:
        raise CoreError("bad_number", "You point to within some pixels: a number above zero.")
    squares, dof, frames = 0.0, 0, 0
    for places in _by_frame(marks).values():
        points = as_array(places)
        if len(points) > 1:
            squares += float(np.sum((points - points.mean(axis=0)) ** 2))
            dof += 2 * (len(points) - 1)
            frames += 1
    if dof < FEWEST_DOF or not squares > 0:
        return Pointing(judged, 0, frames)
    return Pointing(math.sqrt(squares / dof), dof, frames)


def _by_frame(marks: Sequence[Mark]) -> dict[tuple[str, int], list[Place]]:
    found: dict[tuple[str, int], list[Place]] = {}
    for mark in sorted(marks, key=lambda m: (m.frame, m.turn)):
        found.setdefault((mark.thing, mark.frame), []).append(mark.place)
    return found


def find_scale(known: KnownLength, pointing: Pointing) -> Scale:
    """The length of a pixel from a length of known size.

    Its share of ± is that of the length and that of both ends, √2 u, in quadrature.

    Raises
    ------
    CoreError
        ``bad_number``, ``bad_unit`` for what was typed; ``outside_domain`` where both ends are one place.
    """
    unit = parse_unit(known.unit)
    if not same_dimension(unit, parse_unit("m")):
        raise CoreError("bad_unit", "The known length is in a unit of length, such as m or cm.")
    typed = parse_known(known.length, known.u, known.unit)
    length, u = float(typed.value), float(typed.u)
    if not 0 < length < math.inf:
        raise CoreError("bad_number", "The known length is a number above zero.")
    if not 0 <= u < length:
        raise CoreError("bad_number", "The ± of the known length is a number from zero up to the length itself.")
    ends = measure_drawn(Drawn("", "length", known.ends))
    if not ends.value >= 1:
        raise CoreError("outside_domain", "The two ends of the known length are at one place. Point at them anew.")
    u_share = math.hypot(u / length, ends.steepness * pointing.u / ends.value)
    if u_share > ROUGHEST:
        raise CoreError(
            "outside_domain", "The known length is so short on the picture that nothing can be measured by it. Take a longer one."
        )
    return Scale(length / ends.value, u_share)


def follow(thing: Thing, marks: Sequence[Mark], axes: Axes, pointing: Pointing) -> Track:
    """Follow a thing from frame to frame; a frame that it was pointed at in twice has the mean, with u/√2.

    Raises
    ------
    CoreError
        ``outside_domain`` where the axes have no direction, or the thing is at its pivot.
    """
    found = _by_frame([mark for mark in marks if mark.thing == thing.id])
    frames = tuple(frame for _, frame in found)
    means = np.array([as_array(places).mean(axis=0) for places in found.values()]).reshape(-1, 2)
    counts = np.array([len(places) for places in found.values()], dtype=np.float64)
    turned = _turn_of(axes)
    x, y = turned @ (means - as_array([axes.origin])[0]).T
    u = pointing.u / np.sqrt(counts)
    if thing.pivot is None or not frames:
        return Track(frames, x, y, u)
    across, up = turned @ (means - as_array([thing.pivot])[0]).T
    arm = np.hypot(across, up)
    if not np.all(arm > 1):
        raise CoreError("outside_domain", "{thing} is at its own pivot in a frame, so it has no angle there.", thing=thing.name)
    angle = np.arctan2(up, across)
    steps = np.abs((np.diff(angle) + math.pi) % (2 * math.pi) - math.pi)
    leaps = tuple(frames[i + 1] for i in np.flatnonzero(steps > 0.75 * math.pi))
    # the pivot was pointed at once
    return Track(frames, x, y, u=u, angle=np.unwrap(angle), u_angle=np.hypot(u, pointing.u) / arm, leaps=leaps)


def _turn_of(axes: Axes) -> Floats:
    """What turns places on the picture (y downwards) into the directions of the axes; shape (2, 2).

    Raises
    ------
    CoreError
        As `follow`.
    """
    if axes.along is None:
        right = np.array([1.0, 0.0])
    else:
        way = as_array([axes.along])[0] - as_array([axes.origin])[0]
        size = float(np.hypot(*way))
        if not size >= 1:
            raise CoreError("outside_domain", "The place on the x axis is the origin itself. Point at one farther along the axis.")
        right = way / size
    up = np.array([right[1], -right[0]])
    return np.array([right, -up if axes.y_down else up])


def step_of_times(times: Sequence[float]) -> float:
    """To what the times of a film are kept, in seconds: a thousandth where all of them are whole thousandths, else a ten-thousandth."""
    thousandths = np.array(times) / COARSE
    return COARSE if np.all(np.abs(thousandths - np.round(thousandths)) < _ON / COARSE) else FINE
