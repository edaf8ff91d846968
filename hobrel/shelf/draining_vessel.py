"""The practical “The draining vessel”: its plan, and believable readings for it.

Water leaves a tall vessel through a small hole. From Torricelli's v = √(2 g h) follows √h = √h₀ − (a/A) √(g/2) t, so √h against t is
straight and its gradient gives the effective area a of the hole. At the very end the jet breaks into drops and the level falls more slowly.
"""

from __future__ import annotations

import math
import random
from dataclasses import replace

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Reading, Run, Setting
from hobrel.core.document.plan_part import DryTruth, PlanPart, StageName, WantedSettings
from hobrel.core.document.plans import begin_plan, open_for_bench
from hobrel.core.readings.instruments import Instrument

VESSEL, HOLE, FIRST_HEIGHT, GRAVITY = 78.5e-4, 7.8e-6, 0.300, 9.80665
READING_SCATTER = 0.0006
"""Standard deviation in m of a height read against a moving surface."""
EVERY, LAST = 20, 240
DROPS_BELOW = 0.008

PROMPTS: dict[StageName, str] = {
    "ask": "Does the level fall as fast near the end as at the start? Sketch in words how height depends on time.",
    "read": "Call out the height every 20 seconds until the vessel is empty. Read the ruler at the bottom of the curved surface.",
    "average": "There is one reading of each height, so its ± is that of the ruler. Which heights have the largest ± of √h, and why?",
    "look": "Where does the curve stop being smooth? Look at the last minute.",
    "straighten": "Torricelli says that √h falls evenly. Find it on the board.",
    "fit": "Fit only the stretch in which a jet left the hole. Mark what you leave out and say why.",
    "find": "The hole was drilled with a 4 mm drill. Why is the effective area smaller?",
}


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="The draining vessel",
        question="How does the water level fall in a vessel with a hole, and how large is the hole for the water?",
        plan=PlanPart(
            prompts=PROMPTS,
            notes=(
                "A hole drilled clean with 4 mm; a burr halves the jet. Below a centimetre drops leave one by one: "
                "that is what the stretch is for."
            ),
            wanted={"t": WantedSettings(8, "0", "140")},
            dry=DryTruth(truths={"h_0": f"{FIRST_HEIGHT} m"}, scatter={"h": f"{READING_SCATTER}"}, seconds={"t": "20"}),
        ),
        relation="sqrt(h) = sqrt(h_0) - a sqrt(g_n/2) t/A",
        convention=Convention("half_range", "larger", display_half=True, rounding="one_or_two"),
        quantities=(
            Quantity("t", "changed", "time", "t", "s", Instrument("stopwatch", "display", "1")),
            Quantity("h", "measured", "height of the water", "h", "m", Instrument("ruler", "scale", "0.001")),
            Quantity("A", "constant", "cross-section of the vessel", "A", "cm^2", value="78.5", u="0.8"),
            Quantity("rh", "derived", "square root of the height", "sqrt(h)", "", formula="sqrt(h)"),
        ),
        runs=(Run("run1", "Cold water"),),
        graphs=(Graph("measured", "", "t", "h"), Graph("straight", "", "t", "rh")),
        fits=(Fit("line", "straight"),),
        findings=(
            Finding(
                "a", "effective area of the hole", "a", "mm^2", "-gradient A / sqrt(g_n/2)", "line",
                Accepted("7.8", "0.2", "the drill’s 4.0 mm and a jet of 62 % of the hole"),
            ),
        ),
    )  # fmt: skip
    return begin_plan(plan)


def make_plan() -> LabBook:
    """What a bench gets of it."""
    return open_for_bench(write_draft())


def true_height(t: float) -> float:
    """h in m after t seconds; below a centimetre drops leave one by one and the level falls at a third of the pace."""
    pace = HOLE / VESSEL * math.sqrt(GRAVITY / 2)
    end = (math.sqrt(FIRST_HEIGHT) - math.sqrt(DROPS_BELOW)) / pace
    root = math.sqrt(FIRST_HEIGHT) - pace * min(t, end) - pace / 3 * max(0.0, t - end)
    return max(root, 0.0) ** 2


def write_bench(plan: LabBook, dice: random.Random, aside: str = "", texts: dict[str, str] | None = None) -> LabBook:
    """A bench's lab book; `aside` is the reason for which the last readings are left out (empty: they are not)."""
    settings = []
    for i, t in enumerate(range(0, LAST + 1, EVERY)):
        height = true_height(t) + dice.gauss(0, READING_SCATTER)
        late = true_height(t) < DROPS_BELOW
        readings = {"t": (Reading(str(t)),), "h": (Reading(f"{max(height, 0.0005):.3f}"),)}
        settings.append(Setting(f"s{i + 1}", readings, aside if late and aside else None))
    return replace(plan, runs=(replace(plan.runs[0], settings=tuple(settings)),), texts=dict(texts or {}))
