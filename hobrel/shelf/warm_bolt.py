"""The practical “The warm bolt”: its plan, and believable logs for it.

A hot steel bolt is dropped into water; a logger writes the temperature of both every two seconds. The heat that the bolt gives,
m_b c_b (θ_1 − θ_2), is set against the heat that the water takes, m_w c_w (θ_4 − θ_3), each θ the mean of a stretch that stays level.
"""

from __future__ import annotations

import math
import random
from dataclasses import replace

from hobrel.core.document.lab_book import Convention, Finding, Graph, Ingredient, LabBook, Log, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, StageName, WantedSettings
from hobrel.core.document.plans import begin_plan, open_for_bench
from hobrel.core.readings.instruments import Instrument

BOLT, WATER = 0.1840 * 460.0, 0.2500 * 4182.0
"""Heat capacities in J/K."""
HOT, COLD = 96.4, 18.6
DROPPED, LAST, EVERY = 70, 300, 2
END = (BOLT * HOT + WATER * COLD) / (BOLT + WATER)
SETTLES, LEAK = 14.0, 2.5e-5
"""Times in s for which the bolt cools to 1/e, and the share of its lead that the cup loses to the room each second."""
FLUTTER = 0.07
LEVEL_BEFORE, LEVEL_AFTER = (0.0, 60.0), (180.0, 300.0)

PROMPTS: dict[StageName, str] = {
    "ask": "Does the water take as much heat as the bolt gives? What could go missing on the way?",
    "read": "Start the logger, wait a minute, drop the bolt, stir, and wait until both temperatures agree.",
    "average": "A log holds one reading a row. What is the ± of one of them?",
    "look": "Find the two stretches in which nothing happens. How level are they?",
    "find": "Compare the two heats. Which of the constants would you want to know better?",
}


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    sensor = Instrument("temperature sensor", "display", "0.1")

    def level(symbol: str, quantity: str, stretch: tuple[float, float]) -> Ingredient:
        return Ingredient(symbol, "mean", quantity, low=stretch[0], high=stretch[1])

    plan = LabBook(
        title="The warm bolt",
        question="Does the water take all the heat that a hot bolt gives?",
        plan=PlanPart(
            prompts=PROMPTS,
            notes=(
                "The bolt hangs in steam for five minutes, then drips off for two seconds. Lids keep the cup’s loss "
                "small. Ask where the missing joules went before they ask you."
            ),
            safety="Steam burns. Tongs and goggles, and nobody reaches across the kettle.",
            kept_same=("the cup and its lid", "how the water is stirred"),
            wanted={"t": WantedSettings(61, "0", str(LAST))},
            dry=DryTruth(
                # both change in a few seconds, and are level where the heats are taken from
                formulas={
                    "bolt": f"{HOT} - {HOT - END:.3f}/(1 + exp((84 - t)/3))",
                    "water": f"{COLD} + {END - COLD:.3f}/(1 + exp((84 - t)/3))",
                },
                scatter={"bolt": f"{FLUTTER}", "water": f"{FLUTTER}"},
                seconds={"t": f"{LAST // 60}", "bolt": "0", "water": "0"},
            ),
        ),
        convention=Convention("standard_error", "quadrature", display_half=True, rounding="one_or_two"),
        quantities=(
            Quantity("t", "changed", "time", "t", "s", Instrument("logger", "counted", "1")),
            Quantity("bolt", "measured", "temperature of the bolt", "theta_b", "°C", sensor),
            Quantity("water", "measured", "temperature of the water", "theta_w", "°C", sensor),
            Quantity("mb", "constant", "mass of the bolt", "m_b", "kg", value="0.1840", u="0.0001"),
            Quantity("cb", "constant", "specific heat of steel", "c_b", "J/(kg K)", value="460", u="10",
                     source="handbooks give 440 to 480 for carbon steels (from memory)"),
            Quantity("mw", "constant", "mass of the water", "m_w", "kg", value="0.2500", u="0.0005"),
            Quantity("cw", "constant", "specific heat of water", "c_w", "J/(kg K)", value="4182", u="2",
                     source="water at 20 °C, CRC Handbook (from memory)"),
        ),
        runs=(Run("run1", "Steel bolt"),),
        graphs=(Graph("measured", "", "t", "water", also=("bolt",)),),
        findings=(
            Finding(
                "given", "heat given by the bolt", "Q_b", "J", "m_b c_b (theta_1 - theta_2)",
                uses=(level("theta_1", "bolt", LEVEL_BEFORE), level("theta_2", "bolt", LEVEL_AFTER)),
            ),
            Finding(
                "taken", "heat taken by the water", "Q_w", "J", "m_w c_w (theta_4 - theta_3)",
                uses=(level("theta_3", "water", LEVEL_BEFORE), level("theta_4", "water", LEVEL_AFTER)), compare=("given",),
            ),
        ),
    )  # fmt: skip
    return begin_plan(plan)


def make_plan() -> LabBook:
    """What a bench gets of it."""
    return open_for_bench(write_draft())


def true_temperatures(t: float) -> tuple[float, float]:
    """Bolt and water in °C at a time in s."""
    if t < DROPPED:
        return HOT, COLD
    left = math.exp(-(t - DROPPED) / SETTLES)
    bolt, water = END + (HOT - END) * left, END - (END - COLD) * left
    lost = (END - COLD) * LEAK * (t - DROPPED)
    return bolt - lost, water - lost


def write_bench(plan: LabBook, dice: random.Random, texts: dict[str, str] | None = None) -> LabBook:
    """A bench's lab book with its log."""
    times = range(0, LAST + 1, EVERY)
    both = [true_temperatures(t) for t in times]
    columns = {
        "t": tuple(str(t) for t in times),
        "bolt": tuple(f"{b + dice.gauss(0, FLUTTER):.1f}" for b, _ in both),
        "water": tuple(f"{w + dice.gauss(0, FLUTTER):.1f}" for _, w in both),
    }
    log = Log(len(both), columns, {"t": "s", "bolt": "°C", "water": "°C"})
    return replace(plan, runs=(replace(plan.runs[0], log=log),), texts=dict(texts or {}))
