"""The practical “Growth in a flask”: its plan, and believable readings for it.

Yeast grows in a flask and makes it turbid along an S, E = a/(1 + e^(−b (t − c))). It grows fastest at c. The slope of the curve at
every reading, divided by what there is, falls evenly with E: r/E = b (1 − E/a); where that line begins, nothing is in the way yet.
"""

from __future__ import annotations

import math
import random
from dataclasses import replace

from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, Ingredient, LabBook, Quantity, Reading, Run, Setting, SketchPoint
from hobrel.core.document.plan_part import DryTruth, PlanPart, StageName, WantedSettings
from hobrel.core.document.plans import begin_plan, open_for_bench
from hobrel.core.readings.instruments import Instrument

FULL, PACE, FASTEST = 1.60, 0.70, 4.2
HOURS = 12
NOISE = 0.004

PROMPTS: dict[StageName, str] = {
    "ask": "How will the turbidity go on once the sugar runs out? Sketch it.",
    "read": "Shake the flask, fill the cuvette, read the turbidity every hour.",
    "average": "The rate of growth is the slope of the fitted curve. Divide it by what there is: what does that say?",
    "look": "When does the flask grow fastest? Guess before you compute.",
    "fit": "Fit the S. Then fit the rate for what there is against the turbidity: what does its beginning mean?",
    "find": "How long does the yeast take to double as long as nothing is in its way?",
}
SKETCH = (SketchPoint(0.04, 0.05), SketchPoint(0.3, 0.2), SketchPoint(0.5, 0.62), SketchPoint(0.75, 0.9), SketchPoint(0.97, 0.95))


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Growth in a flask",
        question="How fast does yeast grow, and when is it fastest?",
        plan=PlanPart(
            prompts=PROMPTS,
            notes=(
                "Bakers’ yeast in sugar water at 25 °C, shaken before each reading. Begin before the lesson and let "
                "the class read in turns. The turbidity meter is not straight above 2."
            ),
            wanted={"t": WantedSettings(HOURS + 1, "0", f"{HOURS}")},
            dry=DryTruth(
                truths={"E_f": f"{FULL}", "k": f"{PACE} 1/h", "t_0": f"{FASTEST} h"},
                formulas={"E": "E_f/(1 + exp(-k (t - t_0)))"},
                scatter={"E": f"{NOISE}"},
                seconds={"t": "180"},
            ),
        ),
        convention=Convention("half_range", "larger", display_half=True, rounding="one_or_two"),
        quantities=(
            Quantity("t", "changed", "time", "t", "h", Instrument("clock", "display", "0.1")),
            Quantity("E", "measured", "turbidity", "E", "", Instrument("turbidity meter", "display", "0.01")),
            Quantity("r", "derived", "rate of growth", "r", "", tangent_of="curve"),
            Quantity("per", "derived", "rate for what there is", "r/E", "", formula="r/E"),
        ),
        runs=(Run("run1", "Yeast at 25 °C"),),
        graphs=(Graph("measured", "", "t", "E"), Graph("rate", "", "E", "per")),
        fits=(Fit("curve", "measured", shape="logistic"), Fit("line", "rate")),
        findings=(
            Finding("double", "doubling time with nothing in the way", "T_d", "min", "ln(2)/b", "curve"),
            Finding("double_rates", "doubling time by the slopes", "T_s", "min", "ln(2)/intercept", "line", compare=("double",)),
            Finding(
                "fastest", "time of fastest growth", "t_f", "h", "t_1", uses=(Ingredient("t_1", "steepest", "measured", "place", "0.5"),),
                compare=("middle",),
            ),
            Finding("middle", "middle of the fitted S", "t_m", "h", "c", "curve"),
        ),
    )  # fmt: skip
    return begin_plan(plan)


def make_plan() -> LabBook:
    """What a bench gets of it."""
    return open_for_bench(write_draft())


def true_turbidity(hour: float) -> float:
    return FULL / (1 + math.exp(-PACE * (hour - FASTEST)))


def write_bench(plan: LabBook, dice: random.Random, texts: dict[str, str] | None = None) -> LabBook:
    """A bench's lab book."""
    settings = []
    for hour in range(HOURS + 1):
        turbidity = f"{true_turbidity(hour) + dice.gauss(0, NOISE):.2f}"
        settings.append(Setting(f"s{hour + 1}", {"t": (Reading(f"{hour:.1f}"),), "E": (Reading(turbidity),)}))
    return replace(plan, runs=(replace(plan.runs[0], settings=tuple(settings)),), texts=dict(texts or {}), sketch=SKETCH)
