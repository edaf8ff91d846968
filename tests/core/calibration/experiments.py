"""Ideal experiments in numbers: a truth, hands that scatter, and instruments; nothing else goes wrong."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, replace

from hobrel.core.document.choices import WeightKind
from hobrel.core.document.lab_book import (
    Accepted,
    Convention,
    Finding,
    Fit,
    Graph,
    Ingredient,
    LabBook,
    Quantity,
    Reading,
    Run,
    Setting,
    Unknown,
)
from hobrel.core.readings.instruments import Instrument
from hobrel.core.statistics.spread import CombineKind, SpreadKind
from tests.core.calibration.slipping import UNITS


@dataclass(frozen=True)
class Experiment:
    """A practical with a known truth.

    Attributes
    ----------
    x_from, x_to : float
        Range of the changed quantity, in its unit.
    y : callable
        What is measured, of x.
    sd : float
        How the hand scatters.
    division : str
        Of the instrument of y.
    plot : str
        The formula that makes y straight against `against`.
    against : str
    finding : str
        Of the gradient.
    truth : float
    share : float
        Of y, by which the hand scatters besides.
    place : callable
        x, of what is set evenly.
    """

    name: str
    x_from: float
    x_to: float
    y: Callable[[float], float]
    sd: float
    division: str
    plot: str
    against: str
    finding: str
    truth: float
    share: float = 0.0
    place: Callable[[float], float] = float

    def sd_at(self, x: float) -> float:
        """How the hand scatters there: the same everywhere, or by a share of what is read."""
        return math.hypot(self.sd, self.share * self.y(x))


PENDULUM = Experiment(
    "pendulum",
    0.20,
    1.00,
    lambda length: 10 * 2 * math.pi * math.sqrt(length / 9.81),
    0.08,
    "0.01",
    "(y/10)^2",
    "x",
    "4 pi^2/gradient",
    9.81,
)
SPRING = Experiment("spring", 0.1, 0.8, lambda m: 9.81 * m / 25.0 * 100, 0.25, "0.1", "y", "x", "1/gradient", 0.0254842)
DECAY = Experiment("decay", 0.0, 60.0, lambda t: 80 * math.exp(-t / 40), 0.7, "0.1", "ln(y)", "x", "-1/gradient", 40.0)
ALL = (PENDULUM, SPRING, DECAY)
ABSORPTION = Experiment("absorption", 0.0, 7.0, lambda n: 300 * math.exp(-0.35 * n), 0.0, "1", "ln(y)", "x", "-gradient", 0.35, 0.04)
CAPACITOR = Experiment("capacitor", 0.0, 50.0, lambda t: 9 * math.exp(-t / 20), 0.0, "0.01", "ln(y)", "x", "-1/gradient", 20.0, 0.03)
GAS = Experiment("gas", 10.0, 40.0, lambda v: 2400 / v, 0.0, "0.1", "1/y", "x", "1/gradient", 2400.0, 0.02)
LIGHT = Experiment("light", 0.2, 1.2, lambda x: 90 * x, 0.0, "0.1", "y", "x", "gradient", 90.0, 0.02, lambda r: 1 / r**2)
BY_SHARE = (ABSORPTION, CAPACITOR, GAS)
"""What scatters by a share of itself, whatever its instrument says."""


def settings_of(experiment: Experiment, dice: random.Random, count: int, repeats: int) -> tuple[Setting, ...]:
    """What is written down: x as set, y with the hand's scatter and the instrument's last digit."""
    decimals = len(experiment.division.partition(".")[2])
    rows = []
    for i in range(count):
        x = round(experiment.place(experiment.x_from + (experiment.x_to - experiment.x_from) * i / (count - 1)), 3)
        texts = [f"{experiment.y(x) + dice.gauss(0, experiment.sd_at(x)):.{decimals}f}" for _ in range(repeats)]
        rows.append(Setting(f"s{i}", {"x": (Reading(f"{x:.3f}"),), "y": tuple(Reading(t) for t in texts)}))
    return tuple(rows)


@dataclass(frozen=True)
class Conditions:
    """An experiment, how many settings and repeats, and a class's convention."""

    experiment: Experiment
    count: int
    repeats: int
    convention: Convention


def draw_conditions(dice: random.Random) -> Conditions:
    """Conditions at random: 5 to 10 settings, 2 to 5 repeats."""
    spreads: tuple[SpreadKind, ...] = ("half_range", "mean_abs_deviation", "largest_deviation", "sd", "standard_error")
    combines: tuple[CombineKind, ...] = ("larger", "quadrature")
    return Conditions(dice.choice(ALL), dice.randint(5, 10), dice.randint(2, 5), Convention(dice.choice(spreads), dice.choice(combines)))


def make_book(conditions: Conditions, dice: random.Random) -> LabBook:
    """A bench's lab book, its finding compared with the truth."""
    experiment, count, repeats, convention = conditions.experiment, conditions.count, conditions.repeats, conditions.convention
    return LabBook(
        experiment.name,
        convention=convention,
        quantities=(
            Quantity("x", "changed", "x", "x", UNITS["x"], Instrument("scale", "scale", "0.001")),
            Quantity("y", "measured", "y", "y", UNITS["y"], Instrument("display", "display", experiment.division), repeats),
            Quantity("Y", "derived", "Y", "Y", UNITS[experiment.plot], formula=experiment.plot),
        ),
        runs=(Run("r", "", settings_of(experiment, dice, count, repeats)),),
        graphs=(Graph("g", "", experiment.against, "Y"),),
        fits=(Fit("f", "g"),),
        findings=(Finding("F", "F", "F", "", experiment.finding, "f", Accepted(repr(experiment.truth), "0", "the truth")),),
    )


def make_calibration(conditions: Conditions, dice: random.Random) -> tuple[LabBook, str]:
    """A spring as a balance: standards, and an unknown read back from their line; and how often everything was read, with which bars."""
    repeats, reads = dice.choice((1, conditions.repeats)), dice.choice((1, 1, 2, 3))
    made = make_book(replace(conditions, experiment=SPRING, repeats=repeats), dice)
    x = dice.uniform(0.2, 0.7)
    texts = tuple(f"{SPRING.y(x) + dice.gauss(0, SPRING.sd):.1f}" for _ in range(reads))
    weights: WeightKind = dice.choice(("both_bars", "y_bars", "none"))
    use = (Ingredient("z", "unknown", "f", part="u"),)
    found = Finding("F", "F", "F", "m", "z", uses=use, accepted=Accepted(repr(x), "0", "the truth"))
    book = replace(made, fits=(Fit("f", "g", unknowns=(Unknown("u", "it", texts),), weights=weights),), findings=(found,))
    return book, f"{'once' if reads == 1 else 'often'}, {'no bars' if weights == 'none' else 'bars'}"


def make_two_ways(conditions: Conditions, dice: random.Random) -> LabBook:
    """A spring whose stretch for each load is found twice from the same readings: by a line through the origin, and as the mean of y/x."""
    book = make_book(replace(conditions, experiment=SPRING), dice)
    ratio = Quantity("k", "derived", "stretch for each load", "k", "s/m", formula="y/x")
    by_line = Finding("F", "F", "F", "s/m", "gradient", "f", compare=("M",))
    by_mean = Finding("M", "M", "M", "s/m", "k_1", uses=(Ingredient("k_1", "mean", "k"),))
    fits = (Fit("f", "g", through_origin=True),)
    return replace(book, quantities=(*book.quantities, ratio), fits=fits, findings=(by_line, by_mean))


def moved(book: LabBook, by: float) -> LabBook:
    """The same lab book beside an accepted value that is `by` away from the truth."""
    (finding,) = book.findings
    assert finding.accepted is not None
    accepted = replace(finding.accepted, value=repr(float(finding.accepted.value) + by))
    return replace(book, findings=(replace(finding, accepted=accepted),))
