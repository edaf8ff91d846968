"""“An elastic band”: load against stretch, cold and warm; each bench one condition. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.elastic_band import ELASTIC_BAND, HANGER, RULER
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import Condition, DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument

P = "(0.0024222*m)"
"""A third of the pull over the stiffness, 1.35 N, for a load in g."""
STRETCH = f"{P} + ({P}^3 + 0.5 + sqrt({P}^3 + 0.25))^(1/3) + ({P}^3 + 0.5 - sqrt({P}^3 + 0.25))^(1/3)"
"""How many times as long the band is, by λ − 1/λ² = F/G: λ³ − (F/G) λ² − 1 = 0, by Cardano’s formula."""


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    ruler = Instrument("ruler, to a tenth of a division", "rectangular", "0.4")
    plan = LabBook(
        title="An elastic band",
        question="Is a band stiffer when it is cold or when it is warm?",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("m", "changed", "load", "m", "g", Instrument("discs of 50 g", "rectangular", "0.4")),
            Quantity("L", "measured", "length, loading", "L", "mm", ruler),
            Quantity("K", "measured", "length, unloading", "L_b", "mm", ruler),
            Quantity("L0", "constant", "length without a load", "L_0", "mm", source="the ruler"),
            Quantity("g", "constant", "gravity", "g", "m/s^2", value="9.81", u="0", source="table"),
            Quantity("F", "derived", "pull", "F", "N", formula="m*g"),
            Quantity("s", "derived", "stretch, as rubber counts it", "s", "", formula="L/L_0 - (L_0/L)^2"),
        ),
        runs=(Run("run1", "Band"),),
        graphs=(Graph("lengths", "", "L", "F"), Graph("straight", "", "s", "F")),
        fits=(Fit("line", "straight", through_origin=True),),
        findings=(Finding("G", "stiffness of the band", "G", "N", "gradient", "line"),),
        plan=PlanPart(
            prompts={
                "ask": "Most things give way more when they are warm. What would a band that is pulled do when it is warmed: rise or sink?",
                "read": "Hang disc after disc and wait each time; then take one after the other away. Your eye level with the hook.",
                "look": "Is the way back the way there? What does the area between mean?",
                "straighten": "A band is no spring: what has to stand along x?",
                "find": "Wait for the other conditions in the pool: which is the stiffest?",
            },
            steps={"read": (Step("none", "The length without a load stands among the quantities, with its ±."),)},
            kept_same=("the band", "how long one waits"),
            conditions=(
                Condition("cold", "cold", "in the cold box, about 5 °C"),
                Condition("room", "room", "as warm as the room"),
                Condition("warm", "warm", "under the lamp, about 45 °C"),
            ),
            own_values=("L0",),
            wanted={"m": WantedSettings(8, "50", "400")},
            rig=RigPart(ELASTIC_BAND.key, writes={HANGER: "m", RULER: "L"}),
            notes="Stiffness goes with the absolute temperature, by a seventh from cold to warm. The way back is longer, and not fitted.",
            dry=DryTruth(
                truths={"L_0": "82 mm"},
                formulas={"L": f"82*({STRETCH})", "K": "L + 1.5"},
                # beside the rounding to what can be told apart: both together are its ±
                scatter={"L": "0.03", "K": "0.03"},
                seconds={"m": "20", "L": "10", "K": "10"},
            ),
        ),
    )
    return begin_plan(plan)
