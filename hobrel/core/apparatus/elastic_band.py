"""An elastic band: loaded and unloaded, cold and warm; a class shares the conditions out."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices
from hobrel.core.apparatus.settling import settle

GRAVITY = 9.81
DISC, U_DISC, MOST_DISCS = 0.0500, 0.00005, 8
"""Mass of a disc, in kg, by how much one is off, and how many there are."""
BATHS: Mapping[str, float] = {"cold": 278.0, "room": 295.0, "warm": 318.0}
"""How warm it is around the band, in K."""
LAGS = 0.05
"""By what share of what it was stretched by a band is longer on its way back, half-way."""
SETTLES = 5.0
EYE_OFF = 1.5
RULER, HANGER, WARMTH = "ruler", "hanger", "thermometer"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    per_kelvin : float
        Stiffness by the absolute temperature, in N/K: F = per_kelvin · T · (λ − 1/λ²).
    length : float
        Of the band without a load, in mm.
    discs : tuple of float
        In kg.
    eye : float
        By how many mm an eye that is not level misreads.
    without : tuple of str
    """

    per_kelvin: float
    length: float
    discs: tuple[float, ...]
    eye: float
    without: tuple[str, ...]

    def stiffness(self, bath: str) -> float:
        """In N, where it is so warm."""
        return self.per_kelvin * BATHS[bath]


@dataclass(frozen=True)
class Bench:
    """What hangs at the band, where, whether it is on its way back, and from where it settles since when."""

    discs: int = 0
    most: int = 0
    bath: str = "room"
    since: float = 0.0
    before: float = 0.0
    level: bool = False


class ElasticBand(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            per_kelvin=shared.between(1.25, 1.60, "stiffness") / BATHS["room"] * (1 + 0.015 * own.normal("stiffness")),
            length=own.between(78.0, 86.0, "length"),
            discs=tuple(DISC + U_DISC * own.normal("disc", n) for n in range(MOST_DISCS)),
            eye=0.0 if "eye" in off else own.either_side(0.6, EYE_OFF, "eye"),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            *(TruthLine(f"stiffness, {bath}", f"{truth.stiffness(bath):.4f} N") for bath in BATHS),
            TruthLine("the band without a load", f"{truth.length:.2f} mm"),
            TruthLine("an eye that is not level is off by", f"{abs(truth.eye):.1f} mm"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench(before=truth.length)

    def knows(self, act: Act) -> bool:
        if act.kind == "bath":
            return act.value in BATHS
        return act.kind in ("add", "take", "fresh", "level") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        moved = replace(state, since=act.at, before=self._length(truth, state, act.at))
        match act.kind:
            case "add" if state.discs < MOST_DISCS:
                return replace(moved, discs=state.discs + 1, most=max(state.most, state.discs + 1))
            case "take" if state.discs > 0:
                return replace(moved, discs=state.discs - 1)
            case "fresh":
                return replace(moved, discs=0, most=0)
            case "bath":
                return replace(moved, bath=act.value)
            case "level":
                return replace(state, level=True)
            case _:
                return state

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        now = moment(time)
        length = self._length(truth, state, time) + (0.0 if state.level else truth.eye)
        return {
            RULER: f"{length:.2f}",
            HANGER: f"{1000 * DISC * state.discs:.0f}",
            WARMTH: write_display(BATHS[state.bath] - 273.15, 1, 99.9, chance, WARMTH, now // 8),
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        return (
            Control("add", "", "Hang 50 g more", "n", "load", hindered="All discs hang." if state.discs == MOST_DISCS else ""),
            Control("take", "", "Take 50 g away", "m", "load", hindered="" if state.discs else "Nothing hangs there."),
            Control("fresh", "", "Let it rest", "f", "band"),
            *(Control("bath", bath, bath, key, "around it", chosen=state.bath == bath) for bath, key in zip(BATHS, "cvb", strict=True)),
            Control("level", "", "Bring it level with the hook", "e", "eye", chosen=state.level),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        hang = "Nothing hangs" if not state.discs else "One disc hangs" if state.discs == 1 else f"{state.discs} discs hang"
        words = [f"{hang} at the band; it is {state.bath}."]
        if state.discs < state.most:
            words.append("It is on its way back.")
        if not state.level:
            words.append("You look at the ruler from above.")
        scene = {
            "length": f"{self._length(truth, state, time):.1f}",
            "discs": str(state.discs),
            "bath": state.bath,
            "body": "left",
        }
        return Looks(scene, tuple(words))

    def _length(self, truth: Truth, state: Bench, time: float) -> float:
        """In mm: it goes from what it was to what belongs to its load."""
        target = self.rests_at(truth, state.discs, state.most, state.bath)
        return settle(state.before, target, time - state.since, SETTLES)

    def rests_at(self, truth: Truth, discs: int, most: int, bath: str) -> float:
        """Where the band comes to rest under so many discs, after it has borne `most`."""
        stretched = truth.length * stretch(GRAVITY * sum(truth.discs[:discs]) / truth.stiffness(bath))
        if "lags" in truth.without or not 0 < discs < most:
            return stretched
        farthest = truth.length * stretch(GRAVITY * sum(truth.discs[:most]) / truth.stiffness(bath))
        back = (farthest - stretched) / (farthest - truth.length)
        return stretched + 4 * LAGS * back * (1 - back) * (farthest - truth.length)


def stretch(pull: float) -> float:
    """The ratio λ to which rubber is stretched by a force, by the theory of entropic rubber: F = G (λ − 1/λ²).

    Parameters
    ----------
    pull : float
        F/G, not below zero.

    Notes
    -----
    λ³ − (F/G) λ² − 1 = 0 has one root from 1 on (Treloar, The Physics of Rubber Elasticity, ch. 4, from memory); Newton's method from
    above comes down to it.
    """
    ratio = max(1.0, pull) + 1.0
    for _ in range(60):
        step = (ratio**3 - pull * ratio**2 - 1) / (3 * ratio**2 - 2 * pull * ratio)
        ratio -= step
        if abs(step) < 1e-14 * ratio:
            break
    return ratio


ELASTIC_BAND = ElasticBand(
    key="elastic-band",
    title="An elastic band",
    words="A band that discs are hung on and taken from, in cold, in the room or in warm air, before a ruler.",
    faces=(
        Face(RULER, "ruler", "mm", "scale", "r", division=1.0),
        Face(HANGER, "hanger", "g", "display", "h"),
        Face(WARMTH, "thermometer", "°C", "display", "t"),
    ),
    mishaps=(
        Mishap("lags", "on its way back the band stays longer than it was"),
        Mishap("eye", "an eye that is not level misreads the ruler"),
    ),
)
