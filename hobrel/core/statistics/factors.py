"""Known slips that make a result wrong by a factor: powers of ten from units, 2π, degrees, a gradient turned over."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Factor:
    """A slip that would explain a value: its name, and what to look for."""

    name: str
    factor: float
    reason: str


def _known_factors() -> tuple[Factor, ...]:
    tens = []
    for power in range(1, 13):
        for sign in (1, -1):
            words = {
                1: "as when a reading was not divided by ten, or a unit is off by one step",
                2: "as when the time of ten swings was not divided by ten before squaring, or cm stands for m",
                3: "as when one unit prefix is off (mm for m, g for kg)",
            }.get(power, "a unit prefix is off, perhaps more than once")
            # the smallest slip comes first, so that a factor 100 is not taken for two others
            tens.append(Factor(f"10^{sign * power}", 10.0 ** (sign * power), f"a power of ten: {words}"))
    others = [
        ("2", 2.0, "a factor 2: perhaps a radius for a diameter, or half a swing for a whole one"),
        ("60", 60.0, "a factor 60: perhaps minutes for seconds"),
        ("pi", math.pi, "a factor π"),
        ("2 pi", 2 * math.pi, "a factor 2π: perhaps turns for radians"),
        ("180/pi", 180 / math.pi, "a factor 180/π: perhaps degrees for radians"),
    ]
    both = [Factor(n, f, r) for n, f, r in others] + [Factor(f"1/({n})", 1 / f, r) for n, f, r in others]
    return tuple(tens + both)


_FACTORS = _known_factors()


def explain_factor(value: float, u: float, center: float, u_center: float) -> Factor | None:
    """The known slip that brings a value within one combined uncertainty of where the others are, if there is one.

    Parameters
    ----------
    value, u : float
        The bench's.
    center, u_center : float
        Of the other benches.

    Returns
    -------
    Factor or None
        `Factor.factor` is what the value has been multiplied with, by slip.
    """
    near = [f for f in _FACTORS if abs(value / f.factor - center) <= math.hypot(u / f.factor, u_center)]
    if near:
        best = min(near, key=lambda f: abs(value / f.factor - center))
        side = "times too large" if abs(value) > abs(center) else "times too small"
        size = best.factor if best.factor > 1 else 1 / best.factor
        shown = f"{size:,.0f}".replace(",", "\u202f") if size >= 10 and best.name.startswith("10") else f"{size:.3g}"
        return Factor(best.name, best.factor, f"About {shown} {side}, {best.reason}.")
    if value != 0 and center != 0:
        turned = 1 / value
        if abs(turned - center) <= math.hypot(u / value**2, u_center):
            return Factor(
                "1/v", value / center, "It is one over what the others have: the gradient may be turned over (x and y exchanged)."
            )
    if abs(abs(value - center) - 273.15) <= math.hypot(u, u_center):
        return Factor(
            "273.15", value / center if center else 1.0, "It is 273.15 away: a temperature in °C stands for one in K, or the other way."
        )
    return None
