"""“A fan on a supply”: power and current against the speed of the air, and their exponents. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.fan_on_supply import AMMETER, FAN_ON_SUPPLY, VANE, VOLTMETER
from hobrel.core.document.lab_book import Accepted, Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="A fan on a supply",
        question="Air twice as fast: how much more power does the fan take, and how much more current?",
        convention=Convention("standard_error", "quadrature", display_half=True),
        quantities=(
            Quantity("U", "changed", "voltage", "U", "V", Instrument("voltmeter, up to 20 V", "display", "0.01")),
            Quantity("I", "measured", "current", "I", "A", Instrument("ammeter, up to 2 A", "display", "0.001")),
            Quantity("v", "measured", "speed of the air", "v", "m/s", Instrument("vane", "display", "0.01"), repeats=4),
            Quantity("R", "constant", "resistance of the winding", "R", "ohm", value="4.00", u="0.03", source="printed on the motor"),
            Quantity("P", "derived", "power for the air", "P", "W", formula="I*(U - R*I)"),
        ),
        runs=(Run("run1", "In the tube"),),
        graphs=(Graph("power", "", "v", "P"), Graph("current", "", "v", "I")),
        fits=(Fit("power", "power", shape="power", expected="3"), Fit("current", "current", shape="power", expected="2")),
        findings=(
            Finding("p", "exponent of the power", "p", "", "n", "power", Accepted("3", "0", "the affinity laws of fans")),
            Finding("q", "exponent of the current", "q", "", "n", "current", Accepted("2", "0", "the affinity laws of fans")),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Air twice as fast is twice as much air, each bit with how much more energy?",
                "read": "Choose the ranges first: a coarse one loses digits, a fine one is exceeded. Read the vane four times each.",
                "average": "The air comes in gusts. What do four readings of the vane say about it?",
                "look": "Which points have the largest share of ±?",
                "straighten": "Which power of v makes the plot straight?",
                "fit": "Is the exponent three? And that of the current?",
            },
            steps={"read": (Step("ranges", "Both meters are in the finest range that is never exceeded."),)},
            safety="Nothing goes into the tube while the fan turns.",
            kept_same=("the tube", "the place of the vane"),
            wanted={"U": WantedSettings(7, "2", "12")},
            rig=RigPart(FAN_ON_SUPPLY.key, writes={VOLTMETER: "U", AMMETER: "I", VANE: "v"}),
            notes=(
                "The vane does not turn in air slower than 0.9 m/s: a zero there is the vane’s, not the air’s, and is set aside. In its "
                "finest range the ammeter blows its fuse above a third of an ampere."
            ),
            # U = k v + R c v² and I = c v², with k and c in the middle of what benches have
            dry=DryTruth(
                formulas={"I": "0.0165*((sqrt(4.41 + 0.264*U) - 2.1)/0.132)^2", "v": "(sqrt(4.41 + 0.264*U) - 2.1)/0.132"},
                scatter={"v": "0.05"},
                seconds={"U": "15", "v": "5"},
            ),
        ),
    )
    return begin_plan(plan)
