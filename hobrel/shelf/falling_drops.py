"""“The weight of a drop”: drops that fall from a tube are weighed; how heavy one becomes before it falls is the surface tension’s doing."""

from __future__ import annotations

from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import Condition, DryTruth, PlanPart, ReferenceTable, TableLine, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument

LISTED = (("10", "74.22"), ("15", "73.49"), ("20", "72.74"), ("25", "71.97"), ("30", "71.19"), ("35", "70.40"), ("40", "69.60"))
"""Warmth of clean water in °C and its surface tension in mN/m (IAPWS R1-76, 2014)."""


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="The weight of a drop",
        question="How strongly does the skin of water hold, and what does soap do to it?",
        relation="m = m_0 + 2 pi r F_H sigma n/g_n",
        convention=Convention("half_range", "larger", display_half=True),
        quantities=(
            Quantity("n", "changed", "number of drops", "n", "", Instrument("counted", "counted", "1")),
            Quantity("m", "measured", "mass of the dish", "m", "g", Instrument("balance", "display", "0.01")),
            Quantity("r", "constant", "radius of the tube", "r", "mm", value="2.00", u="0.02"),
            Quantity(
                "F", "constant", "share of the drop that falls", "F_H", "", value="0.65", u="0.02",
                source="Harkins and Brown, for such tubes (from memory)",
            ),
            Quantity("theta", "constant", "warmth of the water", "theta", "°C", value="20.0", u="0.5"),
        ),
        runs=(Run("run1", "Water"),),
        graphs=(Graph("measured", "", "n", "m"),),
        fits=(Fit("line", "measured"),),
        findings=(
            Finding(
                "sigma",
                "surface tension",
                "sigma",
                "mN/m",
                "gradient g_n/(2 pi r F_H)",
                "line",
                Accepted("72.7", "0.4", "IAPWS R1-76(2014), water at 20 °C"),
                compare=("listed",),
            ),
            Finding("listed", "the same in the handbook, for your water", "sigma_h", "mN/m", "sigma_w(theta)"),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Does a drop become heavier or lighter when there is soap in the water? Why?",
                "read": "Let ten drops fall at a time, slowly: one in two seconds. Write the mass of the dish after each ten.",
                "fit": "What does the intercept stand for?",
                "find": "A part of each drop stays on the tube. Where is that in the formula?",
                "pool": "Water and soap: is the difference more than the benches scatter?",
            },
            safety="Wipe up what is spilt: soap makes floors slippery.",
            kept_same=("the tube", "how quickly it drops", "the warmth of the water"),
            accepted_shown="after_own",
            wanted={"n": WantedSettings(8, "10", "80")},
            conditions=(
                Condition("water", "Water", "from the tap, at rest for an hour", 4),
                Condition("soap", "With soap", "two drops of soap in a glass", 4),
            ),
            own_values=("theta",),
            tables=(
                ReferenceTable(
                    "listed", "surface tension of clean water", "sigma_w", "mN/m", "warmth", "°C",
                    tuple(TableLine(at, value) for at, value in LISTED), "0.4", "IAPWS R1-76(2014)",
                ),
            ),
            notes="The share that falls (0.65 ± 0.02) holds for such tubes. A tube that is cut askew spoils all.",
            dry=DryTruth(truths={"m_0": "35.120 g"}, scatter={"m": "0.004"}, seconds={"n": "30"}),
        ),
    )  # fmt: skip
    return begin_plan(plan)
