"""Things that one times by hand: where each is at a time after it was let go, in closed form."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

GRAVITY = 9.81
STEEL, SYRUP = 7800.0, 1380.0
"""Of beads and of what they sink in, in kg/m³ (common practice)."""
MARKS = (0.050, 0.250)
"""How deep the two marks of the syrup are, in m."""
STRIP_MASS, STRIP_WIDTH, STRIP_THICK = 0.200, 0.0250, 0.00100
"""Of what hangs at the strip, in kg, and of the strip, in m."""
FULL, SHIELDED = 0.400, 85.0
"""How high the vessel is filled, in m, and how warm the cup is poured, in °C."""
THINGS: Mapping[str, tuple[str, ...]] = {
    "bead": ("2.0", "2.5", "3.0", "3.5", "4.0"),
    "pendulum": ("200", "350", "500", "700", "950"),
    "strip": ("300", "375", "450", "525", "600"),
    "vessel": ("400",),
    "cup": ("85",),
}
"""Each with what can be set of it: about so many mm, or °C."""


@dataclass(frozen=True)
class Nature:
    """What is hidden of the things.

    Attributes
    ----------
    viscosity : float
        Of the syrup, in Pa s.
    modulus : float
        Of the strip, in Pa.
    drains : float
        How fast the root of the height goes down, in m^½/s.
    cools, room : float
        Share of its excess that the cup loses in a second, and the room, in °C.
    dies : float
        Share of its swing that something swinging loses in a second.
    sizes : mapping of thing and setting to the true size in mm
    """

    viscosity: float
    modulus: float
    drains: float
    cools: float
    room: float
    dies: float
    sizes: Mapping[tuple[str, str], float]

    def sinks(self, setting: str) -> float:
        """How fast a bead sinks, in m/s (Stokes' law): v = (ρ − ρ') g d²/(18 η)."""
        return (STEEL - SYRUP) * GRAVITY * (self.sizes["bead", setting] / 1000) ** 2 / (18 * self.viscosity)

    def period(self, thing: str, setting: str) -> float:
        """Of the pendulum, 2π √(l/g), or of the strip with its load, T² = 16 π² m l³/(E b d³), in s."""
        length = self.sizes[thing, setting] / 1000
        if thing == "pendulum":
            return 2 * math.pi * math.sqrt(length / GRAVITY)
        return math.sqrt(16 * math.pi**2 * STRIP_MASS * length**3 / (self.modulus * STRIP_WIDTH * STRIP_THICK**3))

    def place(self, thing: str, setting: str, time: float) -> float:
        """Where it is so long after it was let go: depth of the bead and height of the water in m, the swing as a share, the cup in °C."""
        if time < 0:
            return {"bead": 0.0, "vessel": FULL, "cup": SHIELDED}.get(thing, 1.0)
        match thing:
            case "bead":
                return min(self.sinks(setting) * time, MARKS[1] + 0.05)
            case "vessel":
                return max(0.0, math.sqrt(FULL) - self.drains * time) ** 2
            case "cup":
                return self.room + (SHIELDED - self.room) * math.exp(-self.cools * time)
            case _:
                return math.exp(-self.dies * time) * math.cos(2 * math.pi * time / self.period(thing, setting))
