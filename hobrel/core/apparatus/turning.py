"""Something that turns by itself against friction, in closed form."""

from __future__ import annotations

import math
from dataclasses import dataclass

_SMALL = 1e-4
"""Of k t/I: the fourth power of it is beyond what a float holds."""


@dataclass(frozen=True)
class Turning:
    """A turning of inertia I from a time on, slowed by a constant torque and one in proportion to its speed: I dω/dt = −τ − k ω.

    Attributes
    ----------
    since : float
        In seconds.
    angle, speed : float
        At that time, in rad and rad/s; not backwards.
    steady : float
        τ/I, in rad/s².
    growing : float
        k/I, in 1/s.
    """

    since: float
    angle: float
    speed: float
    steady: float
    growing: float

    @property
    def rests(self) -> float:
        """When it comes to rest; never without friction."""
        if self.speed == 0:
            return self.since
        if self.growing == 0:
            return self.since + self.speed / self.steady if self.steady else math.inf
        if self.steady == 0:
            return math.inf
        return self.since + math.log1p(self.speed * self.growing / self.steady) / self.growing

    def at(self, time: float) -> tuple[float, float]:
        """Angle and speed at a time, in rad and rad/s."""
        t = min(time, self.rests) - self.since
        x = self.growing * t
        if x < _SMALL:
            # the same in powers of k t/I, where differences of nearly equal numbers would be left of it
            angle = self.angle + self.speed * t * (1 - x / 2 + x * x / 6) - self.steady * t * t * (0.5 - x / 6 + x * x / 24)
            return angle, max(0.0, self.speed * (1 - x + x * x / 2) - self.steady * t * (1 - x / 2 + x * x / 6))
        limit = self.steady / self.growing
        passed = -math.expm1(-x)
        angle = self.angle + (self.speed + limit) * passed / self.growing - limit * t
        return angle, max(0.0, self.speed - (self.speed + limit) * passed)
