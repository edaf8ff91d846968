"""Timing by hand: a stopwatch that one presses oneself, so that one's own reaction is in what is measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices
from hobrel.core.apparatus.timed_things import MARKS, THINGS, Nature

NAMES = {"bead": "bead in syrup", "pendulum": "pendulum", "strip": "clamped strip", "vessel": "draining vessel", "cup": "cooling cup"}
SCATTER = 0.006
"""By what share sinkings of one bead differ: how warm the syrup is where it goes."""
TOUCHES = 0.05
STOPWATCH, LAP, GAUGE, WARMTH = "stopwatch", "lap", "gauge", "thermometer"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench."""

    nature: Nature
    without: tuple[str, ...]


@dataclass(frozen=True)
class Bench:
    """What is timed, since when it goes, and the stopwatch.

    Attributes
    ----------
    thing : str
    settings : mapping of thing to its setting
    gone : float or None
        When it was let go.
    goes : int
    slower : float
        By what factor this going takes longer than it should.
    started : float or None
        When the stopwatch was started, where it runs.
    shown, lap : float
        What it shows where it stands, and the last lap.
    """

    thing: str = "bead"
    setting: str = "3.0"
    gone: float | None = None
    goes: int = 0
    slower: float = 1.0
    started: float | None = None
    shown: float = 0.0
    lap: float = 0.0


class TimingByHand(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        spread = {"bead": 0.03, "pendulum": 4.0, "strip": 3.0, "vessel": 0.0, "cup": 0.0}
        sizes = {
            (thing, setting): float(setting) + spread[thing] * own.normal("size", thing, setting)
            for thing, settings in THINGS.items()
            for setting in settings
        }
        nature = Nature(
            viscosity=shared.between(1.1, 1.9, "viscosity"),
            modulus=shared.between(3.0e9, 4.2e9, "modulus") * (1 + 0.01 * own.normal("modulus")),
            drains=shared.between(0.005, 0.008, "drains") * (1 + 0.02 * own.normal("drains")),
            cools=shared.between(0.0011, 0.0018, "cools") * (1 + 0.02 * own.normal("cools")),
            room=own.between(19.0, 23.0, "room"),
            dies=0.006,
            sizes=sizes,
        )
        return Truth(nature, without_choices(self, without))

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        of = truth.nature
        return (
            TruthLine("viscosity of the syrup", f"{of.viscosity:.4f} Pa s"),
            TruthLine("modulus of the strip", f"{of.modulus / 1e9:.3f} GPa"),
            TruthLine("the root of the vessel’s height goes down by", f"{1000 * of.drains:.3f} × 10⁻³ √m/s"),
            TruthLine("the cup loses of its excess", f"{1000 * of.cools:.3f} ‰ each second, in a room of {of.room:.1f} °C"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench()

    def knows(self, act: Act) -> bool:
        match act.kind:
            case "thing":
                return act.value in THINGS
            case "set":
                return any(act.value in settings for settings in THINGS.values())
            case _:
                return act.kind in ("go", "press", "lap", "reset") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        now, running = act.at, state.started is not None
        match act.kind:
            case "thing":
                return replace(state, thing=act.value, setting=THINGS[act.value][len(THINGS[act.value]) // 2], gone=None)
            case "set" if act.value in THINGS[state.thing]:
                return replace(state, setting=act.value, gone=None)
            case "go":
                return replace(state, gone=now, goes=state.goes + 1, slower=self._slower(truth, state, chance))
            case "press" if running:
                return replace(state, started=None, shown=self._watch(state, now))
            case "press":
                return replace(state, started=now - state.shown)
            case "lap" if running:
                return replace(state, lap=self._watch(state, now))
            case "reset":
                return replace(state, started=None, shown=0.0, lap=0.0)
            case _:
                return state

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        size = truth.nature.sizes[state.thing, state.setting]
        gauge = f"{size:.2f}" if state.thing == "bead" else f"{size:.0f}" if state.thing in ("pendulum", "strip") else ""
        warm = self._place(truth, state, time) if state.thing == "cup" else truth.nature.room
        return {
            STOPWATCH: f"{self._watch(state, time):.2f}",
            LAP: f"{state.lap:.2f}" if state.lap else "",
            GAUGE: gauge,
            WARMTH: write_display(warm, 1, 120.0, chance, WARMTH, moment(time) // 4),
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        running = state.started is not None
        settings = THINGS[state.thing]
        unit = "°C" if state.thing == "cup" else "mm"
        return (
            *(
                Control("thing", thing, name, key, "what is timed", chosen=state.thing == thing)
                for (thing, name), key in zip(NAMES.items(), "vbnmc", strict=True)
            ),
            *(
                Control("set", setting, setting, key, f"about, {unit}", chosen=state.setting == setting)
                for setting, key in zip(settings, "12345", strict=False)
            ),
            Control("go", "", "Let it go", "g", "it"),
            Control("press", "", "Stop" if running else "Start", "s", "stopwatch"),
            Control("lap", "", "Lap", "l", "stopwatch", hindered="" if running else "The stopwatch stands."),
            Control("reset", "", "To zero", "z", "stopwatch"),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        of = truth.nature
        words = [f"The {NAMES[state.thing]}, {'not let go yet' if state.gone is None else 'on its way'}."]
        words.append("The stopwatch runs." if state.started is not None else "The stopwatch stands.")
        touches = state.thing == "bead" and state.gone is not None and state.slower > 1.1
        if touches:
            words.append("It touches the glass.")
        period = of.period(state.thing, state.setting) if state.thing in ("pendulum", "strip") else 0.0
        scene = {
            "thing": state.thing,
            "size": state.setting,
            "gone": "" if state.gone is None else f"{time - state.gone:.3f}",
            "period": f"{period:.4f}",
            "dies": f"{of.dies:.4f}",
            "sinks": f"{of.sinks(state.setting) / state.slower:.5f}" if state.thing == "bead" else "",
            "touches": "yes" if touches else "",
            "drains": f"{of.drains:.6f}",
            "marks": " ".join(f"{mark:.3f}" for mark in MARKS),
            "watch": f"{self._watch(state, time):.3f}",
            "runs": "yes" if state.started is not None else "",
        }
        return Looks(scene, tuple(words))

    def _slower(self, truth: Truth, state: Bench, chance: Chance) -> float:
        """By what factor this bead takes longer: the syrup is not the same everywhere, and now and then it touches the glass."""
        if state.thing != "bead":
            return 1.0
        n = state.goes
        touches = "touches" not in truth.without and chance.share("touches", n) < TOUCHES
        return (1 + SCATTER * chance.normal("syrup", n)) * (1.25 if touches else 1.0)

    def _place(self, truth: Truth, state: Bench, time: float) -> float:
        gone = -1.0 if state.gone is None else (time - state.gone) / state.slower
        return truth.nature.place(state.thing, state.setting, gone)

    def _watch(self, state: Bench, time: float) -> float:
        return state.shown if state.started is None else time - state.started


TIMING_BY_HAND = TimingByHand(
    key="timing-by-hand",
    title="Timing by hand",
    words="A bead in syrup, a pendulum, a clamped strip, a draining vessel and a cooling cup; and a stopwatch that one presses oneself.",
    faces=(
        Face(STOPWATCH, "stopwatch", "s", "display", "d"),
        Face(LAP, "lap", "s", "display", "f"),
        Face(GAUGE, "gauge", "mm", "display", "h"),
        Face(WARMTH, "thermometer", "°C", "display", "t"),
    ),
    mishaps=(Mishap("touches", "now and then a bead touches the glass and sinks more slowly"),),
    every=0.1,
)
