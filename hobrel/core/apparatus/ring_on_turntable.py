"""A ring dropped on a turntable: the angle is logged before and after, and the ring is weighed and measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.recording import CLOCK, RATES, Recorded, Recording, RecordingRig
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, TruthLine, without_choices
from hobrel.core.apparatus.turning import Turning

TABLE_MASS, U_TABLE_MASS = 1.500, 0.002
TABLE_RADIUS, U_TABLE_RADIUS = 0.1500, 0.0003
"""Of the turntable, in kg and m: as marked, and by how much that is off (standard deviations)."""
PUSHES = {"gentle": (3.0, 4.5), "firm": (6.0, 9.0)}
"""Speeds that a hand gives, in rad/s."""
SLIPS = 0.06
"""Seconds in which the ring and the table come to one speed."""
COUNT = 0.002
"""Of the encoder, in rad; its rows jitter by half of that besides."""
JITTER = 0.001
EDGES = {"outer-left": (-1, "outer"), "inner-left": (-1, "inner"), "inner-right": (1, "inner"), "outer-right": (1, "outer")}
EYE_OFF = 1.5
"""By how many divisions an eye that is not level misreads the ruler at the most."""
ENCODER, BALANCE, RULER = "encoder", "balance", "ruler"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    table, ring : float
        Moments of inertia about the axle, in kg m²; the ring's about its own middle.
    mass : float
        Of the ring, in kg.
    outer, inner : float
        Its diameters, in m.
    middle : float
        Where its middle lies on the ruler, in mm.
    friction, drag : float
        Torques on the axle: constant, in N m, and by speed, in N m s.
    eye : float
        By how many divisions an eye that is not level misreads.
    without : tuple of str
    """

    table: float
    ring: float
    mass: float
    outer: float
    inner: float
    middle: float
    friction: float
    drag: float
    eye: float
    without: tuple[str, ...]

    def about_axle(self, off: float) -> float:
        """Inertia of the ring about the axle when it lies so many metres beside it (Steiner's theorem)."""
        return self.ring + self.mass * off**2


@dataclass(frozen=True)
class Bench(Recorded):
    """Where everything is.

    Attributes
    ----------
    turning : Turning
        The table, with what lies on it.
    lies : float or None
        How far beside the axle the ring lies, in m; None while it does not.
    before : float
        Angular speed at the landing of the ring, in rad/s: it slips from there.
    landed : float
        When it landed.
    drops, pushes : int
    edge : str
        Which edge of the ring one looks at on the ruler.
    level : bool
        Whether the eye is above it.
    """

    turning: Turning = field(default_factory=lambda: Turning(0.0, 0.0, 0.0, 0.0, 0.0))
    lies: float | None = None
    before: float = 0.0
    landed: float = -1.0
    drops: int = 0
    pushes: int = 0
    edge: str = "outer-left"
    level: bool = False


class RingOnTurntable(RecordingRig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        mass = shared.between(0.95, 1.30, "mass") * (1 + 0.01 * own.normal("mass"))
        outer = shared.between(0.190, 0.220, "outer") + 0.0006 * own.normal("outer")
        inner = outer - shared.between(0.030, 0.044, "wall")
        disc = (
            (TABLE_MASS + U_TABLE_MASS * shared.normal("table mass"))
            * (TABLE_RADIUS + U_TABLE_RADIUS * shared.normal("table radius")) ** 2
            / 2
        )
        dragging = "drag" not in off
        return Truth(
            table=disc,
            ring=mass * (outer**2 + inner**2) / 8,
            mass=mass,
            outer=outer,
            inner=inner,
            middle=own.between(140.0, 160.0, "middle"),
            friction=disc * own.between(0.05, 0.12, "friction") if dragging else 0.0,
            drag=disc * own.between(0.002, 0.006, "drag") if dragging else 0.0,
            eye=0.0 if "eye" in off else own.either_side(0.6, EYE_OFF, "eye"),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            TruthLine("the table’s moment of inertia", f"{1e4 * truth.table:.2f} × 10⁻⁴ kg m²"),
            TruthLine("the ring’s, about its middle", f"{1e4 * truth.ring:.2f} × 10⁻⁴ kg m²"),
            TruthLine("the ring", f"{1000 * truth.mass:.1f} g, {1000 * truth.outer:.2f} mm outside, {1000 * truth.inner:.2f} mm inside"),
            TruthLine("friction takes at the start", f"{truth.friction / truth.table:.3f} rad/s each second"),
            TruthLine("an eye that is not level is off by", f"{abs(truth.eye):.1f} mm"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench(turning=self._turning(truth, 0.0, 0.0, 0.0, truth.table))

    def knows(self, act: Act) -> bool:
        match act.kind:
            case "push":
                return act.value in PUSHES
            case "record":
                return act.value in RATES
            case "edge":
                return act.value in EDGES
            case _:
                return act.kind in ("drop", "lift", "hold", "stop", "level") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        now = act.at
        angle, speed = self._motion(truth, state, now)
        inertia = truth.table if state.lies is None else truth.about_axle(state.lies) + truth.table
        match act.kind:
            case "push":
                pushed = chance.between(*PUSHES[act.value], "push", state.pushes)
                return replace(state, turning=self._turning(truth, now, angle, pushed, inertia), pushes=state.pushes + 1, landed=-1.0)
            case "hold":
                return replace(state, turning=self._turning(truth, now, angle, 0.0, inertia), landed=-1.0)
            case "drop" if state.lies is None:
                return self._drop(truth, state, now, chance)
            case "lift" if state.lies is not None:
                return replace(state, lies=None, turning=self._turning(truth, now, angle, speed, truth.table), landed=-1.0)
            case "record":
                return replace(state, recording=Recording(now, float(act.value)))
            case "stop" if state.recording is not None and state.recording.stopped is None:
                return replace(state, recording=replace(state.recording, stopped=min(now, state.recording.ends)))
            case "edge":
                return replace(state, edge=act.value)
            case "level":
                return replace(state, level=True)
            case _:
                return state

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        now = moment(time)
        recording = state.recording
        clock = 0.0 if recording is None else min(time, recording.ends) - recording.origin
        side, which = EDGES[state.edge]
        edge = truth.middle + side * 500 * (truth.outer if which == "outer" else truth.inner)
        return {
            CLOCK: f"{clock:.2f}",
            ENCODER: write_display(self.value_at(truth, state, time), 2, 9999.0, chance, ENCODER, now),
            BALANCE: write_display(1000 * truth.mass if state.lies is None else 0.0, 1, 3000.0, chance, BALANCE, now),
            RULER: f"{edge + (0.0 if state.level else truth.eye):.2f}",
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        running = state.recording is not None and state.recording.runs_at(time)
        on, off = "The ring lies on the table.", "The ring is not on the table."
        return (
            Control("push", "gentle", "gently", "g", "spin the table"),
            Control("push", "firm", "firmly", "f", "spin the table"),
            Control("hold", "", "Hold it", "h", "spin the table"),
            Control("drop", "", "Drop it", "d", "ring", hindered=on if state.lies is not None else ""),
            Control("lift", "", "Lift it off", "l", "ring", hindered=off if state.lies is None else ""),
            *(
                Control("record", rate, f"{rate} a second", key, "record", hindered="It is recording." if running else "")
                for rate, key in zip(RATES, "123", strict=True)
            ),
            Control("stop", "", "Stop", "s", "record", hindered="" if running else "Nothing is being recorded."),
            *(
                Control("edge", edge, edge.replace("-", ", "), key, "ruler at the edge", chosen=state.edge == edge)
                for edge, key in zip(EDGES, "uiop", strict=True)
            ),
            Control("level", "", "Look straight down", "e", "eye", chosen=state.level),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        angle, speed = self._motion(truth, state, time)
        words = ["The ring lies on the table." if state.lies is not None else "The ring hangs above the table."]
        words.append(f"The table turns at about {speed:.0f} rad/s." if speed > 0.5 else "The table hardly turns.")
        if state.recording is not None:
            words.append(
                "It is recording." if state.recording.runs_at(time) else f"{state.recording.rows(state.recording.ends)} rows are recorded."
            )
        if not state.level:
            words.append("You look at the ruler from the side.")
        scene = {
            "ring": "on" if state.lies is not None else "above",
            "angle": f"{angle:.3f}",
            "speed": f"{speed:.3f}",
            "slows": f"{state.turning.steady + state.turning.growing * speed:.4f}",
            # on which side of the edge that one looks at the ring lies
            "body": "right" if state.edge in ("outer-left", "inner-right") else "left",
        }
        return Looks(scene, tuple(words))

    def value_at(self, truth: Truth, state: Bench, time: float) -> float:
        return self._motion(truth, state, time)[0]

    def write_row(self, truth: Truth, value: float, chance: Chance, row: int) -> str:
        jitter = 0.0 if "jitter" in truth.without else JITTER * chance.normal("row", row)
        return f"{COUNT * round((value + jitter) / COUNT):.3f}"

    def _drop(self, truth: Truth, state: Bench, now: float, chance: Chance) -> Bench:
        """The ring lands somewhat beside the axle, slips, and turns with the table: angular momentum stays."""
        n = state.drops
        beside = 0.0 if "beside" in truth.without else 0.004 * abs(chance.normal("beside", n))
        angle, before = self._motion(truth, state, now)
        inertia = truth.table + truth.about_axle(beside)
        after = before * truth.table / inertia
        recording = state.recording
        if recording is not None and recording.runs_at(now) and recording.zero is None:
            recording = replace(recording, zero=now)
        return replace(
            state,
            lies=beside,
            drops=n + 1,
            before=before,
            landed=now,
            # while it slips the speed goes evenly from one to the other
            turning=self._turning(truth, now + SLIPS, angle + SLIPS * (before + after) / 2, after, inertia),
            recording=recording,
        )

    def _turning(self, truth: Truth, since: float, angle: float, speed: float, inertia: float) -> Turning:
        return Turning(since, angle, speed, truth.friction / inertia, truth.drag / inertia)

    def _motion(self, truth: Truth, state: Bench, time: float) -> tuple[float, float]:
        """Angle in rad and speed in rad/s."""
        slipping = time - state.landed
        if state.landed >= 0 and slipping < SLIPS:
            slows = (state.turning.speed - state.before) / SLIPS
            start = state.turning.angle - SLIPS * (state.before + state.turning.speed) / 2
            return start + state.before * slipping + slows * slipping**2 / 2, state.before + slows * slipping
        return state.turning.at(time)


RING_ON_TURNTABLE = RingOnTurntable(
    key="ring-on-turntable",
    title="A ring dropped on a turntable",
    words=("A turntable whose angle is logged, a ring that hangs from a balance, and a ruler. The logger’s clock counts from the landing."),
    faces=(
        Face(CLOCK, "logger’s clock", "s", "display", "y"),
        Face(ENCODER, "angle", "rad", "display", "t"),
        Face(BALANCE, "hook balance", "g", "display", "m"),
        Face(RULER, "ruler", "mm", "scale", "r", division=1.0),
    ),
    mishaps=(
        Mishap("drag", "the axle drags"),
        Mishap("beside", "the ring lands somewhat beside the axle"),
        Mishap("jitter", "the encoder jitters"),
        Mishap("eye", "an eye that is not level misreads the ruler"),
    ),
    every=0.1,
    waits=(),
    logged=ENCODER,
)
