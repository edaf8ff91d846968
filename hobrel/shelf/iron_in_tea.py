"""“Iron in tea”: what is run in from a burette against the millivolts of an electrode, and where the S is steepest. With a rig."""

from __future__ import annotations

from dataclasses import replace

from hobrel.core.apparatus.iron_in_tea import BURETTE_FACE, ELECTRODE, IRON_IN_TEA
from hobrel.core.document.choices import Ingredient
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument

LEFT = "((11.7 - V)/0.0002)"
POTENTIAL = f"778.8 + 25.43*ln((V - 0.38)/11.3) - 25.43*ln({LEFT} + sqrt({LEFT}^2 + 1))"
"""Of an end at 11.3 mL, begun at 0.4 mL: Nernst’s equation on either side of it, without a step between them."""


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Iron in tea",
        question="How much iron is in a strong tea?",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("V", "changed", "burette", "V", "mL", Instrument("burette", "rectangular", "0.04")),
            Quantity("E", "measured", "electrode", "E", "mV", Instrument("millivolt meter", "display", "1")),
            Quantity("V0", "constant", "burette at the start", "V_0", "mL", source="the first reading"),
            Quantity("Vs", "constant", "tea in the beaker", "V_t", "mL", value="50.00", u="0.05", source="pipette"),
            Quantity("C", "constant", "cerium in the burette", "C", "mmol/L", value="10.00", u="0.02", source="label"),
            Quantity("s", "constant", "step of the electrode", "s", "mV", value="25.43", u="0", source="R T/F at 22 °C"),
            Quantity("E1", "constant", "a potential half-way", "E_1", "mV", value="483", u="0", source="any near the middle will do"),
            Quantity("x", "derived", "what has been run in", "x", "mL", formula="V - V_0"),
            Quantity("g", "derived", "iron left, by the electrode", "g", "mL", formula="x*exp((E_1 - E)/s)"),
        ),
        runs=(Run("run1", "Tea"),),
        graphs=(Graph("curve", "", "V", "E"), Graph("left", "", "x", "g")),
        fits=(Fit("left", "left"),),
        findings=(
            Finding(
                "steep",
                "iron, by the steepest place",
                "n_s",
                "mmol/L",
                "C*(V_e - V_0)/V_t",
                uses=(Ingredient("V_e", "steepest", "curve", "place", at="0.5"),),
            ),
            Finding(
                "line", "iron, by the line of what is left", "n_l", "mmol/L", "-C*intercept/(gradient*V_t)", "left", compare=("steep",)
            ),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Each drop turns some of the iron. What will the electrode show just before the last of it is gone, and just after?",
                "read": "Run some through the tip. Bring your eye level. Large steps first; two drops at a time where it is steep.",
                "look": "Where would you have wanted more points?",
                "fit": "What is left of the iron goes down in a straight line. Fit it up to where it is nearly gone: where does it end?",
                "find": "Two ways to the end. Do they agree, and which do you trust?",
            },
            steps={
                "read": (
                    Step("tip", "There is no air in the tip of the burette."),
                    Step("start", "The burette at the start stands among the quantities, with its ±."),
                )
            },
            safety="The acid burns: goggles on.",
            kept_same=("the tea", "the stirring", "the warmth of the room"),
            own_values=("V0",),
            wanted={"V": WantedSettings(20, "0.5", "16")},
            rig=RigPart(IRON_IN_TEA.key, writes={BURETTE_FACE: "V", ELECTRODE: "E"}),
            notes=(
                "The place of the steepest step is known to half a step, so drops are wanted there. The line (of x times e to the −E/s, "
                "which goes with what is left) uses all points before the end, and needs no small steps."
            ),
            dry=DryTruth(truths={"V_0": "0.4 mL"}, formulas={"E": POTENTIAL}, scatter={"E": "0.4"}),
        ),
    )
    draft = begin_plan(plan)
    # in the plan's own dry run the line goes up to the end, as a bench will choose it
    return replace(draft, fits=tuple(replace(fit, high=10.5) for fit in draft.fits))
