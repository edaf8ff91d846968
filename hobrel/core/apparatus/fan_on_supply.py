"""A fan on a supply: voltage and current on meters with ranges, and the speed of the air by a vane."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices
from hobrel.core.apparatus.settling import settle

KNOB = ("0", "2", "3", "4", "6", "8", "10", "12")
"""Positions of the supply, in volts."""
VOLTS: dict[str, tuple[float, int]] = {"2": (1.999, 3), "20": (19.99, 2), "200": (199.9, 1)}
AMPERES: dict[str, tuple[float, int]] = {"0.2": (0.1999, 4), "2": (1.999, 3), "10": (9.99, 2)}
"""Ranges of the meters, in V and A: the largest value, and its decimals."""
SPINS_UP = 3.0
"""Seconds in which what is left to go falls to 1/e."""
GUSTS, GUST_LASTS = 0.015, 2.0
"""By what share the air comes unevenly, from one couple of seconds to the next."""
STICKS = 0.9
"""Below so many m/s a vane whose bearing sticks does not turn."""
WINDING, U_WINDING = 4.00, 0.03
"""Of the motor, in ohms: as printed on it, and by how much that is off."""
VOLTMETER, AMMETER, VANE = "voltmeter", "ammeter", "vane"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    drag : float
        Current by the square of the speed of the air, in A s²/m²: the torque of a fan goes with the square of its speed.
    back : float
        Voltage that the turning makes, by the speed of the air, in V s/m.
    winding : float
        In ohms.
    vane : float
        By what the vane multiplies.
    knob : mapping of position to volts
    without : tuple of str
    """

    drag: float
    back: float
    winding: float
    vane: float
    knob: Mapping[str, float]
    without: tuple[str, ...]

    def air(self, volts: float) -> float:
        """The speed of the air at a voltage, in m/s: U = k v + R c v²."""
        a = self.winding * self.drag
        return (math.sqrt(self.back**2 + 4 * a * volts) - self.back) / (2 * a)


@dataclass(frozen=True)
class Bench:
    """Where the knob and the ranges stand, and how fast the air was when the knob was turned last (m/s), and when."""

    knob: str = "0"
    volts: str = "200"
    amperes: str = "10"
    since: float = 0.0
    before: float = 0.0
    blown: bool = False


class FanOnSupply(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            drag=shared.between(0.013, 0.020, "drag") * (1 + 0.03 * own.normal("drag")),
            back=shared.between(1.8, 2.4, "back") * (1 + 0.03 * own.normal("back")),
            winding=WINDING + U_WINDING * shared.normal("winding"),
            vane=1 + 0.02 * own.normal("vane"),
            knob={at: float(at) * (1 + 0.01 * own.normal("knob", at)) for at in KNOB},
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            TruthLine("current by the square of the air’s speed", f"{1000 * truth.drag:.2f} mA s²/m²"),
            TruthLine("voltage of the turning, by the air’s speed", f"{truth.back:.3f} V s/m"),
            TruthLine("the winding", f"{truth.winding:.3f} Ω"),
            TruthLine("the vane multiplies by", f"{truth.vane:.3f}"),
            TruthLine("exponents", "power 3, current 2"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench()

    def knows(self, act: Act) -> bool:
        known: dict[str, Sequence[str]] = {"knob": KNOB, "volts": tuple(VOLTS), "amperes": tuple(AMPERES), "fuse": ("",)}
        return act.value in known.get(act.kind, ())

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        now = self._air(truth, state, act.at)
        match act.kind:
            case "knob":
                changed = replace(state, knob=act.value, since=act.at, before=now)
            case "volts":
                return replace(state, volts=act.value)
            case "amperes":
                changed = replace(state, amperes=act.value, since=act.at, before=now)
            case _:
                changed = replace(state, blown=False, since=act.at, before=now)
        current = truth.drag * truth.air(truth.knob[changed.knob]) ** 2
        if "fuse" in truth.without or changed.amperes != "0.2" or current <= 1.5 * AMPERES["0.2"][0]:
            return changed
        return replace(changed, blown=True)

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        now = moment(time)
        air = self._air(truth, state, time)
        volts, amperes = VOLTS[state.volts], AMPERES[state.amperes]
        current = 0.0 if state.blown else truth.drag * air * air
        # while it spins up the current is what the voltage drives through the winding against the turning
        if not state.blown:
            current = max(current, (truth.knob[state.knob] - truth.back * air) / truth.winding)
        gust = 0.0 if "gusts" in truth.without else GUSTS * chance.normal("gust", int(time / GUST_LASTS))
        turning = truth.vane * air * (1 + gust)
        if "sticks" not in truth.without and turning < STICKS:
            turning = 0.0
        return {
            VOLTMETER: write_display(truth.knob[state.knob], volts[1], volts[0], chance, VOLTMETER, now),
            AMMETER: write_display(current, amperes[1], amperes[0], chance, AMMETER, now),
            VANE: write_display(turning, 2, 30.0, chance, VANE, now),
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        return (
            *(Control("knob", at, at, key, "supply, V", chosen=state.knob == at) for at, key in zip(KNOB, "01234567", strict=True)),
            *(Control("volts", at, at, key, "voltmeter up to, V", chosen=state.volts == at) for at, key in zip(VOLTS, "xcv", strict=True)),
            *(
                Control("amperes", at, at, key, "ammeter up to, A", chosen=state.amperes == at)
                for at, key in zip(AMPERES, "rty", strict=True)
            ),
            Control("fuse", "", "New fuse", "f", "ammeter", hindered="" if state.blown else "The fuse is whole."),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        air = self._air(truth, state, time)
        words = [f"The supply stands at {state.knob} V.", "The fan turns." if air > 0.05 else "The fan rests."]
        if state.blown:
            words.append("The fuse of the ammeter has blown: it carried too much for its range.")
        scene = {"air": f"{air:.3f}", "knob": state.knob, "blown": "yes" if state.blown else ""}
        return Looks(scene, tuple(words))

    def _air(self, truth: Truth, state: Bench, time: float) -> float:
        settled = 0.0 if state.blown else truth.air(truth.knob[state.knob])
        return settle(state.before, settled, time - state.since, SPINS_UP)


FAN_ON_SUPPLY = FanOnSupply(
    key="fan-on-supply",
    title="A fan on a supply",
    words="A fan in a tube on a supply with a knob, a voltmeter and an ammeter with ranges, and a vane that the air turns.",
    faces=(
        Face(VOLTMETER, "voltmeter", "V", "display", "u"),
        Face(AMMETER, "ammeter", "A", "display", "i"),
        Face(VANE, "vane", "m/s", "display", "o"),
    ),
    mishaps=(
        Mishap("fuse", "an ammeter in too small a range blows its fuse"),
        Mishap("gusts", "the air comes unevenly"),
        Mishap("sticks", "the vane sticks in slow air"),
    ),
)
