"""“Behind sheets of lead”: counts against thickness, with what is counted without the source taken off. With a rig."""

from __future__ import annotations

from hobrel.core.apparatus.count_rate import COUNT_RATE, COUNTER, GAUGE
from hobrel.core.document.choices import Ingredient
from hobrel.core.document.lab_book import Convention, Finding, Fit, Graph, LabBook, Quantity, Run
from hobrel.core.document.plan_part import DryTruth, PlanPart, RigPart, Step, WantedSettings
from hobrel.core.document.plans import begin_plan
from hobrel.core.readings.instruments import Instrument


def write_draft() -> LabBook:
    """The plan, as its teacher writes it."""
    plan = LabBook(
        title="Behind sheets of lead",
        question="How much lead takes half of the rays of a source away?",
        convention=Convention("standard_error", "larger", display_half=True),
        quantities=(
            Quantity("x", "changed", "lead before the counter", "x", "mm", Instrument("gauge", "rectangular", "0.01")),
            Quantity("N", "measured", "counts in a minute", "N", "", Instrument("counter", "counted_at_random", "1")),
            Quantity("T", "constant", "how long is counted", "T", "s", value="60.0", u="0", source="the timer"),
            Quantity("B", "constant", "counts in five minutes without the source", "B", "", source="counted; its ± is its root"),
            Quantity("z", "constant", "for how long the counter is blind", "τ", "s", value="0.00040", u="0.00001", source="its maker"),
            Quantity("n", "derived", "rate of the source", "n", "1/s", formula="N/T/(1 - N*τ/T) - B/(5*T)"),
        ),
        runs=(Run("run1", "Lead"),),
        graphs=(Graph("rates", "", "x", "n"),),
        fits=(Fit("falls", "rates", shape="exponential"),),
        findings=(
            Finding("mu", "absorption coefficient", "μ", "1/mm", "-m", uses=(Ingredient("m", "fit", "falls", "b"),)),
            Finding("half", "half thickness", "h", "mm", "-ln(2)/m", uses=(Ingredient("m", "fit", "falls", "b"),)),
        ),
        plan=PlanPart(
            prompts={
                "ask": "Two sheets take half away. And four? Would any number of sheets take all?",
                "read": "Lock the source away and count for five minutes first. Then a minute for each number of sheets, none to begin.",
                "average": "Counts come at random. What is the ± of a count, and when is its share of the count small?",
                "look": "Where do the bars show that a minute was short?",
                "straighten": "What has to stand along y for a straight line?",
                "fit": "What would the curve do if what is counted without the source were not taken off?",
            },
            steps={"read": (Step("none", "What is counted without the source stands among the quantities, with its root as ±."),)},
            safety="Nobody holds the source but the teacher.",
            kept_same=("the source and its distance", "how long is counted"),
            own_values=("B",),
            wanted={"x": WantedSettings(9, "0", "16")},
            rig=RigPart(COUNT_RATE.key, writes={GAUGE: "x", COUNTER: "N"}),
            notes="Without taking the background off, the half thickness seems to grow with every sheet.",
            dry=DryTruth(truths={"B": "180"}, formulas={"N": "3000*exp(-0.115*x) + 36"}, seconds={"x": "15", "N": "60"}),
        ),
    )
    return begin_plan(plan)
