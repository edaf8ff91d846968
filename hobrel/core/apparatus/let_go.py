"""A film that is drawn, of a motion that is known: a lead bead and a paper cone are let go in front of a hanging rule."""

from __future__ import annotations

import math
from dataclasses import dataclass

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import TruthLine

WIDTH, HEIGHT = 480, 640
PER_SECOND = 50
FRAMES = 64
FLOOR = 1.16
"""Metres below where the two are let go."""
RULE = 1.0
_STANDARD_GRAVITY = 9.80665


@dataclass(frozen=True)
class DrawnBody:
    """Something round on a film: its radius, and its middle in every frame, in pixels."""

    name: str
    radius: float
    x: tuple[float, ...]
    y: tuple[float, ...]


@dataclass(frozen=True)
class DrawnLine:
    """A straight line on a film, from one end to the other, in pixels."""

    ax: float
    ay: float
    bx: float
    by: float


@dataclass(frozen=True)
class DrawnFilm:
    """A film as it is drawn, frame by frame.

    Attributes
    ----------
    width, height : int
        In pixels.
    times : tuple of float
        Of every frame, in seconds: a camera is not punctual, and files keep thousandths.
    bodies : tuple of DrawnBody
    rule : DrawnLine
        From its upper end to its lower; it hangs plumb.
    rule_length, rule_u : str
        In metres, as it is labelled.
    floor : DrawnLine
    truth : tuple of TruthLine
        For who made it, or teaches with it.
    """

    width: int
    height: int
    times: tuple[float, ...]
    bodies: tuple[DrawnBody, ...]
    rule: DrawnLine
    rule_length: str
    rule_u: str
    floor: DrawnLine
    truth: tuple[TruthLine, ...]


def fall_in_air(t: float, gravity: float, limit: float) -> float:
    """How far something has fallen from rest with a drag as the square of the speed: (w²/g) ln cosh(g t/w).

    Parameters
    ----------
    t : float
        Seconds since it was let go; nothing before.
    gravity : float
        In m/s².
    limit : float
        The speed w, in m/s, that it comes to in the end.
    """
    if t <= 0:
        return 0.0
    s = gravity * t / limit
    # ln cosh s without overflow
    return limit**2 / gravity * (s + math.log1p(math.exp(-2 * s)) - math.log(2))


def draw_film(chance: Chance) -> DrawnFilm:
    """Draw the film of one bench: how far the camera stands and how it is tilted, when the two are let go, how slow the cone gets."""
    per_pixel = chance.between(1.28, 1.4, "distance") / HEIGHT
    tilt = math.radians(chance.either_side(0.4, 1.5, "tilt"))
    let_go = chance.between(0.05, 0.09, "let go")
    gravity = _STANDARD_GRAVITY + chance.between(-0.02, 0.02, "gravity")
    # a lead bead 20 mm across comes to some 75 m/s, a paper cone to little more than one
    bead_limit, cone_limit = 75.0, chance.between(1.2, 1.7, "cone")
    exact = [(i + 0.12 * chance.normal("late", i)) / PER_SECOND for i in range(FRAMES)]
    times = tuple(round(t - exact[0], 3) for t in exact)
    top = (WIDTH / 2, 38.0)

    def seen(across: float, down: float) -> tuple[float, float]:
        """Where a place stands on the film, in pixels: metres across and below where the two are let go."""
        x, y = across / per_pixel, down / per_pixel
        return top[0] + x * math.cos(tilt) - y * math.sin(tilt), top[1] + x * math.sin(tilt) + y * math.cos(tilt)

    def body(name: str, radius: float, across: float, limit: float) -> DrawnBody:
        fallen = [min(fall_in_air(t - let_go, gravity, limit), FLOOR - radius) for t in exact]
        places = [seen(across, down) for down in fallen]
        return DrawnBody(name, radius / per_pixel, tuple(x for x, _ in places), tuple(y for _, y in places))

    return DrawnFilm(
        width=WIDTH,
        height=HEIGHT,
        times=times,
        bodies=(body("lead bead", 0.014, -0.14, bead_limit), body("paper cone", 0.02, 0.14, cone_limit)),
        rule=DrawnLine(*seen(0.33, 0.05), *seen(0.33, 0.05 + RULE)),
        rule_length="1.000",
        rule_u="0.001",
        floor=DrawnLine(*seen(-0.42, FLOOR), *seen(0.42, FLOOR)),
        truth=(
            TruthLine("gravity", f"{gravity:.3f} m/s²"),
            TruthLine("speed that the cone comes to", f"{cone_limit:.3f} m/s"),
            TruthLine("length of a pixel", f"{1000 * per_pixel:.4f} mm"),
            TruthLine("the camera is tilted by", f"{math.degrees(tilt):.2f}°".replace("-", "−")),
        ),
    )
