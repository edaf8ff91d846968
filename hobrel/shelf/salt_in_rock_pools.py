"""“Salt in rock pools”: how well water conducts, by how much salt was weighed in; and what two pools hold. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.salt_in_pools import BALANCE, METER, SALT_IN_POOLS
from hobrel.core.document.choices import Ingredient, Unknown
from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Salt in rock pools",
        question="How much salt is there in a rock pool high on the shore, and in one that every tide fills?",
        convention=Convention("standard_error", "quadrature", display_half=True),
        quantities=(
            Quantity("m", "changed", "salt weighed in", "m", "g", Instrument("balance", "display", "0.001")),
            Quantity("k", "measured", "conductivity", "κ", "mS/cm", Instrument("meter", "display", "0.01"), repeats=3),
            Quantity("V", "constant", "volume of the flask", "V", "mL", value="250.00", u="0.15", source="marked on the flask"),
            Quantity("D", "constant", "how far the pools were diluted", "D", "", value="20.00", u="0.06", source="two pipettes"),
            Quantity("c", "derived", "salt in the flask", "c", "g/L", formula="m/V"),
        ),
        runs=(Run("run1", "Standards"),),
        graphs=(Graph("standards", "", "c", "k"),),
        fits=(
            Fit(
                "bend",
                "standards",
                shape="own",
                formula="a x - b x^(3/2)",
                parameters=("a", "b"),
                unknowns=(Unknown("upper", "upper pool, diluted", ()), Unknown("lower", "lower pool, diluted", ())),
            ),
        ),
        findings=(
            Finding("upper", "salt of the upper pool", "s_u", "g/L", "D*c_u", uses=(Ingredient("c_u", "unknown", "bend", "upper"),)),
            Finding(
                "lower",
                "salt of the lower pool",
                "s_l",
                "g/L",
                "D*c_l",
                uses=(Ingredient("c_l", "unknown", "bend", "lower"),),
                accepted=Accepted("34.5", "1.5", "of the open sea off this shore, over a year"),
                compare=("upper",),
            ),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Sun dries a pool, rain thins it, a tide fills it anew. Which of the two is saltier, and by how much?",
                "read": "Zero the meter in distilled water. Rinse before every dip, and wait until the last digit only flickers.",
                "average": "Three dips into one flask: what makes them differ?",
                "look": "Twice the salt: twice the conductivity?",
                "fit": "Why does the top of the line bend? Write what you read of the diluted pools under the curve.",
                "find": "Is the upper pool saltier by more than the two ± say?",
            },
            steps={
                "read": (
                    Step("zero", "The meter is zeroed in distilled water, in the range that will be used."),
                    Step("warm", "The diluted pools are as warm as the flasks."),
                )
            },
            safety="Broken flasks are swept up, not picked up.",
            kept_same=("the warmth of what is measured", "the cell", "the range of the meter"),
            wanted={"m": WantedSettings(6, "0.1", "0.9")},
            rig=RigPart(SALT_IN_POOLS.key, writes={BALANCE: "m", METER: "k"}),
            notes=(
                "Undiluted water of a pool is far above the last flask: the curve says nothing there. A pool fresh from the shore, even "
                "diluted, is colder than the flasks and seems to hold about 1 % less."
            ),
            dry=DryTruth(
                formulas={"k": "2.15*c - 0.16*c^(3/2)"},
                scatter={"k": "0.02"},
                unknowns={"upper": "0.60", "lower": "0.43"},
                seconds={"m": "60", "k": "40"},
            ),
        ),
    )
    return begin_plan(plan)
