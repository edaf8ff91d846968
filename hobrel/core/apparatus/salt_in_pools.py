"""Salt in rock pools: a meter that is zeroed first, standards by weighing, and two pools whose water is diluted."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from hobrel.core.apparatus.chance import Chance
from hobrel.core.apparatus.conductivity import conductivity
from hobrel.core.apparatus.displays import moment, write_display
from hobrel.core.apparatus.rig import Act, Control, Face, Looks, Mishap, Rig, TruthLine, without_choices
from hobrel.core.apparatus.settling import settle

FLASK_VOLUME = 0.2500
"""Of a flask, in litres."""
U_FLASK, U_DILUTION, U_SAMPLE = 0.0006, 0.003, 0.0005
"""By what share the volume of a flask, what the pipettes dilute to, and each sample are off (standard deviations)."""
DILUTION = 20.0
MOST_FLASKS = 8
U_DIP = 0.004
"""By what share two dips into one liquid differ: how deep, how near the glass."""
CELL_SETTLES, SAMPLE_WARMS, BOTTLE_WARMS = 5.0, 300.0, 2400.0
"""Seconds in which what is left to go falls to 1/e."""
FILM, FILM_RINSED = 0.02, 0.001
"""What share of the liquid in the cell is still what clung to it."""
BUBBLES = 0.08
"""How often a dip traps a bubble."""
SPATULAS = {"grains": (0.012, 0.35), "little": (0.09, 0.25), "lot": (0.30, 0.20)}
"""What a spatula holds: grams, and the spread of its logarithm."""
RANGES: dict[str, tuple[float, int]] = {"2": (1.999, 3), "20": (19.99, 2), "200": (199.9, 1)}
"""Of the meter, in mS/cm: the largest value, and its decimals."""
POOLS = {"upper": "the upper pool", "lower": "the lower pool"}
METER, BALANCE, WARMTH = "meter", "balance", "thermometer"
_BALANCE_MOST, _BALANCE_DECIMALS = 120.0, 3
_KEYS = {"upper": "u", "lower": "o", "diluted-upper": "j", "diluted-lower": "k"}


@dataclass(frozen=True)
class Truth:
    """What is hidden on a bench.

    Attributes
    ----------
    salt : mapping of pool to its salt in g/L
        The same for the whole class.
    gain, offset : float
        Of the meter with this cell: by what it multiplies, and what it shows (mS/cm) of nothing.
    room, shore : float
        Temperatures in °C: of the bench, and of the bottles when they are brought in.
    flask : float
        Volume of a flask, in litres: all of the class are of one make.
    dilution : float
        How far the class's pipettes really dilute.
    boat : float
        Mass of the weighing boat, in g.
    without : tuple of str
        The mishaps that are switched off.
    """

    salt: Mapping[str, float]
    gain: float
    offset: float
    room: float
    shore: float
    flask: float
    dilution: float
    boat: float
    without: tuple[str, ...]


@dataclass(frozen=True)
class Bench:
    """Where everything is.

    Attributes
    ----------
    salt : float
        In the boat, in g.
    spatulas, dips : int
        How often salt was added, and the cell hung into something.
    tared : float
        What the balance takes off, in g.
    flasks : tuple of float
        Their salt, in g/L.
    diluted : mapping of pool to (g/L, when)
    hangs_in : str
        ``air``, ``water``, ``flask-1`` …, a pool, ``diluted-`` and a pool.
    in_cell, film : float
        Salt of the liquid in the cell and of what clings to it, in g/L.
    rinsed : bool
    since, before : float
        When the cell came into what it is in, and what the meter would have shown then without its zero, in mS/cm.
    dip : float
        By what factor this dip is off.
    bubble : float
        What share of the cell a bubble takes.
    zero : float
        What the meter takes off, in mS/cm.
    range : str
    """

    salt: float = 0.0
    spatulas: int = 0
    dips: int = 0
    tared: float = 0.0
    flasks: tuple[float, ...] = ()
    diluted: tuple[tuple[str, float, float], ...] = ()
    hangs_in: str = "air"
    in_cell: float = 0.0
    film: float = 0.0
    rinsed: bool = True
    since: float = 0.0
    before: float = 0.0
    dip: float = 1.0
    bubble: float = 0.0
    zero: float = 0.0
    range: str = "200"

    def salt_of(self, liquid: str, truth: Truth) -> float:
        """Of a liquid that stands on the bench, in g/L."""
        if liquid.startswith("flask-"):
            return self.flasks[int(liquid.removeprefix("flask-")) - 1]
        if liquid in POOLS:
            return truth.salt[liquid]
        return next((salt for pool, salt, _ in self.diluted if liquid == f"diluted-{pool}"), 0.0)

    def liquids(self) -> tuple[str, ...]:
        """What the cell can be hung into."""
        flasks = tuple(f"flask-{i}" for i in range(1, len(self.flasks) + 1))
        return ("water", *flasks, *POOLS, *(f"diluted-{pool}" for pool, _, _ in self.diluted))


class SaltInPools(Rig[Truth, Bench]):
    """The rig; see the module."""

    def draw_truth(self, shared: Chance, own: Chance, without: Sequence[str]) -> Truth:
        off = without_choices(self, without)
        return Truth(
            salt={"upper": shared.between(40.0, 56.0, "upper"), "lower": shared.between(30.0, 37.0, "lower")},
            gain=1 + 0.02 * own.normal("gain"),
            offset=0.0 if "offset" in off else own.either_side(0.04, 0.15, "offset"),
            room=own.between(19.0, 23.0, "room"),
            shore=shared.between(6.0, 10.0, "shore"),
            flask=FLASK_VOLUME * (1 + U_FLASK * shared.normal("flask")),
            dilution=DILUTION * (1 + U_DILUTION * shared.normal("pipettes")),
            boat=own.between(1.7, 2.4, "boat"),
            without=off,
        )

    def tell_truth(self, truth: Truth) -> tuple[TruthLine, ...]:
        return (
            *(TruthLine(f"salt of {name}", f"{truth.salt[pool]:.2f} g/L") for pool, name in POOLS.items()),
            TruthLine("the meter shows of nothing", f"{truth.offset:+.3f} mS/cm".replace("-", "−")),
            TruthLine("the cell multiplies by", f"{truth.gain:.3f}"),
            TruthLine("a flask holds", f"{1000 * truth.flask:.2f} mL"),
            TruthLine("pools are diluted", f"1 : {truth.dilution:.3f}"),
            TruthLine("the room, and the bottles as they came", f"{truth.room:.1f} °C, {truth.shore:.1f} °C"),
        )

    def lay_out(self, truth: Truth) -> Bench:
        return Bench()

    def knows(self, act: Act) -> bool:
        match act.kind:
            case "add":
                return act.value in SPATULAS
            case "range":
                return act.value in RANGES
            case "dilute":
                return act.value in POOLS
            case "hang":
                flasks = {f"flask-{i}" for i in range(1, MOST_FLASKS + 1)}
                return act.value in {"water", *POOLS, *(f"diluted-{pool}" for pool in POOLS), *flasks}
            case _:
                return act.kind in ("tare", "empty", "make", "rinse", "tap", "zero") and not act.value

    def do(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        match act.kind:
            case "add":
                mass, spread = SPATULAS[act.value]
                added = mass * math.exp(spread * chance.normal("spatula", state.spatulas))
                return replace(state, salt=state.salt + added, spatulas=state.spatulas + 1)
            case "empty":
                return replace(state, salt=0.0)
            case "tare":
                return replace(state, tared=truth.boat + state.salt)
            case "make" if state.salt > 0 and len(state.flasks) < MOST_FLASKS:
                return replace(state, flasks=(*state.flasks, state.salt / truth.flask), salt=0.0)
            case "dilute":
                return self._dilute(truth, state, act, chance)
            case "range":
                return replace(state, range=act.value)
            case "zero":
                return replace(state, zero=truth.offset + self._in_cell(truth, state, act.at))
            case "tap" if state.bubble:
                return replace(state, before=self._in_cell(truth, state, act.at), since=act.at, bubble=0.0)
            case "rinse" if state.hangs_in != "air" or not state.rinsed:
                now = self._in_cell(truth, state, act.at)
                return replace(state, hangs_in="air", in_cell=0.0, rinsed=True, film=0.0, since=act.at, before=now, bubble=0.0, dip=1.0)
            case "hang" if act.value in state.liquids():
                return self._hang(truth, state, act, chance)
            case _:
                return state

    def show(self, truth: Truth, state: Bench, time: float, chance: Chance) -> Mapping[str, str]:
        most, decimals = RANGES[state.range]
        meter = truth.offset + self._in_cell(truth, state, time) - state.zero
        now = moment(time)
        return {
            METER: write_display(meter, decimals, most, chance, METER, now),
            BALANCE: write_display(truth.boat + state.salt - state.tared, _BALANCE_DECIMALS, _BALANCE_MOST, chance, BALANCE, now),
            WARMTH: write_display(self._warmth(truth, state, state.hangs_in, time), 1, 99.9, chance, WARMTH, now // 8),
        }

    def offer(self, truth: Truth, state: Bench, time: float) -> tuple[Control, ...]:
        full = "There are no more flasks." if len(state.flasks) == MOST_FLASKS else ""
        empty = "There is no salt in the boat." if not state.salt else ""
        number = min(len(state.flasks) + 1, MOST_FLASKS)
        return (
            Control("tare", "", "Tare", "t", "balance"),
            Control("add", "grains", "+ a few grains", "g", "balance"),
            Control("add", "little", "+ a little salt", "h", "balance"),
            Control("add", "lot", "+ a spatula full", "n", "balance"),
            Control("empty", "", "Empty the boat", "e", "balance", hindered=empty),
            Control("make", "", f"Make up flask {number}", "m", "balance", hindered=full or empty),
            *(
                Control("hang", liquid, name_liquid(liquid), _key_of(liquid), "cell into", chosen=state.hangs_in == liquid)
                for liquid in state.liquids()
            ),
            Control("rinse", "", "Rinse it", "r", "cell"),
            Control("tap", "", "Tap it", "b", "cell"),
            Control("zero", "", "Zero", "z", "meter"),
            *(Control("range", r, r, key, "range, mS/cm", chosen=state.range == r) for r, key in zip(RANGES, "xcv", strict=True)),
            *(Control("dilute", pool, pool, key, f"dilute 1 : {DILUTION:.0f}") for pool, key in zip(POOLS, "pq", strict=True)),
        )

    def look(self, truth: Truth, state: Bench, time: float) -> Looks:
        where = "The cell hangs in the air." if state.hangs_in == "air" else f"The cell hangs in {_in_words(state.hangs_in)}."
        words = [where]
        if state.bubble:
            words.append("A bubble clings to the cell.")
        if not state.rinsed and state.hangs_in == "air":
            words.append("The cell is wet.")
        words.append("There is salt in the boat." if state.salt else "The boat is empty.")
        words.append(f"{len(state.flasks)} of {MOST_FLASKS} flasks are made up.")
        scene = {
            "cell": state.hangs_in,
            "bubble": "yes" if state.bubble else "",
            "salt": f"{min(1.0, state.salt / 0.8):.2f}" if state.salt else "",
            "flasks": str(len(state.flasks)),
            "diluted": " ".join(pool for pool, _, _ in state.diluted),
        }
        return Looks(scene, tuple(words))

    def _dilute(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        """A fresh sample of a pool, in the place of an older one; the cell is taken out of that."""
        off = 1 + U_SAMPLE * chance.normal("dilution", act.value, len(state.diluted), round(act.at * 1000))
        others = tuple(each for each in state.diluted if each[0] != act.value)
        made = replace(state, diluted=(*others, (act.value, truth.salt[act.value] / truth.dilution * off, act.at)))
        if state.hangs_in != f"diluted-{act.value}":
            return made
        now = self._in_cell(truth, state, act.at)
        return replace(made, hangs_in="air", in_cell=0.0, film=state.in_cell, rinsed=False, since=act.at, before=now, bubble=0.0, dip=1.0)

    def _hang(self, truth: Truth, state: Bench, act: Act, chance: Chance) -> Bench:
        n = state.dips
        clings, film = (FILM_RINSED, 0.0) if state.rinsed else (FILM, state.film if state.hangs_in == "air" else state.in_cell)
        if "carry" in truth.without:
            clings = 0.0
        liquid = state.salt_of(act.value, truth)
        trapped = "bubbles" not in truth.without and chance.share("bubble", n) < BUBBLES
        return replace(
            state,
            dips=n + 1,
            hangs_in=act.value,
            in_cell=liquid + clings * (film - liquid),
            film=film,
            rinsed=False,
            since=act.at,
            before=self._in_cell(truth, state, act.at),
            dip=1 + U_DIP * chance.normal("dip", n),
            bubble=chance.between(0.04, 0.10, "size", n) if trapped else 0.0,
        )

    def _warmth(self, truth: Truth, state: Bench, liquid: str, time: float) -> float:
        """Of a liquid, in °C: a bottle comes cold from the shore, and what is diluted from it is a little cold at first."""
        if "warmth" in truth.without:
            return truth.room
        if liquid in POOLS:
            return settle(truth.shore, truth.room, time, BOTTLE_WARMS)
        for pool, _, made in state.diluted:
            if liquid == f"diluted-{pool}":
                colder = (truth.shore - truth.room) * math.exp(-made / BOTTLE_WARMS) / DILUTION
                return settle(truth.room + colder, truth.room, time - made, SAMPLE_WARMS)
        return truth.room

    def _in_cell(self, truth: Truth, state: Bench, time: float) -> float:
        """What the meter would show without its own zero, in mS/cm: it goes from what was before to what belongs to the liquid."""
        settled = 0.0
        if state.hangs_in != "air":
            at = conductivity(state.in_cell, self._warmth(truth, state, state.hangs_in, time))
            settled = truth.gain * at * state.dip * (1 - state.bubble)
        return settle(state.before, settled, time - state.since, CELL_SETTLES)


def name_liquid(liquid: str) -> str:
    """On a control."""
    if liquid.startswith("flask-"):
        return f"flask {liquid.removeprefix('flask-')}"
    if liquid.startswith("diluted-"):
        return f"{POOLS[liquid.removeprefix('diluted-')].removeprefix('the ')}, diluted"
    return {"water": "distilled water"}.get(liquid) or POOLS[liquid].removeprefix("the ")


def _in_words(liquid: str) -> str:
    return name_liquid(liquid) if liquid == "water" or liquid.startswith("flask-") else f"the {name_liquid(liquid)}"


def _key_of(liquid: str) -> str:
    return "w" if liquid == "water" else _KEYS.get(liquid) or liquid.removeprefix("flask-")


SALT_IN_POOLS = SaltInPools(
    key="salt-in-pools",
    title="Salt in rock pools",
    words="A meter for how well water conducts, flasks of salt water made by weighing, and bottles from two rock pools.",
    faces=(
        Face(METER, "meter", "mS/cm", "display", "d"),
        Face(BALANCE, "balance", "g", "display", "s"),
        Face(WARMTH, "thermometer", "°C", "display", "f"),
    ),
    mishaps=(
        Mishap("offset", "the meter shows something of nothing, until it is zeroed"),
        Mishap("carry", "a cell that is not rinsed carries drops from one liquid into the next"),
        Mishap("bubbles", "now and then a bubble clings to the cell"),
        Mishap("warmth", "water from the shore is cold at first"),
    ),
)
