"""A winged seed: how long it falls between two gates, how often it turns and where it lands, by its wing and its load."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices

GRAVITY, AIR = 9.81, 1.20
"""In m/s², and of the air of a warm room in kg/m³ (common practice)."""
HEIGHT, U_HEIGHT = 2.000, 0.003
"""Between the gates, in m, and by how much that is off on a bench."""
PAPER, CLIP = 0.00060, 0.00042
"""Mass of the seed itself and of a clip, in kg."""
WINGS = ("40", "55", "70", "85", "100")
"""About how long a wing is cut, in mm."""
U_CUT = 0.8
LOADS = ("1", "2", "3")
SCATTER = 0.02
"""By what share falls of one seed differ: how it was let go."""
TUMBLES = 0.06
EYE_OFF = 1.5
GATES, TURNS, TAPE, RULER = "gates", "turns", "tape", "ruler"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    lift : float
        What the disc that the wing sweeps carries, as a coefficient: m g = lift · ρ v²/2 · π L².
    ratio : float
        How fast the tip goes around, by how fast the seed falls.
    height : float
        Between the gates, in m.
    drift : float
        How far draughts carry it in a second, in m (standard deviation each way).
    cuts : mapping of wing to its length in mm
    eye : float
        By how many mm an eye that is not level misreads.
    without : tuple of str
    """

    lift: float
    ratio: float
    height: float
    drift: float
    cuts: Mapping[str, float]
    eye: float
    without: tuple[str, ...]

    def speed(self, wing: str, load: str) -> float:
        """How fast such a seed falls once it turns, in m/s."""
        mass = PAPER + CLIP * int(load)
        return math.sqrt(2 * mass * GRAVITY / (self.lift * AIR * math.pi)) / (self.cuts[wing] / 1000)

    def turns(self, wing: str) -> float:
        """How often it turns between the gates."""
        return self.ratio * self.height / (2 * math.pi * self.cuts[wing] / 1000)


@dataclass(frozen=True)
class Fall:
    """One drop: when, how long between the gates in s, turns, and how far from the mark it lands in cm."""

    at: float
    seconds: float
    turns: int
    beside: float
    tumbled: bool


@dataclass(frozen=True)
class Bench:
    """Which seed is at hand, and how the last drop went."""

    wing: str = "70"
    load: str = "1"
    drops: int = 0
    fall: Fall | None = None
    level: bool = False


class WingedSeed(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            lift=shared.between(1.1, 1.5, "lift"),
            ratio=shared.between(3.2, 4.4, "ratio"),
            height=HEIGHT + U_HEIGHT * shared.normal("height"),
            drift=0.06 * own.between(0.7, 1.4, "drift"),
            cuts={wing: float(wing) + U_CUT * own.normal("cut", wing) for wing in WINGS},
            eye=0.0 if "eye" in off else own.either_side(0.6, EYE_OFF, "eye"),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        one = truth.speed("70", "1") * truth.cuts["70"] / 1000
        return (
            TruthLine("speed times wing, with one clip", f"{one:.4f} m²/s"),
            TruthLine("the tip’s speed by that of the fall", f"{truth.ratio:.3f}"),
            TruthLine("between the gates", f"{truth.height:.4f} m"),
            TruthLine("wings as they are cut", ", ".join(f"{length:.1f}" for length in truth.cuts.values()) + " mm"),
            TruthLine("an eye that is not level is off by", f"{abs(truth.eye):.1f} mm"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench()

    def knows(self, act: Act) -> bool:
        match act.kind:
            case "wing":
                return act.value in WINGS
            case "load":
                return act.value in LOADS
            case _:
                return act.kind in ("drop", "level") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        if self._is_falling(state, act.at) and act.kind != "level":
            return state
        match act.kind:
            case "wing":
                return replace(state, wing=act.value, fall=None)
            case "load":
                return replace(state, load=act.value, fall=None)
            case "level":
                return replace(state, level=True)
            case _:
                return replace(state, drops=state.drops + 1, fall=self._fall(truth, state, act.at, chance))

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        fall = state.fall
        length = truth.cuts[state.wing] + (0.0 if state.level else truth.eye)
        if fall is None:
            return {GATES: "", TURNS: "", TAPE: "", RULER: f"{length:.2f}"}
        landed = not self._is_falling(state, time)
        return {
            GATES: f"{min(time - fall.at, fall.seconds):.2f}",
            TURNS: str(fall.turns) if landed else "",
            TAPE: f"{fall.beside:.0f}" if landed else "",
            RULER: f"{length:.2f}",
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        falling = "It is falling." if self._is_falling(state, time) else ""
        return (
            *(
                Control("wing", wing, wing, key, "wing of about … mm", chosen=state.wing == wing, hindered=falling)
                for wing, key in zip(WINGS, "12345", strict=True)
            ),
            *(
                Control("load", load, _say_load(load), key, "load", chosen=state.load == load, hindered=falling)
                for load, key in zip(LOADS, "xcv", strict=True)
            ),
            Control("drop", "", "Drop it", "d", "seed", hindered=falling),
            Control("level", "", "Look straight down", "e", "eye over the ruler", chosen=state.level),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        fall = state.fall
        words = [f"A seed with a wing of about {state.wing} mm and {_say_load(state.load)}."]
        if fall is not None:
            words.append("It is falling." if self._is_falling(state, time) else "It tumbled." if fall.tumbled else "It has landed.")
        if not state.level:
            words.append("You look at the ruler from the side.")
        scene = {
            "wing": state.wing,
            "load": state.load,
            "fallen": f"{time - fall.at:.3f}" if fall else "",
            "takes": f"{fall.seconds:.3f}" if fall else "",
            "turns": str(fall.turns) if fall else "",
            "beside": f"{fall.beside:.0f}" if fall else "",
            "tumbled": "yes" if fall and fall.tumbled else "",
            "body": "left",
        }
        return Looks(scene, tuple(words))

    def _is_falling(self, state: Bench, time: float) -> bool:
        return state.fall is not None and time < state.fall.at + state.fall.seconds

    def _fall(self, truth: Truth, state: Bench, at: float, chance: Chance) -> Fall:
        n = state.drops
        speed = truth.speed(state.wing, state.load) * math.exp(SCATTER * chance.normal("speed", n))
        turns = truth.turns(state.wing) * math.exp(1.5 * SCATTER * chance.normal("turns", n))
        tumbled = "tumbles" not in truth.without and chance.share("tumble", n) < TUMBLES
        if tumbled:
            speed, turns = 1.6 * speed, 0.4 * turns
        seconds = truth.height / speed
        drift = 0.0 if "draught" in truth.without else truth.drift
        spread = 100 * math.hypot(0.04, drift * seconds)
        beside = math.hypot(spread * chance.normal("east", n), spread * chance.normal("north", n))
        # who counts on the film begins somewhere within the first turn
        counted = math.floor(turns + chance.share("count", n))
        return Fall(at, seconds, counted, beside, tumbled)


def _say_load(load: str) -> str:
    return "one clip" if load == "1" else f"{load} clips"


WINGED_SEED = WingedSeed(
    key="winged-seed",
    title="A winged seed",
    words="Paper seeds with wings to choose and clips to load them; gates that time a fall, a film to count turns on, a tape on the floor.",
    faces=(
        Face(GATES, "gates", "s", "display", "g"),
        Face(TURNS, "turns on the film", "", "display", "t"),
        Face(TAPE, "tape from the mark", "cm", "display", "f"),
        Face(RULER, "ruler", "mm", "scale", "r", division=1.0),
    ),
    mishaps=(
        Mishap("tumbles", "now and then a seed tumbles instead of turning"),
        Mishap("draught", "draughts carry it away from the mark"),
        Mishap("eye", "an eye that is not level misreads the ruler"),
    ),
    every=0.1,
)
