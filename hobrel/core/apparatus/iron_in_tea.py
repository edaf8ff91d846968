"""Iron in tea: a burette that is read between its marks, and an electrode whose millivolts make an S."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices
from hobrel.core.apparatus.settling import settle

IRON, CERIUM, REFERENCE = 680.0, 1440.0, 197.0
"""Formal potentials in 1 mol/L sulphuric acid, and that of a silver–silver chloride electrode, in mV (handbook, from memory)."""
GAS, FARADAY = 8.314462618, 96485.33212
"""J/(mol K) and C/mol (CODATA 2018)."""
SAMPLE, TITRANT, U_TITRANT = 50.00, 0.01000, 0.00002
"""Millilitres of tea in a beaker, and mol/L of cerium(IV) in the burette, with its standard deviation from bottle to bottle."""
BURETTE, U_BURETTE = 25.0, 0.008
"""Of the burette: how much it holds, and by how much a mark is off (standard deviation), in mL."""
TAPS = {"drop": (0.09, 0.006), "little": (0.40, 0.05), "much": (2.0, 0.15)}
"""How much comes when the tap is opened for so long: mL, and its spread."""
SETTLES, STIRRED = 12.0, 3.0
"""Seconds in which what is left to go falls to 1/e, without and with stirring."""
BUBBLE = 0.25
EYE_OFF = 0.6
"""By how many divisions an eye that is not level misreads the meniscus at the most."""
NOISE = 0.35
"""Of the electrode beside the flicker of the display, in mV."""
TRACES = 0.002
"""Of the iron, what is iron(III) from the start."""
BURETTE_FACE, ELECTRODE = "burette", "electrode"


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    iron : float
        Iron(II) in the tea of the class, in mol/L.
    cerium : float
        Cerium(IV) in the burettes, from one bottle, in mol/L.
    kelvin : float
        Of the room.
    eye : float
        By how many mL an eye that is not level misreads the burette at its top and, the other way, at its bottom.
    without : tuple of str
    """

    iron: float
    cerium: float
    kelvin: float
    eye: float
    without: tuple[str, ...]

    @property
    def end(self) -> float:
        """Millilitres that just use up the iron."""
        return self.iron * SAMPLE / self.cerium


@dataclass(frozen=True)
class Bench:
    """Where everything is.

    Attributes
    ----------
    level : float
        Where the meniscus stands, in mL from the top.
    delivered : float
        What has come into the beaker, in mL.
    trapped : float
        What air in the tip still takes up, in mL.
    taps : int
    since, before : float
        When something was last added or stirred, and what the electrode showed then, in mV.
    stirs, eye : bool
        Whether it is stirred, and whether the eye is level.
    """

    level: float = 0.0
    delivered: float = 0.0
    trapped: float = 0.0
    taps: int = 0
    since: float = 0.0
    before: float = 0.0
    stirs: bool = False
    eye: bool = False


class IronInTea(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            iron=shared.between(0.0018, 0.0030, "iron"),
            cerium=TITRANT + U_TITRANT * shared.normal("cerium"),
            kelvin=295.15,
            eye=0.0 if "eye" in off else 0.1 * own.either_side(0.3, EYE_OFF, "eye"),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            TruthLine("iron in the tea", f"{1000 * truth.iron:.4f} mmol/L"),
            TruthLine("cerium in the burette", f"{1000 * truth.cerium:.3f} mmol/L"),
            TruthLine("used up by", f"{truth.end:.3f} mL"),
            TruthLine("an eye that is not level is off by up to", f"{abs(truth.eye):.3f} mL"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        start = self._potential(truth, 0.0)
        return Bench(level=0.38, trapped=0.0 if "bubble" in truth.without else BUBBLE, before=start)

    def knows(self, act: Act) -> bool:
        if act.kind == "open":
            return act.value in TAPS
        return act.kind in ("stir", "flush", "fresh", "level") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        now = self._shows(truth, state, act.at)
        n = state.taps
        match act.kind:
            case "open" if state.level < BURETTE:
                mean, spread = TAPS[act.value]
                runs = min(max(mean + spread * chance.normal("tap", n), 0.02), BURETTE - state.level)
                air = min(runs, state.trapped)
                return replace(
                    state,
                    level=state.level + runs,
                    delivered=state.delivered + runs - air,
                    trapped=state.trapped - air,
                    taps=n + 1,
                    since=act.at,
                    before=now,
                )
            case "stir":
                return replace(state, stirs=not state.stirs, since=act.at, before=now)
            case "flush":
                return replace(state, trapped=0.0, level=self._filled(chance, n), taps=n + 1)
            case "fresh":
                return replace(state, delivered=0.0, since=act.at, before=now)
            case "level":
                return replace(state, eye=True)
            case _:
                return state

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        now = moment(time)
        # an eye at the height of the middle looks down on what is below it, and up to what is above
        slant = 0.0 if state.eye else truth.eye * (1 - 2 * state.level / BURETTE)
        # a mark is off by a little, the same wherever one comes to it again
        mark = state.level + U_BURETTE * chance.named("marks").normal(round(state.level))
        noise = NOISE * chance.normal("noise", now)
        return {
            BURETTE_FACE: f"{mark + slant:.3f}",
            ELECTRODE: write_display(self._shows(truth, state, time) + noise, 0, 1999.0, chance, ELECTRODE, now),
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        empty = "The burette is empty. Fill it again." if state.level >= BURETTE else ""
        return (
            Control("open", "drop", "two drops", "d", "open the tap for", hindered=empty),
            Control("open", "little", "a moment", "f", "open the tap for", hindered=empty),
            Control("open", "much", "a while", "g", "open the tap for", hindered=empty),
            Control("flush", "", "Fill it, and run some through the tip", "w", "burette"),
            Control("stir", "", "Stirrer", "s", "beaker", chosen=state.stirs),
            Control("fresh", "", "Fresh tea", "n", "beaker"),
            Control("level", "", "Bring it level with the meniscus", "e", "eye", chosen=state.eye),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        words = ["It is stirred." if state.stirs else "It is not stirred."]
        if state.trapped > 0:
            words.append("There is air in the tip of the burette.")
        if not state.eye:
            words.append("Your eye stays at the middle of the burette.")
        words.append("The tea is pale green." if state.delivered < truth.end else "The tea is yellow.")
        scene = {
            "level": f"{state.level:.2f}",
            "over": f"{state.delivered - truth.end:.2f}" if state.delivered > truth.end else "",
            "added": f"{state.delivered:.2f}",
            "air": "yes" if state.trapped > 0 else "",
            "stirs": "yes" if state.stirs else "",
        }
        return Looks(scene, tuple(words))

    def _filled(self, chance: Chance, turn: int) -> float:
        return chance.between(0.05, 0.95, "filled", turn)

    def _shows(self, truth: Truth, state: Bench, time: float) -> float:
        """What the electrode shows of itself: it goes from what it was to what belongs to the liquid."""
        target = self._potential(truth, state.delivered)
        settles = STIRRED if state.stirs or "stir" in truth.without else SETTLES
        return settle(state.before, target, time - state.since, settles)

    def _potential(self, truth: Truth, added: float) -> float:
        """By Nernst's equation, in mV against the reference, after so many mL."""
        iron, cerium = truth.iron * SAMPLE, truth.cerium * added
        step = 1000 * GAS * truth.kelvin / FARADAY
        reacted = react(iron, cerium, math.exp((CERIUM - IRON) / step))
        if cerium < iron:
            # traces of iron(III) are in any tea, so that the potential begins somewhere
            return IRON - REFERENCE + step * math.log((reacted + TRACES * iron) / (iron - reacted))
        return CERIUM - REFERENCE + step * math.log((cerium - reacted) / reacted)


def react(one: float, other: float, constant: float) -> float:
    """How much of two amounts has reacted one to one at equilibrium: (a − ξ)(b − ξ) K = ξ².

    Parameters
    ----------
    one, other : float
        Amounts, in one unit.
    constant : float
        K, above 1.
    """
    a, b, c = 1 - 1 / constant, -(one + other), one * other
    return 2 * c / (-b + math.sqrt(b * b - 4 * a * c)) if c > 0 else 0.0


IRON_IN_TEA = IronInTea(
    key="iron-in-tea",
    title="Iron in tea",
    words="A burette with cerium(IV), a beaker of strong tea in acid, and an electrode that shows how the iron in it is used up.",
    faces=(
        Face(BURETTE_FACE, "burette", "mL", "burette", "r", division=0.1),
        Face(ELECTRODE, "electrode", "mV", "display", "m"),
    ),
    mishaps=(
        Mishap("bubble", "air in the tip of the burette, until some is run through"),
        Mishap("stir", "without stirring the electrode is slow"),
        Mishap("eye", "an eye that is not level misreads the meniscus"),
    ),
)
