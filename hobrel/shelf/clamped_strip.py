"""The practical “The clamped strip”: its plan, and believable readings for it.

A beech strip is clamped flat side upright, so that it swings sideways; a load far heavier than the strip sits at its tip.
From T = 2π√(4 m L³/(E b d³)) follows T² = 16π² m/(E b d³) · L³, so T² against L³ is straight and its gradient gives E.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.document.plan_part import DryTruth, GridRow, PlanPart, StageName, WantedSettings
from hobrel.core.document.plans import begin_plan, open_for_bench
from hobrel.core.readings.instruments import Instrument

LOAD, WIDTH, THICKNESS = 0.300, 0.0300, 0.00300
MODULUS = 12.4e9
START_STOP_SCATTER = 0.07
"""Standard deviation in s of a hand-timed ten swings: starting and stopping a watch by eye."""

PROMPTS: dict[StageName, str] = {
    "ask": "How will the time of a swing change when the strip sticks out further? Say it in a sentence before you measure.",
    "read": "Seven or eight overhangs from 0.30 m to 0.65 m. Time ten swings, three times at each. Write every reading down as you see it.",
    "average": "You timed ten swings. Write the formula for the period T. Then look which ± are large, and why.",
    "look": "Is the time of a swing proportional to the overhang?",
    "straighten": "The relation says T² is proportional to L³. Compare the signs of the residuals before and after.",
    "fit": "Does the line agree with the origin? Should it?",
    "find": "Which of the four measurements makes most of the uncertainty of E?",
    "pool": "Is the scatter between benches larger than their own uncertainties say?",
    "report": "Values in braces stay live: write {E} and it follows your analysis.",
}


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    ruler = Instrument("ruler", "scale", "0.001")
    stopwatch = Instrument("stopwatch", "display", "0.01")
    plan = LabBook(
        title="The clamped strip",
        question="How does the period of a loaded strip depend on its overhang, and how stiff is beech?",
        plan=PlanPart(
            prompts=PROMPTS,
            notes=(
                "Clamp the strip on its edge, or the load bends it down. A loose clamp is the commonest fault: T² "
                "against L³ then meets the axis above zero. The thickness makes most of the ±: let them measure it "
                "at five places."
            ),
            wanted={"L": WantedSettings(8, "0.300", "0.650")},
            grid=(
                GridRow(
                    "care", "Readings are taken with care", ("not yet", "partly", "fully"), ("readings", "repeats", "decimals", "set_aside")
                ),
                GridRow("line", "The line is fitted, and its residuals seen", ("no", "fitted", "fitted and judged"), ("bars", "residuals")),
                GridRow("found", "The result is stated, and compared with another", ("no", "stated", "both"), ("finding",)),
                GridRow("words", "The conclusion follows from the data", ("no", "partly", "yes"), ("words",)),
            ),
            dry=DryTruth(scatter={"t10": f"{START_STOP_SCATTER}"}),
        ),
        relation="T = 2 pi sqrt(4 m L^3/(E b d^3))",
        convention=Convention("half_range", "larger", display_half=False, rounding="one_or_two"),
        quantities=(
            Quantity("L", "changed", "overhang", "L", "m", ruler),
            Quantity("t10", "measured", "time of ten swings", "t_10", "s", stopwatch, repeats=3),
            Quantity("m", "constant", "load", "m", "kg", value="0.300", u="0.001"),
            Quantity("b", "constant", "width of the strip", "b", "mm", value="30.0", u="0.1"),
            Quantity("d", "constant", "thickness of the strip", "d", "mm", value="3.00", u="0.02"),
            Quantity("T", "derived", "period", "T", "s", formula="t_10/10", given=False),
            Quantity("T2", "derived", "period squared", "T^2", "s^2", formula="T^2"),
            Quantity("L3", "derived", "overhang cubed", "L^3", "m^3", formula="L^3"),
        ),
        runs=(Run("run1", "Beech strip"),),
        graphs=(Graph("measured", "", "L", "T"), Graph("straight", "", "L3", "T2")),
        fits=(Fit("line", "straight"),),
        findings=(
            Finding(
                "E", "stiffness modulus of the strip", "E", "GPa", "16 pi^2 m / (b d^3 gradient)", "line",
                Accepted("12.4", "0.3", "bending test in the Tidewater workshop"),
            ),
        ),
    )  # fmt: skip
    return begin_plan(plan)


def make_plan() -> LabBook:
    """What a bench gets of it."""
    return open_for_bench(write_draft())


def true_period(overhang: float, modulus: float = MODULUS) -> float:
    """T in s for an overhang in m, by the relation."""
    return 2 * math.pi * math.sqrt(4 * LOAD * overhang**3 / (modulus * WIDTH * THICKNESS**3))


@dataclass(frozen=True)
class Story:
    """What happened at one bench: overhangs in m, the strip's own modulus, the formula they wrote, slips, texts."""

    overhangs: tuple[float, ...]
    modulus: float = MODULUS
    formula: str = "t_10/10"
    mistyped: tuple[int, int, str] | None = None
    set_aside: tuple[int, int, str, str] | None = None
    texts: tuple[tuple[str, str], ...] = ()


def write_bench(plan: LabBook, story: Story, dice: random.Random) -> LabBook:
    """A bench's lab book: the plan with readings by hand and stopwatch.

    `mistyped` and `set_aside` are (setting, repeat, text[, reason]).
    """
    settings = []
    for row, overhang in enumerate(story.overhangs):
        at = round(overhang, 3)
        times = [f"{10 * true_period(at, story.modulus) + dice.gauss(0, START_STOP_SCATTER):.2f}" for _ in range(3)]
        readings: list[Reading | None] = [Reading(t) for t in times]
        if story.mistyped and story.mistyped[0] == row:
            readings[story.mistyped[1]] = Reading(story.mistyped[2])
        if story.set_aside and story.set_aside[0] == row:
            readings[story.set_aside[1]] = Reading(story.set_aside[2], story.set_aside[3])
        settings.append(Setting(f"s{row + 1}", {"L": (Reading(f"{at:.3f}"),), "t10": tuple(readings)}))
    quantities = tuple(
        Quantity(q.id, q.kind, q.name, q.symbol, q.unit, formula=story.formula, given=False) if q.id == "T" else q for q in plan.quantities
    )
    run = Run("run1", plan.runs[0].name, tuple(settings))
    return replace(plan, quantities=quantities, runs=(run,), texts=dict(story.texts))
